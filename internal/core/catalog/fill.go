package catalog

import (
	"cmp"
	"fmt"
	"reflect"
	"slices"
	"strings"

	"notchback/internal/core/body"
	"notchback/internal/core/house"
	"notchback/internal/core/screen"
)

// Complete fills each exercise with what it takes from its rail, reads its doses, and refuses a rail
// that breaks a rule of the catalogue; the error names the field and says what to do.
func (r Rail) Complete() (Rail, error) {
	r = r.likeItsSource()
	switch {
	case !validID.MatchString(r.ID):
		return r, body.Refuse("id", "is %q; use small letters, figures and _", r.ID)
	case strings.TrimSpace(r.Name) == "" || strings.TrimSpace(r.Short) == "":
		return r, body.Refuse("name", "is empty; give the rail a name and a short one for the week")
	case len(r.Exercises) == 0:
		return r, body.Refuse("exercises", "are none; a rail needs at least one")
	case len(r.Exercises) > 24:
		return r, body.Refuse("exercises", "are %d; at most 24 on one rail", len(r.Exercises))
	case len(r.Regions) == 0:
		return r, body.Refuse("regions", "are none; say which places concern this rail")
	case r.PerWeek < 1 || r.PerWeek > 7:
		return r, body.Refuse("perWeek", "is %d; enter 1 to 7 sessions a week", r.PerWeek)
	case r.GapDays < 0 || r.GapDays > 3:
		return r, body.Refuse("gapDays", "is %d; enter 0 to 3 free days", r.GapDays)
	case !slices.Contains(Parts, r.Part):
		return r, body.Refuse("part", "%q is not a part of the session", r.Part)
	case !slices.Contains(Classes, r.Class):
		return r, body.Refuse("class", "%q is not a class", r.Class)
	case len(r.When) == 0:
		return r, body.Refuse("when", "is empty; say when it may stand: before or after a run, own time, evening")
	}
	if err := r.checkLists(); err != nil {
		return r, err
	}
	fillLists(&r)
	if err := r.completeExercises(); err != nil {
		return r, err
	}
	return r, r.checkPlace()
}

func checkPlaces(field string, places []body.Region) error {
	for _, g := range places {
		if !g.Valid() {
			return body.Refuse(field, "unknown region %s", g)
		}
	}
	return nil
}

// checkOnly refuses what belongs to an approach that there is not.
func checkOnly(field string, only map[string][]string) error {
	for question, options := range only {
		for _, o := range options {
			if house.CheckApproaches(map[string]string{question: o}) != nil {
				return body.Refuse(field, "belong to %s: %s, which is no approach", question, o)
			}
		}
	}
	return nil
}

// checkLists refuses what stands on no list, and takes old places for what they are now.
func (r *Rail) checkLists() error {
	for _, t := range r.Trains {
		if !slices.Contains(Trainings, t) {
			return body.Refuse("trains", "%q is not on the list", t)
		}
	}
	if err := checkPlaces("regions", slices.Concat(r.Regions, r.Eases, r.Main)); err != nil {
		return err
	}
	r.Regions, r.Eases, r.Main = body.Places(r.Regions), body.Places(r.Eases), body.Places(r.Main)
	r.Remedies = slices.Clone(r.Remedies)
	for i, m := range r.Remedies {
		r.Remedies[i].Places = body.Places(m.Places)
		if len(m.Places) == 0 || m.Rank < 1 || !slices.Contains([]string{"", "calm", "after"}, m.Phase) {
			return body.Refuse("remedies", "need a place, a rank from 1, and calm, after or nothing as the phase")
		}
		if err := checkPlaces("remedies", m.Places); err != nil {
			return err
		}
		if err := checkOnly("remedies", m.Only); err != nil {
			return err
		}
	}
	for _, b := range r.Not {
		if err := checkPlaces("not", b.Sore); err != nil {
			return err
		}
	}
	for _, t := range r.Turns {
		if !slices.Contains([]string{"", "sole.tight", "cadence.later"}, t.When) || t.At < 0 || len(t.Only) == 0 {
			return body.Refuse("turns", "need approaches, a place from 0, and sole.tight, cadence.later or nothing as the condition")
		}
		if err := checkOnly("turns", t.Only); err != nil {
			return err
		}
	}
	if err := checkUnder(r.CautionsUnder); err != nil {
		return body.Refuse("cautionsUnder", "%s", err)
	}
	for _, w := range r.With {
		if !slices.Contains(Brings, w) {
			return body.Refuse("with", "%q brings nothing in; choose of %s", w, strings.Join(Brings, ", "))
		}
	}
	for _, id := range r.For {
		if _, ok := screen.FindMeasure(id); !ok {
			return body.Refuse("for", "names %q, which is no test", id)
		}
	}
	for _, s := range r.When {
		if !slices.Contains(Slots, s) {
			return body.Refuse("when", "%q is not a time of the day", s)
		}
	}
	return nil
}

// completeExercises fills and checks the exercises, each beside the one before it.
func (r *Rail) completeExercises() error {
	r.Exercises = slices.Clone(r.Exercises)
	for i, x := range r.Exercises {
		x.Main, x.Also = body.Places(x.Main), body.Places(x.Also)
		field := fmt.Sprintf("exercises[%d]", i)
		var err error
		if x.Ladder, err = readDoses(x); err != nil {
			return body.Refuse(field+".doses", "of %s: %s", x.Name, err)
		}
		x = r.fill(x)
		if part, err := x.check(); err != nil {
			return body.Refuse(field+"."+part, "of %s: %s", x.Name, err)
		}
		if i > 0 && !r.Exercises[i-1].Retired && !x.Retired {
			if x.Share < r.Exercises[i-1].Share {
				return body.Refuse(field+".share", "of %s: lifts less of the body than “%s” before it; put it further down", x.Name,
					r.Exercises[i-1].Name)
			}
			if x.Level < r.Exercises[i-1].Level && x.Easier == "" && !x.Unstated && !r.Exercises[i-1].Unstated {
				return body.Refuse(field+".level", "of %s: carries less than “%s” before it; say in a word why, or put it further down", x.Name,
					r.Exercises[i-1].Name)
			}
		}
		r.Exercises[i] = x
	}
	return nil
}

// likeItsSource lets a practice's version or copy of a shipped rail be chosen as that is: what brings it in, what it is for
// and where approaches put it, where it says nothing itself, as those of an earlier release do not.
func (r Rail) likeItsSource() Rail {
	i := slices.IndexFunc(known, func(s Rail) bool { return s.ID == cmp.Or(r.CopyOf, r.ID) })
	if i < 0 {
		return r
	}
	s := known[i]
	r.With, r.For, r.NotWith = like(r.With, s.With), like(r.For, s.For), like(r.NotWith, s.NotWith)
	r.Remedies, r.Turns, r.Then = like(r.Remedies, s.Remedies), like(r.Turns, s.Turns), like(r.Then, s.Then)
	return r
}

func like[T any](own, source []T) []T {
	if own == nil {
		return source
	}
	return own
}

func fillLists(r *Rail) {
	r.Trains, r.Tissues, r.Cautions = orEmpty(r.Trains), orEmpty(r.Tissues), orEmpty(r.Cautions)
	r.Faults, r.StopWhen, r.Eases = orEmpty(r.Faults), orEmpty(r.StopWhen), orEmpty(r.Eases)
	r.First, r.Not = orEmpty(r.First), orEmpty(r.Not)
	if len(r.Main) == 0 { // an earlier release knew one list of places
		r.Main = slices.Clone(r.Regions)
	}
	r.Regions = join(r.Regions, r.Main, func(a, b body.Region) bool { return a == b }) // what is mainly loaded matters
	if r.Answers == nil {
		r.Answers = map[string]int{}
	}
}

func orEmpty[T any](s []T) []T {
	if s == nil {
		return []T{}
	}
	return s
}

func inherit[T any](own, from []T) []T {
	if len(own) > 0 {
		return own
	}
	return orEmpty(from)
}

// fill gives an exercise what it takes from its rail. Prerequisites and bars of the rail hold for each
// of its exercises besides its own.
func (r Rail) fill(x Exercise) Exercise {
	if x.Class == "" {
		x.Class = r.Class
	}
	x = r.demands(x)
	x.EachSide = x.Trains == body.OneSide && !r.Whole
	x.Faults, x.StopWhen, x.When = inherit(x.Faults, r.Faults), inherit(x.StopWhen, r.StopWhen), inherit(x.When, r.When)
	x.First, x.Not = join(x.First, r.First, func(a, b Need) bool { return a.Says == b.Says }),
		join(x.Not, r.Not, func(a, b Bar) bool { return a.Says == b.Says })
	// What a shipped exercise waits for holds for the practice's change or copy of it too.
	for _, y := range known {
		if y, ok := y.Exercise(cmp.Or(x.CopyOf, x.ID)); ok {
			x.First, x.Not = join(x.First, y.First, func(a, b Need) bool { return reflect.DeepEqual(a, b) }),
				join(x.Not, y.Not, func(a, b Bar) bool { return reflect.DeepEqual(a, b) })
			if x.Grade == y.Grade {
				x.By = cmp.Or(x.By, y.By)
			}
		}
	}
	x.Needs, x.Cues = orEmpty(x.Needs), orEmpty(x.Cues)
	if x.Class == Range && len(x.Then) == 0 {
		x.Then = r.Then
	}
	if x.RestS == 0 {
		x.RestS = r.RestS
	}
	if x.RepS == 0 {
		x.RepS = r.RepS
	}
	if x.RepS == 0 {
		x.RepS = 3
	}
	if x.Tempo == "" {
		x.Tempo = r.Tempo
	}
	if x.Provenance == "" {
		x.Provenance = body.Common
	}
	return x
}

// demands fills what an exercise asks of the legs. A copy takes what its source asks; what nobody stated
// counts as the hardest that its way of counting and its load could mean, until the practice states it.
func (r Rail) demands(x Exercise) Exercise {
	if x.Trains == "" {
		x.Trains, x.Unstated = body.OneSide, true
	}
	if x.Unstated {
		x = x.guess(r)
	}
	if x.Impact == "" {
		x.Impact = body.NoImpact
	}
	if len(x.Main) == 0 {
		x.Main = slices.Clone(r.Main)
	}
	x.Tags, x.Also = orEmpty(x.Tags), orEmpty(x.Also)
	if len(x.Ladder) > 0 && x.Ladder[0].Kind == body.RMLoad && !x.Has(body.RM) {
		x.Tags = append(slices.Clone(x.Tags), body.RM)
	}
	if x.Run == "" && r.Part == "run" {
		x.Run = body.Strides // nobody said what is done in the run: the hardest
	}
	x.Demand = x.WithPlaces()
	return x
}

// known are the shipped rails once they are read; while they are, nothing is known yet.
var known []Rail

func init() { known = Shipped.Rails }

// guess finds the shipped exercise an unstated one was copied from, by its id, its name or its set-up;
// without one it is the hardest it could be.
func (x Exercise) guess(r Rail) Exercise {
	for _, s := range known {
		for _, y := range s.Exercises {
			if y.ID == x.ID || y.ID == x.CopyOf || y.SetUp == x.SetUp || y.Name == x.Name {
				d := y.Demand
				d.Trains = x.Trains
				x.Demand, x.CopyOf = d, y.ID
				x.Unstated = y.ID != x.ID
				x.Easier = y.Easier
				x.Level = max(x.Level, x.implied())
				return x
			}
		}
	}
	x.Level, x.Bears, x.Bare, x.Stage = x.hardest(), body.BothLegs, true, 2
	if x.Level < 2 {
		x.Stage = 0
	}
	x.Edge, x.ToesBack, x.Position = x.Level >= 2, x.Level >= 2, "standing"
	if len(x.Ladder) > 0 && x.Ladder[0].Kind == body.Contacts || x.Impact == body.FreeHops || r.Class == Spring {
		x.Impact, x.Level, x.Stage = body.FreeHops, 4, 3
	}
	if x.Class == Releasing {
		x.Pressure, x.Tags = true, append(slices.Clone(x.Tags), body.ShinPressure, body.Joint)
	}
	return x
}

// hardest is the highest level a way of counting and a load could mean.
func (x Exercise) hardest() int {
	switch {
	case x.Loaded() || len(x.Ladder) > 0 && x.Ladder[0].Kind == body.Contacts:
		return 4
	case len(x.Ladder) > 0 && x.Ladder[0].Kind == body.Release || x.Class == Releasing || x.Class == Settle:
		return 0
	}
	return 3
}

// implied is the lowest level that a way of counting, the share of body mass and a load allow.
func (x Exercise) implied() int {
	rm := len(x.Ladder) > 0 && x.Ladder[0].Kind == body.RMLoad
	switch {
	case rm, x.Loaded() && x.Share >= 1 && x.Trains == body.OneSide:
		return 4
	case x.Loaded() && x.Share > 0:
		return 3
	case x.Loaded():
		return 2
	case x.Share >= 0.75 && x.Trains == body.OneSide && x.Has(body.CalfWork):
		return 3
	case x.Share > 0, len(x.Ladder) > 0 && x.Ladder[0].Kind == body.Contacts:
		return 2
	}
	return 0
}

func join[T any](own, from []T, same func(a, b T) bool) []T {
	out := slices.Clone(orEmpty(own))
	for _, f := range from {
		if !slices.ContainsFunc(out, func(o T) bool { return same(o, f) }) {
			out = append(out, f)
		}
	}
	return out
}

package catalog

import (
	"fmt"
	"regexp"
	"slices"
	"strings"

	"notchback/internal/core/body"
	"notchback/internal/core/house"
	"notchback/internal/core/screen"
)

// Gear is one kind of equipment an exercise may need.
type Gear struct {
	ID        string `json:"id"`
	Name      string `json:"name" doc:"with its size where it matters"`
	Household bool   `json:"household" doc:"taken as being there"`
}

// Kit lists the equipment exercises may name.
var Kit = []Gear{
	{"step", "step or stair", false}, {"dumbbell", "dumbbell", false}, {"heavy_dumbbell", "heavy dumbbell or loaded pack", false},
	{"stack", "plates or books to stack", false},
	{"strap", "strap, belt or long towel", true}, {"roll", "firm rolled towel", true}, {"band", "elastic band", false},
	{"soft_ball", "soft ball, fist size", false}, {"firm_ball", "small firm ball", false},
	{"roller", "roller", false}, {"thick_roller", "roller of 8 cm and over", false}, {"thin_roller", "roller or pipe under 8 cm", false},
	{"towel", "towel", true}, {"wall", "wall or rail", true}, {"chair", "chair", true}, {"table", "steady table", true},
	{"bottle", "bottle", true}, {"pencil", "pencil", true}, {"card", "card", true}, {"spacers", "toe spacers, or folded tissue", true},
	{"rope", "rope, or the hands turning one", true},
}

// GearName returns the words for a kind of equipment.
func GearName(id string) string {
	for _, g := range Kit {
		if g.ID == id {
			return g.Name
		}
	}
	return id
}

// Brings are what may bring a rail in besides findings and sore places.
// The basic ones are what a runner gets when little asks for more: first control of the foot, what stands on it once the
// brace holds, and the work that carries every run.
var Brings = []string{"history.sprain", "goal.barefoot", "volume.high", "days.sitting", "days.standing", "ground.uneven", "phase.spring",
	"basic.wake", "basic.braced", "basic.calf_capacity", "basic.arch_strength", "basic.ankle_bend", "basic.balance"}

// Trainings are what a rail may train.
var Trainings = []string{"range", "control", "coordination", "strength", "endurance", "spring", "settling"}

var validID = regexp.MustCompile(`^[a-z][a-z0-9_]{1,40}$`)

func readDoses(x Exercise) ([]body.Dose, error) {
	out := make([]body.Dose, 0, len(x.Doses))
	for _, t := range x.Doses {
		d, err := body.ParseDose(t)
		if err != nil {
			return nil, err
		}
		out = append(out, d)
	}
	return out, nil
}

// check names the field that breaks a rule, and how.
func (x Exercise) check() (string, error) {
	switch {
	case !validID.MatchString(x.ID):
		return "id", fmt.Errorf("is %q; use small letters, figures and _", x.ID)
	case strings.TrimSpace(x.Name) == "":
		return "name", fmt.Errorf("is empty")
	case len(x.Ladder) == 0:
		return "doses", fmt.Errorf("has no dose; write at least one, such as 2 × 8")
	case len(x.StopWhen) == 0:
		return "stopWhen", fmt.Errorf("has no stop sign; say when to stop")
	case strings.TrimSpace(x.SetUp) == "":
		return "setUp", fmt.Errorf("is empty; say how to set it up")
	case strings.TrimSpace(x.Good) == "":
		return "good", fmt.Errorf("is empty; say what good looks like")
	case len(x.Faults) == 0:
		return "faults", fmt.Errorf("are none; name at least one")
	case len(x.Cues) == 0 || len(x.Cues) > 4:
		return "cues", fmt.Errorf("are %d; give one to four", len(x.Cues))
	case len(x.StageDays) > 0 && len(x.StageDays) != len(x.Ladder):
		return "stageDays", fmt.Errorf("needs a stage length for every dose")
	case x.Provenance == body.Memory && x.Source == "":
		return "source", fmt.Errorf("is empty; a published dose names its source")
	case !slices.Contains(Classes, x.Class):
		return "class", fmt.Errorf("%q is not a class", x.Class)
	case x.Share < 0 || x.Share > 1 || x.RepS > 30 || x.RestS < 0 || x.RestS > 600:
		return "share", fmt.Errorf("is outside its limits: 0 to 1 of the body, a repetition at most 30 s, a rest at most 600 s")
	case slices.Contains([]string{ByDumbbell, ByBand, ByWall, ByStack}, x.Grade) && !slices.Contains(x.Needs, x.Grade):
		return "needs", fmt.Errorf("climbs by %s: name it in the kit", x.Grade)
	case (x.Grade == ByWall || x.Grade == ByStack) && x.By == "":
		return "by", fmt.Errorf("is empty: say which test its distance or height follows from")
	case !slices.Contains([]string{"", ByDumbbell, ByBand, BySpm, ByWall, ByStack, ByHands}, x.Grade):
		return "grade", fmt.Errorf("%q is not a way to climb", x.Grade)
	}
	if part, err := x.checkLists(); err != nil {
		return part, err
	}
	return x.checkLadder()
}

// checkLists refuses what names no test, kit, time or drawing there is, and a level below what the exercise implies.
func (x Exercise) checkLists() (string, error) {
	if _, ok := screen.FindMeasure(x.By); !ok && x.By != "" {
		return "by", fmt.Errorf("names %q, which is no test", x.By)
	}
	if err := checkUnder(x.CuesUnder); err != nil {
		return "cuesUnder", err
	}
	for _, n := range x.Needs {
		if !slices.ContainsFunc(Kit, func(g Gear) bool { return g.ID == n }) {
			return "needs", fmt.Errorf("unknown equipment %q", n)
		}
	}
	for _, s := range x.When {
		if !slices.Contains(Slots, s) {
			return "when", fmt.Errorf("%q is not a time of the day", s)
		}
	}
	if err := x.Demand.Check(); err != nil {
		if f, ok := err.(*body.FieldError); ok {
			return f.Field, fmt.Errorf("%s", f.Message)
		}
		return "level", err
	}
	if least := x.implied(); x.Level < least {
		return "level", fmt.Errorf("is %d; with this load and this share of the body it carries at least %d (%s)", x.Level, least,
			body.LevelName(least))
	}
	if _, err := x.Drawing(); err != nil {
		return "draw", err
	}
	return "", nil
}

// checkLadder refuses doses that do not climb, or name what comes from the runner.
func (x Exercise) checkLadder() (string, error) {
	for i, d := range x.Ladder {
		if d.Grade() != (body.Grade{}) || d.Extra > 0 {
			return "doses", fmt.Errorf("names a load; weights, bands, beats, distances and heights come from what the runner owns and " +
				"from the tests")
		}
		if i == 0 {
			continue
		}
		before := x.Ladder[i-1]
		switch {
		case d.Kind != before.Kind:
			return "doses", fmt.Errorf("“%s” counts another way than “%s”; make it another exercise", d, before)
		case d.Kind == body.RMLoad && d.Reps >= before.Reps: // stages climb in intensity
			return "doses", fmt.Errorf("“%s” is no harder than “%s” before it", d, before)
		case d.Kind != body.RMLoad && d.Work(1, 1) <= before.Work(1, 1):
			return "doses", fmt.Errorf("“%s” is no harder than “%s” before it", d, before)
		}
	}
	return "", nil
}

func (r Rail) checkPlace() error {
	if r.Place == nil {
		return nil
	}
	if !slices.Contains([]string{"raises", "hold", "score", "reference", "toe"}, r.Place.By) {
		return body.Refuse("place", "cannot be done by %q; choose raises, hold, score, reference or toe", r.Place.By)
	}
	for _, id := range r.Measures() {
		if _, ok := screen.FindMeasure(id); !ok {
			return body.Refuse("place", "rests on %q, which is no test", id)
		}
	}
	if _, ok := house.Find(r.Place.Reference); !ok && r.Place.By == "reference" {
		return body.Refuse("place", "is a share of %q, which is no house rule; name the test's reference", r.Place.Reference)
	}
	known := func(id string) bool { _, ok := screen.FindMeasure(id); return ok || id == "" }
	at := -1
	for i, s := range r.Place.Starts {
		k := r.At(s.Exercise)
		switch {
		case k < 0:
			return body.Refuse("place", "starts on %q, which is not on the rail", s.Exercise)
		case s.Dose < 0 || s.Dose >= len(r.Exercises[k].Ladder):
			return body.Refuse("place", "starts on a dose “%s” does not have", r.Exercises[k].Name)
		case s.Without != "" && !slices.ContainsFunc(r.Exercises, func(x Exercise) bool { return x.ID == s.Without }):
			return body.Refuse("place", "starts on %q without the kit, which is not on the rail", s.Without)
		case !known(s.Measure):
			return body.Refuse("place", "“%s” is placed by %q, which is no test", r.Exercises[k].Name, s.Measure)
		case k < at || (i > 0 && s.From <= r.Place.Starts[i-1].From):
			return body.Refuse("place", "a better test must not start lower: “%s” stands before the one above it", r.Exercises[k].Name)
		case k == at && !s.Fixed && r.Place.Starts[i-1].Fixed:
			return body.Refuse("place", "a better test must not start lower: the fixed dose of “%s” may be more than the test's share of it",
				r.Exercises[k].Name)
		}
		at = k
	}
	return nil
}

// check refuses what no rail can see by itself: an id that stands twice, a prerequisite that does not
// exist or leads in a circle.
func (c Catalogue) check() error {
	at := map[string]Exercise{}
	after := map[string][]string{} // what each exercise waits for
	for _, r := range c.Rails {
		for i, x := range r.Exercises {
			if _, twice := at[x.ID]; twice {
				return body.Refuse("exercises", "%s stands twice; give the copy another id", x.ID)
			}
			at[x.ID] = x
			if i > 0 {
				after[x.ID] = append(after[x.ID], r.Exercises[i-1].ID)
			}
		}
	}
	for id, x := range at {
		if err := c.checkThen(x); err != nil {
			return err
		}
		for _, n := range x.First {
			if n.Exercise == "" {
				continue
			}
			y, ok := at[n.Exercise]
			if !ok {
				return body.Refuse("first", "of %s waits for %q, which does not exist", x.Name, n.Exercise)
			}
			if _, err := body.ParseDose(n.Dose); n.Dose != "" && err != nil {
				return body.Refuse("first", "of %s, on %s: %s", x.Name, y.Name, err)
			}
			after[id] = append(after[id], n.Exercise)
		}
	}
	done := map[string]bool{}
	var walk func(id string, path []string) error
	walk = func(id string, path []string) error {
		if i := slices.Index(path, id); i >= 0 {
			return body.Refuse("first", "prerequisites lead in a circle: %s", strings.Join(append(path[i:], id), " → "))
		}
		if done[id] {
			return nil
		}
		for _, b := range after[id] {
			if err := walk(b, append(path, id)); err != nil {
				return err
			}
		}
		done[id] = true
		return nil
	}
	for _, r := range c.Rails {
		for _, x := range r.Exercises {
			if err := walk(x.ID, nil); err != nil {
				return err
			}
		}
	}
	return nil
}

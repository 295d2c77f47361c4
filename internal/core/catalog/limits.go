package catalog

import (
	"fmt"
	"maps"
	"slices"
	"sync"

	"notchback/internal/core/body"
	"notchback/internal/core/house"
	"notchback/internal/core/permit"
)

// Notch is one exact exercise and dose on a rail.
type Notch struct {
	ID       string    `json:"id" doc:"which notch it is: the exercise and its exact dose"` // where all are listed
	Exercise string    `json:"exercise"`
	Name     string    `json:"name"`
	Dose     body.Dose `json:"dose"`
	Text     string    `json:"text" doc:"the dose in words"` // where all are listed
	Heavy    bool      `json:"heavy"`
	Barred   string    `json:"barred,omitempty" doc:"why it is out of reach now"`
	Opens    string    `json:"opens,omitempty" doc:"what would open it"`
}

// Words writes the notch as a coach reads it.
func (n Notch) Words() string { return n.Name + ", " + n.Dose.String() }

// Limits is what bounds one side of a runner: what is known of the runner, equipment, phase, and what was
// reached before.
type Limits struct {
	Side       body.Side               `json:"side"`
	Facts      permit.Facts            `json:"facts"`
	Equipment  body.Equipment          `json:"equipment"`
	MassKg     float64                 `json:"massKg"`
	HeavyMinKg float64                 `json:"heavyMinKg"`
	Values     map[string]float64      `json:"values" doc:"newest readings of this side by measure"`
	Other      map[string]float64      `json:"other" doc:"those of the other side, which count too where both feet work at once"`
	Calm       []body.Side             `json:"calm,omitempty" doc:"legs in Calm: nothing at level 3, below level or with bouncing starts"`
	CalmToo    []string                `json:"calmToo,omitempty" doc:"rails an approach brings into Calm"`
	NoRM       bool                    `json:"noRM,omitempty" doc:"loads at a repetitions-maximum wait for their phase"`
	Mornings   map[body.Region]float64 `json:"mornings" doc:"usual morning pain by place"`
	Reached    map[string]body.Dose    `json:"reached" doc:"highest dose of each exercise done before"`
	Spm        []int                   `json:"spm" doc:"steps of the cadence, a minute"`
	Structural []string                `json:"structural,omitempty" doc:"measures recorded as structural: what depends on them stays out"`
	Standing   []string                `json:"standing,omitempty" doc:"exercises in force: they may be finished after they were retired"`
	Excluded   []string                `json:"excluded" doc:"exercises the coach left out"`
	RaceNear   string                  `json:"raceNear,omitempty" doc:"a goal race is near: nothing new begins"`
	Done       []string                `json:"done,omitempty" doc:"exercises done in the last weeks, where that matters"`
	SetAside   []string                `json:"setAside,omitempty" doc:"rails of the practice that are broken"`

	cuts []permit.Cut // gathered once
	here *notchAt     // one rail more than what is written down
}

// LimitsOf gathers what follows from the profile alone.
func LimitsOf(p body.Profile, f permit.Facts, side body.Side, h house.Rules) Limits {
	return Limits{Side: side, Facts: f, Equipment: p.Equipment, MassKg: p.MassKg, HeavyMinKg: h.Get("build.heavy.min_kg"),
		Values: map[string]float64{}, Other: map[string]float64{}, Mornings: map[body.Region]float64{}, Reached: map[string]body.Dose{},
		Spm: []int{}, Excluded: []string{}, cuts: f.Cuts()}
}

// notchAt is where a rail stands: every exercise before it is reached.
type notchAt struct {
	climb    []Exercise
	exercise string
	dose     body.Dose
}

// reached is the dose of an exercise that a rail has reached; ok is false where it has not.
func (n notchAt) reached(id string) (d body.Dose, ok bool) {
	for _, x := range n.climb {
		if x.ID == n.exercise {
			return n.dose, id == x.ID
		}
		if x.ID == id && len(x.Ladder) > 0 {
			return x.Ladder[len(x.Ladder)-1], true
		}
	}
	return body.Dose{}, false
}

// Reach returns the limits with every exercise up to this notch of the rail reached.
func (l Limits) Reach(r Rail, exercise string, d body.Dose) Limits {
	if l.here != nil { // a second rail: the first is written down
		l.Reached, l.Standing = maps.Clone(l.Reached), slices.Clone(l.Standing)
		l.write(*l.here)
	}
	l.here = &notchAt{r.Exercises, exercise, d}
	return l
}

// Reaches has what a side stands on reached, rail after rail.
func (l *Limits) Reaches(r Rail, exercise string, d body.Dose) {
	l.write(notchAt{r.Exercises, exercise, d})
}

func (l *Limits) write(n notchAt) {
	if l.Reached == nil {
		l.Reached = map[string]body.Dose{}
	}
	for _, x := range n.climb {
		if d, ok := n.reached(x.ID); ok {
			l.Reached[x.ID] = d
		}
	}
	l.Standing = append(l.Standing, n.exercise)
}

// reached is the highest dose of an exercise done before; ok is false where it never was.
func (l Limits) reached(id string) (d body.Dose, ok bool) {
	if l.here != nil {
		if d, ok = l.here.reached(id); ok {
			return d, true
		}
	}
	d, ok = l.Reached[id]
	return d, ok
}

// Stands reports whether an exercise is in force.
func (l Limits) Stands(exercise string) bool {
	return l.here != nil && l.here.exercise == exercise || slices.Contains(l.Standing, exercise)
}

// Allowed reports whether the runner may do the exercise of this rail, and why not.
func (l Limits) Allowed(r Rail, x Exercise) (bool, string) {
	a := l.May(r, x)
	return a.May(), a.Says()
}

// May answers the one question for an exercise on this side: what core/permit says of every leg it trains
// or stands on, joined with kit, phase, prerequisites and the coach's choices.
func (l Limits) May(r Rail, x Exercise) permit.Answer {
	if l.cuts == nil {
		l.cuts = l.Facts.Cuts()
	}
	standing := l.Stands(x.ID)
	out := l.Facts.Judge(l.cuts, permit.Ask{Demand: x.Demand, Side: l.Side, InForce: standing})
	no := func(kind permit.Kind, sort permit.Sort, cut, opens, format string, args ...any) {
		reason := house.Rules{}.Because("permit."+cut, fmt.Sprintf(format, args...))
		out = out.And(permit.Answer{Kind: kind, Reasons: []permit.Reason{{Reason: reason, Cut: cut, Sort: sort, Leg: l.Side, Opens: opens}}})
	}
	switch {
	case slices.Contains(l.SetAside, r.ID):
		no(permit.NotNow, permit.Waits, "rail", "the practice mends the rail in the Library", "the rail is set aside until it is mended")
	case (x.Retired || r.Retired) && !standing:
		no(permit.NotNow, permit.Safety, "retired", "the practice takes it back in the Library", "retired by the practice")
	case slices.Contains(l.Excluded, x.ID):
		no(permit.NotNow, permit.Safety, "excluded", "the coach brings it back in Build", "left out by the coach")
	case x.Grade == BySpm && len(l.Spm) == 0:
		no(permit.NotNow, permit.Safety, "cadence", "a counted cadence", "no cadence target: count the cadence first")
	}
	if l.RaceNear != "" && !standing && !slices.Contains(l.Done, x.ID) && x.Demanding() {
		no(permit.NotNow, permit.Calendar, "race", "after the race", "%s", l.RaceNear)
	}
	if l.NoRM && x.Published() && x.Loaded() {
		no(permit.NotNow, permit.Waits, "phase", "the references are met", "heavy loads wait until the references are met")
	}
	if calm := slices.ContainsFunc(x.Legs(l.Side), func(leg body.Side) bool { return slices.Contains(l.Calm, leg) }); calm && !standing &&
		!l.inCalm(r, x) {
		no(permit.NotNow, permit.Waits, "calm", "quiet mornings", "during Calm nothing at level 3, below level or with bouncing starts")
	}
	for _, n := range x.Needs {
		if ok, why := l.owns(n); !ok {
			no(permit.NotNow, permit.Safety, "kit", "the kit, entered at intake", "%s", why)
		}
	}
	if says := l.tooHeavy(x); says != "" {
		no(permit.NotNow, permit.Safety, "load", "a new test, or a lighter weight", "%s", says)
	}
	l.tests(r, x, func(kind permit.Kind, cut, opens, says string) { no(kind, permit.Safety, cut, opens, "%s", says) })
	return out
}

// tests asks the sore places, the findings and the tests that an exercise has a word on.
func (l Limits) tests(r Rail, x Exercise, no func(kind permit.Kind, cut, opens, says string)) {
	for _, b := range x.Not {
		if len(b.Sore) > 0 && l.sore(b, x) {
			no(permit.NotNow, "sore", fmt.Sprintf("at %d of 10 or less there", b.Over), b.Says)
		}
		values, n := l.read(b.Measure, x.Both())
		for _, v := range values[:n] {
			if v >= b.From && (b.To == nil || v <= *b.To) {
				no(permit.NotNow, "finding", "a test that shows otherwise", b.Says)
			}
		}
	}
	for _, m := range l.Structural {
		if slices.Contains(structural[m], tagOf(x)) {
			no(permit.Never, "structural", "nothing: it is recorded as structural",
				"a finding recorded as structural: this range is not asked of it")
		}
	}
	for _, n := range x.First {
		if ok, why := l.met(r, x, n); !ok {
			no(permit.NotNow, "first", n.Says, why)
		}
	}
}

// asked is how long the worst that intake was told speaks, in days; later the mornings alone do, as for usual.
const asked = 21

// sore reports a bar's place above its number on the side: as it usually is of late, or the worst that intake was told
// while that is not old.
func (l Limits) sore(b Bar, x Exercise) bool {
	if x.Level < b.Level {
		return false
	}
	for q, options := range b.Only {
		if !slices.Contains(options, l.Facts.House.Choice(l.Facts.Profile.Approaches, q)) {
			return false
		}
	}
	p := l.Facts.Profile
	told := p.AskedOn == "" || l.Facts.Today.Sub(p.AskedOn) <= asked
	return slices.ContainsFunc(b.Sore, func(g body.Region) bool { return l.Mornings[g] > float64(b.Over) }) ||
		told && slices.ContainsFunc(p.Symptoms, func(s body.Symptom) bool {
			return slices.Contains(b.Sore, s.Region) && max(s.Baseline, s.Worst) > b.Over && slices.ContainsFunc(x.Legs(l.Side), s.Side.Touches)
		})
}

// structural names the range that a structural finding of a measure leaves out for good.
var structural = map[string][]body.Tag{
	body.AnkleKneeToWall: {body.AnkleRange}, body.AnkleLungeAngle: {body.AnkleRange}, body.AnkleSeatedBend: {body.AnkleRange},
	body.AnkleEndFeel:     {body.AnkleRange},
	body.ToePassiveHeight: {body.ToeRange}, body.ToePassiveExtension: {body.ToeRange}, body.ToeLoadedExtension: {body.ToeRange},
	body.ToeActiveHeight: {body.ToeRange},
}

func tagOf(x Exercise) body.Tag {
	switch {
	case x.Has(body.AnkleRange):
		return body.AnkleRange
	case x.Has(body.ToeRange):
		return body.ToeRange
	}
	return ""
}

// inCalm reports what may start while a leg is in Calm: release, range, control, and holds or two-leg
// work to body mass, nothing below level; and what the approach to the sore place brings.
func (l Limits) inCalm(r Rail, x Exercise) bool {
	if x.Impact.Beyond(body.NoImpact) || x.Level >= 4 {
		return false
	}
	if slices.Contains(l.CalmToo, r.ID) && x.Level <= 2 {
		return true
	}
	gentle := slices.Contains([]Class{Settle, Releasing, Range, Control}, x.Class)
	return x.Level <= 2 && !x.Edge && (gentle || x.Class == Isometric || x.Both() || x.Level <= 1) || gentle && x.Level <= 2
}

func (l Limits) owns(n string) (bool, string) {
	e := l.Equipment
	thick := func(cm float64) bool { return cm >= 8 }
	switch {
	case n == "step" && e.StepCm == 0:
		return false, "needs a step"
	case n == "dumbbell" && len(e.DumbbellsKg) == 0:
		return false, "needs a dumbbell"
	case n == "heavy_dumbbell" && (len(e.DumbbellsKg) == 0 || slices.Max(e.DumbbellsKg) < l.HeavyMinKg):
		return false, "needs a dumbbell of at least " + body.In("kg", "%g", l.HeavyMinKg)
	case n == "stack" && len(e.PlatesMm) == 0:
		return false, "needs plates or books to stack"
	case n == "band" && len(e.Bands) == 0:
		return false, "needs an elastic band"
	case n == "soft_ball" && !e.SoftBall:
		return false, "needs a soft ball"
	case n == "firm_ball" && !e.FirmBall:
		return false, "needs a firm ball"
	case n == "roller" && len(e.RollersCm) == 0:
		return false, "needs a roller"
	case n == "thick_roller" && !slices.ContainsFunc(e.RollersCm, thick):
		return false, "needs a roller of " + body.In("cm", "%g", 8) + " and over"
	case n == "thin_roller" && !slices.ContainsFunc(e.RollersCm, func(cm float64) bool { return !thick(cm) }):
		return false, "needs a roller or pipe under " + body.In("cm", "%g", 8)
	}
	return true, ""
}

var doses sync.Map // read from words

// parsed is ParseDose, each dose read once.
func parsed(text string) (body.Dose, error) {
	if d, ok := doses.Load(text); ok {
		return d.(body.Dose), nil
	}
	d, err := body.ParseDose(text)
	if err == nil {
		doses.Store(text, d)
	}
	return d, err
}

// met reports whether a prerequisite is there. A test that was not taken is not there.
func (l Limits) met(r Rail, x Exercise, n Need) (bool, string) {
	switch {
	case n.Morning != nil:
		for _, g := range slices.Concat(r.Regions, x.Main, x.Also) {
			if l.Mornings[g] > *n.Morning {
				return false, fmt.Sprintf("first: %s (%s usually %g)", n.Says, g.Name(), l.Mornings[g])
			}
		}
	case n.Exercise != "":
		d, ok := l.reached(n.Exercise)
		want, err := parsed(n.Dose)
		if !ok || (err == nil && d.Work(0, 0) < want.Work(0, 0)) {
			return false, "first: " + n.Says
		}
	default:
		if slices.Contains(l.Structural, n.Measure) {
			return false, "depends on a finding recorded as structural: " + n.Says
		}
		values, known := l.read(n.Measure, x.Both())
		if known == 0 {
			return false, "first: " + n.Says + " (not tested)"
		}
		for _, v := range values[:known] {
			if (n.AtLeast != nil && v < *n.AtLeast) || (n.AtMost != nil && v > *n.AtMost) {
				return false, fmt.Sprintf("first: %s (now %g)", n.Says, v)
			}
		}
	}
	return true, ""
}

// read lists what is known of a measure: this side's value, and the other's where both feet work.
func (l Limits) read(measure string, both bool) (values [2]float64, n int) {
	if v, ok := l.Values[measure]; ok {
		values[n] = v
		n++
	}
	if both {
		if v, ok := l.Other[measure]; ok {
			values[n] = v
			n++
		}
	}
	return values, n
}

// Every lists all exact doses of a rail for this runner's equipment, easiest first; those out of reach
// say why. Exercises that were retired are left out.
func (r Rail) Every(l Limits) []Notch {
	out := []Notch{}
	for i := range r.Exercises {
		out = r.add(out, l, &r.Exercises[i], l.May(r, r.Exercises[i]))
	}
	for i := range out {
		out[i].ID, out[i].Text = NotchID(out[i].Exercise, out[i].Dose), out[i].Dose.String()
	}
	return out
}

// NotchID names an exercise at an exact dose, whoever asks in whatever units.
func NotchID(exercise string, d body.Dose) string { return exercise + " " + body.Plain(d.String()) }

// add appends the exact doses of one exercise; none of a retired one that does not stand.
func (r Rail) add(out []Notch, l Limits, x *Exercise, may permit.Answer) []Notch {
	if x.Retired && !l.Stands(x.ID) {
		return out
	}
	barred, opens := may.Says(), ""
	if !may.May() && len(may.Reasons) > 0 {
		opens = may.Reasons[0].Opens
	}
	for _, d := range l.Doses(*x) {
		out = append(out, Notch{Exercise: x.ID, Name: x.Name, Dose: d, Heavy: x.Heavy(), Barred: barred, Opens: opens})
	}
	return out
}

// Notches lists the exact doses of a rail that the runner may do, easiest first, without their words.
func (r Rail) Notches(l Limits) []Notch {
	rungs := 0
	for i := range r.Exercises {
		rungs += len(r.Exercises[i].Ladder)
	}
	out := make([]Notch, 0, rungs)
	for i := range r.Exercises {
		if may := l.May(r, r.Exercises[i]); may.Says() == "" {
			out = r.add(out, l, &r.Exercises[i], may)
		}
	}
	return out
}

// Possible reports whether the runner may do anything of a rail.
func (r Rail) Possible(l Limits) bool {
	return slices.ContainsFunc(r.Exercises, func(x Exercise) bool {
		return (!x.Retired || l.Stands(x.ID)) && len(x.Ladder) > 0 && l.May(r, x).Says() == ""
	})
}

// At returns the index of the notch a dose stands on: the same dose, else the last notch of the same
// exercise and load that asks no more work. A dose below the exercise's first notch, or off a
// repetitions-maximum ladder, gives the first notch with below true; an exercise that is not on the
// list gives -1.
func At(notches []Notch, exercise string, d body.Dose) (i int, below bool) {
	d.Extra = 0
	firstOf := slices.IndexFunc(notches, func(n Notch) bool { return n.Exercise == exercise })
	if firstOf < 0 {
		return -1, true
	}
	d = Graded(d, notches[firstOf].Dose)
	i = slices.IndexFunc(notches, func(n Notch) bool { return n.Exercise == exercise && n.Dose.Same(d) })
	if i >= 0 {
		return i, false
	}
	if d.Kind == body.RMLoad {
		return firstOf, true
	}
	for k, n := range notches {
		if n.Exercise != exercise {
			continue
		}
		of, at := n.Dose.Grade(), d.Grade()
		if of.Below(at) || of == at && n.Dose.At(body.Grade{}).Work(0, 0) <= d.At(body.Grade{}).Work(0, 0) {
			i = k
		}
	}
	if i < 0 {
		return firstOf, true
	}
	return i, false
}

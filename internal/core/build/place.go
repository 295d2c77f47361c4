package build

import (
	"fmt"
	"math"
	"slices"

	"notchback/internal/core/body"
	"notchback/internal/core/catalog"
	"notchback/internal/core/screen"
	"notchback/internal/core/stats"
)

// spot is where one side starts on a rail.
type spot struct {
	side     body.Side
	exercise catalog.Exercise
	dose     body.Dose
	at       int // notch index
	why      body.Reason
	pr       catalog.Prescription
	pinned   bool
	waits    bool // nothing may be done now; what was in force keeps its place
	all      []catalog.Notch
}

// place finds the first notch of one side from its own test; an untested side starts lowest. It reports
// false when the side may do nothing of the rail, and says why where its test is too little to train by.
func (v view) place(rail catalog.Rail, side body.Side) (spot, bool) {
	return v.placeOn(v.notches(rail, side), rail, side)
}

// placeOn is place where the side's notches are at hand.
func (v view) placeOn(all []catalog.Notch, rail catalog.Rail, side body.Side) (spot, bool) {
	id, light := "", false
	notches := slices.DeleteFunc(slices.Clone(all), func(n catalog.Notch) bool {
		if n.Exercise != id {
			x, _ := rail.Exercise(n.Exercise)
			id = n.Exercise
			_, light = v.limits[side].Begin(x)
		}
		return !light
	})
	if len(notches) == 0 {
		return spot{}, false
	}
	h := v.in.House
	n, why, ok := notches[0], h.Because("place.lowest", "lowest notch: no test places this rail"), true
	switch {
	case rail.Whole:
		why.Says = "lowest notch: the whole runner begins low"
	case rail.Place == nil:
	default:
		n, why, ok = v.placeByTable(rail, side, notches)
	}
	if !ok {
		return spot{why: why}, false
	}
	x, _ := rail.Exercise(n.Exercise)
	if n.Dose.Kind == body.Contacts { // no test counts them
		n.Dose = n.Dose.WithAmount(Floor(h, n.Dose))
		why = why.See("contacts", "never counted: begins at %s", n.Dose)
	}
	at, below := catalog.At(notches, n.Exercise, n.Dose)
	why = why.See("first notch, "+string(side), "%s", n.Words())
	if below {
		why = why.See("below the first notch", "the climb proper begins at %s", notches[at].Dose)
	}
	return spot{side: side, exercise: x, dose: n.Dose, at: at, why: why}, true
}

// placeByTable reads the rail's placement table: the last row whose figure is reached names the
// exercise, and the easier row where that one is out of reach or would start below its floor.
// Repetitions and holds start at a share of what was done. It reports false when what was tested is too
// little for any of them.
func (v view) placeByTable(rail catalog.Rail, side body.Side, notches []catalog.Notch) (catalog.Notch, body.Reason, bool) {
	t, ok := v.table(rail, side)
	if !ok {
		return notches[0], t.why, true
	}
	little := false
	for _, start := range slices.Backward(rail.Place.Starts) {
		if t.value < start.From {
			continue
		}
		n, x, owned := v.startAt(&t, start, notches)
		if !owned {
			continue
		}
		dose, found, short := v.firstDose(&t, start, x, n.Dose)
		if little = little || short; !found {
			continue
		}
		n.Dose = dose.At(n.Dose.Grade())
		return n, t.why, true
	}
	n := notches[0]
	if x, _ := rail.Exercise(n.Exercise); !little && (rail.Place.By == "raises" || rail.Place.By == "hold") {
		if dose, enough := v.share(&t.why, x, t.measure, t.measured, side, n.Dose.LoadKg); enough {
			n.Dose = dose.At(n.Dose.Grade())
			return n, t.why, true
		}
		little = true
	}
	if little {
		t.why.Says = fmt.Sprintf("%s is too little to train by: not now; test again", t.measure.Show(t.measured))
		return n, t.why, false
	}
	t.why.Says = "lowest notch that may be done"
	return n, t.why, true
}

// tabled is what a rail's table is read by: the figure of its own tests, and what it comes to.
type tabled struct {
	rail     catalog.Rail
	side     body.Side
	measure  screen.Measure
	measured float64
	value    float64 // the figure itself, or its share of the reference
	why      body.Reason
}

// table reads it; false where nothing was tested, or the lowest notch is the answer whatever was.
func (v view) table(rail catalog.Rail, side body.Side) (tabled, bool) {
	h, place := v.in.House, rail.Place
	keys := []string{"place.share", "place.reps.min"}
	switch place.By {
	case "score":
		keys = []string{"score.ability"}
	case "reference":
		keys = []string{place.Reference}
	case "toe":
		keys = []string{"toe.passive_angle.ref", "toe.active_gap.ref"}
	}
	t := tabled{rail: rail, side: side, why: h.Because("place."+place.By, "not tested: lowest notch, test first", keys...)}
	value, ok := v.limits[side].Values[place.Measure]
	t.measure, _ = screen.FindMeasure(place.Measure)
	if !ok {
		return t, false
	}
	t.why = t.why.See(t.measure.Name+", "+string(side), "%s", t.measure.Show(value))
	for _, id := range place.And {
		if place.By == "toe" {
			break // what it is worked towards, not what it begins by
		}
		o, _ := screen.FindMeasure(id)
		if x, ok := v.limits[side].Values[id]; ok {
			value = math.Min(value, x)
			t.why = t.why.See(o.Name+", "+string(side), "%s", o.Show(x))
		}
	}
	t.measured, t.value = value, value
	switch place.By {
	case "reference":
		ref := h.Get(place.Reference)
		t.value /= ref
		t.why.Formula = fmt.Sprintf("%.3g / %g = %.0f %% of the reference", t.measured, ref, 100*t.value)
		if v.phase == Calm {
			t.why.Says = "begins low during Calm"
			return t, false
		}
	case "toe":
		t.value, ok = v.toeAngle(side, &t.why)
	}
	return t, ok
}

// startAt is the notch of a row of the table, or of its variant for who does not own the kit.
func (v view) startAt(t *tabled, start catalog.Start, notches []catalog.Notch) (catalog.Notch, catalog.Exercise, bool) {
	l := v.limits[t.side]
	x, _ := t.rail.Exercise(start.Exercise)
	begin, light := l.Begin(x)
	if !light {
		t.why = t.why.See(x.Name, "the least that is owned is more than the test lets it begin with: the easier variant")
		return catalog.Notch{}, x, false
	}
	i := indexOf(notches, x.ID)
	if i < 0 && start.Without != "" && l.May(t.rail, x).Only("kit") {
		t.why = t.why.See(x.Name, "not owned")
		x, _ = t.rail.Exercise(start.Without)
		begin, _ = l.Begin(x)
		i = indexOf(notches, x.ID)
	}
	if i < 0 {
		_, no := l.Allowed(t.rail, x)
		if no == "" {
			no = "not in this phase"
		}
		t.why = t.why.See(x.Name, "%s: the easier variant", no)
		return catalog.Notch{}, x, false
	}
	n := notches[i]
	n.Dose = n.Dose.At(begin)
	return n, x, true
}

// firstDose is the dose a row of the table begins with, and says why; short when what was tested is too little for it.
func (v view) firstDose(t *tabled, start catalog.Start, x catalog.Exercise, at body.Dose) (dose body.Dose, found, short bool) {
	by := t.rail.Place.By
	dose = x.Ladder[start.Dose]
	oneRM, maximal := v.limits[t.side].Values[x.By]
	switch {
	case start.Fixed:
		t.why.Says = fmt.Sprintf("%s: the fixed start on “%s”", t.measure.Show(t.measured), x.Name)
	case by == "score":
		t.why.Says = fmt.Sprintf("score %g of 3 starts on “%s”", t.value, x.Name)
	case by == "toe" && t.value < 1:
		t.why.Says = fmt.Sprintf("range before control: the passive angle is short, “%s”", x.Name)
	case by == "toe":
		t.why.Says = fmt.Sprintf("range is there: control, “%s”", x.Name)
	case by == "reference":
		t.why.Says = fmt.Sprintf("%s starts on “%s”", t.measure.Show(t.measured), x.Name)
	case x.Grade == catalog.ByDumbbell && x.By != "" && maximal:
		dose = x.Ladder[0]
		t.why.Says = fmt.Sprintf("the tested maximum of %s starts on “%s”", body.In("kg", "%.0f", oneRM), x.Name)
		t.why.Formula = fmt.Sprintf("%s / (1 + %d/30) − %g × %s = %s for %d repetitions at the most; begins with more in reserve, at %s",
			body.Bare("kg", "%.0f", oneRM), dose.Reps, x.Share, body.Bare("kg", "%g", v.in.Profile.MassKg),
			body.In("kg", "%.1f", stats.EpleyLoad(oneRM, float64(dose.Reps))-x.Share*v.in.Profile.MassKg), dose.Reps, body.In("kg", "%g", at.LoadKg))
	default:
		own, tested := t.measure, t.measured
		if start.Measure != "" {
			var ok bool
			own, _ = screen.FindMeasure(start.Measure)
			if tested, ok = v.limits[t.side].Values[start.Measure]; !ok {
				t.why = t.why.See(x.Name, "%s not tested: the easier variant", own.Name)
				return dose, false, false
			}
		}
		dose, found = v.share(&t.why, x, own, tested, t.side, at.LoadKg)
		return dose, found, !found
	}
	return dose, true, false
}

func indexOf(notches []catalog.Notch, exercise string) int {
	return slices.IndexFunc(notches, func(n catalog.Notch) bool { return n.Exercise == exercise })
}

// toeAngle is the passive angle of the big toe as a share of its reference, by the height it was lifted to and its
// length; false, with why, where the length is missing or contradicts the height.
func (v view) toeAngle(side body.Side, why *body.Reason) (share float64, known bool) {
	h := v.in.House
	passive := v.limits[side].Values[body.ToePassiveHeight]
	toe, ref := v.in.Profile.BigToeMm, h.Get("toe.passive_angle.ref")
	angle := stats.LiftAngle(passive, toe)
	switch {
	case toe == 0:
		return 0, false
	case math.IsNaN(angle):
		why.Says = "the toe is entered as shorter than it was lifted: lowest notch; measure its length again, then test"
		return 0, false
	}
	*why = why.See("passive angle, "+string(side), "%.1f°", angle)
	why.Formula = fmt.Sprintf("asin(%g / %g) = %.1f° against %g°", passive, toe, angle, ref)
	if active, ok := v.limits[side].Values[body.ToeActiveHeight]; ok && angle >= ref {
		if gap := angle - stats.LiftAngle(active, toe); !math.IsNaN(gap) {
			*why = why.See("active gap, "+string(side), "%.1f° (at most %g°)", gap, h.Get("toe.active_gap.ref"))
		}
	}
	return angle / ref, true
}

// weakerDecides gives both sides the weaker side's notch when either would begin with an exercise done on
// two legs: it trains the weaker leg too.
func weakerDecides(rail catalog.Rail, s []spot) []spot {
	if len(s) != 2 || s[0].waits || s[1].waits || !s[0].exercise.Both() && !s[1].exercise.Both() {
		return s
	}
	weak, strong := 0, 1 // by exercise: what is owned and tested makes each side's doses its own
	if l, r := rail.At(s[0].exercise.ID), rail.At(s[1].exercise.ID); r < l || r == l && s[1].dose.Work(0, 0) < s[0].dose.Work(0, 0) {
		weak, strong = 1, 0
	}
	if s[strong].exercise.ID != s[weak].exercise.ID || s[strong].dose != s[weak].dose {
		s[strong].exercise, s[strong].dose, s[strong].at = s[weak].exercise, s[weak].dose, s[weak].at
		s[strong].why = s[strong].why.See("trains both legs", "the %s side, the weaker, decides: %s, %s", s[weak].side, s[weak].exercise.Name,
			s[weak].dose)
	}
	return s
}

// extraSet gives the weaker side one more set when the side difference is short, the exercise is
// done on each side and it does not hurt.
func (v view) extraSet(rail catalog.Rail, s []spot) []spot {
	for i := range s {
		for _, f := range v.findings {
			if f.Limiter != "side_difference" || f.Verdict != screen.Short || f.Side != s[i].side || !s[i].exercise.EachSide ||
				rail.Answers[f.Of] == 0 || rail.Answers[f.Of] > 2 {
				continue
			}
			if pain := v.painAt(rail, s[i].side); pain > v.in.House.Int("build.extra.pain") {
				s[i].why = s[i].why.See("weaker side's extra set", "not while it hurts %d of 10", pain)
				continue
			}
			if slices.Contains([]catalog.Class{catalog.Releasing, catalog.Settle}, s[i].exercise.Class) || s[i].exercise.Published() {
				continue
			}
			if s[i].dose.Extra == 0 && (s[i].dose.Sets < maxSets(s[i].exercise) || s[i].exercise.Class != catalog.Strength) {
				s[i].dose.Extra = 1
				s[i].why = s[i].why.See("weaker side", "one extra set (%s against at most %g)", f.Shown(), f.Reference)
			}
		}
	}
	return s
}

func maxSets(x catalog.Exercise) int {
	n := 0
	for _, d := range x.Ladder {
		n = max(n, d.Sets)
	}
	return n
}

// painAt is the highest baseline pain among the rail's places on a side, 0–10.
func (v view) painAt(rail catalog.Rail, side body.Side) int {
	worst := 0
	for _, s := range v.in.Profile.Symptoms {
		if rail.Concerns(s.Region, s.Side, side) {
			worst = max(worst, s.Baseline)
		}
	}
	return worst
}

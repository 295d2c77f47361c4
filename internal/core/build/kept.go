package build

import (
	"fmt"
	"slices"

	"notchback/internal/core/body"
	"notchback/internal/core/catalog"
	"notchback/internal/core/permit"
	"notchback/internal/core/screen"
)

// waiting keeps what was in force on a side that may do nothing of the rail now: building again neither
// loses it nor opens it. What safety took away is parked.
// why says what its newest test is too little for, where that is the reason.
func (v view) waiting(rail catalog.Rail, side body.Side, why body.Reason) (spot, bool) {
	for _, c := range v.in.rows(rail) {
		x, known := rail.Exercise(c.Exercise)
		if c.Side != side || !known {
			continue
		}
		a := v.limits[side].May(rail, x)
		if a.May() { // only its test may be too little to train by
			if c.ID = ""; v.in.retested(rail, side) && !c.Parked {
				c.Parked, c.Cause, c.From = true, catalog.CauseRetest, v.in.Today
			}
			return spot{side: side, exercise: x, dose: c.Dose, why: why.See("in force before", "%s", c.Text()), pr: c, waits: true}, true
		}
		if a.Sort() == permit.Safety && !c.Parked {
			c.Parked, c.Cause, c.From = true, "parked", v.in.Today
		}
		c.ID = ""
		why = v.in.House.Because("build.waits", "waits: "+a.Says()).See("in force before", "%s", c.Text())
		if len(a.Reasons) > 0 {
			why = why.See("what opens it", "%s", a.Reasons[0].Opens)
		}
		return spot{side: side, exercise: x, dose: c.Dose, why: why, pr: c, waits: true}, true
	}
	return spot{}, false
}

// rows are what stands of a rail: in force, or as it was left out, a side by itself.
func (in Input) rows(rail catalog.Rail) []catalog.Prescription {
	of := func(rows []catalog.Prescription) []catalog.Prescription {
		return slices.DeleteFunc(slices.Clone(rows), func(c catalog.Prescription) bool { return c.Rail != rail.ID })
	}
	out := of(in.Current)
	for _, c := range of(in.Rested) {
		// Left out for too long it waits for a test, as if it had been missed.
		last := in.Done[c.Exercise]
		if last = max(last, c.From); !c.Parked && in.Today.Sub(last) >= in.House.Int("adjust.miss.retest") {
			c.Parked, c.Cause, c.From = true, catalog.CauseMissed, last.Add(in.House.Int("adjust.miss.retest"))
		}
		if !slices.ContainsFunc(out, func(o catalog.Prescription) bool { return o.Side == c.Side }) {
			out = append(out, c)
		}
	}
	return out
}

// again reports a parked rail that only a new test brings back, and that was tested since: it had been
// missed too long, or stood through a warning sign of bone, of a tear, or of 14 days. A rail without a test of its
// own begins at its lowest dose after any test of that leg.
func (v view) again(rail catalog.Rail, c catalog.Prescription) bool {
	since := c.From
	waits := c.WaitsForTest()
	legs := []body.Side{c.Side}
	if x, known := rail.Exercise(c.Exercise); known { // of both legs' work either leg's sign counts
		legs = x.Legs(c.Side)
	}
	for _, s := range v.in.Stops {
		cleared, on := s.Closed()
		if cleared != nil && !s.Mistake() && on >= c.From && slices.ContainsFunc(legs, s.Touches) &&
			(s.Grave() || on.Sub(s.On) >= v.in.House.Int("adjust.stop.retest")) {
			waits, since = true, max(since, on)
		}
	}
	own := rail.Measures()
	return waits && slices.ContainsFunc(v.in.Trials, func(t screen.Trial) bool {
		return t.Counts() && t.Side.Touches(c.Side) && t.On >= since && (len(own) == 0 || slices.Contains(own, t.Measure))
	})
}

// retested reports whether the rail's own tests were taken again on a side since the programme in
// force was built. A retest of something else moves no dose.
func (in Input) retested(rail catalog.Rail, side body.Side) bool {
	return in.Built != "" && slices.ContainsFunc(in.Trials, func(t screen.Trial) bool {
		return t.Counts() && t.Side.Touches(side) && t.On > in.Built && slices.Contains(rail.Measures(), t.Measure)
	})
}

// kept gives the new prescription of a side: the placed one, or the one in force while no newer test
// says otherwise. A parked rail stays parked, at no more than it was parked at.
func (v view) kept(rail catalog.Rail, s spot) spot {
	s.pr = catalog.Prescription{Exercise: s.exercise.ID, Dose: s.dose, From: v.in.Today, Cause: catalog.CausePlaced}
	notches := s.all
	for _, c := range v.in.rows(rail) {
		if c.Side != s.side {
			continue
		}
		x, known := rail.Exercise(c.Exercise)
		at, _ := catalog.At(notches, c.Exercise, c.Dose)
		switch {
		case at < 0 || !known: // no longer allowed or owned
			s.why = s.why.See("in force before", "%s: not possible now", c.Text())
		case !(c.Parked && v.again(rail, c)) && (!v.in.retested(rail, s.side) || v.pinned(rail.ID, s.side)):
			s = s.keep(c, x, at)
			s.why = v.in.House.Because("build.kept", "kept where it stands: no newer test").See("in force", "%s", c.Text())
		case !c.Parked && (at > s.at || at == s.at && c.Dose.Work(0, 0) > s.dose.Work(0, 0)) && v.covers(rail, s, x, c.Dose):
			placed := s.exercise.Name + ", " + s.dose.String()
			s = s.keep(c, x, at)
			s.why = v.in.House.Because("build.kept", "kept where it stands: the newer test covers what is done already").See("in force", "%s",
				c.Text()).See("the test alone would start at", "%s", placed)
		case c.Parked && v.again(rail, c):
			if s.above(at, c.Dose) { // never above where it was
				s.exercise, s.dose, s.at = x, c.Dose, at
				s.pr.Exercise, s.pr.Dose = c.Exercise, c.Dose
			}
			s.why = s.why.See("parked until tested again", "%s: placed by the new test", c.Text())
		case c.Parked:
			if s.above(at, c.Dose) {
				s.pr.Exercise, s.pr.Dose = c.Exercise, c.Dose
				s.exercise = x
			}
			s.pr.Parked, s.pr.Cause, s.pr.From = true, c.Cause, c.From
			s.why = s.why.See("parked", "stays parked until it may return, never above where it was")
		}
	}
	return s
}

// above reports whether what was placed asks more than the dose at a notch; below the first one both stand on it.
func (s spot) above(at int, d body.Dose) bool {
	return at < s.at || at == s.at && d.Work(0, 0) < s.dose.Work(0, 0)
}

// keep takes the prescription in force over.
func (s spot) keep(c catalog.Prescription, x catalog.Exercise, at int) spot {
	s.pr = c
	s.pr.ID = ""
	s.exercise, s.dose, s.at = x, c.Dose, at
	return s
}

// covers reports whether a newer test still covers a dose that was climbed to since: the exercise lies
// before the one the next row of the placement table names, and its repetitions are no more than were
// tested; or the test is no worse than the one before.
func (v view) covers(rail catalog.Rail, placed spot, x catalog.Exercise, d body.Dose) bool {
	index := rail.At
	if !v.limits[placed.side].Covers(x, d) {
		return false
	}
	if rail.Place == nil {
		return true
	}
	if tested, ok := v.limits[placed.side].Values[rail.Place.Measure]; ok && v.noWorse(rail, placed.side) {
		return rail.Place.By != "raises" && rail.Place.By != "hold" || float64(d.Amount()) <= tested
	}
	rows := rail.Place.Starts
	for _, r := range rows {
		k := index(r.Exercise)
		if k > index(placed.exercise.ID) && index(x.ID) >= k {
			return false
		}
		// A row further up the same exercise, where rows name doses.
		byDose := slices.Contains([]string{"score", "reference", "toe"}, rail.Place.By)
		if row := rail.Exercises[max(k, 0)].Ladder[r.Dose].Work(0, 0); byDose && k == index(placed.exercise.ID) && row > placed.dose.Work(0, 0) &&
			(index(x.ID) > k || d.Work(0, 0) >= row) {
			return false
		}
	}
	measure := rail.Place.Measure
	for _, r := range rows {
		if r.Exercise == x.ID && r.Measure != "" {
			measure = r.Measure
		}
	}
	tested, ok := v.limits[placed.side].Values[measure]
	return rail.Place.By != "raises" && rail.Place.By != "hold" || x.ID != placed.exercise.ID || !ok || float64(d.Amount()) <= tested
}

// noWorse reports a retest that found each of the rail's own tests of a side no worse than it was when the programme in
// force was built: it takes nothing back that was earned since.
func (v view) noWorse(rail catalog.Rail, side body.Side) bool {
	again := false
	for _, id := range rail.Measures() {
		m, _ := screen.FindMeasure(id)
		at := side
		if !m.Sided {
			at = body.Both
		}
		if !slices.ContainsFunc(v.in.Trials, func(t screen.Trial) bool {
			return t.Measure == id && t.Side == at && t.Counts() &&
				t.On > v.in.Built
		}) {
			continue
		}
		was, ok := screen.ReadEasy(v.in.Was, id, at)
		is, known := screen.ReadEasy(v.in.Trials, id, at)
		if !ok || !known || m.Better == "lower" && is.Value > was.Value || m.Better != "lower" && is.Value < was.Value {
			return false
		}
		again = true
	}
	return again
}

// pinned reports a notch the coach set that is in force already: what happened since goes on from it.
func (v view) pinned(rail string, side body.Side) bool {
	is := func(n PinnedNotch) bool { return n.Rail == rail && n.Side.Touches(side) }
	return slices.ContainsFunc(v.in.Before.Notches, is) && slices.ContainsFunc(v.in.Choices.Notches, is)
}

// byHand puts the coach's own notch in place of the placed one, when the runner may do it; what was
// overridden, or why it was refused, is said.
func (v view) byHand(rail catalog.Rail, s spot, p *RailPlan) spot {
	for _, n := range v.in.Choices.Notches {
		x, known := rail.Exercise(n.Exercise)
		if n.Rail != rail.ID || !known || (!n.Side.Touches(s.side) && !x.Both()) {
			continue
		}
		if slices.Contains(v.in.Before.Notches, n) && slices.ContainsFunc(v.in.Current,
			func(c catalog.Prescription) bool { return c.Rail == rail.ID && c.Side == s.side }) {
			s.pinned, p.ByHand = true, true
			s.why = s.why.See("set by the coach", "%s, %s; moves since then stand", x.Name, n.Dose)
			continue
		}
		if no := v.refusal(rail, x, n.Dose, s.side); no != "" {
			says := fmt.Sprintf("%s, %s: refused, %s", x.Name, n.Dose, no)
			s.why = s.why.See("set by the coach", "%s", says)
			if !slices.Contains(p.Refused, says) {
				p.Refused = append(p.Refused, says)
			}
			continue
		}
		p.ByHand = true
		why := v.in.House.Because("build.by-hand", "set by the coach").See("the tests would start at", "%s, %s", s.exercise.Name, s.pr.Dose)
		if w := v.in.Choices.Why[rail.ID]; w != "" {
			why = why.See("word", "%s", w)
		}
		at, _ := catalog.At(v.notches(rail, s.side), x.ID, n.Dose)
		parked := s.pr.Parked
		s = spot{side: s.side, exercise: x, dose: n.Dose, at: at, why: why, pinned: true}
		s.pr = catalog.Prescription{Exercise: x.ID, Dose: n.Dose, From: v.in.Today, Cause: "set by the coach", Parked: parked}
	}
	return s
}

// refusal says why a notch may not be given to a side; empty when it may.
func (v view) refusal(rail catalog.Rail, x catalog.Exercise, d body.Dose, side body.Side) string {
	if ok, no := v.limits[side].Allowed(rail, x); !ok {
		return no
	}
	bare := d
	bare.Extra = 0
	bare = bare.At(body.Grade{})
	last := x.Ladder[len(x.Ladder)-1]
	switch {
	case d.Kind != last.Kind:
		return "it is counted another way: " + last.String()
	case d.Sets < 1 || d.Extra < 0 || d.Extra > 1 || bare.Amount() < 1:
		return "at least one set of one"
	case bare.PerDay != last.PerDay || (d.Kind == body.Repetitions && d.Seconds != last.Seconds) ||
		d.OffS != last.OffS && d.Kind != body.Blocks:
		return "its rhythm is " + last.String()
	case d.Kind == body.RMLoad && !slices.Contains(x.Ladder, bare):
		return "a published programme keeps its own doses"
	case bare.Work(0, 0) > last.Work(0, 0) || d.Sets > maxSets(x):
		return "more than its highest dose, " + last.String()
	}
	if !slices.ContainsFunc(v.notches(rail, side), func(n catalog.Notch) bool {
		return n.Exercise == x.ID && (n.Dose.Grade() == d.Grade() || d.Kind == body.RMLoad || n.Dose.Grade() == catalog.Graded(d, n.Dose).Grade())
	}) {
		return "not owned"
	}
	return ""
}

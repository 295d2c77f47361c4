package build

import (
	"fmt"
	"math"
	"slices"

	"notchback/internal/core/body"
	"notchback/internal/core/catalog"
	"notchback/internal/core/permit"
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
}

// waiting keeps what was in force on a side that may do nothing of the rail now: building again neither
// loses it nor opens it. What safety took away is parked.
func (v view) waiting(rail catalog.Rail, side body.Side) (spot, bool) {
	for _, c := range v.in.Current {
		x, known := rail.Exercise(c.Exercise)
		if c.Rail != rail.ID || c.Side != side || !known {
			continue
		}
		a := v.limits[side].May(rail, x)
		if a.Sort() == permit.Safety && !c.Parked {
			c.Parked, c.Cause, c.From = true, "parked", v.in.Today
		}
		c.ID = ""
		why := v.in.House.Because("build.waits", "waits: "+a.Says()).See("in force before", "%s", c.Text())
		if len(a.Reasons) > 0 {
			why = why.See("what opens it", "%s", a.Reasons[0].Opens)
		}
		return spot{side: side, exercise: x, dose: c.Dose, why: why, pr: c, waits: true}, true
	}
	return spot{}, false
}

// again reports a parked rail that only a new test brings back, and that was tested since: it had been
// missed too long, or stood through a warning sign of bone, of a tear, or of 14 days.
func (v view) again(rail catalog.Rail, c catalog.Prescription) bool {
	since := c.From
	waits := c.WaitsForTest()
	for _, s := range v.in.Stops {
		cleared, on := s.Closed()
		if cleared != nil && !s.Mistake() && on >= c.From && s.Touches(c.Side) && (s.Grave() || on.Sub(s.On) >= v.in.House.Int("adjust.stop.retest")) {
			waits, since = true, max(since, on)
		}
	}
	return waits && slices.ContainsFunc(v.in.Trials, func(t screen.Trial) bool {
		return t.Counts() && t.Side.Touches(c.Side) && t.On >= since && slices.Contains(rail.Measures(), t.Measure)
	})
}

// place finds the first notch of one side from its own test; an untested side starts lowest. It reports
// false when the side may do nothing of the rail.
func (v view) place(rail catalog.Rail, side body.Side) (spot, bool) {
	notches := v.notches(rail, side)
	if len(notches) == 0 {
		return spot{}, false
	}
	h := v.in.House
	n, why := notches[0], h.Because("place.lowest", "lowest notch: no test places this rail")
	switch {
	case rail.Whole:
		why.Says = "lowest notch: the whole runner begins low"
	case rail.Place == nil:
	case rail.Place.By == "toe":
		n, why = v.placeToe(rail, side, notches)
	default:
		n, why = v.placeByTable(rail, side, notches)
	}
	x, _ := rail.Exercise(n.Exercise)
	at, _ := catalog.At(notches, n.Exercise, n.Dose)
	return spot{side: side, exercise: x, dose: n.Dose, at: at, why: why.See("first notch, "+string(side), "%s", n.Words())}, true
}

// placeByTable reads the rail's placement table: the last row whose figure is reached names the
// exercise, and the easier row where that one is out of reach. Repetitions and holds start at a share
// of what was done.
func (v view) placeByTable(rail catalog.Rail, side body.Side, notches []catalog.Notch) (catalog.Notch, body.Reason) {
	h, place := v.in.House, rail.Place
	keys := []string{"place.share", "place.reps.min", "place.reps.max"}
	switch place.By {
	case "score":
		keys = []string{"score.ability"}
	case "reference":
		keys = []string{place.Reference}
	}
	why := h.Because("place."+place.By, "not tested: lowest notch, test first", keys...)
	value, ok := v.limits[side].Values[place.Measure]
	m, _ := screen.FindMeasure(place.Measure)
	if !ok {
		return notches[0], why
	}
	why = why.See(m.Name+", "+string(side), "%s", m.Show(value))
	for _, id := range place.And {
		o, _ := screen.FindMeasure(id)
		if x, ok := v.limits[side].Values[id]; ok {
			value = math.Min(value, x)
			why = why.See(o.Name+", "+string(side), "%s", o.Show(x))
		}
	}
	measured := value
	if place.By == "reference" {
		ref := h.Get(place.Reference)
		value /= ref
		why.Formula = fmt.Sprintf("%.3g / %g = %.0f %% of the reference", measured, ref, 100*value)
		if v.phase == Calm {
			why.Says = "begins low during Calm"
			return notches[0], why
		}
	}
	i := len(place.Starts) - 1
	for i > 0 && value < place.Starts[i].From {
		i--
	}
	firstOf := -1
	for ; i >= 0; i-- {
		if firstOf = indexOf(notches, place.Starts[i].Exercise); firstOf >= 0 {
			break
		}
		x, _ := rail.Exercise(place.Starts[i].Exercise)
		_, no := v.limits[side].Allowed(rail, x)
		if no == "" {
			no = "not in this phase"
		}
		why = why.See(x.Name, "%s: the easier variant", no)
	}
	if firstOf < 0 {
		why.Says = "lowest notch that may be done"
		return notches[0], why
	}
	start := place.Starts[i]
	x, _ := rail.Exercise(start.Exercise)
	n := notches[firstOf]
	dose := x.Ladder[start.Dose]
	switch {
	case start.Fixed:
		why.Says = fmt.Sprintf("%s: the fixed start on “%s”", m.Show(measured), x.Name)
	case place.By == "raises" || place.By == "hold":
		dose = v.share(&why, x, m, measured)
	case place.By == "score":
		why.Says = fmt.Sprintf("score %g of 3 starts on “%s”", value, x.Name)
	default:
		why.Says = fmt.Sprintf("%s starts on “%s”", m.Show(measured), x.Name)
	}
	dose.LoadKg, dose.Band, dose.Spm = n.Dose.LoadKg, n.Dose.Band, n.Dose.Spm
	n.Dose, n.Text = dose, dose.String()
	return n, why
}

// share starts at a share of the tested amount, kept within the exercise's own doses.
func (v view) share(why *body.Reason, x catalog.Exercise, m screen.Measure, measured float64) body.Dose {
	h := v.in.House
	share := h.Get("place.share")
	first, last := x.Ladder[0], x.Ladder[len(x.Ladder)-1]
	tenth := math.Floor(share / 100 * measured)
	lo, hi := first.Amount(), last.Amount()
	for _, d := range x.Ladder {
		lo, hi = min(lo, d.Amount()), max(hi, d.Amount())
	}
	dose := first
	if !first.Timed() {
		lo, hi = h.Int("place.reps.min"), min(hi, h.Int("place.reps.max"))
		dose.Sets = min(2, maxSets(x))
	}
	dose = dose.WithAmount(min(max(int(tenth), lo), hi))
	why.Says = fmt.Sprintf("%s start on “%s” at %g %% of what was done", m.Show(measured), x.Name, share)
	why.Formula = fmt.Sprintf("⌊%g %% × %.3g⌋ = %.0f, kept within %d–%d → %s", share, measured, tenth, lo, hi, dose)
	return dose
}

func indexOf(notches []catalog.Notch, exercise string) int {
	return slices.IndexFunc(notches, func(n catalog.Notch) bool { return n.Exercise == exercise })
}

// placeToe works range first while the passive angle is short, else control off the stack.
func (v view) placeToe(rail catalog.Rail, side body.Side, notches []catalog.Notch) (catalog.Notch, body.Reason) {
	h := v.in.House
	why := h.Because("place.toe", "range before control: the passive angle is short", "toe.passive_angle.ref", "toe.active_gap.ref")
	passive, ok := v.limits[side].Values["toe.passive_height"]
	toe, ref, gapRef := v.in.Profile.BigToeMm, h.Get("toe.passive_angle.ref"), h.Get("toe.active_gap.ref")
	angle := stats.LiftAngle(passive, toe)
	if !ok || toe == 0 || math.IsNaN(angle) {
		why.Says = "not tested: lowest notch, test first"
		if ok && toe > 0 {
			why.Says = "the toe is entered as shorter than it was lifted: lowest notch; measure its length again, then test"
		}
		return notches[0], why
	}
	why = why.See("passive angle, "+string(side), "%.1f°", angle)
	why.Formula = fmt.Sprintf("asin(%g / %g) = %.1f° against %g°", passive, toe, angle, ref)
	on := func(exercise string, dose int) (catalog.Notch, bool) {
		i := indexOf(notches, exercise)
		if i < 0 {
			return notches[0], false
		}
		return notches[min(i+dose, len(notches)-1)], true
	}
	switch {
	case angle < ref/2:
		n, _ := on("toes_wall", 0)
		return n, why
	case angle < ref:
		n, _ := on("toes_wall", 1)
		return n, why
	}
	if active, ok := v.limits[side].Values["toe.active_height"]; ok {
		if gap := angle - stats.LiftAngle(active, toe); !math.IsNaN(gap) {
			why = why.See("active gap, "+string(side), "%.1f° (at most %g°)", gap, gapRef)
		}
	}
	why.Says = "range is there: control off the stack"
	if n, ok := on("stack_lift", 0); ok {
		return n, why
	}
	why.Says = "range is there, but no plates to stack: tucked-toe rocks instead"
	n, _ := on("tucked_rocks", 0)
	return n, why
}

// weakerDecides gives both sides the weaker side's notch when that is an exercise done on two legs.
func weakerDecides(s []spot) []spot {
	if len(s) != 2 || s[0].at == s[1].at {
		return s
	}
	weak, strong := 0, 1
	if s[1].at < s[0].at {
		weak, strong = 1, 0
	}
	if !s[weak].exercise.EachSide {
		s[strong].exercise, s[strong].dose, s[strong].at = s[weak].exercise, s[weak].dose, s[weak].at
		s[strong].why = s[strong].why.See("done on two legs", "the %s side, the weaker, decides: %s, %s", s[weak].side, s[weak].exercise.Name, s[weak].dose)
	}
	return s
}

// extraSet gives the weaker side one more set when the side difference is short, the exercise is
// done on each side and it does not hurt.
func (v view) extraSet(rail catalog.Rail, s []spot) []spot {
	for i := range s {
		for _, f := range v.findings {
			if f.Limiter != "side_difference" || f.Verdict != screen.Short || f.Side != s[i].side || !s[i].exercise.EachSide || rail.Answers[f.Of] == 0 || rail.Answers[f.Of] > 2 {
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
	s.pr = catalog.Prescription{Exercise: s.exercise.ID, Dose: s.dose, From: v.in.Today, Cause: "first notch"}
	notches := v.notches(rail, s.side)
	for _, c := range v.in.Current {
		if c.Rail != rail.ID || c.Side != s.side {
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
		case !c.Parked && at > s.at && v.covers(rail, s, x, c.Dose):
			placed := s.exercise.Name + ", " + s.dose.String()
			s = s.keep(c, x, at)
			s.why = v.in.House.Because("build.kept", "kept where it stands: the newer test covers what is done already").See("in force", "%s", c.Text()).See("the test alone would start at", "%s", placed)
		case c.Parked && v.again(rail, c):
			if at <= s.at { // never above where it was
				s.exercise, s.dose, s.at = x, c.Dose, at
				s.pr.Exercise, s.pr.Dose = c.Exercise, c.Dose
			}
			s.why = s.why.See("parked until tested again", "%s: placed by the new test", c.Text())
		case c.Parked:
			if at <= s.at {
				s.pr.Exercise, s.pr.Dose = c.Exercise, c.Dose
				s.exercise = x
			}
			s.pr.Parked, s.pr.Cause, s.pr.From = true, c.Cause, c.From
			s.why = s.why.See("parked", "stays parked until it may return, never above where it was")
		}
	}
	return s
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
// tested.
func (v view) covers(rail catalog.Rail, placed spot, x catalog.Exercise, d body.Dose) bool {
	index := func(id string) int {
		return slices.IndexFunc(rail.Exercises, func(e catalog.Exercise) bool { return e.ID == id })
	}
	rows := []catalog.Start{{Exercise: "toes_wall"}, {Exercise: "stack_lift"}} // of the big toe
	if rail.Place == nil {
		return true
	}
	if len(rail.Place.Starts) > 0 {
		rows = rail.Place.Starts
	}
	for _, r := range rows {
		k := index(r.Exercise)
		if k > index(placed.exercise.ID) && index(x.ID) >= k {
			return false
		}
		// A row further up the same exercise, where rows name doses.
		byDose := rail.Place.By == "score" || rail.Place.By == "reference"
		if row := rail.Exercises[max(k, 0)].Ladder[r.Dose].Work(0, 0); byDose && k == index(placed.exercise.ID) && row > placed.dose.Work(0, 0) && (index(x.ID) > k || d.Work(0, 0) >= row) {
			return false
		}
	}
	tested, ok := v.limits[placed.side].Values[rail.Place.Measure]
	return rail.Place.By != "raises" || x.ID != placed.exercise.ID || !ok || float64(d.Amount()) <= tested
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
		if slices.Contains(v.in.Before.Notches, n) && slices.ContainsFunc(v.in.Current, func(c catalog.Prescription) bool { return c.Rail == rail.ID && c.Side == s.side }) {
			s.pinned, p.ByHand = true, true
			s.why = s.why.See("set by the coach", "%s, %s; moves since then stand", x.Name, n.Dose)
			continue
		}
		if no := v.refusal(rail, x, n.Dose, s.side); no != "" {
			s.why = s.why.See("set by the coach", "%s, %s: refused, %s", x.Name, n.Dose, no)
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
	bare.Extra, bare.LoadKg, bare.Band, bare.Spm = 0, 0, "", 0
	last := x.Ladder[len(x.Ladder)-1]
	switch {
	case d.Kind != last.Kind:
		return "it is counted another way: " + last.String()
	case d.Sets < 1 || d.Extra < 0 || d.Extra > 1 || bare.Amount() < 1:
		return "at least one set of one"
	case bare.PerDay != last.PerDay || (d.Kind == body.Repetitions && d.Seconds != last.Seconds) || d.OffS != last.OffS && d.Kind != body.Blocks:
		return "its rhythm is " + last.String()
	case d.Kind == body.RMLoad && !slices.Contains(x.Ladder, bare):
		return "a published programme keeps its own doses"
	case bare.Work(0, 0) > last.Work(0, 0) || d.Sets > maxSets(x):
		return "more than its highest dose, " + last.String()
	}
	if !slices.ContainsFunc(v.notches(rail, side), func(n catalog.Notch) bool {
		return n.Exercise == x.ID && n.Dose.LoadKg == d.LoadKg && n.Dose.Band == d.Band && n.Dose.Spm == d.Spm
	}) {
		return "not owned"
	}
	return ""
}

package build

import (
	"fmt"
	"slices"
	"strings"

	"notchback/internal/core/body"
	"notchback/internal/core/catalog"
	"notchback/internal/core/house"
	"notchback/internal/core/screen"
	"notchback/internal/core/stats"
)

// Phase is the part of the programme the runner's state permits. Phases end by criteria, not by weeks.
type Phase string

// The phases in order.
const (
	Calm   Phase = "calm"   // release, range, control and isometrics only
	Wake   Phase = "wake"   // toes, arch and balance wake up beside the first strength
	Build  Phase = "build"  // strength is built
	Load   Phase = "load"   // references met: heavy loads
	Bounce Phase = "spring" // loaded: free bounces, within their gate
	Keep   Phase = "keep"   // built: kept with one or two sessions
)

// Phases lists them in their order.
var Phases = []Phase{Calm, Wake, Build, Load, Bounce, Keep}

// Name is the phase in a word; empty for none.
func (p Phase) Name() string {
	if p == "" {
		return ""
	}
	return strings.ToUpper(string(p[:1])) + string(p[1:])
}

// InCalm reports whether the runner is in Calm: usual morning or daily pain above 3, until the
// mornings of 7 days (at least 5 reported) stay at 2 or below, or stay at 5 or below with the 7-day
// median not rising over 14 days.
func InCalm(p body.Profile, mornings []Morning, today body.Date, h house.Rules) (bool, body.Reason) {
	return LegInCalm(p, mornings, today, h, body.Both)
}

// LegInCalm is InCalm for the places of one leg.
func LegInCalm(p body.Profile, mornings []Morning, today body.Date, h house.Rules, leg body.Side) (bool, body.Reason) {
	enter, exit := h.Get("build.calm.enter"), h.Get("build.calm.exit")
	r := h.Because("build.calm", "not in Calm: usual pain is low enough to build strength", "build.calm.enter", "build.calm.exit")
	calm := false
	for _, u := range UsualMornings(p, mornings, today) {
		if !u.Side.Touches(leg) {
			continue
		}
		base := 0.0
		for _, w := range Watched(p) {
			if w.Region == u.Region && w.Side == u.Side {
				base = float64(w.Baseline)
			}
		}
		r = r.See(u.Region.Name()+", "+string(u.Side), "usual %g of 10, intake %g", u.Level, base)
		if max(u.Level, base) <= enter {
			continue
		}
		var week, before []float64
		for _, m := range mornings {
			if m.Region != u.Region || !m.Side.Touches(u.Side) {
				continue
			}
			switch age := today.Sub(m.On); {
			case age < 0:
			case age < 7:
				week = append(week, float64(m.Pain))
			case age < 14:
				before = append(before, float64(m.Pain))
			}
		}
		quiet := len(week) >= 5 && slices.Max(week) <= exit
		settled := len(week) >= 5 && len(before) >= 5 && slices.Max(week) <= 5 && slices.Max(before) <= 5 &&
			stats.Median(week) <= stats.Median(before)
		if !quiet && !settled {
			calm = true
		}
	}
	if calm {
		r.Says = "Calm: usual pain is above its limit, so range, control and isometric work only"
	}
	return calm, r
}

// wakeDone reports the exit of Wake: toe control and short foot at their score, and balance at 30 s
// under 60 years, 20 s at 60 to 69, 12 s from 70. A test that was not taken is not passed.
func (v view) wakeDone() (bool, body.Reason) {
	h := v.in.House
	r := h.Because("build.wake", "toes, arch and balance are awake", "score.ability")
	balance := 30.0
	switch age := v.in.Profile.Age(v.in.Today); {
	case age >= 70:
		balance = 12
	case age >= 60:
		balance = 20
	}
	done := true
	for _, c := range []struct {
		measure, name string
		least         float64
	}{{body.ToesBigAlone, "big toe alone", h.Get("score.ability")}, {body.FootShort, "short foot", h.Get("score.ability")},
		{body.BalanceOpen, "balance, eyes open, s", balance}} {
		for _, side := range body.Sides {
			if slices.Contains(v.limits[side].Structural, c.measure) {
				continue
			}
			x, ok := v.limits[side].Values[c.measure]
			if ok {
				r = r.See(fmt.Sprintf("%s, %s", c.name, side), "%.3g (from %g)", x, c.least)
			} else {
				r = r.See(fmt.Sprintf("%s, %s", c.name, side), "not tested")
			}
			done = done && ok && x >= c.least
		}
	}
	if !done {
		r.Says = "Wake: toe control, short foot or balance is below its mark or not tested; they come first, beside light strength"
	}
	return done, r
}

// referencesMet reports the exit of Build: both legs at the raise reference, or both at 15 and the
// weaker at 90 % of the stronger, and ankle and big toe tested and not short, or short and the same at two
// retests. "At least n" raises prove n and no ratio.
func referencesMet(fs []screen.Finding, p body.Profile, stalled map[body.Side][]string, h house.Rules) (bool, body.Reason) {
	r := h.Because("build.phase", "references met: the programme may load", "calf.raises_straight.ref", "build.sides", "build.raises.least")
	raises, exact, met := map[body.Side]float64{}, 0, true
	reference := h.Get("calf.raises_straight.ref")
	for _, f := range fs {
		if f.ID == body.CalfRaisesStraight {
			raises[f.Side], reference = f.Value, f.Reference // of their age
			if !f.AtLeast {
				exact++
			}
			r = r.See(f.Name+", "+string(f.Side), "%s", f.Shown())
		}
	}
	for _, side := range body.Sides {
		for _, c := range []struct {
			name string
			by   []string
			need bool
		}{{"ankle bend", []string{body.AnkleKneeToWall, body.AnkleLungeAngle}, true}, {"big toe", []string{body.ToePassiveAngle}, true},
			{"big toe, active", []string{body.ToeActiveGap}, false}} {
			known, waived := false, false
			for _, f := range fs {
				if !slices.Contains(c.by, f.ID) || f.Side != side {
					continue
				}
				if i := slices.IndexFunc(p.Structural, func(x body.Structural) bool { return x.Measure == f.Measure && x.Side.Touches(side) }); i >= 0 {
					waived = true
					r = r.See(f.Name+", "+string(side), "structural: %s", p.Structural[i].Word)
					continue
				}
				known = true
				switch {
				case f.Verdict != screen.Short:
				case slices.Contains(stalled[side], f.ID):
					r = r.See(f.Name+", "+string(side), "%s, short, and the same at two retests", f.Shown())
				default:
					met = false
					r = r.See(f.Name+", "+string(side), "%s, short", f.Shown())
				}
			}
			if !known && !waived && c.need {
				met = false
				r = r.See(c.name+", "+string(side), "not tested")
			}
		}
	}
	lo, hi := min(raises[body.Left], raises[body.Right]), max(raises[body.Left], raises[body.Right])
	even := exact == 2 && lo >= h.Get("build.raises.least") && lo >= h.Get("build.sides")/100*hi
	met = met && len(raises) == 2 && (lo >= reference || even)
	if !met {
		r.Says = "Build: strength and range are not at their references yet, or not tested"
	}
	return met, r
}

// loadDone reports the exit of Load: the strength target met on both sides, or the top of a calf rail
// held for its weeks.
func (v view) loadDone() (bool, body.Reason) {
	h := v.in.House
	r := h.Because("build.load", "Load: heavy work until the strength target, or its weeks at the top", "calf.rm.ref", "build.keep.weeks")
	clear := 0
	for _, f := range v.findings {
		if f.ID == body.CalfRM {
			r = r.See(f.Name+", "+string(f.Side), "%s, %s", f.Shown(), f.Verdict)
			if f.Verdict == screen.Clear {
				clear++
			}
		}
	}
	return clear == 2 || v.atTop("calf_capacity"), r
}

// atTop reports whether both sides have stood at the top of a limiter's first answer for its weeks.
func (v view) atTop(limiter string) bool {
	sides := 0
	for _, c := range v.in.Current {
		rail, _ := v.cat.Find(c.Rail)
		notches := rail.Notches(v.limits[c.Side])
		if rail.Answers[limiter] != 1 || c.Parked || len(notches) == 0 {
			continue
		}
		at, _ := catalog.At(notches, c.Exercise, c.Dose)
		if at == len(notches)-1 && v.in.Today.Sub(c.From) >= 7*v.in.House.Int("build.keep.weeks") {
			sides++
		}
	}
	return sides == 2
}

// settlePhase finds the phase from the runner's state, in order: the first whose exit is not met.
func (v *view) settlePhase() {
	calm, calmWhy := InCalm(v.in.Profile, v.in.Mornings, v.in.Today, v.in.House)
	wake, wakeWhy := v.wakeDone()
	met, metWhy := referencesMet(v.findings, v.in.Profile, v.in.Stalled, v.in.House)
	loaded, loadWhy := v.loadDone()
	free := v.in.House.Because("build.spring", "Spring: the gate of free bounces is open")
	gate := true
	rail, x, bounces := v.freeBounces()
	if bounces {
		for _, side := range body.Sides {
			if ok, no := v.limits[side].Allowed(rail, x); !ok {
				gate = false
				free.Says = "Load goes on: the gate of free bounces is not open"
				free = free.See("free bounces, "+string(side), "%s", no)
			}
		}
	}
	switch {
	case calm:
		v.phase, v.phaseWhy, v.next = Calm, calmWhy, v.in.House.Because("build.next", "Calm ends after seven quiet days", "build.calm.exit")
	case !wake:
		v.phase, v.phaseWhy, v.next = Wake, wakeWhy, saying(wakeWhy,
			"Wake ends at score 2 in toe control and short foot, and balance at its time")
	case !met:
		v.phase, v.phaseWhy, v.next = Build, metWhy, saying(metWhy, "Build ends when raises, ankle and big toe reach their references")
	case !loaded:
		v.phase, v.phaseWhy, v.next = Load, metWhy, loadWhy
	case !gate:
		v.phase, v.phaseWhy, v.next = Load, metWhy, free
	case v.atTop("spring"):
		v.phase, v.phaseWhy, v.next = Keep, v.in.House.Because("build.keep", "built: kept with one or two sessions a week", "build.keep.sessions",
			"build.keep.weeks"), body.Reason{Saw: []body.Fact{}, House: []string{}}
	default:
		v.phase, v.phaseWhy, v.next = Bounce, free, v.in.House.Because("build.next", "Spring ends after its weeks at the top", "build.keep.weeks")
	}
}

// freeBounces is the first exercise without the hands of what answers the spring first.
func (v view) freeBounces() (catalog.Rail, catalog.Exercise, bool) {
	for _, r := range v.cat.Answering("spring") {
		for _, x := range r.Exercises {
			if x.Impact == body.FreeHops && !x.Retired {
				return r, x, true
			}
		}
	}
	return catalog.Rail{}, catalog.Exercise{}, false
}

// saying is the same reason in other words.
func saying(r body.Reason, says string) body.Reason {
	r.Says = says
	return r
}

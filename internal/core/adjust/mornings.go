package adjust

import (
	"fmt"
	"slices"
	"strings"

	"notchback/internal/core/body"
)

// morning: every morning nobody has decided on is judged by the usual of its own day. At 7, or 4 over
// usual, back two; 2 over usual, back one; 1 over usual holds. It takes back what it mainly loads and what
// loads it at one-leg level, with bouncing, below level or on bent-back toes; other work that bears weight
// holds, and goes back at the second within 7 days.
func morning(f *facts) (Fired, bool) {
	high, pause := float64(f.h.Int("adjust.pain.back2")), f.h.Get("adjust.morning.pause")
	_, answeredOver, holds := f.settledBack()
	best := Fired{Verdict: Up}
	var which *mark
	var first, earlier body.Date // of two bad mornings within 7 days
	take := func(m *mark, v Verdict, steps int, was body.Date, says string) {
		if v == Back && best.Verdict != Back || v == Hold && best.Verdict == Up || steps > best.Steps {
			best.Verdict, best.Steps, best.Reason.Says = v, steps, says
			which, first = m, was
		}
	}
	for m := range f.loads(f.loud()) {
		was := earlier
		if m.bad && !f.takes(m) {
			earlier = m.On
		}
		switch {
		case !f.speaks(m):
		case !f.takes(m) && was != "" && was != m.On && m.On.Sub(was) <= 7:
			take(m, Back, 1, was, "the second bad morning on the %s leg within 7 days: back one")
		case !f.takes(m):
			take(m, Hold, 0, "", "a bad morning on the %s leg: hold")
		case holds && m.over() <= answeredOver && float64(m.Pain) <= high && m.bad:
			take(m, Hold, 0, "", "the rail went back for as bad a morning already: hold until a session at the lowered dose")
		case float64(m.Pain) >= high || m.over() >= pause:
			take(m, Back, 2, "", "a very bad morning: back two")
		case m.bad:
			take(m, Back, 1, "", "the morning was well above usual: back one")
		default:
			take(m, Hold, 0, "", "the morning was above usual: hold")
		}
	}
	if which == nil {
		return Fired{}, false
	}
	says := strings.Replace(best.Reason.Says, "%s", string(which.leg), 1)
	r := f.seeMark(f.h.Because("", says, "adjust.morning.back"), which)
	r.Formula = fmt.Sprintf("%d − %g = %g over usual; back from %g", which.Pain, which.usual, which.over(), f.h.Get("adjust.morning.back"))
	if first != "" {
		r = r.SeeOn(first, "the first", "bad")
	}
	if best.Steps == 2 {
		return f.twice(r), true
	}
	best.Reason = r
	return best, true
}

// speaks reports whether an undecided morning above usual says anything of the exercise.
func (f *facts) speaks(m *mark) bool {
	return f.open(m) && (m.bad || m.over() >= 1 && f.takes(m))
}

// morningsRising: reports running at one place, at most two days apart. Three at or above usual, usual + 1
// and usual + 2 (at least 3) go back two; four at or above usual + 1 with the last at least 3 go back one.
// It fires while one of the reports it uses is undecided.
func morningsRising(f *facts) (Fired, bool) {
	best, fired := Fired{}, false
	for _, ms := range f.in.shared.running {
		if !f.loaded[ms[0].at] || !f.takes(ms[0]) || !slices.Contains(f.legs, ms[0].leg) {
			continue
		}
		above := func(i int, by float64) bool { return ms[i].over() >= by }
		for i := 2; i < len(ms); i++ {
			if above(i-2, 0) && above(i-1, 1) && above(i, 2) && ms[i].Pain >= 3 && f.oneRun(ms[i-2:i+1]) {
				return f.twice(f.seeMarks(f.h.Because("", "three mornings running, each further above usual: back two"), ms[i-2:i+1])), true
			}
			if i > 2 && above(i-3, 1) && above(i-2, 1) && above(i-1, 1) && above(i, 1) && ms[i].Pain >= 3 && f.oneRun(ms[i-3:i+1]) {
				best, fired = Fired{Verdict: Back, Steps: 1, Reason: f.seeMarks(f.h.Because("", "four mornings running above usual: back one"),
					ms[i-3:i+1])}, true
			}
		}
	}
	return best, fired
}

// oneRun reports marks at most two days apart of which one at least is undecided.
func (f *facts) oneRun(ms []*mark) bool {
	for k := 1; k < len(ms); k++ {
		if ms[k].On.Sub(ms[k-1].On) > 2 {
			return false
		}
	}
	return slices.ContainsFunc(ms, f.open)
}

func (f *facts) seeMarks(r body.Reason, ms []*mark) body.Reason {
	for _, m := range ms {
		r = f.seeMark(r, m)
	}
	return r
}

func neverUp(f *facts) (Fired, bool) {
	limit := f.h.Get("adjust.morning.never_up")
	if f.latest() <= limit {
		return Fired{}, false
	}
	r := f.h.Because("", "never up while the morning is this high", "adjust.morning.never_up")
	return Fired{Verdict: Hold, Reason: r.See("latest morning", "%g of 10 (limit %g)", f.latest(), limit)}, true
}

// brake: while a watched place of a leg stands 2 or more above usual, or a rail of it went back for pain or
// mornings within 7 days, nothing to body mass and above that trains or bears on that leg moves up.
func brake(f *facts) (Fired, bool) {
	next, _ := f.rail.Exercise(f.next.Exercise)
	if max(f.exercise.Level, next.Level) < 2 {
		return Fired{}, false
	}
	for _, leg := range f.legs {
		if m, ok := f.in.shared.above[leg]; ok {
			r := f.h.Because("", "a place of the "+string(leg)+" leg is well above usual: nothing of it moves up", "adjust.brake.days").SeeOn(m.On,
				m.Region.Name()+", "+string(leg), "%d of 10", m.Pain)
			return Fired{Verdict: Hold, Reason: r}, true
		}
		for _, moves := range [][]Move{f.in.Others, f.in.Moves} {
			for _, m := range moves {
				if m.Verdict == Back && f.in.Today.Sub(m.On) < f.h.Int("adjust.brake.days") && m.Side.Touches(leg) &&
					slices.Contains(forSymptoms, m.Rule) {
					r := f.h.Because("", "a rail of the "+string(leg)+" leg went back for pain or mornings within 7 days: nothing of it moves up",
						"adjust.brake.days").SeeOn(m.On, m.Rail+", "+string(m.Side), "went back")
					return Fired{Verdict: Hold, Reason: r}, true
				}
			}
		}
	}
	return Fired{}, false
}

// forSymptoms are the rules that go back for what the runner felt.
var forSymptoms = []string{"adjust.pain", "adjust.morning", "adjust.mornings-rising"}

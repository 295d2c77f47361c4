package adjust

import (
	"fmt"
	"slices"

	"notchback/internal/core/body"
	"notchback/internal/core/build"
)

// morning: every morning nobody has decided on is judged by the usual of its own day. At 7, or 4 over
// usual, back two; 2 over usual, back one; 1 over usual holds. It takes back what it mainly loads and what
// loads it at one-leg level, with bouncing, below level or on bent-back toes; other work that bears weight
// holds, and goes back at the second within 7 days.
func morning(f facts) (Fired, bool) {
	back, high, pause := f.h.Get("adjust.morning.back"), float64(f.h.Int("adjust.pain.back2")), f.h.Get("adjust.morning.pause")
	_, answeredOver, holds := f.settledBack()
	best, fired := Fired{}, false
	take := func(x Fired) {
		if !fired || protective[x.Verdict] > protective[best.Verdict] || x.Verdict == best.Verdict && x.Steps > best.Steps {
			best, fired = x, true
		}
	}
	var earlier body.Date
	for _, m := range f.marks {
		bad := m.over() >= back || float64(m.Pain) >= high
		was := earlier
		if bad && !f.takes(m.Region) {
			earlier = m.On
		}
		if !f.open(m) || !bad && m.over() < 1 {
			continue
		}
		// What could not be more protective than what was found already needs no words.
		if worst := fired && best.Verdict == Back && best.Steps == 2; worst || fired && !bad && best.Verdict != Up {
			continue
		}
		r := f.seeMark(f.h.Because("", "", "adjust.morning.back"), m)
		r.Formula = fmt.Sprintf("%d − %g = %g over usual; back from %g", m.Pain, m.usual, m.over(), back)
		switch {
		case !f.takes(m.Region):
			if bad {
				r.Says = "a bad morning on the " + string(m.leg) + " leg: hold"
				if was != "" && was != m.On && m.On.Sub(was) <= 7 {
					r.Says = "the second bad morning on the " + string(m.leg) + " leg within 7 days: back one"
					take(Fired{Verdict: Back, Steps: 1, Reason: r.SeeOn(was, "the first", "bad")})
					continue
				}
				take(Fired{Verdict: Hold, Reason: r})
			}
		case holds && m.over() <= answeredOver && float64(m.Pain) <= high && bad:
			r.Says = "the rail went back for as bad a morning already: hold until a session at the lowered dose"
			take(Fired{Verdict: Hold, Reason: r})
		case float64(m.Pain) >= high || m.over() >= pause:
			r.Says = "a very bad morning: back two"
			take(f.twice(r))
		case m.over() >= back:
			r.Says = "the morning was well above usual: back one"
			take(Fired{Verdict: Back, Steps: 1, Reason: r})
		case m.over() >= 1:
			r.Says = "the morning was above usual: hold"
			take(Fired{Verdict: Hold, Reason: r})
		}
	}
	return best, fired
}

// morningsRising: reports running at one place, at most two days apart. Three at or above usual, usual + 1
// and usual + 2 (at least 3) go back two; four at or above usual + 1 with the last at least 3 go back one.
// It fires while one of the reports it uses is undecided.
func morningsRising(f facts) (Fired, bool) {
	by := map[string][]mark{}
	var keys []string
	for _, m := range f.marks {
		if !f.takes(m.Region) || f.in.Today.Sub(m.On) > f.h.Int("adjust.again.days") {
			continue
		}
		key := string(m.Region) + string(m.leg)
		if by[key] == nil {
			keys = append(keys, key)
		}
		if n := len(by[key]); n > 0 && by[key][n-1].On == m.On { // two reports of a day: the worse
			if m.Pain > by[key][n-1].Pain {
				by[key][n-1] = m
			}
			continue
		}
		by[key] = append(by[key], m)
	}
	best, fired := Fired{}, false
	for _, key := range keys {
		ms := by[key]
		for i := range ms {
			run := func(n int) ([]mark, bool) {
				if i+1 < n {
					return nil, false
				}
				part := ms[i+1-n : i+1]
				open := f.open(part[0])
				for k := 1; k < n; k++ {
					open = open || f.open(part[k])
					if part[k].On.Sub(part[k-1].On) > 2 {
						return nil, false
					}
				}
				return part, open
			}
			if p, ok := run(3); ok && p[0].over() >= 0 && p[1].over() >= 1 && float64(p[2].Pain) >= max(3, p[2].usual+2) {
				return f.twice(f.seeMarks(f.h.Because("", "three mornings running, each further above usual: back two"), p)), true
			}
			if p, ok := run(4); ok && p[0].over() >= 1 && p[1].over() >= 1 && p[2].over() >= 1 && p[3].over() >= 1 && p[3].Pain >= 3 {
				best, fired = Fired{Verdict: Back, Steps: 1, Reason: f.seeMarks(f.h.Because("", "four mornings running above usual: back one"), p)}, true
			}
		}
	}
	return best, fired
}

func (f facts) seeMarks(r body.Reason, ms []mark) body.Reason {
	for _, m := range ms {
		r = f.seeMark(r, m)
	}
	return r
}

func neverUp(f facts) (Fired, bool) {
	limit := f.h.Get("adjust.morning.never_up")
	r := f.h.Because("", "never up while the morning is this high", "adjust.morning.never_up")
	return Fired{Verdict: Hold, Reason: r.See("latest morning", "%g of 10 (limit %g)", f.latest(), limit)}, f.latest() > limit
}

// brake: while a watched place of a leg stands 2 or more above usual, or a rail of it went back for pain or
// mornings within 7 days, nothing to body mass and above that trains or bears on that leg moves up.
func brake(f facts) (Fired, bool) {
	next, _ := f.rail.Exercise(f.up(f.in.Current).Exercise)
	if max(f.exercise.Level, next.Level) < 2 {
		return Fired{}, false
	}
	usual := f.in.usual()
	days := f.h.Int("adjust.brake.days")
	for _, leg := range f.legs {
		newest := map[body.Region]build.Morning{}
		for _, m := range f.in.Mornings {
			if m.Quiet || m.On > f.in.Today || !m.Side.Touches(leg) {
				continue
			}
			if o, ok := newest[m.Region]; !ok || m.On > o.On || m.On == o.On && m.Pain > o.Pain {
				newest[m.Region] = m
			}
		}
		for _, n := range body.RegionNames {
			o, ok := newest[n.ID]
			if ok && f.in.Today.Sub(o.On) <= days && float64(o.Pain)-usual.At(n.ID, leg, o.On) >= f.h.Get("adjust.morning.back") {
				r := f.h.Because("", "a place of the "+string(leg)+" leg is well above usual: nothing of it moves up", "adjust.brake.days").SeeOn(o.On, n.Name+", "+string(leg), "%d of 10", o.Pain)
				return Fired{Verdict: Hold, Reason: r}, true
			}
		}
		for _, m := range slices.Concat(f.in.Others, f.in.Moves) {
			if m.Verdict == Back && f.in.Today.Sub(m.On) < days && m.Side.Touches(leg) && slices.Contains([]string{"adjust.pain", "adjust.morning", "adjust.mornings-rising"}, m.Rule) {
				r := f.h.Because("", "a rail of the "+string(leg)+" leg went back for pain or mornings within 7 days: nothing of it moves up", "adjust.brake.days").SeeOn(m.On, m.Rail+", "+string(m.Side), "went back")
				return Fired{Verdict: Hold, Reason: r}, true
			}
		}
	}
	return Fired{}, false
}

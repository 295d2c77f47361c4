package adjust

import (
	"slices"
	"strings"

	"notchback/internal/core/body"
	"notchback/internal/core/permit"
	"notchback/internal/core/refer"
)

// warningSign: a sign, or what its clearance left closed, parks what it locks on this leg.
func warningSign(f *facts) (Fired, bool) {
	for _, r := range f.may.Reasons {
		if r.Sort == permit.Safety && (strings.HasPrefix(r.Cut, "stop.") || strings.HasPrefix(r.Cut, "cleared.")) {
			return Fired{Verdict: Park, Reason: reason(r)}, true
		}
	}
	return Fired{}, false
}

// closed lists the stops of these legs that were still open while the row in force stood, and were closed
// since. A dose set on the day of the clearance stood through it when it was set before; a parked row of that
// day always did.
func (f *facts) closed() []refer.Stop {
	var out []refer.Stop
	for _, s := range f.limits.Facts.Stops {
		sign, _ := refer.FindSign(s.Sign)
		c, on := s.Closed()
		if c == nil || sign.Class == refer.Small || sign.Class == refer.Pattern || s.Opens() == nil && c.Kind == "clinician" {
			continue
		}
		now := f.in.Current
		through := on > now.From || on == now.From && (now.Parked || c.At.After(now.Set))
		if through && slices.ContainsFunc(f.legs, s.Touches) {
			out = append(out, s)
		}
	}
	return out
}

// mistaken reports a rail that was parked for nothing but a sign entered by mistake, and nothing since hurt.
func (f *facts) mistaken() bool {
	closed := f.closed()
	if len(closed) == 0 {
		return false
	}
	for _, m := range slices.Backward(f.in.Moves) {
		if m.Verdict == Park && (m.Side == "" || m.Side.Touches(f.side)) {
			if m.Rule != "adjust.warning-sign" {
				return false
			}
			break
		}
	}
	for _, s := range closed {
		if !s.Mistake() {
			return false
		}
		for m := range f.loads(f.in.shared.marksSince(s.On)) {
			if m.Pain > 2 {
				return false
			}
		}
	}
	return true
}

// grave is a stop after which nothing returns by notches: 14 days and longer, bone, a pop or tear.
func (f *facts) grave() (refer.Stop, bool) {
	for _, s := range f.closed() {
		_, on := s.Closed()
		if !s.Mistake() && (s.Grave() || on.Sub(s.On) >= f.h.Int("adjust.stop.retest")) {
			return s, true
		}
	}
	return refer.Stop{}, false
}

// cleared: a dose that stood through a stop does not simply go on once it is cleared, not even when the
// park was never accepted: two notches lower, or a new test and a new start.
func cleared(f *facts) (Fired, bool) {
	for _, s := range f.closed() {
		if s.Mistake() {
			continue
		}
		sign, _ := refer.FindSign(s.Sign)
		_, on := s.Closed()
		r := f.h.Because("", "back from a warning sign: two notches lower", "adjust.stop.retest").SeeOn(s.On, sign.Question, "yes").SeeOn(on,
			"cleared", "after %s", days(on.Sub(s.On)))
		if _, ok := f.grave(); ok {
			r.Says = "back from a warning sign of 14 days and longer, of bone or of a tear: test again and place again"
			return Fired{Verdict: Park, Reason: r}, true
		}
		return Fired{Verdict: Back, Steps: 2, Reason: r}, true
	}
	return Fired{}, false
}

// stays says what a parked rail waits for.
func (f *facts) stays() body.Reason {
	r := f.h.Because("adjust.parked", "stays parked until seven quiet days, five mornings reported")
	if f.in.Current.WaitsForTest() {
		r.Says = "stays parked until it is tested again, or the coach places it"
	}
	if s, ok := f.grave(); ok {
		_, on := s.Closed()
		r.Says = "stays parked until it is tested again: the warning sign was of bone, of a tear, or lasted 14 days"
		r = r.SeeOn(on, "cleared", "after %s", days(on.Sub(s.On)))
	}
	return r
}

// returns: seven quiet days, five mornings that answered every watched place, each at usual, and nothing
// in the way bring a parked rail back two notches lower. A sign entered by mistake brings the dose back as
// it stood. What was parked for missing, or by a grave stop, comes back by a new test alone.
func returns(f *facts) (Fired, bool) {
	if !f.in.Current.Parked || f.in.Current.WaitsForTest() {
		return Fired{}, false
	}
	if _, ok := f.grave(); ok {
		return Fired{}, false
	}
	if f.mistaken() {
		return Fired{Verdict: Return, Reason: f.h.Because("", "the sign was entered by mistake: back as it stood")},
			!f.returned(f.in.Current).Parked
	}
	if f.in.Today.Sub(f.in.Current.From) < f.h.Int("adjust.return.days") {
		return Fired{}, false
	}
	r := f.h.Because("", "seven quiet days: return two notches lower", "adjust.return.days")
	reported := 0
	for i := range f.h.Int("adjust.return.days") {
		if f.answered(f.in.Today.Add(-i)) {
			reported++
		}
	}
	for m := range f.loads(f.in.shared.marksSince(f.in.Today.Add(1 - f.h.Int("adjust.return.days")))) {
		if m.over() > 0 {
			return Fired{}, false
		}
		r = f.seeMark(r, m)
	}
	return Fired{Verdict: Return, Reason: r}, reported >= f.h.Int("adjust.return.mornings") && !f.returned(f.in.Current).Parked
}

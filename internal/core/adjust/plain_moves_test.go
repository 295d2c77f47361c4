package adjust

import (
	"slices"

	"notchback/internal/core/body"
	"notchback/internal/core/catalog"
	"notchback/internal/core/refer"
)

func (p plain) missed(say func(string, Verdict, int)) {
	last := p.in.Begun
	if last == "" || p.in.Current.Cause == catalog.CausePlaced {
		last = p.in.Current.From
	}
	for _, l := range p.logs() {
		last = max(last, l.On)
	}
	var mine []Move // of this leg
	for _, m := range p.in.Moves {
		if m.Side == "" || m.Side == body.Both || p.side == body.Both || m.Side == p.side {
			mine = append(mine, m)
		}
	}
	for _, m := range mine { // a return begins the days anew, and what was taken back for them
		if m.Verdict == Return && m.On > last {
			last = m.On
		}
	}
	taken := 0
	for _, m := range mine {
		if m.On > last && m.Verdict == Back && m.Rule == "adjust.missed" {
			taken += m.Steps
		}
	}
	n := p.ago(last)
	steps := max(1, n/7-1) - taken
	switch {
	case n >= 28:
		say("missed", Park, 0)
	case n >= 14 && steps > 0:
		say("missed", Back, steps)
	case n >= 7:
		say("missed", Hold, 0)
	}
}

// through are the signs that were open while the row in force stood and were closed since.
func (p plain) through() []refer.Stop {
	var out []refer.Stop
	for _, s := range p.in.Limits.Facts.Stops {
		sign, _ := refer.FindSign(s.Sign)
		c, on := s.Closed()
		if c == nil || sign.Class == refer.Small || sign.Class == refer.Pattern || c.Kind == "clinician" && s.Opens() == nil {
			continue
		}
		stood := on > p.in.Current.From || on == p.in.Current.From && (p.in.Current.Parked || c.At.After(p.in.Current.Set))
		if stood && slices.ContainsFunc(p.legs, s.Touches) {
			out = append(out, s)
		}
	}
	return out
}

func (p plain) cleared() (grave, short bool) {
	for _, s := range p.through() {
		if _, on := s.Closed(); !s.Mistake() {
			short = true
			grave = grave || s.Grave() || on.Sub(s.On) >= 14
		}
	}
	return grave, short
}

func (p plain) mistaken() bool {
	stops := p.through()
	for i := len(p.in.Moves) - 1; i >= 0; i-- {
		if m := p.in.Moves[i]; m.Verdict == Park && (m.Side == "" || m.Side == body.Both || p.side == body.Both || m.Side == p.side) {
			if m.Rule != "adjust.warning-sign" {
				return false
			}
			break
		}
	}
	for _, s := range stops {
		for _, m := range p.mine {
			if m.on >= s.On && m.pain > 2 {
				return false
			}
		}
		if !s.Mistake() {
			return false
		}
	}
	return len(stops) > 0
}

// returns: seven quiet days with five whole mornings, and something of the rail that may be done again.
func (p plain) returns() bool {
	grave, _ := p.cleared()
	lower := gather(&p.in).returned(p.in.Current)
	if p.in.Current.WaitsForTest() || grave || lower.Parked {
		return false
	}
	if p.mistaken() {
		return true
	}
	whole := 0
	for i := range 7 {
		if p.answered(p.in.Today.Add(-i)) {
			whole++
		}
	}
	for _, m := range p.mine {
		if p.ago(m.on) < 7 && m.over > 0 {
			return false
		}
	}
	return p.ago(p.in.Current.From) >= 7 && whole >= 5
}

// earns is what two sessions have earned when no rule speaks against it.
func (p plain) earns() Verdict {
	days := p.trained
	if len(days) < 2 {
		return Hold
	}
	settled, waits := p.settled(), false
	quiet := p.go_()
	if p.x.Class == catalog.Releasing {
		quiet = 4
		if p.in.Profile.Approaches["pressure"] == "bearable" {
			quiet = 7
		}
	}
	// Today's session, whole, clean and quiet, cannot have its morning yet: the two before it speak.
	if d := days[0]; len(days) > 2 && d.on == p.in.Today && (!d.noEffort || p.fatigue()) && !d.noPain && !d.waits && p.complete(d) &&
		!d.cramp && !d.faults && (d.pain <= quiet || settled) && (d.rpe <= 8 || p.fatigue()) && !(d.effort && d.share < 100) {
		days = days[1:]
	}
	for _, d := range days[:2] {
		over, any, answered := p.after(d.on)
		if d.effort && d.share < 100 || !p.complete(d) || d.cramp || d.faults || !p.fatigue() && d.rpe > 8 || d.pain > quiet && !settled ||
			any && over > 0 {
			return Hold
		}
		waits = waits || d.noPain || d.noEffort && !p.fatigue() || d.waits || !answered
	}
	if waits {
		return Pending
	}
	stands := p.in.House.Int("adjust.days." + string(p.x.Class))
	if p.in.Current.Cause == CauseCramp {
		stands = 7
	} else if len(p.x.StageDays) > 0 {
		for i, d := range p.x.Ladder {
			if d.Sets == p.in.Current.Dose.Sets && d.Reps == p.in.Current.Dose.Reps {
				stands = p.x.StageDays[i]
				break
			}
		}
	}
	if p.ago(p.in.Current.From) < stands {
		return Hold
	}
	return Up
}

// news: something was said that nobody has decided on, or a verdict protects or wants the coach; clean: nothing of it
// hurts more than what goes back, and none is a correction of the runner's own.
func (p plain) news(got Proposal) (news, clean bool) {
	clean = true
	for _, l := range p.undecided() {
		news = true
		if l.Pain > p.back() || len(l.Was) > 0 && l.Source != "coach" {
			clean = false
		}
	}
	for _, m := range p.mine {
		bad := m.over >= 2 || m.pain >= 7
		if p.open(m) && (bad || m.over >= 1 && p.takes(m.region)) {
			news, clean = true, clean && m.pain <= p.back()
		}
	}
	switch got.Verdict {
	case Return:
		news = true
	case Back, Park:
		news = news || !p.in.Current.Parked
	case Up:
		for _, d := range p.trained[:2] {
			news = news || d.untold
		}
	}
	return news, clean
}

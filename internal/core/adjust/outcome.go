package adjust

import (
	"slices"

	"notchback/internal/core/catalog"
)

// newest is the number of the newest report there is of the runner.
func (f *facts) newest() int64 {
	n := f.in.shared.newest
	for i := range f.in.Logs {
		n = max(n, f.in.Logs[i].Seq)
	}
	return n
}

// apply turns a verdict into the next prescription.
func (f *facts) apply(x Fired) catalog.Prescription {
	to := f.in.Current
	to.ID = ""
	switch {
	case x.Dose != nil:
		to.Dose, to.Cause = *x.Dose, CauseCramp
		to.Dose.Extra = 0
	case x.Verdict == Up:
		to = f.next
		to.ID = ""
	case x.Verdict == Back:
		// What hurt goes back in full, to the park if need be; what was missed or cleared as far as there are doses.
		hurt := slices.Contains(forSymptoms, x.Reason.Rule)
		for i := range x.Steps {
			if hurt || i == 0 {
				to = f.back(to)
			} else if !to.Parked {
				to = f.easier(to)
			}
		}
	case x.Verdict == Return:
		to = f.returned(to)
	case x.Verdict == Park:
		to.Parked = true
		switch to.Cause = CauseParked; x.Reason.Rule {
		case "adjust.missed":
			to.Cause = CauseMissed
		case "adjust.cleared": // parks after a grave sign alone
			to.Cause = CauseRetest
		}
	}
	if to.Dose != f.in.Current.Dose || to.Exercise != f.in.Current.Exercise || to.Parked != f.in.Current.Parked {
		to.From = f.in.Today
	} else {
		to = f.in.Current
	}
	return to
}

// returned is two notches lower, as far as there are any; where that may not be done, it stays parked.
func (f *facts) returned(p catalog.Prescription) catalog.Prescription {
	to := p
	to.Parked = false
	if !f.mistaken() {
		for range 2 {
			to = f.easier(to)
		}
	}
	x, _ := f.rail.Exercise(to.Exercise)
	if !f.limits.May(*f.rail, x).May() {
		return p
	}
	to.Cause = CauseReturn
	return to
}

// news reports that something was said that nobody has decided on: a session, or a morning above usual.
func (f *facts) news() bool {
	for m := range f.loads(f.loud()) {
		if f.speaks(m) {
			return true
		}
	}
	return len(f.unseen) > 0
}

// mild reports that no undecided report is above the pain that goes back, and none is a correction that waits
// for the coach.
func (f *facts) mild() bool {
	for _, l := range f.unseen {
		if l.Pain > f.back_ || len(l.Was) > 0 && l.Source != "coach" {
			return false
		}
	}
	for m := range f.loads(f.loud()) {
		if f.speaks(m) && m.Pain > f.back_ {
			return false
		}
	}
	return true
}

// beyond says why the next exercise of the rail is out of reach; empty at its real top.
func (f *facts) beyond() string {
	at := f.rail.At(f.in.Current.Exercise)
	for _, x := range f.rail.Exercises[at+1:] {
		if ok, no := f.limits.Allowed(*f.rail, x); !ok && !x.Retired {
			return x.Name + ": " + no
		}
	}
	return ""
}

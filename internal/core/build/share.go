package build

import (
	"fmt"
	"math"

	"notchback/internal/core/body"
	"notchback/internal/core/catalog"
	"notchback/internal/core/house"
	"notchback/internal/core/screen"
)

// Floor is the least amount of a set that is worth doing, in the unit of its kind.
func Floor(h house.Rules, d body.Dose) int {
	switch d.Kind {
	case body.Repetitions, body.RMLoad:
		return h.Int("dose.floor.reps")
	case body.Paces, body.Contacts:
		return h.Int("dose.floor.contacts")
	}
	return h.Int("dose.floor.seconds")
}

// share is the first dose a test allows: per set at most a share of what was tested, in the same unit and
// load, converted by time, rounded down once, at the end. An exercise that asks less of the leg than the
// test did (both legs at once, seated) keeps its own first dose, never beyond what was done. It reports
// false when that is too little to be worth doing, or the weight is more than the test carries.
func (v view) share(why *body.Reason, x catalog.Exercise, m screen.Measure, tested float64, side body.Side, kg float64) (body.Dose, bool) {
	h, test := v.in.House, m.Demand()
	dose := x.Ladder[0]
	most := dose.Amount()
	for _, d := range x.Ladder {
		most = max(most, d.Amount())
	}
	said := func(n int, format string, args ...any) (body.Dose, bool) {
		least := Floor(h, dose)
		if n < least {
			*why = why.See(x.Name, "%s is under %d %s: the easier variant", fmt.Sprintf(format, args...), least, dose.Unit())
			return dose, false
		}
		why.Says = fmt.Sprintf("%s start on “%s”", m.Show(tested), x.Name)
		why.Formula = fmt.Sprintf(format, args...) + fmt.Sprintf(", at most %d → %s", most, dose.WithAmount(min(n, most)))
		return dose.WithAmount(min(n, most)), true
	}
	counted := dose.Kind == body.Repetitions && m.Kind == screen.Count || dose.Timed() && m.Kind == screen.Hold
	if !counted {
		n := min(Floor(h, dose), dose.Amount())
		return said(n, "not counted in %s: %d", dose.Unit(), n)
	}
	if x.Both() && test.Trains == body.OneSide {
		if o, ok := v.limits[side].Other[m.ID]; ok {
			tested = math.Min(tested, o)
		}
	}
	if x.Level < test.Level || x.Both() && test.Trains == body.OneSide {
		n := min(float64(dose.Amount()), math.Max(tested, least(h, dose)))
		return said(int(n), "asks less than the test: its first dose, at most the %g done: %d", tested, int(n))
	}
	convert, per := 1.0, x.RepS+float64(dose.Seconds)
	if m.Beat > 0 {
		convert = math.Min(1, m.Beat/per)
	}
	if kg > 0 && x.Share > 0 {
		mass := x.Share * v.in.Profile.MassKg
		if most := h.Get("dose.load.step"); kg > most/100*mass {
			*why = why.See(x.Name, "%s is more than %g %% of the load tested: the easier variant", body.In("kg", "%g", kg), most)
			return dose, false
		}
		convert *= mass / (mass + kg)
	}
	share := h.Get("place.share")
	n := math.Floor(share/100*tested*convert + 1e-9)
	return said(int(n), "⌊%g %% × %.4g × %.3g⌋ = %.0f", share, tested, convert, n)
}

// least is how many repetitions of lighter work a test under them still allows.
func least(h house.Rules, d body.Dose) float64 {
	if d.Timed() {
		return 0
	}
	return h.Get("place.reps.min")
}

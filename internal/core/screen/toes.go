package screen

import (
	"fmt"
	"math"

	"notchback/internal/core/body"
	"notchback/internal/core/stats"
)

// passiveAngle is the big toe's angle from how high it is lifted.
func (x taken) passiveAngle(f Finding, m Measure, rd Reading) (Finding, bool) {
	f.ID, f.Name, f.Unit, f.Value = body.ToePassiveAngle, "Big toe, passive angle", "°", stats.LiftAngle(rd.Value, x.p.BigToeMm)
	if math.IsNaN(f.Value) {
		return f, false
	}
	if own, ok := Read(x.trials, body.ToeActiveHeight, rd.Side); ok {
		f.Own = math.Max(0, stats.LiftAngle(own.Value, x.p.BigToeMm))
	}
	return x.against(f, m, fmt.Sprintf("asin(%g mm / %g mm) = %.1f°", rd.Value, x.p.BigToeMm, f.Value), "toe.passive_angle.ref",
		"toe.angle.sem"), true
}

// activeGap is passive minus active angle: range without control.
func (x taken) activeGap(m Measure, a Reading) (Finding, bool) {
	p, ok := Read(x.trials, body.ToePassiveHeight, a.Side)
	pa, aa := stats.LiftAngle(p.Value, x.p.BigToeMm), stats.LiftAngle(a.Value, x.p.BigToeMm)
	if !ok || math.IsNaN(pa) || math.IsNaN(aa) {
		return Finding{}, false
	}
	f := x.start(m, a)
	f.ID, f.Name, f.Unit, f.Better, f.Value = body.ToeActiveGap, "Big toe, active gap", "°", "lower", pa-aa
	f.Reference, f.Band = x.h.Get("toe.active_gap.ref"), math.Sqrt2*x.h.Get("toe.angle.sem")
	f.Half, f.MDC = 1.96*f.Band, stats.MDC(f.Band)
	return judged(f, x.h, fmt.Sprintf("passive asin(%g/%g) = %.1f° − active asin(%g/%g) = %.1f° is %.1f°", p.Value, x.p.BigToeMm, pa, a.Value,
		x.p.BigToeMm, aa, f.Value),
		"toe.active_gap.ref", "toe.angle.sem"), true
}

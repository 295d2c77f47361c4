package adjust

import (
	"cmp"
	"fmt"
	"strings"

	"notchback/internal/core/body"
	"notchback/internal/core/catalog"
	"notchback/internal/core/house"
	"notchback/internal/core/permit"
)

// Climbs is docs/climbs.md: every dose of every rail in the order a quiet runner climbs them, with where one and
// two notches back lead. The rows are made by the rules themselves, for a runner of 70 kg who owns what is needed
// and passed every test.
func Climbs(h house.Rules) string {
	var b strings.Builder
	b.WriteString("# Climbs\n\nEvery dose of every rail, in the order in which it is climbed, and where one and two notches back lead. Made from the rules for a runner of 70 kg with dumbbells of 4, 6, 8, 10 and 12 kg, bands and all other kit, every test passed, and nothing logged before: with earlier clean sessions a step back to an easier exercise goes to the last dose done cleanly there. Doses below the first row of an exercise are made where a test asks for less; they climb by half again.\n")
	for _, rail := range catalog.Shipped.Rails {
		fmt.Fprintf(&b, "\n## %s\n\n| exercise | dose | back one | back two |\n|---|---|---|---|\n", rail.Name)
		in := climber(rail, h)
		exercise := ""
		for range 200 {
			f := gather(&in)
			name := ""
			if in.Current.Exercise != exercise {
				name, exercise = in.Current.Name, in.Current.Exercise
			}
			two := f.apply(Fired{Verdict: Back, Steps: 2, Reason: h.Because("adjust.pain", "")})
			fmt.Fprintf(&b, "| %s | %s | %s | %s |\n", name, in.Current.Dose, f.from(f.apply(Fired{Verdict: Back, Steps: 1})), f.from(two))
			if f.next == in.Current {
				break
			}
			in.Current = f.next
		}
	}
	return b.String()
}

// climber stands on the first dose of a rail.
func climber(rail catalog.Rail, h house.Rules) Input {
	p := body.NewProfile()
	p.BirthDate, p.MassKg = "1990-01-01", 70
	p.Equipment = body.Equipment{DumbbellsKg: []float64{4, 6, 8, 10, 12}, StepCm: 18, PlatesMm: []float64{10}, Bands: catalog.Tensions, Strap: true, Roll: true, SoftBall: true, FirmBall: true, RollersCm: []float64{6, 12}}
	day := body.Date("2026-01-15")
	p.Touch = body.Touch{Left: true, Right: true, On: day}
	side := rail.Sides()[0]
	passed := map[string]float64{"toes.shape": 0, "ankle.end_feel": 0, "squat.arch": 0, "foot.short": 3, "calf.raises_straight": 25, "balance.open": 45}
	f := permit.Facts{Today: day, House: h, Profile: p, Tests: map[body.Side]map[string]float64{body.Left: passed, body.Right: passed, body.Both: {}}}
	l := catalog.LimitsOf(p, f, side, h)
	l.Values, l.Other, l.Spm = passed, passed, []int{170, 175}
	x := rail.Exercises[0]
	first := l.Doses(x)[0]
	return Input{Rail: rail, Profile: p, House: h, Today: day, Limits: l, Current: catalog.Prescription{Rail: rail.ID, Side: side, Exercise: x.ID, Name: x.Name, Dose: first, From: day}}
}

// from writes where a step back leads: the dose, with the exercise where it is another.
func (f *facts) from(to catalog.Prescription) string {
	switch {
	case to.Parked:
		return "parked"
	case to.Exercise != f.in.Current.Exercise:
		return cmp.Or(to.Name, to.Exercise) + ", " + to.Dose.String()
	}
	return to.Dose.String()
}

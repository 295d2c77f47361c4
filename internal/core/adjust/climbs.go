package adjust

import (
	"cmp"
	"fmt"
	"strings"

	"notchback/internal/core/body"
	"notchback/internal/core/build"
	"notchback/internal/core/catalog"
	"notchback/internal/core/house"
	"notchback/internal/core/permit"
)

// Climbs is docs/climbs.md: every dose of every rail in the order a quiet runner climbs them, with where one and
// two notches back lead. The rows are made by the rules themselves, for a runner of 70 kg who owns what is needed
// and passed every test.
func Climbs(h house.Rules) string {
	var b strings.Builder
	b.WriteString("# Climbs\n\nEvery dose of every rail, in the order in which it is climbed, and where one and two notches back lead. Made " +
		"from the rules for a runner of 70 kg with dumbbells of 4, 6, 8, 10 and 12 kg, bands and all other kit, every test passed, and nothing " +
		"logged before: with earlier clean sessions a step back to an easier exercise goes to the last dose done cleanly there. Doses below " +
		"the first row of an exercise are made where a test asks for less; they climb by half again. The day is the one on which a runner who " +
		"trains every second day, quietly and wholly, and never runs, is first given the exercise; a habit is done daily.\n")
	for _, rail := range catalog.Shipped.Rails {
		fmt.Fprintf(&b, "\n## %s\n\n| exercise | from day | dose | back one | back two |\n|---|---|---|---|---|\n", rail.Name)
		in := climber(rail, h)
		first := Days(rail, h)
		exercise := ""
		for range 200 {
			f := gather(&in)
			name, day := "", ""
			if in.Current.Exercise != exercise {
				name, exercise = in.Current.Name, in.Current.Exercise
				if d, ok := first[exercise]; ok {
					day = fmt.Sprint(d)
				}
			}
			two := f.apply(Fired{Verdict: Back, Steps: 2, Reason: h.Because("adjust.pain", "")})
			fmt.Fprintf(&b, "| %s | %s | %s | %s | %s |\n", name, day, in.Current.Dose, f.from(f.apply(Fired{Verdict: Back, Steps: 1})), f.from(two))
			if f.next == in.Current {
				break
			}
			in.Current = f.next
		}
	}
	return body.Plain(b.String())
}

// Days lists the day on which an ideal runner is first given each exercise of a rail, the first on day 0: every other
// day a whole, quiet session, each morning quiet, no running, every move up accepted.
func Days(rail catalog.Rail, h house.Rules) map[string]int {
	first, _ := climbed(rail, h)
	return first
}

// climbed plays such a runner's days: the first of each exercise, and the one on which the top is reached, where nothing
// moves up for four months.
func climbed(rail catalog.Rail, h house.Rules) (out map[string]int, top int) {
	in := climber(rail, h)
	start := in.Today
	out = map[string]int{in.Current.Exercise: 0}
	for d := 0; d < 700 && d-top < 120; d++ {
		in.Today = start.Add(d)
		in.Limits.Facts.Today, in.Limits.Facts.Profile.Touch.On, in.Profile.Touch.On = in.Today, in.Today, in.Today
		if spm := in.Current.Dose.Spm; spm > 0 { // the step is counted without the beat
			in.Limits.Facts.Tests[body.Both][body.GaitCadence] = float64(spm)
			in.Limits.Facts.Taken = map[string]body.Date{"gait.cadence|both": in.Today}
		}
		in.Mornings = append(in.Mornings, build.Morning{On: in.Today, Region: body.WholePerson, Side: body.Both, Quiet: true, Seq: int64(10 * d)})
		in.Mornings = in.Mornings[max(0, len(in.Mornings)-35):]
		if p := Propose(in); p.Verdict == Up {
			in.Current, in.Logs = p.To, nil
			in.Current.ID = fmt.Sprint(d)
			if top = d; out[in.Current.Exercise] == 0 && in.Current.Exercise != rail.Exercises[0].ID {
				out[in.Current.Exercise] = d
			}
		}
		if d%2 == 0 || rail.Habit {
			l := Log{On: in.Today, Prescription: in.Current, Times: in.Current.Dose.Times(), RPE: 7, Source: "phone", Seq: int64(10*d + 5)}
			for range in.Current.Dose.TotalSets() {
				l.Done = append(l.Done, in.Current.Dose.Amount())
			}
			in.Logs = append(in.Logs, l)
		}
	}
	return out, top
}

// climber stands on the first dose of a rail.
func climber(rail catalog.Rail, h house.Rules) Input {
	p := body.NewProfile()
	p.NotRunning = true
	p.BirthDate, p.MassKg = "1990-01-01", 70
	p.Equipment = body.Equipment{DumbbellsKg: []float64{4, 6, 8, 10, 12}, StepCm: 18, PlatesMm: []float64{10, 20}, Bands: body.Tensions,
		Strap: true, Roll: true, SoftBall: true, FirmBall: true, RollersCm: []float64{6, 12}}
	day := body.Date("2026-01-15")
	p.Touch = body.Touch{Left: true, Right: true, On: day}
	side := rail.Sides()[0]
	passed := map[string]float64{body.ToesShape: 0, body.AnkleEndFeel: 0, body.SquatArch: 0, body.FootShort: 3, body.CalfRaisesStraight: 25,
		body.BalanceOpen: 45, body.AnkleKneeToWall: 12, body.ToePassiveHeight: 40, body.ToeLoadedExtension: 40, body.ToesBigAlone: 3,
		body.ArchTwoFinger: 0}
	f := permit.Facts{Today: day, Told: day, House: h, Profile: p, Tests: map[body.Side]map[string]float64{body.Left: passed,
		body.Right: passed,
		body.Both:  {}}}
	l := catalog.LimitsOf(p, f, side, h)
	l.Values, l.Other, l.Spm = passed, passed, []int{170, 175}
	l.Reached = elsewhere(rail)
	x := rail.Exercises[0]
	first := l.Doses(x)[0]
	return Input{Rail: rail, Profile: p, House: h, Today: day, Limits: l,
		Current: catalog.Prescription{Rail: rail.ID, Side: side, Exercise: x.ID, Name: x.Name, Dose: first, From: day}}
}

// elsewhere is what a rail waits for on other rails, as reached.
func elsewhere(rail catalog.Rail) map[string]body.Dose {
	out := map[string]body.Dose{}
	for _, x := range rail.Exercises {
		for _, n := range x.First {
			if _, here := rail.Exercise(n.Exercise); !here && n.Exercise != "" {
				out[n.Exercise], _ = body.ParseDose(n.Dose)
			}
		}
	}
	return out
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

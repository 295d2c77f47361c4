package room

import (
	"flag"
	"fmt"
	"math/rand/v2"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"notchback/internal/core/body"
	"notchback/internal/core/build"
	"notchback/internal/core/catalog"
	"notchback/internal/core/permit"
	"notchback/internal/core/permit/plain"
	"notchback/internal/core/refer"
	"notchback/internal/core/screen"
	"notchback/internal/record"
)

var (
	combinations = flag.Int("combinations", 100, "random heaps of signs and cautions")
	everyState   = flag.Bool("every-state", false, "every pair with unknown, bad and good tests, not one of them")
)

const outletDay = body.Date("2026-03-02")

// world is what stands against a runner.
type world struct {
	signs    []refer.Stop
	cautions []string
	tests    plain.State
}

func (w world) String() string {
	s := fmt.Sprintf("cautions %v, tests %s", w.cautions, w.tests.Name)
	for _, x := range w.signs {
		s += fmt.Sprintf(", %s at %s %s", x.Sign, x.Side, x.Region)
	}
	return s
}

// forbids reads the plain tables for everything that stands, one by one.
func (w world) forbids(x body.Demand, side body.Side, inForce bool) bool {
	signs := append([]refer.Stop{{}}, w.signs...)
	for _, s := range signs {
		sign, _ := refer.FindSign(s.Sign)
		for _, c := range append([]string{""}, w.cautions...) {
			if plain.Forbidden(x, side, inForce, sign, s.Region, s.Side, c, w.tests) {
				return true
			}
		}
	}
	return false
}

// runner makes a runner who stands on some exercise of every rail, every day, when the world comes down on them.
func (w world) runner(r *rand.Rand) Chart {
	p := w.profile()
	visit := record.Screen{ID: "v", On: outletDay.Add(-1), Finished: true}
	add := func(measure string, side body.Side, v float64) {
		visit.Trials = append(visit.Trials, screen.Trial{ID: measure + string(side), Measure: measure, Side: side, Value: v,
			On: outletDay.Add(-1), Stop: "height"})
	}
	for _, m := range screen.Measures {
		for _, side := range m.Sides() {
			switch m.ID {
			case "sole.touch", "toes.shape", "ankle.end_feel", "squat.arch":
				if v := map[string]float64{"sole.touch": w.tests.Touch, "toes.shape": w.tests.Shape, "ankle.end_feel": w.tests.Pinch,
					"squat.arch": w.tests.Squats}[m.ID]; v >= 0 {
					add(m.ID, side, v)
				}
			case "calf.raises_straight", "calf.raises_bent", "shin.raises":
				add(m.ID, side, 22)
			case "toe.press", "foot.short", "toes.big_alone", "toes.others_alone", "toes.spread":
				add(m.ID, side, 3)
			case "balance.open", "hold.forefoot_two", "hold.forefoot_one", "hop.supported":
				add(m.ID, side, 40)
			case "toe.passive_height", "toe.active_height":
				add(m.ID, side, 40)
			}
		}
	}
	o := Chart{Record: record.Record{Person: record.Person{ID: "r", Name: "Kit", Profile: p, Stops: w.signs, FeelingFrom: outletDay},
		Tests: &record.Tests{Screens: []record.Screen{visit}}, Plan: &record.Plan{}, Reports: &record.Reports{}, Past: &record.Past{},
		Door: &record.Door{}}, Today: outletDay, Catalogue: catalog.Shipped}
	o.memo = newMemo()
	o.Programme = &record.Programme{ID: "p", On: outletDay.Add(3 - 7*weeksAhead), Plan: build.Programme{Phase: build.Load}}
	for _, rail := range catalog.Shipped.Rails {
		both := rail.Exercises[r.IntN(len(rail.Exercises))]
		for _, side := range rail.Sides() {
			x := both
			if !x.Both() && r.IntN(3) == 0 { // sides on different exercises, as long as neither trains both legs
				if y := rail.Exercises[r.IntN(len(rail.Exercises))]; !y.Both() {
					x = y
				}
			}
			o.Prescriptions = append(o.Prescriptions, catalog.Prescription{ID: rail.ID + string(side), Rail: rail.ID, Side: side, Exercise: x.ID,
				Name: x.Name, Dose: x.Ladder[r.IntN(len(x.Ladder))], From: outletDay.Add(-10)})
		}
		// Half of the rails that give a range its control stand elsewhere: then it follows by itself.
		if slices.Contains([]string{"shin", "toe_press", "toe_grip", "short_foot", "bridge", "foot_circles"}, rail.ID) && r.IntN(2) == 0 {
			continue
		}
		for d := range 3 {
			o.Days = append(o.Days, record.TrainingDay{On: outletDay.Add(d), Rail: rail.ID, Slot: catalog.Evening})
		}
	}
	return o
}

// profile is who they are, with the cautions of the world.
func (w world) profile() body.Profile {
	p := body.NewProfile()
	p.BirthDate, p.MassKg, p.HeightCm, p.BigToeMm = "1985-05-05", 70, 175, 60
	p.Equipment = body.Equipment{DumbbellsKg: []float64{4, 12}, StepCm: 18, PlatesMm: []float64{10, 20}, Bands: []string{"light", "medium"},
		Strap: true, Roll: true, SoftBall: true, FirmBall: true, RollersCm: []float64{6, 12}}
	for d := range 7 {
		p.MinutesByDay[d] = 90
	}
	for _, c := range w.cautions {
		switch c {
		case "under_18":
			p.BirthDate, p.GuardianConsent = "2010-05-05", true
		case "balance":
			p.BirthDate = "1950-05-05"
		case "bmi":
			p.MassKg, p.HeightCm = 90, 165
		default:
			p.Cautions = append(p.Cautions, c)
		}
	}
	return p
}

// leaks says where something forbidden is shown with a dose, or proposed, or begun.
func (w world) leaks(o Chart) string {
	stands := func(exercise string, side body.Side) bool {
		return slices.ContainsFunc(o.Prescriptions, func(p catalog.Prescription) bool {
			return p.Exercise == exercise && (p.Side == side || side == body.Both)
		})
	}
	names := map[string]catalog.Exercise{}
	for _, r := range catalog.Shipped.Rails {
		for _, x := range r.Exercises {
			names[r.ID+"|"+x.ID] = x
		}
	}
	shown := map[string]bool{} // what may stand on a hand-out of the three days
	for d := range 3 {
		for _, it := range o.training(outletDay.Add(d)).items {
			for _, s := range it.sides {
				for _, p := range s.prescriptions {
					if w.forbids(it.exercise.Demand, p.Side, true) {
						return fmt.Sprintf("the session shows %s, %s", it.exercise.ID, p.Side)
					}
				}
				shown[it.exercise.Name] = true
				if x := it.then; x != nil && slices.ContainsFunc(body.Sides, func(leg body.Side) bool {
					return s.side.Touches(leg) && w.forbids(x.exercise.Demand, leg, stands(x.exercise.ID, leg))
				}) {
					return fmt.Sprintf("the session follows with %s, %s", x.exercise.ID, s.side)
				}
			}
		}
	}
	if leak := w.leaksOut(o, shown); leak != "" {
		return leak
	}
	for i, row := range o.Doses()[1:] {
		x := names[o.Prescriptions[i].Rail+"|"+o.Prescriptions[i].Exercise]
		if x.Name == row[2] && row[3] != "" && w.forbids(x.Demand, body.Side(row[1]), true) {
			return "the sheet of doses shows " + x.ID
		}
	}
	if leak := w.leaksAhead(o, names, stands); leak != "" {
		return leak
	}
	draft, err := o.Draft(&build.Choices{Also: []string{"calf_straight", "spring", "heel_walk", "toe_grip", "big_toe", "barefoot_strength"}})
	if err != nil {
		return err.Error()
	}
	for _, r := range draft.Rails {
		for _, p := range r.Prescriptions {
			x := names[r.Rail+"|"+p.Exercise]
			waits := stands(p.Exercise, p.Side) // kept where it stands: no session shows it
			if !p.Parked && !waits && w.forbids(x.Demand, p.Side, false) {
				return fmt.Sprintf("Build begins %s, %s", x.ID, p.Side)
			}
		}
	}
	return ""
}

// leaksAhead says what is proposed, or offered by the Library.
func (w world) leaksAhead(o Chart, names map[string]catalog.Exercise, stands func(exercise string, side body.Side) bool) string {
	for _, p := range o.Proposals() {
		to := names[p.Rail+"|"+p.To.Exercise]
		if p.Verdict != "hold" && p.Verdict != "pending" && !p.To.Parked && w.forbids(to.Demand, p.Side, stands(p.To.Exercise, p.Side)) {
			return fmt.Sprintf("%s to %s, %s is proposed", p.Verdict, to.ID, p.Side)
		}
	}
	for _, side := range body.Sides {
		l := o.limits(side)
		for _, rail := range catalog.Shipped.Rails {
			if rail.Whole {
				continue
			}
			for _, n := range rail.Notches(l) {
				if x := names[rail.ID+"|"+n.Exercise]; w.forbids(x.Demand, side, stands(x.ID, side)) {
					return fmt.Sprintf("the Library says %s may do %s", side, x.ID)
				}
			}
		}
	}
	return ""
}

// leaksOut says what the phone, the paper or the calendar shows beside what the sessions show.
func (w world) leaksOut(o Chart, shown map[string]bool) string {
	for _, s := range o.Phone(outletDay.Time()).Sessions {
		for _, it := range s.Items {
			for _, side := range it.Sides {
				at := side.Side
				if it.Exercise.Trains == body.NoLeg { // shown once, for neither leg
					at = body.Left
				}
				if w.forbids(it.Exercise.Demand, at, true) {
					return fmt.Sprintf("the phone shows %s, %s", it.Exercise.ID, side.Side)
				}
			}
		}
	}
	for _, day := range o.Handout(outletDay, 3).Days {
		for _, slot := range day.Slots {
			for _, l := range slot.Lines {
				if !shown[l.Name] {
					return "paper shows " + l.Name
				}
			}
		}
	}
	for _, p := range o.Calendar() {
		for _, line := range p.Lines {
			if !strings.HasPrefix(line, "- ") {
				continue
			}
			stands := false
			for name := range shown {
				stands = stands || strings.HasPrefix(line, "- "+name+": ")
			}
			if !stands {
				return "the calendar shows " + line
			}
		}
	}
	return ""
}

// Nothing forbidden leaves by any door: session, phone, paper, calendar, sheet of doses, proposals, Library and
// Build, under every pair of a sign and a caution with unknown, bad or good tests, and under random heaps of them;
// against the tables stated plainly, apart from the code.
func TestNothingForbiddenIsShown(t *testing.T) {
	t.Parallel()
	r := rand.New(rand.NewPCG(7, 0))
	places := []body.Region{body.HeelSole, body.Calf, body.BigToe, body.Knee, body.AboveKnee, body.WholePerson}
	sign := func() refer.Stop {
		for {
			s := refer.Signs[r.IntN(len(refer.Signs))]
			if s.ID == "laces" { // the second one is a stop: its own test
				continue
			}
			return refer.Stop{ID: s.ID, Sign: s.ID, Region: places[r.IntN(len(places))],
				Side: []body.Side{body.Left, body.Right, body.Both}[r.IntN(3)], On: outletDay, Recorded: outletDay}
		}
	}
	cautions := append([]string{"", "ulcer"}, permit.CautionIDs()...)
	n, empty, follow := 0, 0, 0
	try := func(w world) {
		o := w.runner(r)
		if leak := w.leaks(o); leak != "" {
			t.Fatalf("%s: %s", w, leak)
		}
		if n++; len(o.training(outletDay).items) == 0 {
			empty++
		}
		for _, it := range o.training(outletDay).items {
			if it.then != nil {
				follow++
			}
		}
	}
	for _, s := range append([]refer.Sign{{}}, refer.Signs...) {
		for _, c := range cautions {
			states := plain.States
			if !*everyState { // one of the three, drawn
				states = states[r.IntN(3):][:1]
			}
			for _, st := range states {
				w := world{tests: st}
				if s.ID == "laces" || testing.Short() && r.IntN(8) > 0 {
					continue
				}
				if s.ID != "" {
					x := sign()
					x.ID, x.Sign = s.ID, s.ID
					w.signs = []refer.Stop{x}
				}
				if c != "" {
					w.cautions = []string{c}
				}
				try(w)
			}
		}
	}
	for range *combinations {
		w := world{tests: plain.States[r.IntN(3)]}
		for range r.IntN(3) {
			w.signs = append(w.signs, sign())
		}
		for range r.IntN(4) {
			c := cautions[1+r.IntN(len(cautions)-1)]
			other := map[string]string{"under_18": "balance", "balance": "under_18"}[c] // one age
			if !slices.Contains(w.cautions, c) && (other == "" || !slices.Contains(w.cautions, other)) {
				w.cautions = append(w.cautions, c)
			}
		}
		try(w)
	}
	t.Logf("%d runners, %d with an empty day", n, empty)
	require.Less(t, empty, n*9/10, "nearly all stand with something")
	require.Greater(t, follow, n/10, "range is followed by its control")
}

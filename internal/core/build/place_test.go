package build

import (
	"fmt"
	"maps"
	"math"
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"notchback/internal/core/body"
	"notchback/internal/core/catalog"
	"notchback/internal/core/refer"
	"notchback/internal/core/screen"
)

// The placement table of the calf rail: < 5 two legs (fixed 3 × 10), 5–9 two legs off a step, never more
// than were done on one; 10–14 one leg, 15–24 on the step, 25 and over the smallest dumbbell; 60 % of the
// test, which takes 2 s a repetition, at 3 s.
func TestPlaceCalf(t *testing.T) {
	calf, _ := catalog.Shipped.Find("calf_straight")
	for _, c := range []struct {
		raises float64
		want   string
	}{
		{0, "Two-leg raises, floor, 3 × 10"}, {4, "Two-leg raises, floor, 3 × 10"},
		{5, "Two-leg raises off a step, 2 × 5"}, {9, "Two-leg raises off a step, 2 × 8"},
		{10, "One-leg raises, floor, 2 × 4"}, {14, "One-leg raises, floor, 2 × 5"},
		{15, "One-leg raises off a step, 2 × 6"}, {24, "One-leg raises off a step, 2 × 9"},
		{25, "One-leg raises with a dumbbell, 2 × 9 with 4 kg"}, {60, "One-leg raises off a step, with a dumbbell, 2 × 12 with 4 kg"},
	} {
		in := input(trials([2]float64{7, 7}, [2]float64{36, 36}, [2]float64{c.raises, c.raises}))
		s, ok := look(in).place(calf, body.Left)
		require.True(t, ok)
		assert.Equal(t, c.want, s.exercise.Name+", "+body.Plain(s.dose.String()), "%v raises", c.raises)
	}
}

// A test that shows too little keeps what is in force parked until it is taken again.
func TestATestTooShortToTrainBy(t *testing.T) {
	in := input(trials([2]float64{7, 7}, [2]float64{36, 36}, [2]float64{12, 12}))
	in.Choices.Also = []string{"balance"}
	in.Current = []catalog.Prescription{{Rail: "balance", Side: body.Left, Exercise: "balance_open",
		Dose: body.Dose{Kind: body.Hold, Sets: 1, Seconds: 10, PerDay: 3}, From: today.Add(-30)}}
	in.Built = today.Add(-30)
	for i, side := range body.Sides {
		in.Trials = append(in.Trials, screen.Trial{Measure: "balance.open", Side: side, Value: []float64{2, 20}[i], On: today})
	}
	got := plan(t, Make(in), "balance")
	require.Len(t, got.Prescriptions, 2)
	assert.True(t, got.Prescriptions[0].Parked)
	assert.True(t, got.Prescriptions[0].WaitsForTest())
	assert.Equal(t, 12, got.Prescriptions[1].Dose.Seconds)
	in.Current, in.Built = nil, ""
	got = plan(t, Make(in), "balance")
	require.Len(t, got.Locked, 1)
	assert.Contains(t, got.Locked[0].Says, "too little to train by")
}

// Where either side would begin with work of both legs, the weaker side decides for both: the stronger
// side's toe lifts on two feet would train the weaker foot as well.
func TestAStrongerSideDoesNotTrainTheWeakerOne(t *testing.T) {
	in := input(nil)
	for i, side := range body.Sides {
		for _, id := range []string{"toes.big_alone", "toes.others_alone"} {
			in.Trials = append(in.Trials, screen.Trial{Measure: id, Side: side, Value: []float64{2, 3}[i], On: today})
		}
	}
	in.Choices.Also = []string{"toe_control"}
	got := plan(t, Make(in), "toe_control")
	require.Len(t, got.Prescriptions, 2, "%v", got.Why)
	assert.Equal(t, "toes_seated", got.Prescriptions[1].Exercise)
	assert.Equal(t, got.Prescriptions[0].Dose, got.Prescriptions[1].Dose)
}

// A toe entered as shorter than it was lifted has no angle: that is untested, not range to spare.
func TestAToeShorterThanItsLiftStartsLowest(t *testing.T) {
	in := input(trials([2]float64{7, 7}, [2]float64{36, 36}, [2]float64{20, 20}))
	in.Profile.BigToeMm = 30
	rail, _ := catalog.Shipped.Find("big_toe")
	s, ok := look(in).place(rail, body.Left)
	require.True(t, ok)
	assert.Zero(t, s.at)
	assert.Contains(t, s.why.Says, "measure its length again")
}

func TestPlaceWithoutTheKitTakesTheEasierVariant(t *testing.T) {
	in := input(trials([2]float64{7, 7}, [2]float64{36, 36}, [2]float64{20, 20}))
	in.Profile.Equipment = body.Equipment{}
	p := Make(in)
	assert.Equal(t, "One-leg raises, floor, 2 × 8", plan(t, p, "calf_straight").Prescriptions[0].Text())
	assert.Equal(t, "tucked_rocks", plan(t, p, "big_toe").Prescriptions[0].Exercise, "no plates to stack")
}

func TestTheWeakerSideDecidesATwoLegExerciseAndGetsTheExtraSet(t *testing.T) {
	in := input(trials([2]float64{6, 9.8}, [2]float64{36, 36}, [2]float64{3, 18}))
	p := Make(in)
	calf := plan(t, p, "calf_straight")
	assert.Equal(t, "two_floor", calf.Prescriptions[0].Exercise)
	assert.Equal(t, "two_floor", calf.Prescriptions[1].Exercise)
	ankle := plan(t, p, "ankle_bend")
	assert.Equal(t, 1, ankle.Prescriptions[0].Dose.Extra, "left is 3.8 cm behind: one extra set")
	assert.Equal(t, 0, ankle.Prescriptions[1].Dose.Extra)
	in.Profile.Symptoms = []body.Symptom{{Region: body.Achilles, Side: body.Left, Baseline: 3}}
	assert.Equal(t, 0, plan(t, Make(in), "ankle_bend").Prescriptions[0].Dose.Extra, "not while it hurts more than 2")
	in.Profile.Symptoms[0].Baseline = 2
	assert.Equal(t, 1, plan(t, Make(in), "ankle_bend").Prescriptions[0].Dose.Extra, "at 2 it is given")
}

// A big toe is placed by its lift and its length: without either it says so, and begins at the lowest notch.
func TestABigToeThatWasNotTested(t *testing.T) {
	for name, c := range map[string]struct {
		lift, length float64
		want, says   string
	}{
		"not lifted":             {-1, 60, "Toes drawn back against a wall, 2 × 10 s", "not tested"},
		"length unknown":         {36, 0, "Toes drawn back against a wall, 2 × 10 s", "not tested"},
		"lifted over its length": {61, 60, "Toes drawn back against a wall, 2 × 10 s", "measure its length again"},
		"short":                  {20, 60, "Toes drawn back against a wall, 3 × 10 s", "range before control"},
	} {
		ts := trials([2]float64{7, 7}, [2]float64{c.lift, c.lift}, [2]float64{13, 13})
		if c.lift < 0 {
			ts = slices.DeleteFunc(ts, func(x screen.Trial) bool { return x.Measure == "toe.passive_height" })
		}
		in := input(ts)
		in.Profile.BigToeMm, in.Choices.Also = c.length, []string{"big_toe"}
		r := plan(t, Make(in), "big_toe")
		require.NotEmpty(t, r.Prescriptions, name)
		assert.Equal(t, c.want, r.Prescriptions[0].Text(), name)
		assert.Contains(t, r.Placed[0].Says, c.says, name)
	}
}

// The extra set goes to what answers the difference, and to nothing else.
func TestTheExtraSetAnswersTheDifference(t *testing.T) {
	for _, c := range []struct {
		ankle, raises [2]float64
		bend, calf    [2]int
	}{
		{[2]float64{6, 9.8}, [2]float64{13, 13}, [2]int{1, 0}, [2]int{0, 0}},
		{[2]float64{9.8, 6}, [2]float64{13, 13}, [2]int{0, 1}, [2]int{0, 0}},
		{[2]float64{7, 7}, [2]float64{10, 20}, [2]int{0, 0}, [2]int{1, 0}},
		{[2]float64{7, 7}, [2]float64{13, 13}, [2]int{0, 0}, [2]int{0, 0}},
	} {
		in := input(trials(c.ankle, [2]float64{36, 36}, c.raises))
		in.Choices.Also = []string{"forefoot_hold"}
		p := Make(in)
		for i := range body.Sides {
			assert.Equal(t, c.bend[i], plan(t, p, "ankle_bend").Prescriptions[i].Dose.Extra, "%+v, ankle, side %d", c, i)
			assert.Equal(t, c.calf[i], plan(t, p, "calf_straight").Prescriptions[i].Dose.Extra, "%+v, calf, side %d", c, i)
			assert.Zero(t, plan(t, p, "forefoot_hold").Prescriptions[i].Dose.Extra, "a third answer gets none")
		}
	}
}

// firstDoses states again, per exercise, the test its first dose rests on, the seconds a unit of it takes
// and those of the test's.
var firstDoses = map[string]struct {
	test            string
	seconds, tested float64
}{
	"one_floor": {"calf.raises_straight", 3, 2}, "one_step": {"calf.raises_straight", 3, 2}, "one_dumbbell": {"calf.raises_straight", 3, 2},
	"one_step_dumbbell": {"calf.raises_straight", 3, 2}, "towel_one": {"calf.raises_straight", 8, 2},
	"bent_standing": {"calf.raises_bent", 3, 2}, "bent_loaded": {"calf.raises_bent", 3, 2}, "shin_wall": {"shin.raises", 3, 2},
	"hold_two": {"hold.forefoot_two", 1, 1}, "hold_one": {"hold.forefoot_one", 1, 1}, "hands_two": {"hop.supported", 1, 1},
	"balance_open": {"balance.open", 1, 1}, "balance_lean": {"balance.open", 1, 1}, "balance_closed": {"balance.closed", 1, 1},
}

// overCeiling states the calf ceiling again: two rails, both lowering rails being one, 16 sets at level 3 and
// above a week; a published programme alone.
func overCeiling(p Programme) string {
	counted := map[string]string{"calf_straight": "s", "calf_bent": "b", "toe_calf": "t", "forefoot_hold": "f", "eccentric_straight": "e",
		"eccentric_bent": "e"}
	rails, sets := map[string]bool{}, 0
	for _, r := range p.Rails {
		if counted[r.Rail] == "" || !r.Chosen {
			continue
		}
		rails[counted[r.Rail]] = true
		most := 0
		for _, pr := range r.Prescriptions {
			rail, _ := catalog.Shipped.Find(r.Rail)
			if x, _ := rail.Exercise(pr.Exercise); x.Level >= 3 {
				most = max(most, pr.Dose.Sets+pr.Dose.Extra)
			}
		}
		if counted[r.Rail] != "e" {
			sets += most * r.PerWeek
		}
	}
	if len(rails) > 2 || rails["e"] && len(rails) > 1 || sets > 16 {
		return fmt.Sprintf("%v with %d hard sets", rails, sets)
	}
	return ""
}

// bothFromOne are exercises of both legs that a one-leg test bounds.
var bothFromOne = map[string]string{"two_step": "calf.raises_straight", "towel_two": "calf.raises_straight", "bent_two": "calf.raises_bent",
	"seated_one": "calf.raises_bent", "shin_hand": "shin.raises", "shin_band": "shin.raises"}

// Every exercise that a count or a time places is stated above, but the two fixed starts and the contacts nobody counts.
func TestEveryPlacedExerciseIsStated(t *testing.T) {
	for _, r := range catalog.Shipped.Rails {
		if r.Place == nil || r.Place.By != "raises" && r.Place.By != "hold" {
			continue
		}
		for _, s := range r.Place.Starts {
			_, share := firstDoses[s.Exercise]
			assert.True(t, share || bothFromOne[s.Exercise] != "" || s.Fixed || s.Exercise == "heel_bounce", s.Exercise)
		}
	}
}

// Whatever the tests, cautions, kit and approaches: a stronger test never starts easier, no first dose is
// above what its own test allows, no dose exceeds
// its exercise or the kit, and nothing locked, barred or not permitted is ever chosen.
func TestPropertyPlacement(t *testing.T) {
	var every []string
	for _, r := range catalog.Shipped.Rails {
		every = append(every, r.ID)
	}
	rapid.Check(t, func(t *rapid.T) {
		in := drawnPlacement(t, every)
		p := in.Profile
		prog := Make(in)
		v := look(in)
		if over := overCeiling(prog); over != "" {
			t.Fatal(over)
		}
		for _, r := range prog.Rails {
			rail, _ := catalog.Shipped.Find(r.Rail)
			for _, pr := range r.Prescriptions {
				wellPlaced(t, in, v, rail, pr)
			}
		}
		if broken := brokenRule(prog.Week, prog.Rails, p); broken != "" {
			t.Fatal(broken)
		}
		// A better figure of the rail's own test, all else the same.
		rail := rapid.SampledFrom(catalog.Shipped.Rails).Filter(func(r catalog.Rail) bool {
			return r.Place != nil &&
				r.Place.By != "toe"
		}).Draw(t, "rail")
		lo, ok := v.place(rail, body.Right)
		old, tested := v.limits[body.Right].Values[rail.Place.Measure]
		if !ok || !tested {
			return
		}
		v.limits[body.Right].Values[rail.Place.Measure] = old + rapid.Float64Range(0, 20).Draw(t, "better")
		hi, ok := v.place(rail, body.Right)
		was, is := rail.At(lo.exercise.ID), rail.At(hi.exercise.ID)
		if !ok || is < was || is == was && hi.dose.Work(0, 0) < lo.dose.Work(0, 0) {
			t.Fatalf("%s: %g starts at %s, %g at %s", rail.ID, old, lo.dose, v.limits[body.Right].Values[rail.Place.Measure], hi.dose)
		}
	})
}

// wellPlaced fails where a dose is above what its test, the kit or a caution allows.
func wellPlaced(t *rapid.T, in Input, v view, rail catalog.Rail, pr catalog.Prescription) {
	p := in.Profile
	x, _ := rail.Exercise(pr.Exercise)
	if no := v.refusal(rail, x, pr.Dose, pr.Side); no != "" {
		t.Fatalf("%s: %s", pr.Text(), no)
	}
	// Stated again: an open stop on the left locks all that trains or stands on it, and of the other leg
	// nothing new is given; a caution of these takes external load away.
	if len(in.Stops) > 0 {
		t.Fatalf("%s is begun under a warning sign", pr.Text())
	}
	tested := func(m string) float64 {
		least := math.Inf(1)
		for _, tr := range in.Trials {
			if tr.Measure == m && (tr.Side == pr.Side || tr.Side == body.Both || x.Trains == body.BothLegs) {
				least = min(least, tr.Value)
			}
		}
		return least
	}
	if f, ok := firstDoses[pr.Exercise]; ok && float64(pr.Dose.Amount())*f.seconds > 0.6*tested(f.test)*f.tested+1e-9 &&
		!math.IsInf(tested(f.test), 1) {
		t.Fatalf("%s begins above 60 %% of %g in %s", pr.Text(), tested(f.test), f.test)
	}
	if says := beyondItsTest(x, pr.Dose, p, tested); says != "" {
		t.Fatalf("%s: %s", pr.Text(), says)
	}
	if m := bothFromOne[pr.Exercise]; m != "" && !math.IsInf(tested(m), 1) && float64(pr.Dose.Amount()) > max(5, tested(m)) {
		t.Fatalf("%s begins above the weaker side's %g on one leg", pr.Text(), tested(m))
	}
	if pr.Dose.Kind == body.Contacts && pr.Dose.Amount() > 5 {
		t.Fatalf("%s: nobody counted contacts", pr.Text())
	}
	for _, c := range []string{"sensation", "bone", "energy", "pregnancy", "inflammatory"} {
		if slices.Contains(p.Cautions, c) && x.Level > 3 {
			t.Fatalf("%s under the caution %s", pr.Text(), c)
		}
	}
}

// drawnPlacement draws tests, cautions, kit, a warning sign and what the coach brings in.
func drawnPlacement(t *rapid.T, every []string) Input {
	p := anyRunner(t)
	for _, c := range refer.Cautions {
		if rapid.IntRange(0, 5).Draw(t, c.ID) == 0 {
			p.Cautions = append(p.Cautions, c.ID)
		}
	}
	if rapid.IntRange(0, 2).Draw(t, "hurts") == 0 {
		p.Symptoms = []body.Symptom{{Region: rapid.SampledFrom([]body.Region{body.HeelSole, body.Achilles, body.Shin}).Draw(t, "where"),
			Side: body.Left, Baseline: rapid.IntRange(0, 6).Draw(t, "pain"), Worst: 6}}
	}
	in := Input{Profile: p, Today: today}
	for _, m := range screen.Measures {
		if rapid.IntRange(0, 2).Draw(t, "taken") == 0 || m.InContext || len(m.Parts) > 0 {
			continue
		}
		top := m.Max
		if m.Kind == screen.Ability {
			top = 3
		} else if rapid.Bool().Draw(t, "weak") {
			top = m.Min + (m.Max-m.Min)/3
		}
		for _, side := range m.Sides() {
			in.Trials = append(in.Trials, screen.Trial{Measure: m.ID, Side: side, Value: math.Floor(rapid.Float64Range(m.Min, top).Draw(t, m.ID)),
				Stop: "height", On: today})
		}
	}
	if rapid.Bool().Draw(t, "maximum") { // of somebody strong enough for weights, who owns some
		if rapid.Bool().Draw(t, "sound") {
			p.Cautions, p.Symptoms, p.BirthDate = nil, nil, "1990-01-01"
		}
		p.Equipment.DumbbellsKg, p.Equipment.StepCm = rapid.SliceOfN(rapid.SampledFrom([]float64{2, 4, 6, 10, 16}), 1, 4).Draw(t, "dumbbells"),
			18
		in.Profile = p
		for _, side := range body.Sides {
			in.Trials = slices.DeleteFunc(in.Trials, func(tr screen.Trial) bool { return tr.Measure == "calf.raises_straight" && tr.Side == side })
			in.Trials = append(in.Trials, screen.Trial{Measure: "calf.raises_straight", Side: side,
				Value: float64(rapid.IntRange(20, 40).Draw(t, "raises")), Stop: "height", On: today})
			kg := p.MassKg + rapid.Float64Range(-10, 90).Draw(t, "1RM over body mass")
			in.Trials = append(in.Trials, screen.Trial{Measure: "calf.rm", Side: side, Value: kg, Parts: []float64{10, 5}, On: today})
		}
	}
	if rapid.IntRange(0, 3).Draw(t, "stop") == 0 {
		in.Stops = []refer.Stop{{Sign: "swelling", Region: rapid.SampledFrom([]body.Region{body.Calf, body.Arch, body.BigToe}).Draw(t,
			"stop at"), Side: body.Left, On: today}}
	}
	in.Choices.Also = rapid.SliceOfNDistinct(rapid.SampledFrom(every), 0, 4, rapid.ID[string]).Draw(t, "also")
	if rapid.Bool().Draw(t, "calf") && !slices.Contains(in.Choices.Also, "calf_straight") {
		in.Choices.Also = append([]string{"calf_straight"}, in.Choices.Also...)
	}
	return in
}

// beyondItsTest states again what a distance, a height and kilograms may begin with: a centimetre inside what was
// reached, 60 % of the lift, and four repetitions and more in reserve of the tested maximum (Epley 1985), nothing that
// is not owned.
func beyondItsTest(x catalog.Exercise, d body.Dose, p body.Profile, tested func(string) float64) string {
	if d.WallCm > 0 && d.WallCm > tested("ankle.knee_to_wall")-1 {
		return fmt.Sprintf("further than a centimetre inside %g", tested("ankle.knee_to_wall"))
	}
	if d.StackMm > 0 {
		sums := map[float64]bool{0: true}
		for _, mm := range p.Equipment.PlatesMm {
			for s := range maps.Clone(sums) {
				sums[s+mm] = true
			}
		}
		if !sums[d.StackMm] {
			return "no plates make that height"
		}
		if lift := tested("toe.passive_height"); !math.IsInf(lift, 1) && d.StackMm > 0.6*lift {
			return fmt.Sprintf("higher than 60 %% of %g", lift)
		}
	}
	if d.LoadKg == 0 {
		return ""
	}
	if !slices.Contains(p.Equipment.DumbbellsKg, d.LoadKg) {
		return "that weight is not owned"
	}
	onLeg := map[string]float64{"two_step_load": 0.5, "one_dumbbell": 1, "one_step_dumbbell": 1}
	if share, ok := onLeg[x.ID]; ok && !math.IsInf(tested("calf.rm"), 1) {
		most := 30 * (tested("calf.rm")/(share*p.MassKg+d.LoadKg) - 1) // repetitions that the load allows
		if n := float64(d.Reps); n+4 > most+1e-6 || n > 0.6*most+1e-6 {
			return fmt.Sprintf("%g repetitions of the %.1f that the load allows", n, most)
		}
	}
	return ""
}

// Kilograms, heights and distances of a sound runner, whatever was tested and is owned: never beyond what the test lets a
// first dose be, and a stronger maximum never starts lighter.
func TestPropertyGrades(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		raises, lift, knee := float64(rapid.IntRange(5, 45).Draw(t, "raises")), rapid.Float64Range(1, 60).Draw(t, "lift"),
			rapid.Float64Range(0, 16).Draw(t, "knee")
		in := input(trials([2]float64{knee, knee}, [2]float64{lift, lift}, [2]float64{raises, raises}))
		in.Profile.MassKg = rapid.Float64Range(45, 110).Draw(t, "mass")
		in.Profile.Equipment.DumbbellsKg = rapid.SliceOfN(rapid.SampledFrom([]float64{1, 2, 4, 6, 10, 16, 24}), 0, 5).Draw(t, "dumbbells")
		in.Profile.Equipment.PlatesMm = rapid.SliceOfN(rapid.SampledFrom([]float64{2, 5, 10, 20}), 0, 5).Draw(t, "plates")
		oneRM := in.Profile.MassKg * rapid.Float64Range(0.8, 2.5).Draw(t, "of body mass")
		tests := map[string]float64{"ankle.knee_to_wall": knee, "toe.passive_height": lift, "calf.raises_straight": raises, "calf.rm": oneRM}
		begin := func(rail string) (spot, bool) {
			r, _ := catalog.Shipped.Find(rail)
			s, ok := look(in).place(r, body.Left)
			if ok {
				if says := beyondItsTest(s.exercise, s.dose, in.Profile, func(m string) float64 { return tests[m] }); says != "" {
					t.Fatalf("%s, %s: %s", s.exercise.Name, s.dose, says)
				}
			}
			return s, ok
		}
		for _, side := range body.Sides {
			in.Trials = append(in.Trials, screen.Trial{Measure: "calf.rm", Side: side, Value: oneRM, Parts: []float64{10, 5}, On: today})
		}
		begin("ankle_bend")
		begin("big_toe")
		weak, ok := begin("calf_straight")
		for i := range in.Trials {
			if in.Trials[i].Measure == "calf.rm" {
				in.Trials[i].Value += 10
			}
		}
		tests["calf.rm"] += 10
		if strong, still := begin("calf_straight"); ok && (!still ||
			strong.exercise.ID == weak.exercise.ID && strong.dose.LoadKg < weak.dose.LoadKg) {
			t.Fatalf("%s with a maximum of %.0f kg, %s with 10 kg more", weak.dose, oneRM, strong.dose)
		}
	})
}

func TestUntestedStartsLowest(t *testing.T) {
	r := plan(t, Make(input(nil)), "calf_straight")
	assert.Equal(t, "Two-leg raises, floor, 2 × 8", r.Prescriptions[0].Text())
	assert.Contains(t, r.Placed[0].Says, "test first")
}

// Where the start a score names is left out, the next exercise begins at its own first dose: a score counts nothing.
func TestAScoreWhoseStartIsLeftOut(t *testing.T) {
	in := input(trials([2]float64{7, 7}, [2]float64{36, 36}, [2]float64{20, 20}))
	for _, s := range body.Sides {
		in.Trials = append(in.Trials, screen.Trial{Measure: "foot.short", Side: s, Value: 1, On: today})
	}
	in.Choices = Choices{Also: []string{"short_foot"}, Excluded: []string{"short_seated"}}
	for _, p := range plan(t, Make(in), "short_foot").Prescriptions {
		assert.Equal(t, "Standing brace, 60 s in all", p.Text())
	}
}

package catalog

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"notchback/internal/core/body"
	"notchback/internal/core/house"
	"notchback/internal/core/permit"
)

func exerciseOf(t *testing.T, rail, id string) Exercise {
	t.Helper()
	r, ok := Shipped.Find(rail)
	require.True(t, ok, rail)
	x, ok := r.Exercise(id)
	require.True(t, ok, id)
	return x
}

func words(doses []body.Dose) []string {
	out := make([]string, 0, len(doses))
	for _, d := range doses {
		out = append(out, body.Plain(d.String()))
	}
	return out
}

// A tested maximum of 110 kg on the leg at 70 kg, by hand (Epley 1985): 8 repetitions with two in reserve carry
// 110 / (1 + 10/30) − 70 = 12.5 kg, 12 carry 110 / (1 + 14/30) − 70 = 5 kg; it begins with 8 of at least 13.3 that the
// load allows, 110 / (1 + 13.3/30) − 70 = 6.2 kg.
func TestKilogramsFollowFromTheTestedMaximum(t *testing.T) {
	x := exerciseOf(t, "calf_straight", "one_step_dumbbell")
	l := Limits{Side: body.Left, MassKg: 70, Equipment: body.Equipment{DumbbellsKg: []float64{12, 4, 6, 6, 10, 20}},
		Values: map[string]float64{"calf.rm": 110}}
	assert.Equal(t, []string{"2 × 8 with 4 kg", "3 × 8 with 4 kg", "3 × 12 with 4 kg", "2 × 8 with 6 kg", "3 × 8 with 6 kg",
		"3 × 8 with 10 kg", "3 × 8 with 12 kg"}, words(l.Doses(x)), "nothing that the maximum does not carry with two in reserve")
	begin, light := l.Begin(x)
	assert.Equal(t, body.Grade{LoadKg: 6}, begin)
	assert.True(t, light)

	heavy := exerciseOf(t, "calf_straight", "heavy_slow")
	assert.Equal(t, []string{"3 × 15 at 15 RM", "3 × 12 at 12 RM with 6 kg", "4 × 10 at 10 RM with 12 kg", "4 × 8 at 8 RM with 12 kg",
		"4 × 6 at 6 RM with 20 kg"}, words(l.Doses(heavy)),
		"a published stage keeps its own repetitions-maximum; kilograms rounded down to what is owned")
	assert.Empty(t, l.tooHeavy(x))
	assert.Empty(t, l.tooHeavy(heavy))

	eight := body.Dose{Kind: body.Repetitions, Sets: 3, Reps: 8}
	assert.True(t, l.Covers(x, eight.At(body.Grade{LoadKg: 12})))
	assert.False(t, l.Covers(x, eight.At(body.Grade{LoadKg: 13})))
	l.Values["calf.rm"] = 90 // 90 / 1.333 = 67.5: not even body mass
	assert.Empty(t, l.Doses(x))
	assert.Contains(t, l.tooHeavy(x), "carries none of the weights owned for 8 repetitions")
	_, light = l.Begin(x)
	assert.False(t, light)
	assert.Contains(t, l.tooHeavy(heavy), "does not carry body mass for 15 repetitions")
	l.Values["calf.rm"] = 105 // 15 RM is body mass itself
	assert.Empty(t, l.tooHeavy(heavy))

	delete(l.Values, "calf.rm") // untested: what is owned, from the lightest
	assert.Equal(t, "2 × 8 with 4 kg", words(l.Doses(x))[0])
	assert.Equal(t, "3 × 12 at 12 RM", l.Doses(heavy)[1].String())
	two := exerciseOf(t, "calf_straight", "two_step_load")
	l.Values, l.Other = map[string]float64{"calf.rm": 110}, map[string]float64{"calf.rm": 60}
	assert.Equal(t, []string{"2 × 8 with 4 kg", "3 × 8 with 4 kg", "2 × 8 with 6 kg", "3 × 8 with 6 kg", "2 × 8 with 10 kg",
		"3 × 8 with 10 kg"}[:2], words(l.Doses(two))[:2], "the weaker leg decides for both")
	assert.NotContains(t, words(l.Doses(two)), "3 × 8 with 12 kg", "60 / 1.333 − 35 = 10 kg")
}

// Knee to wall 8.4 cm: from 7 cm, a centimetre inside, by the centimetre to the reference of 10; 4.5 cm: three beyond
// the first; beyond the reference there is one distance; too short, or untested, there is none to name.
func TestRocksGrowByTheCentimetre(t *testing.T) {
	x := exerciseOf(t, "ankle_bend", "ankle_rocks")
	for tested, want := range map[float64][]float64{8.4: {7, 8, 9, 10}, 4.5: {3, 4, 5, 6}, 9: {8, 9, 10}, 12.5: {11}, 2: {1, 2, 3, 4},
		1.9: nil} {
		l := Limits{Side: body.Left, Values: map[string]float64{"ankle.knee_to_wall": tested}}
		var got []float64
		for _, g := range l.grades(x) {
			if g.WallCm > 0 {
				got = append(got, g.WallCm)
			}
		}
		assert.Equal(t, want, got, "%g cm", tested)
	}
	far := body.Dose{Kind: body.Repetitions, Sets: 2, Reps: 8, Seconds: 2, WallCm: 8}
	for tested, covers := range map[float64]bool{8: true, 7.9: false} {
		assert.Equal(t, covers, Limits{Values: map[string]float64{"ankle.knee_to_wall": tested}}.Covers(x, far), "8 cm, tested %g", tested)
	}
	assert.True(t, Limits{}.Covers(x, far), "untested")
	assert.Equal(t, words(x.Ladder), words(Limits{}.Doses(x)), "untested: the doses without a distance")
	l := Limits{Values: map[string]float64{"ankle.knee_to_wall": 9}}
	assert.Equal(t, []string{"1 × 8, 2 s hold, 8 cm from the wall", "1 × 10, 2 s hold, 8 cm from the wall",
		"2 × 8, 2 s hold, 8 cm from the wall", "2 × 10, 2 s hold, 8 cm from the wall", "2 × 8, 2 s hold, 9 cm from the wall"},
		words(l.Doses(x))[:5])
}

// Plates of 5, 10 and 20 mm stack to 5 … 35; a toe lifted to 27 mm gets no more than 25, and begins at 15, the most
// within 60 % of 27.
func TestTheStackGrowsByWhatIsOwned(t *testing.T) {
	x := exerciseOf(t, "big_toe", "stack_lift")
	l := Limits{Side: body.Left, Equipment: body.Equipment{PlatesMm: []float64{20, 5, 10}},
		Values: map[string]float64{"toe.passive_height": 27}}
	heights := func() (out []float64) {
		for _, g := range l.grades(x) {
			out = append(out, g.StackMm)
		}
		return out
	}
	assert.Equal(t, []float64{5, 10, 15, 20, 25}, heights())
	begin, light := l.Begin(x)
	assert.Equal(t, body.Grade{StackMm: 15}, begin)
	assert.True(t, light)
	l.Equipment.PlatesMm = []float64{3, 20, 2} // 2, 3, 5, 20, 22, 23, 25: a few millimetres apart
	assert.Equal(t, []float64{2, 20, 25}, heights())
	l.Values["toe.passive_height"] = 25
	assert.Equal(t, []float64{2, 20, 25}, heights(), "as high as it was lifted")
	l.Values["toe.passive_height"] = 27
	l.Equipment.PlatesMm = []float64{28}
	assert.Contains(t, l.tooHeavy(x), "higher than the 27 mm")
	l.Equipment.PlatesMm = []float64{18}
	assert.Empty(t, l.tooHeavy(x))
	_, light = l.Begin(x)
	assert.False(t, light, "18 is more than 60 % of 27")
	assert.False(t, l.Covers(x, body.Dose{StackMm: 28}))
	assert.True(t, l.Covers(x, body.Dose{StackMm: 27}))
	delete(l.Values, "toe.passive_height")
	l.Equipment.PlatesMm = []float64{20, 10}
	assert.Equal(t, []float64{10}, heights(), "untested: the lowest alone")
	begin, light = l.Begin(x)
	assert.Equal(t, body.Grade{StackMm: 10}, begin)
	assert.True(t, light)
}

// A dose that says no distance, no height and no hands, as earlier ones did not, stands on the first of its exercise.
func TestAnEarlierDoseStandsOnTheFirstDistance(t *testing.T) {
	rail, _ := Shipped.Find("spring")
	l := Limits{Side: body.Left}
	var notches []Notch
	x, _ := rail.Exercise("hands_two")
	for _, d := range l.Doses(x) {
		notches = append(notches, Notch{Exercise: x.ID, Dose: d})
	}
	assert.Equal(t, []string{"1 × 60 s with two thirds on the hands", "1 × 90 s with two thirds on the hands",
		"1 × 120 s with two thirds on the hands", "1 × 90 s with one third on the hands", "1 × 90 s with fingertips only",
		"1 × 120 s with fingertips only"}, words(l.Doses(x)))
	for i, c := range []struct {
		dose  body.Dose
		at    int
		below bool
	}{
		{body.Dose{Kind: body.Hold, Sets: 1, Seconds: 90}, 1, false},
		{body.Dose{Kind: body.Hold, Sets: 1, Seconds: 30}, 0, true},
		{body.Dose{Kind: body.Hold, Sets: 1, Seconds: 100, Hands: "one third"}, 3, false},
		{body.Dose{Kind: body.Hold, Sets: 1, Seconds: 90, Hands: "fingertips"}, 4, false},
	} {
		at, below := At(notches, "hands_two", c.dose)
		assert.Equal(t, c.at, at, "%d %s", i, c.dose)
		assert.Equal(t, c.below, below, "%d %s", i, c.dose)
	}
	at, below := At(notches, "elsewhere", body.Dose{})
	assert.Equal(t, -1, at)
	assert.True(t, below)
}

// Under “calm first” a shin sore above 2 keeps raises on one leg, weights, bands and bounces away from its own side, and
// nothing else; strengthening within the pain rule, or the other shin, keeps nothing away.
func TestASoreShinCalmsFirst(t *testing.T) {
	may := func(rail, exercise string, at body.Side, pain int, approach string) bool {
		p := body.NewProfile()
		p.BirthDate, p.Approaches = "1990-01-01", map[string]string{"sore_shin": approach}
		p.Symptoms = []body.Symptom{{Region: body.Shin, Side: at, Worst: pain}}
		p.Equipment = body.Equipment{StepCm: 18, DumbbellsKg: []float64{4}, Bands: []string{"light"}}
		l := LimitsOf(p, permit.Facts{Today: "2026-01-15", Profile: p}, body.Left, house.Rules{})
		r, _ := Shipped.Find(rail)
		a := l.May(r, exerciseOf(t, rail, exercise))
		for _, why := range a.Reasons {
			if why.Cut == "sore" {
				return false
			}
		}
		return true
	}
	for _, c := range [][2]string{{"calf_straight", "one_floor"}, {"calf_straight", "two_step_load"}, {"calf_bent", "bent_standing"},
		{"shin", "shin_band"}, {"spring", "heel_bounce"}} {
		assert.False(t, may(c[0], c[1], body.Left, 3, "calm"), c[1])
		assert.True(t, may(c[0], c[1], body.Left, 2, "calm"), "%s, at 2", c[1])
		assert.True(t, may(c[0], c[1], body.Left, 3, "strengthen"), "%s, strengthened", c[1])
	}
	assert.True(t, may("calf_straight", "one_floor", body.Right, 3, "calm"), "the other shin")
	assert.False(t, may("calf_straight", "two_step_load", body.Right, 3, "calm"), "both legs work")
	assert.True(t, may("calf_straight", "two_floor", body.Left, 3, "calm"))
	assert.True(t, may("shin", "shin_hand", body.Left, 3, "calm"))

	// What intake was told speaks for three weeks; then the mornings alone: nobody is kept out by an old word.
	for ago, may := range map[int]bool{21: false, 22: true} {
		for usual, quiet := range map[float64]bool{2: true, 3: false} {
			p := body.NewProfile()
			p.BirthDate, p.AskedOn = "1990-01-01", body.Date("2026-01-15").Add(-ago)
			p.Symptoms = []body.Symptom{{Region: body.Shin, Side: body.Left, Worst: 4}}
			l := LimitsOf(p, permit.Facts{Today: "2026-01-15", Profile: p}, body.Left, house.Rules{})
			l.Mornings[body.Shin] = usual
			r, _ := Shipped.Find("calf_straight")
			barred := false
			for _, why := range l.May(r, exerciseOf(t, "calf_straight", "one_floor")).Reasons {
				barred = barred || why.Cut == "sore"
			}
			assert.Equal(t, may && quiet, !barred, "told %d days ago, usually %g", ago, usual)
		}
	}

	own := railOf(t, one)
	own.Not = []Bar{{Sore: []body.Region{"elbow"}, Says: "x"}}
	_, err := own.Complete()
	assert.ErrorContains(t, err, "unknown region elbow")
}

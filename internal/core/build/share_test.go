package build

import (
	"maps"
	"notchback/internal/core/body"
	"notchback/internal/core/catalog"
	"notchback/internal/core/screen"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// No first dose is beyond 60 % of what was tested, in its own unit and time; what is too little for one
// exercise begins with the easier one, and what is too little for all waits. Contacts are never made of
// seconds.
func TestFirstDosesComeFromTheirOwnTest(t *testing.T) {
	for _, c := range []struct {
		rail, want string
		tests      map[string]float64
	}{
		{"forefoot_hold", "Two feet, weight behind the big toe, 2 × 3 s", map[string]float64{"hold.forefoot_two": 6}},
		{"forefoot_hold", "", map[string]float64{"hold.forefoot_two": 3}},
		{"forefoot_hold", "Two feet, weight behind the big toe, 2 × 30 s", map[string]float64{"hold.forefoot_two": 60}},
		{"forefoot_hold", "One foot, 2 × 6 s", map[string]float64{"hold.forefoot_two": 60, "hold.forefoot_one": 10}},
		{"forefoot_hold", "Two feet, weight behind the big toe, 2 × 30 s", map[string]float64{"hold.forefoot_two": 60, "hold.forefoot_one": 3}},
		{"balance", "", map[string]float64{"balance.open": 3}},
		{"balance", "One leg, eyes open, 1 × 3 s, 3 times a day", map[string]float64{"balance.open": 5}},
		{"balance", "One leg, eyes closed, 1 × 2 s, 3 times a day", map[string]float64{"balance.open": 45, "balance.closed": 4}},
		{"balance", "Leaning chest forward, belly still, 1 × 27 s, 3 times a day", map[string]float64{"balance.open": 45, "balance.closed": 2}},
		{"spring", "Heel bounces, forefoot stays, 2 × 5 contacts", map[string]float64{"hop.supported": 15}},
		{"spring", "Heel bounces, forefoot stays, 2 × 5 contacts", nil},
		{"spring", "Two-foot bounce, hands on a table, 1 × 36 s with two thirds on the hands", map[string]float64{"hop.supported": 60}},
		{"toe_calf", "Toes on a roll, one leg, 1 × 3", map[string]float64{"calf.raises_straight": 20}},
		{"toe_calf", "Toes on a roll, two legs, 1 × 8", map[string]float64{"calf.raises_straight": 12}},
		{"toe_calf", "Toes on a roll, two legs, 1 × 5", map[string]float64{"calf.raises_straight": 4}},
	} {
		in := input(nil)
		known := map[string]float64{"toe.press": 3, "foot.short": 3}
		maps.Copy(known, c.tests)
		for id, x := range known {
			m, _ := screen.FindMeasure(id)
			for _, side := range m.Sides() {
				in.Trials = append(in.Trials, screen.Trial{Measure: id, Side: side, Value: x, Stop: "height", On: today})
			}
		}
		rail, _ := catalog.Shipped.Find(c.rail)
		s, ok := look(in).place(rail, body.Left)
		assert.Equal(t, c.want != "", ok, "%s %v: %s", c.rail, c.tests, s.why.Says)
		if ok {
			assert.Equal(t, c.want, s.exercise.Name+", "+s.dose.String(), "%s %v", c.rail, c.tests)
		}
	}
	in := input(trials([2]float64{7, 7}, [2]float64{36, 36}, [2]float64{25, 25}))
	in.Profile.Equipment.DumbbellsKg = []float64{24}
	assert.Equal(t, "One-leg raises off a step, 2 × 10", plan(t, Make(in), "calf_straight").Prescriptions[0].Text(),
		"24 kg is more than a tenth of what was tested")
	in.Profile.Equipment.DumbbellsKg = []float64{4}
	weighted := plan(t, Make(in), "calf_straight").Prescriptions[0]
	assert.Equal(t, 4.0, weighted.Dose.LoadKg, "4 kg is less")
	assert.Equal(t, 9, weighted.Dose.Reps, "60 % × 25 × time × 70 / 74")
}

// A share is taken of what was counted alike: of repetitions by a count, of seconds by a hold; of anything else the
// exercise begins with the least.
func TestAShareOfWhatIsCountedAlike(t *testing.T) {
	find := func(rail, exercise string) catalog.Exercise {
		r, _ := catalog.Shipped.Find(rail)
		x, ok := r.Exercise(exercise)
		require.True(t, ok, exercise)
		return x
	}
	v := look(input(trials([2]float64{7, 7}, [2]float64{36, 36}, [2]float64{25, 25})))
	for _, c := range []struct {
		x       catalog.Exercise
		measure string
		tested  float64
		counted bool
	}{
		{find("calf_straight", "one_floor"), "calf.raises_straight", 25, true},
		{find("calf_straight", "one_floor"), "balance.open", 45, false},
		{find("balance", "balance_open"), "balance.open", 45, true},
		{find("balance", "balance_open"), "calf.raises_straight", 25, false},
	} {
		m, _ := screen.FindMeasure(c.measure)
		var why body.Reason
		dose, ok := v.share(&why, c.x, m, c.tested, body.Left, 0)
		assert.True(t, ok)
		assert.Equal(t, !c.counted, strings.Contains(why.Formula, "not counted in"), "%s by %s: %s", c.x.ID, c.measure, why.Formula)
		if !c.counted {
			assert.Equal(t, min(Floor(v.in.House, c.x.Ladder[0]), c.x.Ladder[0].Amount()), dose.Amount())
		}
	}
}

// Of two sides on one exercise of both legs the lesser dose stands for both, whichever side it is.
func TestTheWeakerSideDecidesOnOneExercise(t *testing.T) {
	rail, _ := catalog.Shipped.Find("calf_straight")
	x, ok := rail.Exercise("two_floor")
	require.True(t, ok)
	later, _ := rail.Exercise("one_floor")
	at := func(x catalog.Exercise, side body.Side, reps int) spot {
		return spot{side: side, exercise: x, dose: body.Dose{Kind: body.Repetitions, Sets: 2, Reps: reps}}
	}
	for _, c := range []struct {
		left, right spot
		want        int
		of          string
	}{
		{at(x, body.Left, 6), at(x, body.Right, 12), 6, "two_floor"},
		{at(x, body.Left, 12), at(x, body.Right, 6), 6, "two_floor"},
		{at(x, body.Left, 12), at(later, body.Right, 3), 12, "two_floor"},
		{at(later, body.Left, 3), at(x, body.Right, 12), 12, "two_floor"},
	} {
		for _, s := range weakerDecides(rail, []spot{c.left, c.right}) {
			assert.Equal(t, c.want, s.dose.Reps, "%v", c)
			assert.Equal(t, c.of, s.exercise.ID)
		}
	}
}

// A place counts as above its usual against the usual of its own leg.
func TestAboveTheUsualOfItsOwnLeg(t *testing.T) {
	in := input(nil)
	in.Profile.Symptoms = []body.Symptom{{Region: body.HeelSole, Side: body.Left, Baseline: 3, Worst: 5}}
	morning := func(side body.Side, pain int, ago int) {
		in.Mornings = []Morning{{On: today.Add(-ago), Region: body.HeelSole, Side: side, Pain: pain}}
	}
	for _, c := range []struct {
		side      body.Side
		pain, ago int
		above     bool
	}{
		{body.Left, 3, 1, false}, {body.Left, 4, 1, true}, {body.Right, 1, 1, true}, {body.Right, 0, 1, false},
		{body.Left, 4, 7, true}, {body.Left, 4, 8, false},
	} {
		morning(c.side, c.pain, c.ago)
		assert.Equal(t, c.above, look(in).aboveUsual(), "%v", c)
	}
}

// A published programme is a protocol, or loads by stages; a practice's own loads at a repetitions-maximum are not.
func TestWhatIsAPublishedProgramme(t *testing.T) {
	loads := catalog.Exercise{Demand: body.Demand{Tags: []body.Tag{body.RM}}}
	staged := loads
	staged.StageDays = []int{7, 14}
	weeks := catalog.Exercise{StageDays: []int{7, 14}}
	assert.False(t, published(catalog.Rail{}, loads))
	assert.False(t, published(catalog.Rail{}, weeks))
	assert.True(t, published(catalog.Rail{}, staged))
	assert.True(t, published(catalog.Rail{Protocol: "lowering"}, catalog.Exercise{}))
}

// A dose set by hand has at least one set of one, and at most one set more for the weaker side.
func TestADoseByHandHasItsSets(t *testing.T) {
	rail, _ := catalog.Shipped.Find("calf_straight")
	x, ok := rail.Exercise("one_floor")
	require.True(t, ok)
	v := look(input(trials([2]float64{7, 7}, [2]float64{36, 36}, [2]float64{25, 25})))
	for _, c := range []struct {
		sets, extra, reps int
		may               bool
	}{
		{2, 0, 8, true}, {2, 1, 8, true}, {1, 0, 1, true},
		{0, 0, 8, false}, {0, 1, 8, false}, {2, -1, 8, false}, {2, 2, 8, false}, {2, 0, 0, false},
	} {
		no := v.refusal(rail, x, body.Dose{Kind: body.Repetitions, Sets: c.sets, Extra: c.extra, Reps: c.reps}, body.Left)
		if c.may {
			assert.Empty(t, no, "%v", c)
		} else {
			assert.Contains(t, no, "at least one set of one", "%v", c)
		}
	}
}

// Work for both legs begins with its own first dose, as far as the weaker leg got in the test of one; so does what asks
// less than the test. Only what asks as much of the leg is a share of it.
func TestWhatAsksLessThanTheTest(t *testing.T) {
	v := look(input(nil))
	raises, _ := screen.FindMeasure(body.CalfRaisesStraight)
	require.Equal(t, body.OneSide, raises.Demand().Trains)
	level := raises.Demand().Level
	for _, c := range []struct {
		trains body.Legs
		level  int
		want   int
	}{{body.BothLegs, level, 10}, {body.BothLegs, level + 1, 10}, {body.OneSide, level - 1, 10}, {body.OneSide, level, 6}} {
		x := catalog.Exercise{ID: "x", Name: "x", RepS: raises.Beat, Ladder: []body.Dose{{Kind: body.Repetitions, Sets: 1, Reps: 10}}}
		x.Trains, x.Level = c.trains, c.level
		var why body.Reason
		d, ok := v.share(&why, x, raises, 10, body.Left, 0)
		assert.True(t, ok)
		assert.Equal(t, c.want, d.Reps, "%s, level %d: %s", c.trains, c.level, why.Formula)
	}
}

// A big toe that bends as far as its reference begins with control, not with range.
func TestTheToeAtItsReference(t *testing.T) {
	rail, _ := catalog.Shipped.Find("big_toe")
	require.Equal(t, "toe", rail.Place.By)
	for value, says := range map[float64]string{0.999: "range before control", 1: "range is there", 1.001: "range is there"} {
		at := tabled{rail: rail, side: body.Left, value: value}
		x := rail.Exercises[0]
		_, _, _ = look(input(nil)).firstDose(&at, catalog.Start{Exercise: x.ID}, x, x.Ladder[0])
		assert.Contains(t, at.why.Says, says, "%g", value)
	}
}

// Calf work below level 3 has no hard sets: the ceiling leaves it alone, however full it is.
func TestTheCeilingCountsHardSetsAlone(t *testing.T) {
	rail, _ := catalog.Shipped.Find("calf_straight")
	for id, out := range map[string]bool{"two_floor": false, "one_floor": true} {
		w := calfWork{sets: 100}
		p := RailPlan{Rail: rail.ID, PerWeek: 2, Prescriptions: []catalog.Prescription{{Rail: rail.ID, Exercise: id,
			Dose: body.Dose{Kind: body.Repetitions, Sets: 2, Reps: 8}}}}
		x, _ := rail.Exercise(id)
		require.Equal(t, out, x.Level >= 3, id)
		no, _ := w.add(look(input(nil)), &p, rail)
		assert.Equal(t, out, no != "", "%s: %s", id, no)
		assert.Equal(t, 2, p.PerWeek)
	}
}

// A calf rail of which nothing is prescribed takes nothing of the ceiling.
func TestNothingPrescribedTakesNothing(t *testing.T) {
	rail, _ := catalog.Shipped.Find("calf_straight")
	var w calfWork
	no, _ := w.add(look(input(nil)), &RailPlan{Rail: rail.ID, PerWeek: 2}, rail)
	assert.Empty(t, no)
	assert.Empty(t, w.programmes)
}

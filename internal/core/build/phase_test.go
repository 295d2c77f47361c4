package build

import (
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"notchback/internal/core/body"
	"notchback/internal/core/catalog"
	"notchback/internal/core/house"
	"notchback/internal/core/screen"
)

// Calm belongs to a leg: a sore Achilles gets two-legged raises on the floor and two-legged holds, nothing
// below level and nothing on one leg; the other leg goes on.
func TestCalmIsTheLegs(t *testing.T) {
	in := input(trials([2]float64{7, 7}, [2]float64{20, 20}, [2]float64{12, 12}))
	in.Profile.Symptoms = []body.Symptom{{Region: body.Achilles, Side: body.Left, Baseline: 4, Worst: 6}}
	p := Make(in)
	assert.Equal(t, Calm, p.Phase)
	calf := plan(t, p, "calf_straight")
	require.Len(t, calf.Prescriptions, 2)
	assert.Contains(t, []string{"two_floor", "two_pause"}, calf.Prescriptions[0].Exercise, "left, in Calm")
	assert.Equal(t, calf.Prescriptions[0].Exercise, calf.Prescriptions[1].Exercise, "the weaker side decides a two-legged exercise")
	for _, r := range p.Rails {
		rail, _ := catalog.Shipped.Find(r.Rail)
		for _, pr := range r.Prescriptions {
			x, _ := rail.Exercise(pr.Exercise)
			if slices.Contains(x.Legs(pr.Side), body.Left) {
				assert.False(t, x.Level >= 3 || x.Impact.Beyond(body.NoImpact) || x.Edge && x.Class != catalog.Range, "%s, %s", x.Name, pr.Side)
			}
		}
	}
	assert.Equal(t, "hold_mid_two", plan(t, p, "calf_holds").Prescriptions[0].Exercise, "isometric holds are permitted")
	for i := range 6 { // six of seven mornings at 2: Calm is over
		in.Mornings = append(in.Mornings, Morning{On: today.Add(-i), Region: body.Achilles, Side: body.Left, Pain: 2})
	}
	p = Make(in)
	assert.Equal(t, Wake, p.Phase, "toes, arch and balance were never tested")
	assert.Equal(t, "one_floor", plan(t, p, "calf_straight").Prescriptions[0].Exercise)
	in.Mornings[3].Pain = 3
	assert.Equal(t, Calm, Make(in).Phase, "one morning at 3 keeps Calm")
}

func TestPhasesEndByCriteria(t *testing.T) {
	at := func(change func(*Input)) Programme {
		in := input(trials([2]float64{12, 12}, [2]float64{40, 40}, [2]float64{20, 22}))
		for i := range in.Trials {
			if in.Trials[i].Measure == "toe.active_height" {
				in.Trials[i].Value = 38
			}
		}
		change(&in)
		return Make(in)
	}
	give := func(in *Input, measure string, left, right float64) {
		in.Trials = slices.DeleteFunc(in.Trials, func(tr screen.Trial) bool { return tr.Measure == measure })
		in.Trials = append(in.Trials, screen.Trial{Measure: measure, Side: body.Left, Value: left, Parts: []float64{left, 1}, On: today},
			screen.Trial{Measure: measure, Side: body.Right, Value: right, Parts: []float64{right, 1}, On: today})
	}
	whole := at
	at = func(change func(*Input)) Programme {
		return whole(func(in *Input) {
			give(in, "toes.big_alone", 2, 2)
			give(in, "foot.short", 2, 2)
			give(in, "balance.open", 31, 31)
			change(in)
		})
	}
	assert.Equal(t, Load, at(func(*Input) {}).Phase, "20 and 22 raises, the weaker at 91 %")
	assert.Equal(t, Build, at(func(in *Input) { in.House = house.Rules{Changed: map[string]float64{"build.sides": 95}} }).Phase)
	assert.Equal(t, Wake, at(func(in *Input) { give(in, "foot.short", 1, 3) }).Phase)
	assert.Equal(t, Wake, at(func(in *Input) { give(in, "balance.open", 29, 45) }).Phase, "under 60 years: 30 s")
	short := func(in *Input) { give(in, "ankle.knee_to_wall", 5, 12) }
	assert.Equal(t, Build, at(short).Phase, "one ankle is short")
	for id, phase := range map[string]Phase{"ankle.knee_to_wall": Load, "toe.passive_angle": Build} {
		assert.Equal(t, phase, at(func(in *Input) { short(in); in.Stalled = map[body.Side][]string{body.Left: {id}} }).Phase,
			"%s the same at two retests", id)
	}
	assert.Equal(t, Build, at(func(in *Input) { short(in); in.Stalled = map[body.Side][]string{body.Right: {"ankle.knee_to_wall"}} }).Phase,
		"the other side's")
	old := func(in *Input) { in.Profile.BirthDate = "1950-01-01"; give(in, "balance.open", 13, 14) }
	assert.Equal(t, Load, at(old).Phase, "from 70 years: 12 s")
	flat := at(func(in *Input) {
		give(in, "foot.short", 0, 3)
		in.Profile.Structural = []body.Structural{{Measure: "foot.short", Side: body.Left, Word: "flat since birth"}}
	})
	assert.Equal(t, Load, flat.Phase, "a structural finding is waived")
	for _, r := range flat.Rails {
		for _, p := range r.Prescriptions {
			x, _ := func() (catalog.Exercise, bool) { c, _ := catalog.Shipped.Find(p.Rail); return c.Exercise(p.Exercise) }()
			for _, n := range x.First {
				assert.False(t, n.Measure == "foot.short" && p.Side == body.Left, "%s depends on it", x.Name)
			}
		}
	}
	strong := at(func(in *Input) {
		give(in, "calf.rm", 140, 140)
		give(in, "foot.short", 3, 3)
	})
	assert.Equal(t, Bounce, strong.Phase, "strength target met and the gate open: %v", strong.Next)
	assert.True(t, plan(t, strong, "spring").Chosen, "the phase of springing holds a spring rail: %v", plan(t, strong, "spring").Why)
	weak := at(func(in *Input) {
		give(in, "calf.rm", 140, 140)
		in.Trials = slices.DeleteFunc(in.Trials, func(tr screen.Trial) bool { return tr.Measure == "balance.open" })
	})
	assert.Equal(t, Wake, weak.Phase, "balance was not tested")

	// What was never tested is not met.
	for measure, phase := range map[string]Phase{"toes.big_alone": Wake, "foot.short": Wake, "balance.open": Wake, "ankle.knee_to_wall": Build,
		"toe.passive_height": Build, "calf.raises_straight": Build} {
		for _, side := range body.Sides {
			got := at(func(in *Input) {
				in.Trials = slices.DeleteFunc(in.Trials, func(tr screen.Trial) bool { return tr.Measure == measure && tr.Side == side })
			})
			assert.Equal(t, phase, got.Phase, "%s, %s, never tested", measure, side)
		}
	}
	// "At least 20" on both sides proves no ratio; at least 25 proves the reference.
	for n, phase := range map[float64]Phase{20: Build, 25: Load} {
		got := at(func(in *Input) {
			for i := range in.Trials {
				if in.Trials[i].Measure == "calf.raises_straight" {
					in.Trials[i].Value, in.Trials[i].Stop = n, screen.StopCeiling
				}
			}
		})
		assert.Equal(t, phase, got.Phase, "at least %g", n)
	}
}

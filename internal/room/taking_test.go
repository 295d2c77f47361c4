package room_test

import (
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"notchback/internal/core/adjust"
	"notchback/internal/core/body"
	"notchback/internal/core/build"
	"notchback/internal/core/catalog"
	"notchback/internal/core/load"
	"notchback/internal/core/refer"
	"notchback/internal/core/screen"
	"notchback/internal/room"
	"notchback/internal/store"
	"notchback/internal/testkit"
)

// A trial is judged, and answered, by what was computed before and the tests since: whatever came in meanwhile, by this
// server or another one, the answer is the one the whole record gives, and what may not be taken is refused.
func TestPropertyATrialIsJudgedByTheWholeRecord(t *testing.T) {
	narrow, shut := 0, 0
	for seed := range uint64(4) {
		r := rand.New(rand.NewPCG(seed, 17))
		d := testkit.NewDesk(t, "a@test.example")
		p := testkit.Profile()
		if seed%2 == 1 {
			p.Symptoms = []body.Symptom{{Region: body.HeelSole, Side: body.Left, Baseline: 3, Worst: 5}}
		}
		if seed == 1 {
			p.Cautions = []string{"diabetes"}
		}
		runner := d.Runner(t, p)
		if seed > 1 {
			runner = programmed(t, d, p)
			d.Shift(day)
		}
		fresh := &testkit.Desk{Desk: &room.Desk{Store: testkit.Again(t, store.Forgetful()), Now: d.Now}, Actor: d.Actor}
		servers := []*testkit.Desk{d, {Desk: &room.Desk{Store: testkit.Again(t), Now: d.Now, Patience: d.Patience}, Actor: d.Actor}}
		open := d.Begin(t, runner)
		for range 30 {
			d := servers[r.IntN(2)]
			if r.IntN(2) == 0 {
				look(t, d, runner) // what it looked at it remembers
			}
			if r.IntN(5) > 0 {
				_, err := d.Today(ctx, d.Actor) // what stands is computed; trials alone leave it as it is
				require.NoError(t, err)
				narrow++
			}
			x := anyTrial(r)
			barred := false
			for _, s := range look(t, fresh, runner).Screening().Shut {
				barred = barred || s.Measure == x.Measure && s.Side == x.Side
			}
			got, err := d.AddTrial(ctx, d.Actor, runner, open, x)
			if barred {
				assert.Error(t, err, "%s %s is shut", x.Measure, x.Side)
				shut++
			}
			if err == nil {
				whole := look(t, fresh, runner).Screening().Taking
				require.Equal(t, asJSON(t, withoutBy(whole)), asJSON(t, withoutBy(got)), "seed %d, %s", seed, x.Measure)
			}
			if err == nil && r.IntN(4) == 0 {
				got, err := d.RemoveTrial(ctx, d.Actor, runner, open, x.ID, true)
				require.NoError(t, err)
				require.Equal(t, asJSON(t, look(t, fresh, runner).Screening().Taking), asJSON(t, got), "seed %d, %s taken out", seed, x.Measure)
			}
			if r.IntN(4) == 0 {
				meanwhile(t, r, d, runner)
			}
		}
	}
	assert.Positive(t, narrow)
	assert.Positive(t, shut, "something was shut")
}

// anyTrial draws a trial of any measure and side.
func anyTrial(r *rand.Rand) screen.Trial {
	m := screen.Measures[r.IntN(len(screen.Measures))]
	x := screen.Trial{ID: store.NewID(), Measure: m.ID, Side: m.Sides()[r.IntN(len(m.Sides()))], Value: float64(r.IntN(3)),
		Parts: []float64{}}
	if len(m.Stops) > 0 {
		x.Stop = m.Stops[0].ID
	}
	if m.InContext {
		x.Context = &screen.Context{Pace: "easy", Shod: "shoes"}
	}
	return x
}

// withoutBy leaves out who entered a trial: the answer of the entry does not look the name up.
func withoutBy(v room.Taking) room.Taking {
	if v.Current != nil {
		c := *v.Current
		c.Trials = append([]screen.Trial{}, c.Trials...)
		for i := range c.Trials {
			c.Trials[i].By = ""
		}
		v.Current = &c
	}
	return v
}

// meanwhile is something that comes in beside the screen.
func meanwhile(t *testing.T, r *rand.Rand, d *testkit.Desk, runner string) {
	o := look(t, d, runner)
	switch r.IntN(5) {
	case 0:
		s := refer.Signs[r.IntN(len(refer.Signs))]
		stop := refer.Stop{ID: store.NewID(), Sign: s.ID, Region: body.Calf, Side: body.Sides[r.IntN(2)], Source: "phone"}
		require.NoError(t, d.RecordStop(ctx, d.Actor, runner, stop))
		if r.IntN(3) > 0 {
			// an urgent one stays
			_ = d.Clear(ctx, d.Actor, runner, stop.ID, refer.Clearance{ID: store.NewID(), Kind: "reviewed", Who: "Coach", On: o.Today})
		}
	case 1:
		require.NoError(t, d.AddMorning(ctx, d.Actor, runner, "phone",
			build.Morning{ID: store.NewID(), On: o.Today, Region: body.HeelSole, Side: body.Left, Pain: r.IntN(9)}))
	case 2:
		require.NoError(t, d.AddRun(ctx, d.Actor, runner, "phone", load.Run{ID: store.NewID(), On: o.Today, Minutes: 30}, ""))
	case 3:
		if len(o.Prescriptions) > 0 {
			require.NoError(t, d.AddLog(ctx, d.Actor, runner, room.Entry{Log: adjust.Log{ID: store.NewID(), On: o.Today, Done: []int{3}, RPE: 7,
				Pain: r.IntN(9), Source: "phone"}, Prescription: o.Prescriptions[0].ID}))
		}
	case 4:
		v := float64(20 + r.IntN(15))
		require.NoError(t, d.Store.In(ctx, d.Actor.Practice, func(tx *store.Tx) error {
			return tx.ChangeRule(ctx, "calf.raises_straight.ref", &v,
				d.Actor.Coach)
		}))
	}
}

// A finished screen takes no more trials.
func TestAFinishedScreenTakesNoTrial(t *testing.T) {
	d := testkit.NewDesk(t, "a@test.example")
	runner := d.Runner(t, testkit.Profile())
	id := d.Screen(t, runner, testkit.Usual)
	err := d.Try(ctx, runner, id, screen.Trial{ID: store.NewID(), Measure: "ankle.knee_to_wall", Side: body.Left, Value: 9})
	assert.ErrorContains(t, err, "start a new one")
	assert.NotContains(t, asJSON(t, look(t, d, runner).Screens[0].Trials), `"value":9,`)
}

// What was shown is what the phone says, as far as it can have been: never more than was set, never of another rail.
// Where it says nothing, or too much, the day's dose is computed; the session is kept in any case.
func TestWhatWasShownIsWhatThePhoneSays(t *testing.T) {
	d := testkit.NewDesk(t, "a@test.example")
	runner := programmed(t, d, testkit.Profile())
	var p catalog.Prescription
	for _, x := range look(t, d, runner).Prescriptions {
		if x.Rail == "calf_straight" && x.Side == body.Left {
			p = x
		}
	}
	require.Equal(t, "one_floor 2 × 4", p.Exercise+" "+p.Dose.String())
	reps := func(sets, n int) body.Dose { return body.Dose{Kind: body.Repetitions, Sets: sets, Reps: n} }
	for name, c := range map[string]struct {
		says *adjust.Shown
		want string
	}{
		"nothing":                  {nil, "one_floor 2 × 4"},
		"as it was set":            {&adjust.Shown{Exercise: "one_floor", Dose: reps(2, 4)}, "one_floor 2 × 4"},
		"lowered since it was set": {&adjust.Shown{Exercise: "one_floor", Dose: reps(1, 4)}, "one_floor 1 × 4"},
		"an easier exercise":       {&adjust.Shown{Exercise: "two_floor", Dose: reps(3, 12)}, "two_floor 3 × 12"},
		"more than was set":        {&adjust.Shown{Exercise: "one_floor", Dose: reps(3, 12)}, "one_floor 2 × 4"},
		"a harder exercise":        {&adjust.Shown{Exercise: "one_step", Dose: reps(1, 1)}, "one_floor 2 × 4"},
		"of another rail":          {&adjust.Shown{Exercise: "short_seated", Dose: reps(1, 1)}, "one_floor 2 × 4"},
		"counted in another way": {&adjust.Shown{Exercise: "one_floor", Dose: body.Dose{Kind: body.Hold, Sets: 1, Seconds: 1}},
			"one_floor 2 × 4"},
		"no sets, which cannot be": {&adjust.Shown{Exercise: "one_floor", Dose: reps(0, 4)}, "one_floor 2 × 4"},
		"sets taken from it": {&adjust.Shown{Exercise: "one_floor", Dose: body.Dose{Kind: body.Repetitions, Sets: 2, Extra: -2, Reps: 4}},
			"one_floor 2 × 4"},
		"no count, which cannot be": {&adjust.Shown{Exercise: "one_floor", Dose: reps(2, 0)}, "one_floor 2 × 4"},
	} {
		id := store.NewID()
		require.NoError(t, d.AddLog(ctx, d.Actor, runner, room.Entry{Log: adjust.Log{ID: id, On: look(t, d, runner).Today, Done: []int{4}, RPE: 6,
			Source: "phone"}, Prescription: p.ID, Shown: c.says}), name)
		for _, l := range look(t, d, runner).Logs {
			if l.ID == id {
				assert.Equal(t, c.want, l.Prescription.Exercise+" "+l.Prescription.Dose.String(), name)
				assert.Equal(t, p.ID, l.Prescription.ID, name)
			}
		}
	}
	assert.Len(t, look(t, d, runner).Logs, 11)
}

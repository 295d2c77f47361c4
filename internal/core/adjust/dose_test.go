package adjust

import (
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"notchback/internal/core/body"
	"notchback/internal/core/catalog"
	"notchback/internal/core/permit"
)

// Back goes as low as is worth doing, then to an easier exercise only if it was done cleanly or stands in
// the same position at a lower level; a harder variant is never halved on.
func TestBackBelowTheFirstNotch(t *testing.T) {
	in := quiet()
	in.Current.Exercise, in.Current.Dose = "two_floor", dose(2, 8)
	f := facing(in)
	p := whole(in).Current
	for _, want := range []string{"1 × 8", "1 × 6", "1 × 4", "1 × 3"} {
		p = f.back(p)
		assert.Equal(t, "Two-leg raises, floor, "+want, p.Text())
	}
	assert.True(t, f.back(p).Parked, "nothing easier in the same position")

	// A stack lift never becomes a sit on tucked heels that was never done.
	in.Current.Rail, in.Current.Exercise, in.Current.Dose = "big_toe", "stack_lift", body.Dose{Kind: body.Ramp, Sets: 1, Seconds: 2}
	assert.True(t, facing(in).back(whole(in).Current).Parked)

	// From the first dose of one-leg raises: the two-leg ones off a step, done cleanly three weeks ago, at that dose.
	in.Current.Rail, in.Current.Exercise, in.Current.Dose = "calf_straight", "one_floor", dose(1, 3)
	was := in.Current
	was.Exercise, was.Dose, was.From = "two_step", dose(3, 10), today.Add(-40)
	in.Logs = append(in.Logs, logOn(was, -21))
	assert.Equal(t, "Two-leg raises off a step, 3 × 10", facing(in).back(whole(in).Current).Text())
}

// Below the first notch a climb goes by half again, rounded down, at least by one.
func TestUpBelowTheFirstNotch(t *testing.T) {
	for _, c := range []struct {
		exercise string
		from     body.Dose
		want     []string
	}{
		{"one_floor", dose(2, 3), []string{"2 × 4", "2 × 6", "2 × 8", "3 × 8"}},
		{"towel_one", dose(1, 3), []string{"1 × 4", "1 × 6", "1 × 8", "2 × 8"}},
		{"hold_two", body.Dose{Kind: body.Hold, Sets: 2, Seconds: 2},
			[]string{"2 × 3 s", "2 × 4 s", "2 × 6 s", "2 × 9 s", "2 × 13 s", "2 × 15 s"}},
		{"heel_bounce", body.Dose{Kind: body.Contacts, Sets: 2, Reps: 5},
			[]string{"2 × 7 contacts", "2 × 10 contacts", "2 × 15 contacts", "2 × 20 contacts", "3 × 20 contacts"}},
	} {
		in := quiet()
		for _, r := range catalog.Shipped.Rails {
			if _, ok := r.Exercise(c.exercise); ok {
				in.Current.Rail = r.ID
			}
		}
		in.Current.Exercise, in.Current.Dose = c.exercise, c.from
		f, p := facing(in), whole(in).Current
		for _, want := range c.want {
			p = f.up(p)
			assert.Equal(t, want, p.Dose.String(), c.exercise)
			assert.Equal(t, c.exercise, p.Exercise)
		}
	}
}

// A cramp at a repetitions-maximum takes repetitions away at the same weight; it never makes the weight heavier.
func TestACrampAtARepetitionsMaximumKeepsTheWeight(t *testing.T) {
	in := quiet()
	in.Current.Exercise, in.Current.Dose = "heavy_slow", body.Dose{Kind: body.RMLoad, Sets: 4, Reps: 8}
	in.Profile.Equipment.DumbbellsKg = []float64{10, 20}
	l := logOn(in.Current, -1)
	l.CrampAt = 5
	in.Logs = []Log{logOn(in.Current, -4), l}
	p := proposed(in)
	assert.Equal(t, body.Dose{Kind: body.Repetitions, Sets: 4, Reps: 4, OfRM: 8}, p.To.Dose, "%v", p.Fired)
	assert.Equal(t, "4 × 4 with the weight of 8 RM", p.To.Dose.String())
}

// Two dumbbells of one weight are one step, and a weight the leg cannot be trusted with waits for a test.
func TestDumbbellsOwned(t *testing.T) {
	climb := func(kg ...float64) []string {
		in := quiet()
		in.Profile.Equipment.DumbbellsKg = kg
		in.Current.Exercise, in.Current.Dose = "one_dumbbell", dose(3, 10)
		in.Current.Dose.LoadKg = kg[0]
		f, p := facing(in), whole(in).Current
		var out []string
		for range 40 {
			next := f.up(p)
			if next.Dose == p.Dose && next.Exercise == p.Exercise {
				return out
			}
			p = next
			out = append(out, p.Exercise+" "+body.Plain(p.Dose.String()))
		}
		return append(out, "no end")
	}
	assert.Equal(t, []string{"one_dumbbell 3 × 12 with 4 kg", "one_step_dumbbell 2 × 8 with 4 kg"}, climb(4, 4, 6)[:2])
	for _, s := range climb(2, 24) {
		assert.NotContains(t, s, "24 kg", "22 kg more on 70 kg of body mass")
	}
	assert.NotContains(t, climb(4, 4, 6), "no end")
}

// No step up grows the work of one exercise by more than half, small doses apart: up to ten repetitions, 20 s,
// 20 contacts or paces, 60 s of release a session, a step may add one set or five units.
func TestPropertyNoStepUpIsTooBig(t *testing.T) {
	steps, small := 0, 0
	for _, rail := range catalog.Shipped.Rails {
		for _, x := range rail.Exercises {
			for _, from := range x.Ladder {
				for _, share := range []int{100, 80, 60, 40, 20} {
					d := from.WithAmount(max(1, from.Amount()*share/100))
					in := quiet()
					in.Profile.Equipment = owner().Profile.Equipment
					in.Current.Rail, in.Current.Exercise, in.Current.Dose = rail.ID, x.ID, d
					if rail.Whole {
						in.Current.Side = body.Both
					}
					f := facing(in)
					to := f.up(whole(in).Current)
					work := func(d body.Dose) float64 { return float64(d.Sets * d.Amount()) } // of one session
					a, b := work(d), work(to.Dose)
					if to.Exercise != x.ID || to.Dose.LoadKg != d.LoadKg || to.Dose.Band != d.Band || to.Dose.Spm != d.Spm || b <= a ||
						d.Kind == body.RMLoad || d.Kind == body.Blocks || d.Kind == body.Minutes || x.Published() {
						continue
					}
					steps++
					limit := map[body.DoseKind]float64{body.Repetitions: 10, body.Contacts: 20, body.Paces: 20, body.Release: 60, body.Hold: 20,
						body.Effort: 20, body.Ramp: 20, body.Gathered: 20}[d.Kind]
					oneMore := to.Dose.Sets == d.Sets+1 && to.Dose.Amount() <= d.Amount() || b-a <= 5
					low := to.Dose.Amount() == d.Amount()+1 && to.Dose.Sets == d.Sets
					if a <= limit && (oneMore || low) {
						small++
						continue
					}
					if b > 1.5*a+1e-9 && !low {
						t.Errorf("%s: %s → %s", x.ID, d, to.Dose)
					}
				}
			}
		}
	}
	assert.Greater(t, steps, 300)
	assert.Greater(t, small, 30)
}

func TestAfterACrampTheTargetClimbsByTwo(t *testing.T) {
	in := quiet()
	in.Current.Dose, in.Current.Cause = dose(2, 5), "cramp"
	in.Logs = []Log{logOn(in.Current, -4), logOn(in.Current, -2)}
	assert.Equal(t, "One-leg raises, floor, 2 × 7", proposed(in).To.Text())
}

// Steps worked by hand: at most half more; up to ten repetitions a session one set or five units more.
func TestStepsByHand(t *testing.T) {
	in := quiet()
	f := facing(in)
	x := f.exercise
	x.Ladder = []body.Dose{dose(1, 5)}
	for _, c := range []struct{ from, next, want body.Dose }{
		{dose(1, 5), dose(2, 8), dose(2, 5)},    // 5 → 16: one set, 10
		{dose(1, 8), dose(1, 12), dose(1, 12)},  // 8 → 12: half more
		{dose(1, 6), dose(3, 6), dose(2, 6)},    // 6 → 18: one set
		{dose(2, 5), dose(2, 8), dose(2, 7)},    // 10 → 16: 2 × 2 more
		{dose(1, 5), dose(1, 10), dose(1, 10)},  // five more
		{dose(1, 5), dose(1, 11), dose(1, 10)},  // six: five of them
		{dose(1, 10), dose(2, 10), dose(2, 10)}, // one set more
		{dose(2, 8), dose(3, 8), dose(3, 8)},    // 16 → 24: half more
		{dose(2, 8), dose(3, 12), dose(3, 8)},   // 16 → 36: 24 of them
		{dose(2, 10), dose(4, 10), dose(3, 10)}, // 20 → 40: 30
		{dose(3, 8), dose(3, 15), dose(3, 12)},  // 24 → 45: 36
		{dose(1, 12), dose(2, 12), dose(2, 9)},  // 12 → 24: 18 in the two sets
		{dose(1, 12), dose(3, 4), dose(3, 4)},   // the same
		{dose(4, 5), dose(5, 5), dose(5, 5)},    // 20 → 25
	} {
		assert.Equal(t, c.want, f.grow(x, c.from, c.next), "%s → %s", c.from, c.next)
	}
	for kind, limit := range map[body.DoseKind]int{body.Repetitions: 10, body.Contacts: 20, body.Paces: 20, body.Hold: 20, body.Effort: 20,
		body.Gathered: 20, body.Release: 60} {
		d := body.Dose{Kind: kind, Sets: 1}
		assert.True(t, small(d.WithAmount(limit)), kind)
		assert.False(t, small(d.WithAmount(limit+1)), kind)
		d.Extra = 1
		assert.False(t, small(d.WithAmount(limit)), "two sets of it")
	}
}

// Below the lowest dose of an exercise a back goes to the last clean dose of an easier one that may be done and asks
// no more, else to the nearest of the same position and a lower level; what did not hurt to any that asks no more.
func TestWhereABackGoes(t *testing.T) {
	for name, c := range map[string]struct {
		at           string
		dose         body.Dose
		once         string // an exercise done cleanly
		of           body.Dose
		out          []string
		back, easier string
	}{
		"nothing done": {"one_floor", dose(1, 3), "", dose(0, 0), nil, "Two-leg raises off a step, 2 × 8",
			"Two-leg raises off a step, 2 × 8"},
		"the nearest is left out": {"one_floor", dose(1, 3), "", dose(0, 0), []string{"two_step"},
			"Two-leg raises, pause top and bottom, 3 × 8, 2 s hold", "Two-leg raises, pause top and bottom, 3 × 8, 2 s hold"},
		"done cleanly": {"one_floor", dose(1, 3), "two_floor", dose(3, 8), nil, "Two-leg raises, floor, 3 × 8",
			"Two-leg raises, floor, 3 × 8"},
		"cleanly, now left out": {"one_floor", dose(1, 3), "two_floor", dose(3, 8), []string{"two_floor"}, "Two-leg raises off a step, 2 × 8",
			"Two-leg raises off a step, 2 × 8"},
		"cleanly, but more":    {"two_pause", dose(1, 3), "two_floor", dose(3, 10), nil, "parked", "Pointing against a band, seated, 1 × 10"},
		"none of its position": {"two_floor", dose(1, 3), "", dose(0, 0), nil, "parked", "Pointing against a band, seated, 1 × 10"},
		"a retired one between": {"one_floor", dose(1, 3), "", dose(0, 0),
			[]string{"two_floor", "two_pause", "two_step", "two_step_load", "up2_down1_step"}, "parked", "Pointing against a band, seated, 1 × 10"},
		"none at all": {"two_floor", dose(1, 3), "", dose(0, 0), []string{"seated_band"}, "parked", "Two-leg raises, floor, 1 × 3"},
		"within the exercise": {"one_floor", dose(2, 8), "two_floor", dose(3, 8), nil, "One-leg raises, floor, 1 × 8",
			"One-leg raises, floor, 1 × 8"},
	} {
		in := quiet()
		in.Profile.Equipment.Bands = []string{"light"}
		in.Current.Exercise, in.Current.Dose, in.Logs = c.at, c.dose, nil
		if c.once != "" {
			was := in.Current
			was.ID, was.Exercise, was.Dose, was.From = "b", c.once, c.of, today.Add(-40)
			in.Logs = []Log{logOn(was, -20)}
		}
		f := facing(in)
		f.limits.Excluded = c.out
		assert.Equal(t, c.back, f.back(f.in.Current).Text(), name)
		assert.Equal(t, c.easier, strings.TrimSuffix(f.easier(f.in.Current).Text(), " with the light band"), name)
	}
}

// A cramp sets the next target under it: one repetition, or 80 % of the time; too little goes back one.
func TestTheTargetAfterACramp(t *testing.T) {
	for _, c := range []struct {
		exercise string
		dose     body.Dose
		at       int
		want     string
	}{
		{"one_floor", dose(2, 8), 7, "2 × 6"},
		{"one_floor", dose(2, 8), 3, "2 × 2"},
		{"one_floor", dose(2, 8), 2, "1 × 8"}, // back one
		{"one_floor", dose(2, 8), 20, "2 × 8"},
		{"hold_one", body.Dose{Kind: body.Hold, Sets: 3, Seconds: 20}, 15, "3 × 12 s"},
		{"hold_one", body.Dose{Kind: body.Hold, Sets: 3, Seconds: 20}, 4, "3 × 3 s"},
		{"hold_one", body.Dose{Kind: body.Hold, Sets: 3, Seconds: 20}, 3, "2 × 15 s"}, // 2 s are too little: back one
		{"hold_one", body.Dose{Kind: body.Hold, Sets: 3, Seconds: 20}, 60, "3 × 20 s"},
	} {
		in := quiet()
		for _, rail := range catalog.Shipped.Rails {
			if _, ok := rail.Exercise(c.exercise); ok {
				in.Current.Rail = rail.ID
			}
		}
		in.Current.Exercise, in.Current.Dose = c.exercise, c.dose
		in.Logs = []Log{logOn(in.Current, -4), logOn(in.Current, -2)}
		in.Logs[1].CrampAt = c.at
		p := proposed(in)
		assert.Equal(t, c.want, p.To.Dose.String(), "%s, cramp at %d: %v", c.dose, c.at, p.Fired[0].Reason)
	}
}

// What only kit, retirement or the coach keeps out is stepped over; a failed prerequisite ends the climb.
func TestWhatIsSteppedOver(t *testing.T) {
	answer := func(cuts ...string) permit.Answer {
		a := permit.Answer{Kind: permit.NotNow}
		for _, c := range cuts {
			a.Reasons = append(a.Reasons, permit.Reason{Cut: c, Sort: permit.Safety})
		}
		return a
	}
	assert.True(t, answer("kit").Only("kit", "retired"))
	assert.True(t, answer("kit", "retired").Only("kit", "retired"))
	assert.False(t, answer("kit", "prerequisite").Only("kit", "retired"))
	holds := answer("kit", "caution.bmi")
	holds.Reasons[1].Sort = permit.Holds
	assert.True(t, holds.Only("kit"), "what only holds keeps nothing out")
}

// A retired exercise that stands goes on climbing; nobody begins it.
func TestARetiredExerciseInForce(t *testing.T) {
	in := whole(quiet())
	in.Rail.Exercises = slices.Clone(in.Rail.Exercises)
	at := slices.IndexFunc(in.Rail.Exercises, func(x catalog.Exercise) bool { return x.ID == "one_floor" })
	in.Rail.Exercises[at].Retired = true
	assert.Equal(t, "One-leg raises, floor, 3 × 8", Propose(in).To.Text())
	in.Current.Exercise = in.Rail.Exercises[at-1].ID
	top := in.Rail.Exercises[at-1].Ladder
	in.Current.Dose = top[len(top)-1]
	assert.Equal(t, in.Rail.Exercises[at+1].ID, gather(&in).next.Exercise, "stepped over")
}

// The next tension starts at no more than half the count, made smaller where its first dose asks for more; too few are
// not worth a band.
func TestTheNextTensionStartsAtHalf(t *testing.T) {
	in := quiet()
	in.Profile.Equipment.Bands = []string{"light", "medium"}
	for _, c := range []struct {
		at, first body.Dose
		want      string
	}{
		{dose(2, 15), dose(2, 8), "2 × 7 with the medium band"},
		{dose(2, 16), dose(2, 8), "2 × 8 with the medium band"},
		{dose(2, 10), dose(1, 10), "1 × 10 with the medium band"},
		{dose(1, 10), dose(2, 10), "1 × 5 with the medium band"}, // 2 × 2 are too few
		{dose(1, 5), dose(2, 10), ""},
		{dose(1, 12), dose(2, 10), "2 × 3 with the medium band"},
	} {
		f := facing(in)
		x := f.exercise
		x.Grade, x.Ladder = catalog.ByBand, []body.Dose{c.first, c.at}
		c.at.Band = "light"
		got := ""
		if next, ok := f.within(x, c.at); ok && next.Band != "light" {
			got = next.String()
		}
		assert.Equal(t, c.want, got, "%s", c.at)
	}
}

// Missing kit is stepped over by at most one level.
func TestSteppingOverRaisesTheLevelByOne(t *testing.T) {
	for level, want := range map[int]string{3: "c", 4: "a"} {
		in := whole(quiet())
		x := in.Rail.Exercises[0]
		x.Grade, x.Needs, x.First, x.Tags = "", nil, nil, nil
		x.Trains, x.Bears, x.Ladder, x.Level = body.OneSide, "", []body.Dose{dose(2, 8)}, 2
		y, z := x, x
		x.ID, y.ID, z.ID, y.Needs, z.Level = "a", "b", "c", []string{"roller"}, level
		in.Rail.Exercises = []catalog.Exercise{x, y, z}
		in.Current.Exercise = "a"
		assert.Equal(t, want, gather(&in).next.Exercise, "from level 2 over a missing one to level %d", level)
		least := 1.0
		in.Rail.Exercises[1].Needs, in.Rail.Exercises[1].First = nil, []catalog.Need{{Measure: "toes.spread", AtLeast: &least, Says: "spread"}}
		assert.Equal(t, "a", gather(&in).next.Exercise, "a failed prerequisite ends the climb")
	}
}

// The first weight on work that lifts no body mass may be taken; the next ones at half more in all; on body mass a
// tenth more of the load.
func TestWhichWeightCarries(t *testing.T) {
	in := quiet()
	f := facing(in)
	kg := func(sets, reps int, load float64) body.Dose {
		d := dose(sets, reps)
		d.LoadKg = load
		return d
	}
	seated, standing := f.exercise, f.exercise
	seated.Share, standing.Share = 0, 1 // 70 kg
	for _, c := range []struct {
		x       catalog.Exercise
		at, to  body.Dose
		carries bool
	}{
		{seated, kg(2, 15, 0), kg(2, 15, 12), true},
		{seated, kg(2, 12, 4), kg(2, 9, 8), true},   // 96 → 144: half more
		{seated, kg(2, 12, 4), kg(2, 10, 8), false}, // 96 → 160
		{standing, kg(3, 12, 4), kg(2, 8, 11.4), true},
		{standing, kg(3, 12, 4), kg(2, 8, 11.5), false}, // 74 → 81.5
		{standing, kg(3, 12, 0), kg(2, 8, 7), true},
	} {
		assert.Equal(t, c.carries, f.carries(c.x, c.at, c.to), "%v: %s → %s", c.x.Share, c.at, c.to)
	}
}

// A set at a repetitions-maximum is never made of fewer repetitions: that would be a heavier weight.
func TestLessOfARepetitionsMaximum(t *testing.T) {
	f := facing(quiet())
	x, ok := f.rail.Exercise("heavy_slow")
	assert.True(t, ok)
	d, ok := f.less(x, body.Dose{Kind: body.RMLoad, Sets: 1, Reps: 6})
	assert.False(t, ok, "%s", d)
	d, ok = f.less(x, body.Dose{Kind: body.RMLoad, Sets: 4, Reps: 6})
	assert.True(t, ok)
	assert.Equal(t, body.Dose{Kind: body.RMLoad, Sets: 3, Reps: 6}, d, "a set less")
}

// A made dose of another kind than the ladder's is no beginning of it, and an exercise for which nothing is owned has no
// next dose.
func TestTheNextOfAnotherKind(t *testing.T) {
	in := quiet()
	in.Profile.Equipment = body.Equipment{}
	f := facing(in)
	loaded, _ := f.rail.Exercise("up2_down1")
	require.Empty(t, f.of(loaded))
	_, ok := f.within(loaded, dose(1, 8))
	assert.False(t, ok)
	hold, _ := catalog.Shipped.Find("balance")
	x := hold.Exercises[0]
	next := x.Ladder[0]
	require.True(t, next.Timed())
	raises, _ := f.rail.Exercise("one_floor")
	assert.Equal(t, dose(4, 10), f.grow(raises, dose(3, 10), dose(4, 15)), "one more set is a third more work")
	assert.Equal(t, dose(2, 15), f.grow(raises, dose(1, 20), dose(2, 20)), "one more set is twice the work")
	// What a published programme, a maximum, blocks or minutes go to next is theirs to say, however much more it is.
	published := raises
	published.StageDays = []int{14}
	assert.Equal(t, dose(4, 15), f.grow(published, dose(3, 10), dose(4, 15)))
	for _, k := range []body.DoseKind{body.RMLoad, body.Blocks, body.Minutes} {
		at, next := body.Dose{Kind: k, Sets: 1, Reps: 20, Seconds: 60}, body.Dose{Kind: k, Sets: 4, Reps: 20, Seconds: 60}
		assert.Equal(t, next, f.grow(raises, at, next), k)
	}
	made := dose(1, 2)
	assert.Equal(t, next, f.grow(x, made, next))
}

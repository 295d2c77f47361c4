package adjust

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"notchback/internal/core/body"
	"notchback/internal/core/catalog"
)

// Most protective is, in this order: lower level, less bouncing, nothing below level or on bent-back toes, fewer
// seconds under load times the load, fewer sets.
func TestWhatIsHarder(t *testing.T) {
	type dosed struct {
		exercise string
		dose     body.Dose
	}
	in := quiet()
	f := facing(in)
	hold := func(s int) body.Dose { return body.Dose{Kind: body.Hold, Sets: 2, Seconds: s} }
	loaded := dose(2, 8)
	loaded.LoadKg = 4
	twice := dose(2, 8)
	twice.PerDay = 2
	paused := dose(2, 8)
	paused.Seconds = 2
	for _, c := range []struct{ harder, than dosed }{
		{dosed{"one_floor", dose(1, 3)}, dosed{"two_step", dose(3, 12)}},   // level
		{dosed{"two_step", dose(2, 8)}, dosed{"two_floor", dose(3, 12)}},   // below level
		{dosed{"one_floor", dose(2, 9)}, dosed{"one_floor", dose(2, 8)}},   // seconds
		{dosed{"one_dumbbell", loaded}, dosed{"one_dumbbell", dose(2, 8)}}, // load
		{dosed{"one_floor", twice}, dosed{"one_floor", dose(3, 10)}},       // times a day
		{dosed{"two_pause", paused}, dosed{"two_pause", dose(2, 8)}},       // held longer
		{dosed{"one_floor", dose(4, 6)}, dosed{"one_floor", dose(3, 8)}},   // sets, all else the same
	} {
		a, ok := f.rail.Exercise(c.harder.exercise)
		assert.True(t, ok)
		b, _ := f.rail.Exercise(c.than.exercise)
		assert.True(t, f.in.harder(a, c.harder.dose, b, c.than.dose), "%v than %v", c.harder, c.than)
		assert.False(t, f.in.harder(b, c.than.dose, a, c.harder.dose), "%v than %v", c.than, c.harder)
	}
	in.Current.Rail, in.Current.Exercise = "spring", "free_two"
	f = facing(in)
	free, _ := f.rail.Exercise("free_two")
	one, _ := f.rail.Exercise("hands_one")
	light := f.in.Rail.Exercises[0]
	light.Share = 0
	for _, kg := range []float64{0, 2} { // nothing of the body lifted: by the work alone, then by the load
		d, more := dose(1, 10), dose(2, 10)
		d.LoadKg, more.LoadKg = kg, kg
		assert.True(t, f.in.harder(light, more, light, d), "%g kg", kg)
		heavier := d
		heavier.LoadKg = kg + 0.5
		assert.True(t, f.in.harder(light, heavier, light, d), "%g kg and half more", kg)
	}
	assert.True(t, f.in.harder(free, hold(1), one, hold(120)), "free bouncing is harder than with the hands, at one level")
}

// The last clean dose of an exercise: whole, no fault, pain 2 or less, no cramp, the next morning not above usual; and
// no more than was done of it since.
func TestTheLastCleanDose(t *testing.T) {
	for name, c := range map[string]struct {
		change func(l *Log, in *Input)
		want   string
	}{
		"as it was":           {func(*Log, *Input) {}, "3 × 10"},
		"pain 2":              {func(l *Log, _ *Input) { l.Pain = 2 }, "3 × 10"},
		"pain 3":              {func(l *Log, _ *Input) { l.Pain = 3 }, ""},
		"a fault":             {func(l *Log, _ *Input) { l.Faults = []string{"rushed"} }, ""},
		"a cramp":             {func(l *Log, _ *Input) { l.CrampAt = 9 }, ""},
		"not whole":           {func(l *Log, _ *Input) { l.Done = []int{10, 10, 9} }, ""},
		"morning at usual":    {func(_ *Log, in *Input) { in.Mornings = append(in.Mornings, morningOn(-20, 1)) }, "3 × 10"},
		"morning above usual": {func(_ *Log, in *Input) { in.Mornings = append(in.Mornings, morningOn(-20, 2)) }, ""},
		"less of it since": {func(_ *Log, in *Input) {
			was := in.Current
			was.Exercise, was.Dose, was.From = "two_step", dose(2, 8), today.Add(-40)
			l := logOn(was, -19)
			l.Pain = 5
			in.Logs = append(in.Logs, l)
		}, "2 × 8"},
		"less of it since, then more": {func(_ *Log, in *Input) {
			was := in.Current
			was.Exercise, was.From = "two_step", today.Add(-40)
			for i, d := range []body.Dose{dose(2, 8), dose(3, 8)} {
				was.Dose = d
				l := logOn(was, -19+i)
				l.Pain = 5
				in.Logs = append(in.Logs, l)
			}
		}, "2 × 8"},
	} {
		in := quiet()
		was := in.Current
		was.Exercise, was.Dose, was.From = "two_step", dose(3, 10), today.Add(-40)
		l := logOn(was, -21)
		c.change(&l, &in)
		in.Logs = append(in.Logs, l)
		f := facing(in)
		x, _ := f.rail.Exercise("two_step")
		got, ok := f.clean(x, func(body.Dose) bool { return true })
		assert.Equal(t, c.want != "", ok, name)
		if ok {
			assert.Equal(t, c.want, got.String(), name)
		}
	}
}

// A clean session once done on an easier exercise never brings a rail back easier than it comes back without one:
// every climb, every dose, a clean session of every dose of every earlier exercise.
func TestComingBackWithoutACleanSessionIsNotHarder(t *testing.T) {
	for _, rail := range catalog.Shipped.Rails {
		in := owner()
		in.Current.Rail, in.Current.Side = rail.ID, rail.Sides()[0]
		notches := rail.Every(whole(in).Limits)
		for k, n := range notches {
			in.Logs = nil
			in.Current = catalog.Prescription{ID: "p", Rail: rail.ID, Side: rail.Sides()[0], Exercise: n.Exercise, Dose: n.Dose,
				From: today.Add(-10), Parked: true}
			never := facing(in)
			without := never.returned(never.in.Current)
			for _, was := range notches[:k] {
				if was.Exercise == n.Exercise {
					continue
				}
				earlier := in.Current
				earlier.ID, earlier.Exercise, earlier.Dose, earlier.From, earlier.Parked = "b", was.Exercise, was.Dose, today.Add(-30), false
				in.Logs = []Log{logOn(earlier, -20)}
				once := facing(in)
				with := once.returned(once.in.Current)
				assert.False(t, !without.Parked && once.in.Gentler(with, without) < 0, "%s %s, once %s: %s with, %s without", rail.ID, n.Dose, was.Dose,
					with.Text(), without.Text())
			}
		}
	}
}

// Where the exercise in force may not be done: back to what the leg did cleanly; where it did an earlier one with a
// fault, to that one's lowest dose, no higher than who did it cleanly; what only the other leg did says nothing.
func TestGoingBackWhereNothingWasClean(t *testing.T) {
	rail, _ := catalog.Shipped.Find("big_toe")
	at := func(exercise string, dose int, side body.Side) catalog.Prescription {
		x, _ := rail.Exercise(exercise)
		return catalog.Prescription{ID: exercise, Rail: rail.ID, Side: side, Exercise: exercise, Dose: x.Ladder[dose], From: today.Add(-20)}
	}
	back := func(done catalog.Prescription, faults ...string) catalog.Prescription {
		in := owner()
		in.Profile.Cautions = []string{"surgery"} // nothing above level 1
		in.Current = at("tucked_limb", 1, body.Left)
		l := logOn(done, -10)
		l.Faults, l.Pain = faults, 0
		in.Logs, in.Mornings = []Log{l}, nil
		return facing(in).back(in.Current)
	}
	text := func(p catalog.Prescription) string { return p.Exercise + " " + p.Dose.String() }
	x, _ := rail.Exercise("toes_wall")
	require.Greater(t, len(x.Ladder), 1)
	top := len(x.Ladder) - 1
	clean := back(at("toes_wall", top, body.Left))
	assert.Equal(t, "toes_wall "+x.Ladder[top].String(), text(clean))
	unclean := back(at("toes_wall", top, body.Left), "toes grip")
	assert.Equal(t, "toes_wall "+x.Ladder[0].String(), text(unclean))
	rocks, _ := rail.Exercise("tucked_rocks")
	assert.Equal(t, "tucked_rocks "+rocks.Ladder[0].String(), text(back(at("toes_wall", top, body.Right))))
	assert.Equal(t, "tucked_rocks "+rocks.Ladder[0].String(), text(back(at("tucked_limb", 0, body.Left))))
}

// A dose done cleanly that asks more than the one in force hides none that was done cleanly before it and does not; what was
// done less of since holds it down all the same.
func TestTheLastCleanDoseThatFits(t *testing.T) {
	in := owner()
	rail, _ := catalog.Shipped.Find("toe_control")
	x, _ := rail.Exercise("toes_standing")
	in.Current = catalog.Prescription{ID: "p", Rail: rail.ID, Side: body.Right, Exercise: "toes_squat", Dose: dose(5, 3), From: today.Add(-9)}
	done := func(reps, on int) Log {
		p := in.Current
		p.Exercise, p.Dose = x.ID, dose(5, reps)
		l := logOn(p, on)
		l.Pain = 0
		return l
	}
	for _, c := range []struct {
		reps []int // of five sets, the oldest first
		want string
	}{{[]int{5}, ""}, {[]int{3, 5}, "5 × 3"}, {[]int{3, 5, 4}, "5 × 3"}, {[]int{4, 2, 5}, "5 × 2"}, {[]int{5, 3}, "5 × 3"}} {
		in.Logs, in.Mornings = nil, nil
		for i, n := range c.reps {
			in.Logs = append(in.Logs, done(n, -20+3*i))
		}
		got, ok := facing(in).clean(x, func(d body.Dose) bool { return d.Reps <= 3 })
		assert.Equal(t, c.want != "", ok, "%v", c.reps)
		if ok {
			assert.Equal(t, c.want, got.String(), "%v", c.reps)
		}
	}
}

package build

import (
	"fmt"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"notchback/internal/core/body"
	"notchback/internal/core/catalog"
	"notchback/internal/core/house"
)

func standing(t require.TestingT, day int, slot catalog.Slot, exercise string, side body.Side) Standing {
	for _, r := range catalog.Shipped.Rails {
		if x, ok := r.Exercise(exercise); ok {
			return Standing{On: today.Add(day), Slot: slot, Rail: r, Exercise: x, Side: side, Dose: x.Ladder[0]}
		}
	}
	require.Fail(t, "no exercise "+exercise)
	return Standing{}
}

// Daily supported bounces have no free day; once a retest opens free ones, the same week keeps it.
func TestFreeBouncesKeepTheirDayInAWeekLaidForSupportedOnes(t *testing.T) {
	kept := func(exercise string) (days []int) {
		var planned []Standing
		for d := range 7 {
			planned = append(planned, standing(t, d, catalog.Own, exercise, body.Left))
		}
		p := profile()
		p.Runs = nil
		c := NewCalendar(p, house.Rules{}, today, planned, slices.Values([]Standing(nil)))
		for d, s := range planned {
			if _, no, _ := c.Judge(s); no == nil {
				days = append(days, d)
			}
		}
		return days
	}
	assert.Equal(t, []int{0, 1, 2, 3, 4, 5, 6}, kept("hands_two"))
	assert.Equal(t, []int{0, 2, 4, 6}, kept("free_two"))
	assert.Equal(t, []int{0, 2, 4, 6}, kept("one_dumbbell"))
}

// Heavy work and free bounces are one class: they may share a day, not follow each other. What was really
// done counts, and a set near a tested best of 12 or fewer too.
func TestHeavyWorkAndFreeBouncesAreOneClass(t *testing.T) {
	p := profile()
	p.Runs = nil
	judge := func(s Standing, planned, done []Standing) bool {
		_, no, _ := NewCalendar(p, house.Rules{}, today, planned, slices.Values(done)).Judge(s)
		return no == nil
	}
	bounce := standing(t, 1, catalog.Own, "free_two", body.Left)
	assert.False(t, judge(bounce, []Standing{standing(t, 0, catalog.Own, "one_dumbbell", body.Left)}, nil))
	assert.True(t, judge(bounce, []Standing{standing(t, 1, catalog.Own, "one_dumbbell", body.Left)}, nil), "they share a day")
	assert.False(t, judge(standing(t, 0, catalog.Own, "free_two", body.Left), nil,
		[]Standing{standing(t, -1, catalog.Own, "one_dumbbell", body.Left)}))
	assert.True(t, judge(standing(t, 0, catalog.Own, "free_two", body.Left),
		[]Standing{standing(t, -1, catalog.Own, "one_dumbbell", body.Left)}, nil), "planned yesterday and not done")
	assert.True(t, judge(standing(t, 1, catalog.Own, "one_dumbbell", body.Right),
		[]Standing{standing(t, 0, catalog.Own, "one_dumbbell", body.Left)}, nil), "the other leg")
	near := standing(t, 0, catalog.Own, "one_floor", body.Left)
	near.Dose = body.Dose{Kind: body.Repetitions, Sets: 2, Reps: 9}
	for best, free := range map[int]bool{0: true, 11: false, 12: true, 13: true, 10: false} {
		near.Best = best
		assert.Equal(t, free, judge(near, nil, []Standing{standing(t, -1, catalog.Own, "one_dumbbell", body.Left)}), "9 of a best of %d", best)
	}
}

// A goal race: nothing at level 3 or bouncing within 72 h, nothing new for two weeks; a race that is run as
// a quality run is one. The lowering programme stays away from both.
func TestTheDaysBeforeARace(t *testing.T) {
	p := profile()
	p.Runs = nil
	done := []Standing{standing(t, -3, catalog.Own, "lower_straight", body.Left), standing(t, -3, catalog.Own, "one_floor", body.Left),
		standing(t, -40, catalog.Own, "two_floor", body.Left), standing(t, -3, catalog.Own, "ankle_rocks", body.Left)}
	judge := func(exercise string) (string, string) {
		dose, no, note := NewCalendar(p, house.Rules{}, today, nil,
			slices.Values(done)).Judge(standing(t, 0, catalog.Evening, exercise, body.Left))
		if no != nil {
			return "", no.Cut
		}
		return dose.String(), note
	}
	for _, c := range []struct {
		race                 body.Race
		exercise, dose, says string
	}{
		{body.Race{On: today.Add(1), Km: 42.2}, "lower_straight", "", "race"},
		{body.Race{On: today.Add(3), Km: 10}, "one_floor", "", "race"},
		{body.Race{On: today.Add(4), Km: 10}, "one_floor", "1 × 8", ""},
		{body.Race{On: today.Add(5), Km: 10}, "one_step", "", "race"},     // never done
		{body.Race{On: today.Add(5), Km: 10}, "two_floor", "", "race"},    // done forty days ago
		{body.Race{On: today.Add(14), Km: 10}, "one_step", "", "race"},    // two weeks
		{body.Race{On: today.Add(15), Km: 10}, "one_step", "2 × 8", ""},   // before them
		{body.Race{On: today.Add(5), Km: 10}, "toes_seated", "5 × 3", ""}, // level 1 may begin
		{body.Race{On: today.Add(1), Minor: true}, "lower_straight", "3 × 15, twice a day", ""},
		{body.Race{On: today, Minor: true}, "lower_straight", "3 × 15", "The first session is left out: a quality run today."},
		{body.Race{On: today.Add(1), Minor: true}, "one_dumbbell", "", "quality"},
	} {
		p.Races = []body.Race{c.race}
		dose, says := judge(c.exercise)
		assert.Equal(t, [2]string{c.dose, c.says}, [2]string{dose, says}, "%s, race %v", c.exercise, c.race)
	}
	p.Races = nil
	p.Runs = []body.FixedRun{{Weekday: 1, Minutes: 50, Quality: "quality", Time: "morning"}}
	dose, note := judge("lower_straight")
	assert.Equal(t, "3 × 15", dose)
	assert.Equal(t, "The evening session is left out: a quality run tomorrow morning.", note)
}

// Five days before a goal race a first programme holds level 0 and 1 only.
func TestNothingNewBeginsBeforeAGoalRace(t *testing.T) {
	in := input(trials([2]float64{7, 7}, [2]float64{36, 36}, [2]float64{12, 12}))
	in.Choices.Also = []string{"calf_straight", "short_foot", "heel_walk"}
	count := func() (n, high int) {
		for _, r := range Make(in).Rails {
			for _, pr := range r.Prescriptions {
				rail, _ := catalog.Shipped.Find(r.Rail)
				x, _ := rail.Exercise(pr.Exercise)
				n++
				if x.Level >= 2 || x.Bare || x.Edge || x.ToesBack {
					high++
				}
			}
		}
		return n, high
	}
	n, high := count()
	assert.Positive(t, n)
	assert.Positive(t, high)
	in.Profile.Races = []body.Race{{On: today.Add(5), Km: 21}}
	n, high = count()
	assert.Positive(t, n)
	assert.Zero(t, high)
	in.Profile.Races, in.Profile.GoalDate = nil, today.Add(5)
	_, high = count()
	assert.Positive(t, high, "a goal's date is no race")
}

// Two sessions running without room are named; one is not.
func TestNoRoomInTheWeek(t *testing.T) {
	p := profile()
	for quality, want := range map[int]int{0: 0, 1: 0, 2: 1} {
		p.Runs = nil
		for d := range quality {
			p.Runs = append(p.Runs, body.FixedRun{Weekday: 2 * d, Minutes: 50, Quality: "quality"})
		}
		var planned []Standing
		for _, d := range []int{-2, 0, 2, 4} {
			planned = append(planned, standing(t, d, catalog.Own, "one_dumbbell", body.Left), standing(t, d, catalog.Own, "short_seated", body.Left))
		}
		got := NewCalendar(p, house.Rules{}, today, planned, slices.Values([]Standing(nil))).NoRoom(today)
		assert.Len(t, got, want, "%d quality runs", quality)
		if want > 0 {
			assert.Contains(t, got["calf_straight"].Says, "quality run")
		}
		for _, d := range []int{0, 2, 4} { // one leg's session may stand: the rail has room
			planned = slices.Insert(planned, 0, standing(t, d, catalog.Own, "two_floor", body.Right))
		}
		assert.Empty(t, NewCalendar(p, house.Rules{}, today, planned, slices.Values([]Standing(nil))).NoRoom(today), "%d quality runs", quality)
	}
}

// A week laid out before a run became a quality run is weighed again, and says what no longer fits.
func TestAWeekIsWeighedAgain(t *testing.T) {
	in := input(trials([2]float64{7, 7}, [2]float64{36, 36}, [2]float64{12, 12}))
	made := Make(in)
	assert.Empty(t, Recheck(catalog.Shipped, made.Rails, made.Week, in.Profile, in.House))
	in.Profile.Runs = nil
	for d := range 7 {
		in.Profile.Runs = append(in.Profile.Runs, body.FixedRun{Weekday: d, Minutes: 50, Quality: "quality"})
	}
	got := Recheck(catalog.Shipped, made.Rails, made.Week, in.Profile, in.House)
	require.NotEmpty(t, got)
	assert.Contains(t, got[0].Says, "no longer fit")
	days := map[string]bool{}
	for _, r := range got { // one line a day for one reason
		_, why, _ := strings.Cut(r.Says, " no longer ")
		assert.False(t, days[why], r.Says)
		days[why] = true
	}
	in.Profile.MinutesByDay = make([]int, 7)
	assert.Contains(t, fmt.Sprint(Recheck(catalog.Shipped, made.Rails, made.Week, in.Profile, in.House)), "no minutes on")
}

// Two runs on one weekday: the quality run is never hidden by the other, whichever comes last.
func TestTwoRunsOnADayKeepTheQualityRun(t *testing.T) {
	for _, runs := range [][]body.FixedRun{{{Weekday: 1, Minutes: 40, Quality: "quality"}, {Weekday: 1, Minutes: 30, Quality: "easy"}},
		{{Weekday: 1, Minutes: 30, Quality: "easy"}, {Weekday: 1, Minutes: 40, Quality: "quality"}}} {
		in := input(trials([2]float64{7, 7}, [2]float64{36, 36}, [2]float64{12, 12}))
		in.Profile.Runs = runs
		w := Make(in).Week
		assert.Zero(t, daysOf(w, "calf_straight")&0b11, "neither the day before nor the day: %v", runs)
		assert.Equal(t, "quality", w.Days[1].Run.Quality)
	}
}

// The lowering programme is the whole calf work, and at most two calf rails stand.
func TestTheCalfCeiling(t *testing.T) {
	in := input(trials([2]float64{7, 7}, [2]float64{36, 36}, [2]float64{20, 20}))
	in.Profile.Symptoms = []body.Symptom{{Region: body.Achilles, Side: body.Left, Baseline: 2, Worst: 2}}
	in.Choices.Also = []string{"eccentric_straight", "eccentric_bent"}
	p := Make(in)
	for _, id := range []string{"eccentric_straight", "eccentric_bent"} {
		require.True(t, plan(t, p, id).Chosen, "%v", plan(t, p, id).Why)
	}
	for _, id := range []string{"calf_straight", "calf_bent", "toe_calf", "forefoot_hold"} {
		assert.False(t, plan(t, p, id).Chosen, "%s beside the lowering programme", id)
	}
	one := in
	one.House.Changed = map[string]float64{"build.calf.rails": 1}
	for _, id := range []string{"eccentric_straight", "eccentric_bent"} {
		assert.True(t, plan(t, Make(one), id).Chosen, "the two are one programme: %v", plan(t, Make(one), id).Why)
	}
	assert.Equal(t, 7, bitsOf(p.Week, "eccentric_straight"), "a published programme keeps its own days: %v", p.Week.GaveWay)
	in.Choices.Also = []string{"calf_straight", "calf_bent", "toe_calf"}
	p = Make(in)
	assert.False(t, plan(t, p, "toe_calf").Chosen)
	assert.Contains(t, plan(t, p, "toe_calf").Why.Says, "enough calf rails")
	// What is followed goes on, whatever a finding asks for.
	in.Choices.Also = nil
	in.Current = []catalog.Prescription{{Rail: "eccentric_straight", Side: body.Left, Exercise: "lower_straight",
		Dose: body.Dose{Kind: body.Repetitions, Sets: 3, Reps: 15, PerDay: 2}, From: today.Add(-20)}}
	in.Built = today.Add(-20)
	p = Make(in)
	assert.True(t, plan(t, p, "eccentric_straight").Chosen, "%v", plan(t, p, "eccentric_straight").Why)
	assert.Contains(t, plan(t, p, "calf_straight").Why.Says, "whole calf work")
	heavy := in
	heavy.Choices.Also = []string{"calf_bent"}
	for exercise, alone := range map[string]bool{"heavy_slow": true, "one_floor": false} {
		heavy.Current = nil
		for _, s := range body.Sides {
			d := body.Dose{Kind: body.RMLoad, Sets: 3, Reps: 12}
			if !alone {
				d = body.Dose{Kind: body.Repetitions, Sets: 2, Reps: 8}
			}
			heavy.Current = append(heavy.Current, catalog.Prescription{Rail: "calf_straight", Side: s, Exercise: exercise, Dose: d,
				From: today.Add(-5)})
		}
		assert.Equal(t, !alone, plan(t, Make(heavy), "calf_bent").Chosen, "bent beside %s: %s", exercise,
			plan(t, Make(heavy), "calf_bent").Why.Says)
	}
	in.Current[0].Parked = true
	in.Choices.Also = []string{"calf_straight"}
	assert.True(t, plan(t, Make(in), "calf_straight").Chosen, "a parked programme is not followed")
}

func bitsOf(w Week, rail string) (n int) {
	for _, d := range w.Days {
		for _, e := range d.Entries {
			if e.Rail == rail {
				n++
			}
		}
	}
	return n
}

// Whatever stands on two weeks, with any runs and races: the rules of the days, stated again apart from
// the code, hold for what is kept, and nothing is left out without one of them.
func TestPropertyTheCalendar(t *testing.T) {
	ids := []string{"one_dumbbell", "free_two", "free_one", "one_floor", "two_floor", "hands_two", "short_seated", "toe_lean", "hold_two",
		"towel_few", "bare_squat", "walk_heels"}
	rapid.Check(t, func(t *rapid.T) {
		p := anyRunner(t)
		for range rapid.IntRange(0, 2).Draw(t, "races") {
			p.Races = append(p.Races, body.Race{On: today.Add(rapid.IntRange(-3, 30).Draw(t, "race on")), Km: 10,
				Minor: rapid.Bool().Draw(t, "minor")})
		}
		draw := func(from, to, n int) (out []Standing) {
			for range rapid.IntRange(0, n).Draw(t, "how many") {
				s := standing(t, rapid.IntRange(from, to).Draw(t, "day"), rapid.SampledFrom([]catalog.Slot{catalog.After, catalog.Own, catalog.Evening,
					catalog.Before}).Draw(t, "slot"), rapid.SampledFrom(ids).Draw(t, "exercise"), rapid.SampledFrom(body.Sides).Draw(t, "side"))
				s.Best = rapid.SampledFrom([]int{0, 8, 10, 12, 25}).Draw(t, "best")
				out = append(out, s)
			}
			return out
		}
		planned, done := draw(0, 13, 12), draw(-35, -1, 8)
		c := NewCalendar(p, house.Rules{}, today, planned, slices.Values(done))
		class := func(s Standing) bool {
			return s.Exercise.Level == 4 || s.Exercise.Impact == body.FreeHops ||
				s.Best > 0 && s.Best <= 12 && s.Exercise.Level == 3 && s.Dose.Kind == body.Repetitions && s.Dose.Reps >= s.Best-2
		}
		shares := func(a, b Standing) bool {
			return a.Exercise.Trains == body.BothLegs || b.Exercise.Trains == body.BothLegs || a.Side == b.Side ||
				a.Exercise.Bears == body.BothLegs || b.Exercise.Bears == body.BothLegs
		}
		runs := func(on body.Date) (quality, late bool) {
			for _, r := range p.Runs {
				if r.Weekday == on.Weekday() && (r.Quality == "quality" || r.Minutes > 90) {
					quality, late = true, late || r.Time != "morning"
				}
			}
			for _, r := range p.Races {
				if r.On == on {
					quality, late = true, true
				}
			}
			return quality, late
		}
		kept := slices.Clone(done)
		for _, s := range planned {
			if _, no, _ := c.Judge(s); no == nil {
				kept = append(kept, s)
			}
		}
		broken := func(s Standing) string {
			for _, r := range p.Races {
				if n := r.On.Sub(s.On); !r.Minor && n >= 0 && n <= 14 {
					asks := s.Exercise.Level >= 2 || s.Exercise.Impact != body.NoImpact || s.Exercise.Bare || s.Exercise.Edge || s.Exercise.ToesBack
					was := slices.ContainsFunc(done, func(d Standing) bool { return d.Exercise.ID == s.Exercise.ID && s.On.Sub(d.On) <= 28 })
					if n == 0 || n <= 3 && (s.Exercise.Level >= 3 || s.Exercise.Impact != body.NoImpact) || asks && !was {
						return fmt.Sprintf("%d days before a race", n)
					}
				}
			}
			q, late := runs(s.On)
			before, _ := runs(s.On.Add(1))
			after, wasLate := runs(s.On.Add(-1))
			if class(s) && (before || q && (late || s.Slot != catalog.Evening) || after && wasLate && s.Slot != catalog.Evening) {
				return "at a quality run"
			}
			if s.Exercise.Level >= 3 && q && (s.Slot == catalog.After || s.Slot == catalog.Evening && late) {
				return "within 6 h after a quality run"
			}
			long, lateLong := q, late
			for _, r := range p.Runs {
				if r.Weekday == s.On.Weekday() && r.Quality == "long" {
					long, lateLong = true, lateLong || r.Time != "morning"
				}
			}
			if s.Rail.Foot && (s.Rail.Class == "strength" || s.Rail.Class == "endurance" || s.Rail.Class == "isometric") && long &&
				(s.Slot == catalog.After || s.Slot == catalog.Evening && lateLong) {
				return "foot strength on tired feet"
			}
			return ""
		}
		for _, s := range planned {
			dose, no, _ := c.Judge(s)
			rule := broken(s)
			free := !slices.ContainsFunc(kept, func(k Standing) bool { return class(s) && class(k) && s.On.Sub(k.On) == 1 && shares(s, k) })
			switch {
			case no == nil && rule != "":
				t.Fatalf("%s on %s %s stands %s", s.Exercise.ID, s.On, s.Slot, rule)
			case no == nil && !free:
				t.Fatalf("%s on %s without its free day", s.Exercise.ID, s.On)
			case no != nil && rule == "" && free:
				t.Fatalf("%s on %s is left out without a rule: %s", s.Exercise.ID, s.On, no.Says)
			case no != nil && no.Sort != "calendar":
				t.Fatalf("%s: a day's reason changes a dose", no.Sort)
			}
			near := slices.ContainsFunc(p.Races, func(r body.Race) bool { n := r.On.Sub(s.On); return !r.Minor && n > 0 && n <= 14 })
			want := s.Dose.Sets
			if strength := map[catalog.Class]bool{"strength": true, "endurance": true, "isometric": true, "spring": true}; near &&
				(s.Exercise.Level >= 2 || strength[s.Exercise.Class]) {
				want = (s.Dose.Sets + 1) / 2
			}
			if no == nil && dose.Sets != want {
				t.Fatalf("%s on %s: %d sets of %d, race near %v", s.Exercise.ID, s.On, dose.Sets, s.Dose.Sets, near)
			}
		}
	})
}

// Sixteen hard sets a week and leg: a rail beyond them gets fewer sessions, and one that finds none is left out.
func TestHardCalfSets(t *testing.T) {
	var why map[string]string
	var sore []Morning
	days := func(straight, bent int, also ...string) (p Programme, a, b int) {
		in := input(trials([2]float64{12, 12}, [2]float64{36, 36}, [2]float64{30, 30}))
		in.Profile.MinutesByDay = []int{60, 60, 60, 60, 60, 60, 60}
		in.Profile.Runs = nil
		in.Choices.Also, in.Built, in.Choices.Why, in.Mornings = also, today, why, sore
		for _, side := range body.Sides {
			in.Current = append(in.Current,
				catalog.Prescription{Rail: "calf_straight", Side: side, Exercise: "one_floor",
					Dose: body.Dose{Kind: body.Repetitions, Sets: straight, Reps: 8}, From: today.Add(-10)},
				catalog.Prescription{Rail: "calf_bent", Side: side, Exercise: "bent_standing",
					Dose: body.Dose{Kind: body.Repetitions, Sets: bent, Reps: 8}, From: today.Add(-10)})
		}
		p = Make(in)
		return p, bitsOf(p.Week, "calf_straight"), bitsOf(p.Week, "calf_bent")
	}
	both := []string{"calf_straight", "calf_bent"}
	_, a, b := days(2, 2, both...)
	assert.Equal(t, [2]int{3, 3}, [2]int{a, b}, "12 sets")
	p, a, b := days(3, 3, both...)
	assert.Equal(t, [2]int{3, 2}, [2]int{a, b}, "9 and 6: a ninth would make 18")
	assert.Contains(t, fmt.Sprint(plan(t, p, "calf_bent").Why.Saw), "15 of at most 16 a week: 2 sessions instead of 3")
	_, a, b = days(4, 4, both...)
	assert.Equal(t, [2]int{3, 1}, [2]int{a, b}, "12 and 4 are 16")
	p, a, b = days(5, 3, both...)
	assert.Equal(t, [2]int{3, 0}, [2]int{a, b})
	assert.Equal(t, "left out: 15 hard calf sets a week stand already, at most 16", plan(t, p, "calf_bent").Why.Says)
	// A word why reaches 24, not while a watched place is above usual.
	why = map[string]string{"calf_bent": "a hilly race"}
	_, a, b = days(4, 4, both...)
	assert.Equal(t, [2]int{3, 3}, [2]int{a, b})
	sore = []Morning{{On: today, Region: body.HeelSole, Side: body.Left, Pain: 2}}
	_, a, b = days(4, 4, both...)
	assert.Equal(t, [2]int{3, 1}, [2]int{a, b})
}

package build

import (
	"fmt"
	"math/bits"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"notchback/internal/core/body"
	"notchback/internal/core/catalog"
	"notchback/internal/core/house"
	"notchback/internal/core/refer"
	"notchback/internal/core/screen"
)

const today = body.Date("2026-03-02") // a Monday

func profile() body.Profile {
	p := body.NewProfile()
	p.BirthDate, p.MassKg, p.LegMm, p.FootMm, p.BigToeMm = "1985-05-05", 70, 850, 260, 60
	p.WeeklyMinutes = 150
	p.Runs = []body.FixedRun{{Weekday: 1, Minutes: 45, Quality: "quality"}, {Weekday: 3, Minutes: 40, Quality: "easy"}, {Weekday: 6, Minutes: 70, Quality: "long"}}
	p.MinutesByDay = []int{20, 20, 20, 20, 20, 20, 20}
	p.Equipment = body.Equipment{DumbbellsKg: []float64{4, 6, 8}, StepCm: 18, PlatesMm: []float64{5, 10, 20}, Strap: true, Roll: true}
	return p
}

func trials(ankle, toe [2]float64, raises [2]float64) []screen.Trial {
	var out []screen.Trial
	for i, s := range body.Sides {
		out = append(out,
			screen.Trial{Measure: "ankle.knee_to_wall", Side: s, Value: ankle[i], On: today},
			screen.Trial{Measure: "toe.passive_height", Side: s, Value: toe[i], On: today},
			screen.Trial{Measure: "toe.active_height", Side: s, Value: toe[i] / 2, On: today},
			screen.Trial{Measure: "calf.raises_straight", Side: s, Value: raises[i], Stop: "height", On: today})
	}
	return out
}

func input(ts []screen.Trial) Input {
	return Input{Profile: profile(), Trials: ts, Today: today}
}

func plan(t *testing.T, p Programme, rail string) RailPlan {
	t.Helper()
	for _, r := range p.Rails {
		if r.Rail == rail {
			return r
		}
	}
	t.Fatalf("no rail %s", rail)
	return RailPlan{}
}

// 12 one-leg raises start on one-leg raises on the floor with ⌊0.6 × 12⌋ = 7: 2 × 7.
func Example() {
	in := input(trials([2]float64{7, 7}, [2]float64{36, 36}, [2]float64{12, 12}))
	for _, r := range Make(in).Rails {
		if r.Rail == "calf_straight" {
			fmt.Println(r.Prescriptions[0].Text())
		}
	}
	// Output: One-leg raises, floor, 2 × 7
}

// The placement table of the calf rail: < 5 two legs (fixed 3 × 10), 5–9 up on two and down on one,
// 10–14 one leg, 15–24 on the step, 25 and over the smallest dumbbell; ⌊60 %⌋ kept within 5–12.
func TestPlaceCalf(t *testing.T) {
	calf, _ := catalog.Find("calf_straight")
	for _, c := range []struct {
		raises float64
		want   string
	}{
		{0, "Two-leg raises, floor, 3 × 10"}, {4, "Two-leg raises, floor, 3 × 10"},
		{5, "Up on two, slowly down on one, 2 × 5"}, {9, "Up on two, slowly down on one, 2 × 5"},
		{10, "One-leg raises, floor, 2 × 6"}, {14, "One-leg raises, floor, 2 × 8"},
		{15, "One-leg raises off a step, 2 × 9"}, {24, "One-leg raises off a step, 2 × 12"},
		{25, "One-leg raises with a dumbbell, 2 × 12 with 4 kg"}, {60, "One-leg raises with a dumbbell, 2 × 12 with 4 kg"},
	} {
		in := input(trials([2]float64{7, 7}, [2]float64{36, 36}, [2]float64{c.raises, c.raises}))
		s := place(calf, body.Left, in, catalog.LimitsOf(in.Profile, false, in.House))
		assert.Equal(t, c.want, s.exercise.Name+", "+s.dose.String(), "%v raises", c.raises)
	}
}

func TestPlaceWithoutTheKitTakesTheEasierVariant(t *testing.T) {
	in := input(trials([2]float64{7, 7}, [2]float64{36, 36}, [2]float64{20, 20}))
	in.Profile.Equipment = body.Equipment{}
	p := Make(in)
	assert.Equal(t, "One-leg raises, floor, 2 × 12", plan(t, p, "calf_straight").Prescriptions[0].Text())
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
}

func TestCalmKeepsCalfWorkOut(t *testing.T) {
	in := input(trials([2]float64{7, 7}, [2]float64{20, 20}, [2]float64{12, 12}))
	in.Profile.Symptoms = []body.Symptom{{Region: body.Heel, Side: body.Left, Baseline: 4, Worst: 6}}
	p := Make(in)
	assert.Equal(t, Calm, p.Phase)
	assert.False(t, plan(t, p, "calf_straight").Chosen)
	assert.True(t, plan(t, p, "ankle_bend").Chosen)
	for i := range 6 { // six of seven mornings at 2: Calm is over
		in.Mornings = append(in.Mornings, Morning{On: today.Add(-i), Region: body.Heel, Side: body.Left, Pain: 2})
	}
	p = Make(in)
	assert.Equal(t, Build, p.Phase)
	assert.True(t, plan(t, p, "calf_straight").Chosen)
	in.Mornings[3].Pain = 3
	assert.Equal(t, Calm, Make(in).Phase, "one morning at 3 keeps Calm")
}

func TestAStopKeepsTheSideOut(t *testing.T) {
	in := input(trials([2]float64{7, 7}, [2]float64{36, 36}, [2]float64{12, 12}))
	in.Stops = []refer.Stop{{Sign: "swelling", Region: body.Calf, Side: body.Left, On: today}}
	r := plan(t, Make(in), "calf_straight")
	require.Len(t, r.Prescriptions, 1)
	assert.Equal(t, body.Right, r.Prescriptions[0].Side)
}

func TestUnder18NeedsConsentAndNoHeavyLoad(t *testing.T) {
	in := input(trials([2]float64{7, 7}, [2]float64{36, 36}, [2]float64{22, 22}))
	in.Profile.BirthDate = "2010-01-01"
	assert.Contains(t, Make(in).Refuse, "guardian")
	in.Profile.GuardianConsent = true
	assert.Equal(t, "one_step", plan(t, Make(in), "calf_straight").Prescriptions[0].Exercise)
}

func TestAtMostSoManyRails(t *testing.T) {
	in := input(trials([2]float64{7, 7}, [2]float64{36, 36}, [2]float64{12, 12}))
	in.House = house.Rules{Changed: map[string]float64{"build.rails.max": 2}}
	p := Make(in)
	chosen := 0
	for _, r := range p.Rails {
		if r.Chosen {
			chosen++
		}
	}
	assert.Equal(t, 2, chosen)
	assert.Contains(t, p.Rails[2].Why.Says, "as many rails are active as may be")
}

func TestTheCoachsChoiceOfRails(t *testing.T) {
	in := input(trials([2]float64{12, 12}, [2]float64{36, 36}, [2]float64{12, 12}))
	assert.False(t, plan(t, Make(in), "ankle_bend").Chosen, "a clear ankle asks for nothing")
	in.Also, in.Without = []string{"ankle_bend"}, []string{"calf_straight"}
	p := Make(in)
	assert.Equal(t, "brought in by the coach", plan(t, p, "ankle_bend").Why.Says)
	assert.Equal(t, "left out by the coach", plan(t, p, "calf_straight").Why.Says)
	in.Profile.Symptoms = []body.Symptom{{Region: body.Heel, Side: body.Left, Baseline: 5}}
	in.Also, in.Without = []string{"calf_straight"}, nil
	assert.False(t, plan(t, Make(in), "calf_straight").Chosen, "not during Calm, whoever asks")
}

// Without a newer test the doses in force stay; with one they follow it, but a parked rail stays
// parked, never above where it was.
func TestBuildingAgain(t *testing.T) {
	in := input(trials([2]float64{7, 7}, [2]float64{36, 36}, [2]float64{20, 20}))
	low := catalog.Prescription{ID: "p", Rail: "calf_straight", Side: body.Left, Exercise: "two_floor", Dose: body.Dose{Kind: body.Repetitions, Sets: 2, Reps: 8}, From: today.Add(-9)}
	in.Current = []catalog.Prescription{low}
	r := plan(t, Make(in), "calf_straight")
	assert.Equal(t, "Two-leg raises, floor, 2 × 8", r.Prescriptions[0].Text())
	assert.Equal(t, today.Add(-9), r.Prescriptions[0].From, "the days at this dose go on counting")
	assert.Equal(t, "one_step", r.Prescriptions[1].Exercise, "a side without a dose is placed")
	in.Built = today
	assert.Equal(t, "two_floor", plan(t, Make(in), "calf_straight").Prescriptions[0].Exercise, "tested, but not since it was built")
	in.Built = today.Add(-9)
	for i := range in.Trials {
		if in.Trials[i].Measure == "calf.raises_straight" {
			in.Trials[i].On = today.Add(-20)
		}
	}
	assert.Equal(t, "two_floor", plan(t, Make(in), "calf_straight").Prescriptions[0].Exercise, "another rail's retest moves no dose of this one")
	for i := range in.Trials {
		in.Trials[i].On = today
	}
	assert.Equal(t, "one_step", plan(t, Make(in), "calf_straight").Prescriptions[0].Exercise)
	in.Current[0].Parked = true
	p := plan(t, Make(in), "calf_straight").Prescriptions[0]
	assert.True(t, p.Parked)
	assert.Equal(t, "two_floor", p.Exercise)
}

func TestUntestedStartsLowest(t *testing.T) {
	r := plan(t, Make(input(nil)), "calf_straight")
	assert.Equal(t, "Two-leg raises, floor, 2 × 8", r.Prescriptions[0].Text())
	assert.Contains(t, r.Placed[0].Says, "test first")
}

// Tuesday is a quality run: heavy calf stands neither on Monday nor on Tuesday, and never on two
// days running, the week repeating.
func TestWeekKeepsItsGaps(t *testing.T) {
	w := Make(input(trials([2]float64{7, 7}, [2]float64{36, 36}, [2]float64{12, 12}))).Week
	assert.True(t, w.Feasible)
	days := heavyDays(w)
	assert.Equal(t, 3, bits.OnesCount8(days))
	assert.Zero(t, days&0b11, "not on Monday or Tuesday")
	for _, e := range w.Days[3].Entries {
		assert.Equal(t, Evening, e.Slot, "away from runs: the evening of a run day")
	}
}

func heavyDays(w Week) (days uint8) {
	for d, day := range w.Days {
		for _, e := range day.Entries {
			if e.Rail == "calf_straight" {
				days |= 1 << d
			}
		}
	}
	return days
}

func anyProfile(t *rapid.T) body.Profile {
	p := profile()
	p.Runs = nil
	for d := range 7 {
		if q := rapid.SampledFrom([]string{"", "", "easy", "quality", "long"}).Draw(t, "run"); q != "" {
			p.Runs = append(p.Runs, body.FixedRun{Weekday: d, Minutes: 40, Quality: q})
		}
		p.MinutesByDay[d] = rapid.SampledFrom([]int{0, 5, 10, 20, 60}).Draw(t, "minutes")
	}
	p.Approaches = map[string]string{"around_runs": rapid.SampledFrom([]string{"away", "fresh"}).Draw(t, "around"), "often": rapid.SampledFrom([]string{"few", "daily"}).Draw(t, "often")}
	if rapid.Bool().Draw(t, "bare") {
		p.Equipment = body.Equipment{}
	}
	return p
}

func TestPropertyNoHardRuleOfTheWeekIsBroken(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		in := input(trials([2]float64{7, 7}, [2]float64{20, 36}, [2]float64{rapid.Float64Range(0, 24).Draw(t, "l"), 12}))
		in.Profile = anyProfile(t)
		w := Make(in).Week
		heavy := heavyDays(w)
		quality := map[int]bool{}
		for _, r := range in.Profile.Runs {
			quality[r.Weekday] = r.Quality == "quality"
		}
		for d := range 7 {
			s := 0
			for _, e := range w.Days[d].Entries {
				s += e.Seconds
				if rail, _ := catalog.Find(e.Rail); rail.ID == "big_toe" && e.Slot == BeforeRun {
					for _, pr := range Make(in).Rails {
						for _, p := range pr.Prescriptions {
							if x, ok := rail.Exercise(p.Exercise); ok && x.NotBefore {
								t.Fatalf("%s before a run", x.ID)
							}
						}
					}
				}
			}
			if s > 60*in.Profile.MinutesByDay[d] {
				t.Fatalf("day %d: %d s of %d min", d, s, in.Profile.MinutesByDay[d])
			}
			if heavy&(1<<d) != 0 && (heavy&(1<<((d+1)%7)) != 0 || quality[d] || quality[(d+1)%7]) {
				t.Fatalf("heavy on %d breaks a gap: %07b", d, heavy)
			}
		}
		if !w.Feasible && len(w.GaveWay) == 0 {
			t.Fatal("an infeasible week names what gave way")
		}
	})
}

// The branch-and-bound search matches a plain enumeration of every combination of days.
func TestPropertySearchIsExact(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		p := anyProfile(t)
		in := input(trials([2]float64{7, 7}, [2]float64{20, 20}, [2]float64{9, 12}))
		in.Profile = p
		runs := [7]*body.FixedRun{}
		for i := range p.Runs {
			runs[p.Runs[i].Weekday] = &p.Runs[i]
		}
		var rails []railWeek
		for _, plan := range Make(in).Rails {
			if plan.Chosen {
				rails = append(rails, prepare(plan, p, runs, house.Rules{}))
			}
		}
		if len(rails) != 3 {
			t.Fatalf("%d rails, wanted three", len(rails))
		}
		cost := func(days []mask) int {
			c, used := 0, uint8(0)
			for _, m := range days {
				c, used = c+m.cost, used|m.days
			}
			return c + 3*bits.OnesCount8(used)
		}
		best := 1 << 30
		for _, a := range rails[0].masks {
			for _, b := range rails[1].masks {
				for _, c := range rails[2].masks {
					var left [7]int
					for d, m := range p.MinutesByDay {
						left[d] = 60 * m
					}
					if k := cost([]mask{a, b, c}); k < best && take(&left, a.days, rails[0].seconds) && take(&left, b.days, rails[1].seconds) && take(&left, c.days, rails[2].seconds) {
						best = k
					}
				}
			}
		}
		got := []mask{}
		for i, d := range search(rails, p.MinutesByDay) {
			got = append(got, mask{d, rails[i].cost(d, runs)})
		}
		if cost(got) != best {
			t.Fatalf("search found %d, enumeration %d", cost(got), best)
		}
	})
}

func TestPropertyAStrongerTestNeverStartsEasier(t *testing.T) {
	calf, _ := catalog.Find("calf_straight")
	rapid.Check(t, func(t *rapid.T) {
		p := anyProfile(t)
		l := catalog.LimitsOf(p, false, house.Rules{})
		a, b := rapid.IntRange(0, 60).Draw(t, "a"), rapid.IntRange(0, 60).Draw(t, "b")
		if a > b {
			a, b = b, a
		}
		at := func(n int) (int, float64) {
			in := input([]screen.Trial{{Measure: "calf.raises_straight", Side: body.Left, Value: float64(n), Stop: "height", On: today}})
			in.Profile = p
			s := place(calf, body.Left, in, l)
			for _, o := range calf.Notches(l) {
				if o.Exercise == s.exercise.ID && (s.dose.Reps > 12 || s.dose.LoadKg > 0 && s.dose.LoadKg != p.Equipment.DumbbellsKg[0]) {
					t.Fatalf("%v is beyond its limits", s.dose)
				}
			}
			return s.at, s.dose.Work(0, 0)
		}
		ia, wa := at(a)
		ib, wb := at(b)
		if ib < ia || (ib == ia && wb < wa) {
			t.Fatalf("%d raises start higher than %d", a, b)
		}
	})
}

func TestUsualMorning(t *testing.T) {
	p := profile()
	p.Symptoms = []body.Symptom{{Region: body.Heel, Side: body.Left, Baseline: 3}}
	u := UsualMornings(p, nil, today)
	require.Len(t, u, 1)
	assert.Equal(t, 3.0, u[0].Level, "intake until there are four reports")
	var ms []Morning
	for i, pain := range []int{1, 1, 2, 4} {
		ms = append(ms, Morning{On: today.Add(-i), Region: body.Heel, Side: body.Left, Pain: pain})
	}
	assert.Equal(t, 1.5, UsualMornings(p, ms, today)[0].Level) // median of 1, 1, 2, 4
}

func BenchmarkBuild(b *testing.B) {
	in := input(trials([2]float64{7, 9}, [2]float64{20, 36}, [2]float64{9, 12}))
	for b.Loop() {
		Make(in)
	}
}

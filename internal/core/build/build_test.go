package build

import (
	"fmt"
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"notchback/internal/core/body"
	"notchback/internal/core/catalog"
	"notchback/internal/core/house"
	"notchback/internal/core/screen"
)

const today = body.Date("2026-03-02") // a Monday

func profile() body.Profile {
	p := body.NewProfile()
	p.BirthDate, p.MassKg, p.LegMm, p.FootMm, p.BigToeMm = "1985-05-05", 70, 850, 260, 60
	p.WeeklyMinutes = 150
	p.Runs = []body.FixedRun{{Weekday: 1, Minutes: 45, Quality: "quality"}, {Weekday: 3, Minutes: 40, Quality: "easy"},
		{Weekday: 6, Minutes: 70, Quality: "long"}}
	p.MinutesByDay = []int{20, 20, 20, 20, 20, 20, 20}
	p.Equipment = body.Equipment{DumbbellsKg: []float64{4, 6, 8}, StepCm: 18, PlatesMm: []float64{5, 10, 20}, Strap: true, Roll: true}
	p.Touch = body.Touch{Left: true, Right: true, On: today}
	return p
}

func trials(ankle, toe [2]float64, raises [2]float64) []screen.Trial {
	var out []screen.Trial
	for i, s := range body.Sides {
		out = append(out,
			screen.Trial{Measure: "ankle.knee_to_wall", Side: s, Value: ankle[i], On: today},
			screen.Trial{Measure: "toe.passive_height", Side: s, Value: toe[i], On: today},
			screen.Trial{Measure: "toe.active_height", Side: s, Value: toe[i] / 2, On: today},
			screen.Trial{Measure: "ankle.end_feel", Side: s, Value: 0, On: today},
			screen.Trial{Measure: "toes.shape", Side: s, Value: 0, On: today},
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

// 12 one-leg raises of 2 s start on one-leg raises of 3 s with ⌊0.6 × 12 × 2/3⌋ = 4: 2 × 4.
func Example() {
	in := input(trials([2]float64{7, 7}, [2]float64{36, 36}, [2]float64{12, 12}))
	for _, r := range Make(in).Rails {
		if r.Rail == "calf_straight" {
			fmt.Println(r.Prescriptions[0].Text())
		}
	}
	// Output: One-leg raises, floor, 2 × 4
}

// A sore heel under each approach, in Calm and after it.
func TestTheSoreHeelFollowsItsApproach(t *testing.T) {
	in := input(trials([2]float64{7, 7}, [2]float64{20, 20}, [2]float64{12, 12}))
	in.Profile.Symptoms = []body.Symptom{{Region: body.HeelSole, Side: body.Left, Baseline: 4, Worst: 6}}
	chosen := func(option string) (out []string) {
		in.Profile.Approaches = map[string]string{"sore_heel": option}
		for _, r := range Make(in).Rails {
			if r.Chosen {
				out = append(out, r.Rail)
			}
		}
		return out
	}
	assert.Equal(t, []string{"toe_calf", "calf_release"}, chosen("load")[:2], "loaded early, toes bent")
	assert.Equal(t, []string{"cold", "massage", "calf_release"}, chosen("settle")[:3])
	assert.NotContains(t, chosen("settle"), "toe_calf")
	assert.Equal(t, []string{"calf_release", "short_foot", "sole_release"}[:2], chosen("release")[:2])
	for _, o := range []string{"load", "settle", "release"} {
		assert.NotContains(t, chosen(o), "calf_straight", "not during Calm, and not beside the towel raise")
	}
	in.Profile.Symptoms[0].Baseline = 2
	assert.Equal(t, "toe_calf", chosen("settle")[0], "settled: now it is strengthened")
	assert.Contains(t, chosen("release"), "calf_straight")
}

// The sorest place is answered first, and every sore place counts.
func TestTheSorestPlaceIsAnsweredFirst(t *testing.T) {
	in := input(trials([2]float64{12, 12}, [2]float64{40, 40}, [2]float64{20, 20}))
	chosen := func() []string {
		var out []string
		for _, r := range Make(in).Rails {
			if r.Chosen && r.Why.Rule == "build.symptom" {
				out = append(out, r.Rail)
			}
		}
		return out
	}
	for _, pain := range [][2]int{{1, 3}, {3, 1}} {
		in.Profile.Symptoms = []body.Symptom{{Region: body.Arch, Side: body.Left, Baseline: pain[0]},
			{Region: body.Shin, Side: body.Left, Baseline: pain[1]}}
		first, second := "toe_calf", "shin"
		if pain[1] > pain[0] {
			first, second = "shin_release", "toe_calf"
		}
		got := chosen()
		require.NotEmpty(t, got)
		assert.Equal(t, first, got[0], "%v", pain)
		assert.Contains(t, got, second, "%v", pain)
	}
}

func TestHeavyLoadsWaitForTheirPhase(t *testing.T) {
	in := input(trials([2]float64{7, 7}, [2]float64{36, 36}, [2]float64{12, 12}))
	in.Profile.Equipment.DumbbellsKg = []float64{12}
	in.Choices.Notches = []PinnedNotch{{Rail: "calf_straight", Side: body.Left, Exercise: "heavy_slow",
		Dose: body.Dose{Kind: body.RMLoad, Sets: 3, Reps: 15}}}
	r := plan(t, Make(in), "calf_straight")
	assert.NotEqual(t, "heavy_slow", r.Prescriptions[0].Exercise)
	assert.Contains(t, fmt.Sprint(r.Placed[0].Saw), "refused, heavy loads wait until the references are met")
}

func TestAnExcludedExerciseIsGivenToNobody(t *testing.T) {
	in := input(trials([2]float64{7, 7}, [2]float64{36, 36}, [2]float64{20, 20}))
	in.Choices.Excluded = []string{"one_step"}
	r := plan(t, Make(in), "calf_straight")
	assert.Equal(t, "one_floor", r.Prescriptions[0].Exercise)
	assert.Contains(t, fmt.Sprint(r.Placed[0].Saw), "left out by the coach: the easier variant")
	assert.Error(t, Choices{Also: []string{"no_such"}}.Check(catalog.Shipped))
	assert.Error(t, Choices{Notches: []PinnedNotch{{Rail: "calf_straight", Exercise: "no_such"}}}.Check(catalog.Shipped))
	assert.Error(t, Choices{Days: []int{7}}.Check(catalog.Shipped))
}

// A better retest never lowers what was climbed to since; one that no longer covers it does.
func TestARetestThatCoversTheDoseKeepsIt(t *testing.T) {
	in := input(trials([2]float64{7, 7}, [2]float64{36, 36}, [2]float64{13, 13}))
	in.Built = today.Add(-9)
	for _, c := range []struct {
		exercise string
		dose     int
		raises   float64
		want     string
	}{
		{"one_floor", 10, 13, "One-leg raises, floor, 3 × 10"},
		{"one_floor", 10, 14, "One-leg raises, floor, 3 × 10"},
		{"one_floor", 12, 11, "One-leg raises, floor, 2 × 4"}, // 3 × 12 is more than was tested
		{"one_step", 10, 13, "One-leg raises, floor, 2 × 5"},  // the step asks for 15
		{"one_floor", 10, 8, "Two-leg raises off a step, 2 × 8"},
		{"one_floor", 10, 20, "One-leg raises off a step, 2 × 8"},
	} {
		in.Trials = trials([2]float64{7, 7}, [2]float64{36, 36}, [2]float64{c.raises, c.raises})
		in.Current = []catalog.Prescription{{Rail: "calf_straight", Side: body.Left, Exercise: c.exercise,
			Dose: body.Dose{Kind: body.Repetitions, Sets: 3, Reps: c.dose}, From: today.Add(-9)}}
		assert.Equal(t, c.want, plan(t, Make(in), "calf_straight").Prescriptions[0].Text(), "%s 3 × %d, tested %v", c.exercise, c.dose, c.raises)
	}
}

// What covers a dose is compared where the test counts what the dose counts: seconds by seconds, never a score.
func TestAHoldAndAScoreThatCoverTheDose(t *testing.T) {
	for _, c := range []struct {
		rail, measure, exercise string
		tested                  float64
		dose                    body.Dose
		want                    string
	}{
		{"balance", "balance.open", "balance_open", 25, body.Dose{Kind: body.Hold, Sets: 1, Seconds: 25, PerDay: 3}, "1 × 25 s, 3 times a day"},
		{"balance", "balance.open", "balance_open", 24, body.Dose{Kind: body.Hold, Sets: 1, Seconds: 25, PerDay: 3}, "1 × 14 s, 3 times a day"},
		{"short_foot", "foot.short", "short_seated", 0, body.Dose{Kind: body.Repetitions, Sets: 1, Reps: 6, Seconds: 5}, "1 × 6, 5 s hold"},
		// the next row's
		{"short_foot", "foot.short", "short_seated", 0, body.Dose{Kind: body.Repetitions, Sets: 1, Reps: 8, Seconds: 5}, "1 × 5, 5 s hold"},
		{"ankle_bend", "ankle.knee_to_wall", "ankle_rocks", 2, body.Dose{Kind: body.Repetitions, Sets: 1, Reps: 10, Seconds: 2},
			"1 × 10, 2 s hold"},
		{"ankle_bend", "ankle.knee_to_wall", "ankle_rocks", 2, body.Dose{Kind: body.Repetitions, Sets: 2, Reps: 10, Seconds: 2},
			"1 × 8, 2 s hold, 1 cm from the wall"},
		{"short_foot", "foot.short", "short_seated", 1, body.Dose{Kind: body.Repetitions, Sets: 1, Reps: 12, Seconds: 5}, "1 × 12, 5 s hold"},
	} {
		in := input(trials([2]float64{7, 7}, [2]float64{36, 36}, [2]float64{13, 13}))
		in.Built = today.Add(-9)
		for _, s := range body.Sides {
			in.Trials = slices.DeleteFunc(in.Trials, func(x screen.Trial) bool { return x.Measure == c.measure && x.Side == s })
			in.Trials = append(in.Trials, screen.Trial{Measure: c.measure, Side: s, Value: c.tested, On: today})
		}
		in.Choices.Also = []string{c.rail}
		in.Current = []catalog.Prescription{{Rail: c.rail, Side: body.Left, Exercise: c.exercise, Dose: c.dose, From: today.Add(-9)}}
		got := plan(t, Make(in), c.rail).Prescriptions[0].Dose.String()
		assert.Equal(t, c.want, body.Plain(got), "%s, tested %g", c.exercise, c.tested)
	}
}

// A big toe whose newer test is short again goes back to range; one that is free keeps what it climbed to.
func TestABigToeThatIsShortAgain(t *testing.T) {
	rail, _ := catalog.Shipped.Find("big_toe")
	lift, _ := rail.Exercise("stack_lift")
	for height, want := range map[float64]string{20: "toes_wall", 50: "stack_lift"} {
		in := input(trials([2]float64{7, 7}, [2]float64{height, height}, [2]float64{13, 13}))
		in.Built, in.Choices.Also = today.Add(-9), []string{"big_toe"}
		in.Current = []catalog.Prescription{{Rail: "big_toe", Side: body.Left, Exercise: "stack_lift", Dose: lift.Ladder[1], From: today.Add(-9)}}
		assert.Equal(t, want, plan(t, Make(in), "big_toe").Prescriptions[0].Exercise, "%g mm", height)
	}
}

func TestWhatIsBuiltIsKept(t *testing.T) {
	in := input(trials([2]float64{12, 12}, [2]float64{40, 40}, [2]float64{12, 12}))
	in.Current = []catalog.Prescription{{Rail: "ankle_bend", Side: body.Left, Exercise: "bent_stretch",
		Dose: body.Dose{Kind: body.Hold, Sets: 1, Seconds: 60}, From: today.Add(-30)}}
	in.Built = today
	r := plan(t, Make(in), "ankle_bend")
	assert.True(t, r.Chosen)
	assert.True(t, r.Keep)
	assert.Equal(t, 2, r.PerWeek)
}

func TestDraftsLaidSideBySide(t *testing.T) {
	in := input(trials([2]float64{7, 7}, [2]float64{36, 36}, [2]float64{12, 12}))
	a := Make(in)
	in.Choices = Choices{Without: []string{"ankle_bend"}}
	rows := map[string]Difference{}
	for _, d := range Compare(a, Make(in)) {
		rows[d.Name] = d
	}
	assert.True(t, rows["Phase"].Same)
	assert.Equal(t, "not in it", rows["Ankle bend"].B)
	assert.Contains(t, body.Plain(rows["Ankle bend"].A), "Knee-to-wall rocks, 2 × 8, 2 s hold, 6 cm from the wall (5 a week)")
	assert.False(t, rows["Minutes a week"].Same)
}

// Races: 14 days before, load kept and sets halved; 3 days before, nothing heavy; none on the day; no
// move up for 7 days after one, 14 after a marathon.
func TestRaceRules(t *testing.T) {
	p := profile()
	p.Races = []body.Race{{On: today.Add(20), Km: 21}, {On: today.Add(-10), Km: 42.2}}
	calf, _ := catalog.Shipped.Find("calf_straight")
	heavy, _ := calf.Exercise("one_floor")
	light, _ := calf.Exercise("two_floor")
	rail, _ := catalog.Shipped.Find("ankle_bend")
	stretch, _ := rail.Exercise("bent_stretch")
	d := body.Dose{Kind: body.Repetitions, Sets: 3, Extra: 1, Reps: 10}
	for _, c := range []struct {
		day   int
		state RaceState
		dose  string // of the heavy exercise; empty: kept out
	}{
		{0, Recovering, "(3 + 1) × 10"}, {4, Recovering, "(3 + 1) × 10"}, {5, FarFromRace, "(3 + 1) × 10"}, {6, NearRace, "2 × 10"},
		{16, NearRace, "2 × 10"},
		{17, CloseToRace, ""}, {19, CloseToRace, ""}, {20, RaceDay, ""}, {21, Recovering, "(3 + 1) × 10"}, {27, Recovering, "(3 + 1) × 10"},
		{28, FarFromRace, "(3 + 1) × 10"},
	} {
		r := RaceOn(p, today.Add(c.day), house.Rules{})
		state := FarFromRace
		if r != nil {
			state = r.State
		}
		assert.Equal(t, c.state, state, "day %d", c.day)
		got, ok := r.Dose(heavy, d)
		assert.Equal(t, c.dose != "", ok, "day %d", c.day)
		if ok {
			assert.Equal(t, c.dose, got.String(), "day %d", c.day)
		}
	}
	close := RaceOn(p, today.Add(18), house.Rules{})
	got, ok := close.Dose(light, d)
	assert.True(t, ok)
	assert.Equal(t, "2 × 10", got.String())
	got, _ = close.Dose(stretch, body.Dose{Kind: body.Hold, Sets: 1, Seconds: 60})
	assert.Equal(t, "1 × 60 s", got.String(), "one set stays one")
	p.Races, p.GoalDate = nil, today.Add(2)
	assert.Nil(t, RaceOn(p, today, house.Rules{}), "a goal's date is no race")
	p.Races = []body.Race{{On: today.Add(2), Km: 10, Minor: true}}
	assert.Nil(t, RaceOn(p, today, house.Rules{}), "a race run as a quality run is one")
}

// 160 a minute under “own + 5 %” goes to 168: steps of 4, two weeks each, the cadence counted at the end
// of each.
func TestCadenceIsPartOfThePlan(t *testing.T) {
	in := input(trials([2]float64{12, 12}, [2]float64{40, 40}, [2]float64{30, 30}))
	for range 3 {
		in.Trials = append(in.Trials, screen.Trial{Measure: "gait.cadence", Side: body.Both, Value: 160, On: today,
			Context: &screen.Context{Pace: "easy", Shod: "shoes"}})
	}
	p := Make(in)
	require.NotNil(t, p.Cadence)
	assert.Equal(t, []CadenceStep{{164, today, today.Add(14)}, {168, today.Add(14), today.Add(28)}}, p.Cadence.Steps)
	r := plan(t, p, "cadence")
	require.True(t, r.Chosen, r.Why.Says)
	require.Len(t, r.Prescriptions, 1)
	assert.Equal(t, "Metronome blocks, 4 × 1 min, 4 min between at 164 a minute", r.Prescriptions[0].Text())
	for _, d := range p.Week.Days {
		for _, e := range d.Entries {
			if e.Rail == "cadence" {
				assert.Equal(t, catalog.InRun, e.Slot)
				assert.NotEqual(t, "quality", d.Run.Quality)
			}
		}
	}
	assert.Contains(t, p.Retests, Retest{today.Add(14), "Count the cadence without the beat, at the same speed (step of 164 a minute)"})
	in.Profile.Approaches = map[string]string{"cadence": "leave"}
	assert.False(t, plan(t, Make(in), "cadence").Chosen)
}

func TestApproachesShapeTheProgramme(t *testing.T) {
	in := input(trials([2]float64{7, 7}, [2]float64{36, 36}, [2]float64{12, 12}))
	for _, side := range body.Sides {
		in.Trials = append(in.Trials, screen.Trial{Measure: "toe.press", Side: side, Value: 1, On: today},
			screen.Trial{Measure: "foot.short", Side: side, Value: 1, On: today})
	}
	has := func(approaches map[string]string, rail string) bool {
		in.Profile.Approaches = approaches
		return plan(t, Make(in), rail).Chosen
	}
	assert.True(t, has(nil, "toe_press"), plan(t, Make(in), "toe_press").Why)
	assert.False(t, has(map[string]string{"toes": "grip"}, "toe_press"))
	assert.True(t, has(map[string]string{"toes": "grip"}, "toe_grip"))
	in.Profile.Approaches = map[string]string{"toes": "grip"}
	assert.Contains(t, plan(t, Make(in), "toe_press").Why.Says, "another approach")
	in.Profile.Approaches, in.Profile.History.Prescribed = map[string]string{"inserts": "review"}, "inserts"
	assert.Contains(t, fmt.Sprint(Make(in).Retests), "looked at again with the prescriber")
	in.Profile.Approaches = map[string]string{"inserts": "leave"}
	assert.NotContains(t, fmt.Sprint(Make(in).Retests), "prescriber")
	in.Profile.Approaches = nil
	in.Profile.History.Sprain = true
	in.Profile.Equipment.Bands = []string{"light"}
	in.House = house.Rules{Changed: map[string]float64{"build.rails.max": 8}}
	assert.True(t, plan(t, Make(in), "balance").Chosen, "an ankle was sprained before: %v", plan(t, Make(in), "balance").Why)
}

// Nobody is stuck: under every option of every approach what is chosen finds its sessions, and a runner who fails
// every test but feeling and skin still has foot work to do at home.
func TestEveryoneHasSomethingToDo(t *testing.T) {
	for _, a := range house.Approaches {
		for _, o := range a.Options {
			in := input(trials([2]float64{7, 7}, [2]float64{36, 36}, [2]float64{12, 12}))
			in.Profile.Approaches = map[string]string{a.ID: o.ID}
			p := Make(in)
			n := 0
			for _, r := range p.Rails {
				if r.Chosen {
					n++
					assert.Positive(t, bitsOf(p.Week, r.Rail), "%s %s: %s has a day: %v", a.ID, o.ID, r.Rail, p.Week.GaveWay)
				}
			}
			assert.Greater(t, n, 2, "%s %s", a.ID, o.ID)
		}
	}
	in := input(nil)
	for _, m := range screen.Measures {
		worst := m.Min
		if m.Better == "lower" || m.Kind == screen.Pain || m.Kind == screen.Blemish {
			worst = m.Max
		}
		switch {
		case m.ID == "sole.touch":
			worst = 0
		case m.ID == "toes.shape", m.ID == "ankle.end_feel", m.ID == "squat.arch":
			worst = 1
		case m.InContext || len(m.Parts) > 0:
			continue
		}
		for _, side := range m.Sides() {
			in.Trials = append(in.Trials, screen.Trial{Measure: m.ID, Side: side, Value: worst, Stop: "height", On: today})
		}
	}
	p := Make(in)
	foot := 0
	for _, r := range p.Rails {
		rail, _ := catalog.Shipped.Find(r.Rail)
		if r.Chosen && len(r.Prescriptions) > 0 && (rail.Foot || rail.Part == "wake") && bitsOf(p.Week, r.Rail) > 0 {
			foot++
		}
	}
	assert.Positive(t, foot, "foot work at home, whatever failed")
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
	in.Choices = Choices{Also: []string{"ankle_bend"}, Without: []string{"calf_straight"}}
	p := Make(in)
	assert.Equal(t, "brought in by the coach", plan(t, p, "ankle_bend").Why.Says)
	assert.Equal(t, "left out by the coach", plan(t, p, "calf_straight").Why.Says)
	in.Profile.Symptoms = []body.Symptom{{Region: body.HeelSole, Side: body.Left, Baseline: 5}}
	in.Choices = Choices{Also: []string{"calf_straight"}}
	for _, pr := range plan(t, Make(in), "calf_straight").Prescriptions {
		assert.Contains(t, []string{"two_floor", "two_pause"}, pr.Exercise, "nothing on one leg or below level during Calm, whoever asks")
	}
}

func TestUsualMorning(t *testing.T) {
	p := profile()
	p.Symptoms = []body.Symptom{{Region: body.HeelSole, Side: body.Left, Baseline: 3}}
	u := UsualMornings(p, nil, today)
	require.Len(t, u, 1)
	assert.Equal(t, 3.0, u[0].Level, "intake until there are four reports")
	var ms []Morning
	for i, pain := range []int{1, 1, 2, 4} {
		ms = append(ms, Morning{On: today.Add(-i), Region: body.HeelSole, Side: body.Left, Pain: pain})
	}
	assert.Equal(t, 1.5, UsualMornings(p, ms, today)[0].Level) // median of 1, 1, 2, 4
}

func BenchmarkBuild(b *testing.B) {
	in := input(trials([2]float64{7, 9}, [2]float64{20, 36}, [2]float64{9, 12}))
	for b.Loop() {
		Make(in)
	}
}

// What intake asks of the day and the ground has its answer: hours of sitting open the front of the hip, hours of standing
// release the sole, uneven ground asks for balance; an hour less, or the road, brings in nothing.
func TestDaysAndGroundAreAnswered(t *testing.T) {
	chosen := func(change func(*body.Profile)) map[string]bool {
		in := input(nil)
		in.Profile.Equipment.SoftBall = true
		in.House = house.Rules{Changed: map[string]float64{"build.rails.max": 8}}
		change(&in.Profile)
		out := map[string]bool{}
		for _, r := range Make(in).Rails {
			out[r.Rail] = r.Chosen && (r.Why.Rule == "build.days" || r.Why.Rule == "build.ground")
		}
		return out
	}
	for name, c := range map[string]struct {
		change func(*body.Profile)
		rail   string
		want   bool
	}{
		"eight hours of sitting": {func(p *body.Profile) { p.SittingHours = 8 }, "hip_front", true},
		"less":                   {func(p *body.Profile) { p.SittingHours = 7.5 }, "hip_front", false},
		"six hours of standing":  {func(p *body.Profile) { p.StandingHours = 6 }, "sole_release", true},
		"fewer":                  {func(p *body.Profile) { p.StandingHours = 5 }, "sole_release", false},
		"trails":                 {func(p *body.Profile) { p.Surfaces = []string{"road", "trail"} }, "balance", true},
		"roads":                  {func(p *body.Profile) { p.Surfaces = []string{"road", "track", "treadmill"} }, "balance", false},
	} {
		assert.Equal(t, c.want, chosen(c.change)[c.rail], name)
	}
}

package catalog

import (
	"encoding/json"
	"fmt"
	"os"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"notchback/internal/core/body"
	"notchback/internal/core/permit"
	"notchback/internal/core/refer"
	"notchback/internal/core/screen"
)

func Example() {
	calf, _ := Shipped.Find("calf_straight")
	notches := calf.Notches(Limits{Equipment: body.Equipment{DumbbellsKg: []float64{4, 6}, StepCm: 18}, MassKg: 70, HeavyMinKg: 10})
	i, _ := At(notches, "one_dumbbell", body.Dose{Kind: body.Repetitions, Sets: 3, Reps: 12, LoadKg: 4})
	fmt.Println(body.Plain(notches[i].Words()))
	fmt.Println(body.Plain(notches[i+1].Words()))
	// Output:
	// One-leg raises with a dumbbell, 3 × 12 with 4 kg
	// One-leg raises with a dumbbell, 3 × 8 with 6 kg
}

// one is a small whole rail to break.
const one = `{"id":"r_one","name":"R","short":"R","part":"open","class":"range","trains":["range"],"perWeek":3,
	"regions":["calf"],"when":["own"],"faults":["f"],"stopWhen":["p"],
"exercises":[{"id":"x_one","name":"X","doses":["1 × 30 s","2 × 30 s"],"share":0.5,"needs":["step"],"setUp":"s","cues":["c"],"good":"g"},
{"id":"x_two","name":"Y","doses":["1 × 8"],"share":1,"needs":[],"setUp":"s","cues":["c"],"good":"g"}]}`

func railOf(t *testing.T, s string) Rail {
	t.Helper()
	var r Rail
	require.NoError(t, json.Unmarshal([]byte(s), &r))
	return r
}

func TestABrokenCatalogueIsRefusedWithWhatToDo(t *testing.T) {
	require.NoError(t, Shipped.Add(railOf(t, one)))
	for _, c := range []struct{ old, new, want string }{
		{`"stopWhen":["p"]`, `"stopWhen":[]`, "stopWhen: of X: has no stop sign"},
		{`"needs":["step"]`, `"needs":["trampoline"]`, `needs: of X: unknown equipment "trampoline"`},
		{`"2 × 30 s"`, `"1 × 20 s"`, "“1 × 20 s” is no harder than “1 × 30 s” before it"},
		{`"2 × 30 s"`, `"2 × 30"`, "counts another way"},
		{`"2 × 30 s"`, `"two of thirty"`, "is not a dose; write it like"},
		{`"2 × 30 s"`, `"2 × 30 s with 4 kg"`, "come from what the runner owns"},
		{`"share":1`, `"share":0.2`, "lifts less of the body than “X” before it"},
		{`"calf"`, `"elbow"`, "unknown region elbow"},
		{`"perWeek":3`, `"perWeek":9`, "1 to 7 sessions"},
		{`"cues":["c"]`, `"cues":["1","2","3","4","5"]`, "cues: of X: are 5; give one to four"},
		{`"part":"open"`, `"part":"dessert"`, "not a part of the session"},
		{`"when":["own"]`, `"when":["noon"]`, "not a time of the day"},
		{`"id":"x_one"`, `"id":"one_floor"`, "one_floor stands twice"},
		{`"id":"x_one"`, `"id":"X one"`, "use small letters"},
		{`"setUp":"s"`, `"setUp":" "`, "setUp: of X: is empty"},
		{`"good":"g"`, `"good":""`, "good: of X: is empty"},
		{`"doses":["1 × 30 s","2 × 30 s"]`, `"doses":[]`, "has no dose"},
		{`"needs":["step"]`, `"needs":[],"grade":"band"`, "climbs by band: name it in the kit"},
		{`"needs":["step"]`, `"needs":[],"first":[{"exercise":"no_such","says":"s"}]`, `waits for "no_such", which does not exist`},
		{`"needs":["step"]`, `"needs":[],"first":[{"exercise":"x_two","says":"s"}]`, "prerequisites lead in a circle: x_one → x_two → x_one"},
		{`"needs":["step"]`, `"needs":[],"draw":["giraffe"]`, "no figure part “giraffe”"},
		{`"needs":["step"]`, `"needs":[],"provenance":"published, quoted from memory"`, "a published dose names its source"},
		{`"needs":["step"]`, `"needs":[],"stageDays":[7]`, "a stage length for every dose"},
		{`"perWeek":3`,
			`"perWeek":3,"place":{"by":"score","measure":"foot.short","starts":[{"from":0,"exercise":"x_two"},{"from":2,"exercise":"x_one"}]}`,
			"a better test must not start lower"},
		{`"perWeek":3`,
			`"perWeek":3,"place":{"by":"hold","measure":"foot.short","starts":[
				{"from":0,"exercise":"x_one","fixed":true},{"from":5,"exercise":"x_one"}]}`,
			"may be more than the test's share"},
		{`"perWeek":3`,
			`"perWeek":3,"place":{"by":"score","measure":"foot.short","starts":[{"from":0,"exercise":"nope"}]}`, "not on the rail"},
	} {
		broken := strings.Replace(one, c.old, c.new, 1)
		require.NotEqual(t, one, broken, c.old)
		err := Shipped.Add(railOf(t, broken))
		assert.ErrorContains(t, err, c.want)
		var f *body.FieldError
		assert.ErrorAs(t, err, &f, "the form shows it beside the field")
	}
}

// What the shipped data names must exist in the rooms it leans on.
func TestTheCatalogueLeansOnWhatExists(t *testing.T) {
	limiters := map[string]bool{}
	for _, m := range screen.Measures {
		limiters[m.Limiter] = true
	}
	known := func(rail, measure string) {
		_, ok := screen.FindMeasure(measure)
		assert.True(t, ok, "%s: there is no measure %q", rail, measure)
	}
	for _, r := range Shipped.Rails {
		for l := range r.Answers {
			assert.True(t, limiters[l], "%s answers %q, which no measure leads to", r.ID, l)
		}
		for _, m := range r.Measures() {
			known(r.ID, m)
		}
		assert.NotEmpty(t, r.Trains, r.ID)
		for _, x := range r.Exercises {
			for _, n := range x.First {
				assert.NotEmpty(t, n.Says, x.ID)
				if n.Measure != "" {
					known(x.ID, n.Measure)
				}
			}
			for _, b := range x.Not {
				assert.NotEmpty(t, b.Says, x.ID)
				if b.Measure != "" {
					known(x.ID, b.Measure)
				} else if len(b.Sore) == 0 {
					assert.NoError(t, refer.CheckCautions([]string{b.Caution}), x.ID)
				}
			}
			assert.Positive(t, x.Seconds(x.Ladder[0], 2), x.ID)
			assert.NotEmpty(t, x.Provenance, x.ID)
			if x.Published() {
				assert.NotEmpty(t, x.Source, x.ID)
			}
		}
	}
}

// Every limiter of the screen is answered by some rail, symptoms and side differences apart.
func TestEveryLimiterIsAnswered(t *testing.T) {
	for _, m := range screen.Measures {
		if m.Limiter != "" && m.Limiter != "symptoms" && m.Limiter != "side_difference" {
			assert.NotEmpty(t, Shipped.Answering(m.Limiter), "%s (%s)", m.Limiter, m.ID)
		}
	}
}

// End-range and fascia work never stands at a run, the light tucked-toe rocks apart; neither heavy calf work nor a long
// static stretch before one.
func TestWhatNeverStandsAtARun(t *testing.T) {
	for _, r := range Shipped.Rails {
		for _, x := range r.Exercises {
			if strings.HasPrefix(x.ID, "tucked_") || r.ID == "fascia_rocks" || x.ID == "toe_ramp" || x.ID == "stack_lift" {
				assert.Equal(t, x.ID == "tucked_rocks", slices.Contains(x.When, Before), x.ID)
				assert.NotContains(t, x.When, After, x.ID)
			}
			if last := x.Ladder[len(x.Ladder)-1]; x.Class == Range && x.Has(body.Forced) && last.Kind == body.Hold &&
				last.TotalSets()*last.Seconds > 60 && x.Level >= 2 && x.ID != "tucked_rocks" {
				assert.NotContains(t, x.When, Before, "%s is a long stretch", x.ID)
			}
			if x.Has(body.CalfWork) && x.Level >= 3 && x.Class == Strength || x.Impact == body.FreeHops && r.ID != "spring" {
				assert.NotContains(t, x.When, Before, x.ID)
			}
		}
	}
}

func TestADoseIsReadBackAsItIsWritten(t *testing.T) {
	for _, r := range Shipped.Rails {
		seen := map[string]bool{}
		for _, n := range r.Every(Limits{Equipment: body.Equipment{DumbbellsKg: []float64{2.5, 8}, Bands: []string{"light", "strong"}},
			Spm: []int{165}}) {
			d, err := body.ParseDose(n.Text)
			require.NoError(t, err, n.Text)
			assert.Equal(t, n.Dose, d, n.Text)
			assert.False(t, seen[n.ID], "two notches of %s are called %q", r.ID, n.ID)
			seen[n.ID] = true
		}
	}
}

// feeling is an adult whose feet feel, whose toes and ankles have been looked at but for the shape of the toes.
func feeling() permit.Facts {
	p := body.NewProfile()
	p.BirthDate, p.MassKg, p.Touch = "1985-05-05", 70, body.Touch{Left: true, Right: true, On: "2026-03-01"}
	tests := map[body.Side]map[string]float64{}
	for _, s := range body.Sides {
		tests[s] = map[string]float64{"ankle.end_feel": 0, "squat.arch": 0}
	}
	return permit.Facts{Today: "2026-03-02", Profile: p, Tests: tests}
}

func TestNotchesStayWithinWhatIsOwnedAndAllowed(t *testing.T) {
	calf, _ := Shipped.Find("calf_straight")
	for _, n := range calf.Notches(Limits{Side: body.Left, Facts: feeling(), MassKg: 70, HeavyMinKg: 10}) {
		assert.NotContains(t, []string{"seated_band", "two_step", "one_step", "one_dumbbell", "heavy_slow"}, n.Exercise)
	}
	brittle := feeling()
	brittle.Profile.Cautions = []string{"bone"}
	for _, n := range calf.Notches(Limits{Side: body.Left, Facts: brittle, Equipment: body.Equipment{DumbbellsKg: []float64{12}, StepCm: 18},
		MassKg: 70, HeavyMinKg: 10}) {
		assert.NotContains(t, []string{"one_dumbbell", "heavy_slow"}, n.Exercise, "a caution bars load")
	}
	spring, _ := Shipped.Find("spring")
	ready := Limits{Side: body.Left, Facts: feeling(), MassKg: 70, Values: map[string]float64{"foot.short": 2, "calf.raises_straight": 20},
		Other: map[string]float64{"foot.short": 2, "calf.raises_straight": 19}}
	has := func(l Limits, x string) bool {
		return slices.ContainsFunc(spring.Notches(l), func(n Notch) bool { return n.Exercise == x })
	}
	assert.False(t, has(ready, "free_two"), "both feet bounce: the other side has 19 raises of 20")
	assert.False(t, has(ready, "free_one"), "supported one-foot bounces come first")
	ready.Reached = map[string]body.Dose{"hands_one": {Kind: body.Hold, Sets: 1, Seconds: 90}}
	assert.True(t, has(ready, "free_one"), "this side has its 20")
	ready.Other["calf.raises_straight"] = 20
	assert.True(t, has(ready, "free_two"))
	ready.Mornings = map[body.Region]float64{body.HeelSole: 3}
	assert.Empty(t, spring.Notches(ready), "mornings above 2 close the whole rail")
	grip, _ := Shipped.Find("toe_grip")
	shape := func(v float64) Limits {
		f := feeling()
		f.Tests[body.Left]["toes.shape"] = v
		return Limits{Side: body.Left, Facts: f}
	}
	assert.Empty(t, grip.Notches(Limits{Side: body.Left, Facts: feeling()}), "first the shape of the toes")
	assert.NotEmpty(t, grip.Notches(shape(0)))
	assert.Empty(t, grip.Notches(shape(1)), "never with clawed toes")
	assert.NotEmpty(t, grip.Notches(shape(2)), "a drifted big toe may grip")
	cold, _ := Shipped.Find("cold")
	numb := feeling()
	numb.Profile.Cautions = []string{"sensation"}
	for _, n := range cold.Notches(Limits{Side: body.Left, Facts: numb}) {
		assert.NotEqual(t, "settle_cold", n.Exercise, "no cold without feeling")
	}
	toe, _ := Shipped.Find("big_toe")
	ramp := func(l Limits) bool {
		return slices.ContainsFunc(toe.Notches(l), func(n Notch) bool { return n.Exercise == "toe_ramp" })
	}
	hold := func(s int) body.Dose { return body.Dose{Kind: body.Hold, Sets: 1, Seconds: s} }
	assert.False(t, ramp(Limits{Side: body.Left, Facts: feeling()}.Reach(toe, "tucked_sit", hold(30))))
	assert.True(t, ramp(Limits{Side: body.Left, Facts: feeling()}.Reach(toe, "tucked_sit", hold(60))),
		"a minute of the sitting stretch opens the ramp")
}

func TestBarredNotchesSayWhy(t *testing.T) {
	calf, _ := Shipped.Find("calf_straight")
	said := map[string]string{}
	for _, n := range calf.Every(Limits{Side: body.Left, Facts: feeling(), MassKg: 70, HeavyMinKg: 10, NoRM: true,
		Equipment: body.Equipment{DumbbellsKg: []float64{12}}}) {
		said[n.Exercise] = n.Barred
	}
	assert.Equal(t, "needs a step", said["one_step"])
	assert.Equal(t, "heavy loads wait until the references are met", said["heavy_slow"])
	assert.Equal(t, "", said["one_floor"])
}

func TestAtFindsTheNotchOfAnUnlistedDose(t *testing.T) {
	calf, _ := Shipped.Find("calf_straight")
	notches := calf.Notches(Limits{Equipment: body.Equipment{StepCm: 18}, MassKg: 70})
	// 2 × 9 lies between 2 × 8 and 3 × 8: it stands on 2 × 8.
	i, below := At(notches, "one_floor", body.Dose{Kind: body.Repetitions, Sets: 2, Reps: 9})
	assert.Equal(t, "One-leg raises, floor, 2 × 8", notches[i].Words())
	assert.False(t, below)
	i, below = At(notches, "one_floor", body.Dose{Kind: body.Repetitions, Sets: 2, Reps: 4})
	assert.Equal(t, "One-leg raises, floor, 2 × 8", notches[i].Words())
	assert.True(t, below)
	i, _ = At(notches, "one_dumbbell", body.Dose{Kind: body.Repetitions, Sets: 2, Reps: 8})
	assert.Equal(t, -1, i, "a dumbbell the runner does not own is on no notch")
	side, _ := Shipped.Find("side_ankle")
	bands := side.Notches(Limits{Equipment: body.Equipment{Bands: []string{"light", "medium"}}})
	i, _ = At(bands, "side_in", body.Dose{Kind: body.Repetitions, Sets: 1, Reps: 12, Band: "medium"})
	assert.Equal(t, "Band outward and inward, 3 × 20 with the light band", bands[i].Words(), "below the first of its tension")
}

// A practice's own rail takes the place of the shipped one of its id; a retired exercise goes to nobody
// anew, but who stands on it may finish it.
func TestThePracticesOwnRails(t *testing.T) {
	balance, _ := Shipped.Find("balance")
	mine := balance
	mine.Exercises = slices.Clone(balance.Exercises)
	mine.Exercises[1].Retired = true
	mine.Name = "Balance, our way"
	c := Shipped.With([]Rail{mine, railOf(t, one)})
	require.Empty(t, c.Broken)
	got, _ := c.Find("balance")
	assert.Equal(t, "Balance, our way", got.Name)
	assert.True(t, got.Own)
	assert.Len(t, c.Rails, len(Shipped.Rails)+1)
	names := func(l Limits) (out []string) {
		for _, n := range got.Notches(l) {
			out = append(out, n.Exercise)
		}
		return slices.Compact(out)
	}
	assert.NotContains(t, names(Limits{Side: body.Left, Facts: feeling()}), "balance_lean")
	assert.Contains(t, names(Limits{Side: body.Left, Facts: feeling()}.Reach(got, "balance_lean", got.Exercises[1].Ladder[0])), "balance_lean")
	still, _ := Shipped.Find("balance")
	assert.Equal(t, "Balance", still.Name, "the shipped catalogue is untouched")
	got.Retired = true
	c = Shipped.With([]Rail{got})
	require.Empty(t, c.Broken)
	for _, r := range c.Answering("balance") {
		assert.NotEqual(t, "balance", r.ID)
	}
}

func TestSecondsOfADose(t *testing.T) {
	x := Exercise{RepS: 3, RestS: 60, EachSide: true}
	for dose, want := range map[string]int{
		"3 × 10":                   10*3*3*2 + 2*60,
		"3 × 10, 2 s hold":         10*5*3*2 + 2*60,
		"3 × 30 s":                 30*3*2 + 2*60,
		"5 min":                    300 * 2,
		"2 spots × 30 s":           30*2*2 + 60,
		"60 s in all":              90 * 2,
		"4 × 1 min, 4 min between": 300*4*2 + 180,
		"3 × 15, twice a day":      2 * (15*3*3*2 + 120),
	} {
		d, err := body.ParseDose(dose)
		require.NoError(t, err)
		assert.Equal(t, want, x.Seconds(d, 2), dose)
	}
}

func TestDrawingsStayOnTheirSheet(t *testing.T) {
	drawn := 0
	for _, r := range Shipped.Rails {
		for _, x := range r.Exercises {
			shapes, err := x.Drawing()
			require.NoError(t, err)
			if len(shapes) > 0 {
				drawn++
			}
			for _, s := range shapes {
				assert.True(t, s.R > 0 || len(s.Points) > 1, x.ID)
				for _, p := range s.Points {
					assert.True(t, p.X >= 0 && p.X <= 120 && p.Y >= 0 && p.Y <= 100, "%s: %v", x.ID, p)
				}
			}
		}
	}
	assert.Greater(t, drawn, 15)
}

// One rail of a practice that breaks a rule is set aside; the others and the shipped ones work.
func TestABrokenOwnRailIsSetAside(t *testing.T) {
	broken := railOf(t, strings.NewReplacer("r_one", "r_bad", "x_one", "one_floor", "x_two", "x_bad").Replace(one))
	c := Shipped.With([]Rail{broken, railOf(t, one)})
	require.Len(t, c.Broken, 1)
	assert.Contains(t, c.SetAside("r_bad"), "stands twice")
	_, ok := c.Find("r_one")
	assert.True(t, ok, "the other own rail works")
	assert.Len(t, c.Rails, len(Shipped.Rails)+1)
	// A broken change of a shipped rail: the shipped one is shown, and nothing of it may be done until it is mended.
	balance, _ := Shipped.Find("balance")
	balance.PerWeek = 99
	c = Shipped.With([]Rail{balance})
	got, _ := c.Find("balance")
	a := Limits{Side: body.Left, Facts: feeling(), SetAside: []string{"balance"}}.May(got, got.Exercises[0])
	assert.Equal(t, permit.NotNow, a.Kind)
	assert.Equal(t, permit.Waits, a.Sort(), "its dose waits")
}

// What bears weight, presses or grips loads the heel too: a sore heel speaks to it.
func TestAHeelSpeaksToWhatLoadsIt(t *testing.T) {
	for _, id := range []string{"sole_release", "forefoot_hold", "toe_grip", "cold", "massage", "easy_stretch"} {
		r, ok := Shipped.Find(id)
		require.True(t, ok)
		for _, x := range r.Exercises {
			assert.True(t, r.Concerns(body.HeelSole, body.Left, body.Left) || slices.Contains(x.Main, body.HeelSole) ||
				slices.Contains(x.Also, body.HeelSole), "%s of %s", x.ID, id)
		}
	}
	r, _ := Shipped.Find("easy_stretch")
	x, ok := r.Exercise("settle_stretch")
	require.True(t, ok)
	for pain, free := range map[float64]bool{0: true, 6: false} {
		l := Limits{Side: body.Left, Facts: feeling(), Mornings: map[body.Region]float64{body.HeelSole: pain}, Values: map[string]float64{},
			Equipment: body.Equipment{Strap: true, Roll: true}}
		may, why := l.Allowed(r, x)
		assert.Equal(t, free, may, "heel usually %g: %s", pain, why)
	}
}

// A copy keeps what its source asks of the legs; what nobody stated is the hardest it could be, and a
// stated level below what load and share imply is refused.
func TestWhatAnOwnExerciseAsksOfTheLegs(t *testing.T) {
	c := Shipped.With([]Rail{railOf(t, one)})
	r, _ := c.Find("r_one")
	for _, x := range r.Exercises {
		assert.True(t, x.Unstated, x.ID)
		assert.Equal(t, 3, x.Level, "%s: repetitions and holds without load could be one leg, heel off", x.ID)
		assert.True(t, x.Edge && x.ToesBack && x.Bare, x.ID)
	}
	contacts := railOf(t, strings.Replace(one, `"1 × 8"`, `"1 × 8 contacts"`, 1))
	contacts, err := contacts.Complete()
	require.NoError(t, err)
	assert.Equal(t, body.FreeHops, contacts.Exercises[1].Impact)
	assert.Equal(t, 4, contacts.Exercises[1].Level)

	calf, _ := Shipped.Find("calf_straight")
	oneStep, _ := calf.Exercise("one_step")
	copied := railOf(t, strings.Replace(one, `"name":"Y"`, `"name":"`+oneStep.Name+`"`, 1))
	copied, err = copied.Complete()
	require.NoError(t, err)
	y := copied.Exercises[1]
	assert.Equal(t, "one_step", y.CopyOf)
	assert.Equal(t, oneStep.Level, y.Level)
	assert.True(t, y.Edge)
	assert.True(t, y.Unstated, "guessed: the practice confirms it")

	stated := strings.Replace(one, `"share":1,"needs":[]`,
		`"share":1,"trainsLegs":"side","level":1,"tags":["calf"],"grade":"dumbbell","needs":["dumbbell"]`, 1)
	err = Shipped.Add(railOf(t, stated))
	assert.ErrorContains(t, err, "carries at least 4")
}

// What each level means, on exercises a physiotherapist would name at once (common practice, no source).
func TestLevelsOfWellKnownExercises(t *testing.T) {
	want := map[string]int{"sole_hands": 0, "short_seated": 1, "two_floor": 2, "walk_heels": 2, "balance_open": 2, "one_floor": 3,
		"walk_forefoot": 3, "lower_straight": 3, "hold_split": 3, "bare_squat_loaded": 3, "one_dumbbell": 4, "hold_split_loaded": 4,
		"heavy_slow": 4, "free_one": 4, "free_two": 3, "hands_one": 3, "hands_two": 2}
	for _, r := range Shipped.Rails {
		for i, x := range r.Exercises {
			if level, ok := want[x.ID]; ok {
				assert.Equal(t, level, x.Level, x.ID)
				delete(want, x.ID)
			}
			assert.False(t, x.Unstated, x.ID)
			assert.NotEmpty(t, x.Main, "%s names its main places", x.ID)
			if i > 0 && x.Level < r.Exercises[i-1].Level {
				assert.NotEmpty(t, x.Easier, "%s carries less than the one before it", x.ID)
			}
			if x.Bears != body.NoLeg && x.Level >= 2 {
				assert.True(t, x.Loads(body.HeelSole) && x.Loads(body.Calf), "%s bears weight", x.ID)
			}
		}
	}
	assert.Empty(t, want)
}

// docs/catalogue.md is what the data says.
func TestTheCataloguePageIsCurrent(t *testing.T) {
	have, err := os.ReadFile("../../../docs/catalogue.md")
	require.NoError(t, err)
	assert.True(t, Page(Shipped) == string(have), "run ./notchback types")
}

// Cues and cautions agree with the chosen approach.
func TestCuesUnderAnApproach(t *testing.T) {
	chosen := func(question, option string) func(string) string {
		return func(q string) string {
			if q == question {
				return option
			}
			return ""
		}
	}
	for _, c := range []struct{ rail, exercise, question, option, has, not string }{
		{"sole_release", "sole_thick_cylinder", "sole_focus", "outer", "Outer edge first, then across the forefoot",
			"Inner arch first, at an angle"},
		{"sole_release", "sole_thick_cylinder", "sole_focus", "inner", "Inner arch first, at an angle",
			"Outer edge first, then across the forefoot"},
		{"barefoot_strength", "bare_squat", "weight", "forefoot", "Drive through the big toe", "Drive through the heels"},
		{"barefoot_strength", "bare_squat", "weight", "heels", "Drive through the heels", "Drive through the big toe"},
	} {
		r, _ := Shipped.Find(c.rail)
		x, _ := r.Exercise(c.exercise)
		cues := x.Under(chosen(c.question, c.option)).Cues
		assert.Contains(t, cues, c.has, "%+v", c)
		assert.NotContains(t, cues, c.not, "%+v", c)
	}
	for _, r := range Shipped.Rails {
		if r.Class == Releasing {
			assert.Contains(t, strings.Join(r.Under(chosen("pressure", "five")).Cautions, " "), "under 5 of 10", r.ID)
			assert.Contains(t, strings.Join(r.Under(chosen("pressure", "bearable")).Cautions, " "), "as is bearable", r.ID)
			assert.NotContains(t, strings.Join(r.Under(chosen("pressure", "bearable")).Cautions, " "), "under 5 of 10", r.ID)
		}
	}
	bad := railOf(t, one)
	bad.CautionsUnder = map[string][]string{"pressure=soft": {"x"}}
	_, err := bad.Complete()
	assert.ErrorContains(t, err, "no approach")
}

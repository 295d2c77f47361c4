package catalog

import (
	"fmt"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"notchback/internal/core/body"
)

func Example() {
	calf, _ := Find("calf_straight")
	notches := calf.Notches(Limits{Equipment: body.Equipment{DumbbellsKg: []float64{4, 6}, StepCm: 18}, MassKg: 70, HeavyMinKg: 10})
	i, _ := At(notches, "one_dumbbell", body.Dose{Kind: body.Repetitions, Sets: 3, Reps: 12, LoadKg: 4})
	fmt.Println(notches[i].Text())
	fmt.Println(notches[i+1].Text())
	// Output:
	// One-leg raises with a dumbbell, 3 × 12 with 4 kg
	// One-leg raises with a dumbbell, 2 × 8 with 6 kg
}

// Beyer et al. 2015, AJSM 43:1704 (figures from memory): week 1 3 × 15 RM, weeks 2–3 3 × 12, weeks
// 4–5 4 × 10, weeks 6–8 4 × 8, weeks 9–12 4 × 6, six seconds a repetition, three sessions a week.
func TestHeavySlowIsThePublishedProgramme(t *testing.T) {
	calf, _ := Find("calf_straight")
	x, ok := calf.Exercise("heavy_slow")
	require.True(t, ok)
	var weeks []string
	for i, d := range x.Ladder {
		for range x.StageDays[i] / 7 {
			weeks = append(weeks, fmt.Sprintf("%dx%d", d.Sets, d.Reps))
		}
	}
	assert.Equal(t, strings.Fields("3x15 3x12 3x12 4x10 4x10 4x8 4x8 4x8 4x6 4x6 4x6 4x6"), weeks)
	assert.Equal(t, 6.0, x.RepS)
	assert.Equal(t, 3, calf.PerWeek)
}

func TestLoadRefusesABrokenCatalogue(t *testing.T) {
	ok := `[{"id":"r","name":"R","trains":"t","perWeek":3,"regions":["calf"],"exercises":[{"id":"x","name":"X","class":"range",
	"ladder":[{"kind":"hold","sets":1,"seconds":30},{"kind":"hold","sets":2,"seconds":30}],"needs":["step"],"setUp":"s","cues":["c"],"good":"g","faults":["f"],"stopWhen":["p"]}]}]`
	_, err := Load([]byte(ok))
	require.NoError(t, err)
	for _, c := range []struct{ old, new, want string }{
		{`"stopWhen":["p"]`, `"stopWhen":[]`, "no stop sign"},
		{`"needs":["step"]`, `"needs":["trampoline"]`, `unknown equipment "trampoline"`},
		{`"sets":2`, `"sets":1`, "no harder than the one before"},
		{`"calf"`, `"elbow"`, "unknown region elbow"},
		{`"perWeek":3`, `"perWeek":9`, "1 to 7 sessions"},
		{`"cues":["c"]`, `"cues":["1","2","3","4","5"]`, "one to four cues"},
		{`"faults":["f"]`, `"faults":["f"],"published":true`, "needs its source"},
	} {
		_, err := Load([]byte(strings.Replace(ok, c.old, c.new, 1)))
		assert.ErrorContains(t, err, c.want)
	}
}

func TestNotchesStayWithinWhatIsOwnedAndAllowed(t *testing.T) {
	calf, _ := Find("calf_straight")
	for _, n := range calf.Notches(Limits{MassKg: 70, HeavyMinKg: 10}) {
		assert.NotContains(t, []string{"two_step", "one_step", "one_dumbbell", "heavy_slow"}, n.Exercise)
	}
	for _, n := range calf.Notches(Limits{Equipment: body.Equipment{DumbbellsKg: []float64{12}, StepCm: 18}, MassKg: 70, HeavyMinKg: 10, HeavyBarred: true}) {
		assert.NotContains(t, []string{"one_dumbbell", "heavy_slow"}, n.Exercise, "a caution bars load")
	}
}

func TestAtFindsTheNotchOfAnUnlistedDose(t *testing.T) {
	calf, _ := Find("calf_straight")
	notches := calf.Notches(Limits{Equipment: body.Equipment{StepCm: 18}, MassKg: 70})
	// 2 × 9 lies between 2 × 8 and 3 × 8: it stands on 2 × 8.
	i, below := At(notches, "one_floor", body.Dose{Kind: body.Repetitions, Sets: 2, Reps: 9})
	assert.Equal(t, "One-leg raises, floor, 2 × 8", notches[i].Text())
	assert.False(t, below)
	i, below = At(notches, "one_floor", body.Dose{Kind: body.Repetitions, Sets: 2, Reps: 4})
	assert.Equal(t, "One-leg raises, floor, 2 × 8", notches[i].Text())
	assert.True(t, below)
	i, _ = At(notches, "one_dumbbell", body.Dose{Kind: body.Repetitions, Sets: 2, Reps: 8})
	assert.Equal(t, -1, i, "a dumbbell the runner does not own is on no notch")
}

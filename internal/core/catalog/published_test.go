package catalog

import (
	"fmt"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func weeksOf(t *testing.T, rail, exercise string) []Week {
	r, ok := Shipped.Find(rail)
	require.True(t, ok)
	x, ok := r.Exercise(exercise)
	require.True(t, ok)
	return r.Weeks(x)
}

// Beyer et al. 2015, AJSM 43:1704 (figures from memory): week 1 3 × 15 RM, weeks 2–3 3 × 12, weeks
// 4–5 4 × 10, weeks 6–8 4 × 8, weeks 9–12 4 × 6, six seconds a repetition, three sessions a week.
func TestHeavySlowIsThePublishedProgramme(t *testing.T) {
	var weeks []string
	for _, w := range weeksOf(t, "calf_straight", "heavy_slow") {
		weeks = append(weeks, fmt.Sprintf("%dx%d", w.Dose.Sets, w.Dose.Reps))
		assert.Equal(t, 3.0, w.Sessions)
	}
	assert.Equal(t, strings.Fields("3x15 3x12 3x12 4x10 4x10 4x8 4x8 4x8 4x6 4x6 4x6 4x6"), weeks)
	r, _ := Shipped.Find("calf_straight")
	x, _ := r.Exercise("heavy_slow")
	assert.Equal(t, 6.0, x.RepS)
}

// Rathleff et al. 2015, Scand J Med Sci Sports 25:e292 (figures from memory): every second day for
// twelve weeks, toes on a towel, 3 s up, 2 s top, 3 s down; 12 RM × 3 sets, after two weeks 10 RM × 4,
// after four weeks 8 RM × 5.
func TestTheTowelProgrammeIsThePublishedOne(t *testing.T) {
	sessions := 0.0
	for i, w := range weeksOf(t, "toe_calf", "towel_load") {
		want := "5 × 8 at 8 RM"
		switch {
		case i < 2:
			want = "3 × 12 at 12 RM"
		case i < 4:
			want = "4 × 10 at 10 RM"
		}
		assert.Equal(t, want, w.Dose.String(), "week %d", w.Number)
		sessions += w.Sessions
	}
	assert.InDelta(t, 42, sessions, 1e-9, "every second day of 84")
	r, _ := Shipped.Find("toe_calf")
	x, _ := r.Exercise("towel_load")
	assert.Equal(t, "3 s up, 2 s top, 3 s down", x.Tempo)
	assert.Equal(t, 3.0+2+3, x.RepS)
	assert.Contains(t, x.Needs, "roll")
}

// Alfredson et al. 1998, AJSM 26:360 (figures from memory): 3 × 15 with the knee straight and 3 × 15
// with it bent, twice a day, seven days a week, twelve weeks: 180 repetitions a day.
func TestTheLoweringProgrammeIsThePublishedOne(t *testing.T) {
	reps := map[int]int{}
	for _, rail := range []string{"eccentric_straight", "eccentric_bent"} {
		r, _ := Shipped.Find(rail)
		assert.Equal(t, "eccentric", r.Protocol)
		for _, w := range r.Weeks(r.Exercises[0]) {
			assert.Equal(t, 7.0, w.Sessions)
			reps[w.Number] += w.Dose.Sets * w.Dose.Reps * w.Dose.Times()
		}
	}
	require.Len(t, reps, 12)
	for week, n := range reps {
		assert.Equal(t, 180, n, "week %d", week)
	}
}

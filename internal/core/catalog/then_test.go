package catalog

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"notchback/internal/core/body"
)

// Range that was gained is controlled in the same session: by the first follower that may be done, and by none where its
// rail stands there anyway.
func TestRangeIsFollowedByControl(t *testing.T) {
	all := func(Rail, Exercise) bool { return true }
	toes := exerciseOf(t, "big_toe", "toes_wall")
	rail, x, dose, ok := Shipped.Follow(toes, []string{"big_toe"}, all)
	require.True(t, ok)
	assert.Equal(t, [3]string{"toe_press", "press_seated", "1 × 5, 5 s hold"}, [3]string{rail.ID, x.ID, dose.String()})
	rail, x, _, ok = Shipped.Follow(toes, []string{"big_toe"}, func(r Rail, _ Exercise) bool { return r.ID != "toe_press" })
	require.True(t, ok)
	assert.Equal(t, [2]string{"toe_grip", "towel_few"}, [2]string{rail.ID, x.ID}, "the other school's")
	_, _, _, ok = Shipped.Follow(toes, []string{"big_toe", "toe_press"}, all)
	assert.False(t, ok, "the session has it")
	_, _, _, ok = Shipped.Follow(toes, nil, func(Rail, Exercise) bool { return false })
	assert.False(t, ok, "nothing of it may be done")
	_, _, _, ok = Shipped.Follow(exerciseOf(t, "balance", "balance_open"), nil, all)
	assert.False(t, ok, "balance is control itself")

	with, without := toes, toes
	without.Then = nil
	assert.Equal(t, 2*1*5*(5+2), with.Seconds(body.Dose{Kind: body.Hold, Sets: 2, Seconds: 10},
		2)-without.Seconds(body.Dose{Kind: body.Hold, Sets: 2, Seconds: 10}, 2), "it takes its own time on each side")
	hip := exerciseOf(t, "hip_front", "hip_opening")
	plain := hip
	plain.Then = nil
	assert.Equal(t, 30*2, hip.Seconds(hip.Ladder[0], 2)-plain.Seconds(hip.Ladder[0], 2))
}

// Every range exercise that is stretched or rocked to its end has its control; what follows is small and gentle.
func TestEveryGainedRangeHasItsControl(t *testing.T) {
	for _, r := range Shipped.Rails {
		for _, x := range r.Exercises {
			if x.Class == Range && (x.Has(body.AnkleRange) || x.Has(body.ToeRange)) && r.Part == "open" {
				assert.NotEmpty(t, x.Then, "%s of %s", x.ID, r.ID)
			}
		}
	}
	own := railOf(t, one)
	for then, says := range map[Then]string{
		{"no_such", "1 × 5"}:              "does not exist",
		{"shin_hand", "five"}:             "is not a dose",
		{"shin_hand", "1 × 30, 2 s hold"}: "more than its first dose",
		{"shin_hand", "1 × 5 s"}:          "more than its first dose",
		{"one_floor", "1 × 5"}:            "more than a seated start",
	} {
		r := own
		r.Exercises = append([]Exercise{}, own.Exercises...)
		r.Exercises[0].Then = []Then{then}
		c := Shipped.With([]Rail{r})
		require.Len(t, c.Broken, 1, "%v", then)
		assert.Contains(t, c.Broken[0].Says, says, "%v", then)
	}
}

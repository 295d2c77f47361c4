package adjust

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"notchback/internal/core/body"
	"notchback/internal/core/catalog"
)

// What was shown may be the dose that was set or less of it, on its exercise or an earlier one; nothing else.
func TestWhatWasShown(t *testing.T) {
	rail, ok := catalog.Shipped.Find("calf_straight")
	require.True(t, ok)
	reps := func(sets, n int) body.Dose { return body.Dose{Kind: body.Repetitions, Sets: sets, Reps: n} }
	set := catalog.Prescription{ID: "p", Rail: rail.ID, Side: body.Left, Exercise: "one_floor", Dose: reps(3, 10)}
	for name, c := range map[string]struct {
		shown Shown
		may   bool
	}{
		"as set":                {Shown{"one_floor", reps(3, 10)}, true},
		"fewer sets":            {Shown{"one_floor", reps(1, 10)}, true},
		"fewer repetitions":     {Shown{"one_floor", reps(3, 1)}, true},
		"an earlier exercise":   {Shown{"two_floor", reps(3, 10)}, true},
		"more repetitions":      {Shown{"one_floor", reps(3, 11)}, false},
		"a later exercise":      {Shown{"one_step", reps(1, 1)}, false},
		"no set":                {Shown{"one_floor", reps(0, 10)}, false},
		"no repetition":         {Shown{"one_floor", reps(3, 0)}, false},
		"fewer than no set":     {Shown{"one_floor", body.Dose{Kind: body.Repetitions, Sets: 3, Reps: 10, Extra: -1}}, false},
		"held instead":          {Shown{"one_floor", body.Dose{Kind: body.Hold, Sets: 1, Seconds: 5}}, false},
		"another rail's":        {Shown{"balance_open", body.Dose{Kind: body.Hold, Sets: 1, Seconds: 5}}, false},
		"with weight on it too": {Shown{"one_floor", body.Dose{Kind: body.Repetitions, Sets: 3, Reps: 10, LoadKg: 4}}, false},
	} {
		got, may := AsShown(rail, set, c.shown, 70)
		assert.Equal(t, c.may, may, name)
		if want := set; may {
			want.Exercise, want.Dose = c.shown.Exercise, c.shown.Dose
			x, _ := rail.Exercise(c.shown.Exercise)
			want.Name = x.Name
			assert.Equal(t, want, got, name)
		}
	}
	gone := set
	gone.Exercise = "not there"
	_, may := AsShown(rail, gone, Shown{"one_floor", reps(1, 1)}, 70)
	assert.False(t, may, "what was set is on no rail any more")
}

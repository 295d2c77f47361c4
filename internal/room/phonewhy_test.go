package room_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"notchback/internal/core/body"
	"notchback/internal/core/build"
	"notchback/internal/room"
	"notchback/internal/store"
	"notchback/internal/testkit"
)

// On the phone a dose says that it stands as it was placed; after a bad morning that it is less for now and why; and after the
// coach's word the move with that word.
func TestAPhoneSaysWhy(t *testing.T) {
	d := testkit.NewDesk(t, "why@test.example")
	runner := programmed(t, d, testkit.Profile())
	whys := func() (out []room.PhoneWhy) {
		for _, s := range look(t, d, runner).Phone(d.Now()).Sessions {
			for _, i := range s.Items {
				for _, x := range i.Sides {
					out = append(out, x.Why)
				}
			}
		}
		require.NotEmpty(t, out)
		return out
	}
	today := look(t, d, runner).Today
	for _, w := range whys() {
		assert.Empty(t, w.Moved)
		assert.Equal(t, today, w.Since)
		assert.Empty(t, w.More)
	}
	for _, side := range body.Sides {
		require.NoError(t, d.AddMorning(ctx, d.Actor, runner, "phone", build.Morning{ID: store.NewID(), On: today, Region: body.HeelSole,
			Side: side, Pain: 6}))
	}
	less := 0
	for _, w := range whys() {
		if len(w.Moved) > 0 && w.Moved[0].Word == "less for now" {
			assert.NotEmpty(t, w.Moved[0].Why)
			assert.Contains(t, w.Next, "your coach looks at it")
			less++
		}
	}
	require.NotZero(t, less)
	o := look(t, d, runner)
	for _, p := range o.Proposals() {
		if p.Verdict == "back" && p.Side == body.Left {
			require.NoError(t, d.Decide(ctx, d.Actor, runner, store.NewID(), room.Decision{Rail: p.Rail, Side: p.Side,
				Prescription: p.From.ID, Verdict: p.Verdict, Seen: &p.Seen}))
			break
		}
	}
	told := false
	for _, w := range whys() {
		told = told || len(w.Moved) > 0 && w.Moved[0].Word == "less" && strings.TrimSpace(w.Moved[0].Why) != ""
	}
	assert.True(t, told, "the decision stands among the moves")
}

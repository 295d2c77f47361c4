package room_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"notchback/internal/core/body"
	"notchback/internal/core/selfcheck"
	"notchback/internal/room"
	"notchback/internal/store"
	"notchback/internal/testkit"
)

// A self-check stands on Today until somebody has seen it, the worst pain of all unseen ones first; sent again it is the same,
// and no measure, finding or dose of the runner is another for it.
func TestSelfChecksAreSeen(t *testing.T) {
	d := testkit.NewDesk(t, "home@test.example")
	fresh := d.Runner(t, testkit.Profile())
	assert.Nil(t, look(t, d, fresh).Phone(d.Now()).Check, "before a coach has seen them nothing is checked alone")
	runner := programmed(t, d, testkit.Profile())
	phone := room.Actor{Practice: d.Actor.Practice}
	before := look(t, d, runner)
	line := func() (kind room.LineKind, says string) {
		all, err := d.Today(ctx, d.Actor)
		require.NoError(t, err)
		for _, l := range all {
			if l.Kind == "selfcheck" || l.Kind == "selfpain" {
				return l.Kind, l.Sentence
			}
		}
		return "", ""
	}
	heels := func(pain float64) selfcheck.Try {
		return selfcheck.Try{Item: "heels", Side: body.Left, Value: pain, Where: body.HeelSole}
	}
	worst := selfcheck.Check{ID: store.NewID(), On: before.Today.Add(-1), Tries: []selfcheck.Try{heels(7)}}
	quiet := selfcheck.Check{ID: store.NewID(), On: before.Today, Tries: []selfcheck.Try{heels(0), {Item: "sound", Side: body.Both, Value: 3}}}
	for _, c := range []selfcheck.Check{quiet, worst, worst} {
		require.NoError(t, d.AddSelfCheck(ctx, phone, runner, c, nil))
	}
	kind, says := line()
	assert.EqualValues(t, "selfpain", kind, "a quiet check after it hides nothing")
	assert.Contains(t, says, "Walk on the heels, left: pain 7 of 10 at the heel (sole)")
	o := look(t, d, runner)
	require.Len(t, o.SelfChecks, 2)
	assert.Equal(t, quiet.ID, o.SelfChecks[0].ID, "the newest day first, whenever it came")
	assert.Equal(t, before.Trials(), o.Trials())
	assert.Equal(t, before.Read().Findings, o.Read().Findings)
	assert.Equal(t, before.Prescriptions, o.Prescriptions)

	require.NoError(t, d.SeeSelfCheck(ctx, d.Actor, runner, worst.ID))
	kind, _ = line()
	assert.EqualValues(t, "selfcheck", kind)
	require.NoError(t, d.SeeSelfCheck(ctx, d.Actor, runner, quiet.ID))
	require.NoError(t, d.SeeSelfCheck(ctx, d.Actor, runner, quiet.ID), "seen twice")
	kind, _ = line()
	assert.Empty(t, kind)
	assert.ErrorIs(t, d.SeeSelfCheck(ctx, d.Actor, fresh, quiet.ID), store.ErrNotFound, "another runner's")

	still := selfcheck.Stretch{Ms: []float64{0, 1}, A: []float64{9, 9}}
	felt := selfcheck.Check{ID: store.NewID(), On: before.Today}
	require.NoError(t, d.AddSelfCheck(ctx, phone, runner, felt, []selfcheck.Stretch{still}), "what the sensor missed is kept as left out")
	assert.Error(t, d.AddSelfCheck(ctx, phone, runner, selfcheck.Check{ID: store.NewID(), On: before.Today}, nil), "nothing told")
	assert.Error(t, d.AddSelfCheck(ctx, phone, runner, selfcheck.Check{ID: store.NewID(), On: before.Today.Add(3),
		Tries: []selfcheck.Try{heels(1)}}, nil), "a day to come")
}

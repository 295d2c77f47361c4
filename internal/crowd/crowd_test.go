package crowd_test

import (
	"context"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"notchback/internal/crowd"
	"notchback/internal/room"
	"notchback/internal/testkit"
)

func TestMain(m *testing.M) { testkit.Main(m) }

// A made-up practice is one the rooms can read: every runner trains by a programme, was screened, and has the reports the
// weeks give.
func TestAMadeUpPractice(t *testing.T) {
	ctx := context.Background()
	d := testkit.NewDesk(t, "coach@crowd.example")
	ids, err := crowd.Make(ctx, d.Store, testkit.Admin(t, testkit.LastDatabase()), d.Actor, time.Now(), 3, 14)
	require.NoError(t, err)
	require.Len(t, ids, 3)
	for _, id := range ids {
		o, err := d.Chart(ctx, d.Actor, id)
		require.NoError(t, err)
		require.NotNil(t, o.Programme)
		assert.Greater(t, len(o.Prescriptions), 10)
		assert.Greater(t, len(o.Logs), 14*4*8/2, "four days a week on eight rails, within the weeks that are read")
		assert.Greater(t, len(o.Mornings), 14*7, "every day, at four places")
		assert.Greater(t, len(o.Runs), 14)
		assert.NotEmpty(t, o.Trials())
		rows, err := room.AdjustRoom.Look(ctx, d.Desk, d.Actor, id)
		require.NoError(t, err)
		assert.NotEmpty(t, rows.Rails)
		assert.NotEmpty(t, rows.Rails[0].Proposals[0].Fired, "each row is judged")
	}
	again, err := d.Today(ctx, d.Actor)
	require.NoError(t, err)
	assert.NotEmpty(t, again)
}

package room_test

import (
	"errors"
	"math/rand/v2"
	"slices"
	"sync"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"notchback/internal/core/body"
	"notchback/internal/core/build"
	"notchback/internal/record"
	"notchback/internal/room"
	"notchback/internal/store"
	"notchback/internal/testkit"
)

// everyRoom shows a runner in every room there is, all at once, as several clients do.
func everyRoom(t *testing.T, d *testkit.Desk, runner string) {
	t.Helper()
	var wait sync.WaitGroup
	show := func(look func() error) {
		wait.Go(func() {
			if err := look(); err != nil { // what is not built yet is refused by name
				var refused *body.FieldError
				assert.True(t, errors.As(err, &refused) || errors.Is(err, store.ErrNotFound), "%v", err)
			}
		})
	}
	look := func(need record.Need, f func(room.Chart) error) {
		show(func() error {
			return d.Read(ctx, d.Actor, runner, need, func(_ *store.Tx, o room.Chart) error { return f(o) })
		})
	}
	show(func() error { _, err := d.Desk.Runner(ctx, d.Actor, runner); return err })
	show(func() error { _, err := d.Gait(ctx, d.Actor, runner); return err })
	show(func() error { _, err := room.ScreenRoom.Look(ctx, d.Desk, d.Actor, runner); return err })
	show(func() error { _, err := room.ReadRoom.Look(ctx, d.Desk, d.Actor, runner); return err })
	show(func() error { _, err := room.RetestRoom.Look(ctx, d.Desk, d.Actor, runner); return err })
	show(func() error { _, err := room.ReferralRoom.Look(ctx, d.Desk, d.Actor, runner); return err })
	show(func() error { _, err := room.BuildRoom(nil).Look(ctx, d.Desk, d.Actor, runner); return err })
	show(func() error {
		_, err := room.CompareRoom(build.Choices{}, build.Choices{Without: []string{"balance"}}).Look(ctx, d.Desk, d.Actor, runner)
		return err
	})
	show(func() error { _, err := room.WeekRoom.Look(ctx, d.Desk, d.Actor, runner); return err })
	show(func() error { _, err := room.MovesRoom("balance", 1).Look(ctx, d.Desk, d.Actor, runner); return err })
	show(func() error { _, err := room.AdjustRoom.Look(ctx, d.Desk, d.Actor, runner); return err })
	show(func() error { _, err := room.PhoneRoom(d.Now()).Look(ctx, d.Desk, d.Actor, runner); return err })
	show(func() error { _, err := room.FormRoom.Look(ctx, d.Desk, d.Actor, runner); return err })
	look(record.NeedAll, func(o room.Chart) error {
		if o.Programme == nil {
			return nil
		}
		_ = o.Calendar()
		_ = o.Handout(o.Today, 14)
		return nil
	})
	wait.Wait()
}

// parts reads what the store says of a runner, part by part, as it is handed to a room.
func parts(t *testing.T, d *room.Desk, a room.Actor, runner string, since body.Date, need record.Need) (r record.Record) {
	t.Helper()
	require.NoError(t, d.Store.Read(ctx, a.Practice, func(tx *store.Tx) (err error) {
		r, _, err = tx.Record(ctx, runner, since, need)
		return err
	}))
	return r
}

// What a server remembers of a record is what the database holds: whatever was written by this server or another one,
// whichever day it became and whatever was looked at since.
func TestPropertyWhatIsRememberedIsSo(t *testing.T) {
	names := []string{}
	for n := range deeds {
		names = append(names, n)
	}
	slices.Sort(names)
	for range 6 { // days of reports, so that some are older than what is asked for
		names = append(names, "log", "morning", "run", "day")
	}
	needs := []record.Need{record.NeedTests, record.NeedPlan, record.NeedReports, record.NeedPast, record.NeedFacts, record.NeedProposals,
		record.NeedAll}
	for seed := range uint64(3) {
		r := rand.New(rand.NewPCG(seed, 21))
		d := testkit.NewDesk(t, "a@test.example")
		runner := programmed(t, d, testkit.Profile())
		fresh := &room.Desk{Store: testkit.Again(t, store.Forgetful()), Now: d.Now}
		other := &testkit.Desk{Desk: &room.Desk{Store: testkit.Again(t), Now: d.Now, Patience: d.Patience}, Actor: d.Actor}
		servers := []*testkit.Desk{d, other}
		for range 40 {
			name := names[r.IntN(len(names))]
			by := servers[r.IntN(2)]
			err := deeds[name](t, r, by, look(t, by, runner))
			var refused *body.FieldError
			if err != nil && !errors.As(err, &refused) && !errors.Is(err, store.ErrNotFound) {
				require.NoError(t, err, name)
			}
			for _, need := range []record.Need{needs[r.IntN(len(needs))], record.NeedAll} { // in parts, then whole
				since := body.DateOf(d.Now().UTC()).Add(-r.IntN(4) * r.IntN(30))
				want := asJSON(t, parts(t, fresh, d.Actor, runner, since, need))
				for i, server := range servers {
					require.JSONEq(t, want, asJSON(t, parts(t, server.Desk, d.Actor, runner, since, need)), "seed %d, server %d after %s", seed, i, name)
				}
			}
			if r.IntN(3) == 0 {
				everyRoom(t, servers[r.IntN(2)], runner)
			}
		}
	}
}

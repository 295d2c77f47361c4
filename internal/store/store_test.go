package store_test

import (
	"context"
	"testing"

	"github.com/jackc/pgx/v5"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"notchback/internal/core/adjust"
	"notchback/internal/core/body"
	"notchback/internal/core/build"
	"notchback/internal/core/house"
	"notchback/internal/core/stats"
	"notchback/internal/room"
	"notchback/internal/store"
	"notchback/internal/testkit"
)

func TestMain(m *testing.M) { testkit.Main(m) }

var ctx = context.Background()

// Every table that carries a practice has row security on, and forced on its owner; the application's
// role is neither superuser nor may it bypass row security.
func TestEveryTableOfAPracticeIsGuarded(t *testing.T) {
	testkit.Store(t)
	admin := testkit.Admin(t, testkit.LastDatabase())
	rows, err := admin.Query(ctx,
		`SELECT c.relname, c.relrowsecurity AND c.relforcerowsecurity AND EXISTS (SELECT FROM pg_policy p WHERE p.polrelid = c.oid)
		FROM pg_class c JOIN pg_namespace n ON n.oid = c.relnamespace
		WHERE c.relkind = 'r' AND n.nspname = 'public' AND (c.relname = 'practices' OR EXISTS (SELECT FROM pg_attribute a
			WHERE a.attrelid = c.oid AND a.attname = 'practice_id'))`)
	require.NoError(t, err)
	n := 0
	var table string
	var guarded bool
	_, err = pgx.ForEachRow(rows, []any{&table, &guarded}, func() error {
		n++
		assert.True(t, guarded, table)
		return nil
	})
	require.NoError(t, err)
	assert.GreaterOrEqual(t, n, 18)
	var mighty bool
	require.NoError(t, admin.QueryRow(ctx, `SELECT rolsuper OR rolbypassrls FROM pg_roles WHERE rolname = 'notchback_app'`).Scan(&mighty))
	assert.False(t, mighty)
}

func TestAForgottenFilterLeaksNothing(t *testing.T) {
	d := testkit.NewDesk(t, "a@test.example")
	runner := d.Runner(t, testkit.Profile())
	other, _, err := d.Store.CreatePractice(ctx, "Other", "Other Coach", "b@test.example")
	require.NoError(t, err)

	app, err := pgx.Connect(ctx, testkit.AppURL())
	require.NoError(t, err)
	defer app.Close(ctx)
	var n int
	require.NoError(t, app.QueryRow(ctx, `SELECT count(*) FROM runners`).Scan(&n))
	assert.Zero(t, n, "without a practice nothing is visible")
	require.NoError(t, d.Store.In(ctx, other, func(tx *store.Tx) error {
		return tx.QueryRow(ctx, `SELECT count(*) FROM runners`).Scan(&n)
	}))
	assert.Zero(t, n, "another practice sees nothing")
	err = d.Store.In(ctx, other, func(tx *store.Tx) error {
		return tx.AddMorning(ctx, runner, build.Morning{ID: store.NewID(), On: "2026-01-01", Region: body.HeelSole, Side: body.Left}, "phone")
	})
	assert.ErrorIs(t, err, store.ErrNotFound, "nor can it write to another's runner")
	require.NoError(t, d.Store.In(ctx, d.Actor.Practice, func(tx *store.Tx) error {
		return tx.QueryRow(ctx, `SELECT count(*) FROM runners`).Scan(&n)
	}))
	assert.Equal(t, 1, n)
}

func TestRecordsAreAppendOnly(t *testing.T) {
	d := testkit.NewDesk(t, "a@test.example")
	for _, sql := range []string{
		`UPDATE logs SET pain = 0`, `DELETE FROM logs`, `UPDATE trials SET value = 10`, `DELETE FROM decisions`, `UPDATE mornings SET pain = 0`,
		`UPDATE runners SET practice_id = practice_id`, `SELECT * FROM web_sessions`, `SELECT * FROM signin_attempts`, `DELETE FROM stops`,
	} {
		err := d.Store.In(ctx, d.Actor.Practice, func(tx *store.Tx) error { _, err := tx.Exec(ctx, sql); return err })
		assert.ErrorContains(t, err, "permission denied", sql)
	}
}

// build a runner with a programme; returns the runner.
func programmed(t *testing.T, d *testkit.Desk) string {
	runner := d.Runner(t, testkit.Profile())
	d.Screen(t, runner, testkit.Usual)
	require.NoError(t, d.Build(ctx, d.Actor, runner, store.NewID(), build.Choices{}))
	return runner
}

// A stored decision holds what it saw and can be computed again with the same outcome.
func TestADecisionReplays(t *testing.T) {
	d := testkit.NewDesk(t, "a@test.example")
	runner := programmed(t, d)
	o, err := d.Chart(ctx, d.Actor, runner)
	require.NoError(t, err)
	p := o.Prescriptions[0]
	l := adjust.Log{ID: store.NewID(), On: o.Today, Done: []int{2}, RPE: 7, Pain: 6, Source: "phone"}
	require.NoError(t, d.AddLog(ctx, d.Actor, runner, room.Entry{Log: l, Prescription: p.ID}))
	o, _ = d.Chart(ctx, d.Actor, runner)
	proposal := adjust.Propose(o.AdjustInput(p))
	assert.Equal(t, adjust.Back, proposal.Verdict, "pain 6")
	id := store.NewID()
	x := room.Decision{Rail: p.Rail, Side: p.Side, Prescription: p.ID, Verdict: adjust.Back}
	require.NoError(t, d.Decide(ctx, d.Actor, runner, id, x))
	require.NoError(t, d.Decide(ctx, d.Actor, runner, id, x), "repeating it is the same write")
	x.Prescription = p.ID
	assert.ErrorIs(t, d.Decide(ctx, d.Actor, runner, store.NewID(), x), store.ErrStale, "the dose has moved since")
	require.NoError(t, d.Store.In(ctx, d.Actor.Practice, func(tx *store.Tx) error {
		r, err := tx.Replay(ctx, id)
		require.NoError(t, err)
		again := adjust.Propose(r.Inputs)
		assert.Equal(t, r.Verdict, again.Verdict)
		assert.Equal(t, r.Fired, again.Fired)
		return nil
	}))
	o, _ = d.Chart(ctx, d.Actor, runner)
	require.Len(t, o.Decisions, 1)
	assert.NotEqual(t, p.ID, o.Prescriptions[0].ID)
}

// A second report of a day is judged beside the first: the worse one is never lost.
func TestASecondMorningStandsBesideTheFirst(t *testing.T) {
	d := testkit.NewDesk(t, "a@test.example")
	runner := d.Runner(t, testkit.Profile())
	o, _ := d.Chart(ctx, d.Actor, runner)
	for _, pain := range []int{5, 2} {
		require.NoError(t, d.AddMorning(ctx, d.Actor, runner, "phone",
			build.Morning{ID: store.NewID(), On: o.Today, Region: body.HeelSole, Side: body.Left, Pain: pain}))
	}
	o, _ = d.Chart(ctx, d.Actor, runner)
	require.Len(t, o.Mornings, 2)
	assert.Equal(t, 5, o.Mornings[0].Pain)
	assert.Less(t, o.Mornings[0].Seq, o.Mornings[1].Seq, "numbered in the order they arrived")
	var n int
	require.NoError(t, testkit.Admin(t, testkit.LastDatabase()).QueryRow(ctx, `SELECT count(*) FROM mornings`).Scan(&n))
	assert.Equal(t, 2, n)
}

// Rebuilding without a newer test keeps every dose; it never undoes a move back.
func TestBuildingAgainKeepsTheNotches(t *testing.T) {
	d := testkit.NewDesk(t, "a@test.example")
	runner := programmed(t, d)
	o, _ := d.Chart(ctx, d.Actor, runner)
	p := o.Prescriptions[len(o.Prescriptions)-1]
	require.NoError(t, d.Decide(ctx, d.Actor, runner, store.NewID(),
		room.Decision{Rail: p.Rail, Side: p.Side, Prescription: p.ID, Verdict: adjust.Back, Word: "tired"}))
	o, _ = d.Chart(ctx, d.Actor, runner)
	lower := o.Prescriptions[len(o.Prescriptions)-1]
	assert.NotEqual(t, p.Dose, lower.Dose)
	require.NoError(t, d.Build(ctx, d.Actor, runner, store.NewID(), build.Choices{}))
	o, _ = d.Chart(ctx, d.Actor, runner)
	assert.Equal(t, lower.Dose, o.Prescriptions[len(o.Prescriptions)-1].Dose)
}

func TestHouseRuleChangesCountAndGoBack(t *testing.T) {
	d := testkit.NewDesk(t, "a@test.example")
	set := func(v *float64) (h house.Rules) {
		require.NoError(t, d.Store.In(ctx, d.Actor.Practice, func(tx *store.Tx) (err error) {
			if err = tx.ChangeRule(ctx, "ankle.knee_to_wall.ref", v, d.Actor.Coach); err == nil {
				var in store.House
				in, err = tx.House(ctx)
				h = in.Rules
			}
			return err
		}))
		return h
	}
	v := 9.0
	h := set(&v)
	assert.Equal(t, 9.0, h.Get("ankle.knee_to_wall.ref"))
	assert.Equal(t, 1, h.Version)
	assert.EqualValues(t, "set by this practice", h.Because("x", "", "ankle.knee_to_wall.ref").Provenance)
	assert.Equal(t, 10.0, set(nil).Get("ankle.knee_to_wall.ref"))
}

// The core's statistics against PostgreSQL's own percentile_cont, avg and stddev_samp.
func TestStatisticsAgainstPostgreSQL(t *testing.T) {
	testkit.Store(t)
	admin := testkit.Admin(t, testkit.LastDatabase())
	for _, x := range [][]float64{{1}, {4, 1, 2, 3}, {0, 0, 3, 5, 1}, {2.5, 7.25, 1, 9, 4, 4, 8}} {
		var median, mean float64
		var sd *float64
		require.NoError(t, admin.QueryRow(ctx,
			`SELECT percentile_cont(0.5) WITHIN GROUP (ORDER BY v), avg(v), stddev_samp(v) FROM unnest($1::float8[]) v`, x).Scan(&median, &mean,
			&sd))
		if sd != nil {
			assert.InDelta(t, *sd, stats.SD(x), 1e-12)
		}
		assert.InDelta(t, median, stats.Median(x), 1e-12)
		assert.InDelta(t, mean, stats.Mean(x), 1e-12)
	}
}

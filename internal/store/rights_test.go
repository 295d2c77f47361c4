package store_test

import (
	"net/url"
	"path/filepath"
	"testing"

	"github.com/jackc/pgx/v5"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"notchback/internal/cluster"
	"notchback/internal/room"
	"notchback/internal/store"
	"notchback/internal/testkit"
)

// On a server where nobody of ours is superuser or passes row security by: the owner migrates, the application serves, the
// backup's role backs up, the owner restores. What the README says an administrator does once is done here word by word.
func TestWithoutASuperuser(t *testing.T) {
	admin := testkit.Admin(t, "postgres")
	for _, sql := range []string{`ALTER ROLE notchback_owner LOGIN PASSWORD 'o' CREATEDB`, `ALTER ROLE notchback_app PASSWORD 'a'`,
		`ALTER ROLE notchback_backup LOGIN PASSWORD 'b'`, `CREATE DATABASE ours OWNER notchback_owner`} {
		_, err := admin.Exec(ctx, sql)
		require.NoError(t, err, sql)
	}
	t.Cleanup(testkit.ResetAppPassword(t))
	as := func(role, password, database string) string {
		u, err := url.Parse(testkit.AppURL())
		require.NoError(t, err)
		u.User, u.Path = url.UserPassword(role, password), "/"+database
		return u.String()
	}
	owner, app, backup := as("notchback_owner", "o", "ours"), as("notchback_app", "a", "ours"), as("notchback_backup", "b", "ours")
	var mighty int
	require.NoError(t, admin.QueryRow(ctx, `SELECT count(*) FROM pg_roles WHERE rolname LIKE 'notchback%' AND (rolsuper OR rolbypassrls)`).
		Scan(&mighty))
	require.Zero(t, mighty)

	bin, err := cluster.Bin()
	require.NoError(t, err)
	dir := t.TempDir()
	require.NoError(t, store.Migrate(ctx, owner, store.Keep{Bin: bin, Dir: dir}))
	stands, err := store.Look(ctx, app)
	require.NoError(t, err)
	assert.Equal(t, stands.Known, stands.Version)
	assert.False(t, stands.Administers)

	s, err := store.Open(ctx, app)
	require.NoError(t, err)
	defer s.Close()
	practice, coach, err := s.CreatePractice(ctx, "Ours", "One Coach", "one@test.example")
	require.NoError(t, err)
	var code string
	require.NoError(t, s.In(ctx, practice, func(tx *store.Tx) (err error) { code, err = tx.AddCode(ctx, coach); return err }))
	require.NoError(t, s.Redeem(ctx, "one@test.example", code, "hash"), "the door works by its policies")
	a, err := s.Account(ctx, "one@test.example")
	require.NoError(t, err)
	assert.Equal(t, practice, a.Practice)
	d := &testkit.Desk{Desk: &room.Desk{Store: s, Now: testkit.Now}, Actor: room.Actor{Practice: practice, Coach: coach}}
	runner := d.Runner(t, testkit.Profile())

	backedUp(t, bin, dir, owner, app, backup)
	require.NoError(t, store.Restore(ctx, bin, owner, "theirs", filepath.Join(dir, "whole")))
	back, err := store.Open(ctx, as("notchback_app", "a", "theirs"))
	require.NoError(t, err)
	defer back.Close()
	_, err = back.Account(ctx, "one@test.example")
	require.NoError(t, err, "the restored door looks up")
	restored := &room.Desk{Store: back, Now: testkit.Now}
	all, err := restored.All(ctx, d.Actor, false)
	require.NoError(t, err)
	require.Len(t, all, 1)
	assert.Equal(t, runner, all[0].ID)
	look, err := pgx.Connect(ctx, as("notchback_app", "a", "theirs"))
	require.NoError(t, err)
	defer look.Close(ctx)
	var seen int
	require.NoError(t, look.QueryRow(ctx, `SELECT count(*) FROM runners`).Scan(&seen))
	assert.Zero(t, seen, "row security is in force in the restored database")
}

// backedUp takes a backup in the role that may, and sees it refused to those it would come out empty for.
func backedUp(t *testing.T, bin, dir, owner, app, backup string) {
	t.Helper()
	for _, role := range []string{owner, app} {
		err := store.Backup(ctx, bin, role, filepath.Join(dir, "empty"))
		require.ErrorContains(t, err, "does not see every record")
		assert.NoFileExists(t, filepath.Join(dir, "empty"))
	}
	require.NoError(t, store.Backup(ctx, bin, backup, filepath.Join(dir, "whole")))
}

// The door's role sees just the tables it looks up, and passes nothing by.
func TestTheDoorSeesOnlyItsTables(t *testing.T) {
	testkit.Store(t)
	var tables []string
	require.NoError(t, testkit.Admin(t, testkit.LastDatabase()).QueryRow(ctx,
		`SELECT array_agg(c.relname::text ORDER BY c.relname) FROM pg_class c
		JOIN pg_namespace n ON n.oid = c.relnamespace WHERE n.nspname = 'public' AND c.relkind = 'r'
		AND has_table_privilege('notchback_door', c.oid, 'SELECT')`).Scan(&tables))
	assert.Equal(t, []string{"coach_sessions", "coaches", "link_codes", "link_devices", "links", "one_time_codes", "practices",
		"runners", "signin_attempts", "signin_known",
		"web_sessions"}, tables)
}

// A database of a newer release that says so is read and not written.
func TestANewerSchemaIsOnlyRead(t *testing.T) {
	d := testkit.NewDesk(t, "a@test.example")
	runner := d.Runner(t, testkit.Profile())
	_, err := testkit.Admin(t, testkit.LastDatabase()).Exec(ctx, `UPDATE compat SET writes_from = 9999`)
	require.NoError(t, err)
	_, err = d.Chart(ctx, d.Actor, runner)
	require.NoError(t, err)
	nothing := func(*store.Tx) error { return nil }
	assert.ErrorIs(t, d.Store.In(ctx, d.Actor.Practice, nothing), store.ErrNewerSchema)
	assert.ErrorIs(t, d.Store.Change(ctx, d.Actor.Practice, runner, nothing), store.ErrNewerSchema)
}

// Servers that start at the same moment migrate one after another.
func TestMigrationsWaitForEachOther(t *testing.T) {
	admin := testkit.Admin(t, "postgres")
	_, err := admin.Exec(ctx, `CREATE DATABASE atonce OWNER notchback_owner`)
	require.NoError(t, err)
	u, err := url.Parse(testkit.AdminURL("atonce"))
	require.NoError(t, err)
	done := make(chan error, 4)
	for range 4 {
		go func() { done <- store.Migrate(ctx, u.String(), store.Keep{}) }()
	}
	for range 4 {
		require.NoError(t, <-done)
	}
}

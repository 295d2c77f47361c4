package testkit

import (
	"compress/bzip2"
	"context"
	"fmt"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"testing"

	"github.com/jackc/pgx/v5"
	"github.com/stretchr/testify/require"

	"notchback/internal/cluster"
	"notchback/internal/store"
)

// Dump writes a database of the test cluster to a file, packed by bzip2: records repeat themselves over
// long distances.
func Dump(t testing.TB, database, file string) {
	t.Helper()
	plain := filepath.Join(t.TempDir(), "dump")
	require.NoError(t, store.Backup(context.Background(), bin(t), server.AdminURL(database), plain))
	unpacked, err := exec.Command(filepath.Join(bin(t), "pg_restore"), "--file=-", plain).Output()
	require.NoError(t, err)
	require.NoError(t, os.WriteFile(plain+".sql", unpacked, 0o600))
	packed, err := exec.Command("bzip2", "-9", "-c", plain+".sql").Output()
	require.NoError(t, err, "bzip2 packs the dump")
	require.NoError(t, os.WriteFile(file, packed, 0o644))
}

// Restore brings a kept dump into a database of its own, as it was dumped, and returns its name.
func Restore(t testing.TB, file string) string {
	t.Helper()
	ctx, name := context.Background(), fmt.Sprintf("t%d", count.Add(1))
	if !strings.HasSuffix(file, ".bz2") {
		require.NoError(t, store.Restore(ctx, bin(t), server.AdminURL("postgres"), name, file))
		return name
	}
	packed, err := os.Open(file)
	require.NoError(t, err)
	defer packed.Close()
	_, err = Admin(t, "postgres").Exec(ctx, "CREATE DATABASE "+name+" OWNER notchback_owner")
	require.NoError(t, err)
	psql := exec.Command(filepath.Join(bin(t), "psql"), "--quiet", "--no-psqlrc", "--set=ON_ERROR_STOP=1", server.AdminURL(name))
	psql.Stdin = bzip2.NewReader(packed)
	out, err := psql.CombinedOutput()
	require.NoError(t, err, "%s", out)
	return name
}

// Upgrade brings a database up to date and opens it in the application's own role.
func Upgrade(t testing.TB, database, backups string) *store.Store {
	t.Helper()
	ctx := context.Background()
	require.NoError(t, store.Prepare(ctx, server.AdminURL("postgres"), database, server.AppPassword(), store.Keep{Bin: bin(t), Dir: backups}))
	s, err := store.Open(ctx, server.AppURL(database))
	require.NoError(t, err)
	t.Cleanup(s.Close)
	return s
}

func bin(t testing.TB) string {
	t.Helper()
	dir, err := cluster.Bin()
	require.NoError(t, err)
	return dir
}

// Owner is a practice and its first coach.
type Owner struct{ Practice, Coach, Email string }

// Practices lists the practices of a database.
func Practices(t testing.TB, database string) []Owner {
	t.Helper()
	rows, err := Admin(t, database).Query(context.Background(), `SELECT DISTINCT ON (practice_id) practice_id::text AS practice,
		id::text AS coach, email FROM coaches ORDER BY practice_id, created_at, id`)
	require.NoError(t, err)
	out, err := pgx.CollectRows(rows, pgx.RowToStructByName[Owner])
	require.NoError(t, err)
	return out
}

// Rows counts the rows of every table.
func Rows(t testing.TB, database string) map[string]int {
	t.Helper()
	ctx, c := context.Background(), Admin(t, database)
	rows, err := c.Query(ctx, `SELECT tablename FROM pg_tables WHERE schemaname = 'public'`)
	require.NoError(t, err)
	tables, err := pgx.CollectRows(rows, pgx.RowTo[string])
	require.NoError(t, err)
	out := map[string]int{}
	for _, name := range tables {
		var n int
		require.NoError(t, c.QueryRow(ctx, "SELECT count(*) FROM "+pgx.Identifier{name}.Sanitize()).Scan(&n))
		out[name] = n
	}
	return out
}

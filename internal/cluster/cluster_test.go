package cluster

import (
	"context"
	"os"
	"path/filepath"
	"testing"

	"github.com/jackc/pgx/v5"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func folder(t *testing.T) string {
	t.Helper()
	dir, err := os.MkdirTemp("/dev/shm", "notchback-cluster-")
	require.NoError(t, err)
	require.NoError(t, os.Chmod(dir, 0o755))
	t.Cleanup(func() { _ = os.RemoveAll(dir) })
	return filepath.Join(dir, "pg")
}

func answers(t *testing.T, c *Cluster) {
	t.Helper()
	conn, err := pgx.Connect(context.Background(), c.AdminURL("postgres"))
	require.NoError(t, err)
	defer conn.Close(context.Background())
	var where string
	require.NoError(t, conn.QueryRow(context.Background(), `SHOW listen_addresses`).Scan(&where))
	assert.Equal(t, "127.0.0.1", where, "loopback only")
	require.NoError(t, conn.QueryRow(context.Background(), `SHOW unix_socket_directories`).Scan(&where))
	assert.Empty(t, where, "no socket")
}

func TestStartAdoptKillAndStop(t *testing.T) {
	o := Options{Dir: folder(t), Memory: true}
	c, err := Start(context.Background(), o)
	require.NoError(t, err)
	assert.False(t, c.Adopted())
	answers(t, c)

	again, err := Start(context.Background(), o)
	require.NoError(t, err)
	assert.True(t, again.Adopted(), "a server left running is taken over")
	assert.Equal(t, c.AdminURL("postgres"), again.AdminURL("postgres"))

	require.NoError(t, again.Kill())
	third, err := Start(context.Background(), o)
	require.NoError(t, err, "after a killed server the next one starts")
	assert.False(t, third.Adopted())
	answers(t, third)
	require.NoError(t, third.Stop())
	require.NoError(t, third.Stop(), "stopping twice is no failure")
	require.NoError(t, third.Remove())
	assert.NoDirExists(t, third.dir)
}

func TestAHalfMadeFolderSaysWhatToDo(t *testing.T) {
	dir := folder(t)
	require.NoError(t, os.MkdirAll(dir, 0o755))
	require.NoError(t, os.WriteFile(filepath.Join(dir, "leftover"), nil, 0o600))
	_, err := Start(context.Background(), Options{Dir: dir, Memory: true})
	assert.ErrorContains(t, err, "is half made: remove it and start again")
}

func TestWithoutTheServersPasswordNobodyGetsIn(t *testing.T) {
	o := Options{Dir: folder(t), Memory: true}
	c, err := Start(context.Background(), o)
	require.NoError(t, err)
	t.Cleanup(func() { _ = c.Stop() })
	_, err = pgx.Connect(context.Background(), c.url("postgres", "guess", "postgres"))
	assert.ErrorContains(t, err, "password authentication failed")
	st, err := os.Stat(filepath.Join(c.dir, "notchback.secret"))
	require.NoError(t, err)
	assert.EqualValues(t, 0o600, st.Mode().Perm())
	assert.NotEqual(t, Secret(), Secret())
}

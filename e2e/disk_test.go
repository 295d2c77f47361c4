package e2e

import (
	"context"
	"errors"
	"net/http"
	"os"
	"path/filepath"
	"syscall"
	"testing"
	"time"

	"github.com/jackc/pgx/v5"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"notchback/internal/cluster"
)

// TestAFullDisk: the records stand on a small disk that something else fills up. What cannot be kept is told in words and
// nothing is half done; the database is even killed meanwhile and cannot start again. Once there is room all of it goes on by
// itself, what was confirmed is there once, and what was not goes in. Where no disk may be made, the database is told to answer
// as it does on a full one; all else is the same.
func TestAFullDisk(t *testing.T) {
	r := built(t)
	require.NoError(t, os.Mkdir(r.dir, 0o755))
	err := syscall.Mount("tmpfs", r.dir, "tmpfs", 0, "size=200m,mode=755")
	small := !errors.Is(err, syscall.EPERM)
	if small {
		require.NoError(t, err)
		t.Cleanup(func() { _ = syscall.Unmount(r.dir, syscall.MNT_DETACH) })
	}
	c := r.practise(600)
	full := filepath.Join(r.dir, "something else")
	makeRoom := func() { require.NoError(t, os.Remove(full)) }
	if small {
		fillUp(t, full)
	} else {
		makeRoom = r.answersFull()
	}

	reached, said := 0, ""
	for ; reached < len(c.ids)-20; reached++ {
		status, text, err := c.do(c.token, "PUT", "/api/phone/logs/"+c.ids[reached], c.entry)
		require.NoError(t, err, "an answer comes")
		if status != http.StatusOK {
			require.Equal(t, http.StatusServiceUnavailable, status, text)
			said = text
			break
		}
		c.confirmed[c.ids[reached]] = true
	}
	t.Logf("%d sessions went in before the disk was full: %s", reached, said)
	require.Less(t, reached, len(c.ids)-20, "the disk fills up")
	assert.Contains(t, said, "disk is full")
	status, text, err := c.do("", "GET", "/api/runners/"+c.runner+"/adjust", nil)
	require.NoError(t, err)
	assert.Equal(t, http.StatusOK, status, "what is there is read: %s", text)

	require.NoError(t, syscall.Kill(r.database(), syscall.SIGKILL))
	status, _, err = c.do(c.token, "PUT", "/api/phone/logs/"+c.ids[reached], c.entry)
	require.NoError(t, err, "an answer comes")
	assert.Equal(t, http.StatusServiceUnavailable, status)
	makeRoom()
	require.Eventually(t, func() bool {
		status, _, err := c.do("", "GET", "/api/today", nil)
		return err == nil && status == http.StatusOK
	}, time.Minute, 50*time.Millisecond, "it goes on by itself")
	c.ids = c.ids[:reached+20]
	require.Eventually(t, func() bool { // as a phone does: what was not confirmed is sent again
		reached = c.send(reached)
		return reached == len(c.ids)
	}, time.Minute, 50*time.Millisecond, "all of it goes in")
	seen := c.stored()
	for _, id := range c.ids {
		assert.True(t, c.confirmed[id])
		assert.Equal(t, 1, seen[id])
	}
}

// answersFull has the database answer every session as it does when its disk is full, until the function it returns is called.
func (r *real) answersFull() (until func()) {
	tell := func(sql string) {
		db, err := cluster.Start(context.Background(), cluster.Options{Dir: filepath.Join(r.dir, "postgres")})
		require.NoError(r.t, err)
		admin, err := pgx.Connect(context.Background(), db.AdminURL("notchback"))
		require.NoError(r.t, err)
		defer admin.Close(context.Background())
		_, err = admin.Exec(context.Background(), sql)
		require.NoError(r.t, err)
	}
	tell(`CREATE FUNCTION no_room() RETURNS trigger LANGUAGE plpgsql AS
		$$ BEGIN RAISE EXCEPTION 'could not extend file: No space left on device' USING ERRCODE = 'disk_full'; END $$;
		CREATE TRIGGER no_room BEFORE INSERT ON logs FOR EACH ROW EXECUTE FUNCTION no_room()`)
	return func() { tell(`DROP TRIGGER no_room ON logs; DROP FUNCTION no_room()`) }
}

// fillUp takes all the room there is.
func fillUp(t *testing.T, file string) {
	t.Helper()
	f, err := os.Create(file)
	require.NoError(t, err)
	defer f.Close()
	for block := make([]byte, 1<<20); len(block) > 0; {
		if _, err := f.Write(block); err != nil {
			require.ErrorIs(t, err, syscall.ENOSPC)
			block = block[:len(block)/2]
		}
	}
}

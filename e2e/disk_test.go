package e2e

import (
	"errors"
	"net/http"
	"os"
	"path/filepath"
	"syscall"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// TestAFullDisk: the records stand on a small disk that something else fills up. What cannot be kept is told in words and
// nothing is half done; the database is even killed meanwhile and cannot start again. Once there is room all of it goes on by
// itself, what was confirmed is there once, and what was not goes in.
func TestAFullDisk(t *testing.T) {
	r := built(t)
	require.NoError(t, os.Mkdir(r.dir, 0o755))
	err := syscall.Mount("tmpfs", r.dir, "tmpfs", 0, "size=200m,mode=755")
	if errors.Is(err, syscall.EPERM) {
		t.Skip("a small disk can be made by root only")
	}
	require.NoError(t, err)
	t.Cleanup(func() { _ = syscall.Unmount(r.dir, syscall.MNT_DETACH) })
	c := r.practise(600)
	full := filepath.Join(r.dir, "something else")
	fillUp(t, full)

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
	require.NoError(t, os.Remove(full))
	require.Eventually(t, func() bool {
		status, _, err := c.do("", "GET", "/api/today", nil)
		return err == nil && status == http.StatusOK
	}, time.Minute, 50*time.Millisecond, "it goes on by itself")
	c.ids = c.ids[:reached+20]
	require.Equal(t, len(c.ids), c.send(reached))
	seen := c.stored()
	for _, id := range c.ids {
		assert.True(t, c.confirmed[id])
		assert.Equal(t, 1, seen[id])
	}
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

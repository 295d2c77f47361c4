package e2e

import (
	"os"
	"os/exec"
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// script runs ./notchback with only these programs on the path.
func script(t *testing.T, programs map[string]string, args ...string) (string, error) {
	t.Helper()
	bin := t.TempDir()
	for _, p := range []string{"bash", "env", "dirname", "readlink", "sed", "cat", "find", "id", "mkdir", "touch"} {
		at, err := exec.LookPath(p)
		require.NoError(t, err)
		require.NoError(t, os.Symlink(at, filepath.Join(bin, p)))
	}
	for name, body := range programs {
		require.NoError(t, os.WriteFile(filepath.Join(bin, name), []byte("#!/bin/bash\n"+body+"\n"), 0o755))
	}
	cmd := exec.Command(filepath.Join(bin, "bash"), append([]string{"../notchback"}, args...)...)
	cmd.Env = []string{"PATH=" + bin, "HOME=" + t.TempDir()}
	out, err := cmd.CombinedOutput()
	return string(out), err
}

// TestTheScriptSaysWhatIsMissing: one clear line for each missing tool.
func TestTheScriptSaysWhatIsMissing(t *testing.T) {
	goodGo := `echo go1.26.8`
	for _, c := range []struct {
		programs map[string]string
		want     string
	}{
		{nil, "notchback: Go is missing: install Go 1.26 or newer.\n"},
		{map[string]string{"go": "echo go1.21.3"}, "notchback: Go 1.26 or newer is needed; this is go1.21.3.\n"},
		{map[string]string{"go": goodGo}, "notchback: Node is missing: install Node 20 or newer with npm.\n"},
		{map[string]string{"go": goodGo, "npm": "", "node": `[ "$1" = -p ] && echo 16 || echo v16.0.0`},
			"notchback: Node 20 or newer is needed; this is v16.0.0.\n"},
	} {
		out, err := script(t, c.programs, "demo")
		assert.Error(t, err)
		assert.Equal(t, c.want, out)
	}
}

func TestTheScriptsWords(t *testing.T) {
	out, err := script(t, nil, "help")
	require.NoError(t, err)
	for _, w := range []string{"demo", "serve", "test", "bench", "code EMAIL", "practice"} {
		assert.Contains(t, out, w)
	}
	out, err = script(t, nil)
	require.NoError(t, err)
	assert.Contains(t, out, "./notchback demo")
	out, err = script(t, nil, "dance")
	assert.Error(t, err)
	assert.Equal(t, "notchback: there is no “dance”; ./notchback help lists what there is\n", out)
}

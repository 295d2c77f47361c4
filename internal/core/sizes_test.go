package core_test

import (
	"bufio"
	"bytes"
	"io/fs"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"testing"
	"unicode/utf8"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// TestWhatAReaderTakesIn: no hand-written Go file is over 500 lines, and no line over 140 characters.
func TestWhatAReaderTakesIn(t *testing.T) {
	files := 0
	require.NoError(t, filepath.WalkDir("../..", func(path string, d fs.DirEntry, err error) error {
		require.NoError(t, err)
		if d.IsDir() && slices.Contains([]string{"node_modules", ".git", "dist"}, d.Name()) {
			return filepath.SkipDir
		}
		if !strings.HasSuffix(path, ".go") {
			return nil
		}
		src, err := os.ReadFile(path)
		require.NoError(t, err)
		files++
		lines := bufio.NewScanner(bytes.NewReader(src))
		n := 0
		for lines.Scan() {
			n++
			assert.LessOrEqual(t, utf8.RuneCountInString(lines.Text()), 140, "%s:%d", path, n)
		}
		assert.LessOrEqual(t, n, 500, "%s: part it by subject", path)
		return nil
	}))
	assert.Greater(t, files, 100)
}

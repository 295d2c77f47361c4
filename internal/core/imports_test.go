package core_test

import (
	"go/parser"
	"go/token"
	"io/fs"
	"os"
	"path/filepath"
	"strconv"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// barredFrom says what a package may not know: data flows from the core through records, the store and the rooms to
// the api.
var barredFrom = map[string][]string{
	"../record/": {"notchback/internal/store", "notchback/internal/room", "notchback/internal/api", "github.com/jackc/pgx/v5"},
	"../store/":  {"notchback/internal/room", "notchback/internal/api", "github.com/gin-gonic/gin"},
	"../room/": {"notchback/internal/api", "notchback/internal/formats", "notchback/internal/standin", "github.com/gin-gonic/gin",
		"github.com/jackc/pgx/v5"},
	"../formats/": {"notchback/internal/api", "notchback/internal/store"},
	"../standin/": {"notchback/internal/api", "notchback/internal/store", "notchback/internal/room"},
	"../crowd/":   {"notchback/internal/api"},
}

// TestImportDirection keeps the rooms apart: the core knows only the standard library without its
// I/O packages, gonum and itself; the store never imports the api; the job room sits between them.
func TestImportDirection(t *testing.T) {
	barred := []string{"os", "net", "net/http", "database/sql", "log", "log/slog", "math/rand", "math/rand/v2", "io", "io/fs", "context"}
	files := 0
	require.NoError(t, filepath.WalkDir("..", func(path string, d fs.DirEntry, err error) error {
		if err != nil || d.IsDir() || !strings.HasSuffix(path, ".go") || strings.HasSuffix(path, "_test.go") {
			return err
		}
		f, err := parser.ParseFile(token.NewFileSet(), path, nil, parser.ImportsOnly)
		require.NoError(t, err)
		files++
		for _, imp := range f.Imports {
			p, _ := strconv.Unquote(imp.Path.Value)
			if strings.HasPrefix(path, "../core/") {
				inside := strings.HasPrefix(p, "notchback/internal/core") || strings.HasPrefix(p, "gonum.org/") ||
					!strings.Contains(strings.Split(p, "/")[0], ".") && !strings.HasPrefix(p, "notchback")
				assert.True(t, inside, "%s imports %s", path, p)
				assert.NotContains(t, barred, p, "%s imports %s", path, p)
			}
			for from, to := range barredFrom {
				if strings.HasPrefix(path, from) {
					assert.NotContains(t, to, p, "%s imports %s", path, p)
				}
			}
		}
		return nil
	}))
	assert.Greater(t, files, 10)
}

// TestNoClockInCore: the core never asks what time it is.
func TestNoClockInCore(t *testing.T) {
	require.NoError(t, filepath.WalkDir(".", func(path string, d fs.DirEntry, err error) error {
		if err != nil || d.IsDir() || !strings.HasSuffix(path, ".go") || strings.HasSuffix(path, "_test.go") {
			return err
		}
		src, err := os.ReadFile(path)
		require.NoError(t, err)
		assert.NotContains(t, string(src), "time.Now(", path)
		assert.NotContains(t, string(src), "time.Since(", path)
		return nil
	}))
}

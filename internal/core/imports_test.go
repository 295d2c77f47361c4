package core_test

import (
	"cmp"
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
var barredFrom = map[string]string{
	"../account/": "record store room api standin formats pgx gin",
	"../device/":  "record store room api standin formats pgx gin",
	"../record/":  "store room api standin formats pgx gin",
	"../formats/": "record store room api standin pgx gin",
	"../standin/": "record store room api formats pgx gin",
	"../store/":   "room api standin formats gin",
	"../room/":    "api standin pgx gin",
	"../api/":     "standin demo pgx",
	"../demo/":    "api pgx gin",
	"../crowd/":   "api gin",
}

var outside = map[string]string{"pgx": "github.com/jackc/pgx/v5", "gin": "github.com/gin-gonic/gin"}

// TestImportDirection keeps the rooms apart: the core knows only the standard library without its
// I/O packages, gonum and itself; the store never imports the api; the rooms sit between them.
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
				if !strings.HasPrefix(path, from) {
					continue
				}
				for _, name := range strings.Fields(to) {
					assert.NotEqual(t, cmp.Or(outside[name], "notchback/internal/"+name), p, "%s knows %s", path, name)
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

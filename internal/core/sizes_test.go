package core_test

import (
	"bufio"
	"bytes"
	"go/ast"
	"go/parser"
	"go/token"
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

// goFiles gives each Go file of the project, with what is in it.
func goFiles(t *testing.T, look func(path string, src []byte)) {
	t.Helper()
	require.NoError(t, filepath.WalkDir("../..", func(path string, d fs.DirEntry, err error) error {
		require.NoError(t, err)
		if d.IsDir() && slices.Contains([]string{"node_modules", ".git", "dist"}, d.Name()) {
			return filepath.SkipDir
		}
		if !d.IsDir() && strings.HasSuffix(path, ".go") {
			src, err := os.ReadFile(path)
			require.NoError(t, err)
			look(path, src)
		}
		return nil
	}))
}

// TestWhatAReaderTakesIn: no hand-written Go file is over 500 lines, and no line over 140 characters.
func TestWhatAReaderTakesIn(t *testing.T) {
	files := 0
	goFiles(t, func(path string, src []byte) {
		files++
		lines := bufio.NewScanner(bytes.NewReader(src))
		n := 0
		for lines.Scan() {
			n++
			assert.LessOrEqual(t, utf8.RuneCountInString(lines.Text()), 140, "%s:%d", path, n)
		}
		assert.LessOrEqual(t, n, 500, "%s: part it by subject", path)
	})
	assert.Greater(t, files, 100)
}

// TestFunctionsAreShort: no function has more than 60 lines of its own: those of functions written inside it, of
// tables and of texts are not counted.
func TestFunctionsAreShort(t *testing.T) {
	set, read := token.NewFileSet(), 0
	goFiles(t, func(path string, src []byte) {
		file, err := parser.ParseFile(set, path, src, 0)
		require.NoError(t, err)
		ast.Inspect(file, func(n ast.Node) bool {
			var body *ast.BlockStmt
			switch f := n.(type) {
			case *ast.FuncDecl:
				body = f.Body
			case *ast.FuncLit:
				body = f.Body
			}
			if body != nil {
				read++
				assert.LessOrEqual(t, ownLines(set, body), 60, "%s: part it", set.Position(n.Pos()))
			}
			return true
		})
	})
	assert.Greater(t, read, 2000)
}

// ownLines counts the lines of a function without those of functions inside it, of tables (five lines of data and
// more) and of texts over several lines.
func ownLines(set *token.FileSet, body *ast.BlockStmt) int {
	span := func(n ast.Node) int { return set.Position(n.End()).Line - set.Position(n.Pos()).Line }
	lines := span(body) + 1
	ast.Inspect(body, func(n ast.Node) bool {
		switch x := n.(type) {
		case *ast.FuncLit:
			lines -= max(0, span(x)-1)
			return false
		case *ast.CompositeLit:
			if span(x) >= 5 && isData(set, x) {
				lines -= span(x)
				return false
			}
		case *ast.BasicLit:
			lines -= strings.Count(x.Value, "\n")
		}
		return true
	})
	return lines
}

// isData reports a table without functions of any length in it.
func isData(set *token.FileSet, table *ast.CompositeLit) bool {
	data := true
	ast.Inspect(table, func(n ast.Node) bool {
		if f, ok := n.(*ast.FuncLit); ok && set.Position(f.End()).Line-set.Position(f.Pos()).Line > 8 {
			data = false
		}
		return true
	})
	return data
}

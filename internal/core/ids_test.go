package core_test

import (
	"go/ast"
	"go/parser"
	"go/token"
	"io/fs"
	"path/filepath"
	"slices"
	"strconv"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"notchback/internal/core/catalog"
	"notchback/internal/core/screen"
)

// Where ids are written out: the registries and the made-up data.
var registries = []string{"core/screen/battery.go", "core/screen/demands.go", "core/body/measures.go", "core/catalog/moved.go",
	"internal/demo/", "internal/crowd/", "internal/testkit/", "core/permit/plain/"}

// alsoWords are ids of rails that are words of the field as well: stations, places, kinds of work, questions.
var alsoWords = []string{"ankle_bend", "arms", "balance", "big_toe", "cadence", "cold", "drill_posture", "heel_walk", "posture", "reach",
	"shin", "side_ankle", "spring", "strides", "toe_control", "trunk"}

// The ids of measures, rails and exercises live in the registry and the data: code speaks of a measure by its name in
// body/measures.go, and of no rail at all.
func TestIdsAreNotWrittenInCode(t *testing.T) {
	is := map[string]string{}
	for _, m := range screen.Measures {
		is[m.ID] = "measure"
	}
	for _, r := range catalog.Shipped.Rails {
		if !slices.Contains(alsoWords, r.ID) {
			is[r.ID] = "rail"
		}
		for _, x := range r.Exercises {
			if _, word := is[x.ID]; !word && !slices.Contains(alsoWords, x.ID) {
				is[x.ID] = "exercise"
			}
		}
	}
	set, read := token.NewFileSet(), 0
	require.NoError(t, filepath.WalkDir("..", func(path string, d fs.DirEntry, err error) error {
		require.NoError(t, err)
		at := filepath.ToSlash(filepath.Join("internal/core", path))
		if d.IsDir() || !strings.HasSuffix(path, ".go") || strings.HasSuffix(path, "_test.go") ||
			slices.ContainsFunc(registries, func(r string) bool { return strings.Contains(at, r) }) {
			return nil
		}
		file, err := parser.ParseFile(set, path, nil, 0)
		require.NoError(t, err)
		read++
		rules := ruleKeys(file)
		ast.Inspect(file, func(n ast.Node) bool {
			if b, ok := n.(*ast.BasicLit); ok && b.Kind == token.STRING && !rules[b.Pos()] {
				v, _ := strconv.Unquote(b.Value)
				assert.Empty(t, is[v], "%s: %q", set.Position(b.Pos()), v)
			}
			return true
		})
		return nil
	}))
	assert.Greater(t, read, 80)
}

// ruleKeys are the strings that name rules and house rules, some of which are called as the measure they judge.
func ruleKeys(file *ast.File) map[token.Pos]bool {
	out := map[token.Pos]bool{}
	ast.Inspect(file, func(n ast.Node) bool {
		call, ok := n.(*ast.CallExpr)
		if !ok {
			return true
		}
		if s, ok := call.Fun.(*ast.SelectorExpr); ok && slices.Contains([]string{"Because", "Get", "Int"}, s.Sel.Name) {
			for _, a := range call.Args {
				out[a.Pos()] = true
			}
		}
		return true
	})
	return out
}

// Every name in body/measures.go is a measure, or what a finding makes of one.
func TestNamedMeasuresAreInTheBattery(t *testing.T) {
	derived := []string{"toe.active_gap", "toe.passive_angle"}
	file, err := parser.ParseFile(token.NewFileSet(), "body/measures.go", nil, 0)
	require.NoError(t, err)
	n := 0
	ast.Inspect(file, func(x ast.Node) bool {
		if b, ok := x.(*ast.BasicLit); ok && b.Kind == token.STRING {
			id, _ := strconv.Unquote(b.Value)
			_, known := screen.FindMeasure(id)
			assert.True(t, known || slices.Contains(derived, id), id)
			n++
		}
		return true
	})
	assert.Greater(t, n, 40)
}

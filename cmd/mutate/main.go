// Mutate changes one comparison, condition or side of the rules at a time and runs their tests: a change that no
// test notices is a hole in the tests. It is run by hand, outside the whole test.
package main

import (
	"bytes"
	"context"
	"encoding/json"
	"flag"
	"fmt"
	"go/ast"
	"go/parser"
	"go/token"
	"math/rand/v2"
	"os"
	"os/exec"
	"path/filepath"
	"regexp"
	"slices"
	"strings"
	"sync"
	"syscall"
	"time"
)

// target is a part of the core with the tests that hold it, the quick ones first.
type target struct {
	name  string
	files []string
	tests [][]string
}

const core = "./internal/core/"

var (
	quickAdjust = []string{core + "adjust", "-skip", "^(TestWorse|TestTheTable|TestPropertyTheQuiet|TestOutcomes)"}
	plainAdjust = []string{core + "adjust", "-run", "^TestTheTable", "-args", "-lives", "200"}
	quickPermit = []string{core + "permit", "-skip", "^TestTheQuestion"}
	keptAdjust  = []string{core + "adjust", "-run", "^TestOutcomes"}
	keptBuild   = []string{core + "build", "-run", "^TestOutcomes"}
	worse       = []string{core + "adjust", "-run", "^(TestWorse|TestPropertyTheQuiet)", "-args", "-pairs", "800"}
)

var targets = []target{
	{"permit", []string{"permit/cut.go", "permit/cuts.go", "permit/patterns.go", "permit/permit.go", "permit/runs.go"},
		[][]string{quickPermit, keptAdjust, keptBuild, {core + "permit"}, {core + "screen"}, {core + "build"}, {core + "catalog"}, quickAdjust,
			plainAdjust, worse}},
	{"refer", []string{"refer/refer.go", "refer/cautions.go", "refer/signs.go"},
		[][]string{{core + "refer"}, quickPermit, keptAdjust, keptBuild, {core + "permit"}, {core + "screen"}, {core + "build"}, quickAdjust,
			plainAdjust, worse}},
	{"adjust", []string{"adjust/rules.go", "adjust/mornings.go", "adjust/stops.go", "adjust/earned.go", "adjust/facts.go", "adjust/dose.go",
		"adjust/adjust.go", "adjust/pair.go", "adjust/outcome.go", "adjust/shared.go", "adjust/log.go"},
		[][]string{keptAdjust, quickAdjust, plainAdjust, worse}},
	{"load", []string{"load/load.go", "load/ratio.go", "load/returning.go"},
		[][]string{{core + "load"}, keptAdjust, quickAdjust, plainAdjust, worse}},
	{"build", []string{"build/place.go", "build/share.go", "build/kept.go", "build/ceiling.go", "build/calendar.go", "catalog/grades.go"},
		[][]string{keptBuild, {core + "catalog"}, {core + "build"}, keptAdjust, quickAdjust}},
}

// mutant is one change: the bytes from..to of a file become text.
type mutant struct {
	target   *target
	file     string
	line     int
	from, to int
	text     string
	what     string
}

var shifted = map[token.Token]token.Token{token.LSS: token.LEQ, token.LEQ: token.LSS, token.GTR: token.GEQ, token.GEQ: token.GTR}
var turned = map[token.Token]token.Token{token.LSS: token.GTR, token.LEQ: token.GEQ, token.GTR: token.LSS, token.GEQ: token.LEQ,
	token.EQL: token.NEQ, token.NEQ: token.EQL}

// mutants lists every change a file allows, in the order of the file.
func mutants(t *target, file string) ([]mutant, error) {
	src, err := os.ReadFile(file)
	if err != nil {
		return nil, fmt.Errorf("reading the rules: %w", err)
	}
	set := token.NewFileSet()
	tree, err := parser.ParseFile(set, file, src, 0)
	if err != nil {
		return nil, fmt.Errorf("parsing the rules: %w", err)
	}
	var out []mutant
	at := func(p token.Pos) int { return set.Position(p).Offset }
	text := func(n ast.Node) string { return string(src[at(n.Pos()):at(n.End())]) }
	put := func(n ast.Node, with, kind string) {
		was := strings.Join(strings.Fields(text(n)), " ")
		out = append(out, mutant{t, file, set.Position(n.Pos()).Line, at(n.Pos()), at(n.End()), with,
			fmt.Sprintf("%s: %s → %s", kind, was, strings.Join(strings.Fields(with), " "))})
	}
	ast.Inspect(tree, func(n ast.Node) bool {
		switch n := n.(type) {
		case *ast.BinaryExpr:
			l, r := text(n.X), text(n.Y)
			if op, ok := shifted[n.Op]; ok {
				put(n, l+" "+op.String()+" "+r, "shifted")
			}
			if op, ok := turned[n.Op]; ok {
				put(n, l+" "+op.String()+" "+r, "turned")
			}
			if n.Op == token.LAND || n.Op == token.LOR {
				put(n, l, "dropped")
				put(n, "("+r+")", "dropped")
			}
		case *ast.IfStmt:
			if n.Init == nil {
				put(n.Cond, "false", "dropped")
			}
		case *ast.SwitchStmt:
			for _, c := range n.Body.List {
				if clause := c.(*ast.CaseClause); n.Tag == nil && len(clause.List) == 1 {
					put(clause.List[0], "false", "dropped")
				}
			}
		case *ast.SelectorExpr:
			if x, ok := n.X.(*ast.Ident); ok && x.Name == "body" && (n.Sel.Name == "Left" || n.Sel.Name == "Right") {
				put(n, map[string]string{"Left": "body.Right", "Right": "body.Left"}[n.Sel.Name], "swapped")
			}
		}
		return true
	})
	return out, nil
}

// outcome of one mutant.
type outcome int

const (
	killed outcome = iota
	survived
	unbuilt
)

// try runs the target's tests over the change; the first that fails kills it.
func (m mutant) try(ctx context.Context, dir string, limit time.Duration) (outcome, error) {
	src, err := os.ReadFile(m.file)
	if err != nil {
		return unbuilt, fmt.Errorf("reading the rules: %w", err)
	}
	changed := filepath.Join(dir, "changed.go")
	if err := os.WriteFile(changed, slices.Concat(src[:m.from], []byte(m.text), src[m.to:]), 0o600); err != nil {
		return unbuilt, fmt.Errorf("writing the change: %w", err)
	}
	abs, err := filepath.Abs(m.file)
	if err != nil {
		return unbuilt, fmt.Errorf("finding the file: %w", err)
	}
	overlay, err := json.Marshal(map[string]map[string]string{"Replace": {abs: changed}})
	if err != nil {
		return unbuilt, fmt.Errorf("writing the overlay: %w", err)
	}
	over := filepath.Join(dir, "overlay.json")
	if err := os.WriteFile(over, overlay, 0o600); err != nil {
		return unbuilt, fmt.Errorf("writing the overlay: %w", err)
	}
	run := func(args ...string) ([]byte, bool) {
		inTime, cancel := context.WithTimeout(ctx, limit)
		defer cancel()
		c := exec.CommandContext(inTime, "go", args...)
		c.Env = append(os.Environ(), "GOMAXPROCS=1")
		c.SysProcAttr = &syscall.SysProcAttr{Setpgid: true} // a test that never ends goes with the command that ran it
		c.Cancel = func() error { return syscall.Kill(-c.Process.Pid, syscall.SIGKILL) }
		out, err := c.CombinedOutput()
		return out, err == nil
	}
	for _, t := range m.target.tests {
		args := append([]string{"test", "-overlay", over, "-vet=off", "-count=1", "-failfast"}, t...)
		if out, ok := run(args...); !ok {
			if bytes.Contains(out, []byte("[build failed]")) {
				return unbuilt, nil
			}
			return killed, nil
		}
	}
	return survived, nil
}

var told = regexp.MustCompile(`(?m)^survived: (\S+):\d+ (.*)$`)

// survivors keeps the changes that a former run's output names; lines may have moved since.
func survivors(all []mutant, text string) []mutant {
	named := map[string]bool{}
	for _, m := range told.FindAllStringSubmatch(text, -1) {
		named[m[1]+" "+m[2]] = true
	}
	return slices.DeleteFunc(all, func(m mutant) bool { return !named[m.file+" "+m.what] })
}

func run() error {
	n := flag.Int("n", 300, "changes to try, drawn from all there are")
	seed := flag.Uint64("seed", 1, "seed of the draw")
	only := flag.String("only", "", "one part: permit, refer, adjust, load or build")
	workers := flag.Int("workers", 2, "changes tried at a time")
	limit := flag.Duration("limit", 4*time.Minute, "longest a test may take before the change counts as noticed")
	again := flag.String("again", "", "a former run's output: try only the changes that survived it")
	list := flag.Bool("list", false, "count the changes there are and stop")
	flag.Parse()
	all, err := everyChange(*only)
	if err != nil {
		return err
	}
	if *again != "" {
		text, err := os.ReadFile(*again)
		if err != nil {
			return err
		}
		all = survivors(all, string(text))
	}
	fmt.Printf("%d changes there are\n", len(all))
	if *list {
		return nil
	}
	r := rand.New(rand.NewPCG(*seed, 0))
	r.Shuffle(len(all), func(i, k int) { all[i], all[k] = all[k], all[i] })
	count, err := tryUntil(all, *n, *workers, *limit)
	if err != nil {
		return err
	}
	noticed, alive := 0, 0
	for _, t := range targets {
		if c := count[t.name]; c.noticed+c.alive > 0 {
			fmt.Printf("%-8s %d noticed, %d survived\n", t.name, c.noticed, c.alive)
			noticed, alive = noticed+c.noticed, alive+c.alive
		}
	}
	fmt.Printf("seed %d: %d tried, %.1f %% noticed\n", *seed, noticed+alive, 100*float64(noticed)/float64(max(1, noticed+alive)))
	return nil
}

// everyChange lists the changes there are, of one part or of all.
func everyChange(only string) (all []mutant, err error) {
	for i := range targets {
		t := &targets[i]
		if only != "" && t.name != only {
			continue
		}
		for _, f := range t.files {
			ms, err := mutants(t, filepath.Join("internal", "core", f))
			if err != nil {
				return nil, err
			}
			all = append(all, ms...)
		}
	}
	return all, nil
}

// tally is how many changes of a part were noticed, and how many survived.
type tally struct{ noticed, alive int }

type result struct {
	m   mutant
	got outcome
	err error
}

// tryUntil tries changes in order, some at a time, until n of them could be built; it prints those that survive.
func tryUntil(all []mutant, n, workers int, limit time.Duration) (map[string]tally, error) {
	todo, stop := make(chan mutant), make(chan struct{})
	go func() {
		defer close(todo)
		for _, m := range all {
			select {
			case todo <- m:
			case <-stop:
				return
			}
		}
	}()
	count, tried, alive, stopped := map[string]tally{}, 0, 0, false
	for x := range try(todo, workers, limit) {
		if x.err != nil {
			return nil, x.err
		}
		if x.got == unbuilt {
			continue
		}
		c := count[x.m.target.name]
		tried++
		if x.got == survived {
			alive++
			c.alive++
			fmt.Printf("survived: %s:%d %s\n", x.m.file, x.m.line, x.m.what)
		} else {
			c.noticed++
		}
		count[x.m.target.name] = c
		if tried%25 == 0 {
			fmt.Printf("… %d tried, %d survived\n", tried, alive)
		}
		if tried >= n && !stopped {
			stopped = true
			close(stop)
		}
	}
	return count, nil
}

// try has workers try what comes; what they found comes out until there is nothing left.
func try(todo <-chan mutant, workers int, limit time.Duration) <-chan result {
	done := make(chan result)
	var group sync.WaitGroup
	for range workers {
		group.Go(func() {
			dir, err := os.MkdirTemp("", "mutate")
			if err != nil {
				done <- result{err: err}
				return
			}
			defer os.RemoveAll(dir)
			for m := range todo {
				got, err := m.try(context.Background(), dir, limit)
				done <- result{m, got, err}
			}
		})
	}
	go func() { group.Wait(); close(done) }()
	return done
}

func main() {
	if err := run(); err != nil {
		fmt.Fprintln(os.Stderr, err)
		os.Exit(1)
	}
}

// Package outcomes keeps, in a few bytes each, what the rules made of many drawn records. What is stored of a runner
// is computed again when the engine's version changes, and only then: an outcome that changes without it would leave
// old words standing. The kept outcomes say nothing of right or wrong; the properties do.
package outcomes

import (
	"crypto/sha256"
	"encoding/json"
	"flag"
	"fmt"
	"os"
	"path/filepath"
	"runtime"
	"slices"
	"strconv"
	"strings"
	"sync"
	"testing"

	"github.com/stretchr/testify/require"

	"notchback/internal/core"
	"notchback/internal/core/body"
)

var (
	keep = flag.Bool("keep", false, "keep the outcomes of this engine's version")
	show = flag.Int("show", -1, "print the outcome of this seed instead")
)

// Compare draws n outcomes by their seeds, 0 to n-1, and compares them with those kept in testdata/outcomes. It fails
// when any differs, and says what to do.
func Compare(t *testing.T, n int, draw func(seed uint64) any) {
	t.Helper()
	if *show >= 0 {
		out, err := json.MarshalIndent(draw(uint64(*show)), "", " ")
		require.NoError(t, err)
		t.Fatalf("%s", out)
	}
	hash := func(seed int) string {
		out, err := json.Marshal(draw(uint64(seed)))
		if err != nil {
			out = []byte(err.Error())
		}
		return fmt.Sprintf("%x", sha256.Sum256(rounded([]byte(body.Plain(string(out))))))[:6]
	}
	file := filepath.Join("testdata", "outcomes")
	if *keep {
		lines := make([]string, n)
		for i := range lines {
			lines[i] = hash(i)
		}
		require.NoError(t, os.MkdirAll("testdata", 0o755))
		require.NoError(t, os.WriteFile(file, []byte(core.EngineVersion+"\n"+strings.Join(lines, "\n")+"\n"), 0o644))
		return
	}
	text, err := os.ReadFile(file)
	require.NoError(t, err, "keep the outcomes first: go test -run TestOutcomes -keep")
	lines := strings.Fields(string(text))
	version, kept := lines[0], lines[1:]
	require.Len(t, kept, n, "as many as are drawn: keep them again")
	differ := different(n, func(i int) bool { return hash(i) != kept[i] })
	switch {
	case len(differ) == 0 && version == core.EngineVersion:
	case len(differ) == 0:
		t.Fatalf("outcomes are those of %s still: keep them for %s with go test -run TestOutcomes -keep", version, core.EngineVersion)
	case version == core.EngineVersion:
		t.Fatalf("outcomes differ from those kept, seeds %v and others: where that is meant, raise core.EngineVersion, so that what is stored "+
			"is computed again, and keep them with go test -run TestOutcomes -keep; -show SEED prints one", differ)
	default:
		t.Fatalf("outcomes differ from those of %s, seeds %v and others: read some with -show SEED, then keep them with "+
			"go test -run TestOutcomes -keep", version, differ)
	}
}

// rounded writes every figure of more than six decimals with six: where a product and its sum round at once, as on some
// machines, the last digits differ.
func rounded(text []byte) []byte {
	digits := func(i int) int {
		n := 0
		for i+n < len(text) && text[i+n] >= '0' && text[i+n] <= '9' {
			n++
		}
		return n
	}
	out := make([]byte, 0, len(text))
	for i := 0; i < len(text); {
		whole := digits(i)
		if whole == 0 {
			out = append(out, text[i])
			i++
			continue
		}
		end := i + whole
		if end < len(text) && text[end] == '.' {
			if decimals := digits(end + 1); decimals > 6 {
				v, _ := strconv.ParseFloat(string(text[i:end+1+decimals]), 64)
				out = strconv.AppendFloat(out, v, 'f', 6, 64)
				i = end + 1 + decimals
				continue
			}
		}
		out = append(out, text[i:end]...)
		i = end
	}
	return out
}

// different finds some of the first n seeds that differ: a few are enough to read.
func different(n int, differs func(seed int) bool) []int {
	var out []int
	var lock sync.Mutex
	var group sync.WaitGroup
	workers := runtime.GOMAXPROCS(0)
	enough := func() bool { lock.Lock(); defer lock.Unlock(); return len(out) >= 5 }
	for w := range workers {
		group.Go(func() {
			for i := w; i < n && !enough(); i += workers {
				if differs(i) {
					lock.Lock()
					out = append(out, i)
					lock.Unlock()
				}
			}
		})
	}
	group.Wait()
	slices.Sort(out)
	return out
}

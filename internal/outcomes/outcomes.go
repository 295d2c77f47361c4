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
	"strings"
	"sync"
	"testing"

	"github.com/stretchr/testify/require"

	"notchback/internal/core"
)

var (
	keep = flag.Bool("keep", false, "keep the outcomes of this engine's version")
	show = flag.Int("show", -1, "print the outcome of this seed instead")
)

// Compare draws n outcomes by their seeds, 0 to n-1, and compares them with those kept in testdata/outcomes. It fails
// when any differs, and says what to do.
func Compare(t *testing.T, n int, draw func(seed uint64) any) {
	t.Helper()
	if runtime.GOARCH != "amd64" {
		t.Skip("kept on amd64: elsewhere a product and its sum may round at once, and differ in the last digit")
	}
	if *show >= 0 {
		out, err := json.MarshalIndent(draw(uint64(*show)), "", " ")
		require.NoError(t, err)
		t.Fatalf("%s", out)
	}
	got := make([]string, n)
	var group sync.WaitGroup
	workers := runtime.GOMAXPROCS(0)
	for w := range workers {
		group.Go(func() {
			for i := w; i < n; i += workers {
				out, err := json.Marshal(draw(uint64(i)))
				if err != nil {
					out = []byte(err.Error())
				}
				got[i] = fmt.Sprintf("%x", sha256.Sum256(out))[:6]
			}
		})
	}
	group.Wait()
	file := filepath.Join("testdata", "outcomes")
	if *keep {
		require.NoError(t, os.MkdirAll("testdata", 0o755))
		require.NoError(t, os.WriteFile(file, []byte(core.EngineVersion+"\n"+strings.Join(got, "\n")+"\n"), 0o644))
		return
	}
	text, err := os.ReadFile(file)
	require.NoError(t, err, "keep the outcomes first: go test -run TestOutcomes -keep")
	lines := strings.Fields(string(text))
	version, kept := lines[0], lines[1:]
	require.Len(t, kept, n, "as many as are drawn: keep them again")
	differ := slices.DeleteFunc(seeds(n), func(i int) bool { return got[i] == kept[i] })
	if len(differ) == 0 {
		return
	}
	if version == core.EngineVersion {
		t.Fatalf("%d of %d outcomes differ, seeds %v: where that is meant, raise core.EngineVersion, so that what is stored is computed again, "+
			"and keep them with go test -run TestOutcomes -keep; -show SEED prints one", len(differ), n, differ[:min(5, len(differ))])
	}
	t.Fatalf("%d of %d outcomes differ from those of %s, seeds %v: read some with -show SEED, then keep them with go test -run "+
		"TestOutcomes -keep",
		len(differ), n, version, differ[:min(5, len(differ))])
}

func seeds(n int) []int {
	out := make([]int, n)
	for i := range out {
		out[i] = i
	}
	return out
}

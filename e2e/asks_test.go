package e2e

import (
	"cmp"
	"flag"
	"fmt"
	"os"
	"regexp"
	"slices"
	"strings"
	"sync"
	"testing"

	"github.com/go-rod/rod/lib/proto"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"notchback/internal/testkit"
)

var keepAsks = flag.Bool("keep", false, "write what each page asks into docs/requests.md")

var ids = regexp.MustCompile(`[0-9a-f]{8}-[0-9a-f-]{27}`)

// asked is a request of a page: when it was sent, and when its answer was there, in seconds.
type asked struct {
	path     string
	from, to float64
}

// turns counts how often a page waited for an answer before it asked for more: 1, everything was asked at once.
func turns(all []asked) int {
	depth := map[int]int{}
	most := 0
	slices.SortFunc(all, func(a, b asked) int { return cmp.Compare(a.from, b.from) })
	for i, x := range all {
		depth[i] = 1
		for j, y := range all[:i] {
			if y.to > 0 && y.to <= x.from {
				depth[i] = max(depth[i], depth[j]+1)
			}
		}
		most = max(most, depth[i])
	}
	return most
}

// What each page asks when it is opened cold is what docs/requests.md says, and it waits at most once for an answer before
// it asks for the rest.
func TestWhatEachPageAsksCold(t *testing.T) {
	w := start(t)
	runner := w.programmed(testkit.Profile())
	p := w.signedIn()
	require.NoError(t, proto.NetworkEnable{}.Call(p))
	var mu sync.Mutex
	sent := map[proto.NetworkRequestID]*asked{}
	go p.EachEvent(func(e *proto.NetworkRequestWillBeSent) {
		if i := strings.Index(e.Request.URL, "/api/"); i > 0 {
			mu.Lock()
			sent[e.RequestID] = &asked{path: e.Request.Method + " " + ids.ReplaceAllString(e.Request.URL[i:], "{id}"), from: float64(e.Timestamp)}
			mu.Unlock()
		}
	}, func(e *proto.NetworkLoadingFinished) {
		mu.Lock()
		if x := sent[e.RequestID]; x != nil {
			x.to = float64(e.Timestamp)
		}
		mu.Unlock()
	})()
	var doc strings.Builder
	doc.WriteString("# What each page asks when it is opened cold\n\nFiles of the page apart. Kept by `go test ./e2e -run EachPageAsks -keep`.\n")
	at := "/runners/" + runner
	for _, v := range []struct{ name, path, ready string }{
		{"Today", "/", "Today"}, {"Runners", "/runners", "Search by name"}, {"Library", "/library", everyRail(0)},
		{"House rules", "/house", "No repeat pairs yet"}, {"Practice", "/practice", "Invite a colleague"},
		{"Intake", at + "/intake", "Where it hurts"}, {"Screen", at + "/screen", "Core screen"}, {"Gait", at + "/gait", "Open a clip"},
		{"Read", at + "/read", "Build the programme"}, {"Build", at + "/build", "put into force"}, {"Week", at + "/week", "Days ahead"},
		{"Adjust", at + "/adjust", "Calf"}, {"Retest", at + "/retest", "Nothing to compare yet"},
		{"Hand-out", at + "/hand-out", "The exercises"}, {"Referral note", at + "/referral", "To the clinician"},
		{"Phone", "/phone#" + w.linked(runner), "To mind"},
	} {
		p.MustNavigate("about:blank")
		mu.Lock()
		clear(sent)
		mu.Unlock()
		p.MustNavigate("http://" + w.addr + v.path)
		reads(t, p, v.ready)
		p.MustWaitRequestIdle()()
		mu.Lock()
		all, lines := []asked{}, []string{}
		for _, x := range sent {
			all = append(all, *x)
			lines = append(lines, "- "+x.path)
		}
		mu.Unlock()
		slices.Sort(lines)
		fmt.Fprintf(&doc, "\n## %s\n\n%s\n", v.name, strings.Join(lines, "\n"))
		assert.LessOrEqual(t, turns(all), 2, "%s: %+v", v.name, all)
	}
	const file = "../docs/requests.md"
	if *keepAsks {
		require.NoError(t, os.WriteFile(file, []byte(doc.String()), 0o644))
	}
	was, err := os.ReadFile(file)
	require.NoError(t, err)
	assert.Equal(t, string(was), doc.String())
}

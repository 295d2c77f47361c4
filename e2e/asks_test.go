package e2e

import (
	"flag"
	"fmt"
	"net/http"
	"os"
	"regexp"
	"slices"
	"strings"
	"sync"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"notchback/internal/testkit"
)

var keepAsks = flag.Bool("keep", false, "write what each page asks into docs/requests.md")

var ids = regexp.MustCompile(`[0-9a-f]{8}-[0-9a-f-]{27}`)

// gate notes what is asked, and holds every answer back while it is shut.
type gate struct {
	mu    sync.Mutex
	asked []string
	open  chan struct{}
}

func (g *gate) shut() {
	g.mu.Lock()
	defer g.mu.Unlock()
	g.asked, g.open = nil, make(chan struct{})
}

func (g *gate) list() []string {
	g.mu.Lock()
	defer g.mu.Unlock()
	return slices.Sorted(slices.Values(g.asked))
}

func (g *gate) before(next http.Handler) http.Handler {
	return http.HandlerFunc(func(rw http.ResponseWriter, r *http.Request) {
		if strings.HasPrefix(r.URL.Path, "/api/") {
			g.mu.Lock()
			g.asked = append(g.asked, r.Method+" "+ids.ReplaceAllString(r.URL.RequestURI(), "{id}"))
			open := g.open
			g.mu.Unlock()
			<-open
		}
		next.ServeHTTP(rw, r)
	})
}

// What each page asks when it is opened cold is what docs/requests.md says, and all of it is asked before any of it is
// answered; what a phone goes by without signal is asked once its page is there.
func TestWhatEachPageAsksCold(t *testing.T) {
	w := start(t)
	runner := w.programmed(testkit.Profile())
	p := w.signedIn()
	p.MustNavigate("http://" + w.addr + "/phone#" + w.linked(runner)) // the link is opened once, and known from then on
	reads(t, p, "To mind")
	g := &gate{}
	g.shut()
	close(g.open)
	w.down()
	w.before = g.before
	w.up()
	const file = "../docs/requests.md"
	was, err := os.ReadFile(file)
	require.NoError(t, err)
	var doc strings.Builder
	doc.WriteString("# What each page asks when it is opened cold\n\n" +
		"Files of the page apart. Kept by `go test ./e2e -run EachPageAsks -keep`.\n")
	at := "/runners/" + runner
	for _, v := range []struct{ name, path, ready string }{
		{"Today", "/", "Today"}, {"Runners", "/runners", "Search by name"}, {"Library", "/library", everyRail(0)},
		{"House rules", "/house", "No repeat pairs yet"}, {"Practice", "/practice", "Invite a colleague"},
		{"Intake", at + "/intake", "Where it hurts"}, {"Screen", at + "/screen", "Core screen"}, {"Gait", at + "/gait", "Open a clip"},
		{"Read", at + "/read", "Build the programme"}, {"Build", at + "/build", "put into force"}, {"Week", at + "/week", "Days ahead"},
		{"Load", at + "/load", "Or drop files here"}, {"Adjust", at + "/adjust", "Calf"},
		{"Barefoot", at + "/barefoot", "The gate"}, {"Retest", at + "/retest", "Nothing to compare yet"},
		{"Hand-out", at + "/hand-out", "The exercises"}, {"Referral note", at + "/referral", "To the clinician"},
		{"Phone", "/phone", "To mind"},
	} {
		p.MustNavigate("about:blank")
		g.shut()
		p.MustNavigate("http://" + w.addr + v.path)
		if !*keepAsks {
			_, want, _ := strings.Cut(string(was), "## "+v.name+"\n\n")
			want, _, _ = strings.Cut(want, "\n\n")
			first := strings.Split(strings.TrimSpace(want), "\n")
			first = slices.DeleteFunc(first, func(l string) bool { return strings.HasSuffix(l, "/offline") })
			soon(t, func() bool { return len(g.list()) >= len(first) }, "%s asks for all of it at once: %v", v.name, first)
		}
		close(g.open)
		reads(t, p, v.ready)
		p.MustWaitRequestIdle()()
		fmt.Fprintf(&doc, "\n## %s\n\n- %s\n", v.name, strings.Join(g.list(), "\n- "))
	}
	if *keepAsks {
		require.NoError(t, os.WriteFile(file, []byte(doc.String()), 0o644))
		return
	}
	assert.Equal(t, string(was), doc.String())
}

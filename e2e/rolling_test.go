package e2e

import (
	"bytes"
	"context"
	"encoding/json"
	"fmt"
	"io"
	"math/rand/v2"
	"net"
	"net/http"
	"net/http/cookiejar"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"syscall"
	"testing"
	"time"

	"github.com/jackc/pgx/v5"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"notchback/internal/api"
	"notchback/internal/cluster"
	planning "notchback/internal/core/build"
	"notchback/internal/store"
	"notchback/internal/testkit"
)

// previous is the commit of the release before this one, which its servers are still replaced from.
const previous = "8bb717f3e48bace39ca5d355adfafbd4a782e2d4"

// earlier builds the program of the release before; false where the repository's history does not reach so far.
func earlier(t *testing.T) (*real, bool) {
	t.Helper()
	if exec.Command("git", "cat-file", "-e", previous).Run() != nil {
		return nil, false
	}
	r := built(t)
	tree := filepath.Join(filepath.Dir(r.bin), "earlier")
	require.NoError(t, os.Mkdir(tree, 0o755))
	top, err := exec.Command("git", "rev-parse", "--show-toplevel").Output()
	require.NoError(t, err)
	packed := exec.Command("git", "archive", previous)
	packed.Dir = strings.TrimSpace(string(top))
	archive, err := packed.Output()
	require.NoError(t, err)
	unpack := exec.Command("tar", "-x", "-C", tree)
	unpack.Stdin = bytes.NewReader(archive)
	require.NoError(t, unpack.Run())
	build := exec.Command("go", "build", "-o", r.bin+"-earlier", "./cmd/notchback")
	build.Dir, build.Env = tree, append(os.Environ(), "CGO_ENABLED=0")
	out, err := build.CombinedOutput()
	require.NoError(t, err, string(out))
	return &real{t: t, bin: r.bin + "-earlier", dir: r.dir}, true
}

// freePort is an address that no connection of the tests is given by chance while a server is away from it: below the ports
// that the machine hands out.
func freePort(t *testing.T) string {
	t.Helper()
	for range 100 {
		at := fmt.Sprintf("127.0.0.1:%d", 20_000+rand.IntN(10_000))
		if l, err := net.Listen("tcp", at); err == nil {
			require.NoError(t, l.Close())
			return at
		}
	}
	t.Fatal("no port is free")
	return ""
}

// pair is two servers on one database, as a balancer in front of them sees them.
type pair struct {
	t       *testing.T
	servers []*real
	draw    *rand.Rand
	coach   *http.Client
	token   string
	failed  int // answers that a second try mended
}

// send asks one of the servers, and the other when that fails, as whoever tries again does.
func (p *pair) send(method, path string, body any) string {
	p.t.Helper()
	text, _ := json.Marshal(body)
	last := ""
	at := p.draw.IntN(2)
	for try := range 40 {
		req, err := http.NewRequest(method, p.servers[(at+try)%2].url+path, bytes.NewReader(text))
		require.NoError(p.t, err)
		req.Header.Set("Content-Type", "application/json")
		if strings.HasPrefix(path, "/api/phone") {
			req.Header.Set("Authorization", "Bearer "+p.token)
		}
		a, err := p.coach.Do(req)
		if err != nil {
			last = err.Error()
			p.failed++
			continue
		}
		said, err := io.ReadAll(a.Body)
		_ = a.Body.Close()
		if err == nil && a.StatusCode == 200 {
			return string(said)
		}
		last = a.Status + " " + string(said)
		p.failed++
		require.False(p.t, err == nil && a.StatusCode < 500, "%s %s: %s", method, path, last)
	}
	p.t.Fatalf("%s %s: a second try does not mend it: %s", method, path, last)
	return ""
}

// TestTheReleaseBeforeAndThisOneServeTogether: on one database, through the main flows, while one of them is killed and
// started again and again: whatever fails is mended by trying again, nothing is lost and nothing stands twice.
func TestTheReleaseBeforeAndThisOneServeTogether(t *testing.T) {
	old, there := earlier(t)
	if !there {
		t.Log("the history of this repository does not reach the release before: nothing to serve together with")
		return
	}
	now := &real{t: t, bin: strings.TrimSuffix(old.bin, "-earlier"), dir: old.dir, bind: freePort(t)}
	c, err := cluster.Start(context.Background(), cluster.Options{Dir: filepath.Join(filepath.Dir(old.bin), "pg"), Memory: true})
	require.NoError(t, err)
	t.Cleanup(func() { _ = c.Stop(); _ = c.Remove() })
	for _, r := range []*real{old, now} {
		r.on = c.AdminURL("postgres")
	}
	code := oneTime.FindString(old.run("practice", "Rolling Practice", "Coach", email))
	require.NotEmpty(t, code)
	old.start()
	t.Cleanup(func() { old.kill(os.Interrupt) })
	jar, _ := cookiejar.New(nil)
	p := &pair{t: t, servers: []*real{old, old}, draw: rand.New(rand.NewPCG(7, 7)), coach: &http.Client{Jar: jar, Timeout: 20 * time.Second}}
	p.send("POST", "/api/redeem", map[string]string{"email": email, "code": code, "password": password})
	runner := store.NewID()
	at := "/api/runners/" + runner
	p.send("PUT", at, map[string]any{"name": "Rolling", "timezone": "UTC", "version": 0, "profile": testkit.Profile()})
	now.start() // migrates beneath the one that serves
	t.Cleanup(func() { now.kill(os.Interrupt) })
	p.servers[1] = now

	p.send("PUT", at+"/programmes/"+store.NewID(), map[string]any{"choices": planning.Choices{}.Normalise()})
	var link api.NewLink
	require.NoError(t, json.Unmarshal([]byte(p.send("PUT", at+"/links/"+store.NewID(), nil)), &link))
	p.token = link.URL[strings.Index(link.URL, "#")+1:]
	today := time.Now().UTC().Format(time.DateOnly)
	var ids []string
	for i := range 6 {
		done := make(chan struct{})
		go func() { // the new one is replaced while the other serves
			defer close(done)
			now.kill([]os.Signal{syscall.SIGKILL, os.Interrupt}[i%2])
			now.start()
		}()
		for range 5 {
			id := store.NewID()
			ids = append(ids, id)
			p.sent(at, id, today)
		}
		<-done
	}
	t.Logf("%d of %d requests were tried again", p.failed, 7*len(ids))
	p.thereOnce(c.AdminURL("notchback"), ids)
}

// sent sends a run by the coach and another by the phone, twice each, and looks at the pages.
func (p *pair) sent(at, id, today string) {
	run := map[string]any{"on": today, "minutes": 30, "km": 5, "rpe": 3}
	p.send("PUT", at+"/runs/"+id, run)
	p.send("PUT", at+"/runs/"+id, run)
	p.send("PUT", "/api/phone/mornings/"+id, map[string]any{"on": today, "region": "arch", "side": "left", "pain": 0})
	for _, page := range []string{"/api/today", at + "/adjust", at + "/read", "/api/me"} {
		p.send("GET", page, nil)
	}
}

// thereOnce sees to it that every run stands once.
func (p *pair) thereOnce(address string, ids []string) {
	ctx := context.Background()
	conn, err := pgx.Connect(ctx, address)
	require.NoError(p.t, err)
	defer conn.Close(ctx)
	var runs, mornings int
	require.NoError(p.t, conn.QueryRow(ctx, `SELECT (SELECT count(*) FROM runs WHERE id::text = ANY($1)),
		(SELECT count(*) FROM mornings WHERE id::text = ANY($1))`, ids).Scan(&runs, &mornings))
	assert.Equal(p.t, len(ids), runs)
	assert.Equal(p.t, len(ids), mornings)
}

package e2e

import (
	"bufio"
	"bytes"
	"cmp"
	"encoding/json"
	"flag"
	"fmt"
	"io"
	"math/rand/v2"
	"net/http"
	"net/http/cookiejar"
	"os"
	"os/exec"
	"path/filepath"
	"regexp"
	"slices"
	"strings"
	"syscall"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"notchback/internal/api"
	planning "notchback/internal/core/build"
	"notchback/internal/store"
	"notchback/internal/testkit"
)

// real is the built program with a data folder of its own, as an owner would run it.
type real struct {
	t        *testing.T
	bin, dir string
	cmd      *exec.Cmd
	url      string
	more     []string // further words for serve
	bind     string   // address to serve at; empty: any port
	on       string   // address of a database server; empty: its own
	log      heard
}

// where are the words that say which database.
func (r *real) where() []string {
	if r.on != "" {
		return []string{"-database-url", r.on}
	}
	return nil
}

// database is the process of its database.
func (r *real) database() (pid int) {
	raw, err := os.ReadFile(filepath.Join(r.dir, "postgres", "postmaster.pid"))
	require.NoError(r.t, err)
	_, err = fmt.Sscan(string(raw), &pid)
	require.NoError(r.t, err)
	return pid
}

func (r *real) run(args ...string) string {
	out, err := exec.Command(r.bin, append(args[:1:1], slices.Concat([]string{"-data", r.dir}, r.where(), args[1:])...)...).CombinedOutput()
	require.NoError(r.t, err, string(out))
	return string(out)
}

func (r *real) start() {
	r.cmd = exec.Command(r.bin, slices.Concat([]string{"serve", "-data", r.dir, "-bind", cmp.Or(r.bind, "127.0.0.1:0")}, r.where(), r.more)...)
	out, err := r.cmd.StdoutPipe()
	require.NoError(r.t, err)
	r.cmd.Stderr = &r.log
	require.NoError(r.t, r.cmd.Start())
	lines := bufio.NewScanner(out)
	for lines.Scan() {
		if u, ok := strings.CutPrefix(lines.Text(), "Notchback is at "); ok {
			if r.url != u { // the same again is read by others meanwhile
				r.url = u
			}
			go func() { _, _ = io.Copy(io.Discard, out) }()
			return
		}
	}
	r.t.Fatalf("the server ended before it served: %s", r.log.String())
}

func (r *real) kill(sig os.Signal) {
	require.NoError(r.t, r.cmd.Process.Signal(sig))
	_ = r.cmd.Wait()
}

// confirming is a coach and a phone that keep account of what the server confirmed.
type confirming struct {
	*real
	coach     *http.Client
	runner    string
	token     string         // of the phone
	entry     map[string]any // what it sends
	ids       []string       // under these ids
	confirmed map[string]bool
}

// do asks with the phone's token, or as the coach.
func (c *confirming) do(token, method, path string, body any) (int, string, error) {
	var b io.Reader
	if body != nil {
		j, _ := json.Marshal(body)
		b = bytes.NewReader(j)
	}
	req, err := http.NewRequest(method, c.url+path, b)
	require.NoError(c.t, err)
	req.Header.Set("Content-Type", "application/json")
	req.Header.Set("Authorization", "Bearer "+token)
	a, err := c.coach.Do(req)
	if err != nil {
		return 0, "", err
	}
	defer a.Body.Close()
	text, _ := io.ReadAll(a.Body)
	return a.StatusCode, string(text), nil
}

func (c *confirming) must(token, method, path string, body any) string {
	status, text, err := c.do(token, method, path, body)
	require.NoError(c.t, err)
	require.Equal(c.t, 200, status, text)
	return text
}

// begin signs in, builds a programme and makes a link; so many sessions will be sent.
func (c *confirming) begin(code string, most int) {
	c.must("", "POST", "/api/redeem", map[string]string{"email": email, "code": code, "password": password})
	c.runner = store.NewID()
	c.must("", "PUT", "/api/runners/"+c.runner, map[string]any{"name": "R", "timezone": "UTC", "version": 0, "profile": testkit.Profile()})
	c.must("", "PUT", "/api/runners/"+c.runner+"/programmes/"+store.NewID(), map[string]any{"choices": planning.Choices{}.Normalise()})
	var link api.NewLink
	require.NoError(c.t, json.Unmarshal([]byte(c.must("", "PUT", "/api/runners/"+c.runner+"/links/"+store.NewID(), nil)), &link))
	c.token = link.URL[strings.Index(link.URL, "#")+1:]
	var phone struct {
		Today    string
		Sessions []struct {
			Items []struct {
				Sides []struct{ Prescriptions []string }
			}
		}
	}
	require.NoError(c.t, json.Unmarshal([]byte(c.must(c.token, "GET", "/api/phone", nil)), &phone))
	var prescriptions []string
	for _, s := range phone.Sessions {
		for _, i := range s.Items {
			for _, side := range i.Sides {
				prescriptions = append(prescriptions, side.Prescriptions...)
			}
		}
	}
	require.NotEmpty(c.t, prescriptions)
	// all of which are listed: their effort is still to be entered
	c.entry = map[string]any{"prescription": prescriptions[0], "on": phone.Today, "done": []int{8}, "rpe": -1, "pain": 0}
	for range most {
		c.ids = append(c.ids, store.NewID())
	}
}

// send sends until it is refused and returns how far it came.
func (c *confirming) send(from int) (reached int) {
	for i := from; i < len(c.ids); i++ {
		status, _, err := c.do(c.token, "PUT", "/api/phone/logs/"+c.ids[i], c.entry)
		if err != nil || status != 200 {
			return i
		}
		c.confirmed[c.ids[i]] = true
	}
	return len(c.ids)
}

// stored are the ids of the sessions that are there, with how often.
func (c *confirming) stored() map[string]int {
	var view struct {
		Rails []struct{ Logs []struct{ ID string } }
	}
	require.NoError(c.t, json.Unmarshal([]byte(c.must("", "GET", "/api/runners/"+c.runner+"/adjust", nil)), &view))
	seen := map[string]int{}
	for _, rail := range view.Rails {
		for _, l := range rail.Logs {
			seen[l.ID]++
		}
	}
	return seen
}

// oneTime is how a code from the command line looks.
var oneTime = regexp.MustCompile(`[A-Z2-7]{4}(-[A-Z2-7]{4}){3}`)

// built makes the program in a folder of its own.
func built(t *testing.T) *real {
	t.Helper()
	dir := t.TempDir()
	require.NoError(t, os.Chmod(filepath.Dir(dir), 0o755))
	require.NoError(t, os.Chmod(dir, 0o755))
	r := &real{t: t, bin: filepath.Join(dir, "notchback"), dir: filepath.Join(dir, "data")}
	build := exec.Command("go", "build", "-o", r.bin, "../cmd/notchback")
	build.Env = append(os.Environ(), "CGO_ENABLED=0")
	out, err := build.CombinedOutput()
	require.NoError(t, err, string(out))
	return r
}

// practised is the program serving a practice from its own data folder, whose practice and code come from the command line,
// with a phone that is about to send so many sessions.
func practised(t *testing.T, most int, more ...string) (*real, *confirming) {
	t.Helper()
	r := built(t)
	r.more = more
	return r, r.practise(most)
}

// practise makes the practice, serves, and readies the phone.
func (r *real) practise(most int) *confirming {
	t := r.t
	said := r.run("practice", "Kill Practice", "Coach", email)
	code := oneTime.FindString(said)
	require.NotEmpty(t, code, said)
	r.start()
	t.Cleanup(func() { r.kill(os.Interrupt) })
	jar, _ := cookiejar.New(nil)
	c := &confirming{real: r, coach: &http.Client{Jar: jar, Timeout: 20 * time.Second}, confirmed: map[string]bool{}}
	c.begin(code, most)
	return c
}

// stop halts the database and everything that works for it, as a machine does that hangs, or lets it go on.
func (r *real) stop(sig syscall.Signal) {
	r.t.Helper()
	database := r.database()
	stats, err := filepath.Glob("/proc/[0-9]*/stat")
	require.NoError(r.t, err)
	for _, file := range stats {
		text, err := os.ReadFile(file)
		if err != nil {
			continue // it ended meanwhile
		}
		var pid, parent int
		var state string
		if at := bytes.LastIndexByte(text, ')'); at > 0 {
			_, _ = fmt.Sscan(string(text), &pid)
			_, _ = fmt.Sscan(string(text[at+1:]), &state, &parent)
		}
		if pid == database || parent == database {
			_ = syscall.Kill(pid, sig)
		}
	}
}

// TestADatabaseThatHangs: a database that stops answering is told in words, in time; what was not confirmed may be sent
// again, what was stands once, and the server goes on by itself when the database does.
func TestADatabaseThatHangs(t *testing.T) {
	r, c := practised(t, 12, "-patience", "2s")
	require.Equal(t, 200, first(c.do(c.token, "PUT", "/api/phone/logs/"+c.ids[0], c.entry)))
	r.stop(syscall.SIGSTOP)
	for i, ask := range [][2]string{{"PUT", "/api/phone/logs/" + c.ids[1]}, {"GET", "/api/today"}, {"GET", "/api/phone"}} {
		status, said, err := c.do(c.token, ask[0], ask[1], c.entry)
		require.NoError(t, err, "%v: an answer comes while the database hangs", ask)
		assert.Equal(t, 503, status, "%d: %s", i, said)
		assert.Contains(t, said, "does not answer", ask)
	}
	r.stop(syscall.SIGCONT)
	require.Eventually(t, func() bool {
		status, _, err := c.do(c.token, "GET", "/api/today", nil)
		return err == nil && status == 200
	}, 30*time.Second, 20*time.Millisecond, "it goes on by itself")
	require.Equal(t, len(c.ids), c.send(0))
	seen := c.stored()
	for _, id := range c.ids {
		assert.Equal(t, 1, seen[id])
	}
}

func first(status int, _ string, _ error) int { return status }

var kills = flag.Int("kills", 20, "how often server or database are killed in random places")

// TestKilledAgainAndAgain kills the server or its database while the phone sends, after a random number of confirmed
// sessions, and starts it again: nothing confirmed is lost, nothing stands twice.
func TestKilledAgainAndAgain(t *testing.T) {
	r, c := practised(t, *kills*6)
	seed := rand.Uint64()
	t.Logf("seed %d", seed)
	draw := rand.New(rand.NewPCG(seed, 1))
	at := 0
	for i := range *kills {
		sent := make(chan int, len(c.ids))
		until := min(at+1+draw.IntN(5), len(c.ids))
		go func() {
			defer close(sent)
			for k := at; k < len(c.ids); k++ {
				status, _, err := c.do(c.token, "PUT", "/api/phone/logs/"+c.ids[k], c.entry)
				if err != nil || status != 200 {
					return
				}
				sent <- k
			}
		}()
		dead := false
		for k := range sent {
			c.confirmed[c.ids[k]] = true
			if at = k + 1; at >= until && !dead {
				dead = true
				if draw.IntN(2) == 0 {
					require.NoError(t, syscall.Kill(r.database(), syscall.SIGKILL), "kill %d", i)
				} else {
					require.NoError(t, r.cmd.Process.Kill(), "kill %d", i)
				}
			}
		}
		_ = r.cmd.Process.Kill()
		_ = r.cmd.Wait()
		r.start()
		if at == len(c.ids) {
			at = 0 // and again: what is there stays once
		}
	}
	seen := c.stored()
	for id := range c.confirmed {
		assert.Equal(t, 1, seen[id], "confirmed, and there once")
	}
	for id, n := range seen {
		assert.Equal(t, 1, n, id)
	}
	assert.NotEmpty(t, c.confirmed)
}

// TestKilledInTheMiddleOfALog: what was confirmed survives a killed server and a killed database, a
// server left running by the crash is adopted, and sending again writes once.
func TestKilledInTheMiddleOfALog(t *testing.T) {
	r, c := practised(t, 60)

	// The server is killed while the phone is sending.
	first := make(chan int)
	go func() { first <- c.send(0) }()
	require.Eventually(t, func() bool {
		status, _, err := c.do(c.token, "GET", "/api/phone", nil)
		return err == nil && status == 200
	}, 10*time.Second, 5*time.Millisecond)
	r.kill(syscall.SIGKILL)
	at := <-first
	r.start() // adopts the database the crash left running
	assert.GreaterOrEqual(t, len(c.stored()), len(c.confirmed), "nothing confirmed is lost")

	// The database is killed while the phone is sending; the server says so and loses nothing.
	require.NoError(t, syscall.Kill(r.database(), syscall.SIGKILL))
	status, text, err := c.do(c.token, "PUT", "/api/phone/logs/"+c.ids[min(at, 59)], c.entry)
	require.NoError(t, err)
	if status != 200 { // a session that had reached the dying server may still be confirmed
		assert.Equal(t, 503, status, text)
		assert.Contains(t, text, `"detail"`)
	}
	r.kill(os.Interrupt)
	r.start()
	require.Equal(t, len(c.ids), c.send(0), "sending everything again")
	for range 2 {
		c.send(0)
	}

	// Every entry is there, and each once.
	seen := c.stored()
	assert.Len(t, seen, len(c.ids))
	for _, id := range c.ids {
		assert.Equal(t, 1, seen[id])
	}
	assert.NotEmpty(t, c.confirmed)
}

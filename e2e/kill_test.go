package e2e

import (
	"bufio"
	"bytes"
	"encoding/json"
	"fmt"
	"io"
	"net/http"
	"net/http/cookiejar"
	"os"
	"os/exec"
	"path/filepath"
	"regexp"
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
}

func (r *real) run(args ...string) string {
	out, err := exec.Command(r.bin, append(args[:1:1], append([]string{"-data", r.dir}, args[1:]...)...)...).CombinedOutput()
	require.NoError(r.t, err, string(out))
	return string(out)
}

func (r *real) start() {
	r.cmd = exec.Command(r.bin, "serve", "-data", r.dir, "-bind", "127.0.0.1:0")
	out, err := r.cmd.StdoutPipe()
	require.NoError(r.t, err)
	r.cmd.Stderr = os.Stderr
	require.NoError(r.t, r.cmd.Start())
	lines := bufio.NewScanner(out)
	for lines.Scan() {
		if u, ok := strings.CutPrefix(lines.Text(), "Notchback is at "); ok {
			r.url = u
			go func() { _, _ = io.Copy(io.Discard, out) }()
			return
		}
	}
	r.t.Fatal("the server ended before it served")
}

func (r *real) kill(sig os.Signal) {
	require.NoError(r.t, r.cmd.Process.Signal(sig))
	_ = r.cmd.Wait()
}

// TestKilledInTheMiddleOfALog: what was confirmed survives a killed server and a killed database, a
// server left running by the crash is adopted, and sending again writes once.
func TestKilledInTheMiddleOfALog(t *testing.T) {
	dir := t.TempDir()
	require.NoError(t, os.Chmod(filepath.Dir(dir), 0o755))
	require.NoError(t, os.Chmod(dir, 0o755))
	r := &real{t: t, bin: filepath.Join(dir, "notchback"), dir: filepath.Join(dir, "data")}
	build := exec.Command("go", "build", "-o", r.bin, "../cmd/notchback")
	build.Env = append(os.Environ(), "CGO_ENABLED=0")
	out, err := build.CombinedOutput()
	require.NoError(t, err, string(out))

	// The practice and the code come from the server's command line.
	said := r.run("practice", "Kill Practice", "Coach", email)
	code := regexp.MustCompile(`[A-Z2-7]{4}(-[A-Z2-7]{4}){3}`).FindString(said)
	require.NotEmpty(t, code, said)
	r.start()
	t.Cleanup(func() { r.kill(os.Interrupt) })
	jar, _ := cookiejar.New(nil)
	coach := &http.Client{Jar: jar, Timeout: 20 * time.Second}
	do := func(c *http.Client, token, method, path string, body any) (int, string, error) {
		var b io.Reader
		if body != nil {
			j, _ := json.Marshal(body)
			b = bytes.NewReader(j)
		}
		req, err := http.NewRequest(method, r.url+path, b)
		require.NoError(t, err)
		req.Header.Set("Content-Type", "application/json")
		req.Header.Set("Authorization", "Bearer "+token)
		a, err := c.Do(req)
		if err != nil {
			return 0, "", err
		}
		defer a.Body.Close()
		text, _ := io.ReadAll(a.Body)
		return a.StatusCode, string(text), nil
	}
	must := func(token, method, path string, body any) string {
		status, text, err := do(coach, token, method, path, body)
		require.NoError(t, err)
		require.Equal(t, 200, status, text)
		return text
	}
	must("", "POST", "/api/redeem", map[string]string{"email": email, "code": code, "password": password})
	runner := store.NewID()
	must("", "PUT", "/api/runners/"+runner, map[string]any{"name": "R", "timezone": "UTC", "version": 0, "profile": testkit.Profile()})
	must("", "PUT", "/api/runners/"+runner+"/programmes/"+store.NewID(), map[string]any{"choices": planning.Choices{}.Normalise()})
	var link api.NewLink
	require.NoError(t, json.Unmarshal([]byte(must("", "PUT", "/api/runners/"+runner+"/links/"+store.NewID(), nil)), &link))
	token := link.URL[strings.Index(link.URL, "#")+1:]
	var phone struct {
		Today    string
		Sessions []struct {
			Items []struct {
				Sides []struct{ Prescriptions []string }
			}
		}
	}
	require.NoError(t, json.Unmarshal([]byte(must(token, "GET", "/api/phone", nil)), &phone))
	var prescriptions []string
	for _, s := range phone.Sessions {
		for _, i := range s.Items {
			for _, side := range i.Sides {
				prescriptions = append(prescriptions, side.Prescriptions...)
			}
		}
	}
	require.NotEmpty(t, prescriptions)
	// all of which are listed: their effort is still to be entered
	entry := map[string]any{"prescription": prescriptions[0], "on": phone.Today, "done": []int{8}, "rpe": -1, "pain": 0}

	confirmed := map[string]bool{}
	ids := make([]string, 60)
	for i := range ids {
		ids[i] = store.NewID()
	}
	send := func(from int) (reached int) {
		for i := from; i < len(ids); i++ {
			status, _, err := do(coach, token, "PUT", "/api/phone/logs/"+ids[i], entry)
			if err != nil || status != 200 {
				return i
			}
			confirmed[ids[i]] = true
		}
		return len(ids)
	}
	count := func() int {
		return strings.Count(must("", "GET", "/api/runners/"+runner+"/adjust", nil), `"crampAt"`)
	}

	// The server is killed while the phone is sending.
	first := make(chan int)
	go func() { first <- send(0) }()
	require.Eventually(t, func() bool {
		status, _, err := do(coach, token, "GET", "/api/phone", nil)
		return err == nil && status == 200
	}, 10*time.Second, 5*time.Millisecond)
	r.kill(syscall.SIGKILL)
	at := <-first
	r.start() // adopts the database the crash left running
	assert.GreaterOrEqual(t, count(), len(confirmed), "nothing confirmed is lost")

	// The database is killed while the phone is sending; the server says so and loses nothing.
	pidFile := filepath.Join(r.dir, "postgres", "postmaster.pid")
	raw, err := os.ReadFile(pidFile)
	require.NoError(t, err)
	var pid int
	_, err = fmt.Sscan(string(raw), &pid)
	require.NoError(t, err)
	require.NoError(t, syscall.Kill(pid, syscall.SIGKILL))
	status, text, err := do(coach, token, "PUT", "/api/phone/logs/"+ids[min(at, 59)], entry)
	require.NoError(t, err)
	if status != 200 { // a session that had reached the dying server may still be confirmed
		assert.Equal(t, 503, status, text)
		assert.Contains(t, text, `"detail"`)
	}
	r.kill(os.Interrupt)
	r.start()
	require.Equal(t, len(ids), send(0), "sending everything again")
	for range 2 {
		send(0)
	}

	// Every entry is there, and each once.
	var view struct {
		Rails []struct{ Logs []struct{ ID string } }
	}
	require.NoError(t, json.Unmarshal([]byte(must("", "GET", "/api/runners/"+runner+"/adjust", nil)), &view))
	seen := map[string]int{}
	for _, rail := range view.Rails {
		for _, l := range rail.Logs {
			seen[l.ID]++
		}
	}
	assert.Len(t, seen, len(ids))
	for _, id := range ids {
		assert.Equal(t, 1, seen[id])
	}
	assert.NotEmpty(t, confirmed)
}

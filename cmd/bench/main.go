// Bench makes up a practice and measures what its pages cost: the table it prints is the one the project is held to.
package main

import (
	"bytes"
	"cmp"
	"compress/gzip"
	"context"
	"encoding/json"
	"errors"
	"flag"
	"fmt"
	"io"
	"net/http"
	"net/http/cookiejar"
	"net/http/httptest"
	"os"
	"path/filepath"
	"regexp"
	"runtime"
	"runtime/debug"
	"runtime/pprof"
	"slices"
	"strconv"
	"strings"
	"sync"
	"sync/atomic"
	"time"
	_ "time/tzdata"

	"github.com/jackc/pgx/v5"

	"notchback/internal/api"
	"notchback/internal/cluster"
	"notchback/internal/core/body"
	"notchback/internal/core/catalog"
	"notchback/internal/core/refer"
	"notchback/internal/core/screen"
	"notchback/internal/crowd"
	"notchback/internal/record"
	"notchback/internal/room"
	"notchback/internal/store"
)

func main() {
	size := flag.String("practice", "80x104", "runners × weeks")
	times := flag.Int("times", 25, "how often each request is measured")
	explain := flag.Bool("explain", false, "print the plans of the record's queries")
	dir := flag.String("dir", "", "folder to keep the practice in and use it again; empty: a new one each time")
	only := flag.String("only", "", "measure what matches this pattern")
	profile := flag.String("cpuprofile", "", "file for a profile of what is measured")
	flag.Parse()
	b := &bench{sql: &counter{}, times: *times, only: regexp.MustCompile(*only), profile: *profile}
	if err := b.run(context.Background(), *size, *dir, *explain); err != nil {
		fmt.Fprintln(os.Stderr, "bench: "+err.Error())
		os.Exit(1)
	}
}

// counter counts statements, those of a batch one by one.
type counter struct{ n atomic.Int64 }

func (c *counter) TraceQueryStart(ctx context.Context, _ *pgx.Conn, _ pgx.TraceQueryStartData) context.Context {
	c.n.Add(1)
	return ctx
}
func (*counter) TraceQueryEnd(context.Context, *pgx.Conn, pgx.TraceQueryEndData) {}
func (*counter) TraceBatchStart(ctx context.Context, _ *pgx.Conn, _ pgx.TraceBatchStartData) context.Context {
	return ctx
}
func (c *counter) TraceBatchQuery(context.Context, *pgx.Conn, pgx.TraceBatchQueryData) { c.n.Add(1) }
func (*counter) TraceBatchEnd(context.Context, *pgx.Conn, pgx.TraceBatchEndData)       {}

// bench is a practice that is served, and who asks.
type bench struct {
	store   *store.Store
	desk    *room.Desk
	ahead   atomic.Int64
	sql     *counter
	url     string
	client  *http.Client
	a       room.Actor
	runners []string
	times   int
	admin   *pgx.Conn
	only    *regexp.Regexp
	profile string

	background *room.Background
}

const (
	email    = "maren@crowd.example"
	password = "a-long-made-up-one"
)

func (b *bench) run(ctx context.Context, size, dir string, explain bool) error {
	n, w, ok := strings.Cut(size, "x")
	runners, err := strconv.Atoi(n)
	weeks, err2 := strconv.Atoi(w)
	if !ok || errors.Join(err, err2) != nil || runners < 1 || weeks < 12 {
		return fmt.Errorf("-practice %q: say runners x weeks, such as 80x104; at least 12 weeks", size)
	}
	if dir == "" {
		if dir, err = os.MkdirTemp("", "notchback-bench-"); err != nil {
			return err
		}
		defer os.RemoveAll(dir)
	}
	if err := errors.Join(os.MkdirAll(dir, 0o755), os.Chmod(dir, 0o755)); err != nil {
		return err
	}
	c, err := cluster.Start(ctx, cluster.Options{Dir: filepath.Join(dir, "pg")})
	if err != nil {
		return err
	}
	defer c.Stop()
	bin, err := cluster.Bin()
	if err != nil {
		return err
	}
	if err := store.Prepare(ctx, c.AdminURL("postgres"), "crowd", c.AppPassword(), store.Keep{Bin: bin, Dir: dir}); err != nil {
		return err
	}
	if b.store, err = store.Open(ctx, c.AppURL("crowd"), store.Traced(b.sql)); err != nil {
		return err
	}
	defer b.store.Close()
	if b.admin, err = pgx.Connect(ctx, c.AdminURL("crowd")); err != nil {
		return err
	}
	defer b.admin.Close(ctx)
	begun := time.Now()
	if err := b.fill(ctx, runners, weeks); err != nil {
		return err
	}
	fmt.Printf("%d runners × %d weeks made in %s\n", runners, weeks, time.Since(begun).Round(time.Second))
	b.rows(ctx)
	if explain {
		return b.plans(ctx)
	}
	debug.SetGCPercent(api.GCPercent) // as it is served
	b.desk = &room.Desk{Store: b.store, Now: func() time.Time { return time.Now().Add(time.Duration(b.ahead.Load())) }}
	b.background = room.NewBackground(b.desk)
	defer b.background.Stop()
	srv := httptest.NewServer(api.New(b.desk, api.Config{}))
	defer srv.Close()
	b.url = srv.URL
	jar, _ := cookiejar.New(nil)
	b.client = &http.Client{Jar: jar, Transport: &http.Transport{DisableCompression: true, MaxIdleConnsPerHost: 30}}
	if _, _, err := b.ask("POST", "/api/session", map[string]string{"email": email, "password": password}, nil); err != nil {
		return err
	}
	return b.measure(ctx)
}

// fill makes the practice.
func (b *bench) fill(ctx context.Context, runners, weeks int) error {
	if acc, err := b.store.Account(ctx, email); err == nil { // kept from an earlier time
		b.a = room.Actor{Practice: acc.Practice, Coach: acc.ID}
		rows, err := b.admin.Query(ctx, `SELECT id::text FROM runners ORDER BY name`)
		if err == nil {
			b.runners, err = pgx.CollectRows(rows, pgx.RowTo[string])
		}
		return err
	}
	id, coach, err := b.store.CreatePractice(ctx, "Crowd", "Maren", email)
	if err != nil {
		return err
	}
	if err := b.store.In(ctx, id, func(tx *store.Tx) error {
		_, err := tx.SetPassword(ctx, coach, api.HashPassword(password))
		return err
	}); err != nil {
		return err
	}
	b.a = room.Actor{Practice: id, Coach: coach}
	b.runners, err = crowd.Make(ctx, b.store, b.admin, b.a, time.Now(), runners, weeks)
	return err
}

// rows prints how many rows there are.
func (b *bench) rows(ctx context.Context) {
	for _, t := range []string{"logs", "mornings", "runs", "decisions", "prescriptions", "trials", "clips", "programmes"} {
		var n int
		if err := b.admin.QueryRow(ctx, "SELECT count(*) FROM "+pgx.Identifier{t}.Sanitize()).Scan(&n); err == nil {
			fmt.Printf("%s %d  ", t, n)
		}
	}
	fmt.Println()
}

// plans prints how the database answers the queries of one record.
func (b *bench) plans(ctx context.Context) error {
	return b.store.Read(ctx, b.a.Practice, func(tx *store.Tx) error {
		return tx.Explain(ctx, b.runners[0], body.DateOf(time.Now()).Add(-90), record.NeedAll, os.Stdout)
	})
}

// ask makes a request and returns the size of its answer as it was sent.
func (b *bench) ask(method, path string, in any, header map[string]string) (int, []byte, error) {
	var body io.Reader
	if in != nil {
		raw, err := json.Marshal(in)
		if err != nil {
			return 0, nil, err
		}
		body = bytes.NewReader(raw)
	}
	r, err := http.NewRequest(method, b.url+path, body)
	if err != nil {
		return 0, nil, err
	}
	r.Header.Set("Accept-Encoding", "gzip")
	r.Header.Set("Content-Type", "application/json")
	for k, v := range header {
		r.Header.Set(k, v)
	}
	answer, err := b.client.Do(r)
	if err != nil {
		return 0, nil, err
	}
	defer answer.Body.Close()
	raw, err := io.ReadAll(answer.Body)
	if err != nil {
		return 0, nil, err
	}
	sent := len(raw)
	if answer.Header.Get("Content-Encoding") == "gzip" {
		z, err := gzip.NewReader(bytes.NewReader(raw))
		if err != nil {
			return 0, nil, err
		}
		if raw, err = io.ReadAll(z); err != nil {
			return 0, nil, err
		}
	}
	if answer.StatusCode >= 300 {
		return sent, raw, fmt.Errorf("%s %s: %d %s", method, path, answer.StatusCode, raw)
	}
	return sent, raw, nil
}

// row is one line of the table: what is measured, against what, how.
type row struct {
	name   string
	target string
	do     func(n int) (bytes int, err error)
	times  int
}

func (b *bench) page(paths ...string) func(int) (int, error) {
	return func(n int) (int, error) {
		sum := 0
		for _, p := range append([]string{"/api/me", "/api/reference"}, paths...) {
			sent, _, err := b.ask("GET", strings.ReplaceAll(p, "{runner}", b.runners[n%len(b.runners)]), nil, nil)
			if err != nil {
				return 0, err
			}
			sum += sent
		}
		return sum, nil
	}
}

func (b *bench) measure(ctx context.Context) error {
	const runner = "/api/runners/{runner}"
	draft := func(n int) (int, error) {
		sent, err := b.page(runner)(n)
		if err != nil {
			return 0, err
		}
		more, _, err := b.ask("POST", "/api/runners/"+b.runners[n%len(b.runners)]+"/draft", map[string]any{}, nil)
		return sent + more, err
	}
	token, err := b.phoneLinks(ctx)
	if err != nil {
		return err
	}
	phone := func(n int) (int, error) {
		sent, _, err := b.ask("GET", "/api/phone", nil, map[string]string{"Authorization": "Bearer " + token[n%len(token)]})
		return sent, err
	}
	fmt.Printf("\n%-44s %-12s %9s %9s %8s %6s\n", "", "target", "median", "p95", "KB", "SQL")
	rows := []row{
		{"bare round trip", "", func(int) (int, error) { return 0, b.store.Ready(ctx) }, 200},
		{"first Today after midnight", "1 s", b.first(func(n int) error { b.ahead.Store(int64(n+1) * int64(24*time.Hour)); return nil }), 3},
		{"first Today after a changed rule", "1 s", b.first(b.changeRule(ctx)), 3},
		{"first Today after a new engine", "1 s", b.first(func(int) error {
			_, err := b.admin.Exec(ctx, `UPDATE standings SET engine = 'earlier'`)
			return err
		}), 3},
		{"Today", "50 ms 60 KB", b.page("/api/today"), 0},
		{"roster", "15 ms", b.page("/api/runners"), 0},
		{"typical errors", "100 ms", b.page("/api/typical-errors"), 0},
		{"intake", "20 ms", b.page(runner), 0},
		{"screen", "20 ms", b.page(runner, runner+"/screens"), 0},
		{"gait", "20 ms", b.page(runner, runner+"/gait"), 0},
		{"read", "20 ms", b.page(runner, runner+"/read"), 0},
		{"build", "20 ms", draft, 0},
		{"week", "20 ms", b.page(runner, runner+"/week"), 0},
		{"adjust", "20 ms", b.page(runner, runner+"/adjust"), 0},
		{"retest", "20 ms", b.page(runner, runner+"/retest"), 0},
		{"hand-out", "20 ms", b.page(runner, runner+"/hand-out"), 0},
		{"phone", "20 ms", phone, 0},
		{"a trial", "10 ms 8 SQL", b.trials(ctx), 0},
		{"a phone log", "10 ms", b.logs(token), 0},
		{"a phone morning", "10 ms", b.mornings(token), 0},
	}
	if b.profile != "" {
		f, err := os.Create(b.profile)
		if err != nil {
			return err
		}
		defer f.Close()
		if err := pprof.StartCPUProfile(f); err != nil {
			return err
		}
		defer pprof.StopCPUProfile()
	}
	for _, r := range rows {
		if !b.only.MatchString(r.name) {
			continue
		}
		if err := b.print(r); err != nil {
			return err
		}
	}
	if !b.only.MatchString("clients") {
		return nil
	}
	return b.clients(20)
}

func (b *bench) print(r row) error {
	if r.times == 0 {
		r.times = b.times
		if _, err := r.do(r.times); err != nil { // warm
			return fmt.Errorf("%s: %w", r.name, err)
		}
	}
	took := make([]time.Duration, r.times)
	sizes, asked := 0, int64(0)
	for i := range took {
		b.background.Idle() // what is computed after a change is no part of the next request
		before, at := b.sql.n.Load(), time.Now()
		n, err := r.do(i)
		if err != nil {
			return fmt.Errorf("%s: %w", r.name, err)
		}
		took[i], sizes = time.Since(at), sizes+n
		asked += b.sql.n.Load() - before
	}
	statements := float64(asked) / float64(r.times)
	slices.Sort(took)
	fmt.Printf("%-44s %-12s %9s %9s %8.1f %6.1f\n", r.name, r.target, took[len(took)/2].Round(10*time.Microsecond),
		took[len(took)*95/100].Round(10*time.Microsecond), float64(sizes)/float64(r.times)/1024, statements)
	return nil
}

// first is Today right after something that puts every standing out of date.
func (b *bench) first(change func(int) error) func(int) (int, error) {
	return func(n int) (int, error) {
		if err := change(n); err != nil {
			return 0, err
		}
		sent, raw, err := b.ask("GET", "/api/today", nil, nil)
		if err == nil && bytes.Contains(raw, []byte(`"kind":"computing"`)) {
			fmt.Printf("%d runners were still being computed: ", bytes.Count(raw, []byte(`"kind":"computing"`)))
		}
		return sent, err
	}
}

func (b *bench) changeRule(ctx context.Context) func(int) error {
	return func(n int) error {
		v := float64(4 - n%2)
		return b.store.In(ctx, b.a.Practice, func(tx *store.Tx) error { return tx.ChangeRule(ctx, "queue.quiet", &v, b.a.Coach) })
	}
}

// phoneLinks makes a private link for every runner.
func (b *bench) phoneLinks(ctx context.Context) ([]string, error) {
	out := []string{}
	for _, r := range b.runners {
		token := store.NewToken()
		err := b.store.In(ctx, b.a.Practice, func(tx *store.Tx) error {
			return tx.AddLink(ctx, r, store.NewID(), store.Hash(token), time.Now().AddDate(1, 0, 0))
		})
		if err != nil {
			return nil, err
		}
		out = append(out, token)
	}
	return out, nil
}

// trials enters one trial after another into an open screen.
func (b *bench) trials(ctx context.Context) func(int) (int, error) {
	open := map[string]string{}
	return func(n int) (int, error) {
		runner := b.runners[n%min(5, len(b.runners))]
		if open[runner] == "" {
			denied := []string{}
			for _, s := range refer.Signs {
				denied = append(denied, s.ID)
			}
			base := "/api/runners/" + runner
			if _, _, err := b.ask("PUT", base+"/checks/"+store.NewID(), map[string]any{"denied": denied, "source": "screen"}, nil); err != nil {
				return 0, err
			}
			for open[runner] == "" { // one left open by an earlier time is finished first
				id := store.NewID()
				_, raw, err := b.ask("PUT", base+"/screens/"+id, map[string]any{"kind": screen.FullScreen}, nil)
				if err != nil {
					return 0, err
				}
				var v struct{ Current struct{ ID string } }
				if err := json.Unmarshal(raw, &v); err != nil {
					return 0, err
				}
				if v.Current.ID == id {
					open[runner] = id
				} else if _, _, err := b.ask("POST", base+"/screens/"+v.Current.ID+"/finish", nil, nil); err != nil {
					return 0, err
				}
			}
			b.background.Idle()
		}
		sent, _, err := b.ask("PUT", "/api/runners/"+runner+"/screens/"+open[runner]+"/trials/"+store.NewID(),
			map[string]any{"measure": "ankle.knee_to_wall", "side": "left", "value": 9.5}, nil)
		return sent, err
	}
}

// logs enters sessions as phones do: what was shown is in them.
func (b *bench) logs(token []string) func(int) (int, error) {
	shown := map[int][]byte{}
	tried := 0
	var again func(int) (int, error)
	again = func(n int) (int, error) {
		k := n % min(5, len(token))
		header := map[string]string{"Authorization": "Bearer " + token[k]}
		if shown[k] == nil {
			_, raw, err := b.ask("GET", "/api/phone", nil, header)
			if err != nil {
				return 0, err
			}
			shown[k] = raw
		}
		var page struct {
			Today    string
			Sessions []struct {
				Items []struct {
					Exercise catalog.Exercise
					Sides    []struct {
						Prescriptions []string
						Exact         body.Dose
					}
				}
			}
		}
		if err := json.Unmarshal(shown[k], &page); err != nil {
			return 0, err
		}
		for _, s := range page.Sessions {
			for _, it := range s.Items {
				body := map[string]any{"prescription": it.Sides[0].Prescriptions[0], "on": page.Today, "done": []int{8, 8}, "rpe": 6, "pain": 0,
					"shown": map[string]any{"exercise": it.Exercise.ID, "dose": it.Sides[0].Exact}}
				sent, _, err := b.ask("PUT", "/api/phone/logs/"+store.NewID(), body, header)
				return sent, err
			}
		}
		if tried++; tried > 20 {
			return 0, errors.New("no session on any of twenty days to log")
		}
		delete(shown, k)
		b.ahead.Add(int64(24 * time.Hour)) // a day that has one
		return again(n + 1)
	}
	return again
}

func (b *bench) mornings(token []string) func(int) (int, error) {
	return func(n int) (int, error) {
		k := n % len(token)
		body := map[string]any{"on": b.desk.Now().UTC().AddDate(0, 0, -1).Format(time.DateOnly), "region": "heel_sole", "side": "left", "pain": 1}
		sent, _, err := b.ask("PUT", "/api/phone/mornings/"+store.NewID(), body, map[string]string{"Authorization": "Bearer " + token[k]})
		return sent, err
	}
}

// clients reads Today and adjust pages with many clients at once and prints the memory of this process.
func (b *bench) clients(n int) error {
	var wait sync.WaitGroup
	errs := make(chan error, n)
	var most atomic.Uint64
	done := make(chan struct{})
	go func() {
		tick := time.NewTicker(50 * time.Millisecond)
		defer tick.Stop()
		for {
			select {
			case <-done:
				return
			case <-tick.C:
				var m runtime.MemStats
				runtime.ReadMemStats(&m)
				if used := m.Sys - m.HeapReleased; used > most.Load() {
					most.Store(used)
				}
			}
		}
	}()
	begun, reads := time.Now(), 0
	for c := range n {
		wait.Go(func() {
			for k := range 10 {
				if _, err := b.page("/api/today")(0); err != nil {
					errs <- err
					return
				}
				if _, err := b.page("/api/runners/{runner}", "/api/runners/{runner}/adjust")(c*10 + k); err != nil {
					errs <- err
					return
				}
			}
		})
		reads += 20
	}
	wait.Wait()
	close(done)
	select {
	case err := <-errs:
		return err
	default:
	}
	fmt.Printf("%d clients read %d pages in %s; the Go process held at most %d MB (runtime: Sys − HeapReleased), %s resident\n", n, reads,
		time.Since(begun).Round(time.Millisecond), most.Load()>>20, resident())
	return nil
}

// resident is the memory the system counts for this process.
func resident() string {
	raw, err := os.ReadFile("/proc/self/status")
	if err != nil {
		return "?"
	}
	for _, l := range strings.Split(string(raw), "\n") {
		if strings.HasPrefix(l, "VmHWM") {
			return strings.Join(strings.Fields(l)[1:], " ")
		}
	}
	return cmp.Or("", "?")
}

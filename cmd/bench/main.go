// Bench makes up a practice and measures what its pages cost: the table it prints is the one the project is held to.
package main

import (
	"bytes"
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
	"runtime/pprof"
	"slices"
	"strconv"
	"strings"
	"sync/atomic"
	"time"
	_ "time/tzdata"

	"github.com/jackc/pgx/v5"

	"notchback/internal/account"
	"notchback/internal/api"
	"notchback/internal/cluster"
	"notchback/internal/core/body"
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

// counter counts the statements of requests, those of a batch one by one; what is computed behind them is not theirs.
type counter struct{ n atomic.Int64 }

type asked struct{}

func (c *counter) add(ctx context.Context) {
	if ctx.Value(asked{}) != nil {
		c.n.Add(1)
	}
}

// counted marks the requests whose statements are counted.
func counted(next http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		next.ServeHTTP(w, r.WithContext(context.WithValue(r.Context(), asked{}, true)))
	})
}

func (c *counter) TraceQueryStart(ctx context.Context, _ *pgx.Conn, _ pgx.TraceQueryStartData) context.Context {
	c.add(ctx)
	return ctx
}
func (*counter) TraceQueryEnd(context.Context, *pgx.Conn, pgx.TraceQueryEndData) {}
func (*counter) TraceBatchStart(ctx context.Context, _ *pgx.Conn, _ pgx.TraceBatchStartData) context.Context {
	return ctx
}
func (c *counter) TraceBatchQuery(ctx context.Context, _ *pgx.Conn, _ pgx.TraceBatchQueryData) {
	c.add(ctx)
}
func (*counter) TraceBatchEnd(context.Context, *pgx.Conn, pgx.TraceBatchEndData) {}

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
	api.Tune() // as it is served
	b.desk = &room.Desk{Store: b.store, Now: func() time.Time { return time.Now().Add(time.Duration(b.ahead.Load())) }}
	b.background = room.NewBackground(b.desk)
	defer b.background.Stop()
	srv := httptest.NewServer(counted(api.New(b.desk, api.Config{})))
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
		_, err := tx.SetPassword(ctx, coach, account.Hash(password))
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
	phone := func(path string) func(int) (int, error) {
		return func(n int) (int, error) {
			sent, _, err := b.ask("GET", path, nil, map[string]string{"Authorization": "Bearer " + token[n%len(token)]})
			return sent, err
		}
	}
	fmt.Printf("\n%-44s %-12s %9s %9s %8s %6s\n", "", "target", "median", "p95", "KB", "SQL")
	stop, err := b.profiled()
	if err != nil {
		return err
	}
	defer stop()
	for _, r := range b.rowsOf(ctx, draft, phone, token) {
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
		for i := range 5 { // warm; screens are opened for five runners
			if _, err := r.do(r.times + i); err != nil {
				return fmt.Errorf("%s: %w", r.name, err)
			}
		}
	}
	took := make([]time.Duration, r.times)
	sizes, asked := 0, int64(0)
	for i := range took {
		if err := b.settled(); err != nil {
			return fmt.Errorf("%s: %w", r.name, err)
		}
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

// settled waits until everybody's line stands: what is computed after a change is no part of the next request.
func (b *bench) settled() error {
	for {
		b.background.Idle()
		_, raw, err := b.ask("GET", "/api/today", nil, nil)
		if err != nil || !bytes.Contains(raw, []byte(`"kind":"computing"`)) {
			return err
		}
	}
}

// first is Today right after something that puts every standing out of date.
func (b *bench) first(change func(int) error) func(int) (int, error) {
	return func(n int) (int, error) {
		if err := change(n); err != nil {
			return 0, err
		}
		sent, raw, err := b.ask("GET", "/api/today", nil, nil)
		if err == nil && bytes.Contains(raw, []byte(`"kind":"computing"`)) {
			fmt.Printf("%d of them still being computed\n", bytes.Count(raw, []byte(`"kind":"computing"`)))
		}
		return sent, err
	}
}

// rowsOf is the table the project is held to.
func (b *bench) rowsOf(ctx context.Context, draft func(int) (int, error), phone func(string) func(int) (int, error),
	token []string) []row {
	const runner = "/api/runners/{runner}"
	return []row{
		{"bare round trip", "", func(int) (int, error) { return 0, b.store.Ready(ctx) }, 200},
		{"first Today of a new process", "1 s", b.first(func(int) error { b.ahead.Store(int64(24 * time.Hour)); return nil }), 1},
		{"first Today after midnight", "1 s", b.first(func(n int) error { b.ahead.Store(int64(n+2) * int64(24*time.Hour)); return nil }), 3},
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
		{"phone", "20 ms", phone("/api/phone"), 0},
		{"what a phone goes by without signal", "", phone("/api/phone/offline"), 8},
		{"a trial", "10 ms 8 SQL", b.trials(ctx), 0},
		{"a phone log", "10 ms", b.logs(token), 0},
		{"a phone morning", "10 ms", b.mornings(token), 0},
	}
}

// profiled begins a profile where one is asked for; stop ends it.
func (b *bench) profiled() (stop func(), err error) {
	if b.profile == "" {
		return func() {}, nil
	}
	f, err := os.Create(b.profile)
	if err != nil {
		return nil, err
	}
	if err := pprof.StartCPUProfile(f); err != nil {
		return nil, errors.Join(err, f.Close())
	}
	return func() {
		pprof.StopCPUProfile()
		f.Close()
	}, nil
}

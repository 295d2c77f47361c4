package api_test

import (
	"bytes"
	"encoding/json"
	"fmt"
	"io"
	"math/rand/v2"
	"net/http"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/muktihari/fit/decoder"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"notchback/internal/core/body"
	"notchback/internal/core/build"
	"notchback/internal/core/house"
	"notchback/internal/core/load"
	"notchback/internal/core/screen"
	"notchback/internal/crowd"
	"notchback/internal/formats"
	"notchback/internal/room"
	"notchback/internal/store"
	"notchback/internal/testkit"
)

// Session load, monotony with the sample deviation, strain, both ratios, and the longest run, against PostgreSQL's own statistics
// over the same runs.
func TestGaugesAgainstPostgreSQL(t *testing.T) {
	testkit.Store(t)
	db := testkit.Admin(t, testkit.LastDatabase())
	const today = body.Date("2026-03-30")
	compared := 0
	for seed := range uint64(40) {
		r := rand.New(rand.NewPCG(seed, 5))
		var runs []load.Run
		for d := range 60 {
			for range r.IntN(3) / (1 + r.IntN(2)) {
				runs = append(runs, load.Run{On: today.Add(-d), Minutes: float64(15 + r.IntN(100)), Km: float64(r.IntN(200)) / 10,
					RPE: []int{-1, 2, 4, 7}[r.IntN(4)]})
			}
		}
		runs = append(runs, load.Run{On: today.Add(-59), Minutes: 30, RPE: 3})
		rows, err := json.Marshal(runs)
		require.NoError(t, err)
		var sum, mono, strain, coupled, short, long, far float64
		// λ = 2 / (N + 1), seeded with the mean of the first 28 days, in a recursive query.
		require.NoError(t, db.QueryRow(ctx, `WITH RECURSIVE r AS (SELECT * FROM jsonb_to_recordset($1::jsonb) AS
				x("on" date, minutes float8, km float8, rpe int)),
			d AS (SELECT g::date AS day, coalesce(sum(CASE WHEN rpe > 0 THEN rpe * minutes ELSE minutes END), 0) AS load,
				coalesce(sum(minutes), 0) AS minutes, row_number() OVER (ORDER BY g) AS n
				FROM generate_series($2::date - 59, $2::date, interval '1 day') g LEFT JOIN r ON r."on" = g::date GROUP BY g),
			w AS (SELECT * FROM d WHERE day > $2::date - 7),
			e AS (SELECT 28::bigint AS n, avg(minutes) AS s, avg(minutes) AS l FROM d WHERE n <= 28
				UNION ALL SELECT d.n, e.s + 2.0 / 8 * (d.minutes - e.s), e.l + 2.0 / 29 * (d.minutes - e.l) FROM e JOIN d ON d.n = e.n + 1)
			SELECT sum(load), coalesce(avg(load) / nullif(stddev_samp(load), 0), -1),
				coalesce(sum(load) * avg(load) / nullif(stddev_samp(load), 0), -1),
				coalesce(avg(minutes) / (SELECT nullif(avg(minutes), 0) FROM d WHERE day > $2::date - 28), -1),
				(SELECT s FROM e WHERE n = 60), (SELECT l FROM e WHERE n = 60), (SELECT coalesce(max(km), 0) FROM r WHERE "on" > $2::date - 7)
			FROM w`, rows, string(today)).Scan(&sum, &mono, &strain, &coupled, &short, &long, &far))
		got := map[string]load.Gauge{}
		for _, g := range load.Gauges(runs, body.NewProfile(), today, house.Rules{}) {
			got[g.ID] = g
		}
		say := fmt.Sprintf("seed %d", seed)
		assert.Equal(t, fmt.Sprintf("%.0f", sum), got["session"].Figure, say)
		if mono >= 0 { // not told where every day is the same
			compared++
			assert.Equal(t, fmt.Sprintf("%.2f", mono), got["monotony"].Figure, say)
			assert.Equal(t, fmt.Sprintf("%.0f", strain), got["strain"].Figure, say)
		} else {
			assert.Empty(t, got["monotony"].Figure+got["strain"].Figure, say)
		}
		assert.Equal(t, fmt.Sprintf("%.2f", coupled), got["ratio"].Figure, say)
		assert.Equal(t, fmt.Sprintf("%.2f", short/long), got["weighted"].Figure, say)
		if far > 0 {
			assert.Equal(t, body.In("km", "%.1f", far), got["longest"].Figure, say)
		}
	}
	assert.Greater(t, compared, 30)
}

// asFixed tells a runner's two months as they are fixed: so many minutes on Tuesdays and Saturdays.
func asFixed(t *testing.T, d *testkit.Desk, runner string, minutes float64) {
	t.Helper()
	today := body.DateOf(d.Now().UTC())
	for on := today.Monday().Add(-56); on <= today; on = on.Add(1) {
		if on.Weekday() == 1 || on.Weekday() == 5 {
			require.NoError(t, d.AddRun(ctx, d.Actor, runner, "coach", load.Run{ID: store.NewID(), On: on, Minutes: minutes,
				Km: minutes / 6, RPE: 4}, ""))
		}
	}
}

// The weeks are planned, cut to their limits, read on the runner's page, and written over by nobody who had not seen them.
func TestTheWeeksArePlanned(t *testing.T) {
	d, srv := server(t)
	c := signedIn(t, srv.URL, email)
	p := testkit.Profile()
	p.NotRunning, p.WeeklyMinutes = false, 120
	p.Runs = []body.FixedRun{{Weekday: 1, Minutes: 60, Quality: "easy"}, {Weekday: 5, Minutes: 60, Quality: "easy"}}
	runner := d.Runner(t, p)
	d.Screen(t, runner, testkit.Usual)
	require.NoError(t, d.Build(ctx, d.Actor, runner, store.NewID(), build.Choices{}))
	asFixed(t, d, runner, 60)
	at := "/api/runners/" + runner
	var v room.LoadView
	c.must("GET", at+"/load", nil, &v)
	require.Len(t, v.Weeks, 20)
	now := v.Weeks[8]
	assert.Equal(t, v.Today.Monday(), now.From)
	assert.Equal(t, load.Strength, now.Lead)
	assert.Equal(t, 120, now.Base, "two runs of 60 min")

	first := store.NewID()
	body1 := map[string]any{"saw": "", "plan": map[string]any{"rule": map[string]any{"percent": 0, "easyEvery": 0},
		"weeks": []any{map[string]any{"from": now.From, "minutes": 4 * now.Base}}, "spans": []any{}}}
	c.must("PUT", at+"/running/"+first, body1, nil)
	c.must("PUT", at+"/running/"+first, body1, nil) // sent again it is the same
	c.must("GET", at+"/load", nil, &v)
	now = v.Weeks[8]
	assert.Equal(t, load.Running, now.Lead, "a week that rises is led by running")
	assert.Equal(t, now.Base*110/100, now.Planned, "and is cut to its limit")
	assert.Contains(t, now.Why.Says, "were wanted")
	status, said := c.do("PUT", at+"/running/"+store.NewID(), body1)
	assert.Equal(t, 409, status, said)
	body1["saw"] = first
	body1["plan"].(map[string]any)["weeks"] = []any{map[string]any{"from": now.From.Add(1), "minutes": 30}}
	status, said = c.do("PUT", at+"/running/"+store.NewID(), body1)
	assert.Equal(t, 422, status)
	assert.Contains(t, said, "is no Monday of the coming half year")

	readOutside(t, d, c, runner, first, now)
}

// readOutside: the runner's page and the calendar say the planned minutes; a holiday has no run and no strength work.
func readOutside(t *testing.T, d *testkit.Desk, c *client, runner, first string, now load.Week) {
	t.Helper()
	at := "/api/runners/" + runner
	o, err := d.Chart(ctx, d.Actor, runner)
	require.NoError(t, err)
	page := o.Phone(d.Now())
	assert.Contains(t, page.Lead, "Running leads this week")
	runs := 0
	for _, day := range page.Week {
		if strings.Contains(day.Run, "run,") && day.On.Monday() == now.From {
			assert.Contains(t, day.Run, fmt.Sprintf("%d min; %d min planned this week", now.Planned/2, now.Planned))
			runs++
		}
	}
	if o.Today.Weekday() <= 1 {
		assert.Positive(t, runs)
	}
	planned := slices.IndexFunc(o.Calendar(), func(p formats.Planned) bool {
		return p.Kind == "run" && !p.Gone && strings.HasPrefix(p.Title, "Easy run, ")
	})
	assert.GreaterOrEqual(t, planned, 0, "the calendar file holds the runs")
	away := map[string]any{"saw": first, "plan": map[string]any{"rule": map[string]any{"percent": 5, "easyEvery": 4}, "weeks": []any{},
		"spans": []any{map[string]any{"id": store.NewID(), "kind": "holiday", "from": o.Today, "until": o.Today.Add(9)}}}}
	c.must("PUT", at+"/running/"+store.NewID(), away, nil)
	o, err = d.Chart(ctx, d.Actor, runner)
	require.NoError(t, err)
	for _, day := range o.Phone(d.Now()).Week {
		assert.NotContains(t, day.Run, "easy run")
		if wd := day.On.Weekday(); wd == 1 || wd == 5 {
			assert.Contains(t, day.Run, "away until")
		}
	}
	for _, s := range o.Phone(d.Now()).Sessions {
		assert.Empty(t, s.Items, "away: strength waits")
	}
}

// What would move is looked at without a trace: every table as before, the record as before; and it says what then happens.
func TestWhatIfLeavesNoTrace(t *testing.T) {
	d, srv := server(t)
	c := signedIn(t, srv.URL, email)
	p := testkit.Profile()
	p.NotRunning, p.WeeklyMinutes, p.LongestRunKm = false, 120, 10
	p.Runs = []body.FixedRun{{Weekday: 1, Minutes: 60, Quality: "easy"}, {Weekday: 5, Minutes: 60, Quality: "easy"}}
	runner := d.Runner(t, p)
	d.Screen(t, runner, testkit.Usual)
	require.NoError(t, d.Build(ctx, d.Actor, runner, store.NewID(), build.Choices{}))
	asFixed(t, d, runner, 60)
	db := testkit.Admin(t, testkit.LastDatabase())
	state := func() (out string) {
		require.NoError(t, db.QueryRow(ctx, `SELECT string_agg(format('%s %s', relname, n), ' ' ORDER BY relname) FROM (SELECT c.relname,
			(xpath('/row/n/text()', query_to_xml(format('SELECT count(*) AS n FROM %I', c.relname), false, true, '')))[1]::text AS n
			FROM pg_class c JOIN pg_namespace s ON s.oid = c.relnamespace WHERE c.relkind = 'r' AND s.nspname = 'public'
			AND c.relname NOT IN ('sessions', 'audit', 'audits', 'audit_log')) x`).Scan(&out))
		return out
	}
	before := state()
	ask := func(body map[string]any) (v room.WhatIfView) {
		c.must("POST", "/api/runners/"+runner+"/what-if", body, &v)
		return v
	}
	v := ask(map[string]any{"minutes": 400})
	assert.Equal(t, "high", v.Volume.Then)
	held := slices.ContainsFunc(v.Rows, func(r room.WhatIfRow) bool {
		return r.Differs && r.As == "up" && r.Then == "hold" && strings.Contains(r.Why.Says, "volume is high")
	})
	for _, r := range v.Rows {
		t.Log(r.Rail, r.Side, r.As, r.Then, r.Why.Says)
	}
	assert.True(t, held, "a calf rail that would move up waits for the volume")
	v = ask(map[string]any{"missed": true})
	assert.True(t, slices.ContainsFunc(v.Rows, func(r room.WhatIfRow) bool { return r.Differs && r.Then == "hold" }), "a missed week holds")
	v = ask(map[string]any{"region": "achilles", "side": "left", "pain": 8})
	assert.True(t, slices.ContainsFunc(v.Rows, func(r room.WhatIfRow) bool { return r.Differs && r.Then == "back" && r.Side == "left" }),
		"a bad morning goes back")
	assert.Equal(t, before, state())
	status, said := c.do("POST", "/api/runners/"+runner+"/what-if", map[string]any{})
	assert.Equal(t, 422, status)
	assert.Contains(t, said, "change something")
}

// The strip: two years, each day in a sentence, its points with what they were computed from; and what a watch counts of a run.
func TestTwoYearsOfARunner(t *testing.T) {
	d, srv := server(t)
	c := signedIn(t, srv.URL, email)
	ids, err := crowd.Make(ctx, d.Store, testkit.Admin(t, testkit.LastDatabase()), d.Actor, d.Now(), 1, 104)
	require.NoError(t, err)
	at := "/api/runners/" + ids[0]
	var v room.StripView
	c.must("GET", at+"/strip", nil, &v)
	require.Greater(t, len(v.Days), 300)
	assert.True(t, slices.IsSortedFunc(v.Days, func(a, b room.StripDay) int { return a.On.Sub(b.On) }))
	var runs, done, mornings, screens int
	for _, day := range v.Days {
		require.True(t, day.On >= v.From && day.On <= v.Until)
		runs, done, mornings, screens = runs+len(day.Run), done+day.Done, mornings+len(day.Mornings), screens+len(day.Screens)
		assert.True(t, strings.HasPrefix(day.Says, day.On.Short()+": "), day.Says)
	}
	var told [3]int
	require.NoError(t, testkit.Admin(t, testkit.LastDatabase()).QueryRow(ctx, `SELECT count(DISTINCT on_day),
		(SELECT count(*) FROM (SELECT DISTINCT l.on_day, p.rail FROM logs l JOIN prescriptions p ON p.id = l.prescription_id
			WHERE l.runner_id = $1 AND NOT EXISTS (SELECT FROM logs c WHERE c.supersedes = l.id)) x),
		(SELECT count(*) FROM (SELECT DISTINCT on_day, region, side FROM mornings WHERE runner_id = $1 AND NOT quiet) y)
		FROM runs WHERE runner_id = $1 AND word = ''`, ids[0]).Scan(&told[0], &told[1], &told[2]))
	assert.Equal(t, told, [3]int{runs, done, mornings})
	assert.Positive(t, screens)
	i := slices.IndexFunc(v.Days, func(day room.StripDay) bool { return len(day.Run) > 0 && day.Done > 0 })
	var why []room.StripReason
	c.must("GET", at+"/strip/"+string(v.Days[i].On), nil, &why)
	assert.True(t, slices.ContainsFunc(why, func(r room.StripReason) bool { return strings.HasPrefix(r.Title, "Run, ") }))
	assert.True(t, slices.ContainsFunc(why, func(r room.StripReason) bool { return r.Title == "Strength work" }) || v.Days[i].Planned == 0)
	status, _ := c.do("GET", at+"/strip/yesterday", nil)
	assert.Equal(t, 422, status)

	phone, token := open(t, srv.URL), store.NewToken()
	require.NoError(t, d.Store.In(ctx, d.Actor.Practice, func(tx *store.Tx) error {
		return tx.AddLink(ctx, ids[0], store.NewID(), store.Hash(token), d.Now().Add(time.Hour))
	}))
	phone.head.Set("Authorization", "Bearer "+token)
	phone.head.Set("Accept-Encoding", "gzip")
	_, page := phone.do("GET", "/api/phone", nil)
	_, apart := phone.do("GET", "/api/phone/offline", nil)
	t.Logf("a phone holds %.1f KB, and %.1f KB to go by without signal, compressed", float64(len(page))/1000, float64(len(apart))/1000)
	assert.Greater(t, len(page), 3000, "there is a session in it")
	assert.Less(t, len(page)+len(apart), 60_000)
}

// A run with blocks as a file for a watch: on its day, and on no other.
func TestARunForAWatch(t *testing.T) {
	d, srv := server(t)
	c := signedIn(t, srv.URL, email)
	p := testkit.Profile()
	p.NotRunning, p.WeeklyMinutes = false, 120
	p.Runs = []body.FixedRun{{Weekday: 1, Minutes: 60, Quality: "easy"}, {Weekday: 4, Minutes: 60, Quality: "easy"}}
	runner := d.Runner(t, p)
	d.Screen(t, runner, testkit.Usual)
	visit := d.Begin(t, runner)
	require.NoError(t, d.Try(ctx, runner, visit, screen.Trial{ID: store.NewID(), Measure: "gait.cadence", Side: body.Both,
		Parts: []float64{39}, Context: &screen.Context{Pace: "easy", Shod: "shoes", Surface: "treadmill", SpeedKmh: 10}}))
	require.NoError(t, d.Store.In(ctx, d.Actor.Practice, func(tx *store.Tx) error { return tx.FinishScreen(ctx, runner, visit) }))
	require.NoError(t, d.Build(ctx, d.Actor, runner, store.NewID(), build.Choices{}))
	asFixed(t, d, runner, 60)
	at := "/api/runners/" + runner
	var week room.WeekView
	c.must("GET", at+"/week", nil, &week)
	require.NotEmpty(t, week.Workouts, "the cadence blocks stand in a run")
	on := week.Workouts[0]
	status, data := c.do("GET", at+"/workouts/"+string(on), nil)
	require.Equal(t, 200, status)
	file, err := decoder.New(bytes.NewReader([]byte(data))).Decode()
	require.NoError(t, err)
	assert.Greater(t, len(file.Messages), 4)
	for i := range 7 {
		if day := week.Today.Add(i); !slices.Contains(week.Workouts, day) {
			status, _ := c.do("GET", at+"/workouts/"+string(day), nil)
			assert.Equal(t, 404, status, day)
		}
	}
}

// raw sends bytes.
func (c *client) raw(method, path string, data []byte) (int, string) {
	c.t.Helper()
	req, err := http.NewRequest(method, c.url+path, bytes.NewReader(data))
	require.NoError(c.t, err)
	req.Header.Set("Content-Type", "application/octet-stream")
	a, err := c.http.Do(req)
	require.NoError(c.t, err)
	defer a.Body.Close()
	said, err := io.ReadAll(a.Body)
	require.NoError(c.t, err)
	return a.StatusCode, string(said)
}

// A column is named by the coach, and remembered for tables with that heading; a table without a date says so and shows its columns.
func TestColumnsAreRemembered(t *testing.T) {
	d, srv := server(t)
	c := signedIn(t, srv.URL, email)
	runner := d.Runner(t, testkit.Profile())
	day := time.Now().UTC().AddDate(0, 0, -3)
	table := []byte("wann;wie lange;weit\n" + day.Format("02.01.2006") + ";42;7,5\n")
	send := func(at, query string) (v room.ImportView) {
		req := at + "/files/0?name=list.csv" + query
		status, said := c.raw("PUT", req, table)
		require.Equal(t, 200, status, said)
		c.must("GET", at, nil, &v)
		return v
	}
	at := "/api/runners/" + runner + "/imports/" + store.NewID()
	v := send(at, "")
	require.Len(t, v.Files, 1)
	assert.Contains(t, v.Files[0].Refused, "no column for the date")
	require.NotNil(t, v.Files[0].Table)
	assert.Equal(t, []string{"wann", "wie lange", "weit"}, v.Files[0].Table.Header)
	v = send(at, "&columns=%7B%22date%22%3A%22wann%22%2C%22minutes%22%3A%22wie+lange%22%2C%22km%22%3A%22weit%22%7D")
	require.Len(t, v.Files[0].Runs, 1, v.Files[0].Refused)
	run := v.Files[0].Runs[0].Run
	assert.Equal(t, []any{42., 7.5, body.DateOf(day)}, []any{run.Minutes, run.Km, run.On})
	again := send("/api/runners/"+runner+"/imports/"+store.NewID(), "")
	assert.Len(t, again.Files[0].Runs, 1, "remembered")
	status, said := c.raw("PUT", at+"/files/0?name=x.csv&columns=nonsense", table)
	assert.Equal(t, 422, status)
	assert.Contains(t, said, "JSON object")
}

// Two years at the server: how long one answer takes.
func BenchmarkStrip(b *testing.B) {
	d := testkit.NewDesk(b, "strip@example.org")
	ids, err := crowd.Make(ctx, d.Store, testkit.Admin(b, testkit.LastDatabase()), d.Actor, d.Now(), 1, 104)
	require.NoError(b, err)
	for b.Loop() {
		v, err := d.Strip(ctx, d.Actor, ids[0])
		require.NoError(b, err)
		require.NotEmpty(b, v.Days)
	}
}

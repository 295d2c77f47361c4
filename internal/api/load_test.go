package api_test

import (
	"bytes"
	"fmt"
	"net/http"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"notchback/internal/core/load"
	"notchback/internal/room"
	"notchback/internal/standin"
	"notchback/internal/store"
	"notchback/internal/testkit"
)

// sendFile sends a file of an import.
func (c *client) sendFile(at string, n int, name string, data []byte) (int, string) {
	c.t.Helper()
	return c.raw("PUT", fmt.Sprintf("%s/files/%d?name=%s", at, n, name), data)
}

// outing is a run of the simulated watch so many days ago.
func outing(days, seconds int) standin.Outing {
	start := time.Now().UTC().AddDate(0, 0, -days).Truncate(24 * time.Hour).Add(8 * time.Hour)
	return standin.Outing{Start: start, Legs: []standin.Leg{{Seconds: seconds, Speed: 2.8, Cadence: 170, Rise: 20}}}
}

// A mixed package: previewed, added once, undone as a whole, and found new again; nothing of a place is stored anywhere.
func TestAnImportOfRuns(t *testing.T) {
	d, srv := server(t)
	c := signedIn(t, srv.URL, email)
	runner := d.Runner(t, testkit.Profile())
	at := "/api/runners/" + runner + "/imports/" + store.NewID()
	a, b := outing(3, 1800), outing(5, 2400)
	broken := a.FIT()[:400]
	pack := testkit.Zip(t, map[string][]byte{"one.fit": a.FIT(), "same.gpx": a.GPX(), "two.tcx": b.TCX(), "broken.fit": broken})
	for range 2 { // sent again it is the same
		status, said := c.sendFile(at, 0, "runs.zip", pack)
		require.Equal(t, 200, status, said)
	}
	var v room.ImportView
	c.must("GET", at, nil, &v)
	assert.Equal(t, [3]int{2, 1, 1}, [3]int{v.New, v.There, v.Broken})
	take := []string{}
	for _, f := range v.Files {
		for _, r := range f.Runs {
			if r.Verdict == load.New {
				take = append(take, r.Key)
			} else {
				assert.Contains(t, r.Why, "a run of 30 min on")
			}
		}
		if f.Name == "broken.fit" {
			assert.Contains(t, f.Refused, "cut short")
		}
	}
	status, said := c.do("POST", at+"/confirm", map[string]any{"take": []string{}})
	assert.Equal(t, 422, status)
	assert.Contains(t, said, "choose at least one")
	for range 2 {
		c.must("POST", at+"/confirm", map[string]any{"take": take}, nil)
	}
	var l room.LoadView
	c.must("GET", "/api/runners/"+runner+"/load", nil, &l)
	require.Len(t, l.Runs, 2)
	assert.Equal(t, "file", l.Runs[0].Source)
	assert.InDelta(t, 30, l.Runs[0].Minutes, 0.05)
	assert.InDelta(t, 170, l.Runs[0].Cadence, 1)
	assert.Len(t, l.Runs[0].FileHash, 64)
	assert.Equal(t, load.High, l.State, "70 minutes after weeks of none")
	assert.Equal(t, 2, l.Imports[0].Runs)

	undone(t, c, runner, at, b)
	noPlaces(t)
}

// undone takes an import back as a whole: its runs are gone, and new again to a file that has them.
func undone(t *testing.T, c *client, runner, at string, b standin.Outing) {
	t.Helper()
	var l room.LoadView
	var v room.ImportView
	again := "/api/runners/" + runner + "/imports/" + store.NewID()
	status, said := c.sendFile(again, 0, "two.fit", b.FIT())
	require.Equal(t, 200, status, said)
	c.must("GET", again, nil, &v)
	assert.Equal(t, [2]int{0, 1}, [2]int{v.New, v.There}, "the same run in another format is there already")
	for range 2 {
		c.must("POST", at+"/undo", nil, nil)
	}
	c.must("GET", "/api/runners/"+runner+"/load", nil, &l)
	assert.Empty(t, l.Runs)
	assert.Equal(t, load.Usual, l.State, "as it was")
	assert.Equal(t, "undone", l.Imports[0].State)
	c.must("GET", again, nil, &v)
	assert.Equal(t, 1, v.New, "it went with its import")
	c.must("DELETE", again, nil, nil)
	status, _ = c.do("GET", again, nil)
	assert.Equal(t, 404, status)
}

// noPlaces searches every table for where the simulated runner ran.
func noPlaces(t *testing.T) {
	t.Helper()
	admin := testkit.Admin(t, testkit.LastDatabase())
	var tables []string
	require.NoError(t, admin.QueryRow(ctx, `SELECT array_agg(tablename::text) FROM pg_tables WHERE schemaname = 'public'`).Scan(&tables))
	require.Greater(t, len(tables), 20)
	for _, table := range tables {
		var text string
		require.NoError(t, admin.QueryRow(ctx, `SELECT coalesce(string_agg(x::text, ' '), '') FROM `+table+` x`).Scan(&text))
		for _, place := range []string{"47.31", "31.27", "heart", "hr>"} {
			assert.NotContains(t, text, place, table)
		}
	}
}

// Another coach does not see a preview, another practice nothing at all; a preview is gone after a day.
func TestWhoseAnImportIs(t *testing.T) {
	d, srv := server(t)
	c := signedIn(t, srv.URL, email)
	second(t, d, "second@test.example")
	other := signedIn(t, srv.URL, "second@test.example")
	runner := d.Runner(t, testkit.Profile())
	at := "/api/runners/" + runner + "/imports/" + store.NewID()
	status, said := c.sendFile(at, 0, "a.fit", outing(2, 1200).FIT())
	require.Equal(t, 200, status, said)
	status, _ = other.do("GET", at, nil)
	assert.Equal(t, 404, status)
	status, _ = other.do("POST", at+"/confirm", map[string]any{"take": []string{"0.0.0"}})
	assert.Equal(t, 404, status)
	_, err := testkit.Admin(t, testkit.LastDatabase()).Exec(ctx, `UPDATE run_imports SET at = now() - interval '25 hours'`)
	require.NoError(t, err)
	status, said = c.sendFile("/api/runners/"+runner+"/imports/"+store.NewID(), 0, "a.fit", outing(2, 1200).FIT())
	require.Equal(t, 200, status, said)
	status, _ = c.do("GET", at, nil)
	assert.Equal(t, 404, status)
}

// A run entered by hand is known again in a file; one that overlaps is told and left to the coach.
func TestWhatAFileHasThatIsThere(t *testing.T) {
	d, srv := server(t)
	c := signedIn(t, srv.URL, email)
	runner := d.Runner(t, testkit.Profile())
	byHand := func(days int, minutes float64, details load.Details) {
		on := time.Now().UTC().AddDate(0, 0, -days).Format(time.DateOnly)
		c.must("PUT", "/api/runners/"+runner+"/runs/"+store.NewID(), map[string]any{"on": on, "minutes": minutes, "details": details}, nil)
	}
	byHand(2, 31, load.Details{})
	byHand(3, 36, load.Details{})
	byHand(4, 50, load.Details{})
	byHand(5, 60, load.Details{Start: outing(5, 0).Start.Add(10 * time.Minute).Format(time.RFC3339)})
	at := "/api/runners/" + runner + "/imports/" + store.NewID()
	for i, days := range []int{2, 3, 4, 5} {
		status, said := c.sendFile(at, i, "a.fit", outing(days, 1800).FIT())
		require.Equal(t, 200, status, said)
	}
	var v room.ImportView
	c.must("GET", at, nil, &v)
	got := []string{}
	for _, f := range v.Files {
		got = append(got, string(f.Runs[0].Verdict))
	}
	assert.Equal(t, []string{"same", "overlap", "new", "overlap"}, got)
}

// Files that no honest request sends.
func TestUploadsAreBounded(t *testing.T) {
	d, srv := server(t)
	c := signedIn(t, srv.URL, email)
	runner := d.Runner(t, testkit.Profile())
	at := "/api/runners/" + runner + "/imports/" + store.NewID()
	req, err := http.NewRequest("PUT", srv.URL+at+"/files/0", strings.NewReader("x"))
	require.NoError(t, err)
	req.ContentLength = 300 << 20
	a, err := c.http.Do(req)
	if err == nil { // the server answers before the body, or closes on it
		_ = a.Body.Close()
		assert.Equal(t, http.StatusRequestEntityTooLarge, a.StatusCode)
	}
	status, said := c.sendFile(at, 0, strings.Repeat("n", 301), []byte("x"))
	assert.Equal(t, 422, status, said)
	status, said = c.sendFile(at, 0, "..%2f..%2fa.fit", []byte("date,minutes\n"))
	assert.Equal(t, 200, status, said)
	var v room.ImportView
	c.must("GET", at, nil, &v)
	assert.Equal(t, "a.fit", v.Files[0].Name)
	assert.Equal(t, "tells of no run", v.Files[0].Refused)
	big := bytes.Repeat([]byte("a"), 1<<20) // four times what any other request may hold
	status, said = c.sendFile(at, 1, "big.csv", big)
	assert.Equal(t, 200, status, said)
}

// A thousand small files, as a browser sends them.
func BenchmarkAThousandFiles(b *testing.B) {
	d := testkit.NewDesk(b, email)
	runner := d.Runner(b, testkit.Profile())
	files := [][]byte{}
	for i := range 1000 {
		files = append(files, outing(i%300, 1200+i).FIT())
	}
	for b.Loop() {
		id := store.NewID()
		for i, f := range files {
			require.NoError(b, d.ReadFile(ctx, d.Actor, runner, id, i, "a.fit", nil, bytes.NewReader(f), int64(len(f))))
		}
		v, err := d.Preview(ctx, d.Actor, runner, id)
		require.NoError(b, err)
		take := []string{}
		for _, f := range v.Files {
			take = append(take, f.Runs[0].Key)
		}
		require.NoError(b, d.Confirm(ctx, d.Actor, runner, id, take))
		require.NoError(b, d.UndoImport(ctx, d.Actor, runner, id))
	}
}

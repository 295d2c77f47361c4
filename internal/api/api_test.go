package api_test

import (
	"bufio"
	"bytes"
	"context"
	"encoding/json"
	"io"
	"net/http"
	"net/http/cookiejar"
	"net/http/httptest"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"notchback/internal/account"
	"notchback/internal/api"
	"notchback/internal/core/body"
	"notchback/internal/core/build"
	"notchback/internal/core/refer"
	"notchback/internal/room"
	"notchback/internal/standin"
	"notchback/internal/store"
	"notchback/internal/testkit"
)

func TestMain(m *testing.M) { testkit.Main(m) }

var ctx = context.Background()

const (
	email    = "coach@test.example"
	password = "a long enough password"
)

// client is a browser: it keeps its cookies.
type client struct {
	t    *testing.T
	url  string
	http *http.Client
	head http.Header
}

func server(t *testing.T) (*testkit.Desk, *httptest.Server) {
	d := testkit.NewDesk(t, email)
	give(t, d.Store, d.Actor.Practice, d.Actor.Coach)
	srv := httptest.NewServer(api.New(d.Desk, api.Config{PublicURL: "https://nb.test", Films: standin.Shelf{}}))
	t.Cleanup(srv.Close)
	return d, srv
}

var hashed = account.Hash(password)

func give(t *testing.T, s *store.Store, practice, coach string) {
	require.NoError(t, s.In(ctx, practice, func(tx *store.Tx) error { _, err := tx.SetPassword(ctx, coach, hashed); return err }))
}

func open(t *testing.T, url string) *client {
	jar, _ := cookiejar.New(nil)
	return &client{t: t, url: url, http: &http.Client{Jar: jar}, head: http.Header{}}
}

func signedIn(t *testing.T, url, mail string) *client {
	c := open(t, url)
	status, body := c.do("POST", "/api/session", map[string]string{"email": mail, "password": password})
	require.Equal(t, 200, status, body)
	return c
}

// do sends a request and returns status and body as text.
func (c *client) do(method, path string, body any) (int, string) {
	c.t.Helper()
	var r io.Reader
	switch b := body.(type) {
	case nil:
	case string:
		r = strings.NewReader(b)
	default:
		j, err := json.Marshal(b)
		require.NoError(c.t, err)
		r = bytes.NewReader(j)
	}
	req, err := http.NewRequest(method, c.url+path, r)
	require.NoError(c.t, err)
	req.Header = c.head.Clone()
	if body != nil {
		req.Header.Set("Content-Type", "application/json")
	}
	a, err := c.http.Do(req)
	require.NoError(c.t, err)
	defer a.Body.Close()
	text, _ := io.ReadAll(a.Body)
	return a.StatusCode, string(text)
}

func (c *client) must(method, path string, body, into any) {
	c.t.Helper()
	status, text := c.do(method, path, body)
	require.Equal(c.t, 200, status, text)
	if into != nil {
		require.NoError(c.t, json.Unmarshal([]byte(text), into))
	}
}

func TestRequestsFromOtherSitesAreRefused(t *testing.T) {
	_, srv := server(t)
	c := signedIn(t, srv.URL, email)
	c.head.Set("Sec-Fetch-Site", "cross-site")
	status, body := c.do("DELETE", "/api/sessions", nil)
	assert.Equal(t, 403, status)
	assert.Contains(t, body, `"detail":"This request came from another site`)
	c.head.Set("Sec-Fetch-Site", "same-origin")
	status, _ = c.do("GET", "/api/me", nil)
	assert.Equal(t, 200, status)
}

func TestSecurityHeaders(t *testing.T) {
	_, srv := server(t)
	a, err := http.Get(srv.URL + "/api/me")
	require.NoError(t, err)
	a.Body.Close()
	csp := a.Header.Get("Content-Security-Policy")
	assert.Contains(t, csp, "default-src 'none'")
	assert.NotContains(t, csp, "unsafe")
	assert.Equal(t, "nosniff", a.Header.Get("X-Content-Type-Options"))
	assert.Equal(t, "no-referrer", a.Header.Get("Referrer-Policy"))
	assert.Equal(t, "no-store", a.Header.Get("Cache-Control"))
}

// Every operation under a runner, taken from the served document, answers 404 for a runner of
// another practice.
func TestAnotherPracticesIdsAnswer404(t *testing.T) {
	d, srv := server(t)
	mine := d.Runner(t, testkit.Profile())
	other, coach, err := d.Store.CreatePractice(ctx, "Other", "Other", "other@test.example")
	require.NoError(t, err)
	give(t, d.Store, other, coach)
	c := signedIn(t, srv.URL, "other@test.example")

	var doc struct {
		Paths map[string]map[string]json.RawMessage
	}
	c.must("GET", "/api/openapi.json", nil, &doc)
	film, _ := standin.Find("heel-120")
	bodies := map[string]any{
		"save-intake": map[string]any{"name": "X", "timezone": "UTC", "version": 1, "profile": testkit.Profile()},
		"archive":     map[string]any{"archived": true},
		"add-stop":    map[string]any{"sign": "chest", "side": "both"},
		"clear-stop": map[string]any{"kind": "clinician", "who": "x", "on": "2026-01-01", "opens": map[string]any{"level": 2},
			"limits": "none"},
		"set-limit": map[string]any{"for": "bone", "side": "both", "kind": "clinician", "who": "x", "on": "2026-01-01",
			"opens": map[string]any{"level": 2}, "words": "x"},
		"raise-usual":  map[string]any{"region": "heel", "side": "left", "level": 2, "word": "x"},
		"start-screen": map[string]any{"kind": "full"},
		"answer-signs": map[string]any{"denied": []string{}, "source": "screen"},
		"add-trial":    map[string]any{"measure": "ankle.knee_to_wall", "side": "left", "value": 9},
		"plan-barefoot": map[string]any{"saw": "", "plan": map[string]any{"aim": "bare", "cap": 20, "start": map[string]any{"stage": 0,
			"step": 0}}},
		"decide-barefoot":  map[string]any{"to": map[string]any{"stage": 0, "step": 0}, "saw": 0},
		"write-note":       map[string]any{"on": "2026-01-01", "text": "x"},
		"log-barefoot":     map[string]any{"on": "2026-01-01", "stage": 0, "minutes": 5},
		"lead-barefoot":    map[string]any{"week": "2026-01-05"},
		"barefoot-what-if": map[string]any{"lost": 0},
		"build":            map[string]any{"choices": build.Choices{}.Normalise()},
		"draft":            map[string]any{},
		"compare-drafts":   map[string]any{"a": build.Choices{}.Normalise(), "b": build.Choices{}.Normalise()},
		"change-week":      map[string]any{"saw": "", "rail": "ankle_bend", "from": 0, "to": 1, "slot": "own"},
		"decide":           map[string]any{"rail": "ankle_bend", "side": "left", "prescription": store.NewID(), "verdict": "up", "word": ""},
		"decide-all": map[string]any{"decisions": []any{map[string]any{"id": store.NewID(), "rail": "ankle_bend", "side": "left",
			"prescription": store.NewID(), "verdict": "up", "word": ""}}},
		"coach-log":      map[string]any{"prescription": store.NewID(), "on": "2026-01-01", "done": []int{1}, "rpe": 7, "pain": 0},
		"coach-morning":  map[string]any{"on": "2026-01-01", "region": "heel", "side": "left", "pain": 0},
		"read-clip":      film.Marked(),
		"propose-marks":  map[string]any{"clip": film.Marked(), "tracks": []any{}},
		"compare-clips":  map[string]any{"first": film.Marked(), "second": film.Marked(), "across": false},
		"keep-clip":      map[string]any{"clip": film.Marked()},
		"keep-still":     map[string]any{"picture": "/9j/"},
		"tell-heel":      map[string]any{"sore": []string{"heel_back"}},
		"confirm-import": map[string]any{"take": []string{}},
		"pair-phone":     map[string]any{"measure": "ankle.seated_bend"},
		"plan-running": map[string]any{"saw": "", "plan": map[string]any{"rule": map[string]any{"percent": 0, "easyEvery": 0},
			"weeks": []any{}, "spans": []any{}}},
		"what-if":   map[string]any{"missed": true},
		"coach-run": map[string]any{"on": "2026-01-01", "minutes": 30},
	}
	tried := 0
	for path, ops := range doc.Paths {
		if !strings.Contains(path, "{runner}") {
			continue
		}
		at := strings.ReplaceAll(path, "{runner}", mine)
		if strings.HasSuffix(at, "/week/moves") {
			at += "?rail=ankle_bend&from=0"
		}
		at = strings.NewReplacer("{side}", "left", "{rail}", "calf_straight", "{n}", "0", "{day}", "2026-01-05").Replace(at)
		for _, p := range []string{"stop", "clearance", "link", "screen", "trial", "programme", "id", "check", "form", "clip", "still", "limit",
			"device", "import", "phone"} {
			at = strings.ReplaceAll(at, "{"+p+"}", store.NewID())
		}
		for method, raw := range ops {
			var op struct{ OperationID string }
			require.NoError(t, json.Unmarshal(raw, &op))
			status, text := c.do(strings.ToUpper(method), at, bodies[op.OperationID])
			assert.Equal(t, 404, status, "%s %s: %s", method, path, text)
			says := "There is no such record here."
			if op.OperationID == "end-phone" || op.OperationID == "paired-phone" {
				says = "That phone has ended" // no record: it answers so to every id it does not know
			}
			assert.Contains(t, text, says, op.OperationID)
			tried++
		}
	}
	assert.GreaterOrEqual(t, tried, 25)
	status, _ := c.do("POST", "/api/coaches/"+d.Actor.Coach+"/code", nil)
	assert.Equal(t, 404, status, "no code for another practice's coach")
}

func TestBadInputNamesTheFieldAndTheLimit(t *testing.T) {
	d, srv := server(t)
	c := signedIn(t, srv.URL, email)
	runner := d.Runner(t, testkit.Profile())
	scr := d.Begin(t, runner)
	intake := func(change func(map[string]any)) map[string]any {
		var p map[string]any
		j, _ := json.Marshal(testkit.Profile())
		_ = json.Unmarshal(j, &p)
		change(p)
		return map[string]any{"name": "X", "timezone": "UTC", "version": 0, "profile": p}
	}
	newRunner := "/api/runners/" + store.NewID()
	trials := "/api/runners/" + runner + "/screens/" + scr + "/trials/"
	knee := func(v any) map[string]any {
		return map[string]any{"measure": "ankle.knee_to_wall", "side": "left", "value": v}
	}
	for _, x := range []struct {
		name, path string
		body       any
		status     int
		want       []string
	}{
		{"letters", trials + store.NewID(), knee("seven"), 422, []string{"body.value", "expected number"}},
		{"−3", trials + store.NewID(), knee(-3), 422, []string{"value", "-3", "enter 0 to 30 cm"}},
		{"900 cm", trials + store.NewID(), knee(900), 422, []string{"900", "enter 0 to 30 cm"}},
		{"height over toe length", trials + store.NewID(), map[string]any{"measure": "toe.active_height", "side": "left", "value": 61}, 422,
			[]string{"61 mm", "big-toe length 60 mm"}},
		{"a count without its reason", trials + store.NewID(), map[string]any{"measure": "calf.raises_straight", "side": "left", "value": 9}, 422,
			[]string{"say why the count ended"}},
		{"born 1890", newRunner, intake(func(p map[string]any) { p["birthDate"] = "1890-01-01" }), 422,
			[]string{"profile.birthDate", "6 to 105 years"}},
		{"no such day", newRunner, intake(func(p map[string]any) { p["birthDate"] = "1990-02-31" }), 422,
			[]string{"profile.birthDate", "not a calendar day"}},
		{"mass −3", newRunner, intake(func(p map[string]any) { p["massKg"] = -3 }), 422, []string{"profile.massKg", "enter 20 to 250 kg"}},
		{"toe over foot", newRunner, intake(func(p map[string]any) { p["footMm"], p["bigToeMm"] = 140, 110; p["bigToeMm"] = 145 }), 422,
			[]string{"profile.bigToeMm"}},
		{"approach", newRunner, intake(func(p map[string]any) { p["approaches"] = map[string]string{"pain": "heroic"} }), 422,
			[]string{"approaches.pain"}},
		{"time zone", newRunner, map[string]any{"name": "X", "timezone": "Mars/Olympus", "version": 0, "profile": testkit.Profile()}, 422,
			[]string{"timezone", "Mars/Olympus"}},
		{"a broken id", "/api/runners/" + runner + "/screens/not-an-id", map[string]any{"kind": "full"}, 422, []string{"path.screen", "uuid"}},
		{"a run of 1890", "/api/runners/" + runner + "/runs/" + store.NewID(), map[string]any{"on": "1890-01-01", "minutes": 30}, 422,
			[]string{"on", "last year"}},
		{"pain 11", "/api/runners/" + runner + "/mornings/" + store.NewID(),
			map[string]any{"on": d.Now().UTC().Format(time.DateOnly), "region": "heel", "side": "left", "pain": 11}, 422,
			[]string{"pain", "0 to 10"}},
		{"2 MB", newRunner, strings.Repeat("x", 2<<20), 413, []string{"at most 256 KB"}},
		{"not JSON", newRunner, "{", 400, []string{"detail"}},
	} {
		status, text := c.do("PUT", x.path, x.body)
		assert.Equal(t, x.status, status, "%s: %s", x.name, text)
		for _, w := range x.want {
			assert.Contains(t, text, w, x.name)
		}
	}
	for range 6 {
		c.must("PUT", trials+store.NewID(), knee(9), nil)
	}
	status, text := c.do("PUT", trials+store.NewID(), knee(9))
	assert.Equal(t, 422, status)
	assert.Contains(t, text, "has 6 trials, the most it takes")
	status, text = c.do("PUT", "/api/house/ankle.knee_to_wall.ref", map[string]any{"value": 99})
	assert.Equal(t, 422, status)
	assert.Contains(t, text, "enter 4 to 16 cm")
}

func TestTwoCoachesEditingTheIntake(t *testing.T) {
	d, srv := server(t)
	c := signedIn(t, srv.URL, email)
	runner := d.Runner(t, testkit.Profile())
	edit := func(mass float64) (int, string) {
		p := testkit.Profile()
		p.MassKg = mass
		return c.do("PUT", "/api/runners/"+runner, map[string]any{"name": "R", "timezone": "UTC", "version": 1, "profile": p})
	}
	status, _ := edit(71)
	assert.Equal(t, 200, status)
	status, text := edit(72)
	assert.Equal(t, 409, status)
	assert.Contains(t, text, "Somebody changed this meanwhile")
}

func TestRosterSearchAndArchive(t *testing.T) {
	d, srv := server(t)
	c := signedIn(t, srv.URL, email)
	runner := d.Runner(t, testkit.Profile())
	var rows []room.RosterRow
	c.must("GET", "/api/runners?q=RUNNER", nil, &rows)
	assert.Len(t, rows, 1)
	c.must("GET", "/api/runners?q=nobody", nil, &rows)
	assert.Empty(t, rows)
	c.must("POST", "/api/runners/"+runner+"/archive", map[string]bool{"archived": true}, nil)
	c.must("GET", "/api/runners", nil, &rows)
	assert.Empty(t, rows)
	c.must("GET", "/api/runners?archived=true", nil, &rows)
	assert.Len(t, rows, 1)
	c.must("POST", "/api/runners/"+runner+"/archive", map[string]bool{"archived": false}, nil)
	c.must("GET", "/api/runners", nil, &rows)
	assert.Len(t, rows, 1)
}

// ready is a runner with a programme and a private link, and the phone that holds it.
func ready(t *testing.T, d *testkit.Desk, c *client) (runner, link string, phone *client) {
	runner = d.Runner(t, testkit.Profile())
	base := "/api/runners/" + runner
	scr := store.NewID()
	denied := []string{}
	for _, x := range refer.Signs {
		denied = append(denied, x.ID)
	}
	status, text := c.do("PUT", base+"/screens/"+scr, map[string]any{"kind": "full"})
	require.Equal(t, 422, status, "the warning signs come first")
	assert.Contains(t, text, "ask the warning signs first")
	c.must("PUT", base+"/checks/"+store.NewID(), map[string]any{"denied": denied, "source": "screen"}, nil)
	c.must("PUT", base+"/screens/"+scr, map[string]any{"kind": "full"}, nil)
	for _, side := range []string{"left", "right"} {
		for m, v := range testkit.Usual {
			b := map[string]any{"measure": m, "side": side, "value": v}
			if m == "calf.raises_straight" {
				b["stop"] = "height"
			}
			c.must("PUT", base+"/screens/"+scr+"/trials/"+store.NewID(), b, nil)
		}
	}
	c.must("POST", base+"/screens/"+scr+"/finish", nil, nil)
	c.must("PUT", base+"/programmes/"+store.NewID(), map[string]any{"choices": build.Choices{}.Normalise()}, nil)
	link = store.NewID()
	var l api.NewLink
	c.must("PUT", base+"/links/"+link, nil, &l)
	require.True(t, strings.HasPrefix(l.URL, "https://nb.test/phone#"))
	token := l.URL[strings.Index(l.URL, "#")+1:]
	assert.Len(t, token, 22, "128 bits")
	assert.Greater(t, len(l.QR), 20)
	phone = open(t, c.url)
	phone.head.Set("Authorization", "Bearer "+token)
	return runner, link, phone
}

func TestNothingAnswersWithNullLists(t *testing.T) {
	d, srv := server(t)
	c := signedIn(t, srv.URL, email)
	runner, _, phone := ready(t, d, c)
	empty := d.Runner(t, testkit.Profile())
	for _, r := range []string{runner, empty} {
		for _, p := range []string{"", "/screens", "/read", "/programme", "/adjust"} {
			_, text := c.do("GET", "/api/runners/"+r+p, nil)
			assert.NotContains(t, text, "null", p)
		}
	}
	for _, p := range []string{"/api/today", "/api/runners", "/api/reference", "/api/coaches"} {
		_, text := c.do("GET", p, nil)
		assert.NotContains(t, text, "null", p)
	}
	_, text := phone.do("GET", "/api/phone", nil)
	assert.NotContains(t, text, "null")
}

// The stand-in's readings stream until the shin is held still; the angle to keep is its known truth.
func TestTheInclinometerStreams(t *testing.T) {
	d := testkit.NewDesk(t, email)
	require.NoError(t, d.Store.In(context.Background(), d.Actor.Practice, func(tx *store.Tx) error {
		_, err := tx.SetPassword(context.Background(), d.Actor.Coach, account.Hash(password))
		return err
	}))
	quick := standin.Demo()
	srv := httptest.NewServer(api.New(d.Desk, api.Config{Inclinometer: atOnce{quick}}))
	defer srv.Close()
	c := signedIn(t, srv.URL, email)
	for side, truth := range map[string]float64{"left": quick.Left, "right": quick.Right} {
		a, err := c.http.Get(srv.URL + "/api/inclinometer?side=" + side)
		require.NoError(t, err)
		assert.Equal(t, "text/event-stream", a.Header.Get("Content-Type"))
		lines := bufio.NewScanner(a.Body)
		for lines.Scan() {
			data, is := strings.CutPrefix(lines.Text(), "data: ")
			if !is {
				continue
			}
			var angle api.Angle
			require.NoError(t, json.Unmarshal([]byte(data), &angle))
			if angle.Steady {
				assert.InDelta(t, truth, angle.Keep, 0.4)
				break
			}
		}
		require.NoError(t, lines.Err())
		a.Body.Close()
	}
	status, text := c.do("GET", "/api/inclinometer?side=both", nil)
	assert.Equal(t, 422, status, text)
	status, _ = open(t, srv.URL).do("GET", "/api/inclinometer?side=left", nil)
	assert.Equal(t, 401, status)
}

// atOnce plays four seconds of the stand-in at once and then holds the line: what was given must have
// reached the other end by then.
type atOnce struct{ standin.Inclinometer }

func (e atOnce) Stream(ctx context.Context, side body.Side, give func(float64) error) error {
	for n := range 40 {
		if err := give(e.At(side, time.Duration(n)*100*time.Millisecond)); err != nil {
			return err
		}
	}
	<-ctx.Done()
	return nil
}

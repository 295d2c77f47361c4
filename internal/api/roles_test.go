package api_test

import (
	"bytes"
	"encoding/json"
	"fmt"
	"log/slog"
	"net/http/httptest"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/pquerna/otp/totp"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"notchback/internal/api"
	"notchback/internal/store"
	"notchback/internal/testkit"
)

// second adds a colleague with a password and returns the id.
func second(t *testing.T, d *testkit.Desk, email string) (id string) {
	t.Helper()
	require.NoError(t, d.Store.In(ctx, d.Actor.Practice, func(tx *store.Tx) (err error) {
		id, err = tx.AddCoach(ctx, "Second Coach", email)
		return err
	}))
	give(t, d.Store, d.Actor.Practice, id)
	return id
}

// What only an owner may do is refused to a coach; the last owner stays; ended access ends at once, and the name stays.
func TestOwnersLetInAndEndAccess(t *testing.T) {
	d, srv := server(t)
	other := second(t, d, "second@test.example")
	owner, coach := signedIn(t, srv.URL, email), signedIn(t, srv.URL, "second@test.example")
	me := d.Actor.Coach
	for _, x := range [][3]string{{"POST", "/api/coaches", `{"name":"X","email":"x@test.example"}`}, {"POST",
		"/api/coaches/" + me + "/code", "{}"},
		{"PUT", "/api/coaches/" + other + "/role", `{"role":"owner"}`}, {"DELETE", "/api/coaches/" + me + "/access", "{}"},
		{"PUT", "/api/coaches/" + me + "/access", "{}"}, {"DELETE", "/api/coaches/" + me + "/second-factor", "{}"}, {"GET", "/api/audit", "{}"}} {
		status, body := coach.do(x[0], x[1], json.RawMessage(x[2]))
		assert.Equal(t, 403, status, "%v: %s", x, body)
		assert.Contains(t, body, "Ask one", x)
	}
	_, body := owner.do("DELETE", "/api/coaches/"+me+"/access", nil)
	assert.Contains(t, body, "is the last owner")
	_, body = owner.do("PUT", "/api/coaches/"+me+"/role", map[string]string{"role": "coach"})
	assert.Contains(t, body, "is the last owner")
	_, body = owner.do("POST", "/api/coaches/"+me+"/code", nil)
	assert.Contains(t, body, "made on the server", "no owner takes over another's account")
	_, body = owner.do("POST", "/api/coaches", map[string]string{"name": "X", "email": "X <x@test.example>"})
	assert.Contains(t, body, "write it like name@example.org")

	var code struct{ Code string }
	owner.must("POST", "/api/coaches/"+other+"/code", nil, &code)
	owner.must("DELETE", "/api/coaches/"+other+"/access", nil, nil)
	status, _ := coach.do("GET", "/api/me", nil)
	assert.Equal(t, 401, status, "at once")
	status, _ = open(t, srv.URL).do("POST", "/api/session", map[string]string{"email": "second@test.example", "password": password})
	assert.Equal(t, 401, status)
	status, _ = open(t, srv.URL).do("POST", "/api/redeem", map[string]string{"email": "second@test.example", "code": code.Code,
		"password": password})
	assert.Equal(t, 422, status, "a code handed out before is void")
	var all []store.Coach
	owner.must("GET", "/api/coaches", nil, &all)
	require.Len(t, all, 2)
	assert.True(t, all[1].Ended)
	assert.Equal(t, "Second Coach", all[1].Name)
	owner.must("PUT", "/api/coaches/"+other+"/access", nil, nil)
	owner.must("PUT", "/api/coaches/"+other+"/role", map[string]string{"role": "owner"}, nil)
	signedIn(t, srv.URL, "second@test.example").must("DELETE", "/api/coaches/"+me+"/access", nil, nil)
	status, _ = owner.do("GET", "/api/me", nil)
	assert.Equal(t, 401, status, "with two owners the first may leave")
}

// Two owners end each other's access at the same moment: one of them stays, every time.
func TestTheLastOwnerStaysAmongTwoAtOnce(t *testing.T) {
	d, srv := server(t)
	for i := range 5 {
		mail := fmt.Sprintf("owner%d@test.example", i)
		other := second(t, d, mail)
		a := signedIn(t, srv.URL, email)
		a.must("PUT", "/api/coaches/"+other+"/role", map[string]string{"role": "owner"}, nil)
		b := signedIn(t, srv.URL, mail)
		var both sync.WaitGroup
		both.Go(func() { a.do("DELETE", "/api/coaches/"+other+"/access", nil) })
		both.Go(func() { b.do("DELETE", "/api/coaches/"+d.Actor.Coach+"/access", nil) })
		both.Wait()
		var owners int
		require.NoError(t, testkit.Admin(t, testkit.LastDatabase()).QueryRow(ctx,
			`SELECT count(*) FROM coaches WHERE role = 'owner' AND ended_at IS NULL`).Scan(&owners))
		require.Equal(t, 1, owners)
		require.NoError(t, d.Store.In(ctx, d.Actor.Practice, func(tx *store.Tx) error {
			if err := tx.SetAccess(ctx, d.Actor.Coach, true); err != nil {
				return err
			}
			return tx.SetAccess(ctx, other, false)
		}))
	}
}

// The second factor by RFC 6238: asked for at sign-in and with a one-time code, a number once, a recovery code once.
func TestTheSecondFactor(t *testing.T) {
	d := testkit.NewDesk(t, email)
	give(t, d.Store, d.Actor.Practice, d.Actor.Coach)
	now := time.Unix(1_780_000_020, 0)
	srv := httptest.NewServer(api.New(d.Desk, api.Config{Clock: func() time.Time { return now }}))
	t.Cleanup(srv.Close)
	c := signedIn(t, srv.URL, email)
	var handed struct{ Secret, Address string }
	c.must("POST", "/api/me/second-factor/secret", nil, &handed)
	assert.Contains(t, handed.Address, "otpauth://totp/")
	number := func() string { n, err := totp.GenerateCode(handed.Secret, now); require.NoError(t, err); return n }
	set := map[string]string{"secret": handed.Secret, "number": "000000", "password": password}
	_, body := c.do("PUT", "/api/me/second-factor", set)
	assert.Contains(t, body, "does not fit")
	set["number"] = number()
	var codes struct{ Recovery []string }
	c.must("PUT", "/api/me/second-factor", set, &codes)
	require.Len(t, codes.Recovery, 10)

	in := func(number string) (int, string) {
		return open(t, srv.URL).do("POST", "/api/session", map[string]string{"email": email, "password": password, "number": number})
	}
	status, body := in("")
	assert.Equal(t, 401, status)
	assert.Contains(t, body, `"location":"number"`)
	status, _ = in(number())
	assert.Equal(t, 401, status, "the number that set it up is spent")
	now = now.Add(30 * time.Second)
	status, _ = in(number())
	assert.Equal(t, 200, status)
	status, _ = in(number())
	assert.Equal(t, 401, status, "once")
	status, _ = in(strings.ToLower(codes.Recovery[3]))
	assert.Equal(t, 200, status)
	status, _ = in(codes.Recovery[3])
	assert.Equal(t, 401, status, "once")
	_, wrong := open(t, srv.URL).do("POST", "/api/session", map[string]string{"email": email, "password": "not it", "number": number()})
	assert.NotContains(t, wrong, "number", "who does not know the password is not told of it")

	_, body = c.do("POST", "/api/me/second-factor/end", map[string]string{"password": "not it"})
	assert.Contains(t, body, "is not your present password")
	c.must("POST", "/api/me/second-factor/end", map[string]string{"password": password}, nil)
	status, _ = in("")
	assert.Equal(t, 200, status)
}

// Failures are counted, successes are not; another address does not shut out the one the coach comes from.
func TestOnlyFailuresCount(t *testing.T) {
	_, srv := server(t)
	for range 25 {
		signedIn(t, srv.URL, email)
	}
	d := testkit.NewDesk(t, email)
	most := store.Limits{Window: 15 * time.Minute, Pair: 10, Address: 60, Account: 100}
	try := func(address string) bool {
		ok, err := d.Store.Try(ctx, email, address, most)
		require.NoError(t, err)
		return ok
	}
	require.True(t, try("own"))
	require.NoError(t, d.Store.LetIn(ctx, email, "own"))
	failed := 0
	for i := range 30 { // guesses at one account from thirty addresses
		for range 10 {
			if try(fmt.Sprint("far", i)) {
				failed++
			}
		}
	}
	assert.Equal(t, 100, failed, "an account is guessed at no more often from everywhere")
	assert.False(t, try("new"))
	assert.True(t, try("own"), "from where the coach came in before, the account stays open")
	for i := range 70 { // guesses at many accounts from one address
		_, err := d.Store.Try(ctx, fmt.Sprintf("a%d@test.example", i), "one", most)
		require.NoError(t, err)
	}
	ok, err := d.Store.Try(ctx, "z@test.example", "one", most)
	require.NoError(t, err)
	assert.False(t, ok)
}

func TestSessionsAreListedAndEndedOneByOne(t *testing.T) {
	_, srv := server(t)
	here, there := signedIn(t, srv.URL, email), signedIn(t, srv.URL, email)
	var list []store.Session
	here.must("GET", "/api/sessions", nil, &list)
	require.Len(t, list, 2)
	for _, s := range list {
		if !s.Here {
			here.must("DELETE", "/api/sessions/"+s.ID, nil, nil)
		}
	}
	status, _ := there.do("GET", "/api/me", nil)
	assert.Equal(t, 401, status)
	here.must("GET", "/api/sessions", nil, &list)
	require.Len(t, list, 1)
	assert.True(t, list[0].Here)
}

// Who looked, changed and exported stands in order, by runner; a look is noted once an hour; nothing is taken back.
func TestWhoDidWhat(t *testing.T) {
	d, srv := server(t)
	runner, other := d.Runner(t, testkit.Profile()), d.Runner(t, testkit.Profile())
	c := signedIn(t, srv.URL, email)
	for range 3 {
		c.must("GET", "/api/runners/"+runner+"/read", nil, nil)
	}
	c.must("GET", "/api/runners/"+other, nil, nil)
	c.must("GET", "/api/runners/"+runner+"/doses.csv", nil, nil)
	c.do("PUT", "/api/runners/"+runner+"/runs/"+store.NewID(), map[string]any{"on": "not a day", "minutes": 30, "km": 5})
	c.must("PUT", "/api/runners/"+runner+"/runs/"+store.NewID(), map[string]any{"on": time.Now().UTC().Format(time.DateOnly),
		"minutes": 30, "km": 5}, nil)
	var deeds []store.Deed
	c.must("GET", "/api/audit?runner="+runner, nil, &deeds)
	var did []string
	for _, x := range deeds {
		did = append(did, x.Did)
		assert.Equal(t, "Test Coach", x.Coach)
	}
	assert.Equal(t, []string{"Entered a run", "Took the doses as a table", "Looked at the record"}, did)
	for _, sql := range []string{`DELETE FROM audit`, `UPDATE audit SET did = 'x'`} {
		err := d.Store.In(ctx, d.Actor.Practice, func(tx *store.Tx) error { _, err := tx.Exec(ctx, sql); return err })
		assert.ErrorContains(t, err, "permission denied", sql)
	}
}

// Each request has a line with its id, the route's pattern, the status and the coach's id: no address, no name, no body.
func TestTheLogNamesNobody(t *testing.T) {
	d := testkit.NewDesk(t, email)
	give(t, d.Store, d.Actor.Practice, d.Actor.Coach)
	runner := d.Runner(t, testkit.Profile())
	var mu sync.Mutex
	var out bytes.Buffer
	log := slog.New(slog.NewJSONHandler(&locked{&mu, &out}, nil))
	srv := httptest.NewServer(api.New(d.Desk, api.Config{Log: log}))
	t.Cleanup(srv.Close)
	c := signedIn(t, srv.URL, email)
	c.must("GET", "/api/runners/"+runner, nil, nil)
	c.do("POST", "/api/session", map[string]string{"email": "stranger@test.example", "password": "a secret word"})
	c.do("GET", "/api/runners/"+runner+"/nowhere?name=Heron", nil)
	srv.Close()
	mu.Lock()
	defer mu.Unlock()
	text := out.String()
	for _, secret := range []string{email, "stranger", "secret word", runner, "Heron", "Test Coach", "127.0.0.1"} {
		assert.NotContains(t, text, secret)
	}
	lines := strings.Split(strings.TrimSpace(text), "\n")
	require.Len(t, lines, 4)
	var line struct {
		ID, Route, Coach string
		Status           int
		MS               float64
	}
	require.NoError(t, json.Unmarshal([]byte(lines[1]), &line))
	assert.Equal(t, "/api/runners/:runner", line.Route)
	assert.Equal(t, 200, line.Status)
	assert.Equal(t, d.Actor.Coach, line.Coach)
	assert.NotEmpty(t, line.ID)
}

type locked struct {
	mu  *sync.Mutex
	out *bytes.Buffer
}

func (l *locked) Write(b []byte) (int, error) {
	l.mu.Lock()
	defer l.mu.Unlock()
	return l.out.Write(b)
}

package api_test

import (
	"context"
	"fmt"
	"net/http"
	"net/http/httptest"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"notchback/internal/api"
	"notchback/internal/testkit"
)

// A session in use stays; three days in which nothing was asked end it. That it is in use is written once an hour.
func TestAnIdleSessionEnds(t *testing.T) {
	d := testkit.NewDesk(t, email)
	give(t, d.Store, d.Actor.Practice, d.Actor.Coach)
	now := time.Now()
	srv := httptest.NewServer(api.New(d.Desk, api.Config{Clock: func() time.Time { return now }}))
	t.Cleanup(srv.Close)
	c := signedIn(t, srv.URL, email)
	admin := testkit.Admin(t, testkit.LastDatabase())
	written := func() (version string) {
		require.NoError(t, admin.QueryRow(context.Background(), `SELECT string_agg(xmin::text, ' ') FROM web_sessions`).Scan(&version))
		return version
	}
	first := written()
	for range 3 {
		now = now.Add(19 * time.Minute)
		c.must("GET", "/api/me", nil, nil)
	}
	assert.Equal(t, first, written(), "three requests within the hour write nothing")
	for range 4 {
		now = now.Add(70 * time.Hour)
		c.must("GET", "/api/me", nil, nil)
	}
	assert.NotEqual(t, first, written())
	now = now.Add(73 * time.Hour)
	status, body := c.do("GET", "/api/me", nil)
	assert.Equal(t, 401, status, body)
	assert.Contains(t, body, "Sign in again")
}

func TestSignIn(t *testing.T) {
	_, srv := server(t)
	c := open(t, srv.URL)
	status, body := c.do("GET", "/api/today", nil)
	assert.Equal(t, 401, status)
	assert.Contains(t, body, "Sign in first")
	status, wrong := c.do("POST", "/api/session", map[string]string{"email": email, "password": "wrong"})
	assert.Equal(t, 401, status)
	status, unknown := c.do("POST", "/api/session", map[string]string{"email": "nobody@test.example", "password": "wrong"})
	assert.Equal(t, 401, status)
	assert.Equal(t, wrong, unknown, "the answer does not tell whether the address exists")

	req, _ := http.NewRequest("POST", srv.URL+"/api/session", strings.NewReader(fmt.Sprintf(`{"email":%q,"password":%q}`,
		strings.ToUpper(email), password)))
	req.Header.Set("Content-Type", "application/json")
	a, err := http.DefaultClient.Do(req)
	require.NoError(t, err)
	a.Body.Close()
	require.Len(t, a.Cookies(), 1)
	k := a.Cookies()[0]
	assert.True(t, k.HttpOnly)
	assert.Equal(t, http.SameSiteLaxMode, k.SameSite)
}

func TestSignInIsRateLimited(t *testing.T) {
	_, srv := server(t)
	c := open(t, srv.URL)
	for i := range 10 {
		status, _ := c.do("POST", "/api/session", map[string]string{"email": email, "password": fmt.Sprint("guess", i)})
		require.Equal(t, 401, status)
	}
	status, body := c.do("POST", "/api/session", map[string]string{"email": email, "password": password})
	assert.Equal(t, 429, status, "even the right password waits")
	assert.Contains(t, body, "Wait a quarter of an hour")
}

func TestSignOutEverywhereEndsEverySession(t *testing.T) {
	_, srv := server(t)
	here, there := signedIn(t, srv.URL, email), signedIn(t, srv.URL, email)
	there.must("GET", "/api/me", nil, nil)
	here.must("DELETE", "/api/sessions", nil, nil)
	for _, c := range []*client{here, there} {
		status, _ := c.do("GET", "/api/me", nil)
		assert.Equal(t, 401, status)
	}
}

func TestPasswordChangeKeepsThisSessionAndEndsTheOthers(t *testing.T) {
	_, srv := server(t)
	here, there := signedIn(t, srv.URL, email), signedIn(t, srv.URL, email)
	status, body := here.do("POST", "/api/password", map[string]string{"old": "not it", "new": "another long password"})
	assert.Equal(t, 422, status)
	assert.Contains(t, body, "is not your present password")
	_, body = here.do("POST", "/api/password", map[string]string{"old": password, "new": "short"})
	assert.Contains(t, body, "has 5 letters; use 10 to 200")
	here.must("POST", "/api/password", map[string]string{"old": password, "new": "another long password"}, nil)
	here.must("GET", "/api/me", nil, nil)
	status, _ = there.do("GET", "/api/me", nil)
	assert.Equal(t, 401, status)
}

func TestInviteAndRecoverWithAOneTimeCode(t *testing.T) {
	_, srv := server(t)
	c := signedIn(t, srv.URL, email)
	var code struct{ Code string }
	c.must("POST", "/api/coaches", map[string]string{"name": "Second", "email": "second@test.example"}, &code)
	_, body := c.do("POST", "/api/coaches", map[string]string{"name": "Second", "email": "second@test.example"})
	assert.Contains(t, body, "already belongs to a coach")

	n := open(t, srv.URL)
	redeem := map[string]string{"email": "second@test.example", "code": strings.ToLower(code.Code), "password": password}
	n.must("POST", "/api/redeem", redeem, nil)
	n.must("GET", "/api/me", nil, nil)
	status, body := open(t, srv.URL).do("POST", "/api/redeem", redeem)
	assert.Equal(t, 422, status, "a code works once")
	assert.Contains(t, body, "ask for a new one")
	status, _ = open(t, srv.URL).do("POST", "/api/redeem", map[string]string{"email": email, "code": code.Code, "password": password})
	assert.Equal(t, 422, status, "nor for somebody else")
}

package api_test

import (
	"io"
	"net/http"
	"net/http/httptest"
	"strings"
	"testing"
	"testing/fstest"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"notchback/internal/api"
	"notchback/internal/testkit"
)

func get(t *testing.T, url string, head map[string]string) (*http.Response, string) {
	t.Helper()
	req, err := http.NewRequest("GET", url, nil)
	require.NoError(t, err)
	for k, v := range head {
		req.Header.Set(k, v)
	}
	a, err := http.DefaultTransport.RoundTrip(req)
	require.NoError(t, err)
	defer a.Body.Close()
	b, _ := io.ReadAll(a.Body)
	return a, string(b)
}

func TestPagesAreServed(t *testing.T) {
	d := testkit.NewDesk(t, email)
	pages := fstest.MapFS{
		"index.html":            {Data: []byte("<title>Notchback</title>")},
		"phone.html":            {Data: []byte("<title>Your training · Notchback</title>")},
		"assets/app-1.js":       {Data: []byte(strings.Repeat("let a = 1;", 200))},
		"assets/font-1.woff2":   {Data: []byte("font")},
		"phone-worker.js":       {Data: []byte("worker")},
		"notchback.webmanifest": {Data: []byte("{}")},
	}
	srv := httptest.NewServer(api.New(d.Desk, api.Config{Web: pages, Secure: true}))
	defer srv.Close()
	for _, path := range []string{"/", "/runners/x/adjust", "/phone", "/phone/intake", "/phones", "/index.html", "/../../etc/passwd"} {
		a, body := get(t, srv.URL+path, nil)
		assert.Equal(t, 200, a.StatusCode, path)
		assert.Contains(t, body, "Notchback", path)
		runners := path == "/phone" || path == "/phone/intake"
		assert.Equal(t, runners, strings.Contains(body, "Your training"), path)
		assert.Equal(t, "no-cache", a.Header.Get("Cache-Control"))
		assert.NotEmpty(t, a.Header.Get("Strict-Transport-Security"), "served over HTTPS")
	}
	a, body := get(t, srv.URL+"/assets/app-1.js", map[string]string{"Accept-Encoding": "gzip"})
	assert.Equal(t, "gzip", a.Header.Get("Content-Encoding"))
	assert.Less(t, len(body), 200, "2000 letters, compressed")
	assert.Contains(t, a.Header.Get("Cache-Control"), "immutable")
	assert.Contains(t, a.Header.Get("Content-Type"), "javascript")
	a, body = get(t, srv.URL+"/assets/app-1.js", map[string]string{"Accept-Encoding": "identity"})
	assert.Empty(t, a.Header.Get("Content-Encoding"))
	assert.Len(t, body, 2000)
	a, _ = get(t, srv.URL+"/notchback.webmanifest", nil)
	assert.Equal(t, "application/manifest+json", a.Header.Get("Content-Type"))
	a, _ = get(t, srv.URL+"/phone-worker.js", nil)
	assert.Equal(t, "no-cache", a.Header.Get("Cache-Control"), "a new worker is seen at once")
	a, body = get(t, srv.URL+"/api/nowhere", nil)
	assert.Equal(t, 404, a.StatusCode)
	assert.Equal(t, "application/problem+json", a.Header.Get("Content-Type"))
	assert.Contains(t, body, "There is no such address.")
}

func TestWithoutBuiltPagesTheServerSaysSo(t *testing.T) {
	d := testkit.NewDesk(t, email)
	srv := httptest.NewServer(api.New(d.Desk, api.Config{Web: fstest.MapFS{}}))
	defer srv.Close()
	a, body := get(t, srv.URL+"/", nil)
	assert.Equal(t, 503, a.StatusCode)
	assert.Contains(t, body, "Run ./notchback demo")
}

func TestHealthAndReadiness(t *testing.T) {
	d, srv := server(t)
	for _, p := range []string{"/healthz", "/readyz"} {
		a, body := get(t, srv.URL+p, nil)
		assert.Equal(t, 200, a.StatusCode)
		assert.Equal(t, "ok", body)
	}
	d.Store.Close()
	a, _ := get(t, srv.URL+"/healthz", nil)
	assert.Equal(t, 200, a.StatusCode, "the process lives")
	a, body := get(t, srv.URL+"/readyz", nil)
	assert.Equal(t, 503, a.StatusCode)
	assert.Contains(t, body, "The database does not answer.")
}

func TestTheDocumentIsServed(t *testing.T) {
	_, srv := server(t)
	a, body := get(t, srv.URL+"/api/openapi.json", nil)
	assert.Equal(t, 200, a.StatusCode)
	made, err := api.OpenAPI()
	require.NoError(t, err)
	assert.JSONEq(t, string(made), body)
	for _, op := range []string{"save-intake", "add-trial", "decide", "phone-log", "change-rule"} {
		assert.Contains(t, body, `"`+op+`"`)
	}
}

// One address guessing at many accounts is slowed too; behind a trusted proxy the caller's own
// address counts, and nobody else may claim one.
func TestAnAddressIsLimitedAcrossAccounts(t *testing.T) {
	d := testkit.NewDesk(t, email)
	for _, c := range []struct {
		proxy string
		last  int
	}{{"", 429}, {"127.0.0.1", 401}} {
		srv := httptest.NewServer(api.New(d.Desk, api.Config{TrustedProxy: c.proxy}))
		status := 0
		for i := range 61 {
			cl := open(t, srv.URL)
			cl.head.Set("X-Forwarded-For", "10.0.0."+string(rune('0'+i%10)))
			status, _ = cl.do("POST", "/api/redeem", map[string]string{"email": strings.Repeat("x", i+1) + "@test.example", "code": "A",
				"password": "short"})
			if status == 429 {
				break
			}
		}
		if c.last == 429 {
			assert.Equal(t, 429, status)
		} else {
			assert.Equal(t, 422, status, "ten callers behind one proxy are ten")
		}
		srv.Close()
	}
}

package api_test

import (
	"compress/gzip"
	"io"
	"net/http"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// A browser that holds the lists is told so, until a rule of its practice changes; another practice's rules are not in them.
func TestTheReferenceIsSentOnce(t *testing.T) {
	d, srv := server(t)
	c := signedIn(t, srv.URL, email)
	get := func(c *client, etag, encoding string) (*http.Response, string) {
		r, err := http.NewRequest("GET", srv.URL+"/api/reference", nil)
		require.NoError(t, err)
		r.Header.Set("If-None-Match", etag)
		r.Header.Set("Accept-Encoding", encoding)
		a, err := c.http.Do(r)
		require.NoError(t, err)
		defer a.Body.Close()
		from := io.Reader(a.Body)
		if a.Header.Get("Content-Encoding") == "gzip" {
			from, err = gzip.NewReader(a.Body)
			require.NoError(t, err)
		}
		text, err := io.ReadAll(from)
		require.NoError(t, err)
		return a, string(text)
	}
	plain, text := get(c, "", "identity")
	assert.Equal(t, 200, plain.StatusCode)
	assert.Empty(t, plain.Header.Get("Content-Encoding"))
	assert.Contains(t, text, `"key":"ankle.knee_to_wall.ref"`)
	assert.Equal(t, "private, no-cache", plain.Header.Get("Cache-Control"))
	etag := plain.Header.Get("ETag")

	small, same := get(c, "", "gzip")
	assert.Equal(t, "gzip", small.Header.Get("Content-Encoding"))
	assert.Equal(t, text, same)
	assert.Equal(t, etag, small.Header.Get("ETag"))

	held, nothing := get(c, etag, "gzip")
	assert.Equal(t, 304, held.StatusCode)
	assert.Empty(t, nothing)

	c.must("PUT", "/api/house/ankle.knee_to_wall.ref", map[string]any{"value": 8.25}, nil)
	changed, text := get(c, etag, "gzip")
	assert.Equal(t, 200, changed.StatusCode)
	assert.Contains(t, text, `8.25`)

	other, coach, err := d.Store.CreatePractice(ctx, "Other", "Other", "other@test.example")
	require.NoError(t, err)
	give(t, d.Store, other, coach)
	theirs, text := get(signedIn(t, srv.URL, "other@test.example"), changed.Header.Get("ETag"), "gzip")
	assert.Equal(t, 200, theirs.StatusCode)
	assert.NotContains(t, text, `8.25`)
}

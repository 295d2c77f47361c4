package api

import (
	"strings"
	"testing"

	"github.com/danielgtaylor/huma/v2"
	"github.com/gin-gonic/gin"
	"github.com/stretchr/testify/assert"
)

// A deadline for reading a body stays on the connection, and once it has passed ends the work that is still going on: no
// request has one of its own, so that a slow database makes a slow answer, not a refusal.
func TestNoRequestIsCutShort(t *testing.T) {
	s := assemble(nil, Config{})
	s.routes(gin.New())
	bodies := 0
	for path, item := range s.huma.OpenAPI().Paths {
		for _, op := range []*huma.Operation{item.Get, item.Put, item.Post, item.Delete} {
			if op != nil && op.RequestBody != nil {
				bodies++
				assert.Negative(t, op.BodyReadTimeout, path)
			}
		}
	}
	assert.Greater(t, bodies, 30)
}

// What no record can hold is refused with the field it stands in; a phone's half letter goes through.
func TestUnreadableBodiesNameTheField(t *testing.T) {
	for body, want := range map[string]string{
		`{"name":"a\u0000b"}`:                   "body.name: holds a zero byte",
		`{"runs":[{"on":"x"},{"on":"\ud800"}]}`: "body.runs[1].on: holds half a letter",
		`{"a":"\udc00\ud83d"}`:                  "body.a: holds half a letter",
		`{"a":{"km":1e400}}`:                    "body.a.km: is beyond what a number may be",
		`{"a":`:                                 "is no JSON",
		strings.Repeat("[", 3000):               "is nested too deep",
		"\"\xff\"":                              "is not UTF-8",
	} {
		assert.ErrorContains(t, readableBody([]byte(body), false), want, body)
	}
	for _, body := range []string{``, `{}`, `{"a":"🦶 \ud83e\uddb6 \\ud800"}`, `[1,-2.5e3,null,true,"x"]`} {
		assert.NoError(t, readableBody([]byte(body), false), body)
	}
	assert.NoError(t, readableBody([]byte(`{"note":"cut \ud83e"}`), true))
	assert.Error(t, readableBody([]byte(`{"note":"\u0000"}`), true))
}

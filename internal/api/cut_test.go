package api

import (
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

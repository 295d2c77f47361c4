package api

import (
	"context"
	"crypto/rand"
	"encoding/hex"
	"net/http"
	"runtime/debug"
	"time"

	"github.com/gin-gonic/gin"
)

// asked is what is known of one request, for its line in the log.
type asked struct {
	id, route, coach string
	base             string // address that the server was reached at
}

type askedKey struct{}

// askedIn is the request that a context belongs to.
func askedIn(ctx context.Context) *asked {
	if a, is := ctx.Value(askedKey{}).(*asked); is {
		return a
	}
	return &asked{}
}

// answered records the status that is sent.
type answered struct {
	http.ResponseWriter
	status int
}

func (w *answered) WriteHeader(status int) {
	if w.status == 0 && status >= 200 {
		w.status = status
	}
	w.ResponseWriter.WriteHeader(status)
}

func (w *answered) Write(b []byte) (int, error) {
	if w.status == 0 {
		w.status = http.StatusOK
	}
	return w.ResponseWriter.Write(b)
}

func (w *answered) Flush() { _ = http.NewResponseController(w.ResponseWriter).Flush() }

func (w *answered) Unwrap() http.ResponseWriter { return w.ResponseWriter }

// logged writes a line for each request: its id, the route's pattern, the status, the time it took, and the coach's id.
// Addresses that were asked for hold ids of runners, and bodies hold what people wrote: neither is logged.
func (s *server) logged(next http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		id := make([]byte, 8)
		_, _ = rand.Read(id)
		a := &asked{id: hex.EncodeToString(id), base: "http://" + r.Host}
		if s.cfg.Secure {
			a.base = "https://" + r.Host
		}
		out := &answered{ResponseWriter: w}
		out.Header().Set("X-Request-Id", a.id)
		began := time.Now()
		next.ServeHTTP(out, r.WithContext(context.WithValue(r.Context(), askedKey{}, a)))
		took := time.Since(began)
		if out.status == 0 {
			out.status = http.StatusOK // an answer without a body
		}
		route, method := a.route, r.Method
		if route == "" {
			route = "other" // a page, a file, or no address of ours
		}
		if !known[method] {
			method = "other"
		}
		s.cfg.Metrics.Request(method, route, out.status, took)
		s.cfg.Log.Info("request", "id", a.id, "method", method, "route", route, "status", out.status, "ms", float64(took.Microseconds())/1000,
			"coach", a.coach)
	})
}

// known are the methods that are named; anybody may send any word.
var known = map[string]bool{"GET": true, "HEAD": true, "POST": true, "PUT": true, "DELETE": true, "OPTIONS": true, "PATCH": true}

// routed tells the log which route it was.
func routed(c *gin.Context) {
	askedIn(c.Request.Context()).route = c.FullPath()
	c.Next()
}

// recover answers a request that broke, and logs where.
func (s *server) recover(c *gin.Context) {
	defer func() {
		if r := recover(); r != nil {
			a := askedIn(c.Request.Context())
			s.cfg.Log.Error("panic", "id", a.id, "route", c.FullPath(), "stack", string(debug.Stack()))
			problem(c.Writer, http.StatusInternalServerError, "Something broke on our side. What you typed is still on your screen; try again.")
			c.Abort()
		}
	}()
	c.Next()
}

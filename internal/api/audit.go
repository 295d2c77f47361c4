package api

import (
	"context"
	"net/http"
	"strings"
	"time"

	"github.com/danielgtaylor/huma/v2"
	lru "github.com/hashicorp/golang-lru/v2"

	"notchback/internal/store"
)

// exports are the questions whose answer leaves the application.
var exports = map[string]bool{"hand-out-pdf": true, "doses": true, "calendar": true, "hand-out": true}

const lookedAt = "looked-at"

// looks are who looked at whom in which hour: a runner's pages ask again every few seconds, one line an hour tells as much.
type looks struct{ seen *lru.Cache[string, bool] }

func newLooks() looks {
	seen, err := lru.New[string, bool](4096)
	if err != nil {
		panic(err) // only a size below one
	}
	return looks{seen}
}

// note adds what was done to who did what, once it has succeeded. coach is empty for a runner's phone.
func (s *server) note(ctx huma.Context, practice, coach string) {
	op, runner := ctx.Operation(), ctx.Param("runner")
	if status := ctx.Status(); status >= 300 && status != http.StatusNotModified {
		return
	}
	did := op.OperationID
	if coach == "" {
		_, runner = owner(ctx.Context())
	}
	switch {
	case ctx.Method() == http.MethodGet && exports[did]:
	case ctx.Method() == http.MethodGet && runner != "" && coach != "":
		did = lookedAt
		key := coach + runner + s.cfg.Clock().UTC().Format("2006-01-02T15")
		if again, _ := s.looks.seen.ContainsOrAdd(key, true); again {
			return
		}
	case ctx.Method() == http.MethodGet, silent[did]:
		return
	}
	// The deed is done and stands; that it is noted does not hang on whoever asked still listening.
	c, cancel := context.WithTimeout(context.WithoutCancel(ctx.Context()), 5*time.Second)
	defer cancel()
	if err := s.desk.Store.In(c, practice, func(tx *store.Tx) error { return tx.Note(c, coach, runner, did) }); err != nil {
		s.cfg.Log.Error("audit", "id", askedIn(c).id, "did", did, "err", err)
	}
}

// silent are questions that change nothing, though they are sent with a body.
var silent = map[string]bool{"draft": true, "compare-clips": true, "compare-drafts": true, "rule-effect": true, "approach-effect": true,
	"read-clip":         true,
	"propose-marks":     true,
	"new-second-factor": true}

// words are what a deed is called, in words.
func (s *server) words(did string) string {
	if did == lookedAt {
		return "Looked at the runner's record"
	}
	if w, is := s.summaries[did]; is {
		return w
	}
	return strings.ReplaceAll(did, "-", " ")
}

// summarize gathers what every operation is called.
func (s *server) summarize() {
	s.summaries = map[string]string{"sign-in": "Signed in"}
	for _, path := range s.huma.OpenAPI().Paths {
		for _, op := range []*huma.Operation{path.Get, path.Put, path.Post, path.Delete} {
			if op != nil && s.summaries[op.OperationID] == "" {
				s.summaries[op.OperationID] = op.Summary
			}
		}
	}
}

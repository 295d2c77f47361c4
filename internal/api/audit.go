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
	"read-file":         true,
	"propose-marks":     true,
	"new-second-factor": true}

// words are what a deed is called, as an owner reads it; one without words here is called what it is in the API's document.
func (s *server) words(did string) string {
	if w, is := deeds[did]; is {
		return w
	}
	if w, is := s.summaries[did]; is {
		return w
	}
	return strings.ReplaceAll(did, "-", " ")
}

var deeds = map[string]string{
	lookedAt: "Looked at the record", "sign-in": "Signed in", "sign-out": "Signed out", "sign-out-everywhere": "Signed out everywhere",
	"end-session": "Ended one of their sessions", "redeem-code": "Set a password with a one-time code",
	"change-password":   "Changed their password",
	"set-second-factor": "Set up a second factor", "end-second-factor": "Ended their second factor", "set-units": "Chose their units",
	"invite-coach": "Let a colleague in", "colleague-code": "Made a one-time code", "set-role": "Changed a colleague's role",
	"end-access": "Ended a colleague's access", "let-in-again": "Let a colleague in again",
	"end-colleagues-factor": "Ended a colleague's second factor", "change-rule": "Changed a house rule",
	"change-approach": "Changed the practice's approach", "change-core": "Changed the core screen", "change-plates": "Changed the plates",
	"keep-rail": "Changed a rail", "take-back-rail": "Put a shipped rail in force again", "save-intake": "Saved the intake",
	"archive": "Archived, or brought back", "answer-signs": "Asked the warning signs", "add-stop": "Recorded a warning sign",
	"clear-stop": "Recorded a clearance", "set-limit": "Recorded what is opened", "tell-heel": "Said which heel",
	"take-form": "Took the form over",
	"make-link": "Made a private link", "revoke-link": "Ended a private link", "start-screen": "Started a screen",
	"finish-screen": "Finished a screen", "add-trial": "Entered a trial", "remove-trial": "Took a trial out",
	"restore-trial": "Put a trial back",
	"keep-clip":     "Kept a clip's marks", "remove-clip": "Took a clip out", "restore-clip": "Put a clip back",
	"keep-still": "Kept a picture",
	"drop-still": "Deleted a picture", "build": "Built the programme", "change-week": "Moved a session", "decide": "Decided a proposal",
	"decide-all": "Accepted proposals", "raise-usual": "Set a usual morning", "coach-log": "Entered a session",
	"coach-morning": "Entered a morning",
	"coach-run":     "Entered a run", "phone-log": "Reported a session", "phone-morning": "Reported a morning", "phone-run": "Reported a run",
	"phone-sign": "Reported a warning sign", "phone-healed": "Said that it is over", "phone-fill-in": "Filled in the form",
	"confirm-import": "Imported runs", "undo-import": "Undid an import of runs",
	"cancel-import": "Put an import away",
	"open-link":     "Opened the private link on a device", "phone-code": "Made a short code on the phone",
	"link-code": "Made a short code for the private link", "end-device": "Ended a device of the private link",
	"phone-units": "Chose the phone's units", "hand-out": "Opened the hand-out", "hand-out-pdf": "Took the hand-out as PDF",
	"doses": "Took the doses as a table", "calendar": "Took the calendar file",
}

// summarize gathers what every operation is called in the API's document.
func (s *server) summarize() {
	s.summaries = map[string]string{}
	for _, path := range s.huma.OpenAPI().Paths {
		for _, op := range []*huma.Operation{path.Get, path.Put, path.Post, path.Delete} {
			if op != nil {
				s.summaries[op.OperationID] = op.Summary
			}
		}
	}
}

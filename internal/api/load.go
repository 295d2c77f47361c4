package api

import (
	"context"
	"encoding/json"
	"errors"
	"io"
	"net/http"
	"os"
	"regexp"
	"slices"
	"time"

	"github.com/danielgtaylor/huma/v2"

	"notchback/internal/core/body"
	"notchback/internal/core/load"
	"notchback/internal/device"
	"notchback/internal/room"
)

// mostUpload is the largest file of runs that is taken, a package of thousands of them too; it has its own time as well.
const (
	mostUpload     = 256 << 20
	uploadPatience = 2 * time.Minute
	tooLarge       = "The file is too large: at most 256 MB. Send it in parts."
)

// uploads are the requests whose body is a file of its own kind, read as it comes.
var uploads = regexp.MustCompile(`^/api/(runners/[^/]+|phone)/imports/[^/]+/files/[^/]+$`)

func isUpload(r *http.Request) bool {
	return r.Method == http.MethodPut && uploads.MatchString(r.URL.Path)
}

type sentKey struct{}

// sent hands a request's body over as it comes.
func sent(ctx huma.Context, next func(huma.Context)) {
	next(huma.WithValue(ctx, sentKey{}, ctx.BodyReader()))
}

// ImportPath is the path of everything about one import.
type ImportPath struct {
	RunnerPath
	Import string `path:"import" format:"uuid"`
}

// load is the room Load: runs, their gauges, and files of them.
func (s *server) load() {
	do(s, http.MethodGet, "/api/runners/{runner}/load", "load", "Running: gauges, runs and imports",
		func(ctx context.Context, in *RunnerPath) (room.LoadView, error) {
			return s.desk.LoadOf(ctx, actor(ctx), in.Runner)
		})
	do(s, http.MethodPut, "/api/runners/{runner}/running/{id}", "plan-running", "Write the running planned anew",
		func(ctx context.Context, in *struct {
			RunnerPath
			ID   string `path:"id" format:"uuid"`
			Body struct {
				Saw  string    `json:"saw" doc:"id of the plan the coach saw, empty for none"`
				Plan load.Plan `json:"plan"`
			}
		}) (nothing, error) {
			return ok(s.desk.PlanRunning(ctx, actor(ctx), in.Runner, in.ID, in.Body.Saw, in.Body.Plan))
		})
	do(s, http.MethodGet, "/api/runners/{runner}/strip", "strip", "Two years of a runner, day by day",
		func(ctx context.Context, in *RunnerPath) (room.StripView, error) {
			return s.desk.Strip(ctx, actor(ctx), in.Runner)
		})
	do(s, http.MethodGet, "/api/runners/{runner}/strip/{day}", "strip-day", "What the points of one day were computed from",
		func(ctx context.Context, in *struct {
			RunnerPath
			Day body.Date `path:"day" format:"date"`
		}) ([]room.StripReason, error) {
			return s.desk.StripDay(ctx, actor(ctx), in.Runner, in.Day)
		})
	do(s, http.MethodPost, "/api/runners/{runner}/what-if", "what-if", "What would move in a week; nothing is stored",
		func(ctx context.Context, in *struct {
			RunnerPath
			Body room.WhatIf
		}) (room.WhatIfView, error) {
			return room.WhatIfRoom(in.Body).Look(ctx, s.desk, actor(ctx), in.Runner)
		})
	do(s, http.MethodGet, "/api/watch", "watch", "Whether a simulated watch is there", func(context.Context, *struct{}) (struct {
		There bool `json:"there"`
	}, error) {
		return struct {
			There bool `json:"there"`
		}{s.cfg.Watch != nil}, nil
	})
	do(s, http.MethodGet, "/api/watch/outings", "outings", "The runs on the simulated watch, as files",
		func(context.Context, *struct{}) ([]device.File, error) {
			if s.cfg.Watch == nil {
				return []device.File{}, nil
			}
			return s.cfg.Watch.Outings(s.desk.Now()), nil
		})
	huma.Register(s.huma, operation(http.MethodPut, "/api/runners/{runner}/imports/{import}/files/{n}", "read-file",
		"Read a file of runs into a preview; the body is the file itself", huma.Middlewares{s.signedIn, sent}),
		func(ctx context.Context, in *struct {
			ImportPath
			N       int    `path:"n" minimum:"0" maximum:"99999" doc:"number of the file in this import; sent again it replaces"`
			Name    string `query:"name" maxLength:"300" doc:"what the file is called"`
			Columns string `query:"columns" maxLength:"4000" doc:"of a CSV: what each field's column is called, as a JSON object; remembered"`
		}) (*out[nothing], error) {
			err := s.readFile(ctx, actor(ctx), in.Runner, in.Import, in.N, in.Name, in.Columns)
			return &out[nothing]{nothing{err == nil}}, s.failed(ctx, err)
		})
	do(s, http.MethodGet, "/api/runners/{runner}/imports/{import}", "import", "What an import would add, file by file",
		func(ctx context.Context, in *ImportPath) (room.ImportView, error) {
			return s.desk.Preview(ctx, actor(ctx), in.Runner, in.Import)
		})
	do(s, http.MethodPost, "/api/runners/{runner}/imports/{import}/confirm", "confirm-import", "Add the runs of a preview that are named",
		func(ctx context.Context, in *struct {
			ImportPath
			Body struct {
				Take []string `json:"take" maxItems:"20000" doc:"keys of the runs"`
			}
		}) (nothing, error) {
			return ok(s.desk.Confirm(ctx, actor(ctx), in.Runner, in.Import, in.Body.Take))
		})
	do(s, http.MethodPost, "/api/runners/{runner}/imports/{import}/undo", "undo-import", "Take all runs of an import out of force",
		func(ctx context.Context, in *ImportPath) (nothing, error) {
			return ok(s.desk.UndoImport(ctx, actor(ctx), in.Runner, in.Import))
		})
	do(s, http.MethodDelete, "/api/runners/{runner}/imports/{import}", "cancel-import", "Forget a preview",
		func(ctx context.Context, in *ImportPath) (nothing, error) {
			return ok(s.desk.CancelImport(ctx, actor(ctx), in.Runner, in.Import))
		})
}

// readFile puts the body where it can be read twice: a file without a name, gone with the request or with the process.
func (s *server) readFile(ctx context.Context, a room.Actor, runner, id string, n int, name, chosen string) error {
	var columns map[string]string
	if chosen != "" && json.Unmarshal([]byte(chosen), &columns) != nil {
		return body.Refuse("columns", "are a JSON object of fields and headings")
	}
	f, err := os.CreateTemp("", "notchback-*")
	if err != nil {
		return err
	}
	defer f.Close()
	if err := os.Remove(f.Name()); err != nil {
		return err
	}
	size, err := io.Copy(f, ctx.Value(sentKey{}).(io.Reader))
	var large *http.MaxBytesError
	switch {
	case errors.As(err, &large):
		return huma.Error413RequestEntityTooLarge(tooLarge)
	case err != nil:
		return huma.Error400BadRequest("The file did not arrive whole. Send it again.")
	}
	return s.desk.ReadFile(ctx, a, runner, id, n, name, columns, f, size)
}

// PhoneImport is the path of an import from a phone.
type PhoneImport struct {
	Import string `path:"import" format:"uuid"`
}

// phoneImports are files of runs from a runner's own phone. What they added is undone at the desk.
func (s *server) phoneImports(m huma.Middlewares) {
	huma.Register(s.huma, operation(http.MethodPut, "/api/phone/imports/{import}/files/{n}", "phone-read-file",
		"Read a file of runs into a preview; the body is the file itself", append(slices.Clone(m), sent)),
		func(ctx context.Context, in *struct {
			PhoneImport
			N    int    `path:"n" minimum:"0" maximum:"99" doc:"number of the file in this import; sent again it replaces"`
			Name string `query:"name" maxLength:"300" doc:"what the file is called"`
		}) (*out[nothing], error) {
			a, runner := owner(ctx)
			err := s.readFile(ctx, a, runner, in.Import, in.N, in.Name, "")
			return &out[nothing]{nothing{err == nil}}, s.failed(ctx, err)
		})
	register(s, http.MethodGet, "/api/phone/imports/{import}", "phone-import", "What an import would add, file by file", m,
		func(ctx context.Context, in *PhoneImport) (room.ImportView, error) {
			a, runner := owner(ctx)
			return s.desk.Preview(ctx, a, runner, in.Import)
		})
	register(s, http.MethodPost, "/api/phone/imports/{import}/confirm", "phone-confirm-import", "Add the runs of a preview that are named", m,
		func(ctx context.Context, in *struct {
			PhoneImport
			Body struct {
				Take []string `json:"take" maxItems:"20000" doc:"keys of the runs"`
			}
		}) (nothing, error) {
			a, runner := owner(ctx)
			return ok(s.desk.Confirm(ctx, a, runner, in.Import, in.Body.Take))
		})
	register(s, http.MethodDelete, "/api/phone/imports/{import}", "phone-cancel-import", "Forget a preview", m,
		func(ctx context.Context, in *PhoneImport) (nothing, error) {
			a, runner := owner(ctx)
			return ok(s.desk.CancelImport(ctx, a, runner, in.Import))
		})
}

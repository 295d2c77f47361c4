package api

import (
	"context"
	"fmt"
	"net/http"
	"strings"

	"github.com/danielgtaylor/huma/v2"

	"notchback/internal/core/body"
	"notchback/internal/formats"
	"notchback/internal/room"
)

// fileOut is a file to keep.
type fileOut struct {
	ContentType string `header:"Content-Type"`
	Disposition string `header:"Content-Disposition"`
	Body        []byte
}

func fileNamed(name, kind, ext string, data []byte) *fileOut {
	safe := strings.Map(func(r rune) rune {
		if r < 0x20 || r > 0x7e || strings.ContainsRune(`"\/:*?<>|`, r) {
			return '_'
		}
		return r
	}, name)
	return &fileOut{kind, fmt.Sprintf(`attachment; filename="%s.%s"`, safe, ext), data}
}

// HandoutQuery says which days, on which paper.
type HandoutQuery struct {
	Days  int    `query:"days" minimum:"1" maximum:"28" default:"7"`
	From  string `query:"from" doc:"first day; today when empty"`
	Paper string `query:"paper" enum:"A4,Letter" default:"A4"`
}

func (q HandoutQuery) handout(o room.Chart) (formats.Handout, error) {
	from := body.Date(q.From)
	if q.From == "" {
		from = o.Today
	}
	if !from.Valid() {
		return formats.Handout{}, body.Refuse("from", "is not a calendar day; write it as year-month-day")
	}
	if o.Programme == nil {
		return formats.Handout{}, body.Refuse("programme", "is not built yet; build one first")
	}
	return o.Handout(from, q.Days), nil
}

// file registers a download of one runner.
func file[I any](s *server, path, id, summary string, m huma.Middlewares, f func(context.Context, *I) (*fileOut, error)) {
	huma.Register(s.huma, huma.Operation{OperationID: id, Method: http.MethodGet, Path: path, Summary: summary, Middlewares: m},
		func(ctx context.Context, in *I) (*fileOut, error) {
			o, err := f(ctx, in)
			if err != nil {
				return nil, s.failed(ctx, err)
			}
			return o, nil
		})
}

func (s *server) handouts() {
	do(s, http.MethodGet, "/api/runners/{runner}/hand-out", "hand-out", "The week and its exercises, to print",
		func(ctx context.Context, in *struct {
			RunnerPath
			HandoutQuery
		}) (formats.Handout, error) {
			o, err := s.desk.Chart(ctx, actor(ctx), in.Runner)
			if err != nil {
				return formats.Handout{}, err
			}
			return in.handout(o)
		})
	file(s, "/api/runners/{runner}/hand-out.pdf", "hand-out-pdf", "The same as PDF", huma.Middlewares{s.signedIn},
		func(ctx context.Context, in *struct {
			RunnerPath
			HandoutQuery
		}) (*fileOut, error) {
			o, err := s.desk.Chart(ctx, actor(ctx), in.Runner)
			if err != nil {
				return nil, err
			}
			h, err := in.handout(o)
			if err != nil {
				return nil, err
			}
			data, err := formats.PDF(h, formats.Paper(in.Paper), reader(ctx))
			if err != nil {
				return nil, err
			}
			return fileNamed(o.Name+" "+string(h.From), "application/pdf", "pdf", data), nil
		})
	file(s, "/api/runners/{runner}/doses.csv", "doses", "The doses in force as a table", huma.Middlewares{s.signedIn},
		func(ctx context.Context, in *RunnerPath) (*fileOut, error) {
			o, err := s.desk.Chart(ctx, actor(ctx), in.Runner)
			if err != nil {
				return nil, err
			}
			data, err := formats.CSV(o.Doses())
			if err != nil {
				return nil, err
			}
			return fileNamed(o.Name+" doses", "text/csv; charset=utf-8", "csv", data), nil
		})
	s.calendars()
}

// calendars are the plan as a calendar file, for the coach and for the runner.
func (s *server) calendars() {
	calendar := func(ctx context.Context, o room.Chart) (*fileOut, error) {
		if o.Programme == nil {
			return nil, body.Refuse("programme", "is not built yet; build one first")
		}
		return fileNamed(o.Name, "text/calendar; charset=utf-8", "ics",
			formats.Calendar(o.ID, o.Name, o.Calendar(), reader(ctx), s.desk.Now())), nil
	}
	file(s, "/api/runners/{runner}/calendar.ics", "calendar", "The plan as a calendar file", huma.Middlewares{s.signedIn},
		func(ctx context.Context, in *RunnerPath) (*fileOut, error) {
			o, err := s.desk.Chart(ctx, actor(ctx), in.Runner)
			if err != nil {
				return nil, err
			}
			return calendar(ctx, o)
		})
	workout := func(ctx context.Context, o room.Chart, on body.Date) (*fileOut, error) {
		w, err := o.Workout(on, s.desk.Now())
		if err != nil {
			return nil, err
		}
		return fileNamed(w.Name, "application/octet-stream", "fit", w.FIT()), nil
	}
	file(s, "/api/runners/{runner}/workouts/{day}", "workout", "The run of a day with its blocks, for a watch", huma.Middlewares{s.signedIn},
		func(ctx context.Context, in *struct {
			RunnerPath
			Day body.Date `path:"day" format:"date"`
		}) (*fileOut, error) {
			o, err := s.desk.Chart(ctx, actor(ctx), in.Runner)
			if err != nil {
				return nil, err
			}
			return workout(ctx, o, in.Day)
		})
	file(s, "/api/phone/workouts/{day}", "phone-workout", "The run of a day with its blocks, for a watch", huma.Middlewares{s.byLink},
		func(ctx context.Context, in *struct {
			Day body.Date `path:"day" format:"date"`
		}) (*fileOut, error) {
			a, runner := owner(ctx)
			o, err := s.desk.Chart(ctx, a, runner)
			if err != nil {
				return nil, err
			}
			return workout(ctx, o, in.Day)
		})
	file(s, "/api/phone/calendar.ics", "phone-calendar", "The plan as a calendar file for the runner", huma.Middlewares{s.byLink},
		func(ctx context.Context, _ *struct{}) (*fileOut, error) {
			a, runner := owner(ctx)
			o, err := s.desk.Chart(ctx, a, runner)
			if err != nil {
				return nil, err
			}
			return calendar(ctx, o)
		})
}

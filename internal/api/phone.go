package api

import (
	"context"
	"errors"
	"net/http"

	"github.com/danielgtaylor/huma/v2"

	"notchback/internal/core/body"
	"notchback/internal/core/refer"
	"notchback/internal/record"
	"notchback/internal/room"
	"notchback/internal/store"
)

type linkKey struct{}

// byLink lets a runner's private link through: by the cookie of the device it was opened on.
func (s *server) byLink(ctx huma.Context, next func(huma.Context)) {
	o, err := s.linkOwner(ctx)
	if errors.Is(err, store.ErrNotFound) {
		_ = huma.WriteErr(s.huma, ctx, http.StatusUnauthorized, "This link has ended here. Ask your coach for a new one.")
		return
	}
	if err != nil {
		s.cfg.Log.Error("private link", "id", askedIn(ctx.Context()).id, "err", err)
		_ = huma.WriteErr(s.huma, ctx, http.StatusServiceUnavailable, "The server does not answer. Keep going; this page sends later.")
		return
	}
	ctx = huma.WithValue(ctx, linkKey{}, o)
	next(ctx)
	s.note(ctx, o.Practice, "")
}

// owner is who the private link belongs to.
func owner(ctx context.Context) (room.Actor, string) {
	o := ctx.Value(linkKey{}).(store.LinkOwner)
	return room.Actor{Practice: o.Practice}, o.Runner
}

func (s *server) phone() {
	m := huma.Middlewares{s.byLink}
	s.devices(m)
	unchanged(s, "/api/phone", "phone", "The runner's page", m, func(ctx context.Context, a room.Actor, runner string) (room.Phone, error) {
		p, err := room.PhoneRoom(s.desk.Now()).Look(ctx, s.desk, a, runner)
		p.Units, p.Link = reader(ctx), ctx.Value(linkKey{}).(store.LinkOwner).Link
		return p, err
	})
	unchanged(s, "/api/phone/offline", "phone-offline", "What the page goes by until there is signal again", m, s.desk.Offline)
	register(s, http.MethodPut, "/api/phone/logs/{id}", "phone-log", "A session as it was done", m, func(ctx context.Context, in *struct {
		RecordPath
		Body logBody
	}) (nothing, error) {
		a, runner := owner(ctx)
		return ok(s.desk.AddLog(ctx, a, runner, in.Body.entry(in.ID, "phone")))
	})
	register(s, http.MethodPut, "/api/phone/mornings/{id}", "phone-morning", "First steps this morning", m,
		func(ctx context.Context, in *struct {
			RecordPath
			Body morningBody
		}) (nothing, error) {
			a, runner := owner(ctx)
			return ok(s.desk.AddMorning(ctx, a, runner, "phone", in.Body.morning(in.ID)))
		})
	register(s, http.MethodPut, "/api/phone/healed/{stop}/{id}", "phone-healed", "A blister, loose laces or an illness is over", m,
		func(ctx context.Context, in *struct {
			RecordPath
			Stop string `path:"stop" format:"uuid"`
		}) (nothing, error) {
			a, runner := owner(ctx)
			return ok(s.desk.Healed(ctx, a, runner, in.Stop, in.ID))
		})
	register(s, http.MethodPut, "/api/phone/runs/{id}", "phone-run", "A run", m, func(ctx context.Context, in *struct {
		RecordPath
		Body runBody
	}) (nothing, error) {
		a, runner := owner(ctx)
		return ok(s.desk.AddRun(ctx, a, runner, "phone", in.Body.run(in.ID), ""))
	})
	s.phoneBare(m)
	s.phoneNotes(m)
	s.phoneSelfchecks(m)
	s.phoneImports(m)
	s.phoneForms(m)
}

// unchanged registers a page of a phone that is asked for again and again: it is sent only where the record is another.
func unchanged[O any](s *server, path, id, summary string, m huma.Middlewares, show func(context.Context, room.Actor, string) (O, error)) {
	type answer struct {
		ETag string `header:"ETag"`
		Body O
	}
	huma.Register(s.huma, huma.Operation{OperationID: id, Method: http.MethodGet, Path: path, Summary: summary, Middlewares: m},
		func(ctx context.Context, in *struct {
			Known string `header:"If-None-Match" maxLength:"200" doc:"state of the page that is held"`
		}) (*answer, error) {
			a, runner := owner(ctx)
			state, err := s.desk.State(ctx, a, runner)
			if err != nil {
				return nil, s.failed(ctx, err)
			}
			if tag := `"` + state + `"`; in.Known == tag {
				return nil, huma.ErrorWithHeaders(huma.Status304NotModified(), http.Header{"ETag": {tag}})
			}
			body, err := show(ctx, a, runner)
			if err != nil {
				return nil, s.failed(ctx, err)
			}
			return &answer{`"` + state + `"`, body}, nil
		})
}

// phoneForms are what a runner fills in beside the days of training.
func (s *server) phoneForms(m huma.Middlewares) {
	register(s, http.MethodGet, "/api/phone/intake", "phone-intake", "The intake form, as far as it is known", m,
		func(ctx context.Context, _ *struct{}) (room.PhoneIntake, error) {
			a, runner := owner(ctx)
			form, err := room.FormRoom.Look(ctx, s.desk, a, runner)
			form.Units = reader(ctx)
			return form, err
		})
	register(s, http.MethodPut, "/api/phone/intake/{id}", "phone-fill-in", "The intake as the runner filled it in", m,
		func(ctx context.Context, in *struct {
			RecordPath
			Body struct {
				Profile body.Profile `json:"profile"`
			}
		}) (nothing, error) {
			a, runner := owner(ctx)
			return ok(s.desk.FillIn(ctx, a, runner, record.Form{ID: in.ID, Profile: in.Body.Profile}))
		})
	register(s, http.MethodPut, "/api/phone/signs/{id}", "phone-sign", "A warning sign; it locks at once", m,
		func(ctx context.Context, in *struct {
			RecordPath
			Body struct {
				Sign   string      `json:"sign"`
				Region body.Region `json:"region,omitempty"`
				Side   body.Side   `json:"side" enum:"left,right,both"`
				On     body.Date   `json:"on"`
				Which  []string    `json:"which,omitempty"`
			}
		}) (nothing, error) {
			a, runner := owner(ctx)
			return ok(s.desk.RecordStop(ctx, a, runner, refer.Stop{ID: in.ID, Sign: in.Body.Sign, Region: in.Body.Region, Side: in.Body.Side,
				On: in.Body.On, Which: in.Body.Which, Source: "phone"}))
		})
}

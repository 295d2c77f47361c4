package api

import (
	"context"
	"net/http"
	"strings"

	"github.com/danielgtaylor/huma/v2"

	"notchback/internal/core/body"
	"notchback/internal/core/refer"
	"notchback/internal/job"
	"notchback/internal/store"
)

type linkKey struct{}

// byLink lets a runner's private link through.
func (s *server) byLink(ctx huma.Context, next func(huma.Context)) {
	token := strings.TrimPrefix(ctx.Header("Authorization"), "Bearer ")
	o, err := s.desk.Store.LinkOwner(ctx.Context(), token)
	if err != nil {
		status, words := http.StatusUnauthorized, "This link has ended. Ask your coach for a new one."
		if s.desk.Store.Ready(ctx.Context()) != nil {
			status, words = http.StatusServiceUnavailable, "The server does not answer. Keep going; this page sends later."
		}
		_ = huma.WriteErr(s.huma, ctx, status, words)
		return
	}
	next(huma.WithValue(ctx, linkKey{}, o))
}

func (s *server) phone() {
	m := huma.Middlewares{s.byLink}
	owner := func(ctx context.Context) (job.Actor, string) {
		o := ctx.Value(linkKey{}).(store.LinkOwner)
		return job.Actor{Practice: o.Practice}, o.Runner
	}
	register(s, http.MethodGet, "/api/phone", "phone", "The runner's page", m, func(ctx context.Context, _ *struct{}) (job.Phone, error) {
		a, runner := owner(ctx)
		o, err := s.desk.Open(ctx, a, runner)
		if err != nil {
			return job.Phone{}, err
		}
		return o.Phone(s.desk.Now()), nil
	})
	register(s, http.MethodPut, "/api/phone/logs/{id}", "phone-log", "A session as it was done", m, func(ctx context.Context, in *struct {
		RecordPath
		Body logBody
	}) (nothing, error) {
		a, runner := owner(ctx)
		return ok(s.desk.AddLog(ctx, a, runner, in.Body.Prescription, in.Body.Supersedes, in.Body.log(in.ID, "phone")))
	})
	register(s, http.MethodPut, "/api/phone/mornings/{id}", "phone-morning", "First steps this morning", m, func(ctx context.Context, in *struct {
		RecordPath
		Body morningBody
	}) (nothing, error) {
		a, runner := owner(ctx)
		return ok(s.desk.AddMorning(ctx, a, runner, "phone", in.Body.morning(in.ID)))
	})
	register(s, http.MethodPut, "/api/phone/runs/{id}", "phone-run", "A run", m, func(ctx context.Context, in *struct {
		RecordPath
		Body runBody
	}) (nothing, error) {
		a, runner := owner(ctx)
		return ok(s.desk.AddRun(ctx, a, runner, "phone", in.Body.run(in.ID)))
	})
	register(s, http.MethodPut, "/api/phone/signs/{id}", "phone-sign", "A warning sign; it locks at once", m, func(ctx context.Context, in *struct {
		RecordPath
		Body struct {
			Sign   string      `json:"sign"`
			Region body.Region `json:"region,omitempty"`
			Side   body.Side   `json:"side" enum:"left,right,both"`
			On     body.Date   `json:"on"`
		}
	}) (nothing, error) {
		a, runner := owner(ctx)
		return ok(s.desk.RecordStop(ctx, a, runner, refer.Stop{ID: in.ID, Sign: in.Body.Sign, Region: in.Body.Region, Side: in.Body.Side, On: in.Body.On, Source: "phone"}))
	})
}

package api

import (
	"context"
	"net/http"

	"github.com/danielgtaylor/huma/v2"

	"notchback/internal/core/body"
	"notchback/internal/core/selfcheck"
)

// selfchecks are what runners check at home.
func (s *server) selfchecks() {
	do(s, http.MethodPut, "/api/runners/{runner}/selfchecks/{id}/seen", "see-selfcheck", "Mark a self-check of the runner as seen",
		func(ctx context.Context, in *struct {
			RunnerPath
			RecordPath
		}) (nothing, error) {
			return ok(s.desk.SeeSelfCheck(ctx, actor(ctx), in.Runner, in.ID))
		})
}

func (s *server) phoneSelfchecks(m huma.Middlewares) {
	register(s, http.MethodPut, "/api/phone/selfchecks/{id}", "phone-selfcheck", "What the runner checked at home", m,
		func(ctx context.Context, in *struct {
			RecordPath
			Body struct {
				On     body.Date           `json:"on" format:"date"`
				Tries  []selfcheck.Try     `json:"tries" maxItems:"60"`
				Motion []selfcheck.Stretch `json:"motion,omitempty" maxItems:"4" doc:"of the cadence, as the phone felt it"`
			}
		}) (nothing, error) {
			a, runner := owner(ctx)
			return ok(s.desk.AddSelfCheck(ctx, a, runner, selfcheck.Check{ID: in.ID, On: in.Body.On, Tries: in.Body.Tries}, in.Body.Motion))
		})
}

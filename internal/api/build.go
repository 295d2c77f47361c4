package api

import (
	"context"
	"net/http"

	"notchback/internal/core/build"
	"notchback/internal/core/catalog"
	"notchback/internal/room"
)

type draftIn struct {
	RunnerPath
	Body struct {
		Choices *build.Choices `json:"choices,omitempty" doc:"absent: those in force"`
	}
}

func (s *server) programme() {
	do(s, http.MethodPost, "/api/runners/{runner}/draft", "draft", "A draft of today, and the programme in force; nothing is stored",
		func(ctx context.Context, in *draftIn) (room.BuildView, error) {
			return room.BuildRoom(in.Body.Choices).Look(ctx, s.desk, actor(ctx), in.Runner)
		})
	do(s, http.MethodGet, "/api/runners/{runner}/notches/{rail}", "notches", "What may be set by hand on a rail in a phase",
		func(ctx context.Context, in *struct {
			RunnerPath
			Rail  string      `path:"rail" maxLength:"60"`
			Phase build.Phase `query:"phase"`
		}) ([]catalog.Notch, error) {
			return room.NotchesRoom(in.Rail, in.Phase).Look(ctx, s.desk, actor(ctx), in.Runner)
		})
	do(s, http.MethodPost, "/api/runners/{runner}/drafts/compared", "compare-drafts", "Two drafts side by side",
		func(ctx context.Context, in *struct {
			RunnerPath
			Body struct {
				A build.Choices `json:"a"`
				B build.Choices `json:"b"`
			}
		}) ([]build.Difference, error) {
			return room.CompareRoom(in.Body.A, in.Body.B).Look(ctx, s.desk, actor(ctx), in.Runner)
		})
	do(s, http.MethodPut, "/api/runners/{runner}/programmes/{programme}", "build", "Build and put into force",
		func(ctx context.Context, in *struct {
			RunnerPath
			Programme string `path:"programme" format:"uuid"`
			Body      struct {
				Choices build.Choices `json:"choices"`
			}
		}) (nothing, error) {
			return ok(s.desk.Build(ctx, actor(ctx), in.Runner, in.Programme, in.Body.Choices))
		})
}

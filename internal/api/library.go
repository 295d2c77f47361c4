package api

import (
	"context"
	"net/http"

	"notchback/internal/core/catalog"
	"notchback/internal/room"
)

// RailPath names a rail of the library.
type RailPath struct {
	Rail string `path:"rail" pattern:"^[a-z][a-z0-9_]{1,40}$"`
}

func (s *server) library() {
	do(s, http.MethodGet, "/api/library", "library", "The catalogue as the practice uses it",
		func(ctx context.Context, _ *struct{}) (room.Library, error) {
			return s.desk.Library(ctx, actor(ctx))
		})
	do(s, http.MethodPut, "/api/library/{rail}", "keep-rail", "Add or change a rail for the practice", func(ctx context.Context, in *struct {
		RailPath
		Body struct {
			Saw  int          `json:"saw" doc:"version that was changed, 0 for none"`
			Rail catalog.Rail `json:"rail"`
		}
	}) (nothing, error) {
		return ok(s.desk.KeepRail(ctx, actor(ctx), in.Rail, in.Body.Saw, in.Body.Rail))
	})
	do(s, http.MethodDelete, "/api/library/{rail}", "take-back-rail", "Put the shipped rail in force again",
		func(ctx context.Context, in *struct {
			RailPath
			Saw int `query:"saw"`
		}) (nothing, error) {
			return ok(s.desk.TakeBackRail(ctx, actor(ctx), in.Rail, in.Saw))
		})
}

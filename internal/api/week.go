package api

import (
	"context"
	"net/http"

	"notchback/internal/core/build"
	"notchback/internal/room"
)

func (s *server) week() {
	look(s, "/api/runners/{runner}/week", "week", "The week in force", room.WeekRoom)
	do(s, http.MethodGet, "/api/runners/{runner}/week/moves", "week-moves", "Every place of the week for one session, with why not",
		func(ctx context.Context, in *struct {
			RunnerPath
			Rail string `query:"rail" required:"true"`
			From int    `query:"from" minimum:"0" maximum:"6" required:"true"`
		}) ([]build.Cell, error) {
			return room.MovesRoom(in.Rail, in.From).Look(ctx, s.desk, actor(ctx), in.Runner)
		})
	do(s, http.MethodPut, "/api/runners/{runner}/weeks/{id}", "change-week", "Move a session, or take moves back",
		func(ctx context.Context, in *struct {
			RunnerPath
			RecordPath
			Body room.WeekChange
		}) (nothing, error) {
			return ok(s.desk.ChangeWeek(ctx, actor(ctx), in.Runner, in.ID, in.Body))
		})
}

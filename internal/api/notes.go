package api

import (
	"context"
	"net/http"

	"github.com/danielgtaylor/huma/v2"

	"notchback/internal/core/body"
	"notchback/internal/record"
)

// noteBody is a note as it is sent.
type noteBody struct {
	On   body.Date `json:"on" format:"date" doc:"day of the session it is about"`
	Text string    `json:"text" maxLength:"8000" doc:"plain text, at most 2,000 letters"`
}

// notes are what coach and runner write to each other beside a day.
func (s *server) notes() {
	do(s, http.MethodPut, "/api/runners/{runner}/notes/{id}", "write-note", "A note to the runner, beside a day",
		func(ctx context.Context, in *struct {
			RunnerPath
			RecordPath
			Body noteBody
		}) (nothing, error) {
			return ok(s.desk.AddNote(ctx, actor(ctx), in.Runner, "coach", record.Note{ID: in.ID, On: in.Body.On, Text: in.Body.Text}))
		})
	do(s, http.MethodPut, "/api/runners/{runner}/notes/{id}/read", "read-note", "Mark a note of the runner as read",
		func(ctx context.Context, in *struct {
			RunnerPath
			RecordPath
		}) (nothing, error) {
			return ok(s.desk.ReadNote(ctx, actor(ctx), in.Runner, in.ID))
		})
}

func (s *server) phoneNotes(m huma.Middlewares) {
	register(s, http.MethodPut, "/api/phone/notes/{id}", "phone-note", "A note to the coach, and what a session left out", m,
		func(ctx context.Context, in *struct {
			RecordPath
			Body struct {
				On      body.Date        `json:"on" format:"date" doc:"day of the session it is about"`
				Text    string           `json:"text,omitempty" maxLength:"8000" doc:"plain text, at most 2,000 letters"`
				Skipped []record.Skipped `json:"skipped,omitempty" maxItems:"30"`
			}
		}) (nothing, error) {
			a, runner := owner(ctx)
			return ok(s.desk.AddNote(ctx, a, runner, "phone",
				record.Note{ID: in.ID, On: in.Body.On, Text: in.Body.Text, Skipped: in.Body.Skipped}))
		})
}

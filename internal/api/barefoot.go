package api

import (
	"context"
	"net/http"

	"github.com/danielgtaylor/huma/v2"

	"notchback/internal/core/barefoot"
	"notchback/internal/core/body"
	"notchback/internal/room"
)

// bareBody is a go on bare feet as it is sent.
type bareBody struct {
	On       body.Date   `json:"on" format:"date"`
	Stage    int         `json:"stage" minimum:"0" maximum:"5" doc:"what it was: 0 at home, 1 a walk, 2 strength, 3 bounces, 4 and 5 running"`
	Minutes  float64     `json:"minutes,omitempty"`
	Contacts int         `json:"contacts,omitempty" doc:"of both feet"`
	Whole    bool        `json:"whole,omitempty" doc:"of strength: the whole session, not its first half"`
	Surface  string      `json:"surface,omitempty" enum:",floor,pavement,track,grass,sand,trail"`
	Wet      bool        `json:"wet,omitempty"`
	Cold     bool        `json:"cold,omitempty"`
	Pain     string      `json:"pain,omitempty" enum:",0,1,2,3,4,5,6,7,8,9,10"`
	Region   body.Region `json:"region,omitempty"`
	Side     body.Side   `json:"side,omitempty" enum:",left,right,both"`
	Skin     string      `json:"skin,omitempty" enum:",fine,red,broken"`
	SkinSide body.Side   `json:"skinSide,omitempty" enum:",left,right,both"`
	Bone     string      `json:"bone,omitempty" enum:",no,left,right,both" doc:"pain on a bone of the top of the foot, to one finger"`
}

func (b bareBody) log(id string) barefoot.Log {
	return barefoot.Log{ID: id, On: b.On, Stage: b.Stage, Minutes: b.Minutes, Contacts: b.Contacts, Whole: b.Whole, Surface: b.Surface,
		Wet: b.Wet, Cold: b.Cold, Pain: b.Pain, Region: b.Region, Side: b.Side, Skin: b.Skin, SkinSide: b.SkinSide, Bone: b.Bone}
}

// BarePath is the path of a record of the transition.
type BarePath struct {
	RunnerPath
	ID string `path:"id" format:"uuid"`
}

// barefoot is the room Barefoot: the gate, the stages, what moves them, and when each can be reached.
func (s *server) barefoot() {
	do(s, http.MethodGet, "/api/runners/{runner}/barefoot", "barefoot", "The barefoot gate, and the transition",
		func(ctx context.Context, in *RunnerPath) (room.BareView, error) {
			return room.BareRoom.Look(ctx, s.desk, actor(ctx), in.Runner)
		})
	do(s, http.MethodPut, "/api/runners/{runner}/barefoot/plans/{id}", "plan-barefoot", "Begin, change or end the transition",
		func(ctx context.Context, in *struct {
			BarePath
			Body struct {
				Saw  string `json:"saw" doc:"id of the plan the coach saw, empty for none"`
				Plan struct {
					Aim   barefoot.Aim `json:"aim" enum:"bare,thin,strength"`
					Cap   int          `json:"cap" minimum:"1" maximum:"100" doc:"agreed share of the running, %"`
					Shoe  string       `json:"shoe,omitempty" maxLength:"80"`
					From  string       `json:"from,omitempty" maxLength:"80"`
					Wish  body.Date    `json:"wish,omitempty"`
					Start barefoot.At  `json:"start"`
					End   bool         `json:"end,omitempty" doc:"end the transition"`
					Word  string       `json:"word,omitempty" maxLength:"400"`
				} `json:"plan"`
			}
		}) (nothing, error) {
			b := in.Body.Plan
			p := barefoot.Plan{Aim: b.Aim, Cap: b.Cap, Shoe: b.Shoe, From: b.From, Wish: b.Wish, Start: b.Start, Word: b.Word}
			if b.End {
				p.Ended = body.DateOf(s.desk.Now())
			}
			return ok(s.desk.PlanBarefoot(ctx, actor(ctx), in.Runner, in.ID, in.Body.Saw, p))
		})
	do(s, http.MethodPut, "/api/runners/{runner}/barefoot/moves/{id}", "decide-barefoot", "Decide where the transition stands",
		func(ctx context.Context, in *struct {
			BarePath
			Body struct {
				To   barefoot.At `json:"to"`
				Saw  int64       `json:"saw" doc:"newest report the coach saw"`
				Word string      `json:"word,omitempty" maxLength:"400"`
			}
		}) (nothing, error) {
			return ok(s.desk.DecideBare(ctx, actor(ctx), in.Runner, in.ID, in.Body.To, in.Body.Saw, in.Body.Word))
		})
	do(s, http.MethodPut, "/api/runners/{runner}/barefoot/logs/{id}", "log-barefoot", "A go on bare feet",
		func(ctx context.Context, in *struct {
			BarePath
			Body bareBody
		}) (nothing, error) {
			return ok(s.desk.AddBare(ctx, actor(ctx), in.Runner, "coach", in.Body.log(in.ID)))
		})
	do(s, http.MethodPost, "/api/runners/{runner}/barefoot/what-if", "barefoot-what-if", "The dates if running grew, or weeks were lost",
		func(ctx context.Context, in *struct {
			RunnerPath
			Body room.BareIf
		}) (barefoot.Ahead, error) {
			return room.BareIfRoom(in.Body).Look(ctx, s.desk, actor(ctx), in.Runner)
		})
	do(s, http.MethodPut, "/api/runners/{runner}/barefoot/leads/{id}", "lead-barefoot", "Give a week to the barefoot dial",
		func(ctx context.Context, in *struct {
			BarePath
			Body struct {
				Week body.Date `json:"week" format:"date" doc:"a day of it"`
			}
		}) (nothing, error) {
			return ok(s.desk.LeadBarefoot(ctx, actor(ctx), in.Runner, in.ID, in.Body.Week))
		})
}

// phoneBare is a go from the runner's phone.
func (s *server) phoneBare(m huma.Middlewares) {
	register(s, http.MethodPut, "/api/phone/bare/{id}", "phone-bare", "A go on bare feet", m, func(ctx context.Context, in *struct {
		RecordPath
		Body bareBody
	}) (nothing, error) {
		a, runner := owner(ctx)
		return ok(s.desk.AddBare(ctx, a, runner, "phone", in.Body.log(in.ID)))
	})
}

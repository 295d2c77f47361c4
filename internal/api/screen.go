package api

import (
	"context"
	"net/http"
	"time"

	"github.com/danielgtaylor/huma/v2"
	"github.com/danielgtaylor/huma/v2/sse"

	"notchback/internal/core/body"
	"notchback/internal/core/refer"
	"notchback/internal/core/screen"
	"notchback/internal/room"
	"notchback/internal/store"
)

// Angle is one reading of an inclinometer.
type Angle struct {
	Degrees float64 `json:"degrees"`
	Steady  bool    `json:"steady" doc:"held still for a second: keep it"`
	Keep    float64 `json:"keep" doc:"mean of the last second"`
}

// perSecond is how many readings of an instrument are taken for a second's hold.
const perSecond = 10

type ScreenPath struct {
	RunnerPath
	Screen string `path:"screen" format:"uuid"`
}

type startIn struct {
	ScreenPath
	Body room.Start
}

type trialIn struct {
	ScreenPath
	Trial string `path:"trial" format:"uuid"`
	Body  struct {
		Measure string          `json:"measure"`
		Side    body.Side       `json:"side" enum:"left,right,both"`
		Value   float64         `json:"value"`
		Parts   []float64       `json:"parts,omitempty" maxItems:"400"`
		Faults  []string        `json:"faults,omitempty"`
		Stop    string          `json:"stop,omitempty"`
		Skipped string          `json:"skipped,omitempty" maxLength:"200"`
		Context *screen.Context `json:"context,omitempty"`
		Where   body.Region     `json:"where,omitempty"`
		Moment  string          `json:"moment,omitempty" enum:",before,after"`
		Phone   bool            `json:"phone,omitempty" doc:"a phone gave the angle"`
	}
}

type trialPath struct {
	ScreenPath
	Trial string `path:"trial" format:"uuid"`
}

type checkIn struct {
	RunnerPath
	Check string `path:"check" format:"uuid"`
	Body  struct {
		Denied []string `json:"denied"`
		Source string   `json:"source" enum:"intake,screen"`
	}
}

func (s *server) screens() {
	show := func(ctx context.Context, runner string) (room.Screening, error) {
		return room.ScreenRoom.Look(ctx, s.desk, actor(ctx), runner)
	}
	then := func(ctx context.Context, runner string, err error) (room.Screening, error) {
		if err != nil {
			return room.Screening{}, err
		}
		return show(ctx, runner)
	}
	do(s, http.MethodGet, "/api/runners/{runner}/screens", "screens", "A runner's screens",
		func(ctx context.Context, in *RunnerPath) (room.Screening, error) { return show(ctx, in.Runner) })
	do(s, http.MethodPut, "/api/runners/{runner}/screens/{screen}", "start-screen", "Start a screen today",
		func(ctx context.Context, in *startIn) (room.Screening, error) {
			return then(ctx, in.Runner, s.desk.StartScreen(ctx, actor(ctx), in.Runner, in.Screen, in.Body))
		})
	do(s, http.MethodPost, "/api/runners/{runner}/screens/{screen}/finish", "finish-screen", "Finish a screen",
		func(ctx context.Context, in *ScreenPath) (room.Screening, error) {
			return then(ctx, in.Runner, s.desk.InScreen(ctx, actor(ctx), in.Runner, in.Screen,
				func(tx *store.Tx) error { return tx.FinishScreen(ctx, in.Runner, in.Screen) }))
		})
	do(s, http.MethodPut, "/api/runners/{runner}/screens/{screen}/trials/{trial}", "add-trial",
		"Store one trial; answers with what it changed", func(ctx context.Context, in *trialIn) (room.Taking, error) {
			b := in.Body
			t := screen.Trial{ID: in.Trial, Measure: b.Measure, Side: b.Side, Value: b.Value, Parts: b.Parts, Faults: b.Faults, Stop: b.Stop,
				Skipped: b.Skipped, Context: b.Context, Where: b.Where, Moment: b.Moment, Phone: b.Phone}
			return s.desk.AddTrial(ctx, actor(ctx), in.Runner, in.Screen, t)
		})
	remove := func(out bool) func(context.Context, *trialPath) (room.Taking, error) {
		return func(ctx context.Context, in *trialPath) (room.Taking, error) {
			return s.desk.RemoveTrial(ctx, actor(ctx), in.Runner, in.Screen, in.Trial, out)
		}
	}
	do(s, http.MethodDelete, "/api/runners/{runner}/screens/{screen}/trials/{trial}", "remove-trial", "Take a trial out; it is kept",
		remove(true))
	do(s, http.MethodPost, "/api/runners/{runner}/screens/{screen}/trials/{trial}/restore", "restore-trial", "Put a removed trial back",
		remove(false))
	do(s, http.MethodPut, "/api/runners/{runner}/checks/{check}", "answer-signs", "Keep one asking of all the warning signs",
		func(ctx context.Context, in *checkIn) (nothing, error) {
			return ok(s.desk.AnswerSigns(ctx, actor(ctx), in.Runner, refer.Check{ID: in.Check, Source: in.Body.Source, Denied: in.Body.Denied}))
		})
	look(s, "/api/runners/{runner}/read", "read", "Ranked findings", room.ReadRoom)
	look(s, "/api/runners/{runner}/retest", "retest", "Better, same or worse", room.RetestRoom)
	look(s, "/api/runners/{runner}/referral", "referral", "A note for a clinician", room.ReferralRoom)
	s.inclinometer()
}

// inclinometer streams what the instrument reads; without one nothing comes.
func (s *server) inclinometer() {
	sse.Register(s.huma, huma.Operation{OperationID: "inclinometer", Method: http.MethodGet, Path: "/api/inclinometer",
		Summary: "Readings of the inclinometer", Middlewares: huma.Middlewares{s.signedIn}},
		map[string]any{"message": Angle{}},
		func(ctx context.Context, in *struct {
			Side body.Side `query:"side" enum:"left,right"`
		}, send sse.Sender) {
			if s.cfg.Inclinometer == nil {
				return
			}
			ctx, stop := context.WithTimeout(ctx, 45*time.Second)
			defer stop()
			if s.cfg.Stopping != nil {
				defer context.AfterFunc(s.cfg.Stopping, stop)()
			}
			var seen []float64
			err := s.cfg.Inclinometer.Stream(ctx, in.Side, func(d float64) error {
				seen = append(seen, d)
				keep, steady := screen.Steady(seen, perSecond)
				return send.Data(Angle{Degrees: d, Steady: steady, Keep: keep})
			})
			if err != nil {
				s.cfg.Log.Debug("inclinometer", "err", err)
			}
		})
}

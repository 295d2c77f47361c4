package api

import (
	"context"
	"net/http"

	"notchback/internal/core/body"
	"notchback/internal/core/refer"
	"notchback/internal/core/screen"
	"notchback/internal/job"
	"notchback/internal/store"
)

// ScreenView is a runner's screens with what bounds the newest one.
type ScreenView struct {
	Screens       []store.Screen   `json:"screens" doc:"newest first"`
	Findings      []screen.Finding `json:"findings" doc:"of the newest screen"`
	Readings      []screen.Reading `json:"readings" doc:"of the newest screen"`
	RaiseCeiling  int              `json:"raiseCeiling" doc:"heel raises stop here on purpose; 0 none"`
	CeilingReason body.Reason      `json:"ceilingReason"`
	Today         body.Date        `json:"today"`
	BigToeMm      float64          `json:"bigToeMm"`
	PlatesMm      []float64        `json:"platesMm"`
}

type ScreenPath struct {
	RunnerPath
	Screen string `path:"screen" format:"uuid"`
}

type trialIn struct {
	ScreenPath
	Trial string `path:"trial" format:"uuid"`
	Body  struct {
		Measure string    `json:"measure"`
		Side    body.Side `json:"side" enum:"left,right"`
		Value   float64   `json:"value"`
		Faults  []string  `json:"faults,omitempty"`
		Stop    string    `json:"stop,omitempty"`
		Skipped string    `json:"skipped,omitempty" maxLength:"200"`
	}
}

type trialPath struct {
	ScreenPath
	Trial string `path:"trial" format:"uuid"`
}

func (s *server) screens() {
	show := func(ctx context.Context, runner string) (ScreenView, error) {
		o, err := s.desk.Open(ctx, actor(ctx), runner)
		if err != nil {
			return ScreenView{}, err
		}
		v := ScreenView{Screens: o.Screens, Findings: []screen.Finding{}, Readings: []screen.Reading{}, Today: o.Today, BigToeMm: o.Profile.BigToeMm, PlatesMm: o.Profile.Equipment.PlatesMm}
		newest := ""
		if len(o.Screens) > 0 {
			newest = o.Screens[0].ID
			if f := screen.Findings(o.Screens[0].Trials, o.Profile.BigToeMm, o.House); f != nil {
				v.Findings = f
			}
			for _, m := range screen.Measures {
				for _, side := range body.Sides {
					if r, ok := screen.Read(o.Screens[0].Trials, m.ID, side); ok {
						v.Readings = append(v.Readings, r)
					}
				}
			}
		}
		v.RaiseCeiling, v.CeilingReason = screen.RaiseCeiling(o.Circumstances(newest), o.House)
		return v, nil
	}
	then := func(ctx context.Context, runner string, err error) (ScreenView, error) {
		if err != nil {
			return ScreenView{}, err
		}
		return show(ctx, runner)
	}
	do(s, http.MethodGet, "/api/runners/{runner}/screens", "screens", "A runner's screens", func(ctx context.Context, in *RunnerPath) (ScreenView, error) { return show(ctx, in.Runner) })
	do(s, http.MethodPut, "/api/runners/{runner}/screens/{screen}", "start-screen", "Start a screen today", func(ctx context.Context, in *ScreenPath) (ScreenView, error) {
		return then(ctx, in.Runner, s.desk.StartScreen(ctx, actor(ctx), in.Runner, in.Screen))
	})
	do(s, http.MethodPost, "/api/runners/{runner}/screens/{screen}/finish", "finish-screen", "Finish a screen", func(ctx context.Context, in *ScreenPath) (ScreenView, error) {
		return then(ctx, in.Runner, s.desk.InScreen(ctx, actor(ctx), in.Runner, in.Screen, func(tx *store.Tx) error { return tx.FinishScreen(ctx, in.Runner, in.Screen) }))
	})
	do(s, http.MethodPut, "/api/runners/{runner}/screens/{screen}/trials/{trial}", "add-trial", "Store one trial", func(ctx context.Context, in *trialIn) (ScreenView, error) {
		b := in.Body
		t := screen.Trial{ID: in.Trial, Measure: b.Measure, Side: b.Side, Value: b.Value, Faults: b.Faults, Stop: b.Stop, Skipped: b.Skipped}
		return then(ctx, in.Runner, s.desk.AddTrial(ctx, actor(ctx), in.Runner, in.Screen, t))
	})
	do(s, http.MethodDelete, "/api/runners/{runner}/screens/{screen}/trials/{trial}", "remove-trial", "Take a trial out; it is kept", func(ctx context.Context, in *trialPath) (ScreenView, error) {
		return then(ctx, in.Runner, s.desk.InScreen(ctx, actor(ctx), in.Runner, in.Screen, func(tx *store.Tx) error { return tx.RemoveTrial(ctx, in.Screen, in.Trial) }))
	})
	do(s, http.MethodGet, "/api/runners/{runner}/read", "read", "Ranked findings", func(ctx context.Context, in *RunnerPath) (job.Read, error) {
		o, err := s.desk.Open(ctx, actor(ctx), in.Runner)
		if err != nil {
			return job.Read{}, err
		}
		r := o.Read()
		for _, c := range refer.InForce(o.Profile, o.Today) {
			r.Cautions = append(r.Cautions, c.Limits)
		}
		return r, nil
	})
}

package room

import (
	"context"
	"fmt"
	"slices"

	"notchback/internal/core/body"
	"notchback/internal/core/build"
	"notchback/internal/core/load"
	"notchback/internal/record"
	"notchback/internal/store"
)

// LoadView is what a runner runs: the gauges, the runs of the last weeks and the imports they came by.
type LoadView struct {
	Today     body.Date          `json:"today"`
	State     load.State         `json:"state" enum:"usual,high,unknown"`
	Reason    body.Reason        `json:"reason"`
	Gauges    []load.Gauge       `json:"gauges"`
	Runs      []store.KeptRun    `json:"runs" doc:"the newest first, of the last 90 days"`
	Imports   []store.Import     `json:"imports" doc:"confirmed and undone, the newest first"`
	Shoes     []load.ShoeKm      `json:"shoes"`
	Weeks     []load.Week        `json:"weeks" doc:"from eight ago to twelve ahead, and who leads each"`
	Plan      load.Plan          `json:"plan"`
	PlanID    string             `json:"planId" doc:"of the running planned; empty where none was"`
	WayBack   *WayBack           `json:"wayBack,omitempty" doc:"the way back to running, dated"`
	Steps     *LoadSteps         `json:"steps,omitempty" doc:"of the last seven days, where a cadence is known"`
	ShoeNames []string           `json:"shoeNames" doc:"of the intake"`
	Watched   []Watched          `json:"watched" doc:"places asked about each morning"`
	Cadence   []load.CadenceRow  `json:"cadence" doc:"that watches counted in the last 28 days, by shoe and pace"`
	Beat      *build.CadencePlan `json:"beat,omitempty" doc:"the steps of the cadence in the programme"`
	BeatAt    int                `json:"beatAt" doc:"beat in force, steps a minute; 0 none"`
}

// LoadSteps are the steps of seven days.
type LoadSteps struct {
	Steps  int              `json:"steps"`
	Calf   int              `json:"calf" doc:"calf-load steps"`
	Before int              `json:"before" doc:"calf-load steps of the seven days before"`
	Runs   []StripReason    `json:"runs" doc:"each run and how it was counted, the newest first"`
	By     []load.StepShare `json:"by" doc:"calf-load steps by what was worn, the ground and the slope"`
}

// loadSteps counts them.
func (o Chart) loadSteps() *LoadSteps {
	out := LoadSteps{Runs: []StripReason{}, By: []load.StepShare{}}
	foot := o.footing()
	week := []load.Run{}
	for _, r := range o.Runs {
		switch n := o.Today.Sub(r.On); {
		case r.Word != "" || n < 0 || n >= 14:
		case n >= 7:
			out.Before += foot.Steps(r, o.House).Calf
		default:
			c := foot.Steps(r, o.House)
			out.Steps, out.Calf = out.Steps+c.Steps, out.Calf+c.Calf
			out.Runs = append(out.Runs, StripReason{fmt.Sprintf("%s, %.0f min", r.On.Short(), r.Minutes), c.Because(r, o.House)})
			week = append(week, r)
		}
	}
	if out.Steps == 0 {
		return nil
	}
	slices.Reverse(out.Runs)
	out.By = foot.Shares(week, o.House)
	return &out
}

// LoadOf shows the room Load.
func (d *Desk) LoadOf(ctx context.Context, a Actor, runner string) (v LoadView, err error) {
	err = d.Read(ctx, a, runner, record.NeedFacts, func(tx *store.Tx, o Chart) (err error) {
		v = LoadView{Today: o.Today, Gauges: load.Gauges(o.Runs, o.Profile, o.Today, o.House), Weeks: o.RunningWeeks(),
			Plan: o.Running.Normalise(), PlanID: o.RunningID, Steps: o.loadSteps(),
			Watched: o.watchedNames(), Cadence: load.CadenceBy(o.Runs, o.Today, 28)}
		v.WayBack = o.WayBack()
		if o.Programme != nil {
			v.Beat = o.Programme.Plan.Cadence
		}
		for _, p := range o.Prescriptions {
			v.BeatAt = max(v.BeatAt, p.Dose.Spm)
		}
		v.ShoeNames = []string{}
		for _, s := range o.Profile.Shoes {
			v.ShoeNames = append(v.ShoeNames, s.Name)
		}
		v.State, v.Reason = load.Volume(o.Runs, o.Profile, o.Today, o.House)
		if v.Runs, err = tx.RunsSince(ctx, runner, string(o.Today.Add(-history))); err != nil {
			return err
		}
		runs := make([]load.Run, len(v.Runs))
		for i, r := range v.Runs {
			runs[i] = r.Run
		}
		v.Shoes = load.InShoes(runs)
		v.Imports, err = tx.Imports(ctx, runner)
		return err
	})
	return v, err
}

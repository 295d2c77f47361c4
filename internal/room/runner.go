package room

import (
	"context"
	"slices"

	"notchback/internal/core/adjust"
	"notchback/internal/core/body"
	"notchback/internal/core/load"
	"notchback/internal/core/refer"
	"notchback/internal/core/screen"
	"notchback/internal/core/steps"
	"notchback/internal/record"
	"notchback/internal/store"
)

// RunnerView is a runner as the intake page shows one.
type RunnerView struct {
	ID          string             `json:"id"`
	Name        string             `json:"name"`
	Timezone    string             `json:"timezone"`
	Version     int                `json:"version"`
	Archived    bool               `json:"archived"`
	Today       body.Date          `json:"today"`
	Age         int                `json:"age"`
	Profile     body.Profile       `json:"profile"`
	Stops       []StopView         `json:"stops"`
	Permissions Permissions        `json:"permissions" doc:"what takes work away today, and what would open it"`
	Asked       []refer.Sign       `json:"asked" doc:"warning signs this runner is asked, most urgent first"`
	Links       []record.Link      `json:"links"`
	Steps       []steps.State      `json:"steps"`
	Forms       []record.Form      `json:"forms" doc:"filled in by the runner and not taken over yet"`
	Checks      []refer.Check      `json:"checks" doc:"askings of the warning signs, newest first"`
	Shoes       []screen.ShoeIndex `json:"shoes"`
	LeftEmpty   []string           `json:"leftEmpty" doc:"read as unknown, and asked until it is answered"`
}

// StopView is a warning sign with whether it still locks.
type StopView struct {
	refer.Stop
	Open bool       `json:"open"`
	What refer.Sign `json:"what"`
}

// Runner reads a runner as the intake page shows one. What stands on every page is read where it is up to date, and
// computed from the whole record where it is not.
func (d *Desk) Runner(ctx context.Context, a Actor, runner string) (v RunnerView, err error) {
	err = d.Store.Read(ctx, a.Practice, func(tx *store.Tx) error {
		r, h, was, err := tx.Stands(ctx, runner, d.since(), record.NeedDoor)
		if err != nil {
			return err
		}
		o := NewChart(r, rulesOf(h), d.day(r.Timezone))
		if was.From == d.state(r.Timezone, r.Touched, r.Tested, h.State()) {
			b, err := decode[Bearing](was.Page)
			if err == nil {
				v = o.runner(*b)
			}
			return err
		}
		if o, err = d.Load(ctx, tx, runner, record.NeedAll); err != nil {
			return err
		}
		defer d.changed(a.Practice, runner) // the next page reads it
		v = o.runner(o.Bearing())
		return nil
	})
	return v, err
}

// runner assembles the view.
func (o Chart) runner(b Bearing) RunnerView {
	v := RunnerView{ID: o.ID, Name: o.Name, Timezone: o.Timezone, Version: o.Version, Archived: o.Archived, Today: o.Today,
		Age: o.Profile.Age(o.Today), Profile: o.Profile,
		Stops: []StopView{}, Permissions: b.Permissions, Asked: refer.Asked(o.Profile, o.Today), Links: o.Links, Forms: []record.Form{},
		Checks: o.Checks, Shoes: []screen.ShoeIndex{}, LeftEmpty: o.Profile.LeftEmpty(), Steps: b.Steps}
	for _, f := range o.Forms {
		f.Profile = f.Profile.Normalise()
		v.Forms = append(v.Forms, f)
	}
	for _, sh := range o.Profile.Shoes {
		v.Shoes = append(v.Shoes, screen.Shoe(sh, o.Profile.FootWidthMm, o.Today, o.House))
	}
	for _, st := range o.Stops {
		sign, _ := refer.FindSign(st.Sign)
		v.Stops = append(v.Stops, StopView{st, st.Open(), sign})
	}
	return v
}

// steps says how the steps of the job stand.
func (o Chart) steps() []steps.State {
	visits := o.Visits()
	f := steps.Facts{Form: len(o.Forms) > 0, Built: o.Programme != nil}
	f.Locked = slices.ContainsFunc(o.Stops, refer.Stop.Open)
	f.Screening = len(o.Screens) > 0 && !o.Screens[0].Finished
	f.Screened = len(visits) > 0 && visits[0].Finished
	f.Again = len(visits) > 1 && visits[1].Finished
	f.Gait = slices.ContainsFunc(o.Trials(), func(t screen.Trial) bool {
		m, _ := screen.FindMeasure(t.Measure)
		return m.Station == "gait"
	})
	f.Decide = slices.ContainsFunc(o.Proposals(), func(p adjust.Proposal) bool {
		return p.News && (p.Verdict == adjust.Up || p.Verdict == adjust.Back || p.Verdict == adjust.Park)
	})
	if s := o.BareState(); s != nil {
		f.Turn = s.Asks()
	}
	volume, _ := load.Volume(o.Runs, o.Profile, o.Today, o.House)
	f.High, f.Untold = volume == load.High, volume == load.Unknown
	_, due := o.RetestDue()
	f.Due = due > 0
	return steps.Of(f)
}

package api

import (
	"context"
	"net/http"

	"notchback/internal/core/body"
	"notchback/internal/core/build"
	"notchback/internal/room"
	"notchback/internal/store"
)

// WeekView is the week in force, today's doses and the days ahead. Without a programme its week is
// absent.
type WeekView struct {
	InForce *store.Programme    `json:"inForce,omitempty"`
	Week    *build.Week         `json:"week,omitempty"`
	ID      string              `json:"id" doc:"of the week as moved, empty as built"`
	Lines   []CurrentLine       `json:"lines" doc:"current prescriptions"`
	Days    []store.TrainingDay `json:"days"`
	Shorts  map[string]string   `json:"shorts" doc:"short names of the rails"`
	Today   body.Date           `json:"today"`
	WayBack *room.WayBack       `json:"wayBack,omitempty" doc:"the way back to running, dated"`
	Most    *body.Reason        `json:"most,omitempty" doc:"the most minutes of running a week holds for now, in words"`
	Race    *build.RaceRule     `json:"race,omitempty" doc:"what a race asks of today"`
}

// CurrentLine is one prescription in words.
type CurrentLine struct {
	Rail string    `json:"rail"`
	Side body.Side `json:"side" enum:"left,right,both"`
	Text string    `json:"text"`

	Reason body.Reason `json:"reason"`
}

func (s *server) week() {
	do(s, http.MethodGet, "/api/runners/{runner}/week", "week", "The week in force", func(ctx context.Context, in *RunnerPath) (WeekView, error) {
		o, err := s.desk.Open(ctx, actor(ctx), in.Runner)
		if err != nil {
			return WeekView{}, err
		}
		v := WeekView{InForce: o.Programme, ID: o.WeekID(), Lines: []CurrentLine{}, Days: []store.TrainingDay{}, Shorts: map[string]string{}, Today: o.Today, Race: build.RaceOn(o.Profile, o.Today, o.House), WayBack: o.WayBack()}
		if n, why := o.Facts().MostRunning(); n > 0 && v.WayBack == nil { // the way back says its own
			v.Most = &why
		}
		if o.Programme == nil {
			return v, nil
		}
		w := o.WeekShown()
		v.Week = &w
		for _, d := range o.Days {
			if d.On >= o.Today && d.On < o.Today.Add(14) {
				v.Days = append(v.Days, d)
			}
		}
		for _, r := range o.Catalogue.Rails {
			v.Shorts[r.ID] = r.Short
		}
		for _, p := range o.Prescriptions {
			v.Lines = append(v.Lines, CurrentLine{p.Rail, p.Side, p.Text(), o.WhyHere(p)})
		}
		return v, nil
	})
	do(s, http.MethodGet, "/api/runners/{runner}/week/moves", "week-moves", "Every place of the week for one session, with why not", func(ctx context.Context, in *struct {
		RunnerPath
		Rail string `query:"rail" required:"true"`
		From int    `query:"from" minimum:"0" maximum:"6" required:"true"`
	}) ([]build.Cell, error) {
		o, err := s.desk.Open(ctx, actor(ctx), in.Runner)
		if err != nil {
			return nil, err
		}
		return o.Moves(in.Rail, in.From)
	})
	do(s, http.MethodPut, "/api/runners/{runner}/weeks/{id}", "change-week", "Move a session, or take moves back", func(ctx context.Context, in *struct {
		RunnerPath
		RecordPath
		Body room.WeekChange
	}) (nothing, error) {
		return ok(s.desk.ChangeWeek(ctx, actor(ctx), in.Runner, in.ID, in.Body))
	})
}

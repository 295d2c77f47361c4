package room

import (
	"context"
	"fmt"
	"slices"

	"notchback/internal/core/barefoot"
	"notchback/internal/core/body"
	"notchback/internal/core/build"
	"notchback/internal/core/catalog"
	"notchback/internal/core/load"
	"notchback/internal/record"
	"notchback/internal/store"
)

// Plans are the programme's rails at the doses in force now.
func (o Chart) Plans() []build.RailPlan {
	out := slices.Clone(o.Programme.Plan.Rails)
	for i, r := range out {
		if !r.Chosen {
			continue
		}
		rail, _ := o.Catalogue.Find(r.Rail)
		out[i].Prescriptions, out[i].Seconds = []catalog.Prescription{}, 0
		for _, p := range o.Prescriptions {
			if p.Rail != r.Rail {
				continue
			}
			out[i].Prescriptions = append(out[i].Prescriptions, p)
		}
		for _, p := range out[i].Prescriptions {
			if x, ok := rail.Exercise(p.Exercise); ok && !p.Parked {
				out[i].Seconds = max(out[i].Seconds, x.Seconds(p.Dose, len(out[i].Prescriptions)))
			}
		}
	}
	return out
}

// Week is the weekly pattern in force, as it was built or moved since, with the minutes today's doses
// take.
func (o Chart) Week() build.Week {
	w := o.Programme.Plan.Week
	if len(o.Weeks) > 0 {
		w = o.Weeks[0].Week
	}
	return w.At(o.Plans())
}

// WeekShown is the week in force with what no longer fits into it: fixed runs, minutes and doses change.
func (o Chart) WeekShown() build.Week {
	w := o.Week()
	w.GaveWay = append(slices.Clone(w.GaveWay), build.Recheck(o.Catalogue, o.Plans(), w, o.Profile, o.House)...)
	return w
}

// noRoom lists the rails whose next planned days are all left out by the calendar.
func (o Chart) noRoom() []body.Reason {
	out := []body.Reason{}
	left := o.calendar().NoRoom(o.Today)
	for _, r := range o.Catalogue.Rails {
		if why, ok := left[r.ID]; ok {
			out = append(out, o.House.Because("today.no-room", "No room in the week: "+r.Name, "week.left-out").See("the next sessions",
				"left out: %s", why.Says))
		}
	}
	return out
}

// WeekID names the week in force: the move that made it, empty as it was built.
func (o Chart) WeekID() string {
	if len(o.Weeks) == 0 {
		return ""
	}
	return o.Weeks[0].ID
}

// WeekView is the week in force, today's doses and the days ahead. Without a programme its week is
// absent.
type WeekView struct {
	InForce *record.Programme    `json:"inForce,omitempty"`
	Week    *build.Week          `json:"week,omitempty"`
	ID      string               `json:"id" doc:"of the week as moved, empty as built"`
	Lines   []CurrentLine        `json:"lines" doc:"current prescriptions"`
	Days    []record.TrainingDay `json:"days"`
	Shorts  map[string]string    `json:"shorts" doc:"short names of the rails"`
	Today   body.Date            `json:"today"`
	WayBack *WayBack             `json:"wayBack,omitempty" doc:"the way back to running, dated"`
	Most    *body.Reason         `json:"most,omitempty" doc:"the most minutes of running a week holds for now, in words"`
	Race    *build.RaceRule      `json:"race,omitempty" doc:"what a race asks of today"`
	Lead    *load.Lead           `json:"lead,omitempty" doc:"who leads this week"`

	Bare     []barefoot.Placed `json:"bare" doc:"goes on bare feet of this week"`
	NoRoom   string            `json:"noRoom" doc:"why none found room; empty for nothing"`
	Workouts []body.Date       `json:"workouts" doc:"days whose run has blocks that a watch can count"`
}

// CurrentLine is one prescription in words.
type CurrentLine struct {
	Rail string    `json:"rail"`
	Side body.Side `json:"side"`
	Text string    `json:"text"`

	Reason body.Reason `json:"reason"`
}

// WeekRoom is where the week is seen and moved.
var WeekRoom = Room[WeekView]{record.NeedProposals, always(Chart.weekView)}

func (o Chart) weekView() WeekView {
	v := WeekView{InForce: o.Programme, ID: o.WeekID(), Lines: []CurrentLine{}, Days: []record.TrainingDay{}, Shorts: map[string]string{},
		Today: o.Today, Race: build.RaceOn(o.Profile, o.Today, o.House), WayBack: o.WayBack(), Workouts: o.workoutDays()}
	v.Bare, v.NoRoom = o.BareWeek(o.Today.Monday())
	if n, why := o.Facts().MostRunning(); n > 0 && v.WayBack == nil { // the way back says its own
		v.Most = &why
	}
	if o.Programme == nil {
		return v
	}
	v.Lead = o.leading()
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
	return v
}

// MovesRoom weighs every place of the week for one session.
func MovesRoom(rail string, from int) Room[[]build.Cell] {
	return Room[[]build.Cell]{record.NeedPlan, func(o Chart) ([]build.Cell, error) { return o.Moves(rail, from) }}
}

// Moves weighs every place of the week for one session.
func (o Chart) Moves(rail string, from int) ([]build.Cell, error) {
	if o.Programme == nil {
		return nil, fmt.Errorf("finding the week: %w", store.ErrNotFound)
	}
	return build.Moves(o.Catalogue, o.Plans(), o.Week(), o.Profile, rail, from, o.House), nil
}

// WeekChange moves one session, or takes moves back to an earlier week.
type WeekChange struct {
	Saw     string       `json:"saw" doc:"id of the week the coach saw, empty as built"`
	Rail    string       `json:"rail,omitempty"`
	From    int          `json:"from,omitempty" minimum:"0" maximum:"6"`
	To      int          `json:"to,omitempty" minimum:"0" maximum:"6"`
	Slot    catalog.Slot `json:"slot,omitempty" enum:"before,run,after,own,evening,habit,"`
	Restore bool         `json:"restore,omitempty" doc:"back to an earlier week instead of a move"`
	Week    string       `json:"week,omitempty" doc:"with restore: id of that week, empty as built"`
}

// ChangeWeek moves a session from today on, or restores an earlier week. A move that breaks a hard rule
// is refused with the rule; ErrStale when somebody changed the week meanwhile.
func (d *Desk) ChangeWeek(ctx context.Context, a Actor, runner, id string, x WeekChange) error {
	return d.Change(ctx, a, runner, record.NeedPlan, func(tx *store.Tx, o Chart) error {
		if o.Programme == nil {
			return fmt.Errorf("finding the week: %w", store.ErrNotFound)
		}
		if slices.ContainsFunc(o.Weeks, func(w record.Moved) bool { return w.ID == id }) {
			return nil
		}
		if o.WeekID() != x.Saw {
			return fmt.Errorf("moving a session: %w", store.ErrStale)
		}
		next, err := o.changed(x)
		if err != nil {
			return err
		}
		until := o.Programme.On.Add(7 * weeksAhead)
		return tx.AddWeek(ctx, runner, o.Programme.ID, id, o.Today, next, dated(next, o.Today, until), a.Coach)
	})
}

func (o Chart) changed(x WeekChange) (build.Week, error) {
	if !x.Restore {
		return build.Move(o.Catalogue, o.Plans(), o.Week(), o.Profile, x.Rail, x.From, x.To, x.Slot, o.House)
	}
	back := o.Programme.Plan.Week
	if x.Week != "" {
		i := slices.IndexFunc(o.Weeks, func(w record.Moved) bool { return w.ID == x.Week })
		if i < 0 {
			return back, fmt.Errorf("finding the earlier week: %w", store.ErrNotFound)
		}
		back = o.Weeks[i].Week
	}
	return back, nil
}

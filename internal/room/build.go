package room

import (
	"context"
	"fmt"
	"slices"

	"notchback/internal/core/adjust"
	"notchback/internal/core/body"
	"notchback/internal/core/build"
	"notchback/internal/core/catalog"
	"notchback/internal/core/load"
	"notchback/internal/record"
	"notchback/internal/store"
)

// weeksAhead is how many dated weeks a programme lays out. It reaches well past the retest, so that a
// late retest leaves nobody without a session.
const weeksAhead = 12

// choices are what the coach set in the programme in force.
func (o Chart) choices() build.Choices {
	if o.Programme == nil {
		return build.Choices{}.Normalise()
	}
	c := o.Programme.Plan.Choices
	if len(o.Weeks) > 0 { // sessions moved since
		c.Sessions = o.Weeks[0].Week.Pins()
	}
	return c
}

func (o Chart) phase() build.Phase {
	if o.Programme == nil {
		return ""
	}
	return o.Programme.Plan.Phase
}

func (o Chart) buildInput(c build.Choices) build.Input {
	in := build.Input{Profile: o.Profile, Trials: o.Trials(), Stops: o.Stops, Limits: o.Limits, Mornings: o.Mornings,
		Sessions: adjust.Hurts(o.Logs, o.Catalogue), Bare: o.bareHurts(), Spoke: o.spoke(), Flatter: o.flatter(), FeelingSince: o.FeelingFrom,
		Reach: o.Today.Add(-history), Choices: c.Normalise(), Before: o.choices(), Own: o.Own, Today: o.Today, House: o.House,
		Current: o.Prescriptions, Rested: o.Rested, Runs: o.Runs}
	if o.Programme != nil {
		in.Built = o.Programme.On
		in.Was = newest(slices.DeleteFunc(o.Visits(), func(s record.Screen) bool { return s.On > in.Built }))
	}
	in.Done = adjust.Done(o.Logs)
	return in
}

// draftInput is buildInput with what only a new programme asks.
func (o Chart) draftInput(c build.Choices) build.Input {
	in := o.buildInput(c)
	in.Stalled = o.stalled()
	return in
}

// Draft builds a programme without storing it. Without choices of its own it takes those in force.
func (o Chart) Draft(c *build.Choices) (build.Programme, error) {
	if c == nil {
		now := o.choices()
		c = &now
	}
	if err := c.Check(o.Catalogue); err != nil {
		return build.Programme{}, err
	}
	return build.Make(o.draftInput(*c)), nil
}

// BuildView is the programme in force and the one that would be built now.
type BuildView struct {
	Draft   build.Programme   `json:"draft"`
	InForce *record.Programme `json:"inForce,omitempty"`
	Today   body.Date         `json:"today"`
	Lead    *load.Lead        `json:"lead,omitempty" doc:"who leads this week, once a programme is in force"`
}

// BuildRoom is where a programme is drafted: with the choices in force when none are given.
func BuildRoom(c *build.Choices) Room[BuildView] {
	return Room[BuildView]{record.NeedFacts, func(o Chart) (v BuildView, err error) {
		v = BuildView{InForce: o.Programme, Today: o.Today}
		v.Lead = o.leading()
		v.Draft, err = o.Draft(c)
		v.Draft.Choices = v.Draft.Choices.Named()
		return v, err
	}}
}

// NotchesRoom offers the notches of one rail, for setting one by hand in a phase; those out of reach say why.
func NotchesRoom(rail string, phase build.Phase) Room[[]catalog.Notch] {
	return Room[[]catalog.Notch]{record.NeedFacts, func(o Chart) ([]catalog.Notch, error) {
		r, ok := o.Catalogue.Find(rail)
		if !ok {
			return nil, fmt.Errorf("no rail %q: %w", rail, store.ErrNotFound)
		}
		return o.Offered(r, phase), nil
	}}
}

// CompareRoom sets two drafts side by side.
func CompareRoom(a, b build.Choices) Room[[]build.Difference] {
	return Room[[]build.Difference]{record.NeedFacts, func(o Chart) ([]build.Difference, error) {
		first, err := o.Draft(&a)
		if err != nil {
			return nil, err
		}
		second, err := o.Draft(&b)
		return build.Compare(first, second), err
	}}
}

// limits bound one side in the phase in force. They are gathered once for a chart.
func (o Chart) limits(side body.Side) catalog.Limits {
	if _, ok := o.memo.limits[side]; !ok {
		if o.memo.bounds == nil {
			o.memo.bounds = build.Limits(o.inForce(), o.phase(), o.Facts())
		}
		o.memo.limits[side] = o.memo.bounds(side)
	}
	return o.memo.limits[side]
}

// Offered lists the notches of a rail for setting one by hand in a phase: those out of reach on both
// sides say why.
func (o Chart) Offered(rail catalog.Rail, phase build.Phase) []catalog.Notch {
	var out []catalog.Notch
	for _, side := range rail.Sides() {
		l := o.limits(side)
		l.NoRM = build.NoRM(phase)
		notches := rail.Every(l)
		if out == nil {
			out = notches
			continue
		}
		for i := range out {
			if i < len(notches) && notches[i].Barred == "" {
				out[i].Barred = ""
			}
		}
	}
	return out
}

// Build makes the programme of today and stores it with its dated days. Repeating it with the same
// id is the same write.
func (d *Desk) Build(ctx context.Context, a Actor, runner, id string, c build.Choices) error {
	return d.Change(ctx, a, runner, record.NeedFacts, func(tx *store.Tx, o Chart) error { return o.BuildIn(ctx, tx, a, id, c) })
}

// BuildIn is Build inside a transaction that has loaded the runner.
func (o Chart) BuildIn(ctx context.Context, tx *store.Tx, a Actor, id string, c build.Choices) error {
	if o.Programme != nil && o.Programme.ID == id {
		return nil
	}
	p, err := o.Draft(&c)
	if err != nil {
		return err
	}
	if p.Refuse != "" {
		return body.Refuse("programme", "%s", p.Refuse)
	}
	prescriptions := []catalog.Prescription{}
	for i := range p.Rails {
		if !p.Rails[i].Chosen {
			continue
		}
		for j := range p.Rails[i].Prescriptions {
			p.Rails[i].Prescriptions[j].ID = store.NewID()
			prescriptions = append(prescriptions, p.Rails[i].Prescriptions[j])
		}
	}
	if len(prescriptions) == 0 {
		return body.Refuse("programme", "no rail is chosen: screen first, or bring a rail back in")
	}
	until := o.Today.Add(7 * weeksAhead)
	return tx.AddProgramme(ctx, o.ID, id, p, o.draftInput(c), o.House.Version, dated(p.Week, o.Today, until), prescriptions, a.Coach)
}

// dated lays a weekly pattern out from a day up to, not including, another.
func dated(w build.Week, from, until body.Date) []record.TrainingDay {
	days := []record.TrainingDay{}
	for on := from; on < until; on = on.Add(1) {
		for _, e := range w.Days[on.Sub(on.Monday())].Entries {
			days = append(days, record.TrainingDay{On: on, Rail: e.Rail, Slot: e.Slot})
		}
	}
	return days
}

// WhyHere explains a prescription in force: the move that brought it, or where it was placed.
func (o Chart) WhyHere(p catalog.Prescription) body.Reason {
	causes := map[string]string{"up": "moved up", "back": "moved back", "cramp": "set by a cramp", "half dose": "halved below the first notch",
		"return": "returned after a pause", "parked": "parked", "missed": "parked: too long without a session",
		"retest": "parked: a warning sign that asks for a new test"}
	for _, plan := range o.Programme.Plan.Rails {
		for i, placed := range plan.Prescriptions {
			if placed.ID == p.ID {
				return plan.Placed[len(plan.Placed)-len(plan.Prescriptions)+i]
			}
		}
	}
	r := o.House.Because("dose.moved", causes[p.Cause]).SeeOn(p.From, "since", "%s", p.Text())
	for _, d := range o.Decisions {
		if d.To == p.ID && d.From != d.To {
			r = r.SeeOn(d.On, "decided by "+d.Coach, "%s (proposed: %s) %s", d.Verdict, d.Proposed, d.Word)
		}
	}
	return r
}

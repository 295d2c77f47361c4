package job

import (
	"context"

	"notchback/internal/core/body"
	"notchback/internal/core/build"
	"notchback/internal/core/catalog"
	"notchback/internal/store"
)

// weeksAhead is how many dated weeks a programme lays out. It reaches well past the retest, so that a
// late retest leaves nobody without a session.
const weeksAhead = 12

func (o Open) buildInput(without, also []string) build.Input {
	in := build.Input{Profile: o.Profile, Trials: o.Trials(), Stops: o.Stops, Mornings: o.Mornings, Without: without, Also: also, Today: o.Today, House: o.House, Current: o.Prescriptions}
	if o.Programme != nil {
		in.Built = o.Programme.On
	}
	return in
}

// Draft builds a programme without storing it.
func (o Open) Draft(without, also []string) build.Programme {
	return build.Make(o.buildInput(without, also))
}

// Build makes the programme of today and stores it with its dated days. Repeating it with the same
// id is the same write.
func (d *Desk) Build(ctx context.Context, a Actor, runner, id string, without, also []string) error {
	return d.With(ctx, a, runner, func(tx *store.Tx, o Open) error { return o.BuildIn(ctx, tx, a, id, without, also) })
}

// BuildIn is Build inside a transaction that has loaded the runner.
func (o Open) BuildIn(ctx context.Context, tx *store.Tx, a Actor, id string, without, also []string) error {
	if o.Programme != nil && o.Programme.ID == id {
		return nil
	}
	in := o.buildInput(without, also)
	p := build.Make(in)
	if p.Refuse != "" {
		return body.Refuse("programme", "%s", p.Refuse)
	}
	prescriptions := []catalog.Prescription{}
	for i := range p.Rails {
		for j := range p.Rails[i].Prescriptions {
			p.Rails[i].Prescriptions[j].ID = store.NewID()
			prescriptions = append(prescriptions, p.Rails[i].Prescriptions[j])
		}
	}
	if len(prescriptions) == 0 {
		return body.Refuse("programme", "no rail is chosen: screen first, or bring a rail back in")
	}
	days := []store.TrainingDay{}
	for w := range weeksAhead + 1 {
		for _, day := range p.Week.Days {
			on := o.Today.Monday().Add(7*w + day.Weekday)
			if on < o.Today || on >= o.Today.Add(7*weeksAhead) {
				continue
			}
			for _, e := range day.Entries {
				days = append(days, store.TrainingDay{On: on, Rail: e.Rail, Slot: e.Slot})
			}
		}
	}
	return tx.AddProgramme(ctx, o.ID, id, p, in, o.House.Version, days, prescriptions, a.Coach)
}

// WhyHere explains a prescription in force: the move that brought it, or where it was placed.
func (o Open) WhyHere(p catalog.Prescription) body.Reason {
	causes := map[string]string{"up": "moved up", "back": "moved back", "cramp": "set by a cramp", "half dose": "halved below the first notch", "return": "returned after a pause", "parked": "parked"}
	for _, plan := range o.Programme.Plan.Rails {
		for i, placed := range plan.Prescriptions {
			if placed.ID == p.ID {
				return plan.Placed[len(plan.Placed)-len(plan.Prescriptions)+i]
			}
		}
	}
	r := o.House.Because("dose.moved", causes[p.Cause]).SeeOn(p.From, "since", "%s", p.Text())
	for _, d := range o.Decisions {
		if d.To == p.ID {
			r = r.SeeOn(d.On, "decided by "+d.Coach, "%s (proposed: %s) %s", d.Verdict, d.Proposed, d.Word)
		}
	}
	return r
}

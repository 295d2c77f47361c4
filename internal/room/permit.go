package room

import (
	"context"
	"slices"

	"notchback/internal/core/body"
	"notchback/internal/core/build"
	"notchback/internal/core/load"
	"notchback/internal/core/permit"
	"notchback/internal/core/refer"
	"notchback/internal/core/screen"
	"notchback/internal/record"
	"notchback/internal/store"
)

// Facts are what core/permit judges this runner by today.
func (o Chart) Facts() permit.Facts {
	f := o.before()
	if s := o.BareState(); s != nil {
		f.Reached = &s.Now.Stage
	}
	return f
}

// before are the facts before the transition to bare feet has its say, which is judged by them itself.
func (o Chart) before() permit.Facts {
	if o.memo.facts == nil {
		f := o.inForce().Facts()
		if o.memo.facts = &f; o.RunningID != "" {
			f.Weeks = map[body.Date]int{}
			for _, x := range o.Running.Spans {
				if x.Kind == load.Holiday && !x.Runs {
					f.Away = append(f.Away, x)
				}
			}
			for _, w := range o.runningWeeks(f) {
				if w.From >= o.Today.Monday() && w.By != "none" {
					f.Weeks[w.From] = w.Planned
				}
			}
		}
	}
	return *o.memo.facts
}

// inForce is what the programme in force is judged from, gathered once for a chart.
func (o Chart) inForce() build.Input {
	if o.memo.input == nil {
		in := o.buildInput(o.choices())
		o.memo.input = &in
	}
	return *o.memo.input
}

// Permissions is what a runner's page says of what may be done.
type Permissions struct {
	Cautions []permit.InForce `json:"cautions" doc:"in force today, with the limits recorded for each"`
	Patterns []permit.Pattern `json:"patterns" doc:"that lock until a finding opens them"`
	Unknown  []permit.Unknown `json:"unknown" doc:"asked first, answered without a new screen"`
	Heels    []body.Side      `json:"heels" doc:"legs of which a sore heel was recorded as one place: ask whether it is the sole or the back"`
	Dropped  []string         `json:"dropped" doc:"approaches chosen before and offered no more: shown until the intake is saved"`
	Pauses   []permit.Mark    `json:"pauses" doc:"reports so high that the coach speaks with the runner first"`
	Running  permit.Answer    `json:"running" doc:"whether easy running may go on"`
}

// Permissions assembles it.
func (o Chart) Permissions() Permissions {
	f := o.Facts()
	return Permissions{Cautions: f.InForce(), Patterns: f.Patterns(), Unknown: f.Unknowns(), Heels: o.Profile.Heels(),
		Dropped: append([]string{}, o.Dropped...), Pauses: f.Pauses, Running: f.Run(body.EasyMinutes)}
}

// SetLimit stores what somebody recorded for a caution or a pattern.
func (d *Desk) SetLimit(ctx context.Context, a Actor, runner string, l refer.Limit) error {
	return d.Change(ctx, a, runner, 0, func(tx *store.Tx, o Chart) error {
		if err := refer.CheckLimit(l, o.Today); err != nil {
			return err
		}
		return tx.AddLimit(ctx, runner, l, a.Coach)
	})
}

// TellHeel keeps which places of a heel recorded as one are sore. Told again it changes nothing.
func (d *Desk) TellHeel(ctx context.Context, a Actor, runner string, leg body.Side, sore []body.Region) error {
	if len(sore) == 0 || (leg != body.Left && leg != body.Right) ||
		slices.ContainsFunc(sore, func(r body.Region) bool { return !slices.Contains(body.Heel.Places(), r) }) {
		return body.Refuse("sore", "say which leg, and whether its sole, its back or both are sore")
	}
	return d.Change(ctx, a, runner, 0, func(tx *store.Tx, o Chart) error {
		if !slices.Contains(o.Profile.Heels(), leg) {
			return nil
		}
		return tx.EditRunner(ctx, runner, o.Version, o.Name, o.Timezone, o.Profile.TellHeel(leg, sore...), a.Coach)
	})
}

// Healed is the runner's own word that a small sign is over.
func (d *Desk) Healed(ctx context.Context, a Actor, runner, stop, id string) error {
	return d.Change(ctx, a, runner, 0, func(tx *store.Tx, o Chart) error {
		for _, s := range o.Stops {
			if s.ID == stop {
				c := refer.Clearance{ID: id, Kind: "healed", Who: o.Name, On: o.Today}
				if err := refer.CheckClearance(s, c, o.Today); err != nil {
					return err
				}
				return tx.AddClearance(ctx, stop, c, "")
			}
		}
		return store.ErrNotFound
	})
}

// RaiseUsual sets the level mornings of a place are judged against, in the coach's own word.
func (d *Desk) RaiseUsual(ctx context.Context, a Actor, runner string, u build.Usual, word string) error {
	return d.Change(ctx, a, runner, record.NeedPlan, func(tx *store.Tx, o Chart) error {
		if o.Programme == nil {
			return store.ErrNotFound
		}
		if u.Level < 0 || u.Level > 10 || !u.Region.Valid() || !u.Side.Valid() {
			return body.Refuse("level", "needs a place, a side and a number from 0 to 10")
		}
		u.Raised = true
		u.Reason = o.House.Because("usual.coach", "set by the coach").See("word", "%s", word)
		return tx.AddUsual(ctx, runner, o.Programme.ID, u)
	})
}

// spoke is the newest report the coach had when the warning signs were last asked in person.
func (o Chart) spoke() int64 {
	n := int64(-1)
	for _, c := range o.Checks {
		if c.By != "" {
			n = max(n, c.Seq)
		}
	}
	return n
}

// flatter are the arches that grew newly flatter between the last two visits that looked.
func (o Chart) flatter() []body.Side { return screen.Flatter(o.visits(), o.House) }

// stalled are the findings that two retests found the same.
func (o Chart) stalled() map[body.Side][]string {
	visits := o.visits()
	if len(visits) < 3 {
		return nil
	}
	return screen.Stalled(visits, o.Profile, o.House)
}

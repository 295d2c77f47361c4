package job

import (
	"context"
	"slices"

	"notchback/internal/core/adjust"
	"notchback/internal/core/body"
	"notchback/internal/core/build"
	"notchback/internal/core/catalog"
	"notchback/internal/core/permit"
	"notchback/internal/core/refer"
	"notchback/internal/core/screen"
	"notchback/internal/store"
)

// memo keeps what one reading of a chart computes once.
type memo struct {
	limits    map[body.Side]catalog.Limits
	facts     *permit.Facts
	proposals []adjust.Proposal
	proposed  bool
}

// Facts are what core/permit judges this runner by today.
func (o Open) Facts() permit.Facts {
	if o.memo.facts == nil {
		f := o.buildInput(o.choices()).Facts()
		o.memo.facts = &f
	}
	return *o.memo.facts
}

// Permissions is what a runner's page says of what may be done.
type Permissions struct {
	Cautions []permit.InForce `json:"cautions" doc:"in force today, with the limits recorded for each"`
	Patterns []permit.Pattern `json:"patterns" doc:"that lock until a finding opens them"`
	Unknown  []permit.Unknown `json:"unknown" doc:"asked first, answered without a new screen"`
	Pauses   []permit.Mark    `json:"pauses" doc:"reports so high that the coach speaks with the runner first"`
	Running  permit.Answer    `json:"running" doc:"whether easy running may go on"`
}

// Permissions assembles it.
func (o Open) Permissions() Permissions {
	f := o.Facts()
	return Permissions{Cautions: f.InForce(), Patterns: f.Patterns(), Unknown: f.Unknowns(), Pauses: f.Pauses, Running: o.mayRun(body.EasyMinutes)}
}

// mayRun asks for a part of a run.
func (o Open) mayRun(part body.RunPart) permit.Answer {
	return o.Facts().May(permit.Ask{Demand: body.Demand{Level: 2, Trains: body.BothLegs, Bears: body.BothLegs, Position: "standing", Run: part}, Side: body.Both, InForce: true})
}

// runPart is the part of a run a fixed run stands for.
func runPart(r body.FixedRun) body.RunPart {
	if r.Quality == "quality" {
		return body.Quality
	}
	return body.EasyMinutes
}

// SetLimit stores what somebody recorded for a caution or a pattern.
func (d *Desk) SetLimit(ctx context.Context, a Actor, runner string, l refer.Limit) error {
	return d.With(ctx, a, runner, func(tx *store.Tx, o Open) error {
		if err := refer.CheckLimit(l, o.Today); err != nil {
			return err
		}
		return tx.AddLimit(ctx, runner, l, a.Coach)
	})
}

// Healed is the runner's own word that a small sign is over.
func (d *Desk) Healed(ctx context.Context, a Actor, runner, stop, id string) error {
	return d.With(ctx, a, runner, func(tx *store.Tx, o Open) error {
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
	return d.With(ctx, a, runner, func(tx *store.Tx, o Open) error {
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

// hurtful are the sessions of the last weeks that hurt much, by side, at the exercise's first place.
func (o Open) hurtful() []permit.Mark {
	out := []permit.Mark{}
	for _, l := range o.Logs {
		rail, _ := o.Catalogue.Find(l.Prescription.Rail)
		x, ok := rail.Exercise(l.Prescription.Exercise)
		pain := l.Pain
		for _, w := range l.Was {
			pain = max(pain, w.Pain)
		}
		if !ok || x.Class == catalog.Releasing || pain <= 5 || o.Today.Sub(l.On) > 28 {
			continue
		}
		side := l.Prescription.Side
		if x.Both() {
			side = body.Both
		}
		m := permit.Mark{Region: body.WholePerson, Side: side, Pain: pain, On: l.On, Seq: l.Seq}
		if len(x.Main) > 0 {
			m.Region = x.Main[0]
		}
		out = append(out, m)
	}
	return out
}

// spoke is the newest report the coach had when the warning signs were last asked in person.
func (o Open) spoke() int64 {
	n := int64(-1)
	for _, c := range o.Checks {
		if c.By != "" {
			n = max(n, c.Seq)
		}
	}
	return n
}

// corrected joins each log with what it corrects: of several corrections of one log the newest stands.
func corrected(logs []adjust.Log) []adjust.Log {
	at := map[string]int{}
	for i, l := range logs {
		at[l.ID] = i
	}
	root := func(l adjust.Log) string {
		for range len(logs) {
			i, ok := at[l.Supersedes]
			if l.Supersedes == "" {
				return l.ID
			}
			if !ok { // older than the chart reaches
				return l.Supersedes
			}
			l = logs[i]
		}
		return l.ID
	}
	groups := map[string][]adjust.Log{}
	var order []string
	for _, l := range logs {
		r := root(l)
		if groups[r] == nil {
			order = append(order, r)
		}
		groups[r] = append(groups[r], l)
	}
	out := make([]adjust.Log, 0, len(logs))
	for _, r := range order {
		g := groups[r]
		slices.SortStableFunc(g, func(a, b adjust.Log) int { return int(a.Seq - b.Seq) })
		last := g[len(g)-1]
		last.On, last.Was = g[0].On, g[:len(g)-1] // a correction keeps the day of what it corrects
		if len(last.Was) == 0 {
			last.Was = nil
		}
		out = append(out, last)
	}
	slices.SortStableFunc(out, func(a, b adjust.Log) int { return a.On.Sub(b.On) })
	return out
}

// flatter are the arches that grew newly flatter between the last two visits that looked.
func (o Open) flatter() []body.Side { return screen.Flatter(o.visits(), o.House) }

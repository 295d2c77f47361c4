package room

import (
	"context"
	"fmt"
	"slices"
	"strings"

	"notchback/internal/core/barefoot"
	"notchback/internal/core/body"
	"notchback/internal/core/load"
	"notchback/internal/core/refer"
	"notchback/internal/record"
	"notchback/internal/store"
)

// PlanBarefoot begins, changes or ends the transition. saw is the id of the plan the coach saw, empty for none; ErrStale when somebody
// wrote another meanwhile. Sent again it is the same.
func (d *Desk) PlanBarefoot(ctx context.Context, a Actor, runner, id, saw string, p barefoot.Plan) error {
	return d.Change(ctx, a, runner, record.NeedProposals, func(tx *store.Tx, o Chart) error {
		switch {
		case o.BarefootID == id:
			return nil
		case o.BarefootID != saw:
			return fmt.Errorf("planning the transition: %w", store.ErrStale)
		}
		was := o.Barefoot
		switch goes := was.InForce(); {
		case goes && p.Aim == was.Aim && p.Shoe == was.Shoe: // where it began is no matter of today
			p.On, p.Start, p.Begun = was.On, was.Start, was.Begun
		case goes:
			p.On, p.Start, p.Begun = o.Today, barefoot.At{}, id
		default:
			p.On, p.Begun = o.Today, id
		}
		if p.Ended != "" {
			p.Ended = o.Today
		}
		if err := p.Check(o.Today); err != nil {
			return err
		}
		if err := o.mayStart(p); err != nil {
			return err
		}
		return tx.AddBarefoot(ctx, runner, id, p, a.Coach)
	})
}

// mayStart refuses a beginning beyond the gate and what is allowed, or a step to a shoe that is too long.
func (o Chart) mayStart(p barefoot.Plan) error {
	if p.Ended != "" || o.Barefoot.Begun == p.Begun {
		return nil
	}
	f := o.before()
	allowed, why, _ := f.Bare()
	switch most := min(allowed, f.Gate().Cap); {
	case most == barefoot.None:
		if why == "" {
			why = f.Gate().Decides[0].Why.Says
		}
		return body.Refuse("start", "nothing on bare feet begins now: %s", why)
	case p.Start.Stage > most:
		return body.Refuse("start", "the gate leaves %s", barefoot.StageName(most))
	}
	if p.Aim == barefoot.ThinShoe {
		pairs := o.pairs()
		if s := barefoot.StepTo(pairOf(pairs, p.From), pairOf(pairs, p.Shoe), o.House); !s.Fits {
			return body.Refuse("shoe", "%s", s.Why.Says)
		}
	}
	if p.Start.Stage >= barefoot.RunWalk && p.Start.Minutes < 1 {
		return body.Refuse("start", "say how many minutes a week they run bare already")
	}
	return nil
}

// DecideBare takes what the transition asks for, or another place that is allowed with a word why. saw is the newest report the coach
// saw: ErrStale when something came in since.
func (d *Desk) DecideBare(ctx context.Context, a Actor, runner, id string, to barefoot.At, saw int64, word string) error {
	return d.Change(ctx, a, runner, record.NeedProposals, func(tx *store.Tx, o Chart) error {
		if slices.ContainsFunc(o.BareMoves, func(m barefoot.Move) bool { return m.ID == id }) {
			return nil
		}
		s, r := o.BareState(), o.Transition()
		switch {
		case s == nil:
			return store.ErrNotFound
		case s.Saw != saw:
			return fmt.Errorf("deciding on the transition: %w", store.ErrStale)
		}
		if to.Stage >= barefoot.RunWalk && to.Minutes < 1 {
			return body.Refuse("to", "say how many minutes a week")
		}
		m := s.Decide(*r, to, word)
		if m == nil {
			return body.Refuse("to", "choose a place no further than %s", s.Furthest(*r).Dose().Words)
		}
		if strings.TrimSpace(word) == "" && to != s.To {
			return body.Refuse("word", "say in a word why you decide otherwise")
		}
		m.ID = id
		return tx.AddBareMove(ctx, runner, *m, *r, a.Coach)
	})
}

// AddBare stores a go on bare feet. Pain on a bone of the top of the foot is a warning sign, and so is broken skin: they are recorded
// with it.
func (d *Desk) AddBare(ctx context.Context, a Actor, runner, source string, l barefoot.Log) error {
	return d.report(ctx, a, runner, func(tx *store.Tx, o Chart) error {
		asOf, err := o.asOf(source, l.On)
		if err != nil {
			return err
		}
		if err := l.Check(asOf); err != nil {
			return err
		}
		if err := tx.AddBareLog(ctx, runner, l, source); err != nil {
			return err
		}
		for _, s := range bareSigns(l, source) {
			if s.On < o.Today.Add(-60) {
				s.On = o.Today
			}
			if slices.ContainsFunc(o.Stops, func(was refer.Stop) bool { // the phone has told of it by itself
				return was.Sign == s.Sign && was.Open() && was.Touches(s.Side) && was.On == s.On
			}) {
				continue
			}
			if err := tx.AddStop(ctx, runner, s); err != nil {
				return err
			}
		}
		return nil
	})
}

// bareSigns are the warning signs that a go tells of. Their ids follow from its own, so that sent again they are the same.
func bareSigns(l barefoot.Log, source string) []refer.Stop {
	out := []refer.Stop{}
	if l.Bone != "" && l.Bone != "no" {
		out = append(out, refer.Stop{ID: store.Derived(l.ID, "bone"), Sign: "bone", Region: body.TopOfFoot, Side: body.Side(l.Bone),
			Which: []string{"top"}, On: l.On, Source: source})
	}
	if l.Skin == "broken" {
		side := l.SkinSide
		if side == "" {
			side = body.Both
		}
		out = append(out, refer.Stop{ID: store.Derived(l.ID, "skin"), Sign: "blister", Region: body.Arch, Side: side, On: l.On,
			Source: source})
	}
	return out
}

// BareIf is what might be otherwise in the weeks ahead.
type BareIf struct {
	Grow *float64 `json:"grow,omitempty" minimum:"0" maximum:"10" doc:"growth of running, % a week; absent: as planned"`
	Lost int      `json:"lost" minimum:"0" maximum:"12" doc:"weeks lost, from today on"`
}

// BareIfRoom reckons the dates under it; nothing is stored.
func BareIfRoom(what BareIf) Room[barefoot.Ahead] {
	return Room[barefoot.Ahead]{record.NeedProposals, func(o Chart) (barefoot.Ahead, error) {
		r := o.Transition()
		if r == nil {
			return barefoot.Ahead{}, store.ErrNotFound
		}
		x := *r
		x.Weeks = o.bareOutlook(o.before(), what.Grow).Weeks()
		return x.Ahead(what.Lost), nil
	}}
}

// LeadBarefoot gives a week to the barefoot dial, this one or a later one: the coach's pick.
func (d *Desk) LeadBarefoot(ctx context.Context, a Actor, runner, id string, week body.Date) error {
	return d.Change(ctx, a, runner, record.NeedFacts, func(tx *store.Tx, o Chart) error {
		if o.RunningID == id {
			return nil
		}
		p := o.Running.Normalise()
		p.Weeks = slices.Clone(p.Weeks)
		i := slices.IndexFunc(p.Weeks, func(w load.PlannedWeek) bool { return w.From == week.Monday() })
		if i < 0 {
			i, p.Weeks = len(p.Weeks), append(p.Weeks, load.PlannedWeek{From: week.Monday(), Minutes: -1})
		}
		p.Weeks[i].Lead = load.Barefoot
		written, err := p.Written(o.Running, o.RunningWeeks(), o.Today)
		if err != nil {
			return err
		}
		return tx.AddRunning(ctx, runner, id, written, a.Coach)
	})
}

package demo

import (
	"context"

	"notchback/internal/core/barefoot"
	"notchback/internal/core/body"
	"notchback/internal/core/load"
	"notchback/internal/core/screen"
	"notchback/internal/record"
	"notchback/internal/room"
	"notchback/internal/store"
)

// bare is a member's transition to bare feet or thinner shoes.
type bare struct {
	plan  barefoot.Plan
	from  int // days ago it began
	wish  int // in so many days; 0 none
	hurts int // the first go of so many days ago and later hurt
	gait  int // days ago the gait was looked at on bare feet; 0 not
}

// bares are the transitions by name; who is not here has none.
var bares = map[string]*bare{
	"Noor Vale":   {plan: barefoot.Plan{Aim: barefoot.BareFeet, Cap: 20}, from: 34},
	"Marek Dolny": {plan: barefoot.Plan{Aim: barefoot.BareFeet, Cap: 10, Start: barefoot.At{Stage: barefoot.Walking}}, from: 80},
	"Runa Skarv": {plan: barefoot.Plan{Aim: barefoot.BareFeet, Cap: 20, Start: barefoot.At{Stage: barefoot.Bouncing, Step: 2}}, from: 36,
		gait: 24, hurts: 5},
	"Jory Pell": {plan: barefoot.Plan{Aim: barefoot.ThinShoe, Cap: 60, From: "daily pair", Shoe: "light pair",
		Start: barefoot.At{Stage: barefoot.Walking}}, from: 44},
	"Wren Calder": {plan: barefoot.Plan{Aim: barefoot.BareFeet, Cap: 20}, from: 17, wish: 40},
}

// goBare is a day of the transition: it begins, what was planned is done and told, and the coach takes it further.
func (l *life) goBare(ctx context.Context, today body.Date, ago int) error {
	b := bares[l.name]
	if b == nil || ago > b.from || ago < l.silent {
		return nil
	}
	if ago == b.from {
		return l.beginBare(ctx, b, today)
	}
	if ago == b.gait {
		if err := l.bareGait(ctx, today); err != nil {
			return err
		}
	}
	o, err := l.desk.Load(ctx, l.tx, l.runner, record.NeedProposals)
	if err != nil {
		return err
	}
	placed, _ := o.BareWeek(today.Monday())
	for _, p := range placed {
		if p.On != today || ago == 0 {
			continue
		}
		g := barefoot.Log{ID: store.NewID(), On: today, Stage: p.Stage, Minutes: float64(p.Minutes * p.Times), Contacts: p.Contacts,
			Whole: p.Part == "all", Surface: []string{"floor", "track", "floor", "grass", "track", "sand"}[p.Stage], Pain: "0", Skin: "fine",
			Bone: "no"}
		if ago <= b.hurts && !l.hurt {
			g.Pain, g.Region, g.Side, l.hurt = "6", body.Calf, body.Right, true
		}
		if err := l.tx.AddBareLog(ctx, l.runner, g, "phone"); err != nil {
			return err
		}
	}
	if ago <= l.decideTo {
		return nil
	}
	if o, err = l.desk.Load(ctx, l.tx, l.runner, record.NeedProposals); err != nil {
		return err
	}
	s, r := o.BareState(), o.Transition()
	if s == nil || !s.Asks() {
		return nil
	}
	m := s.Decide(*r, s.To, "")
	m.ID = store.NewID()
	l.known = room.Chart{}
	return l.tx.AddBareMove(ctx, l.runner, *m, *r, l.actor.Coach)
}

// beginBare begins it, and gives the coming weeks to the barefoot dial.
func (l *life) beginBare(ctx context.Context, b *bare, today body.Date) error {
	p := b.plan
	if p.On = today; b.wish > 0 {
		p.Wish = today.Add(b.from + b.wish)
	}
	weeks := load.Plan{}.Normalise()
	for i := range 26 {
		weeks.Weeks = append(weeks.Weeks, load.PlannedWeek{From: today.Monday().Add(7 * i), Minutes: -1, Lead: load.Barefoot})
	}
	if err := l.tx.AddRunning(ctx, l.runner, store.NewID(), weeks, l.actor.Coach); err != nil {
		return err
	}
	l.known = room.Chart{}
	p.Begun = store.NewID()
	return l.tx.AddBarefoot(ctx, l.runner, p.Begun, p, l.actor.Coach)
}

// bareGait is the look at the gait on bare feet that is asked for before running.
func (l *life) bareGait(ctx context.Context, today body.Date) error {
	id := store.NewID()
	measures := []string{body.GaitCadence, body.GaitSound, body.GaitStrike}
	if err := l.tx.AddScreen(ctx, l.runner, id, today, "gait", measures); err != nil {
		return err
	}
	at := &screen.Context{Pace: "easy", Shod: "barefoot", Surface: "track", SpeedKmh: 10}
	for _, f := range []figures{{body.GaitCadence, [2]float64{44}, ""}, {body.GaitSound, [2]float64{0}, ""},
		{body.GaitStrike, [2]float64{2, 1}, ""}} {
		for _, t := range f.trials(l.member, today) {
			t.Context = at
			if err := l.enter(ctx, l.tx, l.actor, l.runner, id, t); err != nil {
				return err
			}
		}
	}
	l.known = room.Chart{}
	return l.tx.FinishScreen(ctx, l.runner, id)
}

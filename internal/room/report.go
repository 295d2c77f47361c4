package room

import (
	"context"
	"errors"

	"notchback/internal/core/adjust"
	"notchback/internal/core/body"
	"notchback/internal/core/build"
	"notchback/internal/core/load"
	"notchback/internal/record"
	"notchback/internal/store"
)

// AddLog stores a session of a prescription of this runner, current or past, with the dose that was shown: the one the
// phone says, as far as it can be; else the one of that day as it is computed now, halved before a race, or the short
// version.
func (d *Desk) AddLog(ctx context.Context, a Actor, runner string, e Entry) error {
	return d.report(ctx, a, runner, func(tx *store.Tx, o Chart) error {
		l := e.Log
		asOf, err := o.asOf(e.Source, l.On)
		if err != nil {
			return err
		}
		if err := l.Check(asOf); err != nil {
			return err
		}
		set, err := tx.Prescription(ctx, runner, e.Prescription)
		if err != nil {
			return err
		}
		p := o.Catalogue.Now(set)
		p.Name = o.Catalogue.NameOf(p.Rail, p.Exercise)
		rail, _ := o.Catalogue.Find(p.Rail)
		known := false
		if e.Shown != nil {
			l.Prescription, known = adjust.AsShown(rail, p, *e.Shown, o.Profile.MassKg)
		}
		if !known { // an earlier phone does not say, and nothing that was reported is turned away
			if o, err = d.Load(ctx, tx, runner, record.NeedProposals); err != nil {
				return err
			}
			set.Name = o.Catalogue.NameOf(set.Rail, set.Exercise)
			l.Prescription = o.shown(set, l.On, e.Short)
		}
		return tx.AddLog(ctx, runner, l, e.Supersedes)
	})
}

// Entry is a session as it is entered.
type Entry struct {
	adjust.Log
	Prescription string // id of the one it was done for
	Supersedes   string // log it corrects; empty for none
	Short        bool   // the short version was shown
	Shown        *adjust.Shown
}

// AddMorning stores a morning mark.
func (d *Desk) AddMorning(ctx context.Context, a Actor, runner, source string, m build.Morning) error {
	return d.report(ctx, a, runner, func(tx *store.Tx, o Chart) error {
		asOf, err := o.asOf(source, m.On)
		if err != nil {
			return err
		}
		if err := m.Check(asOf); err != nil {
			return err
		}
		return tx.AddMorning(ctx, runner, m, source)
	})
}

// AddRun stores a run; supersedes names the run it corrects, if any.
func (d *Desk) AddRun(ctx context.Context, a Actor, runner, source string, r load.Run, supersedes string) error {
	return d.report(ctx, a, runner, func(tx *store.Tx, o Chart) error {
		asOf, err := o.asOf(source, r.On)
		if err != nil {
			return err
		}
		if err := r.Check(asOf); err != nil {
			return err
		}
		return tx.AddRun(ctx, runner, r, source, supersedes)
	})
}

// ErrEarly is what a phone reports of a day that is not there yet: its clock or the server's is set wrong. It is kept there
// and sent later, so that nothing is lost and nothing stands on a day it was not done.
var ErrEarly = errors.New("dated after today")

// asOf is the day that a report's date is held against: today. What a phone reports is never turned away as too old, for there
// may have been no signal for months; it is ErrEarly where its day is still to come.
func (o Chart) asOf(source string, on body.Date) (body.Date, error) {
	switch {
	case source != "phone" || !on.Valid():
		return o.Today, nil
	case on > o.Today:
		return "", ErrEarly
	}
	return min(o.Today, on.Add(60)), nil
}

// report stores what was reported, then records the clean holds that follow from it. The report stands whatever
// becomes of the holds: they are recorded with the next one.
func (d *Desk) report(ctx context.Context, a Actor, runner string, add func(*store.Tx, Chart) error) error {
	if err := d.Change(ctx, a, runner, 0, add); err != nil {
		return err
	}
	if d.Background == nil {
		_, _ = d.refresh(ctx, a.Practice, runner) // a failure is logged there
	}
	return nil
}

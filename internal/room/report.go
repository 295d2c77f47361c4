package room

import (
	"context"
	"log/slog"
	"notchback/internal/core/adjust"
	"notchback/internal/core/build"
	"notchback/internal/core/load"
	"notchback/internal/record"
	"notchback/internal/store"
)

// AddLog stores a session of a prescription of this runner, current or past, with the dose that was
// shown that day: halved before a race, or the short version.
func (d *Desk) AddLog(ctx context.Context, a Actor, runner, prescription, supersedes string, short bool, l adjust.Log) error {
	return d.report(ctx, a, runner, record.NeedProposals, func(tx *store.Tx, o Chart) error {
		if err := l.Check(o.Today); err != nil {
			return err
		}
		p, err := tx.Prescription(ctx, runner, prescription)
		if err != nil {
			return err
		}
		p.Name = o.Catalogue.NameOf(p.Rail, p.Exercise)
		l.Prescription = o.shown(p, l.On, short)
		return tx.AddLog(ctx, runner, l, supersedes)
	})
}

// AddMorning stores a morning mark.
func (d *Desk) AddMorning(ctx context.Context, a Actor, runner, source string, m build.Morning) error {
	return d.report(ctx, a, runner, 0, func(tx *store.Tx, o Chart) error {
		if err := m.Check(o.Today); err != nil {
			return err
		}
		return tx.AddMorning(ctx, runner, m, source)
	})
}

// AddRun stores a run.
func (d *Desk) AddRun(ctx context.Context, a Actor, runner, source string, r load.Run) error {
	return d.report(ctx, a, runner, 0, func(tx *store.Tx, o Chart) error {
		if err := r.Check(o.Today); err != nil {
			return err
		}
		return tx.AddRun(ctx, runner, r, source)
	})
}

// report stores what was reported, then records the clean holds that follow from it. The report stands whatever
// becomes of the holds: they are recorded with the next one.
func (d *Desk) report(ctx context.Context, a Actor, runner string, need record.Need, add func(*store.Tx, Chart) error) error {
	if err := d.Change(ctx, a, runner, need, add); err != nil {
		return err
	}
	if d.Background == nil {
		if _, err := d.refresh(ctx, a.Practice, runner); err != nil {
			slog.Error("recording the clean holds", "runner", runner, "error", err)
		}
	}
	return nil
}

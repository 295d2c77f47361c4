package store

import (
	"context"

	"notchback/internal/core/adjust"
	"notchback/internal/core/build"
)

// AddLog stores a session as it was done. supersedes names the log it corrects, if any.
func (tx *Tx) AddLog(ctx context.Context, runner string, l adjust.Log, supersedes string) error {
	var old *string
	if supersedes != "" {
		old = &supersedes
	}
	done := l.Done
	if done == nil {
		done = []int{}
	}
	return tx.addReport(ctx, "storing the session", "logs", runner, l.ID,
		numbered+`INSERT INTO logs (id, practice_id, runner_id, on_day, prescription_id, prescription, done, rpe, pain, cramp_at, faults, note,
			source, supersedes, times, report) SELECT $1, $2, $3, $4, $5, $6, $7, $8, $9, $10, $11, $12, $13, $14, $15, n.reports FROM n
			ON CONFLICT (id) DO NOTHING`,
		l.ID, tx.Practice, runner, l.On, l.Prescription.ID, l.Prescription, done, l.RPE, l.Pain, l.CrampAt, orEmpty(l.Faults), l.Note, l.Source,
		old, l.Times)
}

// AddMorning stores a morning mark. A second one of the same place and day is judged beside the first.
func (tx *Tx) AddMorning(ctx context.Context, runner string, m build.Morning, source string) error {
	return tx.addReport(ctx, "storing the morning", "mornings", runner, m.ID,
		numbered+`INSERT INTO mornings (id, practice_id, runner_id, on_day, region, side, pain, stiffness, source, quiet, report)
			SELECT $1, $2, $3, $4, $5, $6, $7, $8, $9, $10, n.reports FROM n ON CONFLICT (id) DO NOTHING`,
		m.ID, tx.Practice, runner, m.On, m.Region, m.Side, m.Pain, m.Stiffness, source, m.Quiet)
}

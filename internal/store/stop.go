package store

import (
	"context"

	"notchback/internal/core/refer"
)

// AddStop stores a warning sign answered yes.
func (tx *Tx) AddStop(ctx context.Context, runner string, s refer.Stop) error {
	return tx.addReport(ctx, "recording the warning sign", "stops", runner, s.ID,
		numbered+`INSERT INTO stops (id, practice_id, runner_id, sign, region, side, on_day, source, which, report) SELECT $1, $2, $3, $4, $5,
			$6, $7, $8, $9, n.reports FROM n ON CONFLICT (id) DO NOTHING`,
		s.ID, tx.Practice, runner, s.Sign, s.Region, s.Side, s.On, s.Source, orEmpty(s.Which))
}

// AddLimit stores what somebody recorded for a caution or a pattern.
func (tx *Tx) AddLimit(ctx context.Context, runner string, l refer.Limit, coach string) error {
	_, err := tx.insertOnce(ctx, "recording the limits", `SELECT FROM limits`+ownRunner, []any{l.ID, runner},
		`INSERT INTO limits (id, practice_id, runner_id, for_id, side, kind, who, on_day, opens, words, coach_id) VALUES ($1, $2, $3, $4, $5, $6,
			$7, $8, $9, $10, $11) ON CONFLICT (id) DO NOTHING`,
		l.ID, tx.Practice, runner, l.For, l.Side, l.Kind, l.Who, l.On, l.Opens, l.Words, coach)
	return err
}

// AddClearance stores a second look at a stop.
func (tx *Tx) AddClearance(ctx context.Context, stop string, c refer.Clearance, coach string) error {
	_, err := tx.insertOnce(ctx, "recording the clearance", `SELECT FROM clearances WHERE id = $1 AND stop_id = $2`, []any{c.ID, stop},
		`INSERT INTO clearances (id, practice_id, stop_id, kind, who, on_day, limits, opens, coach_id) VALUES ($1, $2, $3, $4, $5, $6, $7, $8,
			NULLIF($9, '')::uuid) ON CONFLICT (id) DO NOTHING`,
		c.ID, tx.Practice, stop, c.Kind, c.Who, c.On, c.Limits, c.Opens, coach)
	return err
}

// AddCheck stores one asking of the warning signs. coach is empty when the runner answered alone.
func (tx *Tx) AddCheck(ctx context.Context, runner string, c refer.Check, coach string) error {
	return tx.addReport(ctx, "keeping the answers", "sign_checks", runner, c.ID,
		numbered+`INSERT INTO sign_checks (id, practice_id, runner_id, on_day, source, denied, coach_id, report) SELECT $1, $2, $3, $4, $5, $6,
			NULLIF($7, '')::uuid, n.reports FROM n ON CONFLICT (id) DO NOTHING`,
		c.ID, tx.Practice, runner, c.On, c.Source, orEmpty(c.Denied), coach)
}

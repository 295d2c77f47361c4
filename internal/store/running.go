package store

import (
	"context"

	"notchback/internal/core/load"
)

// AddRunning stores the running planned; what was planned before is kept. Sent again it is the same.
func (tx *Tx) AddRunning(ctx context.Context, runner, id string, p load.Plan, coach string) error {
	_, err := tx.insertOnce(ctx, "storing the running planned", `SELECT FROM running_plans WHERE id = $1 AND runner_id = $2`,
		[]any{id, runner}, `INSERT INTO running_plans (id, practice_id, runner_id, coach_id, doc) VALUES ($1, $2, $3, $4, $5)
		ON CONFLICT (id) DO NOTHING`, id, tx.Practice, runner, coach, p)
	return err
}

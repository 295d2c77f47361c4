package store

import (
	"context"
	"fmt"

	"github.com/jackc/pgx/v5"

	"notchback/internal/core/body"
	"notchback/internal/core/selfcheck"
	"notchback/internal/record"
)

// mostSelfChecks is how many self-checks are looked at, the newest; what no coach has seen is looked at however old it is.
const mostSelfChecks = 8

func queueSelfChecks(b *batch, runner string, p *record.Person) {
	all(b, "the self-checks", &p.SelfChecks, func(row pgx.CollectableRow, x *selfcheck.Check) error {
		var id, on string
		var seen bool
		err := row.Scan(&id, &on, &seen, x)
		x.ID, x.On, x.Seen = id, body.Date(on), seen
		return err
	}, `SELECT c.id::text, c.on_day::text, c.seen_at IS NOT NULL, c.doc
		FROM (SELECT *, row_number() OVER (ORDER BY on_day DESC, at DESC, id DESC) AS nth FROM selfchecks WHERE runner_id = $1) c
		WHERE c.nth <= $2 OR c.seen_at IS NULL ORDER BY c.nth`, runner, mostSelfChecks)
}

// AddSelfCheck stores a self-check as the runner told it. Sent again it is the same.
func (tx *Tx) AddSelfCheck(ctx context.Context, runner string, c selfcheck.Check) error {
	_, err := tx.insertOnce(ctx, "keeping the self-check", `SELECT FROM selfchecks`+ownRunner, []any{c.ID, runner},
		`INSERT INTO selfchecks (id, practice_id, runner_id, on_day, doc) VALUES ($1, $2, $3, $4, $5) ON CONFLICT (id) DO NOTHING`,
		c.ID, tx.Practice, runner, c.On, c)
	return err
}

// SeeSelfCheck marks a self-check of the runner as seen.
func (tx *Tx) SeeSelfCheck(ctx context.Context, runner, id string) error {
	tag, err := tx.Exec(ctx, `UPDATE selfchecks SET seen_at = coalesce(seen_at, clock_timestamp()) WHERE id = $1 AND runner_id = $2`, id,
		runner)
	if err != nil {
		return fmt.Errorf("marking the self-check as seen: %w", err)
	}
	if tag.RowsAffected() == 0 {
		return ErrNotFound
	}
	return nil
}

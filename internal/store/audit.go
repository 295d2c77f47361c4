package store

import (
	"context"
	"fmt"
	"time"

	"github.com/jackc/pgx/v5"
)

// Deed is one line of who did what.
type Deed struct {
	Seq      int64     `json:"seq"`
	At       time.Time `json:"at"`
	Coach    string    `json:"coach" doc:"name; empty for the runner's phone and the command line"`
	Runner   string    `json:"runner" doc:"name; empty where it was about no runner"`
	RunnerID string    `json:"runnerId"`
	Did      string    `json:"did" doc:"the deed: its name in the store, in words to a reader"`
}

// Note adds a line to who did what. coach and runner may be empty.
func (tx *Tx) Note(ctx context.Context, coach, runner, did string) error {
	_, err := tx.Exec(ctx,
		`INSERT INTO audit (practice_id, coach_id, runner_id, did) VALUES ($1, NULLIF($2, '')::uuid, NULLIF($3, '')::uuid, $4)`,
		tx.Practice, coach, runner, did)
	if err != nil {
		return fmt.Errorf("noting who did it: %w", err)
	}
	return nil
}

// Deeds lists who did what, the newest first, before a line (0: from the newest); of one runner where it is named.
func (tx *Tx) Deeds(ctx context.Context, runner string, before int64) ([]Deed, error) {
	rows, err := tx.Query(ctx, `SELECT a.seq, a.at, coalesce(c.name, ''), coalesce(r.name, ''), coalesce(a.runner_id::text, ''), a.did
		FROM audit a LEFT JOIN coaches c ON c.id = a.coach_id LEFT JOIN runners r ON r.id = a.runner_id
		WHERE ($1 = '' OR a.runner_id = NULLIF($1, '')::uuid) AND ($2::bigint = 0 OR a.seq < $2) ORDER BY a.seq DESC LIMIT 200`, runner, before)
	if err != nil {
		return nil, fmt.Errorf("reading who did what: %w", err)
	}
	out, err := pgx.CollectRows(rows, pgx.RowToStructByPos[Deed])
	if err != nil {
		return nil, fmt.Errorf("reading who did what: %w", err)
	}
	return out, nil
}

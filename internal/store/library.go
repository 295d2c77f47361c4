package store

import (
	"context"
	"fmt"

	"github.com/jackc/pgx/v5"

	"notchback/internal/core/catalog"
)

// OwnRail is the newest version of a rail the practice added or changed.
type OwnRail struct {
	ID      string        `json:"id"`
	Version int           `json:"version"`
	Rail    *catalog.Rail `json:"rail,omitempty" doc:"absent: taken back"`
	Coach   string        `json:"coach"`
	On      string        `json:"on"`
}

func queueOwnRails(b *batch, into *[]OwnRail) {
	all(b, "the practice's rails", into, func(row pgx.CollectableRow, x *OwnRail) error {
		return row.Scan(&x.ID, &x.Version, &x.Rail, &x.Coach, &x.On)
	}, `SELECT DISTINCT ON (o.rail_id) o.rail_id, o.version, o.rail, c.name, o.at::date::text
		FROM own_rails o JOIN coaches c ON c.id = o.coach_id ORDER BY o.rail_id, o.version DESC`)
}

// KeepRail stores the next version of a rail, or takes it back when rail is nil. saw is the version the
// coach changed, 0 for none; another one in force gives ErrStale.
func (tx *Tx) KeepRail(ctx context.Context, id string, saw int, rail *catalog.Rail, coach string) error {
	tag, err := tx.Exec(ctx, `INSERT INTO own_rails (practice_id, rail_id, version, rail, coach_id)
		SELECT $1, $2, $3 + 1, $4, $5 WHERE (SELECT coalesce(max(version), 0) FROM own_rails WHERE rail_id = $2) = $3 ON CONFLICT DO NOTHING`,
		tx.Practice, id, saw, rail, coach)
	if err != nil {
		return fmt.Errorf("keeping the rail: %w", err)
	}
	if tag.RowsAffected() == 0 {
		return fmt.Errorf("keeping the rail: %w", ErrStale)
	}
	return nil
}

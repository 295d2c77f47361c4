package store

import (
	"context"
	"errors"
	"fmt"

	"github.com/jackc/pgx/v5"

	"notchback/internal/core/body"
	"notchback/internal/record"
)

const ownRunner = ` WHERE id = $1 AND runner_id = $2`

func orEmpty(s []string) []string {
	if s == nil {
		return []string{}
	}
	return s
}

// AddRunner stores a new runner; repeating it is the same write.
func (tx *Tx) AddRunner(ctx context.Context, id, name, zone string, p body.Profile, coach string) error {
	fresh, err := tx.insertOnce(ctx, "adding the runner", `SELECT FROM runners WHERE id = $1`, []any{id},
		`INSERT INTO runners (id, practice_id, name, timezone, profile) VALUES ($1, $2, $3, $4, $5) ON CONFLICT (id) DO NOTHING`, id, tx.Practice,
		name, zone, p)
	if err != nil || !fresh {
		return err
	}
	return tx.revision(ctx, id, 1, name, p, coach)
}

func (tx *Tx) revision(ctx context.Context, id string, version int, name string, p body.Profile, coach string) error {
	_, err := tx.Exec(ctx, `INSERT INTO runner_revisions (practice_id, runner_id, version, name, profile, coach_id) VALUES ($1, $2, $3, $4,
		$5, $6)`, tx.Practice, id, version, name, p, coach)
	if err != nil {
		return fmt.Errorf("keeping the intake's history: %w", err)
	}
	return nil
}

// EditRunner replaces the intake if it still has the given version, else ErrStale.
func (tx *Tx) EditRunner(ctx context.Context, id string, version int, name, zone string, p body.Profile, coach string) error {
	tag, err := tx.Exec(ctx, `UPDATE runners SET name = $3, timezone = $4, profile = $5, version = version + 1 WHERE id = $1 AND version = $2`,
		id, version, name, zone, p)
	if err != nil {
		return fmt.Errorf("changing the intake: %w", err)
	}
	if tag.RowsAffected() == 0 {
		return fmt.Errorf("changing the intake: %w", ErrStale)
	}
	return tx.revision(ctx, id, version+1, name, p, coach)
}

// Archive puts a runner away, or brings it back.
func (tx *Tx) Archive(ctx context.Context, id string, away bool) error {
	tag, err := tx.Exec(ctx, `UPDATE runners SET archived_at = CASE WHEN $2 THEN coalesce(archived_at, now()) END WHERE id = $1`, id, away)
	if err != nil {
		return fmt.Errorf("archiving: %w", err)
	}
	if tag.RowsAffected() == 0 {
		return fmt.Errorf("archiving: %w", ErrNotFound)
	}
	return nil
}

// ZoneOf is where a runner is.
func (tx *Tx) ZoneOf(ctx context.Context, runner string) (zone string, err error) {
	if err = tx.QueryRow(ctx, `SELECT timezone FROM runners WHERE id = $1`, runner).Scan(&zone); err != nil {
		err = fmt.Errorf("reading where the runner is: %w", known(err))
	}
	return zone, err
}

// numbered begins a statement that stores a report of the runner $3: n.reports is its number. The runner is held until
// the transaction ends, so that two reports at once are numbered one after the other.
const numbered = `WITH n AS (UPDATE runners SET reports = reports + 1 WHERE id = $3 RETURNING reports) `

// addReport stores a report of a runner once; sql begins with numbered.
func (tx *Tx) addReport(ctx context.Context, doing, table, runner, id, sql string, args ...any) error {
	_, err := tx.insertOnce(ctx, doing, `SELECT FROM `+table+ownRunner, []any{id, runner}, sql, args...)
	if errors.Is(err, ErrTaken) {
		if _, missing := tx.Touched(ctx, runner); missing != nil { // nothing was stored because nobody is there
			return fmt.Errorf("%s: %w", doing, missing)
		}
	}
	return err
}

// AddForm stores what the runner filled in.
func (tx *Tx) AddForm(ctx context.Context, runner string, f record.Form) error {
	_, err := tx.insertOnce(ctx, "keeping the form", `SELECT FROM intake_forms`+ownRunner, []any{f.ID, runner},
		`INSERT INTO intake_forms (id, practice_id, runner_id, on_day, profile) VALUES ($1, $2, $3, $4, $5) ON CONFLICT (id) DO NOTHING`, f.ID,
		tx.Practice, runner, f.On, f.Profile)
	return err
}

// TakeForms marks the runner's forms up to this one as seen; they are kept.
func (tx *Tx) TakeForms(ctx context.Context, runner, id string) error {
	_, err := tx.Exec(ctx, `UPDATE intake_forms SET taken_at = coalesce(taken_at, now()) WHERE runner_id = $2 AND at <= (SELECT at
		FROM intake_forms WHERE id = $1 AND runner_id = $2)`, id, runner)
	if err != nil {
		return fmt.Errorf("taking the form over: %w", err)
	}
	return nil
}

// runners lists the ids of the practice's runners by name; archived ones only when asked.
func (tx *Tx) runners(ctx context.Context, archived bool) ([]string, error) {
	rows, err := tx.Query(ctx, `SELECT id::text FROM runners WHERE (archived_at IS NOT NULL) = $1 ORDER BY lower(name), id`, archived)
	if err != nil {
		return nil, fmt.Errorf("listing the runners: %w", err)
	}
	return pgx.CollectRows(rows, pgx.RowTo[string])
}

// Touched is how often a runner's record was changed by now.
func (tx *Tx) Touched(ctx context.Context, runner string) (n int64, err error) {
	if err := tx.QueryRow(ctx, `SELECT touched FROM runners WHERE id = $1`, runner).Scan(&n); err != nil {
		return 0, fmt.Errorf("reading the runner: %w", known(err))
	}
	return n, nil
}

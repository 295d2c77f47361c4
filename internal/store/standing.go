package store

import (
	"context"
	"errors"
	"fmt"

	"github.com/jackc/pgx/v5"
	"github.com/jackc/pgx/v5/pgconn"

	"notchback/internal/core/body"
	"notchback/internal/record"
)

// State is what a standing was computed from: a standing of another state is out of date.
type State struct {
	Touched int64     // how often the record was changed
	On      body.Date // the runner's day
	Rules   string    // the practice's rules and rails
	Engine  string
}

// Standing is what was computed of a runner, as a document of the room that computes it. Without one, Doc is empty.
type Standing struct {
	Runner   string
	Name     string
	Timezone string
	Touched  int64 // how often the record was changed by now
	From     State
	Doc      []byte
	Page     []byte // where a single runner is read
}

const standingSQL = `SELECT r.id::text, r.name, r.timezone, r.touched, coalesce(s.touched, -1), coalesce(s.on_day::text, ''), coalesce(s.rules, ''), coalesce(s.engine, ''), coalesce(s.standing::text, '')
	FROM runners r LEFT JOIN standings s ON s.runner_id = r.id`

func scanStanding(row pgx.CollectableRow, x *Standing) error {
	return row.Scan(&x.Runner, &x.Name, &x.Timezone, &x.Touched, &x.From.Touched, (*string)(&x.From.On), &x.From.Rules, &x.From.Engine, &x.Doc)
}

// Standings lists the practice's runners by name with what stands of each, in one batch with the rules in force;
// archived ones only when asked.
func (tx *Tx) Standings(ctx context.Context, archived bool) ([]Standing, House, error) {
	var b batch
	var out []Standing
	h := queueHouse(&b)
	all(&b, "the standings", &out, scanStanding, standingSQL+` WHERE (r.archived_at IS NOT NULL) = $1 ORDER BY lower(r.name), r.id`, archived)
	err := tx.run(ctx, &b)
	return out, *h, err
}

// Stands loads parts of a runner as Record does, with what stands of them.
// The page is what stands on every page of the runner.
func (tx *Tx) Stands(ctx context.Context, runner string, since body.Date, need record.Need) (record.Record, House, Standing, error) {
	var b batch
	var stands []Standing
	h := queueHouse(&b)
	finish := queueRecord(&b, runner, since, need)
	all(&b, "the standing", &stands, func(row pgx.CollectableRow, x *Standing) error {
		return row.Scan(&x.Runner, &x.Touched, &x.From.Touched, (*string)(&x.From.On), &x.From.Rules, &x.From.Engine, &x.Page)
	}, `SELECT r.id::text, r.touched, coalesce(s.touched, -1), coalesce(s.on_day::text, ''), coalesce(s.rules, ''), coalesce(s.engine, ''), coalesce(s.page::text, '')
		FROM runners r LEFT JOIN standings s ON s.runner_id = r.id WHERE r.id = $1`, runner)
	if err := tx.run(ctx, &b); err != nil {
		return record.Record{}, House{}, Standing{}, err
	}
	r, err := finish()
	if err != nil {
		return record.Record{}, House{}, Standing{}, err
	}
	return r, *h, stands[0], nil
}

// Compute runs f on one snapshot of the practice, unless somebody else computes the runner just now: then ran is false.
// It holds nothing that a change of the runner waits for.
func (s *Store) Compute(ctx context.Context, practice, runner string, f func(*Tx) error) (ran bool, err error) {
	err = s.begin(ctx, practice, pgx.TxOptions{IsoLevel: pgx.RepeatableRead}, func(tx *Tx) error {
		if err := tx.QueryRow(ctx, `SELECT pg_try_advisory_xact_lock(hashtextextended($1, 0))`, "standing "+runner).Scan(&ran); err != nil || !ran {
			return err
		}
		return f(tx)
	})
	var pg *pgconn.PgError
	if errors.As(err, &pg) && pg.Code == "40001" { // kept by somebody else since this snapshot
		return false, nil
	}
	return ran && err == nil, err
}

// KeepStanding keeps what was computed, unless a later state was computed meanwhile.
func (tx *Tx) KeepStanding(ctx context.Context, runner string, from State, doc, page []byte) error {
	_, err := tx.Exec(ctx, `INSERT INTO standings (runner_id, practice_id, touched, on_day, rules, engine, standing, page) VALUES ($1, $2, $3, $4, $5, $6, $7, $8)
		ON CONFLICT (runner_id) DO UPDATE SET touched = excluded.touched, on_day = excluded.on_day, rules = excluded.rules, engine = excluded.engine, standing = excluded.standing, page = excluded.page, at = now()
		WHERE standings.touched <= excluded.touched`, runner, tx.Practice, from.Touched, from.On, from.Rules, from.Engine, doc, page)
	if err != nil {
		return fmt.Errorf("keeping the standing: %w", err)
	}
	return nil
}

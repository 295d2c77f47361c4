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
	Tested  int64     // how often of them by a trial of a screen
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
	Tested   int64
	Rules    string // in force now, where a single runner is read
	From     State
	Doc      []byte
	Page     []byte // where a single runner is read
}

const standingSQL = `SELECT r.id::text, r.name, r.timezone, r.touched, r.tested, coalesce(s.touched, -1), coalesce(s.tested, -1),
	coalesce(s.on_day::text, ''), coalesce(s.rules, ''), coalesce(s.engine, ''), coalesce(s.standing::text, '')
	FROM runners r LEFT JOIN standings s ON s.runner_id = r.id`

func scanStanding(row pgx.CollectableRow, x *Standing) error {
	return row.Scan(&x.Runner, &x.Name, &x.Timezone, &x.Touched, &x.Tested, &x.From.Touched, &x.From.Tested, (*string)(&x.From.On),
		&x.From.Rules, &x.From.Engine, &x.Doc)
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

// Stands loads parts of a runner as Record does, with what stands on every page of them.
func (tx *Tx) Stands(ctx context.Context, runner string, since body.Date, need record.Need) (record.Record, House, Standing, error) {
	var b batch
	var stands []Standing
	h := queueHouse(&b)
	r := queueWho(&b, runner, need)
	all(&b, "the standing", &stands, scanPage, pageSQL, runner)
	if err := tx.run(ctx, &b); err != nil {
		return record.Record{}, House{}, Standing{}, err
	}
	if err := tx.load(ctx, since, need, r); err != nil {
		return record.Record{}, House{}, Standing{}, err
	}
	return r.Record, *h, stands[0], nil
}

const pageSQL = `SELECT r.id::text, r.timezone, r.touched, r.tested, coalesce(s.touched, -1), coalesce(s.tested, -1),
	coalesce(s.on_day::text, ''), coalesce(s.rules, ''), coalesce(s.engine, ''), coalesce(s.page::text, ''),
	` + houseState + ` FROM runners r LEFT JOIN standings s ON s.runner_id = r.id WHERE r.id = $1`

func scanPage(row pgx.CollectableRow, x *Standing) error {
	return row.Scan(&x.Runner, &x.Timezone, &x.Touched, &x.Tested, &x.From.Touched, &x.From.Tested, (*string)(&x.From.On), &x.From.Rules,
		&x.From.Engine, &x.Page, &x.Rules)
}

// Page loads what stands of a runner and every visit, newest first: what a trial is judged by. It is asked in a change
// of the tests before anything of them is written.
func (tx *Tx) Page(ctx context.Context, runner string) (Standing, []record.Screen, error) {
	var b batch
	var stands []Standing
	all(&b, "the standing", &stands, scanPage, pageSQL, runner)
	if err := tx.run(ctx, &b); err != nil {
		return Standing{}, nil, err
	}
	if len(stands) == 0 {
		return Standing{}, nil, fmt.Errorf("reading the runner: %w", ErrNotFound)
	}
	if t := tx.before.before(runner, stands[0].Touched, stands[0].Tested); t != nil {
		return stands[0], t.Screens, nil
	}
	screens, err := tx.Screens(ctx, runner)
	return stands[0], screens, err
}

// Screens loads every visit of a runner, newest first.
func (tx *Tx) Screens(ctx context.Context, runner string) ([]record.Screen, error) {
	var b batch
	t := queueTests(&b, runner)
	err := tx.run(ctx, &b)
	return t.Screens, err
}

// Practices lists every practice's id.
func (s *Store) Practices(ctx context.Context) ([]string, error) {
	rows, err := s.pool.Query(ctx, `SELECT p::text FROM door_practices() p`)
	if err != nil {
		return nil, fmt.Errorf("listing the practices: %w", err)
	}
	ids, err := pgx.CollectRows(rows, pgx.RowTo[string])
	if err != nil {
		return nil, fmt.Errorf("listing the practices: %w", err)
	}
	return ids, nil
}

// Compute runs f on one snapshot of the practice, unless somebody else computes the runner just now: then ran is false.
// It holds nothing that a change of the runner waits for, and waits for no disk: what a crash loses is computed again.
func (s *Store) Compute(ctx context.Context, practice, runner string, f func(*Tx) error) (ran bool, err error) {
	err = s.begin(ctx, practice, pgx.TxOptions{IsoLevel: pgx.RepeatableRead}, func(tx *Tx) error {
		if err := tx.QueryRow(ctx, `SELECT pg_try_advisory_xact_lock(hashtextextended($1, 0)) FROM set_config('synchronous_commit', 'off', true)`,
			"standing "+runner).Scan(&ran); err != nil || !ran {
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
	_, err := tx.Exec(ctx, `INSERT INTO standings (runner_id, practice_id, touched, tested, on_day, rules, engine, standing, page)
		VALUES ($1, $2, $3, $4, $5, $6, $7, $8, $9)
		ON CONFLICT (runner_id) DO UPDATE SET touched = excluded.touched, tested = excluded.tested, on_day = excluded.on_day,
			rules = excluded.rules, engine = excluded.engine, standing = excluded.standing, page = excluded.page, at = now()
		WHERE standings.touched <= excluded.touched`, runner, tx.Practice, from.Touched, from.Tested, from.On, from.Rules, from.Engine, doc, page)
	if err != nil {
		return fmt.Errorf("keeping the standing: %w", err)
	}
	return nil
}

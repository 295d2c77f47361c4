package store

import (
	"context"
	"fmt"

	"github.com/jackc/pgx/v5"

	"notchback/internal/core/body"
	"notchback/internal/core/load"
)

// Strip is what a runner's history is drawn from, over any number of months; each list in order of days.
type Strip struct {
	Runs     []load.Run // in force
	Planned  []DayCount // rails that stood on a day
	Done     []DayCount // rails of which a session was told
	Mornings []StripMorning
	Moves    []StripMove
	Screens  []StripScreen
}

// DayCount is how many of something a day holds.
type DayCount struct {
	On body.Date
	N  int
}

// StripMorning is the worst first steps of a day at a place.
type StripMorning struct {
	On     body.Date
	Region body.Region
	Side   body.Side
	Pain   int
}

// StripMove is a decision that moved a dose, or kept it against the proposal, in the words it was stored with.
type StripMove struct {
	On      body.Date
	Rail    string
	Side    body.Side
	Verdict string
	Word    string
	Rule    string
	Why     string
	Coach   string
}

// StripScreen is a visit.
type StripScreen struct {
	On   body.Date
	Kind string
}

// Strip reads a runner's history between two days. Planned is what the programme in force on a day, in the week in force on it, put
// there; holds that no coach took are no moves.
func (tx *Tx) Strip(ctx context.Context, runner string, from, until body.Date) (p Strip, err error) {
	var b batch
	all(&b, "the runs", &p.Runs, func(row pgx.CollectableRow, x *load.Run) error {
		err := row.Scan(&x.ID, (*string)(&x.On), &x.Minutes, &x.Km, &x.RPE, &x.Word, &x.Seq, &x.Details)
		*x = x.Known()
		return err
	}, `SELECT id::text, on_day::text, minutes, km, rpe, word, report, details FROM runs
		WHERE runner_id = $1 AND on_day BETWEEN $2::date AND $3::date AND`+inForce+` ORDER BY runs.on_day, report`, runner, from, until)
	count := func(row pgx.CollectableRow, x *DayCount) error { return row.Scan((*string)(&x.On), &x.N) }
	all(&b, "the days planned", &p.Planned, count, `WITH g AS (
			SELECT id, on_day, lead(on_day) OVER (ORDER BY seq) AS next FROM programmes WHERE runner_id = $1),
		w AS (SELECT w.programme_id, w.seq, w.from_day, lead(w.from_day) OVER (PARTITION BY w.programme_id ORDER BY w.seq) AS next
			FROM weeks w JOIN g ON g.id = w.programme_id
			UNION ALL SELECT g.id, 0, g.on_day, (SELECT min(from_day) FROM weeks WHERE programme_id = g.id) FROM g)
		SELECT t.on_day::text, count(DISTINCT t.rail)::int FROM training_days t
		JOIN g ON g.id = t.programme_id AND t.on_day >= g.on_day AND (g.next IS NULL OR t.on_day < g.next)
		JOIN w ON w.programme_id = t.programme_id AND w.seq = t.week_seq AND t.on_day >= w.from_day AND (w.next IS NULL OR t.on_day < w.next)
		WHERE t.runner_id = $1 AND t.on_day BETWEEN $2::date AND $3::date GROUP BY t.on_day ORDER BY t.on_day`, runner, from, until)
	all(&b, "the sessions", &p.Done, count, `SELECT l.on_day::text, count(DISTINCT p.rail)::int
		FROM logs l JOIN prescriptions p ON p.id = l.prescription_id
		WHERE l.runner_id = $1 AND l.on_day BETWEEN $2::date AND $3::date
			AND NOT EXISTS (SELECT FROM logs c WHERE c.supersedes = l.id) GROUP BY l.on_day ORDER BY l.on_day`, runner, from, until)
	all(&b, "the mornings", &p.Mornings, func(row pgx.CollectableRow, x *StripMorning) error {
		return row.Scan((*string)(&x.On), &x.Region, &x.Side, &x.Pain)
	}, `SELECT on_day::text, region, side, max(pain) FROM mornings WHERE runner_id = $1 AND NOT quiet
		AND on_day BETWEEN $2::date AND $3::date GROUP BY on_day, region, side ORDER BY mornings.on_day, region, side`, runner, from, until)
	all(&b, "the moves", &p.Moves, func(row pgx.CollectableRow, x *StripMove) error {
		return row.Scan((*string)(&x.On), &x.Rail, &x.Side, &x.Verdict, &x.Word, &x.Rule, &x.Why, &x.Coach)
	}, `SELECT d.on_day::text, d.rail, d.side, d.verdict, d.word, d.rule, d.why, c.name FROM decisions d JOIN coaches c ON c.id = d.coach_id
		WHERE d.runner_id = $1 AND d.on_day BETWEEN $2::date AND $3::date ORDER BY d.on_day, d.seq`, runner, from, until)
	all(&b, "the screens", &p.Screens, func(row pgx.CollectableRow, x *StripScreen) error {
		return row.Scan((*string)(&x.On), &x.Kind)
	}, `SELECT on_day::text, kind FROM screens s WHERE runner_id = $1 AND on_day BETWEEN $2::date AND $3::date
		AND finished_at IS NOT NULL AND EXISTS (SELECT FROM trials t WHERE t.screen_id = s.id AND t.removed_at IS NULL)
		ORDER BY s.on_day`, runner, from, until)
	if err := tx.run(ctx, &b); err != nil {
		return p, fmt.Errorf("reading the history: %w", err)
	}
	return p, nil
}

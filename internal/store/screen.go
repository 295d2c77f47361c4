package store

import (
	"context"
	"fmt"

	"github.com/jackc/pgx/v5"

	"notchback/internal/core/body"
	"notchback/internal/core/screen"
)

// AddScreen starts a screen of a kind that asks for the given measures.
func (tx *Tx) AddScreen(ctx context.Context, runner, id string, on body.Date, kind string, measures []string) error {
	_, err := tx.insertOnce(ctx, "starting the screen", `SELECT FROM screens`+ownRunner, []any{id, runner},
		`INSERT INTO screens (id, practice_id, runner_id, on_day, kind, measures) VALUES ($1, $2, $3, $4, $5, $6) ON CONFLICT (id) DO NOTHING`,
		id, tx.Practice, runner, on, kind, orEmpty(measures))
	return err
}

// FinishScreen closes a screen; closing it again changes nothing.
func (tx *Tx) FinishScreen(ctx context.Context, runner, id string) error {
	tag, err := tx.Exec(ctx, `UPDATE screens SET finished_at = coalesce(finished_at, now())`+ownRunner, id, runner)
	if err != nil {
		return fmt.Errorf("finishing the screen: %w", err)
	}
	if tag.RowsAffected() == 0 {
		return fmt.Errorf("finishing the screen: %w", ErrNotFound)
	}
	return nil
}

// AddTrial stores one trial of a screen.
func (tx *Tx) AddTrial(ctx context.Context, runner, screenID string, t screen.Trial, coach string) error {
	parts := t.Parts
	if parts == nil {
		parts = []float64{}
	}
	m, _ := screen.FindMeasure(t.Measure)
	_, err := tx.insertOnce(ctx, "storing the trial", `SELECT FROM trials WHERE id = $1 AND screen_id = $2`, []any{t.ID, screenID},
		numbered+`INSERT INTO trials (id, practice_id, screen_id, measure, protocol, side, value, faults, stop, skipped, on_day, parts, context,
			place, moment, se, clip_id, coach_id, by_phone, report)
		SELECT $1, $2, s.id, $5, $6, $7, $8, $9, $10, $11, $12, $13, $14, $15, $16, $17, NULLIF($18, '')::uuid, $19, $20, n.reports
			FROM n, screens s WHERE s.id = $4 AND s.runner_id = $3 ON CONFLICT (id) DO NOTHING`,
		t.ID, tx.Practice, runner, screenID, t.Measure, m.Protocol, t.Side, t.Value, orEmpty(t.Faults), t.Stop, t.Skipped, t.On, parts, t.Context,
		t.Where, t.Moment, t.SE, t.Clip, coach, t.Phone)
	return err
}

// RemoveTrial takes a trial out of the reading, or puts it back; the row is kept.
func (tx *Tx) RemoveTrial(ctx context.Context, screenID, id string, out bool) error {
	tag, err := tx.Exec(ctx, `UPDATE trials SET removed_at = CASE WHEN $3 THEN coalesce(removed_at, now()) END WHERE id = $1
		AND screen_id = $2`, id, screenID, out)
	if err != nil {
		return fmt.Errorf("removing the trial: %w", err)
	}
	if tag.RowsAffected() == 0 {
		return fmt.Errorf("removing the trial: %w", ErrNotFound)
	}
	return nil
}

// RepeatedVisits lists pairs of visits of one runner that follow each other within some days with no session logged
// from the first to the second, as their trials: what a practice's own measurement error is read from. Quick tests
// around a session are no visits.
func (tx *Tx) RepeatedVisits(ctx context.Context, days int) ([][2][]screen.Trial, error) {
	rows, err := tx.Query(ctx, `WITH visits AS (
			SELECT s.id, s.runner_id, s.on_day, s.at, lead(s.id) OVER w AS next_id, lead(s.on_day) OVER w AS next_day
			FROM screens s WHERE s.kind <> 'session' AND (s.finished_at IS NULL OR EXISTS (SELECT FROM trials t WHERE t.screen_id = s.id
				AND t.removed_at IS NULL))
			WINDOW w AS (PARTITION BY s.runner_id ORDER BY s.on_day, s.at)),
		pairs AS (SELECT * FROM visits v WHERE v.next_day - v.on_day <= $1
			AND NOT EXISTS (SELECT FROM logs l WHERE l.runner_id = v.runner_id AND l.on_day BETWEEN v.on_day AND v.next_day))
		SELECT p.id::text, x.* FROM pairs p JOIN LATERAL (`+trialSQL+` WHERE t.screen_id IN (p.id, p.next_id) AND t.removed_at IS NULL) x
			ON true`, days)
	if err != nil {
		return nil, fmt.Errorf("reading the repeated visits: %w", err)
	}
	out, at := [][2][]screen.Trial{}, map[string]int{}
	_, err = pgx.CollectRows(rows, func(row pgx.CollectableRow) (struct{}, error) {
		var pair, of string
		var x screen.Trial
		if err := row.Scan(append([]any{&pair}, trialInto(&of, &x)...)...); err != nil {
			return struct{}{}, err
		}
		k, known := at[pair]
		if !known {
			k = len(out)
			at[pair], out = k, append(out, [2][]screen.Trial{})
		}
		which := 1
		if of == pair {
			which = 0
		}
		out[k][which] = append(out[k][which], x)
		return struct{}{}, nil
	})
	if err != nil {
		return nil, fmt.Errorf("reading the repeated visits: %w", err)
	}
	return out, nil
}

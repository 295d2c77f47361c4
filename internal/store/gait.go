package store

import (
	"context"
	"fmt"

	"github.com/jackc/pgx/v5"

	"notchback/internal/core"
	"notchback/internal/core/body"
	"notchback/internal/core/gait"
	"notchback/internal/record"
)

// Clip is what was kept of a clip, as a list shows it: how it was shot and what it came to, without its marks.
type Clip struct {
	ID      string                    `json:"id"`
	Screen  string                    `json:"screen"`
	On      body.Date                 `json:"on"`
	Coach   string                    `json:"coach"`
	Shot    record.Kept[gait.Shot]    `json:"shot"`
	Figures record.Kept[[]KeptFigure] `json:"figures" doc:"as they were kept; reading the clip again says why"`
	Stills  []string                  `json:"stills" doc:"ids of the stills whose picture is kept"`
}

// KeptFigure is a figure of a kept clip, without its reason.
type KeptFigure struct {
	ID    string    `json:"id"`
	Side  body.Side `json:"side"`
	Value float64   `json:"value"`
	Unit  string    `json:"unit"`
	Half  float64   `json:"half" doc:"half-width of the 95 % interval"`
}

// Clips lists a runner's clips as they stand, newest first.
func (tx *Tx) Clips(ctx context.Context, runner string) ([]Clip, error) {
	var b batch
	out := queueClips(&b, runner)
	err := tx.run(ctx, &b)
	return *out, err
}

func queueClips(b *batch, runner string) *[]Clip {
	out := &[]Clip{}
	all(b, "the clips", out, func(row pgx.CollectableRow, x *Clip) error {
		return row.Scan(&x.ID, &x.Screen, (*string)(&x.On), &x.Coach, (*[]byte)(&x.Shot), (*[]byte)(&x.Figures), &x.Stills)
	}, `SELECT c.id::text, c.screen_id::text, c.on_day::text, k.name, c.shot, c.numbers,
		(SELECT coalesce(array_agg(s.id::text ORDER BY s.id), '{}') FROM stills s WHERE s.runner_id = c.runner_id
			AND c.clip->'stills' @> jsonb_build_array(jsonb_build_object('id', s.id)))
		FROM clips c JOIN coaches k ON k.id = c.coach_id
		WHERE c.runner_id = $1 AND c.removed_at IS NULL AND NOT EXISTS (SELECT FROM clips n WHERE n.replaces = c.id) ORDER BY c.on_day DESC,
			c.at DESC`, runner)
	return out
}

// Clip reads what was marked on a kept clip, in the reading or out of it.
func (tx *Tx) Clip(ctx context.Context, runner, id string) (c record.Kept[gait.Clip], err error) {
	if err := tx.QueryRow(ctx, `SELECT clip::text FROM clips`+ownRunner, id, runner).Scan((*[]byte)(&c)); err != nil {
		return nil, fmt.Errorf("reading the clip: %w", known(err))
	}
	return c, nil
}

// AddClip keeps what was marked. It reports false when it is there already. replaces is the clip it
// takes the place of, empty for none; the trials read from that one leave the reading. Only a clip of
// the same screen is replaced: another day's record stays (ErrNotFound).
func (tx *Tx) AddClip(ctx context.Context, runner, screenID, id, replaces string, on body.Date, c gait.Clip, figures []gait.Figure,
	houseVersion int, coach string) (bool, error) {
	if replaces != "" {
		var same bool
		if err := tx.QueryRow(ctx, `SELECT EXISTS (SELECT FROM clips`+ownRunner+` AND screen_id = $3)`, replaces, runner,
			screenID).Scan(&same); err != nil {
			return false, fmt.Errorf("finding the clip it replaces: %w", known(err))
		}
		if !same {
			return false, fmt.Errorf("finding the clip it replaces: %w", ErrNotFound)
		}
	}
	fresh, err := tx.insertOnce(ctx, "keeping the clip", `SELECT FROM clips`+ownRunner, []any{id, runner},
		`INSERT INTO clips (id, practice_id, runner_id, screen_id, replaces, on_day, clip, figures, engine, house_version, coach_id)
			VALUES ($1, $2, $3, $4, NULLIF($5, '')::uuid, $6, $7, $8, $9, $10, $11) ON CONFLICT (id) DO NOTHING`,
		id, tx.Practice, runner, screenID, replaces, on, c, figures, core.EngineVersion, houseVersion, coach)
	if err != nil || !fresh || replaces == "" {
		return fresh, err
	}
	return true, tx.outOfReading(ctx, replaces, true)
}

// outOfReading takes the trials of a clip out of the reading, or puts them back.
func (tx *Tx) outOfReading(ctx context.Context, clip string, out bool) error {
	if _, err := tx.Exec(ctx, `UPDATE trials SET removed_at = CASE WHEN $2 THEN coalesce(removed_at, now()) END WHERE clip_id = $1`, clip,
		out); err != nil {
		return fmt.Errorf("taking the clip's figures out: %w", err)
	}
	return nil
}

// RemoveClip takes a clip and its figures out of the reading, or puts them back; the rows are kept.
func (tx *Tx) RemoveClip(ctx context.Context, runner, id string, out bool) error {
	tag, err := tx.Exec(ctx, `UPDATE clips SET removed_at = CASE WHEN $3 THEN coalesce(removed_at, now()) END`+ownRunner, id, runner, out)
	if err != nil {
		return fmt.Errorf("removing the clip: %w", err)
	}
	if tag.RowsAffected() == 0 {
		return fmt.Errorf("removing the clip: %w", ErrNotFound)
	}
	return tx.outOfReading(ctx, id, out)
}

// AddStill keeps one picture; repeating it is the same write.
func (tx *Tx) AddStill(ctx context.Context, runner, id string, picture []byte, coach string) error {
	_, err := tx.insertOnce(ctx, "keeping the still", `SELECT FROM stills`+ownRunner, []any{id, runner},
		`INSERT INTO stills (id, practice_id, runner_id, picture, coach_id) VALUES ($1, $2, $3, $4, $5) ON CONFLICT (id) DO NOTHING`, id,
		tx.Practice, runner, picture, coach)
	return err
}

// Still returns one kept picture.
func (tx *Tx) Still(ctx context.Context, runner, id string) (picture []byte, err error) {
	if err := tx.QueryRow(ctx, `SELECT picture FROM stills`+ownRunner, id, runner).Scan(&picture); err != nil {
		return nil, fmt.Errorf("reading the still: %w", known(err))
	}
	return picture, nil
}

// DropStill deletes a picture for good; deleting it again changes nothing.
func (tx *Tx) DropStill(ctx context.Context, runner, id string) error {
	if _, err := tx.Exec(ctx, `DELETE FROM stills`+ownRunner, id, runner); err != nil {
		return fmt.Errorf("deleting the still: %w", err)
	}
	return nil
}

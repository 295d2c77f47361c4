package store

import (
	"context"
	"fmt"

	"github.com/jackc/pgx/v5"

	"notchback/internal/core/body"
	"notchback/internal/record"
)

// mostNotes is how many notes are looked at, the newest; what is unread is looked at however old it is.
const mostNotes = 60

func queueNotes(b *batch, runner string, p *record.Person) {
	all(b, "the notes", &p.Notes, func(row pgx.CollectableRow, x *record.Note) error {
		var id, on, by string
		var read bool
		err := row.Scan(&id, &on, &by, &read, x)
		x.ID, x.On, x.By, x.Read = id, body.Date(on), by, read
		return err
	}, `SELECT n.id::text, n.on_day::text, coalesce(k.name, ''), n.read_at IS NOT NULL, n.doc
		FROM (SELECT *, row_number() OVER (ORDER BY at DESC, id DESC) AS nth FROM notes WHERE runner_id = $1) n
		LEFT JOIN coaches k ON k.id = n.coach_id
		WHERE n.nth <= $2 OR n.coach_id IS NULL AND n.read_at IS NULL ORDER BY n.at DESC, n.id DESC`, runner, mostNotes)
}

// AddNote stores a note of a coach, or of the runner where coach is empty. Sent again it is the same.
func (tx *Tx) AddNote(ctx context.Context, runner string, n record.Note, coach string) error {
	_, err := tx.insertOnce(ctx, "keeping the note", `SELECT FROM notes`+ownRunner, []any{n.ID, runner},
		`INSERT INTO notes (id, practice_id, runner_id, coach_id, on_day, doc) VALUES ($1, $2, $3, NULLIF($4, '')::uuid, $5, $6)
			ON CONFLICT (id) DO NOTHING`, n.ID, tx.Practice, runner, coach, n.On, n)
	return err
}

// ReadNote marks a note of the runner as read.
func (tx *Tx) ReadNote(ctx context.Context, runner, id string) error {
	tag, err := tx.Exec(ctx, `UPDATE notes SET read_at = coalesce(read_at, clock_timestamp()) WHERE id = $1 AND runner_id = $2`, id, runner)
	if err != nil {
		return fmt.Errorf("marking the note as read: %w", err)
	}
	if tag.RowsAffected() == 0 {
		return ErrNotFound
	}
	return nil
}

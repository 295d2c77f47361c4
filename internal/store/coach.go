package store

import (
	"context"
	"fmt"

	"github.com/jackc/pgx/v5"

	"notchback/internal/core/body"
)

// Coach is a signed-in coach.
type Coach struct {
	ID           string     `json:"id"`
	PracticeID   string     `json:"-"`
	Name         string     `json:"name"`
	Email        string     `json:"email"`
	PracticeName string     `json:"practice"`
	Units        body.Units `json:"units" doc:"what figures are read in"`
}

// CreatePractice stores a practice with its first coach, who has no password yet.
func (s *Store) CreatePractice(ctx context.Context, practice, coach, email string) (practiceID, coachID string, err error) {
	practiceID = NewID()
	err = s.In(ctx, practiceID, func(tx *Tx) error {
		if _, err := tx.Exec(ctx, `INSERT INTO practices (id, name) VALUES ($1, $2)`, practiceID, practice); err != nil {
			return fmt.Errorf("creating the practice: %w", err)
		}
		coachID, err = tx.AddCoach(ctx, coach, email)
		return err
	})
	return practiceID, coachID, err
}

// AddCoach adds a colleague without a password.
func (tx *Tx) AddCoach(ctx context.Context, name, email string) (string, error) {
	id := NewID()
	_, err := tx.Exec(ctx, `INSERT INTO coaches (id, practice_id, name, email) VALUES ($1, $2, $3, lower($4))`, id, tx.Practice, name, email)
	if err != nil {
		return "", fmt.Errorf("adding the colleague: %w", known(err))
	}
	return id, nil
}

// Coaches lists the practice's coaches by name.
func (tx *Tx) Coaches(ctx context.Context) ([]Coach, error) {
	rows, err := tx.Query(ctx, `SELECT c.id, c.practice_id, c.name, c.email, p.name AS practice_name, c.units FROM coaches c JOIN practices p
		ON p.id = c.practice_id ORDER BY lower(c.name)`)
	if err != nil {
		return nil, fmt.Errorf("reading the coaches: %w", err)
	}
	return pgx.CollectRows(rows, pgx.RowToStructByName[Coach])
}

// ReadIn keeps what a coach reads figures in.
func (tx *Tx) ReadIn(ctx context.Context, coach string, u body.Units) error {
	if _, err := tx.Exec(ctx, `UPDATE coaches SET units = $2 WHERE id = $1`, coach, u); err != nil {
		return fmt.Errorf("keeping the units: %w", err)
	}
	return nil
}

// PhoneReadsIn keeps what a runner's phone shows figures in; the page it holds is out of date with that.
func (tx *Tx) PhoneReadsIn(ctx context.Context, runner string, u body.Units) error {
	if _, err := tx.Exec(ctx, `UPDATE runners SET phone_units = $2, touched = touched + 1 WHERE id = $1`, runner, u); err != nil {
		return fmt.Errorf("keeping the units: %w", err)
	}
	return nil
}

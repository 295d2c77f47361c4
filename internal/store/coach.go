package store

import (
	"context"
	"fmt"

	"github.com/jackc/pgx/v5"
)

// Coach is a signed-in coach.
type Coach struct {
	ID           string `json:"id"`
	PracticeID   string `json:"-"`
	Name         string `json:"name"`
	Email        string `json:"email"`
	PracticeName string `json:"practice"`
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
	rows, err := tx.Query(ctx, `SELECT c.id, c.practice_id, c.name, c.email, p.name AS practice_name FROM coaches c JOIN practices p
		ON p.id = c.practice_id ORDER BY lower(c.name)`)
	if err != nil {
		return nil, fmt.Errorf("reading the coaches: %w", err)
	}
	return pgx.CollectRows(rows, pgx.RowToStructByName[Coach])
}

package store

import (
	"context"
	"fmt"

	"github.com/jackc/pgx/v5"

	"notchback/internal/core/body"
)

// Role is what a coach may do beside coaching.
type Role string

// The roles: an owner lets colleagues in and ends their access.
const (
	Owner Role = "owner"
	Plain Role = "coach"
)

// Coach is a coach of the practice.
type Coach struct {
	ID           string     `json:"id"`
	PracticeID   string     `json:"-"`
	Name         string     `json:"name"`
	Email        string     `json:"email"`
	PracticeName string     `json:"practice"`
	Units        body.Units `json:"units" doc:"what figures are read in"`
	Role         Role       `json:"role" enum:"owner,coach"`
	SecondFactor bool       `json:"secondFactor" doc:"signs in with a number of the phone besides"`
	Ended        bool       `json:"ended" doc:"has no access any more"`
}

// CreatePractice stores a practice with its first coach, who has no password yet.
func (s *Store) CreatePractice(ctx context.Context, practice, coach, email string) (practiceID, coachID string, err error) {
	practiceID = NewID()
	err = s.In(ctx, practiceID, func(tx *Tx) error {
		if _, err := tx.Exec(ctx, `INSERT INTO practices (id, name) VALUES ($1, $2)`, practiceID, practice); err != nil {
			return fmt.Errorf("creating the practice: %w", err)
		}
		if coachID, err = tx.AddCoach(ctx, coach, email); err != nil {
			return err
		}
		return tx.SetRole(ctx, coachID, Owner)
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
	rows, err := tx.Query(ctx, `SELECT c.id, c.practice_id, c.name, c.email, p.name AS practice_name, c.units, c.role,
		c.totp_secret <> '' AS second_factor, c.ended_at IS NOT NULL AS ended
		FROM coaches c JOIN practices p ON p.id = c.practice_id ORDER BY c.ended_at IS NOT NULL, lower(c.name), c.id`)
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

// HoldCoaches keeps anybody else from changing who may what until this ends.
func (tx *Tx) HoldCoaches(ctx context.Context) error {
	if _, err := tx.Exec(ctx, `SELECT pg_advisory_xact_lock(hashtextextended('coaches ' || $1, 0))`, tx.Practice); err != nil {
		return fmt.Errorf("holding the coaches: %w", err)
	}
	return nil
}

// SetRole makes a coach an owner, or no longer one.
func (tx *Tx) SetRole(ctx context.Context, coach string, role Role) error {
	if _, err := tx.Exec(ctx, `UPDATE coaches SET role = $2 WHERE id = $1`, coach, role); err != nil {
		return fmt.Errorf("changing the role: %w", err)
	}
	return nil
}

// SetAccess ends a coach's access with every session and every code, or gives it back.
func (tx *Tx) SetAccess(ctx context.Context, coach string, on bool) error {
	_, err := tx.Exec(ctx, `UPDATE coaches SET ended_at = CASE WHEN $2 THEN NULL ELSE coalesce(ended_at, now()) END, epoch = epoch + 1
		WHERE id = $1`, coach, on)
	if err == nil {
		_, err = tx.Exec(ctx, `UPDATE one_time_codes SET used_at = now() WHERE coach_id = $1 AND used_at IS NULL`, coach)
	}
	if err != nil {
		return fmt.Errorf("changing the access: %w", err)
	}
	return tx.forgetSessions(ctx, coach)
}

package store

import (
	"context"
	"crypto/rand"
	"encoding/base32"
	"fmt"
	"strings"
	"time"

	"notchback/internal/core/body"
)

// Account is what sign-in compares with.
type Account struct {
	ID, Practice, PasswordHash string
	Epoch                      int
}

// Account looks an e-mail address up before a practice is known.
func (s *Store) Account(ctx context.Context, email string) (Account, error) {
	var a Account
	err := s.pool.QueryRow(ctx, `SELECT id, practice_id, password_hash, epoch FROM door_coach($1)`, email).Scan(&a.ID, &a.Practice,
		&a.PasswordHash, &a.Epoch)
	if err != nil {
		return a, fmt.Errorf("looking the coach up: %w", known(err))
	}
	return a, nil
}

// SignedIn returns the coach of a session, unless they signed out everywhere since.
func (s *Store) SignedIn(ctx context.Context, coach string, epoch int) (Coach, error) {
	c := Coach{ID: coach}
	err := s.pool.QueryRow(ctx, `SELECT practice_id, name, email, practice, units FROM door_signed_in($1, $2)`, coach, epoch).Scan(
		&c.PracticeID, &c.Name, &c.Email, &c.PracticeName, &c.Units)
	if err != nil {
		return c, fmt.Errorf("reading the session: %w", known(err))
	}
	return c, nil
}

// LinkOwner is whom a private link speaks for.
type LinkOwner struct {
	Link, Practice, Runner string
	Units                  body.Units
}

// LinkOwner looks a private link's token up; ended, revoked and archived ones are not found.
func (s *Store) LinkOwner(ctx context.Context, token string) (LinkOwner, error) {
	var o LinkOwner
	err := s.pool.QueryRow(ctx, `SELECT id, practice_id, runner_id, units FROM door_link($1)`, Hash(token)).Scan(&o.Link, &o.Practice,
		&o.Runner, &o.Units)
	if err != nil {
		return o, fmt.Errorf("reading the link: %w", known(err))
	}
	return o, nil
}

// Attempt counts one more attempt under a key and returns how many fell into the window.
func (s *Store) Attempt(ctx context.Context, key string, window time.Duration) (int, error) {
	var n int
	err := s.pool.QueryRow(ctx, `SELECT door_attempt($1, $2)`, key, window).Scan(&n)
	if err != nil {
		return 0, fmt.Errorf("counting attempts: %w", err)
	}
	return n, nil
}

// ForgetAttempts clears a key after a success.
func (s *Store) ForgetAttempts(ctx context.Context, key string) error {
	_, err := s.pool.Exec(ctx, `SELECT door_forget_attempts($1)`, key)
	return err
}

// Redeem spends a one-time code and sets the password; every earlier session ends. ErrNotFound when
// the code is wrong, used or expired.
func (s *Store) Redeem(ctx context.Context, email, code, passwordHash string) error {
	var id *string
	err := s.pool.QueryRow(ctx, `SELECT door_redeem($1, $2, $3)::text`, email, Hash(normalCode(code)), passwordHash).Scan(&id)
	if err != nil {
		return fmt.Errorf("redeeming the code: %w", err)
	}
	if id == nil {
		return fmt.Errorf("redeeming the code: %w", ErrNotFound)
	}
	return nil
}

// newCode returns 80 random bits in groups a person can read out.
func newCode() string {
	b := make([]byte, 10)
	_, _ = rand.Read(b)
	s := base32.StdEncoding.EncodeToString(b)
	return s[:4] + "-" + s[4:8] + "-" + s[8:12] + "-" + s[12:]
}

func normalCode(c string) string {
	return strings.ToUpper(strings.NewReplacer("-", "", " ", "").Replace(c))
}

// AddCode makes a one-time code for a coach of this practice, good for a day.
func (tx *Tx) AddCode(ctx context.Context, coach string) (string, error) {
	code := newCode()
	_, err := tx.Exec(ctx, `INSERT INTO one_time_codes (id, practice_id, coach_id, code_hash, expires_at) VALUES ($1, $2, $3, $4,
		now() + interval '1 day')`,
		NewID(), tx.Practice, coach, Hash(normalCode(code)))
	if err != nil {
		return "", fmt.Errorf("making a one-time code: %w", known(err))
	}
	return code, nil
}

// SetPassword stores a new password hash and ends every session; it returns the new epoch.
func (tx *Tx) SetPassword(ctx context.Context, coach, hash string) (epoch int, err error) {
	err = tx.QueryRow(ctx, `UPDATE coaches SET password_hash = $2, epoch = epoch + 1 WHERE id = $1 RETURNING epoch`, coach, hash).Scan(&epoch)
	if err != nil {
		return 0, fmt.Errorf("changing the password: %w", known(err))
	}
	return epoch, nil
}

// SignOutEverywhere ends every session of a coach.
func (tx *Tx) SignOutEverywhere(ctx context.Context, coach string) error {
	_, err := tx.Exec(ctx, `UPDATE coaches SET epoch = epoch + 1 WHERE id = $1`, coach)
	if err != nil {
		return fmt.Errorf("signing out everywhere: %w", err)
	}
	return nil
}

package store

import (
	"context"
	"crypto/rand"
	"encoding/base32"
	"encoding/hex"
	"fmt"
	"slices"
	"strings"
	"time"
)

// Account is what sign-in compares with.
type Account struct {
	ID, Practice, PasswordHash string
	Epoch                      int
	Role                       Role
	TOTPSecret                 string // of the second factor, base 32; empty: none
}

// Account looks an e-mail address up before a practice is known; one whose access has ended is not found.
func (s *Store) Account(ctx context.Context, email string) (Account, error) {
	var a Account
	err := s.pool.QueryRow(ctx, `SELECT id, practice_id, password_hash, epoch, role, totp_secret FROM door_account($1)`, email).Scan(&a.ID,
		&a.Practice, &a.PasswordHash, &a.Epoch, &a.Role, &a.TOTPSecret)
	if err != nil {
		return a, fmt.Errorf("looking the coach up: %w", known(err))
	}
	return a, nil
}

// SignedIn returns the coach of a session, unless they signed out everywhere since.
func (s *Store) SignedIn(ctx context.Context, coach string, epoch int) (Coach, error) {
	c := Coach{ID: coach}
	err := s.pool.QueryRow(ctx, `SELECT practice_id, name, email, practice, units, role, second_factor FROM door_signed_in($1, $2)`, coach,
		epoch).Scan(&c.PracticeID, &c.Name, &c.Email, &c.PracticeName, &c.Units, &c.Role, &c.SecondFactor)
	if err != nil {
		return c, fmt.Errorf("reading the session: %w", known(err))
	}
	return c, nil
}

// Limits are how many failed tries a window allows: of one account from one address, of one address, and of one account from
// everywhere. The last never shuts out an address from which the account was let in before.
type Limits struct {
	Window                 time.Duration
	Pair, Address, Account int
}

// Try counts a try that has not succeeded, and reports false where there were too many.
func (s *Store) Try(ctx context.Context, email, address string, most Limits) (ok bool, err error) {
	pair, account, from := tried(email, address)
	err = s.pool.QueryRow(ctx, `SELECT door_try($1, $2, $3, $4, $5)`, pair, account, from, most.Window,
		[]int{most.Pair, most.Address, most.Account}).Scan(&ok)
	if err != nil {
		return false, fmt.Errorf("counting tries: %w", err)
	}
	return ok, nil
}

// LetIn takes the try back that succeeded, and remembers where from.
func (s *Store) LetIn(ctx context.Context, email, address string) error {
	pair, account, from := tried(email, address)
	if _, err := s.pool.Exec(ctx, `SELECT door_let_in($1, $2, $3)`, pair, account, from); err != nil {
		return fmt.Errorf("counting tries: %w", err)
	}
	return nil
}

// tried are the keys of a try; nobody reads an address or an e-mail from them.
func tried(email, address string) (pair, account, from string) {
	email = strings.ToLower(email)
	key := func(s string) string { return hex.EncodeToString(Hash(s)) }
	return key("pair " + email + " " + address), key("account " + email), key("address " + address)
}

// CodeFits reports whether a one-time code could be spent now.
func (s *Store) CodeFits(ctx context.Context, email, code string) (fits bool, err error) {
	if err := s.pool.QueryRow(ctx, `SELECT door_code_fits($1, $2)`, email, Hash(normalCode(code))).Scan(&fits); err != nil {
		return false, fmt.Errorf("looking at the code: %w", err)
	}
	return fits, nil
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

// newCode returns random bits, 40 for each of so many parts, in groups of four letters and digits that a person can read out.
func newCode(parts int) string {
	b := make([]byte, 5*parts)
	_, _ = rand.Read(b)
	var groups []string
	for g := range slices.Chunk([]byte(base32.StdEncoding.EncodeToString(b)), 4) {
		groups = append(groups, string(g))
	}
	return strings.Join(groups, "-")
}

func normalCode(c string) string {
	return strings.ToUpper(strings.NewReplacer("-", "", " ", "").Replace(c))
}

// AddCode makes a one-time code for a coach of this practice, good for a day.
func (tx *Tx) AddCode(ctx context.Context, coach string) (string, error) {
	code := newCode(2)
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
	return epoch, tx.forgetSessions(ctx, coach)
}

// SignOutEverywhere ends every session of a coach.
func (tx *Tx) SignOutEverywhere(ctx context.Context, coach string) error {
	_, err := tx.Exec(ctx, `UPDATE coaches SET epoch = epoch + 1 WHERE id = $1`, coach)
	if err != nil {
		return fmt.Errorf("signing out everywhere: %w", err)
	}
	return tx.forgetSessions(ctx, coach)
}

// SetSecondFactor keeps the secret of a coach's second factor and the hashes of its recovery codes; an empty secret ends it.
func (tx *Tx) SetSecondFactor(ctx context.Context, coach, secret string, codes [][]byte) error {
	if _, err := tx.Exec(ctx, `UPDATE coaches SET totp_secret = $2, totp_step = 0 WHERE id = $1`, coach, secret); err != nil {
		return fmt.Errorf("keeping the second factor: %w", err)
	}
	if _, err := tx.Exec(ctx, `DELETE FROM recovery_codes WHERE coach_id = $1`, coach); err != nil {
		return fmt.Errorf("keeping the recovery codes: %w", err)
	}
	_, err := tx.Exec(ctx, `INSERT INTO recovery_codes (practice_id, coach_id, code_hash) SELECT $1, $2, unnest($3::bytea[])`, tx.Practice,
		coach,
		codes)
	if err != nil {
		return fmt.Errorf("keeping the recovery codes: %w", err)
	}
	return nil
}

// UseStep spends the number of one half minute; false where it, or a later one, was spent already.
func (tx *Tx) UseStep(ctx context.Context, coach string, step int64) (bool, error) {
	tag, err := tx.Exec(ctx, `UPDATE coaches SET totp_step = $2 WHERE id = $1 AND totp_step < $2`, coach, step)
	if err != nil {
		return false, fmt.Errorf("spending the number: %w", err)
	}
	return tag.RowsAffected() == 1, nil
}

// UseRecovery spends a recovery code; false where it is none, or was spent.
func (tx *Tx) UseRecovery(ctx context.Context, coach, code string) (bool, error) {
	tag, err := tx.Exec(ctx, `UPDATE recovery_codes SET used_at = now() WHERE coach_id = $1 AND code_hash = $2 AND used_at IS NULL`, coach,
		Hash(normalCode(code)))
	if err != nil {
		return false, fmt.Errorf("spending the recovery code: %w", err)
	}
	return tag.RowsAffected() == 1, nil
}

// NewRecovery returns ten recovery codes and their hashes.
func NewRecovery() (codes []string, hashes [][]byte) {
	for range 10 {
		c := newCode(2)
		codes, hashes = append(codes, c), append(hashes, Hash(normalCode(c)))
	}
	return codes, hashes
}

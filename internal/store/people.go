package store

import (
	"context"
	"crypto/rand"
	"crypto/sha256"
	"encoding/base32"
	"encoding/base64"
	"fmt"
	"strconv"
	"strings"
	"time"

	"github.com/jackc/pgx/v5"

	"notchback/internal/core/house"
)

// Coach is a signed-in coach.
type Coach struct {
	ID           string `json:"id"`
	PracticeID   string `json:"-"`
	Name         string `json:"name"`
	Email        string `json:"email"`
	PracticeName string `json:"practice"`
}

// Account is what sign-in compares with.
type Account struct {
	ID, Practice, PasswordHash string
	Epoch                      int
}

// Account looks an e-mail address up before a practice is known.
func (s *Store) Account(ctx context.Context, email string) (Account, error) {
	var a Account
	err := s.pool.QueryRow(ctx, `SELECT id, practice_id, password_hash, epoch FROM door_coach($1)`, email).Scan(&a.ID, &a.Practice, &a.PasswordHash, &a.Epoch)
	if err != nil {
		return a, fmt.Errorf("looking the coach up: %w", known(err))
	}
	return a, nil
}

// SignedIn returns the coach of a session, unless they signed out everywhere since.
func (s *Store) SignedIn(ctx context.Context, coach string, epoch int) (Coach, error) {
	c := Coach{ID: coach}
	err := s.pool.QueryRow(ctx, `SELECT practice_id, name, email, practice FROM door_signed_in($1, $2)`, coach, epoch).Scan(&c.PracticeID, &c.Name, &c.Email, &c.PracticeName)
	if err != nil {
		return c, fmt.Errorf("reading the session: %w", known(err))
	}
	return c, nil
}

// LinkOwner is whom a private link speaks for.
type LinkOwner struct{ Link, Practice, Runner string }

// LinkOwner looks a private link's token up; ended, revoked and archived ones are not found.
func (s *Store) LinkOwner(ctx context.Context, token string) (LinkOwner, error) {
	var o LinkOwner
	err := s.pool.QueryRow(ctx, `SELECT id, practice_id, runner_id FROM door_link($1)`, Hash(token)).Scan(&o.Link, &o.Practice, &o.Runner)
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

// Hash is how tokens and codes are stored.
func Hash(secret string) []byte { h := sha256.Sum256([]byte(secret)); return h[:] }

// NewToken returns 128 random bits as text for a private link.
func NewToken() string {
	b := make([]byte, 16)
	_, _ = rand.Read(b)
	return base64.RawURLEncoding.EncodeToString(b)
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
	rows, err := tx.Query(ctx, `SELECT c.id, c.practice_id, c.name, c.email, p.name AS practice_name FROM coaches c JOIN practices p ON p.id = c.practice_id ORDER BY lower(c.name)`)
	if err != nil {
		return nil, fmt.Errorf("reading the coaches: %w", err)
	}
	return pgx.CollectRows(rows, pgx.RowToStructByName[Coach])
}

// AddCode makes a one-time code for a coach of this practice, good for a day.
func (tx *Tx) AddCode(ctx context.Context, coach string) (string, error) {
	code := newCode()
	_, err := tx.Exec(ctx, `INSERT INTO one_time_codes (id, practice_id, coach_id, code_hash, expires_at) VALUES ($1, $2, $3, $4, now() + interval '1 day')`,
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

// Rules returns the practice's house rules; their version counts its changes.
func (tx *Tx) Rules(ctx context.Context) (house.Rules, error) {
	h := house.Rules{Changed: map[string]float64{}, Approaches: map[string]string{}}
	rows, err := tx.Query(ctx, `SELECT key, value, choice FROM house_changes ORDER BY seq`)
	if err != nil {
		return h, fmt.Errorf("reading the house rules: %w", err)
	}
	var key string
	var value *float64
	var choice *string
	_, err = pgx.ForEachRow(rows, []any{&key, &value, &choice}, func() error {
		h.Version++
		if q, is := strings.CutPrefix(key, approachKey); is {
			delete(h.Approaches, q)
			if choice != nil {
				h.Approaches[q] = *choice
			}
			return nil
		}
		if key == platesKey {
			h.PlatesMm = nil
			if choice != nil {
				for _, mm := range strings.Fields(*choice) {
					if v, err := strconv.ParseFloat(mm, 64); err == nil {
						h.PlatesMm = append(h.PlatesMm, v)
					}
				}
			}
			return nil
		}
		if key == coreKey {
			h.CoreStations = nil
			if choice != nil && *choice != "" {
				h.CoreStations = strings.Split(*choice, " ")
			}
			return nil
		}
		delete(h.Changed, key)
		if _, exists := house.Find(key); exists && value != nil {
			h.Changed[key] = *value
		}
		return nil
	})
	if err != nil {
		return h, fmt.Errorf("reading the house rules: %w", err)
	}
	return h, nil
}

// approachKey and coreKey mark the changes that are a choice, not a figure.
const (
	approachKey = "approach."
	coreKey     = "core.stations"
	platesKey   = "plates.mm"
)

// ChangeApproach sets the practice's own answer to a question; empty goes back to the default.
func (tx *Tx) ChangeApproach(ctx context.Context, question, choice, coach string) error {
	return tx.choose(ctx, approachKey+question, choice, coach)
}

// ChangeCore sets the stations of the practice's core screen; none goes back to the default.
func (tx *Tx) ChangeCore(ctx context.Context, stations []string, coach string) error {
	return tx.choose(ctx, coreKey, strings.Join(stations, " "), coach)
}

// ChangePlates sets the thicknesses the coach owns, mm; none goes back to the runner's own.
func (tx *Tx) ChangePlates(ctx context.Context, plates []float64, coach string) error {
	words := make([]string, len(plates))
	for i, mm := range plates {
		words[i] = strconv.FormatFloat(mm, 'g', -1, 64)
	}
	return tx.choose(ctx, platesKey, strings.Join(words, " "), coach)
}

func (tx *Tx) choose(ctx context.Context, key, choice, coach string) error {
	_, err := tx.Exec(ctx, `INSERT INTO house_changes (practice_id, key, choice, coach_id) VALUES ($1, $2, NULLIF($3, ''), $4)`, tx.Practice, key, choice, coach)
	if err != nil {
		return fmt.Errorf("changing %s: %w", key, err)
	}
	return nil
}

// HouseChange is one change of a house rule or a choice, as it was made.
type HouseChange struct {
	Key    string   `json:"key"`
	Value  *float64 `json:"value,omitempty" doc:"absent: back to the default, or a choice"`
	Choice string   `json:"choice,omitempty"`
	Coach  string   `json:"coach"`
	At     string   `json:"at"`
}

// HouseHistory lists the changes, newest first.
func (tx *Tx) HouseHistory(ctx context.Context) ([]HouseChange, error) {
	rows, err := tx.Query(ctx, `SELECT h.key, h.value, coalesce(h.choice, '') AS choice, coalesce(c.name, '') AS coach, to_char(h.at AT TIME ZONE 'UTC', 'YYYY-MM-DD"T"HH24:MI:SS"Z"') AS at
		FROM house_changes h LEFT JOIN coaches c ON c.id = h.coach_id ORDER BY h.seq DESC LIMIT 500`)
	if err != nil {
		return nil, fmt.Errorf("reading the changes: %w", err)
	}
	out, err := pgx.CollectRows(rows, pgx.RowToStructByName[HouseChange])
	if err != nil {
		return nil, fmt.Errorf("reading the changes: %w", err)
	}
	if out == nil {
		out = []HouseChange{}
	}
	return out, nil
}

// ChangeRule changes a house rule; a nil value goes back to the default.
func (tx *Tx) ChangeRule(ctx context.Context, key string, value *float64, coach string) error {
	_, err := tx.Exec(ctx, `INSERT INTO house_changes (practice_id, key, value, coach_id) VALUES ($1, $2, $3, $4)`, tx.Practice, key, value, coach)
	if err != nil {
		return fmt.Errorf("changing the house rule: %w", err)
	}
	return nil
}

// Sessions keeps signed-in browsers in PostgreSQL for the session manager; tokens are stored hashed.
type Sessions struct{ S *Store }

// FindCtx returns a session's data.
func (x Sessions) FindCtx(ctx context.Context, token string) ([]byte, bool, error) {
	var data []byte
	err := x.S.pool.QueryRow(ctx, `SELECT door_session_find($1)`, Hash(token)).Scan(&data)
	return data, data != nil, err
}

// CommitCtx stores a session's data until its expiry.
func (x Sessions) CommitCtx(ctx context.Context, token string, data []byte, expiry time.Time) error {
	_, err := x.S.pool.Exec(ctx, `SELECT door_session_commit($1, $2, $3)`, Hash(token), data, expiry)
	return err
}

// DeleteCtx ends a session.
func (x Sessions) DeleteCtx(ctx context.Context, token string) error {
	_, err := x.S.pool.Exec(ctx, `SELECT door_session_delete($1)`, Hash(token))
	return err
}

// Find, Commit and Delete complete the session manager's interface; it uses the Ctx forms.
func (x Sessions) Find(token string) ([]byte, bool, error) {
	return x.FindCtx(context.Background(), token)
}

// Commit stores a session.
func (x Sessions) Commit(token string, data []byte, expiry time.Time) error {
	return x.CommitCtx(context.Background(), token, data, expiry)
}

// Delete ends a session.
func (x Sessions) Delete(token string) error { return x.DeleteCtx(context.Background(), token) }

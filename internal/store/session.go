package store

import (
	"context"
	"fmt"
	"time"

	"github.com/jackc/pgx/v5"
)

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

// Session is a signed-in browser of a coach.
type Session struct {
	ID     string    `json:"id"`
	Device string    `json:"device" doc:"kind of browser and of machine"`
	Began  time.Time `json:"began"`
	Seen   time.Time `json:"seen" doc:"last use, to the hour"`
	Here   bool      `json:"here" doc:"the one that asks"`
}

// SeeSession writes that a session is in use; the first time it names it.
func (tx *Tx) SeeSession(ctx context.Context, coach, token, device string, at time.Time) error {
	_, err := tx.Exec(ctx, `INSERT INTO coach_sessions (id, practice_id, coach_id, token_hash, device, began_at, seen_at)
		VALUES ($1, $2, $3, $4, $5, $6, $6) ON CONFLICT (token_hash) DO UPDATE SET seen_at = excluded.seen_at`, NewID(), tx.Practice, coach,
		Hash(token), device, at)
	if err != nil {
		return fmt.Errorf("naming the session: %w", err)
	}
	return nil
}

// SessionsOf lists a coach's sessions in use since a moment, the newest first.
func (tx *Tx) SessionsOf(ctx context.Context, coach, token string, since time.Time) ([]Session, error) {
	rows, err := tx.Query(ctx, `SELECT id::text, device, began_at, seen_at, token_hash = $2 FROM coach_sessions
		WHERE coach_id = $1 AND seen_at > $3 ORDER BY seen_at DESC, id`, coach, Hash(token), since)
	if err != nil {
		return nil, fmt.Errorf("reading the sessions: %w", err)
	}
	out, err := pgx.CollectRows(rows, pgx.RowToStructByPos[Session])
	if err != nil {
		return nil, fmt.Errorf("reading the sessions: %w", err)
	}
	return out, nil
}

// EndSession ends one session of a coach; one that is gone already stays so.
func (tx *Tx) EndSession(ctx context.Context, coach, id string) error {
	if _, err := tx.Exec(ctx, `SELECT door_session_end($1, $2)`, coach, id); err != nil {
		return fmt.Errorf("ending the session: %w", err)
	}
	if _, err := tx.Exec(ctx, `DELETE FROM coach_sessions WHERE coach_id = $1 AND id = $2`, coach, id); err != nil {
		return fmt.Errorf("ending the session: %w", err)
	}
	return nil
}

func (tx *Tx) forgetSessions(ctx context.Context, coach string) error {
	if _, err := tx.Exec(ctx, `DELETE FROM coach_sessions WHERE coach_id = $1`, coach); err != nil {
		return fmt.Errorf("forgetting the sessions: %w", err)
	}
	return nil
}

package store

import (
	"context"
	"time"
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

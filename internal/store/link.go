package store

import (
	"context"
	"crypto/rand"
	"crypto/sha256"
	"encoding/base64"
	"fmt"
	"time"
)

// Hash is how tokens and codes are stored.
func Hash(secret string) []byte { h := sha256.Sum256([]byte(secret)); return h[:] }

// NewToken returns 128 random bits as text for a private link.
func NewToken() string {
	b := make([]byte, 16)
	_, _ = rand.Read(b)
	return base64.RawURLEncoding.EncodeToString(b)
}

// AddLink stores the hash of a new private link.
func (tx *Tx) AddLink(ctx context.Context, runner, id string, hash []byte, expires time.Time) error {
	_, err := tx.Exec(ctx, `INSERT INTO links (id, practice_id, runner_id, token_hash, expires_at) VALUES ($1, $2, $3, $4, $5)`, id,
		tx.Practice, runner, hash, expires)
	if err != nil {
		return fmt.Errorf("storing the link: %w", known(err))
	}
	return nil
}

// RevokeLink ends a private link at once.
func (tx *Tx) RevokeLink(ctx context.Context, runner, id string) error {
	tag, err := tx.Exec(ctx, `UPDATE links SET revoked_at = coalesce(revoked_at, now())`+ownRunner, id, runner)
	if err != nil {
		return fmt.Errorf("revoking the link: %w", err)
	}
	if tag.RowsAffected() == 0 {
		return fmt.Errorf("revoking the link: %w", ErrNotFound)
	}
	return nil
}

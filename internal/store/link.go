package store

import (
	"context"
	"crypto/rand"
	"crypto/sha256"
	"encoding/base64"
	"fmt"
	"time"

	"notchback/internal/core/body"
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

// LinkOwner is whom a private link speaks for.
type LinkOwner struct {
	Link, Practice, Runner string
	Units                  body.Units
	Device                 string // it was opened on; empty where the link's own secret was said
	Stale                  bool   // the device's last use is to be written
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

// DeviceOwner looks up the secret of a device that a link was opened on; one that was ended, alone or with its link, is not
// found.
func (s *Store) DeviceOwner(ctx context.Context, token string) (LinkOwner, error) {
	var o LinkOwner
	err := s.pool.QueryRow(ctx, `SELECT id, practice_id, runner_id, units, device_id, stale FROM door_device($1)`, Hash(token)).Scan(&o.Link,
		&o.Practice, &o.Runner, &o.Units, &o.Device, &o.Stale)
	if err != nil {
		return o, fmt.Errorf("reading the device: %w", known(err))
	}
	return o, nil
}

// Opening is a link that a device is about to be opened on.
type Opening struct {
	Link, Practice, Runner string
	Expires                time.Time
}

// OpenByToken finds a live link by its secret.
func (s *Store) OpenByToken(ctx context.Context, token string) (Opening, error) {
	return s.opening(ctx, `SELECT id, practice_id, runner_id, expires_at FROM door_link_ends($1)`, Hash(token))
}

// OpenByCode spends a short code on a device and finds its link. Spending it again on the same device is the same.
func (s *Store) OpenByCode(ctx context.Context, code, device string) (Opening, error) {
	return s.opening(ctx, `SELECT id, practice_id, runner_id, expires_at FROM door_link_code($1, $2)`, Hash(normalCode(code)), device)
}

func (s *Store) opening(ctx context.Context, sql string, args ...any) (o Opening, err error) {
	if err = s.pool.QueryRow(ctx, sql, args...).Scan(&o.Link, &o.Practice, &o.Runner, &o.Expires); err != nil {
		err = fmt.Errorf("opening the link: %w", known(err))
	}
	return o, err
}

// mostDevices a link is open on at once; with one more, that which was not used for the longest time is ended.
const mostDevices = 20

// AddDevice opens a link on a device. Doing it again gives the device another secret: the answer that held the first was lost.
func (tx *Tx) AddDevice(ctx context.Context, link, id, token, name string) error {
	tag, err := tx.Exec(ctx, `INSERT INTO link_devices AS d (id, practice_id, link_id, token_hash, device) VALUES ($1, $2, $3, $4, $5)
		ON CONFLICT (id) DO UPDATE SET token_hash = excluded.token_hash WHERE d.link_id = excluded.link_id AND d.ended_at IS NULL`, id,
		tx.Practice, link, Hash(token), name)
	if err != nil {
		return fmt.Errorf("keeping the device: %w", known(err))
	}
	if tag.RowsAffected() == 0 {
		return fmt.Errorf("keeping the device: %w", ErrTaken)
	}
	_, err = tx.Exec(ctx, `UPDATE link_devices SET ended_at = now() WHERE link_id = $1 AND ended_at IS NULL AND id <> $2 AND id NOT IN
		(SELECT id FROM link_devices WHERE link_id = $1 AND ended_at IS NULL AND id <> $2 ORDER BY seen_at DESC, id LIMIT $3)`, link, id,
		mostDevices-1)
	if err != nil {
		return fmt.Errorf("ending devices: %w", err)
	}
	return nil
}

// SeeDevice writes that a device is in use.
func (tx *Tx) SeeDevice(ctx context.Context, id string) error {
	if _, err := tx.Exec(ctx, `UPDATE link_devices SET seen_at = now() WHERE id = $1`, id); err != nil {
		return fmt.Errorf("seeing the device: %w", err)
	}
	return nil
}

// EndDevice ends one device of a runner's link; one that has ended stays so.
func (tx *Tx) EndDevice(ctx context.Context, runner, id string) error {
	tag, err := tx.Exec(ctx, `UPDATE link_devices d SET ended_at = coalesce(d.ended_at, now()) FROM links l
		WHERE d.id = $1 AND l.id = d.link_id AND l.runner_id = $2`, id, runner)
	if err != nil {
		return fmt.Errorf("ending the device: %w", err)
	}
	if tag.RowsAffected() == 0 {
		return fmt.Errorf("ending the device: %w", ErrNotFound)
	}
	return nil
}

// AddLinkCode makes a short code that opens a runner's live link on one more device within ten minutes. An earlier one that
// nobody used ends.
func (tx *Tx) AddLinkCode(ctx context.Context, runner, link string) (code string, expires time.Time, err error) {
	if _, err = tx.Exec(ctx, `DELETE FROM link_codes WHERE link_id = $1 AND (device_id IS NULL OR expires_at < now())`, link); err != nil {
		return "", expires, fmt.Errorf("ending earlier codes: %w", err)
	}
	code = newCode(1)
	err = tx.QueryRow(ctx, `INSERT INTO link_codes (practice_id, link_id, code_hash, expires_at)
		SELECT practice_id, id, $3, now() + interval '10 minutes' FROM links
		WHERE id = $1 AND runner_id = $2 AND revoked_at IS NULL AND expires_at > now() RETURNING expires_at`, link, runner,
		Hash(normalCode(code))).Scan(&expires)
	if err != nil {
		return "", expires, fmt.Errorf("making a short code: %w", known(err))
	}
	return code, expires, nil
}

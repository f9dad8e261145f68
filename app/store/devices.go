package store

import (
	"context"
	"crypto/sha256"
	"database/sql"
	"encoding/hex"
	"errors"
)

// Device is a browser elsewhere that was let in.
type Device struct {
	ID       int64
	Name     string
	At, Seen int64 // ms since 1970
}

func sumOf(token string) string {
	h := sha256.Sum256([]byte(token))
	return hex.EncodeToString(h[:])
}

// AddDevice lets a browser in by a token, of which only the sum is kept.
func (s *Store) AddDevice(ctx context.Context, name, token string) error {
	now := s.now().UnixMilli()
	_, err := s.db.ExecContext(ctx, `INSERT INTO devices (name, token, at, seen) VALUES (?, ?, ?, ?)`, name, sumOf(token), now, now)
	return err
}

// DeviceOf finds the device of a token and notes that it was seen; [ErrNotFound] for a
// token that was never given or was taken back.
func (s *Store) DeviceOf(ctx context.Context, token string) (Device, error) {
	var d Device
	err := s.db.GetContext(ctx, &d, `SELECT id, name, at, seen FROM devices WHERE token = ?`, sumOf(token))
	if errors.Is(err, sql.ErrNoRows) {
		return d, ErrNotFound
	}
	if now := s.now().UnixMilli(); err == nil && now-d.Seen > 60_000 { // not with each request
		_, err = s.db.ExecContext(ctx, `UPDATE devices SET seen = ? WHERE id = ?`, now, d.ID)
		err = spared(err)
	}
	return d, err
}

// Devices lists the browsers that were let in.
func (s *Store) Devices(ctx context.Context) (out []Device, err error) {
	err = s.db.SelectContext(ctx, &out, `SELECT id, name, at, seen FROM devices ORDER BY id`)
	return out, err
}

// DropDevice shuts a browser out.
func (s *Store) DropDevice(ctx context.Context, id int64) error {
	return s.one(ctx, `DELETE FROM devices WHERE id = ?`, id)
}

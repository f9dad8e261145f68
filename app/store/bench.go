package store

import (
	"bytes"
	"compress/gzip"
	"context"
	"crypto/sha256"
	"database/sql"
	"encoding/hex"
	"errors"
	"fmt"
	"io"
)

// maxWeather bounds a file of weather, unpacked, bytes: a year of minutes is smaller.
const maxWeather = 64 << 20

// PutWeather keeps a file of hourly weather and returns the sum it goes by.
func (s *Store) PutWeather(ctx context.Context, name string, data []byte) (string, error) {
	var b bytes.Buffer
	z := gzip.NewWriter(&b)
	if _, err := z.Write(data); err != nil {
		return "", err
	}
	if err := z.Close(); err != nil {
		return "", err
	}
	h := sha256.Sum256(data)
	sum := hex.EncodeToString(h[:16])
	_, err := s.db.ExecContext(ctx, `INSERT INTO weather (sum, name, data, at) VALUES (?, ?, ?, ?) ON CONFLICT (sum) DO NOTHING`, sum,
		name, b.Bytes(), s.now().UnixMilli())
	return sum, err
}

// Weather returns a kept file of weather and its name; [ErrNotFound] if there is none.
func (s *Store) Weather(ctx context.Context, sum string) (name string, data []byte, err error) {
	var row struct {
		Name string
		Data []byte
	}
	if err := s.db.GetContext(ctx, &row, `SELECT name, data FROM weather WHERE sum = ?`, sum); err != nil {
		if errors.Is(err, sql.ErrNoRows) {
			return "", nil, ErrNotFound
		}
		return "", nil, err
	}
	z, err := gzip.NewReader(bytes.NewReader(row.Data))
	if err != nil {
		return "", nil, fmt.Errorf("weather %s: %w", row.Name, err)
	}
	data, err = io.ReadAll(io.LimitReader(z, maxWeather))
	return row.Name, data, err
}

// Kept is what a version came to when it was worked out.
type Kept struct {
	Version  int64
	Revision int64
	Program  string
	Figures  string // JSON
	At       int64  // ms since 1970
}

// Keep writes down what a version's revision came to, once for each program version.
func (s *Store) Keep(ctx context.Context, k Kept) error {
	_, err := s.db.ExecContext(ctx, `INSERT INTO results (version, revision, program, figures, at) VALUES (?, ?, ?, ?, ?) ON `+
		`CONFLICT (version, revision, program) DO UPDATE SET figures = excluded.figures WHERE figures <> `+
		`excluded.figures`, k.Version, k.Revision, k.Program, k.Figures, s.now().UnixMilli())
	return spared(err)
}

// KeptOf are what a heater's versions came to, the newest first.
func (s *Store) KeptOf(ctx context.Context, heater int64) (out []Kept, err error) {
	err = s.db.SelectContext(ctx, &out, `SELECT r.version AS version, r.revision AS revision, program, figures, r.at AS at FROM `+
		`results r JOIN versions v ON v.id = r.version WHERE v.heater = ? ORDER BY r.id DESC LIMIT 50`, heater)
	return out, err
}

// Item is a row of the stock.
type Item struct {
	ID   int64
	Kind string
	Item string // JSON
}

// Stock lists what lies in the shed, as it was entered.
func (s *Store) Stock(ctx context.Context) (out []Item, err error) {
	err = s.db.SelectContext(ctx, &out, `SELECT id, kind, item FROM stock ORDER BY id`)
	return out, err
}

// PutStock adds a thing to the shed.
func (s *Store) PutStock(ctx context.Context, kind, item string) error {
	_, err := s.db.ExecContext(ctx, `INSERT INTO stock (kind, item, at) VALUES (?, ?, ?)`, kind, item, s.now().UnixMilli())
	return err
}

// SetStock writes a thing anew; [ErrNotFound] if it is gone.
func (s *Store) SetStock(ctx context.Context, id int64, item string) error {
	return s.one(ctx, `UPDATE stock SET item = ? WHERE id = ?`, item, id)
}

// DropStock takes a thing out of the shed; [ErrNotFound] if it is gone.
func (s *Store) DropStock(ctx context.Context, id int64) error {
	return s.one(ctx, `DELETE FROM stock WHERE id = ?`, id)
}

// one runs what must change a row.
func (s *Store) one(ctx context.Context, query string, args ...any) error {
	r, err := s.db.ExecContext(ctx, query, args...)
	if err != nil {
		return err
	}
	if n, err := r.RowsAffected(); err != nil || n == 0 {
		return errors.Join(err, ErrNotFound)
	}
	return nil
}

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

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

// maxWeather bounds a file of weather, unpacked, bytes: a year of minutes is smaller.
const maxWeather = 64 << 20

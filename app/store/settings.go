package store

import (
	"context"
	"database/sql"
	"errors"

	"github.com/jmoiron/sqlx"
)

// Setting is a value that the workshop has in common for all who look; empty where none was set.
func (s *Store) Setting(ctx context.Context, name string) (value string, err error) {
	return s.text(ctx, "SELECT value FROM settings WHERE name = ?", name)
}

// text is the one text that a query finds; empty where it finds no row.
func (s *Store) text(ctx context.Context, query, key string) (found string, err error) {
	err = s.db.GetContext(ctx, &found, query, key)
	if errors.Is(err, sql.ErrNoRows) {
		return "", nil
	}
	return found, err
}

// SetSetting keeps a value for all who look.
func (s *Store) SetSetting(ctx context.Context, name, value string) error {
	return s.tx(ctx, func(q *sqlx.Tx) error {
		_, err := q.ExecContext(ctx, "INSERT INTO settings (name, value) VALUES (?, ?) ON CONFLICT (name) DO UPDATE SET "+
			"value = excluded.value", name, value)
		return err
	})
}

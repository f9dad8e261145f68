package store

import (
	"context"
	"errors"
)

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

package store

import (
	"context"
	"time"

	"github.com/jmoiron/sqlx"
)

// numberKey is where a context holds the number of the change that is being made.
type numberKey struct{}

// WithNumber gives a context the number under which a page sends a change. What adds something, such as a note or a test, keeps the
// number in the same transaction, so that [Store.Made] knows it also after the program was stopped or killed.
func WithNumber(ctx context.Context, number string) context.Context {
	return context.WithValue(ctx, numberKey{}, number)
}

// keptNumbers is how long the number of a change is kept: as long as a phone may wait for a workshop that is not there.
const keptNumbers = 60 * 24 * time.Hour

// Made says whether something was added under a number.
func (s *Store) Made(ctx context.Context, number string) (made bool, err error) {
	if s.damaged != "" {
		return false, nil // nothing can be made
	}
	err = s.db.GetContext(ctx, &made, `SELECT EXISTS (SELECT 1 FROM changes WHERE number = ?)`, number)
	return made, err
}

// adding runs what must not be done again when it is sent twice, in one transaction with the number of the change.
func (s *Store) adding(ctx context.Context, f func(*sqlx.Tx) error) error {
	return s.tx(ctx, func(q *sqlx.Tx) error {
		if err := f(q); err != nil {
			return err
		}
		number, ok := ctx.Value(numberKey{}).(string)
		if !ok {
			return nil
		}
		now := s.now()
		if _, err := q.ExecContext(ctx, `DELETE FROM changes WHERE at < ?`, now.Add(-keptNumbers).UnixMilli()); err != nil {
			return err
		}
		_, err := q.ExecContext(ctx, `INSERT INTO changes (number, at) VALUES (?, ?) ON CONFLICT (number) DO NOTHING`, number,
			now.UnixMilli())
		return err
	})
}

// addRow inserts a row by [Store.adding] and returns its number.
func (s *Store) addRow(ctx context.Context, query string, args ...any) (id int64, err error) {
	err = s.adding(ctx, func(q *sqlx.Tx) error {
		r, err := q.ExecContext(ctx, query, args...)
		if err != nil {
			return err
		}
		id, err = r.LastInsertId()
		return err
	})
	return id, err
}

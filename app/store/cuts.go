package store

import (
	"context"
	"database/sql"
	"errors"

	"github.com/jmoiron/sqlx"
)

// CutPiece is how many pieces of a part are cut already, at the size they were cut to, m.
type CutPiece struct {
	Name   string
	Length float64 `db:"length_m"`
	Width  float64 `db:"width_m"`
	Done   int
}

// CutPieces lists what is cut for a heater, by part.
func (s *Store) CutPieces(ctx context.Context, heater int64) (out []CutPiece, err error) {
	err = s.db.SelectContext(ctx, &out, `SELECT name, length_m, width_m, done FROM cuts WHERE heater = ? ORDER BY name, length_m`, heater)
	return out, err
}

// CutRecord is the cutting plan of a heater with what is cut, as JSON; empty where nothing was cut yet.
func (s *Store) CutRecord(ctx context.Context, heater int64) (record string, err error) {
	err = s.db.GetContext(ctx, &record, `SELECT record FROM cut_records WHERE heater = ?`, heater)
	if errors.Is(err, sql.ErrNoRows) {
		return "", nil
	}
	return record, err
}

// MarkCut writes how many pieces of parts are cut at a size, none taking the mark away, and the plan with them.
func (s *Store) MarkCut(ctx context.Context, heater int64, pieces []CutPiece, record string) error {
	return s.adding(ctx, func(tx *sqlx.Tx) error {
		for _, x := range pieces {
			if x.Done <= 0 {
				if _, err := tx.ExecContext(ctx, `DELETE FROM cuts WHERE heater = ? AND name = ? AND length_m = ? AND width_m = ?`, heater,
					x.Name, x.Length, x.Width); err != nil {
					return err
				}
				continue
			}
			if _, err := tx.ExecContext(ctx, `INSERT INTO cuts (heater, name, length_m, width_m, done) VALUES (?, ?, ?, ?, ?) `+
				`ON CONFLICT (heater, name, length_m, width_m) DO UPDATE SET done = excluded.done`, heater, x.Name, x.Length, x.Width,
				x.Done); err != nil {
				return err
			}
		}
		return putRecord(ctx, tx, heater, record)
	})
}

// PutOffcuts lays what is left over among the materials on hand, kinds and items as [Store.PutStock] takes them, and writes
// the plan without it.
func (s *Store) PutOffcuts(ctx context.Context, heater int64, things []Item, record string) error {
	return s.tx(ctx, func(tx *sqlx.Tx) error {
		for _, x := range things {
			if _, err := tx.ExecContext(ctx, `INSERT INTO stock (kind, item, at) VALUES (?, ?, ?)`, x.Kind, x.Item,
				s.now().UnixMilli()); err != nil {
				return err
			}
		}
		return putRecord(ctx, tx, heater, record)
	})
}

// putRecord writes a heater's cutting plan.
func putRecord(ctx context.Context, tx *sqlx.Tx, heater int64, record string) error {
	_, err := tx.ExecContext(ctx, `INSERT INTO cut_records (heater, record) VALUES (?, ?) `+
		`ON CONFLICT (heater) DO UPDATE SET record = excluded.record`, heater, record)
	return err
}

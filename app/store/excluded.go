package store

import (
	"context"
	"time"
)

// Excluded is a stretch of a log that is left out of its judgment.
type Excluded struct {
	ID     int64
	Lo, Hi int64 // ms
	Why    string
}

// From and To are its ends.
func (x *Excluded) From() time.Time { return time.UnixMilli(x.Lo) }

// To is the later end.
func (x *Excluded) To() time.Time { return time.UnixMilli(x.Hi) }

// Exclude leaves a stretch of a log out of its judgment; the readings stay.
func (s *Store) Exclude(ctx context.Context, heater int64, from, to time.Time, why string) error {
	_, err := s.addRow(ctx, `INSERT INTO log_excluded (heater, lo, hi, why, at) VALUES (?, ?, ?, ?, ?)`, heater, from.UnixMilli(),
		to.UnixMilli(), why, s.now().UnixMilli())
	return err
}

// Excluded lists what is left out of a heater's log, the first stretch first.
func (s *Store) Excluded(ctx context.Context, heater int64) (out []Excluded, err error) {
	err = s.db.SelectContext(ctx, &out, `SELECT id, lo, hi, why FROM log_excluded WHERE heater = ? ORDER BY lo, id`, heater)
	return out, err
}

// Include takes a stretch back into the judgment.
func (s *Store) Include(ctx context.Context, heater, id int64) error {
	_, err := s.db.ExecContext(ctx, `DELETE FROM log_excluded WHERE id = ? AND heater = ?`, id, heater)
	return err
}

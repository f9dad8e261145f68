package store

import (
	"context"
	"time"
)

// Trial is a test that was made on a heater.
type Trial struct {
	ID, Version int64
	Kind        string // the ID of a measure.Trial
	Made        int64  // when, ms
	Entry       string // JSON: readings in SI by what was asked
	Result      string // the figure in words, as it was when it was kept
}

// Calibration is the kind of a heater's fit to its log, which is kept like a test.
const Calibration = "calibration"

// When is when the test was made.
func (t *Trial) When() time.Time { return time.UnixMilli(t.Made) }

// AddTrial keeps a test.
func (s *Store) AddTrial(ctx context.Context, heater int64, t Trial) (int64, error) {
	return s.addRow(ctx, `INSERT INTO trials (heater, version, kind, made, entry, result, at) VALUES (?, ?, ?, ?, ?, ?, ?)`,
		heater, t.Version, t.Kind, t.Made, t.Entry, t.Result, s.now().UnixMilli())
}

// Trials lists the tests of a heater, the latest first; those that were removed are left out.
func (s *Store) Trials(ctx context.Context, heater int64) (out []Trial, err error) {
	err = s.db.SelectContext(ctx, &out, `SELECT id, version, kind, made, entry, result FROM trials WHERE heater = ? AND gone = 0 `+
		`ORDER BY made DESC, id DESC`, heater)
	return out, err
}

// DropTrial removes a test, or with back puts it there again.
func (s *Store) DropTrial(ctx context.Context, heater, id int64, back bool) error {
	gone := s.now().UnixMilli()
	if back {
		gone = 0
	}
	_, err := s.db.ExecContext(ctx, `UPDATE trials SET gone = ? WHERE id = ? AND heater = ?`, gone, id, heater)
	return err
}

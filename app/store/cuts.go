package store

import "context"

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

// MarkCut writes how many pieces of a part are cut at a size; none takes the mark away.
func (s *Store) MarkCut(ctx context.Context, heater int64, x CutPiece) error {
	if x.Done <= 0 {
		_, err := s.db.ExecContext(ctx, `DELETE FROM cuts WHERE heater = ? AND name = ? AND length_m = ? AND width_m = ?`, heater, x.Name,
			x.Length, x.Width)
		return err
	}
	_, err := s.db.ExecContext(ctx, `INSERT INTO cuts (heater, name, length_m, width_m, done) VALUES (?, ?, ?, ?, ?) `+
		`ON CONFLICT (heater, name, length_m, width_m) DO UPDATE SET done = excluded.done`, heater, x.Name, x.Length, x.Width, x.Done)
	return err
}

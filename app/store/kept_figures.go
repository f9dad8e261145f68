package store

import (
	"context"
)

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

package store

import (
	"context"
	"time"

	"github.com/jmoiron/sqlx"
)

// Price is what a pack was seen sold for, and on which day, 2006-01-02.
type Price struct {
	What string
	Pack float64
	Seen string
}

// Prices lists all prices by what they are for.
func (s *Store) Prices(ctx context.Context) (out []Price, err error) {
	err = s.db.SelectContext(ctx, &out, `SELECT what, pack, seen FROM prices ORDER BY what`)
	return out, err
}

// SetPrice writes a price; one of zero is forgotten.
func (s *Store) SetPrice(ctx context.Context, p Price) error {
	return s.tx(ctx, func(tx *sqlx.Tx) error {
		if p.Pack <= 0 {
			_, err := tx.ExecContext(ctx, `DELETE FROM prices WHERE what = ?`, p.What)
			return err
		}
		_, err := tx.ExecContext(ctx, `INSERT INTO prices (what, pack, seen) VALUES (?, ?, ?) `+
			`ON CONFLICT (what) DO UPDATE SET pack = excluded.pack, seen = excluded.seen`, p.What, p.Pack, p.Seen)
		return err
	})
}

// Purchase is packs of a thing that are bought for a heater.
type Purchase struct {
	What  string // its ID on the list to buy
	Name  string // what the list called it; may be empty
	Packs int
}

// Bought lists what is bought for a heater, by ID.
func (s *Store) Bought(ctx context.Context, heater int64) (out []Purchase, err error) {
	err = s.db.SelectContext(ctx, &out, `SELECT what, name, packs FROM bought WHERE heater = ? ORDER BY what`, heater)
	return out, err
}

// SetBought writes how many packs of a thing are bought for a heater; none takes the mark away.
func (s *Store) SetBought(ctx context.Context, heater int64, p Purchase) error {
	return s.tx(ctx, func(tx *sqlx.Tx) error {
		if p.Packs <= 0 {
			_, err := tx.ExecContext(ctx, `DELETE FROM bought WHERE heater = ? AND what = ?`, heater, p.What)
			return err
		}
		_, err := tx.ExecContext(ctx, `INSERT INTO bought (heater, what, name, packs) VALUES (?, ?, ?, ?) `+
			`ON CONFLICT (heater, what) DO UPDATE SET name = excluded.name, packs = excluded.packs`, heater, p.What, p.Name, p.Packs)
		return err
	})
}

// Step is a step of building that is done.
type Step struct {
	Step    string
	Done    int64 // when, ms
	Minutes int   // that it took; 0 where nobody said
	Entry   string
}

// At is when it was done.
func (x *Step) At() time.Time { return time.UnixMilli(x.Done) }

// Steps lists the steps of a heater that are done, the first one first.
func (s *Store) Steps(ctx context.Context, heater int64) (out []Step, err error) {
	err = s.db.SelectContext(ctx, &out, `SELECT step, done, minutes, entry FROM steps WHERE heater = ? ORDER BY done, step`, heater)
	return out, err
}

// SetStep marks a step of a heater as done, now.
func (s *Store) SetStep(ctx context.Context, heater int64, x Step) error {
	return s.tx(ctx, func(tx *sqlx.Tx) error {
		_, err := tx.ExecContext(ctx, `INSERT INTO steps (heater, step, done, minutes, entry) VALUES (?, ?, ?, ?, ?) `+
			`ON CONFLICT (heater, step) DO UPDATE SET done = excluded.done, minutes = excluded.minutes, entry = excluded.entry`,
			heater, x.Step, s.now().UnixMilli(), x.Minutes, x.Entry)
		return err
	})
}

// DropStep takes the mark of a step away.
func (s *Store) DropStep(ctx context.Context, heater int64, step string) error {
	return s.tx(ctx, func(tx *sqlx.Tx) error {
		_, err := tx.ExecContext(ctx, `DELETE FROM steps WHERE heater = ? AND step = ?`, heater, step)
		return err
	})
}

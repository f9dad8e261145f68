package store

import (
	"context"
	"fmt"
	"slices"
	"strings"

	"github.com/jmoiron/sqlx"
)

// Trash puts a heater away, with its versions and readings, until it is restored or deleted.
func (s *Store) Trash(ctx context.Context, heater int64) error {
	return s.one(ctx, "UPDATE heaters SET trashed = ? WHERE id = ? AND trashed IS NULL", s.now().UnixMilli(), heater)
}

// Restore takes a heater out of the trash.
func (s *Store) Restore(ctx context.Context, heater int64) error {
	return s.one(ctx, "UPDATE heaters SET trashed = NULL WHERE id = ? AND trashed IS NOT NULL", heater)
}

// Delete removes a heater that is in the trash for good, with all that belongs to it.
func (s *Store) Delete(ctx context.Context, heater int64) error {
	return s.one(ctx, "DELETE FROM heaters WHERE id = ? AND trashed IS NOT NULL", heater)
}

// Trashed is a heater in the trash.
type Trashed struct {
	ID   int64
	Name string
	At   int64 // ms since 1970
}

// TrashedHeaters lists the heaters in the trash, the last one first.
func (s *Store) TrashedHeaters(ctx context.Context) (out []Trashed, err error) {
	if err := s.db.SelectContext(ctx, &out, "SELECT id, trashed AS at FROM heaters WHERE trashed IS NOT NULL ORDER BY trashed DESC, id "+
		"DESC"); err != nil {
		return nil, fmt.Errorf("listing the trash: %w", err)
	}
	for i := range out {
		st, err := s.get(ctx, s.db, out[i].ID)
		if err != nil {
			return nil, err
		}
		out[i].Name = st.Document.Name
	}
	return out, nil
}

// Copy makes a heater of another one's version that is open, without its readings.
func (s *Store) Copy(ctx context.Context, heater int64) (State, error) {
	st, err := s.Get(ctx, heater)
	if err != nil {
		return st, err
	}
	var taken []string
	err = s.tx(ctx, func(q *sqlx.Tx) error {
		var ids []int64
		if err := q.SelectContext(ctx, &ids, "SELECT id FROM heaters"); err != nil {
			return err
		}
		for _, id := range ids {
			o, err := s.get(ctx, q, id)
			if err != nil {
				return err
			}
			taken = append(taken, o.Document.Name)
		}
		return nil
	})
	if err != nil {
		return st, fmt.Errorf("copying a heater: %w", err)
	}
	h := st.Document
	h.Name = copyName(h.Name, taken)
	return s.Create(ctx, h)
}

// longestStem leaves room for what a copy adds to a name, of which a heater takes 80 letters.
const longestStem = 64

// copyName is a name that no heater has yet: Shop heater, copy; Shop heater, copy 2.
func copyName(name string, taken []string) string {
	stem, _, _ := strings.Cut(name, ", copy")
	if r := []rune(stem); len(r) > longestStem {
		stem = string(r[:longestStem])
	}
	next := stem + ", copy"
	for i := 2; slices.Contains(taken, next); i++ {
		next = fmt.Sprintf("%s, copy %d", stem, i)
	}
	return next
}

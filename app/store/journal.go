package store

import (
	"context"
	"database/sql"
	"errors"
	"time"

	"gladember/core/design"
)

// Note is an entry of a heater's journal.
type Note struct {
	ID            int64
	Step, Note    string
	Cost          float64
	Width, Height int   // of its photo, px; 0 without one
	Moment        int64 // ms, of the log that it is pinned to; 0 for none
	At            int64
	Gone          int64
}

// About is the moment of the log that it is pinned to.
func (n *Note) About() time.Time { return time.UnixMilli(n.Moment) }

// When is when it was written.
func (n *Note) When() time.Time { return time.UnixMilli(n.At) }

// AddNote writes a note with a photo, or without one.
func (s *Store) AddNote(ctx context.Context, heater int64, n Note, photo []byte) (int64, error) {
	return s.addRow(ctx,
		`INSERT INTO journal (heater, step, note, cost, photo, width, height, moment, at) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?)`,
		heater, n.Step, n.Note, n.Cost, photo, n.Width, n.Height, n.Moment, s.now().UnixMilli())
}

// Notes lists a heater's journal, the latest first, without the photos; those that were removed are left out.
func (s *Store) Notes(ctx context.Context, heater int64) (out []Note, err error) {
	err = s.db.SelectContext(ctx, &out,
		`SELECT id, step, note, cost, width, height, moment, at, gone FROM journal WHERE heater = ? AND gone = 0 `+
			`ORDER BY at DESC, id DESC`, heater)
	return out, err
}

// Pinned lists the notes that are pinned to the log from one instant up to, not with, another, the first moment first.
func (s *Store) Pinned(ctx context.Context, heater int64, from, to time.Time) (out []Note, err error) {
	err = s.db.SelectContext(ctx, &out, `SELECT id, step, note, cost, width, height, moment, at, gone FROM journal WHERE heater = ? AND `+
		`gone = 0 AND moment >= ? AND moment < ? ORDER BY moment, id`, heater, from.UnixMilli(), to.UnixMilli())
	return out, err
}

// NotePhoto is the photo of a note.
func (s *Store) NotePhoto(ctx context.Context, heater, id int64) (jpeg []byte, err error) {
	err = s.db.GetContext(ctx, &jpeg, `SELECT photo FROM journal WHERE id = ? AND heater = ? AND photo IS NOT NULL`, id, heater)
	if errors.Is(err, sql.ErrNoRows) {
		return nil, ErrNotFound
	}
	return jpeg, err
}

// DropNote removes a note, or with back puts it there again.
func (s *Store) DropNote(ctx context.Context, heater, id int64, back bool) error {
	gone := s.now().UnixMilli()
	if back {
		gone = 0
	}
	_, err := s.db.ExecContext(ctx, `UPDATE journal SET gone = ? WHERE id = ? AND heater = ?`, gone, id, heater)
	return err
}

// Edit is a change of a heater's document, as it was named.
type Edit struct {
	Label   string
	Version string
	At      int64
	// Path is the field that was changed, empty for a change of several; Before and After are the documents.
	Path          string
	Before, After design.Heater
}

// LastEdits are the latest changes of a heater, the last one first. Of changes to the same field within two seconds, which are one to
// undo, only the last one counts.
func (s *Store) LastEdits(ctx context.Context, heater int64, most int) (out []Edit, err error) {
	var rows []struct {
		Owner  int64 // the version
		Before *int64
		Kind   design.Document
		Name   string
		editRow
	}
	// All documents of the heater, and that of the workshop; of the others only what was changed since.
	later := func(t table) string {
		return "NOT EXISTS (SELECT 1 FROM " + t.edits + " n WHERE n.parent = e.parent AND n.path = e.path AND n.path <> '' AND " +
			"n.label = e.label AND n.id > e.id AND n.at - e.at < ?)"
	}
	own, other := (&held{kind: design.HeaterDocument}).table(), (&held{kind: design.LogDocument}).table()
	err = s.db.SelectContext(ctx, &rows, "SELECT v.id AS owner, e.parent AS before, 0 AS kind, v.name AS name, "+own.columns("e")+
		" FROM edits e JOIN versions v ON v.id = e.version WHERE v.heater = ? AND "+later(own)+
		" UNION ALL SELECT coalesce(v.id, c.id), e.parent, iif(v.id IS NULL, ?, ?), coalesce(v.name, c.name), "+other.columns("e")+
		" FROM document_edits e JOIN documents d ON d.id = e.document LEFT JOIN versions v ON v.id = d.version "+
		"JOIN heaters h ON h.id = ? JOIN versions c ON c.id = h.current WHERE e.parent IS NOT NULL AND "+
		"(d.version IS NULL OR v.heater = h.id) AND "+
		later(other)+" ORDER BY revision DESC, kind LIMIT ?", heater, oneEdit.Milliseconds(), design.WorkshopDocument, design.LogDocument,
		heater, oneEdit.Milliseconds(), most)
	if err != nil {
		return nil, err
	}
	for _, r := range rows {
		e := Edit{Label: r.Label, Version: r.Name, At: r.At, Path: r.Path}
		l, err := s.line(ctx, s.db, r.Owner)
		if err != nil {
			return nil, err
		}
		l[r.Kind].edit = r.editRow
		if e.After, err = s.joined(l); err != nil {
			return nil, err
		}
		e.Before = e.After
		if t := l[r.Kind].table(); r.Before != nil {
			if err := s.db.GetContext(ctx, &l[r.Kind].edit, "SELECT "+t.columns("e")+" FROM "+t.edits+" e WHERE e.id = ?",
				*r.Before); err != nil {
				return nil, err
			}
			if e.Before, err = s.joined(l); err != nil {
				return nil, err
			}
		}
		out = append(out, e)
	}
	return out, nil
}

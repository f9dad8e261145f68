package store

import (
	"context"
	"database/sql"
	"errors"
	"slices"
	"strings"
	"time"

	"github.com/jmoiron/sqlx"
	"github.com/pressly/goose/v3"

	"gladember/core/design"
	"gladember/core/units"
)

// editRow is an edit as it is stored: a document as it was after it.
type editRow struct {
	ID       int64
	Parent   *int64
	Path     string
	Label    string
	Document []byte // empty for a workshop or a log in which nobody gave anything
	Revision int64
	At       int64
}

// held is a document as it stands: its head, and the edit that a redo would put in force.
type held struct {
	kind     design.Document
	id       int64 // of the version, or of the document
	revision int64 // of the last move of its head
	edit     editRow
	child    *int64 // the youngest edit made after its head; nil for none
	next     int64  // the revision of that one
	begun    int64  // the revision of its first edit
	made     int64  // the revision of its latest edit, in force or not
}

// line is what a version is put together from: its heater, the workshop and its log, by [design.Document].
type line [3]held

// table names the tables of a kind of document.
type table struct{ owners, owner, edits, moves, text string }

func (x *held) table() table {
	if x.kind == design.HeaterDocument {
		return table{"versions", "version", "edits", "moves", "document"}
	}
	return table{"documents", "document", "document_edits", "document_moves", "text"}
}

// columns are those of an [editRow].
func (t table) columns(of string) string {
	return strings.ReplaceAll("x.id AS id, x.parent AS parent, x.path AS path, x.label AS label, x."+t.text+" AS document, "+
		"x.revision AS revision, x.at AS at", "x.", of+".")
}

// line reads what a version is put together from; version 0 is no heater's, but the workshop by itself.
func (s *Store) line(ctx context.Context, q querier, version int64) (l line, err error) {
	for d, where := range map[design.Document]string{design.HeaterDocument: "o.id = ?", design.LogDocument: "o.version = ?",
		design.WorkshopDocument: "o.version IS NULL AND ? >= 0"} {
		if version == 0 && d != design.WorkshopDocument {
			continue
		}
		if l[d], err = s.held(ctx, q, d, where, version); err != nil {
			return l, err
		}
	}
	return l, nil
}

// held reads a document as it stands.
func (s *Store) held(ctx context.Context, q querier, d design.Document, where string, version int64) (held, error) {
	x := held{kind: d}
	t := x.table()
	var row struct {
		Owner, Moved, Next, Begun, Made int64
		Child                           *int64
		editRow
	}
	err := q.GetContext(ctx, &row, "SELECT o.id AS owner, o.revision AS moved, "+t.columns("e")+", (SELECT max(c.id) FROM "+t.edits+
		" c WHERE c.parent = e.id) AS child, (SELECT coalesce(max(c.revision), 0) FROM "+t.edits+" c WHERE c.parent = e.id) AS next, "+
		"(SELECT min(c.revision) FROM "+t.edits+" c WHERE c."+t.owner+" = o.id) AS begun, (SELECT max(c.revision) FROM "+t.edits+
		" c WHERE c."+t.owner+" = o.id) AS made FROM "+t.owners+" o JOIN "+t.edits+" e ON e.id = o.head WHERE "+where, version)
	if errors.Is(err, sql.ErrNoRows) {
		return x, ErrNotFound
	}
	x = held{d, row.Owner, row.Moved, row.editRow, row.Child, row.Next, row.Begun, row.Made}
	return x, err
}

// joined is the heater of a line.
func (s *Store) joined(l line) (design.Heater, error) {
	own := l[design.HeaterDocument].edit.Document
	if l[design.HeaterDocument].id == 0 {
		h := design.New()
		var err error
		if own, err = h.Part(design.HeaterDocument); err != nil {
			return h, err
		}
	}
	return s.read.join(own, l[design.WorkshopDocument].edit.Document, l[design.LogDocument].edit.Document)
}

// revision is the number of the last move of any document of a line.
func (l line) revision() int64 {
	return max(l[design.HeaterDocument].revision, l[design.WorkshopDocument].revision, l[design.LogDocument].revision)
}

// last are the documents that an undo moves: those that the latest edit changed. An edit of the workshop from before the version was begun
// is no part of the version's past.
func (l line) last() (ds []design.Document) {
	latest := int64(0)
	for d, x := range l {
		if x.edit.Parent == nil || x.edit.Revision < l[design.HeaterDocument].begun {
			continue
		}
		if x.edit.Revision > latest {
			latest, ds = x.edit.Revision, nil
		}
		if x.edit.Revision == latest {
			ds = append(ds, design.Document(d))
		}
	}
	return ds
}

// next are the documents that a redo moves: of those in which an edit was taken back, and none made since, those whose edit is the first.
// Without such, those in which one was taken back last.
func (l line) next() (ds []design.Document) {
	made := int64(0)
	for _, x := range l {
		made = max(made, x.made)
	}
	before := func(a, b held) bool {
		if fresh := a.revision > made; fresh != (b.revision > made) {
			return fresh
		} else if fresh {
			return a.next < b.next
		}
		return a.revision > b.revision
	}
	for d, x := range l {
		switch {
		case x.child == nil:
		case len(ds) == 0 || before(x, l[ds[0]]):
			ds = []design.Document{design.Document(d)}
		case x.next == l[ds[0]].next:
			ds = append(ds, design.Document(d))
		}
	}
	return ds
}

// others says whether another page moved a document of a line since a page saw it.
func (l line) others(ctx context.Context, q querier, seen Seen) (bool, error) {
	for _, x := range l {
		n := 0
		if err := q.GetContext(ctx, &n, "SELECT count(*) FROM "+x.table().moves+" WHERE "+x.table().owner+
			" = ? AND revision > ? AND page <> ?", x.id, seen.Revision, seen.Page); err != nil || n > 0 {
			return n > 0, err
		}
	}
	return false, nil
}

// nextRevision is the number of the next move.
func nextRevision(ctx context.Context, q querier) (n int64, err error) {
	err = q.GetContext(ctx, &n, "SELECT 1 + max((SELECT coalesce(max(revision), 0) FROM versions), "+
		"(SELECT coalesce(max(revision), 0) FROM documents))")
	return n, err
}

// write appends an edit to each document of a line in which two heaters differ. typing says that an entry into the field edited last
// is the same edit for an undo, if it comes soon.
func (s *Store) write(ctx context.Context, q querier, l line, was, next *design.Heater, e editRow, page string, typing bool) error {
	revision, err := nextRevision(ctx, q)
	if err != nil {
		return err
	}
	last := l.last()
	for d := range l {
		x := &l[d]
		if x.id == 0 {
			continue // the workshop by itself
		}
		before, err := was.Part(x.kind)
		if err != nil {
			return err
		}
		after, err := next.Part(x.kind)
		if err != nil {
			return err
		}
		if string(before) == string(after) {
			continue // nothing moved: no edit to undo
		}
		parent, head := &x.edit.ID, x.edit
		if age := s.now().Sub(time.UnixMilli(head.At)); typing && slices.Contains(last,
			x.kind) && head.Path == e.Path && head.Label == e.Label &&
			e.Path != "" && age < oneEdit {
			parent = head.Parent // still the same entry: undo goes back past it
		}
		e.Parent, e.Document, e.Revision = parent, after, revision
		if err := s.append(ctx, q, x, e, page); err != nil {
			return err
		}
	}
	return nil
}

// append adds an edit to a document and makes it the head.
func (s *Store) append(ctx context.Context, q querier, x *held, e editRow, page string) error {
	t := x.table()
	r, err := q.ExecContext(ctx, "INSERT INTO "+t.edits+" ("+t.owner+", parent, path, label, "+t.text+", revision, at) VALUES "+
		"(?, ?, ?, ?, ?, ?, ?)", x.id, e.Parent, e.Path, e.Label, e.Document, e.Revision, s.now().UnixMilli())
	if err != nil {
		return err
	}
	id, err := r.LastInsertId()
	if err != nil {
		return err
	}
	return x.head(ctx, q, id, e.Revision, page)
}

// head puts an edit in force in a document.
func (x *held) head(ctx context.Context, q querier, edit, revision int64, page string) error {
	t := x.table()
	if _, err := q.ExecContext(ctx, "INSERT INTO "+t.moves+" ("+t.owner+", revision, edit, page) VALUES (?, ?, ?, ?)", x.id, revision, edit,
		page); err != nil {
		return err
	}
	_, err := q.ExecContext(ctx, "UPDATE "+t.owners+" SET head = ?, revision = ? WHERE id = ?", edit, revision, x.id)
	return err
}

// move puts the edit before the last one in force, or the one that was taken back last.
func (l line) move(ctx context.Context, q querier, back bool, page string) error {
	which := l.next()
	if back {
		which = l.last()
	}
	if len(which) == 0 {
		return ErrNothing
	}
	revision, err := nextRevision(ctx, q)
	for _, d := range which {
		to := l[d].child
		if back {
			to = l[d].edit.Parent
		}
		if err == nil {
			err = l[d].head(ctx, q, *to, revision, page)
		}
	}
	return err
}

// adopt gives the workshop what a heater's document says of one, and nobody said of it.
func (s *Store) adopt(ctx context.Context, q querier, h *design.Heater) error {
	l, err := s.line(ctx, q, 0)
	if err != nil {
		return err
	}
	own, err := s.joined(l)
	if err != nil {
		return err
	}
	next := own.Clone()
	for _, f := range design.Fields {
		if e, given := h.Entries[f.Path]; given && f.Document == design.WorkshopDocument && !own.Given(f) {
			next.Adopt(f, h, e)
		}
	}
	return s.write(ctx, q, l, &own, &next, editRow{Label: "taken over with " + h.Name}, "", false)
}

// Workshop is what all heaters share, in a heater of which nothing else is known.
func (s *Store) Workshop(ctx context.Context) (State, error) {
	l, err := s.line(ctx, s.db, 0)
	if err != nil {
		return State{}, err
	}
	st := State{Revision: l.revision()}
	last := l.last()
	st.CanUndo, st.CanRedo, st.Label = len(last) > 0, len(l.next()) > 0, l[design.WorkshopDocument].edit.Label
	st.Document, err = s.joined(l)
	return st, err
}

// EditWorkshop changes what all heaters share.
func (s *Store) EditWorkshop(ctx context.Context, label string, sys units.System, changes ...design.Change) error {
	return s.tx(ctx, func(q *sqlx.Tx) error {
		l, err := s.line(ctx, q, 0)
		if err != nil {
			return err
		}
		was, err := s.joined(l)
		if err != nil {
			return err
		}
		next, err := design.Apply(was, sys, changes...)
		if err != nil {
			return err
		}
		return s.write(ctx, q, l, &was, &next, editRow{Label: label}, "", false)
	})
}

// MoveWorkshop takes back what was changed last of what all heaters share, or makes it again.
func (s *Store) MoveWorkshop(ctx context.Context, back bool) error {
	return s.tx(ctx, func(q *sqlx.Tx) error {
		l, err := s.line(ctx, q, 0)
		if err != nil {
			return err
		}
		return l.move(ctx, q, back, "")
	})
}

// apart is the migration of workshops whose heaters' documents held the workshop and the log: each version's log begins with what its
// document says, and the workshop with what the heater says that was changed last of those that say anything.
var apart = goose.NewGoMigration(21, &goose.GoFunc{RunTx: func(ctx context.Context, tx *sql.Tx) error {
	s := &Store{now: time.Now}
	q := &sqlx.Tx{Tx: tx, Mapper: sqlx.NewDb(nil, "sqlite").Mapper}
	var heads []struct {
		Version  int64
		Document []byte
	}
	if err := q.SelectContext(ctx, &heads, "SELECT v.id AS version, coalesce(e.document, x'') AS document FROM versions v LEFT JOIN "+
		"edits e ON e.id = v.head ORDER BY e.at, e.id"); err != nil {
		return err
	}
	revision, err := nextRevision(ctx, q)
	if err != nil {
		return err
	}
	begin := func(version any, d design.Document, h *design.Heater) error {
		r, err := q.ExecContext(ctx, "INSERT INTO documents (version) VALUES (?)", version)
		if err != nil {
			return err
		}
		x := held{kind: d}
		if x.id, err = r.LastInsertId(); err != nil {
			return err
		}
		text, err := h.Part(d)
		if err != nil {
			return err
		}
		return s.append(ctx, q, &x, editRow{Label: "started", Document: text, Revision: revision}, "")
	}
	workshop := design.New()
	for _, v := range heads {
		h, err := design.Decode(v.Document)
		if err != nil {
			h = design.New() // the page of a damaged heater says so
		}
		for path, e := range h.Entries {
			if f := design.FieldAt(path); f != nil && f.Document == design.WorkshopDocument {
				workshop.Adopt(f, &h, e)
			}
		}
		if err := begin(v.Version, design.LogDocument, &h); err != nil {
			return err
		}
	}
	if err := settings(ctx, q, &workshop); err != nil {
		return err
	}
	return begin(nil, design.WorkshopDocument, &workshop)
}}, nil)

// settings takes the units and the currency over that were kept beside the documents.
func settings(ctx context.Context, q querier, h *design.Heater) error {
	var rows []struct{ Name, Value string }
	if err := q.SelectContext(ctx, &rows, "SELECT name, value FROM settings"); err != nil {
		return err
	}
	for _, r := range rows {
		var changes []design.Change
		switch {
		case r.Name == "currency" && r.Value != "":
			changes = []design.Change{design.Set(design.WorkshopCurrency, r.Value)}
		case r.Name == "units" && r.Value != "":
			changes = design.UnitsChanges(units.System{Inches: strings.Contains(r.Value, "in"), Fahrenheit: strings.Contains(r.Value, "F"),
				DecimalComma: strings.Contains(r.Value, "comma")})
		}
		if next, err := design.Apply(*h, units.System{}, changes...); err == nil {
			*h = next
		}
	}
	_, err := q.ExecContext(ctx, "DROP TABLE settings")
	return err
}

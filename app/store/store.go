// Package store keeps a workshop in one SQLite file: heaters, their versions
// and every edit ever made, and the readings of their loggers.
//
// A version of a heater, the log of each version and the workshop are JSON
// documents (package design). An edit is a row that is only ever added; undo
// moves the head of the document that was edited last to the edit's parent, and
// redo to its youngest child. Readings are stored as one block a series and day.
package store

import (
	"context"
	"database/sql"
	"embed"
	"errors"
	"fmt"
	"io/fs"
	"os"
	"reflect"
	"slices"
	"strings"
	"sync"
	"time"
	"unicode"
	"unicode/utf8"

	"github.com/jmoiron/sqlx"
	"github.com/pressly/goose/v3"
	_ "modernc.org/sqlite" // the driver

	"gladember/core/design"
	"gladember/core/units"
)

//go:embed migrations/*.sql
var migrations embed.FS

// Store is an open workshop. It is safe for concurrent use.
type Store struct {
	db      *sqlx.DB
	now     func() time.Time
	path    string
	uploads string // the folder of files that wait for their columns
	damaged string // what is wrong with the file; it is then open for reading only

	read documents
}

// documents are heaters as they were read, by the text they were read from: each page of a heater asks for its document and
// the one before, several times.
type documents struct {
	mu  sync.Mutex
	was map[string]design.Heater
}

// keptDocuments is how many documents are kept read.
const keptDocuments = 64

// join is [design.Join], which is pure, remembered. The heater is the caller's own.
func (d *documents) join(own, workshop, log []byte) (design.Heater, error) {
	key := strings.Join([]string{string(own), string(workshop), string(log)}, "\x00")
	d.mu.Lock()
	h, ok := d.was[key]
	d.mu.Unlock()
	if ok {
		return h.Clone(), nil
	}
	h, err := design.Join(own, workshop, log)
	if err != nil {
		return h, err
	}
	d.mu.Lock()
	if len(d.was) >= keptDocuments || d.was == nil {
		d.was = map[string]design.Heater{}
	}
	d.was[key] = h.Clone()
	d.mu.Unlock()
	return h, nil
}

// ErrNotFound is returned where a heater, version or upload does not exist.
var ErrNotFound = errors.New("that heater is not in this workshop; it may have been removed on another device")

// Open opens or makes a workshop file. Before a migration changes an existing file, a copy is left beside it, named after the new
// version. A file that is damaged is opened for reading only, see [Store.Damaged]; one of another program is refused.
func Open(ctx context.Context, path string) (*Store, error) {
	exists, err := look(ctx, path)
	if err != nil {
		return nil, err
	}
	if exists {
		if damage := sound(ctx, path); damage != "" {
			return openDamaged(ctx, path, damage)
		}
	}
	if err := writable(path); err != nil {
		return nil, err
	}
	db, err := sqlx.Open("sqlite", dsn(path, false))
	if err != nil {
		return nil, fmt.Errorf("opening %s: %w", path, err)
	}
	s := &Store{db: db, now: time.Now, path: path, uploads: path + ".uploads"}
	if err := s.migrate(ctx, exists); err != nil {
		db.Close()
		if text, ok := Said(err); ok {
			err = fmt.Errorf("%s: %s", path, text)
		}
		return nil, err
	}
	s.sweepUploads(ctx)
	return s, s.sweepImports(ctx)
}

// provider knows the migrations.
func (s *Store) provider() (*goose.Provider, error) {
	sub, err := fs.Sub(migrations, "migrations")
	if err != nil {
		return nil, err
	}
	return goose.NewProvider(goose.DialectSQLite3, s.db.DB, sub, goose.WithGoMigrations(apart))
}

// migrate brings the file up to date.
func (s *Store) migrate(ctx context.Context, existed bool) error {
	p, err := s.provider()
	if err != nil {
		return fmt.Errorf("%s cannot be opened: %w; name another file with --data", s.path, err)
	}
	current, target, err := p.GetVersions(ctx)
	if err != nil {
		return fmt.Errorf("%s cannot be opened: %w; name another file with --data", s.path, err)
	}
	if current > target {
		return fmt.Errorf("%s was written by a newer program (version %d, this one knows %d); update the program", s.path, current, target)
	}
	if existed && current > 0 && current < target {
		if err := s.Backup(ctx, free(fmt.Sprintf("%s.before-%d", s.path, target))); err != nil {
			return fmt.Errorf("no copy could be made before the update, so nothing was changed: %w; make room beside the file", err)
		}
	}
	if _, err := p.Up(ctx); err != nil {
		return fmt.Errorf("bringing %s up to date: %w", s.path, err)
	}
	id := 0
	if err := s.db.GetContext(ctx, &id, "PRAGMA application_id"); err != nil || id == applicationID {
		return err
	}
	_, err = s.db.ExecContext(ctx, fmt.Sprintf("PRAGMA application_id(%d)", applicationID))
	return err
}

// Close closes the workshop.
func (s *Store) Close() error {
	_ = os.Remove(s.temporary()) // unless another program has files in it
	return s.db.Close()
}

// State is a version of a heater as it stands.
type State struct {
	Heater   int64
	Version  int64
	Versions []VersionName
	Name     string // of the version: A, B, ...
	Revision int64
	Document design.Heater
	Before   *design.Heater // the document before the last edit; nil at the first
	Label    string         // of the last edit
	CanUndo  bool
	CanRedo  bool
}

// Seen is what of a heater a page showed when a change was asked for on it. A change carries it, so
// that none lands in a version, or takes back an edit, that its page did not show.
type Seen struct {
	Heater   int64
	Version  int64
	Revision int64
	Page     string // a name that the page gave itself; its own changes are no surprise to it
}

// Seen is the state as a page without a name sees it.
func (st State) Seen() Seen {
	return Seen{Heater: st.Heater, Version: st.Version, Revision: st.Revision}
}

// Behind is returned for a change asked for on a page that shows another version than the one that
// is open now, or not the edit that an undo would take back.
type Behind struct {
	Shown VersionName // the version that the page shows
	Open  State       // the one that is open now
}

// Error names the versions.
func (b *Behind) Error() string {
	if b.Shown.ID != b.Open.Version {
		return fmt.Sprintf("Version %s was opened on another page, so the change to version %s was not made.", b.Open.Name, b.Shown.Name)
	}
	return fmt.Sprintf("Another page has changed this heater since (%s), so nothing was taken back.", b.Open.Label)
}

// VersionName is a version as one picks it.
type VersionName struct {
	ID   int64
	Name string
}

type querier interface {
	GetContext(ctx context.Context, dest any, query string, args ...any) error
	SelectContext(ctx context.Context, dest any, query string, args ...any) error
	ExecContext(ctx context.Context, query string, args ...any) (sql.Result, error)
}

// Heaters lists the heaters' current versions, the newest first.
func (s *Store) Heaters(ctx context.Context) ([]State, error) {
	var ids []int64
	if err := s.db.SelectContext(ctx, &ids, "SELECT id FROM heaters WHERE trashed IS NULL ORDER BY id DESC"); err != nil {
		return nil, fmt.Errorf("listing heaters: %w", err)
	}
	var out []State
	for _, id := range ids {
		st, err := s.Get(ctx, id)
		if err != nil {
			return nil, err
		}
		out = append(out, st)
	}
	return out, nil
}

// Create adds a heater with one version, A. What its document says of a workshop, and nobody said of this one, is taken over.
func (s *Store) Create(ctx context.Context, h design.Heater) (State, error) {
	var id int64
	err := s.tx(ctx, func(q *sqlx.Tx) error {
		r, err := q.ExecContext(ctx, "INSERT INTO heaters (created) VALUES (?)", s.now().UnixMilli())
		if err != nil {
			return err
		}
		if id, err = r.LastInsertId(); err != nil {
			return err
		}
		if _, err = s.addVersion(ctx, q, id, "A", "started", "", &h); err != nil {
			return err
		}
		return s.adopt(ctx, q, &h)
	})
	if err != nil {
		return State{}, fmt.Errorf("adding a heater: %w", err)
	}
	return s.Get(ctx, id)
}

// addVersion adds a version with the two documents of its own, a heater's and a log's, and opens it.
func (s *Store) addVersion(ctx context.Context, q querier, heater int64, name, label, page string, h *design.Heater) (int64, error) {
	r, err := q.ExecContext(ctx, "INSERT INTO versions (heater, name) VALUES (?, ?)", heater, name)
	if err != nil {
		return 0, err
	}
	id, err := r.LastInsertId()
	if err != nil {
		return 0, err
	}
	if r, err = q.ExecContext(ctx, "INSERT INTO documents (version) VALUES (?)", id); err != nil {
		return 0, err
	}
	log, err := r.LastInsertId()
	if err != nil {
		return 0, err
	}
	revision, err := nextRevision(ctx, q)
	if err != nil {
		return 0, err
	}
	for _, in := range []held{{kind: design.HeaterDocument, id: id}, {kind: design.LogDocument, id: log}} {
		text, err := h.Part(in.kind)
		if err != nil {
			return 0, err
		}
		if err := s.append(ctx, q, &in, editRow{Label: label, Document: text, Revision: revision}, page); err != nil {
			return 0, err
		}
	}
	_, err = q.ExecContext(ctx, "UPDATE heaters SET current = ? WHERE id = ?", id, heater)
	return id, err
}

// shown reads the version that is open; a [Behind] if the page showed another.
func (s *Store) shown(ctx context.Context, q querier, seen Seen) (State, error) {
	st, err := s.get(ctx, q, seen.Heater)
	if err != nil || st.Version == seen.Version {
		return st, err
	}
	for _, v := range st.Versions {
		if v.ID == seen.Version {
			return st, &Behind{v, st}
		}
	}
	return st, ErrNotFound
}

// Branch copies the version that a page shows under the next letter and opens the copy.
func (s *Store) Branch(ctx context.Context, seen Seen) (State, error) {
	err := s.tx(ctx, func(q *sqlx.Tx) error {
		st, err := s.shown(ctx, q, seen)
		if err != nil {
			return err
		}
		if len(st.Versions) >= 26 {
			return ErrFull
		}
		var taken []string // also by those that were deleted, which may come back
		if err := q.SelectContext(ctx, &taken, "SELECT name FROM versions WHERE heater = ?", seen.Heater); err != nil {
			return err
		}
		name := string(rune('A' + min(25, len(taken))))
		for slices.Contains(taken, name) { // somebody gave the letter away
			name += "'"
		}
		_, err = s.addVersion(ctx, q, seen.Heater, name, "branched from "+st.Name, seen.Page, &st.Document)
		return err
	})
	if err != nil {
		return State{}, err
	}
	return s.Get(ctx, seen.Heater)
}

// Switch puts another version on the bench.
func (s *Store) Switch(ctx context.Context, heater, version int64) error {
	r, err := s.db.ExecContext(ctx, "UPDATE heaters SET current = ? WHERE id = ? AND EXISTS (SELECT 1 FROM versions WHERE id = ? AND "+
		"heater = heaters.id AND gone = 0)", version, heater, version)
	if err != nil {
		return err
	}
	if n, _ := r.RowsAffected(); n == 0 {
		return ErrNotFound
	}
	return nil
}

// Head is what a version holds now.
type Head struct {
	VersionName
	Revision int64
	Document design.Heater
}

// Heads returns what each version of a heater holds now, in the order of their making.
func (s *Store) Heads(ctx context.Context, heater int64) (out []Head, err error) {
	var versions []VersionName
	if err := s.db.SelectContext(ctx, &versions, "SELECT id, name FROM versions WHERE heater = ? AND gone = 0 ORDER BY id",
		heater); err != nil {
		return nil, err
	}
	for _, v := range versions {
		l, err := s.line(ctx, s.db, v.ID)
		if err != nil {
			return nil, err
		}
		h, err := s.joined(l)
		if err != nil {
			return nil, fmt.Errorf("version %s: %w", v.Name, err)
		}
		out = append(out, Head{v, l.revision(), h})
	}
	return out, nil
}

// ErrLast is returned for a heater's only version, which cannot be deleted.
var ErrLast = errors.New("a heater has one version at least; delete the heater instead")

// DropVersion deletes a version, or with back puts it there again. Where it was open, the latest other one is opened. What was logged
// with it stays.
func (s *Store) DropVersion(ctx context.Context, heater, version int64, back bool) error {
	return s.tx(ctx, func(q *sqlx.Tx) error {
		gone := s.now().UnixMilli()
		if back {
			gone = 0
		}
		r, err := q.ExecContext(ctx, "UPDATE versions SET gone = ? WHERE id = ? AND heater = ?", gone, version, heater)
		if err != nil {
			return err
		}
		if n, _ := r.RowsAffected(); n == 0 {
			return ErrNotFound
		}
		var left *int64
		if err := q.GetContext(ctx, &left, "SELECT max(id) FROM versions WHERE heater = ? AND gone = 0", heater); err != nil {
			return err
		}
		if left == nil {
			return ErrLast
		}
		_, err = q.ExecContext(ctx, "UPDATE heaters SET current = ? WHERE id = ? AND current IN (SELECT id FROM versions WHERE gone > 0)",
			*left, heater)
		return err
	})
}

// ErrFull is returned for one version too many.
var ErrFull = errors.New("a heater has room for 26 versions; start a new heater, or copy this one")

// ErrName is returned for a name that a version cannot have.
var ErrName = errors.New("a version's name has 1 to 24 letters and is one of its own; choose another")

// nameable says whether a version can have a name.
func nameable(name string) bool {
	n := utf8.RuneCountInString(name)
	return n >= 1 && n <= 24 && strings.IndexFunc(name, unicode.IsControl) < 0
}

// Rename gives a version of a heater another name.
func (s *Store) Rename(ctx context.Context, heater, version int64, name string) error {
	name = strings.TrimSpace(name)
	if !nameable(name) {
		return ErrName
	}
	return s.tx(ctx, func(q *sqlx.Tx) error {
		taken := 0
		if err := q.GetContext(ctx, &taken, "SELECT count(*) FROM versions WHERE heater = ? AND name = ? AND id <> ?", heater, name,
			version); err != nil {
			return err
		}
		if taken > 0 {
			return ErrName
		}
		r, err := q.ExecContext(ctx, "UPDATE versions SET name = ? WHERE id = ? AND heater = ?", name, version, heater)
		if err != nil {
			return err
		}
		if n, _ := r.RowsAffected(); n == 0 {
			return ErrNotFound
		}
		return nil
	})
}

// Get returns a heater's current version.
func (s *Store) Get(ctx context.Context, heater int64) (State, error) {
	return s.get(ctx, s.db, heater)
}

func (s *Store) get(ctx context.Context, q querier, heater int64) (State, error) {
	st := State{Heater: heater}
	var v VersionName
	err := q.GetContext(ctx, &v, "SELECT v.id, v.name FROM versions v JOIN heaters h ON h.current = v.id WHERE h.id = ?", heater)
	if errors.Is(err, sql.ErrNoRows) {
		return st, ErrNotFound
	}
	if err != nil {
		return st, fmt.Errorf("reading heater %d: %w", heater, err)
	}
	st.Version, st.Name = v.ID, v.Name
	if err := q.SelectContext(ctx, &st.Versions, "SELECT id, name FROM versions WHERE heater = ? AND gone = 0 ORDER BY id",
		heater); err != nil {
		return st, err
	}
	l, err := s.line(ctx, q, v.ID)
	if err != nil {
		return st, fmt.Errorf("reading heater %d: %w", heater, err)
	}
	st.Revision = l.revision()
	if st.Document, err = s.joined(l); err != nil {
		return st, fmt.Errorf("heater %d as stored: %w", heater, err)
	}
	last := l.last()
	st.CanUndo, st.CanRedo, st.Label = len(last) > 0, len(l.next()) > 0, l[design.HeaterDocument].edit.Label
	if !st.CanUndo {
		return st, nil
	}
	st.Label = l[last[0]].edit.Label
	for _, d := range last {
		t := l[d].table()
		if err := q.GetContext(ctx, &l[d].edit, "SELECT "+t.columns("e")+" FROM "+t.edits+" e WHERE e.id = ?",
			*l[d].edit.Parent); err != nil {
			return st, err
		}
	}
	before, err := s.joined(l)
	st.Before = &before
	return st, err
}

// alike says whether a field holds the same in two documents; some hold tables.
func alike(a, b *design.Heater, path string) bool {
	return reflect.DeepEqual(design.FieldAt(path).Get(a), design.FieldAt(path).Get(b))
}

// Saved is what a save did.
type Saved struct {
	State
	Elsewhere string // what another device had put into the same field since; "" if nothing
}

// oneEdit is how long typing into one field counts as one edit.
const oneEdit = 2 * time.Second

// Edit applies changes to the version that a page shows, as it stands now, and saves
// the result. If another page has changed the same field since, their change still goes in,
// and Elsewhere says what it replaced. Changes to the same field within two seconds are one edit
// to undo. An error leaves everything as it was; it is a [Behind] if another version is open.
func (s *Store) Edit(ctx context.Context, seen Seen, label string, sys units.System, changes ...design.Change) (Saved, error) {
	var out Saved
	err := s.tx(ctx, func(q *sqlx.Tx) error {
		st, err := s.shown(ctx, q, seen)
		if err != nil {
			return err
		}
		next, err := design.Apply(st.Document, sys, changes...)
		if err != nil {
			return err
		}
		l, err := s.line(ctx, q, st.Version)
		if err != nil {
			return err
		}
		path := ""
		if len(changes) > 0 {
			path = changes[0].Path
		}
		if out.Elsewhere, err = s.replaced(ctx, q, seen, l, &st, &next, path, sys); err != nil {
			return err
		}
		return s.write(ctx, q, l, &st.Document, &next, editRow{Path: path, Label: label}, seen.Page, out.Elsewhere == "")
	})
	if err != nil {
		return out, err
	}
	out.State, err = s.Get(ctx, seen.Heater)
	return out, err
}

// replaced is what another page has put into a field since a page saw it, and an edit replaces; "" if nothing.
func (s *Store) replaced(ctx context.Context, q querier, seen Seen, l line, st *State, next *design.Heater, path string,
	sys units.System) (string, error) {
	f := design.FieldAt(path)
	if f == nil || alike(&st.Document, next, path) {
		return "", nil
	}
	if foreign, err := l.others(ctx, q, seen); err != nil || !foreign {
		return "", err
	}
	was := l
	t := l[f.Document].table()
	err := q.GetContext(ctx, &was[f.Document].edit, "SELECT "+t.columns("e")+" FROM "+t.moves+" m JOIN "+t.edits+
		" e ON e.id = m.edit WHERE m."+t.owner+" = ? AND m.revision <= ? ORDER BY m.revision DESC LIMIT 1", l[f.Document].id, seen.Revision)
	if errors.Is(err, sql.ErrNoRows) {
		return "", nil
	}
	if err != nil {
		return "", err
	}
	before, err := s.joined(was)
	if err != nil || alike(&before, &st.Document, path) {
		return "", err
	}
	if t := st.Document.Entries[path].Typed; t != "" {
		return t, nil
	}
	if f.Rows != nil {
		return f.Rows.Write(&st.Document, sys), nil
	}
	return f.InWords(&st.Document, sys), nil
}

// ErrNothing is returned where there is nothing to undo or redo.
var ErrNothing = errors.New("there is nothing to take back or do again")

// Undo takes back what was changed last of all that the page of a heater shows: of its version, of the log of that, or of the workshop. It
// is a [Behind] if another page made a change after this one looked.
func (s *Store) Undo(ctx context.Context, seen Seen) (State, error) { return s.move(ctx, seen, true) }

// Redo makes again what was taken back last.
func (s *Store) Redo(ctx context.Context, seen Seen) (State, error) { return s.move(ctx, seen, false) }

func (s *Store) move(ctx context.Context, seen Seen, back bool) (State, error) {
	err := s.tx(ctx, func(q *sqlx.Tx) error {
		st, err := s.shown(ctx, q, seen)
		if err != nil {
			return err
		}
		l, err := s.line(ctx, q, st.Version)
		if err != nil {
			return err
		}
		if foreign, err := l.others(ctx, q, seen); err != nil {
			return err
		} else if foreign {
			return &Behind{VersionName{st.Version, st.Name}, st}
		}
		return l.move(ctx, q, back, seen.Page)
	})
	if err != nil {
		return State{}, err
	}
	return s.Get(ctx, seen.Heater)
}

func (s *Store) tx(ctx context.Context, f func(*sqlx.Tx) error) error {
	if s.damaged != "" {
		return ErrReadOnly
	}
	q, err := s.db.BeginTxx(ctx, nil)
	if err != nil {
		return err
	}
	defer q.Rollback() //nolint:errcheck // after a commit it does nothing
	if err := f(q); err != nil {
		return err
	}
	return q.Commit()
}

package store

import (
	"bytes"
	"context"
	"errors"
	"fmt"
	"io"
	"io/fs"
	"os"
	"path/filepath"
	"strings"
	"time"

	"github.com/jmoiron/sqlx"
	"modernc.org/sqlite"
	lib "modernc.org/sqlite/lib"
)

// applicationID marks a workshop among SQLite's files, in its header: "GlEm".
const applicationID = 0x476c456d

// busyFor is how long a writer waits for another, ms.
const busyFor = 10_000

// dsn is the address of a file for the driver. Acknowledged writes are on the disk (synchronous FULL); writers wait for
// each other rather than fail. A name may hold signs that mean something in an address.
func dsn(path string, readOnly bool) string {
	name := strings.NewReplacer("%", "%25", "?", "%3f", "#", "%23").Replace(filepath.ToSlash(path))
	q := fmt.Sprintf("?_pragma=busy_timeout(%d)&_pragma=foreign_keys(ON)", busyFor)
	if readOnly {
		return "file:" + name + q + "&mode=ro&_pragma=query_only(ON)"
	}
	return "file:" + name + q + "&_pragma=journal_mode(WAL)&_pragma=synchronous(FULL)&_txlock=immediate"
}

// ErrReadOnly is returned for a change where the workshop's file is damaged, so that it is open for reading only.
var ErrReadOnly = errors.New("the workshop's file is damaged and open for reading only, so nothing can be changed; restore a copy with " +
	"gladember restore")

// Damaged says what is wrong with the workshop's file; empty for a sound one. A damaged one is open for reading only.
func (s *Store) Damaged() string { return s.damaged }

// Path is the workshop's file.
func (s *Store) Path() string { return s.path }

// look says what lies at a path: nothing or an empty file, a workshop, or something else, which is an error that says what.
func look(ctx context.Context, path string) (exists bool, err error) {
	if err := folder(path); err != nil {
		return false, err
	}
	info, err := os.Stat(path)
	switch {
	case errors.Is(err, fs.ErrNotExist):
		return false, nil
	case err != nil:
		return false, fmt.Errorf("%s: %w; name another file with --data", path, cause(err))
	case info.IsDir():
		return false, fmt.Errorf("%s is a folder; name a file in it with --data", path)
	case info.Size() == 0:
		return false, writable(path)
	}
	f, err := os.Open(path)
	if err != nil {
		return false, fmt.Errorf("%s cannot be read (%w); give yourself the right to, or name another file with --data", path, cause(err))
	}
	defer f.Close()
	head := make([]byte, 100)
	if _, err := io.ReadFull(f, head); err != nil || !bytes.HasPrefix(head, []byte("SQLite format 3\x00")) {
		return false, fmt.Errorf("%s is no workshop file; name another file with --data", path)
	}
	return true, foreign(ctx, path)
}

// folder says what is wrong with the folder of a path.
func folder(path string) error {
	dir := filepath.Dir(path)
	info, err := os.Stat(dir)
	switch {
	case errors.Is(err, fs.ErrNotExist):
		return fmt.Errorf("the folder %s does not exist; make it, or name another file with --data", dir)
	case err != nil:
		return fmt.Errorf("the folder %s: %w; name another file with --data", dir, cause(err))
	case !info.IsDir():
		return fmt.Errorf("%s is no folder; name another file with --data", dir)
	}
	return nil
}

// writable says what is in the way of writing a file and others beside it.
func writable(path string) error {
	f, err := os.OpenFile(path, os.O_RDWR|os.O_CREATE, 0o600)
	if err != nil {
		return fmt.Errorf("%s cannot be written (%w); give yourself the right to, or name another file with --data", path, cause(err))
	}
	f.Close()
	beside, err := os.CreateTemp(filepath.Dir(path), ".gladember-*")
	if err != nil {
		return fmt.Errorf("nothing can be written beside %s (%w), which a workshop needs; name a file in another folder with --data", path,
			cause(err))
	}
	_, err = beside.Write(make([]byte, 4096))
	err = errors.Join(err, beside.Close(), os.Remove(beside.Name()))
	if err != nil {
		return fmt.Errorf("nothing can be written beside %s (%w); make room on the disk, or name a file elsewhere with --data", path,
			cause(err))
	}
	return nil
}

// cause is what the system says, without the path that the sentence around it names.
func cause(err error) error {
	var pe *fs.PathError
	if errors.As(err, &pe) {
		return pe.Err
	}
	return err
}

// foreign refuses a file of SQLite that another program made.
func foreign(ctx context.Context, path string) error {
	db, err := sqlx.Open("sqlite", dsn(path, true))
	if err != nil {
		return fmt.Errorf("opening %s: %w", path, err)
	}
	defer db.Close()
	id := 0
	if err := db.GetContext(ctx, &id, "PRAGMA application_id"); err != nil {
		return nil // damaged: the check tells
	}
	var tables []string
	if err := db.SelectContext(ctx, &tables,
		"SELECT name FROM sqlite_schema WHERE type = 'table' AND name NOT LIKE 'sqlite_%'"); err != nil {
		return nil
	}
	ours := 0
	for _, t := range tables {
		if t == "heaters" || t == "versions" || t == "goose_db_version" {
			ours++
		}
	}
	if id == applicationID || id == 0 && (len(tables) == 0 || ours >= 2) {
		return nil
	}
	return fmt.Errorf("%s is a file of another program; name another file with --data", path)
}

// sound checks a file page by page; what is wrong comes back in words, empty for nothing.
func sound(ctx context.Context, path string) string {
	db, err := sqlx.Open("sqlite", dsn(path, true))
	if err != nil {
		return err.Error()
	}
	defer db.Close()
	var said []string
	if err := db.SelectContext(ctx, &said, "PRAGMA quick_check(3)"); err != nil {
		return err.Error()
	}
	if len(said) == 1 && said[0] == "ok" {
		return ""
	}
	return strings.Join(said, "; ")
}

// openDamaged opens a damaged file for reading.
func openDamaged(ctx context.Context, path, damage string) (*Store, error) {
	db, err := sqlx.Open("sqlite", dsn(path, true))
	if err != nil {
		return nil, fmt.Errorf("opening %s: %w", path, err)
	}
	s := &Store{db: db, now: time.Now, path: path, uploads: path + ".uploads", damaged: damage}
	p, err := s.provider()
	if err == nil {
		var current, target int64
		if current, target, err = p.GetVersions(ctx); err == nil && current != target {
			err = fmt.Errorf("it has version %d and this program knows %d", current, target)
		}
	}
	if err != nil {
		db.Close()
		return nil, fmt.Errorf("%s is damaged and cannot be read (%v); restore a copy with gladember restore", path, err)
	}
	return s, nil
}

// Said turns an error of SQLite that somebody can do something about into words; ok is false for any other.
func Said(err error) (text string, ok bool) {
	if errors.Is(err, ErrReadOnly) {
		return ErrReadOnly.Error(), true
	}
	var e *sqlite.Error
	if !errors.As(err, &e) {
		return "", false
	}
	switch e.Code() & 0xff {
	case lib.SQLITE_FULL:
		return "the disk is full, so nothing was changed; make room and try again", true
	case lib.SQLITE_READONLY:
		return "the workshop's file cannot be written, so nothing was changed; check the rights of the file and of its folder", true
	case lib.SQLITE_IOERR:
		return "the disk failed while the workshop's file was read or written; check it, and keep a copy of the workshop elsewhere", true
	case lib.SQLITE_CORRUPT, lib.SQLITE_NOTADB:
		return "the workshop's file is damaged; stop the program and restore a copy with gladember restore", true
	case lib.SQLITE_CANTOPEN:
		return "the workshop's file is gone or cannot be opened; put it back, or start the program again", true
	case lib.SQLITE_BUSY, lib.SQLITE_LOCKED:
		return "another program holds the workshop's file; try again", true
	}
	return "", false
}

// spared is the error of a write that only spares computing again: where the disk is full or the file cannot be written, pages go on
// without it.
func spared(err error) error {
	if _, ok := Said(err); ok {
		return nil
	}
	return err
}

// Backup writes a whole, consistent copy of the workshop to a new file, also while it is used. What it could not finish it removes.
func (s *Store) Backup(ctx context.Context, path string) error {
	if _, err := os.Stat(path); err == nil {
		return fmt.Errorf("%s exists; name a new file for the backup", path)
	}
	if err := folder(path); err != nil {
		return err
	}
	part := path + ".part"
	_ = os.Remove(part) // of a copy that failed
	err := s.vacuumInto(ctx, part)
	if err == nil {
		err = os.Rename(part, path)
	}
	if err != nil {
		_ = os.Remove(part)
		if text, ok := Said(err); ok {
			err = errors.New(text)
		}
		return fmt.Errorf("backing up to %s: %w", path, err)
	}
	return nil
}

// vacuumInto writes a copy and makes sure that it is on the disk.
func (s *Store) vacuumInto(ctx context.Context, path string) error {
	if _, err := s.db.ExecContext(ctx, "VACUUM INTO ?", path); err != nil {
		return err
	}
	f, err := os.OpenFile(path, os.O_RDWR, 0)
	if err != nil {
		return err
	}
	return errors.Join(f.Sync(), f.Close())
}

// BackupFile writes a copy of a workshop that this program has not opened, also while another one serves it.
func BackupFile(ctx context.Context, path, to string) error {
	if exists, err := look(ctx, path); err != nil {
		return err
	} else if !exists {
		return fmt.Errorf("%s holds no workshop; name the file with --data", path)
	}
	if damage := sound(ctx, path); damage != "" {
		return fmt.Errorf("%s is damaged (%s), so no copy was made; restore an earlier one with gladember restore", path, damage)
	}
	db, err := sqlx.Open("sqlite", dsn(path, true))
	if err != nil {
		return err
	}
	defer db.Close()
	db.SetMaxOpenConns(1)
	if _, err := db.ExecContext(ctx, "PRAGMA query_only(OFF)"); err != nil { // it writes to the copy alone
		return err
	}
	return (&Store{db: db}).Backup(ctx, to)
}

// Restore puts a copy in the place of a workshop's file, which is kept beside it under the name that is returned; "" where there was
// none. The workshop must not be in use.
func Restore(ctx context.Context, from, to string) (kept string, err error) {
	if info, err := os.Stat(from); err != nil || info.Size() == 0 {
		return "", fmt.Errorf("%s holds no workshop; name a copy that gladember backup wrote", from)
	}
	if err := folder(to); err != nil {
		return "", err
	}
	part := free(to + ".restored")
	if err := BackupFile(ctx, from, part); err != nil {
		return "", fmt.Errorf("restoring %s: %w", from, err)
	}
	if _, err := os.Stat(to); err == nil {
		if err := alone(ctx, to); err != nil {
			_ = os.Remove(part)
			return "", err
		}
		kept = free(to + ".before-restore")
		if err := os.Rename(to, kept); err != nil {
			return "", fmt.Errorf("keeping %s: %w", to, err)
		}
		for _, tail := range []string{"-wal", "-shm"} {
			if err := os.Rename(to+tail, kept+tail); err != nil && !errors.Is(err, fs.ErrNotExist) {
				return kept, fmt.Errorf("keeping %s: %w", to+tail, err)
			}
		}
	}
	return kept, os.Rename(part, to)
}

// alone says whether nothing else uses a workshop's file.
func alone(ctx context.Context, path string) error {
	db, err := sqlx.Open("sqlite", "file:"+strings.TrimPrefix(strings.SplitN(dsn(path, false), "?", 2)[0], "file:")+
		"?_pragma=busy_timeout(300)&_pragma=locking_mode(EXCLUSIVE)")
	if err != nil {
		return err
	}
	defer db.Close()
	db.SetMaxOpenConns(1)
	_, err = db.ExecContext(ctx, "BEGIN EXCLUSIVE; COMMIT")
	var e *sqlite.Error
	if errors.As(err, &e) && e.Code()&0xff == lib.SQLITE_BUSY {
		return fmt.Errorf("%s is in use; stop the program that serves it first", path)
	}
	return nil // a damaged one is replaced
}

// free is a name that no file has yet.
func free(path string) string {
	name := path
	for i := 2; ; i++ {
		if _, err := os.Stat(name); errors.Is(err, fs.ErrNotExist) {
			return name
		}
		name = fmt.Sprintf("%s-%d", path, i)
	}
}

// changed is when the workshop's file was written last.
func (s *Store) changed() (at time.Time) {
	for _, name := range []string{s.path, s.path + "-wal"} {
		if info, err := os.Stat(name); err == nil && info.Size() > 0 && info.ModTime().After(at) {
			at = info.ModTime()
		}
	}
	return at
}

package store

import (
	"context"
	"database/sql"
	"errors"
	"fmt"
	"io"
	"os"
	"path/filepath"
	"strconv"
	"time"
)

// Upload is a file looked at but not taken in. It lies beside the workshop's file, so that this does not grow by it.
type Upload struct {
	ID   int64
	Name string
	Size int64
	*os.File
}

// keepUploads is how long a file waits for its columns to be chosen.
const keepUploads = 24 * time.Hour

// errGone is returned for a file that waits no longer.
var errGone = errors.New("that file is no longer here; choose it again")

func (s *Store) uploadPath(id int64) string {
	return filepath.Join(s.uploads, strconv.FormatInt(id, 10))
}

// PutUpload keeps a file until its columns are chosen, and drops old ones.
func (s *Store) PutUpload(ctx context.Context, heater int64, name string, data io.Reader) (id int64, err error) {
	now := s.now()
	if err := s.dropUploads(ctx, "at < ?", now.Add(-keepUploads).UnixMilli()); err != nil {
		return 0, err
	}
	if err := os.MkdirAll(s.uploads, 0o700); err != nil {
		return 0, fmt.Errorf("keeping %s: %w", name, err)
	}
	r, err := s.db.ExecContext(ctx, "INSERT INTO uploads (heater, name, size, at) VALUES (?, ?, 0, ?)", heater, name, now.UnixMilli())
	if err != nil {
		return 0, fmt.Errorf("keeping %s: %w", name, err)
	}
	if id, err = r.LastInsertId(); err != nil {
		return 0, err
	}
	size, err := writeFile(s.uploadPath(id), data)
	if err == nil {
		_, err = s.db.ExecContext(ctx, "UPDATE uploads SET size = ? WHERE id = ?", size, id)
	}
	if err != nil {
		_ = s.DropUpload(context.WithoutCancel(ctx), id)
		return 0, fmt.Errorf("keeping %s: %w", name, err)
	}
	return id, nil
}

func writeFile(path string, data io.Reader) (int64, error) {
	f, err := os.OpenFile(path, os.O_CREATE|os.O_WRONLY|os.O_TRUNC, 0o600)
	if err != nil {
		return 0, err
	}
	n, err := io.Copy(f, data)
	return n, errors.Join(err, f.Close())
}

// dropUploads forgets the files that a condition names.
func (s *Store) dropUploads(ctx context.Context, where string, args ...any) error {
	var ids []int64
	if err := s.db.SelectContext(ctx, &ids, "DELETE FROM uploads WHERE "+where+" RETURNING id", args...); err != nil {
		return err
	}
	for _, id := range ids {
		_ = os.Remove(s.uploadPath(id)) // one that stays is removed at the next start
	}
	_ = os.Remove(s.uploads) // only where it is empty
	return nil
}

// DropUploads forgets all files of a heater that wait for their columns.
func (s *Store) DropUploads(ctx context.Context, heater int64) error {
	return s.dropUploads(ctx, "heater = ?", heater)
}

// DropUpload forgets a kept file.
func (s *Store) DropUpload(ctx context.Context, id int64) error {
	return s.dropUploads(ctx, "id = ?", id)
}

// NextUpload is the file of a heater that waits the longest; 0 for none.
func (s *Store) NextUpload(ctx context.Context, heater int64) (id int64, err error) {
	err = s.db.GetContext(ctx, &id, "SELECT id FROM uploads WHERE heater = ? ORDER BY id LIMIT 1", heater)
	if errors.Is(err, sql.ErrNoRows) {
		return 0, nil
	}
	return id, err
}

// GetUpload opens a kept file, which the caller closes.
func (s *Store) GetUpload(ctx context.Context, heater, id int64) (u Upload, err error) {
	err = s.db.GetContext(ctx, &u, "SELECT id, name, size FROM uploads WHERE id = ? AND heater = ?", id, heater)
	if errors.Is(err, sql.ErrNoRows) {
		return u, errGone
	}
	if err != nil {
		return u, err
	}
	if u.File, err = os.Open(s.uploadPath(id)); err != nil {
		return u, errGone
	}
	return u, nil
}

// sweepUploads removes files that nothing in the workshop knows of, such as those of a program that was killed.
func (s *Store) sweepUploads(ctx context.Context) {
	files, err := os.ReadDir(s.uploads)
	if err != nil {
		return // there are none
	}
	var ids []int64
	if err := s.db.SelectContext(ctx, &ids, "SELECT id FROM uploads"); err != nil {
		return
	}
	known := map[string]bool{}
	for _, id := range ids {
		known[strconv.FormatInt(id, 10)] = true
	}
	for _, f := range files {
		if !known[f.Name()] {
			_ = os.Remove(filepath.Join(s.uploads, f.Name()))
		}
	}
}

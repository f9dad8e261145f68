package store

import (
	"context"
	"io/fs"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"time"
)

// keptCopies is how many daily copies are kept.
const keptCopies = 7

// copyName is how a daily copy is named.
const copyForm = "2006-01-02"

// DailyCopy is a copy that was made by itself.
type DailyCopy struct {
	Name string
	Path string
	At   time.Time
	Size int64
}

// copies is the folder of the daily copies.
func (s *Store) copies() string { return s.path + ".copies" }

// DailyCopies lists the copies that are kept beside the workshop's file, the latest first.
func (s *Store) DailyCopies() (out []DailyCopy) {
	files, err := os.ReadDir(s.copies())
	if err != nil {
		return nil // there are none
	}
	for _, f := range files {
		name, ok := strings.CutSuffix(f.Name(), ".db")
		if _, err := time.Parse(copyForm, name); !ok || err != nil {
			continue
		}
		if info, err := f.Info(); err == nil {
			out = append(out, DailyCopy{f.Name(), filepath.Join(s.copies(), f.Name()), info.ModTime(), info.Size()})
		}
	}
	slices.SortFunc(out, func(a, b DailyCopy) int { return strings.Compare(b.Name, a.Name) })
	return out
}

// CopyDaily makes today's copy, if the workshop changed since the last one, and removes the oldest ones.
func (s *Store) CopyDaily(ctx context.Context) error {
	if s.damaged != "" {
		return nil // the good copies stay
	}
	now := s.now()
	have := s.DailyCopies()
	today := now.Format(copyForm) + ".db"
	if len(have) > 0 && have[0].Name >= today {
		return nil
	}
	if len(have) > 0 && s.changed().Before(have[0].At) {
		return nil
	}
	if err := os.MkdirAll(s.copies(), 0o700); err != nil {
		return err
	}
	if err := s.Backup(ctx, filepath.Join(s.copies(), today)); err != nil {
		return err
	}
	for i, c := range s.DailyCopies() {
		if i >= keptCopies {
			_ = os.Remove(c.Path)
		}
	}
	return nil
}

// temporary is the folder of files that are only needed for a moment.
func (s *Store) temporary() string { return s.path + ".tmp" }

// TemporaryFolder is the folder beside the workshop's file for what is sent, while it is read: the system's own is often kept in
// memory, and nobody removes from it what a program that was killed left there. Where it cannot be made, the system's serves.
func (s *Store) TemporaryFolder() string {
	path := s.temporary()
	if os.MkdirAll(path, 0o700) != nil {
		return os.TempDir()
	}
	return path
}

// abandoned is the age at which a temporary file belongs to nobody: reading one takes minutes at most.
const abandoned = time.Hour

// removeAbandoned removes what programs that were killed left: temporary files, and daily copies that were not finished.
func (s *Store) removeAbandoned() {
	for folder, pattern := range map[string]string{s.temporary(): "*", s.copies(): "*.part"} {
		files, _ := fs.Glob(os.DirFS(folder), pattern)
		for _, name := range files {
			path := filepath.Join(folder, name)
			if info, err := os.Lstat(path); err == nil && s.now().Sub(info.ModTime()) > abandoned {
				_ = os.RemoveAll(path)
			}
		}
	}
}

// Maintain makes daily copies and removes what was left behind, until the context ends. What fails is told, and tried again.
func (s *Store) Maintain(ctx context.Context, failed func(error)) {
	const every = 30 * time.Minute
	t := time.NewTicker(every)
	defer t.Stop()
	for {
		s.removeAbandoned()
		if err := s.CopyDaily(ctx); err != nil && ctx.Err() == nil {
			failed(err)
		}
		select {
		case <-ctx.Done():
			return
		case <-t.C:
		}
	}
}

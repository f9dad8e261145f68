package store

import (
	"context"
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

// KeepCopies makes daily copies until the context ends. What fails is told, and tried again.
func (s *Store) KeepCopies(ctx context.Context, failed func(error)) {
	const every = 30 * time.Minute
	t := time.NewTicker(every)
	defer t.Stop()
	for {
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

// Package demotest gives tests the demo's workshop, filled once for all of them.
package demotest

import (
	"context"
	"crypto/sha256"
	"encoding/hex"
	"errors"
	"io/fs"
	"os"
	"path/filepath"
	"strings"
	"sync"
	"testing"
	"time"

	"gladember/app/demo"
	"gladember/app/store"
)

// Copy puts the demo's workshop into a file that is not there yet.
func Copy(t testing.TB, path string) {
	t.Helper()
	kept, err := filled()
	if err != nil {
		t.Fatal(err)
	}
	b, err := os.ReadFile(kept)
	if err != nil {
		t.Fatal(err)
	}
	if err := os.WriteFile(path, b, 0o600); err != nil {
		t.Fatal(err)
	}
}

// filled is a file that holds the demo, named for the source that it follows from: tests of other packages take the same.
var filled = sync.OnceValues(func() (string, error) {
	sum, err := source()
	if err != nil {
		return "", err
	}
	const prefix = "gladember-demo-"
	path := filepath.Join(os.TempDir(), prefix+sum+".db")
	if _, err := os.Stat(path); err == nil {
		return path, nil
	}
	older, _ := filepath.Glob(filepath.Join(os.TempDir(), prefix+"*")) // the pattern is right
	for _, old := range older {
		if info, err := os.Stat(old); err == nil && time.Since(info.ModTime()) > 24*time.Hour {
			_ = os.RemoveAll(old)
		}
	}
	dir, err := os.MkdirTemp("", prefix+"*")
	if err != nil {
		return "", err
	}
	defer os.RemoveAll(dir)
	making := filepath.Join(dir, "w.db")
	s, err := store.Open(context.Background(), making)
	if err != nil {
		return "", err
	}
	err = demo.Fill(context.Background(), s)
	s.Close()
	if err != nil {
		return "", err
	}
	return path, os.Rename(making, path) // whoever is first; the others' is the same
})

// source is a sum of the files that the demo follows from.
func source() (string, error) {
	root, err := os.Getwd() // of the package under test
	if err != nil {
		return "", err
	}
	for _, err := os.Stat(filepath.Join(root, "go.mod")); err != nil; _, err = os.Stat(filepath.Join(root, "go.mod")) {
		up := filepath.Dir(root)
		if up == root {
			return "", errors.New("the source is not there")
		}
		root = up
	}
	sum := sha256.New()
	for _, part := range []string{"core", "app/store", "app/demo", "go.mod"} {
		err := filepath.WalkDir(filepath.Join(root, part), func(path string, d fs.DirEntry, err error) error {
			if err != nil || d.IsDir() || strings.HasSuffix(path, "_test.go") || strings.Contains(path, "testdata") {
				return err
			}
			b, err := os.ReadFile(path)
			sum.Write(b)
			return err
		})
		if err != nil {
			return "", err
		}
	}
	return hex.EncodeToString(sum.Sum(nil)[:12]), nil
}

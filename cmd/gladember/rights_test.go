//go:build unix

package main

import (
	"bytes"
	"errors"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"syscall"
	"testing"
	"time"

	"gladember/app/store"
	"gladember/core/design"
)

// Without the right to read or write what it needs the program says which right is missing, and leaves everything as it was. Root has
// every right, so it starts the program as somebody who has none.
func TestServeWithoutRights(t *testing.T) {
	if testing.Short() {
		t.Skip("it starts the program itself: it runs without the race detector")
	}
	closed := t.TempDir() // that of the test is its own
	dir, err := os.MkdirTemp("", "rights")
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(func() { _ = os.Chmod(dir, 0o755); os.RemoveAll(dir) })
	program := built(t)
	data := filepath.Join(dir, "w.db")
	s, err := store.Open(t.Context(), data)
	if err != nil {
		t.Fatal(err)
	}
	if _, err := s.Create(t.Context(), design.New()); err != nil {
		t.Fatal(err)
	}
	s.Close()
	before, err := os.ReadFile(data)
	if err := errors.Join(err, os.WriteFile(filepath.Join(closed, "w.db"), before, 0o600), os.Chmod(closed, 0)); err != nil {
		t.Fatal(err)
	}
	t.Cleanup(func() { _ = os.Chmod(closed, 0o755) })
	const nobody = 65534
	for _, x := range []struct {
		what         string
		file, folder os.FileMode
		data, want   string
	}{
		{"a file that may not be read", 0, 0o755, data, "cannot be read (permission denied)"},
		{"a file that may not be written", 0o444, 0o777, data, "cannot be written (permission denied)"},
		{"a folder in which nothing may be written", 0o666, 0o555, data, "nothing can be written beside"},
		{"a new file there", 0o666, 0o555, filepath.Join(dir, "new.db"), "new.db cannot be written (permission denied)"},
		{"a folder that may not be entered", 0o666, 0o755, filepath.Join(closed, "w.db"), "permission denied"},
	} {
		c := exec.Command(program, "serve", "--data", x.data, "--address", "127.0.0.1:0")
		if err := errors.Join(os.Chmod(data, x.file), os.Chmod(dir, x.folder)); err != nil {
			t.Fatal(err)
		}
		if os.Getuid() == 0 {
			c.SysProcAttr = &syscall.SysProcAttr{Credential: &syscall.Credential{Uid: nobody, Gid: nobody}}
		}
		stop := time.AfterFunc(20*time.Second, func() { _ = c.Process.Kill() })
		said, err := c.CombinedOutput()
		stop.Stop()
		var exit *exec.ExitError
		if !errors.As(err, &exit) || exit.ExitCode() != badInput || !strings.Contains(string(said), x.want) {
			t.Errorf("%s: %v, %s", x.what, err, said)
		}
		if err := errors.Join(os.Chmod(dir, 0o755), os.Chmod(data, 0o644)); err != nil {
			t.Fatal(err)
		}
		if after, err := os.ReadFile(data); err != nil || !bytes.Equal(before, after) {
			t.Errorf("%s: the file is another one: %v", x.what, err)
		}
	}
}

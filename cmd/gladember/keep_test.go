package main

import (
	"bytes"
	"os"
	"path/filepath"
	"strings"
	"testing"

	"gladember/app/store"
	"gladember/core/design"
)

// The commands say what they did, or what stands in the way; a heater goes from one workshop to another.
func TestKeepCommands(t *testing.T) {
	dir := t.TempDir()
	at := func(name string) string { return filepath.Join(dir, name) }
	s, err := store.Open(t.Context(), at("w.db"))
	if err != nil {
		t.Fatal(err)
	}
	for _, name := range []string{"Porch box", "Shed box"} {
		h, err := design.Named("screen-box")
		if err != nil {
			t.Fatal(err)
		}
		h.Name = name
		if _, err := s.Create(t.Context(), h); err != nil {
			t.Fatal(err)
		}
	}
	try := func(want string, code int, args ...string) {
		t.Helper()
		var out, errs bytes.Buffer
		got := run(t.Context(), args, nil, &out, &errs)
		if said := out.String() + errs.String(); got != code || !strings.Contains(said, want) {
			t.Errorf("%v: exit %d, %q; want %q", args, got, said, want)
		}
	}
	try("Copied", 0, "backup", at("copy.db"), "--data", at("w.db")) // while it is open
	try("name a new file", badInput, "backup", at("copy.db"), "--data", at("w.db"))
	try("holds no workshop", badInput, "backup", at("b.db"), "--data", at("none.db"))
	try("does not exist", badInput, "backup", at("no/b.db"), "--data", at("w.db"))
	try("is in use", badInput, "restore", at("copy.db"), "--data", at("w.db"))
	s.Close()
	try("is kept as", 0, "restore", at("copy.db"), "--data", at("w.db"))
	try("holds no workshop", badInput, "restore", at("none.db"), "--data", at("w.db"))
	if err := os.WriteFile(at("text.db"), bytes.Repeat([]byte("text"), 99), 0o600); err != nil {
		t.Fatal(err)
	}
	try("is no workshop file", badInput, "restore", at("text.db"), "--data", at("w.db"))

	try("it has Shed box, Porch box", badInput, "export", at("h.zip"), "--data", at("w.db"))
	try("", 0, "export", at("h.zip"), "--data", at("w.db"), "--heater", "Porch box")
	try("name a new file", badInput, "export", at("h.zip"), "--data", at("w.db"), "--heater", "Porch box")
	try("Added Porch box.", 0, "import", at("h.zip"), "--data", at("other.db"))
	try("choose a file that Glad Ember wrote", badInput, "import", at("text.db"), "--data", at("other.db"))
	try("", 0, "export", at("again.zip"), "--data", at("other.db"))
	first, _ := os.ReadFile(at("h.zip"))
	if again, err := os.ReadFile(at("again.zip")); err != nil || !bytes.Equal(first, again) || len(first) == 0 {
		t.Errorf("%d bytes, and from the other workshop %d, %v", len(first), len(again), err)
	}
}

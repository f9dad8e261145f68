package store

import (
	"bytes"
	"crypto/sha256"
	"errors"
	"fmt"
	"io/fs"
	"math/rand/v2"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/jmoiron/sqlx"

	"gladember/core/design"
	"gladember/core/units"
)

// A workshop's file may have any name; signs that mean something in an address do not lead to another file.
func TestNamesWithSigns(t *testing.T) {
	if testing.Short() {
		t.Skip("whole files are copied: it runs without the race detector")
	}
	dir := t.TempDir()
	for i, name := range []string{"a#b.db", "a?b.db", "a%20b.db", "a b.db", "?mode=memory", "ü%.db"} {
		path := filepath.Join(dir, name)
		for range 2 {
			s := must2(Open(bg, path))(t)
			must2(s.Create(bg, design.New()))(t)
			if err := s.Backup(bg, filepath.Join(dir, fmt.Sprintf("copy%d-%d%s", i, time.Now().UnixNano(), name))); err != nil {
				t.Error(err)
			}
			s.Close()
		}
		s := must2(Open(bg, path))(t)
		if n := len(must2(s.Heaters(bg))(t)); n != 2 {
			t.Errorf("%s holds %d heaters", name, n)
		}
		s.Close()
		if _, err := os.Stat(path); err != nil {
			t.Error(err)
		}
	}
}

// What cannot be a workshop is refused with what it is, and left as it was.
func TestOtherFilesAreRefused(t *testing.T) {
	dir := t.TempDir()
	foreign := filepath.Join(dir, "music.db")
	db := must2(sqlx.Open("sqlite", "file:"+foreign))(t)
	db.MustExec("CREATE TABLE albums (id INTEGER); INSERT INTO albums VALUES (7)")
	db.Close()
	marked := filepath.Join(dir, "marked.db")
	db = must2(sqlx.Open("sqlite", "file:"+marked))(t)
	db.MustExec("PRAGMA application_id(1234); CREATE TABLE heaters (id INTEGER); CREATE TABLE versions (id INTEGER)")
	db.Close()
	text := filepath.Join(dir, "notes.txt")
	if err := os.WriteFile(text, []byte(strings.Repeat("not a workshop\n", 20)), 0o600); err != nil {
		t.Fatal(err)
	}
	for path, want := range map[string]string{
		foreign: "a file of another program", marked: "a file of another program", text: "is no workshop file", dir: "is a folder",
		filepath.Join(dir, "missing", "w.db"): "the folder", filepath.Join(text, "w.db"): "is no folder",
	} {
		before, _ := os.ReadFile(path)
		_, err := Open(bg, path)
		if err == nil || !strings.Contains(err.Error(), want) || !strings.Contains(err.Error(), "--data") {
			t.Errorf("%s: %v, want %q and --data", path, err, want)
		}
		if after, _ := os.ReadFile(path); !bytes.Equal(before, after) {
			t.Errorf("%s was written to", path)
		}
	}
	// An empty file, such as of a program that was killed, becomes a workshop.
	empty := filepath.Join(dir, "empty.db")
	if err := os.WriteFile(empty, nil, 0o600); err != nil {
		t.Fatal(err)
	}
	must2(Open(bg, empty))(t).Close()
}

// older is a workshop as the version before this one left it, and the copy that an update makes of it.
func older(t *testing.T, path string) (name string) {
	t.Helper()
	db := must2(sqlx.Open("sqlite", dsn(path, false)))(t)
	defer db.Close()
	p := must2((&Store{db: db, path: path}).provider())(t)
	_, target, err := p.GetVersions(bg)
	if err != nil {
		t.Fatal(err)
	}
	if _, err := p.UpTo(bg, target-1); err != nil {
		t.Fatal(err)
	}
	return fmt.Sprintf("%s.before-%d", path, target)
}

// A copy that failed before an update leaves nothing that stops the next start.
func TestFailedCopyBeforeAnUpdate(t *testing.T) {
	path := filepath.Join(t.TempDir(), "w.db")
	name := older(t, path)
	// The target of the copy cannot be written: a folder is in its place, as a full disk would be.
	if err := os.MkdirAll(filepath.Join(name+".part", "x"), 0o700); err != nil {
		t.Fatal(err)
	}
	if _, err := Open(bg, path); err == nil || !strings.Contains(err.Error(), "nothing was changed") {
		t.Fatalf("%v", err)
	}
	if _, err := os.Stat(name); err == nil {
		t.Error("a failed copy was left behind")
	}
	if err := os.RemoveAll(path + ".before-14.part"); err != nil {
		t.Fatal(err)
	}
	// Nor does an empty copy that an older program left.
	if err := os.WriteFile(name, nil, 0o600); err != nil {
		t.Fatal(err)
	}
	must2(Open(bg, path))(t).Close()
	if info, err := os.Stat(name + "-2"); err != nil || info.Size() == 0 {
		t.Errorf("the copy before the update: %v, %v", info, err)
	}
}

// A damaged file is never written to: it is opened for reading and says so, or refused.
func TestDamagedFiles(t *testing.T) {
	if testing.Short() {
		t.Skip("whole files are copied: it runs without the race detector")
	}
	r := rand.New(rand.NewPCG(111, 112))
	good := filepath.Join(t.TempDir(), "good.db")
	s := must2(Open(bg, good))(t)
	for i := range 12 {
		st := must2(s.Create(bg, design.New()))(t)
		must2(s.Edit(bg, st.Seen(), "foam", units.System{}, design.Set(design.BoxBackFoam, 0.01*float64(i+1))))(t)
	}
	must2(s.db.Exec("PRAGMA wal_checkpoint(TRUNCATE)"))(t)
	s.Close()
	whole := must2(os.ReadFile(good))(t)
	reading, refused, missed := 0, 0, 0
	for n := range 24 {
		bad := bytes.Clone(whole)
		at := 4096 * (1 + r.IntN(len(bad)/4096-1)) // the head of a page
		for k := range 8 {
			bad[at+k] ^= 0xff
		}
		path := filepath.Join(t.TempDir(), fmt.Sprintf("bad%d.db", n))
		if err := os.WriteFile(path, bad, 0o600); err != nil {
			t.Fatal(err)
		}
		s, err := Open(bg, path)
		switch {
		case err != nil:
			refused++
			if !strings.Contains(err.Error(), "gladember restore") {
				t.Errorf("page %d: %v", at/4096, err)
			}
		case s.Damaged() != "":
			reading++
			if _, err := s.Create(bg, design.New()); !errors.Is(err, ErrReadOnly) {
				t.Errorf("page %d: a heater was added to a damaged file: %v", at/4096, err)
			}
			if text, ok := Said(s.SetPrice(bg, Price{"x", 1, "2026-01-01"})); !ok {
				t.Errorf("page %d: %q", at/4096, text)
			}
			if err := s.CopyDaily(bg); err != nil || len(s.DailyCopies()) > 0 {
				t.Error("a damaged file was copied over the good copies")
			}
			s.Close()
		default: // a page that nothing uses
			missed++
			s.Close()
			continue
		}
		if after := must2(os.ReadFile(path))(t); sha256.Sum256(after) != sha256.Sum256(bad) {
			t.Errorf("page %d: a damaged file was written to", at/4096)
		}
	}
	if reading == 0 || missed > 6 {
		t.Errorf("%d open for reading, %d refused, %d taken for sound", reading, refused, missed)
	}
}

// A backup that is taken while the workshop is written to restores to a state that existed, and the file that it replaces is kept.
func TestBackupUnderLoad(t *testing.T) {
	if testing.Short() {
		t.Skip("whole files are copied: it runs without the race detector")
	}
	times := 5
	if os.Getenv("GLADEMBER_LONG") != "" {
		times = 50
	}
	dir := t.TempDir()
	path := filepath.Join(dir, "w.db")
	s := must2(Open(bg, path))(t)
	st := must2(s.Create(bg, design.New()))(t)
	var lock sync.Mutex
	revisions := map[int64][32]byte{}
	note := func(x State) {
		lock.Lock()
		defer lock.Unlock()
		doc, _ := design.Encode(x.Document)
		revisions[x.Revision] = sha256.Sum256(doc)
	}
	note(st)
	stop := make(chan struct{})
	var wg sync.WaitGroup
	wg.Go(func() {
		at := st
		for i := 0; ; i++ {
			select {
			case <-stop:
				return
			default:
			}
			saved, err := s.Edit(bg, at.Seen(), "foam", units.System{}, design.Set(design.BoxBackFoam, 0.01+0.001*float64(i%50)))
			if err != nil {
				t.Error(err)
				return
			}
			note(saved.State)
			at = saved.State
		}
	})
	var copies []string
	for n := range times {
		time.Sleep(20 * time.Millisecond)
		copies = append(copies, filepath.Join(dir, fmt.Sprintf("copy-%d.db", n)))
		if err := s.Backup(bg, copies[n]); err != nil {
			t.Error(err)
		}
	}
	if err := s.Backup(bg, copies[0]); err == nil {
		t.Error("a backup overwrote another")
	}
	if _, err := Restore(bg, copies[0], path); err == nil || !strings.Contains(err.Error(), "in use") {
		t.Errorf("restored over a workshop in use: %v", err)
	}
	close(stop)
	wg.Wait()
	s.Close()
	for _, c := range copies {
		kept, err := Restore(bg, c, path)
		if err != nil {
			t.Fatal(err)
		}
		if _, err := os.Stat(kept); err != nil {
			t.Errorf("the file before is not kept: %v", err)
		}
		s := must2(Open(bg, path))(t)
		got := must2(s.Get(bg, st.Heater))(t)
		doc := must2(design.Encode(got.Document))(t)
		if revisions[got.Revision] != sha256.Sum256(doc) {
			t.Errorf("%s: revision %d never was", c, got.Revision)
		}
		s.Close()
	}
	if _, err := Restore(bg, filepath.Join(dir, "none.db"), path); err == nil || !strings.Contains(err.Error(), "gladember backup") {
		t.Errorf("restored from nothing: %v", err)
	}
}

// A copy a day, where something changed, and the last seven of them.
func TestDailyCopies(t *testing.T) {
	if testing.Short() {
		t.Skip("whole files are copied: it runs without the race detector")
	}
	s, _ := fresh(t)
	day := time.Now()
	s.now = func() time.Time { return day }
	st := must2(s.Create(bg, design.New()))(t)
	for n := range 10 {
		st = must2(s.Edit(bg, st.Seen(), "foam", units.System{}, design.Set(design.BoxBackFoam, 0.01+0.001*float64(n))))(t).State
		for range 3 {
			if err := s.CopyDaily(bg); err != nil {
				t.Fatal(err)
			}
		}
		day = day.AddDate(0, 0, 1)
	}
	list := s.DailyCopies()
	if len(list) != keptCopies || list[0].Name != day.AddDate(0, 0, -1).Format(time.DateOnly)+".db" {
		t.Fatalf("%+v", list)
	}
	time.Sleep(20 * time.Millisecond)
	if err := os.Chtimes(list[0].Path, time.Now(), time.Now()); err != nil {
		t.Fatal(err)
	}
	if err := s.CopyDaily(bg); err != nil || len(s.DailyCopies()) != keptCopies || s.DailyCopies()[0].Name != list[0].Name {
		t.Error("a day without a change was copied")
	}
	c := must2(Open(bg, list[3].Path))(t)
	defer c.Close()
	if got := must2(c.Get(bg, st.Heater))(t); got.Document.Box.BackFoam != 0.016 {
		t.Errorf("the copy of three days ago has %v", got.Document.Box.BackFoam)
	}
}

// What a program that was killed left is removed once it is an hour old, and nothing else.
func TestAbandonedFilesAreRemoved(t *testing.T) {
	must := func(err error) {
		t.Helper()
		if err != nil {
			t.Fatal(err)
		}
	}
	s, _ := fresh(t)
	temporary := s.TemporaryFolder()
	must(os.MkdirAll(s.copies(), 0o700))
	must(os.MkdirAll(filepath.Join(temporary, "restored"), 0o700))
	lapsed := []string{filepath.Join(temporary, "restored", "w.db"), filepath.Join(temporary, "old"),
		filepath.Join(s.copies(), "2026-01-02.db.part")}
	kept := []string{filepath.Join(temporary, "new"), filepath.Join(s.copies(), "2026-01-02.db"), s.path}
	for _, path := range slices.Concat(lapsed, kept[:2]) {
		must(os.WriteFile(path, []byte("x"), 0o600))
	}
	for _, path := range slices.Concat(lapsed, kept[1:], []string{filepath.Join(temporary, "restored")}) {
		must(os.Chtimes(path, time.Time{}, time.Now().Add(-61*time.Minute)))
	}
	s.removeAbandoned()
	for _, path := range lapsed {
		if _, err := os.Stat(path); !errors.Is(err, fs.ErrNotExist) {
			t.Errorf("%s: %v", path, err)
		}
	}
	for _, path := range kept {
		if _, err := os.Stat(path); err != nil {
			t.Error(err)
		}
	}
	if must(s.Close()); len(must2(os.ReadDir(temporary))(t)) != 1 {
		t.Error("what another program may be reading went with the folder")
	}
}

// On a full disk a change is refused in words and nothing is half done; what is only kept to spare computing is gone without.
func TestFullDisk(t *testing.T) {
	if testing.Short() {
		t.Skip("hundreds of changes: it runs without the race detector")
	}
	s, _ := fresh(t)
	st := must2(s.Create(bg, design.New()))(t)
	s.db.SetMaxOpenConns(1)
	pages := 0
	if err := s.db.Get(&pages, "PRAGMA page_count"); err != nil {
		t.Fatal(err)
	}
	must2(s.db.Exec(fmt.Sprintf("PRAGMA max_page_count = %d", pages+1)))(t)
	var failed error
	at := st
	for i := 0; i < 200 && failed == nil; i++ {
		saved, err := s.Edit(bg, at.Seen(), fmt.Sprint(i), units.System{}, design.Set(design.BoxBackFoam, 0.01+0.0001*float64(i)))
		if failed = err; err == nil {
			at = saved.State
		}
	}
	if text, ok := Said(failed); !ok || !strings.Contains(text, "the disk is full") {
		t.Fatalf("%v", failed)
	}
	if got := must2(s.Get(bg, st.Heater))(t); got.Revision != at.Revision {
		t.Errorf("revision %d, acknowledged %d", got.Revision, at.Revision)
	}
	if err := s.SetLogReport(bg, st.Logged(), "x", make([]byte, 1<<20)); err != nil {
		t.Errorf("what is only kept to spare computing fails: %v", err)
	}
}

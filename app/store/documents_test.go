package store

import (
	"bytes"
	"fmt"
	"io/fs"
	"math/rand/v2"
	"os"
	"path/filepath"
	"regexp"
	"strings"
	"testing"
	"time"

	"github.com/jmoiron/sqlx"
	"github.com/pressly/goose/v3"

	"gladember/core/design"
	"gladember/core/units"
)

// edited makes a change on a heater as it stands.
func edited(t *testing.T, s *Store, heater int64, changes ...design.Change) State {
	t.Helper()
	st := must2(s.Get(bg, heater))(t)
	saved, err := s.Edit(bg, st.Seen(), changes[0].Path, units.System{}, changes...)
	if err != nil {
		t.Fatal(err)
	}
	return saved.State
}

// What belongs to the workshop is the same for all its heaters, a log is that of its version, and an undo takes back what was changed last
// in any of the documents.
func TestThreeDocuments(t *testing.T) {
	s, _ := fresh(t)
	a, b := must2(s.Create(bg, design.New()))(t).Heater, must2(s.Create(bg, design.New()))(t).Heater
	edited(t, s, a, design.Set(design.PaneWidth, 0.9))
	edited(t, s, a, design.Set(design.CutKerf, 0.002))
	edited(t, s, a, design.Measure(design.LogInletOff, 0.4, 0.1))
	if got := must2(s.Get(bg, b))(t).Document; got.Workshop.Cut.Kerf != 0.002 || got.Log.InletOff != 0 || got.Pane.Width == 0.9 {
		t.Errorf("the other heater has kerf %v, offset %v, width %v", got.Workshop.Cut.Kerf, got.Log.InletOff, got.Pane.Width)
	}
	is := func(st State, err error) func(width, kerf, off float64, undo, redo bool) {
		return func(width, kerf, off float64, undo, redo bool) {
			t.Helper()
			d := &st.Document
			if err != nil || d.Pane.Width != width || d.Workshop.Cut.Kerf != kerf || d.Log.InletOff != off ||
				st.CanUndo != undo || st.CanRedo != redo {
				t.Fatalf("%v: width %v, kerf %v, offset %v, undo %v, redo %v", err, d.Pane.Width, d.Workshop.Cut.Kerf, d.Log.InletOff,
					st.CanUndo,
					st.CanRedo)
			}
		}
	}
	seen := func() Seen { return must2(s.Get(bg, a))(t).Seen() }
	width, kerf := design.New().Pane.Width, design.New().Workshop.Cut.Kerf
	is(s.Get(bg, a))(0.9, 0.002, 0.4, true, false)
	is(s.Undo(bg, seen()))(0.9, 0.002, 0, true, true)
	is(s.Undo(bg, seen()))(0.9, kerf, 0, true, true)
	is(s.Undo(bg, seen()))(width, kerf, 0, false, true)
	is(s.Redo(bg, seen()))(0.9, kerf, 0, true, true)
	is(s.Redo(bg, seen()))(0.9, 0.002, 0, true, true)
	is(s.Redo(bg, seen()))(0.9, 0.002, 0.4, true, false)
	// One change of several documents is one to undo.
	edited(t, s, a, design.Set(design.PaneWidth, 1), design.Set(design.CutKerf, 0.004), design.Set(design.LogInletOff, 0.0))
	is(s.Undo(bg, seen()))(0.9, 0.002, 0.4, true, true)
	is(s.Redo(bg, seen()))(1, 0.004, 0, true, false)
	// A version that is begun has the log's corrections, and goes its own way.
	st := must2(s.Branch(bg, seen()))(t)
	is(st, nil)(1, 0.004, 0, false, false)
	edited(t, s, a, design.Set(design.LogInletOff, 0.7))
	for _, h := range must2(s.Heads(bg, a))(t) {
		if want := map[string]float64{"A": 0, "B": 0.7}[h.Name]; h.Document.Log.InletOff != want || h.Document.Workshop.Cut.Kerf != 0.004 {
			t.Errorf("version %s: %+v", h.Name, h.Document.Log)
		}
	}
	// The journal says what was changed, of all three.
	es := must2(s.LastEdits(bg, a, 20))(t)
	if len(es) < 7 || es[0].After.Log.InletOff != 0.7 || es[0].Before.Log.InletOff != 0 || es[0].Version != "B" {
		t.Errorf("%d changes, %+v", len(es), es[0].After.Log)
	}
}

// What the settings change, every page that shows the heater sees: another page's undo of it is a question first.
func TestWorkshopBySettings(t *testing.T) {
	s, _ := fresh(t)
	st := must2(s.Create(bg, design.New()))(t)
	shown := st.Seen()
	shown.Page = "phone"
	if err := s.EditWorkshop(bg, "currency", units.System{}, design.Set(design.WorkshopCurrency, "CHF")); err != nil {
		t.Fatal(err)
	}
	if err := s.EditWorkshop(bg, "currency", units.System{}, design.Set(design.WorkshopCurrency, "12 345")); err == nil {
		t.Error("a number is a currency")
	}
	if got := must2(s.Get(bg, st.Heater))(t); got.Document.Workshop.Currency != "CHF" || got.Revision == st.Revision ||
		got.Label != "currency" {
		t.Errorf("%q, revision %d, %s", got.Document.Workshop.Currency, got.Revision, got.Label)
	}
	if _, err := s.Undo(bg, shown); err == nil {
		t.Error("an undo took back what its page did not show")
	}
	for i, want := range []string{"", "CHF"} {
		if err := s.MoveWorkshop(bg, i == 0); err != nil {
			t.Fatal(err)
		}
		if w := must2(s.Workshop(bg))(t); w.Document.Workshop.Currency != want || w.CanUndo != (i == 1) || w.CanRedo != (i == 0) {
			t.Errorf("%q, undo %v, redo %v", w.Document.Workshop.Currency, w.CanUndo, w.CanRedo)
		}
	}
}

// However edits of several documents follow each other, undos lead back through the same heaters, and redos on to the last.
func TestUndoOfManyDocuments(t *testing.T) {
	s, _ := fresh(t)
	heater := must2(s.Create(bg, design.New()))(t).Heater
	clock := time.Now()
	s.now = func() time.Time { clock = clock.Add(oneEdit); return clock } // no two are one entry
	r := rand.New(rand.NewPCG(3, 5))
	text := func(st State) string { return string(doc(t, st)) }
	past := []string{text(must2(s.Get(bg, heater))(t))}
	for i := range 40 {
		v := float64(i+1) / 1000
		c := [][]design.Change{{design.Set(design.PaneWidth, 0.8+v)}, {design.Set(design.CutTrim, v)}, {design.Set(design.LogOutletOff, v)},
			{design.Set(design.BenchHelpers, i%9), design.Set(design.PaneHeight, 1.5+v)}}[r.IntN(4)]
		st := edited(t, s, heater, c...)
		past = append(past, text(st))
		if r.IntN(3) > 0 {
			continue
		}
		for range 1 + r.IntN(3) { // some back, and another way from there
			if len(past) == 1 {
				break
			}
			past = past[:len(past)-1]
			if st = must2(s.Undo(bg, st.Seen()))(t); text(st) != past[len(past)-1] {
				t.Fatalf("an undo after edit %d leads elsewhere", i)
			}
		}
	}
	st := must2(s.Get(bg, heater))(t)
	for i := len(past) - 2; i >= 0; i-- {
		if st = must2(s.Undo(bg, st.Seen()))(t); text(st) != past[i] {
			t.Fatalf("undo to %d differs", i)
		}
	}
	for i := 1; i < len(past); i++ {
		if st = must2(s.Redo(bg, st.Seen()))(t); text(st) != past[i] {
			t.Fatalf("redo to %d differs", i)
		}
	}
}

// A file from before the documents were three comes up whole: each log has its own corrections, the workshop what was said last, and the
// units and the currency that were kept beside it.
func TestDocumentsOfAnOlderFile(t *testing.T) {
	path := filepath.Join(t.TempDir(), "old.db")
	db := must2(sqlx.Open("sqlite", "file:"+path))(t)
	p := must2(goose.NewProvider(goose.DialectSQLite3, db.DB, must2(fs.Sub(migrations, "migrations"))(t)))(t)
	must2(p.UpTo(bg, 19))(t)
	for i, text := range []string{oldDocument(t, 0.002, 0.3), oldDocument(t, 0.003, -0.2), "", "{"} {
		must2(db.Exec("INSERT INTO heaters (id, created, current) VALUES (?, 0, ?)", i+1, i+10))(t)
		must2(db.Exec("INSERT INTO versions (id, heater, name, head, revision) VALUES (?, ?, 'A', ?, 4)", i+10, i+1, i+100))(t)
		must2(db.Exec("INSERT INTO edits (id, version, path, label, document, revision, at) VALUES (?, ?, '', 'started', ?, 4, ?)", i+100,
			i+10,
			[]byte(text), 1000-i))(t)
	}
	must2(db.Exec("INSERT INTO settings (name, value) VALUES ('units', 'in.F.comma'), ('currency', 'kr')"))(t)
	db.Close()
	s := must2(Open(bg, path))(t)
	defer s.Close()
	for i, off := range []float64{0.3, -0.2} {
		st := must2(s.Get(bg, int64(i+1)))(t)
		w := st.Document.Workshop
		if st.Document.Log.InletOff != off || w.Cut.Kerf != 0.002 || w.Currency != "kr" || w.Length != "in" || w.Temperature != "F" ||
			w.Decimal != "comma" || st.Document.Room.Useful != 33 || st.CanUndo || st.CanRedo || !st.Document.Given(design.CutKerf) {
			t.Errorf("heater %d: %+v, %+v", i+1, st.Document.Log, w)
		}
	}
	st := edited(t, s, 1, design.Set(design.BenchHelpers, 4))
	if st = must2(s.Undo(bg, st.Seen()))(t); st.Document.Workshop.Bench.Helpers == 4 {
		t.Error("an edit of the workshop cannot be undone")
	}
}

// oldDocument is a kept heater of schema 10 in which a kerf, in m, and an offset of the inlet, in K, were given.
func oldDocument(t *testing.T, kerf, offset float64) string {
	t.Helper()
	text := string(must2(os.ReadFile("../../core/design/testdata/v10/screen-box.json"))(t))
	text = strings.Replace(text, `"kerf_m": 0.0025`, fmt.Sprintf(`"kerf_m": %g`, kerf), 1)
	return strings.Replace(text, `"inlet_off_k": 0.4`, fmt.Sprintf(`"inlet_off_k": %g`, offset), 1)
}

// A heater's file of version 1, whose documents hold the workshop and the log, comes in whole; what the workshop says already, stays.
func TestHeaterFileOfVersionOne(t *testing.T) {
	s, _ := fresh(t)
	made := must2(s.Create(bg, design.New()))(t)
	old := rezip(t, exported(t, s, made.Heater), func(name string, data []byte) (string, []byte) {
		switch name {
		case "versions/1.json":
			return name, []byte(oldDocument(t, 0.0022, 0.6))
		case "logs/1.json":
			return "", nil
		}
		text := strings.Replace(string(data), `"version": 2`, `"version": 1`, 1)
		return name, []byte(strings.Replace(text, `"document": "versions/1.json",`, `"document": "versions/1.json"`, 1))
	})
	old = rezip(t, old, func(name string, data []byte) (string, []byte) {
		if name != "heater.json" {
			return name, data
		}
		return name, regexp.MustCompile(`(?m)^ *"log": .*$`).ReplaceAll(data, nil)
	})
	other, _ := fresh(t)
	if err := other.EditWorkshop(bg, "evenings", units.System{}, design.Set(design.BenchDays, "every")); err != nil {
		t.Fatal(err)
	}
	in := must2(other.ImportHeater(bg, bytes.NewReader(old), int64(len(old))))(t)
	if d := in.Document; d.Log.InletOff != 0.6 || d.Workshop.Cut.Kerf != 0.0022 || d.Workshop.Bench.Days != "every" {
		t.Errorf("%+v, %+v", d.Log, d.Workshop)
	}
	if w := must2(other.Workshop(bg))(t); !w.CanUndo || w.Document.Workshop.Cut.Kerf != 0.0022 {
		t.Errorf("%+v", w.Document.Workshop)
	}
}

package store

import (
	"bytes"
	"context"
	"errors"
	"fmt"
	"io"
	"io/fs"
	"math"
	"math/rand/v2"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/jmoiron/sqlx"
	"github.com/pressly/goose/v3"

	"gladember/core/design"
	"gladember/core/measure"
	"gladember/core/units"
)

var bg = context.Background()

func fresh(t *testing.T) (*Store, string) {
	t.Helper()
	path := filepath.Join(t.TempDir(), "workshop.db")
	s, err := Open(bg, path)
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(func() { s.Close() })
	return s, path
}

func doc(t *testing.T, st State) []byte {
	t.Helper()
	b, err := design.Encode(st.Document)
	if err != nil {
		t.Fatal(err)
	}
	return b
}

func must[T any](t *testing.T, v T, err error) T {
	t.Helper()
	if err != nil {
		t.Fatal(err)
	}
	return v
}

// Fifty random edits across the stations are undone to the byte, then redone.
func TestUndoFiftyEditsToTheByte(t *testing.T) {
	s, path := fresh(t)
	clock := time.Date(2026, 2, 10, 9, 0, 0, 0, time.UTC)
	s.now = func() time.Time { return clock }
	st := must2(s.Create(bg, design.New()))(t)
	history := [][]byte{doc(t, st)}
	r := rand.New(rand.NewPCG(27, 28))
	for len(history) <= 50 {
		f := design.Fields[r.IntN(len(design.Fields))]
		c := design.Change{Path: f.Path, Value: f.Min + (f.Max-f.Min)*r.Float64()}
		switch {
		case f.Choices != nil:
			cs := f.Choices()
			c.Value = cs[r.IntN(len(cs))].ID
		case f.Bool:
			c.Value = r.IntN(2) == 0
		case f.Text:
			continue
		case f.Whole:
			c.Value = math.Round(c.Value.(float64))
		}
		clock = clock.Add(3 * time.Second)
		saved, err := s.Edit(bg, st.Seen(), f.Label, units.System{}, c)
		if err != nil {
			continue
		}
		st = saved.State
		if d := doc(t, st); !bytes.Equal(d, history[len(history)-1]) {
			history = append(history, d)
		}
	}
	for i := len(history) - 2; i >= 0; i-- {
		st = must2(s.Undo(bg, st.Seen()))(t)
		if !bytes.Equal(doc(t, st), history[i]) {
			t.Fatalf("undo to %d differs", i)
		}
	}
	if _, err := s.Undo(bg, st.Seen()); !errors.Is(err, ErrNothing) {
		t.Errorf("undo past the first gave %v", err)
	}
	// Closing and opening the file in between loses nothing.
	s.Close()
	again, err := Open(bg, path)
	if err != nil {
		t.Fatal(err)
	}
	defer again.Close()
	for i := 1; i < len(history); i++ {
		st = must2(again.Redo(bg, st.Seen()))(t)
		if !bytes.Equal(doc(t, st), history[i]) {
			t.Fatalf("redo to %d differs", i)
		}
	}
	if st.CanRedo {
		t.Error("something is left to redo")
	}
}

func must2[T any](v T, err error) func(*testing.T) T {
	return func(t *testing.T) T { t.Helper(); return must(t, v, err) }
}

func set(path, typed string) design.Change { return design.Change{Path: path, Typed: typed} }

// Typing into one field within two seconds is one edit; another field is not.
func TestTypingIsOneEdit(t *testing.T) {
	s, _ := fresh(t)
	clock := time.Date(2026, 2, 10, 9, 0, 0, 0, time.UTC)
	s.now = func() time.Time { return clock }
	st := must2(s.Create(bg, design.New()))(t)
	first := doc(t, st)
	clock = clock.Add(time.Minute)
	for _, typed := range []string{"900", "905", "906"} {
		clock = clock.Add(500 * time.Millisecond)
		saved, err := s.Edit(bg, st.Seen(), "Pane width", units.System{}, set(design.PaneWidth.Path, typed))
		if err != nil {
			t.Fatal(err)
		}
		st = saved.State
	}
	saved, _ := s.Edit(bg, st.Seen(), "Pane height", units.System{}, set(design.PaneHeight.Path, "1500"))
	if saved.Document.Pane.Width != 0.906 {
		t.Fatalf("width %v", saved.Document.Pane.Width)
	}
	st = must2(s.Undo(bg, st.Seen()))(t)
	if st.Document.Pane.Height == 1.5 || st.Document.Pane.Width != 0.906 {
		t.Error("one undo took both fields")
	}
	st = must2(s.Undo(bg, st.Seen()))(t)
	if !bytes.Equal(doc(t, st), first) {
		t.Error("the typing took more than one undo")
	}
	st = must2(s.Redo(bg, st.Seen()))(t)
	if st.Document.Pane.Width != 0.906 {
		t.Errorf("redo gave %v, not the last that was typed", st.Document.Pane.Width)
	}
}

// Two pages on one heater: different fields both go in; on the same field the
// later goes in and is told what it replaced. What a page did itself is no surprise to it, an undo
// before its edit included; an undo does not take back what another page did.
func TestTwoPages(t *testing.T) {
	s, _ := fresh(t)
	st := must2(s.Create(bg, design.New()))(t)
	one, two := st.Seen(), st.Seen()
	one.Page, two.Page = "one", "two"
	if _, err := s.Edit(bg, one, "width", units.System{}, set(design.PaneWidth.Path, "900")); err != nil {
		t.Fatal(err)
	}
	b, err := s.Edit(bg, two, "", units.System{}, set(design.PaneHeight.Path, "1200"))
	if err != nil || b.Elsewhere != "" || b.Document.Pane.Width != 0.9 || b.Document.Pane.Height != 1.2 {
		t.Errorf("different fields: %+v, %v", b.Document.Pane, err)
	}
	c, err := s.Edit(bg, two, "", units.System{}, set(design.PaneWidth.Path, "700"))
	if err != nil || c.Elsewhere != "900" || math.Abs(c.Document.Pane.Width-0.7) > 1e-12 {
		t.Errorf("the same field: %q %v %v", c.Elsewhere, c.Document.Pane.Width, err)
	}
	before := doc(t, c.State)
	if _, err := s.Edit(bg, c.Seen(), "", units.System{}, set(design.PaneWidth.Path, "ninety")); err == nil {
		t.Error("nonsense was saved")
	}
	var behind *Behind
	if _, err := s.Undo(bg, one); !errors.As(err, &behind) || behind.Shown.Name != "A" || behind.Open.Name != "A" {
		t.Errorf("an undo of what the page has not seen: %v", err)
	}
	if !bytes.Equal(before, doc(t, must2(s.Get(bg, st.Heater))(t))) {
		t.Error("a refused edit or undo changed the heater")
	}
	two.Revision = c.Revision
	back := must2(s.Undo(bg, two))(t)
	if back.Document.Pane.Width != 0.9 {
		t.Errorf("undo gives %v", back.Document.Pane.Width)
	}
	// Its next edit left before the answer to the undo came.
	again, err := s.Edit(bg, two, "", units.System{}, set(design.PaneWidth.Path, "650"))
	if err != nil || again.Elsewhere != "" {
		t.Errorf("after an undo: %q, %v", again.Elsewhere, err)
	}
}

// A change asked for on a page that shows a version that is not open any more is refused and
// leaves both versions as they were.
func TestChangeOfAnotherVersion(t *testing.T) {
	s, _ := fresh(t)
	a := must2(s.Create(bg, design.New()))(t)
	a = must2(s.Edit(bg, a.Seen(), "", units.System{}, set(design.PaneWidth.Path, "900")))(t).State
	b := must2(s.Branch(bg, a.Seen()))(t)
	was := doc(t, b)
	var behind *Behind
	for name, try := range map[string]func() error{
		"edit": func() error {
			_, err := s.Edit(bg, a.Seen(), "", units.System{}, set(design.PaneWidth.Path, "700"))
			return err
		},
		"undo":   func() error { _, err := s.Undo(bg, a.Seen()); return err },
		"redo":   func() error { _, err := s.Redo(bg, a.Seen()); return err },
		"branch": func() error { _, err := s.Branch(bg, a.Seen()); return err },
	} {
		if err := try(); !errors.As(err, &behind) || behind.Shown.Name != "A" || behind.Open.Name != "B" {
			t.Errorf("%s: %v", name, err)
		}
	}
	for _, h := range must2(s.Heads(bg, a.Heater))(t) {
		if got, err := design.Encode(h.Document); err != nil || !bytes.Equal(got, was) {
			t.Errorf("version %s was changed", h.Name)
		}
	}
	stray := a.Seen()
	stray.Version = 999
	if _, err := s.Edit(bg, stray, "", units.System{}, set(design.PaneWidth.Path, "700")); !errors.Is(err, ErrNotFound) {
		t.Errorf("a version that is not there: %v", err)
	}
}

func TestVersionsStandApart(t *testing.T) {
	s, _ := fresh(t)
	st := must2(s.Create(bg, design.New()))(t)
	a := doc(t, st)
	b := must2(s.Branch(bg, st.Seen()))(t)
	if b.Name != "B" || len(b.Versions) != 2 || !bytes.Equal(a, doc(t, b)) {
		t.Fatalf("branch: %+v", b)
	}
	if _, err := s.Edit(bg, b.Seen(), "", units.System{}, set(design.CoverLayers.Path, "2")); err != nil {
		t.Fatal(err)
	}
	if err := s.Switch(bg, st.Heater, st.Version); err != nil {
		t.Fatal(err)
	}
	if !bytes.Equal(a, doc(t, must2(s.Get(bg, st.Heater))(t))) {
		t.Error("an edit of B reached A")
	}
	other := must2(s.Create(bg, design.New()))(t)
	if err := s.Switch(bg, other.Heater, st.Version); !errors.Is(err, ErrNotFound) {
		t.Errorf("another heater's version: %v", err)
	}
	if _, err := s.Get(bg, 999); !errors.Is(err, ErrNotFound) {
		t.Errorf("a missing heater: %v", err)
	}
}

func samples(n int, from time.Time) []measure.Sample {
	r := rand.New(rand.NewPCG(29, 30))
	var out []measure.Sample
	for i := range n {
		x := measure.Sample{At: from.Add(time.Duration(i) * 30 * time.Second), Inlet: 18 + r.Float64(), Outlet: 40 + r.Float64(),
			Outdoor: math.NaN(), Sun: math.NaN(), Speed: math.NaN()}
		if i%3 == 0 {
			x.Outdoor = r.NormFloat64()
		}
		out = append(out, x)
	}
	return out
}

func same(a, b measure.Sample) bool {
	eq := func(x, y float64) bool { return x == y || math.IsNaN(x) && math.IsNaN(y) }
	return a.At.Equal(b.At) && eq(a.Inlet, b.Inlet) && eq(a.Outlet, b.Outlet) && eq(a.Outdoor, b.Outdoor) && eq(a.Sun, b.Sun)
}

func batch(t *testing.T, samples []measure.Sample) *Batch {
	t.Helper()
	return must2(NewBatch(samples))(t)
}

// Readings come back as they went in; the same file again changes nothing; an
// import can be taken back.
func TestReadings(t *testing.T) {
	s, path := fresh(t)
	st := must2(s.Create(bg, design.New()))(t)
	from := time.Date(2026, 2, 10, 20, 0, 0, 0, time.UTC) // over midnight
	in := samples(1000, from)
	imp, err := s.AddReadings(bg, st.Logged(), "one.csv", batch(t, in), false)
	if err != nil || imp.Added != 2334 {
		t.Fatalf("%+v, %v", imp, err)
	}
	shuffled := append([]measure.Sample(nil), in...)
	rand.New(rand.NewPCG(31, 32)).Shuffle(len(shuffled), func(i, j int) { shuffled[i], shuffled[j] = shuffled[j], shuffled[i] })
	if again, err := s.AddReadings(bg, st.Logged(), "one again.csv", batch(t, shuffled), false); err != nil || again.ID != 0 {
		t.Errorf("the same file again added %d, %v", again.Added, err)
	}
	got, err := s.Readings(bg, st.Logged(), from, from.Add(24*time.Hour))
	if err != nil || len(got) != len(in) {
		t.Fatalf("%d readings, %v", len(got), err)
	}
	for i := range in {
		if !same(in[i], got[i]) {
			t.Fatalf("reading %d: %+v, was %+v", i, got[i], in[i])
		}
	}
	more := samples(1200, from) // overlaps the first thousand
	if imp, err = s.AddReadings(bg, st.Logged(), "two.csv", batch(t, more), false); err != nil || imp.Added != 466 {
		t.Errorf("overlapping file: %+v, %v", imp, err)
	}
	if list, _ := s.Imports(bg, st.Logged()); len(list) != 2 || list[0].Name != "two.csv" {
		t.Errorf("imports %+v", list)
	}
	if err := s.RemoveImport(bg, st.Heater, imp.ID); err != nil {
		t.Fatal(err)
	}
	got, _ = s.Readings(bg, st.Logged(), from, from.Add(24*time.Hour))
	if len(got) != 1000 || !same(got[999], in[999]) {
		t.Errorf("after undo: %d readings", len(got))
	}
	lo, hi, ok, _ := s.Span(bg, st.Logged())
	if !ok || lo.After(from) || hi.Before(in[999].At) {
		t.Errorf("span %v to %v", lo, hi)
	}
	if _, err := s.AddReadings(bg, Logged{999, st.Version}, "x", batch(t, in), false); !errors.Is(err, ErrNotFound) {
		t.Errorf("readings for a missing heater: %v", err)
	}
	backup := path + ".copy"
	if err := s.Backup(bg, backup); err != nil {
		t.Fatal(err)
	}
	c, err := Open(bg, backup)
	if err != nil {
		t.Fatal(err)
	}
	defer c.Close()
	if got, _ := c.Readings(bg, st.Logged(), from, from.Add(24*time.Hour)); len(got) != 1000 {
		t.Errorf("the backup holds %d readings", len(got))
	}
	if err := s.Backup(bg, backup); err == nil {
		t.Error("a backup overwrote a file")
	}
}

func TestUploads(t *testing.T) {
	s, _ := fresh(t)
	st := must2(s.Create(bg, design.New()))(t)
	id, err := s.PutUpload(bg, st.Heater, "a.csv", strings.NewReader("x"))
	if err != nil {
		t.Fatal(err)
	}
	if u, err := s.GetUpload(bg, st.Heater, id); err != nil || u.Name != "a.csv" || u.Size != 1 || string(must2(io.ReadAll(u))(t)) != "x" {
		t.Errorf("%+v, %v", u, err)
	}
	if _, err := s.GetUpload(bg, st.Heater+1, id); err == nil {
		t.Error("another heater reads the file")
	}
	if err := s.DropUpload(bg, id); err != nil {
		t.Fatal(err)
	}
	if _, err := s.GetUpload(bg, st.Heater, id); err == nil {
		t.Error("a dropped file is still there")
	}
}

func TestNoWorkshopFile(t *testing.T) {
	path := filepath.Join(t.TempDir(), "x.db")
	if err := os.WriteFile(path, []byte("this is a letter, not a database, and quite long enough"), 0o600); err != nil {
		t.Fatal(err)
	}
	if _, err := Open(bg, path); err == nil {
		t.Error("a letter was opened as a workshop")
	}
}

func FuzzBlocks(f *testing.F) {
	f.Add([]byte{1, 2, 3}, 2)
	f.Fuzz(func(t *testing.T, b []byte, n int) {
		if n < 0 || n > 1000 {
			return
		}
		ps, err := decode(b, n)
		if err == nil && len(ps) != n {
			t.Fatal("short block")
		}
	})
}

// Versions are laid out as they stand, take names of their own, and a name that is taken,
// empty or too long is refused.
func TestHeadsAndNames(t *testing.T) {
	s, _ := fresh(t)
	st := must2(s.Create(bg, design.New()))(t)
	b := must2(s.Branch(bg, st.Seen()))(t)
	must2(s.Edit(bg, b.Seen(), "foam", units.System{}, design.Set(design.BoxBackFoam, 0.06)))(t)
	heads := must2(s.Heads(bg, st.Heater))(t)
	if len(heads) != 2 || heads[0].Document.Box.BackFoam == heads[1].Document.Box.BackFoam || heads[1].Document.Box.BackFoam != 0.06 {
		t.Fatalf("%d heads", len(heads))
	}
	if err := s.Rename(bg, st.Heater, heads[1].ID, "thick back"); err != nil {
		t.Fatal(err)
	}
	for _, bad := range []string{"", "A", strings.Repeat("x", 25), "a\x00b"} {
		if err := s.Rename(bg, st.Heater, heads[1].ID, bad); !errors.Is(err, ErrName) {
			t.Errorf("%q: %v", bad, err)
		}
	}
	if err := s.Rename(bg, st.Heater+1, heads[1].ID, "stray"); !errors.Is(err, ErrNotFound) {
		t.Errorf("another heater's version: %v", err)
	}
	if got := must2(s.Heads(bg, st.Heater))(t); got[1].Name != "thick back" {
		t.Errorf("named %q", got[1].Name)
	}
	// A table changed on two devices at once is no trouble.
	now := must2(s.Get(bg, st.Heater))(t)
	one, two := now.Seen(), now.Seen()
	two.Page = "two"
	must2(s.Edit(bg, one, "horizon", units.System{}, design.Enter(design.ShadeHorizon, "100 to 120: 5")))(t)
	y := must2(s.Edit(bg, two, "horizon", units.System{}, design.Enter(design.ShadeHorizon, "140 to 150: 9")))(t)
	if y.Elsewhere == "" || len(y.Document.Shade.Horizon) != 1 {
		t.Errorf("%q, %+v", y.Elsewhere, y.Document.Shade.Horizon)
	}
}

// Weather files come back whole, results are kept by version and program, things of the
// stock are changed and taken out, and a device's token works until it is taken back.
func TestTheBenchIsKept(t *testing.T) {
	s, _ := fresh(t)
	st := must2(s.Create(bg, design.New()))(t)
	data := bytes.Repeat([]byte("LOCATION,Aldermoor\n"), 4000)
	sum := must2(s.PutWeather(bg, "Aldermoor", data))(t)
	if again := must2(s.PutWeather(bg, "the same", data))(t); again != sum {
		t.Error("the same file has two sums")
	}
	name, got, err := s.Weather(bg, sum) // as it went in
	if err != nil || name != "Aldermoor" || !bytes.Equal(got, data) {
		t.Errorf("%s, %d bytes, %v", name, len(got), err)
	}
	if _, _, err := s.Weather(bg, "none"); !errors.Is(err, ErrNotFound) {
		t.Error(err)
	}
	for _, f := range []string{`{"a":1}`, `{"a":2}`} {
		if err := s.Keep(bg, Kept{Version: st.Version, Revision: 3, Program: "1.0", Figures: f}); err != nil {
			t.Fatal(err)
		}
	}
	if ks := must2(s.KeptOf(bg, st.Heater))(t); len(ks) != 1 || ks[0].Figures != `{"a":2}` {
		t.Errorf("%+v", ks)
	}
	if err := s.PutStock(bg, "pane", "{}"); err != nil {
		t.Fatal(err)
	}
	it := must2(s.Stock(bg))(t)[0]
	if err := errors.Join(s.SetStock(bg, it.ID, `{"x":1}`), s.DropStock(bg, it.ID)); err != nil {
		t.Error(err)
	}
	if err := s.DropStock(bg, it.ID); !errors.Is(err, ErrNotFound) {
		t.Error(err)
	}
	if err := s.AddDevice(bg, "phone", "secret"); err != nil {
		t.Fatal(err)
	}
	d := must2(s.DeviceOf(bg, "secret"))(t)
	if ds := must2(s.Devices(bg))(t); len(ds) != 1 || ds[0].Name != "phone" || d.ID != ds[0].ID {
		t.Errorf("%+v", ds)
	}
	if err := s.DropDevice(bg, d.ID); err != nil {
		t.Fatal(err)
	}
	if _, err := s.DeviceOf(bg, "secret"); !errors.Is(err, ErrNotFound) {
		t.Errorf("a device that was shut out: %v", err)
	}
}

// A file from before the blocks were kept by import keeps every reading, and its last import can be removed.
func TestLogOfAnOlderFile(t *testing.T) {
	path := filepath.Join(t.TempDir(), "old.db")
	db := must2(sqlx.Open("sqlite", "file:"+path))(t)
	sub := must2(fs.Sub(migrations, "migrations"))(t)
	p := must2(goose.NewProvider(goose.DialectSQLite3, db.DB, sub))(t)
	if _, err := p.UpTo(bg, 3); err != nil {
		t.Fatal(err)
	}
	if _, err := db.Exec("INSERT INTO heaters (id, created) VALUES (7, 0), (8, 0)"); err != nil {
		t.Fatal(err)
	}
	// Heater 7 was branched after its import, so that the readings are those of its first version.
	if _, err := db.Exec("INSERT INTO versions (id, heater, name) VALUES (70, 7, 'A'), (71, 7, 'B'), (80, 8, 'A'); INSERT INTO edits " +
		"(version, path, label, document, revision, at) VALUES (70, '', '', x'', 1, 4), (71, '', '', x'', 1, 9)"); err != nil {
		t.Fatal(err)
	}
	day := int64(20000)
	points := func(v float64, minutes ...int64) []point {
		var ps []point
		for _, m := range minutes {
			ps = append(ps, point{day*dayMs + m*60000, v})
		}
		return ps
	}
	put := func(heater int64, series string, ps []point) {
		if _, err := db.Exec("INSERT INTO readings (heater, series, day, count, block) VALUES (?, ?, ?, ?, ?)", heater, series, day,
			len(ps), must2(encode(ps))(t)); err != nil {
			t.Fatal(err)
		}
	}
	for _, heater := range []int64{7, 8} {
		put(heater, "inlet", points(20, 1, 2, 3))
		put(heater, "outlet", points(40, 1, 2, 3))
	}
	if _, err := db.Exec("INSERT INTO imports (id, heater, name, read, added, at) VALUES (3, 7, 'one.csv', 3, 3, 5)"); err != nil {
		t.Fatal(err)
	}
	for _, series := range []string{"inlet", "outlet"} {
		if _, err := db.Exec("INSERT INTO import_blocks (import, series, day) VALUES (3, ?, ?)", series, day); err != nil {
			t.Fatal(err)
		}
	}
	db.Close()
	s := must2(Open(bg, path))(t)
	defer s.Close()
	from := time.UnixMilli(day * dayMs)
	for _, heater := range []int64{7, 8} { // 8 has readings of which no import is known
		got := must2(s.Readings(bg, Logged{heater, 10 * heater}, from, from.Add(24*time.Hour)))(t)
		if len(got) != 3 || got[2].Inlet != 20 || got[2].Outlet != 40 {
			t.Errorf("heater %d: %+v", heater, got)
		}
		list := must2(s.Imports(bg, Logged{heater, 10 * heater}))(t)
		if len(list) != 1 {
			t.Fatalf("heater %d: imports %+v", heater, list)
		}
		if err := s.RemoveImport(bg, heater, list[0].ID); err != nil {
			t.Fatal(err)
		}
		if _, _, ok, _ := s.Span(bg, Logged{heater, 10 * heater}); ok {
			t.Errorf("heater %d has readings left", heater)
		}
	}
}

// Files laid over each other by chance and removed in any order: the log is always what the files left say, each
// value from the first that has it, or from the last that replaces.
func TestImportsRemovedInAnyOrder(t *testing.T) {
	s, _ := fresh(t)
	st := must2(s.Create(bg, design.New()))(t)
	r := rand.New(rand.NewPCG(41, 42))
	from := time.Date(2026, 2, 10, 23, 30, 0, 0, time.UTC)
	nan := math.NaN()
	type file struct {
		id      int64
		replace bool
		values  map[int]float64
	}
	var files []file
	for n := range 60 {
		if len(files) == 0 || r.IntN(3) > 0 {
			f := file{replace: r.IntN(2) == 0, values: map[int]float64{}}
			var in []measure.Sample
			for m := range 60 {
				if r.IntN(3) == 0 {
					f.values[m] = float64(30 + r.IntN(3))
					in = append(in, measure.Sample{At: from.Add(time.Duration(m) * time.Minute), Inlet: 20, Outlet: f.values[m],
						Outdoor: nan, Sun: nan, Speed: nan})
				}
			}
			imp := must2(s.AddReadings(bg, st.Logged(), "f.csv", batch(t, in), f.replace))(t)
			if f.id = imp.ID; f.id > 0 {
				files = append(files, f)
			}
		} else {
			i := r.IntN(len(files))
			if err := s.RemoveImport(bg, st.Heater, files[i].id); err != nil {
				t.Fatal(err)
			}
			files = slices.Delete(files, i, i+1)
		}
		want := map[int]float64{}
		for _, f := range files {
			for m, v := range f.values {
				if _, there := want[m]; !there || f.replace {
					want[m] = v
				}
			}
		}
		got := must2(s.Readings(bg, st.Logged(), from, from.Add(2*time.Hour)))(t)
		if len(got) != len(want) {
			t.Fatalf("step %d: %d readings, want %d", n, len(got), len(want))
		}
		for _, g := range got {
			if m := int(g.At.Sub(from).Minutes()); g.Outlet != want[m] {
				t.Fatalf("step %d: minute %d is %v, want %v", n, m, g.Outlet, want[m])
			}
		}
	}
}

// A heater in the trash is on no list but the trash's, comes back whole, and goes for good only from there.
func TestTrash(t *testing.T) {
	s, _ := fresh(t)
	st := must2(s.Create(bg, design.New()))(t)
	must2(s.Branch(bg, st.Seen()))(t)
	must2(s.AddReadings(bg, st.Logged(), "a.csv", batch(t, samples(10, time.Date(2026, 2, 10, 12, 0, 0, 0, time.UTC))), false))(t)
	if err := s.Delete(bg, st.Heater); !errors.Is(err, ErrNotFound) {
		t.Errorf("deleted without the trash: %v", err)
	}
	if err := s.Trash(bg, st.Heater); err != nil {
		t.Fatal(err)
	}
	if err := s.Trash(bg, st.Heater); !errors.Is(err, ErrNotFound) {
		t.Errorf("trashed twice: %v", err)
	}
	list, trash := must2(s.Heaters(bg))(t), must2(s.TrashedHeaters(bg))(t)
	if len(list) != 0 || len(trash) != 1 || trash[0].Name != st.Document.Name {
		t.Errorf("heaters %v, trash %v", list, trash)
	}
	if err := s.Restore(bg, st.Heater); err != nil {
		t.Fatal(err)
	}
	if back := must2(s.Get(bg, st.Heater))(t); len(back.Versions) != 2 {
		t.Errorf("restored with %d versions", len(back.Versions))
	}
	if err := errors.Join(s.Trash(bg, st.Heater), s.Delete(bg, st.Heater)); err != nil {
		t.Fatal(err)
	}
	if _, err := s.Get(bg, st.Heater); !errors.Is(err, ErrNotFound) {
		t.Errorf("a deleted heater: %v", err)
	}
	if _, _, ok, _ := s.Span(bg, st.Logged()); ok {
		t.Error("its readings stay")
	}
}

// A copy has the open version's document, a name of its own and no readings.
func TestCopy(t *testing.T) {
	s, _ := fresh(t)
	h := design.New()
	h.Name = "Gable"
	st := must2(s.Create(bg, h))(t)
	for _, want := range []string{"Gable, copy", "Gable, copy 2", "Gable, copy 3"} {
		c := must2(s.Copy(bg, st.Heater))(t)
		if c.Document.Name != want || c.Heater == st.Heater || len(c.Versions) != 1 {
			t.Errorf("%q, want %q", c.Document.Name, want)
		}
		st = c
	}
	if got := copyName(strings.Repeat("ü", 90), nil); len([]rune(got)) > 80 {
		t.Errorf("%q is too long", got)
	}
}

// A heater that is read twice is two documents: what one reader changes the other does not see, however its text was
// remembered; more texts than are kept are all read right.
func TestReadDocumentsAreOnesOwn(t *testing.T) {
	s, _ := fresh(t)
	h := design.New()
	h.Entries = map[string]design.Entry{design.PaneWidth.Path: {Typed: "900 mm", Origin: design.Yours}}
	st, err := s.Create(bg, h)
	if err != nil {
		t.Fatal(err)
	}
	a, err := s.Get(bg, st.Heater)
	if err != nil {
		t.Fatal(err)
	}
	a.Document.Pane.Width = 0.1
	a.Document.Entries[design.PaneWidth.Path] = design.Entry{}
	a.Document.Absorber.Screens.Layers = 9
	b, err := s.Get(bg, st.Heater)
	if err != nil {
		t.Fatal(err)
	}
	if b.Document.Pane.Width != h.Pane.Width || b.Document.Entry(design.PaneWidth).Typed != "900 mm" ||
		b.Document.Absorber.Screens.Layers == 9 {
		t.Errorf("another reader changed it: %+v", b.Document.Entries)
	}
	for i := range 2 * keptDocuments {
		name := fmt.Sprintf("heater %d", i)
		h.Name = name
		st, err := s.Create(bg, h)
		if err != nil {
			t.Fatal(err)
		}
		if got, err := s.Get(bg, st.Heater); err != nil || got.Document.Name != name {
			t.Fatalf("%q is read as %q, %v", name, got.Document.Name, err)
		}
	}
}

package store

import (
	"bytes"
	"errors"
	"math"
	"reflect"
	"testing"
	"time"

	"gladember/core/design"
	"gladember/core/units"
)

// A price is written, replaced and forgotten; it serves every heater, and a price below nothing is refused by the table itself.
func TestPricesAreKept(t *testing.T) {
	s, _ := fresh(t)
	put := func(what string, pack float64, seen string) error { return s.SetPrice(bg, Price{what, pack, seen}) }
	for _, p := range []Price{{"paint", 9.9, "2026-10-11"}, {"screws", 8.5, "2026-10-11"}, {"paint", 10.4, "2026-11-02"}} {
		if err := put(p.What, p.Pack, p.Seen); err != nil {
			t.Fatal(err)
		}
	}
	ps, err := s.Prices(bg)
	if err != nil || len(ps) != 2 || ps[0] != (Price{"paint", 10.4, "2026-11-02"}) {
		t.Fatalf("%+v, %v", ps, err)
	}
	if err := put("paint", 0, ""); err != nil {
		t.Fatal(err)
	}
	if ps, _ = s.Prices(bg); len(ps) != 1 {
		t.Errorf("%+v", ps)
	}
	if _, err := s.db.ExecContext(bg, `INSERT INTO prices (what, pack, seen) VALUES ('x', -1, '')`); err == nil {
		t.Error("a price below nothing was taken")
	}
}

// What is bought, done and noted belongs to one heater alone, and goes with it when it is deleted for good.
func TestBuildingBelongsToItsHeater(t *testing.T) {
	s, _ := fresh(t)
	a := made(s.Create(bg, design.New())).Heater
	b := made(s.Create(bg, design.New())).Heater
	for _, err := range []error{s.SetBought(bg, a, Purchase{What: "paint", Name: "flat black", Packs: 3}),
		s.SetBought(bg, a, Purchase{What: "grille", Packs: 1}), s.SetBought(bg, a, Purchase{What: "grille"}),
		s.SetStep(bg, a, Step{Step: "frame", Minutes: 50, Entry: "{}"}), s.SetStep(bg, a, Step{Step: "frame", Minutes: 70,
			Entry: `{"looks":[0]}`}),
		s.SetStep(bg, a, Step{Step: "back", Entry: "{}"}), s.DropStep(bg, a, "back")} {
		if err != nil {
			t.Fatal(err)
		}
	}
	got, err := s.Bought(bg, a)
	if err != nil || len(got) != 1 || got[0] != (Purchase{"paint", "flat black", 3}) {
		t.Errorf("%v, %v", got, err)
	}
	steps, err := s.Steps(bg, a)
	if err != nil || len(steps) != 1 || steps[0].Minutes != 70 || steps[0].Entry != `{"looks":[0]}` || steps[0].At().IsZero() {
		t.Errorf("%+v, %v", steps, err)
	}
	if other, _ := s.Bought(bg, b); len(other) != 0 {
		t.Errorf("the other heater has %v", other)
	}
	if other, _ := s.Steps(bg, b); len(other) != 0 {
		t.Errorf("the other heater has %v", other)
	}
	photo := []byte("a picture")
	id, err := s.AddNote(bg, a, Note{Note: "lapped", Step: "frame", Cost: 4.5, Width: 3, Height: 2}, photo)
	if err != nil {
		t.Fatal(err)
	}
	if back, err := s.NotePhoto(bg, a, id); err != nil || !bytes.Equal(back, photo) {
		t.Errorf("%q, %v", back, err)
	}
	if _, err := s.NotePhoto(bg, b, id); !errors.Is(err, ErrNotFound) {
		t.Errorf("another heater's photo: %v", err)
	}
	if err := s.DropNote(bg, b, id, false); err != nil {
		t.Fatal(err)
	}
	if ns, _ := s.Notes(bg, a); len(ns) != 1 || ns[0].Cost != 4.5 || ns[0].When().IsZero() {
		t.Errorf("after another heater removed it: %+v", ns)
	}
	for _, back := range []bool{false, true} {
		if err := s.DropNote(bg, a, id, back); err != nil {
			t.Fatal(err)
		}
		if ns, _ := s.Notes(bg, a); (len(ns) == 1) != back {
			t.Errorf("removed, and put back %v: %+v", back, ns)
		}
	}
	if err := s.Trash(bg, a); err != nil {
		t.Fatal(err)
	}
	if err := s.Delete(bg, a); err != nil {
		t.Fatal(err)
	}
	for _, table := range []string{"bought", "steps", "journal"} {
		var n int
		if err := s.db.GetContext(bg, &n, "SELECT count(*) FROM "+table); err != nil || n != 0 {
			t.Errorf("%s keeps %d rows of a heater that is gone, %v", table, n, err)
		}
	}
}

// made is a heater that was just made.
func made(st State, err error) State {
	if err != nil {
		panic(err)
	}
	return st
}

// The last changes of a heater come latest first, with their version, and no more than asked.
func TestLastEdits(t *testing.T) {
	s, _ := fresh(t)
	st := made(s.Create(bg, design.New()))
	for i, w := range []float64{0.9, 1.0, 1.1} {
		saved, err := s.Edit(bg, st.Seen(), "width", units.System{}, design.Change{Path: []string{design.PaneWidth.Path,
			design.PaneHeight.Path,
			design.BoxBackFoam.Path}[i], Value: []float64{w, w + 0.5, 0.05}[i]})
		if err != nil {
			t.Fatal(err)
		}
		st = saved.State
	}
	all, err := s.LastEdits(bg, st.Heater, 10)
	if err != nil || len(all) < 3 || all[0].Version == "" || all[0].At < all[len(all)-1].At {
		t.Fatalf("%+v, %v", all, err)
	}
	if few, _ := s.LastEdits(bg, st.Heater, 2); len(few) != 2 || !reflect.DeepEqual(few[0], all[0]) {
		t.Errorf("%+v", few)
	}
	// Typing "34 1/2" is three entries within two seconds, one change: from what stood before to what was meant.
	clock := time.Now().Add(time.Hour)
	s.now = func() time.Time { return clock }
	for _, typed := range []string{"3 ft", "34 in", "34 1/2 in"} {
		saved, err := s.Edit(bg, st.Seen(), "Glazing width", units.System{}, design.Enter(design.PaneWidth, typed))
		if err != nil {
			t.Fatal(err)
		}
		st, clock = saved.State, clock.Add(time.Second)
	}
	now, err := s.LastEdits(bg, st.Heater, 10)
	if err != nil || len(now) != len(all)+1 {
		t.Fatalf("%d changes after one more than %d, %v", len(now), len(all), err)
	}
	if e := now[0]; e.Path != design.PaneWidth.Path || e.Before.Pane.Width != 0.9 || math.Abs(e.After.Pane.Width-34.5*0.0254) > 1e-9 {
		t.Errorf("%s: %v to %v", e.Path, e.Before.Pane.Width, e.After.Pane.Width)
	}
}

package store

import (
	"fmt"
	"testing"

	"gladember/core/design"
)

// Marks of cut pieces are kept by part and size, changed and taken away, and go with their heater.
func TestMarksOfCutPieces(t *testing.T) {
	s, _ := fresh(t)
	st, err := s.Create(bg, design.New())
	if err != nil {
		t.Fatal(err)
	}
	mark := func(name string, length float64, done int) {
		t.Helper()
		if err := s.MarkCut(bg, st.Heater, []CutPiece{{name, length, 0.1, done}}, fmt.Sprint(`{"materials": `, done, `}`)); err != nil {
			t.Fatal(err)
		}
	}
	mark("side board", 1.5, 1)
	mark("side board", 1.5, 2)
	mark("side board", 1.2, 1)
	mark("back board", 1.4, 1)
	got, err := s.CutPieces(bg, st.Heater)
	if err != nil || len(got) != 3 || got[2].Done != 2 || got[1].Length != 1.2 || got[0].Name != "back board" {
		t.Fatalf("%+v, %v", got, err)
	}
	mark("side board", 1.2, 0)
	if got, _ := s.CutPieces(bg, st.Heater); len(got) != 2 {
		t.Errorf("a mark of none stays: %+v", got)
	}
	if r, err := s.CutRecord(bg, st.Heater); r != `{"materials": 0}` || err != nil {
		t.Errorf("the plan is %q, %v", r, err)
	}
	if r, err := s.CutRecord(bg, st.Heater+1); r != "" || err != nil {
		t.Errorf("another heater's plan is %q, %v", r, err)
	}
	// Offcuts and the plan without them are written together.
	if err := s.PutOffcuts(bg, st.Heater, []Item{{Kind: "bar", Item: `{"kind":"bar"}`}}, "{}"); err != nil {
		t.Fatal(err)
	}
	if items, _ := s.Stock(bg); len(items) != 1 || items[0].Kind != "bar" {
		t.Errorf("on hand is %+v", items)
	}
	if r, _ := s.CutRecord(bg, st.Heater); r != "{}" {
		t.Errorf("the plan is %q", r)
	}
	if other, _ := s.CutPieces(bg, st.Heater+1); len(other) != 0 {
		t.Errorf("another heater has %+v", other)
	}
}

package store

import (
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
		if err := s.MarkCut(bg, st.Heater, CutPiece{name, length, 0.1, done}); err != nil {
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
	if other, _ := s.CutPieces(bg, st.Heater+1); len(other) != 0 {
		t.Errorf("another heater has %+v", other)
	}
}

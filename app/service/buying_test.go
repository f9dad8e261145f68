package service

import (
	"testing"

	"gladember/app/store"
	"gladember/core/layout"
	"gladember/core/units"
)

// What is cut to a part's present size is taken off, what is cut to another size is not, and a part of which all is cut is gone.
func TestRemainingParts(t *testing.T) {
	parts := []layout.Part{{ID: "side board", Count: 2, Length: 1.2, Width: 0.1}, {ID: "batten", Count: 1, Length: 1, Width: 0.02}}
	cut := []store.CutPiece{{Name: "side board", Length: 1.2004, Width: 0.1, Done: 1}, {Name: "side board", Length: 1.19, Width: 0.1,
		Done: 1},
		{Name: "batten", Length: 1, Width: 0.02, Done: 5}}
	got := Remaining(parts, cut)
	if len(got) != 1 || got[0].Count != 1 || parts[0].Count != 2 {
		t.Errorf("%+v of %+v", got, parts)
	}
}

// The list follows prices, what is on hand and what is cut, and is computed once for the same heater.
func TestBuyingFollows(t *testing.T) {
	w := workshop(t)
	st, err := w.Store.Create(bg, placed(t))
	if err != nil {
		t.Fatal(err)
	}
	doc := st.Document
	e, err := w.Evaluate(bg, &doc)
	if err != nil {
		t.Fatal(err)
	}
	buying := func() *Buying {
		b, err := w.Buying(bg, &st, e, units.System{})
		if err != nil {
			t.Fatal(err)
		}
		return b
	}
	first := buying()
	if first != buying() {
		t.Error("the same list was computed twice")
	}
	if first.List.Total != 0 || len(first.Next.Lines) == 0 {
		t.Errorf("%v, %d lines for the next", first.List.Total, len(first.Next.Lines))
	}
	paint := first.List.Line(doc.Absorber.Paint)
	if paint == nil {
		t.Skip("this heater takes no paint")
	}
	if err := w.Store.SetPrice(bg, store.Price{What: paint.ID, Pack: 10, Seen: "2026-11-28"}); err != nil {
		t.Fatal(err)
	}
	if got := buying().List.Total; got != 10*float64(paint.Buy) {
		t.Errorf("%v, not %v", got, 10*float64(paint.Buy))
	}
	p, err := Packet(bg, &e.Eval, &e.Layout, &first.List, &first.Input)
	if err != nil || len(p.Steps) < 10 || p.Circuit == nil || len(p.Plans) == 0 || p.Name == "" {
		t.Errorf("%+v, %v", p, err)
	}
	if got := Input(&doc, &e.Layout, nil, units.System{Inches: true}).Shop.Bars[0].Length; got < 2.4 {
		t.Errorf("boards of %v m for one who counts in feet", got)
	}
}

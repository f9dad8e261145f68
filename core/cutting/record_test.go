package cutting

import (
	"context"
	"encoding/json"
	"math"
	"math/rand/v2"
	"testing"
	"time"

	"gladember/core/design"
	"gladember/core/layout"
	"gladember/core/units"
)

// partsOf are the parts of a heater that are cut.
func partsOf(t *testing.T, h *design.Heater) []layout.Part {
	t.Helper()
	l, err := layout.Build(h)
	if err != nil {
		t.Fatal(err)
	}
	return l.Cut()
}

// planned plans parts, and says how often each part is planned by its name.
func planned(t *testing.T, parts []layout.Part, before *Record) ([]MaterialPlan, map[string]int) {
	t.Helper()
	ms, err := Parts(context.Background(), parts, Metric, nil, Rules{Kerf: SawKerf, Limit: 100 * time.Millisecond}, before)
	if err != nil {
		t.Fatal(err)
	}
	n := map[string]int{}
	for i := range ms {
		m := &ms[i]
		if m.Bars != nil {
			checked(t, m.BarJob, m.Bars)
			for _, c := range m.Bars.Bars {
				for _, at := range c.Pieces {
					n[m.IDs[at.Piece]]++
				}
			}
			for k, x := range m.Bars.Missing {
				n[m.IDs[k]] += x
			}
			continue
		}
		for _, c := range m.Sheets.Sheets {
			apart(t, m.SheetJob, c)
			for _, p := range c.Panels {
				if p.Panel >= 0 {
					n[m.IDs[p.Panel]]++
				}
			}
		}
		for k, x := range m.Sheets.Missing {
			n[m.IDs[k]] += x
		}
	}
	return ms, n
}

// apart checks that no two panels of a sheet, cut or not, share space, and that none leaves it.
func apart(t *testing.T, j *SheetJob, c CutSheet) {
	t.Helper()
	s := j.Stock[c.Stock]
	for i, a := range c.Panels {
		if a.X < -1e-9 || a.Y < -1e-9 || a.X+a.W > s.Width+1e-9 || a.Y+a.H > s.Height+1e-9 {
			t.Fatalf("panel %+v leaves the sheet of %v x %v", a, s.Width, s.Height)
		}
		for _, b := range c.Panels[:i] {
			if a.X < b.X+b.W-1e-9 && b.X < a.X+a.W-1e-9 && a.Y < b.Y+b.H-1e-9 && b.Y < a.Y+a.H-1e-9 {
				t.Fatalf("%+v and %+v overlap", a, b)
			}
		}
	}
}

// bought is what must be bought, in all materials.
func bought(ms []MaterialPlan) (n int) {
	for i := range ms {
		_, counts := ms[i].New()
		for _, k := range counts {
			n += k
		}
	}
	return n
}

// Random pieces of every example are cut one after the other, and the glazing is changed in between: what is cut stays on
// its bar or sheet, every piece that is still wanted is planned once, and as long as the design stays nothing more is bought
// than the plan said at first.
func TestCuttingGoesOn(t *testing.T) {
	if testing.Short() {
		t.Skip("its work has one thread: it runs without the race detector")
	}
	r := rand.New(rand.NewPCG(5, 6))
	for _, name := range design.ExampleNames() {
		h, err := design.Named(name)
		if err != nil {
			t.Fatal(err)
		}
		parts := partsOf(t, &h)
		ms, _ := planned(t, parts, nil)
		first := bought(ms)
		rec := NewRecord(ms, nil)
		done := map[string]int{} // by name, at the size it has now
		cut := 0
		left := func() (out []layout.Part) {
			for _, p := range parts {
				if p.Count -= done[p.Name]; p.Count > 0 {
					out = append(out, p)
				}
			}
			return out
		}
		steps := many(12)
		for step := range steps {
			if step == steps/2 && !h.Indoors() { // another pane was found
				h, err = design.Apply(h, units.System{}, design.Set(design.PaneWidth, h.Pane.Width-0.03))
				if err != nil {
					t.Fatal(err)
				}
				was := parts
				parts = partsOf(t, &h)
				for _, p := range parts {
					for _, q := range was {
						if p.Name == q.Name && (math.Abs(p.Length-q.Length) > SameSize || math.Abs(p.Width-q.Width) > SameSize) {
							delete(done, p.Name) // what is cut has another size
						}
					}
				}
			}
			p := parts[r.IntN(len(parts))]
			if done[p.Name] < p.Count && rec.Mark(p.Name, p.Length, p.Width, true) {
				done[p.Name]++
				cut++
			}
			ms, n := planned(t, left(), &rec)
			for _, p := range left() {
				if p.Form != layout.InBars && p.Form != layout.InSheets || p.Group == layout.Cover && p.Form == layout.InSheets {
					continue
				}
				if n[p.Name]%p.Count != 0 || n[p.Name] == 0 {
					t.Fatalf("%s, step %d: %d of %s are planned, %d are wanted", name, step, n[p.Name], p.Name, p.Count)
				}
			}
			if step < 6 {
				opened := 0
				for _, m := range ms {
					opened += len(m.Rests) + m.Opened
				}
				if got := bought(ms); got > first {
					t.Errorf("%s, step %d: %d to buy and %d opened, at first %d to buy", name, step, got, opened, first)
				}
			}
			rec = NewRecord(ms, &rec)
			b, err := json.Marshal(rec) // as it is kept
			if err != nil {
				t.Fatal(err)
			}
			rec = Record{}
			if err := json.Unmarshal(b, &rec); err != nil {
				t.Fatal(err)
			}
			total := 0
			for _, m := range rec.Materials {
				for _, b := range m.Bars {
					sum := 0.0
					for _, p := range b.Pieces {
						sum += p.Length
						if p.Done {
							total++
						}
					}
					if sum > b.Length+1e-9 {
						t.Fatalf("%s, step %d: %v of pieces on a bar of %v", name, step, sum, b.Length)
					}
				}
				for _, s := range m.Sheets {
					for _, p := range s.Panels {
						if p.Done {
							total++
						}
					}
				}
			}
			if total != cut {
				t.Fatalf("%s, step %d: %d pieces are cut, the record has %d", name, step, cut, total)
			}
		}
	}
}

// A mark goes to a bar that is opened before one that is new; taken back, the record is as it was.
func TestMarkAndTakeBack(t *testing.T) {
	rec := Record{Materials: []MaterialRecord{{Material: "pine", Width: 0.04, Bars: []BarRecord{
		{Length: 2, Pieces: []PieceRecord{{Part: "leg", Length: 1}}},
		{Length: 2, Pieces: []PieceRecord{{Part: "arm", Length: 0.5, Done: true}, {Part: "leg", Length: 1}}},
	}}}}
	if !rec.Mark("leg", 1, 0.04, true) || !rec.Materials[0].Bars[1].Pieces[1].Done || rec.Done("leg", 1, 0.04) != 1 {
		t.Errorf("%+v", rec.Materials[0].Bars)
	}
	if !rec.Mark("leg", 1, 0.04, false) || rec.Done("leg", 1, 0.04) != 0 || rec.Mark("leg", 1.01, 0.04, true) {
		t.Errorf("%+v", rec.Materials[0].Bars)
	}
}

// What is left of a bar and of a sheet once all their pieces are cut, by hand: 2,400 - 3 x (500 + 3) = 891 mm.
func TestOffcutsByHand(t *testing.T) {
	piece := PieceRecord{Part: "leg", Length: 0.5, Done: true}
	rec := Record{Materials: []MaterialRecord{
		{Material: "pine", Width: 0.04, Thickness: 0.02, Bars: []BarRecord{{Length: 2.4, Pieces: []PieceRecord{piece, piece, piece}},
			{Length: 2.4, Pieces: []PieceRecord{piece, {Part: "arm", Length: 1}}}}},
		{Material: "plywood", Thickness: 0.009, Sheets: []SheetRecord{{Width: 1.22, Height: 2.44,
			Panels:  []PanelRecord{{Part: "back", Rect: Rect{0, 0, 1, 2}, Done: true}},
			Offcuts: []Rect{{1, 0, 0.22, 2.44}, {0, 2, 1, 0.1}}}}},
	}}
	got := rec.Offcuts(0.003)
	if len(got) != 2 || math.Abs(got[0].Length-0.891) > 1e-9 || !got[0].FromBar || got[1].Width != 0.22 || got[1].Length != 2.44 {
		t.Errorf("%+v", got)
	}
	if left := rec.Unfinished(); len(left.Materials) != 1 || len(left.Materials[0].Bars) != 1 {
		t.Errorf("once they are put away there is %+v", left)
	}
}

// A board that is too long and a back that is too large for what is sold are made of equal pieces, which sum to the whole.
func TestPartsTooLargeAreSplit(t *testing.T) {
	parts := []layout.Part{
		{Letter: "A", ID: "side board", Form: layout.InBars, Material: "pine", Count: 2, Length: 5.1, Width: 0.09, Thickness: 0.02},
		{Letter: "B", ID: "back board", Form: layout.InSheets, Material: "plywood", Group: layout.Back, Count: 1, Length: 3.1, Width: 1.1,
			Thickness: 0.009},
		{Letter: "C", ID: "door", Form: layout.InSheets, Material: "plywood", Count: 1, Length: 3, Width: 2.9, Thickness: 0.009},
	}
	ms, n := planned(t, parts, nil)
	if n["side board"] != 4 || n["back board"] != 2 {
		t.Errorf("%v pieces", n)
	}
	for _, m := range ms {
		for _, s := range m.Splits {
			if s.Each*float64(s.Count) != s.Whole || s.Joint == "" {
				t.Errorf("%+v", s)
			}
		}
	}
	if len(ms[1].Sheets.Missing) != 1 {
		t.Errorf("a panel wider than any sheet: missing %v", ms[1].Sheets.Missing)
	}
}

package cutting

import (
	"context"
	"math"
	"math/rand/v2"
	"slices"
	"testing"
	"time"
)

// sawn follows the cuts of a sheet in their order, each from edge to edge of a piece that is there, and asks that the
// panels come out of them.
func sawn(t *testing.T, j *SheetJob, c CutSheet) {
	t.Helper()
	near := func(a, b float64) bool { return math.Abs(a-b) < 1e-7 }
	same := func(a, b Rect) bool { return near(a.X, b.X) && near(a.Y, b.Y) && near(a.W, b.W) && near(a.H, b.H) }
	x := j.Stock[c.Stock]
	pieces := []Rect{{0, 0, x.Width, x.Height}}
	for n, s := range c.Cuts {
		i := slices.IndexFunc(pieces, func(p Rect) bool { return same(p, s.Of) })
		if i < 0 {
			t.Fatalf("cut %d is through %+v, which is not there: %+v", n+1, s.Of, pieces)
		}
		p := pieces[i]
		pieces = slices.Delete(pieces, i, i+1)
		a, b := p, p
		if s.Along {
			a.W = s.At - p.X
			b.X, b.W = s.At+j.Kerf, p.X+p.W-s.At-j.Kerf
		} else {
			a.H = s.At - p.Y
			b.Y, b.H = s.At+j.Kerf, p.Y+p.H-s.At-j.Kerf
		}
		for _, q := range []Rect{a, b} {
			if q.W > 1e-8 && q.H > 1e-8 {
				pieces = append(pieces, q)
			}
		}
	}
	for _, p := range c.Panels {
		if !slices.ContainsFunc(pieces, func(q Rect) bool { return same(p.Rect, q) }) {
			t.Fatalf("panel %+v does not come out of the cuts: %+v", p, pieces)
		}
	}
	for _, o := range c.Offcuts {
		if !slices.ContainsFunc(pieces, func(q Rect) bool { return same(o, q) }) {
			t.Fatalf("offcut %+v does not come out of the cuts: %+v", o, pieces)
		}
	}
}

// checkedSheets asks of a plan that each panel is cut once, on its sheet, its right size, overlapping no other, and comes
// out of the cuts in their order.
func checkedSheets(t *testing.T, j *SheetJob, p *SheetPlan) {
	t.Helper()
	cut := make([]int, len(j.Panels))
	used := make([]int, len(j.Stock))
	for _, c := range p.Sheets {
		used[c.Stock]++
		s := j.Stock[c.Stock]
		for i, a := range c.Panels {
			cut[a.Panel]++
			w, h := j.Panels[a.Panel].Width, j.Panels[a.Panel].Height
			if a.Turned {
				if w, h = h, w; !j.Panels[a.Panel].Rotate {
					t.Fatal("a panel with grain is turned")
				}
			}
			if math.Abs(a.W-w) > 1e-6 || math.Abs(a.H-h) > 1e-6 {
				t.Fatalf("a panel of %v x %v is cut %v x %v", w, h, a.W, a.H)
			}
			if a.X < j.Trim-1e-9 || a.Y < j.Trim-1e-9 || a.X+a.W > s.Width-j.Trim+1e-9 || a.Y+a.H > s.Height-j.Trim+1e-9 {
				t.Fatalf("panel %+v leaves the sheet of %v x %v", a, s.Width, s.Height)
			}
			for _, b := range c.Panels[:i] {
				apartX := a.X >= b.X+b.W+j.Kerf-1e-9 || b.X >= a.X+a.W+j.Kerf-1e-9
				apartY := a.Y >= b.Y+b.H+j.Kerf-1e-9 || b.Y >= a.Y+a.H+j.Kerf-1e-9
				if !apartX && !apartY {
					t.Fatalf("%+v and %+v overlap or have no kerf between them", a, b)
				}
			}
		}
		sawn(t, j, c)
	}
	for i, x := range j.Panels {
		if cut[i]+p.Missing[i] != x.Count {
			t.Fatalf("panel %d: %d cut and %d missing of %d", i, cut[i], p.Missing[i], x.Count)
		}
	}
	for k, s := range j.Stock {
		if s.Count != Any && used[k] > s.Count {
			t.Fatalf("%d sheets of %d are cut, there are %d", used[k], k, s.Count)
		}
	}
	if len(p.Missing) == 0 && (p.CostBound > p.Cost+1e-9 || p.LeastSheets > len(p.Sheets)) {
		t.Fatalf("bounds %v and %d pass %v and %d", p.CostBound, p.LeastSheets, p.Cost, len(p.Sheets))
	}
}

// Plans of random lists hold, with any stock, grain, kerf and trim.
func TestRandomSheetsHold(t *testing.T) {
	r := rand.New(rand.NewPCG(4, 4))
	n := many(1000)
	if testing.Short() {
		n = 100
	}
	for range n {
		j := &SheetJob{Kerf: []float64{0, 0.003, 0.0001}[r.IntN(3)], Trim: []float64{0, 0, 0.008}[r.IntN(3)], Limit: 3 * time.Millisecond}
		j.Stock = []Sheet{{Width: 1.22, Height: 2.44, Count: Any, Price: 30}}
		for range r.IntN(3) {
			j.Stock = append(j.Stock, Sheet{Width: 0.3 + r.Float64(), Height: 0.3 + 1.5*r.Float64(), Count: 1 + r.IntN(2)})
		}
		for range 1 + r.IntN(8) {
			j.Panels = append(j.Panels, Panel{Width: 0.05 + 1.1*r.Float64(), Height: 0.05 + 2.2*r.Float64()*r.Float64(),
				Count: 1 + r.IntN(4), Rotate: r.IntN(2) == 0})
		}
		p, err := SolveSheets(context.Background(), j)
		if err != nil {
			t.Fatal(err)
		}
		checkedSheets(t, j, p)
	}
}

// Sheets that can be filled without waste by cuts from edge to edge are: the bound is met.
func TestSheetsThatFillUp(t *testing.T) {
	for name, j := range map[string]*SheetJob{
		"quarters": {Stock: []Sheet{{Width: 1.22, Height: 2.44, Count: Any, Price: 30}},
			Panels: []Panel{{Width: 0.61, Height: 1.22, Count: 8}}},
		"strips": {Stock: []Sheet{{Width: 1.2, Height: 2.4, Count: Any, Price: 30}}, Panels: []Panel{{Width: 1.2, Height: 0.6, Count: 2},
			{Width: 0.4, Height: 1.2, Count: 3, Rotate: true}}},
		"turned": {Stock: []Sheet{{Width: 1, Height: 2, Count: Any, Price: 10}},
			Panels: []Panel{{Width: 2, Height: 0.5, Count: 4, Rotate: true}}},
	} {
		p, err := SolveSheets(context.Background(), j)
		if err != nil {
			t.Fatal(err)
		}
		checkedSheets(t, j, p)
		if !p.Proven || p.Waste > 1e-9 {
			t.Errorf("%s: %d sheets, at least %d, waste %v, proven %v", name, len(p.Sheets), p.LeastSheets, p.Waste, p.Proven)
		}
	}
	// Panels over half a sheet both ways: one on each, whatever their area.
	j := &SheetJob{Stock: []Sheet{{Width: 1.22, Height: 2.44, Count: Any, Price: 30}}, Panels: []Panel{{Width: 0.7, Height: 1.3, Count: 5}}}
	if p, _ := SolveSheets(context.Background(), j); len(p.Sheets) != 5 || p.LeastSheets != 5 || !p.Proven || p.CostBound != 150 {
		t.Errorf("five large panels: %d sheets, at least %d, cost at least %v", len(p.Sheets), p.LeastSheets, p.CostBound)
	}
}

// A sheet that is cut stays as it is, and its panels are not cut again; the cost is that of both plans.
func TestKeptSheetsStay(t *testing.T) {
	j := &SheetJob{Kerf: 0.003, Stock: []Sheet{{Width: 1.22, Height: 2.44, Count: Any, Price: 30}},
		Panels: []Panel{{Width: 0.6, Height: 1.2, Count: 6, Rotate: true}, {Width: 0.3, Height: 0.4, Count: 4}}}
	p, err := SolveSheets(context.Background(), j)
	if err != nil {
		t.Fatal(err)
	}
	again := *j
	again.Keep = p.Sheets[:1]
	q, err := SolveSheets(context.Background(), &again)
	if err != nil {
		t.Fatal(err)
	}
	checkedSheets(t, &again, q)
	if len(q.Sheets[0].Panels) != len(p.Sheets[0].Panels) || q.Sheets[0].Panels[0] != p.Sheets[0].Panels[0] || q.Cost != p.Cost {
		t.Errorf("the sheet that is cut went from %+v to %+v, the cost from %v to %v", p.Sheets[0], q.Sheets[0], p.Cost, q.Cost)
	}
}

// What no sheet is large enough for is told, and a panel that must not be turned is not, even if it then fits nowhere.
func TestPanelsThatDoNotFit(t *testing.T) {
	j := &SheetJob{Stock: []Sheet{{Width: 1, Height: 2, Count: 1}},
		Panels: []Panel{{Name: "with the grain", Width: 1.8, Height: 0.9, Count: 1},
			{Name: "any way", Width: 1.8, Height: 0.9, Count: 1, Rotate: true},
			{Name: "too large", Width: 2.1, Height: 0.1, Count: 2, Rotate: true}}}
	p, err := SolveSheets(context.Background(), j)
	if err != nil {
		t.Fatal(err)
	}
	checkedSheets(t, j, p)
	if p.Missing[0] != 1 || p.Missing[1] != 0 || p.Missing[2] != 2 {
		t.Errorf("missing %v; want the one with the grain and both too large", p.Missing)
	}
}

// More panels never cost less, nor does a wider kerf; a larger sheet at the same price never costs more by its bound.
func TestSheetsAreMonotone(t *testing.T) {
	r := rand.New(rand.NewPCG(9, 9))
	for range 60 {
		j := &SheetJob{Stock: []Sheet{{Width: 1.22, Height: 2.44, Count: Any, Price: 30}}, Limit: 30 * time.Millisecond}
		for range 2 + r.IntN(4) {
			j.Panels = append(j.Panels, Panel{Width: 0.1 + r.Float64(), Height: 0.1 + 2*r.Float64(), Count: 1 + r.IntN(3), Rotate: true})
		}
		solve := func(edit func(x *SheetJob)) *SheetPlan {
			x := *j
			x.Panels = slices.Clone(j.Panels)
			x.Stock = slices.Clone(j.Stock)
			edit(&x)
			p, err := SolveSheets(context.Background(), &x)
			if err != nil {
				t.Fatal(err)
			}
			return p
		}
		base := solve(func(*SheetJob) {})
		if p := solve(func(x *SheetJob) { x.Panels[0].Count += 3 }); p.CostBound < base.CostBound-1e-9 || p.LeastSheets < base.LeastSheets {
			t.Errorf("more panels: bounds %v, %d under %v, %d", p.CostBound, p.LeastSheets, base.CostBound, base.LeastSheets)
		}
		if p := solve(func(x *SheetJob) { x.Kerf = 0.006 }); p.CostBound < base.CostBound-1e-9 {
			t.Errorf("a kerf: bound %v under %v", p.CostBound, base.CostBound)
		}
		if p := solve(func(x *SheetJob) { x.Stock[0].Width, x.Stock[0].Height = 1.5, 3 }); p.CostBound > base.CostBound+1e-9 {
			t.Errorf("larger sheets: bound %v over %v", p.CostBound, base.CostBound)
		}
	}
}

// Published instances, recalled from memory.
func TestPublishedSheets(t *testing.T) {
	squares := func(sides ...float64) (ps []Panel) {
		for _, s := range sides {
			ps = append(ps, Panel{Width: s / 100, Height: s / 100, Count: 1})
		}
		return ps
	}
	for _, c := range []struct {
		name       string
		w, h       float64
		panels     []Panel
		most       int // sheets
		full       bool
		leastBound int
	}{
		// Christofides and Whitlock 1977, the first instance, its demands as panels to cut: 225 of area on sheets of 150, two
		// sheets at least; two are enough (Lodi, Martello and Vigo 1999).
		{"Christofides and Whitlock 1", 0.15, 0.10, []Panel{{Width: 0.08, Height: 0.04, Count: 2}, {Width: 0.03, Height: 0.07, Count: 1},
			{Width: 0.08, Height: 0.02, Count: 3}, {Width: 0.03, Height: 0.04, Count: 5}, {Width: 0.03, Height: 0.03, Count: 2},
			{Width: 0.03, Height: 0.02, Count: 2}, {Width: 0.02, Height: 0.01, Count: 1}}, 2, false, 2},
		// Moron 1925: nine unequal squares that fill 33 x 32, and Duijvestijn 1978: twenty-one that fill 112 x 112. Neither can
		// be parted by one straight cut from edge to edge, so that one sheet is not enough for a saw, and two are.
		{"Moron", 0.33, 0.32, squares(18, 15, 14, 10, 9, 8, 7, 4, 1), 2, true, 1},
		{"Duijvestijn", 1.12, 1.12, squares(50, 35, 27, 8, 19, 15, 17, 11, 6, 24, 29, 25, 9, 2, 7, 18, 16, 42, 4, 37, 33), 2, true, 1},
	} {
		area := 0.0
		for _, p := range c.panels {
			area += p.Width * p.Height * float64(p.Count)
		}
		if c.full && math.Abs(area-c.w*c.h) > 1e-9 {
			t.Fatalf("%s: the squares do not fill the sheet: %v of %v", c.name, area, c.w*c.h)
		}
		j := &SheetJob{Stock: []Sheet{{Width: c.w, Height: c.h, Count: Any, Price: 1}}, Panels: c.panels}
		p, err := SolveSheets(context.Background(), j)
		if err != nil {
			t.Fatal(err)
		}
		checkedSheets(t, j, p)
		if len(p.Sheets) != c.most || p.LeastSheets < c.leastBound || c.full && p.Proven {
			t.Errorf("%s: %d sheets, bound %d, proven %v", c.name, len(p.Sheets), p.LeastSheets, p.Proven)
		}
	}
}

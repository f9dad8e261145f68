package cutting

import (
	"context"
	"math"
	"math/rand/v2"
	"slices"
	"testing"
	"time"
)

// checked asks of a plan that each piece is cut once, on a bar long enough, with the kerf between pieces, from no more
// bars than there are, and that its sums are right.
func checked(t *testing.T, j *Job, p *Plan) {
	t.Helper()
	cut := make([]int, len(j.Pieces))
	bars := make([]int, len(j.Stock))
	cost, length, pieces := 0.0, 0.0, 0.0
	for _, c := range p.Bars {
		bars[c.Stock]++
		b := j.Stock[c.Stock]
		cost, length = cost+b.Price, length+b.Length
		end := j.Trim
		for i, at := range c.Pieces {
			if i > 0 {
				end += j.Kerf
			}
			if at.From < end-1e-9 {
				t.Fatalf("piece %d begins at %v, the one before ends at %v", i, at.From, end)
			}
			cut[at.Piece]++
			end = at.From + j.Pieces[at.Piece].Length
			pieces += j.Pieces[at.Piece].Length
		}
		if end > b.Length+1e-9 {
			t.Fatalf("a bar of %v is cut to %v", b.Length, end)
		}
		if left := math.Max(0, b.Length-end-j.Kerf); math.Abs(left-c.Offcut) > 1e-6 {
			t.Fatalf("the offcut is %v, not %v", left, c.Offcut)
		}
	}
	for i, x := range j.Pieces {
		if cut[i]+p.Missing[i] != x.Count {
			t.Fatalf("piece %d: %d cut and %d missing of %d", i, cut[i], p.Missing[i], x.Count)
		}
	}
	for k, b := range j.Stock {
		if b.Count != Any && bars[k] > b.Count {
			t.Fatalf("%d bars of %s are cut, there are %d", bars[k], b.Name, b.Count)
		}
	}
	if math.Abs(cost-p.Cost) > 1e-6 || math.Abs(length-p.Length) > 1e-6 || length > 0 && math.Abs(1-pieces/length-p.Waste) > 1e-9 {
		t.Fatalf("sums %v, %v, %v are not %v, %v", p.Cost, p.Length, p.Waste, cost, length)
	}
	if p.CostBound > p.Cost+1e-6 || p.LengthBound > p.Length+1e-6 || p.LeastBars > len(p.Bars) {
		t.Fatalf("bounds %v, %v, %d pass the plan's %v, %v, %d", p.CostBound, p.LengthBound, p.LeastBars, p.Cost, p.Length, len(p.Bars))
	}
}

// published is a list of 13 lengths, mm, from bars of 5600: 73 bars are needed, by the linear bound of 72.92. Source: the
// standard example of the cutting-stock problem in the literature.
var published = [][2]int{{1380, 22}, {1520, 25}, {1560, 12}, {1710, 14}, {1820, 18}, {1880, 18}, {1930, 20}, {2000, 10}, {2050, 12},
	{2100, 14}, {2140, 16}, {2150, 18}, {2200, 20}}

func TestPublishedInstance(t *testing.T) {
	j := &Job{Stock: []Bar{{Name: "bar", Length: 5.6, Count: Any}}}
	for _, x := range published {
		j.Pieces = append(j.Pieces, Piece{Length: float64(x[0]) / 1000, Count: x[1]})
	}
	begin := time.Now()
	p, err := Solve(context.Background(), j)
	if err != nil {
		t.Fatal(err)
	}
	checked(t, j, p)
	if len(p.Bars) != 73 || p.LeastBars != 73 || !p.Proven {
		t.Errorf("%d bars, at least %d, proven %v; want 73, 73, true", len(p.Bars), p.LeastBars, p.Proven)
	}
	t.Log(time.Since(begin))
}

// Plans of random lists hold, whatever the stock; and a second solving gives the same plan.
func TestRandomListsHold(t *testing.T) {
	r := rand.New(rand.NewPCG(12, 1))
	n := 1000
	if testing.Short() {
		n = 100
	}
	proven := 0
	for range n {
		j := randomJob(r)
		p, err := Solve(context.Background(), j)
		if err != nil {
			t.Fatal(err)
		}
		checked(t, j, p)
		if p.Proven {
			proven++
		}
		again, _ := Solve(context.Background(), j)
		if p.Proven && !slices.EqualFunc(p.Bars, again.Bars, func(a, b Cut) bool {
			return a.Stock == b.Stock && slices.Equal(a.Pieces, b.Pieces)
		}) {
			t.Fatalf("two plans of one job differ: %+v and %+v", p.Bars, again.Bars)
		}
	}
	t.Logf("%d of %d proven", proven, n)
	if proven < n*98/100 {
		t.Errorf("only %d of %d are proven", proven, n)
	}
}

// randomJob is a list such as a shop has: some lengths sold, some offcuts on hand.
func randomJob(r *rand.Rand) *Job {
	j := &Job{Kerf: []float64{0, 0.0015, 0.003}[r.IntN(3)], Trim: []float64{0, 0, 0.01}[r.IntN(3)], Limit: time.Second}
	for _, l := range []float64{2.4, 3, 3.6, 4.2} {
		if r.IntN(2) == 0 {
			j.Stock = append(j.Stock, Bar{Length: l, Count: Any, Price: math.Round(100*l*(1.5+r.Float64())) / 100})
		}
	}
	for range r.IntN(4) {
		j.Stock = append(j.Stock, Bar{Length: 0.3 + math.Round(2000*r.Float64())/1000, Count: 1 + r.IntN(2)})
	}
	if len(j.Stock) == 0 {
		j.Stock = []Bar{{Length: 2.4, Count: Any}}
	}
	for range 2 + r.IntN(9) {
		j.Pieces = append(j.Pieces, Piece{Length: 0.1 + math.Round(1700*r.Float64())/1000, Count: 1 + r.IntN(6)})
	}
	return j
}

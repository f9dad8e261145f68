package cutting

import (
	"context"
	"encoding/json"
	"math"
	"math/rand/v2"
	"os"
	"reflect"
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
		if left := max(0, b.Length-end-j.Kerf); math.Abs(left-c.Offcut) > 1e-6 {
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

// many is how many of a number of random cases are tried: all with GLADEMBER_LONG, else a third.
func many(n int) int {
	if os.Getenv("GLADEMBER_LONG") != "" {
		return n
	}
	return n / 3
}

// Plans of random lists hold, whatever the stock; and a second solving gives the same plan.
func TestRandomListsHold(t *testing.T) {
	r := rand.New(rand.NewPCG(12, 1))
	n := 120
	switch {
	case os.Getenv("GLADEMBER_LONG") != "":
		n = 3000
	case testing.Short():
		n = 40
	}
	for i := range n {
		j := randomJob(r)
		p, err := Solve(context.Background(), j)
		if err != nil {
			t.Fatal(err)
		}
		checked(t, j, p)
		if i%10 > 0 {
			continue
		}
		again, _ := Solve(context.Background(), j)
		if p.Proven && again.Proven && !slices.EqualFunc(p.Bars, again.Bars, func(a, b Cut) bool {
			return a.Stock == b.Stock && slices.Equal(a.Pieces, b.Pieces)
		}) {
			t.Fatalf("two plans of one job differ: %+v and %+v", p.Bars, again.Bars)
		}
	}
}

// Most such lists are proven within the nodes that a search may visit; how long that takes is in docs/BENCHMARKS.md.
func TestMostListsAreProven(t *testing.T) {
	if testing.Short() {
		t.Skip("the race detector is too slow for the time that a plan may take")
	}
	r := rand.New(rand.NewPCG(12, 2))
	proven := 0
	lists := many(45)
	for range lists {
		j := randomJob(r)
		j.Limit = time.Minute
		if p, err := Solve(context.Background(), j); err == nil && p.Proven {
			proven++
		}
	}
	t.Logf("%d of %d proven", proven, lists)
	if proven < lists*8/10 {
		t.Errorf("only %d of %d lists are proven", proven, lists)
	}
}

// randomJob is a list such as a shop has: some lengths sold, some offcuts on hand.
func randomJob(r *rand.Rand) *Job {
	j := &Job{Kerf: []float64{0, 0.0015, 0.003}[r.IntN(3)], Trim: []float64{0, 0, 0.01}[r.IntN(3)], Limit: 60 * time.Millisecond}
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

// Fifty shop lists with offcuts on hand, several lengths sold and prices: cost, and length opened at that cost, are those of
// GLPK 5.0's integer solver (testdata/bars.py, Debian's glpk-utils). Each may take the nodes of a search, however busy the machine.
func TestAgainstIntegerProgram(t *testing.T) {
	if testing.Short() {
		t.Skip("the race detector is too slow for the time that a plan may take")
	}
	b, err := os.ReadFile("testdata/bars.json")
	if err != nil {
		t.Fatal(err)
	}
	var lists []struct {
		Kerf  float64
		Stock []struct {
			Length, Price float64
			Count         *int
		}
		Pieces       [][2]float64
		Cost, Length float64
	}
	if err := json.Unmarshal(b, &lists); err != nil || len(lists) != 50 {
		t.Fatalf("%d lists, %v", len(lists), err)
	}
	unproven, slowest, begun := 0, time.Duration(0), time.Now()
	for i, l := range lists {
		j := &Job{Kerf: l.Kerf / 1e4}
		for _, s := range l.Stock {
			n := Any
			if s.Count != nil {
				n = *s.Count
			}
			j.Stock = append(j.Stock, Bar{Length: s.Length / 1e4, Count: n, Price: s.Price / 100})
		}
		for _, p := range l.Pieces {
			j.Pieces = append(j.Pieces, Piece{Length: p[0] / 1e4, Count: int(p[1])})
		}
		j.Limit = time.Minute
		begin := time.Now()
		p, err := Solve(context.Background(), j)
		if err != nil {
			t.Fatal(err)
		}
		slowest = max(slowest, time.Since(begin))
		checked(t, j, p)
		if math.Abs(100*p.Cost-l.Cost) > 1e-6 || math.Abs(1e4*p.Length-l.Length) > 1e-6 {
			t.Errorf("list %d: cost %.0f and length %.0f, GLPK has %.0f and %.0f", i, 100*p.Cost, 1e4*p.Length, l.Cost, l.Length)
		}
		if !p.Proven {
			unproven++
		}
	}
	t.Logf("%d not proven, slowest %v, mean %v", unproven, slowest, time.Since(begun)/time.Duration(len(lists)))
	if unproven > 1 {
		t.Errorf("%d of 50 are not proven", unproven)
	}
}

// Cut pieces stay where they are; the rest is planned around them, and a plan before is kept where that costs nothing.
func TestKeptBarsStay(t *testing.T) {
	j := &Job{Kerf: 0.003, Stock: []Bar{{Name: "8 ft", Length: 2.4384, Count: Any, Price: 4}},
		Pieces: []Piece{
			{Name: "side", Length: 1.5, Count: 2},
			{Name: "top", Length: 0.8, Count: 2},
			{Name: "batten", Length: 0.6, Count: 5},
		}}
	p, err := Solve(context.Background(), j)
	if err != nil {
		t.Fatal(err)
	}
	again := *j
	again.Keep = p.Bars[:1]
	q, err := Solve(context.Background(), &again)
	if err != nil {
		t.Fatal(err)
	}
	checked(t, &again, q)
	if !reflect.DeepEqual(q.Bars[0], p.Bars[0]) || q.Cost != p.Cost {
		t.Errorf("the bar that is cut went from %+v to %+v, the cost from %v to %v", p.Bars[0], q.Bars[0], p.Cost, q.Cost)
	}
	// One batten more: all bars of the plan before that can be are kept.
	more := *j
	more.Pieces = slices.Clone(j.Pieces)
	more.Pieces[2].Count++
	more.Before = p
	m, err := Solve(context.Background(), &more)
	if err != nil {
		t.Fatal(err)
	}
	checked(t, &more, m)
	same := 0
	for _, c := range p.Bars {
		grown := func(d Cut) bool { return len(d.Pieces) >= len(c.Pieces) && d.Pieces[0].Piece == c.Pieces[0].Piece }
		if slices.ContainsFunc(m.Bars, grown) {
			same++
		}
	}
	if same < len(p.Bars) {
		t.Errorf("of %d bars %d are kept for one batten more: %+v, then %+v", len(p.Bars), same, p.Bars, m.Bars)
	}
}

// Pieces that no bar is long enough for are told, the rest is planned.
func TestPiecesThatDoNotFit(t *testing.T) {
	j := &Job{
		Stock:  []Bar{{Name: "offcut", Length: 1, Count: 1}},
		Pieces: []Piece{{Name: "long", Length: 1.2, Count: 2}, {Name: "short", Length: 0.4, Count: 3}},
	}
	p, err := Solve(context.Background(), j)
	if err != nil {
		t.Fatal(err)
	}
	checked(t, j, p)
	if p.Missing[0] != 2 || p.Missing[1] != 1 || len(p.Bars) != 1 {
		t.Errorf("missing %v on %d bars; want two long, one short, one bar", p.Missing, len(p.Bars))
	}
}

// Bounds move as they must: more pieces, a wider kerf or a dearer bar never lower the least cost; an offcut on hand never
// raises it.
func TestBarsAreMonotone(t *testing.T) {
	r := rand.New(rand.NewPCG(8, 8))
	for range many(30) {
		j := randomJob(r)
		for i := range j.Stock {
			j.Stock[i].Price += 1
		}
		if j.Stock[0].Count != Any {
			continue
		}
		solve := func(edit func(x *Job)) (*Plan, bool) {
			x := *j
			x.Pieces, x.Stock = slices.Clone(j.Pieces), slices.Clone(j.Stock)
			edit(&x)
			p, err := Solve(context.Background(), &x)
			if err != nil {
				t.Fatal(err)
			}
			return p, p.Proven && len(p.Missing) == 0
		}
		base, ok := solve(func(*Job) {})
		if !ok {
			continue
		}
		for what, edit := range map[string]func(x *Job){
			"one more piece": func(x *Job) { x.Pieces[0].Count++ },
			"a wider kerf":   func(x *Job) { x.Kerf += 0.002 },
			"dearer bars":    func(x *Job) { x.Stock[0].Price += 2 },
		} {
			if p, ok := solve(edit); ok && p.Cost < base.Cost-1e-6 {
				t.Errorf("%s: the cost falls from %v to %v", what, base.Cost, p.Cost)
			}
		}
		if p, ok := solve(func(x *Job) { x.Stock = append(x.Stock, Bar{Length: 1.2, Count: 2}) }); ok && p.Cost > base.Cost+1e-6 {
			t.Errorf("offcuts on hand: the cost rises from %v to %v", base.Cost, p.Cost)
		}
	}
}

// The limit of time is kept, and what is told then is a plan with a bound under it.
func TestLimitIsKept(t *testing.T) {
	r := rand.New(rand.NewPCG(6, 6))
	j := &Job{Kerf: 0.003, Limit: 300 * time.Millisecond,
		Stock: []Bar{{Length: 2.4, Count: Any, Price: 4}, {Length: 3.6, Count: Any, Price: 6.3}}}
	for range 300 {
		j.Pieces = append(j.Pieces, Piece{Length: 0.2 + math.Round(16000*r.Float64())/10000, Count: 1 + r.IntN(3)})
	}
	begin := time.Now()
	p, err := Solve(context.Background(), j)
	if err != nil {
		t.Fatal(err)
	}
	if took := time.Since(begin); took > 10*time.Second {
		t.Errorf("300 ms were allowed, it took %v", took)
	}
	checked(t, j, p)
	if p.CostBound <= 0 || p.CostBound > p.Cost {
		t.Errorf("the bound is %v for a cost of %v", p.CostBound, p.Cost)
	}
}

// Pieces that are cut first lie at the first end of their bars, and their bars come first; what is bought stays.
func TestFirstPiecesComeFirst(t *testing.T) {
	r := rand.New(rand.NewPCG(9, 9))
	for range many(200) {
		j := &Job{
			Kerf:  0.003,
			Stock: []Bar{{Length: 2.4, Count: Any, Price: 2.4}, {Length: 3, Count: Any, Price: 3}},
			Limit: 20 * time.Millisecond,
		}
		for range 2 + r.IntN(5) {
			j.Pieces = append(j.Pieces, Piece{Length: 0.2 + 1.5*r.Float64(), Count: 1 + r.IntN(4), First: r.IntN(3) == 0})
		}
		p, err := Solve(context.Background(), j)
		if err != nil {
			t.Fatal(err)
		}
		checked(t, j, p)
		plain := *j
		plain.Pieces = slices.Clone(j.Pieces)
		for i := range plain.Pieces {
			plain.Pieces[i].First = false
		}
		q, err := Solve(context.Background(), &plain)
		if err != nil {
			t.Fatal(err)
		}
		if p.Proven && q.Proven && math.Abs(p.Cost-q.Cost) > 1e-9 {
			t.Errorf("cut first it costs %v, else %v", p.Cost, q.Cost)
		}
		over := false // past the last bar with such a piece
		for _, c := range p.Bars {
			past, any := false, false
			for _, at := range c.Pieces {
				first := j.Pieces[at.Piece].First
				if any = any || first; first && past {
					t.Fatal("a piece that is cut first lies behind another")
				}
				past = past || !first
			}
			if any && over {
				t.Fatal("a bar with such a piece comes after one without")
			}
			over = over || !any
		}
	}
}

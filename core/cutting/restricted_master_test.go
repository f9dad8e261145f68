package cutting

import (
	"context"
	"math"
	"math/rand/v2"
	"slices"
	"testing"

	"gonum.org/v1/gonum/mat"
	"gonum.org/v1/gonum/optimize/convex/lp"
)

// small is a random problem whose patterns can all be listed.
func small(r *rand.Rand) *problem {
	p := &problem{ctx: context.Background(), deep: 1 << 30, quick: 1 << 20}
	for range 2 + r.IntN(4) {
		p.lengths = append(p.lengths, 100+r.IntN(700))
		p.want = append(p.want, 1+r.IntN(6))
	}
	slices.SortFunc(p.lengths, func(a, b int) int { return b - a })
	p.lengths = slices.Compact(p.lengths)
	p.want = p.want[:len(p.lengths)]
	for range 1 + r.IntN(3) {
		p.stocks = append(p.stocks, stock{room: 800 + r.IntN(900), count: Any, cost: 1 + 9*r.Float64()})
	}
	return p
}

// every lists all ways to cut a bar, full or not.
func (p *problem) every(room int) (out [][]int) {
	takes := make([]int, len(p.lengths))
	var down func(k, left int)
	down = func(k, left int) {
		if k == len(takes) {
			out = append(out, slices.Clone(takes))
			return
		}
		for n := 0; n <= p.want[k] && n*p.lengths[k] <= left; n++ {
			takes[k] = n
			down(k+1, left-n*p.lengths[k])
		}
		takes[k] = 0
	}
	down(0, room)
	return out
}

// The knapsack finds the most that any way to cut a bar is worth, and never more than it holds.
func TestKnapsackAgainstAllWays(t *testing.T) {
	r := rand.New(rand.NewPCG(1, 1))
	for range 300 {
		p := small(r)
		value := make([]float64, len(p.lengths))
		for k := range value {
			value[k] = 10*r.Float64() - 1
		}
		room := p.stocks[0].room
		want := 0.0
		for _, takes := range p.every(room) {
			v := 0.0
			for k, n := range takes {
				v += value[k] * float64(n)
			}
			want = max(want, v)
		}
		takes, got, most := p.knapsack(value, p.want, room, p.deep)
		used, sum := 0, 0.0
		for k, n := range takes {
			used, sum = used+n*p.lengths[k], sum+float64(n)*value[k]
			if n > p.want[k] {
				t.Fatalf("%d of length %d are taken, %d are wanted", n, k, p.want[k])
			}
		}
		if math.Abs(got-want) > 1e-9 || math.Abs(sum-got) > 1e-9 || used > room || most != got {
			t.Fatalf("worth %v (%v by its pieces), the best is %v; %d of %d used", got, sum, want, used, room)
		}
		// Cut short, it still tells a value that nothing can pass.
		if _, _, most := p.knapsack(value, p.want, room, 1); most < want-1e-9 {
			t.Fatalf("cut short, it says at most %v; %v is there", most, want)
		}
	}
}

// The linear bound is that of gonum's simplex over all patterns, counted stocks and a budget included.
func TestLinearBoundAgainstGonum(t *testing.T) {
	r := rand.New(rand.NewPCG(2, 2))
	for round := range 120 {
		p := small(r)
		count := p.counts()
		var columns []pattern
		for j, s := range p.stocks {
			if round%3 == 1 && j > 0 {
				p.stocks[j].count = 1 + r.IntN(3)
				count[j] = p.stocks[j].count
			}
			for _, takes := range p.every(s.room) {
				columns = append(columns, pattern{j, takes})
			}
		}
		// Standard form: patterns, then what is over for each length, then what is left of each counted stock.
		rows := len(p.lengths)
		rowOf := map[int]int{}
		for j, n := range count {
			if n != Any {
				rowOf[j] = rows
				rows++
			}
		}
		n := len(columns) + rows
		a, b, c := mat.NewDense(rows, n, nil), make([]float64, rows), make([]float64, n)
		for i, x := range columns {
			c[i] = p.stocks[x.stock].cost
			for k, v := range x.takes {
				a.Set(k, i, float64(v))
			}
			if row, counted := rowOf[x.stock]; counted {
				a.Set(row, i, 1)
			}
		}
		for k, v := range p.want {
			a.Set(k, len(columns)+k, -1)
			b[k] = float64(v)
		}
		for j, row := range rowOf {
			a.Set(row, len(columns)+row, 1)
			b[row] = float64(count[j])
		}
		want, _, err := lp.Simplex(c, a, b, 1e-10, nil)
		got, ok := newMaster(p, p.want, nil, count, math.Inf(1), nil).solve()
		switch {
		case err == lp.ErrInfeasible:
			if ok {
				t.Fatalf("round %d: a plan of %v where gonum finds none", round, got)
			}
		case err != nil:
			continue // gonum's own trouble with equal rows
		case !ok || math.Abs(got-want) > 1e-6*max(1, want):
			t.Fatalf("round %d: bound %v (%v), gonum has %v", round, got, ok, want)
		}
	}
}

// Every fullest way to cut a bar with the longest piece is called back once, and no other.
func TestMaximalWays(t *testing.T) {
	r := rand.New(rand.NewPCG(3, 3))
	for range 200 {
		p := small(r)
		room := p.stocks[0].room
		seen := map[string]bool{}
		p.maximal(0, p.want, room, room, func(takes []int, waste int) {
			used := 0
			for k, n := range takes {
				used += n * p.lengths[k]
			}
			key := string(state(takes, nil))
			if seen[key] || used+waste != room || takes[0] == 0 {
				t.Fatalf("%v comes with waste %d of %d", takes, waste, room)
			}
			seen[key] = true
		})
		n := 0
		for _, takes := range p.every(room) {
			left, full := room, true
			for k, v := range takes {
				left -= v * p.lengths[k]
			}
			for k, v := range takes {
				full = full && (v == p.want[k] || p.lengths[k] > left)
			}
			if full && takes[0] > 0 {
				n++
			}
		}
		if n != len(seen) {
			t.Fatalf("%d ways are called back, there are %d", len(seen), n)
		}
	}
}

// Packing on given bars agrees with trying every order of pieces, for lists so small that this can be done.
func TestPackingAgainstAllOrders(t *testing.T) {
	r := rand.New(rand.NewPCG(4, 4))
	fitted, not := 0, 0
	for range 400 {
		p := small(r)
		for k := range p.want {
			p.want[k] = min(p.want[k], 2)
		}
		bars := make([]int, len(p.stocks))
		var rooms []int
		for j := range bars {
			bars[j] = r.IntN(3)
			for range bars[j] {
				rooms = append(rooms, p.stocks[j].room)
			}
		}
		var pieces []int
		for k, n := range p.want {
			for range n {
				pieces = append(pieces, p.lengths[k])
			}
		}
		var fits func(i int) bool
		fits = func(i int) bool {
			if i == len(pieces) {
				return true
			}
			for b := range rooms {
				if rooms[b] >= pieces[i] {
					rooms[b] -= pieces[i]
					ok := fits(i + 1)
					rooms[b] += pieces[i]
					if ok {
						return true
					}
				}
			}
			return false
		}
		want := fits(0)
		s := search{p: p}
		plan, sure := s.pack(bars)
		if got := plan != nil; !sure || got != want {
			t.Fatalf("pieces %v on %v: fits %v, sure %v; by all orders %v", pieces, bars, got, sure, want)
		}
		if want {
			fitted++
		} else {
			not++
		}
	}
	if fitted < 40 || not < 40 {
		t.Errorf("%d fitted and %d did not: the lists are one-sided", fitted, not)
	}
}

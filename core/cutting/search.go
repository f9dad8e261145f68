package cutting

import (
	"cmp"
	"math"
	"math/rand/v2"
	"slices"
)

// search looks for the best plan in whole bars.
type search struct {
	p *problem
	// best is the best plan so far.
	best []pattern
	// cost is what it costs; +Inf before there is one.
	cost float64
	// bound is a cost below which no plan can be.
	bound float64
	// proven says that best meets it.
	proven bool
	// leastBars is a number of bars below which no plan can be.
	leastBars int
	// pool holds the patterns made on the way.
	pool []pattern
	// nodes counts the parts of the tree that were looked at.
	nodes int
	// budget is what a plan may cost to buy; +Inf without one.
	budget float64
}

// alike is how near two costs must be to be one, as a share.
const alike = 1e-9

// costOf is what patterns cost.
// It is in what the present search makes small: money, or m.
func (p *problem) costOf(ps []pattern) (v float64) {
	for _, x := range ps {
		v += p.stocks[x.stock].cost
	}
	return v
}

// spent is what patterns cost to buy.
func (p *problem) spent(ps []pattern) (v float64) {
	for _, x := range ps {
		v += p.stocks[x.stock].price
	}
	return v
}

// run searches for a plan that costs no more than a budget; kept are patterns of
// a plan before, which is preferred among equals.
// It stops at the first plan that meets the bound. The order is: greedy plans,
// the linear bound, plans rounded from it, more greedy plans, and the tree.
func (s *search) run(kept []pattern, budget float64) {
	p := s.p
	if s.best == nil {
		s.cost = math.Inf(1)
	}
	s.budget = budget
	if !slices.ContainsFunc(p.want, func(n int) bool { return n > 0 }) {
		s.cost, s.proven = 0, true
		return
	}
	count := make([]int, len(p.stocks))
	for j, x := range p.stocks {
		count[j] = x.count
	}
	p.findTotals(count)
	s.bound = p.next(p.material(count))
	s.leastBars = p.fewestByLength()
	s.offer(p.greedyPlan(nil))
	s.offer(s.keeping(kept, count))
	s.values(200)
	m := newMaster(p, p.want, nil, count, budget, slices.Clone(s.best))
	bound, ok := m.solve()
	s.pool = m.pool
	s.leastBars = max(s.leastBars, s.fewest(count))
	s.bound = max(s.bound, p.next(bound))
	if !ok {
		s.proven = s.done(s.bound)
		return
	}
	s.round(m, p.want, count, nil)
	if !s.done(s.bound) {
		s.values(2000)
	}
	if s.proven = s.done(s.bound); !s.proven {
		s.bound = s.tree(count)
		s.proven = s.done(s.bound)
	}
	if again := s.keeping(kept, count); len(again) > 0 && p.costOf(again) <= s.cost*(1+alike) && p.spent(again) <= budget+1e-6 {
		s.best = again
	}
	s.tidy()
}

// done says whether no plan can be better than the best by a bound.
func (s *search) done(bound float64) bool { return s.cost <= bound*(1+alike)+1e-12 }

// offer takes a plan if it is better; nil is no plan.
// A plan over the budget is none.
func (s *search) offer(ps []pattern) {
	if ps == nil {
		return
	}
	if c := s.p.costOf(ps); c < s.cost*(1-alike) && s.p.spent(ps) <= s.budget+1e-6 {
		s.best, s.cost = ps, c
	}
}

// material is what the length of all pieces costs on the bars that are the
// cheapest for their length, parts of bars allowed.
// It needs no linear program, and is there when time runs out at once.
func (p *problem) material(count []int) (v float64) {
	need := 0.0
	for k, n := range p.want {
		need += float64(n) * float64(p.lengths[k])
	}
	order := make([]int, len(p.stocks))
	for j := range order {
		order[j] = j
	}
	per := func(j int) float64 { return p.stocks[j].cost / max(1, float64(p.stocks[j].room)) }
	slices.SortFunc(order, func(a, b int) int { return cmp.Compare(per(a), per(b)) })
	for _, j := range order {
		n := need
		if count[j] != Any {
			n = min(n, float64(count[j])*float64(p.stocks[j].room))
		}
		v, need = v+n*per(j), need-n
	}
	return v
}

// fewestByLength is the number of the longest bars that have the pieces' length.
func (p *problem) fewestByLength() int {
	need, longest := 0.0, 1
	for k, n := range p.want {
		need += float64(n) * float64(p.lengths[k])
	}
	for _, s := range p.stocks {
		if s.count != 0 {
			longest = max(longest, s.room)
		}
	}
	return int(math.Ceil(need/float64(longest) - 1e-9))
}

// fewest is a number of bars below which no plan can be: the linear bound with
// each bar counted as one.
// It counts for every plan, whatever it costs.
func (s *search) fewest(count []int) int {
	q := *s.p
	q.stocks = slices.Clone(s.p.stocks)
	for j := range q.stocks {
		q.stocks[j].cost = 1
	}
	q.budget = false
	m := newMaster(&q, q.want, nil, count, 0, s.pool)
	bound, _ := m.solve()
	return int(math.Ceil(bound - 1e-6))
}

// findTotals lists the totals that whole bars can have, if they are not too many.
// A bound between two of them may be rounded up to the higher one, which is
// what proves most plans.
func (p *problem) findTotals(count []int) {
	const most = 200_000
	pieces := 0
	for _, n := range p.want {
		pieces += n
	}
	totals := []float64{0}
	for j, x := range p.stocks {
		n := pieces
		if count[j] != Any {
			n = min(n, count[j])
		}
		if len(totals)*(n+1) > 20*most {
			return
		}
		var next []float64
		for i := range n + 1 {
			for _, v := range totals {
				next = append(next, v+float64(i)*x.cost)
			}
		}
		slices.Sort(next)
		next = slices.CompactFunc(next, func(a, b float64) bool { return math.Abs(b-a) <= 1e-12*max(1, b) })
		if len(next) > most {
			return
		}
		totals = next
	}
	p.totals = totals
}

// next rounds a bound up to the next total that whole bars can have.
// Rounding of sums may have put a total a little under its bound, so that a
// billionth is allowed for.
func (p *problem) next(bound float64) float64 {
	if p.totals == nil {
		return bound
	}
	// A total just under the bound may be the bound itself, rounded.
	low := bound - 1e-9*max(1, bound)
	if i, _ := slices.BinarySearch(p.totals, low); i < len(p.totals) {
		return max(bound, p.totals[i])
	}
	return bound
}

// greedy fills one bar after another with the most value, by default its length;
// rest is what it could not place, nil where all is placed.
func (p *problem) greedy(value []float64) (ps []pattern, rest []int) {
	return p.fill(value, slices.Clone(p.want), p.counts())
}

// counts are the bars there are, by stock.
func (p *problem) counts() []int {
	out := make([]int, len(p.stocks))
	for j, s := range p.stocks {
		out[j] = s.count
	}
	return out
}

// greedyPlan is a greedy plan, nil where it places not everything.
func (p *problem) greedyPlan(value []float64) []pattern {
	ps, rest := p.greedy(value)
	if rest != nil {
		return nil
	}
	return ps
}

// fill places what is wanted on the bars there are: each bar is the one on which
// a coin brings the most value.
// rest is what no bar was left for, nil where all is placed.
func (p *problem) fill(value []float64, want, count []int) (ps []pattern, rest []int) {
	if value == nil {
		value = make([]float64, len(p.lengths))
		for k, l := range p.lengths {
			value[k] = float64(l) * tick
		}
	}
	left := 0
	for _, n := range want {
		left += n
	}
	for left > 0 {
		steps := p.quick
		if p.ctx.Err() != nil { // no time left: just finish
			steps = min(steps, len(want))
		}
		best, most := pattern{stock: -1}, 0.0
		for j, s := range p.stocks {
			if count[j] == 0 {
				continue
			}
			takes, v, _ := p.knapsack(value, want, s.room, steps)
			if per := v / max(1e-12, s.cost+1e-6*s.full); v > 0 && per > most*(1+1e-12) {
				best, most = pattern{j, takes}, per
			}
		}
		if best.stock < 0 {
			return ps, want
		}
		// The same pattern again and again, as long as it fits.
		times := left
		taken := 0
		for k, n := range best.takes {
			if n > 0 {
				times = min(times, want[k]/n)
				taken += n
			}
		}
		if count[best.stock] != Any {
			times = min(times, count[best.stock])
			count[best.stock] -= times
		}
		for range times {
			ps = append(ps, best)
		}
		for k, n := range best.takes {
			want[k] -= n * times
		}
		left -= taken * times
	}
	return ps, nil
}

// values makes greedy plans with values that follow from those before: a length
// that was placed with waste beside it becomes worth more (sequential value
// correction, Mukhacheva and Zalgaller 1993).
// The steps are of chance with a fixed seed, which keeps the plans of a job the
// same from one time to the next.
func (s *search) values(rounds int) {
	p := s.p
	r := rand.New(rand.NewPCG(7, uint64(len(p.lengths))))
	value := make([]float64, len(p.lengths))
	for k, l := range p.lengths {
		value[k] = float64(l) * tick
	}
	if len(p.lengths) > manyLengths { // each round takes a second there
		rounds = min(rounds, 3)
	}
	for range rounds {
		if s.proven || s.bound > 0 && s.done(s.bound) || p.ctx.Err() != nil {
			return
		}
		ps, rest := p.greedy(value)
		if rest == nil {
			s.offer(ps)
		}
		for _, x := range ps {
			used := 0
			for k, n := range x.takes {
				used += n * p.lengths[k]
			}
			room := p.stocks[x.stock].room
			for k, n := range x.takes {
				if n == 0 {
					continue
				}
				l := float64(p.lengths[k]) * tick
				fresh := math.Pow(l, 1.02+0.06*r.Float64()) * float64(room) / float64(max(1, used))
				value[k] += (fresh - value[k]) * 0.5 * r.Float64()
			}
		}
		for k := range rest {
			if rest[k] > 0 {
				value[k] *= 1.1
			}
		}
	}
}

// round makes whole plans of a linear one: its whole parts are taken, what is
// left is filled greedily by its prices and by length; and the fullest pattern is
// taken up and the rest solved again.
// m is the solved master of want and count, and made the patterns taken
// already.
func (s *search) round(m *master, want, count []int, made []pattern) {
	p := s.p
	for depth := 0; ; depth++ {
		rest, bars := slices.Clone(want), slices.Clone(count)
		ps := slices.Clone(made)
		take := func(x *pattern, times int) {
			for k, n := range x.takes {
				if n > 0 {
					times = min(times, rest[k]/n)
				}
			}
			if bars[x.stock] != Any {
				times = min(times, bars[x.stock])
			}
			for range times {
				ps = append(ps, *x)
			}
			for k, n := range x.takes {
				rest[k] -= n * times
			}
			if bars[x.stock] != Any {
				bars[x.stock] -= times
			}
		}
		order := make([]int, 0, len(m.basic))
		for i, c := range m.basic {
			if c.pattern != nil && m.x[i] > 1e-6 {
				order = append(order, i)
			}
		}
		slices.SortStableFunc(order, func(a, b int) int { return cmp.Compare(m.x[b]-math.Floor(m.x[b]), m.x[a]-math.Floor(m.x[a])) })
		for _, i := range order {
			take(m.basic[i].pattern, int(math.Floor(m.x[i]+1e-6)))
		}
		whole := len(ps) - len(made)
		y := m.duals()[:len(want)]
		// Once by the prices of the linear plan, once by length.
		for _, value := range [][]float64{y, nil} {
			more, left := p.fill(value, slices.Clone(rest), slices.Clone(bars))
			if left == nil {
				s.offer(append(slices.Clone(ps), more...))
			}
		}
		if s.done(s.bound) || p.ctx.Err() != nil || depth > 200 || len(order) == 0 {
			return
		}
		if whole == 0 {
			take(m.basic[order[0]].pattern, 1)
			if len(ps) == len(made) {
				return
			}
		}
		made, want, count = ps, rest, bars
		if !slices.ContainsFunc(want, func(n int) bool { return n > 0 }) {
			s.offer(made)
			return
		}
		m = newMaster(p, want, nil, count, s.budget-p.spent(made), s.pool)
		_, ok := m.solve()
		s.pool = m.pool
		if !ok {
			return
		}
	}
}

// node is a part of the tree: plans with so many bars of each stock, at least and
// at most.
type node struct {
	// least and most bound the bars of each stock.
	least, most []int
	// bound is a cost below which no plan within these can be.
	bound float64
}

// tree searches by how many bars of each stock are taken, since these alone decide
// what a plan costs: the part with the lowest bound first. Where the linear plan
// takes whole bars, [search.pack] says whether the pieces fit on exactly these. It
// returns a cost below which there is no plan.
// The number of bars of each stock is a handful of whole numbers, so that the
// tree stays small where one over patterns would not.
func (s *search) tree(count []int) float64 {
	p := s.p
	open := []node{{make([]int, len(count)), slices.Clone(count), s.bound}}
	for len(open) > 0 {
		at := 0
		for i := range open {
			if open[i].bound < open[at].bound {
				at = i
			}
		}
		n := open[at]
		if s.done(n.bound) {
			return s.cost
		}
		if p.ctx.Err() != nil {
			return n.bound
		}
		open = slices.Delete(open, at, at+1)
		s.nodes++
		m := newMaster(p, p.want, n.least, n.most, s.budget, s.pool)
		bound, ok := m.solve()
		s.pool = m.pool
		if !ok {
			if p.ctx.Err() != nil {
				return n.bound
			}
			continue
		}
		if n.bound = max(n.bound, p.next(bound)); s.done(n.bound) {
			continue
		}
		bars := m.bars()
		split, off := -1, 1e-6
		for j, v := range bars {
			if d := math.Abs(v - math.Round(v)); d > off {
				split, off = j, d
			}
		}
		if split >= 0 {
			low, high := n.halves(split, int(math.Floor(bars[split])))
			open = append(open, low, high)
			continue
		}
		// The linear plan takes whole bars of each stock: do the pieces fit on
		// them?
		whole := make([]int, len(bars))
		for j, v := range bars {
			whole[j] = int(math.Round(v))
		}
		plan, proven := s.pack(whole)
		if s.offer(plan); plan == nil && !proven {
			return n.bound
		}
		if s.done(n.bound) {
			continue
		}
		// Not these bars: each way in which others differ from them.
		for j := range whole {
			if n.least[j] < whole[j] {
				c := n.copy()
				c.most[j] = whole[j] - 1
				open = append(open, c)
			}
			if n.most[j] == Any || n.most[j] > whole[j] {
				c := n.copy()
				c.least[j] = whole[j] + 1
				open = append(open, c)
			}
			n.least[j], n.most[j] = whole[j], whole[j]
		}
	}
	return s.cost
}

// copy is a node with bounds of its own.
func (n *node) copy() node { return node{slices.Clone(n.least), slices.Clone(n.most), n.bound} }

// halves splits a node at a number of bars of a stock.
// The lower half has at most so many, the upper one more.
func (n *node) halves(j, at int) (low, high node) {
	low, high = n.copy(), n.copy()
	low.most[j], high.least[j] = at, at+1
	return low, high
}

// packLimit is how many steps a packing may take before it is given up.
const packLimit = 400_000

// pack puts all pieces on exactly these bars, or finds that they do not fit: sure
// is false where it gave up. What may be wasted in all is known, and cuts the
// search short; states that failed are remembered.
// It places the longest piece left on each kind of bar, with every way to fill
// that bar up; any plan can be put in this order.
func (s *search) pack(bars []int) (plan []pattern, sure bool) {
	p := s.p
	want, left := slices.Clone(p.want), slices.Clone(bars)
	// What these bars hold more than the pieces need, ticks.
	slack := 0
	for j, n := range bars {
		slack += n * p.stocks[j].room
	}
	for k, n := range want {
		slack -= n * p.lengths[k]
	}
	if slack < 0 {
		return nil, true
	}
	// Bars that differ only in the order in which they were filled lead to one
	// state.
	failed := map[string]bool{}
	steps := 0
	var ps []pattern
	var down func(slack int) (found, gaveUp bool)
	down = func(slack int) (found, gaveUp bool) {
		first := slices.IndexFunc(want, func(n int) bool { return n > 0 })
		if first < 0 {
			return true, false
		}
		if steps++; steps > packLimit || steps%256 == 0 && p.ctx.Err() != nil {
			return false, true
		}
		key := string(state(want, left))
		if failed[key] {
			return false, false
		}
		type child struct {
			pattern
			waste int
		}
		var all []child
		for j, n := range left {
			if n == 0 || p.lengths[first] > p.stocks[j].room {
				continue
			}
			p.maximal(first, want, p.stocks[j].room, slack, func(takes []int, waste int) {
				all = append(all, child{pattern{j, slices.Clone(takes)}, waste})
			})
		}
		slices.SortStableFunc(all, func(a, b child) int { return cmp.Compare(a.waste, b.waste) })
		for _, c := range all {
			for k, n := range c.takes {
				want[k] -= n
			}
			left[c.stock]--
			ps = append(ps, c.pattern)
			found, gaveUp = down(slack - c.waste)
			if found || gaveUp {
				return found, gaveUp
			}
			ps = ps[:len(ps)-1]
			left[c.stock]++
			for k, n := range c.takes {
				want[k] += n
			}
		}
		failed[key] = true
		return false, false
	}
	if found, gaveUp := down(slack); !found {
		return nil, !gaveUp
	}
	return slices.Clone(ps), true
}

// state is what is wanted and what is left, as a key.
// Two bytes for each count.
func state(want, left []int) []byte {
	b := make([]byte, 0, 2*(len(want)+len(left)))
	for _, list := range [][]int{want, left} {
		for _, n := range list {
			b = append(b, byte(n), byte(n>>8))
		}
	}
	return b
}

// maximal calls back with every way to fill a bar that has at least one piece of
// a length, none longer, room for no further piece, and wastes no more than slack.
// takes belongs to maximal: a caller that keeps it must copy it.
func (p *problem) maximal(first int, want []int, room, slack int, found func(takes []int, waste int)) {
	takes := make([]int, len(want))
	rest := make([]int, len(want)+1) // what the lengths from here on could fill
	for k := len(want) - 1; k >= first; k-- {
		rest[k] = rest[k+1] + want[k]*p.lengths[k]
	}
	var down func(k, left int)
	down = func(k, left int) {
		if left-rest[k] > slack {
			return
		}
		if k == len(want) {
			for i := first; i < len(want); i++ {
				if takes[i] < want[i] && p.lengths[i] <= left {
					return
				}
			}
			found(takes, left)
			return
		}
		least := 0
		if k == first {
			least = 1
		}
		for n := min(want[k], left/p.lengths[k]); n >= least; n-- {
			takes[k] = n
			down(k+1, left-n*p.lengths[k])
		}
		takes[k] = 0
	}
	down(first, room)
}

// keeping is a plan that keeps as many bars of the plan before as it can: nil
// where there was none.
// Bars are kept in their order, as long as their pieces are wanted; the rest is
// filled greedily.
func (s *search) keeping(kept []pattern, count []int) []pattern {
	if len(kept) == 0 {
		return nil
	}
	p := s.p
	want, bars := slices.Clone(p.want), slices.Clone(count)
	var ps []pattern
	for _, x := range kept {
		used, fits := 0, bars[x.stock] != 0
		for k, n := range x.takes {
			used += n * p.lengths[k]
			fits = fits && n <= want[k]
		}
		if !fits || used > p.stocks[x.stock].room {
			continue
		}
		for k, n := range x.takes {
			want[k] -= n
		}
		if bars[x.stock] != Any {
			bars[x.stock]--
		}
		ps = append(ps, x)
	}
	more, rest := p.fill(nil, want, bars)
	if rest != nil {
		return nil
	}
	return append(ps, more...)
}

// tidy puts the fullest bars of each stock first, so that the largest offcut
// comes last and stays whole.
// The last bar is the one that a builder cuts last and may leave whole for now.
func (s *search) tidy() {
	p := s.p
	used := func(x pattern) (n int) {
		for k, t := range x.takes {
			n += t * p.lengths[k]
		}
		return n
	}
	slices.SortStableFunc(s.best, func(a, b pattern) int {
		return cmp.Or(cmp.Compare(a.stock, b.stock), cmp.Compare(p.stocks[a.stock].room-used(a), p.stocks[b.stock].room-used(b)),
			slices.Compare(b.takes, a.takes))
	})
}

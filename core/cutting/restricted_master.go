package cutting

import (
	"math"
	"slices"
)

// master is the linear program of a problem: patterns are its columns. It is
// solved by the revised simplex method with the inverse of the basis kept whole,
// which at some dozens of rows is quick and steady.
type master struct {
	p *problem
	// want is the pieces still wanted, by length.
	want []int
	// count is the most bars of each stock; Any for no limit.
	count []int
	// least is the least bars of each stock; nil for none.
	least []int
	// rows counts all: pieces, least bars, most bars, budget.
	rows int
	// covers counts the rows that ask for at least so much: pieces and least
	// bars.
	covers int
	// leastOf is a stock's row for its least count, and rowOf that for its
	// most; -1 without.
	leastOf []int
	rowOf   []int // of a counted stock, its row; else -1
	// budget is what may be spent, in the row purse; -1 without.
	budget float64
	purse  int // the row of the budget; -1 without
	// inverse is that of the basis, and basic its columns.
	inverse [][]float64
	basic   []column
	// x are the values of the basic columns.
	x []float64
	// pool holds the patterns made so far, of this and of other masters.
	pool []pattern
}

// column is a pattern, or what takes up the difference in one row.
type column struct {
	// pattern is what a bar's column takes; nil for a slack or an artificial
	// one.
	pattern *pattern
	// row and sign are those of a slack or an artificial column.
	row  int
	sign float64 // +1 or -1: what a slack has in its row
	cost float64
}

// tolerance of reduced costs, as a share of the dearest bar.
const tolerance = 1e-9

// newMaster begins with artificial columns, which cost more than any bar.
// want, least and count are by length and by stock; budget counts only where
// the problem says so. pool are patterns to begin with.
func newMaster(p *problem, want, least, count []int, budget float64, pool []pattern) *master {
	m := &master{p: p, want: want, count: count, least: least, budget: budget, purse: -1, pool: pool, rows: len(want),
		leastOf: make([]int, len(count)), rowOf: make([]int, len(count))}
	asks := make([]int, 0, len(want))
	asks = append(asks, want...)
	for j := range count {
		m.leastOf[j] = -1
		if least != nil && least[j] > 0 {
			m.leastOf[j] = m.rows
			asks = append(asks, least[j])
			m.rows++
		}
	}
	m.covers = m.rows
	var allows []float64
	for j, n := range count {
		m.rowOf[j] = -1
		if n != Any {
			m.rowOf[j] = m.rows
			allows = append(allows, float64(n))
			m.rows++
		}
	}
	if p.budget {
		m.purse = m.rows
		allows = append(allows, budget)
		m.rows++
	}
	most := 0.0
	for _, s := range p.stocks {
		most = max(most, s.cost)
	}
	m.inverse, m.basic, m.x = make([][]float64, m.rows), make([]column, m.rows), make([]float64, m.rows)
	for i := range m.rows {
		m.inverse[i] = make([]float64, m.rows)
		m.inverse[i][i] = 1
		// A tiny difference between rows keeps the method from going in circles.
		nudge := 1e-9 * float64(i+1) / float64(m.rows)
		if i < m.covers {
			m.basic[i], m.x[i] = column{row: i, sign: 1, cost: 10 * max(1, most)}, float64(asks[i])+nudge
		} else {
			m.basic[i], m.x[i] = column{row: i, sign: 1}, allows[i-m.covers]+nudge
		}
	}
	return m
}

// duals are the prices that the rows have now.
// They are the costs of the basic columns times the inverse.
func (m *master) duals() []float64 {
	y := make([]float64, m.rows)
	for i, c := range m.basic {
		if c.cost == 0 {
			continue
		}
		for k, v := range m.inverse[i] {
			y[k] += c.cost * v
		}
	}
	return y
}

// vector is a column as the rows see it.
// A pattern has its pieces, a one in the rows of its stock, and its price in
// that of the budget.
func (m *master) vector(c *column) []float64 {
	v := make([]float64, m.rows)
	if c.pattern == nil {
		v[c.row] = c.sign
		return v
	}
	for k, n := range c.pattern.takes {
		v[k] = float64(n)
	}
	for _, of := range [][]int{m.leastOf, m.rowOf} {
		if r := of[c.pattern.stock]; r >= 0 {
			v[r] = 1
		}
	}
	if m.purse >= 0 {
		v[m.purse] = m.p.stocks[c.pattern.stock].price
	}
	return v
}

// priceOf is what a bar of a stock costs at the prices of the rows: its own cost
// and what it takes of its stock and of the budget.
// A price below zero means that the plan so far would be glad of the bar
// itself.
func (m *master) priceOf(j int, y []float64) float64 {
	v := m.p.stocks[j].cost
	for _, of := range [][]int{m.leastOf, m.rowOf} {
		if r := of[j]; r >= 0 {
			v -= y[r]
		}
	}
	if m.purse >= 0 {
		v -= y[m.purse] * m.p.stocks[j].price
	}
	return v
}

// enter brings a column into the basis; it reports false where it would grow
// without end, which no bar can.
// The row that leaves is the one whose column first comes to zero; of several,
// the one with the largest pivot, which rounds the least.
func (m *master) enter(c column) bool {
	a := m.vector(&c)
	d := make([]float64, m.rows)
	for i := range d {
		for k, v := range a {
			if v != 0 {
				d[i] += m.inverse[i][k] * v
			}
		}
	}
	out, least := -1, math.Inf(1)
	for i, v := range d {
		if v > 1e-9 {
			if q := m.x[i] / v; q < least-1e-13 || q < least+1e-13 && out >= 0 && v > d[out] {
				out, least = i, q
			}
		}
	}
	if out < 0 {
		return false
	}
	// The inverse is brought up to date by one elimination.
	pivot := d[out]
	for k := range m.inverse[out] {
		m.inverse[out][k] /= pivot
	}
	m.x[out] = least
	for i := range d {
		if i == out || d[i] == 0 {
			continue
		}
		for k, v := range m.inverse[out] {
			m.inverse[i][k] -= d[i] * v
		}
		m.x[i] -= d[i] * least
	}
	m.basic[out] = c
	return true
}

// integral says that no artificial column is left in the solution.
func (m *master) integral() bool {
	for i, c := range m.basic {
		if c.pattern == nil && c.cost > 0 && m.x[i] > 1e-6 {
			return false
		}
	}
	return true
}

// bound is what the prices of the rows make of the pieces wanted and the bars
// there are. It leaves out the tiny differences between rows.
func (m *master) bound(y []float64) (v float64) {
	for i, n := range m.want {
		v += max(0, y[i]) * float64(n) // a price below nothing is not fair before the end
	}
	for j := range m.count {
		if r := m.leastOf[j]; r >= 0 {
			v += y[r] * float64(m.least[j])
		}
		if r := m.rowOf[j]; r >= 0 {
			v += y[r] * float64(m.count[j])
		}
	}
	if m.purse >= 0 {
		v += y[m.purse] * m.budget
	}
	return v
}

// solve runs the method until no pattern would make the plan cheaper, and returns
// a bound that no plan of these pieces and bars can be cheaper than. ok is false
// where the bars are not enough or the time is up.
// Slacks are asked first, then patterns known already, and only then are new
// ones made, each of which takes a knapsack.
func (m *master) solve() (bound float64, ok bool) {
	most := 0.0
	for _, s := range m.p.stocks {
		most = max(most, s.cost)
	}
	small := tolerance * most
	for round := 0; ; round++ {
		y := m.duals()
		if m.p.ctx.Err() == nil {
			if c, found := m.slack(y, small); found {
				m.enter(c)
				continue
			}
			if c, found := m.known(y, small); found {
				m.enter(c)
				continue
			}
		}
		// worst is by how much prices must shrink so that no bar is worth more
		// than it costs (Farley 1990).
		entered, worst := false, 1.0
		for j := range m.count {
			if m.count[j] == 0 {
				continue
			}
			takes, value, most := m.p.knapsack(y[:len(m.want)], m.want, m.p.stocks[j].room, m.p.deep)
			price := m.priceOf(j, y)
			if price > 0 {
				worst = min(worst, price/max(price, most))
			} else if most > price+small {
				worst = 0
			}
			if value > price+small {
				m.pool = append(m.pool, pattern{j, takes})
				entered = m.enter(column{pattern: &pattern{j, slices.Clone(takes)}, cost: m.p.stocks[j].cost}) || entered
				y = m.duals()
			}
		}
		if !entered && worst > 1-1e-9 {
			return m.bound(y), m.integral()
		}
		if !entered || m.p.ctx.Err() != nil {
			// Farley's bound: prices made small enough that no bar is worth more than
			// it costs. A purse or a count makes some prices negative, which only a
			// whole solution may count.
			if m.purse < 0 && m.rows == m.covers {
				return m.bound(y) * worst, !entered && m.integral()
			}
			return 0, !entered && m.integral()
		}
	}
}

// bars are how many of each stock the solution takes.
// They are fractions, but for a plan in whole bars.
func (m *master) bars() []float64 {
	out := make([]float64, len(m.count))
	for i, c := range m.basic {
		if c.pattern != nil {
			out[c.pattern.stock] += m.x[i]
		}
	}
	return out
}

// slack finds a slack column that makes the plan cheaper.
// A cover row with a price below zero has more than it asks for, and a row of
// bars or budget with one above zero has some left.
func (m *master) slack(y []float64, small float64) (c column, found bool) {
	for i := range m.rows {
		if i < m.covers && y[i] < -small {
			return column{row: i, sign: -1}, true
		}
		if i >= m.covers && y[i] > small {
			return column{row: i, sign: 1}, true
		}
	}
	return c, false
}

// known finds the best pattern made before.
// Patterns that take more than is wanted of a piece are left out: the knapsack
// would not make them either.
func (m *master) known(y []float64, small float64) (c column, found bool) {
	best := -small
	for i := range m.pool {
		p := &m.pool[i]
		if m.count[p.stock] == 0 {
			continue
		}
		reduced := m.priceOf(p.stock, y)
		fits := true
		for k, n := range p.takes {
			if n > m.want[k] {
				fits = false
				break
			}
			reduced -= y[k] * float64(n)
		}
		if fits && reduced < best {
			best, found = reduced, true
			c = column{pattern: p, cost: m.p.stocks[p.stock].cost}
		}
	}
	if found {
		c.pattern = &pattern{c.pattern.stock, slices.Clone(c.pattern.takes)}
	}
	return c, found
}

// knapsack packs a bar with the most value: bounded by what is wanted, by depth
// first, each length as often as it fits, and cut off where even the best value
// for a length of what is left could not win. It takes so many steps at most; most
// is then a value that no packing can pass, else it is the total.
func (p *problem) knapsack(value []float64, want []int, room, cap int) (takes []int, total, most float64) {
	type item struct {
		k, length, most int
		value, per      float64
	}
	items := make([]item, 0, len(value))
	for k, v := range value {
		if v > 0 && want[k] > 0 && p.lengths[k] <= room {
			items = append(items, item{k, p.lengths[k], min(want[k], room/p.lengths[k]), v, v / float64(p.lengths[k])})
		}
	}
	slices.SortStableFunc(items, func(a, b item) int {
		switch {
		case a.per > b.per:
			return -1
		case a.per < b.per:
			return 1
		}
		return b.length - a.length
	})
	takes = make([]int, len(value))
	now := make([]int, len(items))
	best := make([]int, len(items))
	steps := 0
	var down func(i, left int, v float64)
	// The items come the most valuable for their length first, so that what is
	// left, filled with the next one cut up, is a value that nothing below can
	// pass.
	down = func(i, left int, v float64) {
		if v > total+1e-12 {
			total = v
			copy(best, now)
			clear(best[i:])
		}
		if i == len(items) || steps > cap {
			return
		}
		steps++
		if v+items[i].per*float64(left) <= total+1e-12 {
			return
		}
		for n := min(items[i].most, left/items[i].length); n >= 0; n-- {
			now[i] = n
			down(i+1, left-n*items[i].length, v+float64(n)*items[i].value)
		}
		now[i] = 0
	}
	down(0, room, 0)
	for i, n := range best {
		takes[items[i].k] = n
	}
	if most = total; steps > cap { // pieces may be cut up: the linear bound
		most = 0
		left := room
		for _, x := range items {
			n := min(x.most*x.length, left)
			most, left = most+float64(n)*x.per, left-n
		}
	}
	return takes, total, most
}

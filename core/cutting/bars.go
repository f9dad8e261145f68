package cutting

import (
	"cmp"
	"context"
	"fmt"
	"math"
	"slices"
	"time"
)

// Any is the count of a stock of which there are as many as one buys.
const Any = -1

// Bar is a stock of bars.
type Bar struct {
	// Name is what a plan calls it.
	Name string
	// Length is in m.
	Length float64
	// Count is how many there are, [Any] for a shop's.
	Count int
	// Price is for one; 0 for what is on hand.
	Price float64
}

// Piece is what is wanted of one length.
type Piece struct {
	// Name is what a plan calls it.
	Name string
	// Length is the finished length, m.
	Length float64
	// Count is how many are wanted.
	Count int
	// First says that it is cut before others: it lies at the first end of its bar,
	// and its bar comes before bars without such pieces.
	First bool
}

// Job is a list of pieces to cut from bars.
type Job struct {
	// Stock is what there is, and Pieces what is wanted.
	Stock  []Bar
	Pieces []Piece
	// Kerf is what a cut takes, m, and Trim what is cut off the end of each bar
	// first, with its kerf.
	Kerf, Trim float64
	// Keep are bars of a plan before, with pieces cut already: they stay as they
	// are, and their pieces are not cut again.
	Keep []Cut
	// Before is a plan whose bars are kept where that costs nothing.
	Before *Plan
	// Limit is how long the search may take; zero means two seconds.
	Limit time.Duration
}

// Cut is a bar with its pieces.
type Cut struct {
	// Stock is the index of the bar's stock.
	Stock int
	// Pieces are the pieces from the bar's first end on.
	Pieces []At
	// Offcut is what is left at the other end, m.
	Offcut float64
}

// At is where a piece lies on its bar.
type At struct {
	// Piece is the index of the piece.
	Piece int
	// From is the distance from the bar's first end, m.
	From float64
}

// Plan is how a job is cut.
type Plan struct {
	// Bars are the bars to cut, those kept first.
	Bars []Cut
	// Cost is what must be bought.
	Cost float64
	// Length is that of all bars opened, m.
	Length float64
	// Waste is the share of that length that becomes no piece: kerf, trim and
	// offcuts.
	Waste float64
	// Proven says that no plan costs less, nor opens less length at this cost.
	Proven bool
	// LeastBars is a number of bars below which no plan can be.
	LeastBars int
	// CostBound is a cost below which no plan can be, and LengthBound a length
	// below which none can be that costs no more.
	CostBound, LengthBound float64
	// Missing are the pieces that no stock is long enough for or that there is
	// not stock enough for, by their index; the plan has all others.
	Missing map[int]int
}

// tick is the unit of lengths inside, m: a whole number of them is a millimeter,
// and a sixteenth of an inch.
const tick = 1e-7

// ticks turns a length in m into whole ticks.
// A rounding of half a tick is a twentieth of a micrometer.
func ticks(m float64) int { return int(math.Round(m / tick)) }

// manyLengths is from how many lengths on a list is planned with less care.
const manyLengths = 60

// bounds of what a job may hold, so that no list runs away.
const (
	maxLength = 100.0
	maxPieces = 100_000
	maxPrice  = 1e7
)

// Check says what is wrong with a job: the list, the row, and what to enter.
// The error reads as a command prints it, with lengths in mm.
func (j *Job) Check() error {
	length := func(list string, i int, v float64) error {
		if !(v > 0 && v <= maxLength) {
			return fmt.Errorf("%s.%d: the length is not possible; enter over 0 to %g mm", list, i, 1000*maxLength)
		}
		return nil
	}
	for i, b := range j.Stock {
		if err := length("stock", i, b.Length); err != nil {
			return err
		}
		if b.Count < Any {
			return fmt.Errorf("stock.%d: the count is below 0; enter 0 or more, or leave it out for any number", i)
		}
		if !(b.Price >= 0 && b.Price <= maxPrice) {
			return fmt.Errorf("stock.%d: the price is not possible; enter 0 to %g", i, maxPrice)
		}
	}
	n := 0
	for i, p := range j.Pieces {
		if err := length("parts", i, p.Length); err != nil {
			return err
		}
		if p.Count < 0 || p.Count > maxPieces {
			return fmt.Errorf("parts.%d: the count is not possible; enter 0 to %d", i, maxPieces)
		}
		if n += p.Count; n > maxPieces {
			return fmt.Errorf("parts.%d: the list has over %d pieces; split it", i, maxPieces)
		}
	}
	if !(j.Kerf >= 0 && j.Kerf <= 0.05) {
		return fmt.Errorf("kerf: it is not possible; enter 0 to 50 mm")
	}
	if !(j.Trim >= 0 && j.Trim <= 0.5) {
		return fmt.Errorf("trim: it is not possible; enter 0 to 500 mm")
	}
	return nil
}

// problem is a job in whole ticks, with equal lengths put together.
type problem struct {
	// lengths are those of pieces with their kerf, ticks, the longest first.
	lengths []int
	// want is how many of each length.
	want   []int
	stocks []stock
	ctx    context.Context
	// totals are what whole bars can cost, in rising order; nil where these are
	// too many to list.
	totals []float64
	// budget says that what is bought may cost no more than a sum, which a search
	// carries along.
	budget bool
	// deep and quick are how many steps a knapsack may take: for prices, which
	// must be exact, and for greedy plans, of which there are many.
	deep, quick int
}

// stock is a kind of bar.
type stock struct {
	// room is for pieces with their kerfs, ticks: the bar less its trim, and
	// one kerf more, since the last piece needs no cut behind it if it ends
	// with the bar.
	room int
	// count is Any or how many there are.
	count int
	price float64
	// full is the length, m.
	full float64
	// cost is what is made as small as can be: first the price, then the
	// length.
	cost float64
}

// pattern is how one bar is cut: how many of each length.
type pattern struct {
	// stock is the bar's kind, and takes how many of each length.
	stock int
	takes []int
}

// Solve plans a job. ctx ends the search early; the plan is then the best so far.
// The error is that of [Job.Check].
// Equal jobs give equal plans as long as the search comes to its end: nothing
// in it depends on chance or on time, but for where it stops.
func Solve(ctx context.Context, j *Job) (*Plan, error) {
	if err := j.Check(); err != nil {
		return nil, err
	}
	limit := j.Limit
	if limit <= 0 {
		limit = 2 * time.Second
	}
	ctx, cancel := context.WithTimeout(ctx, limit)
	defer cancel()
	left, stocks := j.afterKept()
	p, kinds := j.problem(ctx, left, stocks)
	plan := &Plan{Missing: map[int]int{}}
	missing := p.leaveOut()
	best := p.solve(plan, j.before(kinds))
	plan.Bars = slices.Clone(j.Keep)
	plan.Bars = append(plan.Bars, j.layOut(best, kinds, left)...)
	for k, n := range missing {
		for _, i := range kinds[k] {
			take := min(n, left[i])
			if take > 0 {
				plan.Missing[i] += take
				n -= take
			}
		}
	}
	j.sum(plan)
	return plan, nil
}

// afterKept are the pieces still wanted and the bars still there once what is
// cut already is taken off.
// A kept piece that the list does not want any more stays on its bar and counts
// for nothing.
func (j *Job) afterKept() (left []int, stocks []Bar) {
	left = make([]int, len(j.Pieces))
	for i, p := range j.Pieces {
		left[i] = p.Count
	}
	stocks = slices.Clone(j.Stock)
	for _, c := range j.Keep {
		for _, at := range c.Pieces {
			if at.Piece >= 0 && at.Piece < len(left) && left[at.Piece] > 0 {
				left[at.Piece]--
			}
		}
		if c.Stock >= 0 && c.Stock < len(stocks) && stocks[c.Stock].Count > 0 {
			stocks[c.Stock].Count--
		}
	}
	return left, stocks
}

// problem puts equal lengths together. kinds lists the pieces of each length.
// Pieces of one length are one kind whatever they are called, since the saw
// does not know their names; the names come back in layOut.
func (j *Job) problem(ctx context.Context, left []int, bars []Bar) (p *problem, kinds [][]int) {
	p = &problem{ctx: ctx}
	kerf := ticks(j.Kerf)
	order := make([]int, 0, len(left))
	for i := range left {
		if left[i] > 0 {
			order = append(order, i)
		}
	}
	slices.SortStableFunc(order, func(a, b int) int { return cmp.Compare(ticks(j.Pieces[b].Length), ticks(j.Pieces[a].Length)) })
	for _, i := range order {
		l := ticks(j.Pieces[i].Length) + kerf
		if n := len(p.lengths); n == 0 || p.lengths[n-1] != l {
			p.lengths, p.want, kinds = append(p.lengths, l), append(p.want, 0), append(kinds, nil)
		}
		k := len(kinds) - 1
		kinds[k] = append(kinds[k], i)
		p.want[k] += left[i]
	}
	if p.deep, p.quick = 2_000_000, 100_000; len(p.lengths) > manyLengths {
		p.deep, p.quick = 20_000, 500
	}
	for _, b := range bars {
		p.stocks = append(p.stocks, stock{room: ticks(b.Length) - ticks(j.Trim) + kerf, count: b.Count, price: b.Price, full: b.Length})
	}
	return p, kinds
}

// leaveOut takes out the pieces that fit no bar, and returns how many of each
// length those are.
// What fits no bar at all is left out first, so that the rest is planned all
// the same and the builder is told what to buy for it.
func (p *problem) leaveOut() map[int]int {
	missing := map[int]int{}
	for k, l := range p.lengths {
		fits := false
		for _, s := range p.stocks {
			fits = fits || s.count != 0 && l <= s.room
		}
		if !fits && p.want[k] > 0 {
			missing[k], p.want[k] = p.want[k], 0
		}
	}
	// Where all stock is counted it may not be enough: the shortest pieces that
	// a greedy plan cannot place are left out.
	if slices.ContainsFunc(p.stocks, func(s stock) bool { return s.count == Any }) {
		return missing
	}
	for {
		if _, rest := p.greedy(nil); rest == nil {
			return missing
		} else {
			for k := range rest {
				if rest[k] > 0 {
					missing[k] += rest[k]
					p.want[k] -= rest[k]
				}
			}
		}
	}
}

// layOut turns patterns into bars with named pieces, the longest first on each,
// and bars of one stock together.
// Pieces with the same length take their names in the order of the list.
func (j *Job) layOut(ps []pattern, kinds [][]int, left []int) (out []Cut) {
	left = slices.Clone(left)
	next := func(k int) int {
		for _, i := range kinds[k] {
			if left[i] > 0 {
				left[i]--
				return i
			}
		}
		return -1
	}
	for _, p := range ps {
		c := Cut{Stock: p.stock}
		// The first piece begins behind what is trimmed off.
		at := j.Trim
		for k, n := range p.takes {
			for range n {
				i := next(k)
				c.Pieces = append(c.Pieces, At{i, at})
				at += j.Pieces[i].Length + j.Kerf
			}
		}
		c.Offcut = max(0, j.Stock[p.stock].Length-at)
		if c.Offcut < tick {
			c.Offcut = 0
		}
		j.order(&c)
		out = append(out, c)
	}
	slices.SortStableFunc(out, func(a, b Cut) int { return j.rank(&a) - j.rank(&b) })
	return out
}

// rank is 0 for a bar with a piece that is cut first, 1 for others.
func (j *Job) rank(c *Cut) int {
	if slices.ContainsFunc(c.Pieces, func(at At) bool { return j.Pieces[at.Piece].First }) {
		return 0
	}
	return 1
}

// order puts the pieces of a bar that are cut first at its first end. The others stay
// in their order, and what the bar leaves over is the same.
func (j *Job) order(c *Cut) {
	slices.SortStableFunc(c.Pieces, func(a, b At) int {
		switch x, y := j.Pieces[a.Piece].First, j.Pieces[b.Piece].First; {
		case x == y:
			return 0
		case x:
			return -1
		}
		return 1
	})
	at := j.Trim
	for i := range c.Pieces {
		c.Pieces[i].From = at
		at += j.Pieces[c.Pieces[i].Piece].Length + j.Kerf
	}
}

// solve finds the cheapest plan, and among those the one that opens the least
// length; it writes the bounds of the pieces that it plans into a plan.
// Two searches, one after the other: the second may spend no more than the
// first found to be enough. kept are the bars of a plan before, which each
// search takes where they are as good.
func (p *problem) solve(plan *Plan, kept []pattern) []pattern {
	cheap, priced := search{p: p}, false
	for j := range p.stocks {
		p.stocks[j].cost = p.stocks[j].price
		priced = priced || p.stocks[j].price > 0
	}
	var first []pattern
	if priced {
		cheap.run(kept, math.Inf(1))
		first = cheap.best
		plan.CostBound = min(cheap.bound, cheap.cost)
		p.budget = true
	} else {
		cheap.cost, cheap.proven = 0, true
	}
	for j := range p.stocks {
		p.stocks[j].cost = p.stocks[j].full
	}
	least := search{p: p}
	if first != nil {
		least.best, least.cost = first, p.costOf(first)
	}
	least.run(kept, cheap.cost)
	plan.LengthBound = min(least.bound, least.cost)
	plan.LeastBars = least.leastBars
	plan.Proven = cheap.proven && least.proven
	return least.best
}

// sum fills in what a plan comes to, and adds what is kept to its bounds.
// Waste counts everything that is no piece: kerf, trim and offcuts, reusable or
// not.
func (j *Job) sum(plan *Plan) {
	pieces := 0.0
	for i, c := range plan.Bars {
		b := j.Stock[c.Stock]
		plan.Cost += b.Price
		plan.Length += b.Length
		if i < len(j.Keep) {
			plan.CostBound, plan.LengthBound = plan.CostBound+b.Price, plan.LengthBound+b.Length
		}
		for _, at := range c.Pieces {
			pieces += j.Pieces[at.Piece].Length
		}
	}
	if plan.Length > 0 {
		plan.Waste = 1 - pieces/plan.Length
	}
	plan.LeastBars += len(j.Keep)
}

// before are the patterns of a plan before that still serve: of the same stock
// and of lengths that are still wanted.
// A bar is dropped as a whole when one of its pieces is not wanted any more.
func (j *Job) before(kinds [][]int) (out []pattern) {
	if j.Before == nil {
		return nil
	}
	kindOf := map[int]int{}
	for k, is := range kinds {
		for _, i := range is {
			kindOf[i] = k
		}
	}
	for _, c := range j.Before.Bars {
		if c.Stock < 0 || c.Stock >= len(j.Stock) {
			continue
		}
		p := pattern{c.Stock, make([]int, len(kinds))}
		ok := len(c.Pieces) > 0
		for _, at := range c.Pieces {
			k, wanted := kindOf[at.Piece]
			if ok = ok && wanted; ok {
				p.takes[k]++
			}
		}
		if ok {
			out = append(out, p)
		}
	}
	return out
}

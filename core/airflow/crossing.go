package airflow

import (
	"math"

	"gladember/core/air"
)

// Crossing is air that passes along in front of a porous sheet, crosses it all
// the way, and leaves along behind it.
type Crossing struct {
	// Width and Length are those of the sheet, m.
	Width, Length float64
	// Front is the depth of the space in front at the inlet's end and at the
	// far end, m.
	Front [2]float64
	// Rear is that of the space behind, at the same ends, m.
	Rear [2]float64
	// Resist returns the pressure across the sheet, Pa, for a face speed in m/s
	// at t C and p Pa.
	Resist func(v, t, p float64) float64
	// Jet is the momentum that air which has not spread over the space in front
	// carries along it at the inlet, over that of air which has: 0 behind a
	// deflector. It dies away along the length as exp(-x/Dies).
	Jet, Dies float64 // share, m
	// Baffle is the loss coefficient of a bar across the space in front
	// half-way along, on the speed there; 0: none.
	Baffle float64
	// Grid is the number of cells of the flow's own grid; zero means
	// [CrossingGrid], twice that with a jet or a bar.
	Grid int
}

// CrossingGrid is the number of cells on which a crossing is solved unless its
// Grid says otherwise. The pressure that drives air through the sheet changes
// within about one channel depth of the ends, so the cells narrow towards both;
// see docs/METHODS.md for how the shares converge.
const CrossingGrid = 48

// CrossingStart is the last solution of a crossing, for the next search to begin from. The zero value is none yet, and so is nil, which
// keeps none either. It serves one search at a time.
type CrossingStart struct {
	// share is the flow in front at the grid's edges, as a share of all.
	share []float64
	// last was solved at t C and p Pa, and lost loss, Pa.
	last       *Crossed
	t, p, loss float64
}

// A solution serves for flows within sameFlow of its own, as a share, and air
// within sameAir, K: shares then lie within some hundred-thousandths.
const (
	sameFlow = 1e-4
	sameAir  = 0.1
)

// same returns the last solution where it serves for m kg/s at t C and p Pa;
// nil else.
func (c *CrossingStart) same(m, t, p float64) *Crossed {
	if c == nil || c.last == nil || c.p != p || math.Abs(m/c.last.m-1) > sameFlow || math.Abs(t-c.t) > sameAir {
		return nil
	}
	return c.last
}

// begin fills in the shares found last, times a flow, and says whether there were any.
func (c *CrossingStart) begin(f []float64, m float64) bool {
	if c == nil || len(c.share) != len(f) {
		return false
	}
	for i, x := range c.share {
		f[i] = x * m
	}
	return true
}

// keep stores a solution at a temperature in C and a pressure in Pa.
func (c *CrossingStart) keep(x *Crossed, t, p float64) {
	if c == nil {
		return
	}
	if len(c.share) != len(x.f) {
		c.share = make([]float64, len(x.f))
	}
	for i, f := range x.f {
		c.share[i] = f / x.m
	}
	c.last, c.t, c.p, c.loss = x, t, p, x.drop()
}

// thin is the least depth a channel is reckoned with, m: cloth is never flat.
const thin = 0.003

// backwards is how many times harder the sheet is reckoned to pass air from
// behind to the front: where pressures would have it so, next to none crosses.
const backwards = 1e3

// crossCell is one cell of the grid: its width as a share of the length, its
// middle, the sheet's law, Pa per kg/s and per (kg/s)^2 through the cell, what
// speed makes of pressure in the two channels, Pa per (kg/s)^2, and half of
// their friction over the cell, Pa per kg/s (laminar) and per (kg/s)^2
// (turbulent). Behind, momentum counts towards the middle of the cell before
// and of the cell after.
type crossCell struct {
	width, mid float64
	a, b       float64
	// least and until bound the linear part, see [crossCell.across].
	least, until        float64
	front, before, next float64
	kf, kr, qf, qr      float64
	// bar is what a bar between it and the next costs, Pa per (kg/s)^2 in
	// front.
	bar float64
}

// across is the pressure across the sheet for w kg/s through the cell, and its
// slope. The slope is no less than least: where the channels' momentum changes
// the pressure by more over one cell than the sheet's slope makes up for, flows
// would swing from cell to cell. So a sheet that holds back next to nothing is
// crossed over some cells instead of within one; finer grids take it off again.
func (c *crossCell) across(w, hard, back float64) (d, slope float64) {
	switch {
	case w < 0:
		return back * c.least * hard * w, back * c.least * hard
	case w < c.until:
		return hard * c.least * w, hard * c.least
	}
	return hard * (c.least*c.until + c.a*(w-c.until) + c.b*(w*w-c.until*c.until)), hard * (c.a + 2*c.b*w)
}

// steady sets the least slope of the sheet in a cell from which and to which m
// kg/s go in all, in front and behind.
func (c *crossCell) steady(m, next float64) {
	c.least = max(c.a, m*(c.front*(1-c.mid)+next*c.mid))
	if c.least > c.a {
		c.until = math.Inf(1)
		if c.b > 0 {
			c.until = (c.least - c.a) / (2 * c.b)
		}
	}
}

// Crossed is a crossing as one flow takes it.
type Crossed struct {
	m, rho float64
	// back is how many times harder the sheet is to cross backwards.
	back  float64
	cells []crossCell
	// f is the flow in front at the cells' edges, kg/s.
	f []float64
	// Residual, its tridiagonal Jacobian and the step, for the inner edges.
	res, lo, di, up, step []float64
	next                  []float64
}

// edge is where the grid's edge i of n lies, as a share of the length: cosine
// spacing.
func edge(i, n int) float64 { return (1 - math.Cos(math.Pi*float64(i)/float64(n))) / 2 }

// edge is where the grid's edge i of n lies; with a bar half-way the cells
// narrow towards it too.
func (c Crossing) edge(i, n int) float64 {
	half := n / 2
	switch {
	case c.Baffle <= 0:
		return edge(i, n)
	case i <= half:
		return edge(i, half) / 2
	}
	return 0.5 + edge(i-half, n-half)/2
}

// bends weighs how much the crossing changes against the length itself, where a
// length is cut so that stretches narrow where it changes: found by trial on
// the boxes of the tests.
const bends = 0.1

// Stretches cuts the length into n stretches that narrow where the crossing
// changes most; it returns their shares of the length.
func (x *Crossed) Stretches(n int) []float64 {
	// Where the sum of length and weighed changes of the logarithm of the speed
	// has come to each n-th of its whole.
	last, sum := 0.0, 0.0
	sums := make([]float64, len(x.cells))
	for i, c := range x.cells {
		v := math.Log(max(1e-2, (x.f[i]-x.f[i+1])/x.m/c.width))
		if i > 0 {
			sum += bends * math.Abs(v-last)
		}
		last = v
		sum += c.width
		sums[i] = sum
	}
	s := make([]float64, n)
	k, before := 0, 0.0
	for i := range n {
		want := sum * float64(i+1) / float64(n)
		for k+1 < len(sums) && sums[k] < want {
			k++
		}
		from := 0.0
		if k > 0 {
			from = sums[k-1]
		}
		c := x.cells[k]
		at := c.mid - c.width/2 + c.width*min(1, (want-from)/(sums[k]-from))
		s[i] = at - before
		before = at
	}
	return s
}

// Even cuts a length into n equal stretches; it returns their shares of it.
func Even(n int) []float64 {
	s := make([]float64, n)
	for i := range s {
		s[i] = 1 / float64(n)
	}
	return s
}

// flow lays out the grid for m kg/s at t C and p Pa.
func (c Crossing) flow(m, t, p float64) *Crossed {
	n := c.Grid
	if n <= 0 {
		if n = CrossingGrid; c.Jet > 0 || c.Baffle > 0 {
			n *= 2 // pressures change within the length too
		}
	}
	rho, mu := air.Density(t, p), air.Viscosity(t)
	mean := m / (rho * c.Width * c.Length)
	// The sheet's law near the mean speed, a v + b v^2.
	r1, r2 := c.Resist(mean, t, p)/mean, c.Resist(3*mean, t, p)/(3*mean)
	b := max(0, (r2-r1)/(2*mean))
	a := max(1e-9, r1-b*mean)
	store := make([]float64, 7*n)
	take := func(k int) (v []float64) {
		v, store = store[:k:k], store[k:]
		return v
	}
	x := &Crossed{m: m, rho: rho, back: backwards, cells: make([]crossCell, n), f: take(n + 1), next: take(n + 1),
		res: take(n - 1), lo: take(n - 1), di: take(n - 1), up: take(n - 1), step: take(n - 1)}
	rear := 0.0
	for i := range x.cells {
		e0, e1 := c.edge(i, n), c.edge(i+1, n)
		mid := (e0 + e1) / 2
		df, dr := max(thin, c.Front[0]+(c.Front[1]-c.Front[0])*mid), max(thin, c.Rear[0]+(c.Rear[1]-c.Rear[0])*mid)
		dx := c.Length * (e1 - e0)
		speed := 1 / (rho * c.Width * dx)
		af, ar := df*c.Width, dr*c.Width
		w := crossCell{width: e1 - e0, mid: mid, a: a * speed, b: b * speed * speed, front: Dividing / 2 / (rho * af * af)}
		if c.Jet > 0 {
			a0 := c.Width * max(thin, c.Front[0])
			w.front += c.Jet * math.Exp(-mid*c.Length/c.Dies) / (rho * a0 * a0)
		}
		if c.Baffle > 0 && e0 < 0.5-1e-9 && e1 >= 0.5-1e-9 {
			w.bar = c.Baffle / (2 * rho * af * af)
		}
		// f = 96/Re + 0.015: within a fifth of laminar and smooth turbulent
		// friction up to Re 8000, and smooth between.
		w.kf, w.kr = 6*mu*dx/(df*df*af*rho), 6*mu*dx/(dr*dr*ar*rho)
		w.qf, w.qr = 0.015*dx/(2*df)/(4*rho*af*af), 0.015*dx/(2*dr)/(4*rho*ar*ar)
		if i > 0 {
			last := &x.cells[i-1]
			w.before = 2 / (rho * ar * (ar + rear))
			last.next = 2 / (rho * rear * (ar + rear))
		}
		w.steady(m, 1/(rho*ar*ar))
		rear = ar
		x.cells[i] = w
	}
	return x
}

// even begins from an even crossing.
func (x *Crossed) even() {
	x.f[0] = x.m
	for i, c := range x.cells {
		x.f[i+1] = x.f[i] - x.m*c.width
	}
	x.f[len(x.cells)] = 0
}

// between returns what front and rear lose from the middle of cell i to that of
// the next, Pa, for the flows c0 and c1 in front there, and how that changes
// with both: in front what leaves takes its speed along; behind, what joins has
// none.
func (x *Crossed) between(i int, c0, c1 float64) (front, rear float64, slopes [4]float64) {
	u, v := &x.cells[i], &x.cells[i+1]
	g0, g1 := x.m-c0, x.m-c1
	qf0, qf1, qr0, qr1 := u.qf*math.Abs(c0), v.qf*math.Abs(c1), u.qr*math.Abs(g0), v.qr*math.Abs(g1)
	front = (u.front*c0-u.kf-qf0)*c0 - (v.front*c1+v.kf+qf1)*c1
	rear = (u.next*g0-u.kr-qr0)*g0 - (v.before*g1+v.kr+qr1)*g1
	if u.bar > 0 {
		c := (c0 + c1) / 2
		front -= u.bar * c * math.Abs(c)
	}
	slopes = [4]float64{2*u.front*c0 - u.kf - 2*qf0, -2*v.front*c1 - v.kf - 2*qf1,
		-2*u.next*g0 + u.kr + 2*qr0, 2*v.before*g1 + v.kr + 2*qr1}
	if u.bar > 0 {
		c := math.Abs(c0+c1) / 2
		slopes[0], slopes[1] = slopes[0]-u.bar*c, slopes[1]-u.bar*c
	}
	return front, rear, slopes
}

// residual fills res by how much the pressures across the sheet in two
// neighboring cells fail to differ as the channels' do, and the Jacobian; it
// returns the largest.
func (x *Crossed) residual(f []float64, hard float64) float64 {
	worst := 0.0
	d0, s0 := x.cells[0].across(f[0]-f[1], hard, x.back)
	for i := range len(x.cells) - 1 {
		d1, s1 := x.cells[i+1].across(f[i+1]-f[i+2], hard, x.back)
		front, rear, k := x.between(i, (f[i]+f[i+1])/2, (f[i+1]+f[i+2])/2)
		x.res[i] = d1 - d0 - front + rear
		worst = max(worst, math.Abs(x.res[i]))
		e0, e1 := (k[2]-k[0])/2, (k[3]-k[1])/2
		x.lo[i], x.di[i], x.up[i] = -s0+e0, s1+s0+e0+e1, -s1+e1
		d0, s0 = d1, s1
	}
	return worst
}

// newton brings the residual under a hundred-millionth of scale, Pa, with the
// sheet so many times as hard to cross; it reports whether it came near.
func (x *Crossed) newton(hard, scale float64) bool {
	n := len(x.cells)
	size := x.residual(x.f, hard)
	for range 60 {
		if size < 1e-8*scale {
			return true
		}
		// Thomas, with lo of the first and up of the last falling on fixed ends.
		for i := 1; i < n-1; i++ {
			w := x.lo[i] / x.di[i-1]
			x.di[i] -= w * x.up[i-1]
			x.res[i] -= w * x.res[i-1]
		}
		x.step[n-2] = x.res[n-2] / x.di[n-2]
		for i := n - 3; i >= 0; i-- {
			x.step[i] = (x.res[i] - x.up[i]*x.step[i+1]) / x.di[i]
		}
		copy(x.next, x.f)
		was := size
		for k := 1.0; k > 1e-3; k /= 2 {
			for i := range x.step {
				x.next[i+1] = x.f[i+1] - k*x.step[i]
			}
			if size = x.residual(x.next, hard); size < was || k < 2e-3 {
				break
			}
		}
		if copy(x.f, x.next); math.IsNaN(size) {
			return false
		}
	}
	return size < 1e-6*scale
}

// solve finds the flow in front along the grid for m kg/s, all cells together
// by Newton's method: momentum and friction along both channels against the
// sheet.
func (c Crossing) solve(m, t, p float64, start *CrossingStart) *Crossed {
	x := c.flow(m, t, p)
	if !start.begin(x.f, m) {
		x.even()
	}
	mean := m / (x.rho * c.Width * c.Length)
	scale := c.Resist(mean, t, p) + x.rho*mean*mean
	if !x.newton(1, scale) { // from a sheet so dense that it spreads the air evenly
		x.even()
		for hard := 1e3; hard >= 1; hard /= 2 {
			x.newton(hard, scale)
		}
		if !x.newton(1, scale) { // where none crosses, from a sheet that is crossed backwards too
			x.even()
			for x.back = 1; x.back < backwards; x.back *= 2 {
				x.newton(1, scale)
			}
			x.back = backwards
			x.newton(1, scale)
		}
	}
	return x
}

// drop is the pressure from the inlet in front to the outlet behind, Pa.
func (x *Crossed) drop() float64 {
	f := x.f
	d, _ := x.cells[0].across(f[0]-f[1], 1, x.back)
	for i := range len(x.cells) - 1 {
		_, rear, _ := x.between(i, (f[i]+f[i+1])/2, (f[i+1]+f[i+2])/2)
		d -= rear
	}
	return max(0, d)
}

// Each calls f for each piece that the grid's cells and some stretches of the
// length have in common, in order: its stretch, its share of the length, and
// the share of the flow that crosses in it, which is even within a cell.
// Stretches are given by their shares of the length, see [Even] and
// [Crossed.Stretches]. The shares of the flow are not below zero.
func (x *Crossed) Each(of []float64, f func(stretch int, width, share float64)) {
	k, at, end := 0, 0.0, 0.0
	for i, w := range of {
		end += w
		for k < len(x.cells) && at < end-1e-12 {
			c := &x.cells[k]
			until := min(end, c.mid+c.width/2)
			width := until - at
			f(i, width, max(0, x.f[k]-x.f[k+1])/x.m*width/c.width)
			if at = until; at >= c.mid+c.width/2-1e-12 {
				k++
			}
		}
	}
}

// Shares returns the part that crosses in each of some stretches from the
// inlet's end; they sum to 1.
func (x *Crossed) Shares(of []float64) []float64 {
	s := make([]float64, len(of))
	sum := 0.0
	x.Each(of, func(i int, _, share float64) {
		s[i] += share
		sum += share
	})
	for i := range s {
		s[i] /= sum
	}
	return s
}

// At solves the crossing of m kg/s, above zero, at t C and p Pa. A solution in start that is as near as makes no difference is returned as
// it is; another is begun from, and the new one put in its place.
func (c Crossing) At(m, t, p float64, start *CrossingStart) *Crossed {
	if x := start.same(m, t, p); x != nil {
		return x
	}
	x := c.solve(m, t, p, start)
	start.keep(x, t, p)
	return x
}

// Loss implements [Element]: from the space in front at the inlet to the space
// behind at the outlet, Pa.
func (c Crossing) Loss(m, t, p float64) float64 { return c.From(nil).Loss(m, t, p) }

// From is the crossing as an [Element] for a search that keeps its solutions in start.
func (c Crossing) From(start *CrossingStart) Element { return begun{c, start} }

// begun is a crossing in a search.
type begun struct {
	Crossing
	start *CrossingStart
}

// Loss implements [Element]. Where a flow within a factor of four has been
// solved it follows from that one's loss as the power 1.8: a search may use
// that, and ends where the flow is the one last solved for its shares.
func (b begun) Loss(m, t, p float64) float64 {
	if m <= 0 {
		return 0
	}
	if s := b.start; s != nil && s.last != nil && s.p == p && m < 4*s.last.m && m > s.last.m/4 {
		return s.loss * math.Pow(m/s.last.m, 1.8)
	}
	return b.At(m, t, p, b.start).drop()
}

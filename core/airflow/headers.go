package airflow

import (
	"math"
	"sync"

	"gladember/core/air"
)

// Momentum coefficients of headers, on rho v dv: pressure won where a header
// gives air to branches, and lost where it gathers from them.
// Source: Bajura & Jones, J. Fluids Engineering 98 (1976) (recalled from memory).
const (
	Dividing  = 1.05
	Combining = 2.66
)

// Header is a row of equal branches between two straight headers.
type Header struct {
	Branches  int
	Area      float64 // of each header's cross section, m2
	Branch    float64 // cross section of one branch, m2
	Loss      float64 // loss coefficient of a branch on its own speed
	Friction  float64 // of a header from one branch to the next, on its speed
	OtherSide bool    // the outlet lies at the far end (Z); else at the inlet's end (U)
}

// Shares returns each branch's part of the flow, the one nearest the inlet
// first; they sum to 1.
func (h Header) Shares() []float64 {
	n := h.Branches
	s := make([]float64, n)
	if n <= 1 {
		for i := range s {
			s[i] = 1
		}
		return s
	}
	// Pressures in units of rho/2 (1/Area)^2 for the whole flow 1. A branch that
	// pressures would run backwards is taken as dead.
	k := h.Loss * (h.Area / h.Branch) * (h.Area / h.Branch)
	through := func(d float64) float64 { return math.Sqrt(math.Max(0, d) / k) }
	if !h.OtherSide {
		// From the dead end, where both headers stand still; all losses are
		// squares of flows, so the whole may be scaled afterwards.
		v, d := 0.0, k
		for i := n - 1; i >= 0; i-- {
			s[i] = through(d)
			u := v + s[i] // in both headers on the inlet's side of branch i
			d += (Combining-Dividing)*(u*u-v*v) + 2*h.Friction*u*u
			v = u
		}
		for i := range s {
			s[i] /= v
		}
		return s
	}
	march := func(first float64) (rest float64) {
		v, w, d := 1.0, 0.0, k*first*first // in the dividing and the combining header before branch i
		for i := range n {
			s[i] = through(d)
			v2, w2 := v-s[i], w+s[i]
			d += Dividing*(v*v-v2*v2) + Combining*(w2*w2-w*w) - h.Friction*(v2*math.Abs(v2)-w2*w2)
			v, w = v2, w2
		}
		return v
	}
	// More through the first branch means more through each: the rest falls.
	lo, hi := 0.0, 1.0
	for range 80 {
		mid := (lo + hi) / 2
		if march(mid) > 0 {
			lo = mid
		} else {
			hi = mid
		}
	}
	march((lo + hi) / 2)
	sum := 0.0
	for _, x := range s {
		sum += x
	}
	for i := range s {
		s[i] /= sum
	}
	return s
}

// Evenness returns the least branch's flow over the mean one: 1 is even, 0 a
// dead branch.
func (h Header) Evenness() float64 {
	m := math.Inf(1)
	for _, x := range h.Shares() {
		m = math.Min(m, x)
	}
	return m * float64(h.Branches)
}

// Crossing is air that passes along in front of a porous sheet, crosses it all
// the way, and leaves along behind it.
type Crossing struct {
	Width, Length float64
	Front         [2]float64 // depth of the space in front at the inlet's end and the far end, m
	Rear          [2]float64 // depth of the space behind at the same ends, m
	// Resist returns the pressure across the sheet, Pa, for a face speed in m/s
	// at t C and p Pa.
	Resist func(v, t, p float64) float64
	Cells  int
	// Seen keeps the last solution to begin the next from; nil begins anew.
	Seen *CrossingMemory
}

// CrossingMemory is a solution to begin from; safe for use by several at once.
type CrossingMemory struct {
	mu         sync.Mutex
	share      []float64 // of the flow in front, at the cells' edges
	m, p, loss float64   // of the last flow solved
}

func (c *CrossingMemory) recall(f []float64, m float64) bool {
	if c == nil {
		return false
	}
	c.mu.Lock()
	defer c.mu.Unlock()
	if len(c.share) != len(f) {
		return false
	}
	for i, x := range c.share {
		f[i] = x * m
	}
	return true
}

func (c *CrossingMemory) keep(f []float64, m float64) {
	if c == nil {
		return
	}
	c.mu.Lock()
	defer c.mu.Unlock()
	c.share = make([]float64, len(f))
	for i, x := range f {
		c.share[i] = x / m
	}
}

// thin is the least depth a channel is reckoned with, m: cloth is never flat.
const thin = 0.003

// backwards is how many times harder the sheet is reckoned to pass air from
// behind to the front: where pressures would have it so, next to none crosses.
const backwards = 1e3

// solve finds the share that crosses in each cell and the pressure from the
// inlet to the outlet, Pa: momentum and friction along both channels against
// the sheet, for all cells together, by Newton's method. In front what leaves
// takes its speed along; behind, what joins has none.
func (c Crossing) solve(m, t, p float64) (shares []float64, drop float64) {
	n := c.Cells
	shares = make([]float64, n)
	if m <= 0 {
		for i := range shares {
			shares[i] = 1 / float64(n)
		}
		return shares, 0
	}
	rho, mu := air.Density(t, p), air.Viscosity(t)
	dx := c.Length / float64(n)
	mean := m / (rho * c.Width * c.Length)
	// The sheet's law near the mean speed, a v + b v^2, per kg/s through a cell.
	r1, r2 := c.Resist(mean, t, p)/mean, c.Resist(3*mean, t, p)/(3*mean)
	toSpeed := 1 / (rho * c.Width * dx)
	b := math.Max(0, (r2-r1)/(2*mean))
	a := math.Max(1e-9, r1-b*mean) * toSpeed
	b *= toSpeed * toSpeed
	type way struct{ af, ar, kf, kr, qf, qr float64 } // areas, laminar Pa per kg/s and turbulent Pa per (kg/s)^2 over a cell
	ws := make([]way, n)
	for i := range ws {
		x := (float64(i) + 0.5) / float64(n)
		df, dr := math.Max(thin, c.Front[0]+(c.Front[1]-c.Front[0])*x), math.Max(thin, c.Rear[0]+(c.Rear[1]-c.Rear[0])*x)
		w := way{af: df * c.Width, ar: dr * c.Width}
		// f = 96/Re + 0.015: within a fifth of laminar and smooth turbulent
		// friction up to Re 8000, and smooth between.
		w.kf, w.kr = 12*mu*dx/(df*df*w.af*rho), 12*mu*dx/(dr*dr*w.ar*rho)
		w.qf, w.qr = 0.015*dx/(2*df)/(2*rho*w.af*w.af), 0.015*dx/(2*dr)/(2*rho*w.ar*w.ar)
		ws[i] = w
	}
	f := make([]float64, n+1) // flow in front at the cells' edges
	even := func() {
		for i := range f {
			f[i] = m * (1 - float64(i)/float64(n))
		}
	}
	if !c.Seen.recall(f, m) {
		even()
	}
	res, lo, di, up := make([]float64, n-1), make([]float64, n-1), make([]float64, n-1), make([]float64, n-1)
	step, next := make([]float64, n-1), make([]float64, n+1)
	cross := func(w, hard float64) (d, slope float64) {
		if w < 0 {
			return backwards * a * hard * w, backwards * a * hard
		}
		return hard * (a*w + b*w*w), hard * (a + 2*b*w)
	}
	// residual fills res, and the Jacobian where wanted, and returns its size.
	residual := func(f []float64, hard float64, jacobian bool) float64 {
		worst := 0.0
		for i := range n - 1 {
			u, v := ws[i], ws[i+1]
			d0, s0 := cross(f[i]-f[i+1], hard)
			d1, s1 := cross(f[i+1]-f[i+2], hard)
			c0, c1 := (f[i]+f[i+1])/2, (f[i+1]+f[i+2])/2
			g0, g1 := m-c0, m-c1
			mf0, mf1 := Dividing/2/(rho*u.af*u.af), Dividing/2/(rho*v.af*v.af)
			mid := (u.ar + v.ar) / 2
			mr0, mr1 := 1/(rho*u.ar*mid), 1/(rho*v.ar*mid)
			front := mf0*c0*c0 - mf1*c1*c1 - (u.kf*c0+v.kf*c1)/2 - (u.qf*c0*math.Abs(c0)+v.qf*c1*math.Abs(c1))/2
			rear := mr0*g0*g0 - mr1*g1*g1 - (u.kr*g0+v.kr*g1)/2 - (u.qr*g0*math.Abs(g0)+v.qr*g1*math.Abs(g1))/2
			res[i] = d1 - d0 - front + rear
			worst = math.Max(worst, math.Abs(res[i]))
			if !jacobian {
				continue
			}
			// front and rear by c0 and c1; g falls as c grows.
			fc0, fc1 := 2*mf0*c0-u.kf/2-u.qf*math.Abs(c0), -2*mf1*c1-v.kf/2-v.qf*math.Abs(c1)
			rc0, rc1 := -2*mr0*g0+u.kr/2+u.qr*math.Abs(g0), 2*mr1*g1+v.kr/2+v.qr*math.Abs(g1)
			e0, e1 := (rc0-fc0)/2, (rc1-fc1)/2
			lo[i], di[i], up[i] = -s0+e0, s1+s0+e0+e1, -s1+e1
		}
		return worst
	}
	scale := c.Resist(mean, t, p) + rho*mean*mean
	solved := func(hard float64) bool {
		size := residual(f, hard, true)
		for range 60 {
			if size < 1e-10*scale {
				return true
			}
			// Thomas, with lo of the first and up of the last falling on fixed ends.
			for i := 1; i < n-1; i++ {
				w := lo[i] / di[i-1]
				di[i] -= w * up[i-1]
				res[i] -= w * res[i-1]
			}
			step[n-2] = res[n-2] / di[n-2]
			for i := n - 3; i >= 0; i-- {
				step[i] = (res[i] - up[i]*step[i+1]) / di[i]
			}
			copy(next, f)
			was := size
			for k := 1.0; k > 1e-3; k /= 2 {
				for i := range step {
					next[i+1] = f[i+1] - k*step[i]
				}
				if size = residual(next, hard, false); size < was || k < 2e-3 {
					break
				}
			}
			copy(f, next)
			size = residual(f, hard, true)
			if math.IsNaN(size) {
				return false
			}
		}
		return size < 1e-6*scale
	}
	if !solved(1) { // from a sheet so dense that it spreads the air evenly
		even()
		for hard := 1e3; hard >= 1; hard /= 2 {
			solved(hard)
		}
		solved(1)
	}
	c.Seen.keep(f, m)
	for i := range shares {
		shares[i] = (f[i] - f[i+1]) / m
	}
	d0, _ := cross(f[0]-f[1], 1)
	drop = d0
	for i := range n - 1 {
		u, v := ws[i], ws[i+1]
		g0, g1 := m-(f[i]+f[i+1])/2, m-(f[i+1]+f[i+2])/2
		mid := (u.ar + v.ar) / 2
		drop += g1*g1/(rho*v.ar*mid) - g0*g0/(rho*u.ar*mid) + (u.kr*g0+v.kr*g1)/2 + (u.qr*g0*g0+v.qr*g1*g1)/2
	}
	return shares, math.Max(0, drop)
}

// Shares returns the part of m kg/s that crosses in each cell from the inlet's
// end, none below zero; they sum to 1.
func (c Crossing) Shares(m, t, p float64) []float64 {
	s, drop := c.solve(m, t, p)
	if c.Seen != nil {
		c.Seen.note(m, p, drop)
	}
	sum := 0.0
	for i := range s {
		s[i] = math.Max(0, s[i])
		sum += s[i]
	}
	for i := range s {
		s[i] /= sum
	}
	return s
}

func (c *CrossingMemory) note(m, p, loss float64) {
	c.mu.Lock()
	defer c.mu.Unlock()
	c.m, c.p, c.loss = m, p, loss
}

// Loss implements Element: from the space in front at the inlet to the space
// behind at the outlet. Where a flow within a factor of four has been solved it
// follows from that one's loss as the power 1.8: a search may use that, and
// ends where the flow is the one last solved for its shares.
func (c Crossing) Loss(m, t, p float64) float64 {
	if s := c.Seen; s != nil {
		s.mu.Lock()
		m0, p0, loss := s.m, s.p, s.loss
		s.mu.Unlock()
		if m0 > 0 && p0 == p && m < 4*m0 && m > m0/4 {
			return loss * math.Pow(m/m0, 1.8)
		}
	}
	_, d := c.solve(m, t, p)
	if c.Seen != nil {
		c.Seen.note(m, p, d)
	}
	return d
}

package airflow

import (
	"math"

	"gladember/core/air"
	"gladember/core/internal/root"
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
	Branches int
	// Area is that of each header's cross section, m2.
	Area float64
	// Branch is the cross section of one branch, m2.
	Branch float64
	// Loss is the loss coefficient of a branch on its own speed.
	Loss float64
	// Friction is that of a header from one branch to the next, on its speed.
	Friction float64
	// OtherSide says that the outlet lies at the far end (Z), else at the
	// inlet's end (U).
	OtherSide bool
}

// Shares returns each branch's part of the flow, the one nearest the inlet
// first; they sum to 1.
func (h Header) Shares() []float64 {
	if h.Branches == 1 {
		return []float64{1}
	}
	k := h.Loss * (h.Area / h.Branch) * (h.Area / h.Branch)
	s, _ := between(h.Branches, h.OtherSide, func(_ int, d float64) float64 { return math.Sqrt(math.Max(0, d) / k) },
		func(v float64) float64 { return h.Friction * v * v })
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

// A passing is what a branch passes at a difference of pressure between its ends.
type passing func(branch int, d float64) float64

// march goes along two headers, from a difference of pressure at the first
// branch it meets, and sets what each branch passes, the one nearest the inlet
// first, as shares of the whole flow; it returns their sum and the pressure
// lost from the inlet to the outlet. Pressures are in units of rho/2 v2, v
// being the speed of the whole flow in a header; friction is what a header
// loses from one branch to the next at a share of the flow. A branch that
// pressures would run backwards is taken as dead.
func march(shares []float64, otherSide bool, d float64, through passing, friction func(v float64) float64) (sum, lost float64) {
	if !otherSide { // from the dead end, where both headers stand still
		v := 0.0
		for i := len(shares) - 1; i >= 0; i-- {
			shares[i] = through(i, d)
			u := v + shares[i] // in both headers on the inlet's side of branch i
			d += (Combining-Dividing)*(u*u-v*v) + 2*friction(u)
			v = u
		}
		return v, d
	}
	v, w := 1.0, 0.0 // in the dividing and the combining header before branch i
	lost = d
	for i := range shares {
		shares[i] = through(i, d)
		v2, w2 := v-shares[i], w+shares[i]
		gathered := Combining*(w2*w2-w*w) + friction(w2)
		lost += gathered
		d += Dividing*(v*v-v2*v2) + gathered - math.Copysign(friction(math.Abs(v2)), v2)
		v, w = v2, w2
	}
	return w, lost
}

// between shares a flow of 1 out among n branches between two headers, see
// [march], and returns each one's part and the pressure lost.
func between(n int, otherSide bool, through passing, friction func(v float64) float64) ([]float64, float64) {
	s := make([]float64, n)
	passed := func(d float64) float64 { // a greater difference means more through each
		sum, _ := march(s, otherSide, d, through, friction)
		return sum
	}
	lo, hi, flo, fhi := 0.0, 1.0, -1.0, passed(1)-1
	for k := 0; k < 200 && fhi < 0; k++ {
		lo, flo, hi = hi, fhi, 2*hi
		fhi = passed(hi) - 1
	}
	d, _ := root.Between(lo, flo, hi, fhi, func(d, width float64) (float64, bool, error) {
		f := passed(d) - 1
		return f, math.Abs(f) < 1e-11 || width < 1e-14*hi, nil
	})
	sum, lost := march(s, otherSide, d, through, friction)
	for i := range s {
		s[i] /= sum
	}
	return s, lost
}

// Manifold is branches between two straight headers, alike or not, each at one
// end of the header or at the other from the inlet on.
type Manifold struct {
	// Kinds are the ways through a branch.
	Kinds []Element
	// Order is the kind of each branch, the one nearest to the inlet first.
	Order []int
	// Extra is the loss coefficient that an orifice adds in each branch, on the
	// speed in Stub; nil for none.
	Extra []float64
	// Stub is the cross section in which orifices lie, m2.
	Stub float64
	// Duct is each header; its Length is from one branch to the next.
	Duct Duct
	// OtherSide says that the outlet lies at the far end (Z), else at the
	// inlet's end (U).
	OtherSide bool
}

// law is how a branch's loss grows with its flow, near the flows it was found at.
type law struct{ a, b float64 }

// Split returns the mass flow of each branch, kg/s, for m kg/s of air at t C
// and p Pa in all, and the pressure lost from the headers' inlet to their
// outlet, Pa.
func (f Manifold) Split(m, t, p float64) (flows []float64, loss float64) {
	n := len(f.Order)
	flows = make([]float64, n)
	if m <= 0 || n == 0 {
		return flows, 0
	}
	rho := air.Density(t, p)
	v := m / rho / f.Duct.area()
	q := rho * v * v / 2
	for i := range flows {
		flows[i] = m / float64(n)
	}
	friction := f.friction(m, t, p, q)
	laws := make([]law, len(f.Kinds))
	for range 12 {
		for k, e := range f.Kinds {
			lo, hi := math.Inf(1), 0.0
			for i, x := range flows {
				if f.Order[i] == k {
					lo, hi = math.Min(lo, x), math.Max(hi, x)
				}
			}
			lo = math.Max(lo, 0.02*hi) // a dead branch tells nothing
			if hi < 1.02*lo {
				lo, hi = 0.99*lo, 1.01*hi
			}
			x, y := e.Loss(lo, t, p), e.Loss(hi, t, p)
			b := math.Max(0.9, math.Min(2.2, math.Log(y/x)/math.Log(hi/lo)))
			laws[k] = law{y / math.Pow(hi, b), b}
		}
		through := func(i int, d float64) float64 {
			if d <= 0 {
				return 0
			}
			return laws[f.Order[i]].at(d*q, f.extra(i, rho)) / m
		}
		shares, lost := between(n, f.OtherSide, through, friction)
		moved := 0.0
		for i, s := range shares {
			moved = math.Max(moved, math.Abs(s*m-flows[i]))
			flows[i] = s * m
		}
		loss = lost * q
		if moved < 1e-6*m {
			break
		}
	}
	return flows, loss
}

// friction returns what a header loses from one branch to the next at a share
// of m kg/s, in units of q: the power of the flow that it follows between the
// whole of it and a quarter.
func (f Manifold) friction(m, t, p, q float64) func(share float64) float64 {
	whole, part := f.Duct.Loss(m, t, p)/q, f.Duct.Loss(m/4, t, p)/q
	if part <= 0 {
		return func(float64) float64 { return 0 }
	}
	b := math.Log(whole/part) / math.Log(4)
	return func(share float64) float64 {
		if share <= 0 {
			return 0
		}
		return whole * math.Pow(share, b)
	}
}

// extra is the coefficient of an orifice on the square of the mass flow, Pa
// s2/kg2.
func (f Manifold) extra(i int, rho float64) float64 {
	if f.Extra == nil {
		return 0
	}
	return f.Extra[i] / (2 * rho * f.Stub * f.Stub)
}

// at is the flow at which a branch and its orifice lose a pressure, kg/s.
func (l law) at(dp, extra float64) float64 {
	x := math.Pow(dp/l.a, 1/l.b)
	if extra <= 0 {
		return x
	}
	x = math.Min(x, math.Sqrt(dp/extra))
	for range 40 { // Newton on a convex function from above or below
		y := l.a * math.Pow(x, l.b)
		f := y + extra*x*x - dp
		step := f / (l.b*y/x + 2*extra*x)
		x = math.Max(x/4, x-step)
		if math.Abs(step) < 1e-12*x {
			break
		}
	}
	return x
}

// Loss implements [Element].
func (f Manifold) Loss(m, t, p float64) float64 {
	_, loss := f.Split(m, t, p)
	return loss
}

// Balance returns the loss coefficients, on the speed in Stub, of the orifices
// with which m kg/s of air at t C and p Pa in all share out as wished (shares
// that sum to 1). The branch that needs the most pressure gets none.
func (f Manifold) Balance(m, t, p float64, shares []float64) []float64 {
	rho := air.Density(t, p)
	v := m / rho / f.Duct.area()
	q := rho * v * v / 2
	n := len(f.Order)
	have := make([]float64, n) // difference over that of the first branch met, Pa
	through := func(i int, d float64) float64 {
		have[i] = d * q
		return shares[i]
	}
	march(make([]float64, n), f.OtherSide, 0, through, f.friction(m, t, p, q))
	need := make([]float64, n)
	more := math.Inf(-1)
	for i, k := range f.Order {
		need[i] = f.Kinds[k].Loss(m*shares[i], t, p) - have[i]
		more = math.Max(more, need[i])
	}
	for i := range need {
		x := m * shares[i] / rho / f.Stub
		need[i] = math.Max(0, (more-need[i])/(rho*x*x/2))
	}
	return need
}

// OrificeBore returns the diameter, m, of a sharp-edged hole in a plate across
// a duct of area m2 that loses k times the pressure of the speed in the duct;
// that of the duct itself for none.
func OrificeBore(k, area float64) float64 {
	duct := math.Sqrt(4 * area / math.Pi)
	if k <= 0 {
		return duct
	}
	lo, hi := 1e-3, 1.0
	for range 80 {
		mid := (lo + hi) / 2
		if OrificeLoss(mid)/mid/mid > k {
			lo = mid
		} else {
			hi = mid
		}
	}
	return duct * math.Sqrt(lo)
}

package airflow

import "math"

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

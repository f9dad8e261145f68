package network

import (
	"math"
)

// blocks is a block-tridiagonal system with square blocks of size b.
type blocks struct {
	links, touches []held
	nodes          []node
	perLinks       int // most links of a segment
	perSegment     int // most coefficients of its air
	n, b           int
	diag, low, up  [][]float64
	hasUp          []bool
	rhs            []float64
	all            []float64 // what the others are cut from
}

// newBlocks makes a block-tridiagonal system of n blocks of b unknowns, all in
// one piece of memory.
func newBlocks(n, b int) *blocks {
	s := &blocks{n: n, b: b, hasUp: make([]bool, n), all: make([]float64, n*b*(3*b+1))}
	rest := s.all
	take := func(k int) (v []float64) {
		v, rest = rest[:k:k], rest[k:]
		return v
	}
	s.rhs = take(n * b)
	for range n {
		s.diag = append(s.diag, take(b*b))
		s.low = append(s.low, take(b*b))
		s.up = append(s.up, take(b*b))
	}
	return s
}

// clear sets all coefficients to zero for the next assembly.
func (s *blocks) clear() {
	clear(s.all)
	clear(s.hasUp)
}

// at returns the block by which rows of segment i depend on segment j.
func (s *blocks) at(i, j int) []float64 {
	switch j {
	case i:
		return s.diag[i]
	case i - 1:
		return s.low[i]
	}
	s.hasUp[i] = true
	return s.up[i]
}

// solve eliminates forwards and substitutes backwards; it overwrites the
// system. It reports whether every pivot was sound.
func (s *blocks) solve(x []float64) bool {
	b := s.b
	for i := range s.n {
		if i > 0 {
			// Row i less low[i] times the solved row i-1: x[i-1] = r - U x[i].
			r := s.rhs[(i-1)*b : i*b]
			for a := range b {
				for c := range b {
					l := s.low[i][a*b+c]
					if l == 0 {
						continue
					}
					s.rhs[i*b+a] -= l * r[c]
					if s.hasUp[i-1] {
						u := s.up[i-1][c*b : c*b+b]
						for e := range b {
							s.diag[i][a*b+e] -= l * u[e]
						}
					}
				}
			}
		}
		if !s.divide(i) {
			return false
		}
	}
	for i := s.n - 1; i >= 0; i-- {
		for a := range b {
			v := s.rhs[i*b+a]
			if i+1 < s.n && s.hasUp[i] {
				for c := range b {
					v -= s.up[i][a*b+c] * x[(i+1)*b+c]
				}
			}
			x[i*b+a] = v
		}
	}
	return true
}

// divide replaces rhs and up of segment i by diag^-1 times themselves, by
// elimination with row pivoting.
func (s *blocks) divide(i int) bool {
	b, d, r := s.b, s.diag[i], s.rhs[i*s.b:(i+1)*s.b]
	u := s.up[i]
	up := s.hasUp[i]
	for c := range b {
		p := c
		for a := c + 1; a < b; a++ {
			if math.Abs(d[a*b+c]) > math.Abs(d[p*b+c]) {
				p = a
			}
		}
		if d[p*b+c] == 0 {
			return false
		}
		if p != c {
			for e := range b {
				d[p*b+e], d[c*b+e] = d[c*b+e], d[p*b+e]
				u[p*b+e], u[c*b+e] = u[c*b+e], u[p*b+e]
			}
			r[p], r[c] = r[c], r[p]
		}
		for a := c + 1; a < b; a++ {
			f := d[a*b+c] / d[c*b+c]
			if f == 0 {
				continue
			}
			for e := c; e < b; e++ {
				d[a*b+e] -= f * d[c*b+e]
			}
			if up {
				for e := range b {
					u[a*b+e] -= f * u[c*b+e]
				}
			}
			r[a] -= f * r[c]
		}
	}
	for a := b - 1; a >= 0; a-- {
		for c := a + 1; c < b; c++ {
			f := d[a*b+c]
			if f == 0 {
				continue
			}
			r[a] -= f * r[c]
			if up {
				for e := range b {
					u[a*b+e] -= f * u[c*b+e]
				}
			}
		}
		f := 1 / d[a*b+a]
		r[a] *= f
		if up {
			for e := range b {
				u[a*b+e] *= f
			}
		}
	}
	return true
}

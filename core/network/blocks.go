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
	// hasUp and hasLow say which segments depend on the next and on the one before.
	hasUp, hasLow []bool
	// ties are what rows depend on in segments that are not beside theirs; once sorted, those of segment i are
	// ties[begin[i]:begin[i+1]].
	ties, spare []tie
	begin       []int
	rhs         []float64
	all         []float64 // what the others are cut from
}

// tie is a coefficient outside the three diagonals: row and column are counted over all unknowns.
type tie struct {
	row, col int
	v        float64
}

// newBlocks makes a block-tridiagonal system of n blocks of b unknowns, all in
// one piece of memory.
func newBlocks(n, b int) *blocks {
	s := &blocks{n: n, b: b, hasUp: make([]bool, n), hasLow: make([]bool, n), all: make([]float64, n*b*(3*b+1))}
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

// reset sets all coefficients to zero for the next assembly.
func (s *blocks) reset() {
	clear(s.all)
	clear(s.hasUp)
	clear(s.hasLow)
	s.ties = s.ties[:0]
}

// add adds to the coefficient by which a row of segment i depends on a column of segment j.
func (s *blocks) add(i, j, row, col int, v float64) {
	k := row*s.b + col
	switch j {
	case i:
		s.diag[i][k] += v
	case i - 1:
		s.hasLow[i] = true
		s.low[i][k] += v
	case i + 1:
		s.hasUp[i] = true
		s.up[i][k] += v
	default:
		s.ties = append(s.ties, tie{i*s.b + row, j*s.b + col, v})
	}
}

// solve overwrites the system. It reports whether every pivot was sound.
// Without ties it is one block-tridiagonal elimination. With them it is one for each stretch of segments that depend on
// each other, in an order in which all that a stretch depends on is solved before it; it reports false where there is none.
func (s *blocks) solve(x []float64) bool {
	if len(s.ties) == 0 {
		return s.eliminate(0, s.n, x)
	}
	s.sort()
	solved := make([]bool, s.n)
	for left := s.n; left > 0; {
		before := left
		for lo := 0; lo < s.n; {
			hi := lo + 1
			for hi < s.n && s.hasUp[hi-1] && s.hasLow[hi] {
				hi++
			}
			if !solved[lo] && s.known(lo, hi, solved) {
				s.insert(lo, hi, x)
				if !s.eliminate(lo, hi, x) {
					return false
				}
				for i := lo; i < hi; i++ {
					solved[i] = true
				}
				left -= hi - lo
			}
			lo = hi
		}
		if left == before {
			return false
		}
	}
	return true
}

// known says whether all that a stretch depends on outside itself is solved.
func (s *blocks) known(lo, hi int, solved []bool) bool {
	if lo > 0 && s.hasLow[lo] && !solved[lo-1] || hi < s.n && s.hasUp[hi-1] && !solved[hi] {
		return false
	}
	for _, t := range s.ties[s.begin[lo]:s.begin[hi]] {
		if !solved[t.col/s.b] {
			return false
		}
	}
	return true
}

// sort puts the ties in the order of their segments and leaves those of a segment as they were added: a network of many tubes has
// thousands, and each stretch asks for its own.
func (s *blocks) sort() {
	if s.begin == nil {
		s.begin = make([]int, s.n+2)
	}
	clear(s.begin)
	for _, t := range s.ties {
		s.begin[t.row/s.b+2]++
	}
	for i := 2; i < len(s.begin); i++ {
		s.begin[i] += s.begin[i-1]
	}
	if cap(s.spare) < len(s.ties) {
		s.spare = make([]tie, len(s.ties))
	}
	s.spare = s.spare[:len(s.ties)]
	for _, t := range s.ties {
		at := &s.begin[t.row/s.b+1]
		s.spare[*at] = t
		*at++
	}
	s.ties, s.spare = s.spare, s.ties
}

// insert puts the solved unknowns that a stretch depends on into its right-hand side.
func (s *blocks) insert(lo, hi int, x []float64) {
	b := s.b
	from := func(i, j int, block []float64) {
		for a := range b {
			for c := range b {
				s.rhs[i*b+a] -= block[a*b+c] * x[j*b+c]
			}
		}
	}
	if lo > 0 && s.hasLow[lo] {
		from(lo, lo-1, s.low[lo])
	}
	if hi < s.n && s.hasUp[hi-1] {
		from(hi-1, hi, s.up[hi-1])
	}
	for _, t := range s.ties[s.begin[lo]:s.begin[hi]] {
		s.rhs[t.row] -= t.v * x[t.col]
	}
}

// eliminate solves the segments from lo to hi, which depend on no others, forwards and substitutes backwards.
func (s *blocks) eliminate(lo, hi int, x []float64) bool {
	b := s.b
	for i := lo; i < hi; i++ {
		if i > lo {
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
	for i := hi - 1; i >= lo; i-- {
		for a := range b {
			v := s.rhs[i*b+a]
			if i+1 < hi && s.hasUp[i] {
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

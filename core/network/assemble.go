package network

import (
	"math"
)

// airCoefficients returns, for an air node of mass flow mass that touches its
// layers with hs W/K in all, the share of the mixed feed left at the end of the
// segment, and the share of it in the segment's mean.
func (n *Network) airCoefficients(hs, mass float64) (left, mean float64) {
	c := mass * n.Cp
	if c <= 0 {
		return 0, 0
	}
	ntu := hs / c
	left = math.Exp(-ntu)
	if ntu < 1e-6 {
		return left, 1 - ntu/2
	}
	return left, (1 - left) / ntu
}

// assemble writes the linear system whose solution is the next iterate;
// coefficients are held within so many kelvin.
func (n *Network) assemble(sys *blocks, x []float64, within float64) {
	k, b := len(n.Sun), sys.b
	sys.reset()
	sys.ready(n)
	r := rows{n: n, sys: sys, x: x, within: within, k: k, b: b}
	for i := range n.Segments {
		r.i, r.seg, r.touch = i, n.Area*n.share(i), i*sys.perSegment
		r.t, r.d, r.rhs = x[i*b:(i+1)*b], sys.diag[i], sys.rhs[i*b:(i+1)*b]
		links, airs, first := n.part(i)
		r.first = first
		r.stored()
		r.linked(links)
		for ai := range airs {
			r.air(&airs[ai], k+ai, &sys.nodes[i*len(airs)+ai])
		}
	}
}

// rows are the equations of one segment as they are written: those of the
// layers first, those of the air nodes after them.
type rows struct {
	n   *Network
	sys *blocks
	// x is the last iterate, of all segments.
	x []float64
	// within is how near coefficients must be to be kept, K.
	within float64
	// k is the number of layers, and b that of layers and air nodes.
	k, b int
	// i is the segment, and first the first of its part; seg is its area, m2.
	i, first int
	seg      float64 // its area, m2
	// touch is the next held coefficient between layers and air.
	touch int
	// t are temperatures, d the diagonal block and rhs the right-hand side of
	// the segment.
	t, d, rhs []float64
	h         [16]float64
}

// stored writes the sun on each layer, and in a step in time the heat that it
// takes up.
func (r *rows) stored() {
	n := r.n
	for a := range r.k {
		r.rhs[a] += n.Sun[a] * r.seg
		if n.Old != nil {
			c := n.Store[a] / n.Step * r.seg
			r.d[a*r.b+a] += c
			r.rhs[a] += c * n.Old.Layer[r.i][a]
		}
	}
}

// between writes a conductance between two layers, W/K.
func (r *rows) between(a, b int, g float64) {
	r.d[a*r.b+a] += g
	r.d[a*r.b+b] -= g
	r.d[b*r.b+b] += g
	r.d[b*r.b+a] -= g
}

// linked writes the exchange of layers with one another and with the world
// outside.
func (r *rows) linked(links []Link) {
	for li := range links {
		l, held := &links[li], &r.sys.links[r.i*r.sys.perLinks+li]
		if l.Role == Inner {
			r.between(l.A, l.B, held.at(r.t[l.A], r.t[l.B], r.within, l.G)*r.seg)
			continue
		}
		out := r.n.Outside[l.To]
		g := held.at(r.t[l.A], out, r.within, l.G) * r.seg
		r.d[l.A*r.b+l.A] += g
		r.rhs[l.A] += g * out
	}
}

// mixed is the air that enters a node, kg/s, and its temperature times that, by
// the last iterate.
func (r *rows) mixed(feeds []Feed) (mass, mix float64) {
	for _, f := range feeds {
		mass += f.Mass
		switch f.From {
		case FromInlet:
			mix += f.Mass * r.n.Inlet
		case FromOutdoor:
			mix += f.Mass * r.n.Outside[Ambient]
		default:
			mix += f.Mass * r.x[(r.first+f.At)*r.b+r.k+f.From]
		}
	}
	return mass, mix
}

// air writes one air node, its row T = left * mix + (1 - left) * towards, and
// to each layer that it touches a gain h (Tmean - Tlayer) with Tmean = mean *
// mix + (1 - mean) * towards.
func (r *rows) air(air *Air, row int, was *node) {
	feeds := air.Feeds[r.i-r.first]
	mass, mix := r.mixed(feeds)
	// The air's mean in the node, by the coefficients of the round before.
	stream := r.t[row]
	if mass > 0 && was.left < 1 {
		mix /= mass
		stream = was.mean*mix + (1-was.mean)*(r.t[row]-was.left*mix)/(1-was.left)
	}
	hs := 0.0
	for ti := range air.Touches {
		touch := &air.Touches[ti]
		r.h[ti] = r.sys.touches[r.touch].at(r.t[touch.Layer], stream, r.within, touch.H) * r.seg
		r.touch++
		if air.Scale != nil {
			r.h[ti] *= air.Scale[r.i-r.first]
		}
		hs += r.h[ti]
	}
	segment := r.i - r.first
	for pi := range air.Pairs {
		p := &air.Pairs[pi]
		g := r.sys.touches[r.touch].at(r.t[p.A], r.t[p.B], r.within, func(ta, tb float64) float64 { return p.G(segment, ta, tb) })
		r.touch++
		r.between(p.A, p.B, g*r.seg)
	}
	left, mean := r.n.airCoefficients(hs, mass)
	*was = node{left, mean}
	r.d[row*r.b+row] = 1
	if hs > 0 {
		r.washed(air.Touches, row, hs, left, mean)
	}
	if mass > 0 {
		r.fed(air.Touches, feeds, row, mass, left, mean)
	} else if hs == 0 { // neither fed nor touched: let it follow the inlet
		r.rhs[row] += r.n.Inlet
	}
}

// washed writes what the layers do to the air and to one another through it; hs
// is the sum of their conductances, W/K.
func (r *rows) washed(touches []Touch, row int, hs, left, mean float64) {
	for ti := range touches {
		l := touches[ti].Layer
		r.d[l*r.b+l] += r.h[ti]
		w := r.h[ti] / hs
		r.d[row*r.b+l] -= (1 - left) * w
		for tj := range touches {
			r.d[touches[tj].Layer*r.b+l] -= r.h[tj] * (1 - mean) * w
		}
	}
}

// fed writes what the air that enters a node does to it and to the layers.
func (r *rows) fed(touches []Touch, feeds []Feed, row int, mass, left, mean float64) {
	for _, f := range feeds {
		share := f.Mass / mass
		switch f.From {
		case FromInlet, FromOutdoor:
			src := r.n.Inlet
			if f.From == FromOutdoor {
				src = r.n.Outside[Ambient]
			}
			r.rhs[row] += left * share * src
			for ti := range touches {
				r.rhs[touches[ti].Layer] += r.h[ti] * mean * share * src
			}
		default:
			from, col := r.first+f.At, r.k+f.From
			r.sys.add(r.i, from, row, col, -left*share)
			for ti := range touches {
				r.sys.add(r.i, from, touches[ti].Layer, col, -r.h[ti]*mean*share)
			}
		}
	}
}

// A held coefficient is kept while its temperatures stay near those it was
// found at, within stale for an answer: a coefficient moves by under 2 % per
// kelvin, so a held one is right to some millionths, and finding it costs most
// of a round.
type held struct {
	a, b, v float64
	known   bool
}

const stale = 2e-4 // K

// slack is how far temperatures may move in steps of time before a coefficient
// is found again, K: half a kelvin moves one by under a per cent.
const slack = 0.5

// at returns the coefficient for two temperatures, the held one while neither
// has moved by more than within, K.
func (h *held) at(a, b, within float64, find func(a, b float64) float64) float64 {
	if h.known && math.Abs(a-h.a) < within && math.Abs(b-h.b) < within {
		return h.v
	}
	*h = held{a, b, find(a, b), true}
	return h.v
}

// Forget drops what is kept between solves, for a step whose coefficients are
// all to be found again.
func (n *Network) Forget() { n.sys = nil }

// Renew forgets the coefficients of the air, after its flow has changed.
func (n *Network) Renew() {
	if n.sys != nil {
		clear(n.sys.touches)
	}
}

// ready makes room for the held coefficients of a network, and forgets them
// where its shape has changed.
func (s *blocks) ready(n *Network) {
	s.perLinks, s.perSegment = len(n.Links), touched(n.Airs)
	for i := range n.Parts {
		s.perLinks, s.perSegment = max(s.perLinks, len(n.Parts[i].Links)), max(s.perSegment, touched(n.Parts[i].Airs))
	}
	if want := n.Segments * s.perLinks; len(s.links) != want {
		s.links = make([]held, want)
	}
	if want := n.Segments * s.perSegment; len(s.touches) != want {
		s.touches = make([]held, want)
	}
	if want := n.Segments * n.airs(); len(s.nodes) != want {
		s.nodes = make([]node, want)
		for i := range s.nodes {
			s.nodes[i] = node{0, 0.5}
		}
	}
}

// touched is how many coefficients the air nodes of a segment have.
func touched(airs []Air) (n int) {
	for i := range airs {
		n += len(airs[i].Touches) + len(airs[i].Pairs)
	}
	return n
}

// A node is what an air node keeps of what enters it: at its end, and in its
// mean.
type node struct{ left, mean float64 }

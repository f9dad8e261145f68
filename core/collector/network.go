// Package collector is the heat balance of a solar air heater.
//
// Every box, however it is made, is the same network: solid layers (covers,
// plates, screens, the back) and air nodes, repeated in N segments along the
// air's way. Layers absorb sun, exchange radiation and convection with each
// other and with the outside; air nodes are fed by other air nodes, touch
// layers, and warm exponentially towards them. A family of construction is a
// description of layers and passages ([Passages]) handed to this one solver;
// it has no solver of its own.
//
// All unknown temperatures are found together: coefficients from the last
// iterate, one block-tridiagonal linear solve over the segments, until nothing
// moves by more than a millionth of a kelvin. Streams may run either way, so
// counterflow is no special case.
package collector

import (
	"errors"
	"math"
)

// Outside is a fixed temperature that links may end at.
type Outside int

// The fixed temperatures.
const (
	Ambient Outside = iota
	SkyDome
	Indoors
	outsides
)

// Role says in which part of the energy split a link to the outside counts.
type Role int

// Roles of links; Inner links join two layers.
const (
	Inner Role = iota
	Front
	Back
	Edge
	Room // warms the room without passing through the air
	roles
)

// A Link carries heat between two layers, or from a layer to the outside. G
// is its conductance in W/m2K of aperture for the two temperatures in C.
type Link struct {
	A    int
	B    int     // the other layer, for an Inner link
	To   Outside // the other end, else
	Role Role
	G    func(ta, tb float64) float64
}

// Touch is a layer that an air node sweeps; H is the coefficient times
// surface per m2 of aperture, W/m2K, for layer and air temperature in C.
type Touch struct {
	Layer int
	H     func(layer, air float64) float64
}

// Sources of a feed that are no air node.
const (
	FromInlet   = -1
	FromOutdoor = -2
)

// Feed is air that enters an air node: from the node From of segment At, from
// the inlet, or from outdoors, in kg/s.
type Feed struct {
	From int
	At   int
	Mass float64
}

// A Pair is heat that an air node carries between two layers besides what they give to its
// mean: G is its conductance in W/m2K of aperture, in a segment, for the layers'
// temperatures in C. It may be negative, see [passage.pair].
type Pair struct {
	A, B int
	G    func(segment int, ta, tb float64) float64
}

// Air is an air node of each segment. Feeds[i] may name nodes of segments
// i-1, i and i+1 only.
type Air struct {
	Name    string
	Feeds   [][]Feed
	Touches []Touch
	Pairs   []Pair
	Scale   []float64 // of the touches by segment; nil means 1
}

// Part is a stretch of segments with its own links and air nodes, as many of these as the other
// parts have. Feeds of its air nodes count segments from the part's first.
type Part struct {
	First, Segments int
	Links           []Link
	Airs            []Air
}

// Network is the heat balance as the solver takes it.
type Network struct {
	Segments int
	Spread   []float64 // each segment's share of the area; nil: all alike
	Area     float64   // aperture, m2
	Sun      []float64 // absorbed by each layer, W/m2 of aperture
	Links    []Link
	Airs     []Air
	// Parts stand in for Links and Airs where stretches of segments differ: boxes side by side.
	Parts   []Part
	Outlet  []Feed // mixed to the outlet; Mass in kg/s
	LeakOut []Feed // lost to outdoors
	Cp      float64
	Inlet   float64
	Outside [outsides]float64

	// For steps in time: what each layer takes up, J/m2K, and the step, s. With
	// Old set, the layers' heat since then is part of the balance.
	Store []float64
	Step  float64
	Old   *State

	sys *blocks // kept between solves of the same shape
}

// State is a solved network: temperatures in C by segment.
type State struct {
	Layer  [][]float64 // [segment][layer]
	Share  []float64   // of the area, by segment
	Air    [][]float64 // [segment][air], leaving the node
	Mean   [][]float64 // [segment][air], of the air in the node
	Outlet float64
	Lost   [roles]float64 // W by role
	Rounds int
}

// ErrNoBalance is returned where the iteration does not settle.
var ErrNoBalance = errors.New("the heat balance did not settle; please report this heater")

const (
	settled   = 1e-7 // K, for a final answer
	maxRounds = 200
)

// Solve finds the temperatures at which every node's heat sums to zero. A
// previous state of the same shape may be given to start from; settle is the
// largest last move allowed, K.
func (n *Network) Solve(start *State, settle float64) (*State, error) {
	k, s := len(n.Sun), n.airs()
	b := k + s
	st := &State{}
	x := make([]float64, n.Segments*b)
	for i := range x {
		x[i] = n.Inlet + 10
	}
	if start != nil && len(start.Layer) == n.Segments && len(start.Layer[0]) == k && len(start.Air[0]) == s {
		for i := range n.Segments {
			copy(x[i*b:], start.Layer[i])
			copy(x[i*b+k:], start.Air[i])
		}
	}
	if n.sys == nil || n.sys.b != b {
		n.sys = newBlocks(n.Segments, b)
	}
	sys := n.sys
	next := make([]float64, len(x))
	prev := make([]float64, len(x))
	for st.Rounds = 1; st.Rounds <= maxRounds; st.Rounds++ {
		n.assemble(sys, x, math.Max(stale, settle/10))
		if !sys.solve(next) {
			return nil, ErrNoBalance
		}
		worst := 0.0
		for i := range x {
			if math.IsNaN(next[i]) {
				return nil, ErrNoBalance
			}
			// Aitken-like: a step that swings back is halved.
			step := next[i] - x[i]
			if st.Rounds > 12 && step*prev[i] < 0 {
				step /= 2
			}
			prev[i] = step
			worst = math.Max(worst, math.Abs(step))
			x[i] += step
		}
		if worst < settle {
			break
		}
	}
	if st.Rounds > maxRounds {
		return nil, ErrNoBalance
	}
	n.finish(st, x)
	return st, nil
}

// Advance makes one implicit step in time from a state, by one linear solve
// with the coefficients of that state.
func (n *Network) Advance(from *State, step float64) (*State, error) {
	k, s := len(n.Sun), n.airs()
	b := k + s
	if n.sys == nil || n.sys.b != b || n.sys.n != n.Segments {
		n.sys = newBlocks(n.Segments, b)
	}
	x := make([]float64, n.Segments*b)
	for i := range n.Segments {
		copy(x[i*b:], from.Layer[i])
		for a := range s {
			x[i*b+k+a] = n.Inlet
			if len(from.Air[i]) == s {
				x[i*b+k+a] = from.Air[i][a]
			}
		}
	}
	n.Old, n.Step = from, step
	defer func() { n.Old = nil }()
	n.assemble(n.sys, x, slack)
	next := make([]float64, len(x))
	if !n.sys.solve(next) {
		return nil, ErrNoBalance
	}
	st := &State{Rounds: 1}
	n.finish(st, next)
	return st, nil
}

// airCoefficients returns, for an air node of mass flow mass that touches its
// layers with hs W/K in all, the share of the mixed feed left at the end of the segment,
// and the share of it in the segment's mean.
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
	sys.clear()
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

// rows are the equations of one segment as they are written: those of the layers first, those
// of the air nodes after them.
type rows struct {
	n         *Network
	sys       *blocks
	x         []float64 // the last iterate, of all segments
	within    float64   // K
	k, b      int       // layers; layers and air nodes
	i, first  int       // the segment, and the first of its part
	seg       float64   // its area, m2
	touch     int       // the next held coefficient between layers and air
	t, d, rhs []float64 // temperatures, the diagonal block and the right-hand side of the segment
	h         [16]float64
}

// stored writes the sun on each layer, and in a step in time the heat that it takes up.
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

// linked writes the exchange of layers with one another and with the world outside.
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

// mixed is the air that enters a node, kg/s, and its temperature times that, by the last iterate.
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

// air writes one air node, its row T = left * mix + (1 - left) * towards, and to each layer that
// it touches a gain h (Tmean - Tlayer) with Tmean = mean * mix + (1 - mean) * towards.
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

// washed writes what the layers do to the air and to one another through it; hs is the sum of
// their conductances, W/K.
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
			blk, col := r.sys.at(r.i, r.first+f.At), r.k+f.From
			blk[row*r.b+col] -= left * share
			for ti := range touches {
				blk[touches[ti].Layer*r.b+col] -= r.h[ti] * mean * share
			}
		}
	}
}

// part is the one that a segment belongs to.
func (n *Network) part(i int) (links []Link, airs []Air, first int) {
	for k := range n.Parts {
		if p := &n.Parts[k]; i < p.First+p.Segments {
			return p.Links, p.Airs, p.First
		}
	}
	return n.Links, n.Airs, 0
}

// airs is how many air nodes a segment has.
func (n *Network) airs() int {
	if len(n.Parts) > 0 {
		return len(n.Parts[0].Airs)
	}
	return len(n.Airs)
}

// share is a segment's part of the area.
func (n *Network) share(i int) float64 {
	if n.Spread == nil {
		return 1 / float64(n.Segments)
	}
	return n.Spread[i]
}

// finish fills the state from a solution: temperatures by segment, the outlet, and what is lost by each role, W.
func (n *Network) finish(st *State, x []float64) {
	k, b := len(n.Sun), len(n.Sun)+n.airs()
	for i := range n.Segments {
		seg := n.Area * n.share(i)
		st.Share = append(st.Share, n.share(i))
		st.Layer = append(st.Layer, x[i*b:i*b+k:i*b+k])
		st.Air = append(st.Air, x[i*b+k:(i+1)*b:(i+1)*b])
		st.Mean = append(st.Mean, make([]float64, b-k))
		links, _, _ := n.part(i)
		for li, l := range links {
			if l.Role == Inner {
				continue
			}
			t, out := st.Layer[i][l.A], n.Outside[l.To]
			g := 0.0
			if n.Old != nil { // as the step reckoned with it
				g = n.sys.links[i*n.sys.perLinks+li].v
			} else {
				g = l.G(t, out)
			}
			st.Lost[l.Role] += g * (t - out) * seg
		}
	}
	n.means(st)
	mass, heat := 0.0, 0.0
	for _, f := range n.Outlet {
		mass += f.Mass
		heat += f.Mass * n.source(st, f, 0)
	}
	st.Outlet = n.Inlet
	if mass > 0 {
		st.Outlet = heat / mass
	}
}

// source is the temperature of a feed whose segments are counted from the first, C.
func (n *Network) source(st *State, f Feed, first int) float64 {
	switch f.From {
	case FromInlet:
		return n.Inlet
	case FromOutdoor:
		return n.Outside[Ambient]
	}
	return st.Air[first+f.At][f.From]
}

// means finds the mean temperature of the air in each node with the coefficients of the
// last round: what enters, and its layers' mean, by the node's own share of each.
func (n *Network) means(st *State) {
	for i := range n.Segments {
		seg, touch := n.Area*n.share(i), i*n.sys.perSegment
		_, airs, first := n.part(i)
		for ai := range airs {
			air := &airs[ai]
			mass, mix, hs, towards := 0.0, 0.0, 0.0, 0.0
			for _, f := range air.Feeds[i-first] {
				mass += f.Mass
				mix += f.Mass * n.source(st, f, first)
			}
			for ti := range air.Touches {
				h := n.sys.touches[touch].v * seg
				touch++
				if air.Scale != nil {
					h *= air.Scale[i-first]
				}
				hs += h
				towards += h * st.Layer[i][air.Touches[ti].Layer]
			}
			touch += len(air.Pairs)
			st.Mean[i][ai] = st.Air[i][ai]
			if mass > 0 && hs > 0 {
				_, mean := n.airCoefficients(hs, mass)
				st.Mean[i][ai] = mean*mix/mass + (1-mean)*towards/hs
			}
		}
	}
}

// A held coefficient is kept while its temperatures stay near those it was
// found at, within stale for an answer: a coefficient moves by under 2 % per kelvin, so a held one
// is right to some millionths, and finding it costs most of a round.
type held struct {
	a, b, v float64
	known   bool
}

const stale = 2e-4 // K

// slack is how far temperatures may move in steps of time before a coefficient
// is found again, K: half a kelvin moves one by under a per cent.
const slack = 0.5

// at returns the coefficient for two temperatures, the held one while neither has moved by more than within, K.
func (h *held) at(a, b, within float64, find func(a, b float64) float64) float64 {
	if h.known && math.Abs(a-h.a) < within && math.Abs(b-h.b) < within {
		return h.v
	}
	*h = held{a, b, find(a, b), true}
	return h.v
}

// renew forgets the coefficients of the air, after its flow has changed.
func (n *Network) renew() {
	if n.sys != nil {
		clear(n.sys.touches)
	}
}

// ready makes room for the held coefficients of a network, and forgets them where its shape has changed.
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

// leak is the heat that leaks carry off, W: warm air lost, and outdoor air to be
// warmed to the inlet's temperature.
func (n *Network) leak(st *State) (w float64) {
	for _, f := range n.LeakOut {
		if f.From >= 0 {
			w += f.Mass * n.Cp * (st.Air[f.At][f.From] - n.Inlet)
		}
	}
	cold := func(fs []Feed) {
		for _, f := range fs {
			if f.From == FromOutdoor {
				w += f.Mass * n.Cp * (n.Inlet - n.Outside[Ambient])
			}
		}
	}
	each := func(airs []Air) {
		for _, a := range airs {
			for _, fs := range a.Feeds {
				cold(fs)
			}
		}
	}
	each(n.Airs)
	for i := range n.Parts {
		each(n.Parts[i].Airs)
	}
	cold(n.Outlet)
	return w
}

// A node is what an air node keeps of what enters it: at its end, and in its mean.
type node struct{ left, mean float64 }

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

// newBlocks makes a block-tridiagonal system of n blocks of b unknowns, all in one piece of memory.
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

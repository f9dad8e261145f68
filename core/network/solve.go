package network

import (
	"errors"
	"math"
)

// ErrNoBalance is returned where the iteration does not settle.
var ErrNoBalance = errors.New("the heat balance did not settle; please report this heater")

const (
	Settled   = 1e-7 // K, for a final answer
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
		n.assemble(sys, x, max(stale, settle/10))
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
			worst = max(worst, math.Abs(step))
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

// finish fills the state from a solution: temperatures by segment, the outlet,
// and what is lost by each role, W.
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
		heat += f.Mass * n.Source(st, f, 0)
	}
	st.Outlet = n.Inlet
	if mass > 0 {
		st.Outlet = heat / mass
	}
}

// Source is the temperature of a feed whose segments are counted from the
// first, C.
func (n *Network) Source(st *State, f Feed, first int) float64 {
	switch f.From {
	case FromInlet:
		return n.Inlet
	case FromOutdoor:
		return n.Outside[Ambient]
	}
	return st.Air[first+f.At][f.From]
}

// means finds the mean temperature of the air in each node with the
// coefficients of the last round: what enters, and its layers' mean, by the
// node's own share of each.
func (n *Network) means(st *State) {
	for i := range n.Segments {
		seg, touch := n.Area*n.share(i), i*n.sys.perSegment
		_, airs, first := n.part(i)
		for ai := range airs {
			air := &airs[ai]
			mass, mix, hs, towards := 0.0, 0.0, 0.0, 0.0
			for _, f := range air.Feeds[i-first] {
				mass += f.Mass
				mix += f.Mass * n.Source(st, f, first)
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

// LeakHeat is the heat that leaks carry off, W: warm air lost, and outdoor air
// to be warmed to the inlet's temperature.
func (n *Network) LeakHeat(st *State) (w float64) {
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

package measure

import (
	"math"
	"time"

	"gonum.org/v1/gonum/mat"
)

// A thermostat seldom turns at what its label says, nor feels what the probe reads. With a disc
// that closes 2.5 K early the outlet of a box never reaches the label's point, and a rule that
// waits for it finds a fan that never ran; one that opens early counts a box that stands still
// in the evening as one that heats for another half hour. What tells them apart is how the
// outlet moves: with air it follows the sun within minutes to a modest rise over the inlet,
// without air it climbs slowly and far.
//
// So the fan's two states are those of a hidden Markov chain. In each the outlet moves towards
// its own balance as a body of one time constant; turns are likely near the thermostat's points
// and hardly elsewhere; the likeliest sequence is found by Viterbi's algorithm (Rabiner 1989,
// section III.B). The two movements and the two points are first those of a usual box and of
// the label, then learned from the readings that each state took, a few times over.
//
// Without a measured sun a box that stands still under half a sun looks like one that runs in a
// full one; there the points decide more, and a tenth of the hours under broken clouds is wrong.
const (
	// labelOff is how far the points may lie from the label, K; snap discs are sold to 2.8 K
	// (5 F), common practice, no source.
	labelOff = 3.0
	// turnCost is the surprise of a turn at its point, in natural units of information, and
	// oddCost how much more one far from it is at most: a plug is pulled once in a while.
	turnCost, oddCost = 4.0, 40.0
	// scatter is the least standard deviation of the outlet's movement, K in a step.
	scatter = 0.25
	// learnings is how often the movements and points are learned, and piece the steps that are
	// taken at a time: a fortnight by the minute.
	learnings, piece = 3, 20_000
	// lean is how much of the surprise of a point that was passed without a turn counts in each
	// step that it stays passed.
	lean = 2
	// steadyStep is the shortest step that is judged, so that the probe's own steps of a tenth
	// do not count more with a quicker logger.
	steadyStep = 50 * time.Second
)

// movement is how the outlet moves in a state, per minute: by back of its distance from the air
// that it is measured from, by sun of the sun, K for each W/m2, and by a constant, K.
type movement struct {
	back, sun, base float64
	// spread is the standard deviation of what it misses, K in a minute.
	spread float64
}

// usual are the movements of a usual box: 20 K in a full sun in 4 minutes with air, measured
// from the inlet; 64 K in 12 minutes without, from outdoors. Our judgment.
var usual = [2]movement{{back: 1.0 / 12, sun: 0.08 / 12, spread: 0.5}, {back: 1.0 / 4, sun: 0.025 / 4, spread: 0.5}}

// step is one movement of the outlet.
type step struct {
	at             int // the reading that it ends at
	outlet, moved  float64
	minutes, sun   float64
	inlet, outdoor float64
	fresh          bool // after a gap, in which anything may have happened
}

// from is what the outlet is measured from in a state.
func (x *step) from(state int) float64 {
	if state == 1 {
		return x.inlet
	}
	return x.outdoor
}

// part is the time, min, that a step of so many would take at the speed with which it begins:
// the body nears its balance.
func (m *movement) part(minutes float64) float64 { return (1 - math.Exp(-m.back*minutes)) / m.back }

// surprise is that of a step in a state, in natural units.
func (m *movement) surprise(x *step, state int) float64 {
	part := m.part(x.minutes)
	miss := x.moved - part*(m.back*(x.from(state)-x.outlet)+m.sun*x.sun+m.base)
	sigma := math.Hypot(scatter, m.spread*part)
	return miss*miss/(2*sigma*sigma) + math.Log(sigma)
}

// switched says when the fan runs behind a thermostat. It takes a long log in pieces, so that
// memory does not grow with it, and learns from each: people move a set point with the month.
func switched(on []bool, s []Sample, set Setup) {
	suns, _ := sunOn(s, set)
	longest := Longest(interval(s))
	moves := usual
	turns := [2]point{{set.Open, labelOff / 2}, {set.Close, labelOff / 2}}
	last := byte(0)
	for from := 0; from < len(s)-1; {
		steps, to := stepsOf(s, suns, longest, from)
		known, label := moves, turns // by the piece before
		for range learnings {
			states := likeliest(steps, moves, turns, last)
			for state := range moves {
				moves[state] = known[state].fitted(moves[state], steps, states, state)
				turns[state] = label[state].learned(steps, states, state)
			}
		}
		states := likeliest(steps, moves, turns, last)
		next := 0
		for i := from; i <= to; i++ {
			for next < len(steps)-1 && steps[next].at < i {
				next++
			}
			if len(steps) > 0 {
				last = states[next]
			}
			on[i] = last == 1 && s[i].Outlet > s[i].Inlet
		}
		from = to
	}
}

// stepsOf are the movements from a reading on between readings that belong together, a piece of
// them, and the reading that the piece ends at.
func stepsOf(s []Sample, suns []float64, longest time.Duration, from int) (steps []step, to int) {
	outdoor := math.NaN()
	before, fresh := from, false
	for i := from + 1; i < len(s); i++ {
		apart := s[i].At.Sub(s[before].At)
		if apart < steadyStep {
			continue
		}
		if a := s[before].Outdoor; !math.IsNaN(a) {
			outdoor = a
		}
		if apart <= longest {
			x := step{at: i, outlet: s[before].Outlet, moved: s[i].Outlet - s[before].Outlet, minutes: apart.Minutes(),
				sun: (suns[before] + suns[i]) / 2, inlet: s[before].Inlet, outdoor: outdoor, fresh: fresh}
			if math.IsNaN(outdoor) { // nobody logged it: a winter's day
				x.outdoor = x.inlet - 15
			}
			steps = append(steps, x)
		}
		before, fresh = i, apart > longest
		if len(steps) == piece {
			return steps, i
		}
	}
	return steps, len(s) - 1
}

// point is where a thermostat turns, C, with its standard uncertainty, K.
type point struct{ at, u float64 }

// odds is the surprise that the point lies beyond a temperature, above it with a way of 1.
func (p point) odds(way, t float64) float64 {
	by := max(0, way*(t-p.at)) / p.u
	return by * by / 2
}

// learned is the point by the turns into a state, each of which the probe tells to a kelvin.
func (p point) learned(steps []step, states []byte, state int) point {
	weight := 1 / (p.u * p.u)
	sum := weight * p.at
	for i := 1; i < len(states); i++ {
		if int(states[i]) == state && states[i-1] != states[i] {
			sum, weight = sum+steps[i].outlet, weight+1
		}
	}
	const least = 0.7
	return point{sum / weight, max(least, 1/math.Sqrt(weight))}
}

// likeliest are the states, 1 for running, that explain the steps best after a state before them.
func likeliest(steps []step, moves [2]movement, turns [2]point, before byte) []byte {
	came := make([]byte, len(steps)) // bit k: the state before, where this one is k
	cost := [2]float64{turnCost, turnCost}
	cost[before] = 0
	for i := range steps {
		x := &steps[i]
		now := x.outlet
		early, late := turns[1].odds(-1, now), turns[1].odds(1, now)
		toOn := turnCost + min(oddCost, early)
		soon, slow := turns[0].odds(1, now), turns[0].odds(-1, now)
		toOff := turnCost + min(oddCost, soon)
		if x.fresh {
			toOn, toOff = turnCost, turnCost
		}
		off, run := cost[0], cost[1]
		if run+toOff < off {
			off = run + toOff
			came[i] |= 1
		}
		if cost[0]+toOn < run {
			run = cost[0] + toOn
		} else {
			came[i] |= 2
		}
		cost = [2]float64{off + moves[0].surprise(x, 0) + lean*late, run + moves[1].surprise(x, 1) + lean*slow}
	}
	states := make([]byte, len(steps))
	state := byte(0)
	if cost[1] < cost[0] {
		state = 1
	}
	for i := len(steps) - 1; i >= 0; i-- {
		states[i] = state
		state = came[i] >> state & 1
	}
	return states
}

// fitted is a movement by the steps of a state: least squares, held to the usual one as if by an
// hour of readings of its own; before is that of the round before.
func (m movement) fitted(before movement, steps []step, states []byte, state int) movement {
	const hour, suns, few = 60.0, 500.0, 10.0 // readings, W/m2 of a usual sun, and readings by which the spread is held
	a, b := mat.NewSymDense(3, nil), mat.NewVecDense(3, nil)
	known := []float64{m.back, m.sun, m.base}
	for i, scale := range []float64{15, suns, 1} {
		a.SetSym(i, i, hour*scale*scale)
		b.SetVec(i, hour*scale*scale*known[i])
	}
	count := few
	var square float64
	each := func(tell func(row [3]float64, moved float64)) {
		for i := range steps {
			if x := &steps[i]; int(states[i]) == state {
				tell([3]float64{x.from(state) - x.outlet, x.sun, 1}, x.moved/before.part(x.minutes))
			}
		}
	}
	each(func(row [3]float64, moved float64) {
		for i := range row {
			b.SetVec(i, b.AtVec(i)+row[i]*moved)
			for k := i; k < len(row); k++ {
				a.SetSym(i, k, a.At(i, k)+row[i]*row[k])
			}
		}
	})
	var chol mat.Cholesky
	var x mat.VecDense
	if !chol.Factorize(a) || chol.SolveVecTo(&x, b) != nil {
		return m
	}
	out := movement{back: max(1.0/60, min(1, x.AtVec(0))), sun: max(0, x.AtVec(1)), base: x.AtVec(2)}
	each(func(row [3]float64, moved float64) {
		miss := moved - out.back*row[0] - out.sun*row[1] - out.base
		square += miss * miss
		count++
	})
	out.spread = math.Sqrt((square + few*m.spread*m.spread) / count)
	return out
}

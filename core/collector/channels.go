package collector

import (
	"math"

	"gladember/core/air"
	"gladember/core/airflow"
	"gladember/core/heattransfer"
	"gladember/core/network"
)

// A wall is a layer that a passage's air sweeps.
type wall struct {
	// layer counts from the first one behind the covers; -1 is the innermost
	// cover.
	layer int
	// surface is what is swept, m2 for each m2 of aperture.
	surface float64
	// fin is the conductance between the layer and the place where it is swept,
	// W/m2K of aperture; zero where it is swept itself.
	fin float64
}

// passage is one length of the air's way, the same all along it, between two
// walls: the one that lies above its air first.
type passage struct {
	name string
	// section is the shape that the Nusselt numbers are for.
	section heattransfer.Section
	// dh is the hydraulic diameter, m.
	dh float64
	// depth is from wall to wall, m.
	depth float64
	// area is the cross section of all such passages together, m2.
	area float64
	// length is along the way of the air, m.
	length float64
	// restart is the length after which the entrance begins anew, m, as at the
	// joint of two cans; zero for never.
	restart float64
	// rough is the height of the roughness, m.
	rough float64
	// fittings are loss coefficients on its own speed.
	fittings float64
	// fluctuate is the part of the uncertainty of its heat transfer that comes
	// on top of a smooth passage's.
	fluctuate float64
	// down says that the air goes down in it.
	down bool
	// fold is 1 where the air goes up in its first half and down in its second, -1
	// where it goes down first, and 0 else.
	fold float64
	// walls are what it sweeps: in front and behind.
	walls [2]wall
}

// climb is how much of the box's height the air gains in the sth of n segments; below
// zero it comes down. In a fold half the segments climb the whole box and the others
// come down it; a middle one does both.
func (p passage) climb(s, n int) float64 {
	switch {
	case p.fold != 0:
		return p.fold * 2 / float64(n) * float64(min(1, max(-1, n-1-2*s)))
	case p.down:
		return -1 / float64(n)
	}
	return 1 / float64(n)
}

// element is the passage as a duct that the pressure is computed of.
func (p passage) element() airflow.Duct {
	return airflow.Duct{Diameter: p.dh, Area: p.area, Length: p.length, Roughness: p.rough, Fittings: p.fittings, Section: p.section}
}

// nusselt returns the passage's Nusselt numbers for m kg/s, see
// [heattransfer.Channel].
// It returns the Nusselt number of walls heated evenly and that of the exchange
// across, with the entrance counted from where it begins anew, and more where
// the walls are rough; m is the mass flow through all such passages, kg/s.
func (p passage) nusselt(m float64, f Flow) (even, across float64) {
	mu, pr := air.Viscosity(f.Mean), air.Prandtl(f.Mean)
	re := math.Abs(m) * p.dh / (p.area * mu)
	l := p.length
	if p.restart > 0 {
		l = min(l, p.restart)
	}
	even, across = heattransfer.Channel(p.section, re, pr, p.dh, l)
	if rel := p.rough / p.dh; rel > 1e-4 && re > 0 {
		gain := heattransfer.RoughGain(airflow.Friction(re, rel, p.section)/airflow.Friction(re, 0, p.section), pr)
		even, across = even*gain, across*gain
	}
	return even, across
}

// touches returns what a passage of m kg/s sweeps, and what passes between its
// two walls besides.
//
// Heat between two walls and the air between them has two parts. The even part,
// which both walls give to the stream, is that of the flow and of free
// convection ([passage.stir]) blended by the cube (Churchill 1977). The part
// across, which enters by one wall and leaves by the other, is conduction by
// the section's constant and what flow and free convection add to it, blended
// alike. The walls' own coefficients carry the even part; the pair is what the
// part across differs by. With no flow all heat goes across, and the passage is
// the closed gap that it is in a box that stands still.
// A wall with a fin is swept through it: the two conductances in series.
func (p passage) touches(m float64, f Flow) ([]network.Touch, []network.Pair) {
	even, across := p.nusselt(m, f)
	more := 1 + f.Tune.AirNu
	if p.fluctuate > 0 {
		more = 1 + f.Tune.AirNu*p.fluctuate/sigmaAirNu
	}
	forced := even * air.Conductivity(f.Mean) / p.dh * more
	stir := p.stir(f)
	var ts []network.Touch
	for i, w := range p.walls {
		sign := 1.0 // the rear wall less the front one, by this wall less the air
		if i == 0 {
			sign = -1
		}
		ts = append(ts, network.Touch{Layer: f.First + w.layer, H: func(wall, stream float64) float64 {
			h := w.surface * heattransfer.Mixed(forced, stir(2*sign*(wall-stream), (wall+stream)/2))
			if w.fin > 0 {
				h = h * w.fin / (h + w.fin)
			}
			return h
		}})
	}
	front, rear := p.walls[0], p.walls[1]
	pair := network.Pair{A: f.First + front.layer, B: f.First + rear.layer}
	pair.G = func(_ int, ta, tb float64) float64 {
		e := stir(tb-ta, (ta+tb)/2)
		h := heattransfer.Mixed(forced, e)
		a, b := h*front.surface, h*rear.surface
		if front.fin > 0 {
			a = a * front.fin / (a + front.fin)
		}
		if rear.fin > 0 {
			b = b * rear.fin / (b + rear.fin)
		}
		return p.across(e, (across-p.section.NuAcross())*more, (ta+tb)/2) - a*b/(a+b)
	}
	return ts, []network.Pair{pair}
}

// across is the conductance from wall to wall through the air between, W/m2K of
// aperture, at t C, where free convection adds free to either wall's
// coefficient and the flow adds so much to the section's Nusselt number across.
// Free and forced convection across a swept gap combine by the third root of
// the sum of their cubes.
func (p passage) across(free, flow, t float64) float64 {
	k := air.Conductivity(t)
	h := p.section.NuAcross()*k/p.dh + heattransfer.Mixed(flow*k/p.dh, free)
	g := h / (1/p.walls[0].surface + 1/p.walls[1].surface)
	for _, w := range p.walls {
		if w.fin > 0 {
			g = g * w.fin / (g + w.fin)
		}
	}
	return g
}

// standing returns the conductance between a passage's walls when no air
// passes, W/m2K of aperture, for the front and the rear wall's temperatures, C.
// It is the exchange between its walls in a box in which the air stands.
func (p passage) standing(f Flow) func(front, rear float64) float64 {
	stir := p.stir(f)
	return func(front, rear float64) float64 {
		t := (front + rear) / 2
		return p.across(stir(rear-front, t), 0, t)
	}
}

// stir returns what free convection adds to the coefficient of each wall of a
// passage whose rear wall is dt kelvin warmer than its front wall, at t C,
// W/m2K: the excess of the closed gap's Nusselt number over conduction, on both
// of its halves. Cells form where the rear wall is the warmer; near the upright
// air also circles along both walls, whichever is warmer, driven by gravity
// along the slope ([heattransfer.Cavity]). Range: that of the gap's
// correlations, Ra to 2e7 at aspects from 5 up; below 5 the value at 5.
func (p passage) stir(f Flow) func(dt, t float64) float64 {
	cavity := heattransfer.NewCavity(f.Tilt, f.Height/p.depth)
	return func(dt, t float64) float64 { return 2 * cavity.Excess(t, dt, p.depth, f.P) }
}

// routed builds the air side of passages: groups one after the other, the
// members of a group side by side at one pressure.
// Groups are taken one after the other; the passages of a group lie side by
// side and share the air.
func routed(groups [][]passage) ([]airflow.Element, func(Flow) AirNet) {
	var elements []airflow.Element
	for _, g := range groups {
		var ps airflow.Parallel
		for _, p := range g {
			ps = append(ps, p.element())
		}
		if len(ps) == 1 {
			elements = append(elements, ps[0])
		} else {
			elements = append(elements, ps)
		}
	}
	return elements, func(f Flow) AirNet { return route(groups, elements, f) }
}

// route lays out the air nodes of passages for one flow. What leaks goes or
// comes evenly along the way: half a segment's share at each of its ends, so
// that the leak has the segment's mean temperature and not the one it ends at.
func route(groups [][]passage, elements []airflow.Element, f Flow) AirNet {
	n := f.Segments
	var net AirNet
	entering := []network.Feed{{From: network.FromInlet, Mass: f.Mass}}
	in, out := f.LeakIn/float64(len(groups)*n), f.LeakOut/float64(len(groups)*n)
	total := f.Mass
	for gi, g := range groups {
		split := []float64{1}
		if len(g) > 1 {
			split = elements[gi].(airflow.Parallel).Split(total, f.Mean, f.P)
			for i := range split {
				split[i] /= total
			}
		}
		var leaving []network.Feed
		first := len(net.Along)
		for range n {
			net.Along, net.Climb, net.Bore = append(net.Along, nil), append(net.Climb, 0), append(net.Bore, 0)
		}
		for pi, p := range g {
			self := len(net.Airs)
			a := network.Air{Name: p.name, Feeds: make([][]network.Feed, n)}
			m := total * split[pi]
			inHere, outHere := in*split[pi], out*split[pi]
			mid := m + (inHere-outHere)*float64(n)/2
			for s := range n {
				at, from, step := s, s-1, p.climb(s, n)
				if p.down {
					at, from = n-1-s, n-s
				}
				var fs []network.Feed
				leakIn, leakOut := inHere, outHere
				if s == 0 {
					leakIn, leakOut = inHere/2, outHere/2
					for _, e := range entering {
						e.Mass *= split[pi]
						if leakOut > 0 {
							net.LeakOut = append(net.LeakOut, network.Feed{From: e.From, At: e.At, Mass: leakOut * e.Mass / m})
							e.Mass *= 1 - leakOut/m
						}
						fs = append(fs, e)
					}
				} else {
					if leakOut > 0 {
						net.LeakOut = append(net.LeakOut, network.Feed{From: self, At: from, Mass: leakOut})
					}
					fs = []network.Feed{{From: self, At: from, Mass: m - leakOut}}
				}
				m += leakIn - leakOut
				if leakIn > 0 {
					fs = append(fs, network.Feed{From: network.FromOutdoor, Mass: leakIn})
				}
				a.Feeds[at] = fs
				net.Along[first+s] = append(net.Along[first+s], network.Feed{From: self, At: at, Mass: m})
				net.Climb[first+s] = step
				net.Bore[first+s] += p.area
			}
			last := n - 1
			if p.down {
				last = 0
			}
			if outHere > 0 {
				net.LeakOut = append(net.LeakOut, network.Feed{From: self, At: last, Mass: outHere / 2})
			}
			leaving = append(leaving, network.Feed{From: self, At: last, Mass: m - outHere/2})
			if inHere > 0 {
				leaving = append(leaving, network.Feed{From: network.FromOutdoor, Mass: inHere / 2})
			}
			a.Touches, a.Pairs = p.touches(mid, f)
			net.Airs = append(net.Airs, a)
		}
		total += (in - out) * float64(n)
		entering = leaving
	}
	net.Outlet = entering
	return net
}

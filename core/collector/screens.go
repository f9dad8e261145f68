package collector

import (
	"fmt"
	"math"
	"slices"

	"gladember/core/air"
	"gladember/core/airflow"
	"gladember/core/catalog"
	"gladember/core/design"
	"gladember/core/heattransfer"
	"gladember/core/network"
	"gladember/core/optics"
)

// wireHeat is a screen wire's specific heat, between aluminum's and steel's,
// J/kgK; a screen stores next to nothing.
const wireHeat = 700.0

// crossed is the part of the air that passes a porous sheet; what slips around
// it shares its pressure.
type crossed struct {
	of    *crossing
	share float64
	start *start
}

// Loss implements [airflow.Element].
func (c crossed) Loss(m, t, p float64) float64 {
	return c.of.moved(c.start).From(c.start.of(c.of)).Loss(m*c.share, t, p)
}

func init() {
	makers[design.ScreenBox] = (*maker).screens
}

// screens are layers of mesh slanted from the back at the bottom to the glass
// at the top. Air enters in front of them, crosses all the way up as pressure
// in front and behind lets it, and leaves behind them; a share slips around
// the edges. Folded, it crosses one half on its way up and the other on its way
// down, there from behind to the front.
func (k *maker) screens() (Passages, error) {
	h, a := k.h, k.h.Absorber.Screens
	mesh, err := catalog.FindMesh(a.Mesh)
	if err != nil {
		return Passages{}, err
	}
	front, rear := h.Box.Gap+a.Lift/2, a.Rear+a.Lift/2
	ways := []*crossing{k.crossingOf(mesh, k.fold() < 0)}
	if k.fold() != 0 {
		ways = append(ways, k.crossingOf(mesh, k.fold() > 0))
	}
	spread := inHalves(ways)
	for i := range ways {
		ways[i].stretches = halfOf(spread, i, len(ways))
	}
	out := Passages{Layers: append(k.meshes(mesh, front), k.behindIt(rear)), Air: ways[0].air, Ways: []passage{ways[0].front, ways[0].rear},
		Spread: spread, Ports: [2]float64{h.Box.Gap + a.Lift, a.Rear + a.Lift},
		Elements: []airflow.Element{crossed{of: ways[0], share: 1 - a.Bypass}}, Evenness: evenness(ways, 1-a.Bypass)}
	switch {
	case len(ways) > 1:
		k.foldedScreens(&out, ways)
	case h.OneAbove():
		k.screensOnOneSide(&out, ways[0])
	}
	return out, nil
}

// foldedScreens makes the passages of both halves, one after the other. The ports
// lie in front of the screens where these leave most room at the bottom, or behind
// them at the top; the turn is in the other space at the far end.
func (k *maker) foldedScreens(out *Passages, ways []*crossing) {
	a := k.h.Absorber.Screens
	open := [2]float64{k.h.Box.Gap + a.Lift, a.Rear + a.Lift} // of the ports, of the turn
	if k.fold() < 0 {
		open[0], open[1] = open[1], open[0]
	}
	half := k.w / 2
	out.Ports = [2]float64{open[0], open[0]}
	out.Elements = append(out.Elements, airflow.Duct{Diameter: 2 * open[1] * half / (open[1] + half), Area: open[1] * half,
		Fittings: lossTurn}, crossed{of: ways[1], share: 1 - a.Bypass})
	out.Air = func(f Flow) AirNet {
		f.Segments /= 2
		f.LeakIn, f.LeakOut = f.LeakIn/2, f.LeakOut/2
		first := ways[0].air(f)
		f.Mass += f.LeakIn - f.LeakOut
		return joined(first, ways[1].air(f))
	}
}

// screensOnOneSide spreads the air over the width by the length of each strip's way
// across, in front at the bottom and behind at the top, besides what it crosses.
func (k *maker) screensOnOneSide(out *Passages, x *crossing) {
	a, n := k.h.Absorber.Screens, stripsAcross
	across := func(depth, far float64) airflow.Element {
		p := k.slot("", depth, wall{}, wall{})
		p.area, p.length = p.area/float64(n), far
		return p.element()
	}
	least := out.Evenness
	k.onOneSide(out, func(i int, far float64) airflow.Element {
		return inTurn{shared{out.Elements[:1:1], 1 / float64(n)}, across(k.h.Box.Gap+a.Lift, far), across(a.Rear+a.Lift, far)}
	})
	wide := out.Evenness
	out.Evenness = func(f Flow) float64 { return least(f) * wide(f) }
}

// evenness is the least speed at which air crosses anywhere over the mean, for the
// share of it that crosses.
func evenness(ways []*crossing, crosses float64) func(Flow) float64 {
	return func(f Flow) float64 {
		least := math.Inf(1)
		for _, x := range ways {
			for _, s := range x.at(f, f.Mass*crosses).Shares(airflow.Even(Segments)) {
				least = min(least, s*Segments)
			}
		}
		return least
	}
}

// inHalves cuts each way where the crossing changes most at a usual flow, 0.03 kg/s
// for a m2; the shares of all are of the whole area.
func inHalves(ways []*crossing) func(n int) []float64 {
	var cuts []func(int) []float64
	for _, x := range ways {
		cuts = append(cuts, x.at(Flow{Mean: 30, P: air.SeaLevel}, 0.03*x.k.w*x.k.l).Stretches)
	}
	return func(n int) (all []float64) {
		for _, cut := range cuts {
			for _, s := range cut(n / len(cuts)) {
				all = append(all, s/float64(len(cuts)))
			}
		}
		return all
	}
}

// halfOf is what of a spread belongs to the ith of so many ways, as shares of its own
// length.
func halfOf(spread func(int) []float64, i, of int) func(n int) []float64 {
	return func(n int) []float64 {
		s := slices.Clone(spread(n * of)[i*n : (i+1)*n])
		for j := range s {
			s[j] *= float64(of)
		}
		return s
	}
}

// meshes are the layers of a stack of screens, the first so far behind the
// glazing, m.
func (k *maker) meshes(mesh catalog.Mesh, front float64) (layers []Layer) {
	share := mesh.WireShare()
	// A beam tilted across one set of wires sees that set closer together.
	open := func(theta float64) float64 {
		c := math.Cos(min(theta, 85) * math.Pi / 180)
		return (1 - share) * max(0, 1-share/c)
	}
	layer := func(o, absorb float64) optics.Layer {
		r := (1 - o) * (1 - absorb)
		return optics.Layer{Transmit: o, ReflectFront: r, ReflectBack: r}
	}
	a := k.h.Absorber.Screens
	for i := range a.Layers {
		gap := a.Spacing
		if i == 0 {
			gap = front
		}
		layers = append(layers, Layer{
			Name: fmt.Sprintf("screen %d", i+1), Kind: AbsorberLayer, Material: mesh.ID, Service: min(mesh.Service, k.paint.Service),
			Gap: gap, Store: mesh.WireArea() / 4 * mesh.Wire * mesh.Density * wireHeat,
			Infrared: layer(open(optics.DiffuseAngle), k.paint.Emittance),
			Sun:      func(theta float64) optics.Layer { return layer(open(theta), k.paint.Absorptance) },
		})
	}
	return layers
}

// meshOpen is the share of a mesh that is open from straight ahead.
func meshOpen(mesh catalog.Mesh) float64 { return (1 - mesh.WireShare()) * (1 - mesh.WireShare()) }

// crossingOf is the way of air across the stack, or across the half of it that a
// fold leaves; back says that it comes down and crosses from behind to the front.
func (k *maker) crossingOf(mesh catalog.Mesh, back bool) *crossing {
	h, a := k.h, k.h.Absorber.Screens
	along := func(depth float64, layer int) passage {
		return k.slot("", depth, wall{layer: layer, surface: 1}, wall{layer: layer + 1, surface: 1})
	}
	x := &crossing{k: k, mesh: mesh, w: k.w, back: back, front: along(h.Box.Gap+a.Lift/2, -1), rear: along(a.Rear+a.Lift/2, a.Layers-1)}
	if k.fold() != 0 {
		x.w /= 2
		for _, p := range []*passage{&x.front, &x.rear} {
			p.area /= 2
		}
	}
	n, openArea := a.Layers, meshOpen(mesh)
	x.cross = airflow.Crossing{Width: x.w, Length: k.l, Front: [2]float64{h.Box.Gap + a.Lift, h.Box.Gap},
		Rear: [2]float64{a.Rear, a.Rear + a.Lift},
		Resist: func(v, t, p float64) float64 {
			rho := air.Density(t, p)
			re := rho * v * mesh.Wire / air.Viscosity(t)
			return float64(n) * heattransfer.WireScreenLoss(re, openArea) * rho * v * v / 2
		}}
	c := &x.cross
	if back { // the space that is passed first is the one behind, from its wide end at the top
		c.Front, c.Rear = [2]float64{c.Rear[1], c.Rear[0]}, [2]float64{c.Front[1], c.Front[0]}
		return x
	}
	if !a.Deflector && k.fold() >= 0 { // a port at the top opens behind the screens
		x.jet, c.Dies = k.jet(h.Box.Gap+a.Lift), jetDies*k.w
	}
	x.open = a.Baffle
	return x
}

// moved is the crossing with what is moved of it in a rating.
func (x *crossing) moved(s *start) airflow.Crossing {
	more := 1.0
	if s != nil {
		more = math.Exp(s.tune.Jet)
	}
	c := x.cross
	c.Jet = more * x.jet
	if x.open > 0 && x.open < 1 {
		c.Baffle = more * airflow.OrificeLoss(x.open) / (x.open * x.open)
	}
	return c
}

// at is how m kg/s cross it in a rating.
func (x *crossing) at(f Flow, m float64) *airflow.Crossed {
	return x.moved(f.start).At(m, f.Mean, f.P, f.start.of(x))
}

// crossing lays out the air of a stack of screens, or of one half of it.
type crossing struct {
	k    *maker
	mesh catalog.Mesh
	// w is its width, m.
	w     float64
	cross airflow.Crossing
	// jet is that of its cross without what is moved of it, and open the share that its bar leaves open; 0 for no bar.
	jet, open float64
	// back says that air comes down and crosses from behind to the front.
	back        bool
	stretches   func(n int) []float64
	front, rear passage
}

// air is the air of the box at a flow: in front, through each screen in turn,
// and behind. Nodes are numbered from the front; segments follow the air.
func (x *crossing) air(f Flow) AirNet {
	a := x.k.h.Absorber.Screens
	n, segments := a.Layers, f.Segments
	slip := max(0, min(0.95, a.Bypass+f.Tune.Bypass))
	spread := x.stretches(segments)
	shares := x.at(f, f.Mass*(1-slip)).Shares(spread)
	entering := f.Mass + f.LeakIn - f.LeakOut
	through := func(i int) float64 { return entering * (1 - slip) * shares[i] }
	fronts, leak, ahead := inFront(f, shares, spread, through)
	net := AirNet{Airs: append([]network.Air{fronts}, x.through(f, spread, through)...), LeakOut: leak}
	// Behind: what has crossed, on its way up to the outlet. What joins in a
	// segment joins half at either end of it.
	behind := network.Air{Name: "behind"}
	joined, climb := 0.0, 1.0
	if x.back {
		climb = -1
	}
	for i := range segments {
		fs := []network.Feed{{From: n, At: i, Mass: through(i) / 2}}
		if i > 0 {
			fs = append(fs, network.Feed{From: n + 1, At: i - 1, Mass: joined}, network.Feed{From: n, At: i - 1, Mass: through(i-1) / 2})
			joined += through(i-1) / 2
		}
		joined += through(i) / 2
		behind.Feeds = append(behind.Feeds, fs)
		net.Along = append(net.Along, []network.Feed{{From: n + 1, At: i, Mass: joined}, {From: 0, At: i, Mass: entering - joined}})
		net.Climb, net.Bore = append(net.Climb, climb*spread[i]), append(net.Bore, 0)
	}
	net.Airs = append(net.Airs, behind)
	last := segments - 1
	net.Outlet = []network.Feed{{From: n + 1, At: last, Mass: joined}, {From: n, At: last, Mass: through(last) / 2},
		{From: 0, At: last, Mass: entering * slip}}
	first, second := ahead, max(0, entering-ahead)
	if x.back {
		net = fromBehind(net)
		first, second = second, first
	}
	if x.k.fold() != 0 { // the space beside a screen has the films of the mean of both halves
		first, second = entering/2, entering/2
	}
	net.Airs[0].Touches, net.Airs[0].Pairs = x.front.touches(first, f)
	net.Airs[n+1].Touches, net.Airs[n+1].Pairs = x.rear.touches(second, f)
	return net
}

// fromBehind numbers the air nodes of a crossing that begins behind the screens from
// the front, as all nets of a box are.
func fromBehind(n AirNet) AirNet {
	last := len(n.Airs) - 1
	turn := func(fs []network.Feed) {
		for i := range fs {
			if fs[i].From >= 0 {
				fs[i].From = last - fs[i].From
			}
		}
	}
	for _, a := range n.Airs {
		for _, fs := range a.Feeds {
			turn(fs)
		}
	}
	for _, fs := range n.Along {
		turn(fs)
	}
	turn(n.Outlet)
	turn(n.LeakOut)
	slices.Reverse(n.Airs)
	n.Airs[0].Name, n.Airs[last].Name = n.Airs[last].Name, n.Airs[0].Name
	return n
}

// through is the air in each screen in turn, as fast as its own stretch is
// crossed.
func (x *crossing) through(f Flow, spread []float64, through func(int) float64) (airs []network.Air) {
	k, mesh, a := x.k, x.mesh, x.k.h.Absorber.Screens
	openArea, segments := meshOpen(mesh), f.Segments
	between := heattransfer.NewCavity(f.Tilt, k.l/a.Spacing)
	wire := make([]float64, segments)
	for i := range wire {
		re := through(i) / (x.w * k.l * spread[i]) / openArea * mesh.Wire / air.Viscosity(f.Mean)
		wire[i] = heattransfer.Wire(re) * air.Conductivity(f.Mean) / mesh.Wire * mesh.WireArea() * (1 + f.Tune.AirNu)
	}
	for s := range a.Layers {
		layer := s
		if x.back {
			layer = a.Layers - 1 - s
		}
		one := network.Air{Name: fmt.Sprintf("through screen %d", layer+1), Touches: []network.Touch{always(f.First+layer, 1)}, Scale: wire}
		for i := range segments {
			m := through(i)
			fs := []network.Feed{{From: s, At: i, Mass: m}}
			if s == 0 {
				fs = []network.Feed{{From: 0, At: i, Mass: m / 2}, {From: 0, At: i - 1, Mass: m / 2}}
				if i == 0 {
					fs[1] = network.Feed{From: network.FromInlet, Mass: m / 2}
				}
			}
			one.Feeds = append(one.Feeds, fs)
		}
		if layer > 0 { // what still conducts between two screens against the air that crosses
			one.Pairs = []network.Pair{{A: f.First + layer - 1, B: f.First + layer, G: func(i int, ta, tb float64) float64 {
				return against(between.Coefficient(tb, ta, a.Spacing, f.P), through(i)*air.Cp(f.Mean)/(x.w*k.l*spread[i]))
			}}}
		}
		airs = append(airs, one)
	}
	return airs
}

// Of the jet from an inlet without a deflector: it strikes the glass and
// spreads all round in the space behind it. Of the momentum of a stream that
// runs out evenly all round, 1/pi goes up the box; as much goes down and loses
// itself at the bottom. It dies away within one and a half widths. Common
// practice, no source: a factor of two is one sigma ([sigmaJet]).
const (
	jetUp   = 1 / math.Pi
	jetDies = 1.5
)

// jet is the momentum that air from the inlet carries up a space in front so
// deep, m, over that of the same air spread over it.
func (k *maker) jet(depth float64) float64 {
	bore := k.h.PortBore()
	ports := math.Pi / 4 * bore * bore * float64(max(1, k.h.Air.Ports))
	return max(0, jetUp*k.w*depth/ports-1)
}

// inFront lays out the air in front of screens that has not crossed yet, what
// leaks from it, and its mean flow, kg/s. Of what crosses or leaks in a segment
// half does so at either end of it. The seam at the glass leaks most where most
// air is, so that no stretch runs dry.
func inFront(f Flow, shares, spread []float64, through func(int) float64) (fronts network.Air, leak []network.Feed, ahead float64) {
	fronts.Name = "in front"
	m := f.Mass // at the segment's beginning
	for i := range f.Segments {
		in, out := f.LeakIn*shares[i], f.LeakOut*shares[i]
		fs := []network.Feed{{From: network.FromInlet, Mass: m - (through(i)+out)/2}}
		if i > 0 {
			// Half of the segment before has still to go from what leaves its
			// node.
			fs[0].From, fs[0].At = 0, i-1
		}
		if in > 0 {
			fs = append(fs, network.Feed{From: network.FromOutdoor, Mass: in})
		}
		fronts.Feeds = append(fronts.Feeds, fs)
		if out > 0 {
			leak = append(leak, network.Feed{From: fs[0].From, At: fs[0].At, Mass: out / 2}, network.Feed{From: 0, At: i, Mass: out / 2})
		}
		ahead += (m - (through(i)+out)/2 + in) * spread[i]
		m += in - out - through(i)
	}
	return fronts, leak, ahead
}

// against returns what a layer of air of conductance g passes, W/m2K, while air
// of capacity flow c, W/m2K, crosses it from its warm or cold side: conduction
// and flow in one dimension leave c/(exp(c/g) - 1) of it, besides what the flow
// carries itself.
func against(g, c float64) float64 {
	if x := c / g; x > 1e-6 {
		return c / math.Expm1(min(x, 500))
	}
	return g
}

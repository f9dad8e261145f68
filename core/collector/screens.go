package collector

import (
	"fmt"
	"math"

	"gladember/core/air"
	"gladember/core/airflow"
	"gladember/core/catalog"
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
	of    airflow.Crossing
	share float64
}

// Loss implements [airflow.Element].
func (c crossed) Loss(m, t, p float64) float64 { return c.of.Loss(m*c.share, t, p) }

// screens are layers of mesh slanted from the back at the bottom to the glass
// at the top. Air enters in front of them, crosses all the way up as pressure
// in front and behind lets it, and leaves behind them; a share slips around
// the edges.
func (k *maker) screens() (Passages, error) {
	h, a := k.h, k.h.Absorber.Screens
	mesh, err := catalog.FindMesh(a.Mesh)
	if err != nil {
		return Passages{}, err
	}
	n, front, rear := a.Layers, h.Box.Gap+a.Lift/2, a.Rear+a.Lift/2
	along := func(depth float64, layer int) passage {
		return k.slot("", depth, wall{layer: layer, surface: 1}, wall{layer: layer + 1, surface: 1})
	}
	x := crossing{k: k, mesh: mesh, cross: k.crossing(mesh), front: along(front, -1), rear: along(rear, n-1)}
	// Segments narrow where the crossing changes most at a usual flow, 0.03
	// kg/s for a m2.
	usual := x.cross
	usual.Seen = nil
	x.stretches = k.stretches
	if x.stretches == nil {
		x.stretches = usual.At(0.03*k.w*k.l, 30, air.SeaLevel).Stretches
	}
	return Passages{Layers: append(k.meshes(mesh, front), k.behindIt(rear)), Air: x.air, Ways: []passage{x.front, x.rear},
		Spread: x.stretches, Ports: [2]float64{h.Box.Gap + a.Lift, a.Rear + a.Lift},
		Elements: []airflow.Element{crossed{x.cross, 1 - a.Bypass}}, Remembers: true,
		Evenness: func(m, t, p float64) float64 {
			least := math.Inf(1)
			for _, s := range x.cross.At(m*(1-a.Bypass), t, p).Shares(airflow.Even(Segments)) {
				least = math.Min(least, s)
			}
			return least * Segments
		}}, nil
}

// meshes are the layers of a stack of screens, the first so far behind the
// glazing, m.
func (k *maker) meshes(mesh catalog.Mesh, front float64) (layers []Layer) {
	share := mesh.WireShare()
	// A beam tilted across one set of wires sees that set closer together.
	open := func(theta float64) float64 {
		c := math.Cos(math.Min(theta, 85) * math.Pi / 180)
		return (1 - share) * math.Max(0, 1-share/c)
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
			Name: fmt.Sprintf("screen %d", i+1), Kind: AbsorberLayer, Material: mesh.ID, Service: math.Min(mesh.Service, k.paint.Service),
			Gap: gap, Store: mesh.WireArea() / 4 * mesh.Wire * mesh.Density * wireHeat,
			Infrared: layer(open(optics.DiffuseAngle), k.paint.Emittance),
			Sun:      func(theta float64) optics.Layer { return layer(open(theta), k.paint.Absorptance) },
		})
	}
	return layers
}

// meshOpen is the share of a mesh that is open from straight ahead.
func meshOpen(mesh catalog.Mesh) float64 { return (1 - mesh.WireShare()) * (1 - mesh.WireShare()) }

// crossing is how air passes through the stack from the space in front to that
// behind.
func (k *maker) crossing(mesh catalog.Mesh) airflow.Crossing {
	h, a := k.h, k.h.Absorber.Screens
	n, openArea := a.Layers, meshOpen(mesh)
	cross := airflow.Crossing{Width: k.w, Length: k.l, Front: [2]float64{h.Box.Gap + a.Lift, h.Box.Gap},
		Rear: [2]float64{a.Rear, a.Rear + a.Lift}, Seen: new(airflow.CrossingMemory),
		Resist: func(v, t, p float64) float64 {
			rho := air.Density(t, p)
			re := rho * v * mesh.Wire / air.Viscosity(t)
			return float64(n) * heattransfer.WireScreenLoss(re, openArea) * rho * v * v / 2
		}}
	more := math.Exp(k.tune.Jet)
	if !a.Deflector {
		cross.Jet, cross.Dies = more*k.jet(h.Box.Gap+a.Lift), jetDies*k.w
	}
	if a.Baffle > 0 && a.Baffle < 1 {
		cross.Baffle = more * airflow.OrificeLoss(a.Baffle) / (a.Baffle * a.Baffle)
	}
	return cross
}

// crossing lays out the air of a stack of screens.
type crossing struct {
	k           *maker
	mesh        catalog.Mesh
	cross       airflow.Crossing
	stretches   func(n int) []float64
	front, rear passage
}

// air is the air of the box at a flow: in front, through each screen in turn,
// and behind.
func (x crossing) air(f Flow) AirNet {
	a := x.k.h.Absorber.Screens
	n, segments := a.Layers, f.Segments
	slip := math.Max(0, math.Min(0.95, a.Bypass+f.Tune.Bypass))
	spread := x.stretches(segments)
	shares := x.cross.At(f.Mass*(1-slip), f.Mean, f.P).Shares(spread)
	entering := f.Mass + f.LeakIn - f.LeakOut
	through := func(i int) float64 { return entering * (1 - slip) * shares[i] }
	fronts, leak, ahead := inFront(f, shares, spread, through)
	fronts.Touches, fronts.Pairs = x.front.touches(ahead, f)
	net := AirNet{Airs: append([]network.Air{fronts}, x.through(f, shares, spread, through)...), LeakOut: leak}
	// Behind: what has crossed, on its way up to the outlet. What joins in a
	// segment joins half at either end of it.
	behind := network.Air{Name: "behind"}
	joined := 0.0
	for i := range segments {
		fs := []network.Feed{{From: n, At: i, Mass: through(i) / 2}}
		if i > 0 {
			fs = append(fs, network.Feed{From: n + 1, At: i - 1, Mass: joined}, network.Feed{From: n, At: i - 1, Mass: through(i-1) / 2})
			joined += through(i-1) / 2
		}
		joined += through(i) / 2
		behind.Feeds = append(behind.Feeds, fs)
		net.Along = append(net.Along, []network.Feed{{From: n + 1, At: i, Mass: joined}, {From: 0, At: i, Mass: entering - joined}})
		net.Climb, net.Bore = append(net.Climb, spread[i]), append(net.Bore, 0)
	}
	behind.Touches, behind.Pairs = x.rear.touches(math.Max(0, entering-ahead), f)
	net.Airs = append(net.Airs, behind)
	last := segments - 1
	net.Outlet = []network.Feed{{From: n + 1, At: last, Mass: joined}, {From: n, At: last, Mass: through(last) / 2},
		{From: 0, At: last, Mass: entering * slip}}
	return net
}

// through is the air in each screen in turn, as fast as its own stretch is
// crossed.
func (x crossing) through(f Flow, shares, spread []float64, through func(int) float64) (airs []network.Air) {
	k, mesh, a := x.k, x.mesh, x.k.h.Absorber.Screens
	openArea, segments := meshOpen(mesh), f.Segments
	between := heattransfer.NewCavity(f.Tilt, k.l/a.Spacing)
	wire := make([]float64, segments)
	for i := range wire {
		re := through(i) / (k.w * k.l * spread[i]) / openArea * mesh.Wire / air.Viscosity(f.Mean)
		wire[i] = heattransfer.Wire(re) * air.Conductivity(f.Mean) / mesh.Wire * mesh.WireArea() * (1 + f.Tune.AirNu)
	}
	mean := 0.0
	for i, s := range shares {
		mean += s * wire[i]
	}
	for s := range a.Layers {
		one := network.Air{Name: fmt.Sprintf("through screen %d", s+1), Touches: []network.Touch{always(f.First+s, mean)},
			Scale: make([]float64, segments)}
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
			one.Scale[i] = wire[i] / mean
		}
		if s > 0 { // what still conducts between two screens against the air that crosses
			one.Pairs = []network.Pair{{A: f.First + s - 1, B: f.First + s, G: func(i int, ta, tb float64) float64 {
				return against(between.Coefficient(tb, ta, a.Spacing, f.P), through(i)*air.Cp(f.Mean)/(k.w*k.l*spread[i]))
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
	return math.Max(0, jetUp*k.w*depth/ports-1)
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
		return c / math.Expm1(math.Min(x, 500))
	}
	return g
}

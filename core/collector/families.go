package collector

import (
	"fmt"
	"math"

	"gladember/core/air"
	"gladember/core/airflow"
	"gladember/core/catalog"
	"gladember/core/design"
	"gladember/core/heattransfer"
	"gladember/core/optics"
)

// A wall is a layer that a passage's air sweeps.
type wall struct {
	layer   int     // behind the covers; -1 is the innermost cover
	surface float64 // swept, per m2 of aperture
	fin     float64 // W/m2K of aperture between the layer and where it is swept; zero: none
}

// passage is one length of the air's way, the same all along it, between two walls: the
// one that lies above its air first.
type passage struct {
	name      string
	section   heattransfer.Section
	dh        float64 // hydraulic diameter, m
	depth     float64 // from wall to wall, m
	area      float64 // cross section in all, m2
	length    float64 // m
	restart   float64 // the entrance begins anew after so many m; zero: never
	rough     float64 // m
	fittings  float64 // loss coefficients on its own speed
	fluctuate float64 // its heat transfer is uncertain by more than that of a smooth one
	down      bool
	walls     [2]wall
}

func (p passage) element() airflow.Duct {
	return airflow.Duct{Diameter: p.dh, Area: p.area, Length: p.length, Roughness: p.rough, Fittings: p.fittings, Section: p.section}
}

// nusselt returns the passage's Nusselt numbers for m kg/s, see [heattransfer.Channel].
func (p passage) nusselt(m float64, f Flow) (even, across float64) {
	mu, pr := air.Viscosity(f.Mean), air.Prandtl(f.Mean)
	re := math.Abs(m) * p.dh / (p.area * mu)
	l := p.length
	if p.restart > 0 {
		l = math.Min(l, p.restart)
	}
	even, across = heattransfer.Channel(p.section, re, pr, p.dh, l)
	if rel := p.rough / p.dh; rel > 1e-4 && re > 0 {
		gain := heattransfer.RoughGain(airflow.Friction(re, rel, p.section)/airflow.Friction(re, 0, p.section), pr)
		even, across = even*gain, across*gain
	}
	return even, across
}

// touches returns what a passage of m kg/s sweeps, and what passes between its two walls
// besides.
//
// Heat between two walls and the air between them has two parts. The even part, which both
// walls give to the stream, is that of the flow and of free convection ([passage.stir])
// blended by the cube (Churchill 1977). The part across, which enters by one wall and leaves
// by the other, is conduction by the section's constant and what flow and free convection
// add to it, blended alike. The walls' own coefficients carry the even part; the pair is
// what the part across differs by. With no flow all heat goes across, and the
// passage is the closed gap that it is in a box that stands still.
func (p passage) touches(m float64, f Flow) ([]Touch, []Pair) {
	even, across := p.nusselt(m, f)
	more := 1 + f.Tune.AirNu
	if p.fluctuate > 0 {
		more = 1 + f.Tune.AirNu*p.fluctuate/sigmaAirNu
	}
	forced := even * air.Conductivity(f.Mean) / p.dh * more
	stir := p.stir(f)
	var ts []Touch
	for i, w := range p.walls {
		sign := 1.0 // the rear wall less the front one, by this wall less the air
		if i == 0 {
			sign = -1
		}
		ts = append(ts, Touch{Layer: f.First + w.layer, H: func(wall, stream float64) float64 {
			h := w.surface * heattransfer.Mixed(forced, stir(2*sign*(wall-stream), (wall+stream)/2))
			if w.fin > 0 {
				h = h * w.fin / (h + w.fin)
			}
			return h
		}})
	}
	front, rear := p.walls[0], p.walls[1]
	pair := Pair{A: f.First + front.layer, B: f.First + rear.layer}
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
	return ts, []Pair{pair}
}

// across is the conductance from wall to wall through the air between, W/m2K of aperture,
// at t C, where free convection adds free to either wall's coefficient and the flow adds
// so much to the section's Nusselt number across.
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

// standing returns the conductance between a passage's walls when no air passes, W/m2K of
// aperture, for the front and the rear wall's temperatures, C.
func (p passage) standing(f Flow) func(front, rear float64) float64 {
	stir := p.stir(f)
	return func(front, rear float64) float64 {
		t := (front + rear) / 2
		return p.across(stir(rear-front, t), 0, t)
	}
}

// stir returns what free convection adds to the coefficient of each wall of a passage whose
// rear wall is dt kelvin warmer than its front wall, at t C, W/m2K: the excess of the closed
// gap's Nusselt number over conduction, on both of its halves. Cells form where the rear wall
// is the warmer; near the upright air also circles along both walls, whichever is
// warmer, driven by gravity along the slope ([heattransfer.Cavity]). Range: that of the gap's
// correlations, Ra to 2e7 at aspects from 5 up; below 5 the value at 5.
func (p passage) stir(f Flow) func(dt, t float64) float64 {
	cavity := heattransfer.NewCavity(f.Tilt, f.Height/p.depth)
	return func(dt, t float64) float64 { return 2 * cavity.Excess(t, dt, p.depth, f.P) }
}

// routed builds the air side of passages: groups one after the other, the
// members of a group side by side at one pressure.
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

// route lays out the air nodes of passages for one flow. What leaks goes or comes evenly
// along the way: half a segment's share at each of its ends, so that the leak has the
// segment's mean temperature and not the one it ends at.
func route(groups [][]passage, elements []airflow.Element, f Flow) AirNet {
	n := f.Segments
	var net AirNet
	entering := []Feed{{From: FromInlet, Mass: f.Mass}}
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
		var leaving []Feed
		first := len(net.Along)
		for range n {
			net.Along, net.Climb, net.Bore = append(net.Along, nil), append(net.Climb, 0), append(net.Bore, 0)
		}
		for pi, p := range g {
			self := len(net.Airs)
			a := Air{Name: p.name, Feeds: make([][]Feed, n)}
			m := total * split[pi]
			inHere, outHere := in*split[pi], out*split[pi]
			mid := m + (inHere-outHere)*float64(n)/2
			for s := range n {
				at, from, step := s, s-1, 1/float64(n)
				if p.down {
					at, from, step = n-1-s, n-s, -1/float64(n)
				}
				var fs []Feed
				leakIn, leakOut := inHere, outHere
				if s == 0 {
					leakIn, leakOut = inHere/2, outHere/2
					for _, e := range entering {
						e.Mass *= split[pi]
						if leakOut > 0 {
							net.LeakOut = append(net.LeakOut, Feed{From: e.From, At: e.At, Mass: leakOut * e.Mass / m})
							e.Mass *= 1 - leakOut/m
						}
						fs = append(fs, e)
					}
				} else {
					if leakOut > 0 {
						net.LeakOut = append(net.LeakOut, Feed{From: self, At: from, Mass: leakOut})
					}
					fs = []Feed{{From: self, At: from, Mass: m - leakOut}}
				}
				m += leakIn - leakOut
				if leakIn > 0 {
					fs = append(fs, Feed{From: FromOutdoor, Mass: leakIn})
				}
				a.Feeds[at] = fs
				net.Along[first+s] = append(net.Along[first+s], Feed{From: self, At: at, Mass: m})
				net.Climb[first+s] = step
				net.Bore[first+s] += p.area
			}
			last := n - 1
			if p.down {
				last = 0
			}
			if outHere > 0 {
				net.LeakOut = append(net.LeakOut, Feed{From: self, At: last, Mass: outHere / 2})
			}
			leaving = append(leaving, Feed{From: self, At: last, Mass: m - outHere/2})
			if inHere > 0 {
				leaving = append(leaving, Feed{From: FromOutdoor, Mass: inHere / 2})
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

// maker gathers what every family needs of a heater.
type maker struct {
	h     *design.Heater
	w, l  float64 // aperture, m
	paint catalog.Paint
	foam  catalog.Insulation
	sun   func(float64) optics.Layer // painted
	ir    optics.Layer
	back  Layer  // the lining behind the absorber; its Gap is yet to be set
	tune  Tuning // what is not known, moved
	// stretches cuts the way past screens where the crossing changes; found once.
	stretches func(segments int) []float64
}

// shinyEmittance and shinyAbsorptance are foil's, dull from handling.
// Common practice, no source.
const (
	shinyEmittance   = 0.10
	shinyAbsorptance = 0.15
)

// Loss coefficients inside the box, on the passage's own speed. Turns and
// entries: Idelchik, as rounded common practice.
const (
	lossTurn   = 1.5 // 180 degrees in a channel
	lossRibbed = 0.9 // 180 degrees in ribbed duct
	lossInto   = lossEntrance + lossExit
)

func newMaker(h *design.Heater, foam catalog.Insulation) (*maker, error) {
	k := &maker{h: h, w: h.ApertureWidth(), l: h.ApertureHeight(), foam: foam}
	var err error
	if k.paint, err = catalog.FindPaint(h.Absorber.Paint); err != nil {
		return nil, err
	}
	k.sun, k.ir = opaque(k.paint.Absorptance, k.paint.Emittance)
	k.back = Layer{Name: "back", Kind: BackLayer, Material: foam.ID, Service: foam.Service, Infrared: k.ir, Sun: k.sun,
		Store: lining(h, foam) + stones(h)}
	if h.Box.Walls == "shiny" {
		k.back.Sun, k.back.Infrared = opaque(shinyAbsorptance, shinyEmittance)
	}
	return k, nil
}

// lining is the heat that the back takes up per kelvin of its inside, J/m2K:
// half of the foam, whose other side is cold, and of a bare board.
func lining(h *design.Heater, foam catalog.Insulation) float64 {
	if h.Box.BackFoam > 0 {
		return h.Box.BackFoam / 2 * foam.Density * heatFoam
	}
	return h.Box.Board / 2 * 500 * heatWood
}

// heatStone is the specific heat of stone, J/kgK. Source: ISO 10456, granite and
// basalt 1,000; Incropera table A.3, granite 775, limestone 810: a middle one.
const heatStone = 840.0

// stones is what stones on the back take up, J/m2K of aperture: as warm all
// through as the back, which holds for pieces of a fist and less.
func stones(h *design.Heater) float64 { return h.Box.Stones * heatStone / h.Aperture() }

// sheetHeat is what a thickness of a metal takes up, J/m2K.
func sheetHeat(m catalog.Sheet, thickness float64) float64 { return thickness * m.Density * m.Heat }

// dark is a painted layer of a metal.
func (k *maker) dark(name string, metal catalog.Sheet, gap float64) Layer {
	return Layer{Name: name, Kind: AbsorberLayer, Material: k.paint.ID, Service: math.Min(k.paint.Service, metal.Service), Gap: gap,
		Infrared: k.ir, Sun: k.sun}
}

// behindIt returns the back lining at a distance.
func (k *maker) behindIt(gap float64) Layer {
	b := k.back
	b.Gap = gap
	return b
}

// slot is a passage as wide as the box and depth deep, going up it.
func (k *maker) slot(name string, depth float64, walls ...wall) passage {
	p := passage{name: name, section: heattransfer.Slot, dh: 2 * depth, depth: depth, area: depth * k.w, length: k.l, fittings: lossInto}
	copy(p.walls[:], walls)
	return p
}

func (k *maker) plate() (Passages, error) {
	h, a := k.h, k.h.Absorber.Plate
	metal, err := catalog.FindSheet(a.Metal)
	if err != nil {
		return Passages{}, err
	}
	plate := k.dark("plate", metal, h.Box.Gap)
	plate.Store = sheetHeat(metal, a.Thickness)
	front := k.slot("in front", h.Box.Gap, wall{layer: -1, surface: 1}, wall{layer: 0, surface: 1})
	behind := k.slot("behind", a.Channel, wall{layer: 0, surface: 1}, wall{layer: 1, surface: 1})
	var groups [][]passage
	layers := []Layer{plate, k.behindIt(a.Channel)}
	switch h.Absorber.Family {
	case design.FrontPassPlate:
		// The plate lies on the foam: a millimetre of air in between.
		layers[1].Gap = 0.001
		groups = [][]passage{{front}}
	case design.DoublePassPlate:
		behind.down = true
		behind.fittings += lossTurn
		groups = [][]passage{{behind}, {front}}
	case design.PassiveBox:
		groups = [][]passage{{front, behind}}
	default:
		behind.name, behind.rough = "channel", 0.2e-3
		if a.Baffles > 0 { // from side to side, once between two baffles
			passes := float64(a.Baffles + 1)
			side := k.l / passes
			behind.area, behind.dh, behind.length = a.Channel*side, 2*a.Channel*side/(a.Channel+side), k.w*passes
			behind.fittings += lossTurn * float64(a.Baffles)
		}
		groups = [][]passage{{behind}}
	}
	out := k.made(layers, groups, nil)
	switch h.Absorber.Family {
	case design.FrontPassPlate:
		out.Ports = [2]float64{h.Box.Gap, h.Box.Gap}
	case design.DoublePassPlate:
		out.Ports = [2]float64{a.Channel, h.Box.Gap}
	case design.PassiveBox: // its plate stands back from the ports
		out.Ports = [2]float64{a.Channel + h.Box.Gap, a.Channel + h.Box.Gap}
	default:
		out.Ports = [2]float64{a.Channel, a.Channel}
	}
	return out, nil
}

func (k *maker) made(layers []Layer, groups [][]passage, joins []Join) Passages {
	p := Passages{Layers: layers, Joins: joins}
	p.Elements, p.Air = routed(groups)
	for _, g := range groups {
		p.Ways = append(p.Ways, g...)
	}
	return p
}

// tubes describes pipes of any section as two half shells, the one that faces
// the sun and the one that faces the back, joined by their own metal.
type tubes struct {
	name       string
	section    heattransfer.Section
	wide, deep float64 // outside of one, m
	round      bool
	count      float64
	metal      catalog.Sheet
	wall       float64
	fins       bool
	inside     float64 // emittance of the inner wall
}

func (k *maker) tubes(t tubes) (layers []Layer, joins []Join, walls [2]wall, dh, area float64) {
	pitch := k.w / t.count
	open := math.Max(0, 1-t.wide/pitch)
	perimeter, area := 2*(t.wide+t.deep), t.wide*t.deep
	if t.round {
		perimeter, area = math.Pi*t.wide, math.Pi/4*t.wide*t.wide
	}
	dh = 4 * area / perimeter
	half := perimeter / 2 / pitch // surface of a half shell per m2 of aperture
	// Light in the plane across the tubes is stopped by their depth, light along
	// them is not: the mean of both.
	through := func(theta float64) float64 {
		g := pitch - t.wide
		across := math.Max(0, g-t.deep*math.Tan(math.Min(theta, 85)*math.Pi/180))
		return (open + across/pitch) / 2
	}
	inner := optics.Layer{ReflectFront: 1 - k.paint.Emittance, ReflectBack: 1 - t.inside}
	front := k.dark("front of the "+t.name, t.metal, k.h.Box.Gap)
	front.Infrared = inner
	front.Store = sheetHeat(t.metal, t.wall) * half
	front.Sun = func(theta float64) optics.Layer {
		o := through(theta)
		return optics.Layer{Transmit: o, ReflectFront: (1 - o) * (1 - k.paint.Absorptance),
			ReflectBack: (1 - o) * (1 - k.paint.Absorptance)}
	}
	rear := k.dark("back of the "+t.name, t.metal, dh)
	rear.Store = front.Store
	if t.fins {
		rear.Store += sheetHeat(t.metal, t.wall)
	}
	// The inner wall faces the front half; outside, painted or bare, it faces the back.
	outside := t.metal.Emittance
	if t.fins {
		outside = k.paint.Emittance
	}
	rear.Infrared = optics.Layer{ReflectFront: 1 - t.inside, ReflectBack: 1 - outside}
	finG := 0.0
	if t.fins { // flashing closes the gaps and leads their heat to the tubes
		rear.Sun = k.sun
		if g := pitch - t.wide; g > 1e-4 {
			finG = 2 * heattransfer.SheetConductance(t.metal.Conductivity, t.wall, g/2) / pitch
		}
	} else {
		rear.Sun = func(float64) optics.Layer { return optics.Layer{Transmit: 1} }
	}
	// Each half is two strips from its middle to the seam where the halves meet.
	strip := perimeter / 4
	g := 2 * heattransfer.SheetConductance(t.metal.Conductivity, t.wall, strip) / 2 / pitch
	return []Layer{front, rear, k.behindIt(k.h.TubeRear())}, []Join{{0, 1, g}},
		[2]wall{{layer: 0, surface: half}, {layer: 1, surface: half, fin: finG}}, dh, area
}

// lacquered is the emittance of the lacquer inside a drink can. Common
// practice, no source.
const lacquered = 0.7

func (k *maker) cans() (Passages, error) {
	c := k.h.Absorber.Cans
	metal, err := catalog.FindSheet("aluminium")
	if err != nil {
		return Passages{}, err
	}
	layers, joins, walls, dh, area := k.tubes(tubes{name: "cans", wide: c.Diameter, deep: c.Diameter, round: true,
		count: float64(c.Columns), metal: metal, wall: c.Wall, inside: lacquered})
	open := c.HoleShare()
	// Two ends meet at each joint; the air passes rows + 1 of them.
	holes := float64(c.Rows+1) * airflow.OrificeLoss(open) / (open * open)
	p := passage{name: "in the cans", dh: dh, depth: dh, area: area * float64(c.Columns), length: float64(c.Rows) * c.Height,
		restart: c.Height, fittings: lossInto + holes, walls: walls, fluctuate: sigmaRibs}
	out := k.made(layers, [][]passage{{p}}, joins)
	out.Ports = [2]float64{c.Diameter, c.Diameter}
	out.Header = &airflow.Header{Branches: c.Columns, Area: c.Header * c.Diameter, Branch: area, Loss: p.fittings + 0.3, Friction: 0.1,
		OtherSide: true}
	return out, nil
}

func (k *maker) pipes() (Passages, error) {
	a := k.h.Absorber.Pipes
	metal, err := catalog.FindSheet(a.Metal)
	if err != nil {
		return Passages{}, err
	}
	in, deep := a.Width-2*a.Wall, a.Depth-2*a.Wall
	layers, joins, walls, dh, area := k.tubes(tubes{name: "pipes", section: heattransfer.Rectangle(in, deep), wide: in, deep: deep,
		count: float64(a.Count), metal: metal, wall: a.Wall, fins: a.Fins, inside: metal.Emittance})
	n := float64(a.Count)
	p := passage{name: "in the pipes", section: heattransfer.Rectangle(in, deep), dh: dh, depth: deep, area: area * n,
		length: k.l - 2*a.Header, rough: 0.05e-3, fittings: lossInto, walls: walls}
	head := &airflow.Header{Branches: a.Count, Area: a.Header * a.Depth, Branch: area, Loss: p.fittings + 0.03*p.length/dh, Friction: 0.1,
		OtherSide: true}
	if k.h.Absorber.Family == design.DoublePassTubes {
		layers[2].Gap = a.Behind
		rear := k.slot("behind the pipes", a.Behind, wall{layer: 1, surface: 1}, wall{layer: 2, surface: 1})
		rear.down = true
		rear.fittings += lossTurn
		out := k.made(layers, [][]passage{{rear}, {p}}, joins)
		out.Header, out.Ports = head, [2]float64{a.Behind, a.Depth}
		return out, nil
	}
	if a.Join == "series" {
		p.area, p.length = area, k.l*n
		p.fittings += lossTurn * (n - 1)
		return k.made(layers, [][]passage{{p}}, joins), nil
	}
	out := k.made(layers, [][]passage{{p}}, joins)
	out.Header, out.Ports = head, [2]float64{a.Depth, a.Depth}
	return out, nil
}

func (k *maker) coil() (Passages, error) {
	a := k.h.Absorber.Coil
	metal, err := catalog.FindSheet("aluminium")
	if err != nil {
		return Passages{}, err
	}
	const foil = 0.0001 // wall of ribbed duct, m: common practice, no source
	layers, joins, walls, dh, area := k.tubes(tubes{name: "coil", wide: a.Bore, deep: a.Bore, round: true, count: float64(a.Runs),
		metal: metal, wall: foil, inside: metal.Emittance})
	for i := range walls { // slack leaves more foil in the ribs
		walls[i].surface /= a.Stretch
	}
	runs := float64(a.Runs) / float64(a.Ways)
	p := passage{name: "in the coil", dh: dh, depth: dh, area: area * float64(a.Ways), length: k.l * runs, rough: a.Rib,
		fittings: lossInto + lossRibbed*(runs-1), walls: walls, fluctuate: sigmaRibs}
	out := k.made(layers, [][]passage{{p}}, joins)
	if rest := a.Runs % a.Ways; rest > 0 { // some coils are a run longer than others
		long, short := p, p
		long.area, short.area = area, area
		long.length, short.length = k.l*math.Ceil(runs), k.l*math.Floor(runs)
		long.fittings, short.fittings = lossInto+lossRibbed*(math.Ceil(runs)-1), lossInto+lossRibbed*math.Max(0, math.Floor(runs)-1)
		ways := airflow.Parallel{long.element(), short.element()}
		out.Evenness = func(m, t, pa float64) float64 {
			// The two kinds at one pressure, by the mean of a pair.
			s := ways.Split(2*m/float64(a.Ways), t, pa)
			mean := (float64(rest)*s[0] + float64(a.Ways-rest)*s[1]) / float64(a.Ways)
			return s[0] / mean
		}
	}
	return out, nil
}

// panel hangs indoors: the air rises between the window and the foil, and the
// foil's other side warms the room.
func (k *maker) panel() (Passages, error) {
	a := k.h.Absorber.Panel
	metal, err := catalog.FindSheet("aluminium")
	if err != nil {
		return Passages{}, err
	}
	foil := k.dark("foil", metal, a.Gap)
	foil.Store = sheetHeat(metal, design.FoilGauge)
	p := k.slot("behind the window", a.Gap, wall{layer: -1, surface: 1}, wall{layer: 0, surface: 1})
	p.fittings = 2 * airflow.OrificeLoss(a.Slots) / (a.Slots * a.Slots)
	out := k.made([]Layer{foil}, [][]passage{{p}}, nil)
	e := k.paint.Emittance
	if a.Back == "bare" {
		e = metal.Emittance
	}
	out.RoomSide = func(foil, room, height, pressure float64) float64 {
		tm := (foil + room) / 2
		a, b := foil+air.Kelvin, room+air.Kelvin
		free := heattransfer.UprightPlate(heattransfer.Rayleigh(tm, pressure, foil-room, height),
			air.Prandtl(tm)) * air.Conductivity(tm) / height
		return free + e*heattransfer.Sigma*(a*a+b*b)*(a+b)
	}
	return out, nil
}

// own is a builder's own absorber by its passages and surfaces.
func (k *maker) own() (Passages, error) {
	a := k.h.Absorber.Own
	metal, err := catalog.FindSheet(a.Metal)
	if err != nil {
		return Passages{}, err
	}
	front := k.dark("front of the absorber", metal, k.h.Box.Gap)
	front.Infrared.ReflectBack = 1 - metal.Emittance
	front.Store = sheetHeat(metal, a.Wall) * a.Surface
	rear := k.dark("back of the absorber", metal, math.Max(0.002, a.Depth))
	rear.Infrared = optics.Layer{ReflectFront: 1 - metal.Emittance, ReflectBack: 1 - k.paint.Emittance}
	rear.Store = sheetHeat(metal, a.Wall)
	layers := []Layer{front, rear, k.behindIt(k.h.TubeRear())}
	// Front and back of a hollow body meet along webs as far apart as it is deep.
	pitch := math.Max(0.02, 2*a.Depth)
	joins := []Join{{0, 1, metal.Conductivity * a.Wall / math.Max(0.002, a.Depth) / pitch}}
	var groups [][]passage
	for _, x := range a.Passages {
		var p passage
		switch x.Where {
		case "front":
			p = k.slot("in front", k.h.Box.Gap, wall{layer: -1, surface: 1}, wall{layer: 0, surface: x.Swept * a.Surface})
		case "inside":
			depth := math.Min(x.Depth, math.Max(0.002, a.Depth))
			p = k.slot("inside", depth, wall{layer: 0, surface: x.Swept}, wall{layer: 1, surface: x.Swept})
			p.dh = 2 * depth / math.Max(1, x.Swept)
		default:
			layers[2].Gap = x.Depth
			p = k.slot("behind", x.Depth, wall{layer: 1, surface: x.Swept}, wall{layer: 2, surface: 1})
		}
		p.rough = x.Rough
		p.fittings += lossTurn * float64(x.Turns)
		p.down = x.Way == "down"
		groups = append(groups, []passage{p})
	}
	if len(groups) == 0 {
		return Passages{}, fmt.Errorf("the absorber has no passage for the air")
	}
	out := k.made(layers, groups, joins)
	deep := func(x design.Passage) float64 {
		if x.Where == "front" {
			return k.h.Box.Gap
		}
		return x.Depth
	}
	out.Ports = [2]float64{deep(a.Passages[0]), deep(a.Passages[len(a.Passages)-1])}
	return out, nil
}

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
	// Segments narrow where the crossing changes most at a usual flow, 0.03 kg/s for a m2.
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

// meshes are the layers of a stack of screens, the first so far behind the glazing, m.
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

// crossing is how air passes through the stack from the space in front to that behind.
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

// air is the air of the box at a flow: in front, through each screen in turn, and behind.
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
	net := AirNet{Airs: append([]Air{fronts}, x.through(f, shares, spread, through)...), LeakOut: leak}
	// Behind: what has crossed, on its way up to the outlet. What joins in a segment
	// joins half at either end of it.
	behind := Air{Name: "behind"}
	joined := 0.0
	for i := range segments {
		fs := []Feed{{From: n, At: i, Mass: through(i) / 2}}
		if i > 0 {
			fs = append(fs, Feed{From: n + 1, At: i - 1, Mass: joined}, Feed{From: n, At: i - 1, Mass: through(i-1) / 2})
			joined += through(i-1) / 2
		}
		joined += through(i) / 2
		behind.Feeds = append(behind.Feeds, fs)
		net.Along = append(net.Along, []Feed{{From: n + 1, At: i, Mass: joined}, {From: 0, At: i, Mass: entering - joined}})
		net.Climb, net.Bore = append(net.Climb, spread[i]), append(net.Bore, 0)
	}
	behind.Touches, behind.Pairs = x.rear.touches(math.Max(0, entering-ahead), f)
	net.Airs = append(net.Airs, behind)
	last := segments - 1
	net.Outlet = []Feed{{From: n + 1, At: last, Mass: joined}, {From: n, At: last, Mass: through(last) / 2},
		{From: 0, At: last, Mass: entering * slip}}
	return net
}

// through is the air in each screen in turn, as fast as its own stretch is crossed.
func (x crossing) through(f Flow, shares, spread []float64, through func(int) float64) (airs []Air) {
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
		one := Air{Name: fmt.Sprintf("through screen %d", s+1), Touches: []Touch{always(f.First+s, mean)},
			Scale: make([]float64, segments)}
		for i := range segments {
			m := through(i)
			fs := []Feed{{From: s, At: i, Mass: m}}
			if s == 0 {
				fs = []Feed{{From: 0, At: i, Mass: m / 2}, {From: 0, At: i - 1, Mass: m / 2}}
				if i == 0 {
					fs[1] = Feed{From: FromInlet, Mass: m / 2}
				}
			}
			one.Feeds = append(one.Feeds, fs)
			one.Scale[i] = wire[i] / mean
		}
		if s > 0 { // what still conducts between two screens against the air that crosses
			one.Pairs = []Pair{{A: f.First + s - 1, B: f.First + s, G: func(i int, ta, tb float64) float64 {
				return against(between.Coefficient(tb, ta, a.Spacing, f.P), through(i)*air.Cp(f.Mean)/(k.w*k.l*spread[i]))
			}}}
		}
		airs = append(airs, one)
	}
	return airs
}

// Of the jet from an inlet without a deflector: it strikes the glass and spreads all round
// in the space behind it. Of the momentum of a stream that runs out evenly all round, 1/pi goes
// up the box; as much goes down and loses itself at the bottom. It dies away within one and a half
// widths. Common practice, no source: a factor of two is one sigma ([sigmaJet]).
const (
	jetUp   = 1 / math.Pi
	jetDies = 1.5
)

// jet is the momentum that air from the inlet carries up a space in front so deep, m, over that
// of the same air spread over it.
func (k *maker) jet(depth float64) float64 {
	bore := k.h.PortBore()
	ports := math.Pi / 4 * bore * bore * float64(max(1, k.h.Air.Ports))
	return math.Max(0, jetUp*k.w*depth/ports-1)
}

// inFront lays out the air in front of screens that has not crossed yet, what leaks from
// it, and its mean flow, kg/s. Of what crosses or leaks in a segment half does so at either
// end of it. The seam at the glass leaks most where most air is, so that no stretch runs dry.
func inFront(f Flow, shares, spread []float64, through func(int) float64) (fronts Air, leak []Feed, ahead float64) {
	fronts.Name = "in front"
	m := f.Mass // at the segment's beginning
	for i := range f.Segments {
		in, out := f.LeakIn*shares[i], f.LeakOut*shares[i]
		fs := []Feed{{From: FromInlet, Mass: m - (through(i)+out)/2}}
		if i > 0 {
			// Half of the segment before has still to go from what leaves its node.
			fs[0].From, fs[0].At = 0, i-1
		}
		if in > 0 {
			fs = append(fs, Feed{From: FromOutdoor, Mass: in})
		}
		fronts.Feeds = append(fronts.Feeds, fs)
		if out > 0 {
			leak = append(leak, Feed{From: fs[0].From, At: fs[0].At, Mass: out / 2}, Feed{From: 0, At: i, Mass: out / 2})
		}
		ahead += (m - (through(i)+out)/2 + in) * spread[i]
		m += in - out - through(i)
	}
	return fronts, leak, ahead
}

// against returns what a layer of air of conductance g passes, W/m2K, while air of capacity
// flow c, W/m2K, crosses it from its warm or cold side: conduction and flow in one
// dimension leave c/(exp(c/g) - 1) of it, besides what the flow carries itself.
func against(g, c float64) float64 {
	if x := c / g; x > 1e-6 {
		return c / math.Expm1(math.Min(x, 500))
	}
	return g
}

package collector

import (
	"math"

	"gladember/core/airflow"
	"gladember/core/catalog"
	"gladember/core/design"
	"gladember/core/heattransfer"
	"gladember/core/optics"
)

// tubes lays out tubes side by side: their layers and joins, the walls that the
// air inside sweeps, and the hydraulic diameter, m, and free area, m2, of one.
// What falls between two tubes meets the back, or the flashing that closes the
// gap.
type tubes struct {
	name    string
	section heattransfer.Section
	// wide and deep are the outside of one tube, m.
	wide, deep float64
	round      bool
	count      float64
	metal      catalog.Sheet
	wall       float64
	fins       bool
	// inside is the emittance of the inner wall.
	inside float64
}

// tubes lays out tubes side by side: their layers and joins, the walls that the
// air inside sweeps, and the hydraulic diameter, m, and free area, m2, of one.
// A beam meets the tubes on their lit half; what falls between them meets the
// back.
func (k *maker) tubes(t tubes) (layers []Layer, joins []Join, walls [2]wall, dh, area float64) {
	pitch := k.w / t.count
	open := max(0, 1-t.wide/pitch)
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
		across := max(0, g-t.deep*math.Tan(min(theta, 85)*math.Pi/180))
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
	// The inner wall faces the front half; outside, painted or bare, it faces
	// the back.
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

func init() {
	makers[design.CanColumns] = (*maker).cans
}

// cans are columns of cans between two headers; the openings between one can
// and the next disturb the flow and cost pressure.
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
	p := passage{name: "in the cans", dh: dh, depth: dh, area: area * float64(c.Columns), length: c.Column(),
		restart: c.Height, fittings: lossInto + holes, walls: walls, fluctuate: sigmaRibs}
	out := k.headed(layers, nil, p, joins, c.Columns, c.Header, c.Diameter)
	out.Ports = [2]float64{c.Diameter, c.Diameter}
	return out, nil
}

func init() {
	makers[design.Downpipes] = (*maker).pipes
	makers[design.DoublePassTubes] = (*maker).pipes
}

// pipes are downpipes side by side between headers, in series from one to the
// next, or with a pass in front of them first.
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
	if k.h.Absorber.Family == design.DoublePassTubes {
		layers[2].Gap = a.Behind
		rear := k.slot("behind the pipes", a.Behind, wall{layer: 1, surface: 1}, wall{layer: 2, surface: 1})
		rear.down = true
		rear.fittings += lossTurn
		out := k.headed(layers, [][]passage{{rear}}, p, joins, a.Count, a.Header, a.Depth)
		out.Ports = [2]float64{a.Behind, a.Depth}
		return out, nil
	}
	if a.Join == "series" {
		p.area, p.length = area, k.l*n
		p.fittings += lossTurn * (n - 1)
		return k.made(layers, [][]passage{{p}}, joins), nil
	}
	out := k.headed(layers, nil, p, joins, a.Count, a.Header, a.Depth)
	out.Ports = [2]float64{a.Depth, a.Depth}
	return out, nil
}

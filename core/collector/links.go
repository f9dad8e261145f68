package collector

import (
	"math"

	"gladember/core/air"
	"gladember/core/heattransfer"
	"gladember/core/network"
	"gladember/core/optics"
)

// radiation appends the exchange of every pair of layers and with the world
// in front, whose sky part is (1 + cos tilt)/2; the ground is as warm as the air.
// Exchange factors are those of gray parallel planes, with holes and
// transmitting films in between: sigma (Ta^2 + Tb^2)(Ta + Tb) times the factor
// is the conductance between two of them.
func (d *Description) radiation(links []network.Link, c Conditions, t Tuning) []network.Link {
	var stack []optics.Layer
	for _, l := range d.CoverInfrared {
		stack = append(stack, dull(l, t.Emittance))
	}
	for _, l := range d.Passages.Layers {
		stack = append(stack, dull(l.Infrared, t.Emittance))
	}
	f := optics.Exchange(stack)
	n := len(stack)
	gray := func(factor float64) func(ta, tb float64) float64 {
		return func(ta, tb float64) float64 {
			a, b := ta+air.Kelvin, tb+air.Kelvin
			return factor * heattransfer.Sigma * (a*a + b*b) * (a + b)
		}
	}
	const least = 1e-4 // of black exchange: under a milliwatt per m2 and kelvin
	for i := range n {
		for j := i + 1; j < n; j++ {
			if f[i][j] > least {
				links = append(links, network.Link{A: i, B: j, G: gray(f[i][j])})
			}
		}
		if w := f[i][n]; w > least {
			s := (1 + math.Cos(c.Tilt*math.Pi/180)) / 2
			links = append(links, network.Link{A: i, To: network.SkyDome, Role: network.Front, G: gray(w * s)},
				network.Link{A: i, To: network.Ambient, Role: network.Front, G: gray(w * (1 - s))})
		}
	}
	return links
}

// dull moves a layer's emittance by an absolute step, within what is possible.
func dull(l optics.Layer, by float64) optics.Layer {
	move := func(r float64) float64 { return max(0, min(1-l.Transmit, r-by*(1-l.Transmit))) }
	l.ReflectFront, l.ReflectBack = move(l.ReflectFront), move(l.ReflectBack)
	return l
}

// surroundings are the fixed temperatures around a box. The room behind a wall
// is as warm as the air drawn in, unless that comes from outdoors.
func (d *Description) surroundings(c Conditions) [network.Outsides]float64 {
	room := c.Inlet
	if d.FromOutdoors {
		room = c.Room
	}
	return [network.Outsides]float64{c.Ambient, c.Sky, room}
}

// links builds everything between layers that does not depend on the flow;
// still says that the gaps which air runs through hold standing air.
// They are standing air, metal joints, radiation, the wind, and what goes
// through the back and the edges.
func (d *Description) links(c Conditions, t Tuning, swept map[int]bool) []network.Link {
	nc := len(d.Sheets)
	gap := d.gap(c, t)
	fixed := func(g float64) func(ta, tb float64) float64 { return func(_, _ float64) float64 { return g } }
	ls := d.coverGaps(gap)
	for i, l := range d.Passages.Layers {
		if k := nc + i; k > 0 && !swept[k] {
			ls = append(ls, network.Link{A: k - 1, B: k, G: d.standing(i, l, c, t, gap)})
		}
	}
	for _, j := range d.Passages.Joins {
		ls = append(ls, network.Link{A: nc + j.A, B: nc + j.B, G: fixed(j.G)})
	}
	ls = d.radiation(ls, c, t)
	ls = append(ls, network.Link{A: 0, To: network.Ambient, Role: network.Front, G: d.outer(c, t)})
	last := nc + len(d.Passages.Layers) - 1
	if side := d.Passages.RoomSide; side != nil {
		return append(ls, network.Link{A: last, To: network.Indoors, Role: network.Room, G: func(layer, room float64) float64 {
			return side(layer, room, d.Height, c.Pressure) * (1 + t.AirNu)
		}})
	}
	edge := d.EdgeUA(t) / d.Width / d.Height / 2
	out, in := d.back(c, t)
	if in > 0 {
		ls = append(ls, network.Link{A: last, To: network.Indoors, Role: network.Back, G: fixed(in)})
	}
	return append(ls,
		network.Link{A: last, To: network.Ambient, Role: network.Back, G: fixed(out)},
		network.Link{A: last, To: network.Ambient, Role: network.Edge, G: fixed(edge)},
		network.Link{A: nc, To: network.Ambient, Role: network.Edge, G: fixed(edge)})
}

// gap returns the conductance of a closed gap of a width, m, and of what
// crosses it, W/m2K.
func (d *Description) gap(c Conditions, t Tuning) func(width, web float64) func(front, rear float64) float64 {
	return func(width, web float64) func(front, rear float64) float64 {
		cavity := heattransfer.NewCavity(c.Tilt, d.Height/width)
		return func(front, rear float64) float64 {
			return cavity.Coefficient(rear, front, width, c.Pressure)*(1+t.GapNu) + web
		}
	}
}

// standing is what passes between a layer behind the covers and the one in
// front of it through air that stands between them, in a passage or in a closed
// gap.
func (d *Description) standing(i int, l Layer, c Conditions, t Tuning, gap func(width, web float64) func(ta, tb float64) float64) func(ta,
	tb float64) float64 {
	for _, w := range d.Passages.Ways {
		if w.walls[1].layer == i && w.walls[0].layer == i-1 {
			g := w.standing(Flow{Mean: c.Inlet, P: c.Pressure, Tilt: c.Tilt, Height: d.Height})
			return func(ta, tb float64) float64 { return g(ta, tb) * (1 + t.GapNu) }
		}
	}
	return gap(max(0.0005, l.Gap), 0)
}

// coverGaps are the exchanges by convection and through webs between one cover
// and the next.
func (d *Description) coverGaps(gap func(width, web float64) func(ta, tb float64) float64) (ls []network.Link) {
	for i := 1; i < len(d.Sheets); i++ {
		ls = append(ls, network.Link{A: i - 1, B: i, G: gap(d.Between[i-1], d.Webs[i-1])})
	}
	return ls
}

// outer is the coefficient on the outside of the outer cover.
func (d *Description) outer(c Conditions, t Tuning) func(cover, ambient float64) float64 {
	return func(cover, ambient float64) float64 {
		if c.WindH > 0 {
			return c.WindH * math.Exp(t.Wind) * d.Wave
		}
		return heattransfer.Outer(c.Wind, cover, ambient, d.Height, c.Pressure) * math.Exp(t.Wind) * d.Wave
	}
}

// sweptBy says in front of which layers the gap holds running air, not standing
// air: those that share an air node with the layer before them, and screens
// that air crosses.
func sweptBy(airs []network.Air, covers int) map[int]bool {
	swept := map[int]bool{}
	for _, a := range airs {
		for _, t := range a.Touches {
			if len(a.Touches) == 1 || t.Layer >= covers && touches(a, t.Layer-1) {
				swept[t.Layer] = true
			}
		}
	}
	return swept
}

// touches says whether an air node sweeps a layer.
func touches(a network.Air, layer int) bool {
	for _, t := range a.Touches {
		if t.Layer == layer {
			return true
		}
	}
	return false
}

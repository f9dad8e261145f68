package collector

import (
	"math"

	"gladember/core/network"
	"gladember/core/optics"
)

// branching is how the air of a heater branches: in boxes that are alike, which may have tubes or strips of their own, or in a row of boxes
// between headers.
type branching interface {
	// cells is how many pieces the air's way is cut into in each part.
	cells() int
	// parts are what the balance takes as ways of the air, in the order of their segments.
	parts() []part
	// aperture is the area of all boxes that lets sun in, m2.
	aperture() float64
	// first is the box whose air comes first.
	first() *Description
	// branch is the area of a branch of a kind, m2, and inner the box whose own tubes are within it; nil for none.
	branch(kind int) float64
	inner(kind int) *Description
	// sideBySide is between how many boxes the air is shared out, and within what warmth adds in the branches of one.
	sideBySide() float64
	within(w *warmth) warmth
	// lit is [Description.lit].
	lit(c Conditions, t Tuning) (absorbed []float64, reflected, edge float64)
	// told tells the branches of a solved heater apart; none where its boxes are alike.
	told(p *pass, of *Result, st *network.State, net AirNet) []Branch
}

// branching is that of the heater.
func (d *Description) branching() branching {
	if d.row != nil {
		return d.row
	}
	return alike{d}
}

// alike are one box or several, side by side or one after the other.
type alike struct{ *Description }

func (d alike) cells() int {
	switch {
	case d.Cells > 0:
		return d.Cells
	case d.Passages.tubes:
		return tubeSegments
	}
	return Segments
}

func (d alike) parts() (out []part) {
	n := d.inSeries() * max(1, d.Passages.classes)
	for range n {
		out = append(out, part{d.Description, 1 / float64(n)})
	}
	return out
}

func (d alike) aperture() float64                                    { return d.Width * d.Height * d.boxes() }
func (d alike) first() *Description                                  { return d.Description }
func (d alike) branch(int) float64                                   { return d.Width * d.Height / float64(max(1, d.Passages.branches)) }
func (d alike) inner(int) *Description                               { return nil }
func (d alike) within(w *warmth) warmth                              { return *w }
func (d alike) told(*pass, *Result, *network.State, AirNet) []Branch { return nil }

func (d alike) sideBySide() float64 {
	if d.Series {
		return 1
	}
	return d.boxes()
}

// lit implements [branching].
func (d alike) lit(c Conditions, t Tuning) (absorbed []float64, reflected, edge float64) {
	nc := len(d.Sheets)
	absorbed = make([]float64, nc+len(d.Passages.Layers))
	stack := make([]optics.Layer, len(absorbed))
	emit := make([]optics.Emission, len(absorbed))
	for i, s := range d.Sheets {
		// What comes back from the layers is diffuse.
		one := optics.Covers([]optics.Sheet{s}, optics.DiffuseAngle)
		stack[i] = optics.Layer{Transmit: one.Transmitted, ReflectFront: one.Reflected, ReflectBack: one.Reflected}
	}
	perimeter := 2 * (d.Width + d.Height)
	// Of what the side walls take up, the share that goes outwards: their loss
	// over the loss and the exchange inside.
	wallU := d.EdgeUA(t) / max(1e-6, perimeter*max(0.02, d.Depth))
	const insideWall = 10.0 // W/m2K, walls to air and absorber: common practice, no source
	lost := wallU / (wallU + insideWall)
	add := func(g, theta float64, beam bool) {
		if g <= 0 {
			return
		}
		through := optics.Covers(d.Sheets, theta)
		for i, l := range d.Passages.Layers {
			stack[nc+i] = l.Sun(theta)
		}
		in := through.Transmitted * (1 - d.Dirt) * d.Takes * (1 + t.TauAlpha)
		// The frame's own depth: a slanting beam meets the side walls first.
		wall := 0.0
		if beam && !d.Indoors {
			wall = min(0.8, d.Depth*math.Tan(min(theta, 85)*math.Pi/180)*(1/d.Width+1/d.Height)/2) * in * (1 - d.Walls)
		}
		var f optics.Flux
		if nc > 0 {
			emit[nc-1].Down = in - wall
			f = optics.Solve(stack, 0, emit)
		} else {
			f = optics.Solve(stack, in-wall, nil)
		}
		for i := range absorbed {
			a := f.Absorbed[i]
			if i < nc {
				a += through.Absorbed[i] * (1 - d.Dirt)
			}
			absorbed[i] += g * a
		}
		absorbed[nc] += g * wall * (1 - lost)
		edge += g * wall * lost
		// What passes the last layer stays in it: the back is opaque.
		absorbed[len(absorbed)-1] += g * f.Down
	}
	k := 1 + t.Sun
	add(c.Sun.Beam*k, min(c.Sun.Incidence, 89.9), true)
	add(c.Sun.Sky*k, optics.SkyAngle(c.Tilt), false)
	add(c.Sun.Ground*k, optics.GroundAngle(c.Tilt), false)
	add(c.Sun.Mirror*k, min(c.Sun.MirrorIncidence, 89.9), true)
	reflected = c.Sun.Total()*k - edge
	for _, a := range absorbed {
		reflected -= a
	}
	return absorbed, reflected, edge
}

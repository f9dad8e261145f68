package collector

import (
	"gladember/core/network"
)

// Top returns the air at the top of a rated box, where a switch's sensor sits:
// between absorber and cover while it stands, the outlet's while it runs.
func (d *Description) Top(r *Result) float64 {
	if r.Mass > 0 {
		return r.Outlet
	}
	return d.topOf(r.state)
}

// topOf is the air at the top of a standing box, of a row the first one, of boxes one after the other the last.
func (d *Description) topOf(s *network.State) float64 {
	nc := len(d.Sheets)
	first := d.branching().first()
	last := s.Layer[d.cells()*(1+(first.inSeries()-1)*max(1, first.Passages.classes))-1]
	cover := last[nc]
	if nc > 0 {
		cover = last[nc-1]
	}
	return (last[nc] + cover) / 2
}

// The parts of [Held]: the absorber's first half along the air's way, its
// second, and its last segment, which the switch feels; the covers and their
// last segment; the back.
const (
	heldEarly = iota
	heldLate
	heldEnd
	heldCover
	heldCoverEnd
	heldBack
	HeldParts
)

// Held is the heat that the parts of a box hold over 0 C, J. The absorber warms
// and cools in a minute or two, the others take longer.
type Held [HeldParts]float64

// Held returns what the layers of a rated box hold.
func (d *Description) Held(r *Result) Held { return d.heldBy(r.state) }

// heldBy is the heat that each part of the box holds over 0 C, J.
func (d *Description) heldBy(s *network.State) (h Held) {
	nc := len(d.Sheets)
	for i, l := range s.Layer {
		seg := d.Aperture() * s.Share[i]
		for k, t := range l {
			n, part := d.cells(), heldBack
			i := i % n // in its own part
			switch last := i == n-1; {
			case k < nc && last:
				part = heldCoverEnd
			case k < nc:
				part = heldCover
			case d.Passages.Layers[k-nc].Kind == AbsorberLayer && last:
				part = heldEnd
			case d.Passages.Layers[k-nc].Kind == AbsorberLayer && i >= n/2:
				part = heldLate
			case d.Passages.Layers[k-nc].Kind == AbsorberLayer:
				part = heldEarly
			}
			h[part] += d.store(k) * seg * t
		}
	}
	return h
}

// Sum is all of it, J.
func (h Held) Sum() (sum float64) {
	for _, v := range h {
		sum += v
	}
	return sum
}

// store is what a layer takes up, J/m2K.
func (d *Description) store(k int) float64 {
	if nc := len(d.Sheets); k >= nc {
		return d.Passages.Layers[k-nc].Store
	}
	return d.CoverStore[k]
}

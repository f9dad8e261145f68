package layout

import (
	"math"

	"gladember/core/design"
)

// Opening is a hole in the wall behind a box.
type Opening struct {
	Name string
	// X and Y are its center: from the left window, seen from outside, and over
	// the ground, m.
	X, Y float64
	// Diameter is in m.
	Diameter float64
	// Clear is from its rim to the nearest stud's side, m; below zero it meets
	// the stud; +Inf without studs.
	Clear float64
}

// WallFit is how a box hangs between windows.
type WallFit struct {
	// Spare is the clear wall left beside the box, m; below zero the box is too
	// wide.
	Spare float64
	// Beside is from the box's right edge to the right window, m.
	Beside float64
	// Studs are their centers from the left window, m.
	Studs    []float64
	Openings []Opening
	// Shift is the least move to the right (below zero, to the left) that frees
	// all openings, m; NaN where there is none.
	Shift float64
	// OffSill is the height of the box's foot over the sills, m; NaN where
	// these are not known.
	OffSill float64
}

// edge is the sound wood or board that stays between an opening and a stud, m.
// Common practice, no source.
const edge = 0.006

// OnWall returns how a heater's laid out box hangs on its wall; false where the
// document does not tell of a wall.
// ok is false where nothing of the wall was measured.
// Studs are laid out from the first one by their spacing; the least shift that
// frees every opening is searched in steps of a millimeter, as far as the box
// stays between the windows.
func OnWall(h *design.Heater, l *Layout) (w WallFit, ok bool) {
	at := &h.Wall
	if at.Between <= 0 || h.Indoors() || h.Air.Route != "wall" {
		return w, false
	}
	w.Spare, w.Beside = at.Between-l.Width, at.Between-at.Left-l.Width
	if at.Stud > 0 {
		first := math.Mod(at.First, at.Stud)
		for x := first; x < at.Between; x += at.Stud {
			w.Studs = append(w.Studs, x)
		}
	}
	clearance := func(x, d float64) float64 {
		least := math.Inf(1)
		for _, s := range w.Studs {
			least = min(least, math.Abs(x-s)-at.Width/2-d/2)
		}
		return least
	}
	// Ports through the sides and ends have ducts that go around the box.
	var holes []Hole
	for _, x := range l.Holes {
		if x.Face == ThroughBack {
			holes = append(holes, x)
		}
	}
	free := func(shift float64) bool {
		left := at.Left + shift
		if left < -1e-9 || left+l.Width > at.Between+1e-9 {
			return false
		}
		for _, o := range holes {
			if clearance(left+o.X, o.Diameter) < edge-1e-9 {
				return false
			}
		}
		return true
	}
	for _, o := range holes {
		w.Openings = append(w.Openings, Opening{o.Name, at.Left + o.X, at.Bottom + o.Y*math.Sin(h.Place.Tilt*math.Pi/180), o.Diameter,
			clearance(at.Left+o.X, o.Diameter)})
	}
	w.Shift = math.NaN()
	const step = 0.001
	for k := 0.0; k*step <= at.Between; k++ {
		if free(k * step) {
			w.Shift = k * step
			break
		}
		if free(-k * step) {
			w.Shift = -k * step
			break
		}
	}
	w.OffSill = math.NaN()
	if at.Sill > 0 {
		w.OffSill = at.Bottom - at.Sill
	}
	return w, true
}

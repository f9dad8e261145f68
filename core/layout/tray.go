package layout

import (
	"gladember/core/design"
)

// trayFlat is the flat of a tray. Of each bend the outside legs are longer than what
// they take of the flat, by bend, m.
//
// Lengths on the flat are shorter than the sum of the outside legs, since the sheet
// goes around each corner on a curve.
//
// The same holes must be found again in the bent tray, by their distance from its
// corner: a tray that was drilled after bending would need them so. Both are one
// geometry, see the tests.
//
// A tray is one sheet that is bent up from the back: walls on all four sides, then
// flanges over the glazing. Holes are made in it while it is flat, so that they are
// given on the flat, which stands as the box does: its left edge is that of the left
// flange, its bottom edge that of the lower one.
type trayFlat struct {
	// gauge is the sheet's thickness, bend what a bend takes off, m.
	gauge, bend float64
	// wall is from the outer face of the flange to that of the back, m.
	wall float64
	// off is from the flat's edge to where the box's own outer edge comes to lie, m.
	off float64
	// cover is the thickness of the outer cover, m.
	cover float64
}

// trayOf is the flat of a box's tray. Its flange lies on the outer cover, so that the
// wall is higher than the box is deep by the gauge.
func trayOf(h *design.Heater) trayFlat {
	t := trayFlat{gauge: h.Box.FrameWidth, bend: bendLoss(h.Box.FrameWidth), cover: h.Cover.Thickness}
	t.wall = h.FrameDepth() + t.cover + t.gauge
	t.off = flange + t.wall - 2*t.bend
	return t
}

// inWall is how far from the flat's edge a place in a wall lies that is so deep behind
// the outer cover, m.
func (t trayFlat) inWall(deep float64) float64 { return flange + t.gauge + t.cover + deep - t.bend }

// bends are the lines in the middle of each bend, of a tray w by h m.
func (t trayFlat) bends(w, h float64) (out [][4]float64) {
	w, h = w+2*t.off, h+2*t.off
	for _, at := range []float64{flange - t.bend/2, t.off - t.bend/2 + t.bend} {
		out = append(
			out,
			[4]float64{at, 0, at, h},
			[4]float64{w - at, 0, w - at, h},
			[4]float64{0, at, w, at},
			[4]float64{0, h - at, w, h - at},
		)
	}
	return out
}

// drains are the drain holes of a bottom board, in the tray's lower wall.
func (t trayFlat) drains(h *design.Heater) (out []Bore) {
	for _, b := range drains(h, t.cover) {
		out = append(out, Bore{b.Name, t.off + t.gauge + b.X, t.inWall(b.Y), b.Diameter})
	}
	return out
}

// boreTray makes the hole of a port in the flat of a tray.
func (l *Layout) boreTray(x Hole) {
	for i := range l.Parts {
		p := &l.Parts[i]
		if p.Kind != Tray {
			continue
		}
		b := Bore{x.Name, l.trayed.off + x.X, l.trayed.off + x.Y, x.Diameter}
		switch in := l.trayed.inWall(x.Z); x.Face {
		case ThroughLeft:
			b.X = in
		case ThroughRight:
			b.X = p.Width - in
		case ThroughBottom:
			b.Y = in
		case ThroughTop:
			b.Y = p.Length - in
		}
		p.Bores = append(p.Bores, b)
	}
}

// wallOf is the part that a port through a side, the bottom or the top goes through.
func wallOf(h *design.Heater, face Face) *PartKind {
	switch {
	case h.Box.Body == "sheet":
		return Tray
	case face == ThroughTop:
		return TopBoard
	case face == ThroughBottom:
		return BottomBoard
	}
	return SideBoard
}

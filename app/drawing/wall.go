package drawing

import (
	"fmt"
	"html/template"
	"math"

	"gladember/core/design"
	"gladember/core/layout"
	"gladember/core/units"
)

// OnWall draws the box on its wall to scale, from outside or, with inside, from the room: the windows at both sides, studs
// dashed, the box with its openings, a cross at the center of each and how far it lies from the window at the left.
func OnWall(h *design.Heater, l *layout.Layout, w layout.WallFit, inside bool, width float64, u units.System) template.HTML {
	const height, top, ground = 240.0, 22.0, 204.0
	between := h.Wall.Between
	lean := math.Sin(h.Place.Tilt * math.Pi / 180)
	high := max(h.Wall.Bottom+l.Height*lean, h.Wall.Sill+1.2) + 0.15
	k := min((width-90)/between, (ground-top)/high)
	left := (width - k*between) / 2
	from := func(x float64) float64 { // from the window at the left of whoever looks
		if inside {
			return between - x
		}
		return x
	}
	X := func(x float64) float64 { return left + k*from(x) }
	Y := func(y float64) float64 { return ground - k*y }
	fm := func(m float64) string { return units.Format(units.Length, m, u) }
	var s svg
	side := "outside"
	if inside {
		side = "the room"
	}
	s.open("onwall", fmt.Sprintf("The box on its wall between windows %s apart, seen from %s.", fm(between), side), width, height)
	s.text("title", "start", 0, 12, "On the wall, seen from "+side)
	s.line("ground", 0, ground, width, ground)
	sill := h.Wall.Sill
	if sill <= 0 {
		sill = h.Wall.Bottom
	}
	for _, x := range []float64{left - 44, left + k*between} {
		s.rect("pane", x, Y(sill+1.1), 44, k*1.1)
		s.text("small", "middle", x+22, Y(sill+1.1)+14, "window")
	}
	for _, x := range w.Studs {
		s.line("stud", X(x), top+4, X(x), ground)
	}
	box := min(X(h.Wall.Left), X(h.Wall.Left+l.Width)) // its left edge, px
	class := "shell"
	if inside {
		class = "shell behind"
	}
	s.rect(class, box, Y(h.Wall.Bottom+l.Height*lean), k*l.Width, k*l.Height*lean)
	for _, o := range w.Openings {
		class := "port cold"
		if o.Name == "outlet" {
			class = "port hot"
		}
		s.circle(class, X(o.X), Y(o.Y), k*o.Diameter/2)
		cx, cy := X(o.X), Y(o.Y)
		s.line("centermark", cx-6, cy, cx+6, cy)
		s.line("centermark", cx, cy-6, cx, cy+6)
		name := fm(from(o.X))
		if o.Clear < 0 {
			name += ", meets a stud"
		}
		at, anchor := box-7, "end" // beside the box, at the side where the opening is nearer
		if cx > box+k*l.Width/2 {
			at, anchor = box+k*l.Width+7, "start"
		}
		s.text("figure haloed", anchor, at, cy+4, name)
	}
	s.dimension(left, ground+14, box, ground+14, fm((box-left)/k))
	s.dimension(box, ground+14, box+k*l.Width, ground+14, fm(l.Width))
	return s.close()
}

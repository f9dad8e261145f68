package drawing

import (
	"fmt"
	"html/template"
	"math"

	"gladember/core/design"
	"gladember/core/layout"
	"gladember/core/units"
)

// OnWall draws the box on its wall from outside, to scale: the windows at both sides,
// studs dashed, the box with its openings and where these lie.
func OnWall(h *design.Heater, l *layout.Layout, w layout.WallFit, width float64, u units.System) template.HTML {
	const height, top, ground = 230.0, 18.0, 204.0
	between := h.Wall.Between
	lean := math.Sin(h.Place.Tilt * math.Pi / 180)
	high := math.Max(h.Wall.Bottom+l.Height*lean, h.Wall.Sill+1.2) + 0.15
	k := math.Min((width-90)/between, (ground-top)/high)
	left := (width - k*between) / 2
	X := func(x float64) float64 { return left + k*x }
	Y := func(y float64) float64 { return ground - k*y }
	fm := func(m float64) string { return units.Format(units.Length, m, u) }
	var s svg
	s.open("onwall", fmt.Sprintf("The box on its wall between windows %s apart.", fm(between)), width, height)
	s.text("title", "start", 0, 12, "On the wall, seen from outside")
	s.line("ground", 0, ground, width, ground)
	sill := h.Wall.Sill
	if sill <= 0 {
		sill = h.Wall.Bottom
	}
	for _, x := range []float64{X(0) - 44, X(between)} {
		s.rect("pane", x, Y(sill+1.1), 44, k*1.1)
		s.text("small", "middle", x+22, Y(sill+1.1)+14, "window")
	}
	for _, x := range w.Studs {
		s.line("stud", X(x), top+4, X(x), ground)
	}
	s.rect("shell", X(h.Wall.Left), Y(h.Wall.Bottom+l.Height*lean), k*l.Width, k*l.Height*lean)
	for _, o := range w.Openings {
		class := "port cold"
		if o.Name == "outlet" {
			class = "port hot"
		}
		s.circle(class, X(o.X), Y(o.Y), k*o.Diameter/2)
		name := fm(o.X)
		if o.Clear < 0 {
			name += ", meets a stud"
		}
		s.text("figure", "middle", X(o.X), Y(o.Y)-k*o.Diameter/2-5, name)
	}
	s.dimension(X(0), ground+14, X(h.Wall.Left), ground+14, fm(h.Wall.Left))
	s.dimension(X(h.Wall.Left), ground+14, X(h.Wall.Left)+k*l.Width, ground+14, fm(l.Width))
	return s.close()
}

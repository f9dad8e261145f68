// Package drawing inks what core computes: the heater to scale, its heat, its
// air and the sun, as SVG that follows the page's theme by classes.
//
// Places and sizes come from core/layout; nothing is decided here but where a
// label has room. No style attributes are written: the content policy forbids
// them.
package drawing

import (
	"fmt"
	"html"
	"html/template"
	"math"
	"strings"

	"gladember/core/collector"
	"gladember/core/design"
	"gladember/core/layout"
	"gladember/core/units"
)

// svg collects elements; every text passes through esc.
type svg struct{ strings.Builder }

func esc(s string) string { return html.EscapeString(s) }

func (s *svg) open(class, label string, w, h float64) { s.start("img", class, label, w, h) }

// start opens a picture in a role: img, or group where parts can be touched.
func (s *svg) start(role, class, label string, w, h float64) {
	fmt.Fprintf(s, `<svg class="%s" viewBox="0 0 %.0f %.0f" role="%s" aria-label="%s">`, class, w, h, role, esc(label))
}

func (s *svg) close() template.HTML {
	s.WriteString("</svg>")
	return template.HTML(s.String()) //nolint:gosec // built here, every text escaped
}

func (s *svg) line(class string, x1, y1, x2, y2 float64) {
	fmt.Fprintf(s, `<line class="%s" x1="%.2f" y1="%.2f" x2="%.2f" y2="%.2f"/>`, class, x1, y1, x2, y2)
}

func (s *svg) rect(class string, x, y, w, h float64) {
	fmt.Fprintf(s, `<rect class="%s" x="%.2f" y="%.2f" width="%.2f" height="%.2f"/>`, class, x, y, math.Max(0, w), math.Max(0, h))
}

func (s *svg) circle(class string, x, y, r float64) {
	fmt.Fprintf(s, `<circle class="%s" cx="%.2f" cy="%.2f" r="%.2f"/>`, class, x, y, r)
}

// text writes a label; anchor is start, middle or end.
func (s *svg) text(class, anchor string, x, y float64, t string) {
	fmt.Fprintf(s, `<text class="%s" text-anchor="%s" x="%.2f" y="%.2f">%s</text>`, class, anchor, x, y, esc(t))
}

func (s *svg) path(class, d string) { fmt.Fprintf(s, `<path class="%s" d="%s"/>`, class, d) }

// arrow draws a line with a head at its end.
func (s *svg) arrow(class string, x1, y1, x2, y2 float64) {
	a := math.Atan2(y2-y1, x2-x1)
	const head, spread = 9.0, 0.42
	s.line(class, x1, y1, x2-math.Cos(a)*head*0.6, y2-math.Sin(a)*head*0.6)
	s.path(class+" head", fmt.Sprintf("M%.1f %.1fL%.1f %.1fL%.1f %.1fZ", x2, y2, x2-head*math.Cos(a-spread), y2-head*math.Sin(a-spread), x2-head*math.Cos(a+spread), y2-head*math.Sin(a+spread)))
}

// dimension draws a carpenter's dimension: a line with slanted ticks, and the
// figure beside it.
func (s *svg) dimension(x1, y1, x2, y2 float64, label string) {
	s.line("dim", x1, y1, x2, y2)
	for _, p := range [][2]float64{{x1, y1}, {x2, y2}} {
		s.line("dim", p[0]-4, p[1]+4, p[0]+4, p[1]-4)
	}
	if x1 == x2 {
		fmt.Fprintf(s, `<text class="figure" text-anchor="middle" transform="translate(%.1f %.1f) rotate(-90)">%s</text>`, x1-7, (y1+y2)/2, esc(label))
		return
	}
	s.text("figure", "middle", (x1+x2)/2, y1+15, label)
}

// Air is the group of what moves the air: ports, ducts and fan.
const Air layout.Group = "air"

// A Linker returns the address at which a group of parts is chosen, or "".
type Linker func(layout.Group) string

// Scene is what the box's drawings show.
type Scene struct {
	Heater *design.Heater
	Layout *layout.Layout
	Eval   *collector.Evaluation
	Units  units.System
	Link   Linker
	Chosen layout.Group
	// InPlace has a touch change the choices beside the drawing instead of
	// going to another page.
	InPlace bool
}

func (sc *Scene) role() string {
	if sc.Link != nil {
		return "group"
	}
	return "img"
}

func (sc *Scene) t(c float64) string { return units.Format(units.Temperature, c, sc.Units) }
func (sc *Scene) w(w float64) string { return units.Format(units.Power, w, sc.Units) }
func (sc *Scene) l(m float64) string { return units.Format(units.Length, m, sc.Units) }

// part wraps elements in a link to their choices.
func (sc *Scene) part(s *svg, g layout.Group, name string, draw func()) {
	href := ""
	if sc.Link != nil {
		href = sc.Link(g)
	}
	class := "part"
	if g == sc.Chosen {
		class += " chosen"
	}
	if href == "" {
		fmt.Fprintf(s, `<g class="%s">`, class)
		draw()
		s.WriteString("</g>")
		return
	}
	swap := ""
	if sc.InPlace {
		swap = fmt.Sprintf(` hx-get="%s" hx-target="#work" hx-select="#work" hx-swap="outerMorph" hx-push-url="true"`, esc(href))
	}
	fmt.Fprintf(s, `<a class="%s" href="%s"%s aria-label="%s"><title>%s</title>`, class, esc(href), swap, esc("Change the "+name), esc("Change the "+name))
	draw()
	s.WriteString("</a>")
}

func (sc *Scene) places(group layout.Group, draw func(p layout.Part, pl layout.Place)) {
	for _, p := range sc.Layout.Parts {
		if p.Group == group {
			for _, pl := range p.Places {
				draw(p, pl)
			}
		}
	}
}

// Front draws the box as the sun sees it, to scale and dimensioned.
func (sc *Scene) Front() template.HTML {
	const w, h = 320.0, 376.0
	const left, top, right, bottom = 44.0, 6.0, 12.0, 56.0
	l := sc.Layout
	k := math.Min((w-left-right)/l.Width, (h-top-bottom)/l.Height)
	x0 := left + (w-left-right-k*l.Width)/2
	y0 := top + (h-top-bottom-k*l.Height)/2
	X := func(x float64) float64 { return x0 + k*x }
	Y := func(y float64) float64 { return y0 + k*(l.Height-y) } // top left corner of a rectangle ending at y
	r := &sc.Eval.Running
	var s svg
	s.start(sc.role(), "front", fmt.Sprintf("The box from the front, %s by %s. Air comes in at %s and goes out at %s.", sc.l(l.Width), sc.l(l.Height), sc.t(r.Conditions.Inlet), sc.t(r.Outlet)), w, h)
	s.WriteString(`<defs><linearGradient id="warming" x1="0" y1="1" x2="0" y2="0"><stop class="stop-cold" offset="0"/><stop class="stop-hot" offset="1"/></linearGradient>` +
		`<pattern id="mesh" width="4" height="4" patternUnits="userSpaceOnUse"><path class="mesh" d="M0 0H4M0 0V4"/></pattern></defs>`)
	sc.part(&s, layout.Frame, "frame", func() { s.rect("wood", X(0), Y(l.Height), k*l.Width, k*l.Height) })
	in := sc.Heater.Box.FrameWidth
	sc.part(&s, layout.Foam, "insulation", func() {
		s.rect("foam", X(in), Y(l.Height-in), k*(l.Width-2*in), k*(l.Height-2*in))
	})
	e := in + sc.Heater.Box.EdgeFoam
	ax, ay, aw, ah := X(e), Y(l.Height-e), k*sc.Heater.ApertureWidth(), k*sc.Heater.ApertureHeight()
	sc.part(&s, layout.Absorber, "absorber", func() {
		s.rect("absorber", ax, ay, aw, ah)
		if sc.Heater.Absorber.Family == design.ScreenBox {
			s.rect("meshed", ax, ay, aw, ah)
		}
		sc.places(layout.Absorber, func(p layout.Part, pl layout.Place) {
			if p.Name == "baffle" {
				s.rect("hidden-edge", X(pl.X), Y(pl.Y+pl.H), k*pl.W, math.Max(2, k*pl.H))
			}
		})
	})
	sc.part(&s, layout.Cover, "cover", func() {
		sc.places(layout.Cover, func(p layout.Part, pl layout.Place) {
			if p.Name == "pane" {
				s.rect("pane", X(pl.X), Y(pl.Y+pl.H), k*pl.W, k*pl.H)
				s.line("glint", X(pl.X)+k*pl.W*0.62, Y(pl.Y+pl.H)+10, X(pl.X)+k*pl.W*0.62-26, Y(pl.Y+pl.H)+44)
				s.line("glint", X(pl.X)+k*pl.W*0.62+9, Y(pl.Y+pl.H)+12, X(pl.X)+k*pl.W*0.62-12, Y(pl.Y+pl.H)+40)
			}
		})
	})
	s.path("airway", sc.airway(X, func(y float64) float64 { return y0 + k*(l.Height-y) }))
	for _, hole := range l.Holes {
		hx, hy, hr := X(hole.X), y0+k*(l.Height-hole.Y), k*hole.Diameter/2
		class, label := "port cold", "in "+sc.t(r.Conditions.Inlet)
		if hole.Name == "outlet" {
			class, label = "port hot", "out "+sc.t(r.Outlet)
		}
		sc.part(&s, Air, "air path and fan", func() {
			s.circle(class, hx, hy, hr)
			s.line("cross", hx-hr-4, hy, hx+hr+4, hy)
			s.line("cross", hx, hy-hr-4, hx, hy+hr+4)
		})
		side, anchor := hx+hr+7, "start"
		if hx > w/2 {
			side, anchor = hx-hr-7, "end"
		}
		ty := hy + 4
		if aw < 150 { // no room beside the hole
			ty = hy + hr + 15
			side, anchor = hx, "middle"
			if hole.Name == "inlet" {
				ty = hy - hr - 8
			}
		}
		s.text("on-dark", anchor, side, ty, label)
	}
	s.dimension(X(0)-16, Y(l.Height), X(0)-16, Y(0), sc.l(l.Height))
	s.dimension(X(0), Y(0)+14, X(l.Width), Y(0)+14, sc.l(l.Width))
	bar := 0.5
	label := "0.5 m"
	if sc.Units.Inches {
		bar, label = 2*units.MetrePerFoot, "2 ft"
	}
	s.line("scale", X(0), h-14, X(0)+k*bar, h-14)
	s.text("small", "start", X(0)+k*bar+6, h-10, label)
	return s.close()
}

// airway is the path that air takes, seen from the front.
func (sc *Scene) airway(X, Y func(float64) float64) string {
	var in, out layout.Hole
	for _, h := range sc.Layout.Holes {
		if h.Name == "inlet" {
			in = h
		} else {
			out = h
		}
	}
	var turns [][2]float64
	sc.places(layout.Absorber, func(p layout.Part, pl layout.Place) {
		if p.Name != "baffle" {
			return
		}
		e := sc.Heater.Box.FrameWidth + sc.Heater.Box.EdgeFoam
		open := (pl.X + pl.W + e + sc.Heater.ApertureWidth()) / 2
		if pl.X > e+0.1 {
			open = (e + pl.X) / 2
		}
		turns = append(turns, [2]float64{open, pl.Y + pl.H/2})
	})
	r := in.Diameter / 2
	d := fmt.Sprintf("M%.1f %.1f", X(in.X), Y(in.Y+r))
	if len(turns) == 0 {
		mid := (in.Y + out.Y) / 2
		return d + fmt.Sprintf("C%.1f %.1f %.1f %.1f %.1f %.1f", X(in.X), Y(mid+0.1), X(out.X), Y(mid-0.1), X(out.X), Y(out.Y-r)+2)
	}
	// The first baffle is passed at its open end, and so on by turns.
	x, y := in.X, in.Y+r
	for _, t := range turns {
		m := (y + t[1]) / 2
		d += fmt.Sprintf("C%.1f %.1f %.1f %.1f %.1f %.1f", X(x), Y(m+(m-y)*0.4), X(t[0]), Y(m), X(t[0]), Y(t[1]))
		x, y = t[0], t[1]
	}
	end := out.Y - r
	m := (y + end) / 2
	return d + fmt.Sprintf("C%.1f %.1f %.1f %.1f %.1f %.1f", X(x), Y(m), X(out.X), Y(m), X(out.X), Y(end)+2)
}

// label is where a leader starts, at what it names.
type label struct{ x, y float64 }

// Section cuts the box through, both ends at one scale with the middle left
// out, glass to the left. Depths and thicknesses are to scale.
func (sc *Scene) Section() template.HTML {
	const w, h = 420.0, 376.0
	l, r := sc.Layout, &sc.Eval.Running
	const left, top = 96.0, 14.0
	depth := l.Depth + 0.008
	const gapPx = 22.0
	end := (h - top - 34 - gapPx) / 2 // px of each end
	// Each end shows its bore to a little past the centre.
	least := 0.0
	for _, hole := range l.Holes {
		least = math.Max(least, math.Min(hole.Y, l.Height-hole.Y)+0.2*hole.Diameter)
	}
	k := math.Min(190/depth, math.Min(1900, end/math.Min(least, l.Height/2)))
	span := math.Min(end/k, l.Height/2)
	end = span * k
	Z := func(z float64) float64 { return left + k*(z+0.008) }
	var s svg
	s.start(sc.role(), "section", fmt.Sprintf("The box cut through at bottom and top. Depth %s.", sc.l(l.Depth)), w, h)
	s.WriteString(`<defs><pattern id="grain" width="7" height="7" patternUnits="userSpaceOnUse"><path class="grain" d="M0 7L7 0"/></pattern>` +
		`<pattern id="foamdots" width="6" height="6" patternUnits="userSpaceOnUse"><circle class="foamdot" cx="1.5" cy="1.5" r="0.8"/><circle class="foamdot" cx="4.5" cy="4.5" r="0.8"/></pattern></defs>`)
	var cover, absorber, foam label
	boreY := [2]float64{top + end/2, h - 60} // of outlet and inlet
	for i, window := range [][2]float64{{l.Height - span, l.Height}, {0, span}} {
		py := top + float64(i)*(end+gapPx)
		Y := func(y float64) float64 { return py + k*(window[1]-y) }
		id := fmt.Sprintf("cut%d", i)
		fmt.Fprintf(&s, `<clipPath id="%s"><rect x="0" y="%.1f" width="%.0f" height="%.1f"/></clipPath><g clip-path="url(#%s)">`, id, py, w, end, id)
		xMid := l.Width / 2
		draw := func(g layout.Group, name, class string) {
			sc.part(&s, g, name, func() {
				for _, p := range l.Parts {
					if p.Group != g {
						continue
					}
					for _, pl := range p.Places {
						// What the cut at mid-width meets; side pieces lie beyond it.
						if pl.X > xMid || pl.X+pl.W < xMid || pl.Y > window[1] || pl.Y+pl.H < window[0] {
							continue
						}
						c := class
						if p.Material != "" && g == layout.Cover && p.Name != "pane" && p.Name != "inner pane" {
							c = "wood"
						}
						if g == layout.Absorber && (p.Name == "baffle" || strings.Contains(p.Name, "batten")) {
							c = "wood"
						}
						if pl.Lean != 0 || pl.D < 2/k {
							zb, zt := Z(pl.Z+pl.D/2), Z(pl.Z+pl.D/2+pl.Lean)
							s.line(class+" thin "+kindOf(p), zb, Y(pl.Y), zt, Y(pl.Y+pl.H))
							continue
						}
						s.rect(c, Z(pl.Z), Y(pl.Y+pl.H), math.Max(1.2, k*pl.D), k*pl.H)
					}
				}
			})
		}
		draw(layout.Foam, "insulation", "foam cut")
		draw(layout.Back, "back", "wood cut")
		draw(layout.Frame, "frame", "wood cut")
		draw(layout.Absorber, "absorber", "ink-part")
		draw(layout.Cover, "cover", "glass")
		// The hole through the back, if this end shows it.
		for _, hole := range l.Holes {
			if hole.Y-hole.Diameter/2 > window[1] || hole.Y+hole.Diameter/2 < window[0] {
				continue
			}
			back := Z(l.Depth - sc.Heater.Box.Board - sc.Heater.Box.BackFoam)
			s.rect("bore", back, Y(hole.Y+hole.Diameter/2), Z(l.Depth)-back+1, k*hole.Diameter)
			if hole.Name == "outlet" {
				boreY[0] = Y(hole.Y + 0.15*hole.Diameter)
				s.arrow("hot-air", back-12, boreY[0], Z(l.Depth)+34, boreY[0])
				continue
			}
			boreY[1] = Y(hole.Y - 0.15*hole.Diameter)
			to := back - 12
			if sc.Heater.Absorber.Family == design.ScreenBox { // the inlet's sleeve passes the screens
				to = Z(l.Depth-sc.Heater.Box.Board-sc.Heater.Box.BackFoam-sc.Heater.CavityDepth()) + 4 + k*sc.Heater.Box.Gap/2
			}
			s.arrow("cold-air", Z(l.Depth)+34, boreY[1], to, boreY[1])
		}
		s.WriteString("</g>")
		for _, y := range []float64{py, py + end} { // where the cut breaks off
			if i == 0 && y == py || i == 1 && y > py {
				continue
			}
			var d strings.Builder
			fmt.Fprintf(&d, "M%.1f %.1f", left-8, y)
			for x := left - 8; x < Z(l.Depth)+8; x += 14 {
				d.WriteString("q3.5 -5 7 0t7 0")
			}
			s.path("break", d.String())
		}
		if i == 0 {
			mid := window[0] + span*0.45
			cover = label{Z(0.002), Y(mid)}
			if ps := firstOf(l, layout.Absorber); ps != nil {
				y := window[0] + span*0.07
				absorber = label{Z(ps.Z + ps.Lean*(y-ps.Y)/ps.H), Y(y)}
			}
			foam = label{Z(l.Depth - sc.Heater.Box.Board - sc.Heater.Box.BackFoam/2), Y(l.Height - sc.Heater.Box.FrameWidth - 0.012)}
		}
	}
	lay := map[collector.LayerKind]*collector.LayerTemps{}
	for i := range r.Layers {
		k := r.Layers[i].Kind
		if lay[k] == nil || r.Layers[i].Max > lay[k].Max {
			lay[k] = &r.Layers[i]
		}
	}
	cov := "glass"
	if sc.Heater.Cover.Material != "glass" {
		cov = "cover"
	}
	if sc.Heater.Cover.Layers > 1 {
		cov = "two covers"
	}
	// Sun and losses on the left, names and temperatures on the right.
	s.text("sun-text", "start", 2, 14, "sun "+sc.w(r.Energy.Sun))
	for i := range 3 {
		y := top + 22 + float64(i)*34
		s.arrow("sun-ray", 6, y-12, left-14, y+8)
	}
	s.text("label", "start", 2, top+130, cov)
	s.text("soft", "start", 2, top+145, sc.t(r.CoverOuter)+", lets")
	s.text("soft", "start", 2, top+159, sc.w(r.Energy.Front)+" out")
	s.line("leader", 2+7*float64(len(cov)), top+126, cover.x, math.Min(cover.y, top+120))
	rx := Z(l.Depth) + 42
	put := func(y float64, lb label, strong string, soft ...string) {
		s.line("leader", rx-4, y-4, lb.x, lb.y)
		s.circle("dot", lb.x, lb.y, 2)
		s.text("label", "start", rx, y, strong)
		for i, t := range soft {
			s.text("soft", "start", rx, y+15+float64(i)*14, t)
		}
	}
	name := "plate"
	if sc.Heater.Absorber.Family == design.ScreenBox {
		name = fmt.Sprintf("%d black screens", sc.Heater.Absorber.Screens.Layers)
		if sc.Heater.Absorber.Screens.Layers == 1 {
			name = "black screen"
		}
	}
	if sc.Heater.Box.BackFoam > 0 {
		put(boreY[0]-56, foam, "foam "+sc.l(sc.Heater.Box.BackFoam), "loses "+sc.w(r.Energy.Back+r.Energy.Edge), "edge too")
	}
	s.text("hot-text", "start", rx, boreY[0]-1, "to the room")
	s.text("hot-text", "start", rx, boreY[0]+14, sc.t(r.Outlet))
	put(boreY[0]+58, absorber, name, sc.t(lay[collector.AbsorberLayer].Max)+" at most")
	s.text("cold-text", "start", rx, boreY[1]-1, "from the room")
	s.text("cold-text", "start", rx, boreY[1]+14, sc.t(r.Conditions.Inlet))
	s.dimension(Z(0), h-26, Z(l.Depth), h-26, sc.l(l.Depth))
	sc.stand(&s, 0, h-74)
	return s.close()
}

// kindOf tells a woven line from a solid one.
func kindOf(p layout.Part) string {
	if strings.HasPrefix(p.Name, "screen") {
		return "woven"
	}
	return "solid"
}

func firstOf(l *layout.Layout, g layout.Group) *layout.Place {
	for _, p := range l.Parts {
		if p.Group == g && len(p.Places) > 0 {
			return &p.Places[0]
		}
	}
	return nil
}

// stand shows in small how the box leans and how high the noon sun is.
func (sc *Scene) stand(s *svg, x, y float64) {
	const size = 44.0
	a := sc.Heater.Place.Tilt * math.Pi / 180
	bx, by := x+18, y+size
	s.line("ground", x, by, x+88, by)
	s.line("lean", bx, by, bx+size*math.Cos(a), by-size*math.Sin(a))
	s.text("small", "start", x+34, by+13, fmt.Sprintf("leaned %s", units.Format(units.Angle, sc.Heater.Place.Tilt, sc.Units)))
}

// EnergyBar shows where the sun on the glass goes, as lengths to scale in a bar
// of the given width in px.
func (sc *Scene) EnergyBar(width float64) template.HTML {
	e := sc.Eval.Running.Energy
	type piece struct {
		class, name string
		w           float64
	}
	all := []piece{{"heat", "to the room", e.Air}, {"front", "lost through the glass", e.Front}, {"bounce", "bounced off", e.Reflected}, {"back", "back and edge", e.Back + e.Edge}, {"leak", "leaks", e.Leak}}
	var pieces []piece
	positive, gains := 0.0, 0.0
	for _, p := range all {
		if p.w > 0.002*e.Sun {
			pieces = append(pieces, p)
			positive += p.w
		} else if p.w < 0 {
			gains -= p.w
		}
	}
	if width < 500 {
		return sc.energyRows(width, positive, func(f func(class, name string, w float64)) {
			for _, p := range pieces {
				f(p.class, p.name, p.w)
			}
		})
	}
	var s svg
	s.open("energy", fmt.Sprintf("Of %s of sun on the glass %s go to the room.", sc.w(e.Sun), sc.w(e.Air)), width, 90)
	s.text("title", "start", 0, 12, "Where "+sc.w(e.Sun)+" of sun go")
	if gains > 0.005*e.Sun {
		s.text("soft", "end", width, 12, "and "+sc.w(gains)+" taken from warmer air")
	}
	x := 0.0
	low := 0 // small pieces hang their names under each other
	for _, p := range pieces {
		pw := width * p.w / positive
		s.rect("bar "+p.class, x, 20, pw-1, 24)
		if pw > 0.08*width {
			s.text("in-bar "+p.class, "start", x+6, 36, units.Figure(units.Power, p.w, sc.Units))
			s.text("soft", "start", x+1, 58, fit(p.name, pw))
		} else { // hung lower, so that no name crosses another
			y := 72 + float64(low)*14
			s.line("leader", x+pw/2, 44, x+pw/2, y-10)
			s.text("soft", "end", math.Min(width, x+pw/2+12), y, p.name+" "+units.Figure(units.Power, p.w, sc.Units))
			low++
		}
		x += pw
	}
	return s.close()
}

// fit shortens a name to what a piece has room for, at 6.2 px a letter.
func fit(name string, px float64) string {
	if float64(len(name))*6.2 <= px {
		return name
	}
	short := map[string]string{"lost through the glass": "glass", "back and edge": "back", "bounced off": "bounced", "to the room": "room"}
	return short[name]
}

// energyRows is the bar for a narrow page: one row a part.
func (sc *Scene) energyRows(width, total float64, each func(func(class, name string, w float64))) template.HTML {
	rows := 0
	each(func(_, _ string, _ float64) { rows++ })
	e := sc.Eval.Running.Energy
	var s svg
	s.open("energy", fmt.Sprintf("Of %s of sun on the glass %s go to the room.", sc.w(e.Sun), sc.w(e.Air)), width, 26+float64(rows)*30)
	s.text("title", "start", 0, 14, "Where "+sc.w(e.Sun)+" of sun go")
	y := 26.0
	const text = 168.0
	each(func(class, name string, w float64) {
		s.text("soft", "start", 0, y+16, name)
		s.text("figure", "end", text-8, y+16, units.Figure(units.Power, w, sc.Units))
		s.rect("bar "+class, text, y+2, (width-text)*w/total, 20)
		y += 30
	})
	return s.close()
}

// AirPath shows how warm air and absorber are on the way from inlet to outlet.
func (sc *Scene) AirPath(width float64) template.HTML {
	r := &sc.Eval.Running
	const height, top, bottom = 100.0, 24.0, 14.0
	left, right := 48.0, 118.0
	if width < 500 {
		left, right = 44, 92
	}
	var hot []float64
	lo, hi := math.Inf(1), math.Inf(-1)
	for _, l := range r.Layers {
		if l.Kind == collector.AbsorberLayer {
			if hot == nil || l.Mean > mean(hot) {
				hot = l.Along
			}
		}
	}
	for _, v := range append(append([]float64(nil), r.AirAlong...), hot...) {
		lo, hi = math.Min(lo, v), math.Max(hi, v)
	}
	if hi-lo < 5 {
		hi = lo + 5
	}
	n := float64(len(r.AirAlong) - 1)
	X := func(i float64) float64 { return left + (width-left-right)*i/n }
	Y := func(t float64) float64 { return top + (height-top-bottom)*(hi-t)/(hi-lo) }
	var s svg
	s.open("airpath", fmt.Sprintf("Air warms from %s to %s on its way.", sc.t(r.AirAlong[0]), sc.t(r.Outlet)), width, height)
	s.WriteString(`<defs><linearGradient id="along" x1="0" x2="1" y1="0" y2="0"><stop class="stop-cold-line" offset="0"/><stop class="stop-hot-line" offset="1"/></linearGradient></defs>`)
	s.text("title", "start", 0, 12, "Air on its way up")
	s.line("axis", left, height-bottom+6, width-right, height-bottom+6)
	line := func(v []float64, first float64) string {
		var d strings.Builder
		for i, t := range v {
			fmt.Fprintf(&d, "%s%.1f %.1f", map[bool]string{true: "M", false: "L"}[i == 0], X(first+float64(i)), Y(t))
		}
		return d.String()
	}
	s.path("absorber-line", line(hot, 0.5))
	s.path("air-line", line(r.AirAlong, 0))
	s.text("figure", "end", left-6, Y(r.AirAlong[0])+4, sc.t(r.AirAlong[0]))
	ya, yh := Y(r.AirAlong[len(r.AirAlong)-1]), Y(hot[len(hot)-1])
	if math.Abs(ya-yh) < 14 { // keep the two names apart
		mid := (ya + yh) / 2
		d := 7.5
		if yh < ya {
			d = -d
		}
		ya, yh = mid-d, mid+d
	}
	s.text("label", "start", width-right+8, ya+4, "air "+sc.t(r.AirAlong[len(r.AirAlong)-1]))
	s.text("soft", "start", width-right+8, yh+4, "absorber "+sc.t(hot[len(hot)-1]))
	return s.close()
}

func mean(v []float64) float64 {
	m := 0.0
	for _, x := range v {
		m += x / float64(len(v))
	}
	return m
}

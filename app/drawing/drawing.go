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
	fmt.Fprintf(s, `<rect class="%s" x="%.2f" y="%.2f" width="%.2f" height="%.2f"/>`, class, x, y, max(0, w), max(0, h))
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
	s.path(class+" head", fmt.Sprintf("M%.1f %.1fL%.1f %.1fL%.1f %.1fZ", x2, y2, x2-head*math.Cos(a-spread), y2-head*math.Sin(a-spread),
		x2-head*math.Cos(a+spread), y2-head*math.Sin(a+spread)))
}

// dimension draws a carpenter's dimension: a line with slanted ticks, and the
// figure beside it.
func (s *svg) dimension(x1, y1, x2, y2 float64, label string) {
	s.line("dim", x1, y1, x2, y2)
	for _, p := range [][2]float64{{x1, y1}, {x2, y2}} {
		s.line("dim", p[0]-4, p[1]+4, p[0]+4, p[1]-4)
	}
	if x1 == x2 {
		fmt.Fprintf(s, `<text class="figure" text-anchor="middle" transform="translate(%.1f %.1f) rotate(-90)">%s</text>`, x1-7,
			(y1+y2)/2, esc(label))
		return
	}
	s.text("figure", "middle", (x1+x2)/2, y1+15, label)
}

// Air is the group of what moves the air: ports, ducts and fan.
const Air layout.Group = "air"

// Link is where a touch on a part leads, with the attributes that the page adds to it. The zero value leads nowhere.
type Link struct {
	To         string
	Attributes template.HTMLAttr
}

// A Linker returns the link by which a group of parts is chosen.
type Linker func(layout.Group) Link

// Scene is what the box's drawings show.
type Scene struct {
	Heater *design.Heater
	Layout *layout.Layout
	Eval   *collector.Evaluation
	Units  units.System
	Link   Linker // nil: no part can be touched
	Chosen layout.Group
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
	var href Link
	if sc.Link != nil {
		href = sc.Link(g)
	}
	class := "part"
	if g == sc.Chosen {
		class += " chosen"
	}
	if href.To == "" {
		fmt.Fprintf(s, `<g class="%s">`, class)
		draw()
		s.WriteString("</g>")
		return
	}
	fmt.Fprintf(s, `<a class="%s" href="%s"%s aria-label="%s"><title>%s</title>`, class, esc(href.To), href.Attributes,
		esc("Change the "+name),
		esc("Change the "+name))
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

// FrontWidth is the width in which the front is drawn where it is the main thing, pixels.
const FrontWidth = 320.0

// roomForNames is the least width of a front view whose ports are named, px.
const roomForNames = 260.0

// Front draws the box as the sun sees it, to scale and dimensioned, so many pixels wide: texts keep their size in a
// smaller drawing.
func (sc *Scene) Front(w float64) template.HTML {
	const shape = 376.0 / 320.0
	h := w * shape
	const left, top, right, bottom = 44.0, 6.0, 12.0, 56.0
	l := sc.Layout
	k := min((w-left-right)/l.Width, (h-top-bottom)/l.Height)
	x0 := left + (w-left-right-k*l.Width)/2
	y0 := top + (h-top-bottom-k*l.Height)/2
	X := func(x float64) float64 { return x0 + k*x }
	Y := func(y float64) float64 { return y0 + k*(l.Height-y) } // top left corner of a rectangle ending at y
	r := &sc.Eval.Running
	var s svg
	s.start(sc.role(), "front", fmt.Sprintf("The box from the front, %s by %s. Inlet air at %s, outlet air at %s.", sc.l(l.Width),
		sc.l(l.Height), sc.t(r.Conditions.Inlet), sc.t(r.Outlet)), w, h)
	sc.part(&s, layout.Frame, "body", func() { s.rect(sc.bodyClass(), X(0), Y(l.Height), k*l.Width, k*l.Height) })
	in := sc.wall()
	if !sc.Heater.Indoors() {
		sc.part(&s, layout.Foam, "insulation", func() {
			s.rect("foam", X(in), Y(l.Height-in), k*(l.Width-2*in), k*(l.Height-2*in))
		})
	}
	e := in + sc.Heater.Lining()
	ax, ay, aw, ah := X(e), Y(l.Height-e), k*sc.Heater.ApertureWidth(), k*sc.Heater.ApertureHeight()
	sc.part(&s, layout.Absorber, "absorber", func() {
		s.rect("absorber", ax, ay, aw, ah)
		if sc.Heater.Absorber.Family == design.ScreenBox {
			s.rect("meshed", ax, ay, aw, ah)
		}
		sc.places(layout.Absorber, func(p layout.Part, pl layout.Place) {
			switch {
			case p.Kind.Ink == layout.InkBoard || p.Kind.Ink == layout.InkEdge:
				s.rect("hidden-edge", X(pl.X), Y(pl.Y+pl.H), max(2, k*pl.W), max(2, k*pl.H))
			case p.Kind.Ink == layout.InkTube || p.Bent():
				s.rect("tube", X(pl.X), Y(pl.Y+pl.H), k*pl.W, k*pl.H)
			}
		})
	})
	sc.part(&s, layout.Cover, "cover", func() {
		sc.places(layout.Cover, func(p layout.Part, pl layout.Place) {
			if p.Kind == layout.Pane || p.There {
				s.rect("pane", X(pl.X), Y(pl.Y+pl.H), k*pl.W, k*pl.H)
				s.line("glint", X(pl.X)+k*pl.W*0.62, Y(pl.Y+pl.H)+10, X(pl.X)+k*pl.W*0.62-26, Y(pl.Y+pl.H)+44)
				s.line("glint", X(pl.X)+k*pl.W*0.62+9, Y(pl.Y+pl.H)+12, X(pl.X)+k*pl.W*0.62-12, Y(pl.Y+pl.H)+40)
			}
		})
	})
	for _, d := range sc.airways(X, func(y float64) float64 { return y0 + k*(l.Height-y) }) {
		s.path("airway", d)
	}
	sc.frontPorts(&s, k, X, func(y float64) float64 { return y0 + k*(l.Height-y) }, w, aw)
	s.dimension(X(0)-16, Y(l.Height), X(0)-16, Y(0), sc.l(l.Height))
	s.dimension(X(0), Y(0)+14, X(l.Width), Y(0)+14, sc.l(l.Width))
	bar := 0.5
	label := "0.5 m"
	if sc.Units.Inches {
		bar, label = 2*units.MeterPerFoot, "2 ft"
	}
	s.line("scale", X(0), h-14, X(0)+k*bar, h-14)
	s.text("small", "start", X(0)+k*bar+6, h-10, label)
	return s.close()
}

// frontPorts draws the ports and names them; k is in px/m, the picture is w and the aperture aw wide, px.
func (sc *Scene) frontPorts(s *svg, k float64, X, Y func(float64) float64, w, aw float64) {
	r := &sc.Eval.Running
	named := map[string]bool{}
	for _, hole := range sc.Layout.Holes {
		hx, hy, hr := X(hole.X), Y(hole.Y), k*hole.Diameter/2
		class, label := "port cold", "in "+sc.t(r.Conditions.Inlet)
		if hole.Name == "outlet" {
			class, label = "port hot", "out "+sc.t(r.Outlet)
		}
		sc.part(s, Air, "air path and fan", func() {
			if hole.Face != layout.ThroughBack {
				sc.stub(s, class, hole, hx, hy, k)
				return
			}
			s.circle(class, hx, hy, hr)
			s.line("cross", hx-hr-4, hy, hx+hr+4, hy)
			s.line("cross", hx, hy-hr-4, hx, hy+hr+4)
		})
		if named[hole.Name] || w < roomForNames { // one name serves a row of holes
			continue
		}
		named[hole.Name] = true
		side, ty, anchor := sc.besideHole(hole, hx, hy, hr, X(sc.Layout.Width/2), w, aw)
		s.text("on-dark", anchor, side, ty, label)
	}
}

// outside is how far the stub of a port through a side or an end shows, px.
const outside = 10.0

// stub draws a port through a side or an end: the duct through board and lining, and a little of it outside. The port's
// center on the outer edge is at hx, hy; k is in px/m.
func (sc *Scene) stub(s *svg, class string, hole layout.Hole, hx, hy, k float64) {
	r, deep := k*hole.Diameter/2, k*(sc.Heater.Box.FrameWidth+sc.Heater.Lining())
	switch hole.Face {
	case layout.ThroughLeft:
		s.rect(class, hx-outside, hy-r, deep+outside, 2*r)
	case layout.ThroughRight:
		s.rect(class, hx-deep, hy-r, deep+outside, 2*r)
	case layout.ThroughBottom:
		s.rect(class, hx-r, hy-deep, 2*r, deep+outside)
	default:
		s.rect(class, hx-r, hy-outside, 2*r, deep+outside)
	}
}

// bodyClass is how the body's material is inked.
func (sc *Scene) bodyClass() string {
	switch sc.Heater.Box.Body {
	case "foam":
		return "foam"
	case "sheet":
		return "tray"
	}
	return "wood"
}

// wall is the thickness of the body's sides, m.
func (sc *Scene) wall() float64 {
	if sc.Heater.Indoors() {
		return 0
	}
	return sc.Heater.Box.FrameWidth
}

// airways are the paths that air takes, seen from the front.
func (sc *Scene) airways(X, Y func(float64) float64) (ways []string) {
	h, l := sc.Heater, sc.Layout
	var in, out []layout.Hole
	for _, x := range l.Holes {
		if x.Name == "inlet" {
			in = append(in, x)
		} else {
			out = append(out, x)
		}
	}
	if len(in) == 0 { // up between window and foil
		for _, f := range []float64{0.3, 0.7} {
			ways = append(ways, fmt.Sprintf("M%.1f %.1fL%.1f %.1f", X(f*l.Width), Y(0.04*l.Height), X(f*l.Width), Y(0.96*l.Height)))
		}
		return ways
	}
	e := sc.wall() + h.Lining()
	turns, tubes := sc.turns(e)
	if folded, fromTop := h.Folded(); folded {
		return append(ways, sc.fold(in[0], out[0], e, fromTop, X, Y))
	}
	if len(tubes) > 0 {
		d := fmt.Sprintf("M%.1f %.1f", X(in[0].X), Y(in[0].Y))
		for _, t := range turns {
			d += fmt.Sprintf("L%.1f %.1f", X(t[0]), Y(t[1]))
		}
		return append(ways, d+fmt.Sprintf("L%.1f %.1f", X(out[0].X), Y(out[0].Y)))
	}
	for i := range in {
		ways = append(ways, sc.airway(in[i], out[i], e, turns, X, Y))
	}
	return ways
}

// fold is the air's way along the half of the inlet and back along that of the outlet; e is the distance from the outside
// to the aperture.
func (sc *Scene) fold(in, out layout.Hole, e float64, fromTop bool, X, Y func(float64) float64) string {
	far := e + 0.9*sc.Heater.ApertureHeight()
	if fromTop {
		far = e + 0.1*sc.Heater.ApertureHeight()
	}
	mid := (in.Y + far) / 2
	right, left := e+0.75*sc.Heater.ApertureWidth(), e+0.25*sc.Heater.ApertureWidth()
	return fmt.Sprintf("M%.1f %.1fQ%.1f %.1f %.1f %.1fC%.1f %.1f %.1f %.1f %.1f %.1fQ%.1f %.1f %.1f %.1f", X(in.X), Y(in.Y),
		X(right), Y(in.Y), X(right), Y(mid), X(right), Y(far), X(left), Y(far), X(left), Y(mid), X(left), Y(out.Y), X(out.X), Y(out.Y))
}

// turns are the points at which air turns: at the open ends of baffles, or at the ends of tubes in
// series, which are returned too; e is the distance from the outside to the aperture.
func (sc *Scene) turns(e float64) (turns [][2]float64, tubes []layout.Place) {
	h := sc.Heater
	sc.places(layout.Absorber, func(p layout.Part, pl layout.Place) {
		switch {
		case p.Kind == layout.Baffle:
			open := (pl.X + pl.W + e + h.ApertureWidth()) / 2
			if pl.X > e+0.1 {
				open = (e + pl.X) / 2
			}
			turns = append(turns, [2]float64{open, pl.Y + pl.H/2})
		case p.Kind == layout.Downpipe && h.Absorber.Pipes.Join == "series" || p.Bent() && p.Round():
			tubes = append(tubes, pl)
		}
	})
	if coil := h.Absorber.Coil; coil != nil && coil.Ways > 1 {
		tubes = nil
	}
	for i, pl := range tubes { // up one, down the next; the inlet is at the right
		pl = tubes[len(tubes)-1-i]
		x, lo, hi := pl.X+pl.W/2, pl.Y+0.03, pl.Y+pl.H-0.03
		if i%2 == 0 {
			turns = append(turns, [2]float64{x, lo}, [2]float64{x, hi})
		} else {
			turns = append(turns, [2]float64{x, hi}, [2]float64{x, lo})
		}
	}
	return turns, tubes
}

// airway is the path from one hole to the other, past the turns.
func (sc *Scene) airway(a, b layout.Hole, e float64, turns [][2]float64, X, Y func(float64) float64) string {
	h, l := sc.Heater, sc.Layout
	r := a.Diameter / 2
	if a.Y > l.Height/2 == (b.Y > l.Height/2) { // down one side, up the other
		end := e + 0.12*h.ApertureHeight()
		if a.Y < l.Height/2 {
			end, r = e+0.88*h.ApertureHeight(), -r
		}
		return fmt.Sprintf("M%.1f %.1fC%.1f %.1f %.1f %.1f %.1f %.1f", X(a.X), Y(a.Y-r), X(a.X), Y(end-(a.Y-end)*0.3),
			X(b.X), Y(end-(b.Y-end)*0.3), X(b.X), Y(b.Y-r))
	}
	d := fmt.Sprintf("M%.1f %.1f", X(a.X), Y(a.Y+r))
	if len(turns) == 0 {
		mid := (a.Y + b.Y) / 2
		return d + fmt.Sprintf("C%.1f %.1f %.1f %.1f %.1f %.1f", X(a.X), Y(mid+0.1), X(b.X), Y(mid-0.1), X(b.X), Y(b.Y-r)+2)
	}
	// The first baffle is passed at its open end, and so on by turns.
	x, y := a.X, a.Y+r
	for _, t := range turns {
		m := (y + t[1]) / 2
		d += fmt.Sprintf("C%.1f %.1f %.1f %.1f %.1f %.1f", X(x), Y(m+(m-y)*0.4), X(t[0]), Y(m), X(t[0]), Y(t[1]))
		x, y = t[0], t[1]
	}
	end := b.Y - r
	m := (y + end) / 2
	return d + fmt.Sprintf("C%.1f %.1f %.1f %.1f %.1f %.1f", X(x), Y(m), X(b.X), Y(m), X(b.X), Y(end)+2)
}

// label is where a leader starts, at what it names.
type label struct{ x, y float64 }

// besideHole is where the name of a hole stands: inwards beside it, over a row of holes, or under it where the aperture
// is narrow. The hole is at hx, hy with a radius of hr, the middle of the box at mid, the picture w wide, px.
func (sc *Scene) besideHole(hole layout.Hole, hx, hy, hr, mid, w, aperture float64) (x, y float64, anchor string) {
	x, anchor = hx+hr+7, "start"
	within := hr + 24 // from a port on the edge to a name inside the box
	switch {
	case hole.Face == layout.ThroughBottom:
		hy -= within
	case hole.Face == layout.ThroughTop:
		hy += within
	case hole.Face != layout.ThroughBack:
		hr += 12
	}
	if sc.Heater.Air.Ports > 1 {
		x, anchor = mid, "middle"
		hy -= hr + 12
		if hole.Name == "outlet" {
			hy += 2*hr + 24
		}
	} else if sc.sameEnd() { // one name beside the other: hang them inwards
		x, anchor = hx-hr, "start"
		if hx > w/2 {
			x, anchor = hx+hr, "end"
		}
		hy += hr + 13
		if hole.Y < sc.Layout.Height/2 {
			hy -= 2*hr + 34
		}
	} else if hx > w/2 {
		x, anchor = hx-hr-7, "end"
	}
	y = hy + 4
	const narrow = 150.0
	if aperture < narrow && sc.Heater.Air.Ports < 2 {
		y, x, anchor = hy+hr+15, hx, "middle"
		if hole.Name == "inlet" {
			y = hy - hr - 8
		}
	}
	return x, y, anchor
}

// vent draws the opening of a vent through the board and the foam beside it, with its flap shut.
func (sc *Scene) vent(s *svg, flap layout.Place, Z, Y func(float64) float64, k float64) {
	h := sc.Heater
	through := h.Box.FrameWidth + h.Lining()
	slot := h.VentSlot()
	lap := (flap.D - slot) / 2
	from, edge := flap.Y+flap.H, flap.Y+flap.H // the bottom flap lies under its board
	if flap.Y > 0 {
		from, edge = flap.Y-through, flap.Y
	}
	s.rect("bore", Z(flap.Z+lap), Y(from+through), k*slot, k*through)
	s.line("thin", Z(flap.Z), Y(edge), Z(flap.Z+flap.D), Y(edge))
}

// sameEnd says whether inlet and outlet lie at one end of the box.
func (sc *Scene) sameEnd() bool {
	top := 0
	for _, x := range sc.Layout.Holes {
		if x.Y > sc.Layout.Height/2 {
			top++
		}
	}
	return len(sc.Layout.Holes) > 0 && (top == 0 || top == len(sc.Layout.Holes))
}

// backDepth is what lies behind the cavity, m.
func (sc *Scene) backDepth() float64 {
	h := sc.Heater
	return h.FrameDepth() - h.CavityDepth() - max(0, float64(h.Cover.Layers-1))*(h.Cover.Between+h.Cover.Thickness)
}

// cutAt is where the section cuts: the middle, or the tube nearest to it.
func (sc *Scene) cutAt() float64 {
	mid, best := sc.Layout.Width/2, math.Inf(1)
	at := mid
	sc.places(layout.Absorber, func(p layout.Part, pl layout.Place) {
		if x := pl.X + pl.W/2; (p.Round() || p.Kind == layout.Downpipe) && math.Abs(x-mid) < best {
			best, at = math.Abs(x-mid), x
		}
	})
	return at
}

// kindOf tells a woven line from a solid one.
func kindOf(p layout.Part) string {
	if p.Kind.Ink == layout.InkWoven {
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
	s.text("small", "start", x+34, by+13, fmt.Sprintf("tilt %s", units.Format(units.Angle, sc.Heater.Place.Tilt, sc.Units)))
}

// leastGains is the share of the sun from which heat that is taken from warmer air is told.
const leastGains = 0.005

// EnergyBar shows where the sun on the glass goes, as lengths to scale in a bar
// of the given width in px.
func (sc *Scene) EnergyBar(width float64) template.HTML {
	e := sc.Eval.Running.Energy
	type piece struct {
		class, name string
		w           float64
		said        string
	}
	all := []piece{{class: "heat", name: "to the air", w: e.Air + e.Room}, {class: "front", name: "lost through the glazing", w: e.Front},
		{class: "bounce", name: "reflected", w: e.Reflected}, {class: "back", name: "back and edge", w: e.Back + e.Edge},
		{class: "leak", name: "leaks", w: e.Leak}}
	var pieces []piece
	positive, gains := 0.0, 0.0
	for _, p := range all {
		if p.w > 0.002*e.Sun {
			p.said = units.Figure(units.Power, p.w, sc.Units)
			pieces = append(pieces, p)
			positive += p.w
		} else if p.w < 0 {
			gains -= p.w
		}
	}
	// As printed the pieces come to the sun: what rounding leaves is put to what is reflected, which stands nowhere else.
	printed := func(w float64) float64 {
		v, err := units.Parse(units.Power, sc.w(w), sc.Units)
		if err != nil {
			return w
		}
		return v
	}
	rest := printed(e.Sun)
	reflected := -1
	for i, p := range pieces {
		if p.class == "bounce" {
			reflected = i
			continue
		}
		rest -= printed(p.w)
	}
	if reflected >= 0 && gains <= leastGains*e.Sun {
		pieces[reflected].said = units.Figure(units.Power, rest, sc.Units)
	}
	if width < 500 {
		return sc.energyRows(width, positive, func(f func(class, name, said string, w float64)) {
			for _, p := range pieces {
				f(p.class, p.name, p.said, p.w)
			}
		})
	}
	var s svg
	s.open("energy", fmt.Sprintf("Of %s of sun on the glazing %s goes into the air.", sc.w(e.Sun), sc.w(e.Air+e.Room)), width, 90)
	s.text("title", "start", 0, 12, "Where the sun's "+sc.w(e.Sun)+" goes")
	if gains > leastGains*e.Sun {
		s.text("soft", "end", width, 12, "and "+sc.w(gains)+" taken from warmer air")
	}
	x := 0.0
	low := 0 // small pieces hang their names under each other
	for _, p := range pieces {
		pw := width * p.w / positive
		s.rect("bar "+p.class, x, 20, pw-1, 24)
		if pw > 0.08*width {
			s.text("in-bar "+p.class, "start", x+6, 36, p.said)
			name := fit(p.name, pw)
			if longer := p.name + sc.ofWhich(); p.class == "heat" && fit(longer, pw) == longer {
				name = longer
			}
			s.text("soft", "start", x+1, 58, name)
		} else { // hung lower, so that no name crosses another
			y := 72 + float64(low)*14
			s.line("leader", x+pw/2, 44, x+pw/2, y-10)
			s.text("soft", "end", min(width, x+pw/2+12), y, p.name+" "+p.said)
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
	short := map[string]string{"lost through the glazing": "glazing", "back and edge": "back", "reflected": "reflected",
		"to the air": "air"}
	return short[name]
}

// ofWhich says how much of the heat to the air reaches the room, where ducts, leaks or outdoor air take some of it.
func (sc *Scene) ofWhich() string {
	r := &sc.Eval.Running
	all, room := sc.w(r.Energy.Air+r.Energy.Room), sc.w(r.Warms())
	if all == room || sc.Heater.Indoors() {
		return ""
	}
	return ", " + room + " of it to the room"
}

// energyRows is the bar for a narrow page: one row a part.
func (sc *Scene) energyRows(width, total float64, each func(func(class, name, said string, w float64))) template.HTML {
	rows, text := 0, 168.0
	each(func(_, name, said string, _ float64) {
		rows++
		text = max(text, 6.2*float64(len(name))+8*float64(len(said))+20)
	})
	e := sc.Eval.Running.Energy
	var s svg
	s.open("energy", fmt.Sprintf("Of %s of sun on the glazing %s goes into the air.", sc.w(e.Sun), sc.w(e.Air+e.Room)), width,
		26+float64(rows)*30+14)
	s.text("title", "start", 0, 14, "Where the sun's "+sc.w(e.Sun)+" goes")
	y := 26.0
	each(func(class, name, said string, w float64) {
		s.text("soft", "start", 0, y+16, name)
		s.text("figure", "end", text-8, y+16, said)
		s.rect("bar "+class, text, y+2, (width-text)*w/total, 20)
		y += 30
		if part := sc.ofWhich(); class == "heat" && part != "" {
			s.text("soft", "start", 0, y+4, strings.TrimPrefix(part, ", "))
			y += 14
		}
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
	if len(r.AirAlong) < 2 {
		return sc.standing(width)
	}
	hot, air := r.HotAlong, append([]float64(nil), r.AirAlong...)
	air[len(air)-1] = r.Outlet // where several streams mix
	lo, hi := math.Inf(1), math.Inf(-1)
	for _, v := range append(append([]float64(nil), air...), hot...) {
		lo, hi = min(lo, v), max(hi, v)
	}
	if hi-lo < 5 {
		hi = lo + 5
	}
	n := float64(len(air) - 1)
	X := func(i float64) float64 { return left + (width-left-right)*i/n }
	Y := func(t float64) float64 { return top + (height-top-bottom)*(hi-t)/(hi-lo) }
	var s svg
	s.open("airpath", fmt.Sprintf("Air warms from %s to %s along its path.", sc.t(air[0]), sc.t(r.Outlet)), width, height)
	title := "Temperature along the airflow"
	if len(sc.Eval.Running.Branches) > 1 {
		title = "Temperature along the airflow of the first box"
	}
	s.text("title", "start", 0, 12, title)
	s.line("axis", left, height-bottom+6, width-right, height-bottom+6)
	line := func(v []float64, first float64) string {
		var d strings.Builder
		for i, t := range v {
			fmt.Fprintf(&d, "%s%.1f %.1f", map[bool]string{true: "M", false: "L"}[i == 0], X(first+float64(i)), Y(t))
		}
		return d.String()
	}
	s.path("absorber-line", line(hot, 0.5))
	s.path("air-line", line(air, 0))
	s.text("figure", "end", left-6, Y(air[0])+4, sc.t(air[0]))
	ya, yh := Y(air[len(air)-1]), Y(hot[len(hot)-1])
	if math.Abs(ya-yh) < 14 { // keep the two names apart
		mid := (ya + yh) / 2
		d := 7.5
		if yh < ya {
			d = -d
		}
		ya, yh = mid-d, mid+d
	}
	s.text("label", "start", width-right+8, ya+4, "air "+sc.t(r.Outlet))
	s.text("soft", "start", width-right+8, yh+4, "absorber")
	return s.close()
}

// standing is said where no air moves.
func (sc *Scene) standing(width float64) template.HTML {
	var s svg
	s.open("airpath", "No air moves at the clear winter noon.", width, 40)
	s.text("title", "start", 0, 14, "No air moves at the clear winter noon")
	return s.close()
}

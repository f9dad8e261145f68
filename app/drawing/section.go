package drawing

import (
	"fmt"
	"html/template"
	"math"
	"strings"

	"gladember/core/catalog"
	"gladember/core/collector"
	"gladember/core/design"
	"gladember/core/layout"
	"gladember/core/units"
)

// The section's picture, px, and the room at its top.
const (
	sectionWidth, sectionHeight = 420.0, 376.0
	sectionTop                  = 14.0
	sectionGap                  = 22.0 // between the two ends
	sectionDepth                = 190.0
	beyond                      = 42.0 // from the box to the words at its right
	letter                      = 7.3  // of a character of the words, about
)

// long is about how long words are in the picture, px.
func long(words string) float64 { return letter * float64(len([]rune(words))) }

// section is the box cut through at its top and bottom, on its way into the picture.
type section struct {
	*Scene
	s       svg
	left    float64    // px of the words at the left of the box
	k       float64    // px a m
	end     float64    // px of each end
	span    float64    // m of the box in each end
	sameEnd bool       // inlet and outlet lie at one end of the box
	bores   [2]float64 // y of the arrows out of and into the box, px

	cover, absorber, foam label // where their leaders begin
}

// newSection scales the picture so that each end shows its bore to a little past the center, and a header's board with
// the beginning of the tubes.
func (sc *Scene) newSection() *section {
	l := sc.Layout
	x := &section{Scene: sc, sameEnd: sc.sameEnd()}
	least, past := 0.0, 0.2
	if x.sameEnd {
		past = 0.55
	}
	for _, hole := range l.Holes {
		least = max(least, min(hole.Y, l.Height-hole.Y)+past*hole.Diameter)
	}
	for _, p := range l.Parts {
		if p.Kind == layout.HeaderBoard {
			least = max(least, p.Places[0].Y+p.Places[0].H+0.10)
		}
	}
	end := (sectionHeight - sectionTop - 34 - sectionGap) / 2
	r := &x.Eval.Running
	x.left = max(96, 12+max(long(x.sun(r)), long(x.throughCover(r))))
	right := long("from the room")
	for _, words := range []string{x.throughBack(r), x.absorberName()} {
		right = max(right, long(words))
	}
	wide := min(sectionDepth, sectionWidth-x.left-beyond-right)
	x.k = min(wide/(l.Depth+0.008), min(1900, end/min(least, l.Height/2)))
	x.span = min(end/x.k, l.Height/2)
	x.end = x.span * x.k
	x.bores = [2]float64{sectionTop + x.end/2, sectionHeight - 60}
	return x
}

// backFoam is how thick the insulation behind the absorber is, and for American readers its R-value.
func (x *section) backFoam() string {
	thick := x.Heater.Box.BackFoam
	text := x.l(thick)
	if foam, err := catalog.FindInsulation(x.Heater.Box.Foam); err == nil && x.Units.Fahrenheit {
		text += ", " + units.RValue(thick/foam.Conductivity)
	}
	return text
}

// What is written beside the box that has a power in it.
func (x *section) sun(r *collector.Result) string          { return "sun " + x.w(r.Energy.Sun) }
func (x *section) throughCover(r *collector.Result) string { return "loses " + x.w(r.Energy.Front) }
func (x *section) throughBack(r *collector.Result) string {
	return "loses " + x.w(r.Energy.Back+r.Energy.Edge)
}

// z is where a depth of the box stands, px.
func (x *section) z(depth float64) float64 { return x.left + x.k*(depth+0.008) }

// window is a part of the box's height, m, and where it stands in the picture.
type window struct {
	*section
	top      bool
	from, to float64 // m
	py       float64 // px
}

// y is where a height of the box stands, px.
func (w *window) y(height float64) float64 { return w.py + w.k*(w.to-height) }

// Section cuts the box through, both ends at one scale with the middle left
// out, glass to the left. Depths and thicknesses are to scale.
func (sc *Scene) Section() template.HTML {
	x := sc.newSection()
	l := sc.Layout
	x.s.start(sc.role(), "section", fmt.Sprintf("Section at bottom and top. Depth %s.", sc.l(l.Depth)), sectionWidth, sectionHeight)
	upper := &window{x, true, l.Height - x.span, l.Height, sectionTop}
	upper.draw("cut0")
	lower := &window{x, false, 0, x.span, sectionTop + (x.end + sectionGap)}
	lower.draw("cut1")
	if g := sc.Heater.Guard; g.Kind == "vent" {
		x.s.text("soft", "start", x.z(l.Depth)+38, sectionTop+8, "vent at "+sc.t(g.Opens))
	}
	x.sunward()
	x.names()
	x.s.dimension(x.z(0), sectionHeight-26, x.z(l.Depth), sectionHeight-26, sc.l(l.Depth))
	sc.stand(&x.s, 0, sectionHeight-74)
	return x.s.close()
}

// draw draws one end of the box.
func (w *window) draw(clip string) {
	fmt.Fprintf(&w.s, `<clipPath id="%s"><rect x="0" y="%.1f" width="%.0f" height="%.1f"/></clipPath><g clip-path="url(#%s)">`, clip, w.py,
		sectionWidth, w.end, clip)
	w.group(layout.Foam, "insulation", "foam cut")
	w.group(layout.Back, "back", "wood cut")
	w.group(layout.Frame, "body", w.bodyClass()+" cut")
	for _, p := range w.Layout.Parts {
		if p.Kind == layout.VentFlap {
			end := 0
			if w.top {
				end = 1
			}
			w.vent(&w.s, p.Places[end], w.z, w.y, w.k)
		}
	}
	w.group(layout.Absorber, "absorber", "ink-part")
	w.group(layout.Cover, "cover", "glass")
	w.holes()
	if w.Heater.Indoors() {
		w.slot()
	}
	w.s.WriteString("</g>")
	w.breaks()
	if w.top {
		w.leaders()
	}
}

// group draws what the cut at mid-width meets of a group of parts; side pieces lie beyond it.
func (w *window) group(g layout.Group, name, class string) {
	xMid := w.cutAt()
	w.part(&w.s, g, name, func() {
		for _, p := range w.Layout.Parts {
			if p.Group != g {
				continue
			}
			for _, pl := range p.Places {
				if pl.X > xMid || pl.X+pl.W < xMid || pl.Y > w.to || pl.Y+pl.H < w.from {
					continue
				}
				if pl.Lean != 0 || pl.D < 2/w.k {
					zb, zt := w.z(pl.Z+pl.D/2), w.z(pl.Z+pl.D/2+pl.Lean)
					w.s.line(class+" thin "+kindOf(p), zb, w.y(pl.Y), zt, w.y(pl.Y+pl.H))
					continue
				}
				w.s.rect(cutClass(p, g, class), w.z(pl.Z), w.y(pl.Y+pl.H), max(1.2, w.k*pl.D), w.k*pl.H)
			}
		}
	})
}

// cutClass is how a part looks where it is cut.
func cutClass(p layout.Part, g layout.Group, class string) string {
	switch {
	case g == layout.Cover && p.Material != "" && p.Kind.Ink != layout.InkGlass && !p.There:
		return "wood"
	case g != layout.Absorber:
		return class
	case p.Kind.Ink == layout.InkBoard || p.Kind.Ink == layout.InkBatten:
		return "wood"
	case p.Round() || p.Kind.Ink == layout.InkTube || p.Kind.Ink == layout.InkShell:
		return "shell" // hollow
	}
	return class
}

// holes draws the holes through the back that this end shows, with the air through them.
func (w *window) holes() {
	l := w.Layout
	for _, hole := range l.Holes {
		if hole.Y-hole.Diameter/2 > w.to || hole.Y+hole.Diameter/2 < w.from {
			continue
		}
		if hole.Face != layout.ThroughBack {
			w.edgeHole(hole)
			continue
		}
		rear := l.Depth - w.backDepth()
		back := w.z(rear)
		w.s.rect("bore", back, w.y(hole.Y+hole.Diameter/2), w.z(l.Depth)-back+1, w.k*hole.Diameter)
		front := w.z(rear-w.Heater.CavityDepth()) + 4 + w.k*w.Heater.Box.Gap/2 // before the absorber
		off := 0.15 * hole.Diameter
		if w.sameEnd { // keep the arrows apart
			off = 0.35 * hole.Diameter
		}
		family := w.Heater.Absorber.Family
		if hole.Name == "outlet" {
			w.bores[0] = w.y(hole.Y + off)
			from := back - 12
			if family == design.FrontPassPlate || family == design.DoublePassPlate {
				from = front
			}
			w.s.arrow("hot-air", from, w.bores[0], w.z(l.Depth)+34, w.bores[0])
			continue
		}
		w.bores[1] = w.y(hole.Y - off)
		to := back - 12
		if family == design.ScreenBox || family == design.FrontPassPlate { // the inlet's sleeve passes the absorber
			to = front
		}
		w.s.arrow("cold-air", w.z(l.Depth)+34, w.bores[1], to, w.bores[1])
	}
}

// edgeHole draws a port through a side, seen from its end, or through the bottom or top, cut.
func (w *window) edgeHole(hole layout.Hole) {
	zc := w.z(hole.Z + w.Heater.Cover.Thickness)
	r := w.k * hole.Diameter / 2
	class, end := "cold-air", 1
	if hole.Name == "outlet" {
		class, end = "hot-air", 0
	}
	if hole.Face == layout.ThroughLeft || hole.Face == layout.ThroughRight {
		w.s.circle("bore", zc, w.y(hole.Y), r)
		w.bores[end] = w.y(hole.Y)
		return
	}
	through := w.Heater.Box.FrameWidth + w.Heater.Lining()
	outside, inside := w.y(0), w.y(through)
	at := w.y(0)
	if hole.Face == layout.ThroughTop {
		outside, inside = w.y(w.Layout.Height), w.y(w.Layout.Height-through)
		at = outside
	}
	w.s.rect("bore", zc-r, min(outside, inside), 2*r, math.Abs(outside-inside))
	deep := inside + 2*(inside-outside)
	if hole.Name == "outlet" {
		w.s.arrow(class, zc, deep, zc, at)
	} else {
		w.s.arrow(class, zc, at, zc, deep)
	}
	w.bores[end] = (inside + deep) / 2
}

// slot draws the air under the foil of a window panel and over it.
func (w *window) slot() {
	l := w.Layout
	gap := w.z(l.Depth - 0.018 - w.Heater.Absorber.Panel.Gap/2)
	const bow = "M%.1f %.1fC%.1f %.1f %.1f %.1f %.1f %.1f"
	if w.top {
		w.bores[0] = w.y(w.to - 0.3*w.span)
		w.s.path("hot-air bow", fmt.Sprintf(bow, gap, w.y(w.to-0.6*w.span), gap, w.py+4, w.z(l.Depth), w.py+2, w.z(l.Depth)+34, w.bores[0]))
		return
	}
	w.bores[1] = w.y(0.3 * w.span)
	w.s.path("cold-air bow", fmt.Sprintf(bow, w.z(l.Depth)+34, w.bores[1], w.z(l.Depth), w.py+w.end-2, gap, w.py+w.end-4, gap,
		w.y(0.6*w.span)))
}

// breaks draws where the picture of this end breaks off.
func (w *window) breaks() {
	y := w.py
	if w.top {
		y += w.end
	}
	var d strings.Builder
	fmt.Fprintf(&d, "M%.1f %.1f", w.left-8, y)
	for x := w.left - 8; x < w.z(w.Layout.Depth)+8; x += 14 {
		d.WriteString("q3.5 -5 7 0t7 0")
	}
	w.s.path("break", d.String())
}

// leaders finds where the leaders of names begin.
func (w *window) leaders() {
	l := w.Layout
	w.cover = label{w.z(0.002), w.y(w.from + w.span*0.45)}
	if ps := firstOf(l, layout.Absorber); ps != nil {
		y := w.from + w.span*0.07
		w.absorber = label{w.z(ps.Z + ps.Lean*(y-ps.Y)/ps.H), w.y(y)}
	}
	w.foam = label{w.z(l.Depth - w.backDepth() + w.Heater.Box.BackFoam/2), w.y(l.Height - w.wall() - 0.012)}
}

// sunward writes the sun and the losses through the glazing at the left.
func (x *section) sunward() {
	r := &x.Eval.Running
	cov := "glass"
	if x.Heater.Cover.Material != "glass" {
		cov = "cover"
	}
	if n := x.Heater.Cover.Layers; n > 1 && !x.Heater.Indoors() {
		cov = fmt.Sprintf("%d glazings", n)
	}
	if x.Heater.Indoors() {
		cov = "window"
	}
	x.s.text("sun-text", "start", 2, 14, x.sun(r))
	for i := range 3 {
		y := sectionTop + 22 + float64(i)*34
		x.s.arrow("sun-ray", 6, y-12, x.left-14, y+8)
	}
	x.s.text("label", "start", 2, sectionTop+130, cov)
	x.s.text("soft", "start", 2, sectionTop+145, x.t(r.CoverOuter)+",")
	x.s.text("soft", "start", 2, sectionTop+159, x.throughCover(r))
	x.s.line("leader", 2+7*float64(len(cov)), sectionTop+126, x.cover.x, min(x.cover.y, sectionTop+120))
}

// hottest is the hottest layer of a kind; nil where there is none.
func hottest(r *collector.Result, kind collector.LayerKind) (hot *collector.LayerTemps) {
	for i := range r.Layers {
		if r.Layers[i].Kind == kind && (hot == nil || r.Layers[i].Max > hot.Max) {
			hot = &r.Layers[i]
		}
	}
	return hot
}

// names writes names and temperatures at the right, beside the arrows; they move apart where both arrows lie at one end.
func (x *section) names() {
	r := &x.Eval.Running
	rx := x.z(x.Layout.Depth) + beyond
	put := func(y float64, lb label, strong string, soft ...string) {
		x.s.line("leader", rx-4, y-4, lb.x, lb.y)
		x.s.circle("dot", lb.x, lb.y, 2)
		x.s.text("label", "start", rx, y, strong)
		for i, t := range soft {
			x.s.text("soft", "start", rx, y+15+float64(i)*14, t)
		}
	}
	hotY, coldY := x.bores[0], x.bores[1]
	if d := 40 - (coldY - hotY); d > 0 {
		hotY, coldY = hotY-d/2, coldY+d/2
	}
	foamY, absorberY := max(sectionTop+2, hotY-56), hotY+58
	switch {
	case x.sameEnd && x.bores[1] < sectionHeight/2:
		absorberY = coldY + 58
	case x.sameEnd:
		foamY, absorberY = sectionTop+30, sectionTop+96
	}
	if x.Heater.Box.BackFoam > 0 && !x.Heater.Indoors() {
		put(foamY, x.foam, "insulation", x.backFoam(), x.throughBack(r))
	}
	x.s.text("hot-text", "start", rx, hotY-1, "to the room")
	x.s.text("hot-text", "start", rx, hotY+14, x.t(r.Outlet))
	if hot := hottest(r, collector.AbsorberLayer); hot != nil {
		put(absorberY, x.absorber, x.absorberName(), "up to "+x.t(hot.Max))
	}
	x.s.text("cold-text", "start", rx, coldY-1, "from the room")
	x.s.text("cold-text", "start", rx, coldY+14, x.t(r.Conditions.Inlet))
}

package drawing

import (
	"fmt"
	"html/template"
	"math"
	"strings"
	"unicode/utf8"

	"gladember/core/design"

	"gladember/core/collector"
	"gladember/core/units"
)

// AirRoute draws the way from room to box and back as a run of pieces, each as
// long as the pressure it takes, the fan at its end; a touch on a piece leads to its field.
func AirRoute(ps []collector.Piece, fanAtHot, natural bool, width float64, u units.System, link func(path string) string) template.HTML {
	const y, h = 44.0, 30.0
	rows, least := 2, 0.07 // of names under the strip, and how long a piece is that has one
	if width < 500 {
		rows, least = 3, 0.09
	}
	height := y + h + 8 + 28*float64(rows)
	all := 0.0
	for _, p := range ps {
		all += p.Loss
	}
	var s svg
	s.start("group", "route", fmt.Sprintf("The air path, each piece as long as its pressure drop; %s in all.",
		units.Format(units.Pressure, all, u)), width, height)
	s.text("title", "start", 0, 12, "Pressure drop along the air path")
	s.text("figure", "end", width, 12, units.Format(units.Pressure, all, u)+" in all")
	left, right := 26.0, width-26.0
	k := (right - left) / max(1e-9, all)
	x := left
	shown, box := 0, width/2
	for _, p := range ps {
		w := k * p.Loss
		class := map[string]string{"before": "piece cold-piece", "in": "piece box-piece", "after": "piece hot-piece"}[p.Side]
		name := p.Name + ", " + units.Format(units.Pressure, p.Loss, u)
		to := ""
		if p.Path != "" {
			to = link(p.Path)
		}
		if p.Side == "in" {
			box = x + w/2
		}
		if to != "" {
			drag := ""
			if p.Path == design.AirBends.Path || p.Path == design.AirGrilles.Path { // these may lie on either side of the box
				drag = fmt.Sprintf(` data-piece="%s_before" data-side="%s"`, p.Path, p.Side)
			}
			fmt.Fprintf(&s, `<a href="%s" aria-label="%s"%s><title>%s</title>`, esc(to), esc(name), drag, esc(name))
		}
		s.rect(class, x, y, w, h)
		if to != "" {
			s.WriteString("</a>")
		}
		if w > least*width || p.Side == "in" { // the others by their title and in the table
			row := y + h + 16 + float64(shown%rows)*28
			s.line("leader", x+w/2, y+h, x+w/2, row-11)
			anchor, at := "middle", x+w/2
			if at < 60 {
				anchor, at = "start", max(0, x)
			} else if at > width-60 {
				anchor, at = "end", min(width, x+w)
			}
			s.text("soft", anchor, at, row, p.Name)
			s.text("small", anchor, at, row+12, fmt.Sprintf("%.0f %%", 100*p.Loss/max(1e-9, all)))
			shown++
		}
		x += w
	}
	if !natural {
		at, word := left-13, "fan"
		if fanAtHot {
			at = right + 13
		}
		fmt.Fprintf(&s, `<circle class="fan-mark" data-fan="%s" cx="%.1f" cy="%.1f" r="12"/>`,
			map[bool]string{true: "outlet", false: "inlet"}[fanAtHot], at, y+h/2)
		s.text("small", "middle", at, y-4, word)
	}
	fmt.Fprintf(&s, `<line class="mid" data-mid="%.1f" x1="%.1f" y1="%.1f" x2="%.1f" y2="%.1f"/>`, box, box, y-3, box, y+h+3)
	return s.close()
}

// besideCurves finds where the middle of a line of text stands, px, wide by 14 px, as near to a point as it
// may without touching a curve, the edge at the right or the axis below, and whether there is such a place.
func besideCurves(c collector.Curve, X, Y func(float64) float64, px, py, wide, edge, axis float64) (x, y float64, ok bool) {
	const high, room = 14.0, 5.0
	isClear := func(x, y float64) bool { // y is the base of the text
		x0, x1, y0, y1 := x-wide/2-room, x+wide/2+room, y-high-room, y+room
		if x0 < X(0) || x1 > edge || y1 > axis || y0 < 14 {
			return false
		}
		for i := 1; i < len(c.Flow); i++ {
			for _, ps := range [][]float64{c.Fan, c.System, c.Wide} {
				for f := 0.0; f <= 1; f += 0.125 {
					cx, cy := X(c.Flow[i-1]+f*(c.Flow[i]-c.Flow[i-1])), Y(ps[i-1]+f*(ps[i]-ps[i-1]))
					if cx > x0 && cx < x1 && cy > y0 && cy < y1 {
						return false
					}
				}
			}
		}
		return math.Abs(px-x) > wide/2+8 || py < y-high-8 || py > y+8
	}
	for far := 10.0; far < 400; far += 6 {
		for turn := range 24 {
			a := 2 * math.Pi * float64(turn) / 24
			if nx, ny := px+(far+wide/2)*math.Cos(a), py+5+far*math.Sin(a); isClear(nx, ny) {
				return nx, ny, true
			}
			if nx, ny := px+far*math.Cos(a), py+5+far*math.Sin(a); isClear(nx, ny) {
				return nx, ny, true
			}
		}
	}
	return 0, 0, false
}

// FanCurves draws fan and system against flow with the point where they meet, its
// band, and the system with dearer fittings dotted.
func FanCurves(c collector.Curve, flow collector.Band, at, pressure, rho, width float64, u units.System) template.HTML {
	const height, top, bottom, left, right = 230.0, 26.0, 40.0, 56.0, 14.0
	if len(c.Flow) < 2 {
		return ""
	}
	most := c.Flow[len(c.Flow)-1]
	press := c.Fan[0]
	X := func(q float64) float64 { return left + (width-left-right)*q/most }
	Y := func(p float64) float64 { return top + (height-top-bottom)*(1-min(1.08, p/press)) }
	var s svg
	s.open("fancurves", fmt.Sprintf("Fan and system meet at %s and %s.", units.Format(units.Flow, at, u),
		units.Format(units.Pressure, pressure, u)), width, height)
	s.text("title", "start", 0, 12, "Operating point of fan and duct")
	lo, hi := flow.Low/rho, flow.High/rho
	s.rect("flow-band", X(lo), top, X(min(most, hi))-X(lo), height-top-bottom)
	draw := func(class string, ps []float64) {
		var d strings.Builder
		pen := "M"
		for i, q := range c.Flow {
			if ps[i] > 1.08*press {
				break
			}
			fmt.Fprintf(&d, "%s%.1f %.1f", pen, X(q), Y(ps[i]))
			pen = "L"
		}
		s.path(class, d.String())
	}
	draw("curve dotted", c.Wide)
	draw("curve", c.System)
	draw("curve fan-line", c.Fan)
	s.line("axis", left, height-bottom, width-right, height-bottom)
	s.line("axis", left, top, left, height-bottom)
	step := round125(u.In(units.Flow, most) / 4)
	for v := 0.0; v <= u.In(units.Flow, most)*1.001; v += step {
		px := X(most * v / u.In(units.Flow, most))
		s.line("tick", px, height-bottom, px, height-bottom+4)
		s.text("figure", "middle", min(px, width-14), height-bottom+17, fmt.Sprintf("%.0f", v))
	}
	s.text("small", "end", width-right, height-bottom+33, "airflow, "+u.Unit(units.Flow))
	pstep := round125(u.In(units.Pressure, press) / 3)
	for v := pstep; v <= u.In(units.Pressure, press)*1.001; v += pstep {
		py := Y(press * v / u.In(units.Pressure, press))
		s.text("figure", "end", left-6, py+4, units.Plain(v, 3, u))
	}
	s.text("small", "end", left-6, top-2, u.Unit(units.Pressure))
	s.circle("mark", X(at), Y(pressure), 5)
	name := units.Format(units.Flow, at, u) + " at " + units.Format(units.Pressure, pressure, u)
	wide := 7.6 * float64(utf8.RuneCountInString(name))
	tx, ty, ok := besideCurves(c, X, Y, X(at), Y(pressure), wide, width-right, height-bottom-6)
	if ok {
		// A leader from the point to the nearest edge of the text, where they stand apart.
		ex := max(tx-wide/2-3, min(tx+wide/2+3, X(at)))
		ey := max(ty-13, min(ty+4, Y(pressure)))
		if math.Hypot(ex-X(at), ey-Y(pressure)) > 16 {
			s.line("leader", X(at), Y(pressure), ex, ey)
		}
	} else { // below the axis, behind a mark like the point's
		tx, ty = left+14+wide/2, height-bottom+33
		s.circle("mark", left+4, ty-4, 4)
	}
	s.text("label", "middle", tx, ty, name)
	i := len(c.Fan) / 8 // before the system has climbed to it
	s.text("soft", "start", X(c.Flow[i]), Y(c.Fan[i])+18, "fan")
	return s.close()
}

package drawing

import (
	"fmt"
	"html/template"
	"math"
	"slices"
	"strings"

	"gladember/core/layout"
	"gladember/core/units"
)

// Sizes of a part's drawing, pixels.
const (
	partLeft   = 92.0 // for the figures at the left datum edge
	partBelow  = 92.0
	partTop    = 30.0
	partMost   = 300.0 // its height at most
	figureStep = 15.0  // between figures of neighboring holes
)

// Part draws a part flat to scale. The two datum edges, left and bottom, are heavy;
// each hole has its center cross, each bend is a
// dashed line, and the distances of the centers from the datum
// edges stand along these as running figures. An edge has no cross and a center no
// heavy line, so that neither is taken for the other.
func Part(p *layout.Part, u units.System, width float64) template.HTML {
	w, h := p.Flat()
	k := min((width-partLeft-30)/w, partMost/h)
	pw, ph := w*k, h*k
	var s svg
	fm := func(v float64) string { return units.Figure(units.Length, v, u) }
	s.open("partplan", fmt.Sprintf("%s, %s: %s × %s", p.Letter, p.Name, fm(w), fm(h)), width, partTop+ph+partBelow)
	s.text("figure", "start", partLeft, 16, fmt.Sprintf("%s  %s, %d ×", p.Letter, p.Name, p.Count))
	x0, y0 := partLeft, partTop
	s.rect("cutpiece", x0, y0, pw, ph)
	s.line("datum", x0, y0, x0, y0+ph)
	s.line("datum", x0, y0+ph, x0+pw, y0+ph)
	var xs, ys []float64
	for _, b := range p.Bends {
		s.line("bendline", x0+b[0]*k, y0+ph-b[1]*k, x0+b[2]*k, y0+ph-b[3]*k)
		if b[0] == b[2] {
			xs = append(xs, b[0])
		} else {
			ys = append(ys, b[1])
		}
	}
	for _, b := range p.Bores {
		cx, cy := x0+b.X*k, y0+ph-b.Y*k
		s.circle("bore", cx, cy, b.Diameter/2*k)
		s.line("centermark", cx-7, cy, cx+7, cy)
		s.line("centermark", cx, cy-7, cx, cy+7)
		xs, ys = append(xs, b.X), append(ys, b.Y)
	}
	s.running(distinct(append(xs, w)), x0, y0+ph, k, fm, false)
	s.running(distinct(append(ys, h)), x0, y0+ph, k, fm, true)
	if len(p.Bores) > 0 {
		var sizes []string
		for _, b := range p.Bores {
			sizes = append(sizes, units.Format(units.Bore, b.Diameter, u))
		}
		slices.Sort(sizes)
		text := fmt.Sprintf("holes of %s, %d in all", strings.Join(slices.Compact(sizes), " and "), len(p.Bores))
		if width >= roomForDatum {
			text += "; figures from the heavy edges"
		}
		s.text("figure soft", "start", partLeft, partTop+ph+partBelow-6, text)
	}
	return s.close()
}

// roomForDatum is the width from which a drawing says what its figures are measured from, px.
const roomForDatum = 500.0

// distinct are values in rising order, those within a tenth of a millimeter once.
func distinct(v []float64) []float64 {
	slices.Sort(v)
	return slices.CompactFunc(v, func(a, b float64) bool { return math.Abs(a-b) < 1e-4 })
}

// running writes figures along a datum edge, each with a tick at its place; those
// that would touch the one before move on, with a slanted line to their tick.
func (s *svg) running(values []float64, x0, y0, k float64, fm func(float64) string, upright bool) {
	last := math.Inf(-1)
	for _, v := range values {
		at := max(v*k, last+figureStep)
		last = at
		if upright {
			s.line("dim", x0-4, y0-v*k, x0-14, y0-v*k)
			s.line("dim", x0-14, y0-v*k, x0-24, y0-at)
			s.text("figure", "end", x0-28, y0-at+4, fm(v))
			continue
		}
		s.line("dim", x0+v*k, y0+4, x0+v*k, y0+14)
		s.line("dim", x0+v*k, y0+14, x0+at, y0+24)
		fmt.Fprintf(s, `<text class="figure" text-anchor="end" transform="translate(%.1f %.1f) rotate(-90)">%s</text>`, x0+at+4, y0+28,
			esc(fm(v)))
	}
}

// printStyle is what a drawing in a file of its own needs: ink on white.
const printStyle = `<style>text{font-family:monospace;font-size:13px;fill:#000}.soft{font-size:11.5px}` +
	`.cutpiece,.offcut,.bore{fill:#fff;stroke:#000}.datum{stroke:#000;stroke-width:3}.dim,.centermark{stroke:#000;stroke-width:.8}</style>`

// Standalone makes a drawing of a page into a file of its own.
func Standalone(h template.HTML) string {
	s := strings.Replace(string(h), "<svg ", `<svg xmlns="http://www.w3.org/2000/svg" `, 1)
	if i := strings.Index(s, ">"); i > 0 {
		s = s[:i+1] + printStyle + s[i+1:]
	}
	return s
}

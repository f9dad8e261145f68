package drawing

import (
	_ "embed"
	"fmt"
	"io"
	"math"
	"slices"
	"strings"

	"codeberg.org/go-pdf/fpdf"

	"gladember/core/layout"
	"gladember/core/units"
)

//go:embed fonts/regular.ttf
var regular []byte

//go:embed fonts/bold.ttf
var bold []byte

// Papers that PDF pages may have.
const (
	A4     = "A4"
	Letter = "Letter"
)

// Measures of a PDF page, mm.
const (
	pdfMargin  = 14.0
	pdfFoot    = 16.0 // below the drawing, for the ruler and the page's name
	pdfFigures = 22.0 // at the left and below, for figures
	rulerMM    = 100.0
	rulerInch  = 4.0
)

// sheaf is a PDF on its way.
type sheaf struct {
	*fpdf.Fpdf
	u    units.System
	w, h float64 // of the paper, mm
}

// ShopPDF writes the box from the front and in section, the list of its parts, a shop
// drawing of every part that is cut, and after them true-scale templates
// of the holes and of the openings in the wall, with registration marks and a ruler to
// check the printer by. Fonts are embedded, and texts can be selected.
func ShopPDF(out io.Writer, l *layout.Layout, u units.System, paper, name string) error {
	s := newSheaf(name, u, paper)
	s.drawings(l, name)
	return s.Output(out)
}

// drawings are the pages of a box, of its parts and of their templates.
func (s *sheaf) drawings(l *layout.Layout, name string) {
	parts := l.Cut()
	s.front(l, name)
	s.section(l, name)
	s.list(parts, name)
	parts = append(parts, l.Openings()...)
	y := s.h // of what is drawn already, mm: the first one begins a page
	for i := range parts {
		if parts[i].Form != layout.Whole {
			y = s.part(&parts[i], name, y)
		}
	}
	var drawn []layout.Part
	for _, p := range parts {
		if !templated(&p) || slices.ContainsFunc(drawn, func(o layout.Part) bool { return alike(&o, &p) }) {
			continue
		}
		drawn = append(drawn, p)
		var letters []string
		for i := range parts {
			if parts[i].Letter == p.Letter || templated(&parts[i]) && alike(&p, &parts[i]) {
				letters = append(letters, parts[i].Letter)
			}
		}
		s.templates(&p, strings.Join(letters, ", "), name)
	}
}

// templated says whether a part has holes whose place matters.
func templated(p *layout.Part) bool {
	return slices.ContainsFunc(p.Bores, func(b layout.Bore) bool { return b.Name != "drain hole" })
}

// alike says whether two parts have the same outline and the same holes, so that one template serves both.
func alike(a, b *layout.Part) bool {
	aw, ah := a.Flat()
	bw, bh := b.Flat()
	return aw == bw && ah == bh && slices.EqualFunc(a.Bores, b.Bores, func(x, y layout.Bore) bool {
		return x.X == y.X && x.Y == y.Y && x.Diameter == y.Diameter
	})
}

// length prints a length with its unit.
func (s *sheaf) length(m float64) string { return units.Format(units.Length, m, s.u) }

// head begins a page with a title and the heater's name at its foot.
func (s *sheaf) head(title, name string) {
	s.AddPage()
	s.SetTextColor(0, 0, 0)
	s.SetFont("face", "B", 14)
	s.Text(pdfMargin, pdfMargin+3, title)
	s.SetFont("face", "", 9)
	s.Text(pdfMargin, s.h-pdfMargin+4, name)
}

// part draws one part flat, as wide as the page allows, below y or on a page of its own, and returns where it ends, mm.
func (s *sheaf) part(p *layout.Part, name string, y float64) float64 {
	w, h := p.Flat()
	const above = 20.0
	k := min((s.w-2*pdfMargin-pdfFigures)/w, (s.h-2*pdfMargin-above-pdfFigures-pdfFoot)/h)
	title := fmt.Sprintf("%s  %s, %d ×", p.Letter, p.Name, p.Count)
	if y+above+h*k+pdfFigures > s.h-pdfMargin-6 {
		s.head(title, name)
		y = pdfMargin
	} else {
		s.SetFont("face", "B", 14)
		s.Text(pdfMargin, y+3, title)
	}
	s.SetFont("face", "", 10)
	s.Text(pdfMargin, y+9, fmt.Sprintf("%s, %s × %s × %s", p.Material, s.length(w), s.length(h), s.length(p.Thickness)))
	if p.Joint != "" {
		s.Text(pdfMargin, y+14, layout.Words(p.Joint, s.u))
	}
	top := y + above
	x0, y0 := pdfMargin+pdfFigures, top+h*k
	s.SetLineWidth(0.3)
	s.Rect(x0, top, w*k, h*k, "D")
	s.SetLineWidth(1)
	s.Line(x0, top, x0, y0)
	s.Line(x0, y0, x0+w*k, y0)
	s.SetLineWidth(0.2)
	xs, ys := []float64{w}, []float64{h}
	s.SetDashPattern([]float64{3, 1.5}, 0)
	for _, b := range p.Bends {
		s.Line(x0+b[0]*k, y0-b[1]*k, x0+b[2]*k, y0-b[3]*k)
		if b[0] == b[2] {
			xs = append(xs, b[0])
		} else {
			ys = append(ys, b[1])
		}
	}
	s.SetDashPattern(nil, 0)
	for _, b := range p.Bores {
		s.bore(x0+b.X*k, y0-b.Y*k, b.Diameter/2*k, 2)
		xs, ys = append(xs, b.X), append(ys, b.Y)
	}
	s.figures(distinct(xs), x0, y0, k, false)
	s.figures(distinct(ys), x0, y0, k, true)
	return y0 + pdfFigures + 8
}

// bore draws a hole with its center's cross, whose arms are a few mm long.
func (s *sheaf) bore(x, y, r, arm float64) {
	s.Circle(x, y, r, "D")
	s.Line(x-arm, y, x+arm, y)
	s.Line(x, y-arm, x, y+arm)
}

// figures writes running figures along a datum edge, as on the screen.
func (s *sheaf) figures(values []float64, x0, y0, k float64, upright bool) {
	const step = 4.0
	s.SetFont("face", "", 8.5)
	last := math.Inf(-1)
	for _, v := range values {
		at := max(v*k, last+step)
		last = at
		text := units.Figure(units.Length, v, s.u)
		if upright {
			s.Line(x0-1.5, y0-v*k, x0-4, y0-v*k)
			s.Line(x0-4, y0-v*k, x0-6, y0-at)
			s.Text(x0-7-s.GetStringWidth(text), y0-at+1, text)
			continue
		}
		s.Line(x0+v*k, y0+1.5, x0+v*k, y0+4)
		s.Line(x0+v*k, y0+4, x0+at, y0+6)
		s.TransformBegin()
		s.TransformRotate(90, x0+at, y0+7)
		s.Text(x0+at-s.GetStringWidth(text), y0+8, text)
		s.TransformEnd()
	}
}

// templates draws those pages of a part at its true size that a hole lies on, each
// with marks at its corners by which neighbors are laid together. letters are those of all parts that it serves.
func (s *sheaf) templates(p *layout.Part, letters, name string) {
	w, h := p.Flat()
	pw, ph := s.w-2*pdfMargin, s.h-2*pdfMargin-pdfFoot-8
	cols, rows := int(math.Ceil(1000*w/pw)), int(math.Ceil(1000*h/ph))
	for r := range rows {
		for c := range cols {
			left, bottom := float64(c)*pw, float64(r)*ph // mm on the part
			touches := func(b layout.Bore) bool {
				off := func(v, low, size float64) float64 { return max(0, max(low-v, v-low-size)) }
				return math.Hypot(off(1000*b.X, left, pw), off(1000*b.Y, bottom, ph)) <= 500*b.Diameter
			}
			if !slices.ContainsFunc(p.Bores, touches) {
				continue
			}
			s.head(fmt.Sprintf("%s  %s: true size, column %d of %d, row %d of %d", letters, p.Name, c+1, cols, r+1, rows), name)
			s.tile(p, left, bottom, pw, ph)
		}
	}
}

// tile draws what lies of a part within a rectangle, mm, at its true size.
func (s *sheaf) tile(p *layout.Part, left, bottom, pw, ph float64) {
	w, h := p.Flat()
	x0, y0 := pdfMargin, pdfMargin+8+ph // the tile's lower left corner on the page
	s.SetLineWidth(0.2)
	for _, c := range [][2]float64{{x0, y0}, {x0 + pw, y0}, {x0, y0 - ph}, {x0 + pw, y0 - ph}} {
		s.Line(c[0]-4, c[1], c[0]+4, c[1])
		s.Line(c[0], c[1]-4, c[0], c[1]+4)
	}
	s.ClipRect(x0, y0-ph, pw, ph, false)
	s.SetLineWidth(0.6)
	s.Rect(x0-left, y0+bottom-1000*h, 1000*w, 1000*h, "D")
	s.SetLineWidth(0.2)
	for _, b := range p.Bores {
		s.bore(x0+1000*b.X-left, y0+bottom-1000*b.Y, 500*b.Diameter, 6)
	}
	s.ClipEnd()
	s.ruler(x0, y0+8)
}

// ruler draws 100 mm or 4 in, to be measured before a template is trusted.
func (s *sheaf) ruler(x, y float64) {
	long, n, what := rulerMM, 10, "This line measures 100 mm. If it does not, print again at 100 %."
	if s.u.Inches {
		long, n, what = rulerInch*1000*units.MeterPerInch, 4, "This line measures 4 in. If it does not, print again at 100 %."
	}
	s.SetLineWidth(0.1) // its ends are read at the middle of the ticks
	s.Line(x, y, x+long, y)
	for i := range n + 1 {
		at := x + long*float64(i)/float64(n)
		s.Line(at, y-2, at, y)
	}
	s.SetFont("face", "", 8.5)
	s.Text(x+long+3, y, what)
}

package drawing

import (
	"cmp"
	"fmt"
	"slices"
	"strings"

	"codeberg.org/go-pdf/fpdf"

	"gladember/core/layout"
	"gladember/core/units"
)

// front draws the whole box from the front, to scale: its frame, what lies in it, and the holes through its back with the
// distances of their centers from the left and the bottom edge.
func (s *sheaf) front(l *layout.Layout, name string) {
	s.head(fmt.Sprintf("The box from the front: %s × %s, %s deep", s.length(l.Width), s.length(l.Height), s.length(l.Depth)), name)
	s.SetFont("face", "", 10)
	s.Text(pdfMargin, pdfMargin+9, fmt.Sprintf("Both diagonals %s. Figures are measured from the heavy edges to the centers of the holes.",
		s.length(l.Diagonal)))
	top := pdfMargin + 16
	k := min((s.w-2*pdfMargin-pdfFigures)/l.Width, (s.h-top-pdfMargin-pdfFigures-pdfFoot)/l.Height)
	x0, y0 := pdfMargin+pdfFigures, top+l.Height*k
	s.SetLineWidth(0.15)
	for i := range l.Parts {
		p := &l.Parts[i]
		if p.Group == layout.Back || p.Group == layout.Foam || p.Round() {
			continue
		}
		for _, at := range p.Places {
			s.Rect(x0+at.X*k, y0-(at.Y+at.H)*k, at.W*k, at.H*k, "D")
		}
	}
	s.SetLineWidth(0.3)
	s.Rect(x0, top, l.Width*k, l.Height*k, "D")
	s.SetLineWidth(1)
	s.Line(x0, top, x0, y0)
	s.Line(x0, y0, x0+l.Width*k, y0)
	s.SetLineWidth(0.3)
	xs, ys := []float64{l.Width}, []float64{l.Height}
	for _, x := range l.Holes {
		s.bore(x0+x.X*k, y0-x.Y*k, x.Diameter/2*k, 3)
		xs, ys = append(xs, x.X), append(ys, x.Y)
	}
	s.figures(distinct(xs), x0, y0, k, false)
	s.figures(distinct(ys), x0, y0, k, true)
}

// sectionDeep is how wide the depth of a box is drawn at most, mm, and sectionTall how much of its height is shown for each
// depth of it.
const (
	sectionDeep = 70.0
	sectionTall = 2.2
)

// section draws the lower end of the box cut through its middle, the glazing at the left, with the letters of the parts and
// how far behind the front each begins and ends.
func (s *sheaf) section(l *layout.Layout, name string) {
	s.head("Section at the bottom, glazing at the left", name)
	front := 0.0 // stops lie before the front
	for _, p := range l.Parts {
		for _, at := range p.Places {
			front = min(front, at.Z)
		}
	}
	k := sectionDeep / (l.Depth - front)
	span := min(l.Height, sectionTall*(l.Depth-front))
	top := pdfMargin + 14
	x0, y0 := pdfMargin+10-front*k, top+span*k
	type mark struct {
		y    float64
		x    float64
		text string
	}
	var marks []mark
	s.SetLineWidth(0.25)
	s.ClipRect(pdfMargin, top, s.w-2*pdfMargin, span*k+0.3, false)
	for i := range l.Parts {
		p := &l.Parts[i]
		for _, at := range p.Places {
			if at.X > l.Width/2 || at.X+at.W < l.Width/2 || at.Y > span {
				continue
			}
			high := min(at.Y+at.H, span+0.01)
			if at.Lean != 0 { // a slanted screen and what lies along it
				z := at.Z + at.D/2
				s.Line(x0+z*k, y0-at.Y*k, x0+(z+at.Lean*(high-at.Y)/at.H)*k, y0-high*k)
			} else {
				s.Rect(x0+at.Z*k, y0-high*k, max(0.2, at.D*k), (high-at.Y)*k, "D")
			}
			marks = append(marks, mark{y0 - (at.Y+min(high, span))/2*k, x0 + (at.Z+at.D)*k,
				fmt.Sprintf("%s  %s, %s to %s", p.Letter, p.Name, units.Figure(units.Length, at.Z, s.u), s.length(at.Z+at.D))})
			break
		}
	}
	s.ClipEnd()
	slices.SortStableFunc(marks, func(a, b mark) int { return cmp.Compare(a.y, b.y) })
	s.SetFont("face", "", 8.5)
	last, right := top-5, x0+l.Depth*k+14
	for _, m := range marks {
		at := max(m.y, last+4.6)
		last = at
		s.SetLineWidth(0.1)
		s.Line(m.x, m.y, right-2, at)
		s.Text(right, at+1, m.text)
	}
	s.Text(pdfMargin, max(last+8, y0+8), "Depths are measured from the front of the outer cover.")
}

// list writes all parts with their sizes, on as many pages as they take.
func (s *sheaf) list(parts []layout.Part, name string) {
	const step = 5.2
	y := s.h
	for i := range parts {
		p := &parts[i]
		if y+step > s.h-pdfMargin-6 {
			s.head("Parts", name)
			y = pdfMargin + 12
		}
		s.SetFont("face", "B", 9.5)
		s.Text(pdfMargin, y, p.Letter)
		s.SetFont("face", "", 9.5)
		s.Text(pdfMargin+9, y, fmt.Sprintf("%d ×  %s", p.Count, p.Name))
		size := fmt.Sprintf("%s × %s", units.Figure(units.Length, p.Length, s.u), s.length(p.Width))
		if p.Thickness > 0 {
			size = fmt.Sprintf("%s × %s × %s", units.Figure(units.Length, p.Length, s.u), units.Figure(units.Length, p.Width, s.u),
				s.length(p.Thickness))
		}
		s.Text(s.w/2-8, y, size)
		s.SetFont("face", "", 8)
		s.Text(s.w-pdfMargin-s.GetStringWidth(p.Material), y, p.Material)
		y += step
	}
}

// side draws the heater at its place from the side and its details, each with its names at the right.
func (w *writer) side(side *layout.Side) {
	w.begin("At its place, seen from the side")
	w.sideView(side, nil)
	for i := range side.Details {
		d := &side.Details[i]
		w.need(100)
		w.say(0, "B", textSize+1, d.Name)
		w.sideView(side, d)
	}
}

// sideView draws a side view, or a detail of it, below what is on the page.
func (w *writer) sideView(side *layout.Side, d *layout.Detail) {
	const tall, names = 92.0, 78.0 // mm
	v := &sideView{wide: w.w - 2*pdfMargin, detail: d, units: w.u}
	low, high := side.Bounds()
	if d != nil {
		low, high = d.Low, d.High
	}
	k := min((w.w-2*pdfMargin-names)/(high.X-low.X), (tall-6)/(high.Y-low.Y))
	x := func(p layout.Point) float64 { return pdfMargin + 4 + k*(p.X-low.X) }
	y := func(p layout.Point) float64 { return w.y + k*(high.Y-p.Y) }
	right := x(high) + 8
	for i := range side.Shapes {
		pieces := side.Shapes[i : i+1]
		if d != nil {
			pieces = d.Cut(&side.Shapes[i])
		}
		for k := range pieces {
			w.sideShape(&pieces[k], x, y)
		}
		if s := &side.Shapes[i]; s.Name != "" && (d != nil || !s.Fine) && v.shows(s.At) {
			v.tags = append(v.tags, tag{name: strings.TrimSpace(s.Letter + "  " + s.Name), x: x(s.At), y: y(s.At)})
		}
	}
	v.lowest = y(low)
	v.spread(textLine)
	w.SetFont("face", "", smallSize)
	w.SetLineWidth(0.1)
	for _, t := range v.tags {
		w.Line(t.x, t.y, right-1, t.at-1)
		w.Circle(t.x, t.y, 0.4, "F")
		w.Text(right, t.at, t.name)
	}
	w.y = max(v.lowest, y(low)) + 10
}

// sideShape draws one shape of a side view in black and white: what is cut through of the building is gray.
func (w *writer) sideShape(s *layout.Shape, x, y func(layout.Point) float64) {
	w.SetLineWidth(map[layout.Kind]float64{layout.Covering: 0.7, layout.Glazing: 0.7, layout.Sheet: 0.5, layout.CenterPin: 0.15}[s.Kind])
	if s.Kind == layout.CenterPin {
		w.SetDashPattern([]float64{3, 1, 0.5, 1}, 0)
		defer w.SetDashPattern(nil, 0)
	}
	if s.Open {
		for i := range s.Points[1:] {
			a, b := s.Points[i], s.Points[i+1]
			w.Line(x(a), y(a), x(b), y(b))
		}
		return
	}
	w.SetLineWidth(0.25)
	gray := 255
	if s.Kind == layout.Building {
		gray = 215
	}
	w.SetFillColor(gray, gray, gray)
	var ps []fpdf.PointType
	for _, p := range s.Points {
		ps = append(ps, fpdf.PointType{X: x(p), Y: y(p)})
	}
	w.Polygon(ps, "FD")
	w.SetFillColor(0, 0, 0)
}

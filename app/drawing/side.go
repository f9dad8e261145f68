package drawing

import (
	"cmp"
	"fmt"
	"html/template"
	"math"
	"slices"
	"strings"

	"gladember/core/layout"
	"gladember/core/units"
)

// sideKinds are the classes of the shapes of a side view.
var sideKinds = map[layout.Kind]string{layout.Building: "building", layout.Covering: "covering", layout.Body: "shell",
	layout.Glazing: "pane-edge", layout.Support: "wood", layout.Sheet: "flashing", layout.SoftFoam: "foam", layout.Way: "bore",
	layout.CenterPin: "centermark"}

// tag is a name of a side view with where its leader ends, px.
type tag struct {
	name string
	x, y float64 // on the shape
	at   float64 // y of the name
}

// sideView is a side view on its way into a picture.
type sideView struct {
	s         svg
	k         float64 // px a m
	left, top float64 // m: the corner of what is shown
	x0, y0    float64 // px of that corner
	units     units.System
	tags      []tag
	detail    *layout.Detail // nil for the whole
	right     float64        // px, where the names begin
	named     bool           // names stand beside the drawing; else numbers, with the names below
	lowest    float64        // px
	wide      float64
}

// Sizes of a side view, px.
const (
	sideHigh   = 400.0
	sideLine   = 17.0
	sideNames  = 270.0 // that a column of names takes
	sideNarrow = 560.0 // below it there are numbers
)

// Side draws a heater at its place from the side, to scale: what carries it, the way through the wall or the roof, and the
// flashing in the order in which it is laid. With a detail only what lies in that is drawn, larger.
func Side(side *layout.Side, detail *layout.Detail, width float64, u units.System) template.HTML {
	v := &sideView{units: u, wide: width, named: width >= sideNarrow, detail: detail}
	label := "The heater at its place, seen from its side and cut through at its ports."
	v.fit(side)
	if detail != nil {
		label = detail.Name + ", seen from the side."
	}
	if !math.IsNaN(side.Ground) && detail == nil {
		y := v.y(side.Ground)
		v.s.line("ground", 0, y, v.right-12, y)
	}
	for _, x := range side.Shapes {
		v.shape(&x)
	}
	if detail != nil {
		v.s.rect("edge", v.x0, v.y0, v.k*(detail.High.X-detail.Low.X), v.k*(detail.High.Y-detail.Low.Y))
	}
	for _, x := range side.Spans {
		if x.Fine == (detail != nil) && v.shows(x.From) && v.shows(x.To) {
			v.span(&x)
		}
	}
	v.names()
	var out svg
	out.open("onside", label, width, v.lowest+6)
	out.WriteString(v.s.String())
	return out.close()
}

// shows says whether a point lies in what is drawn.
func (v *sideView) shows(p layout.Point) bool {
	d := v.detail
	return d == nil || p.X > d.Low.X && p.X < d.High.X && p.Y > d.Low.Y && p.Y < d.High.Y
}

// fit scales everything into the picture, or the detail.
func (v *sideView) fit(side *layout.Side) {
	names := sideNames
	if !v.named {
		names = 30
	}
	if d := v.detail; d != nil {
		v.k = min((v.wide-names-16)/(d.High.X-d.Low.X), 0.75*sideHigh/(d.High.Y-d.Low.Y))
		v.left, v.top, v.x0, v.y0 = d.Low.X, d.High.Y, 1, 1
		v.right = v.x(d.High.X) + 16
		v.lowest = v.y(d.Low.Y)
		return
	}
	low, high := side.Bounds()
	const lengths = 46.0 // px for lengths beside and under the drawing
	v.k = min((v.wide-names-2*lengths)/(high.X-low.X), (sideHigh-lengths)/(high.Y-low.Y))
	v.left, v.top, v.x0, v.y0 = low.X, high.Y, lengths, 12
	v.right = v.x(high.X) + lengths
	v.lowest = v.y(low.Y) + 26
}

func (v *sideView) x(m float64) float64 { return v.x0 + v.k*(m-v.left) }
func (v *sideView) y(m float64) float64 { return v.y0 + v.k*(v.top-m) }

// shape draws a part, in a detail what of it lies there, and notes its name.
func (v *sideView) shape(x *layout.Shape) {
	if v.detail == nil {
		v.outline(x)
	} else {
		for _, piece := range v.detail.Cut(x) {
			v.outline(&piece)
		}
	}
	if x.Name == "" || x.Fine && v.detail == nil || !v.shows(x.At) {
		return
	}
	name := x.Name
	if x.Letter != "" {
		name = x.Letter + "  " + name
	}
	v.tags = append(v.tags, tag{name: name, x: v.x(x.At.X), y: v.y(x.At.Y)})
}

// outline draws the outline of a shape.
func (v *sideView) outline(x *layout.Shape) {
	var d strings.Builder
	for i, p := range x.Points {
		c := "L"
		if i == 0 {
			c = "M"
		}
		fmt.Fprintf(&d, "%s%.2f %.2f", c, v.x(p.X), v.y(p.Y))
	}
	class := sideKinds[x.Kind]
	if x.Open {
		class += " bent"
	} else {
		d.WriteString("Z")
	}
	v.s.path(class, d.String())
}

// span draws a length along its line, moved out from it by a little.
func (v *sideView) span(x *layout.Span) {
	text := units.Format(units.Length, x.Length(), v.units)
	x1, y1, x2, y2 := v.x(x.From.X), v.y(x.From.Y), v.x(x.To.X), v.y(x.To.Y)
	const off = 16.0
	switch {
	case math.Abs(x1-x2) < 0.5 && v.detail == nil && x1 > v.x0+v.k*0.2: // upright, at the right of the box
		v.s.dimension(x1+off+12, y1, x1+off+12, y2, text)
	case math.Abs(x1-x2) < 0.5:
		v.s.dimension(x1-off, y1, x1-off, y2, text)
	case math.Abs(y1-y2) < 0.5:
		v.s.dimension(x1, y1+8, x2, y2+8, text)
	default:
		v.s.line("dim", x1, y1, x2, y2)
		a := math.Atan2(y2-y1, x2-x1) * 180 / math.Pi
		if a > 90 || a < -90 {
			a += 180
		}
		fmt.Fprintf(&v.s, `<text class="figure" text-anchor="middle" transform="translate(%.1f %.1f) rotate(%.1f)" dy="-6">%s</text>`,
			(x1+x2)/2, (y1+y2)/2, a, esc(text))
	}
}

// names writes the names beside the drawing, each at the height of its shape or as near as the others leave room; where the
// picture is narrow, numbers stand there and the names below.
func (v *sideView) names() {
	v.spread(sideLine)
	for i, t := range v.tags {
		v.s.line("leader", t.x, t.y, v.right-4, t.at-4)
		v.s.circle("dot", t.x, t.y, 2)
		if v.named {
			v.s.text("label", "start", v.right, t.at, t.name)
			continue
		}
		v.s.text("figure", "start", v.right, t.at, fmt.Sprint(i+1))
	}
	if v.named {
		return
	}
	for i, t := range v.tags {
		v.lowest += sideLine
		v.s.text("figure", "start", 0, v.lowest, fmt.Sprint(i+1))
		v.s.text("label", "start", 26, v.lowest, t.name)
	}
}

// spread gives each name its height: that of its shape, or as near as the others leave room, so many px or mm a line.
func (v *sideView) spread(line float64) {
	slices.SortStableFunc(v.tags, func(a, b tag) int { return cmp.Compare(a.y, b.y) })
	last := 0.0
	for i := range v.tags {
		t := &v.tags[i]
		t.at = max(t.y, last+line)
		last = t.at
	}
	// What ran out below moves up again.
	limit := max(v.lowest-line/2, line*float64(len(v.tags)))
	for i := len(v.tags) - 1; i >= 0; i-- {
		t := &v.tags[i]
		t.at = min(t.at, limit)
		limit = t.at - line
	}
	if n := len(v.tags); n > 0 {
		v.lowest = max(v.lowest, v.tags[n-1].at+line/2)
	}
}

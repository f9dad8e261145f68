package drawing

import (
	"fmt"
	"io"
	"strings"

	"gladember/core/cutting"
	"gladember/core/layout"
	"gladember/core/units"
)

// Layers of the DXF files, by what is done there.
const (
	LayerCut   = "CUT"   // outlines to cut
	LayerDrill = "DRILL" // holes to bore
	LayerMark  = "MARK"  // center marks and datum edges
	LayerBend  = "BEND"  // lines to bend along
	LayerText  = "TEXT"
	LayerSheet = "SHEET" // the stock that is cut
)

// DXF writes drawings in the exchange format of release 12, which every program for
// laser, router and plotter reads: outlines as closed polylines, holes as circles,
// each operation on a layer of its own. Lengths are millimeters, or inches.
type DXF struct {
	b     strings.Builder
	scale float64 // drawing units for a meter
}

// NewDXF begins a drawing in millimeters, or in inches.
func NewDXF(inches bool) *DXF {
	d := &DXF{scale: 1000}
	if inches {
		d.scale = 1 / units.MeterPerInch
	}
	return d
}

// pair writes a group code and its value.
func (d *DXF) pair(code int, value any) {
	if v, ok := value.(float64); ok {
		fmt.Fprintf(&d.b, "%d\n%.6f\n", code, v)
		return
	}
	fmt.Fprintf(&d.b, "%d\n%v\n", code, value)
}

// Rect adds a closed outline, m.
func (d *DXF) Rect(layer string, x, y, w, h float64) {
	d.Outline(layer, [][2]float64{{x, y}, {x + w, y}, {x + w, y + h}, {x, y + h}})
}

// Outline adds a closed polyline through corners, m.
func (d *DXF) Outline(layer string, corners [][2]float64) {
	d.pair(0, "POLYLINE")
	d.pair(8, layer)
	d.pair(66, 1)
	d.pair(70, 1)
	d.pair(10, 0.0)
	d.pair(20, 0.0)
	d.pair(30, 0.0)
	for _, c := range corners {
		d.pair(0, "VERTEX")
		d.pair(8, layer)
		d.pair(10, c[0]*d.scale)
		d.pair(20, c[1]*d.scale)
		d.pair(30, 0.0)
	}
	d.pair(0, "SEQEND")
	d.pair(8, layer)
}

// Line adds a line, m.
func (d *DXF) Line(layer string, x1, y1, x2, y2 float64) {
	d.pair(0, "LINE")
	d.pair(8, layer)
	for i, v := range []float64{x1, y1, 0} {
		d.pair(10+10*i, v*d.scale)
	}
	for i, v := range []float64{x2, y2, 0} {
		d.pair(11+10*i, v*d.scale)
	}
}

// Circle adds a hole, m.
func (d *DXF) Circle(layer string, x, y, diameter float64) {
	d.pair(0, "CIRCLE")
	d.pair(8, layer)
	d.pair(10, x*d.scale)
	d.pair(20, y*d.scale)
	d.pair(30, 0.0)
	d.pair(40, diameter/2*d.scale)
}

// Text adds a line of text with its lower left corner and its height, m.
func (d *DXF) Text(x, y, height float64, text string) {
	d.pair(0, "TEXT")
	d.pair(8, LayerText)
	d.pair(10, x*d.scale)
	d.pair(20, y*d.scale)
	d.pair(30, 0.0)
	d.pair(40, height*d.scale)
	d.pair(1, plain(text))
}

// plain leaves out what release 12 has no letter for.
func plain(s string) string {
	return strings.Map(func(r rune) rune {
		switch {
		case r == '×':
			return 'x'
		case r < ' ' || r > '~':
			return -1
		}
		return r
	}, s)
}

// WriteTo writes the whole file.
func (d *DXF) WriteTo(w io.Writer) (int64, error) {
	head := DXF{scale: d.scale}
	head.pair(0, "SECTION")
	head.pair(2, "HEADER")
	head.pair(9, "$ACADVER")
	head.pair(1, "AC1009")
	head.pair(0, "ENDSEC")
	head.pair(0, "SECTION")
	head.pair(2, "TABLES")
	head.pair(0, "TABLE")
	head.pair(2, "LAYER")
	layers := []string{LayerCut, LayerDrill, LayerMark, LayerBend, LayerText, LayerSheet}
	head.pair(70, len(layers))
	for i, l := range layers {
		head.pair(0, "LAYER")
		head.pair(2, l)
		head.pair(70, 0)
		head.pair(62, i+1)
		head.pair(6, "CONTINUOUS")
	}
	head.pair(0, "ENDTAB")
	head.pair(0, "ENDSEC")
	head.pair(0, "SECTION")
	head.pair(2, "ENTITIES")
	n, err := io.WriteString(w, head.b.String()+d.b.String()+"0\nENDSEC\n0\nEOF\n")
	return int64(n), err
}

// centerMark is the arm of a center's cross, m, and markText the height of text.
const (
	centerMark = 0.006
	markText   = 0.008
)

// PartDXF draws a part flat, with its holes and their centers.
func PartDXF(p *layout.Part, inches bool) *DXF {
	d := NewDXF(inches)
	w, h := p.Flat()
	d.Rect(LayerCut, 0, 0, w, h)
	for _, b := range p.Bends {
		d.Line(LayerBend, b[0], b[1], b[2], b[3])
	}
	for _, b := range p.Bores {
		d.Circle(LayerDrill, b.X, b.Y, b.Diameter)
		d.Line(LayerMark, b.X-centerMark, b.Y, b.X+centerMark, b.Y)
		d.Line(LayerMark, b.X, b.Y-centerMark, b.X, b.Y+centerMark)
	}
	d.Text(markText, -2*markText, markText, p.Letter+" "+p.Name)
	return d
}

// SheetsDXF draws the sheets of a plan side by side, with their panels.
func SheetsDXF(m *cutting.MaterialPlan, inches bool) *DXF {
	d := NewDXF(inches)
	const apart = 0.1
	x0 := 0.0
	for _, c := range m.Sheets.Sheets {
		st := m.SheetJob.Stock[c.Stock]
		d.Rect(LayerSheet, x0, 0, st.Width, st.Height)
		for _, p := range c.Panels {
			d.Rect(LayerCut, x0+p.X, p.Y, p.W, p.H)
			d.Text(x0+p.X+markText, p.Y+markText, markText, m.SheetJob.Panels[p.Panel].Name)
		}
		x0 += st.Width + apart
	}
	return d
}

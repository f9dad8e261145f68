package drawing

import (
	"fmt"
	"io"
	"math"
	"strings"

	"codeberg.org/go-pdf/fpdf"

	"gladember/core/advice"
	"gladember/core/buildplan"
	"gladember/core/cost"
	"gladember/core/cutting"
	"gladember/core/layout"
	"gladember/core/units"
	"gladember/core/wiring"
)

// Packet is all that a builder carries into the shop.
type Packet struct {
	Name   string
	Layout *layout.Layout
	Plans  []cutting.MaterialPlan
	List   *cost.List
	Steps  []buildplan.Step
	// Circuit is how the fan is wired; nil for a heater without one.
	Circuit *wiring.Circuit
	Safety  []advice.SafetyGroup
	// Side is the heater at its place; nil for one that hangs indoors.
	Side *layout.Side
	// Temperature, C, and Humidity, 0 to 1, are those of the shop.
	Temperature, Humidity float64
	// Currency is the sign of money; empty for none.
	Currency string
}

// PacketPDF writes a packet as one file, in black and white: what is in it, safety, the buying list, the cutting plan, the
// steps with boxes to tick, the wiring, a sheet for the first test, the drawings and the templates.
func PacketPDF(out io.Writer, p *Packet, u units.System, paper string) error {
	s := newSheaf(p.Name, u, paper)
	w := &writer{sheaf: s, name: p.Name}
	w.cover(p)
	w.safety(p.Safety)
	w.buying(p)
	w.cutting(p.Plans)
	w.steps(p)
	if p.Circuit != nil {
		w.wiring(p.Circuit)
	}
	w.testSheet()
	if p.Side != nil {
		w.side(p.Side)
	}
	s.drawings(p.Layout, p.Name)
	return s.Output(out)
}

// newSheaf begins a PDF with our fonts embedded.
func newSheaf(title string, u units.System, paper string) *sheaf {
	s := &sheaf{Fpdf: fpdf.New("P", "mm", paper, ""), u: u}
	s.SetTitle(title, true)
	s.SetAutoPageBreak(false, 0)
	s.AddUTF8FontFromBytes("face", "", regular)
	s.AddUTF8FontFromBytes("face", "B", bold)
	s.w, s.h = s.GetPageSize()
	return s
}

// writer sets text down a page, and goes on to the next one.
type writer struct {
	*sheaf
	title, name string
	y           float64
}

// Sizes of text on a page, mm, but for the type's own, points.
const (
	textSize  = 10.0
	textLine  = 4.6
	smallSize = 8.5
	tickSize  = 3.6
	boxIndent = 7.0
)

// begin starts a page with a title; more says that it goes on.
func (w *writer) begin(title string) {
	w.title = title
	w.head(title, w.name)
	w.y = pdfMargin + 12
}

// need makes room for so many mm, on the next page if need be.
func (w *writer) need(mm float64) {
	if w.y+mm > w.h-pdfMargin-4 {
		title := strings.TrimSuffix(w.title, ", continued")
		w.begin(title + ", continued")
	}
}

// say sets a paragraph at an indent, in a style and a size.
func (w *writer) say(indent float64, style string, size float64, text string) {
	w.SetFont("face", style, size)
	line := textLine * size / textSize
	for _, l := range w.SplitText(text, w.w-2*pdfMargin-indent) {
		w.need(line)
		w.SetFont("face", style, size)
		w.Text(pdfMargin+indent, w.y, l)
		w.y += line
	}
}

// tick sets a paragraph beside a box to tick.
func (w *writer) tick(indent float64, text string) {
	w.need(textLine)
	w.SetLineWidth(0.25)
	w.Rect(pdfMargin+indent, w.y-tickSize+0.6, tickSize, tickSize, "D")
	w.say(indent+boxIndent, "", textSize, text)
	w.y += 0.8
}

// rule draws a thin line across the page.
func (w *writer) rule() {
	w.need(3)
	w.SetLineWidth(0.15)
	w.Line(pdfMargin, w.y-2.4, w.w-pdfMargin, w.y-2.4)
	w.y += 1.6
}

// cover says what it is of and what is in it.
func (w *writer) cover(p *Packet) {
	w.begin(p.Name)
	minutes := 0.0
	for _, s := range p.Steps {
		minutes += s.Minutes
	}
	l := p.Layout
	w.say(0, "", 12, fmt.Sprintf("A solar air heater, %s × %s and %s deep, about %s with its glazing.", w.length(l.Width),
		w.length(l.Height), w.length(l.Depth), units.Format(units.Mass, l.Mass(), w.u)))
	w.y += 4
	for _, t := range []string{"Safety", "Buying list", "Cutting plan", fmt.Sprintf("%d steps, about %.0f hours of work", len(p.Steps),
		minutes/60),
		"Wiring", "Sheet for the first test", "At its place, seen from the side", "Drawings of the box and of each part",
		"Templates at true size: check the ruler before you use one"} {
		if t == "Wiring" && p.Circuit == nil || strings.HasPrefix(t, "At its place") && p.Side == nil {
			continue
		}
		w.say(4, "", textSize, t)
		w.y += 1
	}
	w.y += 6
	w.say(0, "", smallSize, "Sizes are finished sizes: cut beside the line, not on it. Local codes and licensed trades have the last word.")
}

// safety sets the cautions.
func (w *writer) safety(groups []advice.SafetyGroup) {
	w.begin("Safety")
	for _, g := range groups {
		if len(g.Cautions) == 0 {
			continue
		}
		w.say(0, "B", textSize+1, g.Title)
		w.y += 1
		for _, c := range g.Cautions {
			w.need(3 * textLine)
			w.say(0, "B", textSize, strings.ToUpper(c.Part[:1])+c.Part[1:])
			w.say(4, "", textSize, c.Text.In(w.u))
			w.y += 1.2
		}
		w.y += 2
	}
}

// buying sets the list with boxes to tick; what is on hand comes without one.
func (w *writer) buying(p *Packet) {
	w.begin("Buying list")
	money := func(v float64) string { return units.Money(v, 2, p.Currency, w.u) }
	for _, c := range cost.Counters {
		first := true
		for i := range p.List.Lines {
			l := &p.List.Lines[i]
			if l.Counter != c {
				continue
			}
			if first {
				w.need(4 * textLine)
				w.y += 2
				w.say(0, "B", textSize+1, string(c))
				first = false
			}
			text := l.What.In(w.u)
			if l.Buy == 0 {
				w.say(boxIndent, "", textSize, text+": on hand")
				continue
			}
			text = Packs(l, l.Buy, w.u) + " " + text
			if len(l.For) > 0 {
				text += ", for " + strings.Join(l.For, " ")
			}
			if l.Priced() {
				text += ", " + money(l.Sum())
			}
			w.tick(0, text)
		}
	}
	w.y += 2
	w.say(0, "B", textSize, packetSum(p.List, money))
}

// packetSum is what a list comes to, as far as prices are known.
func packetSum(l *cost.List, money func(float64) string) string {
	switch {
	case l.Unpriced == 0:
		return "Sum: " + money(l.Total) + "."
	case l.Total == 0:
		return "No price is known yet, so that there is no sum."
	}
	return fmt.Sprintf("Sum of what has a price: %s; %d lines have none.", money(l.Total), l.Unpriced)
}

// Packs writes so many packs of a line as one asks for them.
func Packs(l *cost.Line, n int, u units.System) string {
	switch {
	case l.Unit == cost.Meter && (l.PackName == "meter" || l.PackName == "half meter"):
		return units.Format(units.Distance, float64(n)*l.Pack, u)
	case l.PackName != "":
		return fmt.Sprintf("%d × %s", n, units.Localize(l.PackName, u))
	}
	return fmt.Sprintf("%d ×", n)
}

// Heights of bars and sheets on paper, mm.
const (
	barTall   = 7.0
	sheetTall = 62.0
)

// cutting draws bars and sheets to scale with the letters of their pieces.
func (w *writer) cutting(plans []cutting.MaterialPlan) {
	w.begin("Cutting plan")
	for i := range plans {
		m := &plans[i]
		room := barTall + 12
		if m.Sheets != nil {
			room = sheetTall + 12
		}
		w.need(room)
		section := w.length(m.Thickness)
		if m.Width > 0 {
			section += " × " + w.length(m.Width)
		}
		w.say(0, "B", textSize, m.Material+", "+section)
		if m.Bars != nil {
			w.bars(m)
		} else if m.Sheets != nil {
			w.sheets(m)
		}
		w.y += 2
	}
}

// bars draws the bars of a material.
func (w *writer) bars(m *cutting.MaterialPlan) {
	longest := 0.0
	for _, c := range m.Bars.Bars {
		longest = max(longest, m.BarJob.Stock[c.Stock].Length)
	}
	k := (w.w - 2*pdfMargin) / longest
	for _, c := range m.Bars.Bars {
		w.need(barTall + 7)
		stock := m.BarJob.Stock[c.Stock].Length
		w.SetLineWidth(0.3)
		w.Rect(pdfMargin, w.y, stock*k, barTall, "D")
		w.SetFont("face", "", smallSize)
		for _, x := range c.Pieces {
			from, long := pdfMargin+x.From*k, m.BarJob.Pieces[x.Piece].Length*k
			w.Rect(from, w.y, long, barTall, "D")
			text := m.Parts[x.Piece] + " " + w.length(m.BarJob.Pieces[x.Piece].Length)
			if w.GetStringWidth(text) > long-1 {
				text = m.Parts[x.Piece]
			}
			w.Text(from+max(0.4, (long-w.GetStringWidth(text))/2), w.y+barTall/2+1.1, text)
		}
		w.y += barTall + 3
	}
	w.y += 2
}

// sheets draws the sheets of a material.
func (w *writer) sheets(m *cutting.MaterialPlan) {
	x0 := pdfMargin
	tall := 0.0
	for _, c := range m.Sheets.Sheets {
		st := m.SheetJob.Stock[c.Stock]
		k := min(sheetTall/st.Height, (w.w-2*pdfMargin)/st.Width)
		if x0+st.Width*k > w.w-pdfMargin {
			x0, w.y = pdfMargin, w.y+tall+4
			tall = 0
		}
		w.need(st.Height*k + 4)
		w.SetLineWidth(0.3)
		w.Rect(x0, w.y, st.Width*k, st.Height*k, "D")
		w.SetFont("face", "", 7)
		for _, p := range c.Panels {
			if p.Panel < 0 {
				continue
			}
			w.Rect(x0+p.X*k, w.y+(st.Height-p.Y-p.H)*k, p.W*k, p.H*k, "D")
			w.Text(x0+p.X*k+0.8, w.y+(st.Height-p.Y-p.H)*k+3, m.Parts[p.Panel])
		}
		x0, tall = x0+st.Width*k+4, max(tall, st.Height*k)
	}
	w.y += tall + 5
}

// steps sets the steps with their gates.
func (w *writer) steps(p *Packet) {
	w.begin("Steps")
	for i := range p.Steps {
		s := &p.Steps[i]
		w.need(6 * textLine)
		w.rule()
		head := fmt.Sprintf("%d. %s", i+1, s.Title)
		if len(s.Parts) > 0 {
			head += ": " + strings.Join(s.Parts, " ")
		}
		w.SetLineWidth(0.25)
		w.Rect(pdfMargin, w.y-tickSize+0.6, tickSize, tickSize, "D")
		w.say(boxIndent, "B", textSize+1, head)
		facts := []string{fmt.Sprintf("About %.0f min", max(5, 5*math.Round(s.Minutes/5)))}
		if s.Helpers > 0 {
			facts = append(facts, fmt.Sprintf("%d more to help", s.Helpers))
		}
		if x := s.Weather(); x != "" {
			facts = append(facts, x)
		}
		if s.Cure != nil {
			if _, full := s.Cure.Hours(p.Temperature, p.Humidity); !math.IsInf(full, 1) {
				facts = append(facts, fmt.Sprintf("%s is hard after %.0f h at %s", s.Cure.Product, full, units.Format(units.Temperature,
					p.Temperature, w.u)))
			}
		}
		text := strings.Join(facts, "; ") + "."
		if len(s.Tools) > 0 {
			text += " Tools: " + strings.Join(s.Tools, ", ") + "."
		}
		w.say(boxIndent, "", smallSize, text)
		for _, t := range s.Do {
			w.say(boxIndent, "", textSize, "– "+t.In(w.u))
		}
		for _, t := range s.Cautions {
			w.say(boxIndent, "B", textSize, "Safety: "+t.In(w.u))
		}
		if s.Gate != nil {
			w.gate(s.Gate)
		}
		w.y += 2
	}
}

// gate sets what is signed and measured, with room to write.
func (w *writer) gate(g *buildplan.Gate) {
	w.y += 1
	w.say(boxIndent, "B", textSize, g.Title)
	for _, t := range g.Looks {
		w.tick(boxIndent, t.In(w.u))
	}
	for _, m := range g.Measures {
		want := ""
		if m.Want > 0 {
			want = ", should be " + w.length(m.Want)
		}
		w.tick(boxIndent, m.Label.In(w.u)+want+": ______________")
	}
}

// wiring draws the circuit as the page of the screen does, and sets its notes.
func (w *writer) wiring(c *wiring.Circuit) {
	w.begin("Wiring")
	const row, box = 13.0, 8.0
	x1, x2 := pdfMargin+14, pdfMargin+110
	y := func(i int) float64 { return w.y + row*float64(i) + box/2 }
	last := len(c.Elements) - 1
	w.SetLineWidth(0.5)
	w.Line(x1, y(0), x1, y(last))
	w.Line(x2, y(0), x2, y(last))
	w.SetFont("face", "", textSize)
	w.SetFillColor(255, 255, 255)
	for i, e := range c.Elements {
		name := e.Name.In(w.u)
		if i > 0 && !e.Beside {
			w.Rect(x1-4, y(i)-box/2+0.8, 8, box-1.6, "FD")
			w.Text(x1+7, y(i)+1.4, name)
			continue
		}
		from, to := x1+8, x2-8
		if i == 0 {
			from, to = x1-8, x2+8
		} else {
			w.Line(x1, y(i), x2, y(i))
		}
		w.Rect(from, y(i)-box/2, to-from, box, "FD")
		w.Text((from+to-w.GetStringWidth(name))/2, y(i)+1.4, name)
	}
	w.y += row*float64(len(c.Elements)) + 6
	for _, t := range c.Notes {
		w.say(0, "", textSize, t.In(w.u))
		w.y += 1
	}
}

// testSheet is a table for the first readings.
func (w *writer) testSheet() {
	w.begin("Sheet for the first test")
	temp := units.Say("%v", units.Q(units.Temperature, 0)).In(w.u)
	unit := temp[strings.LastIndex(temp, " ")+1:]
	w.say(0, "", textSize,
		"Clear sky, the sun square on the glass, fan on for half an hour. Probes hang free in the air and in the shade; read each when it "+
			"no longer moves.")
	w.y += 4
	cols := []string{"time", "inlet, " + unit, "outlet, " + unit, "outdoor, " + unit, "air speed", "sun or sky", "notes"}
	wide := []float64{18, 24, 24, 26, 24, 26, w.w - 2*pdfMargin - 142}
	const tall = 10.0
	for r := range 14 {
		w.need(tall)
		x := pdfMargin
		for i, c := range cols {
			w.SetLineWidth(0.2)
			w.Rect(x, w.y, wide[i], tall, "D")
			if r == 0 {
				w.SetFont("face", "B", smallSize)
				w.Text(x+1, w.y+6, c)
			}
			x += wide[i]
		}
		w.y += tall
	}
}

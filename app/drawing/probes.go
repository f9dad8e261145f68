package drawing

import (
	"fmt"
	"html/template"
	"strings"

	"gladember/core/layout"
	"gladember/core/measure"
	"gladember/core/units"
)

// Probes draws the box from the front, to scale, with a numbered mark where each thing is measured; the numbers are those of the
// list beside it.
func Probes(l *layout.Layout, probes []measure.Probe, width float64) template.HTML {
	const high, top = 230.0, 14.0
	k := min((width-150)/l.Width, (high-2*top-16)/l.Height)
	x0, y0 := (width-k*l.Width)/2, top+k*l.Height
	var s svg
	s.open("probes", fmt.Sprintf("The box from the front with %d numbered places to measure at.", len(probes)), width, high)
	s.rect("shell", x0, top, k*l.Width, k*l.Height)
	rim := 0.06 * l.Width
	s.rect("pane", x0+k*rim, top+k*rim, k*(l.Width-2*rim), k*(l.Height-2*rim))
	holes := map[measure.Spot][2]float64{}
	for _, h := range l.Holes {
		spot, class := measure.AtInlet, "port cold"
		if h.Name == "outlet" {
			spot, class = measure.AtOutlet, "port hot"
		}
		x, y := x0+k*h.X, y0-k*h.Y
		s.circle(class, x, y, max(6, k*h.Diameter/2))
		if _, ok := holes[spot]; !ok {
			holes[spot] = [2]float64{x, y}
		}
	}
	s.line("ground", 0, y0+10, width, y0+10)
	used := map[[2]float64]float64{} // how many marks a place has
	for i, p := range probes {
		at, ok := holes[p.At]
		if !ok {
			at = map[measure.Spot][2]float64{measure.AtTop: {x0 + k*l.Width/2, top + 0.12*k*l.Height},
				measure.AtGlass: {x0 + k*l.Width + 18, top + k*l.Height/2}, measure.AtOutdoor: {width - 24, y0 - 14},
				measure.InRoom: {24, y0 - 14}}[p.At]
		}
		if at == ([2]float64{}) { // a heater without such a hole
			at = [2]float64{x0 + k*l.Width/2, y0 - 12}
		}
		x := at[0] + 24*used[at]
		used[at]++
		s.circle("mark", x, at[1], 11)
		s.text("figure", "middle", x, at[1]+4.5, fmt.Sprint(i+1))
	}
	return s.close()
}

// TwoBars draws what was measured over what was predicted as two bars on one scale, each with its 95 % range as a line.
func TwoBars(got, want *measure.Measured, u units.System, width float64) template.HTML {
	return pair("measured", "predicted", "", got, want, u, width)
}

// pair draws two figures over each other, each with a name and its 95 % range.
func pair(first, second, title string, got, want *measure.Measured, u units.System, width float64) template.HTML {
	const high, left, row = 84.0, 92.0, 34.0
	lowest, highest := 0.0, 0.0
	for _, m := range []*measure.Measured{got, want} {
		lowest, highest = min(lowest, m.Low), max(highest, max(m.High, m.Value))
	}
	if got.Kind == units.Temperature { // there is no zero that means anything
		lowest = min(got.Low, want.Low) - 2
	}
	k := (width - left - 90) / max(1e-12, highest-lowest)
	at := func(v float64) float64 { return left + k*(v-lowest) }
	var s svg
	text := func(m *measure.Measured) string { return units.Format(m.Kind, m.Value, u) }
	above := 0.0
	if title != "" {
		above = 20
	}
	s.open("twobars", fmt.Sprintf("%s %s, %s %s, each with its 95 %% range.", capital(first), text(got), second, text(want)), width,
		high+above)
	if title != "" {
		s.text("title", "start", 0, 12, title)
	}
	for i, x := range []struct {
		name, class string
		m           *measure.Measured
	}{{first, "got", got}, {second, "want", want}} {
		y := above + 8 + float64(i)*row
		s.text("label", "end", left-8, y+17, x.name)
		s.rect("bar "+x.class, at(lowest), y+3, k*(x.m.Value-lowest), row-14)
		mid := y + 3 + (row-14)/2
		s.line("spread", at(x.m.Low), mid, at(x.m.High), mid)
		for _, end := range []float64{x.m.Low, x.m.High} {
			s.line("spread", at(end), mid-5, at(end), mid+5)
		}
		s.text("figure", "start", at(max(x.m.Value, x.m.High))+8, y+17, text(x.m))
	}
	return s.close()
}

// capital begins a sentence.
func capital(s string) string { return strings.ToUpper(s[:1]) + s[1:] }

// TwoDays draws where the sun of a day went as two bars to one scale: as it was predicted, and as the heater was fitted to its log.
func TwoDays(before, now *measure.DayParts, u units.System, width float64) template.HTML {
	const high, row, top = 196.0, 84.0, 20.0
	k := (width - 4) / max(1e-9, max(before.Sun, now.Sun))
	var s svg
	s.open("twodays", fmt.Sprintf("Where the sun's %s went while the fan ran: %s to the air predicted, %s as fitted.",
		units.Format(units.Energy, now.Sun, u), units.Format(units.Energy, before.Air, u), units.Format(units.Energy, now.Air, u)), width,
		high)
	for i, x := range []struct {
		name string
		p    *measure.DayParts
	}{{"predicted", before}, {"fitted to the log", now}} {
		y, at := top+float64(i)*row, 2.0
		s.text("label", "start", 2, y-6, x.name)
		for _, part := range []struct {
			name, class string
			v           float64
		}{{"to the air", "toair", x.p.Air}, {"reflected", "mirrored", x.p.Reflected}, {"glazing", "front", x.p.Front},
			{"back and sides", "rear", x.p.Back + x.p.Edge}, {"leaks", "leaked", x.p.Leak}} {
			w := k * max(0, part.v)
			s.rect("bar "+part.class, at, y, w, 26)
			figure := units.Format(units.Energy, part.v, u)
			if need := 6.6 * float64(max(len([]rune(part.name)), len([]rune(figure)))); w > need {
				s.text("small", "start", at+3, y+39, part.name)
				s.text("figure", "start", at+3, y+53, figure)
			}
			at += w
		}
	}
	return s.close()
}

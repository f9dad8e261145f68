package drawing

import (
	"html/template"

	"gladember/core/units"
	"gladember/core/wiring"
)

// Sizes of a wiring diagram, pixels.
const (
	wireMost  = 460.0 // its width at most
	wireLeft  = 44.0
	wireRight = 34.0
	wireRow   = 46.0
	wireBox   = 26.0 // the height of a box
	wireTop   = 24.0
)

// Wiring draws a circuit from its supply at the top to its loads at the bottom: what lies in the one wire has its name beside
// it, what lies across both has it inside.
func Wiring(c *wiring.Circuit, u units.System, width float64) template.HTML {
	width = min(width, wireMost)
	x1, x2 := wireLeft, width-wireRight
	height := wireTop + wireRow*float64(len(c.Elements)) + 4
	var s svg
	s.open("wiring", "Wiring diagram: "+c.Elements[0].Name.In(u)+" to "+c.Elements[len(c.Elements)-1].Name.In(u), width, height)
	y := func(i int) float64 { return wireTop + wireRow*float64(i) + wireBox/2 }
	last := len(c.Elements) - 1
	s.line("wire", x1, y(0), x1, y(last))
	s.line("wire", x2, y(0), x2, y(last))
	if c.Low {
		s.text("figure", "middle", x1-18, y(0)+wireRow*0.62, "+")
		s.text("figure", "middle", x2+16, y(0)+wireRow*0.62, "−")
	}
	for i, e := range c.Elements {
		name := e.Name.In(u)
		switch {
		case i == 0 || e.Beside:
			if i > 0 {
				s.line("wire", x1, y(i), x2, y(i))
				if i < last {
					s.circle("node", x1, y(i), 3.5)
					s.circle("node", x2, y(i), 3.5)
				}
			}
			from, to := x1+26, x2-26
			if i == 0 {
				from, to = x1-24, x2+24
			}
			s.rect("element "+elementClass(e.Kind), from, y(i)-wireBox/2, to-from, wireBox)
			s.text("label", "middle", (from+to)/2, y(i)+5, name)
		default:
			s.rect("element "+elementClass(e.Kind), x1-15, y(i)-wireBox/2+2, 30, wireBox-4)
			s.text("label", "start", x1+26, y(i)+5, name)
		}
	}
	return s.close()
}

// elementClass marks what the builder does not wire.
func elementClass(k wiring.Kind) string {
	if k == wiring.Trade || k == wiring.Mains {
		return "others"
	}
	return "own"
}

package drawing

import (
	"fmt"
	"html/template"
	"strings"

	"gladember/core/design"
)

// FamilyPicture shows in small how a box is made: cut through with the glass at
// the left, or, for tubes, seen from the front; cold air in, warm air out.
func FamilyPicture(f design.Family) template.HTML {
	const w, h = 104.0, 76.0
	var s small
	fmt.Fprintf(&s, `<svg class="family" viewBox="0 0 %.0f %.0f" aria-hidden="true">`, w, h)
	if picture, known := pictures[f]; known {
		picture(&s)
	}
	return s.close()
}

// small is the picture of a family on its way.
type small struct{ svg }

// in and out are the air that comes and goes.
func (s *small) in(x1, y1, x2, y2 float64)  { s.arrow("cold-air", x1, y1, x2, y2) }
func (s *small) out(x1, y1, x2, y2 float64) { s.arrow("hot-air", x1, y1, x2, y2) }

// front is a box seen from the front.
func (s *small) front() { s.rect("f-box", 18, 6, 68, 64) }

// cut is a box cut through: glass at the left, back at the right.
func (s *small) cut() {
	s.line("f-glass", 22, 8, 22, 68)
	s.rect("f-back", 76, 8, 8, 60)
	s.line("f-edge", 20, 8, 84, 8)
	s.line("f-edge", 20, 68, 84, 68)
}

// pictures draw each family.
var pictures = design.Each("picture", map[design.Family]func(*small){
	design.CanColumns: func(s *small) {
		s.front()
		for c := range 4 {
			for r := range 4 {
				s.rect("f-tube", 22+float64(c)*15.5, 14+float64(r)*12, 13, 11)
			}
		}
		s.in(100, 66, 88, 66)
		s.out(52, 9, 98, 9)
	},
	design.Downpipes: func(s *small) {
		s.front()
		for c := range 4 {
			x := 22 + float64(c)*15.5
			s.rect("f-tube", x, 15, 12, 46)
			s.line("f-way", x+6, 56, x+6, 24)
		}
		s.in(102, 66, 84, 66)
		s.out(52, 10, 100, 10)
	},
	design.RibbedCoil: func(s *small) {
		s.front()
		var d strings.Builder
		d.WriteString("M28 70V18")
		for c := range 3 {
			x := 28 + float64(c)*16
			if c%2 == 0 {
				fmt.Fprintf(&d, "Q%.0f 10 %.0f 10Q%.0f 10 %.0f 18V58", x, x+8, x+16, x+16)
			} else {
				fmt.Fprintf(&d, "Q%.0f 66 %.0f 66Q%.0f 66 %.0f 58V18", x, x+8, x+16, x+16)
			}
		}
		s.path("f-coil", d.String())
		s.path("f-ribs", d.String())
	},
	design.ScreenBox: func(s *small) {
		s.cut()
		for i := range 3 {
			d := float64(i) * 7
			s.line("f-mesh", 56+d, 66, 32+d, 10)
		}
		s.in(100, 60, 36, 60)
		s.out(66, 17, 100, 17)
	},
	design.BackPassPlate: func(s *small) {
		s.cut()
		s.line("f-dark", 44, 10, 44, 66)
		s.in(100, 60, 56, 60)
		s.line("f-way", 60, 54, 60, 26)
		s.out(56, 17, 100, 17)
	},
	design.FrontPassPlate: func(s *small) {
		s.cut()
		s.line("f-dark", 66, 10, 66, 66)
		s.in(100, 60, 40, 60)
		s.line("f-way", 42, 54, 42, 26)
		s.out(40, 17, 100, 17)
	},
	design.DoublePassPlate: func(s *small) {
		s.cut()
		s.line("f-dark", 50, 10, 50, 60)
		s.in(100, 26, 62, 26)
		s.path("f-way", "M62 32V54Q62 64 50 64Q36 64 36 54V22")
		s.out(36, 15, 100, 15)
	},
	design.DoublePassTubes: func(s *small) {
		s.cut()
		s.rect("f-tube", 38, 14, 14, 44)
		s.in(100, 26, 66, 26)
		s.path("f-way", "M66 32V56Q66 64 56 64Q45 64 45 54V24")
		s.out(45, 12, 100, 12)
	},
	design.PassiveBox: func(s *small) {
		s.WriteString(`<g transform="rotate(-18 52 38)">`)
		s.cut()
		s.line("f-dark", 49, 16, 49, 60)
		s.line("f-way", 36, 58, 36, 20)
		s.line("f-way", 62, 58, 62, 20)
		s.WriteString("</g>")
		s.in(102, 66, 70, 62)
		s.out(64, 9, 98, 5)
	},
	design.WindowPanel: func(s *small) {
		s.rect("f-box", 14, 6, 30, 64)
		s.line("f-glass", 29, 8, 29, 68)
		s.line("f-dark", 52, 14, 52, 62)
		s.path("f-way", "M76 68Q42 72 41 52V24Q42 6 62 8")
		s.out(62, 8, 94, 12)
		s.in(96, 64, 74, 68)
	},
	design.OwnAbsorber: func(s *small) {
		s.cut()
		s.path("f-own", "M42 10L50 20L42 30L50 40L42 50L50 60L42 68")
		s.in(100, 60, 58, 60)
		s.out(58, 17, 100, 17)
	},
})

// absorberName is what the section calls it.
func (sc *Scene) absorberName() string {
	return absorberNames[sc.Heater.Absorber.Family](&sc.Heater.Absorber)
}

// named is a name that hangs on nothing.
func named(name string) func(*design.Absorber) string {
	return func(*design.Absorber) string { return name }
}

// absorberNames are what each family's absorber is called.
var absorberNames = design.Each("name of the absorber", map[design.Family]func(*design.Absorber) string{
	design.ScreenBox: func(a *design.Absorber) string {
		if a.Screens.Layers > 1 {
			return fmt.Sprintf("%d black screens", a.Screens.Layers)
		}
		return "black screen"
	},
	design.CanColumns: func(a *design.Absorber) string { return fmt.Sprintf("%d columns of cans", a.Cans.Columns) },
	design.Downpipes:  pipesNamed, design.DoublePassTubes: pipesNamed, design.RibbedCoil: named("ribbed duct"),
	design.WindowPanel: named("black foil"), design.OwnAbsorber: named("your absorber"), design.BackPassPlate: named("plate"),
	design.FrontPassPlate: named("plate"), design.DoublePassPlate: named("plate"), design.PassiveBox: named("plate"),
})

func pipesNamed(a *design.Absorber) string { return fmt.Sprintf("%d downpipes", a.Pipes.Count) }

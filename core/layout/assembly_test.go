package layout

import (
	"math"
	"strings"
	"testing"

	"gladember/core/design"
	"gladember/core/units"
)

// arrangements applies every way of placing the ports to every family and body, and calls f with those that can be
// built.
func arrangements(t *testing.T, f func(name string, h *design.Heater, l *Layout)) {
	t.Helper()
	built := map[string]int{}
	for family, base := range examples(t) {
		if base.Indoors() {
			continue
		}
		for _, body := range []string{"timber", "foam", "sheet"} {
			for _, face := range []string{"back", "side", "end"} {
				for _, places := range []string{"opposite", "same-side", "both-bottom", "both-top"} {
					cs := []design.Change{design.Set(design.BoxBody, body), design.Set(design.AirPortFace, face),
						design.Set(design.AirPortPlaces, places)}
					switch a := base.Absorber; {
					case a.Family == design.BackPassPlate:
						cs = append(cs, design.Set(design.PlateBaffles, 0))
					case a.Cans != nil:
						cs = append(cs, design.Set(design.CansColumns, a.Cans.Columns-a.Cans.Columns%2))
					case a.Pipes != nil:
						cs = append(cs, design.Set(design.PipesCount, a.Pipes.Count-a.Pipes.Count%2))
					}
					if face != "back" { // a port that a side has room for
						cs = append(cs, design.Set(design.AirDiameter, 0.05), design.Set(design.BoxGap, 0.06))
						if base.Absorber.Plate != nil && base.Absorber.Family != design.FrontPassPlate {
							cs = append(cs, design.Set(design.PlateChannel, 0.06))
						}
						if base.Absorber.Screens != nil {
							cs = append(cs, design.Set(design.ScreensRear, 0.06))
						}
					}
					h, err := design.Apply(base, units.System{}, cs...)
					if err != nil {
						continue
					}
					l, err := Build(&h)
					if err != nil {
						continue
					}
					built[face+" "+places]++
					f(strings.Join([]string{family, body, face, places}, " "), &h, &l)
				}
			}
		}
	}
	for _, face := range []string{"back", "side", "end"} {
		for _, places := range []string{"opposite", "same-side", "both-bottom", "both-top"} {
			if built[face+" "+places] < 4 {
				t.Errorf("ports through the %s, %s: only %d boxes could be built", face, places, built[face+" "+places])
			}
		}
	}
}

// The parts put together fill the box: what boards, insulation and back leave of its volume behind the outer cover is the
// space of the absorber and the air between covers, to a cubic millimeter.
func TestPartsFillTheBox(t *testing.T) {
	arrangements(t, func(name string, h *design.Heater, l *Layout) {
		var solid float64
		ct := h.Cover.Thickness
		for _, p := range l.Parts {
			if p.Group != Frame && p.Group != Foam && p.Group != Back {
				continue
			}
			for _, pl := range p.Places {
				// A tray's walls reach around the outer cover too, and flaps and stops lie outside.
				z0, z1 := max(pl.Z, ct), min(pl.Z+pl.D, l.Depth)
				y0, y1 := max(pl.Y, 0), min(pl.Y+pl.H, l.Height)
				if z1 > z0 && y1 > y0 {
					solid += pl.W * (y1 - y0) * (z1 - z0)
				}
			}
		}
		covers := float64(h.Cover.Layers-1) * (h.Cover.Between + ct) * h.InsideWidth() * h.InsideHeight()
		air := h.ApertureWidth()*h.ApertureHeight()*h.CavityDepth() + covers
		whole := l.Width * l.Height * (l.Depth - ct)
		if gap := whole - solid - air; math.Abs(gap) > 1e-9 {
			t.Errorf("%s: %.2f L of the box are in no part, or in two", name, 1000*gap)
		}
	})
}

// No two parts share space, nothing that gets hot lies nearer to the inner cover than the design's gap, and what a divider
// or baffle parts reaches from wall to wall.
func TestNothingClashesAndNothingHotTouchesTheGlass(t *testing.T) {
	arrangements(t, func(name string, h *design.Heater, l *Layout) {
		type piece struct {
			name string
			Place
		}
		var ps []piece
		inner := h.Cover.Thickness + float64(h.Cover.Layers-1)*(h.Cover.Between+h.Cover.Thickness)
		for _, p := range l.Parts {
			for _, pl := range p.Places {
				if pl.Lean == 0 {
					ps = append(ps, piece{p.Name, pl})
				}
				wooden := p.Name == "half-way baffle" || p.Name == "divider" || p.Name == "header board"
				clearance := pl.Z + pl.Lean - inner
				if p.Group == Absorber && !wooden && p.Name != "deflector" && clearance < h.Box.Gap-1e-9 {
					t.Errorf("%s: %s lies %.1f mm behind the cover, the gap is %.1f", name, p.Name, 1000*clearance, 1000*h.Box.Gap)
				}
			}
		}
		over := func(a, b, la, lb float64) bool { return a < b+lb-1e-9 && b < a+la-1e-9 }
		for i, a := range ps {
			for _, b := range ps[i+1:] {
				if over(a.X, b.X, a.W, b.W) && over(a.Y, b.Y, a.H, b.H) && over(a.Z, b.Z, a.D, b.D) {
					t.Fatalf("%s: %s and %s share space: %+v %+v", name, a.name, b.name, a.Place, b.Place)
				}
			}
		}
	})
}

// Every hole of a port lies on one straight axis through all the parts that it passes, within half a millimeter; it keeps a
// web to every edge of each, and opens into the space that the air enters.
func TestPortsGoThroughOnOneAxis(t *testing.T) {
	arrangements(t, func(name string, h *design.Heater, l *Layout) {
		if len(l.Holes) != 2*max(1, h.Air.Ports) {
			t.Errorf("%s: %d holes", name, len(l.Holes))
		}
		for _, hole := range l.Holes {
			met := 0
			for _, p := range l.Parts {
				for _, b := range p.Bores {
					if b.Name != hole.Name || len(p.Places) == 0 {
						continue
					}
					met++
					at := p.Places[0]
					if p.Kind == Tray {
						at = Place{W: l.Width, H: l.Height}
						if hole.Face != ThroughBack {
							at.W, at.H = math.Inf(1), math.Inf(1)
						}
					}
					if p.Kind == Tray {
						b = folded(h, l, &p, b, hole.Face)
					}
					x, y := at.X+b.X, at.Y+b.Y
					along := math.Hypot(x-hole.X, y-hole.Y)
					switch hole.Face {
					case ThroughLeft, ThroughRight:
						along = math.Hypot(at.Y+b.X-hole.Y, at.Z+b.Y-hole.Z-h.Cover.Thickness)
					case ThroughBottom, ThroughTop:
						along = math.Hypot(at.X+b.X-hole.X, at.Z+b.Y-hole.Z-h.Cover.Thickness)
					}
					if h.Air.Ports <= 1 && along > 0.0005 {
						t.Errorf("%s: the %s in %s is %.1f mm off its axis", name, hole.Name, p.Name, 1000*along)
					}
					w, ht := p.Flat()
					if p.Kind == Tray {
						w, ht = at.W, at.H
					}
					if web := min(min(b.X, w-b.X), min(b.Y, ht-b.Y)) - b.Diameter/2; web < 0.003 {
						t.Errorf("%s: the %s of %s leaves a web of %.1f mm", name, hole.Name, p.Name, 1000*web)
					}
				}
			}
			if met < len(hole.Through) {
				t.Errorf("%s: the %s passes %v, and is drilled in %d parts", name, hole.Name, hole.Through, met)
			}
			if hole.Face == ThroughBack {
				continue
			}
			from, to := h.PortSpace(hole.Name == "inlet")
			inner := float64(h.Cover.Layers-1) * (h.Cover.Between + h.Cover.Thickness)
			if r := hole.Diameter / 2; hole.Z-r < inner+from-1e-9 || hole.Z+r > inner+to+1e-9 {
				t.Errorf("%s: the %s at %v opens beside its space, %v to %v", name, hole.Name, hole.Z, inner+from, inner+to)
			}
		}
	})
}

// folded is where a hole in the flat of a tray comes to lie when the tray is bent: in its back by its distance from the
// box's corner, in a wall by that along the wall from the corner and by its depth. By hand, from outside legs: each bend
// takes 4 t - pi/2 x 1.33 t off the flat.
func folded(h *design.Heater, l *Layout, p *Part, b Bore, face Face) Bore {
	t := h.Box.FrameWidth
	k := 4*t - math.Pi/2*1.33*t
	off := 0.025 + (l.Depth + t) - 2*k
	x, y := b.X-off, b.Y-off
	deep := func(fromEdge float64) float64 { return fromEdge - 0.025 + k - t } // behind the flange
	switch face {
	case ThroughLeft:
		return Bore{b.Name, y, deep(b.X), b.Diameter}
	case ThroughRight:
		return Bore{b.Name, y, deep(p.Width - b.X), b.Diameter}
	case ThroughBottom:
		return Bore{b.Name, x, deep(b.Y), b.Diameter}
	case ThroughTop:
		return Bore{b.Name, x, deep(p.Length - b.Y), b.Diameter}
	}
	return Bore{b.Name, x, y, b.Diameter}
}

// With a fold, both ports lie at its end and the divider between them; the turn at the far end is as wide as half the box
// or a third of its height.
func TestFoldByHand(t *testing.T) {
	h, err := design.Named("back-pass-plate")
	if err != nil {
		t.Fatal(err)
	}
	h, err = design.Apply(h, units.System{}, design.Set(design.PlateBaffles, 0),
		design.Set(design.AirPortPlaces, "both-top"))
	if err != nil {
		t.Fatal(err)
	}
	l, err := Build(&h)
	if err != nil {
		t.Fatal(err)
	}
	for _, hole := range l.Holes {
		if hole.Y < l.Height/2 || (hole.Name == "inlet") != (hole.X > l.Width/2) {
			t.Errorf("%+v", hole)
		}
	}
	for _, p := range l.Parts {
		if p.Name != "divider" {
			continue
		}
		at := p.Places[0]
		top, bottom := h.Box.FrameWidth+h.Lining()+h.ApertureHeight(), h.Box.FrameWidth+h.Lining()
		if math.Abs(at.Y+at.H-top) > 1e-9 || math.Abs(at.X+at.W/2-l.Width/2) > 1e-9 {
			t.Errorf("the divider stands at %+v", at)
		}
		if turn := at.Y - bottom; math.Abs(turn-min(h.ApertureWidth()/2, 0.35*h.ApertureHeight())) > 1e-9 {
			t.Errorf("the turn is %v high", turn)
		}
		return
	}
	t.Error("there is no divider")
}

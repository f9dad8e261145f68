package cost

import (
	"fmt"
	"math"
	"strings"

	"gladember/core/catalog"
	"gladember/core/design"
	"gladember/core/layout"
	"gladember/core/loads"
	"gladember/core/units"
)

// Of consumables. Common practice, no source: what data sheets of such goods say.
//
// Consumables are what people forget: three trips to the shop for a can of paint or a
// cartridge cost more than their price. Each amount is the geometry's surface or length
// times a coverage that data sheets give, rounded up to whole packs.
const (
	sprayCan    = 0.4   // L of a spray can
	sprayCovers = 2.0   // m2 that a can covers with one thin coat
	coats       = 2.0   // two thin coats
	brushCovers = 8.0   // m2 that a liter of brushed paint covers with one coat
	brushTin    = 0.375 // L of a tin
	cartridge   = 0.3   // L
	sealBead    = 0.006 // m, diameter of a bead of sealant
	jointBead   = 0.005 // m, of the bead between two cans or around a tube
	glueBead    = 0.005 // m
	glueEvery   = 0.15  // m between beads on a surface
	beadWaste   = 0.10
	tapeRoll    = 45.0 // m of aluminum tape
	gasketRoll  = 10.0 // m
	screwBox    = 100.0
	rivetEvery  = 0.05 // m between the rivets of a lap
	cleatScrews = 2    // in each stud
	studDefault = 0.40 // m from stud to stud where nobody measured it
)

// volume is what a bead of a diameter takes over a length, L.
func volume(bead, length float64) float64 { return 1000 * math.Pi / 4 * bead * bead * length }

// consumables lists paint, sealant, glue, tape, gasket and screws.
func (b *builder) consumables() {
	b.paint()
	b.sealant()
	b.glue()
	b.tape()
	b.screws()
}

// Sprayed is the area that the absorber's paint is sprayed over in one coat, m2: faces that one can reach, and walls where they are to
// be black.
func Sprayed(h *design.Heater) float64 {
	area := h.Sprayed()
	if h.Box.Walls == "black" && !h.Indoors() {
		area += 2 * (h.ApertureWidth() + h.ApertureHeight()) * h.CavityDepth()
	}
	return area
}

// paint lists spray cans, or tins where the paint is brushed. The letters are those of the
// absorber, since its color decides the heat.
func (b *builder) paint() {
	p, err := catalog.FindPaint(b.h.Absorber.Paint)
	if err != nil {
		return
	}
	area := Sprayed(b.h) * b.n * float64(max(1, b.h.Array.Boxes))
	l := Line{ID: p.ID, What: named(p.Name), Counter: Paints, Unit: Liter, Pack: sprayCan, PackName: "spray can of {400 mL|12 oz}",
		Need: coats * area / sprayCovers * sprayCan, For: b.lettersOf(layout.Absorber)}
	l.How = units.Say(
		"%v sprayed over in two thin coats; a can covers %v once.",
		units.Q(units.Area, area),
		units.Q(units.Area, sprayCovers),
	)
	if p.ID == "water-black" {
		l.What, l.Need, l.Pack, l.PackName = named(p.Name), coats*area/brushCovers, brushTin, "{tin of 375 mL|can of 12 fl oz}"
		l.How = units.Say("%v brushed in two coats.", units.Q(units.Area, area))
	}
	b.add(l)
}

// lettersOf are the letters of a group's parts.
func (b *builder) lettersOf(g layout.Group) (out []string) {
	for _, p := range b.Parts {
		if p.Group == g {
			out = append(out, p.Letter)
		}
	}
	return out
}

// Seams are the lengths that sealant goes into, m: along the glazing, which lies in one
// bead and is capped by another, around the back, down the frame's corners, around the
// ports, and around the tubes where they meet their headers or each other.
type Seams struct {
	Glazing, Back, Corners, Ports, Tubes float64
}

// All is their sum, m.
func (s Seams) All() float64 { return s.Glazing + s.Back + s.Corners + s.Ports + s.Tubes }

// MeasureSeams are those of one box.
func MeasureSeams(h *design.Heater, l *layout.Layout) (s Seams) {
	if h.Indoors() {
		return s
	}
	around := 2 * (h.Pane.Width + h.Pane.Height)
	s.Glazing = 2 * around
	s.Back = 2 * (h.InsideWidth() + h.InsideHeight())
	s.Corners = 4 * l.Depth
	for _, x := range l.Holes {
		s.Ports += 2 * math.Pi * x.Diameter // inside and outside
	}
	s.Tubes = h.TubeSeams()
	return s
}

// sealant lists cartridges by the volume of the beads, or rolls where the seams are taped.
// What remains in the nozzle, and what is wiped off, is lost.
func (b *builder) sealant() {
	k, err := catalog.FindSealant(b.h.Box.Sealant)
	if err != nil || b.h.Indoors() {
		return
	}
	s := MeasureSeams(b.h, b.Layout)
	boxes := b.n * float64(max(1, b.h.Array.Boxes))
	need := (volume(sealBead, s.All()-s.Tubes) + volume(jointBead, s.Tubes)) * boxes
	if k.ID == "butyl" {
		b.add(Line{ID: k.ID, What: named(k.Name), Counter: Paints, Unit: Meter, Need: s.All() * boxes, Pack: gasketRoll, PackName: "roll",
			How: units.Say("%v of seams.", units.Q(units.Distance, s.All()*boxes))})
		return
	}
	how := units.Say("%v of seams with beads of %v", units.Q(units.Distance, (s.All()-s.Tubes)*boxes), units.Q(units.Length, sealBead))
	if s.Tubes > 0 {
		how.Format += ", %v around tubes with beads of %v"
		how.Values = append(how.Values, units.Q(units.Distance, s.Tubes*boxes), units.Q(units.Length, jointBead))
	}
	how.Format += "; %v is lost."
	how.Values = append(how.Values, units.Q(units.Share, beadWaste))
	b.add(Line{ID: k.ID, What: named(k.Name), Counter: Paints, Unit: Liter, Pack: cartridge, PackName: "cartridge of {300 mL|10 oz}",
		Spare: need * beadWaste, Need: need * (1 + beadWaste), How: how})
}

// glue goes in beads over the surfaces that a joint says are glued; tubes and cans are
// sealed and not glued.
func (b *builder) glue() {
	k, err := catalog.FindAdhesive(b.h.Box.Adhesive)
	if err != nil || k.ID == "screws" {
		return
	}
	area := 0.0
	for _, p := range b.Parts {
		if strings.Contains(p.Joint, "glued") && p.Group != layout.Absorber {
			area += float64(p.Count) * p.Length * p.Width
		}
	}
	area *= b.n
	need := volume(glueBead, area/glueEvery)
	b.add(Line{ID: k.ID, What: named(k.Name), Counter: Paints, Unit: Liter, Pack: cartridge, PackName: "cartridge of {300 mL|10 oz}",
		Spare: need * beadWaste, Need: need * (1 + beadWaste), How: units.Say("%v of surfaces that are glued, a bead of %v every %v.",
			units.Q(units.Area, area), units.Q(units.Length, glueBead), units.Q(units.Length, glueEvery))})
}

// tape goes over the joints of the insulation, and a gasket under the stops.
func (b *builder) tape() {
	h := b.h
	boxes := b.n * float64(max(1, h.Array.Boxes))
	if k, err := catalog.FindTape(h.Box.Tape); err == nil && k.ID != "none" && h.Box.BackFoam > 0 && !h.Indoors() {
		joints := 2 * (h.InsideWidth() + h.InsideHeight())
		if h.Lining() > 0 {
			joints += 2*(h.ApertureWidth()+h.ApertureHeight()) + 4*h.CavityDepth()
		}
		joints *= boxes
		b.add(Line{ID: k.ID, What: named(k.Name), Counter: Insulation, Unit: Meter, Need: joints, Pack: tapeRoll, PackName: "roll",
			For: b.lettersOf(
				layout.Foam,
			), How: units.Say("%v of joints between the boards of insulation.", units.Q(units.Distance, joints))})
	}
	if !h.Indoors() {
		around := 2 * (h.Pane.Width + h.Pane.Height) * boxes
		b.add(Line{ID: "glazing gasket", What: named("self-adhesive glazing gasket, closed-cell"), Counter: Glazing, Unit: Meter,
			Need: around, Pack: gasketRoll, PackName: "roll", For: b.lettersOf(layout.Cover),
			How: units.Say("%v around the glazing, under the stops.", units.Q(units.Distance, around))})
	}
}

// screws lists short and long screws by the box, and rivets for what is riveted. Short ones
// hold thin parts to a board, long ones a board to a board.
func (b *builder) screws() {
	short, long := 0.0, 0.0
	var shortFor, longFor []string
	for _, p := range b.Parts {
		f := p.Kind.Fixing
		n := float64(f.Ends)
		if f.Every > 0 {
			along := p.Length
			if f.Around {
				along = 2 * (p.Length + p.Width)
			}
			n += math.Ceil(along/f.Every) + 1
		}
		switch n *= float64(p.Count) * b.n; {
		case f == layout.Fixing{}:
		case f.Long:
			long, longFor = long+n, append(longFor, p.Letter)
		default:
			short, shortFor = short+n, append(shortFor, p.Letter)
		}
	}
	how := func(n float64) units.Text {
		return units.Say("%v by the joints.", units.Word(fmt.Sprintf("%.0f", n)))
	}
	const thin, deep = 0.030, 0.060
	b.add(Line{ID: "wood screws, short", What: units.Say("wood screws %v, stainless or coated", units.Q(units.Length, thin)),
		Counter: Fixings, Unit: Piece, Need: short, Pack: screwBox, PackName: "box of 100", For: shortFor, How: how(short)})
	b.add(Line{ID: "wood screws, long", What: units.Say("wood screws %v, stainless or coated", units.Q(units.Length, deep)),
		Counter: Fixings, Unit: Piece, Need: long, Pack: screwBox, PackName: "box of 100", For: longFor, How: how(long)})
	b.anchors()
	rivets := 0.0
	var riveted []string
	for _, p := range b.Parts {
		if strings.Contains(p.Joint, "rivet") {
			rivets += float64(p.Count) * (math.Ceil(max(p.Length, p.Width)/rivetEvery) + 1) * b.n
			riveted = append(riveted, p.Letter)
		}
	}
	b.add(Line{ID: "blind rivets", What: named("aluminum blind rivets, {3 mm|1/8 in}"), Counter: Fixings, Unit: Piece, Need: rivets,
		Pack: screwBox, PackName: "box of 100", For: riveted, How: how(rivets)})
}

// anchors are the screws that the cleats hold by, into each stud behind the box.
func (b *builder) anchors() {
	for _, p := range b.Parts {
		if p.Kind != layout.HangingCleat && p.Kind != layout.FootBracket {
			continue
		}
		stud := b.h.Wall.Stud
		if stud <= 0 {
			stud = studDefault
		}
		studs := max(2, math.Floor(b.Layout.Width/stud))
		each := max(studs*cleatScrews, float64(loads.Estimate(b.h, b.Layout.Mass()).Screws))
		n := each * float64(max(1, b.h.Array.Boxes)) * b.n
		b.add(Line{ID: "structural screws", What: units.Say("structural screws 8 × %v, into the studs", units.Q(units.Length,
			0.120)), Counter: Fixings, Unit: Piece, Need: n, For: []string{p.Letter},
			How: units.Say("At least %v in each of %v studs, and as many as wind, snow and weight ask for.",
				units.Word(fmt.Sprint(cleatScrews)), units.Word(fmt.Sprintf("%.0f", studs)))})
		return
	}
}

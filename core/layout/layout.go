package layout

import (
	"fmt"
	"math"
	"regexp"
	"strconv"
	"strings"

	"gladember/core/catalog"
	"gladember/core/design"
	"gladember/core/units"
)

// Clearances, m. Common practice, no source.
const (
	plateClearance = 0.002 // a hot plate grows
	innerClearance = 0.002 // a second pane slides into the frame
	stopThickness  = 0.008
	battenWidth    = 0.018
	baffleWidth    = 0.012
	minWeb         = 0.020
)

// Group is what a part belongs to, the thing one touches in a drawing.
type Group string

// The groups.
const (
	Cover    Group = "cover"
	Frame    Group = "frame"
	Foam     Group = "foam"
	Absorber Group = "absorber"
	Back     Group = "back"
)

// Place is one piece of a part, as a block with its corner nearest the origin;
// Lean moves its top edge in z (a slanted screen).
type Place struct {
	// X is from the left, Y from the bottom and Z from the front, m: the corner
	// nearest to all three.
	X, Y, Z float64
	// W, H and D are the sizes along them, m.
	W, H, D float64
	// Lean is how much nearer to the front the top lies than the bottom, m.
	Lean float64
}

// Part is a piece to cut: Length is its longer way as it is laid out, Width
// the other, Thickness the material's own.
type Part struct {
	// Letter is what drawings and lists call it: A for the first part, and so on.
	Letter string
	// Kind is what it is, and Mark what tells it from others of its kind.
	Kind *PartKind
	Mark string
	// Name is what a list calls it, and ID what records know it by: those of its kind with its mark.
	Name, ID string
	// Group is what it belongs to, in the order of building.
	Group Group
	// Form is how its material is sold, which decides how it is cut.
	Form Form
	// Joint says how it meets its neighbors and what holds it there.
	Joint string
	// Bores are holes to make in it.
	Bores []Bore
	// Bends are the lines that it is bent along, on the flat, m: each from X, Y to X, Y.
	Bends [][4]float64
	// Material is as one asks for it in a shop.
	Material string
	// Count is how many alike.
	Count int
	// Length, Width and Thickness are those to cut, m.
	Length    float64
	Width     float64 // m
	Thickness float64 // m
	// Places are where each of them lies in the box; none for what holds the box or
	// leads to it.
	Places []Place
	// Note says what to mind when cutting or fitting it.
	Note string
	// There says that it stands there already and is not cut.
	There bool
	// Mass is that of all of them, kg.
	Mass float64

	// density is for a solid piece, kg/m3, and each for a hollow one, kg.
	density float64
	each    float64 // kg, for a hollow one
	// bent is one piece in several places; round is a tube or a can.
	bent  bool
	round bool
	// once says that all boxes of a heater have it together.
	once bool
}

// Round says whether the piece is a tube of its width.
// Drawings show it as a circle from its end.
func (p *Part) Round() bool { return p.round }

// Bent says whether one piece takes several places, folded.
// A saw cuts it once and a brake bends it into its places.
func (p *Part) Bent() bool { return p.bent }

// Form is how a material is sold.
type Form string

// The forms.
const (
	// InBars: boards, strips and pipes, cut to length.
	InBars Form = "bar"
	// InSheets: panes, boards and metal, cut from a flat sheet.
	InSheets Form = "sheet"
	// FromRoll: mesh and foil, cut from a roll of one width.
	FromRoll Form = "roll"
	// Whole: bought or collected as they are.
	Whole Form = "whole"
)

// Bore is a round hole in a part, its center from the part's left and bottom
// edges as it lies in the box; of a board on edge from its left end and its front
// edge.
type Bore struct {
	// Name is what it is for.
	Name string
	// X and Y are its center, m.
	X, Y float64
	// Diameter is in m.
	Diameter float64
}

// Face is what a port goes through.
type Face string

// The faces of a box, seen from the front.
const (
	ThroughBack   Face = ""
	ThroughLeft   Face = "left"
	ThroughRight  Face = "right"
	ThroughBottom Face = "bottom"
	ThroughTop    Face = "top"
)

// Hole is a round hole, its center measured from the left and bottom outer
// edges of the box, seen from the front.
type Hole struct {
	// Name is "inlet" or "outlet".
	Name string
	// X and Y are its center, from the left and the bottom, m.
	X, Y float64
	// Face is what it goes through. The zero value is the back, as most have it.
	// Z, for other faces than the back, is how far its center lies behind the front
	// edge of the frame's boards, m, which is where a tape is hooked.
	Face Face
	Z    float64
	// Diameter is in m.
	Diameter float64
	// Through are the IDs of the parts that it passes.
	Through []string
}

// Layout is a whole box.
type Layout struct {
	// Width, Height and Depth are the outside of the box, m.
	Width, Height, Depth float64
	// Parts are in the order of building.
	Parts []Part
	// Holes are those of the ports.
	Holes []Hole
	// HeaderHoles are those of a header board, from its left end and its front
	// edge.
	HeaderHoles []Hole
	// Diagonal is that of the frame's outer corners, m: the frame is square when
	// both are equal to it.
	Diagonal float64
	// Notes are what no part says.
	Notes []string
	// Loose is what is laid in and not cut, such as stones, kg.
	Loose float64
	// Boxes is how many are made alike.
	Boxes int
	// Others are the boxes of the row that differ.
	Others []Layout

	trayed trayFlat // of a body of bent sheet
}

// Mass is that of one box, kg: of all its parts and of what is laid in, without
// what stands there already and without what it hangs from.
func (l *Layout) Mass() (kg float64) {
	kg = l.Loose
	for _, p := range l.Parts {
		if !p.There && p.Group != Mount {
			kg += p.Mass
		}
	}
	return kg
}

// Cut lists the parts to get or to make, for all boxes; those of boxes that
// differ say so.
// They come in the order of the layout, with the counts of all boxes that are
// made alike; those of other boxes of the row follow, with the box's letter.
func (l *Layout) Cut() (ps []Part) {
	boxes := max(1, l.Boxes)
	for _, p := range l.Parts {
		if !p.There {
			if !p.once {
				p.Count *= boxes
				p.Mass *= float64(boxes)
			}
			ps = append(ps, p)
		}
	}
	for i := range l.Others {
		for _, p := range l.Others[i].Cut() {
			p.mark(fmt.Sprintf(", box %c", 'B'+i))
			ps = append(ps, p)
		}
	}
	return ps
}

// add appends a part, its count by its places, its length the longer of its two
// sizes.
// The count follows from the places where it is not given, the mass from size
// and density; the longer side is the length.
func (l *Layout) add(p Part) {
	if p.Count == 0 {
		p.Count = len(p.Places)
	}
	if p.Width > p.Length {
		p.Width, p.Length = p.Length, p.Width
	}
	if p.Form == "" {
		p.Form = formOf(&p)
	}
	if p.Joint == "" {
		p.Joint = p.Kind.Joint
	}
	p.mark("")
	if p.each == 0 {
		p.each = p.density * p.Length * p.Width * p.Thickness
	}
	p.Mass = p.each * float64(p.Count)
	l.Parts = append(l.Parts, p)
}

// mark tells a part from others of its kind by one more mark.
func (p *Part) mark(more string) {
	p.Mark += more
	p.ID, p.Name = p.Kind.ID+p.Mark, p.Kind.Name()+p.Mark
}

// Named are what lists call the parts of some IDs.
func (l *Layout) Named(ids []string) (names []string) {
	for _, id := range ids {
		name := id
		for i := range l.Parts {
			if p := &l.Parts[i]; p.ID == id || p.Kind.ID == id {
				name = p.Kind.Name() + strings.TrimPrefix(id, p.Kind.ID)
				break
			}
		}
		names = append(names, name)
	}
	return names
}

// A Misfit says which parts cannot be built as designed.
type Misfit struct{ Reason, Remedy string }

func (m *Misfit) Error() string { return m.In(units.System{}) }

// In says what does not fit, with lengths in a person's own units.
func (m *Misfit) In(u units.System) string { return Words(m.Reason+"; "+m.Remedy, u) }

// at stands for a length of so many m in a note, until [Words] writes it.
func at(m float64) string { return fmt.Sprintf("⟨%g⟩", m) }

// lengths finds what [at] wrote.
var lengths = regexp.MustCompile("⟨([^⟩]*)⟩")

// Words writes the lengths in a note, which stand there between marks in m, in a
// person's units.
func Words(note string, u units.System) string {
	note = units.Localize(note, u)
	return lengths.ReplaceAllStringFunc(note, func(s string) string {
		m, err := strconv.ParseFloat(lengths.FindStringSubmatch(s)[1], 64)
		if err != nil {
			return s
		}
		return units.Format(units.Length, m, u)
	})
}

// bendLoss is what a right-angle bend takes off the sum of the outside sizes
// of soft sheet t thick, bent over its own thickness: twice the setback less
// the developed arc with the neutral line at a third. Source: the usual
// K-factor rule of sheet-metal work, K = 0.33.
// t is the gauge, m. The inside radius is one gauge, so the two outside legs
// meet 2 t past each tangent; the neutral line turns there a quarter circle of
// 1.33 t.
func bendLoss(t float64) float64 { return 2*2*t - math.Pi/2*(t+0.33*t) }

// Flaps of vents: how far they lap over their opening, where the gasket lies,
// and their thickness, m. Common practice, no source.
const (
	flapLap       = 0.012
	flapThickness = 0.012
)

const (
	flange  = 0.025 // folded in over the glass at the front of a tray, m
	rivetOn = 0.015 // laps at the corners
)

// Build lays a valid heater out: one box of it, how many are made, and the
// boxes of its row that differ.
// The error is a [*Misfit].
func Build(h *design.Heater) (Layout, error) {
	boxes, counts := h.Kinds()
	l, err := one(&boxes[0])
	l.Boxes = counts[0]
	l.common(h)
	n := l.letters(0)
	for i := range boxes[1:] {
		if err != nil {
			break
		}
		var o Layout
		o, err = one(&boxes[i+1])
		o.Boxes = counts[i+1]
		n = o.letters(n)
		l.Others = append(l.Others, o)
	}
	return l, err
}

// one lays out a single box from the sun inwards: glazing, frame, linings and
// back, absorber, holes. All sizes are in m; it fails with a [Misfit] where
// parts do not fit, or where the catalog lacks a material.
func one(h *design.Heater) (Layout, error) {
	if h.Indoors() {
		return panel(h)
	}
	cover, err := catalog.FindCover(h.Cover.Material)
	if err != nil {
		return Layout{}, err
	}
	inner := cover
	if h.Cover.Inner != "" && h.Cover.Inner != "same" {
		if inner, err = catalog.FindCover(h.Cover.Inner); err != nil {
			return Layout{}, err
		}
	}
	foam, err := catalog.FindInsulation(h.Box.Foam)
	if err != nil {
		return Layout{}, err
	}
	wood, err := catalog.FindWood(h.Box.Frame)
	if err != nil {
		return Layout{}, err
	}
	fw, e := h.Box.FrameWidth, h.Lining()
	l := Layout{Width: h.OuterWidth(), Height: h.OuterHeight(), Depth: h.Cover.Thickness + h.FrameDepth(), Loose: h.Box.Stones}
	l.Diagonal = math.Hypot(l.Width, l.Height)
	if h.Pane.Rest > fw && h.Box.Body != "sheet" {
		return l, &Misfit{"the pane would hang over the frame", "make the frame boards thicker than the pane's rest"}
	}
	if long := max(l.Width, l.Height); h.Box.Body == "sheet" && long > h.Box.Brake {
		return l, &Misfit{"the tray has a wall of " + at(long) + ", and the brake bends " + at(h.Box.Brake),
			"use smaller glazing, a longer brake, or a body of wood or foam"}
	}
	z := l.glazing(h, cover, inner, wood)
	l.body(h, cover, wood, foam)
	if h.Guard.Kind == "vent" {
		l.flaps(h, wood, z)
	}
	through, err := l.linings(h, foam, z)
	if err != nil {
		return l, err
	}
	s := &space{l: &l, h: h, x: fw + e, y: fw + e, w: h.ApertureWidth(), ht: h.ApertureHeight(), z: z, depth: h.CavityDepth(), wood: wood,
		clearFront: h.Box.Gap}
	if s.metal, err = catalog.FindSheet("aluminium"); err != nil {
		return l, err
	}
	if m, err := catalog.FindSheet(h.AbsorberMetal()); err == nil {
		s.metal = m
	}
	put, known := putting[h.Absorber.Family]
	if !known {
		return l, &Misfit{fmt.Sprintf("no way of making is called %q", h.Absorber.Family), "choose one from the list"}
	}
	if err := put(s); err != nil {
		return l, err
	}
	if err := s.ports(through); err != nil {
		return l, err
	}
	s.deflectors()
	l.mounting(h, wood)
	l.bore()
	return l, l.possible()
}

// possible refuses a layout in which a part has less than no size.
func (l *Layout) possible() error {
	for _, p := range l.Parts {
		if p.Length < 0 || p.Width < 0 || p.Thickness < 0 {
			return &Misfit{"there is no room for the " + p.Name, "make the box larger, or what lies around it smaller"}
		}
	}
	return nil
}

// glazing adds the panes and what keeps them apart, and returns the depth at
// which they end, m.
// z is the depth behind the innermost cover, m.
func (l *Layout) glazing(h *design.Heater, cover, inner catalog.Cover, wood catalog.Wood) (z float64) {
	fw, e, ct := h.Box.FrameWidth, h.Lining(), h.Cover.Thickness
	iw, ih, ow, oh := h.InsideWidth(), h.InsideHeight(), h.OuterWidth(), h.OuterHeight()
	edge := (ow - h.Pane.Width) / 2 // from the outer edge to the pane
	l.add(Part{Kind: Pane, Group: Cover, Material: cover.Name, density: cover.Density, Length: h.Pane.Height, Width: h.Pane.Width,
		Thickness: ct, Note: paneNote(h, cover),
		Places: []Place{{edge, edge, 0, h.Pane.Width, h.Pane.Height, ct, 0}}})
	l.bedding(h, cover, wood)
	z = ct
	for i := 1; i < h.Cover.Layers; i++ {
		c := innerClearance
		s := max(e, 0.010)
		b := h.Cover.Between
		l.add(Part{Kind: SpacerStripSide, Group: Cover, Material: wood.Name, density: wood.Density, Length: ih, Width: s, Thickness: b,
			Places: []Place{{fw, fw, z, s, ih, b, 0}, {ow - fw - s, fw, z, s, ih, b, 0}}})
		l.add(Part{Kind: SpacerStripTopAndBottom, Group: Cover, Material: wood.Name, density: wood.Density, Length: iw - 2*s,
			Width: s, Thickness: b,
			Places: []Place{{fw + s, fw, z, iw - 2*s, s, b, 0}, {fw + s, oh - fw - s, z, iw - 2*s, s, b, 0}}})
		z += b
		it := ct
		if inner.ID != cover.ID {
			it = min(ct, inner.Thickness)
		}
		l.add(Part{Kind: InnerPane, Group: Cover, Material: inner.Name, density: inner.Density, Length: ih - 2*c, Width: iw - 2*c,
			Thickness: it,
			Places:    []Place{{fw + c, fw + c, z, iw - 2*c, ih - 2*c, it, 0}}})
		z += ct
	}
	return z
}

// flaps adds those of the vents, at the bottom and the top.
func (l *Layout) flaps(h *design.Heater, wood catalog.Wood, z float64) {
	fw, e, oh, slot := h.Box.FrameWidth, h.Lining(), h.OuterHeight(), h.VentSlot()
	l.add(Part{Kind: VentFlap, Group: Frame, Material: wood.Name, density: wood.Density, Length: h.ApertureWidth() + 2*flapLap,
		Width: slot + 2*flapLap, Thickness: flapThickness,
		Note: "on the bottom and the top board, with a gasket, hinge and actuator; cut the board and the insulation behind it " +
			"open by " + at(h.ApertureWidth()) + " x " + at(slot),
		Places: []Place{{fw + e - flapLap, -flapThickness, z, h.ApertureWidth() + 2*flapLap, flapThickness, slot + 2*flapLap, 0},
			{fw + e - flapLap, oh, z, h.ApertureWidth() + 2*flapLap, flapThickness, slot + 2*flapLap, 0}}})
}

// linings adds the foam inside and the back, and names the parts that a duct to
// the back goes through, from outside.
func (l *Layout) linings(h *design.Heater, foam catalog.Insulation, z float64) (through []string, err error) {
	fw, e, cavity := h.Box.FrameWidth, h.Lining(), h.CavityDepth()
	iw, ih, ow, oh := h.InsideWidth(), h.InsideHeight(), h.OuterWidth(), h.OuterHeight()
	if e > 0 {
		l.add(Part{Kind: SideFoam, Group: Foam, Material: foam.Name, density: foam.Density, Length: ih, Width: cavity, Thickness: e,
			Places: []Place{{fw, fw, z, e, ih, cavity, 0}, {ow - fw - e, fw, z, e, ih, cavity, 0}}})
		l.add(Part{Kind: TopAndBottomFoam, Group: Foam, Material: foam.Name, density: foam.Density, Length: iw - 2*e, Width: cavity,
			Thickness: e,
			Places:    []Place{{fw + e, fw, z, iw - 2*e, e, cavity, 0}, {fw + e, oh - fw - e, z, iw - 2*e, e, cavity, 0}}})
	}
	if h.Box.BackFoam > 0 {
		l.add(Part{Kind: BackFoam, Group: Foam, Material: foam.Name, density: foam.Density, Length: ih, Width: iw,
			Thickness: h.Box.BackFoam,
			Places:    []Place{{fw, fw, z + cavity, iw, ih, h.Box.BackFoam, 0}}})
		through = []string{BackFoam.ID}
	}
	switch {
	case h.Box.Body == "sheet":
		return append([]string{Tray.ID}, through...), nil
	case h.Box.Body != "foam":
		ply, _ := catalog.FindWood("plywood")
		l.add(Part{Kind: BackBoard, Group: Back, Material: ply.Name, density: ply.Density, Length: ih, Width: iw, Thickness: h.Box.Board,
			Places: []Place{{fw, fw, z + cavity + h.Box.BackFoam, iw, ih, h.Box.Board, 0}}, Note: "lies inside the frame"})
		return append([]string{BackBoard.ID}, through...), nil
	case h.Box.BackFoam == 0:
		return nil, &Misfit{"a body of foam board has no back without back insulation", "add back insulation, or choose a body of wood"}
	}
	return through, nil
}

// body adds what the box is made of: boards, foam, or one bent tray.
// Boards, foam or a tray, by what the body is made of.
func (l *Layout) body(h *design.Heater, cover catalog.Cover, wood catalog.Wood, foam catalog.Insulation) {
	fw, ct, depth := h.Box.FrameWidth, h.Cover.Thickness, h.FrameDepth()
	iw, ow, oh := h.InsideWidth(), h.OuterWidth(), h.OuterHeight()
	ih := h.InsideHeight()
	if h.Box.Body == "sheet" {
		whole := depth + ct
		t := trayOf(h)
		l.trayed = t
		l.add(Part{Kind: Tray, Group: Frame, Material: "aluminum sheet", density: 2800, Count: 1, bent: true,
			Length: oh + 2*t.off, Width: ow + 2*t.off, Thickness: fw, Bends: t.bends(ow, oh), Bores: t.drains(h),
			Note: "bent up from the back: walls of " + at(t.wall) + ", then flanges of " + at(flange) +
				" over the glazing; corners overlapped by " + at(rivetOn) + " and riveted; " +
				"drain holes in the lower wall, with insect mesh over them",
			Places: []Place{{0, 0, 0, fw, oh, whole, 0}, {ow - fw, 0, 0, fw, oh, whole, 0}, {fw, 0, 0, iw, fw, whole, 0},
				{fw, oh - fw, 0, iw, fw, whole, 0}, {fw, fw, whole - fw, iw, ih, fw, 0}}})
		l.add(Part{Kind: DripCapTop, Group: Frame, Material: "aluminum sheet", density: 2800, Count: 1, bent: true,
			Length: ow + 0.002, Width: whole + flange,
			Thickness: fw, Note: at(0.002) + " wider than the box, so that water runs off; laps over the walls",
			Places: []Place{{0, oh - fw, -fw, ow, fw, fw, 0}}})
		l.add(Part{Kind: DripCapBottom, Group: Frame, Material: "aluminum sheet", density: 2800, Count: 1, bent: true,
			Length: ow - 0.001, Width: whole + flange, Thickness: fw,
			Note:   at(0.001) + " narrower than the box; the walls lap over it, so that water runs off past it",
			Places: []Place{{0.0005, 0, -fw, ow - 0.001, fw, fw, 0}}})
		return
	}
	material, density := wood.Name, wood.Density
	if h.Box.Body == "foam" {
		material, density = foam.Name, foam.Density
	}
	if strip, _ := beside(h, cover); railed(h, cover) {
		l.rails(h, wood, strip)
	} else {
		l.stops(h, wood)
	}
	l.add(Part{Kind: SideBoard, Group: Frame, Material: material, density: density, Length: oh, Width: depth, Thickness: fw,
		Places: []Place{{0, 0, ct, fw, oh, depth, 0}, {ow - fw, 0, ct, fw, oh, depth, 0}}})
	l.add(Part{Kind: BottomBoard, Group: Frame, Material: material, density: density, Length: iw, Width: depth, Thickness: fw,
		Note: "between the side boards; drain holes along its front edge, with insect mesh over them", Bores: drains(h, ct),
		Places: []Place{{fw, 0, ct, iw, fw, depth, 0}}})
	l.add(Part{Kind: TopBoard, Group: Frame, Material: material, density: density, Length: iw, Width: depth, Thickness: fw,
		Note: "between the side boards", Places: []Place{{fw, oh - fw, ct, iw, fw, depth, 0}}})
	// Behind the box, on the wall: it has no place within the box's own depth, and the
	// wall's side of it is the builder's to level.
	if u := h.Box.Under; u > 0 && h.Box.Body == "timber" {
		for _, x := range []struct {
			kind *PartKind
			long float64
		}{{FoamUnderSide, oh}, {FoamUnderTopAndBottom, iw}} {
			l.add(Part{Kind: x.kind, Group: Mount, Form: InSheets, Material: foam.Name, density: foam.Density, Count: 2, Length: x.long,
				Width: fw, Thickness: u})
		}
	}
}

package layout

import (
	"fmt"
	"math"

	"gladember/core/catalog"
	"gladember/core/design"
)

// space is the clear room for an absorber: between the lining, from the inner
// cover to the back foam.
type space struct {
	l *Layout
	h *design.Heater
	// x and y are its left and bottom edges, w and ht its width and height, m.
	x, y  float64
	w, ht float64
	// z is behind the inner cover, and depth from there to the insulation, m.
	z, depth float64
	wood     catalog.Wood
	metal    catalog.Sheet
	// clearFront is from cover to absorber, m.
	clearFront float64
}

// Clearances and thicknesses inside, m. Common practice, no source.
const (
	headerBoard  = 0.009
	headerWeb    = 0.005 // left at least beside a hole in a header board
	openEnd      = 0.040 // a plate's ends stand back so that air gets round them
	canEnd       = 0.0001
	coilWall     = 0.0001
	panelBar     = 0.018
	panelBarWide = 0.030
)

// add puts a part of the absorber into the box.
func (s *space) add(p Part) { s.l.add(p) }

// spacers puts a batten at each side, from z over a depth.
// Two strips, at the left and the right, z behind the cover and depth deep.
func (s *space) spacers(kind *PartKind, z, depth float64) {
	b := min(battenWidth, s.w/6)
	s.add(Part{Kind: kind, Group: Absorber, Material: s.wood.Name, density: s.wood.Density, Length: s.ht, Width: b, Thickness: depth,
		Places: []Place{{s.x, s.y, z, b, s.ht, depth, 0}, {s.x + s.w - b, s.y, z, b, s.ht, depth, 0}}})
}

// screens slants the layers of mesh from the back at the bottom to the glass at
// the top and puts spacers and battens under them.
// From front to back, each on its own battens; a slanted pack rests on wedges.
func (s *space) screens() error {
	a := s.h.Absorber.Screens
	mesh, err := catalog.FindMesh(a.Mesh)
	if err != nil {
		return err
	}
	slant := math.Hypot(s.ht, a.Lift)
	for i := range a.Layers {
		zb := s.z + s.clearFront + a.Lift + float64(i)*a.Spacing // at the bottom
		thick := min(2*mesh.Wire, min(a.Spacing, a.Rear)/2)
		s.add(Part{Kind: Screen, Mark: fmt.Sprintf(" %d", i+1), Group: Absorber, Material: mesh.Name,
			density: mesh.Density * mesh.WireArea() / 4 / 2, Length: slant, Width: s.w, Thickness: thick,
			Places: []Place{{s.x, s.y, zb, s.w, s.ht, thick, -a.Lift}}, Note: "measured along the slant; add what you fold over"})
		t := a.Spacing - thick
		if i == a.Layers-1 {
			t = a.Rear - thick
		}
		b := min(battenWidth, s.w/6)
		s.add(Part{Kind: BattenBehindScreen, Mark: fmt.Sprintf(" %d", i+1), Group: Absorber, Material: s.wood.Name, density: s.wood.Density,
			Length: slant, Width: b, Thickness: t,
			Places: []Place{{s.x, s.y, zb + thick, b, s.ht, t, -a.Lift}, {s.x + s.w - b, s.y, zb + thick, b, s.ht, t, -a.Lift}}})
		s.crossBattens(i, zb+thick, t, a.Lift)
		s.middleBatten(i, zb+thick, t)
	}
	s.wedges()
	s.screenDivider()
	if a.Baffle > 0 && a.Baffle < 1 {
		deep := (1 - a.Baffle) * (s.clearFront + a.Lift/2 - a.Lift*baffleWidth/2/s.ht)
		s.add(Part{Kind: HalfWayBaffle, Group: Absorber, Material: s.wood.Name, density: s.wood.Density, Length: s.w, Width: deep,
			Thickness: baffleWidth, Note: "across the space in front of the screens, from the cover's side",
			Places: []Place{{s.x, s.y + s.ht/2 - baffleWidth/2, s.z, s.w, baffleWidth, deep, 0}}})
	}
	return nil
}

// wedges hold slanted screens: behind the last battens, which meet the back only at
// the bottom, they fill what the slant leaves, nothing at the bottom and the whole
// lift at the top. Two come out of one strip that is cut from corner to corner.
func (s *space) wedges() {
	a := s.h.Absorber.Screens
	if a.Lift < leastWedge {
		return
	}
	b := min(battenWidth, s.w/6)
	z := s.z + s.depth // the back's face; the batten's rear edge leaves it by the lift
	s.add(Part{Kind: ScreenWedge, Group: Absorber, Form: InBars, Material: s.wood.Name, density: s.wood.Density / 2, Length: s.ht,
		Width: a.Lift, Thickness: b, Note: "cut from corner to corner of a strip, which gives both; thin end at the bottom",
		Places: []Place{{s.x, s.y, z, b, s.ht, 0, -a.Lift}, {s.x + s.w - b, s.y, z, b, s.ht, 0, -a.Lift}}})
}

// middleBatten parts the space behind a screen down its middle where the air is folded:
// between two screens all the way, behind the last one short of the turn, if that is
// there. It stands between the cross battens, t m deep, z behind the cover at the bottom.
func (s *space) middleBatten(i int, z, t float64) {
	folded, fromTop := s.h.Folded()
	if !folded {
		return
	}
	a, b := s.h.Absorber.Screens, min(battenWidth, s.w/6)
	last := i == a.Layers-1
	long := s.ht - 2*b
	if last && !fromTop {
		long = s.ht - b - s.turnRoom()
	}
	lean := a.Lift / s.ht
	x := s.x + s.w/2 - baffleWidth/2
	s.add(Part{Kind: MiddleBattenBehindScreen, Mark: fmt.Sprintf(" %d", i+1), Group: Absorber, Material: s.wood.Name,
		density: s.wood.Density,
		Length:  long * math.Hypot(1, lean), Width: baffleWidth, Thickness: t,
		Places: []Place{{x, s.y + b, z - lean*b, baffleWidth, long, t, -lean * long}}})
	if !last || lean*long < leastWedge {
		return
	}
	s.add(Part{Kind: MiddleWedge, Group: Absorber, Form: InBars, Material: s.wood.Name, density: s.wood.Density / 2, Length: s.ht,
		Width: a.Lift, Thickness: baffleWidth, Note: "as the screen wedges, between the halves of the box; cut off where its batten ends",
		Places: []Place{{x, s.y, s.z + s.depth, baffleWidth, s.ht, 0, -a.Lift}}})
}

// screenDivider parts the space in front of the screens where the air is folded. It
// tapers as that space does, and stops short of a turn that is there.
func (s *space) screenDivider() {
	folded, fromTop := s.h.Folded()
	if !folded {
		return
	}
	a := s.h.Absorber.Screens
	y := s.y
	if fromTop {
		y += s.turnRoom()
	}
	long := s.y + s.ht - y
	deep := s.clearFront + a.Lift*long/s.ht // at its lower end
	s.add(Part{Kind: Divider, Group: Absorber, Material: s.wood.Name, density: s.wood.Density * (deep + s.clearFront) / 2 / deep,
		Length: long, Width: deep, Thickness: baffleWidth,
		Note:   "tapers from " + at(round(deep)) + " at the bottom to " + at(round(s.clearFront)) + " at the top",
		Places: []Place{{s.x + s.w/2 - baffleWidth/2, y, s.z, baffleWidth, long, s.clearFront, 0}}})
}

// turnRoom is how much of its length a divider leaves open for the air to turn, m: as
// wide as either half, or a third of the height.
func (s *space) turnRoom() float64 { return min(0.35*s.ht, s.w/2) }

// leastWedge is a slant that a batten takes by itself, m. Common practice, no source.
const leastWedge = 0.003

// vanes lead the air around the turns of a channel, deep m: a strip for each, bent to a
// half circle midway between the end of the baffle and the far wall.
func (s *space) vanes(deep float64) {
	// A vane wider than the opening would stand in the way of the pass beside it.
	a := s.h.Absorber.Plate
	turns, open := a.Baffles, min(s.ht/float64(a.Baffles+1), 0.35*s.w)
	if folded, _ := s.h.Folded(); folded {
		turns, open = 1, s.turnRoom()
	}
	if !a.Vanes || turns == 0 {
		return
	}
	s.add(Part{Kind: TurningVane, Group: Absorber, Form: InSheets, Material: "aluminum sheet", density: 2700, Count: turns, bent: true,
		Length: math.Pi * open / 2, Width: deep, Thickness: thinSheet,
		Note: "bent to a half circle " + at(open) + " wide around the end of the baffle, open towards it"})
}

// crossBattens close a screen's space at the bottom and the top, so that no air slips
// under the screens: between two screens, or between the last one and the back, at depth
// z behind the cover and deep m.
func (s *space) crossBattens(i int, z, deep, lift float64) {
	b := min(battenWidth, s.w/6)
	long := s.w - 2*b
	if deep -= lift * b / s.ht; deep < leastWedge { // the slant takes some of it
		return
	}
	// The upper one lies as far forward as the screen has come at its lower edge.
	top := z - lift*(1-b/s.ht)
	s.add(Part{Kind: CrossBattenBehindScreen, Mark: fmt.Sprintf(" %d", i+1), Group: Absorber, Material: s.wood.Name,
		density: s.wood.Density,
		Length:  long, Width: b, Thickness: deep, Places: []Place{{s.x + b, s.y, z, long, b, deep, 0},
			{s.x + b, s.y + s.ht - b, top, long, b, deep, 0}}})
}

// ribs hold tubes off the back, so that their own weight does not bend them: one for
// every ribEvery of their length, across the box, as deep as the room behind them.
func (s *space) ribs(y, tall, z float64) {
	n := int(tall / ribEvery)
	if n == 0 || s.h.TubeRear() <= 0 {
		return
	}
	var places []Place
	for i := range n {
		at := y + tall*float64(i+1)/float64(n+1)
		places = append(places, Place{s.x, at - battenWidth/2, z, s.w, battenWidth, s.h.TubeRear(), 0})
	}
	s.add(Part{Kind: SupportRib, Group: Absorber, Form: InBars, Material: s.wood.Name, density: s.wood.Density, Length: s.w,
		Width: battenWidth, Thickness: s.h.TubeRear(), Places: places})
}

// ribEvery is the longest free length of a tube, m. Common practice, no source.
const ribEvery = 0.8

// deflectorSheet is the gauge of what a deflector is cut from, m. Common
// practice, no source.
const deflectorSheet = 0.0007

// deflectors stand before the inlet holes, half-way to the cover.
// Each is a square one and a half times as wide as the port, or as large as the
// corner leaves room for.
func (s *space) deflectors() {
	a := s.h.Absorber.Screens
	folded, fromTop := s.h.Folded()
	if a == nil || !a.Deflector || !s.h.Fanned() || folded && fromTop { // there the air enters behind the screens
		return
	}
	var places []Place
	side := min(1.5*s.h.PortBore(), min(s.w, s.ht))
	for _, hole := range s.l.Holes {
		if hole.Name == "inlet" && hole.Face == ThroughBack {
			side = min(side, 2*min(min(hole.X-s.x, s.x+s.w-hole.X), min(hole.Y-s.y, s.y+s.ht-hole.Y)))
		}
	}
	for _, hole := range s.l.Holes {
		if hole.Name == "inlet" { // one through a side or an end lies outside: its plate stands just inside
			x := max(s.x, min(s.x+s.w-side, hole.X-side/2))
			y := max(s.y, min(s.y+s.ht-side, hole.Y-side/2))
			places = append(places, Place{x, y, s.z + s.clearFront/2, side, side, deflectorSheet, 0})
		}
	}
	s.add(Part{Kind: Deflector, Group: Absorber, Material: "aluminum sheet", density: 2700, Length: side, Width: side,
		Thickness: deflectorSheet, Places: places,
		Note: "on legs before the inlet's mouth, so that the air leaves it on all sides"})
}

// sheet is a plate in front of z with a gap all round to grow. Its ends stand
// back by ends, m, which leaves that open for the air.
func (s *space) sheet(z, thick, ends float64) {
	c := plateClearance
	note := at(0.002) + " of clearance on every side to expand"
	if ends > c {
		note = "stands back from top and bottom, so that air gets round its ends"
	}
	e := max(c, ends)
	s.add(Part{Kind: Plate, Group: Absorber, Material: s.metal.Name, density: s.metal.Density, Length: s.ht - 2*e, Width: s.w - 2*c,
		Thickness: thick,
		Places:    []Place{{s.x + c, s.y + e, z, s.w - 2*c, s.ht - 2*e, thick, 0}}, Note: note})
}

// plate places the sheet at the depth that its way of passing the air asks for,
// with its spacers, and its baffles where it has some.
func (s *space) plate() error {
	a := s.h.Absorber.Plate
	z := s.z + s.clearFront
	switch s.h.Absorber.Family {
	case design.FrontPassPlate:
		s.sheet(z, a.Thickness, 0)
		s.divider(s.z, s.clearFront, 0)
		s.vanes(s.clearFront)
		return nil
	case design.PassiveBox:
		s.sheet(z, a.Thickness, openEnd)
	default:
		s.sheet(z, a.Thickness, 0)
	}
	zc := z + a.Thickness
	s.spacers(ChannelBatten, zc, a.Channel)
	s.divider(zc, a.Channel, 0)
	s.vanes(a.Channel)
	if a.Baffles == 0 || s.h.Absorber.Family != design.BackPassPlate {
		return nil
	}
	b := min(battenWidth, s.w/6)
	pass := s.ht / float64(a.Baffles+1)
	open := min(pass, 0.35*s.w)
	length := s.w - 2*b - open
	if length < 0.05 {
		return &Misfit{fmt.Sprintf("%d baffles leave no width to turn in", a.Baffles), "use fewer baffles"}
	}
	p := Part{Kind: Baffle, Group: Absorber, Material: s.wood.Name, density: s.wood.Density, Length: length, Width: baffleWidth,
		Thickness: a.Channel, Note: "open at left and right by turns"}
	for i := range a.Baffles {
		x := s.x + b
		if i%2 == 1 {
			x += open
		}
		p.Places = append(p.Places, Place{x, s.y + pass*float64(i+1) - baffleWidth/2, zc, length, baffleWidth, a.Channel, 0})
	}
	s.add(p)
	return nil
}

// headers puts a board across at the inner edge of each header, and notes the
// holes to bore in it, one a tube: header is their inside height, deep the depth of
// a tube, rear how far the board reaches behind it, bore the width of each hole,
// and count how many there are. The board closes the box from the glazing to
// behind the tubes, so that all air goes through them.
func (s *space) headers(header, deep, rear float64, count int, bore float64) {
	depth := s.clearFront + deep + rear
	s.add(Part{Kind: HeaderBoard, Group: Absorber, Material: "exterior plywood", density: s.wood.Density, Length: s.w, Width: depth,
		Thickness: headerBoard, Note: "bored for the tubes; fix the upper one after the last column",
		Places: []Place{{s.x, s.y + header - headerBoard, s.z, s.w, headerBoard, depth, 0},
			{s.x, s.y + s.ht - header, s.z, s.w, headerBoard, depth, 0}}})
	pitch := s.w / float64(count)
	for i := range count {
		s.l.HeaderHoles = append(s.l.HeaderHoles, Hole{Name: fmt.Sprintf("tube %d", i+1), X: (float64(i) + 0.5) * pitch,
			Y: s.clearFront + deep/2, Diameter: bore, Through: []string{HeaderBoard.ID}})
	}
}

// cans packs columns of cans between two headers and fails where they do not
// fit the opening.
// Columns stand in the middle between two headers, each can its height above
// the one before.
// The tube of a column is one can after the other; what the box leaves over at
// both ends is for the glue of the joints.
func (s *space) cans() error {
	c := s.h.Absorber.Cans
	z := s.z + s.clearFront
	pitch := s.w / float64(c.Columns)
	// Where the beads have no room they are drawn pressed thin: a finding says that the
	// columns will not fit, and the drawing must still be seen.
	room := s.ht - 2*c.Header
	step := c.Pitch()
	if over := c.Column() - room; over > 0 {
		step -= over / float64(c.Rows+1)
	}
	top := float64(c.Rows)*step + c.Overlap + (step - c.Height + c.Overlap)
	bead := max(0, step-c.Height+c.Overlap)
	y0 := s.y + c.Header + (room-top)/2 + bead
	wall := math.Pi * c.Diameter * c.Height * c.Wall
	ends := 2 * math.Pi / 4 * c.Diameter * c.Diameter * canEnd * (1 - c.HoleShare())
	p := Part{Kind: Can, Group: Absorber, Material: "drink can", Length: c.Height, Width: c.Diameter, Thickness: c.Diameter,
		each: (wall + ends) * 2800, round: true,
		Note: "a column of " + fmt.Sprint(c.Rows) + " is " + at(round(c.Column())) + " long with its glued joints; measure each can: one " +
			"that is {1 mm|1/16 in} off makes its column that much shorter; collect some over, a dented one spoils a column"}
	for i := range c.Columns {
		for j := range c.Rows {
			seen := c.Height // of the lower can, its upper end goes into the next
			if j < c.Rows-1 {
				seen = min(c.Height, step)
			}
			p.Places = append(p.Places, Place{s.x + pitch*(float64(i)+0.5) - c.Diameter/2, y0 + float64(j)*step, z, c.Diameter,
				seen, c.Diameter, 0})
		}
	}
	s.add(p)
	s.headers(c.Header, c.Diameter, s.h.TubeRear(), c.Columns, c.Diameter*0.85)
	s.divider(s.z, s.clearFront+c.Diameter+s.h.TubeRear(), c.Header)
	s.ribs(y0, top, z+c.Diameter)
	return nil
}

// pipes cuts the downpipes to the opening less the headers, or less the bends
// where they lie in series.
// In parallel between headers, or in series with turns at their ends.
func (s *space) pipes() error {
	a := s.h.Absorber.Pipes
	metal, err := catalog.FindSheet(a.Metal)
	if err != nil {
		return err
	}
	z := s.z + s.clearFront
	series := a.Join == "series" && s.h.Absorber.Family == design.Downpipes
	y, tall := s.y+a.Header, s.ht-2*a.Header
	if series {
		y, tall = s.y, s.ht
	}
	pitch := s.w / float64(a.Count)
	p := Part{Kind: Downpipe, Group: Absorber, Material: metal.Name + " downpipe", Length: tall, Width: a.Width, Thickness: a.Depth,
		each: 2 * (a.Width + a.Depth) * a.Wall * tall * metal.Density}
	for i := range a.Count {
		p.Places = append(p.Places, Place{s.x + pitch*(float64(i)+0.5) - a.Width/2, y, z, a.Width, tall, a.Depth, 0})
	}
	s.add(p)
	if !series {
		rear, bore := s.h.TubeRear(), min(a.Width, a.Depth)
		if s.h.Absorber.Family == design.DoublePassTubes { // the channel behind stays open
			rear, bore = 0, min(a.Width, a.Depth-2*headerWeb)
		}
		s.headers(a.Header, a.Depth, rear, a.Count, bore)
		s.divider(s.z, s.clearFront+a.Depth+rear, a.Header)
	} else if a.Count > 1 {
		s.l.Notes = append(s.l.Notes, fmt.Sprintf("%d return bends join the pipes, top and bottom by turns.", a.Count-1))
	}
	zr := z + a.Depth
	if s.h.Absorber.Family == design.Downpipes && !a.Fins {
		s.ribs(y, tall, zr)
	}
	if a.Fins {
		s.add(Part{Kind: Flashing, Group: Absorber, Material: metal.Name, density: metal.Density, Length: tall,
			Width: s.w - 2*plateClearance, Thickness: a.Wall, Note: "behind the pipes, touching each",
			Places: []Place{{s.x + plateClearance, y, zr, s.w - 2*plateClearance, tall, a.Wall, 0}}})
	}
	if s.h.Absorber.Family == design.DoublePassTubes {
		behind := a.Behind
		if a.Fins {
			zr += a.Wall
			behind -= a.Wall
		}
		s.spacers(ChannelBatten, zr, behind)
	}
	return nil
}

// coil lays the hose to and fro at an even pitch; bends as wide as the pitch
// join the runs.
// Straight runs side by side with half turns at their ends.
func (s *space) coil() error {
	a := s.h.Absorber.Coil
	z := s.z + s.clearFront
	pitch := s.w / float64(a.Runs)
	runs := float64(a.Runs) / float64(a.Ways)
	turn := math.Pi / 2 * pitch
	way := s.ht*runs + turn*(runs-1)
	p := Part{Kind: RibbedDuct, Group: Absorber, Material: "ribbed aluminum duct", Count: a.Ways, Length: way,
		Width: a.Bore, Thickness: a.Bore, bent: true, round: true,
		each: math.Pi * a.Bore * way / a.Stretch * coilWall * 2700, Note: "folded; its turns lie within the box"}
	for i := range a.Runs {
		p.Places = append(p.Places, Place{s.x + pitch*(float64(i)+0.5) - a.Bore/2, s.y, z, a.Bore, s.ht, a.Bore, 0})
	}
	s.add(p)
	return nil
}

// own is a body of one depth that fills the opening less its clearances.
// One piece as large as the aperture: the builder knows what it is made of.
func (s *space) own() error {
	a := s.h.Absorber.Own
	z := s.z + s.clearFront
	c := plateClearance
	s.add(Part{Kind: AbsorberBody, Group: Absorber, Material: s.metal.Name, Length: s.ht - 2*c, Width: s.w - 2*c, Thickness: a.Depth,
		each: s.metal.Density * a.Wall * (s.ht - 2*c) * (s.w - 2*c) * (1 + a.Surface), Places: []Place{{s.x + c, s.y + c, z, s.w - 2*c,
			s.ht - 2*c, a.Depth, 0}}, Note: "as you make it; its outside size"})
	for _, p := range a.Passages {
		if p.Where == "behind" {
			s.spacers(ChannelBatten, z+a.Depth, p.Depth)
		}
	}
	return nil
}

// panel lays out a foil panel that hangs behind a window: frame and foil.
// A frame with a foil and its slots; nothing of a box.
func panel(h *design.Heater) (Layout, error) {
	wood, err := catalog.FindWood("softwood")
	if err != nil {
		return Layout{}, err
	}
	a := h.Absorber.Panel
	cover, err := catalog.FindCover(h.Cover.Material)
	if err != nil {
		return Layout{}, err
	}
	w, ht, ct := h.ApertureWidth(), h.ApertureHeight(), h.Cover.Thickness
	l := Layout{Width: w, Height: ht, Depth: ct + a.Gap + panelBar}
	l.add(Part{Kind: WindowPane, Group: Cover, Material: cover.Name, Length: ht, Width: w, Thickness: ct,
		Places: []Place{{0, 0, 0, w, ht, ct, 0}}, There: true})
	z := ct + a.Gap
	bar := min(panelBarWide, w/8)
	slot := a.Slots * a.Gap
	l.add(Part{Kind: SideBar, Group: Frame, Material: wood.Name, density: wood.Density, Length: ht, Width: bar, Thickness: panelBar,
		Places: []Place{{0, 0, z, bar, ht, panelBar, 0}, {w - bar, 0, z, bar, ht, panelBar, 0}}})
	l.add(Part{Kind: TopAndBottomBar, Group: Frame, Material: wood.Name, density: wood.Density, Length: w - 2*bar, Width: bar,
		Thickness: panelBar, Note: "leave the slot open beyond it",
		Places: []Place{{bar, slot, z, w - 2*bar, bar, panelBar, 0}, {bar, ht - slot - bar, z, w - 2*bar, bar, panelBar, 0}}})
	l.add(Part{Kind: Foil, Group: Absorber, Material: "black aluminum foil", density: 2700, Length: ht - 2*slot, Width: w,
		Thickness: design.FoilGauge, Note: "black side to the window",
		Places: []Place{{0, slot, z - design.FoilGauge, w, ht - 2*slot, design.FoilGauge, 0}}})
	return l, nil
}

// putting puts each family's absorber into the space for it. A foil behind a window has no box, and is laid out apart.
var putting = design.Each("parts", map[design.Family]func(*space) error{
	design.ScreenBox: (*space).screens, design.CanColumns: (*space).cans, design.Downpipes: (*space).pipes,
	design.DoublePassTubes: (*space).pipes, design.RibbedCoil: (*space).coil, design.OwnAbsorber: (*space).own,
	design.BackPassPlate: (*space).plate, design.FrontPassPlate: (*space).plate, design.DoublePassPlate: (*space).plate,
	design.PassiveBox: (*space).plate, design.WindowPanel: func(*space) error { return nil },
})

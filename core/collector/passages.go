package collector

import (
	"fmt"
	"math"
	"slices"

	"gladember/core/airflow"
	"gladember/core/catalog"
	"gladember/core/design"
	"gladember/core/heattransfer"
	"gladember/core/network"
	"gladember/core/optics"
)

// Segments is how many pieces the air's way is cut into, and tubeSegments that of each class of tubes.
const (
	Segments     = 8
	tubeSegments = 5
)

// LayerKind says what a layer is, for reading its temperature.
type LayerKind int

// Kinds of layer.
const (
	CoverLayer LayerKind = iota
	AbsorberLayer
	BackLayer
)

// Layer is a solid sheet of the stack behind the covers.
type Layer struct {
	// Name is for a reader; Kind tells covers, absorbers and the back apart.
	Name string
	Kind LayerKind
	// Material is its catalog id.
	Material string
	// Service is what the material withstands, C.
	Service float64
	// Gap is the air in front of it, in the mean, m.
	Gap float64
	// Store is the heat that it takes up, J/m2K of aperture.
	Store float64
	// Infrared is what its faces do to heat radiation.
	Infrared optics.Layer
	// Sun gives what the layer does to sunlight at an incidence in degrees.
	Sun func(theta float64) optics.Layer
}

// Flow is what an air network is built for.
type Flow struct {
	// Mass enters at the inlet, kg/s.
	Mass float64
	// LeakOut is lost on the way through the seams, kg/s, and LeakIn drawn in
	// from outdoors.
	LeakOut float64
	LeakIn  float64 // drawn in from outdoors on the way, kg/s
	// Mean is the mean temperature of the air, C, at which its properties are
	// taken.
	Mean float64
	// P is the air pressure, Pa.
	P    float64
	Tune Tuning
	// First is the index of the first layer behind the covers.
	First int
	// Warmth is what warmth adds in branches between two headers.
	Warmth warmth
	// start is what the searches of the rating begin from.
	start *start
	// Of the box: segments along the way of a part, tilt in degrees, height in m.
	Segments int
	Tilt     float64
	Height   float64
}

// AirNet is the air side of a box for one flow.
type AirNet struct {
	// Airs are the nodes; the feeds of each say where its air comes from.
	Airs []network.Air
	// Outlet is what leaves for the room.
	Outlet []network.Feed
	// LeakOut is what leaves through the seams.
	LeakOut []network.Feed
	// Along is the air on its way from inlet to outlet, by mass: one mix for
	// each step.
	Along [][]network.Feed
	// Climb is how far each step of Along climbs, as a share of the box's
	// height.
	Climb []float64
	// Bore is the cross section of each step, m2; zero where its speeding up is
	// not counted.
	Bore []float64
	// Parts are the nets of tubes, strips and boxes, side by side or one after the other, each in segments of its own; then Airs
	// is empty, and Along, Outlet and LeakOut count segments over all of them, as do the feeds of a part from its first on.
	Parts []AirNet
	// Classes are the branches between two headers that are taken as alike. Branched says which steps of Along are in them, and
	// Inner which are in the tubes between headers of their own.
	Classes         []class
	Branched, Inner []bool
	// Flows are those of the branches, kg/s.
	Flows []float64
}

// still says whether no air moves.
func (n *AirNet) still() bool { return len(n.Airs) == 0 && len(n.Parts) == 0 }

// A Join is metal between two layers behind the covers, W/m2K of aperture.
type Join struct {
	// A and B are layers that metal joins, counted from the first behind the
	// covers.
	A, B int
	// G is the conductance between them, W/m2K of aperture.
	G float64
}

// Passages is what makes a family: layers, where air runs between them, and
// the pressure it costs.
type Passages struct {
	// Layers are what lies behind the covers, from the glass to the back.
	Layers []Layer
	// Air makes the nodes for a flow.
	Air func(Flow) AirNet
	// Elements are the pressure losses on the way.
	Elements []airflow.Element
	// Joins are conduction between layers, such as through the walls of a tube.
	Joins []Join
	// Ways are the passages that the air takes between layers, for a box in
	// which it stands.
	Ways []passage
	// Spread is each segment's share of the length where the air's way is cut
	// into so many that are not alike; nil cuts it evenly.
	Spread func(segments int) []float64
	// Ports are the depths of the spaces that inlet and outlet open into, m.
	Ports [2]float64
	// Strips shares the air among equal strips side by side across the box or among its equal tubes, kg/s; nil where it spreads
	// evenly.
	Strips func(Flow) []float64
	// branches is how many of them there are, and classes in how many classes they are taken.
	branches, classes int
	// tubes says that the strips are tubes.
	tubes bool
	// shared is how many groups of passages all air takes together before it comes to them.
	shared int
	// Evenness is the least over the mean flow; nil where it means nothing.
	Evenness func(Flow) float64
	// RoomSide is the coefficient from the last layer to the room where the
	// box hangs indoors, for their temperatures, the height in m and Pa.
	RoomSide func(layer, room, height, p float64) float64
}

// Description is a whole box as the solver needs it.
type Description struct {
	// Width and Height are the aperture of one box, m.
	Width, Height float64
	// Cells are the segments of one box's way; zero means [Segments].
	Cells int
	// Boxes are how many equal boxes there are; zero means one.
	Boxes int
	// Series says that they lie one after the other, and not side by side.
	Series bool
	// Gross is the area of all boxes with their frames, m2.
	Gross float64
	// Sheets are the covers, from the outside in; what follows is by cover as
	// well.
	Sheets        []optics.Sheet
	CoverInfrared []optics.Layer
	CoverService  []float64
	CoverMaterial []string
	// CoverStore is the heat that each cover takes up, J/m2K.
	CoverStore []float64
	// Between is the air behind each cover but the last, m.
	Between []float64
	// Webs is the conductance of what crosses that air, W/m2K, as in twin-wall
	// sheets.
	Webs []float64
	// Wave is the surface of the outer cover over its plan; 1 is flat.
	Wave float64
	// Dirt is the share of the sun that it keeps out, and Takes what it was measured to take in
	// over what is computed.
	Dirt, Takes float64
	// Walls is the reflectance of the side walls for the sun.
	Walls float64
	// Depth is from the inner cover to the absorber, m.
	Depth    float64
	Passages Passages
	// BackR is the resistance of foam and board, from the lining to the outside
	// of the back, m2K/W.
	BackR func(Tuning) float64
	// Mount is what lies behind the back: a wall, a rack, or nothing where the
	// box hangs indoors.
	Mount string
	// WallR is from the wall's outer face to the room, m2K/W.
	WallR float64
	// EdgeUA is the loss through the edges of one box, W/K.
	EdgeUA func(Tuning) float64
	// Seam is the leakage of all seams, m3/s at 1 Pa; it grows as the pressure
	// to the power of 0.65.
	Seam float64
	// Cold and Hot are the duct's elements before and behind the box.
	Cold, Hot []airflow.Element
	// bend is the loss coefficient of a right angle of this duct.
	bend float64
	Fan  airflow.Fan
	// FanAtHot says that the fan pulls at the outlet.
	FanAtHot bool
	// Natural says that warmth alone moves the air.
	Natural bool
	// Riser is the height of warm duct above the box, m.
	Riser float64
	// Indoors says that the box hangs behind the room's own window.
	Indoors bool
	// Stages are fans that join in one after the other; below two means one.
	Stages int
	// Strength is the share of its rated curve that the fan was measured to reach.
	Strength float64
	// Panel drives the fan in place of the mains; nil without.
	Panel *PanelDrive
	// FromOutdoors says that the inlet lies outdoors.
	FromOutdoors bool
	// VentCp is the pressure coefficient of the wind on an outdoor vent.
	VentCp float64
	// Conductance of the ducts that lie outdoors, W/K.
	ColdOut, HotOut float64

	row *row // boxes side by side between headers; nil without

	guard *guard // of its materials while the fan stands still; nil without
}

// PanelDrive is a PV panel that turns the fan.
type PanelDrive struct {
	// Diode is the panel's curve, and Motor what the fan draws at a voltage.
	Diode airflow.Diode
	Motor airflow.Motor
	// Ohm is the resistance of the wires, there and back.
	Ohm float64
	// Battery is in Wh; above zero the fan runs at its rated voltage.
	Battery float64
}

// Staged returns the box with only so many of its staged fans running, 1 or 2;
// one whose fans run together, or that has one, is returned as it is.
func (d *Description) Staged(fans int) *Description {
	if d.Stages < 2 || fans >= d.Stages {
		return d
	}
	x := *d
	x.Fan.Beside = fans
	return &x
}

// FanSpeed is the share of full speed at which the box's fan turns: 1 on the
// mains or a battery, else what its panel gives in the sun; 0 where it stands.
func (d *Description) FanSpeed(c Conditions) float64 {
	pv := d.Panel
	if pv == nil || pv.Battery > 0 {
		return 1
	}
	return d.panelSpeed(c.Sun.Total(), c.Ambient)
}

// cellsWarm is how much warmer a panel's cells run in full sun, K. Common
// practice, no source.
const cellsWarm = 25.0

// panelSpeed is that of the fan for a sun in the glass's own plane, W/m2.
func (d *Description) panelSpeed(g, ambient float64) float64 {
	pv := d.Panel
	speed, _ := pv.Motor.Run(pv.Diode, g, ambient+cellsWarm*g/1000, pv.Ohm)
	return speed
}

// boxes is the number of boxes that share the same air or follow one another,
// at least one.
func (d *Description) boxes() float64 { return max(1, float64(d.Boxes)) }

// cells is how many pieces the air's way is cut into in each part.
func (d *Description) cells() int { return d.branching().cells() }

// segments is how many there are in all parts.
func (d *Description) segments() int { return d.cells() * len(d.parts()) }

// Ways is how many ways of the air a balance follows: boxes, classes of tubes and strips. What a balance costs grows with it.
func (d *Description) Ways() int { return len(d.parts()) }

// inSeries is how many boxes the air passes one after the other.
func (d *Description) inSeries() int {
	if d.Series && d.Boxes > 1 {
		return d.Boxes
	}
	return 1
}

// A part is what the balance takes as one way of the air from end to end of a box: a box, or a class of its tubes or
// strips, of boxes in a row the same of each class of them.
type part struct {
	// of is the box, and share the part's share of all the area.
	of    *Description
	share float64
}

// parts are those of a heater in the order of their segments.
func (d *Description) parts() []part { return d.branching().parts() }

// spread is each segment's share of all the area; nil where they are alike.
func (d *Description) spread() (shares []float64) {
	parts := d.parts()
	if len(parts) == 1 && d.Passages.Spread == nil {
		return nil
	}
	n := d.cells()
	for _, p := range parts {
		own := slices.Repeat([]float64{1 / float64(n)}, n)
		if cut := p.of.Passages.Spread; cut != nil {
			own = cut(n)
		}
		for _, s := range own {
			shares = append(shares, s*p.share)
		}
	}
	return shares
}

// Aperture is the area of all boxes that lets sun in, m2.
func (d *Description) Aperture() float64 { return d.branching().aperture() }

// Loss coefficients of the ways in and out, on the velocity pressure in the
// duct. ASHRAE Fundamentals, duct design (recalled from memory); bends and
// flap: common practice, no source.
const (
	lossEntrance = 0.5
	lossExit     = 1.0
	lossBendHard = 0.3
	lossBendFlex = 0.6
	lossFlap     = 1.5
)

// Specific heats, J/kgK: glass, clear plastics, foam and wool; wood. EN ISO
// 10456 (recalled from memory).
const (
	heatGlass   = 840.0
	heatPlastic = 1250.0
	heatFoam    = 1400.0
	heatWood    = 1600.0
)

// coverHeat is the specific heat of a glazing of some density in kg/m3, J/kgK:
// above 2000 it is glass, below it is plastic.
func coverHeat(density float64) float64 {
	if density > 2000 {
		return heatGlass
	}
	return heatPlastic
}

// sealed is the loss coefficient of a shut flap's seat: a hundredth of the open
// duct. standing that of a fan that does not turn. Common practice, no source.
const (
	sealed      = 1e4
	standingFan = 12
)

// flapLoss, filterLoss: common practice, no source, on the speed in the duct.
var (
	flapLoss   = map[string]float64{"none": 0, "membrane": 1.5, "spring": 3, "motor": 0.3}
	filterLoss = map[string]float64{"none": 0, "coarse": 4, "fine": 15}
	routeLoss  = map[string]float64{"wall": 0.3, "window": 1.2, "stand": 0.6, "furnace": 2}
)

const lossGrille = 2.0

// A bare duct outdoors in a light wind, W/m2K, and the wool around an
// insulated one, m and W/mK. Common practice, no source.
const (
	bareDuct = 6.0
	wrapped  = 0.025
	wool     = 0.040
)

// Describe turns a valid heater into what the solver needs.
// Nothing in it depends on weather or flow, so that one description serves a
// whole year. The error names a material that the catalog does not know.
func Describe(h *design.Heater) (Description, error) {
	d, err := describe(h)
	if err != nil {
		return d, err
	}
	if h.IsRow() {
		if d, err = d.inRow(h); err != nil {
			return d, err
		}
	}
	return d, d.protect(h)
}

// describe is [Describe] without a guard, and of a row with all boxes alike and
// wide plenums.
func describe(h *design.Heater) (Description, error) {
	d := Description{Width: h.ApertureWidth(), Height: h.ApertureHeight(), Boxes: h.Array.Boxes,
		Series: h.Array.Boxes > 1 && h.Array.Join == "series",
		Dirt:   h.Cover.Dirt, Takes: h.Cover.Takes, Strength: h.Air.FanStrength, FanAtHot: h.Air.FanSide == "outlet",
		Natural: h.Air.Drive == "natural", Riser: h.Air.Riser,
		Indoors: h.Indoors(), Depth: h.Box.Gap}
	d.Gross = h.Gross() * d.boxes()
	if s := h.Absorber.Screens; s != nil && (!s.Deflector || s.Baffle < 1) { // the crossing changes within the length too
		d.Cells = 2 * Segments
	}
	if folded, _ := h.Folded(); folded && h.Absorber.Screens != nil { // each half is cut as finely as a whole box
		d.Cells = 2 * max(Segments, d.Cells)
	}
	if err := d.glaze(h); err != nil {
		return d, err
	}
	foam, err := catalog.FindInsulation(h.Box.Foam)
	if err != nil {
		return d, err
	}
	if err := d.body(h, foam); err != nil {
		return d, err
	}
	if err := d.ducts(h); err != nil {
		return d, err
	}
	if err := d.fan(h); err != nil {
		return d, err
	}
	k, err := newMaker(h, foam)
	if err != nil {
		return d, err
	}
	bare, ok := makers[h.Absorber.Family]
	if !ok {
		return d, fmt.Errorf("no way of making is called %q", h.Absorber.Family)
	}
	p, err := bare(k)
	if err != nil {
		return d, err
	}
	d.Passages = p.curtained(h).inClasses()
	d.join()
	return d, nil
}

// makers are how each family's passages are made; the file of a family puts its own in.
var makers = design.Each("passages", map[design.Family]func(*maker) (Passages, error){})

// glaze lists the covers' layers, outermost first.
// A twin-wall sheet is two sheets with air and webs between them. A coated
// sheet has its coating on the inside. Heat stored is that of the solid part
// alone.
func (d *Description) glaze(h *design.Heater) error {
	layers := h.Cover.Layers
	between := h.Cover.Between
	if d.Indoors { // the room's own window: common practice, 12 mm between panes
		layers, between = h.Absorber.Panel.Panes, 0.012
	}
	d.Wave = 1
	for i := range layers {
		id, thick := h.Cover.Material, h.Cover.Thickness
		if i > 0 && h.Cover.Inner != "" && h.Cover.Inner != "same" && !d.Indoors {
			id = h.Cover.Inner
		}
		c, err := catalog.FindCover(id)
		if err != nil {
			return err
		}
		if id != h.Cover.Material {
			thick = c.Thickness
		}
		sheet := optics.Sheet{N: c.Index, KL: c.Extinction * thick}
		// What is neither emitted nor let through is reflected; both faces
		// alike.
		r := 1 - c.Emittance - c.Transmit
		ir := optics.Layer{Transmit: c.Transmit, ReflectFront: r, ReflectBack: r}
		if c.CoatPass > 0 {
			sheet.Coat = &optics.Layer{Transmit: c.CoatPass, ReflectFront: c.CoatReflect, ReflectBack: c.CoatReflect}
			ir.ReflectBack = 1 - c.CoatEmit
		}
		add := func() {
			d.Sheets, d.CoverInfrared = append(d.Sheets, sheet), append(d.CoverInfrared, ir)
			d.CoverService, d.CoverMaterial = append(d.CoverService, c.Service), append(d.CoverMaterial, c.ID)
			solid := thick
			if c.Form == catalog.TwinWall {
				solid = c.Wall
			}
			d.CoverStore = append(d.CoverStore, solid*c.Density*coverHeat(c.Density))
		}
		if i > 0 {
			d.Between, d.Webs = append(d.Between, between), append(d.Webs, 0)
		}
		if c.Form == catalog.Corrugated && i == 0 && c.Wave > 0 {
			d.Wave = c.Wave
		}
		if c.Form == catalog.TwinWall {
			sheet.KL = c.Extinction * c.Wall
			add()
			inside := max(0.002, thick-2*c.Wall)
			// Webs as thick as half a wall, as far apart as the sheet is thick.
			d.Between, d.Webs = append(d.Between, inside), append(d.Webs, c.Conductivity*c.Wall/2/thick/inside)
		}
		add()
	}
	return nil
}

// body sets what the box loses by its back and edges.
// The back is insulation and board in series. The edges are the lined side of
// the frame over the depth of the cavity, and the frame's own wood as a bridge
// past the insulation. Bodies of foam have no bridge; sheet metal is one unless
// foam lines it.
func (d *Description) body(h *design.Heater, foam catalog.Insulation) error {
	wood, err := catalog.FindWood(h.Box.Frame)
	if err != nil {
		return err
	}
	d.Walls = 1 - 0.95
	if h.Box.Walls == "shiny" {
		d.Walls = 1 - shinyAbsorptance
	}
	if d.Indoors {
		d.EdgeUA = func(Tuning) float64 { return 0 }
		return nil
	}
	perimeter := 2 * (d.Width + d.Height)
	metal := 0.0 // the bridge that shows where the sides of a sheet body lose their insulation
	board, side := h.Box.Board/wood.Conductivity, h.Box.FrameWidth/wood.Conductivity
	// The frame bridges the back foam's edge: its own width of wood from the
	// cavity to the outside, over half its depth.
	bridge := wood.Conductivity * h.Box.FrameWidth / max(0.02, h.FrameDepth()/2)
	switch h.Box.Body {
	case "foam":
		board, side, bridge = 0, h.Box.FrameWidth/foam.Conductivity, 0
	case "sheet": // metal keeps nothing in; where no foam lines it, it is the bridge
		board, side, bridge = 0, 0, 0
		metal = 160 * 0.001 / max(0.02, h.FrameDepth()/2)
		if h.Box.EdgeFoam == 0 {
			bridge, metal = metal, 0
		}
	}
	if h.Box.Under > 0 && h.Box.Body == "timber" { // a strip of insulation behind the bridge, as wide as the frame
		bridge = 1 / (1/bridge + h.Box.Under/(foam.Conductivity*h.Box.FrameWidth))
	}
	d.BackR = func(t Tuning) float64 { return h.Box.BackFoam/(foam.Conductivity*(1+t.Foam)) + board }
	if d.Mount, d.WallR = "wall", wallResistance(h); h.Air.Route == "stand" {
		d.Mount = "rack"
	}
	depth := h.CavityDepth()
	d.EdgeUA = func(t Tuning) float64 {
		u := 1 / (h.Box.EdgeFoam*(1-t.Edge)/(foam.Conductivity*(1+t.Foam)) + side + heattransfer.FilmOutside)
		return perimeter * (u*depth + bridge*(1+t.Foam) + metal*t.Edge)
	}
	// Two seams run around the box, the bed of the glazing and the corners at
	// the back.
	d.Seam = 2 * 2 * (h.OuterWidth() + h.OuterHeight()) * h.Box.Seam * d.boxes() // glazing bed and frame corners
	return nil
}

// What the outside of the back gives its heat to, m2K/W. Sheltered: the
// ventilated space behind a box that leans on brackets counts as a surface
// indoors (ISO 6946, well-ventilated layers). Deck: 20 mm of boards under a box
// that lies on a roof, and the air of the attic, as cold as outdoors (common
// practice, no source).
const (
	sheltered = 0.13
	deck      = 0.020/0.13 + 0.10
)

// A box on a wall lies flush against it from flush degrees up, leans on
// brackets at leaning, and lies on a roof at lying and below; between, the
// share of each goes straight.
const (
	flush   = 90.0
	leaning = 75.0
	lying   = 45.0
)

// rackFilm is the surface resistance of a back on a rack in a wind of v m/s,
// m2K/W. Source: ISO 6946 annex: 4 + 4 v and 4.6 of radiation; 0.04 at its 4
// m/s.
func rackFilm(v float64) float64 { return 1 / (4 + 4*max(0, v) + 4.6) }

// wallResistance is that of a heater's outside wall from its outer face to the
// room's air, m2K/W: the film inside, skin and wool; of a greenhouse a pane.
func wallResistance(h *design.Heater) float64 {
	if h.Room.Kind == design.Greenhouse {
		return heattransfer.FilmAcross + 0.004
	}
	return 1 / heattransfer.StudWall(h.Room.Wool(), heattransfer.FilmAcross)
}

// back returns the back's conductances to the outdoors and to the room through
// the wall that the box lies on, W/m2K.
// Between flush and leaning, and between leaning and lying, the shares of wall,
// rack and roof go over in proportion to the tilt, so that no figure jumps.
func (d *Description) back(c Conditions, t Tuning) (outdoors, room float64) {
	if d.Mount == "" {
		return 0, 0
	}
	r := d.BackR(t)
	if d.Mount == "rack" {
		return 1 / (r + rackFilm(c.Wind*math.Exp(t.Wind))), 0
	}
	onWall := max(0, min(1, (c.Tilt-leaning)/(flush-leaning)))
	onRoof := max(0, min(1, (leaning-c.Tilt)/(leaning-lying)))
	return onRoof/(r+deck) + (1-onWall-onRoof)/(r+sheltered), onWall / (r + d.WallR)
}

// WarmedByRoom says whether a box at a tilt lies on a wall that leads heat
// between it and the room.
// The year then couples the two.
func (d *Description) WarmedByRoom(tilt float64) bool {
	_, room := d.back(Conditions{Tilt: tilt}, Tuning{})
	return room > 0
}

// ducts sets the ways from the room to the box and back.
// Flexible duct that is not pulled straight costs more by
// airflow.StretchFactor. Ducts of a stand cross the open and lose heat on their
// whole surface; those through a wall do not.
func (d *Description) ducts(h *design.Heater) error {
	if d.Indoors {
		return nil
	}
	// Wind coefficients of a vent in a wall: 0.6 against the wind, -0.3 behind
	// it.
	if d.FromOutdoors = h.Air.Source == "outdoors"; d.FromOutdoors {
		d.VentCp = map[string]float64{"windward": 0.6, "leeward": -0.3}[h.Air.Vent]
	}
	duct, err := catalog.FindDuct(h.Air.Duct)
	if err != nil {
		return err
	}
	bend, stretch := lossBendFlex, 1.0
	if duct.ID == "smooth" {
		bend = lossBendHard
	}
	if duct.Flexible {
		stretch = airflow.StretchFactor(h.Air.Diameter, h.Air.Stretch)
	}
	ports := float64(max(1, h.Air.Ports))
	one := math.Pi / 4 * h.Air.Diameter * h.Air.Diameter
	d.bend = bend
	run := func(length, fittings float64) []airflow.Element {
		return []airflow.Element{airflow.Duct{Diameter: h.Air.Diameter, Area: one * ports, Length: length * stretch,
			Roughness: duct.Roughness, Fittings: fittings}}
	}
	if h.Air.Route == "stand" { // the ducts cross the open
		u := bareDuct
		if duct.ID == "insulated" {
			u = 1 / (1/bareDuct + wrapped/wool)
		}
		around := u * math.Pi * h.Air.Diameter * ports
		d.ColdOut, d.HotOut = around*h.Air.ToBox, around*(h.Air.FromBox+h.Air.Riser)
	}
	var sides [2][]airflow.Element
	for i, pieces := range d.fittings(h, bend) {
		length, k := 0.0, 0.0
		for _, p := range pieces {
			length, k = length+p.length, k+p.k
		}
		sides[i] = run(length, k)
	}
	d.Cold, d.Hot = sides[0], sides[1]
	return nil
}

// fitting is a piece of the way to the box or from it: a length of duct, or
// what loses k times the pressure of the speed in the duct.
type fitting struct {
	// name is what a reader sees; path is the field that changes it.
	name, path string
	// length is in m; k is a loss coefficient on the duct's speed.
	length, k float64
}

// fittings are the pieces before the box and after it, in the air's order.
// Each piece carries the field that changes it, so that the drawing of the path
// and its working name the same pieces as the computation.
func (d *Description) fittings(h *design.Heater, bend float64) (out [2][]fitting) {
	through, way := routeLoss[h.Air.Route], map[string]string{"wall": "through the wall", "window": "the window's insert",
		"stand": "through the wall, from the stand", "furnace": "the furnace's plenum"}[h.Air.Route]
	bends, grilles := [2]float64{h.Air.BendsIn, float64(h.Air.Bends) - h.Air.BendsIn}, [2]float64{h.Air.GrillesIn,
		float64(h.Air.Grilles) - h.Air.GrillesIn}
	if h.Air.Route == "wall" && h.Air.Bends == 0 && d.Natural { // plain holes through a wall
		through = 0
	}
	into, outOf := lossExit, lossEntrance
	if d.Boxes > 1 && h.IsRow() { // the stubs have theirs
		into, outOf = 0, 0
	}
	out[0] = []fitting{{"grille at the inlet", design.AirGrilles.Path, 0, lossGrille * grilles[0]},
		{"filter", design.AirFilter.Path, 0, filterLoss[h.Air.Filter]}, {"into the duct", design.AirDiameter.Path, 0, lossEntrance},
		{way, design.AirRoute.Path, 0, through},
		{"bends before the box", design.AirBends.Path, 0, bend * bends[0]}, {"duct to the box", design.AirToBox.Path, h.Air.ToBox, 0},
		{"entry to the box", design.AirDiameter.Path, 0, into}}
	out[1] = []fitting{{"exit of the box", design.AirDiameter.Path, 0, outOf}, {"duct from the box", design.AirFromBox.Path,
		h.Air.FromBox + h.Air.Riser, 0}, {"bends after the box", design.AirBends.Path, 0, bend * bends[1]},
		{"backdraft damper", design.AirFlap.Path, 0, flapLoss[h.Air.Flap]}, {way, design.AirRoute.Path, 0, through},
		{"grille at the outlet", design.AirGrilles.Path, 0, lossGrille * grilles[1]}, {"outlet to the room", design.AirDiameter.Path, 0,
			lossExit}}
	return out
}

// lossCurtain is that of the turn from a port into the space behind it, on the
// speed through the curtain: the port's rim times the depth it opens into.
// Common practice, no source.
const lossCurtain = 1.0

// curtained adds what it costs the air to spread from a port into a shallow
// space, and to gather from one.
func (p Passages) curtained(h *design.Heater) Passages {
	if h.Air.PortFace == "side" || h.Air.PortFace == "end" {
		return p // the air enters along the space
	}
	rim := math.Pi * h.PortBore() * float64(max(1, h.Air.Ports))
	for _, depth := range p.Ports {
		if depth > 0 && rim > 0 {
			p.Elements = append(p.Elements, airflow.Duct{Diameter: h.PortBore(), Area: rim * depth, Fittings: lossCurtain})
		}
	}
	return p
}

// Copper is the resistivity of fine-stranded copper wire for its nominal cross section,
// ohm mm2/m at 30 C. Source: IEC 60228 class 5, 19.5 ohm/km for 1 mm2 and 13.3 for 1.5 mm2
// at 20 C (recalled from memory).
const Copper = 0.0205

// fan sets what moves the air.
// A builder's own curve takes the place of the usual shape. Fans behind each
// other add pressures, beside each other flows. A fan on its panel runs where
// the panel's curve and the motor's meet.
func (d *Description) fan(h *design.Heater) error {
	if d.Natural {
		return nil
	}
	d.Fan = airflow.Fan{FreeAir: h.Air.FanFree, ShutOff: h.Air.FanShut, Power: h.Air.FanPower, Radial: h.Air.FanRadial,
		Table: h.Air.FanTable}.Fitted()
	switch {
	case h.Air.Fans > 1 && h.Air.FansJoin == "behind":
		d.Fan.Behind = h.Air.Fans
	case h.Air.Fans > 1: // staged fans stand beside each other too: rated with all of them
		d.Fan.Beside = h.Air.Fans
		if h.Air.FansJoin == "staged" {
			d.Stages = h.Air.Fans
		}
	}
	if h.Air.Drive != "panel" {
		return nil
	}
	// A small crystalline panel by its peak power: 36 cells, the usual shape.
	// Common practice, no source.
	vmp := 17.5
	imp := h.Air.PanelPeak / vmp
	diode, err := airflow.Panel{Isc: imp * 1.08, Voc: 21.6, Imp: imp, Vmp: vmp, Cells: 36}.Fit()
	if err != nil {
		return err
	}
	all := h.Air.FanPower * max(1, float64(h.Air.Fans))
	d.Panel = &PanelDrive{Diode: diode, Motor: airflow.Motor{Volts: h.Air.FanVolts, Watts: all, Stall: 0.4 * h.Air.FanVolts},
		Ohm: 2 * h.Air.Wire * Copper / h.Air.WireArea, Battery: h.Air.Battery}
	return nil
}

// join puts equal boxes together: side by side each has its share of the air,
// one after the other the second takes what the first gives.
// Boxes between headers are no part of this: see row.go.
func (d *Description) join() {
	if d.Boxes < 2 {
		return
	}
	one, elements := d.Passages.Air, d.Passages.Elements
	if d.Series {
		d.Passages.Elements = nil
		for range d.Boxes {
			d.Passages.Elements = append(d.Passages.Elements, elements...)
		}
		n := d.Boxes
		d.Passages.Air = func(f Flow) AirNet {
			f.LeakIn, f.LeakOut = f.LeakIn/float64(n), f.LeakOut/float64(n)
			var nets []AirNet
			for range n {
				nets = append(nets, one(f))
				f.Mass += f.LeakIn - f.LeakOut
			}
			return follow(nets)
		}
		return
	}
	n := float64(d.Boxes)
	d.Passages.Elements = []airflow.Element{shared{elements, n}}
	d.Passages.Air = func(f Flow) AirNet {
		f.Mass, f.LeakIn, f.LeakOut = f.Mass/n, f.LeakIn/n, f.LeakOut/n
		return times(one(f), n)
	}
}

// shared is equal ways side by side.
type shared struct {
	// of are the elements that each of n equal ways has.
	of []airflow.Element
	n  float64
}

// Loss implements [airflow.Element].
// Equal ways side by side share the mass and have one pressure drop.
func (s shared) Loss(m, t, p float64) (dp float64) {
	for _, e := range s.of {
		dp += e.Loss(m/s.n, t, p)
	}
	return dp
}

// opaque returns the layer of a surface that lets nothing through, for the sun
// at any angle and for infrared.
// It returns a painted face for sunlight of any incidence, and for infrared.
func opaque(absorptance, emittance float64) (func(float64) optics.Layer, optics.Layer) {
	sun := optics.Layer{ReflectFront: 1 - absorptance, ReflectBack: 1 - absorptance}
	return func(float64) optics.Layer { return sun }, optics.Layer{ReflectFront: 1 - emittance, ReflectBack: 1 - emittance}
}

// always is a touch whose coefficient does not follow the temperatures.
// Its film coefficient does not depend on temperatures.
func always(layer int, h float64) network.Touch {
	return network.Touch{Layer: layer, H: func(_, _ float64) float64 { return h }}
}

package design

import (
	"fmt"
	"math"

	"gladember/core/catalog"
	"gladember/core/units"
)

// inAbsorber
var (
	AbsorberFamily = choice(inAbsorber, "family", func(a *Absorber) *Family { return &a.Family }, Field{
		Label: "Kind of absorber", Choices: familyChoices, Default: constant(string(ScreenBox)),
		Help:  "What absorbs the sun, and where the air passes it.",
		Group: OwnControl,
	})
)

// inScreens
var (
	ScreensMesh = choice(inScreens, "mesh", func(s *Screens) *string { return &s.Mesh }, Field{
		Label: "Screen", Choices: catalog.Meshes, Default: constant("aluminium-screen"), When: screens,
		Help:  "The mesh that absorbs the sun.",
		Group: AbsorberGroup,
	})
	ScreensLayers = count(inScreens, "layers", func(s *Screens) *int { return &s.Layers }, Field{
		Label: "Screen layers", Kind: units.Number, Min: 1, Max: 3, Default: constant(3),
		When: screens, Help: "Screens one behind the other.",
		Group: AbsorberGroup,
	})
	ScreensSpacing = number(inScreens, "spacing_m", func(s *Screens) *float64 { return &s.Spacing }, Field{
		Label: "Screen spacing", Kind: units.Length, Min: 0.003, Max: 0.05, Default: sold(0.375, 0.010),
		When: screens, Help: "From one screen to the next.",
		Group: AbsorberGroup,
	})
	ScreensLift = number(inScreens, "lift_m", func(s *Screens) *float64 { return &s.Lift }, Field{
		Label: "Screen slant, bottom to top", Kind: units.Length, Min: 0, Max: 0.15,
		Default: sold(3, 0.080), When: screens, Help: "How much nearer to the glass the screens are at the top, so that air must " +
			"cross them all the way up.",
		Group: AbsorberGroup,
	})
	ScreensRear = number(inScreens, "rear_m", func(s *Screens) *float64 { return &s.Rear }, Field{
		Label: "Space behind the screens, bottom", Kind: units.Length, Min: 0.003, Max: 0.1,
		Default: sold(1.25, 0.030), When: screens, Help: "Air between the last screen and the back at the bottom.",
		Group: AbsorberGroup,
	})
	ScreensBypass = number(inScreens, "bypass", func(s *Screens) *float64 { return &s.Bypass }, Field{
		Label: "Bypass air", Kind: units.Share, Min: 0, Max: 0.3, Default: constant(0.10), When: screens,
		Help:  "Share of the air that passes the edges and never crosses a screen.",
		Group: AbsorberGroup,
	})
	ScreensDeflector = yesNo(inScreens, "deflector", func(s *Screens) *bool { return &s.Deflector }, Field{
		Label: "Deflector at the inlet", Default: constant(true), When: screens, Since: 5,
		Help: "A plate in front of the inlet that spreads the air over the width of the box. Without it the air comes as a jet; what " +
			"the jet costs at the glass is not computed.",
		Group: AbsorberGroup,
	})
	ScreensBaffle = number(inScreens, "baffle_open", func(s *Screens) *float64 { return &s.Baffle }, Field{
		Label: "Opening of the mid-height baffle", Kind: units.Share, Min: 0.05, Max: 1,
		Default: constant(1.0), When: screens, Since: 5,
		Help:  "A bar across the space in front of the screens at mid-height sends more air through their lower half; 100 % is no bar.",
		Group: AbsorberGroup,
	})
)

// inPlate
var (
	PlateMetal = choice(inPlate, "metal", func(p *Plate) *string { return &p.Metal }, Field{
		Label: "Plate metal", Choices: catalog.Sheets, Default: constant("aluminium"), When: plates,
		Help:  "The metal that absorbs the sun.",
		Group: AbsorberGroup,
	})
	PlateThickness = number(inPlate, "thickness_m", func(p *Plate) *float64 { return &p.Thickness }, Field{
		Label: "Plate thickness", Kind: units.Length, Min: 0.0001, Max: 0.004, Default: constant(0.0007),
		When: plates, Help: "Thickness of the plate.",
		Group: AbsorberGroup,
	})
	PlateChannel = number(inPlate, "channel_m", func(p *Plate) *float64 { return &p.Channel }, Field{
		Label: "Air channel depth", Kind: units.Length, Min: 0.005, Max: 0.15, When: channels,
		Help: "Depth of the air channel behind the plate.",
		Default: func(h *Heater) any {
			if h.Absorber.Family == PassiveBox {
				return sold(2.5, 0.060)(h)
			}
			return sold(1, 0.025)(h)
		},
		Group: AbsorberGroup,
	})
	PlateBaffles = count(inPlate, "baffles", func(p *Plate) *int { return &p.Baffles }, Field{
		Label: "Baffles", Kind: units.Number, Min: 0, Max: 7, When: made(BackPassPlate),
		Default: constant(2), Help: "Strips that send the air from side to side.",
		Group: AbsorberGroup,
	})
	PlateVanes = yesNo(inPlate, "turning_vanes", func(p *Plate) *bool { return &p.Vanes }, Field{
		Label: "Turning vanes", Default: constant(false), Since: 7,
		When: func(h *Heater) bool {
			folded, _ := h.Folded()
			return made(BackPassPlate)(h) && (h.Absorber.Plate.Baffles > 0 || folded) || folded && h.Absorber.Family == FrontPassPlate
		},
		Help:  "Bent strips that lead the air around each turn: it then costs about a third of the pressure.",
		Group: AbsorberGroup,
	})
)

// inCans
var (
	CansDiameter = number(inCans, "diameter_m", func(c *Cans) *float64 { return &c.Diameter }, Field{
		Label: "Can diameter", Kind: units.Length, Min: 0.04, Max: 0.12, Default: constant(0.066),
		When: cans, Since: 2, Help: "Diameter of one can.",
		Group: AbsorberGroup,
	})
	CansHeight = number(inCans, "height_m", func(c *Cans) *float64 { return &c.Height }, Field{
		Label: "Can height", Kind: units.Length, Min: 0.06, Max: 0.25, Default: constant(0.115), When: cans,
		Since: 2, Help: "Height of one can in the column.",
		Group: AbsorberGroup,
	})
	CansColumns = count(inCans, "columns", func(c *Cans) *int { return &c.Columns }, Field{
		Label: "Can columns", Kind: units.Number, Min: 1, Max: 40, When: cans, Since: 2,
		Help: "Columns side by side.",
		Default: func(h *Heater) any {
			return int(max(1, math.Floor((h.ApertureWidth()+0.001)/(h.Absorber.Cans.Diameter+0.001))))
		},
		Group: AbsorberGroup,
	})
	CansEnds = choice(inCans, "ends", func(c *Cans) *string { return &c.Ends }, Field{
		Label: "Can tops and bottoms", Choices: list("drilled", "drilled, three holes", "torn",
			"opened, flaps left", "cut", "cut out"), Default: constant("torn"), When: cans, Since: 2,
		Help:  "What is left of them stirs the air and causes a pressure drop.",
		Group: AbsorberGroup,
	})
	CansWall = number(inCans, "wall_m", func(c *Cans) *float64 { return &c.Wall }, Field{
		Label: "Can wall thickness", Kind: units.Length, Min: 0.00005, Max: 0.001, Default: constant(0.0001),
		When: cans, Since: 2, Help: "A drink can has about 0.1 mm.",
		Group: AbsorberGroup,
	})
)

// inPipes
var (
	PipesMetal = choice(inPipes, "metal", func(p *Pipes) *string { return &p.Metal }, Field{
		Label: "Pipe metal", Choices: catalog.Sheets, Default: constant("aluminium"), When: pipes, Since: 2,
		Help:  "What the downpipes are made of.",
		Group: AbsorberGroup,
	})
	PipesWidth = number(inPipes, "width_m", func(p *Pipes) *float64 { return &p.Width }, Field{
		Label: "Pipe width", Kind: units.Length, Min: 0.03, Max: 0.2, Default: sold(3, 0.075), When: pipes,
		Since: 2, Help: "The side that faces the sun.",
		Group: AbsorberGroup,
	})
	PipesDepth = number(inPipes, "depth_m", func(p *Pipes) *float64 { return &p.Depth }, Field{
		Label: "Pipe depth", Kind: units.Length, Min: 0.02, Max: 0.15, Default: sold(2, 0.050), When: pipes,
		Since: 2, Help: "The side that goes back into the box.",
		Group: AbsorberGroup,
	})
	PipesWall = number(inPipes, "wall_m", func(p *Pipes) *float64 { return &p.Wall }, Field{
		Label: "Pipe wall thickness", Kind: units.Length, Min: 0.0003, Max: 0.003, Default: constant(0.0005),
		When: pipes, Since: 2, Help: "Thickness of its metal.",
		Group: AbsorberGroup,
	})
	PipesCount = count(inPipes, "count", func(p *Pipes) *int { return &p.Count }, Field{
		Label: "Number of pipes", Kind: units.Number, Min: 1, Max: 30, When: pipes, Since: 2,
		Help: "Side by side.",
		Default: func(h *Heater) any {
			return int(max(1, math.Floor(h.ApertureWidth()/(h.Absorber.Pipes.Width+0.004))))
		},
		Group: AbsorberGroup,
	})
	PipesJoin = choice(inPipes, "join", func(p *Pipes) *string { return &p.Join }, Field{
		Label: "Pipe connection", Choices: list("parallel", "in parallel", "series", "in series"),
		Default: constant("parallel"), When: made(Downpipes),
		Since: 2, Help: "In series the same air passes all of them, which takes more fan pressure.",
		Group: AbsorberGroup,
	})
	PipesFins = yesNo(inPipes, "fins", func(p *Pipes) *bool { return &p.Fins }, Field{
		Label: "Flashing behind the pipes", Default: constant(true), When: pipes, Since: 2,
		Help:  "A sheet behind the pipes absorbs the sun that falls between them.",
		Group: AbsorberGroup,
	})
	PipesBehind = number(inPipes, "behind_m", func(p *Pipes) *float64 { return &p.Behind }, Field{
		Label: "Air channel behind the pipes", Kind: units.Length, Min: 0.01, Max: 0.1,
		Default: sold(1.25, 0.030), When: made(DoublePassTubes),
		Since: 2, Help: "Where the air comes down before it goes up through the pipes.",
		Group: AbsorberGroup,
	})
)

// inCoil
var (
	CoilBore = number(inCoil, "bore_m", func(c *Coil) *float64 { return &c.Bore }, Field{
		Label: "Coil bore", Kind: units.Bore, Min: 0.05, Max: 0.2, Default: constant(0.100), When: coil,
		Since: 2, Help: "Bore of the ribbed duct that is folded into the box.",
		Group: AbsorberGroup,
	})
	CoilRuns = count(inCoil, "runs", func(c *Coil) *int { return &c.Runs }, Field{
		Label: "Coil runs", Kind: units.Number, Min: 1, Max: 20, When: coil, Since: 2,
		Help: "Straight lengths side by side.",
		Default: func(h *Heater) any {
			return int(max(1, math.Floor(h.ApertureWidth()/(h.Absorber.Coil.Bore+0.015))))
		},
		Group: AbsorberGroup,
	})
	CoilWays = count(inCoil, "ways", func(c *Coil) *int { return &c.Ways }, Field{
		Label: "Coils in parallel", Kind: units.Number, Min: 1, Max: 4, Default: constant(1),
		When: coil, Since: 2, Help: "One long coil, or several short ones that share the air.",
		Group: AbsorberGroup,
	})
	CoilRib = number(inCoil, "rib_m", func(c *Coil) *float64 { return &c.Rib }, Field{
		Label: "Rib height", Kind: units.Length, Min: 0.0009, Max: 0.006, Default: constant(0.002), When: coil,
		Since: 2, Help: "Height of the ribs inside; stretched tight they are lower.",
		Group: AbsorberGroup,
	})
	CoilStretch = number(inCoil, "stretch", func(c *Coil) *float64 { return &c.Stretch }, Field{
		Label: "Coil stretch", Kind: units.Share, Min: 0.5, Max: 1, Default: constant(0.9), When: coil,
		Since: 2, Help: "Share of its full length; less leaves deeper ribs and more surface.",
		Group: AbsorberGroup,
	})
)

// inPanel
var (
	PanelPanes = count(inPanel, "panes", func(p *Panel) *int { return &p.Panes }, Field{
		Label: "Window panes", Kind: units.Number, Min: 1, Max: 3, Default: constant(2),
		When: panel, Since: 2, Help: "Panes of the room's own window in front of the panel.",
		Group: AbsorberGroup,
	})
	PanelGap = number(inPanel, "gap_m", func(p *Panel) *float64 { return &p.Gap }, Field{
		Label: "Foil to window", Kind: units.Length, Min: 0.015, Max: 0.2, Default: sold(2, 0.050),
		When: panel, Since: 2, Help: "Air rises between window and foil.",
		Group: AbsorberGroup,
	})
	PanelSlots = number(inPanel, "slots", func(p *Panel) *float64 { return &p.Slots }, Field{
		Label: "Slot opening", Kind: units.Share, Min: 0.05, Max: 1, Default: constant(0.4), When: panel,
		Since: 2, Help: "Open part of the slots at top and bottom, as a share of the gap's depth.",
		Group: AbsorberGroup,
	})
	PanelBack = choice(inPanel, "back", func(p *Panel) *string { return &p.Back }, Field{
		Label: "Room side of the foil", Choices: list("painted", "painted like the front", "bare",
			"bare metal"), Default: constant("painted"),
		When: panel, Since: 3, Help: "Bare metal keeps the foil hotter and gives more of its heat to the air.",
		Group: AbsorberGroup,
	})
)

// inOwn
var (
	OwnMetal = choice(inOwn, "metal", func(o *Own) *string { return &o.Metal }, Field{
		Label: "Absorber metal", Choices: catalog.Sheets, Default: constant("aluminium"), When: own, Since: 2,
		Help:  "What the absorber is made of.",
		Group: AbsorberGroup,
	})
	OwnWall = number(inOwn, "wall_m", func(o *Own) *float64 { return &o.Wall }, Field{
		Label: "Absorber wall thickness", Kind: units.Length, Min: 0.00005, Max: 0.005,
		Default: constant(0.0005), When: own, Since: 2, Help: "Thickness of its metal.",
		Group: AbsorberGroup,
	})
	OwnDepth = number(inOwn, "depth_m", func(o *Own) *float64 { return &o.Depth }, Field{
		Label: "Absorber depth", Kind: units.Length, Min: 0.0005, Max: 0.2, Default: sold(1.25, 0.030),
		When: own, Since: 2, Help: "From its front to its back.",
		Group: AbsorberGroup,
	})
	OwnSurface = number(inOwn, "surface", func(o *Own) *float64 { return &o.Surface }, Field{
		Label: "Front surface ratio", Kind: units.Number, Min: 1, Max: 3, Default: constant(1.15), When: own,
		Since: 2, Help: "True surface divided by its flat size: 1 is flat, 1.2 corrugated.",
		Group: AbsorberGroup,
	})
)

// inFinish
var (
	AbsorberPaint = choice(inFinish, "paint", func(a *Absorber) *string { return &a.Paint }, Field{
		Label: "Absorber paint", Choices: catalog.Paints, Default: constant("high-heat-black"),
		Help:  "How dark it is, and how hot the paint may get.",
		Group: AbsorberGroup,
	})
)

// inColumns
var (
	CansHeader = number(inColumns, "header_m", func(c *Cans) *float64 { return &c.Header }, Field{
		Label: "Header height", Kind: units.Length, Min: 0.03, Max: 0.4, Default: headerDefault, When: cans,
		Since: 2, Help: "Inside height of the chambers that feed and collect the columns. Leaving them out is the usual mistake.",
		Group: AbsorberGroup,
	})
	CansOverlap = number(inColumns, "overlap_m", func(c *Cans) *float64 { return &c.Overlap }, Field{
		Label: "Overlap of the cans",
		Words: called(0, "none"), Kind: units.Length, Min: 0, Max: 0.03, When: cans,
		Default: constant(0.0), Since: 8, Help: "How far each can stands in the one below it; none where they are glued rim to rim.",
		Group: AbsorberGroup,
	})
	CansJoint = number(inColumns, "joint_m", func(c *Cans) *float64 { return &c.Joint }, Field{
		Label: "Growth of each glued joint", Kind: units.Length, Min: 0, Max: 0.005, When: cans,
		Default: constant(0.001), Since: 8, Help: "What a bead of silicone adds to the column: measure a glued column to know it.",
		Group: AbsorberGroup,
	})
	CansPerWeek = number(inColumns, "per_week", func(c *Cans) *float64 { return &c.PerWeek }, Field{
		Label: "Cans collected in a week", Kind: units.Number, Min: 0.5, Max: 1000, When: cans,
		Default: constant(10.0), Since: 8, Help: "It tells how long it takes to collect them.",
		Group: CansGroup,
	})
	CansRows = count(inColumns, "rows", func(c *Cans) *int { return &c.Rows }, Field{
		Label: "Cans in a column", Kind: units.Number, Min: 1, Max: 40, When: cans, Since: 2,
		Help:    "Cans glued on each other between the headers.",
		Default: func(h *Heater) any { return h.Absorber.Cans.MostRows(h.ApertureHeight() - 2*h.Absorber.Cans.Header) },
		Group:   AbsorberGroup,
	})
)

// inManifold
var (
	PipesHeader = number(inManifold, "header_m", func(p *Pipes) *float64 { return &p.Header }, Field{
		Label: "Header height", Kind: units.Length, Min: 0.03, Max: 0.4, Default: headerDefault,
		When: and(pipes, func(h *Heater) bool {
			return h.Absorber.Family == DoublePassTubes || h.Absorber.Pipes == nil || h.Absorber.Pipes.Join != "series"
		}), Since: 2, Help: "Inside height of the chambers that feed and collect the pipes.",
		Group: AbsorberGroup,
	})
)

// MostPassages is how many passages an absorber of one's own may have.
const MostPassages = 4

// PassageFields are those of one passage of an absorber of one's own.
type PassageFields struct {
	Where, Way          *Of[string]
	Depth, Swept, Rough *Of[float64]
	Turns               *Of[int]
}

// OwnPassages are the fields of each passage, in the order in which the air takes them.
var OwnPassages, inPassage = declarePassages()

func declarePassages() (all [MostPassages]PassageFields, sections [MostPassages]*section[Passage]) {
	for i := range all {
		s := &section[Passage]{path: fmt.Sprintf("absorber.own.passages.%d.", i), affects: Physics | Making,
			at: func(h *Heater, _ bool) *Passage {
				if o := h.Absorber.Own; o != nil && i < len(o.Passages) {
					return &o.Passages[i]
				}
				return nil
			}}
		f := func(label, help string, f Field) Field {
			f.Label, f.Help = fmt.Sprintf("%s, passage %d", label, i+1), help
			f.When = func(h *Heater) bool { return own(h) && h.Absorber.Own != nil && i < len(h.Absorber.Own.Passages) }
			f.Since, f.Group, f.Stays = 2, AbsorberGroup, true
			return f
		}
		all[i] = PassageFields{
			Where: choice(s, "where", func(p *Passage) *string { return &p.Where }, f("Position", "Where this part of the air path is.",
				Field{Choices: list("front", "in front", "inside", "inside", "behind", "behind"), Default: constant("behind")})),
			Way: choice(s, "way", func(p *Passage) *string { return &p.Way }, f("Direction", "Direction of the air in it.",
				Field{Choices: list("up", "up", "down", "down"), Default: constant("up")})),
			Depth: number(s, "depth_m", func(p *Passage) *float64 { return &p.Depth }, f("Depth",
				"Clear depth of the passage; in front, the distance from glass to absorber counts.",
				Field{Kind: units.Length, Min: 0.003, Max: 0.2, Default: constant(0.020)})),
			Swept: number(s, "swept", func(p *Passage) *float64 { return &p.Swept }, f("Swept surface ratio",
				"Surface that the air sweeps on the absorber, divided by its flat size.",
				Field{Kind: units.Number, Min: 0.5, Max: 6, Default: constant(1.0)})),
			Turns: count(s, "turns", func(p *Passage) *int { return &p.Turns }, f("U-turns", "Turns by 180 degrees in this passage.",
				Field{Kind: units.Number, Min: 0, Max: 12, Default: constant(0)})),
			Rough: number(s, "roughness_m", func(p *Passage) *float64 { return &p.Rough }, f("Roughness",
				"Height of ribs or flaps in the passage.", Field{Kind: units.Length, Min: 0, Max: 0.005, Default: constant(0.0)})),
		}
		sections[i] = s
	}
	return all, sections
}

// families in the order in which they are offered.
var families = []catalog.Choice{
	{ID: string(ScreenBox), Name: "black screens"},
	{ID: string(CanColumns), Name: "drink cans in columns"},
	{ID: string(Downpipes), Name: "downpipes"},
	{ID: string(RibbedCoil), Name: "folded ribbed duct"},
	{ID: string(BackPassPlate), Name: "back-pass plate"},
	{ID: string(FrontPassPlate), Name: "front-pass plate"},
	{ID: string(DoublePassPlate), Name: "double-pass plate"},
	{ID: string(DoublePassTubes), Name: "double-pass pipes"},
	{ID: string(WindowPanel), Name: "foil panel behind a window"},
	{ID: string(PassiveBox), Name: "box without a fan"},
	{ID: string(OwnAbsorber), Name: "your own absorber"},
}

func familyChoices() []catalog.Choice { return families }

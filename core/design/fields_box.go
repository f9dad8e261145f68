package design

import (
	"math"

	"gladember/core/catalog"
	"gladember/core/units"
)

// The mirror lid.
var (
	MirrorLength = number(inMirror, "length_m", func(m *Mirror) *float64 { return &m.Length }, Field{
		Label: "Mirror lid length",
		Words: called(0, "none"), Kind: units.Length, Min: 0, Max: 3, When: boxed, Default: constant(0.0),
		Since: 2, Help: "Length of a reflecting lid hinged at the glass, or none.",
		Group: GlazingGroup,
	})
	MirrorAngle = number(inMirror, "angle_deg", func(m *Mirror) *float64 { return &m.Angle }, Field{
		Label: "Mirror lid angle", Kind: units.Angle, Min: 20, Max: 175, When: mirrored, Default: constant(100.0),
		Since: 2, Help: "Angle between lid and glass: 90 is square to the glass.",
		Group: GlazingGroup,
	})
	MirrorReflectance = number(inMirror, "reflectance", func(m *Mirror) *float64 { return &m.Reflect }, Field{
		Label: "Mirror lid reflectance", Kind: units.Share, Min: 0.3, Max: 0.95, When: mirrored,
		Default: constant(0.75), Since: 2, Help: "Foil 75 %, crumpled foil 60 %, mirror 85 %.",
		Group: GlazingGroup,
	})
	MirrorHinge = choice(inMirror, "hinge", func(m *Mirror) *string { return &m.Hinge }, Field{
		Label: "Mirror lid hinge", Choices: list("bottom", "bottom", "top", "top"), When: mirrored,
		Default: constant("bottom"), Since: 2, Help: "The edge of the glass at which the lid is hinged.",
		Group: GlazingGroup,
	})
)

// The sheet of glazing.
var (
	PaneWidth = number(inPane, "width_m", func(p *Pane) *float64 { return &p.Width }, Field{
		Label: "Glazing width", Kind: units.Length, Min: 0.15, Max: 3, Default: sold(32, 0.8),
		Help:  "Width of the pane or sheet, edge to edge.",
		Group: GlazingGroup,
	})
	PaneHeight = number(inPane, "height_m", func(p *Pane) *float64 { return &p.Height }, Field{
		Label: "Glazing height", Kind: units.Length, Min: 0.15, Max: 4, Default: sold(56, 1.4),
		Help:  "Height of the pane or sheet, along the slope.",
		Group: GlazingGroup,
	})
	PaneRest = number(inPane, "rest_m", func(p *Pane) *float64 { return &p.Rest }, Field{
		Label: "Glazing overlap on the frame", Kind: units.Length, Min: 0.004, Max: 0.05, Default: sold(0.5, 0.012),
		Help:  "How far the glazing rests on the frame at each side; no sun passes there.",
		Group: GlazingGroup,
	})
)

// The glazing.
var (
	CoverCoveredFrom = count(inCover, "covered_from_month", func(c *Cover) *int { return &c.CoveredFrom }, Field{
		Label: "First month with the glass covered",
		Words: append(called(0, "none"), months...), Kind: units.Number, Min: 0, Max: 12,
		When: boxed, Default: constant(0), Since: 4,
		Help:  "First month in which a lid or shutter covers the glass, such as May.",
		Group: GlazingGroup, Affects: Sun | Making,
	})
	CoverCoveredTo = count(inCover, "covered_to_month", func(c *Cover) *int { return &c.CoveredTo }, Field{
		Label: "Last month with the glass covered",
		Words: months, Kind: units.Number, Min: 1, Max: 12,
		When:    func(h *Heater) bool { return boxed(h) && h.Cover.CoveredFrom > 0 },
		Default: func(h *Heater) any { return (h.Cover.CoveredFrom+3)%12 + 1 }, Since: 4,
		Help:  "Last month in which the lid or shutter covers the glass.",
		Group: GlazingGroup, Affects: Sun | Making,
	})
	CoverMaterial = choice(inCover, "material", func(c *Cover) *string { return &c.Material }, Field{
		Label: "Glazing", Choices: catalog.Covers, Default: constant("glass"), Help: "What the glazing is made of.",
		Group: GlazingGroup,
	})
	CoverThickness = number(inCover, "thickness_m", func(c *Cover) *float64 { return &c.Thickness }, Field{
		Label: "Glazing thickness", Kind: units.Length, Min: 0.00001, Max: 0.04, Help: "Thickness of one sheet.",
		Default: func(h *Heater) any {
			c, err := catalog.FindCover(h.Cover.Material)
			switch {
			case err != nil:
				return 0.004
			case h.SoldInInches() && c.Thickness >= 0.008:
				return 0.375 * units.MeterPerInch
			case h.SoldInInches() && c.Thickness >= 0.003:
				return 0.125 * units.MeterPerInch
			}
			return c.Thickness
		},
		Group: GlazingGroup,
	})
	CoverLayers = count(inCover, "layers", func(c *Cover) *int { return &c.Layers }, Field{
		Label: "Glazing layers", Kind: units.Number, Min: 1, Max: 3, When: boxed, Default: constant(1),
		Help:  "One sheet, or more with air between them.",
		Group: GlazingGroup,
	})
	CoverBetween = number(inCover, "between_m", func(c *Cover) *float64 { return &c.Between }, Field{
		Label: "Air gap between glazings", Kind: units.Length, Min: 0.004, Max: 0.05, Default: sold(0.625, 0.016),
		When: twoCovers, Help: "Air between two sheets.",
		Group: GlazingGroup,
	})
	CoverInner = choice(inCover, "inner", func(c *Cover) *string { return &c.Inner }, Field{
		Label: "Inner glazing", When: and(boxed, twoCovers), Choices: func() []catalog.Choice {
			return append([]catalog.Choice{{ID: "same", Name: "same as the outer one"}}, catalog.Covers()...)
		}, Default: constant("same"), Since: 2, Help: "What the sheets behind the first are made of.",
		Group: GlazingGroup,
	})
	CoverHeld = choice(inCover, "held", func(c *Cover) *string { return &c.Held }, Field{
		Label: "Glazing held by", Choices: list("stops", "stops over packing strips", "rails", "rails with a groove"),
		When: railed, Default: constant("stops"), Since: 8,
		Help: "A rail is stop and packing strip in one piece, with a rabbet for the edge of the glazing: front and back half make a " +
			"groove that the glazing slides into. It wants a table saw or a router.",
		Group: GlazingGroup,
	})
	CoverDirt = number(inCover, "dirt", func(c *Cover) *float64 { return &c.Dirt }, Field{
		Label: "Dirt on the glazing", Kind: units.Share, Min: 0, Max: 0.3, Default: constant(0.02),
		Help:  "Share of the sun that dirt keeps out; 2 % is a pane washed now and then.",
		Group: GlazingGroup,
	})
	CoverTauAlpha = number(inCover, "tau_alpha_share", func(c *Cover) *float64 { return &c.Takes }, Field{
		Label: "Absorbed sun, measured over computed", Kind: units.Share, Min: 0.3, Max: 1.2,
		Default: constant(1.0), Since: 9, Help: "100 % until a test or a log shows that the box takes in less or more of the sun than " +
			"its glazing and its paint say.",
		Group: MeasuredGroup,
	})
)

// The body and its insulation.
var (
	BoxFoam = choice(inBox, "foam", func(b *Box) *string { return &b.Foam }, Field{
		Label: "Insulation", When: boxed, Choices: catalog.Insulations, Default: constant("faced-wool"),
		Help:  "Behind and beside the absorber. Mineral wool withstands the heat of a noon with the fan off; foams seldom do.",
		Group: InsulationGroup,
	})
	BoxBackFoam = number(inBox, "back_foam_m", func(b *Box) *float64 { return &b.BackFoam }, Field{
		Label: "Back insulation", When: boxed, Kind: units.Length, Min: 0, Max: 0.15, Default: sold(2, 0.050),
		Help:  "Thickness of the insulation on the back.",
		Group: InsulationGroup,
	})
	BoxEdgeFoam = number(inBox, "edge_foam_m", func(b *Box) *float64 { return &b.EdgeFoam }, Field{
		Label: "Edge insulation", When: boxed, Kind: units.Length, Min: 0, Max: 0.1, Default: sold(0.5, 0.012),
		Help:  "Insulation that lines the frame inside; it keeps heat in and covers a strip of the glazing.",
		Group: InsulationGroup,
	})
	BoxUnderFrame = number(inBox, "under_frame_m", func(b *Box) *float64 { return &b.Under }, Field{
		Label: "Insulation under the frame", Kind: units.Length, Min: 0, Max: 0.05, Default: constant(0.0),
		When: func(h *Heater) bool { return boxed(h) && h.Box.Body == "timber" }, Since: 7,
		Help:  "A strip between the frame's back edge and the wall, so that the wood is no cold bridge.",
		Group: InsulationGroup,
	})
	BoxBoard = number(inBox, "board_m", func(b *Box) *float64 { return &b.Board }, Field{
		Label: "Back board thickness", When: and(boxed, func(h *Heater) bool { return bodyOr(h) == "timber" }),
		Kind: units.Length, Min: 0.003, Max: 0.03, Default: sold(0.375, 0.009), Help: "Plywood that closes the back.",
		Group: InsulationGroup,
	})
	BoxStones = number(inBox, "stones_kg", func(b *Box) *float64 { return &b.Stones }, Field{
		Label: "Stones on the back",
		Words: called(0, "none"), Kind: units.Mass, Min: 0, Max: 200, When: boxed, Default: constant(0.0),
		Since: 3, Help: "Dark stones in each box that store heat past sunset and delay the start, or none.",
		Group: InsulationGroup,
	})
	BoxWalls = choice(inBox, "walls", func(b *Box) *string { return &b.Walls }, Field{
		Label: "Inside of the walls", Choices: list("black", "black", "shiny", "shiny"), Default: constant("black"),
		When: boxed, Since: 2, Help: "Black walls absorb sun; shiny ones reflect it and emit less heat.",
		Group: InsulationGroup,
	})
	BoxGap = number(inBox, "gap_m", func(b *Box) *float64 { return &b.Gap }, Field{
		Label: "Glazing to absorber", Kind: units.Length, Min: 0.008, Max: 0.12, Default: sold(1.25, 0.030),
		Help:  "Nothing hot may touch the glazing; 25 to 50 mm is usual.",
		Group: AbsorberGroup,
	})
	BoxBody = choice(inBox, "body", func(b *Box) *string { return &b.Body }, Field{
		Label: "Body", Choices: list("timber", "wood and board", "foam", "foam board", "sheet", "sheet metal"),
		Default: constant("timber"), When: boxed, Since: 2, Help: "What the box itself is made of.",
		Group: FrameGroup,
	})
	BoxBrake = number(inBox, "brake_m", func(b *Box) *float64 { return &b.Brake }, Field{
		Label: "Longest bend of the brake", Kind: units.Length, Min: 0.3, Max: 6, Default: sold(96, 2.5),
		When: func(h *Heater) bool { return boxed(h) && h.Box.Body == "sheet" }, Since: 7,
		Help:  "The tray's longest wall is bent in one piece.",
		Group: FrameGroup,
	})
	BoxFrame = choice(inBox, "frame", func(b *Box) *string { return &b.Frame }, Field{
		Label: "Frame wood", Choices: catalog.Woods,
		When: and(boxed, func(h *Heater) bool { return bodyOr(h) == "timber" }), Default: constant("softwood"),
		Help:  "What the sides are made of.",
		Group: FrameGroup,
	})
	BoxFrameWidth = number(inBox, "frame_width_m", func(b *Box) *float64 { return &b.FrameWidth }, Field{
		Label: "Frame thickness", Kind: units.Length, Min: 0.0005, Max: 0.08, When: boxed,
		Default: func(h *Heater) any {
			if bodyOr(h) == "sheet" {
				return 0.001
			}
			return sold(1.5, 0.030)(h)
		},
		Help:  "Thickness of the side boards.",
		Group: FrameGroup,
	})
	BoxSeam = number(inBox, "seam_m3_s_m", func(b *Box) *float64 { return &b.Seam }, Field{
		Label: "Seam leakage per length of seam", When: boxed, Kind: units.Leakage, Min: 0, Max: 0.001,
		Default: constant(1.2e-5), Help: "Air that leaks from each {meter|3.3 ft} of seam at {1 Pa|0.004 in w.g.}; a box caulked by " +
			"hand has about {43 L/h|1.5 cu ft/h}.",
		Group: FrameGroup,
	})
	BoxSealant = choice(inBox, "sealant", func(b *Box) *string { return &b.Sealant }, Field{
		Label: "Sealant", Choices: catalog.Sealants, Default: constant("neutral-silicone"), When: boxed, Since: 2,
		Help:  "What seals the glazing and the corners.",
		Group: FrameGroup,
	})
	BoxAdhesive = choice(inBox, "adhesive", func(b *Box) *string { return &b.Adhesive }, Field{
		Label: "Adhesive or fastener", Choices: catalog.Adhesives, Default: constant("screws"), When: boxed, Since: 2,
		Help:  "What holds insulation and absorber.",
		Group: FrameGroup,
	})
	BoxTape = choice(inBox, "tape", func(b *Box) *string { return &b.Tape }, Field{
		Label: "Tape", Choices: catalog.Tapes, Default: constant("none"), When: boxed, Since: 2,
		Help:  "What closes the joints of the insulation.",
		Group: FrameGroup,
	})
)

// What keeps the box from overheating.
var (
	GuardKind = choice(inGuard, "kind", func(g *Guard) *string { return &g.Kind }, Field{
		Label: "Overheating guard", Choices: list("none", "none", "vent", "heat-opened vent", "shutter",
			"heat-closed shutter"), Default: constant("none"), When: boxed, Since: 5,
		Help: "A vent to outdoors at the bottom and the top of the box, or a shutter over the glass, moved by the box's own heat when " +
			"the fan stands still in the sun.",
		Group: GuardGroup,
	})
	GuardActuator = choice(inGuard, "actuator", func(g *Guard) *string { return &g.Actuator }, Field{
		Label: "Actuator", Choices: list("wax", "wax cylinder", "bimetal", "bimetal strip"),
		Default: constant("wax"), When: actuated, Since: 5,
		Help:  "A wax cylinder moves all the way within about 12 K; a bimetal strip takes about 25 K.",
		Group: GuardGroup,
	})
	GuardOpens = number(inGuard, "opens_c", func(g *Guard) *float64 { return &g.Opens }, Field{
		Label: "Guard starts to open at", Kind: units.Temperature, Min: 35, Max: 150, Default: constant(75.0),
		When: actuated, Since: 5,
		Help: "Air temperature at the top of the box at which the actuator begins to move. It must be above the outlet temperature of " +
			"a running box.",
		Group: GuardGroup,
	})
	GuardArea = number(inGuard, "area_m2", func(g *Guard) *float64 { return &g.Area }, Field{
		Label: "Free area of each vent", Kind: units.Opening, Min: 0.001, Max: 1, When: vented, Since: 5,
		Help: "Clear opening of the vent at the bottom, and as much at the top, less what mesh and louvers take.",
		Default: func(h *Heater) any {
			return min(max(0.002, math.Round(0.01*h.Aperture()*1000)/1000), math.Floor(h.MostVent()*1000)/1000)
		},
		Group: GuardGroup,
	})
	GuardChimney = number(inGuard, "chimney_m", func(g *Guard) *float64 { return &g.Chimney }, Field{
		Label: "Chimney above the vent",
		Words: called(0, "none"), Kind: units.Length, Min: 0, Max: 3, When: vented, Default: constant(0.0),
		Since: 5, Help: "Height of a pipe of the same area above the top vent; its flap lets more air through.",
		Group: GuardGroup,
	})
	GuardPasses = number(inGuard, "passes", func(g *Guard) *float64 { return &g.Passes }, Field{
		Label: "Sun through the closed shutter", Kind: units.Share, Min: 0.01, Max: 0.9, When: shutter,
		Default: constant(0.15), Since: 5, Help: "Closed wooden or metal slats pass 5 to 15 %, shade cloth 20 to 50 %.",
		Group: GuardGroup,
	})
)

// How many boxes there are.
var (
	ArrayBoxes = count(inArray, "boxes", func(a *Array) *int { return &a.Boxes }, Field{
		Label: "Number of boxes", Kind: units.Number, Min: 1, Max: 24, Default: constant(1), When: boxed,
		Since: 2, Help: "All boxes on one fan.",
		Group: FrameGroup,
	})
	ArrayJoin = choice(inArray, "join", func(a *Array) *string { return &a.Join }, Field{
		Label: "Connection of the boxes", Choices: list("parallel", "in parallel", "series", "in series", "groups",
			"groups in parallel"), Default: constant("parallel"),
		When: manyBoxes, Since: 2, Help: "In parallel each box gets its own share of the air; in series all of it in turn; groups " +
			"share it, and their boxes are in series.",
		Group: FrameGroup,
	})
	ArrayGroup = count(inArray, "group", func(a *Array) *int { return &a.Group }, Field{
		Label: "Boxes in a group", Kind: units.Number, Min: 2, Max: 6, Default: constant(2), When: grouped,
		Since: 5, Help: "In series in each group.",
		Group: FrameGroup,
	})
)

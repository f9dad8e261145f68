package layout

import (
	"fmt"
	"math"

	"gladember/core/catalog"
	"gladember/core/design"
)

// Sizes around the pane, m and K. Common practice, no source.
//
// What keeps a pane in its place and lets it move. A pane rests on two setting
// blocks under its lower edge, at the quarter points, so that its weight does not
// hang in the sealant. Plastic grows several times as much as the wood around it:
// around the pane there must be room for the growth, and a screw through the sheet
// needs a slotted hole, or the sheet buckles when it is hot and cracks at the screw
// when it is cold. Strips as thick as the pane fill the frame's face beside it, so
// that the stops lie flat and the pane stands in a groove.
const (
	warmBy     = 60.0  // K from the day it is cut to a hot standstill
	glassRoom  = 0.002 // beside the pane at least
	blockLong  = 0.050
	leastStrip = 0.004 // narrower strips are left out and the room is caulked
	tapeWide   = 0.038
)

// Ripped is the material of strips that no shop sells: they come from offcuts.
const Ripped = "wood strip, ripped from offcuts"

// Growth is how much a length of a cover grows from the day it is cut to a hot
// standstill, m.
func Growth(c catalog.Cover, length float64) float64 { return c.Expansion * warmBy * length }

// bedding adds the strips and blocks beside the pane, tapes of hollow sheets and
// closures of corrugated ones. The pane's growth goes half to each side of its
// middle, but downwards it rests on its blocks.
func (l *Layout) bedding(h *design.Heater, cover catalog.Cover, wood catalog.Wood) {
	ct, edge := h.Cover.Thickness, (l.Width-h.Pane.Width)/2
	strip, room := beside(h, cover)
	if h.Box.Body != "sheet" && strip >= leastStrip && cover.Form != catalog.Film {
		if !railed(h, cover) {
			l.packing(h, wood, strip)
		}
		at := func(share float64) Place {
			return Place{edge + share*h.Pane.Width - blockLong/2, strip, 0, blockLong, room, ct, 0}
		}
		l.add(Part{Kind: SettingBlock, Group: Cover, Form: Whole, Material: "hard rubber or hardwood", Length: blockLong, Width: ct,
			Thickness: room, Places: []Place{at(0.25), at(0.75)}, Note: "under the pane at a quarter and three quarters of its width"})
	}
	switch cover.Form {
	case catalog.TwinWall:
		l.add(Part{Kind: EdgeTapeSolid, Group: Cover, Form: Whole, Material: "aluminum tape", Count: 1, Length: h.Pane.Width,
			Width: tapeWide, Note: "over the upper ends of the flutes"})
		l.add(Part{Kind: EdgeTapeVented, Group: Cover, Form: Whole, Material: "vented edge tape", Count: 1, Length: h.Pane.Width,
			Width: tapeWide, Note: "over the lower ends of the flutes: water drains, insects stay out"})
	case catalog.Corrugated:
		l.add(Part{Kind: CorrugatedClosure, Group: Cover, Form: Whole, Material: "foam closure strip", Count: 2, Length: h.Pane.Width,
			Width: h.Box.FrameWidth, Note: "in the sheet's own wave, under its upper and its lower end, bedded in sealant"})
	}
}

// beside is what lies beside the pane on the frame's face: a strip of wood, and between
// it and the pane the room to grow, m.
func beside(h *design.Heater, cover catalog.Cover) (strip, room float64) {
	room = glassRoom + Growth(cover, max(h.Pane.Width, h.Pane.Height))/2
	return (h.OuterWidth()-h.Pane.Width)/2 - room, room
}

// railed says whether rails hold the pane: where they are wanted and the frame leaves
// enough of them beside it.
func railed(h *design.Heater, cover catalog.Cover) bool {
	strip, _ := beside(h, cover)
	return h.Cover.Held == "rails" && strip >= leastStrip && cover.Form != catalog.Film
}

// stops lie on the pane's edges and on the packing strips beside it.
func (l *Layout) stops(h *design.Heater, wood catalog.Wood) {
	fw, iw, ow, oh := h.Box.FrameWidth, h.InsideWidth(), h.OuterWidth(), h.OuterHeight()
	l.add(Part{Kind: GlazingStopSide, Group: Frame, Material: wood.Name, density: wood.Density, Length: oh, Width: fw,
		Thickness: stopThickness,
		Places:    []Place{{0, 0, -stopThickness, fw, oh, stopThickness, 0}, {ow - fw, 0, -stopThickness, fw, oh, stopThickness, 0}}})
	l.add(Part{Kind: GlazingStopTopAndBottom, Group: Frame, Material: wood.Name, density: wood.Density, Length: iw, Width: fw,
		Thickness: stopThickness,
		Places:    []Place{{fw, 0, -stopThickness, iw, fw, stopThickness, 0}, {fw, oh - fw, -stopThickness, iw, fw, stopThickness, 0}}})
}

// packing fills the frame's face beside the pane, strip m wide.
func (l *Layout) packing(h *design.Heater, wood catalog.Wood, strip float64) {
	ct, long := h.Cover.Thickness, l.Width-2*strip
	l.add(Part{Kind: PackingStripSide, Group: Cover, Form: Whole, Material: Ripped, density: wood.Density, Length: l.Height,
		Width: strip, Thickness: ct, Note: "as thick as the pane, so that the stop lies flat on both",
		Places: []Place{{0, 0, 0, strip, l.Height, ct, 0}, {l.Width - strip, 0, 0, strip, l.Height, ct, 0}}})
	l.add(Part{Kind: PackingStripTopAndBottom, Group: Cover, Form: Whole, Material: Ripped, density: wood.Density,
		Length: long, Width: strip, Thickness: ct,
		Places: []Place{{strip, 0, 0, long, strip, ct, 0}, {strip, l.Height - strip, 0, long, strip, ct, 0}}})
}

// rails are stop and packing strip in one piece: the front half of the groove that the
// pane slides into; the frame's face is the back half. The rabbet is as deep as the pane
// is thick and leaves a strip m wide of the rail beside the pane. The side and the lower
// rails are fixed; the pane slides in from above, and the upper rail closes the groove.
func (l *Layout) rails(h *design.Heater, wood catalog.Wood, strip float64) {
	fw, ct, ow, oh := h.Box.FrameWidth, h.Cover.Thickness, h.OuterWidth(), h.OuterHeight()
	thick := stopThickness + ct
	iw := ow - 2*fw
	note := "rabbet along one edge, " + at(fw-strip) + " wide and " + at(ct) + " deep; "
	// The wood that the rabbet takes is missing from its weight.
	left := wood.Density * (1 - (fw-strip)*ct/(fw*thick))
	// A rail has two places: before the pane, and beside it.
	face, deep := -stopThickness, stopThickness
	l.add(Part{Kind: GroovedRailSide, Group: Frame, Form: InBars, bent: true, Material: wood.Name, density: left, Count: 2,
		Length: oh, Width: fw, Thickness: thick, Note: note + "the groove faces the pane",
		Places: []Place{{0, 0, face, fw, oh, deep, 0}, {ow - fw, 0, face, fw, oh, deep, 0}, {0, 0, 0, strip, oh, ct, 0},
			{ow - strip, 0, 0, strip, oh, ct, 0}}})
	l.add(Part{Kind: GroovedRailTopAndBottom, Group: Frame, Form: InBars, bent: true, Material: wood.Name, density: left, Count: 2,
		Length: iw, Width: fw, Thickness: thick, Note: note + "the upper one is screwed on last and comes off for the pane",
		Places: []Place{{fw, 0, face, iw, fw, deep, 0}, {fw, oh - fw, face, iw, fw, deep, 0}, {fw, 0, 0, iw, strip, ct, 0},
			{fw, oh - strip, 0, iw, strip, ct, 0}}})
}

// paneNote says how a pane is cut and held, by what it is made of.
func paneNote(h *design.Heater, cover catalog.Cover) string {
	switch cover.Form {
	case catalog.Film:
		return "add 50 mm all round to wrap it over the frame; stretch it and staple it over a batten"
	case catalog.TwinWall:
		return "flutes upright; " + movement(h, cover)
	}
	if cover.Expansion > 3e-5 {
		return movement(h, cover)
	}
	return "have its edges ground; carry it upright, and by two"
}

// movement says how much room a plastic sheet needs.
func movement(h *design.Heater, cover catalog.Cover) string {
	grows := Growth(cover, max(h.Pane.Width, h.Pane.Height))
	return fmt.Sprintf("grows by %s when it is hot: leave %s on every side, and drill holes for screws as slots %s long",
		at(round(grows)), at(round(glassRoom+grows/2)), at(round(2*grows+0.006)))
}

// round is a length to the millimeter, as a tape shows it, m.
func round(m float64) float64 { return math.Round(1000*m) / 1000 }

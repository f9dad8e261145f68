package design

import "math"

// traySlack is the room around a pane that lies in a tray of bent sheet, m.
const traySlack = 0.002

// inside is the frame's clear opening behind a pane's side: less its rest on
// boards, or a tray's own width, in which the pane lies on the lining.
// A side of the pane in m gives a side of the opening in m.
func (h *Heater) inside(side float64) float64 {
	if h.Box.Body == "sheet" && !h.Indoors() {
		return side + 2*traySlack
	}
	return side - 2*h.Pane.Rest
}

// Lining is what lies between the body's inside and the clear opening, m: the
// foam, or what a pane needs to lie on in a tray.
func (h *Heater) Lining() float64 {
	switch {
	case h.Indoors():
		return 0
	case h.Box.Body == "sheet":
		return max(h.Box.EdgeFoam, h.Pane.Rest+traySlack)
	}
	return h.Box.EdgeFoam
}

// InsideWidth is the frame's clear opening across, m.
func (h *Heater) InsideWidth() float64 { return h.inside(h.Pane.Width) }

// InsideHeight is the frame's clear opening along the slope, m.
func (h *Heater) InsideHeight() float64 { return h.inside(h.Pane.Height) }

// ApertureWidth is what is left between the lining of the frame, m.
// It is the width through which the sun reaches the absorber.
func (h *Heater) ApertureWidth() float64 { return h.InsideWidth() - 2*h.Lining() }

// ApertureHeight is what is left between the lining of the frame, m.
// It is measured along the slope of the box.
func (h *Heater) ApertureHeight() float64 { return h.InsideHeight() - 2*h.Lining() }

// Aperture is the clear opening through which the sun reaches the absorber, m2.
// Efficiencies and coefficients are per square meter of it, as in ISO
// 9806:2017, 3.4.
func (h *Heater) Aperture() float64 { return h.ApertureWidth() * h.ApertureHeight() }

// Glass is the clear opening of all boxes together, m2.
// Other boxes of a row count with their own panes.
func (h *Heater) Glass() (area float64) {
	boxes, counts := h.Kinds()
	for i := range boxes {
		area += boxes[i].Aperture() * float64(counts[i])
	}
	return area
}

// OuterWidth is the frame's outer width, m.
func (h *Heater) OuterWidth() float64 { return h.InsideWidth() + 2*h.Box.FrameWidth }

// OuterHeight is the frame's outer height, m.
func (h *Heater) OuterHeight() float64 { return h.InsideHeight() + 2*h.Box.FrameWidth }

// Gross is the area of the whole box seen from the front, m2 (ISO 9806:2017).
func (h *Heater) Gross() float64 { return h.OuterWidth() * h.OuterHeight() }

// Pitch returns the distance from one tube to the next, m, and the tubes' own
// width; zero for an absorber without tubes.
// Tubes are spread evenly over the aperture, half a gap at each side.
func (h *Heater) Pitch() (pitch, width float64) {
	r := h.record()
	if r.tubes == nil {
		return 0, 0
	}
	n, width := r.tubes(&h.Absorber)
	if n <= 0 {
		return 0, 0
	}
	return h.ApertureWidth() / float64(n), width
}

// CavityDepth is the distance from the inner cover to the back foam, m.
// It is the sum of the gap under the glazing and what the family stacks behind
// it, at the bottom of the box, where a slanted absorber needs the most.
func (h *Heater) CavityDepth() float64 {
	if r := h.record(); r.cavity != nil {
		return r.cavity(h)
	}
	return h.Box.Gap
}

// nothing is the record of a family that is not known.
var nothing = &FamilyRecord{}

// record is that of the heater's family, with its member there; an empty one for a family that is not known, or lacks its member.
func (h *Heater) record() *FamilyRecord {
	if r := h.Absorber.Family.Record(); r != nil && r.member.held(&h.Absorber) {
		return r
	}
	return nothing
}

// Ends says whether the air of a box enters at the bottom and leaves at the top, and whether on one side of it.
func (h *Heater) Ends() (bottomIn, topOut, sameSide bool) {
	if folded, fromTop := h.Folded(); folded {
		return !fromTop, fromTop, false
	}
	bottomIn, topOut = true, true
	if r := h.record(); r.ends != nil {
		bottomIn, topOut, sameSide = r.ends(&h.Absorber)
	}
	return bottomIn, topOut, sameSide || h.OneAbove()
}

// Headers is how high the headers of its tubes are inside, m; 0 without any.
func (h *Heater) Headers() float64 {
	if r := h.record(); r.headers != nil {
		return r.headers(&h.Absorber)
	}
	return 0
}

// AbsorberMetal is the sheet that the absorber is made of, by its ID in the catalog.
func (h *Heater) AbsorberMetal() string {
	if r := h.record(); r.Metal != nil {
		return r.Metal(&h.Absorber)
	}
	return "aluminium"
}

// Sprayed is the area that one coat of the absorber's paint is sprayed over, m2: faces that one can reach.
func (h *Heater) Sprayed() float64 {
	if r := h.record(); r.sprayed != nil {
		return r.sprayed(h)
	}
	return h.ApertureWidth() * h.ApertureHeight()
}

// TubeSeams is how much bead seals the tubes of one box, m.
func (h *Heater) TubeSeams() float64 {
	if r := h.record(); r.seams != nil {
		return r.seams(&h.Absorber)
	}
	return 0
}

// tubeRear is the standing air between tubes and back, m.
const tubeRear = 0.005

// TubeRear returns the standing air between tubes and back, m.
func (h *Heater) TubeRear() float64 { return tubeRear }

// airwayDepth is the member of the absorber that says how deep the airway is;
// nil where the family has none.
// Boxes of a row may differ in it.
func (h *Heater) airwayDepth() *float64 {
	if r := h.record(); r.airway != nil {
		return r.airway(h)
	}
	return nil
}

// FrameDepth is the depth of the frame's boards, from the underside of the
// outer cover to the back, m.
// Covers behind the outer one lie inside the frame and add their gaps.
func (h *Heater) FrameDepth() float64 {
	if h.Indoors() {
		return h.CavityDepth()
	}
	d := h.CavityDepth() + h.Box.BackFoam
	switch h.Box.Body {
	case "foam": // the foam is the back
	case "sheet":
		d += h.Box.FrameWidth
	default:
		d += h.Box.Board
	}
	if h.Cover.Layers > 1 {
		d += float64(h.Cover.Layers-1) * (h.Cover.Between + h.Cover.Thickness)
	}
	return d
}

// DuctArea is the free area of all ducts at one end of the box, m2; 0 for a
// heater that stands indoors and has none.
// It is what hole patterns and headers are measured against.
func (h *Heater) DuctArea() float64 {
	if h.Indoors() {
		return 0
	}
	return math.Pi / 4 * h.Air.Diameter * h.Air.Diameter * float64(max(1, h.Air.Ports))
}

// VentSlot is the height of a vent as wide as the aperture, m.
// Its free area is that of the document's guard.
func (h *Heater) VentSlot() float64 { return h.Guard.Area / h.ApertureWidth() }

// mostVentSlot is how high a vent across the box may be, m, where the cavity
// behind it is deeper. Common practice, no source.
const mostVentSlot = 0.15

// MostVent is the largest free area that a vent in the bottom or the top of the
// box may have, m2: a slot across the aperture, as high as the cavity behind it
// less what holds the flap.
func (h *Heater) MostVent() float64 {
	return max(0.001, min(mostVentSlot, h.CavityDepth()-0.005)) * h.ApertureWidth()
}

// Span is how much warmer than where it begins an actuator must get to move all
// the way, K. Common practice, no source.
func (g *Guard) Span() float64 {
	if g.Actuator == "bimetal" {
		return 25
	}
	return 12
}

// PortBore is that of a box's own ports, m: of a single box that of its duct.
func (h *Heater) PortBore() float64 {
	if h.IsRow() && h.Array.Port > 0 {
		return h.Array.Port
	}
	return h.Air.Diameter
}

// Folded says whether the air takes one half of the box and then the other, from
// one end to the other and back, and whether it begins at the top.
func (h *Heater) Folded() (folded, fromTop bool) {
	fromTop = h.Air.PortPlaces == "both-top"
	return arranged(h) && (fromTop || h.Air.PortPlaces == "both-bottom"), fromTop
}

// OneAbove says whether the outlet lies straight above the inlet.
func (h *Heater) OneAbove() bool { return arranged(h) && h.Air.PortPlaces == "same-side" }

// sideWeb is what stays at least of a board in front of a port and behind it, m.
// Common practice, no source.
const sideWeb = 0.004

// PortSpace is the depth that a port through a side or an end may open into, m
// behind the inner cover: of the inlet, or of the outlet. A port through the back
// is not held by it.
func (h *Heater) PortSpace(inlet bool) (from, to float64) {
	if folded, fromTop := h.Folded(); folded { // both ports lie where the slant leaves most room
		inlet = !fromTop
	}
	if r := h.record(); r.space != nil {
		return r.space(h, inlet)
	}
	return 0, h.CavityDepth()
}

// PortMargin is from the lining to the edge of a port, m. Common practice, no
// source.
const PortMargin = 0.030

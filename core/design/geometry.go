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
	switch a := h.Absorber; {
	case a.Cans != nil && a.Cans.Columns > 0:
		return h.ApertureWidth() / float64(a.Cans.Columns), a.Cans.Diameter
	case a.Pipes != nil && a.Pipes.Count > 0:
		return h.ApertureWidth() / float64(a.Pipes.Count), a.Pipes.Width
	case a.Coil != nil && a.Coil.Runs > 0:
		return h.ApertureWidth() / float64(a.Coil.Runs), a.Coil.Bore
	}
	return 0, 0
}

// CavityDepth is the distance from the inner cover to the back foam, m.
// It is the sum of the gap under the glazing and what the family stacks behind
// it, at the bottom of the box, where a slanted absorber needs the most.
func (h *Heater) CavityDepth() float64 {
	d := h.Box.Gap
	switch a := h.Absorber; {
	case a.Screens != nil:
		d += a.Screens.Lift + float64(a.Screens.Layers-1)*a.Screens.Spacing + a.Screens.Rear
	// The plate lies on the insulation; its air is in front.
	case a.Plate != nil && a.Family == FrontPassPlate:
		d += a.Plate.Thickness
	case a.Plate != nil:
		d += a.Plate.Thickness + a.Plate.Channel
	case a.Cans != nil:
		d += a.Cans.Diameter + tubeRear
	case a.Pipes != nil && a.Family == DoublePassTubes:
		d += a.Pipes.Depth + a.Pipes.Behind
	case a.Pipes != nil:
		d += a.Pipes.Depth + tubeRear
	case a.Coil != nil:
		d += a.Coil.Bore + tubeRear
	case a.Panel != nil:
		// A panel has only the air between window and foil.
		d = a.Panel.Gap
	case a.Own != nil:
		d += a.Own.Depth
		for _, p := range a.Own.Passages {
			// A passage behind the body adds its own depth.
			if p.Where == "behind" {
				d += p.Depth
				break
			}
		}
	}
	return d
}

// tubeRear is the standing air between tubes and back, m.
const tubeRear = 0.005

// TubeRear returns the standing air between tubes and back, m.
func (h *Heater) TubeRear() float64 { return tubeRear }

// airwayDepth is the member of the absorber that says how deep the airway is;
// nil where the family has none.
// Boxes of a row may differ in it.
func (h *Heater) airwayDepth() *float64 {
	switch a := &h.Absorber; {
	case a.Screens != nil:
		return &a.Screens.Rear
	case a.Family == FrontPassPlate:
		return &h.Box.Gap
	case a.Plate != nil:
		return &a.Plate.Channel
	case a.Pipes != nil:
		return &a.Pipes.Depth
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

// HoleShare is the open part of a can's end: drilled with three holes, torn
// open with flaps left standing, or cut clean. Common practice, no source.
func (c *Cans) HoleShare() float64 {
	return map[string]float64{"drilled": 0.28, "torn": 0.45, "cut": 0.75}[c.Ends]
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

// A hole through the back may be wider than the air path is deep: the air then turns
// through its rim. A hole through a side cannot, and must not open into the wrong one
// of two spaces.

// PortSpace is the depth that a port through a side or an end may open into, m
// behind the inner cover: of the inlet, or of the outlet. A port through the back
// is not held by it.
func (h *Heater) PortSpace(inlet bool) (from, to float64) {
	all, a := h.CavityDepth(), &h.Absorber
	if folded, fromTop := h.Folded(); folded { // both ports lie where the slant leaves most room
		inlet = !fromTop
	}
	switch {
	case a.Screens != nil && inlet: // at the bottom, in front of the screens
		// A port reaches a bore and its margin up the box, where the slant has taken some of it.
		low := min(1, (h.PortBore()+PortMargin)/h.ApertureHeight())
		return 0, h.Box.Gap + a.Screens.Lift*(1-low)
	// The last screen has come forward by the lift at the top, less what the port
	// reaches down.
	case a.Screens != nil: // at the top, behind them
		low := min(1, (h.PortBore()+PortMargin)/h.ApertureHeight())
		return h.Box.Gap + a.Screens.Lift*low + float64(a.Screens.Layers-1)*a.Screens.Spacing, all
	case a.Family == FrontPassPlate, a.Family == DoublePassPlate && !inlet:
		return 0, h.Box.Gap
	case a.Family == BackPassPlate, a.Family == DoublePassPlate:
		return h.Box.Gap + a.Plate.Thickness, all
	case a.Family == DoublePassTubes && inlet:
		return h.Box.Gap + a.Pipes.Depth, all
	case a.Family == DoublePassTubes:
		return 0, h.Box.Gap + a.Pipes.Depth
	}
	return 0, all
}

// PortMargin is from the lining to the edge of a port, m. Common practice, no
// source.
const PortMargin = 0.030

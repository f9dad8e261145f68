package design

// Guard is what heat itself opens or closes when the fan stands still in the
// sun, so that no material gets hotter than it holds.
type Guard struct {
	// Kind is none, vent or shutter.
	Kind string `json:"kind"`
	// Actuator is wax or bimetal: what moves it without power.
	Actuator string `json:"actuator"`
	// Opens is the temperature at which the actuator begins to move, C.
	Opens float64 `json:"opens_c"`
	// Area is the free area of the vent at the bottom, and of that at the top,
	// m2.
	Area float64 `json:"area_m2"`
	// Chimney is the height of a duct on the top vent, m.
	Chimney float64 `json:"chimney_m"`
	// Passes is the share of the sun that a closed shutter lets through.
	Passes float64 `json:"passes"`
}

// Mirror is a flat lid that throws sun on the glass.
type Mirror struct {
	// Length is from hinge to edge, m; 0 for no mirror. It is as wide as the
	// pane.
	Length float64 `json:"length_m"`
	// Angle is how far it is opened from the glass, degrees: 90 stands square
	// on it.
	Angle float64 `json:"angle_deg"`
	// Reflect is its reflectance for the sun, 0 to 1.
	Reflect float64 `json:"reflectance"`
	// Hinge is bottom or top.
	Hinge string `json:"hinge"`
}

// Array is a row of boxes on one fan: equal ones, or some that differ, side by
// side between two headers, one after the other, or in groups of such.
type Array struct {
	// Boxes is how many there are in all.
	Boxes int `json:"boxes"`
	// Join is parallel, series or groups.
	Join string `json:"join"`
	// Group is how many boxes lie one after the other in each group.
	Group int `json:"group"`
	// Header is the bore of the two headers, m; 0 for plenums so wide that all
	// boxes get their share.
	Header float64 `json:"header_m"`
	// Pitch is the length of a header from one branch to the next, m.
	Pitch float64 `json:"pitch_m"`
	// Return is same-end or far-end: where the outlet lies, seen from the
	// inlet.
	Return string `json:"return"`
	// Port is the bore of each box's own ports, m.
	Port float64 `json:"port_m"`
	// Balance is none or orifices.
	Balance string `json:"balance"`
	// Others are the boxes that differ from the first; they are part of Boxes.
	Others []OtherBox `json:"others,omitempty"`
}

// OtherBox are boxes of a row that differ from the first in their pane or in
// the depth of their airway.
type OtherBox struct {
	// Count is how many such boxes there are.
	Count int `json:"count"`
	// Width and Height are those of its pane, m.
	Width  float64 `json:"width_m"`
	Height float64 `json:"height_m"`
	// Depth is that of the airway, m; 0 for as in the first.
	Depth float64 `json:"depth_m"`
}

// Pane is the sheet the box is built around.
type Pane struct {
	// Width and Height are the outer size of the sheet, m.
	Width  float64 `json:"width_m"`
	Height float64 `json:"height_m"`
	// Rest is how far the sheet lies on the frame at each side, m.
	Rest float64 `json:"rest_m"`
}

// Cover is what the pane is made of, and how many lie over each other.
type Cover struct {
	// Material is a cover of the catalog.
	Material string `json:"material"`
	// Thickness is that of one sheet, m.
	Thickness float64 `json:"thickness_m"`
	// Layers is how many sheets lie over each other, 1 to 3.
	Layers int `json:"layers"`
	// Between is the air between two sheets, m.
	Between float64 `json:"between_m"`
	// Dirt is the share of the sun that dirt keeps out.
	Dirt float64 `json:"dirt"`
	// Takes is what the box was measured to take in of the sun, over what its glazing and paint
	// say.
	Takes float64 `json:"tau_alpha_share"`
	// Inner is the material of the sheets behind the first; "same" for as that
	// one.
	Inner string `json:"inner"`
	// Held says how the glazing is held: stops over packing strips, or rails with a
	// groove.
	Held string `json:"held"`
	// Months of the year, 1..12, in which a lid or shutter lies over the glass;
	// 0: none.
	CoveredFrom int `json:"covered_from_month"`
	CoveredTo   int `json:"covered_to_month"`
}

// Covered says whether a lid or shutter lies over the glass in a month, 1..12.
func (c *Cover) Covered(month int) bool { return withinMonths(month, c.CoveredFrom, c.CoveredTo) }

// withinMonths says whether a month lies between two others, both with it, over
// the turn of the year if need be; from 0 no month does.
func withinMonths(month, from, to int) bool {
	return from > 0 && (from <= to && month >= from && month <= to || from > to && (month >= from || month <= to))
}

// Box is the body.
type Box struct {
	// Gap is the least distance from cover to absorber, m.
	Gap float64 `json:"gap_m"`
	// Frame is the material of the frame, and FrameWidth its boards' thickness,
	// m.
	Frame      string  `json:"frame"`
	FrameWidth float64 `json:"frame_width_m"`
	// Foam is the insulation of the catalog.
	Foam string `json:"foam"`
	// BackFoam and EdgeFoam are its thickness at the back and at the sides, m.
	BackFoam float64 `json:"back_foam_m"`
	EdgeFoam float64 `json:"edge_foam_m"`
	// Under is the insulation between the frame's back edge and the wall, m.
	Under float64 `json:"under_frame_m"`
	// Board is the plywood back, m; 0 for none.
	Board float64 `json:"board_m"`
	// Stones is the mass of dark stones on the back, to hold heat, kg.
	Stones float64 `json:"stones_kg"`
	// Seam is what leaks at 1 Pa through each meter of seam, m3/s.
	Seam float64 `json:"seam_m3_s_m"`
	// Body is timber, foam or sheet.
	Body string `json:"body"`
	// Brake is the longest bend that the builder's sheet brake makes, m.
	Brake float64 `json:"brake_m"`
	// Walls is black or shiny: what the inside of the frame is like.
	Walls string `json:"walls"`
	// Sealant beds the glazing, Adhesive and Tape hold the insulation; each a
	// bond of the catalog.
	Sealant  string `json:"sealant"`
	Adhesive string `json:"adhesive"`
	Tape     string `json:"tape"`
}

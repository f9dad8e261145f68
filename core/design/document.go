// Package design is the heater as one document: what a person decided, what
// was defaulted for them, and which of the two each value is.
//
// Values are SI with the unit in the key, so that a script reads them as they
// stand. Beside them, entries maps a field's path to what was typed and whose
// it is. A value without an entry is ours: [Refresh] derives it again whenever
// what it follows from changes; a person's value is never touched.
//
// [Fields] is the one table of what can be decided: label, kind, range, choices
// and default of every field. Editing, validation and forms all read it.
package design

import (
	"math"

	"gladember/core/airflow"
	"gladember/core/normals"
)

// Schema is the version of the document this package writes.
const Schema = 5

// Heater is a solar air heater: where it stands, what it warms, what it is
// made of and how it is switched.
type Heater struct {
	Schema   int              `json:"schema"`
	Name     string           `json:"name"`
	Place    Place            `json:"place"`
	Climate  Climate          `json:"climate"`
	Room     Room             `json:"room"`
	Second   Second           `json:"second"`
	Money    Money            `json:"money"`
	Pane     Pane             `json:"pane"`
	Cover    Cover            `json:"cover"`
	Box      Box              `json:"box"`
	Guard    Guard            `json:"guard"`
	Mirror   Mirror           `json:"mirror"`
	Shade    Shade            `json:"shade"`
	Wall     Wall             `json:"wall"`
	Array    Array            `json:"array"`
	Absorber Absorber         `json:"absorber"`
	Air      Air              `json:"air"`
	Switch   Switch           `json:"switch"`
	Log      Log              `json:"log"`
	Entries  map[string]Entry `json:"entries,omitempty"`
}

// Entry is how a value came to be.
type Entry struct {
	Typed  string `json:"typed,omitempty"`
	Origin Origin `json:"origin"`
}

// Origin says whose a value is.
type Origin string

// The origins of a value. Ours has no entry.
const (
	Ours     Origin = "ours"
	Yours    Origin = "yours"
	Measured Origin = "measured"
)

// Place is where the glass stands and faces.
type Place struct {
	Town      string  `json:"town"`
	Latitude  float64 `json:"latitude_deg"`
	Longitude float64 `json:"longitude_deg"`
	Elevation float64 `json:"elevation_m"`
	Zone      string  `json:"zone"`
	Bearing   float64 `json:"bearing_deg"`
	Tilt      float64 `json:"tilt_deg"`
	Outdoor   float64 `json:"outdoor_c"` // on the clear winter noon it is judged by
	Wind      float64 `json:"wind_m_s"`  // at the glass
	Terrain   string  `json:"terrain"`
	Above     float64 `json:"above_ground_m"`
	Haze      float64 `json:"linke_turbidity"`
	Ground    float64 `json:"ground_reflectance"` // bare
	SnowFrom  int     `json:"snow_from_month"`    // 0: none
	SnowTo    int     `json:"snow_to_month"`
	Shore     string  `json:"shore"` // inland, or sea: within some 20 km of it
}

// Usual is the usual weather of the place, from the stations around it.
func (p *Place) Usual() normals.Estimate {
	return normals.At(p.Latitude, p.Longitude, p.Elevation, p.Shore == "sea")
}

// KnowsPlace says whether somebody said where the heater stands: a town, a
// latitude, or a fact of its weather. Until then its year would be that of
// nowhere.
func (h *Heater) KnowsPlace() bool {
	for _, path := range []string{"place.latitude_deg", "climate.coldest_c", "climate.warmest_c", "climate.sunny_days",
		"climate.sunny_winter_days"} {
		if _, given := h.Entries[path]; given {
			return true
		}
	}
	return h.Place.Town != "" || len(h.Climate.Months) == 12 || h.Climate.File != ""
}

// Albedo returns the ground's reflectance in a month, 1..12: that of old snow,
// 0.65, in months of snow. Common practice, no source.
func (p *Place) Albedo(month int) float64 {
	if withinMonths(month, p.SnowFrom, p.SnowTo) {
		return math.Max(p.Ground, 0.65)
	}
	return p.Ground
}

// Climate is what is known of the weather through a year: a table of months, or
// four facts, each of which follows from the stations around the place until it
// is given.
type Climate struct {
	Coldest float64        `json:"coldest_c"` // mean of the coldest month
	Warmest float64        `json:"warmest_c"`
	Sunny   float64        `json:"sunny_days"`        // in ten, of the three brightest months
	Winter  float64        `json:"sunny_winter_days"` // in ten, of the three darkest months
	Months  []ClimateMonth `json:"months,omitempty"`
	File    string         `json:"file"` // the sum of a file of hourly weather kept beside the document; empty: none
}

// ClimateMonth is a row of an almanac's table; what is not known is left out.
type ClimateMonth struct {
	Mean      *float64 `json:"mean_c,omitempty"`
	Min       *float64 `json:"min_c,omitempty"` // mean of the days' least
	Max       *float64 `json:"max_c,omitempty"`
	Sunshine  *float64 `json:"sunshine_h_day,omitempty"`
	Radiation *float64 `json:"radiation_mj_m2_day,omitempty"` // on the level
	Wind      *float64 `json:"wind_m_s,omitempty"`            // at the station
}

// MonthMean is the mean temperature of a month, 1..12, C: of the document's
// table, else of its coldest and warmest month and the course of the stations
// around the place.
func (h *Heater) MonthMean(month int) float64 {
	if len(h.Climate.Months) == 12 {
		switch m := h.Climate.Months[month-1]; {
		case m.Mean != nil:
			return *m.Mean
		case m.Min != nil && m.Max != nil:
			return (*m.Min + *m.Max) / 2
		}
	}
	usual := h.Place.Usual()
	means := usual.Stretched(h.Climate.Coldest, h.Climate.Warmest)
	return means[month-1]
}

// Obstacle is a piece of the horizon: from one azimuth to the next the sky
// below Elevation is hidden but for a share that shines through.
type Obstacle struct {
	From      float64 `json:"from_deg"` // azimuths, clockwise
	To        float64 `json:"to_deg"`
	Elevation float64 `json:"elevation_deg"`
	Bare      float64 `json:"through_bare"`  // share let through without leaves
	Leafy     float64 `json:"through_leafy"` // share let through in leaf
}

// Shade is what stands between the sun and the glass.
type Shade struct {
	EaveDepth float64    `json:"eave_depth_m"` // how far it reaches out over the glass
	EaveAbove float64    `json:"eave_above_m"` // from the glass's top edge up to it
	EaveOver  float64    `json:"eave_over_m"`  // how far it runs past the glass at each side
	FinLeft   float64    `json:"fin_left_m"`   // a wall standing out beside the glass, seen from the front
	FinRight  float64    `json:"fin_right_m"`
	FinBeside float64    `json:"fin_beside_m"` // from the glass's edge to it
	Horizon   []Obstacle `json:"horizon,omitempty"`
}

// Wall is where a box hangs between windows, and what stands in the wall behind
// it.
type Wall struct {
	Between float64 `json:"between_m"`    // clear wall from window to window; 0: not measured
	Left    float64 `json:"left_m"`       // from the left window to the box's edge, seen from outside
	Stud    float64 `json:"stud_m"`       // from stud to stud, centers; 0: none to mind
	First   float64 `json:"first_stud_m"` // from the left window to the first stud's center
	Width   float64 `json:"stud_width_m"`
	Sill    float64 `json:"sill_m"`   // of the windows, over the ground; 0: not measured
	Bottom  float64 `json:"bottom_m"` // of the box, over the ground
}

// Guard is what heat itself opens or closes when the fan stands still in the
// sun, so that no material gets hotter than it holds.
type Guard struct {
	Kind     string  `json:"kind"` // none, vent or shutter
	Actuator string  `json:"actuator"`
	Opens    float64 `json:"opens_c"`   // the temperature at which the actuator begins to move
	Area     float64 `json:"area_m2"`   // free area of the vent at the bottom, and of that at the top
	Chimney  float64 `json:"chimney_m"` // above the top vent
	Passes   float64 `json:"passes"`    // share of the sun that a closed shutter lets through
}

// Mirror is a flat lid that throws sun on the glass.
type Mirror struct {
	Length  float64 `json:"length_m"`  // 0: none; it is as wide as the pane
	Angle   float64 `json:"angle_deg"` // opened from the glass: 90 stands square on it
	Reflect float64 `json:"reflectance"`
	Hinge   string  `json:"hinge"` // bottom or top
}

// Array is a row of boxes on one fan: equal ones, or some that differ, side by
// side between two headers, one after the other, or in groups of such.
type Array struct {
	Boxes   int        `json:"boxes"`    // in all
	Join    string     `json:"join"`     // parallel, series or groups
	Group   int        `json:"group"`    // boxes one after the other in each group
	Header  float64    `json:"header_m"` // bore of the two headers; 0: plenums so wide that all boxes get their share
	Pitch   float64    `json:"pitch_m"`  // length of a header from one branch to the next
	Return  string     `json:"return"`   // same-end or far-end: where the outlet lies from the inlet
	Port    float64    `json:"port_m"`   // bore of each box's own ports
	Balance string     `json:"balance"`  // none or orifices
	Others  []OtherBox `json:"others,omitempty"`
}

// OtherBox are boxes of a row that differ from the first in their pane or in
// the depth of their airway.
type OtherBox struct {
	Count  int     `json:"count"`
	Width  float64 `json:"width_m"`
	Height float64 `json:"height_m"`
	Depth  float64 `json:"depth_m"` // of the airway; 0: as the first
}

// RoomKind is the sort of space a heater warms.
type RoomKind string

// The kinds of space.
const (
	LivingRoom RoomKind = "room"
	Shop       RoomKind = "shop"
	Greenhouse RoomKind = "greenhouse"
	Porch      RoomKind = "porch"
)

// Room is the space the air comes from and goes back to, told by plain
// questions. Loss, where it is known, stands in for what the questions give.
type Room struct {
	Kind       RoomKind `json:"kind"`
	Floor      float64  `json:"floor_m2"`
	Height     float64  `json:"height_m"`
	Outside    int      `json:"outside_walls"` // 0..4 of them are outdoors
	Insulation string   `json:"insulation"`    // none, little, usual or good: see [Room.Wool]
	Above      string   `json:"above"`         // heated, attic or roof
	Below      string   `json:"below"`         // heated, ground, cellar or open
	Window     float64  `json:"window_m2"`     // all of it, or a greenhouse's skin
	Glazing    string   `json:"glazing"`
	Sunny      float64  `json:"sunny_window_m2"` // part of it that looks at the noon sun
	Draughts   string   `json:"draughts"`        // tight, usual, leaky or open
	Mass       string   `json:"mass"`            // light, medium or heavy
	Gains      float64  `json:"gains_w"`         // people, lamps, machines
	Loss       float64  `json:"loss_w_k"`        // 0: by the questions
	Wanted     float64  `json:"wanted_c"`        // in the hours of use
	Otherwise  float64  `json:"otherwise_c"`
	From       float64  `json:"from_h"`
	To         float64  `json:"to_h"`
	Vent       float64  `json:"vent_c"` // above it a window is opened
	Heater     string   `json:"heater"` // a fuel of the catalog
	Bills      []Bill   `json:"bills,omitempty"`
	Air        float64  `json:"air_c"` // what the box draws in on the noon it is judged by
	Humidity   float64  `json:"humidity"`
}

// Wool is the thickness of mineral wool in the walls that the answer to the
// question for insulation stands for, m. Common practice, no source.
func (r *Room) Wool() float64 {
	return map[string]float64{"little": 0.040, "usual": 0.090, "good": 0.200}[r.Insulation]
}

// Bill is the fuel a month took, in the fuel's own unit.
type Bill struct {
	Month int     `json:"month"`
	Units float64 `json:"units"`
}

// Second is a space that warm air is moved on to, as from a basement to the
// house above.
type Second struct {
	Mover  string  `json:"mover"` // none, stairs, ceiling-fan or blower
	Floor  float64 `json:"floor_m2"`
	Loss   float64 `json:"loss_w_k"`
	Wanted float64 `json:"wanted_c"`
	Flow   float64 `json:"flow_m3_s"`
	Power  float64 `json:"power_w"`
	Height float64 `json:"opening_m"` // of the stairs' opening
}

// Money is what the box costs and what heat costs, in whatever money.
type Money struct {
	Spent       float64 `json:"spent"`       // for what was bought; salvage costs nothing
	Resale      float64 `json:"resale"`      // what the salvage would have fetched
	FuelPrice   float64 `json:"fuel_price"`  // a unit
	Electricity float64 `json:"electricity"` // a kWh
	Interest    float64 `json:"interest"`
	FuelRise    float64 `json:"fuel_rise"` // a year
	Years       float64 `json:"years"`     // the box lasts
}

// Pane is the sheet the box is built around.
type Pane struct {
	Width  float64 `json:"width_m"`
	Height float64 `json:"height_m"`
	Rest   float64 `json:"rest_m"` // how far it lies on the frame, each side
}

// Cover is what the pane is made of, and how many lie over each other.
type Cover struct {
	Material  string  `json:"material"`
	Thickness float64 `json:"thickness_m"`
	Layers    int     `json:"layers"`
	Between   float64 `json:"between_m"` // air between two covers
	Dirt      float64 `json:"dirt"`      // share of the sun that dirt keeps out
	Inner     string  `json:"inner"`     // the covers behind the first; "same" as it
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
	Gap        float64 `json:"gap_m"` // least distance from cover to absorber
	Frame      string  `json:"frame"`
	FrameWidth float64 `json:"frame_width_m"`
	Foam       string  `json:"foam"`
	BackFoam   float64 `json:"back_foam_m"`
	EdgeFoam   float64 `json:"edge_foam_m"`
	Board      float64 `json:"board_m"`   // plywood back
	Stones     float64 `json:"stones_kg"` // dark, on the back, to hold heat
	Seam       float64 `json:"seam_m3_s_m"`
	Body       string  `json:"body"`  // timber, foam or sheet
	Walls      string  `json:"walls"` // black or shiny inside
	Sealant    string  `json:"sealant"`
	Adhesive   string  `json:"adhesive"`
	Tape       string  `json:"tape"`
}

// Family names a way of making the absorber.
type Family string

// The families.
const (
	ScreenBox       Family = "screen-box"
	CanColumns      Family = "can-columns"
	Downpipes       Family = "downpipes"
	RibbedCoil      Family = "ribbed-coil"
	BackPassPlate   Family = "back-pass-plate"
	FrontPassPlate  Family = "front-pass-plate"
	DoublePassPlate Family = "double-pass-plate"
	DoublePassTubes Family = "double-pass-tubes"
	WindowPanel     Family = "window-panel"
	PassiveBox      Family = "passive-box"
	OwnAbsorber     Family = "own"
)

// Absorber is a tagged union: Family says which of the members holds.
type Absorber struct {
	Family  Family   `json:"family"`
	Paint   string   `json:"paint"`
	Screens *Screens `json:"screens,omitempty"`
	Plate   *Plate   `json:"plate,omitempty"`
	Cans    *Cans    `json:"cans,omitempty"`
	Pipes   *Pipes   `json:"pipes,omitempty"`
	Coil    *Coil    `json:"coil,omitempty"`
	Panel   *Panel   `json:"panel,omitempty"`
	Own     *Own     `json:"own,omitempty"`
}

// Screens are layers of dark mesh that the air crosses from front to back.
type Screens struct {
	Mesh    string  `json:"mesh"`
	Layers  int     `json:"layers"`
	Spacing float64 `json:"spacing_m"`
	Lift    float64 `json:"lift_m"` // how much nearer the glass they lie at the top
	Rear    float64 `json:"rear_m"` // from last screen to back at the bottom
	Bypass  float64 `json:"bypass"` // share of the air that slips around
	// A plate before the inlet spreads the air over the width; without one it
	// comes as a jet.
	Deflector bool    `json:"deflector"`
	Baffle    float64 `json:"baffle_open"` // share of the space in front that a bar half-way up leaves open; 1: no bar
}

// Plate is a dark sheet: with the air behind it, in front of it, or both.
type Plate struct {
	Metal     string  `json:"metal"`
	Thickness float64 `json:"thickness_m"`
	Channel   float64 `json:"channel_m"` // behind it
	Baffles   int     `json:"baffles"`   // in the channel behind
}

// Cans are drink cans in columns between two headers.
type Cans struct {
	Diameter float64 `json:"diameter_m"`
	Height   float64 `json:"height_m"` // of one can
	Columns  int     `json:"columns"`
	Rows     int     `json:"rows"` // cans in a column
	Ends     string  `json:"ends"` // drilled, torn or cut
	Wall     float64 `json:"wall_m"`
	Header   float64 `json:"header_m"` // height of each header, inside
}

// Pipes are rectangular downpipes standing side by side.
type Pipes struct {
	Metal  string  `json:"metal"`
	Width  float64 `json:"width_m"`
	Depth  float64 `json:"depth_m"`
	Wall   float64 `json:"wall_m"`
	Count  int     `json:"count"`
	Join   string  `json:"join"` // parallel or series; legs in series turn at the ends
	Fins   bool    `json:"fins"` // flashing behind, over the whole width
	Header float64 `json:"header_m"`
	Behind float64 `json:"behind_m"` // channel behind them, for the double pass
}

// Coil is ribbed duct folded into the box.
type Coil struct {
	Bore    float64 `json:"bore_m"`
	Runs    int     `json:"runs"`    // straight lengths side by side
	Ways    int     `json:"ways"`    // parallel coils that share the runs
	Rib     float64 `json:"rib_m"`   // roughness of the ribs
	Stretch float64 `json:"stretch"` // share of its full length it is pulled to
}

// Panel is a thin foil in a frame behind a room's own window.
type Panel struct {
	Panes int     `json:"panes"` // of the window
	Gap   float64 `json:"gap_m"`
	Slots float64 `json:"slots"` // open share of the gap's width at top and bottom
	Back  string  `json:"back"`  // its room face: painted, or bare metal
}

// FoilGauge is the thickness of a window panel's foil, m. Common practice, no
// source.
const FoilGauge = 0.00005

// Own is a builder's own absorber: a dark body with passages in front, inside
// or behind, taken by the air one after the other.
type Own struct {
	Metal    string    `json:"metal"`
	Wall     float64   `json:"wall_m"`
	Depth    float64   `json:"depth_m"` // of the body, m
	Surface  float64   `json:"surface"` // front surface over its plan: 1 flat, 1.2 corrugated
	Passages []Passage `json:"passages"`
}

// Passage is one stretch of the air's way through an absorber of one's own.
type Passage struct {
	Where string  `json:"where"` // front, inside or behind
	Way   string  `json:"way"`   // up or down
	Depth float64 `json:"depth_m"`
	Swept float64 `json:"swept"` // surface swept over the plan, on each side
	Turns int     `json:"turns"` // 180 degree turns
	Rough float64 `json:"roughness_m"`
}

// Air is the way from the room through the box and back.
type Air struct {
	Source    string             `json:"source"` // room or outdoors
	Vent      string             `json:"vent"`   // outdoors: sheltered, windward or leeward
	Drive     string             `json:"drive"`  // fan, panel (a fan on its own PV panel) or natural
	Route     string             `json:"route"`  // wall, window, stand or furnace
	Duct      string             `json:"duct"`
	Stretch   float64            `json:"stretch"` // share of its full length a flexible duct is pulled to
	Diameter  float64            `json:"diameter_m"`
	Ports     int                `json:"ports"` // equal holes at each end of the box
	ToBox     float64            `json:"to_box_m"`
	FromBox   float64            `json:"from_box_m"`
	Bends     int                `json:"bends"` // 90 degrees, both ways together
	Grilles   int                `json:"grilles"`
	BendsIn   float64            `json:"bends_before"`   // of the bends, before the box
	GrillesIn float64            `json:"grilles_before"` // of the grilles, before the box
	Filter    string             `json:"filter"`         // none, coarse or fine
	Flap      string             `json:"flap"`           // none, membrane, spring or motor
	Riser     float64            `json:"riser_m"`        // height of warm duct above the box, inside
	FanFree   float64            `json:"fan_free_air_m3_s"`
	FanShut   float64            `json:"fan_shut_off_pa"`
	FanPower  float64            `json:"fan_power_w"`
	FanRadial bool               `json:"fan_radial"`
	FanModel  string             `json:"fan"`
	FanSide   string             `json:"fan_side"` // "inlet" pushes, "outlet" pulls
	Fans      int                `json:"fans"`
	FansJoin  string             `json:"fans_join"` // beside, behind or staged
	FanVolts  float64            `json:"fan_volts"`
	FanTable  []airflow.FanPoint `json:"fan_table,omitempty"`
	PanelPeak float64            `json:"panel_w"` // of the PV panel that drives it
	Battery   float64            `json:"battery_wh"`
	Wire      float64            `json:"wire_m"` // one way
	WireArea  float64            `json:"wire_mm2"`
}

// Switch turns the fan on as the box warms.
type Switch struct {
	Kind      string  `json:"kind"`
	Close     float64 `json:"close_c"`
	Open      float64 `json:"open_c"`
	Tolerance float64 `json:"tolerance_k"`
	OnAbove   float64 `json:"on_above_k"` // differential: box over room
	OffAbove  float64 `json:"off_above_k"`
	RoomLimit float64 `json:"room_limit_c"`
	From      float64 `json:"from_h"` // timer, clock hours
	To        float64 `json:"to_h"`
	Second    float64 `json:"second_c"`   // where the second fan joins
	RunOn     float64 `json:"run_on_min"` // the fan goes on so long after its switch has opened
}

// FlowIs says where the flow comes from by which a log is read.
type FlowIs string

// What a log's flow is.
const (
	WorkedOut FlowIs = "worked-out" // fan curve against resistance
	OnLabel   FlowIs = "on-label"   // the fan's free air
	ByMeasure FlowIs = "measured"   // Flow, measured
)

// Log is how a logger's readings are turned into heat.
type Log struct {
	FlowIs FlowIs  `json:"flow_is"`
	Flow   float64 `json:"flow_m3_s"` // measured, as air of the room
	Useful float64 `json:"useful_c"`  // an hour counts as useful with the outlet above it
}

// PanelFor is the peak power of a solar panel that drives a fan well, for what
// the fan takes, W: twice that, as panels are sold. Common practice, no source.
func PanelFor(watts float64) float64 { return math.Max(5, 5*math.Ceil(2*watts/5)) }

// FreeAir is what the labels of all fans promise against nothing, m3/s.
func (h *Heater) FreeAir() float64 {
	if h.Air.Fans > 1 && h.Air.FansJoin != "behind" {
		return h.Air.FanFree * float64(h.Air.Fans)
	}
	return h.Air.FanFree
}

// MadeAs returns the family as a builder calls it.
func (h *Heater) MadeAs() string {
	for _, c := range families {
		if c.ID == string(h.Absorber.Family) {
			return c.Name
		}
	}
	return string(h.Absorber.Family)
}

// Indoors says whether the box hangs inside, behind the room's own window.
func (h *Heater) Indoors() bool { return h.Absorber.Family == WindowPanel }

// Fanned says whether a fan moves the air.
func (h *Heater) Fanned() bool { return h.Air.Drive != "natural" }

package design

import (
	"math"
	"time"

	"gladember/core/airflow"
	"gladember/core/normals"
)

// Schema is the version of the document this package writes.
const Schema = 11

// Heater is a solar air heater: where it stands, what it warms, what it is
// made of and how it is switched. With it go two documents of their own, which
// a file may leave out: its workshop and its log, see [Document].
type Heater struct {
	// Schema is the version of the document, [Schema] once it is read.
	Schema int `json:"schema"`
	// Name is the builder's own name for it, 80 letters at most.
	Name string `json:"name"`
	// Place is where the glass stands and faces.
	Place Place `json:"place"`
	// Climate is the weather through a year.
	Climate Climate `json:"climate"`
	// Room is the space that is warmed, and Second the one that warm air is
	// moved on to.
	Room   Room   `json:"room"`
	Second Second `json:"second"`
	// Money is what the box and the heating cost.
	Money Money `json:"money"`
	// Pane is the sheet of glazing that the box is built around.
	Pane  Pane  `json:"pane"`
	Cover Cover `json:"cover"`
	Box   Box   `json:"box"`
	// Guard is what keeps the box from overheating with the fan off.
	Guard  Guard  `json:"guard"`
	Mirror Mirror `json:"mirror"`
	// Shade is what stands between sun and glass.
	Shade Shade `json:"shade"`
	Wall  Wall  `json:"wall"`
	// Site is what the place asks of an installation.
	Site Site `json:"site"`
	// Array says how many boxes share the fan, and how they are joined.
	Array    Array    `json:"array"`
	Absorber Absorber `json:"absorber"`
	// Air is the way from the room through the box and back, with its fan.
	Air    Air    `json:"air"`
	Switch Switch `json:"switch"`
	// Workshop is what all heaters of a builder share.
	Workshop Workshop `json:"workshop,omitzero"`
	// Log says how readings of this heater are turned into heat.
	Log Log `json:"log,omitzero"`
	// Entries maps a field's path to how its value came to be. A path that is
	// missing means that the value is ours.
	Entries map[string]Entry `json:"entries,omitempty"`
}

// Workshop is what a builder has, whatever is built: units, money, a saw, the sizes that are sold, a place and evenings to work.
type Workshop struct {
	// Length is mm or in, Temperature C or F, and Decimal point or comma; auto for what is usual where the builder is.
	Length      string `json:"length"`
	Temperature string `json:"temperature"`
	Decimal     string `json:"decimal"`
	// Currency is the sign of money; empty for that of the country around each heater.
	Currency string `json:"currency"`
	// Cut says what the saw takes and what sizes are sold.
	Cut Cut `json:"cut"`
	// Bench is where and when things are built.
	Bench Bench `json:"bench"`
}

// Cut is what parts are cut with and from.
type Cut struct {
	// Kerf is what each cut of the saw takes, and Trim what is cut off the edges of
	// what is bought, m.
	Kerf float64 `json:"kerf_m"`
	Trim float64 `json:"trim_m"`
	// Sold are the sizes that are sold; none stands for those usual in the builder's
	// units.
	Sold []SoldSize `json:"sold,omitempty"`
}

// SoldSize is a length of board, or a sheet, that is sold.
type SoldSize struct {
	// Length and Width are in m; a board has no width.
	Length float64 `json:"length_m"`
	Width  float64 `json:"width_m,omitempty"`
	// Price is in the document's currency; 0 where it is not known.
	Price float64 `json:"price,omitempty"`
}

// Bench is where things are glued and dry, and the time that there is for it.
type Bench struct {
	// Temperature is in C, and Humidity is relative, 0 to 1.
	Temperature float64 `json:"temperature_c"`
	Humidity    float64 `json:"humidity"`
	// Days are the days of the week on which something is done, see [Bench.On]; From is the
	// clock hour at which it begins and Minutes how long it is.
	Days    string  `json:"days"`
	From    float64 `json:"from_h"`
	Minutes float64 `json:"minutes"`
	// WeekendFrom and WeekendMinutes are the same for a Saturday or a Sunday, when there is
	// daylight for what is done outdoors.
	WeekendFrom    float64 `json:"weekend_from_h"`
	WeekendMinutes float64 `json:"weekend_minutes"`
	// Helpers is how many others are there.
	Helpers int `json:"helpers"`
}

// Hours are the clock hour at which a day's work begins and how long it is, min.
func (s *Bench) Hours(d time.Weekday) (from, minutes float64) {
	if d == time.Saturday || d == time.Sunday {
		return s.WeekendFrom, s.WeekendMinutes
	}
	return s.From, s.Minutes
}

// On says whether something is done on a day of the week.
func (s *Bench) On(d time.Weekday) bool {
	weekend := d == time.Saturday || d == time.Sunday
	switch s.Days {
	case "weekdays":
		return !weekend
	case "weekend":
		return weekend
	case "two":
		return d == time.Tuesday || d == time.Thursday
	case "two-and-saturday":
		return d == time.Tuesday || d == time.Thursday || d == time.Saturday
	}
	return true
}

// Site is what the place asks of an installation: loads, and whom and what to mind.
type Site struct {
	// Gust is the speed of the three-second gust that the anchorage must hold, m/s.
	Gust float64 `json:"gust_m_s"`
	// Snow is the load of snow on the ground, Pa.
	Snow float64 `json:"snow_pa"`
	// Rented says that somebody else owns the building, OldPaint that it was painted or
	// boarded before lead and asbestos were given up, and Children that small children
	// come near the box or its outlet.
	Rented   bool `json:"rented"`
	OldPaint bool `json:"old_paint"`
	Children bool `json:"children"`
}

// Entry is how a value came to be.
type Entry struct {
	// Typed is the text as it was typed; empty where the value came from a
	// program.
	Typed string `json:"typed,omitempty"`
	// Origin is yours or measured.
	Origin Origin `json:"origin"`
	// U is the standard uncertainty of what was measured, in the field's own SI unit; 0 where
	// nothing is known of it.
	U float64 `json:"u,omitempty"`
}

// Origin says whose a value is.
type Origin string

// The origins of a value. Ours has no entry.
const (
	// Ours is a value that the program derived; it has no entry in a document.
	Ours Origin = "ours"
	// Yours was typed or chosen by the builder.
	Yours Origin = "yours"
	// Measured comes from a test of the built box, and is more certain than
	// either.
	Measured Origin = "measured"
)

// Place is where the glass stands and faces.
type Place struct {
	// Town is a name to show; position, elevation and zone stand on their own.
	Town string `json:"town"`
	// Latitude is in degrees, north positive, -66 to 66.
	Latitude float64 `json:"latitude_deg"`
	// Longitude is in degrees, east positive.
	Longitude float64 `json:"longitude_deg"`
	// Elevation is in m above sea level.
	Elevation float64 `json:"elevation_m"`
	// Zone is an IANA time zone, such as Europe/Zurich.
	Zone string `json:"zone"`
	// Bearing is the compass direction that the glass faces, degrees clockwise
	// from true north.
	Bearing float64 `json:"bearing_deg"`
	// Tilt is in degrees: 0 is flat, 90 is upright.
	Tilt float64 `json:"tilt_deg"`
	// Outdoor is the temperature on the clear winter noon that the heater is
	// judged by, C.
	Outdoor float64 `json:"outdoor_c"`
	// Wind is the speed at the glass on that noon, m/s.
	Wind float64 `json:"wind_m_s"`
	// Terrain names the surroundings, which slow the wind of a weather station.
	Terrain string `json:"terrain"`
	// Above is the height of the glass over the ground, m.
	Above float64 `json:"above_ground_m"`
	// Haze is the Linke turbidity of the air at the site.
	Haze float64 `json:"linke_turbidity"`
	// Ground is the reflectance of the bare ground before the glass.
	Ground float64 `json:"ground_reflectance"`
	// SnowFrom and SnowTo are the months, 1 to 12, in which snow lies; 0 for
	// none.
	SnowFrom int `json:"snow_from_month"`
	SnowTo   int `json:"snow_to_month"`
	// Shore is inland, or sea within some 20 km of it.
	Shore string `json:"shore"`
}

// Usual is the usual weather of the place, from the stations around it.
// It carries an uncertainty with each month (package normals).
func (p *Place) Usual() normals.Estimate {
	return normals.At(p.Latitude, p.Longitude, p.Elevation, p.Shore == "sea")
}

// KnowsPlace says whether somebody said where the heater stands: a town, a
// latitude, or a fact of its weather. Until then its year would be that of
// nowhere.
func (h *Heater) KnowsPlace() bool {
	if h.Given(PlaceLatitude) || h.Given(ClimateColdest) || h.Given(ClimateWarmest) || h.Given(ClimateSunny) ||
		h.Given(ClimateSunnyWinter) {
		return true
	}
	return h.Place.Town != "" || len(h.Climate.Months) == 12 || h.Climate.File != ""
}

// Albedo returns the ground's reflectance in a month, 1..12: that of old snow,
// 0.65, in months of snow. Common practice, no source.
func (p *Place) Albedo(month int) float64 {
	if withinMonths(month, p.SnowFrom, p.SnowTo) {
		return max(p.Ground, 0.65)
	}
	return p.Ground
}

// Climate is what is known of the weather through a year: a table of months, or
// four facts, each of which follows from the stations around the place until it
// is given.
type Climate struct {
	// Coldest and Warmest are the means of the coldest and the warmest month,
	// C.
	Coldest float64 `json:"coldest_c"`
	Warmest float64 `json:"warmest_c"`
	// Sunny is how many days in ten are sunny in the three brightest months,
	// and Winter in the three darkest.
	Sunny  float64 `json:"sunny_days"`
	Winter float64 `json:"sunny_winter_days"` // in ten, of the three darkest months
	// Months is a table from an almanac, January first: twelve rows or none.
	Months []ClimateMonth `json:"months,omitempty"`
	// File is the SHA-256 sum of a file of hourly weather kept beside the
	// document; empty for none.
	File string `json:"file"`
}

// ClimateMonth is a row of an almanac's table; what is not known is left out.
type ClimateMonth struct {
	// Mean is the month's mean temperature, C.
	Mean *float64 `json:"mean_c,omitempty"`
	// Min and Max are the means of the days' lowest and highest temperature, C.
	Min *float64 `json:"min_c,omitempty"`
	Max *float64 `json:"max_c,omitempty"`
	// Sunshine is in hours a day.
	Sunshine *float64 `json:"sunshine_h_day,omitempty"`
	// Radiation is the sun on level ground, MJ/m2 a day.
	Radiation *float64 `json:"radiation_mj_m2_day,omitempty"`
	// Wind is the mean speed at the station, m/s.
	Wind *float64 `json:"wind_m_s,omitempty"`
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
	// From and To are azimuths in degrees, clockwise from north; From is the
	// lesser.
	From float64 `json:"from_deg"`
	To   float64 `json:"to_deg"`
	// Elevation is the height over the horizon, degrees.
	Elevation float64 `json:"elevation_deg"`
	// Bare is the share of the sun let through without leaves, and Leafy in
	// leaf, 0 to 1.
	Bare  float64 `json:"through_bare"`
	Leafy float64 `json:"through_leafy"` // share let through in leaf
}

// Shade is what stands between the sun and the glass.
type Shade struct {
	// EaveDepth is how far the eave reaches out over the glass, m.
	EaveDepth float64 `json:"eave_depth_m"`
	// EaveAbove is the height from the glass's top edge to the eave, m.
	EaveAbove float64 `json:"eave_above_m"`
	// EaveOver is how far the eave runs past the glass at each side, m.
	EaveOver float64 `json:"eave_over_m"`
	// FinLeft and FinRight are walls that stand out beside the glass, seen from
	// the front, m.
	FinLeft  float64 `json:"fin_left_m"`
	FinRight float64 `json:"fin_right_m"`
	// FinBeside is from the glass's edge to such a wall, m.
	FinBeside float64 `json:"fin_beside_m"`
	// Horizon is the skyline, in pieces; what they leave out is open.
	Horizon []Obstacle `json:"horizon,omitempty"`
}

// Wall is where a box hangs between windows, and what stands in the wall behind
// it.
type Wall struct {
	// Between is the clear wall from window to window, m; 0 where it was not
	// measured.
	Between float64 `json:"between_m"`
	// Left is from the left window to the box's edge, seen from outside, m.
	Left float64 `json:"left_m"`
	// Stud is from stud to stud, center to center, m; 0 where there are none to
	// mind.
	Stud float64 `json:"stud_m"`
	// First is from the left window to the first stud's center, m.
	First float64 `json:"first_stud_m"`
	// Width is a stud's thickness, m.
	Width float64 `json:"stud_width_m"`
	// Sill is the height of the windows' sills over the ground, m; 0 where it
	// was not measured.
	Sill float64 `json:"sill_m"`
	// Bottom is the height of the box's lower edge over the ground, m.
	Bottom float64 `json:"bottom_m"`
}

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
	// Kind decides the questions and our answers to them.
	Kind RoomKind `json:"kind"`
	// Floor is the area, m2, and Height the height to the ceiling, m.
	Floor  float64 `json:"floor_m2"`
	Height float64 `json:"height_m"`
	// Outside is how many of its walls are outdoors, 0 to 4.
	Outside int `json:"outside_walls"`
	// Insulation is none, little, usual or good, see [Room.Wool].
	Insulation string `json:"insulation"`
	// Above is heated, attic or roof, and Below is heated, ground, cellar or
	// open.
	Above string `json:"above"`
	Below string `json:"below"` // heated, ground, cellar or open
	// Window is the area of all glass, m2; for a greenhouse that of its skin.
	Window float64 `json:"window_m2"`
	// Glazing names the kind of glass of the windows.
	Glazing string `json:"glazing"`
	// Sunny is the part of the windows that the noon sun reaches, m2.
	Sunny float64 `json:"sunny_window_m2"`
	// Flued says that a stove, boiler or water heater with a flue takes its air from the
	// room.
	Flued bool `json:"flued"`
	// Leakage is how much outdoor air leaks in: tight, usual, leaky or open.
	Leakage string `json:"leakage"`
	// Mass is light, medium or heavy: how much heat walls and furniture store.
	Mass string `json:"mass"`
	// Gains is the heat of people, lamps and machines, W.
	Gains float64 `json:"gains_w"`
	// Loss is the heat loss where it is known, W/K; 0 means by the questions.
	Loss float64 `json:"loss_w_k"`
	// Wanted is the temperature in the hours of use, C, and Setback that
	// outside them.
	Wanted  float64 `json:"wanted_c"`
	Setback float64 `json:"setback_c"`
	// From and To are the hours of use, clock hours.
	From float64 `json:"from_h"`
	To   float64 `json:"to_h"`
	// Vent is the temperature above which a window is opened, C.
	Vent float64 `json:"vent_c"`
	// Heater is a fuel of the catalog: what heats the space now.
	Heater string `json:"heater"`
	// FuelUnit is what that fuel is sold by, see [catalog.Fuel].
	FuelUnit string `json:"fuel_unit"`
	// Bills are months' fuel, from which the loss is fitted.
	Bills []Bill `json:"bills,omitempty"`
	// Air is the temperature of what the box draws in on the noon it is judged
	// by, C.
	Air float64 `json:"air_c"`
	// Humidity is the relative humidity of the room air, 0 to 1.
	Humidity float64 `json:"humidity"`
	// Useful is the outlet temperature from which an hour counts as useful, C.
	Useful float64 `json:"useful_c"`
}

// Wool is the thickness of mineral wool in the walls that the answer to the
// question for insulation stands for, m. Common practice, no source.
func (r *Room) Wool() float64 {
	return map[string]float64{"little": 0.040, "usual": 0.090, "good": 0.200}[r.Insulation]
}

// Bill is the fuel a month took, in the fuel's own unit.
type Bill struct {
	// Month is 1 to 12, or 0 for a usual month of the year.
	Month int `json:"month"`
	// Units is in the unit that the fuel is sold by, see [Room.FuelUnit].
	Units float64 `json:"units,omitempty"`
	// Cost is what was paid instead, in the money of the document.
	Cost float64 `json:"cost,omitempty"`
}

// Second is a space that warm air is moved on to, as from a basement to the
// house above.
type Second struct {
	// Mover is none, stairs, ceiling-fan or blower.
	Mover string `json:"mover"`
	// Floor is the area, m2.
	Floor float64 `json:"floor_m2"`
	// Loss is the heat loss, W/K.
	Loss float64 `json:"loss_w_k"`
	// Wanted is the temperature, C.
	Wanted float64 `json:"wanted_c"`
	// Flow is the air that is moved, m3/s.
	Flow float64 `json:"flow_m3_s"`
	// Power is what the mover takes, W.
	Power float64 `json:"power_w"`
	// Height is that of the stairs' opening, m.
	Height float64 `json:"opening_m"`
}

// Money is what the box costs and what heat costs, in whatever money.
type Money struct {
	// Spent is what was paid for the box; salvage costs nothing.
	Spent float64 `json:"spent"`
	// Resale is what the salvage would have fetched.
	Resale float64 `json:"resale"`
	// FuelPrice is for one unit of the fuel.
	FuelPrice float64 `json:"fuel_price"`
	// Electricity is for one kWh.
	Electricity float64 `json:"electricity"`
	// Interest and FuelRise are shares a year, 0.03 for 3 %.
	Interest float64 `json:"interest"`
	FuelRise float64 `json:"fuel_rise"` // a year
	// Years is how long the box lasts.
	Years float64 `json:"years"`
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

// Air is the way from the room through the box and back.
type Air struct {
	// Source is room or outdoors.
	Source string `json:"source"`
	// Vent, for outdoor air, is sheltered, windward or leeward.
	Vent string `json:"vent"`
	// Drive is fan, panel (a fan on its own PV panel) or natural.
	Drive string `json:"drive"`
	// Route is wall, window, stand or furnace.
	Route string `json:"route"`
	// Duct is a duct of the catalog.
	Duct string `json:"duct"`
	// Stretch is the share of its full length that a flexible duct is pulled
	// to.
	Stretch float64 `json:"stretch"`
	// Diameter is the bore of ducts and ports, m.
	Diameter float64 `json:"diameter_m"`
	// Ports is how many equal holes there are at each end of the box.
	Ports int `json:"ports"`
	// PortFace is back, side or end: what the ports go through.
	PortFace string `json:"port_face"`
	// PortPlaces is opposite, same-side, both-bottom or both-top: where the outlet
	// lies by the inlet.
	PortPlaces string `json:"port_places"`
	// ToBox and FromBox are lengths of duct, m.
	ToBox   float64 `json:"to_box_m"`
	FromBox float64 `json:"from_box_m"`
	// Bends counts those of 90 degrees on both ways together.
	Bends int `json:"bends"`
	// Grilles counts those on both ways together.
	Grilles int `json:"grilles"`
	// BendsIn is how many of the bends lie before the box, and GrillesIn how
	// many of the grilles; both may be fractions, where the split is not known.
	BendsIn   float64 `json:"bends_before"`
	GrillesIn float64 `json:"grilles_before"` // of the grilles, before the box
	// Filter is none, coarse or fine.
	Filter string `json:"filter"`
	// Flap is none, membrane, spring or motor.
	Flap string `json:"flap"`
	// Riser is the height of warm duct above the box, inside, m.
	Riser float64 `json:"riser_m"`
	// FanFree is the free air on the fan's label, m3/s.
	FanFree float64 `json:"fan_free_air_m3_s"`
	// FanShut is the fan's pressure at no flow, Pa.
	FanShut float64 `json:"fan_shut_off_pa"`
	// FanPower is what one fan takes, W.
	FanPower float64 `json:"fan_power_w"`
	// FanRadial says whether it is a blower rather than a propeller in a ring.
	FanRadial bool `json:"fan_radial"`
	// FanStrength is the share of that curve that the fan was measured to reach.
	FanStrength float64 `json:"fan_strength"`
	// FanModel is a fan of the catalog, whose figures the four above follow.
	FanModel string `json:"fan"`
	// FanSide is inlet, where the fan pushes, or outlet, where it pulls.
	FanSide string `json:"fan_side"`
	// Fans is how many there are, and FansJoin is beside, behind or staged.
	Fans     int    `json:"fans"`
	FansJoin string `json:"fans_join"` // beside, behind or staged
	// FanVolts is the voltage that the fan is made for.
	FanVolts float64 `json:"fan_volts"`
	// FanTable is the fan's own curve from its data sheet, by rising flow;
	// empty for the usual shape through free air and shut-off pressure.
	FanTable []airflow.FanPoint `json:"fan_table,omitempty"`
	// PanelPeak is the rated power of the PV panel that drives it, W.
	PanelPeak float64 `json:"panel_w"`
	// Battery is its capacity, Wh; 0 for none.
	Battery float64 `json:"battery_wh"`
	// Wire is its length one way, m, and WireArea its copper, mm2.
	Wire     float64 `json:"wire_m"`
	WireArea float64 `json:"wire_mm2"`
}

// Switch turns the fan on as the box warms.
type Switch struct {
	// Kind is snap, set-point, differential, timer or plug.
	Kind string `json:"kind"`
	// Close is the temperature that starts the fan, and Open the one that stops
	// it, C.
	Close float64 `json:"close_c"`
	Open  float64 `json:"open_c"`
	// Tolerance is by how much a snap disc may be off its label, K.
	Tolerance float64 `json:"tolerance_k"`
	// OnAbove and OffAbove are a differential controller's points over the
	// room, K.
	OnAbove  float64 `json:"on_above_k"`
	OffAbove float64 `json:"off_above_k"`
	// RoomLimit stops the fan when the room is this warm, C; 0 for no limit.
	RoomLimit float64 `json:"room_limit_c"`
	// From and To are a timer's clock hours.
	From float64 `json:"from_h"`
	To   float64 `json:"to_h"`
	// Second is where the second fan joins, C.
	Second float64 `json:"second_c"`
	// RunOn is how long the fan goes on after its thermostat has opened,
	// minutes.
	RunOn float64 `json:"run_on_min"`
}

// FlowIs says where the flow comes from by which a log is read.
type FlowIs string

// What a log's flow is.
const (
	// WorkedOut is the operating point of fan and duct, computed for each
	// reading.
	WorkedOut FlowIs = "worked-out"
	// OnLabel is the fan's free air, which is always too much; kept so that the
	// mistake can be shown.
	OnLabel FlowIs = "on-label"
	// ByMeasure is the flow that was measured at the outlet.
	ByMeasure FlowIs = "measured"
)

// Log is how a logger's readings are turned into heat.
type Log struct {
	// FlowIs says which of the three flows counts.
	FlowIs FlowIs `json:"flow_is"`
	// Flow is the measured flow, as air of the room, m3/s.
	Flow float64 `json:"flow_m3_s"`
	// InletOff, OutletOff and OutdoorOff are by how much each probe reads too high, K.
	InletOff   float64 `json:"inlet_off_k"`
	OutletOff  float64 `json:"outlet_off_k"`
	OutdoorOff float64 `json:"outdoor_off_k"`
	// ClockOff is how far the logger's clock is ahead, min, and Swapped says that its inlet is
	// the outlet.
	ClockOff float64 `json:"clock_off_min"`
	Swapped  bool    `json:"swapped"`
}

// PanelFor is the peak power of a solar panel that drives a fan well, for what
// the fan takes, W: twice that, as panels are sold. Common practice, no source.
// The smallest answer is 5 W, and larger ones come in steps of 5 W.
func PanelFor(watts float64) float64 { return max(5, 5*math.Ceil(2*watts/5)) }

// FreeAir is what the labels of all fans promise against nothing, m3/s.
// Fans one behind the other add pressure and no free air.
func (h *Heater) FreeAir() float64 {
	if h.Air.Fans > 1 && h.Air.FansJoin != "behind" {
		return h.Air.FanFree * float64(h.Air.Fans)
	}
	return h.Air.FanFree
}

// MadeAs returns the family as a builder calls it.
// An unknown family is returned as it stands.
func (h *Heater) MadeAs() string {
	if r := h.Absorber.Family.Record(); r != nil {
		return r.Name
	}
	return string(h.Absorber.Family)
}

// Indoors says whether the box hangs inside, behind the room's own window.
// It then has no ducts, no body and no insulation, and counts only against the
// sun that the bare window would have let in.
func (h *Heater) Indoors() bool { return h.Absorber.Family == WindowPanel }

// Fanned says whether a fan moves the air.
// A heater without one moves air by natural draft alone.
func (h *Heater) Fanned() bool { return h.Air.Drive != "natural" }

package design

import "gladember/core/normals"

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

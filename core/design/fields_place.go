package design

import (
	"math"
	"slices"

	"gladember/core/normals"
	"gladember/core/solar"
	"gladember/core/units"
)

// Where the glass stands and faces.
var (
	PlaceTown = text(inPlace, "town", func(p *Place) *string { return &p.Town }, Field{
		Label:   "Town",
		Default: constant(""), Help: "The nearest town sets latitude, longitude, elevation and time zone.",
		Group: OwnControl,
	})
	PlaceLatitude = number(inPlace, "latitude_deg", func(p *Place) *float64 { return &p.Latitude }, Field{
		Label: "Latitude", Kind: units.Angle, Min: -66, Max: 66, Default: constant(46.0),
		Help:  "North is positive, south negative.",
		Group: LocationGroup,
	})
	PlaceLongitude = number(inPlace, "longitude_deg", func(p *Place) *float64 { return &p.Longitude }, Field{
		Label: "Longitude", Kind: units.Angle, Min: -180, Max: 180, Default: constant(0.0),
		Help:  "East is positive, west negative.",
		Group: LocationGroup,
	})
	PlaceElevation = number(inPlace, "elevation_m", func(p *Place) *float64 { return &p.Elevation }, Field{
		Label: "Elevation", Kind: units.Distance, Min: -430, Max: 5000, Default: constant(200.0),
		Help:  "Thin air at altitude carries less heat and lets more sun through.",
		Group: LocationGroup,
	})
	PlaceZone = text(inPlace, "zone", func(p *Place) *string { return &p.Zone }, Field{
		Label:   "Time zone",
		Default: constant("UTC"), Help: "The time zone of your logger's clock, such as Europe/Zurich.",
		Group: LocationGroup,
	})
	PlaceBearing = number(inPlace, "bearing_deg", func(p *Place) *float64 { return &p.Bearing }, Field{
		Label: "Faces (bearing)", Kind: units.Angle, Min: 0, Max: 360,
		Help: "Compass direction that the glass faces, from true north: 90 is east, 180 south, 270 west.",
		Default: func(h *Heater) any {
			if h.Place.Latitude < 0 {
				return 0.0
			}
			return 180.0
		},
		Group: OrientationGroup,
	})
	PlaceTilt = number(inPlace, "tilt_deg", func(p *Place) *float64 { return &p.Tilt }, Field{
		Label: "Tilt", Kind: units.Angle, Min: 0, Max: 90, Help: "0 is flat, 90 is upright against a wall.",
		Default: func(h *Heater) any {
			return min(90, max(45, 5*math.Round((math.Abs(h.Place.Latitude)+20)/5)))
		},
		Group: OrientationGroup,
	})
	PlaceShore = choice(inPlace, "shore", func(p *Place) *string { return &p.Shore }, Field{
		Label: "Near the sea", Choices: list("inland", "no, inland", "sea", "yes"), Since: 4,
		Help: "Within about {20 km|12 miles} of the sea, winters are milder.",
		Default: func(h *Heater) any {
			if normals.BySea(h.Place.Latitude, h.Place.Longitude) {
				return "sea"
			}
			return "inland"
		},
		Group: WeatherGroup,
	})
)

// The weather through a year.
var (
	ClimateSunny = number(inClimate, "sunny_days", func(c *Climate) *float64 { return &c.Sunny }, Field{
		Label: "Sunny days in ten, summer", Kind: units.Number, Min: 0, Max: 10, Since: 3,
		Help: "How many days in ten are sunny in the three brightest months: 4 is cloudy, 6 usual, 8 a dry country.",
		Default: func(h *Heater) any {
			e := h.Place.Usual()
			return math.Round(100*normals.Mean(&e.Sunshine, normals.Bright(h.Place.Latitude))) / 10
		},
		Group: WeatherGroup,
	})
	ClimateSunnyWinter = number(inClimate, "sunny_winter_days", func(c *Climate) *float64 { return &c.Winter }, Field{
		Label: "Sunny days in ten, winter", Kind: units.Number, Min: 0, Max: 10, Since: 4,
		Help: "How many days in ten are sunny in the three darkest months: 2 is dull, 3 usual, 6 bright.",
		// A summer sunnier than the stations' goes with a sunnier winter, by a
		// little over half as much. Common practice, no source.
		Default: func(h *Heater) any {
			e := h.Place.Usual()
			more := h.Climate.Sunny/10 - normals.Mean(&e.Sunshine, normals.Bright(h.Place.Latitude))
			winter := normals.Mean(&e.Sunshine, normals.Dark(h.Place.Latitude)) + 0.6*more
			return math.Round(100*max(0, min(0.9, winter))) / 10
		},
		Group: WeatherGroup,
	})
	ClimateColdest = number(inClimate, "coldest_c", func(c *Climate) *float64 { return &c.Coldest }, Field{
		Label: "Mean of the coldest month", Kind: units.Temperature, Min: -45, Max: 35, Since: 3,
		Help:    "Mean temperature of the coldest month, day and night. Estimated from weather stations around.",
		Default: func(h *Heater) any { return usualMonth(h, slices.Min[[]float64]) },
		Group:   WeatherGroup,
	})
	ClimateWarmest = number(inClimate, "warmest_c", func(c *Climate) *float64 { return &c.Warmest }, Field{
		Label: "Mean of the warmest month", Kind: units.Temperature, Min: -10, Max: 45, Since: 3,
		Help:    "Mean temperature of the warmest month, day and night. Estimated from weather stations around.",
		Default: func(h *Heater) any { return max(-10, usualMonth(h, slices.Max[[]float64])) },
		Group:   WeatherGroup,
	})
	ClimateMonths = table(inClimate, "months", func(c *Climate) *[]ClimateMonth { return &c.Months }, Field{
		Label: "Table of months", Rows: &Rows{readMonths, writeMonths, "mean\tsunshine\n-2.1\t2.3"}, Since: 3,
		Help: "Twelve lines of any almanac, January first: mean, or min and max; sunshine in hours or radiation; wind. A line of names " +
			"comes first.",
		Group: WeatherGroup,
	})
	ClimateFile = text(inClimate, "file", func(c *Climate) *string { return &c.File }, Field{
		Label: "Weather file", Default: constant(""), Since: 3,
		Help:  "An imported EPW or TMY3 file; it is used before the table and the facts.",
		Group: OwnControl,
	})
)

// The clear winter noon that the box is judged by, and the snow on the ground.
var (
	PlaceOutdoor = number(inNoon, "outdoor_c", func(p *Place) *float64 { return &p.Outdoor }, Field{
		Label: "Outdoor temperature at noon", Kind: units.Temperature, Min: -45, Max: 30,
		Help: "Outdoor air at the clear winter noon for which the box is judged.",
		// A clear noon is a little warmer than the coldest month's mean. Common
		// practice, no source.
		Default: func(h *Heater) any {
			if !h.KnowsPlace() {
				return 0.0
			}
			return max(-45, min(30, math.Round(h.Climate.Coldest+noonOver)))
		},
		Group: NoonGroup,
	})
	PlaceHaze = number(inNoon, "linke_turbidity", func(p *Place) *float64 { return &p.Haze }, Field{
		Label: "Haze (Linke turbidity)", Kind: units.Number, Min: 2, Max: 8, Default: constant(3.0), Since: 2,
		Help:  "2 is mountain air, 3 a clear winter day, 5 haze, 7 thick haze.",
		Group: NoonGroup,
	})
	PlaceTerrain = choice(inNoon, "terrain", func(p *Place) *string { return &p.Terrain }, Field{
		Label: "Surroundings", Choices: list("open", "open country", "suburb", "houses and gardens", "town",
			"dense town"), Default: constant("suburb"),
		Since: 2, Help: "How much the surroundings slow the wind that the weather station reports.",
		Group: NoonGroup,
	})
	PlaceAboveGround = number(inNoon, "above_ground_m", func(p *Place) *float64 { return &p.Above }, Field{
		Label: "Height above ground", Kind: units.Distance, Min: 0.3, Max: 60, Default: constant(2.0),
		Since: 2, Help: "Height of the middle of the glass above the ground.",
		Group: NoonGroup,
	})
	PlaceWind = number(inNoon, "wind_m_s", func(p *Place) *float64 { return &p.Wind }, Field{
		Label: "Wind at the glass", Kind: units.Gust, Min: 0, Max: 15,
		// A usual winter wind of 4 m/s at the weather station, brought to the
		// box.
		Default: func(h *Heater) any { return math.Round(10*solar.WindAt(4, h.Place.Terrain, h.Place.Above)) / 10 },
		Help:    "A light breeze is {2 m/s|5 mph}; an open hill has more.",
		Group:   NoonGroup,
	})
	PlaceGroundReflectance = number(inNoon, "ground_reflectance", func(p *Place) *float64 { return &p.Ground }, Field{
		Label: "Ground reflectance", Kind: units.Share, Min: 0.05, Max: 0.9, Default: constant(0.2),
		Since: 2, Help: "Without snow: grass and earth 20 %, pale gravel 35 %.",
		Group: NoonGroup,
	})
	PlaceSnowFrom = count(inNoon, "snow_from_month", func(p *Place) *int { return &p.SnowFrom }, Field{
		Label: "First month with snow cover",
		Words: append(called(0, "no snow"), months...), Kind: units.Number, Min: 0, Max: 12,
		Default: firstSnow, Since: 2, Help: "First month in which snow mostly lies on the ground before the box.",
		Group: NoonGroup,
	})
	PlaceSnowTo = count(inNoon, "snow_to_month", func(p *Place) *int { return &p.SnowTo }, Field{
		Label: "Last month with snow cover", Words: months, Kind: units.Number, Min: 0, Max: 12,
		When: func(h *Heater) bool { return h.Place.SnowFrom > 0 }, Default: lastSnow, Since: 2,
		Help:  "Last month in which snow mostly lies on the ground before the box.",
		Group: NoonGroup,
	})
)

// What stands between sun and glass.
var (
	ShadeHorizon = table(inShade, "horizon", func(s *Shade) *[]Obstacle { return &s.Horizon }, Field{
		Label: "Obstacles on the horizon", Rows: &Rows{readHorizon, writeHorizon, "120 to 150: 12, tree"}, Since: 2,
		Help: "From one bearing to another, how high, and what: solid (hill, house), evergreen or tree. Heights in degrees, in fists " +
			"at arm's length, or as height and distance.",
		Group: ShadeGroup,
	})
	ShadeEaveDepth = number(inShade, "eave_depth_m", func(s *Shade) *float64 { return &s.EaveDepth }, Field{
		Label: "Eave depth",
		Words: called(0, "none"), Kind: units.Length, Min: 0, Max: 3, Default: constant(0.0), Since: 2,
		Help:  "How far the roof projects over the glass, or none.",
		Group: ShadeGroup,
	})
	ShadeEaveAbove = number(inShade, "eave_above_m", func(s *Shade) *float64 { return &s.EaveAbove }, Field{
		Label: "Eave height above the glass", Kind: units.Length, Min: 0, Max: 5, When: eaved,
		Default: sold(12, 0.3), Since: 2, Help: "From the top edge of the glass up to the eave.",
		Group: ShadeGroup,
	})
	ShadeEaveOver = number(inShade, "eave_over_m", func(s *Shade) *float64 { return &s.EaveOver }, Field{
		Label: "Eave beyond the sides", Kind: units.Length, Min: 0, Max: 20, When: eaved, Default: sold(36, 1.0),
		Since: 2, Help: "How far the eave continues beyond the glass at each side.",
		Group: ShadeGroup,
	})
	ShadeFinLeft = number(inShade, "fin_left_m", func(s *Shade) *float64 { return &s.FinLeft }, Field{
		Label: "Side wall at the left", Kind: units.Length, Min: 0, Max: 5, Default: constant(0.0), Since: 2,
		Help:  "How far a wall or fin projects beside the glass, seen from the front.",
		Group: ShadeGroup,
	})
	ShadeFinRight = number(inShade, "fin_right_m", func(s *Shade) *float64 { return &s.FinRight }, Field{
		Label: "Side wall at the right", Kind: units.Length, Min: 0, Max: 5, Default: constant(0.0), Since: 2,
		Help:  "How far a wall or fin projects beside the glass, seen from the front.",
		Group: ShadeGroup,
	})
	ShadeFinBeside = number(inShade, "fin_beside_m", func(s *Shade) *float64 { return &s.FinBeside }, Field{
		Label: "Distance to the side wall", Kind: units.Length, Min: 0, Max: 5, When: finned,
		Default: sold(8, 0.2), Since: 2, Help: "From the edge of the glass to that wall.",
		Group: ShadeGroup,
	})
)

// The wall that a box hangs on.
var (
	WallBetween = number(inWall, "between_m", func(w *Wall) *float64 { return &w.Between }, Field{
		Label: "Wall between the windows",
		Words: called(0, "no limit"), Kind: units.Length, Min: 0, Max: 20, When: walled, Default: constant(0.0),
		Since: 3, Help: "Clear wall from one window casing to the next, or no limit.",
		Group: WallGroup,
	})
	WallLeft = number(inWall, "left_m", func(w *Wall) *float64 { return &w.Left }, Field{
		Label: "Left window to the box", Kind: units.Length, Min: 0, Max: 20, When: between, Since: 3,
		Help:    "From the left window casing to the edge of the box, seen from outside.",
		Default: func(h *Heater) any { return max(0, (h.Wall.Between-h.OuterWidth())/2) },
		Group:   WallGroup,
	})
	WallStud = number(inWall, "stud_m", func(w *Wall) *float64 { return &w.Stud }, Field{
		Label: "Stud spacing",
		Words: called(0, "none"), Kind: units.Length, Min: 0, Max: 1.5, When: between, Default: constant(0.0), Since: 3,
		Help:  "Center to center of the studs in the wall; none in masonry.",
		Group: WallGroup,
	})
	WallFirstStud = number(inWall, "first_stud_m", func(w *Wall) *float64 { return &w.First }, Field{
		Label: "Left window to the first stud", Kind: units.Length, Min: 0, Max: 20, When: studded, Since: 3,
		Help:    "From the left window casing to the center of the first stud; knock on the wall or use a stud finder.",
		Default: func(h *Heater) any { return h.Wall.Stud / 2 },
		Group:   WallGroup,
	})
	WallStudWidth = number(inWall, "stud_width_m", func(w *Wall) *float64 { return &w.Width }, Field{
		Label: "Stud width", Kind: units.Length, Min: 0.02, Max: 0.3, When: studded, Default: sold(1.5, 0.038),
		Since: 3, Help: "38 mm (1 1/2 in) in most timber frames.",
		Group: WallGroup,
	})
	WallSill = number(inWall, "sill_m", func(w *Wall) *float64 { return &w.Sill }, Field{
		Label: "Height of the window sills",
		Words: called(0, "ignored"), Kind: units.Length, Min: 0, Max: 20, When: between, Default: constant(0.0),
		Since: 3, Help: "Above the ground, to align the box with, or ignored.",
		Group: WallGroup,
	})
	WallBottom = number(inWall, "bottom_m", func(w *Wall) *float64 { return &w.Bottom }, Field{
		Label: "Height of the bottom of the box", Kind: units.Length, Min: 0, Max: 20, When: between, Since: 3,
		Help:    "Above the ground; aligned with the sills at first.",
		Default: func(h *Heater) any { return max(0.3, h.Wall.Sill) },
		Group:   WallGroup,
	})
)

// What the place asks of an installation.
var (
	SiteGust = number(inSite, "gust_m_s", func(s *Site) *float64 { return &s.Gust }, Field{
		Label: "Design wind gust", Kind: units.Gust, Min: 15, Max: 100, When: boxed, Default: defaultGust, Since: 8,
		Help:  "The three-second gust that fixings must hold, from your local code; ours is a usual inland value.",
		Group: LoadsGroup,
	})
	SiteSnow = number(inSite, "snow_pa", func(s *Site) *float64 { return &s.Snow }, Field{
		Label: "Ground snow load", Words: called(0, "not known"), Kind: units.Load, Min: 0, Max: 15000, When: boxed,
		Default: constant(0.0), Since: 8, Help: "Your building department has it for your town. Without it the load of snow is not " +
			"computed.",
		Group: LoadsGroup,
	})
	SiteRented = yesNo(inSite, "rented", func(s *Site) *bool { return &s.Rented }, Field{
		Label: "Rented building", Default: constant(false), Since: 8,
		Help:  "The owner must agree before anything is cut or fixed to the building.",
		Group: LoadsGroup,
	})
	SiteOldPaint = yesNo(inSite, "old_paint", func(s *Site) *bool { return &s.OldPaint }, Field{
		Label: "Old paint or board", Default: constant(false), When: boxed, Since: 8,
		Help:  "A building from before about 1990 may hold lead paint, or board with asbestos, where you cut.",
		Group: LoadsGroup,
	})
	SiteChildren = yesNo(inSite, "children", func(s *Site) *bool { return &s.Children }, Field{
		Label: "Small children nearby", Default: constant(false), Since: 8,
		Help:  "Children who can reach the box, its outlet or its ducts.",
		Group: LoadsGroup,
	})
)

package design

import (
	"fmt"
	"math"
	"slices"

	"gladember/core/catalog"
	"gladember/core/normals"
	"gladember/core/solar"
	"gladember/core/units"
)

// Field is one thing that can be decided.
type Field struct {
	// Path is where the value stands in the document.
	Path string
	// Label is what a form calls it: a noun phrase that stands by itself.
	Label string
	// Term is the engineer's name, where it differs.
	Term string
	// Kind says what is measured, and by that the units.
	Kind units.Kind
	// Min and Max bound a number, in SI.
	Min, Max float64
	// Whole is set for a count, Text for free text, and Bool for yes or no.
	Whole bool
	// Money is set for a sum, in the currency of the document.
	Money bool
	Text  bool // free text
	Bool  bool
	// Rows is set for a table, a line a row.
	Rows *Rows
	// Choices are the ids of a list, with their names.
	Choices func() []catalog.Choice
	// Among are those of them that a heater may have; nil for all.
	Among func(h *Heater) []catalog.Choice
	// Per names what a sum is for one of.
	Per func(h *Heater) string
	// Words name values of a number that mean more than it; they may be typed for it. A single one stands for
	// the absence of the thing or for a value that is not known. Several make a count a list to choose from, as
	// months are: all values then have one.
	Words []Word
	// Default is the value that we put; without one the value is not known.
	Default func(h *Heater) any
	// When says for which heaters the field means something; nil for all.
	When func(h *Heater) bool
	// Help is one plain sentence.
	Help string
	// Since is the schema that brought the field; zero means the first.
	Since int
}

// Applies reports whether the field means something for the heater.
func (f *Field) Applies(h *Heater) bool { return f.When == nil || f.When(h) }

// ChoicesOf are the choices that a heater has.
func (f *Field) ChoicesOf(h *Heater) []catalog.Choice {
	if f.Among != nil {
		return f.Among(h)
	}
	return f.Choices()
}

// soldBy are the units in which a heater's fuel is sold.
func soldBy(h *Heater) []catalog.Choice {
	f, _ := catalog.FindFuel(h.Room.Heater)
	return f.SoldBy()
}

// usualUnit is what a fuel is usually sold by where the heater stands.
func usualUnit(h *Heater) any {
	cs := soldBy(h)
	switch {
	case len(cs) == 0:
		return ""
	case len(cs) > 1 && h.Customary():
		return cs[1].ID
	}
	return cs[0].ID
}

// constant is a default that depends on nothing.
func constant(v any) func(*Heater) any { return func(*Heater) any { return v } }

// made says whether an absorber is made in one of some ways.
func made(families ...Family) func(*Heater) bool {
	return func(h *Heater) bool { return slices.Contains(families, h.Absorber.Family) }
}

// and joins conditions.
func and(fs ...func(*Heater) bool) func(*Heater) bool {
	return func(h *Heater) bool {
		for _, f := range fs {
			if !f(h) {
				return false
			}
		}
		return true
	}
}

func not(f func(*Heater) bool) func(*Heater) bool { return func(h *Heater) bool { return !f(h) } }

var (
	screens  = made(ScreenBox)
	plates   = made(BackPassPlate, FrontPassPlate, DoublePassPlate, PassiveBox)
	channels = made(BackPassPlate, DoublePassPlate, PassiveBox)
	cans     = made(CanColumns)
	pipes    = made(Downpipes, DoublePassTubes)
	coil     = made(RibbedCoil)
	panel    = made(WindowPanel)
	own      = made(OwnAbsorber)
	boxed    = not(panel)
)

// arranged are boxes whose inlet and outlet may lie as the builder wants: one port
// each, and no way inside that fixes where it ends.
func arranged(h *Heater) bool {
	a := h.Absorber
	return boxed(h) && h.Air.Ports <= 1 &&
		(a.Cans != nil || a.Screens != nil || a.Pipes != nil && a.Family == Downpipes && a.Pipes.Join != "series" ||
			a.Family == FrontPassPlate || a.Family == BackPassPlate && a.Plate.Baffles == 0)
}

// Conditions of fields: what a heater must have for a field to mean something.
func fanned(h *Heater) bool    { return h.Air.Drive != "natural" }
func onPanel(h *Heater) bool   { return h.Air.Drive == "panel" }
func manyFans(h *Heater) bool  { return fanned(h) && h.Air.Fans > 1 }
func mirrored(h *Heater) bool  { return h.Mirror.Length > 0 }
func eaved(h *Heater) bool     { return h.Shade.EaveDepth > 0 }
func finned(h *Heater) bool    { return h.Shade.FinLeft > 0 || h.Shade.FinRight > 0 }
func manyBoxes(h *Heater) bool { return h.Array.Boxes > 1 }
func grouped(h *Heater) bool   { return manyBoxes(h) && h.Array.Join == "groups" }
func inRow(h *Heater) bool     { return boxed(h) && manyBoxes(h) && h.Array.Join != "series" }

// switchIs says whether a fan is switched in one of some ways.
func switchIs(kinds ...string) func(*Heater) bool {
	return func(h *Heater) bool { return fanned(h) && slices.Contains(kinds, h.Switch.Kind) }
}

// railed are boxes whose glazing can be held by rails: stiff sheets on boards.
func railed(h *Heater) bool {
	c, err := catalog.FindCover(h.Cover.Material)
	return boxed(h) && h.Box.Body != "sheet" && err == nil && c.Form != catalog.Film && c.Form != catalog.Corrugated
}

// What it warms, and where the air goes on to.
func greenhouse(h *Heater) bool { return h.Room.Kind == Greenhouse }
func goesOn(h *Heater) bool     { return h.Second.Mover != "none" }
func byStairs(h *Heater) bool   { return h.Second.Mover == "stairs" }

// How its air goes, and what the wall is like that it goes through.
func bent(h *Heater) bool    { return !panel(h) && h.Air.Bends > 0 }
func grilled(h *Heater) bool { return !panel(h) && h.Air.Grilles > 0 }
func walled(h *Heater) bool  { return !panel(h) && h.Air.Route == "wall" }
func between(h *Heater) bool { return walled(h) && h.Wall.Between > 0 }
func studded(h *Heater) bool { return between(h) && h.Wall.Stud > 0 }

// What keeps an idle box from overheating.
func vented(h *Heater) bool   { return boxed(h) && h.Guard.Kind == "vent" }
func shutter(h *Heater) bool  { return boxed(h) && h.Guard.Kind == "shutter" }
func actuated(h *Heater) bool { return vented(h) || shutter(h) }

func twoCovers(h *Heater) bool {
	return h.Cover.Layers > 1
}

// list makes choices of pairs: the ID that is kept and the name that is shown.
func list(pairs ...string) func() []catalog.Choice {
	var cs []catalog.Choice
	for i := 0; i < len(pairs); i += 2 {
		cs = append(cs, catalog.Choice{ID: pairs[i], Name: pairs[i+1]})
	}
	return func() []catalog.Choice { return cs }
}

// bodyOr is the body of foam or of sheet, timber otherwise.
func bodyOr(h *Heater) string {
	if h.Box.Body == "foam" || h.Box.Body == "sheet" {
		return h.Box.Body
	}
	return "timber"
}

// byKind picks a value by the space: room, shop, greenhouse, porch.
func byKind[T any](room, shop, greenhouse, porch T) func(*Heater) any {
	return func(h *Heater) any {
		return map[RoomKind]T{LivingRoom: room, Shop: shop, Greenhouse: greenhouse, Porch: porch}[h.Room.Kind]
	}
}

// usualMonth is the coldest or warmest month's mean at the place, C, to half a
// kelvin.
func usualMonth(h *Heater, of func([]float64) float64) float64 {
	e := h.Place.Usual()
	return math.Round(2*of(e.Temperature[:])) / 2
}

// noonOver is how much warmer a clear winter noon is than the coldest month's
// mean, K.
const noonOver = 2.0

// headerDefault leaves a centimeter beside the duct's hole.
func headerDefault(h *Heater) any {
	if h.SoldInInches() {
		return math.Max(3, math.Ceil(8*(h.PortBore()+0.010)/units.MeterPerInch)/8) * units.MeterPerInch
	}
	return math.Max(0.075, h.PortBore()+0.010)
}

// boreFor is the usual bore of a duct for a clear opening, m for m2. Common
// practice, no source.
func boreFor(area float64) float64 {
	for _, x := range []struct{ from, bore float64 }{{14, 0.400}, {8.5, 0.315}, {5, 0.250}, {2.6, 0.200}, {1.3, 0.150}, {0.7, 0.125}} {
		if area >= x.from {
			return x.bore
		}
	}
	return 0.100
}

// byAperture picks a value by the size of the glass of all boxes: bounds are m2.
func byAperture[T any](small T, more ...any) func(*Heater) any {
	return func(h *Heater) any {
		v := any(small)
		for i := 0; i+1 < len(more); i += 2 {
			if h.Glass() >= more[i].(float64) {
				v = more[i+1]
			}
		}
		return v
	}
}

// fanOf is a default taken from the chosen fan's row in the catalog.
func fanOf(get func(catalog.Fan) any) func(*Heater) any {
	return func(h *Heater) any {
		f, err := catalog.FindFan(h.Air.FanModel)
		if err != nil {
			f, _ = catalog.FindFan("computer-120")
		}
		return get(f)
	}
}

// Of fans that are known by their label alone. labelEfficiency is the share of its electric power that a small fan turns into pressure
// times flow where that is greatest. Common practice, no source: those of the catalog lie between 0.04 and 0.42.
const (
	labelEfficiency = 0.15
	leastShutOff    = 2.0    // Pa
	mostShutOff     = 2000.0 // Pa
)

// FanByLabel says whether a fan is known by its label alone: its rated flow or power are the builder's, while neither its shut-off
// pressure nor its curve is.
func (h *Heater) FanByLabel() bool {
	given := func(path string) bool { _, is := h.Entries[path]; return is }
	return (given("air.fan_free_air_m3_s") || given("air.fan_power_w")) && !given("air.fan_shut_off_pa") && len(h.Air.FanTable) < 2
}

// roomSold is a usual small room, m2: 180 sq ft or 16 m2.
func roomSold(h *Heater) any {
	if h.SoldInInches() {
		return 180 * units.MeterPerFoot * units.MeterPerFoot
	}
	return 16.0
}

// wireSold is a thin wire that stores sell, mm2: 18 AWG, or 0.75 mm2.
func wireSold(h *Heater) any {
	if h.SoldInInches() {
		return 0.823
	}
	return 0.75
}

// shutOff is that of the fan's model, Pa, or of one that is known by its label alone what its power can make of its flow: pressure
// times flow is greatest at a quarter of shut-off pressure times free air where the curve is a straight line, and at 0.385 of them
// where it is a parabola.
func shutOff(h *Heater) any {
	if !h.FanByLabel() {
		return fanOf(func(f catalog.Fan) any { return f.ShutOff })(h)
	}
	share := 0.25
	if h.Air.FanRadial {
		share = 2 / math.Sqrt(27)
	}
	return math.Round(math.Max(leastShutOff, math.Min(mostShutOff, labelEfficiency*h.Air.FanPower/(share*h.Air.FanFree))))
}

// Fields lists every field in the order in which defaults follow from each
// other.
var Fields = []*Field{
	{Path: "place.town", Label: "Town", Text: true,
		Default: constant(""), Help: "The nearest town sets latitude, longitude, elevation and time zone."},
	{Path: "place.latitude_deg", Label: "Latitude", Kind: units.Angle, Min: -66, Max: 66, Default: constant(46.0),
		Help: "North is positive, south negative."},
	{Path: "place.longitude_deg", Label: "Longitude", Kind: units.Angle, Min: -180, Max: 180, Default: constant(0.0),
		Help: "East is positive, west negative."},
	{Path: "place.elevation_m", Label: "Elevation", Kind: units.Distance, Min: -430, Max: 5000, Default: constant(200.0),
		Help: "Thin air at altitude carries less heat and lets more sun through."},
	{Path: "place.zone", Label: "Time zone", Text: true,
		Default: constant("UTC"), Help: "The time zone of your logger's clock, such as Europe/Zurich."},
	{Path: "place.bearing_deg", Label: "Faces (bearing)", Kind: units.Angle, Min: 0, Max: 360,
		Help: "Compass direction that the glass faces, from true north: 90 is east, 180 south, 270 west.",
		Default: func(h *Heater) any {
			if h.Place.Latitude < 0 {
				return 0.0
			}
			return 180.0
		}},
	{Path: "place.tilt_deg", Label: "Tilt", Kind: units.Angle, Min: 0, Max: 90, Help: "0 is flat, 90 is upright against a wall.",
		Default: func(h *Heater) any {
			return math.Min(90, math.Max(45, 5*math.Round((math.Abs(h.Place.Latitude)+20)/5)))
		}},
	{Path: "place.shore", Label: "Near the sea", Choices: list("inland", "no, inland", "sea", "yes"), Since: 4,
		Help: "Within about {20 km|12 miles} of the sea, winters are milder.",
		Default: func(h *Heater) any {
			if normals.BySea(h.Place.Latitude, h.Place.Longitude) {
				return "sea"
			}
			return "inland"
		}},
	{Path: "climate.coldest_c", Label: "Mean of the coldest month", Kind: units.Temperature, Min: -45, Max: 35, Since: 3,
		Help:    "Mean temperature of the coldest month, day and night. Estimated from weather stations around.",
		Default: func(h *Heater) any { return usualMonth(h, slices.Min[[]float64]) }},
	{Path: "climate.warmest_c", Label: "Mean of the warmest month", Kind: units.Temperature, Min: -10, Max: 45, Since: 3,
		Help:    "Mean temperature of the warmest month, day and night. Estimated from weather stations around.",
		Default: func(h *Heater) any { return math.Max(-10, usualMonth(h, slices.Max[[]float64])) }},
	{Path: "climate.sunny_days", Label: "Sunny days in ten, summer", Kind: units.Number, Min: 0, Max: 10, Since: 3,
		Help: "How many days in ten are sunny in the three brightest months: 4 is cloudy, 6 usual, 8 a dry country.",
		Default: func(h *Heater) any {
			e := h.Place.Usual()
			return math.Round(100*normals.Mean(&e.Sunshine, normals.Bright(h.Place.Latitude))) / 10
		}},
	{Path: "climate.sunny_winter_days", Label: "Sunny days in ten, winter", Kind: units.Number, Min: 0, Max: 10, Since: 4,
		Help: "How many days in ten are sunny in the three darkest months: 2 is dull, 3 usual, 6 bright.",
		// A summer sunnier than the stations' goes with a sunnier winter, by a
		// little over half as much. Common practice, no source.
		Default: func(h *Heater) any {
			e := h.Place.Usual()
			more := h.Climate.Sunny/10 - normals.Mean(&e.Sunshine, normals.Bright(h.Place.Latitude))
			winter := normals.Mean(&e.Sunshine, normals.Dark(h.Place.Latitude)) + 0.6*more
			return math.Round(100*math.Max(0, math.Min(0.9, winter))) / 10
		}},
	{Path: "place.outdoor_c", Label: "Outdoor temperature at noon", Kind: units.Temperature, Min: -45, Max: 30,
		Help: "Outdoor air at the clear winter noon for which the box is judged.",
		// A clear noon is a little warmer than the coldest month's mean. Common
		// practice, no source.
		Default: func(h *Heater) any {
			if !h.KnowsPlace() {
				return 0.0
			}
			return math.Max(-45, math.Min(30, math.Round(h.Climate.Coldest+noonOver)))
		}},
	{Path: "place.terrain", Label: "Surroundings", Choices: list("open", "open country", "suburb", "houses and gardens", "town",
		"dense town"), Default: constant("suburb"),
		Since: 2, Help: "How much the surroundings slow the wind that the weather station reports."},
	{Path: "place.above_ground_m", Label: "Height above ground", Kind: units.Distance, Min: 0.3, Max: 60, Default: constant(2.0),
		Since: 2, Help: "Height of the middle of the glass above the ground."},
	{Path: "place.wind_m_s", Label: "Wind at the glass", Kind: units.Gust, Min: 0, Max: 15,
		// A usual winter wind of 4 m/s at the weather station, brought to the
		// box.
		Default: func(h *Heater) any { return math.Round(10*solar.WindAt(4, h.Place.Terrain, h.Place.Above)) / 10 },
		Help:    "A light breeze is {2 m/s|5 mph}; an open hill has more."},
	{Path: "place.linke_turbidity", Label: "Haze (Linke turbidity)", Kind: units.Number, Min: 2, Max: 8, Default: constant(3.0), Since: 2,
		Help: "2 is mountain air, 3 a clear winter day, 5 haze, 7 thick haze."},
	{Path: "place.ground_reflectance", Label: "Ground reflectance", Kind: units.Share, Min: 0.05, Max: 0.9, Default: constant(0.2),
		Since: 2, Help: "Without snow: grass and earth 20 %, pale gravel 35 %."},
	{Path: "place.snow_from_month", Label: "First month with snow cover",
		Words: append(called(0, "no snow"), months...), Kind: units.Number, Whole: true, Min: 0, Max: 12,
		Default: firstSnow, Since: 2, Help: "First month in which snow mostly lies on the ground before the box."},
	{Path: "place.snow_to_month", Label: "Last month with snow cover", Words: months, Kind: units.Number, Whole: true, Min: 0, Max: 12,
		When: func(h *Heater) bool { return h.Place.SnowFrom > 0 }, Default: lastSnow, Since: 2,
		Help: "Last month in which snow mostly lies on the ground before the box."},
	{Path: "cover.covered_from_month", Label: "First month with the glass covered",
		Words: append(called(0, "none"), months...), Kind: units.Number, Whole: true, Min: 0, Max: 12,
		When: boxed, Default: constant(0), Since: 4,
		Help: "First month in which a lid or shutter covers the glass, such as May."},
	{Path: "cover.covered_to_month", Label: "Last month with the glass covered",
		Words: months, Kind: units.Number, Whole: true, Min: 1, Max: 12,
		When:    func(h *Heater) bool { return boxed(h) && h.Cover.CoveredFrom > 0 },
		Default: func(h *Heater) any { return (h.Cover.CoveredFrom+3)%12 + 1 }, Since: 4,
		Help: "Last month in which the lid or shutter covers the glass."},
	{Path: "shade.eave_depth_m", Label: "Eave depth",
		Words: called(0, "none"), Kind: units.Length, Min: 0, Max: 3, Default: constant(0.0), Since: 2,
		Help: "How far the roof projects over the glass, or none."},
	{Path: "shade.eave_above_m", Label: "Eave height above the glass", Kind: units.Length, Min: 0, Max: 5, When: eaved,
		Default: sold(12, 0.3), Since: 2, Help: "From the top edge of the glass up to the eave."},
	{Path: "shade.eave_over_m", Label: "Eave beyond the sides", Kind: units.Length, Min: 0, Max: 20, When: eaved, Default: sold(36, 1.0),
		Since: 2, Help: "How far the eave continues beyond the glass at each side."},
	{Path: "shade.fin_left_m", Label: "Side wall at the left", Kind: units.Length, Min: 0, Max: 5, Default: constant(0.0), Since: 2,
		Help: "How far a wall or fin projects beside the glass, seen from the front."},
	{Path: "shade.fin_right_m", Label: "Side wall at the right", Kind: units.Length, Min: 0, Max: 5, Default: constant(0.0), Since: 2,
		Help: "How far a wall or fin projects beside the glass, seen from the front."},
	{Path: "shade.fin_beside_m", Label: "Distance to the side wall", Kind: units.Length, Min: 0, Max: 5, When: finned,
		Default: sold(8, 0.2), Since: 2, Help: "From the edge of the glass to that wall."},
	{Path: "shade.horizon", Label: "Obstacles on the horizon", Rows: &Rows{readHorizon, writeHorizon, "120 to 150: 12, tree"}, Since: 2,
		Help: "From one bearing to another, how high, and what: solid (hill, house), evergreen or tree. Heights in degrees, in fists " +
			"at arm's length, or as height and distance."},
	{Path: "mirror.length_m", Label: "Mirror lid length",
		Words: called(0, "none"), Kind: units.Length, Min: 0, Max: 3, When: boxed, Default: constant(0.0),
		Since: 2, Help: "Length of a reflecting lid hinged at the glass, or none."},
	{Path: "mirror.angle_deg", Label: "Mirror lid angle", Kind: units.Angle, Min: 20, Max: 175, When: mirrored, Default: constant(100.0),
		Since: 2, Help: "Angle between lid and glass: 90 is square to the glass."},
	{Path: "mirror.reflectance", Label: "Mirror lid reflectance", Kind: units.Share, Min: 0.3, Max: 0.95, When: mirrored,
		Default: constant(0.75), Since: 2, Help: "Foil 75 %, crumpled foil 60 %, mirror 85 %."},
	{Path: "mirror.hinge", Label: "Mirror lid hinge", Choices: list("bottom", "bottom", "top", "top"), When: mirrored,
		Default: constant("bottom"), Since: 2, Help: "The edge of the glass at which the lid is hinged."},

	{Path: "room.kind", Label: "Space to heat", Choices: list(string(LivingRoom), "room", string(Shop), "shop", string(Greenhouse),
		"greenhouse", string(Porch), "porch"), Default: constant(string(LivingRoom)), Help: "What the warm air goes into."},
	{Path: "name", Label: "Name", Text: true, Help: "The name of this heater.",
		Default: func(h *Heater) any {
			return map[RoomKind]any{LivingRoom: "Room heater", Shop: "Shop heater", Greenhouse: "Greenhouse heater",
				Porch: "Porch heater"}[h.Room.Kind]
		}},
	{Path: "room.floor_m2", Label: "Floor area", Kind: units.Area, Min: 1, Max: 500, Default: roomSold,
		Help: "Floor area that the warm air reaches."},
	{Path: "room.humidity", Label: "Room humidity", Kind: units.Share, Min: 0.05, Max: 1, Default: constant(0.45), Since: 2,
		Help: "Damp room air can condense on the cold glazing."},
	{Path: "room.air_c", Label: "Inlet air temperature at noon", Kind: units.Temperature, Min: -20, Max: 40,
		Help: "Temperature of the air that the box draws in at the clear winter noon.",
		Default: func(h *Heater) any {
			return map[RoomKind]any{LivingRoom: 18.0, Shop: 10.0, Greenhouse: 12.0, Porch: 12.0}[h.Room.Kind]
		}},
	{Path: "room.height_m", Label: "Ceiling height", Kind: units.Distance, Min: 1.5, Max: 12, Default: sold(96, 2.4), Since: 3,
		Help: "Height of the room inside."},
	{Path: "room.outside_walls", Label: "Outside walls", Kind: units.Number, Whole: true, Min: 0, Max: 4, Default: byKind(2, 4, 4, 3),
		Since: 3, Help: "How many of its walls are outside walls."},
	{Path: "room.insulation", Label: "Insulation of walls and roof", Choices: list("none", "none", "little", "little", "usual", "usual",
		"good", "good"), When: not(greenhouse), Default: byKind("usual", "little", "none", "none"), Since: 3,
		Help: "None is a single skin of board or brick; usual is about {90 mm of wool|3 1/2 in of wool, R-13}; good is " +
			"{200 mm|8 in, R-30,} or more."},
	{Path: "room.above", Label: "Above the ceiling", Choices: list("heated", "heated room", "attic", "attic", "roof", "roof"),
		When: not(greenhouse), Default: byKind("attic", "roof", "roof", "roof"), Since: 3, Help: "What is above the ceiling."},
	{Path: "room.below", Label: "Below the floor", Choices: list("heated", "heated room", "ground", "ground", "cellar", "cold basement",
		"open", "open air"), Default: byKind("heated", "ground", "ground", "open"), Since: 3, Help: "What is below the floor."},
	{Path: "room.window_m2", Label: "Window area", Kind: units.Area, Min: 0, Max: 500, Since: 3,
		Help: "Area of all windows and glass doors; of a greenhouse, all of its clear skin.",
		Default: func(h *Heater) any {
			share := map[RoomKind]float64{LivingRoom: 0.15, Shop: 0.08, Greenhouse: 2.2, Porch: 0.8}[h.Room.Kind]
			return math.Round(10*share*h.Room.Floor) / 10
		}},
	{Path: "room.glazing", Label: "Window glazing", Choices: list("film", "single film", "single", "single glass", "double",
		"double glass", "low-e", "double low-e glass", "twin-wall", "twin-wall sheet"), Default: byKind("double", "single", "twin-wall",
		"single"), Since: 3, Help: "What most of the windows are made of."},
	{Path: "room.sunny_window_m2", Label: "Sun-facing windows", Kind: units.Area, Min: 0, Max: 500, When: not(greenhouse), Since: 3,
		Help:    "Sun through these windows warms the room without the box.",
		Default: func(h *Heater) any { return math.Round(10*h.Room.Window*0.4) / 10 }},
	{Path: "room.leakage", Label: "Air leakage", Choices: list("tight", "tight", "usual", "usual", "leaky", "drafty", "open",
		"open to the wind"), Default: byKind("usual", "leaky", "leaky", "leaky"), Since: 3,
		Help: "Tight 0.3, usual 0.6, drafty 1.2, open 2.5 air changes an hour."},
	{Path: "room.flued", Label: "Flued burner in the room", Bool: true, Default: constant(false), Since: 8,
		Help: "A stove, boiler or water heater that burns fuel with air from this room. A fan that draws from the room can pull its " +
			"fumes in."},
	{Path: "room.mass", Label: "Thermal mass", Choices: list("light", "light: wood and board", "medium", "medium: some brick or plaster",
		"heavy", "heavy: masonry or water"), Default: byKind("medium", "light", "light", "light"), Since: 3,
		Help: "How much heat walls and furniture store."},
	{Path: "room.gains_w", Label: "Heat from people and appliances", Kind: units.Power, Min: 0, Max: 5000, Since: 3,
		Help: "Mean through the day.",
		Default: func(h *Heater) any {
			if h.Room.Kind == LivingRoom {
				return math.Round(4 * h.Room.Floor) // ISO 13790 table G.8, homes
			}
			return 0.0
		}},
	{Path: "room.loss_w_k", Label: "Heat loss coefficient",
		Words: called(0, "not known"), Kind: units.Loss, Min: 0, Max: 5000, Default: constant(0.0), Since: 3,
		Help: "Watts per kelvin of temperature difference, if measured or computed. Not known: it follows from your answers above."},
	{Path: "room.wanted_c", Label: "Room temperature", Kind: units.Temperature, Min: 0, Max: 30, Default: byKind(20.0, 14.0, 8.0, 16.0),
		Since: 3, Help: "Wanted temperature in the hours of use."},
	{Path: "room.from_h", Label: "Hours of use from", Kind: units.Clock, Min: 0, Max: 24, Default: byKind(7.0, 8.0, 0.0, 10.0), Since: 3,
		Help: "Such as 7:30 or 7:30 pm."},
	{Path: "room.to_h", Label: "Hours of use to", Kind: units.Clock, Min: 0, Max: 24, Default: byKind(22.0, 18.0, 24.0, 18.0), Since: 3,
		Help: "From 0:00 to 24:00 is always."},
	{Path: "room.setback_c", Label: "Setback temperature", Words: called(-40, "off"), Kind: units.Temperature, Min: -40, Max: 30,
		Default: byKind(16.0, -40.0, 4.0, -40.0), Since: 3,
		Help: "Lowest temperature outside the hours of use; off where nothing heats then."},
	{Path: "room.vent_c", Label: "Windows open above", Kind: units.Temperature, Min: 10, Max: 45, Default: byKind(25.0, 24.0, 27.0, 27.0),
		Since: 3, Help: "Above this temperature heat is let out and is not useful."},
	{Path: "room.heater", Label: "Present heating", Choices: catalog.Fuels, Default: byKind("electric", "none", "none", "none"), Since: 3,
		Help: "What heats the space without the box."},
	{Path: "second.mover", Label: "Air to a second space", Choices: list("none", "none", "stairs", "open stairs", "ceiling-fan",
		"fan in the ceiling", "blower", "furnace blower"), Default: constant("none"), Since: 3,
		Help: "How warm air gets from this room to the rest of the house."},
	{Path: "second.floor_m2", Label: "Floor area of the second space", Kind: units.Area, Min: 1, Max: 1000, When: goesOn,
		Default: func(h *Heater) any { return 3 * h.Room.Floor }, Since: 3, Help: "Floor area of the rooms that the air goes on to."},
	{Path: "second.loss_w_k", Label: "Heat loss of the second space", Kind: units.Loss, Min: 1, Max: 5000, When: goesOn,
		Default: func(h *Heater) any { return math.Round(2 * h.Second.Floor) }, Since: 3,
		Help: "Watts per kelvin; about 2 for each square meter of floor in an ordinary older house."},
	{Path: "second.wanted_c", Label: "Temperature of the second space", Kind: units.Temperature, Min: 0, Max: 30, When: goesOn,
		Default: constant(20.0), Since: 3, Help: "Wanted temperature in those rooms."},
	{Path: "second.flow_m3_s", Label: "Airflow to the second space", Kind: units.Flow, Min: 0.005, Max: 2,
		When: and(goesOn, not(byStairs)), Since: 3, Help: "What the fan or blower moves between the two.",
		Default: func(h *Heater) any {
			if h.Second.Mover == "blower" {
				return 0.4
			}
			return 0.08
		}},
	{Path: "second.power_w", Label: "Power of that fan or blower", Kind: units.Power, Min: 0, Max: 2000, When: and(goesOn, not(byStairs)),
		Since: 3, Help: "Electric power while it runs.",
		Default: func(h *Heater) any {
			if h.Second.Mover == "blower" {
				return 350.0
			}
			return 25.0
		}},
	{Path: "second.opening_m", Label: "Height of the opening", Kind: units.Distance, Min: 0.5, Max: 4, When: byStairs,
		Default: constant(2.0), Since: 3, Help: "Height of the open doorway or stairwell, 0.8 m wide."},
	{Path: "climate.months", Label: "Table of months", Rows: &Rows{readMonths, writeMonths, "mean\tsunshine\n-2.1\t2.3"}, Since: 3,
		Help: "Twelve lines of any almanac, January first: mean, or min and max; sunshine in hours or radiation; wind. A line of names " +
			"comes first."},
	{Path: "climate.file", Label: "Weather file", Text: true, Default: constant(""), Since: 3,
		Help: "An imported EPW or TMY3 file; it is used before the table and the facts."},
	{Path: "room.fuel_unit", Label: "Fuel sold by the", Choices: catalog.FuelUnits, Among: soldBy, Since: 10,
		When: func(h *Heater) bool { return len(soldBy(h)) > 1 }, Default: usualUnit,
		Help: "The unit in which you buy it; its price and bills are in it."},
	{Path: "room.bills", Label: "Fuel bills", Rows: &Rows{readBills, writeBills, "January 142"},
		When:  func(h *Heater) bool { return h.Room.Heater != "none" },
		Since: 3,
		Help: "On each line a month and the fuel used or what it cost, like \"January 142\" or \"January $235\"; five months or more " +
			"show what the space loses. One line like \"$235 a month\" gives it roughly."},
	{Path: "bench.temperature_c", Label: "Temperature of the shop", Kind: units.Temperature, Min: -20, Max: 45, Default: constant(15.0),
		Since: 8,
		Help:  "Paint, glue and sealant dry slower the colder it is, and some not at all."},
	{Path: "bench.humidity", Label: "Relative humidity of the shop", Kind: units.Share, Min: 0.05, Max: 1, Default: constant(0.6), Since: 8,
		Help: "Paint and glue dry slower in damp air; silicone needs the moisture and dries slower in dry air."},
	{Path: "bench.days", Label: "Evenings", Choices: list("every", "every day", "weekdays", "Monday to Friday", "two",
		"Tuesday and Thursday",
		"two-and-saturday", "Tuesday, Thursday and Saturday", "weekend", "Saturday and Sunday"), Default: constant("two-and-saturday"),
		Since: 8,
		Help:  "The days on which you build."},
	{Path: "bench.from_h", Label: "Evenings begin at", Kind: units.Clock, Min: 0, Max: 23.5, Default: constant(19.0), Since: 8,
		Help: "Such as 19:00 or 7 pm."},
	{Path: "bench.minutes", Label: "Length of an evening, min", Kind: units.Number, Min: 15, Max: 900, Default: constant(120.0), Since: 8,
		Help: "How long you build on a working day."},
	{Path: "bench.weekend_from_h", Label: "Weekend days begin at", Kind: units.Clock, Min: 0, Max: 23.5, Default: constant(10.0), Since: 9,
		Help: "What is done outdoors wants daylight."},
	{Path: "bench.weekend_minutes", Label: "Length of a weekend day, min", Kind: units.Number, Min: 15, Max: 900,
		Default: constant(240.0), Since: 9, Help: "How long you build on a Saturday or a Sunday."},
	{Path: "bench.helpers", Label: "Helpers", Kind: units.Number, Whole: true, Min: 0, Max: 10, Default: constant(1), Since: 8,
		Help: "How many others can come for what takes more than two hands."},
	{Path: "cut.kerf_m", Label: "Kerf of the saw", Kind: units.Length, Min: 0, Max: 0.010, Default: sold(0.125, 0.003), Since: 7,
		Help: "What each cut turns into sawdust. Insulation is cut with a knife, which takes nothing."},
	{Path: "cut.trim_m", Label: "Trim of new edges", Kind: units.Length, Min: 0, Max: 0.050, Default: constant(0.0), Since: 7,
		Help: "Cut off the edges of what is bought before anything is cut from it."},
	{Path: "cut.sold", Label: "Sizes sold near you", Rows: &Rows{readSold, writeSold, "{2.4 m|8 ft}, 6.50"}, Since: 7,
		Help: "A line for each: the length of a board, or a sheet like {1220 x 2440 mm|4 x 8 ft}, and its price if you know it. Without " +
			"lines the usual sizes are taken."},
	{Path: "money.resale", Label: "Resale value of salvaged parts", Kind: units.Number, Money: true, Min: 0, Max: 100000,
		Default: constant(0.0),
		Since:   3, Help: "What the salvaged parts could have been sold for."},
	{Path: "money.fuel_price", Label: "Fuel price", Kind: units.Number, Money: true, Min: 0, Max: 10000, Since: 3,
		Help: "Price of the fuel of the present heating.",
		Per:  func(h *Heater) string { f, _ := h.Fuel(); return f.Units[0].One() },
		Default: func(h *Heater) any {
			f, _ := h.Fuel()
			return math.Round(100*f.Price) / 100
		}},
	{Path: "money.electricity", Label: "Electricity price per kWh", Kind: units.Number, Money: true, Min: 0, Max: 10,
		Default: constant(0.20),
		Since:   3, Help: "For the fan, and for comparison with solar electric panels."},
	{Path: "money.interest", Label: "Interest rate", Kind: units.Share, Min: 0, Max: 0.3, Default: constant(0.03), Since: 3,
		Help: "What the money would earn elsewhere, a year."},
	{Path: "money.fuel_rise", Label: "Fuel price increase", Kind: units.Share, Min: -0.1, Max: 0.3, Default: constant(0.02), Since: 3,
		Help: "A year."},
	{Path: "money.years", Label: "Service life, years", Kind: units.Number, Min: 1, Max: 50, Default: constant(10.0), Since: 3,
		Help: "Painted wood ten to fifteen years, film one to three."},

	{Path: "pane.width_m", Label: "Glazing width", Kind: units.Length, Min: 0.15, Max: 3, Default: sold(32, 0.8),
		Help: "Width of the pane or sheet, edge to edge."},
	{Path: "pane.height_m", Label: "Glazing height", Kind: units.Length, Min: 0.15, Max: 4, Default: sold(56, 1.4),
		Help: "Height of the pane or sheet, along the slope."},
	{Path: "pane.rest_m", Label: "Glazing overlap on the frame", Kind: units.Length, Min: 0.004, Max: 0.05, Default: sold(0.5, 0.012),
		Help: "How far the glazing rests on the frame at each side; no sun passes there."},

	{Path: "cover.material", Label: "Glazing", Choices: catalog.Covers, Default: constant("glass"), Help: "What the glazing is made of."},
	{Path: "cover.thickness_m", Label: "Glazing thickness", Kind: units.Length, Min: 0.00001, Max: 0.04, Help: "Thickness of one sheet.",
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
		}},
	{Path: "cover.layers", Label: "Glazing layers", Kind: units.Number, Whole: true, Min: 1, Max: 3, When: boxed, Default: constant(1),
		Help: "One sheet, or more with air between them."},
	{Path: "cover.between_m", Label: "Air gap between glazings", Kind: units.Length, Min: 0.004, Max: 0.05, Default: sold(0.625, 0.016),
		When: twoCovers, Help: "Air between two sheets."},
	{Path: "cover.inner", Label: "Inner glazing", When: and(boxed, twoCovers), Choices: func() []catalog.Choice {
		return append([]catalog.Choice{{ID: "same", Name: "same as the outer one"}}, catalog.Covers()...)
	}, Default: constant("same"), Since: 2, Help: "What the sheets behind the first are made of."},
	{Path: "cover.held", Label: "Glazing held by", Choices: list("stops", "stops over packing strips", "rails", "rails with a groove"),
		When: railed, Default: constant("stops"), Since: 8,
		Help: "A rail is stop and packing strip in one piece, with a rabbet for the edge of the glazing: front and back half make a " +
			"groove that the glazing slides into. It wants a table saw or a router."},
	{Path: "cover.dirt", Label: "Dirt on the glazing", Kind: units.Share, Min: 0, Max: 0.3, Default: constant(0.02),
		Help: "Share of the sun that dirt keeps out; 2 % is a pane washed now and then."},
	{Path: "cover.tau_alpha_share", Label: "Absorbed sun, measured over computed", Kind: units.Share, Min: 0.3, Max: 1.2,
		Default: constant(1.0), Since: 9, Help: "100 % until a test or a log shows that the box takes in less or more of the sun than " +
			"its glazing and its paint say."},

	{Path: "absorber.family", Label: "Kind of absorber", Choices: familyChoices, Default: constant(string(ScreenBox)),
		Help: "What absorbs the sun, and where the air passes it."},
	{Path: "absorber.paint", Label: "Absorber paint", Choices: catalog.Paints, Default: constant("high-heat-black"),
		Help: "How dark it is, and how hot the paint may get."},

	{Path: "absorber.screens.mesh", Label: "Screen", Choices: catalog.Meshes, Default: constant("aluminium-screen"), When: screens,
		Help: "The mesh that absorbs the sun."},
	{Path: "absorber.screens.layers", Label: "Screen layers", Kind: units.Number, Whole: true, Min: 1, Max: 3, Default: constant(3),
		When: screens, Help: "Screens one behind the other."},
	{Path: "absorber.screens.spacing_m", Label: "Screen spacing", Kind: units.Length, Min: 0.003, Max: 0.05, Default: sold(0.375, 0.010),
		When: screens, Help: "From one screen to the next."},
	{Path: "absorber.screens.lift_m", Label: "Screen slant, bottom to top", Kind: units.Length, Min: 0, Max: 0.15,
		Default: sold(3, 0.080), When: screens, Help: "How much nearer to the glass the screens are at the top, so that air must " +
			"cross them all the way up."},
	{Path: "absorber.screens.rear_m", Label: "Space behind the screens, bottom", Kind: units.Length, Min: 0.003, Max: 0.1,
		Default: sold(1.25, 0.030), When: screens, Help: "Air between the last screen and the back at the bottom."},
	{Path: "absorber.screens.bypass", Label: "Bypass air", Kind: units.Share, Min: 0, Max: 0.3, Default: constant(0.10), When: screens,
		Help: "Share of the air that passes the edges and never crosses a screen."},
	{Path: "absorber.screens.deflector", Label: "Deflector at the inlet", Bool: true, Default: constant(true), When: screens, Since: 5,
		Help: "A plate in front of the inlet that spreads the air over the width of the box. Without it the air comes as a jet; what " +
			"the jet costs at the glass is not computed."},
	{Path: "absorber.screens.baffle_open", Label: "Opening of the mid-height baffle", Kind: units.Share, Min: 0.05, Max: 1,
		Default: constant(1.0), When: screens, Since: 5,
		Help: "A bar across the space in front of the screens at mid-height sends more air through their lower half; 100 % is no bar."},

	{Path: "absorber.plate.metal", Label: "Plate metal", Choices: catalog.Sheets, Default: constant("aluminium"), When: plates,
		Help: "The metal that absorbs the sun."},
	{Path: "absorber.plate.thickness_m", Label: "Plate thickness", Kind: units.Length, Min: 0.0001, Max: 0.004, Default: constant(0.0007),
		When: plates, Help: "Thickness of the plate."},
	{Path: "absorber.plate.channel_m", Label: "Air channel depth", Kind: units.Length, Min: 0.005, Max: 0.15, When: channels,
		Help: "Depth of the air channel behind the plate.",
		Default: func(h *Heater) any {
			if h.Absorber.Family == PassiveBox {
				return sold(2.5, 0.060)(h)
			}
			return sold(1, 0.025)(h)
		}},
	{Path: "absorber.plate.baffles", Label: "Baffles", Kind: units.Number, Whole: true, Min: 0, Max: 7, When: made(BackPassPlate),
		Default: constant(2), Help: "Strips that send the air from side to side."},
	{Path: "absorber.plate.turning_vanes", Label: "Turning vanes", Bool: true, Default: constant(false), Since: 7,
		When: func(h *Heater) bool {
			folded, _ := h.Folded()
			return made(BackPassPlate)(h) && (h.Absorber.Plate.Baffles > 0 || folded) || folded && h.Absorber.Family == FrontPassPlate
		},
		Help: "Bent strips that lead the air around each turn: it then costs about a third of the pressure."},

	{Path: "absorber.cans.diameter_m", Label: "Can diameter", Kind: units.Length, Min: 0.04, Max: 0.12, Default: constant(0.066),
		When: cans, Since: 2, Help: "Diameter of one can."},
	{Path: "absorber.cans.height_m", Label: "Can height", Kind: units.Length, Min: 0.06, Max: 0.25, Default: constant(0.115), When: cans,
		Since: 2, Help: "Height of one can in the column."},
	{Path: "absorber.cans.columns", Label: "Can columns", Kind: units.Number, Whole: true, Min: 1, Max: 40, When: cans, Since: 2,
		Help: "Columns side by side.",
		Default: func(h *Heater) any {
			return int(math.Max(1, math.Floor((h.ApertureWidth()+0.001)/(h.Absorber.Cans.Diameter+0.001))))
		}},
	{Path: "absorber.cans.ends", Label: "Can tops and bottoms", Choices: list("drilled", "drilled, three holes", "torn",
		"opened, flaps left", "cut", "cut out"), Default: constant("torn"), When: cans, Since: 2,
		Help: "What is left of them stirs the air and causes a pressure drop."},
	{Path: "absorber.cans.wall_m", Label: "Can wall thickness", Kind: units.Length, Min: 0.00005, Max: 0.001, Default: constant(0.0001),
		When: cans, Since: 2, Help: "A drink can has about 0.1 mm."},

	{Path: "absorber.pipes.metal", Label: "Pipe metal", Choices: catalog.Sheets, Default: constant("aluminium"), When: pipes, Since: 2,
		Help: "What the downpipes are made of."},
	{Path: "absorber.pipes.width_m", Label: "Pipe width", Kind: units.Length, Min: 0.03, Max: 0.2, Default: sold(3, 0.075), When: pipes,
		Since: 2, Help: "The side that faces the sun."},
	{Path: "absorber.pipes.depth_m", Label: "Pipe depth", Kind: units.Length, Min: 0.02, Max: 0.15, Default: sold(2, 0.050), When: pipes,
		Since: 2, Help: "The side that goes back into the box."},
	{Path: "absorber.pipes.wall_m", Label: "Pipe wall thickness", Kind: units.Length, Min: 0.0003, Max: 0.003, Default: constant(0.0005),
		When: pipes, Since: 2, Help: "Thickness of its metal."},
	{Path: "absorber.pipes.count", Label: "Number of pipes", Kind: units.Number, Whole: true, Min: 1, Max: 30, When: pipes, Since: 2,
		Help: "Side by side.",
		Default: func(h *Heater) any {
			return int(math.Max(1, math.Floor(h.ApertureWidth()/(h.Absorber.Pipes.Width+0.004))))
		}},
	{Path: "absorber.pipes.join", Label: "Pipe connection", Choices: list("parallel", "in parallel", "series", "in series"),
		Default: constant("parallel"), When: made(Downpipes),
		Since: 2, Help: "In series the same air passes all of them, which takes more fan pressure."},
	{Path: "absorber.pipes.fins", Label: "Flashing behind the pipes", Bool: true, Default: constant(true), When: pipes, Since: 2,
		Help: "A sheet behind the pipes absorbs the sun that falls between them."},
	{Path: "absorber.pipes.behind_m", Label: "Air channel behind the pipes", Kind: units.Length, Min: 0.01, Max: 0.1,
		Default: sold(1.25, 0.030), When: made(DoublePassTubes),
		Since: 2, Help: "Where the air comes down before it goes up through the pipes."},

	{Path: "absorber.coil.bore_m", Label: "Coil bore", Kind: units.Bore, Min: 0.05, Max: 0.2, Default: constant(0.100), When: coil,
		Since: 2, Help: "Bore of the ribbed duct that is folded into the box."},
	{Path: "absorber.coil.runs", Label: "Coil runs", Kind: units.Number, Whole: true, Min: 1, Max: 20, When: coil, Since: 2,
		Help: "Straight lengths side by side.",
		Default: func(h *Heater) any {
			return int(math.Max(1, math.Floor(h.ApertureWidth()/(h.Absorber.Coil.Bore+0.015))))
		}},
	{Path: "absorber.coil.ways", Label: "Coils in parallel", Kind: units.Number, Whole: true, Min: 1, Max: 4, Default: constant(1),
		When: coil, Since: 2, Help: "One long coil, or several short ones that share the air."},
	{Path: "absorber.coil.rib_m", Label: "Rib height", Kind: units.Length, Min: 0.0009, Max: 0.006, Default: constant(0.002), When: coil,
		Since: 2, Help: "Height of the ribs inside; stretched tight they are lower."},
	{Path: "absorber.coil.stretch", Label: "Coil stretch", Kind: units.Share, Min: 0.5, Max: 1, Default: constant(0.9), When: coil,
		Since: 2, Help: "Share of its full length; less leaves deeper ribs and more surface."},

	{Path: "absorber.panel.panes", Label: "Window panes", Kind: units.Number, Whole: true, Min: 1, Max: 3, Default: constant(2),
		When: panel, Since: 2, Help: "Panes of the room's own window in front of the panel."},
	{Path: "absorber.panel.gap_m", Label: "Foil to window", Kind: units.Length, Min: 0.015, Max: 0.2, Default: sold(2, 0.050),
		When: panel, Since: 2, Help: "Air rises between window and foil."},
	{Path: "absorber.panel.slots", Label: "Slot opening", Kind: units.Share, Min: 0.05, Max: 1, Default: constant(0.4), When: panel,
		Since: 2, Help: "Open part of the slots at top and bottom, as a share of the gap's depth."},
	{Path: "absorber.panel.back", Label: "Room side of the foil", Choices: list("painted", "painted like the front", "bare",
		"bare metal"), Default: constant("painted"),
		When: panel, Since: 3, Help: "Bare metal keeps the foil hotter and gives more of its heat to the air."},

	{Path: "absorber.own.metal", Label: "Absorber metal", Choices: catalog.Sheets, Default: constant("aluminium"), When: own, Since: 2,
		Help: "What the absorber is made of."},
	{Path: "absorber.own.wall_m", Label: "Absorber wall thickness", Kind: units.Length, Min: 0.00005, Max: 0.005,
		Default: constant(0.0005), When: own, Since: 2, Help: "Thickness of its metal."},
	{Path: "absorber.own.depth_m", Label: "Absorber depth", Kind: units.Length, Min: 0.0005, Max: 0.2, Default: sold(1.25, 0.030),
		When: own, Since: 2, Help: "From its front to its back."},
	{Path: "absorber.own.surface", Label: "Front surface ratio", Kind: units.Number, Min: 1, Max: 3, Default: constant(1.15), When: own,
		Since: 2, Help: "True surface divided by its flat size: 1 is flat, 1.2 corrugated."},

	{Path: "box.gap_m", Label: "Glazing to absorber", Kind: units.Length, Min: 0.008, Max: 0.12, Default: sold(1.25, 0.030),
		Help: "Nothing hot may touch the glazing; 25 to 50 mm is usual."},
	{Path: "box.body", Label: "Body", Choices: list("timber", "wood and board", "foam", "foam board", "sheet", "sheet metal"),
		Default: constant("timber"), When: boxed, Since: 2, Help: "What the box itself is made of."},
	{Path: "box.brake_m", Label: "Longest bend of the brake", Kind: units.Length, Min: 0.3, Max: 6, Default: sold(96, 2.5),
		When: func(h *Heater) bool { return boxed(h) && h.Box.Body == "sheet" }, Since: 7,
		Help: "The tray's longest wall is bent in one piece."},
	{Path: "box.walls", Label: "Inside of the walls", Choices: list("black", "black", "shiny", "shiny"), Default: constant("black"),
		When: boxed, Since: 2, Help: "Black walls absorb sun; shiny ones reflect it and emit less heat."},
	{Path: "box.frame", Label: "Frame wood", Choices: catalog.Woods,
		When: and(boxed, func(h *Heater) bool { return bodyOr(h) == "timber" }), Default: constant("softwood"),
		Help: "What the sides are made of."},
	{Path: "box.frame_width_m", Label: "Frame thickness", Kind: units.Length, Min: 0.0005, Max: 0.08, When: boxed,
		Default: func(h *Heater) any {
			if bodyOr(h) == "sheet" {
				return 0.001
			}
			return sold(1.5, 0.030)(h)
		},
		Help: "Thickness of the side boards."},
	{Path: "box.foam", Label: "Insulation", When: boxed, Choices: catalog.Insulations, Default: constant("faced-wool"),
		Help: "Behind and beside the absorber. Mineral wool withstands the heat of a noon with the fan off; foams seldom do."},
	{Path: "box.back_foam_m", Label: "Back insulation", When: boxed, Kind: units.Length, Min: 0, Max: 0.15, Default: sold(2, 0.050),
		Help: "Thickness of the insulation on the back."},
	{Path: "box.edge_foam_m", Label: "Edge insulation", When: boxed, Kind: units.Length, Min: 0, Max: 0.1, Default: sold(0.5, 0.012),
		Help: "Insulation that lines the frame inside; it keeps heat in and covers a strip of the glazing."},
	// Bodies of foam have no bridge, and a tray has its own.
	{Path: "box.under_frame_m", Label: "Insulation under the frame", Kind: units.Length, Min: 0, Max: 0.05, Default: constant(0.0),
		When: func(h *Heater) bool { return boxed(h) && h.Box.Body == "timber" }, Since: 7,
		Help: "A strip between the frame's back edge and the wall, so that the wood is no cold bridge."},
	{Path: "box.board_m", Label: "Back board thickness", When: and(boxed, func(h *Heater) bool { return bodyOr(h) == "timber" }),
		Kind: units.Length, Min: 0.003, Max: 0.03, Default: sold(0.375, 0.009), Help: "Plywood that closes the back."},
	{Path: "box.stones_kg", Label: "Stones on the back",
		Words: called(0, "none"), Kind: units.Mass, Min: 0, Max: 200, When: boxed, Default: constant(0.0),
		Since: 3, Help: "Dark stones in each box that store heat past sunset and delay the start, or none."},
	{Path: "box.seam_m3_s_m", Label: "Seam leakage per length of seam", When: boxed, Kind: units.Leakage, Min: 0, Max: 0.001,
		Default: constant(1.2e-5), Help: "Air that leaks from each {meter|3.3 ft} of seam at {1 Pa|0.004 in w.g.}; a box caulked by " +
			"hand has about {43 L/h|1.5 cu ft/h}."},
	{Path: "box.sealant", Label: "Sealant", Choices: catalog.Sealants, Default: constant("neutral-silicone"), When: boxed, Since: 2,
		Help: "What seals the glazing and the corners."},
	{Path: "box.adhesive", Label: "Adhesive or fastener", Choices: catalog.Adhesives, Default: constant("screws"), When: boxed, Since: 2,
		Help: "What holds insulation and absorber."},
	{Path: "box.tape", Label: "Tape", Choices: catalog.Tapes, Default: constant("none"), When: boxed, Since: 2,
		Help: "What closes the joints of the insulation."},
	{Path: "guard.kind", Label: "Overheating guard", Choices: list("none", "none", "vent", "heat-opened vent", "shutter",
		"heat-closed shutter"), Default: constant("none"), When: boxed, Since: 5,
		Help: "A vent to outdoors at the bottom and the top of the box, or a shutter over the glass, moved by the box's own heat when " +
			"the fan stands still in the sun."},
	{Path: "guard.actuator", Label: "Actuator", Choices: list("wax", "wax cylinder", "bimetal", "bimetal strip"),
		Default: constant("wax"), When: actuated, Since: 5,
		Help: "A wax cylinder moves all the way within about 12 K; a bimetal strip takes about 25 K."},
	{Path: "guard.opens_c", Label: "Guard starts to open at", Kind: units.Temperature, Min: 35, Max: 150, Default: constant(75.0),
		When: actuated, Since: 5,
		Help: "Air temperature at the top of the box at which the actuator begins to move. It must be above the outlet temperature of " +
			"a running box."},
	{Path: "guard.area_m2", Label: "Free area of each vent", Kind: units.Opening, Min: 0.001, Max: 1, When: vented, Since: 5,
		Help: "Clear opening of the vent at the bottom, and as much at the top, less what mesh and louvers take.",
		Default: func(h *Heater) any {
			return math.Min(math.Max(0.002, math.Round(0.01*h.Aperture()*1000)/1000), math.Floor(h.MostVent()*1000)/1000)
		}},
	{Path: "guard.chimney_m", Label: "Chimney above the vent",
		Words: called(0, "none"), Kind: units.Length, Min: 0, Max: 3, When: vented, Default: constant(0.0),
		Since: 5, Help: "Height of a pipe of the same area above the top vent; its flap lets more air through."},
	{Path: "guard.passes", Label: "Sun through the closed shutter", Kind: units.Share, Min: 0.01, Max: 0.9, When: shutter,
		Default: constant(0.15), Since: 5, Help: "Closed wooden or metal slats pass 5 to 15 %, shade cloth 20 to 50 %."},
	{Path: "array.boxes", Label: "Number of boxes", Kind: units.Number, Whole: true, Min: 1, Max: 24, Default: constant(1), When: boxed,
		Since: 2, Help: "All boxes on one fan."},
	{Path: "array.join", Label: "Connection of the boxes", Choices: list("parallel", "in parallel", "series", "in series", "groups",
		"groups in parallel"), Default: constant("parallel"),
		When: manyBoxes, Since: 2, Help: "In parallel each box gets its own share of the air; in series all of it in turn; groups " +
			"share it, and their boxes are in series."},
	{Path: "array.group", Label: "Boxes in a group", Kind: units.Number, Whole: true, Min: 2, Max: 6, Default: constant(2), When: grouped,
		Since: 5, Help: "In series in each group."},

	{Path: "air.drive", Label: "Air moved by", Choices: list("fan", "fan", "panel", "fan on its own solar panel", "natural",
		"natural draft"), Since: 2, Help: "Warm air rises by itself; a fan moves far more.",
		Default: func(h *Heater) any {
			if h.Absorber.Family == PassiveBox || h.Absorber.Family == WindowPanel {
				return "natural"
			}
			return "fan"
		}},
	{Path: "air.source", Label: "Air drawn from", Choices: list("room", "room", "outdoors", "outdoors"), Default: constant("room"),
		When: boxed, Since: 2, Help: "Room air is reheated; outdoor air also ventilates the room."},
	{Path: "air.vent", Label: "Position of the outdoor vent", Choices: list("sheltered", "sheltered", "windward", "facing the wind",
		"leeward", "on the lee side"), When: and(boxed, func(h *Heater) bool { return h.Air.Source == "outdoors" }),
		Default: constant("sheltered"), Since: 2, Help: "Wind pushes air into a vent that faces it and draws it out of one on the lee " +
			"side."},
	{Path: "air.route", Label: "Connection to the room", Choices: list("wall", "holes through the wall", "window", "window insert",
		"stand", "ducts from a stand", "furnace", "furnace plenum"), Default: constant("wall"), When: boxed, Since: 2,
		Help: "A window insert needs no hole in the wall; a furnace plenum needs a licensed trade."},

	{Path: "air.duct", Label: "Duct", Choices: catalog.Ducts, When: boxed, Default: constant("flexible"),
		Help: "Ribs and slack increase the pressure drop."},
	{Path: "air.stretch", Label: "Duct stretch", Kind: units.Share, Min: 0.5, Max: 1, Default: constant(0.95),
		When: and(boxed, func(h *Heater) bool { d, _ := catalog.FindDuct(h.Air.Duct); return d.Flexible }), Since: 2,
		Help: "Share of its full length. A slack flexible duct can have several times the pressure drop."},
	{Path: "air.diameter_m", Label: "Duct diameter", Kind: units.Bore, When: boxed, Min: 0.05, Max: 0.6,
		Default: func(h *Heater) any { return boreFor(h.Glass()) }, Help: "Inside diameter of the ducts and, of a single box, its ports."},
	{Path: "array.header_m", Label: "Header diameter", Kind: units.Bore, Min: 0, Max: 0.8, When: inRow, Since: 5,
		Help: "Of the duct that distributes the air to the boxes, and of the one that collects it. 0 stands for plenums so wide " +
			"that every box gets its share.",
		Default: func(h *Heater) any { return h.Air.Diameter }},
	{Path: "array.pitch_m", Label: "Header length from box to box", Kind: units.Distance, Min: 0.1, Max: 20, When: inRow, Since: 5,
		Help:    "Length of a header from one branch to the next.",
		Default: func(h *Heater) any { return math.Round(20*(h.OuterWidth()+0.05)) / 20 }},
	{Path: "array.return", Label: "Return of the headers", Choices: list("same-end", "direct, at the inlet end", "far-end",
		"reverse, at the far end"), When: inRow, Default: constant("same-end"), Since: 5,
		Help: "A direct return ends where the air enters; a reverse return ends at the other end."},
	{Path: "array.port_m", Label: "Port diameter of each box", Kind: units.Bore, Min: 0.05, Max: 0.35, When: inRow, Since: 5,
		Help:    "Inside diameter of the ducts from the headers to each box.",
		Default: func(h *Heater) any { return boreFor(h.Aperture()) }},
	{Path: "array.balance", Label: "Balancing", Choices: list("none", "none", "orifices", "orifices or dampers"), When: inRow,
		Default: constant("none"), Since: 5, Help: "A plate with a hole, or a damper set to the same loss, in each branch that would " +
			"get too much air. The hole sizes are computed."},
	{Path: "array.others", Label: "Boxes that differ", Rows: &Rows{readOthers, writeOthers, "1: 600 x 1200 mm, 20 mm"}, When: inRow,
		Since: 5, Help: "For each kind a line: how many, their glazing, and their air channel depth if it differs from the first box. " +
			"They stand at the far end of the row."},
	{Path: "air.ports", Label: "Ports at each end", Kind: units.Number, Whole: true, Min: 1, Max: 12, Default: constant(1), When: boxed,
		Since: 2, Help: "Equal ports at the inlet, and as many at the outlet."},
	{Path: "air.port_face", Label: "Ports go through", Choices: list("back", "the back", "side", "the sides", "end", "bottom and top"),
		When: and(boxed, not(made(OwnAbsorber))), Default: constant("back"), Since: 7,
		Help: "A port through the back turns the air into the box; one through a side or an end must fit its depth."},
	{Path: "air.port_places", Label: "Arrangement of the ports", Choices: list("opposite", "at opposite corners", "same-side",
		"one above the other", "both-bottom", "both at the bottom, with a fold", "both-top", "both at the top, with a fold"),
		When: arranged, Default: constant("opposite"), Since: 7,
		Help: "One above the other, the air favors the near side; with a fold it takes one half of the box and then the other, twice " +
			"as fast. Cold air stays in a box whose ports are both at the top."},
	{Path: "air.riser_m", Label: "Rise of the warm duct", Kind: units.Distance, Min: 0, Max: 10, Default: constant(0.0), When: boxed,
		Since: 2, Help: "Height that the warm air rises in duct or chimney above the box."},
	{Path: "air.to_box_m", Label: "Duct length to the box", Kind: units.Distance, When: boxed, Min: 0, Max: 30, Default: sold(30, 0.8),
		Help: "From the room to the inlet."},
	{Path: "air.from_box_m", Label: "Duct length from the box", Kind: units.Distance, When: boxed, Min: 0, Max: 30,
		Default: sold(30, 0.8), Help: "From the outlet to the room."},
	{Path: "air.bends", Label: "Bends", Kind: units.Number, Whole: true, When: boxed, Min: 0, Max: 20, Default: constant(2),
		Help: "Right-angle bends in both ducts together."},
	{Path: "air.grilles", Label: "Grilles", Kind: units.Number, Whole: true, Min: 0, Max: 4, Default: constant(1), When: boxed, Since: 2,
		Help: "Grilles in both ducts together."},
	{Path: "air.bends_before", Label: "Bends before the box", Kind: units.Number, Min: 0, Max: 20, When: bent, Since: 3,
		Default: func(h *Heater) any { return float64(h.Air.Bends) / 2 }, Help: "How many of the bends are in the duct to the box."},
	{Path: "air.grilles_before", Label: "Grilles before the box", Kind: units.Number, Min: 0, Max: 4, When: grilled, Since: 3,
		Default: func(h *Heater) any { return float64(h.Air.Grilles) / 2 }, Help: "How many of the grilles are in the duct to the box."},
	{Path: "air.filter", Label: "Filter", Choices: list("none", "none", "coarse", "coarse", "fine", "fine"), Default: constant("none"),
		When: boxed, Since: 2, Help: "Keeps lint off the absorber and causes a pressure drop."},
	{Path: "air.flap", Label: "Backdraft damper", Choices: list("none", "none", "membrane", "light membrane", "spring", "spring damper",
		"motor", "motor damper"), Default: constant("membrane"),
		When: boxed, Help: "Stops the cold box from drawing warm air out of the room by night."},
	{Path: "air.fan", Label: "Fan", Choices: catalog.Fans, When: fanned, Help: "A common fan to start from.",
		Default: func(h *Heater) any {
			if onPanel(h) {
				return "computer-120"
			}
			return byAperture("computer-92", 0.4, "computer-120", 0.7, "computer-120-strong", 1.3, "ec-inline-4", 2.0, "ec-inline-5", 2.8,
				"ec-inline-6", 5.0, "ec-inline-8", 8.5, "ec-inline-10", 14.0, "blower")(h)
		}},
	{Path: "air.fan_free_air_m3_s", Label: "Rated flow (free air)", Kind: units.Flow, Min: 0.001, Max: 1,
		Default: fanOf(func(f catalog.Fan) any { return f.FreeAir }),
		When:    fanned, Help: "What the fan moves with nothing connected, as on its label. In a duct it moves less."},
	{Path: "air.fan_power_w", Label: "Fan power", Kind: units.Electric, Min: 0, Max: 1000,
		Default: fanOf(func(f catalog.Fan) any { return f.Power }), When: fanned, Help: "Electric power."},
	{Path: "air.fan_radial", Label: "Radial or inline fan", Bool: true, Default: fanOf(func(f catalog.Fan) any { return f.Radial }),
		When: fanned, Help: "A radial or inline fan keeps its flow against pressure better than a propeller."},
	{Path: "air.fan_shut_off_pa", Label: "Shut-off pressure", Kind: units.Pressure, Min: leastShutOff, Max: mostShutOff, Default: shutOff,
		When: fanned, Help: "The fan's pressure with its outlet closed, from its data sheet. Without it, what the rated flow and power " +
			"can make."},
	{Path: "air.fan_table", Label: "Fan curve", When: fanned, Since: 2,
		Rows: &Rows{readFanTable, writeFanTable, "{120 m3/h 25 Pa|70 cfm 0.1 in w.g.}"},
		Help: "From its data sheet: on each line a flow and the pressure at that flow. It is used before rated flow and shut-off " +
			"pressure."},
	{Path: "air.fan_strength", Label: "Fan strength, measured over rated", Kind: units.Share, Min: 0.1, Max: 2, Default: constant(1.0),
		When: fanned, Since: 9,
		Help: "100 % until the airflow is measured: then the share of its rated curve that the fan reaches in this " +
			"system."},
	{Path: "air.fan_side", Label: "Fan position", Choices: list("inlet", "at the inlet, pushing", "outlet", "at the outlet, pulling"),
		Default: constant("inlet"), When: fanned, Help: "A fan that pushes loses warm air through leaks; one that pulls draws cold air " +
			"in, and it runs hot."},

	{Path: "air.fans", Label: "Number of fans", Kind: units.Number, Whole: true, Min: 1, Max: 4, Default: constant(1), When: fanned,
		Since: 2, Help: "Equal fans together."},
	{Path: "air.fans_join", Label: "Connection of the fans", Choices: list("beside", "in parallel", "behind", "in series", "staged",
		"second fan joins when hot"), Default: constant("beside"), When: manyFans, Since: 2,
		Help: "In parallel they move more air; in series they give more pressure."},
	{Path: "air.fan_volts", Label: "Fan voltage, V", Kind: units.Number, Min: 5, Max: 48, When: onPanel, Since: 2,
		Default: fanOf(func(f catalog.Fan) any { return math.Max(12, f.Volts) }), Help: "Rated voltage of the direct-current fan."},
	{Path: "air.panel_w", Label: "Solar panel of the fan", Kind: units.Electric, Min: 1, Max: 400, When: onPanel, Since: 2,
		Default: func(h *Heater) any { return PanelFor(h.Air.FanPower) }, Help: "Peak power of the panel that drives the fan."},
	{Path: "air.battery_wh", Label: "Battery, Wh", Kind: units.Number, Min: 0, Max: 5000, When: onPanel, Since: 2, Default: constant(0.0),
		Help: "0 drives the fan straight from the panel."},
	{Path: "air.wire_m", Label: "Wire length, one way", Kind: units.Distance, Min: 0.2, Max: 50, When: onPanel, Since: 2,
		Default: constant(4.0), Help: "From panel to fan."},
	{Path: "air.wire_mm2", Label: "Wire size", Kind: units.Wire, Min: 0.2, Max: 16, When: onPanel, Since: 2,
		Default: wireSold, Help: "Copper cross section of each wire."},

	{Path: "wall.between_m", Label: "Wall between the windows",
		Words: called(0, "no limit"), Kind: units.Length, Min: 0, Max: 20, When: walled, Default: constant(0.0),
		Since: 3, Help: "Clear wall from one window casing to the next, or no limit."},
	{Path: "wall.left_m", Label: "Left window to the box", Kind: units.Length, Min: 0, Max: 20, When: between, Since: 3,
		Help:    "From the left window casing to the edge of the box, seen from outside.",
		Default: func(h *Heater) any { return math.Max(0, (h.Wall.Between-h.OuterWidth())/2) }},
	{Path: "wall.stud_m", Label: "Stud spacing",
		Words: called(0, "none"), Kind: units.Length, Min: 0, Max: 1.5, When: between, Default: constant(0.0), Since: 3,
		Help: "Center to center of the studs in the wall; none in masonry."},
	{Path: "wall.first_stud_m", Label: "Left window to the first stud", Kind: units.Length, Min: 0, Max: 20, When: studded, Since: 3,
		Help:    "From the left window casing to the center of the first stud; knock on the wall or use a stud finder.",
		Default: func(h *Heater) any { return h.Wall.Stud / 2 }},
	{Path: "wall.stud_width_m", Label: "Stud width", Kind: units.Length, Min: 0.02, Max: 0.3, When: studded, Default: sold(1.5, 0.038),
		Since: 3, Help: "38 mm (1 1/2 in) in most timber frames."},
	{Path: "wall.sill_m", Label: "Height of the window sills",
		Words: called(0, "ignored"), Kind: units.Length, Min: 0, Max: 20, When: between, Default: constant(0.0),
		Since: 3, Help: "Above the ground, to align the box with, or ignored."},
	{Path: "wall.bottom_m", Label: "Height of the bottom of the box", Kind: units.Length, Min: 0, Max: 20, When: between, Since: 3,
		Help:    "Above the ground; aligned with the sills at first.",
		Default: func(h *Heater) any { return math.Max(0.3, h.Wall.Sill) }},

	{Path: "site.gust_m_s", Label: "Design wind gust", Kind: units.Gust, Min: 15, Max: 100, When: boxed, Default: defaultGust, Since: 8,
		Help: "The three-second gust that fixings must hold, from your local code; ours is a usual inland value."},
	{Path: "site.snow_pa", Label: "Ground snow load", Words: called(0, "not known"), Kind: units.Load, Min: 0, Max: 15000, When: boxed,
		Default: constant(0.0), Since: 8, Help: "Your building department has it for your town. Without it the load of snow is not " +
			"computed."},
	{Path: "site.rented", Label: "Rented building", Bool: true, Default: constant(false), Since: 8,
		Help: "The owner must agree before anything is cut or fixed to the building."},
	{Path: "site.old_paint", Label: "Old paint or board", Bool: true, Default: constant(false), When: boxed, Since: 8,
		Help: "A building from before about 1990 may hold lead paint, or board with asbestos, where you cut."},
	{Path: "site.children", Label: "Small children nearby", Bool: true, Default: constant(false), Since: 8,
		Help: "Children who can reach the box, its outlet or its ducts."},

	{Path: "switch.kind", Label: "Thermostat or switch", Choices: list("snap", "snap disc", "set-point", "set-point controller",
		"differential", "differential controller", "direct", "none: driven by the panel", "timer", "timer", "plug", "none: always on"),
		When: fanned, Since: 2, Help: "What turns the fan on and off.",
		Default: func(h *Heater) any {
			if onPanel(h) && h.Air.Battery == 0 {
				return "direct"
			}
			return "differential"
		}},
	{Path: "switch.tolerance_k", Label: "Thermostat tolerance", Kind: units.Rise, Min: 0, Max: 10, When: switchIs("snap", "set-point"),
		Since: 2, Help: "The set points of a snap disc scatter by about 3 K.",
		Default: func(h *Heater) any {
			if h.Switch.Kind == "snap" {
				return 3.0
			}
			return 1.0
		}},
	{Path: "switch.on_above_k", Label: "Fan on, above the room by", Kind: units.Rise, Min: 1, Max: 40, When: switchIs("differential"),
		Since: 2, Default: constant(8.0), Help: "Temperature difference between box and room at which the fan starts."},
	{Path: "switch.off_above_k", Label: "Fan off, above the room by", Kind: units.Rise, Min: 0, Max: 30, When: switchIs("differential"),
		Since: 2, Default: func(h *Heater) any { return 0.375 * h.Switch.OnAbove },
		Help: "Temperature difference between box and room at which the fan stops."},
	{Path: "switch.from_h", Label: "Timer on at", Kind: units.Clock, Min: 0, Max: 24, When: switchIs("timer"), Since: 2,
		Default: constant(10.0), Help: "Such as 10:00."},
	{Path: "switch.to_h", Label: "Timer off at", Kind: units.Clock, Min: 0, Max: 24, When: switchIs("timer"), Since: 2,
		Default: constant(15.0), Help: "Such as 10:00."},
	{Path: "switch.room_limit_c", Label: "Room temperature limit", Kind: units.Temperature, Min: 10, Max: 45, When: fanned, Since: 2,
		Help:    "A second thermostat in the room stops the fan here, before somebody opens a window.",
		Default: func(h *Heater) any { return math.Max(h.Room.Wanted+1.5, h.Room.Vent-1) }},
	{Path: "switch.second_c", Label: "Second fan on at", Kind: units.Temperature, Min: 10, Max: 95,
		When: func(h *Heater) bool { return manyFans(h) && h.Air.FansJoin == "staged" }, Since: 2,
		Default: func(h *Heater) any { return h.Switch.Close + 10 },
		Help:    "Air temperature at the top of the box at which the second fan starts."},
	{Path: "switch.run_on_min", Label: "Run-on time, minutes", Kind: units.Number, Min: 0, Max: 60,
		When: switchIs("snap", "set-point", "differential"), Default: constant(0.0), Since: 3,
		Help: "Minutes that the fan continues after its thermostat has switched off, to empty the box of heat."},
	{Path: "switch.close_c", Label: "Fan on at", Kind: units.Temperature, Min: 5, Max: 90, When: switchIs("snap", "set-point"),
		Default: constant(35.0), Help: "Air temperature at the top of the box at which the fan starts."},
	{Path: "switch.open_c", Label: "Fan off at", Kind: units.Temperature, Min: 0, Max: 85, When: switchIs("snap", "set-point"),
		Help:    "Air temperature at the top of the box at which the fan stops.",
		Default: func(h *Heater) any { return math.Max(0, h.Switch.Close-10) }},

	{Path: "absorber.cans.header_m", Label: "Header height", Kind: units.Length, Min: 0.03, Max: 0.4, Default: headerDefault, When: cans,
		Since: 2, Help: "Inside height of the chambers that feed and collect the columns. Leaving them out is the usual mistake."},
	{Path: "absorber.cans.overlap_m", Label: "Overlap of the cans",
		Words: called(0, "none"), Kind: units.Length, Min: 0, Max: 0.03, When: cans,
		Default: constant(0.0), Since: 8, Help: "How far each can stands in the one below it; none where they are glued rim to rim."},
	{Path: "absorber.cans.joint_m", Label: "Growth of each glued joint", Kind: units.Length, Min: 0, Max: 0.005, When: cans,
		Default: constant(0.001), Since: 8, Help: "What a bead of silicone adds to the column: measure a glued column to know it."},
	{Path: "absorber.cans.per_week", Label: "Cans collected in a week", Kind: units.Number, Min: 0.5, Max: 1000, When: cans,
		Default: constant(10.0), Since: 8, Help: "It tells how long it takes to collect them."},
	{Path: "absorber.cans.rows", Label: "Cans in a column", Kind: units.Number, Whole: true, Min: 1, Max: 40, When: cans, Since: 2,
		Help:    "Cans glued on each other between the headers.",
		Default: func(h *Heater) any { return h.Absorber.Cans.MostRows(h.ApertureHeight() - 2*h.Absorber.Cans.Header) }},
	{Path: "absorber.pipes.header_m", Label: "Header height", Kind: units.Length, Min: 0.03, Max: 0.4, Default: headerDefault,
		When: and(pipes, func(h *Heater) bool {
			return h.Absorber.Family == DoublePassTubes || h.Absorber.Pipes == nil || h.Absorber.Pipes.Join != "series"
		}), Since: 2, Help: "Inside height of the chambers that feed and collect the pipes."},

	{Path: "money.spent", Label: "Cost of the box", Kind: units.Number, Money: true, Min: 0, Max: 100000, Since: 3,
		Help: "What was bought for it; materials on hand cost nothing. Until you enter it, what the list to buy comes to.",
		// About 40 a square meter and a fan. Common practice, no source.
		Default: func(h *Heater) any {
			area := 0.0
			boxes, counts := h.Kinds()
			for i, b := range boxes {
				area += b.Pane.Width * b.Pane.Height * float64(counts[i])
			}
			return math.Round(40*area) + 30
		}},
	{Path: "log.flow_is", Label: "Airflow used", Choices: list(string(WorkedOut), "predicted", string(ByMeasure), "measured",
		string(OnLabel), "rated flow of the fan"),
		Default: constant(string(WorkedOut)), Help: "Heat is airflow times temperature rise, so the airflow decides how certain the " +
			"heat is."},
	{Path: "log.flow_m3_s", Label: "Measured airflow", Kind: units.Flow, Min: 0.0005, Max: 1,
		When:    func(h *Heater) bool { return h.Log.FlowIs == ByMeasure },
		Default: func(h *Heater) any { return math.Max(0.0005, 0.5*h.Air.FanFree) },
		Help:    "What leaves the box while the fan runs, as room air: by bag test, or by a traverse of the duct."},
	{Path: "log.useful_c", Label: "Useful above", Kind: units.Temperature, Min: 0, Max: 80, Default: constant(30.0),
		Help: "An hour counts as useful when the outlet air is warmer than this."},
	{Path: "log.inlet_off_k", Label: "Inlet probe reads too high by", Kind: units.Rise, Min: -10, Max: 10, Default: constant(0.0), Since: 9,
		Help: "Found with all probes together in the dark; taken off each reading."},
	{Path: "log.outlet_off_k", Label: "Outlet probe reads too high by", Kind: units.Rise, Min: -10, Max: 10, Default: constant(0.0),
		Since: 9, Help: "Found with all probes together in the dark; taken off each reading."},
	{Path: "log.clock_off_min", Label: "Logger's clock is ahead by, min", Kind: units.Number, Min: -1500, Max: 1500, Default: constant(0.0),
		Since: 9, Help: "Taken off the time of each reading; below zero for a clock that is behind."},
	{Path: "log.swapped", Label: "Inlet and outlet are swapped", Bool: true, Default: constant(false), Since: 9,
		Help: "The probe that the logger calls inlet hangs in the outlet."},
	{Path: "log.outdoor_off_k", Label: "Outdoor probe reads too high by", Kind: units.Rise, Min: -10, Max: 10, Default: constant(0.0),
		Since: 9, Help: "Found with all probes together in the dark; taken off each reading."},
}

// MostPassages is how many passages an absorber of one's own may have.
const MostPassages = 4

// passageFields lists what can be decided of one passage of one's own absorber.
func passageFields(i int) (fs []*Field) {
	at := func(h *Heater) bool { return own(h) && h.Absorber.Own != nil && len(h.Absorber.Own.Passages) > i }
	add := func(f Field) {
		f.Path = fmt.Sprintf("absorber.own.passages.%d.%s", i, f.Path)
		f.Label = fmt.Sprintf("%s, passage %d", f.Label, i+1)
		f.When, f.Since = at, 2
		fs = append(fs, &f)
	}
	add(Field{Path: "where", Label: "Position", Choices: list("front", "in front", "inside", "inside", "behind", "behind"),
		Default: constant("behind"), Help: "Where this part of the air path is."})
	add(Field{Path: "way", Label: "Direction", Choices: list("up", "up", "down", "down"), Default: constant("up"),
		Help: "Direction of the air in it."})
	add(Field{Path: "depth_m", Label: "Depth", Kind: units.Length, Min: 0.003, Max: 0.2, Default: constant(0.020),
		Help: "Clear depth of the passage; in front, the distance from glass to absorber counts."})
	add(Field{Path: "swept", Label: "Swept surface ratio", Kind: units.Number, Min: 0.5, Max: 6, Default: constant(1.0),
		Help: "Surface that the air sweeps on the absorber, divided by its flat size."})
	add(Field{Path: "turns", Label: "U-turns", Kind: units.Number, Whole: true, Min: 0, Max: 12, Default: constant(0),
		Help: "Turns by 180 degrees in this passage."})
	add(Field{Path: "roughness_m", Label: "Roughness", Kind: units.Length, Min: 0, Max: 0.005, Default: constant(0.0),
		Help: "Height of ribs or flaps in the passage."})
	return fs
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

func init() {
	for i := range MostPassages {
		Fields = append(Fields, passageFields(i)...)
	}
	for _, f := range Fields {
		byPath[f.Path] = f
	}
}

var byPath = map[string]*Field{}

// FieldAt returns the field at a path, or nil.
func FieldAt(path string) *Field { return byPath[path] }

package design

import (
	"math"

	"gladember/core/catalog"
	"gladember/core/units"
)

// Field is one thing that can be decided.
type Field struct {
	Path     string
	Label    string // a builder's word
	Term     string // the engineer's, where it differs
	Kind     units.Kind
	Min, Max float64 // SI, for numbers
	Whole    bool    // a count
	Text     bool    // free text
	Bool     bool
	Choices  func() []catalog.Choice // for a value out of a list
	Default  func(h *Heater) any     // what we put; nil leaves the zero value
	When     func(h *Heater) bool    // whether it applies; nil means always
	Help     string                  // one plain sentence
}

// Applies reports whether the field means something for the heater.
func (f *Field) Applies(h *Heater) bool { return f.When == nil || f.When(h) }

func constant(v any) func(*Heater) any { return func(*Heater) any { return v } }

func screens(h *Heater) bool  { return h.Absorber.Family == ScreenBox }
func backPass(h *Heater) bool { return h.Absorber.Family == BackPassPlate }
func twoCovers(h *Heater) bool {
	return h.Cover.Layers > 1
}

func list(pairs ...string) func() []catalog.Choice {
	var cs []catalog.Choice
	for i := 0; i < len(pairs); i += 2 {
		cs = append(cs, catalog.Choice{ID: pairs[i], Name: pairs[i+1]})
	}
	return func() []catalog.Choice { return cs }
}

// byAperture picks a value by the size of the glass: bounds are m2.
func byAperture[T any](small T, more ...any) func(*Heater) any {
	return func(h *Heater) any {
		v := any(small)
		for i := 0; i+1 < len(more); i += 2 {
			if h.Aperture() >= more[i].(float64) {
				v = more[i+1]
			}
		}
		return v
	}
}

func fanOf(get func(catalog.Fan) any) func(*Heater) any {
	return func(h *Heater) any {
		f, err := catalog.FindFan(h.Air.FanModel)
		if err != nil {
			f, _ = catalog.FindFan("computer-120")
		}
		return get(f)
	}
}

// Fields lists every field in the order in which defaults follow from each
// other.
var Fields = []*Field{
	{Path: "place.town", Label: "Town", Text: true, Default: constant(""), Help: "The nearest town gives position, height and clock."},
	{Path: "place.latitude_deg", Label: "Latitude", Kind: units.Angle, Min: -66, Max: 66, Default: constant(46.0), Help: "North is positive, south negative."},
	{Path: "place.longitude_deg", Label: "Longitude", Kind: units.Angle, Min: -180, Max: 180, Default: constant(0.0), Help: "East is positive, west negative."},
	{Path: "place.elevation_m", Label: "Height above sea", Kind: units.Distance, Min: -430, Max: 5000, Default: constant(200.0), Help: "Thin air carries less heat and lets more sun through."},
	{Path: "place.zone", Label: "Clock", Text: true, Default: constant("UTC"), Help: "The time zone your logger's clock follows, such as Europe/Zurich."},
	{Path: "place.bearing_deg", Label: "Glass looks", Term: "azimuth", Kind: units.Angle, Min: 0, Max: 360, Help: "Compass direction the glass faces, from true north: 90 is east, 180 south, 270 west.",
		Default: func(h *Heater) any {
			if h.Place.Latitude < 0 {
				return 0.0
			}
			return 180.0
		}},
	{Path: "place.tilt_deg", Label: "Lean", Term: "tilt", Kind: units.Angle, Min: 0, Max: 90, Help: "0 lies flat, 90 stands upright against a wall.",
		Default: func(h *Heater) any {
			return math.Min(90, math.Max(45, 5*math.Round((math.Abs(h.Place.Latitude)+20)/5)))
		}},
	{Path: "place.outdoor_c", Label: "Outdoors that noon", Kind: units.Temperature, Min: -45, Max: 30, Default: constant(0.0), Help: "Outdoor air on the clear winter noon the box is judged by."},
	{Path: "place.wind_m_s", Label: "Wind at the glass", Kind: units.Speed, Min: 0, Max: 15, Default: constant(2.0), Help: "A light breeze is 2 m/s; an open hill has more."},

	{Path: "room.kind", Label: "It warms", Choices: list(string(LivingRoom), "a room", string(Shop), "a shop", string(Greenhouse), "a greenhouse"), Default: constant(string(LivingRoom)), Help: "What the warm air goes into."},
	{Path: "name", Label: "Name", Text: true, Help: "What you call this heater.",
		Default: func(h *Heater) any {
			return map[RoomKind]any{LivingRoom: "Room heater", Shop: "Shop heater", Greenhouse: "Greenhouse heater"}[h.Room.Kind]
		}},
	{Path: "room.floor_m2", Label: "Floor", Kind: units.Area, Min: 1, Max: 500, Default: constant(16.0), Help: "Floor area the warm air reaches."},
	{Path: "room.air_c", Label: "Air drawn in", Kind: units.Temperature, Min: -20, Max: 40, Help: "How warm the air is that the box draws in at noon.",
		Default: func(h *Heater) any {
			return map[RoomKind]any{LivingRoom: 18.0, Shop: 10.0, Greenhouse: 12.0}[h.Room.Kind]
		}},

	{Path: "pane.width_m", Label: "Pane width", Kind: units.Length, Min: 0.15, Max: 3, Default: constant(0.8), Help: "The pane's own width, edge to edge."},
	{Path: "pane.height_m", Label: "Pane height", Kind: units.Length, Min: 0.15, Max: 4, Default: constant(1.4), Help: "The pane's own height, along the slope."},
	{Path: "pane.rest_m", Label: "Lies on the frame", Kind: units.Length, Min: 0.004, Max: 0.05, Default: constant(0.012), Help: "How far the pane rests on the frame at each side; the sun does not pass there."},

	{Path: "cover.material", Label: "Cover", Term: "glazing", Choices: catalog.Covers, Default: constant("glass"), Help: "What the pane is made of."},
	{Path: "cover.thickness_m", Label: "Thickness", Kind: units.Length, Min: 0.0005, Max: 0.02, Help: "Thickness of one sheet.",
		Default: func(h *Heater) any {
			if c, err := catalog.FindCover(h.Cover.Material); err == nil {
				return c.Thickness
			}
			return 0.004
		}},
	{Path: "cover.layers", Label: "Covers", Kind: units.Number, Whole: true, Min: 1, Max: 2, Default: constant(1), Help: "One sheet, or two with air between."},
	{Path: "cover.between_m", Label: "Between covers", Kind: units.Length, Min: 0.004, Max: 0.05, Default: constant(0.016), When: twoCovers, Help: "Air between two covers."},
	{Path: "cover.dirt", Label: "Dirt", Kind: units.Share, Min: 0, Max: 0.3, Default: constant(0.02), Help: "Share of the sun that dirt keeps out; 2 % is a pane washed now and then."},

	{Path: "absorber.family", Label: "Made as", Choices: list(string(ScreenBox), "black screens", string(BackPassPlate), "plate, air behind"), Default: constant(string(ScreenBox)), Help: "What catches the sun, and where the air goes."},
	{Path: "absorber.paint", Label: "Paint", Choices: catalog.Paints, Default: constant("high-heat-black"), Help: "How dark it is, and how hot the paint may get."},

	{Path: "absorber.screens.mesh", Label: "Screen", Choices: catalog.Meshes, Default: constant("aluminium-screen"), When: screens, Help: "The mesh that takes up the sun."},
	{Path: "absorber.screens.layers", Label: "Layers", Kind: units.Number, Whole: true, Min: 1, Max: 3, Default: constant(2), When: screens, Help: "Screens behind each other."},
	{Path: "absorber.screens.spacing_m", Label: "Spacing", Kind: units.Length, Min: 0.003, Max: 0.05, Default: constant(0.010), When: screens, Help: "From one screen to the next."},
	{Path: "absorber.screens.lift_m", Label: "Slant, bottom to top", Kind: units.Length, Min: 0, Max: 0.15, Default: constant(0.045), When: screens, Help: "How much nearer the glass the screens lie at the top, so that air must cross them all the way up."},
	{Path: "absorber.screens.rear_m", Label: "Behind, at the bottom", Kind: units.Length, Min: 0.003, Max: 0.1, Default: constant(0.008), When: screens, Help: "Air between the last screen and the back at the bottom."},
	{Path: "absorber.screens.bypass", Label: "Slips around", Term: "bypass", Kind: units.Share, Min: 0, Max: 0.3, Default: constant(0.10), When: screens, Help: "Share of the air that passes the edges and never crosses a screen."},

	{Path: "absorber.back_pass.metal", Label: "Plate", Choices: catalog.Sheets, Default: constant("aluminium"), When: backPass, Help: "The metal that takes up the sun."},
	{Path: "absorber.back_pass.thickness_m", Label: "Plate thickness", Kind: units.Length, Min: 0.0001, Max: 0.004, Default: constant(0.0007), When: backPass, Help: "Thickness of the plate."},
	{Path: "absorber.back_pass.channel_m", Label: "Channel", Kind: units.Length, Min: 0.005, Max: 0.1, Default: constant(0.025), When: backPass, Help: "Depth of the air channel behind the plate."},
	{Path: "absorber.back_pass.baffles", Label: "Baffles", Kind: units.Number, Whole: true, Min: 0, Max: 7, Default: constant(2), When: backPass, Help: "Laths that send the air from side to side."},

	{Path: "box.gap_m", Label: "Glass to absorber", Kind: units.Length, Min: 0.008, Max: 0.12, Default: constant(0.030), Help: "Nothing hot may touch the glass; 25 to 50 mm is our value."},
	{Path: "box.frame", Label: "Frame", Choices: catalog.Woods, Default: constant("softwood"), Help: "What the sides are made of."},
	{Path: "box.frame_width_m", Label: "Frame thickness", Kind: units.Length, Min: 0.006, Max: 0.08, Default: constant(0.030), Help: "Thickness of the side boards."},
	{Path: "box.foam", Label: "Insulation", Choices: catalog.Insulations, Default: constant("polyiso"), Help: "Behind and beside the absorber."},
	{Path: "box.back_foam_m", Label: "Foam behind", Kind: units.Length, Min: 0, Max: 0.15, Default: constant(0.030), Help: "Thickness of the insulation on the back."},
	{Path: "box.edge_foam_m", Label: "Foam at the sides", Kind: units.Length, Min: 0, Max: 0.1, Default: constant(0.012), Help: "Insulation that lines the frame inside; it keeps heat in and takes a strip of glass away."},
	{Path: "box.board_m", Label: "Back board", Kind: units.Length, Min: 0.003, Max: 0.03, Default: constant(0.009), Help: "Plywood that closes the back."},
	{Path: "box.seam_m3_s_m", Label: "Seam leak", Kind: units.Number, Min: 0, Max: 0.001, Default: constant(1.2e-5), Help: "Air in m3/s that a metre of seam lets through at 1 Pa; a hand-caulked box has about 0.000012."},

	{Path: "air.duct", Label: "Duct", Choices: catalog.Ducts, Default: constant("flexible"), Help: "Ribs and slack cost pressure."},
	{Path: "air.diameter_m", Label: "Duct bore", Kind: units.Bore, Min: 0.05, Max: 0.35, Default: byAperture(0.100, 0.7, 0.125, 1.3, 0.150, 2.6, 0.200), Help: "Inside diameter of ducts and ports."},
	{Path: "air.to_box_m", Label: "Duct to the box", Kind: units.Distance, Min: 0, Max: 30, Default: constant(0.8), Help: "From the room to the inlet."},
	{Path: "air.from_box_m", Label: "Duct from the box", Kind: units.Distance, Min: 0, Max: 30, Default: constant(0.8), Help: "From the outlet to the room."},
	{Path: "air.bends", Label: "Bends", Kind: units.Number, Whole: true, Min: 0, Max: 20, Default: constant(2), Help: "Right-angle bends, both ways together."},
	{Path: "air.flap", Label: "Backdraft flap", Bool: true, Default: constant(true), Help: "Stops the cold box from drawing warm air out of the room by night."},
	{Path: "air.fan", Label: "Fan", Choices: catalog.Fans, Default: byAperture("computer-120", 0.6, "inline-4", 1.5, "inline-5", 2.4, "inline-6"), Help: "A common fan to start from."},
	{Path: "air.fan_free_air_m3_s", Label: "Free air, by its label", Kind: units.Flow, Min: 0.001, Max: 1, Default: fanOf(func(f catalog.Fan) any { return f.FreeAir }), Help: "What the fan moves with nothing in its way. No duct lets it reach that."},
	{Path: "air.fan_shut_off_pa", Label: "Shut-off pressure", Kind: units.Pressure, Min: 2, Max: 2000, Default: fanOf(func(f catalog.Fan) any { return f.ShutOff }), Help: "What it presses with its outlet closed."},
	{Path: "air.fan_power_w", Label: "Fan takes", Kind: units.Power, Min: 0, Max: 1000, Default: fanOf(func(f catalog.Fan) any { return f.Power }), Help: "Electric power."},
	{Path: "air.fan_radial", Label: "Radial wheel", Bool: true, Default: fanOf(func(f catalog.Fan) any { return f.Radial }), Help: "A radial or inline fan holds its flow against pressure better than a propeller."},
	{Path: "air.fan_side", Label: "Fan sits at", Choices: list("inlet", "the inlet, pushing", "outlet", "the outlet, pulling"), Default: constant("inlet"), Help: "Pushing, leaks lose warm air; pulling, they draw cold air in, and the fan runs hot."},

	{Path: "switch.close_c", Label: "Fan on at", Term: "switch closes", Kind: units.Temperature, Min: 5, Max: 90, Default: constant(35.0), Help: "Air at the top of the box at which the fan starts."},
	{Path: "switch.open_c", Label: "Fan off at", Term: "switch opens", Kind: units.Temperature, Min: 0, Max: 85, Help: "Where it stops again.",
		Default: func(h *Heater) any { return math.Max(0, h.Switch.Close-8) }},

	{Path: "log.flow_is", Label: "Air flow is", Choices: list(string(WorkedOut), "worked out", string(ByMeasure), "measured", string(OnLabel), "the fan's label"), Default: constant(string(WorkedOut)), Help: "Heat is flow times rise, so what you say here decides how sure the heat is."},
	{Path: "log.flow_m3_s", Label: "Measured flow", Kind: units.Flow, Min: 0.0005, Max: 1, When: func(h *Heater) bool { return h.Log.FlowIs == ByMeasure }, Default: func(h *Heater) any { return math.Max(0.0005, 0.5*h.Air.FanFree) }, Help: "What comes out while the fan runs, as cubic metres of room air: by bag, or by a traverse of the duct."},
	{Path: "log.useful_c", Label: "Useful from", Kind: units.Temperature, Min: 0, Max: 80, Default: constant(30.0), Help: "An hour counts as useful when the air comes out warmer than this."},
}

var byPath = func() map[string]*Field {
	m := make(map[string]*Field, len(Fields))
	for _, f := range Fields {
		m[f.Path] = f
	}
	return m
}()

// FieldAt returns the field at a path, or nil.
func FieldAt(path string) *Field { return byPath[path] }

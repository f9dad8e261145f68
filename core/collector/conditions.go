package collector

import (
	"time"

	"gladember/core/air"
	"gladember/core/design"
	"gladember/core/solar"
)

// Site returns the heater's place as the sun sees it.
func Site(h *design.Heater) solar.Site {
	z, err := time.LoadLocation(h.Place.Zone)
	if err != nil {
		z = time.UTC
	}
	return solar.Site{Latitude: h.Place.Latitude, Longitude: h.Place.Longitude, Elevation: h.Place.Elevation, Zone: z}
}

// Surroundings returns what stands between the heater's glass and the sun.
func Surroundings(h *design.Heater) *solar.Surroundings {
	e := h.Shade
	s := &solar.Surroundings{Width: h.Pane.Width, Height: h.Pane.Height,
		Eave:    solar.Eave{Depth: e.EaveDepth, Above: e.EaveAbove, Over: e.EaveOver},
		FinLeft: e.FinLeft, FinRight: e.FinRight, FinBeside: e.FinBeside,
		Lid: solar.Lid{Length: h.Mirror.Length, Angle: h.Mirror.Angle, Reflect: h.Mirror.Reflect, Top: h.Mirror.Hinge == "top"}}
	if h.Indoors() {
		s.Lid = solar.Lid{}
	}
	for _, o := range e.Horizon {
		s.Horizon = append(s.Horizon, solar.Piece{From: o.From, To: o.To, Elevation: o.Elevation, Bare: o.Bare, Leafy: o.Leafy})
	}
	return s
}

// Hazy is the Linke turbidity of a hazy design day. Common practice, no source.
const Hazy = 6.0

// ConditionsAt returns the clear-sky conditions of the heater's place at an
// instant, with the outdoor and room air of its document and Swinbank's sky.
func ConditionsAt(h *design.Heater, at time.Time) Conditions {
	return ConditionsIn(h, at, h.Place.Haze)
}

// ConditionsIn is [ConditionsAt] under a sky of a Linke turbidity, see [Hazy].
func ConditionsIn(h *design.Heater, at time.Time, linke float64) Conditions {
	s := Site(h)
	inlet := h.Room.Air
	if h.Air.Source == "outdoors" {
		inlet = h.Place.Outdoor
	}
	air := solar.Air{Linke: linke, Albedo: h.Place.Albedo(int(at.In(s.Zone).Month()))}
	return Conditions{
		Sun:      Surroundings(h).On(at, s, h.Place.Tilt, h.Place.Bearing, air),
		Tilt:     h.Place.Tilt,
		Ambient:  h.Place.Outdoor,
		Inlet:    inlet,
		Room:     h.Room.Air,
		Sky:      solar.Swinbank(h.Place.Outdoor),
		Wind:     h.Place.Wind,
		Pressure: solar.Pressure(s.Elevation),
	}
}

// DesignYear is the year by whose sun a box is judged, so that it has the same figures whenever it is looked at. It has 365 days.
const DesignYear = 2026

// ClockNoon is twelve o'clock of a site's mean solar time on the 21st of a month of [DesignYear].
func ClockNoon(s solar.Site, month time.Month) time.Time {
	return time.Date(DesignYear, month, 21, 12, 0, 0, 0, time.UTC).Add(-time.Duration(s.Longitude / 15 * float64(time.Hour)))
}

// WinterNoon returns the solar noon by which a box is judged: 21 January in
// the north, 21 July in the south, of [DesignYear].
func WinterNoon(h *design.Heater) time.Time {
	s := Site(h)
	month := time.January
	if h.Place.Latitude < 0 {
		month = time.July
	}
	at := time.Date(DesignYear, month, 21, 12, 0, 0, 0, s.Zone)
	if d, err := solar.NewDay(at, s); err == nil && !d.Noon.IsZero() {
		return d.Noon
	}
	return at
}

// Conditions are the sun, the weather and the air a box is rated in.
type Conditions struct {
	// Sun is on the glass, W/m2: beam, sky, ground and mirror with their
	// incidence.
	Sun solar.OnPlane
	// Tilt is in degrees: 90 is upright.
	Tilt float64
	// Ambient is the outdoor air, C.
	Ambient float64
	// Inlet is the air that the box draws in, C.
	Inlet float64
	// Room is the space that the air goes to, C; it matters where the inlet
	// lies outdoors.
	Room float64
	// Sky is the radiant temperature of the sky, C.
	Sky float64
	// Wind is the speed at the glass, m/s.
	Wind float64
	// WindH is a film coefficient, W/m2K; above zero it replaces the wind
	// correlation.
	WindH float64
	// Pressure is that of the air, Pa; zero is that of sea level.
	Pressure float64
	// Vapor is the vapor pressure of the outdoor air, Pa; zero where it is not
	// known, and then no frost forms.
	Vapor float64
	// Snow is new on the cover as a day begins, kg/m2.
	Snow float64
	// Flow is the mass flow that leaves the box, kg/s; zero takes the fan's
	// operating point.
	Flow float64
	// NoFlow says that the fan stands still.
	NoFlow bool
}

// pressure is that of the air outdoors, Pa; the sea's where none is given.
func (c Conditions) pressure() float64 {
	if c.Pressure > 0 {
		return c.Pressure
	}
	return air.SeaLevel
}

package collector

import (
	"time"

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

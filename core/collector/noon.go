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

// ConditionsAt returns the clear-sky conditions of the heater's place at an
// instant, with the outdoor and room air of its document and Swinbank's sky.
func ConditionsAt(h *design.Heater, at time.Time) Conditions {
	s := Site(h)
	return Conditions{
		Sun:      solar.ClearOnPlane(at, s, h.Place.Tilt, h.Place.Bearing, solar.Air{}),
		Tilt:     h.Place.Tilt,
		Ambient:  h.Place.Outdoor,
		Inlet:    h.Room.Air,
		Sky:      solar.Swinbank(h.Place.Outdoor),
		Wind:     h.Place.Wind,
		Pressure: solar.Pressure(s.Elevation),
	}
}

// WinterNoon returns the solar noon by which a box is judged: 21 January in
// the north, 21 July in the south, of the given year.
func WinterNoon(h *design.Heater, year int) time.Time {
	s := Site(h)
	month := time.January
	if h.Place.Latitude < 0 {
		month = time.July
	}
	at := time.Date(year, month, 21, 12, 0, 0, 0, s.Zone)
	if d, err := solar.DayOf(at, s); err == nil && !d.Noon.IsZero() {
		return d.Noon
	}
	return at
}

package design

import "math"

// Loads that nobody gave are estimates for a first look. A local code or an engineer
// has the last word, and a value of the builder's own leads.

// usualGust is a three-second gust for the inland of temperate countries, m/s: 40 m/s
// is 90 mph, the basic speed that ASCE 7-05 gave for most of the United States
// (recalled from memory). Eurocode 1 gives a ten-minute mean of 22.5 to 27.5 m/s for
// much of central Europe, whose gusts in open country are about 1.5 times as fast.
const usualGust = 40.0

// Snow on the ground by height: the characteristic value of snow load zone 2 in the
// national annex DIN EN 1991-1-3/NA, in kN/m2 with the height in m (recalled from
// memory). It stands for the inland of a temperate country.
const (
	snowBase   = 0.25e3
	snowRise   = 1.91e3
	snowOffset = 140.0
	snowScale  = 760.0
)

// frostless is the mean of the coldest month from which no snow load is put, C. Common
// practice, no source.
const frostless = 8.0

func defaultGust(*Heater) any { return usualGust }

// defaultSnow is the estimate for the site's elevation, to 50 Pa.
func defaultSnow(h *Heater) any {
	if h.Climate.Coldest > frostless {
		return 0.0
	}
	z := (math.Max(0, h.Place.Elevation) + snowOffset) / snowScale
	return 50 * math.Round(math.Min(15000, math.Max(0.85e3, snowBase+snowRise*z*z))/50)
}

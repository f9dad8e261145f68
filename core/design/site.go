package design

// usualGust is a three-second gust for the inland of temperate countries, m/s: 40 m/s
// is 90 mph, the basic speed that ASCE 7-05 gave for most of the United States
// (recalled from memory). Eurocode 1 gives a ten-minute mean of 22.5 to 27.5 m/s for
// much of central Europe, whose gusts in open country are about 1.5 times as fast.
//
// Loads that nobody gave are estimates for a first look. A local code or an engineer
// has the last word, and a value of the builder's own leads.
const usualGust = 40.0

// frostless is the mean of the coldest month from which no snow load is asked for, C. Common
// practice, no source.
const frostless = 8.0

func defaultGust(*Heater) any { return usualGust }

// Snowless says that no snow load is to be asked for where the winter stays above freezing.
func (h *Heater) Snowless() bool { return h.Climate.Coldest > frostless }

// white is the mean of a month under which snow mostly lies on the ground, C. Common practice, no source.
const white = -2.0

// snowMonths are the first and the last month of a place in whose usual weather snow lies, 1 to 12; 0 where there is none.
func snowMonths(h *Heater) (first, last int) {
	usual := h.Place.Usual()
	lies := func(m int) bool { return usual.Temperature[(m+11)%12] < white }
	for m := 1; m <= 12; m++ {
		if lies(m) && !lies(m-1) {
			first = m
		}
		if lies(m) && !lies(m+1) {
			last = m
		}
	}
	return first, last
}

func firstSnow(h *Heater) any { first, _ := snowMonths(h); return first }
func lastSnow(h *Heater) any {
	if _, last := snowMonths(h); last > 0 {
		return last
	}
	return 2
}

package space

import "gladember/core/design"

// designColder is by how much the day a heater is sized for is colder than the
// mean of the coldest month, K. Common practice, no source.
const designColder = 10.0

// DesignOutdoors is the outdoor air for which a space's loss is told, C: colder
// than the coldest month by 10 K, or, with no climate known, than the noon the
// box is judged by.
func DesignOutdoors(h *design.Heater) float64 {
	given := h.Given(design.ClimateColdest)
	switch {
	case len(h.Climate.Months) == 12:
		least := 100.0
		for _, m := range h.Climate.Months {
			switch {
			case m.Mean != nil:
				least = min(least, *m.Mean)
			case m.Min != nil && m.Max != nil:
				least = min(least, (*m.Min+*m.Max)/2)
			}
		}
		return least - designColder
	case given || h.Climate.Coldest != 0:
		return h.Climate.Coldest - designColder
	}
	return h.Place.Outdoor - designColder
}

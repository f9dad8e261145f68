package layout

import (
	"math"

	"gladember/core/design"
)

// What people lift and carry together. Common practice, no source.
const (
	perLifter = 25.0 // kg that each lifts
	twoCarry  = 0.6  // m2 of a pane from which two carry it
)

// Lifters is how many people lift a mass together, kg: about 25 kg for each.
func Lifters(kg float64) int { return max(1, int(math.Ceil(kg/perLifter))) }

// PaneCarriers is how many people carry a heater's pane, by its size as much as
// by its mass: a wide sheet bends and catches the wind.
func PaneCarriers(h *design.Heater, kg float64) int {
	if h.Pane.Width*h.Pane.Height > twoCarry {
		return max(2, Lifters(kg))
	}
	return Lifters(kg)
}

// People counts people in words.
func People(n int) string {
	switch n {
	case 1:
		return "one person"
	case 2:
		return "two people"
	}
	return "three or more people"
}

package space

import (
	"math"

	"gladember/core/air"
	"gladember/core/design"
	"gladember/core/heattransfer"
)

// second is the rest of the house: one temperature, held by its own heater.
type second struct {
	mover string
	// loss is in W/K, capacity in J/K.
	loss     float64
	capacity float64 // J/K
	gains    float64
	wanted   float64
	// flow is in m3/s, power in W, and height that of the opening, m.
	flow   float64
	power  float64 // W
	height float64 // m
}

// stairWide is the width of the opening, m; discharge its coefficient. Source:
// Brown & Solvason 1962 for the flow by warmth through a doorway; width is
// common practice.
const (
	stairWide = 0.8
	discharge = 0.65
)

// moves is by how much the first space must be warmer before a fan moves its
// air on, K. Common practice, no source.
const moves = 1.5

// secondOf is the second space that the warm air goes on to, nil without one.
func secondOf(h *design.Heater) *second {
	if h.Second.Mover == "none" || h.Second.Mover == "" {
		return nil
	}
	x := h.Second
	return &second{x.Mover, x.Loss, x.Floor * masses["medium"].capacity, 4 * x.Floor, x.Wanted, x.Flow, x.Power, x.Height}
}

// step moves the second space on and returns the heat it takes from the first, W.
func (z *second) step(st *State, a Around, dt float64, w *Went) float64 {
	dT := st.Air - st.Second
	moved := 0.0
	rho := air.Density(20, air.SeaLevel) * air.Cp(20)
	switch {
	case z.mover == "stairs" && dT > 0:
		q := discharge / 3 * stairWide * math.Pow(z.height, 1.5) * math.Sqrt(heattransfer.Gravity*dT/(st.Air+air.Kelvin))
		moved = q * rho * dT
	case z.mover != "stairs" && dT > moves && st.Second < z.wanted+moves:
		moved = z.flow * rho * dT
		w.Mover = z.power
	}
	// No more than would bring the two together within the step.
	moved = min(moved, max(0, dT)*z.capacity/dt/2)
	w.MoverK = moved
	free := z.gains + moved + w.Mover
	k := math.Exp(-z.loss * dt / z.capacity)
	settle := a.Outdoors + free/z.loss
	next := settle + (st.Second-settle)*k
	if next < z.wanted { // its own heater holds it
		need := (z.wanted - next) * z.loss / (1 - k)
		w.Need += need
		next = z.wanted
	}
	st.Second = next
	return moved
}

package collector

import (
	"math"

	"gladember/core/air"
	"gladember/core/network"
)

// LeakExponent is the power of the pressure by which cracks leak, common practice in building physics.
const LeakExponent = 0.65

// leak sets what leaks into or out of the box while mass kg/s leave it, and what is moved besides; it returns the pressure in the box
// over the room's, Pa, of the losses before, in and after it: below the room's where the fan pulls, above it where it pushes.
func (d *Description) leak(f *Flow, mass, before, in, after float64, c Conditions) (pressure float64) {
	seam := d.Seam * math.Exp(f.Tune.Leak)
	if d.FanAtHot {
		pressure = -max(0, before+in/2)
		f.LeakIn = min(seam*math.Pow(-pressure, LeakExponent)*air.Density(c.Ambient, c.Pressure), mass/2)
		f.Mass = mass - f.LeakIn // what the fan moves is what leaves
		return pressure
	}
	pressure = max(0, after+in/2) // warmth may give unlike branches more than they take
	f.LeakOut = min(seam*math.Pow(pressure, LeakExponent)*air.Density(f.Mean, c.Pressure), mass/2)
	f.Mass = mass + f.LeakOut // flow is what comes out; the leak is moved besides
	return pressure
}

// makeUp is what it takes to warm outdoor air to the inlet's temperature, as
// much of it as leaks from the box, W. A box that hangs indoors leaks into its
// room.
func (d *Description) makeUp(n *network.Network, c Conditions) (w float64) {
	if d.Indoors {
		return 0
	}
	for _, f := range n.LeakOut {
		w += f.Mass * n.Cp * (c.Inlet - c.Ambient)
	}
	return w
}

// outdoors returns what a duct of a conductance to outdoors loses, W, of air
// that enters it at t: it cools exponentially on its way.
func (d *Description) outdoors(ua, mass, cp, t, ambient float64) float64 {
	if ua <= 0 || mass <= 0 {
		return 0
	}
	return mass * cp * (t - ambient) * (1 - math.Exp(-ua/(mass*cp)))
}

package season

import (
	"math"

	"gladember/core/collector"
	"gladember/core/design"
	"gladember/core/simulate"
	"gladember/core/space"
)

// Outage is the coldest clear day with the mains gone: no heater, the box on its
// battery or warmth alone.
type Outage struct {
	// Dusk is the air of the space at sunset with the box, C.
	Dusk float64
	// Without is the same without the box.
	Without float64
	// Warmest is the day's highest with the box, C.
	Warmest float64
	// Fan is what the fan takes of a battery, kWh.
	Fan float64
}

// SimulateOutage runs the day in a space that stood at what is wanted at
// sunrise. The sun through its windows is left out, so that the day may be
// overcast for them.
// The fan then runs on a battery, and its electricity is what that must hold.
func SimulateOutage(h *design.Heater) (Outage, error) {
	d, err := simulate.Run(h, collector.WinterNoon(h), simulate.DesignDay(h, simulate.Coldest))
	if err != nil {
		return Outage{}, err
	}
	sp, err := space.New(h)
	if err != nil {
		return Outage{}, err
	}
	with, without := space.Settle(h.Room.Wanted, h.Second.Wanted), space.Settle(h.Room.Wanted, h.Second.Wanted)
	o := Outage{Fan: d.Fan, Warmest: math.Inf(-1)}
	for i, s := range d.Samples {
		dt := 60.0
		if i > 0 {
			dt = s.At.Sub(d.Samples[i-1].At).Seconds()
		}
		a := space.Around{Outdoors: s.Ambient, Wanted: math.Inf(-1), Box: s.Heat}
		sp.Step(&with, a, dt)
		a.Box = 0
		sp.Step(&without, a, dt)
		o.Warmest = max(o.Warmest, with.Air)
	}
	o.Dusk, o.Without = with.Air, without.Air
	return o, nil
}

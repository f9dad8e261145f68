package measure

import (
	"time"

	"gladember/core/collector"
	"gladember/core/design"
)

// DayParts is where a day's sun went while the fan ran, kWh.
//
// A day that gave less than expected has lost it somewhere: reflected, through the glass, through
// the back, through a leak, or never drawn off because too little air moved. The same readings
// run through the heater as it is described and as it was fitted show where.
type DayParts struct{ Sun, Reflected, Front, Back, Edge, Leak, Air float64 }

// Parts sums the energy split of a heater over the running hours of readings, at the mass flow
// given, kg/s, or at its own for 0. Steady balances every ten minutes stand for the time until
// the next; the parts sum to the sun within what the balances do.
//
// Where the sun is not known there is nothing to split.
//
// What the fan does not draw off while it stands is no loss of the running box and is left
// out, as is the night.
func Parts(h *design.Heater, samples []Sample, set Setup, flow float64) (p DayParts, err error) {
	const every = 10 * time.Minute
	s, _, _ := Clean(samples)
	on := Running(s, set)
	suns, sunIs := sunOn(s, set)
	if sunIs == "" {
		return p, nil
	}
	d, err := collector.Describe(h)
	if err != nil {
		return p, err
	}
	gap := Longest(interval(s))
	var last *collector.Result
	var at time.Time
	for i := range s {
		if !on[i] || suns[i] < 20 {
			last = nil
			continue
		}
		if last == nil || s[i].At.Sub(at) >= every {
			r, err := d.Rate(conditions(h, s[i], suns[i], set, flow), collector.Tuning{}, last)
			if err != nil {
				return p, err
			}
			last, at = &r, s[i].At
		}
		if i+1 == len(s) || s[i+1].At.Sub(s[i].At) > gap {
			continue
		}
		k := s[i+1].At.Sub(s[i].At).Hours() / 1000
		e := last.Energy
		p.Sun, p.Reflected, p.Front = p.Sun+k*e.Sun, p.Reflected+k*e.Reflected, p.Front+k*e.Front
		p.Back, p.Edge, p.Leak, p.Air = p.Back+k*e.Back, p.Edge+k*e.Edge, p.Leak+k*e.Leak, p.Air+k*e.Air
	}
	return p, nil
}

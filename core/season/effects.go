package season

import (
	"context"
	"math"

	"gladember/core/climate"
	"gladember/core/collector"
	"gladember/core/design"
	"gladember/core/internal/parallel"
	"gladember/core/units"
)

// sigmaFit is one sigma of what two fast years of different heaters differ by though the
// heaters do not, as a share of the useful heat: each is fitted for itself. Twice 2.5 % of
// dirt gave 5.3 kWh more or less than 5 % of it in a year of 330.
const sigmaFit = 0.005

// Effect is something done to a heater, whose cost through a year is asked for.
//
// The uncertainty of a small loss is not that of the year.
type Effect struct {
	// Changes are applied to the heater, and By moves what the document has no field for.
	Changes []design.Change
	By      collector.Tuning
}

// EstimateEffects runs each effect through the year against the same year without it, and
// returns by how much the useful heat less the fan's electricity falls, kWh a year, each
// with its 95 % range.
//
// The range is paired: every uncertain input is moved in the year with the effect and in
// that without it alike, so that what both share falls out. An effect that the document
// refuses is told as NaN. It takes the years of all effects for each input; progress may be
// nil.
func EstimateEffects(ctx context.Context, h *design.Heater, s *climate.Series, effects []Effect, progress func(done,
	of int)) ([]collector.Band, error) {
	inputs := append([]collector.Uncertainty{{}}, collector.Uncertainties(h, false, false)...)
	heaters := make([]*design.Heater, len(effects)+1)
	heaters[0] = h
	for i, e := range effects {
		if next, err := design.Apply(*h, units.System{}, e.Changes...); err == nil {
			heaters[i+1] = &next
		}
	}
	n := len(heaters)
	useful := 0.0
	net := make([]float64, len(inputs)*n)
	err := parallel.Each(ctx, len(net), func(k int) error {
		x, e := inputs[k/n], k%n
		if heaters[e] == nil {
			net[k] = math.NaN()
			return nil
		}
		by := x.By
		if e > 0 {
			by = by.Plus(effects[e-1].By, 1)
		}
		r, _, err := moved(heaters[e], s, by, 1, nil)
		if err != nil {
			return err
		}
		net[k] = r.Year.Net()
		if k == 0 {
			useful = r.Year.Useful
		}
		return nil
	}, progress)
	if err != nil {
		return nil, err
	}
	out := make([]collector.Band, len(effects))
	for e := range effects {
		lost := func(i int) float64 { return net[i*n] - net[i*n+e+1] }
		var causes []collector.Cause
		for i := 1; i < len(inputs); i++ {
			causes = append(causes, collector.Cause{Name: inputs[i].Name, Path: inputs[i].Path, Effect: lost(i) - lost(0)})
		}
		if len(effects[e].Changes) > 0 {
			causes = append(causes, collector.Cause{Name: "the fast year's own fit", Effect: sigmaFit * useful})
		}
		out[e] = collector.NewBand(lost(0), causes)
	}
	return out, nil
}

package season

import (
	"context"

	"gladember/core/climate"
	"gladember/core/collector"
	"gladember/core/design"
	"gladember/core/internal/parallel"
)

// One sigma of what a year adds to the box's own uncertainties: the sun of a
// generated year and of a measured file, one year against another, and the loss
// of a space told by plain questions. The product's own judgment.
const (
	sigmaGenerated = 0.08
	sigmaFile      = 0.02
	sigmaYear      = 0.05
	sigmaLoss      = 0.15
)

// Bands are where a year's figures lie with 95 % and why.
type Bands struct {
	// Heat and Useful are in kWh a year, each with its range and causes.
	Heat, Useful collector.Band
}

// EstimateBands moves each uncertain input through the whole year, since
// systematic errors do not average out, two at a time; it takes as many years
// as there are inputs.
// Each input is moved by one standard uncertainty, all year the same way, since
// that is how a wrong value acts. progress may be nil.
// Heat and useful heat are moved together, so that their ranges rest on the
// same runs. A weather file's year has less uncertainty than one that was made.
func EstimateBands(ctx context.Context, h *design.Heater, s *climate.Series, r *Result, progress func(done, of int)) (Bands, error) {
	type input struct {
		name  string
		path  string // the field by which one says better
		by    collector.Tuning
		loss  float64
		sun   float64
		doubt climate.Doubt
	}
	var inputs []input
	for _, u := range collector.Uncertainties(h, false, false) {
		inputs = append(inputs, input{name: u.Name, path: u.Path, by: u.By, loss: 1})
	}
	doubt, estimated := climate.EstimateDoubt(h)
	switch {
	case !s.Generated:
		inputs = append(inputs, input{name: "the sun of such a year", path: design.ClimateMonths.Path, loss: 1, sun: sigmaFile})
	case estimated:
		inputs = append(inputs, input{name: "how sunny winter and summer are", path: design.ClimateSunnyWinter.Path, loss: 1,
			doubt: climate.Doubt{Winter: doubt.Winter, Summer: doubt.Summer}},
			input{name: "how warm the months are",
				path: design.ClimateColdest.Path, loss: 1, doubt: climate.Doubt{Temperature: doubt.Temperature}})
	default:
		inputs = append(inputs, input{name: "the sun of such a year", path: design.ClimateMonths.Path, loss: 1, sun: sigmaGenerated})
	}
	inputs = append(inputs, input{name: "one year against another", loss: 1, sun: sigmaYear},
		input{name: "how much the space loses", path: design.RoomLoss.Path, loss: 1 + sigmaLoss})
	heat, useful := make([]collector.Cause, len(inputs)), make([]collector.Cause, len(inputs))
	err := parallel.Each(ctx, len(inputs), func(i int) error {
		x := inputs[i]
		in := s
		if x.sun != 0 {
			in = s.Brighter(1 + x.sun)
		}
		if x.doubt != (climate.Doubt{}) {
			y, err := climate.Moved(h, x.doubt)
			if err != nil {
				return err
			}
			in = y.Series(h)
		}
		m, _, err := moved(h, in, x.by, x.loss, nil)
		if err != nil {
			return err
		}
		heat[i] = collector.Cause{Name: x.name, Path: x.path, Effect: m.Year.Heat - r.Year.Heat}
		useful[i] = collector.Cause{Name: x.name, Path: x.path, Effect: m.Year.Useful - r.Year.Useful}
		return nil
	}, progress)
	if err != nil {
		return Bands{}, err
	}
	return Bands{Heat: collector.NewBand(r.Year.Heat, heat), Useful: lower(collector.NewBand(r.Year.Useful, useful))}, nil
}

// lower keeps a band of heat from going below nothing.
// Neither heat nor useful heat can be less than nothing.
func lower(b collector.Band) collector.Band {
	b.Low = max(0, b.Low)
	return b
}

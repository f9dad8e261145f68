package season

import (
	"context"
	"math"

	"gladember/core/climate"
	"gladember/core/collector"
	"gladember/core/design"
)

// One sigma of what a year adds to the box's own uncertainties: the sun of a
// generated year and of a measured file, one year against another, and the loss
// of a space told by plain questions. The product's own judgement.
const (
	sigmaGenerated = 0.08
	sigmaFile      = 0.02
	sigmaYear      = 0.05
	sigmaLoss      = 0.15
)

// Bands are where a year's figures lie with 95 % and why.
type Bands struct {
	Heat, Useful collector.Band // kWh
}

// BandsOf moves each uncertain input through the whole year, since systematic
// errors do not average out, two at a time; it takes as many years as there are inputs.
func BandsOf(h *design.Heater, s *climate.Series, r *Result, progress func(done, of int)) (Bands, error) {
	type input struct {
		name string
		path string // the field by which one says better
		by   collector.Tuning
		loss float64
		sun  float64
	}
	var inputs []input
	for _, u := range collector.Uncertainties(h, false, false) {
		inputs = append(inputs, input{u.Name, u.Path, u.By, 1, 0})
	}
	sun := sigmaGenerated
	if !s.Generated {
		sun = sigmaFile
	}
	inputs = append(inputs, input{"the sun of such a year", "climate.months", collector.Tuning{}, 1, sun}, input{"one year against another", "", collector.Tuning{}, 1, sigmaYear}, input{"how much the space loses", "room.loss_w_k", collector.Tuning{}, 1 + sigmaLoss, 0})
	heat, useful := make([]collector.Cause, len(inputs)), make([]collector.Cause, len(inputs))
	err := Each(context.Background(), len(inputs), func(i int) error {
		x := inputs[i]
		in := s
		if x.sun != 0 {
			in = s.Brighter(1 + x.sun)
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
func lower(b collector.Band) collector.Band {
	b.Low = math.Max(0, b.Low)
	return b
}

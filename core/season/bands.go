package season

import (
	"math"
	"strings"
	"sync"

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
		by   collector.Tuning
		loss float64
		sun  float64
	}
	var inputs []input
	for _, u := range collector.Uncertainties(h, false, false) {
		inputs = append(inputs, input{u.Name, u.By, 1, 0})
	}
	sun := sigmaGenerated
	if !strings.Contains(r.Source, "guess") && !strings.Contains(r.Source, "table") {
		sun = sigmaFile
	}
	inputs = append(inputs, input{"the sun of such a year", collector.Tuning{}, 1, sun}, input{"one year against another", collector.Tuning{}, 1, sigmaYear}, input{"how much the space loses", collector.Tuning{}, 1 + sigmaLoss, 0})
	heat, useful := make([]collector.Cause, len(inputs)), make([]collector.Cause, len(inputs))
	var wait sync.WaitGroup
	var lock sync.Mutex
	var first error
	done := 0
	for part := range 2 {
		wait.Add(1)
		go func() {
			defer wait.Done()
			for i := part; i < len(inputs); i += 2 {
				x := inputs[i]
				in := s
				if x.sun != 0 {
					in = s.Brighter(1 + x.sun)
				}
				m, _, err := moved(h, in, r.Source, x.by, x.loss, nil)
				lock.Lock()
				if err != nil && first == nil {
					first = err
				}
				if err == nil {
					heat[i] = collector.Cause{Name: x.name, Effect: m.Year.Heat - r.Year.Heat}
					useful[i] = collector.Cause{Name: x.name, Effect: m.Year.Useful - r.Year.Useful}
				}
				done++
				if progress != nil {
					progress(done, len(inputs))
				}
				lock.Unlock()
			}
		}()
	}
	wait.Wait()
	if first != nil {
		return Bands{}, first
	}
	return Bands{Heat: collector.NewBand(r.Year.Heat, heat), Useful: lower(collector.NewBand(r.Year.Useful, useful))}, nil
}

// lower keeps a band of heat from going below nothing.
func lower(b collector.Band) collector.Band {
	b.Low = math.Max(0, b.Low)
	return b
}

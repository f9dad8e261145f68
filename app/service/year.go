package service

import (
	"context"
	"errors"
	"sync"
	"sync/atomic"

	"golang.org/x/sync/semaphore"

	"gladember/core/advice"
	"gladember/core/collector"
	"gladember/core/design"
	"gladember/core/season"
	"gladember/core/simulate"
)

// Year is a heater through a year. What takes more years than the one is computed when it is asked for.
type Year struct {
	Climate *season.Laid
	Result  *season.Result

	heater   design.Heater
	judging  *semaphore.Weighted
	lock     sync.Mutex // held while more years are run
	points   []season.SetPoint
	debates  []advice.Choice
	judgment atomic.Pointer[Judgment]
}

// Judgment is what the years around a heater's own say of it.
type Judgment struct {
	Bands    season.Bands
	Points   []season.SetPoint // of the thermostat, by month
	Outage   season.Outage
	Findings []advice.Finding
	Air      []advice.AirOption
}

// Year runs a heater through a year of its weather.
func (w *Workshop) Year(ctx context.Context, h *design.Heater) (*Year, error) {
	return w.years.Get(ctx, KeyOf(h, design.Judged), func() (*Year, error) {
		weather, err := w.Weather(ctx, h)
		if err != nil {
			return nil, err
		}
		y := &Year{Climate: &season.Laid{Year: weather}, heater: *h, judging: w.judging}
		if y.Result, err = y.Climate.Run(h); err != nil {
			return nil, err
		}
		y.Climate.Forget() // many years are remembered; their working tables are large
		return y, nil
	})
}

// KnownYear is a heater's year if it has been run, else nil.
func (w *Workshop) KnownYear(h *design.Heater) *Year {
	y, _ := w.years.Known(KeyOf(h, design.Judged))
	return y
}

// Findings are those of a heater's year once it is judged, else those of its clear winter noon.
func (w *Workshop) Findings(h *design.Heater, e *Heater) []advice.Finding {
	if y := w.KnownYear(h); y != nil && y.Judged() != nil {
		return y.Judged().Findings
	}
	return e.Findings
}

// AirOptions are the changes of a heater's air path, judged by its year once that is judged, else by its clear winter noon.
func (w *Workshop) AirOptions(h *design.Heater, e *Heater) []advice.AirOption {
	if y := w.KnownYear(h); y != nil && y.Judged() != nil {
		return y.Judged().Air
	}
	return e.airOptions()
}

// Judged is the year's judgment if there is one, else nil.
func (y *Year) Judged() *Judgment { return y.judgment.Load() }

// Judge computes the year's uncertainty and findings, which takes about a hundred more years.
func (y *Year) Judge(ctx context.Context) (*Judgment, error) {
	done, err := take(ctx, y.judging)
	if err != nil {
		return nil, err
	}
	defer done()
	y.lock.Lock()
	defer y.lock.Unlock()
	if j := y.judgment.Load(); j != nil {
		return j, nil
	}
	defer y.Climate.Forget()
	h := &y.heater
	var j Judgment
	if j.Findings, err = advice.EvaluateYear(ctx, h, y.Climate, y.Result); err != nil {
		return nil, err
	}
	if j.Air, err = advice.YearAirOptions(ctx, h, y.Climate, y.Result); err != nil {
		return nil, err
	}
	if j.Bands, err = season.EstimateBands(ctx, h, y.Climate.Series(h), y.Result, nil); err != nil {
		return nil, err
	}
	if j.Points, err = y.setPoints(ctx); err != nil {
		return nil, err
	}
	if j.Outage, err = season.SimulateOutage(h); err != nil && !errors.Is(err, simulate.ErrSun) {
		return nil, err
	}
	y.judgment.Store(&j)
	return &j, nil
}

// SetPoints are the thermostat's best points by month.
func (y *Year) SetPoints(ctx context.Context) ([]season.SetPoint, error) {
	done, err := take(ctx, y.judging)
	if err != nil {
		return nil, err
	}
	defer done()
	y.lock.Lock()
	defer y.lock.Unlock()
	defer y.Climate.Forget()
	return y.setPoints(ctx)
}

// setPoints computes them once; the lock is held.
func (y *Year) setPoints(ctx context.Context) ([]season.SetPoint, error) {
	if y.points == nil {
		ps, err := season.SetPoints(ctx, y.heater, y.Climate, season.Points, nil)
		if err != nil {
			return nil, err
		}
		y.points = append([]season.SetPoint{}, ps...) // not nil, so that a year without any is not tried again
	}
	return y.points, nil
}

// Debates puts the common debates to the year.
func (y *Year) Debates(ctx context.Context, e *collector.Evaluation) ([]advice.Choice, error) {
	done, err := take(ctx, y.judging)
	if err != nil {
		return nil, err
	}
	defer done()
	y.lock.Lock()
	defer y.lock.Unlock()
	if y.debates == nil {
		defer y.Climate.Forget()
		cs, err := advice.YearChoices(ctx, e, y.Climate)
		if err != nil {
			return nil, err
		}
		y.debates = append([]advice.Choice{}, cs...)
	}
	return y.debates, nil
}

// Workings are those of the year's figures for a heater that costs so much, with their uncertainty once it is judged.
func (y *Year) Workings(o Outlay) (map[string]collector.Working, error) {
	h := y.costing(o)
	m, err := season.Worth(&h, y.Result)
	if err != nil {
		return nil, err
	}
	var bands *season.Bands
	if j := y.Judged(); j != nil {
		bands = &j.Bands
	}
	return season.Workings(&h, y.Result, &m, bands)
}

package ui

import (
	"math"
	"time"

	"gladember/core/measure"
	"gladember/core/units"
)

// Series is a day's chart as the script takes it; null where there is no value.
type Series struct {
	Zone     string     `json:"zone"`
	Unit     string     `json:"unit"`
	Times    []int64    `json:"t"`
	Inlet    []*float64 `json:"inlet"`
	Outlet   []*float64 `json:"outlet"`
	Outdoor  []*float64 `json:"outdoor"`
	Expected []*float64 `json:"expected"` // or what the thermostat senses
	Sun      []*float64 `json:"sun"`
	SunIs    string     `json:"sunIs"`
	// Irradiance is the unit of the sun.
	Irradiance string     `json:"irradiance"`
	Runs       [][2]int64 `json:"runs"` // while the fan runs
	Gaps       [][2]int64 `json:"gaps"` // without readings
	Left       [][2]int64 `json:"left"` // left out of the judgment

	From   int64      `json:"from"` // of the stretch that is shown, s
	To     int64      `json:"to"`
	Step   int64      `json:"step"` // that two points stand for, s; 0 where each is a reading
	Low    []*float64 `json:"low"`  // the 95 % range of what is expected
	High   []*float64 `json:"high"`
	Beside []*float64 `json:"beside"` // the outlet of another heater
	Notes  []Pinned   `json:"notes"`
}

// Pinned is a note at a moment.
type Pinned struct {
	At   int64  `json:"t"`
	Text string `json:"text"`
}

// What the sun of a series is.
const (
	MeasuredSun = "measured"
	ClearSky    = "of a clear sky"
)

// Point is a moment of a series, C and W/m2; NaN where there is no value.
type Point struct {
	At                                 time.Time
	Inlet, Outlet, Outdoor, Other, Sun float64
	Low, High                          float64 // the 95 % range of Other, C; both 0 for none
}

// NewSeries begins a series in a person's units.
func NewSeries(zone *time.Location, sunIs string, u units.System) Series {
	return Series{Zone: zone.String(), Unit: u.Unit(units.Temperature), SunIs: sunIs, Irradiance: u.Unit(units.Irradiance),
		Runs: [][2]int64{}, Gaps: [][2]int64{}, Left: [][2]int64{}, Notes: []Pinned{}}
}

// Add adds a moment.
func (s *Series) Add(p Point, u units.System) {
	temp := func(v float64) *float64 { return shown(math.Round(u.In(units.Temperature, v)*100) / 100) }
	s.Times = append(s.Times, p.At.Unix())
	s.Inlet, s.Outlet, s.Outdoor = append(s.Inlet, temp(p.Inlet)), append(s.Outlet, temp(p.Outlet)), append(s.Outdoor, temp(p.Outdoor))
	s.Expected, s.Sun = append(s.Expected, temp(p.Other)), append(s.Sun, shown(math.Round(u.In(units.Irradiance, p.Sun))))
	low, high := math.NaN(), math.NaN()
	if p.High > p.Low {
		low, high = p.Low, p.High
	}
	s.Low, s.High = append(s.Low, temp(low)), append(s.High, temp(high))
}

// AddBeside adds the outlet temperatures of another log, at its nearest reading to each moment.
func (s *Series) AddBeside(samples []measure.Sample, longest time.Duration, u units.System) {
	k := 0
	for _, t := range s.Times {
		at := time.Unix(t, 0)
		for k+1 < len(samples) && samples[k+1].At.Sub(at).Abs() <= samples[k].At.Sub(at).Abs() {
			k++
		}
		v := math.NaN()
		if k < len(samples) && samples[k].At.Sub(at).Abs() <= longest {
			v = math.Round(u.In(units.Temperature, samples[k].Outlet)*100) / 100
		}
		s.Beside = append(s.Beside, shown(v))
	}
}

// shown is a value for the script; nil where there is none.
func shown(v float64) *float64 {
	if math.IsNaN(v) {
		return nil
	}
	return &v
}

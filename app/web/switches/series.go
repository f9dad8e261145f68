package switches

import (
	"math"

	"gladember/app/service"
	"gladember/app/web/ui"
	"gladember/core/design"
	"gladember/core/simulate"
	"gladember/core/thermostat"
	"gladember/core/units"
)

// series is a simulated day as the script takes it: the lines of the chart, and what the drawing shows by the minute.
type series struct {
	ui.Series
	Play played `json:"play"`
}

// played is what the drawing shows by the minute.
type played struct {
	Profile    []float64 `json:"profile"`
	Plate      []float64 `json:"plate"` // C
	PlateShown []float64 `json:"plateShown"`
	Stages     []int     `json:"stages"`
	Heat       []float64 `json:"heat"`
	Coat       []bool    `json:"coat"`
	Power      string    `json:"power"`
	Irradiance string    `json:"irradiance"`
	Comma      bool      `json:"comma"`
	Fan        bool      `json:"fan"`
	On         *float64  `json:"on"` // the set points in the person's units, if there are any
	Off        *float64  `json:"off"`
}

// add adds a minute.
func (p *played) add(s simulate.Sample, u units.System) {
	p.Profile = append(p.Profile, math.Round(s.Profile*10)/10)
	p.Plate = append(p.Plate, math.Round(s.Absorber))
	p.PlateShown = append(p.PlateShown, math.Round(u.In(units.Temperature, s.Absorber)))
	p.Stages = append(p.Stages, s.Stages)
	p.Heat = append(p.Heat, math.Round(u.In(units.Power, s.Heat)))
	p.Coat = append(p.Coat, s.Coat > simulate.Thin)
}

// seriesOf writes a day in a person's units.
func seriesOf(h *design.Heater, d *service.Day, u units.System) series {
	sun := ui.ClearSky
	if d.Measured {
		sun = ui.MeasuredSun
	}
	out := series{Series: ui.NewSeries(d.Noon.Location(), sun, u)}
	out.Play = played{Power: u.Unit(units.Power), Irradiance: u.Unit(units.Irradiance), Comma: u.DecimalComma, Fan: h.Fanned()}
	if thermostat.New(h).HasPoints() {
		on, off := u.In(units.Temperature, h.Switch.Close), u.In(units.Temperature, h.Switch.Open)
		out.Play.On, out.Play.Off = &on, &off
	}
	var from int64
	for i, s := range d.Samples {
		outlet := s.Outlet
		if s.Stages == 0 {
			outlet = math.NaN()
		}
		out.Add(ui.Point{At: s.At, Inlet: s.Inlet, Outlet: outlet, Outdoor: s.Ambient, Other: s.Sensor, Sun: s.Sun}, u)
		out.Play.add(s, u)
		switch running := s.Stages > 0; {
		case running && from == 0:
			from = s.At.Unix()
		case from > 0 && (!running || i == len(d.Samples)-1):
			out.Runs = append(out.Runs, [2]int64{from, s.At.Unix()})
			from = 0
		}
	}
	return out
}

package season

import (
	"math"

	"gladember/core/climate"
	"gladember/core/collector"
	"gladember/core/design"
	"gladember/core/space"
	"gladember/core/thermostat"
)

// full is the box by its whole network, a minute at a time: what [fast] is
// measured against.
type full struct {
	h        *design.Heater
	d        *collector.Description
	sw       thermostat.Clocked
	t        *collector.Transient
	pressure float64
	useful   float64
	// sensor is the thermostat's, C, and before the same a step ago.
	sensor float64
	before float64 // the sensor a step ago, C
	// falls is what air that falls through the box takes, W, found again each
	// hour.
	falls  float64
	stages int
	// last is the last rating by stages, to begin the next from.
	last [3]*collector.Result
	// flow is in kg/s by stages, and watts what the fan takes.
	flow  [3]float64
	watts [3]float64
	// bare is what the bare window would give, W, and ducts what they lose.
	bare  float64
	ducts float64
}

// Full takes a heater through days of a year, from one to before another, by its
// whole network in steps of a minute, and the space in quarters.
// from and to are days of the series, counted from 0. It takes far longer than
// the fast year, and is a check of it.
// Only tests reach it, as a reference.
func Full(h *design.Heater, s *climate.Series, from, to int) (*Result, error) {
	sp, err := space.New(h)
	if err != nil {
		return nil, err
	}
	d, err := collector.Describe(h)
	if err != nil {
		return nil, err
	}
	f := &full{h: h, d: &d, sw: thermostat.Clocked{Switch: thermostat.New(h)}, pressure: s.Pressure, useful: h.Room.Useful}
	return through(h, s, sp, f, from*climate.QuartersInDay, to*climate.QuartersInDay)
}

// through implements [box].
// The network goes by steps of a minute, and by shorter ones near the
// thermostat's points, as in a day.
func (f *full) through(q *climate.Quarter, room, hour float64, out *quarterSum) error {
	inlet := room
	if f.h.Air.Source == "outdoors" {
		inlet = q.Ambient
	}
	c := asConditions(f.h, q, inlet, f.pressure)
	if f.t == nil {
		t, err := f.d.NewTransient(c)
		if err != nil {
			return err
		}
		f.t, f.sensor, f.before = t, q.Ambient, q.Ambient
	}
	if hour == 0 {
		f.t.Coat.Mass += q.Snow
	}
	total, area := q.Sun.Total(), f.d.Aperture()
	if err := f.fallen(c, room, hour, out); err != nil {
		return err
	}
	speed := f.d.FanSpeed(c)
	dt := runSteps
	if total <= 0 && f.stages == 0 && f.sw.Kind != thermostat.Timer && f.sw.Kind != thermostat.Plug {
		dt = 300
	}
	f.flow = [3]float64{-1, -1, -1} // found again each quarter
	for left := quarter; left > 0; left -= dt {
		was := f.stages
		if f.d.Natural {
			f.stages = 1
		} else {
			f.stages = f.sw.Step(thermostat.Reading{Box: thermostat.Ahead(f.sensor, f.before), Room: room, Hour: hour, Speed: speed}, dt)
		}
		if f.d.Natural && total <= 0 && !f.d.Indoors {
			f.stages = 0
		}
		hour += dt / 3600
		s := f.stages
		m, err := f.moves(c, s)
		if err != nil {
			return err
		}
		if s > 0 && m <= 0 {
			f.stages, f.sw.Stages, m = 0, 0, 0
		}
		x, err := f.t.Step(c, m, dt)
		if err != nil {
			return err
		}
		f.before = f.sensor
		f.sensor += (x.Top - f.sensor) * thermostat.Follows(m > 0, dt)
		out.sun += total * area * dt
		if m <= 0 && f.d.Indoors {
			out.heat += (x.Energy.Room - f.bare) * dt
			continue
		}
		if m <= 0 {
			continue
		}
		if was == 0 {
			out.starts++
		}
		out.ran(x.Energy.Air+x.Energy.Room-f.bare-f.ducts-x.MakeUp, f.watts[s], m, x.Outlet, inlet, dt, f.useful,
			f.h.Air.Source == "outdoors")
	}
	return nil
}

// fallen adds the heat that the standing box takes out of the room by night.
func (f *full) fallen(c collector.Conditions, room, hour float64, out *quarterSum) error {
	if f.stages > 0 || c.Sun.Total() > darkSun || f.d.Indoors {
		f.falls = -1
		return nil
	}
	if hour == math.Floor(hour) || f.falls < 0 {
		c.Inlet, c.Room = room, room
		r, err := f.d.BackFlow(c, f.h.Air.Flap != "none")
		if err != nil {
			return err
		}
		f.falls = f.d.NightLoss(&r)
	}
	out.back += f.falls * quarter
	return nil
}

// moves is the flow at so many stages, kg/s, found once in a quarter.
// kg/s, found again as in a day.
func (f *full) moves(c collector.Conditions, stages int) (float64, error) {
	if stages == 0 {
		return 0, nil
	}
	if f.flow[stages] >= 0 {
		return f.flow[stages], nil
	}
	if f.d.Natural { // what lies on the cover keeps the sun from what it would lift
		c.Sun = c.Sun.Dimmed(f.t.Coat.Transmits())
	}
	x, err := f.d.Staged(stages).Rate(c, collector.Tuning{}, f.last[stages])
	if err != nil {
		return 0, err
	}
	f.flow[stages], f.watts[stages], f.bare, f.ducts = x.Mass, x.Bought, x.Bare, x.DuctLoss
	if x.Mass > 0 {
		f.last[stages] = &x
	}
	if f.d.Natural && !f.d.Indoors && x.ToRoom() <= 0 {
		f.flow[stages] = 0
	}
	return f.flow[stages], nil
}

package measure

import (
	"math"
	"slices"
	"time"

	"gladember/core/air"
	"gladember/core/collector"
	"gladember/core/design"
	"gladember/core/solar"
)

// NewSetup is what a heater's log is judged by; running is the heater at its clear winter
// noon.
//
// A log is judged by the heater as it is described: its glass, its thermostat, its place, and
// the flow that the document says is to be used.
func NewSetup(h *design.Heater, running *collector.Result) Setup {
	s := collector.Site(h)
	set := Setup{
		Area: h.Glass(), FanPower: running.FanPower, Pressure: solar.Pressure(s.Elevation), UsefulAbove: h.Room.Useful,
		Close: h.Switch.Close, Open: h.Switch.Open,
		DuctArea: h.DuctArea(), Zone: s.Zone, ProbeU: h.Entry(design.LogOutletOff).U,
		Ahead: NewMending(h).Ahead, Swapped: h.Log.Swapped,
		Site: &Placement{Site: s, Tilt: h.Place.Tilt, Facing: h.Place.Bearing, Around: collector.Surroundings(h)},
	}
	room := air.Density(h.Room.Air, set.Pressure)
	switch h.Log.FlowIs {
	case design.OnLabel:
		set.Flow, set.FlowOrigin = h.FreeAir()*room, FlowFreeAir
	case design.ByMeasure:
		set.Flow, set.FlowOrigin = h.Log.Flow*room, FlowGiven
	default:
		set.Flow, set.FlowOrigin = running.Mass, FlowPredicted
		if u := h.Entry(design.AirFanStrength).U; u > 0 {
			set.FlowOrigin, set.FlowU = FlowMeasured, u/h.Air.FanStrength
		}
	}
	return set
}

// NewMending is what is known to be wrong with the logger of a heater.
func NewMending(h *design.Heater) Mending {
	l := &h.Log
	return Mending{l.InletOff, l.OutletOff, l.OutdoorOff, time.Duration(l.ClockOff * float64(time.Minute)), l.Swapped}
}

// Prediction is what the heater should have given at a reading.
type Prediction struct {
	// At is the instant; Outlet is the steady outlet then, C, and Heat the
	// steady heat, W.
	At     time.Time
	Outlet float64 // C, steady
	Heat   float64 // W
	// U is the standard uncertainty of Outlet, K: that of the rise in the
	// middle of the day's runs, as a share of the rise at this reading.
	U    float64
	rise float64 // K
}

// Range is the 95 % range of the outlet, C: two standard uncertainties either way.
func (p Prediction) Range() (low, high float64) { return p.Outlet - 2*p.U, p.Outlet + 2*p.U }

// Expected is what a heater should have given over a day's runs.
type Expected struct {
	// Date is the local day.
	Date string
	// Heat is in kWh.
	Heat float64
	// U is its standard uncertainty, kWh, with that of the sun.
	U      float64
	Points []Prediction
	// Missing is what was expected less what was measured, kWh.
	Missing float64
	// Telling is true where the difference is beyond what both bands allow.
	Telling bool
}

// Compare runs the heater's own network through the days of a log with the
// logged inlet, outdoor air and sun (of a clear sky where none was measured),
// at the log's flow, at most every ten minutes, and sets it beside the heat
// measured. Outdoor air that was not logged is the document's.
// A balance is solved every ten minutes of running, with the readings' own
// inlet, outdoor air and sun. Without any sun, measured or of a clear sky,
// there is nothing to compare with.
func Compare(h *design.Heater, samples []Sample, set Setup, r *Report) ([]Expected, error) {
	s, _, _ := Clean(samples)
	on := Running(s, set)
	suns, sunIs := sunOn(s, set)
	if sunIs == "" {
		return nil, nil
	}
	d, err := collector.Describe(h)
	if err != nil {
		return nil, err
	}
	const every = 10 * time.Minute
	days := map[string]*Expected{}
	var order []*Expected
	var last *collector.Result
	longest := Longest(r.Interval)
	var lastAt time.Time
	heat := 0.0
	zone := zoneOf(&set)
	for i, x := range s {
		date := x.At.In(zone).Format("2006-01-02")
		e := days[date]
		if e == nil {
			e = &Expected{Date: date}
			days[date] = e
			order = append(order, e)
		}
		if on[i] && suns[i] > 20 {
			if last == nil || x.At.Sub(lastAt) >= every || x.At.Before(lastAt) {
				res, err := d.Rate(conditions(h, x, suns[i], set, r.Flow), collector.Tuning{}, last)
				if err != nil {
					return nil, err
				}
				last, lastAt, heat = &res, x.At, res.Energy.Air // what thermometers in the air see
				e.Points = append(e.Points, Prediction{At: x.At, Outlet: res.Outlet, Heat: heat, rise: res.Outlet - x.Inlet})
			}
		} else {
			heat = 0
			last, lastAt = nil, time.Time{}
		}
		if i > 0 {
			if dt := x.At.Sub(s[i-1].At); dt <= longest && on[i] && on[i-1] {
				e.Heat += heat * dt.Hours() / 1000
			}
		}
	}
	var out []Expected
	for _, e := range order {
		if len(e.Points) > 0 {
			mid := e.Points[len(e.Points)/2].At
			k := slices.IndexFunc(s, func(x Sample) bool { return x.At.Equal(mid) })
			if err := e.doubt(h, conditions(h, s[k], suns[k], set, r.Flow), sunIs != "measured", r); err != nil {
				return nil, err
			}
		}
		out = append(out, *e)
	}
	return out, nil
}

// doubt sets the uncertainty of the day's prediction, that of the model at
// conditions in the middle of the day's runs, and what the log misses of it.
func (e *Expected) doubt(h *design.Heater, c collector.Conditions, clearSky bool, r *Report) error {
	ev, err := collector.Evaluate(h, c, clearSky)
	if err != nil {
		return err
	}
	if ev.Running.Heat > 0 {
		e.U = e.Heat * ev.Heat.U / ev.Running.Heat
	}
	if rise := ev.Running.Outlet - c.Inlet; rise > 0 {
		for i := range e.Points {
			p := &e.Points[i]
			p.U = math.Abs(p.rise) * ev.Outlet.U / rise
		}
	}
	for _, day := range r.Days {
		if day.Date == e.Date {
			e.Missing = e.Heat - day.Heat
			u := (day.Band[1] - day.Heat) / 2
			e.Telling = math.Abs(e.Missing) > 2*math.Hypot(u, e.U)
		}
	}
	return nil
}

// conditions puts a reading into the terms of the heat balance. A measured sun
// is split as a clear sky splits it at that instant.
func conditions(h *design.Heater, x Sample, sun float64, set Setup, flow float64) collector.Conditions {
	c := collector.ConditionsAt(h, x.At)
	if t := c.Sun.Total(); t > 0 {
		c.Sun = c.Sun.Dimmed(sun / t) // what a mirror adds with the rest
	} else {
		c.Sun.Sky = sun
	}
	c.Inlet = x.Inlet
	if !math.IsNaN(x.Outdoor) {
		c.Ambient = x.Outdoor
		c.Sky = solar.Swinbank(x.Outdoor)
	}
	if set.Pressure > 0 {
		c.Pressure = set.Pressure
	}
	c.Flow = flow
	return c
}

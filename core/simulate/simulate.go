// Package simulate runs a solar air heater through a day: sun moving, air
// flowing, temperatures, the switch turning the fan on and off.
//
// The box is the network of core/collector with the heat its layers store,
// stepped implicitly every half minute, and every ten seconds where the switch
// may soon turn; the switch is that of core/thermostat
// with the lag of its sensor. Flow while the fan runs is the operating point,
// found again every quarter of an hour; without a fan it is what warmth lifts.
// Sun is worked out every five minutes and drawn straight between.
package simulate

import (
	"context"
	"errors"
	"math"
	"slices"
	"time"

	"gladember/core/air"
	"gladember/core/collector"
	"gladember/core/design"
	"gladember/core/internal/parallel"
	"gladember/core/solar"
	"gladember/core/thermostat"
)

// Weather is what a box stands in at an instant.
type Weather func(at time.Time) collector.Conditions

// Sky is a design day's.
type Sky string

// The design days: clear, hazy (Linke 6), broken cloud, the coldest clear day,
// the same with frost on the cover, and with new snow on it. A broken day's
// clouds pass every twelve minutes, half of the time, and let a quarter of the
// beam through: common practice, no source.
const (
	Clear   Sky = "clear"
	HazySky Sky = "hazy"
	Broken  Sky = "broken"
	Coldest Sky = "coldest"
	Frosty  Sky = "frosty"
	Snowy   Sky = "snowy"
)

// Skies lists the design days.
var Skies = []Sky{Clear, HazySky, Broken, Coldest, Frosty, Snowy}

// Known says whether a design day is of the list.
// It is for what arrives from outside, such as an address or a flag.
func Known(s Sky) bool { return slices.Contains(Skies, s) }

// swing is how far outdoor air moves about its mean on a clear day, and colder
// the coldest day's noon lies under the usual one's, K. Common practice, no
// source.
const (
	swing  = 4.0
	colder = 10.0
)

// DesignDay returns the weather of a day of a sky at the heater's place: in the month of the winter noon the
// outdoor air of its document is that of two in the afternoon, and swings; in any other it is as much warmer as that month's
// mean is. A room is no colder than the air outdoors, up to where its windows are opened.
// Any instant of any day may be asked of what it returns.
func DesignDay(h *design.Heater, sky Sky) Weather {
	zone := collector.Site(h).Zone
	winter := int(collector.WinterNoon(h).Month()) // the same in any year
	return func(at time.Time) collector.Conditions {
		c := collector.ConditionsAt(h, at)
		if m := int(at.In(zone).Month()); m != winter {
			c.Ambient += h.MonthMean(m) - h.MonthMean(winter)
			c.Room = max(c.Room, min(c.Ambient, h.Room.Vent))
			c.Inlet = c.Room
		}
		if sky == HazySky {
			c.Sun = collector.ConditionsIn(h, at, collector.Hazy).Sun
		}
		hour := solar.SolarTime(at, collector.Site(h))
		c.Ambient += swing * (math.Cos((hour-14)*math.Pi/12) - 1)
		if sky == Coldest || sky == Frosty || sky == Snowy {
			c.Ambient -= colder
		}
		if sky == Frosty || sky == Snowy {
			// The air of a clear night is saturated at its coldest (FAO-56, eq.
			// 48).
			c.Vapor = air.SaturationPressure(c.Ambient - swing*(math.Cos((hour-14)*math.Pi/12)+1))
		}
		if h.Air.Source == "outdoors" {
			c.Inlet = c.Ambient
		}
		c.Sky = solar.Swinbank(c.Ambient)
		if sky == Snowy {
			c.Snow = NewSnow
		}
		if sky == Broken {
			c.Sky = (c.Sky + c.Ambient) / 2
			if m := at.Unix() / 60; m/12%2 == 0 {
				c.Sun.Beam *= 0.25
				c.Sun.Mirror *= 0.25
				c.Sun.Sky *= 1.3
			}
		}
		return c
	}
}

// Sample is the day at an instant.
type Sample struct {
	At time.Time
	// Sun is on the glass, W/m2.
	Sun float64
	// Ambient, Inlet and Outlet are in C; the outlet is the inlet's while
	// nothing moves.
	Ambient float64
	Inlet   float64 // C
	Outlet  float64 // C; the inlet's while nothing moves
	// Sensor is what the thermostat feels, C.
	Sensor float64
	// Absorber is its hottest spot, C.
	Absorber float64
	// Stages are those of the fan that run; 1 where warmth moves the air.
	Stages int
	// Heat is what the room gets, W, the mean since the sample before.
	Heat float64
	// Coat is the frost or snow on the cover, kg/m2.
	Coat float64
	// Profile is the sun's angle as one looks along the box: see
	// [solar.ProfileAngle].
	Profile float64
}

// Day is what a day came to.
type Day struct {
	// Samples are one a minute.
	Samples []Sample
	// Cycles is how often the fan starts.
	Cycles     int
	RunMinutes float64
	// Heat is what the room gets, kWh; of a window panel, besides the bare
	// window.
	Heat float64
	// Fan is the electricity bought, kWh.
	Fan float64
	// OutletMin and OutletMax are those while it runs, C.
	OutletMin float64
	OutletMax float64
	// Sun is on the glass, kWh.
	Sun float64
	// Reflected and Lost are in kWh; Stored is what is still in the box at the
	// end.
	Reflected float64
	Lost      float64
	Stored    float64 // kWh still in the box at the end
	// Ducts is what ducts outdoors lose, kWh.
	Ducts float64
	// Bare is what the bare window would have given, kWh.
	Bare float64
	// MakeUp is taken by outdoor air that replaced leaks in the room, kWh.
	MakeUp float64
	// Longest is the longest run, minutes.
	Longest float64
	// CoatAtDawn is the frost or snow on the cover, kg/m2.
	CoatAtDawn float64
	// CoatUntil is when it was gone; zero where there was none, or it stayed.
	CoatUntil time.Time
}

// NewSnow is what lies on the cover on a snowy morning, kg/m2: 50 mm of new
// snow. Common practice, no source.
const NewSnow = 5.0

// Thin is a coat that no longer matters, kg/m2.
const Thin = 0.005

// near is within how many kelvin of its next point a switch is stepped finely.
const near = 4.0

// The steps far from and near a switch's point, and how often flow and sun are
// found again, s.
const (
	Step      = 30.0
	fine      = 10.0
	flowEvery = 900
	sunEvery  = 300
)

// ErrSun is returned for a day on which the sun does not rise.
var ErrSun = errors.New("the sun does not rise there that day; choose another date")

// Run takes a heater from sunrise to sunset of the day that holds an instant,
// in a weather, with its own switch.
// The error is [ErrSun], or that of a balance that does not settle.
func Run(h *design.Heater, day time.Time, w Weather) (Day, error) {
	return run(h, thermostat.New(h), day, w)
}

// run takes a heater with a switch through the sunlit part of a day.
func run(h *design.Heater, sw thermostat.Switch, day time.Time, w Weather) (Day, error) {
	site := collector.Site(h)
	sun, err := solar.NewDay(day, site)
	if err != nil || sun.Rise.IsZero() || sun.Set.IsZero() {
		return Day{}, ErrSun
	}
	if !sun.Set.After(sun.Rise) { // a clock on which the sun sets past midnight
		next, err := solar.NewDay(day.Add(24*time.Hour), site)
		if err != nil || next.Set.IsZero() {
			return Day{}, ErrSun
		}
		sun.Set = next.Set
	}
	d, err := collector.Describe(h)
	if err != nil {
		return Day{}, err
	}
	r := &runner{h: h, d: &d, sw: sw, w: w, site: site}
	return r.through(sun.Rise, sun.Set)
}

// nightStep is that of the hours before dawn, in which frost may form, s.
const nightStep = 300

// night takes the box from the evening before to dawn, for the frost on it.
// Its steps are of five minutes, with the fan off.
func (r *runner) night(t *collector.Transient, dawn time.Time) error {
	for at := dawn.Add(-12 * time.Hour); at.Before(dawn); at = at.Add(nightStep * time.Second) {
		if _, err := t.Step(r.w(at), 0, nightStep); err != nil {
			return err
		}
	}
	return nil
}

// runner holds what stays the same through a day, and the flow found last for
// each stage.
type runner struct {
	h    *design.Heater
	d    *collector.Description
	site solar.Site
	sw   thermostat.Switch
	w    Weather
	// a and b are the two suns that the present moment lies between.
	a, b collector.Conditions
	from time.Time
	// moves are the box running, by how many stages run.
	moves [3]moving
}

// moving is what a number of stages moves, as last found.
type moving struct {
	// flow is in kg/s.
	flow float64
	// watts is what is bought for the fan, W.
	watts float64
	// ducts is what ducts outdoors lose, W.
	ducts float64
	// bare is what the bare window would give, W.
	bare float64
	// found is when, and last the rating to begin the next from.
	found time.Time
	last  *collector.Result
}

// weather at an instant, its sun drawn straight between two.
// Sun is computed every five minutes, since it costs more than a step.
func (r *runner) weather(at time.Time) collector.Conditions {
	const span = sunEvery * time.Second
	if r.from.IsZero() || at.Sub(r.from) >= span {
		r.from = at
		r.a, r.b = r.w(at), r.w(at.Add(span))
	}
	f := float64(at.Sub(r.from)) / float64(span)
	c := r.a
	mix := func(x, y float64) float64 { return x + (y-x)*f }
	c.Sun.Beam, c.Sun.Sky, c.Sun.Ground, c.Sun.Mirror = mix(c.Sun.Beam, r.b.Sun.Beam), mix(c.Sun.Sky, r.b.Sun.Sky),
		mix(c.Sun.Ground, r.b.Sun.Ground), mix(c.Sun.Mirror, r.b.Sun.Mirror)
	c.Sun.Incidence, c.Ambient, c.Sky, c.Inlet = mix(c.Sun.Incidence, r.b.Sun.Incidence), mix(c.Ambient, r.b.Ambient),
		mix(c.Sky, r.b.Sky), mix(c.Inlet, r.b.Inlet)
	return c
}

// moved is what fan or warmth moves at conditions with so many stages, found
// again every quarter of an hour.
// stages counts from 1.
func (r *runner) moved(at time.Time, c collector.Conditions, coat collector.Coat, stages int) (*moving, error) {
	m := &r.moves[stages]
	if !m.found.IsZero() && at.Sub(m.found) < flowEvery*time.Second {
		return m, nil
	}
	m.found = at
	if r.d.Natural { // what lies on the cover keeps the sun from what it would lift
		c.Sun = c.Sun.Dimmed(coat.Transmits())
	}
	x, err := r.d.Staged(stages).Rate(c, collector.Tuning{}, m.last)
	if err != nil {
		return m, err
	}
	if x.Mass > 0 {
		m.last = &x
	}
	m.flow, m.watts, m.ducts, m.bare = x.Mass, x.Bought, x.DuctLoss, x.Bare
	return m, nil
}

// step is how far to go next, s: finely where the switch may soon turn, so that
// it is met in time.
// Within [near] of the point that turns it next, the step is [fine].
func (r *runner) step(stages int, sensor float64) float64 {
	point := r.sw.Close
	switch {
	case r.sw.Kind == thermostat.Differential && stages > 0:
		point = r.h.Room.Air + r.sw.OffAbove
	case r.sw.Kind == thermostat.Differential:
		point = r.h.Room.Air + r.sw.OnAbove
	case r.sw.Kind != thermostat.SnapDisc && r.sw.Kind != thermostat.SetPoint:
		return Step
	case stages > 0:
		point = r.sw.Open
	}
	if math.Abs(sensor-point) < near {
		return fine
	}
	return Step
}

// through runs the day from one time to another.
func (r *runner) through(from, to time.Time) (Day, error) {
	c := r.weather(from)
	t, err := r.d.NewTransient(c)
	if err != nil {
		return Day{}, err
	}
	day := Day{OutletMin: math.Inf(1), OutletMax: math.Inf(-1)}
	if c.Vapor > 0 {
		if err := r.night(t, from); err != nil {
			return day, err
		}
	}
	t.Coat.Mass += c.Snow
	day.CoatAtDawn = t.Coat.Mass
	sensor := c.Ambient
	rate := 0.0               // of the sensor, K/s
	since, lasted := 0.0, 0.0 // J and s since the last sample
	sw := thermostat.Clocked{Switch: r.sw}
	run := fanRun{}
	minute := from
	for at := from; !at.After(to); {
		step := r.step(run.stages, sensor)
		if rest := minute.Sub(at).Seconds(); rest > 0 { // samples stand on the minute
			step = min(step, rest)
		}
		c = r.weather(at)
		now, err := r.switched(&run, &sw, at, c, t.Coat, thermostat.Ahead(sensor, sensor-rate*step), step)
		if err != nil {
			return day, err
		}
		x, err := t.Step(c, now.flow, step)
		if err != nil {
			return day, err
		}
		moved := (x.Top - sensor) * thermostat.Follows(now.flow > 0, step)
		sensor, rate = sensor+moved, moved/step
		given := day.add(&x, &now, &run, step)
		if !at.Before(minute) {
			minute = minute.Add(time.Minute)
			mean := given
			if lasted > 0 {
				mean, since, lasted = since/lasted, 0, 0
			}
			p := solar.Position(at, r.site, 0, 0)
			day.Samples = append(day.Samples, Sample{At: at, Profile: solar.ProfileAngle(p.TrueZenith, p.Azimuth, r.h.Place.Bearing),
				Sun: c.Sun.Total(), Ambient: c.Ambient, Inlet: c.Inlet, Outlet: x.Outlet, Sensor: sensor, Absorber: x.Absorber,
				Stages: run.stages, Heat: mean, Coat: t.Coat.Mass})
		}
		since, lasted = since+given*step, lasted+step
		at = at.Add(time.Duration(step * float64(time.Second)))
		if day.CoatUntil.IsZero() && day.CoatAtDawn > Thin && t.Coat.Mass <= Thin {
			day.CoatUntil = at
		}
	}
	day.Cycles = run.starts
	if day.RunMinutes == 0 {
		day.OutletMin, day.OutletMax = 0, 0
	}
	return day, nil
}

// fanRun is what the fan does: the stages that are on, how often they were
// switched on, and for how long they have been, min.
type fanRun struct {
	// stages are those that run now, starts how often the fan started so far,
	// and lasted how long this run has lasted, minutes.
	stages, starts int
	lasted         float64
}

// switched lets the switch read the box and returns what then moves.
// reading is what the sensor will show a little ahead, C.
func (r *runner) switched(run *fanRun, sw *thermostat.Clocked, at time.Time, c collector.Conditions, coat collector.Coat,
	reading, step float64) (now moving, err error) {
	was, clock := run.stages, at.In(r.site.Zone)
	if r.h.Fanned() {
		run.stages = sw.Step(thermostat.Reading{Box: reading, Room: r.h.Room.Air,
			Hour: float64(clock.Hour()) + float64(clock.Minute())/60, Speed: r.d.FanSpeed(c)}, step)
	} else {
		run.stages = 1
	}
	if run.stages > 0 {
		m, err := r.moved(at, c, coat, run.stages)
		if err != nil {
			return now, err
		}
		if now = *m; now.flow <= 0 {
			run.stages, sw.Stages = 0, 0
		}
	}
	if run.stages > 0 && was == 0 {
		run.starts++
		run.lasted = 0
	}
	return now, nil
}

// add adds a step of so many seconds to the day and returns the heat given, W.
// step is in s. Heat is what reaches the room: behind ducts, without make-up
// air.
func (day *Day) add(x *collector.Moment, now *moving, run *fanRun, step float64) float64 {
	kWh := step / 3.6e6
	given := x.Energy.Air + x.Energy.Room - now.ducts - now.bare - x.MakeUp
	day.Heat += given * kWh
	day.Sun += x.Energy.Sun * kWh
	day.Reflected += x.Energy.Reflected * kWh
	day.Lost += (x.Energy.Front + x.Energy.Back + x.Energy.Edge + x.Energy.Leak) * kWh
	day.Stored += x.Stored * kWh
	day.Ducts += now.ducts * kWh
	day.Bare += now.bare * kWh
	day.MakeUp += x.MakeUp * kWh
	if now.flow > 0 {
		day.RunMinutes += step / 60
		run.lasted += step / 60
		day.Longest = max(day.Longest, run.lasted)
		day.Fan += now.watts * kWh
		day.OutletMin, day.OutletMax = min(day.OutletMin, x.Outlet), max(day.OutletMax, x.Outlet)
	}
	return given
}

// Setting is what a day gives with the switch set to a point.
type Setting struct {
	// Close and Open are the thermostat's points, C.
	Close, Open float64
	// Day is without its samples.
	Day Day
}

// Settings runs the day with the switch closing at each of some points and
// opening as far below as it does now, all else as it is. Only snap discs and
// set-point controllers have a point to move; others yield nothing.
// The points are in C; they are run two at a time. An ended context ends it with
// the context's error.
func Settings(ctx context.Context, h *design.Heater, day time.Time, w Weather, points []float64) ([]Setting, error) {
	sw := thermostat.New(h)
	if sw.Kind != thermostat.SnapDisc && sw.Kind != thermostat.SetPoint {
		return nil, nil
	}
	out := make([]Setting, len(points))
	err := parallel.Each(ctx, len(points), func(i int) error {
		x := sw.Off(points[i] - sw.Close)
		d, err := run(h, x, day, w)
		d.Samples = nil
		out[i] = Setting{x.Close, x.Open, d}
		return err
	}, nil)
	if err != nil {
		return nil, err
	}
	return out, nil
}

// Points are the settings a day is usually tried with, C.
var Points = []float64{24, 28, 32, 36, 40, 44, 48, 52, 56, 62, 70}

// Nearly is the share of the best setting's heat that one may do without, for
// the range that [Best] gives. The product's own choice.
const Nearly = 0.03

// Best returns the setting of the most heat, and the lowest and highest closing
// points between which every one tried keeps nearly all of it, C. There must be
// a setting.
func Best(ss []Setting) (best Setting, lo, hi float64) {
	top := 0
	for i, s := range ss {
		if s.Day.Heat > ss[top].Day.Heat {
			top = i
		}
	}
	good := func(i int) bool { return i >= 0 && i < len(ss) && ss[i].Day.Heat >= (1-Nearly)*ss[top].Day.Heat }
	first, last := top, top
	for good(first - 1) {
		first--
	}
	for good(last + 1) {
		last++
	}
	return ss[top], ss[first].Close, ss[last].Close
}

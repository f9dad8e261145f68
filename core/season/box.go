package season

import (
	"math"

	"gladember/core/air"
	"gladember/core/climate"
	"gladember/core/collector"
	"gladember/core/design"
	"gladember/core/thermostat"
)

// box is a heater on its way through a year: it takes a quarter of an hour of
// weather and the room's air, and says what it gave.
type box interface {
	through(q *climate.Quarter, room, hour float64, out *given) error
}

// given is what a quarter of an hour came to.
type given struct {
	sun       float64 // on the glass, J
	heat      float64 // to the room, J; of a window panel, besides the bare window
	fan       float64 // J of electricity
	run       float64 // s
	starts    int
	outletMax float64
	warm      float64 // s with an outlet over the useful temperature
	draws     float64 // J/K: outdoor air brought in, times its heat capacity
	blown     float64 // kg
	jet       float64 // kg C: each with the outlet it had
}

// The outputs of the surfaces.
const (
	runHeat    = iota // W to the room
	runOutlet         // C
	runMass           // kg/s
	runHeld           // J by parts, see [collector.Held]
	runOutputs = runHeld + collector.HeldParts
)

const (
	stillTop     = iota // C
	stillHeld           // J by parts
	stillOutputs = stillHeld + collector.HeldParts
)

// fast is the box by fitted surfaces of its full balance, one for the fan
// standing and one for each number of stages, and by lumps for what it stores.
type fast struct {
	h        *design.Heater
	d        *collector.Description
	sw       thermostat.Clocked
	uptake   *collector.Uptake
	tune     collector.Tuning
	pressure float64
	area     float64
	still    *surface
	run      [3]*surface
	moves    [3]lumps // running, by stages and the sun taken up, W/m2
	stands   lumps    // by where the top would come to rest, C
	stood    lump     // the one for this quarter
	watts    [3]float64
	natural  bool
	useful   float64

	held   collector.Held
	sensor float64 // C
	stages int
	begun  bool
	dark   int // quarters it has stood without sun
}

// lump is how the heat a box holds on over or under its state at rest goes its
// way in one mode, minute by minute: what each part keeps of each, and what the top of the box or the
// heat in the air shows of them at the minute's end.
type lump struct {
	left  [collector.HeldParts][collector.HeldParts]float64
	shows [collector.HeldParts]float64 // standing: K at the top a J; running: W of heat a J
}

// lumps are those found at some values of what they vary with, in its order.
type lumps []struct {
	at   float64
	lump lump
}

// at draws the lump of a value between those that were found.
func (l lumps) at(x float64) lump {
	n, i := len(l), 0
	for i < n-1 && l[i+1].at < x {
		i++
	}
	if i == n-1 || x <= l[0].at {
		return l[i].lump
	}
	a, b := &l[i], &l[i+1]
	w := (x - a.at) / (b.at - a.at)
	out := a.lump
	for j := range out.left {
		out.shows[j] += w * (b.lump.shows[j] - a.lump.shows[j])
		for k := range out.left[j] {
			out.left[j][k] += w * (b.lump.left[j][k] - a.lump.left[j][k])
		}
	}
	return out
}

// step moves what is held on by a minute towards its rest and returns what shows.
func (l *lump) step(held *collector.Held, rest []float64) (shows float64) {
	var x collector.Held
	for i := range x {
		x[i] = held[i] - rest[i]
	}
	for i := range x {
		v := 0.0
		for j := range x {
			v += l.left[i][j] * x[j]
		}
		held[i] = rest[i] + v
		shows += l.shows[i] * v
	}
	return shows
}

// inletOver is the place of the inlet over the outdoors among the conditions.
const inletOver = 2

// conditions of the surfaces, each about one wide.
func (f *fast) conditions(q *climate.Quarter, sun, cover, inlet float64, x *[dims]float64) {
	x[0] = sun / 500
	x[1] = cover / 60
	x[inletOver] = (inlet - q.Ambient) / 20
	x[3] = q.Ambient / 15
	x[4] = (q.Ambient - q.Sky) / 15
	x[5] = math.Log(2.8 + 3*q.Wind)
}

// inlet is what the box draws in.
func (f *fast) inlet(q *climate.Quarter, room float64) float64 {
	if f.h.Air.Source == "outdoors" {
		return q.Ambient
	}
	return room
}

// asConditions is a quarter's weather as the balance takes it.
func asConditions(h *design.Heater, q *climate.Quarter, inlet, pressure float64) collector.Conditions {
	return collector.Conditions{Sun: q.Sun, Tilt: h.Place.Tilt, Ambient: q.Ambient, Inlet: inlet, Sky: q.Sky, Wind: q.Wind, Pressure: pressure}
}

// toRoom is what a rated box brings the room, W.
func toRoom(r *collector.Result) float64 { return r.Heat - r.DuctLoss }

const (
	runSteps = 60.0  // s
	quarter  = 900.0 // s
)

// atRest is how many dark quarters bring a standing box to rest.
const atRest = 8

var (
	followMoving  = thermostat.Follows(true, runSteps)
	followResting = thermostat.Follows(false, runSteps)
)

// through implements [box].
func (f *fast) through(q *climate.Quarter, room, hour float64, out *given) error {
	inlet := f.inlet(q, room)
	total := q.Sun.Total()
	if total <= 0 && f.stages == 0 && !f.d.Indoors && f.sw.Kind != thermostat.Timer && f.sw.Kind != thermostat.Plug {
		if f.dark++; f.dark == atRest {
			f.begun = false
		}
		if f.dark >= atRest {
			return nil
		}
	} else {
		f.dark = 0
	}
	absorbed, cover := f.uptake.Of(q.Sun)
	var x [dims]float64
	f.conditions(q, absorbed, cover, inlet, &x)
	out.sun += total * f.area * quarter
	if f.d.Indoors {
		return f.panel(q, &x, total, out)
	}
	var rest [stillOutputs]float64
	rested := false // rest is worked out
	standing := func() {
		y := x
		y[inletOver] = 0
		f.still.at(&y, rest[:])
		f.stood = f.stands.at(rest[stillTop])
		rested = true
	}
	if !f.begun {
		standing()
		f.begun, f.held, f.sensor = true, collector.Held(rest[stillHeld:]), rest[stillTop]
	}
	speed := 1.0
	if f.d.Panel != nil {
		speed = f.d.FanSpeed(collector.Conditions{Sun: q.Sun, Ambient: q.Ambient})
	}
	var run [3][runOutputs]float64
	var known [3]bool
	var l [3]lump
	for range int(quarter / runSteps) {
		was := f.stages
		if f.natural {
			f.stages = 1
		} else {
			f.stages = f.sw.Step(thermostat.Reading{Box: f.sensor, Room: room, Hour: hour, Speed: speed}, runSteps)
		}
		s := f.stages
		if s > 0 && !known[s] {
			known[s] = true
			f.run[s].at(&x, run[s][:])
			l[s] = f.moves[s].at(absorbed)
		}
		if s > 0 && (run[s][runMass] <= 0 || f.natural && (total <= 0 || run[s][runHeat] <= 0)) {
			f.stages, f.sw.Stages, s = 0, 0, 0
		}
		hour += runSteps / 3600
		if s == 0 {
			if !rested {
				standing()
			}
			top := rest[stillTop] + f.stood.step(&f.held, rest[stillHeld:])
			f.sensor += (top - f.sensor) * followResting
			continue
		}
		if was == 0 {
			out.starts++
		}
		r := &run[s]
		extra := l[s].step(&f.held, r[runHeld:])
		outlet := r[runOutlet]
		if !f.natural { // warmth moves the less air the less there is to give
			outlet += extra / (r[runMass] * air.Cp(outlet))
		}
		f.sensor += (outlet - f.sensor) * followMoving
		out.ran(r[runHeat]+extra, f.watts[s], r[runMass], outlet, inlet, runSteps, f.useful, f.h.Air.Source == "outdoors")
	}
	return nil
}

// ran counts a step with air moving: heat and electricity in W, mass in kg/s.
func (g *given) ran(heat, watts, mass, outlet, inlet, dt, useful float64, outdoors bool) {
	g.heat += heat * dt
	g.run += dt
	g.fan += watts * dt
	g.blown += mass * dt
	g.jet += mass * outlet * dt
	g.outletMax = math.Max(g.outletMax, outlet)
	if outlet >= useful {
		g.warm += dt
	}
	if outdoors {
		g.draws += mass * air.Cp(inlet) * dt
	}
}

// hottest finds the quarter in which the standing box takes up most over what the
// cold and the wind take, and works that one out in full.
func (f *fast) hottest(s *climate.Series) (float64, error) {
	at, most := -1, math.Inf(-1)
	for i := range s.Quarters {
		q := &s.Quarters[i]
		if q.Sun.Total() < 300 {
			continue
		}
		a, _ := f.uptake.Of(q.Sun)
		if heat := a/6 + q.Ambient - q.Wind; heat > most { // a loss of about 6 W/m2K
			at, most = i, heat
		}
	}
	if at < 0 {
		return 0, nil
	}
	q := &s.Quarters[at]
	r, err := f.d.Still(asConditions(f.h, q, f.inlet(q, f.h.Room.Wanted), f.pressure), f.tune, nil)
	return r.AbsorberMax, err
}

// panel is a window panel's quarter: it hangs day and night, and what it gives
// besides the bare window may be less than nothing.
func (f *fast) panel(q *climate.Quarter, x *[dims]float64, total float64, out *given) error {
	var r [runOutputs]float64
	f.run[1].at(x, r[:])
	out.heat += r[runHeat] * quarter
	if total > 0 && r[runMass] > 0 && r[runOutlet] > 0 {
		out.run += quarter
		out.outletMax = math.Max(out.outletMax, r[runOutlet])
		if r[runOutlet] >= f.useful {
			out.warm += quarter
		}
	}
	return nil
}

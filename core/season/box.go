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
	runHeat   = iota // W to the room
	runOutlet        // C
	runQuick         // J in the absorber
	runSlow          // J in covers and back
	runMass          // kg/s
	runOutputs
)

const (
	stillTop   = iota // C
	stillQuick        // J
	stillSlow
	stillCover // C
	stillOutputs
)

// fast is the box by fitted surfaces of its full balance, one for the fan
// standing and one for each number of stages, and by lumps for what it stores.
type fast struct {
	h        *design.Heater
	d        *collector.Description
	sw       thermostat.Switch
	uptake   *collector.Uptake
	tune     collector.Tuning
	pressure float64
	area     float64
	still    *surface
	run      [3]*surface
	lumps    [3]lump // 0: standing
	watts    [3]float64
	natural  bool
	useful   float64

	held   [2]float64 // J in absorber, and in covers and back
	sensor float64    // C
	stages int
	begun  bool
	dark   int     // quarters it has stood without sun
	most   float64 // hottest the top of the box has stood
}

// lump is how the heat a box holds over or under its state at rest goes its way
// in one mode, for each minute: what is left of the two parts, and what the top of the box or the
// heat in the air shows of it at the minute's end.
type lump struct {
	left  [2][2]float64
	shows [2]float64 // standing: K at the top a J; running: W of heat a J
}

// step moves what is held on by a minute towards its rest and returns what shows.
func (l *lump) step(held *[2]float64, a, b float64) float64 {
	x, y := held[0]-a, held[1]-b
	x, y = l.left[0][0]*x+l.left[0][1]*y, l.left[1][0]*x+l.left[1][1]*y
	held[0], held[1] = a+x, b+y
	return l.shows[0]*x + l.shows[1]*y
}

// conditions of the surfaces, each about one wide.
func (f *fast) conditions(q *climate.Quarter, sun, cover, inlet float64, x *[dims]float64) {
	x[0] = sun / 500
	x[1] = cover / 60
	x[2] = (inlet - q.Ambient) / 20
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
	runSteps   = 60.0 // s
	lagMoving  = 45.0
	lagResting = 150.0
	quarter    = 900.0 // s
)

// atRest is how many dark quarters bring a standing box to rest.
const atRest = 8

var (
	followMoving  = 1 - math.Exp(-runSteps/lagMoving)
	followResting = 1 - math.Exp(-runSteps/lagResting)
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
	if !f.begun {
		rested = true
		f.still.at(&x, rest[:])
		f.begun, f.held, f.sensor = true, [2]float64{rest[stillQuick], rest[stillSlow]}, rest[stillTop]
	}
	speed := 1.0
	if f.d.Panel != nil {
		speed = f.d.FanSpeed(collector.Conditions{Sun: q.Sun, Ambient: q.Ambient})
	}
	var run [3][runOutputs]float64
	var known [3]bool
	for range int(quarter / runSteps) {
		was := f.stages
		if f.natural {
			f.stages = 1
		} else {
			f.stages = f.sw.Next(f.stages, thermostat.Reading{Box: f.sensor, Room: room, Hour: hour, Speed: speed})
		}
		s := f.stages
		if s > 0 && !known[s] {
			known[s] = true
			f.run[s].at(&x, run[s][:])
		}
		if s > 0 && (run[s][runMass] <= 0 || f.natural && (total <= 0 || run[s][runHeat] <= 0)) {
			f.stages, s = 0, 0
		}
		hour += runSteps / 3600
		if s == 0 {
			if !rested {
				rested = true
				f.still.at(&x, rest[:])
			}
			top := rest[stillTop] + f.lumps[0].step(&f.held, rest[stillQuick], rest[stillSlow])
			f.sensor += (top - f.sensor) * followResting
			f.most = math.Max(f.most, top)
			continue
		}
		if was == 0 {
			out.starts++
		}
		r := &run[s]
		extra := f.lumps[s].step(&f.held, r[runQuick], r[runSlow])
		outlet := r[runOutlet] + extra/(r[runMass]*air.Cp(r[runOutlet]))
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

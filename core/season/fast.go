package season

import (
	"math"

	"gladember/core/air"
	"gladember/core/climate"
	"gladember/core/collector"
	"gladember/core/design"
	"gladember/core/heattransfer"
	"gladember/core/thermostat"
)

// model is a heater on its way through a year: it takes a quarter of an hour of
// weather and the room's air, and says what it gave.
type model interface {
	through(q *climate.Quarter, room, hour float64, out *quarterSum) error
}

// quarterSum is what a quarter of an hour came to.
type quarterSum struct {
	// sun is what falls on the glass, J.
	sun float64
	// heat is what the room gets, J; of a window panel, besides the bare
	// window.
	heat float64
	// fan is the electricity that was bought, J.
	fan float64
	// run is how long the fan ran, s, and starts how often it started.
	run       float64
	starts    int
	outletMax float64
	// warm is how long the outlet was over the useful temperature, s.
	warm float64
	// draws is the outdoor air brought in, times its heat capacity, J/K.
	draws float64
	// back is what air that falls through the standing box takes out of the
	// room, J.
	back float64
	// blown is the air that was moved, kg.
	blown float64
	// jet sums each kilogram with the outlet temperature that it had, kg C.
	jet float64
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
	*fitted
	// moves are the box while it runs, by stages and by the sun that it takes
	// up, W/m2.
	moves [3]decays
	// stands is the still box, by where its top would come to rest, C.
	stands  decays
	room    scratch
	natural bool
	// onWall says that the room behind its back warms it.
	onWall bool
	useful float64

	// coat is the frost or snow on the cover.
	coat collector.Coat
	held collector.Held
	// sensor is the thermostat's, C, and before the same a minute ago.
	sensor float64
	before float64 // the sensor a minute ago, C
	stages int
	begun  bool
	// dark counts the quarters of an hour that it has stood without sun.
	dark int
}

// decay is how the heat a box holds on over or under its state at rest goes its
// way in one mode over some minutes: what each part keeps of each at the end,
// and what of it shows, at the top of a standing box (K a J) or in the heat of
// a running one (W a J): in the last minute, in the first, in all of them added
// up, and in what a sensor has followed by the end.
type decay struct {
	left                     [collector.HeldParts][collector.HeldParts]float64
	shows, first, sum, drags [collector.HeldParts]float64
}

// duration is a number of minutes that a box goes at a time.
type duration int

const (
	minute  duration = iota // where the switch may turn
	longest                 // a quarter of an hour
	durations
)

var lasting = [durations]int{1, quarter / runSteps}

// decays are those found at some values of what they vary with, in its order.
type decays []struct {
	at    float64
	lumps [durations]decay
}

// of draws the lump of a value between those that were found.
func (l decays) of(x float64, s duration) decay {
	n, i := len(l), 0
	for i < n-1 && l[i+1].at < x {
		i++
	}
	if i == n-1 || x <= l[0].at {
		return l[i].lumps[s]
	}
	a, b := &l[i].lumps[s], &l[i+1].lumps[s]
	w := (x - l[i].at) / (l[i+1].at - l[i].at)
	out := *a
	for j := range out.left {
		out.shows[j] += w * (b.shows[j] - a.shows[j])
		if s != minute {
			out.first[j] += w * (b.first[j] - a.first[j])
			out.sum[j] += w * (b.sum[j] - a.sum[j])
			out.drags[j] += w * (b.drags[j] - a.drags[j])
		}
		for k := range out.left[j] {
			out.left[j][k] += w * (b.left[j][k] - a.left[j][k])
		}
	}
	return out
}

// over is a minute's lump gone on for n minutes, with a sensor that follows by a
// share each minute.
// A quarter is the fifteenth power of a minute, with what the sensor follows on
// the way summed.
func (l *decay) over(n int, follow float64) (out decay) {
	const parts = collector.HeldParts
	for i := range parts {
		out.left[i][i] = 1
	}
	for k := range n {
		var next [parts][parts]float64
		for i := range parts {
			for j := range parts {
				for m := range parts {
					next[i][j] += l.left[i][m] * out.left[m][j]
				}
			}
		}
		out.left, out.shows = next, [parts]float64{}
		for j := range parts {
			for m := range parts {
				out.shows[j] += l.shows[m] * next[m][j]
			}
			out.sum[j] += out.shows[j]
			out.drags[j] += (out.shows[j] - out.drags[j]) * follow
		}
		if k == 0 {
			out.first = out.shows
		}
	}
	return out
}

// excess is what is held over what rests.
// It is the heat held beyond that at rest, by parts.
func excess(held *collector.Held, rest []float64) (x collector.Held) {
	for i := range x {
		x[i] = held[i] - rest[i]
	}
	return x
}

// dot is how much of what is held shows.
func dot(shows *[collector.HeldParts]float64, x *collector.Held) (v float64) {
	for i := range x {
		v += shows[i] * x[i]
	}
	return v
}

// step takes what is held over its rest to the end of the lump's minutes.
func (l *decay) step(held *collector.Held, x *collector.Held, rest []float64) {
	for i := range x {
		held[i] = rest[i] + dot(&l.left[i], x)
	}
}

// inletOver is the place of the inlet over the outdoors among the conditions.
const inletOver = 2

// conditions of the surfaces, each about one wide.
// They are what the surfaces are fitted over: sun that absorber and covers take
// up, inlet over outdoors, outdoors, outdoors over sky, and the wind.
func (f *fast) conditions(q *climate.Quarter, sun, cover, inlet float64, x *[dims]float64) {
	x[0] = sun / 500
	x[1] = cover / 60
	if f.natural { // what warmth moves begins at nothing, and bends less against the sun's root
		x[0] = 2 * math.Sqrt(x[0])
	}
	x[inletOver] = (inlet - q.Ambient) / 20
	x[3] = q.Ambient / 15
	x[4] = (q.Ambient - q.Sky) / 15
	x[5] = math.Log(2.8 + 3*q.Wind)
}

// inlet is what the box draws in.
// Outdoor air for a box that draws it, else the room's.
func (f *fast) inlet(q *climate.Quarter, room float64) float64 {
	if f.h.Air.Source == "outdoors" {
		return q.Ambient
	}
	return room
}

// asConditions is a quarter's weather as the balance takes it.
func asConditions(h *design.Heater, q *climate.Quarter, inlet, pressure float64) collector.Conditions {
	return collector.Conditions{Sun: q.Sun, Tilt: h.Place.Tilt, Ambient: q.Ambient, Inlet: inlet, Room: h.Room.Wanted, Sky: q.Sky,
		Wind: q.Wind, Pressure: pressure, Vapor: q.Vapor}
}

const (
	runSteps = 60.0  // s
	quarter  = 900.0 // s
)

// atRest is how many dark quarters bring a standing box to rest.
const atRest = 8

var (
	followMoving  = thermostat.Follows(true, runSteps)
	followResting = thermostat.Follows(false, runSteps)
	// What a sensor keeps of its distance over a quarter of an hour.
	keepsMoving  = 1 - thermostat.Follows(true, quarter)
	keepsResting = 1 - thermostat.Follows(false, quarter)
)

// through implements [box].
// First the coat and the sun, then the state of the box, then either the whole
// quarter at once or its fifteen minutes. A box that has stood dark for hours
// is at rest and is begun anew at dawn.
func (f *fast) through(q *climate.Quarter, room, hour float64, out *quarterSum) error {
	inlet := f.inlet(q, room)
	sun := q.Sun.Dimmed(f.coated(q, hour))
	total := sun.Total()
	out.sun += q.Sun.Total() * f.area * quarter
	// By night the air that falls through the box is counted quarter by
	// quarter.
	if f.night != nil && f.stages == 0 && q.Sun.Total() <= darkSun {
		out.back += f.falls(q, room) * quarter
	}
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
	absorbed, cover := f.uptake.Absorbed(sun)
	var x [dims]float64
	f.conditions(q, absorbed, cover, inlet, &x)
	if f.d.Indoors {
		return f.panel(q, &x, total, out)
	}
	p := quarterRun{f: f, q: q, x: &x, absorbed: absorbed, room: room, inlet: inlet, hour: hour, lit: total > 0, speed: 1}
	if !f.begun {
		p.standing()
		// It begins at rest: what it holds and what the sensor shows are those
		// of the standing box in this weather.
		f.begun, f.held, f.sensor, f.before = true, collector.Held(p.rest[stillHeld:]), p.rest[stillTop], p.rest[stillTop]
	}
	if f.d.Panel != nil {
		p.speed = f.d.FanSpeed(collector.Conditions{Sun: sun, Ambient: q.Ambient})
	}
	if p.throughout(out) {
		f.before = f.sensor
	} else {
		for range lasting[longest] {
			p.minute(out)
		}
	}
	return nil
}

// coated takes the frost or snow on the cover through a quarter and returns the
// share of the sun that it lets through. The cover's temperature is that of a
// sheet between what lies behind it and outdoors and sky; what lies behind is
// as warm as the sensor by day.
// It is one step of [collector.Coat], by the same physics as in a day.
func (f *fast) coated(q *climate.Quarter, hour float64) float64 {
	if f.d.Indoors || q.Vapor <= 0 {
		return 1
	}
	if hour == 0 {
		f.coat.Mass += q.Snow
	}
	f.coat.Vapor = q.Vapor
	if f.coat.Mass <= 0 && (q.Ambient > freezes || f.begun && f.stages > 0) {
		return 1
	}
	if f.coat.Mass <= 0 && air.SaturationPressure(q.Ambient-deepest) >= q.Vapor { // too dry for frost
		return 1
	}
	h := heattransfer.Outer(q.Wind, q.Ambient-2, q.Ambient, f.d.Height, f.pressure)
	// W/m2K near 0 C: of a cover that radiates as glass; of convection and
	// infrared from the absorber, which lies as far over the air at the top as
	// that over the cover; of a gap between two covers; and of what the box
	// loses by back and edges.
	const radiant, behind, between, loses = 4.1, 14.0, 6.0, 1.0
	up := (1 + math.Cos(f.h.Place.Tilt*math.Pi/180)) / 2
	u, heat := h+radiant, h*q.Ambient+radiant*(up*q.Sky+(1-up)*q.Ambient)
	if f.begun {
		inner := 1 / (1/behind + float64(len(f.d.Sheets)-1)/between)
		u, heat = u+inner, heat+inner*f.sensor
	}
	_, cover := f.uptake.Absorbed(q.Sun.Dimmed(f.coat.Transmits()))
	// What is behind a cover follows it: the coat's own heat leaves by the
	// front, and by what the box loses.
	gives := h + radiant + loses
	f.coat.Follow((heat+cover)/u+q.Sun.Total()*f.coat.Absorbs()/gives, gives, q.Ambient, h, f.pressure, f.h.Place.Tilt, quarter)
	return f.coat.Transmits()
}

// deepest is how far under the air's temperature a cover's may be at most under
// a clear sky with no wind, K: the sky's some twenty kelvins lower, with about
// as much radiation as convection.
const deepest = 15.0

// freezes is the air above which no frost forms on a cover under a clear sky,
// C. Common practice, no source.
const freezes = 6.0

// darkSun is the sun on the glass, W/m2, under which a standing box counts as
// one by night.
const darkSun = 20.0

// falls is what the air that falls through the standing box takes out of the
// room, W.
func (f *fast) falls(q *climate.Quarter, room float64) float64 {
	if room <= q.Ambient {
		return 0
	}
	var x [dims]float64
	f.conditions(q, 0, 0, room, &x)
	return f.night.at(&x)
}

// quarterRun is a box on its way through one quarter of an hour.
type quarterRun struct {
	f *fast
	q *climate.Quarter
	x *[dims]float64
	// absorbed is the sun that the box takes up, W/m2.
	absorbed float64
	// room and inlet are in C.
	room, inlet float64
	hour        float64
	speed       float64
	lit         bool

	// rested says that rest is computed.
	rested bool
	rest   [stillOutputs]float64
	stood  [durations]known
	// known says whether run is computed, by stages.
	known [3]bool
	run   [3][runOutputs]float64
	moved [3][durations]known
}

// known is a lump once it is drawn.
type known struct {
	is   bool
	lump decay
}

// of finds a lump once and remembers it.
func (k *known) of(l decays, at float64, s duration) *decay {
	if !k.is {
		k.is, k.lump = true, l.of(at, s)
	}
	return &k.lump
}

// standing finds where the standing box would come to rest in this quarter, once.
func (p *quarterRun) standing() {
	if p.rested {
		return
	}
	y := *p.x
	p.f.asStanding(&y)
	p.f.still.at(&y, p.rest[:], &p.f.room)
	p.rested = true
}

// stands is how the standing box follows over a spell.
func (p *quarterRun) stands(s duration) *decay {
	return p.stood[s].of(p.f.stands, p.rest[stillTop], s)
}

// moves is how the running box follows over a spell at so many stages.
func (p *quarterRun) moves(stages int, s duration) *decay {
	return p.moved[stages][s].of(p.f.moves[stages], p.absorbed, s)
}

// running works out what so many stages give, and says whether any air moves:
// none by a fan whose panel gives it too little.
func (p *quarterRun) running(stages int) (*[runOutputs]float64, bool) {
	r := &p.run[stages]
	if !p.known[stages] {
		p.known[stages] = true
		p.f.run[stages].at(p.x, r[:], &p.f.room)
	}
	return r, p.speed > 0 && r[runMass] > 0 && (!p.f.natural || p.lit && r[runHeat] > 0)
}

// perWatt is how much warmer the outlet is for each watt that what the box holds
// adds, K/W. Warmth moves the less air the less there is to give.
func (p *quarterRun) perWatt(r *[runOutputs]float64) float64 {
	if p.f.natural {
		return 0
	}
	return 1 / (r[runMass] * air.Cp(r[runOutlet]))
}

// stages are how many the switch would have run by the end of a spell, with the
// sensor at box.
// It asks the thermostat without turning it.
func (p *quarterRun) would(box, hour float64) int {
	return p.f.sw.Next(p.f.stages, thermostat.Reading{Box: box, Room: p.room, Hour: hour, Speed: p.speed})
}

// switchMargin is how far from a switch's points a sensor must stay for a quarter of an
// hour to be gone in one, K. Common practice, no source.
const switchMargin = 1.0

// throughout goes the quarter in one, if the switch cannot turn within it.
// The sensor's readings at both ends of the quarter, widened by [sure], must
// leave the thermostat as it is at both ends of the clock's quarter; and the
// outlet must not pass the useful temperature within it, or the useful hours
// would be wrong.
func (p *quarterRun) throughout(out *quarterSum) bool {
	f := p.f
	stays := func(temps ...float64) bool {
		lo, hi := math.Inf(1), math.Inf(-1)
		for _, t := range temps {
			lo, hi = min(lo, t), max(hi, t)
		}
		s := f.stages
		end := p.hour + (quarter-runSteps)/3600
		return f.natural || p.would(lo-switchMargin, p.hour) == s && p.would(hi+switchMargin, p.hour) == s && p.would(lo-switchMargin,
			end) == s &&
			p.would(hi+switchMargin, end) == s
	}
	s := f.stages
	if f.natural {
		s = 1
	}
	if s > 0 {
		r, moves := p.running(s)
		if moves {
			l := p.moves(s, longest)
			x := excess(&f.held, r[runHeld:])
			k := p.perWatt(r)
			begin, end := r[runOutlet]+k*dot(&l.first, &x), r[runOutlet]+k*dot(&l.shows, &x)
			if !stays(f.sensor, begin, end) || begin >= f.useful != (end >= f.useful) {
				return false
			}
			if f.stages == 0 {
				out.starts++
			}
			if !f.natural {
				f.sw.Step(thermostat.Reading{Box: f.sensor, Room: p.room, Hour: p.hour, Speed: p.speed}, runSteps)
			}
			f.stages = s
			added := dot(&l.sum, &x) / float64(lasting[longest])
			l.step(&f.held, &x, r[runHeld:])
			f.sensor = r[runOutlet] + (f.sensor-r[runOutlet])*keepsMoving + k*dot(&l.drags, &x)
			out.ran(r[runHeat]+added, f.watts[s], r[runMass], r[runOutlet]+k*added, p.inlet, quarter, f.useful,
				f.h.Air.Source == "outdoors")
			out.outletMax = max(out.outletMax, max(begin, end))
			return true
		}
		if !f.natural {
			return false
		}
		f.stages = 0
	}
	p.standing()
	l := p.stands(longest)
	x := excess(&f.held, p.rest[stillHeld:])
	top := p.rest[stillTop]
	if !stays(f.sensor, top+dot(&l.first, &x), top+dot(&l.shows, &x)) {
		return false
	}
	l.step(&f.held, &x, p.rest[stillHeld:])
	f.sensor = top + (f.sensor-top)*keepsResting + dot(&l.drags, &x)
	return true
}

// minute goes one minute.
// The thermostat first, by the sensor as it will be a little ahead; then what
// the box holds goes one step, and the sensor follows the air at the top.
func (p *quarterRun) minute(out *quarterSum) {
	f := p.f
	was := f.stages
	s := 1
	ahead := thermostat.Ahead(f.sensor, f.before)
	f.before = f.sensor
	if !f.natural {
		s = f.sw.Step(thermostat.Reading{Box: ahead, Room: p.room, Hour: p.hour, Speed: p.speed}, runSteps)
	}
	p.hour += runSteps / 3600
	if s > 0 {
		if _, moves := p.running(s); !moves {
			s, f.sw.Stages = 0, 0
		}
	}
	f.stages = s
	if s == 0 {
		p.standing()
		l := p.stands(minute)
		x := excess(&f.held, p.rest[stillHeld:])
		l.step(&f.held, &x, p.rest[stillHeld:])
		x = excess(&f.held, p.rest[stillHeld:])
		f.sensor += (p.rest[stillTop] + dot(&l.shows, &x) - f.sensor) * followResting
		return
	}
	if was == 0 {
		out.starts++
	}
	r := &p.run[s]
	l := p.moves(s, minute)
	x := excess(&f.held, r[runHeld:])
	l.step(&f.held, &x, r[runHeld:])
	x = excess(&f.held, r[runHeld:])
	extra := dot(&l.shows, &x)
	outlet := r[runOutlet] + p.perWatt(r)*extra
	f.sensor += (outlet - f.sensor) * followMoving
	out.ran(r[runHeat]+extra, f.watts[s], r[runMass], outlet, p.inlet, runSteps, f.useful, f.h.Air.Source == "outdoors")
}

// ran counts a step with air moving: heat and electricity in W, mass in kg/s.
// dt is in s. A kilogram of outdoor air draws its own heat to the room's
// temperature, which the space counts.
func (g *quarterSum) ran(heat, watts, mass, outlet, inlet, dt, useful float64, outdoors bool) {
	g.heat += heat * dt
	g.run += dt
	g.fan += watts * dt
	g.blown += mass * dt
	g.jet += mass * outlet * dt
	g.outletMax = max(g.outletMax, outlet)
	if outlet >= useful {
		g.warm += dt
	}
	if outdoors {
		g.draws += mass * air.Cp(inlet) * dt
	}
}

// hottest finds the quarter in which the standing box takes up most over what the
// cold and the wind take, and works that one out in full.
// The quarter is found by the sun taken up over a loss of 6 W/m2K, plus the
// outdoor air, less the wind; it is then solved by the full network with its
// fan off.
func (f *fast) hottest(s *climate.Series) (float64, error) {
	at, most := -1, math.Inf(-1)
	for i := range s.Quarters {
		q := &s.Quarters[i]
		if q.Sun.Total() < 300 {
			continue
		}
		a, _ := f.uptake.Absorbed(q.Sun)
		if heat := a/6 + q.Ambient - q.Wind; heat > most { // a loss of about 6 W/m2K
			at, most = i, heat
		}
	}
	if at < 0 {
		return 0, nil
	}
	q := &s.Quarters[at]
	r, err := f.d.FanOff(asConditions(f.h, q, f.inlet(q, f.h.Room.Wanted), f.pressure), f.tune, nil)
	return r.AbsorberMax, err
}

// panel is a window panel's quarter: it hangs day and night, and what it gives
// besides the bare window may be less than nothing.
// A window panel has no fan and next to no store: it is steady in each quarter.
func (f *fast) panel(q *climate.Quarter, x *[dims]float64, total float64, out *quarterSum) error {
	var r [runOutputs]float64
	f.run[1].at(x, r[:], &f.room)
	out.heat += r[runHeat] * quarter
	if total > 0 && r[runMass] > 0 && r[runOutlet] > 0 {
		out.run += quarter
		out.outletMax = max(out.outletMax, r[runOutlet])
		if r[runOutlet] >= f.useful {
			out.warm += quarter
		}
	}
	return nil
}

package collector

import (
	"math"

	"gladember/core/air"
	"gladember/core/airflow"
	"gladember/core/network"
)

// Transient is a box on its way through time: the same network with the heat
// its layers store, stepped implicitly.
type Transient struct {
	d     *Description
	n     network.Network
	net   AirNet
	state *network.State
	mass  float64
	tilt  float64
	wind  float64
	tune  Tuning
	start start
	// Coat is the ice on the outer cover; its Vapor follows the conditions.
	Coat   Coat
	lights responses
	// built is the mean temperature of the air that the net was made for, C.
	built float64
}

// Moment is what a step of a transient ended at.
type Moment struct {
	// Outlet is the air that leaves, C; the inlet's with no flow.
	Outlet float64
	// Top is the air at the top of the box, C, where a thermostat's sensor
	// sits.
	Top float64
	// Absorber is the hottest absorber, and Cover the outer cover, C.
	Absorber float64
	Cover    float64 // outer cover, C
	// Mass is in kg/s.
	Mass float64
	// Energy is in W, as a rating has it.
	Energy Energy
	// Stored is the heat that goes into the layers, W.
	Stored float64
	// MakeUp is in W, see [Result.MakeUp].
	MakeUp float64
	// CoverCold is the inner cover's coldest spot, C.
	CoverCold float64
}

// NewTransient returns a box that has stood long enough at conditions, without
// air passing.
func (d *Description) NewTransient(c Conditions) (*Transient, error) {
	t := &Transient{d: d}
	still, err := d.Still(c, Tuning{}, nil)
	if err != nil {
		return nil, err
	}
	t.state = still.state
	t.n.Segments, t.n.Spread, t.n.Area = d.segments(), d.spread(), d.Aperture()
	for k := range still.state.Layer[0] {
		t.n.Store = append(t.n.Store, d.store(k))
	}
	return t, nil
}

// Tune makes the box another one from the next step on: of its emittances, wind, films,
// gaps, foam and seams. The sun, the sky and the flow are the caller's.
func (t *Transient) Tune(by Tuning) {
	t.tune, t.start = by, start{tune: by}
	t.tilt = math.NaN() // so that the air side is built anew
}

// Held returns what the layers hold now.
func (t *Transient) Held() Held { return t.d.heldBy(t.state) }

// flowMoves is by how much a flow must change before the air side is built
// anew, as a share.
const flowMoves = 0.01

// Step moves the box on by dt s at conditions with m kg/s of air leaving it; no
// flow stands for a fan that rests. Leaks follow the flow as in a rating.
func (t *Transient) Step(c Conditions, m, dt float64) (Moment, error) {
	d, n := t.d, &t.n
	if c.Pressure <= 0 {
		c.Pressure = air.SeaLevel
	}
	full := c.Sun.Total()
	through := t.Coat.Transmits()
	c.Sun = c.Sun.Dimmed(through)
	if t.lights.tilt != c.Tilt {
		t.lights = responses{tilt: c.Tilt}
	}
	sun, reflected, edge := d.litBy(&t.lights, c.Sun)
	if through < 1 && len(d.Sheets) > 0 {
		sun[0] += full * t.Coat.Absorbs()
	}
	reflected += full * (1 - through - t.Coat.Absorbs())
	n.Sun, n.Inlet = sun, c.Inlet
	n.Outside = d.surroundings(c)
	if n.Links == nil && n.Parts == nil || math.Abs(t.mean(c, m)-t.built) > airMoves || (m > 0) != (t.mass > 0) ||
		math.Abs(m-t.mass) > flowMoves*t.mass || c.Tilt != t.tilt || math.Abs(c.Wind-t.wind) > 0.2 {
		t.build(c, m)
	}
	before := t.state
	st, err := n.Advance(before, dt)
	if err != nil {
		return Moment{}, err
	}
	t.state = st
	took := 0.0
	if len(d.Sheets) > 0 {
		t.Coat.Vapor = c.Vapor
		took = t.coated(c, dt, st)
	}
	return t.moment(c, m, reflected, edge, took, before, dt), nil
}

// build makes the air side and the links for a flow.
func (t *Transient) build(c Conditions, m float64) {
	d, n := t.d, &t.n
	t.mass, t.tilt, t.wind = m, c.Tilt, c.Wind
	before := t.net
	t.net = AirNet{}
	if m > 0 {
		mean := t.mean(c, m)
		t.built = mean
		f := Flow{Mass: m, Mean: mean, P: c.Pressure, Tune: t.tune, First: len(d.Sheets), Segments: d.cells(), Tilt: c.Tilt,
			Height: d.Height, start: &t.start}
		if !before.still() {
			f.Warmth = d.lifts(before, t.state, c, &warmth{})
		}
		if !d.Natural {
			sys := airflow.System{Cold: d.Cold, Box: t.start.all(d.Passages.Elements), Hot: d.Hot}
			ahead, in, after := sys.Losses(m, c.Inlet, mean, c.Pressure)
			d.leak(&f, m, ahead, in, after, c)
		}
		t.net = d.Passages.Air(f)
		n.Cp = air.Cp(mean)
	}
	d.lay(n, c, t.tune, t.net)
	n.Forget()
}

// airMoves is how far the moving air's mean may wander before its properties,
// its share between passages and the leak are found again, K.
const airMoves = 2.0

// mean is the moving air's mean temperature: with the air coming out, or, as it
// starts, with what stands at the top. Standing air has none of its own.
func (t *Transient) mean(c Conditions, m float64) float64 {
	switch {
	case m <= 0:
		return t.built
	case t.mass > 0:
		return (c.Inlet + t.state.Outlet) / 2
	}
	return (c.Inlet + t.top()) / 2
}

// top is the air at the top of the standing box: between absorber and cover.
func (t *Transient) top() float64 {
	return t.d.topOf(t.state)
}

// moment sums up a step of dt seconds: temperatures in C, and the energy flows
// of the step, W. took is the heat that the air carried off, before the state
// the step began with.
func (t *Transient) moment(c Conditions, m, reflected, edge, took float64, before *network.State, dt float64) Moment {
	d, n, st := t.d, &t.n, t.state
	nc, area := len(d.Sheets), d.Aperture()
	o := Moment{Outlet: st.Outlet, Mass: m, Absorber: math.Inf(-1), CoverCold: math.Inf(1)}
	if m <= 0 {
		o.Outlet = c.Inlet
	}
	m = 0 // the net may be that of a flow a little off
	for _, f := range n.Outlet {
		m += f.Mass
	}
	e := d.split(n, st, reflected, edge)
	e.Front += took
	e.Air = m * n.Cp * (o.Outlet - c.Inlet)
	o.MakeUp = d.makeUp(n, c)
	for i := range st.Layer {
		seg := area * st.Share[i]
		for k, x := range st.Layer[i] {
			o.Stored += n.Store[k] * seg * (x - before.Layer[i][k]) / dt
			if k >= nc && d.Passages.Layers[k-nc].Kind == AbsorberLayer {
				o.Absorber = max(o.Absorber, x)
			}
		}
		if nc > 0 {
			o.Cover += st.Layer[i][0] * st.Share[i]
			o.CoverCold = min(o.CoverCold, st.Layer[i][nc-1])
		}
	}
	o.Energy = e
	o.Top = t.top()
	if m > 0 {
		o.Top = o.Outlet
	}
	return o
}

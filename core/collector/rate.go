package collector

import (
	"fmt"
	"math"

	"gladember/core/air"
	"gladember/core/airflow"
	"gladember/core/design"
	"gladember/core/heattransfer"
	"gladember/core/optics"
	"gladember/core/solar"
)

// Conditions are the sun, the weather and the air a box is rated in.
type Conditions struct {
	Sun      solar.OnPlane // on the glass, W/m2
	Tilt     float64       // degrees
	Ambient  float64       // C
	Inlet    float64       // C
	Sky      float64       // C, radiant
	Wind     float64       // m/s
	WindH    float64       // W/m2K; above zero it replaces the wind correlation
	Pressure float64       // Pa
	Flow     float64       // kg/s; zero takes the fan's operating point
	NoFlow   bool          // the fan stands still
}

// Tuning moves uncertain inputs away from their best values: shares unless
// said otherwise. The zero value moves nothing.
type Tuning struct {
	TauAlpha  float64
	Emittance float64 // absolute
	Wind      float64
	Sky       float64 // K
	AirNu     float64
	GapNu     float64
	Foam      float64
	FanCurve  float64
	Fittings  float64
	Leak      float64 // natural logarithm of a factor
	Bypass    float64 // absolute
	Sun       float64
}

// Energy is where the sun on the aperture goes, W. The parts sum to Sun.
type Energy struct {
	Sun, Reflected, Front, Back, Edge, Leak, Air float64
}

// Sum adds the parts, W.
func (e Energy) Sum() float64 { return e.Reflected + e.Front + e.Back + e.Edge + e.Leak + e.Air }

// LayerTemps is how warm a layer is along the air's way, C.
type LayerTemps struct {
	Name     string
	Kind     LayerKind
	Material string
	Service  float64
	Along    []float64
	Mean     float64
	Max      float64
}

// Result is a rated box.
type Result struct {
	Mass            float64 // leaving the box, kg/s
	Volume          float64 // of it at the inlet's temperature, m3/s
	Outlet          float64 // C
	Heat            float64 // to the air, W
	Efficiency      float64 // on the aperture
	EfficiencyGross float64 // on the gross area (ISO 9806:2017)
	Aperture, Gross float64 // m2
	AbsorberMean    float64 // C
	AbsorberMax     float64 // C
	CoverOuter      float64 // C
	PressureDrop    float64 // whole system, Pa
	BoxPressure     float64 // of the box against outdoors, Pa
	FanPower        float64 // W
	FanFlow         float64 // m3/s at the fan
	Leak            float64 // kg/s
	Cp              float64 // J/kgK
	Energy          Energy
	Layers          []LayerTemps
	AirAlong        []float64 // C, from inlet to outlet, Segments+1 values
	Conditions      Conditions
	state           *State
}

// Rate solves a heater at given conditions: the heat balance, and with no flow
// given the fan's operating point with it.
func Rate(h *design.Heater, c Conditions) (Result, error) {
	d, err := Describe(h)
	if err != nil {
		return Result{}, err
	}
	return d.Rate(c, Tuning{}, nil)
}

// lit returns the sun absorbed by each layer in W/m2 of aperture, and the part
// thrown back.
func (d *Description) lit(c Conditions, t Tuning) (absorbed []float64, reflected float64) {
	nc := len(d.Sheets)
	absorbed = make([]float64, nc+len(d.Passages.Layers))
	stack := make([]optics.Layer, len(absorbed))
	emit := make([]optics.Emission, len(absorbed))
	for i, s := range d.Sheets {
		one := optics.Covers([]optics.Sheet{s}, optics.DiffuseAngle)
		stack[i] = optics.Layer{Transmit: one.Transmitted, ReflectFront: one.Reflected, ReflectBack: one.Reflected}
	}
	add := func(g, theta float64) {
		if g <= 0 {
			return
		}
		through := optics.Covers(d.Sheets, theta)
		for i, l := range d.Passages.Layers {
			stack[nc+i] = l.Sun(theta)
		}
		in := through.Transmitted * (1 - d.Dirt) * (1 + t.TauAlpha)
		var f optics.Flux
		if nc > 0 {
			emit[nc-1].Down = in
			f = optics.Solve(stack, 0, emit)
		} else {
			f = optics.Solve(stack, in, nil)
		}
		for i := range absorbed {
			a := f.Absorbed[i]
			if i < nc {
				a += through.Absorbed[i] * (1 - d.Dirt)
			}
			absorbed[i] += g * a
		}
		// What passes the last layer stays in it: the back is opaque.
		absorbed[len(absorbed)-1] += g * f.Down
	}
	k := 1 + t.Sun
	add(c.Sun.Beam*k, math.Min(c.Sun.Incidence, 89.9))
	add(c.Sun.Sky*k, optics.SkyAngle(c.Tilt))
	add(c.Sun.Ground*k, optics.GroundAngle(c.Tilt))
	reflected = c.Sun.Total() * k
	for _, a := range absorbed {
		reflected -= a
	}
	return absorbed, reflected
}

// radiation appends the exchange of every pair of layers and with the world
// in front, whose sky part is (1 + cos tilt)/2; the ground is as warm as the air.
func (d *Description) radiation(links []Link, c Conditions, t Tuning) []Link {
	var stack []optics.Layer
	for _, l := range d.CoverInfrared {
		stack = append(stack, dull(l, t.Emittance))
	}
	for _, l := range d.Passages.Layers {
		stack = append(stack, dull(l.Infrared, t.Emittance))
	}
	f := optics.Exchange(stack)
	n := len(stack)
	grey := func(factor float64) func(ta, tb float64) float64 {
		return func(ta, tb float64) float64 {
			a, b := ta+air.Kelvin, tb+air.Kelvin
			return factor * heattransfer.Sigma * (a*a + b*b) * (a + b)
		}
	}
	const least = 1e-9
	for i := range n {
		for j := i + 1; j < n; j++ {
			if f[i][j] > least {
				links = append(links, Link{A: i, B: j, G: grey(f[i][j])})
			}
		}
		if w := f[i][n]; w > least {
			s := (1 + math.Cos(c.Tilt*math.Pi/180)) / 2
			links = append(links, Link{A: i, To: SkyDome, Role: Front, G: grey(w * s)},
				Link{A: i, To: Ambient, Role: Front, G: grey(w * (1 - s))})
		}
	}
	return links
}

// dull moves a layer's emittance by an absolute step, within what is possible.
func dull(l optics.Layer, by float64) optics.Layer {
	r := math.Max(0, math.Min(1-l.Transmit, l.ReflectFront-by*(1-l.Transmit)))
	l.ReflectFront, l.ReflectBack = r, r
	return l
}

// links builds everything between layers that does not depend on the flow;
// still says that the gaps which air runs through hold standing air.
func (d *Description) links(c Conditions, t Tuning, swept map[int]bool) []Link {
	nc := len(d.Sheets)
	gap := func(width float64) func(ta, tb float64) float64 {
		return func(front, rear float64) float64 {
			return heattransfer.GapCoefficient(rear, front, width, d.Height, c.Tilt, c.Pressure) * (1 + t.GapNu)
		}
	}
	var ls []Link
	for i := 1; i < nc; i++ {
		ls = append(ls, Link{A: i - 1, B: i, G: gap(d.Between)})
	}
	for i, l := range d.Passages.Layers {
		if k := nc + i; k > 0 && !swept[k] {
			ls = append(ls, Link{A: k - 1, B: k, G: gap(l.Gap)})
		}
	}
	ls = d.radiation(ls, c, t)
	outer := func(cover, ambient float64) float64 {
		if c.WindH > 0 {
			return c.WindH * (1 + t.Wind)
		}
		return heattransfer.Outer(c.Wind, cover, ambient, d.Height, c.Pressure) * (1 + t.Wind)
	}
	back, edge := d.BackU(t), d.EdgeUA(t)/d.Aperture()/2
	last := nc + len(d.Passages.Layers) - 1
	fixed := func(g float64) func(ta, tb float64) float64 { return func(_, _ float64) float64 { return g } }
	return append(ls,
		Link{A: 0, To: Ambient, Role: Front, G: outer},
		Link{A: last, To: Ambient, Role: Back, G: fixed(back)},
		Link{A: last, To: Ambient, Role: Edge, G: fixed(edge)},
		Link{A: nc, To: Ambient, Role: Edge, G: fixed(edge)})
}

// system is the air path with its uncertain losses moved.
func (d *Description) system(t Tuning) airflow.System {
	move := func(es []airflow.Element) (out []airflow.Element) {
		for _, e := range es {
			out = append(out, scaled{e, 1 + t.Fittings})
		}
		return
	}
	return airflow.System{Cold: move(d.Cold), Box: move(d.Passages.Elements), Hot: move(d.Hot), FanAtHot: d.FanAtHot}
}

type scaled struct {
	airflow.Element
	by float64
}

// Loss implements [airflow.Element].
func (s scaled) Loss(m, t, p float64) float64 { return s.by * s.Element.Loss(m, t, p) }

// leakExponent is that of cracks, common practice in building physics.
const leakExponent = 0.65

// Rate solves the box with some inputs moved. start, if not nil, is a result
// of the same box to begin from.
func (d *Description) Rate(c Conditions, t Tuning, start *Result) (Result, error) {
	r := Result{Aperture: d.Aperture(), Gross: d.Gross, Conditions: c}
	if c.Pressure <= 0 {
		c.Pressure = air.SeaLevel
	}
	c.Sky += t.Sky
	sun, reflected := d.lit(c, t)
	nc := len(d.Sheets)
	n := Network{Segments: Segments, Area: r.Aperture, Sun: sun, Inlet: c.Inlet, Outside: [outsides]float64{c.Ambient, c.Sky}}
	fan := d.Fan
	fan.ShutOff *= 1 + t.FanCurve
	fan.FreeAir *= 1 + t.FanCurve
	sys := d.system(t)
	// Half of the sun, carried by a usual flow, is a fair first guess.
	out := c.Inlet + 0.5*c.Sun.Total()*r.Aperture/(1007*math.Max(0.02*r.Aperture, c.Flow))
	var warm *State
	if start != nil {
		out, warm = start.Outlet, start.state
	}
	var net AirNet
	if c.NoFlow {
		n.Links = d.links(c, t, nil)
		st, err := n.Solve(warm, settled)
		if err != nil {
			return r, err
		}
		r.fill(d, &n, st, reflected, net)
		return r, nil
	}
	// Flow, leak and air properties follow from the outlet's temperature, and
	// it from them: a few rounds settle both.
	var st *State
	const (
		rounds = 40
		close  = 1e-5 // K
	)
	lastOut, lastErr, settle := 0.0, 0.0, 0.05
	for round := 0; ; round++ {
		mass := c.Flow
		if mass <= 0 {
			pt, err := airflow.OperatingPoint(fan, sys, c.Inlet, out, c.Pressure)
			if err != nil {
				return r, err
			}
			mass = pt.Mass
		}
		before, in, after := sys.Losses(mass, c.Inlet, out, c.Pressure)
		r.PressureDrop = before + in + after
		f := Flow{Mass: mass, Mean: (c.Inlet + out) / 2, P: c.Pressure, Tune: t, First: nc}
		if d.FanAtHot {
			r.BoxPressure = -(before + in/2)
			f.LeakIn = d.Seam * math.Exp(t.Leak) * math.Pow(-r.BoxPressure, leakExponent) * air.Density(c.Ambient, c.Pressure)
			f.LeakIn = math.Min(f.LeakIn, mass/2)
			f.Mass = mass - f.LeakIn // what the fan moves is what leaves
			r.Leak = f.LeakIn
		} else {
			r.BoxPressure = after + in/2
			f.LeakOut = d.Seam * math.Exp(t.Leak) * math.Pow(r.BoxPressure, leakExponent) * air.Density(f.Mean, c.Pressure)
			f.LeakOut = math.Min(f.LeakOut, mass/2)
			r.Leak = f.LeakOut
			f.Mass += f.LeakOut // flow is what comes out; the leak is moved besides
		}
		net = d.Passages.Air(f)
		if round == 0 {
			n.Links = d.links(c, t, sweptBy(net.Airs, nc))
		}
		n.Airs, n.Outlet, n.LeakOut = net.Airs, net.Outlet, net.LeakOut
		n.Cp = air.Cp(f.Mean)
		var err error
		if st, err = n.Solve(warm, settle); err != nil {
			return r, err
		}
		warm = st
		miss := st.Outlet - out
		if math.Abs(miss) < close && settle <= close {
			break
		}
		settle = math.Max(settled, math.Min(0.01, math.Abs(miss)*1e-4))
		if round == rounds {
			return r, ErrNoBalance
		}
		next := st.Outlet
		if round > 0 && miss != lastErr { // secant on the fixed point
			s := (miss - lastErr) / (out - lastOut)
			if s < -0.2 {
				next = out - miss/s
			}
		}
		lastOut, lastErr = out, miss
		out = next
	}
	r.FanPower = fan.Power
	r.fill(d, &n, st, reflected, net)
	at := c.Inlet
	if d.FanAtHot {
		at = r.Outlet
	}
	r.FanFlow = r.Mass / air.Density(at, c.Pressure)
	return r, nil
}

// sweptBy says in front of which layers the gap holds running air, not standing
// air: those that share an air node with the layer before them, and screens
// that air crosses.
func sweptBy(airs []Air, covers int) map[int]bool {
	swept := map[int]bool{}
	for _, a := range airs {
		for _, t := range a.Touches {
			if len(a.Touches) == 1 || t.Layer >= covers && touches(a, t.Layer-1) {
				swept[t.Layer] = true
			}
		}
	}
	return swept
}

func touches(a Air, layer int) bool {
	for _, t := range a.Touches {
		if t.Layer == layer {
			return true
		}
	}
	return false
}

// fill reads a solved network into the result.
func (r *Result) fill(d *Description, n *Network, st *State, reflected float64, net AirNet) {
	c := r.Conditions
	r.state, r.Cp = st, n.Cp
	r.Outlet = st.Outlet
	for _, f := range n.Outlet {
		r.Mass += f.Mass
	}
	r.Volume = r.Mass / air.Density(c.Inlet, n.pressure(c))
	r.Heat = r.Mass * n.Cp * (r.Outlet - c.Inlet)
	e := Energy{Reflected: reflected * r.Aperture, Front: st.Lost[Front], Back: st.Lost[Back], Edge: st.Lost[Edge], Air: r.Heat}
	e.Sun = e.Reflected
	for _, s := range n.Sun {
		e.Sun += s * r.Aperture
	}
	for _, f := range n.LeakOut {
		e.Leak += f.Mass * n.Cp * (st.Air[f.At][f.From] - c.Inlet)
	}
	for _, a := range n.Airs {
		for _, fs := range a.Feeds {
			for _, f := range fs {
				if f.From == FromOutdoor {
					e.Leak += f.Mass * n.Cp * (c.Inlet - c.Ambient)
				}
			}
		}
	}
	r.Energy = e
	if e.Sun > 0 {
		r.Efficiency = r.Heat / e.Sun
		r.EfficiencyGross = r.Heat / (e.Sun / r.Aperture * r.Gross)
	}
	nc := len(d.Sheets)
	for k := range n.Sun {
		l := LayerTemps{Name: fmt.Sprintf("cover %d", k+1), Kind: CoverLayer, Material: d.CoverMaterial, Service: d.CoverService}
		if k >= nc {
			p := d.Passages.Layers[k-nc]
			l = LayerTemps{Name: p.Name, Kind: p.Kind, Material: p.Material, Service: p.Service}
		}
		l.Max = math.Inf(-1)
		for i := range st.Layer {
			t := st.Layer[i][k]
			l.Along = append(l.Along, t)
			l.Mean += t / float64(len(st.Layer))
			l.Max = math.Max(l.Max, t)
		}
		r.Layers = append(r.Layers, l)
	}
	count := 0.0
	r.AbsorberMax = math.Inf(-1)
	for _, l := range r.Layers {
		if l.Kind == AbsorberLayer {
			r.AbsorberMean += l.Mean
			r.AbsorberMax = math.Max(r.AbsorberMax, l.Max)
			count++
		}
	}
	r.AbsorberMean /= count
	if nc > 0 {
		r.CoverOuter = r.Layers[0].Mean
	}
	if len(n.Airs) > 0 {
		r.AirAlong = []float64{c.Inlet}
		for _, mix := range net.Along {
			mass, sum := 0.0, 0.0
			for _, f := range mix {
				mass += f.Mass
				sum += f.Mass * st.Air[f.At][f.From]
			}
			r.AirAlong = append(r.AirAlong, sum/mass)
		}
	}
}

func (n *Network) pressure(c Conditions) float64 {
	if c.Pressure > 0 {
		return c.Pressure
	}
	return air.SeaLevel
}

// Still returns the box at the same conditions with its fan standing still and
// no air passing: the stagnation state. Source: the same network with the
// passages as closed gaps.
func (d *Description) Still(c Conditions, t Tuning, start *Result) (Result, error) {
	c.NoFlow = true
	return d.Rate(c, t, start)
}

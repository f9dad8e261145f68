package collector

import (
	"errors"
	"fmt"
	"math"

	"gladember/core/air"
	"gladember/core/airflow"
	"gladember/core/design"
	"gladember/core/heattransfer"
	"gladember/core/internal/root"
	"gladember/core/network"
	"gladember/core/optics"
	"gladember/core/solar"
)

// Conditions are the sun, the weather and the air a box is rated in.
type Conditions struct {
	// Sun is on the glass, W/m2: beam, sky, ground and mirror with their
	// incidence.
	Sun solar.OnPlane
	// Tilt is in degrees: 90 is upright.
	Tilt float64
	// Ambient is the outdoor air, C.
	Ambient float64
	// Inlet is the air that the box draws in, C.
	Inlet float64
	// Room is the space that the air goes to, C; it matters where the inlet
	// lies outdoors.
	Room float64
	// Sky is the radiant temperature of the sky, C.
	Sky float64
	// Wind is the speed at the glass, m/s.
	Wind float64
	// WindH is a film coefficient, W/m2K; above zero it replaces the wind
	// correlation.
	WindH float64
	// Pressure is that of the air, Pa; zero is that of sea level.
	Pressure float64
	// Vapor is the vapor pressure of the outdoor air, Pa; zero where it is not
	// known, and then no frost forms.
	Vapor float64
	// Snow is new on the cover as a day begins, kg/m2.
	Snow float64
	// Flow is the mass flow that leaves the box, kg/s; zero takes the fan's
	// operating point.
	Flow float64
	// NoFlow says that the fan stands still.
	NoFlow bool
}

// Tuning moves uncertain inputs away from their best values: shares unless
// said otherwise. The zero value moves nothing.
type Tuning struct {
	// TauAlpha moves the transmittance-absorptance product, as a share.
	TauAlpha float64
	// Emittance moves that of the absorber, absolute.
	Emittance float64
	// Wind is the logarithm of a factor on the wind's film coefficient.
	Wind float64
	// Sky moves the sky temperature, K.
	Sky float64
	// AirNu moves the Nusselt numbers of the moving air, and GapNu those of
	// standing air, as shares.
	AirNu float64
	GapNu float64
	// Foam moves the insulation's conductivity, as a share.
	Foam float64
	// Edge takes insulation off the sides, as a share of its thickness: 1 leaves
	// none, in a box of the same size inside.
	Edge float64
	// Ajar is 1 for a backdraft damper that does not fall shut: its resistance
	// stays, and air falls back through the box by night.
	Ajar float64
	// FanCurve moves the fan's pressure and flow, as a share.
	FanCurve float64
	// ShutOff is the logarithm of a factor on the fan's pressure at no flow, where no table gives it.
	ShutOff float64
	// Fittings is the logarithm of a factor on the loss of fittings.
	Fittings float64
	// Leak is the logarithm of a factor on the leakage of seams.
	Leak float64
	// Bypass moves the share that slips around screens, absolute.
	Bypass float64
	// Jet is the logarithm of a factor on what an inlet without a deflector and
	// a baffle do to the crossing.
	Jet float64
	// Sun moves the sun on the glass, as a share.
	Sun float64
}

// inputs are all that a tuning moves.
func (t *Tuning) inputs() []*float64 {
	return []*float64{&t.TauAlpha, &t.Emittance, &t.Wind, &t.Sky, &t.AirNu, &t.GapNu, &t.Foam, &t.Edge, &t.Ajar, &t.FanCurve, &t.ShutOff,
		&t.Fittings, &t.Leak, &t.Bypass, &t.Jet, &t.Sun}
}

// Plus is one tuning on top of another that is taken so many times, as things that are wrong at once are.
func (t Tuning) Plus(by Tuning, times float64) Tuning {
	moves := by.inputs()
	for i, x := range t.inputs() {
		*x += times * *moves[i]
	}
	return t
}

// Energy is where the sun on the aperture goes, W. The parts sum to Sun. Room
// is what an indoor panel's back gives straight to the room.
type Energy struct {
	// All in W over the aperture of all boxes. Sun is what falls on it; the
	// others sum to it: reflected, lost by front, back and edges, lost by
	// leaks, given to the air, and given to the room through the pane.
	Sun, Reflected, Front, Back, Edge, Leak, Air, Room float64
}

// Sum adds the parts, W.
func (e Energy) Sum() float64 {
	return e.Reflected + e.Front + e.Back + e.Edge + e.Leak + e.Air + e.Room
}

// LayerTemps is how warm a layer is along the air's way, C.
type LayerTemps struct {
	// Name, Kind, Material and Service are those of the [Layer].
	Name     string
	Kind     LayerKind
	Material string
	Service  float64
	// Along is its temperature in each segment from the inlet on, C.
	Along []float64
	// Mean is over the area, and Max is the hottest spot, C.
	Mean float64
	Max  float64
}

// Result is a rated box.
type Result struct {
	// Mass is the flow that leaves the box, kg/s.
	Mass float64
	// Volume is that flow at the inlet's temperature, m3/s.
	Volume float64
	// Outlet is the temperature of the air that leaves the box, C.
	Outlet float64
	// Heat is what the air takes up, W; of an indoor panel, what the room gets
	// besides what the bare window gives.
	Heat float64
	// Bare is what the bare window would give, W; zero but for an indoor panel.
	Bare float64
	// Efficiency is Heat over the sun on the aperture.
	Efficiency float64
	// EfficiencyGross is on the gross area (ISO 9806:2017).
	EfficiencyGross float64
	// Aperture and Gross are the two areas, m2.
	Aperture, Gross float64
	// AbsorberMean and AbsorberMax are the absorber's mean and hottest spot, C.
	AbsorberMean float64
	AbsorberMax  float64 // C
	// CoverOuter is the mean of the outer cover, C.
	CoverOuter float64
	// PressureDrop is that of the whole system, Pa.
	PressureDrop float64
	// BoxPressure is that of the box against outdoors, Pa.
	BoxPressure float64
	// FanPower is what all fans take, W.
	FanPower float64
	// Bought is what of that is paid for, W: nothing off a panel of its own.
	Bought float64
	// FanFlow is the volume flow at the fan, m3/s.
	FanFlow float64
	// Leak is the mass flow through the seams, kg/s.
	Leak float64
	// Cp is the specific heat of the air, J/kgK.
	Cp     float64
	Energy Energy
	// Layers are the temperatures of all layers, covers first.
	Layers []LayerTemps
	// AirAlong is the air from inlet to outlet, C.
	AirAlong []float64
	// HotAlong is the hottest absorber layer beside each step of AirAlong after
	// the first, C.
	HotAlong []float64
	// DuctLoss is what ducts that lie outdoors lose, W; Heat does not count it.
	DuctLoss float64
	// MakeUp warms the outdoor air that replaces in the room what leaks from
	// the box, W; Heat does not count it.
	MakeUp float64
	// Airing warms the outdoor air that the box draws in up to the room's
	// temperature, W; Heat does not count it.
	Airing float64
	// Lift is the pressure that warmth adds, Pa.
	Lift float64
	// SpeedingUp is the pressure that speeds up the air as it warms, Pa; it is
	// part of PressureDrop.
	SpeedingUp float64
	// Evenness is the least over the mean flow of tubes, or of the crossing of
	// screens; 0 where it means nothing.
	Evenness float64
	// FanSpeed is the share of full speed.
	FanSpeed float64
	// Branches are those of a row of boxes, from the inlet's end on; nil for
	// one box.
	Branches []Branch
	// CoverInner is the coldest spot of the innermost cover, C.
	CoverInner float64
	Conditions Conditions
	// state is the network's own, from which the next rating may begin, and warmth what warmth adds in single branches.
	state  *network.State
	warmth warmth
}

// Rate solves a heater at given conditions: the heat balance, and with no flow
// given the fan's operating point with it.
// It is what `gladember rate` prints. Errors are those of a material that the
// catalog does not know, and [network.ErrNoBalance].
func Rate(h *design.Heater, c Conditions) (Result, error) {
	d, err := Describe(h)
	if err != nil {
		return Result{}, err
	}
	return d.Rate(c, Tuning{}, nil)
}

// lit returns the sun absorbed by each layer in W/m2 of aperture, the part
// thrown back, and the part that side walls take up and lose outwards.
// Beam, sky, ground and mirror each pass the covers at an angle of their own
// (package optics); what reaches the cavity is shared by net radiation between
// the layers, so that light thrown from layer to layer is counted. Sky and
// ground take the effective angles of Brandemuehl and Beckman (Duffie and
// Beckman 5.4).
func (d *Description) lit(c Conditions, t Tuning) (absorbed []float64, reflected, edge float64) {
	return d.branching().lit(c, t)
}

// radiation appends the exchange of every pair of layers and with the world
// in front, whose sky part is (1 + cos tilt)/2; the ground is as warm as the air.
// Exchange factors are those of gray parallel planes, with holes and
// transmitting films in between: sigma (Ta^2 + Tb^2)(Ta + Tb) times the factor
// is the conductance between two of them.
func (d *Description) radiation(links []network.Link, c Conditions, t Tuning) []network.Link {
	var stack []optics.Layer
	for _, l := range d.CoverInfrared {
		stack = append(stack, dull(l, t.Emittance))
	}
	for _, l := range d.Passages.Layers {
		stack = append(stack, dull(l.Infrared, t.Emittance))
	}
	f := optics.Exchange(stack)
	n := len(stack)
	gray := func(factor float64) func(ta, tb float64) float64 {
		return func(ta, tb float64) float64 {
			a, b := ta+air.Kelvin, tb+air.Kelvin
			return factor * heattransfer.Sigma * (a*a + b*b) * (a + b)
		}
	}
	const least = 1e-4 // of black exchange: under a milliwatt per m2 and kelvin
	for i := range n {
		for j := i + 1; j < n; j++ {
			if f[i][j] > least {
				links = append(links, network.Link{A: i, B: j, G: gray(f[i][j])})
			}
		}
		if w := f[i][n]; w > least {
			s := (1 + math.Cos(c.Tilt*math.Pi/180)) / 2
			links = append(links, network.Link{A: i, To: network.SkyDome, Role: network.Front, G: gray(w * s)},
				network.Link{A: i, To: network.Ambient, Role: network.Front, G: gray(w * (1 - s))})
		}
	}
	return links
}

// dull moves a layer's emittance by an absolute step, within what is possible.
func dull(l optics.Layer, by float64) optics.Layer {
	move := func(r float64) float64 { return max(0, min(1-l.Transmit, r-by*(1-l.Transmit))) }
	l.ReflectFront, l.ReflectBack = move(l.ReflectFront), move(l.ReflectBack)
	return l
}

// surroundings are the fixed temperatures around a box. The room behind a wall
// is as warm as the air drawn in, unless that comes from outdoors.
func (d *Description) surroundings(c Conditions) [network.Outsides]float64 {
	room := c.Inlet
	if d.FromOutdoors {
		room = c.Room
	}
	return [network.Outsides]float64{c.Ambient, c.Sky, room}
}

// links builds everything between layers that does not depend on the flow;
// still says that the gaps which air runs through hold standing air.
// They are standing air, metal joints, radiation, the wind, and what goes
// through the back and the edges.
func (d *Description) links(c Conditions, t Tuning, swept map[int]bool) []network.Link {
	nc := len(d.Sheets)
	gap := d.gap(c, t)
	fixed := func(g float64) func(ta, tb float64) float64 { return func(_, _ float64) float64 { return g } }
	ls := d.coverGaps(gap)
	for i, l := range d.Passages.Layers {
		if k := nc + i; k > 0 && !swept[k] {
			ls = append(ls, network.Link{A: k - 1, B: k, G: d.standing(i, l, c, t, gap)})
		}
	}
	for _, j := range d.Passages.Joins {
		ls = append(ls, network.Link{A: nc + j.A, B: nc + j.B, G: fixed(j.G)})
	}
	ls = d.radiation(ls, c, t)
	ls = append(ls, network.Link{A: 0, To: network.Ambient, Role: network.Front, G: d.outer(c, t)})
	last := nc + len(d.Passages.Layers) - 1
	if side := d.Passages.RoomSide; side != nil {
		return append(ls, network.Link{A: last, To: network.Indoors, Role: network.Room, G: func(layer, room float64) float64 {
			return side(layer, room, d.Height, c.Pressure) * (1 + t.AirNu)
		}})
	}
	edge := d.EdgeUA(t) / d.Width / d.Height / 2
	out, in := d.back(c, t)
	if in > 0 {
		ls = append(ls, network.Link{A: last, To: network.Indoors, Role: network.Back, G: fixed(in)})
	}
	return append(ls,
		network.Link{A: last, To: network.Ambient, Role: network.Back, G: fixed(out)},
		network.Link{A: last, To: network.Ambient, Role: network.Edge, G: fixed(edge)},
		network.Link{A: nc, To: network.Ambient, Role: network.Edge, G: fixed(edge)})
}

// gap returns the conductance of a closed gap of a width, m, and of what
// crosses it, W/m2K.
func (d *Description) gap(c Conditions, t Tuning) func(width, web float64) func(front, rear float64) float64 {
	return func(width, web float64) func(front, rear float64) float64 {
		cavity := heattransfer.NewCavity(c.Tilt, d.Height/width)
		return func(front, rear float64) float64 {
			return cavity.Coefficient(rear, front, width, c.Pressure)*(1+t.GapNu) + web
		}
	}
}

// standing is what passes between a layer behind the covers and the one in
// front of it through air that stands between them, in a passage or in a closed
// gap.
func (d *Description) standing(i int, l Layer, c Conditions, t Tuning, gap func(width, web float64) func(ta, tb float64) float64) func(ta,
	tb float64) float64 {
	for _, w := range d.Passages.Ways {
		if w.walls[1].layer == i && w.walls[0].layer == i-1 {
			g := w.standing(Flow{Mean: c.Inlet, P: c.Pressure, Tilt: c.Tilt, Height: d.Height})
			return func(ta, tb float64) float64 { return g(ta, tb) * (1 + t.GapNu) }
		}
	}
	return gap(max(0.0005, l.Gap), 0)
}

// coverGaps are the exchanges by convection and through webs between one cover
// and the next.
func (d *Description) coverGaps(gap func(width, web float64) func(ta, tb float64) float64) (ls []network.Link) {
	for i := 1; i < len(d.Sheets); i++ {
		ls = append(ls, network.Link{A: i - 1, B: i, G: gap(d.Between[i-1], d.Webs[i-1])})
	}
	return ls
}

// outer is the coefficient on the outside of the outer cover.
func (d *Description) outer(c Conditions, t Tuning) func(cover, ambient float64) float64 {
	return func(cover, ambient float64) float64 {
		if c.WindH > 0 {
			return c.WindH * math.Exp(t.Wind) * d.Wave
		}
		return heattransfer.Outer(c.Wind, cover, ambient, d.Height, c.Pressure) * math.Exp(t.Wind) * d.Wave
	}
}

// roomReflects is the share of the sun through a bare window that the room
// throws out again; roomFilm the coefficient inside it, W/m2K (EN 673).
// The share is common practice, no source.
const (
	roomReflects = 0.10
	roomFilm     = 7.7
)

// bare returns what the window alone would give the room, W: sun let in less
// the heat it loses.
func (d *Description) bare(c Conditions, t Tuning) (float64, error) {
	alone := *d
	room := optics.Layer{ReflectFront: roomReflects, ReflectBack: roomReflects}
	alone.Passages = Passages{Layers: []Layer{{Kind: BackLayer, Infrared: optics.Layer{}, Sun: func(float64) optics.Layer { return room }}}}
	sun, _, _ := alone.lit(c, t)
	nc := len(d.Sheets)
	area := d.Aperture()
	n := network.Network{
		Segments: 1, Area: area, Sun: sun[:nc], Inlet: c.Inlet,
		Outside: [network.Outsides]float64{c.Ambient, c.Sky, c.Inlet},
	}
	covers := *d
	covers.Passages.Layers = nil
	n.Links = covers.coverGaps(d.gap(c, t))
	n.Links = covers.radiation(n.Links, c, t)
	n.Links = append(n.Links, network.Link{A: 0, To: network.Ambient, Role: network.Front, G: d.outer(c, t)},
		network.Link{A: nc - 1, To: network.Indoors, Role: network.Room, G: func(_, _ float64) float64 { return roomFilm }})
	st, err := n.Solve(nil, network.Settled)
	if err != nil {
		return 0, err
	}
	return sun[nc]*area + st.Lost[network.Room], nil
}

// system is the air path with its uncertain losses moved. For a search of one flow, manifolds follow the warmth of the last balance and
// are found near it by a power of the flow; without, they are those of air of one temperature.
func (p *pass) system(search bool) airflow.System {
	d, t := p.d, p.t
	move := func(es []airflow.Element) (out []airflow.Element) {
		for _, e := range es {
			out = append(out, scaled{e, math.Exp(t.Fittings)})
		}
		return
	}
	var box []airflow.Element
	for _, e := range p.start.all(d.Passages.Elements) {
		if m, ok := e.(airflow.Manifold); ok && search {
			n := &nearby{of: manifolded{m, &p.warmth}}
			p.near = append(p.near, n)
			e = n
		}
		box = append(box, e)
	}
	return airflow.System{Cold: move(d.Cold), Box: move(box), Hot: move(d.Hot), FanAtHot: d.FanAtHot}
}

// scaled is a pressure element whose loss is multiplied, for the bands.
type scaled struct {
	airflow.Element
	by float64
}

// Loss implements [airflow.Element].
func (s scaled) Loss(m, t, p float64) float64 { return s.by * s.Element.Loss(m, t, p) }

// LeakExponent is the power of the pressure by which cracks leak, common practice in building physics.
const LeakExponent = 0.65

// leak sets what leaks into or out of the box while mass kg/s leave it, and what is moved besides; it returns the pressure in the box
// over the room's, Pa, of the losses before, in and after it: below the room's where the fan pulls, above it where it pushes.
func (d *Description) leak(f *Flow, mass, before, in, after float64, c Conditions) (pressure float64) {
	seam := d.Seam * math.Exp(f.Tune.Leak)
	if d.FanAtHot {
		pressure = -max(0, before+in/2)
		f.LeakIn = min(seam*math.Pow(-pressure, LeakExponent)*air.Density(c.Ambient, c.Pressure), mass/2)
		f.Mass = mass - f.LeakIn // what the fan moves is what leaves
		return pressure
	}
	pressure = max(0, after+in/2) // warmth may give unlike branches more than they take
	f.LeakOut = min(seam*math.Pow(pressure, LeakExponent)*air.Density(f.Mean, c.Pressure), mass/2)
	f.Mass = mass + f.LeakOut // flow is what comes out; the leak is moved besides
	return pressure
}

// Rate solves the box with some inputs moved. start, if not nil, is a result
// of the same box to begin from.
// The order is: sun, then the still box or the flow. A box without a fan whose
// air does not rise is the still box.
func (d *Description) Rate(c Conditions, t Tuning, start *Result) (Result, error) {
	r, err := d.rate(c, t, start)
	if errors.Is(err, network.ErrNoBalance) && start != nil {
		// Where warmth moves much of the air, the state of another hour may lead away from any balance.
		r, err = d.rate(c, t, nil)
	}
	if err != nil {
		return r, err
	}
	for _, x := range []float64{r.Mass, r.Outlet, r.Heat, r.PressureDrop, r.AbsorberMax} {
		if math.IsNaN(x) || math.IsInf(x, 0) {
			return r, network.ErrNoBalance
		}
	}
	return r, nil
}

// rate is [Description.Rate] before its figures are known to be numbers.
func (d *Description) rate(c Conditions, t Tuning, from *Result) (Result, error) {
	c.Pressure = c.pressure()
	r := Result{Aperture: d.Aperture(), Gross: d.Gross, Conditions: c}
	c.Sky += t.Sky
	sun, reflected, edge := d.lit(c, t)
	n := network.Network{Segments: d.segments(), Spread: d.spread(), Area: r.Aperture, Sun: sun, Inlet: c.Inlet, Outside: d.surroundings(c)}
	p := pass{d: d, c: c, t: t, n: &n, reflected: reflected, edge: edge, start: &start{tune: t}}
	p.sys = p.system(true)
	if d.Indoors {
		var err error
		if r.Bare, err = d.bare(c, t); err != nil {
			return r, err
		}
	}
	var warm *network.State
	if from != nil {
		warm = from.state
	}
	still := c.NoFlow
	if !still && c.Flow <= 0 && !d.Natural {
		still = p.blower() <= 0
	}
	if !still && c.Flow <= 0 && d.Natural {
		drawn, err := p.natural(&r, warm, from)
		if err != nil || drawn {
			return r, err
		}
		still = true // warmth does not lift it: the air stands
	}
	if still {
		return r, p.standing(&r, warm)
	}
	return r, p.driven(&r, warm, from)
}

// blower sets the fan that drives the air and returns its share of full speed;
// a panel without a battery may leave it without power.
// Its figures are then those of the fan laws: flow by the speed, pressure by
// its square, power by its cube.
func (p *pass) blower() float64 {
	p.fan = p.d.Fan
	p.fan.More = p.d.Strength*(1+p.t.FanCurve) - 1
	p.fan.ShutOff *= math.Exp(p.t.ShutOff)
	pv := p.d.Panel
	if pv == nil || pv.Battery > 0 {
		return 1
	}
	p.fan.Speed = p.d.panelSpeed(p.c.Sun.Total()*(1+p.t.Sun), p.c.Ambient)
	return p.fan.Speed
}

// standing solves the box with its air at rest.
func (p *pass) standing(r *Result, warm *network.State) error {
	p.d.lay(p.n, p.c, p.t, AirNet{})
	st, err := p.n.Solve(warm, network.Settled)
	if err != nil {
		return err
	}
	r.fill(p, st, AirNet{})
	return nil
}

// driven solves the box with a given flow, or with that at which the fan meets
// the losses. Flow, leak and air properties follow from the outlet's
// temperature, and it from them: a few rounds settle both.
// Each round takes the outlet of the one before. The network is settled loosely
// at first and to [network.Settled] only once the outlet stands to a tenth of a
// millikelvin.
func (p *pass) driven(r *Result, warm *network.State, start *Result) error {
	d, c := p.d, p.c
	// Half of the sun, carried by a usual flow, is a fair first guess.
	out := c.Inlet + 0.5*c.Sun.Total()*r.Aperture/(1007*max(0.02*r.Aperture, c.Flow))
	if start != nil && start.Mass > 0 {
		out = start.Outlet
		p.lift = start.Lift
	}
	const (
		rounds = 2 * restless
		close  = 1e-4 // K
	)
	lastOut, lastErr, settle, off := 0.0, 0.0, 0.2, 0.0
	pressed := false
	for round := 0; ; round++ {
		mass := c.Flow
		if mass <= 0 {
			// Lift helps the fan, and the air that speeds up as it warms takes
			// from it. Where a weak fan has more of warmth than of itself the two swing, and what is new is taken over in part.
			if off = 0; round < restless {
				p.sys.Lift += min(1, 6/float64(round+1)) * (p.lift - p.speeding - p.sys.Lift)
				off = math.Abs(p.lift - p.speeding - p.sys.Lift)
			}
			pt, err := airflow.OperatingPoint(p.fan, p.sys, c.Inlet, out, c.Pressure)
			if err != nil {
				return err
			}
			pressed = pt.Mass <= 0
			if mass = pt.Mass; pressed { // cold air presses against the fan: at first that may be a guess
				if round > hopeless {
					return p.standing(r, nil)
				}
				mass = p.fan.Most() * air.Density(c.Inlet, c.Pressure) / 100
			}
			p.sys.Near = mass
		}
		st, net, err := p.balance(r, mass, out, warm, settle)
		if err != nil {
			return err
		}
		warm = st
		miss := st.Outlet - out
		left, near := p.warmth.left(), close
		if round > rounds/2 && len(p.near) > 0 { // branches between which warmth moves much of the air come to rest slowly
			near, left = 50*close, left/20
		}
		least := 1e-3*max(math.Abs(p.lift), r.PressureDrop/10) + 1e-6
		if math.Abs(miss) < near && settle <= near && left < least && off < 10*least && !pressed {
			p.powered(r)
			r.fill(p, st, net)
			break
		}
		settle = max(network.Settled, min(0.01, math.Abs(miss)*1e-3))
		if round == rounds {
			if len(p.near) > 0 && math.Abs(miss) < unsettled*math.Abs(out-c.Inlet) {
				p.powered(r)
				r.fill(p, st, net)
				break
			}
			return network.ErrNoBalance
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
	at := c.Inlet
	if d.FanAtHot {
		at = r.Outlet
	}
	r.FanFlow = r.Mass / air.Density(at, c.Pressure)
	return nil
}

// powered sets what the fan takes, and what of it is bought.
func (p *pass) powered(r *Result) {
	r.FanPower = p.fan.Watts()
	r.FanSpeed = p.fan.Speed
	if r.FanSpeed <= 0 {
		r.FanSpeed = 1
	}
	if p.c.Flow > 0 {
		r.FanPower = p.d.Fan.Watts()
	}
	if p.d.Panel == nil && !p.d.Natural {
		r.Bought = r.FanPower
	}
}

// pass is one rating on its way.
type pass struct {
	d   *Description
	c   Conditions
	t   Tuning
	n   *network.Network
	sys airflow.System
	fan airflow.Fan
	// lift is in Pa, of the last balance.
	lift float64
	// speeding is what speeds up the warming air, Pa, of the last balance.
	speeding float64
	// warmth is what warmth adds in single branches between headers, of the last balance, and near are the elements
	// that follow it.
	warmth warmth
	near   []*nearby
	start  *start
	// balances is how many were solved.
	balances int
	// reflected is the sun that leaves again, W/m2.
	reflected float64
	// edge is the sun that the side walls take, W/m2.
	edge   float64
	linked bool
}

// unsettled is the share of the air's warming within which the outlet of branches that swing between a few states is taken as it
// is after the last round: a tenth of what the flow itself is known to.
const unsettled = 0.02

// hopeless is after how many balances a fan against which cold air presses more than it gives is said to move nothing.
const hopeless = 12

// restless is after how many balances of a rating the lifts of branches are left as they are, and what a manifold loses follows the
// power of the flow found last, where they still swing between a few states: air that cools in tubes in which it rises may rest in one
// or in another of them. Without a fan, whose flow is searched by many balances, it is three times that.
const restless = 40

// balance solves the network for a flow and a guess of the outlet.
// The flow of a rating is what leaves the box.
func (p *pass) balance(r *Result, mass, out float64, warm *network.State, settle float64) (*network.State, AirNet, error) {
	d, c, t, n := p.d, p.c, p.t, p.n
	before, in, after := p.sys.Losses(mass, c.Inlet, out, c.Pressure)
	r.PressureDrop = before + in + after
	f := Flow{Mass: mass, Mean: (c.Inlet + out) / 2, P: c.Pressure, Tune: t, First: len(d.Sheets), Segments: d.cells(), Tilt: c.Tilt,
		Height: d.Height, Warmth: p.warmth, start: p.start}
	r.Leak = 0
	if !d.Natural || c.Flow > 0 { // else within a pascal of the room: nothing to drive a leak
		r.BoxPressure = d.leak(&f, mass, before, in, after, c)
		r.Leak = f.LeakIn + f.LeakOut
	}
	net := d.Passages.Air(f)
	if p.linked {
		move(n, net)
	} else {
		d.lay(n, c, t, net)
		p.linked = true
	}
	n.Renew()
	n.Cp = air.Cp(f.Mean)
	st, err := n.Solve(warm, settle)
	if err != nil {
		return nil, net, err
	}
	p.lift, p.speeding = d.liftOf(net, st, c), speedingUp(net, st, c)
	most := restless
	if d.Natural {
		most *= 3
	}
	if p.balances++; p.balances < most {
		p.warmth = d.lifts(net, st, c, &p.warmth)
		for _, n := range p.near {
			n.loss = 0
		}
	} else {
		p.warmth.stop()
	}
	r.PressureDrop += p.speeding
	return st, net, nil
}

// speedingUp is the pressure that the air in the box takes to speed up as it
// warms, Pa: G^2 (1/rho_out - 1/rho_in) along each passage of one cross
// section, G being the mass flow through a square meter. Source: momentum of
// steady flow in a channel.
func speedingUp(net AirNet, st *network.State, c Conditions) (sum float64) {
	rho := func(mix []network.Feed) (density, mass float64) {
		heat := 0.0
		for _, f := range mix {
			mass += f.Mass
			heat += f.Mass * st.Air[f.At][f.From]
		}
		return air.Density(heat/mass, c.Pressure), mass
	}
	before := air.Density(c.Inlet, c.Pressure)
	for i, mix := range net.Along {
		after, mass := rho(mix)
		if a := net.Bore[i]; a > 0 {
			g := mass / a
			sum += g * g * (1/after - 1/before)
		}
		before = after
	}
	return sum
}

// liftOf is the pressure that the warm air in box and riser adds against a
// column of the air drawn in, and wind on an outdoor vent, Pa.
// The warm column counts by the mean density of each step and its climb; steps
// that go down count against it.
func (d *Description) liftOf(net AirNet, st *network.State, c Conditions) float64 {
	rho := air.Density(c.Inlet, c.Pressure)
	rise := d.Height * math.Sin(c.Tilt*math.Pi/180)
	sum := 0.0
	for i, mix := range net.Along {
		mass, heat := 0.0, 0.0
		for _, f := range mix {
			mass += f.Mass
			heat += f.Mass * st.Mean[f.At][f.From]
		}
		if mass > 0 {
			sum += net.Climb[i] * rise * (rho - air.Density(heat/mass, c.Pressure))
		}
	}
	return heattransfer.Gravity*(sum+d.Riser*(rho-air.Density(st.Outlet, c.Pressure))) + airflow.WindPressure(c.Wind, d.VentCp, rho)
}

// natural finds the flow that warmth alone keeps up: the highest at which lift
// and losses agree, which is the stable one. It reports false where there is
// none.
// Below a three-hundredth of a usual flow the air counts as standing. The flow
// is searched in its logarithm, first loosely, then with the network settled.
func (p *pass) natural(r *Result, warm *network.State, start *Result) (bool, error) {
	c := p.c
	out := c.Inlet + 15
	// By night the air cools, and sinks.
	if c.Sun.Total() <= 0 {
		out = (c.Inlet + c.Ambient) / 2
	}
	usual := 0.012 * r.Aperture
	mass := max(usual/300, p.draws(out, usual))
	if start != nil && start.Mass > 0 {
		out, mass = start.Outlet, start.Mass
	}
	search := naturalFlow{pass: p, r: r, warm: warm, out: out}
	x := math.Log(mass)
	f, err := search.excess(mass, false)
	if err != nil {
		return false, err
	}
	lo, flo, hi, fhi, found, err := search.bracket(x, f, math.Log(usual)-leastDraw)
	if err != nil || !found {
		return false, err
	}
	last := false
	if _, err = root.Between(lo, flo, hi, fhi, func(x, width float64) (f float64, enough bool, err error) {
		if f, err = search.excess(math.Exp(x), last); err != nil {
			return 0, false, err
		}
		if last && (math.Abs(f) < 1e-5*max(p.lift, 1e-3) || width < 1e-9) {
			return f, true, nil
		}
		// Within a hundredth of the lift the search asks for settled balances.
		last = last || math.Abs(f) < 1e-2*max(p.lift, 1e-3)
		return f, false, nil
	}); err != nil {
		return false, err
	}
	r.fill(p, search.warm, search.net)
	r.FanFlow = 0
	return true, nil
}

// naturalFlow is the search for the flow that warmth keeps up: the state, air
// and outlet of its last step.
type naturalFlow struct {
	*pass
	r    *Result
	warm *network.State
	net  AirNet
	// out is the outlet temperature of the last try, C.
	out float64
}

// mostTries is how many balances one flow may take until outlet and lifts of branches are as it has them.
const mostTries = 8

// excess is lift less losses at a flow, Pa; a search may be content with the
// outlet of the flow before, the last word follows its own.
func (s *naturalFlow) excess(mass float64, last bool) (float64, error) {
	settle := 5e-2
	if last {
		settle = 1e-6
	}
	tries := 0
	for {
		st, net, err := s.balance(s.r, mass, s.out, s.warm, settle)
		if err != nil {
			return 0, err
		}
		s.warm, s.net = st, net
		miss := math.Abs(st.Outlet - s.out)
		s.out = st.Outlet
		tries++
		left := s.warmth.left()
		settled := miss < 5e-3 && left < 1e-4*math.Abs(s.lift)+1e-9
		loosely := !last && (tries >= mostTries/3 || left < 0.02*math.Abs(s.lift)+1e-6)
		if settled || loosely || tries >= mostTries {
			break
		}
	}
	before, in, after := s.sys.Losses(mass, s.c.Inlet, s.out, s.c.Pressure)
	return s.lift - s.speeding - before - in - after, nil
}

// bracket encloses the highest root of the excess from one flow's, as
// logarithms; found is false where there is none above a least one. Losses grow
// as about the 1.7th power of the flow and the lift falls as its inverse; a
// step over the root by that brackets it, from above where the first flow was
// too high, so that the highest root is found.
func (s *naturalFlow) bracket(x, f, least float64) (lo, flo, hi, fhi float64, found bool, err error) {
	hi, fhi, lo, flo = x, f, x, f
	stride := func(f float64) float64 {
		return max(0.02, min(0.7, 1.3*math.Abs(math.Log(max(1e-6, s.lift)/max(1e-6, s.lift-f)))/2.2))
	}
	for k := 0; fhi > 0 && k < 12; k++ {
		lo, flo = hi, fhi
		hi += stride(fhi)
		if fhi, err = s.excess(math.Exp(hi), false); err != nil {
			return lo, flo, hi, fhi, false, err
		}
	}
	for k := 0; flo <= 0; k++ {
		if k == 16 || lo < least {
			return lo, flo, hi, fhi, false, nil
		}
		hi, fhi = lo, flo
		lo -= stride(flo)
		if flo, err = s.excess(math.Exp(lo), false); err != nil {
			return lo, flo, hi, fhi, false, err
		}
	}
	return lo, flo, hi, fhi, true, nil
}

// leastDraw is how far under a usual flow, as a logarithm, warmth is said to
// move nothing.
const leastDraw = 11.0

// draws is about the flow at which air that comes out at a temperature, C,
// would be lifted as much as it loses, from a first guess, kg/s: where a search
// begins.
func (p *pass) draws(out, guess float64) float64 {
	d, c := p.d, p.c
	rho := air.Density(c.Inlet, c.Pressure)
	rise := d.Height * math.Sin(c.Tilt*math.Pi/180)
	lift := math.Abs(heattransfer.Gravity * (rise*(rho-air.Density((c.Inlet+out)/2, c.Pressure)) +
		d.Riser*(rho-air.Density(out, c.Pressure))))
	m := guess
	for range 8 {
		before, in, after := p.sys.Losses(m, c.Inlet, out, c.Pressure)
		loss := before + in + after
		if lift <= 0 || !(loss > 0) {
			return guess
		}
		step := math.Log(lift/loss) / 1.8
		m *= math.Exp(step)
		if math.Abs(step) < 0.05 {
			break
		}
	}
	return m
}

// BackFlow returns what a box does by night with its fan standing and, if
// shut, its flap closed: cold air falls through it into the room and draws warm
// air after it. Heat is negative; Mass is 0 where nothing moves.
func (d *Description) BackFlow(c Conditions, shut bool) (Result, error) {
	night := *d
	c.Sun = solar.OnPlane{}
	c.Flow, c.NoFlow = 0, false
	forward := night.Passages.Air
	night.Passages.Air = func(f Flow) AirNet { return reversed(forward(f)) }
	bore := airflow.Duct{Diameter: 0.1, Length: 0}
	if len(d.Hot) > 0 {
		if duct, ok := d.Hot[0].(airflow.Duct); ok {
			bore = airflow.Duct{Diameter: duct.Diameter, Area: duct.Area}
		}
	}
	if !d.Natural {
		bore.Fittings += standingFan
	}
	if shut {
		bore.Fittings += sealed
	}
	night.Natural = true
	night.Riser = -d.Riser
	night.Cold, night.Hot = append([]airflow.Element{bore}, d.Hot...), d.Cold
	return night.Rate(c, Tuning{}, nil)
}

// NightLoss is what the air of a [Description.BackFlow] takes out of the room, W. With the intake outdoors the room's air does not come
// back: all that it carries over the outdoor air is lost, since as much of that comes in for it.
func (d *Description) NightLoss(r *Result) float64 {
	if d.FromOutdoors {
		return max(0, r.Mass*r.Cp*(r.Conditions.Inlet-r.Conditions.Ambient))
	}
	return max(0, -r.Heat)
}

// sweptBy says in front of which layers the gap holds running air, not standing
// air: those that share an air node with the layer before them, and screens
// that air crosses.
func sweptBy(airs []network.Air, covers int) map[int]bool {
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

// touches says whether an air node sweeps a layer.
func touches(a network.Air, layer int) bool {
	for _, t := range a.Touches {
		if t.Layer == layer {
			return true
		}
	}
	return false
}

// ToRoom is what is left of the heat behind ducts that lie outdoors, less what
// it takes to warm the outdoor air that replaces in the room what leaks from
// the box, W. What a box under suction draws in by its seams is warmed in the
// box and is missing from its heat.
func (r *Result) ToRoom() float64 { return r.Heat - r.DuctLoss - r.MakeUp }

// Warms is [Result.ToRoom] less what it takes to warm outdoor air that the box
// draws in to the room's temperature, W: below zero the box cools the room. As
// much of the room's air leaves by gaps as the box brings in.
func (r *Result) Warms() float64 { return r.ToRoom() - r.Airing }

// fill reads a solved network into the result.
func (r *Result) fill(p *pass, st *network.State, net AirNet) {
	d, n := p.d, p.n
	c := r.Conditions
	r.state, r.warmth, r.Cp, r.Lift, r.SpeedingUp = st, p.warmth, n.Cp, p.lift, p.speeding
	r.Outlet = st.Outlet
	r.Mass = 0
	for _, f := range n.Outlet {
		r.Mass += f.Mass
	}
	if net.still() {
		r.Mass, r.Outlet, r.Lift, r.SpeedingUp, r.PressureDrop, r.Leak = 0, c.Inlet, 0, 0, 0, 0
	}
	r.Volume = r.Mass / air.Density(c.Inlet, c.pressure())
	given := r.Mass * n.Cp * (r.Outlet - c.Inlet)
	e := d.split(n, st, p.reflected, p.edge)
	e.Air = given
	r.Energy = e
	r.Heat = e.Air + e.Room - r.Bare
	if e.Sun > 0 {
		r.Efficiency = r.Heat / e.Sun
		r.EfficiencyGross = r.Heat / (e.Sun / r.Aperture * r.Gross)
	}
	r.layers(d, n, st, net.still())
	if net.still() {
		return
	}
	r.MakeUp = d.makeUp(n, c)
	if d.FromOutdoors {
		r.Airing = r.Mass * n.Cp * (c.Room - c.Inlet)
	}
	r.DuctLoss = d.outdoors(d.ColdOut, r.Mass, n.Cp, c.Inlet, c.Ambient) + d.outdoors(d.HotOut, r.Mass, n.Cp, r.Outlet, c.Ambient)
	r.AirAlong = []float64{c.Inlet}
	for _, mix := range net.Along {
		mass, sum, hot := 0.0, 0.0, math.Inf(-1)
		for _, f := range mix {
			mass += f.Mass
			sum += f.Mass * st.Air[f.At][f.From]
			for k, l := range r.Layers {
				if l.Kind == AbsorberLayer {
					hot = max(hot, st.Layer[f.At][k])
				}
			}
		}
		r.AirAlong, r.HotAlong = append(r.AirAlong, sum/mass), append(r.HotAlong, hot)
	}
	if d.Passages.Evenness != nil && r.Mass > 0 {
		f := Flow{Mass: r.Mass / d.branching().sideBySide(), Mean: (c.Inlet + r.Outlet) / 2, P: c.pressure(),
			Warmth: d.branching().within(&p.warmth), start: p.start}
		r.Evenness = d.Passages.Evenness(f)
	}
	r.Branches = d.branching().told(p, r, st, net)
}

// split is where the sun on a box goes, W, but for what the air takes up; reflected and edge are W/m2 of aperture.
func (d *Description) split(n *network.Network, st *network.State, reflected, edge float64) Energy {
	area := d.Aperture()
	e := Energy{Reflected: reflected * area, Front: st.Lost[network.Front], Back: st.Lost[network.Back],
		Edge: st.Lost[network.Edge] + edge*area, Room: st.Lost[network.Room], Leak: n.LeakHeat(st)}
	e.Sun = e.Reflected + edge*area
	for _, s := range n.Sun {
		e.Sun += s * area
	}
	return e
}

// makeUp is what it takes to warm outdoor air to the inlet's temperature, as
// much of it as leaks from the box, W. A box that hangs indoors leaks into its
// room.
func (d *Description) makeUp(n *network.Network, c Conditions) (w float64) {
	if d.Indoors {
		return 0
	}
	for _, f := range n.LeakOut {
		w += f.Mass * n.Cp * (c.Inlet - c.Ambient)
	}
	return w
}

// outdoors returns what a duct of a conductance to outdoors loses, W, of air
// that enters it at t: it cools exponentially on its way.
func (d *Description) outdoors(ua, mass, cp, t, ambient float64) float64 {
	if ua <= 0 || mass <= 0 {
		return 0
	}
	return mass * cp * (t - ambient) * (1 - math.Exp(-ua/(mass*cp)))
}

// layers reads the layers' temperatures. In a box whose air stands, warm air
// gathers at the top: a gradient of half the difference between absorber and
// cover over the height, as in a tall cavity with boundary layers, times the
// part of the heat that convection carries. Source: Elder 1965 (recalled from
// memory); it moves no heat in the balance.
func (r *Result) layers(d *Description, n *network.Network, st *network.State, still bool) {
	nc, c := len(d.Sheets), r.Conditions
	gradient := 0.0
	if still && nc > 0 && len(d.Passages.Layers) > 0 {
		hot, cold := st.Layer[0][nc], st.Layer[0][nc-1]
		width := max(0.002, d.Passages.Layers[0].Gap)
		ra := heattransfer.Rayleigh((hot+cold)/2, c.pressure(), hot-cold, width)
		nu := heattransfer.NewCavity(c.Tilt, d.Height/width).Nusselt(ra, hot-cold)
		gradient = max(0, 0.5*(hot-cold)*math.Sin(c.Tilt*math.Pi/180)*(1-1/nu))
	}
	for k := range n.Sun {
		l := LayerTemps{Kind: CoverLayer}
		if k < nc {
			l.Name, l.Material, l.Service = fmt.Sprintf("glazing %d", k+1), d.CoverMaterial[k], d.CoverService[k]
		} else {
			p := d.Passages.Layers[k-nc]
			l = LayerTemps{Name: p.Name, Kind: p.Kind, Material: p.Material, Service: p.Service}
		}
		l.Max = math.Inf(-1)
		up := 0.0
		for i, share := range st.Share {
			t := st.Layer[i][k]
			if still && k >= nc {
				t += gradient * (up + share/2 - 0.5)
			}
			up += share
			l.Along = append(l.Along, t)
			l.Mean += t * share
			l.Max = max(l.Max, t)
		}
		r.Layers = append(r.Layers, l)
	}
	count := 0.0
	r.AbsorberMax = math.Inf(-1)
	for _, l := range r.Layers {
		if l.Kind == AbsorberLayer {
			r.AbsorberMean += l.Mean
			r.AbsorberMax = max(r.AbsorberMax, l.Max)
			count++
		}
	}
	r.AbsorberMean /= count
	if nc > 0 {
		r.CoverOuter = r.Layers[0].Mean
		r.CoverInner = math.Inf(1)
		for _, t := range r.Layers[nc-1].Along {
			r.CoverInner = min(r.CoverInner, t)
		}
	}
}

// pressure is that of the air outdoors, Pa; the sea's where none is given.
func (c Conditions) pressure() float64 {
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

package collector

import (
	"errors"
	"math"

	"gladember/core/air"
	"gladember/core/airflow"
	"gladember/core/design"
	"gladember/core/network"
)

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

// Still returns the box at the same conditions with its fan standing still and
// no air passing: the stagnation state. Source: the same network with the
// passages as closed gaps.
func (d *Description) Still(c Conditions, t Tuning, start *Result) (Result, error) {
	c.NoFlow = true
	return d.Rate(c, t, start)
}

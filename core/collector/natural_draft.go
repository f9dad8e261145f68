package collector

import (
	"math"

	"gladember/core/air"
	"gladember/core/airflow"
	"gladember/core/heattransfer"
	"gladember/core/internal/root"
	"gladember/core/network"
)

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

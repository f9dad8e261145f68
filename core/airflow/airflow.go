// Package airflow finds how much air a fan really moves through a box and its
// ducts.
//
// A system is a run of elements, each losing pressure for a mass flow at its
// own air temperature; a fan gives pressure for a volume flow at its own air
// density. The operating point is where the two meet. Flow is mass flow, kg/s,
// throughout; a volume flow names the air it is meant at.
package airflow

import (
	"errors"
	"fmt"
	"math"

	"gladember/core/air"
	"gladember/core/heattransfer"
	"gladember/core/internal/root"
)

// Friction returns the Darcy friction factor for Reynolds number re and
// relative roughness rough (roughness over hydraulic diameter). Laminar below
// 2000, Colebrook above 4000 (solved to 1e-10) with the section's equivalent
// Reynolds number, straight between.
func Friction(re, rough float64, s heattransfer.Section) float64 {
	lam, eq := s.FrictionRe(), s.TurbulentRe()
	switch {
	case re <= 0:
		return 0
	case re <= 2000:
		return lam / re
	case re >= 4000:
		return colebrook(re*eq, rough)
	}
	w := (re - 2000) / 2000
	return (1-w)*lam/2000 + w*colebrook(4000*eq, rough)
}

// colebrook is the Darcy friction factor of turbulent flow at a Reynolds number
// in a duct of relative roughness. Source: Colebrook (1939); start by Haaland
// (1983).
func colebrook(re, rough float64) float64 {
	// Haaland's explicit form starts, Newton on 1/sqrt(f) ends it.
	x := -1.8 * math.Log10(math.Pow(rough/3.7, 1.11)+6.9/re)
	for range 20 {
		arg := rough/3.7 + 2.51*x/re
		g := x + 2*math.Log10(arg)
		dx := g / (1 + 2*2.51/re/(arg*math.Ln10))
		x -= dx
		if math.Abs(dx) < 1e-10 {
			break
		}
	}
	return 1 / (x * x)
}

// An Element loses pressure. Loss returns Pa (0 or more) for m kg/s of air at
// t C and p Pa.
type Element interface {
	Loss(m, t, p float64) float64
}

// Duct is a straight passage with the fittings in it.
type Duct struct {
	// Diameter is the hydraulic one, m.
	Diameter float64
	// Area is in m2; zero means the round area of Diameter.
	Area float64
	// Length is in m.
	Length float64
	// Roughness is the height of the roughness, m.
	Roughness float64
	// Fittings is the sum of loss coefficients on the velocity pressure.
	Fittings float64
	Section  heattransfer.Section
}

// area is the free area, m2, of a round duct where none is given.
func (d Duct) area() float64 {
	if d.Area > 0 {
		return d.Area
	}
	return math.Pi / 4 * d.Diameter * d.Diameter
}

// Velocity returns the mean speed of m kg/s at t C and p Pa, m/s.
func (d Duct) Velocity(m, t, p float64) float64 { return m / (air.Density(t, p) * d.area()) }

// Loss implements Element by Darcy-Weisbach.
func (d Duct) Loss(m, t, p float64) float64 {
	rho := air.Density(t, p)
	v := m / (rho * d.area())
	re := rho * v * d.Diameter / air.Viscosity(t)
	return (Friction(re, d.Roughness/d.Diameter, d.Section)*d.Length/d.Diameter + d.Fittings) * rho * v * v / 2
}

// Parallel is passages side by side between the same two spaces: they share one
// pressure.
type Parallel []Element

// Split returns the mass flow of each passage, kg/s, for m kg/s in all. The
// passages' losses must grow with flow.
func (ps Parallel) Split(m, t, p float64) []float64 {
	out := make([]float64, len(ps))
	if len(ps) == 1 || m <= 0 {
		for i := range out {
			out[i] = m / float64(len(ps))
		}
		return out
	}
	// Each passage's loss grows as a power of its flow; the powers are learnt
	// from the last two flows, and each flow moves to the common pressure at
	// which all sum to m.
	n := len(ps)
	last, loss, was, power := make([]float64, n), make([]float64, n), make([]float64, n), make([]float64, n)
	for i := range out {
		out[i], power[i] = m/float64(n), 1.5
	}
	for round := range 60 {
		lo, hi := math.Inf(1), 0.0
		for i, e := range ps {
			loss[i] = e.Loss(out[i], t, p)
			lo, hi = min(lo, loss[i]), max(hi, loss[i])
			if x := math.Log(out[i] / last[i]); round > 0 && math.Abs(x) > 1e-9 {
				power[i] = max(0.9, min(2.2, math.Log(loss[i]/was[i])/x))
			}
		}
		if hi-lo <= 1e-9*hi || lo <= 0 {
			break
		}
		copy(last, out)
		copy(was, loss)
		// Newton on the common pressure's logarithm, from the flow-weighted mean.
		dp := 0.0
		for i := range out {
			dp += math.Log(loss[i]) * out[i] / m
		}
		for range 20 {
			sum, slope := -m, 0.0
			for i := range out {
				x := last[i] * math.Exp((dp-math.Log(was[i]))/power[i])
				sum += x
				slope += x / power[i]
			}
			dp -= sum / slope
			if math.Abs(sum) < 1e-12*m {
				break
			}
		}
		sum := 0.0
		for i := range out {
			out[i] = last[i] * math.Exp((dp-math.Log(was[i]))/power[i])
			sum += out[i]
		}
		for i := range out {
			out[i] *= m / sum
		}
	}
	return out
}

// Balance returns the loss coefficients, each on the speed in an area (m2) of
// that path, that dampers must add so that m kg/s split as the shares wish
// (which sum to 1). The path that costs most gets none.
func (ps Parallel) Balance(m, t, p float64, shares, areas []float64) []float64 {
	loss := make([]float64, len(ps))
	most := 0.0
	for i, e := range ps {
		loss[i] = e.Loss(m*shares[i], t, p)
		most = max(most, loss[i])
	}
	rho := air.Density(t, p)
	for i := range loss {
		v := m * shares[i] / (rho * areas[i])
		loss[i] = (most - loss[i]) / (rho * v * v / 2)
	}
	return loss
}

// WindPressure returns what a wind of v m/s presses on a vent of pressure
// coefficient cp in air of density rho, Pa: 0.6 on the face that takes the
// wind, -0.3 in its lee. Source: ASHRAE Fundamentals, airflow around buildings
// (recalled from memory).
func WindPressure(v, cp, rho float64) float64 { return cp * rho * v * v / 2 }

// Loss implements Element.
func (ps Parallel) Loss(m, t, p float64) float64 { return ps[0].Loss(ps.Split(m, t, p)[0], t, p) }

// OrificeLoss returns the loss coefficient, on the speed in the hole, of a
// sharp-edged hole that is a share open of the passage on both sides.
// Source: Idelchik, diagram 4-15 (recalled from memory).
func OrificeLoss(open float64) float64 {
	x := 1 + 0.707*math.Sqrt(max(0, 1-open)) - open
	return x * x
}

// StretchFactor returns how many times the friction of fully stretched flexible
// duct one of diameter d (m) has when pulled to a share of its full length.
// Source: ASHRAE Fundamentals, duct design, compressible flexible duct
// (recalled from memory): 1 + 58 exp(-0.00496 d) (1 - share), d in mm.
func StretchFactor(d, share float64) float64 {
	return 1 + 58*math.Exp(-0.00496*d*1000)*max(0, 1-share)
}

// System is the run of elements on either side of the box, and where the fan
// sits.
type System struct {
	// Cold lies before the box, at the inlet's temperature.
	Cold []Element
	// Box is in the box, at its mean temperature.
	Box []Element
	// Hot lies after the box, at the outlet's temperature.
	Hot []Element
	// FanAtHot says that the fan pulls: it handles outlet air.
	FanAtHot bool
	// Lift is the pressure that warmth adds to the fan's, Pa.
	Lift float64
	// Near is a flow to begin the search from, kg/s; zero for none.
	Near float64
}

// Losses returns the pressure lost before, in and after the box, Pa.
func (s System) Losses(m, cold, hot, p float64) (before, in, after float64) {
	sum := func(es []Element, t float64) (dp float64) {
		for _, e := range es {
			dp += e.Loss(m, t, p)
		}
		return
	}
	return sum(s.Cold, cold), sum(s.Box, (cold+hot)/2), sum(s.Hot, hot)
}

// Point is where fan and system agree.
type Point struct {
	// Mass is in kg/s.
	Mass float64
	// Volume is at the fan, m3/s.
	Volume float64
	// Pressure is what the fan gives, Pa.
	Pressure float64
}

// ErrNoFan is returned for a fan that gives no pressure or no flow.
var ErrNoFan = errors.New("the fan has no free-air flow or no shut-off pressure; give both, or give the flow you measured")

// OperatingPoint returns the flow at which the fan's pressure equals the
// system's losses, for inlet and outlet temperatures in C and pressure p in Pa,
// with the system's lift added. The system's loss must grow with flow, so the
// point is the only one. It is that of no flow where cold air presses more than the fan does.
func OperatingPoint(fan Fan, s System, cold, hot, p float64) (Point, error) {
	t := cold
	if s.FanAtHot {
		t = hot
	}
	rho := air.Density(t, p)
	if !(fan.Most() > 0) || !(fan.Pressure(0, rho) > 0) {
		return Point{}, ErrNoFan
	}
	excess := func(m float64) float64 {
		a, b, c := s.Losses(m, cold, hot, p)
		return fan.Pressure(m/rho, rho) + s.Lift - a - b - c
	}
	lo, hi := 0.0, fan.Most()*rho
	flo, fhi := 0.0, 0.0
	found := false
	if s.Near > 0 {
		const around = 0.02
		flo, fhi = excess(s.Near*(1-around)), excess(s.Near*(1+around))
		if found = flo > 0 && fhi <= 0; found {
			lo, hi = s.Near*(1-around), s.Near*(1+around)
		}
	}
	for k := 0; !found; k++ { // warmth may carry more than the fan's free air
		if fhi = excess(hi); fhi <= 0 {
			flo = excess(lo)
			break
		}
		if hi *= 1.5; k == 20 {
			return Point{}, fmt.Errorf("the system has no resistance at %.4g kg/s; check its duct sizes", hi)
		}
	}
	if !found && flo <= 0 {
		return Point{0, 0, fan.Pressure(0, rho)}, nil
	}
	m, err := root.Between(lo, flo, hi, fhi, func(m, width float64) (float64, bool, error) { // the excess falls all the way
		f := excess(m)
		return f, math.Abs(f) <= 1e-10*(fan.Pressure(0, rho)+math.Abs(s.Lift)) || width <= 1e-13*hi, nil
	})
	if err != nil {
		return Point{}, err
	}
	return Point{m, m / rho, fan.Pressure(m/rho, rho)}, nil
}

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
)

// Shape is the cross section of a passage: it decides the laminar constant.
type Shape int

// Shapes and their laminar f Re (Shah & London 1978).
const (
	Round  Shape = iota // 64
	Slot                // 96, very wide
	Square              // 56.9
)

func (s Shape) laminar() float64 { return [...]float64{64, 96, 56.9}[s] }

// Friction returns the Darcy friction factor for Reynolds number re and
// relative roughness rough (roughness over hydraulic diameter). Laminar below
// 2000, Colebrook above 4000 (solved to 1e-10), straight between.
func Friction(re, rough float64, s Shape) float64 {
	switch {
	case re <= 0:
		return 0
	case re <= 2000:
		return s.laminar() / re
	case re >= 4000:
		return colebrook(re, rough)
	}
	w := (re - 2000) / 2000
	return (1-w)*s.laminar()/2000 + w*colebrook(4000, rough)
}

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
	Diameter  float64 // hydraulic, m
	Area      float64 // m2; zero means the round area of Diameter
	Length    float64 // m
	Roughness float64 // m
	Fittings  float64 // sum of loss coefficients on the velocity pressure
	Shape     Shape
	Sides     float64 // wetted stretch: friction times this; zero means 1
}

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
	stretch := d.Sides
	if stretch == 0 {
		stretch = 1
	}
	return (Friction(re, d.Roughness/d.Diameter, d.Shape)*d.Length/d.Diameter*stretch + d.Fittings) * rho * v * v / 2
}

// Fan is known by its two ends: the flow against nothing and the pressure
// against everything, both at 1.2 kg/m3.
type Fan struct {
	FreeAir float64 // m3/s
	ShutOff float64 // Pa
	Power   float64 // W, taken from the supply
	Radial  bool    // curve of a radial fan; else axial
}

// Standard is the density at which fans are rated, kg/m3.
const Standard = 1.2

// Pressure returns the pressure the fan gives at q m3/s of air of density
// rho, negative beyond free air. A straight line for an axial fan, which lies
// under the humps of real ones; a parabola for a radial fan. The form is
// common practice, no source; u = 10 %.
func (f Fan) Pressure(q, rho float64) float64 {
	x := q / f.FreeAir
	if f.Radial {
		x *= math.Abs(x)
	}
	return f.ShutOff * rho / Standard * (1 - x)
}

// System is the run of elements on either side of the box, and where the fan
// sits.
type System struct {
	Cold     []Element // before the box, at the inlet's temperature
	Box      []Element // in the box, at its mean temperature
	Hot      []Element // after the box, at the outlet's temperature
	FanAtHot bool      // the fan pulls: it handles outlet air
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
	Mass     float64 // kg/s
	Volume   float64 // m3/s at the fan
	Pressure float64 // Pa
}

// ErrNoFan is returned for a fan that gives no pressure or no flow.
var ErrNoFan = errors.New("the fan has no free-air flow or no shut-off pressure; give both, or give the flow you measured")

// OperatingPoint returns the flow at which the fan's pressure equals the
// system's losses, for inlet and outlet temperatures in C and pressure p in
// Pa. The system's loss must grow with flow, so the point is the only one.
func OperatingPoint(fan Fan, s System, cold, hot, p float64) (Point, error) {
	if !(fan.FreeAir > 0) || !(fan.ShutOff > 0) {
		return Point{}, ErrNoFan
	}
	t := cold
	if s.FanAtHot {
		t = hot
	}
	rho := air.Density(t, p)
	excess := func(m float64) float64 {
		a, b, c := s.Losses(m, cold, hot, p)
		return fan.Pressure(m/rho, rho) - a - b - c
	}
	lo, hi := 0.0, fan.FreeAir*rho
	if excess(hi) > 0 {
		return Point{}, fmt.Errorf("the system has no resistance at %.4g kg/s; check its duct sizes", hi)
	}
	// Illinois false position: the excess falls all the way from lo to hi.
	flo, fhi := excess(lo), excess(hi)
	m, side := lo, 0
	for range 100 {
		m = hi - fhi*(hi-lo)/(fhi-flo)
		f := excess(m)
		if math.Abs(f) <= 1e-10*fan.ShutOff || hi-lo <= 1e-13*hi {
			break
		}
		switch {
		case f > 0:
			lo, flo = m, f
			if side > 0 {
				fhi /= 2
			}
			side = 1
		default:
			hi, fhi = m, f
			if side < 0 {
				flo /= 2
			}
			side = -1
		}
	}
	return Point{m, m / rho, fan.Pressure(m/rho, rho)}, nil
}

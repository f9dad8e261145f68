package airflow

import (
	"errors"
	"math"

	"gladember/core/internal/root"
)

// Panel is a photovoltaic panel as its label tells it, at 1,000 W/m2 and 25 C.
type Panel struct {
	// Isc is the short-circuit current, A, and Voc the open-circuit voltage, V.
	Isc, Voc float64
	// Imp and Vmp are current and voltage at the most power, A and V.
	Imp, Vmp float64
	// Cells is how many are in series.
	Cells int
	// Temperature coefficients; zero means crystalline silicon's usual 0.0005
	// and -0.0033 per kelvin of Isc and Voc. Common practice, no source.
	AlphaIsc, BetaVoc float64
}

// Diode is the five-parameter model of a panel. Source: De Soto, Klein &
// Beckman, Solar Energy 80 (2006).
type Diode struct {
	// Light and Saturation are currents, A.
	Light, Saturation float64
	// Series and Shunt are resistances, ohm.
	Series, Shunt float64
	// A is the modified ideality factor, V.
	A float64
	// alpha is the temperature coefficient of the current, A/K.
	alpha float64
}

// ErrPanel is returned for figures no panel has.
var ErrPanel = errors.New("these are no panel's figures; Isc must be above Imp, Voc above Vmp, as its label says")

const (
	boltzmannEV = 8.617333262e-5 // eV/K
	bandGap     = 1.121          // eV, silicon at 25 C
	cellRef     = 298.15         // K
)

// Fit finds the five parameters: short circuit, open circuit, the point of most
// power and its flat top, and the temperature coefficient of Voc.
func (p Panel) Fit() (Diode, error) {
	if !(p.Isc > p.Imp && p.Imp > 0 && p.Voc > p.Vmp && p.Vmp > 0 && p.Cells > 0) {
		return Diode{}, ErrPanel
	}
	al, be := p.AlphaIsc, p.BetaVoc
	if al == 0 {
		al = 0.0005
	}
	if be == 0 {
		be = -0.0033
	}
	// For a and Rs given, short circuit, open circuit and the most-power current
	// are linear in light current, saturation current and shunt conductance.
	fit := func(a, rs float64) (d Diode, slope float64, ok bool) {
		e := func(v float64) float64 { return math.Exp(v/a) - 1 }
		rows := [3][4]float64{
			{1, -e(p.Isc * rs), -p.Isc * rs, p.Isc},
			{1, -e(p.Voc), -p.Voc, 0},
			{1, -e(p.Vmp + p.Imp*rs), -(p.Vmp + p.Imp*rs), p.Imp},
		}
		x, ok := cramer(rows)
		if !ok {
			return d, 0, false
		}
		d = Diode{Light: x[0], Saturation: x[1], Series: rs, Shunt: 1 / x[2], A: a, alpha: al * p.Isc}
		g := x[1]/a*math.Exp((p.Vmp+p.Imp*rs)/a) + x[2]
		return d, p.Imp - p.Vmp*g/(1+g*rs), x[1] > 0
	}
	// The flat top fixes Rs for each a; the more a, the less Rs. A label whose
	// knee is too sharp or too round takes the nearest end.
	best := func(a float64) (Diode, bool) {
		lo, hi := 0.0, (p.Voc-p.Vmp)/p.Imp
		d, s0, ok := fit(a, lo)
		if !ok {
			return d, false
		}
		root.Bisect(lo, hi, 60, func(mid float64) bool {
			m, s, ok := fit(a, mid)
			same := ok && (s > 0) == (s0 > 0)
			if same {
				d = m
			}
			return same
		})
		return d, d.Shunt > 0
	}
	warm := func(d Diode) float64 { // Voc 10 K warmer less what the coefficient says
		return d.open(1000, 35) - p.Voc*(1+be*10)
	}
	var out Diode
	least, found := math.Inf(1), false
	for i := range 60 { // ideality 0.8 to 2 of the cells' thermal voltage
		a := float64(p.Cells) * boltzmannEV * cellRef * (0.8 + 0.02*float64(i))
		if d, ok := best(a); ok && math.Abs(warm(d)) < least {
			out, least, found = d, math.Abs(warm(d)), true
		}
	}
	if !found {
		return out, ErrPanel
	}
	return out, nil
}

// cramer solves three linear equations by determinants; ok is false where they
// have no single solution.
func cramer(r [3][4]float64) (x [3]float64, ok bool) {
	det := func(i, j, k int) float64 {
		return r[0][i]*(r[1][j]*r[2][k]-r[2][j]*r[1][k]) - r[0][j]*(r[1][i]*r[2][k]-r[2][i]*r[1][k]) +
			r[0][k]*(r[1][i]*r[2][j]-r[2][i]*r[1][j])
	}
	d := det(0, 1, 2)
	if d == 0 || math.IsInf(d, 0) || math.IsNaN(d) {
		return x, false
	}
	return [3]float64{det(3, 1, 2) / d, det(0, 3, 2) / d, det(0, 1, 3) / d}, true
}

// at returns the parameters at sun g (W/m2 in the panel's plane) and cell
// temperature t (C).
func (d Diode) at(g, t float64) Diode {
	k := (t + 273.15) / cellRef
	gap := bandGap * (1 - 0.0002677*(t-25))
	s := max(1e-6, g/1000)
	return Diode{
		Light:      s * (d.Light + d.alpha*(t-25)),
		Saturation: d.Saturation * k * k * k * math.Exp(bandGap/(boltzmannEV*cellRef)-gap/(boltzmannEV*(t+273.15))),
		Series:     d.Series, Shunt: d.Shunt / s, A: d.A * k,
	}
}

// Current returns the panel's current, A, at v volts, sun g and cell
// temperature t; it falls with v.
func (d Diode) Current(v, g, t float64) float64 {
	x := d.at(g, t)
	i := x.Light
	for range 60 { // Newton: the residual is convex in i
		e := math.Exp(min(300, (v+i*x.Series)/x.A))
		f := x.Light - x.Saturation*(e-1) - (v+i*x.Series)/x.Shunt - i
		df := -x.Saturation*e*x.Series/x.A - x.Series/x.Shunt - 1
		step := f / df
		i -= step
		if math.Abs(step) < 1e-12 {
			break
		}
	}
	return i
}

// open is the voltage without load in sun g, W/m2, at a cell temperature t, C,
// found by halving.
func (d Diode) open(g, t float64) float64 {
	x := d.at(g, t)
	v, _ := root.Bisect(0, 200*x.A, 80, func(v float64) bool {
		return x.Light-x.Saturation*(math.Exp(min(300, v/x.A))-1)-v/x.Shunt > 0
	})
	return v
}

// Motor is a fan's motor on direct current: its current grows with the square
// of the voltage, since power goes with the cube of the speed and the speed
// with the voltage. Below Stall it stands still. Common practice, no source.
type Motor struct {
	// Volts and Watts are rated.
	Volts, Watts float64
	// Stall is the voltage below which it does not turn, V.
	Stall float64
}

// Run returns the share of full speed at which a motor runs straight off a
// panel in sun g at cell temperature t over wires of resistance ohm, and the
// voltage at the motor. Speed is 0 where the panel cannot start it, at most 1.15.
func (m Motor) Run(d Diode, g, t, ohm float64) (speed, volts float64) {
	if g <= 0 || m.Volts <= 0 {
		return 0, 0
	}
	k := m.Watts / m.Volts / (m.Volts * m.Volts) // A per V^2
	volts, _ = root.Bisect(0, d.open(g, t), 60, func(v float64) bool {
		i := k * v * v
		return d.Current(v+i*ohm, g, t) > i
	})
	if volts < m.Stall {
		return 0, volts
	}
	return min(1.15, volts/m.Volts), volts
}

// Autonomy returns how many days a battery runs the fan without sun: capacity
// Wh of which usable is the share one may take, hours of running a day, fan
// watts and the share of them lost in wires.
func Autonomy(capacity, usable, hours, watts, lost float64) float64 {
	if hours <= 0 || watts <= 0 {
		return math.Inf(1)
	}
	return capacity * usable * (1 - lost) / (hours * watts)
}

package airflow

import (
	"math"
	"sort"

	"gonum.org/v1/gonum/interp"
)

// FanPoint is one row of a fan's table: flow m3/s and pressure Pa at
// [Standard] density.
type FanPoint struct {
	// Flow is in m3/s and Pressure in Pa, at 1.2 kg/m3.
	Flow     float64 `json:"flow_m3_s"`
	Pressure float64 `json:"pressure_pa"`
}

// Fan is known by a table of points, or by its two ends alone: the flow against
// nothing and the pressure against everything, both at 1.2 kg/m3. Several
// equal fans may work beside each other or one behind the other.
type Fan struct {
	// FreeAir is the flow at no pressure, m3/s.
	FreeAir float64
	// ShutOff is the pressure at no flow, Pa.
	ShutOff float64
	// Power is what one fan takes from the supply at full speed, W.
	Power float64
	// Radial takes the usual curve of a blower, else that of an axial fan.
	Radial bool
	// Table takes the place of the usual curve.
	Table []FanPoint
	// Beside is how many are in parallel, and Behind how many in series; zero
	// means one.
	Beside int
	Behind int // fans in series; zero means one
	// Speed is a share of full speed; zero means full.
	Speed float64
	// More is the share by which flow and pressure exceed the curve's.
	More float64

	curve *interp.PiecewiseLinear
	last  FanPoint
}

// Standard is the density at which fans are rated, kg/m3.
const Standard = 1.2

func count(n int) float64 { return max(1, float64(n)) }

// speed is the share of full speed, one where none is given.
func (f Fan) speed() float64 {
	if f.Speed <= 0 {
		return 1
	}
	return f.Speed
}

// Fitted returns the fan with its table ready for use; FreeAir and ShutOff
// become those of the table's ends. A table of under two rows, or one whose
// pressure does not fall, is left out.
func (f Fan) Fitted() Fan {
	rows := append([]FanPoint(nil), f.Table...)
	sort.Slice(rows, func(i, j int) bool { return rows[i].Flow < rows[j].Flow })
	var x, y []float64
	for i, r := range rows {
		if i > 0 && (r.Flow <= rows[i-1].Flow || r.Pressure >= rows[i-1].Pressure) {
			return f
		}
		x, y = append(x, r.Flow), append(y, r.Pressure)
	}
	if len(x) < 2 {
		return f
	}
	var c interp.PiecewiseLinear
	if c.Fit(x, y) != nil {
		return f
	}
	f.curve, f.last = &c, rows[len(rows)-1]
	first, k := rows[0], len(rows)-1
	f.ShutOff = first.Pressure - first.Flow*(rows[1].Pressure-first.Pressure)/(rows[1].Flow-first.Flow)
	slope := (rows[k].Pressure - rows[k-1].Pressure) / (rows[k].Flow - rows[k-1].Flow)
	f.FreeAir = rows[k].Flow - rows[k].Pressure/slope
	return f
}

// one is the pressure of a single fan at full speed and standard density.
func (f Fan) one(q float64) float64 {
	if f.curve != nil {
		first := f.curve.Predict(0) // the table's first row, held below it
		switch lo := f.Table; {
		case q > f.last.Flow:
			return f.last.Pressure * (f.FreeAir - q) / (f.FreeAir - f.last.Flow)
		case q < least(lo):
			return f.ShutOff + (first-f.ShutOff)*q/least(lo)
		}
		return f.curve.Predict(q)
	}
	x := q / f.FreeAir
	if f.Radial {
		x *= math.Abs(x)
	}
	return f.ShutOff * (1 - x)
}

// least is the smallest flow in a table, m3/s.
func least(rows []FanPoint) float64 {
	m := math.Inf(1)
	for _, r := range rows {
		m = min(m, r.Flow)
	}
	return m
}

// Pressure returns the pressure the fan gives at q m3/s of air of density
// rho, negative beyond free air. Without a table: a straight line for an axial
// fan, which lies under the humps of real ones; a parabola for a radial fan.
// The form is common practice, no source; u = 10 %. Speed follows the fan laws.
func (f Fan) Pressure(q, rho float64) float64 {
	n, k := f.speed(), 1+f.More
	return f.one(q/count(f.Beside)/n/k) * k * n * n * count(f.Behind) * rho / Standard
}

// Most returns the flow against nothing, m3/s.
func (f Fan) Most() float64 { return f.FreeAir * f.speed() * (1 + f.More) * count(f.Beside) }

// Watts returns what all fans take together: the cube of the speed.
func (f Fan) Watts() float64 {
	n := f.speed()
	return f.Power * n * n * n * count(f.Beside) * count(f.Behind)
}

package measure

import (
	"math"

	"gonum.org/v1/gonum/stat"
	"gonum.org/v1/gonum/stat/distuv"

	"gladember/core/collector"
)

// Input is a quantity that a result is computed from.
type Input struct {
	// Name is what it is, as a budget of uncertainty calls it.
	Name string
	// Value is the best estimate and U its standard uncertainty, in one unit.
	Value, U float64
}

// Propagate computes a result from inputs, with its standard uncertainty, its 95 % range and
// its budget, the largest part first.
//
// f takes the values in the order of the inputs. r holds the correlation of each pair, nil for
// none. Sensitivities are central differences over one standard uncertainty to each side, as
// JCGM 100:2008 allows in 5.1.3, note 2; they are summed by its equation 16.
//
// A budget of uncertainty answers the builder's question: which instrument is worth
// improving? It is the list of what each input alone does to the result.
func Propagate(f func(x []float64) float64, in []Input, r [][]float64) collector.Band {
	x, c, u := make([]float64, len(in)), make([]float64, len(in)), make([]float64, len(in))
	for i := range in {
		x[i], u[i] = in[i].Value, in[i].U
	}
	var causes []collector.Cause
	for i := range in {
		if u[i] <= 0 {
			continue
		}
		x[i] = in[i].Value + u[i]
		up := f(x)
		x[i] = in[i].Value - u[i]
		c[i] = (up - f(x)) / (2 * u[i])
		x[i] = in[i].Value
		causes = append(causes, collector.Cause{Name: in[i].Name, Effect: c[i] * u[i]})
	}
	b := collector.NewBand(f(x), causes) // sorts the causes
	if r != nil {
		b.U = Combine(c, u, r)
		b.Low, b.High = b.Value-2*b.U, b.Value+2*b.U
	}
	return b
}

// Repeated is the mean of readings and its standard uncertainty: their scatter over the root
// of their number (JCGM 100, 4.2), widened for few readings by the ratio of Student's factor
// at 95 % to 2, and what the instrument itself is uncertain by, in the readings' unit.
func Repeated(readings []float64, instrument float64) (mean, u float64) {
	switch len(readings) {
	case 0:
		return math.NaN(), math.NaN()
	case 1:
		return readings[0], instrument
	}
	mean, sd := stat.MeanStdDev(readings, nil)
	return mean, math.Hypot(stat.StdErr(sd, float64(len(readings)))*student(len(readings)-1)/2, instrument)
}

// student is Student's factor for 95 % two-sided, by degrees of freedom, one at least.
func student(freedom int) float64 {
	return distuv.StudentsT{Sigma: 1, Nu: float64(max(1, freedom))}.Quantile(0.975)
}

// Settled says whether the last readings no longer drift: the line through the last four of
// them moves by no more than tolerance from the first to the last.
func Settled(readings []float64, tolerance float64) bool {
	const last = 4
	if len(readings) < last {
		return false
	}
	_, slope := stat.LinearRegression([]float64{0, 1, 2, 3}, readings[len(readings)-last:], nil, false)
	return math.Abs(slope)*(last-1) <= tolerance
}

package measure

import (
	"errors"
	"math"
	"slices"
	"time"
)

// Beside is what two heaters gave over the same time.
//
// Two heaters are compared fairly only over the time in which both were logged, and by what a
// square meter of glass gave: the larger box would win without being the better one.
type Beside struct {
	// From and To bound the time in which both have readings.
	From, To time.Time
	// A and B are the heats over that time, kWh, with their standard uncertainties.
	A, B   float64
	UA, UB float64 // kWh
	// PerArea are the heats of a square meter of glass, kWh/m2, and UPerArea their standard
	// uncertainties.
	PerArea, UPerArea [2]float64
	// Ratio is A's heat per area over B's, and Low and High its 95 % range; NaN where B gave
	// nothing.
	Ratio, Low, High float64
	// Telling says that the range leaves out 1: one of them gave more. Anything else is a tie.
	Telling bool
	// Refused says of A and B that the log shows more heat than the sun gave, so that no ratio is
	// given.
	Refused [2]bool
}

// Range is the 95 % range of the heat per area of A, number 0, or B, number 1, kWh/m2.
func (x *Beside) Range(of int) (low, high float64) {
	return max(0, x.PerArea[of]-2*x.UPerArea[of]), x.PerArea[of] + 2*x.UPerArea[of]
}

// ErrApart is returned for two logs that have no hour in common.
var ErrApart = errors.New("the two were not logged at the same time")

// leastTogether is the least time that says anything of two heaters.
const leastTogether = 30 * time.Minute

// SideBySide compares two logs, each judged by its own setup. Airflow and probes of the two are
// taken to err independently, which is the wider range: with one meter for both, what it reads
// too much cancels. A ratio of two uncertain figures has the relative uncertainty sqrt(ua^2 +
// ub^2), source: JCGM 100:2008, 5.1.6.
func SideBySide(a, b []Sample, sa, sb Setup) (Beside, error) {
	var x Beside
	a, _, _ = Clean(a)
	b, _, _ = Clean(b)
	if len(a) == 0 || len(b) == 0 {
		return x, ErrApart
	}
	x.From, x.To = a[0].At, a[len(a)-1].At
	if b[0].At.After(x.From) {
		x.From = b[0].At
	}
	if end := b[len(b)-1].At; end.Before(x.To) {
		x.To = end
	}
	if x.To.Sub(x.From) < leastTogether {
		return x, ErrApart
	}
	a, b = between(a, x.From, x.To), between(b, x.From, x.To)
	a, b = outside(a, holes(b)), outside(b, holes(a))
	ra, err := Analyze(a, sa)
	if err != nil {
		return x, err
	}
	rb, err := Analyze(b, sb)
	if err != nil {
		return x, err
	}
	x.A, x.UA, x.B, x.UB = ra.Heat, ra.U, rb.Heat, rb.U
	x.PerArea = [2]float64{x.A / sa.Area, x.B / sb.Area}
	x.UPerArea = [2]float64{x.UA / sa.Area, x.UB / sb.Area}
	x.Ratio, x.Low, x.High = math.NaN(), math.NaN(), math.NaN()
	x.Refused = [2]bool{ra.Refused, rb.Refused}
	if x.A > 0 && x.B > 0 && !ra.Refused && !rb.Refused {
		x.Ratio = x.PerArea[0] / x.PerArea[1]
		u := x.Ratio * math.Hypot(x.UA/x.A, x.UB/x.B)
		x.Low, x.High = max(0, x.Ratio-2*u), x.Ratio+2*u
		x.Telling = x.Low > 1 || x.High < 1
	}
	return x, nil
}

// holes are the gaps of a log.
func holes(s []Sample) (out []Gap) {
	longest := Longest(interval(s))
	for i := 1; i < len(s); i++ {
		if s[i].At.Sub(s[i-1].At) > longest {
			out = append(out, Gap{s[i-1].At, s[i].At})
		}
	}
	return out
}

// outside leaves out the readings that lie within the gaps of another log, whose heat then has
// nothing beside it.
func outside(s []Sample, gaps []Gap) []Sample {
	if len(gaps) == 0 {
		return s
	}
	return slices.DeleteFunc(slices.Clone(s), func(x Sample) bool {
		return slices.ContainsFunc(gaps, func(g Gap) bool { return x.At.After(g.From) && x.At.Before(g.To) })
	})
}

// between picks readings from one instant to another, both included.
func between(s []Sample, from, to time.Time) []Sample {
	lo, _ := slices.BinarySearchFunc(s, from, func(x Sample, t time.Time) int { return x.At.Compare(t) })
	hi, _ := slices.BinarySearchFunc(s, to.Add(1), func(x Sample, t time.Time) int { return x.At.Compare(t) })
	return s[lo:hi]
}

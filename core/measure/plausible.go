package measure

import (
	"fmt"
	"math"
	"time"

	"gladember/core/units"
)

// Quantity is one of the quantities of a [Sample].
type Quantity struct {
	// ID is its name in files and forms, and stays.
	ID string
	// Name is as a person reads it.
	Name string
	Kind units.Kind
	// Low and High bound what it can be; see [Sample.Plausible].
	Low, High float64
	// Of finds it in a reading.
	Of func(*Sample) *float64
}

// Quantities are those of a [Sample], in the order of its fields. Air in a box
// that works lies far inside the limits; what loggers write for a missing or
// broken probe (-127, -999, 9999) lies outside. The limits are our judgment:
// 300 C is above what any part of a box bears, 1,800 W/m2 above the brightest
// sun between clouds with a mirror beside the glass.
var Quantities = [...]Quantity{
	{"inlet", "inlet", units.Temperature, -60, 300, func(s *Sample) *float64 { return &s.Inlet }},
	{"outlet", "outlet", units.Temperature, -60, 300, func(s *Sample) *float64 { return &s.Outlet }},
	{"outdoor", "outdoor", units.Temperature, -70, 60, func(s *Sample) *float64 { return &s.Outdoor }},
	{"sun", "sun", units.Irradiance, -20, 1800, func(s *Sample) *float64 { return &s.Sun }},
	{"speed", "air speed", units.Speed, 0, 60, func(s *Sample) *float64 { return &s.Speed }},
}

// Missing is a reading in which nothing was measured.
func Missing(at time.Time) Sample {
	s := Sample{At: at}
	for _, q := range Quantities {
		*q.Of(&s) = math.NaN()
	}
	return s
}

// Implausible is a value that its quantity cannot have.
type Implausible struct {
	*Quantity
	// Value is what was read.
	Value float64
}

// In says what is wrong in a person's units.
func (i Implausible) In(u units.System) string {
	const longest = 1e5 // above it the digits say nothing
	value := units.Format(i.Kind, math.Copysign(min(math.Abs(i.Value), longest), i.Value), u)
	if math.Abs(i.Value) > longest {
		value = "beyond " + value
	}
	return fmt.Sprintf("%s %s is a fault code or out of range (%s to %s)", i.Name, value, units.Figure(i.Kind, i.Low, u),
		units.Format(i.Kind, i.High, u))
}

// Plausible returns a sample in which what its quantities cannot be is NaN, as
// if it had not been measured, and those values.
func (s Sample) Plausible() (Sample, []Implausible) {
	var out []Implausible
	for i := range Quantities {
		q := &Quantities[i]
		if v := q.Of(&s); *v < q.Low || *v > q.High {
			out = append(out, Implausible{q, *v})
			*v = math.NaN()
		}
	}
	return s, out
}

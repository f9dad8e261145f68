package simulate

import (
	"math"
	"sort"
	"time"

	"gladember/core/collector"
	"gladember/core/design"
	"gladember/core/measure"
	"gladember/core/solar"
)

// Recorded is the weather that a log tells of, between and beyond its readings:
// the air outdoors and at the inlet, and the sun on the glass in the directions
// of a clear sky. What the log does not hold is the heater's own noon for the
// air, and a clear sky for the sun. The samples must be in the order of time.
func Recorded(h *design.Heater, s []measure.Sample) Weather {
	return func(at time.Time) collector.Conditions {
		c := collector.ConditionsAt(h, at)
		i := sort.Search(len(s), func(i int) bool { return !s[i].At.Before(at) })
		if len(s) == 0 {
			return c
		}
		a, b := &s[max(0, i-1)], &s[min(i, len(s)-1)]
		f := 0.0
		if span := b.At.Sub(a.At); span > 0 {
			f = max(0, min(1, float64(at.Sub(a.At))/float64(span)))
		}
		mix := func(x, y, none float64) float64 {
			switch {
			case math.IsNaN(x) && math.IsNaN(y):
				return none
			case math.IsNaN(x):
				return y
			case math.IsNaN(y):
				return x
			}
			return x + (y-x)*f
		}
		c.Ambient = mix(a.Outdoor, b.Outdoor, c.Ambient)
		c.Inlet = mix(a.Inlet, b.Inlet, c.Inlet)
		c.Sky = solar.Swinbank(c.Ambient)
		clearSky := c.Sun.Total()
		if sun := max(0, mix(a.Sun, b.Sun, clearSky)); clearSky > 1 {
			c.Sun = c.Sun.Dimmed(sun / clearSky)
		} else {
			c.Sun = solar.OnPlane{Sky: sun}
		}
		return c
	}
}

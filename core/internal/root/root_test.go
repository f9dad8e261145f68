package root

import (
	"errors"
	"math"
	"math/rand/v2"
	"testing"
)

// Roots of cubics by chance, rising and falling, are found to a billionth in a few rounds; an error
// ends the search.
func TestBetween(t *testing.T) {
	r := rand.New(rand.NewPCG(3, 7))
	for range 500 {
		at, bend, slope := 4*r.Float64()-2, 3*r.Float64(), 0.1+r.Float64()
		if r.IntN(2) == 0 {
			bend, slope = -bend, -slope
		}
		y := func(x float64) float64 { return slope*(x-at) + bend*math.Pow(x-at, 3) }
		n := 0
		x, err := Between(-3, y(-3), 3, y(3), func(x, _ float64) (float64, bool, error) {
			n++
			v := y(x)
			return v, math.Abs(v) < 1e-12, nil
		})
		if err != nil || math.Abs(x-at) > 1e-9 || n > 40 {
			t.Errorf("%v after %d rounds, the root is %v: %v", x, n, at, err)
		}
	}
	wrong := errors.New("no")
	if _, err := Between(0, -1, 1, 1, func(float64, float64) (float64, bool, error) { return 0, false, wrong }); err != wrong {
		t.Error(err)
	}
}

// Halving brackets a bound ever closer, from both sides.
func TestBisect(t *testing.T) {
	for rounds, width := range map[int]float64{0: 3, 1: 1.5, 10: 3 / 1024.0, 60: 1e-15} {
		below, above := Bisect(0, 3, rounds, func(x float64) bool { return x*x < 2 })
		if below*below > 2 || above*above < 2 || above-below > width {
			t.Errorf("after %d rounds %v to %v", rounds, below, above)
		}
	}
}

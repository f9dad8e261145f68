package airflow

import (
	"math"
	"math/rand/v2"
	"testing"

	"gladember/core/air"
)

// vents is a branch that loses k rho/2 v2 in an area.
func vents(k, area float64) Duct {
	return Duct{Diameter: math.Sqrt(4 * area / math.Pi), Area: area, Fittings: k}
}

// pressures are those in both headers at each branch over the outlet's, Pa, by Bernoulli from the inlet on, written out for
// this test: a branch feels what stands behind it with the outlet at the inlet's end, else what stands before it.
func pressures(f Manifold, flows []float64, m, loss float64) (before, behind []float64) {
	rho := air.Density(30, air.SeaLevel)
	a := f.Duct.area()
	half := func(x float64) float64 { return x * x / (2 * rho * a * a) }
	rub := func(x float64) float64 { return f.Duct.Loss(math.Abs(x), 30, air.SeaLevel) }
	n := len(flows)
	pd, v := loss-f.Entry*half(m), m
	if f.Wide {
		pd = loss
	}
	for i, x := range flows {
		won := 0.0
		if !f.Wide {
			won = Dividing * (half(v) - half(v-x))
		}
		if f.OtherSide {
			before = append(before, pd)
		} else {
			before = append(before, pd+won)
		}
		if pd += won; i < n-1 && !f.Wide {
			pd -= rub(v - x)
		}
		v -= x
	}
	behind = make([]float64, n)
	pc, w := 0.0, m
	for k := range n { // from the outlet back
		i := k
		if f.OtherSide {
			i = n - 1 - k
		}
		lost := Combining * (half(w) - half(w-flows[i]))
		behind[i] = pc + lost
		pc += lost
		if w -= flows[i]; k < n-1 {
			pc += rub(w)
		}
	}
	return before, behind
}

// Every branch's own loss, less its lift, is the difference that the headers leave it; of one that is dead the headers would push
// the air backwards. The shares sum to one however low the headers are, and no flow is missed.
func TestManifoldPressuresAgree(t *testing.T) {
	r := rand.New(rand.NewPCG(7, 15))
	dead := 0
	for range 600 {
		n := 1 + r.IntN(20)
		f := Manifold{Kinds: []Element{vents(3+5*r.Float64(), 0.01), Duct{Diameter: 0.05, Area: 0.01, Length: 2, Fittings: 2}},
			Duct: Duct{Diameter: 0.05 + 0.25*r.Float64(), Length: 1.2 * r.Float64(), Roughness: 0.1e-3},
			Stub: 0.012, OtherSide: r.IntN(2) == 0, Wide: r.IntN(4) == 0, Entry: float64(r.IntN(2))}
		for range n {
			f.Order = append(f.Order, r.IntN(2))
		}
		m := 0.02 * float64(n) * (0.1 + r.Float64())
		var lift Lift
		if r.IntN(2) == 0 {
			lift.Of = func(kind int, x float64) float64 { return 2 * math.Exp(-20*x) }
		}
		flows, loss := f.Split(m, 30, air.SeaLevel, lift, nil)
		sum := 0.0
		for _, x := range flows {
			sum += x
		}
		within(t, "all the air", sum, m, 1e-9)
		before, behind := pressures(f, flows, m, loss)
		for i, x := range flows {
			need := 0.0
			if lift.Of != nil {
				need = -lift.Of(0, max(0, x))
			}
			if x < 1e-3*m/float64(n) {
				dead++
				if before[i]-behind[i] > need+0.02*loss+1e-3 {
					t.Errorf("branch %d of %d is dead at a difference of %v Pa", i, n, before[i]-behind[i])
				}
				continue
			}
			need += f.Kinds[f.Order[i]].Loss(x, 30, air.SeaLevel)
			if has := before[i] - behind[i]; math.Abs(need-has) > 0.03*(math.Abs(loss)+math.Abs(need))+2e-3 {
				t.Errorf("branch %d of %d needs %v Pa and has %v", i, n, need, has)
			}
		}
	}
	if dead < 20 {
		t.Errorf("only %d dead branches were met", dead)
	}
}

// Two branches by hand: a U-shaped pair without friction whose loss is k q^2 on the area of the header. With x the share of
// the first, k x^2 - k (1-x)^2 = (2.66 - 1.05) (1-x)^2. And a Z-shaped one, whose second header pulls at its end:
// k x^2 - k (1-x)^2 = -1.05 (1 - (1-x)^2) - 2.66 x^2. And both behind a space so wide that only the second header counts.
func TestTwoBranchesByHand(t *testing.T) {
	const area, k = 0.01, 5.0
	for _, x := range []struct {
		other, wide bool
		miss        func(x, y float64) float64 // y is the second one's share
	}{
		{false, false, func(x, y float64) float64 { return k*x*x - k*y*y - (Combining-Dividing)*y*y }},
		{true, false, func(x, y float64) float64 { return k*x*x - k*y*y + Dividing*(1-y*y) + Combining*x*x }},
		{false, true, func(x, y float64) float64 { return k*x*x - k*y*y - Combining*y*y }},
		{true, true, func(x, y float64) float64 { return k*x*x - k*y*y + Combining*x*x }},
	} {
		f := Manifold{Kinds: []Element{vents(k, area)}, Order: []int{0, 0}, Duct: Duct{Diameter: 0.1, Area: area}, OtherSide: x.other,
			Wide: x.wide}
		flows, _ := f.Split(0.1, 30, air.SeaLevel, Lift{}, nil)
		lo, hi := 0.0, 1.0
		for range 60 {
			if mid := (lo + hi) / 2; x.miss(mid, 1-mid) > 0 {
				hi = mid
			} else {
				lo = mid
			}
		}
		within(t, "the first branch's share", flows[0]/0.1, lo, 0.004)
	}
}

// Orifices even out fifty rows of unlike branches: with bores rounded to the millimeter the least
// branch gets over 0.95 of what it should, and one branch has none.
func TestOrificesEvenRowsOut(t *testing.T) {
	r := rand.New(rand.NewPCG(50, 95))
	before := 0
	for range 50 {
		n := 2 + r.IntN(11)
		stub := math.Pi / 4 * 0.125 * 0.125
		f := Manifold{Duct: Duct{Diameter: 0.15 + 0.2*r.Float64(), Length: 0.8 + r.Float64(), Roughness: 0.15e-3}, Stub: stub,
			OtherSide: r.IntN(2) == 0}
		wish, sum := make([]float64, n), 0.0
		size := []float64{1, 0.5 + r.Float64()}
		for i := range n {
			k := r.IntN(2)
			f.Order = append(f.Order, k)
			wish[i] = size[k]
			sum += size[k]
		}
		f.Kinds = []Element{Duct{Diameter: 0.05, Area: 0.02, Length: 2, Fittings: 2 + 3*r.Float64()},
			Duct{Diameter: 0.04, Area: 0.02 * size[1], Length: 1 + r.Float64(), Fittings: 2 + 3*r.Float64()}}
		for i := range wish {
			wish[i] /= sum
		}
		m := 0.03 * sum
		least := func() float64 {
			flows, _ := f.Split(m, 30, air.SeaLevel, Lift{}, nil)
			e := math.Inf(1)
			for i, x := range flows {
				e = min(e, x/m/wish[i])
			}
			return e
		}
		if least() < 0.95 {
			before++
		}
		f.Extra = f.Balance(m, 30, air.SeaLevel, wish)
		none := 0
		for i, k := range f.Extra {
			bore := math.Round(OrificeBore(k, stub)*1000) / 1000
			if k <= 0 {
				none++
				continue
			}
			open := bore * bore / (0.125 * 0.125)
			f.Extra[i] = OrificeLoss(open) / open / open
		}
		if e := least(); e < 0.95 || none == 0 {
			t.Errorf("%d branches, header %.0f mm: evenness %.3f, %d without an orifice", n, 1000*f.Duct.Diameter, e, none)
		}
	}
	if before < 15 {
		t.Errorf("only %d of 50 rows were uneven", before)
	}
}

// More air costs more pressure; a wider header comes nearer to equal shares.
func TestManifoldGrows(t *testing.T) {
	f := Manifold{Kinds: []Element{vents(3, 0.01)}, Order: make([]int, 6), Duct: Duct{Diameter: 0.15, Length: 1, Roughness: 0.15e-3}}
	last := 0.0
	for m := 0.01; m < 0.4; m *= 1.5 {
		if dp := f.Loss(m, 30, air.SeaLevel); dp <= last {
			t.Errorf("%v kg/s lose %v Pa, less lost %v", m, dp, last)
		} else {
			last = dp
		}
	}
	spread := math.Inf(1)
	for _, d := range []float64{0.15, 0.2, 0.3, 0.6} {
		f.Duct.Diameter = d
		flows, _ := f.Split(0.2, 30, air.SeaLevel, Lift{}, nil)
		s := 0.0
		for _, x := range flows {
			s = max(s, math.Abs(x*6/0.2-1))
		}
		if s >= spread {
			t.Errorf("%v m header is less even", d)
		}
		spread = s
	}
	if spread > 0.01 {
		t.Errorf("a 600 mm header leaves %v", spread)
	}
}

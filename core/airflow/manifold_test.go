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

// Ten equal branches share out as the header of ten does, on either side.
func TestManifoldOfTenIsTheHeader(t *testing.T) {
	for _, other := range []bool{false, true} {
		const area, branch, k = 0.03, 0.012, 4.0
		h := Header{Branches: 10, Area: area, Branch: branch, Loss: k, OtherSide: other}
		m := Manifold{Kinds: []Element{vents(k, branch)}, Order: make([]int, 10), Duct: Duct{Diameter: math.Sqrt(4 * area / math.Pi),
			Area: area}, OtherSide: other}
		flows, _ := m.Split(0.25, 40, air.SeaLevel)
		for i, s := range h.Shares() {
			within(t, "branch", flows[i]/0.25, s, 1e-4)
		}
	}
}

// Every branch's own loss is the difference that the headers leave it, by Bernoulli along both;
// the pressure lost in all is that of any way through.
func TestManifoldPressuresAgree(t *testing.T) {
	r := rand.New(rand.NewPCG(7, 15))
	for range 60 {
		n := 2 + r.IntN(9)
		f := Manifold{Kinds: []Element{vents(3+5*r.Float64(), 0.01), Duct{Diameter: 0.05, Area: 0.01, Length: 2, Fittings: 2}},
			Duct: Duct{Diameter: 0.15 + 0.15*r.Float64(), Length: 1.2, Roughness: 0.1e-3},
			Stub: 0.012, OtherSide: r.IntN(2) == 0}
		for range n {
			f.Order = append(f.Order, r.IntN(2))
		}
		m := 0.02 * float64(n) * (0.5 + r.Float64())
		flows, loss := f.Split(m, 30, air.SeaLevel)
		sum := 0.0
		for _, x := range flows {
			sum += x
		}
		within(t, "all the air", sum, m, 1e-9)
		rho := air.Density(30, air.SeaLevel)
		a := f.Duct.area()
		half := func(x float64) float64 { return x * x / (2 * rho * a * a) }
		// Pressures along both headers over the outlet's, from the inlet on.
		into, out := m, 0.0
		if !f.OtherSide {
			out = m
		}
		pd, pc := loss, 0.0
		if f.OtherSide { // the combining header begins at its dead end: find its pressure there from the outlet back
			w := m
			for i := n - 1; i >= 0; i-- {
				pc += f.Duct.Loss(w, 30, air.SeaLevel) + Combining*(half(w)-half(w-flows[i]))
				w -= flows[i]
			}
		}
		for i := range n {
			if !f.OtherSide {
				pd -= f.Duct.Loss(into, 30, air.SeaLevel) - Dividing*(half(into)-half(into-flows[i]))
				pc += f.Duct.Loss(out, 30, air.SeaLevel) + Combining*(half(out)-half(out-flows[i]))
				out -= flows[i]
				into -= flows[i]
			}
			if flows[i] > 0.05*m/float64(n) {
				within(t, "difference at a branch, Pa", f.Kinds[f.Order[i]].Loss(flows[i], 30, air.SeaLevel), pd-pc, 0.01*loss)
			}
			if f.OtherSide {
				pd += Dividing * (half(into) - half(into-flows[i]))
				into -= flows[i]
				pd -= f.Duct.Loss(math.Abs(into), 30, air.SeaLevel)
				pc -= f.Duct.Loss(out+flows[i], 30, air.SeaLevel) + Combining*(half(out+flows[i])-half(out))
				out += flows[i]
			}
		}
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
			flows, _ := f.Split(m, 30, air.SeaLevel)
			e := math.Inf(1)
			for i, x := range flows {
				e = math.Min(e, x/m/wish[i])
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
		flows, _ := f.Split(0.2, 30, air.SeaLevel)
		s := 0.0
		for _, x := range flows {
			s = math.Max(s, math.Abs(x*6/0.2-1))
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

package network

import (
	"fmt"
	"math"
	"math/rand/v2"
	"testing"

	"gonum.org/v1/gonum/mat"
)

const segments = 8

func within(t *testing.T, what string, got, want, share float64) {
	t.Helper()
	if !(math.Abs(got-want) <= share*math.Abs(want)) {
		t.Errorf("%s = %.6g, want %.6g within %.2g %%", what, got, want, share*100)
	}
}

// always is a touch with a constant coefficient.
func always(layer int, h float64) Touch {
	return Touch{Layer: layer, H: func(_, _ float64) float64 { return h }}
}

// stream is the feeds of m kg/s that runs from the first segment to the last.
func stream(self int, m float64) (feeds [][]Feed) {
	for i := range segments {
		f := Feed{From: self, At: i - 1, Mass: m}
		if i == 0 {
			f = Feed{From: FromInlet, Mass: m}
		}
		feeds = append(feeds, []Feed{f})
	}
	return feeds
}

func fixed(g float64) func(_, _ float64) float64 { return func(_, _ float64) float64 { return g } }

// Hottel-Whillier-Bliss for a back-pass plate with constant coefficients, D&B
// section 6.14: F' = 1/(1 + UL/(h1 + 1/(1/h2 + 1/hr))), then FR and outlet.
func TestFlatPlateTheory(t *testing.T) {
	const (
		area, s, ul, h1, h2, hr = 2.0, 700.0, 6.5, 12.0, 12.0, 6.0
		ta, ti, m, cp           = 5.0, 18.0, 0.035, 1007.0
	)
	n := Network{Segments: segments, Area: area, Sun: []float64{s, 0}, Cp: cp, Inlet: ti, Outside: [Outsides]float64{ta, ta, ta},
		Links:  []Link{{A: 0, To: Ambient, Role: Front, G: fixed(ul)}, {A: 0, B: 1, G: fixed(hr)}},
		Airs:   []Air{{Feeds: stream(0, m), Touches: []Touch{always(0, h1), always(1, h2)}}},
		Outlet: []Feed{{From: 0, At: segments - 1, Mass: m}}}
	st, err := n.Solve(nil, Settled)
	if err != nil {
		t.Fatal(err)
	}
	fp := 1 / (1 + ul/(h1+1/(1/h2+1/hr)))
	fr := m * cp / (area * ul) * (1 - math.Exp(-area*ul*fp/(m*cp)))
	q := area * fr * (s - ul*(ti-ta))
	within(t, "useful heat", m*cp*(st.Outlet-ti), q, 0.005)
	within(t, "outlet", st.Outlet, ti+q/(m*cp), 0.005)
	// F' from the network's own mean temperatures.
	tf := ti + q/area/(fr*ul)*(1-fr/fp)
	within(t, "F'", m*cp*(st.Outlet-ti)/area/(s-ul*(tf-ta)), fp, 0.005)
}

// A double pass: down one side of a plate and back up the other, against the
// boundary-value problem solved by a matrix exponential (gonum mat.Dense.Exp).
func TestCounterflowMatrixExponential(t *testing.T) {
	const (
		area, s, u, h1, h2 = 1.6, 650.0, 4.0, 9.0, 15.0
		ta, ti, m, cp      = 0.0, 16.0, 0.03, 1007.0
	)
	up := make([][]Feed, segments)
	for i := range segments {
		up[i] = []Feed{{From: 1, At: i + 1, Mass: m}}
	}
	up[segments-1] = []Feed{{From: 0, At: segments - 1, Mass: m}}
	n := Network{Segments: segments, Area: area, Sun: []float64{s}, Cp: cp, Inlet: ti, Outside: [Outsides]float64{ta, ta, ta},
		Links:  []Link{{A: 0, To: Ambient, Role: Front, G: fixed(u)}},
		Airs:   []Air{{Feeds: stream(0, m), Touches: []Touch{always(0, h1)}}, {Feeds: up, Touches: []Touch{always(0, h2)}}},
		Outlet: []Feed{{From: 1, At: 0, Mass: m}}}
	st, err := n.Solve(nil, Settled)
	if err != nil {
		t.Fatal(err)
	}
	// d/dx (T1, T2, 1) with the plate eliminated; x from 0 to the whole area.
	c, w := m*cp, u+h1+h2
	a := mat.NewDense(3, 3, []float64{
		area * h1 / c * (h1/w - 1), area * h1 / c * h2 / w, area * h1 / c * (s + u*ta) / w,
		-area * h2 / c * h1 / w, -area * h2 / c * (h2/w - 1), -area * h2 / c * (s + u*ta) / w,
		0, 0, 0})
	var e mat.Dense
	e.Exp(a)
	// T1(L) = T2(L) fixes T2(0).
	d := func(j int) float64 { return e.At(0, j) - e.At(1, j) }
	t20 := -(d(0)*ti + d(2)) / d(1)
	within(t, "outlet", st.Outlet, t20, 0.005)
	within(t, "heat", st.Outlet-ti, t20-ti, 0.005)
}

// random is a network of some layers in a chain from a cover to a back, with air that sweeps some of them, and
// radiation that grows with the temperatures.
func random(r *rand.Rand) *Network {
	u := func(lo, hi float64) float64 { return lo + (hi-lo)*r.Float64() }
	layers := 2 + r.IntN(4)
	n := &Network{Segments: 2 + r.IntN(9), Area: u(0.3, 4), Inlet: u(-5, 30), Cp: 1007,
		Outside: [Outsides]float64{u(-20, 25), u(-40, 5), u(5, 25)}}
	g := func(a float64) func(ta, tb float64) float64 {
		return func(ta, tb float64) float64 { return a * (1 + math.Abs(ta+tb)/600) }
	}
	for i := range layers {
		n.Sun, n.Store = append(n.Sun, u(0, 400)), append(n.Store, u(500, 9000))
		if i > 0 {
			n.Links = append(n.Links, Link{A: i - 1, B: i, G: g(u(1, 12))})
		}
	}
	n.Links = append(n.Links, Link{A: 0, To: Ambient, Role: Front, G: g(u(2, 30))}, Link{A: 0, To: SkyDome, Role: Front, G: g(u(1, 6))},
		Link{A: layers - 1, To: Indoors, Role: Back, G: g(u(0.2, 3))})
	m := u(0.005, 0.08)
	air := Air{}
	for i := range n.Segments {
		f := Feed{From: 0, At: i - 1, Mass: m}
		if i == 0 {
			f.From = FromInlet
		}
		air.Feeds = append(air.Feeds, []Feed{f})
	}
	air.Touches = []Touch{always(layers/2, u(2, 40)), always(layers-1, u(2, 40))}
	if layers/2 == layers-1 {
		air.Touches = air.Touches[:1]
	}
	n.Airs, n.Outlet = []Air{air}, []Feed{{From: 0, At: n.Segments - 1, Mass: m}}
	return n
}

// given is the heat that the air carries off, and lost what leaves by links, W.
func given(n *Network, st *State) (w float64) {
	for _, f := range n.Outlet {
		w += f.Mass * n.Cp * (st.Air[f.At][f.From] - n.Inlet)
	}
	return w
}

func sum(vs ...float64) (s float64) {
	for _, v := range vs {
		s += v
	}
	return s
}

// The sun on any network is what the air carries off and what links lose; air without flow carries nothing; more sun
// leaves no layer colder.
func TestEnergyOfRandomNetworks(t *testing.T) {
	r := rand.New(rand.NewPCG(7, 11))
	for i := range 500 {
		n := random(r)
		st, err := n.Solve(nil, Settled)
		if err != nil {
			t.Fatal(i, err)
		}
		sun := sum(n.Sun...) * n.Area
		if got := given(n, st) + sum(st.Lost[:]...); math.Abs(got-sun) > 1e-5*(sun+100) {
			t.Fatalf("%d: %v W of sun, %v W carried off and lost", i, sun, got)
		}
		for k := range n.Sun {
			n.Sun[k] *= 1.1
		}
		more, err := n.Solve(st, Settled)
		if err != nil {
			t.Fatal(i, err)
		}
		for s := range st.Layer {
			for k, was := range st.Layer[s] {
				if more.Layer[s][k] < was-1e-6 {
					t.Fatalf("%d: more sun took layer %d of segment %d from %v to %v", i, k, s, was, more.Layer[s][k])
				}
			}
		}
	}
}

// Steps in time end where the steady solution is, from hot and from cold, and each step keeps its energy.
func TestStepsTendToTheSteadyState(t *testing.T) {
	r := rand.New(rand.NewPCG(3, 5))
	for i := range 60 {
		n := random(r)
		want, err := n.Solve(nil, Settled)
		if err != nil {
			t.Fatal(i, err)
		}
		n.Forget()
		st := &State{Share: want.Share}
		for range n.Segments {
			row := make([]float64, len(n.Sun))
			for k := range row {
				row[k] = float64(-30 + 150*(i%2))
			}
			st.Layer, st.Air = append(st.Layer, row), append(st.Air, []float64{n.Inlet})
		}
		for range 400 {
			if st, err = n.Advance(st, 120); err != nil {
				t.Fatal(i, err)
			}
		}
		if math.Abs(st.Outlet-want.Outlet) > 0.02 {
			t.Errorf("%d: steps end at %v C, the steady outlet is %v", i, st.Outlet, want.Outlet)
		}
	}
}

// Elimination against a dense LU factorization (gonum mat.Dense.Solve): segments that depend on those beside
// them, and boxes one after the other, in either order, of which the later depends on any segment of the one before.
func TestBlocksAgainstDense(t *testing.T) {
	r := rand.New(rand.NewPCG(1, 2))
	for range 200 {
		n, b := 1+r.IntN(9), 1+r.IntN(7)
		boxes, backwards := 1+r.IntN(4), r.IntN(2) == 1
		each := n
		n *= boxes
		s := newBlocks(n, b)
		a, rhs := mat.NewDense(n*b, n*b, nil), mat.NewDense(n*b, 1, nil)
		for i := range n {
			box, from := i/each, i/each-1
			if backwards {
				from = i/each + 1
			}
			for j := range n {
				beside := j >= i-1 && j <= i+1 && j/each == box
				if !beside && (j/each != from || r.IntN(3) > 0) {
					continue
				}
				for x := range b {
					for y := range b {
						v := r.NormFloat64()
						if i == j && x == y {
							v += 4
						}
						s.add(i, j, x, y, v)
						a.Set(i*b+x, j*b+y, v)
					}
				}
			}
		}
		for i := range s.rhs {
			s.rhs[i] = r.NormFloat64()
			rhs.Set(i, 0, s.rhs[i])
		}
		var want mat.Dense
		if err := want.Solve(a, rhs); err != nil {
			continue // close to singular: nothing to compare with
		}
		x := make([]float64, n*b)
		if !s.solve(x) {
			t.Fatal("no pivot was found")
		}
		for i := range x {
			if math.Abs(x[i]-want.At(i, 0)) > 1e-7*(1+math.Abs(want.At(i, 0))) {
				t.Fatalf("unknown %d is %v, dense elimination has %v", i, x[i], want.At(i, 0))
			}
		}
	}
}

// A plate in the sun with air behind it: the plate warms the air, the back takes nothing.
func ExampleNetwork_Solve() {
	constant := func(v float64) func(_, _ float64) float64 { return func(_, _ float64) float64 { return v } }
	n := Network{Segments: 4, Area: 2, Sun: []float64{700}, Cp: 1007, Inlet: 18, Outside: [Outsides]float64{Ambient: 5},
		Links:  []Link{{A: 0, To: Ambient, Role: Front, G: constant(6)}},
		Airs:   []Air{{Touches: []Touch{{Layer: 0, H: constant(20)}}}},
		Outlet: []Feed{{From: 0, At: 3, Mass: 0.04}}}
	for i := range 4 {
		from := 0
		if i == 0 {
			from = FromInlet
		}
		n.Airs[0].Feeds = append(n.Airs[0].Feeds, []Feed{{From: from, At: i - 1, Mass: 0.04}})
	}
	st, err := n.Solve(nil, Settled)
	if err != nil {
		fmt.Println(err)
		return
	}
	fmt.Printf("outlet %.1f °C, lost by the front %.0f W of %.0f W\n", st.Outlet, st.Lost[Front], n.Sun[0]*n.Area)
	// Output: outlet 39.2 °C, lost by the front 545 W of 1400 W
}

package network

import (
	"math"
	"testing"
)

// box is a cover, an absorber with air behind it, and a back, in so many segments; flow is in kg/s, sun in W/m2.
func box(segments int, flow, sun, inlet, ambient float64) *Network {
	fixed := func(g float64) func(a, b float64) float64 { return func(_, _ float64) float64 { return g } }
	n := &Network{Segments: segments, Area: 2, Sun: []float64{0, 0.9 * sun, 0}, Inlet: inlet, Cp: 1007,
		Outside: [Outsides]float64{ambient, ambient, ambient}}
	n.Links = []Link{
		{A: 0, To: Ambient, Role: Front, G: fixed(18)}, {A: 0, B: 1, G: fixed(7)},
		{A: 1, B: 2, G: fixed(5)}, {A: 2, To: Ambient, Role: Back, G: fixed(0.7)},
	}
	if flow <= 0 {
		return n
	}
	a := Air{Name: "behind", Touches: []Touch{{Layer: 1, H: fixed(12)}, {Layer: 2, H: fixed(12)}}}
	for i := range segments {
		f := Feed{From: 0, At: i - 1, Mass: flow}
		if i == 0 {
			f = Feed{From: FromInlet, Mass: flow}
		}
		a.Feeds = append(a.Feeds, []Feed{f})
	}
	n.Airs = []Air{a}
	n.Outlet = []Feed{{From: 0, At: segments - 1, Mass: flow}}
	return n
}

// Known limits: without sun all is as warm as outdoors; without flow it is the box at rest, by hand; much flow leaves the air
// at the inlet's temperature, and finer segments move nothing that matters.
func TestKnownLimits(t *testing.T) {
	solve := func(n *Network) *State {
		st, err := n.Solve(nil, Settled)
		if err != nil {
			t.Fatal(err)
		}
		return st
	}
	for _, v := range solve(box(4, 0, 0, 5, 5)).Layer {
		for k, temp := range v {
			if math.Abs(temp-5) > 1e-6 {
				t.Errorf("without sun layer %d is at %v, outdoors at 5", k, temp)
			}
		}
	}
	// At rest: 720 W/m2 leave through 1/(1/18 + 1/7) in front and 1/(1/5 + 1/0.7) behind, W/m2K.
	rest := solve(box(1, 0, 800, 0, 0))
	if want := 720 / (1/(1.0/18+1.0/7) + 1/(1.0/5+1/0.7)); math.Abs(rest.Layer[0][1]-want) > 1e-6 {
		t.Errorf("at rest the absorber is at %v, by hand at %v", rest.Layer[0][1], want)
	}
	if st := solve(box(8, 50, 800, 20, 0)); math.Abs(st.Outlet-20) > 0.03 {
		t.Errorf("with 50 kg/s the air leaves at %v", st.Outlet)
	}
	coarse, fine := solve(box(8, 0.05, 800, 20, 0)), solve(box(64, 0.05, 800, 20, 0))
	if rise := fine.Outlet - 20; math.Abs(coarse.Outlet-fine.Outlet) > 0.002*rise {
		t.Errorf("8 segments give %v, 64 give %v", coarse.Outlet, fine.Outlet)
	}
	// More sun, less flow, and a warmer inlet each warm the outlet; profiles rise along the way without a zigzag.
	base := solve(box(8, 0.05, 600, 20, 0))
	for what, st := range map[string]*State{
		"more sun": solve(box(8, 0.05, 700, 20, 0)), "less flow": solve(box(8, 0.04, 600, 20, 0)),
		"a warmer inlet": solve(box(8, 0.05, 600, 25, 0)),
	} {
		if st.Outlet <= base.Outlet {
			t.Errorf("%s: the outlet goes from %v to %v", what, base.Outlet, st.Outlet)
		}
	}
	for i := 1; i < len(base.Layer); i++ {
		if base.Layer[i][1] <= base.Layer[i-1][1] || base.Air[i][0] <= base.Air[i-1][0] {
			t.Errorf("segment %d is not warmer than the one before: %v", i, base.Layer)
		}
	}
}

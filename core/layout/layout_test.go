package layout

import (
	"math"
	"math/rand/v2"
	"testing"

	"gladember/core/design"
	"gladember/core/units"
)

func examples(t *testing.T) map[string]design.Heater {
	t.Helper()
	m := map[string]design.Heater{}
	for _, n := range design.ExampleNames() {
		h, err := design.Named(n)
		if err != nil {
			t.Fatal(err)
		}
		m[n] = h
	}
	return m
}

// Pieces that are solid may touch but never share space, and everything but
// the stops lies within the box. Battens and screens lean together.
func TestPartsDoNotOverlap(t *testing.T) {
	r := rand.New(rand.NewPCG(17, 18))
	for name, base := range examples(t) {
		for range 50 {
			h, err := design.Apply(base, units.System{}, design.Change{Path: "pane.width_m", Value: 0.5 + r.Float64()}, design.Change{Path: "pane.height_m", Value: 0.8 + 1.5*r.Float64()},
				design.Change{Path: "box.edge_foam_m", Value: 0.03 * r.Float64()}, design.Change{Path: "cover.layers", Value: 1 + r.IntN(2)})
			if err != nil {
				continue
			}
			l, err := Of(&h)
			if err != nil {
				continue
			}
			type piece struct {
				name string
				Place
			}
			var ps []piece
			for _, p := range l.Parts {
				if p.Count != len(p.Places) {
					t.Fatalf("%s: %d pieces, %d places", p.Name, p.Count, len(p.Places))
				}
				for _, pl := range p.Places {
					if pl.X < -1e-9 || pl.Y < -1e-9 || pl.X+pl.W > l.Width+1e-9 || pl.Y+pl.H > l.Height+1e-9 || pl.Z+pl.D > l.Depth+1e-9 {
						t.Fatalf("%s: %s lies outside the box: %+v in %v x %v x %v", name, p.Name, pl, l.Width, l.Height, l.Depth)
					}
					if pl.Lean == 0 {
						ps = append(ps, piece{p.Name, pl})
					}
				}
			}
			over := func(a, b, la, lb float64) bool { return a < b+lb-1e-9 && b < a+la-1e-9 }
			for i, a := range ps {
				for _, b := range ps[i+1:] {
					if over(a.X, b.X, a.W, b.W) && over(a.Y, b.Y, a.H, b.H) && over(a.Z, b.Z, a.D, b.D) {
						t.Fatalf("%s: %s and %s share space: %+v %+v", name, a.name, b.name, a.Place, b.Place)
					}
				}
			}
		}
	}
}

// Depths add up: what lies in front of the back board is the frame's depth.
func TestDepthsAddUp(t *testing.T) {
	for name, h := range examples(t) {
		l, err := Of(&h)
		if err != nil {
			t.Fatal(name, err)
		}
		deepest := 0.0
		for _, p := range l.Parts {
			for _, pl := range p.Places {
				deepest = math.Max(deepest, pl.Z+pl.D)
			}
		}
		if math.Abs(deepest-l.Depth) > 1e-9 || math.Abs(l.Depth-h.Cover.Thickness-h.FrameDepth()) > 1e-9 {
			t.Errorf("%s: parts reach %v, the box %v", name, deepest, l.Depth)
		}
		for _, hole := range l.Holes {
			r := hole.Diameter / 2
			if hole.X-r < h.Box.FrameWidth || hole.X+r > l.Width-h.Box.FrameWidth || hole.Y-r < h.Box.FrameWidth || hole.Y+r > l.Height-h.Box.FrameWidth {
				t.Errorf("%s: the %s cuts the frame", name, hole.Name)
			}
		}
	}
}

// A pane of 34 x 58 in with 1/2 in of rest and a 3/4 in frame, by hand: the
// frame's opening is 33 x 57, the box 34 1/2 x 58 1/2 in.
func TestAPaneByHand(t *testing.T) {
	in := units.MetrePerInch
	h, err := design.Apply(design.New(), units.System{}, design.Change{Path: "pane.width_m", Value: 34 * in}, design.Change{Path: "pane.height_m", Value: 58 * in},
		design.Change{Path: "pane.rest_m", Value: 0.5 * in}, design.Change{Path: "box.frame_width_m", Value: 0.75 * in})
	if err != nil {
		t.Fatal(err)
	}
	l, _ := Of(&h)
	for _, p := range l.Parts {
		got := units.Sixteenths(p.Length)
		want := map[string]string{"side board": "58 1/2", "top and bottom board": "33", "back board": "57", "pane": "58"}[p.Name]
		if want != "" && got != want {
			t.Errorf("%s is %s in long, want %s", p.Name, got, want)
		}
	}
}

func TestMisfits(t *testing.T) {
	h := design.New()
	h.Pane.Width, h.Air.Diameter, h.Pane.Height = 0.22, 0.12, 0.25
	if _, err := Of(&h); err == nil {
		t.Error("two holes wider than the box were laid out")
	}
	h = design.New()
	h.Box.FrameWidth = 0.010
	if _, err := Of(&h); err == nil {
		t.Error("a pane hanging over its frame was laid out")
	}
}

package collector

import (
	"math"
	"math/rand/v2"
	"testing"

	"gladember/core/design"
)

// closeTo says whether a heat lies within 0.5 % of another, or, where the box keeps under
// two fifths of its sun so that its heat is the small difference of large ones, within
// 0.2 % of the sun.
func closeTo(heat, of, sun float64) bool {
	return math.Abs(heat-of) <= max(0.005*math.Abs(of), 0.002*sun)
}

// Every inner grid converges: heat by eight segments lies within 0.5 % of that by 64, in
// every example at its own noon, with the fan's own flow, and in 220 random boxes; each
// doubling of segments brings it nearer by about four times, which is second order.
func TestSegmentsConverge(t *testing.T) {
	if testing.Short() {
		t.Skip("its work has one thread: it runs without the race detector")
	}
	for _, name := range design.ExampleNames() {
		h, _ := design.Named(name)
		c := ConditionsAt(&h, WinterNoon(&h))
		d, err := Describe(&h)
		if err != nil {
			t.Fatal(err)
		}
		var heat []float64
		var r Result
		for _, n := range []int{8, 16, 32, 64} {
			d.Cells = n
			if r, err = d.Rate(c, Tuning{}, nil); err != nil {
				t.Fatalf("%s by %d segments: %v", name, n, err)
			}
			heat = append(heat, r.Heat)
		}
		t.Logf("%-26s %8.2f %8.2f %8.2f %8.2f W, hottest absorber %.1f C", name, heat[0], heat[1], heat[2], heat[3], r.AbsorberMax)
		if !(math.Abs(heat[0]-heat[3]) <= 0.005*math.Abs(heat[3])) {
			t.Errorf("%s: %.2f W by 8 segments, %.2f by 64", name, heat[0], heat[3])
		}
		if a, b := math.Abs(heat[0]-heat[1]), math.Abs(heat[1]-heat[2]); a > 1e-3*r.Energy.Sun && a < 2*b {
			t.Errorf("%s: halving the segments moves the heat by %.3f W, then by %.3f", name, a, b)
		}
	}
	r := rand.New(rand.NewPCG(113, 14))
	every := families()
	for i := range 220 {
		h, c := randomBox(r, every[i%len(every)])
		if i%3 == 0 {
			c.Flow = 0
		}
		d, err := Describe(&h)
		if err != nil {
			t.Fatal(err)
		}
		a, err := d.Rate(c, Tuning{}, nil)
		if err != nil {
			t.Fatal(err)
		}
		d.Cells = 64
		b, err := d.Rate(c, Tuning{}, nil)
		if err != nil {
			t.Fatal(err)
		}
		if !closeTo(a.Heat, b.Heat, b.Energy.Sun) {
			t.Errorf("%d, %s: %.2f W by 8 segments, %.2f by 64, of %.0f W of sun", i, h.Absorber.Family, a.Heat, b.Heat, b.Energy.Sun)
		}
		if s := h.Absorber.Screens; s != nil && (!s.Deflector || s.Baffle < 1) { // the crossing's own grid is coarser than 64
			b = a
		}
		noZigzag(t, &h, &b)
	}
}

// noZigzag wants no layer's temperature to go up and down from segment to segment: fewer
// than four turns in a row of more than a twentieth of a kelvin.
func noZigzag(t *testing.T, h *design.Heater, r *Result) {
	t.Helper()
	for _, l := range r.Layers {
		row := 0
		for i := 2; i < len(l.Along); i++ {
			a, b := l.Along[i-1]-l.Along[i-2], l.Along[i]-l.Along[i-1]
			if a*b >= 0 || min(math.Abs(a), math.Abs(b)) < 0.05 {
				row = 0
				continue
			}
			if row++; row == 4 {
				t.Errorf("%s, %s goes up and down: %.2f", h.Absorber.Family, l.Name, l.Along)
				break
			}
		}
	}
}

// A box through which next to no air passes is a box that stands still: the heat that the
// air gets and every layer's temperature over the outdoors come to those of the still box
// within 1 %, in every family.
func TestNoFlowIsTheStillBox(t *testing.T) {
	r := rand.New(rand.NewPCG(115, 16))
	every := families()
	for i := range 10 * len(every) {
		h, c := randomBox(r, every[i%len(every)])
		h.Box.Seam = 0
		d, err := Describe(&h)
		if err != nil {
			t.Fatal(err)
		}
		still, err := d.Still(c, Tuning{}, nil)
		if err != nil {
			t.Fatal(err)
		}
		last := math.Inf(1)
		for _, flow := range []float64{1e-3, 1e-4, 1e-5, 1e-6} {
			c.Flow = flow * d.Aperture()
			x, err := d.Rate(c, Tuning{}, nil)
			if err != nil {
				t.Fatalf("%s at %g kg/s: %v", h.Absorber.Family, c.Flow, err)
			}
			off := 0.0
			for k, l := range x.Layers {
				off = max(off, math.Abs(l.Mean-still.Layers[k].Mean)/max(10, math.Abs(still.Layers[k].Mean-c.Ambient)))
			}
			if off > last*1.05+1e-3 {
				t.Errorf("%d, %s: layers are off by %.4f at %g kg/s, by less before", i, h.Absorber.Family, off, c.Flow)
			}
			last = off
			if flow == 1e-6 && (off > 0.01 || math.Abs(x.Heat-still.Heat) > 0.01*x.Energy.Sun) {
				t.Errorf("%d, %s: at next to no flow %.2f W and layers off by %.4f; still %.2f W", i, h.Absorber.Family, x.Heat, off,
					still.Heat)
				for k, l := range x.Layers {
					t.Logf("  %s %.2f, still %.2f", l.Name, l.Mean, still.Layers[k].Mean)
				}
			}
		}
	}
}

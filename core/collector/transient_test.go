package collector

import (
	"math"
	"math/rand/v2"
	"testing"

	"gladember/core/design"
	"gladember/core/solar"
)

// A box that runs on in steady weather comes to rest where its steady balance is, to an
// eighth of a per cent, whichever way it is made: the moving net follows the air as it warms.
func TestTransientSettlesOnTheBalance(t *testing.T) {
	for _, name := range design.ExampleNames() {
		h, err := design.Named(name)
		if err != nil {
			t.Fatal(err)
		}
		d, err := Describe(&h)
		if err != nil {
			t.Fatal(err)
		}
		c := bright()
		tr, err := d.NewTransient(c)
		if err != nil {
			t.Fatal(err)
		}
		// and then another box, whose air may keep properties of up to airMoves away
		for i, other := range []Tuning{{}, {Emittance: -0.04, Wind: 0.5, AirNu: -0.2, GapNu: 0.1, Foam: 0.3, Leak: 0.5}} {
			r, err := d.Rate(c, other, nil)
			if err != nil {
				t.Fatal(err)
			}
			tr.Tune(other)
			var m Moment
			for range 240 {
				if m, err = tr.Step(c, r.Mass, 60); err != nil {
					t.Fatal(err)
				}
			}
			heat := m.Energy.Air + m.Energy.Room - r.Bare
			off := 0.00125 * float64(i+1)
			if d.Passages.classes > 1 { // how the air is shared among tubes is kept as well
				off = 0.006
			}
			if math.Abs(heat-r.Heat) > off*max(math.Abs(r.Heat), 200) {
				t.Errorf("%s, %+v, comes to rest at %.1f W, its balance is %.1f", name, other, heat, r.Heat)
			}
		}
	}
}

// Sun by responses is the sun worked out anew: in all to a thousandth of what falls in, by the
// layer to three, since what screens let straight through hangs a little on the whole mix of light.
func TestLitByResponses(t *testing.T) {
	r := rand.New(rand.NewPCG(90, 1))
	for _, name := range design.ExampleNames() {
		h, err := design.Named(name)
		if err != nil {
			t.Fatal(err)
		}
		d, err := Describe(&h)
		if err != nil {
			t.Fatal(err)
		}
		u := responses{tilt: h.Place.Tilt}
		for range 200 {
			at := 90 * r.Float64() // what the beam puts on the glass falls with the cosine
			sun := solar.OnPlane{Beam: 900 * math.Cos(at*math.Pi/180), Incidence: at, Sky: 300 * r.Float64(), Ground: 200 * r.Float64(),
				Mirror: 100 * float64(r.IntN(2)), MirrorIncidence: 60 * r.Float64()}
			a, refl, edge := d.lit(Conditions{Sun: sun, Tilt: h.Place.Tilt}, Tuning{})
			b, refl2, edge2 := d.litBy(&u, sun)
			least, all, all2 := 0.001*sun.Total(), 0.0, 0.0
			for i := range a {
				if all, all2 = all+a[i], all2+b[i]; math.Abs(a[i]-b[i]) > 3*least {
					t.Errorf("%s: layer %d takes up %v, by responses %v", name, i, a[i], b[i])
				}
			}
			if math.Abs(all-all2) > least || math.Abs(refl-refl2) > least || math.Abs(edge-edge2) > least {
				t.Errorf("%s: %v and %v taken up, %v and %v thrown back, %v and %v at the edge", name, all, all2, refl, refl2, edge, edge2)
			}
		}
	}
}

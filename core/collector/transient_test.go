package collector

import (
	"math"
	"testing"

	"gladember/core/design"
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
		r, err := d.Rate(c, Tuning{}, nil)
		if err != nil {
			t.Fatal(err)
		}
		tr, err := d.NewTransient(c)
		if err != nil {
			t.Fatal(err)
		}
		var m Moment
		for range 240 {
			if m, err = tr.Step(c, r.Mass, 60); err != nil {
				t.Fatal(err)
			}
		}
		heat := m.Energy.Air + m.Energy.Room - r.Bare
		if math.Abs(heat-r.Heat) > 0.00125*math.Max(math.Abs(r.Heat), 200) {
			t.Errorf("%s comes to rest at %.1f W, its balance is %.1f", name, heat, r.Heat)
		}
	}
}

package collector

import (
	"math"
	"testing"

	"gladember/core/design"
)

// The line gives back ratings it was not fitted to, its optical part is the
// efficiency with the air drawn in as cold as outdoors, and its angle modifier
// starts at one, falls, and for one glass lies at 0.90 to 0.97 at 50 degrees
// (D&B figure 6.17.1, one and two covers).
func TestRatingLine(t *testing.T) {
	for _, name := range design.ExampleNames() {
		h, _ := design.Named(name)
		if h.Indoors() {
			continue // its heat is net of a window and no line
		}
		h.Box.Seam = 0 // a leak's heat hangs on the inlet too
		d, _ := Describe(&h)
		r := rate(t, &h, bright())
		l, err := d.RatingLine(&r)
		if err != nil {
			t.Fatalf("%s: %v", name, err)
		}
		if l.Worst > 0.01 || l.Loss <= 0 || l.Optical <= 0.2 || l.Optical >= 0.85 {
			t.Errorf("%s: %+v", name, l)
		}
		c := bright()
		c.Flow = r.Mass
		for _, rise := range []float64{0, 17, 43} {
			c.Inlet = c.Ambient + rise
			x := rate(t, &h, c)
			g := c.Sun.Total()
			s := rise / g
			if got := l.Optical - l.Loss*s - l.Bend*g*s*s; math.Abs(got-x.Efficiency) > 0.01 {
				t.Errorf("%s at %v K: line %v, balance %v", name, rise, got, x.Efficiency)
			}
		}
		if l.Angle[0] != 1 || len(l.Angle) != 9 {
			t.Fatalf("%s: angles %v", name, l.Angle)
		}
		for i := 2; i < len(l.Angle); i++ {
			if l.Angle[i] > l.Angle[i-1]+0.01 {
				t.Errorf("%s: the modifier rises at %d degrees: %v", name, 10*i, l.Angle)
			}
		}
		if k := l.Angle[5]; h.Cover.Layers == 1 && (k < 0.85 || k > 1) {
			t.Errorf("%s: modifier at 50 degrees %v", name, k)
		}
	}
	h, _ := design.Named("passive-tower")
	d, _ := Describe(&h)
	if _, err := d.RatingLine(&Result{}); err == nil {
		t.Error("a box without air has a line")
	}
}

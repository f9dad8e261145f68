package collector

import (
	"math"
	"testing"

	"gladember/core/design"
	"gladember/core/internal/formula"
	"gladember/core/units"
)

// The pieces of the way add up to the pressure drop of the balance, every fan meets its
// system where the two curves cross, and more sun never moves less air off a panel.
func TestRouteAddsUp(t *testing.T) {
	for _, name := range design.ExampleNames() {
		h, err := design.Named(name)
		if err != nil {
			t.Fatal(err)
		}
		for _, changes := range [][]design.Change{nil, {design.Set(design.AirFilter, "fine"), design.Set(design.AirBends, 5),
			design.Set(design.AirFlap, "spring"), design.Set(design.AirRoute, "window")}} {
			x, err := design.Apply(h, units.System{}, changes...)
			if err != nil {
				continue // a foil panel has no ducts
			}
			d, err := Describe(&x)
			if err != nil {
				t.Fatal(err)
			}
			c := bright()
			r, err := d.Rate(c, Tuning{}, nil)
			if err != nil {
				t.Fatal(err)
			}
			sum := 0.0
			for _, p := range d.Route(&x, &r) {
				if p.Name == "" || p.Loss < 0 {
					t.Errorf("%s: %+v", name, p)
				}
				sum += p.Loss
			}
			if math.Abs(sum-r.PressureDrop) > 0.002*r.PressureDrop+1e-6 {
				t.Errorf("%s: pieces add up to %v Pa, the balance has %v", name, sum, r.PressureDrop)
			}
			for key, w := range AirWorkings(&r, 0.02) {
				if got, err := formula.Value(w.Formula, w.Values()); err != nil || math.Abs(got-w.Value) > 1e-9*w.Value {
					t.Errorf("%s %s: %v from %s, shown is %v; %v", name, key, got, w.Formula, w.Value, err)
				}
			}
			curve := d.Curves(&r, 200)
			if (len(curve.Flow) > 0) != (!d.Natural && r.Mass > 0) {
				t.Errorf("%s: %d points", name, len(curve.Flow))
			}
			for i := range curve.Flow {
				if i == 0 || curve.Flow[i] < 1e-4 {
					continue
				}
				below := curve.Flow[i] < r.FanFlow*0.98
				above := curve.Flow[i] > r.FanFlow*1.02
				if over := curve.Fan[i] + r.Lift - curve.System[i]; below && over < -0.01 || above && over > 0.01 {
					t.Errorf("%s: at %v m3/s the fan is %v Pa over its system, the point is %v", name, curve.Flow[i], over, r.FanFlow)
					break
				}
				if curve.System[i] < curve.System[i-1]-1e-9 || curve.Wide[i] < curve.System[i] {
					t.Errorf("%s: the system's curve falls at %v", name, curve.Flow[i])
					break
				}
			}
		}
	}
	h, _ := design.Named("panel-driven-lath-box")
	d, err := Describe(&h)
	if err != nil {
		t.Fatal(err)
	}
	over, err := d.OverSun(bright(), 50, 200, 400, 600, 800, 1000)
	if err != nil {
		t.Fatal(err)
	}
	for i := 1; i < len(over); i++ {
		if over[i].Speed < over[i-1].Speed-1e-9 || over[i].Volume < 0.99*over[i-1].Volume {
			t.Errorf("%+v after %+v", over[i], over[i-1])
		}
	}
	if over[0].Speed > 0 || over[5].Speed <= 0 {
		t.Errorf("the fan starts in no sun or never: %+v", over)
	}
}

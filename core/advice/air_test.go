package advice

import (
	"math"
	"testing"

	"gladember/core/collector"
	"gladember/core/design"
	"gladember/core/units"
)

// Every option's gain is that of a heater which has the change already; a larger duct and
// fewer bends never move less air, and a flap keeps the night's loss.
func TestAirOptionsAreReruns(t *testing.T) {
	for _, name := range []string{"screen-box", "passive-tower", "panel-driven-lath-box", "window-panel"} {
		h, err := design.Named(name)
		if err != nil {
			t.Fatal(err)
		}
		at := collector.ConditionsAt(&h, collector.WinterNoon(&h))
		e, err := collector.Evaluate(&h, at, true)
		if err != nil {
			t.Fatal(err)
		}
		os := AirOptions(&e)
		if len(os) == 0 && !h.Indoors() {
			t.Errorf("%s has no options", name)
		}
		for _, o := range os {
			x, err := design.Apply(h, units.System{}, o.Changes...)
			if err != nil {
				t.Errorf("%s: %s: %v", name, o.Name.In(units.System{}), err)
				continue
			}
			r, err := collector.Rate(&x, e.Running.Conditions)
			if err != nil {
				t.Fatal(err)
			}
			gain := r.Heat - r.DuctLoss - r.MakeUp - e.Running.Heat + e.Running.DuctLoss + e.Running.MakeUp
			if h.Air.Drive == "fan" {
				gain += e.Running.FanPower
			}
			if x.Air.Drive == "fan" { // a panel of its own drives a fan for nothing
				gain -= r.FanPower
			}
			if math.Abs(gain-o.Gain) > 0.01*math.Abs(e.Running.Heat) {
				t.Errorf("%s: %s: %v W, rerun %v", name, o.Name.In(units.System{}), o.Gain, gain)
			}
			if larger := o.Changes[0].Path == "air.diameter_m" || o.Changes[0].Path == "air.bends"; larger &&
				o.Volume < e.Running.Volume*0.999 {
				t.Errorf("%s: %s moves %v, before %v", name, o.Name.In(units.System{}), o.Volume, e.Running.Volume)
			}
		}
		open, shut, err := BackFlows(&e)
		if err != nil || shut > open+1e-9 {
			t.Errorf("%s: by night %v W open, %v shut, %v", name, open, shut, err)
		}
	}
	last := ""
	for _, v := range []float64{1, 3, 6, 9} {
		if s := Loudness(v); s == last || s == "" {
			t.Errorf("%v m/s is %q", v, s)
		} else {
			last = s
		}
	}
}

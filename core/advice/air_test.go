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
			if larger := o.Changes[0].Path == design.AirDiameter.Path || o.Changes[0].Path == design.AirBends.Path; larger &&
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

// A fan on its own panel is offered fans that the panel starts in weak sun, or fan and panel together: what is offered gives no less at
// four tenths of the noon's sun.
func TestFanForItsPanel(t *testing.T) {
	offered := 0
	for _, watts := range []float64{5, 10, 20} {
		for _, name := range []string{"screen-box", "back-pass-plate", "can-columns"} {
			h, err := design.Named(name)
			if err != nil {
				t.Fatal(err)
			}
			if h, err = design.Apply(h, units.System{}, design.Set(design.AirDrive, "panel"), design.Set(design.AirPanel, watts),
				design.Set(design.AirFan, "computer-92")); err != nil {
				t.Fatal(err)
			}
			e := noonOf(t, &h)
			for _, f := range Evaluate(e) {
				if f.ID != "more-air" || f.Patch == nil {
					continue
				}
				offered++
				better, err := design.Apply(h, units.System{}, f.Patch...)
				if err != nil {
					t.Fatal(err)
				}
				weak := func(h *design.Heater) float64 {
					c := collector.ConditionsAt(h, collector.WinterNoon(h))
					c.Sun.Beam, c.Sun.Sky, c.Sun.Ground = 0.4*c.Sun.Beam, 0.4*c.Sun.Sky, 0.4*c.Sun.Ground
					r, err := collector.Rate(h, c)
					if err != nil {
						t.Fatal(err)
					}
					return r.Warms() - r.Bought
				}
				if now, then := weak(&h), weak(&better); then < now {
					t.Errorf("%s on %v W: %v gives %.0f W in weak sun instead of %.0f", name, watts, f.Patch, then, now)
				}
			}
		}
	}
	if offered < 3 {
		t.Errorf("only %d were offered", offered)
	}
}

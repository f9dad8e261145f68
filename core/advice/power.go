package advice

import (
	"math"

	"gladember/core/catalog"
	"gladember/core/collector"
	"gladember/core/design"
	"gladember/core/units"
	"gladember/core/wiring"
)

// weakPanel: the panel cannot turn its fan, or hardly.
// A fan on its own panel runs where the panel's curve and the motor's agree
// (package airflow). Panels of the usual sizes are tried, and the one that
// gives the room most heat is offered; where none helps, the fan takes too
// much.
func weakPanel(e *assessment) []Finding {
	h := &e.Heater
	if h.Air.Drive != "panel" || h.Air.Battery > 0 || e.Running.Conditions.Flow > 0 || e.Running.FanSpeed >= 0.75 && e.Running.Mass > 0 {
		return nil
	}
	f := Finding{ID: "weak-panel", Severity: Loss, Topic: Construction, Title: "The solar panel is too small for the fan",
		Finding:  say("At the clear winter noon the fan runs at %v of its speed.", q(units.Share, e.Running.FanSpeed)),
		Evidence: say("A panel of %v drives a fan of %v.", q(units.Electric, h.Air.PanelPeak), q(units.Electric, h.Air.FanPower))}
	if e.Running.Mass <= 0 {
		f.Severity, f.Finding = Fault, say("At the clear winter noon the panel cannot start the fan.")
	}
	var options []option
	for _, w := range panels {
		if w > h.Air.PanelPeak && len(options) < 3 {
			options = append(options, option{[]design.Change{design.Set(design.AirPanel, w)}, func(r collector.Result) Text {
				return say("Use a panel of %v: the fan then runs at %v of its speed.", q(units.Electric, w), q(units.Share, r.FanSpeed))
			}})
		}
	}
	if o, r, ok := best(e, 0.01, options); ok {
		return f.with(e, o, r)
	}
	f.Remedy = say("Use a fan with less power.")
	return []Finding{f}
}

// battery: how long it lasts without sun.
// Two separate things are said under one heading of the electrics: a battery
// that does not last a day without sun, and a wire that loses a twentieth or
// more, for which a thicker standard wire is offered.
func battery(e *assessment) []Finding {
	a := &e.Heater.Air
	b, has := wiring.PlanBattery(&e.Heater)
	if !has || b.Days >= 1 && b.Lost < 0.05 {
		return nil
	}
	f := Finding{ID: "small-battery", Severity: Note, Topic: Construction, Title: "The battery is small",
		Finding: say("It runs the fan for %v days of %v hours without sun.", q(units.Number, math.Round(10*b.Days)/10),
			q(units.Number, wiring.RunHours)),
		Evidence: say("The fan takes %v, of which the wires lose %v; only half of the battery should be used.",
			q(units.Electric, b.Watts), q(units.Share, b.Lost)),
		Remedy: say("Use a larger battery, or drive the fan straight from the panel: without sun the fan is not needed.")}
	// Rounded up to 10 Wh. Beyond 5 kWh a battery is no remedy any more.
	if need := math.Ceil(wiring.RunHours*b.Watts/wiring.Usable/(1-b.Lost)/10) * 10; need <= 5000 && b.Days < 1 {
		f.Patch = []design.Change{design.Set(design.AirBattery, need)}
	}
	if b.Lost >= 0.05 {
		f.ID, f.Title = "thin-wire", "The wire is too thin"
		f.Remedy = say("Use thicker or shorter wire.")
		// Aim at a loss of 3 %, in steps of 0.25 mm2.
		if area := a.WireArea * b.Lost / 0.03; area <= 16 {
			f.Patch = []design.Change{design.Set(design.AirWireArea, math.Ceil(area*4)/4)}
		}
	}
	return []Finding{f}
}

// panels are the usual sizes of small solar panels, W. Common practice, no source.
var panels = []float64{5, 10, 20, 30, 50, 100, 200}

// panelFor is the panel, W, that a fan takes which the present one does not drive: half as much again as the fan's power, so that it
// starts in weak sun. It reports false where the panel is large enough, or the fan hangs on no panel of its own.
func panelFor(h *design.Heater, fan catalog.Fan) (w float64, small bool) {
	const more = 1.5
	if h.Air.Drive != "panel" || h.Air.Battery > 0 || h.Air.PanelPeak >= more*fan.Power {
		return 0, false
	}
	for _, w := range panels {
		if w >= more*fan.Power {
			return w, true
		}
	}
	return panels[len(panels)-1], true
}

// startsAsSoon says whether a heater gives no less than the present one in weak sun: a fan on its own panel may run at noon and stand all
// morning.
func (e *assessment) startsAsSoon(h *design.Heater) bool {
	if h.Air.Drive != "panel" || h.Air.Battery > 0 {
		return true
	}
	const weak = 0.4 // of the sun at noon
	c := e.conditions(h)
	c.Sun.Beam, c.Sun.Sky, c.Sun.Ground, c.Sun.Mirror = weak*c.Sun.Beam, weak*c.Sun.Sky, weak*c.Sun.Ground, weak*c.Sun.Mirror
	now, err := collector.Rate(&e.Heater, c)
	if err != nil {
		return false
	}
	then, err := collector.Rate(h, c)
	return err == nil && worth(&then) >= worth(&now)
}

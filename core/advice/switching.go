package advice

import (
	"math"

	"gladember/core/collector"
	"gladember/core/design"
	"gladember/core/thermostat"
	"gladember/core/units"
)

// neverSwitched: the fan's set point beyond what the box reaches, or an opening
// point above what it gives once air moves.
// The thermostat is judged by two states of the clear winter noon: with the fan
// off the box must get warm enough to start it, and with the fan on it must
// stay warm enough not to stop it again (thermostat.Switch.Judge, with 1 K of
// reserve). A differential controller's points stand above the room's air.
func neverSwitched(e *assessment) []Finding {
	s, run, still := e.Heater.Switch, e.Running, e.Still
	sw := thermostat.New(&e.Heater)
	if sw.Kind != thermostat.SnapDisc && sw.Kind != thermostat.SetPoint && sw.Kind != thermostat.Differential {
		return nil
	}
	room := e.Heater.Room.Air
	// Its two points are written as kelvins above the room, the others' in C.
	over := sw.Kind == thermostat.Differential
	closes, opens := s.Close, s.Open
	closePath, openPath := design.SwitchClose.Path, design.SwitchOpen.Path
	if over {
		closes, opens = room+s.OnAbove, room+s.OffAbove
		closePath, openPath = design.SwitchOnAbove.Path, design.SwitchOffAbove.Path
	}
	set := func(open, closing float64) []design.Change {
		if over {
			open, closing = open-room, closing-room
		}
		return []design.Change{{Path: openPath, Value: open}, {Path: closePath, Value: closing}}
	}
	switch sw.Judge(still.AbsorberMax, run.Outlet, room, 1) {
	case thermostat.Never:
		// 5 K under what the box reaches, so that it starts on days a little
		// dimmer.
		closing := math.Floor(still.AbsorberMax - 5)
		open := min(closing-3, math.Floor(run.Outlet-1))
		f := Finding{ID: "switch-never", Severity: Fault, Topic: Control, Title: "The fan never starts",
			Finding: say("Even with the fan off the box reaches only %v; the thermostat starts the fan at %v.",
				q(units.Temperature, still.AbsorberMax), q(units.Temperature, closes)),
			Evidence: say("This is the clear winter noon with %v outdoors and %v on the glazing.",
				q(units.Temperature, run.Conditions.Ambient), q(units.Irradiance, run.Energy.Sun/run.Aperture)),
			Remedy: say("Change the bearing or the tilt: the box gets too little sun for any set point.")}
		if open > run.Conditions.Inlet && closing <= 90 && open >= 0 {
			f.Remedy = say("Set the fan on at %v and off at %v.", q(units.Temperature, closing), q(units.Temperature, open))
			f.Patch = set(open, closing)
			// As set the box gives nothing: the whole of its heat is the gain.
			f.Gain, f.HasGain = worth(&run), true
		}
		return []Finding{f}
	case thermostat.Cycles:
		// 2 K under the running outlet, so that the fan keeps on through a
		// haze.
		open := math.Floor(run.Outlet - 2)
		f := Finding{ID: "switch-stutters", Severity: Fault, Topic: Control, Title: "The fan will short-cycle",
			Finding: say("With the fan on, the outlet air is at %v at the clear winter noon, and the thermostat stops the fan at %v.",
				q(units.Temperature, run.Outlet), q(units.Temperature, opens)),
			Evidence: say("With %v through the box it heats up while the fan is off, starts the fan, and cools at once.",
				q(units.Flow, run.Volume)),
			Remedy: say("Reduce the airflow, or draw the air from a cooler place.")}
		if open > run.Conditions.Inlet && open >= 0 {
			f.Remedy, f.Patch = say("Set the fan off at %v.", q(units.Temperature, open)), set(open, closes)[:1]
		}
		// A box that runs steadily two months later is a box for spring and
		// fall, and its short cycles in the darkest weeks are a loss and no
		// fault.
		if spring, ok := e.springNoon(); ok && sw.Judge(spring[1].AbsorberMax, spring[0].Outlet, room, 1) != thermostat.Cycles {
			f.Severity, f.Title = Loss, "The fan will short-cycle in the darkest weeks"
		}
		return []Finding{f}
	}
	return nil
}

// springNoon is the box running and standing still under the sun of the clear
// noon two months after the one judged by, in the same weather: far from the
// equator that one is dim.
func (e *assessment) springNoon() (rs [2]collector.Result, ok bool) {
	c := e.Running.Conditions
	x := collector.ConditionsAt(&e.Heater, collector.WinterNoon(&e.Heater).AddDate(0, 2, 0))
	c.Sun, c.Tilt = x.Sun, x.Tilt
	d, err := collector.Describe(&e.Heater)
	if err != nil {
		return rs, false
	}
	if rs[0], err = d.Rate(c, collector.Tuning{}, nil); err == nil {
		rs[1], err = d.Still(c, collector.Tuning{}, nil)
	}
	return rs, err == nil
}

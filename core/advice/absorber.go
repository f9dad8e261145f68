package advice

import (
	"fmt"
	"math"

	"gladember/core/collector"
	"gladember/core/design"
	"gladember/core/thermostat"
	"gladember/core/units"
)

// unevenScreens: where the air crosses decides what the screens give.
// Result.Evenness is the least share of the crossing air that a part of the
// screens gets, over an even share; below 0.3 the poor part runs hot and loses
// through the glazing. Tried are the space behind the screens and their slant,
// a deflector at the inlet, a bar at half height, and a third layer, which
// evens the air out by its resistance.
func unevenScreens(e *assessment) []Finding {
	a := e.Heater.Absorber.Screens
	if a == nil || e.Running.Evenness >= 0.3 || e.Running.Mass <= 0 {
		return nil
	}
	f := Finding{ID: "uneven-crossing", Severity: Loss, Topic: Construction, Title: "Air crosses the screens unevenly",
		Finding: say("The part of the screens with the least air gets %v of an even share.", q(units.Share, e.Running.Evenness)),
		Evidence: say("The pressure changes more along the box than across the screens, which reach %v where little air crosses.",
			q(units.Temperature, e.Running.AbsorberMax))}
	var options []option
	// Usual batten thicknesses, each with the present slant and with none.
	for _, rear := range []float64{0.015, 0.03, 0.05, 0.08} {
		for _, lift := range []float64{0, a.Lift} {
			if rear <= a.Rear && lift == a.Lift {
				continue
			}
			options = append(options, option{[]design.Change{design.Set(design.ScreensRear, rear),
				design.Set(design.ScreensLift, lift)}, func(r collector.Result) Text {
				return say("Leave %v behind the screens at the bottom and slant them by %v: the part with the least air then gets %v.",
					q(units.Length, rear), q(units.Length, lift), q(units.Share, r.Evenness))
			}})
		}
	}
	if !a.Deflector {
		options = append(options, option{[]design.Change{design.Set(design.ScreensDeflector, true)}, func(r collector.Result) Text {
			return say("Fix a deflector in front of the inlet, so that the air spreads over the width: the part with the least air "+
				"then gets %v.", q(units.Share, r.Evenness))
		}})
	}
	for _, open := range []float64{0.5, 0.3, 0.2} {
		if open < a.Baffle {
			options = append(options, option{[]design.Change{design.Set(design.ScreensBaffle, open)}, func(r collector.Result) Text {
				return say("Fix a bar across the space in front of the screens at mid-height that leaves %v of it open: the part with "+
					"the least air then gets %v.", q(units.Share, open), q(units.Share, r.Evenness))
			}})
		}
	}
	if a.Layers < 3 {
		options = append(options, option{[]design.Change{design.Set(design.ScreensLayers, 3)}, func(r collector.Result) Text {
			return say("Use three screen layers, which resist the air more: the part with the least air then gets %v.",
				q(units.Share, r.Evenness))
		}})
	}
	if o, r, ok := best(e, 0.02, options); ok {
		return f.with(e, o, r)
	}
	// Nothing helps by 2 %: then it is said, and left.
	f.Severity = Note
	f.Remedy = say("Leave it: no change we computed gives 2 %% more heat. What an air jet loses at the glazing is not computed.")
	return []Finding{f}
}

// unevenTubes: headers too narrow for the air they share out.
// A header's air loses speed at each tube that it feeds, and its pressure
// rises; narrow headers turn that into unequal flow (package airflow,
// manifolds). Headers a quarter, a half and twice as high are tried, with as
// many cans as still fit. Parallel coils are uneven when their lengths differ,
// which the same finding says in its own words.
func unevenTubes(e *assessment) []Finding {
	h := &e.Heater
	even := e.Running.Evenness
	if h.Absorber.Screens != nil || h.Absorber.Plate != nil || even <= 0 || even >= 0.8 && h.Absorber.Coil == nil || even >= 0.97 {
		return nil
	}
	if c := h.Absorber.Coil; c != nil {
		f := Finding{ID: "uneven-coils", Severity: Loss, Topic: Construction, Title: "The coils differ in length",
			Finding: say("%v runs cannot be divided evenly among %v coils: the longest coil gets %v of the mean airflow.",
				word(fmt.Sprint(c.Runs)), word(fmt.Sprint(c.Ways)), q(units.Share, e.Running.Evenness)),
			Evidence: say("Air takes the shorter coil; the longer one runs hot."),
			Remedy:   say("Use a number of runs that divides evenly, or put a damper into the short coils.")}
		if runs := c.Runs - c.Runs%c.Ways; runs > 0 {
			o := option{[]design.Change{design.Set(design.CoilRuns, runs)}, func(collector.Result) Text {
				return say("Fold %v runs, so that each coil has %v.", word(fmt.Sprint(runs)), word(fmt.Sprint(runs/c.Ways)))
			}}
			if _, r, err := rerun(e, o.changes...); err == nil {
				return f.with(e, o, r)
			}
		}
		return []Finding{f}
	}
	// Cans and pipes share the reasoning; only the field differs.
	path, now := design.CansHeader.Path, 0.0
	if h.Absorber.Cans != nil {
		now = h.Absorber.Cans.Header
	} else if h.Absorber.Pipes != nil {
		path, now = design.PipesHeader.Path, h.Absorber.Pipes.Header
	}
	f := Finding{ID: "uneven-tubes", Severity: Loss, Topic: Construction, Title: "Airflow is uneven between the tubes",
		Finding:  say("The tube with the least air gets %v of the mean airflow.", q(units.Share, e.Running.Evenness)),
		Evidence: say("Headers %v high change the air speed so much from tube to tube that it prefers one side.", q(units.Length, now))}
	var options []option
	// Where outlet and inlet lie decides which way the headers are fed.
	if design.AirPortPlaces.Applies(h) {
		for _, places := range []string{"opposite", "same-side"} {
			if places == h.Air.PortPlaces {
				continue
			}
			options = append(options, option{[]design.Change{design.Set(design.AirPortPlaces, places)}, func(r collector.Result) Text {
				return say("Place the outlet %v: the tube with the least air then gets %v of the mean.", word(placed[places]),
					q(units.Share, r.Evenness))
			}})
		}
	}
	for _, k := range []float64{1.25, 1.5, 2, 3} {
		tall := min(highestHeader, math.Round(100*now*k)/100)
		if tall <= now+0.005 {
			continue
		}
		changes := []design.Change{change(path, tall)}
		if c := h.Absorber.Cans; c != nil { // higher headers cost length of columns
			if rows := max(1, c.MostRows(h.ApertureHeight()-2*tall)); rows < c.Rows {
				changes = append([]design.Change{design.Set(design.CansRows, rows)}, changes...)
			}
		}
		options = append(options, option{changes, func(r collector.Result) Text {
			return say("Make the headers %v high instead of %v: the tube with the least air then gets %v of the mean.",
				q(units.Length, tall), q(units.Length, now), q(units.Share, r.Evenness))
		}})
	}
	if o, r, ok := best(e, 0.01, options); ok {
		return f.with(e, o, r)
	}
	f.Severity, f.Remedy = Note, say("Leave it: higher headers or another place of the outlet would give hardly more heat.")
	return []Finding{f}
}

// highestHeader is that which is offered for tubes, m.
const highestHeader = 0.4

// placed says where an outlet lies by its inlet.
var placed = map[string]string{"opposite": "at the opposite corner", "same-side": "straight above the inlet"}

// unevenWidth: an outlet straight above the inlet leaves the far side of a plate
// the longer way, and less air. The heat with that is computed (package
// collector, ports), so that the gain of the opposite corner is a rerun.
func unevenWidth(e *assessment) []Finding {
	h := &e.Heater
	if h.Absorber.Plate == nil || e.Running.Evenness <= 0 || e.Running.Evenness >= 0.97 || !h.OneAbove() {
		return nil
	}
	f := Finding{ID: "uneven-width", Severity: Note, Topic: Construction, Title: "Airflow is uneven across the box",
		Finding:  say("The side far from the ports gets %v of the mean airflow.", q(units.Share, e.Running.Evenness)),
		Evidence: say("Inlet and outlet lie one above the other, and the way along the far side is longer."),
		Remedy:   say("Leave it where the wall allows no other place: the other arrangements give no more heat.")}
	var options []option
	for _, places := range []string{"opposite", "both-bottom", "both-top"} {
		options = append(options, option{[]design.Change{design.Set(design.AirPortPlaces, places)}, func(r collector.Result) Text {
			if places == "opposite" {
				return say("Place the outlet at the opposite corner: the heat to the room is then %v.", q(units.Power, r.Warms()))
			}
			return say("Place both ports at one end and fold the air path with a divider: %v at %v.", q(units.Power, r.Warms()),
				q(units.Temperature, r.Outlet))
		}})
	}
	if o, r, ok := best(e, 0, options); ok {
		f.Severity = Loss
		return f.with(e, o, r)
	}
	return []Finding{f}
}

// tightColumns: glued joints make columns longer than the headers expect.
// It shows when the second header is fixed over the first columns and the last
// ones do not go in any more: a mistake that can only be mended by a saw.
func tightColumns(e *assessment) []Finding {
	h := &e.Heater
	c := h.Absorber.Cans
	if c == nil {
		return nil
	}
	// What is left between the headers, m, and what the beads will take.
	need := c.Joint * float64(c.Rows+1)
	room := h.ApertureHeight() - 2*c.Header - c.Column() + need
	if room >= need-1e-9 {
		return nil
	}
	f := Finding{ID: "tight-columns", Severity: Fault, Topic: Construction, Title: "The can columns will not fit",
		Finding: say("%v cans leave %v between the headers; their glued joints need %v.", word(fmt.Sprint(c.Rows)),
			q(units.Length, max(0, room)), q(units.Length, need)),
		Evidence: say("Each bead of silicone adds about %v, which shows only when the second header is fixed.", q(units.Length, c.Joint)),
		Remedy:   say("Leave the upper header loose until the last column is in place.")}
	if c.Rows > 1 {
		o := option{[]design.Change{design.Set(design.CansRows, c.Rows-1)}, func(collector.Result) Text {
			return say("Use %v cans in a column, and fix the upper header last.", word(fmt.Sprint(c.Rows-1)))
		}}
		if _, r, err := rerun(e, o.changes...); err == nil {
			return f.with(e, o, r)
		}
	}
	return []Finding{f}
}

// seriesPipes: passes one after the other cost the fan more than they heat.
// n pipes in series carry the whole flow through n times the length: the
// pressure drop grows with the cube of n against n pipes side by side (n times
// the length at n squared times the dynamic pressure). Said where pipes in
// parallel give 3 % more heat.
func seriesPipes(e *assessment) []Finding {
	p := e.Heater.Absorber.Pipes
	if p == nil || p.Join != "series" || e.Heater.Absorber.Family != design.Downpipes {
		return nil
	}
	f := Finding{ID: "series-pipes", Severity: Loss, Topic: Construction, Title: "Pipes in series restrict the airflow",
		Finding: say("All the air passes all %v pipes in turn, which leaves %v of %v.", word(fmt.Sprint(p.Count)),
			q(units.Flow, e.Running.Volume), q(units.Flow, e.Heater.Air.FanFree)),
		Evidence: say("The pressure drop is %v.", q(units.Pressure, e.Running.PressureDrop))}
	// Low headers would starve some of the pipes, so that their height is part of it.
	var options []option
	usual, _ := design.PipesHeader.Default(&e.Heater).(float64)
	for _, k := range []float64{1, 1.5, 2, 3} {
		tall := min(highestHeader, math.Round(100*usual*k)/100)
		options = append(options, option{[]design.Change{design.Set(design.PipesJoin, "parallel"),
			design.Set(design.PipesHeader, tall)},
			func(r collector.Result) Text {
				return say("Connect the pipes in parallel between two headers %v high: %v at %v.", q(units.Length, tall),
					q(units.Flow, r.Volume), q(units.Temperature, r.Outlet))
			}})
	}
	o, r, ok := best(e, 0.03, options)
	if !ok {
		return nil
	}
	return f.with(e, o, r)
}

// smallHoles: a box without a fan breathes through its holes.
// Without a fan the flow is where the lift of the warm air equals the losses of
// ports and box. Wider ports and one more at each end are tried; 8 % more heat
// is worth drilling.
func smallHoles(e *assessment) []Finding {
	h := &e.Heater
	if h.Fanned() || h.Indoors() {
		return nil
	}
	f := Finding{ID: "small-holes", Severity: Loss, Topic: Construction, Title: "The ports restrict the airflow",
		Finding: say("The natural draft is %v, and the ports let %v through.", q(units.Pressure, e.Running.Lift),
			q(units.Flow, e.Running.Volume)),
		Evidence: say("The outlet air is at %v, and %v of the sun is lost through the glazing.", q(units.Temperature, e.Running.Outlet),
			q(units.Share, e.Running.Energy.Front/e.Running.Energy.Sun))}
	var options []option
	for _, k := range []float64{1.25, 1.5} {
		d := h.Air.Diameter * k
		options = append(options, option{[]design.Change{design.Set(design.AirDiameter, d)}, func(r collector.Result) Text {
			return say("Make the ports %v wide: %v at %v.", q(units.Bore, d), q(units.Flow, r.Volume), q(units.Temperature, r.Outlet))
		}})
	}
	options = append(options, option{[]design.Change{design.Set(design.AirPorts, min(12, h.Air.Ports+1))}, func(r collector.Result) Text {
		return say("Drill %v ports at each end: %v at %v.", word(fmt.Sprint(min(12, h.Air.Ports+1))), q(units.Flow, r.Volume),
			q(units.Temperature, r.Outlet))
	}})
	if o, r, ok := best(e, 0.08, options); ok {
		return f.with(e, o, r)
	}
	return nil
}

// plugged: nothing stops a plain plug when the sun goes.
// The night of [Night] is run with the fan on. What the room loses is the gain
// of a thermostat, for each hour of such a night.
func plugged(e *assessment) []Finding {
	h := &e.Heater
	sw := thermostat.New(h)
	if sw.Kind != thermostat.Plug {
		return nil
	}
	d, err := collector.Describe(h)
	if err != nil {
		return nil
	}
	c := Night(e.Evaluation)
	r, err := d.Rate(c, collector.Tuning{}, nil)
	if err != nil {
		return nil
	}
	return []Finding{{ID: "plugged", Severity: Fault, Topic: Control, Title: "The fan cools the room after sunset",
		Finding: say("A fan that is always on blows the room's heat out through the box at night: %v.",
			q(units.Power, max(0, -r.Warms()))),
		Evidence: say("At %v outdoors, air enters the box at %v and comes back at %v.", q(units.Temperature, c.Ambient),
			q(units.Temperature, c.Inlet), q(units.Temperature, r.Outlet)),
		Remedy: say("Fit a snap disc at the top of the box."), Patch: []design.Change{design.Set(design.SwitchKind, "snap")},
		Gain: max(0, -r.Warms()), HasGain: true, When: "by night"}}
}

// betterBare: a panel behind a window that lets in more by itself.
// Sun that falls through the bare window warms the room without any panel.
// Result.Heat of a panel is what it gives beyond that; from 2 % of the sun it
// is worth its place.
func betterBare(e *assessment) []Finding {
	if !e.Heater.Indoors() || e.Running.Heat > 0.02*e.Running.Energy.Sun {
		return nil
	}
	return []Finding{{ID: "bare-window", Severity: Fault, Topic: Construction, Title: "The bare window gives more heat",
		Finding: say("The window alone would give %v; with the panel it gives %v.", q(units.Power, e.Running.Bare),
			q(units.Power, e.Running.Bare+e.Running.Heat)),
		Evidence: say("Sun through the window warms the room anyway. The panel only turns it into warm air sooner, and it warms the pane."),
		Remedy:   say("Use the panel only for shade and quick warmth, or where the sun would not fall into the room.")}}
}

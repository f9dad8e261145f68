package advice

import (
	"gladember/core/air"
	"gladember/core/collector"
	"gladember/core/design"
	"gladember/core/units"
)

// bareDuct: ducts that cross the open lose what the box gained.
// Said from 4 % of the heat; a fault from half of it, where the duct would
// better not be built as it is. The remedy is the insulated duct of the catalog
// on both ways.
func bareDuct(e *assessment) []Finding {
	h := &e.Heater
	if e.Running.DuctLoss < 0.04*e.Running.Heat || e.Running.Heat <= 0 || h.Air.Duct == "insulated" {
		return nil
	}
	f := Finding{ID: "bare-duct", Severity: Loss, Topic: Construction, Title: "Ducts lose heat outdoors",
		Finding: say("Bare ducts from the stand lose %v of the %v that the box gives.", q(units.Power, e.Running.DuctLoss),
			q(units.Power, e.Running.Heat)),
		Evidence: say("There are %v of duct at %v outdoors.", q(units.Distance, h.Air.ToBox+h.Air.FromBox),
			q(units.Temperature, e.Running.Conditions.Ambient))}
	if e.Running.DuctLoss > 0.5*e.Running.Heat {
		f.Severity, f.Title = Fault, "Ducts outdoors lose most of the heat"
	}
	c := []design.Change{design.Set(design.AirDuct, "insulated")}
	_, r, err := rerun(e, c...)
	if err != nil {
		return nil
	}
	f.Remedy, f.Patch = say("Insulate the ducts: the loss is then %v.", q(units.Power, r.DuctLoss)), c
	f.Gain, f.HasGain = worth(&r)-worth(&e.Running), true
	return []Finding{f}
}

// leaky: what the seams lose or let in.
// The leak is counted in both forms that it takes: warm air that leaves through
// the seams of a box above room pressure, and cold air that enters one below it
// and has to be warmed (MakeUp). A third of the leakage is what one more round
// of caulk is taken to reach; common practice, no source.
func leaky(e *assessment) []Finding {
	h := &e.Heater
	leak := func(r *collector.Result) float64 { return r.Energy.Leak + r.MakeUp }
	if leak(&e.Running) < 0.04*e.Running.Energy.Sun {
		return nil
	}
	f := Finding{ID: "leaky", Severity: Loss, Topic: Construction, Title: "The box leaks air",
		Finding: say("Leaks at the seams cost %v, %v of the sun.", q(units.Power, leak(&e.Running)),
			q(units.Share, leak(&e.Running)/e.Running.Energy.Sun)),
		Evidence: say("The box is at %v relative to outdoors, and outdoor air replaces what leaks.",
			q(units.Pressure, e.Running.BoxPressure))}
	o, r, ok := best(e, 0.01, []option{{[]design.Change{design.Set(design.BoxSeam, h.Box.Seam/3)}, func(r collector.Result) Text {
		return say("Caulk the seams once more: a third of the leakage costs only %v.", q(units.Power, leak(&r)))
	}}})
	if !ok {
		return nil
	}
	return f.with(e, o, r)
}

// coldBridge: foam that stops inside the frame.
// Said from 12 % of the sun. Thicker insulation on the back is tried in the two
// usual thicknesses, and lining the frame where it is bare or thin: without
// foam at the sides the frame itself carries the heat out.
func coldBridge(e *assessment) []Finding {
	h := &e.Heater
	if h.Indoors() || e.Running.Energy.Back+e.Running.Energy.Edge < 0.12*e.Running.Energy.Sun {
		return nil
	}
	f := Finding{ID: "thin-insulation", Severity: Loss, Topic: Construction, Title: "Back and sides lose heat",
		Finding: say("The back loses %v and the sides %v, together %v of the sun.", q(units.Power, e.Running.Energy.Back),
			q(units.Power, e.Running.Energy.Edge), q(units.Share, (e.Running.Energy.Back+e.Running.Energy.Edge)/e.Running.Energy.Sun)),
		Evidence: say("There are %v of insulation on the back and %v at the sides.", q(units.Length, h.Box.BackFoam),
			q(units.Length, h.Box.EdgeFoam))}
	var options []option
	for _, x := range []float64{0.025, 0.05} {
		if x > h.Box.BackFoam {
			options = append(options, option{[]design.Change{design.Set(design.BoxBackFoam, x)}, func(r collector.Result) Text {
				return say("Use %v of insulation on the back: it then loses %v.", q(units.Length, x), q(units.Power, r.Energy.Back))
			}})
		}
		if x > h.Box.EdgeFoam && x < 0.04 {
			options = append(options, option{[]design.Change{design.Set(design.BoxEdgeFoam, x)}, func(r collector.Result) Text {
				return say("Line the frame with %v of insulation: the sides then lose %v.", q(units.Length, x),
					q(units.Power, r.Energy.Edge))
			}})
		}
	}
	if h.Box.Under == 0 && h.Box.Body == "timber" {
		options = append(options, option{[]design.Change{design.Set(design.BoxUnderFrame, 0.02)}, func(r collector.Result) Text {
			return say("Put a strip of %v of insulation between frame and wall: the sides then lose %v.", q(units.Length, 0.02),
				q(units.Power, r.Energy.Edge))
		}})
	}
	if o, r, ok := best(e, 0.02, options); ok {
		return f.with(e, o, r)
	}
	return nil
}

// dewOnCover: the room's damp on the cold cover.
// Water condenses where a face is colder than the dew point of the air that
// touches it, so only boxes whose room air sweeps the glazing are asked, and
// the coldest segment of the innermost sheet decides.
func dewOnCover(e *assessment) []Finding {
	h := &e.Heater
	if h.Air.Source == "outdoors" || e.Running.Mass <= 0 {
		return nil
	}
	m, err := air.NewMoist(h.Room.Air, h.Room.Humidity, e.Running.Conditions.Pressure)
	if err != nil {
		return nil
	}
	dew := m.DewPoint()
	cold := e.Running.CoverInner
	swept := h.Absorber.Family == design.FrontPassPlate || h.Absorber.Family == design.DoublePassPlate ||
		h.Absorber.Family == design.PassiveBox || h.Absorber.Screens != nil || h.Indoors()
	if cold >= dew || !swept {
		return nil
	}
	// Below freezing it is frost, which stays until the sun has melted it.
	what := "Water"
	if cold < 0 {
		what = "Frost"
	}
	return []Finding{{ID: "dew", Severity: Note, Topic: Construction, Title: what + " on the cover",
		Finding: say("The room air condenses below %v; the inside of the glazing is at %v where it is coldest.",
			q(units.Temperature, dew), q(units.Temperature, cold)),
		Evidence: say("Room air of %v at %v humidity touches it.", q(units.Temperature, h.Room.Air), q(units.Share, h.Room.Humidity)),
		Remedy:   say("Leave drain holes along the bottom, and dry the room. A second glazing keeps the inner one warmer.")}}
}

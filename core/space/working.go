package space

import (
	"gladember/core/collector"
	"gladember/core/design"
	"gladember/core/units"
)

// Workings returns how the figures of a space came to be, by key: loss, at
// inside and outdoors in C, rule, and, with a flow in m3/s through the box,
// change.
func Workings(h *design.Heater, s *Space, inside, outdoors, flow float64) map[string]collector.Working {
	source := "walls, roof, floor, windows and drafts added up: ISO 6946 layers, ISO 13370 for the ground"
	if s.Given {
		source = "the loss you gave"
	}
	ws := map[string]collector.Working{
		"loss": {Name: "Heating load", Kind: units.Power, Value: s.DesignLoss(inside, outdoors), Formula: "L * (Ti - To) - G",
			Terms: []collector.Term{{Symbol: "L", Meaning: "what it loses for each degree", Kind: units.Number, Value: s.Loss,
				Unit: "W/K", Source: source},
				{Symbol: "Ti", Meaning: "inside", Kind: units.Temperature, Value: inside, Source: "what you want it to be"},
				{Symbol: "To", Meaning: "outdoors on a design day", Kind: units.Temperature, Value: outdoors,
					Source: "your coldest month and its clear nights"},
				{Symbol: "G", Meaning: "heat of people and lamps", Kind: units.Power, Value: s.Gains,
					Source: "your entry, or ours by the kind of space"}},
			Note: "Without sun through the windows; never below zero."},
		"rule": {Name: "Rule of thumb", Kind: units.Area, Value: RuleOfThumb(h.Room.Floor), Formula: "F / 10",
			Terms: []collector.Term{{Symbol: "F", Meaning: "floor", Kind: units.Area, Value: h.Room.Floor, Source: "your space"}},
			Note:  "Common practice: one part of glass helps ten of floor while the sun shines. It knows neither the place nor the walls."},
	}
	if flow > 0 {
		ws["change"] = collector.Working{Name: "One room air change, minutes", Kind: units.Number, Value: s.AirChange(flow),
			Formula: "V / q / 60",
			Terms: []collector.Term{{Symbol: "V", Meaning: "air in the space", Kind: units.Number, Value: s.Volume, Unit: "m3",
				Source: "floor times height"}, {Symbol: "q", Meaning: "air through the box", Kind: units.Flow, Value: flow,
				Source: "where the fan's curve meets the resistance"}},
			Note: "Minutes. Under about ten the whole room is stirred."}
	}
	return ws
}

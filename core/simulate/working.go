package simulate

import (
	"math"

	"gladember/core/collector"
	"gladember/core/units"
)

// Workings returns how the figures of a day came to be, by key: heat, running and fan.
func Workings(d *Day) map[string]collector.Working {
	hours := d.RunMinutes / 60
	const steps = "the box's whole network with what its layers store, by half minutes, every ten seconds near the switch's points"
	mean := 0.0
	if hours > 0 {
		mean = 1000 * d.Heat / hours
	}
	running := collector.Term{Symbol: "t", Meaning: "hours with air moving", Kind: units.Number, Value: hours, Unit: "h", Source: "the switch and its sensor, step by step"}
	return map[string]collector.Working{
		"heat": {Name: "Heat of the day", Kind: units.Energy, Value: d.Heat, Formula: "P * t / 1000",
			Terms: []collector.Term{{Symbol: "P", Meaning: "mean heat to the room while air moves", Kind: units.Power, Value: mean, Source: steps}, running},
			Note:  "Warm-up is in it: what the layers and stones took in is missing from it until they give it back."},
		"running": {Name: "Hours with air moving", Kind: units.Number, Value: hours, Formula: "n * a / 60",
			Terms: []collector.Term{{Symbol: "n", Meaning: "starts", Kind: units.Number, Value: float64(d.Cycles), Source: steps}, {Symbol: "a", Meaning: "mean length of a run", Kind: units.Number, Value: d.RunMinutes / math.Max(1, float64(d.Cycles)), Unit: "min", Source: steps}}},
		"fan": {Name: "Electricity for the fan", Kind: units.Energy, Value: d.Fan, Formula: "W * t / 1000",
			Terms: []collector.Term{{Symbol: "W", Meaning: "mean power while it runs", Kind: units.Power, Value: 1000 * d.Fan / math.Max(1e-9, hours), Source: "the fan's label"}, running}},
	}
}

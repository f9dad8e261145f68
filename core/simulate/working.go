package simulate

import (
	"fmt"

	"gladember/core/collector"
	"gladember/core/units"
)

// Workings returns how the figures of a day came to be, by key: heat, running
// and fan.
func Workings(d *Day) map[string]collector.Working {
	const steps = "the box's whole network with what its layers store, by half minutes, every ten seconds near the switch's points"
	heat := collector.Working{Name: "Heat of the day", Kind: units.Energy, Value: d.Heat, Formula: "S - R - L - K",
		Note: "The heat that layers and stones store while they warm up comes later."}
	term := func(symbol, meaning string, kWh float64, source string) {
		heat.Terms = append(heat.Terms, collector.Term{Symbol: symbol, Meaning: meaning, Kind: units.Energy, Value: kWh, Source: source})
	}
	term("S", "sun on the glass", d.Sun, "the day's weather, past eave, horizon and frame")
	term("R", "bounced off", d.Reflected, "glazing and absorber, by the sun's angle")
	term("L", "lost through front, back, edge and leaks", d.Lost, steps)
	term("K", "still in the box at the end", d.Stored, steps)
	if d.Ducts != 0 {
		heat.Formula += " - D"
		term("D", "lost by ducts outdoors", d.Ducts, "their insulation, length and bore")
	}
	if d.MakeUp != 0 {
		heat.Formula += " - M"
		term("M", "warms outdoor air that replaces in the room what leaks", d.MakeUp, "the box's pressure and its seams")
	}
	if d.Bare != 0 {
		heat.Formula += " - B"
		term("B", "what the bare window would have given", d.Bare, "the window's own balance")
	}
	hours := d.RunMinutes / 60
	return map[string]collector.Working{
		"heat": heat,
		"running": {Name: "Running time, hours", Kind: units.Number, Value: hours, Formula: "the thermostat and its sensor, step by step",
			Note: fmt.Sprintf("%d starts; the longest run %.0f minutes.", d.Cycles, d.Longest)},
		"fan": {Name: "Electricity for the fan", Kind: units.Energy, Value: d.Fan, Formula: "its power, added up while it runs",
			Note: "A fan on its own solar panel uses none from the mains."},
	}
}

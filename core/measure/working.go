package measure

import (
	"math"

	"gladember/core/collector"
	"gladember/core/units"
)

// Workings returns how the headline figures of a logged day, and of the whole
// log, came to be, by key: day, eff, total, peak, useful, fan.
// By the figure's name, each with its terms, for a page to open.
func Workings(d Day, r *Report, set Setup) map[string]collector.Working {
	scaled := func(by float64) *collector.Band {
		b := collector.Band{Value: d.Heat * by, Low: d.Band[0] * by, High: d.Band[1] * by, U: (d.Band[1] - d.Heat) / 2 * by}
		for _, c := range r.Causes {
			share := 0.0
			if r.Heat > 0 {
				share = d.Heat / r.Heat
			}
			b.Causes = append(b.Causes, collector.Cause{Name: c.Name, Effect: c.Effect * share * by})
		}
		return &b
	}
	flow := map[FlowOrigin]string{FlowGiven: "the flow you gave", FlowPredicted: "worked out from fan and ducts",
		FlowMeasured: "fan and ducts, as measured",
		FlowFreeAir:  "the fan's label", FlowSpeed: "the logged speed times 0.82"}[r.FlowOrigin]
	cp := 0.0
	if x := d.Flow * d.Rise * d.RunHours; x > 0 {
		cp = d.Heat * 1000 / x
	}
	ws := map[string]collector.Working{
		"day": {Name: "Heat of the day", Kind: units.Energy, Value: d.Heat, Formula: "m * cp * D * h / 1000", Band: scaled(1),
			Terms: []collector.Term{
				{Symbol: "m", Meaning: "air out of the box while the fan ran", Kind: units.MassFlow, Value: d.Flow, Source: flow},
				{Symbol: "cp", Meaning: "heat that a kilogram of air takes up per degree", Kind: units.Number, Value: cp, Unit: "J/kgK",
					Source: "Incropera & DeWitt table A.4"},
				{Symbol: "D", Meaning: "mean rise from inlet to outlet", Kind: units.Rise, Value: d.Rise, Source: "your readings"},
				{Symbol: "h", Meaning: "hours the fan ran", Kind: units.Number, Value: d.RunHours, Unit: "h",
					Source: "your readings and the switch"},
			},
			Note: "Summed reading by reading by the trapezoidal rule; gaps are left out. Both probes have an error of half a degree, " +
				"partly the same, which lasts all day and does not average out (GUM, JCGM 100)."},
		"peak": {Name: "Highest outlet temperature", Kind: units.Temperature, Value: d.Peak,
			Formula: "the highest outlet reading while the fan ran",
			Band: &collector.Band{Value: d.Peak, Low: d.Peak - 2*uProbe, High: d.Peak + 2*uProbe, U: uProbe,
				Causes: []collector.Cause{{Name: "the outlet probe", Effect: uProbe}}}},
		"useful": {Name: "Useful hours", Kind: units.Number,
			Value: d.Useful, Formula: "hours with the fan on and the outlet above the useful temperature",
			Band: &collector.Band{Value: d.Useful, Low: max(0, d.Useful-2*usefulDoubt(d)), High: d.Useful + 2*usefulDoubt(d),
				U: usefulDoubt(d), Causes: []collector.Cause{{Name: "time between two readings at each start and stop",
					Effect: usefulDoubt(d)}}},
			Terms: []collector.Term{{Symbol: "mark", Meaning: "useful from", Kind: units.Temperature, Value: set.UsefulAbove,
				Source: "your choice"}}},
		"total": {Name: "Heat of the whole log", Kind: units.Energy, Value: r.Heat, Formula: "the sum of its days",
			Band: &collector.Band{Value: r.Heat, Low: r.Band[0], High: r.Band[1], U: r.U, Causes: causesOf(r)},
			Terms: []collector.Term{{Symbol: "days", Meaning: "days in the log", Kind: units.Number, Value: float64(len(r.Days)),
				Source: "your readings"}},
			Note: "The flow is wrong by the same share every day: its uncertainty does not shrink with more days."},
	}
	hours := usefulDoubt(d)
	if set.FanPower > 0 {
		e, u := d.FanEnergy(set.FanPower), hours*set.FanPower/1000
		ws["fan"] = collector.Working{Name: "Fan energy", Kind: units.Metered, Value: e, Formula: "P * h / 1000",
			Band: &collector.Band{Value: e, Low: max(0, e-2*u), High: e + 2*u, U: u,
				Causes: []collector.Cause{{Name: "time between two readings at each start and stop", Effect: u}}},
			Terms: []collector.Term{
				{Symbol: "P", Meaning: "power of the fan at its operating point", Kind: units.Electric, Value: set.FanPower,
					Source: "the fan as it is described"},
				{Symbol: "h", Meaning: "hours the fan ran", Kind: units.Number, Value: d.RunHours, Unit: "h",
					Source: "your readings and the switch"}},
			Note: "The power is taken as it stands; a meter at the plug tells it better."}
	}
	if d.Sun > 0 {
		from := map[string]string{"measured": "your sun meter",
			"of a clear sky": "clear-sky model of Ineichen & Perez: an upper bound on a cloudy day"}[r.SunIs]
		ws["eff"] = collector.Working{Name: "Efficiency", Kind: units.Share, Value: d.Efficiency(), Formula: "Q / S",
			Band: scaled(1 / d.Sun),
			Terms: []collector.Term{{Symbol: "Q", Meaning: "heat that day", Kind: units.Energy, Value: d.Heat, Source: "its own working"},
				{Symbol: "S", Meaning: "sun on the clear opening while logged", Kind: units.Energy, Value: d.Sun, Source: from}},
			Note: "On the clear opening, over the whole logged day, the hours before the fan starts included. The sun is taken as it " +
				"stands."}
	}
	return ws
}

// usefulDoubt is one sigma of the useful hours: a minute at each end of a run.
func usefulDoubt(d Day) float64 { return math.Sqrt(float64(2*len(d.Runs))) / 60 }

func causesOf(r *Report) (out []collector.Cause) {
	for _, c := range r.Causes {
		out = append(out, collector.Cause{Name: c.Name, Effect: c.Effect})
	}
	return out
}

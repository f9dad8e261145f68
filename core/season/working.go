package season

import (
	"fmt"
	"time"

	"gladember/core/catalog"
	"gladember/core/collector"
	"gladember/core/design"
	"gladember/core/units"
)

// termOf is a quantity in a working; one with a unit of its own is a plain
// number.
// termOf, number and energy make the terms of a working.
func termOf(symbol, meaning string, k units.Kind, v float64, unit, source string) collector.Term {
	return collector.Term{Symbol: symbol, Meaning: meaning, Kind: k, Value: v, Unit: unit, Source: source}
}

func number(symbol, meaning string, v float64, unit, source string) collector.Term {
	return termOf(symbol, meaning, units.Number, v, unit, source)
}

// energy is a term in kWh.
func energy(symbol, meaning string, v float64, source string) collector.Term {
	return termOf(symbol, meaning, units.Energy, v, "", source)
}

// Workings returns how the figures of a year came to be, by key: useful,
// fraction, heat, fan, run, stagnation, and, in a heated space, saved, simple,
// discounted, fuel, carbon, perkwh and pv. Bands may be nil while they are
// still worked out.
// b may be nil before the bands are known. The keys are those of the figures on
// the page, and a test evaluates each formula again.
func Workings(h *design.Heater, r *Result, m *Money, b *Bands) (map[string]collector.Working, error) {
	fuel, err := h.Fuel()
	if err != nil {
		return nil, err
	}
	ws := r.heatWorkings(h)
	if r.Aperture > 0 {
		ws["pv"] = collector.Working{Name: "Solar electric panels of the same area", Kind: units.Energy, Value: m.PV,
			Formula: "S / A * G * n * q",
			Terms: []collector.Term{energy("S", "sun on the glass", r.Year.Sun, "weather of "+r.Source),
				termOf("A", "clear opening", units.Area, r.Aperture, "", "your pane"), termOf("G", "outer size of the box", units.Area,
					r.Gross, "", "its drawing"),
				number("n", "efficiency of a panel", pvEfficiency, "", "common practice, no source"),
				number("q", "what a roof really gives of that", pvRatio, "", "common practice, no source")}}
	}
	if fuel.ID != "none" {
		m.workings(ws, h, fuel, &r.Year)
	}
	if b != nil {
		for key, band := range map[string]collector.Band{"useful": b.Useful, "heat": b.Heat} {
			w := ws[key]
			w.Band = &band
			ws[key] = w
		}
	}
	return ws, nil
}

// byMonth is a working that adds the months up.
// of picks what is summed.
func (r *Result) byMonth(w collector.Working, unit, source string, of func(*Month) float64) collector.Working {
	w.Value = of(&r.Year)
	for i := range r.Months {
		t := termOf(fmt.Sprintf("m%d", i+1), time.Month(i+1).String(), w.Kind, of(&r.Months[i]), unit, source)
		if i > 0 {
			w.Formula += " + "
		}
		w.Formula += t.Symbol
		w.Terms = append(w.Terms, t)
	}
	return w
}

// heatWorkings are those of the heat, the hours and the temperatures.
func (r *Result) heatWorkings(h *design.Heater) map[string]collector.Working {
	y := &r.Year
	const twin = "the space run through the same weather twice, ISO 13790 five-resistance model"
	const balance = "the box's heat balance and its switch, quarter hour by quarter hour"
	ws := map[string]collector.Working{
		"useful": {Name: "Useful heat a year", Kind: units.Energy, Value: y.Useful, Formula: "N - R",
			Terms: []collector.Term{energy("N", "heat the space needs without the box", y.Need, twin),
				energy("R", "heat it still needs with it", y.Left, twin)},
			Note: "Heat that only warms a room past what is wanted, or that windows let out, is not in it."},
		"heat": r.byMonth(collector.Working{Name: "Heat delivered", Kind: units.Energy,
			Note: "Each quarter hour has its own balance, start-up loss and switch, in the weather of " + r.Source + "."},
			"", balance, func(m *Month) float64 { return m.Heat }),
		"fan": r.byMonth(collector.Working{Name: "Electricity for fans a year", Kind: units.Energy,
			Note: "A fan on a solar panel of its own buys none."},
			"", "your fan's label and what moves the warm air on, while they run", func(m *Month) float64 { return m.Fan }),
		"run": r.byMonth(collector.Working{Name: "Running time a year", Kind: units.Number, Note: fmt.Sprintf("In %d starts.", y.Cycles)},
			"h", balance, func(m *Month) float64 { return m.Run }),
		"stagnation": {Name: collector.StandingName(h) + collector.AtWorst, Kind: units.Temperature, Value: r.Stagnation,
			Formula: "the heat balance without airflow, in the hottest quarter of an hour of the year",
			Note:    "What insulation, film, tape and wood must withstand; the box station sets it against their limits."},
	}
	if y.Need > 0 {
		ws["fraction"] = collector.Working{Name: "Share of the heating need", Kind: units.Share, Value: y.Fraction(), Formula: "U / N",
			Terms: []collector.Term{energy("U", "useful heat", y.Useful, "its own working"),
				energy("N", "heat the space needs without the box", y.Need, twin)}}
	}
	return ws
}

// workings adds those of fuel and money.
func (m *Money) workings(ws map[string]collector.Working, h *design.Heater, fuel catalog.Fuel, y *Month) {
	money := func(symbol, meaning string, v float64) collector.Term {
		return number(symbol, meaning, v, collector.Money, "your entry")
	}
	one := fuel.Units[0].One()
	heat := number("H", "heat in one "+one, fuel.Heat, "kWh", fuel.Source)
	ws["fuel"] = collector.Working{Name: "Fuel saved, in " + m.Unit, Kind: units.Number, Value: m.Units, Formula: "U / (H * e)",
		Terms: []collector.Term{energy("U", "useful heat", y.Useful, "its own working"),
			heat, number("e",
				"share of it the heater brings into the room", fuel.Efficiency, "", fuel.Source)}}
	ws["saved"] = collector.Working{Name: "Money saved a year", Kind: units.Number, Value: m.Saved, Formula: "F * p - E * k",
		Terms: []collector.Term{number("F", "fuel not burned", m.Units, m.Unit, "its own working"),
			money("p", "price of one "+one, h.Money.FuelPrice), energy("E", "electricity for fans", y.Fan, "its own working"),
			money("k", "price of a kWh", h.Money.Electricity)}}
	ws["carbon"] = collector.Working{Name: "CO2 avoided, kg", Kind: units.Number, Value: m.Carbon, Formula: "F * H * c - E * g",
		Terms: []collector.Term{number("F", "fuel not burned", m.Units, m.Unit, "its own working"),
			heat, number("c", "CO2 of a kWh of it", fuel.Carbon, "kg",
				fuel.Source), energy("E", "electricity for fans", y.Fan, "its own working"),
			number("g", "CO2 of a kWh from the grid", gridCarbon, "kg", "common practice, no source")}}
	if m.Saved > 0 && h.Money.Spent > 0 {
		ws["simple"] = collector.Working{Name: "Payback, years", Kind: units.Number, Value: m.Simple, Formula: "C / s",
			Terms: []collector.Term{money("C", "spent on it, salvage at nothing", h.Money.Spent),
				number("s", "saved a year", m.Saved, collector.Money, "its own working")}}
	}
	if y.Useful > 0 {
		ws["perkwh"] = collector.Working{Name: "Cost of a useful kWh", Kind: units.Number, Value: m.PerKWh, Formula: "(C * a + E * k) / U",
			Terms: []collector.Term{money("C", "spent on it", h.Money.Spent), number("a",
				"share of that a year, with interest over the box's life", annuity(h.Money.Interest, h.Money.Years), "", "annuity"),
				energy("E", "electricity for fans", y.Fan, "its own working"), money("k", "price of a kWh", h.Money.Electricity),
				energy("U", "useful heat", y.Useful, "its own working")}}
	}
}

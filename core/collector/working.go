package collector

import (
	"slices"

	"gladember/core/air"
	"gladember/core/design"
	"gladember/core/units"
)

// Money is the unit of a term that is a sum of money, whose sign the reader knows.
const Money = "money"

// Term is one input of a figure.
type Term struct {
	// Symbol is what stands in the formula, and Meaning what it is in words.
	Symbol  string
	Meaning string
	Kind    units.Kind
	// Value is in SI.
	Value float64
	// Unit is the SI unit, for the working, where Kind is a plain number.
	Unit string
	// Source says where the value comes from.
	Source string
}

// Working is how a figure came to be: Formula in the terms' symbols with + - *
// / and brackets gives Value when the terms' values are put in.
type Working struct {
	// Name is the figure's.
	Name string
	Kind units.Kind
	// Value is what the formula gives, in SI; a test evaluates it again.
	Value float64
	// Formula is in the symbols of Terms, as arithmetic is written.
	Formula string
	Terms   []Term
	// Band is the figure's uncertainty; nil where there is none.
	Band *Band
	// Note is a sentence about what is left out.
	Note string
}

// Values are the terms of a working by their symbols, SI.
func (w *Working) Values() map[string]float64 {
	v := map[string]float64{}
	for _, t := range w.Terms {
		v[t.Symbol] = t.Value
	}
	return v
}

// StandingName is what the temperature of a heater's absorber at rest is called:
// its fan is off, or a box without one is closed.
func StandingName(h *design.Heater) string {
	if h.Fanned() {
		return "Fan-off temperature"
	}
	return "Closed-box temperature"
}

// AtNoon and AtWorst say at which of two moments a standing box is so hot: both
// figures stand on one page.
const (
	AtNoon  = ", clear winter noon"
	AtWorst = ", hottest hour of the year"
)

// Workings returns the headline figures of an evaluation, by key.
func (e *Evaluation) Workings() map[string]Working {
	r, s := &e.Running, &e.Still
	in := Term{"Ti", "air drawn in", units.Temperature, r.Conditions.Inlet, "", "your room's air"}
	m := Term{"m", "air moved", units.MassFlow, r.Mass, "", "where the fan's curve meets the resistance of ducts and box"}
	switch {
	case r.Conditions.Flow > 0:
		m.Source = "the flow you gave"
	case e.Heater.Air.Drive == "natural":
		m.Source = "where the lift of warm air meets the resistance of holes and box"
	}
	cp := Term{"cp", "heat that a kilogram of air takes up per degree", units.Number, r.Cp, "J/kgK", "Incropera & DeWitt table A.4"}
	q := Term{"Q", "heat to the air", units.Power, r.Heat, "", "heat balance of the box"}
	g := Term{"G", "sun on the glass", units.Irradiance,
		r.Energy.Sun / r.Aperture, "", "clear-sky model of Ineichen & Perez, tilted by HDKR"}
	a := Term{"A", "clear opening of the glass", units.Area, r.Aperture, "", "your pane less rest and foam"}
	to := Term{"To", "air out of the box", units.Temperature, r.Outlet, "", "heat balance of the box"}
	p := r.Conditions.Pressure
	rho := Term{"rho", "weight of a cubic meter of that air", units.Number, air.Density(r.Conditions.Inlet, p), "kg/m3",
		"gas law at the place's height"}
	absorbed := s.Energy.Sun - s.Energy.Reflected
	ws := map[string]Working{
		"heat": {Name: "Heat to the room", Kind: units.Power, Value: r.Warms(), Formula: "m * cp * (To - Ti)",
			Terms: []Term{m, cp, to, in}, Band: &e.Heat,
			Note: "The outlet temperature is that at which absorbed sun, losses and heat to the air balance in every part of the box."},
		"efficiency": {Name: "Efficiency", Kind: units.Share, Value: r.Efficiency, Formula: "Q / (G * A)", Terms: []Term{q, g, a},
			Band: &e.Efficiency,
			Note: "Relative to the clear aperture. ISO 9806 also relates it to the whole box."},
		"outlet": {Name: "Outlet temperature", Kind: units.Temperature, Value: r.Outlet, Formula: "Ti + Q / (m * cp)",
			Terms: []Term{in, q, m, cp}, Band: &e.Outlet,
			Note: "More airflow lowers the outlet temperature and carries more heat."},
		"flow": {Name: "Airflow", Kind: units.Flow, Value: r.Volume, Formula: "m / rho", Terms: []Term{m, rho},
			Band: scale(e.Flow, 1/rho.Value), Note: "As volume of room air."},
		"stagnation": {Name: StandingName(&e.Heater), Kind: units.Temperature, Value: s.AbsorberMax, Formula: "Ta + S / U",
			Terms: []Term{{"Ta", "outdoors", units.Temperature, s.Conditions.Ambient, "", "the noon you judge by"},
				{"S", "sun kept by the box", units.Power, absorbed, "", "sun on the glass less what bounces off"},
				{"U", "heat the still box loses per degree", units.Number, absorbed / (s.AbsorberMax - s.Conditions.Ambient), "W/K",
					"heat balance of the still box"}},
			Band: &e.Stagnation, Note: "Without airflow the absorber warms until the losses take all of the sun."},
	}
	if e.Heater.Indoors() {
		air := Term{"Qa", "heat to the air behind the foil", units.Power, r.Energy.Air, "", "heat balance of the panel"}
		side := Term{"Qr", "heat that the foil's room side gives", units.Power, r.Energy.Room, "", "heat balance of the panel"}
		bare := Term{"Qb", "what the bare window would give",
			units.Power, r.Bare, "", "the window's own balance: sun let in less heat lost (EN 673 film inside)"}
		h := ws["heat"]
		h.Formula, h.Terms = "Qa + Qr - Qb", []Term{air, side, bare}
		h.Note = "Only what exceeds the bare window counts. Below zero, the window gives more without the panel."
		ws["heat"] = h
		o := ws["outlet"]
		o.Formula, o.Terms = "Ti + Qa / (m * cp)", []Term{in, air, m, cp}
		ws["outlet"] = o
	}
	// What the room does not keep of it.
	h := ws["heat"]
	for _, t := range []Term{
		{"D", "lost by ducts outdoors", units.Power, r.DuctLoss, "", "their insulation, length and bore"},
		{"M", "warms outdoor air that replaces in the room what leaks from the box", units.Power, r.MakeUp, "",
			"the box's pressure and its seams"},
		{"F", "warms the outdoor air drawn in to the room's temperature", units.Power, r.Airing, "", "the intake lies outdoors"},
	} {
		if t.Value != 0 {
			h.Formula, h.Terms = h.Formula+" - "+t.Symbol, append(slices.Clone(h.Terms), t)
		}
	}
	ws["heat"] = h
	if e.Heater.Air.Drive == "natural" {
		f := ws["flow"]
		f.Note = "As volume of room air. The airflow is that at which the draft of the warm column equals the pressure drop."
		ws["flow"] = f
	}
	return ws
}

// scale multiplies a band and the effect of each of its causes.
func scale(b Band, by float64) *Band {
	s := Band{Value: b.Value * by, Low: b.Low * by, High: b.High * by, U: b.U * by}
	for _, c := range b.Causes {
		s.Causes = append(s.Causes, Cause{c.Name, c.Effect * by, c.Path})
	}
	return &s
}

package measure

import (
	"errors"
	"math"
	"time"

	"gladember/core/air"
	"gladember/core/collector"
	"gladember/core/design"
	"gladember/core/units"
)

// Standard uncertainties of what heat is computed from. The product's own judgment, as those
// of the log.
const (
	// uCenter is of one speed in the middle times 0.82, see [MeanOverCenter].
	uCenter = 0.09
	// uPanel is of a small solar panel as sun meter, and of other cheap ones.
	uPanel = 0.05
	// uClearSky is of a clear-sky sun in an hour.
	uClearSky = 0.05
	// uSurface is of a probe on a hot surface, K.
	uSurface = 2.0
)

// Temperatures that most tests of the heat ask for.
var (
	inletAsk = Ask{ID: "inlet", Label: "Inlet temperature", Kind: units.Temperature, Many: 8, Low: -40, High: 80, Still: 0.6,
		Trap: units.Say("Read the air that enters the box, not the room's other end.")}
	outletAsk = Ask{ID: "outlet", Label: "Outlet temperature", Kind: units.Temperature, Many: 8, Low: -40, High: 200, Still: 0.6,
		Trap: units.Say("A probe that sees the hot absorber or touches metal reads too high; an infrared gun reads shiny metal wrong.")}
	outdoorAsk = Ask{ID: "outdoor", Label: "Outdoor temperature", Kind: units.Temperature, Many: 4, Low: -60, High: 50,
		Trap: units.Say("In the shade and away from the wall: a thermometer in the sun reads itself.")}
	centerAsk = Ask{ID: "center", Label: "Air speed in the middle of the duct", Kind: units.Speed, Optional: true, Low: 0, High: 40,
		Trap: units.Say("One speed in the middle is a fifth above the mean; that is taken off. Without it the predicted flow is used.")}
	sunAsk = Ask{ID: "sun", Label: "Sun in the plane of the glass", Kind: units.Irradiance, Optional: true, Many: 4, Low: 0, High: 1500,
		Trap: units.Say("Without it the sun of a clear sky is taken, which is too much under any haze.")}
	airProbes = []Probe{{AtInlet, units.Say("in the air that enters, in the shade of the duct, touching nothing")},
		{AtOutlet, units.Say("in the air that leaves, a hand's breadth inside the duct, out of sight of the absorber")},
		{AtOutdoor, units.Say("in the shade and off the wall")}}
)

// once asks for a single reading of each.
func once(asks ...Ask) []Ask {
	for i := range asks {
		asks[i].Many = 0
	}
	return asks
}

// heatTrials are the tests of what the box gives.
var heatTrials = []Trial{{
	ID: "quick", Title: "Quick check of the heat", Group: "Quick check", When: InSun, Minutes: 15,
	Tells: units.Say("What the box gives at this moment, beside what it should give."),
	Ready: []string{"three thermometers, or one that you carry round", "if you have one, an anemometer"},
	Do: []units.Text{units.Say("Let the heater run for half an hour in steady sun."),
		units.Say("Read all of them within two minutes.")},
	Spoils: []units.Text{units.Say("Clouds in the last half hour."), units.Say("A thermometer that still moves.")},
	Probes: airProbes,
	Asks:   once(inletAsk, outletAsk, outdoorAsk, centerAsk, sunAsk),
	judge:  judgeQuick,
}, {
	ID: "steady", Title: "Efficiency in steady sun", Group: "Heat", When: InSun, Minutes: 40,
	Tells: units.Say("The share of the sun that becomes heat, and from it how much sun the box takes in."),
	Ready: []string{"probes at inlet and outlet", "a sun meter in the plane of the glass", "a measured airflow"},
	Do: []units.Text{units.Say("Measure the airflow first; without it this test cannot tell too little air from a dirty pane."),
		units.Say("Wait until the outlet temperature is steady, then read everything eight times, two minutes apart.")},
	Spoils: []units.Text{
		units.Say("For home use we allow the sun to wander by {80 W/m²|25 BTU/h·sq ft}, the outdoor air by {2 K|4 °F}, inlet and " +
			"outlet by {1 K|2 °F}; the laboratory standards ISO 9806 and ASHRAE 93 allow about half of that.")},
	Probes: append([]Probe{{AtGlass, units.Say("the sun meter beside the glass, in its plane")}}, airProbes...),
	Asks: []Ask{{ID: "sun", Label: "Sun in the plane of the glass", Kind: units.Irradiance, Many: 8, Low: 200, High: 1500, Still: 80},
		inletAsk, outletAsk, outdoorAsk, centerAsk},
	judge: judgeSteady,
}, {
	ID: "stagnation", Title: "Hottest with the air standing", Group: "Heat", When: InSun, Minutes: 60,
	Tells: units.Say("How hot the box gets when its air stands, which its materials must bear."),
	Ready: []string{"a probe that bears {200 °C|400 °F}", "something to cover the glass with at once"},
	Do: []units.Text{units.Say("Hang the probe at the top of the absorber, in the shade of it."),
		units.Say("At noon stop the air, by its switch or by closing the outlet, and watch until the temperature no longer rises. " +
			"Do this once.")},
	Cautions: []units.Text{units.Say("Stay beside it. Cover the glass at once when anything smokes, smells or sags."),
		units.Say("Parts get far above boiling water: nobody touches the box, and children are kept away.")},
	Spoils: []units.Text{units.Say("A dial past its end, and an infrared gun through the glass: glass hides what is behind it.")},
	Probes: []Probe{{AtTop, units.Say("on the absorber's back or in its shade, at the top")}, airProbes[2]},
	Asks: []Ask{{ID: "hot", Label: "Hottest temperature", Kind: units.Temperature, Many: 6, Low: 20, High: 300, Still: 2}, outdoorAsk,
		sunAsk},
	judge: judgeStagnation,
}, {
	ID: "warmup", Title: "Time to warm up", Group: "Heat", When: InSun, Minutes: 40,
	Tells: units.Say("How quickly the box answers the sun: a light box warms between two clouds, a heavy one does not."),
	Ready: []string{"a cover for the glass", "a stopwatch", "a probe at the outlet"},
	Do: []units.Text{units.Say("Cover the glass and run the fan until the outlet temperature no longer falls; note it."),
		units.Say("Take the cover off, start the watch, and note the outlet temperature when it no longer rises."),
		units.Say("Read from your notes when it had done 63 %% of the way.")},
	Spoils: []units.Text{units.Say("A cloud on the way up.")},
	Probes: airProbes[1:2],
	Asks: []Ask{{ID: "before", Label: "Outlet with the glass covered", Kind: units.Temperature, Low: -40, High: 100},
		{ID: "after", Label: "Outlet at the end", Kind: units.Temperature, Low: -40, High: 200},
		{ID: "time", Label: "Time to 63 % of the way", Kind: units.Duration, Low: 5, High: 14400}},
	suits: blown,
	judge: judgeWarmup,
}}

// conditions are those under which a heat was measured: what was entered, and of a clear sky
// at that moment the rest.
func (c *Case) conditions(flow float64) (at collector.Conditions, sunMeasured bool) {
	set := Setup{Pressure: c.pressure()}
	x := Sample{At: c.At, Inlet: c.first("inlet"), Outdoor: c.first("outdoor")}
	if math.IsNaN(x.Inlet) {
		x.Inlet = c.Heater.Room.Air
	}
	clearSky := collector.ConditionsAt(c.Heater, c.At).Sun.Total()
	sun := clearSky
	if c.has("sun") {
		sun = c.first("sun")
	}
	return conditions(c.Heater, x, sun, set, flow), c.has("sun")
}

// errDark says that a test of the heat was made without sun.
var errDark = errors.New("the sun was not on the glass at that time; correct the time of the test")

// air is the mass flow by the speed in the middle of the duct, or as predicted, as an input,
// kg/s; measured says which.
func (c *Case) air() (in Input, measured bool) {
	if c.has("center") {
		m := MeanOverCenter * c.first("center") * c.Heater.DuctArea() * air.Density(c.first("outlet"), c.pressure())
		return Input{"the airflow", m, uCenter * m}, true
	}
	b := c.Eval.Flow
	return Input{"the airflow", b.Value, b.U}, c.Heater.Entry(design.AirFanStrength).U > 0
}

// heat is m cp (To - Ti) by what was entered, W. Probes that were held together in the dark
// are uncertain by less, and so is their difference.
func (c *Case) heat() (b collector.Band, flow Input, measured bool) {
	flow, measured = c.air()
	probe := uProbe
	if u := c.Heater.Entry(design.LogOutletOff).U; u > 0 {
		probe = u
	}
	in := []Input{flow, c.input("inlet", "the inlet probe", probe, 0), c.input("outlet", "the outlet probe", probe, 0)}
	in[1].Value -= c.Heater.Log.InletOff
	in[2].Value -= c.Heater.Log.OutletOff
	b = Propagate(func(x []float64) float64 { return x[0] * air.Cp((x[1]+x[2])/2) * (x[2] - x[1]) }, in,
		[][]float64{{1, 0, 0}, {0, 1, probeCorrelation}, {0, probeCorrelation, 1}})
	return b, flow, measured
}

// expected evaluates the heater under the conditions of a test; its heat is what thermometers
// in the air see.
func (c *Case) expected(flow float64) (e collector.Evaluation, m Measured, sunMeasured bool, err error) {
	at, sunMeasured := c.conditions(flow)
	if at.Sun.Total() < 50 {
		return e, m, sunMeasured, errDark
	}
	if e, err = collector.Evaluate(c.Heater, at, !sunMeasured); err != nil {
		return e, m, sunMeasured, err
	}
	m = Measured{Name: "Heat", Kind: units.Power, Band: e.Heat}
	if e.Running.Warms() > 0 {
		by := e.Running.Energy.Air / e.Running.Warms()
		m.Value, m.U, m.Low, m.High = e.Running.Energy.Air, e.Heat.U*by, e.Heat.Low*by, e.Heat.High*by
	}
	return e, m, sunMeasured, nil
}

// judgeQuick: the heat of this moment.
func judgeQuick(c *Case, o *Outcome) error {
	b, flow, measured := c.heat()
	o.Results = append(o.Results, Measured{Name: "Heat", Kind: units.Power, Band: b})
	used := 0.0 // the prediction has its own flow
	if c.has("center") {
		used = flow.Value
	}
	e, p, sunMeasured, err := c.expected(used)
	if err != nil {
		return err
	}
	if o.impossible(b.Value, e.Running.Energy.Sun) {
		o.Predicted = &p
		return nil
	}
	o.against(p)
	o.explain(p.Band, sunMeasured)
	if !measured && !c.has("center") {
		o.note("The predicted airflow was used. Measure it, and the range becomes much narrower.")
	}
	return nil
}

// impossible says that a heat is more than the sun gave the glass, W each, and what to doubt.
func (o *Outcome) impossible(heat, sun float64) bool {
	if heat <= bestCover*1.1*sun {
		return false
	}
	o.note("That is more than the sun gave the glass, %v: look at the airflow first, then for an outlet probe in the sun.",
		units.Q(units.Power, sun))
	o.Differs = true
	o.Likely = []Likely{{units.Say("the airflow is not what was assumed"), "bag"}, {units.Say("the difference between the probes"),
		"offsets"}}
	return true
}

// Windows within which readings count as steady at home. ISO 9806:2017 and ASHRAE 93 ask for
// 50 and 32 W/m2 and for temperatures within 1 K or less; these are twice that, and labeled.
const (
	// homeSun is how far the sun may wander from its mean, W/m2.
	homeSun = 80.0
	// homeOutdoor and homeAir are the same for the outdoor air and for inlet and outlet, K.
	homeOutdoor = 2.0
	homeAir     = 1.0
)

// Steady says whether readings of a channel stay within a window around their mean.
func Steady(readings []float64, window float64) bool {
	mean, _ := Repeated(readings, 0)
	for _, v := range readings {
		if math.Abs(v-mean) > window {
			return false
		}
	}
	return len(readings) > 0
}

// judgeSteady: efficiency on the aperture, and what the box takes in of the sun.
func judgeSteady(c *Case, o *Outcome) error {
	b, flow, measured := c.heat()
	e, p, _, err := c.expected(flow.Value)
	if err != nil {
		return err
	}
	for _, x := range []struct {
		id, name string
		window   float64
	}{{"sun", "sun", homeSun}, {"outdoor", "outdoor temperature", homeOutdoor}, {"inlet", "inlet temperature", homeAir},
		{"outlet", "outlet temperature", homeAir}} {
		if !Steady(c.Got[x.id], x.window) {
			o.note("The %v moved more than a steady state allows: read again when it stands.", units.Word(x.name))
		}
	}
	area, sun := e.Running.Aperture, c.input("sun", "the sun meter", 0, uPanel)
	on := func(area float64) collector.Band {
		return Propagate(func(x []float64) float64 { return x[0] / (x[1] * area) }, []Input{{"the heat", b.Value, b.U}, sun}, nil)
	}
	o.Results = append(o.Results, Measured{Name: "Efficiency on the glazing", Kind: units.Share, Band: on(area)},
		Measured{Name: "Efficiency on the whole box", Kind: units.Share, Band: on(e.Running.Gross)},
		Measured{Name: "Heat", Kind: units.Power, Band: b})
	p.Name, p.Kind = "Efficiency on the glazing", units.Share
	if o.impossible(b.Value, sun.Value*area) {
		return nil
	}
	s := sun.Value * area
	p.Value, p.U, p.Low, p.High = p.Value/s, p.U/s, p.Low/s, p.High/s
	o.against(p)
	o.explain(p.Band, true)
	if !measured {
		o.note("Measure the airflow first: until then this cannot tell too little air from a dirty pane, and nothing is written.")
		return nil
	}
	return c.takes(o, &e, b, sun)
}

// takes finds how much sun the box takes in, over what is computed, so that its heat is the
// measured one.
func (c *Case) takes(o *Outcome, e *collector.Evaluation, heat collector.Band, sun Input) error {
	now := c.Heater.Cover.Takes
	h := c.Heater.Clone()
	at := e.Running.Conditions
	miss := func(share float64) (float64, error) {
		h.Cover.Takes = share
		d, err := collector.Describe(&h)
		if err != nil {
			return 0, err
		}
		r, err := d.Rate(at, collector.Tuning{}, nil)
		return r.Energy.Air - heat.Value, err
	}
	a, err := miss(now)
	if err != nil {
		return err
	}
	const step = 0.05
	b, err := miss(now - step)
	if err != nil {
		return err
	}
	slope := (a - b) / step // W for the whole sun
	share := now - a/slope
	// What else the prediction is uncertain by cannot be told from it.
	rest := 0.0
	for _, x := range e.Heat.Causes {
		if x.Name != "glazing and paint" && x.Name != "clear-sky sun" {
			rest += x.Effect * x.Effect
		}
	}
	u := math.Sqrt(heat.U*heat.U+rest+math.Pow(heat.Value*sun.U/sun.Value, 2)) / slope
	if share < 0.3 || share > 1.2 || math.IsNaN(share) {
		o.note("No glazing takes in %v of what is computed: look at the airflow and the probes first.", units.Q(units.Share, share))
		return nil
	}
	o.Results = append(o.Results, Measured{Name: "Absorbed sun, measured over computed", Kind: units.Share,
		Band: collector.Band{Value: share, U: u, Low: share - 2*u, High: share + 2*u}})
	o.Changes = append(o.Changes, design.Measure(design.CoverTauAlpha, share, u))
	return nil
}

// judgeStagnation: the hottest spot beside that of the same sun with the fan off.
func judgeStagnation(c *Case, o *Outcome) error {
	hot := c.input("hot", "the probe on the hot surface", uSurface, 0)
	o.Results = append(o.Results, Measured{Name: "Hottest temperature", Kind: units.Temperature,
		Band: Propagate(func(x []float64) float64 { return x[0] }, []Input{hot}, nil)})
	e, _, sunMeasured, err := c.expected(0)
	if err != nil {
		return err
	}
	o.against(Measured{Name: "Hottest temperature", Kind: units.Temperature, Band: e.Stagnation})
	o.explain(e.Stagnation, sunMeasured)
	for _, p := range e.Peaks {
		if p.Service > 0 && hot.Value > p.Service {
			o.note("That is above what the %v bears, %v: read what the box station says of it.", units.Word(p.Name),
				units.Q(units.Temperature, p.Service))
		}
	}
	return nil
}

// judgeWarmup: the time to 63.2 % of the way.
func judgeWarmup(c *Case, o *Outcome) error {
	before, after := c.first("before"), c.first("after")
	if after-before < 3 {
		o.note("The outlet rose by too little to time it.")
		return nil
	}
	const uWatch = 15.0 // s, of when it passed that temperature
	o.note("63 %% of the way is %v.", units.Q(units.Temperature, before+0.632*(after-before)))
	o.Results = append(o.Results, Measured{Name: "Time constant", Kind: units.Duration,
		Band: Propagate(func(x []float64) float64 { return x[0] }, []Input{c.input("time", "when it passed that temperature", uWatch,
			0.03)}, nil)})
	tau, err := c.timeConstant()
	if err != nil {
		return err
	}
	const doubt = 0.15 // of the masses, as one sigma
	o.against(Measured{Name: "Time constant", Kind: units.Duration, Band: collector.NewBand(tau, []collector.Cause{
		{Name: "the masses of the parts", Effect: doubt * tau}})})
	return nil
}

// timeConstant simulates the same: a box under its cover with the fan on, then in the sun, s.
func (c *Case) timeConstant() (float64, error) {
	const longest = 4 * time.Hour
	tau := longest.Seconds()
	last := 0.0
	err := c.uncovered(longest, func(t, done float64) bool {
		if done >= 0.632 {
			tau = t - respondStep*(done-0.632)/max(1e-9, done-last)
		}
		last = done
		return done < 0.632
	})
	return tau, err
}

// lag is how late the outlet follows a sun that climbs evenly, s: the time that the response to
// a step lacks of a response at once. What stores for longer than an hour is left out, since
// the sun does not climb for longer either.
func (c *Case) lag() (late float64, err error) {
	err = c.uncovered(time.Hour, func(_, done float64) bool {
		late += respondStep * (1 - done)
		return true
	})
	return late, err
}

// respondStep is the step of a response, s.
const respondStep = 10.0

// uncovered takes the cover off a box whose fan has run under it, and tells at each step how far
// the outlet is on its way, until it is told to stop.
func (c *Case) uncovered(longest time.Duration, tell func(t, done float64) bool) error {
	at := c.Eval.Running.Conditions
	at.Flow = 0
	dark := at
	dark.Sun = at.Sun.Dimmed(0)
	d, err := collector.Describe(c.Heater)
	if err != nil {
		return err
	}
	t, err := d.NewTransient(dark)
	if err != nil {
		return err
	}
	mass := c.Eval.Running.Mass
	const settle = 3600.0
	var m collector.Moment
	for s := 0.0; s < settle; s += 10 * respondStep {
		if m, err = t.Step(dark, mass, 10*respondStep); err != nil {
			return err
		}
	}
	from, to := m.Outlet, c.Eval.Running.Outlet
	if to-from < minRise { // no sun that would warm it
		return nil
	}
	for s := respondStep; s < longest.Seconds(); s += respondStep {
		if m, err = t.Step(at, mass, respondStep); err != nil {
			return err
		}
		if !tell(s, (m.Outlet-from)/(to-from)) {
			return nil
		}
	}
	return nil
}

package measure

import (
	"math"
	"slices"

	"gladember/core/air"
	"gladember/core/collector"
	"gladember/core/design"
	"gladember/core/space"
	"gladember/core/thermostat"
	"gladember/core/units"
)

// otherTrials are the tests of probes and sun, of the switch, of the space, and of two things
// against each other.
var otherTrials = []Trial{{
	ID: "offsets", Title: "Probes against each other", Group: "Instruments", When: InDark, Minutes: 30,
	Tells: units.Say("By how much each probe reads too high or too low, which is then taken off every reading."),
	Ready: []string{"all the probes that you log with", "a glass of water or a bag"},
	Do: []units.Text{units.Say("Tie the probes together, tip to tip, and hang them in still air in the dark, or stand them in a glass of " +
		"water in a bag."), units.Say("Wait until none moves, then read all of them, five times.")},
	Spoils: []units.Text{units.Say("Sun or a lamp, a draft, or a hand that held one of them.")},
	Probes: []Probe{{InRoom, units.Say("all probes together, in the dark")}},
	Asks: []Ask{{ID: "inlet", Label: "Inlet probe", Kind: units.Temperature, Many: 8, Low: -40, High: 80, Still: 0.4},
		{ID: "outlet", Label: "Outlet probe", Kind: units.Temperature, Many: 8, Low: -40, High: 80, Still: 0.4},
		{ID: "outdoor", Label: "Outdoor probe", Kind: units.Temperature, Many: 8, Optional: true, Low: -40, High: 80, Still: 0.4}},
	judge: judgeOffsets,
}, {
	ID: "sun", Title: "Sun by a small solar panel", Group: "Instruments", When: InSun, Minutes: 10,
	Tells: units.Say("The sun on the glass from the short-circuit current of a small panel in its plane."),
	Ready: []string{"a small solar panel", "a meter that reads its current"},
	Do: []units.Text{units.Say("On a clear noon hold the panel in the plane of the glass, read its current and take the sun of a clear " +
		"sky for that moment: that is its calibration."), units.Say("From then on its current tells the sun.")},
	Spoils: []units.Text{units.Say("A panel in another plane, or a shadow on one of its cells.")},
	Probes: []Probe{{AtGlass, units.Say("the panel beside the glass, in its plane")}},
	Asks: []Ask{{ID: "now", Label: "Current now", Kind: units.Number, Unit: "A", Many: 4, Low: 0.0001, High: 50},
		{ID: "then", Label: "Current at the calibration", Kind: units.Number, Unit: "A", Low: 0.0001, High: 50},
		{ID: "clear", Label: "Sun at the calibration", Kind: units.Irradiance, Low: 200, High: 1500},
		{ID: "warmer", Label: "Panel warmer than at the calibration by", Kind: units.Rise, Optional: true, Low: -80, High: 80}},
	suits: func(*design.Heater) bool { return true },
	judge: judgeSun,
}, {
	ID: "switch", Title: "Thermostat on the bench", Group: "Thermostat", When: AnyTime, Minutes: 30,
	Tells: units.Say("At what temperature the thermostat really starts and stops the fan, and whether that drifts."),
	Ready: []string{"a hair dryer", "a thermometer touching the thermostat", "a meter that beeps, or the fan itself"},
	Do: []units.Text{units.Say("Warm the thermostat slowly, one degree in ten seconds; note when it switches on, then when it off " +
		"while it " +
		"cools."), units.Say("Do that five times.")},
	Spoils: []units.Text{units.Say("Warming it quickly: the thermometer then lags behind, and the point seems lower than it is.")},
	Asks: []Ask{{ID: "close", Label: "Fan on at", Kind: units.Temperature, Many: 5, Low: -20, High: 120},
		{ID: "open", Label: "Fan off at", Kind: units.Temperature, Many: 5, Low: -20, High: 120}},
	suits: func(h *design.Heater) bool { return thermostat.New(h).HasPoints() },
	judge: judgeSwitch,
}, {
	ID: "coheat", Title: "Heat loss of the space", Group: "Space", When: InDark, Minutes: 600,
	Tells: units.Say("What the space loses for each degree that it is warmer than outdoors."),
	Ready: []string{"an electric heater with a meter", "a thermometer inside and one outdoors"},
	Do: []units.Text{units.Say("Heat the closed space through a night with the electric heater alone, at least %v warmer than outdoors.",
		units.Q(units.Rise, leastRise)), units.Say("Note the mean power over at least eight hours, and the mean of both temperatures.")},
	Cautions: []units.Text{units.Say("An electric heater that runs through a night stands free of anything that burns, on a circuit that " +
		"bears it.")},
	Spoils: []units.Text{units.Say("People, another heater, sun in the last hours of the day before."), units.Say("A stormy night.")},
	Probes: []Probe{{InRoom, units.Say("in the middle of the space, at the height of a table")}, airProbes[2]},
	Asks: []Ask{{ID: "power", Label: "Mean power of the heater", Kind: units.Electric, Low: 10, High: 50000},
		{ID: "inside", Label: "Mean temperature inside", Kind: units.Temperature, Low: -30, High: 50},
		{ID: "outdoor", Label: "Mean outdoor temperature", Kind: units.Temperature, Low: -60, High: 40},
		{ID: "time", Label: "Duration", Kind: units.Duration, Low: 3600, High: 200000}},
	suits: func(*design.Heater) bool { return true },
	judge: judgeCoheat,
}, compared("passive", "With and without the fan", "with the fan", "without it",
	"How much the fan adds to what warmth alone moves.", func(h *design.Heater) bool { return h.Fanned() && !h.Indoors() }),
	compared("sides", "Fan pushing and pulling", "pushing", "pulling",
		"Whether the fan gives more at the inlet or at the outlet of this box.",
		func(h *design.Heater) bool { return h.Fanned() && !h.Indoors() }),
	compared("beside", "This box beside another one", "this box", "the other one",
		"Which of two boxes gives more on the same day.", func(h *design.Heater) bool { return !h.Indoors() }),
	{
		ID: "look", Title: "Inspection round", Group: "Instruments", When: InSun, Minutes: 20,
		Tells: units.Say("What can be seen, smelt and felt at a running box, and which figure it spoils."),
		Ready: []string{"incense or a smoke pen", "a lamp", "a hand"},
		Do: []units.Text{units.Say("Absorber: blotchy or gleaming paint takes in less sun."),
			units.Say("Screens and columns: gaps at the edges, a column that stands out; air slips by there."),
			units.Say("Glazing: drops or frost inside in the morning; close the leak, open the drain holes."),
			units.Say("Seams: smoke that is drawn in or blown away marks a leak."),
			units.Say("Ducts: hand-hot outside is heat that is lost; a fold or a squeezed bend costs airflow."),
			units.Say("Damper: it falls shut by itself when the air stops.")},
		suits: func(h *design.Heater) bool { return !h.Indoors() },
		judge: func(*Case, *Outcome) error { return nil },
	},
}

// Trials are all guided tests, in the order in which they help most: first how much air, then
// how much heat.
func Trials() []*Trial {
	var out []*Trial
	for _, list := range [][]Trial{heatTrials[:1], airTrials, heatTrials[1:], otherTrials} {
		for i := range list {
			out = append(out, &list[i])
		}
	}
	return out
}

// FindTrial finds a test by its ID; nil for an unknown one.
func FindTrial(id string) *Trial {
	all := Trials()
	if i := slices.IndexFunc(all, func(t *Trial) bool { return t.ID == id }); i >= 0 {
		return all[i]
	}
	return nil
}

// judgeOffsets: each probe against the mean of all.
func judgeOffsets(c *Case, o *Outcome) error {
	names := []struct{ id, label, path string }{{"inlet", "Inlet probe", design.LogInletOff.Path},
		{"outlet", "Outlet probe", design.LogOutletOff.Path},
		{"outdoor", "Outdoor probe", design.LogOutdoorOff.Path}}
	all, n := 0.0, 0.0
	for _, x := range names {
		if c.has(x.id) {
			all, n = all+c.first(x.id), n+1
		}
	}
	worst := 0.0
	for _, x := range names {
		if !c.has(x.id) {
			continue
		}
		const digit = 0.06 // K, of a display that shows tenths
		mean, u := Repeated(c.Got[x.id], digit)
		off := mean - all/n
		worst = max(worst, math.Abs(off))
		o.Results = append(o.Results, Measured{Name: x.label + ", too high by", Kind: units.Rise,
			Band: collector.NewBand(off, []collector.Cause{{Name: "its readings", Effect: u}})})
		o.Changes = append(o.Changes, design.Change{Path: x.path, Value: off, Origin: design.Measured, U: max(u, 0.02)})
	}
	o.Verdict = units.Say("The probes differ by up to %v; that is taken off the readings of the log and of the tests.",
		units.Q(units.Rise, 2*worst))
	if worst > 5 {
		o.note("One of them is off by so much that it should be replaced.")
	}
	return nil
}

// judgeSun: G = G_cal I / I_cal / (1 + 0.0005 dT).
func judgeSun(c *Case, o *Outcome) error {
	const perK = 0.0005 // of the short-circuit current
	warmer := 0.0
	if c.has("warmer") {
		warmer = c.first("warmer")
	}
	const uMeter = 0.01
	b := Propagate(func(x []float64) float64 { return x[0] * x[1] / x[2] / (1 + perK*x[3]) * x[4] },
		[]Input{c.input("clear", "the sun at the calibration", 0, 0.035), c.input("now", "the current now", 0, uMeter),
			c.input("then", "the current then", 0, uMeter), {"the panel's temperature", warmer, 5}, {"other light than then", 1, 0.03}},
		nil)
	o.Results = append(o.Results, Measured{Name: "Sun in the plane of the glass", Kind: units.Irradiance, Band: b})
	clearSky := collector.ConditionsAt(c.Heater, c.At).Sun.Total()
	if clearSky < 50 {
		o.note("By the clock the sun was not on the glass then.")
		return nil
	}
	o.against(Measured{Name: "Sun in the plane of the glass", Kind: units.Irradiance, Band: collector.NewBand(clearSky, []collector.Cause{
		{Name: "clear-sky sun", Effect: uClearSky * clearSky}})})
	if o.Differs && b.Value < clearSky {
		o.Verdict = units.Say("%v: clouds or haze keep out %v of a clear sky's sun.", units.Q(units.Irradiance, b.Value),
			units.Q(units.Share, 1-b.Value/clearSky))
	}
	return nil
}

// judgeSwitch: the mean of both points, and their drift over the cycles.
func judgeSwitch(c *Case, o *Outcome) error {
	h := c.Heater
	for _, x := range []struct {
		id, name, path string
		now            float64
	}{{"close", "Fan on at", design.SwitchClose.Path, h.Switch.Close}, {"open", "Fan off at", design.SwitchOpen.Path, h.Switch.Open}} {
		in := c.input(x.id, "the readings", uProbe, 0)
		o.Results = append(o.Results, Measured{Name: x.name, Kind: units.Temperature,
			Band: Propagate(func(v []float64) float64 { return v[0] }, []Input{in}, nil)})
		o.Changes = append(o.Changes, design.Change{Path: x.path, Value: in.Value, Origin: design.Measured, U: in.U})
		if d := drift(c.Got[x.id]); math.Abs(d) > 1 {
			o.note("%v drifts by %v over the cycles: warm it slower, or replace it.", units.Word(x.name), units.Q(units.Rise, math.Abs(d)))
		}
	}
	if o.Results[1].Value >= o.Results[0].Value {
		o.note("It goes off at or above where it goes on: look which reading was which.")
		o.Changes = nil
		return nil
	}
	o.against(Measured{Name: "Fan on at", Kind: units.Temperature, Band: collector.NewBand(h.Switch.Close, []collector.Cause{
		{Name: "the thermostat's tolerance", Effect: h.Switch.Tolerance / 2}})})
	if n := min(len(c.Got["close"]), len(c.Got["open"])); n < 5 {
		o.note("Take %v cycles: few leave a wide range.", units.Word("five"))
	}
	return nil
}

// drift is by how much a line through readings moves from the first to the last.
func drift(readings []float64) float64 {
	n := float64(len(readings))
	if n < 3 {
		return 0
	}
	mean, _ := Repeated(readings, 0)
	slope, sum := 0.0, 0.0
	for i, v := range readings {
		d := float64(i) - (n-1)/2
		slope, sum = slope+d*(v-mean), sum+d*d
	}
	return slope / sum * (n - 1)
}

// leastRise and leastNight are what a night must give to tell the loss of a space, K and s.
const (
	leastRise  = 15.0
	leastNight = 8 * 3600.0
)

// judgeCoheat: UA = P / (Ti - Te).
func judgeCoheat(c *Case, o *Outcome) error {
	const uPower, uMean, uStore = 0.02, 0.4, 0.06 // share, K, share for what walls still give or take
	rise := c.first("inside") - c.first("outdoor")
	if rise < 1 {
		o.note("The space was not warmer than outdoors.")
		return nil
	}
	b := Propagate(func(x []float64) float64 { return x[0] / (x[1] - x[2]) * x[3] },
		[]Input{c.input("power", "the heater's power", 0, uPower), c.input("inside", "the temperature inside", uMean, 0),
			c.input("outdoor", "the outdoor temperature", uMean, 0), {"heat in walls and things", 1,
				uStore * leastNight / c.first("time")}}, nil)
	o.Results = append(o.Results, Measured{Name: "Heat loss coefficient", Kind: units.Loss, Band: b})
	if rise < leastRise {
		o.note("The rise was %v: with %v or more the result is surer.", units.Q(units.Rise, rise), units.Q(units.Rise, leastRise))
	}
	if c.first("time") < leastNight {
		o.note("Eight hours or more let the walls settle.")
	}
	const doubt = 0.25 // of a loss that is estimated from walls and windows, as one sigma
	room, err := space.New(c.Heater)
	if err != nil {
		return err
	}
	p := room.Loss
	o.against(Measured{Name: "Heat loss coefficient", Kind: units.Loss, Band: collector.NewBand(p, []collector.Cause{
		{Name: "the walls as described", Effect: doubt * p}})})
	o.Changes = append(o.Changes, design.Measure(design.RoomLoss, b.Value, b.U))
	return nil
}

// compared is a test of two things under the same sun.
func compared(id, title, one, other, tells string, suits func(*design.Heater) bool) Trial {
	side := func(n, who string) []Ask {
		return []Ask{{ID: "inlet" + n, Label: "Inlet temperature, " + who, Kind: units.Temperature, Many: 6, Low: -40, High: 80,
			Still: 0.8},
			{ID: "outlet" + n, Label: "Outlet temperature, " + who, Kind: units.Temperature, Many: 6, Low: -40, High: 200, Still: 0.8},
			{ID: "speed" + n, Label: "Air speed, " + who, Kind: units.Speed, Many: 4, Low: 0.01, High: 40,
				Trap: units.Say("Hold the anemometer at the same place of the same duct both times.")},
			{ID: "sun" + n, Label: "Sun, " + who, Kind: units.Irradiance, Optional: true, Low: 50, High: 1500}}
	}
	return Trial{
		ID: id, Title: title, Group: "Comparisons", When: InSun, Minutes: 90, Tells: units.Say(tells),
		Ready: []string{"probes at inlet and outlet", "an anemometer", "if you have one, a sun meter"},
		Do: []units.Text{units.Say("Measure %v until the outlet temperature is steady, then %v, within the hour around noon.",
			units.Word(one),
			units.Word(other)), units.Say("Then the first one once more: what differs between its two readings is the day's own drift.")},
		Spoils: []units.Text{units.Say("Outlet temperature alone: less air is hotter and gives less heat.")},
		Probes: airProbes[:2],
		Asks:   append(side("1", one), side("2", other)...),
		suits:  suits,
		judge:  func(c *Case, o *Outcome) error { return judgeTwo(c, o, one, other) },
	}
}

// judgeTwo: the heat of one over that of the other, for the same sun. Speed and area of the
// duct fall out where both are read at the same place.
func judgeTwo(c *Case, o *Outcome, one, other string) error {
	const uSame = 0.03 // of a speed that is read twice with the same instrument
	side := func(n string) []Input {
		sun := Input{"the sun", 1, 0.04}
		if c.has("sun1") && c.has("sun2") {
			sun = c.input("sun"+n, "the sun", 0, 0.02)
		}
		return []Input{c.input("speed"+n, "the air speed", 0, uSame), c.input("inlet"+n, "the inlet probe", uSameProbe, 0),
			c.input("outlet"+n, "the outlet probe", uSameProbe, 0), sun}
	}
	heat := func(x []float64) float64 { return x[0] * air.Density(x[2], c.pressure()) * (x[2] - x[1]) / x[3] }
	in := append(side("1"), side("2")...)
	b := Propagate(func(x []float64) float64 { return heat(x[4:]) / heat(x[:4]) }, in, nil)
	if math.IsInf(b.Value, 0) || math.IsNaN(b.Value) || b.Value <= 0 {
		o.note("One of them gives no heat: look at its temperatures.")
		return nil
	}
	o.Results = append(o.Results, Measured{Name: "Heat " + other + " over heat " + one, Kind: units.Share, Band: b})
	switch {
	case math.Abs(b.Value-1) <= 2*b.U:
		o.Verdict = units.Say("The two are equal within what this test can tell.")
	case b.Value < 1:
		o.Verdict = units.Say("%v gives %v of the heat that %v gives.", units.Word(other), units.Q(units.Share, b.Value), units.Word(one))
	default:
		o.Verdict = units.Say("%v gives %v more heat than %v.", units.Word(other), units.Q(units.Share, b.Value-1), units.Word(one))
	}
	return nil
}

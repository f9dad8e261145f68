package measure

import (
	"math"

	"gladember/core/air"
	"gladember/core/collector"
	"gladember/core/design"
	"gladember/core/units"
)

// Standard uncertainties of cheap ways to measure an airflow, as shares unless noted. The
// product's own judgment.
const (
	// uBag is of the bag's volume: its girth is measured to a centimeter or two, and taut film
	// pushes back.
	uBag = 0.04
	// uStopwatch is a hand's, s, at the start and the end together.
	uStopwatch = 0.2
	// uWatts is of an electric heater's power by a plug meter.
	uWatts = 0.02
	// uSameProbe is of one reading, K, where the same probe is read twice: its last digit, and
	// how well it was settled.
	uSameProbe = 0.15
	// uMixing is of a duct's mean temperature behind an electric heater.
	uMixing = 0.02
	// uOrifice is of the discharge coefficient, for an edge that is not quite sharp.
	uOrifice = 0.03
	// uManometer is of a sloped tube, Pa.
	uManometer = 0.3
	// uBore is of a diameter by a tape, m.
	uBore = 0.0005
	// uVane is of a cheap anemometer.
	uVane = 0.04
	// uTraverse is of the mean from twelve points.
	uTraverse = 0.02
	// uLeak is of what a bag lost, which is estimated by eye.
	uLeak = 0.12
)

// orificeC is the discharge coefficient of a sharp-edged orifice at a duct's end, and
// leastOrifice the pressure below which a tube tells nothing, Pa.
const (
	orificeC     = 0.61
	leastOrifice = 10.0
)

// widestHole is the widest orifice over the duct before it for which the speed in the duct may be
// left out: at 0.55 it makes 1.7 % by Bernoulli's equation with the contracted jet.
const widestHole = 0.55

// temperatureAsk asks for the temperature of the air that is measured.
var temperatureAsk = Ask{ID: "air", Label: "Temperature of that air", Kind: units.Temperature, Low: -40, High: 150}

// airTrials are the tests of the airflow and of what leaks.
var airTrials = []Trial{{
	ID: "bag", Title: "Airflow by filling a bag", Group: "Airflow", When: AnyTime, Minutes: 20,
	Tells: units.Say("How much air the box really moves, which decides how certain every figure of heat is."),
	Ready: []string{"a thin plastic bag of {200 liters|50 gallons} or more", "a stopwatch", "tape", "a thermometer"},
	Do: []units.Text{units.Say("Measure the bag: fill it by hand until it is taut, and work out its volume from its length and girth."),
		units.Say("Let the heater run, press the bag flat, hold its mouth over the outlet and start the watch."),
		units.Say("Stop it when the bag is full and before it pushes back. Repeat five times.")},
	Spoils: []units.Text{units.Say("A bag that is taut pushes back and slows the air."),
		units.Say("A small bag: below 10 s the hand on the watch decides the result.")},
	Probes: []Probe{{AtOutlet, units.Say("the bag, over the outlet in the room, and the thermometer in that air")}},
	Asks: []Ask{{ID: "volume", Label: "Volume of the full bag", Kind: units.Volume, Low: 0.005, High: 5},
		{ID: "time", Label: "Time to fill it", Kind: units.Duration, Many: 8, Low: 1, High: 3600}, temperatureAsk},
	judge: judgeBag,
}, {
	ID: "heater", Title: "Airflow by an electric heater in the duct", Group: "Airflow", When: InDark, Minutes: 45,
	Tells: units.Say("The mass of air that the fan moves, from a known power and the rise that it makes."),
	Ready: []string{"an electric heater of known power, made for a duct", "a power meter", "one thermometer"},
	Do: []units.Text{units.Say("Cover the glass, so that the box adds nothing."),
		units.Say("Run the fan with the heater off; note the outlet temperature once it is steady."),
		units.Say("Switch the heater on, wait until the outlet temperature is steady, and note it again.")},
	Spoils: []units.Text{units.Say("Sun on the box, or a heater whose power follows its own thermostat.")},
	Cautions: []units.Text{units.Say("Stay beside it. Wire the heater so that it cannot run without the fan, and keep it off anything " +
		"that burns."), units.Say("Mains wiring is for a licensed electrician.")},
	Probes: []Probe{{AtOutlet, units.Say("one thermometer at the outlet, in mixed air and out of the heater's sight")}},
	Asks: []Ask{{ID: "power", Label: "Power of the heater, metered", Kind: units.Electric, Low: 20, High: 5000},
		{ID: "off", Label: "Outlet with the heater off", Kind: units.Temperature, Many: 6, Low: -30, High: 100, Still: 0.3},
		{ID: "on", Label: "Outlet with the heater on", Kind: units.Temperature, Many: 6, Low: -30, High: 150, Still: 0.3,
			Trap: units.Say("A probe that sees the glowing wire reads its radiation and not the air.")}},
	suits: blown,
	judge: judgeHeater,
}, {
	ID: "orifice", Title: "Airflow by an orifice and a tube", Group: "Airflow", When: AnyTime, Minutes: 30,
	Tells: units.Say("The airflow from the pressure in front of a sharp round hole at the end of the duct."),
	Ready: []string{"a thin plate with a sharp round hole, about half as wide as the duct", "a sloped clear tube with colored water"},
	Do: []units.Text{units.Say("Tape the plate over the outlet and lead the tube into the duct a hand's breadth before it."),
		units.Say("Read the pressure with the fan on. Below %v take a smaller hole.", units.Q(units.Pressure, leastOrifice))},
	Spoils: []units.Text{units.Say("The hole slows the fan: the result is the flow with the plate on, which is less than without.")},
	Probes: []Probe{{AtOutlet, units.Say("the plate over the outlet, the tube's end in the duct before it")}},
	Asks: []Ask{{ID: "bore", Label: "Diameter of the hole", Kind: units.Bore, Low: 0.01, High: 0.4},
		{ID: "pressure", Label: "Pressure before the hole", Kind: units.Pressure, Many: 5, Low: 0.5, High: 1000,
			Trap: units.Say("A tube that stands upright shows " +
				"{a fifth of a millimeter|a hundredth of an inch} for {2 Pa|0.01 in w.g.}: slope it.")}, temperatureAsk},
	suits: blown,
	judge: judgeOrifice,
}, {
	ID: "traverse", Title: "Airflow by a traverse of the duct", Group: "Airflow", When: AnyTime, Minutes: 25,
	Tells: units.Say("The mean speed in the duct from many points, instead of one speed that is read where the jet is fastest."),
	Ready: []string{"a small vane or hot-wire anemometer", "a rod with marks"},
	Do: []units.Text{
		units.Say("Choose a straight piece, as far behind the last bend as there is, and bore two small holes at right angles."),
		units.Say("On each diameter hold the anemometer at 3.2, 13.5, 32.1, 67.9, 86.5 and 96.8 %% of it, and note the twelve speeds."),
		units.Say("Note the speed in the middle as well, if you like: it tells what one reading there would be worth.")},
	Spoils: []units.Text{units.Say("An anemometer as wide as the duct: it measures itself.")},
	Probes: []Probe{{AtOutlet, units.Say("the anemometer in the duct behind the outlet, across two diameters")}},
	Asks: []Ask{{ID: "bore", Label: "Diameter of the duct there", Kind: units.Bore, Low: 0.03, High: 0.8},
		{ID: "speed", Label: "Speed at a point", Kind: units.Speed, Many: 12, Low: 0, High: 40,
			Trap: units.Say("The speed of the jet in the room is not the mean speed in the duct.")},
		{ID: "center", Label: "Speed in the middle", Kind: units.Speed, Optional: true, Low: 0, High: 40}, temperatureAsk},
	judge: judgeTraverse,
}, {
	ID: "leak", Title: "Leaks of the box by a bag", Group: "Airflow", When: AnyTime, Minutes: 30,
	Tells: units.Say("How much the seams leak, what that takes from the heat, and what cold air the room draws in for it."),
	Ready: []string{"tape", "a full bag", "a sloped tube", "a stopwatch", "incense or a smoke pen"},
	Do: []units.Text{units.Say("Tape both ports shut but for the mouth of the full bag and the end of the tube."),
		units.Say("Lay a light board on the bag, so that it holds " +
			"{5 to 10 Pa|0.02 to 0.04 in w.g.}, and time how long it takes to lose its air."),
		units.Say("Go along the seams with smoke meanwhile, and mark where it moves.")},
	Spoils: []units.Text{units.Say("A bag or tape that leaks itself: try it on a plate first."), units.Say("Wind on the box.")},
	Probes: []Probe{{AtOutlet, units.Say("the bag's mouth, taped in")}, {AtInlet, units.Say("taped shut")}},
	Asks: []Ask{{ID: "lost", Label: "Air that the bag lost", Kind: units.Volume, Low: 0.001, High: 5},
		{ID: "time", Label: "Time that took", Kind: units.Duration, Low: 2, High: 36000},
		{ID: "pressure", Label: "Pressure meanwhile", Kind: units.Pressure, Low: 1, High: 100}},
	judge: judgeLeak,
}}

// judgeBag: volume over time.
func judgeBag(c *Case, o *Outcome) error {
	time, u := Repeated(c.Got["time"], uStopwatch)
	v := Propagate(func(x []float64) float64 { return x[0] / x[1] }, []Input{c.input("volume", "the bag's volume", 0, uBag),
		{"the time to fill it", time, u}}, nil)
	if n := len(c.Got["time"]); n < 5 {
		o.note("Fill it %v times in all: few repeats leave a wide range.", units.Word("five"))
	}
	if time < 10 {
		o.note("It fills in under 10 s: take a larger bag.")
	}
	o.flow(c, v)
	return nil
}

// judgeHeater: m = P / (cp (T_on - T_off)).
func judgeHeater(c *Case, o *Outcome) error {
	on, off := c.first("on"), c.first("off")
	if on-off < 2 {
		o.note("The rise is too small to tell the airflow: take a stronger heater.")
		return nil
	}
	rho := air.Density(on, c.pressure())
	v := Propagate(func(x []float64) float64 { return x[0] / (air.Cp((x[1]+x[2])/2) * (x[1] - x[2])) / rho * x[3] },
		[]Input{c.input("power", "the heater's power", 0, uWatts), c.input("on", "the outlet with the heater on", uSameProbe, 0),
			c.input("off", "the outlet with the heater off", uSameProbe, 0), {"how well the air is mixed", 1, uMixing}}, nil)
	o.flow(c, v)
	return nil
}

// judgeOrifice: V = 0.61 A sqrt(2 dp / rho).
func judgeOrifice(c *Case, o *Outcome) error {
	dp := c.input("pressure", "the pressure before the hole", uManometer, 0.02)
	rho := air.Density(c.first("air"), c.pressure())
	v := Propagate(func(x []float64) float64 {
		return x[2] * math.Pi / 4 * x[0] * x[0] * math.Sqrt(2*max(0, x[1])/rho)
	}, []Input{c.input("bore", "the diameter of the hole", uBore, 0), dp, {"the discharge coefficient", orificeC, orificeC * uOrifice}},
		nil)
	if c.first("bore") > widestHole*c.Heater.Air.Diameter {
		o.note("The hole is wide for this duct: the air that arrives has a speed of its own, and the result is too low by several %%. "+
			"Take one of %v or less.", units.Q(units.Bore, widestHole*c.Heater.Air.Diameter))
	}
	if dp.Value < leastOrifice {
		o.note("Below %v the tube tells too little: take a smaller hole.", units.Q(units.Pressure, leastOrifice))
	}
	o.flow(c, v)
	if o.Differs && v.Value < o.Predicted.Value {
		o.note("With the plate on the fan moves less than without it: take this as the least that it moves.")
		o.Changes = nil
	}
	return nil
}

// judgeTraverse: the mean of points that each stand for an equal part of the section.
func judgeTraverse(c *Case, o *Outcome) error {
	speeds := c.Got["speed"]
	mean := c.first("speed")
	if n := len(speeds); n < 8 {
		o.note("Take twelve points on two diameters; %v are few.", units.Q(units.Number, float64(n)))
	}
	v := Propagate(func(x []float64) float64 { return math.Pi / 4 * x[0] * x[0] * x[1] * x[2] },
		[]Input{c.input("bore", "the diameter of the duct", 2*uBore, 0), {"the anemometer", mean, uVane * mean},
			{"the number of points", 1, uTraverse * math.Sqrt(12/float64(len(speeds)))}}, nil)
	o.flow(c, v)
	if center := c.first("center"); center > 0 {
		o.Results = append(o.Results, Measured{Name: "Mean speed over that in the middle", Kind: units.Share,
			Band: Propagate(func(x []float64) float64 { return x[0] / x[1] }, []Input{{"the points", mean, uTraverse * mean},
				{"the speed in the middle", center, uTraverse * center}}, nil)})
	}
	return nil
}

// judgeLeak: C = Q / dp^0.65, shared out over all seams.
func judgeLeak(c *Case, o *Outcome) error {
	h := c.Heater
	at1 := func(x []float64) float64 { return x[0] / x[1] / math.Pow(x[2], collector.LeakExponent) }
	in := []Input{c.input("lost", "the air that was lost", 0, uLeak), c.input("time", "the time", 1, 0),
		c.input("pressure", "the pressure", uManometer, 0.05)}
	run := math.Abs(c.Eval.Running.BoxPressure)
	b := Propagate(func(x []float64) float64 { return at1(x) * math.Pow(run, collector.LeakExponent) }, in, nil)
	o.Results = append(o.Results, Measured{Name: "Leakage while the fan runs", Kind: units.Flow, Band: b})
	o.leaking(c)
	seam := Propagate(at1, in, nil)
	meters := 2 * 2 * (h.OuterWidth() + h.OuterHeight()) * max(1, float64(h.Array.Boxes))
	o.Changes = append(o.Changes, design.Measure(design.BoxSeam, min(0.001, seam.Value/meters), seam.U/meters))
	rho := air.Density(c.Eval.Running.Conditions.Ambient, c.pressure())
	cold := c.Heater.Room.Air - c.Eval.Running.Conditions.Ambient
	o.note("The room draws in as much cold air: at %v outdoors that takes %v of the heat.", units.Q(units.Temperature,
		c.Eval.Running.Conditions.Ambient), units.Q(units.Power, b.Value*rho*1007*max(0, cold)))
	return nil
}

// leaking sets the predicted leak beside the measured one: it is uncertain by its own factor.
func (o *Outcome) leaking(c *Case) {
	rho := air.Density(c.Eval.Running.Outlet, c.pressure())
	p := c.Eval.Running.Leak / rho
	const half = 0.5 // of a leak that is estimated and not measured, as one sigma
	o.against(Measured{Name: "Leakage while the fan runs", Kind: units.Flow, Band: collector.NewBand(p, []collector.Cause{
		{Name: "leaks at the seams", Effect: half * p}})})
	if o.Differs {
		o.Likely = []Likely{{units.Say("a seam, a corner or a port without sealant"), "look"}}
	}
}

// blown are heaters whose fan moves enough air against what a test puts in its way.
func blown(h *design.Heater) bool { return h.Fanned() && !h.Indoors() }

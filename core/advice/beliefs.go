package advice

import (
	"math"
	"slices"

	"gladember/core/catalog"
	"gladember/core/collector"
	"gladember/core/design"
	"gladember/core/units"
)

// Verdict is a belief of the trade put to this very heater.
type Verdict struct {
	// ID names the claim for programs.
	ID string
	// Claim is the belief as it is heard, in quotes on the page.
	Claim string
	// Holds is the verdict in a word: "holds", "does not hold", "depends" or
	// "not modeled".
	Holds string
	// Says is the verdict in a sentence, with this heater's figures.
	Says Text
	// Figures are the quantities of the sentence, in its order, for programs.
	Figures []Value
}

// Beliefs computes what is commonly held against an evaluated heater.
// Each is two or three runs of the balance at the conditions of the evaluation.
// A belief that says nothing about this heater, such as one about fans for a
// box without, is left out.
func Beliefs(e *collector.Evaluation) (vs []Verdict) {
	for _, f := range []func(*collector.Evaluation) (Verdict,
		bool){seriesDoubles, hotterAndHotter, stacking, mirrorDoubles, acrylicWarmer, standingFanStops, deflector, anySealant} {
		if v, ok := f(e); ok {
			vs = append(vs, v)
		}
	}
	return vs
}

// verdict puts a claim and what the computation says of it together; every
// figure in the sentence is kept.
func verdict(id, claim string, holds bool, says Text) Verdict {
	v := Verdict{ID: id, Claim: claim, Holds: "does not hold", Says: says, Figures: says.Values}
	if holds {
		v.Holds = "holds"
	}
	return v
}

// at rates a changed heater at the evaluation's conditions, which may be
// changed as well.
func at(e *collector.Evaluation, c collector.Conditions, changes ...design.Change) (collector.Result, bool) {
	h, err := design.Apply(e.Heater, units.System{}, changes...)
	if err != nil {
		return collector.Result{}, false
	}
	r, err := collector.Rate(&h, c)
	return r, err == nil && r.Mass > 0
}

// seriesDoubles compares this box with two of it in series and two side by
// side, on the same fan and duct: the second in series takes in warmer air.
// It holds only if the rise doubles at nearly the same flow. Two boxes in
// series resist the fan twice, so that less air warms more; that is told apart
// as "depends". The rise of ideal boxes in series is 1 - (1 - r)(1 - r) of what
// the sun could reach, which is always less than twice r.
func seriesDoubles(e *collector.Evaluation) (Verdict, bool) {
	c := e.Running.Conditions
	// All on the same fan and duct.
	same := []design.Change{design.Set(design.AirDiameter, e.Heater.Air.Diameter)}
	if e.Heater.Fanned() {
		same = append(same, design.Set(design.AirFan, e.Heater.Air.FanModel))
	}
	many := func(boxes int, join string) (collector.Result, bool) {
		changes := append(slices.Clone(same), design.Set(design.ArrayBoxes, boxes))
		if boxes > 1 {
			changes = append(changes, design.Set(design.ArrayJoin, join))
		}
		return at(e, c, changes...)
	}
	one, ok := many(1, "")
	two, ok2 := many(2, "series")
	side, ok3 := many(2, "parallel")
	if !ok || !ok2 || !ok3 || e.Heater.Indoors() || one.Outlet-c.Inlet < 1 {
		return Verdict{}, false
	}
	// The ratio of the two rises.
	k := (two.Outlet - c.Inlet) / (one.Outlet - c.Inlet)
	v := verdict("series-doubles", "Two boxes in series double the temperature rise.", k > 1.95 && two.Mass > 0.97*one.Mass,
		say("One box warms the air by %v and gives %v. Two in series warm it by %v and give %v, at %v instead of %v; in parallel they "+
			"give %v.",
			q(units.Rise, one.Outlet-c.Inlet), q(units.Power, one.Warms()), q(units.Rise, two.Outlet-c.Inlet),
			q(units.Power, two.Warms()), q(units.Flow, two.Volume), q(units.Flow, one.Volume), q(units.Power, side.Warms())))
	if k > 1.95 && v.Holds != "holds" {
		v.Holds = "depends" // it doubles because the flow falls
	}
	return v, true
}

// hotterAndHotter lets the air go round: the box rated with its inlet 10 K
// warmer gives less, so the room settles where its losses equal that.
// Heat falls with the inlet nearly on a straight line (the collector equation
// of Hottel, Whillier and Bliss), so two runs give where it ends.
func hotterAndHotter(e *collector.Evaluation) (Verdict, bool) {
	c := e.Running.Conditions
	warm := c
	warm.Inlet += 10
	a, ok := at(e, c)
	b, ok2 := at(e, warm)
	if !ok || !ok2 || e.Heater.Indoors() || a.Warms() <= b.Warms() {
		return Verdict{}, false
	}
	// By the two inlets the heat falls on a line; where it meets zero the air
	// gains nothing any more.
	ends := c.Inlet + 10*a.Warms()/(a.Warms()-b.Warms())
	return verdict("recirculating", "Recirculated room air gets hotter and hotter.", false,
		say("Each degree in the room costs heat: at %v the box gives %v, at %v it gives %v. At %v it would give nothing more; the "+
			"room's losses stop it long before.",
			q(units.Temperature, c.Inlet), q(units.Power, a.Warms()), q(units.Temperature, warm.Inlet), q(units.Power, b.Warms()),
			q(units.Temperature, ends))), true
}

// stacking compares one box with two in series at the same flow.
// Efficiency is heat over sun on the aperture; two boxes have twice the
// aperture and the second one's air is warmer, so its losses are higher at the
// same flow.
func stacking(e *collector.Evaluation) (Verdict, bool) {
	c := e.Running.Conditions
	one, ok := at(e, c, design.Set(design.ArrayBoxes, 1))
	if !ok || e.Heater.Indoors() || one.Efficiency <= 0 {
		return Verdict{}, false
	}
	c.Flow = one.Mass
	two, ok := at(e, c, design.Set(design.ArrayBoxes, 2), design.Set(design.ArrayJoin, "series"))
	if !ok {
		return Verdict{}, false
	}
	return verdict("stacking", "Stacking boxes raises the efficiency.", two.Efficiency > one.Efficiency,
		say("At the same flow of %v one box turns %v of the sun into warm air, two in series %v: the second works with warmer air and "+
			"loses more.",
			q(units.Flow, one.Volume), q(units.Share, one.Efficiency), q(units.Share, two.Efficiency))), true
}

// mirrorDoubles compares the winter noon with a mirror as long as the glass and
// without one.
// Reflectance 0.75 is a foil lid's, hinged at the bottom edge; the best opening
// is found in steps of ten degrees, so that the claim gets its best case.
func mirrorDoubles(e *collector.Evaluation) (Verdict, bool) {
	h := e.Heater
	if h.Indoors() {
		return Verdict{}, false
	}
	when := collector.WinterNoon(&h)
	bare := h.Clone()
	bare.Mirror = design.Mirror{}
	d, err := collector.Describe(&bare)
	if err != nil {
		return Verdict{}, false
	}
	base, err := d.Rate(collector.ConditionsAt(&bare, when), collector.Tuning{}, nil)
	if err != nil || base.Warms() <= 0 {
		return Verdict{}, false
	}
	// The best angle for this noon, in steps of ten degrees, of a lid as long as
	// the glass is tall.
	best, angle := math.Inf(-1), 0.0
	for a := 60.0; a <= 150; a += 10 {
		bare.Mirror = design.Mirror{Length: h.Pane.Height, Angle: a, Reflect: 0.75, Hinge: "bottom"}
		r, err := d.Rate(collector.ConditionsAt(&bare, when), collector.Tuning{}, nil)
		if err == nil && r.Warms() > best {
			best, angle = r.Warms(), a
		}
	}
	return verdict("mirror", "A mirror doubles the heat.", best >= 1.95*base.Warms(),
		say("A foil lid as long as the glazing, opened to %v below it, gives %v instead of %v at the clear winter noon: %v more. "+
			"Beware of glare.",
			q(units.Angle, angle), q(units.Power, best), q(units.Power, base.Warms()), q(units.Share, best/base.Warms()-1))), true
}

// acrylicWarmer compares the same box under glass and under acrylic at the same
// conditions.
// A 4 mm sheet has a resistance of some 0.02 m2K/W in acrylic and 0.004 in
// glass, beside some 0.2 m2K/W of a cover with the air on its two sides: the sheet hardly
// matters. The claim is taken to hold where the front loses a tenth less.
func acrylicWarmer(e *collector.Evaluation) (Verdict, bool) {
	c := e.Running.Conditions
	glass, ok := at(e, c, design.Set(design.CoverMaterial, "glass"))
	acrylic, ok2 := at(e, c, design.Set(design.CoverMaterial, "acrylic"))
	if !ok || !ok2 || e.Heater.Indoors() {
		return Verdict{}, false
	}
	a, _ := catalog.FindCover("acrylic")
	g, _ := catalog.FindCover("glass")
	return verdict("acrylic", "Acrylic insulates better than glass.", acrylic.Energy.Front < 0.9*glass.Energy.Front,
		say("Acrylic loses %v through the front, glass %v: the resistance of the sheet is small beside that of the air on its two "+
			"sides. The box gives %v with acrylic and %v with glass; acrylic withstands %v, glass %v.",
			q(units.Power, acrylic.Energy.Front), q(units.Power, glass.Energy.Front), q(units.Power, acrylic.Warms()),
			q(units.Power, glass.Warms()), q(units.Temperature, a.Service), q(units.Temperature, g.Service))), true
}

// standingFanStops compares the heat that air falling through the box takes
// from the room at night, past a fan that stands and with none in its way.
// A fan that stands still is a resistance like a screen, not a valve. The flow
// past it comes from the lift of the cold box against fan, ducts and box
// (BackFlow).
func standingFanStops(e *collector.Evaluation) (Verdict, bool) {
	h := e.Heater
	if h.Indoors() || !h.Fanned() {
		return Verdict{}, false
	}
	c := Night(e)
	bare, err := design.Apply(h, units.System{}, design.Set(design.AirFlap, "none"))
	if err != nil {
		return Verdict{}, false
	}
	still, _, err := nightLoss(&bare, c)
	if err != nil {
		return Verdict{}, false
	}
	open, err := design.Apply(bare, units.System{}, design.Set(design.AirDrive, "natural"))
	if err != nil {
		return Verdict{}, false
	}
	free, _, err := nightLoss(&open, c)
	if err != nil {
		return Verdict{}, false
	}
	return verdict("standing-fan", "A fan that is off stops the back-flow.", still < 0.2*free || free < 3,
		say("On a clear night at %v the box draws %v out of the room with the fan off, %v without any fan.",
			q(units.Temperature, c.Ambient), q(units.Power, still), q(units.Power, free))), true
}

// deflector says what the computation knows of it: the whole loss at the
// glazing, and for screens what spreading the air does.
// The jet that strikes the glazing is not solved; its loss is part of the mean
// exchange at the cover. The verdict says so, and gives what can be computed.
func deflector(e *collector.Evaluation) (Verdict, bool) {
	if !e.Heater.Fanned() || e.Heater.Indoors() {
		return Verdict{}, false
	}
	v := Verdict{ID: "deflector", Claim: "A deflector at the blower saves the heat that the jet would lose to the glass.",
		Holds: "not modeled",
		Says: say("What an air jet loses at the glazing is not computed. The whole loss through the front is %v.",
			q(units.Power, e.Running.Energy.Front)), Figures: []Value{q(units.Power, e.Running.Energy.Front)}}
	with, ok := at(e, e.Running.Conditions, design.Set(design.ScreensDeflector, true))
	without, also := at(e, e.Running.Conditions, design.Set(design.ScreensDeflector, false))
	if ok && also {
		v.Says = v.Says.Then(say("Spreading the air over the screens by itself changes the heat from %v to %v.",
			q(units.Power, without.Warms()), q(units.Power, with.Warms())))
		v.Figures = append(v.Figures, q(units.Power, without.Warms()), q(units.Power, with.Warms()))
	}
	return v, true
}

// anySealant: what the pane's bed gets to, against what each sealant holds.
// The bed of the pane is taken as warm as the warmest place of the cover. A
// sealant is counted only if the lower bound of its own service temperature
// holds.
func anySealant(e *collector.Evaluation) (Verdict, bool) {
	if e.Heater.Indoors() {
		return Verdict{}, false
	}
	b := &assessment{Evaluation: e}
	bed := hottest(b, collector.CoverLayer)
	holds, all := 0, 0
	for _, c := range catalog.Sealants() {
		if s, err := catalog.FindSealant(c.ID); err == nil {
			all++
			if s.Service-oneSided*s.U > bed {
				holds++
			}
		}
	}
	plain, _ := catalog.FindSealant("silicone")
	caulk, _ := catalog.FindSealant("acrylic-caulk")
	putty, _ := catalog.FindSealant("putty")
	return verdict("sealant", "Any sealant will do at the glazing.", holds == all,
		say("On a windless noon with the fan off the edge of the glazing reaches %v at most. Ordinary silicone withstands about %v, "+
			"painter's caulk %v and putty %v; %v of %v in the list are certain to withstand it.",
			q(units.Temperature, bed), q(units.Temperature, plain.Service), q(units.Temperature, caulk.Service),
			q(units.Temperature, putty.Service), q(units.Number, float64(holds)), q(units.Number, float64(all)))), true
}

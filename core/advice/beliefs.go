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
	ID      string
	Claim   string
	Holds   string // "holds", "does not hold", "depends" or "not modelled"
	Says    Text
	Figures []Value // what was computed, in the order the words name it
}

// Beliefs computes what is commonly held against an evaluated heater.
func Beliefs(e *collector.Evaluation) (vs []Verdict) {
	for _, f := range []func(*collector.Evaluation) (Verdict, bool){seriesDoubles, hotterAndHotter, stacking, mirrorDoubles, acrylicWarmer, standingFanStops, deflector} {
		if v, ok := f(e); ok {
			vs = append(vs, v)
		}
	}
	return vs
}

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

func seriesDoubles(e *collector.Evaluation) (Verdict, bool) {
	c := e.Running.Conditions
	// All on the same fan and duct.
	same := []design.Change{change("air.diameter_m", e.Heater.Air.Diameter)}
	if e.Heater.Fanned() {
		same = append(same, change("air.fan", e.Heater.Air.FanModel))
	}
	many := func(boxes int, join string) (collector.Result, bool) {
		changes := append(slices.Clone(same), change("array.boxes", boxes))
		if boxes > 1 {
			changes = append(changes, change("array.join", join))
		}
		return at(e, c, changes...)
	}
	one, ok := many(1, "")
	two, ok2 := many(2, "series")
	side, ok3 := many(2, "parallel")
	if !ok || !ok2 || !ok3 || e.Heater.Indoors() || one.Outlet-c.Inlet < 1 {
		return Verdict{}, false
	}
	k := (two.Outlet - c.Inlet) / (one.Outlet - c.Inlet)
	v := verdict("series-doubles", "Two boxes in series double the rise.", k > 1.95 && two.Mass > 0.97*one.Mass,
		say("One box warms the air by %v and gives %v. Two in series warm it by %v and give %v, at %v instead of %v; side by side they give %v.",
			q(units.Rise, one.Outlet-c.Inlet), q(units.Power, one.Heat), q(units.Rise, two.Outlet-c.Inlet), q(units.Power, two.Heat), q(units.Flow, two.Volume), q(units.Flow, one.Volume), q(units.Power, side.Heat)))
	if k > 1.95 && v.Holds != "holds" {
		v.Holds = "depends" // it doubles because the flow falls
	}
	return v, true
}

func hotterAndHotter(e *collector.Evaluation) (Verdict, bool) {
	c := e.Running.Conditions
	warm := c
	warm.Inlet += 10
	a, ok := at(e, c)
	b, ok2 := at(e, warm)
	if !ok || !ok2 || e.Heater.Indoors() || a.Heat <= b.Heat {
		return Verdict{}, false
	}
	// By the two inlets the heat falls on a line; where it meets zero the air
	// gains nothing any more.
	ends := c.Inlet + 10*a.Heat/(a.Heat-b.Heat)
	return verdict("recirculating", "Drawing in the room's own air makes it hotter and hotter.", false,
		say("Each degree the room warms costs heat: at %v the box gives %v, at %v it gives %v. By %v it would give nothing more; the room's losses end it long before.",
			q(units.Temperature, c.Inlet), q(units.Power, a.Heat), q(units.Temperature, warm.Inlet), q(units.Power, b.Heat), q(units.Temperature, ends))), true
}

func stacking(e *collector.Evaluation) (Verdict, bool) {
	c := e.Running.Conditions
	one, ok := at(e, c, change("array.boxes", 1))
	if !ok || e.Heater.Indoors() || one.Efficiency <= 0 {
		return Verdict{}, false
	}
	c.Flow = one.Mass
	two, ok := at(e, c, change("array.boxes", 2), change("array.join", "series"))
	if !ok {
		return Verdict{}, false
	}
	return verdict("stacking", "Stacking boxes raises the efficiency.", two.Efficiency > one.Efficiency,
		say("At the same flow of %v one box turns %v of the sun into warm air, two in series %v: the second works with warmer air and loses more.",
			q(units.Flow, one.Volume), q(units.Share, one.Efficiency), q(units.Share, two.Efficiency))), true
}

func mirrorDoubles(e *collector.Evaluation) (Verdict, bool) {
	h := e.Heater
	if h.Indoors() {
		return Verdict{}, false
	}
	when := collector.WinterNoon(&h, 2026)
	bare := h.Clone()
	bare.Mirror = design.Mirror{}
	d, err := collector.Describe(&bare)
	if err != nil {
		return Verdict{}, false
	}
	base, err := d.Rate(collector.ConditionsAt(&bare, when), collector.Tuning{}, nil)
	if err != nil || base.Heat <= 0 {
		return Verdict{}, false
	}
	// The best angle for this noon, in steps of ten degrees, of a lid as long as
	// the glass is tall.
	best, angle := math.Inf(-1), 0.0
	for a := 60.0; a <= 150; a += 10 {
		bare.Mirror = design.Mirror{Length: h.Pane.Height, Angle: a, Reflect: 0.75, Hinge: "bottom"}
		r, err := d.Rate(collector.ConditionsAt(&bare, when), collector.Tuning{}, nil)
		if err == nil && r.Heat > best {
			best, angle = r.Heat, a
		}
	}
	return verdict("mirror", "A mirror doubles the heat.", best >= 1.95*base.Heat,
		say("A foil lid as long as the glass, opened to %v below it, brings %v instead of %v at this noon: %v more. Mind the glare.",
			q(units.Angle, angle), q(units.Power, best), q(units.Power, base.Heat), q(units.Share, best/base.Heat-1))), true
}

func acrylicWarmer(e *collector.Evaluation) (Verdict, bool) {
	c := e.Running.Conditions
	glass, ok := at(e, c, change("cover.material", "glass"))
	acrylic, ok2 := at(e, c, change("cover.material", "acrylic"))
	if !ok || !ok2 || e.Heater.Indoors() {
		return Verdict{}, false
	}
	a, _ := catalog.FindCover("acrylic")
	g, _ := catalog.FindCover("glass")
	return verdict("acrylic", "Acrylic insulates better than glass.", acrylic.Energy.Front < 0.9*glass.Energy.Front,
		say("Through acrylic %v leave by the front, through glass %v: a sheet's own resistance is next to nothing beside the air on its two sides. The box gives %v with acrylic and %v with glass; acrylic bears %v, glass %v.",
			q(units.Power, acrylic.Energy.Front), q(units.Power, glass.Energy.Front), q(units.Power, acrylic.Heat), q(units.Power, glass.Heat), q(units.Temperature, a.Service), q(units.Temperature, g.Service))), true
}

func standingFanStops(e *collector.Evaluation) (Verdict, bool) {
	h := e.Heater
	if h.Indoors() || !h.Fanned() {
		return Verdict{}, false
	}
	c := Night(e)
	bare, err := design.Apply(h, units.System{}, change("air.flap", "none"))
	if err != nil {
		return Verdict{}, false
	}
	still, _, err := nightLoss(&bare, c)
	if err != nil {
		return Verdict{}, false
	}
	open, err := design.Apply(bare, units.System{}, change("air.drive", "natural"))
	if err != nil {
		return Verdict{}, false
	}
	free, _, err := nightLoss(&open, c)
	if err != nil {
		return Verdict{}, false
	}
	return verdict("standing-fan", "A fan that stands still stops the back-flow.", still < 0.2*free || free < 3,
		say("On a clear night of %v the box draws %v out of the room with the fan in place and still, %v with no fan at all.", q(units.Temperature, c.Ambient), q(units.Power, still), q(units.Power, free))), true
}

func deflector(e *collector.Evaluation) (Verdict, bool) {
	if !e.Heater.Fanned() || e.Heater.Indoors() {
		return Verdict{}, false
	}
	return Verdict{ID: "deflector", Claim: "A deflector at the blower saves the heat that the jet would lose to the glass.", Holds: "not modelled",
		Says: say("We do not compute jets, so we cannot say. All that leaves by the front is %v.", q(units.Power, e.Running.Energy.Front)), Figures: []Value{q(units.Power, e.Running.Energy.Front)}}, true
}

// Side is one answer to a question builders disagree on.
type Side struct {
	Name  string
	Patch []design.Change
	Heat  float64 // W
	Out   float64 // C
	Hot   float64 // the absorber's hottest spot with the fan off, C
}

// Choice is a question builders disagree on, with both answers computed.
type Choice struct {
	ID, Question string
	Sides        []Side
}

// Choices puts the disagreements of the trade to an evaluated heater; those
// that say nothing of it are left out.
func Choices(e *collector.Evaluation) (cs []Choice) {
	if c, ok := hotOrMuch(e); ok {
		cs = append(cs, c)
	}
	type pick struct {
		name    string
		changes []design.Change
	}
	c1 := func(name, path string, v any) pick { return pick{name, []design.Change{change(path, v)}} }
	for _, x := range []struct {
		id, question string
		picks        []pick
	}{
		{"drive", "A fan, or warmth alone?", []pick{c1("a fan", "air.drive", "fan"), c1("warmth alone", "air.drive", "natural")}},
		{"side", "Should the fan push or pull?", []pick{c1("push", "air.fan_side", "inlet"), c1("pull", "air.fan_side", "outlet")}},
		{"source", "Room air round and round, or outdoor air?", []pick{c1("room air", "air.source", "room"), c1("outdoor air", "air.source", "outdoors")}},
		{"covers", "One cover or two?", []pick{c1("one", "cover.layers", 1), c1("two", "cover.layers", 2)}},
		{"cover", "Glass, acrylic, polycarbonate or film?", []pick{c1("glass", "cover.material", "glass"), c1("acrylic", "cover.material", "acrylic"), c1("polycarbonate", "cover.material", "polycarbonate"), c1("shrink film", "cover.material", "shrink-film")}},
		{"walls", "Black or shiny walls inside?", []pick{c1("black", "box.walls", "black"), c1("shiny", "box.walls", "shiny")}},
		{"foam", "Thin or thick insulation?", []pick{c1("12 mm", "box.back_foam_m", 0.012), c1("25 mm", "box.back_foam_m", 0.025), c1("50 mm", "box.back_foam_m", 0.050)}},
		{"ends", "Tops and bottoms cut clean, or left to stir the air?", []pick{c1("cut clean", "absorber.cans.ends", "cut"), c1("flaps left", "absorber.cans.ends", "torn"), c1("drilled", "absorber.cans.ends", "drilled")}},
		{"paint", "Engine enamel or grill paint?", []pick{c1("engine enamel", "absorber.paint", "engine-enamel"), c1("grill paint", "absorber.paint", "grill-paint")}},
	} {
		ch := Choice{ID: x.id, Question: x.question}
		for _, p := range x.picks {
			h, err := design.Apply(e.Heater, units.System{}, p.changes...)
			if err != nil {
				continue
			}
			d, err := collector.Describe(&h)
			if err != nil {
				continue
			}
			c := e.Running.Conditions
			if x.id == "source" && h.Air.Source == "outdoors" {
				c.Inlet = c.Ambient
			}
			r, err := d.Rate(c, collector.Tuning{}, nil)
			if err != nil {
				continue
			}
			s, err := d.Still(c, collector.Tuning{}, nil)
			if err != nil {
				continue
			}
			side := Side{p.name, p.changes, r.Heat, r.Outlet, s.AbsorberMax}
			if x.id == "source" && h.Air.Source == "outdoors" {
				// What the room gets counts from the room's own air.
				side.Heat = r.Mass * r.Cp * (r.Outlet - e.Heater.Room.Air)
			}
			ch.Sides = append(ch.Sides, side)
		}
		if len(ch.Sides) > 1 {
			cs = append(cs, ch)
		}
	}
	return cs
}

// hotOrMuch compares a trickle with a full blow, by the flow alone.
func hotOrMuch(e *collector.Evaluation) (Choice, bool) {
	if e.Heater.Indoors() || e.Running.Aperture <= 0 {
		return Choice{}, false
	}
	d, err := collector.Describe(&e.Heater)
	if err != nil {
		return Choice{}, false
	}
	ch := Choice{ID: "flow", Question: "A few hot litres, or much warm air?"}
	for _, x := range []struct {
		name string
		flux float64 // kg/s m2
	}{{"a trickle", 0.008}, {"a fair flow", 0.025}, {"a full blow", 0.060}} {
		c := e.Running.Conditions
		c.Flow = x.flux * e.Running.Aperture
		r, err := d.Rate(c, collector.Tuning{}, nil)
		if err != nil {
			return ch, false
		}
		ch.Sides = append(ch.Sides, Side{Name: x.name, Heat: r.Heat, Out: r.Outlet, Hot: e.Still.AbsorberMax})
	}
	return ch, true
}

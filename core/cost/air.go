package cost

import (
	"fmt"
	"math"

	"gladember/core/catalog"
	"gladember/core/design"
	"gladember/core/sizing"
	"gladember/core/units"
	"gladember/core/wiring"
)

// ductSpare is what of a flexible duct is cut off at its ends, m. Common practice, no
// source.
//
// What moves the air and what it passes follows from the air path of the document: its
// lengths, bends, grilles, filter and damper are counted there for the pressure drop, so
// that the list and the operating point speak of the same duct.
const ductSpare = 0.10

// air lists fan, ducts and what sits in them.
func (b *builder) air() {
	if b.h.Indoors() {
		return
	}
	if b.h.Fanned() {
		b.add(b.fan())
	}
	if d, err := catalog.FindDuct(b.h.Air.Duct); err == nil {
		b.ducts(d)
	}
	b.fittings()
}

// ports is how many holes the box has at each end.
func (b *builder) ports() float64 { return float64(max(1, b.h.Air.Ports)) }

// ducts lists the duct by its length, the clamps at its ends, and the bends of a duct
// that does not bend by itself.
func (b *builder) ducts(d catalog.DuctKind) {
	h, ports := b.h, b.ports()
	run := (h.Air.ToBox + h.Air.FromBox + h.Air.Riser) * ports
	l := Line{ID: fmt.Sprintf("%s %.0f", d.ID, 1000*h.Air.Diameter), What: units.Say("%v, %v wide", units.Word(d.Name), units.Q(units.Bore,
		h.Air.Diameter)), Counter: Ducts, Unit: Meter, Pack: 1, PackName: "meter", Spare: 2 * ductSpare * ports * b.n,
		Need: (run + 2*ductSpare*ports) * b.n, How: units.Say("%v to the box and back, and %v for the ends.", units.Q(units.Distance,
			run),
			units.Q(units.Distance, 2*ductSpare*ports))}
	b.add(l)
	wide := units.Q(units.Bore, h.Air.Diameter)
	if run > 0 {
		b.add(Line{ID: fmt.Sprintf("hose clamp %.0f", 1000*h.Air.Diameter), What: units.Say("hose clamps for a %v duct", wide),
			Counter: Ducts, Unit: Piece, Need: 4 * ports * b.n, How: units.Say("One at each end of each duct.")})
	}
	if n := float64(h.Air.Bends) * b.n; n > 0 && !d.Flexible {
		b.add(Line{ID: fmt.Sprintf("bend %.0f", 1000*h.Air.Diameter), What: units.Say("90° bends, %v wide", wide), Counter: Ducts,
			Unit: Piece, Need: n, How: units.Say("By the bends of the air path.")})
	}
}

// fittings lists collars, grilles, filter and damper. A collar joins a duct to the box at
// each port; boxes in a row have their own.
func (b *builder) fittings() {
	h := b.h
	one := func(id string, what units.Text, n float64, how string) {
		b.add(Line{ID: id, What: what, Counter: Ducts, Unit: Piece, Need: n * b.n, How: units.Say(how)})
	}
	one(
		fmt.Sprintf("duct collar %.0f", 1000*h.PortBore()), units.Say("duct collars %v wide, with a flange", units.Q(units.Bore,
			h.PortBore())),
		2*b.ports()*float64(max(1, h.Array.Boxes)),
		"At each port of the box.",
	)
	one("grille", named("grille"), float64(h.Air.Grilles), "By the air path.")
	if h.Air.Filter != "none" {
		one("filter "+h.Air.Filter, named(h.Air.Filter+" air filter"), 1, "At the inlet grille; a spare one is worth having.")
	}
	if name, ok := flaps[h.Air.Flap]; ok {
		one("flap "+h.Air.Flap, units.Say("%v, %v wide", units.Word(name), units.Q(units.Bore, h.Air.Diameter)), b.ports(),
			"In the outlet, where it can be reached.")
	}
}

// flaps are the backdraft dampers as one asks for them.
var flaps = map[string]string{"membrane": "membrane backdraft damper", "spring": "spring backdraft damper", "motor": "motor damper"}

// fan is the line of the fan; one of the model on hand counts.
func (b *builder) fan() Line {
	h := b.h
	l := Line{ID: "fan " + h.Air.FanModel, What: named("fan"), Counter: Ducts, Unit: Piece, Need: float64(max(1, h.Air.Fans)) * b.n,
		How: units.Say("It must move %v freely.", units.Q(units.Flow, h.Air.FanFree))}
	if f, err := catalog.FindFan(h.Air.FanModel); err == nil {
		l.What = named(f.Name)
	} else { // the builder's own figures
		l.ID, l.What = fmt.Sprintf("fan %.0f m3/h", 3600*h.Air.FanFree), named("fan of your own figures")
	}
	l.Have = b.counted(func(t *sizing.Thing) bool { return t.Kind == sizing.FanThing && t.What == h.Air.FanModel })
	return l
}

// counted is how many of some things are on hand.
func (b *builder) counted(is func(t *sizing.Thing) bool) (n float64) {
	for i := range b.Hand {
		if is(&b.Hand[i]) {
			n += float64(b.Hand[i].Count)
		}
	}
	return n
}

// electric lists the switch, what drives the fan, and what is wired between them.
func (b *builder) electric() {
	if !b.h.Fanned() || b.h.Indoors() {
		return
	}
	b.thermostat()
	b.supply()
	if low(b.h) {
		b.wiring()
	}
	if b.h.Box.Body == "timber" || b.h.Box.Body == "foam" {
		b.wired("over-temperature cut-out", units.Say("over-temperature cut-out, %v, manual reset", units.Q(units.Temperature, cutOut)),
			"In the outlet of a box of wood or foam: if the box ever scorches, it stops the fan before that blows smoke indoors.")
	}
}

// cutOut is the temperature in the outlet at which the fan of a box that can burn is
// stopped, C: above what a running box gives, below where wood chars. Common practice,
// no source.
const cutOut = 90.0

// wired lists one electrical thing.
func (b *builder) wired(id string, what units.Text, how string, values ...units.Value) {
	b.add(Line{ID: id, What: what, Counter: Electric, Unit: Piece, Need: b.n, How: units.Say(how, values...)})
}

// switches are the thermostats and timers as one asks for them.
var switches = map[string]string{"snap": "snap disc thermostat", "set-point": "set-point controller with its probe",
	"differential": "differential controller with two probes", "timer": "timer"}

// thermostat lists what turns the fan on and off; a snap disc by its temperatures.
func (b *builder) thermostat() {
	h := b.h
	name, ok := switches[h.Switch.Kind]
	if !ok { // none: driven by the panel, or always on
		return
	}
	l := Line{ID: "switch " + h.Switch.Kind, What: named(name), Counter: Electric, Unit: Piece, Need: b.n,
		How: units.Say("It turns the fan on and off.")}
	if h.Switch.Kind == "snap" {
		l.ID += fmt.Sprintf(" %.0f/%.0f", h.Switch.Close, h.Switch.Open)
		l.How = units.Say(
			"It closes at %v and opens at %v.",
			units.Q(units.Temperature, h.Switch.Close),
			units.Q(units.Temperature, h.Switch.Open),
		)
	}
	l.Have = b.counted(func(t *sizing.Thing) bool { return t.Kind == sizing.SwitchKind })
	b.add(l)
}

// supply lists panel and battery, or the power supply of a low-voltage fan on the mains.
func (b *builder) supply() {
	h := b.h
	switch {
	case h.Air.Drive == "panel":
		b.add(Line{ID: fmt.Sprintf("panel %.0f W", h.Air.PanelPeak), What: units.Say("PV panel, %v", units.Q(units.Electric,
			h.Air.PanelPeak)), Counter: Electric, Unit: Piece, Need: b.n, How: units.Say("It drives the fan."),
			Have: b.counted(func(t *sizing.Thing) bool { return t.Kind == sizing.PanelThing })})
	case low(h):
		b.wired("power supply 12 V", named("plug-in power supply, 12 V"), "For the fan's %v.",
			units.Q(units.Electric, h.Air.FanPower*max(1, float64(h.Air.Fans))))
	}
	if h.Air.Drive == "panel" && h.Air.Battery > 0 {
		b.wired(
			fmt.Sprintf("battery %.0f Wh", h.Air.Battery), named(fmt.Sprintf("battery, %.0f Wh, with its charge controller",
				h.Air.Battery)), "It keeps the fan running under clouds.",
		)
	}
}

// wiring lists fuse and wire of a low voltage. Mains wiring is a licensed electrician's,
// who brings it.
func (b *builder) wiring() {
	h := b.h
	fuse := named("inline fuse holder with a fuse")
	if c, ok := wiring.Build(h); ok && c.Fuse > 0 {
		fuse = units.Say("inline fuse holder with a fuse of %v A", units.Q(units.Number, c.Fuse))
	}
	b.wired("fuse holder", fuse, "Next to the supply, by the load and the wire.")
	if h.Air.Wire > 0 && h.Air.WireArea > 0 {
		b.add(Line{ID: fmt.Sprintf("wire %.2g mm2", h.Air.WireArea), What: named(fmt.Sprintf("two-core wire, %.2g mm²", h.Air.WireArea)),
			Counter: Electric, Unit: Meter, Pack: 1, PackName: "meter", Need: math.Ceil(h.Air.Wire) * b.n,
			How: units.Say("From the supply to the fan.")})
	}
}

// low says whether the fan runs at a low voltage.
func low(h *design.Heater) bool { return wiring.Volts(h) > 0 }

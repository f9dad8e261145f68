// Package wiring says how the fan of a heater is wired: what comes after what, the fuse by
// the load and the wire, what the wire loses, what the switch's contact must bear, and how
// long a battery lasts.
//
// # The circuit
//
// [Build] lays out the circuit of a heater from its supply to its fans: a PV panel, with or
// without a battery, or a plug-in supply, or the mains. Of a low voltage everything is laid
// out; on the mains the circuit ends at the licensed electrician, and only what the builder
// mounts, the probe or the disc, has its place.
//
// # Fuse and wire
//
// A fuse protects the wire and lets the load pass: it is the smallest of the usual ratings
// that bears 125 % of the lasting current (the rule of the US National Electrical Code for
// lasting loads) and it is no larger than what the wire may carry ([Ampacity], flexible
// cords of BS 7671 table 4F3A, recalled from memory). Where no rating does both, the wire is
// too thin.
//
// # Loss in the wire
//
// The wire there and back has the resistance of fine-stranded copper, see
// [collector.Copper]; the share of the voltage that it takes is current times resistance over
// voltage ([Drop]). The same rule is used for the speed of a fan on its panel and for the
// days of a battery.
//
// # Contacts
//
// A motor draws several times its current when it starts, and a direct current does not let
// an arc go out by itself. A disc or relay is asked for three times the running current;
// above what discs are sold for, a relay takes the load (common practice, no source).
package wiring

import (
	"math"

	"gladember/core/airflow"
	"gladember/core/catalog"
	"gladember/core/collector"
	"gladember/core/design"
	"gladember/core/units"
)

// Kind is what an element of a circuit is.
type Kind string

// The kinds, in the order in which the current passes them.
const (
	Panel      Kind = "panel"
	Supply     Kind = "supply"
	Mains      Kind = "mains"
	Controller Kind = "charge controller"
	Battery    Kind = "battery"
	Fuse       Kind = "fuse"
	CutOut     Kind = "cut-out"
	Switch     Kind = "switch"
	Second     Kind = "second switch"
	Fan        Kind = "fan"
	Damper     Kind = "motor damper"
	Trade      Kind = "licensed electrician"
)

// Element is one thing of the circuit.
type Element struct {
	Kind Kind
	// Name is as it is written beside it.
	Name units.Text
	// Beside says that it lies across the two wires, beside the element before, and not in
	// one of them.
	Beside bool
}

// Circuit is how a heater's fan is wired.
type Circuit struct {
	// Elements are from the supply to the load.
	Elements []Element
	// Low says that it is of a low voltage, Volts, V, and is the builder's own work.
	Low   bool
	Volts float64
	// Load is the lasting current, A, and Start what a contact must bear.
	Load, Start float64
	// Fuse is its rating, A; 0 where none is right for the wire, or on the mains.
	Fuse float64
	// Wire is the cross section, mm2, Carries what it may carry, A, and Drop the share of the
	// voltage that it takes, there and back.
	Wire, Carries, Drop float64
	// Notes say what is asked for, and what is wrong.
	Notes []units.Text
}

// startFactor is how much more a motor takes when it starts, and discRating what snap discs
// are usually sold for, A. Common practice, no source.
const (
	startFactor = 3.0
	discRating  = 10.0
)

// mostDrop is the share of the voltage from which a wire is too thin. Common practice, no
// source; many handbooks ask for 3 to 5 %.
const mostDrop = 0.05

// lasting is by how much a fuse is larger than a lasting load. Source: National Electrical
// Code 210.20 (recalled from memory).
const lasting = 1.25

// ratings are the usual blade fuses, A. Source: ISO 8820-3 (recalled from memory).
var ratings = []float64{1, 2, 3, 4, 5, 7.5, 10, 15, 20, 25, 30}

// cords are what flexible cords may carry: cross section, mm2, and A. Source: BS 7671 table
// 4F3A (recalled from memory).
var cords = [][2]float64{{0.5, 3}, {0.75, 6}, {1.0, 10}, {1.25, 13}, {1.5, 16}, {2.5, 25}, {4, 32}}

// Ampacity is what a flexible wire of a cross section, mm2, may carry, A: that of the next
// smaller one of the table; 0 below the smallest.
func Ampacity(mm2 float64) (a float64) {
	for _, c := range cords {
		if mm2 >= c[0]-1e-9 {
			a = c[1]
		}
	}
	return a
}

// FuseFor is the rating for a lasting load and a wire that carries so much, A; 0 where none
// bears the one and protects the other.
func FuseFor(load, carries float64) float64 {
	for _, r := range ratings {
		if r >= lasting*load {
			if r > carries {
				return 0
			}
			return r
		}
	}
	return 0
}

// Drop is the share of a voltage that a wire of a length one way, m, and a cross section,
// mm2, takes at a current, A.
func Drop(amps, length, mm2, volts float64) float64 {
	if mm2 <= 0 || volts <= 0 {
		return 0
	}
	return amps * 2 * length * collector.Copper / mm2 / volts
}

// Usable is the share of a battery that may be taken, and RunHours what a heater runs on a
// clear winter day, h. Common practice, no source.
const (
	Usable   = 0.5
	RunHours = 5.0
)

// Store is a battery that drives a fan off its own panel.
type Store struct {
	// Watts are what all fans take, and Lost the share of it that the wires lose.
	Watts, Lost float64
	// Days are of [RunHours] without sun.
	Days float64
}

// PlanBattery returns how a heater's battery lasts, and whether it has one, by
// [airflow.Autonomy] with the loss in the wire counted.
func PlanBattery(h *design.Heater) (b Store, has bool) {
	a := &h.Air
	if a.Drive != "panel" || a.Battery <= 0 {
		return b, false
	}
	b.Watts = a.FanPower * max(1, float64(a.Fans))
	b.Lost = Drop(b.Watts/a.FanVolts, a.Wire, a.WireArea, a.FanVolts)
	b.Days = airflow.Autonomy(a.Battery, Usable, RunHours, b.Watts, b.Lost)
	return b, true
}

// Volts is the voltage of a heater's fan; 0 on the mains.
func Volts(h *design.Heater) float64 {
	if h.Air.Drive == "panel" {
		return h.Air.FanVolts
	}
	if f, err := catalog.FindFan(h.Air.FanModel); err == nil {
		return f.Volts
	}
	return 0
}

// usualWire is what a fan on a plug-in supply is wired with, mm2 and m one way, where the
// document has no wire. Common practice, no source.
const (
	usualWire   = 0.75
	usualLength = 3.0
)

// switches name the thermostats as they stand in a diagram.
var switches = map[string]string{"snap": "snap disc", "set-point": "set-point controller", "differential": "differential controller",
	"timer": "timer"}

// Build lays out the circuit of a heater with a fan; ok is false for one without.
func Build(h *design.Heater) (c Circuit, ok bool) {
	if !h.Fanned() || h.Indoors() {
		return c, false
	}
	fans := max(1, float64(h.Air.Fans))
	c.Volts = Volts(h)
	if c.Low = c.Volts > 0; !c.Low {
		c.mains(h)
		return c, true
	}
	c.Load = h.Air.FanPower * fans / c.Volts
	c.Start = startFactor * c.Load
	length := usualLength
	if c.Wire = usualWire; h.Air.Drive == "panel" {
		c.Wire, length = h.Air.WireArea, h.Air.Wire
	}
	c.Carries = Ampacity(c.Wire)
	c.Fuse = FuseFor(c.Load, c.Carries)
	c.Drop = Drop(c.Load, length, c.Wire, c.Volts)
	c.supply(h)
	fuse := units.Say("fuse, too large for the wire")
	if c.Fuse > 0 {
		fuse = units.Say("fuse %v A", units.Q(units.Number, c.Fuse))
	}
	c.add(Fuse, fuse)
	c.between(h)
	c.loads(h)
	c.notes()
	return c, true
}

// add appends an element in one of the wires.
func (c *Circuit) add(k Kind, name units.Text) {
	c.Elements = append(c.Elements, Element{Kind: k, Name: name})
}

// supply adds what the current comes from. A battery lies across the wires behind its charge
// controller.
func (c *Circuit) supply(h *design.Heater) {
	if h.Air.Drive != "panel" {
		c.add(Supply, units.Say("plug-in supply, %v V", units.Q(units.Number, c.Volts)))
		return
	}
	c.add(Panel, units.Say("PV panel, %v", units.Q(units.Electric, h.Air.PanelPeak)))
	if h.Air.Battery > 0 {
		c.add(Controller, units.Say("charge controller"))
		c.Elements = append(c.Elements, Element{Battery, units.Say("battery, %v Wh", units.Q(units.Number, h.Air.Battery)), true})
	}
}

// between adds what stops the fan: the cut-out of a box that can burn, and the switch.
func (c *Circuit) between(h *design.Heater) {
	if h.Box.Body != "sheet" {
		c.add(CutOut, units.Say("over-temperature cut-out in the outlet"))
	}
	if name, has := switches[h.Switch.Kind]; has {
		c.add(Switch, units.Say("%v", units.Word(name)))
	}
}

// loads adds fans and damper across the wires. Staged fans have a second switch before the
// second fan.
func (c *Circuit) loads(h *design.Heater) {
	fan := func() {
		c.Elements = append(c.Elements, Element{Fan, units.Say("fan, %v", units.Q(units.Electric, h.Air.FanPower)), true})
	}
	if h.Air.Flap == "motor" {
		c.Elements = append(c.Elements, Element{Damper, units.Say("motor damper"), true})
	}
	fan()
	for i := 1; i < h.Air.Fans; i++ {
		if h.Air.FansJoin == "staged" && i == 1 {
			c.add(Second, units.Say("second switch, closes at %v", units.Q(units.Temperature, h.Switch.Second)))
		}
		fan()
	}
}

// mains ends at the electrician.
func (c *Circuit) mains(h *design.Heater) {
	c.add(Mains, units.Say("mains"))
	c.add(Trade, units.Say("wired by a licensed electrician"))
	c.between(h)
	c.loads(h)
	c.Notes = append(c.Notes, units.Say("Mains wiring is for a licensed electrician: fuse, wire and protection follow the local code."),
		units.Say("The contact of the switch must be rated for the fan's motor at mains voltage, or switch it by a relay."))
}

// notes say what is asked for and what is wrong.
func (c *Circuit) notes() {
	n := func(format string, values ...units.Value) { c.Notes = append(c.Notes, units.Say(format, values...)) }
	amps := func(a float64) units.Value { return units.Q(units.Number, math.Round(10*a)/10) }
	if c.Fuse > 0 {
		n("Put the fuse of %v A next to the supply: it bears the fan's %v A, and the wire of %v may carry %v A.", amps(c.Fuse),
			amps(c.Load),
			units.Q(units.Wire, c.Wire), amps(c.Carries))
	} else {
		n("No fuse bears %v A and still protects a wire of %v, which may carry %v A: use a thicker wire.", amps(c.Load),
			units.Q(units.Wire, c.Wire), amps(c.Carries))
	}
	if c.Drop > mostDrop {
		n("The wire takes %v of the voltage: use a thicker or shorter one.", units.Q(units.Share, c.Drop))
	} else {
		n("The wire takes %v of the voltage.", units.Q(units.Share, c.Drop))
	}
	if c.Start > discRating {
		n("The fan starts with about %v A: more than a disc bears. Let the switch drive a relay.", amps(c.Start))
	} else {
		n("The switch must bear %v A of direct current, with which the fan starts.", amps(c.Start))
	}
}

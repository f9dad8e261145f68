package design

import (
	"math"
	"slices"

	"gladember/core/catalog"
	"gladember/core/units"
)

// soldBy are the units in which a heater's fuel is sold.
func soldBy(h *Heater) []catalog.Choice {
	f, _ := catalog.FindFuel(h.Room.Heater)
	return f.SoldBy()
}

// usualUnit is what a fuel is usually sold by where the heater stands.
func usualUnit(h *Heater) any {
	cs := soldBy(h)
	switch {
	case len(cs) == 0:
		return ""
	case len(cs) > 1 && h.Customary():
		return cs[1].ID
	}
	return cs[0].ID
}

// constant is a default that depends on nothing.
func constant(v any) func(*Heater) any { return func(*Heater) any { return v } }

// made says whether an absorber is made in one of some ways.
func made(families ...Family) func(*Heater) bool {
	return func(h *Heater) bool { return slices.Contains(families, h.Absorber.Family) }
}

// and joins conditions.
func and(fs ...func(*Heater) bool) func(*Heater) bool {
	return func(h *Heater) bool {
		for _, f := range fs {
			if !f(h) {
				return false
			}
		}
		return true
	}
}

func not(f func(*Heater) bool) func(*Heater) bool { return func(h *Heater) bool { return !f(h) } }

// with says whether an absorber is made in one of the ways that a member belongs to.
func with(m func() *member) func(*Heater) bool {
	return func(h *Heater) bool { return m().has(h.Absorber.Family) }
}

var (
	screens  = with(func() *member { return &screenBox.member })
	plates   = with(func() *member { return &backPassPlate.member })
	channels = made(BackPassPlate, DoublePassPlate, PassiveBox)
	cans     = with(func() *member { return &canColumns.member })
	pipes    = with(func() *member { return &downpipes.member })
	coil     = with(func() *member { return &ribbedCoil.member })
	panel    = with(func() *member { return &windowPanel.member })
	own      = with(func() *member { return &ownAbsorber.member })
	boxed    = not(panel)
)

// arranged are boxes whose inlet and outlet may lie as the builder wants: one port
// each, and no way inside that fixes where it ends.
func arranged(h *Heater) bool {
	r := h.record()
	return boxed(h) && h.Air.Ports <= 1 && r.arranged != nil && r.arranged(&h.Absorber)
}

// Conditions of fields: what a heater must have for a field to mean something.
func fanned(h *Heater) bool    { return h.Air.Drive != "natural" }
func onPanel(h *Heater) bool   { return h.Air.Drive == "panel" }
func manyFans(h *Heater) bool  { return fanned(h) && h.Air.Fans > 1 }
func mirrored(h *Heater) bool  { return h.Mirror.Length > 0 }
func eaved(h *Heater) bool     { return h.Shade.EaveDepth > 0 }
func finned(h *Heater) bool    { return h.Shade.FinLeft > 0 || h.Shade.FinRight > 0 }
func manyBoxes(h *Heater) bool { return h.Array.Boxes > 1 }
func grouped(h *Heater) bool   { return manyBoxes(h) && h.Array.Join == "groups" }
func inRow(h *Heater) bool     { return boxed(h) && manyBoxes(h) && h.Array.Join != "series" }

// switchIs says whether a fan is switched in one of some ways.
func switchIs(kinds ...string) func(*Heater) bool {
	return func(h *Heater) bool { return fanned(h) && slices.Contains(kinds, h.Switch.Kind) }
}

// railed are boxes whose glazing can be held by rails: stiff sheets on boards.
func railed(h *Heater) bool {
	c, err := catalog.FindCover(h.Cover.Material)
	return boxed(h) && h.Box.Body != "sheet" && err == nil && c.Form != catalog.Film && c.Form != catalog.Corrugated
}

// What it warms, and where the air goes on to.
func greenhouse(h *Heater) bool { return h.Room.Kind == Greenhouse }
func goesOn(h *Heater) bool     { return h.Second.Mover != "none" }
func byStairs(h *Heater) bool   { return h.Second.Mover == "stairs" }

// How its air goes, and what the wall is like that it goes through.
func bent(h *Heater) bool    { return !panel(h) && h.Air.Bends > 0 }
func grilled(h *Heater) bool { return !panel(h) && h.Air.Grilles > 0 }
func walled(h *Heater) bool  { return !panel(h) && h.Air.Route == "wall" }
func between(h *Heater) bool { return walled(h) && h.Wall.Between > 0 }
func studded(h *Heater) bool { return between(h) && h.Wall.Stud > 0 }

// What keeps an idle box from overheating.
func vented(h *Heater) bool   { return boxed(h) && h.Guard.Kind == "vent" }
func shutter(h *Heater) bool  { return boxed(h) && h.Guard.Kind == "shutter" }
func actuated(h *Heater) bool { return vented(h) || shutter(h) }

func twoCovers(h *Heater) bool {
	return h.Cover.Layers > 1
}

// list makes choices of pairs: the ID that is kept and the name that is shown.
func list(pairs ...string) func() []catalog.Choice {
	var cs []catalog.Choice
	for i := 0; i < len(pairs); i += 2 {
		cs = append(cs, catalog.Choice{ID: pairs[i], Name: pairs[i+1]})
	}
	return func() []catalog.Choice { return cs }
}

// bodyOr is the body of foam or of sheet, timber otherwise.
func bodyOr(h *Heater) string {
	if h.Box.Body == "foam" || h.Box.Body == "sheet" {
		return h.Box.Body
	}
	return "timber"
}

// byKind picks a value by the space: room, shop, greenhouse, porch.
func byKind[T any](room, shop, greenhouse, porch T) func(*Heater) any {
	return func(h *Heater) any {
		return map[RoomKind]T{LivingRoom: room, Shop: shop, Greenhouse: greenhouse, Porch: porch}[h.Room.Kind]
	}
}

// usualMonth is the coldest or warmest month's mean at the place, C, to half a
// kelvin.
func usualMonth(h *Heater, of func([]float64) float64) float64 {
	e := h.Place.Usual()
	return math.Round(2*of(e.Temperature[:])) / 2
}

// noonOver is how much warmer a clear winter noon is than the coldest month's
// mean, K.
const noonOver = 2.0

// headerDefault leaves a centimeter beside the duct's hole.
func headerDefault(h *Heater) any {
	if h.SoldInInches() {
		return max(3, math.Ceil(8*(h.PortBore()+0.010)/units.MeterPerInch)/8) * units.MeterPerInch
	}
	return max(0.075, h.PortBore()+0.010)
}

// boreFor is the usual bore of a duct for a clear opening, m for m2. Common
// practice, no source.
func boreFor(area float64) float64 {
	for _, x := range []struct{ from, bore float64 }{{14, 0.400}, {8.5, 0.315}, {5, 0.250}, {2.6, 0.200}, {1.3, 0.150}, {0.7, 0.125}} {
		if area >= x.from {
			return x.bore
		}
	}
	return 0.100
}

// byAperture picks a value by the size of the glass of all boxes: bounds are m2.
func byAperture[T any](small T, more ...any) func(*Heater) any {
	return func(h *Heater) any {
		v := any(small)
		for i := 0; i+1 < len(more); i += 2 {
			if h.Glass() >= more[i].(float64) {
				v = more[i+1]
			}
		}
		return v
	}
}

// fanOf is a default taken from the chosen fan's row in the catalog.
func fanOf(get func(catalog.Fan) any) func(*Heater) any {
	return func(h *Heater) any {
		f, err := catalog.FindFan(h.Air.FanModel)
		if err != nil {
			f, _ = catalog.FindFan("computer-120")
		}
		return get(f)
	}
}

// Of fans that are known by their label alone. labelEfficiency is the share of its electric power that a small fan turns into pressure
// times flow where that is greatest. Common practice, no source: those of the catalog lie between 0.04 and 0.42.
const (
	labelEfficiency = 0.15
	leastShutOff    = 2.0    // Pa
	mostShutOff     = 2000.0 // Pa
)

// FanByLabel says whether a fan is known by its label alone: its rated flow or power are the builder's, while neither its shut-off
// pressure nor its curve is.
func (h *Heater) FanByLabel() bool {
	return h.fanLabeled() && !h.Given(AirFanShutOff)
}

// fanLabeled says whether the label's flow or power are the builder's and there is no curve.
func (h *Heater) fanLabeled() bool {
	return (h.Given(AirFanFreeAir) || h.Given(AirFanPower)) && len(h.Air.FanTable) < 2
}

// roomSold is a usual small room, m2: 180 sq ft or 16 m2.
func roomSold(h *Heater) any {
	if h.SoldInInches() {
		return 180 * units.MeterPerFoot * units.MeterPerFoot
	}
	return 16.0
}

// wireSold is a thin wire that stores sell, mm2: 18 AWG, or 0.75 mm2.
func wireSold(h *Heater) any {
	if h.SoldInInches() {
		return 0.823
	}
	return 0.75
}

// shutOff is that of the fan's model, Pa, or of one that is known by its label alone what its power can make of its flow: pressure
// times flow is greatest at a quarter of shut-off pressure times free air where the curve is a straight line, and at 0.385 of them
// where it is a parabola.
func shutOff(h *Heater) any {
	if !h.fanLabeled() {
		return fanOf(func(f catalog.Fan) any { return f.ShutOff })(h)
	}
	share := 0.25
	if h.Air.FanRadial {
		share = 2 / math.Sqrt(27)
	}
	return math.Round(max(leastShutOff, min(mostShutOff, labelEfficiency*h.Air.FanPower/(share*h.Air.FanFree))))
}

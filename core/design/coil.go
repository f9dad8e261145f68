package design

import (
	"math"

	"gladember/core/units"
)

// Coil is ribbed duct folded into the box.
type Coil struct {
	// Bore is the duct's inner diameter, m.
	Bore float64 `json:"bore_m"`
	// Runs are straight lengths side by side.
	Runs int `json:"runs"`
	// Ways are parallel coils that share the runs.
	Ways int `json:"ways"`
	// Rib is the height of the ribs, as a roughness, m.
	Rib float64 `json:"rib_m"`
	// Stretch is the share of its full length that the duct is pulled to.
	Stretch float64 `json:"stretch"`
}

var ribbedCoil = &FamilyRecord{
	ID: RibbedCoil, Name: "folded ribbed duct", fields: inCoil,
	member: memberAt(func(a *Absorber) **Coil { return &a.Coil }),
	cavity: func(h *Heater) float64 { return h.Box.Gap + (h.Absorber.Coil.Bore + tubeRear) },
	tubes:  func(a *Absorber) (n int, width float64) { return a.Coil.Runs, a.Coil.Bore },
	ends: func(a *Absorber) (bottomIn, topOut, sameSide bool) {
		return true, a.Coil.Runs/a.Coil.Ways%2 == 1, false
	},
	sprayed: func(h *Heater) float64 {
		return math.Pi / 2 * h.Absorber.Coil.Bore * h.ApertureHeight() * float64(h.Absorber.Coil.Runs)
	},
	Example: []Change{
		Set(HeaterName, "Folded ribbed duct"), Set(AbsorberFamily, "ribbed-coil"),
		Set(PaneWidth, 0.85), Set(PaneHeight, 1.25),
	},
}

// The sections of its fields.
var (
	inCoil = inMember("absorber.coil.", func(a *Absorber) **Coil { return &a.Coil })
)

// Fields of a coil.
var (
	CoilBore = number(inCoil, "bore_m", func(c *Coil) *float64 { return &c.Bore }, Field{
		Label: "Coil bore", Kind: units.Bore, Min: 0.05, Max: 0.2, Default: constant(0.100), When: coil,
		Since: 2, Help: "Bore of the ribbed duct that is folded into the box.",
		Group: AbsorberGroup,
	})
	CoilRuns = count(inCoil, "runs", func(c *Coil) *int { return &c.Runs }, Field{
		Label: "Coil runs", Kind: units.Number, Min: 1, Max: 20, When: coil, Since: 2,
		Help: "Straight lengths side by side.",
		Default: func(h *Heater) any {
			return int(max(1, math.Floor(h.ApertureWidth()/(h.Absorber.Coil.Bore+0.015))))
		},
		Group: AbsorberGroup,
	})
	CoilWays = count(inCoil, "ways", func(c *Coil) *int { return &c.Ways }, Field{
		Label: "Coils in parallel", Kind: units.Number, Min: 1, Max: 4, Default: constant(1),
		When: coil, Since: 2, Help: "One long coil, or several short ones that share the air.",
		Group: AbsorberGroup,
	})
	CoilRib = number(inCoil, "rib_m", func(c *Coil) *float64 { return &c.Rib }, Field{
		Label: "Rib height", Kind: units.Length, Min: 0.0009, Max: 0.006, Default: constant(0.002), When: coil,
		Since: 2, Help: "Height of the ribs inside; stretched tight they are lower.",
		Group: AbsorberGroup,
	})
	CoilStretch = number(inCoil, "stretch", func(c *Coil) *float64 { return &c.Stretch }, Field{
		Label: "Coil stretch", Kind: units.Share, Min: 0.5, Max: 1, Default: constant(0.9), When: coil,
		Since: 2, Help: "Share of its full length; less leaves deeper ribs and more surface.",
		Group: AbsorberGroup,
	})
)

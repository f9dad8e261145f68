package design

import (
	"math"

	"gladember/core/units"
)

// Cans are drink cans in columns between two headers.
type Cans struct {
	// Diameter and Height are those of one can, m.
	Diameter float64 `json:"diameter_m"`
	Height   float64 `json:"height_m"` // of one can
	// Columns stand side by side, with Rows cans in each.
	Columns int `json:"columns"`
	Rows    int `json:"rows"` // cans in a column
	// Ends is drilled, torn or cut, see [Cans.HoleShare].
	Ends string `json:"ends"`
	// Wall is the thickness of the metal, m.
	Wall float64 `json:"wall_m"`
	// Header is the inside height of each header, m.
	Header float64 `json:"header_m"`
	// Overlap is how far a can stands in the one below it, and Joint what the bead of
	// each joint adds to the column, m.
	Overlap float64 `json:"overlap_m"`
	Joint   float64 `json:"joint_m"`
	// PerWeek is how many cans the builder collects in a week.
	PerWeek float64 `json:"per_week"`
}

// Pitch is from one can of a column to the next, m.
func (c *Cans) Pitch() float64 { return c.Height - c.Overlap + c.Joint }

// Column is the length of a column with its beads, those against the headers with them, m.
func (c *Cans) Column() float64 { return float64(c.Rows)*c.Pitch() + c.Overlap + c.Joint }

// MostRows is how many cans of a column fit between headers so far apart, m.
func (c *Cans) MostRows(apart float64) int {
	return int(max(1, math.Floor((apart-c.Overlap-c.Joint+1e-9)/max(0.01, c.Pitch()))))
}

// HoleShare is the open part of a can's end: drilled with three holes, torn
// open with flaps left standing, or cut clean. Common practice, no source.
func (c *Cans) HoleShare() float64 {
	return map[string]float64{"drilled": 0.28, "torn": 0.45, "cut": 0.75}[c.Ends]
}

var canColumns = &FamilyRecord{
	ID: CanColumns, Name: "drink cans in columns", fields: inCans, late: inColumns,
	member:   memberAt(func(a *Absorber) **Cans { return &a.Cans }),
	cavity:   func(h *Heater) float64 { return h.Box.Gap + (h.Absorber.Cans.Diameter + tubeRear) },
	arranged: func(*Absorber) bool { return true },
	tubes:    func(a *Absorber) (n int, width float64) { return a.Cans.Columns, a.Cans.Diameter },
	headers:  func(a *Absorber) float64 { return a.Cans.Header },
	// The half that the sun sees.
	sprayed: func(h *Heater) float64 {
		c := h.Absorber.Cans
		return math.Pi / 2 * c.Diameter * c.Column() * float64(c.Columns)
	},
	seams: func(a *Absorber) float64 { return math.Pi * a.Cans.Diameter * float64(a.Cans.Columns*(a.Cans.Rows+1)) },
	Example: []Change{
		Set(HeaterName, "Can columns"), Set(AbsorberFamily, "can-columns"),
		Set(PaneWidth, 1.1), Set(PaneHeight, 1.9), Set(PlaceTilt, 75.0),
	},
}

// The sections of its fields.
var (
	inCans    = inMember("absorber.cans.", func(a *Absorber) **Cans { return &a.Cans })
	inColumns = inMember("absorber.cans.", func(a *Absorber) **Cans { return &a.Cans })
)

// Fields of the cans.
var (
	CansDiameter = number(inCans, "diameter_m", func(c *Cans) *float64 { return &c.Diameter }, Field{
		Label: "Can diameter", Kind: units.Length, Min: 0.04, Max: 0.12, Default: constant(0.066),
		When: cans, Since: 2, Help: "Diameter of one can.",
		Group: AbsorberGroup,
	})
	CansHeight = number(inCans, "height_m", func(c *Cans) *float64 { return &c.Height }, Field{
		Label: "Can height", Kind: units.Length, Min: 0.06, Max: 0.25, Default: constant(0.115), When: cans,
		Since: 2, Help: "Height of one can in the column.",
		Group: AbsorberGroup,
	})
	CansColumns = count(inCans, "columns", func(c *Cans) *int { return &c.Columns }, Field{
		Label: "Can columns", Kind: units.Number, Min: 1, Max: 40, When: cans, Since: 2,
		Help: "Columns side by side.",
		Default: func(h *Heater) any {
			return int(max(1, math.Floor((h.ApertureWidth()+0.001)/(h.Absorber.Cans.Diameter+0.001))))
		},
		Group: AbsorberGroup,
	})
	CansEnds = choice(inCans, "ends", func(c *Cans) *string { return &c.Ends }, Field{
		Label: "Can tops and bottoms", Choices: list("drilled", "drilled, three holes", "torn",
			"opened, flaps left", "cut", "cut out"), Default: constant("torn"), When: cans, Since: 2,
		Help:  "What is left of them stirs the air and causes a pressure drop.",
		Group: AbsorberGroup,
	})
	CansWall = number(inCans, "wall_m", func(c *Cans) *float64 { return &c.Wall }, Field{
		Label: "Can wall thickness", Kind: units.Length, Min: 0.00005, Max: 0.001, Default: constant(0.0001),
		When: cans, Since: 2, Help: "A drink can has about 0.1 mm.",
		Group: AbsorberGroup,
	})
)

// Fields of the columns that the cans are glued to.
var (
	CansHeader = number(inColumns, "header_m", func(c *Cans) *float64 { return &c.Header }, Field{
		Label: "Header height", Kind: units.Length, Min: 0.03, Max: 0.4, Default: headerDefault, When: cans,
		Since: 2, Help: "Inside height of the chambers that feed and collect the columns. Leaving them out is the usual mistake.",
		Group: AbsorberGroup,
	})
	CansOverlap = number(inColumns, "overlap_m", func(c *Cans) *float64 { return &c.Overlap }, Field{
		Label: "Overlap of the cans",
		Words: called(0, "none"), Kind: units.Length, Min: 0, Max: 0.03, When: cans,
		Default: constant(0.0), Since: 8, Help: "How far each can stands in the one below it; none where they are glued rim to rim.",
		Group: AbsorberGroup,
	})
	CansJoint = number(inColumns, "joint_m", func(c *Cans) *float64 { return &c.Joint }, Field{
		Label: "Growth of each glued joint", Kind: units.Length, Min: 0, Max: 0.005, When: cans,
		Default: constant(0.001), Since: 8, Help: "What a bead of silicone adds to the column: measure a glued column to know it.",
		Group: AbsorberGroup,
	})
	CansPerWeek = number(inColumns, "per_week", func(c *Cans) *float64 { return &c.PerWeek }, Field{
		Label: "Cans collected in a week", Kind: units.Number, Min: 0.5, Max: 1000, When: cans,
		Default: constant(10.0), Since: 8, Help: "It tells how long it takes to collect them.",
		Group: CansGroup,
	})
	CansRows = count(inColumns, "rows", func(c *Cans) *int { return &c.Rows }, Field{
		Label: "Cans in a column", Kind: units.Number, Min: 1, Max: 40, When: cans, Since: 2,
		Help:    "Cans glued on each other between the headers.",
		Default: func(h *Heater) any { return h.Absorber.Cans.MostRows(h.ApertureHeight() - 2*h.Absorber.Cans.Header) },
		Group:   AbsorberGroup,
	})
)

package design

import "gladember/core/units"

// Panel is a thin foil in a frame behind a room's own window.
type Panel struct {
	// Panes is how many the window has.
	Panes int `json:"panes"`
	// Gap is from the window to the foil, m.
	Gap float64 `json:"gap_m"`
	// Slots is the open share of the gap's width at top and bottom.
	Slots float64 `json:"slots"`
	// Back is its face to the room: painted, or bare metal.
	Back string `json:"back"`
}

// FoilGauge is the thickness of a window panel's foil, m. Common practice, no
// source.
const FoilGauge = 0.00005

var windowPanel = &FamilyRecord{
	ID: WindowPanel, Name: "foil panel behind a window", fields: inPanel,
	member: memberAt(func(a *Absorber) **Panel { return &a.Panel }), Natural: true,
	// A panel has only the air between window and foil.
	cavity: func(h *Heater) float64 { return h.Absorber.Panel.Gap },
	Example: []Change{
		Set(HeaterName, "Foil behind the kitchen window"), Set(AbsorberFamily, "window-panel"),
		Set(PaneWidth, 0.8), Set(PaneHeight, 1.1), Set(PlaceTilt, 90.0),
	},
}

// The sections of its fields.
var (
	inPanel = inMember("absorber.panel.", func(a *Absorber) **Panel { return &a.Panel })
)

// Fields of a foil behind a window.
var (
	PanelPanes = count(inPanel, "panes", func(p *Panel) *int { return &p.Panes }, Field{
		Label: "Window panes", Kind: units.Number, Min: 1, Max: 3, Default: constant(2),
		When: panel, Since: 2, Help: "Panes of the room's own window in front of the panel.",
		Group: AbsorberGroup,
	})
	PanelGap = number(inPanel, "gap_m", func(p *Panel) *float64 { return &p.Gap }, Field{
		Label: "Foil to window", Kind: units.Length, Min: 0.015, Max: 0.2, Default: sold(2, 0.050),
		When: panel, Since: 2, Help: "Air rises between window and foil.",
		Group: AbsorberGroup,
	})
	PanelSlots = number(inPanel, "slots", func(p *Panel) *float64 { return &p.Slots }, Field{
		Label: "Slot opening", Kind: units.Share, Min: 0.05, Max: 1, Default: constant(0.4), When: panel,
		Since: 2, Help: "Open part of the slots at top and bottom, as a share of the gap's depth.",
		Group: AbsorberGroup,
	})
	PanelBack = choice(inPanel, "back", func(p *Panel) *string { return &p.Back }, Field{
		Label: "Room side of the foil", Choices: list("painted", "painted like the front", "bare",
			"bare metal"), Default: constant("painted"),
		When: panel, Since: 3, Help: "Bare metal keeps the foil hotter and gives more of its heat to the air.",
		Group: AbsorberGroup,
	})
)

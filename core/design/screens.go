package design

import (
	"strings"

	"gladember/core/catalog"
	"gladember/core/units"
)

// Screens are layers of dark mesh that the air crosses from front to back.
type Screens struct {
	// Mesh is a mesh of the catalog.
	Mesh string `json:"mesh"`
	// Layers is how many lie behind each other.
	Layers int `json:"layers"`
	// Spacing is from one to the next, m.
	Spacing float64 `json:"spacing_m"`
	// Lift is how much nearer to the glass they lie at the top than at the
	// bottom, m.
	Lift float64 `json:"lift_m"`
	// Rear is from the last screen to the back at the bottom, m.
	Rear float64 `json:"rear_m"`
	// Bypass is the share of the air that slips around their edges.
	Bypass float64 `json:"bypass"`
	// A plate before the inlet spreads the air over the width; without one it
	// comes as a jet.
	Deflector bool `json:"deflector"`
	// Baffle is the share of the space in front that a bar half-way up leaves
	// open; 1 for no bar.
	Baffle float64 `json:"baffle_open"`
}

var screenBox = &FamilyRecord{
	ID: ScreenBox, Name: "black screens", fields: inScreens,
	member: memberAt(func(a *Absorber) **Screens { return &a.Screens }),
	cavity: func(h *Heater) float64 {
		a := h.Absorber.Screens
		return h.Box.Gap + (a.Lift + float64(a.Layers-1)*a.Spacing + a.Rear)
	},
	airway:   func(h *Heater) *float64 { return &h.Absorber.Screens.Rear },
	arranged: func(*Absorber) bool { return true },
	// At the bottom a port opens in front of the screens, at the top behind them. It reaches a bore and its margin along the box, where
	// the slant has taken some of the space, or not yet given it.
	space: func(h *Heater, inlet bool) (from, to float64) {
		a := h.Absorber.Screens
		low := min(1, (h.PortBore()+PortMargin)/h.ApertureHeight())
		if inlet {
			return 0, h.Box.Gap + a.Lift*(1-low)
		}
		return h.Box.Gap + a.Lift*low + float64(a.Layers-1)*a.Spacing, h.CavityDepth()
	},
	// One face of each layer, at a slant, so that the wires are black around and the second coat comes from the other side; screens that
	// are sold black take none. Common practice, no source: two layers of 26 sq ft took three cans of paint so.
	sprayed: func(h *Heater) float64 {
		a := h.Absorber.Screens
		if m, err := catalog.FindMesh(a.Mesh); err == nil && strings.HasPrefix(m.Name, "black") {
			return 0
		}
		return float64(a.Layers) * h.ApertureWidth() * h.ApertureHeight()
	},
	Example: []Change{
		Set(HeaterName, "Lean-to screen box"),
		Set(PaneWidth, 0.9), Set(PaneHeight, 1.5),
	},
}

// The sections of its fields.
var (
	inScreens = inMember("absorber.screens.", func(a *Absorber) **Screens { return &a.Screens })
)

// Fields of the screens.
var (
	ScreensMesh = choice(inScreens, "mesh", func(s *Screens) *string { return &s.Mesh }, Field{
		Label: "Screen", Choices: catalog.Meshes, Default: constant("aluminium-screen"), When: screens,
		Help:  "The mesh that absorbs the sun.",
		Group: AbsorberGroup,
	})
	ScreensLayers = count(inScreens, "layers", func(s *Screens) *int { return &s.Layers }, Field{
		Label: "Screen layers", Kind: units.Number, Min: 1, Max: 3, Default: constant(3),
		When: screens, Help: "Screens one behind the other.",
		Group: AbsorberGroup,
	})
	ScreensSpacing = number(inScreens, "spacing_m", func(s *Screens) *float64 { return &s.Spacing }, Field{
		Label: "Screen spacing", Kind: units.Length, Min: 0.003, Max: 0.05, Default: sold(0.375, 0.010),
		When: screens, Help: "From one screen to the next.",
		Group: AbsorberGroup,
	})
	ScreensLift = number(inScreens, "lift_m", func(s *Screens) *float64 { return &s.Lift }, Field{
		Label: "Screen slant, bottom to top", Kind: units.Length, Min: 0, Max: 0.15,
		Default: sold(3, 0.080), When: screens, Help: "How much nearer to the glass the screens are at the top, so that air must " +
			"cross them all the way up.",
		Group: AbsorberGroup,
	})
	ScreensRear = number(inScreens, "rear_m", func(s *Screens) *float64 { return &s.Rear }, Field{
		Label: "Space behind the screens, bottom", Kind: units.Length, Min: 0.003, Max: 0.1,
		Default: sold(1.25, 0.030), When: screens, Help: "Air between the last screen and the back at the bottom.",
		Group: AbsorberGroup,
	})
	ScreensBypass = number(inScreens, "bypass", func(s *Screens) *float64 { return &s.Bypass }, Field{
		Label: "Bypass air", Kind: units.Share, Min: 0, Max: 0.3, Default: constant(0.10), When: screens,
		Help:  "Share of the air that passes the edges and never crosses a screen.",
		Group: AbsorberGroup,
	})
	ScreensDeflector = yesNo(inScreens, "deflector", func(s *Screens) *bool { return &s.Deflector }, Field{
		Label: "Deflector at the inlet", Default: constant(true), When: screens, Since: 5,
		Help: "A plate in front of the inlet that spreads the air over the width of the box. Without it the air comes as a jet; what " +
			"the jet costs at the glass is not computed.",
		Group: AbsorberGroup,
	})
	ScreensBaffle = number(inScreens, "baffle_open", func(s *Screens) *float64 { return &s.Baffle }, Field{
		Label: "Opening of the mid-height baffle", Kind: units.Share, Min: 0.05, Max: 1,
		Default: constant(1.0), When: screens, Since: 5,
		Help:  "A bar across the space in front of the screens at mid-height sends more air through their lower half; 100 % is no bar.",
		Group: AbsorberGroup,
	})
)

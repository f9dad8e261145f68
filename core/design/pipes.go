package design

import (
	"math"

	"gladember/core/catalog"
	"gladember/core/units"
)

// Pipes are rectangular downpipes standing side by side.
type Pipes struct {
	// Metal is a sheet metal of the catalog.
	Metal string `json:"metal"`
	// Width lies along the glass and Depth stands square to it, m, both
	// outside.
	Width float64 `json:"width_m"`
	Depth float64 `json:"depth_m"`
	// Wall is the thickness of the metal, m.
	Wall float64 `json:"wall_m"`
	// Count is how many stand side by side.
	Count int `json:"count"`
	// Join is parallel or series; pipes in series turn at the ends.
	Join string `json:"join"`
	// Fins says whether flashing lies behind them over the whole width.
	Fins bool `json:"fins"`
	// Header is the inside height of each header, m.
	Header float64 `json:"header_m"`
	// Behind is the depth of the channel behind them, for the double pass, m.
	Behind float64 `json:"behind_m"`
}

// sprayedPipes is the front and half of either side.
func sprayedPipes(h *Heater) float64 {
	p := h.Absorber.Pipes
	return (p.Width + p.Depth) * float64(p.Count) * (h.ApertureHeight() - 2*p.Header)
}

func seamsOfPipes(a *Absorber) float64 {
	return 2 * (a.Pipes.Width + a.Pipes.Depth) * 2 * float64(a.Pipes.Count)
}

func pipesBeside(a *Absorber) (n int, width float64) { return a.Pipes.Count, a.Pipes.Width }

func headersOfPipes(a *Absorber) float64 {
	if a.Pipes.Join == "series" {
		return 0
	}
	return a.Pipes.Header
}

var pipesMember = memberAt(func(a *Absorber) **Pipes { return &a.Pipes })

var downpipes = &FamilyRecord{
	ID: Downpipes, Name: "downpipes", fields: inPipes, late: inManifold,
	member:   pipesMember,
	cavity:   func(h *Heater) float64 { return h.Box.Gap + (h.Absorber.Pipes.Depth + tubeRear) },
	airway:   func(h *Heater) *float64 { return &h.Absorber.Pipes.Depth },
	arranged: func(a *Absorber) bool { return a.Pipes.Join != "series" },
	tubes:    pipesBeside, headers: headersOfPipes, sprayed: sprayedPipes, seams: seamsOfPipes,
	ends: func(a *Absorber) (bottomIn, topOut, sameSide bool) {
		return true, a.Pipes.Join != "series" || a.Pipes.Count%2 == 1, false
	},
	Example: []Change{
		Set(HeaterName, "Downpipes side by side"), Set(AbsorberFamily, "downpipes"),
		Set(PaneWidth, 1.0), Set(PaneHeight, 2.1), Set(PlaceTilt, 90.0),
	},
}

var doublePassTubes = &FamilyRecord{
	ID: DoublePassTubes, Name: "double-pass pipes", fields: inPipes, late: inManifold,
	member: pipesMember,
	cavity: func(h *Heater) float64 { return h.Box.Gap + (h.Absorber.Pipes.Depth + h.Absorber.Pipes.Behind) },
	airway: func(h *Heater) *float64 { return &h.Absorber.Pipes.Depth },
	tubes:  pipesBeside, headers: headersOfPipes, sprayed: sprayedPipes, seams: seamsOfPipes,
	space: func(h *Heater, inlet bool) (from, to float64) {
		front := h.Box.Gap + h.Absorber.Pipes.Depth
		if inlet {
			return front, h.CavityDepth()
		}
		return 0, front
	},
	ends: fromTheTop,
	Example: []Change{
		Set(HeaterName, "Pipes passed twice"), Set(AbsorberFamily, "double-pass-tubes"),
		Set(PaneWidth, 1.0), Set(PaneHeight, 1.8), Set(CoverMaterial, "twin-wall"),
	},
}

// The sections of its fields.
var (
	inPipes    = inMember("absorber.pipes.", func(a *Absorber) **Pipes { return &a.Pipes })
	inManifold = inMember("absorber.pipes.", func(a *Absorber) **Pipes { return &a.Pipes })
)

// Fields of the pipes.
var (
	PipesMetal = choice(inPipes, "metal", func(p *Pipes) *string { return &p.Metal }, Field{
		Label: "Pipe metal", Choices: catalog.Sheets, Default: constant("aluminium"), When: pipes, Since: 2,
		Help:  "What the downpipes are made of.",
		Group: AbsorberGroup,
	})
	PipesWidth = number(inPipes, "width_m", func(p *Pipes) *float64 { return &p.Width }, Field{
		Label: "Pipe width", Kind: units.Length, Min: 0.03, Max: 0.2, Default: sold(3, 0.075), When: pipes,
		Since: 2, Help: "The side that faces the sun.",
		Group: AbsorberGroup,
	})
	PipesDepth = number(inPipes, "depth_m", func(p *Pipes) *float64 { return &p.Depth }, Field{
		Label: "Pipe depth", Kind: units.Length, Min: 0.02, Max: 0.15, Default: sold(2, 0.050), When: pipes,
		Since: 2, Help: "The side that goes back into the box.",
		Group: AbsorberGroup,
	})
	PipesWall = number(inPipes, "wall_m", func(p *Pipes) *float64 { return &p.Wall }, Field{
		Label: "Pipe wall thickness", Kind: units.Length, Min: 0.0003, Max: 0.003, Default: constant(0.0005),
		When: pipes, Since: 2, Help: "Thickness of its metal.",
		Group: AbsorberGroup,
	})
	PipesCount = count(inPipes, "count", func(p *Pipes) *int { return &p.Count }, Field{
		Label: "Number of pipes", Kind: units.Number, Min: 1, Max: 30, When: pipes, Since: 2,
		Help: "Side by side.",
		Default: func(h *Heater) any {
			return int(max(1, math.Floor(h.ApertureWidth()/(h.Absorber.Pipes.Width+0.004))))
		},
		Group: AbsorberGroup,
	})
	PipesJoin = choice(inPipes, "join", func(p *Pipes) *string { return &p.Join }, Field{
		Label: "Pipe connection", Choices: list("parallel", "in parallel", "series", "in series"),
		Default: constant("parallel"), When: made(Downpipes),
		Since: 2, Help: "In series the same air passes all of them, which takes more fan pressure.",
		Group: AbsorberGroup,
	})
	PipesFins = yesNo(inPipes, "fins", func(p *Pipes) *bool { return &p.Fins }, Field{
		Label: "Flashing behind the pipes", Default: constant(true), When: pipes, Since: 2,
		Help:  "A sheet behind the pipes absorbs the sun that falls between them.",
		Group: AbsorberGroup,
	})
	PipesBehind = number(inPipes, "behind_m", func(p *Pipes) *float64 { return &p.Behind }, Field{
		Label: "Air channel behind the pipes", Kind: units.Length, Min: 0.01, Max: 0.1,
		Default: sold(1.25, 0.030), When: made(DoublePassTubes),
		Since: 2, Help: "Where the air comes down before it goes up through the pipes.",
		Group: AbsorberGroup,
	})
)

// Fields of the headers of the pipes.
var (
	PipesHeader = number(inManifold, "header_m", func(p *Pipes) *float64 { return &p.Header }, Field{
		Label: "Header height", Kind: units.Length, Min: 0.03, Max: 0.4, Default: headerDefault,
		When: and(pipes, func(h *Heater) bool {
			return h.Absorber.Family == DoublePassTubes || h.Absorber.Pipes == nil || h.Absorber.Pipes.Join != "series"
		}), Since: 2, Help: "Inside height of the chambers that feed and collect the pipes.",
		Group: AbsorberGroup,
	})
)

package design

import (
	"gladember/core/catalog"
	"gladember/core/units"
)

// Plate is a dark sheet: with the air behind it, in front of it, or both.
type Plate struct {
	// Metal is a sheet metal of the catalog, Thickness its gauge, m.
	Metal     string  `json:"metal"`
	Thickness float64 `json:"thickness_m"`
	// Channel is the depth of the air channel behind it, m.
	Channel float64 `json:"channel_m"`
	// Baffles is how many boards make the air wind its way in that channel.
	Baffles int `json:"baffles"`
	// Vanes says that bent strips lead the air around each turn.
	Vanes bool `json:"turning_vanes"`
}

var plateMember = memberAt(func(a *Absorber) **Plate { return &a.Plate })

func metalOfPlate(a *Absorber) string { return a.Plate.Metal }

// inChannel is the depth of a box whose air passes behind its plate, and channelOf that of the channel.
func inChannel(h *Heater) float64 {
	return h.Box.Gap + (h.Absorber.Plate.Thickness + h.Absorber.Plate.Channel)
}

func channelOf(h *Heater) *float64 { return &h.Absorber.Plate.Channel }

// behindPlate is the space behind a plate, into which a port opens.
func behindPlate(h *Heater, _ bool) (from, to float64) {
	return h.Box.Gap + h.Absorber.Plate.Thickness, h.CavityDepth()
}

var backPassPlate = &FamilyRecord{
	ID: BackPassPlate, Name: "back-pass plate", fields: inPlate,
	member: plateMember, Metal: metalOfPlate, cavity: inChannel, airway: channelOf,
	arranged: func(a *Absorber) bool { return a.Plate.Baffles == 0 },
	space:    behindPlate,
	// With an odd number of baffles the air ends on the side on which it began.
	ends: func(a *Absorber) (bottomIn, topOut, sameSide bool) { return true, true, a.Plate.Baffles%2 == 1 },
	Example: []Change{
		Set(HeaterName, "Gable plate"),
		Set(AbsorberFamily, "back-pass-plate"),
		Set(PaneWidth, 1.0), Set(PaneHeight, 2.0),
		Set(PlaceTilt, 90.0),
	},
}

var frontPassPlate = &FamilyRecord{
	ID: FrontPassPlate, Name: "front-pass plate", fields: inPlate,
	member: plateMember, Metal: metalOfPlate,
	// The plate lies on the insulation; its air is in front.
	cavity:   func(h *Heater) float64 { return h.Box.Gap + h.Absorber.Plate.Thickness },
	airway:   func(h *Heater) *float64 { return &h.Box.Gap },
	arranged: func(*Absorber) bool { return true },
	space:    func(h *Heater, _ bool) (from, to float64) { return 0, h.Box.Gap },
	Example: []Change{
		Set(HeaterName, "Cheap front-pass plate"), Set(AbsorberFamily, "front-pass-plate"),
		Set(PaneWidth, 0.9), Set(PaneHeight, 1.6),
	},
}

var doublePassPlate = &FamilyRecord{
	ID: DoublePassPlate, Name: "double-pass plate", fields: inPlate,
	member: plateMember, Metal: metalOfPlate, cavity: inChannel, airway: channelOf,
	space: func(h *Heater, inlet bool) (from, to float64) {
		if inlet {
			return behindPlate(h, inlet)
		}
		return 0, h.Box.Gap
	},
	ends: fromTheTop,
	Example: []Change{
		Set(HeaterName, "Plate passed twice"), Set(AbsorberFamily, "double-pass-plate"),
		Set(PaneWidth, 0.95), Set(PaneHeight, 1.7),
	},
}

var passiveBox = &FamilyRecord{
	ID: PassiveBox, Name: "box without a fan", fields: inPlate,
	member: plateMember, Metal: metalOfPlate, Natural: true,
	cavity: inChannel, airway: channelOf,
	Example: []Change{
		Set(HeaterName, "Leaned box without a fan"), Set(AbsorberFamily, "passive-box"),
		Set(PaneWidth, 0.7), Set(PaneHeight, 1.2), Set(PlaceTilt, 50.0),
		Set(AirPorts, 3), Set(AirDiameter, 0.100), Set(AirToBox, 0.3),
		Set(AirFromBox, 0.3), Set(AirBends, 0),
		Set(MirrorLength, 0.6),
	},
}

// The sections of its fields.
var (
	inPlate = inMember("absorber.plate.", func(a *Absorber) **Plate { return &a.Plate })
)

// Fields of a plate.
var (
	PlateMetal = choice(inPlate, "metal", func(p *Plate) *string { return &p.Metal }, Field{
		Label: "Plate metal", Choices: catalog.Sheets, Default: constant("aluminium"), When: plates,
		Help:  "The metal that absorbs the sun.",
		Group: AbsorberGroup,
	})
	PlateThickness = number(inPlate, "thickness_m", func(p *Plate) *float64 { return &p.Thickness }, Field{
		Label: "Plate thickness", Kind: units.Length, Min: 0.0001, Max: 0.004, Default: constant(0.0007),
		When: plates, Help: "Thickness of the plate.",
		Group: AbsorberGroup,
	})
	PlateChannel = number(inPlate, "channel_m", func(p *Plate) *float64 { return &p.Channel }, Field{
		Label: "Air channel depth", Kind: units.Length, Min: 0.005, Max: 0.15, When: channels,
		Help: "Depth of the air channel behind the plate.",
		Default: func(h *Heater) any {
			if h.Absorber.Family == PassiveBox {
				return sold(2.5, 0.060)(h)
			}
			return sold(1, 0.025)(h)
		},
		Group: AbsorberGroup,
	})
	PlateBaffles = count(inPlate, "baffles", func(p *Plate) *int { return &p.Baffles }, Field{
		Label: "Baffles", Kind: units.Number, Min: 0, Max: 7, When: made(BackPassPlate),
		Default: constant(2), Help: "Strips that send the air from side to side.",
		Group: AbsorberGroup,
	})
	PlateVanes = yesNo(inPlate, "turning_vanes", func(p *Plate) *bool { return &p.Vanes }, Field{
		Label: "Turning vanes", Default: constant(false), Since: 7,
		When: func(h *Heater) bool {
			folded, _ := h.Folded()
			return made(BackPassPlate)(h) && (h.Absorber.Plate.Baffles > 0 || folded) || folded && h.Absorber.Family == FrontPassPlate
		},
		Help:  "Bent strips that lead the air around each turn: it then costs about a third of the pressure.",
		Group: AbsorberGroup,
	})
)

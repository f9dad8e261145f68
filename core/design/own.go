package design

import (
	"fmt"

	"gladember/core/catalog"
	"gladember/core/units"
)

// Own is a builder's own absorber: a dark body with passages in front, inside
// or behind, taken by the air one after the other.
type Own struct {
	// Metal is a sheet metal of the catalog, and Wall its thickness, m.
	Metal string  `json:"metal"`
	Wall  float64 `json:"wall_m"`
	// Depth is that of the body, m.
	Depth float64 `json:"depth_m"`
	// Surface is the front surface over its plan: 1 is flat, 1.2 corrugated.
	Surface float64 `json:"surface"`
	// Passages are in the order in which the air takes them, [MostPassages] at
	// most.
	Passages []Passage `json:"passages"`
}

// Passage is one stretch of the air's way through an absorber of one's own.
type Passage struct {
	// Where is front, inside or behind.
	Where string `json:"where"`
	// Way is up or down.
	Way string `json:"way"`
	// Depth is that of the passage, m.
	Depth float64 `json:"depth_m"`
	// Swept is the surface that the air sweeps over the plan, on each side.
	Swept float64 `json:"swept"`
	// Turns is how often the air turns by 180 degrees.
	Turns int `json:"turns"`
	// Rough is the roughness of the walls, m.
	Rough float64 `json:"roughness_m"`
}

var ownAbsorber = &FamilyRecord{
	ID: OwnAbsorber, Name: "your own absorber", fields: inOwn, late: passageSections{},
	member: memberAt(func(a *Absorber) **Own { return &a.Own }),
	Metal:  func(a *Absorber) string { return a.Own.Metal },
	cavity: func(h *Heater) float64 {
		d := h.Box.Gap + h.Absorber.Own.Depth
		for _, p := range h.Absorber.Own.Passages {
			// A passage behind the body adds its own depth.
			if p.Where == "behind" {
				d += p.Depth
				break
			}
		}
		return d
	},
	sprayed: func(h *Heater) float64 { return h.Absorber.Own.Surface * h.ApertureWidth() * h.ApertureHeight() },
	ends: func(a *Absorber) (bottomIn, topOut, sameSide bool) {
		if len(a.Own.Passages) == 0 {
			return true, true, false
		}
		return a.Own.Passages[0].Way != "down", a.Own.Passages[len(a.Own.Passages)-1].Way != "down", false
	},
}

// passageSections are those of its passages.
type passageSections struct{}

func (passageSections) declared() (fs []*Field) {
	for _, s := range inPassage {
		fs = append(fs, s.declared()...)
	}
	return fs
}

// The sections of its fields.
var (
	inOwn = inMember("absorber.own.", func(a *Absorber) **Own { return &a.Own })
)

// Fields of an absorber of one's own.
var (
	OwnMetal = choice(inOwn, "metal", func(o *Own) *string { return &o.Metal }, Field{
		Label: "Absorber metal", Choices: catalog.Sheets, Default: constant("aluminium"), When: own, Since: 2,
		Help:  "What the absorber is made of.",
		Group: AbsorberGroup,
	})
	OwnWall = number(inOwn, "wall_m", func(o *Own) *float64 { return &o.Wall }, Field{
		Label: "Absorber wall thickness", Kind: units.Length, Min: 0.00005, Max: 0.005,
		Default: constant(0.0005), When: own, Since: 2, Help: "Thickness of its metal.",
		Group: AbsorberGroup,
	})
	OwnDepth = number(inOwn, "depth_m", func(o *Own) *float64 { return &o.Depth }, Field{
		Label: "Absorber depth", Kind: units.Length, Min: 0.0005, Max: 0.2, Default: sold(1.25, 0.030),
		When: own, Since: 2, Help: "From its front to its back.",
		Group: AbsorberGroup,
	})
	OwnSurface = number(inOwn, "surface", func(o *Own) *float64 { return &o.Surface }, Field{
		Label: "Front surface ratio", Kind: units.Number, Min: 1, Max: 3, Default: constant(1.15), When: own,
		Since: 2, Help: "True surface divided by its flat size: 1 is flat, 1.2 corrugated.",
		Group: AbsorberGroup,
	})
)

// MostPassages is how many passages an absorber of one's own may have.
const MostPassages = 4

// PassageFields are those of one passage of an absorber of one's own.
type PassageFields struct {
	Where, Way          *Of[string]
	Depth, Swept, Rough *Of[float64]
	Turns               *Of[int]
}

// OwnPassages are the fields of each passage, in the order in which the air takes them.
var OwnPassages, inPassage = declarePassages()

func declarePassages() (all [MostPassages]PassageFields, sections [MostPassages]*section[Passage]) {
	for i := range all {
		s := &section[Passage]{path: fmt.Sprintf("absorber.own.passages.%d.", i), affects: Physics | Making,
			at: func(h *Heater, _ bool) *Passage {
				if o := h.Absorber.Own; o != nil && i < len(o.Passages) {
					return &o.Passages[i]
				}
				return nil
			}}
		f := func(label, help string, f Field) Field {
			f.Label, f.Help = fmt.Sprintf("%s, passage %d", label, i+1), help
			f.When = func(h *Heater) bool { return own(h) && h.Absorber.Own != nil && i < len(h.Absorber.Own.Passages) }
			f.Since, f.Group, f.Stays = 2, AbsorberGroup, true
			return f
		}
		all[i] = PassageFields{
			Where: choice(s, "where", func(p *Passage) *string { return &p.Where }, f("Position", "Where this part of the air path is.",
				Field{Choices: list("front", "in front", "inside", "inside", "behind", "behind"), Default: constant("behind")})),
			Way: choice(s, "way", func(p *Passage) *string { return &p.Way }, f("Direction", "Direction of the air in it.",
				Field{Choices: list("up", "up", "down", "down"), Default: constant("up")})),
			Depth: number(s, "depth_m", func(p *Passage) *float64 { return &p.Depth }, f("Depth",
				"Clear depth of the passage; in front, the distance from glass to absorber counts.",
				Field{Kind: units.Length, Min: 0.003, Max: 0.2, Default: constant(0.020)})),
			Swept: number(s, "swept", func(p *Passage) *float64 { return &p.Swept }, f("Swept surface ratio",
				"Surface that the air sweeps on the absorber, divided by its flat size.",
				Field{Kind: units.Number, Min: 0.5, Max: 6, Default: constant(1.0)})),
			Turns: count(s, "turns", func(p *Passage) *int { return &p.Turns }, f("U-turns", "Turns by 180 degrees in this passage.",
				Field{Kind: units.Number, Min: 0, Max: 12, Default: constant(0)})),
			Rough: number(s, "roughness_m", func(p *Passage) *float64 { return &p.Rough }, f("Roughness",
				"Height of ribs or flaps in the passage.", Field{Kind: units.Length, Min: 0, Max: 0.005, Default: constant(0.0)})),
		}
		sections[i] = s
	}
	return all, sections
}

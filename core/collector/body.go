package collector

import (
	"math"

	"gladember/core/catalog"
	"gladember/core/design"
	"gladember/core/heattransfer"
)

// body sets what the box loses by its back and edges.
// The back is insulation and board in series. The edges are the lined side of
// the frame over the depth of the cavity, and the frame's own wood as a bridge
// past the insulation. Bodies of foam have no bridge; sheet metal is one unless
// foam lines it.
func (d *Description) body(h *design.Heater, foam catalog.Insulation) error {
	wood, err := catalog.FindWood(h.Box.Frame)
	if err != nil {
		return err
	}
	d.Walls = 1 - 0.95
	if h.Box.Walls == "shiny" {
		d.Walls = 1 - shinyAbsorptance
	}
	if d.Indoors {
		d.EdgeUA = func(Tuning) float64 { return 0 }
		return nil
	}
	perimeter := 2 * (d.Width + d.Height)
	metal := 0.0 // the bridge that shows where the sides of a sheet body lose their insulation
	board, side := h.Box.Board/wood.Conductivity, h.Box.FrameWidth/wood.Conductivity
	// The frame bridges the back foam's edge: its own width of wood from the
	// cavity to the outside, over half its depth.
	bridge := wood.Conductivity * h.Box.FrameWidth / max(0.02, h.FrameDepth()/2)
	switch h.Box.Body {
	case "foam":
		board, side, bridge = 0, h.Box.FrameWidth/foam.Conductivity, 0
	case "sheet": // metal keeps nothing in; where no foam lines it, it is the bridge
		board, side, bridge = 0, 0, 0
		metal = 160 * 0.001 / max(0.02, h.FrameDepth()/2)
		if h.Box.EdgeFoam == 0 {
			bridge, metal = metal, 0
		}
	}
	if h.Box.Under > 0 && h.Box.Body == "timber" { // a strip of insulation behind the bridge, as wide as the frame
		bridge = 1 / (1/bridge + h.Box.Under/(foam.Conductivity*h.Box.FrameWidth))
	}
	d.BackR = func(t Tuning) float64 { return h.Box.BackFoam/(foam.Conductivity*(1+t.Foam)) + board }
	if d.Mount, d.WallR = "wall", wallResistance(h); h.Air.Route == "stand" {
		d.Mount = "rack"
	}
	depth := h.CavityDepth()
	d.EdgeUA = func(t Tuning) float64 {
		u := 1 / (h.Box.EdgeFoam*(1-t.Edge)/(foam.Conductivity*(1+t.Foam)) + side + heattransfer.FilmOutside)
		return perimeter * (u*depth + bridge*(1+t.Foam) + metal*t.Edge)
	}
	// Two seams run around the box, the bed of the glazing and the corners at
	// the back.
	d.Seam = 2 * 2 * (h.OuterWidth() + h.OuterHeight()) * h.Box.Seam * d.boxes() // glazing bed and frame corners
	return nil
}

// rackFilm is the surface resistance of a back on a rack in a wind of v m/s,
// m2K/W. Source: ISO 6946 annex: 4 + 4 v and 4.6 of radiation; 0.04 at its 4
// m/s.
func rackFilm(v float64) float64 { return 1 / (4 + 4*max(0, v) + 4.6) }

// wallResistance is that of a heater's outside wall from its outer face to the
// room's air, m2K/W: the film inside, skin and wool; of a greenhouse a pane.
func wallResistance(h *design.Heater) float64 {
	if h.Room.Kind == design.Greenhouse {
		return heattransfer.FilmAcross + 0.004
	}
	return 1 / heattransfer.StudWall(h.Room.Wool(), heattransfer.FilmAcross)
}

// back returns the back's conductances to the outdoors and to the room through
// the wall that the box lies on, W/m2K.
// Between flush and leaning, and between leaning and lying, the shares of wall,
// rack and roof go over in proportion to the tilt, so that no figure jumps.
func (d *Description) back(c Conditions, t Tuning) (outdoors, room float64) {
	if d.Mount == "" {
		return 0, 0
	}
	r := d.BackR(t)
	if d.Mount == "rack" {
		return 1 / (r + rackFilm(c.Wind*math.Exp(t.Wind))), 0
	}
	onWall := max(0, min(1, (c.Tilt-leaning)/(flush-leaning)))
	onRoof := max(0, min(1, (leaning-c.Tilt)/(leaning-lying)))
	return onRoof/(r+deck) + (1-onWall-onRoof)/(r+sheltered), onWall / (r + d.WallR)
}

// WarmedByRoom says whether a box at a tilt lies on a wall that leads heat
// between it and the room.
// The year then couples the two.
func (d *Description) WarmedByRoom(tilt float64) bool {
	_, room := d.back(Conditions{Tilt: tilt}, Tuning{})
	return room > 0
}

// What the outside of the back gives its heat to, m2K/W. Sheltered: the
// ventilated space behind a box that leans on brackets counts as a surface
// indoors (ISO 6946, well-ventilated layers). Deck: 20 mm of boards under a box
// that lies on a roof, and the air of the attic, as cold as outdoors (common
// practice, no source).
const (
	sheltered = 0.13
	deck      = 0.020/0.13 + 0.10
)

// A box on a wall lies flush against it from flush degrees up, leans on
// brackets at leaning, and lies on a roof at lying and below; between, the
// share of each goes straight.
const (
	flush   = 90.0
	leaning = 75.0
	lying   = 45.0
)

package collector

import (
	"gladember/core/catalog"
	"gladember/core/design"
)

func init() {
	makers[design.BackPassPlate] = (*maker).plate
	makers[design.FrontPassPlate] = (*maker).plate
	makers[design.DoublePassPlate] = (*maker).plate
	makers[design.PassiveBox] = (*maker).plate
}

// plate is a sheet with air behind it, in front of it, first in front and then
// behind, or on both sides at once where warmth alone moves it.
func (k *maker) plate() (Passages, error) {
	h, a := k.h, k.h.Absorber.Plate
	metal, err := catalog.FindSheet(a.Metal)
	if err != nil {
		return Passages{}, err
	}
	plate := k.dark("plate", metal, h.Box.Gap)
	plate.Store = sheetHeat(metal, a.Thickness)
	front := k.slot("in front", h.Box.Gap, wall{layer: -1, surface: 1}, wall{layer: 0, surface: 1})
	behind := k.slot("behind", a.Channel, wall{layer: 0, surface: 1}, wall{layer: 1, surface: 1})
	var groups [][]passage
	layers := []Layer{plate, k.behindIt(a.Channel)}
	switch h.Absorber.Family {
	case design.FrontPassPlate:
		// The plate lies on the foam: a millimeter of air in between.
		layers[1].Gap = 0.001
		front = k.folded(front, h.Box.Gap)
		groups = [][]passage{{front}}
	case design.DoublePassPlate:
		behind.down = true
		behind.fittings += lossTurn
		groups = [][]passage{{behind}, {front}}
	case design.PassiveBox:
		groups = [][]passage{{front, behind}}
	default:
		behind.name, behind.rough = "channel", 0.2e-3
		if a.Baffles > 0 { // from side to side, once between two baffles
			passes := float64(a.Baffles + 1)
			side := k.l / passes
			behind.area, behind.dh, behind.length = a.Channel*side, 2*a.Channel*side/(a.Channel+side), k.w*passes
			behind.fittings += k.turn() * float64(a.Baffles)
		}
		behind = k.folded(behind, a.Channel)
		groups = [][]passage{{behind}}
	}
	out := k.made(layers, groups, nil)
	if h.OneAbove() {
		k.onOneSide(&out, groups[0][0].strip(stripsAcross))
	}
	switch h.Absorber.Family {
	case design.FrontPassPlate:
		out.Ports = [2]float64{h.Box.Gap, h.Box.Gap}
	case design.DoublePassPlate:
		out.Ports = [2]float64{a.Channel, h.Box.Gap}
	case design.PassiveBox: // its plate stands back from the ports
		out.Ports = [2]float64{a.Channel + h.Box.Gap, a.Channel + h.Box.Gap}
	default:
		out.Ports = [2]float64{a.Channel, a.Channel}
	}
	return out, nil
}

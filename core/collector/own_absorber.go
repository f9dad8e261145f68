package collector

import (
	"fmt"

	"gladember/core/catalog"
	"gladember/core/design"
	"gladember/core/optics"
)

func init() {
	makers[design.OwnAbsorber] = (*maker).own
}

// own is a builder's own absorber by its passages and surfaces.
func (k *maker) own() (Passages, error) {
	a := k.h.Absorber.Own
	metal, err := catalog.FindSheet(a.Metal)
	if err != nil {
		return Passages{}, err
	}
	front := k.dark("front of the absorber", metal, k.h.Box.Gap)
	front.Infrared.ReflectBack = 1 - metal.Emittance
	front.Store = sheetHeat(metal, a.Wall) * a.Surface
	rear := k.dark("back of the absorber", metal, max(0.002, a.Depth))
	rear.Infrared = optics.Layer{ReflectFront: 1 - metal.Emittance, ReflectBack: 1 - k.paint.Emittance}
	rear.Store = sheetHeat(metal, a.Wall)
	layers := []Layer{front, rear, k.behindIt(k.h.TubeRear())}
	// Front and back of a hollow body meet along webs as far apart as it is deep.
	pitch := max(0.02, 2*a.Depth)
	joins := []Join{{0, 1, metal.Conductivity * a.Wall / max(0.002, a.Depth) / pitch}}
	var groups [][]passage
	for _, x := range a.Passages {
		var p passage
		switch x.Where {
		case "front":
			p = k.slot("in front", k.h.Box.Gap, wall{layer: -1, surface: 1}, wall{layer: 0, surface: x.Swept * a.Surface})
		case "inside":
			depth := min(x.Depth, max(0.002, a.Depth))
			p = k.slot("inside", depth, wall{layer: 0, surface: x.Swept}, wall{layer: 1, surface: x.Swept})
			p.dh = 2 * depth / max(1, x.Swept)
		default:
			layers[2].Gap = x.Depth
			p = k.slot("behind", x.Depth, wall{layer: 1, surface: x.Swept}, wall{layer: 2, surface: 1})
		}
		p.rough = x.Rough
		p.fittings += lossTurn * float64(x.Turns)
		p.down = x.Way == "down"
		groups = append(groups, []passage{p})
	}
	if len(groups) == 0 {
		return Passages{}, fmt.Errorf("the absorber has no passage for the air")
	}
	out := k.made(layers, groups, joins)
	deep := func(x design.Passage) float64 {
		if x.Where == "front" {
			return k.h.Box.Gap
		}
		return x.Depth
	}
	out.Ports = [2]float64{deep(a.Passages[0]), deep(a.Passages[len(a.Passages)-1])}
	return out, nil
}

package collector

import (
	"gladember/core/catalog"
	"gladember/core/design"
	"gladember/core/heattransfer"
	"gladember/core/optics"
)

// maker gathers what every family needs of a heater.
type maker struct {
	h *design.Heater
	// w and l are the aperture's width and length, m.
	w, l  float64
	paint catalog.Paint
	foam  catalog.Insulation
	// sun is what a painted face does to sunlight at an incidence, and ir what
	// it does to infrared.
	sun func(float64) optics.Layer
	ir  optics.Layer
	// back is the lining behind the absorber; its Gap is yet to be set.
	back Layer
}

// shinyEmittance and shinyAbsorptance are foil's, dull from handling.
// Common practice, no source.
const (
	shinyEmittance   = 0.10
	shinyAbsorptance = 0.15
)

// Loss coefficients inside the box, on the passage's own speed. Turns and
// entries: Idelchik, as rounded common practice.
const (
	lossTurn   = 1.5 // 180 degrees in a channel
	lossVaned  = 0.5 // the same with turning vanes: common practice, no source
	lossRibbed = 0.9 // 180 degrees in ribbed duct
	lossInto   = lossEntrance + lossExit
)

// newMaker collects what all families need: opening, paint and insulation. It
// fails where the catalog has no such material.
func newMaker(h *design.Heater, foam catalog.Insulation) (*maker, error) {
	k := &maker{h: h, w: h.ApertureWidth(), l: h.ApertureHeight(), foam: foam}
	var err error
	if k.paint, err = catalog.FindPaint(h.Absorber.Paint); err != nil {
		return nil, err
	}
	k.sun, k.ir = opaque(k.paint.Absorptance, k.paint.Emittance)
	k.back = Layer{Name: "back", Kind: BackLayer, Material: foam.ID, Service: foam.Service, Infrared: k.ir, Sun: k.sun,
		Store: lining(h, foam) + stones(h)}
	if h.Box.Walls == "shiny" {
		k.back.Sun, k.back.Infrared = opaque(shinyAbsorptance, shinyEmittance)
	}
	return k, nil
}

// lining is the heat that the back takes up per kelvin of its inside, J/m2K:
// half of the foam, whose other side is cold, and of a bare board.
func lining(h *design.Heater, foam catalog.Insulation) float64 {
	if h.Box.BackFoam > 0 {
		return h.Box.BackFoam / 2 * foam.Density * heatFoam
	}
	return h.Box.Board / 2 * 500 * heatWood
}

// heatStone is the specific heat of stone, J/kgK. Source: ISO 10456, granite and
// basalt 1,000; Incropera table A.3, granite 775, limestone 810: a middle one.
const heatStone = 840.0

// stones is what stones on the back take up, J/m2K of aperture: as warm all
// through as the back, which holds for pieces of a fist and less.
func stones(h *design.Heater) float64 { return h.Box.Stones * heatStone / h.Aperture() }

// sheetHeat is what a thickness of a metal takes up, J/m2K.
func sheetHeat(m catalog.Sheet, thickness float64) float64 { return thickness * m.Density * m.Heat }

// dark is a painted layer of a metal.
func (k *maker) dark(name string, metal catalog.Sheet, gap float64) Layer {
	return Layer{Name: name, Kind: AbsorberLayer, Material: k.paint.ID, Service: min(k.paint.Service, metal.Service), Gap: gap,
		Infrared: k.ir, Sun: k.sun}
}

// behindIt returns the back lining at a distance.
func (k *maker) behindIt(gap float64) Layer {
	b := k.back
	b.Gap = gap
	return b
}

// slot is a passage as wide as the box and depth deep, going up it.
func (k *maker) slot(name string, depth float64, walls ...wall) passage {
	p := passage{name: name, section: heattransfer.Slot, dh: 2 * depth, depth: depth, area: depth * k.w, length: k.l, fittings: lossInto}
	copy(p.walls[:], walls)
	return p
}

// made puts the layers and the passages of a family together; groups are taken
// by the air one after the other, the passages of one group side by side.
func (k *maker) made(layers []Layer, groups [][]passage, joins []Join) Passages {
	p := Passages{Layers: layers, Joins: joins}
	p.Elements, p.Air = routed(groups)
	for _, g := range groups {
		p.Ways = append(p.Ways, g...)
	}
	return p
}

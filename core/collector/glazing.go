package collector

import (
	"gladember/core/catalog"
	"gladember/core/design"
	"gladember/core/optics"
)

// Specific heats, J/kgK: glass, clear plastics, foam and wool; wood. EN ISO
// 10456 (recalled from memory).
const (
	heatGlass   = 840.0
	heatPlastic = 1250.0
	heatFoam    = 1400.0
	heatWood    = 1600.0
)

// coverHeat is the specific heat of a glazing of some density in kg/m3, J/kgK:
// above 2000 it is glass, below it is plastic.
func coverHeat(density float64) float64 {
	if density > 2000 {
		return heatGlass
	}
	return heatPlastic
}

// glaze lists the covers' layers, outermost first.
// A twin-wall sheet is two sheets with air and webs between them. A coated
// sheet has its coating on the inside. Heat stored is that of the solid part
// alone.
func (d *Description) glaze(h *design.Heater) error {
	layers := h.Cover.Layers
	between := h.Cover.Between
	if d.Indoors { // the room's own window: common practice, 12 mm between panes
		layers, between = h.Absorber.Panel.Panes, 0.012
	}
	d.Wave = 1
	for i := range layers {
		id, thick := h.Cover.Material, h.Cover.Thickness
		if i > 0 && h.Cover.Inner != "" && h.Cover.Inner != "same" && !d.Indoors {
			id = h.Cover.Inner
		}
		c, err := catalog.FindCover(id)
		if err != nil {
			return err
		}
		if id != h.Cover.Material {
			thick = c.Thickness
		}
		sheet := optics.Sheet{N: c.Index, KL: c.Extinction * thick}
		// What is neither emitted nor let through is reflected; both faces
		// alike.
		r := 1 - c.Emittance - c.Transmit
		ir := optics.Layer{Transmit: c.Transmit, ReflectFront: r, ReflectBack: r}
		if c.CoatPass > 0 {
			sheet.Coat = &optics.Layer{Transmit: c.CoatPass, ReflectFront: c.CoatReflect, ReflectBack: c.CoatReflect}
			ir.ReflectBack = 1 - c.CoatEmit
		}
		add := func() {
			d.Sheets, d.CoverInfrared = append(d.Sheets, sheet), append(d.CoverInfrared, ir)
			d.CoverService, d.CoverMaterial = append(d.CoverService, c.Service), append(d.CoverMaterial, c.ID)
			solid := thick
			if c.Form == catalog.TwinWall {
				solid = c.Wall
			}
			d.CoverStore = append(d.CoverStore, solid*c.Density*coverHeat(c.Density))
		}
		if i > 0 {
			d.Between, d.Webs = append(d.Between, between), append(d.Webs, 0)
		}
		if c.Form == catalog.Corrugated && i == 0 && c.Wave > 0 {
			d.Wave = c.Wave
		}
		if c.Form == catalog.TwinWall {
			sheet.KL = c.Extinction * c.Wall
			add()
			inside := max(0.002, thick-2*c.Wall)
			// Webs as thick as half a wall, as far apart as the sheet is thick.
			d.Between, d.Webs = append(d.Between, inside), append(d.Webs, c.Conductivity*c.Wall/2/thick/inside)
		}
		add()
	}
	return nil
}

package collector

import (
	"gladember/core/air"
	"gladember/core/airflow"
	"gladember/core/catalog"
	"gladember/core/design"
	"gladember/core/heattransfer"
)

func init() {
	makers[design.WindowPanel] = (*maker).panel
}

// panel hangs indoors: the air rises between the window and the foil, and the
// foil's other side warms the room.
func (k *maker) panel() (Passages, error) {
	a := k.h.Absorber.Panel
	metal, err := catalog.FindSheet("aluminium")
	if err != nil {
		return Passages{}, err
	}
	foil := k.dark("foil", metal, a.Gap)
	foil.Store = sheetHeat(metal, design.FoilGauge)
	p := k.slot("behind the window", a.Gap, wall{layer: -1, surface: 1}, wall{layer: 0, surface: 1})
	p.fittings = 2 * airflow.OrificeLoss(a.Slots) / (a.Slots * a.Slots)
	out := k.made([]Layer{foil}, [][]passage{{p}}, nil)
	e := k.paint.Emittance
	if a.Back == "bare" {
		e = metal.Emittance
	}
	out.RoomSide = func(foil, room, height, pressure float64) float64 {
		tm := (foil + room) / 2
		a, b := foil+air.Kelvin, room+air.Kelvin
		free := heattransfer.UprightPlate(heattransfer.Rayleigh(tm, pressure, foil-room, height),
			air.Prandtl(tm)) * air.Conductivity(tm) / height
		return free + e*heattransfer.Sigma*(a*a+b*b)*(a+b)
	}
	return out, nil
}

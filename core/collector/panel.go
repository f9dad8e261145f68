package collector

import (
	"gladember/core/air"
	"gladember/core/airflow"
	"gladember/core/catalog"
	"gladember/core/design"
	"gladember/core/heattransfer"
	"gladember/core/network"
	"gladember/core/optics"
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

// bare returns what the window alone would give the room, W: sun let in less
// the heat it loses.
func (d *Description) bare(c Conditions, t Tuning) (float64, error) {
	alone := *d
	room := optics.Layer{ReflectFront: roomReflects, ReflectBack: roomReflects}
	alone.Passages = Passages{Layers: []Layer{{Kind: BackLayer, Infrared: optics.Layer{}, Sun: func(float64) optics.Layer { return room }}}}
	sun, _, _ := alone.lit(c, t)
	nc := len(d.Sheets)
	area := d.Aperture()
	n := network.Network{
		Segments: 1, Area: area, Sun: sun[:nc], Inlet: c.Inlet,
		Outside: [network.Outsides]float64{c.Ambient, c.Sky, c.Inlet},
	}
	covers := *d
	covers.Passages.Layers = nil
	n.Links = covers.coverGaps(d.gap(c, t))
	n.Links = covers.radiation(n.Links, c, t)
	n.Links = append(n.Links, network.Link{A: 0, To: network.Ambient, Role: network.Front, G: d.outer(c, t)},
		network.Link{A: nc - 1, To: network.Indoors, Role: network.Room, G: func(_, _ float64) float64 { return roomFilm }})
	st, err := n.Solve(nil, network.Settled)
	if err != nil {
		return 0, err
	}
	return sun[nc]*area + st.Lost[network.Room], nil
}

// roomReflects is the share of the sun through a bare window that the room
// throws out again; roomFilm the coefficient inside it, W/m2K (EN 673).
// The share is common practice, no source.
const (
	roomReflects = 0.10
	roomFilm     = 7.7
)

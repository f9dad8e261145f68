package collector

import (
	"math"

	"gladember/core/airflow"
	"gladember/core/catalog"
	"gladember/core/design"
)

// Loss coefficients of the ways in and out, on the velocity pressure in the
// duct. ASHRAE Fundamentals, duct design (recalled from memory); bends and
// flap: common practice, no source.
const (
	lossEntrance = 0.5
	lossExit     = 1.0
	lossBendHard = 0.3
	lossBendFlex = 0.6
	lossFlap     = 1.5
)

// sealed is the loss coefficient of a shut flap's seat: a hundredth of the open
// duct. standing that of a fan that does not turn. Common practice, no source.
const (
	sealed      = 1e4
	standingFan = 12
)

// flapLoss, filterLoss: common practice, no source, on the speed in the duct.
var (
	flapLoss   = map[string]float64{"none": 0, "membrane": 1.5, "spring": 3, "motor": 0.3}
	filterLoss = map[string]float64{"none": 0, "coarse": 4, "fine": 15}
	routeLoss  = map[string]float64{"wall": 0.3, "window": 1.2, "stand": 0.6, "furnace": 2}
)

const lossGrille = 2.0

// A bare duct outdoors in a light wind, W/m2K, and the wool around an
// insulated one, m and W/mK. Common practice, no source.
const (
	bareDuct = 6.0
	wrapped  = 0.025
	wool     = 0.040
)

// ducts sets the ways from the room to the box and back.
// Flexible duct that is not pulled straight costs more by
// airflow.StretchFactor. Ducts of a stand cross the open and lose heat on their
// whole surface; those through a wall do not.
func (d *Description) ducts(h *design.Heater) error {
	if d.Indoors {
		return nil
	}
	// Wind coefficients of a vent in a wall: 0.6 against the wind, -0.3 behind
	// it.
	if d.FromOutdoors = h.Air.Source == "outdoors"; d.FromOutdoors {
		d.VentCp = map[string]float64{"windward": 0.6, "leeward": -0.3}[h.Air.Vent]
	}
	duct, err := catalog.FindDuct(h.Air.Duct)
	if err != nil {
		return err
	}
	bend, stretch := lossBendFlex, 1.0
	if duct.ID == "smooth" {
		bend = lossBendHard
	}
	if duct.Flexible {
		stretch = airflow.StretchFactor(h.Air.Diameter, h.Air.Stretch)
	}
	ports := float64(max(1, h.Air.Ports))
	one := math.Pi / 4 * h.Air.Diameter * h.Air.Diameter
	d.bend = bend
	run := func(length, fittings float64) []airflow.Element {
		return []airflow.Element{airflow.Duct{Diameter: h.Air.Diameter, Area: one * ports, Length: length * stretch,
			Roughness: duct.Roughness, Fittings: fittings}}
	}
	if h.Air.Route == "stand" { // the ducts cross the open
		u := bareDuct
		if duct.ID == "insulated" {
			u = 1 / (1/bareDuct + wrapped/wool)
		}
		around := u * math.Pi * h.Air.Diameter * ports
		d.ColdOut, d.HotOut = around*h.Air.ToBox, around*(h.Air.FromBox+h.Air.Riser)
	}
	var sides [2][]airflow.Element
	for i, pieces := range d.fittings(h, bend) {
		length, k := 0.0, 0.0
		for _, p := range pieces {
			length, k = length+p.length, k+p.k
		}
		sides[i] = run(length, k)
	}
	d.Cold, d.Hot = sides[0], sides[1]
	return nil
}

// fitting is a piece of the way to the box or from it: a length of duct, or
// what loses k times the pressure of the speed in the duct.
type fitting struct {
	// name is what a reader sees; path is the field that changes it.
	name, path string
	// length is in m; k is a loss coefficient on the duct's speed.
	length, k float64
}

// fittings are the pieces before the box and after it, in the air's order.
// Each piece carries the field that changes it, so that the drawing of the path
// and its working name the same pieces as the computation.
func (d *Description) fittings(h *design.Heater, bend float64) (out [2][]fitting) {
	through, way := routeLoss[h.Air.Route], map[string]string{"wall": "through the wall", "window": "the window's insert",
		"stand": "through the wall, from the stand", "furnace": "the furnace's plenum"}[h.Air.Route]
	bends, grilles := [2]float64{h.Air.BendsIn, float64(h.Air.Bends) - h.Air.BendsIn}, [2]float64{h.Air.GrillesIn,
		float64(h.Air.Grilles) - h.Air.GrillesIn}
	if h.Air.Route == "wall" && h.Air.Bends == 0 && d.Natural { // plain holes through a wall
		through = 0
	}
	into, outOf := lossExit, lossEntrance
	if d.Boxes > 1 && h.IsRow() { // the stubs have theirs
		into, outOf = 0, 0
	}
	out[0] = []fitting{{"grille at the inlet", design.AirGrilles.Path, 0, lossGrille * grilles[0]},
		{"filter", design.AirFilter.Path, 0, filterLoss[h.Air.Filter]}, {"into the duct", design.AirDiameter.Path, 0, lossEntrance},
		{way, design.AirRoute.Path, 0, through},
		{"bends before the box", design.AirBends.Path, 0, bend * bends[0]}, {"duct to the box", design.AirToBox.Path, h.Air.ToBox, 0},
		{"entry to the box", design.AirDiameter.Path, 0, into}}
	out[1] = []fitting{{"exit of the box", design.AirDiameter.Path, 0, outOf}, {"duct from the box", design.AirFromBox.Path,
		h.Air.FromBox + h.Air.Riser, 0}, {"bends after the box", design.AirBends.Path, 0, bend * bends[1]},
		{"backdraft damper", design.AirFlap.Path, 0, flapLoss[h.Air.Flap]}, {way, design.AirRoute.Path, 0, through},
		{"grille at the outlet", design.AirGrilles.Path, 0, lossGrille * grilles[1]}, {"outlet to the room", design.AirDiameter.Path, 0,
			lossExit}}
	return out
}

// lossCurtain is that of the turn from a port into the space behind it, on the
// speed through the curtain: the port's rim times the depth it opens into.
// Common practice, no source.
const lossCurtain = 1.0

// curtained adds what it costs the air to spread from a port into a shallow
// space, and to gather from one.
func (p Passages) curtained(h *design.Heater) Passages {
	if h.Air.PortFace == "side" || h.Air.PortFace == "end" {
		return p // the air enters along the space
	}
	rim := math.Pi * h.PortBore() * float64(max(1, h.Air.Ports))
	for _, depth := range p.Ports {
		if depth > 0 && rim > 0 {
			p.Elements = append(p.Elements, airflow.Duct{Diameter: h.PortBore(), Area: rim * depth, Fittings: lossCurtain})
		}
	}
	return p
}

package buildplan

import (
	"math"

	"gladember/core/air"
	"gladember/core/design"
)

// Law is how a product hardens.
type Law int

// The laws.
const (
	// Reacts or loses solvent: twice as fast for each 10 K, slower in damp air.
	Reacts Law = iota
	// Evaporates: water-based; as fast as the air takes water up.
	Evaporates
	// TakesMoisture: silicone; as fast as the air brings water, by the square of the depth.
	TakesMoisture
)

// Cure is what must dry after a step.
type Cure struct {
	// Product is as the catalog names it.
	Product string
	Law     Law
	// Touch and Full are until it can be touched or handled and until it is hard, h, at
	// the reference of its law.
	Touch, Full float64
	// Coldest is the lowest temperature at which it hardens at all, C.
	Coldest float64
}

// The references: temperature, C, and relative humidity.
const (
	refPaint    = 20.0
	refSilicone = 23.0
	refHumidity = 0.5
)

// slope is by how much slower a reaction gets for each 10 K. Source: van 't Hoff's rule.
const slope = 2.0

// dampSlows is how many times longer solvent takes to leave into saturated air than at half
// humidity. Common practice, no source.
const dampSlows = 2.0

// driest is the humidity below which less makes no difference, and dampest that above which
// nothing dries any more in a reasonable time.
const (
	driest  = 0.10
	dampest = 0.98
)

// factor is how many times longer than at its reference a product takes at t C and a
// relative humidity. It is continuous in both, and +Inf below the coldest.
func (c *Cure) factor(t, rh float64) float64 {
	if t < c.Coldest {
		return math.Inf(1)
	}
	rh = max(driest, min(dampest, rh))
	switch c.Law {
	case Evaporates: // the driving force is what the air lacks of saturation
		lacks := func(t, rh float64) float64 { return air.SaturationPressure(t) * (1 - rh) }
		return lacks(refPaint, refHumidity) / lacks(t, rh)
	case TakesMoisture:
		return air.SaturationPressure(refSilicone) * refHumidity / (air.SaturationPressure(t) * rh)
	}
	damp := 1.0
	if rh > refHumidity {
		damp += (dampSlows - 1) * (rh - refHumidity) / (1 - refHumidity)
	}
	return math.Pow(slope, (refPaint-t)/10) * damp
}

// Hours returns how long until it can be handled and until it is hard, h, at t C and a
// relative humidity of 0 to 1; +Inf where it does not harden at all.
func (c *Cure) Hours(t, rh float64) (touch, full float64) {
	f := c.factor(t, rh)
	return c.Touch * f, c.Full * f
}

// Products by the catalog's IDs. Times are those of typical data sheets, recalled from
// memory: spray enamels are touch-dry in 20 to 60 minutes and hard after a day, engine enamel
// in 10 to 15 minutes; neutral silicone cures about 3 mm in 24 h; white glue is clamped for
// an hour.
var products = map[string]Cure{
	"flat-black":      {"flat black enamel", Reacts, 0.75, 24, 5},
	"high-heat-black": {"high-heat flat black", Reacts, 0.5, 24, 5},
	"engine-enamel":   {"engine enamel", Reacts, 0.2, 12, 5},
	"grill-paint":     {"grill paint", Reacts, 0.5, 24, 5},
	"gloss-black":     {"glossy black", Reacts, 0.75, 24, 5},
	"water-black":     {"water-based black", Evaporates, 1, 24, 8},

	"silicone":              {"ordinary silicone", TakesMoisture, 0.4, 24, 5},
	"neutral-silicone":      {"neutral-cure silicone", TakesMoisture, 0.5, 24, 5},
	"heat-silicone":         {"high-temperature silicone", TakesMoisture, 0.4, 24, 5},
	"heat-neutral-silicone": {"neutral-cure high-temperature silicone", TakesMoisture, 0.5, 24, 5},
	"silicone-glue":         {"silicone as glue", TakesMoisture, 0.5, 24, 5},
	"fire-caulk":            {"fire-stop caulk", Evaporates, 1, 48, 5},
	"acrylic-caulk":         {"acrylic caulk", Evaporates, 0.7, 48, 5},
	"putty":                 {"linseed putty", Reacts, 24, 14 * 24, 5},

	"wood-glue":    {"wood glue", Evaporates, 1, 24, 8},
	"construction": {"construction adhesive", Reacts, 2, 48, 5},
	"foam-glue":    {"foam-safe adhesive", Reacts, 2, 24, 5},
	"epoxy":        {"epoxy", Reacts, 1, 24, 10},
	"hot-glue":     {"hot-melt glue", Reacts, 0.05, 0.2, -10},
}

// refDepth is the depth of silicone that the references are for, m.
const refDepth = 0.003

// cureOf finds what must dry of a product; nil where nothing does, as with screws and butyl
// tape. Silicone d m deep takes as the square of the depth.
func cureOf(id string, d float64) *Cure {
	c, ok := products[id]
	if !ok {
		return nil
	}
	if c.Law == TakesMoisture && d > 0 {
		c.Full *= d * d / refDepth / refDepth
	}
	return &c
}

// A bead hardens from its skin: what lies in the middle of a bead between two parts is as
// deep as half its width, of one in a joint as deep as the joint is.
const (
	beadDepth  = 0.003 // m, of the seams of a box
	jointDepth = 0.004 // m, of the joint between two cans
)

// paintCure, sealCure and glueCure are what must dry after paint, sealant and glue.
func paintCure(h *design.Heater) *Cure { return cureOf(h.Absorber.Paint, 0) }
func sealCure(h *design.Heater) *Cure  { return cureOf(h.Box.Sealant, beadDepth) }
func jointCure(h *design.Heater) *Cure { return cureOf(h.Box.Sealant, jointDepth) }
func glueCure(h *design.Heater) *Cure  { return cureOf(h.Box.Adhesive, beadDepth) }

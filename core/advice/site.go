package advice

import (
	"math"
	"time"

	"gladember/core/collector"
	"gladember/core/design"
	"gladember/core/units"
)

// shaded: what eave, walls and horizon take at the noon judged by.
// The same noon is computed with and without eave, fins and horizon; below 3 %
// of the sun nothing is said. The sun's height over all the heating months then
// tells whether a strip under the eave is never lit, which needs no absorber.
func shaded(e *assessment) []Finding {
	h := &e.Heater
	s := h.Shade
	if s.EaveDepth == 0 && s.FinLeft == 0 && s.FinRight == 0 && len(s.Horizon) == 0 {
		return nil
	}
	at := collector.WinterNoon(h)
	with := collector.ConditionsAt(h, at)
	open := h.Clone()
	open.Shade = design.Shade{}
	without := collector.ConditionsAt(&open, at)
	lost := without.Sun.Total() - with.Sun.Total()
	if lost < 0.03*without.Sun.Total() {
		return nil
	}
	f := Finding{ID: "shaded", Severity: Loss, Topic: Siting, Title: "The box is shaded at noon",
		Finding: say("At the clear winter noon %v of the sun never reaches the glazing.", q(units.Share, lost/without.Sun.Total())),
		Evidence: say("The glazing gets %v instead of %v without shade.", q(units.Irradiance, with.Sun.Total()),
			q(units.Irradiance, without.Sun.Total())),
		Remedy: say("Move the box out of the shade of the heating months. Shade in summer is welcome.")}
	months, name := []time.Month{11, 12, 1, 2, 3}, "from November to March"
	if h.Place.Latitude < 0 {
		months, name = []time.Month{5, 6, 7, 8, 9}, "from May to September"
	}
	if strip := collector.Surroundings(h).NeverLit(collector.Site(h), h.Place.Tilt, h.Place.Bearing, months...); strip > 0.01 {
		f.Remedy = say("Mount the box lower, or leave out the absorber in its top %v, which the sun under the eave never reaches %v.",
			q(units.Length, strip), word(name))
	}
	return []Finding{f}
}

// turned is how far from the noon sun a box may face before it is said,
// degrees, and least what that must cost of the noon's sun. Common practice, no
// source.
const (
	turned     = 20.0
	turnedCost = 0.10
)

// turnedAway: what the bearing and tilt cost at the noon.
// Said where more than a tenth of the noon's sun is lost by a bearing more than
// 20 degrees off. The year may still prefer a bearing, such as where mornings
// are foggy; [EvaluateYear] runs that.
func turnedAway(e *assessment) []Finding {
	h := &e.Heater
	noon := 180.0
	if h.Place.Latitude < 0 {
		noon = 0
	}
	off := math.Abs(math.Mod(h.Place.Bearing-noon+540, 360) - 180)
	if off < turned || h.Indoors() || !e.looking {
		return nil
	}
	at := collector.WinterNoon(h)
	here := collector.ConditionsAt(h, at).Sun.Total()
	facing := h.Clone()
	facing.Place.Bearing = noon
	c := collector.ConditionsAt(&facing, at)
	if c.Sun.Total() <= 0 || here > (1-turnedCost)*c.Sun.Total() {
		return nil
	}
	// The weather stays that of the present box; only the sun follows the
	// bearing.
	c.Inlet, c.Room, c.Ambient, c.Sky = e.Running.Conditions.Inlet, e.Running.Conditions.Room, e.Running.Conditions.Ambient,
		e.Running.Conditions.Sky
	r, err := collector.Rate(&facing, c)
	if err != nil {
		return nil
	}
	return []Finding{{ID: "turned-away", Severity: Loss, Topic: Siting, Title: "The box faces away from the noon sun",
		Finding: say("It faces %v and gets %v at noon; facing the noon sun it would get %v.", q(units.Angle, h.Place.Bearing),
			q(units.Irradiance, here), q(units.Irradiance, c.Sun.Total())),
		Evidence: say("Facing the noon sun it would give %v instead of %v.", q(units.Power, r.Warms()), q(units.Power, e.Running.Warms())),
		Remedy:   say("Face the box to %v if the place allows. On a wall that faces elsewhere, use a larger box.", q(units.Angle, noon)),
		Patch:    []design.Change{design.Set(design.PlaceBearing, noon)}, Gain: worth(&r) - worth(&e.Running), HasGain: true}}
}

package advice

import (
	"fmt"

	"gladember/core/collector"
	"gladember/core/design"
	"gladember/core/layout"
	"gladember/core/units"
)

// Caution is a usual warning where it bears on a step, with the part that
// calls for it. Common practice, no source; local codes and licensed trades
// have the last word.
type Caution struct {
	// Part names what calls for the caution, as the drawing labels it.
	Part string
	// Text is the warning, with its quantities.
	Text Text
}

// heavyPane is the area above which a pane wants two people, m2. Common
// practice, no source.
const heavyPane = 0.6

// liftAlone is what one person lifts up a ladder, kg. Common practice, no source.
const liftAlone = 15

// Cautions returns what can hurt someone at the work of a topic.
// About the site: permits, anchorage, ladders. About construction: what is hot,
// what fumes, what draws on a flued burner, wiring. About cutting: saws, glass,
// weight. Other topics have none.
func Cautions(e *collector.Evaluation, about Topic) []Caution {
	switch about {
	case Siting:
		return []Caution{
			{"the wall", say("Get a permit and your landlord's consent before you cut a wall. Find wires, pipes and studs first.")},
			{"the box outdoors", say("Anchor it against wind and snow as your local code asks. Work from a ladder with someone at its " +
				"foot.")},
		}
	case Construction:
		return ofTheBox(e)
	case Cutting:
		return ofCutting(&e.Heater)
	}
	return nil
}

// ofTheBox are the cautions that a box's parts call for.
func ofTheBox(e *collector.Evaluation) []Caution {
	h := &e.Heater
	// The hottest part that a hand could touch, at the upper end of its range.
	hot := 0.0
	for _, p := range e.Peaks {
		if p.Kind != collector.CoverLayer && p.Upper > hot {
			hot = p.Upper
		}
	}
	cs := []Caution{
		{"the absorber", say("With the air standing it can reach %v: keep it clear of anything that burns, and of children's "+
			"hands. A wooden box wants an over-temperature cut-out or a summer cover.", q(units.Temperature, hot))},
		{"the paint", say("Bake the box outdoors on its first sunny days, before it is joined to the room; paint and glue fume.")},
		{"the room", say("A fan that draws from a room with a flued burner can pull its fumes in: fit a carbon monoxide alarm. The " +
			"box adds heat; it replaces neither frost protection nor a safe heater.")},
	}
	if h.Fanned() {
		wiring := "Low-voltage wiring gets a fuse; mains wiring is for a licensed electrician."
		if h.Air.Drive == "panel" && h.Air.Battery > 0 {
			wiring = "Fuse the battery at its pole, keep it cool and aired, and follow its maker; low-voltage wiring gets a fuse too."
		}
		cs = append(cs, Caution{"the fan", say(wiring)})
	}
	// The furnace is a licensed trade's work, whatever the builder can do.
	if h.Air.Route == "furnace" {
		cs = append(cs, Caution{"the furnace",
			say("Joining a furnace's plenum is for a licensed trade: a damper that sticks can send flue gas or heat the wrong way.")})
	}
	switch h.Guard.Kind {
	case "vent":
		cs = append(cs, Caution{"the top vent",
			say("Air of up to %v leaves it: keep it clear of eaves, plastic siding and anything that burns. Mesh keeps insects out "+
				"and a hood the rain. Try the actuator in warm air every spring; a vent that sticks protects nothing.",
				q(units.Temperature, e.Noon.Outlet))})
	case "shutter":
		cs = append(cs, Caution{"the shutter",
			say("Anchor it against wind, and try its actuator in warm air every spring; a shutter that sticks protects nothing.")})
	}
	if h.IsRow() && h.Place.Tilt < 75 {
		cs = append(cs, Caution{"the row", say("%v boxes on a roof are a load in wind and snow: ask for the roof's strength and "+
			"its anchors before you lift the first one. Work on a roof wants a harness and a helper.",
			word(fmt.Sprint(h.Array.Boxes)))})
	}
	if h.Mirror.Length > 0 {
		cs = append(cs, Caution{"the mirror", say("It throws glare at neighbors, drivers and eyes; anchor it against wind, and " +
			"fold it down in summer.")})
	}
	if h.Absorber.Cans != nil {
		cs = append(cs, Caution{"the cans", say("Cut rims are sharp: gloves and eye protection while drilling and opening them.")})
	}
	if h.Indoors() {
		cs = append(cs, Caution{"the foil", say("It gets hot within reach: hang it where children and curtains do not touch it, " +
			"and watch the pane: uneven heat can crack old or wired glass.")})
	}
	if h.Absorber.Paint == "grill-paint" {
		cs = append(cs, Caution{"the paint", say("No fuming paint in the air path: bake it outdoors until no smell is left.")})
	}
	if h.Box.BackFoam > 0 || h.Box.EdgeFoam > 0 {
		cs = append(cs, Caution{"the foam", say("Foam must be covered, and kept below its service temperature.")})
	}
	return cs
}

// ofCutting are those of the saw, the pane and the finished weight.
func ofCutting(h *design.Heater) []Caution {
	cs := []Caution{
		{"saw and drill", say("Wear eye and ear protection and a dust mask. Wear gloves for cut sheet, mesh and duct edges. " +
			"Old paint and board may hold lead or asbestos: have them tested first.")},
	}
	if h.Pane.Width*h.Pane.Height > heavyPane {
		cs = append(cs, Caution{"the pane", say("A pane of %v takes two people, gloves, and tempered or well-edged glass.",
			q(units.Area, h.Pane.Width*h.Pane.Height))})
	}
	if l, err := layout.Build(h); err == nil && l.Mass() > liftAlone {
		cs = append(cs, Caution{"the box", say("It weighs about %v kg with its glass: lift it with two or three, or glaze it in "+
			"place.", word(fmt.Sprintf("%.0f", l.Mass())))})
	}
	return cs
}

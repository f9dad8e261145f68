package buildplan

import (
	"gladember/core/design"
	"gladember/core/layout"
	"gladember/core/units"
)

// installing are the steps that bring a finished box to its place and into the room.
//
// The bench ends where the box is carried out: what follows needs dry weather, helpers, and
// somebody who may cut the wall.
var installing = []string{"under", "site", "opening", "insert", "plenum", "stand", "curb", "brackets", "cleats", "lift", "flash", "ducts",
	"wire",
	"commission", "cover", "hang"}

// Installs says whether a step belongs to the installation and not to the bench.
//
// They are shown with the wall and its loads as well as in the order of building.
func (s *Step) Installs() bool {
	for _, id := range installing {
		if s.ID == id {
			return true
		}
	}
	return false
}

// Stage is a lift on its own.
type Stage struct {
	// Name is what is lifted, Mass is in kg, and People is how many lift it.
	Name   string
	Mass   float64
	People int
}

// Stages are the lifts of one box: whole, or the open box first and the glazing where it
// hangs. A box that one person lifts has a single stage.
func Stages(h *design.Heater, l *layout.Layout) (out []Stage) {
	glass := 0.0
	for _, p := range l.Parts {
		if p.Group == layout.Cover && !p.There {
			glass += p.Mass
		}
	}
	out = []Stage{{"the whole box", l.Mass(), layout.Lifters(l.Mass())}}
	if out[0].People > 1 && glass > 0 {
		out = append(out, Stage{"the box without its glazing", l.Mass() - glass, layout.Lifters(l.Mass() - glass)},
			Stage{"the glazing", glass, layout.PaneCarriers(h, glass)})
	}
	return out
}

// TakeDown says how a heater is taken down and the building closed, in order.
func TakeDown(h *design.Heater, l *layout.Layout) (out []units.Text) {
	add := func(format string, values ...units.Value) { out = append(out, units.Say(format, values...)) }
	if h.Indoors() {
		add("Take the panel off its hooks when it is cold, and store it dry.")
		return out
	}
	add("Choose a cloudy day or the evening: cover the glass and let the box cool before you touch it.")
	if h.Fanned() {
		add("Cut the fan's supply. On the mains a licensed electrician takes the wiring back to its box.")
	}
	add("Take off the ducts, and close both openings for the time being.")
	count := Stages(h, l)[0].People
	if count > 1 {
		add("Take the glazing out first. The box weighs %v with it: %v lower it by stages.", units.Q(units.Mass, l.Mass()),
			units.Word(layout.People(count)))
	} else {
		add("Take the box off; it weighs %v.", units.Q(units.Mass, l.Mass()))
	}
	switch h.Air.Route {
	case "window":
		add("Take the insert out of the sash; nothing else has to be closed.")
	case "stand":
		add("Take the stand apart and pull its anchors. Close the openings as those of a wall.")
	}
	if h.Air.Route != "window" {
		add("Pull the sleeves. Fill the opening with insulation as thick as the wall, tape the vapor retarder on the warm side to the " +
			"old one all round, " +
			"and close both faces: board and plaster inside, sheathing, weather barrier and siding outside, each lapped over the one " +
			"below.")
	}
	if len(l.Parts) > 0 && h.Place.Tilt <= 50 && h.Air.Route != "stand" {
		add("A roof is closed by a roofer: sheathing, underlay and covering, from below upwards.")
	}
	add("Fill every screw hole with sealant, and look at it again after the first rain.")
	add("Sort what you took down: glass, metal, wood and foam apart.")
	if h.Air.Battery > 0 {
		add("The battery goes back where it was sold.")
	}
	return out
}

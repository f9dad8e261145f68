package buildplan

import (
	"fmt"
	"slices"

	"gladember/core/catalog"
	"gladember/core/layout"
	"gladember/core/loads"
	"gladember/core/units"
	"gladember/core/wiring"
)

// mount adds the way of the box to its place: through a wall, in a sash, on a roof, on the
// ground, each with what holds it.
//
// The way to the room begins with what cannot be seen. A wall is opened once the box is
// baked and fits, so that no hole waits for a box that changes.
func (p *planner) mount() {
	h := p.h
	p.add(Step{ID: "under", Title: "Glue the insulation under the frame", After: []string{"bake"}, Cure: glueCure(h),
		Tools: []string{"knife"},
		Gate: &Gate{ID: "under", Title: "No cold bridge at the frame", Hides: "lift",
			Looks: says("It covers the frame's whole width all round, to the outer edge.")},
		Do: says("Glue it to the back edge of the frame; the wall presses it flat."), Faults: []string{"edge-foam"}}, perBoard, true)
	look := says("Studs, wires and pipes behind the box are found and marked.", "The owner and the local code allow it.")
	site := Step{ID: "site", Title: "Find what lies behind", After: []string{}, Tools: []string{"stud finder", "voltage detector",
		"level"}, Minutes: 45,
		Gate: &Gate{ID: "site", Title: "Nothing hidden is in the way", Looks: look},
		Do: says("Mark studs, and keep a hand's breadth from wires and pipes; look from the attic and the cellar too.",
			"Mark the centers of both openings from one datum, level and plumb."),
		Cautions: says("Get a permit and your landlord's consent before you cut a wall. Find wires, pipes and studs first.")}
	if h.Site.OldPaint {
		site.Cautions = append(site.Cautions, say("Old paint and board may hold lead or asbestos: have them tested before you cut."))
	}
	switch h.Air.Route {
	case "wall":
		site.Gate.Hides = "opening"
		p.add(site, 0, false)
		p.opening()
	case "window":
		p.add(Step{ID: "insert", Title: "Make the window insert", After: []string{"bake"}, Tools: []string{"jigsaw", "knife"}, Minutes: 30,
			Cure: glueCure(h),
			Do:   says("Glue the foam around it and try it in the sash before the holes are bored.", "Close the sash on it; lock it.")},
			perBoard, true)
	case "furnace":
		site.Gate.Hides = "opening"
		p.add(site, 0, false)
		p.opening()
		p.add(Step{ID: "plenum", Title: "Have the plenum joined", Minutes: 0,
			Do: says("The furnace's plenum is joined by a licensed trade."),
			Cautions: says("Joining a furnace's plenum is for a licensed trade.",
				"A damper that sticks can send flue gas or heat the wrong way.")}, 0, false)
	}
	p.held()
	p.lift()
	p.add(Step{ID: "flash", Title: "Flash it from below upwards", Tools: []string{"snips", "folding pliers"}, Minutes: 20, Dry: true,
		Outdoors: true,
		Do: says("Begin at the bottom: each piece laps over the one under it.",
			"The top one goes under the siding or the roofing above."),
		Cautions: says("Sheet edges cut: wear gloves.", "Work from a ladder with someone at its foot.")}, 20, true)
}

// opening cuts the wall and sleeves it.
func (p *planner) opening() {
	p.add(Step{ID: "opening", Title: "Cut the openings and sleeve them", After: []string{"site", "bake"}, Minutes: 2 * perOpening,
		Tools: []string{"long drill bit", "hole saw or jigsaw", "snips", "caulking gun"}, Dry: true,
		Jig: say("A long pilot bit through the center carries it to the other side: bore each half from its own side."),
		Do: says("Bore the pilot hole level and square to the wall, and look where it comes out.", "Cut each side from its own face.",
			"Roll the sleeves, bed their folds in sealant and screw them to both sides.")}, 15, false)
}

// held makes what carries the box.
func (p *planner) held() {
	after := []string{"opening", "insert", "site", "bake"}
	fixed := Step{Tools: []string{"level", "socket wrench", "drill"}, After: after, Outdoors: true, Dry: true,
		Cautions: says("Anchor it against wind and snow as your local code asks. Work from a ladder with someone at its foot.")}
	for _, x := range []struct {
		id, title string
		do        []units.Text
	}{
		{"stand", "Build the stand", says("Bolt legs, rails and braces together and anchor the rails to the ground.")},
		{"curb", "Set the curb on the roof", says("Screw the curb into the rafters over sealant, square by its diagonals.",
			"A roof is work for a harness and a helper.")},
		{"brackets", "Bolt on the brackets", says("Bolt them to studs, level, and brace them at 45 degrees.")},
		{"cleats", "Screw on the cleats", says("Screw the lower half of each cleat level into the studs, the other to the box.")},
	} {
		s := fixed
		s.ID, s.Title, s.Do = x.id, x.title, x.do
		s.Do = append(s.Do, p.fixings(x.id)...)
		if x.id == "curb" {
			s.Cautions = append(says("Work on a roof wants a harness and a helper; ask for the roof's strength in snow."), s.Cautions...)
			s.Helpers = 1
		}
		p.add(s, 15, true)
	}
}

// fixings say how many screws wind, snow and weight ask for, and when an engineer is due.
func (p *planner) fixings(id string) (out []units.Text) {
	f := loads.Estimate(p.h, p.l.Mass())
	if id != "stand" {
		out = append(out,
			units.Say("Use at least %v structural screws of {8 mm|5/16 in} with %v of thread in the studs or rafters: the wind "+
				"pulls with up to %v, weight and snow shear with %v.", units.Word(fmt.Sprint(f.Screws)),
				units.Q(units.Length, 0.060), units.Q(units.Force, max(0, f.Pull)), units.Q(units.Force, f.Push)))
	} else {
		out = append(out, units.Say("Anchor or ballast it against a pull of %v.", units.Q(units.Force, max(0, f.Pull))))
	}
	for _, why := range f.Engineer {
		out = append(out, units.Say("Ask an engineer: "+why.Format+".", why.Values...))
	}
	return out
}

// lift brings the box to its place by stages.
func (p *planner) lift() {
	mass := p.l.Mass()
	s := Step{ID: "lift", Title: "Lift it into place", Minutes: 30 * p.boxes(), Helpers: layout.Lifters(mass) - 1, Outdoors: true,
		Dry:   true,
		After: []string{"bake", "under", "stand", "curb", "brackets", "cleats", "opening", "insert"}, Tools: []string{"straps", "blocks",
			"two ladders"},
		Do: []units.Text{units.Say("It weighs %v: lift it by stages from block to block, and hang it before anyone lets go.",
			units.Q(units.Mass, mass)),
			p.fixed(), say("Check that the drain holes are the lowest point.")}}
	if s.Helpers > 0 {
		s.Cautions = append(s.Cautions, units.Say("It weighs %v with its glazing: lift it with %v, or glaze it in place.",
			units.Q(units.Mass, mass),
			units.Word(layout.People(s.Helpers+1))))
	}
	p.add(s, 0, false)
}

// fixed says how the box is fixed to what carries it.
func (p *planner) fixed() units.Text {
	sleeves := ""
	if len(p.letters(layout.WallSleeve)) > 0 {
		sleeves = "Seal it to the sleeves. "
	}
	for _, x := range [][2]string{{"stand", "Bolt it to the rails and the legs."}, {"curb", "Screw it to the curb through its sides."},
		{"brackets", "Bolt its foot to the brackets, and its upper edge to the studs with two angles."},
		{"cleats", "Hook its cleat into the one on the wall, and lock it with a screw at each end."}} {
		if slices.ContainsFunc(p.steps, func(s Step) bool { return s.ID == x[0] }) {
			return say(sleeves + x[1])
		}
	}
	return say(sleeves + "Fix it to what carries it.")
}

// start joins the box to the room, wires it and tries it out.
func (p *planner) start() {
	h := p.h
	title := "Join fan and ducts"
	if !p.h.Fanned() {
		title = "Join the ducts"
	}
	ducts := Step{ID: "ducts", Title: title, After: []string{"lift", "flash", "bake", "plenum"}, Tools: []string{"clamps",
		"foil tape", "knife"}, Minutes: 45,
		Do: says("Pull flexible duct out straight and cut it to length; clamp and seal every end.", "Insulate what lies outdoors.",
			"Put the damper where it can be reached, with its axle level."), Faults: []string{"slack", "flap"},
		Gate: &Gate{ID: "ducts", Title: "Ducts wide enough and insulated", Hides: "commission",
			Looks: []units.Text{units.Say("No duct and no fitting is narrower than %v.", units.Q(units.Bore, h.PortBore())),
				say("No flexible duct sags or is squeezed at a bend."),
				say("Outdoors no bare duct is seen: the insulation is whole and its cover sheds rain.")}}}
	if h.Air.Flap != "none" {
		ducts.Gate.Looks = append(ducts.Gate.Looks, say("The damper opens wide when you blow at it, and can be taken out again."))
	}
	if d, err := catalog.FindDuct(h.Air.Duct); err != nil || !d.Flexible {
		ducts.Faults = []string{"flap"}
	}
	if fanned(h) && h.Room.Flued {
		ducts.Cautions = append(ducts.Cautions,
			say("A flued burner stands in the room: never let the fan draw more from the room than it gives back, and fit a carbon "+
				"monoxide alarm first."))
	}
	p.add(ducts, 10, false)
	if fanned(h) {
		p.wire()
	}
	p.commission()
	p.add(Step{ID: "cover", Title: "Make the summer cover", After: []string{"lift"}, Tools: []string{"needle or grommets"}, Minutes: 30,
		Do: says("Hang it on its hooks and tie it at the bottom; try it once.")}, 15, true)
}

// wire connects fan, switch and supply.
func (p *planner) wire() {
	h := p.h
	s := Step{ID: "wire", Title: "Wire the fan", Tools: []string{"wire stripper", "crimp pliers", "meter"}, Minutes: 60}
	switch {
	case wiring.Volts(h) > 0:
		s.Do = says("Fuse next to the supply, then switch, then fan; plus and minus as marked.",
			"Put the probe or disc where it feels the hot air and not the sun.")
		s.Cautions = says("Low-voltage wiring gets a fuse at its supply.")
		if h.Air.Battery > 0 {
			s.Cautions = append(s.Cautions, say("Fuse the battery at its pole, keep it cool and aired, and follow its maker."))
		}
	default:
		s.Do = says("Mains wiring is for a licensed electrician; have the probe or disc ready at its place.")
		s.Cautions = says("Mains wiring is for a licensed electrician.")
	}
	p.add(s, 0, false)
}

// commission tries everything once before it is left alone.
func (p *planner) commission() {
	s := Step{ID: "commission", Title: "Try it out", Sunny: true, Minutes: 60, Tools: []string{"incense or smoke pen", "thermometer",
		"tissue"},
		Gate: &Gate{ID: "commission", Title: "It works as meant", Looks: says("Smoke at the seams is neither drawn in nor blown away.",
			"Each probe hangs in the air: it touches no metal and the sun does not reach it.",
			"Each thermometer had settled before it was noted, inside its scale.")},
		Do: says("Go along all seams with smoke while air moves.",
			"Note outlet, inlet and outdoor temperature: the first readings of the log.")}
	if fanned(p.h) {
		s.Gate.Looks = append(s.Gate.Looks, say("The fan blows the right way: a tissue at the outlet lifts."),
			say("The switch starts and stops it."))
	}
	if p.h.Air.Flap != "none" {
		s.Gate.Looks = append(s.Gate.Looks, say("The damper falls shut by itself when the air stops."))
	}
	if fanned(p.h) && p.h.Room.Flued {
		s.Gate.Looks = append(s.Gate.Looks, say("With the fan on, the burner's flue still draws, and the carbon monoxide alarm is on."))
	}
	s.Faults = []string{"flap", "caulk"}
	p.add(s, 0, false)
}

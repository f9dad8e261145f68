package buildplan

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"gladember/core/catalog"
	"gladember/core/design"
	"gladember/core/layout"
	"gladember/core/units"
)

// box adds the steps from the cut parts to a box that has been baked.
func (p *planner) box() {
	p.bore()
	p.frame()
	p.back()
	p.insulate()
	if p.h.Absorber.Cans == nil {
		p.painted()
	}
	p.tubes()
	p.battens()
	p.dryFit()
	p.absorber()
	p.sealed()
	p.clean()
	p.glaze()
	p.bake()
}

// bore makes the holes of the ports while the boards are flat and the box is empty.
func (p *planner) bore() {
	var on []string
	holes := 0
	gate := &Gate{ID: "centers", Title: "Port centers, measured to two edges", Hides: "frame",
		Looks: says("Swarf and hole slugs are swept out.")}
	for i := range p.parts {
		x := &p.parts[i]
		ports := 0
		for _, b := range x.Bores {
			if b.Name != "inlet" && b.Name != "outlet" || x.Group == layout.Absorber || x.Group == layout.Mount {
				continue
			}
			ports++
			id := fmt.Sprintf("%s %s %d", x.Letter, b.Name, ports)
			gate.Measures = append(gate.Measures, centered(id, x, b)...)
		}
		if holes += ports; ports > 0 {
			on = append(on, x.Letter)
		}
	}
	if len(on) == 0 { // a body of foam has its holes in the foam
		return
	}
	p.add(Step{ID: "bore", Title: "Bore the holes of the ports", On: on, After: []string{}, Gate: gate,
		Minutes: perHole * float64(holes),
		Tools:   []string{"hole saw or jigsaw", "combination square", "awl", "clamps"},
		Jig:     say("Clamp boards that share a hole on each other and bore them together."),
		Do: says("Mark each center from the two heavy edges of its drawing and draw a cross through it.",
			"The figure is to the center of the hole and not to its rim.",
			"Bore before anything is filled in behind: what falls in now comes out again.", "Sand the rims.")}, 0, false)
}

// centered are the measures of a hole's center: from two edges, and from a third one where it
// lies in the middle.
func centered(id string, x *layout.Part, b layout.Bore) []Measure {
	m := func(axis, edge string, want float64) Measure {
		return Measure{ID: id + " " + axis, Want: want, Within: centerWithin, Radius: b.Diameter / 2,
			Label: say(fmt.Sprintf("%s, %s: from the %s edge to the center", x.Letter, b.Name, edge))}
	}
	out := []Measure{m("x", "left", b.X), m("y", "lower or front", b.Y)}
	if wide, _ := x.Flat(); math.Abs(wide-2*b.X) < centerWithin {
		right := m("right", "right", wide-b.X)
		out[0].Alike, right.Alike = middle+id, middle+id
		out = append(out, right)
	}
	return out
}

// frame puts the four sides together and squares them.
func (p *planner) frame() {
	gate := &Gate{ID: "diagonals", Title: "Both diagonals equal", Hides: "back", Measures: []Measure{
		{ID: "one", Label: say("From lower left to upper right, outside"), Want: p.l.Diagonal, Within: diagonalWithin, Alike: "diagonals"},
		{ID: "other", Label: say("From lower right to upper left, outside"), Want: p.l.Diagonal, Within: diagonalWithin,
			Alike: "diagonals"}}}
	s := Step{ID: "frame", Title: "Put the frame together", Gate: gate, Tools: []string{"cordless drill", "two long clamps",
		"tape measure", "square"},
		Do: says("Glue and screw the corners on a flat floor, the front edges down.",
			"Measure both diagonals before the glue sets, and push the frame square.",
			"Staple insect mesh over the drain holes.")}
	switch p.h.Box.Body {
	case "sheet":
		s.Title, s.Tools = "Bend the tray", []string{"sheet brake", "rivet pliers", "file", "gloves"}
		s.Do = says("Bore the tray while it is flat, then bend the flanges and the walls along the dashed lines of its drawing.",
			"Lap and rivet the corners, file off what stands proud, and seal them from inside.",
			"Lap the caps so that water runs off past them.")
		s.Cautions = says("Sheet edges cut: wear gloves, and file them before you reach inside.")
	case "foam":
		s.Title, s.Tools = "Glue the body of foam board", []string{"sharp knife", "straightedge", "tape"}
		s.Do = says("Glue the sides with an adhesive that does not eat the foam, and tape the corners until it has set.",
			"Square it by both diagonals.")
		s.Cautions = says("Foam must be covered where people live, and no solvent paint goes on it.")
	}
	if s.Cure = glueCure(p.h); p.h.Box.Body == "sheet" {
		s.Cure = sealCure(p.h)
	}
	p.add(s, perBoard, false)
}

// back closes the back. Its board holds the frame square for good, which is why the diagonals
// are measured before.
func (p *planner) back() {
	p.add(Step{ID: "back", Title: "Screw on the back", Tools: []string{"cordless drill", "caulking gun"}, Cure: sealCure(p.h),
		Do: says("Lay the back in a bead of sealant and screw it every {150 mm|6 in}; it keeps the frame square for good.",
			"Seal all round from inside."),
		Minutes: 15, Faults: []string{"caulk"}}, 15, true)
}

// insulate lays in what keeps the heat. Gaps between boards leak as much as thin boards do,
// and what is left out at the sides is a cold bridge all round.
func (p *planner) insulate() {
	s := Step{ID: "insulate", Title: "Lay in the insulation", Tools: []string{"long knife", "straightedge", "tape"}, Minutes: 10,
		Do: says("Cut it a hair too large, press it in without gaps, and tape every joint.",
			"Open the ports through it with the knife, from both sides."),
		Gate: &Gate{ID: "insulated", Title: "Insulation without gaps", Hides: "dry-fit",
			Looks: says("It reaches the frame on every side: no board stops short of it.", "Every joint is taped.",
				"No solvent has touched bare foam.")},
		Faults: []string{"edge-foam"}}
	if f, err := catalog.FindInsulation(p.h.Box.Foam); err == nil && slices.Contains(f.Tags, "foam") {
		s.Cautions = says("No solvent paint and no solvent glue on bare foam.")
	} else {
		s.Cautions = says("Wear a dust mask and long sleeves with mineral wool.")
		facing := "Lay its faced side to the air, and close the cut edges with foil tape: no bare wool lies in the air of the room."
		if !slices.Contains(f.Tags, "faced") {
			facing = "Cover it with foil or glass tissue towards the air, taped all round: no bare wool lies in the air of the room."
		}
		s.Do = append(s.Do, says(facing)...)
	}
	p.add(s, perBoard, true)
}

// painted blackens the absorber and the inside.
func (p *planner) painted() {
	s := Step{ID: "paint", Title: "Paint the absorber", On: p.letters(layout.Absorbing...),
		Tools: []string{"spray mask", "drop cloth", "degreaser"}, Cure: paintCure(p.h), Minutes: 45 * p.boxes(), Outdoors: true, Dry: true,
		Do: says("Degrease bare metal; wipe off the dust.",
			"Spray two thin coats from both sides of a screen, from the front of all else; let the first one get dry to the "+
				"touch.", "Hold it against the light: what shines through or gleams is not covered."),
		Gate: &Gate{ID: "painted", Title: "Flat black everywhere", Hides: "glaze",
			Looks: says("A lamp held low over it shows no gloss and no bare spot.")},
		Cautions: says("Spray outdoors or with the doors open, with a mask for paint mist, and away from flames."),
		Faults:   []string{"paint"}}
	if p.h.Box.Walls == "black" {
		s.Do = append(s.Do, say("Blacken the inside of the walls; with foam there, brush a water-based black."))
		s.Gate.Looks = append(s.Gate.Looks, say("On bare foam there is water-based paint only."))
	}
	p.add(s, 0, false)
}

// tubes bores the headers of a box with tubes and sets the lower one.
func (p *planner) tubes() {
	if p.h.Absorber.Cans == nil && p.h.Absorber.Pipes == nil {
		return
	}
	gate := &Gate{ID: "header-holes", Title: "Holes of the headers, measured to two edges", Hides: "absorber",
		Looks: says("The space behind each header is as high as drawn: it is the plenum, and it stays open.")}
	for i := range p.parts {
		if x := &p.parts[i]; x.Kind == layout.HeaderBoard && len(x.Bores) > 1 {
			for _, k := range []int{0, len(x.Bores) - 1} {
				b := x.Bores[k]
				gate.Measures = append(gate.Measures, Measure{ID: fmt.Sprintf("hole %d", k+1), Want: b.X, Within: centerWithin,
					Label: say(fmt.Sprintf("%s: from the left end to the center of hole %d", x.Letter, k+1))})
			}
		}
	}
	p.add(Step{ID: "headers", After: []string{"insulate", "back"}, Title: "Bore the headers and set the lower one", Gate: gate, Minutes: 20,
		Tools: []string{"hole saw", "drill press or guide", "template"},
		Jig:   say("Bore both headers on each other, so that their holes face each other."),
		Do: says("Glue the true-size template on and mark every center through it.",
			"Screw the lower header in; the upper one waits for the last column.")},
		20, true)
}

// battens sets what carries the absorber.
func (p *planner) battens() {
	// Paint that waits for daylight, and what it dries in, holds up nothing else.
	p.add(Step{ID: "battens", After: []string{"insulate", "back", "headers"}, Title: "Set battens and baffles",
		Tools: []string{"cordless drill", "square"}, Minutes: 5,
		Do: says("Mark their lines from the same two edges as the ports.",
			"Screw them in; seal those that lead the air along their whole length.")}, perBoard, true)
}

// dryFit tries everything without glue.
func (p *planner) dryFit() {
	after := []string{"insulate", "back", "headers", "battens"}
	if p.h.Absorber.Cans == nil { // columns are painted once they are glued
		after = append(after, "paint")
	}
	p.add(Step{ID: "dry-fit", After: after, Title: "Put it all in without glue",
		Minutes: 25, On: p.letters(append([]*layout.PartKind{layout.Pane}, layout.Absorbing...)...),
		Gate: &Gate{ID: "dry-fit", Title: "Everything fits dry", Hides: "absorber",
			Looks: says("Every part lies in its place without force.",
				"The plenums at both ends are open, and the ports open into them.",
				wears(p.h),
				"From absorber to glazing there is the gap of the drawing; nothing touches the glass.")},
		Do: says("Lay in absorber and glazing, and look from the ends.", "Note what must change while nothing is glued.")}, 0, false)
}

// absorber fixes it, by its family. Columns of cans are painted once they are glued, on the
// bench, where no spray reaches the foam.
func (p *planner) absorber() {
	s := Step{ID: "absorber", Title: "Fix the absorber", Tools: []string{"stapler", "snips", "gloves"}, Minutes: 15}
	each := fixing[p.h.Absorber.Family](p, &s)
	if p.h.Absorber.Pipes == nil && p.h.Absorber.Cans == nil {
		s.Cautions = append(s.Cautions, say("Cut sheet and mesh are sharp: wear gloves."))
	}
	p.add(s, each, true)
	if p.h.Absorber.Cans != nil {
		p.painted()
	}
	if p.h.Absorber.Cans != nil || p.h.Absorber.Pipes != nil && len(p.letters(layout.HeaderBoard)) > 0 {
		p.add(Step{ID: "second-header", Title: "Fix the upper header after the last column", On: p.letters(layout.HeaderBoard), Minutes: 40,
			Tools: []string{"caulking gun"}, Cure: jointCure(p.h),
			Do: says("Put it over all tubes at once, then screw it.", "Seal each tube in its hole: all air must go through the tubes.")},
			0, false)
	}
}

// fixing says how each family's absorber is fixed, and how long that takes a piece, min.
var fixing = design.Each("step of the absorber", map[design.Family]func(p *planner, s *Step) (each float64){
	design.ScreenBox: (*planner).fixScreens, design.CanColumns: (*planner).fixCans, design.Downpipes: (*planner).fixPipes,
	design.DoublePassTubes: (*planner).fixPipes, design.RibbedCoil: (*planner).fixCoil, design.BackPassPlate: (*planner).fixSheet,
	design.FrontPassPlate: (*planner).fixSheet, design.DoublePassPlate: (*planner).fixSheet, design.PassiveBox: (*planner).fixSheet,
	design.OwnAbsorber: (*planner).fixSheet, design.WindowPanel: (*planner).fixSheet,
})

// fixScreens staples screens to their battens.
func (p *planner) fixScreens(s *Step) float64 {
	s.Title = "Staple the screens"
	s.Do = says("Begin with the one at the back; pull each flat and staple it all round on its battens.",
		"Fold the edges over and press them to the lining.")
	s.Faults = []string{"edge-gap", "paint"}
	return perScreen
}

// fixCans glues cans to columns.
func (p *planner) fixCans(s *Step) float64 {
	s.Title = "Glue the columns"
	s.Cure = jointCure(p.h)
	s.Jig = say("Two boards screwed to a V, with a stop at one end: each column comes out straight and of one length.")
	s.Do = says("Glue can on can in the jig, in a thin bead all round; turn each to spread it.",
		"Measure every column as it comes off the jig.")
	s.Gate = &Gate{ID: "columns", Title: "Columns of one length", Hides: "second-header",
		Looks: says("All holes through the columns are open: light falls through each."),
		Measures: []Measure{{ID: "shortest", Label: say("The shortest column"), Want: p.h.Absorber.Cans.Column(), Within: columnWithin,
			Alike: "columns"},
			{ID: "longest", Label: say("The longest column"), Want: p.h.Absorber.Cans.Column(), Within: columnWithin, Alike: "columns"}}}
	s.Cautions = says("Rims of opened cans are sharp: wear gloves and eye protection.")
	s.Faults = []string{"short-column"}
	return perCan
}

// fixPipes sets pipes into their headers.
func (p *planner) fixPipes(s *Step) float64 {
	s.Title = "Set the pipes"
	s.Do = says("Set all pipes in the lower header and square them.",
		"Rivet the flashing to them; no rivet stands proud towards the glass.")
	return perPipe
}

// fixCoil lays a duct in its turns.
func (p *planner) fixCoil(s *Step) float64 {
	s.Do = says("Pull the duct out evenly, lay it in its turns and hold it with straps that let it move.",
		"Clamp its ends to the ports.")
	s.Faults = []string{"slack"}
	return perSheet
}

// fixSheet screws a sheet down.
func (p *planner) fixSheet(s *Step) float64 {
	s.Do = says("Screw the sheet through slotted holes, so that it can grow.", "Flat heads only: nothing stands proud under the glass.")
	return perSheet
}

// sealed closes what would let air pass beside the absorber.
func (p *planner) sealed() {
	seam := 2 * (p.h.ApertureWidth() + p.h.ApertureHeight())
	s := Step{ID: "seal", Title: "Seal the edges of the absorber", Tools: []string{"caulking gun", "lamp"}, Cure: sealCure(p.h),
		Minutes: perMeter * seam * p.boxes(),
		Do: says("Seal every edge where air could pass beside the absorber instead of through it.",
			"Shine a lamp from behind: no line of light."),
		Gate: &Gate{ID: "bypass", Title: "No way around the absorber", Hides: "glaze", Looks: says("No light passes its edges.",
			"Seams, corners and ports are sealed.")}, Faults: []string{"edge-gap", "caulk"}}
	s.Gate.Looks = append(s.Gate.Looks, labeled(p.h))
	if p.h.Absorber.Screens == nil {
		s.Faults = []string{"caulk"}
	}
	p.add(s, 0, false)
}

// labeled is what the label of the sealant must say.
func labeled(h *design.Heater) units.Text {
	b, err := catalog.FindSealant(h.Box.Sealant)
	if err != nil {
		return say("The label of the sealant names outdoor use and the heat of the box.")
	}
	service := units.Q(units.Temperature, b.Service)
	switch {
	case slices.Contains(b.Tags, "not-rain"):
		return units.Say("The label of the sealant names at least %v, and wherever rain comes another one for outdoors covers it.", service)
	case slices.Contains(b.Tags, "cracks"):
		return say("Putty cracks with the heat of every day: it is used nowhere but under a bead of silicone.")
	}
	return units.Say("The label of the sealant names outdoor use and at least %v.", service)
}

// clean is the last look before the lid.
func (p *planner) clean() {
	p.add(Step{ID: "clean", Title: "Clean it out", Tools: []string{"vacuum cleaner", "magnet", "straightedge"}, Minutes: 15,
		Do: says("Vacuum the box, and the tubes from both ends."),
		Gate: &Gate{ID: "lid", Title: "Ready for the glazing", Hides: "glaze",
			Looks: says("No sawdust, no slug, no swarf is left, in the tubes neither.",
				"A straightedge over the box touches nothing: no rivet or screw stands proud under the glass.",
				"Air holes, plenums and the drain holes along the lower edge are open.",
				"Probe, switch and wires that belong inside are in, and can be reached.")}}, 0, false)
}

// glaze puts on what lets the sun in; the gasket comes last.
func (p *planner) glaze() {
	s := Step{ID: "glaze", Title: "Glaze it", Tools: []string{"suction lifters or gloves", "caulking gun", "glass cleaner"},
		Cure:    sealCure(p.h),
		Minutes: 15, Dry: true, Do: says("Clean the inside of the glazing; it cannot be reached again.",
			"Set it in its bead on the blocks, with room on every side to grow.",
			"Lay the gasket last and screw the stops on it until it is pressed by a third, no more."), Faults: []string{"caulk", "dirt"}}
	if n := layout.PaneCarriers(p.h, 0); n > 1 {
		s.Helpers = n - 1
		if cover, err := catalog.FindCover(p.h.Cover.Material); err != nil || cover.Glass() {
			s.Cautions = append(s.Cautions, units.Say("A pane of %v takes two people, gloves, and tempered or well-edged glass.",
				units.Q(units.Area, p.h.Pane.Width*p.h.Pane.Height)))
		}
	}
	p.add(s, perPane/3, true)
}

// bake drives out what steams and smells, outdoors, before the box is joined to a room.
func (p *planner) bake() {
	p.add(Step{ID: "bake", Title: "Bake it outdoors", Minutes: 20, Outdoors: true, Sunny: true, Dry: true,
		Helpers: layout.Lifters(p.l.Mass()) - 1,
		Do: says("Stand it in the sun for a day with both ports open, then a second one with the ports covered.",
			"Water and solvent leave it: it steams and smells.",
			"Let it cool, and look for what sagged, cracked or came loose."),
		Gate: &Gate{ID: "baked", Title: "It no longer steams or smells", Hides: "ducts",
			Looks: says("The glazing stays clear from inside in the morning sun.",
				"No smell comes from the ports when it is hot.", "Nothing sagged, peeled or cracked.")},
		Cautions: says("It gets hot with covered ports: keep children and animals away.", "Keep it clear of anything that burns.",
			"Do not breathe what comes out of it on the first days.")}, 0, false)
}

// indoors adds the steps of a panel that hangs behind a window.
func (p *planner) indoors() {
	p.add(Step{ID: "frame", Title: "Put the frame together", After: []string{}, Tools: []string{"saw", "glue", "square"},
		Cure: glueCure(p.h),
		Gate: &Gate{ID: "diagonals", Title: "Both diagonals equal", Hides: "absorber", Measures: []Measure{
			{ID: "one", Label: say("From lower left to upper right"), Want: p.l.Diagonal, Within: diagonalWithin, Alike: "diagonals"},
			{ID: "other", Label: say("From lower right to upper left"), Want: p.l.Diagonal, Within: diagonalWithin, Alike: "diagonals"}}},
		Do: says("Half-lap the corners and glue them flat on a table.")}, perBoard, false)
	p.painted()
	p.add(Step{ID: "absorber", Title: "Stretch the foil", Tools: []string{"stapler", "scissors"}, Minutes: 20,
		Do: says("Stretch it from the middle outwards and staple it on the edge.", "Keep the slots at top and bottom open.")}, 10, true)
	p.add(Step{ID: "hang", Title: "Hang it behind the window", Minutes: 15, Sunny: true,
		Do: says("Hang it a hand's breadth behind the pane, so that air rises behind it.",
			"Take it down when the sun is gone for the season."),
		Cautions: says("It gets hot within reach: hang it where children and curtains do not touch it.",
			"Watch the pane: uneven heat can crack old or wired glass.")}, 0, false)
	p.add(Step{ID: "glaze", Title: "Fit the remaining parts", Minutes: 10, Do: says("Fit what belongs to the window.")}, 10, true)
}

// fanned says whether a fan moves the air.
func fanned(h *design.Heater) bool { return h.Fanned() }

// wears names what wears out in a box.
func wears(h *design.Heater) string {
	what := []string{}
	if h.Fanned() {
		what = append(what, "fan", "switch")
	}
	if h.Air.Flap != "none" {
		what = append(what, "damper")
	}
	if h.Air.Filter != "none" {
		what = append(what, "filter")
	}
	if len(what) == 0 {
		return "Nothing that wears out is sealed in."
	}
	return "What wears out can be reached and taken out: " + strings.Join(what, ", ") + "."
}

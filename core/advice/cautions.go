package advice

import (
	"fmt"

	"gladember/core/catalog"
	"gladember/core/collector"
	"gladember/core/design"
	"gladember/core/layout"
	"gladember/core/units"
	"gladember/core/wiring"
)

// Caution is a usual warning where it bears on a step, with the part that
// calls for it. Common practice, no source; local codes and licensed trades
// have the last word.
type Caution struct {
	// Part names what calls for the caution, as the drawing labels it.
	Part string
	// Text is the warning, with its quantities.
	Text Text
	// Kinds are those of the parts of the layout that call for it; none for what is no part, such as the wall or the room.
	Kinds []*layout.PartKind
}

// Sizes from which a caution holds. Common practice, no source.
const (
	highGlass  = 1.0  // m from the ground to its lower edge, from which falling glass is a danger
	overhead   = 60.0 // degrees of tilt below which glass lies over heads
	onRoof     = 50.0 // degrees of tilt up to which a box lies on a roof
	hotToTouch = 60.0 // C, at which metal burns a hand within a second or so
)

// Cautions returns what can hurt someone at the work of a topic.
// About the site: permits, anchorage, ladders. About construction: what is hot,
// what fumes, what draws on a flued burner, wiring. About cutting: saws, glass,
// weight. Other topics have none.
func Cautions(e *collector.Evaluation, about Topic) []Caution {
	switch about {
	case Siting:
		return ofTheSite(&e.Heater)
	case Construction:
		return ofTheBox(e)
	case Cutting:
		return ofCutting(&e.Heater)
	}
	return nil
}

// SafetyGroup is cautions under a heading.
type SafetyGroup struct {
	Title    string
	Cautions []Caution
}

// Safety returns every caution that a heater calls for, in the order of the work. Nothing
// of it replaces a local code or a licensed trade.
func Safety(e *collector.Evaluation) []SafetyGroup {
	return []SafetyGroup{
		{"Before you begin", ofTheSite(&e.Heater)},
		{"At the bench", ofCutting(&e.Heater)},
		{"In the box and around it", ofTheBox(e)},
	}
}

// ofTheSite are those of the building and of the place: whom to ask, what lies hidden, what
// may fall.
func ofTheSite(h *design.Heater) (cs []Caution) {
	add := func(part string, text Text, kinds ...*layout.PartKind) { cs = append(cs, Caution{part, text, kinds}) }
	if h.Indoors() {
		if h.Site.Rented {
			add("the window", say("The window is not yours: hang the panel so that nothing is screwed or glued to it, or ask the owner."))
		}
		return cs
	}
	permit := say("Get a permit and your landlord's consent before you cut a wall. Find wires, pipes and studs first.")
	switch {
	case h.Site.Rented && h.Air.Route == "window":
		permit = say("The building is rented: a window insert needs no hole, but ask the owner before you fix anything to the wall.")
	case h.Site.Rented:
		permit = say("The building is rented: get the owner's consent in writing before you cut or fix anything, and find wires, pipes " +
			"and studs first. A window insert needs no hole.")
	}
	add("the wall", permit, layout.WallSleeve, layout.WindowInsert)
	if h.Site.OldPaint {
		add("old paint and board",
			say("They may hold lead or asbestos: have them tested before you cut, drill or sand, and leave asbestos to a "+
				"licensed trade."), layout.WallSleeve, layout.HangingCleat, layout.FootBracket, layout.CurbBoardSide,
			layout.CurbBoardTopAndBottom)
	}
	anchor := say("Anchor it against wind and snow as your local code asks: here gusts of %v are computed, and no snow. Work from a "+
		"ladder with someone at its foot.", q(units.Gust, h.Site.Gust))
	if h.Site.Snow > 0 {
		anchor = say("Anchor it against wind and snow as your local code asks: here gusts of %v and %v of snow on the ground are "+
			"computed. Work from a ladder with someone at its foot.", q(units.Gust, h.Site.Gust), q(units.Load, h.Site.Snow))
	}
	add("the box outdoors", anchor, layout.HangingCleat, layout.FootBracket, layout.CurbBoardSide, layout.CurbBoardTopAndBottom,
		layout.StandLeg, layout.StandRail, layout.StandBrace)
	if h.Place.Tilt <= onRoof && h.Air.Route != "stand" {
		add("the roof",
			say("Work on a roof wants a harness, a helper and dry weather. Ask for its strength under snow before you load it."),
			layout.CurbBoardSide, layout.CurbBoardTopAndBottom, layout.CurbFlashingBottom, layout.CurbFlashingSide,
			layout.CurbFlashingTop)
	}
	cover, err := catalog.FindCover(h.Cover.Material)
	glass := err != nil || cover.Glass()
	if low := glassBottom(h); low > highGlass && glass {
		add("the glass up high",
			say("Its lower edge is %v above the ground: use tempered glass, laminated glass or plastic where somebody may stand below.",
				q(units.Distance, low)), layout.Pane)
	} else if h.Place.Tilt < overhead && !glass {
		add("the glazing", say("It lies at %v: snow loads it, and wind gets hold of its edges. Fasten it along every edge.",
			q(units.Angle, h.Place.Tilt)), layout.Pane)
	} else if h.Place.Tilt < overhead {
		add("the glass", say("It lies at %v: hail and snow load it. Use tempered glass or plastic.", q(units.Angle, h.Place.Tilt)),
			layout.Pane)
	}
	return cs
}

// glassBottom is how far the lower edge of the glass lies above the ground, m.
func glassBottom(h *design.Heater) float64 {
	if h.Wall.Between > 0 {
		return h.Wall.Bottom
	}
	return h.Place.Above - h.Pane.Height/2
}

// ofTheBox are the cautions that a box's parts call for.
func ofTheBox(e *collector.Evaluation) (cs []Caution) {
	h := &e.Heater
	add := func(part string, text Text, kinds ...*layout.PartKind) { cs = append(cs, Caution{part, text, kinds}) }
	// The hottest part that a hand could touch, at the upper end of its range.
	hot := 0.0
	for _, p := range e.Peaks {
		if p.Kind != collector.CoverLayer && p.Upper > hot {
			hot = p.Upper
		}
	}
	absorber := layout.Absorbing
	wood := ""
	if h.Box.Body != "sheet" && !h.Indoors() {
		wood = " A box that can burn wants an over-temperature cut-out or a summer cover."
	}
	add("the absorber", say("With the air standing it can reach %v: keep it clear of anything that burns."+wood, q(units.Temperature,
		hot)), absorber...)
	if h.Site.Children && hot > hotToTouch {
		add("hot surfaces",
			say("Small children are near: outlet, ducts and frame burn a hand from about %v. Put the outlet out of their reach, or a "+
				"guard before it.", q(units.Temperature, hotToTouch)), absorber...)
	} else {
		what := "Outlet, ducts and frame"
		if h.Indoors() {
			what = "Foil and frame"
		}
		add("hot surfaces", say("%v can get hot: keep them out of children's reach.", word(what)), absorber...)
	}
	add("the paint", say("Bake the box outdoors on its first sunny days, before it is joined to the room; paint and glue fume."),
		absorber...)
	cs = append(cs, ofTheRoom(h)...)
	cs = append(cs, ofThePower(h)...)
	cs = append(cs, ofTheFittings(e)...)
	cs = append(cs, ofTheFoam(h)...)
	if h.Indoors() {
		add("the foil",
			say("It gets hot within reach: hang it where children and curtains do not touch it, and watch the pane: uneven heat can "+
				"crack old or wired glass."), layout.Foil)
	}
	if h.Absorber.Cans != nil {
		add("the cans", say("Cut rims are sharp: gloves and eye protection while drilling and opening them."), layout.Can)
	}
	if h.Absorber.Paint == "grill-paint" {
		add("the paint", say("No fuming paint in the air path: bake it outdoors until no smell is left."), absorber...)
	}
	if !h.Indoors() {
		add("water",
			say("Drain holes stay the lowest point, and the box dries out in the sun: standing water feeds mold, which the air then "+
				"carries "+
				"indoors."), layout.MeshOverDrainHoles)
	}
	return cs
}

// ofTheRoom are those of the room that the air comes from and goes to.
func ofTheRoom(h *design.Heater) (cs []Caution) {
	add := func(text Text) { cs = append(cs, Caution{Part: "burners in the room", Text: text}) }
	draws := h.Fanned() && !h.Indoors()
	switch {
	case h.Room.Flued && draws:
		add(say("A flued burner takes its air from this room. A fan that draws from the room can pull carbon monoxide out of the flue: " +
			"fit a carbon " +
			"monoxide alarm before the first run, never take more air from the room than you give back, and have the burner's trade " +
			"check the flue " +
			"with the fan on."))
	case draws:
		add(say("If a burner with a flue ever stands in this room, a fan that draws from it can pull the fumes in: fit a carbon " +
			"monoxide alarm then."))
	case h.Room.Flued:
		add(say("A flued burner takes its air from this room: a carbon monoxide alarm belongs in it, with or without this heater."))
	}
	return append(cs, Caution{Part: "the heater", Text: say("It adds heat when the sun shines; it replaces neither frost protection nor " +
		"a safe source of heat.")})
}

// ofThePower are those of fan, wires, battery, panel and furnace.
func ofThePower(h *design.Heater) (cs []Caution) {
	add := func(part string, text Text) { cs = append(cs, Caution{Part: part, Text: text}) }
	if c, ok := wiring.Build(h); ok {
		if c.Low {
			add("the fan's wires", say("Low-voltage wiring gets a fuse at its supply: a short circuit can set wood alight at 12 V too."))
		} else {
			add("the fan's wires", say("The fan is on the mains: its wiring is for a licensed electrician."))
		}
	}
	if h.Air.Drive == "panel" {
		if h.Air.Battery > 0 {
			add("the battery",
				say("Fuse it at its pole, keep it cool and aired, and follow its maker; some batteries give off gas or burn when they "+
					"are overcharged."))
		}
		add("the solar panel", say("It gives its voltage whenever light falls on it: cover it while you wire it."))
	}
	// The furnace is a licensed trade's work, whatever the builder can do.
	if h.Air.Route == "furnace" {
		add("the furnace",
			say("Joining a furnace's plenum is for a licensed trade: a damper that sticks can send flue gas or heat the wrong way."))
	}
	return cs
}

// ofTheFittings are those of vents, shutters, mirrors and rows.
func ofTheFittings(e *collector.Evaluation) (cs []Caution) {
	h := &e.Heater
	add := func(part string, text Text, kinds ...*layout.PartKind) { cs = append(cs, Caution{part, text, kinds}) }
	switch h.Guard.Kind {
	case "vent":
		add("the top vent",
			say("Air of up to %v leaves it: keep it clear of eaves, plastic siding and anything that burns. Mesh keeps insects out "+
				"and a hood the rain. Try the actuator in warm air every spring; a vent that sticks protects nothing.",
				q(units.Temperature, e.Noon.Outlet)), layout.VentFlap)
	case "shutter":
		add("the shutter",
			say("Anchor it against wind, and try its actuator in warm air every spring; a shutter that sticks protects nothing."))
	}
	if h.IsRow() && h.Place.Tilt < 75 {
		add("the row",
			say("%v boxes on a roof are a load in wind and snow: ask for the roof's strength and its anchors before you lift the first "+
				"one. Work on a roof wants a harness and a helper.", word(fmt.Sprint(h.Array.Boxes))))
	}
	if h.Mirror.Length > 0 {
		add("the mirror", say("It throws glare at neighbors, drivers and eyes; anchor it against wind, and fold it down in summer."))
	}
	if h.Cover.CoveredFrom == 0 && !h.Indoors() && h.Guard.Kind == "none" {
		months := "in which the fan is off"
		if !h.Fanned() {
			months = "in which nobody needs its heat"
		}
		add("summer", say("Cover the glazing, or open the box to the outdoors, in the months %v: it stands at its hottest for days.",
			word(months)), layout.Pane)
	}
	return cs
}

// ofTheFoam are those of the insulation, by what it is made of.
func ofTheFoam(h *design.Heater) []Caution {
	if h.Box.BackFoam <= 0 && h.Box.EdgeFoam <= 0 || h.Indoors() {
		return nil
	}
	f, err := catalog.FindInsulation(h.Box.Foam)
	if err != nil {
		return nil
	}
	for _, tag := range f.Tags {
		if tag == "foam" {
			return []Caution{{"the foam",
				say("Plastic foam burns and gives off toxic smoke: cover it on every face towards the room, and keep it below %v, "+
					"its service temperature.", q(units.Temperature, f.Service)), layout.Insulating}}
		}
	}
	return []Caution{{"the insulation",
		say("Its fibers irritate skin and lungs: wear a dust mask, gloves and long sleeves, and leave no bare wool in the " +
			"air of the room."), layout.Insulating}}
}

// ofCutting are those of the saw, the pane and the finished weight.
func ofCutting(h *design.Heater) (cs []Caution) {
	add := func(part string, text Text, kinds ...*layout.PartKind) { cs = append(cs, Caution{part, text, kinds}) }
	edges := "sheet, mesh and duct edges"
	if h.Indoors() {
		edges = "foil and sheet edges"
	}
	add("saw and drill",
		say("Wear eye and ear protection and a dust mask. Wear gloves for cut %v. Old paint and board may hold lead or asbestos: have "+
			"them tested first.", word(edges)))
	cover, err := catalog.FindCover(h.Cover.Material)
	if layout.PaneCarriers(h, 0) > 1 && (err != nil || cover.Glass()) {
		add("the pane", say("A pane of %v takes two people, gloves, and tempered or well-edged glass.",
			q(units.Area, h.Pane.Width*h.Pane.Height)), layout.Pane)
	}
	add("paint and glue", say("Work outdoors or with the doors open, away from flames, and wear a mask for paint mist and solvent."))
	if l, err := layout.Build(h); err == nil && layout.Lifters(l.Mass()) > 1 {
		add("the box", say("It weighs %v with its glazing: lift it with %v, or glaze it in place.", q(units.Mass, l.Mass()),
			word(layout.People(layout.Lifters(l.Mass())))))
	}
	return cs
}

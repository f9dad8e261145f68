package advice

import (
	"fmt"
	"math"
	"slices"

	"gladember/core/catalog"
	"gladember/core/collector"
	"gladember/core/design"
	"gladember/core/units"
)

// oneSided is the normal quantile of 95 %.
const oneSided = 1.645

// tagsOf lists what a heater's choices are tagged with, and the circumstances
// each is in.
// Two sets that the table of clashes relates: what the chosen thing is, and
// what it is near, such as rain, heat, the air that people breathe, or a foam
// that a solvent dissolves. Path is the field of the choice; other paths have
// no tags.
func tagsOf(h *design.Heater, path string) (tags, around []string) {
	foam, _ := catalog.FindInsulation(h.Box.Foam)
	cover, _ := catalog.FindCover(h.Cover.Material)
	switch path {
	case design.AbsorberPaint.Path:
		p, _ := catalog.FindPaint(h.Absorber.Paint)
		// What fumes on the absorber is breathed in the room.
		around = append(around, catalog.InAirway)
		if h.Absorber.Family == design.FrontPassPlate || h.Box.Body == "foam" || h.Box.Walls == "black" {
			around = append(around, foam.Tags...) // the foam inside is painted too
		}
		return p.Tags, around
	case design.BoxSealant.Path:
		b, _ := catalog.FindSealant(h.Box.Sealant)
		around = append(around, catalog.Rain, catalog.Hot)
		return b.Tags, append(around, cover.Tags...)
	case design.BoxAdhesive.Path:
		b, _ := catalog.FindAdhesive(h.Box.Adhesive)
		return b.Tags, append(append(around, catalog.MetalFoam, catalog.Hot), foam.Tags...)
	case design.BoxTape.Path:
		b, _ := catalog.FindTape(h.Box.Tape)
		return b.Tags, append(around, catalog.Hot)
	case design.AirDuct.Path:
		d, _ := catalog.FindDuct(h.Air.Duct)
		return d.Tags, append(around, catalog.Hot)
	}
	return nil, nil
}

// clashesWith returns the materials that would not go together if one choice
// were made, by its field path.
// The choice is made on a copy, without deriving anything else from it: only
// the table is asked, and the box is run again elsewhere.
func clashesWith(h *design.Heater, path, id string) []catalog.Clash {
	n := h.Clone()
	switch path {
	case design.AbsorberPaint.Path:
		n.Absorber.Paint = id
	case design.BoxSealant.Path:
		n.Box.Sealant = id
	case design.BoxAdhesive.Path:
		n.Box.Adhesive = id
	case design.BoxTape.Path:
		n.Box.Tape = id
	case design.AirDuct.Path:
		n.Air.Duct = id
	}
	return catalog.FindClashes(tagsOf(&n, path))
}

// clash: two things that do not go with each other, from the catalog's table.
// The table says why two things clash and what would do (package catalog). The
// first choice of the list that clashes with nothing and bears the heat is
// offered for one touch; its gain is told only where it moves the heat at all.
func clash(e *assessment) (fs []Finding) {
	h := &e.Heater
	if h.Indoors() {
		return nil
	}
	for _, x := range []struct {
		path, name, id string
		list           []catalog.Choice
	}{
		{design.AbsorberPaint.Path, "paint", h.Absorber.Paint, catalog.Paints()}, {design.BoxSealant.Path, "sealant", h.Box.Sealant,
			catalog.Sealants()},
		{design.BoxAdhesive.Path, "adhesive", h.Box.Adhesive, catalog.Adhesives()}, {design.BoxTape.Path, "tape", h.Box.Tape,
			catalog.Tapes()},
		{design.AirDuct.Path, "duct", h.Air.Duct, catalog.Ducts()},
	} {
		cs := clashesWith(h, x.path, x.id)
		if len(cs) == 0 {
			continue
		}
		// What fails comes before what builders disagree on.
		c := cs[max(0, slices.IndexFunc(cs, func(c catalog.Clash) bool { return !c.Taste }))]
		// The list's own name, as the builder chose it.
		name := x.id
		for _, o := range x.list {
			if o.ID == x.id {
				name = o.Name
			}
		}
		f := Finding{ID: "clash-" + x.name, Severity: Fault,
			Topic: Construction, Title: fmt.Sprintf("The %s does not suit the other materials", x.name),
			Finding: say("%v", word(c.Why)), Evidence: say("You chose %v; common practice, no source.", word(name)),
			Remedy: say("%v", word(c.Remedy))}
		if c.Taste {
			f.Severity, f.Title = Note, fmt.Sprintf("The %s may not suit the other materials", x.name)
		}
		for _, o := range x.list {
			if len(clashesWith(h, x.path, o.ID)) == 0 && bears(e, x.path, o.ID) {
				f.Patch = []design.Change{change(x.path, o.ID)}
				f.Remedy = say("%v Here: %v.", word(c.Remedy), word(o.Name))
				if _, r, err := rerun(e, f.Patch...); err == nil && math.Abs(worth(&r)-worth(&e.Running)) > 1e-6 {
					f.Gain, f.HasGain = worth(&r)-worth(&e.Running), true
				}
				break
			}
		}
		fs = append(fs, f)
	}
	return fs
}

// bears says whether a choice stands the box's heat.
// Paint is as hot as the absorber, sealant as the cover's edge, adhesive and
// tape as the insulation's face; a duct only carries the outlet air. Bonds keep
// the margin of their uncertain limits, as in bondsTooHot.
func bears(e *assessment, path, id string) bool {
	switch path {
	case design.AbsorberPaint.Path:
		p, err := catalog.FindPaint(id)
		return err == nil && p.Service >= hottest(e, collector.AbsorberLayer)
	case design.BoxSealant.Path:
		b, err := catalog.FindSealant(id)
		return err == nil && b.Service-oneSided*b.U >= hottest(e, collector.CoverLayer)
	case design.BoxAdhesive.Path:
		b, err := catalog.FindAdhesive(id)
		return err == nil && b.Service-oneSided*b.U >= hottest(e, collector.BackLayer)
	case design.BoxTape.Path:
		b, err := catalog.FindTape(id)
		return err == nil && b.Service-oneSided*b.U >= hottest(e, collector.BackLayer)
	case design.AirDuct.Path:
		d, err := catalog.FindDuct(id)
		return err == nil && d.Service >= e.Running.Outlet
	}
	return true
}

// duller: a paint that shines throws sun away.
// Flat black paints absorb 0.93 to 0.97, glossy ones down to 0.85. Each
// hundredth of absorptance is about a hundredth of the heat. Only paints that
// bear the heat and fit the other materials are tried.
func duller(e *assessment) []Finding {
	p, err := catalog.FindPaint(e.Heater.Absorber.Paint)
	if err != nil || p.Absorptance >= 0.93 {
		return nil
	}
	f := Finding{ID: "shiny-paint", Severity: Loss, Topic: Construction, Title: "The paint reflects too much sun",
		Finding:  say("%v absorbs %v of the sun.", word(p.Name), q(units.Share, p.Absorptance)),
		Evidence: say("%v are reflected.", q(units.Power, e.Running.Energy.Reflected))}
	var options []option
	for _, c := range catalog.Paints() {
		if o, err := catalog.FindPaint(c.ID); err == nil && o.Absorptance > p.Absorptance && bears(e, design.AbsorberPaint.Path, c.ID) &&
			len(clashesWith(&e.Heater, design.AbsorberPaint.Path, c.ID)) == 0 {
			options = append(options, option{[]design.Change{design.Set(design.AbsorberPaint, c.ID)},
				func(collector.Result) Text { return say("Use %v, in two thin coats.", word(o.Name)) }})
		}
	}
	if o, r, ok := best(e, 0.005, options); ok {
		return f.with(e, o, r)
	}
	return nil
}

// doubtfulPane: a coated or tinted pane keeps the sun out.
// Low-emissivity and solar-control coatings (CoatPass) and deep body tint keep
// a third to two thirds of the sun out. The builder's own test, sun on the
// ground under the pane, is the evidence offered, since nobody knows the
// coating of a salvaged pane from a label.
func doubtfulPane(e *assessment) []Finding {
	h := &e.Heater
	c, err := catalog.FindCover(h.Cover.Material)
	if err != nil || h.Indoors() || c.CoatPass == 0 && c.Extinction*c.Thickness < 0.3 {
		return nil
	}
	f := Finding{ID: "doubtful-pane", Severity: Loss, Topic: Construction, Title: "The glazing blocks the sun",
		Finding: say("%v is made for that: of %v on it, %v are reflected or stay in it.", word(c.Name),
			q(units.Power, e.Running.Energy.Sun), q(units.Power, e.Running.Energy.Reflected)),
		Evidence: say("Lay it in the sun and feel the ground under it. If the ground is not warmer there, do not use this glazing.")}
	o, r, ok := best(e, 0.02, []option{{[]design.Change{design.Set(design.CoverMaterial, "glass")}, func(r collector.Result) Text {
		return say("Use plain glass: the heat to the room is then %v.", q(units.Power, r.Warms()))
	}}})
	if !ok {
		return nil
	}
	return f.with(e, o, r)
}

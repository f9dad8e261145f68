// Package box is the station of the box itself: its drawings, where its heat goes, and its parts.
package box

import (
	"embed"
	"fmt"
	"html/template"
	"slices"

	"gladember/app/drawing"
	"gladember/app/web/ui"
	"gladember/core/advice"
	"gladember/core/design"
	"gladember/core/layout"
	"gladember/core/units"
)

//go:embed *.html
var templates embed.FS

// New returns the station.
func New() *ui.Station {
	return &ui.Station{
		Key: "box", Name: "Box", Group: ui.Design, Templates: templates, Topics: []advice.Topic{advice.Construction}, AllFindings: true,
		Open: open, Summary: summary,
	}
}

// View is the center of the station, and the parts at its side.
type View struct {
	Front, Section          template.HTML
	Energy, AirPath, Limits ui.Chart
	Misfit                  string
	Parts                   []PartLink
	Families                []FamilyView
}

// PartLink opens a part of the box.
type PartLink struct {
	Name, URL string
	Here      bool
}

// FamilyView is a kind of absorber, as a picture one chooses it by.
type FamilyView struct {
	ID, Name string
	Picture  template.HTML
	Chosen   bool
	Vals     string // JSON for hx-vals
}

// part is a part of the box that one can touch.
type part struct {
	key, name string
	groups    []*design.Group
}

// parts are those of the box, in the order of the sun's way in.
var parts = []part{
	{"cover", "Glazing", []*design.Group{design.GlazingGroup}},
	{"absorber", "Absorber", []*design.Group{design.AbsorberGroup}},
	{"foam", "Insulation", []*design.Group{design.InsulationGroup}},
	{"guard", "Overheating guard", []*design.Group{design.GuardGroup}},
	{"frame", "Frame", []*design.Group{design.FrameGroup}},
	{"air", "Air path", []*design.Group{design.AirPathGroup}},
	{"fan", "Fan", []*design.Group{design.FanGroup, design.FanPanelGroup}},
}

// applies says whether a heater has any field of a part.
func (p *part) applies(h *design.Heater) bool {
	for _, g := range p.groups {
		if slices.ContainsFunc(g.Fields(), func(x *design.Field) bool { return x.Applies(h) }) {
			return true
		}
	}
	return false
}

// summary is the box's line in the list of stations.
func summary(v *ui.Visit) (string, bool, error) {
	h := v.Doc()
	line := fmt.Sprintf("%s, %s of clear glazing", h.MadeAs(), units.Format(units.Area, h.Glass(), v.F.Units))
	return line, v.Decided(design.PaneWidth, design.PaneHeight, design.AbsorberFamily), nil
}

// open fills the frame.
func open(v *ui.Visit) error {
	f := v.F
	chosen := v.C.FormValue("part")
	known := false
	for i := range parts {
		known = known || parts[i].key == chosen && parts[i].applies(v.Doc())
	}
	if !known {
		chosen = parts[0].key
	}
	f.Carry("part", chosen)
	partURL := func(key string) string { return f.StationURL("box", "part", key) }
	sc := v.Scene(layout.Group(chosen), func(g layout.Group) drawing.Link {
		if g == layout.Back {
			g = layout.Foam
		}
		return ui.InPlace(partURL(string(g)))
	})
	view := &View{
		Energy: ui.Draw(sc.EnergyBar), AirPath: ui.Draw(sc.AirPath),
		Limits: ui.Draw(func(w float64) template.HTML { return drawing.Limits(v.Heater.Eval.Peaks, w, f.Units) }),
	}
	if v.Heater.Misfit != nil {
		view.Misfit = ui.Misfit(v.Heater.Misfit, f.Units)
	} else {
		view.Front, view.Section = sc.Front(drawing.FrontWidth), sc.Section()
	}
	f.View = view
	for i := range parts {
		p := &parts[i]
		if !p.applies(v.Doc()) {
			continue
		}
		view.Parts = append(view.Parts, PartLink{p.name, partURL(p.key), p.key == chosen})
		if p.key == chosen {
			f.Panel(p.groups...)
		}
	}
	if chosen == "absorber" {
		for _, c := range design.AbsorberFamily.Choices() {
			family := design.Family(c.ID)
			view.Families = append(view.Families, FamilyView{
				c.ID, c.Name, drawing.FamilyPicture(family), family == v.Doc().Absorber.Family, f.TypedVals(design.AbsorberFamily, c.ID),
			})
		}
	}
	return nil
}

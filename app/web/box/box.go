// Package box is the station of the box itself: its drawings, where its heat goes, and its parts.
package box

import (
	"embed"
	"fmt"
	"html/template"

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
		Open: open, Rung: rung,
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
	paths     []string
}

// parts are those of the box, in the order of the sun's way in.
var parts = []part{
	{"cover", "Glazing", []string{
		"pane.width_m", "pane.height_m", "cover.material", "cover.thickness_m", "cover.layers", "cover.inner", "cover.between_m",
		"cover.dirt", "cover.held",
		"pane.rest_m", "cover.covered_from_month", "cover.covered_to_month", "mirror.length_m", "mirror.angle_deg", "mirror.reflectance",
		"mirror.hinge",
	}},
	{"absorber", "Absorber", append(under("absorber.screens.", "absorber.plate.", "absorber.cans.", "absorber.pipes.", "absorber.coil.",
		"absorber.panel.", "absorber.own."), "absorber.paint", "box.gap_m")},
	{
		"foam",
		"Insulation",
		[]string{"box.foam", "box.back_foam_m", "box.edge_foam_m", "box.under_frame_m", "box.board_m", "box.stones_kg", "box.walls"},
	},
	{"guard", "Overheating guard", under("guard.")},
	{"frame", "Frame", []string{
		"box.body", "box.brake_m", "box.frame", "box.frame_width_m", "pane.rest_m", "box.seam_m3_s_m", "box.sealant", "box.adhesive",
		"box.tape",
		"array.boxes", "array.join", "array.group",
	}},
	{"air", "Air path", []string{
		"air.drive", "air.source", "air.vent", "air.route", "air.duct", "air.stretch", "air.diameter_m", "air.ports", "air.port_face",
		"air.port_places", "air.to_box_m", "air.from_box_m", "air.riser_m", "air.bends", "air.bends_before",
		"air.grilles", "air.grilles_before", "air.filter", "air.flap",
	}},
	{"fan", "Fan", []string{
		"air.fan", "air.fan_free_air_m3_s", "air.fan_shut_off_pa", "air.fan_power_w", "air.fan_radial", "air.fan_side", "air.fans",
		"air.fans_join", "air.fan_volts", "air.panel_w", "air.battery_wh", "air.wire_m", "air.wire_mm2",
	}},
}

// under lists the fields below several stems.
func under(stems ...string) (out []string) {
	for _, s := range stems {
		out = append(out, ui.Under(s)...)
	}
	return out
}

// applies says whether a heater has any field of a part.
func (p *part) applies(h *design.Heater) bool {
	for _, path := range p.paths {
		if x := design.FieldAt(path); x != nil && x.Applies(h) {
			return true
		}
	}
	return false
}

// rung is the box's line on the ladder.
func rung(v *ui.Visit) (string, bool, error) {
	h := v.Doc()
	line := fmt.Sprintf("%s, %s of clear glazing", h.MadeAs(), units.Format(units.Area, h.Glass(), v.F.Units))
	return line, v.Decided("pane.width_m", "pane.height_m", "absorber.family"), nil
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
			f.Panel(p.name, p.paths...)
		}
	}
	if chosen == "absorber" {
		for _, c := range design.FieldAt("absorber.family").Choices() {
			family := design.Family(c.ID)
			view.Families = append(view.Families, FamilyView{
				c.ID, c.Name, drawing.FamilyPicture(family), family == v.Doc().Absorber.Family, f.TypedVals("absorber.family", c.ID),
			})
		}
	}
	return nil
}

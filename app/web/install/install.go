// Package install is the station of the installation: the wall from both sides, what wind and snow ask of the fixings, the lift by
// stages, the steps in their order, and how it all comes down again.
package install

import (
	"embed"
	"fmt"
	"html/template"

	"gladember/core/design"

	"gladember/app/drawing"
	"gladember/app/web/ui"
	"gladember/core/advice"
	"gladember/core/buildplan"
	"gladember/core/layout"
	"gladember/core/loads"
	"gladember/core/units"
)

//go:embed *.html
var templates embed.FS

// New returns the station.
func New() *ui.Station {
	return &ui.Station{Key: "install", Name: "Install", Group: ui.Build, Templates: templates, Topics: []advice.Topic{advice.Siting},
		Quiet: true,
		Open:  open, Summary: summary}
}

// View is the center of the station.
type View struct {
	Misfit   string
	Walls    []ui.Chart // from outside and from the room; none where the wall was not measured
	Details  []ui.Chart // of the view from the side
	Side     ui.Chart   // none for what hangs indoors
	PlaceURL string     // where it is measured
	Wall     bool       // the box hangs on a wall whose openings could be drawn
	Loads    []ui.Figure
	Ask      string // for the load of snow
	Engineer []string
	Stages   []StageView
	Steps    []StepView
	Down     []string
	Safety   string
}

// StageView is a lift.
type StageView struct{ Name, Mass, People string }

// StepView is a step of the installation.
type StepView struct {
	Title, URL, Done string
	Do               []string
}

// summary is the station's line in the list of stations.
func summary(v *ui.Visit) (string, bool, error) {
	if v.Heater.Misfit != nil {
		return "the parts do not fit together", false, nil
	}
	decided := v.Decided(design.SiteGust, design.SiteSnow, design.WallBetween)
	if v.Doc().Indoors() {
		return "hung behind the window", decided, nil
	}
	f := loads.Estimate(v.Doc(), v.Heater.Layout.Mass())
	line := ui.Count(f.Screws, "structural screw", "structural screws", v.F.Units)
	if v.Doc().Air.Route == "stand" {
		line = "anchored against " + units.Format(units.Force, max(0, f.Pull), v.F.Units)
	}
	if len(f.Engineer) > 0 {
		line += ", an engineer is due"
	}
	return line, decided, nil
}

// open fills the frame.
func open(v *ui.Visit) error {
	f, h := v.F, v.Doc()
	u := f.Units
	view := &View{PlaceURL: f.StationURL("place"), Safety: f.StationURL("safety")}
	f.View = view
	f.Panel(design.LoadsGroup)
	f.Panel(design.WallGroup)
	if v.Heater.Misfit != nil {
		view.Misfit = ui.Misfit(v.Heater.Misfit, u)
		return nil
	}
	l := &v.Heater.Layout
	if side, ok := layout.NewSide(h, l); ok {
		view.Side = ui.Draw(func(width float64) template.HTML { return drawing.Side(&side, nil, width, u) })
		for i := range side.Details {
			d := &side.Details[i]
			chart := ui.Draw(func(width float64) template.HTML { return drawing.Side(&side, d, width, u) })
			chart.Title = d.Name
			view.Details = append(view.Details, chart)
		}
	}
	view.Wall = h.Air.Route == "wall" && !h.Indoors()
	if w, ok := layout.OnWall(h, l); ok {
		for _, inside := range []bool{false, true} {
			view.Walls = append(view.Walls, ui.Draw(func(width float64) template.HTML { return drawing.OnWall(h, l, w, inside, width, u) }))
		}
	}
	if !h.Indoors() {
		x := loads.Estimate(h, l.Mass())
		shear := "Shear of weight and snow"
		if h.Site.Snow <= 0 {
			shear = "Shear of the weight, without snow"
		}
		view.Loads = []ui.Figure{f.Figure("pull", "Pull of the wind", units.Force, max(0, x.Pull)), f.Figure("push",
			shear, units.Force, x.Push)}
		if h.Air.Route != "stand" {
			view.Loads = append(view.Loads, ui.Figure{Key: "screws", Value: fmt.Sprint(x.Screws),
				Label: "Structural screws, " + units.Format(units.Length, screwBore, u)})
		}
		view.Ask = x.Ask.In(u)
		for _, t := range x.Engineer {
			view.Engineer = append(view.Engineer, t.In(u))
		}
	}
	for _, s := range buildplan.Stages(h, l) {
		view.Stages = append(view.Stages, StageView{ui.Capital(s.Name), units.Format(units.Mass, s.Mass, u),
			ui.Count(s.People, "person", "people", u)})
	}
	for _, t := range buildplan.TakeDown(h, l) {
		view.Down = append(view.Down, t.In(u))
	}
	return steps(v, view)
}

// screwBore is the diameter of the structural screws, m: 5/16 in.
const screwBore = 0.008

// steps fills in the steps of the installation, with what is done of them.
func steps(v *ui.Visit, view *View) error {
	all, err := buildplan.Build(v.Doc(), &v.Heater.Layout)
	if err != nil {
		return err
	}
	kept, err := v.Store.Steps(v.Ctx(), v.State.Heater)
	if err != nil {
		return err
	}
	for i := range all {
		s := &all[i]
		if !s.Installs() {
			continue
		}
		x := StepView{Title: s.Title, URL: v.F.StationURL("build", "step", s.ID)}
		for _, k := range kept {
			if k.Step == s.ID {
				x.Done = units.Time(k.At(), "2 Jan", v.F.Units)
			}
		}
		for _, t := range s.Do {
			x.Do = append(x.Do, t.In(v.F.Units))
		}
		view.Steps = append(view.Steps, x)
	}
	return nil
}

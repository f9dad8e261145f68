// Package safety is the page of all cautions that a heater calls for, each with the parts that call for it.
package safety

import (
	"embed"
	"html/template"
	"slices"

	"gladember/core/design"

	"gladember/app/drawing"
	"gladember/app/web/ui"
	"gladember/core/advice"
	"gladember/core/layout"
)

//go:embed *.html
var templates embed.FS

// New returns the page, which is not in the list of stations.
func New() *ui.Station {
	return &ui.Station{Key: "safety", Name: "Safety", Templates: templates, Topics: []advice.Topic{}, Quiet: true, Open: open}
}

// View is the center of the page.
type View struct {
	Apart  *ui.Chart
	Groups []Group
}

// Group is cautions under a heading.
type Group struct {
	Title string
	Lines []Line
}

// Line is one caution.
type Line struct {
	Part, Text string
	Letters    []Letter
}

// Letter is a part that calls for a caution.
type Letter struct{ Letter, URL string }

// drawingWidth is that of the box taken apart, pixels.
const drawingWidth = 300

// open fills the frame.
func open(v *ui.Visit) error {
	f := v.F
	view := &View{}
	f.View = view
	f.Fields("Room and building", design.RoomFlued, design.SiteChildren, design.SiteRented, design.SiteOldPaint)
	f.Fields("Loads", design.SiteGust, design.SiteSnow)
	var parts []layout.Part
	if v.Heater.Misfit == nil {
		parts = v.Heater.Layout.Cut()
	}
	url := func(letter string) string { return f.StationURL("cut", "part", letter) + "#card" }
	marked := []string{}
	for _, g := range advice.Safety(&v.Heater.Eval) {
		x := Group{Title: g.Title}
		for _, c := range g.Cautions {
			line := Line{Part: ui.Capital(c.Part), Text: c.Text.In(f.Units)}
			for _, p := range parts {
				if slices.Contains(c.Kinds, p.Kind) {
					line.Letters = append(line.Letters, Letter{p.Letter, url(p.Letter)})
					marked = append(marked, p.Letter)
				}
			}
			x.Lines = append(x.Lines, line)
		}
		if x.Lines != nil {
			view.Groups = append(view.Groups, x)
		}
	}
	if len(parts) > 0 {
		l := &v.Heater.Layout
		c := ui.Draw(func(w float64) template.HTML { return drawing.Exploded(l, url, marked, min(w, drawingWidth)) })
		view.Apart = &c
	}
	return nil
}

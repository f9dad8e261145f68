// Package cut is the station of the cut list: every piece at its size, and where holes are drilled.
package cut

import (
	"embed"
	"fmt"
	"html/template"
	"strings"

	"gladember/app/drawing"
	"gladember/app/store"
	"gladember/app/web/ui"
	"gladember/core/advice"
	"gladember/core/layout"
	"gladember/core/units"
)

//go:embed *.html
var templates embed.FS

// New returns the station.
func New() *ui.Station {
	return &ui.Station{
		Key: "cut", Name: "Cut", Group: ui.Build, Templates: templates, Topics: []advice.Topic{advice.Cutting}, Quiet: true, Open: open,
		Rung: rung, Routes: routes, Fresh: true,
	}
}

// View is the center of the station.
type View struct {
	Front   template.HTML
	Apart   ui.Chart // the box taken apart
	PlanURL string   // where the cutting plan is computed
	PDF     string   // where the shop drawings are
	Groups  []Group
	Holes   []HoleRow
	Misfit  string
	Count   string
	Mass    string
	Header  string // where the header boards are drilled
	Notes   []string
}

// Group is the parts cut from one material.
type Group struct {
	Material string
	Parts    []PartRow
}

// PartRow is one row of the cut list.
type PartRow struct {
	Letter, Name             string
	Count                    int
	Length, Width, Thickness string
	Joint, Note              string
	Drawing                  *ui.Chart // of a part with holes; nil for others
	Done                     int       // how many are cut
	Conflicts                []Conflict
	TickURL                  string
	TickVals, BackVals       string // mark one more, or one less
}

// Conflict is what is cut to a size that its part does not have any more.
type Conflict struct{ Text, Vals string }

// HoleRow is a hole with its center.
type HoleRow struct{ Name, Diameter, X, Y, Through string }

// rung is the cut list's line on the ladder.
func rung(v *ui.Visit) (string, bool, error) {
	if v.Heater.Misfit != nil {
		return "the parts do not fit together", false, nil
	}
	return ui.Count(pieces(v), "piece", "pieces", v.F.Units), v.Decided("box.frame_width_m", "pane.rest_m", "box.board_m"), nil
}

// pieces counts what is cut.
func pieces(v *ui.Visit) (n int) {
	for _, p := range v.Heater.Layout.Cut() {
		n += p.Count
	}
	return n
}

// planWidth is the width of the drawing beside the list, pixels.
const planWidth = 240

// open fills the frame.
func open(v *ui.Visit) error {
	f := v.F
	view := &View{}
	f.View = view
	f.Panel("Sizes to cut to", "pane.width_m", "pane.height_m", "pane.rest_m", "box.frame_width_m", "box.edge_foam_m", "box.back_foam_m",
		"box.board_m")
	if v.Heater.Misfit != nil {
		view.Misfit = ui.Misfit(v.Heater.Misfit, f.Units)
		return nil
	}
	l := &v.Heater.Layout
	view.Front = v.Scene("", func(g layout.Group) drawing.Link {
		if g == layout.Back {
			g = layout.Foam
		}
		return drawing.Link{To: f.StationURL("box", "part", string(g))}
	}).Front(planWidth)
	view.PlanURL, view.PDF = f.StationURL("cut/plan"), f.StationURL("cut/drawings.pdf")
	view.Apart = ui.Draw(func(w float64) template.HTML {
		return drawing.Exploded(l, func(letter string) string { return "#part-" + letter }, w)
	})
	view.Count, view.Mass = ui.Count(pieces(v), "piece", "pieces", f.Units), units.Format(units.Mass, l.Mass(), f.Units)
	cut, err := v.Store.CutPieces(v.Ctx(), v.State.Heater)
	if err != nil {
		return err
	}
	view.groups(l, f, cut)
	view.notes(v)
	view.holes(l, f.Units)
	return nil
}

// groups sorts the parts by material.
func (view *View) groups(l *layout.Layout, f *ui.Frame, cut []store.CutPiece) {
	u := f.Units
	at := map[string]int{}
	fm := func(m float64) string { return units.Format(units.Length, m, u) }
	parts := l.Cut()
	for k := range parts {
		p := &parts[k]
		i, ok := at[p.Material]
		if !ok {
			i = len(view.Groups)
			at[p.Material] = i
			view.Groups = append(view.Groups, Group{Material: p.Material})
		}
		view.Groups[i].Parts = append(view.Groups[i].Parts, PartRow{
			Letter: p.Letter, Name: p.Name, Count: p.Count, Length: fm(p.Length), Width: fm(p.Width), Thickness: fm(p.Thickness),
			Joint: ui.Capital(p.Joint), Note: layout.Words(p.Note, u),
		})
		rows := view.Groups[i].Parts
		row := &rows[len(rows)-1]
		row.ticked(cut, p, f)
		if len(p.Bores) > 0 { // a plain rectangle needs no drawing
			c := ui.Draw(func(w float64) template.HTML { return drawing.Part(p, u, w) })
			row.Drawing = &c
		}
	}
}

// notes say what the list holds besides.
func (view *View) notes(v *ui.Visit) {
	h, l := v.Doc(), &v.Heater.Layout
	if n := h.Array.Boxes; n > 1 && !h.Indoors() {
		text := fmt.Sprintf("These are the pieces of %d boxes; the drawing shows one of them.", n)
		if len(l.Others) > 0 {
			text = fmt.Sprintf("These are the pieces of %d boxes; the drawing shows the first kind, of which there are %d. The pieces "+
				"of the other kinds carry their letter.", n, l.Boxes)
		}
		view.Notes = append(view.Notes, text)
	}
	for _, n := range l.Notes {
		view.Notes = append(view.Notes, layout.Words(n, v.F.Units))
	}
}

// holes say where to drill.
func (view *View) holes(l *layout.Layout, u units.System) {
	fm := func(m float64) string { return units.Format(units.Length, m, u) }
	for _, x := range l.Holes {
		row := HoleRow{x.Name, units.Format(units.Bore, x.Diameter, u), fm(x.X), fm(x.Y), "through " + strings.Join(x.Through, ", ")}
		switch x.Face {
		case layout.ThroughBack:
		case layout.ThroughLeft, layout.ThroughRight:
			row.X, row.Through = "–", fmt.Sprintf("through the %s side, %s behind the board's front edge", x.Face, fm(x.Z))
		default:
			row.Y, row.Through = "–", fmt.Sprintf("through the %s, %s behind the board's front edge", x.Face, fm(x.Z))
		}
		view.Holes = append(view.Holes, row)
	}
	hs := l.HeaderHoles
	if len(hs) < 2 {
		return
	}
	var at []string
	for _, x := range hs {
		at = append(at, units.Figure(units.Length, x.X, u))
	}
	view.Header = fmt.Sprintf("Drill %d holes of %s in each header board, centered %s from its front edge. Distance of their centers "+
		"from the left end: %s %s.",
		len(hs), fm(hs[0].Diameter), fm(hs[0].Y), strings.Join(at, ", "), u.Unit(units.Length))
}

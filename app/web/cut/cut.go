// Package cut is the station of the cut list: every piece at its size, where holes are drilled, and how the pieces come out of
// bars and sheets.
package cut

import (
	"embed"
	"fmt"
	"html/template"
	"strings"

	"github.com/labstack/echo/v5"

	"gladember/app/drawing"
	"gladember/app/service"
	"gladember/app/store"
	"gladember/app/web/ui"
	"gladember/core/advice"
	"gladember/core/cutting"
	"gladember/core/design"
	"gladember/core/layout"
	"gladember/core/units"
)

//go:embed *.html
var templates embed.FS

// New returns the station.
func New() *ui.Station {
	var st station
	s := &ui.Station{
		Key: "cut", Name: "Cut", Group: ui.Build, Templates: templates, Topics: []advice.Topic{advice.Cutting}, Quiet: true,
		Summary: summary, Fresh: true,
	}
	s.Routes = func(sv *ui.Server, g *echo.Group) {
		st = station{sv, service.NewCache[*computed](remembered).AtOnce(plansAtOnce)}
		sv.Trims(st.plans)
		st.routes(g)
	}
	s.Open = func(v *ui.Visit) error { return st.open(v) }
	return s
}

// View is the center of the station.
type View struct {
	Apart    ui.Chart // the box taken apart
	Card     *Card    // the part that was chosen; nil for none
	PlanURL  string   // where the cutting plan is computed
	PDF      string   // where the shop drawings are
	ShopURL  string   // one cut a screen
	Groups   []Group
	Holes    []HoleRow
	Misfit   string
	Count    string
	Mass     string
	Diagonal string
	Header   string // where the header boards are drilled
	Notes    []string
}

// Card is one part: its drawing, its joint, why it has its size, and where it comes from.
type Card struct {
	PartRow
	Material string
	Drawing  ui.Chart
	Why      []string
	From     []string
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
	URL                      string    // its card
	Drawing                  *ui.Chart // of a part with holes; nil for others
	Done                     int       // how many are cut
	Conflicts                []Conflict
	TickURL                  string
	TickVals, BackVals       string // mark one more, or one less
	Real, Error              string // a size that was entered, and what is wrong with it
}

// HoleRow is a hole with its center.
type HoleRow struct{ Name, Diameter, X, Y, Through string }

// summary is the cut list's line in the list of stations.
func summary(v *ui.Visit) (string, bool, error) {
	if v.Heater.Misfit != nil {
		return "the parts do not fit together", false, nil
	}
	cut, err := v.Store.CutPieces(v.Ctx(), v.State.Heater)
	if err != nil {
		return "", false, err
	}
	n, done := 0, 0
	parts := v.Heater.Layout.Cut()
	for i := range parts {
		n += parts[i].Count
		for k := range cut {
			if service.IsSize(&cut[k], &parts[i]) {
				done += min(cut[k].Done, parts[i].Count)
			}
		}
	}
	line := ui.Count(n, "piece", "pieces", v.F.Units)
	if done > 0 {
		line = fmt.Sprintf("%d of %s cut", done, line)
	}
	return line, done > 0 || v.Decided(design.BoxFrameWidth, design.PaneRest, design.BoxBoard, design.CutKerf, design.CutSold), nil
}

// open fills the frame.
func (sv station) open(v *ui.Visit) error {
	f := v.F
	view := &View{}
	f.View = view
	f.Fields("Sizes to cut to", design.PaneWidth, design.PaneHeight, design.PaneRest, design.BoxFrameWidth, design.BoxEdgeFoam,
		design.BoxBackFoam,
		design.BoxBoard, design.BoxBrake)
	f.Panel(design.SawGroup)
	if v.Heater.Misfit != nil {
		view.Misfit = ui.Misfit(v.Heater.Misfit, f.Units)
		return nil
	}
	l := &v.Heater.Layout
	chosen := partOf(v.C)
	f.Carry("part", chosen)
	view.PlanURL, view.PDF, view.ShopURL = f.StationURL("cut/plan"), f.StationURL("cut/drawings.pdf"), f.StationURL("cut/shop")
	view.Apart = ui.Draw(func(w float64) template.HTML {
		return drawing.Exploded(l, func(letter string) string { return cardURL(f, letter) }, []string{chosen}, min(w, apartWidth))
	})
	view.Mass, view.Diagonal = units.Format(units.Mass, l.Mass(), f.Units), units.Format(units.Length, l.Diagonal, f.Units)
	n := 0
	for _, p := range l.Cut() {
		n += p.Count
	}
	view.Count = ui.Count(n, "piece", "pieces", f.Units)
	cut, err := v.Store.CutPieces(v.Ctx(), v.State.Heater)
	if err != nil {
		return err
	}
	view.groups(v, cut)
	view.notes(v)
	view.holes(l, f.Units)
	if chosen != "" {
		return sv.card(v, view, chosen)
	}
	return nil
}

// partOf is the letter of the part that a request asks for.
func partOf(c *echo.Context) string {
	p := c.FormValue("part")
	if len(p) > 3 || strings.ToUpper(p) != p {
		return "" // an ID, as marks send it
	}
	return p
}

// cardURL is where a part is shown by its letter.
func cardURL(f *ui.Frame, letter string) string { return f.StationURL("cut", "part", letter) + "#card" }

// card fills in the part that was chosen.
func (sv station) card(v *ui.Visit, view *View, letter string) error {
	f := v.F
	for _, g := range view.Groups {
		for _, row := range g.Parts {
			if row.Letter == letter {
				row.Note = ui.Capital(row.Note)
				view.Card = &Card{PartRow: row, Material: ui.Capital(g.Material)}
			}
		}
	}
	if view.Card == nil {
		return nil
	}
	id := ""
	for _, p := range v.Heater.Layout.Cut() {
		if p.Letter == letter {
			id = p.ID
			view.Card.Drawing = ui.Draw(func(w float64) template.HTML { return drawing.Part(&p, f.Units, min(w, cardWidth)) })
		}
	}
	why, err := layout.Explain(v.Doc())
	if err != nil {
		return err
	}
	for _, side := range []struct {
		name, total string
		terms       []layout.Term
		rest        float64
	}{{"Length", view.Card.Length, why[id].Length, why[id].LengthAllowance}, {"Width", view.Card.Width, why[id].Width,
		why[id].WidthAllowance}} {
		if text := because(side.terms, side.rest, f.Units); text != "" {
			view.Card.Why = append(view.Card.Why, fmt.Sprintf("%s %s = %s.", side.name, side.total, text))
		}
	}
	p, err := sv.planFor(v)
	if err != nil {
		return ui.Uncomputed(err)
	}
	for i := range p.materials {
		view.Card.From = append(view.Card.From, whence(&p.materials[i], letter, f.Units)...)
	}
	return nil
}

// Widths of the box taken apart and of the drawing of one part, pixels: as wide as their columns.
const (
	apartWidth = 410
	cardWidth  = 290
)

// because writes what makes up a size; empty where no field does.
func because(terms []layout.Term, rest float64, u units.System) string {
	var b strings.Builder
	for _, t := range terms {
		sign, times := " + ", ""
		k := t.Times
		if k < 0 {
			sign, k = " − ", -k
		}
		if b.Len() == 0 {
			sign = strings.TrimPrefix(strings.TrimSpace(sign), "+")
		}
		if k != 1 {
			times = fmt.Sprintf("%g × ", k)
		}
		fmt.Fprintf(&b, "%s%s%s %s", sign, times, ui.Lower(design.FieldAt(t.Path).Label), units.Figure(units.Length, t.Value, u))
	}
	const seen = 0.0003
	switch {
	case b.Len() == 0:
	case rest > seen:
		fmt.Fprintf(&b, " + %s for joints and clearances", units.Figure(units.Length, rest, u))
	case rest < -seen:
		fmt.Fprintf(&b, " − %s for joints and clearances", units.Figure(units.Length, -rest, u))
	}
	return b.String()
}

// whence says from which bars and sheets of a material a part is cut.
func whence(m *cutting.MaterialPlan, letter string, u units.System) (out []string) {
	at := map[int]int{}
	n := 0
	count := func(i int, name string) {
		if name == letter {
			if at[i] == 0 {
				n = max(n, i+1)
			}
			at[i]++
		}
	}
	word := "bar"
	if m.Bars != nil {
		for i, c := range m.Bars.Bars {
			for _, x := range c.Pieces {
				count(i, m.Parts[x.Piece])
			}
		}
	} else {
		word = "sheet"
		for i, c := range m.Sheets.Sheets {
			for _, x := range c.Panels {
				if x.Panel >= 0 {
					count(i, m.Parts[x.Panel])
				}
			}
		}
	}
	for i := range n {
		if at[i] > 0 {
			out = append(out, fmt.Sprintf("%d from %s %d of %s", at[i], word, i+1, materialName(m, u)))
		}
	}
	return out
}

// groups sorts the parts by material.
func (view *View) groups(v *ui.Visit, cut []store.CutPiece) {
	u := v.F.Units
	at := map[string]int{}
	fm := func(m float64) string { return units.Format(units.Length, m, u) }
	parts := v.Heater.Layout.Cut()
	for k := range parts {
		p := &parts[k]
		i, ok := at[p.Material]
		if !ok {
			i = len(view.Groups)
			at[p.Material] = i
			view.Groups = append(view.Groups, Group{Material: p.Material})
		}
		row := PartRow{
			Letter: p.Letter, Name: p.Name, Count: p.Count, Length: fm(p.Length), Width: fm(p.Width), Thickness: fm(p.Thickness),
			Joint: ui.Capital(layout.Words(p.Joint, u)), Note: layout.Words(p.Note, u), URL: cardURL(v.F, p.Letter),
		}
		if p.Thickness == 0 {
			row.Thickness = "–"
		}
		row.ticked(v, cut, p)
		if len(p.Bores) > 0 { // a plain rectangle needs no drawing
			c := ui.Draw(func(w float64) template.HTML { return drawing.Part(p, u, w) })
			row.Drawing = &c
		}
		view.Groups[i].Parts = append(view.Groups[i].Parts, row)
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
		row := HoleRow{x.Name, units.Format(units.Bore, x.Diameter, u), fm(x.X), fm(x.Y),
			"through " + strings.Join(l.Named(x.Through), ", ")}
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

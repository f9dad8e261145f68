// Package stock is the station of the materials on hand: what there is, which boxes it makes, and the search for the
// best of them.
package stock

import (
	"embed"
	"fmt"
	"html/template"
	"sort"
	"strconv"

	"gladember/app/drawing"
	"gladember/app/web/ui"
	"gladember/core/advice"
	"gladember/core/climate"
	"gladember/core/collector"
	"gladember/core/design"
	"gladember/core/sizing"
	"gladember/core/space"
	"gladember/core/units"
)

//go:embed *.html
var templates embed.FS

// New returns the station.
func New() *ui.Station {
	return &ui.Station{
		Key: "stock", Name: "Materials", Group: ui.Design, Templates: templates, Topics: []advice.Topic{advice.Materials}, Quiet: true,
		Open: open, Summary: summary, Routes: routes,
	}
}

// View is the center of the station.
type View struct {
	Things     []ThingRow
	Groups     []ThingGroup
	Conditions []string
	Draft      Draft
	Error      string
	AddURL     string
	TestURL    string
	Ranked     []RankedBox
	TakeURL    string
	SizeURL    string
	Budget     string
	Rule       string
	Lacks      string // what a search through the year still needs
	Verdict    string // of the test of a pane
}

// ThingRow is an item on hand.
type ThingRow struct {
	ID                         int64
	Name, Size, Count, Worth   string
	Condition                  string
	Pane, Doubtful, Collecting bool
	DropURL, MoreURL           string
}

// ThingGroup is a kind of material with what it may be.
type ThingGroup struct {
	Name    string
	Choices []ui.ChoiceView
}

// RankedBox is a box that the materials make.
type RankedBox struct {
	Name, Heat, Area, Short string
	Warn                    string // its worst danger or fault
	Picture                 template.HTML
	Vals                    string
}

// summary is the materials' line in the list of stations.
func summary(v *ui.Visit) (string, bool, error) {
	items, err := v.Store.Stock(v.Ctx())
	if err != nil {
		return "", false, err
	}
	panes := 0
	for _, it := range items {
		if it.Kind == string(sizing.PaneThing) {
			panes++
		}
	}
	if len(items) == 0 {
		return "no items yet", false, nil
	}
	line := ui.Count(len(items), "item", "items", v.F.Units)
	if len(items) > 1 {
		line += fmt.Sprintf(", %d for glazing", panes)
	}
	return line, true, nil
}

// open fills the frame.
func open(v *ui.Visit) error {
	things, ids, err := v.Stock(v.Ctx())
	if err != nil {
		return err
	}
	f := v.F
	view := &View{
		AddURL: f.StationURL("stock/add"), TestURL: f.StationURL("stock/test"), TakeURL: f.StationURL("stock/take"),
		SizeURL: f.StationURL("stock/size"),
		Budget:  v.C.FormValue("budget"), Conditions: sizing.Conditions, Draft: Draft{What: "pane:glass", Count: "1",
			Condition: sizing.Conditions[0]},
		Rule: units.Format(units.Area, space.RuleOfThumb(v.Doc().Room.Floor), f.Units),
	}
	f.View = view
	for i := range things {
		view.Things = append(view.Things, thingRow(f, &things[i], ids[i]))
	}
	view.choices()
	if len(things) > 0 {
		if err := rank(v, view, things); err != nil {
			return err
		}
	}
	if err := climate.Lacks(v.Doc()); err != nil && v.Doc().Climate.File == "" {
		view.Lacks = err.Error()
	}
	return nil
}

// thingRow writes an item in the person's units.
func thingRow(f *ui.Frame, t *sizing.Thing, number int64) ThingRow {
	row := ThingRow{
		ID: number, Name: t.Words(), Count: ui.Whole(float64(t.Count), f.Units), Condition: t.Condition,
		Pane: t.Kind == sizing.PaneThing, Doubtful: t.Condition == sizing.Doubtful, Size: sizeOf(t, f.Units, " × "),
		DropURL: f.StationURL("stock/" + ui.ID(number) + "/drop"), MoreURL: f.StationURL("stock/" + ui.ID(number) + "/more"),
	}
	if t.Thickness > 0 {
		row.Size += ", " + units.Format(units.Length, t.Thickness, f.Units)
	}
	if s := t.Collected(); s != "" {
		row.Count, row.Collecting = s, true
	}
	row.Worth = f.Sum(t.Price, 2)
	if t.Price == 0 {
		row.Worth = "free"
		if t.Resale > 0 {
			row.Worth += ", resale value " + f.Sum(t.Resale, 2)
		}
	}
	return row
}

// sizeOf writes a sheet's two lengths, or the one of a board or pipe.
func sizeOf(t *sizing.Thing, u units.System, by string) string {
	switch {
	case t.Width > 0:
		return units.Figure(units.Length, t.Width, u) + by + units.Format(units.Length, t.Height, u)
	case t.Height > 0:
		return units.Format(units.Distance, t.Height, u)
	}
	return ""
}

// choices lists the kinds of material; the draft's is chosen.
func (v *View) choices() {
	v.Groups = nil
	for _, k := range sizing.Kinds {
		g := ThingGroup{Name: k.Name}
		if k.Of == nil {
			id := string(k.ID) + ":"
			g.Choices = []ui.ChoiceView{{ID: id, Name: k.Name, Chosen: id == v.Draft.What}}
		} else {
			for _, x := range k.Of() {
				id := string(k.ID) + ":" + x.ID
				g.Choices = append(g.Choices, ui.ChoiceView{ID: id, Name: x.Name, Chosen: id == v.Draft.What})
			}
		}
		v.Groups = append(v.Groups, g)
	}
}

// ranked is how many boxes are shown.
const ranked = 6

// rank computes the boxes of the stock at the clear noon, and shows the best.
func rank(v *ui.Visit, view *View, things []sizing.Thing) error {
	f := v.F
	u := f.Units
	s := sizing.CollectStock(things, 0)
	if s.Check() != nil {
		return nil // there is no pane among them yet
	}
	type rated struct {
		sizing.Ranked
		heat float64
	}
	var boxes []rated
	for _, b := range sizing.Boxes(*v.Doc(), &s) {
		d, err := collector.Describe(&b.Heater)
		if err != nil {
			continue
		}
		noon := collector.ConditionsAt(&b.Heater, collector.WinterNoon(&b.Heater))
		if r, err := d.Rate(noon, collector.Tuning{}, nil); err == nil {
			boxes = append(boxes, rated{b, r.Warms()})
		}
	}
	sort.SliceStable(boxes, func(i, j int) bool { return boxes[i].heat > boxes[j].heat })
	for _, b := range boxes[:min(ranked, len(boxes))] {
		x := RankedBox{
			Name: b.Heater.MadeAs(), Heat: units.Format(units.Power, b.heat, u), Picture: drawing.FamilyPicture(b.Family),
			Area: units.Figure(units.Length, b.Pane.Width, u) + " × " + units.Format(units.Length, b.Pane.Height, u),
			Vals: f.Vals("", boxVals(&b.Ranked)),
		}
		const enough = 0.005 // m2
		if b.Short > enough {
			x.Short = "material for " + units.Format(units.Area, b.Short, u) + " is still missing"
		}
		e, err := v.Evaluate(v.Ctx(), &b.Heater)
		if v.Ctx().Err() != nil {
			return err
		}
		if err == nil && len(e.Findings) > 0 && e.Findings[0].Severity <= advice.Fault {
			x.Warn = e.Findings[0].Severity.String() + ": " + e.Findings[0].Title
		}
		view.Ranked = append(view.Ranked, x)
	}
	sort.SliceStable(view.Ranked, func(i, j int) bool { return view.Ranked[i].Warn == "" && view.Ranked[j].Warn != "" })
	return nil
}

// boxVals name a box of the stock.
func boxVals(b *sizing.Ranked) map[string]string {
	exact := func(v float64) string { return strconv.FormatFloat(v, 'g', -1, 64) }
	return map[string]string{"family": string(b.Family), "width": exact(b.Pane.Width), "height": exact(b.Pane.Height),
		"cover": b.Pane.Material}
}

// changesOf are those that make a heater the box of these values; nil where it is no longer in the stock.
func changesOf(h design.Heater, s *sizing.Stock, named func(string) string) []design.Change {
	for _, b := range sizing.Boxes(h, s) {
		same := true
		for k, v := range boxVals(&b) {
			same = same && named(k) == v
		}
		if same {
			return b.Changes
		}
	}
	return nil
}

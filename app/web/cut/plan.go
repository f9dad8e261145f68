package cut

import (
	"bytes"
	"context"
	"encoding/json"
	"fmt"
	"html/template"
	"net/http"
	"strings"

	"github.com/labstack/echo/v5"

	"gladember/app/drawing"
	"gladember/app/service"
	"gladember/app/store"
	"gladember/app/web/ui"
	"gladember/core/catalog"
	"gladember/core/cost"
	"gladember/core/cutting"
	"gladember/core/layout"
	"gladember/core/sizing"
	"gladember/core/units"
)

// PlanView is how the parts come out of bars and sheets.
type PlanView struct {
	Materials []MaterialRow
	Kerf      string // of the saw
	Offcuts   []string
	OffURL    string // where the offcuts are put on hand
	OffVals   string
}

// MaterialRow is one material with its drawing.
type MaterialRow struct {
	Name   string // with the section of a board or the thickness of a sheet
	Buy    string // what must be bought, in words
	Note   string // how near to the best it is, or what does not come out
	Splits []string
	Chart  ui.Chart
	Steps  []string // the cuts of sheets, in their order
	Stops  []string // the lengths of bars, each with its pieces
}

// computed is a plan with what is kept of it.
type computed struct {
	materials []cutting.MaterialPlan
	record    cutting.Record
}

// station are the handlers.
type station struct {
	*ui.Server
	plans *service.Cache[*computed]
}

// remembered is how many plans are kept.
const remembered = 32

// plansAtOnce is how many are made at a time, so that pages are answered meanwhile.
const plansAtOnce = 2

func (sv station) routes(g *echo.Group) {
	g.GET("/plan", sv.plan)
	g.GET("/drawings.pdf", sv.print)
	g.POST("/tick", sv.tick)
	g.POST("/offcuts", sv.offcuts)
	g.GET("/shop", sv.shop)
	g.POST("/shop", sv.shopped)
}

// opened is the heater with its layout; fits is false where its parts do not fit together, or it cannot be computed.
func (sv station) opened(c *echo.Context) (v *ui.Visit, fits bool, err error) {
	st, err := sv.Current(c)
	if err != nil {
		return nil, false, err
	}
	if v, err = sv.Visit(c, st, "cut"); err != nil {
		return nil, false, err
	}
	return v, v.Heater != nil && v.Heater.Misfit == nil, nil
}

// print sends the shop drawings and templates as one PDF: on Letter paper where lengths are in inches, else on A4.
func (sv station) print(c *echo.Context) error {
	v, fits, err := sv.opened(c)
	if err != nil {
		return err
	}
	if !fits {
		return echo.NewHTTPError(http.StatusNotFound, "These parts do not fit together, so there is nothing to print yet.")
	}
	paper := drawing.A4
	if v.F.Units.Inches {
		paper = drawing.Letter
	}
	done, err := sv.Turn(v.Ctx())
	if err != nil {
		return err
	}
	defer done()
	l := &v.Heater.Layout
	var b bytes.Buffer
	if err := drawing.ShopPDF(&b, l, v.F.Units, paper, v.Doc().Name); err != nil {
		return ui.Uncomputed(err)
	}
	c.Response().Header().Set("Content-Disposition", `attachment; filename="drawings.pdf"`)
	return c.Blob(http.StatusOK, "application/pdf", b.Bytes())
}

// plan computes the cutting plan.
func (sv station) plan(c *echo.Context) error {
	v, fits, err := sv.opened(c)
	if err != nil {
		return err
	}
	if !fits {
		return c.Render(http.StatusOK, "cut-plan", &PlanView{})
	}
	p, err := sv.planFor(v)
	if err != nil {
		return ui.Uncomputed(err)
	}
	return c.Render(http.StatusOK, "cut-plan", p.view(v.F, v.Doc().Workshop.Cut.Kerf))
}

// marks are what is cut of a heater: the pieces, and the plan they were marked in.
func (sv station) marks(ctx context.Context, heater int64) (cut []store.CutPiece, record string, err error) {
	if cut, err = sv.Store.CutPieces(ctx, heater); err != nil {
		return nil, "", err
	}
	record, err = sv.Store.CutRecord(ctx, heater)
	return cut, record, err
}

// planFor is the plan of what is still to be cut, remembered.
func (sv station) planFor(v *ui.Visit) (*computed, error) {
	cut, record, err := sv.marks(v.Ctx(), v.State.Heater)
	if err != nil {
		return nil, err
	}
	things, _, err := sv.Stock(v.Ctx())
	if err != nil {
		return nil, err
	}
	prices, err := sv.Prices(v.Ctx())
	if err != nil {
		return nil, err
	}
	doc := v.Doc()
	return sv.plans.Get(v.Ctx(), service.KeyOfPage(doc, v.F.Units, things, cut, record, prices), func() (*computed, error) {
		var before *cutting.Record
		if record != "" {
			before = &cutting.Record{}
			if err := json.Unmarshal([]byte(record), before); err != nil {
				return nil, fmt.Errorf("the cutting plan as stored: %w", err)
			}
		}
		rules := cutting.Rules{Kerf: doc.Workshop.Cut.Kerf, Trim: doc.Workshop.Cut.Trim, Limit: service.Patience}
		shop := cost.Priced(cutting.NewShop(&doc.Workshop.Cut, v.F.Units.Inches), prices)
		parts := service.Remaining(v.Heater.Layout.Cut(), cut)
		ms, err := cutting.Parts(v.Ctx(), parts, shop, cost.OnHand(things), rules, before)
		if err != nil {
			return nil, err
		}
		return &computed{ms, cutting.NewRecord(ms, before)}, nil
	})
}

// view puts a plan into words and draws it.
func (p *computed) view(f *ui.Frame, kerf float64) *PlanView {
	u := f.Units
	view := &PlanView{Kerf: units.Format(units.Length, kerf, u), OffURL: f.StationURL("cut/offcuts"), OffVals: f.Vals("", nil)}
	for i := range p.materials {
		view.Materials = append(view.Materials, rowOf(&p.materials[i], func(letter string) string { return cardURL(f, letter) }, u))
	}
	for _, o := range p.record.Offcuts(kerf) {
		view.Offcuts = append(view.Offcuts, fmt.Sprintf("%s × %s of %s", units.Figure(units.Length, o.Length, u),
			units.Format(units.Length, o.Width, u), o.Material))
	}
	return view
}

// rowOf puts one material's plan into words and draws it.
func rowOf(m *cutting.MaterialPlan, href func(letter string) string, u units.System) MaterialRow {
	fm := func(v float64) string { return units.Format(units.Length, v, u) }
	row := MaterialRow{Name: materialName(m, u)}
	missing, waste, proven := 0, 0.0, false
	if m.Bars != nil {
		row.Chart = ui.Draw(func(w float64) template.HTML { return drawing.Bars(m, u, href, w) })
		waste, proven = m.Bars.Waste, m.Bars.Proven
		for _, n := range m.Bars.Missing {
			missing += n
		}
		row.Stops = stops(m, u)
	} else {
		row.Chart = ui.Draw(func(w float64) template.HTML { return drawing.Sheets(m, u, href, w) })
		waste, proven = m.Sheets.Waste, m.Sheets.Proven
		for _, n := range m.Sheets.Missing {
			missing += n
		}
		row.Steps = steps(m, u)
	}
	names, counts := m.New()
	for i, n := range names {
		if i > 0 {
			row.Buy += ", "
		}
		row.Buy += fmt.Sprintf("%d of %s", counts[i], layout.Words(n, u))
	}
	if row.Buy == "" {
		row.Buy = "nothing: it comes from what is on hand or cut already"
	}
	row.Note = fmt.Sprintf("%s of the material becomes offcuts and sawdust.", units.Format(units.Share, waste, u))
	if proven {
		row.Note += " No plan takes less."
	}
	for _, s := range m.Splits {
		row.Splits = append(
			row.Splits,
			fmt.Sprintf("%s is longer than what is sold. Make it of %d equal pieces of %s, %s.", s.Letter, s.Count,
				fm(s.Each), layout.Words(s.Joint, u)),
		)
	}
	if missing > 0 {
		row.Note = fmt.Sprintf("%s too large for what is sold: buy a larger size, or use smaller glazing.",
			ui.Count(missing, "piece is", "pieces are", u))
	}
	return row
}

// materialName is a material with the section of a board or the thickness of a sheet.
func materialName(m *cutting.MaterialPlan, u units.System) string {
	fm := func(v float64) string { return units.Format(units.Length, v, u) }
	if m.Bars != nil {
		return fmt.Sprintf("%s, %s × %s", ui.Capital(m.Material), fm(m.Width), fm(m.Thickness))
	}
	return fmt.Sprintf("%s, %s", ui.Capital(m.Material), fm(m.Thickness))
}

// stops are the lengths that a stop on the saw is set to, the longest first, each with the pieces that are cut at it.
func stops(m *cutting.MaterialPlan, u units.System) (out []string) {
	type at struct {
		length  float64
		letters map[string]int
		order   []string
	}
	var all []*at
	for _, p := range m.BarJob.Pieces {
		var x *at
		for _, y := range all {
			if units.Format(units.Length, y.length, u) == units.Format(units.Length, p.Length, u) {
				x = y
			}
		}
		if x == nil {
			x = &at{length: p.Length, letters: map[string]int{}}
			all = append(all, x)
		}
		if x.letters[p.Name] == 0 {
			x.order = append(x.order, p.Name)
		}
		x.letters[p.Name] += p.Count
	}
	for _, x := range all {
		var names []string
		for _, n := range x.order {
			names = append(names, fmt.Sprintf("%d × %s", x.letters[n], n))
		}
		out = append(out, fmt.Sprintf("Stop at %s: %s.", units.Format(units.Length, x.length, u), strings.Join(names, ", ")))
	}
	return out
}

// sheetCut is a cut through a sheet in words: what is cut and which way, and how far from which edge.
func sheetCut(x *cutting.Saw, u units.System) (what, far, from string) {
	fm := func(v float64) string { return units.Format(units.Length, v, u) }
	what = fmt.Sprintf("%s × %s", fm(x.Of.W), fm(x.Of.H))
	if x.Along {
		return what + " along", fm(x.At - x.Of.X), "left edge"
	}
	return what + " across", fm(x.At - x.Of.Y), "bottom edge"
}

// steps are the cuts of sheets in their order. Cuts in a row with the fence at one distance are told together.
func steps(m *cutting.MaterialPlan, u units.System) (out []string) {
	for i := m.Opened; i < len(m.Sheets.Sheets); i++ {
		last := ""
		for n := range m.Sheets.Sheets[i].Cuts {
			what, far, from := sheetCut(&m.Sheets.Sheets[i].Cuts[n], u)
			if far == last {
				out = append(out, fmt.Sprintf("Sheet %d, cut %d: the piece of %s, with the fence as it is set.", i+1, n+1, what))
			} else {
				out = append(out, fmt.Sprintf("Sheet %d, cut %d: the piece of %s, %s from its %s.", i+1, n+1, what, far, from))
			}
			last = far
		}
	}
	return out
}

// offcuts lays what is left over among the materials on hand.
func (sv station) offcuts(c *echo.Context) error {
	v, fits, err := sv.opened(c)
	if err != nil {
		return err
	}
	if !fits {
		return sv.Answer(c, v.State, "These parts do not fit together, so there are no offcuts yet.")
	}
	done, err := sv.Alone(v.Ctx(), v.State.Heater)
	if err != nil {
		return err
	}
	defer done()
	p, err := sv.planFor(v)
	if err != nil {
		return ui.Uncomputed(err)
	}
	var items []store.Item
	for _, o := range p.record.Offcuts(v.Doc().Workshop.Cut.Kerf) {
		t := sizing.Thing{Kind: sizing.BarThing, Width: o.Width, Height: o.Length, Thickness: o.Thickness, Count: 1, Condition: "sound"}
		if !o.FromBar {
			if t.Kind, t.What = thingOf(o.Material); t.What == "" {
				continue // boards of wood are no kind that is kept
			}
		}
		b, err := json.Marshal(t)
		if err != nil {
			return err
		}
		items = append(items, store.Item{Kind: string(t.Kind), Item: string(b)})
	}
	b, err := json.Marshal(p.record.Unfinished())
	if err != nil {
		return err
	}
	if err := sv.Store.PutOffcuts(v.Ctx(), v.State.Heater, items, string(b)); err != nil {
		return err
	}
	notice := fmt.Sprintf("%s among the materials on hand.", ui.Count(len(items), "offcut is now", "offcuts are now", v.F.Units))
	return sv.Answer(c, v.State, notice)
}

// thingOf is the kind and the catalog's row of a sheet material.
func thingOf(material string) (sizing.Kind, string) {
	for _, x := range catalog.Insulations() {
		if f, err := catalog.FindInsulation(x.ID); err == nil && f.Name == material {
			return sizing.FoamThing, x.ID
		}
	}
	for _, x := range catalog.Sheets() {
		if f, err := catalog.FindSheet(x.ID); err == nil && f.Name == material {
			return sizing.SheetThing, x.ID
		}
	}
	return "", ""
}

package cut

import (
	"bytes"
	"context"
	"fmt"
	"html/template"
	"net/http"
	"time"

	"github.com/labstack/echo/v5"

	"gladember/app/drawing"
	"gladember/app/service"
	"gladember/app/store"
	"gladember/app/web/ui"
	"gladember/core/catalog"
	"gladember/core/cutting"
	"gladember/core/layout"
	"gladember/core/sizing"
	"gladember/core/units"
)

// PlanView is how the parts come out of bars and sheets.
type PlanView struct {
	Materials []MaterialRow
	Kerf      string // of the saw
}

// MaterialRow is one material with its drawing.
type MaterialRow struct {
	Name  string // with the section of a board or the thickness of a sheet
	Buy   string // what must be bought, in words
	Note  string // how near to the best it is, or what does not come out
	Chart ui.Chart
	Steps []string // the cuts of sheets, in their order
}

// station are the handlers.
type station struct {
	*ui.Server
	plans *service.Cache[*PlanView]
}

// remembered is how many plans are kept, and patience how long a material may be
// thought about.
const (
	remembered = 32
	patience   = 250 * time.Millisecond
)

func routes(sv *ui.Server, g *echo.Group) {
	s := station{sv, service.NewCache[*PlanView](remembered)}
	g.GET("/plan", s.plan)
	g.GET("/drawings.pdf", s.print)
	g.POST("/tick", s.tick)
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
	var b bytes.Buffer
	if err := drawing.PartsPDF(&b, v.Heater.Layout.Cut(), v.F.Units, paper, v.Doc().Name); err != nil {
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
	view := &PlanView{}
	if !fits {
		return c.Render(http.StatusOK, "cut-plan", view)
	}
	cut, err := sv.Store.CutPieces(v.Ctx(), v.State.Heater)
	if err != nil {
		return err
	}
	view, err = sv.planFor(v, cut)
	if err != nil {
		return ui.Uncomputed(err)
	}
	return c.Render(http.StatusOK, "cut-plan", view)
}

// planFor is the plan of what is still to be cut, remembered.
func (sv station) planFor(v *ui.Visit, cut []store.CutPiece) (*PlanView, error) {
	things, _, err := sv.Stock(v.Ctx())
	if err != nil {
		return nil, err
	}
	return sv.plans.Get(v.Ctx(), service.KeyOf(v.Doc(), v.F.Units, things, cut), func() (*PlanView, error) {
		return planned(v.Ctx(), remaining(v.Heater.Layout.Cut(), cut), onHand(things), v.F.Units)
	})
}

// onHand are the sheets among the materials on hand.
func onHand(things []sizing.Thing) (out []cutting.OnHand) {
	for i := range things {
		t := &things[i]
		if t.Count < 1 || t.Width <= 0 || t.Height <= 0 {
			continue
		}
		name := ""
		switch t.Kind {
		case sizing.FoamThing:
			if f, err := catalog.FindInsulation(t.What); err == nil {
				name = f.Name
			}
		case sizing.SheetThing:
			if f, err := catalog.FindSheet(t.What); err == nil {
				name = f.Name
			}
		}
		if name != "" {
			out = append(out, cutting.OnHand{Material: name, Thickness: t.Thickness, Width: t.Width, Height: t.Height, Count: t.Count})
		}
	}
	return out
}

// planned plans every material of the parts that are still to be cut, and draws it.
func planned(ctx context.Context, parts []layout.Part, hand []cutting.OnHand, u units.System) (*PlanView, error) {
	shop := cutting.Metric
	if u.Inches {
		shop = cutting.Imperial
	}
	ms, err := cutting.Parts(ctx, parts, shop, hand, cutting.Rules{Kerf: cutting.SawKerf, Limit: patience})
	if err != nil {
		return nil, err
	}
	view := &PlanView{Kerf: units.Format(units.Length, cutting.SawKerf, u)}
	for i := range ms {
		view.Materials = append(view.Materials, rowOf(&ms[i], u))
	}
	return view, nil
}

// rowOf puts one material's plan into words and draws it.
func rowOf(m *cutting.MaterialPlan, u units.System) MaterialRow {
	fm := func(v float64) string { return units.Format(units.Length, v, u) }
	row := MaterialRow{Name: fmt.Sprintf("%s, %s", ui.Capital(m.Material), fm(m.Thickness))}
	missing, waste, proven := 0, 0.0, false
	if m.Bars != nil {
		row.Name = fmt.Sprintf("%s, %s × %s", ui.Capital(m.Material), fm(m.Width), fm(m.Thickness))
		row.Chart = ui.Draw(func(w float64) template.HTML { return drawing.Bars(m, u, w) })
		waste, proven = m.Bars.Waste, m.Bars.Proven
		for _, n := range m.Bars.Missing {
			missing += n
		}
	} else {
		row.Chart = ui.Draw(func(w float64) template.HTML { return drawing.Sheets(m, u, w) })
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
		row.Buy = "nothing: it comes from what is on hand"
	}
	row.Note = fmt.Sprintf("%s of the material becomes offcuts and sawdust.", units.Format(units.Share, waste, u))
	if proven {
		row.Note += " No plan takes less."
	}
	if missing > 0 {
		row.Note = fmt.Sprintf("%s too large for what is sold: join it from smaller ones, or buy a larger size.",
			ui.Count(missing, "piece is", "pieces are", u))
	}
	return row
}

// steps are the cuts of sheets in their order.
func steps(m *cutting.MaterialPlan, u units.System) (out []string) {
	fm := func(v float64) string { return units.Format(units.Length, v, u) }
	for i, c := range m.Sheets.Sheets {
		for n, x := range c.Cuts {
			way, from := "across", fmt.Sprintf("%s from its bottom edge", fm(x.At-x.Of.Y))
			if x.Along {
				way, from = "along", fmt.Sprintf("%s from its left edge", fm(x.At-x.Of.X))
			}
			out = append(out, fmt.Sprintf("Sheet %d, cut %d: the piece of %s × %s %s, %s.", i+1, n+1, fm(x.Of.W), fm(x.Of.H), way, from))
		}
	}
	return out
}

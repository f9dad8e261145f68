// Package debates puts what builders disagree on, and what is often claimed, to the heater.
package debates

import (
	"embed"
	"net/http"
	"slices"
	"strconv"

	"github.com/labstack/echo/v5"

	"gladember/app/service"
	"gladember/app/web/ui"
	"gladember/core/advice"
	"gladember/core/design"
	"gladember/core/units"
)

//go:embed *.html
var templates embed.FS

// remembered is how many views are kept.
const remembered = 32

// viewsAtOnce is how many are computed at a time, so that other pages are answered meanwhile.
const viewsAtOnce = 2

// New returns the page.
func New() *ui.Station {
	views := service.NewCache[*View](remembered).AtOnce(viewsAtOnce)
	return &ui.Station{
		Key: "debates", Name: "Common debates", Templates: templates, Quiet: true,
		Routes: func(sv *ui.Server, g *echo.Group) { sv.Trims(views); routes(sv, g) },
		Open: func(v *ui.Visit) (err error) {
			v.F.View, err = views.Get(v.Ctx(), service.KeyOf(v.Doc(), design.Judged, v.F.Page.Units, v.F.Currency, v.F.ID),
				func() (*View, error) { return viewOf(v), nil })
			return err
		},
	}
}

// View is the center of the page.
type View struct {
	Claims    []ClaimRow
	Questions []QuestionRow
	TakeURL   string
	YearURL   string // where the debates are put to the year; empty once they have been
}

// ClaimRow is a claim with what the computation says.
type ClaimRow struct{ Claim, Holds, Says string }

// QuestionRow is a debate with each side's result.
type QuestionRow struct {
	Question string
	Sides    []SideRow
}

// SideRow is a side of it.
type SideRow struct {
	Name, Heat, Out, Hot, Useful, Saved, Vals string
	Harms                                     bool // it brings a danger or a fault
	Tie                                       bool // as good as the best, for all that can be told
}

// viewOf puts claims and debates to the heater, each by runs of its own.
func viewOf(v *ui.Visit) *View {
	view := &View{TakeURL: v.F.StationURL("debates/take"), Questions: questions(v.F, advice.Choices(&v.Heater.Eval))}
	for _, b := range advice.Beliefs(&v.Heater.Eval) {
		view.Claims = append(view.Claims, ClaimRow{b.Claim, b.Holds, b.Says.In(v.F.Units)})
	}
	if v.Doc().KnowsPlace() {
		view.YearURL = v.F.StationURL("debates/year")
	}
	return view
}

// questions are debates as the page shows them, those with the most at stake first.
func questions(f *ui.Frame, cs []advice.Choice) (rows []QuestionRow) {
	u := f.Units
	for _, q := range advice.ByStakes(cs) {
		row := QuestionRow{Question: q.Question}
		tied := q.Ties()
		for i, s := range q.Sides {
			x := SideRow{
				Name: units.Localize(s.Name, u), Heat: units.Format(units.Power, s.Heat, u), Out: units.Format(units.Temperature, s.Out, u),
				Hot: units.Format(units.Temperature, s.Hot, u), Useful: "–", Saved: "–", Harms: s.Harms, Tie: tied[i],
			}
			if s.HasYear {
				x.Useful, x.Saved = units.Format(units.Energy, s.Useful, u), f.Sum(s.Money, 0)
			}
			other := func(c design.Change) bool { return design.FieldAt(c.Path).Get(&f.State.Document) != c.Value }
			if slices.ContainsFunc(s.Patch, other) {
				x.Vals = f.Vals("", map[string]string{"question": q.ID, "side": strconv.Itoa(i)})
			}
			row.Sides = append(row.Sides, x)
		}
		rows = append(rows, row)
	}
	return rows
}

// station are the handlers.
type station struct{ *ui.Server }

func routes(sv *ui.Server, g *echo.Group) {
	s := station{sv}
	g.GET("/year", s.year)
	g.POST("/take", s.take)
}

// year puts the debates to the heater's year.
func (sv station) year(c *echo.Context) error {
	st, err := sv.Current(c)
	if err != nil {
		return err
	}
	v := sv.Begin(c, st, "debates")
	if v.Heater, err = sv.Evaluate(v.Ctx(), v.Doc()); err != nil {
		return ui.Uncomputed(err)
	}
	view := View{TakeURL: v.F.StationURL("debates/take")}
	y, err := sv.Year(v.Ctx(), v.Doc())
	if v.Ctx().Err() != nil {
		return err
	}
	var cs []advice.Choice
	if err != nil { // no year: the noon must do
		cs = advice.Choices(&v.Heater.Eval)
	} else if cs, err = y.Debates(v.Ctx(), &v.Heater.Eval); err != nil {
		return ui.Uncomputed(err)
	}
	view.Questions = questions(v.F, cs)
	return c.Render(http.StatusOK, "debates-questions", view)
}

// take builds this heater as one side of a debate would.
func (sv station) take(c *echo.Context) error {
	st, seen, err := sv.Changing(c)
	if err != nil {
		return err
	}
	e, err := sv.Evaluate(c.Request().Context(), &st.Document)
	if err != nil {
		return ui.Uncomputed(err)
	}
	i, _ := strconv.Atoi(c.FormValue("side"))
	for _, q := range advice.Disagreements(&e.Eval) {
		if q.ID == c.FormValue("question") && i >= 0 && i < len(q.Sides) && q.Sides[i].Patch != nil {
			return sv.Apply(c, st, seen, ui.Capital(units.Localize(q.Sides[i].Name, ui.NewPage(c, "").Units)), q.Sides[i].Patch)
		}
	}
	return sv.Answer(c, st, "That debate no longer applies to this heater.")
}

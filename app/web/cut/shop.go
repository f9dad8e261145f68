package cut

import (
	"fmt"
	"net/http"
	"slices"
	"strconv"
	"strings"

	"github.com/labstack/echo/v5"

	"gladember/app/service"
	"gladember/app/store"
	"gladember/app/web/ui"
	"gladember/core/cutting"
	"gladember/core/layout"
	"gladember/core/units"
)

// Step is one thing to do at the saw, and the parts of which a piece is then cut.
type Step struct {
	Key   string // tells it from others of the plan
	Head  string // from what
	Big   string // the figure to set
	Line  string
	Note  string
	Act   string
	parts []string // names, one for each piece
}

// ShopView is one cut on a screen of its own.
type ShopView struct {
	F      *ui.Frame
	Step   *Step
	At     int
	Left   string
	Last   string // the parts that the last step marked, a name for each piece
	Back   string
	URL    string
	Skip   string
	Notice string
}

// shopSteps are the cuts of a plan that are still to be made: bars piece by piece, sheets cut by cut.
func shopSteps(p *computed, parts []layout.Part, u units.System) (out []Step) {
	fm := func(v float64) string { return units.Format(units.Length, v, u) }
	name := func(letter string) string {
		for i := range parts {
			if parts[i].Letter == letter {
				return letter + " " + parts[i].Name
			}
		}
		return letter
	}
	for i := range p.materials {
		m := &p.materials[i]
		if m.Bars == nil {
			out = append(out, sheetSteps(m, name, u)...)
			continue
		}
		for k, c := range m.Bars.Bars {
			what := fm(m.BarJob.Stock[c.Stock].Length)
			if slices.ContainsFunc(m.Rests, func(r cutting.Rest) bool { return r.Stock == c.Stock }) {
				what = "the rest of an opened bar, " + what
			}
			for n, x := range c.Pieces {
				letter := m.Parts[x.Piece]
				out = append(out, Step{
					Key: fmt.Sprintf(
						"b%d.%d.%d",
						i,
						k,
						n,
					), Head: materialName(m, u), Big: fm(m.BarJob.Pieces[x.Piece].Length), Line: name(letter),
					Note: fmt.Sprintf("Piece %d of %d from bar %d: %s.", n+1, len(c.Pieces), k+1, what), Act: "Cut, next",
					parts: []string{m.IDs[x.Piece]},
				})
			}
		}
	}
	return out
}

// sheetSteps are the cuts of sheets in their order, and after the last one of a sheet the panels that it gave.
func sheetSteps(m *cutting.MaterialPlan, name func(string) string, u units.System) (out []Step) {
	for k, c := range m.Sheets.Sheets {
		sheet := fmt.Sprintf("%s · sheet %d", materialName(m, u), k+1)
		if k >= m.Opened { // of an opened sheet we do not know which cuts are made
			for n := range c.Cuts {
				what, far, from := sheetCut(&c.Cuts[n], u)
				out = append(out, Step{
					Key: fmt.Sprintf(
						"s%s.%d.%d",
						m.Material,
						k,
						n,
					), Head: sheet, Big: far, Line: fmt.Sprintf("Cut %d of %d, from its %s", n+1, len(c.Cuts), from),
					Note: fmt.Sprintf("The piece of %s.", what), Act: "Next",
				})
			}
		}
		step := Step{Key: fmt.Sprintf("p%s.%d", m.Material, k), Head: sheet, Act: "Mark as cut"}
		var letters []string
		for _, x := range c.Panels {
			if x.Panel >= 0 {
				step.parts = append(step.parts, m.IDs[x.Panel])
				letters = append(letters, name(m.Parts[x.Panel]))
			}
		}
		if len(step.parts) > 0 {
			step.Big, step.Line = fmt.Sprint(len(letters)), strings.Join(letters, ", ")
			step.Note = "Are these panels cut and right?"
			out = append(out, step)
		}
	}
	return out
}

// shop shows the next cut.
func (sv station) shop(c *echo.Context) error { return sv.shopAt(c, "", "") }

// shopAt shows the cut that a request asks for by its number, with what the last one marked.
func (sv station) shopAt(c *echo.Context, last, notice string) error {
	v, fits, err := sv.opened(c)
	if err != nil {
		return err
	}
	view := &ShopView{F: v.F, Last: last, Notice: notice, Back: v.F.StationURL("cut"), URL: v.F.StationURL("cut/shop")}
	if !fits {
		view.Notice = "These parts do not fit together, so there is nothing to cut yet."
		return c.Render(http.StatusOK, "shop.html", view)
	}
	p, err := sv.planFor(v)
	if err != nil {
		return ui.Uncomputed(err)
	}
	steps := shopSteps(p, v.Heater.Layout.Cut(), v.F.Units)
	if at, err := strconv.Atoi(c.FormValue("at")); err == nil {
		view.At = max(0, min(at, len(steps)-1))
	}
	if view.Last == "" {
		view.Last = c.FormValue("last")
	}
	if len(steps) > 0 {
		view.Step = &steps[view.At]
		pieces := 0
		for _, s := range steps {
			pieces += len(s.parts)
		}
		view.Left = ui.Count(pieces, "piece is", "pieces are", v.F.Units) + " still to be cut."
		if view.At+1 < len(steps) {
			view.Skip = v.F.StationURL("cut/shop", "at", strconv.Itoa(view.At+1))
		} else if view.At > 0 {
			view.Skip = v.F.StationURL("cut/shop")
		}
	}
	return c.Render(http.StatusOK, "shop.html", view)
}

// shopped does a step, or takes back what the last one marked, and goes to the next.
func (sv station) shopped(c *echo.Context) error {
	v, fits, err := sv.opened(c)
	if err != nil {
		return err
	}
	if !fits {
		return c.Redirect(http.StatusSeeOther, v.F.StationURL("cut"))
	}
	done, err := sv.Alone(v.Ctx(), v.State.Heater)
	if err != nil {
		return err
	}
	defer done()
	at, _ := strconv.Atoi(c.FormValue("at"))
	if c.FormValue("do") == "undo" {
		if err := sv.count(v, strings.Split(c.FormValue("last"), "|"), -1); err != nil {
			return err
		}
		return c.Redirect(http.StatusSeeOther, v.F.StationURL("cut/shop", "at", strconv.Itoa(at)))
	}
	p, err := sv.planFor(v)
	if err != nil {
		return ui.Uncomputed(err)
	}
	steps := shopSteps(p, v.Heater.Layout.Cut(), v.F.Units)
	i := slices.IndexFunc(steps, func(s Step) bool { return s.Key == c.FormValue("key") })
	if i < 0 || i != at { // the plan is another one by now
		return c.Redirect(http.StatusSeeOther, v.F.StationURL("cut/shop"))
	}
	s := steps[i]
	if len(s.parts) == 0 {
		return c.Redirect(http.StatusSeeOther, v.F.StationURL("cut/shop", "at", strconv.Itoa(i+1)))
	}
	if err := sv.count(v, s.parts, 1); err != nil {
		return err
	}
	// What was before this step in the plan was put off, and stands there still; the cuts of a sheet are gone with it.
	for i > 0 && strings.HasPrefix(s.Key, "p") && steps[i-1].Head == s.Head {
		i--
	}
	return c.Redirect(http.StatusSeeOther, v.F.StationURL("cut/shop", "at", strconv.Itoa(i), "last", strings.Join(s.parts, "|")))
}

// count marks a piece of each part named as cut, or takes it back.
func (sv station) count(v *ui.Visit, names []string, by int) error {
	cut, err := sv.Store.CutPieces(v.Ctx(), v.State.Heater)
	if err != nil {
		return err
	}
	more := map[string]int{}
	var pieces []store.CutPiece
	parts := v.Heater.Layout.Cut()
	for i := range parts {
		p := &parts[i]
		n := 0
		for _, name := range names {
			if name == p.ID {
				n += by
			}
		}
		if n == 0 {
			continue
		}
		x := store.CutPiece{Name: p.ID, Length: p.Length, Width: p.Width}
		for k := range cut {
			if service.IsSize(&cut[k], p) {
				x = cut[k]
			}
		}
		was := x.Done
		x.Done = max(0, min(p.Count, was+n))
		more[p.ID] = x.Done - was
		pieces = append(pieces, x)
	}
	if len(pieces) == 0 {
		return nil
	}
	return sv.mark(v, pieces, more)
}

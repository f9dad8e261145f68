// Package versions compares the versions of a heater: their drawings, what they give, and the choices in which they
// differ.
package versions

import (
	"embed"
	"errors"
	"fmt"
	"html/template"
	"net/http"
	"reflect"
	"slices"
	"strconv"

	"github.com/labstack/echo/v5"

	"gladember/app/drawing"
	"gladember/app/service"
	"gladember/app/store"
	"gladember/app/web/ui"
	"gladember/core/collector"
	"gladember/core/design"
	"gladember/core/units"
)

//go:embed *.html
var templates embed.FS

// New returns the page.
func New() *ui.Station {
	return &ui.Station{Key: "versions", Name: "Versions", Templates: templates, Quiet: true, Open: open, Routes: routes}
}

// most is how many versions are compared at once.
const most = 4

// View is the center of the page.
type View struct {
	Columns           []Column
	Figures           []Row
	Choices           []Row
	RenameURL, PutURL string
	// DropURL deletes a version or puts one back; Undo is the one that was just deleted.
	DropURL, Undo string
	Picks         []Pick
}

// Width is how many columns the table has.
func (v *View) Width() int { return len(v.Columns) + 1 }

// Pick takes a version in or leaves it out.
type Pick struct {
	ID   int64
	Name string
	In   bool
}

// Column is one version.
type Column struct {
	ID    int64
	Name  string
	Here  bool
	Front template.HTML
	Made  string
	// Drop says that it can be deleted: it is not the only one.
	Drop bool
}

// Row is a line with a cell for each version.
type Row struct {
	Name  string
	Cells []Cell
}

// Cell is a value; Vals uses it in the version that is open.
type Cell struct {
	Value, Band, Vals string
	Same              bool // as in the version that is open
}

// compared is a version with what is computed of it.
type compared struct {
	store.Head
	heater *service.Heater // nil where it cannot be computed
}

// open fills the frame.
func open(v *ui.Visit) error {
	f := v.F
	heads, err := v.Store.Heads(v.Ctx(), f.ID)
	if err != nil {
		return err
	}
	view := &View{RenameURL: f.StationURL("versions/rename"), PutURL: f.StationURL("versions/put"), DropURL: f.StationURL("versions/drop")}
	if _, err := strconv.ParseInt(v.C.QueryParam("gone"), 10, 64); err == nil {
		view.Undo = v.C.QueryParam("gone")
	}
	f.View = view
	asked := v.C.Request().URL.Query()["v"]
	var shown []compared
	for _, x := range heads {
		in := len(shown) < most && (len(asked) == 0 || slices.Contains(asked, ui.ID(x.ID)))
		view.Picks = append(view.Picks, Pick{x.ID, x.Name, in})
		if !in {
			continue
		}
		e, err := v.Evaluate(v.Ctx(), &x.Document)
		if v.Ctx().Err() != nil {
			return err
		}
		if err != nil {
			e = nil
		}
		shown = append(shown, compared{x, e})
	}
	for i := range shown {
		col := column(v, &shown[i])
		col.Drop = len(heads) > 1
		view.Columns = append(view.Columns, col)
	}
	if err := view.figures(v, shown); err != nil {
		return err
	}
	view.choices(v, shown)
	return nil
}

// frontWidth is the width of a version's drawing, pixels.
const frontWidth = 200

// column draws a version.
func column(v *ui.Visit, x *compared) Column {
	col := Column{ID: x.ID, Name: x.Name, Here: x.ID == v.State.Version, Made: x.Document.MadeAs()}
	if e := x.heater; e != nil && e.Misfit == nil {
		sc := drawing.Scene{Heater: &x.Document, Layout: &e.Layout, Eval: &e.Eval, Units: v.F.Units}
		col.Front = sc.Front(frontWidth)
	}
	return col
}

// none is a cell without a value.
var none = Cell{Value: "–"}

// figures are what the versions give.
func (view *View) figures(v *ui.Visit, shown []compared) error {
	f := v.F
	band := func(k units.Kind, of func(*collector.Evaluation) collector.Band) func(*compared) (Cell, error) {
		return func(x *compared) (Cell, error) {
			if x.heater == nil {
				return none, nil
			}
			b := of(&x.heater.Eval)
			return Cell{Value: units.Format(k, b.Value, f.Units), Band: ui.Range(k, b.Low, b.High, f.Units)}, nil
		}
	}
	for _, row := range []struct {
		name string
		of   func(*compared) (Cell, error)
	}{
		{"Heat to the room" + collector.AtNoon, band(units.Power, func(e *collector.Evaluation) collector.Band { return e.Heat })},
		{"Outlet temperature", band(units.Temperature, func(e *collector.Evaluation) collector.Band { return e.Outlet })},
		{"Efficiency", band(units.Share, func(e *collector.Evaluation) collector.Band { return e.Efficiency })},
		{"Fan-off temperature" + collector.AtNoon, band(units.Temperature,
			func(e *collector.Evaluation) collector.Band { return e.Stagnation })},
		{"Useful heat a year", func(x *compared) (Cell, error) {
			y, err := v.Year(v.Ctx(), &x.Document)
			if v.Ctx().Err() != nil {
				return none, err
			}
			if err != nil {
				return none, nil // it has no weather
			}
			return Cell{Value: units.Format(units.Energy, y.Result.Year.Useful, f.Units)}, nil
		}},
		{"Cost of the box", func(x *compared) (Cell, error) {
			o, err := v.OutlayOf(&x.Document, x.heater)
			return Cell{Value: f.Sum(o.Sum, 2)}, err
		}},
		{"Recommendations", func(x *compared) (Cell, error) {
			if x.heater == nil {
				return none, nil
			}
			return Cell{Value: strconv.Itoa(len(x.heater.Findings))}, nil
		}},
		{"Measured, best logged day", func(x *compared) (Cell, error) { return measured(v, x) }},
	} {
		r := Row{Name: row.name}
		for i := range shown {
			cell, err := row.of(&shown[i])
			if err != nil {
				return err
			}
			r.Cells = append(r.Cells, cell)
		}
		view.Figures = append(view.Figures, r)
	}
	return nil
}

// measured is the best logged day of a version.
func measured(v *ui.Visit, x *compared) (Cell, error) {
	if x.heater == nil {
		return none, nil
	}
	st := store.State{Heater: v.State.Heater, Version: x.ID, Document: x.Document}
	l, err := v.Log(v.Ctx(), &st, x.heater, v.F.Units)
	if v.Ctx().Err() != nil {
		return none, err
	}
	if err != nil || l.Report == nil {
		return none, nil
	}
	return Cell{Value: units.Format(units.Energy, l.Report.Days[l.Day("")].Heat, v.F.Units)}, nil
}

// choices are the fields in which the versions differ.
func (view *View) choices(v *ui.Visit, shown []compared) {
	here, u := v.Doc(), v.F.Units
	for _, x := range design.Fields {
		row := Row{Name: x.Label}
		differ := false
		for i := range shown {
			h, first := &shown[i].Document, &shown[0].Document
			value := x.Get(h)
			cell := Cell{Value: worded(x, h, u), Same: reflect.DeepEqual(value, x.Get(here)) &&
				x.Applies(h) == x.Applies(here)}
			differ = differ || worded(x, h, u) != worded(x, first, u) || !reflect.DeepEqual(value, x.Get(first))
			if !cell.Same && x.Applies(h) && x.Applies(here) {
				cell.Vals = v.F.Vals(x.Path, map[string]string{"from": ui.ID(shown[i].ID)})
			}
			row.Cells = append(row.Cells, cell)
		}
		if differ {
			view.Choices = append(view.Choices, row)
		}
	}
}

// worded is a field's value in words.
func worded(x *design.Field, h *design.Heater, u units.System) string {
	if text := x.InWords(h, u); text != "" {
		return text
	}
	return none.Value
}

// station are the handlers.
type station struct{ *ui.Server }

func routes(sv *ui.Server, g *echo.Group) {
	s := station{sv}
	g.POST("/put", s.put)
	g.POST("/rename", s.rename)
	g.POST("/drop", s.drop)
}

// drop deletes a version, or puts back the one that was deleted last.
func (sv station) drop(c *echo.Context) error {
	st, err := sv.Current(c)
	if err != nil {
		return err
	}
	id, _ := strconv.ParseInt(c.FormValue("version"), 10, 64)
	back := c.FormValue("back") != ""
	err = sv.Store.DropVersion(c.Request().Context(), st.Heater, id, back)
	if errors.Is(err, store.ErrLast) {
		return sv.Again(c, st, "versions", ui.Capital(err.Error())+".")
	}
	if err != nil {
		return err
	}
	to := ui.HeaterURL(st.Heater, "versions")
	if !back {
		to += "?gone=" + ui.ID(id)
	}
	return c.Redirect(http.StatusSeeOther, to)
}

// put uses one choice of another version in the one that is open.
func (sv station) put(c *echo.Context) error {
	st, seen, err := sv.Changing(c)
	if err != nil {
		return err
	}
	heads, err := sv.Store.Heads(c.Request().Context(), st.Heater)
	if err != nil {
		return err
	}
	path := c.FormValue("path")
	x := design.FieldAt(path)
	for i := range heads {
		if x == nil || ui.ID(heads[i].ID) != c.FormValue("from") {
			continue
		}
		from := &heads[i].Document
		ch := design.Change{Path: path, Value: design.FieldAt(path).Get(from), Typed: from.Entries[path].Typed}
		if _, theirs := from.Entries[path]; !theirs && x.Default != nil {
			ch.Typed = ""
		}
		saved, err := sv.Save(c, seen, x.Label+" from "+heads[i].Name, ui.NewPage(c, "").Units, ch)
		if err != nil {
			return sv.Refuse(c, st, path, "", err)
		}
		return sv.Answer(c, saved.State, fmt.Sprintf("%s: the value of version %s is used. Undo reverses it.", x.Label, heads[i].Name))
	}
	return sv.Answer(c, st, "That version no longer exists.")
}

// rename gives a version a name.
func (sv station) rename(c *echo.Context) error {
	st, err := sv.Current(c)
	if err != nil {
		return err
	}
	id, _ := strconv.ParseInt(c.FormValue("version"), 10, 64)
	err = sv.Store.Rename(c.Request().Context(), st.Heater, id, c.FormValue("name"))
	if errors.Is(err, store.ErrName) {
		return sv.Again(c, st, "versions", ui.Capital(err.Error())+".")
	}
	if err != nil {
		return err
	}
	return c.Redirect(http.StatusSeeOther, ui.HeaterURL(st.Heater, "versions"))
}

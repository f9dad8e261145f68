package web

import (
	"errors"
	"fmt"
	"html/template"
	"net/http"
	"reflect"
	"slices"
	"strconv"

	"github.com/labstack/echo/v5"

	"gladember/app/drawing"
	"gladember/app/store"
	"gladember/core/collector"
	"gladember/core/design"
	"gladember/core/units"
)

// mostBeside is how many versions are laid side by side.
const mostBeside = 4

// VersionsView is versions side by side: their drawings, what they give, and the
// choices in which they differ.
type VersionsView struct {
	Columns           []VersionColumn
	Figures           []VersionRow
	Choices           []VersionRow
	RenameURL, PutURL string
	Picks             []VersionPick
	Alike             bool
}

// VersionPick takes a version in or leaves it out.
type VersionPick struct {
	ID   int64
	Name string
	In   bool
}

// VersionColumn is one version.
type VersionColumn struct {
	ID    int64
	Name  string
	Here  bool
	Front template.HTML
	Made  string
}

// VersionRow is a line with a cell for each version.
type VersionRow struct {
	Name  string
	Cells []VersionCell
}

// VersionCell is a value; Vals takes it over into the version on the bench.
type VersionCell struct {
	Value, Band, Vals string
	Same              bool // as on the bench
}

// worded is a field's value as one reads it.
func worded(x *design.Field, h *design.Heater, u units.System) string {
	if !x.Applies(h) {
		return "–"
	}
	v := design.Get(h, x.Path)
	switch {
	case x.Choices != nil:
		for _, c := range x.Choices() {
			if c.ID == v {
				return c.Name
			}
		}
	case x.Bool:
		return map[any]string{true: "yes", false: "no"}[v]
	case x.Rows != nil:
		n := reflect.ValueOf(v).Len()
		return fmt.Sprintf("%d %s", n, many(n, "line"))
	case x.Text:
		return fmt.Sprint(v)
	case x.Kind == units.Number:
		return units.Plain(design.Number(h, x.Path), 6, u)
	}
	return units.Format(x.Kind, design.Number(h, x.Path), u)
}

func (sv *Server) versionsPage(c *echo.Context, f *Frame) error {
	u := f.Units
	heads, err := sv.store.Heads(c.Request().Context(), f.ID)
	if err != nil {
		return err
	}
	v := &VersionsView{RenameURL: heaterURL(f.ID, "versions", "rename"), PutURL: heaterURL(f.ID, "versions", "put")}
	f.Versions = v
	asked := c.Request().URL.Query()["v"]
	var shown []store.Head
	for _, x := range heads {
		in := len(asked) == 0 && len(shown) < mostBeside || slices.Contains(asked, strconv.FormatInt(x.ID, 10)) && len(shown) < mostBeside
		v.Picks = append(v.Picks, VersionPick{x.ID, x.Name, in})
		if in {
			shown = append(shown, x)
		}
	}
	here := &f.State.Document
	type figure struct {
		name string
		of   func(e *evaluated, h *design.Heater) VersionCell
	}
	band := func(k units.Kind, b collector.Band) VersionCell {
		return VersionCell{Value: units.Format(k, b.Value, u), Band: units.Figure(k, b.Low, u) + " to " + units.Figure(k, b.High, u)}
	}
	figures := []figure{
		{"heat, clear winter noon", func(e *evaluated, _ *design.Heater) VersionCell { return band(units.Power, e.eval.Heat) }},
		{"air out", func(e *evaluated, _ *design.Heater) VersionCell { return band(units.Temperature, e.eval.Outlet) }},
		{"of the sun on the glass", func(e *evaluated, _ *design.Heater) VersionCell { return band(units.Share, e.eval.Efficiency) }},
		{"fan off, same noon", func(e *evaluated, _ *design.Heater) VersionCell { return band(units.Temperature, e.eval.Stagnation) }},
		{"useful heat of a year", func(_ *evaluated, h *design.Heater) VersionCell {
			w := sv.years.of(h)
			if w.err != nil {
				return VersionCell{Value: "–"}
			}
			return VersionCell{Value: units.Format(units.Energy, w.result.Year.Useful, u)}
		}},
		{"spent on it", func(_ *evaluated, h *design.Heater) VersionCell {
			return VersionCell{Value: f.Sum(h.Money.Spent, 0)}
		}},
		{"findings", func(e *evaluated, _ *design.Heater) VersionCell {
			return VersionCell{Value: fmt.Sprint(len(e.findings))}
		}},
		{"measured, best day logged", func(_ *evaluated, _ *design.Heater) VersionCell { return VersionCell{} }},
	}
	es := make([]*evaluated, len(shown))
	for i := range shown {
		h := &shown[i].Document
		es[i] = sv.evals.of(h)
		col := VersionColumn{ID: shown[i].ID, Name: shown[i].Name, Here: shown[i].ID == f.State.Version, Made: h.MadeAs()}
		if e := es[i]; e.err == nil && e.misfit == nil {
			sc := drawing.Scene{Heater: h, Layout: &e.layout, Eval: &e.eval, Units: u}
			col.Front = sc.Front()
		}
		v.Columns = append(v.Columns, col)
	}
	measured := ""
	if e := sv.evals.of(here); e.err == nil {
		if j, err := sv.judgedLog(c.Request().Context(), &f.State, e); err == nil && j.report != nil {
			d := j.report.Days[chosenDay(j.report, "")]
			measured = units.Format(units.Energy, d.Heat, u)
		}
	}
	for _, x := range figures {
		row := VersionRow{Name: x.name}
		for i := range shown {
			cell := VersionCell{Value: "–"}
			switch {
			case x.name == "measured, best day logged":
				if shown[i].ID == f.State.Version && measured != "" {
					cell.Value = measured
				}
			case es[i].err == nil:
				cell = x.of(es[i], &shown[i].Document)
			}
			row.Cells = append(row.Cells, cell)
		}
		v.Figures = append(v.Figures, row)
	}
	for _, x := range design.Fields {
		row := VersionRow{Name: x.Label}
		differ := false
		for i := range shown {
			h := &shown[i].Document
			cell := VersionCell{Value: worded(x, h, u), Same: reflect.DeepEqual(design.Get(h, x.Path), design.Get(here, x.Path)) && x.Applies(h) == x.Applies(here)}
			differ = differ || worded(x, h, u) != worded(x, &shown[0].Document, u) || !reflect.DeepEqual(design.Get(h, x.Path), design.Get(&shown[0].Document, x.Path))
			if !cell.Same && x.Applies(h) && x.Applies(here) {
				cell.Vals = f.vals(x.Path, map[string]string{"from": strconv.FormatInt(shown[i].ID, 10)})
			}
			row.Cells = append(row.Cells, cell)
		}
		if differ {
			v.Choices = append(v.Choices, row)
		}
	}
	v.Alike = len(v.Choices) == 0
	return nil
}

// putAcross takes one choice of another version over into the one on the bench.
func (sv *Server) putAcross(c *echo.Context) error {
	st, seen, err := sv.changing(c)
	if err != nil {
		return err
	}
	heads, err := sv.store.Heads(c.Request().Context(), st.Heater)
	if err != nil {
		return err
	}
	path := c.FormValue("path")
	x := design.FieldAt(path)
	for i := range heads {
		if x == nil || strconv.FormatInt(heads[i].ID, 10) != c.FormValue("from") {
			continue
		}
		from := &heads[i].Document
		ch := design.Change{Path: path, Value: design.Get(from, path), Typed: from.Entries[path].Typed}
		if _, theirs := from.Entries[path]; !theirs && x.Default != nil {
			ch.Typed = ""
		}
		saved, err := sv.save(c, seen, x.Label+" from "+heads[i].Name, sv.page(c, "").Units, ch)
		if err != nil {
			return sv.refused(c, st, path, "", err)
		}
		return sv.answer(c, saved.State, fmt.Sprintf("%s taken from %s; undo takes it back.", x.Label, heads[i].Name))
	}
	return sv.answer(c, st, "That version is gone.")
}

func (sv *Server) rename(c *echo.Context) error {
	st, err := sv.current(c)
	if err != nil {
		return err
	}
	id, _ := strconv.ParseInt(c.FormValue("version"), 10, 64)
	err = sv.store.Rename(c.Request().Context(), st.Heater, id, c.FormValue("name"))
	notice := ""
	if errors.Is(err, store.ErrName) {
		notice = err.Error()
	} else if err != nil {
		return err
	}
	if notice != "" {
		return sv.again(c, st, "versions", notice)
	}
	return c.Redirect(http.StatusSeeOther, heaterURL(st.Heater, "versions"))
}

package web

import (
	"errors"
	"fmt"
	"net/http"
	"net/url"
	"strconv"
	"strings"

	"github.com/labstack/echo/v5"

	"gladember/app/store"
	"gladember/core/advice"
	"gladember/core/collector"
	"gladember/core/design"
	"gladember/core/measure"
	"gladember/core/simulate"
	"gladember/core/space"
	"gladember/core/units"
)

// answer sends what an edit changed: every part of the page but the field that
// is being typed in.
func (sv *Server) answer(c *echo.Context, st store.State, notice string) error {
	f, err := sv.at(c, st, c.FormValue("station"))
	if err != nil {
		return err
	}
	f.Morph, f.Notice = true, notice
	return c.Render(http.StatusOK, "changed", f)
}

func (sv *Server) edit(c *echo.Context) error {
	st, seen, err := sv.changing(c)
	if err != nil {
		return err
	}
	p := sv.page(c, "")
	path, typed := c.FormValue("path"), c.FormValue("typed")
	x := design.FieldAt(path)
	if x == nil {
		return echo.NewHTTPError(http.StatusUnprocessableEntity, "a heater has no such field; load the page again")
	}
	ch := design.Change{Path: path, Typed: typed}
	if c.FormValue("ours") != "" {
		ch = design.Change{Path: path, Origin: design.Ours}
	}
	changes := append([]design.Change{ch}, besides(st.Document, p.Units, ch)...)
	saved, err := sv.save(c, seen, x.Label, p.Units, changes...)
	if err != nil {
		return sv.refused(c, st, path, typed, err)
	}
	notice := ""
	if saved.Elsewhere != "" {
		notice = fmt.Sprintf("%s was set to %s on another page meanwhile; yours is in force now. Undo brings the other back.", x.Label, saved.Elsewhere)
	}
	return sv.answer(c, saved.State, notice)
}

// besides is what typed coordinates bring along: height and clock of the
// nearest town, unless the person has typed those.
func besides(h design.Heater, u units.System, ch design.Change) (more []design.Change) {
	if ch.Path != "place.latitude_deg" && ch.Path != "place.longitude_deg" || ch.Origin == design.Ours {
		return nil
	}
	next, err := design.Apply(h, u, ch)
	if err != nil {
		return nil
	}
	g, err := loadTowns()
	if err != nil {
		return nil
	}
	t := g.near(next.Place.Latitude, next.Place.Longitude)
	for _, c := range []design.Change{{Path: "place.elevation_m", Value: t.Elevation}, {Path: "place.zone", Value: t.Zone}, {Path: "place.town", Value: "near " + t.Label()}} {
		if h.Entries[c.Path].Typed == "" {
			more = append(more, c)
		}
	}
	return more
}

// refused answers an entry that cannot stand: the heater stays as it was, the
// message goes to the field, and what was typed stays in it.
func (sv *Server) refused(c *echo.Context, st store.State, path, typed string, err error) error {
	text, half := "", false
	var pr *design.Problem
	var ue *units.Error
	switch {
	case errors.As(err, &ue):
		text, half = ue.Error(), ue.Half
	case errors.As(err, &pr):
		text = pr.Reason + "; " + pr.Remedy
	default:
		return err
	}
	c.Response().Header().Set(refusedHeader, url.QueryEscape(text))
	f, err := sv.at(c, st, c.FormValue("station"))
	if err != nil {
		return err
	}
	f.Morph = true
	f.refuse(path, typed, text, half)
	return c.Render(http.StatusOK, "changed", f)
}

func (sv *Server) town(c *echo.Context) error {
	st, seen, err := sv.changing(c)
	if err != nil {
		return err
	}
	t, ok := sv.townByID(c.FormValue("town_id"))
	if !ok {
		return echo.NewHTTPError(http.StatusUnprocessableEntity, "that town is not in the list; type its name again")
	}
	saved, err := sv.save(c, seen, "Town", units.System{}, townChanges(t)...)
	if err != nil {
		return sv.refused(c, st, "place.town", "", err)
	}
	return sv.answer(c, saved.State, "")
}

func (sv *Server) remedy(c *echo.Context) error {
	st, seen, err := sv.changing(c)
	if err != nil {
		return err
	}
	id := c.FormValue("finding")
	title, remedy, patch := offered(append(sv.yearFindings(&st.Document), sv.evals.of(&st.Document).findings...), id)
	if patch == nil {
		return sv.answer(c, st, "That is already mended.")
	}
	p := sv.page(c, "")
	saved, err := sv.save(c, seen, title, p.Units, patch...)
	if err != nil {
		return sv.refused(c, st, patch[0].Path, "", err)
	}
	return sv.answer(c, saved.State, remedy.In(p.Units)+" Done; undo takes it back.")
}

// offered looks a remedy up among findings by its ID: the finding's title, what is said of the
// remedy and its changes; nil where there is none.
func offered(fs []advice.Finding, id string) (string, advice.Text, []design.Change) {
	for i := range fs {
		if remedy, patch, ok := fs[i].Offered(id); ok {
			return fs[i].Title, remedy, patch
		}
	}
	return "", advice.Text{}, nil
}

func (sv *Server) undo(c *echo.Context) error {
	return sv.moved(c, sv.store.Undo, "Nothing is left to take back.")
}
func (sv *Server) redo(c *echo.Context) error {
	return sv.moved(c, sv.store.Redo, "Nothing is left to do again.")
}

type mover func(ctx ctx, seen store.Seen) (store.State, error)

func (sv *Server) moved(c *echo.Context, move mover, none string) error {
	st, seen, err := sv.changing(c)
	if err != nil {
		return err
	}
	next, err := move(c.Request().Context(), seen)
	if errors.Is(err, store.ErrNothing) {
		return sv.answer(c, st, none)
	}
	if err != nil {
		return err
	}
	return sv.answer(c, next, "")
}

func (sv *Server) branch(c *echo.Context) error {
	_, seen, err := sv.changing(c)
	if err != nil {
		return err
	}
	if _, err := sv.store.Branch(c.Request().Context(), seen); err != nil {
		return err
	}
	return c.Redirect(http.StatusSeeOther, back(c))
}

func (sv *Server) version(c *echo.Context) error {
	st, err := sv.current(c)
	if err != nil {
		return err
	}
	v, err := strconv.ParseInt(c.FormValue("version"), 10, 64)
	if err != nil {
		return store.ErrNotFound
	}
	if err := sv.store.Switch(c.Request().Context(), st.Heater, v); err != nil {
		return err
	}
	return c.Redirect(http.StatusSeeOther, back(c))
}

// WorkingView is how a figure came to be.
type WorkingView struct {
	Name, Value, Formula, Note, Band string
	Terms                            []TermView
	Causes                           []CauseView
}

// TermView is one input of a formula.
type TermView struct{ Symbol, Meaning, Value, Source string }

// CauseView is one cause of a band.
type CauseView struct{ Name, Effect string }

func (sv *Server) working(c *echo.Context) error {
	st, err := sv.current(c)
	if err != nil {
		return err
	}
	p := sv.page(c, "")
	e := sv.evals.of(&st.Document)
	if e.err != nil {
		return e.err
	}
	ws, key := e.eval.Workings(), c.Param("figure")
	if of, logged := strings.CutPrefix(key, "log-"); logged {
		j, err := sv.judgedLog(c.Request().Context(), &st, e)
		if err != nil {
			return err
		}
		if r, set := j.report, j.set; r != nil {
			ws, key = measure.Workings(r.Days[chosenDay(r, c.QueryParam("day"))], r, set), of
		}
	}
	if of, year := strings.CutPrefix(key, "year-"); year {
		if ws, err = sv.yearWorkings(&st.Document); err != nil {
			return err
		}
		key = of
	}
	if of, way := strings.CutPrefix(key, "air-"); way {
		ws, key = collector.AirWorkings(&e.eval.Running, ductArea(&st.Document)), of
	}
	if of, day := strings.CutPrefix(key, "day-"); day {
		p, err := sv.play(c, &st)
		if err != nil {
			return err
		}
		if p.err == nil {
			ws, key = simulate.Workings(&p.day), of
		}
	}
	if of, need := strings.CutPrefix(key, "need-"); need {
		sp, err := space.Of(&st.Document)
		if err != nil {
			return err
		}
		ws, key = space.Workings(&st.Document, sp, st.Document.Room.Wanted, space.DesignOutdoors(&st.Document), e.eval.Running.Volume), of
	}
	w, ok := ws[key]
	if !ok {
		return echo.NewHTTPError(http.StatusNotFound, "")
	}
	return c.Render(http.StatusOK, "working", workingView(w, p.Units))
}

func workingView(w collector.Working, u units.System) WorkingView {
	v := WorkingView{Name: w.Name, Value: units.Format(w.Kind, w.Value, u), Formula: pretty(w.Formula), Note: w.Note}
	if w.Kind == units.Number {
		v.Value = units.Plain(w.Value, 4, u)
	}
	for _, t := range w.Terms {
		val := units.Format(t.Kind, t.Value, u)
		if t.Unit != "" {
			val = units.Plain(t.Value, 4, u) + " " + t.Unit
		}
		v.Terms = append(v.Terms, TermView{t.Symbol, t.Meaning, val, t.Source})
	}
	kind := w.Kind
	if kind == units.Temperature {
		kind = units.Rise
	}
	if w.Band == nil {
		return v
	}
	v.Band = units.Figure(w.Kind, w.Band.Low, u) + " to " + units.Format(w.Kind, w.Band.High, u)
	for _, x := range w.Band.Largest(3) {
		v.Causes = append(v.Causes, CauseView{x.Name, "± " + units.Format(kind, abs(x.Effect), u)})
	}
	return v
}

package ui

import (
	"context"
	"errors"
	"fmt"
	"net/http"
	"strconv"

	"github.com/labstack/echo/v5"

	"gladember/app/store"
	"gladember/app/towns"
	"gladember/core/advice"
	"gladember/core/design"
	"gladember/core/units"
)

// edit sets a field as it was typed, or back to our estimate.
func (sv *Server) edit(c *echo.Context) error {
	st, seen, err := sv.Changing(c)
	if err != nil {
		return err
	}
	u := NewPage(c, "").Units
	path, typed := c.FormValue("path"), c.FormValue("typed")
	x := design.FieldAt(path)
	if x == nil {
		return echo.NewHTTPError(http.StatusUnprocessableEntity, "a heater has no such field; load the page again")
	}
	ch := design.Change{Path: path, Typed: typed}
	if c.FormValue("ours") != "" {
		ch = design.Change{Path: path, Origin: design.Ours}
	}
	changes := append([]design.Change{ch}, nearest(st.Document, u, ch)...)
	saved, err := sv.Save(c, seen, x.Label, u, changes...)
	if err != nil {
		return sv.Refuse(c, st, path, typed, err)
	}
	notice := ""
	if saved.Elsewhere != "" {
		notice = fmt.Sprintf("%s had been set to %s on another page. Your value is in force now; undo restores the other.", x.Label,
			saved.Elsewhere)
	}
	return sv.Answer(c, saved.State, notice)
}

// nearest is what typed coordinates bring along: elevation and time zone of the nearest town, unless the person has
// typed those.
func nearest(h design.Heater, u units.System, ch design.Change) (more []design.Change) {
	if ch.Path != design.PlaceLatitude.Path && ch.Path != design.PlaceLongitude.Path || ch.Origin == design.Ours {
		return nil
	}
	next, err := design.Apply(h, u, ch)
	if err != nil {
		return nil
	}
	g, err := towns.Load()
	if err != nil {
		return nil
	}
	t := g.Near(next.Place.Latitude, next.Place.Longitude)
	for _, c := range []design.Change{
		design.Set(design.PlaceElevation, t.Elevation),
		design.Set(design.PlaceZone, t.Zone),
		design.Set(design.PlaceTown, "near "+t.Label()),
	} {
		if h.Entries[c.Path].Typed == "" {
			more = append(more, c)
		}
	}
	return more
}

// Refuse answers an entry that cannot stand: the heater stays as it was, the message goes to the field, and what was
// typed stays in it.
func (sv *Server) Refuse(c *echo.Context, st store.State, path, typed string, err error) error {
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
	Declined(c, text)
	v, err := sv.OpenAt(c, st, c.FormValue("station"))
	if err != nil {
		return err
	}
	v.F.refuse(path, typed, text, half)
	return c.Render(http.StatusOK, "changed", v.F)
}

// town moves the heater to a town of the list.
func (sv *Server) town(c *echo.Context) error {
	st, seen, err := sv.Changing(c)
	if err != nil {
		return err
	}
	t, ok := FindTown(c.FormValue("town_id"))
	if !ok {
		return echo.NewHTTPError(http.StatusUnprocessableEntity, "that town is not in the list; type its name again")
	}
	saved, err := sv.Save(c, seen, "Town", units.System{}, TownChanges(t)...)
	if err != nil {
		return sv.Refuse(c, st, design.PlaceTown.Path, "", err)
	}
	return sv.Answer(c, saved.State, "")
}

// FindTown looks a town up by its number in the list.
func FindTown(id string) (towns.Town, bool) {
	i, err := strconv.Atoi(id)
	if err != nil {
		return towns.Town{}, false
	}
	g, err := towns.Load()
	if err != nil {
		return towns.Town{}, false
	}
	return g.At(i)
}

// TownChanges place a heater in a town.
func TownChanges(t towns.Town) []design.Change {
	return []design.Change{
		design.Set(design.PlaceLatitude, t.Latitude),
		design.Set(design.PlaceLongitude, t.Longitude),
		design.Set(design.PlaceElevation, t.Elevation),
		design.Set(design.PlaceZone, t.Zone),
		design.Set(design.PlaceTown, t.Label()),
	}
}

// remedy applies a finding's remedy, or an alternative of it.
func (sv *Server) remedy(c *echo.Context) error {
	st, seen, err := sv.Changing(c)
	if err != nil {
		return err
	}
	e, err := sv.Evaluate(c.Request().Context(), &st.Document)
	if err != nil {
		return Uncomputed(err)
	}
	id := c.FormValue("finding")
	title, remedy, patch := Offered(sv.Findings(&st.Document, e), id)
	if patch == nil {
		if _, _, noon := Offered(e.Findings, id); noon != nil {
			return sv.Answer(c, st, "Computed through the year, that gains nothing: it is no longer offered.")
		}
		return sv.Answer(c, st, "That is fixed already.")
	}
	u := NewPage(c, "").Units
	saved, err := sv.Save(c, seen, title, u, patch...)
	if err != nil {
		return sv.Refuse(c, st, patch[0].Path, "", err)
	}
	return sv.Answer(c, saved.State, "Done: "+remedy.In(u)+" Undo reverses it.")
}

// Offered looks a remedy up among findings by its ID: the finding's title, what is said of the remedy and its changes;
// nil where there is none.
func Offered(fs []advice.Finding, id string) (string, advice.Text, []design.Change) {
	for i := range fs {
		if remedy, patch, ok := fs[i].Offered(id); ok {
			return fs[i].Title, remedy, patch
		}
	}
	return "", advice.Text{}, nil
}

// Apply saves several choices as one step that undo reverses. Choices that do not apply are left out.
func (sv *Server) Apply(c *echo.Context, st store.State, seen store.Seen, label string, changes []design.Change) error {
	return sv.applyAnd(c, st, seen, label, changes, func() error { return nil })
}

// applyAnd is [Server.Apply] with something that is kept once the choices are saved, so that nothing is kept of what is refused.
func (sv *Server) applyAnd(c *echo.Context, st store.State, seen store.Seen, label string, changes []design.Change,
	keep func() error) error {
	var fit []design.Change
	h := st.Document
	for _, ch := range changes {
		if x := design.FieldAt(ch.Path); x == nil || !x.Applies(&h) {
			continue
		}
		n, err := design.Apply(h, units.System{}, ch)
		if err == nil {
			h = n
		}
		fit = append(fit, ch)
	}
	saved, err := sv.Save(c, seen, label, units.System{}, fit...)
	if err != nil {
		return sv.Refuse(c, st, "", "", err)
	}
	if err := keep(); err != nil {
		return err
	}
	return sv.Answer(c, saved.State, label+": done. Undo reverses it.")
}

func (sv *Server) undo(c *echo.Context) error {
	return sv.moved(c, sv.Store.Undo, "There is nothing left to undo.")
}

func (sv *Server) redo(c *echo.Context) error {
	return sv.moved(c, sv.Store.Redo, "There is nothing left to redo.")
}

// moved answers undo and redo.
func (sv *Server) moved(c *echo.Context, move func(context.Context, store.Seen) (store.State, error), none string) error {
	st, seen, err := sv.Changing(c)
	if err != nil {
		return err
	}
	next, err := move(c.Request().Context(), seen)
	if errors.Is(err, store.ErrNothing) {
		return sv.Answer(c, st, none)
	}
	if err != nil {
		return err
	}
	return sv.Answer(c, next, "")
}

func (sv *Server) branch(c *echo.Context) error {
	_, seen, err := sv.Changing(c)
	if err != nil {
		return err
	}
	if _, err := sv.Store.Branch(c.Request().Context(), seen); err != nil {
		return err
	}
	return c.Redirect(http.StatusSeeOther, BackTo(c))
}

func (sv *Server) version(c *echo.Context) error {
	st, err := sv.Current(c)
	if err != nil {
		return err
	}
	id, err := strconv.ParseInt(c.FormValue("version"), 10, 64)
	if err != nil {
		return store.ErrNotFound
	}
	if err := sv.Store.Switch(c.Request().Context(), st.Heater, id); err != nil {
		return err
	}
	return c.Redirect(http.StatusSeeOther, BackTo(c))
}

// Uncomputed is an error for what exists but cannot be computed for this heater; its reason is shown.
func Uncomputed(why error) error {
	switch {
	case why == nil:
		why = errors.New("this cannot be computed for this heater; change it, or load the page again")
	case errors.Is(why, context.Canceled):
		return why
	}
	return echo.NewHTTPError(http.StatusUnprocessableEntity, why.Error())
}

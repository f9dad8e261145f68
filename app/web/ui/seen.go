package ui

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"net/http"
	"net/url"
	"strings"

	"github.com/labstack/echo/v5"

	"gladember/app/service"
	"gladember/app/store"
	"gladember/core/design"
	"gladember/core/units"
)

// seenHeader carries what a page showed when a change was asked for on it, as version.revision.page;
// a form without the script sends it as the value seen.
const seenHeader = "X-Seen"

// RefusedHeader carries the reason, escaped as in a query, when a change was not made, so that a
// change that waited to be sent is kept with its reason.
const RefusedHeader = "X-Refused"

// ChangeHeader carries a number of a page's own for each change, so that one which is sent again since its answer was lost
// is not made twice.
const ChangeHeader = "X-Change"

// Declined says in the answer that a change was not made, and why.
func Declined(c *echo.Context, why string) {
	c.Response().Header().Set(RefusedHeader, url.QueryEscape(why))
}

// Answers to a [store.Behind]: open the version that the page shows, or act on what is newest.
const (
	openShown = "open-shown"
	actAnyway = "act-anyway"
)

// errUnseen is returned for a change without what its page showed.
var errUnseen = echo.NewHTTPError(http.StatusUnprocessableEntity, "this change does not say which version it is for; load the page again")

// Changing reads the heater that a change is for, and what the page showed of it; a [store.Behind] if that
// is another version than the one that is open, unless the person has answered that question.
func (sv *Server) Changing(c *echo.Context) (store.State, store.Seen, error) {
	st, err := sv.Current(c)
	if err != nil {
		return st, store.Seen{}, err
	}
	seen, err := seenBy(c, st.Heater)
	if err != nil {
		return st, seen, err
	}
	switch c.FormValue("behind") {
	case openShown:
		if err := sv.Store.Switch(c.Request().Context(), st.Heater, seen.Version); err != nil {
			return st, seen, err
		}
		st, err = sv.Current(c)
	case actAnyway:
		seen.Revision = st.Revision
	}
	if err == nil && st.Version != seen.Version {
		err = &store.Behind{Shown: versionNamed(st.Versions, seen.Version), Open: st}
	}
	return st, seen, err
}

// versionNamed looks a version up; without a name if it is gone.
func versionNamed(vs []store.VersionName, id int64) store.VersionName {
	for _, v := range vs {
		if v.ID == id {
			return v
		}
	}
	return store.VersionName{ID: id}
}

// seenBy reads what the page of a change showed.
func seenBy(c *echo.Context, heater int64) (store.Seen, error) {
	s := store.Seen{Heater: heater}
	text := c.Request().Header.Get(seenHeader)
	if text == "" {
		text = c.FormValue("seen")
	}
	if n, _ := fmt.Sscanf(strings.ReplaceAll(text, ".", " "), "%d %d %s", &s.Version, &s.Revision, &s.Page); n < 2 || len(s.Page) > 64 {
		return s, errUnseen
	}
	return s, nil
}

// Save makes changes to the version that the page showed, after the heater that they make was computed: one that cannot
// be computed is refused with a [design.Problem] for the field that was changed first, unless the heater could not be
// computed before either.
func (sv *Server) Save(c *echo.Context, seen store.Seen, label string, u units.System, changes ...design.Change) (store.Saved, error) {
	ctx := context.WithoutCancel(c.Request().Context()) // a change is made even if its page has gone meanwhile
	if err := sv.computable(ctx, seen.Heater, u, changes); err != nil {
		return store.Saved{}, err
	}
	return sv.Store.Edit(ctx, seen, label, u, changes...)
}

// computable says why what changes make of a heater cannot be computed, if that is so.
func (sv *Server) computable(ctx context.Context, heater int64, u units.System, changes []design.Change) error {
	st, err := sv.Store.Get(ctx, heater)
	if err != nil {
		return err
	}
	next, err := design.Apply(st.Document, u, changes...)
	if err != nil || len(changes) == 0 {
		return err
	}
	_, err = sv.Evaluate(ctx, &next)
	if err == nil {
		return nil
	}
	if _, before := sv.Evaluate(ctx, &st.Document); before != nil {
		return nil
	}
	sv.Logger.Error("a change cannot be computed", "path", changes[0].Path, "error", err, "stack", service.StackOf(err))
	return &design.Problem{Path: changes[0].Path, Reason: "this heater cannot be computed: " + err.Error(),
		Remedy: "enter another value; nothing was changed"}
}

// SeenText is what a form sends as seen.
func (f *Frame) SeenText() string { return fmt.Sprintf("%d.%d", f.State.Version, f.State.Revision) }

// BehindView asks what to do with a change of a page that is behind.
type BehindView struct {
	Text       string
	Post, Vals string // to make it all the same; empty where that cannot be sent again
	Act        string
	Here       string // the page as it is now
	Newest     string
}

// behindView puts a change that was not made as a question.
func behindView(c *echo.Context, b *store.Behind) BehindView {
	v := BehindView{Text: b.Error(), Here: HeaterURL(b.Open.Heater), Newest: "Show version " + b.Open.Name}
	if s := c.FormValue("station"); s != "" {
		v.Here = HeaterURL(b.Open.Heater, s)
	}
	form, err := c.FormValues()
	if err != nil || strings.HasPrefix(c.Request().Header.Get("Content-Type"), "multipart/") {
		return v // a file is not sent twice
	}
	m := map[string]string{}
	for k := range form {
		m[k] = form.Get(k)
	}
	m["behind"], v.Act = openShown, "Make it in version "+b.Shown.Name
	if b.Shown.ID == b.Open.Version {
		m["behind"], v.Act, v.Newest = actAnyway, "Undo that change", "Show the heater as it is now"
	}
	if text, err := json.Marshal(m); err == nil && b.Shown.Name != "" {
		v.Post, v.Vals = c.Request().URL.Path, string(text)
	}
	return v
}

// FailBehind answers a change of a page that is behind with a question.
func (sv *Server) FailBehind(c *echo.Context, b *store.Behind) error {
	Declined(c, b.Error())
	if c.Request().Header.Get("HX-Request") == "" {
		st := b.Open
		station := c.FormValue("station")
		if station == "" {
			station = "box"
		}
		return sv.Again(c, st, station, b.Error())
	}
	c.Response().Header().Set("HX-Retarget", "#notice")
	c.Response().Header().Set("HX-Reswap", "innerHTML")
	return c.Render(http.StatusConflict, "behind", behindView(c, b))
}

// BehindOf finds a [store.Behind] in an error.
func BehindOf(err error) *store.Behind {
	var b *store.Behind
	if errors.As(err, &b) {
		return b
	}
	return nil
}

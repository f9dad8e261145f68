// Package journal is the page of what was done: notes, photos, the time and the money that it really took, and what was changed.
package journal

import (
	"embed"
	"errors"
	"fmt"
	"net/http"
	"strconv"
	"strings"

	"github.com/labstack/echo/v5"

	"gladember/app/formats"
	"gladember/app/store"
	"gladember/app/web/ui"
	"gladember/core/advice"
	"gladember/core/buildplan"
	"gladember/core/design"
	"gladember/core/units"
)

//go:embed *.html
var templates embed.FS

// New returns the page, which is not in the list of stations.
func New() *ui.Station {
	var st station
	s := &ui.Station{Key: "journal", Name: "Journal", Templates: templates, Topics: []advice.Topic{}, Quiet: true}
	s.Routes = func(sv *ui.Server, g *echo.Group) {
		st = station{sv}
		g.POST("/add", st.add)
		g.POST("/drop", st.drop)
		g.GET("/photo/:note", st.photo)
	}
	s.Open = func(v *ui.Visit) error { return st.open(v, nil) }
	return s
}

// station are the handlers.
type station struct{ *ui.Server }

// View is the center of the page.
type View struct {
	Notes   []NoteView
	Steps   []StepChoice
	Draft   Draft
	Error   string
	AddURL  string
	DropURL string
	Undo    string // takes the last removal back
	Times   []TimeRow
	Sum     string
	Edits   []string
}

// Draft is a note as it is typed.
type Draft struct{ Note, Step, Cost string }

// StepChoice is a step that a note may be about.
type StepChoice struct {
	ID, Title string
	Chosen    bool
}

// NoteView is a note as it is shown.
type NoteView struct {
	When, Step, Note, Cost string
	Photo                  string // its address
	Width, Height          int
	Vals                   string
}

// TimeRow is a step with the time that was reckoned and the time that it took.
type TimeRow struct{ Title, Reckoned, Took string }

// Bounds of a note.
const (
	longest = 4000
	dearest = 1e6
	edits   = 12
)

// refused is a note that was not taken.
type refused struct {
	draft Draft
	why   string
	undo  int64 // a note that was just removed
}

// open fills the frame.
func (sv station) open(v *ui.Visit, bad *refused) error {
	f := v.F
	view := &View{AddURL: f.StationURL("journal/add"), DropURL: f.StationURL("journal/drop")}
	f.View = view
	f.Fields("Money", design.MoneySpent)
	if err := v.ShowOutlay(); err != nil {
		return err
	}
	if bad != nil {
		view.Draft, view.Error = bad.draft, bad.why
		if bad.undo > 0 {
			view.Undo = f.Vals("", map[string]string{"note": ui.ID(bad.undo), "back": "yes"})
		}
	}
	steps, err := sv.steps(v)
	if err != nil {
		return err
	}
	titles := map[string]string{}
	for _, s := range steps {
		titles[s.ID] = s.Title
		view.Steps = append(view.Steps, StepChoice{s.ID, s.Title, s.ID == view.Draft.Step})
	}
	notes, err := v.Store.Notes(v.Ctx(), v.State.Heater)
	if err != nil {
		return err
	}
	spent := 0.0
	for _, n := range notes {
		x := NoteView{When: units.Time(n.When(), "2 January 2006, 15:04", f.Units), Step: titles[n.Step],
			Note: n.Note, Width: n.Width, Height: n.Height,
			Vals: f.Vals("", map[string]string{"note": ui.ID(n.ID)})}
		if n.Cost != 0 {
			x.Cost = f.Sum(n.Cost, 2)
			spent += n.Cost
		}
		if n.Width > 0 {
			x.Photo = f.StationURL("journal/photo/" + ui.ID(n.ID))
		}
		view.Notes = append(view.Notes, x)
	}
	if spent > 0 {
		view.Sum = f.Sum(spent, 2)
	}
	return sv.past(v, view, steps)
}

// steps are those of the heater; none where it cannot be laid out.
func (sv station) steps(v *ui.Visit) ([]buildplan.Step, error) {
	if v.Heater == nil || v.Heater.Misfit != nil {
		return nil, nil
	}
	return buildplan.Build(v.Doc(), &v.Heater.Layout)
}

// past fills in what steps took and what was changed.
func (sv station) past(v *ui.Visit, view *View, steps []buildplan.Step) error {
	done, err := v.Store.Steps(v.Ctx(), v.State.Heater)
	if err != nil {
		return err
	}
	for _, x := range done {
		for _, s := range steps {
			if s.ID == x.Step && x.Minutes > 0 {
				view.Times = append(view.Times, TimeRow{s.Title, minutes(s.Minutes), minutes(float64(x.Minutes))})
			}
		}
	}
	changes, err := v.Store.LastEdits(v.Ctx(), v.State.Heater, edits)
	if err != nil {
		return err
	}
	for _, e := range changes {
		n := store.Note{At: e.At}
		when := units.Time(n.When(), "2 Jan, 15:04", v.F.Units)
		view.Edits = append(view.Edits, fmt.Sprintf("%s, version %s: %s", when, e.Version, ui.Capital(changed(&e, v.F.Units))))
	}
	return nil
}

// minutes writes a time of work.
func minutes(m float64) string { return fmt.Sprintf("%.0f min", m) }

// again answers with the page anew.
func (sv station) again(c *echo.Context, st store.State, bad *refused) error {
	v, err := sv.Visit(c, st, "journal")
	if err != nil {
		return err
	}
	if v.Heater != nil {
		if err := sv.open(v, bad); err != nil {
			return err
		}
	}
	return v.Changed("")
}

// add writes a note.
func (sv station) add(c *echo.Context) error {
	st, err := sv.Current(c)
	if err != nil {
		return err
	}
	d := Draft{Note: strings.TrimSpace(c.FormValue("note")), Step: c.FormValue("about"), Cost: strings.TrimSpace(c.FormValue("cost"))}
	n := store.Note{Note: d.Note, Step: d.Step}
	refuse := func(why string) error { return sv.again(c, st, &refused{draft: d, why: ui.Capital(why)}) }
	if len(d.Note) > longest || len(d.Step) > 60 {
		return refuse(fmt.Sprintf("the note is too long: write at most %d letters", longest))
	}
	if d.Cost != "" {
		if n.Cost, err = units.ParseMoney(d.Cost, ui.NewPage(c, "").Units); err != nil || !(n.Cost >= 0 && n.Cost <= dearest) {
			return refuse(fmt.Sprintf("%q is not a sum of money: enter a number", d.Cost))
		}
	}
	var photo []byte
	file := ui.FileOf(c, "photo")
	switch {
	case file != nil && file.Size > 0:
		p, err := formats.ReadPhoto(file)
		if err != nil {
			return refuse(err.Error())
		}
		photo, n.Width, n.Height = p.JPEG, p.Width, p.Height
	case d.Note == "":
		return refuse("write a note or choose a photo")
	}
	if _, err := sv.Store.AddNote(c.Request().Context(), st.Heater, n, photo); err != nil {
		return err
	}
	return sv.again(c, st, nil)
}

// drop removes a note, or puts it back.
func (sv station) drop(c *echo.Context) error {
	st, err := sv.Current(c)
	if err != nil {
		return err
	}
	id, err := strconv.ParseInt(c.FormValue("note"), 10, 64)
	if err != nil {
		return sv.again(c, st, nil)
	}
	back := c.FormValue("back") != ""
	if err := sv.Store.DropNote(c.Request().Context(), st.Heater, id, back); err != nil {
		return err
	}
	if back {
		return sv.again(c, st, nil)
	}
	return sv.again(c, st, &refused{undo: id})
}

// photo sends the photo of a note.
func (sv station) photo(c *echo.Context) error {
	st, err := sv.Current(c)
	if err != nil {
		return err
	}
	id, err := strconv.ParseInt(c.Param("note"), 10, 64)
	if err != nil {
		return echo.NewHTTPError(http.StatusNotFound, "")
	}
	b, err := sv.Store.NotePhoto(c.Request().Context(), st.Heater, id)
	if errors.Is(err, store.ErrNotFound) {
		return echo.NewHTTPError(http.StatusNotFound, "That photo is gone.")
	}
	if err != nil {
		return err
	}
	c.Response().Header().Set("Cache-Control", "private, max-age=86400")
	return c.Blob(http.StatusOK, "image/jpeg", b)
}

// changed says what a change did, with the value before and after it where one field was changed: glazing width, 33 in to 34 in.
func changed(e *store.Edit, u units.System) string {
	f := design.FieldAt(e.Path)
	if f == nil || f.Rows != nil || e.Label != f.Label {
		return e.Label
	}
	before, after := f.InWords(&e.Before, u), f.InWords(&e.After, u)
	if before == "" || after == "" || before == after {
		return e.Label
	}
	return e.Label + ", " + before + " to " + after
}

package logs

import (
	"cmp"
	"slices"
	"strconv"
	"strings"
	"time"

	"github.com/labstack/echo/v5"

	"gladember/app/service"
	"gladember/app/store"
	"gladember/app/web/ui"
	"gladember/core/collector"
	"gladember/core/measure"
)

// NoteRow is a note that is pinned to a moment, or a test that was made then.
type NoteRow struct {
	When, Text string
	Vals       string // takes it off; empty for a test
	at         time.Time
}

// notes are what is pinned to a stretch of a log: notes of the journal, and tests.
func notes(v *ui.Visit, l *service.Log, from, to time.Time) (rows []NoteRow, err error) {
	pinned, err := v.Store.Pinned(v.Ctx(), v.State.Heater, from, to)
	if err != nil {
		return nil, err
	}
	when := "2 January 15:04"
	for _, n := range pinned {
		rows = append(rows, NoteRow{n.About().In(l.Setup.Zone).Format(when), n.Note, v.F.Vals("", map[string]string{"note": ui.ID(n.ID)}),
			n.About()})
	}
	trials, err := v.Store.Trials(v.Ctx(), v.State.Heater)
	if err != nil {
		return nil, err
	}
	for _, t := range trials {
		if t.Version != v.State.Version || t.When().Before(from) || !t.When().Before(to) {
			continue
		}
		text := t.Result
		if x := measure.FindTrial(t.Kind); x != nil {
			text = x.Title + ": " + t.Result
		}
		rows = append(rows, NoteRow{When: t.When().In(l.Setup.Zone).Format(when), Text: text, at: t.When()})
	}
	slices.SortStableFunc(rows, func(a, b NoteRow) int { return cmp.Compare(a.at.UnixMilli(), b.at.UnixMilli()) })
	return rows, nil
}

// moment reads a date with a time of day by the clock of the heater.
func moment(text string, zone *time.Location) (time.Time, bool) {
	at, err := time.ParseInLocation("2006-01-02T15:04", text, zone)
	return at, err == nil && at.Year() >= 1990 && at.Year() <= 2100
}

// longestNote is how long a note on a chart may be.
const longestNote = 400

// note pins a note to a moment.
func (sv station) note(c *echo.Context) error {
	st, err := sv.Current(c)
	if err != nil {
		return err
	}
	at, ok := moment(c.FormValue("at"), collector.Site(&st.Document).Zone)
	text := strings.TrimSpace(c.FormValue("text"))
	switch {
	case !ok:
		return sv.declined(c, st, "Enter the day and the time that the note is about, or touch the chart there.")
	case text == "":
		return sv.declined(c, st, "Write what happened then.")
	case len(text) > longestNote:
		return sv.declined(c, st, "The note is too long: write at most "+strconv.Itoa(longestNote)+" letters, and the rest in the journal.")
	}
	if _, err := sv.Store.AddNote(c.Request().Context(), st.Heater, store.Note{Note: text, Moment: at.UnixMilli()}, nil); err != nil {
		return err
	}
	return sv.mended(c, st, "The note is on the chart and in the journal.")
}

// dropNote takes a note off.
func (sv station) dropNote(c *echo.Context) error {
	st, err := sv.Current(c)
	if err != nil {
		return err
	}
	id, _ := strconv.ParseInt(c.FormValue("note"), 10, 64)
	if err := sv.Store.DropNote(c.Request().Context(), st.Heater, id, false); err != nil {
		return err
	}
	return sv.mended(c, st, "The note is removed from the chart and from the journal.")
}

// elsewhere lists the files whose readings other versions of the heater made.
func (view *View) elsewhere(v *ui.Visit) error {
	for _, ver := range v.State.Versions {
		if ver.ID == v.State.Version {
			continue
		}
		list, err := v.Store.Imports(v.Ctx(), store.Logged{Heater: v.State.Heater, Version: ver.ID})
		if err != nil {
			return err
		}
		for _, x := range list {
			row := importRow(v.F, x)
			row.Version = ver.Name
			row.Move = v.F.StationURL("log/imports/" + ui.ID(x.ID) + "/version")
			view.Elsewhere = append(view.Elsewhere, row)
		}
	}
	return nil
}

// moveImport says that the readings of a file were made by the version that is open.
func (sv station) moveImport(c *echo.Context) error {
	st, err := sv.Current(c)
	if err != nil {
		return err
	}
	id, _ := strconv.ParseInt(c.Param("import"), 10, 64)
	if err := sv.Store.SetImportVersion(c.Request().Context(), st.Heater, id, st.Version); err != nil {
		return err
	}
	return c.Redirect(303, ui.HeaterURL(st.Heater, "log"))
}

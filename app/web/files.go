package web

import (
	"bytes"
	"errors"
	"fmt"
	"io"
	"net/http"
	"net/url"
	"strconv"
	"strings"
	"time"

	"github.com/labstack/echo/v5"

	"gladember/app/formats"
	"gladember/app/store"
	"gladember/core/collector"
	"gladember/core/units"
)

func (sv *Server) upload(c *echo.Context) error {
	st, err := sv.current(c)
	if err != nil {
		return err
	}
	fh, err := c.FormFile("file")
	if err != nil {
		return sv.again(c, st, "log", "No file came; choose the logger's CSV first.")
	}
	src, err := fh.Open()
	if err != nil {
		return err
	}
	defer src.Close()
	data, err := io.ReadAll(io.LimitReader(src, formats.MaxLog+1))
	if err != nil {
		return err
	}
	if _, err := formats.Open(bytes.NewReader(data)); err != nil {
		return sv.again(c, st, "log", fh.Filename+": "+err.Error())
	}
	id, err := sv.store.PutUpload(c.Request().Context(), st.Heater, fh.Filename, data)
	if err != nil {
		return err
	}
	return c.Redirect(http.StatusSeeOther, heaterURL(st.Heater, "log", "columns")+"?"+url.Values{"file": {strconv.FormatInt(id, 10)}}.Encode())
}

// ColumnsView is a file whose columns are being chosen.
type ColumnsView struct {
	*Frame
	File    string
	FileID  int64
	Columns []ColumnView
	Rows    [][]string
	Comma   bool
	Month   bool
	Good    int
	Left    string // what of the file is left out
	Error   string
	Report  string
	Beside  string // the file beside the log
	Ask     bool   // it holds other values than the log
	Nothing bool   // it holds nothing that the log does not
	Post    string
	Import  string
}

// ColumnView is one column with what it is read as.
type ColumnView struct {
	Index      int
	Name       string
	Choices    []ChoiceView
	Fahrenheit bool
	Warmth     bool
}

var channels = []struct {
	c    formats.Channel
	name string
}{
	{formats.Ignore, "leave out"}, {formats.Time, "time"}, {formats.Clock, "time of day"}, {formats.Inlet, "from the room"}, {formats.Outlet, "out of the box"},
	{formats.Outdoor, "outdoors"}, {formats.Sun, "sun, W/m²"}, {formats.Speed, "air speed, m/s"},
}

// opened reads a kept file and the columns as the form has them, or as guessed.
func (sv *Server) opened(c *echo.Context, st store.State) (store.Upload, *formats.Table, formats.Mapping, error) {
	id, _ := strconv.ParseInt(c.FormValue("file"), 10, 64)
	u, err := sv.store.GetUpload(c.Request().Context(), st.Heater, id)
	if err != nil {
		return u, nil, formats.Mapping{}, err
	}
	t, err := formats.Open(bytes.NewReader(u.Data))
	if err != nil {
		return u, nil, formats.Mapping{}, err
	}
	m := t.Guess
	if c.FormValue("chosen") != "" {
		m.Columns = append([]formats.Channel(nil), m.Columns...)
		m.Fahrenheit = append([]bool(nil), m.Fahrenheit...)
		for i := range m.Columns {
			m.Columns[i] = formats.Channel(c.FormValue("col" + strconv.Itoa(i)))
			m.Fahrenheit[i] = c.FormValue("f"+strconv.Itoa(i)) != ""
		}
		m.DecimalComma, m.MonthFirst = c.FormValue("comma") != "", c.FormValue("month") != ""
	}
	return u, t, m, nil
}

func (sv *Server) columnsView(c *echo.Context) (*ColumnsView, error) {
	st, err := sv.current(c)
	if err != nil {
		return nil, err
	}
	f, _ := sv.frame(c, st, "log")
	u, t, m, err := sv.opened(c, st)
	if err != nil {
		return nil, echo.NewHTTPError(http.StatusNotFound, err.Error())
	}
	v := &ColumnsView{Frame: f, File: u.Name, FileID: u.ID, Comma: m.DecimalComma, Month: m.MonthFirst, Post: heaterURL(st.Heater, "log", "columns"), Import: heaterURL(st.Heater, "log", "import")}
	for i, name := range t.Names {
		col := ColumnView{Index: i, Name: name, Fahrenheit: i < len(m.Fahrenheit) && m.Fahrenheit[i]}
		ch := formats.Ignore
		if i < len(m.Columns) {
			ch = m.Columns[i]
		}
		for _, x := range channels {
			col.Choices = append(col.Choices, ChoiceView{string(x.c), x.name, x.c == ch})
		}
		col.Warmth = ch == formats.Inlet || ch == formats.Outlet || ch == formats.Outdoor
		v.Columns = append(v.Columns, col)
	}
	for _, row := range t.Preview {
		r := make([]string, len(t.Names))
		copy(r, row)
		v.Rows = append(v.Rows, r)
	}
	site := collector.Site(&st.Document)
	samples, bad, err := t.Read(m, site.Zone, f.Units)
	v.Good, v.Left = len(samples), leftOut(bad)
	if err != nil {
		v.Error = err.Error()
		return v, nil
	}
	first, last := samples[0], samples[len(samples)-1]
	v.Report = fmt.Sprintf("%d readings from %s to %s. First: %s from the room, %s out of the box.", len(samples),
		first.At.In(site.Zone).Format("2 January 2006 15:04"), last.At.In(site.Zone).Format("2 January 2006 15:04"),
		units.Format(units.Temperature, first.Inlet, f.Units), units.Format(units.Temperature, first.Outlet, f.Units))
	beside, err := sv.store.CompareReadings(c.Request().Context(), st.Heater, samples)
	if err != nil {
		return nil, err
	}
	v.Ask, v.Nothing = beside.Different > 0, beside.New+beside.Different == 0
	v.Beside = besideLog(beside, site.Zone, f.Units)
	return v, nil
}

// leftOut says what of a file cannot be used.
func leftOut(bad []formats.Reject) string {
	lines, values := 0, 0
	for _, b := range bad {
		if b.Kept {
			values++
		} else {
			lines++
		}
	}
	var what []string
	if lines > 0 {
		what = append(what, plural(lines, "line", "lines"))
	}
	if values > 0 {
		what = append(what, plural(values, "value", "values"))
	}
	if len(what) == 0 {
		return ""
	}
	return fmt.Sprintf("Left out: %s. The first is in line %d: %s.", listed(what), bad[0].Line, bad[0].Reason)
}

// plural writes a number of things.
func plural(n int, one, many string) string {
	if n == 1 {
		return "1 " + one
	}
	return strconv.Itoa(n) + " " + many
}

// besideLog says what of a file the log holds already, and what otherwise.
func besideLog(c store.Compared, zone *time.Location, u units.System) string {
	switch {
	case c.Same+c.Different == 0:
		return ""
	case c.New+c.Different == 0:
		return "All of it is in the log already."
	}
	var parts []string
	for _, p := range []struct {
		n    int
		what string
	}{{c.New, "new to the log"}, {c.Same, "in it already"}, {c.Different, "different there"}} {
		if p.n > 0 {
			parts = append(parts, fmt.Sprintf("%d are %s", p.n, p.what))
		}
	}
	say := "Of the values in this file " + listed(parts) + "."
	if d := c.First; d != nil {
		say += fmt.Sprintf(" The first that differs: %s at %s is %s in the log and %s in this file.",
			d.Name, d.At.In(zone).Format("2 January 2006 15:04"), units.Format(d.Kind, d.In, u), units.Format(d.Kind, d.New, u))
	}
	return say
}

func (sv *Server) columns(c *echo.Context) error {
	v, err := sv.columnsView(c)
	if err != nil {
		return err
	}
	return c.Render(http.StatusOK, "columns.html", v)
}

func (sv *Server) columnsAgain(c *echo.Context) error {
	v, err := sv.columnsView(c)
	if err != nil {
		return err
	}
	return c.Render(http.StatusOK, "columns", v)
}

func (sv *Server) importLog(c *echo.Context) error {
	st, err := sv.current(c)
	if err != nil {
		return err
	}
	u, t, m, err := sv.opened(c, st)
	if err != nil {
		return sv.again(c, st, "log", err.Error())
	}
	samples, _, err := t.Read(m, collector.Site(&st.Document).Zone, sv.page(c, "").Units)
	if err != nil {
		return sv.again(c, st, "log", u.Name+": "+err.Error())
	}
	rc := c.Request().Context()
	replace := c.FormValue("replace")
	if replace == "" { // the page saw no difference, but another page may have brought one since
		beside, err := sv.store.CompareReadings(rc, st.Heater, samples)
		if err != nil {
			return err
		}
		if beside.Different > 0 {
			return sv.columns(c)
		}
	}
	imp, err := sv.store.AddReadings(rc, st.Heater, u.Name, samples, replace == "yes")
	if err != nil {
		return err
	}
	if err := sv.store.DropUpload(rc, u.ID); err != nil {
		return err
	}
	if imp.ID == 0 {
		f, err := sv.at(c, st, "log")
		if err != nil {
			return err
		}
		f.Notice = fmt.Sprintf("Nothing of %s was taken in: the log stays as it was.", u.Name)
		return c.Render(http.StatusOK, "frame.html", f)
	}
	return c.Redirect(http.StatusSeeOther, heaterURL(st.Heater, "log"))
}

// ImportRow is a file taken in.
type ImportRow struct {
	Name, What, When, Remove string
}

func importRow(heater int64, x store.Import) ImportRow {
	r := ImportRow{Name: x.Name, What: plural(x.Added, "new value", "new values"), Remove: heaterURL(heater, "log", "imports", strconv.FormatInt(x.ID, 10), "remove")}
	if x.Changed > 0 {
		r.What += ", " + strconv.Itoa(x.Changed) + " replaced"
	}
	if x.At > 0 {
		r.When = x.Day().Format("2 January 15:04")
	}
	return r
}

func (sv *Server) removeImport(c *echo.Context) error {
	st, err := sv.current(c)
	if err != nil {
		return err
	}
	id, _ := strconv.ParseInt(c.Param("import"), 10, 64)
	if err := sv.store.RemoveImport(c.Request().Context(), st.Heater, id); err != nil && !errors.Is(err, store.ErrNotFound) {
		return err
	}
	return c.Redirect(http.StatusSeeOther, heaterURL(st.Heater, "log"))
}

// listed joins parts of a sentence: a, b and c.
func listed(parts []string) string {
	if len(parts) < 2 {
		return strings.Join(parts, "")
	}
	return strings.Join(parts[:len(parts)-1], ", ") + " and " + parts[len(parts)-1]
}

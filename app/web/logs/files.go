package logs

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"net/http"
	"net/url"
	"strconv"
	"time"

	"github.com/labstack/echo/v5"

	"gladember/app/formats"
	"gladember/app/store"
	"gladember/app/towns"
	"gladember/app/web/ui"
	"gladember/core/climate"
	"gladember/core/collector"
	"gladember/core/design"
	"gladember/core/units"
)

// mostFiles is how many files are taken at once.
const mostFiles = 40

// upload keeps the files that were chosen until their columns are; the first that cannot be read is told, and none is kept.
func (sv station) upload(c *echo.Context) error {
	st, err := sv.Current(c)
	if err != nil {
		return err
	}
	files := ui.Files(c, "file")
	if len(files) == 0 {
		return sv.Again(c, st, "log", "No file was sent; choose the logger's CSV or spreadsheet first.")
	}
	if len(files) > mostFiles {
		return sv.Again(c, st, "log", fmt.Sprintf("Choose at most %d files at once.", mostFiles))
	}
	ctx := c.Request().Context()
	if err := sv.Store.DropUploads(ctx, st.Heater); err != nil {
		return err
	}
	for _, fh := range files {
		wrong, err := sv.keep(ctx, st.Heater, fh)
		if err != nil {
			return err
		}
		if wrong != nil {
			_ = sv.Store.DropUploads(ctx, st.Heater)
			return sv.Again(c, st, "log", fh.Named+": "+wrong.Error())
		}
	}
	return sv.next(c, st.Heater)
}

// keep keeps a file that was sent; wrong says why it is no log.
func (sv station) keep(ctx context.Context, heater int64, src *ui.Sent) (wrong, err error) {
	t, wrong := formats.Scan(src, src.Size, sv.Store.TemporaryFolder())
	if wrong != nil {
		return wrong, nil
	}
	t.Close()
	_, err = sv.Store.PutUpload(ctx, heater, src.Named, src)
	return nil, err
}

// next goes to the columns of the next file that waits, or back to the log.
func (sv station) next(c *echo.Context, heater int64) error {
	id, err := sv.Store.NextUpload(c.Request().Context(), heater)
	if err != nil {
		return err
	}
	if id == 0 {
		return c.Redirect(http.StatusSeeOther, ui.HeaterURL(heater, "log"))
	}
	return c.Redirect(http.StatusSeeOther, ui.HeaterURL(heater, "log", "columns")+"?"+
		url.Values{"file": {strconv.FormatInt(id, 10)}}.Encode())
}

// ColumnsView is a file whose columns are being chosen.
type ColumnsView struct {
	*ui.Frame
	File    string
	FileID  int64
	Columns []ColumnView
	Rows    [][]string
	Comma   bool
	Month   bool
	Version string // of the heater, to which the readings go; empty where there is one only
	Good    string // readings that can be imported
	Left    string // what of the file is left out
	Error   string
	Report  string
	Beside  string // the file beside the log
	Ask     bool   // it holds other values than the log
	Nothing bool   // it holds nothing that the log does not
	Decided []string
	Long    string // how much of the file is still being read, its page being there already
	LongURL string
	Open    bool // its dates can be read both ways, and nobody said which
	Example string
}

// ColumnView is one column with what it is read as.
type ColumnView struct {
	Index       int
	Name        string
	Choices     []ui.ChoiceView
	Fahrenheit  bool
	Temperature bool
}

// channels are what a column may hold.
var channels = []struct {
	c    formats.Channel
	name string
}{
	{formats.Ignore, "not used"}, {formats.Time, "date and time"}, {formats.Clock, "time of day"}, {formats.Inlet, "inlet temperature"},
	{formats.Outlet, "outlet temperature"}, {formats.Outdoor, "outdoor temperature"}, {formats.Sun, "sun, W/m²"},
	{formats.Speed, "air speed, m/s"},
}

// opened is a kept file with its columns as the form has them, or as guessed.
type opened struct {
	store.Upload
	*formats.Table
	formats.Mapping
}

// Close closes the file.
func (o *opened) Close() {
	o.Table.Close()
	o.Upload.Close()
}

// open opens a kept file.
func (sv station) open(c *echo.Context, st store.State) (*opened, error) {
	id, _ := strconv.ParseInt(c.FormValue("file"), 10, 64)
	u, err := sv.Store.GetUpload(c.Request().Context(), st.Heater, id)
	if err != nil {
		return nil, err
	}
	t, err := formats.Scan(u.File, u.Size, sv.Store.TemporaryFolder())
	if err != nil {
		u.Close()
		return nil, err
	}
	if saved, err := sv.Store.Profile(c.Request().Context(), t.Shape()); err == nil && saved != "" {
		var before formats.Mapping
		if json.Unmarshal([]byte(saved), &before) == nil {
			t.Recall(before)
		}
	}
	t.Settle(sv.around(&st.Document))
	m := t.Guess
	if c.FormValue("chosen") != "" {
		m.Columns = append([]formats.Channel(nil), m.Columns...)
		m.Fahrenheit = append([]bool(nil), m.Fahrenheit...)
		for i := range m.Columns {
			m.Columns[i] = formats.Channel(c.FormValue("col" + strconv.Itoa(i)))
			m.Fahrenheit[i] = c.FormValue("f"+strconv.Itoa(i)) != ""
		}
		m.DecimalComma = c.FormValue("comma") != ""
		if order := c.FormValue("order"); order != "" {
			m.MonthFirst, t.DateOpen = order == "month", false
		}
	}
	return &opened{u, t, m}, nil
}

// into reads an opened file into a batch, with the first line that could not be used and how many there are.
func (o *opened) into(b *store.Batch, zone *time.Location, u units.System) (bad rejects, err error) {
	err = o.Each(o.Mapping, zone, u, b.Add, bad.add)
	return bad, err
}

// rejects counts what could not be used.
type rejects struct {
	lines, values int
	first         formats.Reject
}

func (r *rejects) add(x formats.Reject) {
	if r.lines+r.values == 0 {
		r.first = x
	}
	if x.Kept {
		r.values++
	} else {
		r.lines++
	}
}

// around is what is known of the place of a heater that helps to read its logs.
func (sv station) around(h *design.Heater) formats.Context {
	var c formats.Context
	if g, err := towns.Load(); err == nil && h.Place.Town != "" {
		first := g.Near(h.Place.Latitude, h.Place.Longitude).MonthFirst()
		c.MonthFirst = &first
	}
	if means, ok := climate.MonthMeans(h); ok {
		c.Mean = func(m time.Month) float64 { return means[m-1] }
	}
	return c
}

// columnsView shows a file as it would be read.
func (sv station) columnsView(c *echo.Context) (*ColumnsView, error) {
	st, err := sv.Current(c)
	if err != nil {
		return nil, err
	}
	v, err := sv.Visit(c, st, "log")
	if err != nil {
		return nil, err
	}
	done, err := sv.Turn(v.Ctx())
	if err != nil {
		return nil, err
	}
	defer done()
	o, err := sv.open(c, st)
	if err != nil {
		return nil, echo.NewHTTPError(http.StatusNotFound, err.Error())
	}
	defer o.Close()
	view := &ColumnsView{Frame: v.F, File: o.Upload.Name, FileID: o.ID, Comma: o.DecimalComma, Month: o.MonthFirst}
	view.Decided, view.Open = o.Decided, o.DateOpen
	view.columns(o.Table, o.Mapping)
	if len(st.Versions) > 1 {
		view.Version = st.Name
	}
	if view.Open {
		view.Example = o.Rows[0][o.Index(formats.Time)]
		return view, nil
	}
	zone := collector.Site(v.Doc()).Zone
	batch, err := sv.Store.Preview(v.Ctx(), st.Logged())
	if err != nil {
		return nil, err
	}
	bad, err := o.into(batch, zone, v.F.Units)
	view.Decided, view.Left = o.Decided, leftOut(bad, v.F.Units)
	if err != nil {
		view.Error = ui.Capital(err.Error())
		return view, nil
	}
	view.Good = ui.Count(batch.Count, "reading", "readings", v.F.Units)
	first, last := batch.First, batch.Last
	view.Report = fmt.Sprintf("%s from %s to %s. First: inlet %s, outlet %s.", view.Good, dated(first.At, zone), dated(last.At, zone),
		units.Format(units.Temperature, first.Inlet, v.F.Units), units.Format(units.Temperature, first.Outlet, v.F.Units))
	beside, err := sv.Store.CompareReadings(v.Ctx(), st.Logged(), batch)
	if err != nil {
		return nil, err
	}
	view.Ask, view.Nothing = beside.Different > 0, beside.New+beside.Different == 0
	view.Beside = besideLog(beside, zone, v.F.Units)
	return view, nil
}

// columns lists the file's columns and first rows.
func (view *ColumnsView) columns(t *formats.Table, m formats.Mapping) {
	for i, name := range t.Names {
		col := ColumnView{Index: i, Name: name, Fahrenheit: i < len(m.Fahrenheit) && m.Fahrenheit[i]}
		ch := formats.Ignore
		if i < len(m.Columns) {
			ch = m.Columns[i]
		}
		for _, x := range channels {
			col.Choices = append(col.Choices, ui.ChoiceView{ID: string(x.c), Name: x.name, Chosen: x.c == ch})
		}
		col.Temperature = ch == formats.Inlet || ch == formats.Outlet || ch == formats.Outdoor
		view.Columns = append(view.Columns, col)
	}
	for _, row := range t.Preview {
		r := make([]string, len(t.Names))
		copy(r, row)
		view.Rows = append(view.Rows, r)
	}
}

// leftOut says what of a file cannot be used.
func leftOut(bad rejects, u units.System) string {
	var what []string
	if bad.lines > 0 {
		what = append(what, ui.Count(bad.lines, "line", "lines", u))
	}
	if bad.values > 0 {
		what = append(what, ui.Count(bad.values, "value", "values", u))
	}
	if len(what) == 0 {
		return ""
	}
	return fmt.Sprintf("Not used: %s. The first is in line %d: %s.", ui.List(what), bad.first.Line, bad.first.Reason)
}

// besideLog says what of a file the log holds already, and what differs.
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
	}{{c.New, "are new to the log"}, {c.Same, "are in it already"}, {c.Different, "differ from it"}} {
		if p.n > 0 {
			parts = append(parts, ui.Whole(float64(p.n), u)+" "+p.what)
		}
	}
	text := "Of the values in this file " + ui.List(parts) + "."
	if d := c.First; d != nil {
		text += fmt.Sprintf(" The first that differs: %s at %s is %s in the log and %s in this file.", d.Name, dated(d.At, zone),
			units.Format(d.Kind, d.In, u), units.Format(d.Kind, d.New, u))
	}
	return text
}

func (sv station) columns(c *echo.Context) error {
	r := c.Request()
	behind := r.Header.Get("HX-Request") != "" // the page is there, and waits for what a long file holds
	if r.Method == http.MethodGet && !behind {
		view, err := sv.longFile(c)
		if err != nil {
			return err
		}
		if view.Long != "" {
			return c.Render(http.StatusOK, "log-columns.html", view)
		}
	}
	view, err := sv.columnsView(c)
	if err != nil {
		return err
	}
	if behind {
		return c.Render(http.StatusOK, "log-columns", view)
	}
	return c.Render(http.StatusOK, "log-columns.html", view)
}

// longFile is the page of a file's columns while the file is read, where that takes longer than a page may; else its Long is empty.
func (sv station) longFile(c *echo.Context) (*ColumnsView, error) {
	const long = 4 << 20 // bytes, a quarter of a second
	st, err := sv.Current(c)
	if err != nil {
		return nil, err
	}
	id, _ := strconv.ParseInt(c.FormValue("file"), 10, 64)
	u, err := sv.Store.GetUpload(c.Request().Context(), st.Heater, id)
	if err != nil {
		return nil, echo.NewHTTPError(http.StatusNotFound, err.Error())
	}
	u.Close()
	if u.Size < long {
		return &ColumnsView{}, nil
	}
	v, err := sv.Visit(c, st, "log")
	if err != nil {
		return nil, err
	}
	return &ColumnsView{Frame: v.F, File: u.Name, Long: fmt.Sprintf("%d MB", u.Size/1e6),
		LongURL: v.F.StationURL("log/columns", "file", strconv.FormatInt(id, 10))}, nil
}

func (sv station) columnsAgain(c *echo.Context) error {
	view, err := sv.columnsView(c)
	if err != nil {
		return err
	}
	return c.Render(http.StatusOK, "log-columns", view)
}

// importLog adds a file's readings to the log.
func (sv station) importLog(c *echo.Context) error {
	st, err := sv.Current(c)
	if err != nil {
		return err
	}
	ctx := c.Request().Context()
	done, err := sv.Turn(ctx)
	if err != nil {
		return err
	}
	defer done()
	o, err := sv.open(c, st)
	if err != nil {
		return sv.Again(c, st, "log", ui.Capital(err.Error()))
	}
	defer o.Close()
	if o.DateOpen { // the page asks for it
		done()
		return sv.columns(c)
	}
	batch := &store.Batch{}
	if _, err := o.into(batch, collector.Site(&st.Document).Zone, ui.NewPage(c, "").Units); err != nil {
		return sv.Again(c, st, "log", o.Upload.Name+": "+err.Error())
	}
	replace := c.FormValue("replace")
	if replace == "" { // the page saw no difference, but another page may have brought one since
		beside, err := sv.Store.CompareReadings(ctx, st.Logged(), batch)
		if err != nil {
			return err
		}
		if beside.Different > 0 {
			done()
			return sv.columns(c)
		}
	}
	imp, err := sv.Store.AddReadings(ctx, st.Logged(), o.Upload.Name, batch, replace == "yes")
	if err != nil {
		return err
	}
	if err := sv.Store.DropUpload(ctx, o.ID); err != nil {
		return err
	}
	if read, err := json.Marshal(o.Mapping); err == nil {
		if err := sv.Store.SetProfile(ctx, o.Shape(), string(read)); err != nil {
			return err
		}
	}
	if imp.ID == 0 {
		return sv.Again(c, st, "log", fmt.Sprintf("Nothing of %s was imported; the log is unchanged.", o.Upload.Name))
	}
	return sv.next(c, st.Heater)
}

// ImportRow is an imported file.
type ImportRow struct {
	Name, What, When, Remove string
	Version                  string // that made the readings, where it is another one
	Move                     string // where they are moved to the version that is open
}

// importRow says what an imported file brought.
func importRow(f *ui.Frame, x store.Import) ImportRow {
	r := ImportRow{Name: x.Name, What: ui.Count(x.Added, "new value", "new values", f.Units),
		Remove: f.StationURL("log/imports/" + ui.ID(x.ID) + "/remove")}
	if x.Changed > 0 {
		r.What += ", " + ui.Whole(float64(x.Changed), f.Units) + " replaced"
	}
	if x.At > 0 {
		r.When = x.Day().Format("2 January 15:04")
	}
	return r
}

// restoreImport puts a removed file back.
func (sv station) restoreImport(c *echo.Context) error {
	return sv.onImport(c, sv.Store.RestoreImport)
}

// removeImport removes a file from the log.
func (sv station) removeImport(c *echo.Context) error {
	return sv.onImport(c, sv.Store.RemoveImport)
}

// onImport does something to a file of the log, and shows the log again.
func (sv station) onImport(c *echo.Context, do func(ctx context.Context, heater, id int64) error) error {
	st, err := sv.Current(c)
	if err != nil {
		return err
	}
	id, _ := strconv.ParseInt(c.Param("import"), 10, 64)
	if err := do(c.Request().Context(), st.Heater, id); err != nil && !errors.Is(err, store.ErrNotFound) {
		return err
	}
	return c.Redirect(http.StatusSeeOther, ui.HeaterURL(st.Heater, "log"))
}

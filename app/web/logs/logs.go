// Package logs is the station of the readings: what the heater really gave, how sure that is, and what was expected.
package logs

import (
	"embed"
	"fmt"
	"html/template"
	"math"
	"time"

	"github.com/labstack/echo/v5"

	"gladember/app/drawing"
	"gladember/app/service"
	"gladember/app/web/ui"
	"gladember/core/advice"
	"gladember/core/air"
	"gladember/core/collector"
	"gladember/core/design"
	"gladember/core/measure"
	"gladember/core/units"
)

//go:embed *.html
var templates embed.FS

// New returns the station.
func New() *ui.Station {
	return &ui.Station{
		Key: "log", Name: "Log", Group: ui.Measure, Templates: templates, Topics: []advice.Topic{advice.Measuring}, Quiet: true,
		Fresh: true,
		Open:  open, Summary: summary, Routes: routes, Workings: workings,
	}
}

// View is the center of the station.
type View struct {
	Empty     bool
	Trouble   string // why the readings cannot be judged
	Judging   string // how many readings are being judged; empty for none
	JudgeURL  string // brings the page once they are
	DayWords  string
	SunUnit   string
	Summary   string
	Shown     Shown
	PlayURL   string // the day in the station of the switch
	Notes     []NoteRow
	NoteURL   string
	DropNote  string
	Beside    BesideView
	Elsewhere []ImportRow // files of other versions
	Removed   []ImportRow // files in the trash
	Excluded  []ExcludedRow
	Exclude   string // where a stretch is sent to be left out
	Include   string // where one is taken back
	Day       string
	HandURL   string // where a reading by hand is sent
	HandAt    string
	Hand      []HandAsk
	FitURL    string
	FitVals   string
	Bar       ui.Chart
	Strip     ui.Chart
	Hours     ui.DayTable
	Doubts    []DoubtRow
	Missing   string // what was expected beside what was measured
	Telling   bool   // the two differ by more than their uncertainties
	FlowNote  string
	Imports   []ImportRow
	UploadURL string
}

// DoubtRow is what is wrong with the log.
type DoubtRow struct {
	measure.Finding
	Danger  bool
	Vals    string // what its remedy sends; empty where there is none to apply
	Act     string // what that does
	Stretch string // what excludes the stretch that it concerns; empty for none
}

// acts are what a touch on a finding's remedy does, by the field that it changes.
var acts = map[string]string{design.LogFlowIs.Path: "Use the predicted flow", design.LogClockOff.Path: "Correct the clock",
	design.LogSwapped.Path: "Swap inlet and outlet"}

// HandAsk is one value of a reading by hand.
type HandAsk struct{ Name, Label, Unit string }

// summary is the log's line in the list of stations.
func summary(v *ui.Visit) (string, bool, error) {
	if rows, err := v.DaysWait(v.Ctx(), &v.State); err == nil && rows > 0 { // they are counted once the log is judged
		return ui.Count(rows, "reading", "readings", v.F.Units), true, nil
	}
	days, err := v.LoggedDays(v.Ctx(), &v.State)
	switch {
	case v.Ctx().Err() != nil:
		return "", false, err
	case err != nil:
		return "the readings cannot be read", false, nil // the station says why
	case len(days) == 0:
		return "no readings yet", false, nil
	}
	return ui.Count(len(days), "day", "days", v.F.Units) + " of readings", true, nil
}

// open fills the frame.
func open(v *ui.Visit) error {
	f := v.F
	view := &View{UploadURL: f.StationURL("log/upload"), Exclude: f.StationURL("log/exclude"), Include: f.StationURL("log/include"),
		HandURL: f.StationURL("log/hand"), HandAt: time.Now().In(collector.Site(v.Doc()).Zone).Format("2006-01-02T15:04")}
	for _, q := range measure.Quantities {
		view.Hand = append(view.Hand, HandAsk{q.ID, ui.Capital(q.Name), f.Units.Unit(q.Kind)})
	}
	f.View = view
	f.Panel(design.LogGroup)
	f.Panel(design.LoggerGroup)
	imports, err := v.Store.Imports(v.Ctx(), v.State.Logged())
	if err != nil {
		return err
	}
	view.NoteURL, view.DropNote = f.StationURL("log/note"), f.StationURL("log/note/drop")
	for _, x := range imports {
		view.Imports = append(view.Imports, importRow(f, x))
	}
	if err := view.elsewhere(v); err != nil {
		return err
	}
	removed, err := v.Store.RemovedImports(v.Ctx(), v.State.Logged())
	if err != nil {
		return err
	}
	for _, x := range removed {
		row := importRow(f, x)
		row.Remove = f.StationURL("log/imports/" + ui.ID(x.ID) + "/restore")
		view.Removed = append(view.Removed, row)
	}
	if rows, err := v.LogWaits(v.Ctx(), &v.State, v.Heater, v.F.Units); err == nil && rows > 0 && v.C.Get(judgedKey) == nil {
		view.Judging = ui.Count(rows, "reading", "readings", v.F.Units)
		view.JudgeURL = f.StationURL("log/judged", "day", v.C.FormValue("day"), "span", v.C.FormValue("span"), "with",
			v.C.FormValue("with"))
		return nil
	}
	l, err := v.Log(v.Ctx(), &v.State, v.Heater, v.F.Units)
	if v.Ctx().Err() != nil {
		return err
	}
	if err != nil {
		view.Trouble = ui.Capital(err.Error())
		return nil
	}
	view.Excluded = excludedRows(f, l.Excluded, l.Setup.Zone)
	if l.Report == nil {
		view.Empty = true
		return nil
	}
	return view.day(v, l)
}

// judgment is a logged day beside what was expected of it.
type judgment struct {
	log      *service.Log
	day      measure.Day
	samples  []measure.Sample // of that day
	alone    measure.Report   // of that day alone
	expected measure.Expected
	telling  bool
}

// judge judges a logged day.
func judge(v *ui.Visit, l *service.Log, day int) (*judgment, error) {
	j := &judgment{log: l, day: l.Report.Days[day]}
	exp, err := l.Expected(v.Ctx(), v.Doc(), j.day.Date)
	if err != nil {
		return nil, err
	}
	if j.samples, err = l.Readings(v.Ctx(), j.day.Date); err != nil {
		return nil, err
	}
	if j.alone, err = measure.Analyze(j.samples, l.Setup); err != nil {
		return nil, err
	}
	if len(exp) > 0 {
		j.expected = exp[0]
		j.telling = j.expected.Heat > 0 && j.expected.Telling
	}
	return j, nil
}

// day fills the view with the day asked for.
func (view *View) day(v *ui.Visit, l *service.Log) error {
	f := v.F
	u := f.Units
	at := l.Day(v.C.FormValue("day"))
	j, err := judge(v, l, at)
	if err != nil {
		view.Trouble = ui.Capital(err.Error())
		return nil
	}
	d := j.day
	if t, err := time.Parse(time.DateOnly, d.Date); err == nil {
		view.DayWords = units.Time(t, "Monday 2 January", u)
	}
	view.Day, view.SunUnit = d.Date, u.Unit(units.Irradiance)
	view.Shown = shown(v, l, &d)
	view.PlayURL = f.StationURL("switch", "sky", d.Date)
	if view.Notes, err = notes(v, l, view.Shown.from, view.Shown.to); err != nil {
		return err
	}
	if err := view.beside(v, l, d.Date); err != nil {
		return err
	}
	view.FitURL, view.FitVals = f.StationURL("log/fit"), f.Vals("", map[string]string{"day": d.Date})
	view.Missing, view.Telling = j.words(u), j.telling
	view.Summary = ui.Sentences(
		fmt.Sprintf("%s: %s. The fan ran %s; the highest outlet temperature was %s.", view.DayWords, ui.Count(d.Samples, "reading",
			"readings", u),
			ui.Times(len(d.Runs), u),
			units.Format(units.Temperature, d.Peak, u)), gaps(len(d.Gaps), u))
	dayURL := func(date string) string { return f.StationURL("log", "day", date) }
	view.Bar = ui.Draw(func(w float64) template.HTML { return drawing.DayBar(d, j.expected, u, w) })
	view.Strip = ui.Draw(func(w float64) template.HTML { return drawing.Calendar(l.Report.Days, at, u, w, dayURL) })
	view.Hours = ui.DayTable{Unit: u.Unit(units.Temperature), Rows: hourly(j.samples, l.Setup, u)}
	for _, x := range l.Report.Findings {
		row := DoubtRow{Finding: x, Danger: x.ID == measure.MoreThanSun, Stretch: stretchVals(f, &x)}
		if len(x.Patch) > 0 {
			row.Vals, row.Act = f.TypedVals(design.FieldAt(x.Patch[0].Path), fmt.Sprint(x.Patch[0].Value)), acts[x.Patch[0].Path]
		}
		view.Doubts = append(view.Doubts, row)
	}
	view.FlowNote = flowNote(v.Doc(), l, u)
	f.Headline = j.headline(v)
	for i := range f.Stations {
		if f.Stations[i].Key == f.Station {
			f.Stations[i].Findings = len(l.Report.Findings)
		}
	}
	return nil
}

// gaps says what was left out.
func gaps(n int, u units.System) string {
	switch {
	case n == 0:
		return ""
	case n == 1:
		return "One gap is left out."
	}
	return ui.Count(n, "gap", "gaps", u) + " are left out."
}

// words set what was measured beside what was expected.
func (j *judgment) words(u units.System) string {
	kwh := func(x float64) string { return units.Format(units.Energy, x, u) }
	got, want := kwh(j.day.Heat), kwh(j.expected.Heat)
	sun := "under a clear sky"
	if j.log.Report.SunIs == "measured" {
		sun = "with the measured sun"
	}
	switch {
	case j.day.Impossible || j.expected.Heat <= 0:
		return ""
	case j.telling && j.expected.Missing > 0:
		return fmt.Sprintf("%s are missing: %s measured, %s expected %s, which is more than both uncertainties. If the sky was clear, "+
			"look for air that bypasses the absorber, then for leaks at the glazing.",
			kwh(j.expected.Missing), got, want, sun)
	case j.telling:
		return fmt.Sprintf("%s more than expected: %s measured, %s expected. Check the airflow first.", kwh(-j.expected.Missing), got, want)
	}
	return fmt.Sprintf("%s measured, %s expected %s: the two agree within their uncertainties.", got, want, sun)
}

// flowNote says which airflow the heat is computed with.
func flowNote(h *design.Heater, l *service.Log, u units.System) string {
	switch l.Report.FlowOrigin {
	case measure.FlowPredicted:
		flow := l.Setup.Flow / air.Density(h.Room.Air, l.Setup.Pressure)
		return fmt.Sprintf("Computed with %s, predicted from fan and ducts.", units.Format(units.Flow, flow, u))
	case measure.FlowMeasured:
		flow := l.Setup.Flow / air.Density(h.Room.Air, l.Setup.Pressure)
		return fmt.Sprintf("Computed with %s, as the fan was measured in this system.", units.Format(units.Flow, flow, u))
	case measure.FlowFreeAir:
		return fmt.Sprintf("Computed with %s, the fan's rated flow. No fan reaches that in a duct.",
			units.Format(units.Flow, h.Air.FanFree, u))
	case measure.FlowSpeed:
		return fmt.Sprintf("Computed with the logged air speed times %g, because air is slower at the walls of the duct.",
			measure.MeanOverCenter)
	}
	return "Computed with the airflow that you measured."
}

// headline are the figures of a logged day.
func (j *judgment) headline(v *ui.Visit) []ui.Figure {
	f, d, r := v.F, j.day, j.log.Report
	u := f.Units
	heat := f.Figure("day", "Heat of the day", units.Energy, d.Heat)
	heat.Heat, heat.Band = true, ui.Range(units.Energy, d.Band[0], d.Band[1], u)
	if len(j.alone.Causes) > 0 {
		heat.Change = "mostly " + j.alone.Causes[0].Name
	}
	total := f.Figure("total", "Heat of the whole log", units.Energy, r.Heat)
	total.Heat, total.Band, total.Change = true, ui.Range(units.Energy, r.Band[0], r.Band[1], u), ui.Count(len(r.Days), "day", "days", u)
	if d.Impossible {
		heat.Label, heat.Band, heat.Heat, heat.Change = "Heat of the day, refused", "more than the sun gave", false, ""
	}
	if r.Refused {
		total.Label, total.Band, total.Heat, total.Change = "Heat of the whole log, refused", "some days exceed the sun", false, ""
	}
	eff := ui.Figure{Key: "eff", Label: "Efficiency", Value: "–", Band: "sun " + r.SunIs}
	if x := d.Efficiency(); !math.IsNaN(x) {
		eff.Value, eff.Unit = units.Figure(units.Share, x, u), "%"
	}
	if j.expected.Heat > 0 && d.Sun > 0 {
		eff.Change = "expected " + units.Format(units.Share, j.expected.Heat/d.Sun, u)
	}
	peak := f.Figure("peak", "Highest outlet temperature", units.Temperature, d.Peak)
	peak.Heat = true
	if !d.PeakAt.IsZero() {
		peak.Band = "at " + units.Time(d.PeakAt.In(j.log.Setup.Zone), "15:04", u)
	}
	useful := ui.Figure{
		Key: "useful", Label: "Useful hours", Value: units.Decimals(d.Useful, 1, u), Unit: "h",
		Band: "above " + units.Format(units.Temperature, v.Doc().Room.Useful, u),
	}
	fan := f.Figure("fan", "Fan energy", units.Metered, d.FanEnergy(j.log.Setup.FanPower))
	fan.Band, fan.Change = "ran "+units.Decimals(d.RunHours, 1, u)+" h", ui.Times(len(d.Runs), u)
	figs := []ui.Figure{heat, eff, peak, useful}
	if j.log.Setup.FanPower > 0 {
		figs = append(figs, fan)
	}
	figs = append(figs, total)
	for i := range figs {
		figs[i] = f.Opens(figs[i])
		figs[i].URL += "?day=" + d.Date
	}
	return figs
}

// workings are those of a logged day's figures.
func workings(v *ui.Visit) (map[string]collector.Working, error) {
	l, err := v.Log(v.Ctx(), &v.State, v.Heater, v.F.Units)
	if err != nil || l.Report == nil {
		return nil, err
	}
	return measure.Workings(l.Report.Days[l.Day(v.C.FormValue("day"))], l.Report, l.Setup), nil
}

// hourly is the day as a table, for print and for those who see no chart. Hours are those of the local clock, also
// where it differs from UTC by half an hour.
func hourly(s []measure.Sample, set measure.Setup, u units.System) (rows []ui.HourRow) {
	hour := func(t time.Time) time.Time {
		t = t.In(set.Zone)
		return time.Date(t.Year(), t.Month(), t.Day(), t.Hour(), 0, 0, 0, set.Zone)
	}
	for i := 0; i < len(s); {
		at := hour(s[i].At)
		j := i
		for j < len(s) && hour(s[j].At).Equal(at) {
			j++
		}
		row := ui.HourRow{
			Time: units.Time(at, "15:04", u), Heat: "–",
			Inlet:   mean(s[i:j], func(x measure.Sample) float64 { return x.Inlet }, u),
			Outlet:  mean(s[i:j], func(x measure.Sample) float64 { return x.Outlet }, u),
			Outdoor: mean(s[i:j], func(x measure.Sample) float64 { return x.Outdoor }, u),
		}
		if part, err := measure.Analyze(s[max(0, i-1):j], set); err == nil {
			row.Heat = units.Format(units.Energy, part.Heat, u)
		}
		rows = append(rows, row)
		i = j
	}
	return rows
}

// mean is the mean of a quantity where it was measured.
func mean(s []measure.Sample, of func(measure.Sample) float64, u units.System) string {
	sum, n := 0.0, 0.0
	for _, x := range s {
		if v := of(x); !math.IsNaN(v) {
			sum, n = sum+v, n+1
		}
	}
	return units.Figure(units.Temperature, sum/n, u) // NaN, shown as a dash, where there is none
}

// station are the handlers.
type station struct{ *ui.Server }

func routes(sv *ui.Server, g *echo.Group) {
	s := station{sv}
	g.GET("/series", s.series)
	g.GET("/judged", s.judged)
	g.GET("/export/:file", s.export)
	g.POST("/note", s.note)
	g.POST("/note/drop", s.dropNote)
	g.POST("/imports/:import/version", s.moveImport)
	g.POST("/upload", s.upload)
	g.POST("/fit", s.calibrate)
	g.POST("/exclude", s.exclude)
	g.POST("/include", s.include)
	g.POST("/hand", s.byHand)
	g.GET("/columns", s.columns)
	g.POST("/columns", s.columnsAgain)
	g.POST("/import", s.importLog)
	g.POST("/imports/:import/remove", s.removeImport)
	g.POST("/imports/:import/restore", s.restoreImport)
}

// judged judges a long log, and answers with the station once that is done.
func (sv station) judged(c *echo.Context) error {
	st, err := sv.Current(c)
	if err != nil {
		return err
	}
	v, err := sv.evaluated(c)
	if err != nil {
		return err
	}
	if _, err := sv.LoggedDays(v.Ctx(), &st); err != nil {
		return err
	}
	if _, err := sv.Log(v.Ctx(), &st, v.Heater, v.F.Units); err != nil {
		v.F.Notice = ui.Capital(err.Error())
	}
	c.Set(judgedKey, true) // also where it failed, so that the page says why and does not ask again
	return sv.mended(c, st, v.F.Notice)
}

// judgedKey marks a request that has judged the log.
const judgedKey = "judged"

// evaluated is the heater with its balance, without a page around it.
func (sv station) evaluated(c *echo.Context) (*ui.Visit, error) {
	st, err := sv.Current(c)
	if err != nil {
		return nil, err
	}
	v := sv.Begin(c, st, "log")
	if v.Heater, err = sv.Evaluate(v.Ctx(), v.Doc()); err != nil {
		return nil, ui.Uncomputed(err)
	}
	return v, nil
}

// dated writes a moment of the log.
func dated(t time.Time, zone *time.Location) string { return t.In(zone).Format("2 January 2006 15:04") }

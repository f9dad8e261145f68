package logs

import (
	"fmt"
	"html/template"
	"math"
	"net/http"
	"strconv"
	"time"

	"github.com/labstack/echo/v5"

	"gladember/app/drawing"
	"gladember/app/service"
	"gladember/app/store"
	"gladember/app/web/ui"
	"gladember/core/measure"
	"gladember/core/units"
)

// Shown is the stretch of the log on the chart.
type Shown struct {
	Title          string
	DataURL        string
	Spans          []SpanLink
	Earlier, Later string // empty at the ends of the log
	Predicted      bool   // the prediction is drawn
	Files          []FileLink
	from, to       time.Time
}

// SpanLink is a length of the chart.
type SpanLink struct {
	Name, URL string
	Here      bool
}

// FileLink is a file of the stretch.
type FileLink struct{ Name, URL string }

// spans are the lengths of the chart, each with its first instant and the one after its last, around a logged day.
var spans = []struct {
	id, name string
	bounds   func(l *service.Log, d *measure.Day) (from, to time.Time)
}{
	{"hour", "Hour", func(l *service.Log, d *measure.Day) (from, to time.Time) {
		at := d.PeakAt
		if at.IsZero() {
			at, _, _ = l.Bounds(d.Date)
			at = at.Add(12 * time.Hour)
		}
		from = at.Truncate(30 * time.Minute).Add(-30 * time.Minute)
		return from, from.Add(time.Hour)
	}},
	{"day", "Day", func(l *service.Log, d *measure.Day) (from, to time.Time) {
		from, to, _ = l.Bounds(d.Date)
		return from, to
	}},
	{"week", "Week", func(l *service.Log, d *measure.Day) (from, to time.Time) {
		from, _, _ = l.Bounds(d.Date)
		from = from.AddDate(0, 0, -(int(from.Weekday())+6)%7) // Monday
		return from, from.AddDate(0, 0, 7)
	}},
	{"month", "Month", func(l *service.Log, d *measure.Day) (from, to time.Time) {
		from, _, _ = l.Bounds(d.Date)
		from = from.AddDate(0, 0, 1-from.Day())
		return from, from.AddDate(0, 1, 0)
	}},
	{"year", "Year", func(l *service.Log, d *measure.Day) (from, to time.Time) {
		from, _, _ = l.Bounds(d.Date)
		from = time.Date(from.Year(), 1, 1, 0, 0, 0, 0, from.Location())
		return from, from.AddDate(1, 0, 0)
	}},
	{"all", "All", func(l *service.Log, d *measure.Day) (from, to time.Time) {
		days := l.Report.Days
		from, _, _ = l.Bounds(days[0].Date)
		_, to, _ = l.Bounds(days[len(days)-1].Date)
		return from, to
	}},
}

// usualSpan is the place of the day in spans.
const usualSpan = 1

// shown is what the chart is to show: the length that was asked for, around the day.
func shown(v *ui.Visit, l *service.Log, d *measure.Day) Shown {
	f := v.F
	at := usualSpan
	for i := range spans {
		if spans[i].id == v.C.FormValue("span") {
			at = i
		}
	}
	s := Shown{}
	s.from, s.to = spans[at].bounds(l, d)
	for i := range spans {
		s.Spans = append(s.Spans, SpanLink{spans[i].name, f.StationURL("log", "day", d.Date, "span", spans[i].id), i == at})
	}
	s.Predicted = predictable(s.from, s.to)
	u, last := f.Units, s.to.Add(-time.Second)
	s.Title = units.Time(s.from.In(l.Setup.Zone), "2 January 2006", u) + " to " + units.Time(last.In(l.Setup.Zone), "2 January 2006", u)
	if at <= usualSpan {
		s.Title = units.Time(s.from.In(l.Setup.Zone), "Monday 2 January 2006", u)
	}
	if at > 0 { // the hour is that of the peak
		s.Earlier, s.Later = neighbors(f, l, &s, spans[at].id)
	}
	bounds := []string{"from", strconv.FormatInt(s.from.Unix(), 10), "to", strconv.FormatInt(s.to.Unix(), 10)}
	with := append(append([]string{}, bounds...), "with", v.C.FormValue("with"))
	s.DataURL = f.StationURL("log/series", with...)
	for _, x := range exports {
		s.Files = append(s.Files, FileLink{x.name, f.StationURL("log/export/"+x.file, bounds...)})
	}
	return s
}

// neighbors are the addresses of the nearest logged days before and after the stretch, on a chart of the same length.
func neighbors(f *ui.Frame, l *service.Log, s *Shown, span string) (earlier, later string) {
	for _, d := range l.Report.Days {
		from, _, err := l.Bounds(d.Date)
		if err != nil {
			continue
		}
		if from.Before(s.from) {
			earlier = f.StationURL("log", "day", d.Date, "span", span)
		}
		if !from.Before(s.to) {
			return earlier, f.StationURL("log", "day", d.Date, "span", span)
		}
	}
	return earlier, ""
}

// predictable says whether a stretch is short enough for the prediction: a balance is solved for every ten minutes of running.
func predictable(from, to time.Time) bool { return to.Sub(from) <= 75*time.Hour }

// asked is the stretch that an address names.
func asked(c *echo.Context) (from, to time.Time, err error) {
	lo, e1 := strconv.ParseInt(c.QueryParam("from"), 10, 64)
	hi, e2 := strconv.ParseInt(c.QueryParam("to"), 10, 64)
	const first, last = 631152000, 4102444800 // 1990 and 2100
	if e1 != nil || e2 != nil || hi <= lo || lo < first || hi > last {
		return from, to, echo.NewHTTPError(http.StatusBadRequest, "That stretch of the log is not there; open the log again.")
	}
	return time.Unix(lo, 0), time.Unix(hi, 0), nil
}

// stretchOf is a stretch of a heater's log with all that is drawn of it.
type stretchOf struct {
	*ui.Visit
	log      *service.Log
	rng      *service.Range
	days     []measure.Day // that lie in it
	expected []measure.Prediction
	notes    []NoteRow
}

// read reads the stretch that an address names.
func (sv station) read(c *echo.Context) (*stretchOf, error) {
	from, to, err := asked(c)
	if err != nil {
		return nil, err
	}
	v, err := sv.evaluated(c)
	if err != nil {
		return nil, err
	}
	x := &stretchOf{Visit: v}
	if x.log, err = sv.Log(v.Ctx(), &v.State, v.Heater, v.F.Units); err != nil {
		return nil, ui.Uncomputed(err)
	}
	if x.log.Report == nil {
		return nil, echo.NewHTTPError(http.StatusNotFound, "There are no readings yet.")
	}
	if x.rng, err = sv.Range(v.Ctx(), &v.State, x.log, from, to); err != nil {
		return nil, err
	}
	for _, d := range x.log.Report.Days {
		if a, b, err := x.log.Bounds(d.Date); err == nil && b.After(from) && a.Before(to) {
			x.days = append(x.days, d)
		}
	}
	if predictable(from, to) {
		for i := range x.days {
			exp, err := x.log.Expected(v.Ctx(), v.Doc(), x.days[i].Date)
			if err != nil {
				return nil, ui.Uncomputed(err)
			}
			for _, e := range exp {
				x.expected = append(x.expected, e.Points...)
			}
		}
	}
	x.notes, err = notes(v, x.log, from, to)
	return x, err
}

// series sends a stretch as the chart takes it.
func (sv station) series(c *echo.Context) error {
	x, err := sv.read(c)
	if err != nil {
		return err
	}
	out := x.series()
	if with, ok := otherLog(c.QueryParam("with")); ok {
		if _, samples, err := sv.SideBySide(x.Ctx(), x.log, with, x.day()); err == nil || samples != nil {
			out.AddBeside(samples, x.log.Longest(), x.F.Units)
		}
	}
	return c.JSON(http.StatusOK, out)
}

// day is the date of the stretch's first instant.
func (x *stretchOf) day() string { return x.rng.From.In(x.log.Setup.Zone).Format(time.DateOnly) }

// mostMarks is how many runs, or gaps, can still be told apart on a chart.
const mostMarks = 400

// series writes a stretch in a person's units.
func (x *stretchOf) series() ui.Series {
	u, r := x.F.Units, x.log.Report
	const clearFor = 15 * 24 * time.Hour // a clear sky is drawn for
	sunIs := r.SunIs
	if sunIs == ui.ClearSky && x.rng.To.Sub(x.rng.From) > clearFor {
		sunIs = ""
	}
	out := ui.NewSeries(x.log.Setup.Zone, sunIs, u)
	out.From, out.To, out.Step = x.rng.From.Unix(), x.rng.To.Unix(), int64(x.rng.Step/time.Second)
	if n := len(x.rng.Points); n > 0 && x.rng.To.Sub(x.rng.From) < 26*time.Hour { // of a day only the hours with readings
		out.From = x.rng.Points[0].At.Truncate(time.Hour).Unix()
		out.To = x.rng.Points[n-1].At.Add(time.Hour).Truncate(time.Hour).Unix()
	}
	next := 0
	for _, s := range x.rng.Points {
		p := ui.Point{At: s.At, Inlet: s.Inlet, Outlet: s.Outlet, Outdoor: s.Outdoor, Other: math.NaN(), Sun: s.Sun}
		for next < len(x.expected) && x.expected[next].At.Add(x.rng.Step).Before(s.At) {
			next++
		}
		if next < len(x.expected) && !x.expected[next].At.After(s.At) && !math.IsNaN(s.Outlet) {
			p.Other = x.expected[next].Outlet
			p.Low, p.High = x.expected[next].Range()
			next++
		}
		if sunIs == ui.ClearSky && !math.IsNaN(s.Inlet) {
			p.Sun = x.log.Setup.Site.Clear(s.At)
		}
		out.Add(p, u)
	}
	for _, d := range x.days {
		for _, g := range d.Runs {
			out.Runs = append(out.Runs, [2]int64{g.From.Unix(), g.To.Unix()})
		}
		for _, g := range d.Gaps {
			out.Gaps = append(out.Gaps, [2]int64{g.From.Unix(), g.To.Unix()})
		}
	}
	if len(out.Runs) > mostMarks {
		out.Runs = [][2]int64{}
	}
	if len(out.Gaps) > mostMarks {
		out.Gaps = [][2]int64{}
	}
	for _, e := range x.log.Excluded {
		out.Left = append(out.Left, [2]int64{e.Lo / 1000, e.Hi / 1000})
	}
	for _, n := range x.notes {
		out.Notes = append(out.Notes, ui.Pinned{At: n.at.Unix(), Text: n.Text})
	}
	return out
}

// BesideView is another log on the same day.
type BesideView struct {
	Choices []ui.ChoiceView
	Day     string
	Span    string
	Words   string // what the two gave
	Bars    ui.Chart
	Shown   bool
}

// otherLog reads the name of a log.
func otherLog(text string) (of store.Logged, ok bool) {
	n, err := fmt.Sscanf(text, "%d.%d", &of.Heater, &of.Version)
	return of, err == nil && n == 2
}

// beside fills in the other logs of the day, and what the one that was chosen gave.
func (view *View) beside(v *ui.Visit, l *service.Log, date string) error {
	others, err := v.Besides(v.Ctx(), l, date)
	if err != nil || len(others) == 0 {
		return err
	}
	b := &view.Beside
	b.Day, b.Span = date, v.C.FormValue("span")
	chosen, _ := otherLog(v.C.FormValue("with"))
	name := ""
	for _, o := range others {
		text := o.Name + ", version " + o.Version
		if o.Log.Heater == v.State.Heater {
			text = "version " + o.Version + " of this heater"
		}
		if o.Log == chosen {
			name = text
		}
		b.Choices = append(b.Choices, ui.ChoiceView{ID: fmt.Sprintf("%d.%d", o.Log.Heater, o.Log.Version), Name: text,
			Chosen: o.Log == chosen})
	}
	if name == "" {
		return nil
	}
	x, _, err := v.SideBySide(v.Ctx(), l, chosen, date)
	if v.Ctx().Err() != nil {
		return err
	}
	b.Shown = true
	if err != nil {
		b.Words = ui.Capital(err.Error()) + "."
		return nil
	}
	u := v.F.Units
	b.Words = besideWords(x, name, l.Setup.Zone, u)
	if x.Refused[0] || x.Refused[1] {
		return nil
	}
	b.Bars = ui.Draw(func(w float64) template.HTML { return drawing.Beside(x, u, w) })
	return nil
}

// besideWords says what two heaters gave over the same time.
func besideWords(x *measure.Beside, name string, zone *time.Location, u units.System) string {
	for i, who := range []string{"this heater", name} {
		if x.Refused[i] {
			return fmt.Sprintf("The log of %s shows more heat than the sun gave, so the two are not compared. Correct its airflow first.",
				who)
		}
	}
	text := fmt.Sprintf("From %s to %s, while both were logged, this heater gave %s and %s %s.", units.Time(x.From.In(zone), "15:04", u),
		units.Time(x.To.In(zone), "15:04", u), units.Format(units.Energy, x.A, u), name, units.Format(units.Energy, x.B, u))
	switch {
	case math.IsNaN(x.Ratio):
		return text
	case !x.Telling:
		return text + fmt.Sprintf(" By the area of glass the two are a tie: the ratio is %s, with a 95 %% range from %s to %s.",
			units.Decimals(x.Ratio, 2, u), units.Decimals(x.Low, 2, u), units.Decimals(x.High, 2, u))
	case x.Ratio > 1:
		return text + fmt.Sprintf(" By the area of glass this one gave more: %s times as much, with a 95 %% range from %s to %s.",
			units.Decimals(x.Ratio, 2, u), units.Decimals(x.Low, 2, u), units.Decimals(x.High, 2, u))
	}
	return text + fmt.Sprintf(" By the area of glass the other one gave more: this one gave %s of it, with a 95 %% range from %s to %s.",
		units.Decimals(x.Ratio, 2, u), units.Decimals(x.Low, 2, u), units.Decimals(x.High, 2, u))
}

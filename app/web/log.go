package web

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"html/template"
	"math"
	"net/http"
	"net/url"
	"strconv"
	"strings"
	"sync"
	"time"

	"github.com/labstack/echo/v5"

	"gladember/app/drawing"
	"gladember/app/store"
	"gladember/core/air"
	"gladember/core/collector"
	"gladember/core/design"
	"gladember/core/measure"
	"gladember/core/solar"
	"gladember/core/units"
)

type ctx = context.Context

func abs(v float64) float64 { return math.Abs(v) }

// pretty writes a formula with the signs people write.
func pretty(f string) string {
	return strings.NewReplacer(" * ", " · ", " / ", " ÷ ", " - ", " − ").Replace(f)
}

// LogView is the centre of the log station.
type LogView struct {
	Empty              bool
	Day                string // 2026-02-10
	DayWords           string
	Summary            string
	DataURL            string
	Bar, BarNarrow     template.HTML
	Strip, StripNarrow template.HTML
	Rows               []LogRow
	Doubts             []measure.Finding
	Missing            string
	Telling            bool
	Trouble            string // why the readings cannot be judged
	Imports            []ImportRow
	Refused            bool
	Upload             string
	FlowNote           string
}

// LogRow is an hour of the day's table.
type LogRow struct{ Time, Inlet, Outlet, Outdoor, Heat string }

// setup turns a heater's document into what its log is judged by.
func setup(h *design.Heater, e *collector.Evaluation) measure.Setup {
	s := collector.Site(h)
	set := measure.Setup{Area: h.Glass(), Pressure: solar.Pressure(s.Elevation), UsefulAbove: h.Log.Useful, Close: h.Switch.Close, Open: h.Switch.Open,
		DuctArea: math.Pi / 4 * h.Air.Diameter * h.Air.Diameter * float64(max(1, h.Air.Ports)), Site: &measure.Placement{Site: s, Tilt: h.Place.Tilt, Facing: h.Place.Bearing, Around: collector.Surroundings(h)}, Zone: s.Zone}
	room := air.Density(h.Room.Air, set.Pressure)
	switch h.Log.FlowIs {
	case design.OnLabel:
		set.Flow, set.FlowOrigin = h.FreeAir()*room, measure.FlowFreeAir
	case design.ByMeasure:
		set.Flow, set.FlowOrigin = h.Log.Flow*room, measure.FlowGiven
	default:
		set.Flow, set.FlowOrigin = e.Running.Mass, measure.FlowPredicted
	}
	return set
}

// judged is a log that was read and judged.
type judged struct {
	samples []measure.Sample
	set     measure.Setup
	report  *measure.Report
	err     error

	lock     sync.Mutex
	expected map[string][]measure.Expected // by date
}

// of is what was expected of a day.
func (j *judged) of(h *design.Heater, date string) ([]measure.Expected, error) {
	j.lock.Lock()
	defer j.lock.Unlock()
	if x, ok := j.expected[date]; ok {
		return x, nil
	}
	x, err := measure.Compare(h, ofDay(j.samples, date, j.set.Zone), j.set, j.report)
	if err != nil {
		return nil, err
	}
	if j.expected == nil {
		j.expected = map[string][]measure.Expected{}
	}
	j.expected[date] = x
	return x, nil
}

// judgedLog reads and judges all of a heater's log, once for each document and each file
// that was taken in.
func (sv *Server) judgedLog(c ctx, st *store.State, e *evaluated) (*judged, error) {
	imports, err := sv.store.Imports(c, st.Heater)
	if err != nil {
		return nil, err
	}
	from, to, ok, err := sv.store.Span(c, st.Heater)
	if err != nil || !ok {
		return &judged{set: setup(&st.Document, &e.eval)}, err
	}
	j := sv.logs.of(&st.Document, func(*design.Heater) *judged {
		j := &judged{set: setup(&st.Document, &e.eval)}
		if j.samples, j.err = sv.store.Readings(context.WithoutCancel(c), st.Heater, from, to); j.err != nil {
			return j
		}
		j.samples, _, _ = measure.Clean(j.samples) // what an older version took in was not checked
		r, err := measure.Analyse(j.samples, j.set)
		switch {
		case errors.Is(err, measure.ErrEmpty):
			j.samples = nil
		case err != nil:
			j.err = err
		default:
			j.report = &r
		}
		return j
	}, fmt.Sprint(st.Heater, imports, from, to))
	return j, j.err
}

// ofDay picks a local day's readings.
func ofDay(samples []measure.Sample, date string, zone *time.Location) (out []measure.Sample) {
	for _, s := range samples {
		if s.At.In(zone).Format(time.DateOnly) == date {
			out = append(out, s)
		}
	}
	return out
}

// chosenDay is the day asked for, or the warmest of the last clear ones.
func chosenDay(r *measure.Report, asked string) int {
	best := len(r.Days) - 1
	for i, d := range r.Days {
		if d.Date == asked {
			return i
		}
		b := r.Days[best]
		if b.Impossible && !d.Impossible || b.Impossible == d.Impossible && d.Heat > b.Heat {
			best = i
		}
	}
	return best
}

func (sv *Server) logStation(c *echo.Context, f *Frame, e *evaluated) error {
	rc := c.Request().Context()
	v := &LogView{Upload: heaterURL(f.ID, "log", "upload")}
	f.Log = v
	f.panel("How heat is reckoned", "log.flow_is", "log.flow_m3_s", "log.useful_c")
	imports, err := sv.store.Imports(rc, f.ID)
	if err != nil {
		return err
	}
	for _, x := range imports {
		v.Imports = append(v.Imports, importRow(f.ID, x))
	}
	j, err := sv.judgedLog(rc, &f.State, e)
	if err != nil {
		v.Trouble = err.Error()
		return nil
	}
	samples, set, r := j.samples, j.set, j.report
	if r == nil {
		v.Empty = true
		return nil
	}
	day := chosenDay(r, c.FormValue("day"))
	d := r.Days[day]
	u := f.Units
	v.Day, v.Refused = d.Date, d.Impossible
	if t, err := time.Parse(time.DateOnly, d.Date); err == nil {
		v.DayWords = t.Format("Monday 2 January")
	}
	v.DataURL = heaterURL(f.ID, "log", "day") + "?" + url.Values{"day": {d.Date}}.Encode()
	exp, err := j.of(&f.State.Document, d.Date)
	if err != nil {
		return err
	}
	one, err := measure.Analyse(ofDay(samples, d.Date, set.Zone), set)
	if err != nil {
		return err
	}
	expected := measure.Expected{}
	if len(exp) > 0 {
		expected = exp[0]
		expected.Missing = expected.Heat - d.Heat
		ud := (d.Band[1] - d.Heat) / 2
		expected.Telling = abs(expected.Missing) > 2*math.Hypot(ud, expected.U)
	}
	kwh := func(x float64) string { return units.Format(units.Energy, x, u) }
	switch {
	case d.Impossible:
	case expected.Heat <= 0:
	case expected.Telling && expected.Missing > 0:
		v.Telling = true
		v.Missing = fmt.Sprintf("%s are missing: %s against %s expected, beyond what both bands allow. If the sky was clear, look for air that slips past the absorber, then for leaks at the glass.", kwh(expected.Missing), kwh(d.Heat), kwh(expected.Heat))
	case expected.Telling:
		v.Telling = true
		v.Missing = fmt.Sprintf("%s more than expected: %s against %s. Doubt the flow before you praise the box.", kwh(-expected.Missing), kwh(d.Heat), kwh(expected.Heat))
	default:
		v.Missing = fmt.Sprintf("%s against %s expected under a clear sky: they agree within their bands.", kwh(d.Heat), kwh(expected.Heat))
		if r.SunIs == "measured" {
			v.Missing = fmt.Sprintf("%s against %s expected from the sun you measured: they agree within their bands.", kwh(d.Heat), kwh(expected.Heat))
		}
	}
	v.Summary = fmt.Sprintf("%d readings. The fan ran %d times; the air came out at up to %s.", d.Samples, len(d.Runs), units.Format(units.Temperature, d.Peak, u))
	switch n := len(d.Gaps); {
	case n == 1:
		v.Summary += " One gap is left out."
	case n > 1:
		v.Summary += fmt.Sprintf(" %d gaps are left out.", n)
	}
	dayURL := func(date string) string {
		return heaterURL(f.ID, "log") + "?" + url.Values{"day": {date}}.Encode()
	}
	v.Bar, v.BarNarrow = drawing.DayBar(d, expected, u, 700), drawing.DayBar(d, expected, u, 360)
	v.Strip, v.StripNarrow = drawing.DayStrip(r.Days, day, u, 700, dayURL), drawing.DayStrip(r.Days, day, u, 360, dayURL)
	v.Rows = hourly(ofDay(samples, d.Date, set.Zone), set, u)
	v.Doubts = r.Findings
	switch r.FlowOrigin {
	case measure.FlowPredicted:
		v.FlowNote = fmt.Sprintf("Taken: %s, worked out from fan and ducts.", units.Format(units.Flow, set.Flow/air.Density(f.State.Document.Room.Air, set.Pressure), u))
	case measure.FlowFreeAir:
		v.FlowNote = fmt.Sprintf("Taken: %s, the fan's label. No fan reaches that in a duct.", units.Format(units.Flow, f.State.Document.Air.FanFree, u))
	case measure.FlowSpeed:
		v.FlowNote = "Taken from the logged speed, times 0.82 for the slower air at the walls."
	default:
		v.FlowNote = "Taken: the flow you measured."
	}
	for i := range f.Ladder {
		if f.Ladder[i].Key == "log" {
			f.Ladder[i].Findings = len(r.Findings)
			f.Ladder[i].Line = fmt.Sprintf("%d days of readings", len(r.Days))
		}
	}
	f.Ribbon = logRibbon(f, d, r, &one, expected, u)
	return nil
}

// logRibbon are the figures of a logged day.
func logRibbon(f *Frame, d measure.Day, r, one *measure.Report, x measure.Expected, u units.System) []Figure {
	band := func(b [2]float64) string {
		return units.Figure(units.Energy, b[0], u) + " to " + units.Figure(units.Energy, b[1], u)
	}
	heat := Figure{Key: "day", Label: "That day", Value: units.Figure(units.Energy, d.Heat, u), Unit: u.Unit(units.Energy), Band: band(d.Band), Heat: true}
	if len(one.Causes) > 0 {
		heat.Change = "mostly " + one.Causes[0].Name
	}
	total := Figure{Key: "total", Label: "All of the log", Value: units.Figure(units.Energy, r.Heat, u), Unit: u.Unit(units.Energy), Band: band(r.Band), Heat: true, Change: fmt.Sprintf("%d days", len(r.Days))}
	if d.Impossible {
		heat.Label, heat.Band, heat.Heat, heat.Change = "That day, refused", "more than the sun gave", false, ""
	}
	if r.Refused {
		total.Label, total.Band, total.Heat, total.Change = "All of the log, refused", "some days beyond the sun", false, ""
	}
	eff := Figure{Key: "eff", Label: "Of the sun on the glass", Value: "–", Unit: "", Band: "sun " + r.SunIs}
	if v := d.Efficiency(); !math.IsNaN(v) {
		eff.Value, eff.Unit = units.Figure(units.Share, v, u), "%"
	}
	if x.Heat > 0 && d.Sun > 0 {
		eff.Change = "expected " + units.Figure(units.Share, x.Heat/d.Sun, u)
	}
	peak := Figure{Key: "peak", Label: "Hottest out", Value: units.Figure(units.Temperature, d.Peak, u), Unit: u.Unit(units.Temperature), Heat: true}
	if !d.PeakAt.IsZero() {
		peak.Band = "at " + d.PeakAt.In(collector.Site(&f.State.Document).Zone).Format("15:04")
	}
	useful := Figure{Key: "useful", Label: "Useful hours", Value: strconv.FormatFloat(d.Useful, 'f', 1, 64), Unit: "h", Band: "above " + units.Format(units.Temperature, f.State.Document.Log.Useful, u)}
	figs := []Figure{heat, eff, peak, useful, total}
	for i := range figs {
		figs[i].URL = heaterURL(f.ID, "working", "log-"+figs[i].Key) + "?" + url.Values{"day": {d.Date}}.Encode()
	}
	return figs
}

// hourly is the day as a table, for print and for those who see no chart.
func hourly(s []measure.Sample, set measure.Setup, u units.System) (rows []LogRow) {
	fm := func(v float64) string {
		if math.IsNaN(v) {
			return "–"
		}
		return units.Figure(units.Temperature, v, u)
	}
	for i := 0; i < len(s); {
		hour := s[i].At.In(set.Zone).Truncate(time.Hour)
		var in, out, od, n, no float64
		j := i
		for ; j < len(s) && s[j].At.In(set.Zone).Truncate(time.Hour).Equal(hour); j++ {
			in += s[j].Inlet
			out += s[j].Outlet
			n++
			if !math.IsNaN(s[j].Outdoor) {
				od += s[j].Outdoor
				no++
			}
		}
		part, err := measure.Analyse(s[max(0, i-1):j], set)
		heat := "–"
		if err == nil {
			heat = units.Figure(units.Energy, part.Heat, u)
		}
		if no == 0 {
			od, no = math.NaN(), 1
		}
		rows = append(rows, LogRow{hour.Format("15:04"), fm(in / n), fm(out / n), fm(od / no), heat})
		i = j
	}
	return rows
}

// series is a day's chart as the script takes it; null where nothing is.
type series struct {
	Zone     string        `json:"zone"`
	Unit     string        `json:"unit"`
	Times    []int64       `json:"t"`
	Inlet    []*float64    `json:"inlet"`
	Outlet   []*float64    `json:"outlet"`
	Outdoor  []*float64    `json:"outdoor"`
	Expected []*float64    `json:"expected"`
	Sun      []*float64    `json:"sun"`
	SunIs    string        `json:"sunIs"`
	Runs     [][2]int64    `json:"runs"`
	Gaps     [][2]int64    `json:"gaps"`
	Play     *playedSeries `json:"play,omitempty"`
}

// maxPoints is how many readings a chart is sent; more would not be seen.
const maxPoints = 2000

func (sv *Server) logDay(c *echo.Context) error {
	st, err := sv.current(c)
	if err != nil {
		return err
	}
	e := sv.evals.of(&st.Document)
	if e.err != nil {
		return e.err
	}
	j, err := sv.judgedLog(c.Request().Context(), &st, e)
	if err != nil {
		return err
	}
	samples, set, r := j.samples, j.set, j.report
	if r == nil {
		return echo.NewHTTPError(http.StatusNotFound, "")
	}
	d := r.Days[chosenDay(r, c.QueryParam("day"))]
	day := ofDay(samples, d.Date, set.Zone)
	exp, err := j.of(&st.Document, d.Date)
	if err != nil {
		return err
	}
	u := sv.page(c, "").Units
	at := map[int64]float64{}
	if len(exp) > 0 {
		for _, p := range exp[0].Points {
			at[p.At.Unix()] = p.Outlet
		}
	}
	out := series{Zone: set.Zone.String(), Unit: u.Unit(units.Temperature), SunIs: r.SunIs, Runs: [][2]int64{}, Gaps: [][2]int64{}}
	step := len(day)/maxPoints + 1
	temp := func(v float64) *float64 {
		if math.IsNaN(v) {
			return nil
		}
		x := math.Round(u.In(units.Temperature, v)*100) / 100
		return &x
	}
	for i := 0; i < len(day); i++ {
		s := day[i]
		e, predicted := at[s.At.Unix()]
		if i%step != 0 && !predicted {
			continue
		}
		if i > 0 && s.At.Sub(day[i-1].At) > max(3*r.Interval, 2*time.Minute) { // break the line in a gap
			out.add(day[i-1].At.Unix()+1, nil, nil, nil, nil, nil)
		}
		sun := s.Sun
		if r.SunIs == "of a clear sky" {
			sun = set.Site.Clear(s.At)
		}
		var g, x *float64
		if !math.IsNaN(sun) {
			v := math.Round(sun)
			g = &v
		}
		if predicted {
			x = temp(e)
		}
		out.add(s.At.Unix(), temp(s.Inlet), temp(s.Outlet), temp(s.Outdoor), x, g)
	}
	for _, x := range d.Runs {
		out.Runs = append(out.Runs, [2]int64{x.From.Unix(), x.To.Unix()})
	}
	for _, x := range d.Gaps {
		out.Gaps = append(out.Gaps, [2]int64{x.From.Unix(), x.To.Unix()})
	}
	b, err := json.Marshal(out)
	if err != nil {
		return err
	}
	return c.Blob(http.StatusOK, "application/json", b)
}

func (s *series) add(t int64, in, out, outdoor, expected, sun *float64) {
	s.Times = append(s.Times, t)
	s.Inlet, s.Outlet, s.Outdoor = append(s.Inlet, in), append(s.Outlet, out), append(s.Outdoor, outdoor)
	s.Expected, s.Sun = append(s.Expected, expected), append(s.Sun, sun)
}

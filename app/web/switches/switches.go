// Package switches is the station of the thermostat or other switch of the fan: a day simulated with it, and the
// settings that would serve the day and the months best.
package switches

import (
	"embed"
	"errors"
	"fmt"
	"html/template"
	"math"
	"net/http"
	"strconv"
	"strings"
	"time"

	"github.com/labstack/echo/v5"

	"gladember/app/drawing"
	"gladember/app/service"
	"gladember/app/web/ui"
	"gladember/core/advice"
	"gladember/core/climate"
	"gladember/core/collector"
	"gladember/core/design"
	"gladember/core/season"
	"gladember/core/simulate"
	"gladember/core/thermostat"
	"gladember/core/units"
)

//go:embed *.html
var templates embed.FS

// New returns the station.
func New() *ui.Station {
	return &ui.Station{
		Key: "switch", Name: "Switch", Group: ui.Design, Templates: templates, Topics: []advice.Topic{advice.Control}, Fresh: true,
		Open: open, Summary: summary, Routes: routes, Workings: workings,
	}
}

// View is the center of the station: a simulated day.
type View struct {
	Title           string
	Months          []SkyLink // of a design day
	Skies           []SkyLink
	Logged          []SkyLink
	Playing         ui.Chart
	Last            int // the last minute that the time bar reaches
	Clock           []ClockMark
	DataURL         string
	CurveURL        string
	MonthsURL       string
	Summary         string
	Sum             []ui.Figure
	Hours           ui.DayTable
	None            string // why there is no day
	Handles         bool   // the set points can be dragged
	OnText, OffText string // the set points as they stand
}

// SkyLink chooses a day.
type SkyLink struct {
	Name, URL string
	Here      bool
}

// skyNames are what the design days are called on their links.
var skyNames = map[simulate.Sky]string{
	simulate.Clear: "clear", simulate.HazySky: "hazy", simulate.Broken: "partly cloudy", simulate.Coldest: "coldest",
	simulate.Frosty: "frosty",
	simulate.Snowy:  "snowy",
}

// dayNames are their titles.
var dayNames = map[simulate.Sky]string{
	simulate.Clear: "Clear day", simulate.HazySky: "Hazy day", simulate.Broken: "Partly cloudy day",
	simulate.Coldest: "Very cold clear day",
	simulate.Frosty:  "Very cold day with frost on the glazing", simulate.Snowy: "Very cold day with new snow on the glazing",
}

// skyOf is the day asked for: a design day's sky, with a point and a month's number behind it where that is not the winter's; or the
// date of a logged one.
func skyOf(c *echo.Context) string {
	s := c.FormValue("sky")
	if _, err := time.Parse(time.DateOnly, s); err == nil {
		return s
	}
	if sky, _ := designed(s); simulate.Known(sky) {
		return s
	}
	return string(simulate.Clear)
}

// designed takes a design day apart: its sky, and its month, 0 for that of the winter noon. The sky is not known where there is none.
func designed(day string) (sky simulate.Sky, month int) {
	name, number, with := strings.Cut(day, ".")
	if with {
		n, err := strconv.Atoi(number)
		if err != nil || n < 1 || n > 12 {
			return "", 0
		}
		month = n
	}
	return simulate.Sky(name), month
}

// dayOf puts a design day's name together.
func dayOf(sky simulate.Sky, month int) string {
	if month == 0 {
		return string(sky)
	}
	return fmt.Sprintf("%s.%d", sky, month)
}

// day simulates the day asked for.
func day(v *ui.Visit, asked string) (*service.Day, error) {
	if s, month := designed(asked); simulate.Known(s) {
		return v.Simulate(v.Ctx(), v.Doc(), s, month)
	}
	return v.Replay(v.Ctx(), &v.State, asked)
}

// title names a day.
func title(d *service.Day, asked string, u units.System) string {
	if s, _ := designed(asked); simulate.Known(s) {
		return fmt.Sprintf("%s, %s", dayNames[s], units.Time(d.Noon, "2 January", u))
	}
	return units.Time(d.Noon, "2 January 2006", u) + ", with the logged weather"
}

// summary is the switch's line in the list of stations.
func summary(v *ui.Visit) (string, bool, error) {
	u := v.F.Units
	decided := v.Decided(design.SwitchKind, design.SwitchClose, design.SwitchOpen, design.SwitchOnAbove)
	t := func(x float64) string { return units.Format(units.Temperature, x, u) }
	switch sw := thermostat.New(v.Doc()); sw.Kind {
	case thermostat.SnapDisc, thermostat.SetPoint:
		return fmt.Sprintf("on at %s, off at %s", t(sw.Close), t(sw.Open)), decided, nil
	case thermostat.Differential:
		return fmt.Sprintf("on %s above the room", units.Format(units.Rise, sw.OnAbove, u)), decided, nil
	case thermostat.Direct:
		return "none: driven by its solar panel", decided, nil
	case thermostat.Timer:
		return fmt.Sprintf("timer, %s to %s", units.Format(units.Clock, sw.From, u), units.Format(units.Clock, sw.To, u)), decided, nil
	case thermostat.Plug:
		return "none: always on", decided, nil
	}
	return "none: natural draft", decided, nil
}

// mostLogged is how many logged days are listed.
const mostLogged = 62

// open fills the frame.
func open(v *ui.Visit) error {
	f := v.F
	sky := skyOf(v.C)
	f.Carry("sky", sky)
	view := &View{}
	f.View = view
	own, month := designed(sky)
	for _, s := range simulate.Skies {
		view.Skies = append(view.Skies, SkyLink{skyNames[s], f.StationURL("switch", "sky", dayOf(s, month)), s == own})
	}
	if winter := int(collector.WinterNoon(v.Doc()).Month()); simulate.Known(own) {
		for m := 1; m <= 12; m++ {
			to := m
			if m == winter {
				to = 0
			}
			url := f.StationURL("switch", "sky", dayOf(own, to))
			view.Months = append(view.Months, SkyLink{time.Month(m).String()[:3], url, to == month})
		}
	}
	days, err := v.LoggedDays(v.Ctx(), &v.State)
	if err != nil {
		return err
	}
	for _, d := range days[max(0, len(days)-mostLogged):] { // the log's calendar leads to any other
		t, _ := time.Parse(time.DateOnly, d)
		view.Logged = append(view.Logged, SkyLink{units.Time(t, "2 Jan", f.Units), f.StationURL("switch", "sky", d), d == sky})
	}
	f.Panel(design.SwitchGroup)
	d, err := day(v, sky)
	if v.Ctx().Err() != nil {
		return err
	}
	if err != nil {
		view.Title, view.None = "No day to show", ui.Capital(err.Error())+"."
		return nil
	}
	view.play(v, d, sky)
	view.figures(v, d, sky)
	return nil
}

// ClockMark is an hour on the time bar, at a part of its length in percent; every third has its time.
type ClockMark struct {
	X    float64
	Time string
}

// play is the day as it is drawn and dragged.
func (view *View) play(v *ui.Visit, d *service.Day, sky string) {
	h, f := v.Doc(), v.F
	u := f.Units
	view.Title = title(d, sky, f.Units)
	view.DataURL = f.StationURL("switch/day", "sky", sky)
	view.Last = len(d.Samples) - 1
	if v.Heater.Misfit == nil {
		view.Playing = ui.Draw(func(w float64) template.HTML { return drawing.Playing(h, &v.Heater.Layout, w) })
	}
	if thermostat.New(h).HasPoints() {
		view.CurveURL, view.MonthsURL = f.StationURL("switch/curve", "sky", sky), f.StationURL("switch/months")
		view.Handles = true
		view.OnText, view.OffText = units.Format(units.Temperature, h.Switch.Close, u), units.Format(units.Temperature, h.Switch.Open, u)
	}
	view.Hours.Unit = u.Unit(units.Temperature)
	for i, s := range d.Samples {
		if at := s.At.In(d.Noon.Location()); at.Minute() == 0 && i > 0 && i < view.Last {
			mark := ClockMark{X: math.Round(1000*float64(i)/float64(view.Last)) / 10}
			if at.Hour()%3 == 0 {
				mark.Time = units.Time(at, "15:04", f.Units)
			}
			view.Clock = append(view.Clock, mark)
		}
		if i%60 == 0 { // a sample a minute
			view.Hours.Rows = append(view.Hours.Rows, ui.HourRow{
				Time: units.Time(s.At.In(d.Noon.Location()), "15:04", f.Units), Inlet: units.Figure(units.Temperature, s.Inlet, u),
				Outlet:  units.Figure(units.Temperature, s.Outlet, u),
				Outdoor: units.Figure(units.Temperature, s.Ambient, u), Heat: units.Format(units.Power, s.Heat, u),
			})
		}
	}
}

// figures are the day's sums.
func (view *View) figures(v *ui.Visit, d *service.Day, sky string) {
	h, f := v.Doc(), v.F
	what := "The fan starts " + ui.Times(d.Cycles, f.Units)
	if !h.Fanned() {
		what = "The air moves by natural draft"
	}
	view.Summary = fmt.Sprintf("%s and runs for %s: %s to the room.", what, ui.Count(int(d.RunMinutes+0.5), "minute", "minutes", f.Units),
		units.Format(units.Energy, d.Heat, f.Units))
	opens := func(x ui.Figure) ui.Figure {
		x = f.Opens(x)
		x.URL += "?sky=" + sky
		x.Key = "day-" + x.Key
		return x
	}
	heat := f.Figure("heat", "Heat of the day", units.Energy, d.Heat)
	heat.Heat = true
	running := ui.Figure{Key: "running", Label: "Running time of the day", Value: units.Decimals(d.RunMinutes/60, 1, f.Units), Unit: "h"}
	view.Sum = []ui.Figure{opens(heat), opens(running)}
	if h.Fanned() {
		view.Sum = append(view.Sum, ui.Figure{Key: "starts", Label: "Starts", Value: ui.Whole(float64(d.Cycles), f.Units)},
			opens(f.Figure("fan", "Electricity for the fan on this day", units.Metered, d.Fan)))
	}
	if d.RunMinutes > 0 {
		hottest := f.Figure("hottest", "Highest outlet temperature", units.Temperature, d.OutletMax)
		hottest.Heat = true
		view.Sum = append(view.Sum, hottest)
	}
}

// workings are those of the day's figures.
func workings(v *ui.Visit) (map[string]collector.Working, error) {
	d, err := day(v, skyOf(v.C))
	if err != nil {
		return nil, err
	}
	return simulate.Workings(&d.Day), nil
}

// station are the handlers.
type station struct{ *ui.Server }

func routes(sv *ui.Server, g *echo.Group) {
	s := station{sv}
	g.GET("/day", s.day)
	g.GET("/curve", s.curve)
	g.GET("/months", s.months)
}

// asked reads the heater and the day that the address names.
func (sv station) asked(c *echo.Context) (*ui.Visit, *service.Day, error) {
	st, err := sv.Current(c)
	if err != nil {
		return nil, nil, err
	}
	v := sv.Begin(c, st, "switch")
	d, err := day(v, skyOf(c))
	if err != nil {
		return nil, nil, ui.Uncomputed(err)
	}
	return v, d, nil
}

// day is the simulated day as the chart takes it.
func (sv station) day(c *echo.Context) error {
	v, d, err := sv.asked(c)
	if err != nil {
		return err
	}
	return c.JSON(http.StatusOK, seriesOf(v.Doc(), d, v.F.Units))
}

// CurveView is the curve of heat against the thermostat's setting.
type CurveView struct {
	Chart ui.Chart
	Best  string
}

// curve tries other settings on the day.
func (sv station) curve(c *echo.Context) error {
	v, d, err := sv.asked(c)
	if err != nil {
		return err
	}
	h, u := v.Doc(), v.F.Units
	ss, err := sv.Settings(v.Ctx(), h, d)
	if err != nil || len(ss) == 0 {
		return ui.Uncomputed(err)
	}
	best, lo, hi := simulate.Best(ss)
	t := func(x float64) string { return units.Format(units.Temperature, x, u) }
	view := CurveView{Chart: ui.Draw(func(w float64) template.HTML { return drawing.Settings(ss, h.Switch.Close, w, u) })}
	switch {
	case best.Day.Heat <= 0:
		view = CurveView{Best: "No setting gives any heat on such a day."}
	case lo == hi:
		view.Best = fmt.Sprintf("The day gives the most heat with the fan on at %s.", t(best.Close))
	default:
		view.Best = fmt.Sprintf("Any set point from %s to %s gives within %.0f %% of the day's most heat. A lower one runs longer with "+
			"cooler air; a higher one starts more often.",
			t(lo), t(hi), 100*simulate.Nearly)
	}
	return c.Render(http.StatusOK, "switch-curve", view)
}

// MonthsView is where the thermostat would serve each month best.
type MonthsView struct {
	Chart   ui.Chart
	Missing []string
	Words   string
}

// months tries other settings through the year.
func (sv station) months(c *echo.Context) error {
	st, err := sv.Current(c)
	if err != nil {
		return err
	}
	v := sv.Begin(c, st, "switch")
	y, err := sv.Year(v.Ctx(), v.Doc())
	var lack *climate.Missing
	if errors.As(err, &lack) {
		return c.Render(http.StatusOK, "switch-months", MonthsView{Missing: lack.Names})
	}
	if err != nil {
		return ui.Uncomputed(err)
	}
	ps, err := y.SetPoints(v.Ctx())
	if err != nil {
		return ui.Uncomputed(err)
	}
	return c.Render(http.StatusOK, "switch-months", monthsView(v.Doc(), ps, v.F.Units))
}

// monthsView says where the thermostat would serve each month best.
func monthsView(h *design.Heater, ps []season.SetPoint, u units.System) MonthsView {
	better, same := 0, true
	for _, p := range ps {
		if p.Better() {
			better++
		}
		same = same && p.Close == ps[0].Close
	}
	view := MonthsView{Chart: ui.Draw(func(w float64) template.HTML { return drawing.MonthPoints(ps, h.Switch.Close, w, u) })}
	switch {
	case better > 0 && same:
		view.Words = fmt.Sprintf("Starting at %s would give more useful heat in every month that has useful heat.",
			units.Format(units.Temperature, ps[0].Close, u))
	case better > 0:
		view.Words = fmt.Sprintf("A set point changed with the months would give more useful heat in %s. Columns: the best set point; "+
			"line: yours.",
			ui.Count(better, "month", "months", u))
	default:
		view.Words = "In every month that needs heat, your set point gives nearly the most heat."
	}
	return view
}

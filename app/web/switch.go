package web

import (
	"encoding/json"
	"errors"
	"fmt"
	"html/template"
	"math"
	"net/http"
	"net/url"
	"time"

	"github.com/labstack/echo/v5"

	"gladember/app/drawing"
	"gladember/app/store"
	"gladember/core/climate"
	"gladember/core/collector"
	"gladember/core/design"
	"gladember/core/simulate"
	"gladember/core/thermostat"
	"gladember/core/units"
)

// SwitchView is the centre of the switch station: a day played through.
type SwitchView struct {
	Title           string
	Skies           []SkyLink
	Logged          []SkyLink
	Playing         template.HTML
	PlayingNarrow   template.HTML
	Last            int // the last minute that the time bar reaches
	DataURL         string
	CurveURL        string
	MonthsURL       string
	Summary         string
	Sum             []Figure
	Rows            []LogRow
	None            string // why there is no day
	Handles         bool   // the points can be dragged
	OnText, OffText string // the points as they stand
}

// SkyLink chooses a day.
type SkyLink struct {
	Name, URL string
	Here      bool
}

var skyNames = map[simulate.Sky]string{simulate.Clear: "clear", simulate.HazySky: "hazy", simulate.Broken: "broken cloud", simulate.Coldest: "coldest", simulate.Frosty: "frosty", simulate.Snowy: "snowed on"}

// played is a day gone through.
type played struct {
	day     simulate.Day
	at      time.Time
	weather simulate.Weather
	title   string
	sunIs   string
	err     error
}

// skyOf is the day asked for: a design day's sky, or the date of a logged one.
func skyOf(c *echo.Context) string {
	s := c.FormValue("sky")
	if _, err := time.Parse(time.DateOnly, s); err == nil || simulate.Known(simulate.Sky(s)) {
		return s
	}
	return string(simulate.Clear)
}

// line is what the switch's rung says.
func switchLine(h *design.Heater, u units.System) string {
	t := func(v float64) string { return units.Format(units.Temperature, v, u) }
	switch sw := thermostat.Of(h); sw.Kind {
	case thermostat.SnapDisc, thermostat.SetPoint:
		return fmt.Sprintf("on at %s, off at %s", t(sw.Close), t(sw.Open))
	case thermostat.Differential:
		return fmt.Sprintf("on %s over the room", units.Format(units.Rise, sw.OnAbove, u))
	case thermostat.Direct:
		return "straight off its panel"
	case thermostat.Timer:
		return fmt.Sprintf("from %g to %g o'clock", sw.From, sw.To)
	case thermostat.Plug:
		return "always on"
	}
	return "none: warmth alone"
}

// play goes through the day asked for, or remembers it.
func (sv *Server) play(c *echo.Context, st *store.State) (*played, error) {
	sky := skyOf(c)
	h := &st.Document
	if simulate.Known(simulate.Sky(sky)) {
		return sv.days.of(h, func(h *design.Heater) *played {
			p := &played{at: collector.WinterNoon(h, time.Now().Year()), weather: simulate.DesignDay(h, simulate.Sky(sky)), sunIs: "of a clear sky"}
			p.title = fmt.Sprintf("A %s day, %s", skyNames[simulate.Sky(sky)], p.at.Format("2 January"))
			p.day, p.err = simulate.Run(h, p.at, p.weather)
			return p
		}, sky), nil
	}
	zone := collector.Site(h).Zone
	noon, err := time.ParseInLocation(time.DateOnly, sky, zone)
	if err != nil {
		return nil, err
	}
	noon = noon.Add(12 * time.Hour)
	samples, err := sv.store.Readings(c.Request().Context(), st.Heater, noon.Add(-12*time.Hour), noon.Add(12*time.Hour))
	if err != nil {
		return nil, err
	}
	p := &played{at: noon, title: noon.Format("2 January 2006") + ", as it was logged", sunIs: "of a clear sky"}
	if len(samples) == 0 {
		p.err = errors.New("that day holds no readings; choose another")
		return p, nil
	}
	for _, s := range samples {
		if !math.IsNaN(s.Sun) {
			p.sunIs = "measured"
		}
	}
	p.weather = simulate.Recorded(h, samples)
	p.day, p.err = simulate.Run(h, noon, p.weather)
	return p, nil
}

// loggedDays are the dates with readings.
func (sv *Server) loggedDays(c *echo.Context, f *Frame, sky string) (out []SkyLink, err error) {
	days, err := sv.store.Days(c.Request().Context(), f.ID, collector.Site(&f.State.Document).Zone)
	for _, d := range days {
		t, _ := time.Parse(time.DateOnly, d)
		out = append(out, SkyLink{t.Format("2 Jan"), heaterURL(f.ID, "switch") + "?" + url.Values{"sky": {d}}.Encode(), d == sky})
	}
	return out, err
}

func (sv *Server) switchStation(c *echo.Context, f *Frame, e *evaluated) error {
	h := &f.State.Document
	sky := skyOf(c)
	f.Sky = sky
	p, err := sv.play(c, &f.State)
	if err != nil {
		return err
	}
	d := &p.day
	v := &SwitchView{Title: p.title}
	f.Switch = v
	q := url.Values{"sky": {sky}}.Encode()
	for _, s := range simulate.Skies {
		v.Skies = append(v.Skies, SkyLink{skyNames[s], heaterURL(f.ID, "switch") + "?" + url.Values{"sky": {string(s)}}.Encode(), string(s) == sky})
	}
	if v.Logged, err = sv.loggedDays(c, f, sky); err != nil {
		return err
	}
	f.panel("Switch", spread([]string{"switch.kind", "switch.close_c", "switch.open_c", "switch.tolerance_k", "switch.on_above_k", "switch.off_above_k", "switch.from_h", "switch.to_h", "switch.second_c", "switch.run_on_min", "switch.room_limit_c"})...)
	if p.err != nil {
		v.None = p.err.Error()
		return nil
	}
	u := f.Units
	v.DataURL = heaterURL(f.ID, "switch", "day") + "?" + q
	v.Last = len(d.Samples) - 1
	if e.misfit == nil {
		v.Playing, v.PlayingNarrow = drawing.Playing(h, &e.layout, 700), drawing.Playing(h, &e.layout, 360)
	}
	if k := thermostat.Of(h).Kind; k == thermostat.SnapDisc || k == thermostat.SetPoint {
		v.CurveURL = heaterURL(f.ID, "switch", "curve") + "?" + q
		v.MonthsURL = heaterURL(f.ID, "switch", "months")
		v.Handles = true
		v.OnText, v.OffText = units.Format(units.Temperature, h.Switch.Close, u), units.Format(units.Temperature, h.Switch.Open, u)
	}
	starts := fmt.Sprintf("starts %d times", d.Cycles)
	if d.Cycles == 1 {
		starts = "starts once"
	}
	what := "The fan " + starts
	if !h.Fanned() {
		what = "Air moves by itself"
	}
	v.Summary = fmt.Sprintf("%s and it runs %.0f minutes: %s to the room.", what, d.RunMinutes, units.Format(units.Energy, d.Heat, u))
	day := func(key string) string { return heaterURL(f.ID, "working", "day-"+key) + "?" + q }
	v.Sum = []Figure{{Key: "day-heat", URL: day("heat"), Label: "Heat of the day", Value: units.Figure(units.Energy, d.Heat, u), Unit: u.Unit(units.Energy), Heat: true},
		{Key: "day-running", URL: day("running"), Label: "Running", Value: units.Decimals(d.RunMinutes/60, 1, u), Unit: "h"}}
	if h.Fanned() {
		v.Sum = append(v.Sum, Figure{Label: "Starts", Value: fmt.Sprint(d.Cycles)}, Figure{Key: "day-fan", URL: day("fan"), Label: "For the fan", Value: units.Figure(units.Metered, d.Fan, u), Unit: u.Unit(units.Metered)})
	}
	if d.RunMinutes > 0 {
		v.Sum = append(v.Sum, Figure{Label: "Air out, at most", Value: units.Figure(units.Temperature, d.OutletMax, u), Unit: u.Unit(units.Temperature), Heat: true})
	}
	for i, s := range d.Samples {
		if i%60 == 0 {
			v.Rows = append(v.Rows, LogRow{s.At.In(p.at.Location()).Format("15:04"), units.Figure(units.Temperature, s.Inlet, u), units.Figure(units.Temperature, s.Outlet, u), units.Figure(units.Temperature, s.Ambient, u), units.Format(units.Power, s.Heat, u)})
		}
	}
	return nil
}

// switchDay is the played day as the chart takes it.
func (sv *Server) switchDay(c *echo.Context) error {
	st, err := sv.current(c)
	if err != nil {
		return err
	}
	p, err := sv.play(c, &st)
	if err != nil {
		return err
	}
	if p.err != nil {
		return uncomputed(p.err)
	}
	d := &p.day
	h := &st.Document
	u := sv.page(c, "").Units
	out := series{Zone: p.at.Location().String(), Unit: u.Unit(units.Temperature), SunIs: p.sunIs, Runs: [][2]int64{}, Gaps: [][2]int64{}}
	out.Play = &playedSeries{Power: u.Unit(units.Power), Irradiance: u.Unit(units.Irradiance), Comma: u.DecimalComma, Fan: h.Fanned()}
	if k := thermostat.Of(h).Kind; k == thermostat.SnapDisc || k == thermostat.SetPoint {
		out.Play.On, out.Play.Off = ptr(u.In(units.Temperature, h.Switch.Close)), ptr(u.In(units.Temperature, h.Switch.Open))
	}
	temp := func(v float64) *float64 {
		x := math.Round(u.In(units.Temperature, v)*100) / 100
		return &x
	}
	var from int64
	for i, s := range d.Samples {
		sun := math.Round(s.Sun)
		outlet := temp(s.Outlet)
		if s.Stages == 0 {
			outlet = nil
		}
		out.add(s.At.Unix(), temp(s.Inlet), outlet, temp(s.Ambient), temp(s.Sensor), &sun)
		out.Play.add(s, u)
		switch running := s.Stages > 0; {
		case running && from == 0:
			from = s.At.Unix()
		case from > 0 && (!running || i == len(d.Samples)-1):
			out.Runs = append(out.Runs, [2]int64{from, s.At.Unix()})
			from = 0
		}
	}
	b, err := json.Marshal(out)
	if err != nil {
		return err
	}
	return c.JSONBlob(http.StatusOK, b)
}

// playedSeries is what a played day needs beside its lines: everything the drawing
// shows by the minute.
type playedSeries struct {
	Profile    []float64 `json:"profile"`
	Plate      []float64 `json:"plate"` // C
	PlateShown []float64 `json:"plateShown"`
	Stages     []int     `json:"stages"`
	Heat       []float64 `json:"heat"`
	Coat       []bool    `json:"coat"`
	Power      string    `json:"power"`
	Irradiance string    `json:"irradiance"`
	Comma      bool      `json:"comma"`
	Fan        bool      `json:"fan"`
	On         *float64  `json:"on"` // the switch's points in the person's units, if it has such
	Off        *float64  `json:"off"`
}

func ptr(v float64) *float64 { return &v }

func (p *playedSeries) add(s simulate.Sample, u units.System) {
	p.Profile = append(p.Profile, math.Round(s.Profile*10)/10)
	p.Plate = append(p.Plate, math.Round(s.Absorber))
	p.PlateShown = append(p.PlateShown, math.Round(u.In(units.Temperature, s.Absorber)))
	p.Stages = append(p.Stages, s.Stages)
	p.Heat = append(p.Heat, math.Round(u.In(units.Power, s.Heat)))
	p.Coat = append(p.Coat, s.Coat > simulate.Thin)
}

// CurveView is the curve of heat against the switch's setting.
type CurveView struct {
	Wide, Narrow template.HTML
	Best         string
}

func (sv *Server) switchCurve(c *echo.Context) error {
	st, err := sv.current(c)
	if err != nil {
		return err
	}
	h := &st.Document
	p, err := sv.play(c, &st)
	if err != nil {
		return err
	}
	if p.weather == nil {
		return uncomputed(p.err)
	}
	ss, err := simulate.Settings(h, p.at, p.weather, simulate.Points)
	if err != nil || len(ss) == 0 {
		return uncomputed(err)
	}
	u := sv.page(c, "").Units
	best, lo, hi := simulate.Best(ss)
	t := func(v float64) string { return units.Format(units.Temperature, v, u) }
	v := CurveView{Wide: drawing.Settings(ss, h.Switch.Close, 700, u), Narrow: drawing.Settings(ss, h.Switch.Close, 360, u),
		Best: fmt.Sprintf("Anywhere from %s to %s the day gives within %.0f %% of its most. Lower runs longer with cooler air, higher starts more often.", t(lo), t(hi), 100*simulate.Nearly)}
	switch {
	case best.Day.Heat <= 0:
		v = CurveView{Best: "No setting brings any heat on such a day."}
	case lo == hi:
		v.Best = fmt.Sprintf("The day gives most with the fan on at %s.", t(best.Close))
	}
	return c.Render(http.StatusOK, "curve", v)
}

// MonthsView is where the switch would serve each month best.
type MonthsView struct {
	Strip   template.HTML
	Narrow  template.HTML
	Missing []string
	Words   string
}

func (sv *Server) switchMonths(c *echo.Context) error {
	st, err := sv.current(c)
	if err != nil {
		return err
	}
	h := &st.Document
	u := sv.page(c, "").Units
	w := sv.years.of(h)
	var v MonthsView
	var lack *climate.Missing
	switch {
	case errors.As(w.err, &lack):
		v.Missing = lack.Names
	case w.err != nil:
		return uncomputed(w.err)
	default:
		ps, err := w.setPoints(c.Request().Context(), h)
		if err != nil {
			return err
		}
		better, same := 0, true
		for _, p := range ps {
			if p.Better() {
				better++
			}
			same = same && p.Close == ps[0].Close
		}
		v.Strip, v.Narrow = drawing.MonthPoints(ps, h.Switch.Close, 700, u), drawing.MonthPoints(ps, h.Switch.Close, 360, u)
		v.Words = "In every month that needs heat, the point it has now gives all but a sliver of the most."
		switch {
		case better > 0 && same:
			v.Words = fmt.Sprintf("Starting at %s would bring more useful heat in every month with any.", units.Format(units.Temperature, ps[0].Close, u))
		case better > 0:
			v.Words = fmt.Sprintf("Moved with the month, the switch would bring more useful heat in %d of them. Columns: the point that serves best; line: yours.", better)
		}
	}
	return c.Render(http.StatusOK, "switchmonths", v)
}

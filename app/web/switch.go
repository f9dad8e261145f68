package web

import (
	"encoding/json"
	"fmt"
	"html/template"
	"math"
	"net/http"
	"net/url"
	"time"

	"github.com/labstack/echo/v5"

	"gladember/app/drawing"
	"gladember/core/collector"
	"gladember/core/design"
	"gladember/core/simulate"
	"gladember/core/thermostat"
	"gladember/core/units"
)

// SwitchView is the centre of the switch station: a day played through.
type SwitchView struct {
	Title    string
	Skies    []SkyLink
	DataURL  string
	CurveURL string
	Summary  string
	Sum      []Figure
	Rows     []LogRow
	None     string // why there is no day
}

// SkyLink chooses a design day.
type SkyLink struct {
	Name, URL string
	Here      bool
}

var skyNames = map[simulate.Sky]string{simulate.Clear: "clear", simulate.HazySky: "hazy", simulate.Broken: "broken cloud", simulate.Coldest: "coldest", simulate.Frosty: "frosty", simulate.Snowy: "snowed on"}

func skyOf(c *echo.Context) simulate.Sky {
	if s := simulate.Sky(c.FormValue("sky")); simulate.Known(s) {
		return s
	}
	return simulate.Clear
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

func (sv *Server) played(c *echo.Context, h *design.Heater) (simulate.Day, time.Time, simulate.Sky, error) {
	sky := skyOf(c)
	at := collector.WinterNoon(h, time.Now().Year())
	d, err := simulate.Run(h, at, simulate.DesignDay(h, sky))
	return d, at, sky, err
}

func (sv *Server) switchStation(c *echo.Context, f *Frame) error {
	h := &f.State.Document
	d, at, sky, err := sv.played(c, h)
	v := &SwitchView{Title: fmt.Sprintf("A %s day, %s", skyNames[sky], at.Format("2 January"))}
	f.Switch = v
	q := url.Values{"sky": {string(sky)}}.Encode()
	for _, s := range simulate.Skies {
		v.Skies = append(v.Skies, SkyLink{skyNames[s], heaterURL(f.ID, "switch") + "?" + url.Values{"sky": {string(s)}}.Encode(), s == sky})
	}
	f.panel("Switch", spread([]string{"switch.kind", "switch.close_c", "switch.open_c", "switch.tolerance_k", "switch.on_above_k", "switch.off_above_k", "switch.from_h", "switch.to_h", "switch.second_c", "switch.run_on_min", "switch.room_limit_c"})...)
	if err != nil {
		v.None = err.Error()
		return nil
	}
	v.DataURL = heaterURL(f.ID, "switch", "day") + "?" + q
	if k := thermostat.Of(h).Kind; k == thermostat.SnapDisc || k == thermostat.SetPoint {
		v.CurveURL = heaterURL(f.ID, "switch", "curve") + "?" + q
	}
	u := f.Units
	starts := fmt.Sprintf("starts %d times", d.Cycles)
	if d.Cycles == 1 {
		starts = "starts once"
	}
	what := "The fan " + starts
	if !h.Fanned() {
		what = "Air moves by itself"
	}
	v.Summary = fmt.Sprintf("%s and it runs %.0f minutes: %s to the room.", what, d.RunMinutes, units.Format(units.Energy, d.Heat, u))
	v.Sum = []Figure{{Label: "Heat of the day", Value: units.Figure(units.Energy, d.Heat, u), Unit: u.Unit(units.Energy), Heat: true},
		{Label: "Running", Value: fmt.Sprintf("%.1f", d.RunMinutes/60), Unit: "h"}}
	if h.Fanned() {
		v.Sum = append(v.Sum, Figure{Label: "Starts", Value: fmt.Sprint(d.Cycles)}, Figure{Label: "For the fan", Value: units.Figure(units.Energy, d.Fan, u), Unit: u.Unit(units.Energy)})
	}
	if d.RunMinutes > 0 {
		v.Sum = append(v.Sum, Figure{Label: "Air out, at most", Value: units.Figure(units.Temperature, d.OutletMax, u), Unit: u.Unit(units.Temperature), Heat: true})
	}
	for i, s := range d.Samples {
		if i%60 == 0 {
			v.Rows = append(v.Rows, LogRow{s.At.In(at.Location()).Format("15:04"), units.Figure(units.Temperature, s.Inlet, u), units.Figure(units.Temperature, s.Outlet, u), units.Figure(units.Temperature, s.Ambient, u), units.Format(units.Power, s.Heat, u)})
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
	d, at, _, err := sv.played(c, &st.Document)
	if err != nil {
		return echo.NewHTTPError(http.StatusNotFound, err.Error())
	}
	u := sv.page(c, "").Units
	out := series{Zone: at.Location().String(), Unit: u.Unit(units.Temperature), SunIs: "of a clear sky", Runs: [][2]int64{}, Gaps: [][2]int64{}}
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
	ss, err := simulate.Settings(h, collector.WinterNoon(h, time.Now().Year()), simulate.DesignDay(h, skyOf(c)), simulate.Points)
	if err != nil || len(ss) == 0 {
		return echo.NewHTTPError(http.StatusNotFound, "")
	}
	u := sv.page(c, "").Units
	best, lo, hi := simulate.Best(ss)
	t := func(v float64) string { return units.Format(units.Temperature, v, u) }
	v := CurveView{Wide: drawing.Settings(ss, h.Switch.Close, 700, u), Narrow: drawing.Settings(ss, h.Switch.Close, 360, u),
		Best: fmt.Sprintf("Anywhere from %s to %s the day gives within %.0f %% of its most. Lower runs longer with cooler air, higher starts more often.", t(lo), t(hi), 100*simulate.Nearly)}
	if lo == hi {
		v.Best = fmt.Sprintf("The day gives most with the fan on at %s.", t(best.Close))
	}
	return c.Render(http.StatusOK, "curve", v)
}

// Package season is the station of the year: what the heater is worth, how certain that is, and what would change it.
package season

import (
	"embed"
	"encoding/json"
	"errors"
	"fmt"
	"html/template"
	"math"
	"net/http"
	"slices"
	"strings"
	"time"

	"github.com/labstack/echo/v5"

	"gladember/app/drawing"
	"gladember/app/service"
	"gladember/app/store"
	"gladember/app/web/ui"
	"gladember/core/advice"
	"gladember/core/climate"
	"gladember/core/collector"
	"gladember/core/design"
	"gladember/core/season"
	"gladember/core/units"
)

//go:embed *.html
var templates embed.FS

// New returns the station.
func New() *ui.Station {
	return &ui.Station{
		Key: "season", Name: "Season", Group: ui.Measure, Templates: templates, Topics: []advice.Topic{advice.Yield}, Quiet: true,
		Fresh: true,
		Open:  open, Summary: summary, Routes: routes, Workings: workings,
	}
}

// View is the center of the station; the year follows by itself.
type View struct {
	YearURL  string
	SweepURL string
	Tries    []ui.ChoiceView
}

// YearView is a computed year.
type YearView struct {
	Missing    []string
	Broken     string
	Frame      *ui.Frame
	Months     ui.Chart
	Source     string
	Sum, Money []ui.Figure
	// Outlay says where the cost of the box comes from.
	Outlay   string
	Rows     []MonthRow
	Says     []string
	JudgeURL string
	Kept     []KeptRow
}

// MonthRow is a month in the table.
type MonthRow struct{ Month, Sun, Need, Heat, Night, Useful, Fan, Hours, Out, Comfort string }

// summary is the season's line in the list of stations.
func summary(v *ui.Visit) (string, bool, error) {
	y, u := v.KnownYear(v.Doc()), v.F.Units
	decided := v.Decided(design.MoneyFuelPrice, design.MoneySpent, design.MoneyElectricity)
	if y == nil {
		return "not computed since the last change", decided, nil
	}
	year := &y.Result.Year
	return fmt.Sprintf("%s useful heat, %s of the need", units.Format(units.Energy, year.Useful, u),
		units.Format(units.Share, year.Fraction(), u)), decided, nil
}

// open fills the frame.
func open(v *ui.Visit) error {
	f := v.F
	view := &View{YearURL: f.StationURL("season/year"), SweepURL: f.StationURL("season/sweep")}
	for _, x := range season.ListTries(v.Doc()) {
		view.Tries = append(view.Tries, ui.ChoiceView{ID: x.Path, Name: x.Name})
	}
	f.View = view
	f.Fields("Money", design.MoneySpent, design.MoneyResale, design.RoomFuelUnit, design.MoneyFuelPrice, design.MoneyElectricity,
		design.MoneyInterest, design.MoneyFuelRise, design.MoneyYears)
	f.Fields("Space and its heating", design.RoomHeater, design.RoomWanted, design.RoomVent)
	f.Fields("Weather through the year", design.ClimateSunnyWinter, design.ClimateSunny, design.ClimateColdest, design.ClimateWarmest)
	return v.ShowOutlay()
}

// workings are those of the year's figures, with their uncertainty once it is computed.
func workings(v *ui.Visit) (map[string]collector.Working, error) {
	y, err := v.Year(v.Ctx(), v.Doc())
	if err != nil {
		return nil, err
	}
	o, err := v.Outlay()
	if err != nil {
		return nil, err
	}
	return y.Workings(o)
}

// station are the handlers.
type station struct{ *ui.Server }

func routes(sv *ui.Server, g *echo.Group) {
	s := station{sv}
	g.GET("/year", s.year)
	g.GET("/judged", s.judged)
	g.POST("/sweep", s.sweep)
}

// year computes the heater's year.
func (sv station) year(c *echo.Context) error {
	st, err := sv.Current(c)
	if err != nil {
		return err
	}
	v := sv.Begin(c, st, "season")
	y, err := sv.Year(v.Ctx(), v.Doc())
	if v.Ctx().Err() != nil {
		return err
	}
	var view YearView
	var lack *climate.Missing
	switch {
	case errors.As(err, &lack):
		view.Missing = lack.Names
	case err != nil:
		view.Broken = ui.Capital(err.Error()) + "."
	default:
		if view, err = yearView(v, y); err != nil {
			return err
		}
	}
	full, err := sv.Visit(c, st, "season") // its list of stations says what the year came to
	if err != nil {
		return err
	}
	view.Frame = full.F
	return c.Render(http.StatusOK, "season-year", view)
}

// yearView writes a year, and keeps what it came to.
func yearView(v *ui.Visit, y *service.Year) (YearView, error) {
	f, r := v.F, y.Result
	view := YearView{
		Source: y.Climate.Year.Source, JudgeURL: f.StationURL("season/judged"),
		Months: ui.Draw(func(w float64) template.HTML { return drawing.Months(r, w, f.Units) }),
	}
	o, err := v.Outlay()
	if err != nil {
		return view, err
	}
	ws, err := y.Workings(o)
	if err != nil {
		return view, err
	}
	m, err := y.Worth(o)
	if err != nil {
		return view, err
	}
	unheated := v.Doc().Room.Heater == "none"
	view.Sum = sums(f, v.Doc(), y)
	if !unheated {
		view.Money = money(f, &m, o)
		view.Outlay = ui.Lower(f.OutlaySays(o))
	}
	for _, fs := range [][]ui.Figure{view.Sum, view.Money} {
		for i := range fs {
			if _, ok := ws[fs[i].Key]; ok {
				fs[i] = f.Opens(fs[i])
			}
		}
	}
	view.Says = says(f, y, &m, unheated)
	for i, x := range r.Months {
		e := func(v float64) string { return units.Figure(units.Energy, v, f.Units) }
		view.Rows = append(view.Rows, MonthRow{
			time.Month(i + 1).String(), e(x.Sun), e(x.Need), e(x.Heat), e(x.Back), e(x.Useful), units.Figure(units.Metered, x.Fan, f.Units),
			ui.Whole(x.Run, f.Units), units.Figure(units.Temperature, x.OutletMax, f.Units), ui.Whole(x.Comfort, f.Units),
		})
	}
	if err := keep(v, y, m.Saved); err != nil {
		return view, err
	}
	view.Kept, err = kept(v)
	return view, err
}

// sums are the year's heat.
func sums(f *ui.Frame, h *design.Heater, y *service.Year) []ui.Figure {
	r := y.Result
	useful, heat := f.Figure("useful", "Useful heat a year", units.Energy, r.Year.Useful),
		f.Figure("heat", "Heat delivered", units.Energy, r.Year.Heat)
	hottest := f.Figure("stagnation", collector.StandingName(h)+collector.AtWorst, units.Temperature, r.Stagnation)
	useful.Heat, heat.Heat, hottest.Heat = true, true, true
	return []ui.Figure{
		useful, f.Figure("fraction", "Share of the heating need", units.Share, r.Year.Fraction()), heat,
		f.Figure("fan", "Electricity for fans a year", units.Metered, r.Year.Fan),
		{Key: "run", Label: "Running time a year", Value: ui.Whole(r.Year.Run, f.Units), Unit: "h"}, hottest,
	}
}

// money are the year's savings, and what the heater costs.
func money(f *ui.Frame, m *season.Money, o service.Outlay) []ui.Figure {
	years := func(key, label string, v float64) ui.Figure {
		if math.IsInf(v, 1) {
			return ui.Figure{Key: key, Label: label, Value: "never"}
		}
		return ui.Figure{Key: key, Label: label, Value: units.Decimals(v, 1, f.Units), Unit: "years"}
	}
	fs := []ui.Figure{
		{Key: "spent", Label: "Cost of the box", Value: f.Sum(o.Sum, 2)},
		{Key: "saved", Label: "Money saved a year", Value: f.Sum(m.Saved, 0)},
		years("simple", "Payback", m.Simple), years("discounted", "Payback with interest", m.Discounted),
		{Key: "fuel", Label: "Fuel saved a year", Value: ui.Whole(m.Units, f.Units), Unit: m.Unit},
		{Key: "carbon", Label: "CO₂ avoided a year", Value: units.Figure(units.Mass, m.Carbon, f.Units), Unit: f.Units.Unit(units.Mass)},
	}
	if !math.IsInf(m.PerKWh, 1) {
		fs = append(fs, ui.Figure{Key: "perkwh", Label: "Cost of a useful kWh", Value: f.Sum(m.PerKWh, 2)})
	}
	return fs
}

// says are the sentences below the figures.
func says(f *ui.Frame, y *service.Year, m *season.Money, unheated bool) (out []string) {
	u, r := f.Units, y.Result
	say := func(format string, args ...any) { out = append(out, fmt.Sprintf(format, args...)) }
	kwh := func(v float64) string { return units.Format(units.Energy, v, u) }
	best, poor := r.BestWeek()
	say("The best week gives %s, the poorest week of the heating season %s.", kwh(best), kwh(poor))
	if r.Year.Back > 1 {
		most := 0
		for i := range r.Months {
			if r.Months[i].Back > r.Months[most].Back {
				most = i
			}
		}
		say("At night air that falls through the box takes %s out of the space, most of it in %s; useful heat is what is left of the heat "+
			"delivered after that.", kwh(r.Year.Back), time.Month(most+1))
	}
	if r.Year.TooHot > 1 {
		say("Because of the box the windows are open for %s hours a year.", ui.Whole(r.Year.TooHot, u))
	}
	if unheated {
		say("Without any heater the space is warm enough for %s of %s hours of use; with the box for %s.", ui.Whole(r.Year.Bare, u),
			ui.Whole(r.Year.Use, u), ui.Whole(r.Year.Comfort, u))
	}
	say("For comparison, solar electric panels of the same area would give %s of electricity a year.",
		units.Format(units.Metered, m.PV, u))
	return out
}

// PointRow is a set point and the months that it serves best.
type PointRow struct {
	Months, Close, Gain string
	months              []int
	close, gain         float64
}

// spans names months, 1..12 in their order, those that follow each other as a span.
func spans(months []int) string {
	var out []string
	name := func(i int) string { return time.Month(months[i]).String() }
	for i := 0; i < len(months); {
		j := i
		for j+1 < len(months) && months[j+1] == months[j]+1 {
			j++
		}
		switch {
		case j == i:
			out = append(out, name(i))
		case j == i+1:
			out = append(out, name(i), name(j))
		default:
			out = append(out, name(i)+" to "+name(j))
		}
		i = j + 1
	}
	return strings.Join(out, ", ")
}

// JudgedView is what a year's uncertainty and findings say.
type JudgedView struct {
	Band     string
	Causes   []string
	Points   []PointRow
	Outage   string
	Findings []ui.FindingView
	Frame    *ui.Frame
}

// judged computes the year's uncertainty and findings.
func (sv station) judged(c *echo.Context) error {
	st, err := sv.Current(c)
	if err != nil {
		return err
	}
	v := sv.Begin(c, st, "season")
	y, err := sv.Year(v.Ctx(), v.Doc())
	if err != nil {
		return ui.Uncomputed(err)
	}
	j, err := y.Judge(v.Ctx())
	if err != nil {
		return ui.Uncomputed(err)
	}
	return c.Render(http.StatusOK, "season-judged", judgedView(v.F, j))
}

// judgedView writes a judgment.
func judgedView(f *ui.Frame, j *service.Judgment) JudgedView {
	u := f.Units
	b := j.Bands.Useful
	view := JudgedView{Frame: f, Points: points(j.Points, u), Band: ui.Range(units.Energy, b.Low, b.High, u) + " " + u.Unit(units.Energy)}
	const shown = 3
	for _, x := range b.Largest(shown) {
		view.Causes = append(view.Causes, fmt.Sprintf("%s: ± %s", x.Name, units.Format(units.Energy, 2*math.Abs(x.Effect), u)))
	}
	if o := j.Outage; o.Warmest > 0 {
		view.Outage = fmt.Sprintf("If the power fails on the coldest clear day, the space is at %s by dusk; without the box it would "+
			"be at %s.",
			units.Format(units.Temperature, o.Dusk, u), units.Format(units.Temperature, o.Without, u))
		if o.Fan > 0 {
			view.Outage += fmt.Sprintf(" The fan then takes %.0f Wh from a battery.", 1000*o.Fan)
		}
	}
	for i := range j.Findings {
		view.Findings = append(view.Findings, ui.Finding(&j.Findings[i], f.Page))
	}
	return view
}

// points sorts the better set points of the months by their temperature.
func points(ps []season.SetPoint, u units.System) (rows []PointRow) {
	for _, p := range ps {
		if !p.Better() {
			continue
		}
		at := slices.IndexFunc(rows, func(x PointRow) bool { return x.close == p.Close })
		if at < 0 {
			at = len(rows)
			rows = append(rows, PointRow{Close: units.Format(units.Temperature, p.Close, u), close: p.Close})
		}
		x := &rows[at]
		x.months = append(x.months, p.Month)
		x.gain += p.Useful - p.Now
		x.Months, x.Gain = spans(x.months), ui.Signed(units.Energy, x.gain, u)
	}
	return rows
}

// figures are what is kept of a year.
type figures struct {
	Useful float64 `json:"useful_kwh"`
	Heat   float64 `json:"heat_kwh"`
	Need   float64 `json:"need_kwh"`
	Fan    float64 `json:"fan_kwh"`
	Saved  float64 `json:"saved"`
}

// keep writes down what a version's year came to, with the program that computed it.
func keep(v *ui.Visit, y *service.Year, saved float64) error {
	r := &y.Result.Year
	b, err := json.Marshal(figures{r.Useful, r.Heat, r.Need, r.Fan, saved})
	if err != nil {
		return err
	}
	return v.Store.Keep(v.Ctx(), store.Kept{Version: v.State.Version, Revision: v.State.Revision, Program: v.Program, Figures: string(b)})
}

// KeptRow is an earlier result of this heater.
type KeptRow struct{ When, Version, Useful, Program string }

// mostKept is how many earlier results are shown.
const mostKept = 8

// kept are the results that were written down, the newest first.
func kept(v *ui.Visit) (out []KeptRow, err error) {
	ks, err := v.Store.KeptOf(v.Ctx(), v.F.ID)
	if err != nil {
		return nil, err
	}
	names := map[int64]string{}
	for _, x := range v.State.Versions {
		names[x.ID] = x.Name
	}
	for _, k := range ks {
		var x figures
		if json.Unmarshal([]byte(k.Figures), &x) != nil || k.Version == v.State.Version && k.Revision == v.State.Revision {
			continue
		}
		at := units.Time(time.UnixMilli(k.At).In(time.Local), "2 Jan, 15:04", v.F.Units)
		out = append(out, KeptRow{at, fmt.Sprintf("%s, change %d", names[k.Version], k.Revision),
			units.Format(units.Energy, x.Useful, v.F.Units), k.Program})
		if len(out) == mostKept {
			break
		}
	}
	return out, nil
}

package logs

import (
	"context"
	"encoding/json"
	"fmt"
	"html/template"
	"math"
	"slices"
	"time"

	"github.com/labstack/echo/v5"

	"gladember/app/drawing"
	"gladember/app/service"
	"gladember/app/store"
	"gladember/app/web/ui"
	"gladember/core/design"
	"gladember/core/measure"
	"gladember/core/units"
)

// fitted is a heater that was fitted to its log, with where a day's sun went before and after.
type fitted struct {
	fit         *measure.Fit
	date        string
	from, to    string // the log's first and last date
	before, now measure.DayParts
	got         float64 // heat that was measured on that day, kWh
}

// FitView is what a log says of a heater's unknowns.
type FitView struct {
	Rows     []FitRow
	Words    []string
	Next     string // the test that would help most
	NextURL  string
	Findings []measure.Finding
	Bars     ui.Chart
	Lost     []string
	TakeURL  string
	Vals     string
}

// FitRow is one unknown.
type FitRow struct{ Name, Design, Value, Band string }

// fitNames are what the unknowns are called, in the order of their showing, with their kinds.
var fitNames = map[string]struct {
	name, short string
	kind        units.Kind
}{"flow_m3_s": {"Airflow, as room air", "airflow", units.Flow}, "leak_m3_s": {"Leakage while the fan runs", "leakage", units.Flow},
	"bypass": {"Bypass air", "bypass air", units.Share}, "tau_alpha": {"Absorbed sun, measured over computed", "absorbed sun", units.Share}}

// calibrate fits the heater to all of its log.
func (sv station) calibrate(c *echo.Context) error {
	v, err := sv.evaluated(c)
	if err != nil {
		return err
	}
	l, err := sv.Log(v.Ctx(), &v.State, v.Heater, v.F.Units)
	if err != nil {
		return ui.JobRefused(c, ui.Capital(err.Error())+".")
	}
	if l.Report == nil {
		return ui.JobRefused(c, "There are no readings yet.")
	}
	h := *v.Doc()
	day := l.Report.Days[l.Day(c.FormValue("day"))]
	work := func(ctx context.Context, progress func(done, of int)) (any, error) {
		return fitTo(ctx, &h, l, day, progress)
	}
	return v.ShowJob(sv.Jobs.Start(v.State.Heater, "log", "fit", service.KeyOfPage(&h, l.Key, day.Date), work))
}

// fitTo fits a heater and splits a day's sun before and after.
func fitTo(ctx context.Context, h *design.Heater, l *service.Log, day measure.Day, progress func(done, of int)) (*fitted, error) {
	all, err := l.All(ctx)
	if err != nil {
		return nil, err
	}
	f, err := measure.Calibrate(ctx, h, all, l.Setup, progress)
	if err != nil {
		return nil, err
	}
	days := l.Report.Days
	out := &fitted{fit: f, date: day.Date, got: day.Heat, from: days[0].Date, to: days[len(days)-1].Date}
	samples, err := l.Readings(ctx, day.Date)
	if err != nil {
		return nil, err
	}
	if out.before, err = measure.Parts(h, samples, l.Setup, 0); err != nil {
		return nil, err
	}
	next, err := design.Apply(*h, units.System{}, out.changes()...)
	if err != nil {
		return nil, err
	}
	out.now, err = measure.Parts(&next, samples, l.Setup, 0)
	return out, err
}

// changes write what was fitted into the heater.
func (f *fitted) changes() (out []design.Change) {
	for _, p := range f.fit.Parameters {
		if p.Change.Path != "" && p.Change.Value != nil {
			out = append(out, p.Change)
		}
	}
	return out
}

// Show writes the unknowns, what stays unexplained, and where the missing heat goes.
func (f *fitted) Show(v *ui.Visit, takeURL string) (any, error) {
	u := v.F.Units
	view := &FitView{TakeURL: takeURL, Vals: v.F.Vals("", map[string]string{"key": "all"}), Findings: f.fit.Findings}
	for _, p := range f.fit.Parameters {
		n := fitNames[p.Name]
		view.Rows = append(view.Rows, FitRow{n.name, units.Format(n.kind, p.Design, u), units.Format(n.kind, p.Value, u),
			ui.Range(n.kind, p.Low, p.High, u)})
	}
	view.Words = append(view.Words, fmt.Sprintf("From %s of steady running. The outlet is then still off by %s, which is %s of heat.",
		ui.Count(f.fit.Windows, "stretch", "stretches", u), units.Format(units.Rise, f.fit.RMS, u),
		units.Format(units.Power, f.fit.Unexplained, u)))
	if a, b, r := f.tied(); math.Abs(r) > 0.5 {
		view.Words = append(view.Words, fmt.Sprintf("%s and %s cannot be told apart well by a log: their errors go together by %s.",
			ui.Capital(fitNames[a].short), fitNames[b].short, units.Format(units.Share, math.Abs(r), u)))
	}
	if t := measure.FindTrial(f.fit.Next); t != nil {
		view.Next, view.NextURL = t.Title, v.F.StationURL("test", "test", t.ID)
	}
	view.Bars = ui.Draw(func(w float64) template.HTML { return drawing.TwoDays(&f.before, &f.now, u, w) })
	view.Lost = f.lost(u)
	return view, nil
}

// tied are the two unknowns whose errors go together most.
func (f *fitted) tied() (a, b string, r float64) {
	ps := f.fit.Parameters
	for i := range ps {
		for k := i + 1; k < len(ps); k++ {
			if c := f.fit.Correlations[i][k]; math.Abs(c) > math.Abs(r) {
				a, b, r = ps[i].Name, ps[k].Name, c
			}
		}
	}
	return a, b, r
}

// lost names where the heat goes that the heater was expected to give and does not, the largest part first.
func (f *fitted) lost(u units.System) (out []string) {
	type part struct {
		name string
		more float64
	}
	parts := []part{{"reflected or not taken in", f.now.Reflected - f.before.Reflected}, {"lost through the glazing",
		f.now.Front - f.before.Front},
		{"lost through back and sides", f.now.Back + f.now.Edge - f.before.Back - f.before.Edge}, {"lost by leaks",
			f.now.Leak - f.before.Leak}}
	slices.SortFunc(parts, func(a, b part) int { return int(math.Copysign(1, b.more-a.more)) })
	const least = 0.02 // kWh
	for _, p := range parts {
		switch {
		case p.more > least:
			out = append(out, units.Format(units.Energy, p.more, u)+" more is "+p.name)
		case p.more < -least:
			out = append(out, units.Format(units.Energy, -p.more, u)+" less is "+p.name)
		}
	}
	return out
}

// kept is what is kept of a fit with the heater: the figures and what they were found from.
type kept struct {
	Parameters   []keptParameter `json:"parameters"`
	Correlations [][]float64     `json:"correlations"`
	RMS          float64         `json:"rms_k"`
	Unexplained  float64         `json:"unexplained_w"`
	Windows      int             `json:"windows"`
	From         string          `json:"from"`
	To           string          `json:"to"`
	Files        []string        `json:"files"`
}

// keptParameter is one unknown, SI.
type keptParameter struct {
	Name   string  `json:"name"`
	Unit   string  `json:"unit"`
	Design float64 `json:"design"`
	Value  float64 `json:"value"`
	Low    float64 `json:"low"`
	High   float64 `json:"high"`
}

// Keep keeps the fit among the tests of the version, with the files that it was made from.
func (f *fitted) Keep(ctx context.Context, s *store.Store, st store.State) error {
	k := kept{Correlations: f.fit.Correlations, RMS: f.fit.RMS, Unexplained: f.fit.Unexplained, Windows: f.fit.Windows, From: f.from,
		To: f.to}
	imports, err := s.Imports(ctx, st.Logged())
	if err != nil {
		return err
	}
	for _, x := range imports {
		k.Files = append(k.Files, x.Name)
	}
	var words []string
	for _, p := range f.fit.Parameters {
		k.Parameters = append(k.Parameters, keptParameter{p.Name, p.Unit, p.Design, p.Value, p.Low, p.High})
		n := fitNames[p.Name]
		words = append(words, n.short+" "+units.Format(n.kind, p.Value, units.System{}))
	}
	entry, err := json.Marshal(k)
	if err != nil {
		return err
	}
	_, err = s.AddTrial(ctx, st.Heater, store.Trial{Version: st.Version, Kind: store.Calibration, Made: time.Now().UnixMilli(),
		Entry: string(entry), Result: ui.List(words)})
	return err
}

// Take is everything that was fitted, as measured.
func (f *fitted) Take(key string) (string, []design.Change, bool) {
	return "Calibration to the log", f.changes(), key == "all"
}

// Package trials is the station of the guided tests: what to measure, where and when, what it gave beside what was expected, and
// what of it the prediction takes.
package trials

import (
	"cmp"
	"embed"
	"encoding/json"
	"fmt"
	"html/template"
	"maps"
	"math"
	"net/http"
	"slices"
	"strconv"
	"strings"
	"time"

	"gladember/core/design"

	"github.com/labstack/echo/v5"

	"gladember/app/drawing"
	"gladember/app/store"
	"gladember/app/web/ui"
	"gladember/core/advice"
	"gladember/core/buildplan"
	"gladember/core/collector"
	"gladember/core/measure"
	"gladember/core/units"
)

//go:embed *.html
var templates embed.FS

// New returns the station.
func New() *ui.Station {
	s := &ui.Station{Key: "test", Name: "Test", Group: ui.Measure, Templates: templates, Topics: []advice.Topic{}, Quiet: true}
	s.Routes = func(sv *ui.Server, g *echo.Group) {
		st := station{sv}
		g.POST("/judge", st.judge)
		g.POST("/save", st.save)
		g.POST("/drop", st.drop)
		g.GET("/sheet", st.sheet)
	}
	s.Open = func(v *ui.Visit) error { return open(v, nil) }
	s.Summary = summary
	return s
}

// station are the handlers.
type station struct{ *ui.Server }

// View is the center of the station: one test, or the list of all.
type View struct {
	Groups []GroupView
	Card   *Card
	Made   []MadeView
	List   string // address of the list
	Sheet  string // address of the sheet to print
}

// GroupView are the tests about one thing.
type GroupView struct {
	Name string
	Rows []RowView
}

// RowView is a test in the list.
type RowView struct {
	Title, URL, Tells, When, Last string
	Next                          bool // it would help most now
}

// MadeView is a test that was made.
type MadeView struct{ ID, Title, When, Result, URL, Vals string }

// Card is a test that is being made.
type Card struct {
	ID, Title, Tells                     string
	When, Minutes                        string
	Ready                                []string
	Do, Spoils, Cautions, Probes         []string
	Drawing                              ui.Chart
	Asks                                 []AskView
	JudgeURL, SaveURL, DropURL, Vals, At string
	Costs                                string // where what is seen is priced for a year; empty for a test with readings
	Seen                                 []SeenRow
	Verdict                              *Verdict
	Error                                string
}

// SeenRow is what may be seen on a round, with what it costs.
type SeenRow struct{ Name, Check, Costs string }

// seen prices what may be seen on a round, the dearest first.
func seen(v *ui.Visit) (rows []SeenRow) {
	u := v.F.Units
	list := buildplan.Observations(&v.Heater.Eval)
	slices.SortStableFunc(list, func(a, b buildplan.Observed) int { return cmp.Compare(b.Costs, a.Costs) })
	for _, o := range list {
		row := SeenRow{o.Name.In(u), o.Check.In(u), units.Format(units.Power, max(0, o.Costs), u)}
		switch {
		case o.AtNight:
			row.Costs = "by night"
		case o.Costs < 1:
			row.Costs = "next to nothing"
		}
		rows = append(rows, row)
	}
	return rows
}

// AskView is one thing to enter.
type AskView struct {
	ID, Label, Unit, Trap string
	Optional, Watch       bool
	Cells                 []CellView
}

// CellView is a reading of it.
type CellView struct{ Name, Label, Typed, Error string }

// Verdict is what a test gives so far.
type Verdict struct {
	Missing string
	Figures []ui.Figure
	Bars    ui.Chart
	Text    string
	Notes   []string
	Budget  []string
	Likely  []LikelyView
	Writes  []string
	Error   string
}

// LikelyView is what may explain a difference.
type LikelyView struct{ Text, Test, URL string }

// summary is the station's line in the list of stations.
func summary(v *ui.Visit) (string, bool, error) {
	made, err := v.Store.Trials(v.Ctx(), v.State.Heater)
	if err != nil {
		return "", false, err
	}
	if len(made) == 0 {
		return "nothing measured yet", false, nil
	}
	last := made[0].Kind
	if t := measure.FindTrial(last); t != nil {
		last = t.Title
	}
	return ui.Count(len(made), "test", "tests", v.F.Units) + ", last: " + strings.ToLower(last[:1]) + last[1:], true, nil
}

// zone is the clock of the heater's place.
func zone(v *ui.Visit) *time.Location {
	if z := collector.Site(v.Doc()).Zone; z != nil {
		return z
	}
	return time.UTC
}

// open fills the frame; d is what was entered and not kept.
func open(v *ui.Visit, d *draft) error {
	f := v.F
	view := &View{List: f.StationURL("test"), Sheet: f.StationURL("test/sheet")}
	f.View = view
	measured := []design.Ref{design.AirFanStrength, design.CoverTauAlpha, design.ScreensBypass}
	if v.Doc().Room.Loss > 0 { // else it follows from the parts of the space
		measured = append(measured, design.RoomLoss)
	}
	f.Fields("As measured", measured...)
	f.Fields("Probes", design.LogInletOff, design.LogOutletOff, design.LogOutdoorOff)
	made, err := v.Store.Trials(v.Ctx(), v.State.Heater)
	if err != nil {
		return err
	}
	for _, m := range made {
		view.Made = append(view.Made, madeView(v, &m))
	}
	if t := measure.FindTrial(v.C.FormValue("test")); t != nil && t.Suits(v.Doc()) {
		return view.card(v, t, d)
	}
	view.list(v, made)
	return nil
}

// madeView shows a test that was made.
func madeView(v *ui.Visit, m *store.Trial) MadeView {
	x := MadeView{ID: ui.ID(m.ID), Title: m.Kind, Result: m.Result,
		When: units.Time(m.When().In(zone(v)), "2 January 2006, 15:04", v.F.Units),
		URL:  v.F.StationURL("test", "test", m.Kind), Vals: v.F.Vals("", map[string]string{"trial": ui.ID(m.ID)})}
	if m.Kind == store.Calibration {
		x.Title = "Calibration to the log"
	} else if t := measure.FindTrial(m.Kind); t != nil {
		x.Title = t.Title
	}
	return x
}

// list shows all tests by what they are about. The one that helps most is the first that was not made.
func (view *View) list(v *ui.Visit, made []store.Trial) {
	f, next := v.F, true
	now := time.Now()
	windows := map[measure.Moment]string{measure.InSun: when(v, measure.InSun, now), measure.InDark: when(v, measure.InDark, now),
		measure.AnyTime: "at any time"}
	for _, t := range measure.Trials() {
		if !t.Suits(v.Doc()) {
			continue
		}
		r := RowView{Title: t.Title, URL: f.StationURL("test", "test", t.ID), Tells: t.Tells.In(f.Units), When: windows[t.When]}
		if i := slices.IndexFunc(made, func(m store.Trial) bool { return m.Kind == t.ID }); i >= 0 {
			r.Last = made[i].Result + ", " + units.Time(made[i].When().In(zone(v)), "2 Jan", f.Units)
		} else if next {
			r.Next, next = true, false
		}
		g := slices.IndexFunc(view.Groups, func(g GroupView) bool { return g.Name == t.Group })
		if g < 0 {
			view.Groups = append(view.Groups, GroupView{Name: t.Group})
			g = len(view.Groups) - 1
		}
		view.Groups[g].Rows = append(view.Groups[g].Rows, r)
	}
}

// ahead is how many days the next times of a test are looked for.
const ahead = 7

// when says the next time that suits a test.
func when(v *ui.Visit, m measure.Moment, now time.Time) string {
	ws := measure.Windows(v.Doc(), m, now, ahead)
	if len(ws) == 0 {
		if m == measure.InSun {
			return "the sun does not reach the glass squarely this week"
		}
		return "at any time"
	}
	w := ws[0]
	sky := ""
	if m == measure.InSun {
		sky = ", if the sky is clear"
	}
	return units.Time(w.From, "Mon 2 Jan, 15:04", v.F.Units) + " to " + units.Time(w.To, "15:04", v.F.Units) + sky
}

// draft is a test as it was entered.
type draft struct {
	typed  map[string]string
	errors map[string]string
	at     string
	why    string
}

// card shows one test.
func (view *View) card(v *ui.Visit, t *measure.Trial, d *draft) error {
	f, u := v.F, v.F.Units
	c := &Card{ID: t.ID, Title: t.Title, Tells: t.Tells.In(u), When: when(v, t.When, time.Now()), Minutes: lasts(t.Minutes),
		JudgeURL: f.StationURL("test/judge"), SaveURL: f.StationURL("test/save"), DropURL: f.StationURL("test/drop"),
		Vals: f.Vals("", map[string]string{"test": t.ID}), At: time.Now().In(zone(v)).Format("2006-01-02T15:04")}
	view.Card = c
	for _, x := range []struct {
		from []units.Text
		to   *[]string
	}{{t.Do, &c.Do}, {t.Spoils, &c.Spoils}, {t.Cautions, &c.Cautions}} {
		for _, s := range x.from {
			*x.to = append(*x.to, s.In(u))
		}
	}
	for _, r := range t.Ready {
		c.Ready = append(c.Ready, units.Localize(r, u))
	}
	for _, p := range t.Probes {
		c.Probes = append(c.Probes, ui.Capital(string(p.At))+": "+p.Text.In(u))
	}
	if len(t.Probes) > 0 && v.Heater != nil && v.Heater.Misfit == nil {
		c.Drawing = ui.Draw(func(w float64) template.HTML { return drawing.Probes(&v.Heater.Layout, t.Probes, w/2) })
	}
	if len(t.Asks) == 0 {
		c.Costs = f.StationURL("build") + "#worked"
		c.Seen = seen(v)
	}
	if d != nil {
		c.Error = d.why
		if d.at != "" {
			c.At = d.at
		}
	}
	for _, a := range t.Asks {
		c.Asks = append(c.Asks, askView(&a, d, u))
	}
	return nil
}

// lasts says how long a test takes.
func lasts(minutes float64) string {
	if minutes >= 120 {
		return fmt.Sprintf("about %.0f h", minutes/60)
	}
	return fmt.Sprintf("about %.0f min", minutes)
}

// askView shows one thing to enter.
func askView(a *measure.Ask, d *draft, u units.System) AskView {
	x := AskView{ID: a.ID, Label: a.Label, Unit: a.Unit, Optional: a.Optional, Watch: a.Kind == units.Duration}
	if x.Unit == "" {
		x.Unit = u.Unit(a.Kind)
	}
	if a.Trap.Format != "" {
		x.Trap = a.Trap.In(u)
	}
	for i := range a.Readings() {
		cell := CellView{Name: a.ID + "-" + strconv.Itoa(i), Label: a.Label}
		if a.Readings() > 1 {
			cell.Label += fmt.Sprintf(", reading %d", i+1)
		}
		if d != nil {
			cell.Typed, cell.Error = d.typed[cell.Name], d.errors[cell.Name]
		}
		x.Cells = append(x.Cells, cell)
	}
	return x
}

// read takes what was entered; what is no quantity or out of bounds is told at its own field and left out.
func read(c *echo.Context, t *measure.Trial, u units.System, z *time.Location) (got map[string][]float64, at time.Time, d *draft) {
	d = &draft{typed: map[string]string{}, errors: map[string]string{}, at: c.FormValue("at")}
	got = map[string][]float64{}
	for i := range t.Asks {
		a := &t.Asks[i]
		for k := range a.Readings() {
			name := a.ID + "-" + strconv.Itoa(k)
			text := strings.TrimSpace(c.FormValue(name))
			d.typed[name] = text
			if text == "" {
				continue
			}
			v, err := units.Parse(a.Kind, text, u)
			switch {
			case err != nil:
				d.errors[name] = ui.Capital(err.Error())
			case v < a.Low || v > a.High:
				d.errors[name] = fmt.Sprintf("%s cannot be: enter %s to %s", units.Format(a.Kind, v, u), units.Figure(a.Kind, a.Low, u),
					units.Format(a.Kind, a.High, u))
			default:
				got[a.ID] = append(got[a.ID], v)
			}
		}
	}
	at, err := time.ParseInLocation("2006-01-02T15:04", d.at, z)
	if err != nil || at.Year() < 1990 || at.Year() > 2100 {
		at = time.Now().In(z)
		if d.at != "" {
			d.errors["at"] = "Enter a day and a time"
		}
	}
	return got, at, d
}

// judge answers with the verdict so far.
func (sv station) judge(c *echo.Context) error {
	st, err := sv.Current(c)
	if err != nil {
		return err
	}
	v, err := sv.Visit(c, st, "test")
	if err != nil {
		return err
	}
	t := measure.FindTrial(c.FormValue("test"))
	if t == nil || v.Heater == nil || !t.Suits(v.Doc()) {
		return c.Render(http.StatusOK, "trial-verdict", &Verdict{Error: "This heater cannot be judged yet"})
	}
	view, _, _ := verdict(v, t, c)
	return c.Render(http.StatusOK, "trial-verdict", view)
}

// verdict judges what was entered.
func verdict(v *ui.Visit, t *measure.Trial, c *echo.Context) (view *Verdict, o *measure.Outcome, d *draft) {
	u := v.F.Units
	got, at, d := read(c, t, u, zone(v))
	o, err := t.Judge(&measure.Case{Heater: v.Doc(), Eval: &v.Heater.Eval, At: at, Got: got})
	view = &Verdict{}
	if err != nil {
		view.Error = ui.Capital(err.Error())
		return view, nil, d
	}
	for _, name := range slices.Sorted(maps.Keys(d.errors)) {
		view.Notes = append(view.Notes, d.errors[name]+".")
	}
	if len(o.Missing) > 0 {
		view.Missing = "Still to enter: " + strings.ToLower(ui.List(o.Missing)) + "."
		return view, o, d
	}
	view.fill(v, o)
	return view, o, d
}

// fill shows an outcome.
func (view *Verdict) fill(v *ui.Visit, o *measure.Outcome) {
	u := v.F.Units
	for i, r := range o.Results {
		x := ui.Figure{Label: r.Name, Value: units.Figure(r.Kind, r.Value, u), Unit: u.Unit(r.Kind), Band: ui.Range(r.Kind, r.Low, r.High,
			u)}
		if r.Kind == units.Share {
			x.Unit = "%"
		}
		if i == 0 {
			x.Heat = r.Kind == units.Power
		}
		view.Figures = append(view.Figures, x)
	}
	if o.Verdict.Format != "" {
		view.Text = ui.Capital(o.Verdict.In(u))
	}
	if len(o.Results) > 0 && o.Predicted != nil {
		view.Bars = ui.Draw(func(w float64) template.HTML { return drawing.TwoBars(&o.Results[0], o.Predicted, u, w) })
	}
	for _, n := range o.Notes {
		view.Notes = append(view.Notes, ui.Capital(n.In(u)))
	}
	if len(o.Results) > 0 {
		r := &o.Results[0]
		for _, c := range r.Largest(3) {
			view.Budget = append(view.Budget, fmt.Sprintf("%s: %s", c.Name, spread(r, c.Effect, u)))
		}
	}
	for _, l := range o.Likely {
		x := LikelyView{Text: ui.Capital(l.Text.In(u)), URL: v.F.StationURL("test", "test", l.Test)}
		if t := measure.FindTrial(l.Test); t != nil {
			x.Test = t.Title
		}
		view.Likely = append(view.Likely, x)
	}
	for _, ch := range o.Changes {
		if value, ok := ch.Value.(float64); ok {
			view.Writes = append(view.Writes, fieldText(ch.Path, value, ch.U, u))
		}
	}
}

// spread is what one input does to a figure, with its unit, two standard uncertainties.
func spread(r *measure.Measured, effect float64, u units.System) string {
	kind := r.Kind
	if kind == units.Temperature {
		kind = units.Rise
	}
	return "±" + units.Format(kind, 2*math.Abs(effect), u)
}

// save keeps a test, and with take writes what it measured into the heater.
func (sv station) save(c *echo.Context) error {
	st, seen, err := sv.Changing(c)
	if err != nil {
		return err
	}
	v, err := sv.Visit(c, st, "test")
	if err != nil {
		return err
	}
	t := measure.FindTrial(c.FormValue("test"))
	if t == nil || v.Heater == nil || !t.Suits(v.Doc()) {
		ui.Declined(c, "This test does not suit the heater as it is now.")
		return sv.again(c, st, nil, "")
	}
	view, o, d := verdict(v, t, c)
	if o == nil || len(o.Missing) > 0 || len(o.Results) == 0 || len(d.errors) > 0 {
		d.why = view.Error
		if d.why == "" {
			d.why = "There is no result yet. " + view.Missing
		}
		ui.Declined(c, d.why)
		return sv.again(c, st, d, "")
	}
	got, at, _ := read(c, t, v.F.Units, zone(v))
	entry, err := json.Marshal(got)
	if err != nil {
		return err
	}
	r := &o.Results[0]
	result := fmt.Sprintf("%s %s (%s)", r.Name, units.Format(r.Kind, r.Value, v.F.Units), ui.Range(r.Kind, r.Low, r.High, v.F.Units))
	notice := t.Title + " is kept."
	if c.FormValue("take") != "" && len(o.Changes) > 0 {
		saved, err := sv.Save(c, seen, t.Title+", measured", units.System{}, o.Changes...)
		if err != nil {
			return sv.Refuse(c, st, "", "", err)
		}
		st, notice = saved.State, t.Title+" is kept, and the prediction takes it as measured."
	}
	// The test comes last: whoever sends it again because the answer was lost writes the same values, and keeps one test.
	if _, err := sv.Store.AddTrial(v.Ctx(), st.Heater, store.Trial{Version: st.Version, Kind: t.ID, Made: at.UnixMilli(),
		Entry: string(entry), Result: result}); err != nil {
		return err
	}
	return sv.again(c, st, nil, notice)
}

// drop removes a test from the list.
func (sv station) drop(c *echo.Context) error {
	st, err := sv.Current(c)
	if err != nil {
		return err
	}
	id, _ := strconv.ParseInt(c.FormValue("trial"), 10, 64)
	if err := sv.Store.DropTrial(c.Request().Context(), st.Heater, id, false); err != nil {
		return err
	}
	return sv.again(c, st, nil, "The test is removed. What the prediction took from it stays; undo takes that back.")
}

// again answers with the station anew.
func (sv station) again(c *echo.Context, st store.State, d *draft, notice string) error {
	v, err := sv.Visit(c, st, "test")
	if err != nil {
		return err
	}
	if v.Heater != nil {
		if err := open(v, d); err != nil {
			return err
		}
	}
	return v.Changed(notice)
}

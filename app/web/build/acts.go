package build

import (
	"bytes"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"math"
	"net/http"
	"slices"
	"strconv"
	"strings"
	"time"

	ics "github.com/arran4/golang-ical"
	"github.com/labstack/echo/v5"

	"gladember/app/drawing"
	"gladember/app/service"
	"gladember/app/store"
	"gladember/app/web/ui"
	"gladember/core/buildplan"
	"gladember/core/collector"
	"gladember/core/design"
	"gladember/core/season"
	"gladember/core/units"
)

// opened is the heater with its plan; p is nil where its parts do not fit together.
func (sv station) opened(c *echo.Context) (v *ui.Visit, p *plan, err error) {
	st, err := sv.Current(c)
	if err != nil {
		return nil, nil, err
	}
	if v, err = sv.Visit(c, st, "build"); err != nil || v.Heater == nil || v.Heater.Misfit != nil {
		return v, nil, err
	}
	p, err = sv.planOf(v)
	return v, p, err
}

// again answers with the station anew.
func (sv station) again(c *echo.Context, st store.State, d *draft, notice string) error {
	if d != nil {
		ui.Declined(c, d.reason())
	}
	v, err := sv.Visit(c, st, "build")
	if err != nil {
		return err
	}
	if v.Heater != nil {
		if err := sv.open(v, d); err != nil {
			return err
		}
	}
	return v.Changed(notice)
}

// Bounds of what is typed.
const (
	longestReason = 500
	mostMinutes   = 10000
)

// done marks a step as done, once its gate is signed and measured; whoever skips it, or takes what is off as it is, says why.
func (sv station) done(c *echo.Context) error {
	v, p, err := sv.opened(c)
	if err != nil {
		return err
	}
	if p == nil {
		return sv.again(c, v.State, nil, "")
	}
	i := p.find(c.FormValue("step"))
	if i < 0 {
		const gone = "This heater has no such step any more."
		ui.Declined(c, gone)
		return sv.again(c, v.State, nil, gone)
	}
	s := &p.steps[i]
	d := &draft{step: s.ID, minutes: strings.TrimSpace(c.FormValue("minutes")), skip: strings.TrimSpace(c.FormValue("skip")),
		looks: map[int]bool{}, typed: map[string]string{}, errors: map[string]string{}}
	said, ok := d.read(c, s, v.F.Units)
	if !ok {
		return sv.again(c, v.State, d, "")
	}
	if w := append(p.waits(s), p.wet(v, s)...); len(w) > 0 && d.skip == "" {
		d.why = "It waits for: " + strings.Join(w, ", ") + ". Do these first, or say why this one is done already."
		return sv.again(c, v.State, d, "")
	}
	b, err := json.Marshal(said)
	if err != nil {
		return err
	}
	x := store.Step{Step: s.ID, Minutes: d.took(), Entry: string(b)}
	if err := sv.Store.SetStep(v.Ctx(), v.State.Heater, x); err != nil {
		return err
	}
	st, err := sv.Store.Get(v.Ctx(), v.State.Heater)
	if err != nil {
		return err
	}
	c.Request().Form.Set("step", "") // the next one is shown
	return sv.again(c, st, nil, s.Title+": done.")
}

// took is how long it took, min.
func (d *draft) took() int {
	n, _ := strconv.Atoi(d.minutes)
	return n
}

// read takes what was signed and typed; ok is false where something is missing or off, which the draft then says.
func (d *draft) read(c *echo.Context, s *buildplan.Step, u units.System) (said entry, ok bool) {
	ok = true
	if d.minutes != "" {
		if n, err := strconv.Atoi(d.minutes); err != nil || n < 0 || n > mostMinutes {
			d.why, ok = fmt.Sprintf("%q is not a number of minutes: enter a whole number of 0 to %d, or nothing", d.minutes, mostMinutes),
				false
		}
	}
	if len(d.skip) > longestReason {
		d.why, ok = fmt.Sprintf("The reason is too long: write at most %d letters", longestReason), false
	}
	said.Skipped = d.skip
	g := s.Gate
	if g == nil {
		return said, ok
	}
	for i := range g.Looks {
		if c.FormValue(fmt.Sprintf("look-%d", i)) != "" {
			d.looks[i] = true
			said.Looks = append(said.Looks, i)
		}
	}
	said.Measures = map[string]float64{}
	for i, m := range g.Measures {
		text := strings.TrimSpace(c.FormValue(fmt.Sprintf("m-%d", i)))
		if d.typed[m.ID] = text; text == "" {
			continue
		}
		x, err := units.Parse(units.Length, text, u)
		if err != nil || !(x > 0 && x < 20) {
			d.errors[m.ID] = fmt.Sprintf("%q is not a length: enter it like %s", text, units.Format(units.Length, max(m.Want, 0.1), u))
			ok = false
			continue
		}
		said.Measures[m.ID] = x
	}
	for _, m := range g.Judge(said.Measures) {
		d.misfits = append(d.misfits, m.Text.In(u))
	}
	switch missing := len(g.Looks) > len(said.Looks) || !g.Complete(said.Measures); {
	case !ok || d.skip != "":
	case missing:
		d.why, ok = "Sign every line and enter every measurement first. To go on without, say why", false
	case len(d.misfits) > 0:
		d.why, ok = "Mend what is off and measure again. To leave it as it is, say why", false
	}
	return said, ok
}

// back takes the mark of a step away.
func (sv station) back(c *echo.Context) error {
	st, err := sv.Current(c)
	if err != nil {
		return err
	}
	if err := sv.Store.DropStep(c.Request().Context(), st.Heater, c.FormValue("step")); err != nil {
		return err
	}
	return sv.again(c, st, nil, "")
}

// gap turns the gap that was measured at the screens' edges into the share of the air that passes them, as measured.
func (sv station) gap(c *echo.Context) error {
	st, seen, err := sv.Changing(c)
	if err != nil {
		return err
	}
	v, err := sv.Visit(c, st, "build")
	if err != nil {
		return err
	}
	if v.Heater == nil || v.Doc().Absorber.Screens == nil {
		return sv.again(c, st, nil, "")
	}
	text := strings.TrimSpace(c.FormValue("gap"))
	m, err := units.Parse(units.Length, text, v.F.Units)
	const widest = 0.05
	if err != nil || !(m >= 0 && m <= widest) {
		d := &draft{step: "seal", gap: text, gapWhy: fmt.Sprintf("%q is not a gap: enter 0 to %s", text, units.Format(units.Length, widest,
			v.F.Units))}
		return sv.again(c, st, d, "")
	}
	share := min(0.3, buildplan.GapBypass(&v.Heater.Eval, m))
	saved, err := sv.Save(c, seen, "Gap at the screens' edges", units.System{},
		design.Change{Path: design.ScreensBypass.Path, Value: share, Origin: design.Measured})
	if err != nil {
		return sv.Refuse(c, st, "", "", err)
	}
	return sv.again(c, saved.State, nil, fmt.Sprintf("A gap of %s lets %s of the air pass: the prediction takes it as measured.",
		units.Format(units.Length, m, v.F.Units), units.Format(units.Share, share, v.F.Units)))
}

// measured takes what was measured at a step in place of the estimate.
func (sv station) measured(c *echo.Context) error {
	st, seen, err := sv.Changing(c)
	if err != nil {
		return err
	}
	step, typed := c.FormValue("step"), strings.TrimSpace(c.FormValue("built"))
	x, u := design.FieldAt(measuredAt[step]), ui.NewPage(c, "").Units
	if x == nil || !x.Applies(&st.Document) {
		return sv.again(c, st, nil, "")
	}
	saved, err := sv.Save(c, seen, x.Label+", measured", u, design.Change{Path: x.Path, Typed: typed, Origin: design.Measured})
	if err != nil {
		var typo *units.Error
		var wrong *design.Problem
		if errors.As(err, &typo) || errors.As(err, &wrong) {
			return sv.again(c, st, &draft{step: step, built: typed, builtWhy: ui.Capital(err.Error())}, "")
		}
		return sv.Refuse(c, st, "", "", err)
	}
	return sv.again(c, saved.State, nil, x.Label+": the prediction takes it as measured.")
}

// slip takes an evening out of the plan, or back in.
func (sv station) slip(c *echo.Context) error {
	v, p, err := sv.opened(c)
	if err != nil {
		return err
	}
	if p == nil {
		return sv.again(c, v.State, nil, "")
	}
	day := c.FormValue("day")
	if _, err := time.Parse(time.DateOnly, day); err == nil {
		if p.slips[day] {
			err = sv.Store.DropStep(v.Ctx(), v.State.Heater, slipped+day)
		} else {
			err = sv.Store.SetStep(v.Ctx(), v.State.Heater, store.Step{Step: slipped + day, Entry: "{}"})
		}
		if err != nil {
			return err
		}
	}
	return sv.again(c, v.State, nil, "")
}

// skies are the weathers that a day may be expected to have.
var skies = []struct {
	sky  buildplan.Sky
	name string
}{{buildplan.Rain, "rain"}, {buildplan.Overcast, "dry"}, {buildplan.Sunshine, "sun"}}

// sky keeps what weather is expected for a day; what is expected already is forgotten.
func (sv station) sky(c *echo.Context) error {
	v, p, err := sv.opened(c)
	if err != nil {
		return err
	}
	day, sky := c.FormValue("day"), buildplan.Sky(c.FormValue("sky"))
	_, err = time.Parse(time.DateOnly, day)
	if p == nil || err != nil || sky != buildplan.Rain && sky != buildplan.Overcast && sky != buildplan.Sunshine {
		return sv.again(c, v.State, nil, "")
	}
	if p.skies[day] == sky {
		err = sv.Store.DropStep(v.Ctx(), v.State.Heater, expected+day)
	} else {
		var said []byte
		if said, err = json.Marshal(entry{Sky: sky}); err == nil {
			err = sv.Store.SetStep(v.Ctx(), v.State.Heater, store.Step{Step: expected + day, Entry: string(said)})
		}
	}
	if err != nil {
		return err
	}
	return sv.again(c, v.State, nil, "")
}

// evening shows an evening before anything is put into it.
func (p *plan) evening(f *ui.Frame, e *buildplan.Evening, z *time.Location) EveningView {
	begin := e.Begin.In(z)
	day, end := begin.Format(time.DateOnly), begin.Add(time.Duration(e.Minutes*float64(time.Minute)))
	view := EveningView{Day: units.Time(begin, "Mon 2 Jan, 15:04", f.Units) + "–" + units.Time(end, "15:04", f.Units)}
	for _, x := range skies {
		view.Skies = append(view.Skies, SkyView{Name: x.name, Label: "Expected on " + units.Time(begin, "2 Jan", f.Units) + ": " + x.name,
			Vals: f.Vals("", map[string]string{"day": day, "sky": string(x.sky)}), On: p.skies[day] == x.sky})
	}
	return view
}

// horizon is how many days are planned.
const horizon = 120

// dry is when what a step left that is done is hard.
func (p *plan) dry(id string, b *design.Bench) time.Time {
	x := p.done[id]
	if i := p.find(id); i >= 0 {
		return p.steps[i].DryAt(x.At(), b.Temperature, b.Humidity)
	}
	return x.At()
}

// wet are the steps before one whose product is not hard yet, and until when.
func (p *plan) wet(v *ui.Visit, s *buildplan.Step) (out []string) {
	for _, id := range s.After {
		if _, done := p.done[id]; !done {
			continue
		}
		i := p.find(id)
		if at := p.dry(id, &v.Doc().Workshop.Bench); i >= 0 && at.After(time.Now()) {
			out = append(out, fmt.Sprintf("%s of %q to be hard, %s", p.steps[i].Cure.Product, p.steps[i].Title,
				units.Time(at.In(zone(v)), "Mon 2 Jan, 15:04", v.F.Units)))
		}
	}
	return out
}

// scheduled plans the evenings from now on.
func (p *plan) scheduled(v *ui.Visit, now time.Time) (evenings []buildplan.Evening, s buildplan.Schedule) {
	b := &v.Doc().Workshop.Bench
	evenings = buildplan.Evenings(v.Doc(), now.In(zone(v)), horizon, p.skies, p.slips)
	done := map[string]time.Time{}
	for id := range p.done {
		done[id] = p.dry(id, b)
	}
	return evenings, buildplan.Plan(p.steps, done, evenings)
}

// evenings fills in the plan of evenings.
func (sv station) evenings(v *ui.Visit, p *plan, view *View) {
	f, z := v.F, zone(v)
	now := time.Now().In(z)
	evenings, s := p.scheduled(v, now)
	last := 0 // evening with something to do
	for i, e := range evenings {
		if len(s.Stints) > 0 && e.Begin.Before(s.Stints[len(s.Stints)-1].End) && i < shownEvenings {
			last = i + 1
		}
	}
	for _, e := range evenings[:last] {
		view.Evenings = append(view.Evenings, p.evening(f, &e, z))
	}
	for _, x := range s.Stints {
		n := slices.IndexFunc(evenings[:last], func(e buildplan.Evening) bool {
			return !x.Begin.Before(e.Begin) && x.Begin.Before(e.Begin.Add(time.Duration(e.Minutes*60)*time.Second))
		})
		if n < 0 {
			break
		}
		step, e := &p.steps[x.Step], &view.Evenings[n]
		task := fmt.Sprintf("%s, %s", step.Title, minutesText(x.End.Sub(x.Begin).Minutes(), f.Units))
		if x.Part {
			task += ", goes on"
		}
		if w := step.Weather(); w != "" {
			task += ", " + w
		}
		e.Tasks = append(e.Tasks, task)
		if dry := s.Dry[x.Step]; !x.Part && step.Cure != nil {
			when := units.Time(dry.In(z), "Mon 2 Jan, 15:04", v.F.Units)
			e.Dries = append(e.Dries, fmt.Sprintf("%s is hard %s", ui.Capital(step.Cure.Product), when))
		}
	}
	behind := 0
	for i, k := range s.Left {
		if p.titled(s.Why[i]) {
			behind++ // it waits for another one of them
			continue
		}
		view.Left = append(view.Left, fmt.Sprintf("%s waits for %s", p.steps[k].Title, s.Why[i]))
	}
	if behind > 0 && len(view.Left) > 0 {
		view.Left[len(view.Left)-1] += ", and " + ui.Count(behind, "step after it", "steps after it", f.Units) + " with it"
	}
	view.Calendar, view.SlipURL, view.SkyURL = f.StationURL("build/plan.ics"), f.StationURL("build/slip"), f.StationURL("build/sky")
	// The next evening with work is skipped: the rest of today's may be too short for any step.
	if len(s.Stints) > 0 {
		view.SlipVals = f.Vals("", map[string]string{"day": s.Stints[0].Begin.In(z).Format(time.DateOnly)})
	}
}

// titled says whether a word is a step's title.
func (p *plan) titled(word string) bool {
	return slices.ContainsFunc(p.steps, func(s buildplan.Step) bool { return s.Title == word })
}

// shownEvenings is how many evenings the page lists.
const shownEvenings = 6

// calendar sends the plan as a calendar file.
func (sv station) calendar(c *echo.Context) error {
	v, p, err := sv.opened(c)
	if err != nil {
		return err
	}
	if p == nil {
		return echo.NewHTTPError(http.StatusNotFound, "These parts do not fit together, so there is nothing to plan yet.")
	}
	_, s := p.scheduled(v, time.Now())
	cal := ics.NewCalendarFor("Glad Ember")
	cal.SetMethod(ics.MethodPublish)
	for _, x := range s.Stints {
		step := &p.steps[x.Step]
		e := cal.AddEvent(fmt.Sprintf("%d-%s-%s@gladember", v.State.Heater, step.ID, x.Begin.UTC().Format("20060102")))
		e.SetDtStampTime(time.Now().UTC())
		e.SetStartAt(x.Begin.UTC())
		e.SetEndAt(x.End.UTC())
		e.SetSummary(step.Title)
		var do []string
		for _, t := range step.Do {
			do = append(do, t.In(v.F.Units))
		}
		e.SetDescription(v.Doc().Name + ": " + strings.Join(do, " "))
	}
	c.Response().Header().Set("Content-Disposition", `attachment; filename="evenings.ics"`)
	return c.Blob(http.StatusOK, "text/calendar; charset=utf-8", []byte(cal.Serialize()))
}

// packet sends all that is carried into the shop: on Letter paper where lengths are in inches, else on A4.
func (sv station) packet(c *echo.Context) error {
	v, p, err := sv.opened(c)
	if err != nil {
		return err
	}
	if p == nil {
		return echo.NewHTTPError(http.StatusNotFound, "These parts do not fit together, so there is nothing to print yet.")
	}
	b, err := v.Workshop.Buying(v.Ctx(), &v.State, v.Heater, v.F.Shop)
	if err != nil {
		return ui.Uncomputed(err)
	}
	done, err := sv.Turn(v.Ctx())
	if err != nil {
		return err
	}
	defer done()
	pack, err := service.Packet(v.Ctx(), &v.Heater.Eval, &v.Heater.Layout, &b.List, &b.Input)
	if err != nil {
		return ui.Uncomputed(err)
	}
	pack.Currency = v.F.Currency
	paper := drawing.A4
	if v.F.Units.Inches {
		paper = drawing.Letter
	}
	var out bytes.Buffer
	if err := drawing.PacketPDF(&out, pack, v.F.Units, paper); err != nil {
		return ui.Uncomputed(err)
	}
	c.Response().Header().Set("Content-Disposition", `attachment; filename="packet.pdf"`)
	return c.Blob(http.StatusOK, "application/pdf", out.Bytes())
}

// workedOn is what careless work costs a heater.
type workedOn struct {
	faults []buildplan.Fault
	bands  []collector.Band
}

// WorkedView is the list of faults, the dearest first.
type WorkedView struct{ Rows []WorkedRow }

// WorkedRow is one of them.
type WorkedRow struct{ Name, Cost, Band, Check, Step, URL string }

// worked runs the faults through the year.
func (sv station) worked(c *echo.Context) error {
	v, p, err := sv.opened(c)
	if err != nil {
		return err
	}
	if p == nil {
		return ui.JobRefused(c, "These parts do not fit together yet.")
	}
	h := *v.Doc()
	y, err := sv.Weather(v.Ctx(), &h)
	if err != nil {
		return ui.JobRefused(c, ui.Capital(err.Error())+".")
	}
	faults := buildplan.Faults(&v.Heater.Eval, 1)
	if len(faults) == 0 {
		return ui.JobRefused(c, "Nothing of this heater is sensitive to how it is built.")
	}
	work := func(ctx context.Context, progress func(done, of int)) (any, error) {
		return sv.lists.Get(ctx, service.KeyOfPage(&h), func() (*workedOn, error) {
			var es []season.Effect
			for _, f := range faults {
				es = append(es, f.Effect)
			}
			bands, err := season.EstimateEffects(ctx, &h, y.Series(&h), es, progress)
			return &workedOn{faults, bands}, err
		})
	}
	return v.ShowJob(sv.Jobs.Start(v.State.Heater, "build", "worked", service.KeyOfPage(&h), work))
}

// at are what slips at a step cost, in words.
func (w *workedOn) at(step string, u units.System) (out []string) {
	for i, f := range w.faults {
		if b := w.bands[i]; f.Step == step && b.Value > b.U {
			out = append(out, fmt.Sprintf("%s costs %s a year", f.Name.In(u), units.Format(units.Energy, b.Value, u)))
		}
	}
	return out
}

// Show writes the list.
func (w *workedOn) Show(v *ui.Visit, _ string) (any, error) {
	u := v.F.Units
	order := make([]int, len(w.faults))
	for i := range order {
		order[i] = i
	}
	slices.SortStableFunc(order, func(a, b int) int {
		switch x, y := w.bands[a].Value, w.bands[b].Value; {
		case x > y:
			return -1
		case x < y:
			return 1
		}
		return 0
	})
	kwh := func(x float64) string { return units.Format(units.Energy, max(0, x), u) }
	view := WorkedView{}
	for _, i := range order {
		f, b := &w.faults[i], w.bands[i]
		if math.IsNaN(b.Value) {
			continue
		}
		r := WorkedRow{Name: f.Name.In(u), Cost: kwh(b.Value), Band: units.Figure(units.Energy, max(0, b.Low), u) + "–" +
			units.Figure(units.Energy, max(0, b.High), u), Check: f.Check.In(u), URL: v.F.StationURL("build", "step", f.Step)}
		if b.Value <= b.U {
			r.Cost, r.Band = "less than "+kwh(max(1, b.High)), ""
		}
		view.Rows = append(view.Rows, r)
	}
	return view, nil
}

// Take offers nothing: faults are not applied.
func (w *workedOn) Take(string) (string, []design.Change, bool) { return "", nil, false }

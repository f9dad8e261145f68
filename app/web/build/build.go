// Package build is the station of the steps: what to do next, what must be signed or measured before it is hidden, what must dry,
// and where care pays.
package build

import (
	"cmp"
	"embed"
	"encoding/json"
	"fmt"
	"html/template"
	"maps"
	"math"
	"slices"
	"time"

	"github.com/labstack/echo/v5"

	"gladember/app/drawing"
	"gladember/app/service"
	"gladember/app/store"
	"gladember/app/web/ui"
	"gladember/core/advice"
	"gladember/core/buildplan"
	"gladember/core/design"
	"gladember/core/units"
	"gladember/core/wiring"
)

//go:embed *.html
var templates embed.FS

// New returns the station.
func New() *ui.Station {
	var st station
	s := &ui.Station{Key: "build", Name: "Build", Group: ui.Build, Templates: templates, Topics: []advice.Topic{}, Quiet: true}
	s.Routes = func(sv *ui.Server, g *echo.Group) {
		st = station{sv, service.NewCache[*workedOn](remembered)}
		sv.Trims(st.lists)
		g.POST("/done", st.done)
		g.POST("/back", st.back)
		g.POST("/gap", st.gap)
		g.POST("/measured", st.measured)
		g.POST("/slip", st.slip)
		g.POST("/sky", st.sky)
		g.POST("/worked", st.worked)
		g.GET("/plan.ics", st.calendar)
		g.GET("/packet.pdf", st.packet)
	}
	s.Open = func(v *ui.Visit) error { return st.open(v, nil) }
	s.Summary = func(v *ui.Visit) (string, bool, error) { return st.summary(v) }
	return s
}

// station are the handlers.
type station struct {
	*ui.Server
	lists *service.Cache[*workedOn]
}

// remembered is how many lists of what careless work costs are kept.
const remembered = 16

// View is the center of the station.
type View struct {
	Misfit   string
	Head     string
	Card     *Card
	Steps    []Row
	Evenings []EveningView
	Left     []string
	Calendar string
	SlipURL  string
	SkyURL   string
	SlipVals string
	WorkURL  string
	Safety   string // the page of all cautions
	Journal  string
	Packet   string // all that is carried into the shop
}

// Row is a step in the list.
type Row struct {
	Number           int
	Title, Note, URL string
	Done, Here, Open bool
}

// Card is one step.
type Card struct {
	ID, Title  string
	Number, Of int
	Facts      []string
	Letters    []LetterView
	Do, Tools  []string
	Jig        string
	Cautions   []string
	Drawing    ui.Chart
	Gate       *GateView
	Waits      []string // for what
	Done       string   // when
	Took       string
	Skipped    string
	Costs      []string
	DoneURL    string
	BackURL    string
	Vals       string
	Error      string
	Minutes    string
	Gap        *GapView
	Built      *BuiltView
	Wiring     *WiringView
	Next       string // address of the step after it
}

// LetterView is a part with what it is.
type LetterView struct{ Letter, Name, URL string }

// GateView is what must be signed or measured.
type GateView struct {
	Title    string
	Looks    []LookView
	Measures []MeasureView
	Misfits  []string
	Skip     string // the reason that was given
	Accepts  bool   // what is off may be taken as it is, with a reason
}

// LookView is one thing to look at.
type LookView struct {
	Name, Text string
	Signed     bool
}

// MeasureView is one length to measure.
type MeasureView struct{ Name, Label, Want, Typed, Error string }

// GapView is the gap at the screens' edges, as it was measured.
type GapView struct{ URL, Vals, Typed, Error, Share string }

// BuiltView is a value of the design that can be measured at the step.
type BuiltView struct{ URL, Vals, Label, Now, Typed, Error string }

// measuredAt are the fields that are measured at a step.
var measuredAt = map[string]string{"insulate": design.BoxEdgeFoam.Path, "under": design.BoxUnderFrame.Path, "ducts": design.AirStretch.Path,
	"opening": design.AirToBox.Path,
	"back":    design.BoxBackFoam.Path}

// WiringView is how the fan is wired.
type WiringView struct {
	Diagram ui.Chart
	Notes   []string
}

// EveningView is an evening with what is done on it.
type EveningView struct {
	Day   string // with its hours
	Tasks []string
	Dries []string
	Skies []SkyView
}

// SkyView is a weather that may be expected for an evening's day.
type SkyView struct {
	Name, Label, Vals string // Label names the day as well
	On                bool
}

// entry is what was said at a step.
type entry struct {
	Looks    []int              `json:"looks,omitempty"`
	Measures map[string]float64 `json:"measures_m,omitempty"`
	Skipped  string             `json:"skipped,omitempty"`
	Sky      buildplan.Sky      `json:"sky,omitempty"`
}

// draft is a step as it was sent and not taken.
type draft struct {
	step    string
	looks   map[int]bool
	typed   map[string]string
	errors  map[string]string
	misfits []string
	skip    string
	minutes string
	why     string
	gap     string
	gapWhy  string
	built   string
	// builtWhy says what is wrong with it.
	builtWhy string
}

// reason is why what was entered at a step does not stand.
func (d *draft) reason() string {
	all := []string{d.why, d.gapWhy, d.builtWhy}
	for _, m := range slices.Sorted(maps.Keys(d.errors)) {
		all = append(all, d.errors[m])
	}
	return cmp.Or(append(all, "What was entered does not fit this step.")...)
}

// plan is the steps with what is done of them.
type plan struct {
	steps []buildplan.Step
	done  map[string]store.Step
	slips map[string]bool
	skies map[string]buildplan.Sky // what is expected, by the day
}

// expected begins the name under which the weather of a day is kept.
const expected = "sky "

// slipped begins the name under which an evening that was lost is kept.
const slipped = "slip "

// planOf reads the steps of a heater and what is done.
func (sv station) planOf(v *ui.Visit) (*plan, error) {
	steps, err := buildplan.Build(v.Doc(), &v.Heater.Layout)
	if err != nil {
		return nil, err
	}
	kept, err := v.Store.Steps(v.Ctx(), v.State.Heater)
	if err != nil {
		return nil, err
	}
	p := &plan{steps: steps, done: map[string]store.Step{}, slips: map[string]bool{}, skies: map[string]buildplan.Sky{}}
	for _, x := range kept {
		if day, ok := cutPrefix(x.Step, slipped); ok {
			p.slips[day] = true
			continue
		}
		if day, ok := cutPrefix(x.Step, expected); ok {
			var said entry
			if err := json.Unmarshal([]byte(x.Entry), &said); err == nil {
				p.skies[day] = said.Sky
			}
			continue
		}
		p.done[x.Step] = x
	}
	return p, nil
}

func cutPrefix(s, prefix string) (string, bool) {
	if len(s) > len(prefix) && s[:len(prefix)] == prefix {
		return s[len(prefix):], true
	}
	return s, false
}

// next is the first step that is not done and waits for none; -1 where all are done.
func (p *plan) next() int {
	return slices.IndexFunc(p.steps, func(s buildplan.Step) bool {
		_, done := p.done[s.ID]
		return !done && len(p.waits(&s)) == 0
	})
}

// waits are the steps that a step still waits for.
func (p *plan) waits(s *buildplan.Step) (titles []string) {
	for _, id := range s.After {
		if _, done := p.done[id]; done {
			continue
		}
		if i := p.find(id); i >= 0 {
			titles = append(titles, p.steps[i].Title)
		}
	}
	return titles
}

// find is a step's place; -1 for one that this heater does not have.
func (p *plan) find(id string) int {
	return slices.IndexFunc(p.steps, func(s buildplan.Step) bool { return s.ID == id })
}

// count is how many of the steps are done.
func (p *plan) count() (n int) {
	for _, s := range p.steps {
		if _, done := p.done[s.ID]; done {
			n++
		}
	}
	return n
}

// summary is the station's line in the list of stations.
func (sv station) summary(v *ui.Visit) (string, bool, error) {
	if v.Heater.Misfit != nil {
		return "the parts do not fit together", false, nil
	}
	p, err := sv.planOf(v)
	if err != nil {
		return "", false, err
	}
	n := p.count()
	if n == 0 {
		return ui.Count(len(p.steps), "step", "steps", v.F.Units), false, nil
	}
	return fmt.Sprintf("%d of %s done", n, ui.Count(len(p.steps), "step", "steps", v.F.Units)), true, nil
}

// open fills the frame; d is what was sent and not taken.
func (sv station) open(v *ui.Visit, d *draft) error {
	f := v.F
	view := &View{}
	f.View = view
	f.Panel(design.WorkspaceGroup)
	f.Panel(design.EveningsGroup)
	f.Fields("As built", asBuilt...)
	if v.Heater.Misfit != nil {
		view.Misfit = ui.Misfit(v.Heater.Misfit, f.Units)
		return nil
	}
	p, err := sv.planOf(v)
	if err != nil {
		return err
	}
	view.Head = fmt.Sprintf("%d of %s done, about %s of work in all", p.count(), ui.Count(len(p.steps), "step", "steps", f.Units),
		ui.Count(int(math.Round(buildplan.Hours(p.steps))), "hour", "hours", f.Units))
	at := p.next()
	asked := v.C.FormValue("step")
	if d != nil {
		asked = d.step
	}
	if i := p.find(asked); i >= 0 {
		at = i
	}
	f.Carry("step", asked)
	for i := range p.steps {
		view.Steps = append(view.Steps, p.row(f, i, i == at))
	}
	if at >= 0 {
		view.Card = p.card(v, at, d)
		if w, ok := sv.lists.Known(service.KeyOfPage(v.Doc())); ok {
			view.Card.Costs = w.at(p.steps[at].ID, f.Units)
		}
	}
	view.WorkURL, view.Safety = f.StationURL("build/worked"), f.StationURL("safety")
	view.Packet, view.Journal = f.StationURL("build/packet.pdf"), f.StationURL("journal")
	sv.evenings(v, p, view)
	return nil
}

// asBuilt are the fields that a measurement of the built box replaces.
var asBuilt = []design.Ref{design.BoxSeam, design.ScreensBypass, design.AirStretch, design.CoverDirt}

// row is a step in the list.
func (p *plan) row(f *ui.Frame, i int, here bool) Row {
	s := &p.steps[i]
	r := Row{Number: i + 1, Title: s.Title, URL: f.StationURL("build", "step", s.ID), Here: here}
	x, done := p.done[s.ID]
	switch r.Done = done; {
	case done:
		r.Note = "done " + units.Time(x.At(), "2 Jan", f.Units)
		if x.Minutes > 0 {
			r.Note += fmt.Sprintf(", took %s", minutesText(float64(x.Minutes), f.Units))
		}
	case len(p.waits(s)) == 0:
		r.Open = true
		r.Note = minutesText(s.Minutes, f.Units)
		if w := s.Weather(); w != "" {
			r.Note += ", " + w
		}
	}
	return r
}

// minutesText writes a time of work.
func minutesText(m float64, u units.System) string {
	if m >= 90 {
		return units.Decimals(m/60, 1, u) + " h"
	}
	return fmt.Sprintf("%.0f min", max(5, 5*math.Round(m/5)))
}

// drawingWidth is that of the drawing on a step's card, pixels.
const drawingWidth = 320

// card is one step with all that belongs to it.
func (p *plan) card(v *ui.Visit, i int, d *draft) *Card {
	f, s, l := v.F, &p.steps[i], &v.Heater.Layout
	c := &Card{ID: s.ID, Title: s.Title, Number: i + 1, Of: len(p.steps), Tools: s.Tools, Jig: s.Jig.In(f.Units), Waits: append(p.waits(s),
		p.wet(v, s)...),
		DoneURL: f.StationURL("build/done"), BackURL: f.StationURL("build/back"), Vals: f.Vals("", map[string]string{"step": s.ID})}
	letters := slices.Concat(s.Parts, s.On)
	for _, part := range l.Cut() {
		if slices.Contains(letters, part.Letter) {
			c.Letters = append(c.Letters, LetterView{part.Letter, part.Name, f.StationURL("cut", "part", part.Letter) + "#card"})
		}
	}
	for _, t := range s.Do {
		c.Do = append(c.Do, t.In(f.Units))
	}
	for _, t := range s.Cautions {
		c.Cautions = append(c.Cautions, t.In(f.Units))
	}
	c.Facts = facts(s, v)
	if len(letters) > 0 {
		c.Drawing = ui.Draw(func(w float64) template.HTML {
			href := func(letter string) string { return f.StationURL("cut", "part", letter) + "#card" }
			return drawing.Exploded(l, href, letters, min(w, drawingWidth))
		})
	}
	var said entry
	x, done := p.done[s.ID]
	if done {
		c.Done = units.Time(x.At(), "Monday 2 January, 15:04", v.F.Units)
		_ = json.Unmarshal([]byte(x.Entry), &said)
		c.Skipped = said.Skipped
		if x.Minutes > 0 {
			c.Took = minutesText(float64(x.Minutes), f.Units)
		}
	}
	if s.Gate != nil {
		c.Gate = gateView(s.Gate, said, d, f.Units)
	}
	if d != nil {
		c.Error, c.Minutes = d.why, d.minutes
	}
	if i+1 < len(p.steps) {
		c.Next = f.StationURL("build", "step", p.steps[i+1].ID)
	}
	if circuit, ok := wiring.Build(v.Doc()); ok && s.ID == "wire" {
		c.Wiring = &WiringView{Diagram: ui.Draw(func(w float64) template.HTML { return drawing.Wiring(&circuit, f.Units, w) })}
		for _, t := range circuit.Notes {
			c.Wiring.Notes = append(c.Wiring.Notes, t.In(f.Units))
		}
		if b, has := wiring.PlanBattery(v.Doc()); has {
			c.Wiring.Notes = append(c.Wiring.Notes, fmt.Sprintf("The battery runs the fan for %s days of %.0f hours without sun.",
				units.Decimals(b.Days, 1, f.Units), wiring.RunHours))
		}
	}
	if x := design.FieldAt(measuredAt[s.ID]); x != nil && x.Applies(v.Doc()) {
		c.Built = &BuiltView{URL: f.StationURL("build/measured"), Vals: c.Vals, Label: x.Label,
			Now: units.Format(x.Kind, x.Number(v.Doc()), f.Units)}
		if d != nil {
			c.Built.Typed, c.Built.Error = d.built, d.builtWhy
		}
	}
	if v.Doc().Absorber.Screens != nil && s.ID == "seal" {
		c.Gap = &GapView{URL: f.StationURL("build/gap"), Vals: c.Vals,
			Share: units.Format(units.Share, v.Doc().Absorber.Screens.Bypass, f.Units)}
		if d != nil {
			c.Gap.Typed, c.Gap.Error = d.gap, d.gapWhy
		}
	}
	return c
}

// facts are how long a step takes, whom it wants and what dries.
func facts(s *buildplan.Step, v *ui.Visit) (out []string) {
	u, b := v.F.Units, &v.Doc().Workshop.Bench
	if s.Minutes > 0 {
		out = append(out, "About "+minutesText(s.Minutes, u))
	}
	if s.Helpers > 0 {
		out = append(out, ui.Count(s.Helpers, "helper", "helpers", u))
	}
	if w := s.Weather(); w != "" {
		out = append(out, ui.Capital(w))
	}
	if s.Cure != nil {
		touch, full := s.Cure.Hours(b.Temperature, b.Humidity)
		at := fmt.Sprintf("at %s and %s", units.Format(units.Temperature, b.Temperature, u), units.Format(units.Share, b.Humidity, u))
		if math.IsInf(full, 1) {
			out = append(out, fmt.Sprintf("%s does not harden %s: warm the shop to %s", ui.Capital(s.Cure.Product), at,
				units.Format(units.Temperature, s.Cure.Coldest, u)))
		} else {
			out = append(out, fmt.Sprintf("%s can be touched after %s and is hard after %s %s", ui.Capital(s.Cure.Product),
				hoursText(touch, u),
				hoursText(full, u), at))
		}
	}
	return out
}

// hoursText writes a time of drying.
func hoursText(h float64, u units.System) string {
	switch {
	case h < 1.5:
		return fmt.Sprintf("%.0f min", max(1, math.Round(h*60)))
	case h < 72:
		return units.Decimals(math.Round(h), 0, u) + " h"
	}
	return units.Decimals(h/24, 1, u) + " days"
}

// gateView is a gate with what was signed and measured.
func gateView(g *buildplan.Gate, said entry, d *draft, u units.System) *GateView {
	x := &GateView{Title: g.Title}
	for i, t := range g.Looks {
		signed := slices.Contains(said.Looks, i)
		if d != nil {
			signed = d.looks[i]
		}
		x.Looks = append(x.Looks, LookView{fmt.Sprintf("look-%d", i), t.In(u), signed})
	}
	for i, m := range g.Measures {
		mv := MeasureView{Name: fmt.Sprintf("m-%d", i), Label: m.Label.In(u)}
		if m.Want > 0 {
			mv.Want = units.Format(units.Length, m.Want, u)
		}
		if got, ok := said.Measures[m.ID]; ok {
			mv.Typed = units.Format(units.Length, got, u)
		}
		if d != nil {
			mv.Typed, mv.Error = d.typed[m.ID], d.errors[m.ID]
		}
		x.Measures = append(x.Measures, mv)
	}
	if d != nil {
		x.Misfits, x.Skip, x.Accepts = d.misfits, d.skip, len(d.misfits) > 0
	} else {
		for _, m := range g.Judge(said.Measures) {
			x.Misfits = append(x.Misfits, m.Text.In(u))
		}
	}
	return x
}

// zone is the time zone of a heater's place.
func zone(v *ui.Visit) *time.Location {
	if z, err := time.LoadLocation(v.Doc().Place.Zone); err == nil {
		return z
	}
	return time.UTC
}

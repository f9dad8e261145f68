package web

import (
	"crypto/sha256"
	"encoding/json"
	"fmt"
	"html/template"
	"math"
	"net/http"
	"net/url"
	"reflect"
	"strconv"
	"strings"
	"sync"
	"time"

	"github.com/labstack/echo/v5"
	"github.com/labstack/echo/v5/middleware"

	"gladember/app/drawing"
	"gladember/app/store"
	"gladember/core/advice"
	"gladember/core/collector"
	"gladember/core/design"
	"gladember/core/layout"
	"gladember/core/units"
)

// Page is what every page knows.
type Page struct {
	Title string
	Theme string // "", light or dark
	Units units.System
	CSRF  string
	Here  string // path to come back to
	// Currency is the sign that sums of money carry; empty where none was set.
	Currency string
}

// Sum is a sum of money as the person counts it.
func (p Page) Sum(v float64, digits int) string {
	return strings.TrimSpace(units.Decimals(v, digits, p.Units) + " " + p.Currency)
}

// Headers are the request headers htmx sends with every change, as JSON.
func (p Page) Headers() (string, error) {
	b, err := json.Marshal(map[string]string{"X-CSRF-Token": p.CSRF})
	return string(b), err
}

// UnitsWords names the person's units, lengths and heat.
func (p Page) UnitsWords() [2]string {
	return [2]string{p.Units.Unit(units.Length), p.Units.Unit(units.Temperature)}
}

func (sv *Server) page(c *echo.Context, title string) Page {
	p := Page{Title: title, Here: c.Request().URL.RequestURI()}
	if t, ok := c.Get("csrf").(string); ok {
		p.CSRF = t
	} else {
		p.CSRF = middleware.CSRFUsingSecFetchSite
	}
	if k, err := c.Cookie("units"); err == nil {
		p.Units.Inches = strings.Contains(k.Value, "in")
		p.Units.Fahrenheit = strings.Contains(k.Value, "F")
		p.Units.DecimalComma = strings.Contains(k.Value, "comma")
	}
	if k, err := c.Cookie("currency"); err == nil {
		p.Currency, _ = url.QueryUnescape(k.Value)
	}
	if k, err := c.Cookie("theme"); err == nil && (k.Value == "light" || k.Value == "dark") {
		p.Theme = k.Value
	}
	return p
}

func setCookie(c *echo.Context, name, value string) {
	c.SetCookie(&http.Cookie{Name: name, Value: value, Path: "/", MaxAge: 365 * 24 * 3600, HttpOnly: true, SameSite: http.SameSiteStrictMode})
}

// evaluated is a heater with everything computed of it.
type evaluated struct {
	eval     collector.Evaluation
	findings []advice.Finding
	layout   layout.Layout
	misfit   error
	err      error
}

// remembered keeps what was worked out of the documents seen last, by their hash.
type remembered[T any] struct {
	mu   sync.Mutex
	byID map[[32]byte]*T
	ring [][32]byte
	next int
}

// remember keeps the last n.
func remember[T any](n int) *remembered[T] {
	return &remembered[T]{byID: map[[32]byte]*T{}, ring: make([][32]byte, n)}
}

// known is what was worked out of a heater and what else it takes already, else nil.
func (m *remembered[T]) known(h *design.Heater, besides ...string) (*T, [32]byte) {
	b, err := design.Encode(*h)
	if err != nil {
		return nil, [32]byte{}
	}
	key := sha256.Sum256(append(b, strings.Join(besides, "\x00")...))
	m.mu.Lock()
	defer m.mu.Unlock()
	return m.byID[key], key
}

// of is what was worked out of a heater and what else it takes, or is now.
func (m *remembered[T]) of(h *design.Heater, work func(*design.Heater) *T, besides ...string) *T {
	t, key := m.known(h, besides...)
	if t != nil {
		return t
	}
	t = work(h)
	m.mu.Lock()
	defer m.mu.Unlock()
	delete(m.byID, m.ring[m.next])
	m.ring[m.next] = key
	m.next = (m.next + 1) % len(m.ring)
	m.byID[key] = t
	return t
}

// evaluations are heaters on their clear winter noon.
type evaluations struct{ *remembered[evaluated] }

func newEvaluations() *evaluations { return &evaluations{remember[evaluated](128)} }

func (ev *evaluations) of(h *design.Heater) *evaluated {
	return ev.remembered.of(h, func(h *design.Heater) *evaluated {
		e := &evaluated{}
		at := collector.WinterNoon(h, time.Now().Year())
		e.eval, e.err = collector.Evaluate(h, collector.ConditionsAt(h, at), true)
		if e.err == nil {
			e.findings = advice.Of(&e.eval)
			e.layout, e.misfit = layout.Of(h)
		}
		return e
	})
}

// Rung is a station on the ladder.
type Rung struct {
	Group    string
	Key      string
	Name     string
	Line     string
	Decided  bool
	Here     bool
	Findings int
	URL      string
}

// Figure is a headline number in the ribbon.
type Figure struct {
	Key    string
	Label  string
	Value  string
	Unit   string
	Band   string
	Change string // what the last change did to it
	Heat   bool
	URL    string // its working
}

// FindingView is a judgement in the person's units.
type FindingView struct {
	ID       string
	Severity string
	Title    string
	Text     string
	Evidence string
	Remedy   string
	Gain     string
	CanTry   bool
	Or       []FindingView // other remedies
}

// FieldView is a field as it is edited.
type FieldView struct {
	ID      string
	Path    string
	Label   string
	Help    string
	Value   string
	Other   string // in the other units
	Ours    bool
	Choices []ChoiceView
	Bool    bool
	Rows    int // lines of a table's entry; 0: no table
	On      bool
	Error   string
	Half    bool
	Vals    string // JSON for hx-vals
	Back    string // JSON for hx-vals to give it back to us
}

// ChoiceView is one of a field's choices.
type ChoiceView struct {
	ID, Name string
	Chosen   bool
}

// Panel is a group of fields.
type Panel struct {
	Title  string
	Fields []FieldView
}

// CautionView is a warning in the person's units.
type CautionView struct{ Part, Text string }

// Frame is a heater at a station.
type Frame struct {
	Page
	ID        int64
	Name      string
	State     store.State
	Station   string
	Part      string
	Sky       string // the day that the switch station plays
	Ladder    []Rung
	Ribbon    []Figure
	Findings  []FindingView
	Cautions  []CautionView
	Panels    []Panel
	Parts     []PartLink
	Families  []FamilyView
	Notice    string
	Broken    string // why nothing could be computed
	Morph     bool   // only parts of the page are sent
	Place     *PlaceView
	Climate   *ClimateView
	Stock     *StockView
	Air       *AirView
	Versions  *VersionsView
	Said      *SaidView
	Box       *BoxView
	Cut       *CutView
	Log       *LogView
	Switch    *SwitchView
	Need      *NeedView
	Season    *SeasonView
	EditURL   string
	Undone    string
	NoonWords string
}

// FamilyView is a way of making, as a picture one chooses it by.
type FamilyView struct {
	ID, Name string
	Picture  template.HTML
	Chosen   bool
	Vals     string // JSON for hx-vals
}

// PartLink chooses a part of the box.
type PartLink struct {
	Name, URL string
	Here      bool
}

// BoxView is the centre of the box station.
type BoxView struct {
	Front, Section         template.HTML
	Energy, EnergyNarrow   template.HTML
	AirPath, AirPathNarrow template.HTML
	Limits, LimitsNarrow   template.HTML
	Misfit                 string
}

// CutView is the centre of the cut station.
type CutView struct {
	Front  template.HTML
	Groups []CutGroup
	Holes  []HoleView
	Misfit string
	Count  int
	Mass   string
	Header string // where the header boards are bored
	Notes  []string
}

// CutGroup is the parts cut from one material.
type CutGroup struct {
	Material string
	Parts    []CutPart
}

// CutPart is one row of the cut list.
type CutPart struct {
	Count                    int
	Name                     string
	Length, Width, Thickness string
	Note                     string
}

// HoleView is a hole with its centre.
type HoleView struct{ Name, Diameter, X, Y, Through string }

// stations of this workshop, in the order of the work.
var stations = []struct{ key, name, group string }{
	{"place", "Place", "decide"}, {"need", "Need", "decide"}, {"stock", "Stock", "decide"}, {"box", "Box", "decide"}, {"air", "Air", "decide"}, {"switch", "Switch", "decide"}, {"cut", "Cut", "make"}, {"log", "Log", "prove"}, {"season", "Season", "prove"},
}

func heaterURL(id int64, parts ...string) string {
	u := url.URL{Path: "/h/" + strconv.FormatInt(id, 10) + "/" + strings.Join(parts, "/")}
	return strings.TrimSuffix(u.String(), "/")
}

// frame puts together what every station of a heater shows.
func (sv *Server) frame(c *echo.Context, st store.State, station string) (*Frame, *evaluated) {
	h := &st.Document
	f := &Frame{Page: sv.page(c, h.Name), ID: st.Heater, Name: h.Name, State: st, Station: station, EditURL: heaterURL(st.Heater, "edit"), Part: c.FormValue("part")}
	e := sv.evals.of(h)
	if e.err != nil {
		f.Broken = e.err.Error()
		return f, e
	}
	for _, x := range sv.findings(h, e, station) {
		if station != "box" && x.Station != station {
			continue // the box station shows them all
		}
		f.Findings = append(f.Findings, findingView(&x, f.Page))
	}
	for _, x := range advice.Cautions(&e.eval, station) {
		f.Cautions = append(f.Cautions, CautionView{x.Part, x.Text.In(f.Units)})
	}
	f.ladder(sv, c, st, e)
	f.ribbon(sv, st, e)
	noon := collector.WinterNoon(h, time.Now().Year())
	f.NoonWords = noon.Format("2 January")
	return f, e
}

// findings are those of the noon; once the year is judged, those that stand through it. The
// season station shows the year's by itself.
func (sv *Server) findings(h *design.Heater, e *evaluated, station string) []advice.Finding {
	w := sv.years.known(h)
	if w == nil || station == "season" || !w.lock.TryLock() { // it is being judged
		return e.findings
	}
	defer w.lock.Unlock()
	if !w.judged {
		return e.findings
	}
	return w.findings
}

func findingView(x *advice.Finding, p Page) FindingView {
	u := p.Units
	v := FindingView{ID: x.ID, Severity: x.Severity.String(), Title: x.Title, Text: x.Finding.In(u), Evidence: x.Evidence.In(u), Remedy: x.Remedy.In(u), CanTry: x.Patch != nil}
	switch {
	case x.HasYear && x.When == "":
		v.Gain = signed(units.Energy, x.YearGain, u) + " a year"
		if math.Abs(x.YearMoney) >= 1 {
			v.Gain += strings.TrimRight(" and "+p.Sum(x.YearMoney, 0)+" "+p.moneyWords(), " ")
		}
	case x.HasGain:
		v.Gain = strings.TrimSpace(signed(units.Power, x.Gain, u) + " " + x.When)
	}
	for _, a := range x.Or {
		y := advice.Finding{ID: a.ID, Remedy: a.Remedy, Patch: a.Patch, Gain: a.Gain, HasGain: true, YearGain: a.YearGain, YearMoney: a.YearMoney, HasYear: a.HasYear}
		v.Or = append(v.Or, findingView(&y, p))
	}
	return v
}

func signed(k units.Kind, v float64, s units.System) string {
	t := units.Format(k, math.Abs(v), s)
	switch {
	case strings.HasPrefix(t, "0 ") || strings.HasPrefix(t, "0.0 "):
		return "no change"
	case v < 0:
		return "−" + t
	}
	return "+" + t
}

func (f *Frame) ladder(sv *Server, c *echo.Context, st store.State, e *evaluated) {
	h := &st.Document
	u := f.Units
	_, placed := h.Entries["place.latitude_deg"]
	_, paned := h.Entries["pane.width_m"]
	count := map[string]int{}
	for _, x := range sv.findings(h, e, "") {
		count[x.Station]++
	}
	from, to, logged, _ := sv.store.Span(c.Request().Context(), st.Heater)
	for _, s := range stations {
		r := Rung{Group: s.group, Key: s.key, Name: s.name, Here: s.key == f.Station, Findings: count[s.key], URL: heaterURL(f.ID, s.key)}
		switch s.key {
		case "place":
			r.Decided = placed
			where := h.Place.Town
			if where == "" {
				where = position(h.Place.Latitude, h.Place.Longitude)
			}
			r.Line = fmt.Sprintf("%s, %s, looks %s", where, units.Format(units.Distance, h.Place.Elevation, u), units.Format(units.Angle, h.Place.Bearing, u))
		case "need":
			_, told := h.Entries["room.floor_m2"]
			_, wanted := h.Entries["room.wanted_c"]
			r.Decided = told || wanted
			r.Line = needLine(h, u)
		case "stock":
			items, _ := sv.store.Stock(c.Request().Context())
			r.Line, r.Decided = stockLine(items), paned || len(items) > 0
		case "season":
			r.Line, r.Decided = sv.seasonLine(h, u)
		case "box":
			r.Decided = paned
			r.Line = fmt.Sprintf("%s, %s of glass", h.MadeAs(), units.Format(units.Area, h.Glass(), u))
		case "air":
			_, duct := h.Entries["air.diameter_m"]
			_, fan := h.Entries["air.fan"]
			_, drive := h.Entries["air.drive"]
			r.Decided = duct || fan || drive
			r.Line = airLine(h, e, u)
		case "switch":
			_, set := h.Entries["switch.close_c"]
			_, kind := h.Entries["switch.kind"]
			r.Decided = set || kind || !h.Fanned()
			r.Line = switchLine(h, u)
		case "cut":
			n := 0
			for _, p := range e.layout.Cut() {
				n += p.Count
			}
			r.Decided = paned && e.misfit == nil
			r.Line = fmt.Sprintf("%d pieces", n)
			if e.misfit != nil {
				r.Line = "does not fit together yet"
			}
		case "log":
			r.Decided = logged
			r.Line = "no readings yet"
			if logged {
				days := int(math.Round(to.Sub(from).Hours() / 24))
				r.Line = fmt.Sprintf("%d days of readings", days)
				if days == 1 {
					r.Line = "1 day of readings"
				}
			}
		}
		f.Ladder = append(f.Ladder, r)
	}
}

func position(lat, lon float64) string {
	ns, ew := "N", "E"
	if lat < 0 {
		ns = "S"
	}
	if lon < 0 {
		ew = "W"
	}
	return fmt.Sprintf("%.2f %s, %.2f %s", math.Abs(lat), ns, math.Abs(lon), ew)
}

// ribbon writes the figures people quote to each other, each with its band and
// what the last change did to it.
func (f *Frame) ribbon(sv *Server, st store.State, e *evaluated) {
	was := map[string]collector.Working{}
	if st.Before != nil {
		if b := sv.evals.of(st.Before); b.err == nil {
			was = b.eval.Workings()
		}
	}
	ws := e.eval.Workings()
	standing := "Fan off, same noon"
	if !st.Document.Fanned() {
		standing = "Shut, same noon"
	}
	for _, x := range []struct {
		key, label string
		heat       bool
	}{{"heat", "Heat, clear winter noon", true}, {"efficiency", "Of the sun on the glass", false}, {"outlet", "Air out", true}, {"flow", "Air moved", false}, {"stagnation", standing, true}} {
		w := ws[x.key]
		fig := Figure{Key: x.key, Label: x.label, Heat: x.heat, Value: units.Figure(w.Kind, w.Value, f.Units), Unit: f.Units.Unit(w.Kind), URL: heaterURL(f.ID, "working", x.key),
			Band: units.Figure(w.Kind, w.Band.Low, f.Units) + " to " + units.Figure(w.Kind, w.Band.High, f.Units)}
		if b, ok := was[x.key]; ok {
			kind := w.Kind
			if kind == units.Temperature {
				kind = units.Rise
			}
			if d := signed(kind, w.Value-b.Value, f.Units); d != "no change" && math.Abs(w.Value-b.Value) > 1e-3*math.Abs(w.Value) {
				fig.Change = strings.TrimSuffix(d, " "+f.Units.Unit(kind)) + " by your change"
			}
		}
		f.Ribbon = append(f.Ribbon, fig)
	}
}

// fieldID is a path as an element's id.
func fieldID(path string) string { return "f-" + strings.NewReplacer(".", "-").Replace(path) }

// panel shows the fields at paths; those that do not apply are left out.
func (f *Frame) panel(title string, paths ...string) {
	p := Panel{Title: title}
	h := &f.State.Document
	for _, path := range paths {
		x := design.FieldAt(path)
		if x == nil || !x.Applies(h) {
			continue
		}
		v := design.Get(h, path)
		entry, theirs := h.Entries[path]
		fv := FieldView{ID: fieldID(path), Path: path, Label: x.Label, Help: helpOf(x), Ours: !theirs, Vals: f.vals(path, nil), Back: f.vals(path, map[string]string{"ours": "1"})}
		switch {
		case x.Choices != nil:
			for _, ch := range x.Choices() {
				fv.Choices = append(fv.Choices, ChoiceView{ch.ID, ch.Name, ch.ID == v})
			}
		case x.Bool:
			fv.Bool = true
			fv.On, _ = v.(bool)
		case x.Rows != nil:
			// As typed, while it still says the same in these units.
			fv.Value = x.Rows.Write(h, f.Units)
			if back, err := x.Rows.Read(h, entry.Typed, f.Units); entry.Typed != "" && err == nil && reflect.DeepEqual(back, v) {
				fv.Value = entry.Typed
			}
			fv.Rows, fv.Other = max(3, min(14, strings.Count(fv.Value, "\n")+2)), x.Rows.Example
		case x.Text:
			fv.Value = fmt.Sprint(v)
		default:
			n := design.Number(h, path)
			fv.Value = units.Format(x.Kind, n, f.Units)
			if x.Kind == units.Number && !x.Whole {
				fv.Value = units.Plain(n, 6, f.Units)
			}
			// As typed, while it still says the same in these units.
			if entry.Typed != "" {
				if back, err := units.Parse(x.Kind, entry.Typed, f.Units); err == nil && math.Abs(back-n) <= 1e-9*math.Max(1, math.Abs(n)) {
					fv.Value = entry.Typed
				}
			}
			if x.Default == nil && !theirs && n == 0 && strings.HasPrefix(path, "climate.") {
				fv.Value = "" // nobody knows it yet; a zero would be a guess
				break
			}
			if x.Kind != units.Number && x.Kind != units.Angle && x.Kind != units.Share {
				fv.Other = units.Format(x.Kind, n, f.Units.Other())
			}
		}
		p.Fields = append(p.Fields, fv)
	}
	if len(p.Fields) > 0 {
		f.Panels = append(f.Panels, p)
	}
}

func (f *Frame) vals(path string, more map[string]string) string {
	m := map[string]string{"path": path, "station": f.Station}
	if f.Part != "" {
		m["part"] = f.Part
	}
	if f.Sky != "" {
		m["sky"] = f.Sky
	}
	for k, v := range more {
		m[k] = v
	}
	b, err := json.Marshal(m)
	if err != nil {
		return "{}"
	}
	return string(b)
}

// RemedyVals is what a touch on a finding's remedy sends.
func (f *Frame) RemedyVals(id string) string { return f.vals("", map[string]string{"finding": id}) }

// OnLabel says whether heat is reckoned with the fan's label.
func (f *Frame) OnLabel() bool { return f.State.Document.Log.FlowIs == design.OnLabel }

// WorkedOutVals is what a touch sends that reckons with the worked-out flow.
func (f *Frame) WorkedOutVals() string {
	return f.vals("log.flow_is", map[string]string{"typed": string(design.WorkedOut)})
}

// StationVals is what a touch on undo and the like sends.
func (f *Frame) StationVals() string { return f.vals("", nil) }

// refuse puts a message at the field it is about.
func (f *Frame) refuse(path, typed, text string, half bool) {
	for i := range f.Panels {
		for j := range f.Panels[i].Fields {
			if x := &f.Panels[i].Fields[j]; x.Path == path {
				x.Error, x.Half, x.Value = text, half, typed
				return
			}
		}
	}
	f.Notice = text
}

// URLOf is an address below the heater's.
func (f *Frame) URLOf(what string) string { return heaterURL(f.ID, what) }

// LogURL is the log station.
func (f *Frame) LogURL() string { return heaterURL(f.ID, "log") }

// LinkedField is a field with where its entries go.
type LinkedField struct {
	FieldView
	URL string
}

// Linked gives a field the heater's address.
func (f *Frame) Linked(x FieldView) LinkedField { return LinkedField{x, f.EditURL} }

// scene is the box for drawing.
func (f *Frame) scene(e *evaluated) *drawing.Scene {
	return &drawing.Scene{Heater: &f.State.Document, Layout: &e.layout, Eval: &e.eval, Units: f.Units, Chosen: layout.Group(f.Part), InPlace: f.Station == "box", Link: func(g layout.Group) string {
		if g == layout.Back {
			g = layout.Foam
		}
		return heaterURL(f.ID, "box") + "?" + url.Values{"part": {string(g)}}.Encode()
	}}
}

// VarVals is what a touch sends that carries one more thing.
func (f *Frame) VarVals(name, value string) string { return f.vals("", map[string]string{name: value}) }

// Conditions are those a thing of the stock may be in.
func (f *Frame) Conditions() []string { return []string{"sound", "worn", "doubtful"} }

// airLine is what the air's rung says.
func airLine(h *design.Heater, e *evaluated, u units.System) string {
	moved := units.Format(units.Flow, e.eval.Running.Volume, u)
	switch {
	case h.Indoors():
		return "warmth alone, " + moved
	case !h.Fanned():
		return fmt.Sprintf("warmth alone through %s, %s", units.Format(units.Bore, h.Air.Diameter, u), moved)
	}
	return fmt.Sprintf("%s through %s", moved, units.Format(units.Bore, h.Air.Diameter, u))
}

// helpOf is a field's sentence, with the engineer's word for it.
func helpOf(x *design.Field) string {
	if x.Term == "" {
		return x.Help
	}
	return x.Help + " An engineer says " + x.Term + "."
}

package web

import (
	"errors"
	"fmt"
	"html/template"
	"net/http"
	"net/url"
	"slices"
	"strconv"
	"strings"
	"time"

	"github.com/labstack/echo/v5"

	"gladember/app/drawing"
	"gladember/app/store"
	"gladember/core/collector"
	"gladember/core/design"
	"gladember/core/layout"
	"gladember/core/space"
	"gladember/core/units"
)

// HomeView is the first page.
type HomeView struct {
	Page
	Heaters []HeaterCard
	Sheet   SheetView
}

// HeaterCard is a heater in the list.
type HeaterCard struct {
	Name, Where, What, Heat, Next, URL string
	Findings                           int
}

// SheetView is the pane on the sheet and what it would give.
type SheetView struct {
	Pane    string
	Room    string
	Town    string
	TownID  string
	Error   string
	Half    bool
	Drawing template.HTML
	Heat    string
	Band    string
	Outlet  string
	Share   string // of the design-day loss of what it warms
	Guesses []GuessView
	Ready   bool
	Fan     int // per cent of the fan we would take
	Air     string
	Fright  string
	Mend    string // the finding's name; one touch mends it
	Gain    string
	Mended  []MendedView
	Said    []MendedView // what was said of guesses, by the field's name
	Cut     []string
	Noon    string // when the sun stands highest there, if a town is named
}

// GuessView is something that we guess and that makes the band wide, with what one may
// say instead.
type GuessView struct {
	Cause, Path, Label string
	Choices            []ChoiceView
	Said               bool // it is no guess any more
}

// MendedView is a fright that was mended, and may be taken back.
type MendedView struct{ ID, Text string }

func (sv *Server) home(c *echo.Context) error {
	v := HomeView{Page: sv.page(c, "The bench")}
	list, err := sv.store.Heaters(c.Request().Context())
	if err != nil {
		return err
	}
	for _, st := range list {
		f, e := sv.frame(c, st, "")
		card := HeaterCard{Name: f.Name, URL: heaterURL(st.Heater), Findings: len(f.Findings)}
		if e.err == nil {
			card.Where, card.What = f.rung("place").Line, f.rung("box").Line
			card.Heat = f.Ribbon[0].Value + " " + f.Ribbon[0].Unit
		}
		card.Next = "next: " + nextStation(f)
		if x := f.rung("season"); x.Decided {
			card.Next = x.Line
		}
		v.Heaters = append(v.Heaters, card)
	}
	v.Sheet = SheetView{Room: string(design.LivingRoom), Fan: 100}
	return c.Render(http.StatusOK, "home.html", v)
}

// rung is that of a station; the zero rung if nothing could be computed.
func (f *Frame) rung(key string) Rung {
	for _, r := range f.Ladder {
		if r.Key == key {
			return r
		}
	}
	return Rung{}
}

// nextStation names the first station that is not decided.
func nextStation(f *Frame) string {
	for _, r := range f.Ladder {
		if !r.Decided {
			return r.Key
		}
	}
	return "log"
}

func (sv *Server) resume(c *echo.Context) error {
	st, err := sv.current(c)
	if err != nil {
		return err
	}
	f, _ := sv.frame(c, st, "")
	return c.Redirect(http.StatusSeeOther, heaterURL(st.Heater, nextStation(f)))
}

// drafted reads the first facts from the sheet's form.
func (sv *Server) drafted(c *echo.Context, p Page) (design.Heater, SheetView, error) {
	v := SheetView{Pane: c.FormValue("pane"), Room: c.FormValue("room"), Town: c.FormValue("town"), TownID: c.FormValue("town_id")}
	h := design.New()
	w, ht, err := design.ParsePane(v.Pane, p.Units)
	if err != nil {
		var ue *units.Error
		v.Half = errors.As(err, &ue) && ue.Half
		return h, v, err
	}
	a, b, _ := strings.Cut(strings.NewReplacer("×", "x", "X", "x", "*", "x", " by ", " x ").Replace(v.Pane), "x")
	changes := []design.Change{{Path: "pane.width_m", Value: w, Typed: strings.TrimSpace(a)}, {Path: "pane.height_m", Value: ht, Typed: strings.TrimSpace(b)}}
	if v.Room != "" {
		changes = append(changes, design.Change{Path: "room.kind", Value: v.Room})
	}
	if t, ok := sv.townByID(v.TownID); ok {
		changes = append(changes, townChanges(t)...)
		v.Town = t.Label()
	}
	for _, u := range collector.Uncertainties(&h, false, true) {
		if id := c.FormValue("g." + u.Path); u.Path != "" && id != "" {
			changes = append(changes, design.Change{Path: u.Path, Value: id})
			v.Said = append(v.Said, MendedView{"g." + u.Path, id})
		}
	}
	if h, err = design.Apply(h, p.Units, changes...); err != nil {
		return h, v, err
	}
	v.Fan = 100
	if n, err := strconv.Atoi(c.FormValue("fan")); err == nil && n >= 25 && n <= 250 {
		v.Fan = n
		if n != 100 && h.Fanned() {
			if h, err = design.Apply(h, p.Units, design.Change{Path: "air.fan_free_air_m3_s", Value: h.Air.FanFree * float64(n) / 100}); err != nil {
				return h, v, err
			}
		}
	}
	// What was mended is mended again, in the order of the touches.
	form, err := c.FormValues()
	if err != nil {
		return h, v, err
	}
	for _, id := range form["mend"] {
		if _, remedy, patch := offered(sv.evals.of(&h).findings, id); patch != nil {
			if n, err := design.Apply(h, p.Units, patch...); err == nil {
				h = n
				v.Mended = append(v.Mended, MendedView{id, remedy.In(p.Units)})
			}
		}
	}
	return h, v, nil
}

func (sv *Server) townByID(id string) (Town, bool) {
	i, err := strconv.Atoi(id)
	if err != nil {
		return Town{}, false
	}
	g, err := loadTowns()
	if err != nil || i < 0 || i >= len(g.towns) {
		return Town{}, false
	}
	return g.towns[i], true
}

func townChanges(t Town) []design.Change {
	return []design.Change{
		{Path: "place.latitude_deg", Value: t.Latitude}, {Path: "place.longitude_deg", Value: t.Longitude}, {Path: "place.elevation_m", Value: t.Elevation},
		{Path: "place.zone", Value: t.Zone}, {Path: "place.town", Value: t.Label()},
	}
}

func (sv *Server) preview(c *echo.Context) error {
	p := sv.page(c, "")
	h, v, err := sv.drafted(c, p)
	if err != nil {
		v.Error = err.Error()
		return c.Render(http.StatusOK, "sheet", v)
	}
	e := sv.evals.of(&h)
	if e.err == nil && e.misfit != nil {
		v.Error = e.misfit.Error()
		return c.Render(http.StatusOK, "sheet", v)
	}
	if e.err != nil {
		v.Error = e.err.Error()
		return c.Render(http.StatusOK, "sheet", v)
	}
	sc := drawing.Scene{Heater: &h, Layout: &e.layout, Eval: &e.eval, Units: p.Units}
	ev := &e.eval
	v.Drawing, v.Ready = sc.Front(), true
	v.Heat = units.Format(units.Power, ev.Heat.Value, p.Units)
	v.Band = units.Figure(units.Power, ev.Heat.Low, p.Units) + " to " + units.Format(units.Power, ev.Heat.High, p.Units)
	v.Outlet = units.Format(units.Temperature, ev.Outlet.Value, p.Units)
	v.Air = units.Format(units.Flow, ev.Running.Volume, p.Units)
	for _, cause := range ev.Heat.Largest(len(ev.Heat.Causes)) {
		path := cause.Path
		x := design.FieldAt(path)
		if x == nil || !x.Applies(&h) || x.Choices == nil || len(v.Guesses) == 3 {
			continue
		}
		g := GuessView{Cause: cause.Name, Path: "g." + path, Label: x.Label, Said: c.FormValue("g."+path) == design.Get(&h, path)}
		for _, ch := range x.Choices() {
			g.Choices = append(g.Choices, ChoiceView{ch.ID, ch.Name, ch.ID == design.Get(&h, path)})
		}
		v.Guesses = append(v.Guesses, g)
		if g.Said { // its own select carries it
			v.Said = slices.DeleteFunc(v.Said, func(m MendedView) bool { return m.ID == g.Path })
		}
	}
	for _, x := range e.findings {
		if x.Severity == 0 {
			v.Fright = x.Finding.In(p.Units)
			if x.Patch != nil {
				v.Mend = x.ID
			}
			break
		}
	}
	if sp, err := space.Of(&h); err == nil {
		if share := sp.Carries(ev.Heat.Value, h.Room.Wanted, space.DesignOutdoors(&h)); share > 0 {
			v.Share = units.Format(units.Share, share, p.Units)
		}
	}
	for _, part := range e.layout.Cut() {
		if len(v.Cut) == 3 {
			break
		}
		v.Cut = append(v.Cut, fmt.Sprintf("%d × %s, %s", part.Count, part.Name, units.Figure(units.Length, part.Length, p.Units)+" × "+units.Format(units.Length, part.Width, p.Units)))
	}
	if h.Place.Town != "" {
		v.Noon = collector.WinterNoon(&h, time.Now().Year()).Format("15:04")
	}
	return c.Render(http.StatusOK, "sheet", v)
}

func (sv *Server) start(c *echo.Context) error {
	p := sv.page(c, "The bench")
	h, v, err := sv.drafted(c, p)
	if err != nil {
		v.Error = err.Error()
		return c.Render(http.StatusUnprocessableEntity, "home.html", HomeView{Page: p, Sheet: v})
	}
	st, err := sv.store.Create(c.Request().Context(), h)
	if err != nil {
		return err
	}
	return c.Redirect(http.StatusSeeOther, heaterURL(st.Heater, "box"))
}

func (sv *Server) towns(c *echo.Context) error {
	g, err := loadTowns()
	if err != nil {
		return err
	}
	q := c.QueryParam("town")
	v := struct {
		Towns   []Town
		Typed   string
		ForHome bool
		Post    string
	}{g.find(q, 8), q, c.QueryParam("h") == "", ""}
	if id, err := strconv.ParseInt(c.QueryParam("h"), 10, 64); err == nil {
		v.Post = heaterURL(id, "town")
	}
	return c.Render(http.StatusOK, "towns", v)
}

func (sv *Server) setUnits(c *echo.Context) error {
	p := sv.page(c, "")
	switch c.FormValue("flip") {
	case "length":
		p.Units.Inches = !p.Units.Inches
	case "heat":
		p.Units.Fahrenheit = !p.Units.Fahrenheit
	case "decimal":
		p.Units.DecimalComma = !p.Units.DecimalComma
	}
	v := "mm"
	if p.Units.Inches {
		v = "in"
	}
	if p.Units.Fahrenheit {
		v += ".F"
	}
	if p.Units.DecimalComma {
		v += ".comma"
	}
	setCookie(c, "units", v)
	return c.Redirect(http.StatusSeeOther, back(c))
}

func (sv *Server) setTheme(c *echo.Context) error {
	t := c.FormValue("theme")
	if t != "light" && t != "dark" {
		t = "auto"
	}
	setCookie(c, "theme", t)
	return c.Redirect(http.StatusSeeOther, back(c))
}

// back is the page a setting was changed on: a path of ours, nothing else.
func back(c *echo.Context) string {
	u, err := url.Parse(c.FormValue("here"))
	if err != nil || u.IsAbs() || u.Host != "" || !strings.HasPrefix(u.Path, "/") || strings.HasPrefix(u.Path, "//") {
		return "/"
	}
	return u.RequestURI()
}

// current reads the heater that the address names.
func (sv *Server) current(c *echo.Context) (store.State, error) {
	id, err := strconv.ParseInt(c.Param("id"), 10, 64)
	if err != nil {
		return store.State{}, store.ErrNotFound
	}
	return sv.store.Get(c.Request().Context(), id)
}

// station answers with a heater at a station.
func (sv *Server) station(key string) echo.HandlerFunc {
	return func(c *echo.Context) error {
		st, err := sv.current(c)
		if err != nil {
			return err
		}
		f, err := sv.at(c, st, key)
		if err != nil {
			return err
		}
		return c.Render(http.StatusOK, "frame.html", f)
	}
}

// at fills a frame with what a station shows.
func (sv *Server) at(c *echo.Context, st store.State, key string) (*Frame, error) {
	f, e := sv.frame(c, st, key)
	if e.err != nil {
		f.panel("Pane", "pane.width_m", "pane.height_m")
		return f, nil
	}
	switch key {
	case "place":
		return f, f.place(sv, c, e)
	case "need":
		return f, f.need(e)
	case "said":
		f.said(sv, e)
	case "versions":
		return f, sv.versionsPage(c, f)
	case "air":
		return f, f.air(e)
	case "stock":
		return f, sv.stockStation(c, f)
	case "season":
		f.season()
	case "box":
		f.box(e)
	case "switch":
		return f, sv.switchStation(c, f, e)
	case "cut":
		f.cut(e)
	case "log":
		return f, sv.logStation(c, f, e)
	default:
		return nil, echo.NewHTTPError(http.StatusNotFound, "")
	}
	return f, nil
}

// parts of the box that one can touch, in the order of the sun's way in.
var boxParts = []struct {
	key, name string
	paths     []string
}{
	{"cover", "Cover", []string{"pane.width_m", "pane.height_m", "cover.material", "cover.thickness_m", "cover.layers", "cover.inner", "cover.between_m", "cover.dirt", "pane.rest_m", "cover.covered_from_month", "cover.covered_to_month", "mirror.length_m", "mirror.angle_deg", "mirror.reflectance", "mirror.hinge"}},
	{"absorber", "Absorber", append([]string{"absorber.screens.*", "absorber.plate.*", "absorber.cans.*", "absorber.pipes.*", "absorber.coil.*", "absorber.panel.*", "absorber.own.*"}, "absorber.paint", "box.gap_m")},
	{"foam", "Insulation", []string{"box.foam", "box.back_foam_m", "box.edge_foam_m", "box.board_m", "box.stones_kg", "box.walls"}},
	{"guard", "Overheating", []string{"guard.*"}},
	{"frame", "Body", []string{"box.body", "box.frame", "box.frame_width_m", "pane.rest_m", "box.seam_m3_s_m", "box.sealant", "box.adhesive", "box.tape", "array.boxes", "array.join", "array.group"}},
	{"air", "Air", []string{"air.drive", "air.source", "air.vent", "air.route", "air.duct", "air.stretch", "air.diameter_m", "air.ports", "air.to_box_m", "air.from_box_m", "air.riser_m", "air.bends", "air.bends_before", "air.grilles", "air.grilles_before", "air.filter", "air.flap"}},
	{"fan", "Fan", []string{"air.fan", "air.fan_free_air_m3_s", "air.fan_shut_off_pa", "air.fan_power_w", "air.fan_radial", "air.fan_side", "air.fans", "air.fans_join", "air.fan_volts", "air.panel_w", "air.battery_wh", "air.wire_m", "air.wire_mm2"}},
}

// anyApplies says whether a heater has any of the fields.
func anyApplies(h *design.Heater, paths []string) bool {
	for _, p := range paths {
		if x := design.FieldAt(p); x != nil && x.Applies(h) {
			return true
		}
	}
	return false
}

// spread replaces a path that ends in * by every field under it.
func spread(paths []string) (out []string) {
	for _, p := range paths {
		stem, all := strings.CutSuffix(p, "*")
		if !all {
			out = append(out, p)
			continue
		}
		for _, f := range design.Fields {
			if strings.HasPrefix(f.Path, stem) {
				out = append(out, f.Path)
			}
		}
	}
	return out
}

func (f *Frame) box(e *evaluated) {
	sc := f.scene(e)
	v := &BoxView{}
	if e.misfit != nil {
		v.Misfit = e.misfit.Error()
	} else {
		v.Front, v.Section = sc.Front(), sc.Section()
	}
	v.Energy, v.EnergyNarrow = sc.EnergyBar(700), sc.EnergyBar(360)
	v.AirPath, v.AirPathNarrow = sc.AirPath(700), sc.AirPath(360)
	v.Limits, v.LimitsNarrow = drawing.Limits(e.eval.Peaks, 700, f.Units), drawing.Limits(e.eval.Peaks, 360, f.Units)
	f.Box = v
	known := false
	for _, p := range boxParts {
		known = known || p.key == f.Part
	}
	if !known {
		f.Part = "cover"
		sc.Chosen = layout.Cover
	}
	for _, p := range boxParts {
		if !anyApplies(&f.State.Document, spread(p.paths)) {
			continue
		}
		f.Parts = append(f.Parts, PartLink{p.name, heaterURL(f.ID, "box") + "?" + url.Values{"part": {p.key}}.Encode(), p.key == f.Part})
		if p.key == f.Part && p.key == "absorber" {
			for _, c := range design.FieldAt("absorber.family").Choices() {
				f.Families = append(f.Families, FamilyView{c.ID, c.Name, drawing.FamilyPicture(design.Family(c.ID)), c.ID == string(f.State.Document.Absorber.Family),
					f.vals("absorber.family", map[string]string{"typed": c.ID})})
			}
		}
		if p.key == f.Part {
			f.panel(p.name, spread(p.paths)...)
		}
	}
}

func (f *Frame) cut(e *evaluated) {
	v := &CutView{}
	f.Cut = v
	if e.misfit != nil {
		v.Misfit = e.misfit.Error()
		return
	}
	v.Front = f.scene(e).Front()
	at := map[string]int{}
	fm := func(m float64) string { return units.Format(units.Length, m, f.Units) }
	for _, p := range e.layout.Cut() {
		i, ok := at[p.Material]
		if !ok {
			i = len(v.Groups)
			at[p.Material] = i
			v.Groups = append(v.Groups, CutGroup{Material: p.Material})
		}
		v.Groups[i].Parts = append(v.Groups[i].Parts, CutPart{p.Count, p.Name, fm(p.Length), fm(p.Width), fm(p.Thickness), p.Note})
		v.Count += p.Count
	}
	v.Notes = e.layout.Notes
	v.Mass = fmt.Sprintf("%.0f kg", e.layout.Mass())
	if n := f.State.Document.Array.Boxes; n > 1 && !f.State.Document.Indoors() {
		said := fmt.Sprintf("These are the pieces of %d boxes; the drawing shows one of them.", n)
		if others := e.layout.Others; len(others) > 0 {
			said = fmt.Sprintf("These are the pieces of %d boxes; the drawing shows the first sort, of which there are %d. Pieces of the others carry their letter.", n, e.layout.Boxes)
		}
		v.Notes = append([]string{said}, v.Notes...)
	}
	if hs := e.layout.HeaderHoles; len(hs) > 1 {
		var at []string
		for _, x := range hs {
			at = append(at, units.Figure(units.Length, x.X, f.Units))
		}
		v.Header = fmt.Sprintf("Bore each header board %d times, %s wide, %s from its front edge. Centres from its left end, each measured from there: %s %s.", len(hs), fm(hs[0].Diameter), fm(hs[0].Y), strings.Join(at, ", "), f.Units.Unit(units.Length))
	}
	for _, x := range e.layout.Holes {
		v.Holes = append(v.Holes, HoleView{x.Name, units.Format(units.Bore, x.Diameter, f.Units), fm(x.X), fm(x.Y), strings.Join(x.Through, ", ")})
	}
	f.panel("Sizes you cut to", "pane.width_m", "pane.height_m", "pane.rest_m", "box.frame_width_m", "box.edge_foam_m", "box.back_foam_m", "box.board_m")
}

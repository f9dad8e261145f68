package web

import (
	"context"
	"errors"
	"fmt"
	"html/template"
	"math"
	"net/http"
	"slices"
	"strconv"
	"strings"

	"github.com/labstack/echo/v5"

	"gladember/app/drawing"
	"gladember/app/service"
	"gladember/app/store"
	"gladember/app/towns"
	"gladember/app/web/ui"
	"gladember/core/advice"
	"gladember/core/buildplan"
	"gladember/core/collector"
	"gladember/core/design"
	"gladember/core/layout"
	"gladember/core/space"
	"gladember/core/units"
)

// HomeView is the first page.
type HomeView struct {
	ui.Page
	Heaters []HeaterCard
	Trash   []TrashRow
	Sheet   SheetView
}

// HeaterCard is a heater in the list.
type HeaterCard struct {
	Name, Where, What string
	Heat, Year        string
	Next, NextURL     string // what to do next
	URL               string
	Findings          string
	Front             template.HTML
}

// SheetView is the pane that a heater starts with and what the heater would give.
type SheetView struct {
	Pane    string
	Room    string
	Rooms   []ui.ChoiceView
	Town    string
	TownID  string
	Open    string // why the town is not known yet; empty where it is, or where none was typed
	Place   string // for where and for what its figures are
	Depth   string // of the box
	Error   string
	Half    bool
	Drawing template.HTML
	Heat    string
	Band    string
	Outlet  string
	Share   string // of the heating load of what it warms
	Guesses []GuessView
	Ready   bool
	Fan     int // per cent of the fan of our estimate
	Air     string
	Danger  string
	Fix     string // the finding's ID; one touch applies its remedy
	Fixed   []FixedView
	Chosen  []FixedView // what was chosen in place of estimates, by the field's name
	Cut     []string
	Noon    string // when the sun is highest there, if a town is named
}

// MoreView is what a heater of the sheet takes and gives that costs more than a moment to compute.
type MoreView struct {
	Cost, Hours string
	Year        string // useful heat; empty until a town is named
	Rough       bool   // prices are missing
}

// GuessView is an estimate that makes the figures uncertain, with what one may choose instead.
type GuessView struct {
	Cause, Path, Label string
	Choices            []ui.ChoiceView
	Chosen             bool // it is no estimate any more
}

// FixedView is a finding whose remedy was applied, and may be undone.
type FixedView struct{ ID, Text string }

// home shows the heaters and the sheet on which a new one starts.
func (sv *site) home(c *echo.Context) error {
	return sv.listed(c, http.StatusOK, HomeView{Page: ui.NewPage(c, "All heaters"), Sheet: newSheet()})
}

// listed answers with the first page: a sheet beside all heaters and the trash.
func (sv *site) listed(c *echo.Context, code int, v HomeView) error {
	list, err := sv.Store.Heaters(c.Request().Context())
	if err != nil {
		return err
	}
	for _, st := range list {
		// The first page never depends on one heater.
		var card HeaterCard
		if err := service.Guarded(func() (err error) { card, err = sv.card(c, st); return err }); err != nil {
			if c.Request().Context().Err() != nil {
				return err
			}
			sv.Logger.Error("a heater cannot be listed", "heater", st.Heater, "error", err, "stack", service.StackOf(err))
			card = brokenCard(st)
		}
		v.Heaters = append(v.Heaters, card)
	}
	if v.Trash, err = sv.trash(c.Request().Context()); err != nil {
		return err
	}
	return c.Render(code, "home.html", v)
}

// newSheet is the sheet before anything is entered.
func newSheet() SheetView {
	s := SheetView{Room: string(design.LivingRoom), Fan: 100}
	s.rooms()
	return s
}

// rooms lists what a heater may warm.
func (v *SheetView) rooms() {
	v.Rooms = nil
	for _, c := range design.SpaceKind.Choices() {
		v.Rooms = append(v.Rooms, ui.ChoiceView{ID: c.ID, Name: c.Name, Chosen: c.ID == v.Room})
	}
}

// card is a heater in the list.
func (sv *site) card(c *echo.Context, st store.State) (HeaterCard, error) {
	v, err := sv.Visit(c, st, "")
	if err != nil {
		return HeaterCard{}, err
	}
	if v.Heater == nil {
		return brokenCard(st), nil
	}
	f := v.F
	next := f.NextStation()
	card := HeaterCard{Name: f.Name, URL: ui.HeaterURL(st.Heater), Next: next.Name, NextURL: next.URL}
	if n := len(f.Findings); n > 0 {
		card.Findings = ui.Count(n, "recommendation", "recommendations", f.Units)
	}
	card.Where, card.What = f.Link("place").Line, f.Link("box").Line
	card.Heat = f.Headline[0].Value + " " + f.Headline[0].Unit
	if v.KnownYear(v.Doc()) != nil {
		card.Year = f.Link("season").Line
	}
	if v.Heater.Misfit == nil {
		card.Front = v.Scene("", nil).Front(drawing.FrontWidth)
	}
	return card, nil
}

// brokenCard is that of a heater that cannot be computed.
func brokenCard(st store.State) HeaterCard {
	return HeaterCard{Name: st.Document.Name, URL: ui.HeaterURL(st.Heater), What: "cannot be computed", Next: "Box",
		NextURL: ui.HeaterURL(st.Heater, "box")}
}

// drafted reads the first facts from the sheet's form.
func (sv *site) drafted(c *echo.Context, p ui.Page) (design.Heater, SheetView, error) {
	v := SheetView{Pane: c.FormValue("pane"), Room: c.FormValue("room"), Town: c.FormValue("town"), TownID: c.FormValue("town_id"),
		Fan: 100}
	v.rooms()
	h := design.New()
	w, ht, err := design.ParsePane(v.Pane, p.Units)
	if err != nil {
		var ue *units.Error
		v.Half = errors.As(err, &ue) && ue.Half
		return h, v, err
	}
	width, height, _ := design.SplitPane(v.Pane)
	changes := []design.Change{{Path: design.PaneWidth.Path, Value: w, Typed: width}, {Path: design.PaneHeight.Path, Value: ht,
		Typed: height}}
	if v.Room != "" {
		changes = append(changes, design.Set(design.SpaceKind, design.RoomKind(v.Room)))
	}
	t, err := draftedTown(c)
	if err != nil {
		v.Open = ui.Capital(err.Error()) + "."
	} else if t != nil {
		changes = append(changes, ui.TownChanges(*t)...)
		v.Town = t.Label()
		if t.Index >= 0 {
			v.TownID = strconv.Itoa(t.Index)
		}
	}
	for _, u := range collector.Uncertainties(&h, false, true) {
		if id := c.FormValue("g." + u.Path); u.Path != "" && id != "" {
			changes = append(changes, design.Change{Path: u.Path, Value: id})
			v.Chosen = append(v.Chosen, FixedView{"g." + u.Path, id})
		}
	}
	if h, err = design.Apply(h, p.Units, changes...); err != nil {
		return h, v, err
	}
	if n, err := strconv.Atoi(c.FormValue("fan")); err == nil && n >= leastFan && n <= mostFan {
		v.Fan = n
		if n != 100 && h.Fanned() {
			// A fan of so much more flow at the same pressure takes as much more power.
			by := float64(n) / 100
			if h, err = design.Apply(h, p.Units, design.Set(design.AirFanFreeAir, h.Air.FanFree*by),
				design.Set(design.AirFanShutOff, h.Air.FanShut),
				design.Set(design.AirFanPower, h.Air.FanPower*by)); err != nil {
				return h, v, err
			}
		}
	}
	return sv.fixed(c, h, v, p.Units)
}

// draftedTown is the town that the sheet's form names: picked from the list, or typed so that it can only be one; nil where none is named.
func draftedTown(c *echo.Context) (*towns.Town, error) {
	typed := strings.TrimSpace(c.FormValue("town"))
	if t, ok := ui.FindTown(c.FormValue("town_id")); ok && (typed == "" || typed == t.Label()) {
		return &t, nil
	}
	if typed == "" {
		return nil, nil
	}
	g, err := towns.Load()
	if err != nil {
		return nil, err
	}
	t, err := g.Resolve(typed, ui.NewPage(c, "").Units.Inches)
	if err != nil {
		return nil, err
	}
	return &t, nil
}

// How far the fan of our estimate may be turned down and up on the sheet, per cent.
const (
	leastFan = 25
	mostFan  = 250
)

// fixed applies the remedies again that were applied on the sheet, in the order of the touches.
func (sv *site) fixed(c *echo.Context, h design.Heater, v SheetView, u units.System) (design.Heater, SheetView, error) {
	form, err := c.FormValues()
	if err != nil {
		return h, v, err
	}
	for _, id := range form["mend"] {
		e, err := sv.Evaluate(c.Request().Context(), &h)
		if err != nil {
			return h, v, err
		}
		if _, remedy, patch := ui.Offered(e.Findings, id); patch != nil {
			if n, err := design.Apply(h, u, patch...); err == nil {
				h = n
				v.Fixed = append(v.Fixed, FixedView{id, remedy.In(u)})
			}
		}
	}
	return h, v, nil
}

// preview answers with what the pane on the sheet would give.
func (sv *site) preview(c *echo.Context) error {
	p, err := sv.settle(c, ui.NewPage(c, ""), false)
	if err != nil {
		return err
	}
	h, v, err := sv.drafted(c, p)
	if err == nil {
		err = sv.given(c.Request().Context(), &h, &v, p, func(path string) string { return c.FormValue("g." + path) })
	}
	if c.Request().Context().Err() != nil {
		return c.Request().Context().Err()
	}
	if err != nil {
		v.Error = ui.Capital(err.Error()) + "."
	}
	p.Here = "/" // where its settings lead back to
	return c.Render(http.StatusOK, "previewed", struct {
		Page  ui.Page
		Sheet SheetView
	}{p, v})
}

// sketched is the heater on the sheet, computed; it is nil where none can be, and then the sheet says what is wrong.
func (sv *site) sketched(c *echo.Context) (p ui.Page, h design.Heater, e *service.Heater, err error) {
	if p, err = sv.settle(c, ui.NewPage(c, ""), false); err != nil {
		return p, h, nil, err
	}
	h, _, wrong := sv.drafted(c, p)
	if wrong != nil {
		return p, h, nil, c.Request().Context().Err()
	}
	if e, err = sv.Evaluate(c.Request().Context(), &h); err != nil {
		return p, h, nil, ui.Uncomputed(err)
	}
	return p, h, e, nil
}

// working answers with how the heat on the sheet is computed.
func (sv *site) working(c *echo.Context) error {
	p, _, e, err := sv.sketched(c)
	if err != nil {
		return err
	}
	if e == nil {
		return c.NoContent(http.StatusNoContent)
	}
	return c.Render(http.StatusOK, "working", ui.NewWorking(e.Eval.Workings()["heat"], p.Units, p.Sum))
}

// more answers with what the heater on the sheet costs, how long it is built, and what it gives through the year.
func (sv *site) more(c *echo.Context) error {
	p, h, e, err := sv.sketched(c)
	if err != nil {
		return err
	}
	if e == nil || e.Misfit != nil {
		return c.NoContent(http.StatusNoContent)
	}
	ctx := c.Request().Context()
	o, err := sv.Outlay(ctx, &h, e, p.Shop) // sizes sold are the workshop's, not those of who looks
	if err != nil {
		return ui.Uncomputed(err)
	}
	steps, err := buildplan.Build(&h, &e.Layout)
	if err != nil {
		return ui.Uncomputed(err)
	}
	v := MoreView{Cost: p.Sum(o.Sum, 0), Rough: o.Unpriced > 0,
		Hours: ui.Count(int(math.Round(buildplan.Hours(steps))), "hour", "hours", p.Units)}
	if h.Place.Town != "" {
		y, err := sv.Year(ctx, &h)
		if err != nil {
			return ui.Uncomputed(err)
		}
		v.Year = units.Format(units.Energy, y.Result.Year.Useful, p.Units)
	}
	return c.Render(http.StatusOK, "sheet-more", v)
}

// given fills the sheet with what a heater gives.
func (sv *site) given(ctx context.Context, h *design.Heater, v *SheetView, p ui.Page, chosen func(path string) string) error {
	e, err := sv.Evaluate(ctx, h)
	if err != nil {
		return err
	}
	if e.Misfit != nil {
		return errors.New(ui.Misfit(e.Misfit, p.Units))
	}
	ev, u := &e.Eval, p.Units
	sc := drawing.Scene{Heater: h, Layout: &e.Layout, Eval: ev, Units: u}
	v.Drawing, v.Ready = sc.Front(sheetWidth), true
	v.Heat = units.Format(units.Power, ev.Heat.Value, u)
	v.Band = ui.Range(units.Power, ev.Heat.Low, ev.Heat.High, u) + " " + u.Unit(units.Power)
	v.Outlet = units.Format(units.Temperature, ev.Outlet.Value, u)
	v.Air = units.Format(units.Flow, ev.Running.Volume, u)
	v.guesses(h, ev, chosen)
	v.danger(e, u)
	if sp, err := space.New(h); err == nil {
		if share := sp.Carries(ev.Heat.Value, h.Room.Wanted, space.DesignOutdoors(h)); share > 0 {
			v.Share = units.Format(units.Share, share, u)
		}
	}
	const first = 3
	// The frame decides whether all else fits, and is what a builder cuts first.
	cut := slices.DeleteFunc(e.Layout.Cut(), func(x layout.Part) bool { return x.Group != layout.Frame })
	for _, part := range cut[:min(first, len(cut))] {
		size := units.Figure(units.Length, part.Length, u) + " × " + units.Format(units.Length, part.Width, u)
		v.Cut = append(v.Cut, fmt.Sprintf("%d × %s, %s", part.Count, part.Name, size))
	}
	v.Depth = units.Format(units.Length, h.FrameDepth(), u)
	what := strings.ToLower(roomName(h))
	v.Place = fmt.Sprintf("At %s until you name a town, for %s of %s.", position(h.Place.Latitude, h.Place.Longitude, u), what,
		units.Format(units.Area, h.Room.Floor, u))
	if h.Place.Town != "" {
		v.Place = fmt.Sprintf("In %s, for %s of %s.", h.Place.Town, what, units.Format(units.Area, h.Room.Floor, u))
		v.Noon = collector.WinterNoon(h).Format("15:04")
	}
	return nil
}

// position is a place by its coordinates: 46° N, 0° E.
func position(lat, lon float64, u units.System) string {
	name := func(v float64, plus, minus string) string {
		if v < 0 {
			plus = minus
		}
		return units.Plain(math.Round(math.Abs(v)), 3, u) + "° " + plus
	}
	return name(lat, "N", "S") + ", " + name(lon, "E", "W")
}

// roomName is what the space of a heater is called, with its article.
func roomName(h *design.Heater) string {
	for _, c := range design.SpaceKind.Choices() {
		if c.ID == string(h.Room.Kind) {
			return "a " + c.Name
		}
	}
	return "a room"
}

// sheetWidth is the width of the drawing on the sheet, pixels.
const sheetWidth = 300

// mostGuesses is how many estimates the sheet asks about.
const mostGuesses = 3

// guesses lists the estimates that make the heat most uncertain.
func (v *SheetView) guesses(h *design.Heater, ev *collector.Evaluation, chosen func(path string) string) {
	for _, cause := range ev.Heat.Largest(len(ev.Heat.Causes)) {
		x := design.FieldAt(cause.Path)
		if x == nil || !x.Applies(h) || x.Choices == nil || len(v.Guesses) == mostGuesses {
			continue
		}
		now := design.FieldAt(cause.Path).Get(h)
		g := GuessView{Cause: cause.Name, Path: "g." + cause.Path, Label: x.Label, Chosen: chosen(cause.Path) == now}
		for _, ch := range x.Choices() {
			g.Choices = append(g.Choices, ui.ChoiceView{ID: ch.ID, Name: ch.Name, Chosen: ch.ID == now})
		}
		v.Guesses = append(v.Guesses, g)
		if g.Chosen { // its own select carries it
			v.Chosen = slices.DeleteFunc(v.Chosen, func(m FixedView) bool { return m.ID == g.Path })
		}
	}
}

// danger is the worst finding, if it is a danger.
func (v *SheetView) danger(e *service.Heater, u units.System) {
	for i := range e.Findings {
		if x := &e.Findings[i]; x.Severity == advice.Danger {
			v.Danger = x.Title + ". " + x.Finding.In(u)
			if x.Patch != nil {
				v.Fix = x.ID
			}
			return
		}
	}
}

// start makes a heater of the sheet.
func (sv *site) start(c *echo.Context) error {
	p, err := sv.settle(c, ui.NewPage(c, "All heaters"), true)
	if err != nil {
		return err
	}
	h, v, err := sv.drafted(c, p)
	if err != nil || v.Open != "" {
		if err == nil { // the town alone is open: what it would give somewhere else stays in view
			err = sv.given(c.Request().Context(), &h, &v, p, func(path string) string { return c.FormValue("g." + path) })
			v.Error = v.Open
		}
		if err != nil {
			v.Error = ui.Capital(err.Error()) + "."
		}
		return sv.listed(c, http.StatusUnprocessableEntity, HomeView{Page: p, Sheet: v})
	}
	st, err := sv.Store.Create(c.Request().Context(), h)
	if err != nil {
		return err
	}
	return c.Redirect(http.StatusSeeOther, ui.HeaterURL(st.Heater, "box"))
}

// settle sets units by what is typed and where the heater will stand, until somebody chooses; with keep for the whole workshop.
func (sv *site) settle(c *echo.Context, p ui.Page, keep bool) (ui.Page, error) {
	if ui.UnitsChosen(c) {
		return p, nil
	}
	t, err := draftedTown(c)
	placed := err == nil && t != nil
	pane := strings.ToLower(c.FormValue("pane"))
	switch {
	case units.NamesInches(pane), placed && t.Customary():
		p.Units.Inches, p.Units.Fahrenheit = true, true
	case placed:
		p.Units.Inches, p.Units.Fahrenheit = false, false
	}
	if p.Shop = p.Units; placed && p.Currency == "" {
		p.Currency = t.Currency()
	}
	if !keep {
		return p, nil
	}
	return p, sv.SetShop(c, "units of the first heater", design.UnitsChanges(p.Units)...)
}

// TownsView is what a search for a town finds.
type TownsView struct {
	Towns []towns.Town
	Typed string
	Post  string // where a town goes; empty on the sheet
	Units units.System
}

// Vals is what a touch on a town sends to a heater, as JSON.
func (TownsView) Vals(index int) string {
	return fmt.Sprintf(`{"town_id":"%d","station":"place"}`, index)
}

// towns answers a search for a town.
func (sv *site) towns(c *echo.Context) error {
	g, err := towns.Load()
	if err != nil {
		return err
	}
	const shown = 8
	typed := c.QueryParam("town")
	v := TownsView{Towns: g.Find(typed, shown, ui.NewPage(c, "").Units.Inches), Typed: typed, Units: ui.NewPage(c, "").Units}
	if id, err := strconv.ParseInt(c.QueryParam("h"), 10, 64); err == nil {
		v.Post = ui.HeaterURL(id, "town")
	}
	return c.Render(http.StatusOK, "towns", v)
}

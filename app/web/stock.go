package web

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"html/template"
	"math"
	"net/http"
	"sort"
	"strconv"
	"strings"
	"time"

	"github.com/labstack/echo/v5"

	"gladember/app/drawing"
	"gladember/app/store"
	"gladember/core/advice"
	"gladember/core/climate"
	"gladember/core/collector"
	"gladember/core/design"
	"gladember/core/sizing"
	"gladember/core/space"
	"gladember/core/units"
)

// StockView is the centre of the stock station.
type StockView struct {
	Things  []ThingRow
	Groups  []ThingGroup
	Draft   ThingDraft
	Error   string
	AddURL  string
	TestURL string
	Ranked  []RankedBox
	TakeURL string
	SizeURL string
	Budget  string
	Rule    string
	Lacks   []string // facts a search through the year still needs
	Verdict string
}

// ThingRow is a thing in the shed.
type ThingRow struct {
	ID                         int64
	Name, Size, Count, Worth   string
	Condition                  string
	Pane, Doubtful, Collecting bool
	DropURL, MoreURL           string
	MoreVals                   string
}

// ThingGroup is a kind of thing with what it may be.
type ThingGroup struct {
	Name    string
	Choices []ChoiceView
}

// ThingDraft is a thing as it is typed.
type ThingDraft struct{ What, Size, Thick, Count, Goal, Condition, Price, Resale string }

// RankedBox is a box that the shed makes.
type RankedBox struct {
	Name, Heat, Area, Short string
	Warn                    string // its worst danger or fault
	Picture                 template.HTML
	Vals                    string
}

// shed reads what lies there.
func (sv *Server) shed(ctx ctx) (things []sizing.Thing, ids []int64, err error) {
	items, err := sv.store.Stock(ctx)
	if err != nil {
		return nil, nil, err
	}
	for _, it := range items {
		var t sizing.Thing
		if err := json.Unmarshal([]byte(it.Item), &t); err != nil {
			return nil, nil, fmt.Errorf("thing %d of the stock: %w", it.ID, err)
		}
		things, ids = append(things, t), append(ids, it.ID)
	}
	return things, ids, nil
}

func money(v float64) string {
	if v == 0 {
		return ""
	}
	return strconv.FormatFloat(v, 'f', -1, 64)
}

func (sv *Server) stockStation(c *echo.Context, f *Frame) error {
	h := &f.State.Document
	u := f.Units
	things, ids, err := sv.shed(c.Request().Context())
	if err != nil {
		return err
	}
	v := &StockView{AddURL: heaterURL(f.ID, "stock"), TestURL: heaterURL(f.ID, "stock", "test"), TakeURL: heaterURL(f.ID, "stock", "take"), SizeURL: heaterURL(f.ID, "size"), Budget: c.FormValue("budget")}
	f.Stock = v
	v.Draft = ThingDraft{What: "pane:glass", Count: "1", Condition: "sound"}
	for i := range things {
		t := &things[i]
		id := strconv.FormatInt(ids[i], 10)
		row := ThingRow{ID: ids[i], Name: t.Words(), Count: fmt.Sprint(t.Count), Condition: t.Condition, Pane: t.Kind == sizing.PaneThing, Doubtful: t.Condition == "doubtful", DropURL: heaterURL(f.ID, "stock", id, "drop"), MoreURL: heaterURL(f.ID, "stock", id, "more")}
		switch {
		case t.Width > 0:
			row.Size = units.Figure(units.Length, t.Width, u) + " × " + units.Format(units.Length, t.Height, u)
		case t.Height > 0:
			row.Size = units.Format(units.Distance, t.Height, u)
		}
		if t.Thickness > 0 {
			row.Size += ", " + units.Format(units.Length, t.Thickness, u)
		}
		if s := t.Collected(); s != "" {
			row.Count, row.Collecting = s, true
		}
		row.Worth = money(t.Price)
		if t.Price == 0 {
			row.Worth = "on hand"
			if t.Resale > 0 {
				row.Worth += ", would fetch " + money(t.Resale)
			}
		}
		v.Things = append(v.Things, row)
	}
	for _, k := range sizing.Kinds {
		g := ThingGroup{Name: k.Name}
		if k.Of == nil {
			g.Choices = []ChoiceView{{string(k.ID) + ":", k.Name, false}}
		} else {
			for _, x := range k.Of() {
				id := string(k.ID) + ":" + x.ID
				g.Choices = append(g.Choices, ChoiceView{id, x.Name, id == v.Draft.What})
			}
		}
		v.Groups = append(v.Groups, g)
	}
	if len(things) > 0 {
		sv.rank(f, v, things)
	}
	if err := climate.Lacks(h); err != nil && h.Climate.File == "" {
		v.Lacks = []string{err.Error()}
	}
	v.Rule = units.Format(units.Area, space.RuleOfThumb(h.Room.Floor), u)
	return nil
}

// ranked is how many boxes are shown.
const ranked = 6

// rank works the boxes of the shed out on the clear noon, and shows the best.
func (sv *Server) rank(f *Frame, v *StockView, things []sizing.Thing) {
	h := &f.State.Document
	u := f.Units
	s := sizing.StockOf(things, 0)
	if s.Check() != nil {
		return
	}
	type one struct {
		sizing.Ranked
		heat float64
	}
	var boxes []one
	for _, b := range sizing.Boxes(*h, &s) {
		d, err := collector.Describe(&b.Heater)
		if err != nil {
			continue
		}
		r, err := d.Rate(collector.ConditionsAt(&b.Heater, collector.WinterNoon(&b.Heater, time.Now().Year())), collector.Tuning{}, nil)
		if err == nil {
			boxes = append(boxes, one{b, r.Warms()})
		}
	}
	sort.SliceStable(boxes, func(i, j int) bool { return boxes[i].heat > boxes[j].heat })
	for i, b := range boxes {
		if i == ranked {
			break
		}
		x := RankedBox{Name: b.Heater.MadeAs(), Heat: units.Format(units.Power, b.heat, u), Area: units.Figure(units.Length, b.Pane.Width, u) + " × " + units.Format(units.Length, b.Pane.Height, u),
			Picture: drawing.FamilyPicture(b.Family), Vals: f.vals("", map[string]string{"family": string(b.Family), "width": fmt.Sprint(b.Pane.Width), "height": fmt.Sprint(b.Pane.Height), "cover": b.Pane.Material})}
		if b.Short > 0.005 {
			x.Short = "stuff for " + units.Format(units.Area, b.Short, u) + " is still to find"
		}
		if fs := sv.evals.of(&b.Heater).findings; len(fs) > 0 && fs[0].Severity <= advice.Fault {
			x.Warn = fs[0].Severity.String() + ": " + fs[0].Title
		}
		v.Ranked = append(v.Ranked, x)
	}
	sort.SliceStable(v.Ranked, func(i, j int) bool { return v.Ranked[i].Warn == "" && v.Ranked[j].Warn != "" })
}

// thing reads what was typed; the size as people write it: 34 x 58, or one length.
func (d *ThingDraft) thing(u units.System) (t sizing.Thing, err error) {
	kind, what, _ := strings.Cut(d.What, ":")
	t = sizing.Thing{Kind: sizing.Kind(kind), What: what, Condition: d.Condition}
	if s := strings.TrimSpace(d.Size); s != "" {
		if t.Width, t.Height, err = design.ParsePane(s, u); err != nil {
			var one float64
			if one, err = units.Parse(units.Distance, s, u); err != nil {
				return t, fmt.Errorf("the size %q is not read; write 34 x 58 for a sheet, 2.4 m for a length", s)
			}
			t.Width, t.Height = 0, one
		}
	}
	if s := strings.TrimSpace(d.Thick); s != "" {
		if t.Thickness, err = units.Parse(units.Length, s, u); err != nil {
			return t, fmt.Errorf("the thickness: %w", err)
		}
	}
	for _, x := range []struct {
		name, text string
		to         *float64
	}{{"price", d.Price, &t.Price}, {"what it would fetch", d.Resale, &t.Resale}} {
		if s := strings.TrimSpace(x.text); s != "" {
			if *x.to, err = units.Parse(units.Number, s, u); err != nil {
				return t, fmt.Errorf("%s: %w", x.name, err)
			}
		}
	}
	count := func(name, text string, none int) (int, error) {
		if text = strings.TrimSpace(text); text == "" {
			return none, nil
		}
		n, err := strconv.Atoi(text)
		if err != nil {
			return 0, fmt.Errorf("%s %q is no count; write it like 12", name, text)
		}
		return n, nil
	}
	if t.Count, err = count("how many:", d.Count, 1); err != nil {
		return t, err
	}
	if t.Goal, err = count("wanted:", d.Goal, 0); err != nil {
		return t, err
	}
	return t, t.Check()
}

func (sv *Server) stockAdd(c *echo.Context) error {
	st, err := sv.current(c)
	if err != nil {
		return err
	}
	d := ThingDraft{c.FormValue("what"), c.FormValue("size"), c.FormValue("thick"), c.FormValue("count"), c.FormValue("goal"), c.FormValue("condition"), c.FormValue("price"), c.FormValue("resale")}
	t, err := d.thing(sv.page(c, "").Units)
	if err != nil {
		return sv.stockAgain(c, st, err.Error(), &d, "")
	}
	b, err := json.Marshal(t)
	if err != nil {
		return err
	}
	if err := sv.store.PutStock(c.Request().Context(), string(t.Kind), string(b)); err != nil {
		return err
	}
	return sv.stockAgain(c, st, "", nil, "")
}

// stockAgain answers with the stock as it is now; what was typed stays if it was refused.
func (sv *Server) stockAgain(c *echo.Context, st store.State, refused string, d *ThingDraft, verdict string) error {
	f, err := sv.at(c, st, "stock")
	if err != nil {
		return err
	}
	f.Morph = true
	c.Response().Header().Set("HX-Trigger", "stocked")
	if f.Stock != nil {
		f.Stock.Error, f.Stock.Verdict = refused, verdict
		if d != nil {
			f.Stock.Draft = *d
			for i := range f.Stock.Groups {
				for j := range f.Stock.Groups[i].Choices {
					x := &f.Stock.Groups[i].Choices[j]
					x.Chosen = x.ID == d.What
				}
			}
		}
	}
	return c.Render(http.StatusOK, "changed", f)
}

// stockDrop takes a thing out and lays it into the form, from which one touch puts it back.
func (sv *Server) stockDrop(c *echo.Context) error {
	st, err := sv.current(c)
	if err != nil {
		return err
	}
	u := sv.page(c, "").Units
	things, ids, err := sv.shed(c.Request().Context())
	if err != nil {
		return err
	}
	for i, t := range things {
		if strconv.FormatInt(ids[i], 10) != c.Param("thing") {
			continue
		}
		d := ThingDraft{What: string(t.Kind) + ":" + t.What, Count: fmt.Sprint(t.Count), Condition: t.Condition, Price: money(t.Price), Resale: money(t.Resale)}
		switch {
		case t.Width > 0:
			d.Size = units.Figure(units.Length, t.Width, u) + " x " + units.Figure(units.Length, t.Height, u)
		case t.Height > 0:
			d.Size = units.Format(units.Distance, t.Height, u)
		}
		if t.Thickness > 0 {
			d.Thick = units.Format(units.Length, t.Thickness, u)
		}
		if t.Goal > 0 {
			d.Goal = fmt.Sprint(t.Goal)
		}
		if err := sv.store.DropStock(c.Request().Context(), ids[i]); err != nil && !errors.Is(err, store.ErrNotFound) {
			return err
		}
		return sv.stockAgain(c, st, "", &d, "")
	}
	return sv.stockAgain(c, st, "", nil, "") // gone already: another page was quicker
}

// stockMore counts some more of a lot that is being collected, or marks a pane's condition.
func (sv *Server) stockMore(c *echo.Context) error {
	return sv.stockChange(c, func(id int64) error {
		things, ids, err := sv.shed(c.Request().Context())
		if err != nil {
			return err
		}
		for i := range things {
			if ids[i] != id {
				continue
			}
			t := things[i]
			if n, err := strconv.Atoi(c.FormValue("more")); err == nil {
				t.Count = max(1, min(10000, t.Count+n))
			}
			if s := c.FormValue("condition"); s == "sound" || s == "worn" || s == "doubtful" {
				t.Condition = s
			}
			b, err := json.Marshal(t)
			if err != nil {
				return err
			}
			return sv.store.SetStock(c.Request().Context(), id, string(b))
		}
		return store.ErrNotFound
	})
}

func (sv *Server) stockChange(c *echo.Context, change func(id int64) error) error {
	st, err := sv.current(c)
	if err != nil {
		return err
	}
	id, err := strconv.ParseInt(c.Param("thing"), 10, 64)
	if err != nil {
		return store.ErrNotFound
	}
	if err := change(id); err != nil && !errors.Is(err, store.ErrNotFound) { // gone already: another page was quicker
		return err
	}
	return sv.stockAgain(c, st, "", nil, "")
}

// stockTest judges a doubtful pane.
func (sv *Server) stockTest(c *echo.Context) error {
	st, err := sv.current(c)
	if err != nil {
		return err
	}
	u := sv.page(c, "").Units
	number := func(name string) (float64, error) {
		s := strings.TrimSpace(c.FormValue(name))
		if s == "" {
			return 0, nil
		}
		return units.Parse(units.Number, s, u)
	}
	open, err1 := number("open")
	under, err2 := number("under")
	if err := errors.Join(err1, err2); err != nil {
		return sv.stockAgain(c, st, "", nil, err.Error())
	}
	v, err := sizing.TestPane(open, under, c.FormValue("ground"))
	if err != nil {
		return sv.stockAgain(c, st, "", nil, strings.ToUpper(err.Error()[:1])+err.Error()[1:]+".")
	}
	return sv.stockAgain(c, st, "", nil, v.Text)
}

// stockTake makes this heater one of the boxes that the shed holds.
func (sv *Server) stockTake(c *echo.Context) error {
	st, seen, err := sv.changing(c)
	if err != nil {
		return err
	}
	things, _, err := sv.shed(c.Request().Context())
	if err != nil {
		return err
	}
	s := sizing.StockOf(things, 0)
	if err := s.Check(); err != nil {
		return sv.stockAgain(c, st, err.Error(), nil, "")
	}
	for _, b := range sizing.Boxes(st.Document, &s) {
		if string(b.Family) == c.FormValue("family") && fmt.Sprint(b.Pane.Width) == c.FormValue("width") && fmt.Sprint(b.Pane.Height) == c.FormValue("height") && b.Pane.Material == c.FormValue("cover") {
			return sv.taken(c, st, seen, "A box of the stock", b.Changes)
		}
	}
	return sv.stockAgain(c, st, "That box is no longer in the stock.", nil, "")
}

// taken saves several choices as one step that undo takes back.
func (sv *Server) taken(c *echo.Context, st store.State, seen store.Seen, label string, changes []design.Change) error {
	var fit []design.Change
	h := st.Document
	for _, ch := range changes {
		if x := design.FieldAt(ch.Path); x == nil || !x.Applies(&h) {
			continue
		}
		n, err := design.Apply(h, units.System{}, ch)
		if err == nil {
			h = n
		}
		fit = append(fit, ch)
	}
	saved, err := sv.save(c, seen, label, units.System{}, fit...)
	if err != nil {
		return sv.refused(c, st, "", "", err)
	}
	return sv.answer(c, saved.State, label+": taken over; undo takes it back.")
}

// sized is a search's answer.
type sized struct{ *sizing.Answer }

// SizedView is a proposal as one reads it.
type SizedView struct {
	Front                    template.HTML
	Name                     string
	Useful, Share, Cost, Fan string
	Area, Rule               string
	Years                    int
	Steps                    []SizedStep
	RunnerUp                 string
	TakeURL, AllVals         string
}

// SizedStep is a choice with its reason.
type SizedStep struct{ Step, Chosen, Why, Vals string }

// choiceWords names a choice in the person's units.
func choiceWords(c *sizing.Choice, u units.System) string {
	get := func(path string) float64 {
		for _, ch := range c.Changes {
			if v, ok := ch.Value.(float64); ok && ch.Path == path {
				return v
			}
		}
		return math.NaN()
	}
	name := func(path string) string {
		for _, ch := range c.Changes {
			if ch.Path == path {
				for _, x := range design.FieldAt(path).Choices() {
					if x.ID == fmt.Sprint(ch.Value) {
						return x.Name
					}
				}
			}
		}
		return c.Name
	}
	l := func(path string) string { return units.Format(units.Length, get(path), u) }
	switch c.Step {
	case "pane":
		return units.Figure(units.Length, get("pane.width_m"), u) + " × " + l("pane.height_m") + ", " + name("cover.material")
	case "absorber":
		return name("absorber.family")
	case "tilt":
		return units.Format(units.Angle, get("place.tilt_deg"), u)
	case "gap to the glass":
		return l("box.gap_m")
	case "back foam":
		return l("box.back_foam_m") + " of " + name("box.foam")
	case "duct":
		return units.Format(units.Bore, get("air.diameter_m"), u)
	case "fan":
		return name("air.fan")
	case sizing.SmallParts:
		var all []string
		for _, x := range c.Changes {
			switch f := design.FieldAt(x.Path); {
			case x.Path == "guard.area_m2":
				all = append(all, units.Format(f.Kind, get(x.Path), u)+" free at each end")
			case f.Choices == nil: // its points go with what it is
			default:
				all = append(all, name(x.Path))
			}
		}
		return strings.Join(all, ", ")
	case "switch":
		if c.Changes[0].Value == "differential" {
			return fmt.Sprintf("on %s over the space, off %s over it", units.Format(units.Rise, get("switch.on_above_k"), u), units.Format(units.Rise, get("switch.off_above_k"), u))
		}
		return "on at " + units.Format(units.Temperature, get("switch.close_c"), u) + ", off at " + units.Format(units.Temperature, get("switch.open_c"), u)
	}
	return c.Name
}

// wholly is the key of all of a proposal.
const wholly = "all"

func (s sized) take(key string) (string, []design.Change, bool) {
	if key == wholly {
		var all []design.Change
		for _, x := range s.Proposal.Choices { // in the order in which a builder meets them
			all = append(all, x.Changes...)
		}
		return "The proposal", all, true
	}
	for _, x := range s.Proposal.Choices {
		if x.Step == key {
			return "Of the proposal, the " + key, x.Changes, true
		}
	}
	return "", nil, false
}

func (s sized) show(sv *Server, f *Frame, takeURL string) any {
	a, u := s.Answer, f.Units
	p := a.Proposal
	v := SizedView{Name: p.Heater.MadeAs(), Useful: units.Format(units.Energy, p.Year.Year.Useful, u), Share: units.Format(units.Share, p.Year.Year.Fraction(), u), Cost: f.Sum(p.Cost, 0), Fan: units.Format(units.Metered, p.Year.Year.Fan, u),
		Area: units.Format(units.Area, p.Year.Aperture, u), Rule: units.Format(units.Area, a.Rule, u), Years: a.Years, TakeURL: takeURL, AllVals: f.vals("", map[string]string{"key": wholly})}
	e := sv.evals.of(&p.Heater)
	if e.err == nil && e.misfit == nil {
		sc := drawing.Scene{Heater: &p.Heater, Layout: &e.layout, Eval: &e.eval, Units: u}
		v.Front = sc.Front()
	}
	for i := range p.Choices {
		x := &p.Choices[i]
		step := SizedStep{Step: x.Step, Chosen: choiceWords(x, u), Vals: f.vals("", map[string]string{"key": x.Step})}
		for _, r := range a.Reasons {
			if r.Step != x.Step {
				continue
			}
			gain := signed(units.Energy, r.Gain, u)
			step.Why = fmt.Sprintf("%s a year over %s", gain, choiceWords(&r.Other, u))
			if gain == "no change" {
				step.Why = "as much as " + choiceWords(&r.Other, u)
			}
			if math.Abs(r.Saves) >= 0.5 {
				step.Why += fmt.Sprintf(", costs %+.0f", r.Saves)
			}
		}
		v.Steps = append(v.Steps, step)
	}
	if r := a.RunnerUp; r != nil {
		v.RunnerUp = fmt.Sprintf("%s: %s a year for %s", r.Heater.MadeAs(), units.Format(units.Energy, r.Year.Year.Useful, u), f.Sum(r.Cost, 0))
	}
	return v
}

// size begins the search over the shed, in this heater's place and space.
func (sv *Server) size(c *echo.Context) error {
	st, err := sv.current(c)
	if err != nil {
		return err
	}
	u := sv.page(c, "").Units
	f := &Frame{Page: sv.page(c, ""), ID: st.Heater, State: st, Station: "stock"}
	fail := func(text string) error {
		return c.Render(http.StatusOK, "job", JobView{Ended: true, Error: text})
	}
	budget := 0.0
	if s := strings.TrimSpace(c.FormValue("budget")); s != "" {
		if budget, err = units.Parse(units.Number, s, u); err != nil || budget < 0 {
			return fail(fmt.Sprintf("The budget %q is not a sum of money; write it like 120, or leave it empty.", s))
		}
	}
	things, _, err := sv.shed(c.Request().Context())
	if err != nil {
		return err
	}
	s := sizing.StockOf(things, budget)
	if len(s.Panes) == 0 {
		s.Panes = sizing.Of(&st.Document).Panes // the pane of this heater stands for the stock
	}
	y, err := sv.weatherOf(&st.Document)
	if err != nil {
		return fail(err.Error() + ".")
	}
	j := sv.jobs.start(st.Heater, "stock", "sized", func(ctx context.Context, progress func(done, of int)) (result, error) {
		a, err := sizing.Best(ctx, st.Document, y, s, progress)
		if err != nil {
			return nil, err
		}
		return sized{a}, nil
	})
	return sv.showJob(c, j, f)
}

// stockLine is what the stock's rung says.
func stockLine(items []store.Item) string {
	panes := 0
	for _, it := range items {
		if it.Kind == string(sizing.PaneThing) {
			panes++
		}
	}
	switch {
	case len(items) == 0:
		return "nothing noted yet"
	case len(items) == 1:
		return "1 thing"
	}
	return fmt.Sprintf("%d things, %d of them panes", len(items), panes)
}

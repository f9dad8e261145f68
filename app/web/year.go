package web

import (
	"context"
	"errors"
	"fmt"
	"html/template"
	"math"
	"net/http"
	"slices"
	"strings"
	"sync"
	"time"

	"github.com/labstack/echo/v5"

	"gladember/app/drawing"
	"gladember/core/advice"
	"gladember/core/climate"
	"gladember/core/collector"
	"gladember/core/design"
	"gladember/core/season"
	"gladember/core/simulate"
	"gladember/core/space"
	"gladember/core/units"
)

// whole is a heater's year and what was made of it since.
type whole struct {
	lock     sync.Mutex
	climate  *season.Laid
	result   *season.Result
	money    season.Money
	err      error
	bands    *season.Bands
	points   []season.SetPoint
	pointed  bool
	outage   season.Outage
	findings []advice.Finding
	judged   bool
	debates  []advice.Choice
}

// years are heaters through a year.
type years struct {
	*remembered[whole]
	weather func(*design.Heater) (*climate.Year, error)
}

func newYears(weather func(*design.Heater) (*climate.Year, error)) *years {
	return &years{remember[whole](32), weather}
}

func (ys *years) of(h *design.Heater) *whole {
	return ys.remembered.of(h, func(h *design.Heater) *whole {
		w := &whole{}
		y, err := ys.weather(h)
		if w.err = err; err != nil {
			return w
		}
		w.climate = &season.Laid{Year: y}
		if w.result, w.err = w.climate.Run(h); w.err == nil {
			w.money, w.err = season.Worth(h, w.result)
		}
		w.climate.Forget() // many heaters are remembered
		return w
	})
}

// known is a heater's year if it has been worked out already, else nil.
func (ys *years) known(h *design.Heater) *whole {
	w, _ := ys.remembered.known(h)
	return w
}

// judge adds bands and findings, which take other years.
func (w *whole) judge(ctx context.Context, h *design.Heater) error {
	w.lock.Lock()
	defer w.lock.Unlock()
	if w.judged || w.err != nil {
		return w.err
	}
	defer w.climate.Forget()
	fs, err := advice.OfYear(ctx, h, w.climate, w.result)
	if err != nil {
		return err
	}
	b, err := season.BandsOf(h, w.climate.Of(h), w.result, nil)
	if err != nil {
		return err
	}
	if err := w.point(ctx, h); err != nil {
		return err
	}
	if w.outage, err = season.OutageOf(h, time.Now().Year()); err != nil && !errors.Is(err, simulate.ErrSun) {
		return err
	}
	w.findings, w.bands, w.judged = fs, &b, true
	return nil
}

// debated puts what builders disagree on to the year, once.
func (w *whole) debated(ctx context.Context, e *collector.Evaluation) ([]advice.Choice, error) {
	w.lock.Lock()
	defer w.lock.Unlock()
	if w.debates == nil {
		defer w.climate.Forget()
		cs, err := advice.ChoicesOfYear(ctx, e, w.climate)
		if err != nil {
			return nil, err
		}
		w.debates = cs
	}
	return w.debates, nil
}

// point finds the switch's best points by month; the lock is held.
func (w *whole) point(ctx context.Context, h *design.Heater) (err error) {
	if !w.pointed {
		if w.points, err = season.SetPoints(ctx, *h, w.climate, season.Points, nil); err == nil {
			w.pointed = true
		}
	}
	return err
}

// setPoints are the switch's best points by month.
func (w *whole) setPoints(ctx context.Context, h *design.Heater) ([]season.SetPoint, error) {
	w.lock.Lock()
	defer w.lock.Unlock()
	defer w.climate.Forget()
	err := w.point(ctx, h)
	return w.points, err
}

// NeedView is the centre of the need station.
type NeedView struct {
	Room, RoomNarrow template.HTML
	Title            string
	Sum              []Figure
	Parts            []NeedPart
	Note             string
	YearURL          string
}

// NeedYearView is what a space needs by month.
type NeedYearView struct {
	Missing           []string
	Wide, Narrow      template.HTML
	Words             string
	Bills             string
	BillVals, EditURL string
}

// NeedPart is a row of what a space loses by.
type NeedPart struct{ Name, Area, U, UA, Loss, Share string }

func (f *Frame) need(e *evaluated) error {
	h := &f.State.Document
	u := f.Units
	f.panel("What it warms", "room.kind", "room.floor_m2", "room.height_m", "room.outside_walls", "room.above", "room.below", "room.insulation", "room.draughts", "room.mass", "room.loss_w_k")
	f.panel("Windows", "room.window_m2", "room.glazing", "room.sunny_window_m2")
	f.panel("How warm, and when", "room.wanted_c", "room.from_h", "room.to_h", "room.otherwise_c", "room.vent_c", "room.gains_w", "room.heater", "money.fuel_price", "money.electricity", "room.bills")
	f.panel("Where the warm air goes on to", "second.mover", "second.floor_m2", "second.loss_w_k", "second.wanted_c", "second.flow_m3_s", "second.power_w", "second.opening_m")
	f.panel("The noon it is judged by", "room.air_c", "room.humidity")
	sp, err := space.Of(h)
	if err != nil {
		return err
	}
	out := space.DesignOutdoors(h)
	inside := h.Room.Wanted
	loss := sp.DesignLoss(inside, out)
	v := &NeedView{Title: fmt.Sprintf("What leaves with %s inside and %s outdoors", units.Format(units.Temperature, inside, u), units.Format(units.Temperature, out, u)),
		Room: drawing.Room(sp, inside, out, 700, u), RoomNarrow: drawing.Room(sp, inside, out, 360, u)}
	v.YearURL = heaterURL(f.ID, "need", "year")
	f.Need = v
	v.Sum = []Figure{{Key: "loss", URL: heaterURL(f.ID, "working", "need-loss"), Label: "Heat it takes then", Value: units.Figure(units.Power, loss, u), Unit: u.Unit(units.Power), Heat: true},
		{Key: "rule", URL: heaterURL(f.ID, "working", "need-rule"), Label: "By the rule, a tenth of the floor", Value: units.Figure(units.Area, space.RuleOfThumb(h.Room.Floor), u), Unit: u.Unit(units.Area)},
		{Label: "Your glass", Value: units.Figure(units.Area, h.Glass(), u), Unit: u.Unit(units.Area)}}
	if r := e.eval.Running; r.Volume > 0 {
		v.Sum = append(v.Sum, Figure{Key: "change", URL: heaterURL(f.ID, "working", "need-change"), Label: "All its air passes the box in", Value: fmt.Sprintf("%.0f", sp.AirChange(r.Volume)), Unit: "min"})
		v.Note = fmt.Sprintf("On the noon it is judged by the box gives %s: %s of that loss.", units.Format(units.Power, r.Heat, u), units.Format(units.Share, sp.Carries(r.Heat, inside, out), u))
		if r.Outlet < space.Draughty && h.Room.Kind != design.Greenhouse {
			v.Note += fmt.Sprintf(" The jet is at %s; under %s it feels like a draught.", units.Format(units.Temperature, r.Outlet, u), units.Format(units.Temperature, space.Draughty, u))
		}
	}
	for _, p := range sp.Parts {
		row := NeedPart{Name: p.Name, UA: units.Decimals(p.UA, 1, u), Loss: units.Format(units.Power, p.Loses(inside, out), u), Share: units.Format(units.Share, p.UA/sp.Loss, u)}
		if p.Area > 0 {
			row.Area, row.U = units.Format(units.Area, p.Area, u), units.Decimals(p.U, 2, u)
		}
		v.Parts = append(v.Parts, row)
	}
	return nil
}

// needLine is what the need's rung says.
func needLine(h *design.Heater, u units.System) string {
	sp, err := space.Of(h)
	if err != nil {
		return ""
	}
	return fmt.Sprintf("%s of %s, loses %.0f W/K", units.Format(units.Area, h.Room.Floor, u), map[design.RoomKind]string{design.LivingRoom: "room", design.Shop: "shop", design.Greenhouse: "greenhouse", design.Porch: "porch"}[h.Room.Kind], sp.Loss)
}

// seasonLine is what the season's rung says.
func (sv *Server) seasonLine(h *design.Heater, u units.System) (line string, decided bool) {
	w := sv.years.known(h)
	switch {
	case w == nil:
		return "not worked out since the last change", false
	case w.err != nil:
		return "the weather is not known yet", false
	}
	return fmt.Sprintf("%s of use, %s of the need", units.Format(units.Energy, w.result.Year.Useful, u), units.Format(units.Share, w.result.Year.Fraction(), u)), true
}

// SeasonView is the centre of the season station; the year follows by itself.
type SeasonView struct {
	YearURL  string
	SweepURL string
	Tries    []ChoiceView
}

// YearView is a year worked out.
type YearView struct {
	Missing              []string
	Broken               string
	Frame                *Frame
	Months, MonthsNarrow template.HTML
	Source               string
	Sum, Money           []Figure
	Rows                 []YearRow
	Says                 []string
	JudgeURL             string
	Kept                 []KeptRow
}

// YearRow is a month in the table.
type YearRow struct{ Month, Sun, Need, Heat, Useful, Fan, Hours, Out, Comfort string }

func (f *Frame) season() {
	v := &SeasonView{YearURL: heaterURL(f.ID, "season", "year"), SweepURL: heaterURL(f.ID, "sweep")}
	for _, x := range season.TriesOf(&f.State.Document) {
		v.Tries = append(v.Tries, ChoiceView{ID: x.Path, Name: x.Name})
	}
	f.Season = v
	f.panel("The weather through a year", "climate.sunny_winter_days", "climate.sunny_days", "climate.coldest_c", "climate.warmest_c")
	f.panel("Money", "money.spent", "money.resale", "money.fuel_price", "money.electricity", "money.interest", "money.fuel_rise", "money.years")
	f.panel("What it warms", "room.heater", "room.wanted_c", "room.vent_c")
}

var monthNames = [12]string{"January", "February", "March", "April", "May", "June", "July", "August", "September", "October", "November", "December"}

func (sv *Server) seasonYear(c *echo.Context) error {
	st, err := sv.current(c)
	if err != nil {
		return err
	}
	h := &st.Document
	u := sv.page(c, "").Units
	w := sv.years.of(h)
	var v YearView
	var lack *climate.Missing
	switch {
	case errors.As(w.err, &lack):
		v.Missing = lack.Names
	case w.err != nil:
		v.Broken = w.err.Error()
	default:
		v = yearView(sv.page(c, ""), st.Heater, h, w)
		v.JudgeURL = heaterURL(st.Heater, "season", "judged")
		if err := sv.keep(c, &st, w); err != nil {
			return err
		}
		if v.Kept, err = sv.kept(c, &st, u); err != nil {
			return err
		}
	}
	v.Frame, _ = sv.frame(c, st, "season") // its ladder says what the year came to
	return c.Render(http.StatusOK, "year", v)
}

func years1(y float64, u units.System) string {
	if math.IsInf(y, 1) {
		return "never"
	}
	return units.Decimals(y, 1, u)
}

func yearsUnit(y float64) string {
	if math.IsInf(y, 1) {
		return ""
	}
	return "years"
}

func yearView(p Page, id int64, h *design.Heater, w *whole) YearView {
	u := p.Units
	r, m := w.result, w.money
	kwh := func(v float64) string { return units.Format(units.Energy, v, u) }
	energy := func(key, label string, x float64, heat bool) Figure {
		kind := units.Energy
		if key == "fan" {
			kind = units.Metered
		}
		return Figure{Key: key, Label: label, Value: units.Figure(kind, x, u), Unit: u.Unit(kind), Heat: heat}
	}
	v := YearView{Source: w.climate.Year.Source, Months: drawing.Months(r, 700, u), MonthsNarrow: drawing.Months(r, 360, u)}
	v.Sum = []Figure{energy("useful", "Useful heat", r.Year.Useful, true), {Key: "fraction", Label: "Of what the space needs", Value: units.Figure(units.Share, r.Year.Fraction(), u), Unit: u.Unit(units.Share)},
		energy("heat", "Heat it gives", r.Year.Heat, true), energy("fan", "For fans", r.Year.Fan, false), {Key: "run", Label: "Running", Value: counted(r.Year.Run, u), Unit: "h"},
		{Key: "stagnation", Label: "Hottest, air standing", Value: units.Figure(units.Temperature, r.Stagnation, u), Unit: u.Unit(units.Temperature), Heat: true}}
	if h.Room.Heater != "none" {
		v.Money = []Figure{{Key: "saved", Label: "Saved a year", Value: p.Sum(m.Saved, 0), Unit: p.moneyWords()}, {Key: "simple", Label: "Paid off in", Value: years1(m.Simple, u), Unit: yearsUnit(m.Simple)},
			{Label: "With interest", Value: years1(m.Discounted, u), Unit: yearsUnit(m.Discounted)}, {Key: "fuel", Label: "Fuel not burned", Value: counted(m.Units, u), Unit: m.Unit}, {Key: "carbon", Label: "CO2 kept back", Value: counted(m.Carbon, u), Unit: "kg"}}
		if !math.IsInf(m.PerKWh, 1) {
			v.Money = append(v.Money, Figure{Key: "perkwh", Label: "A useful kWh costs", Value: p.Sum(m.PerKWh, 2)})
		}
	}
	v.Says = append(v.Says, fmt.Sprintf("A solar panel of the box's size would bring %s of electricity a year, needed or not.", units.Format(units.Metered, m.PV, u)))
	if h.Room.Heater == "none" {
		v.Says = append(v.Says, fmt.Sprintf("Without any heater the space is warm enough for %s of %s hours of use; with the box for %s.", counted(r.Year.Bare, u), counted(r.Year.Use, u), counted(r.Year.Comfort, u)))
	}
	known, _ := season.Workings(h, r, &m, nil)
	for _, fs := range [][]Figure{v.Sum, v.Money} {
		for i := range fs {
			if _, ok := known[fs[i].Key]; ok {
				fs[i].URL = heaterURL(id, "working", "year-"+fs[i].Key)
			}
		}
	}
	best, poor := r.BestWeek()
	v.Says = append(v.Says, fmt.Sprintf("The best week brings %s, the poorest one of need %s.", kwh(best), kwh(poor)))
	if r.Year.TooHot > 1 {
		v.Says = append(v.Says, fmt.Sprintf("For %s hours a year windows are open because of it.", counted(r.Year.TooHot, u)))
	}
	for i, x := range r.Months {
		e := func(v float64) string { return units.Figure(units.Energy, v, u) }
		v.Rows = append(v.Rows, YearRow{monthNames[i], e(x.Sun), e(x.Need), e(x.Heat), e(x.Useful), units.Figure(units.Metered, x.Fan, u), counted(x.Run, u), units.Figure(units.Temperature, x.OutletMax, u), counted(x.Comfort, u)})
	}
	return v
}

// PointView is a closing point and the months that it serves best.
type PointView struct {
	Months, Close, Gain string
	months              []int
	close, gain         float64
}

// spans names months, 1..12 in their order, those that follow each other as a
// span.
func spans(months []int) string {
	var out []string
	for i := 0; i < len(months); {
		j := i
		for j+1 < len(months) && months[j+1] == months[j]+1 {
			j++
		}
		switch {
		case j == i:
			out = append(out, monthNames[months[i]-1])
		case j == i+1:
			out = append(out, monthNames[months[i]-1], monthNames[months[j]-1])
		default:
			out = append(out, monthNames[months[i]-1]+" to "+monthNames[months[j]-1])
		}
		i = j + 1
	}
	return strings.Join(out, ", ")
}

// JudgedView is what a year's bands and findings say.
type JudgedView struct {
	Band, Guess string
	Causes      []string
	Points      []PointView
	Outage      string
	Findings    []FindingView
	Frame       *Frame
}

func (sv *Server) seasonJudged(c *echo.Context) error {
	st, err := sv.current(c)
	if err != nil {
		return err
	}
	h := &st.Document
	w := sv.years.of(h)
	if err := w.judge(c.Request().Context(), h); err != nil {
		return uncomputed(err)
	}
	f := &Frame{Page: sv.page(c, h.Name), ID: st.Heater, State: st, Station: "season"}
	u := f.Units
	v := JudgedView{Frame: f, Band: units.Figure(units.Energy, w.bands.Useful.Low, u) + " to " + units.Format(units.Energy, w.bands.Useful.High, u)}
	for _, x := range w.bands.Useful.Largest(3) {
		v.Causes = append(v.Causes, fmt.Sprintf("%s: ± %s", x.Name, units.Format(units.Energy, math.Abs(x.Effect), u)))
	}
	for _, p := range w.points {
		if !p.Better() {
			continue
		}
		at := slices.IndexFunc(v.Points, func(x PointView) bool { return x.close == p.Close })
		if at < 0 {
			at = len(v.Points)
			v.Points = append(v.Points, PointView{Close: units.Format(units.Temperature, p.Close, u), close: p.Close})
		}
		x := &v.Points[at]
		x.months = append(x.months, p.Month)
		x.gain += p.Useful - p.Now
		x.Months, x.Gain = spans(x.months), signed(units.Energy, x.gain, u)
	}
	if o := w.outage; o.Warmest > 0 {
		v.Outage = fmt.Sprintf("If the mains fail on the coldest clear day, the space stands at %s by dusk, without the box at %s.", units.Format(units.Temperature, o.Dusk, u), units.Format(units.Temperature, o.Without, u))
		if o.Fan > 0 {
			v.Outage += fmt.Sprintf(" Its fan takes %.0f Wh of a battery.", 1000*o.Fan)
		}
	}
	for _, x := range w.findings {
		v.Findings = append(v.Findings, findingView(&x, f.Page))
	}
	return c.Render(http.StatusOK, "judged", v)
}

// yearWorkings are the workings of a heater's year, with bands once they are known.
func (sv *Server) yearWorkings(h *design.Heater) (map[string]collector.Working, error) {
	w := sv.years.of(h)
	if w.err != nil {
		return nil, uncomputed(w.err)
	}
	w.lock.Lock()
	defer w.lock.Unlock()
	return season.Workings(h, w.result, &w.money, w.bands)
}

// counted is a count to the nearest one, with a mark between thousands.
func counted(v float64, u units.System) string { return units.Figure(units.Number, math.Round(v), u) }

// yearFindings are the findings of a heater's year; none where it is not judged yet.
func (sv *Server) yearFindings(h *design.Heater) []advice.Finding {
	w := sv.years.known(h)
	if w == nil {
		return nil
	}
	w.lock.Lock()
	defer w.lock.Unlock()
	return slices.Clone(w.findings)
}

// moneyWords stand beside a sum that carries no sign.
func (p Page) moneyWords() string {
	if p.Currency == "" {
		return "in your money"
	}
	return ""
}

// needYear is what the space needs by month against the sun, and what its bills say.
func (sv *Server) needYear(c *echo.Context) error {
	st, err := sv.current(c)
	if err != nil {
		return err
	}
	h := &st.Document
	u := sv.page(c, "").Units
	w := sv.years.of(h)
	var v NeedYearView
	var lack *climate.Missing
	switch {
	case errors.As(w.err, &lack):
		v.Missing = lack.Names
		return c.Render(http.StatusOK, "needyear", v)
	case w.err != nil:
		v.Missing = []string{w.err.Error()}
		return c.Render(http.StatusOK, "needyear", v)
	}
	r := w.result
	v.Wide, v.Narrow = drawing.NeedAndSun(r, 700, u), drawing.NeedAndSun(r, 360, u)
	need, sun := 0, 0
	for i := range r.Months {
		if r.Months[i].Need > r.Months[need].Need {
			need = i
		}
		if r.Months[i].Sun > r.Months[sun].Sun {
			sun = i
		}
	}
	v.Words = fmt.Sprintf("It needs %s a year, most in %s; the glass gets most sun in %s.", units.Format(units.Energy, r.Year.Need, u), monthNames[need], monthNames[sun])
	if len(h.Room.Bills) > 0 {
		b, err := space.FromBills(h, w.climate.Year.ByMonth())
		if err != nil {
			v.Bills = "The bills: " + err.Error() + "."
		} else {
			say := "which agrees"
			if math.Abs(b.Loss-r.Space.Loss) > 2*b.U {
				say = "which does not agree: one of the two is wrong"
			}
			v.Bills = fmt.Sprintf("The bills say it loses %.0f W/K, give or take %.0f, heated below %s outdoors; the questions say %.0f, %s.", b.Loss, 2*b.U, units.Format(units.Temperature, b.Base, u), r.Space.Loss, say)
			f := &Frame{State: st, ID: st.Heater, Station: "need"}
			v.EditURL, v.BillVals = heaterURL(st.Heater, "edit"), f.vals("room.loss_w_k", map[string]string{"typed": fmt.Sprintf("%.0f", b.Loss)})
		}
	}
	return c.Render(http.StatusOK, "needyear", v)
}

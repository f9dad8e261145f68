// Package buy is the station of the buying list: what is missing after materials on hand, by the counter where one asks for it,
// with own prices, ticked in the shop.
package buy

import (
	"context"
	"embed"
	"encoding/csv"
	"fmt"
	"math"
	"net/http"
	"slices"
	"strconv"
	"strings"
	"time"

	"github.com/labstack/echo/v5"

	"gladember/app/drawing"
	"gladember/app/service"
	"gladember/app/store"
	"gladember/app/web/ui"
	"gladember/core/advice"
	"gladember/core/cost"
	"gladember/core/design"
	"gladember/core/season"
	"gladember/core/units"
)

//go:embed *.html
var templates embed.FS

// New returns the station.
func New() *ui.Station {
	var st station
	s := &ui.Station{Key: "buy", Name: "Buy", Group: ui.Build, Templates: templates, Topics: []advice.Topic{}, Quiet: true}
	s.Routes = func(sv *ui.Server, g *echo.Group) {
		st = station{sv, service.NewCache[[]cost.Alternative](remembered).AtOnce(1)}
		sv.Trims(st.others)
		g.POST("/tick", st.tick)
		g.POST("/price", st.price)
		g.POST("/use", st.use)
		g.GET("/list.csv", st.csv)
		g.GET("/alternatives", st.alternatives)
	}
	s.Open = func(v *ui.Visit) error { return st.open(v, nil) }
	s.Summary = func(v *ui.Visit) (string, bool, error) { return st.summary(v) }
	return s
}

// remembered is how many heaters' alternatives are kept.
const remembered = 8

// station are the handlers.
type station struct {
	*ui.Server
	others *service.Cache[[]cost.Alternative]
}

// View is the center of the station.
type View struct {
	Misfit       string
	Counters     []CounterView
	Heading      string
	Total, Spent string
	Unpriced     string
	Done         bool
	Surplus      []SurplusView
	SpentVals    string // takes what is bought over as money spent; empty where that is known
	PerKWh       string
	Next, Weeks  string
	CSV          string
	PriceURL     string
	TickURL      string
	EditURL      string
	Alternatives string // where they are computed
}

// CounterView is what one asks for at a counter.
type CounterView struct {
	Name  string
	Lines []LineView
}

// LineView is one thing.
type LineView struct {
	ID, Key         string // Key names the line's elements
	What, Amount    string
	Need, How       string
	Price, Seen     string
	Sum             string
	Letters         []LetterView
	Got, OnHand     bool
	Missing         bool
	TickVals, Label string
	Vals, Error     string
}

// LetterView is a part that a thing is for.
type LetterView struct{ Letter, URL string }

// refused is a price that was not taken.
type refused struct{ what, typed, why string }

// summary is the list's line in the list of stations.
func (sv station) summary(v *ui.Visit) (string, bool, error) {
	if v.Heater.Misfit != nil {
		return "the parts do not fit together", false, nil
	}
	got, err := v.Store.Bought(v.Ctx(), v.State.Heater)
	if err != nil {
		return "", false, err
	}
	if len(got) == 0 {
		return "nothing bought yet", false, nil
	}
	// How many are missing takes a cutting plan, which no keystroke on another station should wait for.
	return ui.Count(len(got), "thing", "things", v.F.Units) + " bought", true, nil
}

// open fills the frame; bad is a price that was not taken.
func (sv station) open(v *ui.Visit, bad *refused) error {
	f := v.F
	view := &View{}
	f.View = view
	f.Fields("Sizes sold", design.CutSold)
	f.Panel(design.CansGroup)
	if v.Heater.Misfit != nil {
		view.Misfit = ui.Misfit(v.Heater.Misfit, f.Units)
		return nil
	}
	b, err := v.Workshop.Buying(v.Ctx(), &v.State, v.Heater, f.Shop)
	if err != nil {
		return ui.Uncomputed(err)
	}
	got, err := v.Store.Bought(v.Ctx(), v.State.Heater)
	if err != nil {
		return err
	}
	view.CSV, view.PriceURL, view.TickURL = f.StationURL("buy/list.csv"), f.StationURL("buy/price"), f.StationURL("buy/tick")
	view.EditURL, view.Alternatives = f.EditURL(), f.StationURL("buy/alternatives")
	packs := packsOf(got)
	view.lines(v, b, packs, bad)
	view.sums(v, b, packs, view.surplus(v, b, got))
	return nil
}

// packsOf are how many packs of each thing are bought, by its ID.
func packsOf(bought []store.Purchase) map[string]int {
	out := map[string]int{}
	for _, p := range bought {
		out[p.What] = p.Packs
	}
	return out
}

// SurplusView is what is bought and not needed by the heater as it is now.
type SurplusView struct {
	Text, Vals, Label string
}

// surplus lists what is bought beyond what the heater needs, what a change of the design un-buys, and returns what was paid for
// it as far as prices are known.
func (view *View) surplus(v *ui.Visit, b *service.Buying, got []store.Purchase) (paid float64) {
	u := v.F.Units
	need := map[string]*cost.Line{}
	for i := range b.List.Lines {
		need[b.List.Lines[i].ID] = &b.List.Lines[i]
	}
	for _, p := range got {
		name, needed := p.Name, 0
		if l := need[p.What]; l != nil {
			name, needed = l.What.In(u), l.Buy
		}
		if name == "" {
			name = p.What
		}
		if p.Packs <= needed {
			continue
		}
		x := SurplusView{Label: "Take the mark off: " + name,
			Vals: v.F.Vals("", map[string]string{"what": p.What, "packs": strconv.Itoa(needed)})}
		x.Text = fmt.Sprintf("%d × %s: this heater no longer needs it.", p.Packs, name)
		if needed > 0 {
			x.Text = fmt.Sprintf("%d × %s: this heater now needs %d.", p.Packs, name, needed)
		}
		view.Surplus = append(view.Surplus, x)
		if i := slices.IndexFunc(b.Input.Prices, func(x cost.Price) bool { return x.What == p.What }); i >= 0 {
			paid += float64(p.Packs-needed) * b.Input.Prices[i].Pack
		}
	}
	return paid
}

// lines fills in the list.
func (view *View) lines(v *ui.Visit, b *service.Buying, got map[string]int, bad *refused) {
	for _, c := range cost.Counters {
		cv := CounterView{Name: string(c)}
		for i := range b.List.Lines {
			l := &b.List.Lines[i]
			if l.Counter != c {
				continue
			}
			x := lineOf(v.F, l, got[l.ID], fmt.Sprintf("%d", i))
			if bad != nil && bad.what == l.ID {
				x.Price, x.Error = bad.typed, bad.why
			}
			cv.Lines = append(cv.Lines, x)
		}
		if cv.Lines != nil {
			view.Counters = append(view.Counters, cv)
		}
	}
}

// lineOf is what the page shows of a line of which so many packs are bought.
func lineOf(f *ui.Frame, l *cost.Line, got int, key string) LineView {
	u := f.Units
	x := LineView{ID: l.ID, Key: key, What: ui.Capital(l.What.In(u)), How: l.How.In(u), Missing: l.Missing,
		OnHand: l.Buy == 0, Got: l.Buy > 0 && got >= l.Buy, Vals: f.Vals("", map[string]string{"what": l.ID})}
	x.Amount = drawing.Packs(l, l.Buy, u)
	if l.Buy == 0 {
		x.Amount = "on hand"
	}
	if l.Have > 0 && l.Buy > 0 {
		x.Need = amount(l.Unit, l.Have, u) + " on hand"
	}
	if got > 0 && got < l.Buy {
		x.Need = strings.TrimPrefix(x.Need+", "+drawing.Packs(l, got, u)+" bought", ", ")
	}
	n := l.Buy
	if x.Got {
		n = 0
	}
	x.TickVals = f.Vals("", map[string]string{"what": l.ID, "name": l.What.In(u), "packs": strconv.Itoa(n)})
	x.Label = "Mark as bought: " + x.What
	if x.Got {
		x.Label = "Not bought: " + x.What
	}
	if l.Priced() {
		x.Price = units.Decimals(l.Price.Pack, 2, u)
		x.Sum = f.Sum(l.Sum(), 2)
		if t, err := time.Parse(time.DateOnly, l.Price.Seen); err == nil {
			x.Seen = units.Time(t, "2 Jan 2006", u)
		}
	}
	for _, letter := range l.For {
		x.Letters = append(x.Letters, LetterView{letter, f.StationURL("cut", "part", letter) + "#card"})
	}
	return x
}

// amount writes an amount in a line's unit.
func amount(unit cost.Unit, x float64, u units.System) string {
	switch unit {
	case cost.Meter:
		return units.Format(units.Distance, x, u)
	case cost.SquareMeter:
		return units.Format(units.Area, x, u)
	case cost.Liter:
		return units.Decimals(x, 1, u) + " L"
	}
	return units.Decimals(math.Round(x), 0, u)
}

// sums fills in what it all comes to, with what was paid for things that are not needed.
func (view *View) sums(v *ui.Visit, b *service.Buying, got map[string]int, spent float64) {
	f, h := v.F, v.Doc()
	left, unpriced, open := 0.0, 0, 0
	for i := range b.List.Lines {
		l := &b.List.Lines[i]
		n := min(l.Buy, got[l.ID])
		spent += float64(n) * l.Price.Pack
		left += float64(l.Buy-n) * l.Price.Pack
		if l.Buy > n {
			open++
		}
		if l.Buy > n && !l.Priced() {
			unpriced++
		}
	}
	view.Heading = ui.Count(open, "thing to buy", "things to buy", f.Units)
	if left > 0 {
		view.Heading += ", " + f.Sum(left, 2)
	}
	view.Total, view.Done = f.Sum(left, 2), open == 0
	if spent > 0 {
		view.Spent = f.Sum(spent, 2)
		// A part of what it will cost is no cost of the box.
		if open == 0 && math.Abs(spent-h.Money.Spent) >= 0.005 {
			view.SpentVals = f.TypedVals(design.MoneySpent, units.Decimals(spent, 2, f.Units))
		}
	}
	if unpriced > 0 {
		view.Unpriced = ui.Count(unpriced, "of them has no price yet", "of them have no price yet", f.Units)
	}
	if y := v.Workshop.KnownYear(h); y != nil && y.Result.Year.Useful > 0 && b.List.Total > 0 {
		kwh := y.Result.Year.Useful * h.Money.Years
		view.PerKWh = fmt.Sprintf(
			"%s for each useful kWh over %s years, without interest and the fan's electricity",
			f.Sum(b.List.Total/kwh, 3),
			units.Decimals(h.Money.Years, 0, f.Units),
		)
	}
	if b.List.Total > 0 {
		view.Next = f.Sum(b.Next.Total, 2)
	}
	if c := h.Absorber.Cans; c != nil {
		if w := b.List.Weeks(c.PerWeek); w > 0 {
			view.Weeks = inWeeks(w, f.Units)
		}
	}
}

// inWeeks writes a time in weeks, or in years from two on.
func inWeeks(w float64, u units.System) string {
	if years := w / 52.18; years >= 2 {
		return units.Decimals(years, 1, u) + " years"
	}
	return ui.Count(int(math.Ceil(w)), "week", "weeks", u)
}

// again answers with the station anew.
func (sv station) again(c *echo.Context, st store.State, bad *refused) error {
	v, err := sv.Visit(c, st, "buy")
	if err != nil {
		return err
	}
	if v.Heater != nil {
		if err := sv.open(v, bad); err != nil {
			return err
		}
	}
	return v.Changed("")
}

// mostPacks is how many packs of one thing may be bought.
const mostPacks = 100000

// tick marks packs of a thing as bought.
func (sv station) tick(c *echo.Context) error {
	st, err := sv.Current(c)
	if err != nil {
		return err
	}
	n, err := strconv.Atoi(c.FormValue("packs"))
	name := c.FormValue("name")
	if what := c.FormValue("what"); err == nil && what != "" && len(what) <= longest && len(name) <= longest && n >= 0 &&
		n <= mostPacks {
		if err := sv.Store.SetBought(c.Request().Context(), st.Heater, store.Purchase{What: what, Name: name, Packs: n}); err != nil {
			return err
		}
	}
	return sv.again(c, st, nil)
}

// longest is the length of a thing's name, and dearest the highest price.
const (
	longest = 200
	dearest = 100000
)

// price keeps what a pack was seen sold for, today.
func (sv station) price(c *echo.Context) error {
	st, err := sv.Current(c)
	if err != nil {
		return err
	}
	what, typed := c.FormValue("what"), strings.TrimSpace(c.FormValue("price"))
	p := store.Price{What: what, Seen: time.Now().Format(time.DateOnly)}
	if typed != "" {
		if p.Pack, err = units.ParseMoney(typed, ui.NewPage(c, "").Units); err != nil || !(p.Pack >= 0 && p.Pack <= dearest) {
			why := fmt.Sprintf(
				"%q is not a price: enter a number of 0 to %s, or nothing",
				typed,
				ui.Whole(dearest, ui.NewPage(c, "").Units),
			)
			ui.Declined(c, why)
			return sv.again(c, st, &refused{what, typed, why})
		}
	}
	if what == "" || len(what) > longest {
		return sv.again(c, st, nil)
	}
	if err := sv.Store.SetPrice(c.Request().Context(), p); err != nil {
		return err
	}
	return sv.again(c, st, nil)
}

// csv sends the list as a table.
func (sv station) csv(c *echo.Context) error {
	st, err := sv.Current(c)
	if err != nil {
		return err
	}
	v, err := sv.Visit(c, st, "buy")
	if err != nil {
		return err
	}
	if v.Heater == nil || v.Heater.Misfit != nil {
		return echo.NewHTTPError(http.StatusNotFound, "These parts do not fit together, so there is nothing to buy yet.")
	}
	b, err := v.Workshop.Buying(v.Ctx(), &v.State, v.Heater, v.F.Shop)
	if err != nil {
		return ui.Uncomputed(err)
	}
	got, err := v.Store.Bought(v.Ctx(), st.Heater)
	if err != nil {
		return err
	}
	packs := packsOf(got)
	c.Response().Header().Set("Content-Type", "text/csv; charset=utf-8")
	c.Response().Header().Set("Content-Disposition", `attachment; filename="buying-list.csv"`)
	w := csv.NewWriter(c.Response())
	_ = w.Write([]string{"section", "what", "need", "unit", "on hand", "buy", "pack", "price", "seen", "sum", "bought", "for"})
	num := func(x float64) string { return strconv.FormatFloat(x, 'f', -1, 64) }
	for i := range b.List.Lines {
		l := &b.List.Lines[i]
		price, sum := "", ""
		if l.Priced() {
			price, sum = num(l.Price.Pack), num(l.Sum())
		}
		_ = w.Write([]string{string(l.Counter), safe(l.What.In(v.F.Units)), num(math.Round(1000*l.Need) / 1000), string(l.Unit),
			num(math.Round(1000*l.Have) / 1000), strconv.Itoa(l.Buy), num(l.Pack), price, l.Price.Seen, sum, strconv.Itoa(packs[l.ID]),
			strings.Join(l.For, " ")})
	}
	w.Flush()
	return w.Error()
}

// safe keeps a spreadsheet from taking a text for a formula.
func safe(s string) string {
	if s != "" && strings.ContainsRune("=+-@\t\r", rune(s[0])) {
		return "'" + s
	}
	return s
}

// AlternativesView is what other choices would change.
type AlternativesView struct {
	Rows   []AlternativeRow
	Never  []string
	UseURL string
}

// AlternativeRow is one choice.
type AlternativeRow struct{ Name, Useful, Limit, Cost, Danger, Vals string }

// basis is the heater against which alternatives are held.
func (sv station) basis(ctx context.Context, v *ui.Visit) (*cost.Basis, *service.Year, error) {
	b, err := v.Workshop.Buying(ctx, &v.State, v.Heater, v.F.Shop)
	if err != nil {
		return nil, nil, err
	}
	y, err := v.Workshop.Year(ctx, v.Doc())
	if err != nil {
		return nil, nil, err
	}
	return &cost.Basis{
		Input: b.Input,
		Eval:  v.Heater.Eval,
		Year:  y.Result,
		List:  b.List,
		Run: func(h *design.Heater) (*season.Result, error) {
			other, err := v.Workshop.Year(ctx, h)
			if err != nil {
				return nil, err
			}
			return other.Result, nil
		},
	}, y, nil
}

// alternativesOf are a heater's other choices.
func (sv station) alternativesOf(v *ui.Visit, b *cost.Basis) ([]cost.Alternative, error) {
	return sv.others.Get(v.Ctx(), service.KeyOfPage(v.Doc(), v.F.Units, b.Input.Hand, b.Input.Prices, b.Input.Parts, b.List),
		func() ([]cost.Alternative, error) { return cost.Alternatives(v.Ctx(), b, nil) })
}

// alternatives computes what other choices would change.
func (sv station) alternatives(c *echo.Context) error {
	v, err := sv.Open(c, "buy")
	if err != nil {
		return err
	}
	if v.Heater == nil || v.Heater.Misfit != nil {
		return c.Render(http.StatusOK, "buy-alternatives", &AlternativesView{})
	}
	b, y, err := sv.basis(v.Ctx(), v)
	if err != nil {
		return ui.Uncomputed(err)
	}
	as, err := sv.alternativesOf(v, b)
	if err != nil {
		return ui.Uncomputed(err)
	}
	f, view := v.F, &AlternativesView{UseURL: v.F.StationURL("buy/use")}
	for _, a := range as {
		r := AlternativeRow{Name: a.Name.In(f.Units), Useful: ui.Signed(units.Energy, a.Gain, f.Units) + " a year",
			Limit: ui.Signed(units.Rise, a.More, f.Units), Danger: a.Danger, Cost: signedSum(f, a.Cost),
			Vals: f.Vals("", map[string]string{"alternative": a.Name.In(units.System{})})}
		if a.Unpriced > 0 {
			r.Cost = ui.Count(a.Unpriced, "price missing", "prices missing", f.Units)
		}
		view.Rows = append(view.Rows, r)
	}
	if y.Result.Year.Useful > 0 {
		m, err := y.Worth(service.Outlay{})
		if err != nil {
			return err
		}
		worth := m.Units * v.Doc().Money.FuelPrice / y.Result.Year.Useful
		for _, p := range cost.Paybacks(as, worth) {
			if p.Never(v.Doc().Money.Years) {
				view.Never = append(
					view.Never,
					fmt.Sprintf("%s saves %s and costs %s a year: what it leaves out does not pay back in %s years.",
						p.Name.In(f.Units), f.Sum(p.Cost, 2), units.Format(units.Energy, max(0, p.Gives), f.Units),
						units.Decimals(v.Doc().Money.Years, 0, f.Units)),
				)
			}
		}
	}
	return c.Render(http.StatusOK, "buy-alternatives", view)
}

// signedSum is a sum of money with its sign.
func signedSum(f *ui.Frame, v float64) string {
	switch {
	case v > 0.005:
		return "+" + f.Sum(v, 2)
	case v < -0.005:
		return "−" + f.Sum(-v, 2)
	}
	return ui.NoChange
}

// use takes an alternative over, if it is still one.
func (sv station) use(c *echo.Context) error {
	st, seen, err := sv.Changing(c)
	if err != nil {
		return err
	}
	v, err := sv.Visit(c, st, "buy")
	if err != nil {
		return err
	}
	if v.Heater == nil {
		return sv.Answer(c, st, "")
	}
	b, _, err := sv.basis(v.Ctx(), v)
	if err != nil {
		return ui.Uncomputed(err)
	}
	as, err := sv.alternativesOf(v, b)
	if err != nil {
		return ui.Uncomputed(err)
	}
	i := slices.IndexFunc(as, func(a cost.Alternative) bool { return a.Name.In(units.System{}) == c.FormValue("alternative") })
	if i < 0 || as[i].Danger != "" {
		return sv.Answer(c, st, "That choice is not offered any more.")
	}
	return sv.Apply(c, st, seen, as[i].Name.In(v.F.Units), as[i].Changes)
}

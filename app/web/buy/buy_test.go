package buy_test

import (
	"encoding/csv"
	"strconv"
	"strings"
	"testing"

	"github.com/go-rod/rod/lib/input"

	"gladember/app/web/webtest"
	"gladember/core/design"
	"gladember/core/units"
)

func TestMain(m *testing.M) { webtest.Main(m) }

// In the shop, by the phone: a thing is ticked, its price is entered; the sum and the stations follow, both are there after the page
// was closed; a price that is none is refused with its words and stays; ticking again takes the mark back.
func TestTickAndPrice(t *testing.T) {
	base, s := webtest.Workshop(t, true)
	p := webtest.Visit(t, base+"/h/2/buy", 390, 844)
	bought := func() int { return len(webtest.Must(s.Bought(t.Context(), 2))(t)) }
	if bought() != 0 {
		t.Fatal("something is bought already")
	}
	tick := `button[aria-label^="Mark as bought: High-heat flat black"]`
	if box := p.MustElement(tick).MustShape().Box(); box.Height < 56 || box.Width < 56 {
		t.Errorf("the box to tick is %v by %v px", box.Width, box.Height)
	}
	p.MustElement(tick).MustClick()
	webtest.WaitFor(t, func() bool { return bought() == 1 })
	webtest.Settled(t, p)
	webtest.WaitFor(t, func() bool {
		return strings.Contains(p.MustElement("#line-buy").MustProperty("textContent").Str(), "1 thing bought")
	})
	price := func() *float64 {
		for _, x := range webtest.Must(s.Prices(t.Context()))(t) {
			if x.What == "wood screws, long" {
				return &x.Pack
			}
		}
		return nil
	}
	field := `input[aria-label^="Price of one: Wood screws 60 mm"]`
	p.MustElement(field).MustSelectAllText().MustInput("12.75").MustType(input.Enter)
	webtest.WaitFor(t, func() bool { v := price(); return v != nil && *v == 12.75 })
	idle := func() { // the answer is on the page
		webtest.WaitFor(t, func() bool { return !p.MustHas(".htmx-request") })
	}
	idle()
	for _, typed := range []string{"dear", "-3", "1e308"} {
		p.MustElement(field).MustSelectAllText().MustInput(typed).MustType(input.Enter)
		webtest.WaitFor(t, func() bool {
			said := p.MustEval(`() => [...document.querySelectorAll(".buyline .field-error")].map(e => e.textContent).join()`).Str()
			return strings.Contains(said, strconv.Quote(typed))
		})
		idle()
		if got := p.MustElement(field).MustProperty("value").Str(); got != typed {
			t.Errorf("%q became %q", typed, got)
		}
	}
	if v := price(); v == nil || *v != 12.75 {
		t.Error("a wrong price replaced the right one")
	}
	p.MustReload()
	p.MustElement(`button[aria-label^="Not bought: High-heat flat black"]`).MustClick()
	webtest.WaitFor(t, func() bool { return bought() == 0 })
}

// The list as a table: read back by an independent reader, its sums are those of price and packs, and no cell begins a formula.
func TestListAsTable(t *testing.T) {
	base, _ := webtest.Workshop(t, true)
	p := webtest.Visit(t, base+"/h/3/buy", 1280, 900)
	text := p.MustEval(`async () => (await fetch(document.querySelector('a[href$="list.csv"]').href)).text()`).Str()
	rows, err := csv.NewReader(strings.NewReader(text)).ReadAll()
	if err != nil || len(rows) < 20 {
		t.Fatalf("%d rows, %v", len(rows), err)
	}
	lines := len(p.MustElements(".buyline"))
	if lines != len(rows)-1 {
		t.Errorf("%d lines on the page, %d in the table", lines, len(rows)-1)
	}
	total := 0.0
	num := func(s string) float64 { v, _ := strconv.ParseFloat(s, 64); return v }
	for _, r := range rows[1:] {
		if d := num(r[5])*num(r[7]) - num(r[9]); d > 1e-6 || d < -1e-6 {
			t.Errorf("%v", r)
		}
		total += (num(r[5]) - num(r[10])) * num(r[7])
		for _, cell := range r {
			if cell != "" && strings.ContainsAny(cell[:1], "=+@\t") {
				t.Errorf("%q", cell)
			}
		}
	}
	if head := p.MustElement(".buy-head h2").MustText(); !strings.Contains(head, units.Decimals(total, 2, units.System{})) {
		t.Errorf("the page says %q, the table %v", head, total)
	}
}

// Alternatives are computed and one is taken over, which undo takes back; what costs and what is bought follow the design.
func TestAlternativeIsUsed(t *testing.T) {
	base, s := webtest.Workshop(t, true)
	p := webtest.Visit(t, base+"/h/3/buy", 1280, 900)
	p.MustElementR("button", "Compare alternatives").MustClick()
	webtest.WaitFor(t, func() bool {
		es, err := p.Elements("#alternatives tbody tr")
		return err == nil && len(es) > 3
	})
	before := webtest.StateOf(t, s, 3).Document.Box.BackFoam
	p.MustEval(
		`() => [...document.querySelectorAll('#alternatives button')].find(b => b.ariaLabel.startsWith("Use: Back insulation")).click()`,
	)
	webtest.WaitFor(t, func() bool { return webtest.StateOf(t, s, 3).Document.Box.BackFoam != before })
	webtest.Settled(t, p)
	p.MustElementR("button", "^undo$").MustClick()
	webtest.WaitFor(t, func() bool { return webtest.StateOf(t, s, 3).Document.Box.BackFoam == before })
}

// What is bought stays bought when the design changes: what the heater no longer needs is named as it was on the list, with what was
// paid for it, until its mark is taken off; undo brings it back to the list.
func TestChangeThatUnbuys(t *testing.T) {
	base, s := webtest.Workshop(t, true)
	p := webtest.Visit(t, base+"/h/2/buy", 390, 844)
	h := webtest.NewHand(t, p)
	tick := `button[aria-label^="Mark as bought: High-heat flat black"]`
	h.Touch(tick)
	webtest.WaitFor(t, func() bool { return len(webtest.Must(s.Bought(t.Context(), 2))(t)) == 1 })
	webtest.Settled(t, p)
	if p.MustHas("#surplus") {
		t.Fatal("what is needed is called surplus")
	}
	webtest.Must(s.Edit(t.Context(), webtest.StateOf(t, s, 2).Seen(), "paint", units.System{},
		design.Set(design.AbsorberPaint, "engine-enamel")))(t)
	p.MustReload().MustWaitLoad()
	webtest.Settled(t, p)
	h.See("#surplus", "high-heat flat black: this heater no longer needs it")
	if !p.MustHas(`button[aria-label^="Mark as bought: Fast-drying engine enamel"]`) {
		t.Error("the new paint is not on the list")
	}
	h.Touch("#surplus button")
	webtest.WaitFor(t, func() bool { return len(webtest.Must(s.Bought(t.Context(), 2))(t)) == 0 && !p.MustHas("#surplus") })
}

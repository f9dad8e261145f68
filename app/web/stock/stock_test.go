package stock_test

import (
	"context"
	"testing"

	"gladember/app/web/webtest"
	"gladember/core/design"
)

func TestMain(m *testing.M) { webtest.Main(m) }

// From an empty shed: a pane and screen noted with the tape's own words, a wrong size told
// its remedy and kept, the boxes ranked, the search run with its progress, and the proposal taken over whole, one undo away.
func TestTheShedAndWhatItMakes(t *testing.T) {
	base, s := webtest.Workshop(t, true)
	for _, it := range webtest.Must(s.Stock(context.Background()))(t) {
		if err := s.DropStock(context.Background(), it.ID); err != nil {
			t.Fatal(err)
		}
	}
	p := webtest.Visit(t, base+"/h/2/stock", 1280, 1000)
	h := webtest.NewHand(t, p)
	h.See("#center", "No materials yet")
	fill := func(sel, text string) {
		if e := p.MustElement(sel); text != "" {
			e.MustSelectAllText().MustInput(text)
		}
	}
	fill("#thing-size", "900 by")
	h.Touch(".thing-form .act")
	h.See("#thing-error", "34 x 58")
	if v := p.MustElement("#thing-size").MustProperty("value").Str(); v != "900 by" {
		t.Errorf("the refused size became %q", v)
	}
	fill("#thing-size", "900 x 1500 mm")
	fill("#thing-count", "2")
	h.Touch(".thing-form .act")
	webtest.WaitFor(t, func() bool { return len(webtest.Must(s.Stock(context.Background()))(t)) == 1 })
	h.See(".ranked", "900 × 1,500 mm")
	webtest.WaitFor(t, func() bool { return p.MustElement("#thing-size").MustProperty("value").Str() == "" })
	p.MustElement("#thing-what").MustSelect("black aluminum insect screen")
	fill("#thing-size", "1.2 m x 3 m")
	h.Touch(".thing-form .act")
	webtest.WaitFor(t, func() bool { return len(webtest.Must(s.Stock(context.Background()))(t)) == 2 })
	p.MustElement("select[name=ground]").MustSelect("colder")
	h.Touch(".thing-row .act.second")
	h.See("#verdict", "Do not use it")
	fill("#budget", "a lot")
	h.Touch("#work-it-out")
	h.See("#sized", "not a sum of money")
	fill("#budget", "150")
	h.Touch("#work-it-out")
	h.See("#sized", "years")
	webtest.WaitFor(t, func() bool { return p.MustHas("#take-all") })
	h.See("#sized .sized", "years were computed")
	before := webtest.StateOf(t, s, 2).Document
	h.Touch("#take-all")
	webtest.WaitFor(t, func() bool { return webtest.StateOf(t, s, 2).Document.Pane.Width == 0.9 })
	if d := webtest.StateOf(t, s, 2).Document; d.Pane.Height != 1.5 || len(design.Validate(&d)) > 0 {
		t.Errorf("taken over: %+v", d.Pane)
	}
	h.Touch("#undo")
	webtest.WaitFor(t, func() bool { return webtest.StateOf(t, s, 2).Document.Pane == before.Pane })
	// The same search again has its result at once. Another one that is canceled stops at once and says so.
	h.Touch("#work-it-out")
	h.See("#sized .sized", "years were computed")
	h.TypeIn("[name=budget]", "77")
	h.Touch("#work-it-out")
	h.Touches++ // at once, before the search has ended
	p.MustEval(`async () => {
		for (;;) {
			const b = document.querySelector(".job button");
			if (b) { b.click(); return; }
			await new Promise(r => setTimeout(r, 5));
		}
	}`)
	h.See("#sized", "Canceled")
}

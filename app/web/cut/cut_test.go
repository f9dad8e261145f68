package cut_test

import (
	"strings"
	"testing"
	"time"

	"gladember/app/web/webtest"
	"gladember/core/layout"
)

func TestMain(m *testing.M) { webtest.Main(m) }

// The cutting plan comes by itself, names each part by the letter that it has in the list, and follows a change of the
// glazing; what must be bought is told for each material.
func TestCuttingPlan(t *testing.T) {
	base, s := webtest.Workshop(t, true)
	p := webtest.Visit(t, base+"/h/2/cut", 1280, 900)
	plan := func() string { return p.MustElement("#cutplan").MustText() }
	webtest.WaitLong(t, time.Minute, func() bool { return strings.Contains(plan(), "Buy ") })
	text := plan()
	h := webtest.StateOf(t, s, 2).Document
	l, err := layout.Build(&h)
	if err != nil {
		t.Fatal(err)
	}
	letters := map[string]bool{}
	for _, e := range p.MustElements("#cutplan svg text") {
		for _, w := range strings.FieldsFunc(e.MustProperty("textContent").Str(), func(r rune) bool { return r == ' ' || r == ',' }) {
			letters[w] = true
		}
	}
	for _, x := range l.Cut() {
		cut := x.Form == layout.InBars || x.Form == layout.InSheets && x.Group != layout.Cover
		if cut && !letters[x.Letter] {
			t.Errorf("part %s, %s, is not in the drawings of the plan", x.Letter, x.Name)
		}
	}
	webtest.Field(p, "#f-pane-height_m").MustSelectAllText().MustInput("1510 mm")
	webtest.WaitLong(t, time.Minute, func() bool { n := plan(); return strings.Contains(n, "Buy ") && n != text })
	if got := webtest.StateOf(t, s, 2).Document.Pane.Height; got != 1.51 {
		t.Errorf("the glazing is %v m high", got)
	}
}

// The shop drawings come as a PDF that names every part.
func TestShopDrawings(t *testing.T) {
	base, _ := webtest.Workshop(t, true)
	p := webtest.Visit(t, base+"/h/1/cut", 1280, 900)
	got := p.MustEval(`async () => {
		const r = await fetch(document.querySelector("a[download]").href);
		return r.status + " " + r.headers.get("content-type") + " " + (await r.text()).slice(0, 5);
	}`).Str()
	if got != "200 application/pdf %PDF-" {
		t.Errorf("the drawings are %q", got)
	}
}

// Pieces marked as cut leave the plan and stay marked; when the glazing changes they are told as cut to another size, until
// the builder forgets them.
func TestCutPiecesStay(t *testing.T) {
	base, s := webtest.Workshop(t, true)
	p := webtest.Visit(t, base+"/h/2/cut", 1280, 900)
	pieces := func() (n int) {
		out, err := s.CutPieces(t.Context(), 2)
		if err != nil {
			t.Fatal(err)
		}
		for _, x := range out {
			n += x.Done
		}
		return n
	}
	for n, name := range []string{"side board", "side board", "back board"} {
		p.MustEval(`(name) => document.querySelector('button[aria-label="Mark one as cut: ' + name + '"]').click()`, name)
		webtest.WaitFor(t, func() bool { return pieces() == n+1 })
		webtest.Settled(t, p)
	}
	webtest.WaitFor(t, func() bool { return strings.Contains(p.MustElement("#center").MustText(), "2 of 2 cut") })
	webtest.WaitLong(t, time.Minute, func() bool { return strings.Contains(p.MustElement("#cutplan").MustText(), "Buy ") })
	for _, e := range p.MustElements("#cutplan svg text") {
		if text := e.MustProperty("textContent").Str(); strings.HasPrefix(text, "G ") {
			t.Errorf("the side boards are cut and still planned: %q", text)
		}
	}
	webtest.Field(p, "#f-pane-width_m").MustSelectAllText().MustInput("900 mm")
	webtest.WaitFor(t, func() bool { return webtest.StateOf(t, s, 2).Document.Pane.Width == 0.9 })
	says := func(want string) bool { return strings.Contains(p.MustElement("#center").MustText(), want) }
	webtest.WaitFor(t, func() bool { return says("1 piece is cut to 1,286 mm × 716 mm; the part is now 1,286 mm × 876 mm.") })
	if !says("2 of 2 cut") {
		t.Error("the side boards, which did not change, are not marked as cut any more")
	}
	p.MustEval(`() => document.querySelector('button[aria-label="Forget these: back board"]').click()`)
	webtest.WaitFor(t, func() bool { return pieces() == 2 })
}

// In inches the plan speaks of feet's sizes and of the saw in inches, and nothing of millimeters.
func TestCuttingPlanInInches(t *testing.T) {
	base, _ := webtest.Workshop(t, true)
	p := webtest.Visit(t, base+"/h/2/cut", 390, 844)
	p.MustEval(`async () => {
		const csrf = document.querySelector("[name=csrf]").value;
		await fetch("/units", {method: "POST", body: new URLSearchParams({csrf, here: "/", flip: "length"})});
		location.reload();
	}`)
	webtest.WaitLong(t, time.Minute, func() bool {
		e, err := p.Timeout(time.Second).Element("#cutplan")
		return err == nil && strings.Contains(e.MustText(), "48 in × 96 in")
	})
	if text := p.MustElement("#cutplan").MustText(); strings.Contains(text, " mm") || !strings.Contains(text, "takes 1/8 in") {
		t.Errorf("the plan in inches reads %.300s", text)
	}
}

package cut_test

import (
	"bytes"
	"encoding/base64"
	"math"
	"os/exec"
	"strings"
	"testing"
	"time"

	"github.com/go-rod/rod/lib/input"

	"gladember/app/store"
	"gladember/app/web/webtest"
	"gladember/core/layout"
	"gladember/core/units"
)

func TestMain(m *testing.M) { webtest.Main(m) }

// The cutting plan comes by itself, names each part by the letter that it has in the list, and follows a change of the
// glazing; what must be bought is told for each material.
func TestCuttingPlan(t *testing.T) {
	base, s := webtest.Workshop(t, true)
	p := webtest.Visit(t, base+"/h/2/cut", 1280, 900)
	plan := func() string { return p.MustElement("#cutplan").MustText() }
	webtest.WaitFor(t, func() bool { return strings.Contains(plan(), "Buy ") })
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
	webtest.WaitFor(t, func() bool { n := plan(); return strings.Contains(n, "Buy ") && n != text })
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

// marked counts the pieces of the second heater that are marked as cut.
func marked(t *testing.T, s *store.Store) (n int) {
	t.Helper()
	out, err := s.CutPieces(t.Context(), 2)
	if err != nil {
		t.Fatal(err)
	}
	for _, x := range out {
		n += x.Done
	}
	return n
}

// Pieces marked as cut leave the plan and stay marked; when the glazing changes they are told as cut to another size, until
// the builder forgets them.
func TestCutPiecesStay(t *testing.T) {
	base, s := webtest.Workshop(t, true)
	p := webtest.Visit(t, base+"/h/2/cut", 1280, 900)
	pieces := func() int { return marked(t, s) }
	for n, name := range []string{"side board", "side board", "back board"} {
		p.MustEval(`(name) => document.querySelector('button[aria-label="Mark one as cut: ' + name + '"]').click()`, name)
		webtest.WaitFor(t, func() bool { return pieces() == n+1 })
		webtest.Settled(t, p)
	}
	webtest.WaitFor(t, func() bool { return strings.Contains(p.MustElement("#center").MustText(), "2 of 2 cut") })
	webtest.WaitFor(t, func() bool { return strings.Contains(p.MustElement("#cutplan").MustText(), "Buy ") })
	for _, e := range p.MustElements("#cutplan svg text") {
		solid := strings.Contains(e.MustProperty("className").Get("baseVal").Str(), "on-ink")
		if text := e.MustProperty("textContent").Str(); strings.HasPrefix(text, "G ") && !solid {
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
	webtest.WaitFor(t, func() bool {
		e, err := p.Timeout(time.Second).Element("#cutplan")
		return err == nil && strings.Contains(e.MustText(), "48 in × 96 in")
	})
	if text := p.MustElement("#cutplan").MustText(); strings.Contains(text, " mm") || !strings.Contains(text, "takes 1/8 in") {
		t.Errorf("the plan in inches reads %.300s", text)
	}
}

// A part that is touched shows its drawing, its joint, why it has its size and where it comes from.
func TestTouchedPart(t *testing.T) {
	base, s := webtest.Workshop(t, true)
	doc := webtest.StateOf(t, s, 3).Document
	l, err := layout.Build(&doc)
	if err != nil {
		t.Fatal(err)
	}
	letter := ""
	for _, x := range l.Cut() {
		if x.Name == "side board" {
			letter = x.Letter
		}
	}
	p := webtest.Visit(t, base+"/h/3/cut", 1280, 900)
	p.MustElement(`svg.exploded a[aria-label="part ` + letter + `"]`).MustClick()
	webtest.WaitFor(t, func() bool { return p.MustHas("#card .why") })
	text := strings.ReplaceAll(p.MustElement("#card").MustText(), "\u00a0", " ")
	for _, want := range []string{letter + " side board, 2 ×", "1,996 mm × 112 mm × 30 mm",
		"Length 1,996 mm = glazing height 1,960 − 2 × glazing overlap on the frame 12 + 2 × frame thickness 30.", "from bar"} {
		if !strings.Contains(text, want) {
			t.Errorf("%q is not in %q", want, text)
		}
	}
	if !p.MustHas("#card svg.partplan") || !p.MustHas("svg.exploded .slab.chosen") {
		t.Error("the part is not drawn")
	}
}

// A piece that came out otherwise is told with what of the design could follow; wrong sizes are refused with what would be
// right and change nothing; the change taken, the piece is the part.
func TestPieceThatCameOutOtherwise(t *testing.T) {
	base, s := webtest.Workshop(t, true)
	p := webtest.Visit(t, base+"/h/3/cut", 1280, 900)
	webtest.Settled(t, p)
	row := func() string {
		return p.MustEval(`() => document.querySelector('button[aria-label="Mark one as cut: side board"]').closest("tr").textContent`).
			Str()
	}
	enter := func(size string) {
		p.MustEval(`(size) => {
			const i = document.querySelector('input[aria-label="Size that side board came out with"]');
			i.closest("details").open = true;
			i.value = size;
			i.form.requestSubmit();
		}`, size)
	}
	for _, x := range [][2]string{{"short", `"short" is not a size`}, {"3", "is far from this part"},
		{"-1990 mm", `"-1990 mm" is not a size`}, {"1e308 m", `"1e308 m" is not a size`}, {"1990 x", `"1990 x" is not a size`},
		{"", `"" is not a size`}} {
		enter(x[0])
		webtest.WaitFor(t, func() bool { return strings.Contains(row(), x[1]) })
	}
	if cut, _ := s.CutPieces(t.Context(), 3); len(cut) != 0 {
		t.Fatalf("%+v is marked", cut)
	}
	enter("1990 mm")
	webtest.WaitFor(t, func() bool {
		return strings.Contains(row(), "1 piece is cut to 1,990 mm × 112 mm; the part is now 1,996 mm")
	})
	if got := row(); !strings.Contains(got, "glazing overlap on the frame to 15 mm") {
		t.Fatalf("no change of the design is offered: %q", got)
	}
	p.MustEval(`() => [...document.querySelectorAll(".conflict button")].find(b => /overlap/.test(b.textContent)).click()`)
	webtest.WaitFor(t, func() bool { return math.Abs(webtest.StateOf(t, s, 3).Document.Pane.Rest-0.015) < 1e-9 })
	webtest.WaitFor(t, func() bool {
		return strings.Contains(row(), "1 of 2 cut") && !strings.Contains(row(), "1 piece is cut to")
	})
}

// One cut a screen on the phone: each "next" marks what is cut and the plan goes on from there; the last can be taken back,
// and what is put off comes later. Targets are 56 px high and the figure is large.
func TestOneCutAtATime(t *testing.T) {
	base, s := webtest.Workshop(t, true)
	p := webtest.Visit(t, base+"/h/2/cut/shop", 390, 844)
	done := func() int { return marked(t, s) }
	size := p.MustEval(`() => {
		const b = document.querySelector("button[value=done]").getBoundingClientRect();
		return b.height >= 56 && b.width > 300 && parseFloat(getComputedStyle(document.querySelector(".shop-big")).fontSize) >= 20 &&
			document.documentElement.scrollWidth <= 390;
	}`)
	if !size.Bool() {
		t.Error("the button or the figure is too small, or the page too wide")
	}
	first := p.MustElement(".shop-line").MustText()
	next := func(sel string) {
		t.Helper()
		before := p.MustElement("main").MustText()
		p.MustEval(`(sel) => document.querySelector(sel).click()`, sel)
		webtest.WaitFor(t, func() bool { return p.MustElement("main").MustText() != before })
	}
	next("button[value=done]")
	webtest.WaitFor(t, func() bool { return done() == 1 })
	second := p.MustElement(".shop-line").MustText() + p.MustElement("main").MustText()
	next("button[value=undo]")
	webtest.WaitFor(t, func() bool { return done() == 0 && p.MustElement(".shop-line").MustText() == first })
	p.MustElement(".shop-nav a").MustClick() // later
	webtest.WaitFor(t, func() bool {
		return p.MustElement("main").MustText() != second && strings.Contains(p.MustInfo().URL, "at=1")
	})
	p.MustNavigate(base + "/h/2/cut/shop").MustWaitLoad()
	h := webtest.StateOf(t, s, 2).Document
	l, err := layout.Build(&h)
	if err != nil {
		t.Fatal(err)
	}
	want := 0
	for _, x := range l.Cut() {
		if x.Form == layout.InBars || x.Form == layout.InSheets && x.Group != layout.Cover {
			want += x.Count
		}
	}
	for range 200 { // to the last piece
		if !p.MustHas("button[value=done]") {
			break
		}
		next("button[value=done]")
	}
	if got := done(); got != want || !strings.Contains(p.MustElement("h1").MustText(), "Everything") {
		t.Errorf("%d of %d pieces are cut at the end: %s", got, want, p.MustElement("main").MustText())
	}
	// What is left over goes back to the materials on hand, once.
	before, _ := s.Stock(t.Context())
	p.MustNavigate(base + "/h/2/cut").MustWaitLoad()
	webtest.WaitFor(t, func() bool { return p.MustHas("#offcuts button") })
	p.MustElement("#offcuts button").MustClick()
	webtest.WaitFor(t, func() bool { after, _ := s.Stock(t.Context()); return len(after) > len(before) })
	webtest.WaitFor(t, func() bool { return !p.MustHas("#offcuts") })
}

// Kerf and the sizes that are sold are edited beside the plan, which follows; a wrong line is refused with what would be right.
func TestSawAndStock(t *testing.T) {
	base, s := webtest.Workshop(t, true)
	p := webtest.Visit(t, base+"/h/2/cut", 1280, 900)
	plan := func() string { return p.MustElement("#cutplan").MustText() }
	webtest.WaitFor(t, func() bool { return strings.Contains(plan(), "takes 3 mm") })
	webtest.Field(p, "#f-workshop-cut-kerf_m").MustSelectAllText().MustInput("2 mm")
	webtest.WaitFor(t, func() bool { return strings.Contains(plan(), "takes 2 mm") })
	webtest.Field(p, "#f-workshop-cut-sold").MustSelectAllText().MustInput("a long one")
	webtest.WaitFor(t, func() bool {
		return strings.Contains(p.MustElement("#w-f-workshop-cut-sold").MustText(), "is not a size")
	})
	if n := len(webtest.StateOf(t, s, 2).Document.Workshop.Cut.Sold); n != 0 {
		t.Errorf("%d sizes were taken", n)
	}
	webtest.Field(p, "#f-workshop-cut-sold").MustSelectAllText().MustInput("1.8 m; 4.20\n3.6 m; 9.10\n1250 x 2500 mm; 31")
	webtest.WaitFor(t, func() bool { return strings.Contains(plan(), "1,250 mm × 2,500 mm") })
	if text := plan(); strings.Contains(text, "of 2,400 mm") {
		t.Errorf("a size that is not sold is bought: %.400s", text)
	}
}

// By the keyboard alone: from the letters of the drawing to a part's card, to a mark, and to the saw's kerf.
func TestCutByKeyboard(t *testing.T) {
	base, s := webtest.Workshop(t, true)
	p := webtest.Visit(t, base+"/h/2/cut", 1280, 900)
	webtest.Settled(t, p)
	until := func(what string, at func() bool) {
		t.Helper()
		for range 150 {
			if at() {
				return
			}
			p.KeyActions().Press(input.Tab).MustDo()
		}
		t.Fatalf("the keyboard does not reach %s", what)
	}
	label := func() string {
		return p.MustEval(`() => document.activeElement.getAttribute("aria-label") || document.activeElement.id || ""`).Str()
	}
	until("a letter", func() bool { return strings.HasPrefix(label(), "part ") })
	p.KeyActions().Press(input.Enter).MustDo()
	webtest.WaitFor(t, func() bool { return p.MustHas("#card h3") })
	webtest.Settled(t, p)
	until("a mark", func() bool { return strings.HasPrefix(label(), "Mark one as cut") })
	p.KeyActions().Press(input.Enter).MustDo()
	webtest.WaitFor(t, func() bool { out, _ := s.CutPieces(t.Context(), 2); return len(out) == 1 })
}

// From a version to paper: a heater is branched, its glazing changed where the parts are cut, and the drawings that come as
// PDF have the new sizes of that version, on paper of the builder's country; the first version keeps its own.
func TestFromVersionToPaper(t *testing.T) {
	if _, err := exec.LookPath("pdftotext"); err != nil {
		t.Skip("pdftotext of poppler-utils is not here")
	}
	base, s := webtest.Workshop(t, true)
	p := webtest.Visit(t, base+"/h/3/box", 1280, 900)
	p.MustElementR("button", "^new version$").MustClick()
	webtest.WaitFor(t, func() bool { return len(webtest.StateOf(t, s, 3).Versions) == 2 })
	p.MustNavigate(base + "/h/3/cut").MustWaitLoad()
	webtest.Field(p, "#f-pane-width_m").MustSelectAllText().MustInput("1000 mm")
	webtest.WaitFor(t, func() bool { return webtest.StateOf(t, s, 3).Document.Pane.Width == 1.0 })
	words := func() string {
		data := p.MustEval(`async () => {
			const r = await fetch(document.querySelector("a[download]").href);
			const b = new Uint8Array(await r.arrayBuffer());
			let out = "";
			for (const x of b) out += String.fromCharCode(x);
			return btoa(out);
		}`).Str()
		b, err := base64.StdEncoding.DecodeString(data)
		if err != nil {
			t.Fatal(err)
		}
		cmd := exec.Command("pdftotext", "-layout", "-", "-")
		cmd.Stdin = bytes.NewReader(b)
		out, err := cmd.Output()
		if err != nil {
			t.Fatal(err)
		}
		return string(out)
	}
	h := webtest.StateOf(t, s, 3).Document
	l, err := layout.Build(&h)
	if err != nil {
		t.Fatal(err)
	}
	fm := func(m float64) string { return units.Format(units.Length, m, units.System{}) }
	text := words()
	for _, want := range []string{"The box from the front: " + fm(l.Width) + " × " + fm(l.Height), "Section at the bottom",
		"Both diagonals " + fm(l.Diagonal)} {
		if !strings.Contains(text, want) {
			t.Errorf("%q is not in the drawings: %.600s", want, text)
		}
	}
	for _, x := range l.Cut() {
		if !strings.Contains(text, x.Name) {
			t.Errorf("%s is not in the drawings", x.Name)
		}
	}
	p.MustElementR("button", "^A$").MustClick() // the first version
	webtest.WaitFor(t, func() bool { return webtest.StateOf(t, s, 3).Document.Pane.Width == 1.04 })
	p.MustNavigate(base + "/h/3/cut").MustWaitLoad()
	if text := words(); strings.Contains(text, "The box from the front: "+fm(l.Width)) {
		t.Error("the first version has the other one's width")
	}
}

package web_test

import (
	"bytes"
	"encoding/json"
	"fmt"
	"io"
	"os"
	"strings"
	"testing"
	"time"

	"github.com/go-rod/rod"
	"github.com/go-rod/rod/lib/proto"

	"gladember/app/web/webtest"
)

// A window is what the pages are looked at in: on a phone, a tablet, a laptop and a large screen, in both themes and both systems of units.
type window struct {
	width, height int
	other         bool     // the dark theme and American units
	rules         []string // of axe-core; none for no look by it, one that is empty for all
	twice         bool     // looked at in twice the size as well
	paper         bool     // printed as well
}

var (
	allRules = []string{""}
	// What a theme or a width may change of what axe-core finds.
	someRules = []string{"color-contrast", "target-size"}
)

var windows = []window{
	{width: 390, height: 844, rules: someRules},
	{width: 390, height: 844, other: true, rules: someRules},
	{width: 820, height: 1180, twice: true},
	{width: 1280, height: 800, other: true, rules: someRules, paper: true},
	{width: 1920, height: 1080, rules: allRules},
}

// morePages are looked at on a phone and on a large screen only.
var morePages = []string{"/h/2/box?part=air", "/h/1/box?part=absorber", "/h/1/box?part=fan", "/h/1/box?part=frame", "/h/2/log", "/h/1/log",
	"/nowhere"}

// Every page of the demo's heaters is drawn well in every window; axe-core finds nothing on it; at twice the size nothing is cut off and
// nothing scrolls sideways but what is meant to; and each station prints on one page of A4 and one of Letter, but for the cutting plan
// and the lists of the shop.
func TestEveryPage(t *testing.T) {
	t.Parallel()
	axe, err := os.ReadFile("testdata/axe.min.js")
	if err != nil {
		t.Fatal(err)
	}
	base, s := webtest.Workshop(t, true)
	webtest.Must(s.Branch(t.Context(), webtest.StateOf(t, s, 3).Seen()))(t)
	for i, w := range windows {
		t.Run(fmt.Sprintf("%d px, %v", w.width, w.other), func(t *testing.T) {
			t.Parallel()
			pages := everyPage
			if i == 0 || i == len(windows)-1 {
				pages = append(append([]string{}, pages...), morePages...)
			}
			w.sweep(t, base, string(axe), pages)
		})
	}
}

// sweep looks at pages in a window.
func (w *window) sweep(t *testing.T, base, axe string, pages []string) {
	t.Helper()
	p := webtest.Visit(t, base+"/", w.width, w.height)
	if w.other {
		postTheme(p)
		postUnits(p)
	}
	for _, path := range pages {
		p.MustNavigate(base + path).MustWaitLoad()
		webtest.Settled(t, p)
		say := func(what, found string) {
			if found != "" {
				t.Errorf("%s%s: %s", path, what, found)
			}
		}
		for _, x := range p.MustEval(look).Arr() {
			say("", x.Str())
		}
		if w.twice {
			p.MustSetViewport(640, 400, 1, false)
			found := ""
			for range 20 { // a chart is drawn anew some time after its place changed
				if found = p.MustEval(clipped).Str(); found == "" {
					break
				}
				time.Sleep(100 * time.Millisecond)
			}
			say(" at twice the size", found)
			p.MustSetViewport(w.width, w.height, 1, false)
		}
		if w.paper && strings.HasPrefix(path, "/h/") {
			say(" on paper", onPaper(t, p, path))
			p.MustSetViewport(w.width, w.height, 1, false)
		}
		if w.rules != nil {
			say(", axe-core", violations(t, p, axe, w.rules))
		}
	}
}

// violations are what axe-core finds by its rules.
func violations(t *testing.T, p *rod.Page, script string, rules []string) string {
	t.Helper()
	options := map[string]any{"resultTypes": []string{"violations"}}
	if rules[0] != "" {
		options["runOnly"] = map[string]any{"type": "rule", "values": rules}
	}
	given := webtest.Must(json.Marshal(options))(t)
	p.MustEval("() => {" + script + "}")
	return p.MustEval(`async (options) => {
		for (const e of document.querySelectorAll(".headline")) e.style.position = "static"; // one scrolls what it covers from under it
		const found = (await axe.run(document, JSON.parse(options))).violations;
		const where = (n) => n.html.slice(0, 160) + " | " + (n.any[0]?.message || "");
		return found.map((v) => [v.id, v.help, ...v.nodes.map(where).slice(0, 4)].join(" | ")).join("; ");
	}`, string(given)).Str()
}

// clipped finds what is cut off, and a page that scrolls sideways.
const clipped = `() => {
	const out = [];
	const root = document.documentElement, sideways = root.scrollWidth - root.clientWidth;
	if (sideways > 1) out.push("the page scrolls sideways by " + sideways);
	for (const e of document.querySelectorAll("body *")) {
		const c = getComputedStyle(e);
		if (c.display === "none" || c.visibility === "hidden" || !e.clientWidth) continue;
		if (e.closest(".visually-hidden, dialog, svg, select, .u-wrap")) continue;
		if (e.scrollWidth > e.clientWidth + 1 && c.overflowX === "hidden")
			out.push(e.tagName + "." + e.className + " cuts " + e.textContent.trim().slice(0, 40));
	}
	for (const t of document.querySelectorAll("svg text")) {
		const svg = t.closest("svg"), a = t.getBoundingClientRect(), b = svg.getBoundingClientRect();
		if (!a.width || !b.width) continue;
		if (a.left < b.left - 2 || a.right > b.right + 2 || a.top < b.top - 3 || a.bottom > b.bottom + 3)
			out.push("drawn text outside " + svg.getAttribute("class") + ": " + t.textContent);
	}
	return out.slice(0, 6).join("; ");
}`

// cutPages is how many pages the cutting plan may take, which draws every sheet and bar to scale, and the lists of the shop.
const cutPages = 5

// onPaper finds a station that takes more pages than it may, and what sticks out or is cut on paper.
func onPaper(t *testing.T, p *rod.Page, path string) string {
	t.Helper()
	most := 1
	for _, long := range []string{"/cut", "/buy", "/build", "/safety", "/install", "/test"} {
		if strings.Contains(path, long) {
			most = cutPages
		}
	}
	for _, size := range [][2]float64{{8.27, 11.69}, {8.5, 11}} { // A4 and Letter, in
		n := 0
		for range 3 { // a chart is drawn anew some time after its place changed
			pdf := webtest.Must(p.PDF(&proto.PagePrintToPDF{PaperWidth: &size[0], PaperHeight: &size[1], PreferCSSPageSize: false}))(t)
			if n = bytes.Count(webtest.Must(io.ReadAll(pdf))(t), []byte("/Type /Page\n")); n > 0 && n <= most {
				break
			}
			time.Sleep(300 * time.Millisecond)
		}
		if n < 1 || n > most {
			t.Errorf("%s takes %d pages of %v", path, n, size)
		}
	}
	// On paper's own width, 14 mm of margin off, nothing sticks out and nothing is cut.
	if err := (proto.EmulationSetEmulatedMedia{Media: "print"}).Call(p); err != nil {
		t.Fatal(err)
	}
	p.MustSetViewport(688, 1017, 1, false)
	found := p.MustEval(`() => {
		const out = [], w = document.documentElement.clientWidth;
		for (const e of document.querySelectorAll("main *, .headline *")) {
			const r = e.getBoundingClientRect(), c = getComputedStyle(e);
			if (!r.width || c.visibility === "hidden" || e.closest(".visually-hidden, dialog, .chart")) continue;
			if (r.right > w + 1 || r.left < -1)
				out.push(e.tagName + "." + (e.className.baseVal ?? e.className) +
					" from " + Math.round(r.left) + " to " + Math.round(r.right) + " of " + w);
			if (e.scrollWidth > e.clientWidth + 1 && c.overflowX === "hidden") out.push(e.tagName + " is cut");
		}
		return out.slice(0, 4).join("; ");
	}`).Str()
	if err := (proto.EmulationSetEmulatedMedia{Media: ""}).Call(p); err != nil {
		t.Fatal(err)
	}
	return found
}

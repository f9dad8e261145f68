package web_test

import (
	"bytes"
	"context"
	"encoding/json"
	"fmt"
	"io"
	"net/http"
	"os"
	"path/filepath"
	"regexp"
	"strings"
	"testing"
	"time"

	"github.com/go-rod/rod/lib/proto"

	"gladember/app/web/webtest"
	"gladember/core/design"
	"gladember/core/units"
)

// every page that a heater has, with the demo's heaters.
var everyPage = []string{"/", "/h/1/place", "/h/2/need", "/h/2/stock", "/h/1/box", "/h/2/air", "/h/3/switch", "/h/3/cut", "/h/3/log",
	"/h/1/cut?part=G", "/h/3/cut/shop", "/h/3/buy", "/h/3/build", "/h/2/build?step=wire", "/h/3/install", "/h/3/safety", "/h/3/journal",
	"/h/2/test", "/h/2/test?test=quick", "/h/3/test?test=traverse", "/h/2/test/sheet", "/h/3/season",
	"/h/3/versions",
	"/h/2/debates", "/glossary", "/settings", "/devices", "/keep"}

// At twice the size nothing is cut off and nothing scrolls sideways but what is meant to.
func TestNothingIsClippedAtTwiceTheSize(t *testing.T) {
	base, s := webtest.Workshop(t, true)
	webtest.Must(s.Branch(context.Background(), webtest.StateOf(t, s, 3).Seen()))(t)
	p := webtest.Visit(t, base+"/", 640, 400)
	for _, path := range everyPage {
		p.MustNavigate(base + path).MustWaitLoad()
		webtest.Settled(t, p)
		found := p.MustEval(`() => {
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
		}`).Str()
		if found != "" {
			t.Errorf("%s: %s", path, found)
		}
	}
}

// cutPages is how many pages the cutting plan may take, which draws every sheet and bar to scale, and the lists of the shop.
const cutPages = 5

// Each station prints on one page of A4 and one of Letter, but for the cutting plan and the lists of the shop.
func TestStationsPrintOnOnePage(t *testing.T) {
	base, s := webtest.Workshop(t, true)
	webtest.Must(s.Branch(context.Background(), webtest.StateOf(t, s, 3).Seen()))(t)
	p := webtest.Visit(t, base+"/", 1280, 800)
	for _, path := range everyPage {
		if !strings.HasPrefix(path, "/h/") {
			continue
		}
		p.MustNavigate(base + path).MustWaitLoad()
		webtest.Settled(t, p)
		for name, size := range map[string][2]float64{"A4": {8.27, 11.69}, "Letter": {8.5, 11}} {
			pdf, err := p.PDF(&proto.PagePrintToPDF{PaperWidth: &size[0], PaperHeight: &size[1], PreferCSSPageSize: false})
			if err != nil {
				t.Fatal(err)
			}
			b, err := io.ReadAll(pdf)
			if err != nil {
				t.Fatal(err)
			}
			most := 1
			if strings.Contains(path, "/cut") || strings.Contains(path, "/buy") || strings.Contains(path, "/build") ||
				strings.Contains(path, "/safety") || strings.Contains(path, "/install") || strings.Contains(path, "/test") {
				most = cutPages
			}
			if n := bytes.Count(b, []byte("/Type /Page\n")); n < 1 || n > most {
				t.Errorf("%s takes %d pages of %s", path, n, name)
			}
		}
		// On paper's own width, 14 mm of margin off, nothing sticks out and nothing is cut.
		if err := (proto.EmulationSetEmulatedMedia{Media: "print"}).Call(p); err != nil {
			t.Fatal(err)
		}
		p.MustSetViewport(688, 1017, 1, false)
		if found := p.MustEval(`() => {
			const out = [], w = document.documentElement.clientWidth;
			for (const e of document.querySelectorAll("main *, .ribbon *")) {
				const r = e.getBoundingClientRect(), c = getComputedStyle(e);
				if (!r.width || c.visibility === "hidden" || e.closest(".visually-hidden, dialog, .chart")) continue;
				if (r.right > w + 1 || r.left < -1)
					out.push(e.tagName + "." + (e.className.baseVal ?? e.className) +
						" from " + Math.round(r.left) + " to " + Math.round(r.right) + " of " + w);
				if (e.scrollWidth > e.clientWidth + 1 && c.overflowX === "hidden") out.push(e.tagName + " is cut");
			}
			return out.slice(0, 4).join("; ");
		}`).Str(); found != "" {
			t.Errorf("%s on paper: %s", path, found)
		}
		if err := (proto.EmulationSetEmulatedMedia{Media: ""}).Call(p); err != nil {
			t.Fatal(err)
		}
		p.MustSetViewport(1280, 800, 1, false)
	}
}

// axe-core finds nothing on any page, in either theme, wide or narrow.
func TestAxeFindsNothing(t *testing.T) {
	script, err := os.ReadFile("testdata/axe.min.js")
	if err != nil {
		t.Fatal(err)
	}
	base, s := webtest.Workshop(t, true)
	webtest.Must(s.Branch(context.Background(), webtest.StateOf(t, s, 3).Seen()))(t)
	for _, theme := range []string{"light", "dark"} {
		for _, width := range []int{1280, 390} {
			p := webtest.Visit(t, base+"/", width, 844)
			p.MustEval(send, "/theme", "theme", theme)
			for _, path := range []string{"/", "/h/1/place", "/h/1/box", "/h/2/box?part=air", "/h/1/box?part=absorber",
				"/h/1/box?part=fan", "/h/1/box?part=frame", "/h/3/switch", "/h/2/need", "/h/3/season", "/h/3/cut", "/h/1/cut?part=G",
				"/h/3/cut/shop", "/h/2/log", "/h/1/log",
				"/h/2/stock", "/h/2/air", "/h/3/versions", "/h/2/debates", "/glossary", "/settings", "/devices", "/nowhere"} {
				p.MustNavigate(base + path).MustWaitLoad()
				webtest.Settled(t, p)
				p.MustEval("() => {" + string(script) + "}")
				raw := p.MustEval(`async () => {
					const found = (await axe.run(document, {resultTypes: ["violations"]})).violations;
					const where = (n) => n.html.slice(0, 160) + " | " + (n.any[0]?.message || "");
					return JSON.stringify(found.map(v => [v.id, v.help, v.nodes.map(where).slice(0, 4)]));
				}`).Str()
				var found []any
				if err := json.Unmarshal([]byte(raw), &found); err != nil {
					t.Fatal(err)
				}
				for _, v := range found {
					t.Errorf("%s %d px %s: %v", theme, width, path, v)
				}
			}
		}
	}
}

// TestScreenshots refreshes docs/screenshots when GLADEMBER_SHOTS names the
// folder.
func TestScreenshots(t *testing.T) {
	dir := os.Getenv("GLADEMBER_SHOTS")
	if dir == "" {
		t.Skip("set GLADEMBER_SHOTS=../../docs/screenshots to refresh the pictures")
	}
	base, st := webtest.Workshop(t, true)
	branch := func() { // two versions, to be compared
		for i, foam := range []float64{0.02, 0.06} {
			v := webtest.Must(st.Branch(context.Background(), webtest.StateOf(t, st, 3).Seen()))(t)
			webtest.Must(st.Edit(context.Background(), v.Seen(), "foam", units.System{}, design.Set(design.BoxBackFoam, foam),
				design.Set(design.CoverLayers, 2-i)))(t)
		}
	}
	for _, s := range []struct {
		name, path, theme string
		w, h              int
	}{
		{"home", "/", "light", 1280, 900}, {"phone-home", "/", "light", 390, 844}, {"place", "/h/2/place", "light", 1280, 900},
		{"need", "/h/2/need", "light", 1280, 900}, {"stock", "/h/2/stock", "light", 1280, 900}, {"box", "/h/2/box", "light", 1280, 800},
		{"box-dark", "/h/1/box", "dark", 1280, 800}, {"install", "/h/1/install", "light", 1280, 900},
		{"air", "/h/2/air", "light", 1280, 900}, {"switch", "/h/3/switch", "light", 1280, 900},
		{"season", "/h/3/season", "light", 1280, 1000}, {"safety", "/h/3/safety", "light", 1280, 900},
		{"cut", "/h/3/cut", "light", 1280, 800}, {"log", "/h/3/log", "light", 1280, 800},
		{"buy", "/h/3/buy", "light", 1280, 800}, {"build", "/h/3/build?step=glaze", "light", 1280, 900},
		{"phone-box", "/h/2/box", "light", 390, 844},
		{"test", "/h/2/test?test=traverse", "light", 1280, 900}, {"versions", "/h/3/versions", "light", 1280, 900},
	} {
		if s.name == "versions" {
			branch()
		}
		p := webtest.Visit(t, base+"/", s.w, s.h)
		if s.theme == "dark" {
			p.MustElement("button[name=theme]").MustClick()
			webtest.WaitFor(t, func() bool { return p.MustHas("html[data-theme=dark]") })
		}
		p.MustNavigate(base + s.path).MustWaitLoad()
		if strings.HasSuffix(s.name, "home") {
			p.MustElement("#pane").MustInput("640 x 1150 mm")
			p.MustElement("#first-heat")
		}
		webtest.Settled(t, p)
		if s.name == "phone-home" {
			p.MustEval(`() => document.querySelector("#sheet").scrollIntoView({block: "start"})`)
		}
		time.Sleep(400 * time.Millisecond)
		img, err := p.Screenshot(false, &proto.PageCaptureScreenshot{Format: proto.PageCaptureScreenshotFormatPng})
		if err != nil {
			t.Fatal(err)
		}
		if err := os.WriteFile(filepath.Join(dir, s.name+".png"), img, 0o644); err != nil {
			t.Fatal(err)
		}
	}
}

// What a closed group of fields shows says of each value what it is.
func TestClosedGroupsNameTheirNumbers(t *testing.T) {
	base, _ := webtest.Workshop(t, true)
	word := regexp.MustCompile(`\p{L}{3,}`)
	line := regexp.MustCompile(`<span class="panel-line">([^<]*)</span>`)
	seen := 0
	for heater := 1; heater <= 3; heater++ {
		for _, s := range strings.Fields("place need box air switch cut build install test log season safety journal") {
			for _, m := range line.FindAllStringSubmatch(text(t, fmt.Sprintf("%s/h/%d/%s", base, heater, s)), -1) {
				for _, piece := range strings.Split(m[1], "; ") {
					if seen++; m[1] != "" && !word.MatchString(piece) {
						t.Errorf("heater %d, %s: %q says nothing of what it is in %q", heater, s, piece, m[1])
					}
				}
			}
		}
	}
	if seen < 50 {
		t.Errorf("only %d values were seen", seen)
	}
}

// text is a page's text.
func text(t *testing.T, url string) string {
	t.Helper()
	res := webtest.Must(http.Get(url))(t)
	defer res.Body.Close()
	return string(webtest.Must(io.ReadAll(res.Body))(t))
}

package web_test

import (
	"context"
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
	t.Parallel()
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

package web

import (
	"bytes"
	"context"
	"encoding/json"
	"fmt"
	"io"
	"log/slog"
	"math"
	"net"
	"net/http"
	"net/http/httptest"
	"os"
	"os/exec"
	"path/filepath"
	"sort"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/go-rod/rod"
	"github.com/go-rod/rod/lib/input"
	"github.com/go-rod/rod/lib/launcher"
	"github.com/go-rod/rod/lib/launcher/flags"
	"github.com/go-rod/rod/lib/proto"

	"gladember/app/demo"
	"gladember/app/standin"
	"gladember/app/store"
	"gladember/core/climate"
	"gladember/core/design"
	"gladember/core/units"
)

// chromium finds Debian's browser. Where ./test asks for it, its absence is a
// failure; elsewhere the journeys are skipped, loudly.
func chromium(t testing.TB) string {
	t.Helper()
	for _, n := range []string{"chromium", "chromium-browser", "google-chrome"} {
		if p, err := exec.LookPath(n); err == nil {
			return p
		}
	}
	if os.Getenv("GLADEMBER_BROWSER") == "required" {
		t.Fatal("no Chromium on this machine")
	}
	t.Skip("NO BROWSER: journeys not run; install Debian's chromium or run ./test")
	return ""
}

var shared struct {
	sync.Once
	browser *rod.Browser
	err     error
}

func browser(t testing.TB) *rod.Browser {
	bin := chromium(t)
	shared.Do(func() {
		l := launcher.New().Bin(bin).NoSandbox(true).Leakless(false).Headless(true)
		for _, f := range []string{"disable-gpu", "disable-quic", "no-first-run", "disable-background-networking", "disable-component-update", "disable-sync", "hide-scrollbars"} {
			l = l.Set(flags.Flag(f))
		}
		var u string
		if u, shared.err = l.Launch(); shared.err != nil {
			return
		}
		shared.browser = rod.New().ControlURL(u)
		shared.err = shared.browser.Connect()
	})
	if shared.err != nil {
		t.Fatal(shared.err)
	}
	return shared.browser
}

func TestMain(m *testing.M) {
	code := m.Run()
	if shared.browser != nil {
		_ = shared.browser.Close()
	}
	os.Exit(code)
}

// workshop starts a server with an empty or the demo workshop.
func workshop(t testing.TB, withDemo bool) (base string, s *store.Store) {
	t.Helper()
	s, err := store.Open(context.Background(), filepath.Join(t.TempDir(), "w.db"))
	if err != nil {
		t.Fatal(err)
	}
	if withDemo {
		if err := demo.Fill(context.Background(), s); err != nil {
			t.Fatal(err)
		}
	}
	station := httptest.NewServer(standin.Weather())
	t.Cleanup(station.Close)
	h, err := New(s, slog.New(slog.NewTextHandler(os.Stderr, &slog.HandlerOptions{Level: slog.LevelWarn})), Options{Program: "test", Station: station.URL})
	if err != nil {
		t.Fatal(err)
	}
	l, err := net.Listen("tcp", "127.0.0.1:0")
	if err != nil {
		t.Fatal(err)
	}
	ctx, stop := context.WithCancel(context.Background())
	done := make(chan error, 1)
	go func() { done <- Serve(ctx, h, l) }()
	t.Cleanup(func() {
		stop()
		<-done
		s.Close()
	})
	return "http://" + l.Addr().String(), s
}

// mayBeAway are pages that lose the network on purpose, and complain of it.
var mayBeAway sync.Map

// visit opens a page in a session of its own and gathers what the console
// complains of: a breach of the content policy is such a complaint.
func visit(t testing.TB, url string, width, height int) *rod.Page {
	t.Helper()
	inc, err := browser(t).Incognito()
	if err != nil {
		t.Fatal(err)
	}
	p := inc.MustPage("").Timeout(3 * time.Minute)
	p.MustSetViewport(width, height, 1, width < 500)
	var mu sync.Mutex
	var complaints []string
	go p.EachEvent(func(e *proto.RuntimeConsoleAPICalled) {
		if e.Type == proto.RuntimeConsoleAPICalledTypeError || e.Type == proto.RuntimeConsoleAPICalledTypeWarning {
			mu.Lock()
			for _, a := range e.Args {
				complaints = append(complaints, a.Value.String()+" "+a.Description)
			}
			mu.Unlock()
		}
	}, func(e *proto.RuntimeExceptionThrown) {
		mu.Lock()
		complaints = append(complaints, e.ExceptionDetails.Text)
		mu.Unlock()
	}, func(e *proto.LogEntryAdded) {
		if e.Entry.Level == proto.LogLogEntryLevelError {
			mu.Lock()
			complaints = append(complaints, e.Entry.Text)
			mu.Unlock()
		}
	})()
	_ = proto.LogEnable{}.Call(p)
	p.MustNavigate(url).MustWaitLoad()
	t.Cleanup(func() {
		mu.Lock()
		for _, c := range complaints {
			if _, away := mayBeAway.Load(p); away { // it was taken off the network
				break
			}
			if !strings.Contains(c, "status of 4") { // refusals are asked for
				t.Errorf("the browser complains: %s", c)
			}
		}
		mu.Unlock()
		_ = inc.Close()
	})
	return p
}

// hand counts what a person does.
type hand struct {
	t                testing.TB
	p                *rod.Page
	entries, touches int
}

func (h *hand) typeIn(selector, text string) {
	h.t.Helper()
	h.entries++
	el := h.p.MustElement(selector)
	el.MustSelectAllText().MustInput(text)
}

func (h *hand) touch(selector string) {
	h.t.Helper()
	h.touches++
	e := h.p.MustElement(selector)
	e.MustEval(`() => this.scrollIntoView({block: "center"})`) // clear of the ribbon, as one would
	e.MustClick()
}

// see waits until an element's text holds something.
func (h *hand) see(selector, want string) string {
	h.t.Helper()
	var text string
	for range 100 {
		if els, _ := h.p.Elements(selector); len(els) > 0 {
			if text, _ = els[0].Text(); strings.Contains(text, want) {
				return text
			}
		}
		time.Sleep(50 * time.Millisecond)
	}
	h.t.Fatalf("%s says %q, not %q", selector, text, want)
	return ""
}

// afternoonCSV is a logger's file of a clear February day at Innsbruck, in
// German dress: decimal commas, semicolons.
func afternoonCSV(t testing.TB) string {
	t.Helper()
	var b strings.Builder
	b.WriteString("Time;Inlet °C;Outlet °C;Outside °C\n")
	for m := range 8 * 60 {
		at := time.Date(2026, 2, 10, 9, 0, 0, 0, time.UTC).Add(time.Duration(m) * time.Minute)
		rise := 15 * math.Sin(math.Pi*float64(m)/480)
		fmt.Fprintf(&b, "%s;%s;%s;%s\n", at.Format("02.01.2006 15:04"), comma(21.5+0.2*float64(m%3)), comma(22+rise+0.1*float64(m%4)), comma(-2))
	}
	name := filepath.Join(t.TempDir(), "evening.csv")
	if err := os.WriteFile(name, []byte(b.String()), 0o600); err != nil {
		t.Fatal(err)
	}
	return name
}

func comma(v float64) string { return strings.Replace(fmt.Sprintf("%.1f", v), ".", ",", 1) }

// From an empty home to a judged log: with the first heat figure, and its
// band, after at most three entries and two touches.
func TestJourneyFromEmptyHomeToJudgedLog(t *testing.T) {
	journey(t, 1280, 800)
}

// The same by thumb.
func TestJourneyOnThePhone(t *testing.T) {
	journey(t, 390, 844)
}

func journey(t *testing.T, width, height int) {
	base, _ := workshop(t, false)
	p := visit(t, base+"/", width, height)
	h := &hand{t: t, p: p}
	h.see("aside", "Nothing yet")
	h.typeIn("#pane", "34 x 58 in")
	heat := h.see("#first-heat", "W")
	if band := h.see("#first-band", "to"); band == "" || heat == "" {
		t.Fatal("no figure with a band")
	}
	if h.entries > 3 || h.touches > 2 {
		t.Fatalf("the first figure took %d entries and %d touches", h.entries, h.touches)
	}
	t.Logf("first heat figure with its band: %d entry, %d touches: %s", h.entries, h.touches, heat)
	h.typeIn("#town", "Innsbruck")
	h.see("#town-list", "Innsbruck")
	h.touch("#town-list button")
	h.touch("label[for=r2]")
	h.touch("#start")
	h.see("#heater-name", "Shop heater")
	if h.entries > 3 || h.touches > 3 {
		t.Errorf("starting a heater took %d entries and %d touches", h.entries, h.touches)
	}
	if got := p.MustInfo().URL; !strings.HasSuffix(got, "/box") {
		t.Fatalf("the heater opens at %s", got)
	}
	// A page that is too wide widens the phone's own window: its width is the one asked for.
	if overflow := p.MustEval(`() => document.documentElement.scrollWidth`).Int() - width; overflow > 0 {
		t.Errorf("the box station is %d px wider than the screen", overflow)
	}

	// A foam that would soften is found free, mended by one touch, and the mending undone.
	rev := func() string { return p.MustElement("#revision").MustProperty("value").Str() }
	before, page := rev(), p.MustInfo().URL
	p.MustNavigate(page + "?part=foam").MustWaitLoad()
	p.MustElement("#f-box-foam").MustSelect("foil-faced polyiso foam")
	h.touches++
	waitFor(t, func() bool { return rev() != before })
	p.MustNavigate(page).MustWaitLoad()
	h.see("#find-too-hot-polyiso", "soften")
	was := h.see("#fig-heat", "W")
	h.touch("#find-too-hot-polyiso .try")
	h.see("#notice", "mineral wool")
	if changed := h.see("#fig-heat", "W"); changed == was || width > 820 && !strings.Contains(changed, "by your change") {
		t.Errorf("the ribbon does not show what the change did: %q after %q", changed, was)
	}
	h.touch("#undo")
	h.see("#find-too-hot-polyiso", "soften")

	// A half-typed length keeps the last good drawing; a finished one moves it.
	size := func() string { return p.MustElement(".front").MustProperty("ariaLabel").Str() }
	before = size()
	w := p.MustElement("#f-pane-width_m")
	w.MustSelectAllText().MustInput("30 1/")
	time.Sleep(400 * time.Millisecond)
	if size() != before {
		t.Errorf("30 1/ moved the drawing to %s", size())
	}
	w.MustInput("2 in")
	waitFor(t, func() bool { return size() != before })
	if got := w.MustProperty("value").Str(); got != "30 1/2 in" {
		t.Errorf("the field holds %q while it is typed in", got)
	}

	// Wrong entries get a message with a remedy and change nothing.
	good := size()
	w.MustSelectAllText().MustInput("wide").MustBlur()
	h.see("#w-f-pane-width_m .msg", "write it like")
	if size() != good {
		t.Error("a wrong entry moved the drawing")
	}
	w.MustSelectAllText().MustInput("740 mm").MustBlur()

	// A figure opens its working with the band's causes.
	h.touch("#fig-heat")
	h.see("#working", "m · cp · (To − Ti)")
	if n := len(p.MustElements("#working li")); n != 3 {
		t.Errorf("the working lists %d causes", n)
	}
	h.touch("#working [data-close]")

	// Cut: the pane is in the list at its size.
	h.touch(`.rung[href$="/cut"]`)
	h.see(".cuts", "740 mm")
	h.see(".cuts", "side board")

	// Log: a file is looked at, taken in, and judged.
	h.touch(`.rung[href$="/log"]`)
	h.see("#centre", "No readings yet")
	p.MustElement("#file").MustSetFiles(afternoonCSV(t))
	h.see("#columns-report", "480 readings")
	h.touch("#take-in")
	h.see("#fig-day", "kWh")
	h.see("#fig-day", "to")
	h.see("#side", "expected")
	waitFor(t, func() bool { return p.MustHas("#chart[data-ready]") })
	if n := len(p.MustElements("#chart canvas")); n != 1 {
		t.Errorf("%d charts drawn", n)
	}
	h.touch("#fig-day")
	h.see("#working", "m · cp · D · h ÷ 1000")
	h.touch("#working [data-close]")

	// The same file again changes nothing.
	figure := p.MustElement("#fig-day").MustText()
	p.MustElement("#file").MustSetFiles(afternoonCSV(t))
	h.see("#columns-beside", "in the log already")
	if p.MustHas("#take-in") {
		t.Error("a file that brings nothing can be taken in")
	}
	h.touch(`#columns a.linkish`)
	if got := p.MustElement("#fig-day").MustText(); got != figure {
		t.Errorf("the repeated file moved %q to %q", figure, got)
	}

	// The fan's label as flow: more heat than the sun gave is refused.
	p.MustElement("#f-log-flow_is").MustSelect("measured")
	h.see("#side", "Measured flow")
	f := p.MustElement("#f-log-flow_m3_s")
	f.MustSelectAllText().MustInput("600 m3/h").MustBlur()
	h.see("#doubt-more-than-sun", "Doubt the flow first")
	h.see("#fig-day", "refused")
	if overflow := p.MustEval(`() => document.documentElement.scrollWidth`).Int() - width; overflow > 0 {
		t.Errorf("the log station is %d px wider than the screen", overflow)
	}
}

// The first three minutes, by touch on a phone: a pane typed, the town named, the room
// picked; the fan dragged up cools the air and raises the heat; the fright is mended by a touch and taken back by
// another; a guess is said better; and the page ends on the first pieces to cut.
func TestTheFirstThreeMinutes(t *testing.T) {
	base, s := workshop(t, false)
	p := visit(t, base+"/", 390, 844)
	h := &hand{t: t, p: p}
	h.typeIn("#pane", "34 x 58 in")
	first := h.see("#first-heat", "W")
	h.typeIn("#town", "Innsbruck")
	h.touch("#town-list button")
	h.see("#sheet", "there at")
	h.touch("label[for=r2]")
	h.see("#first-share", "%")
	number := func(sel string) float64 {
		v := 0.0
		_, _ = fmt.Sscanf(strings.ReplaceAll(p.MustElement(sel).MustText(), ",", ""), "%f", &v)
		return v
	}
	heat, out := number("#first-heat"), number("#first-out")
	p.MustElement("#fan").MustEval(`() => { this.value = 200; this.dispatchEvent(new Event("input", { bubbles: true })); }`)
	h.touches++
	waitFor(t, func() bool { return number("#first-out") < out-1 && number("#first-heat") > heat })
	p.MustElement(`.guesses [aria-label="Cover"]`).MustSelect("low-iron glass")
	waitFor(t, func() bool { return p.MustHas(`.guesses [aria-label="Insulation"]`) })
	p.MustElement(`.guesses [aria-label="Insulation"]`).MustSelect("foil-faced polyiso foam")
	h.touches += 2
	h.see("#sheet .finding.danger", "polyiso")
	h.touch("#mend")
	waitFor(t, func() bool { return p.MustHas("[data-unmend]") })
	if els, _ := p.Elements("#sheet .finding.danger"); len(els) > 0 && strings.Contains(els[0].MustText(), "polyiso") {
		t.Error("the fright is not mended")
	}
	h.touch("[data-unmend]")
	h.see("#sheet .finding.danger", "polyiso")
	h.touch("#mend")
	waitFor(t, func() bool { return p.MustHas("[data-unmend]") })
	h.see(".first-cut", "×")
	if n := len(p.MustElements(".guesses select")); n != 3 {
		t.Errorf("%d guesses", n)
	}
	h.touch("#start")
	h.see("#heater-name", "Shop heater")
	d := stateOf(t, s, 1).Document
	if d.Box.Foam == "polyiso" || d.Place.Town == "" || d.Entries["air.fan_free_air_m3_s"].Origin != design.Yours {
		t.Errorf("started with %s, %q, %+v", d.Box.Foam, d.Place.Town, d.Entries["air.fan_free_air_m3_s"])
	}
	if _, theirs := d.Entries["absorber.paint"]; theirs {
		t.Error("a guess that nobody touched became theirs")
	}
	t.Logf("from an empty home to a heater with its fan, its fright mended: %d entries, %d touches; first figure %s", h.entries, h.touches, first)
	// On to a proposed heater: the station's months, the search, taken over whole.
	h.touch(`.rung[href$="/place"]`)
	h.touch("#ask-weather")
	waitFor(t, func() bool { return len(stateOf(t, s, 1).Document.Climate.Months) == 12 })
	h.touch(`.rung[href$="/stock"]`)
	h.touch("#work-it-out")
	waitLong(t, 90*time.Second, func() bool { return p.MustHas("#take-all") })
	was := stateOf(t, s, 1).Revision
	h.touch("#take-all")
	waitFor(t, func() bool { return stateOf(t, s, 1).Revision > was })
	t.Logf("from an empty home to a proposed heater by touch: %d entries, %d touches", h.entries, h.touches)
}

// From an empty home to a proposed heater by the keyboard alone: a pane, three facts of
// the weather, and the search.
func TestNewcomerByKeyboardAlone(t *testing.T) {
	base, s := workshop(t, false)
	p := visit(t, base+"/", 1280, 800)
	keys := 0
	press := func(k ...input.Key) {
		keys += len(k)
		p.Keyboard.MustType(k...)
	}
	entries := 0
	// tab goes on until the focus is where a person wants it.
	tab := func(sel string) {
		t.Helper()
		for range 90 {
			if p.MustEval(`(s) => document.activeElement?.matches(s)`, sel).Bool() {
				return
			}
			press(input.Tab)
		}
		t.Fatalf("no way by tab to %s", sel)
	}
	text := func(s string) { entries++; p.MustInsertText(s) }
	tab("#pane")
	text("860 x 1480 mm")
	waitFor(t, func() bool { return p.MustHas("#first-heat") })
	tab("#town")
	text("Innsbruck")
	waitFor(t, func() bool { return p.MustHas("#town-list button") })
	tab("#town-list button")
	press(input.Enter)
	waitFor(t, func() bool { v := p.MustElement("#town_id").MustProperty("value").Str(); return v != "" })
	tab("#start")
	press(input.Enter)
	waitFor(t, func() bool { return p.MustHas("#heater-name") })
	// "b" goes back through the stations: box, stock, need, place.
	p.MustEval(`() => document.activeElement.blur()`)
	station := func(end string) {
		waitFor(t, func() bool {
			i, err := p.Info()
			return err == nil && strings.HasSuffix(i.URL, end) && p.MustHas("#ladder")
		})
		p.MustWaitLoad()
	}
	press(input.KeyB)
	station("/stock")
	press(input.KeyB)
	station("/need")
	press(input.KeyB)
	station("/place")
	for _, x := range [][2]string{{"#f-climate-coldest_c", "-3"}, {"#f-climate-warmest_c", "18"}, {"#f-climate-sunny_days", "5"}} {
		tab(x[0])
		press(input.ControlLeft)
		p.MustElement(x[0]).MustSelectAllText()
		text(x[1])
	}
	waitFor(t, func() bool { return stateOf(t, s, 1).Document.Climate.Sunny == 5 })
	p.MustEval(`() => document.activeElement.blur()`)
	press(input.KeyN)
	station("/need")
	press(input.KeyN)
	station("/stock")
	tab("#work-it-out")
	press(input.Enter)
	waitLong(t, 90*time.Second, func() bool { return p.MustHas("#take-all") })
	tab("#take-all")
	press(input.Enter)
	waitFor(t, func() bool { return strings.Contains(p.MustElement("#notice").MustText(), "taken over") })
	t.Logf("from an empty home to a proposed heater by the keyboard: %d entries, %d keys beside them", entries, keys)
}

func waitFor(t testing.TB, done func() bool) {
	t.Helper()
	waitLong(t, 20*time.Second, done)
}

// waitLong waits for what takes a machine with much else to do its time.
func waitLong(t testing.TB, most time.Duration, done func() bool) {
	t.Helper()
	var trouble error
	for end := time.Now().Add(most); time.Now().Before(end); time.Sleep(50 * time.Millisecond) {
		is := false
		// A page on its way to the next has no document to look into: that is not yet, and no failure.
		if trouble = rod.Try(func() { is = done() }); is {
			return
		}
	}
	t.Fatal("it never happened", trouble)
}

// Closing the tab in the middle of an entry loses nothing that was read.
func TestClosedTabLosesNothing(t *testing.T) {
	base, _ := workshop(t, true)
	p := visit(t, base+"/h/3/box", 1280, 800)
	w := p.MustElement("#f-pane-width_m")
	w.MustSelectAllText().MustInput("1066 mm")
	waitFor(t, func() bool {
		return strings.Contains(p.MustElement(".front").MustProperty("ariaLabel").Str(), "1,102 mm")
	})
	p.MustClose()
	q := visit(t, base+"/h/3/box", 1280, 800)
	if got := q.MustElement("#f-pane-width_m").MustProperty("value").Str(); got != "1066 mm" {
		t.Errorf("opened again, the width is %q", got)
	}
}

// Focus, scroll, selection and the half-typed text stay while the rest of the
// page moves; another field's entry is not touched.
func TestFocusScrollAndSelectionStay(t *testing.T) {
	base, _ := workshop(t, true)
	p := visit(t, base+"/h/2/box?part=air", 1280, 700)
	p.MustEval(`() => window.scrollTo(0, 140)`)
	el := p.MustElement("#f-air-to_box_m")
	el.MustFocus()
	scroll := p.MustEval(`() => scrollY`).Int()
	el.MustSelectAllText().MustInput("2.75")
	p.MustEval(`() => document.activeElement.setSelectionRange(1, 3)`)
	was := p.MustElement("#fig-flow").MustText()
	p.MustEval(`() => { const e = document.querySelector("#f-air-to_box_m"); e.dispatchEvent(new Event("input", {bubbles: true})); }`)
	waitFor(t, func() bool {
		return strings.Contains(p.MustElement("#fig-flow").MustText(), "by your change") || p.MustElement("#fig-flow").MustText() != was
	})
	got := p.MustEval(`() => [document.activeElement.id, document.activeElement.selectionStart, document.activeElement.selectionEnd, document.activeElement.value, scrollY]`).Arr()
	if got[0].Str() != "f-air-to_box_m" || got[1].Int() != 1 || got[2].Int() != 3 || got[3].Str() != "2.75" || got[4].Int() != scroll {
		t.Errorf("after the swap: %v, scroll was %d", got, scroll)
	}
}

// Two pages on one heater: both fields go in.
func TestTwoPagesOnOneHeater(t *testing.T) {
	base, s := workshop(t, true)
	a, b := visit(t, base+"/h/2/box", 1280, 800), visit(t, base+"/h/2/box", 390, 844)
	a.MustElement("#f-pane-width_m").MustSelectAllText().MustInput("700 mm").MustBlur()
	b.MustElement("#f-pane-height_m").MustSelectAllText().MustInput("1200 mm").MustBlur()
	waitFor(t, func() bool {
		st, err := s.Get(context.Background(), 2)
		return err == nil && math.Abs(st.Document.Pane.Width-0.7) < 1e-9 && math.Abs(st.Document.Pane.Height-1.2) < 1e-9
	})
}

// Units and theme are one touch and stay.
// Every way of making is chosen by its picture, drawn, and its own sizes are
// edited in place; undo brings the first one back. One touch a family.
func TestEveryFamilyIsChosenAndEdited(t *testing.T) {
	base, s := workshop(t, true)
	p := visit(t, base+"/h/3/box?part=absorber", 1280, 800)
	h := &hand{t: t, p: p}
	first, err := s.Get(context.Background(), 3)
	if err != nil {
		t.Fatal(err)
	}
	before, _ := design.Encode(first.Document)
	edits := 0
	for _, x := range []struct{ family, field, typed, drawn string }{
		{"can-columns", "f-absorber-cans-height_m", "150 mm", "columns of cans"},
		{"downpipes", "f-absorber-pipes-width_m", "90 mm", "downpipes"},
		{"ribbed-coil", "f-absorber-coil-bore_m", "80 mm", "ribbed duct"},
		{"front-pass-plate", "f-absorber-plate-thickness_m", "1 mm", "plate"},
		{"double-pass-plate", "f-absorber-plate-channel_m", "30 mm", "plate"},
		{"double-pass-tubes", "f-absorber-pipes-behind_m", "40 mm", "downpipes"},
		{"window-panel", "f-absorber-panel-gap_m", "70 mm", "black foil"},
		{"passive-box", "f-absorber-plate-channel_m", "80 mm", "plate"},
		{"own", "f-absorber-own-passages-0-depth_m", "35 mm", "your absorber"},
		{"screen-box", "f-absorber-screens-layers", "3", "3 black screens"},
	} {
		h.touch("#fam-" + x.family)
		waitFor(t, func() bool { return p.MustHas("#fam-" + x.family + "[aria-pressed=true]") })
		waitFor(t, func() bool { return p.MustHas("#" + x.field) })
		was := p.MustElement("#ribbon").MustText()
		h.typeIn("#"+x.field, x.typed)
		waitFor(t, func() bool { return p.MustElement("#ribbon").MustText() != was })
		waitFor(t, func() bool {
			return strings.Contains(p.MustElement("svg.section").MustProperty("textContent").Str(), x.drawn)
		})
		if !p.MustHas(".front .absorber") || !p.MustHas("#centre .energy") {
			t.Errorf("%s is not drawn", x.family)
		}
		edits += 2
	}
	if h.touches != 10 {
		t.Errorf("%d touches for ten families", h.touches)
	}
	for range 4 * edits { // slow typing is more than one step
		if now, err := s.Get(context.Background(), 3); err == nil {
			if b, _ := design.Encode(now.Document); bytes.Equal(b, before) {
				return
			}
		}
		if p.MustHas("#undo[disabled]") {
			break
		}
		revision := p.MustElement("#revision").MustProperty("value").Str()
		h.touch("#undo")
		waitFor(t, func() bool { return p.MustElement("#revision").MustProperty("value").Str() != revision })
	}
	now, _ := s.Get(context.Background(), 3)
	if b, _ := design.Encode(now.Document); !bytes.Equal(b, before) {
		t.Error("undoing it all does not bring the first box back")
	}
}

// The season station works the year out by itself, says so on the ladder, offers
// what would change it, and takes a remedy with one touch and back with another; without
// the facts of the weather it names the one that is missing.
func TestAYearInItsSpace(t *testing.T) {
	base, _ := workshop(t, true)
	p := visit(t, base+"/h/3/season", 1280, 1500)
	h := &hand{t: t, p: p}
	judged := func() {
		waitFor(t, func() bool { return p.MustHas("#year svg.months") && p.MustHas("#judged .findings .try") })
	}
	judged()
	useful := func() string {
		if !p.MustHas("#year .sums dd") {
			return ""
		}
		return p.MustElement("#year .sums dd").MustText()
	}
	first := useful()
	if line := p.MustElement("#line-season").MustText(); !strings.Contains(line, "of the need") {
		t.Errorf("the ladder says %q", line)
	}
	if p.MustElement("#find-year-tilt .gain").MustText() == "" {
		t.Error("another lean has no gain")
	}
	h.touch("#find-year-tilt summary")
	h.touch("#find-year-tilt .try")
	waitFor(t, func() bool { return useful() != "" && useful() != first })
	judged()
	h.touch("#undo")
	waitFor(t, func() bool { return useful() == first })
	judged()
	h.touch("#f-climate-coldest_c")
	h.touch("#w-f-climate-coldest_c button")
	// The town alone still has a year, by the stations around it.
	waitFor(t, func() bool { return useful() != "" && useful() != first })
	judged()
	h.touch("#undo")
	waitFor(t, func() bool { return useful() == first })
	judged()
	p.MustNavigate(base + "/h/3/need").MustWaitLoad()
	loss := p.MustElement("#centre .sums dd").MustText()
	h.typeIn("#f-room-floor_m2", "36")
	waitFor(t, func() bool { return p.MustElement("#centre .sums dd").MustText() != loss })
	if !strings.Contains(p.MustElement("#line-need").MustText(), "36") {
		t.Error("the need's rung does not say the new floor")
	}
	if h.entries != 1 || h.touches != 6 {
		t.Errorf("%d entries, %d touches", h.entries, h.touches)
	}
}

// The switch station plays a day: the chart is drawn, the sky is one touch, a
// new point is one entry that redraws day and curve and keeps the focus, and
// undo brings the day back.
func TestPlayingADay(t *testing.T) {
	base, _ := workshop(t, true)
	p := visit(t, base+"/h/3/switch", 1280, 900)
	h := &hand{t: t, p: p}
	ready := func() {
		waitFor(t, func() bool {
			return p.MustHas("#chart[data-ready]") && p.MustHas("#curve svg.settings") && p.MustHas("#switchmonths svg")
		})
	}
	ready()
	heat := func() string { return p.MustElement(".sums dd").MustText() }
	clear := heat()
	h.touch(".chart-head nav a:nth-child(3)")
	waitFor(t, func() bool { return p.MustHas("#chart[data-ready]") && heat() != clear })
	if !strings.Contains(p.MustElement("#centre h2").MustText(), "broken") {
		t.Error("the sky chosen is not said")
	}
	ready() // a page left while its curve is on the way complains of it
	p.MustNavigate(base + "/h/3/switch").MustWaitLoad()
	ready()
	h.typeIn("#f-switch-close_c", "48")
	waitFor(t, func() bool { return heat() != clear })
	ready()
	if id := p.MustEval("() => document.activeElement.id").Str(); id != "f-switch-close_c" {
		t.Errorf("the focus went to %q", id)
	}
	if !strings.Contains(p.MustElement("#ladder").MustText(), "on at 48") {
		t.Error("the rung does not say the new point")
	}
	h.touch("#undo")
	waitFor(t, func() bool { return heat() == clear })
	ready()
	if h.entries != 1 || h.touches != 2 {
		t.Errorf("%d entries, %d touches", h.entries, h.touches)
	}
}

// What stands in the sun's way is drawn over the tracks with the mouse, typed by the keyboard in fists, and taken back;
// what it costs follows. The weather station's months, a pasted table and a file come in, each by itself.
func TestPlaceAndItsWeather(t *testing.T) {
	base, s := workshop(t, true)
	p := visit(t, base+"/h/1/place", 1280, 900)
	h := &hand{t: t, p: p}
	h.touch("[data-draw=tree]")
	box := p.MustElement("#horizon .wide svg").MustShape().Box()
	at := func(x, y float64) { p.Mouse.MustMoveTo(box.X+x*box.Width, box.Y+y*box.Height) }
	at(0.45, 0.86)
	p.Mouse.MustDown(proto.InputMouseButtonLeft)
	at(0.5, 0.6)
	at(0.55, 0.45)
	p.Mouse.MustUp(proto.InputMouseButtonLeft)
	waitFor(t, func() bool { return len(stateOf(t, s, 1).Document.Shade.Horizon) == 1 })
	o := stateOf(t, s, 1).Document.Shade.Horizon[0]
	if o.Kind() != "tree" || o.Elevation < 15 || o.Elevation > 50 || o.To-o.From < 20 || o.To-o.From > 32 {
		t.Errorf("drawn: %+v", o)
	}
	h.see("#centre", "the tree from")
	p.MustElement("#f-shade-horizon").MustSelectAllText().MustInput("100 to 140: 2 fists, evergreen")
	p.MustElement("#f-place-tilt_deg").MustFocus()
	waitFor(t, func() bool { o := stateOf(t, s, 1).Document.Shade.Horizon; return len(o) == 1 && o[0].Elevation == 20 })
	p.MustElement("#f-shade-horizon").MustSelectAllText().MustInput("100 to 140: tall")
	p.MustElement("#f-place-tilt_deg").MustFocus()
	h.see("#w-f-shade-horizon .msg", "line 1")
	if stateOf(t, s, 1).Document.Shade.Horizon[0].Elevation != 20 {
		t.Error("a wrong line changed the horizon")
	}
	h.touch("#ask-weather")
	waitFor(t, func() bool { return len(stateOf(t, s, 1).Document.Climate.Months) == 12 })
	h.see("#weather-now", "table of months")
	doc := stateOf(t, s, 1).Document
	y, err := climate.Of(&doc)
	if err != nil {
		t.Fatal(err)
	}
	file := filepath.Join(t.TempDir(), "aldermoor.epw")
	var epw bytes.Buffer
	y.Place = "Aldermoor"
	if err := climate.WriteEPW(&epw, y); err != nil {
		t.Fatal(err)
	}
	if err := os.WriteFile(file, epw.Bytes(), 0o600); err != nil {
		t.Fatal(err)
	}
	p.MustElement("#weather").MustSetFiles(file)
	waitFor(t, func() bool { return stateOf(t, s, 1).Document.Climate.File != "" })
	h.see("#weather-now", "Aldermoor")
	p.MustNavigate(base + "/h/1/season").MustWaitLoad()
	h.see("#year", "Aldermoor")
	waitFor(t, func() bool { return p.MustHas("#judged p .figure-text") })
}

// From an empty shed: a pane and screen noted with the tape's own words, a wrong size told
// its remedy and kept, the boxes ranked, the search run with its progress, and the proposal taken over whole, one undo away.
func TestTheShedAndWhatItMakes(t *testing.T) {
	base, s := workshop(t, true)
	for _, it := range must(s.Stock(context.Background()))(t) {
		if err := s.DropStock(context.Background(), it.ID); err != nil {
			t.Fatal(err)
		}
	}
	p := visit(t, base+"/h/2/stock", 1280, 1000)
	h := &hand{t: t, p: p}
	h.see("#centre", "Nothing noted yet")
	fill := func(sel, text string) {
		if e := p.MustElement(sel); text != "" {
			e.MustSelectAllText().MustInput(text)
		}
	}
	fill("#thing-size", "900 by")
	h.touch(".thing-form .act")
	h.see("#thing-error", "34 x 58")
	if v := p.MustElement("#thing-size").MustProperty("value").Str(); v != "900 by" {
		t.Errorf("the refused size became %q", v)
	}
	fill("#thing-size", "900 x 1500 mm")
	fill("#thing-count", "2")
	h.touch(".thing-form .act")
	waitFor(t, func() bool { return len(must(s.Stock(context.Background()))(t)) == 1 })
	h.see(".ranked", "900 × 1,500 mm")
	waitFor(t, func() bool { return p.MustElement("#thing-size").MustProperty("value").Str() == "" })
	p.MustElement("#thing-what").MustSelect("black aluminium insect screen")
	fill("#thing-size", "1.2 m x 3 m")
	h.touch(".thing-form .act")
	waitFor(t, func() bool { return len(must(s.Stock(context.Background()))(t)) == 2 })
	p.MustElement("select[name=ground]").MustSelect("colder")
	h.touch(".thing-row .act.second")
	h.see("#verdict", "Do not use it")
	fill("#budget", "a lot")
	h.touch("#work-it-out")
	h.see("#sized", "not a sum of money")
	fill("#budget", "150")
	h.touch("#work-it-out")
	h.see("#sized", "years")
	waitLong(t, 90*time.Second, func() bool { return p.MustHas("#take-all") })
	h.see("#sized .sized", "years were run")
	before := stateOf(t, s, 2).Document
	h.touch("#take-all")
	waitFor(t, func() bool { return stateOf(t, s, 2).Document.Pane.Width == 0.9 })
	if d := stateOf(t, s, 2).Document; d.Pane.Height != 1.5 || len(design.Validate(&d)) > 0 {
		t.Errorf("taken over: %+v", d.Pane)
	}
	h.touch("#undo")
	waitFor(t, func() bool { return stateOf(t, s, 2).Document.Pane == before.Pane })
	// Called off, it stops at once and says so.
	h.touch("#work-it-out")
	h.touches++ // at once, before the search has ended
	p.MustEval(`async () => { for (;;) { const b = document.querySelector(".job button"); if (b) { b.click(); return; } await new Promise(r => setTimeout(r, 5)); } }`)
	h.see("#sized", "Called off")
}

func must[T any](v T, err error) func(t testing.TB) T {
	return func(t testing.TB) T {
		t.Helper()
		if err != nil {
			t.Fatal(err)
		}
		return v
	}
}

// Four versions are branched, changed and laid side by side: only what differs is shown, a
// choice is taken across and taken back, a version gets a name and a taken name is refused.
func TestFourVersionsCompared(t *testing.T) {
	base, s := workshop(t, true)
	bg := context.Background()
	for i := range 3 {
		st := must(s.Branch(bg, stateOf(t, s, 3).Seen()))(t)
		must(s.Edit(bg, st.Seen(), "foam", units.System{}, design.Change{Path: "box.back_foam_m", Value: 0.02 + 0.02*float64(i)}))(t)
	}
	p := visit(t, base+"/h/3/box", 1280, 900)
	h := &hand{t: t, p: p}
	h.touch("#beside")
	h.see(".versions", "What differs")
	if n := len(p.MustElements(".version-front svg")); n != 4 {
		t.Errorf("%d drawings", n)
	}
	text := p.MustElement(".beside").MustText()
	for _, want := range []string{"Foam behind", "20 mm", "40 mm", "60 mm", "useful heat of a year", "measured, best day logged"} {
		if !strings.Contains(text, want) {
			t.Errorf("not shown: %s", want)
		}
	}
	if strings.Contains(text, "Pane width") {
		t.Error("what is alike is shown")
	}
	was := stateOf(t, s, 3).Document.Box.BackFoam
	h.touch(".beside [aria-label^='take over: Foam behind 40']")
	waitFor(t, func() bool { return stateOf(t, s, 3).Document.Box.BackFoam == 0.04 })
	h.see("#notice", "taken from C")
	h.touch("#undo")
	waitFor(t, func() bool { return stateOf(t, s, 3).Document.Box.BackFoam == was })
	p.MustElement("[aria-label='Name of version B']").MustSelectAllText().MustInput("thin back").MustType(input.Enter)
	h.see(".beside", "thin back")
	waitFor(t, func() bool { return p.MustHas("[aria-label='Name of version thin back']") })
	p.MustElement("[aria-label='Name of version C']").MustSelectAllText().MustInput("A").MustType(input.Enter)
	h.see("#notice", "choose another")
}

// A field is tried through the year with its progress; one of its values is taken.
func TestTryingThroughTheYear(t *testing.T) {
	base, s := workshop(t, true)
	p := visit(t, base+"/h/3/season", 1280, 900)
	h := &hand{t: t, p: p}
	waitFor(t, func() bool { return p.MustHas("#judged p .figure-text") })
	p.MustElement("#sweep-of").MustSelect("lean")
	h.touch("#sweep")
	waitLong(t, 60*time.Second, func() bool { return p.MustHas("#swept table") })
	h.see("#swept", "The year brings most")
	if n := len(p.MustElements("#swept tbody tr")); n < 8 {
		t.Errorf("%d values were tried", n)
	}
	was := stateOf(t, s, 3).Document.Place.Tilt
	p.MustElement("#swept tbody tr:first-child button").MustClick()
	waitFor(t, func() bool { return stateOf(t, s, 3).Document.Place.Tilt == 20 && was != 20 })
	h.see("#year", "What it came to before")
}

// The way of the air: a bend more costs flow, a change is taken over and back, the fan moves
// to the other end.
func TestTheWayOfTheAir(t *testing.T) {
	base, s := workshop(t, true)
	p := visit(t, base+"/h/2/air", 1280, 900)
	h := &hand{t: t, p: p}
	flow := func() string { return p.MustElement(".sums dd").MustText() }
	was, bends := flow(), stateOf(t, s, 2).Document.Air.Bends
	h.touch("#adjust-air-bends button:last-child")
	waitFor(t, func() bool { return stateOf(t, s, 2).Document.Air.Bends == bends+1 && flow() != was })
	h.touch("#undo")
	waitFor(t, func() bool { return flow() == was })
	side := stateOf(t, s, 2).Document.Air.FanSide
	h.touch("#fan-side")
	waitFor(t, func() bool { return stateOf(t, s, 2).Document.Air.FanSide != side })
	// Dragged over the box, a bend lies before it no more; the fan goes to the other end.
	in, at := stateOf(t, s, 2).Document.Air.BendsIn, stateOf(t, s, 2).Document.Air.FanSide
	drag := func(sel string, to float64) {
		t.Helper()
		p.MustElement("#air-route").MustEval(`() => this.scrollIntoView({block: "center"})`)
		b := p.MustElement(sel).MustShape().Box()
		strip := p.MustElement("#air-route .wide svg").MustShape().Box()
		p.Mouse.MustMoveTo(b.X+b.Width/2, b.Y+b.Height/2).MustDown(proto.InputMouseButtonLeft)
		p.Mouse.MustMoveTo(strip.X+to*strip.Width, b.Y+b.Height/2)
		p.Mouse.MustUp(proto.InputMouseButtonLeft)
	}
	drag("#air-route .wide [data-piece='air.bends_before'][data-side=before]", 0.8)
	waitFor(t, func() bool { return stateOf(t, s, 2).Document.Air.BendsIn == math.Max(0, in-1) })
	far := 0.98
	if at == "outlet" {
		far = 0.02
	}
	// The page follows what is saved a moment later; a drag across its coming would be lost.
	shown := func() bool {
		return p.MustElement("#revision").MustProperty("value").Str() == fmt.Sprint(stateOf(t, s, 2).Revision) && p.MustHas("#air-route .wide [data-fan]")
	}
	waitFor(t, shown)
	drag("#air-route .wide [data-fan]", far)
	waitFor(t, func() bool { return stateOf(t, s, 2).Document.Air.FanSide != at })
	waitFor(t, shown)
	h.touch("[aria-label^='do it: a duct of']")
	h.see("#notice", "taken over")
	h.see("#line-air", "125 mm")
}

// A phone loses the network in the middle of its edits: they wait, are seen waiting, outlive
// the closed tab, and are sent when the workshop answers again. Laptop and phone edit one heater by turns: nothing is lost, leaving a field
// sends nothing old again, and the page that stood still follows.
func TestEditsWaitAndTwoBrowsers(t *testing.T) {
	base, s := workshop(t, true)
	p := visit(t, base+"/h/1/box", 390, 844)
	h := &hand{t: t, p: p}
	if err := (proto.NetworkEnable{}).Call(p); err != nil {
		t.Fatal(err)
	}
	away := func(on bool) {
		if err := (proto.NetworkEmulateNetworkConditions{Offline: on, DownloadThroughput: -1, UploadThroughput: -1}).Call(p); err != nil {
			t.Fatal(err)
		}
	}
	p.MustElement("#f-pane-width_m").MustEval(`() => this.scrollIntoView({block: "center"})`)
	away(true)
	mayBeAway.Store(p, true)
	h.typeIn("#f-pane-width_m", "900 mm")
	h.see("#waiting", "One change waits")
	h.typeIn("#f-pane-height_m", "1500 mm")
	h.see("#waiting", "2 changes wait")
	if stateOf(t, s, 1).Document.Pane.Width == 0.9 {
		t.Error("it was sent after all")
	}
	away(false)
	waitFor(t, func() bool { d := stateOf(t, s, 1).Document; return d.Pane.Width == 0.9 && d.Pane.Height == 1.5 })
	waitFor(t, func() bool { return p.MustEval(`() => document.querySelector("#waiting").hidden`).Bool() })

	laptop := visit(t, base+"/h/1/box", 1280, 900)
	phone := visit(t, base+"/h/1/box", 390, 844)
	l, f := &hand{t: t, p: laptop}, &hand{t: t, p: phone}
	for i := range 4 {
		l.typeIn("#f-pane-width_m", fmt.Sprintf("%d mm", 910+i))
		f.typeIn("#f-pane-height_m", fmt.Sprintf("%d mm", 1510+i))
		waitFor(t, func() bool {
			d := stateOf(t, s, 1).Document
			return math.Abs(d.Pane.Width-0.910-0.001*float64(i)) < 1e-9 && math.Abs(d.Pane.Height-1.510-0.001*float64(i)) < 1e-9
		})
	}
	f.typeIn("#f-pane-width_m", "800 mm")
	waitFor(t, func() bool { return stateOf(t, s, 1).Document.Pane.Width == 0.8 })
	laptop.MustElement("#fig-heat").MustFocus()
	waitFor(t, func() bool {
		v, err := laptop.Eval(`() => document.querySelector("#f-pane-width_m").value`)
		return err == nil && v.Value.Str() == "800 mm"
	})
	if w := stateOf(t, s, 1).Document.Pane.Width; w != 0.8 {
		t.Errorf("the laptop, its field left, set the width back to %v", w)
	}
}

// A page shows version A while another opens B: its edit and its undo land in neither, the page is
// told and asked, and either answer does what it says.
func TestPageBehindIsAsked(t *testing.T) {
	base, s := workshop(t, true)
	a := stateOf(t, s, 1)
	p := visit(t, base+"/h/1/box", 1280, 900)
	h := &hand{t: t, p: p}
	b := must(s.Branch(context.Background(), a.Seen()))(t)
	widths := func() (out [2]float64) {
		for i, x := range must(s.Heads(context.Background(), 1))(t) {
			out[i] = x.Document.Pane.Width
		}
		return out
	}
	was := widths()
	h.typeIn("#f-pane-width_m", "900 mm")
	h.see("#notice", "Version B was opened on another page")
	if widths() != was {
		t.Fatalf("widths %v, were %v", widths(), was)
	}
	h.touch("#notice button")
	waitFor(t, func() bool { return widths() == [2]float64{0.9, was[1]} })
	if st := stateOf(t, s, 1); st.Version != a.Version {
		t.Errorf("version %s is open", st.Name)
	}
	// Another page edits the same version: undo does not take that back unasked.
	must(s.Edit(context.Background(), stateOf(t, s, 1).Seen(), "Pane height", units.System{}, design.Change{Path: "pane.height_m", Value: 1.3}))(t)
	h.touch("#undo")
	h.see("#notice", "Another page has changed this heater since (Pane height)")
	if got := stateOf(t, s, 1).Document.Pane.Height; got != 1.3 {
		t.Errorf("height %v", got)
	}
	h.touch("#notice button")
	waitFor(t, func() bool {
		d := stateOf(t, s, 1).Document
		return d.Pane.Height == a.Document.Pane.Height && d.Pane.Width == 0.9
	})
	if got := stateOf(t, s, 1).Version; got == b.Version {
		t.Error("B was opened")
	}
}

// A change that waited and is refused stays with its reason, and goes only when it is discarded.
func TestRefusedEditsStay(t *testing.T) {
	base, s := workshop(t, true)
	p := visit(t, base+"/h/1/box", 390, 844)
	h := &hand{t: t, p: p}
	was := stateOf(t, s, 1).Document.Pane.Width
	p.MustEval(`(entry) => localStorage.setItem("ember-waiting", JSON.stringify([entry]))`, map[string]any{
		"action": "/h/1/edit", "path": "pane.width_m", "label": "Pane width", "seen": fmt.Sprintf("%d.%d.x", stateOf(t, s, 1).Version, stateOf(t, s, 1).Revision),
		"body": [][]string{{"path", "pane.width_m"}, {"typed", "ninety"}, {"station", "box"}},
	})
	p.MustEval(`() => document.querySelector("[data-send-now]").click()`)
	h.see("#waiting", "Pane width was not changed")
	p.MustReload().MustWaitLoad()
	h.see("#waiting", "Pane width was not changed")
	h.touch("[data-drop-refused]")
	waitFor(t, func() bool { return p.MustEval(`() => document.querySelector("#waiting").hidden`).Bool() })
	if got := stateOf(t, s, 1).Document.Pane.Width; got != was {
		t.Errorf("width %v", got)
	}
}

// The day is dragged by its time bar: clock, sun and air follow. The switch's points
// are moved by keys and by the mouse on the chart itself, and come into the document.
func TestDraggingADay(t *testing.T) {
	base, s := workshop(t, true)
	p := visit(t, base+"/h/3/switch?sky=frosty", 1280, 1100)
	ready := func() {
		waitFor(t, func() bool {
			return p.MustHas("#chart[data-ready]") && p.MustHas("#curve svg.settings") && p.MustHas("#switchmonths svg")
		})
	}
	ready()
	// stale marks what stands there, so that ready waits for what comes instead.
	stale := func() { p.MustEval(`() => { delete document.querySelector("#chart").dataset.ready; }`) }
	at := func(name string) string {
		return p.MustEval(`(n) => document.querySelector('[data-play="' + n + '"]').textContent`, name).Str()
	}
	move := func(minute int) {
		p.MustEval(`(m) => { const b = document.querySelector("#minute"); b.value = m; b.dispatchEvent(new Event("input")); }`, minute)
	}
	move(0)
	dawn, cold := at("clock"), at("platewarm")
	if p.MustElement(`[data-play=moving]`).MustEval(`() => this.getAttribute("visibility")`).Str() != "hidden" {
		t.Error("air moves at dawn")
	}
	p.MustElement("#minute").MustFocus()
	p.Keyboard.MustType(input.End)
	move(270)
	if at("clock") <= dawn || at("platewarm") == cold || at("fan") != "fan runs" || !strings.HasPrefix(at("out"), "out ") {
		t.Errorf("at noon: %s, %s, %s, %s", at("clock"), at("platewarm"), at("fan"), at("out"))
	}
	// One degree up by a key, once it has rested.
	was := stateOf(t, s, 3).Document.Switch
	stale()
	p.MustElement("[data-point=close]").MustFocus()
	p.Keyboard.MustType(input.ArrowUp)
	waitFor(t, func() bool { return stateOf(t, s, 3).Document.Switch.Close == was.Close+1 })
	ready()
	waitFor(t, func() bool { return p.MustEval("() => document.activeElement.dataset.point").Str() == "close" })
	if !strings.Contains(p.MustElement("#centre h2").MustText(), "frosty") {
		t.Error("the day was changed by the edit")
	}
	if p.MustElement("#minute").MustProperty("value").Str() != "270" {
		t.Error("the time bar sprang back")
	}
	stale()
	box := p.MustElement("[data-point=open]").MustShape().Box()
	p.Mouse.MustMoveTo(box.X+box.Width/2, box.Y+box.Height/2).MustDown(proto.InputMouseButtonLeft)
	p.Mouse.MustMoveTo(box.X+box.Width/2, box.Y+box.Height/2+25)
	p.Mouse.MustUp(proto.InputMouseButtonLeft)
	waitFor(t, func() bool { return stateOf(t, s, 3).Document.Switch.Open < was.Open-2 })
	ready()
	// A logged day is played with its own sun and air.
	p.MustNavigate(base + "/h/3/switch").MustWaitLoad()
	ready()
	p.MustElement(".logged summary").MustClick()
	there := p.MustWaitNavigation()
	p.MustElement(".logged a").MustClick()
	there()
	p.MustWaitLoad()
	waitFor(t, func() bool {
		return strings.Contains(p.MustElement("#centre h2").MustText(), "as it was logged") && p.MustHas("#chart[data-ready]")
	})
	waitFor(t, func() bool { return p.MustHas("#switchmonths svg") })
}

func stateOf(t testing.TB, s *store.Store, heater int64) store.State {
	t.Helper()
	st, err := s.Get(context.Background(), heater)
	if err != nil {
		t.Fatal(err)
	}
	return st
}

func TestUnitsAndTheme(t *testing.T) {
	base, _ := workshop(t, true)
	p := visit(t, base+"/h/3/cut", 1280, 800)
	h := &hand{t: t, p: p}
	h.touch("button[value=length]")
	h.see(".cuts", "40 15/16 in")
	h.touch("button[value=heat]")
	h.see("#fig-outlet", "°F")
	h.touch("button[name=theme]")
	waitFor(t, func() bool { return p.MustHas("html[data-theme=dark]") })
	if p.MustNavigate(base + "/h/3/box").MustWaitLoad(); !strings.Contains(p.MustElement(".front").MustProperty("ariaLabel").Str(), " in by ") {
		t.Error("inches are forgotten at the next station")
	}
}

// settled waits until what a page fetches by itself is there.
func settled(t testing.TB, p *rod.Page) {
	t.Helper()
	waitLong(t, time.Minute, func() bool { return !p.MustHas("#questions[hx-get]") })
	waitFor(t, func() bool {
		return p.MustEval(`() => [...document.querySelectorAll("[hx-trigger=load]")].every((e) => !e.querySelector(":scope > p.soft-text:only-child") || !e.textContent.includes("…")) && [...document.querySelectorAll("#chart")].every((c) => c.dataset.ready)`).Bool()
	})
}

// every page that a heater has, with the demo's heaters.
var everyPage = []string{"/", "/h/1/place", "/h/2/need", "/h/2/stock", "/h/1/box", "/h/2/air", "/h/3/switch", "/h/3/cut", "/h/3/log", "/h/3/season", "/h/3/versions", "/h/2/said", "/words", "/settings", "/devices"}

// At twice the size nothing is cut off and nothing scrolls sideways but what is meant to.
func TestNothingIsClippedAtTwiceTheSize(t *testing.T) {
	base, s := workshop(t, true)
	must(s.Branch(context.Background(), stateOf(t, s, 3).Seen()))(t)
	p := visit(t, base+"/", 640, 400)
	for _, path := range everyPage {
		p.MustNavigate(base + path).MustWaitLoad()
		settled(t, p)
		found := p.MustEval(`() => {
			const out = [];
			if (document.documentElement.scrollWidth > document.documentElement.clientWidth + 1) out.push("the page scrolls sideways by " + (document.documentElement.scrollWidth - document.documentElement.clientWidth));
			for (const e of document.querySelectorAll("body *")) {
				const c = getComputedStyle(e);
				if (c.display === "none" || c.visibility === "hidden" || !e.clientWidth || e.closest(".visually-hidden, dialog, svg, select, .u-wrap")) continue;
				if (e.scrollWidth > e.clientWidth + 1 && c.overflowX === "hidden") out.push(e.tagName + "." + e.className + " cuts " + e.textContent.trim().slice(0, 40));
			}
			for (const t of document.querySelectorAll("svg text")) {
				const svg = t.closest("svg"), a = t.getBoundingClientRect(), b = svg.getBoundingClientRect();
				if (a.width && b.width && (a.left < b.left - 2 || a.right > b.right + 2 || a.top < b.top - 3 || a.bottom > b.bottom + 3)) out.push("drawn text outside " + svg.getAttribute("class") + ": " + t.textContent);
			}
			return out.slice(0, 6).join("; ");
		}`).Str()
		if found != "" {
			t.Errorf("%s: %s", path, found)
		}
	}
}

// Each station prints on one page of A4 and one of Letter.
func TestStationsPrintOnOnePage(t *testing.T) {
	base, s := workshop(t, true)
	must(s.Branch(context.Background(), stateOf(t, s, 3).Seen()))(t)
	p := visit(t, base+"/", 1280, 800)
	for _, path := range everyPage {
		if !strings.HasPrefix(path, "/h/") {
			continue
		}
		p.MustNavigate(base + path).MustWaitLoad()
		settled(t, p)
		for name, size := range map[string][2]float64{"A4": {8.27, 11.69}, "Letter": {8.5, 11}} {
			pdf, err := p.PDF(&proto.PagePrintToPDF{PaperWidth: &size[0], PaperHeight: &size[1], PreferCSSPageSize: false})
			if err != nil {
				t.Fatal(err)
			}
			b, err := io.ReadAll(pdf)
			if err != nil {
				t.Fatal(err)
			}
			if n := bytes.Count(b, []byte("/Type /Page\n")); n != 1 {
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
				if (r.right > w + 1 || r.left < -1) out.push(e.tagName + "." + (e.className.baseVal ?? e.className) + " from " + Math.round(r.left) + " to " + Math.round(r.right) + " of " + w);
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
	base, s := workshop(t, true)
	must(s.Branch(context.Background(), stateOf(t, s, 3).Seen()))(t)
	for _, theme := range []string{"light", "dark"} {
		for _, width := range []int{1280, 390} {
			p := visit(t, base+"/", width, 844)
			p.MustEval(`async (theme) => { const b = new FormData(); b.set("theme", theme); b.set("here", "/"); b.set("csrf", document.querySelector("[name=csrf]").value); await fetch("/theme", {method: "POST", body: new URLSearchParams(b)}); }`, theme)
			for _, path := range []string{"/", "/h/1/place", "/h/1/box", "/h/2/box?part=air", "/h/1/box?part=absorber", "/h/1/box?part=fan", "/h/1/box?part=frame", "/h/3/switch", "/h/2/need", "/h/3/season", "/h/3/cut", "/h/2/log", "/h/1/log", "/h/2/stock", "/h/2/air", "/h/3/versions", "/h/2/said", "/words", "/settings", "/devices", "/nowhere"} {
				p.MustNavigate(base + path).MustWaitLoad()
				settled(t, p)
				p.MustEval("() => {" + string(script) + "}")
				raw := p.MustEval(`async () => JSON.stringify((await axe.run(document, {resultTypes: ["violations"]})).violations.map(v => [v.id, v.help, v.nodes.map(n => n.html.slice(0, 160) + " | " + (n.any[0]?.message || "")).slice(0, 4)]))`).Str()
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

// typeAndPaint changes a dimension in the page n times and returns the time
// from each keystroke to the paint that shows it, ms.
func typeAndPaint(p *rod.Page, n int) []float64 {
	arr := p.MustEval(`async (n) => {
		const e = document.querySelector("#f-pane-width_m"), out = [];
		e.focus();
		for (let i = 0; i < n + 10; i++) {
			const done = new Promise((r) => document.addEventListener("htmx:after:swap", () => requestAnimationFrame(() => setTimeout(r)), {once: true}));
			e.value = (700 + (i * 37) % 300) + " mm";
			const t = performance.now();
			e.dispatchEvent(new Event("input", {bubbles: true}));
			await done;
			if (i >= 10) out.push(performance.now() - t);
		}
		return out;
	}`, n).Arr()
	var ms []float64
	for _, v := range arr {
		ms = append(ms, v.Num())
	}
	sort.Float64s(ms)
	return ms
}

// The recompute loop holds over many changes: every one is painted, and the
// last one is what is stored.
func TestManyChanges(t *testing.T) {
	base, s := workshop(t, true)
	p := visit(t, base+"/h/3/box", 1280, 800)
	ms := typeAndPaint(p, 60)
	if len(ms) != 60 {
		t.Fatalf("%d of 60 changes were painted", len(ms))
	}
	t.Logf("keystroke to paint: median %.0f ms, p95 %.0f ms", ms[30], ms[57])
	want := float64(700+(69*37)%300) / 1000
	waitFor(t, func() bool {
		st, err := s.Get(context.Background(), 3)
		return err == nil && math.Abs(st.Document.Pane.Width-want) < 1e-9
	})
}

func BenchmarkKeystrokeToPaint(b *testing.B) {
	base, _ := workshop(b, true)
	p := visit(b, base+"/h/3/box", 1280, 800)
	for range b.N {
		ms := typeAndPaint(p, 200)
		b.ReportMetric(ms[100], "median-ms")
		b.ReportMetric(ms[190], "p95-ms")
	}
}

// Fifty people at once on the demo's pages, each asking for another one a second, after
// every page was seen once: the figures of docs/BENCHMARKS.md.
func BenchmarkFiftyUsers(b *testing.B) {
	base, s := workshop(b, true)
	must(s.Branch(context.Background(), stateOf(b, s, 3).Seen()))(b)
	get := func(path string) (time.Duration, error) {
		begin := time.Now()
		r, err := http.Get(base + path)
		if err != nil {
			return 0, err
		}
		defer r.Body.Close()
		if _, err := io.Copy(io.Discard, r.Body); err != nil {
			return 0, err
		}
		if r.StatusCode != http.StatusOK {
			err = fmt.Errorf("%s: %s", path, r.Status)
		}
		return time.Since(begin), err
	}
	for range 2 {
		for _, path := range everyPage {
			if _, err := get(path); err != nil {
				b.Fatal(err)
			}
		}
	}
	const users, seconds = 50, 60
	for range b.N {
		var lock sync.Mutex
		var took []float64
		worst := map[string]float64{}
		var wait sync.WaitGroup
		for u := range users {
			wait.Go(func() {
				time.Sleep(time.Duration(u) * time.Second / users)
				for i := range seconds {
					next := time.Now().Add(time.Second)
					path := everyPage[(u+i*7)%len(everyPage)]
					d, err := get(path)
					if err != nil {
						b.Error(err)
						return
					}
					lock.Lock()
					ms := d.Seconds() * 1000
					took = append(took, ms)
					worst[path] = math.Max(worst[path], ms)
					lock.Unlock()
					time.Sleep(time.Until(next))
				}
			})
		}
		wait.Wait()
		sort.Float64s(took)
		b.ReportMetric(took[len(took)/2], "median-ms")
		b.ReportMetric(took[len(took)*95/100], "p95-ms")
		b.ReportMetric(took[len(took)-1], "worst-ms")
		b.ReportMetric(float64(len(took)), "pages")
		b.Log(worst)
	}
}

// Requests from elsewhere are turned away.
func TestForeignRequestsAreTurnedAway(t *testing.T) {
	base, _ := workshop(t, true)
	do := func(method, path string, head map[string]string) int {
		r, err := http.NewRequest(method, base+path, strings.NewReader("path=pane.width_m&typed=900"))
		if err != nil {
			t.Fatal(err)
		}
		r.Header.Set("Content-Type", "application/x-www-form-urlencoded")
		for k, v := range head {
			if k == "Host" {
				r.Host = v
			} else {
				r.Header.Set(k, v)
			}
		}
		res, err := http.DefaultClient.Do(r)
		if err != nil {
			t.Fatal(err)
		}
		res.Body.Close()
		return res.StatusCode
	}
	for _, c := range []struct {
		method, path string
		head         map[string]string
		want         int
	}{
		{"GET", "/", map[string]string{"Host": "evil.example"}, http.StatusMisdirectedRequest},
		{"POST", "/h/1/edit", map[string]string{"Origin": "http://evil.example"}, http.StatusForbidden},
		{"POST", "/h/1/edit", nil, http.StatusBadRequest},
		{"POST", "/h/1/edit", map[string]string{"Sec-Fetch-Site": "cross-site"}, http.StatusForbidden},
		{"GET", "/h/99/box", nil, http.StatusNotFound},
		{"GET", "/h/x/box", nil, http.StatusNotFound},
		{"GET", "/h/1/nowhere", nil, http.StatusNotFound},
		{"GET", "/static/../server.go", nil, http.StatusNotFound},
	} {
		if got := do(c.method, c.path, c.head); got != c.want {
			t.Errorf("%s %s %v: %d, want %d", c.method, c.path, c.head, got, c.want)
		}
	}
	res, err := http.Get(base + "/h/1/box")
	if err != nil {
		t.Fatal(err)
	}
	res.Body.Close()
	if got := res.Header.Get("Content-Security-Policy"); got != policy {
		t.Errorf("policy %q", got)
	}
}

// TestScreenshots refreshes docs/screenshots when GLADEMBER_SHOTS names the
// folder.
func TestScreenshots(t *testing.T) {
	dir := os.Getenv("GLADEMBER_SHOTS")
	if dir == "" {
		t.Skip("set GLADEMBER_SHOTS=../../docs/screenshots to refresh the pictures")
	}
	base, st := workshop(t, true)
	for i, foam := range []float64{0.02, 0.06} {
		v := must(st.Branch(context.Background(), stateOf(t, st, 3).Seen()))(t)
		must(st.Edit(context.Background(), v.Seen(), "foam", units.System{}, design.Change{Path: "box.back_foam_m", Value: foam}, design.Change{Path: "cover.layers", Value: 2 - i}))(t)
	}
	for _, s := range []struct {
		name, path, theme string
		w, h              int
	}{
		{"home", "/", "light", 1280, 900}, {"phone-home", "/", "light", 390, 844}, {"place", "/h/2/place", "light", 1280, 900}, {"need", "/h/2/need", "light", 1280, 900}, {"stock", "/h/2/stock", "light", 1280, 900}, {"box", "/h/2/box", "light", 1280, 800}, {"box-dark", "/h/1/box", "dark", 1280, 800}, {"made", "/h/1/box?part=absorber", "light", 1280, 800},
		{"air", "/h/2/air", "light", 1280, 900}, {"switch", "/h/3/switch", "light", 1280, 900}, {"season", "/h/3/season", "light", 1280, 1000}, {"phone-season", "/h/3/season", "light", 390, 844}, {"cut", "/h/3/cut", "light", 1280, 800}, {"log", "/h/3/log", "light", 1280, 800}, {"log-refused", "/h/2/log?day=2026-02-15", "light", 1280, 800},
		{"phone-box", "/h/2/box", "light", 390, 844}, {"phone-switch", "/h/2/switch?sky=frosty", "light", 390, 844}, {"said", "/h/2/said", "light", 1280, 800}, {"versions", "/h/3/versions", "light", 1280, 900},
	} {
		p := visit(t, base+"/", s.w, s.h)
		if s.theme == "dark" {
			p.MustElement("button[name=theme]").MustClick()
			waitFor(t, func() bool { return p.MustHas("html[data-theme=dark]") })
		}
		p.MustNavigate(base + s.path).MustWaitLoad()
		if strings.HasSuffix(s.name, "home") {
			p.MustElement("#pane").MustInput("640 x 1150 mm")
			p.MustElement("#first-heat")
		}
		settled(t, p)
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

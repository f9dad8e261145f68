// Package webtest drives the workshop in a real browser, for the tests of its pages.
package webtest

import (
	"context"
	"fmt"
	"io"
	"log/slog"
	"math"
	"net"
	"net/http/httptest"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/go-rod/rod"
	"github.com/go-rod/rod/lib/launcher"
	"github.com/go-rod/rod/lib/launcher/flags"
	"github.com/go-rod/rod/lib/proto"

	"gladember/app/demo/demotest"
	"gladember/app/service"
	"gladember/app/standin"
	"gladember/app/store"
	"gladember/app/web"
	"gladember/core/design"
	"gladember/core/measure"
)

// chromium finds Debian's browser. Where ./test asks for it, its absence is a
// failure; elsewhere the journeys are skipped, loudly.
func chromium(t testing.TB) string {
	t.Helper()
	for _, n := range []string{"chromium-headless-shell", "chromium", "chromium-browser", "google-chrome"} {
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
	t.Helper()
	if testing.Short() {
		t.Skip("a browser's journey: it runs without -short")
	}
	bin := chromium(t)
	shared.Do(func() {
		l := launcher.New().Bin(bin).NoSandbox(true).Leakless(false).Headless(true)
		for _, f := range []string{"disable-gpu", "disable-quic", "no-first-run", "disable-background-networking",
			"disable-component-update", "disable-sync", "hide-scrollbars"} {
			l = l.Set(flags.Flag(f))
		}
		l = l.Set("accept-lang", "en-GB") // a new workshop begins with the units of the browser's language
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

// Main runs a package's tests and closes the browser that they share.
func Main(m *testing.M) {
	code := m.Run()
	if shared.browser != nil {
		_ = shared.browser.Close()
	}
	os.Exit(code)
}

// memory is that of all workshops of a package's tests: the demo's heaters are evaluated and put through their year once.
var memory = service.NewMemory()

// Workshop starts a server with an empty or the demo Workshop.
func Workshop(t testing.TB, withDemo bool) (base string, s *store.Store) {
	t.Helper()
	return start(t, withDemo, "127.0.0.1:0", web.Options{})
}

// Failing starts a server with the demo workshop that calls a function before it computes a heater; what it logs is not shown.
func Failing(t testing.TB, before func(h *design.Heater)) (base string, s *store.Store) {
	t.Helper()
	return start(t, true, "127.0.0.1:0", web.Options{Before: before})
}

// Shared starts a server with the demo workshop that is shared at an address of this machine, at which it wants a code.
func Shared(t testing.TB) (base string, s *store.Store, share *web.Sharing) {
	t.Helper()
	share = &web.Sharing{Hosts: []string{"127.0.0.2"}}
	base, s = start(t, true, "127.0.0.2:0", web.Options{Share: share})
	return base, s, share
}

// start starts a server.
func start(t testing.TB, withDemo bool, address string, o web.Options) (base string, s *store.Store) {
	t.Helper()
	path := filepath.Join(t.TempDir(), "w.db")
	if withDemo {
		demotest.Copy(t, path)
	}
	s, err := store.Open(context.Background(), path)
	if err != nil {
		t.Fatal(err)
	}
	station := httptest.NewServer(standin.Weather())
	t.Cleanup(station.Close)
	o.Program, o.Station = "test", station.URL
	logs := io.Writer(os.Stderr)
	if o.Before != nil { // it is expected to complain
		logs = io.Discard
	} else {
		o.Memory = memory
	}
	h, err := web.New(s, slog.New(slog.NewTextHandler(logs, &slog.HandlerOptions{Level: slog.LevelWarn})), o)
	if err != nil {
		t.Fatal(err)
	}
	l, err := net.Listen("tcp", address)
	if err != nil {
		t.Fatal(err)
	}
	ctx, stop := context.WithCancel(context.Background())
	done := make(chan error, 1)
	go func() { done <- web.Serve(ctx, h, l) }()
	t.Cleanup(func() {
		stop()
		<-done
		s.Close()
	})
	return "http://" + l.Addr().String(), s
}

// MayBeAway are pages that lose the network on purpose, and complain of it.
var MayBeAway sync.Map

// Visit opens a page in a session of its own and gathers what the console
// complains of: a breach of the content policy is such a complaint.
func Visit(t testing.TB, url string, width, height int) *rod.Page {
	t.Helper()
	inc, err := browser(t).Incognito()
	if err != nil {
		t.Fatal(err)
	}
	p := inc.MustPage("").Timeout(left(t))
	p.MustSetViewport(width, height, 1, width < 500)
	var mu sync.Mutex
	var complaints []string
	left := 0 // requests that the browser ended because their page was left
	go p.EachEvent(func(e *proto.RuntimeConsoleAPICalled) {
		if e.Type == proto.RuntimeConsoleAPICalledTypeError || e.Type == proto.RuntimeConsoleAPICalledTypeWarning {
			mu.Lock()
			said := ""
			for _, a := range e.Args {
				said += a.Value.String() + " " + a.Description + " "
			}
			complaints = append(complaints, said)
			mu.Unlock()
		}
	}, func(e *proto.NetworkLoadingFailed) {
		mu.Lock()
		if e.Canceled {
			left++
		}
		mu.Unlock()
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
	_ = proto.NetworkEnable{}.Call(p)
	p.MustNavigate(url).MustWaitLoad()
	t.Cleanup(func() {
		mu.Lock()
		for _, c := range complaints {
			if _, away := MayBeAway.Load(p); away { // it was taken off the network
				break
			}
			if left > 0 && strings.Contains(c, "htmx:error") && strings.Contains(c, "Failed to fetch") {
				left--
				continue
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

// Hand counts what a person does.
type Hand struct {
	Entries, Touches int

	t testing.TB
	p *rod.Page
}

// NewHand returns the hand of a person at a page.
func NewHand(t testing.TB, p *rod.Page) *Hand { return &Hand{t: t, p: p} }

// Field finds an element once what it is folded into is opened, as a person would.
func Field(p *rod.Page, selector string) *rod.Element {
	e := p.MustElement(selector)
	e.MustEval(`() => {
		for (let d = this.closest("details:not([open])"); d; d = d.parentElement?.closest("details:not([open])")) d.open = true;
	}`)
	return e
}

// TypeIn fills a field.
func (h *Hand) TypeIn(selector, text string) {
	h.t.Helper()
	h.Entries++
	el := Field(h.p, selector)
	el.MustSelectAllText().MustInput(text)
}

// Touch clicks an element.
func (h *Hand) Touch(selector string) {
	h.t.Helper()
	h.Touches++
	// A page that moved under the finger is touched again: the click went beside the element, and nothing came of it.
	for range 5 {
		e := Field(h.p, selector)
		e.MustEval(`(selector) => {
			this.scrollIntoView({block: "center"}); // clear of the figures at the foot
			window.missed = true;
			const hit = (e) => { if (e.target.closest(selector)) window.missed = false; };
			document.addEventListener("click", hit, {capture: true, once: true});
		}`, selector)
		e.MustClick()
		if missed, err := h.p.Eval(`() => window.missed === true`); err != nil || !missed.Value.Bool() {
			return
		}
	}
	h.t.Fatalf("five clicks went beside %s", selector)
}

// Go clicks a link and waits until its page is there.
func (h *Hand) Go(selector string) {
	h.t.Helper()
	there := h.p.MustWaitNavigation()
	h.Touch(selector)
	there()
}

// See waits until an element's text holds something.
func (h *Hand) See(selector, want string) string {
	h.t.Helper()
	var text string
	if !waited(h.t, func() bool {
		if els, _ := h.p.Elements(selector); len(els) > 0 {
			text, _ = els[0].Text()
			text = strings.ReplaceAll(text, "\u00a0", " ")
		}
		return strings.Contains(text, want)
	}) {
		h.t.Fatalf("%s says %q, not %q", selector, text, want)
	}
	return text
}

// WaitFor waits until something holds, on a machine with much else to do as well: for half of the time that the test has left.
func WaitFor(t testing.TB, done func() bool) {
	t.Helper()
	var trouble error
	if !waited(t, func() (is bool) {
		// A page on its way to the next has no document to look into: that is not yet, and no failure.
		trouble = rod.Try(func() { is = done() })
		return is
	}) {
		t.Fatal("it never happened", trouble)
	}
}

// waited waits until something holds; false where it never does.
func waited(t testing.TB, done func() bool) bool {
	for end := time.Now().Add(left(t) / 2); time.Now().Before(end); time.Sleep(20 * time.Millisecond) {
		if done() {
			return true
		}
	}
	return false
}

// left is how much time a test has left.
func left(t testing.TB) time.Duration {
	if d, ok := t.(interface{ Deadline() (time.Time, bool) }); ok {
		if end, ok := d.Deadline(); ok {
			return time.Until(end)
		}
	}
	return 20 * time.Minute
}

// Must ends the test where there is an error: Must(f())(t).
func Must[T any](v T, err error) func(t testing.TB) T {
	return func(t testing.TB) T {
		t.Helper()
		if err != nil {
			t.Fatal(err)
		}
		return v
	}
}

// StateOf reads a heater.
func StateOf(t testing.TB, s *store.Store, heater int64) store.State {
	t.Helper()
	st, err := s.Get(context.Background(), heater)
	if err != nil {
		t.Fatal(err)
	}
	return st
}

// Settled waits until what a page fetches by itself is there.
func Settled(t testing.TB, p *rod.Page) {
	t.Helper()
	WaitFor(t, func() bool { return !p.MustHas("#questions[hx-get]") })
	WaitFor(t, func() bool {
		return p.MustEval(`() => {
			const waits = (e) => e.querySelector(":scope > p.soft-text:only-child") && e.textContent.includes("…");
			return !document.querySelector(".htmx-request") && ![...document.querySelectorAll("[hx-trigger=load]")].some(waits) &&
				[...document.querySelectorAll("#chart")].every((c) => c.dataset.ready);
		}`).Bool()
	})
}

// AfternoonCSV is a logger's file of a clear February day at Innsbruck, in
// German dress: decimal commas, semicolons.
func AfternoonCSV(t testing.TB) string {
	t.Helper()
	var b strings.Builder
	b.WriteString("Time;Inlet °C;Outlet °C;Outside °C\n")
	for m := range 8 * 60 {
		at := time.Date(2026, 2, 10, 9, 0, 0, 0, time.UTC).Add(time.Duration(m) * time.Minute)
		rise := 15 * math.Sin(math.Pi*float64(m)/480)
		fmt.Fprintf(&b, "%s;%s;%s;%s\n", at.Format("02.01.2006 15:04"), Comma(21.5+0.2*float64(m%3)), Comma(22+rise+0.1*float64(m%4)),
			Comma(-2))
	}
	name := filepath.Join(t.TempDir(), "evening.csv")
	if err := os.WriteFile(name, []byte(b.String()), 0o600); err != nil {
		t.Fatal(err)
	}
	return name
}

// Comma writes a number with a decimal comma.
func Comma(v float64) string { return strings.Replace(fmt.Sprintf("%.1f", v), ".", ",", 1) }

// Logged names the log of the version that is open.
func Logged(t testing.TB, s *store.Store, heater int64) store.Logged {
	t.Helper()
	st := StateOf(t, s, heater)
	return st.Logged()
}

// Log adds readings to a heater's log.
func Log(t testing.TB, s *store.Store, heater int64, name string, samples []measure.Sample, replace bool) store.Import {
	t.Helper()
	b, err := store.NewBatch(samples)
	if err != nil {
		t.Fatal(err)
	}
	imp, err := s.AddReadings(context.Background(), Logged(t, s, heater), name, b, replace)
	if err != nil {
		t.Fatal(err)
	}
	return imp
}

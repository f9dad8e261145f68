package web_test

import (
	"context"
	"fmt"
	"io"
	"math"
	"net/http"
	"sort"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/go-rod/rod"
	"github.com/go-rod/rod/lib/proto"

	"gladember/app/web/webtest"
	"gladember/core/design"
	"gladember/core/units"
)

// Closing the tab in the middle of an entry loses nothing that was read.
func TestClosedTabLosesNothing(t *testing.T) {
	t.Parallel()
	base, _ := webtest.Workshop(t, true)
	p := webtest.Visit(t, base+"/h/3/box", 1280, 800)
	w := webtest.Field(p, "#f-pane-width_m")
	w.MustSelectAllText().MustInput("1066 mm")
	webtest.WaitFor(t, func() bool {
		return strings.Contains(p.MustElement(".front").MustProperty("ariaLabel").Str(), "1,102 mm")
	})
	p.MustClose()
	q := webtest.Visit(t, base+"/h/3/box", 1280, 800)
	if got := q.MustElement("#f-pane-width_m").MustProperty("value").Str(); got != "1066 mm" {
		t.Errorf("opened again, the width is %q", got)
	}
}

// Focus, scroll, selection and the half-typed text stay while the rest of the
// page moves; another field's entry is not touched.
func TestFocusScrollAndSelectionStay(t *testing.T) {
	t.Parallel()
	base, _ := webtest.Workshop(t, true)
	p := webtest.Visit(t, base+"/h/2/box?part=air", 1280, 700)
	p.MustEval(`() => window.scrollTo(0, 140)`)
	el := webtest.Field(p, "#f-air-to_box_m")
	el.MustFocus()
	scroll := p.MustEval(`() => scrollY`).Int()
	el.MustSelectAllText().MustInput("2.75")
	p.MustEval(`() => document.activeElement.setSelectionRange(1, 3)`)
	was := p.MustElement("#fig-flow").MustText()
	p.MustEval(`() => { const e = document.querySelector("#f-air-to_box_m"); e.dispatchEvent(new Event("input", {bubbles: true})); }`)
	webtest.WaitFor(t, func() bool {
		return strings.Contains(p.MustElement("#fig-flow").MustText(), "by your change") || p.MustElement("#fig-flow").MustText() != was
	})
	got := p.MustEval(`() => {
		const e = document.activeElement;
		return [e.id, e.selectionStart, e.selectionEnd, e.value, scrollY];
	}`).Arr()
	if got[0].Str() != "f-air-to_box_m" || got[1].Int() != 1 || got[2].Int() != 3 || got[3].Str() != "2.75" || got[4].Int() != scroll {
		t.Errorf("after the swap: %v, scroll was %d", got, scroll)
	}
}

// Two pages on one heater: both fields go in.
func TestTwoPagesOnOneHeater(t *testing.T) {
	t.Parallel()
	base, s := webtest.Workshop(t, true)
	a, b := webtest.Visit(t, base+"/h/2/box", 1280, 800), webtest.Visit(t, base+"/h/2/box", 390, 844)
	a.MustElement("#f-pane-width_m").MustSelectAllText().MustInput("700 mm").MustBlur()
	b.MustElement("#f-pane-height_m").MustSelectAllText().MustInput("1200 mm").MustBlur()
	webtest.WaitFor(t, func() bool {
		st, err := s.Get(context.Background(), 2)
		return err == nil && math.Abs(st.Document.Pane.Width-0.7) < 1e-9 && math.Abs(st.Document.Pane.Height-1.2) < 1e-9
	})
}

// A phone loses the network in the middle of its edits: they wait, are seen waiting, outlive
// the closed tab, and are sent when the workshop answers again. Laptop and phone edit one heater by turns: nothing is lost, leaving a field
// sends nothing old again, and the page that stood still follows.
func TestEditsWaitAndTwoBrowsers(t *testing.T) {
	t.Parallel()
	base, s := webtest.Workshop(t, true)
	p := webtest.Visit(t, base+"/h/1/box", 390, 844)
	h := webtest.NewHand(t, p)
	if err := (proto.NetworkEnable{}).Call(p); err != nil {
		t.Fatal(err)
	}
	away := func(on bool) {
		if err := (proto.NetworkEmulateNetworkConditions{Offline: on, DownloadThroughput: -1, UploadThroughput: -1}).Call(p); err != nil {
			t.Fatal(err)
		}
	}
	webtest.Field(p, "#f-pane-width_m").MustEval(`() => this.scrollIntoView({block: "center"})`)
	away(true)
	webtest.MayBeAway.Store(p, true)
	h.TypeIn("#f-pane-width_m", "900 mm")
	h.See("#waiting", "One change waits")
	h.TypeIn("#f-pane-height_m", "1500 mm")
	h.See("#waiting", "2 changes wait")
	if webtest.StateOf(t, s, 1).Document.Pane.Width == 0.9 {
		t.Error("it was sent after all")
	}
	away(false)
	webtest.WaitFor(t, func() bool {
		d := webtest.StateOf(t, s, 1).Document
		return d.Pane.Width == 0.9 && d.Pane.Height == 1.5
	})
	webtest.WaitFor(t, func() bool { return p.MustEval(`() => document.querySelector("#waiting").hidden`).Bool() })

	laptop := webtest.Visit(t, base+"/h/1/box", 1280, 900)
	phone := webtest.Visit(t, base+"/h/1/box", 390, 844)
	l, f := webtest.NewHand(t, laptop), webtest.NewHand(t, phone)
	for i := range 4 {
		l.TypeIn("#f-pane-width_m", fmt.Sprintf("%d mm", 910+i))
		f.TypeIn("#f-pane-height_m", fmt.Sprintf("%d mm", 1510+i))
		webtest.WaitFor(t, func() bool {
			d := webtest.StateOf(t, s, 1).Document
			return math.Abs(d.Pane.Width-0.910-0.001*float64(i)) < 1e-9 && math.Abs(d.Pane.Height-1.510-0.001*float64(i)) < 1e-9
		})
	}
	f.TypeIn("#f-pane-width_m", "800 mm")
	webtest.WaitFor(t, func() bool { return webtest.StateOf(t, s, 1).Document.Pane.Width == 0.8 })
	laptop.MustElement("#fig-heat").MustFocus()
	webtest.WaitFor(t, func() bool {
		v, err := laptop.Eval(`() => document.querySelector("#f-pane-width_m").value`)
		return err == nil && v.Value.Str() == "800 mm"
	})
	if w := webtest.StateOf(t, s, 1).Document.Pane.Width; w != 0.8 {
		t.Errorf("the laptop, its field left, set the width back to %v", w)
	}
}

// A page shows version A while another opens B: its edit and its undo land in neither, the page is
// told and asked, and either answer does what it says.
func TestPageBehindIsAsked(t *testing.T) {
	t.Parallel()
	base, s := webtest.Workshop(t, true)
	a := webtest.StateOf(t, s, 1)
	p := webtest.Visit(t, base+"/h/1/box", 1280, 900)
	h := webtest.NewHand(t, p)
	b := webtest.Must(s.Branch(context.Background(), a.Seen()))(t)
	widths := func() (out [2]float64) {
		for i, x := range webtest.Must(s.Heads(context.Background(), 1))(t) {
			out[i] = x.Document.Pane.Width
		}
		return out
	}
	was := widths()
	h.TypeIn("#f-pane-width_m", "900 mm")
	h.See("#notice", "Version B was opened on another page")
	if widths() != was {
		t.Fatalf("widths %v, were %v", widths(), was)
	}
	h.Touch("#notice button")
	webtest.WaitFor(t, func() bool { return widths() == [2]float64{0.9, was[1]} })
	if st := webtest.StateOf(t, s, 1); st.Version != a.Version {
		t.Errorf("version %s is open", st.Name)
	}
	// Another page edits the same version: undo does not take that back unasked.
	webtest.Must(s.Edit(context.Background(), webtest.StateOf(t, s, 1).Seen(), "Pane height", units.System{},
		design.Set(design.PaneHeight, 1.3)))(t)
	h.Touch("#undo")
	h.See("#notice", "Another page has changed this heater since (Pane height)")
	if got := webtest.StateOf(t, s, 1).Document.Pane.Height; got != 1.3 {
		t.Errorf("height %v", got)
	}
	h.Touch("#notice button")
	webtest.WaitFor(t, func() bool {
		d := webtest.StateOf(t, s, 1).Document
		return d.Pane.Height == a.Document.Pane.Height && d.Pane.Width == 0.9
	})
	if got := webtest.StateOf(t, s, 1).Version; got == b.Version {
		t.Error("B was opened")
	}
}

// A change that waited and is refused stays with its reason, and goes only when it is discarded.
func TestRefusedEditsStay(t *testing.T) {
	t.Parallel()
	base, s := webtest.Workshop(t, true)
	p := webtest.Visit(t, base+"/h/1/box", 390, 844)
	h := webtest.NewHand(t, p)
	was := webtest.StateOf(t, s, 1).Document.Pane.Width
	p.MustEval(`(entry) => localStorage.setItem("ember-waiting", JSON.stringify([entry]))`, map[string]any{
		"action": "/h/1/edit", "path": design.PaneWidth.Path, "label": "Pane width", "seen": fmt.Sprintf("%d.%d.x",
			webtest.StateOf(t, s, 1).Version, webtest.StateOf(t, s, 1).Revision),
		"body": [][]string{{"path", design.PaneWidth.Path}, {"typed", "ninety"}, {"station", "box"}},
	})
	p.MustEval(`() => document.querySelector("[data-send-now]").click()`)
	h.See("#waiting", "Pane width was not saved")
	p.MustReload().MustWaitLoad()
	h.See("#waiting", "Pane width was not saved")
	h.Touch("[data-drop-refused]")
	webtest.WaitFor(t, func() bool { return p.MustEval(`() => document.querySelector("#waiting").hidden`).Bool() })
	if got := webtest.StateOf(t, s, 1).Document.Pane.Width; got != was {
		t.Errorf("width %v", got)
	}
}

// The recompute loop holds over many changes: every one is painted, and the
// last one is what is stored.
func TestManyChanges(t *testing.T) {
	base, s := webtest.Workshop(t, true)
	p := webtest.Visit(t, base+"/h/3/box", 1280, 800)
	ms := typeAndPaint(p, 60)
	if len(ms) != 60 {
		t.Fatalf("%d of 60 changes were painted", len(ms))
	}
	t.Logf("keystroke to paint: median %.0f ms, p95 %.0f ms", ms[30], ms[57])
	want := float64(700+(69*37)%300) / 1000
	webtest.WaitFor(t, func() bool {
		st, err := s.Get(context.Background(), 3)
		return err == nil && math.Abs(st.Document.Pane.Width-want) < 1e-9
	})
}

func TestUnitsAndTheme(t *testing.T) {
	t.Parallel()
	base, _ := webtest.Workshop(t, true)
	p := webtest.Visit(t, base+"/h/3/cut", 1280, 800)
	h := webtest.NewHand(t, p)
	h.Touch("button[value=length]")
	h.See(".cuts", "40 15/16 in")
	h.Touch("button[value=heat]")
	h.See("#fig-outlet", "°F")
	h.Touch("button[name=theme]")
	webtest.WaitFor(t, func() bool { return p.MustHas("html[data-theme=dark]") })
	if p.MustNavigate(base + "/h/3/box").MustWaitLoad(); !strings.Contains(p.MustElement(".front").MustProperty("ariaLabel").Str(),
		" in by ") {
		t.Error("inches are forgotten at the next station")
	}
}

// typeAndPaint changes a dimension in the page n times and returns the time
// from each keystroke to the paint that shows it, ms.
func typeAndPaint(p *rod.Page, n int) []float64 {
	arr := p.MustEval(`async (n) => {
		const e = document.querySelector("#f-pane-width_m"), out = [];
		e.focus();
		for (let i = 0; i < n + 10; i++) {
			const done = new Promise((r) => document.addEventListener(
				"htmx:after:swap", () => requestAnimationFrame(() => setTimeout(r)), {once: true}));
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

func BenchmarkKeystrokeToPaint(b *testing.B) {
	base, _ := webtest.Workshop(b, true)
	p := webtest.Visit(b, base+"/h/3/box", 1280, 800)
	for range b.N {
		ms := typeAndPaint(p, 200)
		b.ReportMetric(ms[100], "median-ms")
		b.ReportMetric(ms[190], "p95-ms")
	}
}

// Fifty people at once on the demo's pages, each asking for another one a second, after
// every page was seen once: the figures of docs/BENCHMARKS.md.
func BenchmarkFiftyUsers(b *testing.B) {
	base, s := webtest.Workshop(b, true)
	webtest.Must(s.Branch(context.Background(), webtest.StateOf(b, s, 3).Seen()))(b)
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
					worst[path] = max(worst[path], ms)
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
	t.Parallel()
	base, _ := webtest.Workshop(t, true)
	do := func(method, path string, head map[string]string) int {
		r, err := http.NewRequest(method, base+path, strings.NewReader("path="+design.PaneWidth.Path+"&typed=900"))
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
	if got := res.Header.Get("Content-Security-Policy"); !strings.HasPrefix(got, "default-src 'none'; script-src 'self';") ||
		strings.Contains(got, "unsafe") {
		t.Errorf("policy %q", got)
	}
}

package switches_test

import (
	"strings"
	"testing"

	"github.com/go-rod/rod/lib/input"
	"github.com/go-rod/rod/lib/proto"

	"gladember/app/web/webtest"
)

func TestMain(m *testing.M) { webtest.Main(m) }

// The switch station plays a day: the chart is drawn, the sky is one touch, a
// new point is one entry that redraws day and curve and keeps the focus, and
// undo brings the day back.
func TestPlayingADay(t *testing.T) {
	base, _ := webtest.Workshop(t, true)
	p := webtest.Visit(t, base+"/h/3/switch", 1280, 900)
	h := webtest.NewHand(t, p)
	ready := func() {
		webtest.WaitFor(t, func() bool {
			return p.MustHas("#chart[data-ready]") && p.MustHas("#curve svg.settings") && p.MustHas("#switchmonths svg")
		})
	}
	ready()
	heat := func() string { return p.MustElement(".sums dd").MustText() }
	clearHeat := heat()
	h.Touch(".chart-head nav a:nth-child(3)")
	webtest.WaitFor(t, func() bool { return p.MustHas("#chart[data-ready]") && heat() != clearHeat })
	if !strings.Contains(p.MustElement("#center h2").MustText(), "Partly cloudy") {
		t.Error("the sky chosen is not said")
	}
	ready() // a page left while its curve is on the way complains of it
	p.MustNavigate(base + "/h/3/switch").MustWaitLoad()
	ready()
	h.TypeIn("#f-switch-close_c", "48")
	webtest.WaitFor(t, func() bool { return heat() != clearHeat })
	ready()
	if id := p.MustEval("() => document.activeElement.id").Str(); id != "f-switch-close_c" {
		t.Errorf("the focus went to %q", id)
	}
	if !strings.Contains(p.MustElement("#stations").MustText(), "on at 48") {
		t.Error("the line does not say the new point")
	}
	h.Touch("#undo")
	webtest.WaitFor(t, func() bool { return heat() == clearHeat })
	ready()
	if h.Entries != 1 || h.Touches != 2 {
		t.Errorf("%d entries, %d touches", h.Entries, h.Touches)
	}
}

// The day is dragged by its time bar: clock, sun and air follow. The switch's points
// are moved by keys and by the mouse on the chart itself, and come into the document.
func TestDraggingADay(t *testing.T) {
	base, s := webtest.Workshop(t, true)
	p := webtest.Visit(t, base+"/h/3/switch?sky=frosty", 1280, 1100)
	ready := func() {
		webtest.WaitFor(t, func() bool {
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
	if at("clock") <= dawn || at("platewarm") == cold || at("fan") != "fan on" || !strings.HasPrefix(at("out"), "out ") {
		t.Errorf("at noon: %s, %s, %s, %s", at("clock"), at("platewarm"), at("fan"), at("out"))
	}
	// One degree up by a key, once it has rested.
	was := webtest.StateOf(t, s, 3).Document.Switch
	stale()
	p.MustElement("[data-point=close]").MustFocus()
	p.Keyboard.MustType(input.ArrowUp)
	webtest.WaitFor(t, func() bool { return webtest.StateOf(t, s, 3).Document.Switch.Close == was.Close+1 })
	ready()
	webtest.WaitFor(t, func() bool { return p.MustEval("() => document.activeElement.dataset.point").Str() == "close" })
	if !strings.Contains(p.MustElement("#center h2").MustText(), "frost") {
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
	webtest.WaitFor(t, func() bool { return webtest.StateOf(t, s, 3).Document.Switch.Open < was.Open-2 })
	ready()
	// A logged day is played with its own sun and air.
	p.MustNavigate(base + "/h/3/switch").MustWaitLoad()
	ready()
	p.MustElement(".logged summary").MustClick()
	there := p.MustWaitNavigation()
	p.MustElement(".logged a").MustClick()
	there()
	p.MustWaitLoad()
	webtest.WaitFor(t, func() bool {
		return strings.Contains(p.MustElement("#center h2").MustText(), "logged weather") && p.MustHas("#chart[data-ready]")
	})
	webtest.WaitFor(t, func() bool { return p.MustHas("#switchmonths svg") })
}

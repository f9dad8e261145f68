package web_test

import (
	"fmt"
	"strings"
	"testing"

	"github.com/go-rod/rod"

	"gladember/app/web/webtest"
	"gladember/core/design"
	"gladember/core/units"
)

// send posts one field with the page's token, as the forms of the header do.
const send = `async (to, field, value) => {
	const csrf = document.querySelector("[name=csrf]").value;
	await fetch(to, {method: "POST", body: new URLSearchParams({csrf, here: "/", [field]: value})});
}`

// look finds what is wrong with the page as it is drawn: texts of one drawing that overlap, texts that their drawing cuts or that are
// smaller than 11 px, texts that run out of their place, values that their field cuts, powers of ten and numbers that are none, a page
// wider than the screen, and a list of stations that is out of view at the end of the page.
const look = `() => {
  const wrong = [], seen = (e) => { const r = e.getBoundingClientRect(); return r.width > 0 && r.height > 0; };
  const shown = (e) => e.checkVisibility({ visibilityProperty: true, opacityProperty: true });
  for (const svg of document.querySelectorAll("svg")) {
    if (!seen(svg) || !shown(svg)) continue;
    const frame = svg.getBoundingClientRect(), texts = [];
    for (const t of svg.querySelectorAll("text")) {
      const say = t.textContent.trim();
      if (!say || !seen(t) || !shown(t)) continue;
      const r = t.getBoundingClientRect(), m = t.getScreenCTM(), size = parseFloat(getComputedStyle(t).fontSize) * Math.hypot(m.a, m.b);
      if (size < 10.95) wrong.push("small " + size.toFixed(1) + " px: " + say + " in " + svg.getAttribute("class"));
      if (r.left < frame.left - 1 || r.right > frame.right + 1 || r.top < frame.top - 1 || r.bottom > frame.bottom + 2)
        wrong.push("cut: " + say + " in " + svg.getAttribute("class"));
      texts.push([r, say]);
    }
    for (let i = 0; i < texts.length; i++) for (let j = i + 1; j < texts.length; j++) {
      const [a, s] = texts[i], [b, t] = texts[j];
      const w = Math.min(a.right, b.right) - Math.max(a.left, b.left), h = Math.min(a.bottom, b.bottom) - Math.max(a.top, b.top);
      if (w > 1 && h > 0.3 * Math.min(a.height, b.height)) wrong.push("overlap: " + s + " and " + t + " in " + svg.getAttribute("class"));
    }
  }
  for (const d of document.querySelectorAll("details.panel:not([open])")) d.open = true;
  const page = "label, button, a, p, h1, h2, h3, th, td, li, dt, dd, summary, legend";
  for (const e of document.querySelectorAll(page)) {
    if (!seen(e) || !shown(e) || !e.textContent.trim() || e.closest("svg") || getComputedStyle(e).display === "inline") continue;
    const over = e.scrollWidth - e.clientWidth, css = getComputedStyle(e);
    if (over > 1 && css.overflowX === "visible") wrong.push(e.textContent.trim().slice(0, 40) + " runs " + over + " px over its place");
  }
  const ruler = document.createElement("canvas").getContext("2d");
  for (const e of document.querySelectorAll("select, input:not([type])")) {
    if (!seen(e) || !shown(e)) continue;
    const css = getComputedStyle(e), say = e.tagName === "SELECT" ? e.selectedOptions[0]?.text ?? "" : e.value;
    ruler.font = css.font;
    const over = ruler.measureText(say).width - e.clientWidth + parseFloat(css.paddingLeft) + parseFloat(css.paddingRight);
    if (over > 1) wrong.push("the field " + e.id + " cuts " + Math.ceil(over) + " px of " + say);
  }
  const text = document.body.innerText;
  for (const bad of [/\d(?:\.\d+)?e[+-]?\d+/i, /NaN/, /\bundefined\b/, /%!/]) {
    const m = text.match(bad);
    if (m) wrong.push("text: " + m[0]);
  }
  const wide = document.documentElement.scrollWidth - innerWidth;
  if (wide > 0) wrong.push("the page is " + wide + " px too wide");
  window.scrollTo(0, document.body.scrollHeight);
  const stations = document.querySelector("#stations");
  if (stations) {
    const r = stations.getBoundingClientRect();
    if (r.bottom <= 20 || r.top >= innerHeight) wrong.push("the list of stations is out of view at the end of the page");
    if (innerWidth > 820) {
      const last = [...stations.querySelectorAll(".station-link")].at(-1).getBoundingClientRect();
      if (last.bottom > innerHeight) wrong.push("the last station is cut off");
    }
  }
  window.scrollTo(0, 0);
  return wrong;
}`

// A heater on a wall, on a roof, on the ground and in a sash is drawn well from its side, on a phone and a laptop, in both units;
// each names what its route calls for.
func TestEveryRouteIsDrawnWell(t *testing.T) {
	t.Parallel()
	base, s := webtest.Workshop(t, true)
	p := webtest.Visit(t, base+"/h/2/install", 390, 844)
	for _, x := range []struct {
		route string
		tilt  float64
		named []string
	}{
		{"wall", 90, []string{"cleat on the wall", "siding, over the flashing", "pilot hole"}},
		{"wall", 60, []string{"foot bracket", "brace at 45 degrees"}},
		{"wall", 40, []string{"1: over the roofing below", "3: over 2", "roofing, over piece 3"}},
		{"stand", 60, []string{"leg", "rail", "anchor against the wind"}},
		{"stand", 90, []string{"leg", "rail"}},
		{"window", 90, []string{"window insert", "edge foam", "sash, closed on it"}},
	} {
		webtest.Must(s.Edit(t.Context(), webtest.StateOf(t, s, 2).Seen(), "route", units.System{},
			design.Set(design.AirRoute, x.route), design.Set(design.PlaceTilt, x.tilt)))(t)
		for _, size := range [][2]int{{390, 844}, {1280, 800}} {
			p.MustSetViewport(size[0], size[1], 1, false)
			p.MustNavigate(base + "/h/2/install").MustWaitLoad()
			webtest.Settled(t, p)
			for _, w := range p.MustEval(look).Arr() {
				t.Errorf("%s at %v, %d px: %s", x.route, x.tilt, size[0], w.Str())
			}
			text := p.MustEval(`() => document.querySelector(".installing").innerText +
				[...document.querySelectorAll("svg.onside text")].map(t => t.textContent).join("|")`).Str()
			for _, want := range x.named {
				if !strings.Contains(text, want) {
					t.Errorf("%s at %v: %q is not named", x.route, x.tilt, want)
				}
			}
		}
		postUnits(p)
	}
}

// postTheme and postUnits change the settings as the bar's buttons do.
func postTheme(p *rod.Page) {
	p.MustEval(send, "/theme", "theme", "dark")
}

func postUnits(p *rod.Page) {
	for _, flip := range []string{"length", "heat"} {
		p.MustEval(send, "/units", "flip", flip)
	}
}

// The looking itself finds what it is there for.
func TestLookingFindsFaults(t *testing.T) {
	t.Parallel()
	base, _ := webtest.Workshop(t, true)
	p := webtest.Visit(t, base+"/h/2/air", 1280, 800)
	webtest.Settled(t, p)
	p.MustEval(`() => {
	  const svg = [...document.querySelectorAll("svg.route")].find((s) => s.getBoundingClientRect().width > 0);
	  const text = (x, y, say, size) => {
	    const t = document.createElementNS("http://www.w3.org/2000/svg", "text");
	    t.setAttribute("x", x);
	    t.setAttribute("y", y);
	    t.setAttribute("font-size", size);
	    t.style.fontSize = size + "px";
	    t.textContent = say;
	    svg.append(t);
	  };
	  text(100, 60, "one text", 14);
	  text(110, 62, "another text", 14);
	  text(-30, 60, "gone to the left", 14);
	  text(300, 60, "tiny", 6);
	  text(400, 60, "1.2e+02", 14);
	  document.querySelector("#center").append("1.2e+02 NaN");
	  const wide = document.createElement("div"); wide.style.width = "3000px"; wide.textContent = "."; document.body.append(wide);
	}`)
	got := fmt.Sprint(p.MustEval(look).Arr())
	for _, want := range []string{"overlap: one text and another text", "cut: gone to the left", "small", "text: 1.2e+02", "text: NaN",
		"too wide"} {
		if !strings.Contains(got, want) {
			t.Errorf("not found: %s, in %s", want, got)
		}
	}
}

package install_test

import (
	"strings"
	"testing"

	"gladember/app/web/webtest"
	"gladember/core/design"
	"gladember/core/units"
)

func TestMain(m *testing.M) { webtest.Main(m) }

// The wall is drawn from both sides with the same centers: what lies so far from the left window outside lies as far from the right
// one in the room. More gust asks for more screws and, from a storm on, for an engineer; the list of stations says so too.
func TestWallFromBothSidesAndLoads(t *testing.T) {
	base, s := webtest.Workshop(t, true)
	st := webtest.StateOf(t, s, 3)
	webtest.Must(s.Edit(t.Context(), st.Seen(), "wall", units.System{}, design.Set(design.WallBetween, 2.4),
		design.Set(design.WallLeft, 0.6)))(t)
	p := webtest.Visit(t, base+"/h/3/install", 1280, 900)
	texts := p.MustEval(`() => [...document.querySelectorAll("svg.onwall")].filter(s => s.getBoundingClientRect().width)
		.map(s => [...s.querySelectorAll("text.figure")].map(t => t.textContent).join("|"))`).Arr()
	if len(texts) != 2 || texts[0].Str() == texts[1].Str() {
		t.Fatalf("%v", texts)
	}
	page := func() string { return p.MustEval(`() => document.querySelector(".installing").textContent`).Str() }
	for _, want := range []string{"seen from outside", "seen from the room", "Pull of the wind", "Taking it down", "vapor retarder",
		"people"} {
		if !strings.Contains(page(), want) {
			t.Errorf("%q is missing", want)
		}
	}
	if strings.Contains(page(), "gusts of") {
		t.Error("an engineer is due for a usual gust")
	}
	webtest.Field(p, "#f-site-gust_m_s").MustSelectAllText().MustInput("70 m/s")
	webtest.WaitFor(t, func() bool {
		return strings.Contains(page(), "gusts of") && strings.Contains(p.MustElement("#line-install").MustProperty("textContent").Str(),
			"engineer")
	})
}

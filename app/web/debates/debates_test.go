package debates_test

import (
	"strings"
	"testing"

	"gladember/app/web/webtest"
	"gladember/core/advice"
	"gladember/core/collector"
	"gladember/core/units"
)

func TestMain(m *testing.M) { webtest.Main(m) }

// Every debate and every claim that concerns the heater is on the page with core's own figures, the debates with the
// most at stake first; the year fills in useful heat by itself.
func TestDebatesAreCores(t *testing.T) {
	base, s := webtest.Workshop(t, true)
	h := webtest.StateOf(t, s, 1).Document
	e, err := collector.Evaluate(&h, collector.ConditionsAt(&h, collector.WinterNoon(&h)), true)
	if err != nil {
		t.Fatal(err)
	}
	p := webtest.Visit(t, base+"/h/1/debates", 1280, 900)
	page := p.MustElement("#center").MustText()
	for _, v := range advice.Beliefs(&e) {
		if !strings.Contains(page, v.Claim) || !strings.Contains(page, v.Holds) {
			t.Errorf("the claim %q is not on the page as %q", v.Claim, v.Holds)
		}
	}
	webtest.WaitFor(t, func() bool { return !p.MustHas("#questions [role=status]") })
	rows := p.MustElements("#questions tbody")
	cs := advice.Disagreements(&e)
	if len(rows) != len(cs) {
		t.Errorf("%d debates are shown, %d concern the heater", len(rows), len(cs))
	}
	byName := map[string]advice.Choice{}
	for _, c := range cs {
		byName[c.Question] = c
	}
	for _, r := range rows {
		text := r.MustText()
		c, ok := byName[r.MustElement("th").MustText()]
		if !ok {
			t.Errorf("nobody disagrees on %q", text)
			continue
		}
		for _, side := range c.Sides {
			heat := units.Format(units.Power, side.Heat, units.System{})
			name := units.Localize(side.Name, units.System{})
			if !strings.Contains(text, name) || !strings.Contains(text, heat) {
				t.Errorf("%s: %s with %s is not in %q", c.Question, name, heat, text)
			}
		}
	}
}

// Taking a side changes the heater as the side says, and undo gives it back.
func TestASideIsTakenAndGivenBack(t *testing.T) {
	base, s := webtest.Workshop(t, true)
	layers := func() int { return webtest.StateOf(t, s, 1).Document.Cover.Layers }
	was := layers()
	name := map[bool]string{true: "single", false: "double"}[was == 2]
	p := webtest.Visit(t, base+"/h/1/debates", 1280, 900)
	webtest.WaitFor(t, func() bool { return !p.MustHas("#questions [role=status]") })
	p.MustElement(`#questions button[aria-label="Use this: ` + name + `"]`).MustClick()
	webtest.WaitFor(t, func() bool { return layers() == 3-was })
	webtest.Settled(t, p)
	p.MustElement("#undo").MustClick()
	webtest.WaitFor(t, func() bool { return layers() == was })
}

// A side that no debate has changes nothing and says so.
func TestASideThatIsNotThere(t *testing.T) {
	base, s := webtest.Workshop(t, true)
	before := webtest.StateOf(t, s, 1)
	p := webtest.Visit(t, base+"/h/1/debates", 1280, 900)
	text := p.MustEval(`async () => {
		const csrf = document.querySelector("[name=csrf]").value;
		const v = document.querySelector("#revision"), seen = v.dataset.version + "." + v.value + ".1";
		const b = document.querySelector("#questions button"), vals = JSON.parse(b.getAttribute("hx-vals"));
		const headers = {"X-Seen": seen, "X-CSRF-Token": csrf, "HX-Request": "true"};
		const r = await fetch(b.getAttribute("hx-post"), {method: "POST", headers,
			body: new URLSearchParams({...vals, csrf, side: "99"})});
		return r.status + " " + await r.text();
	}`).Str()
	if !strings.Contains(text, "no longer applies") {
		t.Errorf("the answer is %.300s", text)
	}
	if after := webtest.StateOf(t, s, 1); after.Revision != before.Revision {
		t.Errorf("a side that is not there changed the heater: %.200s", text)
	}
}

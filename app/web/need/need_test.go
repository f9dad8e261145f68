package need_test

import (
	"fmt"
	"strings"
	"testing"

	"gladember/app/web/webtest"
)

func TestMain(m *testing.M) { webtest.Main(m) }

// The heating load grows with the floor and with the air leakage; the heat that is set beside it is that of the figures
// at the bottom, for each heater of the demo, in metric units.
func TestHeatingLoadAndTheBoxBesideIt(t *testing.T) {
	base, s := webtest.Workshop(t, true)
	p := webtest.Visit(t, base+"/h/1/need", 1280, 900)
	loss := func() string { return p.MustElement("#figure-loss dd").MustText() }
	for _, x := range []struct{ field, typed string }{{"#f-room-floor_m2", "44"}, {"#f-room-height_m", "3.1"}} {
		was := loss()
		webtest.Field(p, x.field).MustSelectAllText().MustInput(x.typed)
		webtest.WaitFor(t, func() bool { return loss() != was })
		webtest.Settled(t, p)
		if now := loss(); number(t, now) <= number(t, was) {
			t.Errorf("%s of %s: the heating load went from %s to %s", x.field, x.typed, was, now)
		}
	}
	if got := webtest.StateOf(t, s, 1).Document.Room.Floor; got != 44 {
		t.Errorf("the floor kept is %v m2", got)
	}
	for id := 1; id <= 3; id++ {
		p := webtest.Visit(t, fmt.Sprintf("%s/h/%d/need", base, id), 1280, 900)
		heat := p.MustElement("#fig-heat .val").MustText()
		if text := p.MustElement("#center").MustText(); !strings.Contains(text, "gives "+heat+",") {
			t.Errorf("heater %d: the page does not set %q beside the loss", id, heat)
		}
		if text := p.MustElement("body").MustText(); strings.Contains(text, "0.0 W") {
			t.Errorf("heater %d: 0.0 W", id)
		}
	}
}

// number reads a figure with its thousands apart and its unit behind it.
func number(t *testing.T, text string) (v float64) {
	t.Helper()
	if _, err := fmt.Sscan(strings.ReplaceAll(strings.Fields(text)[0], ",", ""), &v); err != nil {
		t.Fatalf("%q: %v", text, err)
	}
	return v
}

package air_test

import (
	"fmt"
	"testing"

	"github.com/go-rod/rod/lib/proto"

	"gladember/app/web/webtest"
	"gladember/core/design"
)

func TestMain(m *testing.M) { webtest.Main(m) }

// The way of the air: a bend more costs flow, a change is taken over and back, the fan moves
// to the other end.
func TestTheWayOfTheAir(t *testing.T) {
	base, s := webtest.Workshop(t, true)
	p := webtest.Visit(t, base+"/h/2/air", 1280, 900)
	h := webtest.NewHand(t, p)
	flow := func() string { return p.MustElement("#fig-flow .val").MustText() }
	was, bends := flow(), webtest.StateOf(t, s, 2).Document.Air.Bends
	h.Touch("#adjust-air-bends button:last-child")
	webtest.WaitFor(t, func() bool { return webtest.StateOf(t, s, 2).Document.Air.Bends == bends+1 && flow() != was })
	h.Touch("#undo")
	webtest.WaitFor(t, func() bool { return flow() == was })
	side := webtest.StateOf(t, s, 2).Document.Air.FanSide
	h.Touch("#fan-side")
	webtest.WaitFor(t, func() bool { return webtest.StateOf(t, s, 2).Document.Air.FanSide != side })
	// Dragged over the box, a bend lies before it no more; the fan goes to the other end.
	in, at := webtest.StateOf(t, s, 2).Document.Air.BendsIn, webtest.StateOf(t, s, 2).Document.Air.FanSide
	drag := func(sel string, to float64) {
		t.Helper()
		p.MustElement("#air-route").MustEval(`() => this.scrollIntoView({block: "center"})`)
		b := p.MustElement(sel).MustShape().Box()
		strip := p.MustElement("#air-route .wide svg").MustShape().Box()
		p.Mouse.MustMoveTo(b.X+b.Width/2, b.Y+b.Height/2).MustDown(proto.InputMouseButtonLeft)
		p.Mouse.MustMoveTo(strip.X+to*strip.Width, b.Y+b.Height/2)
		p.Mouse.MustUp(proto.InputMouseButtonLeft)
	}
	drag("#air-route .wide [data-piece='"+design.AirBendsBefore.Path+"'][data-side=before]", 0.8)
	webtest.WaitFor(t, func() bool { return webtest.StateOf(t, s, 2).Document.Air.BendsIn == max(0, in-1) })
	far := 0.98
	if at == "outlet" {
		far = 0.02
	}
	// The page follows what is saved a moment later; a drag across its coming would be lost.
	shown := func() bool {
		return p.MustElement("#revision").MustProperty("value").Str() == fmt.Sprint(webtest.StateOf(t, s, 2).Revision) &&
			p.MustHas("#air-route .wide [data-fan]")
	}
	webtest.WaitFor(t, shown)
	drag("#air-route .wide [data-fan]", far)
	webtest.WaitFor(t, func() bool { return webtest.StateOf(t, s, 2).Document.Air.FanSide != at })
	webtest.WaitFor(t, shown)
	h.Touch("[aria-label^='Apply: a duct of']")
	h.See("#notice", ": done")
	h.See("#line-air", "125 mm")
}

package box_test

import (
	"bytes"
	"context"
	"strings"
	"testing"

	"gladember/app/web/webtest"
	"gladember/core/design"
)

func TestMain(m *testing.M) { webtest.Main(m) }

// Units and theme are one touch and stay.
// Every way of making is chosen by its picture, drawn, and its own sizes are
// edited in place; undo brings the first one back. One touch a family.
func TestEveryFamilyIsChosenAndEdited(t *testing.T) {
	base, s := webtest.Workshop(t, true)
	p := webtest.Visit(t, base+"/h/3/box?part=absorber", 1280, 800)
	h := webtest.NewHand(t, p)
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
		h.Touch("#fam-" + x.family)
		webtest.WaitFor(t, func() bool { return p.MustHas("#fam-" + x.family + "[aria-pressed=true]") })
		webtest.WaitFor(t, func() bool { return p.MustHas("#" + x.field) })
		was := p.MustElement("#headline").MustText()
		h.TypeIn("#"+x.field, x.typed)
		webtest.WaitFor(t, func() bool { return p.MustElement("#headline").MustText() != was })
		webtest.WaitFor(t, func() bool {
			return strings.Contains(p.MustElement("svg.section").MustProperty("textContent").Str(), x.drawn)
		})
		if !p.MustHas(".front .absorber") || !p.MustHas("#center .energy") {
			t.Errorf("%s is not drawn", x.family)
		}
		edits += 2
	}
	if h.Touches != 10 {
		t.Errorf("%d touches for ten families", h.Touches)
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
		h.Touch("#undo")
		webtest.WaitFor(t, func() bool { return p.MustElement("#revision").MustProperty("value").Str() != revision })
	}
	now, _ := s.Get(context.Background(), 3)
	if b, _ := design.Encode(now.Document); !bytes.Equal(b, before) {
		t.Error("undoing it all does not bring the first box back")
	}
}

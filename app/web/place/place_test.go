package place_test

import (
	"bytes"
	"os"
	"path/filepath"
	"testing"

	"github.com/go-rod/rod/lib/proto"

	"gladember/app/web/webtest"
	"gladember/core/climate"
)

func TestMain(m *testing.M) { webtest.Main(m) }

// What stands in the sun's way is drawn over the tracks with the mouse, typed by the keyboard in fists, and taken back;
// what it costs follows. The weather station's months, a pasted table and a file come in, each by itself.
func TestPlaceAndItsWeather(t *testing.T) {
	base, s := webtest.Workshop(t, true)
	p := webtest.Visit(t, base+"/h/1/place", 1280, 900)
	h := webtest.NewHand(t, p)
	h.Touch("[data-draw=tree]")
	box := p.MustElement("#horizon .wide svg").MustShape().Box()
	at := func(x, y float64) { p.Mouse.MustMoveTo(box.X+x*box.Width, box.Y+y*box.Height) }
	at(0.45, 0.86)
	p.Mouse.MustDown(proto.InputMouseButtonLeft)
	at(0.5, 0.6)
	at(0.55, 0.45)
	p.Mouse.MustUp(proto.InputMouseButtonLeft)
	webtest.WaitFor(t, func() bool { return len(webtest.StateOf(t, s, 1).Document.Shade.Horizon) == 1 })
	o := webtest.StateOf(t, s, 1).Document.Shade.Horizon[0]
	if o.Kind() != "tree" || o.Elevation < 15 || o.Elevation > 50 || o.To-o.From < 20 || o.To-o.From > 32 {
		t.Errorf("drawn: %+v", o)
	}
	h.See("#center", "the tree from")
	webtest.Field(p, "#f-shade-horizon").MustSelectAllText().MustInput("100 to 140: 2 fists, evergreen")
	webtest.Field(p, "#f-place-tilt_deg").MustFocus()
	webtest.WaitFor(t, func() bool {
		o := webtest.StateOf(t, s, 1).Document.Shade.Horizon
		return len(o) == 1 && o[0].Elevation == 20
	})
	webtest.Field(p, "#f-shade-horizon").MustSelectAllText().MustInput("100 to 140: tall")
	webtest.Field(p, "#f-place-tilt_deg").MustFocus()
	h.See("#w-f-shade-horizon .msg", "line 1")
	if webtest.StateOf(t, s, 1).Document.Shade.Horizon[0].Elevation != 20 {
		t.Error("a wrong line changed the horizon")
	}
	h.Touch("#ask-weather")
	webtest.WaitFor(t, func() bool { return len(webtest.StateOf(t, s, 1).Document.Climate.Months) == 12 })
	h.See("#weather-now", "table of months")
	doc := webtest.StateOf(t, s, 1).Document
	y, err := climate.Build(&doc)
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
	webtest.WaitFor(t, func() bool { return webtest.StateOf(t, s, 1).Document.Climate.File != "" })
	h.See("#weather-now", "Aldermoor")
	p.MustNavigate(base + "/h/1/season").MustWaitLoad()
	h.See("#year", "Aldermoor")
	webtest.WaitFor(t, func() bool { return p.MustHas("#judged p .figure-text") })
}

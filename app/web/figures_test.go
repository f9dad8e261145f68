package web_test

import (
	"context"
	"fmt"
	"io"
	"net/http"
	"net/url"
	"regexp"
	"strings"
	"testing"

	"golang.org/x/net/html"

	"gladember/app/service"
	"gladember/app/web/ui"
	"gladember/app/web/webtest"
	"gladember/core/advice"
	"gladember/core/climate"
	"gladember/core/collector"
	"gladember/core/design"
	"gladember/core/season"
	"gladember/core/simulate"
	"gladember/core/sizing"
	"gladember/core/space"
	"gladember/core/units"
)

// pageOf fetches a page.
func pageOf(t *testing.T, address string) *html.Node {
	t.Helper()
	r, err := http.Get(address)
	if err != nil {
		t.Fatal(err)
	}
	defer r.Body.Close()
	n, err := html.Parse(r.Body)
	if err != nil || r.StatusCode != http.StatusOK {
		t.Fatal(address, r.Status, err)
	}
	return n
}

// textAt is the text of the element of an id, with single spaces; empty where there is none.
func textAt(n *html.Node, id string) string {
	for _, a := range n.Attr {
		if a.Key == "id" && a.Val == id {
			var b strings.Builder
			for d := range n.Descendants() {
				if d.Type == html.TextNode {
					b.WriteString(d.Data + " ")
				}
			}
			return strings.Join(strings.Fields(b.String()), " ")
		}
	}
	for c := range n.ChildNodes() {
		if text := textAt(c, id); text != "" {
			return text
		}
	}
	return ""
}

// Figures on every station are those that core gives when it is asked directly, each at its own place on the page.
func TestFiguresComeFromTheCore(t *testing.T) {
	t.Parallel()
	base, s := webtest.Workshop(t, true)
	u := units.System{}
	for id := int64(1); id <= 3; id++ {
		st := webtest.StateOf(t, s, id)
		h := &st.Document
		noon := collector.WinterNoon(h)
		e, err := collector.Evaluate(h, collector.ConditionsAt(h, noon), true)
		if err != nil {
			t.Fatal(err)
		}
		shows := func(station, at, want string) {
			t.Helper()
			if text := textAt(pageOf(t, base+ui.HeaterURL(id)+"/"+station), at); !strings.Contains(text, want) {
				t.Errorf("heater %d, %s: #%s says %q, should be %q", id, station, at, text, want)
			}
		}
		two := func(k units.Kind, v float64) string { return units.Figure(k, v, u) + " " + u.Unit(k) }
		shows("place", "noon-sun", units.Format(units.Irradiance, e.Running.Energy.Sun/e.Running.Aperture, u))
		shows("place", "mounts", fmt.Sprintf("%.1f 100 %%", collector.Leans(h)[5].Sun))
		sp, err := space.New(h)
		if err != nil {
			t.Fatal(err)
		}
		shows("need", "figure-loss", two(units.Power, sp.DesignLoss(h.Room.Wanted, space.DesignOutdoors(h))))
		shows("box", "fig-heat", two(units.Power, e.Heat.Value)+" "+ui.Range(units.Power, e.Heat.Low, e.Heat.High, u))
		shows("air", "figure-drop", two(units.Pressure, e.Running.PressureDrop))
		if os := advice.AirOptions(&e); len(os) > 0 {
			shows("air", "air-options", ui.Signed(units.Power, os[0].Gain, u))
		}
		d, err := simulate.Run(h, noon, simulate.DesignDay(h, simulate.Clear))
		if err != nil {
			t.Fatal(err)
		}
		shows("switch", "figure-day-heat", two(units.Energy, d.Heat))
		y, err := climate.Build(h)
		if err != nil {
			t.Fatal(err)
		}
		r, err := season.Run(h, y)
		if err != nil {
			t.Fatal(err)
		}
		shows("season/year", "figure-useful", two(units.Energy, r.Year.Useful))
		shows("need/year", "need-words", units.Format(units.Energy, r.Year.Need, u))
		things, _, err := service.New(s, nil).Stock(context.Background())
		if err != nil {
			t.Fatal(err)
		}
		stock := sizing.CollectStock(things, 0)
		b := sizing.Boxes(*h, &stock)[0]
		rated, err := collector.Rate(&b.Heater, collector.ConditionsAt(&b.Heater, collector.WinterNoon(&b.Heater)))
		if err != nil {
			t.Fatal(err)
		}
		shows("stock", "ranked", units.Format(units.Power, rated.Warms(), u))
		side := advice.Choices(&e)[0].Sides[1]
		shows("debates", "questions", side.Name+" "+units.Format(units.Power, side.Heat, u))
	}
}

// A wrong entry of every kind of field is answered at its field with what would be right,
// and changes nothing.
func TestWrongEntriesOfEveryKind(t *testing.T) {
	t.Parallel()
	base, s := webtest.Workshop(t, true)
	page, err := http.Get(base + "/h/1/place")
	if err != nil {
		t.Fatal(err)
	}
	b, _ := io.ReadAll(page.Body)
	page.Body.Close()
	cookies := page.Cookies()
	token := regexp.MustCompile(`name="csrf" value="([^"]+)"`).FindSubmatch(b)
	if token == nil {
		t.Fatal("no token")
	}
	post := func(path, typed, station, part string) string {
		form := url.Values{"path": {path}, "typed": {typed}, "station": {station}, "part": {part}, "csrf": {string(token[1])}}
		r, err := http.NewRequest("POST", base+"/h/1/edit", strings.NewReader(form.Encode()))
		if err != nil {
			t.Fatal(err)
		}
		r.Header.Set("Content-Type", "application/x-www-form-urlencoded")
		r.Header.Set("HX-Request", "true")
		st := webtest.StateOf(t, s, 1)
		r.Header.Set("X-Seen", fmt.Sprintf("%d.%d.test", st.Version, st.Revision))
		for _, k := range cookies {
			r.AddCookie(k)
		}
		res, err := http.DefaultClient.Do(r)
		if err != nil {
			t.Fatal(err)
		}
		defer res.Body.Close()
		out, _ := io.ReadAll(res.Body)
		return string(out)
	}
	before, _ := design.Encode(webtest.StateOf(t, s, 1).Document)
	for _, x := range []struct{ kind, path, typed, station, part, remedy string }{
		{"length", design.PaneWidth.Path, "wide", "box", "cover", "enter"},
		{"length out of reach", design.PaneWidth.Path, "40 m", "box", "cover", "enter"},
		{"distance", design.AirToBox.Path, "far", "air", "", "enter"},
		{"area", design.RoomFloor.Path, "-3", "need", "", "enter"},
		{"temperature", design.RoomWanted.Path, "hot", "need", "", "enter"},
		{"rise", design.SwitchOnAbove.Path, "99", "switch", "", "enter"},
		{"flow", design.AirFanFreeAir.Path, "a breeze", "air", "", "enter"},
		{"pressure", design.AirFanShutOff.Path, "1", "air", "", "enter"},
		{"power", design.AirFanPower.Path, "some", "air", "", "enter"},
		{"angle", design.PlaceTilt.Path, "120", "place", "", "enter"},
		{"share", design.PlaceGroundReflectance.Path, "white", "place", "", "enter"},
		{"speed", design.PlaceWind.Path, "gale", "place", "", "enter"},
		{"bore", design.AirDiameter.Path, "tiny", "air", "", "enter"},
		{"count", design.AirBends.Path, "2.5", "air", "", "whole number"},
		{"number", design.ClimateSunny.Path, "12", "place", "", "enter"},
		{"text", design.PlaceZone.Path, "Middle Earth", "place", "", "enter"},
		{"choice", design.AirDuct.Path, "hose", "air", "", "choose one of"},
		{"rows of a horizon", design.ShadeHorizon.Path, "there: a tree", "place", "", "enter"},
		{"rows of months", design.ClimateMonths.Path, "1\n2", "place", "", "paste twelve lines"},
		{"rows of a fan", design.AirFanTable.Path, "lots", "air", "", "enter a flow"},
		{"what two fields say together", design.SwitchOffAbove.Path, "20", "switch", "", "fan-off difference below"},
	} {
		answer := post(x.path, x.typed, x.station, x.part)
		at := strings.Index(answer, `id="w-`+ui.FieldID(x.path)+`"`)
		if at < 0 {
			t.Errorf("%s: the field is not in the answer", x.kind)
			continue
		}
		msg := strings.Index(answer[at:], `class="msg`)
		if msg < 0 || msg > 9000 || !strings.Contains(answer[at+msg:min(len(answer), at+msg+900)], x.remedy) {
			t.Errorf("%s: no message with %q at the field", x.kind, x.remedy)
		}
		if now, _ := design.Encode(webtest.StateOf(t, s, 1).Document); string(now) != string(before) {
			t.Fatalf("%s: the wrong entry changed the heater", x.kind)
		}
	}
}

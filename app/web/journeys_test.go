package web_test

import (
	"fmt"
	"net/url"
	"regexp"
	"strconv"
	"strings"
	"testing"
	"time"

	"github.com/go-rod/rod/lib/input"

	"gladember/app/web/webtest"
	"gladember/core/design"
)

// From an empty home to a judged log: with the first heat figure, and its
// band, after at most three entries and two touches.
func TestJourneyFromEmptyHomeToJudgedLog(t *testing.T) {
	t.Parallel()
	journey(t, 1280, 800)
}

// The same by thumb.
func TestJourneyOnThePhone(t *testing.T) {
	t.Parallel()
	journey(t, 390, 844)
}

func journey(t *testing.T, width, height int) {
	base, _ := webtest.Workshop(t, false)
	p := webtest.Visit(t, base+"/", width, height)
	h := webtest.NewHand(t, p)
	h.See("aside", "No heaters yet")
	h.TypeIn("#pane", "864 x 1473 mm")
	heat := h.See("#first-heat", "W")
	if band := h.See("#first-band", "–"); band == "" || heat == "" {
		t.Fatal("no figure with a band")
	}
	if h.Entries > 3 || h.Touches > 2 {
		t.Fatalf("the first figure took %d entries and %d touches", h.Entries, h.Touches)
	}
	t.Logf("first heat figure with its band: %d entry, %d touches: %s", h.Entries, h.Touches, heat)
	h.TypeIn("#town", "Innsbruck")
	h.See("#town-list", "Innsbruck")
	h.Touch("#town-list button")
	h.Touch("label[for=room-shop]")
	h.Touch("#start")
	h.See("#heater-name", "Shop heater")
	if h.Entries > 3 || h.Touches > 3 {
		t.Errorf("starting a heater took %d entries and %d touches", h.Entries, h.Touches)
	}
	if got := p.MustInfo().URL; !strings.HasSuffix(got, "/box") {
		t.Fatalf("the heater opens at %s", got)
	}
	// A page that is too wide widens the phone's own window: its width is the one asked for.
	if overflow := p.MustEval(`() => document.documentElement.scrollWidth`).Int() - width; overflow > 0 {
		t.Errorf("the box station is %d px wider than the screen", overflow)
	}

	// A foam that would soften is found free, mended by one touch, and the mending undone.
	rev := func() string { return p.MustElement("#revision").MustProperty("value").Str() }
	before, page := rev(), p.MustInfo().URL
	p.MustNavigate(page + "?part=foam").MustWaitLoad()
	webtest.Field(p, "#f-box-foam").MustSelect("foil-faced polyiso foam")
	h.Touches++
	webtest.WaitFor(t, func() bool { return rev() != before })
	p.MustNavigate(page).MustWaitLoad()
	h.See("#find-too-hot-polyiso", "overheat")
	was := h.See("#fig-heat", "W")
	h.Touch("#find-too-hot-polyiso .try")
	h.See("#notice", "mineral wool")
	if changed := h.See("#fig-heat", "W"); changed == was || width > 820 && !strings.Contains(changed, "by your change") {
		t.Errorf("the headline does not show what the change did: %q after %q", changed, was)
	}
	h.Touch("#undo")
	h.See("#find-too-hot-polyiso", "overheat")

	// A half-typed length keeps the last good drawing; a finished one moves it.
	size := func() string { return p.MustElement(".front").MustProperty("ariaLabel").Str() }
	before = size()
	w := webtest.Field(p, "#f-pane-width_m")
	w.MustSelectAllText().MustInput("30 1/")
	time.Sleep(400 * time.Millisecond)
	if size() != before {
		t.Errorf("30 1/ moved the drawing to %s", size())
	}
	w.MustInput("2 in")
	webtest.WaitFor(t, func() bool { return size() != before })
	if got := w.MustProperty("value").Str(); got != "30 1/2 in" {
		t.Errorf("the field holds %q while it is typed in", got)
	}

	// Wrong entries get a message with a remedy and change nothing.
	good := size()
	w.MustSelectAllText().MustInput("wide").MustBlur()
	h.See("#w-f-pane-width_m .msg", "enter it like")
	if size() != good {
		t.Error("a wrong entry moved the drawing")
	}
	w.MustSelectAllText().MustInput("740 mm").MustBlur()
	webtest.WaitFor(t, func() bool { return size() != good })

	// A figure opens its working with the band's causes.
	h.Touch("#fig-heat")
	h.See("#working", "m · cp · (To − Ti)")
	if n := len(p.MustElements("#working li")); n != 3 {
		t.Errorf("the working lists %d causes", n)
	}
	h.Touch("#working [data-close]")

	// Cut: the pane is in the list at its size.
	h.Go(`.station-link[href$="/cut"]`)
	h.See(".cuts", "740 mm")
	h.See(".cuts", "side board")

	// Log: a file is looked at, taken in, and judged.
	h.Go(`.station-link[href$="/log"]`)
	h.See("#center", "No readings yet")
	p.MustElement("#file").MustSetFiles(webtest.AfternoonCSV(t))
	h.See("#columns-report", "480 readings")
	h.Touch("#take-in")
	h.See("#fig-day", "kWh")
	h.See("#fig-day", "–")
	h.See("#side", "expected")
	webtest.WaitFor(t, func() bool { return p.MustHas("#chart[data-ready]") })
	if n := len(p.MustElements("#chart canvas")); n != 1 {
		t.Errorf("%d charts drawn", n)
	}
	h.Touch("#fig-day")
	h.See("#working", "m · cp · D · h ÷ 1000")
	h.Touch("#working [data-close]")

	// The same file again changes nothing.
	figure := p.MustElement("#fig-day").MustText()
	p.MustElement("#file").MustSetFiles(webtest.AfternoonCSV(t))
	h.See("#columns-beside", "in the log already")
	if p.MustHas("#take-in") {
		t.Error("a file that brings nothing can be taken in")
	}
	h.Touch(`#columns a.linkish`)
	if got := p.MustElement("#fig-day").MustText(); got != figure {
		t.Errorf("the repeated file moved %q to %q", figure, got)
	}

	// The fan's label as flow: more heat than the sun gave is refused.
	webtest.Field(p, "#f-log-flow_is").MustSelect("measured")
	h.See("#side", "Measured airflow")
	f := webtest.Field(p, "#f-log-flow_m3_s")
	f.MustSelectAllText().MustInput("600 m3/h").MustBlur()
	h.See("#doubt-more-than-sun", "Check the airflow first")
	h.See("#fig-day", "refused")
	if overflow := p.MustEval(`() => document.documentElement.scrollWidth`).Int() - width; overflow > 0 {
		t.Errorf("the log station is %d px wider than the screen", overflow)
	}
}

// The first three minutes, by touch on a phone: a pane typed, the town named, the room
// picked; the fan dragged up cools the air and raises the heat; the fright is mended by a touch and taken back by
// another; a guess is said better; and the page ends on the first pieces to cut.
func TestTheFirstThreeMinutes(t *testing.T) {
	t.Parallel()
	base, s := webtest.Workshop(t, false)
	p := webtest.Visit(t, base+"/", 390, 844)
	h := webtest.NewHand(t, p)
	h.TypeIn("#pane", "34 x 58 in")
	first := h.See("#first-heat", "BTU/h")
	h.TypeIn("#town", "Pueblo, Colorado")
	h.See("#town-list", "Pueblo, Colorado, US")
	h.Touch("#town-list button")
	h.See("#sheet", "noon (")
	h.Touch("label[for=room-shop]")
	h.See("#first-share", "%")
	for _, told := range []string{"$", "hours of work", "kBTU of useful heat"} {
		h.See("#first-more", told)
	}
	h.Touch("#first-heat")
	h.See("#working .formula", "cp")
	h.Touch("#working [data-close]")
	number := func(sel string) float64 {
		v := 0.0
		_, _ = fmt.Sscanf(strings.ReplaceAll(p.MustElement(sel).MustText(), ",", ""), "%f", &v)
		return v
	}
	webtest.Settled(t, p) // the space that was picked is on the sheet
	heat, out := number("#first-heat"), number("#first-out")
	p.MustElement("#fan").MustEval(`() => { this.value = 200; this.dispatchEvent(new Event("input", { bubbles: true })); }`)
	h.Touches++
	webtest.WaitFor(t, func() bool { return number("#first-out") < out-1 && number("#first-heat") > heat })
	p.MustElement(`.guesses [aria-label="Glazing"]`).MustSelect("low-iron glass")
	webtest.WaitFor(t, func() bool { return p.MustHas(`.guesses [aria-label="Insulation"]`) })
	p.MustElement(`.guesses [aria-label="Insulation"]`).MustSelect("foil-faced polyiso foam")
	h.Touches += 2
	h.See("#sheet .finding.danger", "polyiso")
	h.Touch("#mend")
	webtest.WaitFor(t, func() bool { return p.MustHas("[data-unmend]") })
	if els, _ := p.Elements("#sheet .finding.danger"); len(els) > 0 && strings.Contains(els[0].MustText(), "polyiso") {
		t.Error("the fright is not mended")
	}
	h.Touch("[data-unmend]")
	h.See("#sheet .finding.danger", "polyiso")
	h.Touch("#mend")
	webtest.WaitFor(t, func() bool { return p.MustHas("[data-unmend]") })
	h.See(".first-cut", "×")
	if n := len(p.MustElements(".guesses select")); n != 3 {
		t.Errorf("%d guesses", n)
	}
	h.Touch("#start")
	h.See("#heater-name", "Shop heater")
	d := webtest.StateOf(t, s, 1).Document
	if d.Box.Foam == "polyiso" || d.Place.Town == "" || d.Entry(design.AirFanFreeAir).Origin != design.Yours {
		t.Errorf("started with %s, %q, %+v", d.Box.Foam, d.Place.Town, d.Entry(design.AirFanFreeAir))
	}
	if theirs := d.Given(design.AbsorberPaint); theirs {
		t.Error("a guess that nobody touched became theirs")
	}
	t.Logf("from an empty home to a heater with its fan, its fright mended: %d entries, %d touches; first figure %s", h.Entries,
		h.Touches, first)
	// On to a proposed heater: the station's months, the search, taken over whole.
	h.Go(`.station-link[href$="/place"]`)
	h.Touch("#ask-weather")
	webtest.WaitFor(t, func() bool { return len(webtest.StateOf(t, s, 1).Document.Climate.Months) == 12 })
	h.Go(`.station-link[href$="/stock"]`)
	h.Touch("#work-it-out")
	webtest.WaitFor(t, func() bool { return p.MustHas("#take-all") })
	was := webtest.StateOf(t, s, 1).Revision
	h.Touch("#take-all")
	webtest.WaitFor(t, func() bool { return webtest.StateOf(t, s, 1).Revision > was })
	t.Logf("from an empty home to a proposed heater by touch: %d entries, %d touches", h.Entries, h.Touches)
}

// From an empty home to a proposed heater by the keyboard alone: a pane, three facts of
// the weather, and the search.
func TestNewcomerByKeyboardAlone(t *testing.T) {
	t.Parallel()
	base, s := webtest.Workshop(t, false)
	p := webtest.Visit(t, base+"/", 1280, 800)
	keys := 0
	press := func(k ...input.Key) {
		keys += len(k)
		p.Keyboard.MustType(k...)
	}
	entries := 0
	// tab goes on until the focus is where a person wants it.
	tab := func(sel string) {
		t.Helper()
		for range 90 {
			if p.MustEval(`(s) => document.activeElement?.matches(s)`, sel).Bool() {
				return
			}
			press(input.Tab)
		}
		t.Fatalf("no way by tab to %s", sel)
	}
	text := func(s string) { entries++; p.MustInsertText(s) }
	tab("#pane")
	text("860 x 1480 mm")
	webtest.WaitFor(t, func() bool { return p.MustHas("#first-heat") })
	tab("#town")
	text("Innsbruck")
	webtest.WaitFor(t, func() bool { return p.MustHas("#town-list button") })
	tab("#town-list button")
	press(input.Enter)
	webtest.WaitFor(t, func() bool { v := p.MustElement("#town_id").MustProperty("value").Str(); return v != "" })
	tab("#start")
	press(input.Enter)
	webtest.WaitFor(t, func() bool { return p.MustHas("#heater-name") })
	// "b" goes back through the stations: box, stock, need, place.
	p.MustEval(`() => document.activeElement.blur()`)
	station := func(end string) {
		webtest.WaitFor(t, func() bool {
			i, err := p.Info()
			return err == nil && strings.HasSuffix(i.URL, end) && p.MustHas("#stations")
		})
		p.MustWaitLoad()
	}
	press(input.KeyB)
	station("/stock")
	press(input.KeyB)
	station("/need")
	press(input.KeyB)
	station("/place")
	tab("#panel-weather-through-the-year > summary")
	press(input.Enter)
	for _, x := range [][2]string{{"#f-climate-coldest_c", "-3"}, {"#f-climate-warmest_c", "18"}, {"#f-climate-sunny_days", "5"}} {
		tab(x[0])
		press(input.ControlLeft)
		p.MustElement(x[0]).MustSelectAllText()
		text(x[1])
	}
	webtest.WaitFor(t, func() bool { return webtest.StateOf(t, s, 1).Document.Climate.Sunny == 5 })
	p.MustEval(`() => document.activeElement.blur()`)
	press(input.KeyN)
	station("/need")
	press(input.KeyN)
	station("/stock")
	tab("#work-it-out")
	press(input.Enter)
	webtest.WaitFor(t, func() bool { return p.MustHas("#take-all") })
	tab("#take-all")
	press(input.Enter)
	webtest.WaitFor(t, func() bool { return strings.Contains(p.MustElement("#notice").MustText(), ": done") })
	t.Logf("from an empty home to a proposed heater by the keyboard: %d entries, %d keys beside them", entries, keys)
}

// A town is taken however it is typed, and a heater is never made at a place that nobody named: with its state's code, with its name,
// by the keys of the list, and by coordinates; a name that several towns have is asked about.
func TestTownIsTypedFourWays(t *testing.T) {
	t.Parallel()
	base, s := webtest.Workshop(t, false)
	begun := 0
	begin := func(typed string, keys ...input.Key) *webtest.Hand {
		t.Helper()
		p := webtest.Visit(t, base+"/", 1280, 800)
		h := webtest.NewHand(t, p)
		h.TypeIn("#pane", "34 x 58 in")
		h.See("#first-place", "until you name a town")
		h.TypeIn("#town", typed)
		// The list moves what stands below it, so that one waits for it before one touches that.
		webtest.WaitFor(t, func() bool { return p.MustElement("#town-list").MustText() != "" })
		if len(keys) > 0 {
			h.See("#town-list", typed)
			for _, k := range keys {
				p.KeyActions().Press(k).MustDo()
			}
		}
		return h
	}
	for _, way := range []struct {
		typed string
		keys  []input.Key
	}{{"Duluth, MN", nil}, {"Duluth Minnesota", nil}, {"Duluth", []input.Key{input.ArrowDown, input.Enter}}, {"46.79, -92.10", nil},
		{"55802, US", nil}} {
		h := begin(way.typed, way.keys...)
		if way.keys != nil {
			h.See("#first-place", "In Duluth")
		}
		h.Touch("#start")
		h.See("#heater-name", "heater")
		all, err := s.Heaters(t.Context())
		if begun++; err != nil || len(all) != begun {
			t.Fatalf("%d heaters after %q, %v", len(all), way.typed, err)
		}
		at := all[0].Document.Place
		for _, st := range all {
			if d := st.Document.Place; d.Latitude < 46 || d.Latitude > 47.5 || d.Longitude > -91 || d.Zone != "America/Chicago" {
				t.Errorf("%q opened a heater at %v, %v in %s", way.typed, d.Latitude, d.Longitude, d.Zone)
			}
		}
		if at.Town == "" {
			t.Errorf("%q: the town has no name", way.typed)
		}
	}
	for _, typed := range []string{"Duluth", "Nosuchtown"} {
		h := begin(typed)
		h.See("#town-list", map[string]string{"Duluth": "Georgia", "Nosuchtown": "No town"}[typed])
		h.Touch("#start")
		h.See("[role=alert]", typed)
		if all, err := s.Heaters(t.Context()); err != nil || len(all) != begun {
			t.Errorf("%q made a heater, %v", typed, err)
		}
	}
}

// A builder in Minnesota heats with propane by the gallon and knows only a bill of $235 a month: price and bill are typed as they are
// written, and the page says what the space loses by them, in BTU/h for each degree.
func TestFuelByTheGallon(t *testing.T) {
	t.Parallel()
	base, s := webtest.Workshop(t, false)
	l := newLooker(t, base, "en-US")
	l.do("/start", url.Values{"pane": {"34 x 58"}, "town": {"Duluth, MN"}, "room": {"shop"}})
	p := webtest.Visit(t, base+"/h/1/need", 1280, 800)
	h := webtest.NewHand(t, p)
	pick := func(selector, text string) {
		webtest.Field(p, selector).MustSelect(text)
	}
	pick("#f-room-heater", "propane")
	webtest.WaitFor(t, func() bool { return p.MustHas("#f-room-fuel_unit") })
	st := func() *design.Heater { d := webtest.StateOf(t, s, 1).Document; return &d }
	if unit := st().Room.FuelUnit; unit != "gallon" {
		t.Errorf("propane is sold by the %s", unit)
	}
	if label := p.MustElement(`label[for="f-money-fuel_price"]`).MustText(); label != "Fuel price per gallon, $" {
		t.Errorf("the price is called %q", label)
	}
	h.TypeIn("#f-money-fuel_price", "$2.89")
	webtest.WaitFor(t, func() bool { return st().Money.FuelPrice == 2.89 })
	bills := webtest.Field(p, "#f-room-bills")
	bills.MustInput("$235 a month")
	bills.MustBlur()
	webtest.WaitFor(t, func() bool { return len(st().Room.Bills) == 1 && st().Room.Bills[0].Cost == 235 })
	p.MustReload().MustWaitLoad()
	said := h.See("#bills", "the space loses")
	if !strings.Contains(said, "BTU/h·°F") || strings.Contains(said, "W/K") {
		t.Errorf("the page says %q", said)
	}
	// By hand: 235 / 2.89 = 81.3 gallons a month, 976 a year, of which 85 % heat the space: 829 gallons of 26.8 kWh at 85 % are 18.9 MWh.
	// Degree-days to 18.3 C in Duluth are about 5,200 to 5,600 K d (recalled from memory): 140 to 151 W/K, 266 to 287 BTU/h for each
	// degree F.
	if v := number(t, said); v < 230 || v > 320 {
		t.Errorf("the space loses %v BTU/h a degree by %q", v, said)
	}
}

// number is the first figure of a text that stands before a unit of heat loss.
func number(t *testing.T, text string) float64 {
	t.Helper()
	m := regexp.MustCompile(`([\d,.]+) BTU/h·°F`).FindStringSubmatch(text)
	if m == nil {
		t.Fatalf("no loss in %q", text)
	}
	v, err := strconv.ParseFloat(strings.ReplaceAll(m[1], ",", ""), 64)
	if err != nil {
		t.Fatal(err)
	}
	return v
}

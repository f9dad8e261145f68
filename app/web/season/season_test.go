package season_test

import (
	"strings"
	"testing"

	"gladember/app/web/webtest"
)

func TestMain(m *testing.M) { webtest.Main(m) }

// The season station works the year out by itself, says so in the list of stations, offers
// what would change it, and takes a remedy with one touch and back with another; without
// the facts of the weather it names the one that is missing.
func TestAYearInItsSpace(t *testing.T) {
	base, _ := webtest.Workshop(t, true)
	p := webtest.Visit(t, base+"/h/3/season", 1280, 1500)
	h := webtest.NewHand(t, p)
	judged := func() {
		webtest.WaitFor(t, func() bool { return p.MustHas("#year svg.months") && p.MustHas("#judged .findings .try") })
	}
	judged()
	useful := func() string {
		if !p.MustHas("#year .sums dd") {
			return ""
		}
		return p.MustElement("#year .sums dd").MustText()
	}
	first := useful()
	if line := p.MustElement("#line-season").MustText(); !strings.Contains(line, "of the need") {
		t.Errorf("the list of stations says %q", line)
	}
	if p.MustElement("#find-year-tilt .gain").MustText() == "" {
		t.Error("another lean has no gain")
	}
	h.Touch("#find-year-tilt summary")
	h.Touch("#find-year-tilt .try")
	webtest.WaitFor(t, func() bool { return useful() != "" && useful() != first })
	judged()
	h.Touch("#undo")
	webtest.WaitFor(t, func() bool { return useful() == first })
	judged()
	h.Touch("#f-climate-coldest_c")
	h.Touch("#w-f-climate-coldest_c button")
	// The town alone still has a year, by the stations around it.
	webtest.WaitFor(t, func() bool { return useful() != "" && useful() != first })
	judged()
	h.Touch("#undo")
	webtest.WaitFor(t, func() bool { return useful() == first })
	judged()
	p.MustNavigate(base + "/h/3/need").MustWaitLoad()
	loss := p.MustElement("#center .sums dd").MustText()
	h.TypeIn("#f-room-floor_m2", "36")
	webtest.WaitFor(t, func() bool { return p.MustElement("#center .sums dd").MustText() != loss })
	if !strings.Contains(p.MustElement("#line-need").MustText(), "36") {
		t.Error("the need's line does not say the new floor")
	}
	if h.Entries != 1 || h.Touches != 6 {
		t.Errorf("%d entries, %d touches", h.Entries, h.Touches)
	}
}

// A field is tried through the year with its progress; one of its values is taken.
func TestTryingThroughTheYear(t *testing.T) {
	base, s := webtest.Workshop(t, true)
	p := webtest.Visit(t, base+"/h/3/season", 1280, 900)
	h := webtest.NewHand(t, p)
	webtest.WaitFor(t, func() bool { return p.MustHas("#judged p .figure-text") })
	p.MustElement("#sweep-of").MustSelect("Tilt")
	h.Touch("#sweep")
	webtest.WaitFor(t, func() bool { return p.MustHas("#swept table") })
	h.See("#swept", "is highest at")
	if n := len(p.MustElements("#swept tbody tr")); n < 8 {
		t.Errorf("%d values were tried", n)
	}
	was := webtest.StateOf(t, s, 3).Document.Place.Tilt
	p.MustElement("#swept tbody tr:first-child button").MustClick()
	webtest.WaitFor(t, func() bool { return webtest.StateOf(t, s, 3).Document.Place.Tilt == 20 && was != 20 })
	h.See("#year", "Earlier results")
}

// What a box costs is one sum: in its field, among the figures of the year, in their workings and beside other versions.
func TestCostOfTheBoxIsOneSum(t *testing.T) {
	base, _ := webtest.Workshop(t, true)
	p := webtest.Visit(t, base+"/h/3/season", 1280, 900)
	h := webtest.NewHand(t, p)
	h.See("#figure-spent", "€")
	sum := strings.TrimSpace(strings.TrimSuffix(strings.TrimSpace(p.MustElement("#figure-spent dd").MustText()), "€"))
	if field := webtest.Field(p, "#f-money-spent").MustProperty("value").Str(); field != sum {
		t.Errorf("the field has %s, the figure %s", field, sum)
	}
	for _, page := range []string{"/h/3/working/season-simple", "/h/3/versions", "/h/3/journal"} {
		p.MustNavigate(base + page).MustWaitLoad()
		if html := p.MustHTML(); !strings.Contains(html, sum) {
			t.Errorf("%s does not have %s", page, sum)
		}
	}
}

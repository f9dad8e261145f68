package web_test

import (
	"fmt"
	"html"
	"os/exec"
	"regexp"
	"slices"
	"strings"
	"sync"
	"testing"

	"gladember/app/store"
	"gladember/app/web/webtest"
	"gladember/core/design"
	"gladember/core/units"
)

// crawled are pages and parts of them, by their address.
type crawled map[string]string

var (
	inner = regexp.MustCompile(`(?s)<(script|style|template)\b.*?</(script|style|template)>|<!--.*?-->|` +
		`<span class="other-unit">.*?</span>`)
	spoken    = regexp.MustCompile(`\s(?:title|placeholder|aria-label|alt|content)="([^"]*)"`)
	tag       = regexp.MustCompile(`(?s)</?([a-zA-Z]+)[^>]*>`)
	addresses = regexp.MustCompile(`\s(?:href|hx-get)="(/h/[^"#]*)"`)
	blanks    = regexp.MustCompile(`\s+`)
	letters   = regexp.MustCompile(` [A-Z](?: [A-Z])* `) // of parts
)

// inline are elements that do not part words.
var inline = map[string]bool{"span": true, "b": true, "strong": true, "em": true, "a": true, "abbr": true, "sub": true, "sup": true,
	"small": true, "tspan": true}

// textOf is what a page says and reads out, with elements that part words parted by a bar.
func textOf(page string) string {
	page = inner.ReplaceAllString(page, " ")
	var out strings.Builder
	for _, m := range spoken.FindAllStringSubmatch(page, -1) {
		out.WriteString(m[1] + " | ")
	}
	out.WriteString(tag.ReplaceAllStringFunc(page, func(t string) string {
		if inline[strings.ToLower(tag.FindStringSubmatch(t)[1])] {
			return ""
		}
		return " | "
	}))
	text := strings.NewReplacer("\u00a0", " ", "\u202f", " ", "\u2009", " ").Replace(html.UnescapeString(out.String()))
	return blanks.ReplaceAllString(text, " ")
}

// crawl gathers all pages of a heater with the parts that they load and the workings that they open, to a depth of some links; what takes
// a year's computation only where it is wanted.
func crawl(l *looker, years bool, start ...string) crawled {
	left := []string{".pdf", ".csv", ".ics", "/judged", "/curve", "/months", "/export/", "part=", "/photo/", "step=", "/job/", "sky="}
	if !years {
		left = append(left, "/year", "/alternatives")
	}
	out, todo := crawled{}, start
	for depth := 0; depth < 4 && len(todo) > 0; depth++ {
		var next []string
		for _, path := range todo {
			if _, seen := out[path]; seen {
				continue
			}
			page := l.do(path, nil)
			out[path] = page
			for _, m := range addresses.FindAllStringSubmatch(page, -1) {
				to := html.UnescapeString(m[1])
				if !slices.ContainsFunc(left, func(x string) bool { return strings.Contains(to, x) }) {
					next = append(next, to)
				}
			}
		}
		todo = next
	}
	return out
}

// printed is the text of a PDF.
func printed(t *testing.T, pdf string) string {
	t.Helper()
	c := exec.Command("pdftotext", "-layout", "-", "-")
	c.Stdin = strings.NewReader(pdf)
	b, err := c.Output()
	if err != nil {
		t.Fatal(err)
	}
	return letters.ReplaceAllString(blanks.ReplaceAllString(string(b), " "), " ")
}

// builders are five heaters of one place, as people of it would begin them.
func builders(t *testing.T, s *store.Store, zone string, lat, long, wide, high float64) (ids []int64) {
	t.Helper()
	for _, family := range []string{"screen-box", "can-columns", "back-pass-plate", "downpipes", "window-panel"} {
		h, err := design.Apply(design.New(), units.System{}, design.Set(design.PlaceZone, zone),
			design.Set(design.PlaceLatitude, lat), design.Set(design.PlaceLongitude, long),
			design.Set(design.AbsorberFamily, design.Family(family)), design.Set(design.PaneWidth, wide),
			design.Set(design.PaneHeight, high), design.Set(design.RoomHeater, "propane"))
		if err != nil {
			t.Fatal(err)
		}
		st := webtest.Must(s.Create(t.Context(), h))(t)
		ids = append(ids, st.Heater)
	}
	return ids
}

// stationsOf are the pages of a heater.
func stationsOf(id int64) (paths []string) {
	for _, x := range everyPage {
		if rest, ok := strings.CutPrefix(x, "/h/"); ok {
			_, page, _ := strings.Cut(rest, "/")
			paths = append(paths, fmt.Sprintf("/h/%d/%s", id, page))
		}
	}
	return paths
}

// soldSo are things that stores everywhere sell by a size in one system, and counts that look like inches.
var soldSo = regexp.MustCompile(`\d+ mm (?:high-pressure )?(?:computer|server) fan|\d+ in (?:bilge blower|duct booster|inline duct fan)|` +
	`\d[\d.]* in (?:each of|ten|all\b|the box|the list|reserve)`)

// american are all pages of five heaters in a workshop of American units, with the years of the first: read once for all tests.
var american struct {
	sync.Once
	ids   []int64
	pages map[int64]crawled
}

func americanPages(t *testing.T) ([]int64, map[int64]crawled) {
	t.Helper()
	american.Do(func() {
		base, s := webtest.Workshop(t, false)
		l := newLooker(t, base, "en-US")
		american.ids = builders(t, s, "America/Chicago", 46.8, -92.1, 34*units.MeterPerInch, 58*units.MeterPerInch)
		american.pages = map[int64]crawled{}
		for i, id := range american.ids {
			american.pages[id] = l.withPapers(id, crawl(l, i == 0, stationsOf(id)...))
		}
	})
	if len(american.pages) == 0 {
		t.Fatal("the pages could not be read: see the test that began first")
	}
	return american.ids, american.pages
}

// withPapers adds to the pages of a heater what is printed of it.
func (l *looker) withPapers(id int64, pages crawled) crawled {
	l.t.Helper()
	for _, pdf := range []string{"build/packet.pdf", "cut/drawings.pdf"} {
		pages[pdf] = printed(l.t, l.do(fmt.Sprintf("/h/%d/%s", id, pdf), nil))
	}
	return pages
}

const figure = `(?:^|[^\w./-])[-−]?\d[\d,.]*(?: \d+/\d+)?\s?`

var (
	metricFigure = regexp.MustCompile(figure + `(?:mm|cm|m|km|m²|m2|m³|m3|m³/h|m3/h|L/s|L|mL|liters?|litres?|kg|g|kg/s|g/s|K|W/K|` +
		`W/m²|W/m2|W/m²K|W/\(m² ?K\)|Pa|kPa|hPa|m/s|km/h|°C|C|mm²|mm2|N|kN)(?:$|[^\w°²³/])`)
	metricHeading  = regexp.MustCompile(`(?:^|[| ])(?:W/K|W/m²K?|W/m2K?|kWh/m²|kg/s|Pa|m³/h)(?:$|[ |,.])`)
	americanFigure = regexp.MustCompile(figure + `(?:in|inch|inches|ft|sq ft|cu ft|cfm|BTU|BTU/h|kBTU|°F|F|mph|oz|lb|psf|gal|gallons?|` +
		`AWG|in w\.g\.|ft/min)(?:$|[^\w/])`)
)

// sayNone fails where pages of a heater say something.
func sayNone(t *testing.T, id int64, pages crawled, foreign ...*regexp.Regexp) {
	t.Helper()
	found := map[string]string{}
	for path, page := range pages {
		text := soldSo.ReplaceAllString(textOf(page), "")
		for _, f := range foreign {
			for _, m := range f.FindAllStringIndex(text, -1) {
				if said := text[m[0]:m[1]]; found[said] == "" {
					found[said] = path + ": " + text[max(0, m[0]-50):min(len(text), m[1]+30)]
				}
			}
		}
	}
	for said, where := range found {
		t.Errorf("heater %d: %q in %s", id, said, where)
	}
}

// A workshop in American units says nothing in metric ones, on no page, part of a page or working, and a metric one nothing in inches.
func TestOneSystemOfUnits(t *testing.T) {
	t.Parallel()
	ids, pages := americanPages(t)
	for _, id := range ids {
		sayNone(t, id, pages[id], metricFigure, metricHeading)
	}
	base, _ := webtest.Workshop(t, true)
	l := newLooker(t, base, "de-AT")
	for id := range int64(2) {
		sayNone(t, id+1, l.withPapers(id+1, crawl(l, id == 0, stationsOf(id+1)...)), americanFigure)
	}
}

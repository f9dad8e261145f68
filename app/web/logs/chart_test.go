package logs_test

import (
	"bytes"
	"encoding/json"
	"encoding/xml"
	"fmt"
	"io"
	"math"
	"net/http"
	"os"
	"path/filepath"
	"regexp"
	"strings"
	"testing"
	"time"

	"github.com/go-rod/rod/lib/input"
	"github.com/go-rod/rod/lib/proto"

	"gladember/app/formats"
	"gladember/app/web/webtest"
	"gladember/core/collector"
	"gladember/core/design"
	"gladember/core/measure"
	"gladember/core/units"
)

// fetch reads an address whole.
func fetch(t *testing.T, address string) ([]byte, *http.Response) {
	t.Helper()
	r := webtest.Must(http.Get(address))(t)
	defer r.Body.Close()
	return webtest.Must(io.ReadAll(r.Body))(t), r
}

// chart is what the page's chart is sent.
type chart struct {
	T        []int64    `json:"t"`
	Outlet   []*float64 `json:"outlet"`
	Expected []*float64 `json:"expected"`
	Low      []*float64 `json:"low"`
	High     []*float64 `json:"high"`
	Beside   []*float64 `json:"beside"`
	Step     int64      `json:"step"`
	Runs     [][2]int64 `json:"runs"`
	Notes    []struct {
		At   int64  `json:"t"`
		Text string `json:"text"`
	} `json:"notes"`
}

var dataURL = regexp.MustCompile(`id="chart" data-url="([^"]+)"`)

// charted reads the chart of a page of the log.
func charted(t *testing.T, base, query string) chart {
	t.Helper()
	page, _ := fetch(t, base+"/h/3/log?"+query)
	at := dataURL.FindSubmatch(page)
	if at == nil {
		t.Fatalf("%s has no chart", query)
	}
	b, r := fetch(t, base+strings.ReplaceAll(string(at[1]), "&amp;", "&"))
	var c chart
	if err := json.Unmarshal(b, &c); err != nil || r.StatusCode != http.StatusOK {
		t.Fatalf("%s: %d %.200s", query, r.StatusCode, b)
	}
	return c
}

// On charts of any length, from an hour to all of the log, the highest outlet temperature that was logged in it is shown, and nothing
// above it; the prediction lies in its range.
func TestChartsKeepPeaks(t *testing.T) {
	base, s := webtest.Workshop(t, true)
	of := webtest.Logged(t, s, 3)
	from, to, _, _ := s.Span(t.Context(), of)
	all := webtest.Must(s.Readings(t.Context(), of, from, to))(t)
	for _, span := range []string{"hour", "day", "week", "month", "year", "all"} {
		c := charted(t, base, "day=2026-02-15&span="+span)
		if len(c.T) == 0 || len(c.T) > 3200 {
			t.Errorf("%s: %d points", span, len(c.T))
			continue
		}
		want, got := math.Inf(-1), math.Inf(-1)
		for _, x := range all {
			if at := x.At.Unix(); at >= c.T[0] && at <= c.T[len(c.T)-1]+c.Step {
				want = max(want, x.Outlet)
			}
		}
		predicted := 0
		for i, v := range c.Outlet {
			if v != nil {
				got = max(got, *v)
			}
			if e := c.Expected[i]; e != nil {
				predicted++
				if c.Low[i] == nil || !(*c.Low[i] < *e && *e < *c.High[i]) || *c.High[i]-*c.Low[i] > 40 {
					t.Fatalf("%s: the prediction %v has no range", span, *e)
				}
			}
			if i > 0 && c.T[i] <= c.T[i-1] {
				t.Fatalf("%s: moment %d does not follow", span, i)
			}
		}
		if math.Abs(got-want) > 0.006 { // rounded to hundredths
			t.Errorf("%s: the highest outlet is %v, of the readings %v", span, got, want)
		}
		if (predicted > 0) != (span == "hour" || span == "day") {
			t.Errorf("%s: %d predicted moments", span, predicted)
		}
	}
	if _, r := fetch(t, base+"/h/3/log/series?from=9&to=1"); r.StatusCode != http.StatusBadRequest {
		t.Errorf("a stretch that ends before it begins answers %d", r.StatusCode)
	}
}

// The files of a stretch are read back: the CSV by the importer to the same readings, in degrees Fahrenheit too; JSON with runs, notes and
// nulls; and the picture as XML.
func TestExports(t *testing.T) {
	base, s := webtest.Workshop(t, true)
	of := webtest.Logged(t, s, 3)
	doc := webtest.StateOf(t, s, 3).Document
	zone := collector.Site(&doc).Zone
	day := time.Date(2026, 2, 15, 0, 0, 0, 0, zone)
	want := webtest.Must(s.Readings(t.Context(), of, day, day.AddDate(0, 0, 1)))(t)
	stretch := fmt.Sprintf("?from=%d&to=%d", day.Unix(), day.AddDate(0, 0, 1).Unix())
	for _, imperial := range []bool{false, true} {
		ask := webtest.Must(http.NewRequest(http.MethodGet, base+"/h/3/log/export/readings.csv"+stretch, nil))(t)
		if imperial {
			ask.AddCookie(&http.Cookie{Name: "units", Value: "in.F"})
		}
		r := webtest.Must(http.DefaultClient.Do(ask))(t)
		tb := webtest.Must(formats.Open(r.Body))(t)
		r.Body.Close()
		got, bad, err := tb.Read(tb.Guess, time.UTC, units.System{})
		if err != nil || len(got) != len(want) || len(bad) > 0 {
			t.Fatalf("imperial %v: %d readings of %d, %v, %v", imperial, len(got), len(want), bad, err)
		}
		for i := range got {
			if !got[i].At.Equal(want[i].At) || math.Abs(got[i].Outlet-want[i].Outlet) > 1e-5 || math.Abs(got[i].Sun-want[i].Sun) > 1e-5 {
				t.Fatalf("imperial %v: %+v, logged %+v", imperial, got[i], want[i])
			}
		}
	}
	if page, r := fetch(t, base+"/h/3/working/log-fan?day=2026-02-15"); r.StatusCode != http.StatusOK || !strings.Contains(string(page),
		"power of the fan at its operating point") {
		t.Errorf("the fan's energy shows no working: %d %.300s", r.StatusCode, page)
	}
	var out struct {
		Days     []struct{ Runs [][2]string }
		Readings []struct {
			At     time.Time
			Outlet *float64 `json:"outlet_c"`
		}
		Predicted []struct {
			U float64 `json:"standard_uncertainty_k"`
		}
	}
	b, _ := fetch(t, base+"/h/3/log/export/readings.json"+stretch)
	if err := json.Unmarshal(b, &out); err != nil || len(out.Readings) != len(want) || len(out.Days) != 1 || len(out.Days[0].Runs) != 2 ||
		len(out.Predicted) == 0 || !(out.Predicted[0].U > 0) {
		t.Errorf("%v: %.300s", err, b)
	}
	b, r := fetch(t, base+"/h/3/log/export/chart.svg"+stretch)
	if err := xml.Unmarshal(b, new(struct{})); err != nil || r.Header.Get("Content-Type") != "image/svg+xml" {
		t.Errorf("%v: %.200s", err, b)
	}
	if _, r := fetch(t, base+"/h/3/log/export/other.exe"+stretch); r.StatusCode != http.StatusNotFound {
		t.Errorf("another file answers %d", r.StatusCode)
	}
}

// With the mouse: a stretch that is dragged over is shown closer and set as the one to exclude, and comes back whole; a touch sets the
// moment of a note, which is then on the chart, in the list and in the journal, until it is removed. With keys alone: the length of the
// chart is changed.
func TestChartUnderTheHand(t *testing.T) {
	base, _ := webtest.Workshop(t, true)
	p := webtest.Visit(t, base+"/h/3/log?day=2026-02-15", 1280, 900)
	h := webtest.NewHand(t, p)
	webtest.Settled(t, p)
	webtest.WaitFor(t, func() bool { return p.MustHas("#chart[data-ready]") })
	box := p.MustElement("#chart .u-over").MustShape().Box()
	at := func(share float64) proto.Point {
		return proto.Point{X: box.X + share*box.Width, Y: box.Y + box.Height/2}
	}
	webtest.WaitFor(t, func() bool { // the chart is drawn once more when its fonts have come
		box = p.MustElement("#chart .u-over").MustShape().Box()
		p.Mouse.MustMoveTo(at(0.38).X, at(0.38).Y).MustMoveTo(at(0.4).X, at(0.4).Y)
		return strings.Contains(p.MustElement("#readout").MustText(), "outlet")
	})
	p.Mouse.MustDown("left").MustMoveTo(at(0.5).X, at(0.5).Y).MustMoveTo(at(0.6).X, at(0.6).Y).MustUp("left")
	webtest.WaitFor(t, func() bool { return webtest.Field(p, "#span-from").MustProperty("value").Str() > "2026-02-15T10" })
	if to := webtest.Field(p, "#span-to").MustProperty("value").Str(); to < "2026-02-15T12" || to > "2026-02-15T16" {
		t.Errorf("the stretch ends at %s", to)
	}
	h.Touch("[data-whole]")
	webtest.WaitFor(t, func() bool { return p.MustElement("[data-whole]").MustProperty("hidden").Bool() })
	p.Mouse.MustMoveTo(at(0.5).X, at(0.5).Y).MustClick("left")
	webtest.WaitFor(t, func() bool {
		return strings.HasPrefix(webtest.Field(p, "#note-at").MustProperty("value").Str(), "2026-02-15T12")
	})
	webtest.Field(p, `#note-box [name="text"]`).MustInput("snow slid off")
	h.Touch("#note-box .act")
	h.See("#pinned", "snow slid off")
	if c := charted(t, base, "day=2026-02-15"); len(c.Notes) != 1 || c.Notes[0].Text != "snow slid off" {
		t.Errorf("%+v", c.Notes)
	}
	if page, _ := fetch(t, base+"/h/3/journal"); !strings.Contains(string(page), "snow slid off") {
		t.Error("the journal lacks the note")
	}
	h.Touch("#pinned button")
	webtest.WaitFor(t, func() bool { return !p.MustHas("#pinned") })

	p.MustElementR(".spans a", "Week").MustFocus()
	wait := p.MustWaitNavigation()
	p.Keyboard.MustType(input.Enter)
	wait()
	h.See(".spans [aria-current]", "Week")
	h.See(".log-chart h2", "9 February 2026 to 15 February 2026")
	h.See(".chart-key", "up to three days")
}

// Another heater with readings of the day is laid beside this one: who gave more to a square meter is said where the ranges allow it.
// Readings of a version stay with it, and go to another when one says so.
func TestBesideAndVersions(t *testing.T) {
	base, s := webtest.Workshop(t, true)
	of := webtest.Logged(t, s, 3)
	st := webtest.StateOf(t, s, 3)
	from, to, _, _ := s.Span(t.Context(), of)
	all := webtest.Must(s.Readings(t.Context(), of, from, to))(t)
	doc := st.Document
	doc.Switch.Close, doc.Switch.Open = 24, 20
	twin := webtest.Must(s.Create(t.Context(), doc))(t).Heater
	var less []measure.Sample
	for _, x := range all {
		x.Outlet = x.Inlet + 0.4*(x.Outlet-x.Inlet)
		less = append(less, x)
	}
	webtest.Log(t, s, twin, "less.csv", less, false)
	p := webtest.Visit(t, base+"/h/3/log?day=2026-02-15", 1280, 900)
	h := webtest.NewHand(t, p)
	chosen := fmt.Sprintf("%d.%d", twin, webtest.Logged(t, s, twin).Version)
	p.MustElement(`[name="with"]`).MustSelect(p.MustElement(`[value="` + chosen + `"]`).MustText())
	h.Touch("#beside .act")
	h.See("#beside", "this one gave more: ")
	h.See("#beside", "Heat of a square meter of glass")
	webtest.WaitFor(t, func() bool { return p.MustHas("#chart[data-ready]") })
	if c := charted(t, base, "day=2026-02-15&with="+chosen); len(c.Beside) != len(c.T) {
		t.Errorf("%d points beside %d", len(c.Beside), len(c.T))
	}

	branch := webtest.Must(s.Branch(t.Context(), st.Seen()))(t)
	p.MustNavigate(base + "/h/3/log").MustWaitLoad()
	h.See("#center", "No readings yet")
	h.See("#elsewhere", "version A")
	h.Touch("#elsewhere button")
	h.See("#fig-day", "kWh")
	if webtest.Logged(t, s, 3).Version != branch.Version || len(webtest.Must(s.Imports(t.Context(), branch.Logged()))(t)) != 1 {
		t.Error("the readings did not go to the new version")
	}
}

// A file of a hundred thousand rows is read behind the page of its columns, and its log judged behind its page: each page comes at
// once and says so, what it holds follows by itself, and so it is after a change that concerns the log; a page that is opened again
// has it at once.
func TestLongLogFollows(t *testing.T) {
	base, s := webtest.Workshop(t, false)
	heater := webtest.Must(s.Create(t.Context(), design.New()))(t).Heater
	var in bytes.Buffer
	fmt.Fprintln(&in, "serial,time,inlet,outlet,outdoor,sun")
	from := time.Date(2026, 1, 1, 0, 0, 0, 0, time.UTC)
	for i := range 110_000 {
		at := from.Add(time.Duration(i) * 30 * time.Second)
		rise := 12 * max(0, math.Sin(2*math.Pi*(at.Sub(from).Hours()-6)/24))
		fmt.Fprintf(&in, "%d,%s,%.2f,%.2f,3.00,700\n", 10_000_000+i, at.Format(time.DateTime), 20+0.2*float64(i%3),
			22+rise+0.1*float64(i%7))
	}
	file := filepath.Join(t.TempDir(), "long.csv")
	if err := os.WriteFile(file, in.Bytes(), 0o600); err != nil {
		t.Fatal(err)
	}
	p := webtest.Visit(t, fmt.Sprintf("%s/h/%d/log", base, heater), 1280, 900)
	h := webtest.NewHand(t, p)
	p.MustElement("#file").MustSetFiles(file) // it is sent at once
	h.See("#columns-report", "110,000 readings")
	waiting := p.MustInfo().URL
	if page, _ := fetch(t, waiting); !strings.Contains(string(page), "are read before anything is decided") {
		t.Error("the page of the columns does not say that the file is being read")
	}
	// The file is taken in without the browser, which would have it judged before the page is looked at.
	_, number, _ := strings.Cut(waiting, "file=")
	req := webtest.Must(http.NewRequest("POST", fmt.Sprintf("%s/h/%d/log/import", base, heater), strings.NewReader("file="+number)))(t)
	req.Header.Set("Content-Type", "application/x-www-form-urlencoded")
	req.Header.Set("Sec-Fetch-Site", "same-origin")
	once := http.Client{CheckRedirect: func(*http.Request, []*http.Request) error { return http.ErrUseLastResponse }}
	webtest.Must(once.Do(req))(t).Body.Close()
	page, _ := fetch(t, fmt.Sprintf("%s/h/%d/log", base, heater))
	if !strings.Contains(string(page), "110,000 readings are added up") {
		t.Error("the page does not say that the log is being judged")
	}
	p.MustNavigate(fmt.Sprintf("%s/h/%d/log", base, heater)).MustWaitLoad()
	h.See("#fig-day", "kWh")
	webtest.WaitFor(t, func() bool { return p.MustHas("#chart[data-ready]") })
	useful := webtest.Field(p, "#f-room-useful_c")
	useful.MustSelectAllText().MustInput("31")
	webtest.WaitFor(t, func() bool { return strings.Contains(p.MustElement("#fig-useful").MustText(), "above 31") })
	if page, _ := fetch(t, fmt.Sprintf("%s/h/%d/log", base, heater)); strings.Contains(string(page), "added up") {
		t.Error("what is known is judged again")
	}
}

// A log of a hundred years opens as a page of ordinary size: its calendar and the lists of its days are bounded, here and at the switch.
func TestCenturyOfDays(t *testing.T) {
	base, s := webtest.Workshop(t, false)
	heater := webtest.Must(s.Create(t.Context(), design.New()))(t).Heater
	var in []measure.Sample
	for at := time.Date(1990, 1, 2, 12, 0, 0, 0, time.UTC); at.Year() < 2097; at = at.AddDate(0, 0, 1) {
		for m := range 2 {
			in = append(in, measure.Sample{At: at.Add(time.Duration(m) * time.Minute), Inlet: 20, Outlet: 40 + float64(at.Day())/10,
				Outdoor: math.NaN(),
				Sun:     600, Speed: math.NaN()})
		}
	}
	webtest.Log(t, s, heater, "century.csv", in, false)
	for _, page := range []string{"log", "log?span=all", "log?day=2040-02-29", "switch"} {
		b, r := fetch(t, fmt.Sprintf("%s/h/%d/%s", base, heater, page))
		if r.StatusCode != http.StatusOK || len(b) > 700_000 {
			t.Errorf("%s: %d, %d bytes", page, r.StatusCode, len(b))
		}
	}
}

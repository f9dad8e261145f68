package logs_test

import (
	"context"
	"fmt"
	"io"
	"math"
	"net/http"
	"os"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"gladember/app/store"
	"gladember/app/web/webtest"
	"gladember/core/design"
	"gladember/core/measure"
)

func TestMain(m *testing.M) { webtest.Main(m) }

// noonCSV writes an hour of readings: outdoors from one function of the minute, "" for no such column.
func noonCSV(t testing.TB, name string, outlet func(minute int) float64, outdoor func(minute int) string) string {
	t.Helper()
	var b strings.Builder
	b.WriteString("time,inlet C,outlet C")
	if outdoor != nil {
		b.WriteString(",outdoors C")
	}
	for m := range 60 {
		fmt.Fprintf(&b, "\n2026-02-10 12:%02d,20,%g", m, outlet(m))
		if outdoor != nil {
			b.WriteString("," + outdoor(m))
		}
	}
	name = filepath.Join(t.TempDir(), name)
	if err := os.WriteFile(name, []byte(b.String()), 0o600); err != nil {
		t.Fatal(err)
	}
	return name
}

// A second file of the same hour: more channels are added, other values are asked about, and each file can be
// removed exactly.
func TestFilesBesideTheLog(t *testing.T) {
	base, s := webtest.Workshop(t, false)
	heater := webtest.Must(s.Create(context.Background(), design.New()))(t).Heater
	p := webtest.Visit(t, fmt.Sprintf("%s/h/%d/log", base, heater), 1280, 900)
	h := webtest.NewHand(t, p)
	bring := func(file string) {
		t.Helper()
		p.MustElement("#file").MustSetFiles(file)
		h.See("#columns-report", "60 readings")
	}
	log := func() []measure.Sample {
		t.Helper()
		from, to, ok, err := s.Span(context.Background(), webtest.Logged(t, s, heater))
		if err != nil || !ok {
			return nil
		}
		return webtest.Must(s.Readings(context.Background(), webtest.Logged(t, s, heater), from, to))(t)
	}
	forty := func(int) float64 { return 40 }
	bring(noonCSV(t, "first.csv", forty, nil))
	h.Touch("#take-in")
	h.See("#imports", "120 new values")

	// The same times with outdoors: only those are new. A fault code is left out and said.
	bring(noonCSV(t, "outdoors.csv", forty, func(m int) string {
		if m == 7 {
			return "-999"
		}
		return "-3"
	}))
	h.See("#columns-beside", "59 are new to the log and 120 are in it already")
	h.See("#columns-left", "1 value. The first is in line 9: outdoor")
	h.Touch("#take-in")
	h.See("#imports", "59 new values")
	if got := log(); len(got) != 60 || got[3].Outdoor != -3 || !math.IsNaN(got[7].Outdoor) {
		t.Errorf("with outdoors: %d readings, %+v", len(got), got[7])
	}

	// A corrected file: the difference is shown, and either side can be had.
	corrected := noonCSV(t, "corrected.csv", func(m int) float64 {
		if m >= 30 {
			return 70
		}
		return 40
	}, nil)
	bring(corrected)
	h.See("#columns-beside", "90 are in it already and 30 differ from it. The first that differs: outlet at 10 February 2026 12:30 is "+
		"40 °C in the log and 70 °C in this file")
	h.Touch("#keep-log")
	h.See("#notice", "the log is unchanged")
	bring(corrected)
	h.Touch("#take-in")
	h.See("#imports", "30 replaced")
	if got := log(); got[29].Outlet != 40 || got[30].Outlet != 70 || got[30].Outdoor != -3 {
		t.Errorf("corrected: %+v", got[30])
	}

	// The file in the middle alone goes; then the correction.
	h.Touch(`[aria-label="Remove outdoors.csv from the log"]`)
	webtest.WaitFor(t, func() bool { got := log(); return len(got) == 60 && math.IsNaN(got[3].Outdoor) && got[30].Outlet == 70 })
	h.Touch(`[aria-label="Remove corrected.csv from the log"]`)
	webtest.WaitFor(t, func() bool { got := log(); return len(got) == 60 && got[30].Outlet == 40 })
}

// What an older version took in without a check, and what cannot be judged, stop no page: it opens, and lists
// the files with a button each.
func TestNoReadingStopsThePage(t *testing.T) {
	base, s := webtest.Workshop(t, true)
	for _, outdoor := range []float64{-999, 1e308, math.Inf(1), -300} {
		from := time.Date(2026, 2, 11, 11, 0, 0, 0, time.UTC)
		var bad []measure.Sample
		for m := range 60 {
			bad = append(bad, measure.Sample{At: from.Add(time.Duration(m) * time.Minute), Inlet: 20, Outlet: 45, Outdoor: outdoor,
				Sun: outdoor, Speed: outdoor})
		}
		imp := webtest.Log(t, s, 2, "odd.csv", bad, false)
		for _, page := range []string{"/h/2/log", "/h/2/log/series?from=1770764400&to=1770850800", "/h/2/log?day=2026-02-11"} {
			r := webtest.Must(http.Get(base + page))(t)
			body := string(webtest.Must(io.ReadAll(r.Body))(t))
			r.Body.Close()
			if r.StatusCode != http.StatusOK || strings.Contains(body, "NaN") || !strings.Contains(page, "/series") &&
				!strings.Contains(body, fmt.Sprintf("log/imports/%d/remove", imp.ID)) {
				t.Errorf("outdoor %g: %s answers %d: %.200s", outdoor, page, r.StatusCode, body)
			}
		}
		if err := s.RemoveImport(context.Background(), 2, imp.ID); err != nil {
			t.Fatal(err)
		}
	}
}

// Two files at once, one of them a spreadsheet: each is shown with what was decided about it. Dates that can be read both ways are
// asked, since this heater has no town, and nothing is imported before; the next file of that logger is read as the last one was.
func TestFilesAreAskedAndRemembered(t *testing.T) {
	base, s := webtest.Workshop(t, false)
	heater := webtest.Must(s.Create(context.Background(), design.New()))(t).Heater
	p := webtest.Visit(t, fmt.Sprintf("%s/h/%d/log", base, heater), 390, 844)
	h := webtest.NewHand(t, p)
	dialect := func(name string) string {
		return webtest.Must(filepath.Abs(filepath.Join("..", "..", "formats", "testdata", "dialects", name)))(t)
	}
	p.MustElement("#file").MustSetFiles(dialect("preamble.csv"), dialect("sheet-f.xlsx"))
	h.See("#columns-decided", "The first 2 lines are left out")
	h.Touch("#take-in")
	h.See("#columns-decided", "read in °F")
	h.See("#columns-beside", "All of it is in the log already") // both hold the same readings
	p.MustNavigate(fmt.Sprintf("%s/h/%d/log", base, heater)).MustWaitLoad()
	h.See("#imports", "48 new values")

	open := filepath.Join(t.TempDir(), "open.csv")
	if err := os.WriteFile(open, []byte("when,from room,hot air\n2/7/2026 11:58,18,40\n2/7/2026 11:59,18,40.5\n"), 0o600); err != nil {
		t.Fatal(err)
	}
	p.MustNavigate(fmt.Sprintf("%s/h/%d/log", base, heater)).MustWaitLoad()
	p.MustElement("#file").MustSetFiles(open)
	h.See("#columns-order", "How are the dates written, such as 2/7/2026 11:58?")
	if p.MustHas("#take-in") {
		t.Error("a file whose dates are open can be imported")
	}
	h.Touch(`#columns-order [value="month"]`)
	h.See("#columns-report", "7 February 2026")
	h.Touch("#take-in")
	h.See("#imports", "open.csv")
	p.MustElement("#file").MustSetFiles(open)
	h.See("#columns-decided", "as in the last file of this logger")
	h.See("#columns-beside", "All of it is in the log already")
}

// The heater is fitted to its log as a job: the unknowns come with their ranges, with what cannot be told apart, with the test that
// would help, and with where the day's sun went; taken over, the heater has them as measured, and undo takes them back.
func TestCalibrationOnThePage(t *testing.T) {
	base, s := webtest.Workshop(t, true)
	p := webtest.Visit(t, base+"/h/3/log", 1280, 900)
	p.MustElementR("button", "Fit the heater").MustClick()
	webtest.WaitFor(t, func() bool { return p.MustHas("#take-fit") })
	text := p.MustElement("#fitted").MustText()
	for _, want := range []string{"Airflow, as room air", "Absorbed sun", "95 % range", "of steady running", "fitted to the log"} {
		if !strings.Contains(text, want) {
			t.Errorf("%q is missing in %s", want, text)
		}
	}
	p.MustElement("#take-fit").MustClick()
	webtest.WaitFor(t, func() bool {
		d := webtest.StateOf(t, s, 3).Document
		return d.Entry(design.CoverTauAlpha).Origin == design.Measured && d.Entry(design.AirFanStrength).U > 0
	})
	var made []store.Trial
	webtest.WaitFor(t, func() bool { made = webtest.Must(s.Trials(t.Context(), 3))(t); return len(made) > 0 }) // it is kept last
	if len(made) != 1 || made[0].Kind != store.Calibration || !strings.Contains(made[0].Entry, `"files":["february.csv"]`) {
		t.Errorf("kept: %+v", made)
	}
	p.MustElementR("button", "^undo$").MustClick()
	webtest.WaitFor(t, func() bool {
		doc := webtest.StateOf(t, s, 3).Document
		still := doc.Given(design.CoverTauAlpha)
		return !still
	})
}

// A stretch is excluded by its times and counts again when it is taken back; the heat of the day follows, the readings stay. A finding's
// own touch puts swapped probes right, and undo takes that back. A reading by hand is one of the log's.
func TestStretchesAndMending(t *testing.T) {
	base, s := webtest.Workshop(t, true)
	p := webtest.Visit(t, base+"/h/3/log", 1280, 900)
	h := webtest.NewHand(t, p)
	heat := func() string { return p.MustElement("#headline").MustText() }
	before, from, to := heat(), time.Time{}, time.Time{}
	readings := func() int {
		from, to, _, _ = s.Span(t.Context(), webtest.Logged(t, s, 3))
		return len(webtest.Must(s.Readings(t.Context(), webtest.Logged(t, s, 3), from, to))(t))
	}
	n := readings()
	exclude := func(a, b string) {
		webtest.Field(p, "#span-from").MustEval(`(v) => { this.value = v; }`, a)
		webtest.Field(p, "#span-to").MustEval(`(v) => { this.value = v; }`, b)
		e := p.MustElementR(".exclude button", "^Exclude$")
		e.MustEval(`() => this.scrollIntoView({block: "center"})`)
		e.MustClick()
	}
	exclude("2026-02-15T13:00", "2026-02-15T12:00")
	h.See("#notice", "the earlier one first")
	exclude("2026-02-15T12:00", "2026-02-15T12:59")
	webtest.WaitFor(t, func() bool { return p.MustHas("#excluded") && heat() != before })
	if readings() != n {
		t.Error("excluding removed readings")
	}
	h.Touch("#excluded button")
	webtest.WaitFor(t, func() bool { return !p.MustHas("#excluded") && heat() == before })

	// Readings whose probes are swapped.
	var swapped []measure.Sample
	for _, x := range webtest.Must(s.Readings(t.Context(), webtest.Logged(t, s, 3), from, to))(t) {
		x.Inlet, x.Outlet = x.Outlet, x.Inlet
		swapped = append(swapped, x)
	}
	webtest.Log(t, s, 3, "swapped.csv", swapped, true)
	p.MustNavigate(base + "/h/3/log").MustWaitLoad()
	h.See("#doubt-swapped", "swapped")
	h.Touch("#doubt-swapped .try")
	webtest.WaitFor(t, func() bool { return webtest.StateOf(t, s, 3).Document.Log.Swapped && !p.MustHas("#doubt-swapped") })
	if got := heat(); got != before {
		t.Errorf("put right, the day has %q, before %q", got, before)
	}

	webtest.Field(p, `.by-hand [name="inlet"]`).MustInput("18 C")
	p.MustElement(`.by-hand [name="outlet"]`).MustInput("400 C")
	h.Touch(".by-hand button")
	h.See("body", "fault code or out of range")
	p.MustNavigate(base + "/h/3/log").MustWaitLoad()
	webtest.Field(p, `.by-hand [name="inlet"]`).MustInput("18 C")
	p.MustElement(`.by-hand [name="outlet"]`).MustInput("40 C")
	h.Touch(".by-hand button")
	h.See("#imports", "Readings by hand")
}

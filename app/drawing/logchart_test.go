package drawing

import (
	"fmt"
	"html/template"
	"math"
	"math/rand/v2"
	"strings"
	"testing"
	"time"

	"gladember/core/measure"
	"gladember/core/units"
)

// The bars of the calendar are as long as the heat of their days, on the line of their month, and a day that was refused is no measure.
func TestCalendarIsToScale(t *testing.T) {
	var days []measure.Day
	r := rand.New(rand.NewPCG(3, 4))
	for at := time.Date(2025, 11, 20, 0, 0, 0, 0, time.UTC); at.Before(time.Date(2026, 2, 10, 0, 0, 0, 0, time.UTC)); at = at.AddDate(0, 0,
		1) {
		days = append(days, measure.Day{Date: at.Format(time.DateOnly), Heat: 6 * r.Float64()})
	}
	days[5].Heat, days[7].Heat, days[7].Impossible = 6.5, 40, true
	for _, width := range []float64{700, 360} {
		var bars []element
		for _, e := range parse(t, Calendar(days, 20, units.System{}, width, func(d string) string { return "?day=" + d })) {
			if e.class == "column" {
				bars = append(bars, e)
			}
		}
		if len(bars) != len(days) {
			t.Fatalf("%d bars of %d days", len(bars), len(days))
		}
		for i, b := range bars {
			if want := min(1, days[i].Heat/6.5) * bars[5].num(t, "height"); math.Abs(b.num(t, "height")-max(1.5, want)) > 0.02 {
				t.Errorf("%s is %v high, want %v", days[i].Date, b.num(t, "height"), want)
			}
			at, _ := time.Parse(time.DateOnly, days[i].Date)
			foot := b.num(t, "y") + b.num(t, "height")
			if same := i > 0 && at.Day() > 1; same && math.Abs(foot-bars[i-1].num(t, "y")-bars[i-1].num(t, "height")) > 0.02 {
				t.Errorf("%s stands on another line", days[i].Date)
			}
			if b.num(t, "x") < 0 || b.num(t, "x")+b.num(t, "width") > width {
				t.Errorf("%s lies outside", days[i].Date)
			}
		}
	}
}

// Of a log of decades so many months are shown as fit on a page, those around the chosen day among them.
func TestCalendarIsBounded(t *testing.T) {
	var days []measure.Day
	for at := time.Date(1995, 1, 1, 0, 0, 0, 0, time.UTC); at.Year() < 2026; at = at.AddDate(0, 0, 1) {
		days = append(days, measure.Day{Date: at.Format(time.DateOnly), Heat: 1})
	}
	for _, here := range []int{0, 5000, len(days) - 1} {
		page := string(Calendar(days, here, units.System{}, 700, func(d string) string { return d }))
		if !strings.Contains(page, `href="`+days[here].Date) || strings.Count(page, "<a ") > 13*31 || !strings.Contains(page,
			"more months") {
			t.Errorf("around %s: %d days are shown", days[here].Date, strings.Count(page, "<a "))
		}
	}
}

// Marks of the time axis are few, in order, inside, and at round times, for any stretch.
func TestTicks(t *testing.T) {
	zone, err := time.LoadLocation("America/Chicago")
	if err != nil {
		t.Fatal(err)
	}
	r := rand.New(rand.NewPCG(5, 6))
	for range 500 {
		from := time.Date(2020+r.IntN(6), time.Month(1+r.IntN(12)), 1+r.IntN(28), r.IntN(24), r.IntN(60), 0, 0, zone)
		to := from.Add(time.Duration(math.Exp(math.Log(3600)+r.Float64()*math.Log(20*8766))) * time.Second)
		marks := ticks(from, to, zone)
		if len(marks) < 2 && to.Sub(from) > 90*time.Minute || len(marks) > 13 {
			t.Fatalf("%v to %v has %d marks", from, to, len(marks))
		}
		for i, m := range marks {
			if m.when.Before(from) || m.when.After(to) || i > 0 && (!m.when.After(marks[i-1].when) || m.text == marks[i-1].text) {
				t.Fatalf("%v to %v: %v", from, to, marks)
			}
		}
	}
}

// The picture that is sent as a file breaks its lines in gaps, and has what is expected with its range, the notes and the runs.
func TestLogChart(t *testing.T) {
	from := time.Date(2026, 2, 10, 8, 0, 0, 0, time.UTC)
	nan := math.NaN()
	x := &LogStretch{Title: "A <box>", From: from, To: from.Add(8 * time.Hour), Zone: time.UTC,
		Runs:  []measure.Run{{From: from.Add(time.Hour), To: from.Add(3 * time.Hour)}},
		Notes: []LogNote{{from.Add(2 * time.Hour), "snow & ice"}, {from.Add(99 * time.Hour), "later"}}}
	for m := range 480 {
		s := measure.Sample{At: from.Add(time.Duration(m) * time.Minute), Inlet: 18, Outlet: 30, Outdoor: nan, Sun: 500, Speed: nan}
		if m == 200 {
			s.Inlet, s.Outlet, s.Sun = nan, nan, nan
		}
		x.Points = append(x.Points, s)
		if m%10 == 0 && m > 60 && m < 180 {
			x.Expected = append(x.Expected, measure.Prediction{At: s.At, Outlet: 33, U: 2})
		}
	}
	text := LogChart(x, units.System{})
	n := map[string]int{}
	for _, e := range parse(t, template.HTML(text)) {
		n[e.name+" "+e.class]++
		if e.class == "outlet" && strings.Count(e.attr["d"], "M") != 2 {
			t.Error("the outlet runs on over a gap")
		}
		if d := e.attr["d"]; strings.Contains(d, "NaN") {
			t.Errorf("%s holds %s", e.class, d)
		}
	}
	for _, want := range []string{"path outlet", "path inlet", "path sunline", "path want", "path range", "rect run", "line pin"} {
		if n[want] != 1 {
			t.Errorf("%d times %s", n[want], want)
		}
	}
	if n["path outdoor"] != 0 || strings.Contains(text, "later") || !strings.Contains(text, "snow &amp; ice") {
		t.Error("what was not measured is drawn, or a note of another day")
	}
	if empty := LogChart(&LogStretch{From: from, To: from.Add(time.Hour), Zone: time.UTC},
		units.System{Fahrenheit: true}); strings.Contains(
		empty, "NaN") || strings.Contains(empty, "Inf") {
		t.Error(fmt.Sprint("an empty stretch: ", empty))
	}
}

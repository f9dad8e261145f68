package drawing

import (
	"fmt"
	"html/template"
	"time"

	"gladember/core/measure"
	"gladember/core/units"
)

// DayBar sets a day's measured heat beside what was expected, as lengths to one
// scale, the band as a bracket over it.
func DayBar(d measure.Day, x measure.Expected, u units.System, width float64) template.HTML {
	const height = 74.0
	full := max(max(d.Band[1], x.Heat), 0.1)
	k := (width - 8) / full * 0.8
	kwh := func(v float64) string { return units.Format(units.Energy, v, u) }
	var s svg
	s.open("daybar", fmt.Sprintf("Measured %s, expected %s.", kwh(d.Heat), kwh(x.Heat)), width, height)
	s.text("title", "start", 0, 12, "Heat of the day to the room")
	class := "bar heat"
	if d.Impossible {
		class = "bar refused"
	}
	s.rect(class, 0, 24, k*d.Heat, 24)
	label, anchor, tx, tc := kwh(d.Heat), "start", 8.0, "in-bar heat"
	if d.Impossible {
		tc = "figure"
	}
	if k*d.Heat < 90 {
		tx, tc = k*max(d.Band[1], x.Heat)+8, "figure"
	}
	s.text(tc, anchor, tx, 41, label)
	s.path("bracket", fmt.Sprintf("M%.1f 54v6H%.1fv-6", k*d.Band[0], k*d.Band[1]))
	if x.Heat > 0 {
		s.line("expected", k*x.Heat, 19, k*x.Heat, 53)
		at, anchor := k*x.Heat+6, "start"
		if k*x.Heat < k*d.Heat || k*d.Heat < 90 {
			at = k*d.Heat + 8
		}
		if width < 500 {
			s.text("soft", "end", width, 12, "dashed: expected "+kwh(x.Heat))
		} else {
			s.text("soft", anchor, min(at, width-150), 34, "expected "+kwh(x.Heat))
		}
	}
	const ranged = 170.0 // of the range in words
	if width < 500 && k*d.Band[0] > ranged {
		s.text("soft", "end", k*d.Band[0]-6, 66, kwh(d.Band[0])+" to "+kwh(d.Band[1]))
		return s.close()
	}
	s.text("soft", "start", k*d.Band[1]+6, 66, kwh(d.Band[0])+" to "+kwh(d.Band[1]))
	return s.close()
}

// mostMonths is how many months a calendar shows at once.
const mostMonths = 13

// months are the months of logged days around one of them, oldest first, and how many before and after are left out.
func months(days []measure.Day, here int) (shown []time.Time, before, after int) {
	var all []time.Time
	at := 0
	for i, d := range days {
		t, err := time.Parse(time.DateOnly, d.Date)
		if err != nil {
			continue
		}
		m := time.Date(t.Year(), t.Month(), 1, 0, 0, 0, 0, time.UTC)
		if len(all) == 0 || !all[len(all)-1].Equal(m) {
			all = append(all, m)
		}
		if i <= here {
			at = len(all) - 1
		}
	}
	lo := max(0, min(at-mostMonths/2, len(all)-mostMonths))
	hi := min(len(all), lo+mostMonths)
	return all[lo:hi], lo, len(all) - hi
}

// Calendar shows the heat of each logged day as a length, a line for each month, so that the good days are found. A day can be chosen.
func Calendar(days []measure.Day, here int, u units.System, width float64, link func(date string) string) template.HTML {
	const top, line, bar, name = 30.0, 56.0, 34.0, 64.0
	shown, before, after := months(days, here)
	most := 0.1
	for _, d := range days {
		if !d.Impossible {
			most = max(most, d.Heat)
		}
	}
	cw := (width - name) / 31
	var s svg
	fmt.Fprintf(&s, `<svg class="strip" viewBox="0 0 %.0f %.0f" role="group" aria-label="Heat by day">`, width,
		top+line*float64(len(shown)))
	s.text("title", "start", 0, 12, "Days by heat")
	s.text("soft", "end", width, 12, "longest bar "+units.Format(units.Energy, most, u))
	for i, m := range shown {
		base := top + line*float64(i) + bar
		s.text("label", "start", 0, base, m.Format("Jan 2006"))
		s.line("axis", name, base, name+31*cw, base)
		for d := 1; d <= 31; d += 5 {
			if d > 1 {
				d--
			}
			s.text("small", "middle", name+(float64(d)-0.5)*cw, base+13, fmt.Sprint(d))
			if d > 1 {
				d++
			}
		}
	}
	for i, d := range days {
		t, err := time.Parse(time.DateOnly, d.Date)
		if err != nil {
			continue
		}
		row := -1
		for k, m := range shown {
			if m.Year() == t.Year() && m.Month() == t.Month() {
				row = k
			}
		}
		if row >= 0 {
			s.day(&days[i], t, i == here, name+cw*float64(t.Day()-1), top+line*float64(row)+bar, cw, bar*max(0, d.Heat)/most, bar, u,
				link)
		}
	}
	if note := leftMonths(before, after); note != "" {
		s.text("soft", "start", 96, 12, note)
	}
	return s.close()
}

// leftMonths says that a calendar is a part of the log.
func leftMonths(before, after int) string {
	if before+after == 0 {
		return ""
	}
	return fmt.Sprintf("%d more months of readings: choose one at the edge", before+after)
}

// day draws a day of the calendar, its left lower corner at x and base.
func (s *svg) day(d *measure.Day, t time.Time, here bool, x, base, cw, h, full float64, u units.System, link func(date string) string) {
	name := fmt.Sprintf("%s, %s", t.Format("2 January 2006"), units.Format(units.Energy, d.Heat, u))
	class := "day"
	if here {
		class += " here"
	}
	if d.Impossible {
		name += ", refused"
		class += " refused"
	}
	h = min(h, full)
	fmt.Fprintf(s, `<a class="%s" href="%s" aria-label="%s"><title>%s</title>`, class, esc(link(d.Date)), esc(name), esc(name))
	s.rect("hit", x, base-full-2, cw, full+18)
	s.rect("column", x+1, base-max(1.5, h), cw-2, max(1.5, h))
	if here {
		s.rect("frame", x+0.5, base-full-2, cw-1, full+4)
	}
	s.WriteString("</a>")
}

// Beside draws what two heaters gave to a square meter of glass over the same time, each with its 95 % range.
func Beside(x *measure.Beside, u units.System, width float64) template.HTML {
	var of [2]measure.Measured
	for i := range of {
		m := &of[i]
		m.Kind, m.Value, m.U = units.Energy, x.PerArea[i], x.UPerArea[i]
		m.Low, m.High = x.Range(i)
	}
	return pair("this heater", "the other", "Heat of a square meter of glass", &of[0], &of[1], u, width)
}

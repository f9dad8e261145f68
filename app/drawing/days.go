package drawing

import (
	"fmt"
	"html/template"
	"math"
	"time"

	"gladember/core/measure"
	"gladember/core/units"
)

// DayBar sets a day's measured heat beside what was expected, as lengths to one
// scale, the band as a bracket over it.
func DayBar(d measure.Day, x measure.Expected, u units.System, width float64) template.HTML {
	const height = 74.0
	full := math.Max(math.Max(d.Band[1], x.Heat), 0.1)
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
		tx, tc = k*math.Max(d.Band[1], x.Heat)+8, "figure"
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
			s.text("soft", anchor, math.Min(at, width-150), 34, "expected "+kwh(x.Heat))
		}
	}
	if width < 500 {
		s.text("soft", "end", k*d.Band[0]-6, 66, kwh(d.Band[0])+" to "+kwh(d.Band[1]))
		return s.close()
	}
	s.text("soft", "start", k*d.Band[1]+6, 66, kwh(d.Band[0])+" to "+kwh(d.Band[1]))
	return s.close()
}

// DayStrip shows each logged day's heat as a column one can choose.
func DayStrip(days []measure.Day, here int, u units.System, width float64, link func(date string) string) template.HTML {
	const height, base = 96.0, 74.0
	n := len(days)
	cw := math.Min(40, width/float64(max(n, 1)))
	top := 0.1
	for _, d := range days {
		if !d.Impossible {
			top = math.Max(top, d.Heat)
		}
	}
	var s svg
	fmt.Fprintf(&s, `<svg class="strip" viewBox="0 0 %.0f %.0f" role="group" aria-label="Heat by day">`, width, height)
	s.text("title", "start", 0, 12, "Days")
	every := max(1, int(float64(n)*22/width)+1)
	for i, d := range days {
		x := float64(i) * cw
		h := math.Min(50, 50*math.Max(0, d.Heat)/top)
		t, _ := time.Parse(time.DateOnly, d.Date)
		name := fmt.Sprintf("%s, %s", t.Format("2 January"), units.Format(units.Energy, d.Heat, u))
		if d.Impossible {
			name += ", refused"
		}
		class := "day"
		if i == here {
			class += " here"
		}
		if d.Impossible {
			class += " refused"
		}
		fmt.Fprintf(&s, `<a class="%s" href="%s" aria-label="%s"><title>%s</title>`, class, esc(link(d.Date)), esc(name), esc(name))
		s.rect("hit", x, 16, cw, height-16)
		s.rect("column", x+2, base-h, cw-4, h)
		s.line("axis", x+2, base, x+cw-2, base)
		if i == here {
			s.rect("frame", x+0.5, 18, cw-1, height-20)
		}
		if i%every == 0 || i == here {
			s.text("figure", "middle", x+cw/2, base+15, t.Format("2"))
		}
		s.WriteString("</a>")
	}
	return s.close()
}

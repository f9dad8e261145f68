package drawing

import (
	"fmt"
	"html/template"
	"math"

	"gladember/core/collector"
	"gladember/core/units"
)

// Row draws the boxes of a row between their headers, each filled as high as its share of the
// air, against the line at which all would be even; farEnd says that the outlet lies at the other end from the inlet.
func Row(bs []collector.Branch, farEnd bool, width float64, u units.System) template.HTML {
	const top, box, gap, foot = 44.0, 96.0, 16.0, 36.0
	height := top + gap + box + gap + foot
	var s svg
	least, most := math.Inf(1), 0.0
	for _, b := range bs {
		least, most = min(least, b.Share), max(most, b.Share)
	}
	s.open("row", fmt.Sprintf("Each branch of the row with its share of the air: from %s to %s.", units.Format(units.Share, least, u),
		units.Format(units.Share, most, u)), width, height)
	s.text("title", "start", 0, 12, "Airflow of each box, relative to an even share")
	const margin = 34.0
	pitch := (width - 2*margin) / float64(len(bs))
	wide := min(64, 0.7*pitch)
	scale := 0.8 * box / max(1, most) // the fullest reaches nearly to the top
	hot, cold := top, top+gap+box+gap
	s.line("header hot", margin, hot, width-margin, hot)
	s.line("header cold", margin, cold, width-margin, cold)
	s.arrow("cold-air", 2, cold, margin, cold)
	if farEnd {
		s.arrow("hot-air", width-margin, hot, width-2, hot)
	} else {
		s.arrow("hot-air", margin, hot, 2, hot)
	}
	for i, b := range bs {
		x := margin + pitch*(float64(i)+0.5)
		foot := top + gap + box
		s.line("cold-stub", x, cold, x, foot)
		s.line("hot-stub", x, top+gap, x, hot)
		s.rect("outline", x-wide/2, top+gap, wide, box)
		s.rect("share", x-wide/2, foot-scale*b.Share, wide, scale*b.Share)
		s.line("even", x-wide/2-3, foot-scale, x+wide/2+3, foot-scale)
		if wide >= 30 {
			s.text("figure", "middle", x, foot-8, fmt.Sprintf("%.0f", 100*b.Share))
			s.text("soft", "middle", x, hot-8, units.Figure(units.Temperature, b.Outlet, u))
		}
		if wide >= 30 || i == 0 || i == len(bs)-1 || (i+1)%5 == 0 {
			s.text("soft", "middle", x, cold+18, fmt.Sprint(i+1))
		}
	}
	if wide >= 30 {
		s.text("soft", "end", width, hot-8, u.Unit(units.Temperature))
	}
	s.text("soft", "start", 0, height-4, "Share in %; the line across each box is 100 %, an even share.")
	return s.close()
}

package drawing

import (
	"html/template"

	"gladember/core/collector"
	"gladember/core/units"
)

// Limits draws how hot each material gets on the worst noon with the fan off, as
// lengths to one scale of temperature, against what it withstands.
func Limits(peaks []collector.Peak, width float64, u units.System) template.HTML {
	const row, top = 26.0, 22.0
	most := 100.0
	for _, p := range peaks {
		most = max(most, max(p.Upper, min(p.Service, 320)))
	}
	most *= 1.04
	left := min(190, width*0.42)
	k := (width - left - 132) / most
	var s svg
	s.open("limits", "How hot each part gets at the worst noon with the fan off, and what it withstands", width,
		top+row*float64(len(peaks))+4)
	s.text("title", "start", 0, 12, "Highest temperatures at the worst noon, fan off")
	for i, p := range peaks {
		y := top + row*float64(i)
		s.text("soft", "start", 0, y+15, p.Name)
		s.rect("bar front", left, y+4, k*max(0, p.Upper), 14)
		word, class := "", "figure"
		if p.Service > 0 && p.Service <= most {
			s.line("limit", left+k*p.Service, y, left+k*p.Service, y+22)
			word = ", limit " + units.Format(units.Temperature, p.Service, u)
			if p.Upper > p.Service {
				class = "figure over"
			}
		}
		s.text(class, "start", left+k*max(p.Upper, min(p.Service, most))+6, y+16,
			units.Figure(units.Temperature, p.Upper, u)+word)
	}
	return s.close()
}

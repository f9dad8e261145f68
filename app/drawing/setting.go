package drawing

import (
	"cmp"
	"fmt"
	"html/template"
	"math"
	"slices"
	"strings"

	"gladember/core/season"
	"gladember/core/simulate"
	"gladember/core/units"
)

// Settings draws what a day gives by the point at which the switch closes: heat
// as a curve, the starts of the fan under it, the heater's own setting marked.
func Settings(ss []simulate.Setting, own, width float64, sys units.System) template.HTML {
	const height, top, bottom = 210.0, 40.0, 58.0
	left, right := 52.0, 14.0
	if len(ss) < 2 {
		return ""
	}
	lo, hi, most := ss[0].Close, ss[len(ss)-1].Close, 0.0
	best := ss[0]
	for _, s := range ss {
		most = max(most, s.Day.Heat)
		if s.Day.Heat > best.Day.Heat {
			best = s
		}
	}
	if most <= 0 {
		most = 1
	}
	X := func(t float64) float64 { return left + (width-left-right)*(t-lo)/(hi-lo) }
	Y := func(v float64) float64 { return top + (height-top-bottom)*(1-v/most) }
	temp := func(t float64) string { return units.Format(units.Temperature, t, sys) }
	var s svg
	s.open("settings", fmt.Sprintf("Heat of the day by the fan-on temperature. The most, %s, with the fan on at %s.",
		units.Format(units.Energy, best.Day.Heat, sys), temp(best.Close)), width, height)
	s.text("title", "start", 0, 12, "Heat of the day, by the fan-on temperature")
	var d strings.Builder
	for i, x := range ss {
		fmt.Fprintf(&d, "%s%.1f %.1f", map[bool]string{true: "M", false: "L"}[i == 0], X(x.Close), Y(x.Day.Heat))
	}
	s.path("curve hot-line", d.String())
	s.line("axis", left, height-bottom, width-right, height-bottom)
	s.text("figure", "end", left-6, Y(most)+4, units.Figure(units.Energy, most, sys))
	s.text("figure", "end", left-6, height-bottom+4, "0")
	s.text("small", "end", left-6, Y(most)+18, sys.Unit(units.Energy))
	room := max(1, math.Ceil(float64(len(ss))*34/(width-left-right))) // skip names that would touch
	for i, x := range ss {
		if math.Mod(float64(i), room) != 0 {
			continue
		}
		s.text("figure", "middle", X(x.Close), height-bottom+15, units.Figure(units.Temperature, x.Close, sys))
		s.text("small", "middle", X(x.Close), height-bottom+31, fmt.Sprint(x.Day.Cycles))
	}
	s.text("small", "start", 0, height-bottom+15, sys.Unit(units.Temperature))
	s.text("small", "start", 0, height-bottom+31, "starts")
	if own >= lo && own <= hi {
		s.line("leader", X(own), top-6, X(own), height-bottom)
		anchor := "middle"
		if X(own) > width-90 {
			anchor = "end"
		}
		s.text("label", anchor, X(own), top-10, "yours, "+temp(own))
	}
	s.circle("mark", X(best.Close), Y(best.Day.Heat), 4.5)
	return s.close()
}

// MonthPoints draws the closing point that serves each month best as a column, the
// heater's own as a line across, and what the move brings under it.
func MonthPoints(ps []season.SetPoint, own, width float64, sys units.System) template.HTML {
	const height, top, bottom, left = 150.0, 26.0, 40.0, 52.0
	lo, hi := own, own
	for _, p := range ps {
		lo, hi = min(lo, p.Close), max(hi, p.Close)
	}
	lo, hi = lo-6, hi+3
	Y := func(t float64) float64 { return top + (height-top-bottom)*(hi-t)/(hi-lo) }
	step := (width - left) / 12
	var s svg
	s.open("monthpoints", "The best set point of each month", width, height)
	// A narrow column has room for a whole number alone.
	more, unit := func(v float64) string { return units.Figure(units.Energy, v, sys) }, sys.Unit(units.Energy)+" more"
	if step < 40 {
		more, unit = func(v float64) string { return fmt.Sprintf("%.0f", sys.In(units.Energy, v)) }, sys.Unit(units.Energy)
	}
	s.text("title", "start", 0, 12, "Best fan-on temperature by month, and what it gains")
	base := height - bottom
	for m := range 12 {
		x := left + (float64(m)+0.5)*step
		s.text("small", "middle", x, base+15, "JFMAMJJASOND"[m:m+1])
		for _, p := range ps {
			if p.Month != m+1 {
				continue
			}
			s.rect("column", x-0.32*step, Y(p.Close), 0.64*step, base-Y(p.Close))
			s.text("figure", "middle", x, Y(p.Close)-4, units.Figure(units.Temperature, p.Close, sys))
			if p.Better() {
				s.text("small", "middle", x, base+30, "+"+more(p.Useful-p.Now))
			}
		}
	}
	s.line("axis", left, base, width, base)
	s.line("expected", left, Y(own), width, Y(own))
	s.text("figure", "end", left-6, Y(own)+4, units.Format(units.Temperature, own, sys))
	s.text("small", "start", 0, base+30, unit)
	return s.close()
}

// Swept draws a year's yield, kWh, against a field's values in the person's unit, the
// heater's own marked.
func Swept(title string, xs, ys []float64, own float64, kind units.Kind, width float64, sys units.System) template.HTML {
	const height, top, bottom, left, right = 200.0, 40.0, 40.0, 56.0, 14.0
	if len(xs) < 2 {
		return ""
	}
	lo, hi := slices.Min(xs), slices.Max(xs)
	least, most := min(0, slices.Min(ys)), max(1e-9, slices.Max(ys))
	X := func(x float64) float64 { return left + (width-left-right)*(x-lo)/(hi-lo) }
	Y := func(v float64) float64 { return top + (height-top-bottom)*(most-v)/(most-least) }
	var s svg
	s.open("swept", title, width, height)
	s.text("title", "start", 0, 12, title)
	order := make([]int, len(xs))
	for i := range order {
		order[i] = i
	}
	slices.SortFunc(order, func(a, b int) int { return cmp.Compare(xs[a], xs[b]) })
	var d strings.Builder
	for k, i := range order {
		fmt.Fprintf(&d, "%s%.1f %.1f", map[bool]string{true: "M", false: "L"}[k == 0], X(xs[i]), Y(ys[i]))
	}
	s.path("curve hot-line", d.String())
	for i := range xs {
		s.circle("mark", X(xs[i]), Y(ys[i]), 3)
	}
	s.line("axis", left, Y(least), width-right, Y(least))
	s.text("figure", "end", left-6, Y(most)+4, units.Figure(units.Energy, most, sys))
	s.text("small", "end", left-6, Y(most)+18, sys.Unit(units.Energy))
	tick := func(x float64) string {
		if kind == units.Angle { // a bearing may go past north
			x = math.Mod(x+360, 360)
		}
		return units.Plain(math.Round(x*10)/10, 4, sys)
	}
	last := math.Inf(-1)
	for _, i := range order {
		if X(xs[i])-last < 46 {
			continue
		}
		last = X(xs[i])
		s.text("figure", "middle", min(X(xs[i]), width-20), height-bottom+16, tick(xs[i]))
	}
	s.text("small", "end", width-right, height-bottom+32, sys.Unit(kind))
	if own >= lo-1e-9 && own <= hi+1e-9 {
		s.line("leader", X(own), top-8, X(own), Y(least))
		anchor := "middle"
		if X(own) > width-40 {
			anchor = "end"
		}
		s.text("label", anchor, X(own), top-12, "yours")
	}
	return s.close()
}

package drawing

import (
	"fmt"
	"html/template"
	"math"
	"strings"

	"gladember/core/season"
	"gladember/core/space"
	"gladember/core/units"
)

// Room draws a space as a block, to scale by floor and height, with what leaves
// by each of its parts at a temperature outdoors as arrows to one scale.
func Room(sp *space.Space, inside, outdoors, width float64, u units.System) template.HTML {
	side := math.Sqrt(sp.Floor)
	tall := sp.Volume / sp.Floor
	// An axonometric block: x to the right and down, y to the left and down.
	k := min(0.25*width/side, 190/(tall+2*side*roomSlant))
	most := 1.0
	for _, p := range sp.Parts {
		most = max(most, p.UA)
	}
	longest := min(74, width*0.17)
	arrow := func(p space.Part) float64 { return max(8, longest*p.UA/most) }
	power := func(p space.Part) string { return units.Format(units.Power, p.Loses(inside, outdoors), u) }
	left, right := roomBreadth(sp, k*side, arrow, power)
	for left+right > width && k*side > 20 {
		k *= 0.95
		left, right = roomBreadth(sp, k*side, arrow, power)
	}
	over, under := roomReach(sp, k, side, tall, arrow)
	cx := max(left, min(width*0.48, width-right))
	cy, height := over+4, over+under+24 // the line at the bottom
	var s svg
	total := sp.Loss * (inside - outdoors)
	s.open("room", fmt.Sprintf("The space and its heat loss at %s inside and %s outdoors: %s in all.",
		units.Format(units.Temperature, inside, u), units.Format(units.Temperature, outdoors, u), units.Format(units.Power, total, u)),
		width, height)
	at := func(x, y, z float64) (float64, float64) {
		return cx + k*(x-y)*0.86, cy + k*((x+y)*roomSlant-z)
	}
	face := func(class string, pts ...[3]float64) {
		d := ""
		for i, p := range pts {
			px, py := at(p[0]-side/2, p[1]-side/2, p[2]-tall/2)
			d += fmt.Sprintf("%s%.1f %.1f", map[bool]string{true: "M", false: "L"}[i == 0], px, py)
		}
		s.path(class, d+"Z")
	}
	face("face", [3]float64{0, 0, tall}, [3]float64{side, 0, tall}, [3]float64{side, side, tall}, [3]float64{0, side, tall})
	face("face near", [3]float64{0, side, 0}, [3]float64{side, side, 0}, [3]float64{side, side, tall}, [3]float64{0, side, tall})
	face("face near", [3]float64{side, 0, 0}, [3]float64{side, side, 0}, [3]float64{side, side, tall}, [3]float64{side, 0, tall})
	// A window on the face that looks right, as large as it is.
	for _, p := range sp.Parts {
		var from [3]float64
		dx, dy, anchor := 0.0, 0.0, "start"
		switch p.Name {
		case "ceiling":
			from, dy, anchor = [3]float64{side * 0.35, side * 0.35, tall}, -1, "middle"
		case "floor":
			from, dy, anchor = [3]float64{side, side, 0}, 1, "middle"
		case "walls":
			from, dx, dy, anchor = [3]float64{side * 0.5, side, tall * 0.5}, -0.9, 0.35, "end"
		case "windows":
			wide := min(side*0.8, p.Area/max(1, tall*0.5))
			mid := max(side*0.3, wide/2+side*0.06)
			face("pane", [3]float64{side, mid - wide/2, tall * 0.3}, [3]float64{side, mid + wide/2, tall * 0.3},
				[3]float64{side, mid + wide/2, tall * 0.8}, [3]float64{side, mid - wide/2, tall * 0.8})
			from, dx, dy = [3]float64{side, side * 0.3, tall * 0.55}, 0.9, 0.35
		default: // air leakage
			from, dx, dy, anchor = [3]float64{0, side * 0.9, tall * 0.95}, -0.9, -0.35, "end"
		}
		x, y := at(from[0]-side/2, from[1]-side/2, from[2]-tall/2)
		l := arrow(p)
		s.arrow("hot-air", x, y, x+dx*l, y+dy*l)
		tx, ty := x+dx*l, y+dy*l
		switch {
		case dy == -1:
			ty -= 24
		case dy == 1:
			ty += 18
		case dx < 0:
			tx -= 8
		default: // beside the block, clear of its edge
			tx = max(tx, cx+0.86*k*side) + 8
		}
		s.text("label", anchor, tx, ty, p.Name)
		s.text("figure hot-text", anchor, tx, ty+15, power(p))
	}
	s.text("small", "start", 0, height-6, fmt.Sprintf("%s of floor, %s high; arrows to one scale", units.Format(units.Area, sp.Floor, u),
		units.Format(units.Distance, tall, u)))
	return s.close()
}

// roomSlant is how steeply the floor's sides run on the paper.
const roomSlant = 0.42

// roomReach is how far the block with its arrows and their words goes over and under its middle on the paper.
func roomReach(sp *space.Space, k, side, tall float64, arrow func(space.Part) float64) (over, under float64) {
	const words = 44.0
	over, under = k*(roomSlant*side+tall/2), k*(roomSlant*side+tall/2)
	for _, p := range sp.Parts {
		switch p.Name {
		case "ceiling":
			over = max(over, k*(0.3*roomSlant*side+tall/2)+arrow(p)+words)
		case "floor":
			under += arrow(p) + words
		}
	}
	return over, under
}

// roomBreadth is how far the block of a floor of side px, with its arrows and their words, goes to the left and to the right of its
// middle on the paper.
func roomBreadth(sp *space.Space, side float64, arrow func(space.Part) float64, power func(space.Part) string) (left, right float64) {
	const margin = 10.0
	left, right = 0.86*side, 0.86*side
	for _, p := range sp.Parts {
		reach := 0.9 * arrow(p)
		words := margin + 1.15*max(long(p.Name), long(power(p))) // powers are set in a wider face
		switch p.Name {
		case "ceiling", "floor":
		case "windows":
			right = max(right, max(0.86*0.7*side+reach, 0.86*side)+words)
		case "walls":
			left = max(left, 0.86*0.5*side+reach+words)
		default: // air leakage
			left = max(left, 0.86*0.9*side+reach+words)
		}
	}
	return left, right
}

// round125 is the next of 1, 2, 4, 6, 8 and 10 with its power of ten.
func round125(v float64) float64 {
	p := math.Pow(10, math.Floor(math.Log10(max(1e-9, v))))
	for _, k := range []float64{1, 2, 4, 6, 8} {
		if v <= k*p {
			return k * p
		}
	}
	return 10 * p
}

// Months draws a year: what the space needs, what the box gives and what of it
// was useful, to one scale of energy.
func Months(r *season.Result, width float64, u units.System) template.HTML {
	const height, top, base = 236.0, 30.0, 190.0
	left, right := 44.0, 6.0
	most := 1.0
	for _, m := range r.Months {
		most = max(most, max(m.Need, m.Heat))
	}
	most = round125(u.In(units.Energy, most)) / u.In(units.Energy, 1)
	Y := func(v float64) float64 { return base - (base-top)*max(0, v)/most }
	var s svg
	s.open("months", fmt.Sprintf("Heating need, heat delivered and useful heat by month; in the year %s of useful heat.",
		units.Format(units.Energy, r.Year.Useful, u)), width, height)
	step := (width - left - right) / 12
	for _, v := range []float64{0.5, 1} {
		s.line("rule", left, Y(v*most), width-right, Y(v*most))
		s.text("figure", "end", left-5, Y(v*most)+4, units.Figure(units.Energy, v*most, u))
	}
	s.text("small", "end", left-5, Y(most)-9, u.Unit(units.Energy))
	letters := "JFMAMJJASOND"
	for i, m := range r.Months {
		x := left + float64(i)*step
		w := step * 0.76
		s.rect("need", x+step*0.12, Y(m.Need), w, base-Y(m.Need))
		s.rect("bar front", x+step*0.24, Y(m.Heat), w*0.68, base-Y(m.Heat))
		s.rect("bar heat", x+step*0.24, Y(m.Useful), w*0.68, base-Y(m.Useful))
		s.text("figure", "middle", x+step/2, base+16, letters[i:i+1])
		if m.Need > 1 {
			s.text("small", "middle", x+step/2, base+32, fmt.Sprintf("%.0f", 100*m.Fraction()))
		}
	}
	s.line("axis", left, base, width-right, base)
	s.text("small", "end", left-5, base+32, "%")
	return s.close()
}

// NeedAndSun draws what a space needs by month as columns, and the sun on the glass over
// them as a line, to one scale of energy.
func NeedAndSun(r *season.Result, width float64, u units.System) template.HTML {
	const height, top, base, left, right = 196.0, 34.0, 166.0, 44.0, 6.0
	most := 1.0
	for _, m := range r.Months {
		most = max(most, max(m.Need, m.Sun))
	}
	most = round125(u.In(units.Energy, most)) / u.In(units.Energy, 1)
	Y := func(v float64) float64 { return base - (base-top)*max(0, v)/most }
	var s svg
	s.open("needsun", "Heating need by month and sun on the glass.", width, height)
	s.text("title", "start", 0, 12, "Heating need by month")
	s.text("sun-text", "end", width-right, 12, "sun on the glass")
	step := (width - left - right) / 12
	for _, v := range []float64{0.5, 1} {
		s.line("rule", left, Y(v*most), width-right, Y(v*most))
		s.text("figure", "end", left-5, Y(v*most)+4, units.Figure(units.Energy, v*most, u))
	}
	s.text("small", "end", left-5, Y(most)-9, u.Unit(units.Energy))
	var d strings.Builder
	for i, m := range r.Months {
		x := left + (float64(i)+0.5)*step
		s.rect("need", x-step*0.38, Y(m.Need), step*0.76, base-Y(m.Need))
		fmt.Fprintf(&d, "%s%.1f %.1f", map[bool]string{true: "M", false: "L"}[i == 0], x, Y(m.Sun))
		s.text("figure", "middle", x, base+16, "JFMAMJJASOND"[i:i+1])
	}
	s.path("sun-track judged", d.String())
	s.line("axis", left, base, width-right, base)
	return s.close()
}

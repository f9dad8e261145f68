package drawing

import (
	"fmt"
	"html/template"
	"maps"
	"math"
	"slices"
	"strings"
	"time"

	"gladember/core/collector"
	"gladember/core/design"
	"gladember/core/solar"
	"gladember/core/units"
)

// tracks are the days whose paths are drawn: the 21st of each month, those
// that share a path once.
var tracks = []struct {
	month time.Month
	label string
	south string
}{
	{time.December, "21 Dec", "21 Dec"}, {time.January, "21 Jan, Nov", "21 Jan, Nov"}, {time.February, "21 Feb, Oct", "21 Feb, Oct"},
	{time.March, "21 Mar, Sep", "21 Mar, Sep"}, {time.April, "21 Apr, Aug", "21 Apr, Aug"}, {time.June, "21 Jun", "21 Jun"},
}

// skyView is the sky over the horizon as seen with the back to the glass, on its way into a picture: bearing across,
// height up.
type skyView struct {
	s             svg
	h             *design.Heater
	site          solar.Site
	width, height float64
	left, right   float64
	top, bottom   float64
	center        float64 // bearing in the middle, degrees
	highest       float64 // altitude at the top, degrees
	hours         map[int][][2]float64
}

// newSkyView lays the picture out: south in the middle in the north, north in the south.
func newSkyView(h *design.Heater, width float64) *skyView {
	v := &skyView{h: h, site: collector.Site(h), width: width, height: 320, left: 34, right: 10, top: 20, bottom: 40, center: 180}
	if v.site.Latitude < 0 {
		v.center = 0
	}
	v.highest = min(90, 90-math.Abs(v.site.Latitude)+26)
	v.hours = map[int][][2]float64{}
	return v
}

// x is where a bearing stands, px.
func (v *skyView) x(az float64) float64 {
	d := math.Mod(az-v.center+540, 360) - 180
	return v.left + (v.width-v.left-v.right)*(d+130)/260
}

// y is where a height over the horizon stands, px.
func (v *skyView) y(alt float64) float64 {
	return v.top + (v.height-v.top-v.bottom)*(v.highest-alt)/v.highest
}

// wide says whether there is room for every name.
func (v *skyView) wide() bool { return v.width >= 500 }

// SunTracks draws the sun's paths over the horizon as seen with the back to the
// glass: bearing across, height up. What the glass cannot see is hatched.
func SunTracks(h *design.Heater, width float64, u units.System) template.HTML {
	v := newSkyView(h, width)
	v.s.start("img", fmt.Sprintf(`tracks" data-left="%.0f" data-right="%.0f" data-top="%.0f" data-base="%.0f" data-high="%.2f" `+
		`data-center="%.0f`, v.left, width-v.right, v.top, v.height-v.bottom, v.highest, v.center),
		"Sun paths through the year over the horizon, and the part of the sky that the glass faces.", width, v.height)
	v.compass()
	for i := range tracks {
		v.track(i)
	}
	v.clock()
	for _, o := range h.Shade.Horizon {
		obstacle(&v.s, o, v.x, v.y, v.left, width-v.right)
	}
	v.unseen()
	v.s.line("axis", v.left, v.y(0), width-v.right, v.y(0))
	if bx := v.x(h.Place.Bearing); bx > v.left && bx < width-v.right {
		v.s.line("facing", bx, v.y(0)+6, bx, v.y(0)-22)
		v.s.text("label", "middle", bx, v.y(0)+36, "faces "+units.Format(units.Angle, h.Place.Bearing, u))
	}
	return v.s.close()
}

// compass draws the rules of height and the names of bearings.
func (v *skyView) compass() {
	for a := 0.0; a < v.highest; a += 20 {
		v.s.line("rule", v.left, v.y(a), v.width-v.right, v.y(a))
		v.s.text("figure", "end", v.left-5, v.y(a)+4, fmt.Sprintf("%.0f°", a))
	}
	names := []string{"north", "north-east", "east", "south-east", "south", "south-west", "west", "north-west"}
	for d := -90.0; d <= 90; d += 45 {
		az := math.Mod(v.center+d+360, 360)
		v.s.line("tick", v.x(az), v.y(0), v.x(az), v.y(0)+5)
		name := names[int(math.Round(az/45))%8]
		if !v.wide() && int(math.Abs(d))%90 != 0 {
			name = ""
		}
		v.s.text("soft", "middle", v.x(az), v.y(0)+19, name)
	}
}

// track draws the sun's path on the 21st of a month, and gathers where it stands at whole hours.
func (v *skyView) track(i int) {
	tr := tracks[i]
	var d strings.Builder
	pen := "M"
	best := [2]float64{0, -90}
	noon := collector.ClockNoon(v.site, tr.month)
	for m := -12 * 60; m <= 12*60; m += 6 {
		p := solar.Position(noon.Add(time.Duration(m)*time.Minute), v.site, 0, 0)
		alt := 90 - p.TrueZenith
		if alt < 0 {
			pen = "M"
			continue
		}
		if x := v.x(p.Azimuth); x >= v.left && x <= v.width-v.right {
			fmt.Fprintf(&d, "%s%.1f %.1f", pen, x, v.y(alt))
			pen = "L"
		} else {
			pen = "M"
		}
		if alt > best[1] {
			best = [2]float64{p.Azimuth, alt}
		}
		if st := 12 + p.HourAngle/15; math.Abs(st-math.Round(st)) < 0.051 {
			v.hours[int(math.Round(st))] = append(v.hours[int(math.Round(st))], [2]float64{v.x(p.Azimuth), v.y(alt)})
		}
	}
	if d.Len() == 0 {
		return
	}
	class := "sun-track"
	if tr.month == time.January && v.site.Latitude >= 0 || tr.month == time.June && v.site.Latitude < 0 {
		class += " judged"
	}
	v.s.path(class, d.String())
	if i == 1 && !v.wide() {
		return
	}
	label := tr.label
	if i%2 == 1 && !v.wide() {
		label = ""
	}
	y := v.y(best[1]) - 6
	if i == 0 { // the shortest day's name goes under its path
		y = v.y(best[1]) + 15
	}
	v.s.text("sun-text small haloed", "middle", v.x(best[0]), y, label)
}

// clock joins the paths hour by hour.
func (v *skyView) clock() {
	for _, hr := range slices.Sorted(maps.Keys(v.hours)) {
		ps := v.hours[hr]
		if len(ps) < 2 {
			continue
		}
		var d strings.Builder
		for i, p := range ps {
			fmt.Fprintf(&d, "%s%.1f %.1f", map[bool]string{true: "M", false: "L"}[i == 0], p[0], p[1])
		}
		v.s.path("hour", d.String())
		if hr != 12 && hr >= 8 && hr <= 16 && (v.wide() || hr%2 == 0) {
			at := ps[0][1] + 13
			if at > v.y(0)-3 { // the compass stands there
				at = ps[0][1] - 5
			}
			v.s.text("sun-text small haloed", "middle", ps[0][0], at, fmt.Sprint(hr))
		}
	}
}

// unseen hatches the sky behind the plane of the glass.
func (v *skyView) unseen() {
	var shade strings.Builder
	open := 0.0
	for az := v.center - 130; az <= v.center+130.1; az += 2 {
		alt := min(v.highest, solar.PlaneHorizon(az, v.h.Place.Tilt, v.h.Place.Bearing))
		if v.h.Place.Tilt > 89.9 {
			alt = v.highest * float64(map[bool]int{true: 1}[alt > 0])
		}
		x := v.x(az)
		if az == v.center+130 { // the right edge comes out of x as the left one
			x = v.width - v.right
		}
		if alt > 0 && shade.Len() == 0 {
			fmt.Fprintf(&shade, "M%.1f %.1f", x, v.y(0))
		}
		if alt > 0 {
			fmt.Fprintf(&shade, "L%.1f %.1f", x, v.y(alt))
			open = x
		}
		if (alt <= 0 || az >= v.center+130) && shade.Len() > 0 {
			fmt.Fprintf(&shade, "L%.1f %.1fZ", open, v.y(0))
			v.s.path("unseen", shade.String())
			shade.Reset()
		}
	}
}

// SunYear shows the clear-day sun on the glass by month and solar hour, W/m2.
func SunYear(h *design.Heater, width float64, u units.System) template.HTML {
	site, around := collector.Site(h), collector.Surroundings(h)
	const rows, rh, left, top = 12, 17.0, 26.0, 25.0
	first, last := 7, 17
	cw := (width - left) / float64(last-first)
	var s svg
	s.open("sunyear", "Sun on the glass by month and hour of a clear day.", width, top+rows*rh+18)
	s.text("title", "start", 0, 14, "Sun on the glass, clear day, "+u.Unit(units.Irradiance))
	for m := range rows {
		y := top + float64(m)*rh
		s.text("figure", "start", 4, y+13, time.Month(m + 1).String()[:1])
		for hr := first; hr < last; hr++ {
			at := collector.ClockNoon(site, time.Month(m+1)).Add(time.Duration(hr-12)*time.Hour + 30*time.Minute)
			g := around.On(at, site, h.Place.Tilt, h.Place.Bearing, solar.Air{Linke: h.Place.Haze, Albedo: h.Place.Albedo(m + 1)}).Total()
			x := left + float64(hr-first)*cw
			s.rect(fmt.Sprintf("cell c%d", int(min(9, g/100))), x, y, cw-1, rh-1)
			if g >= 50 {
				s.text("cell-text", "middle", x+cw/2, y+12.5, fmt.Sprintf("%.0f", u.In(units.Irradiance, g)))
			}
		}
	}
	for hr := first; hr <= last; hr += 2 {
		s.text("figure", "middle", min(width-8, left+float64(hr-first)*cw), top+rows*rh+13, fmt.Sprint(hr))
	}
	return s.close()
}

// Lean shows what other leans would give over the heating months.
func Lean(h *design.Heater, width float64, u units.System) template.HTML {
	const height, top, bottom = 200.0, 50.0, 34.0
	left, right := 8.0, 8.0
	lo, hi := math.Inf(1), math.Inf(-1)
	var tilts, sums []float64
	for t := 20.0; t <= 90; t += 5 {
		v := collector.HeatingSun(h, t, h.Place.Bearing)
		tilts, sums = append(tilts, t), append(sums, v)
		lo, hi = min(lo, v), max(hi, v)
	}
	own := collector.HeatingSun(h, h.Place.Tilt, h.Place.Bearing)
	lo, hi = min(lo, own)*0.97, max(hi, own)
	X := func(t float64) float64 { return left + (width-left-right)*(max(20, t)-20)/70 }
	Y := func(v float64) float64 { return top + (height-top-bottom)*(hi-v)/(hi-lo) }
	var s svg
	s.open("lean", "Clear-day sun on the glazing over the heating months by tilt.", width, height)
	s.text("title", "start", 0, 14, "Tilt, over the heating months")
	var d strings.Builder
	for i := range tilts {
		fmt.Fprintf(&d, "%s%.1f %.1f", map[bool]string{true: "M", false: "L"}[i == 0], X(tilts[i]), Y(sums[i]))
	}
	s.path("curve", d.String())
	s.line("axis", left, height-bottom, width-right, height-bottom)
	for _, t := range []float64{20, 45, 60, 90} {
		anchor := "middle"
		if t == 90 {
			anchor = "end"
		} else if t == 20 {
			anchor = "start"
		}
		s.text("figure", anchor, X(t), height-bottom+15, fmt.Sprintf("%.0f°", t))
	}
	s.circle("mark", X(h.Place.Tilt), Y(own), 5)
	anchor := "middle"
	switch {
	case h.Place.Tilt > 55:
		anchor = "end"
	case h.Place.Tilt < 42:
		anchor = "start"
	}
	s.line("leader", X(h.Place.Tilt), 42, X(h.Place.Tilt), Y(own)-6)
	at := X(h.Place.Tilt)
	if anchor == "end" { // as far to the right as there is room
		at = min(width, at+70)
	}
	s.text("figure", anchor, at, 36, fmt.Sprintf("%.0f°: %s a day", h.Place.Tilt, units.Format(units.Insolation, own, u)))
	return s.close()
}

// obstacle draws a piece of the horizon: what is solid filled, trees the paler the
// more they let through.
func obstacle(s *svg, o design.Obstacle, X, Y func(float64) float64, left, right float64) {
	a, b := max(left, X(o.From)), min(right, X(o.To))
	if b <= a {
		if X(o.To) >= X(o.From) || X(o.From) >= right {
			return
		}
		b = right // it runs on behind the back
	}
	class := "obstacle " + o.Kind()
	if o.Kind() == "solid" || b-a < 12 {
		s.rect(class, a, Y(o.Elevation), b-a, Y(0)-Y(o.Elevation))
	} else { // a crown
		y, r := Y(o.Elevation), min((b-a)/2, 14)
		s.path(class, fmt.Sprintf("M%.1f %.1fV%.1fQ%.1f %.1f %.1f %.1fH%.1fQ%.1f %.1f %.1f %.1fV%.1fZ", a, Y(0), y+r, a, y, a+r, y, b-r,
			b, y, b, y+r, Y(0)))
	}
	if b-a > 34 {
		s.text("small", "middle", (a+b)/2, Y(o.Elevation)-4, fmt.Sprintf("%s %.0f°", o.Kind(), o.Elevation))
	}
}

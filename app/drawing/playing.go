package drawing

import (
	"fmt"
	"html/template"
	"math"

	"gladember/core/design"
	"gladember/core/layout"
)

// Playing draws the box from its side as it leans before the room, height and
// depth to one scale, for a day to be played on: what moves or changes carries a data-play
// name, and the sun's place is given by data-cx, data-cy and data-r, so that a script can set it by the
// minute.
func Playing(h *design.Heater, l *layout.Layout, width float64) template.HTML {
	const height, ground = 300.0, 276.0
	narrow := width < 500
	tilt := h.Place.Tilt * math.Pi / 180
	up := [2]float64{math.Cos(tilt), -math.Sin(tilt)} // along the glass, on the paper
	in := [2]float64{math.Sin(tilt), math.Cos(tilt)}  // away from the sun
	reach := l.Height*math.Sin(tilt) + l.Depth*math.Cos(tilt)
	k := min(180/reach, (0.34*width)/(l.Height*math.Cos(tilt)+l.Depth*math.Sin(tilt)))
	foot := [2]float64{0.40 * width, ground - 12 - k*l.Depth*in[1]}
	if narrow {
		foot[0] = 0.34 * width
	}
	at := func(y, z float64) (float64, float64) { // along the glass from its foot, and into the depth, m
		return foot[0] + k*(y*up[0]+z*in[0]), foot[1] + k*(y*up[1]+z*in[1])
	}
	shape := func(y0, y1, z0, z1 float64) string {
		ax, ay := at(y0, z0)
		bx, by := at(y1, z0)
		cx, cy := at(y1, z1)
		dx, dy := at(y0, z1)
		return fmt.Sprintf("M%.1f %.1fL%.1f %.1fL%.1f %.1fL%.1f %.1fZ", ax, ay, bx, by, cx, cy, dx, dy)
	}
	var s svg
	s.open("playing", "The box from its side, sun at the left, room at the right, at the time of the time bar", width, height)
	cx, cy := at(l.Height/2, 0)
	r := min(cx-20, cy-16)
	s.line("ground", 0, ground, width, ground)
	fmt.Fprintf(&s, `<path class="sky-arc" d="M%.1f %.1fA%.1f %.1f 0 0 1 %.1f %.1f"/>`, cx-r, cy, r, r, cx, cy-r)
	// The wall, and the room behind it.
	topX, _ := at(l.Height, l.Depth)
	bottomX, _ := at(0, l.Depth)
	wall := max(topX, bottomX) + 26
	s.rect("wood", wall, 22, 9, ground-22)
	s.text("label", "start", wall+18, 34, "room")
	fmt.Fprintf(&s, `<g data-play="sun" data-cx="%.1f" data-cy="%.1f" data-r="%.1f">`, cx, cy, r)
	for i := range 3 {
		x, y := at(l.Height*(0.2+0.3*float64(i)), 0)
		fmt.Fprintf(&s, `<line class="sun-ray" data-x="%.1f" data-y="%.1f" x1="%.1f" y1="%.1f" x2="%.1f" y2="%.1f"/>`, x, y, x-50, y-20,
			x, y)
	}
	s.circle("sun-disc", cx-r, cy, 10)
	s.WriteString("</g>")
	back := h.Box.BackFoam
	s.path("shell", shape(0, l.Height, 0, l.Depth))
	if back > 0 {
		s.path("foam", shape(0.01, l.Height-0.01, l.Depth-back-0.006, l.Depth-0.006))
	}
	z := 0.45 * (l.Depth - back)
	ax, ay := at(0.06*l.Height, z)
	bx, by := at(0.94*l.Height, z)
	s.line("plate-cold", ax, ay, bx, by)
	fmt.Fprintf(&s, `<line class="plate-hot" data-play="plate" x1="%.1f" y1="%.1f" x2="%.1f" y2="%.1f" stroke-opacity="0"/>`, ax, ay, bx,
		by)
	gx, gy := at(0, 0)
	tx, ty := at(l.Height, 0)
	s.line("pane thick", gx, gy, tx, ty)
	fmt.Fprintf(&s, `<g data-play="coat" visibility="hidden">`)
	s.line("coat", gx-3, gy, tx-3, ty)
	s.WriteString("</g>")
	playingAir(&s, l, at, wall)
	playingWords(&s, l, at, wall, z, foot[0], ground)
	return s.close()
}

// playingAir draws the air from the room and to it.
func playingAir(s *svg, l *layout.Layout, at func(y, z float64) (float64, float64), wall float64) {
	lowX, lowY := at(0.12*l.Height, l.Depth)
	highX, highY := at(0.88*l.Height, l.Depth)
	s.WriteString(`<g data-play="moving" visibility="hidden">`)
	s.arrow("cold-air", wall+34, lowY, lowX+2, lowY)
	s.arrow("hot-air", highX, highY, wall+34, highY)
	s.WriteString("</g>")
}

// playingWords places the figures that a script fills in; z is the depth of the absorber, foot the lower
// end of the glass on the paper.
func playingWords(s *svg, l *layout.Layout, at func(y, z float64) (float64, float64), wall, z, foot, ground float64) {
	_, lowY := at(0.12*l.Height, l.Depth)
	_, highY := at(0.88*l.Height, l.Depth)
	play := func(class, anchor, name string, x, y float64) {
		fmt.Fprintf(s, `<text class="%s" text-anchor="%s" x="%.1f" y="%.1f" data-play="%s"></text>`, class, anchor, x, y, name)
	}
	play("hot-text", "start", "out", wall+42, highY-3)
	play("figure", "start", "heat", wall+42, highY+13)
	play("cold-text", "start", "in", wall+42, lowY+4)
	play("sun-text", "start", "sunword", 2, 14)
	play("label", "start", "clock", 2, 34)
	play("soft", "start", "outdoors", 2, ground-10)
	sx, sy := at(l.Height*0.985, z)
	s.circle("dot", sx, sy, 2.6)
	s.line("leader", sx, sy, sx+6, sy-10)
	play("soft", "end", "feels", sx-8, max(12, sy-10))
	px, py := at(0.3*l.Height, z)
	ex, ey := min(foot, px)-16, ground-26
	s.line("leader", px, py, ex+2, ey-4)
	play("soft", "end", "platewarm", ex, ey)
	play("label", "start", "fan", wall+18, 52)
}

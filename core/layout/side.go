package layout

import (
	"math"

	"gladember/core/design"
)

// Point is a place in a side view, m.
type Point struct{ X, Y float64 }

// Kind is what a shape of a side view is made of.
type Kind string

// The kinds.
const (
	Building  Kind = "building" // wall or roof, cut through
	Covering  Kind = "covering" // roofing or siding
	Body      Kind = "body"     // the box
	Glazing   Kind = "glazing"
	Support   Kind = "support" // wood or metal that carries it
	Sheet     Kind = "sheet"   // flashing and sleeves
	SoftFoam  Kind = "foam"
	Way       Kind = "way" // of the air
	CenterPin Kind = "center"
)

// Shape is a part in a side view.
type Shape struct {
	// Letter is that of the part in the lists; empty for what is there already. Name is what
	// stands beside it; empty for a shape that needs none.
	Letter, Name string
	Kind         Kind
	// Open says that it is a bent line and no surface.
	Open   bool
	Points []Point
	// At is where its name points to, and Fine says that it is named in the details only.
	At   Point
	Fine bool
}

// Detail is a part of a side view that is drawn once more and larger, between two corners.
type Detail struct {
	Name      string
	Low, High Point
}

// Span is a length to write into a side view, between two points.
type Span struct {
	From, To Point
	Fine     bool // written in the details only
}

// Length is how long it is, m.
func (s *Span) Length() float64 { return math.Hypot(s.To.X-s.From.X, s.To.Y-s.From.Y) }

// Side is a heater at its place, seen from its side and cut through at its ports: x outwards
// from the building, y up, m. Ground is the height of the ground, NaN where it is not shown.
type Side struct {
	Shapes  []Shape
	Spans   []Span
	Details []Detail
	Ground  float64
}

// Cut are the pieces of a shape that lie in a detail: of a surface what is inside, by the
// method of Sutherland & Hodgman (1974), of a line its pieces. The names stay with the first.
func (d *Detail) Cut(s *Shape) (out []Shape) {
	keep := func(points []Point) {
		if len(points) > 1 {
			x := *s
			x.Points = points
			out = append(out, x)
		}
	}
	if !s.Open {
		points := s.Points
		for edge := range 4 {
			points = d.halved(points, edge, true)
		}
		keep(points)
		return out
	}
	for i := range s.Points[1:] {
		points := s.Points[i : i+2]
		for edge := range 4 {
			points = d.halved(points, edge, false)
		}
		keep(points)
	}
	return out
}

// beyond is how far a point lies beyond one of the four edges, m; below zero it is inside.
func (d *Detail) beyond(p Point, edge int) float64 {
	return [...]float64{d.Low.X - p.X, p.X - d.High.X, d.Low.Y - p.Y, p.Y - d.High.Y}[edge]
}

// halved is what of a line, or of the ring that it closes, lies on the inner side of an edge.
func (d *Detail) halved(points []Point, edge int, ring bool) (out []Point) {
	for i, p := range points {
		if i > 0 || ring {
			before := points[(i+len(points)-1)%len(points)]
			a, b := d.beyond(before, edge), d.beyond(p, edge)
			if a > 0 != (b > 0) { // it crosses the edge
				k := a / (a - b)
				out = append(out, Point{before.X + k*(p.X-before.X), before.Y + k*(p.Y-before.Y)})
			}
		}
		if d.beyond(p, edge) <= 0 {
			out = append(out, p)
		}
	}
	return out
}

// Bounds are the lowest and the highest x and y of all that is in it, m.
func (s *Side) Bounds() (low, high Point) {
	low, high = Point{math.Inf(1), math.Inf(1)}, Point{math.Inf(-1), math.Inf(-1)}
	see := func(p Point) {
		low.X, low.Y = min(low.X, p.X), min(low.Y, p.Y)
		high.X, high.Y = max(high.X, p.X), max(high.Y, p.Y)
	}
	for _, x := range s.Shapes {
		for _, p := range x.Points {
			see(p)
		}
	}
	for _, x := range s.Spans {
		see(x.From)
		see(x.To)
	}
	return low, high
}

// Sizes of what stands around a box in its side view, m. They are drawn and not cut.
const (
	wallShown  = 0.15  // thickness of a wall whose sleeves do not tell it
	around     = 0.22  // of the building, over and under the box
	roofShown  = 0.10  // thickness of a roof
	lapShown   = 0.12  // of roofing over and under a flashing
	pinIndoors = 0.06  // a center line beyond the wall
	sashDeep   = 0.045 // thickness of a sash
	stakeDeep  = 0.30
)

// NewSide lays out the side view of a heater at its place; false for one that hangs indoors.
// Letters are those of the parts, as [Layout.Cut] gives them.
func NewSide(h *design.Heater, l *Layout) (s Side, ok bool) {
	if h.Indoors() {
		return s, false
	}
	v := &sideView{h: h, l: l, parts: l.Cut()}
	v.side.Ground = math.NaN()
	upright := h.Place.Tilt >= uprightFrom
	switch {
	case h.Air.Route == "stand":
		v.onGround()
	case h.Place.Tilt <= roofUpTo:
		v.onRoof()
	default:
		v.onWall(upright)
	}
	for _, x := range v.shapes {
		v.side.Shapes = append(v.side.Shapes, *x)
	}
	return v.side, true
}

// sideView is a side view on its way.
type sideView struct {
	h     *design.Heater
	l     *Layout
	parts []Part
	side  Side
	// shapes are moved into it at the end.
	shapes []*Shape
	// origin is the lower back edge of the box, and up and out are the directions along its
	// height and from its back to its front.
	origin, up, out Point
}

// at is a point of the box: v along its height and u from its back to its front, m.
func (v *sideView) at(along, front float64) Point {
	return Point{v.origin.X + along*v.up.X + front*v.out.X, v.origin.Y + along*v.up.Y + front*v.out.Y}
}

// lean sets the directions of a box at its tilt.
func (v *sideView) lean() {
	t := v.h.Place.Tilt * math.Pi / 180
	v.up, v.out = Point{-math.Cos(t), math.Sin(t)}, Point{math.Sin(t), math.Cos(t)}
}

// add puts a shape in; part is the kind of the part that it shows, whose letter it takes, or nil.
func (v *sideView) add(kind Kind, part *PartKind, name string, points ...Point) *Shape {
	s := Shape{Kind: kind, Name: name, Points: points, At: middleOf(points)}
	for _, p := range v.parts {
		if p.Kind == part {
			s.Letter = p.Letter
			break
		}
	}
	v.shapes = append(v.shapes, &s)
	return &s
}

// middleOf is the middle of points.
func middleOf(points []Point) (p Point) {
	for _, x := range points {
		p.X, p.Y = p.X+x.X/float64(len(points)), p.Y+x.Y/float64(len(points))
	}
	return p
}

// bent puts a bent line in.
func (v *sideView) bent(kind Kind, part *PartKind, name string, points ...Point) *Shape {
	s := v.add(kind, part, name, points...)
	s.Open, s.At = true, points[len(points)-1]
	return s
}

// sleeve puts in a bent line of the sleeve of a port.
func (v *sideView) sleeve(kind Kind, port, name string, points ...Point) *Shape {
	s := v.bent(kind, nil, name, points...)
	for _, p := range v.parts {
		if p.Kind == WallSleeve && p.Mark == ", "+port {
			s.Letter = p.Letter
		}
	}
	return s
}

// fine marks shapes as named in the details only.
func fine(shapes ...*Shape) {
	for _, s := range shapes {
		s.Fine = true
	}
}

// span writes a length in.
func (v *sideView) span(from, to Point, fine bool) {
	v.side.Spans = append(v.side.Spans, Span{from, to, fine})
}

// detail has a part of the view drawn once more: what lies within half a width of a point.
func (v *sideView) detail(name string, at Point, half float64) {
	v.side.Details = append(v.side.Details, Detail{name, Point{at.X - half, at.Y - half}, Point{at.X + half, at.Y + half}})
}

// block is a rectangle by two corners.
func block(x0, y0, x1, y1 float64) []Point { return []Point{{x0, y0}, {x1, y0}, {x1, y1}, {x0, y1}} }

// box puts the box itself in, its glazing to the front.
func (v *sideView) box() {
	hi, d := v.l.Height, v.l.Depth
	v.add(Body, nil, "box", v.at(0, 0), v.at(hi, 0), v.at(hi, d), v.at(0, d)).At = v.at(0.22*hi, d/2)
	v.bent(Glazing, nil, "glazing", v.at(0, d), v.at(hi, d)).At = v.at(0.78*hi, d)
}

// thick is the wall's thickness: that of its sleeves where it has some.
func (v *sideView) thick() float64 {
	for _, p := range v.parts {
		if p.Kind == WallSleeve {
			return p.Width - 2*sleeveFold
		}
	}
	return wallShown
}

// onWall puts the box on a wall, upright on cleats or leaning on brackets, and beside a
// window where the air goes through its sash.
func (v *sideView) onWall(upright bool) {
	h, l, t := v.h, v.l, v.thick()
	v.lean()
	run := -l.Height * v.up.X
	off := run
	if upright {
		off += cleatDeep(h)
	}
	v.origin = Point{off, 0}
	low, high := -around, v.at(l.Height, l.Depth).Y+upTheWall+around/2
	if !upright {
		low -= run
	}
	v.add(Building, nil, "wall", block(-t, low, 0, high)...).At = Point{-t / 2, low + around/4}
	if h.Air.Route == "window" {
		v.sash(t, high)
	}
	if upright {
		v.cleats()
	} else {
		v.brackets(run)
	}
	v.box()
	if h.Air.Route != "window" {
		v.sleeves(t)
	}
	v.span(Point{v.at(0, l.Depth).X, v.at(0, 0).Y}, Point{v.at(0, l.Depth).X, v.at(l.Height, 0).Y}, false)
}

// cleats hang the box, and a flashing keeps the rain out behind it.
func (v *sideView) cleats() {
	hi, deep := v.l.Height, cleatDeep(v.h)
	if v.h.Box.Body != "sheet" {
		line := v.l.flashing(v.h)
		fine(v.bent(Sheet, TopFlashing, "flashing, over the top of the box", line...))
		fine(v.bent(Covering, nil, "siding, over the flashing", Point{0.006, line[0].Y + around/2}, Point{0.006, line[1].Y + upTheWall/3}))
		v.span(line[1], line[0], true)
	}
	low, high := v.l.cleatTop()-2*cleatWide-0.04, hi+upTheWall+0.06
	v.detail("The top of the box", v.at((low+high)/2, v.l.Depth/3), max((high-low)/2, 0.75*v.l.Depth))
	// Two halves that hook into each other along a line at 45 degrees.
	top := v.at(v.l.cleatTop(), 0).Y
	fine(v.add(Support, HangingCleat, "cleat on the box", Point{0, top}, Point{deep, top}, Point{deep, top - cleatWide - deep},
		Point{0, top - cleatWide}))
	fine(v.add(Support, HangingCleat, "cleat on the wall", Point{0, top - cleatWide}, Point{deep, top - cleatWide - deep},
		Point{deep, top - 2*cleatWide}, Point{0, top - 2*cleatWide}))
}

// brackets hold the foot of a leaning box off the wall.
func (v *sideView) brackets(run float64) {
	v.add(Support, FootBracket, "foot bracket", block(0, -legWide, run+legWide, 0)...)
	b := legWide / math.Sqrt2
	v.add(Support, BracketBrace, "brace at 45 degrees", Point{0, -legWide - run + b}, Point{run - b, -legWide}, Point{run + b, -legWide},
		Point{0, -legWide - run - b})
	v.span(Point{0, -legWide - run - around/2}, Point{run + legWide, -legWide - run - around/2}, false)
}

// sleeves put the ways through the wall in, each with its center line.
func (v *sideView) sleeves(t float64) {
	for _, x := range v.l.Holes {
		if x.Face != ThroughBack {
			continue
		}
		p, r := v.at(x.Y, 0), x.Diameter/2
		if p.X > 0.001 && (v.h.Place.Tilt < uprightFrom || v.thickless()) {
			v.add(Way, nil, "duct to the "+x.Name, v.at(x.Y-r, 0), v.at(x.Y+r, 0), Point{0, p.Y + r}, Point{0, p.Y - r})
		}
		inner, outer := -t, min(p.X, 0.02)
		for _, edge := range []float64{r, -r} {
			if v.thickless() {
				break
			}
			out := math.Copysign(sleeveFold, edge)
			v.sleeve(Sheet, x.Name, "", Point{inner, p.Y + edge + out}, Point{inner, p.Y + edge}, Point{outer, p.Y + edge})
		}
		v.sleeve(CenterPin, x.Name, x.Name+": pilot hole from both sides", Point{-t - pinIndoors, p.Y},
			Point{p.X + pinIndoors, p.Y}).At = Point{-t / 2, p.Y}
	}
	if low := v.shapes[0].Points[0].Y; !v.thickless() {
		v.span(Point{-t, low}, Point{0, low}, false)
	}
}

// thickless says that no sleeve lines the wall, so that a duct is drawn.
func (v *sideView) thickless() bool { return v.thick() == wallShown }

// sash puts a window over the box in, with the insert that its sash closes on.
func (v *sideView) sash(t, sill float64) {
	d := v.h.Air.Diameter
	high := d + 2*insertEdge
	mid := -t / 2
	fine(v.add(Support, nil, "sill", block(-t-0.03, sill, 0.04, sill+0.03)...))
	bottom := sill + 0.03
	fine(v.add(SoftFoam, EdgeFoamOfInsert, "edge foam", block(mid-insertDeep/2, bottom, mid+insertDeep/2, bottom+insertDeep)...))
	low := bottom + insertDeep
	fine(v.add(SoftFoam, WindowInsert, "window insert", block(mid-insertDeep/2, low, mid+insertDeep/2, low+high)...))
	v.add(SoftFoam, EdgeFoamOfInsert, "", block(mid-insertDeep/2, low+high, mid+insertDeep/2, low+high+insertDeep)...)
	top := low + high + insertDeep
	fine(v.add(Support, nil, "sash, closed on it and locked", block(mid-sashDeep/2, top, mid+sashDeep/2, top+0.06)...))
	v.bent(Glazing, nil, "", Point{mid, top + 0.06}, Point{mid, top + 0.06 + around})
	axis := low + high/2
	fine(v.bent(CenterPin, nil, "both ducts pass here, side by side", Point{-t - pinIndoors, axis}, Point{0.12, axis}))
	v.span(Point{-t - 0.05, low}, Point{-t - 0.05, low + high}, true)
	v.detail("The insert in the window", Point{mid + 0.05, axis}, high/2+0.14)
}

// onRoof puts the box on its curb.
func (v *sideView) onRoof() {
	hi := v.l.Height
	v.lean()
	t := max(0.018, v.h.Box.FrameWidth)
	low, high := -curbHigh-onRoof-lapShown, hi+curbHigh+onRoof+lapShown
	roof := -curbHigh
	v.add(Building, nil, "rafters and sheathing", v.at(low, roof), v.at(high, roof), v.at(high, roof-roofShown), v.at(low, roof-roofShown)).
		At = v.at(hi/2, roof-roofShown/2)
	fine(v.add(Support, CurbBoardTopAndBottom, "curb", v.at(0, roof), v.at(t, roof), v.at(t, 0), v.at(0, 0)))
	v.add(Support, CurbBoardSide, "", v.at(hi-t, roof), v.at(hi, roof), v.at(hi, 0), v.at(hi-t, 0))
	const over = 0.008 // the flashing's and the roofing's thickness as drawn
	below := v.bent(Covering, nil, "roofing, under piece 1", v.at(low, roof+over/2), v.at(-0.02, roof+over/2))
	one := v.bent(Sheet, CurbFlashingBottom, "1: over the roofing below", v.at(-onRoof, roof+over), v.at(-over/2, roof+over),
		v.at(-over/2, -0.004))
	two := v.bent(Sheet, CurbFlashingSide, "2: both sides, over 1", v.at(-onRoof*0.8, roof+2*over), v.at(hi+onRoof*0.8, roof+2*over))
	two.At = v.at(-onRoof*0.6, roof+2*over)
	three := v.bent(Sheet, CurbFlashingTop, "3: over 2", v.at(hi+over/2, -0.004), v.at(hi+over/2, roof+3*over),
		v.at(hi+onRoof, roof+3*over))
	above := v.bent(Covering, nil, "roofing, over piece 3", v.at(hi+0.05, roof+4*over), v.at(high, roof+4*over))
	below.At, one.At, above.At = v.at(low+0.04, roof+over/2), v.at(-over/2, -0.03), v.at(high-0.04, roof+4*over)
	fine(below, one, two, three, above)
	v.detail("The lower end: water runs from each piece onto the next", v.at(-onRoof/2, roof+0.04), 0.24)
	v.detail("The upper end", v.at(hi+onRoof/2, roof+0.04), 0.24)
	v.box()
	for _, x := range v.l.Holes {
		if x.Face != ThroughBack {
			continue
		}
		r := x.Diameter / 2
		v.add(Way, nil, "", v.at(x.Y-r, 0), v.at(x.Y+r, 0), v.at(x.Y+r, roof-roofShown-0.05), v.at(x.Y-r, roof-roofShown-0.05))
		v.bent(CenterPin, nil, x.Name+" through the roof", v.at(x.Y, pinIndoors), v.at(x.Y, roof-roofShown-0.10)).
			At = v.at(x.Y, roof/2)
	}
	v.span(v.at(0, v.l.Depth+0.05), v.at(hi, v.l.Depth+0.05), false)
}

// onGround puts the box on its stand.
func (v *sideView) onGround() {
	v.lean()
	v.side.Ground = 0
	v.origin = Point{0, legWide}
	v.box()
	held, foot := v.l.standFoot(v.h)
	back := -foot - footBehind
	v.add(Support, StandRail, "rail", block(back, 0, v.at(0, v.l.Depth).X, legWide)...)
	if top := (Point{-held.X, held.Y + legWide}); held.Y > 2*legWide {
		v.add(Support, StandLeg, "leg", Point{-foot - legWide, legWide}, Point{-foot, legWide}, top, Point{top.X - legWide, top.Y})
		v.span(Point{-foot - legWide - 0.10, legWide}, Point{top.X - legWide - 0.10, top.Y}, false)
	}
	for i, x := range []float64{back + 0.05, v.at(0, v.l.Depth).X - 0.05} {
		name := ""
		if i == 0 {
			name = "anchor against the wind"
		}
		v.bent(CenterPin, nil, name, Point{x, legWide + 0.02}, Point{x, -stakeDeep})
	}
	v.span(Point{back, -stakeDeep - 0.05}, Point{v.at(0, v.l.Depth).X, -stakeDeep - 0.05}, false)
	for _, x := range v.l.Holes {
		if x.Face == ThroughBack {
			r := x.Diameter / 2
			v.add(Way, nil, "duct to the "+x.Name, v.at(x.Y-r, 0), v.at(x.Y+r, 0), v.at(x.Y+r, -0.15), v.at(x.Y-r, -0.15))
		}
	}
}

package layout

import (
	"math"
	"strings"
	"testing"

	"gladember/core/design"
	"gladember/core/units"
)

// sideOf lays out a side view of an example with changes.
func sideOf(t *testing.T, name string, cs ...design.Change) (design.Heater, Layout, Side) {
	t.Helper()
	h, err := design.Named(name)
	if err != nil {
		t.Fatal(err)
	}
	if h, err = design.Apply(h, units.System{}, cs...); err != nil {
		t.Fatal(err)
	}
	l, err := Build(&h)
	if err != nil {
		t.Fatal(err)
	}
	s, _ := NewSide(&h, &l)
	return h, l, s
}

// Over every family, route and tilt: all points are finite, what carries the box has its letter, the box has its own height and
// depth, no cleat crosses a port, and names in the whole view stand within it.
func TestSideViewOfEveryHeater(t *testing.T) {
	n := 0
	for _, name := range design.ExampleNames() {
		for _, route := range []string{"wall", "window", "stand", "furnace"} {
			for _, tilt := range []float64{30, 50, 65, 75, 90} {
				h, err := design.Named(name)
				if err != nil {
					t.Fatal(err)
				}
				if h.Indoors() {
					continue
				}
				if h, err = design.Apply(h, units.System{}, design.Set(design.AirRoute, route),
					design.Set(design.PlaceTilt, tilt)); err != nil {
					continue
				}
				l, err := Build(&h)
				if err != nil {
					continue
				}
				s, ok := NewSide(&h, &l)
				if !ok {
					t.Fatalf("%s: no side view", name)
				}
				n++
				carried := false
				for _, x := range s.Shapes {
					for _, p := range append(x.Points, x.At) {
						if math.IsNaN(p.X+p.Y) || math.IsInf(p.X+p.Y, 0) {
							t.Errorf("%s %s %v: %s lies at %v", name, route, tilt, x.Name, p)
						}
					}
					carried = carried || x.Kind == Support && x.Letter != ""
					if x.Kind == Body {
						up := math.Hypot(x.Points[1].X-x.Points[0].X, x.Points[1].Y-x.Points[0].Y)
						deep := math.Hypot(x.Points[2].X-x.Points[1].X, x.Points[2].Y-x.Points[1].Y)
						if math.Abs(up-l.Height) > 1e-9 || math.Abs(deep-l.Depth) > 1e-9 {
							t.Errorf("%s: drawn %v x %v, laid out %v x %v", name, up, deep, l.Height, l.Depth)
						}
					}
				}
				if !carried {
					t.Errorf("%s by %s at %v: nothing with a letter carries it", name, route, tilt)
				}
				if tilt < uprightFrom || route == "stand" {
					continue
				}
				top := l.cleatTop()
				for _, x := range l.Holes {
					if x.Face == ThroughBack && math.Abs(x.Y-(top-cleatWide)) < x.Diameter/2+cleatWide-1e-9 && top > 2*cleatWide {
						t.Errorf("%s: cleats from %v down cross the %s at %v", name, top, x.Name, x.Y)
					}
				}
			}
		}
	}
	if n < 200 {
		t.Errorf("%d heaters were drawn", n)
	}
}

// By hand: upright, the box stands off by its cleats and the flashing falls outwards. On the ground at 60 degrees the leg stands
// plumb, as long as 0.9 x the height x sin 60; upright it is the long side of a triangle of 0.9 and 0.45 x the height.
func TestSideViewByHand(t *testing.T) {
	upright := design.Set(design.PlaceTilt, 90.0)
	h, _, s := sideOf(t, "screen-box", upright)
	found := 0
	for _, x := range s.Shapes {
		if strings.HasPrefix(x.Name, "flashing") {
			found++
			if x.Points[2].Y >= x.Points[1].Y || x.Points[2].X <= x.Points[1].X {
				t.Errorf("it rises outwards: %v", x.Points)
			}
		}
		if off := max(0.018, h.Box.FrameWidth); x.Kind == Body && math.Abs(x.Points[0].X-off) > 1e-9 {
			t.Errorf("the box stands off by %v, by hand %v", x.Points[0].X, off)
		}
	}
	if found != 1 {
		t.Errorf("%d flashings", found)
	}
	for tilt, leg := range map[float64]float64{60: 0.9 * math.Sin(math.Pi/3), 90: math.Hypot(0.9, 0.45)} {
		_, l, _ := sideOf(t, "screen-box", design.Set(design.PlaceTilt, tilt),
			design.Set(design.AirRoute, "stand"))
		for _, p := range l.Parts {
			if p.Name == "stand leg" && math.Abs(p.Length-leg*l.Height) > 1e-9 {
				t.Errorf("at %v degrees the leg is %v, by hand %v", tilt, p.Length, leg*l.Height)
			}
		}
	}
}

// What a detail cuts off: of a square of 2 m over a corner of a frame of 1 m a quarter of it is left, of a line across it the part
// inside; what lies outside is gone. By hand.
func TestDetailsCut(t *testing.T) {
	d := Detail{Low: Point{0, 0}, High: Point{1, 1}}
	area := func(points []Point) (a float64) {
		for i, p := range points {
			q := points[(i+1)%len(points)]
			a += (p.X*q.Y - q.X*p.Y) / 2
		}
		return math.Abs(a)
	}
	square := Shape{Points: block(0.5, 0.5, 2.5, 2.5)}
	if out := d.Cut(&square); len(out) != 1 || math.Abs(area(out[0].Points)-0.25) > 1e-12 {
		t.Errorf("%v", out)
	}
	line := Shape{Open: true, Points: []Point{{-1, 0.5}, {2, 0.5}, {2, 3}}}
	if out := d.Cut(&line); len(out) != 1 || out[0].Points[0] != (Point{0, 0.5}) || out[0].Points[1] != (Point{1, 0.5}) {
		t.Errorf("%v", out)
	}
	away := Shape{Points: block(2, 2, 3, 3)}
	if out := d.Cut(&away); out != nil {
		t.Errorf("%v", out)
	}
}

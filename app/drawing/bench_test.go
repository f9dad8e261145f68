package drawing

import (
	"fmt"
	"math"
	"strings"
	"testing"
	"unicode/utf8"

	"gladember/core/catalog"
	"gladember/core/collector"
	"gladember/core/design"
	"gladember/core/layout"
	"gladember/core/season"
	"gladember/core/units"
)

func about(t *testing.T, what string, got, want float64) {
	t.Helper()
	if math.Abs(got-want) > 0.15 {
		t.Errorf("%s is drawn at %v, should be at %v", what, got, want)
	}
}

// Each piece of the way is as long as its share of the pressure, and they fill the strip.
func TestRouteIsToScale(t *testing.T) {
	sc := scene(t, "screen-box", units.System{})
	d, err := collector.Describe(sc.Heater)
	if err != nil {
		t.Fatal(err)
	}
	ps := d.Route(sc.Heater, &sc.Eval.Running)
	all := 0.0
	for _, p := range ps {
		all += p.Loss
	}
	for _, width := range []float64{700, 360} {
		var rects []element
		for _, e := range parse(t, AirRoute(ps, d.FanAtHot, d.Natural, width, units.System{}, func(p string) string { return "#" + p })) {
			if e.name == "rect" {
				rects = append(rects, e)
			}
		}
		if len(rects) != len(ps) {
			t.Fatalf("%d pieces drawn of %d", len(rects), len(ps))
		}
		x := 26.0
		for i, p := range ps {
			about(t, p.Name, rects[i].num(t, "x"), x)
			about(t, p.Name+"'s length", rects[i].num(t, "width"), (width-52)*p.Loss/all)
			x += (width - 52) * p.Loss / all
		}
		about(t, "the strip's end", x, width-26)
	}
}

// A row is drawn with each box filled to its share of one scale, the even line at the same height
// in all, and nothing outside the picture.
func TestRowIsToScale(t *testing.T) {
	h, err := design.Named("roof-row")
	if err == nil {
		h, err = design.Apply(h, units.System{}, design.Set(design.ArrayHeader, 0.25))
	}
	if err != nil {
		t.Fatal(err)
	}
	r, err := collector.Rate(&h, collector.ConditionsAt(&h, collector.WinterNoon(&h)))
	if err != nil {
		t.Fatal(err)
	}
	for _, width := range []float64{700, 360} {
		es := parse(t, Row(r.Branches, false, width, units.System{}))
		shares, even := with(es, "share"), with(es, "even")
		if len(shares) != 10 || len(even) != 10 {
			t.Fatal(len(shares), len(even))
		}
		foot := shares[0].num(t, "y") + shares[0].num(t, "height")
		for i, b := range r.Branches {
			about(t, "height of a share", shares[i].num(t, "height"), (foot-even[i].num(t, "y1"))*b.Share)
			if x := shares[i].num(t, "x"); x < 0 || x+shares[i].num(t, "width") > width {
				t.Errorf("box %d lies at %v", i, x)
			}
		}
	}
}

// The point where fan and way agree lies on both curves.
func TestFanCurvesMeetAtTheMark(t *testing.T) {
	sc := scene(t, "screen-box", units.System{})
	d, _ := collector.Describe(sc.Heater)
	r := &sc.Eval.Running
	c := d.Curves(r, 200)
	rho := r.Mass / r.FanFlow
	es := parse(t, FanCurves(c, sc.Eval.Flow, r.FanFlow, r.PressureDrop, rho, 700, units.System{}))
	for _, e := range with(es, "figure") {
		if strings.Contains(e.text, "e+") {
			t.Errorf("an exponent on the axis: %s", e.text)
		}
	}
	mark := with(es, "mark")[0]
	mx, my := mark.num(t, "cx"), mark.num(t, "cy")
	for _, class := range []string{"curve", "curve fan-line"} {
		least := math.Inf(1)
		for _, part := range strings.FieldsFunc(with(es, class)[0].attr["d"], func(r rune) bool { return r == 'M' || r == 'L' }) {
			var x, y float64
			if _, err := fmt.Sscanf(part, "%f %f", &x, &y); err != nil {
				t.Fatal(err)
			}
			least = min(least, math.Hypot(x-mx, y-my))
		}
		if least > 5 { // points lie that far apart
			t.Errorf("%s passes the mark at %v px", class, least)
		}
	}
	band := with(es, "flow-band")[0]
	if lo := band.num(t, "x"); mx < lo || mx > lo+band.num(t, "width") {
		t.Error("the mark lies outside its band")
	}
}

// The name of the operating point touches neither curve, whatever the fan, on paper of either width.
func TestOperatingPointIsNamedClearOfCurves(t *testing.T) {
	for _, name := range []string{"screen-box", "can-columns", "downpipes-in-series", "back-pass-plate"} {
		for _, fan := range catalog.Fans() {
			for _, width := range []float64{330, 700} {
				sc := scene(t, name, units.System{})
				h, err := design.Apply(*sc.Heater, units.System{}, design.Set(design.AirFan, fan.ID))
				if err != nil {
					continue
				}
				d, err := collector.Describe(&h)
				if err != nil {
					t.Fatal(err)
				}
				r, err := d.Rate(sc.Eval.Running.Conditions, collector.Tuning{}, nil)
				if err != nil || !h.Fanned() || r.FanFlow <= 0 {
					continue
				}
				c := d.Curves(&r, 60)
				es := parse(t, FanCurves(c, sc.Eval.Flow, r.FanFlow, r.PressureDrop, r.Mass/r.FanFlow, width, units.System{}))
				label := with(es, "label")[0]
				x, y, wide := label.num(t, "x"), label.num(t, "y"), 7.6*float64(utf8.RuneCountInString(label.text))
				for _, class := range []string{"curve", "curve fan-line", "curve dotted"} {
					for _, at := range strings.FieldsFunc(with(es, class)[0].attr["d"], func(r rune) bool { return r == 'M' || r == 'L' }) {
						var cx, cy float64
						if _, err := fmt.Sscanf(at, "%f %f", &cx, &cy); err != nil {
							t.Fatal(err)
						}
						if math.Abs(cx-x) < wide/2 && cy > y-14 && cy < y+4 {
							t.Errorf("%s, %s, %g px: %s runs through %q at %.0f, %.0f", name, fan.ID, width, class, label.text, cx, cy)
						}
					}
				}
			}
		}
	}
}

// The played box leans as it does, and is as long as it is deep, to one scale.
func TestPlayingLeansAsTheBoxDoes(t *testing.T) {
	for _, tilt := range []float64{30, 65, 90} {
		h, err := design.Named("screen-box")
		if err != nil {
			t.Fatal(err)
		}
		if h, err = design.Apply(h, units.System{}, design.Set(design.PlaceTilt, tilt)); err != nil {
			t.Fatal(err)
		}
		l, err := layout.Build(&h)
		if err != nil {
			t.Fatal(err)
		}
		es := parse(t, Playing(&h, &l, 700))
		glass := with(es, "pane thick")[0]
		dx, dy := glass.num(t, "x2")-glass.num(t, "x1"), glass.num(t, "y1")-glass.num(t, "y2")
		about(t, "the lean", math.Atan2(dy, dx)*180/math.Pi, tilt)
		var p [4][2]float64
		if _, err := fmt.Sscanf(with(es, "shell")[0].attr["d"], "M%f %fL%f %fL%f %fL%f %fZ", &p[0][0], &p[0][1], &p[1][0], &p[1][1],
			&p[2][0], &p[2][1], &p[3][0], &p[3][1]); err != nil {
			t.Fatal(err)
		}
		long, deep := math.Hypot(p[1][0]-p[0][0], p[1][1]-p[0][1]), math.Hypot(p[2][0]-p[1][0], p[2][1]-p[1][1])
		if math.Abs(long/deep-l.Height/l.Depth) > 0.01*l.Height/l.Depth {
			t.Errorf("at %v: %v long for %v deep, should be %v", tilt, long, deep, l.Height/l.Depth)
		}
		for _, name := range []string{"sun", "plate", "clock", "out", "in", "fan"} {
			found := false
			for _, e := range es {
				found = found || e.attr["data-play"] == name
			}
			if !found {
				t.Errorf("nothing is called %s", name)
			}
		}
	}
}

// The box hangs on its wall to scale, its openings where it has them.
func TestOnWallIsToScale(t *testing.T) {
	h, err := design.Apply(design.New(), units.System{}, design.Set(design.WallBetween, 1.9),
		design.Set(design.WallStud, 0.406), design.Set(design.WallSill, 0.9),
		design.Set(design.PlaceTilt, 90.0))
	if err != nil {
		t.Fatal(err)
	}
	l, _ := layout.Build(&h)
	w, _ := layout.OnWall(&h, &l)
	es := parse(t, OnWall(&h, &l, w, false, 700, units.System{}))
	windows, box := with(es, "pane"), with(es, "shell")[0]
	from, to := windows[0].num(t, "x")+windows[0].num(t, "width"), windows[1].num(t, "x")
	k := (to - from) / 1.9
	about(t, "the box", box.num(t, "x"), from+k*h.Wall.Left)
	about(t, "its width", box.num(t, "width"), k*l.Width)
	about(t, "its height", box.num(t, "height"), k*l.Height)
	if n := len(with(es, "stud")); n != len(w.Studs) {
		t.Errorf("%d studs of %d", n, len(w.Studs))
	}
	ports := append(with(es, "port cold"), with(es, "port hot")...)
	if len(ports) != len(w.Openings) {
		t.Fatalf("%d openings of %d", len(ports), len(w.Openings))
	}
	for _, o := range w.Openings {
		found := false
		for _, p := range ports {
			found = found || math.Abs(p.num(t, "cx")-from-k*o.X) < 0.1
		}
		if !found {
			t.Errorf("no opening at %v", o.X)
		}
	}
}

// What stands on the horizon is drawn where it stands and as high.
func TestObstaclesStandWhereTheyAre(t *testing.T) {
	h, err := design.Apply(design.New(), units.System{}, design.Enter(design.ShadeHorizon, "150 to 210: 20, house\n90 to 120: 10, tree"))
	if err != nil {
		t.Fatal(err)
	}
	es := parse(t, SunTracks(&h, 700, units.System{}))
	at := es[0]
	left, right, base, top, high := at.num(t, "data-left"), at.num(t, "data-right"), at.num(t, "data-base"), at.num(t, "data-top"),
		at.num(t, "data-high")
	X := func(az float64) float64 { return left + (right-left)*(az-180+130)/260 }
	house := with(es, "obstacle solid")[0]
	about(t, "the house", house.num(t, "x"), X(150))
	about(t, "its width", house.num(t, "width"), X(210)-X(150))
	about(t, "its height", house.num(t, "height"), (base-top)*20/high)
	var x, y float64
	if _, err := fmt.Sscanf(with(es, "obstacle tree")[0].attr["d"], "M%f %f", &x, &y); err != nil {
		t.Fatal(err)
	}
	about(t, "the tree", x, X(90))
}

// Months, points and tries are drawn to their scales.
func TestYearDrawingsAreToScale(t *testing.T) {
	r := &season.Result{}
	for i := range r.Months {
		r.Months[i].Need, r.Months[i].Sun = float64(100*(12-i)), float64(50*(i+1))
	}
	es := parse(t, NeedAndSun(r, 700, units.System{}))
	bars := with(es, "need")
	if len(bars) != 12 {
		t.Fatalf("%d months", len(bars))
	}
	for i := range bars {
		if k := bars[i].num(t, "height") / bars[0].num(t, "height"); math.Abs(k-float64(12-i)/12) > 0.002 {
			t.Errorf("month %d is %v of the first", i, k)
		}
	}
	ps := []season.SetPoint{{Month: 1, Close: 30, Useful: 50, Now: 40}, {Month: 4, Close: 36, Useful: 40, Now: 40}}
	es = parse(t, MonthPoints(ps, 33, 700, units.System{}))
	cols, axis, own := with(es, "column"), with(es, "axis")[0], with(es, "expected")[0]
	if len(cols) != 2 {
		t.Fatalf("%d columns", len(cols))
	}
	h := func(y float64) float64 { return axis.num(t, "y1") - y }
	a, b, c := h(cols[0].num(t, "y")), h(cols[1].num(t, "y")), h(own.num(t, "y1"))
	about(t, "yours between them", c, (a+b)/2)
	es = parse(t, Swept("tried", []float64{40, 20, 60}, []float64{5, 10, 0}, 40, units.Angle, 700, units.System{}))
	marks := with(es, "mark")
	about(t, "the middle", marks[0].num(t, "cx"), (marks[1].num(t, "cx")+marks[2].num(t, "cx"))/2)
	about(t, "half of the most", marks[0].num(t, "cy"), (marks[1].num(t, "cy")+marks[2].num(t, "cy"))/2)
	about(t, "yours", with(es, "leader")[0].num(t, "x1"), marks[0].num(t, "cx"))
}

// Each material's heat and limit are lengths of one scale; what is over its limit is bold.
func TestLimitsAreToScale(t *testing.T) {
	sc := scene(t, "back-pass-plate", units.System{})
	es := parse(t, Limits(sc.Eval.Peaks, 700, units.System{}))
	bars, over := with(es, "bar front"), 0
	if len(bars) != len(sc.Eval.Peaks) {
		t.Fatalf("%d bars of %d", len(bars), len(sc.Eval.Peaks))
	}
	k := bars[0].num(t, "width") / sc.Eval.Peaks[0].Upper
	for i, p := range sc.Eval.Peaks {
		about(t, p.Name, bars[i].num(t, "width"), k*p.Upper)
		if p.Upper > p.Service && p.Service > 0 {
			over++
		}
	}
	if n := len(with(es, "figure over")); n != over {
		t.Errorf("%d are said to be over, %d are", n, over)
	}
}

// The code for the camera is square, quiet at its rim, and the same in the terminal.
func TestQR(t *testing.T) {
	svg, err := QR("http://192.168.7.7:8737/pair?code=ABCDEFGH")
	if err != nil {
		t.Fatal(err)
	}
	es := parse(t, svg)
	paper := with(es, "qr-paper")[0].num(t, "width")
	text, err := QRText("http://192.168.7.7:8737/pair?code=ABCDEFGH")
	if err != nil {
		t.Fatal(err)
	}
	lines := strings.Split(strings.TrimSpace(text), "\n")
	if n := len([]rune(lines[1])); float64(n) != paper-2*quiet+4 {
		t.Errorf("%d modules in the terminal, %v drawn", n, paper-2*quiet)
	}
	if _, err := QR(strings.Repeat("x", 5000)); err == nil {
		t.Error("a code for a whole page")
	}
}

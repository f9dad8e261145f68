package drawing

import (
	"encoding/xml"
	"fmt"
	"html/template"
	"io"
	"math"
	"strconv"
	"strings"
	"testing"

	"gladember/core/collector"
	"gladember/core/design"
	"gladember/core/layout"
	"gladember/core/simulate"
	"gladember/core/units"
)

type element struct {
	name  string
	class string
	attr  map[string]string
	text  string
}

func (e element) num(t *testing.T, key string) float64 {
	t.Helper()
	v, err := strconv.ParseFloat(e.attr[key], 64)
	if err != nil {
		t.Fatalf("%s %q of %q: %v", e.name, key, e.class, err)
	}
	return v
}

// parse reads a drawing as XML, so that it must be well formed.
func parse(t *testing.T, h template.HTML) (out []element) {
	t.Helper()
	d := xml.NewDecoder(strings.NewReader(string(h)))
	for {
		tok, err := d.Token()
		if err == io.EOF {
			return out
		}
		if err != nil {
			t.Fatalf("%v in %s", err, h)
		}
		switch x := tok.(type) {
		case xml.StartElement:
			e := element{name: x.Name.Local, attr: map[string]string{}}
			for _, a := range x.Attr {
				e.attr[a.Name.Local] = a.Value
				if a.Name.Local == "style" {
					t.Errorf("a style attribute on %s", e.name)
				}
			}
			e.class = e.attr["class"]
			out = append(out, e)
		case xml.CharData:
			if len(out) > 0 {
				out[len(out)-1].text += string(x)
			}
		}
	}
}

func scene(t *testing.T, name string, u units.System) *Scene {
	t.Helper()
	h, err := design.Named(name)
	if err != nil {
		t.Fatal(err)
	}
	e, err := collector.Evaluate(&h, collector.ConditionsAt(&h, collector.WinterNoon(&h)), true)
	if err != nil {
		t.Fatal(err)
	}
	l, err := layout.Build(&h)
	if err != nil {
		t.Fatal(err)
	}
	return &Scene{Heater: &h, Layout: &l, Eval: &e,
		Units: u, Link: func(g layout.Group) Link { return Link{To: "/x?part=" + string(g) + "&y=\"<"} }}
}

func with(es []element, class string) (out []element) {
	for _, e := range es {
		if e.class == class {
			out = append(out, e)
		}
	}
	return out
}

// The front is to one scale in both directions: frame, pane and hole centers
// stand where layout puts them.
func TestFrontIsToScale(t *testing.T) {
	for _, name := range design.ExampleNames() {
		sc := scene(t, name, units.System{})
		es := parse(t, sc.Front(FrontWidth))
		frame, pane := with(es, "wood")[0], with(es, "pane")[0]
		if sc.Heater.Indoors() { // the panel fills the window's opening, the pane is its own
			if with(es, "port cold") != nil || pane.num(t, "width") != frame.num(t, "width") {
				t.Errorf("%s: a panel has no ports and fills its window", name)
			}
			continue
		}
		k := frame.num(t, "width") / sc.Layout.Width
		near := func(what string, got, want float64) {
			t.Helper()
			if math.Abs(got-want) > 0.02 {
				t.Errorf("%s: %s is drawn at %v px, want %v", name, what, got, want)
			}
		}
		near("height", frame.num(t, "height"), k*sc.Layout.Height)
		near("pane width", pane.num(t, "width"), k*sc.Heater.Pane.Width)
		near("pane height", pane.num(t, "height"), k*sc.Heater.Pane.Height)
		cold, hot := with(es, "port cold"), with(es, "port hot")
		if len(cold)+len(hot) != len(sc.Layout.Holes) {
			t.Fatalf("%s: %d ports for %d holes", name, len(cold)+len(hot), len(sc.Layout.Holes))
		}
		ports := make([]element, len(sc.Layout.Holes))
		for i, hole := range sc.Layout.Holes {
			if hole.Name == "inlet" {
				ports[i], cold = cold[0], cold[1:]
			} else {
				ports[i], hot = hot[0], hot[1:]
			}
		}
		for i, hole := range sc.Layout.Holes {
			near(hole.Name+" x", ports[i].num(t, "cx"), frame.num(t, "x")+k*hole.X)
			near(hole.Name+" y", ports[i].num(t, "cy"), frame.num(t, "y")+k*(sc.Layout.Height-hole.Y))
			near(hole.Name+" radius", ports[i].num(t, "r"), k*hole.Diameter/2)
		}
		bar := with(es, "scale")[0]
		near("scale bar", bar.num(t, "x2")-bar.num(t, "x1"), k*0.5)
	}
}

// The section keeps thicknesses to the scale of its depth.
func TestSectionIsToScale(t *testing.T) {
	for _, name := range design.ExampleNames() {
		sc := scene(t, name, units.System{})
		es := parse(t, sc.Section())
		var depth float64
		for _, e := range with(es, "dim") {
			if e.attr["y1"] == e.attr["y2"] {
				depth = e.num(t, "x2") - e.num(t, "x1")
			}
		}
		k := depth / sc.Layout.Depth
		found := false
		class, thick := "foam cut", sc.Heater.Box.BackFoam
		if sc.Heater.Indoors() {
			class, thick = "wood cut", 0.018 // its bars
		}
		for _, e := range with(es, class) {
			if math.Abs(e.num(t, "width")-k*thick) < 0.02 {
				found = true
			}
		}
		if !found {
			t.Errorf("%s: no foam of %v m at %v px a m", name, sc.Heater.Box.BackFoam, k)
		}
	}
}

// The energy bar's lengths are the energies, and fill the bar.
func TestEnergyBarAddsUp(t *testing.T) {
	for _, name := range design.ExampleNames() {
		sc := scene(t, name, units.System{})
		sum := 0.0
		for _, e := range parse(t, sc.EnergyBar(700)) {
			if strings.HasPrefix(e.class, "bar ") {
				w := e.num(t, "width") + 1
				sum += w
				if e.class == "bar heat" && math.Abs(w/700-(sc.Eval.Running.Energy.Air+
					sc.Eval.Running.Energy.Room)/sc.Eval.Running.Energy.Sum()) > 0.01 {
					t.Errorf("%s: the heat is drawn as %v of 700 px, it is %v of the sun", name, w, sc.Eval.Running.Efficiency)
				}
			}
		}
		if math.Abs(sum-700) > 0.5 {
			t.Errorf("%s: the pieces fill %v of 700 px", name, sum)
		}
	}
}

// In every system of units the pieces of the bar come to the sun as they are printed, to the sun's own last digit: small pieces have a
// digit more.
func TestEnergyBarAddsUpAsPrinted(t *testing.T) {
	for _, name := range design.ExampleNames() {
		for _, u := range []units.System{{}, {Inches: true, Fahrenheit: true}} {
			digit := 1.0
			if u.Fahrenheit {
				digit = 10 * units.WattPerBTUPerHour
			}
			sc := scene(t, name, u)
			e := sc.Eval.Running.Energy
			if min(e.Front, e.Back+e.Edge, e.Leak, e.Reflected) < 0 {
				continue // heat is taken from warmer air
			}
			read := func(text string) float64 {
				v, err := units.Parse(units.Power, text, u)
				if err != nil {
					t.Fatalf("%s: %q, %v", name, text, err)
				}
				return v
			}
			sum := 0.0
			for _, x := range parse(t, sc.EnergyBar(360)) {
				if x.class == "figure" {
					sum += read(x.text)
				}
			}
			if sun := read(units.Format(units.Power, e.Sun, u)); math.Round(sum/digit) != math.Round(sun/digit) {
				t.Errorf("%s in %+v: pieces of %s come to %s", name, u, units.Format(units.Power, sun, u),
					units.Format(units.Power, sum, u))
			}
		}
	}
}

// Every drawing is well formed, keeps its texts inside the picture, and
// escapes what it is given, in all units and widths.
func TestDrawingsAreWellFormed(t *testing.T) {
	for _, name := range design.ExampleNames() {
		for _, u := range []units.System{{}, {Inches: true, Fahrenheit: true}, {DecimalComma: true}} {
			sc := scene(t, name, u)
			for _, h := range []template.HTML{sc.Front(FrontWidth), sc.Section(), sc.EnergyBar(700), sc.EnergyBar(360), sc.AirPath(700),
				sc.AirPath(360), SunTracks(sc.Heater, 700, u), SunTracks(sc.Heater, 360, u), SunYear(sc.Heater, 440, u),
				Lean(sc.Heater, 230, u)} {
				es := parse(t, h)
				box := strings.Fields(es[0].attr["viewBox"])
				w, _ := strconv.ParseFloat(box[2], 64)
				ht, _ := strconv.ParseFloat(box[3], 64)
				for _, e := range es {
					if e.name != "text" || e.attr["transform"] != "" || strings.TrimSpace(e.text) == "" {
						continue
					}
					x, y := e.num(t, "x"), e.num(t, "y")
					long := 6.2 * float64(len([]rune(e.text))) // a letter's width, about
					lo, hi := x, x+long
					switch e.attr["text-anchor"] {
					case "end":
						lo, hi = x-long, x
					case "middle":
						lo, hi = x-long/2, x+long/2
					}
					if lo < -14 || hi > w+22 || y < 8 || y > ht {
						t.Errorf("%s: %q at %v,%v leaves its %v x %v picture (%v to %v)", name, e.text, x, y, w, ht, lo, hi)
					}
				}
			}
		}
	}
}

// The curve of a day's heat by setting is to scale: points stand where heat and
// temperature put them, the best is marked, and so is the heater's own.
func TestSettingsAreToScale(t *testing.T) {
	var ss []simulate.Setting
	for i, v := range []float64{2, 4, 3, 1} {
		ss = append(ss, simulate.Setting{Close: 30 + 10*float64(i), Day: simulate.Day{Heat: v, Cycles: i}})
	}
	es := parse(t, Settings(ss, 45, 700, units.System{}))
	axis, mark, own := with(es, "axis")[0], with(es, "mark")[0], with(es, "leader")[0]
	left, right, foot := axis.num(t, "x1"), axis.num(t, "x2"), axis.num(t, "y1")
	at := func(c float64) float64 { return left + (right-left)*(c-30)/30 }
	if math.Abs(mark.num(t, "cx")-at(40)) > 0.1 || math.Abs(own.num(t, "x1")-at(45)) > 0.1 {
		t.Errorf("best at %v, yours at %v", mark.num(t, "cx"), own.num(t, "x1"))
	}
	// The curve's first point has half of the most.
	var x, y float64
	if _, err := fmt.Sscanf(with(es, "curve hot-line")[0].attr["d"], "M%f %f", &x, &y); err != nil {
		t.Fatal(err)
	}
	if math.Abs((foot-y)/(foot-mark.num(t, "cy"))-0.5) > 0.01 {
		t.Errorf("2 of 4 kWh is drawn at %v of the height", (foot-y)/(foot-mark.num(t, "cy")))
	}
	if Settings(ss[:1], 45, 700, units.System{}) != "" {
		t.Error("one setting is no curve")
	}
}

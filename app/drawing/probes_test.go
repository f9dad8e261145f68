package drawing

import (
	"math"
	"testing"

	"gladember/core/collector"
	"gladember/core/design"
	"gladember/core/layout"
	"gladember/core/measure"
	"gladember/core/units"
)

// Every test's places are numbered on every heater, one mark each, none on top of another and all within the picture; the marks of
// inlet and outlet lie on their holes.
func TestProbesAreNumbered(t *testing.T) {
	for _, name := range design.ExampleNames() {
		h, err := design.Named(name)
		if err != nil {
			t.Fatal(err)
		}
		l, err := layout.Build(&h)
		if err != nil {
			t.Fatal(err)
		}
		for _, tr := range measure.Trials() {
			if !tr.Suits(&h) || len(tr.Probes) == 0 {
				continue
			}
			const width = 360.0
			es := parse(t, Probes(&l, tr.Probes, width))
			marks := with(es, "mark")
			if len(marks) != len(tr.Probes) {
				t.Errorf("%s on %s: %d marks for %d places", tr.ID, name, len(marks), len(tr.Probes))
			}
			for i, m := range marks {
				x, y := m.num(t, "cx"), m.num(t, "cy")
				if x < 0 || x > width || y < 0 || y > 230 {
					t.Errorf("%s on %s: a mark at %v, %v", tr.ID, name, x, y)
				}
				for _, o := range marks[:i] {
					if math.Hypot(x-o.num(t, "cx"), y-o.num(t, "cy")) < 8 {
						t.Errorf("%s on %s: two marks at one place", tr.ID, name)
					}
				}
			}
		}
	}
}

// Two bars are to one scale: their lengths are as their values, each range is drawn from its low to its high end; where a day's sun went
// is as long as its parts.
func TestBarsAreToScale(t *testing.T) {
	m := func(v, u float64) *measure.Measured {
		return &measure.Measured{Name: "Heat", Kind: units.Power, Band: collector.Band{Value: v, U: u, Low: v - 2*u, High: v + 2*u}}
	}
	es := parse(t, TwoBars(m(400, 20), m(500, 50), units.System{}, 600))
	bars := append(with(es, "bar got"), with(es, "bar want")...)
	if len(bars) != 2 {
		t.Fatalf("%d bars", len(bars))
	}
	a, b := bars[0].num(t, "width"), bars[1].num(t, "width")
	if math.Abs(a/b-0.8) > 1e-3 {
		t.Errorf("bars of %v and %v for 400 and 500", a, b)
	}
	lines := with(es, "spread")
	if got, want := lines[0].num(t, "x2")-lines[0].num(t, "x1"), a/400*80; math.Abs(got-want) > 0.1 {
		t.Errorf("the range is %v long, should be %v", got, want)
	}
	p := &measure.DayParts{Sun: 10, Reflected: 2, Front: 3, Back: 0.5, Edge: 0.5, Leak: 0, Air: 4}
	whole := 0.0
	for _, r := range parse(t, TwoDays(p, p, units.System{}, 604)) {
		if r.name == "rect" {
			whole += r.num(t, "width")
		}
	}
	if math.Abs(whole-2*600) > 0.5 {
		t.Errorf("two bars of one day are %v long together", whole)
	}
}

package wiring

import (
	"math"
	"slices"
	"strings"
	"testing"

	"gladember/core/design"
	"gladember/core/units"
)

// Voltage drops against BS 7671 table 4F3B, flexible cords at 60 C (recalled from memory): 0.75 mm2 62, 1.0 mm2 46, 1.5 mm2 32, 2.5
// mm2 19 mV for each ampere and meter; ours is for 30 C, at which copper has 11 % less resistance. Within 6 %.
func TestDropAgainstTheTable(t *testing.T) {
	for mm2, want := range map[float64]float64{0.75: 62, 1.0: 46, 1.5: 32, 2.5: 19} {
		hot := 1000 * Drop(1, 1, mm2, 1) * (1 + 0.00393*40) / (1 + 0.00393*10)
		if math.Abs(hot/want-1) > 0.06 {
			t.Errorf("%v mm2: %v mV/Am, the table says %v", mm2, hot, want)
		}
	}
}

// By hand: a fan of 24 W on 12 V takes 2 A; 125 % of it is 2.5 A, so that the fuse is 3 A; 0.75 mm2 carries 6 A. A fan of 60 W takes
// 5 A and a fuse of 7.5 A, which 0.75 mm2 does not bear, but 1 mm2 does.
func TestFuseByHand(t *testing.T) {
	if got := FuseFor(2, Ampacity(0.75)); got != 3 {
		t.Errorf("%v A", got)
	}
	if got := FuseFor(5, Ampacity(0.75)); got != 0 {
		t.Errorf("%v A on a wire that carries %v A", got, Ampacity(0.75))
	}
	if got := FuseFor(5, Ampacity(1)); got != 7.5 {
		t.Errorf("%v A", got)
	}
	if Ampacity(0.3) != 0 || Ampacity(0.9) != 6 || Ampacity(10) != 32 {
		t.Errorf("%v, %v, %v A", Ampacity(0.3), Ampacity(0.9), Ampacity(10))
	}
}

// A fuse bears its load and never lets a wire carry more than it may; a thicker wire never takes more of the voltage.
func TestFuseProtectsTheWire(t *testing.T) {
	for load := 0.1; load < 30; load += 0.1 {
		for _, c := range cords {
			if f := FuseFor(load, c[1]); f != 0 && (f < 1.25*load || f > c[1]) {
				t.Fatalf("a fuse of %v A for %v A on a wire of %v A", f, load, c[1])
			}
			if Drop(load, 5, c[0]*1.5, 12) >= Drop(load, 5, c[0], 12) {
				t.Fatal("a thicker wire loses more")
			}
		}
	}
}

func circuit(t *testing.T, name string, cs ...design.Change) (design.Heater, Circuit) {
	t.Helper()
	h, err := design.Named(name)
	if err != nil {
		t.Fatal(err)
	}
	if h, err = design.Apply(h, units.System{}, cs...); err != nil {
		t.Fatal(err)
	}
	c, ok := Build(&h)
	if ok != (h.Fanned() && !h.Indoors()) {
		t.Fatalf("%s has a circuit: %v", name, ok)
	}
	return h, c
}

// Every example with a fan has a supply first and a fan last, of a low voltage a fuse right behind the supply, on the mains the
// electrician; a box of sheet metal has no cut-out, others do.
func TestEveryCircuitIsWhole(t *testing.T) {
	for _, name := range design.ExampleNames() {
		if base, _ := design.Named(name); !base.Fanned() || base.Indoors() {
			if _, ok := Build(&base); ok {
				t.Errorf("%s has no fan and a circuit", name)
			}
			continue
		}
		for _, model := range []string{"computer-120", "ec-inline-4", "bilge-4"} {
			h, c := circuit(t, name, design.Set(design.AirFan, model))
			has := func(k Kind) int { return slices.IndexFunc(c.Elements, func(e Element) bool { return e.Kind == k }) }
			if k := c.Elements[len(c.Elements)-1].Kind; k != Fan {
				t.Errorf("%s: ends with %s", name, k)
			}
			if c.Low && (has(Fuse) < 1 || has(Trade) >= 0 || has(Switch) >= 0 && has(Switch) < has(Fuse)) || !c.Low && has(Trade) != 1 {
				t.Errorf("%s: %+v", name, c.Elements)
			}
			if (has(CutOut) >= 0) != (h.Box.Body != "sheet") {
				t.Errorf("%s of %s: cut-out %d", name, h.Box.Body, has(CutOut))
			}
			for _, n := range c.Notes {
				if s := n.In(units.System{}); strings.Contains(s, "%!") || strings.Contains(s, "e-") {
					t.Errorf("%s: %q", name, s)
				}
			}
		}
	}
}

// A thin wire for a strong fan is told, and a fan that starts with more than a disc bears gets a relay.
func TestThinWireIsTold(t *testing.T) {
	_, c := circuit(t, "panel-driven-lath-box", design.Set(design.AirFan, "bilge-4"), design.Set(design.AirWire, 12.0),
		design.Set(design.AirWireArea, 0.5), design.Set(design.AirFans, 2))
	text := ""
	for _, n := range c.Notes {
		text += n.In(units.System{}) + " "
	}
	if c.Drop < 0.05 || !strings.Contains(text, "thicker") || c.Start > discRating && !strings.Contains(text, "relay") {
		t.Errorf("drop %v, %s", c.Drop, text)
	}
}

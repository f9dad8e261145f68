package advice

import (
	"math"
	"testing"

	"gladember/core/collector"
	"gladember/core/design"
	"gladember/core/units"
)

// With the intake outdoors the air that falls through the box by night does not come back: what is lost is all that it carries over
// the outdoor air, by hand m cp (18 + 7) for air of 18 C at -7 C outdoors; with the intake in the room only what it cools by.
func TestNightLossFromOutdoors(t *testing.T) {
	h, err := design.Named("back-pass-plate")
	if err != nil {
		t.Fatal(err)
	}
	at := func(source string) (float64, collector.Result) {
		x, err := design.Apply(h, units.System{}, design.Set(design.AirSource, source), design.Set(design.AirFlap, "none"))
		if err != nil {
			t.Fatal(err)
		}
		c := collector.Conditions{Tilt: 60, Ambient: -7, Inlet: 18, Room: 18, Sky: -27, Wind: 1}
		lost, r, err := nightLoss(&x, c)
		if err != nil {
			t.Fatal(err)
		}
		return lost, r
	}
	in, r := at("room")
	if math.Abs(in+r.Heat) > 1e-9 || in <= 0 {
		t.Errorf("from the room %v W are lost, the air gives %v", in, r.Heat)
	}
	out, r := at("outdoors")
	if by := r.Mass * 1006 * 25; math.Abs(out-by) > 0.01*by || out <= in {
		t.Errorf("from outdoors %v W are lost, by hand %v; from the room %v", out, by, in)
	}
}

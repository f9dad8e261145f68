package advice

import (
	"math"
	"testing"

	"gladember/core/collector"
	"gladember/core/design"
	"gladember/core/units"
)

// An outlet straight above the inlet of a wide plate box is told, with what its remedy really gives; the remedy silences
// it. At opposite corners nothing is said.
func TestUnevenWidth(t *testing.T) {
	wide := append(plate, design.Set(design.PlateBaffles, 0), design.Set(design.PaneWidth, 2.4), design.Set(design.PaneHeight, 0.9))
	if _, fs := judged(t, wide...); fs["uneven-width"].ID != "" {
		t.Errorf("ports at opposite corners: %+v", fs["uneven-width"])
	}
	e, fs := judged(t, append(wide, design.Set(design.AirPortPlaces, "same-side"))...)
	f, ok := fs["uneven-width"]
	if !ok || f.Patch == nil || !(f.Gain > 0) {
		t.Fatalf("%+v", f)
	}
	h, err := design.Apply(e.Heater, units.System{}, f.Patch...)
	if err != nil {
		t.Fatal(err)
	}
	again, err := collector.Evaluate(&h, collector.ConditionsAt(&h, collector.WinterNoon(&h)), true)
	if err != nil {
		t.Fatal(err)
	}
	if got := again.Running.Warms() - e.Running.Warms(); math.Abs(got-f.Gain) > 0.01*math.Abs(f.Gain)+0.05 {
		t.Errorf("the remedy gives %v W, said were %v", got, f.Gain)
	}
	for _, x := range Evaluate(&again) {
		if x.ID == "uneven-width" {
			t.Error("the remedy leaves it uneven")
		}
	}
}

package simulate

import (
	"math"
	"testing"

	"gladember/core/collector"
	"gladember/core/design"
	"gladember/core/internal/formula"
)

// A day's figures come out of their formulas.
func TestWorkingsOfADay(t *testing.T) {
	panel, err := design.Named("window-panel")
	if err != nil {
		t.Fatal(err)
	}
	pv, err := design.Named("panel-driven-lath-box")
	if err != nil {
		t.Fatal(err)
	}
	for name, h := range map[string]design.Heater{"screens": heater(t), "stand": heater(t, set(design.AirRoute.Path, "stand")),
		"panel": panel,
		"pv":    pv} {
		for _, sky := range []Sky{Clear, Snowy} {
			d, err := Run(&h, collector.WinterNoon(&h), DesignDay(&h, sky))
			if err != nil {
				t.Fatal(err)
			}
			ws := Workings(&d)
			w := ws["heat"]
			// The balance closes as well as its first law: within 0.1 % of the sun.
			if got, err := formula.Value(w.Formula, w.Values()); err != nil || math.Abs(got-w.Value) > 1e-3*d.Sun {
				t.Errorf("%s, %s: %v from %s, shown is %v; %v", name, sky, got, w.Formula, w.Value, err)
			}
			if (d.Ducts > 0) != (name == "stand" && d.RunMinutes > 0) || (d.Bare != 0) != (name == "panel") {
				t.Errorf("%s, %s: ducts %v, bare window %v", name, sky, d.Ducts, d.Bare)
			}
			if (d.Fan > 0) != (d.RunMinutes > 0 && h.Air.Drive == "fan") {
				t.Errorf("%s, %s: %v kWh bought for the fan", name, sky, d.Fan)
			}
			if math.Abs(ws["running"].Value*60-d.RunMinutes) > 1e-9*d.RunMinutes || ws["fan"].Value != d.Fan {
				t.Errorf("%s, %s: workings of other figures", name, sky)
			}
		}
	}
}

package season

import (
	"fmt"
	"math"
	"testing"
	"time"

	"gladember/core/climate"
	"gladember/core/design"
	"gladember/core/units"
)

func named(t testing.TB, name string, changes ...design.Change) design.Heater {
	t.Helper()
	h, err := design.Named(name)
	if err != nil {
		t.Fatal(err)
	}
	changes = append([]design.Change{{Path: "climate.coldest_c", Value: -2.0}, {Path: "climate.warmest_c", Value: 18.0}, {Path: "climate.sunny_days", Value: 4.5}}, changes...)
	if h, err = design.Apply(h, units.System{}, changes...); err != nil {
		t.Fatal(err)
	}
	return h
}

func TestTmpCompare(t *testing.T) {
	for _, name := range []string{"double-glazed-screen-box", "greenhouse-plate", "back-pass-plate", "window-panel"} {
		h := named(t, name)
		y, err := climate.Of(&h)
		if err != nil {
			t.Fatal(err)
		}
		s := y.Series(&h)
		t0 := time.Now()
		a, err := RunIn(&h, s, "")
		t1 := time.Now()
		if err != nil {
			t.Errorf("%s: %v", name, err)
			continue
		}
		b, err := Full(&h, s, 0, 365)
		if err != nil {
			t.Errorf("%s: %v", name, err)
			continue
		}
		t2 := time.Now()
		worst := 0.0
		for i := range a.Months {
			worst = math.Max(worst, math.Abs(a.Months[i].Heat/b.Months[i].Heat-1))
		}
		fmt.Printf("%-26s fast %7.1f full %7.1f kWh %+.2f %% worst month %.1f %% cycles %d %d useful %.0f %.0f need %.0f run %.0f %.0f  %v %v\n", name, a.Year.Heat, b.Year.Heat, 100*(a.Year.Heat/b.Year.Heat-1), 100*worst, a.Year.Cycles, b.Year.Cycles, a.Year.Useful, b.Year.Useful, a.Year.Need, a.Year.Run, b.Year.Run, t1.Sub(t0), t2.Sub(t1))
	}
}

package buildplan

import (
	"math"
	"strings"
	"testing"

	"gladember/core/air"
	"gladember/core/catalog"
	"gladember/core/collector"
	"gladember/core/design"
	"gladember/core/heattransfer"
	"gladember/core/units"
)

func evaluated(t *testing.T, name string) *collector.Evaluation {
	t.Helper()
	h, err := design.Named(name)
	if err != nil {
		t.Fatal(err)
	}
	e, err := collector.Evaluate(&h, collector.ConditionsAt(&h, collector.WinterNoon(&h)), true)
	if err != nil {
		t.Fatal(err)
	}
	return &e
}

// What slips through a gap grows with the gap, is nothing without one and never all; and what crosses and what slips lose the same
// pressure, worked out here from the share that is returned.
func TestGapBypassBalancesPressure(t *testing.T) {
	e := evaluated(t, "screen-box")
	h := &e.Heater
	mesh, err := catalog.FindMesh(h.Absorber.Screens.Mesh)
	if err != nil {
		t.Fatal(err)
	}
	if got := GapBypass(e, 0); got != 0 {
		t.Errorf("%v of the air passes no gap", got)
	}
	last := 0.0
	for _, gap := range []float64{0.001, 0.002, 0.005, 0.01, 0.03} {
		share := GapBypass(e, gap)
		if share <= last || share >= 1 {
			t.Errorf("%v m: %v after %v", gap, share, last)
		}
		last = share
		temp := (e.Running.Conditions.Inlet + e.Running.Outlet) / 2
		rho, area := air.Density(temp, air.SeaLevel), h.ApertureWidth()*h.ApertureHeight()
		v := e.Running.Mass * (1 - share) / rho / area
		open := (1 - mesh.WireShare()) * (1 - mesh.WireShare())
		stack := float64(h.Absorber.Screens.Layers) * heattransfer.WireScreenLoss(rho*v*mesh.Wire/air.Viscosity(temp),
			open) * rho * v * v / 2
		u := e.Running.Mass * share / rho / (2 * gap * h.ApertureHeight())
		slit := rho * u * u / 2 / (0.61 * 0.61)
		if share < 0.9 && math.Abs(slit/stack-1) > 0.01 {
			t.Errorf("%v m: the gap loses %v Pa, the screens %v", gap, slit, stack)
		}
	}
}

// A short column takes more the shorter it is, and in proportion while the gap is small.
func TestShortColumnIsInProportion(t *testing.T) {
	e := evaluated(t, "can-columns")
	a, b := ShortColumn(e, 0.001), ShortColumn(e, 0.002)
	if a <= 0 || math.Abs(b/a-2) > 0.1 || ShortColumn(e, 0) != 0 {
		t.Errorf("1 mm takes %v, 2 mm %v", a, b)
	}
}

// Faults that a heater cannot have are not listed: no screens without screens, no slack duct of rigid pipe, nothing behind a window.
func TestFaultsFitTheHeater(t *testing.T) {
	has := func(name, id string) bool {
		for _, f := range Faults(evaluated(t, name), 1) {
			if f.ID == id {
				if f.Step == "" || f.Check.Format == "" {
					t.Errorf("%s: %+v", name, f)
				}
				return true
			}
		}
		return false
	}
	if !has("screen-box", "edge-gap") || has("can-columns", "edge-gap") || !has("can-columns", "short-column") || has("screen-box",
		"short-column") {
		t.Error("a fault of another kind of absorber is listed")
	}
	if got := Faults(evaluated(t, "window-panel"), 1); got != nil {
		t.Errorf("%+v", got)
	}
}

// Lifts: a light box is one for one person; a heavy one is parted from its glazing, and the parts weigh what the whole does. Taking
// down begins with a cold box, and a wall is closed where one was opened.
func TestStagesAndTakingDown(t *testing.T) {
	h, l, _ := built(t, "can-columns")
	s := Stages(&h, &l)
	if len(s) != 3 || s[0].People < 2 || math.Abs(s[0].Mass-s[1].Mass-s[2].Mass) > 1e-9 || s[2].Mass <= 0 {
		t.Errorf("%+v", s)
	}
	for route, closed := range map[string]bool{"wall": true, "window": false} {
		h, l, _ := built(t, "back-pass-plate", design.Set(design.AirRoute, route))
		text := ""
		for i, x := range TakeDown(&h, &l) {
			if s := x.In(units.System{}); i == 0 && !strings.Contains(s, "cool") || strings.Contains(s, "%!") {
				t.Errorf("%s: %q", route, s)
			} else {
				text += s
			}
		}
		if strings.Contains(text, "vapor retarder") != closed {
			t.Errorf("%s: %s", route, text)
		}
	}
}

package design

import (
	"strings"
	"testing"

	"gladember/core/airflow"
)

// Each rule of the horizon and of the fan's own curve refuses what breaks it, with the path of the row and a remedy that
// begins with a verb, and lets the good ones pass.
func TestCurvesAreChecked(t *testing.T) {
	good := func() Heater {
		h := New()
		h.Shade.Horizon = []Obstacle{{From: 90, To: 120, Elevation: 12}, {From: 200, To: 210, Elevation: 4, Bare: 0.6, Leafy: 0.2}}
		h.Air.FanTable = []airflow.FanPoint{{Flow: 0, Pressure: 60}, {Flow: 0.03, Pressure: 40}, {Flow: 0.06, Pressure: 0}}
		return h
	}
	fine := good()
	if ps := curves(&fine); len(ps) > 0 {
		t.Fatalf("a good horizon and a good fan have %v", ps)
	}
	for name, x := range map[string]struct {
		path  string
		spoil func(h *Heater)
	}{
		"azimuths the wrong way":   {"shade.horizon.0", func(h *Heater) { h.Shade.Horizon[0].To = 80 }},
		"azimuth past the circle":  {"shade.horizon.1", func(h *Heater) { h.Shade.Horizon[1].To = 361 }},
		"height under the horizon": {"shade.horizon.0.elevation_deg", func(h *Heater) { h.Shade.Horizon[0].Elevation = -1 }},
		"height over the zenith":   {"shade.horizon.0.elevation_deg", func(h *Heater) { h.Shade.Horizon[0].Elevation = 91 }},
		"more than all the sun":    {"shade.horizon.1", func(h *Heater) { h.Shade.Horizon[1].Bare = 1.1 }},
		"a thousand pieces":        {ShadeHorizon.Path, func(h *Heater) { h.Shade.Horizon = make([]Obstacle, 1000) }},
		"a hump in the curve":      {"air.fan_table.1", func(h *Heater) { h.Air.FanTable[1].Pressure = 70 }},
		"the same flow twice":      {"air.fan_table.2", func(h *Heater) { h.Air.FanTable[2].Flow = 0.03 }},
		"a storm of a fan":         {"air.fan_table.2", func(h *Heater) { h.Air.FanTable[2].Flow = 50 }},
		"pressure below nothing":   {"air.fan_table.2", func(h *Heater) { h.Air.FanTable[2].Pressure = -1 }},
		"a single point":           {AirFanTable.Path, func(h *Heater) { h.Air.FanTable = h.Air.FanTable[:1] }},
		"a hundred points":         {AirFanTable.Path, func(h *Heater) { h.Air.FanTable = make([]airflow.FanPoint, 100) }},
	} {
		h := good()
		x.spoil(&h)
		ps := curves(&h)
		if len(ps) == 0 || ps[0].Path != x.path {
			t.Errorf("%s: the problems are %v, wanted at %s", name, ps, x.path)
			continue
		}
		verb, _, _ := strings.Cut(ps[0].Remedy, " ")
		if verb != "enter" && verb != "use" && verb != "sort" {
			t.Errorf("%s: the remedy is %q", name, ps[0].Remedy)
		}
	}
}

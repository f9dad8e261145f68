package advice

import (
	"math"
	"strings"
	"testing"

	"gladember/core/collector"
	"gladember/core/design"
	"gladember/core/layout"
	"gladember/core/units"
)

// Any document that is read as a heater can be laid out or refused, computed
// or refused, and judged, without a panic and without a figure that is none.
func FuzzHeater(f *testing.F) {
	for _, name := range design.ExampleNames() {
		h, _ := design.Named(name)
		b, _ := design.Encode(h)
		f.Add(b)
	}
	f.Fuzz(func(t *testing.T, b []byte) {
		h, err := design.Decode(b)
		if err != nil {
			return
		}
		_, _ = layout.Build(&h)
		e, err := collector.Evaluate(&h, collector.ConditionsAt(&h, collector.WinterNoon(&h)), true)
		if err != nil {
			return
		}
		for _, v := range []float64{e.Running.Heat, e.Running.Outlet, e.Still.AbsorberMax, e.Heat.U} {
			if math.IsNaN(v) || math.IsInf(v, 0) {
				t.Fatalf("a figure is none: %+v", e.Running)
			}
		}
		for _, x := range Evaluate(&e) {
			for _, text := range []Text{x.Finding, x.Evidence, x.Remedy} {
				if s := text.In(units.System{}); strings.Contains(s, "NaN") || strings.Contains(s, "%!") {
					t.Fatalf("%s says %q", x.ID, s)
				}
			}
		}
	})
}

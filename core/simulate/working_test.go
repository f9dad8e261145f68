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
	h, err := design.Named("screen-box")
	if err != nil {
		t.Fatal(err)
	}
	for _, sky := range []Sky{Clear, Snowy} {
		d, err := Run(&h, collector.WinterNoon(&h, 2026), DesignDay(&h, sky))
		if err != nil {
			t.Fatal(err)
		}
		for key, w := range Workings(&d) {
			terms := map[string]float64{}
			for _, x := range w.Terms {
				terms[x.Symbol] = x.Value
			}
			got, err := formula.Value(w.Formula, terms)
			if err != nil || d.RunMinutes > 0 && math.Abs(got-w.Value) > 1e-9*math.Max(1, w.Value) {
				t.Errorf("%s, %s: %v from %s, shown is %v; %v", sky, key, got, w.Formula, w.Value, err)
			}
		}
	}
}

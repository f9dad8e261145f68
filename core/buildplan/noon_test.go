package buildplan

import (
	"math"
	"testing"

	"gladember/core/collector"
	"gladember/core/design"
)

// What is seen on a round is priced by a rerun: on no example does a fault bring heat beyond what the solver leaves open, and thin paint
// costs at least its share of the heat, since the losses stay, and less than twice of it while the box gives most of what it takes in.
func TestObservations(t *testing.T) {
	for _, name := range []string{"screen-box", "can-columns", "back-pass-plate", "downpipes"} {
		h, err := design.Named(name)
		if err != nil {
			t.Fatal(err)
		}
		e, err := collector.Evaluate(&h, collector.ConditionsAt(&h, collector.WinterNoon(&h)), true)
		if err != nil {
			t.Fatal(err)
		}
		seen := Observations(&e)
		if len(seen) != len(Faults(&e, 1)) {
			t.Errorf("%s: %d of %d faults are priced", name, len(seen), len(Faults(&e, 1)))
		}
		for _, o := range seen {
			heat := e.Running.Warms()
			if o.Costs < -0.002*heat || o.Costs > heat {
				t.Errorf("%s: %s costs %.1f of %.1f W", name, o.ID, o.Costs, heat)
			}
			if o.ID == "paint" && (o.Costs < thinPaint*heat || o.Costs > 2*thinPaint*heat) {
				t.Errorf("%s: paint that takes in %g less costs %.1f of %.1f W", name, thinPaint, o.Costs, heat)
			}
			if o.ID == "flap" && (!o.AtNight || math.Abs(o.Costs) > 0.002*heat) {
				t.Errorf("%s: a damper that stays open costs %.1f W at noon", name, o.Costs)
			}
		}
	}
}

package advice

import (
	"math"
	"testing"

	"gladember/core/collector"
	"gladember/core/design"
	"gladember/core/units"
)

// What a change of the air path is said to gain is the heat to the room with it less that without it, of a box
// rated anew by the changes themselves; the fan's bought power is taken off both.
func TestAirOptionsGainIsTheHeatToTheRoom(t *testing.T) {
	for _, name := range []string{"screen-box", "back-pass-plate"} {
		h, err := design.Named(name)
		if err != nil {
			t.Fatal(err)
		}
		e, err := collector.Evaluate(&h, collector.ConditionsAt(&h, collector.WinterNoon(&h)), true)
		if err != nil {
			t.Fatal(err)
		}
		options := AirOptions(&e)
		if len(options) == 0 {
			t.Fatalf("%s: nothing is offered", name)
		}
		for _, o := range options {
			n, err := design.Apply(h, units.System{}, o.Changes...)
			if err != nil {
				t.Fatal(err)
			}
			c := e.Running.Conditions
			c.Flow = 0
			r, err := collector.Rate(&n, c)
			if err != nil {
				t.Fatal(err)
			}
			if math.Abs(r.Warms()-o.Heat) > 0.01 || math.Abs(r.Warms()-r.Bought-(e.Running.Warms()-e.Running.Bought)-o.Gain) > 0.01 {
				t.Errorf("%s, %s: heat %v and gain %v, rated anew %v", name, o.Name.In(units.System{}), o.Heat, o.Gain, r.Warms())
			}
		}
	}
}

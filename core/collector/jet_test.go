package collector

import (
	"testing"

	"gladember/core/design"
)

// Without a deflector a jet from a narrow port leaves the lower screens unswept: less heat, hotter
// screens, and a wide band whose largest cause is the jet itself. A bar half-way sends air back there.
func TestDeflectorAndBaffle(t *testing.T) {
	h, _ := design.Named("screen-box")
	with, err := Evaluate(&h, bright(), false)
	if err != nil {
		t.Fatal(err)
	}
	bare := set(t, h, put(design.ScreensDeflector.Path, false))
	without, err := Evaluate(&bare, bright(), false)
	if err != nil {
		t.Fatal(err)
	}
	if without.Heat.Value > 0.97*with.Heat.Value || without.Running.Evenness >= with.Running.Evenness {
		t.Errorf("%v W without a deflector, %v with", without.Heat.Value, with.Heat.Value)
	}
	if c := without.Heat.Causes[0]; c.Path != design.ScreensDeflector.Path || without.Heat.U < 1.5*with.Heat.U {
		t.Errorf("the band of %v W comes first from %q, with a deflector %v", without.Heat.U, c.Name, with.Heat.U)
	}
	both := set(t, bare, put(design.ScreensBaffle.Path, 0.3))
	if x := rate(t, &both, bright()); x.Heat <= without.Running.Heat {
		t.Errorf("a bar leaves %v W of %v", x.Heat, without.Running.Heat)
	}
}

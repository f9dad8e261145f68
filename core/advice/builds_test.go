package advice

import (
	"testing"

	"gladember/core/design"
	"gladember/core/units"
)

// workshops are what builders have and buy: the glazing, the insulation, the fan, the thermostat and the body. Common practice, no source.
var workshops = []struct {
	name    string
	changes []design.Change
}{
	{"storm window, polyiso", []design.Change{design.Set(design.CoverMaterial, "glass"), design.Set(design.BoxFoam, "polyiso"),
		design.Set(design.BoxBackFoam, 0.025),
		design.Set(design.PaneWidth, 0.84), design.Set(design.PaneHeight, 1.45), design.Set(design.SwitchKind, "snap"),
		design.Set(design.SwitchClose, 43.0),
		design.Set(design.SwitchOpen, 32.0)}},
	{"salvaged double glazing, faced wool", []design.Change{design.Set(design.CoverLayers, 2), design.Set(design.PaneWidth, 0.86),
		design.Set(design.PaneHeight, 1.93),
		design.Set(design.SwitchKind, "snap"), design.Set(design.SwitchClose, 35.0), design.Set(design.SwitchOpen, 25.0)}},
	{"corrugated sheet, 4 by 8 ft, upright on a wall", []design.Change{
		design.Set(design.CoverMaterial, "corrugated-polycarbonate"), design.Set(design.BoxFoam, "polyiso"),
		design.Set(design.BoxBackFoam, 0.025), design.Set(design.PlaceTilt, 90.0), design.Set(design.PaneWidth, 1.2),
		design.Set(design.PaneHeight, 2.4)}},
	{"polycarbonate, wool, on its own panel", []design.Change{design.Set(design.CoverMaterial, "polycarbonate"),
		design.Set(design.PaneWidth, 0.9),
		design.Set(design.PaneHeight, 1.5), design.Set(design.AirDrive, "panel"), design.Set(design.AirPanel, 20.0)}},
	{"acrylic, wool, upright", []design.Change{design.Set(design.CoverMaterial, "acrylic"), design.Set(design.PlaceTilt, 90.0),
		design.Set(design.PaneWidth, 0.61),
		design.Set(design.PaneHeight, 1.22)}},
}

// Of fifty builds as people make them, ten families in five workshops, which stood for years, at most one in five shows a danger, and
// each danger says what it hurts.
func TestBuildsThatStand(t *testing.T) {
	if testing.Short() {
		t.Skip("fifty builds; others judge some of each family")
	}
	families := design.AbsorberFamily.Choices()
	builds, dangers := 0, 0
	for _, w := range workshops {
		for _, family := range families {
			h, err := design.Apply(design.New(), units.System{}, design.Set(design.AbsorberFamily, design.Family(family.ID)))
			if err != nil {
				t.Fatal(err)
			}
			if family.ID == string(design.OwnAbsorber) {
				continue // measured on what somebody has
			}
			for _, c := range w.changes {
				if f := design.FieldAt(c.Path); !f.Applies(&h) {
					continue
				}
				if h, err = design.Apply(h, units.System{}, c); err != nil {
					t.Fatalf("%s, %s: %v", w.name, family.ID, err)
				}
			}
			builds++
			shown := false
			for _, f := range Evaluate(noonOf(t, &h)) {
				if f.Severity != Danger {
					continue
				}
				shown = true
				t.Logf("%s, %s: %s: %s", w.name, family.ID, f.Title, f.Finding.In(units.System{}))
				if f.Finding.In(units.System{}) == "" || f.Evidence.In(units.System{}) == "" {
					t.Errorf("%s, %s: %s does not say what it hurts", w.name, family.ID, f.Title)
				}
			}
			if shown {
				dangers++
			}
		}
	}
	t.Logf("%d of %d builds show a danger", dangers, builds)
	if builds < 50 || dangers*5 > builds {
		t.Errorf("%d of %d builds show a danger", dangers, builds)
	}
}

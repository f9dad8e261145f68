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
	{"storm window, polyiso", []design.Change{set("cover.material", "glass"), set("box.foam", "polyiso"), set("box.back_foam_m", 0.025),
		set("pane.width_m", 0.84), set("pane.height_m", 1.45), set("switch.kind", "snap"), set("switch.close_c", 43.0),
		set("switch.open_c", 32.0)}},
	{"salvaged double glazing, faced wool", []design.Change{set("cover.layers", 2), set("pane.width_m", 0.86), set("pane.height_m", 1.93),
		set("switch.kind", "snap"), set("switch.close_c", 35.0), set("switch.open_c", 25.0)}},
	{"corrugated sheet, 4 by 8 ft, upright on a wall", []design.Change{
		set("cover.material", "corrugated-polycarbonate"), set("box.foam", "polyiso"),
		set("box.back_foam_m", 0.025), set("place.tilt_deg", 90.0), set("pane.width_m", 1.2), set("pane.height_m", 2.4)}},
	{"polycarbonate, wool, on its own panel", []design.Change{set("cover.material", "polycarbonate"), set("pane.width_m", 0.9),
		set("pane.height_m", 1.5), set("air.drive", "panel"), set("air.panel_w", 20.0)}},
	{"acrylic, wool, upright", []design.Change{set("cover.material", "acrylic"), set("place.tilt_deg", 90.0), set("pane.width_m", 0.61),
		set("pane.height_m", 1.22)}},
}

// Of fifty builds as people make them, ten families in five workshops, which stood for years, at most one in five shows a danger, and
// each danger says what it hurts.
func TestBuildsThatStand(t *testing.T) {
	families := design.FieldAt("absorber.family").Choices()
	builds, dangers := 0, 0
	for _, w := range workshops {
		for _, family := range families {
			h, err := design.Apply(design.New(), units.System{}, set("absorber.family", family.ID))
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

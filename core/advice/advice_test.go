package advice

import (
	"strings"
	"testing"
	"time"

	"gladember/core/collector"
	"gladember/core/design"
	"gladember/core/units"
)

func judged(t *testing.T, changes ...design.Change) (collector.Evaluation, map[string]Finding) {
	t.Helper()
	h, err := design.Apply(design.New(), units.System{}, changes...)
	if err != nil {
		t.Fatal(err)
	}
	e, err := collector.Evaluate(&h, collector.ConditionsAt(&h, collector.WinterNoon(&h, 2026)), true)
	if err != nil {
		t.Fatal(err)
	}
	m := map[string]Finding{}
	for _, f := range Of(&e) {
		m[f.ID] = f
	}
	return e, m
}

func set(path string, v any) design.Change { return design.Change{Path: path, Value: v} }

// Each judgement fires on one box and stays silent on another; its remedy,
// applied, silences it, and its gain is what applying it really gives.
func TestFindingsFireAndMend(t *testing.T) {
	for _, c := range []struct {
		id            string
		fires, silent []design.Change
	}{
		{"too-hot-xps", []design.Change{set("box.foam", "xps")}, nil},
		{"too-hot-acrylic", []design.Change{set("cover.material", "acrylic"), set("cover.layers", 2), set("box.foam", "mineral-wool")}, []design.Change{set("cover.material", "acrylic")}},
		{"too-hot-glassfibre-screen", []design.Change{set("absorber.screens.mesh", "glassfibre-screen")}, nil},
		{"switch-never", []design.Change{set("switch.close_c", 90.0), set("place.outdoor_c", -20.0), set("place.wind_m_s", 6.0), set("cover.dirt", 0.3)}, nil},
		{"switch-stutters", []design.Change{set("switch.close_c", 50.0), set("switch.open_c", 45.0)}, nil},
		{"more-air", []design.Change{set("air.fan", "computer-120"), set("air.diameter_m", 0.075)}, []design.Change{set("air.diameter_m", 0.2), set("air.fan", "inline-6")}},
		{"fan-rating", []design.Change{set("air.fan", "computer-120"), set("air.diameter_m", 0.075)}, []design.Change{set("air.diameter_m", 0.2), set("air.to_box_m", 0.2), set("air.from_box_m", 0.2), set("air.bends", 0), set("air.flap", "none"), set("air.grilles", 0), set("absorber.screens.lift_m", 0.1)}},
		{"near-glass", []design.Change{set("box.gap_m", 0.012)}, nil},
	} {
		if _, found := judged(t, c.silent...); found[c.id].ID != "" {
			t.Errorf("%s fires where it should not: %s", c.id, found[c.id].Finding.In(units.System{}))
		}
		e, found := judged(t, c.fires...)
		f, ok := found[c.id]
		if !ok {
			t.Errorf("%s stays silent; there are %v; noon %+v", c.id, found, e.Peaks)
			continue
		}
		for _, text := range []Text{f.Finding, f.Evidence, f.Remedy} {
			for _, sys := range []units.System{{}, {Inches: true, Fahrenheit: true}} {
				if s := text.In(sys); strings.Contains(s, "%!") || s == "" {
					t.Errorf("%s says %q", c.id, s)
				}
			}
		}
		if f.Patch == nil {
			continue
		}
		mended, err := design.Apply(e.Heater, units.System{}, f.Patch...)
		if err != nil {
			t.Errorf("%s: its remedy is refused: %v", c.id, err)
			continue
		}
		after, err := collector.Evaluate(&mended, e.Running.Conditions, true)
		if err != nil {
			t.Fatal(err)
		}
		for _, g := range Of(&after) {
			if g.ID == c.id && g.Severity <= f.Severity && c.id != "more-air" {
				t.Errorf("%s still fires with its remedy applied: %s", c.id, g.Finding.In(units.System{}))
			}
		}
		if f.HasGain && c.id != "switch-never" {
			if got := after.Running.Heat - e.Running.Heat; got-f.Gain > 0.01 || f.Gain-got > 0.01 {
				t.Errorf("%s claims %v W, the rerun gives %v", c.id, f.Gain, got)
			}
		}
	}
}

// Findings come worst first.
func TestWorstFirst(t *testing.T) {
	h, err := design.Apply(design.New(), units.System{}, set("box.foam", "xps"), set("box.gap_m", 0.012), set("air.diameter_m", 0.075), set("air.fan", "computer-120"))
	if err != nil {
		t.Fatal(err)
	}
	at := collector.WinterNoon(&h, 2026)
	if at.Month() != time.January {
		t.Fatalf("the northern winter noon is in %v", at.Month())
	}
	e, _ := collector.Evaluate(&h, collector.ConditionsAt(&h, at), true)
	fs := Of(&e)
	if len(fs) < 3 || fs[0].Severity != Danger {
		t.Fatalf("findings: %+v", fs)
	}
	for i := 1; i < len(fs); i++ {
		if fs[i].Severity < fs[i-1].Severity {
			t.Errorf("%s after %s", fs[i].ID, fs[i-1].ID)
		}
	}
	for _, station := range []string{"place", "box", "cut"} {
		for _, c := range Cautions(&e, station) {
			if c.Part == "" || strings.Contains(c.Text.In(units.System{}), "%!") {
				t.Errorf("caution %+v", c)
			}
		}
	}
}

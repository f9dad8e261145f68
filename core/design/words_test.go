package design

import (
	"errors"
	"strings"
	"testing"

	"gladember/core/units"
)

// A word may be typed for the value that it names, in any case and by its first three letters, and each value that has one shows it.
func TestWordsOfValues(t *testing.T) {
	for _, x := range []struct {
		path, typed string
		want        float64
	}{
		{"room.setback_c", "off", -40}, {"room.setback_c", " OFF ", -40}, {"room.setback_c", "-40", -40}, {"room.setback_c", "12", 12},
		{"place.snow_from_month", "nov", 11}, {"place.snow_from_month", "11", 11}, {"place.snow_from_month", "No snow", 0},
		{"cover.covered_from_month", "may", 5}, {"shade.eave_depth_m", "none", 0}, {"room.loss_w_k", "not", 0},
	} {
		h, err := Apply(New(), units.System{}, Change{Path: x.path, Typed: x.typed})
		if err != nil || Number(&h, x.path) != x.want {
			t.Errorf("%s %q: %v, %v", x.path, x.typed, Number(&h, x.path), err)
		}
	}
	for _, typed := range []string{"o", "of", "n", "offf", "now"} {
		_, err := Apply(New(), units.System{}, Change{Path: "room.setback_c", Typed: typed})
		var ue *units.Error
		if !errors.As(err, &ue) || ue.Half != strings.HasPrefix("off", typed) {
			t.Errorf("%q: %v", typed, err)
		}
	}
	for _, f := range Fields {
		for _, w := range f.Words {
			h := New()
			if !f.Applies(&h) || w.Value < f.Min || w.Value > f.Max {
				if w.Value < f.Min || w.Value > f.Max {
					t.Errorf("%s: %q is no value that is allowed", f.Path, w.Text)
				}
				continue
			}
			h, err := Apply(h, units.System{}, Change{Path: f.Path, Typed: w.Text})
			if err != nil || f.InWords(&h, units.System{Inches: true}) != w.Text {
				t.Errorf("%s: %q reads back as %q, %v", f.Path, w.Text, f.InWords(&h, units.System{Inches: true}), err)
			}
		}
	}
	h := New()
	for path, want := range map[string]string{"place.tilt_deg": "65°", "cover.layers": "1", "room.heater": "electric heater",
		"room.from_h": "7:00", "box.seam_m3_s_m": "43 L/h"} {
		if x := FieldAt(path); x != nil && x.InWords(&h, units.System{Inches: true}) != want {
			t.Errorf("%s: %q", path, x.InWords(&h, units.System{Inches: true}))
		}
	}
	_, err := Apply(New(), units.System{}, Change{Path: "room.setback_c", Typed: "60"})
	var p *Problem
	if !errors.As(err, &p) || !strings.Contains(p.Remedy, "-40 °C to 30 °C, or off") {
		t.Errorf("%v", err)
	}
}

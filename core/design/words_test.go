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
		{RoomSetback.Path, "off", -40}, {RoomSetback.Path, " OFF ", -40}, {RoomSetback.Path, "-40", -40}, {RoomSetback.Path, "12", 12},
		{PlaceSnowFrom.Path, "nov", 11}, {PlaceSnowFrom.Path, "11", 11}, {PlaceSnowFrom.Path, "No snow", 0},
		{CoverCoveredFrom.Path, "may", 5}, {ShadeEaveDepth.Path, "none", 0}, {RoomLoss.Path, "not", 0},
	} {
		h, err := Apply(New(), units.System{}, Change{Path: x.path, Typed: x.typed})
		if err != nil || FieldAt(x.path).Number(&h) != x.want {
			t.Errorf("%s %q: %v, %v", x.path, x.typed, FieldAt(x.path).Number(&h), err)
		}
	}
	for _, typed := range []string{"o", "of", "n", "offf", "now"} {
		_, err := Apply(New(), units.System{}, Enter(RoomSetback, typed))
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
	for path, want := range map[string]string{PlaceTilt.Path: "65°", CoverLayers.Path: "1", RoomHeater.Path: "electric heater",
		RoomFrom.Path: "7:00", BoxSeam.Path: "43 L/h"} {
		if x := FieldAt(path); x != nil && x.InWords(&h, units.System{Inches: true}) != want {
			t.Errorf("%s: %q", path, x.InWords(&h, units.System{Inches: true}))
		}
	}
	_, err := Apply(New(), units.System{}, Enter(RoomSetback, "60"))
	var p *Problem
	if !errors.As(err, &p) || !strings.Contains(p.Remedy, "-40 °C to 30 °C, or off") {
		t.Errorf("%v", err)
	}
}

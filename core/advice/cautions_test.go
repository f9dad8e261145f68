package advice

import (
	"strings"
	"testing"

	"gladember/core/collector"
	"gladember/core/design"
	"gladember/core/layout"
	"gladember/core/units"
)

// safetyOf is all cautions of an example after changes, by the part that calls for them.
func safetyOf(t *testing.T, name string, cs ...design.Change) (map[string]string, []Caution) {
	t.Helper()
	h, err := design.Named(name)
	if err != nil {
		t.Fatal(err)
	}
	if h, err = design.Apply(h, units.System{}, cs...); err != nil {
		t.Fatal(err)
	}
	e, err := collector.Evaluate(&h, collector.ConditionsAt(&h, collector.WinterNoon(&h)), true)
	if err != nil {
		t.Fatal(err)
	}
	out := map[string]string{}
	var all []Caution
	for _, g := range Safety(&e) {
		for _, c := range g.Cautions {
			out[c.Part] += c.Text.In(units.System{}) + " "
			all = append(all, c)
		}
	}
	return out, all
}

// Every example has the cautions of saw, heat, paint, frost protection and, outdoors, of permit, anchorage and water; each says
// something, and the parts that it names are parts of some heater.
func TestNoExampleLacksItsCautions(t *testing.T) {
	names := map[string]bool{}
	for _, name := range design.ExampleNames() {
		h, _ := design.Named(name)
		if l, err := layout.Build(&h); err == nil {
			for _, p := range l.Cut() {
				names[p.Name] = true
			}
		}
	}
	for _, name := range design.ExampleNames() {
		h, _ := design.Named(name)
		got, all := safetyOf(t, name)
		want := []string{"saw and drill", "the absorber", "the paint", "the heater", "paint and glue"}
		if !h.Indoors() {
			want = append(want, "the wall", "the box outdoors", "water")
		}
		if h.Fanned() && !h.Indoors() {
			want = append(want, "the fan's wires")
		}
		for _, part := range want {
			if got[part] == "" {
				t.Errorf("%s: no caution of %s", name, part)
			}
		}
		for _, c := range all {
			if s := c.Text.In(units.System{}); s == "" || strings.Contains(s, "%!") {
				t.Errorf("%s: %q", name, s)
			}
		}
	}
}

// The page changes with what is asked: glass up high, a mains fan, the kind of insulation, a flued burner, a roof, children, a rented
// building, old paint.
func TestSafetyFollowsTheSite(t *testing.T) {
	for _, x := range []struct {
		part, with, without string // what is said with the changes, and not without
		changes             []design.Change
	}{
		{"the glass up high", "tempered", "", []design.Change{design.Set(design.PlaceAboveGround, 4.0)}},
		{"the fan's wires", "electrician", "fuse", []design.Change{design.Set(design.AirFan, "ec-inline-4")}},
		{"the foam", "toxic smoke", "", []design.Change{design.Set(design.BoxFoam, "xps")}},
		{"burners in the room", "flue with the fan on", "If a burner", []design.Change{design.Set(design.RoomFlued, true)}},
		{"the roof", "harness", "", []design.Change{design.Set(design.PlaceTilt, 40.0)}},
		{"hot surfaces", "guard before it", "out of children's reach", []design.Change{design.Set(design.SiteChildren, true)}},
		{"the wall", "in writing", "landlord", []design.Change{design.Set(design.SiteRented, true)}},
		{"old paint and board", "asbestos", "", []design.Change{design.Set(design.SiteOldPaint, true)}},
	} {
		base := []design.Change{design.Set(design.AirFan, "computer-120"), design.Set(design.PlaceAboveGround, 0.5),
			design.Set(design.PlaceTilt, 80.0),
			design.Set(design.BoxFoam, "mineral-wool"), design.Set(design.AirRoute, "wall")}
		before, _ := safetyOf(t, "back-pass-plate", base...)
		after, _ := safetyOf(t, "back-pass-plate", append(base, x.changes...)...)
		if !strings.Contains(after[x.part], x.with) || strings.Contains(before[x.part], x.with) {
			t.Errorf("%s: before %q, after %q", x.part, before[x.part], after[x.part])
		}
		if x.without != "" && (!strings.Contains(before[x.part], x.without) || strings.Contains(after[x.part], x.without)) {
			t.Errorf("%s: %q is in %q", x.part, x.without, after[x.part])
		}
	}
}

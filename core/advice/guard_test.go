package advice

import (
	"slices"
	"testing"

	"gladember/core/collector"
	"gladember/core/design"
	"gladember/core/units"
)

// A box whose foam gets too hot is offered better foam, and beside it a vent and, where the warm
// months are the worst, a summer cover; each keeps every material below its limit. The vent is no
// wider than it must be: half of it leaves the danger.
func TestGuardsBesideBetterMaterial(t *testing.T) {
	e, found := judged(t, design.Set(design.BoxFoam, "polyiso"), design.Set(design.PlaceTilt, 60.0))
	f := found["too-hot-polyiso"]
	if f.Patch == nil || f.Patch[0].Path != design.BoxFoam.Path {
		t.Fatalf("no better foam: %+v", f)
	}
	i := slices.IndexFunc(f.Or, func(a Alternative) bool { return a.ID == "guard-vent" })
	if i < 0 {
		t.Fatalf("no vent beside it: %+v", f.Or)
	}
	dangers := func(changes ...design.Change) (ids []string) {
		h, err := design.Apply(e.Heater, units.System{}, changes...)
		if err != nil {
			t.Fatal(err)
		}
		for id := range newBox(noonOf(t, &h)).wrong {
			ids = append(ids, id)
		}
		return ids
	}
	for _, a := range f.Or {
		if left := dangers(a.Patch...); len(left) > 0 {
			t.Errorf("%s leaves %v", a.ID, left)
		}
	}
	half := slices.Clone(f.Or[i].Patch)
	last := len(half) - 1
	half[last].Value = half[last].Value.(float64) / 2
	if left := dangers(half...); len(left) == 0 {
		t.Errorf("half of %v m2 is enough too", f.Or[i].Patch[last].Value)
	}
}

// Where no material of the list holds, the guard is the remedy itself.
func TestGuardWhereNothingHolds(t *testing.T) {
	n := 0
	for _, x := range [][]design.Change{
		{design.Set(design.CoverMaterial, "acrylic"), design.Set(design.CoverLayers, 2)},
		{design.Set(design.BoxFoam, "eps"), design.Set(design.BoxAdhesive, "screws")},
		{design.Set(design.AbsorberFamily, "back-pass-plate"), design.Set(design.CoverLayers, 2), design.Set(design.BoxFoam, "xps")},
	} {
		_, found := judged(t, x...)
		for id, f := range found {
			if ofHeat(id) && f.Severity == Danger {
				n++
				if f.Patch == nil {
					t.Errorf("%v: %s has no remedy", x, id)
				}
			}
		}
	}
	if n < 3 {
		t.Errorf("only %d dangers", n)
	}
}

// A guard that moves while the fan runs is a fault, and its remedy lets the box run.
func TestGuardMovesEarly(t *testing.T) {
	e, found := judged(t, design.Set(design.GuardKind, "vent"), design.Set(design.GuardOpens, 40.0),
		design.Set(design.AirFan, "computer-92"))
	f, ok := found["guard-early"]
	if !ok || f.Patch == nil {
		t.Fatalf("outlet %v: %+v", e.Running.Outlet, f)
	}
	h, err := design.Apply(e.Heater, units.System{}, f.Patch...)
	if err != nil {
		t.Fatal(err)
	}
	if h.Guard.Opens < e.Running.Outlet+over {
		t.Errorf("it begins at %v with %v at the outlet", h.Guard.Opens, e.Running.Outlet)
	}
	var still *collector.Evaluation = noonOf(t, &h)
	if newBox(still).wrong["guard-early"] {
		t.Error("the fault stays")
	}
}

// A box with a vent says how hot the air is that leaves it.
func TestVentIsCautioned(t *testing.T) {
	e, _ := judged(t, design.Set(design.GuardKind, "vent"))
	for _, c := range Cautions(&e, Construction) {
		if c.Part == "the top vent" && c.Text.Values[0].SI == e.Noon.Outlet && e.Noon.Outlet > e.Heater.Guard.Opens {
			return
		}
	}
	t.Errorf("no caution for a vent that gives air of %v C", e.Noon.Outlet)
}

// A cover counts on the months it is on: no finding rests on a noon of a covered month, and where the box overheats outside
// them the remedy is to leave it on for longer, not a second cover.
func TestCoverCountsWhileItIsOn(t *testing.T) {
	vinyl := []design.Change{design.Set(design.CoverMaterial, "clear-vinyl"), design.Set(design.PlaceTilt, 45.0)}
	e, found := judged(t, vinyl...)
	if found["too-hot-clear-vinyl"].Severity != Danger || e.NoonMonth == 0 {
		t.Fatal("the vinyl does not sag in any month")
	}
	longer := 0
	for from := 1; from <= 12; from += 3 {
		for _, months := range []int{0, 2, 5} {
			to := (from+months-1)%12 + 1
			x, found := judged(t, append(slices.Clone(vinyl), design.Set(design.CoverCoveredFrom, from),
				design.Set(design.CoverCoveredTo, to))...)
			c := x.Heater.Cover
			if x.NoonMonth != 0 && c.Covered(int(x.NoonMonth)) {
				t.Errorf("covered from %d to %d, judged by the noon of month %d", from, to, x.NoonMonth)
			}
			for _, a := range found["too-hot-clear-vinyl"].Or {
				if a.ID != "guard-cover" {
					continue
				}
				longer++
				h, err := design.Apply(x.Heater, units.System{}, a.Patch...)
				if err != nil {
					t.Fatal(err)
				}
				for m := 1; m <= 12; m++ {
					if c.Covered(m) && !h.Cover.Covered(m) {
						t.Errorf("a cover from %d to %d is taken off in month %d by %v", from, to, m, a.Patch)
					}
				}
			}
		}
	}
	if longer == 0 {
		t.Error("no cover is left on for longer")
	}
}

// What is offered against a material that may get too hot takes that doubt away: a cover in July alone is none where August
// is hardly cooler.
func TestGuardOfACautionCuresIt(t *testing.T) {
	for _, x := range [][]design.Change{
		{design.Set(design.CoverMaterial, "acrylic"), design.Set(design.PlaceTilt, 15.0)},
		{design.Set(design.CoverMaterial, "twin-wall"), design.Set(design.PlaceTilt, 45.0)},
		{design.Set(design.CoverMaterial, "acrylic"), design.Set(design.PlaceTilt, 60.0)},
	} {
		e, found := judged(t, x...)
		for id, f := range found {
			if !ofHeat(id) || f.Severity != Warning {
				continue
			}
			for _, a := range f.Or {
				y, err := newBox(&e).changed(a.Patch...)
				if err != nil {
					t.Fatal(err)
				}
				for _, left := range y.found(Warning) {
					if ofHeat(left.ID) {
						t.Errorf("%v: with %v the box still has %s", x, a.Patch, left.ID)
					}
				}
			}
		}
	}
}

package advice

import (
	"context"
	"testing"

	"gladember/core/climate"
	"gladember/core/design"
	"gladember/core/season"
	"gladember/core/units"
)

// Each side's year is what the heater made so gives; a side that is the heater itself has the heater's
// own year; what cannot be told apart is called a tie, and what plainly can is not.
func TestDebatesOfTheYear(t *testing.T) {
	if testing.Short() {
		t.Skip("forty years; the others run them")
	}
	h, err := design.Apply(design.New(), units.System{}, append(plate, design.Set(design.PlaceLatitude, 48.0),
		design.Set(design.PlaceLongitude, 11.0))...)
	if err != nil {
		t.Fatal(err)
	}
	y, err := climate.Build(&h)
	if err != nil {
		t.Fatal(err)
	}
	laid := &season.Laid{Year: y}
	own, err := laid.Run(&h)
	if err != nil {
		t.Fatal(err)
	}
	cs, err := YearChoices(context.Background(), noonOf(t, &h), laid)
	if err != nil {
		t.Fatal(err)
	}
	by := map[string]map[string]Side{}
	for _, c := range cs {
		by[c.ID] = map[string]Side{}
		best := false
		for _, s := range c.Sides {
			by[c.ID][s.Name] = s
			best = best || s.YearTie || s.Patch == nil
			same := s.Patch != nil
			for _, x := range s.Patch {
				same = same && design.FieldAt(x.Path).Get(&h) == x.Value
			}
			if same && s.Useful != own.Year.Net() {
				t.Errorf("%s, %s is the box itself: %v kWh, not %v", c.ID, s.Name, s.Useful, own.Year.Net())
			}
			t.Logf("%-10s %-26s %6.0f W %6.1f kWh, saved %5.1f, tie %v, in the year %v", c.ID, s.Name, s.Heat, s.Useful, s.Money, s.Tie,
				s.YearTie)
		}
		if !best {
			t.Errorf("%s: the best side is no tie with itself", c.ID)
		}
	}
	for _, id := range []string{"family", "insulation", "tilt", "stones", "switch", "storage", "covers", "source"} {
		if len(by[id]) < 2 {
			t.Errorf("%s is not put to the box", id)
		}
	}
	if s := by["source"]; s["outdoor air"].YearTie || s["outdoor air"].Useful >= s["room air"].Useful {
		t.Errorf("room air and outdoor air: %+v", s)
	}
	// Foam that softens behind a dry box is not offered without a word; mineral wool is.
	if s := by["insulation"]; !s["extruded polystyrene"].Harms || !s["polyiso"].Harms || s["mineral wool"].Harms {
		t.Errorf("insulation: %+v", s)
	}
	if s := by["paint"]; !s["engine enamel"].YearTie || !s["grill paint"].YearTie {
		t.Errorf("two black paints can be told apart: %+v", s)
	}
	// Covered in the warm months it gives no more, and loses little that is of use.
	if s := by["storage"]; s["covered in the warm months"].Useful > s["uncovered all year"].Useful+leastYear {
		t.Errorf("covering adds heat: %+v", s)
	}
}

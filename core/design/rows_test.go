package design

import (
	"encoding/json"
	"math"
	"reflect"
	"strings"
	"testing"

	"gladember/core/units"
)

// What stands on the horizon is written in degrees, fists or by height and distance;
// the tangent is by hand: a 9 m tree 40 m off, the glass at 2 m, rises atan(7/40).
func TestHorizonAsPeopleWriteIt(t *testing.T) {
	h, err := Apply(New(), units.System{}, Enter(ShadeHorizon,
		"120 to 150: 12, tree\n\n150-165° 1 1/2 fists\n 200 – 230: 9 m at 40 m; evergreen "))
	if err != nil {
		t.Fatal(err)
	}
	want := []Obstacle{{120, 150, 12, 0.5, 0.15}, {150, 165, 15, 0, 0}, {200, 230, math.Atan(7.0/40) * 180 / math.Pi, 0.1, 0.1}}
	for i, o := range h.Shade.Horizon {
		if math.Abs(o.Elevation-want[i].Elevation) > 1e-9 || o.From != want[i].From || o.To != want[i].To || o.Bare != want[i].Bare ||
			o.Leafy != want[i].Leafy {
			t.Errorf("piece %d: %+v, wanted %+v", i, o, want[i])
		}
	}
	if len(h.Shade.Horizon) != 3 {
		t.Errorf("%d pieces", len(h.Shade.Horizon))
	}
	feet, err := Apply(New(), inches, Enter(ShadeHorizon, "120 to 150: 29.528 ft at 131.234 ft"))
	if err != nil || math.Abs(feet.Shade.Horizon[0].Elevation-want[2].Elevation) > 0.01 {
		t.Errorf("in feet: %+v, %v", feet.Shade.Horizon, err)
	}
	for _, bad := range []string{"somewhere", "120 to 400: 10", "120 to 150: 91", "120 to 150: 10, cloud", "120 to 150: 8 m at 0 m",
		"10 to 20: ten"} {
		_, err := Apply(h, units.System{}, Enter(ShadeHorizon, "100 to 110: 5\n"+bad))
		if err == nil || !strings.Contains(err.Error(), "line 2") || !strings.Contains(err.Error(), ";") {
			t.Errorf("%q: %v", bad, err)
		}
	}
	if h, err = Apply(h, units.System{}, Enter(ShadeHorizon, "")); err != nil || len(h.Shade.Horizon) != 0 {
		t.Errorf("an emptied horizon: %+v, %v", h.Shade.Horizon, err)
	}
}

// Almanacs as they are pasted: names or none, tabs or commas, sums or means.
func TestMonthsAsTheyArePasted(t *testing.T) {
	row := func(f func(i int) string) string {
		var b strings.Builder
		for i := range 12 {
			b.WriteString(f(i) + "\n")
		}
		return b.String()
	}
	for _, x := range []struct {
		name, text string
		sys        units.System
		check      func(m ClimateMonth) bool
	}{
		{"a mean", row(func(i int) string { return "4.5" }),
			units.System{}, func(m ClimateMonth) bool { return *m.Mean == 4.5 && m.Min == nil }},
		{"least and greatest in F", row(func(i int) string { return "32, 50" }),
			inches, func(m ClimateMonth) bool { return math.Abs(*m.Min) < 1e-9 && math.Abs(*m.Max-10) < 1e-9 }},
		{"names, tabs, months", "Month\tMin\tMax\tSunshine hours\n" + row(func(i int) string {
			return []string{"Jan", "Feb", "Mar", "Apr", "May", "Jun", "Jul", "Aug", "Sep", "Oct", "Nov", "Dec"}[i] + "\t-2\t6\t62"
		}), units.System{}, func(m ClimateMonth) bool { return *m.Max == 6 && *m.Sunshine >= 2 && *m.Sunshine < 2.3 }},
		{"decimal commas", "mean; wind\n" + row(func(i int) string { return "4,5; 3,2" }), units.System{DecimalComma: true},
			func(m ClimateMonth) bool { return *m.Mean == 4.5 && *m.Wind == 3.2 }},
		{"kWh", "mean | radiation kWh/m2\n" + row(func(i int) string { return "4 | 2.5" }), units.System{},
			func(m ClimateMonth) bool { return *m.Radiation == 9 }},
	} {
		h, err := Apply(New(), x.sys, Enter(ClimateMonths, x.text))
		if err != nil {
			t.Errorf("%s: %v", x.name, err)
			continue
		}
		for _, m := range h.Climate.Months {
			if !x.check(m) {
				t.Errorf("%s: %+v", x.name, m)
				break
			}
		}
		again, err := Apply(New(), x.sys, Enter(ClimateMonths, ClimateMonths.Rows.Write(&h, x.sys)))
		if err != nil {
			t.Errorf("%s, written: %v", x.name, err)
			continue
		}
		for i := range again.Climate.Months {
			a, b := again.Climate.Months[i], h.Climate.Months[i]
			if a.Mean != nil && math.Abs(*a.Mean-*b.Mean) > 0.005 || a.Sunshine != nil && math.Abs(*a.Sunshine-*b.Sunshine) > 0.005 {
				t.Errorf("%s: %+v came back as %+v", x.name, b, a)
			}
		}
	}
	for _, bad := range []string{"1\n2\n3", "1 2 3 4 5 6", "soup\n1", "mean\nFeb 3", row(func(int) string { return "5 -5" })} {
		if _, err := Apply(New(), units.System{}, Enter(ClimateMonths, bad)); err == nil {
			t.Errorf("%q was taken", bad)
		}
	}
}

func TestBillsAndFanCurves(t *testing.T) {
	h, err := Apply(New(), units.System{}, Enter(RoomBills, "January 142\nmar: 90\n12 130"),
		Enter(AirFanTable, "0 m3/h 60 Pa\n100 m3/h, 40 Pa\n180 m3/h\t0 Pa"))
	if err != nil {
		t.Fatal(err)
	}
	if !reflect.DeepEqual(h.Room.Bills, []Bill{{Month: 1, Units: 142}, {Month: 3, Units: 90}, {Month: 12, Units: 130}}) {
		t.Errorf("bills %+v", h.Room.Bills)
	}
	if n := len(h.Air.FanTable); n != 3 || math.Abs(h.Air.FanTable[1].Flow-100.0/3600) > 1e-12 || h.Air.FanTable[1].Pressure != 40 {
		t.Errorf("the fan's curve: %+v", h.Air.FanTable)
	}
	for _, x := range []Change{Enter(RoomBills, "January 142\nJanuary 90"), Enter(RoomBills, "Octember 3"),
		Enter(AirFanTable, "100 m3/h"), Enter(AirFanTable, "a lot 3 Pa")} {
		if _, err := Apply(New(), units.System{}, x); err == nil {
			t.Errorf("%s: %q was taken", x.Path, x.Typed)
		}
	}
	if h, err = Apply(h, units.System{}, Enter(AirFan, "bath-50")); err == nil && h.Air.FanTable != nil {
		t.Error("another fan keeps this one's curve")
	}
}

// Whatever is pasted into a table is taken as a table or refused with a remedy.
func FuzzRows(f *testing.F) {
	for _, s := range []string{"120 to 150: 12, tree", "mean\tsunshine\n-2.1\t2.3", "January 142", "120 m3/h 25 Pa", "1;2;3|4",
		"\t\t,,\n", "0-360 9 fists"} {
		f.Add(s, false)
	}
	f.Fuzz(func(t *testing.T, text string, metric bool) {
		sys := units.System{Inches: !metric, Fahrenheit: !metric, DecimalComma: metric}
		for _, path := range []string{ShadeHorizon.Path, ClimateMonths.Path, RoomBills.Path, AirFanTable.Path} {
			h, err := Apply(New(), sys, Change{Path: path, Typed: text})
			if err != nil {
				continue
			}
			if ps := Validate(&h); len(ps) > 0 {
				t.Fatalf("%s: %q stands and is %v", path, text, ps[0])
			}
			if _, err := Apply(New(), sys, Change{Path: path, Typed: FieldAt(path).Rows.Write(&h, sys)}); err != nil &&
				len(h.Shade.Horizon)+len(h.Climate.Months)+len(h.Room.Bills) > 0 && path != AirFanTable.Path {
				t.Fatalf("%s: what it writes for %q is refused: %v", path, text, err)
			}
		}
	})
}

// A document that was written before some keys came takes ours for them, and gives the same
// box; what lies before the box is never more than there is.
func TestKeysThatCameLater(t *testing.T) {
	h, err := Apply(New(), units.System{}, Set(AirBends, 3))
	if err != nil {
		t.Fatal(err)
	}
	b, err := Encode(h)
	if err != nil {
		t.Fatal(err)
	}
	var doc map[string]any
	if err := json.Unmarshal(b, &doc); err != nil {
		t.Fatal(err)
	}
	doc["schema"] = 3
	air := doc["air"].(map[string]any)
	delete(air, "bends_before")
	delete(air, "grilles_before")
	delete(doc, "wall")
	old, err := json.Marshal(doc)
	if err != nil {
		t.Fatal(err)
	}
	again, err := Decode(old)
	if err != nil || again.Air.BendsIn != 1.5 || again.Air.GrillesIn != h.Air.GrillesIn {
		t.Errorf("%v bends before, %v", again.Air.BendsIn, err)
	}
	if _, err := Apply(h, units.System{}, Set(AirBendsBefore, 4.0)); err == nil {
		t.Error("four of three bends lie before the box")
	}
	three, err := Apply(h, units.System{}, Set(AirBendsBefore, 3.0))
	if err != nil {
		t.Fatal(err)
	}
	one, err := Apply(three, units.System{}, Set(AirBends, 1))
	if err != nil || one.Air.BendsIn > 1 {
		t.Errorf("%v of one bend, %v", one.Air.BendsIn, err)
	}
}

// Boxes that differ are read as they are written, in either system of units; wrong lines and rows of
// them that cannot be are refused in words.
func TestBoxesThatDiffer(t *testing.T) {
	h, err := Named("unlike-boxes")
	if err != nil {
		t.Fatal(err)
	}
	for _, sys := range []units.System{{}, {Inches: true}, {DecimalComma: true}} {
		f := ArrayOthers.Field
		back, err := f.Rows.Read(&h, f.Rows.Write(&h, sys), sys)
		if err != nil {
			t.Fatal(err)
		}
		o := back.([]OtherBox)
		if len(o) != 1 || o[0].Count != 1 || math.Abs(o[0].Width-0.6) > 1e-3 || math.Abs(o[0].Height-1.6) > 1e-3 ||
			math.Abs(o[0].Depth-0.015) > 1e-3 {
			t.Errorf("%+v comes back as %+v", h.Array.Others, o)
		}
	}
	for typed, want := range map[string]string{
		"600 by": "not a glazing size", "2: 600 x 1200 mm": "differ of", "1: 600 x 1200 mm, deep": "not a depth",
		"1: 600 x 1200 mm, 2 m": "not a depth of an air channel", "1: 10 x 10 mm": "not a glazing size for a box",
	} {
		if _, err := Apply(h, units.System{}, Enter(ArrayOthers, typed)); err == nil || !strings.Contains(err.Error(),
			want) {
			t.Errorf("%q: %v, want %q", typed, err, want)
		}
	}
	groups, err := Apply(h, units.System{}, Enter(ArrayOthers, ""), Set(ArrayBoxes, 6),
		Set(ArrayJoin, "groups"))
	if err != nil || groups.Branches() != 3 {
		t.Errorf("groups of two of six: %d branches, %v", groups.Branches(), err)
	}
	if _, err := Apply(groups, units.System{}, Set(ArrayBoxes, 7)); err == nil {
		t.Error("seven boxes made groups of two")
	}
}

// Sizes that are sold read back as they are printed, in either units, with prices and without.
func TestSoldSizes(t *testing.T) {
	for _, sys := range []units.System{{}, {Inches: true}, {DecimalComma: true}} {
		h, err := Apply(New(), sys, Enter(CutSold, "2.4 m; 6.5\n1220 x 2440 mm\n"))
		if sys.DecimalComma {
			h, err = Apply(New(), sys, Enter(CutSold, "2,4 m; 6,5\n1220 x 2440 mm\n"))
		}
		if err != nil {
			t.Fatal(err)
		}
		want := []SoldSize{{Length: 2.4, Price: 6.5}, {Length: 2.44, Width: 1.22}}
		if !reflect.DeepEqual(h.Workshop.Cut.Sold, want) {
			t.Errorf("%+v", h.Workshop.Cut.Sold)
		}
		text := writeSold(&h, sys)
		again, err := readSold(&h, text, sys)
		if err != nil {
			t.Fatalf("%q: %v", text, err)
		}
		for i, s := range again.([]SoldSize) {
			if math.Abs(s.Length-want[i].Length) > 0.001 || math.Abs(s.Width-want[i].Width) > 0.001 ||
				math.Abs(s.Price-want[i].Price) > 1e-9 {
				t.Errorf("%q reads as %+v", text, s)
			}
		}
	}
	for _, text := range []string{"long", "2.4 m, cheap", "2.4 m; -3", "-2 m", "1 mm", "1e308 m", "900 x mm"} {
		if _, err := Apply(New(), units.System{}, Enter(CutSold, text)); err == nil {
			t.Errorf("%q was taken", text)
		}
	}
}

// Bills are read in fuel and in money, by month and for a usual month, and written as they are read.
func TestBillsInMoney(t *testing.T) {
	for typed, want := range map[string][]Bill{
		"January $235\nfeb 180":   {{Month: 1, Cost: 235}, {Month: 2, Units: 180}},
		"$235 a month":            {{Cost: 235}},
		"$1,235.50 per month":     {{Cost: 1235.5}},
		"235 €/month":             {{Cost: 235}},
		"70 each month":           {{Units: 70}},
		"March: $ 90\nApril: $40": {{Month: 3, Cost: 90}, {Month: 4, Cost: 40}},
	} {
		h, err := Apply(New(), units.System{}, Set(RoomHeater, "oil"), Enter(RoomBills, typed))
		if err != nil || !reflect.DeepEqual(h.Room.Bills, want) {
			t.Errorf("%q: %+v, %v", typed, h.Room.Bills, err)
			continue
		}
		back, err := readBills(&h, writeBills(&h, units.System{}), units.System{})
		if err != nil || !reflect.DeepEqual(back, want) {
			t.Errorf("%q is written %q and read %+v, %v", typed, writeBills(&h, units.System{}), back, err)
		}
	}
}

// Fuel is sold by what people of the place buy it by; a price is for one of that, and a choice that is not sold is refused.
// A gallon is 3.785 L exactly as NIST Handbook 44 has it, a therm 100,000 BTU.
func TestFuelByItsUnit(t *testing.T) {
	us := Set(PlaceZone, "America/Chicago")
	for _, x := range []struct {
		zone, fuel, unit string
		heat             float64 // kWh
	}{
		{"America/Chicago", "propane", "gallon", 91452 / 3412.0}, {"America/Chicago", "oil", "gallon", 138500 / 3412.0},
		{"America/Chicago", "gas", "therm", 1e5 / 3412.0}, {"America/Chicago", "wood", "cord", 5800},
		{"America/Toronto", "oil", "liter", 10.72},
		{"Europe/Vienna", "gas", "m3", 10.72}, {"Europe/Vienna", "pellets", "kg", 4.8},
	} {
		h, err := Apply(New(), units.System{}, Set(PlaceZone, x.zone), Set(RoomHeater, x.fuel))
		if err != nil {
			t.Fatal(err)
		}
		f, err := h.Fuel()
		if err != nil || h.Room.FuelUnit != x.unit || f.Units[0].ID != x.unit || math.Abs(f.Heat-x.heat) > 0.001*x.heat ||
			math.Abs(h.Money.FuelPrice-f.Price) > 0.006 {
			t.Errorf("%s in %s: by the %s, %.3f kWh at %v, want %.3f; %v", x.fuel, x.zone, h.Room.FuelUnit, f.Heat, h.Money.FuelPrice,
				x.heat, err)
		}
	}
	h, err := Apply(New(), units.System{}, us, Set(RoomHeater, "propane"),
		Enter(MoneyFuelPrice, "$2.89"), Set(RoomFuelUnit, "kg"))
	if err != nil || h.Money.FuelPrice != 2.89 {
		t.Fatalf("%v, %v", h.Money.FuelPrice, err)
	}
	if _, err := Apply(h, units.System{}, Set(RoomFuelUnit, "cord")); err == nil {
		t.Error("propane by the cord")
	}
	if h, err = Apply(h, units.System{}, Set(RoomHeater, "wood")); err != nil || h.Room.FuelUnit != "cord" ||
		h.Money.FuelPrice == 2.89 {
		t.Errorf("wood by the %s at %v: %v", h.Room.FuelUnit, h.Money.FuelPrice, err)
	}
}

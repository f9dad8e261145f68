package climate

import (
	"bytes"
	"errors"
	"fmt"
	"math"
	"reflect"
	"sort"
	"strings"
	"testing"
	"time"

	"gladember/core/design"
	"gladember/core/solar"
	"gladember/core/units"
)

func near(t *testing.T, what string, got, want, tolerance float64) {
	t.Helper()
	if !(math.Abs(got-want) <= tolerance) {
		t.Errorf("%s: %v, wanted %v within %v", what, got, want, tolerance)
	}
}

// Whatever field of the place or the weather is changed: where the basis stays the same, so does the year, and where it moved, the basis
// says so.
func TestBasisIsAllThatCounts(t *testing.T) {
	if testing.Short() {
		t.Skip("its work has one thread: it runs without the race detector")
	}
	h := placed(t, 44, -5, 18, 7)
	built := func(h *design.Heater) string { // as text, since a figure that is not known is not equal to itself
		y, err := Build(h)
		if err != nil {
			t.Fatal(err)
		}
		return fmt.Sprintf("%+v", *y)
	}
	old, moved := built(&h), 0
	for _, part := range []string{"Place", "Climate"} {
		for i := range reflect.ValueOf(h).FieldByName(part).NumField() {
			other := h
			f := reflect.ValueOf(&other).Elem().FieldByName(part).Field(i)
			switch f.Kind() {
			case reflect.Float64:
				f.SetFloat(f.Float() + 3)
			case reflect.Int:
				f.SetInt(f.Int()%12 + 1)
			case reflect.String:
				f.SetString(map[string]string{"Shore": "sea", "Zone": "Asia/Tokyo"}[reflect.TypeOf(h.Place).Field(i).Name])
			default:
				continue // a table of months takes the place of all
			}
			y := built(&other)
			a, b := Basis(&h), Basis(&other)
			if same := reflect.DeepEqual(a, b); same && old != y {
				t.Errorf("field %d of %s changes the year and not its basis", i, part)
			} else if !same {
				moved++
			}
			if built(&b) != y {
				t.Errorf("field %d of %s: another year from the basis alone", i, part)
			}
		}
	}
	if moved < 6 {
		t.Errorf("only %d fields count", moved)
	}
}

// FAO Irrigation and Drainage Paper 56, worked examples 8, 10 and 15.
func TestFAO56(t *testing.T) {
	h0, light := solar.DailyExtraterrestrial(solar.Extraterrestrial(1367, 135), -22.9, 23.45*math.Sin(2*math.Pi*(284.0+135)/365))
	near(t, "Ra, Rio, 15 May", h0/1e6, 25.1, 0.15)
	near(t, "example 10: 220 h in May", AngstromPrescott(h0/1e6, 220.0/31, light), 14.5, 0.1)
	near(t, "example 15: 26.6 and 14.8 C", HargreavesSamani(40.6, 26.6, 14.8), 22.3, 0.05)
}

// The distribution keeps its mean and runs from 0 to 1, and its exponent lies
// where Herzog's published fit puts it: the shares of days under three values of
// clearness within 3 % of all days of those by the fit (D&B eqs. 2.9.6, 2.9.7a).
func TestBendt(t *testing.T) {
	for _, mean := range []float64{0.25, 0.3, 0.4, 0.5, 0.6, 0.7} {
		b := NewBendt(mean)
		sum := 0.0
		for i := range 1000 {
			p := (float64(i) + 0.5) / 1000
			k := b.Quantile(p)
			sum += k / 1000
			near(t, "there and back", b.CDF(k), p, 1e-9)
		}
		near(t, "mean", sum, mean, 1e-4)
		fit := b
		xi := (b.greatest - b.least) / (b.greatest - mean)
		fit.gamma = -1.498 + (1.184*xi-27.182*math.Exp(-1.5*xi))/(b.greatest-b.least)
		for _, k := range []float64{0.2, 0.4, 0.6} {
			near(t, "share of days", b.CDF(k), fit.CDF(k), 0.03)
		}
		if b.CDF(0) != 0 || b.CDF(1) != 1 {
			t.Errorf("ends of the distribution of %v: %v, %v", mean, b.CDF(0), b.CDF(1))
		}
	}
}

// placed is a heater at a made-up place with three facts.
func placed(t testing.TB, latitude, cold, warm, sunny float64) design.Heater {
	t.Helper()
	h, err := design.Apply(design.New(), units.System{}, design.Set(design.PlaceLatitude, latitude),
		design.Set(design.PlaceLongitude, 7.5),
		design.Set(design.PlaceZone, "Europe/Zurich"), design.Set(design.ClimateColdest, cold),
		design.Set(design.ClimateWarmest, warm), design.Set(design.ClimateSunny, sunny))
	if err != nil {
		t.Fatal(err)
	}
	return h
}

// Monthly means of a generated year are its table's within 1 % of the sun and
// 0.05 K; days follow the published distribution (Kolmogorov-Smirnov over the
// year's days); the sun of hours is between dark and clear; and the year is valid
// and the same each time.
func TestGeneratedYears(t *testing.T) {
	for _, x := range []struct{ latitude, cold, warm, sunny float64 }{{46, -2, 18, 4.5}, {58, -6, 16, 3}, {35, 4, 27, 7.5},
		{-43, 4, 16, 5}, {64, -14, 15, 4}, {5, 24, 27, 6}} {
		if testing.Short() && x.latitude != 46 {
			continue
		}
		h := placed(t, x.latitude, x.cold, x.warm, x.sunny)
		y, err := Build(&h)
		if err != nil {
			t.Fatal(err)
		}
		if err := y.check(); err != nil {
			t.Fatal(err)
		}
		usual := h.Place.Usual()
		table := Facts{x.cold, x.warm, x.sunny, h.Climate.Winter}.Table(x.latitude, &usual)
		kt, err := table.Clearness(x.latitude)
		if err != nil {
			t.Fatal(err)
		}
		var shares []float64
		at := 0
		for m := range 12 {
			got, above, warm := 0.0, 0.0, 0.0
			b := NewBendt(max(0.1, kt[m]))
			for d := range days[m] {
				day, over := 0.0, 0.0
				for k := range 24 {
					r := y.Hours[at]
					at++
					mid := time.Date(2025, time.Month(m+1), d+1, k, 0, 0, 0, y.start(2025).Location())
					sin, gon := 0.0, 0.0
					for j := range 12 {
						p := solar.Position(mid.Add(time.Duration(5*j)*time.Minute+150*time.Second), y.Site, 0, 0)
						sin += max(0, math.Cos(p.TrueZenith*math.Pi/180)) / 12
						gon = solar.SolarConstant / (p.Distance * p.Distance)
					}
					day += r.Global
					over += gon * sin
					warm += r.Temperature / float64(24*days[m])
					if r.Global < 0 || r.Global > 0.9*gon*sin+5 || math.Abs(r.Global-r.Diffuse-r.Normal*sin) > 0.03*r.Global+3 {
						t.Fatalf("%v degrees, month %d day %d hour %d: %+v, %v above the air", x.latitude, m+1, d+1, k+1, r, gon*sin)
					}
				}
				got += day
				above += over
				if kt[m] > 0 && over > 500 {
					shares = append(shares, b.CDF(day/over))
				}
			}
			if kt[m] > 0 && above > 1500*float64(days[m]) { // lower suns cannot keep it
				near(t, "clearness", got/above, kt[m], 0.01*kt[m])
			}
			near(t, "temperature", warm, table[m].Mean, 0.05)
		}
		sort.Float64s(shares)
		worst := 0.0
		for i, s := range shares {
			worst = max(worst, math.Abs(s-(float64(i)+0.5)/float64(len(shares))))
		}
		if worst > 1.36/math.Sqrt(float64(len(shares))) { // 5 % point of Kolmogorov-Smirnov
			t.Errorf("%v degrees: daily clearness departs from its distribution by %v", x.latitude, worst)
		}
		again, err := Build(&h)
		if err != nil || again.Hours[4000] != y.Hours[4000] && again.Hours[4000].Global != y.Hours[4000].Global {
			t.Errorf("%v degrees: another year the second time", x.latitude)
		}
		var file bytes.Buffer
		if err := WriteEPW(&file, y); err != nil {
			t.Fatal(err)
		}
		back, err := ReadEPW(&file)
		if err != nil || len(back.Hours) != len(y.Hours) {
			t.Fatalf("written and read again: %v", err)
		}
		for i := range y.Hours {
			if math.Abs(back.Hours[i].Global-y.Hours[i].Global) > 1 || math.Abs(back.Hours[i].Temperature-y.Hours[i].Temperature) > 0.06 {
				t.Fatalf("hour %d: %+v came back as %+v", i, y.Hours[i], back.Hours[i])
			}
		}
	}
}

// Without facts there is no year, and the words say which are missing; one fact
// less is named alone. A table of months goes before facts, and may tell its sun
// in any of three ways.
func TestWithoutFacts(t *testing.T) {
	h := design.New()
	var lack *Missing
	if _, err := Build(&h); !errors.As(err, &lack) || len(lack.Paths) != 1 || lack.Paths[0] != design.PlaceTown.Path {
		t.Fatalf("without a place: %v", err)
	}
	town, err := design.Apply(h, units.System{}, design.Set(design.PlaceTown, "Invented"),
		design.Set(design.PlaceLatitude, 47.0), design.Set(design.PlaceLongitude, 8.0))
	if err != nil {
		t.Fatal(err)
	}
	if y, err := Build(&town); err != nil || !strings.Contains(y.Source, "rough") {
		t.Fatalf("with a town alone: %v", err)
	}
	// Each fact that is given leaves no more open, and all of them less.
	first, _ := EstimateDoubt(&town)
	last := first
	for path, v := range map[string]float64{design.ClimateColdest.Path: -1, design.ClimateWarmest.Path: 18, design.ClimateSunny.Path: 5,
		design.ClimateSunnyWinter.Path: 2.5} {
		if town, err = design.Apply(town, units.System{}, design.Change{Path: path, Value: v}); err != nil {
			t.Fatal(err)
		}
		d, ok := EstimateDoubt(&town)
		if !ok || d.Temperature > last.Temperature || d.Winter > last.Winter || d.Summer > last.Summer {
			t.Errorf("with %s given %+v is open, before %+v", path, d, last)
		}
		last = d
	}
	if last.Temperature >= first.Temperature || last.Winter >= first.Winter {
		t.Errorf("with all given %+v is open, before %+v", last, first)
	}
	zero := placed(t, 46, 0, 17, 5)
	if _, err := Build(&zero); err != nil {
		t.Errorf("a coldest month of 0 C: %v", err)
	}
	v := func(x float64) *float64 { return &x }
	for _, row := range []design.ClimateMonth{{Min: v(2), Max: v(12)}, {Mean: v(7), Sunshine: v(4)}, {Mean: v(7), Radiation: v(9)}} {
		h := design.New()
		for range 12 {
			h.Climate.Months = append(h.Climate.Months, row)
		}
		if row.Radiation != nil { // the same sun all year passes the sun above the air in a northern winter
			h.Place.Latitude = 20
		}
		y, err := Build(&h)
		if err != nil {
			t.Fatal(err)
		}
		sum := 0.0
		for _, x := range y.Hours[181*24 : 212*24] {
			sum += x.Temperature / (31 * 24)
		}
		near(t, "July", sum, 7, 0.05)
	}
	h = design.New()
	for range 12 {
		h.Climate.Months = append(h.Climate.Months, design.ClimateMonth{Mean: v(3)})
	}
	if _, err := Build(&h); err == nil {
		t.Error("months without sun made a year")
	}
}

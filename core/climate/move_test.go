package climate

import (
	"math"
	"testing"
	"time"

	"gladember/core/design"
	"gladember/core/solar"
	"gladember/core/units"
)

// hours is a plain year that begins in a month.
func hours(from int) *Year {
	y := &Year{Site: solar.Site{Latitude: 50}}
	for m := range 12 {
		month := (from-1+m)%12 + 1
		for d := range days[month-1] {
			for k := range 24 {
				p := solar.Position(time.Date(2025, time.Month(month), d+1, k, 30, 0, 0, time.UTC), y.Site, 0, 0)
				y.Hours = append(y.Hours, Hour{Year: 2001 + (from-1+m)/12, Month: month, Day: d + 1, Hour: k + 1,
					Temperature: float64(month), Pressure: 1e5, Global: 600 * max(0, math.Cos(p.TrueZenith*math.Pi/180))})
			}
		}
	}
	return y
}

// A file may begin in any month: its hours are brought into the order of the calendar. One whose
// months do not follow each other is refused.
func TestYearsThatBeginElsewhere(t *testing.T) {
	for _, from := range []int{1, 2, 7, 12} {
		y := hours(from)
		if err := y.check(); err != nil {
			t.Fatalf("from month %d: %v", from, err)
		}
		for i, h := range y.Hours {
			if i > 0 && h.Month < y.Hours[i-1].Month {
				t.Fatalf("from month %d: month %d follows %d", from, h.Month, y.Hours[i-1].Month)
			}
		}
		h := design.New()
		s := y.Series(&h)
		if got := s.Quarters[96*196].Ambient; math.Abs(got-7) > 0.01 {
			t.Errorf("from month %d: the middle of July is that of month %v", from, got)
		}
	}
	y := hours(1)
	for i := range y.Hours { // months in reverse
		y.Hours[i].Month = 13 - y.Hours[i].Month
	}
	if err := y.check(); err == nil {
		t.Error("a year from December to January was taken")
	}
}

// A heater that is moved to a file's place keeps its bearing within one half of the earth, all
// round, and is turned to the noon sun across the equator. Its clock is the place's, between whole
// hours too.
func TestMovingKeepsTheBearing(t *testing.T) {
	for _, from := range []float64{47, -35} {
		for _, to := range []float64{60, -20} {
			for bearing := 0.0; bearing < 360; bearing += 45 {
				h := design.New()
				h.Place.Latitude, h.Place.Bearing = from, bearing
				turned := (&Year{Site: solar.Site{Latitude: to}}).Move(&h)
				want := bearing
				if from*to < 0 {
					want = math.Mod(bearing+180, 360)
				}
				if h.Place.Bearing != want || turned != (from*to < 0) {
					t.Errorf("from %v to %v: bearing %v became %v", from, to, bearing, h.Place.Bearing)
				}
			}
		}
	}
	for offset, zone := range map[float64]string{9.5: "Australia/Darwin", 5.5: "Asia/Kolkata", -3: "Etc/GMT+3", 10: "Etc/GMT-10",
		0: "Etc/GMT+0"} {
		h := design.New()
		(&Year{Offset: offset}).Move(&h)
		if h.Place.Zone != zone {
			t.Errorf("%+v hours from UTC is %q", offset, h.Place.Zone)
		}
	}
}

// In months in which a lid lies over the glass no sun falls on it, over the turn of the year too;
// the space behind sees its own.
func TestCoveredMonths(t *testing.T) {
	h, _ := design.Named("screen-box")
	h, err := design.Apply(h, units.System{}, design.Set(design.CoverCoveredFrom, 11),
		design.Set(design.CoverCoveredTo, 2))
	if err != nil {
		t.Fatal(err)
	}
	y, err := Build(&h)
	if err != nil {
		t.Fatal(err)
	}
	var glass, level [13]float64
	s := y.Series(&h)
	for i := range s.Quarters {
		m := int(s.Begin.AddDate(0, 0, i/QuartersInDay).Month())
		glass[m] += s.Quarters[i].Sun.Total()
		level[m] += s.Quarters[i].Level
	}
	for m := 1; m <= 12; m++ {
		if covered := m >= 11 || m <= 2; covered != (glass[m] == 0) || level[m] == 0 {
			t.Errorf("month %d: %v on the glass, %v on the level", m, glass[m], level[m])
		}
	}
}

// Snow of a generated year: none where no month is cold, some in a cold month, gone by summer, and
// what December leaves lies on 1 January.
func TestGeneratedSnow(t *testing.T) {
	deep := func(coldest float64) (most, summer, first, last float64) {
		h, _ := design.Named("screen-box")
		h, err := design.Apply(h, units.System{}, design.Set(design.ClimateColdest, coldest))
		if err != nil {
			t.Fatal(err)
		}
		y, err := Build(&h)
		if err != nil {
			t.Fatal(err)
		}
		for _, x := range y.Hours {
			most = max(most, x.Snow)
			if x.Month >= 6 && x.Month <= 8 {
				summer = max(summer, x.Snow)
			}
		}
		return most, summer, y.Hours[0].Snow, y.Hours[len(y.Hours)-1].Snow
	}
	if most, _, _, _ := deep(10); most != 0 {
		t.Errorf("%v m of snow in a mild winter", most)
	}
	most, summer, first, last := deep(-8)
	if most < 0.05 || most > 2 || summer != 0 || math.Abs(first-last) > 0.06 {
		t.Errorf("a cold winter: %v m at most, %v in summer, %v on 1 January after %v on 31 December", most, summer, first, last)
	}
}

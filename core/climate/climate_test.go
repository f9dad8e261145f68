package climate

import (
	"bytes"
	"fmt"
	"math"
	"math/rand/v2"
	"strings"
	"testing"
	"time"

	"gladember/core/design"
	"gladember/core/solar"
)

// invented is a made-up year of clear days with gaps in it.
func invented(hours int, seed uint64) *Year {
	r := rand.New(rand.NewPCG(seed, 1))
	y := &Year{Place: "Nowhere", Country: "XX", Source: "invented", Station: "000000", Site: solar.Site{Latitude: 46.5, Longitude: 9.25,
		Elevation: 880}, Offset: 1}
	begin := y.start(2025)
	if hours == hoursInLeap {
		begin = y.start(2024)
	}
	y.Site.Zone = y.start(2025).Location()
	for i := range hours {
		end := begin.Add(time.Duration(i+1) * time.Hour)
		stamp := end.Add(-time.Minute)
		h := Hour{Year: stamp.Year(), Month: int(stamp.Month()), Day: stamp.Day(), Hour: stamp.Hour() + 1}
		p := solar.Position(end.Add(-30*time.Minute), y.Site, 0, 0)
		sky := solar.Ineichen(p.TrueZenith, 880, 3, solar.SolarConstant/(p.Distance*p.Distance))
		one := func(v float64) float64 { return math.Round(v*10) / 10 }
		h.Temperature, h.DewPoint = one(5-10*math.Cos(2*math.Pi*float64(i)/8760)+4*r.Float64()), one(-2-6*r.Float64())
		h.Humidity, h.Pressure, h.Infrared = float64(30+r.IntN(70))/100, 91000+float64(r.IntN(900)), 230+float64(r.IntN(60))
		h.Global, h.Normal, h.Diffuse = math.Round(sky.Global), math.Round(sky.Normal), math.Round(sky.Diffuse)
		h.WindFrom, h.Wind, h.Cloud, h.Snow, h.Albedo = float64(r.IntN(360)), one(8*r.Float64()), float64(r.IntN(11))/10,
			float64(r.IntN(40))/100, 0.2
		if r.IntN(50) == 0 {
			h.Snow, h.Infrared, h.Albedo = math.NaN(), math.NaN(), math.NaN()
		}
		y.Hours = append(y.Hours, h)
	}
	return y
}

func same(a, b float64) bool { return a == b || math.IsNaN(a) && math.IsNaN(b) }

func equal(t *testing.T, a, b *Year) {
	t.Helper()
	if a.Place != b.Place || a.Station != b.Station || a.Offset != b.Offset || a.Site.Latitude != b.Site.Latitude ||
		a.Site.Elevation != b.Site.Elevation || len(a.Hours) != len(b.Hours) {
		t.Fatalf("heads: %+v %d, %+v %d", a.Site, len(a.Hours), b.Site, len(b.Hours))
	}
	for i := range a.Hours {
		x, y := a.Hours[i], b.Hours[i]
		if x.Month != y.Month || x.Day != y.Day || x.Hour != y.Hour || x.Year != y.Year {
			t.Fatalf("hour %d: %+v, %+v", i, x, y)
		}
		for _, f := range epwTable {
			if !same(*f.get(&x), *f.get(&y)) {
				t.Fatalf("hour %d, field %d: %v, %v", i, f.column, *f.get(&x), *f.get(&y))
			}
		}
	}
}

// EPW written and read again is the same year, gaps and leap day included.
func TestEPWThereAndBack(t *testing.T) {
	for seed, hours := range []int{hoursInYear, hoursInLeap, hoursInYear} {
		y := invented(hours, uint64(seed))
		var b bytes.Buffer
		if err := WriteEPW(&b, y); err != nil {
			t.Fatal(err)
		}
		again, err := Read(bytes.NewReader(b.Bytes()))
		if err != nil {
			t.Fatal(err)
		}
		equal(t, y, again)
		var b2 bytes.Buffer
		if err := WriteEPW(&b2, again); err != nil || !bytes.Equal(b.Bytes(), b2.Bytes()) {
			t.Error("written again it differs")
		}
	}
}

// A row as the format's own description lays it out, by hand: fields 7 to 10 are
// dry bulb, dew point, humidity, pressure; 13 to 16 infrared, global, normal and
// diffuse; 21 to 23 wind direction, speed, total sky; 31 snow depth in cm.
func TestEPWRowByHand(t *testing.T) {
	var b strings.Builder
	b.WriteString("LOCATION,Somewhere,ST,CTY,TMY--000000,725300,41.98,-87.92,-6.0,201.0\n")
	for range 7 {
		b.WriteString("x\n")
	}
	for i := range hoursInYear {
		d := time.Date(2025, 1, 1, 0, 0, 0, 0, time.UTC).Add(time.Duration(i) * time.Hour)
		sun := "0,0,0"
		if d.Hour() >= 9 && d.Hour() < 15 {
			sun = "250,340,60"
		}
		fmt.Fprintf(&b, "1986,%d,%d,%d,60,?9?9?9,-12.2,-15.6,76,99500,0,0,188,%s,13000,0,13000,2500,"+
			"330,5.7,10,8,24.1,77777,9,999999999,60,0.0720,12,88,0.180,0.0,1.0\n", d.Month(), d.Day(), d.Hour()+1, sun)
	}
	y, err := ReadEPW(strings.NewReader(b.String()))
	if err != nil {
		t.Fatal(err)
	}
	h := y.Hours[11]
	want := Hour{Year: 1986, Month: 1, Day: 1, Hour: 12, Temperature: -12.2, DewPoint: -15.6, Humidity: 0.76, Pressure: 99500,
		Infrared: 188, Global: 250, Normal: 340, Diffuse: 60, WindFrom: 330, Wind: 5.7, Cloud: 1, Snow: 0.12, Albedo: 0.18}
	if h != want || y.Site.Latitude != 41.98 || y.Offset != -6 || y.Site.Elevation != 201 || y.Place != "Somewhere" {
		t.Errorf("%+v, want %+v; %+v", h, want, y)
	}
	bad := strings.Replace(b.String(), "-12.2,", "99.9,", 1)
	if y, err := ReadEPW(strings.NewReader(bad)); err != nil || y.Hours[0].Temperature != -12.2 || len(y.Notes) != 1 ||
		!strings.Contains(y.Notes[0], "1 of 8760 hours have no temperature") {
		t.Errorf("99.9 C is not taken as missing and filled: %v", err)
	}
}

// A TMY3 row by its headings, whatever their order, hour 24 and the missing mark.
func TestTMY3ByHand(t *testing.T) {
	var b strings.Builder
	b.WriteString("725300,\"SOMEWHERE\",IL,-6.0,41.983,-87.917,201\n")
	b.WriteString("Date (MM/DD/YYYY),Time (HH:MM),ETR (W/m^2),GHI (W/m^2),DNI (W/m^2),DHI (W/m^2),TotCld (tenths),Dry-bulb " +
		"(C),Dew-point (C),RHum (%),Pressure (mbar),Wdir (degrees),Wspd (m/s),Alb (unitless)\n")
	for i := range hoursInYear {
		d := time.Date(2025, 1, 1, 0, 0, 0, 0, time.UTC).Add(time.Duration(i) * time.Hour)
		sun := "0,0,0"
		if d.Hour() >= 9 && d.Hour() < 15 {
			sun = "250,500,80"
		}
		fmt.Fprintf(&b, "%02d/%02d/%d,%02d:00,0,%s,3,4.4,-9900,81,985,200,3.6,-9900\n", d.Month(), d.Day(), 1990+int(d.Month()), d.Hour()+1,
			sun)
	}
	y, err := Read(strings.NewReader(b.String()))
	if err != nil {
		t.Fatal(err)
	}
	h := y.Hours[11]
	if y.Hours[23].Hour != 24 || h.Month != 1 || h.Year != 1991 || h.Global != 250 || h.Normal != 500 || h.Cloud != 0.3 ||
		h.Temperature != 4.4 ||
		h.Pressure != 98500 || !math.IsNaN(h.DewPoint) || !math.IsNaN(h.Albedo) || math.Abs(h.Humidity-0.81) > 1e-12 {
		t.Errorf("%+v", h)
	}
	// The same year through EPW.
	var e bytes.Buffer
	if err := WriteEPW(&e, y); err != nil {
		t.Fatal(err)
	}
	again, err := ReadEPW(&e)
	if err != nil {
		t.Fatal(err)
	}
	for i := range y.Hours {
		if y.Hours[i].Global != again.Hours[i].Global || y.Hours[i].Temperature != again.Hours[i].Temperature {
			t.Fatalf("hour %d: %+v, %+v", i, y.Hours[i], again.Hours[i])
		}
	}
}

// What is no weather file says so, with what would be right.
func TestRefusals(t *testing.T) {
	y := invented(hoursInYear, 5)
	var b bytes.Buffer
	_ = WriteEPW(&b, y)
	good := b.String()
	for want, text := range map[string]string{
		"is empty":               "",
		"begins with station":    "hello\n",
		"no column is headed":    "1,A,B,1,46,9,800\nDate,Time\n",
		"nine fields":            "LOCATION,x\n",
		"ends in its heading":    "LOCATION,a,b,c,d,e,46,9,1,800\n",
		"8760":                   strings.Join(strings.SplitAfter(good, "\n")[:20], ""),
		"is no number":           strings.Replace(good, ",46.5,", ",north,", 1),
		"nowhere":                strings.Replace(good, ",46.5,", ",146.5,", 1),
		"hours run from 1 to 24": strings.Replace(good, ",1,1,1,60", ",1,1,25,60", 1),
		"goes on after":          good + strings.Repeat(strings.SplitAfter(good, "\n")[9], 30),
	} {
		if _, err := Read(strings.NewReader(text)); err == nil || !strings.Contains(err.Error(), want) {
			t.Errorf("want %q, got %v", want, err)
		}
	}
}

// The sun of an hour, drawn to its instants by the sun's height, keeps the
// hour's sum on the level; instants of the same day of another year, leap days
// included, find the same hours.
func TestInstantsKeepTheHour(t *testing.T) {
	y := invented(hoursInYear, 6)
	for _, day := range []int{20, 80, 170, 300} {
		for hour := 9; hour < 16; hour++ {
			h := y.Hours[day*24+hour]
			sum := 0.0
			for m := range 60 {
				at := y.start(2025).Add(time.Duration(day*24+hour)*time.Hour + time.Duration(m)*time.Minute + 30*time.Second)
				sum += y.sky(at, y.Site).Global / 60
			}
			if math.Abs(sum-h.Global) > 0.02*h.Global+3 {
				t.Errorf("day %d hour %d: instants sum to %v, the hour has %v", day, hour, sum, h.Global)
			}
		}
	}
	for _, d := range [][3]int{{2024, 2, 28}, {2024, 2, 29}, {2024, 3, 1}, {2023, 3, 1}, {2024, 12, 31}} {
		at := time.Date(d[0], time.Month(d[1]), d[2], 12, 0, 0, 0, y.start(2024).Location())
		a, _, f := y.at(at)
		day := d[2]
		if d[1] == 2 && day == 29 {
			day = 28
		}
		if a.Month != d[1] || a.Day != day || a.Hour != 12 || f != 0 {
			t.Errorf("%v finds %d-%d hour %d, %v", at, a.Month, a.Day, a.Hour, f)
		}
	}
}

// Conditions are the file's where it has them, and ours where it has none.
func TestConditions(t *testing.T) {
	y := invented(hoursInYear, 7)
	h := design.New()
	h.Place.Latitude, h.Place.Longitude, h.Place.Elevation = y.Site.Latitude, y.Site.Longitude, y.Site.Elevation
	at := y.start(2026).Add(31*24*time.Hour + 12*time.Hour)
	a, _, _ := y.at(at)
	c := y.Conditions(&h, at)
	if !same(c.Ambient, a.Temperature) || c.Pressure != a.Pressure || math.Abs(c.Wind-solar.WindAt(a.Wind, "suburb", 2)) > 1e-9 ||
		math.Abs(c.Sky-(math.Pow(a.Infrared/5.670374419e-8, 0.25)-273.15)) > 1e-6 {
		t.Errorf("%+v from %+v", c, a)
	}
	if c.Sun.Total() < 300 || c.Sun.Beam <= 0 {
		t.Errorf("a clear noon has %+v", c.Sun)
	}
	for i := range y.Hours {
		y.Hours[i] = Hour{Month: 1, Day: 1, Hour: 1, Temperature: math.NaN(), DewPoint: math.NaN(), Pressure: math.NaN(),
			Infrared: math.NaN(), Global: 300, Normal: math.NaN(), Diffuse: math.NaN(), Wind: math.NaN(), Cloud: math.NaN(),
			Snow: math.NaN()}
	}
	c = y.Conditions(&h, at)
	if c.Ambient != h.Place.Outdoor || c.Wind != h.Place.Wind || math.Abs(c.Pressure-solar.Pressure(880)) > 1e-9 || c.Sun.Beam <= 0 ||
		c.Sun.Sky <= 0 {
		t.Errorf("of a file with a global sun alone: %+v", c)
	}
	if night := y.Conditions(&h, at.Add(12*time.Hour)); night.Sun.Total() != 0 {
		t.Errorf("at midnight the sun shines: %+v", night.Sun)
	}
}

func FuzzRead(f *testing.F) {
	var b bytes.Buffer
	_ = WriteEPW(&b, invented(hoursInYear, 8))
	f.Add([]byte(b.String()[:4000]))
	f.Add([]byte("725300,\"X\",IL,-6.0,41.9,-87.9,201\nDate (MM/DD/YYYY),Time (HH:MM),GHI (W/m^2),DNI (W/m^2),DHI (W/m^2),Dry-bulb " +
		"(C)\n01/01/1990,01:00,0,0,0,1\n"))
	f.Add([]byte("LOCATION"))
	f.Fuzz(func(t *testing.T, b []byte) {
		y, err := Read(bytes.NewReader(b))
		if err == nil && len(y.Hours) != hoursInYear && len(y.Hours) != hoursInLeap {
			t.Fatalf("%d hours were taken as a year", len(y.Hours))
		}
	})
}

package solar

import (
	"fmt"
	"math"
	"math/rand/v2"
	"testing"
	"time"
)

func near(t *testing.T, what string, got, want, tol float64) {
	t.Helper()
	if math.IsNaN(got) || math.Abs(got-want) > tol {
		t.Errorf("%s = %.6g, want %.6g within %.2g", what, got, want, tol)
	}
}

func goldenSite(t testing.TB) (Site, time.Time) {
	z, err := time.LoadLocation("America/Denver")
	if err != nil {
		t.Fatal(err)
	}
	at := time.Date(2003, 10, 17, 12, 30, 30, 0, time.FixedZone("", -7*3600))
	return Site{39.742476, -105.1786, 1830.14, z}, at
}

// Reda & Andreas 2004, the worked example of the appendix.
func TestPositionRedaAndreas(t *testing.T) {
	s, at := goldenSite(t)
	p := Position(at, s, 820, 11)
	near(t, "zenith", p.Zenith, 50.11162, 0.003)
	near(t, "unrefracted zenith", p.TrueZenith, 50.1277, 0.003)
	near(t, "azimuth", p.Azimuth, 194.34024, 0.003)
	near(t, "declination", p.Declination, -9.31434, 0.003)
	near(t, "incidence on tilt 30 facing 170", Incidence(p.Zenith, p.Azimuth, 30, 170), 25.18700, 0.005)
}

// The published sunrise 06:12:44 and sunset 17:18:51 are at UTC-7.
func TestDayRedaAndreas(t *testing.T) {
	s, at := goldenSite(t)
	s.Zone = time.FixedZone("", -7*3600)
	d, err := NewDay(at, s)
	if err != nil {
		t.Fatal(err)
	}
	near(t, "sunrise", d.Rise.Sub(time.Date(2003, 10, 17, 6, 12, 44, 0, s.Zone)).Seconds(), 0, 30)
	near(t, "sunset", d.Set.Sub(time.Date(2003, 10, 17, 17, 18, 51, 0, s.Zone)).Seconds(), 0, 30)
}

func TestPolarDays(t *testing.T) {
	z := time.FixedZone("", 3600)
	s := Site{Latitude: 69.6, Longitude: 18.9, Zone: z}
	for month, want := range map[time.Month]string{12: "night", 6: "day", 3: ""} {
		d, _ := NewDay(time.Date(2026, month, 21, 12, 0, 0, 0, z), s)
		if d.Polar != want {
			t.Errorf("month %d: polar %q, want %q", month, d.Polar, want)
		}
		if (want == "day") != (d.Length == 24*time.Hour) {
			t.Errorf("month %d: day of %v", month, d.Length)
		}
	}
}

// D&B examples 1.6.1 and 1.6.2, from declination and hour angle.
func TestAnglesDuffieBeckman(t *testing.T) {
	at := func(lat, decl, h float64) (z, az float64) {
		sz := sind(lat)*sind(decl) + cosd(lat)*cosd(decl)*cosd(h)
		z = math.Acos(sz) / deg
		az = math.Atan2(sind(h), cosd(h)*sind(lat)-math.Tan(decl*deg)*cosd(lat))/deg + 180
		return
	}
	z, az := at(43, -14, -22.5)
	near(t, "1.6.1 incidence", Incidence(z, az, 45, 195), 35.2, 0.1)
	z, az = at(43, -14, -37.5)
	near(t, "1.6.2 zenith", z, 66.5, 0.1)
	near(t, "1.6.2 azimuth", az, 180-40.1, 0.1)
	z, az = at(43, 23.1, 97.5)
	near(t, "1.6.2 zenith", z, 79.6, 0.1)
	near(t, "1.6.2 azimuth", az, 180+112.0, 0.1)
}

// D&B example 1.5.1: Madison, 10:30 central standard time, 3 February.
func TestSolarTimeDuffieBeckman(t *testing.T) {
	at := time.Date(2010, 2, 3, 16, 30, 0, 0, time.UTC)
	s := Site{Latitude: 43.1, Longitude: -89.4}
	near(t, "solar time, minutes after 10:00", (SolarTime(at, s)-10)*60, 19, 1)
	near(t, "equation of time", Position(at, s, 0, 0).EquationOfTime, -13.5, 1)
}

// D&B example 1.10.1 (constant 1367) and FAO-56 examples 8 and 9 (0.0820 MJ/m2 min).
func TestDailyExtraterrestrial(t *testing.T) {
	h, _ := DailyExtraterrestrial(Extraterrestrial(SolarConstantOld, 105), 43, 9.41)
	near(t, "H0 43 N 15 April, MJ", h/1e6, 33.8, 0.1)
	b := 2 * math.Pi * 246 / 365
	gon := 0.0820e6 / 60 * (1 + 0.033*math.Cos(b))
	h, hours := DailyExtraterrestrial(gon, -20, 0.409*math.Sin(b-1.39)/deg)
	near(t, "Ra 20 S 3 September, MJ", h/1e6, 32.2, 0.05)
	near(t, "day length", hours, 11.7, 0.05)
}

// D&B examples 2.15.1 and 2.16.1: 40 N, tilt 60 S, albedo 0.6, 20 February
// 9-10 h, I = 1.04 MJ/m2; I0 from the middle of the hour.
func TestTiltedPlaneDuffieBeckman(t *testing.T) {
	const lat, tilt = 40.0, 60.0
	decl := 23.45 * sind(360*(284+51.0)/365)
	h := -37.5
	cz := sind(lat)*sind(decl) + cosd(lat)*cosd(decl)*cosd(h)
	ct := sind(lat-tilt)*sind(decl) + cosd(lat-tilt)*cosd(decl)*cosd(h)
	rb := ct / cz
	near(t, "Rb", rb, 1.71, 0.017)
	gon := Extraterrestrial(SolarConstantOld, 51)
	// Hour's extraterrestrial radiation, D&B eq. 1.10.4, MJ/m2.
	w1, w2 := -45.0, -30.0
	i0 := 12 * 3600 / math.Pi * gon * (cosd(lat)*cosd(decl)*(sind(w2)-sind(w1)) + (w2-w1)*deg*sind(lat)*sind(decl)) / 1e6
	diffuse := 1.04 * ErbsDiffuse(1.04/i0)
	near(t, "Erbs diffuse", diffuse, 0.80, 0.008)
	in := Irradiance{Global: 1.04, Diffuse: diffuse, Beam: 1.04 - diffuse}
	iso := in.Beam*rb + diffuse*(1+cosd(tilt))/2 + 1.04*0.6*(1-cosd(tilt))/2
	near(t, "isotropic", iso, 1.17, 0.012)
	near(t, "HDKR", hdkr(in, rb, tilt, 0.6, i0, 0).Total(), 1.28, 0.0128)
}

// Two independent clear-sky models in clean air: Bird with 1 cm water, 0.3 cm
// ozone, aerosol depth 0.05 at sea level, beside Ineichen with the turbidity that
// Ineichen, Solar Energy 82 (2008), gives for the same air (formula recalled
// from memory).
func TestClearSkyModelsAgree(t *testing.T) {
	for _, elev := range []float64{0, 500, 1500} {
		for z := 0.0; z < 70; z += 4 {
			w, aod := math.Exp(-elev/2000), 0.05*math.Exp(-elev/1500)
			x := 101325 / Pressure(elev)
			linke := 3.91*math.Exp(0.689*x)*aod + 0.376*math.Log(w) + 2 + 0.54*x - 0.5*x*x + 0.16*x*x*x
			a := Ineichen(z, elev, linke, 1361)
			b := Bird(z, Pressure(elev), w, 0.3, aod, 0.2, 1361)
			near(t, fmt.Sprintf("global at zenith %v, %v m, ratio", z, elev), a.Global/b.Global, 1, 0.06)
		}
	}
}

// Swinbank 1963; Martin & Berdahl 1984 without the hour term.
func TestSkyTemperature(t *testing.T) {
	near(t, "Swinbank 0", Swinbank(0), -23.95, 0.02)
	near(t, "Swinbank 20", Swinbank(20), 3.91, 0.02)
	near(t, "Martin-Berdahl 0, -5", MartinBerdahl(0, -5, 0), -24.7, 0.1)
	near(t, "Martin-Berdahl 20, 10", MartinBerdahl(20, 10, 0), 1.84, 0.02)
}

// ICAO/ISO 2533 and FAO-56 table 2.1 (1800 m: 81.8 kPa, by its own formula).
func TestPressure(t *testing.T) {
	near(t, "1000 m", Pressure(1000), 89874.6, 30)
	near(t, "3000 m", Pressure(3000), 70108.5, 30)
	near(t, "1800 m kPa", Pressure(1800)/1000, 81.8, 0.41)
}

// A place and its mirror across the equator, half a year and half a turn
// apart in declination, see the same sun: checked on the geometry.
func TestMirrorNorthSouth(t *testing.T) {
	r := rand.New(rand.NewPCG(3, 4))
	for range 500 {
		z, az := r.Float64()*89, r.Float64()*360
		tilt, facing := r.Float64()*90, r.Float64()*360
		a := Incidence(z, az, tilt, facing)
		b := Incidence(z, 180-az, tilt, 180-facing)
		near(t, "mirrored incidence", b, a, 1e-9)
	}
}

// The sun on a plane is continuous in time and never more than it was outside
// the air.
func TestClearOnPlaneBounds(t *testing.T) {
	r := rand.New(rand.NewPCG(5, 6))
	for range 2000 {
		s := Site{Latitude: r.Float64()*140 - 70, Longitude: r.Float64()*360 - 180, Elevation: r.Float64() * 3000}
		at := time.Unix(r.Int64N(2e9), 0)
		tilt, facing := r.Float64()*90, r.Float64()*360
		a := ClearOnPlane(at, s, tilt, facing, Air{})
		b := ClearOnPlane(at.Add(10*time.Second), s, tilt, facing, Air{})
		if a.Total() < 0 || a.Total() > 1420 || math.Abs(a.Total()-b.Total()) > 6 {
			t.Fatalf("%v %v: %v then %v", s, at, a, b)
		}
	}
}

// On the plane's own horizon the incidence is 90 degrees.
func TestPlaneHorizon(t *testing.T) {
	r := rand.New(rand.NewPCG(33, 34))
	for range 500 {
		az, tilt, facing := r.Float64()*360, 1+r.Float64()*88, r.Float64()*360
		near(t, "incidence", Incidence(90-PlaneHorizon(az, tilt, facing), az, tilt, facing), 90, 1e-6)
	}
}

// A clear day's sum is the integral of its parts, and lies under that outside
// the air.
func TestClearDay(t *testing.T) {
	s := Site{Latitude: 46, Longitude: 9, Elevation: 800}
	day := time.Date(2026, 3, 21, 12, 0, 0, 0, time.UTC)
	fine := 0.0
	for m := range 1440 {
		at := time.Date(2026, 3, 21, 0, 0, 30, 0, time.UTC).Add(time.Duration(m)*time.Minute - 36*time.Minute)
		fine += ClearOnPlane(at, s, 60, 170, Air{}).Total() / 60000
	}
	near(t, "by minutes", (&Surroundings{}).ClearDay(day, s, 60, 170, Air{}), fine, 0.005*fine)
	h0, _ := DailyExtraterrestrial(1370, 46, 0)
	if g := (&Surroundings{}).ClearDay(day, s, 0, 180, Air{}); g >= h0/3.6e6 {
		t.Errorf("%v kWh on the flat, %v outside the air", g, h0/3.6e6)
	}
}

func ExampleIncidence() {
	fmt.Printf("%.0f\n", Incidence(60, 180, 60, 180))
	// Output: 0
}

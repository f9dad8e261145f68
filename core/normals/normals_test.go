package normals

import (
	"math"
	"testing"
)

// Each station estimated from all others: the errors that the table's bands rest on. At least
// nine in ten lie within two sigma of what such a place is told, for monthly temperatures, for the
// winter's and for the summer's sunshine. The values of the table are recalled from memory, so
// this says how well it agrees with itself.
func TestLeaveOneOut(t *testing.T) {
	all := Stations()
	if len(all) < 120 {
		t.Fatalf("%d stations", len(all))
	}
	var in, n [3]float64
	var square, sigma [3]float64
	for i := range all {
		s, e := &all[i], Without(i)
		for m := range 12 {
			d := e.Temperature[m] - s.Temperature[m]
			square[0] += d * d
			sigma[0] += e.UTemperature
			n[0]++
			if math.Abs(d) <= 2*e.UTemperature {
				in[0]++
			}
		}
		for k, x := range [][2]float64{
			{Mean(&e.Sunshine, Dark(s.Latitude)) - Mean(&s.Sunshine, Dark(s.Latitude)), e.UWinter},
			{Mean(&e.Sunshine, Bright(s.Latitude)) - Mean(&s.Sunshine, Bright(s.Latitude)), e.USummer},
		} {
			square[k+1] += x[0] * x[0]
			sigma[k+1] += x[1]
			n[k+1]++
			if math.Abs(x[0]) <= 2*x[1] {
				in[k+1]++
			} else {
				t.Logf("%s: sunshine misses by %.3f, two sigma %.3f", s.Name, x[0], 2*x[1])
			}
		}
	}
	for k, what := range []string{"temperature, K", "winter's sunshine", "summer's sunshine"} {
		t.Logf("%s: root mean square error %.3f, mean sigma %.3f, %.1f %% within two sigma", what, math.Sqrt(square[k]/n[k]),
			sigma[k]/n[k], 100*in[k]/n[k])
		if in[k] < 0.9*n[k] {
			t.Errorf("%s: only %.1f %% within two sigma", what, 100*in[k]/n[k])
		}
	}
	if rms := math.Sqrt(square[0] / n[0]); rms > 2.5 {
		t.Errorf("temperatures miss by %v K", rms)
	}
}

// At a station its own values count most; higher up it is colder by the lapse rate; the far side of
// the date line is near; what lies in polar night has no sun.
func TestPlaces(t *testing.T) {
	for i, s := range Stations() {
		e := At(s.Latitude, s.Longitude, s.Elevation, s.Sea)
		if w := Without(i); math.Abs(e.Temperature[0]-s.Temperature[0]) > max(0.5, math.Abs(w.Temperature[0]-s.Temperature[0])) {
			t.Errorf("%s: with its own row %.1f C in January, without %.1f, its own %.1f", s.Name, e.Temperature[0], w.Temperature[0],
				s.Temperature[0])
		}
		for m := range 12 {
			if !(e.Sunshine[m] >= 0 && e.Sunshine[m] <= 0.95) {
				t.Errorf("%s: a share of %v in month %d", s.Name, e.Sunshine[m], m+1)
			}
		}
	}
	low, high := At(47, 8, 400, false), At(47, 8, 900, false)
	if d := low.Temperature[6] - high.Temperature[6]; d < 1.5 || d > 5 {
		t.Errorf("500 m higher it is %v K colder", d)
	}
	if d := distance(0, 179.5, 0, -179.5); math.Abs(d-111.2) > 0.5 {
		t.Errorf("over the date line %v km", d)
	}
	if e := At(78, 15, 10, true); e.Sunshine[0] != 0 || !e.Thin() {
		t.Errorf("polar night with a share of %v; thin %v", e.Sunshine[0], e.Thin())
	}
	if e := At(48.2, 16.4, 200, false); e.Thin() || e.Nearest != "Vienna" {
		t.Errorf("%+v", e)
	}
	if !BySea(59.3, 18.0) || BySea(48.1, 11.6) {
		t.Error("Stockholm lies inland or Munich by the sea")
	}
}

// In the lee of the Great Lakes and in valleys of winter fog January is far darker than on the plains around. The shares are
// recalled from memory of NOAA's averages of possible sunshine; the last two have no row of their own.
func TestDarkWinters(t *testing.T) {
	for _, p := range []struct {
		name                string
		lat, lon, elevation float64
		january, within     float64
	}{
		{"Grand Rapids", 42.96, -85.67, 200, 0.28, 0.04}, {"Erie", 42.13, -80.09, 222, 0.25, 0.04},
		{"Missoula", 46.87, -114, 978, 0.30, 0.04}, {"Kelowna", 49.88, -119.49, 350, 0.16, 0.06},
		{"Fresno", 36.75, -119.77, 94, 0.47, 0.06}, {"Milwaukee", 43.04, -87.91, 190, 0.44, 0.05},
		{"Kalamazoo", 42.29, -85.59, 240, 0.30, 0.06}, {"Yakima", 46.6, -120.5, 325, 0.32, 0.08},
	} {
		e := At(p.lat, p.lon, p.elevation, false)
		if math.Abs(e.Sunshine[0]-p.january) > p.within {
			t.Errorf("%s: %.2f of daylight in January, recalled %.2f", p.name, e.Sunshine[0], p.january)
		}
	}
	// Between two shores that disagree the range is wider than on the plains.
	if lee, plains := At(42.29, -85.59, 240, false), At(41.3, -95.9, 300, false); lee.UWinter < 1.8*plains.UWinter {
		t.Errorf("winter's range is %.3f in the lee of a lake, %.3f on the plains", lee.UWinter, plains.UWinter)
	}
}

// A place is told a range no narrower than the stations around it lie apart: four on a plane do not, one off it does.
func TestNeighborsThatDisagree(t *testing.T) {
	all := Stations()
	weights, at := make([]float64, len(all)), make([][3]float64, len(all))
	var planes [12][3]float64
	for i := range 4 {
		weights[i], at[i] = 1, [3]float64{1}
	}
	want, mean := 0.0, 0.0
	for i := range 4 {
		mean += Mean(&all[i].Sunshine, Dark(50)) / 4
	}
	for i := range 4 {
		d := Mean(&all[i].Sunshine, Dark(50)) - mean
		want += d * d / 4
	}
	for m := range planes {
		planes[m][0] = mean
	}
	if got := apart(weights, at, planes[:], Dark(50)); math.Abs(got-math.Sqrt(want)) > 1e-12 {
		t.Errorf("four stations lie %v apart, by hand %v", got, math.Sqrt(want))
	}
	for i := range all {
		if e := At(all[i].Latitude, all[i].Longitude, all[i].Elevation, all[i].Sea); e.UWinter < e.winterApart {
			t.Errorf("%s: a range of %v where neighbors are %v apart", all[i].Name, e.UWinter, e.winterApart)
		}
	}
}

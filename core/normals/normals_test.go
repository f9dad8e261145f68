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
		if w := Without(i); math.Abs(e.Temperature[0]-s.Temperature[0]) > math.Max(0.5, math.Abs(w.Temperature[0]-s.Temperature[0])) {
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

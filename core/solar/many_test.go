package solar

import (
	"encoding/csv"
	"math"
	"os"
	"strconv"
	"testing"
	"time"
)

// Sun positions of 500 random places and times against two astronomy libraries
// of Debian, PyEphem and Pysolar; testdata/sun.py makes the file. Refraction is
// left out on all sides. Pysolar rounds its difference of clocks (delta T), which
// moves the sun by up to 0.02 degrees.
func TestPositionManyAgainstLibraries(t *testing.T) {
	f, err := os.Open("testdata/sun.csv")
	if err != nil {
		t.Fatal(err)
	}
	defer f.Close()
	rows, err := csv.NewReader(f).ReadAll()
	if err != nil || len(rows) != 501 {
		t.Fatalf("%d rows, %v", len(rows), err)
	}
	num := func(s string) float64 {
		v, err := strconv.ParseFloat(s, 64)
		if err != nil {
			t.Fatal(err)
		}
		return v
	}
	// The angle on the sky between two directions, degrees.
	apart := func(el1, az1, el2, az2 float64) float64 {
		s := math.Pow(sind((el1-el2)/2), 2) + cosd(el1)*cosd(el2)*math.Pow(sind((az1-az2)/2), 2)
		return 2 * math.Asin(math.Sqrt(s)) / deg
	}
	worst := [2]float64{}
	for _, r := range rows[1:] {
		at, err := time.Parse(time.RFC3339, r[0])
		if err != nil {
			t.Fatal(err)
		}
		s := Site{Latitude: num(r[1]), Longitude: num(r[2]), Elevation: num(r[3])}
		p := Position(at, s, 0, 0)
		for i := range 2 {
			d := apart(90-p.TrueZenith, p.Azimuth, num(r[4+2*i]), num(r[5+2*i]))
			worst[i] = max(worst[i], d)
			if d > []float64{0.01, 0.02}[i] {
				t.Errorf("%s at %+v: %.4f degrees from library %d", r[0], s, d, i)
			}
		}
	}
	t.Logf("worst: %.4f degrees from PyEphem, %.4f from Pysolar", worst[0], worst[1])
}

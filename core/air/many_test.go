package air

import (
	"encoding/csv"
	"math"
	"os"
	"strconv"
	"testing"
)

// Moist air in 200 states against PsychroLib; testdata/moist.mjs makes the file.
func TestMoistManyAgainstPsychroLib(t *testing.T) {
	f, err := os.Open("testdata/moist.csv")
	if err != nil {
		t.Fatal(err)
	}
	defer f.Close()
	rows, err := csv.NewReader(f).ReadAll()
	if err != nil || len(rows) != 201 {
		t.Fatalf("%d rows, %v", len(rows), err)
	}
	worst := 0.0
	for _, r := range rows[1:] {
		var v [6]float64
		for i := range v {
			if v[i], err = strconv.ParseFloat(r[i], 64); err != nil {
				t.Fatal(err)
			}
		}
		m, err := NewMoist(v[0], v[1], v[2])
		if err != nil {
			t.Fatal(err)
		}
		d := math.Abs(m.Density()/v[3] - 1)
		worst = max(worst, d)
		if d > 5e-4 || math.Abs(m.DewPoint()-v[4]) > 0.02 || math.Abs(m.Ratio-v[5]) > 1e-3*v[5] {
			t.Errorf("%v C, %v, %v Pa: %v kg/m3, dew point %v, ratio %v; PsychroLib %v", v[0], v[1], v[2], m.Density(), m.DewPoint(),
				m.Ratio, v[3:])
		}
	}
	t.Logf("worst density: %.2g", worst)
}

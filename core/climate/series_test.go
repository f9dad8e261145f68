package climate

import (
	"math"
	"testing"
	"time"
)

// A year in quarters is what the same year gives instant by instant.
func TestSeriesIsTheYear(t *testing.T) {
	h := placed(t, 46, -2, 18, 4.5)
	y, err := Build(&h)
	if err != nil {
		t.Fatal(err)
	}
	s := y.Series(&h)
	sum, by := 0.0, 0.0
	for i := 5; i < len(s.Quarters); i += 11 {
		at := s.Begin.Add(time.Duration(i)*15*time.Minute + 450*time.Second)
		c, q := y.Conditions(&h, at), s.Quarters[i]
		sum += q.Sun.Total()
		by += c.Sun.Total()
		if math.Abs(c.Ambient-q.Ambient) > 1e-9 || math.Abs(c.Sky-q.Sky) > 1e-9 || math.Abs(c.Wind-q.Wind) > 1e-9 ||
			math.Abs(c.Sun.Total()-q.Sun.Total()) > 0.02*c.Sun.Total()+3 {
			t.Fatalf("%v: %+v, in quarters %+v", at, c, q)
		}
	}
	near(t, "sun of the year", sum, by, 0.001*by)
	if got := s.Quarters[181*QuartersInDay+48].Upright; got <= 0 {
		t.Errorf("upright sun at a July noon: %v", got)
	}
}

func BenchmarkBuild(b *testing.B) {
	h := placed(b, 46, -2, 18, 4.5)
	for range b.N {
		if _, err := Build(&h); err != nil {
			b.Fatal(err)
		}
	}
}

func BenchmarkSeries(b *testing.B) {
	h := placed(b, 46, -2, 18, 4.5)
	y, _ := Build(&h)
	for range b.N {
		y.Series(&h)
	}
}

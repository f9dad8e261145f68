package solar

import (
	"math"
	"math/rand/v2"
	"testing"
	"time"
)

func TestAlmanac(t *testing.T) {
	r := rand.New(rand.NewPCG(3, 4))
	for range 20 {
		s := Site{Latitude: r.Float64()*132 - 66, Longitude: r.Float64()*360 - 180, Zone: time.UTC}
		year := 1990 + r.IntN(60)
		a := NewAlmanac(year, s)
		for range 500 {
			at := time.Date(year, 1, 1, 0, 0, r.IntN(365*86400), 0, time.UTC)
			p, q := Position(at, s, 0, 0), a.At(at)
			if math.Abs(p.TrueZenith-q.TrueZenith) > 0.002 || math.Abs(wrap(p.Azimuth-q.Azimuth, -180))*sind(p.TrueZenith) > 0.003 ||
				math.Abs(p.Distance-q.Distance) > 1e-5 {
				t.Fatalf("%v at %+v: %+v, by the almanac %+v", at, s, p, q)
			}
		}
	}
}

func BenchmarkAlmanac(b *testing.B) {
	a := NewAlmanac(2025, Site{Latitude: 46})
	t := time.Date(2025, 1, 1, 9, 0, 0, 0, time.UTC)
	for i := range b.N {
		a.At(t.Add(time.Duration(i%100000) * time.Minute))
	}
}

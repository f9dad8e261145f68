package measure

import (
	"errors"
	"math"
	"testing"
	"time"
)

// even is a log of one rise, a reading a minute.
func even(from time.Time, minutes int, rise float64) (out []Sample) {
	nan := math.NaN()
	for m := range minutes {
		out = append(out, Sample{At: from.Add(time.Duration(m) * time.Minute), Inlet: 20, Outlet: 20 + rise, Outdoor: nan, Sun: nan,
			Speed: nan})
	}
	return out
}

// Two heaters are compared over the time they share, by the square meter. The range of the ratio is by hand: two airflows known to
// 10 % each and probes to 0.5 K at rises of 20 K and 16 K: shares sqrt(0.1^2 + (0.5/20)^2) = 0.1031 and sqrt(0.1^2 + (0.5/16)^2) =
// 0.1048, together 0.1470. The ratio of heats per area is (20/1) / (16/2) = 2.5.
func TestSideBySide(t *testing.T) {
	noon := time.Date(2026, 2, 10, 11, 0, 0, 0, time.UTC)
	sa, sb := Setup{Flow: 0.02, Area: 1}, Setup{Flow: 0.02, Area: 2}
	x, err := SideBySide(even(noon, 240, 20), even(noon.Add(time.Hour), 240, 16), sa, sb)
	if err != nil {
		t.Fatal(err)
	}
	if !x.From.Equal(noon.Add(time.Hour)) || !x.To.Equal(noon.Add(239*time.Minute)) {
		t.Errorf("compared from %v to %v", x.From, x.To)
	}
	if math.Abs(x.Ratio-2.5) > 0.005 { // the specific heat of warmer air is a little larger
		t.Errorf("ratio %v", x.Ratio)
	}
	if u := (x.High - x.Low) / 4 / x.Ratio; math.Abs(u-0.1470) > 0.001 || !x.Telling {
		t.Errorf("share %v, telling %v", u, x.Telling)
	}
	// Equal heaters are a tie, and each way round the ratio is the other's inverse.
	y, _ := SideBySide(even(noon, 240, 20), even(noon, 240, 20), sa, sa)
	if y.Telling || y.Ratio != 1 {
		t.Errorf("equal heaters: %+v", y)
	}
	z, _ := SideBySide(even(noon.Add(time.Hour), 240, 16), even(noon, 240, 20), sb, sa)
	if math.Abs(z.Ratio*x.Ratio-1) > 1e-9 {
		t.Errorf("%v and %v", z.Ratio, x.Ratio)
	}
	// Two hours in which one of them was not logged count for neither.
	holed := append(even(noon, 60, 20), even(noon.Add(3*time.Hour), 60, 20)...)
	if h, err := SideBySide(even(noon, 240, 20), holed, sa, sa); err != nil || math.Abs(h.Ratio-1) > 0.02 || h.Telling {
		t.Errorf("with a gap in one of them: %+v, %v", h, err)
	}
	// What is more than the sun gave is not compared.
	sb.Flow = 0.2
	if r, err := SideBySide(even(noon, 240, 20), even(noon, 240, 16), sa, sb); err != nil || r.Refused != [2]bool{false, true} ||
		!math.IsNaN(r.Ratio) || r.Telling {
		t.Errorf("an impossible log: %+v, %v", r, err)
	}
	for _, far := range []time.Duration{-24 * time.Hour, 220 * time.Minute} {
		if _, err := SideBySide(even(noon, 240, 20), even(noon.Add(far), 240, 16), sa, sb); !errors.Is(err, ErrApart) {
			t.Errorf("%v apart: %v", far, err)
		}
	}
	if _, err := SideBySide(nil, even(noon, 9, 5), sa, sb); !errors.Is(err, ErrApart) {
		t.Error(err)
	}
}

package loads

import (
	"math"
	"testing"

	"gladember/core/design"
	"gladember/core/units"
)

// Velocity pressure against ASCE 7 (recalled from memory): 90 mph (40.2 m/s) is 0.00256 x 90^2 = 20.7 psf = 993 Pa with all factors
// 1; ours is by 1.25 instead of 1.225 kg/m3, 2 % more. EN 1991-1-4: 25 m/s is 0.39 kN/m2.
func TestPressureOfTheCodes(t *testing.T) {
	if got := Pressure(90*units.MeterPerSecondMPH, 10); math.Abs(got/993-1.02) > 0.005 {
		t.Errorf("90 mph press with %v Pa", got)
	}
	if got := Pressure(25, 10); math.Abs(got-390.6) > 0.1 {
		t.Errorf("25 m/s press with %v Pa", got)
	}
	if Pressure(40, 2) != Pressure(40, 5) || Pressure(40, 20) <= Pressure(40, 10) {
		t.Error("the gust does not grow with height from 5 m")
	}
}

// Shape coefficients of EN 1991-1-3 table 5.2: 0.8 up to 30 degrees, 0.4 at 45, none from 60.
func TestShapeOfSnow(t *testing.T) {
	for tilt, want := range map[float64]float64{0: 0.8, 30: 0.8, 45: 0.4, 60: 0, 90: 0} {
		if got := Shape(tilt); math.Abs(got-want) > 1e-9 {
			t.Errorf("%v at %v degrees, the code says %v", got, tilt, want)
		}
	}
}

// By hand: f_ax = 0.52 x 8^-0.5 x 60^-0.1 x 350^0.8 = 13.2 N/mm2, times 8 x 60 mm2 is 6.35 kN, over 2.5 is 2.5 kN for a screw.
func TestWithdrawalByHand(t *testing.T) {
	if math.Abs(Withdrawal-2540) > 50 {
		t.Errorf("a screw holds %v N", Withdrawal)
	}
}

func fixing(t *testing.T, cs ...design.Change) Fixing {
	t.Helper()
	h, err := design.Named("back-pass-plate")
	if err != nil {
		t.Fatal(err)
	}
	if h, err = design.Apply(h, units.System{}, cs...); err != nil {
		t.Fatal(err)
	}
	return Estimate(&h, 50)
}

// By hand: 2.036 x 1.036 m upright, gusts of 40 m/s at 5 m: 0.625 x (40 x 0.5^0.11)^2 = 858 Pa, times 1.4 and 2.109 m2 is 2.53 kN, one
// screw; 490 N of weight in shear is 0.6 of one: at least four are used. More wind, more snow, a larger mass never ask for fewer.
func TestFixingByHand(t *testing.T) {
	set := func(path string, v any) design.Change { return design.Change{Path: path, Value: v} }
	up := []design.Change{set("place.tilt_deg", 90.0), set("site.gust_m_s", 40.0), set("place.above_ground_m", 2.0), set("site.snow_pa",
		2000.0)}
	f := fixing(t, up...)
	area := 2.036 * 1.036
	if want := 1.4 * 0.625 * math.Pow(40*math.Pow(0.5, 0.11), 2) * area; math.Abs(f.Wind/want-1) > 0.02 || f.Snow != 0 ||
		f.Screws != 4 || f.Engineer != nil {
		t.Errorf("%+v, by hand %v N", f, want)
	}
	last := 0
	for _, gust := range []float64{20, 40, 60, 80, 100} {
		x := fixing(t, append(up, set("site.gust_m_s", gust))...)
		if x.Screws < last || gust > stormy && x.Engineer == nil {
			t.Errorf("%v m/s: %+v after %d screws", gust, x, last)
		}
		last = x.Screws
	}
	roof := fixing(t, append(up, set("place.tilt_deg", 35.0))...)
	if roof.Engineer == nil || roof.Snow <= 0 {
		t.Errorf("on a roof: %+v", roof)
	}
}

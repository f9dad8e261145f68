package loads

import (
	"math"
	"strings"
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
	up := []design.Change{set(design.PlaceTilt.Path, 90.0), set(design.SiteGust.Path, 40.0), set(design.PlaceAboveGround.Path, 2.0),
		set(design.SiteSnow.Path,
			2000.0)}
	f := fixing(t, up...)
	area := 2.036 * 1.036
	if want := 1.4 * 0.625 * math.Pow(40*math.Pow(0.5, 0.11), 2) * area; math.Abs(f.Wind/want-1) > 0.02 || f.Snow != 0 ||
		f.Screws != 4 || f.Engineer != nil {
		t.Errorf("%+v, by hand %v N", f, want)
	}
	last := 0
	for _, gust := range []float64{20, 40, 60, 80, 100} {
		x := fixing(t, append(up, set(design.SiteGust.Path, gust))...)
		if x.Screws < last || gust > stormy && x.Engineer == nil {
			t.Errorf("%v m/s: %+v after %d screws", gust, x, last)
		}
		last = x.Screws
	}
	roof := fixing(t, append(up, set(design.PlaceTilt.Path, 35.0))...)
	if roof.Engineer == nil || roof.Snow <= 0 {
		t.Errorf("on a roof: %+v", roof)
	}
}

// Without the code's own value the load of snow is asked for and computed nowhere: not from the elevation, and it neither calls an
// engineer nor lets one be forgone. Where a town's value is known from memory, it is offered as a range.
func TestSnowIsAskedFor(t *testing.T) {
	set := func(path string, v any) design.Change { return design.Change{Path: path, Value: v} }
	at := func(lat, lon, elevation float64, more ...design.Change) Fixing {
		return fixing(t, append([]design.Change{set(design.PlaceLatitude.Path, lat), set(design.PlaceLongitude.Path, lon),
			set(design.PlaceElevation.Path, elevation),
			set(design.PlaceTilt.Path, 55.0)}, more...)...)
	}
	denver := at(39.74, -104.99, 1609)
	if ask := denver.Ask.In(units.System{Inches: true}); denver.Snow != 0 || !strings.Contains(ask, "building department") ||
		!strings.Contains(ask, "25") || !strings.Contains(ask, "35") || !strings.Contains(ask, "memory") {
		t.Errorf("Denver: %v N of snow, %q", denver.Snow, ask)
	}
	low, high := at(46, 9, 200), at(46, 9, 2500)
	if low.Snow != 0 || high.Snow != 0 || len(high.Engineer) != len(low.Engineer) || high.Ask.In(units.System{}) == "" {
		t.Errorf("high up %v N of snow and %d reasons for an engineer, low down %v and %d", high.Snow, len(high.Engineer), low.Snow,
			len(low.Engineer))
	}
	if known := at(39.74, -104.99, 1609, set(design.SiteSnow.Path, 1500.0)); known.Ask.In(units.System{}) != "" || known.Snow <= 0 {
		t.Errorf("with the code's value it asks %q and has %v N", known.Ask.In(units.System{}), known.Snow)
	}
	if upright := fixing(t, set(design.PlaceTilt.Path, 90.0)); upright.Ask.In(units.System{}) != "" {
		t.Error("snow is asked for on an upright box")
	}
}

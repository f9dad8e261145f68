package airflow

import (
	"fmt"
	"math"
	"math/rand/v2"
	"testing"

	"gladember/core/air"
	"gladember/core/heattransfer"
	"gladember/core/units"
)

func within(t *testing.T, what string, got, want, share float64) {
	t.Helper()
	if !(math.Abs(got-want) <= share*math.Abs(want)) {
		t.Errorf("%s = %.6g, want %.6g within %.2g %%", what, got, want, share*100)
	}
}

// Moody chart values by Colebrook; laminar constants of Shah & London.
func TestFriction(t *testing.T) {
	for _, c := range []struct{ re, rough, f float64 }{{1e5, 1e-4, 0.0185}, {1e5, 1e-3, 0.0222}, {1e6, 1e-2, 0.0380}} {
		within(t, fmt.Sprintf("f(%g, %g)", c.re, c.rough), Friction(c.re, c.rough, heattransfer.Round), c.f, 0.005)
	}
	for s, c := range map[heattransfer.Section]float64{heattransfer.Round: 64, heattransfer.Slot: 96, heattransfer.Rectangle(1, 1): 56.9} {
		within(t, "laminar", Friction(800, 0, s), c/800, 0.001)
	}
}

// ASHRAE friction chart, galvanized duct, roughness 0.09 mm, standard air.
func TestFrictionChartASHRAE(t *testing.T) {
	for _, c := range []struct{ inch, cfm, inwg float64 }{{4, 100, 0.60}, {6, 100, 0.083}, {8, 400, 0.255}} {
		d := Duct{Diameter: c.inch * units.MeterPerInch, Length: 100 * units.MeterPerFoot, Roughness: 0.09e-3}
		p := 1.2 * air.GasDry * (20 + air.Kelvin) // 1.2 kg/m3 at 20 C
		dp := d.Loss(c.cfm*units.CubicMeterPerCFM*1.2, 20, p)
		within(t, fmt.Sprintf("%v in, %v cfm", c.inch, c.cfm), dp/units.PascalPerInchWG, c.inwg, 0.05)
	}
}

// The point found satisfies both curves; more resistance never moves more
// air; the flow never reaches the fan's rating.
func TestOperatingPointProperties(t *testing.T) {
	r := rand.New(rand.NewPCG(11, 12))
	for range 1000 {
		f := Fan{FreeAir: 0.01 + 0.1*r.Float64(), ShutOff: 10 + 200*r.Float64(), Radial: r.IntN(2) == 0}
		d := Duct{Diameter: 0.075 + 0.15*r.Float64(), Length: 1 + 10*r.Float64(), Roughness: 1e-4, Fittings: 1 + 5*r.Float64()}
		s := System{Cold: []Element{d}, Box: []Element{d}, Hot: []Element{d}, FanAtHot: r.IntN(2) == 0}
		pt, err := OperatingPoint(f, s, 15, 50, 95000)
		if err != nil {
			t.Fatal(err)
		}
		a, b, c := s.Losses(pt.Mass, 15, 50, 95000)
		within(t, "pressures", a+b+c, pt.Pressure, 1e-6)
		if pt.Volume >= f.FreeAir {
			t.Fatalf("flow %v reached free air %v", pt.Volume, f.FreeAir)
		}
		d.Fittings++
		s.Hot = []Element{d}
		if q, _ := OperatingPoint(f, s, 15, 50, 95000); q.Mass >= pt.Mass {
			t.Fatal("more resistance moved more air")
		}
	}
	if _, err := OperatingPoint(Fan{}, System{}, 15, 50, 1e5); err == nil {
		t.Error("a fan without figures was accepted")
	}
}

func ExampleOperatingPoint() {
	fan := Fan{FreeAir: 100 * units.CubicMeterPerCFM, ShutOff: 40}
	duct := Duct{Diameter: 0.1, Length: 6, Roughness: 0.0009, Fittings: 4}
	p, _ := OperatingPoint(fan, System{Cold: []Element{duct}}, 18, 18, air.SeaLevel)
	fmt.Printf("%.0f of 100 cfm\n", p.Volume/units.CubicMeterPerCFM)
	// Output: 41 of 100 cfm
}

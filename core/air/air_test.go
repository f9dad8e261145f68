package air

import (
	"fmt"
	"math"
	"testing"

	"gladember/core/units"
)

func within(t *testing.T, what string, got, want, share float64) {
	t.Helper()
	if math.Abs(got-want) > share*math.Abs(want) {
		t.Errorf("%s = %.6g, want %.6g within %.2g %%", what, got, want, share*100)
	}
}

// Incropera & DeWitt table A.4; its densities are at 1 bar.
func TestIncroperaTableA4(t *testing.T) {
	for _, c := range []struct{ k, rho, cp, mu, kk, pr float64 }{
		{300, 1.1614, 1007, 184.6e-7, 26.3e-3, 0.707},
		{350, 0.9950, 1009, 208.2e-7, 30.0e-3, 0.700},
	} {
		tc := c.k - Kelvin
		within(t, "density", Density(tc, 1e5), c.rho, 0.002)
		within(t, "cp", Cp(tc), c.cp, 0.008)
		within(t, "viscosity", Viscosity(tc), c.mu, 0.008)
		within(t, "conductivity", Conductivity(tc), c.kk, 0.008)
		within(t, "Prandtl", Prandtl(tc), c.pr, 0.008)
	}
	within(t, "density 300 K", Density(300-Kelvin, SeaLevel), 1.1766, 0.001)
	within(t, "density 350 K", Density(350-Kelvin, SeaLevel), 1.0085, 0.001)
}

// ASHRAE moist air as computed by PsychroLib.
func TestMoistAirPsychroLib(t *testing.T) {
	pressure := func(z float64) float64 { return SeaLevel * math.Pow(1-2.25577e-5*z, 5.2559) }
	for _, c := range []struct{ t, rh, z, rho, dew float64 }{
		{20, 0.40, 0, 1.1999, 6.00},
		{20, 0.50, 1500, 0.9996, math.NaN()},
		{-10, 0.80, 600, 1.2477, math.NaN()},
		{35, 0.60, 0, 1.1311, 26.07},
		{40, 0.20, 1000, 0.9936, 12.78},
	} {
		m, err := NewMoist(c.t, c.rh, pressure(c.z))
		if err != nil {
			t.Fatal(err)
		}
		within(t, "density", m.Density(), c.rho, 0.002)
		if !math.IsNaN(c.dew) && math.Abs(m.DewPoint()-c.dew) > 0.03 {
			t.Errorf("dew point of %v C %v = %.3f, want %v", c.t, c.rh, m.DewPoint(), c.dew)
		}
	}
	for _, bad := range [][3]float64{{20, 1.2, 1e5}, {20, -0.1, 1e5}, {400, 0.5, 1e5}, {20, math.NaN(), 1e5}} {
		if _, err := NewMoist(bad[0], bad[1], bad[2]); err == nil {
			t.Errorf("NewMoist(%v) did not refuse", bad)
		}
	}
}

// FAO-56: es(24.5 C) = 3.075 kPa (its own formula; 0.5 %).
func TestSaturationFAO56(t *testing.T) {
	within(t, "es 24.5", SaturationPressure(24.5), 3075, 0.005)
	within(t, "no step at the triple point", SaturationPressure(0.0099)/SaturationPressure(0.0101), 1, 1e-4)
}

// ISO 2533: 1000, 1500, 3000 m at 8.5, 5.25, -4.5 C.
func TestStandardAtmosphereDensity(t *testing.T) {
	for _, c := range []struct{ z, rho float64 }{{1000, 1.1116}, {1500, 1.0581}, {3000, 0.9091}} {
		p := SeaLevel * math.Pow(1-2.25577e-5*c.z, 5.25588)
		within(t, fmt.Sprint(c.z, " m"), Density(15-0.0065*c.z, p), c.rho, 0.001)
	}
}

// ASHRAE Fundamentals: 2 m of air at 60 C beside 15 C, dry, 101,325 Pa.
func TestStackPressure(t *testing.T) {
	within(t, "stack", StackPressure(2, 60, 15, SeaLevel), 3.25, 0.005)
}

// ASHRAE's sensible heat rule: 50 cfm of standard air (0.075 lb/ft3) by 41 F
// is 1.08 x 50 x 41 = 2,214 BTU/h.
func TestSensibleHeat(t *testing.T) {
	rho := 0.075 * 0.45359237 / math.Pow(units.MeterPerFoot, 3)
	q := 50 * units.CubicMeterPerCFM * rho * Cp(21) * 41 * 5 / 9
	within(t, "W", q, 2214*units.WattPerBTUPerHour, 0.005)
}

func ExampleMoist_DewPoint() {
	m, _ := NewMoist(20, 0.4, SeaLevel)
	fmt.Printf("%.1f\n", m.DewPoint())
	// Output: 6.0
}

// Package air gives the properties of dry and moist air that a heat and flow
// computation needs, at the pressure of the place.
//
// Temperatures are degrees Celsius unless the name says K, pressures Pa,
// densities kg/m3. Transport properties hold for -40..250 C and are those of
// dry air: moisture changes them by well under 1 % here.
package air

import (
	"fmt"
	"math"

	"gladember/core/internal/root"
)

// Constants of dry air and water vapor.
const (
	Kelvin     = 273.15
	GasDry     = 287.042 // J/kgK, ASHRAE Fundamentals ch. 1
	MolarRatio = 0.621945
	SeaLevel   = 101325.0 // Pa
	CpVapor    = 1860.0   // J/kgK
)

// Cp returns the specific heat of dry air, J/kgK, within 0.1 % for -40..250 C.
// A parabola through Incropera & DeWitt table A.4 (250-450 K).
func Cp(t float64) float64 {
	k := t + Kelvin
	return 1006.0 + 4.5e-4*(k-262)*(k-262)
}

// Viscosity returns the dynamic viscosity, Pa s. Source: Sutherland's law,
// constants 1.458e-6 and 110.4 K (US Standard Atmosphere 1976).
func Viscosity(t float64) float64 {
	k := t + Kelvin
	return 1.458e-6 * k * math.Sqrt(k) / (k + 110.4)
}

// Conductivity returns the thermal conductivity, W/mK. Source: US Standard
// Atmosphere 1976, eq. 53.
func Conductivity(t float64) float64 {
	k := t + Kelvin
	return 2.64638e-3 * k * math.Sqrt(k) / (k + 245.4*math.Exp(-12*math.Ln10/k))
}

// Prandtl returns the Prandtl number.
func Prandtl(t float64) float64 { return Cp(t) * Viscosity(t) / Conductivity(t) }

// Density returns the density of dry air at t and pressure p, kg/m3.
func Density(t, p float64) float64 { return p / (GasDry * (t + Kelvin)) }

// SaturationPressure returns the vapor pressure over water (over ice below
// 0.01 C), Pa, for -100..200 C. Source: Hyland & Wexler 1983 as in ASHRAE
// Fundamentals ch. 1, eqs. 5 and 6.
func SaturationPressure(t float64) float64 {
	k := t + Kelvin
	if t < 0.01 {
		return math.Exp(-5.6745359e3/k + 6.3925247 - 9.677843e-3*k + 6.2215701e-7*k*k +
			2.0747825e-9*k*k*k - 9.484024e-13*k*k*k*k + 4.1635019*math.Log(k))
	}
	return math.Exp(-5.8002206e3/k + 1.3914993 - 4.8640239e-2*k + 4.1764768e-5*k*k -
		1.4452093e-8*k*k*k + 6.5459673*math.Log(k))
}

// Moist is air with water in it.
type Moist struct {
	Temperature float64 // C
	Pressure    float64 // Pa
	Ratio       float64 // kg water per kg dry air
}

// NewMoist returns air of temperature t (C), relative humidity rh (0..1) and
// pressure p (Pa). It refuses states outside those ranges.
func NewMoist(t, rh, p float64) (Moist, error) {
	if !(rh >= 0 && rh <= 1) {
		return Moist{}, fmt.Errorf("relative humidity %v: give a share between 0 and 1", rh)
	}
	if !(t > -100 && t < 200) || !(p > 20000 && p < 120000) {
		return Moist{}, fmt.Errorf("air at %v C and %v Pa is outside -100..200 C and 20000..120000 Pa", t, p)
	}
	pw := rh * SaturationPressure(t)
	return Moist{t, p, MolarRatio * pw / (p - pw)}, nil
}

// VaporPressure returns the partial pressure of the water, Pa.
func (m Moist) VaporPressure() float64 {
	return m.Pressure * m.Ratio / (MolarRatio + m.Ratio)
}

// Density returns kg of moist air per m3. ASHRAE Fundamentals ch. 1, eq. 26.
// Only tests reach it, as a reference.
func (m Moist) Density() float64 {
	v := GasDry * (m.Temperature + Kelvin) * (1 + 1.607858*m.Ratio) / m.Pressure
	return (1 + m.Ratio) / v
}

// Cp returns the specific heat per kg of moist air, J/kgK.
// Only tests reach it, as a reference.
func (m Moist) Cp() float64 { return (Cp(m.Temperature) + m.Ratio*CpVapor) / (1 + m.Ratio) }

// DewPoint returns the temperature, C, at which the vapor would saturate:
// over ice it is the frost point. Dry air returns -100.
func (m Moist) DewPoint() float64 {
	pw := m.VaporPressure()
	if pw <= SaturationPressure(-100) {
		return -100
	}
	lo, hi := root.Bisect(-100, 200, 32, func(t float64) bool { return SaturationPressure(t) < pw }) // to 1e-7 K
	return (lo + hi) / 2
}

// StackPressure returns the draft in Pa of a column of dry air height m tall
// at inside C beside one at outside C, at pressure p.
// Source: ASHRAE Fundamentals ch. 16, stack effect.
// Only tests reach it, as a reference.
func StackPressure(height, inside, outside, p float64) float64 {
	return (Density(outside, p) - Density(inside, p)) * 9.80665 * height
}

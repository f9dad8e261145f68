// Package heattransfer holds the surface coefficients of a solar air heater:
// sealed gaps, wind, channels and wires in cross flow.
//
// Every function takes SI values and dimensionless groups, returns a Nusselt
// number or a coefficient in W/m2K, and names its source and range. Outside
// the range the value at the nearest edge is kept, so that results stay
// continuous.
package heattransfer

import (
	"math"

	"gladember/core/air"
)

// Sigma is the Stefan-Boltzmann constant, W/m2K4 (CODATA 2018).
const Sigma = 5.670374419e-8

// Gravity is the standard acceleration of free fall, m/s2.
const Gravity = 9.80665

// Rayleigh returns the Rayleigh number of air at mean temperature tm (C) and
// pressure p (Pa) for a difference dt (K) across or along a length l (m).
func Rayleigh(tm, p, dt, l float64) float64 {
	nu := air.Viscosity(tm) / air.Density(tm, p)
	return Gravity / (tm + air.Kelvin) * math.Abs(dt) * l * l * l / (nu * nu) * air.Prandtl(tm)
}

// GapHollands returns the Nusselt number of a closed gap heated from below at
// a tilt of 0..75 degrees. Source: Hollands, Unny, Raithby & Konicek, J. Heat
// Transfer 98 (1976), as D&B eq. 3.11.4; Ra up to 1e5, used beyond.
func GapHollands(ra, tilt float64) float64 {
	b := tilt * math.Pi / 180
	rc := ra * math.Cos(b)
	if rc <= 0 {
		return 1
	}
	plus := func(x float64) float64 { return math.Max(0, x) }
	return 1 + 1.44*plus(1-1708/rc)*(1-1708*math.Pow(math.Sin(1.8*b), 1.6)/rc) + plus(math.Cbrt(rc/5830)-1)
}

// GapElSherbiny returns the Nusselt number of an upright closed gap with
// height over width aspect. Source: ElSherbiny, Raithby & Hollands, J. Heat
// Transfer 104 (1982), eq. for 90 degrees; Ra 1e2..2e7, aspect 5..110.
func GapElSherbiny(ra, aspect float64) float64 {
	if ra <= 0 {
		return 1
	}
	n1 := 0.0605 * math.Cbrt(ra)
	n2 := math.Cbrt(1 + math.Pow(0.104*math.Pow(ra, 0.293)/(1+math.Pow(6310/ra, 1.36)), 3))
	n3 := 0.242 * math.Pow(ra/math.Max(5, aspect), 0.272)
	return math.Max(n1, math.Max(n2, n3))
}

// Gap returns the Nusselt number of a closed gap of the given tilt (0..90
// degrees). dt is the temperature of the rear (lower) face less that of the
// front: negative means heated from above. Hollands to 75 degrees, ElSherbiny
// at 90, straight between; heated from above after Arnold, Catton & Edwards,
// J. Heat Transfer 98 (1976): 1 + (Nu90 - 1) sin tilt.
func Gap(ra, tilt, aspect, dt float64) float64 {
	n90 := GapElSherbiny(ra, aspect)
	if dt < 0 {
		return 1 + (n90-1)*math.Sin(tilt*math.Pi/180)
	}
	if tilt <= 75 {
		return GapHollands(ra, tilt)
	}
	w := math.Min(1, (tilt-75)/15)
	return (1-w)*GapHollands(ra, 75) + w*n90
}

// GapCoefficient returns the convective coefficient, W/m2K, between the faces
// of a closed gap: rear and front in C, width and height in m, tilt in degrees.
func GapCoefficient(rear, front, width, height, tilt, p float64) float64 {
	tm := (rear + front) / 2
	ra := Rayleigh(tm, p, rear-front, width)
	return Gap(ra, tilt, height/width, rear-front) * air.Conductivity(tm) / width
}

// UprightPlate returns the mean Nusselt number of free convection on an
// upright plate. Source: Churchill & Chu 1975 for all Ra, as Incropera eq. 9.26.
func UprightPlate(ra, pr float64) float64 {
	x := 0.825 + 0.387*math.Sqrt(math.Cbrt(ra))/math.Pow(1+math.Pow(0.492/pr, 9.0/16), 8.0/27)
	return x * x
}

// Watmuff returns the wind's coefficient on the cover, W/m2K, for a wind of v
// m/s, without radiation. Source: Watmuff, Charters & Proctor 1977:
// 2.8 + 3.0 v, for v below 7 m/s.
func Watmuff(v float64) float64 { return 2.8 + 3.0*math.Max(0, v) }

// Outer returns the convective coefficient on the outside of the cover: the
// wind's part of Watmuff blended by the cube with free convection of a plate
// height m tall, so that a windless noon is right. Temperatures in C.
func Outer(v, cover, ambient, height, p float64) float64 {
	tm := (cover + ambient) / 2
	free := UprightPlate(Rayleigh(tm, p, cover-ambient, height), air.Prandtl(tm)) * air.Conductivity(tm) / height
	// Watmuff's constant is the still-air part of the wind tunnel.
	wind := 3.0*math.Max(0, v) + 2.8*math.Min(1, math.Max(0, v))
	return math.Cbrt(free*free*free + wind*wind*wind)
}

// Slot returns the mean Nusselt number, on the hydraulic diameter dh, of air in
// a wide slot heated on one side over a length l. Laminar: 5.39 for even
// heating (Shah & London 1978) with the entrance term of D&B eq. 3.14.7;
// turbulent: [Gnielinski]; straight between Re 2300 and 4000 (Gnielinski 2013).
func Slot(re, pr, dh, l float64) float64 {
	laminar := func(re float64) float64 {
		gz := re * pr * dh / l
		return 5.39 + 0.0606*math.Pow(gz, 1.2)/(1+0.0909*math.Pow(gz, 0.7)*math.Pow(pr, 0.17))
	}
	return blend(re, laminar, func(re float64) float64 { return Gnielinski(re, pr, dh/l) })
}

func blend(re float64, laminar, turbulent func(float64) float64) float64 {
	switch {
	case re <= 2300:
		return laminar(math.Max(re, 0))
	case re >= 4000:
		return turbulent(re)
	}
	w := (re - 2300) / 1700
	return (1-w)*laminar(2300) + w*turbulent(4000)
}

// Petukhov returns the Darcy friction factor of a smooth tube as Gnielinski's
// formula wants it: (0.79 ln Re - 1.64)^-2.
func Petukhov(re float64) float64 {
	x := 0.79*math.Log(re) - 1.64
	return 1 / (x * x)
}

// Gnielinski returns the Nusselt number of turbulent flow, Re 2300..5e6, with
// his entrance correction 1 + (d/l)^(2/3); pass 0 for a long tube.
// Source: Gnielinski 1976, as Incropera eq. 8.62.
func Gnielinski(re, pr, dOverL float64) float64 {
	f := Petukhov(re) / 8
	return f * (re - 1000) * pr / (1 + 12.7*math.Sqrt(f)*(math.Pow(pr, 2.0/3)-1)) * (1 + math.Pow(dOverL, 2.0/3))
}

// Wire returns the Nusselt number on the diameter of a thin wire in cross
// flow at film temperature, Re 0.02..44. Source: Collis & Williams, J. Fluid
// Mech. 6 (1959), with its temperature loading left out (it is under 1 % here).
func Wire(re float64) float64 {
	return 0.24 + 0.56*math.Pow(math.Max(0.02, math.Min(44, re)), 0.45)
}

// WireScreenLoss returns the pressure loss coefficient of a woven screen on the
// approach velocity, for open share open (0..1) and wire Reynolds number re.
// Source: Brundrett, J. Fluids Engineering 115 (1993), wire Re 1e-4..1e4.
func WireScreenLoss(re, open float64) float64 {
	re = math.Max(re, 1e-3)
	return (7.125/re + 0.88/math.Log10(re+1.25) + 0.055*math.Log10(re)) * (1 - open*open) / (open * open)
}

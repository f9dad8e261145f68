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
	ra, _ := rayleigh(tm, p, dt, l)
	return ra
}

// rayleigh returns it with the conductivity that it was worked out with, W/mK.
func rayleigh(tm, p, dt, l float64) (ra, k float64) {
	mu, rho := air.Viscosity(tm), air.Density(tm, p)
	k = air.Conductivity(tm)
	return Gravity / (tm + air.Kelvin) * math.Abs(dt) * l * l * l * rho * rho * air.Cp(tm) / (mu * k), k
}

var ln6310 = math.Log(6310)

// GapElSherbiny returns the Nusselt number of an upright closed gap with
// height over width aspect. Source: ElSherbiny, Raithby & Hollands, J. Heat
// Transfer 104 (1982), eq. for 90 degrees; Ra 1e2..2e7, aspect 5..110.
func GapElSherbiny(ra, aspect float64) float64 {
	if ra <= 0 {
		return 1
	}
	l := math.Log(ra)
	n1 := 0.0605 * math.Cbrt(ra)
	x := 0.104 * math.Exp(0.293*l) / (1 + math.Exp(1.36*(ln6310-l)))
	n2 := math.Cbrt(1 + x*x*x)
	n3 := 0.242 * math.Exp(0.272*(l-math.Log(max(5, aspect))))
	return max(n1, max(n2, n3))
}

// Cavity is a closed gap at a tilt: what its Nusselt number needs, worked out
// once. The zero value is no cavity; make one with [NewCavity].
type Cavity struct {
	tilt, aspect      float64
	sin, cos, sin1875 float64 // of the tilt, and sin(1.8 tilt)^1.6, all at 75 degrees or less
}

// NewCavity returns a gap of a tilt (0..90 degrees) with height over width
// aspect (held at 5 or more).
func NewCavity(tilt, aspect float64) Cavity {
	b := tilt * math.Pi / 180
	c := min(b, 75*math.Pi/180)
	return Cavity{tilt, max(5, aspect), math.Sin(b), math.Cos(c), math.Pow(max(0, math.Sin(1.8*c)), 1.6)}
}

// Nusselt returns the Nusselt number for a Rayleigh number on the width. dt is
// the temperature of the rear (lower) face less that of the front: negative
// means heated from above. Hollands to 75 degrees, ElSherbiny at 90, straight
// between; heated from above after Arnold, Catton & Edwards, J. Heat Transfer
// 98 (1976): 1 + (Nu90 - 1) sin tilt.
func (c Cavity) Nusselt(ra, dt float64) float64 {
	if dt >= 0 && c.tilt <= 75 {
		return c.hollands(ra)
	}
	n90 := GapElSherbiny(ra, c.aspect)
	if dt < 0 {
		return 1 + (n90-1)*c.sin
	}
	w := min(1, (c.tilt-75)/15)
	if w == 1 {
		return n90
	}
	return (1-w)*c.hollands(ra) + w*n90
}

// hollands is the Nusselt number of a gap heated from below at a tilt of 0..75
// degrees. Source: Hollands, Unny, Raithby & Konicek, J. Heat Transfer 98
// (1976), as D&B eq. 3.11.4; Ra up to 1e5, used beyond.
func (c Cavity) hollands(ra float64) float64 {
	rc := ra * c.cos
	if rc <= 1708 {
		return 1
	}
	nu := 1 + 1.44*(1-1708/rc)*(1-1708*c.sin1875/rc)
	if rc > 5830 {
		nu += math.Cbrt(rc/5830) - 1
	}
	return nu
}

// Coefficient returns the convective coefficient, W/m2K, between the faces of
// the gap: rear and front in C, width in m, p in Pa.
func (c Cavity) Coefficient(rear, front, width, p float64) float64 {
	tm := (rear + front) / 2
	ra, k := rayleigh(tm, p, rear-front, width)
	return c.Nusselt(ra, rear-front) * k / width
}

// Excess returns by how much the convective coefficient of [Cavity.Coefficient]
// lies over conduction, W/m2K, for a difference dt from the rear to the front
// face about tm.
func (c Cavity) Excess(tm, dt, width, p float64) float64 {
	ra, k := rayleigh(tm, p, dt, width)
	return (c.Nusselt(ra, dt) - 1) * k / width
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
// Only tests reach it, as a reference.
func Watmuff(v float64) float64 { return 2.8 + 3.0*max(0, v) }

// Outer returns the convective coefficient on the outside of the cover: the
// wind's part of Watmuff blended by the cube with free convection of a plate
// height m tall, so that a windless noon is right. Temperatures in C.
func Outer(v, cover, ambient, height, p float64) float64 {
	tm := (cover + ambient) / 2
	free := UprightPlate(Rayleigh(tm, p, cover-ambient, height), air.Prandtl(tm)) * air.Conductivity(tm) / height
	// Watmuff's constant is the still-air part of the wind tunnel.
	wind := 3.0*max(0, v) + 2.8*min(1, max(0, v))
	return math.Cbrt(free*free*free + wind*wind*wind)
}

// Section is the cross section of a passage: it sets the laminar constants and
// the equivalent Reynolds number of turbulent flow. The zero value is round.
type Section struct {
	rectangular bool
	aspect      float64 // short side over long side, 0..1
}

// Round is a tube; Slot is a passage much wider than deep.
var (
	Round = Section{}
	Slot  = Section{rectangular: true}
)

// Rectangle is a passage with sides a and b, m.
func Rectangle(a, b float64) Section {
	if !(a > 0) || !(b > 0) {
		return Slot
	}
	return Section{true, min(a, b) / max(a, b)}
}

// poly is a polynomial by Horner, its lowest coefficient first.
func poly(x float64, c ...float64) float64 {
	v := 0.0
	for i := len(c) - 1; i >= 0; i-- {
		v = v*x + c[i]
	}
	return v
}

// FrictionRe returns the Darcy friction factor times Re of laminar flow: 64
// round, 96 wide slot, 56.9 square. Source: Shah & London 1978.
func (s Section) FrictionRe() float64 {
	if !s.rectangular {
		return 64
	}
	return 96 * poly(s.aspect, 1, -1.3553, 1.9467, -1.7012, 0.9564, -0.2537)
}

// NuEven returns the laminar Nusselt number of a passage that takes the same
// heat all round: 4.36 round, 3.61 square, 8.24 for a wide slot. Source: Shah &
// London 1978.
func (s Section) NuEven() float64 {
	if !s.rectangular {
		return 4.364
	}
	return 8.235 * poly(s.aspect, 1, -2.0421, 3.0853, -2.4765, 1.0578, -0.1861)
}

// NuAcross returns the laminar Nusselt number, from each half of the wall to
// the mean of the air, of heat that enters by one half and leaves by the other:
// 4 for a wide slot, which is conduction across it; 2 round (Kays & Crawford,
// heating that varies around a tube as the cosine, recalled from memory);
// straight between for rectangles, our own. A slot heated on one side follows
// from both: 2/(1/8.235 + 1/4) = 5.385 (Shah & London 1978).
func (s Section) NuAcross() float64 {
	if !s.rectangular {
		return 2
	}
	return 4 - 2*s.aspect
}

// NuWall returns the laminar Nusselt number for walls of one temperature: 3.66
// round, 2.98 square; 4.86 for a wide slot heated on one side. Source: Shah &
// London 1978, the rectangle's polynomial for heating all round brought to the
// slot's 4.86.
func (s Section) NuWall() float64 {
	if !s.rectangular {
		return 3.657
	}
	all := 7.541 * poly(s.aspect, 1, -2.610, 4.970, -5.119, 2.702, -0.548)
	return all * (1 + (4.861/7.541-1)*(1-s.aspect)*(1-s.aspect))
}

// TurbulentRe returns the factor on the Reynolds number by which turbulent
// friction in the section follows that of a tube. Source: Jones 1976.
func (s Section) TurbulentRe() float64 {
	if !s.rectangular {
		return 1
	}
	return 2.0/3 + 11.0/24*s.aspect*(2-s.aspect)
}

// farFace is by how much a face's temperature over the air changes with the
// heat that the other face of a wide slot gives, as a share, in turbulent flow.
// Source: Kays & Leung 1963, Re 1e4, Pr 0.7 (recalled from memory); 0.346 in
// laminar flow follows from [Section.NuAcross]. bothFaces is the Nusselt number
// of a slot heated on both faces over that of a tube: with it one heated face
// has 26.4 at Re 1e4, midway between 25.0 (D&B eq. 3.14.6) and 27.8 (Kays &
// Leung).
const (
	farFace   = 0.22
	bothFaces = 1.135
)

// Channel returns the mean Nusselt numbers, on the hydraulic diameter dh, of
// air in a passage over a length l after its entrance: even for heat that
// enters all round, across for heat that enters by one half of the wall and
// leaves by the other. A face that is heated alone has 2/(1/even + 1/across).
// Laminar: the section's constants with the entrance term of D&B eq. 3.14.7,
// scaled by them. Turbulent: [Gnielinski], times 1.135 in a wide slot, straight
// between by the sides' ratio; straight between laminar and turbulent from Re
// 2300 to 4000 (Gnielinski 2013).
func Channel(s Section, re, pr, dh, l float64) (even, across float64) {
	entrance := func(re float64) float64 {
		gz := re * pr * dh / l
		return 1 + 0.0606*math.Pow(gz, 1.2)/(1+0.0909*math.Pow(gz, 0.7)*math.Pow(pr, 0.17))/5.385
	}
	turbulent := func(re float64) (even, across float64) {
		even = Gnielinski(re, pr, dh/l)
		if s.rectangular {
			even *= 1 + (bothFaces-1)*(1-s.aspect)
		}
		return even, even * (1 - farFace) / (1 + farFace)
	}
	switch {
	case re <= 2300:
		e := entrance(max(re, 0))
		return s.NuEven() * e, s.NuAcross() * e
	case re >= 4000:
		return turbulent(re)
	}
	w := (re - 2300) / 1700
	e := (1 - w) * entrance(2300)
	even, across = turbulent(4000)
	return s.NuEven()*e + w*even, s.NuAcross()*e + w*across
}

// RoughGain returns how many times the heat transfer of a smooth tube a rough
// one gives, for the ratio of their friction factors (held at 4, beyond which
// none is gained). Source: Norris 1970, as in Kays & Crawford: the ratio to
// the power 0.68 Pr^0.215.
func RoughGain(frictionRatio, pr float64) float64 {
	return math.Pow(max(1, min(4, frictionRatio)), 0.68*math.Pow(pr, 0.215))
}

// FinEfficiency returns the efficiency of a straight fin of length l (m) from
// its root, thickness t (m) and conductivity k (W/mK) with h (W/m2K) in all on
// its surface per unit of its plan area. Source: D&B eq. 6.5.12.
// Only tests reach it, as a reference.
func FinEfficiency(h, k, t, l float64) float64 {
	ml := math.Sqrt(h/(k*t)) * l
	if ml < 1e-6 {
		return 1
	}
	return math.Tanh(ml) / ml
}

// SheetConductance returns the conductance per meter, W/mK, from the mean of a
// strip of length l (m), evenly heated, thickness t and conductivity k to its
// edge: three times that over its length. It is the fin's in the limit of a
// small loss.
func SheetConductance(k, t, l float64) float64 { return 3 * k * t / l }

// Mixed blends forced and free convection that help each other, by the cube.
// Source: Churchill 1977.
func Mixed(forced, free float64) float64 {
	if free < 1e-3*forced { // adds less than a billionth
		return forced
	}
	return math.Cbrt(forced*forced*forced + free*free*free)
}

// GapEN673 returns the conductance of a sealed upright air gap of a width (m)
// between panes at the standard's 10 C and 15 K, with the infrared exchange
// factor of its faces. Source: EN 673: Nu = 0.035 (Gr Pr)^0.38, at least 1.
// Only tests reach it, as a reference.
func GapEN673(width, exchange float64) float64 {
	const rho, mu, k, cp, tm, dt = 1.232, 1.761e-5, 0.02496, 1008.0, 283.0, 15.0
	gr := 9.81 * width * width * width * dt * rho * rho / (tm * mu * mu)
	nu := max(1, 0.035*math.Pow(gr*mu*cp/k, 0.38))
	return nu*k/width + 4*Sigma*tm*tm*tm*exchange
}

// Direction is which way heat flows through a layer.
type Direction int

// Directions of heat flow.
const (
	Level Direction = iota
	Upward
	Downward
)

// GapISO6946 returns the resistance, m2K/W, of a wide still air layer of a
// width (m, to 0.3) between faces of emittance 0.9 at 10 C. Source: ISO 6946.
// Only tests reach it, as a reference.
func GapISO6946(width float64, d Direction) float64 {
	ha := max(1.25, 0.025/width)
	switch d {
	case Upward:
		ha = max(1.95, 0.025/width)
	case Downward:
		ha = max(0.12*math.Pow(width, -0.44), 0.025/width)
	}
	const t = 283.15
	return 1 / (ha + 4*Sigma*t*t*t/(2/0.9-1))
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
	return 0.24 + 0.56*math.Pow(max(0.02, min(44, re)), 0.45)
}

// WireScreenLoss returns the pressure loss coefficient of a woven screen on the
// approach velocity, for open share open (0..1) and wire Reynolds number re.
// Source: Brundrett, J. Fluids Engineering 115 (1993), wire Re 1e-4..1e4.
func WireScreenLoss(re, open float64) float64 {
	re = max(re, 1e-3)
	return (7.125/re + 0.88/math.Log10(re+1.25) + 0.055*math.Log10(re)) * (1 - open*open) / (open * open)
}

// Surface resistances of a wall indoors and outdoors, m2K/W. Source: ISO 6946
// table 7.
const (
	FilmAcross  = 0.13
	FilmOutside = 0.04
)

// A wall or roof of a plain answer: a skin, and insulation between studs that
// take a share of the area. Common practice, no source.
const (
	skin      = 0.020 // m of board
	skinK     = 0.13  // W/mK, softwood: ISO 10456
	woolK     = 0.040 // mineral wool: ISO 10456
	studShare = 0.15
	studK     = 0.13
)

// StudWall returns the thermal transmittance, W/m2K, of a skin of board and of
// wool of a thickness, m, between studs, with films of films m2K/W in all: the
// mean of the upper and lower limit of resistance. Source: ISO 6946, combined
// method.
func StudWall(thickness, films float64) float64 {
	base := films + skin/skinK
	if thickness <= 0 {
		return 1 / base
	}
	upper := 1 / (studShare/(base+thickness/studK) + (1-studShare)/(base+thickness/woolK))
	lower := base + thickness/(studShare*studK+(1-studShare)*woolK)
	return 2 / (upper + lower)
}

package collector

import (
	"gladember/core/air"
	"gladember/core/heattransfer"
	"gladember/core/network"
)

// Coat is frost or snow that lies on the outer cover. It hides the sun, melts
// at 0 C, passes into dry air as vapor, and slides off a leaning cover that has
// thawed. The zero value is a clean cover.
type Coat struct {
	// Mass is the ice on the cover, kg/m2.
	Mass float64
	// Vapor is the vapor pressure of the outdoor air, Pa; zero keeps vapor out
	// of it.
	Vapor float64
}

// Water: heat of melting and of sublimation, J/kg, and the gas constant of
// vapor, J/kgK. Source: IAPWS, to three digits.
const (
	melting     = 334e3
	sublimation = 2.834e6
	gasVapor    = 461.5
)

// A slab of ice grains that absorbs nothing lets 1/(1 + 3/4 (1-g) tau) of the
// light through, with tau = 3 M/(2 rho r) of grains of radius r. Source:
// two-stream limit of Wiscombe & Warren 1980, g 0.89 (recalled from memory);
// grains of 50 micrometers as in hoar frost and new snow: common practice, no
// source.
const (
	asymmetry = 0.89
	grain     = 50e-6
	ice       = 917.0
)

// slides is the tilt from which a thawed coat slides off, degrees. Common
// practice, no source.
const slides = 25.0

// lewis is the Lewis number of water vapor in air to the power 2/3, by which
// heat and mass transfer compare. Source: Incropera, Chilton-Colburn analogy.
const lewis = 0.90

// Transmits is the share of the sun that the coat lets through, 0..1.
// A layer of scattering grains, in the two-stream approximation.
func (f Coat) Transmits() float64 {
	return 1 / (1 + 0.75*(1-asymmetry)*1.5*max(0, f.Mass)/(ice*grain))
}

// soaks is the share of the sun that a coat takes up, of what it does not let
// through: fresh snow throws back 0.80 to 0.95. Source: Oke 1987, albedo of
// natural surfaces (recalled from memory).
const soaks = 0.12

// Absorbs is the share of the sun that the coat takes up and gives to the
// cover, 0..1.
func (f Coat) Absorbs() float64 { return soaks * (1 - f.Transmits()) }

// vapor moves vapor between the coat and the outdoor air for dt s at a cover
// of t C with wind coefficient h, W/m2K, and returns the heat that it takes from
// the cover, J/m2; below zero where frost forms.
func (f *Coat) vapor(t, ambient, h, p, dt float64) float64 {
	if f.Vapor <= 0 || t > 0 || f.Mass <= 0 && air.SaturationPressure(t) >= f.Vapor {
		return 0
	}
	mean := (t+ambient)/2 + air.Kelvin
	speed := h / (air.Density(mean-air.Kelvin, p) * air.Cp(ambient) * lewis)
	gone := speed * (air.SaturationPressure(t) - f.Vapor) / (gasVapor * mean) * dt
	gone = min(gone, f.Mass)
	f.Mass -= gone
	return gone * sublimation
}

// thaw melts what the heat above 0 C of a cover of a store, J/m2K, can melt,
// and returns that heat, J/m2. What has thawed runs off; on a leaning cover all
// of it slides.
func (f *Coat) thaw(t, store, tilt float64) float64 {
	if f.Mass <= 0 || t <= 0 {
		return 0
	}
	if tilt >= slides && f.Transmits() < 0.5 { // thick: a film of water under it is enough
		f.Mass = 0
		return 0
	}
	gone := min(f.Mass, store*t/melting)
	f.Mass -= gone
	return gone * melting
}

// Follow steps the coat by dt s on a cover that would be at t C without it and
// gives u W/m2K to what surrounds it, in outdoor air and wind of coefficient h,
// W/m2K, at p Pa. It is for long steps: the heat of frost warms the cover while
// it forms, and what melts takes what the cover would give over 0 C.
// dt is in s, t the temperature of the cover in C, u the mean of its exchange
// in W/m2K, and h the film coefficient of the wind, by which vapor comes and
// goes.
func (f *Coat) Follow(t, u, ambient, h, p, tilt, dt float64) {
	if t > 0 && f.Mass > 0 { // what dries off at 0 C takes its heat first
		x := *f
		if t -= x.vapor(0, ambient, h, p, dt) / dt / u; t > 0 {
			f.thaw(t, u*dt, tilt)
			return
		}
	}
	cover := t
	for range 6 { // the heat of frost and the cover's temperature, halfway to each other
		x := *f
		cover = (cover + t - x.vapor(cover, ambient, h, p, dt)/dt/u) / 2
	}
	f.vapor(cover, ambient, h, p, dt)
}

// coated steps the coat beside the network: it dims the sun, takes the heat of
// vapor from the outer cover and melts at 0 C. It returns what it took in all, W.
func (t *Transient) coated(c Conditions, dt float64, st *network.State) float64 {
	f, area := &t.Coat, t.d.Aperture()
	if f.Mass <= 0 && f.Vapor <= 0 {
		return 0
	}
	mean := 0.0
	for i, l := range st.Layer {
		mean += l[0] * st.Share[i]
	}
	h := c.WindH
	if h <= 0 {
		h = heattransfer.Outer(c.Wind, mean, c.Ambient, t.d.Height, c.Pressure)
	}
	took := f.vapor(mean, c.Ambient, h, c.Pressure, dt)
	took += f.thaw(mean, t.n.Store[0], c.Tilt)
	for _, l := range st.Layer {
		l[0] -= took / t.n.Store[0]
	}
	return took * area / dt
}

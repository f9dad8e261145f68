// Package space is what a heater warms: a room, shop, greenhouse or porch, and
// what its warm air goes on to.
//
// Its loss comes by parts from plain questions (films and layers after ISO 6946,
// windows, ground, drafts), or from what somebody measured. Through time it is
// the simple hourly model of ISO 13790, five resistances and one capacity, with
// the capacity's temperature taken by its exact exponential, so that steps may be
// of any length. What an ideal heater must add to hold the wanted temperature is
// the need; above the limit a window is opened, and that heat is vented.
package space

import (
	"fmt"
	"math"
	"slices"

	"gladember/core/air"
	"gladember/core/design"
	"gladember/core/heattransfer"
	"gladember/core/solar"
)

// Surface resistances of heat that goes up and down, m2K/W; across and outdoors
// are those of [heattransfer]. Source: ISO 6946 table 7.
const (
	filmUp   = 0.10
	filmDown = 0.17
)

// glazing is a window's transmittance, W/m2K, its frame included, and the share
// of the sun on it that comes in. Source: EN 673 panes (heattransfer tests) with
// wooden frames; solar shares as usual in building physics, recalled from memory.
type glazing struct{ u, g float64 }

var glazings = map[string]glazing{
	"film":      {6.2, 0.85},
	"single":    {5.2, 0.83},
	"double":    {2.8, 0.74},
	"low-e":     {1.6, 0.60},
	"twin-wall": {3.4, 0.72},
}

// Sun through a window: the part of it that is pane, and usual dirt, curtains and
// slanting light; of a greenhouse what canopy and wet ground turn into vapor.
// Source: ISO 13790 11.4 for frame (0.2 to 0.3) and incidence (0.9); the last is
// common practice, no source.
const (
	paneShare  = 0.75
	slanting   = 0.9
	latent     = 0.5
	groundTake = 0.8 // of the sun inside a greenhouse that does not go out again
)

// Changes of the air an hour by drafts. Common practice, no source.
var changes = map[string]float64{"tight": 0.3, "usual": 0.6, "leaky": 1.2, "open": 2.5}

// Share of the indoor-outdoor difference that a part sees. Source: ISO 13789
// annex, usual values: attic 0.9, ground 0.45, cold cellar 0.5.
var reach = map[string]float64{"heated": 0, "attic": 0.9, "roof": 1, "ground": 0.45, "cellar": 0.5, "open": 1}

// Effective mass and capacity for a m2 of floor. Source: ISO 13790 table 12.
var masses = map[string]struct{ area, capacity float64 }{
	"light": {2.5, 110e3}, "medium": {2.5, 165e3}, "heavy": {3.0, 260e3},
}

// Part is one of the ways by which a space loses heat.
type Part struct {
	// Name is what a builder calls it.
	Name string
	// Area is in m2; 0 for air leakage.
	Area float64
	// U is in W/m2K.
	U float64
	// UA is in W/K, as far as the part sees the outdoors.
	UA float64
}

// Loses is what leaves by a part at temperatures inside and outdoors, W.
func (p *Part) Loses(inside, outdoors float64) float64 { return p.UA * (inside - outdoors) }

// Space is a space as it loses and stores heat. It is for one run at a time.
type Space struct {
	Floor, Volume float64
	Parts         []Part
	// Loss is that of all parts, W/K.
	Loss float64
	// Given says that Loss was measured or computed by its builder.
	Given bool
	// SunIn is the sun on an upright pane to the noon that comes in, per W/m2,
	// as an area, m2; LevelIn is the same of the sun on the level.
	SunIn   float64
	LevelIn float64 // m2: sun on the level that comes in
	// Gains is the heat of people and machines, W.
	Gains float64
	// Vent is where a window is opened, C.
	Vent float64
	// window, opaque and air are conductances, W/K; mass is the area of the
	// heavy surfaces, m2, and capacity their heat, J/K.
	window   float64
	opaque   float64
	air      float64
	mass     float64 // m2
	capacity float64 // J/K
	wanted   func(hour float64) float64
	second   *second
	// still is the network without air that a box brings in.
	still network
	// step is the last step's length, s, and left what it leaves of the mass's
	// way.
	step, left float64
}

// New returns the space a heater's document describes, at its own height above
// the sea.
func New(h *design.Heater) (*Space, error) {
	r := &h.Room
	g, ok := glazings[r.Glazing]
	if !ok {
		return nil, fmt.Errorf("%s: no glazing is called %q", design.RoomGlazing.Path, r.Glazing)
	}
	m, ok := masses[r.Mass]
	if !ok {
		return nil, fmt.Errorf("%s: %q is unknown", design.RoomMass.Path, r.Mass)
	}
	n, ok := changes[r.Leakage]
	if !ok {
		return nil, fmt.Errorf("air leakage: %q is unknown", r.Leakage)
	}
	s := &Space{Floor: r.Floor, Volume: r.Floor * r.Height, Gains: r.Gains, Vent: r.Vent, mass: m.area * r.Floor,
		capacity: m.capacity * r.Floor}
	rho := air.Density(15, solar.Pressure(h.Place.Elevation))
	s.air = n * s.Volume / 3600 * rho * air.Cp(15)
	add := func(name string, area, u, share float64) float64 {
		ua := area * u * share
		if ua > 0 {
			s.Parts = append(s.Parts, Part{name, area, u, ua})
		}
		return ua
	}
	green := r.Kind == design.Greenhouse
	walls := 4 * math.Sqrt(r.Floor) * r.Height * float64(r.Outside) / 4
	t := r.Wool()
	if !green {
		s.opaque += add("walls", max(0, walls-min(r.Window, walls)), heattransfer.StudWall(t,
			heattransfer.FilmAcross+heattransfer.FilmOutside), 1)
		s.opaque += add("ceiling", r.Floor, heattransfer.StudWall(t*1.2, filmUp+heattransfer.FilmOutside), reach[r.Above])
	}
	s.opaque += add("floor", r.Floor, heattransfer.StudWall(t/2, filmDown+heattransfer.FilmOutside), reach[r.Below])
	s.window = add("windows", r.Window, g.u, 1)
	s.Parts = append(s.Parts, Part{Name: "air leakage", UA: s.air})
	if green {
		s.LevelIn = r.Floor * g.g * groundTake * (1 - latent)
	} else {
		s.SunIn = r.Sunny * g.g * paneShare * slanting
	}
	s.Loss = s.opaque + s.window + s.air
	if r.Loss > 0 {
		k := r.Loss / s.Loss
		s.Given, s.Loss = true, r.Loss
		s.opaque, s.window, s.air = k*s.opaque, k*s.window, k*s.air
		for i := range s.Parts {
			s.Parts[i].UA *= k
		}
	}
	s.wanted = func(hour float64) float64 {
		in := hour >= r.From && hour < r.To
		if r.From > r.To {
			in = hour >= r.From || hour < r.To
		}
		if in {
			return r.Wanted
		}
		return min(r.Wanted, r.Setback)
	}
	s.second = secondOf(h)
	s.still = s.network(0)
	return s, nil
}

// Scale multiplies every loss of the space, for what is uncertain in it.
func (s *Space) Scale(k float64) {
	s.Loss, s.opaque, s.window, s.air = k*s.Loss, k*s.opaque, k*s.window, k*s.air
	s.Parts = slices.Clone(s.Parts)
	for i := range s.Parts {
		s.Parts[i].UA *= k
	}
	s.still, s.step = s.network(0), 0
}

// Wanted is how warm the space should be at an hour of the clock, C.
func (s *Space) Wanted(hour float64) float64 { return s.wanted(hour) }

// AirChange is how many minutes a flow, m3/s, takes to move the space's volume.
func (s *Space) AirChange(flow float64) float64 {
	if flow <= 0 {
		return math.Inf(1)
	}
	return s.Volume / flow / 60
}

// Carries is the share of [Space.DesignLoss] that some heat makes up, W; 0
// where the space loses nothing.
func (s *Space) Carries(heat, inside, outdoors float64) float64 {
	loss := s.DesignLoss(inside, outdoors)
	if loss <= 0 {
		return 0
	}
	return heat / loss
}

// DesignLoss is the heat the space loses at a temperature outdoors with the
// wanted one inside, W.
func (s *Space) DesignLoss(inside, outdoors float64) float64 {
	return max(0, s.Loss*(inside-outdoors)-s.Gains)
}

// RuleOfThumb is the box that builders give a floor, m2: a tenth of it. Common
// practice, no source.
func RuleOfThumb(floor float64) float64 { return floor / 10 }

// Drafty is the jet below which warm air feels like a draft, C. Common
// practice, no source.
const Drafty = 32.0

// The fixed conductances of ISO 13790: between air and surfaces for a m2 of
// surface, of which there are 4.5 for a m2 of floor; and from surfaces to mass.
const (
	airToSurface  = 3.45
	surfaces      = 4.5
	surfaceToMass = 9.1
)

// State is how warm a space is. The zero value stands at 0 C.
type State struct {
	// Mass and Air are temperatures, C, and Second that of the second space.
	Mass, Air float64
	Second    float64
}

// Around is what a space stands in for a while.
type Around struct {
	// Outdoors is in C.
	Outdoors float64
	// Upright is the sun on an upright pane to the noon, and Level that on the
	// level, W/m2.
	Upright float64
	Level   float64 // W/m2
	// Wanted is in C.
	Wanted float64
	// Heated says that an ideal heater holds Wanted; else the temperature
	// falls.
	Heated bool
	// Box is the heat from the solar box, W.
	Box float64
	// Draws is the outdoor air that the box brings in besides, W/K.
	Draws float64
}

// Went is what a step came to.
type Went struct {
	// Need is what the heater gives, W.
	Need float64
	// Vented is let out above the limit, W.
	Vented float64
	// Lost is through all parts, W.
	Lost float64
	// Gained is that of sun and people, W.
	Gained float64
	// Stored goes into the mass, W.
	Stored float64
	// Mover is what moving warm air on takes, W.
	Mover float64
	// Short is how far it is below what is wanted, K.
	Short float64
	// MoverK is the heat moved on to the second space, W.
	MoverK float64
}

// network is the resistances for a step, W/K.
type network struct{ ve, is, w, ms, em, h1, h2, h3 float64 }

// network lays the losses out between air, surfaces and mass. ISO 13790 puts
// whole transmittances, whose films already lead to the air, behind the
// conductance from air to surfaces; a thin-skinned space would lose nearly half
// too little. Here they are raised so that films count once: at rest the air
// loses Loss.
func (s *Space) network(draws float64) (n network) {
	n.ve = max(1e-6, s.air+draws)
	through := s.window + s.opaque
	n.is = max(airToSurface*surfaces*s.Floor, 2*through)
	core := 1 / (1/max(1e-6, through) - 1/n.is)
	share := s.opaque / max(1e-6, through)
	n.w = core * (1 - share)
	n.ms = max(surfaceToMass*s.mass, 2*core*share)
	if op := core * share; op > 0 {
		n.em = 1 / (1/op - 1/n.ms)
	}
	n.h1 = 1 / (1/n.ve + 1/n.is)
	n.h2 = n.h1 + n.w
	n.h3 = 1 / (1/n.h2 + 1/n.ms)
	return n
}

// Step moves a state on by dt s. Heat of box and heater goes to the air.
func (s *Space) Step(st *State, a Around, dt float64) Went {
	n := s.still
	if a.Draws > 0 {
		n = s.network(a.Draws)
	}
	out := a.Outdoors
	sun := s.SunIn*a.Upright + s.LevelIn*a.Level
	total := surfaces * s.Floor
	half := 0.5 * s.Gains
	toMass := s.mass / total * (half + sun)
	outright := min(1-s.mass/total, s.window/(surfaceToMass*total)) * (half + sun) // through the windows again
	toSurface := (1-s.mass/total)*(half+sun) - outright
	w := Went{Gained: s.Gains + sun - outright}
	toAir := half + a.Box
	if s.second != nil {
		toAir -= s.second.step(st, a, dt, &w)
	}
	airAt := func(extra float64) (air, surface float64) {
		surface = (n.ms*st.Mass + toSurface + n.w*out + n.h1*(out+(toAir+extra)/n.ve)) / (n.ms + n.w + n.h1)
		return (n.is*surface + n.ve*out + toAir + extra) / (n.is + n.ve), surface
	}
	free, _ := airAt(0)
	unit, _ := airAt(1)
	extra := 0.0
	switch {
	case free < a.Wanted && a.Heated:
		extra = (a.Wanted - free) / (unit - free)
		w.Need += extra
	case free < a.Wanted:
		w.Short = a.Wanted - free
	case free > s.Vent && out < s.Vent:
		extra = (s.Vent - free) / (unit - free)
		w.Vented = -extra
	}
	var surface float64
	st.Air, surface = airAt(extra)
	// The mass by its exact exponential, all else as it is in the step.
	toAir += extra
	drive := toMass + n.em*out + n.h3*(toSurface+n.w*out+n.h1*(toAir/n.ve+out))/n.h2
	settle := drive / (n.h3 + n.em)
	before := st.Mass
	d := (n.h3 + n.em) * dt / s.capacity
	if dt != s.step || a.Draws > 0 {
		s.step, s.left = dt, math.Exp(-d)
		if a.Draws > 0 {
			s.step = 0
		}
	}
	st.Mass = settle + (before-settle)*s.left
	w.Stored = s.capacity * (st.Mass - before) / dt
	// Over the step the surfaces and the air follow the mass's own mean.
	mean := settle
	if d > 1e-9 {
		mean = settle + (before-settle)*(1-s.left)/d
	} else {
		mean = before
	}
	surface += (mean - before) * n.ms / (n.ms + n.w + n.h1)
	airMean := st.Air + (mean-before)*n.ms/(n.ms+n.w+n.h1)*n.is/(n.is+n.ve)
	w.Lost = n.em*(mean-out) + n.w*(surface-out) + n.ve*(airMean-out)
	return w
}

// Settle returns a state at rest at a temperature.
func Settle(t, second float64) State { return State{Mass: t, Air: t, Second: second} }

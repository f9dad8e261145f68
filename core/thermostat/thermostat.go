// Package thermostat says when the fan of a solar air heater runs.
//
// A switch is a rule with memory: what runs now and what the sensors read give
// what runs next. Snap discs, set-point and differential controllers, a panel
// that drives the fan by itself, a timer and a plain plug are all the one
// [Switch]; a limit in the room and a second stage may join any of them.
// Temperatures are C, differences K, hours those of the clock.
package thermostat

import (
	"math"

	"gladember/core/design"
)

// Kind is a sort of switch.
type Kind string

// The kinds.
const (
	SnapDisc     Kind = "snap"         // closes and opens at its own two points
	SetPoint     Kind = "set-point"    // the same by electronics
	Differential Kind = "differential" // box over room
	Direct       Kind = "direct"       // straight off a panel
	Timer        Kind = "timer"
	Plug         Kind = "plug" // always on
)

// Switch is what turns the fan on and off. The zero value never runs.
type Switch struct {
	Kind      Kind
	Close     float64 // starts at or above, C
	Open      float64 // stops at or below, C
	Tolerance float64 // either point may lie off by this, K
	OnAbove   float64 // differential: starts so much over the room, K
	OffAbove  float64 // and stops at so much, K
	From, To  float64 // timer
	Second    float64 // the second stage joins at or above, C; zero: there is none
	RoomLimit float64 // no stage runs with the room above, C; zero: no limit
	RunOn     float64 // s that the first stage goes on after the switch has opened
}

// HasPoints says whether the switch starts and stops at temperatures of its own.
func (s Switch) HasPoints() bool { return s.Kind == SnapDisc || s.Kind == SetPoint }

// How a sensor at the top of the box follows its air: the lag in moving and in
// standing air, s. Common practice, no source.
const (
	LagMoving   = 45.0
	LagStanding = 150.0
)

// Follows is the share of the way to the air's temperature that a sensor goes in
// dt s.
func Follows(moving bool, dt float64) float64 {
	if moving {
		return 1 - math.Exp(-dt/LagMoving)
	}
	return 1 - math.Exp(-dt/LagStanding)
}

// Clocked is a switch on its way through time, with what it remembers: how many
// stages run, and for how long it still runs on.
type Clocked struct {
	Switch
	Stages int
	left   float64 // s
}

// Step moves the switch on by dt s and returns how many stages run.
func (c *Clocked) Step(r Reading, dt float64) int {
	want := c.Next(c.Stages, r)
	switch {
	case want > 0:
		c.left = c.RunOn
	case c.Stages > 0 && c.left > 0 && !c.Switch.tooWarm(c.Stages, r):
		c.left -= dt
		want = 1
	}
	c.Stages = want
	return want
}

// New returns the switch of a heater; one without a fan never runs.
func New(h *design.Heater) Switch {
	if !h.Fanned() {
		return Switch{}
	}
	s := h.Switch
	t := Switch{Kind: Kind(s.Kind), Close: s.Close, Open: s.Open, Tolerance: s.Tolerance, OnAbove: s.OnAbove, OffAbove: s.OffAbove,
		From: s.From, To: s.To, RoomLimit: s.RoomLimit, RunOn: 60 * s.RunOn}
	if h.Air.Fans > 1 && h.Air.FansJoin == "staged" {
		t.Second = s.Second
	}
	return t
}

// Reading is what the sensors say.
type Reading struct {
	Box   float64 // air at the top of the box, C
	Room  float64 // C
	Hour  float64 // of the clock, 0..24
	Speed float64 // share of full speed that a panel could turn the fan at
}

// roomBand is how far below its limit the room must cool before a fan that it
// stopped may run again, K. Common practice, no source.
const roomBand = 1.0

// feels is what a room's sensor can tell, K: a room held by its windows at just
// the limit is not above it. Common practice, no source.
const feels = 0.01

// Next returns how many stages run, 0 to 2, given how many run now.
func (s Switch) Next(running int, r Reading) int {
	if s.tooWarm(running, r) {
		return 0
	}
	if !s.wants(running > 0, r) {
		return 0
	}
	if s.Second > 0 {
		at := s.Second
		if running > 1 {
			at -= s.gap()
		}
		if r.Box >= at {
			return 2
		}
	}
	return 1
}

// tooWarm says that the room's limit holds the fan back.
func (s Switch) tooWarm(running int, r Reading) bool {
	limit := s.RoomLimit
	if running == 0 {
		limit -= roomBand
	}
	return s.RoomLimit > 0 && r.Room > limit+feels
}

// gap is the hysteresis, K.
func (s Switch) gap() float64 {
	if s.Kind == Differential {
		return s.OnAbove - s.OffAbove
	}
	return s.Close - s.Open
}

// wants says whether the switch would have the fan on, given whether it is on
// now: each kind has its own hysteresis.
func (s Switch) wants(on bool, r Reading) bool {
	between := func(x, open, close float64) bool {
		if on {
			return x > open
		}
		return x >= close
	}
	switch s.Kind {
	case SnapDisc, SetPoint:
		return between(r.Box, s.Open, s.Close)
	case Differential:
		return between(r.Box-r.Room, s.OffAbove, s.OnAbove)
	case Direct:
		return r.Speed > 0
	case Timer:
		return r.Hour >= s.From && r.Hour < s.To
	case Plug:
		return true
	}
	return false
}

// Off returns the switch with both its points moved by k K, as a disc whose
// tolerance falls out that way.
func (s Switch) Off(k float64) Switch {
	s.Close, s.Open = s.Close+k, s.Open+k
	return s
}

// Ahead is what a sensor that reads now, and read before a step ago, will read
// half a step on. A switch that is asked only at the ends of steps turns late
// by half of one on average; asked for the reading ahead it turns in time. Both
// may be equal where nothing is known of before.
func Ahead(now, before float64) float64 { return now + (now-before)/2 }

// Behavior is what a switch makes of steady sun.
type Behavior int

// The behaviors.
const (
	Runs   Behavior = iota // starts and keeps running
	Cycles                 // starts, cools its own sensor and stops, again and again
	Never                  // is never warm enough to start
)

func (b Behavior) String() string { return [...]string{"runs", "cycles", "never starts"}[b] }

// Judge says what the switch makes of a box whose air reaches still C with the
// fan off and running C with it on, in steady sun by day.
func (s Switch) Judge(still, running, room, speed float64) Behavior {
	noon := (s.From + s.To) / 2
	switch {
	case s.Next(0, Reading{Box: still, Room: room, Hour: noon, Speed: speed}) == 0:
		return Never
	case s.Next(1, Reading{Box: running, Room: room, Hour: noon, Speed: speed}) == 0:
		return Cycles
	}
	return Runs
}

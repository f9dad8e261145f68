package advice

import (
	"fmt"
	"math"

	"gladember/core/collector"
	"gladember/core/design"
	"gladember/core/units"
)

// AirOption is one change of the air's way, worked out by running the box with it.
type AirOption struct {
	Name    Text
	Changes []design.Change
	Volume  float64 // m3/s
	Heat    float64 // to the room, W
	Outlet  float64 // C
	Gain    float64 // W over the heater as it is, what ducts lose and the fan buys counted off
}

// Loudness names the sound of air at a speed in a duct, m/s. Common practice, no source.
func Loudness(speed float64) string {
	switch {
	case speed < 2.5:
		return "hardly heard"
	case speed < 4.5:
		return "heard in a quiet room"
	case speed < 7:
		return "loud in a living room"
	}
	return "loud anywhere"
}

// worth is what a box gives the room for nothing, W: a watt bought for the fan is a watt less of gain.
func worth(r *collector.Result) float64 { return r.Warms() - r.Bought }

// AirOptions returns what changes of duct, fittings and fan would do to a heater in the
// conditions of its evaluation, each by a run of its own. Changes that a heater cannot have are left out.
func AirOptions(e *collector.Evaluation) (out []AirOption) {
	h := &e.Heater
	set := func(path string, v any) design.Change { return design.Change{Path: path, Value: v} }
	try := func(name Text, changes ...design.Change) {
		x := h.Clone()
		for _, c := range changes {
			f := design.FieldAt(c.Path)
			if !f.Applies(&x) {
				return
			}
			var err error
			if x, err = design.Apply(x, units.System{}, c); err != nil {
				return
			}
		}
		c := e.Running.Conditions
		c.Flow = 0
		if x.Air.Source == "outdoors" {
			c.Inlet = c.Ambient
		}
		r, err := collector.Rate(&x, c)
		if err != nil || r.Mass <= 0 {
			return
		}
		out = append(out, AirOption{name, changes, r.Volume, r.Warms(), r.Outlet, worth(&r) - worth(&e.Running)})
	}
	for _, d := range bores {
		if d > h.Air.Diameter+1e-6 {
			try(say("a duct of %s", q(units.Bore, d)), set("air.diameter_m", d))
			break
		}
	}
	if h.Air.Bends > 0 {
		n := max(0, h.Air.Bends-2)
		try(say(fmt.Sprintf("%d bends instead of %d", n, h.Air.Bends)), set("air.bends", n))
	}
	if h.Air.Duct != "smooth" {
		try(say("smooth pipe instead of this duct"), set("air.duct", "smooth"))
	}
	if h.Air.Flap != "none" {
		try(say("no backdraft damper (then warm air is lost by night)"), set("air.flap", "none"))
	}
	if h.Air.Filter != "none" {
		try(say("no filter"), set("air.filter", "none"))
	}
	if h.Fanned() {
		if h.Air.Fans < 2 {
			try(say("a second fan in parallel"), set("air.fans", 2), set("air.fans_join", "beside"))
			try(say("a second fan in series"), set("air.fans", 2), set("air.fans_join", "behind"))
		}
		side := map[string]string{"inlet": "outlet", "outlet": "inlet"}[h.Air.FanSide]
		try(say("the fan at the %s", word(side)), set("air.fan_side", side))
		try(say("no fan: natural draft"), set("air.drive", "natural"))
	} else {
		try(say("a small fan"), set("air.drive", "fan"))
	}
	return out
}

// BackFlows is what a clear night draws out of the room through the standing box, W, as
// it is and with its flap the other way.
func BackFlows(e *collector.Evaluation) (open, shut float64, err error) {
	d, err := collector.Describe(&e.Heater)
	if err != nil || d.Indoors {
		return 0, 0, err
	}
	c := Night(e)
	a, err := d.BackFlow(c, false)
	if err != nil {
		return 0, 0, err
	}
	b, err := d.BackFlow(c, true)
	return math.Max(0, -a.Heat), math.Max(0, -b.Heat), err
}

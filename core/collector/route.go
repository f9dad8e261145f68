package collector

import (
	"gladember/core/air"
	"gladember/core/airflow"
	"gladember/core/design"
	"gladember/core/units"
)

// Piece is a piece of the air's way with the pressure it takes.
type Piece struct {
	// Name is what a drawing of the air's path calls it.
	Name string
	// Side is before, in or after the box.
	Side string
	// Path is the field that changes it; empty for the making of the box.
	Path string
	// Loss is its share of the pressure drop, Pa.
	Loss float64
}

// Route returns the pieces of a rated heater's air path in the air's order.
// Their losses add up to the result's pressure drop. A heater without ducts has
// its box alone; pieces that lose nothing are left out. The order of pieces on
// one side of the box changes nothing but the drawing.
func (d *Description) Route(h *design.Heater, r *Result) (out []Piece) {
	if r.Mass <= 0 {
		return nil
	}
	p := r.Conditions.Pressure
	side := func(name string, es []airflow.Element, fs []fitting, t float64) {
		if len(es) == 0 {
			return
		}
		whole, ok := es[0].(airflow.Duct)
		if !ok {
			return
		}
		stretched, all := 1.0, 0.0
		for _, f := range fs {
			all += f.length
		}
		if all > 0 {
			stretched = whole.Length / all
		}
		for _, f := range fs {
			one := whole
			one.Length, one.Fittings = f.length*stretched, f.k
			if loss := one.Loss(r.Mass, t, p); loss > 0 {
				out = append(out, Piece{f.name, name, f.path, loss})
			}
		}
	}
	fs := d.fittings(h, d.bend)
	side("before", d.Cold, fs[0], r.Conditions.Inlet)
	loss := 0.0
	for _, e := range new(start).all(d.Passages.Elements) {
		if m, ok := e.(airflow.Manifold); ok {
			e = manifolded{m, &r.warmth}
		}
		loss += e.Loss(r.Mass, (r.Conditions.Inlet+r.Outlet)/2, p)
	}
	out = append(out, Piece{"the box", "in", "", loss})
	if r.SpeedingUp > 0 {
		out = append(out, Piece{"speeding up as it warms", "in", "", r.SpeedingUp})
	}
	side("after", d.Hot, fs[1], r.Outlet)
	return out
}

// Curve is the pressure of fan and system against flow, at the temperatures of a
// rated result.
type Curve struct {
	// Flow is at the fan, m3/s.
	Flow []float64
	// Fan is the pressure that it gives at each flow, Pa.
	Fan []float64
	// System is the pressure that the system takes, Pa.
	System []float64
	// Wide is that of the system with its fittings dearer by one standard
	// uncertainty, Pa.
	Wide []float64
}

// Curves returns n points of fan and system from no flow to the fan's free air;
// none for a heater without a fan.
func (d *Description) Curves(r *Result, n int) (c Curve) {
	if d.Natural || r.Mass <= 0 {
		return c
	}
	t := r.Conditions.Inlet
	if d.FanAtHot {
		t = r.Outlet
	}
	fan := d.Fan
	if r.FanSpeed > 0 {
		fan.Speed = r.FanSpeed
	}
	rho := air.Density(t, r.Conditions.Pressure)
	losses := func(t Tuning, m float64) float64 {
		p := pass{d: d, t: t}
		a, b, c := p.system(false).Losses(m, r.Conditions.Inlet, r.Outlet, r.Conditions.Pressure)
		return a + b + c
	}
	most := max(fan.Most(), r.Mass/rho) * 1.02
	for i := range n {
		q := most * float64(i) / float64(n-1)
		c.Flow = append(c.Flow, q)
		c.Fan = append(c.Fan, max(0, fan.Pressure(q, rho)))
		m := max(1e-6, q*rho)
		c.System = append(c.System, losses(Tuning{}, m))
		c.Wide = append(c.Wide, losses(Tuning{Fittings: sigmaFittings}, m))
	}
	return c
}

// Draw is how air moves and what it gives at a sun.
type Draw struct {
	// Sun is in W/m2, Speed a share, Volume in m3/s, Heat in W, Outlet in C.
	Sun, Speed, Volume, Heat, Outlet float64
}

// OverSun returns what moves and comes at some suns on the glass, W/m2, all
// else as in the conditions: for a fan that its own panel drives, or warmth
// alone.
func (d *Description) OverSun(c Conditions, suns ...float64) (out []Draw, err error) {
	total := c.Sun.Total()
	for _, g := range suns {
		x := c
		x.Flow = 0
		if total > 0 {
			x.Sun = c.Sun.Dimmed(g / total)
		}
		r, err := d.Rate(x, Tuning{}, nil)
		if err != nil {
			return nil, err
		}
		v := Draw{Sun: g, Speed: d.FanSpeed(x)}
		if r.Mass > 0 {
			v.Volume, v.Heat, v.Outlet = r.Volume, r.Heat, r.Outlet
		}
		out = append(out, v)
	}
	return out, nil
}

// AirWorkings returns how the figures of a rated air path came to be, by key:
// speed and, with a fan, worth. area is that of the ducts at one end, m2.
func AirWorkings(r *Result, area float64) map[string]Working {
	out := map[string]Working{}
	if r.Mass <= 0 || area <= 0 {
		return out
	}
	rho := air.Density(r.Outlet, r.Conditions.Pressure)
	out["speed"] = Working{Name: "Speed in the duct", Kind: units.Speed, Value: r.Mass / rho / area, Formula: "m / d / A",
		Terms: []Term{{"m", "air moved", units.MassFlow,
			r.Mass, "", "where the fan's curve, or the lift of warm air, meets the resistance"},
			{"d", "density of the warm air", units.Number, rho, "kg/m3", "moist air, ASHRAE"},
			{"A", "bore of all ducts at one end", units.Number, area, "m2", "your ducts"}}}
	if r.FanPower > 0 {
		out["worth"] = Working{Name: "Heat for a watt of the fan", Kind: units.Number, Value: r.Warms() / r.FanPower, Formula: "Q / P",
			Terms: []Term{{"Q", "heat to the room", units.Power, r.Warms(), "", "its own working"},
				{"P", "what the fan takes", units.Electric, r.FanPower, "", "its label, by the cube of its speed"}}}
	}
	return out
}

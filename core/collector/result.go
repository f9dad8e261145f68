package collector

import (
	"fmt"
	"math"

	"gladember/core/air"
	"gladember/core/heattransfer"
	"gladember/core/network"
)

// Energy is where the sun on the aperture goes, W. The parts sum to Sun. Room
// is what an indoor panel's back gives straight to the room.
type Energy struct {
	// All in W over the aperture of all boxes. Sun is what falls on it; the
	// others sum to it: reflected, lost by front, back and edges, lost by
	// leaks, given to the air, and given to the room through the pane.
	Sun, Reflected, Front, Back, Edge, Leak, Air, Room float64
}

// Sum adds the parts, W.
func (e Energy) Sum() float64 {
	return e.Reflected + e.Front + e.Back + e.Edge + e.Leak + e.Air + e.Room
}

// LayerTemps is how warm a layer is along the air's way, C.
type LayerTemps struct {
	// Name, Kind, Material and Service are those of the [Layer].
	Name     string
	Kind     LayerKind
	Material string
	Service  float64
	// Along is its temperature in each segment from the inlet on, C.
	Along []float64
	// Mean is over the area, and Max is the hottest spot, C.
	Mean float64
	Max  float64
}

// Result is a rated box.
type Result struct {
	// Mass is the flow that leaves the box, kg/s.
	Mass float64
	// Volume is that flow at the inlet's temperature, m3/s.
	Volume float64
	// Outlet is the temperature of the air that leaves the box, C.
	Outlet float64
	// Heat is what the air takes up, W; of an indoor panel, what the room gets
	// besides what the bare window gives.
	Heat float64
	// Bare is what the bare window would give, W; zero but for an indoor panel.
	Bare float64
	// Efficiency is Heat over the sun on the aperture.
	Efficiency float64
	// EfficiencyGross is on the gross area (ISO 9806:2017).
	EfficiencyGross float64
	// Aperture and Gross are the two areas, m2.
	Aperture, Gross float64
	// AbsorberMean and AbsorberMax are the absorber's mean and hottest spot, C.
	AbsorberMean float64
	AbsorberMax  float64 // C
	// CoverOuter is the mean of the outer cover, C.
	CoverOuter float64
	// PressureDrop is that of the whole system, Pa.
	PressureDrop float64
	// BoxPressure is that of the box against outdoors, Pa.
	BoxPressure float64
	// FanPower is what all fans take, W.
	FanPower float64
	// Bought is what of that is paid for, W: nothing off a panel of its own.
	Bought float64
	// FanFlow is the volume flow at the fan, m3/s.
	FanFlow float64
	// Leak is the mass flow through the seams, kg/s.
	Leak float64
	// Cp is the specific heat of the air, J/kgK.
	Cp     float64
	Energy Energy
	// Layers are the temperatures of all layers, covers first.
	Layers []LayerTemps
	// AirAlong is the air from inlet to outlet, C.
	AirAlong []float64
	// HotAlong is the hottest absorber layer beside each step of AirAlong after
	// the first, C.
	HotAlong []float64
	// DuctLoss is what ducts that lie outdoors lose, W; Heat does not count it.
	DuctLoss float64
	// MakeUp warms the outdoor air that replaces in the room what leaks from
	// the box, W; Heat does not count it.
	MakeUp float64
	// Airing warms the outdoor air that the box draws in up to the room's
	// temperature, W; Heat does not count it.
	Airing float64
	// Lift is the pressure that warmth adds, Pa.
	Lift float64
	// SpeedingUp is the pressure that speeds up the air as it warms, Pa; it is
	// part of PressureDrop.
	SpeedingUp float64
	// Evenness is the least over the mean flow of tubes, or of the crossing of
	// screens; 0 where it means nothing.
	Evenness float64
	// FanSpeed is the share of full speed.
	FanSpeed float64
	// Branches are those of a row of boxes, from the inlet's end on; nil for
	// one box.
	Branches []Branch
	// CoverInner is the coldest spot of the innermost cover, C.
	CoverInner float64
	Conditions Conditions
	// state is the network's own, from which the next rating may begin, and warmth what warmth adds in single branches.
	state  *network.State
	warmth warmth
}

// ToRoom is what is left of the heat behind ducts that lie outdoors, less what
// it takes to warm the outdoor air that replaces in the room what leaks from
// the box, W. What a box under suction draws in by its seams is warmed in the
// box and is missing from its heat.
func (r *Result) ToRoom() float64 { return r.Heat - r.DuctLoss - r.MakeUp }

// Warms is [Result.ToRoom] less what it takes to warm outdoor air that the box
// draws in to the room's temperature, W: below zero the box cools the room. As
// much of the room's air leaves by gaps as the box brings in.
func (r *Result) Warms() float64 { return r.ToRoom() - r.Airing }

// fill reads a solved network into the result.
func (r *Result) fill(p *pass, st *network.State, net AirNet) {
	d, n := p.d, p.n
	c := r.Conditions
	r.state, r.warmth, r.Cp, r.Lift, r.SpeedingUp = st, p.warmth, n.Cp, p.lift, p.speeding
	r.Outlet = st.Outlet
	r.Mass = 0
	for _, f := range n.Outlet {
		r.Mass += f.Mass
	}
	if net.still() {
		r.Mass, r.Outlet, r.Lift, r.SpeedingUp, r.PressureDrop, r.Leak = 0, c.Inlet, 0, 0, 0, 0
	}
	r.Volume = r.Mass / air.Density(c.Inlet, c.pressure())
	given := r.Mass * n.Cp * (r.Outlet - c.Inlet)
	e := d.split(n, st, p.reflected, p.edge)
	e.Air = given
	r.Energy = e
	r.Heat = e.Air + e.Room - r.Bare
	if e.Sun > 0 {
		r.Efficiency = r.Heat / e.Sun
		r.EfficiencyGross = r.Heat / (e.Sun / r.Aperture * r.Gross)
	}
	r.layers(d, n, st, net.still())
	if net.still() {
		return
	}
	r.MakeUp = d.makeUp(n, c)
	if d.FromOutdoors {
		r.Airing = r.Mass * n.Cp * (c.Room - c.Inlet)
	}
	r.DuctLoss = d.outdoors(d.ColdOut, r.Mass, n.Cp, c.Inlet, c.Ambient) + d.outdoors(d.HotOut, r.Mass, n.Cp, r.Outlet, c.Ambient)
	r.AirAlong = []float64{c.Inlet}
	for _, mix := range net.Along {
		mass, sum, hot := 0.0, 0.0, math.Inf(-1)
		for _, f := range mix {
			mass += f.Mass
			sum += f.Mass * st.Air[f.At][f.From]
			for k, l := range r.Layers {
				if l.Kind == AbsorberLayer {
					hot = max(hot, st.Layer[f.At][k])
				}
			}
		}
		r.AirAlong, r.HotAlong = append(r.AirAlong, sum/mass), append(r.HotAlong, hot)
	}
	if d.Passages.Evenness != nil && r.Mass > 0 {
		f := Flow{Mass: r.Mass / d.branching().sideBySide(), Mean: (c.Inlet + r.Outlet) / 2, P: c.pressure(),
			Warmth: d.branching().within(&p.warmth), start: p.start}
		r.Evenness = d.Passages.Evenness(f)
	}
	r.Branches = d.branching().told(p, r, st, net)
}

// split is where the sun on a box goes, W, but for what the air takes up; reflected and edge are W/m2 of aperture.
func (d *Description) split(n *network.Network, st *network.State, reflected, edge float64) Energy {
	area := d.Aperture()
	e := Energy{Reflected: reflected * area, Front: st.Lost[network.Front], Back: st.Lost[network.Back],
		Edge: st.Lost[network.Edge] + edge*area, Room: st.Lost[network.Room], Leak: n.LeakHeat(st)}
	e.Sun = e.Reflected + edge*area
	for _, s := range n.Sun {
		e.Sun += s * area
	}
	return e
}

// layers reads the layers' temperatures. In a box whose air stands, warm air
// gathers at the top: a gradient of half the difference between absorber and
// cover over the height, as in a tall cavity with boundary layers, times the
// part of the heat that convection carries. Source: Elder 1965 (recalled from
// memory); it moves no heat in the balance.
func (r *Result) layers(d *Description, n *network.Network, st *network.State, still bool) {
	nc, c := len(d.Sheets), r.Conditions
	gradient := 0.0
	if still && nc > 0 && len(d.Passages.Layers) > 0 {
		hot, cold := st.Layer[0][nc], st.Layer[0][nc-1]
		width := max(0.002, d.Passages.Layers[0].Gap)
		ra := heattransfer.Rayleigh((hot+cold)/2, c.pressure(), hot-cold, width)
		nu := heattransfer.NewCavity(c.Tilt, d.Height/width).Nusselt(ra, hot-cold)
		gradient = max(0, 0.5*(hot-cold)*math.Sin(c.Tilt*math.Pi/180)*(1-1/nu))
	}
	for k := range n.Sun {
		l := LayerTemps{Kind: CoverLayer}
		if k < nc {
			l.Name, l.Material, l.Service = fmt.Sprintf("glazing %d", k+1), d.CoverMaterial[k], d.CoverService[k]
		} else {
			p := d.Passages.Layers[k-nc]
			l = LayerTemps{Name: p.Name, Kind: p.Kind, Material: p.Material, Service: p.Service}
		}
		l.Max = math.Inf(-1)
		up := 0.0
		for i, share := range st.Share {
			t := st.Layer[i][k]
			if still && k >= nc {
				t += gradient * (up + share/2 - 0.5)
			}
			up += share
			l.Along = append(l.Along, t)
			l.Mean += t * share
			l.Max = max(l.Max, t)
		}
		r.Layers = append(r.Layers, l)
	}
	count := 0.0
	r.AbsorberMax = math.Inf(-1)
	for _, l := range r.Layers {
		if l.Kind == AbsorberLayer {
			r.AbsorberMean += l.Mean
			r.AbsorberMax = max(r.AbsorberMax, l.Max)
			count++
		}
	}
	r.AbsorberMean /= count
	if nc > 0 {
		r.CoverOuter = r.Layers[0].Mean
		r.CoverInner = math.Inf(1)
		for _, t := range r.Layers[nc-1].Along {
			r.CoverInner = min(r.CoverInner, t)
		}
	}
}

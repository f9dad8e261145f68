package buildplan

import (
	"math"

	"gladember/core/air"
	"gladember/core/catalog"
	"gladember/core/collector"
	"gladember/core/design"
	"gladember/core/heattransfer"
	"gladember/core/season"
	"gladember/core/units"
)

// Fault is something that is commonly done badly.
type Fault struct {
	ID string
	// Name says what is wrong and how much of it.
	Name units.Text
	// Step is where it happens, and Check how it is seen.
	Step  string
	Check units.Text
	// Path is the field by which a measurement of the built box replaces the estimate; empty
	// where there is none.
	Path string
	// Effect is what it does to the heater.
	Effect season.Effect
	// Whole says that it is there or not; other faults may be there by half or twice.
	Whole bool
}

// Sizes of the faults that are listed, m unless noted. They are examples of what is seen:
// common practice, no source.
const (
	edgeGap     = 0.005
	missedSeam  = 1.0
	seamOpen    = 0.0003
	slackBy     = 0.20 // share of the stretch
	shortColumn = 0.003
	thinPaint   = 0.05 // share of the sun that is not absorbed
	dirtyGlass  = 0.05 // share of the sun that is kept out
)

// Faults lists what can go wrong in building a heater, each at the size that its name says,
// times k for those that have one. e gives the flow and the pressures at the clear winter
// noon, by which openings are turned into leaks.
func Faults(e *collector.Evaluation, k float64) (out []Fault) {
	h := &e.Heater
	if h.Indoors() {
		return nil
	}
	alone := func(c design.Change) season.Effect { return season.Effect{Changes: []design.Change{c}} }
	mm := func(v float64) units.Value { return units.Q(units.Length, k*v) }
	if h.Absorber.Screens != nil {
		now := h.Absorber.Screens.Bypass
		if gap := GapBypass(e, k*edgeGap); gap > 0 {
			out = append(out, Fault{ID: "edge-gap", Name: units.Say("A gap of %v along both edges of the screens", mm(edgeGap)),
				Step:  "seal",
				Check: units.Say("Shine a lamp from behind: no line of light."), Path: design.ScreensBypass.Path,
				Effect: season.Effect{By: collector.Tuning{Bypass: min(gap, 0.9-now)}}})
		}
	}
	if c := h.Absorber.Cans; c != nil {
		less := ShortColumn(e, k*shortColumn)
		out = append(out, Fault{ID: "short-column", Name: units.Say("One column %v short of its header", mm(shortColumn)), Step: "absorber",
			Check:  units.Say("Measure every column as it comes off the jig."),
			Effect: season.Effect{By: collector.Tuning{FanCurve: -less}}})
	}
	seams := 2 * 2 * (h.OuterWidth() + h.OuterHeight())
	out = append(out, Fault{ID: "caulk", Name: units.Say("%v of seam without sealant, %v open", units.Q(units.Distance, k*missedSeam),
		units.Q(units.Length, seamOpen)), Step: "seal", Check: units.Say("Go along all seams with smoke."), Path: design.BoxSeam.Path,
		Effect: leaky(h, OpenSeam(k*missedSeam*seamOpen)/seams)})
	if d, err := catalog.FindDuct(h.Air.Duct); err == nil && d.Flexible && h.Air.ToBox+h.Air.FromBox > 0.3 {
		out = append(out, Fault{ID: "slack", Name: units.Say("Duct pulled out to %v instead of %v", units.Q(units.Share, stretched(h, k)),
			units.Q(units.Share, h.Air.Stretch)), Step: "ducts", Check: units.Say("Pull it straight and cut off what is left over."),
			Path:   design.AirStretch.Path,
			Effect: alone(design.Set(design.AirStretch, stretched(h, k)))})
	}
	out = append(out, Fault{ID: "paint", Name: units.Say("Thin paint: %v less of the sun absorbed", units.Q(units.Share, k*thinPaint)),
		Step:   "paint",
		Check:  units.Say("Hold it against the light: what gleams is not covered."),
		Effect: season.Effect{By: collector.Tuning{TauAlpha: -k * thinPaint}}})
	if h.Box.EdgeFoam > 0 {
		out = append(out, Fault{ID: "edge-foam", Name: units.Say("Side insulation left out: the frame is the cold bridge"),
			Step:  "insulate",
			Check: units.Say("Look along all four sides before the absorber hides them."), Path: design.BoxEdgeFoam.Path,
			Effect: season.Effect{By: collector.Tuning{Edge: 1}}, // without the field, which would make the box wider inside
			Whole:  true})
	}
	if h.Box.Under > 0 {
		out = append(out, Fault{ID: "under-foam", Name: units.Say("Insulation stops inside the frame, with none under it"), Step: "under",
			Check: units.Say("It shows all round between box and wall."), Path: design.BoxUnderFrame.Path,
			Effect: alone(design.Set(design.BoxUnderFrame, 0)),
			Whole:  true})
	}
	if h.Air.Flap != "none" {
		out = append(out, Fault{ID: "flap", Name: units.Say("A damper that does not fall shut"), Step: "ducts",
			Check: units.Say("It falls shut by itself when the air stops, cold and warm."), Path: design.AirFlap.Path,
			Effect: season.Effect{By: collector.Tuning{Ajar: 1}}, Whole: true})
	}
	return append(out, Fault{ID: "dirt", Name: units.Say("Dirt inside the glazing: %v of the sun kept out", units.Q(units.Share,
		k*dirtyGlass)), Step: "glaze",
		Check: units.Say("Clean it from inside; it cannot be reached again."), Path: design.CoverDirt.Path,
		Effect: season.Effect{By: collector.Tuning{Sun: -k * dirtyGlass}}})
}

// leaky is a heater each meter of whose seams leaks so much more at 1 Pa, m3/s: as a factor
// on the leakage, where there is some to begin with.
func leaky(h *design.Heater, more float64) season.Effect {
	if h.Box.Seam > 0 {
		return season.Effect{By: collector.Tuning{Leak: math.Log1p(more / h.Box.Seam)}}
	}
	return season.Effect{Changes: []design.Change{design.Set(design.BoxSeam, min(0.001, more))}}
}

// stretched is how far a duct is pulled out that was left slack.
func stretched(h *design.Heater, k float64) float64 { return max(0.5, h.Air.Stretch-k*slackBy) }

// slot is the discharge coefficient of a sharp-edged opening. Source: the orifice of
// package airflow.
const slot = 0.61

// OpenSeam is what an opening of an area, m2, leaks at 1 Pa, m3/s.
func OpenSeam(area float64) float64 { return slot * area * math.Sqrt(2/air.Density(20, air.SeaLevel)) }

// GapBypass is the share of the air that passes a gap so wide, m, along both edges of the
// screens instead of crossing them: what crosses and what slips by lose the same pressure
// over the stack, the one by the screens' law, the other as through a slot.
func GapBypass(e *collector.Evaluation, gap float64) float64 {
	h := &e.Heater
	mesh, err := catalog.FindMesh(h.Absorber.Screens.Mesh)
	if err != nil || e.Running.Mass <= 0 || gap <= 0 {
		return 0
	}
	t := (e.Running.Conditions.Inlet + e.Running.Outlet) / 2
	rho := air.Density(t, air.SeaLevel)
	area, open := h.ApertureWidth()*h.ApertureHeight(), 2*gap*h.ApertureHeight()
	wires := (1 - mesh.WireShare()) * (1 - mesh.WireShare())
	mass := e.Running.Mass / max(1, float64(h.Array.Boxes))
	share := 0.0
	for range 60 { // the less crosses, the less pressure there is to drive the slip
		v := mass * (1 - share) / rho / area
		re := rho * v * mesh.Wire / air.Viscosity(t)
		dp := float64(h.Absorber.Screens.Layers) * heattransfer.WireScreenLoss(re, wires) * rho * v * v / 2
		slips := slot * open * math.Sqrt(2*rho*dp)
		share = (share + min(0.95, slips/mass)) / 2
	}
	return share
}

// ShortColumn is by how much less air goes through the cans, as a share, where one column
// ends so far before its header, m: the gap around its end is a slot beside all columns,
// and what goes through it passes the cans outside.
func ShortColumn(e *collector.Evaluation, gap float64) float64 {
	h := &e.Heater
	c := h.Absorber.Cans
	d, err := collector.Describe(h)
	if err != nil || e.Running.Mass <= 0 {
		return 0
	}
	t := (e.Running.Conditions.Inlet + e.Running.Outlet) / 2
	rho := air.Density(t, air.SeaLevel)
	dp := 0.0
	for _, x := range d.Passages.Elements {
		dp += x.Loss(e.Running.Mass, t, air.SeaLevel)
	}
	if dp <= 0 {
		return 0
	}
	through := e.Running.Mass / math.Sqrt(2*rho*dp) // m2 of free jet that loses as much
	slips := slot * math.Pi * c.Diameter * gap
	return slips / (slips + through)
}

package advice

import (
	"fmt"
	"math"
	"slices"
	"strings"
	"time"

	"gladember/core/collector"
	"gladember/core/design"
	"gladember/core/units"
)

// worstNoon says by which noon a box's materials are judged.
// The month is named where the worst noon was found in the heater's own year; a
// heater without a place is judged at a bright noon of no month.
func (e *assessment) worstNoon() Text {
	c, sun := e.Noon.Conditions, e.Noon.Energy.Sun/e.Noon.Aperture
	if e.NoonMonth == 0 {
		return say("This is a bright noon with the fan off: %v on the glazing, %v outdoors, wind %v.", q(units.Irradiance, sun),
			q(units.Temperature, c.Ambient), q(units.Gust, c.Wind))
	}
	return say("This is a hot clear noon in %v with the fan off: %v on the glazing, %v outdoors, wind %v.", word(e.NoonMonth.String()),
		q(units.Irradiance, sun), q(units.Temperature, c.Ambient), q(units.Gust, c.Wind))
}

// orGuard adds to a finding of too much heat what would keep the heat out:
// where no better material mends it, or only one that costs [costly] of the
// heat while a guard does not, as its remedy; else, on the first such finding,
// beside it.
// The first finding of heat carries the alternatives, since a guard keeps all
// materials cool at once and need not be offered for each.
func (f *Finding) orGuard(e *assessment, first bool) {
	dear := func(gain float64) bool { return gain < -costly*math.Abs(worth(&e.Running)) }
	if !e.looking || !e.open(design.GuardKind.Path) || f.Patch != nil && !first && !dear(f.Gain) {
		return
	}
	e.guarded.Do(func() { e.guards = e.findGuards() })
	or := slices.Clone(e.guards)
	if i := slices.IndexFunc(or, func(a Alternative) bool { return !dear(a.Gain) }); i >= 0 {
		// What costs much is not offered while another does not.
		or = slices.DeleteFunc(or, func(a Alternative) bool { return dear(a.Gain) })
		if f.Patch != nil && dear(f.Gain) {
			f.Patch = nil
		}
	} else if f.Patch != nil && !dear(f.Gain) {
		or = nil
	}
	if f.Patch == nil && len(or) > 0 {
		f.Remedy, f.Patch, f.Gain, f.HasGain = or[0].Remedy, or[0].Patch, or[0].Gain, true
		or = or[1:]
	}
	if first {
		f.Or = or
	}
}

// ofHeat says whether a danger or fault is that a material gets too hot.
func ofHeat(id string) bool { return strings.HasPrefix(id, "too-hot-") }

// cures says whether a box has no material that gets too hot, or none that may
// where this one's only may, and no danger or fault that this one does not have.
// Other faults that the box has already may stay: they have remedies of their
// own.
func (e *assessment) cures(x *assessment) bool {
	least := Warning
	for id := range e.wrong {
		if ofHeat(id) {
			least = Fault
		}
	}
	for _, f := range x.found(least) {
		if ofHeat(f.ID) || f.Severity <= Fault && !e.wrong[f.ID] {
			return false
		}
	}
	return true
}

// over is how much warmer than the outlet of the running box a guard must begin
// to move, K. Common practice, no source.
const over = 15.0

// findGuards looks for a vent, a shutter and a summer cover, each as small as
// keeps every material below its limit on the worst noon, by the balance and
// with its uncertainty.
// A shutter is looked for only where no vent does, since it keeps out the sun
// of the running box too if it sticks. A cover for the hot months is offered
// beside either. Each that is found is judged whole before it is offered.
func (e *assessment) findGuards() (out []Alternative) {
	h := &e.Heater
	if h.Indoors() {
		return nil
	}
	// In steps of 5 C between 70 and 120 C, which is what wax cylinders are
	// sold for.
	begins := min(120, max(70, 5*math.Ceil((e.Running.Outlet+over)/5)))
	add := func(id string, remedy func(x *assessment) Text, changes ...design.Change) {
		x, err := e.changed(changes...)
		if err != nil || !e.cures(x) {
			return
		}
		out = append(out, Alternative{ID: id, Remedy: remedy(x), Patch: changes, Gain: worth(&x.Running) - worth(&e.Running)})
	}
	if area, ok := e.smallest(0.001, h.MostVent(), func(a float64) []design.Change { return vent(begins, a) }); ok {
		add("guard-vent", func(x *assessment) Text {
			return say("Fit vents to outdoors of %v free area at the bottom and at the top of the box, which a wax cylinder begins to "+
				"open at %v: the absorber then reaches %v at most.",
				q(units.Opening, area), q(units.Temperature, begins), q(units.Temperature, hottest(x, collector.AbsorberLayer)))
		}, vent(begins, area)...)
	}
	if len(out) > 0 { // a vent does
	} else if dark, ok := e.smallest(0.1, 0.95, func(d float64) []design.Change { return shutter(begins, 1-d) }); ok {
		add("guard-shutter", func(x *assessment) Text {
			return say("Fit a shutter that a wax cylinder begins to close at %v and that lets through %v of the sun at most: the "+
				"absorber then reaches %v at most.",
				q(units.Temperature, begins), q(units.Share, 1-dark), q(units.Temperature, hottest(x, collector.AbsorberLayer)))
		}, shutter(begins, 1-dark)...)
	}
	if from, to, ok := e.coverMonths(); ok {
		add("guard-cover", func(x *assessment) Text {
			when := "in " + time.Month(from).String()
			if to != from {
				when = "from " + time.Month(from).String() + " to " + time.Month(to).String()
			}
			stays := "stays"
			if slices.ContainsFunc(x.found(Warning), func(f Finding) bool { return ofHeat(f.ID) }) {
				stays = "is likely to stay"
			}
			return say("Cover the glazing with a lid or a cloth %v, every year: in the other months it %v below its limits.", word(when),
				word(stays))
		}, design.Set(design.CoverCoveredFrom, from), design.Set(design.CoverCoveredTo, to))
	}
	return out
}

// vent is a guard that lets the hot air out at the top, from begins in C,
// through area in m2.
func vent(begins, area float64) []design.Change {
	return []design.Change{design.Set(design.GuardKind, "vent"), design.Set(design.GuardActuator, "wax"),
		design.Set(design.GuardOpens, begins),
		design.Set(design.GuardArea, area)}
}

// shutter is a guard that covers the glazing from begins in C and lets the
// share passes of the sun through.
func shutter(begins, passes float64) []design.Change {
	return []design.Change{design.Set(design.GuardKind, "shutter"), design.Set(design.GuardActuator, "wax"),
		design.Set(design.GuardOpens, begins),
		design.Set(design.GuardPasses, passes)}
}

// margin is by how much a size found with the margins of the unguarded box is
// enlarged, since the guard's own losses are uncertain too.
const margin = 1.15

// smallest finds the least size between two at which a guard cures the box; it
// reports false where the largest does not. Sizes are rounded up to two
// figures.
// Size is in the unit of the guard that it is handed to. The search halves the
// ratio of the bounds six times, to within 8 % over a range of a hundred, with
// the margins of the unguarded box (collector.Nearly), and then adds [margin].
func (e *assessment) smallest(lo, hi float64, guard func(size float64) []design.Change) (float64, bool) {
	cured := func(size float64) bool {
		h, err := design.Apply(e.Heater, units.System{}, guard(size)...)
		if err != nil {
			return false
		}
		x, err := collector.Nearly(&h, e.conditions(&h), e.Evaluation)
		return err == nil && e.cures(&assessment{Evaluation: &x})
	}
	most := hi
	if !cured(hi) {
		return 0, false
	}
	for range 6 {
		if mid := math.Sqrt(lo * hi); cured(mid) {
			hi = mid
		} else {
			lo = mid
		}
	}
	return min(most, roundUp(hi*margin)), true
}

// roundUp rounds a size up to two figures.
func roundUp(v float64) float64 {
	// The unit of the second figure; 1e-9 keeps 0.12 from becoming 0.13.
	unit := math.Pow(10, math.Floor(math.Log10(v))-1)
	return math.Round(math.Ceil(v/unit-1e-9)*unit*1e6) / 1e6
}

// coverMonths finds the months, from one to another, in which a cover keeps the
// box from its hot noons, growing from the worst; it reports false where the
// winter's noon is too hot too.
// The hottest month first; whichever side of it is then the worst is covered
// next, up to eight months, beyond which a box would not be a heater any more.
func (e *assessment) coverMonths() (from, to int, ok bool) {
	const most = 8
	from, to = int(e.NoonMonth), int(e.NoonMonth)
	if from == 0 {
		return 0, 0, false
	}
	if c := e.Heater.Cover; c.CoveredFrom > 0 { // a cover that is there is left on longer
		from, to = grown(c.CoveredFrom, c.CoveredTo, from)
	}
	for range most {
		x, err := e.changed(design.Set(design.CoverCoveredFrom, from), design.Set(design.CoverCoveredTo, to))
		if err != nil {
			return 0, 0, false
		}
		if e.cures(x) {
			return from, to, true
		}
		m := int(x.NoonMonth)
		if m == 0 {
			return 0, 0, false
		}
		from, to = grown(from, to, m)
		if (to-from+12)%12 >= most {
			break
		}
	}
	return 0, 0, false
}

// grown are covered months, from one to another, grown to month m the shorter
// way round the year.
func grown(from, to, m int) (int, int) {
	if before, after := (from-m+12)%12, (m-to+12)%12; before < after {
		return m, to
	}
	return from, m
}

// movesEarly: a guard that begins to move while the fan runs.
// An actuator needs some kelvins above the running outlet, or it opens on a
// warm day and lets out heat that the room wants.
func movesEarly(e *assessment) []Finding {
	g := e.Heater.Guard
	if e.Heater.Indoors() || g.Kind == "none" || g.Kind == "" || e.Running.Mass <= 0 || e.Running.Outlet+over/3 < g.Opens {
		return nil
	}
	what := "vent opens"
	if g.Kind == "shutter" {
		what = "shutter closes"
	}
	begins := min(150, 5*math.Ceil((e.Running.Outlet+over)/5))
	return []Finding{{ID: "guard-early", Severity: Fault, Topic: Construction, Title: fmt.Sprintf("The %s while the fan runs", what),
		Finding: say("The outlet air of the running box is at %v; the actuator begins to move at %v.",
			q(units.Temperature, e.Running.Outlet), q(units.Temperature, g.Opens)),
		Evidence: say("The guard is for a noon with the fan off. If it moves earlier, it takes heat from the room."),
		Remedy:   say("Set the guard to open at %v.", q(units.Temperature, begins)), Patch: []design.Change{change(design.GuardOpens.Path,
			begins)}}}
}

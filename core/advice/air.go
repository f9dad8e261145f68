package advice

import (
	"context"
	"fmt"
	"math"

	"gladember/core/catalog"
	"gladember/core/collector"
	"gladember/core/design"
	"gladember/core/internal/parallel"
	"gladember/core/season"
	"gladember/core/space"
	"gladember/core/thermostat"
	"gladember/core/units"
)

// AirOption is one change of the air's way, worked out by running the box with
// it.
type AirOption struct {
	Name    Text
	Changes []design.Change
	// Volume is the airflow at the outlet, m3/s.
	Volume float64
	// Heat is the heat to the room, W.
	Heat float64
	// Outlet is the temperature of the air that enters the room, C.
	Outlet float64
	// Gain is the heat beyond that of the heater as it is, W, with what ducts
	// lose and the fan buys taken off.
	Gain float64
	// With says which other parts are changed with it, since it would bring a
	// danger or a fault without them.
	With []Text
	// Brings are the titles of the dangers and faults that it brings alone.
	Brings []string
	// Stands says that it may be offered for one touch: it brings no danger or
	// fault and warms the room more, through the year where that is known.
	Stands bool
	// YearGain is the useful heat less the fan's that it adds in a year, kWh,
	// where HasYear says that the year was run with it.
	YearGain float64
	HasYear  bool
}

// Loudness names the sound of air at a speed in a duct, m/s. Common practice,
// no source.
// Fans have noise of their own; this is the rush of the air in duct and grille.
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

// worth is what a box gives the room for nothing, W: a watt bought for the fan
// is a watt less of gain.
// Heat that a heat pump or gas would make for less than a watt of electricity
// is still counted one to one: the comparison stays on the builder's side.
func worth(r *collector.Result) float64 { return r.Warms() - r.Bought }

// AirOptions returns what changes of duct, fittings and fan would do to a
// heater in the conditions of its evaluation, each by a run of its own. Changes
// that a heater cannot have are left out.
// They are the changes that people ask about first: the next wider duct, fewer
// bends, a smoother duct, no damper, no filter, a second fan beside or behind
// the first, the fan at the other end, no fan at all. Each is judged as a remedy
// is: what it brings is named, other parts that it calls for come with it, and
// only one that stands may be applied by one touch. What a missing damper loses
// by night is known to the year alone, see [YearAirOptions].
func AirOptions(e *collector.Evaluation) (out []AirOption) {
	h := &e.Heater
	try := func(name Text, changes ...design.Change) {
		x := h.Clone()
		for _, c := range changes {
			// A field that does not apply to this heater makes the option one
			// that it cannot have.
			f := design.FieldAt(c.Path)
			if !f.Applies(&x) {
				return
			}
			var err error
			if x, err = design.Apply(x, units.System{}, c); err != nil {
				return
			}
		}
		// A flow that was set by hand would hide what the change does, so it is
		// freed.
		c := e.Running.Conditions
		c.Flow = 0
		if x.Air.Source == "outdoors" {
			c.Inlet = c.Ambient
		}
		r, err := collector.Rate(&x, c)
		if err != nil || r.Mass <= 0 {
			return
		}
		out = append(out, AirOption{Name: name, Changes: changes, Volume: r.Volume, Heat: r.Warms(), Outlet: r.Outlet,
			Gain: worth(&r) - worth(&e.Running)})
	}
	for _, d := range bores {
		if d > h.Air.Diameter+1e-6 {
			try(say("a duct of %s", q(units.Bore, d)), design.Set(design.AirDiameter, d))
			break
		}
	}
	if h.Air.Bends > 0 {
		n := max(0, h.Air.Bends-2)
		try(say(fmt.Sprintf("%d bends instead of %d", n, h.Air.Bends)), design.Set(design.AirBends, n))
	}
	if h.Air.Duct != "smooth" {
		try(say("smooth pipe instead of this duct"), design.Set(design.AirDuct, "smooth"))
	}
	if h.Air.Flap != "none" {
		try(say("no backdraft damper (then warm air is lost by night)"), design.Set(design.AirFlap, "none"))
	}
	if h.Air.Filter != "none" {
		try(say("no filter"), design.Set(design.AirFilter, "none"))
	}
	if h.Fanned() {
		if h.Air.Fans < 2 {
			try(say("a second fan in parallel"), design.Set(design.AirFans, 2), design.Set(design.AirFansJoin, "beside"))
			try(say("a second fan in series"), design.Set(design.AirFans, 2), design.Set(design.AirFansJoin, "behind"))
		}
		side := map[string]string{"inlet": "outlet", "outlet": "inlet"}[h.Air.FanSide]
		try(say("the fan at the %s", word(side)), design.Set(design.AirFanSide, side))
		try(say("no fan: natural draft"), design.Set(design.AirDrive, "natural"))
	} else {
		try(say("a small fan"), design.Set(design.AirDrive, "fan"))
	}
	b := newBox(e)
	// Each option is judged by itself, and none fails.
	_ = parallel.Each(context.Background(), len(out), func(i int) error {
		out[i].judged(b)
		return nil
	}, nil)
	return out
}

// judged names what an option brings. Of one that warms the room more it says
// whether it stands, and adds the changes of other parts that it calls for.
func (o *AirOption) judged(b *assessment) {
	o.Brings = b.brought(o.Changes...)
	if o.Gain <= 0 {
		return
	}
	all, with := o.Changes, []Text(nil)
	if len(o.Brings) > 0 {
		var ok bool
		if all, with, ok = b.completed("", o.Changes...); !ok {
			return
		}
	}
	h, r, err := rerun(b, all...)
	if err != nil {
		return
	}
	o.Changes, o.With, o.Volume, o.Heat, o.Outlet = all, with, r.Volume, r.Warms(), r.Outlet
	o.Gain = worth(&r) - worth(&b.Running)
	o.Stands = o.Gain > 0 && h.Air.Flap == b.Heater.Air.Flap
}

// brought are the titles of the dangers and faults that changes bring.
func (e *assessment) brought(changes ...design.Change) (titles []string) {
	x, err := e.changed(changes...)
	if err != nil {
		return nil
	}
	for _, f := range x.found(Fault) {
		if !e.wrong[f.ID] {
			titles = append(titles, f.Title)
		}
	}
	return titles
}

// YearAirOptions are the [AirOptions] of a heater whose year is known. Those that
// bring no danger or fault and warm the room more at noon are run through the year:
// one that lowers the useful heat less the fan's, or the money, does not stand.
func YearAirOptions(ctx context.Context, h *design.Heater, y *season.Laid, r *season.Result) ([]AirOption, error) {
	x, err := newYear(ctx, h, y, r)
	if err != nil {
		return nil, err
	}
	os := AirOptions(x.noon.Evaluation)
	err = parallel.Each(ctx, len(os), func(i int) error {
		o := &os[i]
		if len(o.Brings) > 0 && len(o.With) == 0 || o.Gain <= 0 {
			return nil
		}
		gain, money, ok := x.again(o.Changes...)
		o.YearGain, o.HasYear = gain, ok
		o.Stands = ok && (gain >= 0 || x.tied(gain)) && money >= -leastMoney
		return nil
	}, nil)
	return os, err
}

// duct bores people can buy, m.
var bores = []float64{0.080, 0.100, 0.125, 0.150, 0.200, 0.250, 0.315, 0.400, 0.500}

// moreAir: hot air at a trickle. The candidates are the next ducts and the
// fans of the catalog; the best by rerun is offered if it gives 3 % more.
// Fan and duct are judged by heat to the room less electricity. A change must
// leave the outlet 8 K above the inlet, or the room feels it as a draft, and is
// said only where the air now warms by 15 K or more, since below that a box has
// air enough.
func moreAir(e *assessment) []Finding {
	run := e.Running
	if run.Conditions.Flow > 0 || run.Warms() <= 0 || !e.Heater.Fanned() || !e.looking {
		return nil
	}
	rise := run.Outlet - run.Conditions.Inlet
	if rise < 15 {
		return nil
	}
	var options []option
	// The next two ducts wider than this one by more than a rounding of inches.
	count := 0
	for _, b := range bores {
		if b > e.Heater.Air.Diameter+0.004 && count < 2 {
			count++
			options = append(options, option{[]design.Change{design.Set(design.AirDiameter, b)}, func(r collector.Result) Text {
				return say("Use a %v duct: %v at %v.", q(units.Bore, b), q(units.Flow, r.Volume), q(units.Temperature, r.Outlet))
			}})
		}
	}
	// Only fans that move more or push harder than the present one.
	for _, c := range catalog.Fans() {
		fan, _ := catalog.FindFan(c.ID)
		if fan.FreeAir <= e.Heater.Air.FanFree && fan.ShutOff <= e.Heater.Air.FanShut {
			continue
		}
		o := option{[]design.Change{design.Set(design.AirFan, fan.ID)}, func(r collector.Result) Text {
			return say("Use a fan such as the %v (%v): %v at %v.", word(fan.Name), q(units.Electric, fan.Power), q(units.Flow, r.Volume),
				q(units.Temperature, r.Outlet))
		}}
		if w, small := panelFor(&e.Heater, fan); small {
			o.changes = append(o.changes, design.Set(design.AirPanel, w))
			alone := o.say
			o.say = func(r collector.Result) Text {
				return alone(r).Then(say("It takes a solar panel of %v.", q(units.Electric, w)))
			}
		}
		options = append(options, o)
	}
	best, bestWorth := -1, 0.0
	var bestRun collector.Result
	for i, o := range options {
		h, r, err := rerun(e, o.changes...)
		if err != nil || r.Outlet < run.Conditions.Inlet+8 {
			continue // warmer by less than that feels like a draft
		}
		if more := worth(&r) - worth(&run); more > bestWorth && e.startsAsSoon(&h) && e.allows("", o.changes...) {
			best, bestWorth, bestRun = i, more, r
		}
	}
	if best < 0 || bestRun.Warms() < 1.03*run.Warms() {
		return nil
	}
	f := Finding{ID: "more-air", Severity: Loss, Topic: Construction, Title: "Airflow is too low",
		Finding: say("Outlet air of %v at %v gives %v. Less air means a hotter box, which loses more through the glazing.",
			q(units.Temperature, run.Outlet), q(units.Flow, run.Volume), q(units.Power, run.Warms())),
		Evidence: say("The glazing loses %v of the sun; the air warms by %v.", q(units.Share, run.Energy.Front/run.Energy.Sun),
			q(units.Rise, rise)),
		Remedy: options[best].say(bestRun), Patch: options[best].changes,
		Gain: worth(&bestRun) - worth(&run), HasGain: true}
	if rise > 35 {
		f.Title = "Outlet air is too hot for so little airflow"
	}
	return []Finding{f}
}

// fanRating: the label's free air against what this system lets it move.
// Said where the system lets through less than 60 % of the free air. The last
// sentence shows what the classic mistake would claim: the rated flow times the
// measured rise.
func fanRating(e *assessment) []Finding {
	run := e.Running
	if run.Conditions.Flow > 0 || !e.Heater.Fanned() || run.FanFlow <= 0 {
		return nil
	}
	label := e.Heater.FreeAir()
	share := run.FanFlow / label
	if share >= 0.6 {
		return nil
	}
	sys := run.PressureDrop
	return []Finding{{ID: "fan-rating", Severity: Note, Topic: Construction, Title: "Rated fan flow is not actual flow",
		Finding: say("The fan is rated for %v; in this system it moves %v.", q(units.Flow, label), q(units.Flow, run.FanFlow)),
		Evidence: say("The pressure drop of ducts and box is %v, %v of the fan's shut-off pressure.", q(units.Pressure, sys),
			q(units.Share, sys/e.Heater.Air.FanShut)),
		Remedy: say("Use the smaller flow, or measure it. With the rated flow the heat would seem to be %v.",
			q(units.Power, run.Heat*label/run.FanFlow))}}
}

// tightPorts: a wide port that opens into a shallow space breathes only through
// its rim times that depth.
// Air that turns out of a duct of diameter D into a space of depth s passes a
// curtain of area pi D s; it is as wide as the duct where s = D / 4. Below that
// the turn costs pressure, and much of it. Deepening the space is tried for
// each field that makes it.
func tightPorts(e *assessment) []Finding {
	h := &e.Heater
	d, err := collector.Describe(h)
	if err != nil || h.Indoors() || h.Air.PortFace != "back" && h.Absorber.Own == nil {
		return nil
	}
	depth := math.Inf(1)
	for _, x := range d.Passages.Ports {
		if x > 0 {
			depth = min(depth, x)
		}
	}
	if depth >= h.Air.Diameter/4 { // the curtain is as wide as the port
		return nil
	}
	f := Finding{ID: "tight-ports", Severity: Loss, Topic: Construction, Title: "Ports are too restricted",
		Finding: say("A port of %v opens into a space %v deep, so the air turns through only %v of the port's area.",
			q(units.Bore, h.Air.Diameter), q(units.Length, depth), q(units.Share, 4*depth/h.Air.Diameter)),
		Evidence: say("The airflow is %v at a pressure drop of %v.", q(units.Flow, e.Running.Volume),
			q(units.Pressure, e.Running.PressureDrop))}
	var options []option
	deeper := h.Air.Diameter / 4
	for _, path := range []string{design.PlateChannel.Path, design.PipesBehind.Path, design.BoxGap.Path} {
		x := design.FieldAt(path)
		if !x.Applies(h) || design.FieldAt(path).Number(h) > depth+1e-6 || deeper > x.Max {
			continue
		}
		options = append(options, option{[]design.Change{change(path, deeper)}, func(r collector.Result) Text {
			return say("Make the space %v deep: %v at %v. It is enough to deepen it at the ports.", q(units.Length, deeper),
				q(units.Flow, r.Volume), q(units.Temperature, r.Outlet))
		}})
	}
	if o, r, ok := best(e, 0.01, options); ok {
		return f.with(e, o, r)
	}
	if e.Running.PressureDrop <= 0 {
		return nil
	}
	f.Severity = Note
	f.Remedy = say("Widen the space at the ports, or use a narrower duct. A deeper channel all along gains next to nothing here.")
	return []Finding{f}
}

// coolJet: much warm air is more heat, and a draft.
// [space.Drafty] is where moving air begins to feel cool on the skin. It is a
// matter of comfort, so it is a note.
func coolJet(e *assessment) []Finding {
	h := &e.Heater
	if e.Running.Outlet >= space.Drafty || h.Room.Kind == design.Greenhouse || !h.Fanned() || e.Running.Heat <= 0 {
		return nil
	}
	return []Finding{{ID: "cool-jet", Severity: Note, Topic: Construction, Title: "The outlet air will feel like a draft",
		Finding: say("Air of %v carries the most heat, but feels cool on the skin.", q(units.Temperature, e.Running.Outlet)),
		Evidence: say("The airflow is %v; below about %v moving air feels like a draft.", q(units.Flow, e.Running.Volume),
			q(units.Temperature, space.Drafty)),
		Remedy: say("Point the outlet at a wall or the ceiling, not at a chair.")}}
}

// outdoorIntake: air drawn in from outdoors has to be warmed to the room's
// temperature before it warms anything.
// What it takes to warm the intake to the room's temperature is Result.Airing;
// it would have been needed anyway only as far as the room needs fresh air.
func outdoorIntake(e *assessment) []Finding {
	h := &e.Heater
	r := &e.Running
	if h.Air.Source != "outdoors" || r.Mass <= 0 || r.Airing <= 0 {
		return nil
	}
	f := Finding{ID: "outdoor-intake", Severity: Loss, Topic: Airflow, Title: "Outdoor intake costs heat",
		Finding: say("Heating outdoor air from %v to the room's %v takes %v of the %v that the box gives.",
			q(units.Temperature, r.Conditions.Inlet), q(units.Temperature, r.Conditions.Room), q(units.Power, r.Airing),
			q(units.Power, r.Heat)),
		Evidence: say("The heat to the room at the clear winter noon is %v.", q(units.Power, r.Warms())),
		Remedy:   say("Draw the air from the room, and ventilate the room separately for as long as it needs.")}
	if r.Warms() < 0 {
		f.Severity, f.Title = Fault, "The box cools the room"
	}
	o := option{[]design.Change{design.Set(design.AirSource, "room")}, func(r collector.Result) Text {
		return say("Draw the air from the room: the heat to the room is then %v. Ventilate separately for as long as the room needs.",
			q(units.Power, r.Warms()))
	}}
	if _, x, err := rerun(e, o.changes...); err == nil && e.looking {
		return f.with(e, o, x)
	}
	return []Finding{f}
}

// belowRoom: a switch that opens below the room's own temperature runs its fan
// by night.
// The thermostat sits in the box and feels room air as long as the fan runs, so
// a point below the room's temperature never opens. The remedy keeps 2 K above
// the room and the usual 5 K between the two points.
func belowRoom(e *assessment) []Finding {
	h := &e.Heater
	k := thermostat.New(h).Kind
	warm := max(h.Room.Wanted, h.Room.Air)
	if k != thermostat.SnapDisc && k != thermostat.SetPoint || h.Switch.Open > warm {
		return nil
	}
	open := math.Ceil(warm + 2)
	closes := max(h.Switch.Close, open+5)
	return []Finding{{ID: "switch-below-room", Severity: Fault, Topic: Control, Title: "The fan will not stop at night",
		Finding: say("The fan stops at %v, but the room is kept at %v, so the fan runs on at night and cools the room.",
			q(units.Temperature, h.Switch.Open), q(units.Temperature, warm)),
		Evidence: say("Room air through the box keeps its thermostat near room temperature."),
		Remedy:   say("Set the fan off at %v and on at %v.", q(units.Temperature, open), q(units.Temperature, closes)),
		Patch:    []design.Change{design.Set(design.SwitchClose, closes), design.Set(design.SwitchOpen, open)}}}
}

// otherSide: pushing or pulling, as the leaks and the air's density say.
// A fan that pushes puts the box above room pressure, so that warm air leaves
// at the seams; one that pulls draws cold air in at them, and moves thinner
// air. The balance decides, and a difference under 3 % is not worth the move. A
// fan that would not bear the box's air is not moved to the outlet.
func otherSide(e *assessment) []Finding {
	h := &e.Heater
	if !h.Fanned() || e.Running.Conditions.Flow > 0 {
		return nil
	}
	other, words := "outlet", "Put the fan at the outlet, pulling"
	if h.Air.FanSide == "outlet" {
		other, words = "inlet", "Put the fan at the inlet, pushing"
	}
	f := Finding{ID: "other-side", Severity: Loss, Topic: Construction, Title: "The fan works better at the other end",
		Finding: say("Here the box is at %v relative to outdoors, and its seams cost %v.", q(units.Pressure, e.Running.BoxPressure),
			q(units.Power, e.Running.Energy.Leak)),
		Evidence: say("The heat to the room is %v with the fan at this end.", q(units.Power, e.Running.Warms()))}
	o, r, ok := best(e, 0.03, []option{{[]design.Change{design.Set(design.AirFanSide, other)}, func(r collector.Result) Text {
		return say("%v: %v.", word(words), q(units.Power, r.Warms()))
	}}})
	if !ok {
		return nil
	}
	if fan, err := catalog.FindFan(h.Air.FanModel); err == nil && other == "outlet" && e.Still.AbsorberMean > fan.Service {
		return nil // it would not bear the heat there
	}
	return f.with(e, o, r)
}

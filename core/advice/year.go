package advice

import (
	"cmp"
	"context"
	"math"
	"slices"
	"time"

	"gladember/core/collector"
	"gladember/core/design"
	"gladember/core/internal/parallel"
	"gladember/core/season"
	"gladember/core/space"
	"gladember/core/thermostat"
	"gladember/core/units"
)

// year is a heater with its year, and what a judge needs to run others.
type year struct {
	ctx   context.Context
	h     *design.Heater
	y     *season.Laid
	r     *season.Result
	money season.Money
	noon  *assessment // on the clear winter noon
}

// yearly are the judges that need a year.
var yearly = []func(*year) []Finding{
	idleYear, cyclingYear, lukewarm, tooLarge, tooWarm, springHeat, moverEats, neverPays, betterYear, coldNights, hillsTake, nextBox,
}

// newYear is a heater with its year, its money and its clear winter noon.
func newYear(ctx context.Context, h *design.Heater, y *season.Laid, r *season.Result) (*year, error) {
	m, err := season.Worth(h, r)
	if err != nil {
		return nil, err
	}
	e, err := collector.Evaluate(h, collector.ConditionsAt(h, collector.WinterNoon(h)), true)
	if err != nil {
		return nil, err
	}
	return &year{ctx, h, y, r, m, newBox(&e)}, nil
}

// EvaluateYear returns all findings of a heater whose year is known: those of
// its clear winter noon, each remedy run through the year, and those that need
// a year: about the switch, the space, the money, and what a change would bring
// through all of it. A remedy brings no new danger or fault; one that takes
// none away lowers neither the useful heat less the fan's nor the money, by
// more than [tie].
func EvaluateYear(ctx context.Context, h *design.Heater, y *season.Laid, r *season.Result) ([]Finding, error) {
	x, err := newYear(ctx, h, y, r)
	if err != nil {
		return nil, err
	}
	noon := Evaluate(x.noon.Evaluation)
	found := make([][]Finding, len(yearly)+len(noon))
	err = parallel.Each(ctx, len(found), func(i int) error {
		if i < len(yearly) {
			found[i] = yearly[i](x)
			return nil
		}
		// The noon's findings go through the year on the same two cores.
		if f := noon[i-len(yearly)]; x.holds(&f) {
			found[i] = []Finding{f}
		}
		return nil
	}, nil)
	var fs []Finding
	for _, f := range found {
		fs = append(fs, f...)
	}
	worstFirst(fs)
	return fs, err
}

// A change is a tie with what is there below this much of the useful heat, as a
// share, or leastYear kWh: less than a paired rerun can tell. The product's own
// judgment.
const (
	tie       = 0.005
	leastYear = 0.5
)

// tied says whether a gain is no more than a tie, kWh.
func (x *year) tied(gain float64) bool {
	return math.Abs(gain) <= max(leastYear, tie*math.Abs(x.r.Year.Useful))
}

// again runs the year with changes made and returns what it gives more: kWh of
// useful heat less the fan's, and money a year. It reports false where the
// changes bring a danger or a fault that is not there now.
// Net is useful heat less the fan's electricity, kWh. Both years see the same
// hours of weather, so that their difference is far more certain than either.
func (x *year) again(changes ...design.Change) (gain, money float64, ok bool) {
	h, err := design.Apply(*x.h, units.System{}, changes...)
	if err != nil || x.ctx.Err() != nil || !x.noon.allows("", changes...) {
		return 0, 0, false
	}
	r, err := x.y.Run(&h)
	if err != nil {
		return 0, 0, false
	}
	m, err := season.Worth(&h, r)
	if err != nil {
		return 0, 0, false
	}
	return r.Year.Net() - x.r.Year.Net(), m.Saved - x.money.Saved, true
}

// holds runs the remedy of a noon's finding through the year and says whether
// the finding stands: a loss whose remedy gains nothing in the year is none.
// The gain becomes the year's.
// A danger's remedy stands whatever it costs; a loss's must gain more than a
// tie; a note keeps its sentence and loses the touch. Back-flow is judged by
// the year's own nights (coldNights) and is dropped here when nothing mends it.
func (x *year) holds(f *Finding) bool {
	var stand []Alternative
	for _, a := range f.Or {
		if gain, money, ok := x.again(a.Patch...); ok && (f.Severity <= Fault || gain >= 0 && money >= -leastMoney) {
			a.YearGain, a.YearMoney, a.HasYear = gain, money, true
			stand = append(stand, a)
		}
	}
	f.Or = stand
	if f.Patch == nil {
		return f.Severity != Loss || f.ID != "back-flow"
	}
	gain, money, ok := x.again(f.Patch...)
	if f.Severity <= Fault {
		if ok {
			f.YearGain, f.YearMoney, f.HasYear = gain, money, true
		}
		f.spares(-costly * math.Abs(x.r.Year.Net()))
		return true
	}
	// Less heat, less money, or for a loss nothing that can be told from a tie.
	if !ok || gain < 0 && !x.tied(gain) || money < -leastMoney || f.Severity == Loss && x.tied(gain) {
		if f.Severity == Loss {
			return false
		}
		f.Patch, f.HasGain = nil, false
		return true
	}
	f.YearGain, f.YearMoney, f.HasYear = gain, money, true
	return true
}

// spares drops the remedies that add less than least in a year, kWh, while
// another adds more; where the finding's own is dropped, the best of the others
// takes its place.
func (f *Finding) spares(least float64) {
	dear := func(a Alternative) bool { return a.HasYear && a.YearGain < least }
	if !f.HasYear || !slices.ContainsFunc(f.Or, func(a Alternative) bool { return !dear(a) }) && f.YearGain < least {
		return
	}
	f.Or = slices.DeleteFunc(f.Or, dear)
	if f.YearGain >= least {
		return
	}
	slices.SortStableFunc(f.Or, func(a, b Alternative) int { return cmp.Compare(b.YearGain, a.YearGain) })
	a := f.Or[0]
	f.Remedy, f.Patch, f.Gain, f.HasGain, f.Or = a.Remedy, a.Patch, a.Gain, true, f.Or[1:]
	f.YearGain, f.YearMoney = a.YearGain, a.YearMoney
}

// leastMoney is what counts as less money a year, in the document's own.
const leastMoney = 0.05

// mends sets remedy, patch and the year's gain, if there is any that is more
// than a tie and costs no money.
// Changes that the remedy calls for in other parts are added first.
func (f *Finding) mends(x *year, remedy Text, changes ...design.Change) bool {
	changes, others, ok := x.noon.completed("", changes...)
	if !ok {
		return false
	}
	gain, money, ok := x.again(changes...)
	if !ok || gain <= 0 || x.tied(gain) || money < -leastMoney {
		return false
	}
	f.Remedy, f.Patch, f.YearGain, f.YearMoney, f.HasYear = remedy.Then(others...), changes, gain, money, true
	return true
}

// points says whether the switch has a closing and an opening point to move.
// A plug, a timer and a fan on its panel have none; a differential controller's
// follow the room.
func points(h *design.Heater) bool {
	k := thermostat.New(h).Kind
	return k == thermostat.SnapDisc || k == thermostat.SetPoint
}

// winterIdle is how many sunny months of need may pass with hardly any running
// before it is said. Common practice, no source.
const (
	hardly    = 8.0 // h a month
	worthHeat = 0.02
)

// YearFaults are the faults that a year's result shows and its clear noon does not, without
// their remedies: what a choice must not bring. What shade takes is the place's and no
// choice's, and is left out.
func YearFaults(h *design.Heater, r *season.Result) []Finding {
	if f, idle := idleFault(h, r); idle {
		return []Finding{f}
	}
	return nil
}

// idleFault is the fault of a fan that hardly starts in months with need and sun.
func idleFault(h *design.Heater, r *season.Result) (f Finding, idle bool) {
	if !points(h) {
		return f, false
	}
	n := 0
	for _, m := range r.Months {
		if m.Need > 20 && m.Sun > 20*r.Aperture && m.Run < hardly {
			n++
		}
	}
	return Finding{ID: "year-idle", Severity: Fault, Topic: Control, Title: "The thermostat starts the fan too late",
		Finding:  say("In %v the fan hardly runs, although heat is needed and the sun shines.", word(months(n))),
		Evidence: say("It starts the fan at %v; in those months the box seldom gets that warm.", q(units.Temperature, h.Switch.Close)),
		Remedy:   say("Leave it: in those months the box gets too little sun for any set point.")}, n > 0
}

// idleYear: months with need and sun in which the switch hardly closes.
// A month counts with 20 kWh of need, 20 kWh/m2 of sun on the glass and less
// than eight hours of running. Set points 16, 10 and 6 K lower are tried, as
// long as the fan then stops above what the room is kept at.
func idleYear(x *year) []Finding {
	f, idle := idleFault(x.h, x.r)
	if !idle {
		return nil
	}
	for _, by := range []float64{16, 10, 6} {
		c, o := x.h.Switch.Close-by, x.h.Switch.Open-by
		if o < x.h.Room.Wanted+1 {
			continue
		}
		if f.mends(x, say("Set the fan on at %v and off at %v.", q(units.Temperature, c), q(units.Temperature, o)),
			design.Set(design.SwitchOpen, o), design.Set(design.SwitchClose, c)) {
			break
		}
	}
	return []Finding{f}
}

// months says a number of months in words, up to half a year.
func months(n int) string {
	return [...]string{"no month", "one month", "two months", "three months", "four months", "five months", "six months"}[min(n, 6)]
}

// often is how many starts in an hour of running count as stuttering. Common
// practice, no source: 10 minutes on and 10 off are 6.
const often = 6.0

// cyclingYear: the fan starts again and again.
// A stop closer to the room's temperature makes each run longer. It is offered
// where it moves the point by 1 K at least and keeps 2 K above the room.
func cyclingYear(x *year) []Finding {
	y := &x.r.Year
	if y.Run < 20 || float64(y.Cycles)/y.Run < often || !points(x.h) {
		return nil
	}
	f := Finding{ID: "year-cycling", Severity: Loss, Topic: Control, Title: "The fan short-cycles all winter",
		Finding: say("The fan starts %v times a year, every %v minutes of running.", q(units.Number, float64(y.Cycles)),
			q(units.Number, math.Round(10*60*y.Run/float64(y.Cycles))/10)),
		Evidence: say("The outlet air is usually at %v; the thermostat stops the fan at %v.", q(units.Temperature, x.r.Jet),
			q(units.Temperature, x.h.Switch.Open)),
		Remedy: say("Reduce the airflow, or use a larger box with this fan.")}
	open := max(x.h.Room.Air+2, x.h.Switch.Open-8)
	if open < x.h.Switch.Open-1 {
		f.mends(x, say("Set the fan off at %v.", q(units.Temperature, open)), design.Set(design.SwitchOpen, open))
	}
	return []Finding{f}
}

// lukewarm: a jet that feels like a draft most of the time.
// Jet is the mean temperature of the air that enters the room while the fan
// runs. A greenhouse has nobody sitting in the draft.
func lukewarm(x *year) []Finding {
	// Heard of only where the fan runs for 50 h at least.
	if x.r.Year.Run < 50 || x.r.Jet >= space.Drafty || x.r.Jet <= 0 || x.h.Room.Kind == design.Greenhouse {
		return nil
	}
	return []Finding{{ID: "year-draft", Severity: Note, Topic: Control, Title: "The outlet air will feel cool",
		Finding: say("The outlet air is usually at %v; below %v moving air feels like a draft.", q(units.Temperature, x.r.Jet),
			q(units.Temperature, space.Drafty)),
		Evidence: say("The fan runs %v hours a year. More and cooler air carries more heat, so this is a matter of comfort only.",
			q(units.Number, math.Round(x.r.Year.Run))),
		Remedy: say("Point the outlet along the ceiling, where nobody sits.")}}
}

// muchTooWarm is how many hours of open windows because of the box are said.
// Common practice, no source.
const muchTooWarm = 20.0

// tooWarm: the best months overheat the space.
// TooHot counts the hours in which windows are opened because of the box,
// beyond what the sun through the windows would cause anyway.
func tooWarm(x *year) []Finding {
	if x.r.Year.TooHot < muchTooWarm || x.r.Year.Heat <= 0 {
		return nil
	}
	stop, cover, limit := "Switch the fan off", "cover the glazing from late spring to fall", ", or set the room temperature limit below %v"
	values := []Value{q(units.Temperature, x.h.Room.Vent)}
	if !x.h.Fanned() {
		stop, limit, values = "Close its ports", "", nil
	}
	if x.h.Cover.CoveredFrom > 0 {
		cover = "keep the glazing covered for longer"
	}
	return []Finding{{ID: "year-too-warm", Severity: Note, Topic: Yield, Title: "Excess heat in warm months",
		Finding: say("For %v hours a year the windows must let out what the box brings in.", q(units.Number, math.Round(x.r.Year.TooHot))),
		Evidence: say("Of the heat it gives, %v of %v is not needed then.", q(units.Energy, x.r.Year.Vented),
			q(units.Energy, x.r.Year.Heat)),
		Remedy: say(stop+" and "+cover+limit+".", values...)}}
}

// springHeat: a space overheated while the mornings are still heated.
// A room temperature limit stops the fan before the windows must be opened. It
// loses no useful heat, or it is not offered.
func springHeat(x *year) []Finding {
	spring, name := []int{2, 3, 4}, "From March to May"
	if x.h.Place.Latitude < 0 {
		spring, name = []int{8, 9, 10}, "From September to November"
	}
	hours, need := 0.0, 0.0
	for _, m := range spring {
		hours += x.r.Months[m].TooHot
		need += x.r.Months[m].Need
	}
	// Under the point at which windows are opened, and not above 3 K over the
	// wish.
	limit := min(x.h.Room.Vent-1, x.h.Room.Wanted+3)
	if set := x.h.Switch.RoomLimit; hours < 10 || need < 20 || set > 0 && set <= limit || !x.h.Fanned() {
		return nil
	}
	f := Finding{ID: "year-spring", Severity: Note, Topic: Control, Title: "Too warm at spring noons, cold in the mornings",
		Finding: say("%v the space exceeds %v for %v hours and still needs %v.", word(name), q(units.Temperature, x.h.Room.Vent),
			q(units.Number, math.Round(hours)), q(units.Energy, need)),
		Evidence: say("A light room stores little of the noon's heat; masonry or water would store more."),
		Remedy:   say("Set a room temperature limit of %v.", q(units.Temperature, limit))}
	// It is comfort: less heat is given, and no less of it that is of use.
	if gain, money, ok := x.again(design.Set(design.SwitchRoomLimit, limit)); ok && (gain >= 0 || x.tied(gain)) &&
		money >= -leastMoney {
		f.Patch, f.YearGain, f.YearMoney, f.HasYear = []design.Change{design.Set(design.SwitchRoomLimit, limit)}, gain, money, true
	}
	return []Finding{f}
}

// moverEats: the blower or fan costs much of what the heat is worth.
// The electricity of all fans is compared with the fuel that the heat replaces,
// in money; 30 % is the limit.
func moverEats(x *year) []Finding {
	worth := x.money.Units * x.h.Money.FuelPrice
	if x.money.FanCost <= 0 || x.r.Year.Heat <= 0 || x.h.Room.Heater == "none" || worth > 0 && x.money.FanCost < 0.3*worth {
		return nil
	}
	f := Finding{ID: "year-fan-eats", Severity: Loss, Topic: Demand, Title: "The fan uses too much electricity",
		Finding: say("Fans and blower use %v a year for %v of useful heat.", q(units.Metered, x.r.Year.Fan),
			q(units.Energy, x.r.Year.Useful)),
		Evidence: say("The electricity costs %v; the fuel saved is worth %v.", q(units.Sum, x.money.FanCost),
			q(units.Sum, worth)),
		Remedy: say("Use a smaller fan or a larger duct, or run the fan only in the heating months.")}
	if x.h.Second.Mover == "blower" {
		f.mends(x, say("Move the warm air with a small fan in the ceiling instead of the blower."),
			design.Set(design.SecondMover, "ceiling-fan"))
	} else if x.h.Air.FanModel != "computer-120" && x.h.Fanned() {
		f.mends(x, say("Use a fan such as the 120 mm computer fan."), design.Set(design.AirFan, "computer-120"))
	}
	return []Finding{f}
}

// neverPays: the payback lies beyond the box's life.
// Discounted payback, see package season. A space without a heater saves no
// fuel, so the question does not arise there.
func neverPays(x *year) []Finding {
	if x.h.Money.Spent <= 0 || x.money.Discounted <= x.h.Money.Years || x.h.Room.Heater == "none" {
		return nil
	}
	f := Finding{ID: "year-never-pays", Severity: Note, Topic: Yield, Title: "The box will not pay for itself",
		Finding: say("With %v spent and %v saved a year, it takes longer than its %v years of service.",
			q(units.Sum, x.h.Money.Spent), q(units.Sum, x.money.Saved), q(units.Number, x.h.Money.Years)),
		Evidence: say("A useful kWh costs %v; with the present heating it costs %v.", q(units.Sum, x.money.PerKWh),
			q(units.Sum, x.h.Money.FuelPrice*x.money.Units/max(1e-9, x.r.Year.Useful))),
		Remedy: say("Build with materials on hand: spending up to %v would pay.", q(units.Sum,
			max(0, math.Floor(x.money.Saved*x.h.Money.Years))))}
	return []Finding{f}
}

// betterYear: a second pane, more foam or another tilt that improves the year by
// a twentieth.
// Each is run through the year with what it needs in other parts. What gains
// less than 5 kWh or a twentieth of the useful heat is not worth new glass.
func betterYear(x *year) (fs []Finding) {
	if x.r.Year.Heat <= 0 || x.h.Indoors() {
		return nil
	}
	least := max(5, 0.05*x.r.Year.Useful)
	try := func(f Finding, remedy Text, changes ...design.Change) {
		if f.mends(x, remedy, changes...) && f.YearGain >= least {
			fs = append(fs, f)
		}
	}
	lost := say("Of %v of sun on the glazing the room gets %v, and %v of that when it is needed.", q(units.Energy, x.r.Year.Sun),
		q(units.Energy, x.r.Year.Heat), q(units.Energy, x.r.Year.Useful))
	if x.h.Cover.Layers == 1 {
		try(Finding{ID: "year-second-cover", Severity: Loss, Topic: Construction, Title: "A second glazing gives more heat all winter",
			Finding: say("Most of the heat is lost through the glazing."), Evidence: lost},
			say("Add a second glazing behind the first."), design.Set(design.CoverLayers, 2))
	}
	if x.h.Box.BackFoam < 0.04 {
		try(Finding{ID: "year-foam", Severity: Loss, Topic: Construction, Title: "Thicker insulation gives more heat all winter",
			Finding: say("There are %v of insulation behind the absorber.", q(units.Length, x.h.Box.BackFoam)), Evidence: lost},
			say("Use %v of insulation on the back.", q(units.Length, 0.050)), design.Set(design.BoxBackFoam, 0.050))
	}
	// Of several angles the best is offered, if it beats the present one by the
	// same measure; angles within 8 degrees of it are not tried.
	aim := func(f Finding, remedy string, path string, now float64, values ...float64) {
		best, gain, money := now, least, 0.0
		for _, v := range values {
			// The shorter way round the circle.
			if math.Abs(math.Mod(v-now+540, 360)-180) < 8 {
				continue
			}
			if g, m, ok := x.again(design.Change{Path: path, Value: v}); ok && g > gain && m >= -leastMoney {
				best, gain, money = v, g, m
			}
		}
		if best != now {
			f.Remedy, f.Patch = say(remedy, q(units.Angle, best)), []design.Change{{Path: path, Value: best}}
			f.YearGain, f.YearMoney, f.HasYear = gain, money, true
			fs = append(fs, f)
		}
	}
	aim(Finding{ID: "year-tilt", Severity: Loss, Topic: Siting, Title: "A different tilt gives more heat",
		Finding: say("The tilt is %v.", q(units.Angle, x.h.Place.Tilt)), Evidence: lost},
		"Tilt it to %v.", design.PlaceTilt.Path, x.h.Place.Tilt, 45, 60, 75, 90)
	b, noon := x.h.Place.Bearing, 180.0
	if x.h.Place.Latitude < 0 {
		noon = 0
	}
	aim(Finding{ID: "year-bearing", Severity: Loss, Topic: Siting, Title: "A different bearing gives more heat",
		Finding: say("The box faces %v.", q(units.Angle, b)), Evidence: lost},
		"Face it to %v if the place allows.", design.PlaceBearing.Path, b, math.Mod(noon-15+360, 360), noon, math.Mod(noon+15, 360),
		math.Mod(b+330, 360), math.Mod(b+30, 360))
	return fs
}

// Shares of a year's heat and of the winter's sun from which a box is called
// too large and a horizon too high. Common practice, no source.
const (
	muchVented = 0.40
	muchHidden = 0.30
	halfHidden = 0.50
)

// tooLarge: a box that mostly warms a space that is warm already.
// What is not useful is vented, or warms a room past its wish. From 40 % of the
// heat the box is larger than its room can use.
func tooLarge(x *year) []Finding {
	y := &x.r.Year
	// What is given and of no use: let out of windows or warming past what is
	// wanted.
	idle := y.Heat - y.Back - y.Useful
	if y.Heat < 20 || idle < muchVented*y.Heat {
		return nil
	}
	return []Finding{{ID: "year-too-large", Severity: Loss, Topic: Demand, Title: "The box is larger than the need", Costs: idle,
		Finding: say("Of the %v that the box gives in a year, %v comes when the space is warm enough.", q(units.Energy, y.Heat),
			q(units.Energy, idle)),
		Evidence: say("The space needs %v a year; %v goes out of its windows.", q(units.Energy, y.Need), q(units.Energy, y.Vented)),
		Remedy:   say("Build a smaller box, which gives nearly as much useful heat, or lead the warm air on to a second room.")}}
}

// hillsTake: a horizon, an eave or walls that hide the winter's sun.
// The glass is put through the same weather with an open horizon. A loss from
// 30 % of the winter's sun, a fault from half of it.
func hillsTake(x *year) []Finding {
	s := x.h.Shade
	if len(s.Horizon) == 0 && s.EaveDepth == 0 && s.FinLeft == 0 && s.FinRight == 0 {
		return nil
	}
	open := x.h.Clone()
	open.Shade = design.Shade{}
	series := x.y.Year.Series(&open)
	free := 0.0
	winter := collector.HeatingMonths(x.h.Place.Latitude)
	for i := range series.Quarters {
		at := series.Begin.Add(time.Duration(i) * 15 * time.Minute)
		if slices.Contains(winter, at.Month()) {
			// W/m2 over a quarter of an hour to kWh over the aperture.
			free += series.Quarters[i].Sun.Total() * x.r.Aperture / 4000
		}
	}
	here := 0.0
	for _, m := range winter {
		here += x.r.Months[m-1].Sun
	}
	if free <= 0 || here > (1-muchHidden)*free {
		return nil
	}
	f := Finding{ID: "year-horizon", Severity: Loss, Topic: Siting, Title: "Shade takes much of the winter sun",
		Costs: (free - here) / free * x.r.Year.Heat,
		Finding: say("In the heating months the glazing gets %v of sun; without shade it would get %v.", q(units.Energy, here),
			q(units.Energy, free)),
		Evidence: say("The horizon, the eave and the walls beside it block %v of it.", q(units.Share, 1-here/free)),
		Remedy:   say("Look for another wall or roof: a box here gives less than half as much.")}
	if here < (1-halfHidden)*free {
		f.Severity = Fault
	}
	return []Finding{f}
}

// coldNights: without a flap cold air falls through the box by night, all winter.
// Unlike the noon's finding this one has every night of the year behind it,
// with its wind, its sky and the room's own temperature.
func coldNights(x *year) []Finding {
	h := x.h
	if h.Air.Flap != "none" || x.r.Year.Back < max(5, 0.03*x.r.Year.Useful) {
		return nil
	}
	f := Finding{ID: "year-back-flow", Severity: Loss, Topic: Construction, Title: "The box cools the room on winter nights",
		Finding: say("Without a backdraft damper cold air sinks through the box at night, which takes %v a year out of the room.",
			q(units.Energy, x.r.Year.Back)),
		Evidence: say("This is computed night by night; the box gives %v of useful heat a year.", q(units.Energy, x.r.Year.Useful))}
	if !f.mends(x, say("Fit a light backdraft damper."), design.Set(design.AirFlap, "membrane")) {
		return nil
	}
	return []Finding{f}
}

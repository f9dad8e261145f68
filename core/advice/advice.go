// Package advice judges a heater: what will go wrong, what it wastes, and what
// a change would gain.
//
// Each judgment takes an evaluated box and returns findings with evidence, a
// remedy and, where the remedy changes the heat, its gain by running the
// balance again with the remedy applied. A finding is never a gain written as
// text.
package advice

import (
	"fmt"
	"math"
	"slices"
	"sort"
	"sync"

	"gladember/core/catalog"
	"gladember/core/collector"
	"gladember/core/design"
	"gladember/core/thermostat"
	"gladember/core/units"
)

// Severity orders findings, worst first.
type Severity int

// The severities.
const (
	Danger Severity = iota // something breaks or may burn
	Fault                  // it will not work as meant
	Loss                   // heat left lying
	Note
)

func (s Severity) String() string { return [...]string{"danger", "fault", "loss", "note"}[s] }

// Text is a sentence with quantities in it, printed in a person's own units:
// each %v in Format takes the next of Values.
type Text struct {
	Format string
	Values []Value
}

// Value is a quantity in a sentence.
type Value struct {
	Kind units.Kind
	SI   float64
	Word string // instead of a quantity
}

// In prints the sentence in a system of units.
func (t Text) In(s units.System) string {
	args := make([]any, len(t.Values))
	for i, v := range t.Values {
		args[i] = v.Word
		if v.Word == "" {
			args[i] = units.Format(v.Kind, v.SI, s)
		}
	}
	return fmt.Sprintf(t.Format, args...)
}

func say(format string, values ...Value) Text { return Text{format, values} }
func q(k units.Kind, v float64) Value         { return Value{Kind: k, SI: v} }
func word(s string) Value                     { return Value{Word: s} }

// Topic is the part of the work that a finding or a caution is about.
type Topic string

// The topics, in the order of the work.
const (
	Siting       Topic = "siting"       // place, tilt, bearing, shade
	Demand       Topic = "demand"       // the space and what it needs
	Materials    Topic = "materials"    // what is on hand
	Construction Topic = "construction" // the box and its parts
	Airflow      Topic = "airflow"      // ducts and fans
	Control      Topic = "control"      // thermostat and comfort
	Cutting      Topic = "cutting"      // saws and drills
	Measuring    Topic = "measuring"    // probes and loggers
	Yield        Topic = "yield"        // the year's heat and money
)

// Finding is one judgment.
type Finding struct {
	ID        string
	Severity  Severity
	Topic     Topic
	Title     string
	Finding   Text
	Evidence  Text
	Remedy    Text
	Patch     []design.Change // the remedy, one touch
	Gain      float64         // W more heat with the remedy, by rerun
	HasGain   bool
	YearGain  float64 // kWh a year more with the remedy, by running the year again
	YearMoney float64 // money a year more with it
	HasYear   bool
	Costs     float64 // kWh a year that the problem costs, where no remedy says so
	When      string  // when the gain is had; empty at the noon judged by
	Or        []Alternative
}

// An Alternative is another remedy of a finding, with its own ID.
type Alternative struct {
	ID        string
	Remedy    Text
	Patch     []design.Change
	Gain      float64 // W, as of the finding's own remedy
	YearGain  float64 // kWh a year
	YearMoney float64
	HasYear   bool
}

// Offered returns the finding's remedy of an ID, its own or an alternative: what is said of it
// and its changes; ok is false where it has none of that name.
func (f *Finding) Offered(id string) (remedy Text, patch []design.Change, ok bool) {
	if f.ID == id && f.Patch != nil {
		return f.Remedy, f.Patch, true
	}
	for _, a := range f.Or {
		if a.ID == id {
			return a.Remedy, a.Patch, true
		}
	}
	return Text{}, nil, false
}

// A judge returns what it finds of a box.
type judge func(*box) []Finding

// grave are the judges that may find a danger or a fault, slight all others.
var (
	grave  []judge
	slight []judge
)

func init() { // in a function, since remedies are judged by the same lists
	grave = []judge{tooHot, neverSwitched, belowRoom, touchesGlass, bondsTooHot, clash, hotDuct, hotFan, tightColumns, weakPanel,
		bareDuct, outdoorIntake, betterBare, plugged, movesEarly}
	slight = []judge{moreAir, fanRating, unevenScreens, rowUneven, unevenTubes, tightPorts, seriesPipes, smallHoles, battery,
		backFlow, leaky, dewOnCover, coolJet, duller, doubtfulPane, shaded, turnedAway, coldBridge, otherSide}
}

// box is an evaluated heater under judgment.
type box struct {
	*collector.Evaluation
	looking bool                   // for remedies; else for what is wrong alone
	may     func(path string) bool // what a remedy may change; nil: everything
	guards  []Alternative          // against too much heat, once they were looked for
	guarded sync.Once
	wrong   map[string]bool // ids of its dangers and faults
}

// open says whether a remedy may change a field.
func (e *box) open(path string) bool { return e.may == nil || e.may(path) }

// newBox is a box with its dangers and faults known.
func newBox(e *collector.Evaluation) *box {
	b := &box{Evaluation: e}
	b.wrong = b.graves()
	b.looking = true
	return b
}

// graves are the ids of a box's dangers and faults.
func (e *box) graves() map[string]bool {
	plain := &box{Evaluation: e.Evaluation}
	out := map[string]bool{}
	for _, j := range grave {
		for _, f := range j(plain) {
			if f.Severity <= Fault {
				out[f.ID] = true
			}
		}
	}
	return out
}

// changed is the box with changes made; it runs, stands with its fan off and on the worst noon
// like this one.
func (e *box) changed(changes ...design.Change) (*box, error) {
	h, err := design.Apply(e.Heater, units.System{}, changes...)
	if err != nil {
		return nil, err
	}
	x, err := collector.Like(&h, e.conditions(&h), e.Evaluation)
	return &box{Evaluation: &x}, err
}

// worsened are the dangers and faults of a changed box that this one does not have, and the one
// that was to be mended, where one is named and still there.
func (e *box) worsened(mended string, changed *box) (ids []string) {
	for id := range changed.graves() {
		if !e.wrong[id] || id == mended {
			ids = append(ids, id)
		}
	}
	return ids
}

// allows says whether a change brings no danger or fault that the box does not have, and, where
// one is named, takes that one away.
func (e *box) allows(mended string, changes ...design.Change) bool {
	x, err := e.changed(changes...)
	return err == nil && len(e.worsened(mended, x)) == 0
}

// completed returns a change together with the changes of other parts that it calls for, so that
// it brings no danger or fault, and what is said of those; it reports false where there are none.
func (e *box) completed(mended string, changes ...design.Change) (all []design.Change, others []Text, ok bool) {
	all = slices.Clone(changes)
	for range 3 { // one part may call for the next
		x, err := e.changed(all...)
		if err != nil {
			return nil, nil, false
		}
		worse := e.worsened(mended, x)
		if len(worse) == 0 {
			return all, others, true
		}
		x.looking, x.wrong = true, map[string]bool{}
		for id := range x.graves() {
			x.wrong[id] = true
		}
		more := len(all)
		for _, j := range grave {
			for _, f := range j(x) {
				if slices.Contains(worse, f.ID) && f.ID != mended && f.Patch != nil {
					all, others = append(all, f.Patch...), append(others, f.Remedy)
				}
			}
		}
		if len(all) == more {
			break
		}
	}
	return nil, nil, false
}

// Mended returns a heater with the remedies of its dangers and faults on the clear winter noon,
// as far as they touch only fields that they may, the changes made, and the dangers and
// faults that stay. Quick takes what the materials of a box with a guard may be hotter
// than likely from the box without it, for a search whose answer is judged whole.
func Mended(h *design.Heater, may func(path string) bool, quick bool) (design.Heater, []design.Change, []Finding, error) {
	n := h.Clone()
	var made []design.Change
	for {
		e, err := judgedAt(&n, collector.ConditionsAt(&n, collector.WinterNoon(&n, 2026)), quick)
		if err != nil {
			return n, made, nil, err
		}
		b := &box{Evaluation: &e, may: may}
		b.wrong = b.graves()
		b.looking = len(b.wrong) > 0 && len(made) < 4
		var left []Finding
		var patch []design.Change
		for _, j := range grave {
			for _, f := range j(b) {
				if f.Severity > Fault {
					continue
				}
				left = append(left, f)
				for _, p := range append([][]design.Change{f.Patch}, patches(f.Or)...) {
					if p != nil && !slices.ContainsFunc(p, func(c design.Change) bool { return !may(c.Path) }) {
						patch = append(patch, p...)
						break
					}
				}
			}
		}
		if len(patch) == 0 {
			return n, made, left, nil
		}
		if n, err = design.Apply(n, units.System{}, patch...); err != nil {
			return n, made, left, err
		}
		made = append(made, patch...)
	}
}

// judgedAt judges a heater at its noon, see [Mended].
func judgedAt(h *design.Heater, c collector.Conditions, quick bool) (collector.Evaluation, error) {
	if !quick || h.Guard.Kind == "none" {
		return collector.Judged(h, c, true)
	}
	bare := h.Clone()
	bare.Guard = design.Guard{Kind: "none"}
	e, err := collector.Judged(&bare, c, true)
	if err != nil {
		return e, err
	}
	return collector.Nearly(h, c, &e)
}

// patches are the changes of alternatives.
func patches(as []Alternative) (out [][]design.Change) {
	for _, a := range as {
		out = append(out, a.Patch)
	}
	return out
}

// with appends sentences to a text.
func (t Text) with(others ...Text) Text {
	for _, o := range others {
		t = Text{t.Format + " " + o.Format, slices.Concat(t.Values, o.Values)}
	}
	return t
}

// conditions are those of the box for a changed one: it is the same hour, with the sun that falls
// where the changed one looks, and the inlet of where it draws its air from.
func (e *box) conditions(h *design.Heater) collector.Conditions {
	c := e.Running.Conditions
	if p, was := h.Place, e.Heater.Place; p.Tilt != was.Tilt || p.Bearing != was.Bearing {
		x := collector.ConditionsAt(h, collector.WinterNoon(h, 2026))
		c.Sun, c.Tilt = x.Sun, x.Tilt
	}
	return sameSource(h, c)
}

// sameSource returns conditions with the inlet of the place that a heater draws its air from.
func sameSource(h *design.Heater, c collector.Conditions) collector.Conditions {
	switch outdoors := h.Air.Source == "outdoors"; {
	case outdoors:
		c.Inlet = c.Ambient
	case c.Inlet == c.Ambient && c.Room != c.Ambient: // it drew from outdoors before
		c.Inlet = c.Room
	}
	return c
}

// Of returns the findings of an evaluated heater, worst first. A remedy is a rerun of the box
// that brings no new danger or fault and, unless it takes one away, warms the room no less.
func Of(e *collector.Evaluation) []Finding {
	b := newBox(e)
	judges := slices.Concat(grave, slight)
	found := make([][]Finding, len(judges))
	var wg sync.WaitGroup
	for part := range 2 { // each judges by itself; two cores are everywhere
		wg.Go(func() {
			for i := part; i < len(judges); i += 2 {
				found[i] = judges[i](b)
			}
		})
	}
	wg.Wait()
	var fs []Finding
	for _, f := range found {
		for i := range f {
			f[i].checked(b)
		}
		fs = append(fs, f...)
	}
	worstFirst(fs)
	return fs
}

// checked takes the one touch off a remedy that would bring a new danger or fault, or leave
// its own.
func (f *Finding) checked(e *box) {
	if f.Patch == nil {
		return
	}
	mended := ""
	if f.Severity <= Fault {
		mended = f.ID
	}
	all, others, ok := e.completed(mended, f.Patch...)
	switch {
	case ok && len(others) == 0:
		return
	case ok:
		_, r, err := rerun(e, all...)
		if gain := worth(&r) - worth(&e.Running); err == nil && (mended != "" || !f.HasGain || gain > 0) {
			f.Patch, f.Gain, f.Remedy = all, gain, f.Remedy.with(others...)
			return
		}
	}
	f.Patch, f.Gain, f.HasGain = nil, 0, false
	f.Remedy.Format += " This alone would cause another problem: change the other parts with it."
}

// weight is by what findings of one severity are ordered: kWh of the year where they are known,
// else watts of the noon, which are about as many.
func (f *Finding) weight() float64 {
	if f.HasYear {
		return math.Max(f.YearGain, f.Costs)
	}
	return math.Max(f.Gain, f.Costs)
}

// worstFirst orders findings by severity, then by what their remedies gain.
func worstFirst(fs []Finding) {
	sort.SliceStable(fs, func(i, j int) bool {
		a, b := &fs[i], &fs[j]
		if a.Severity != b.Severity {
			return a.Severity < b.Severity
		}
		return a.weight() > b.weight()
	})
}

// rerun returns a heater with changes made and its balance, at the same conditions.
func rerun(e *box, changes ...design.Change) (design.Heater, collector.Result, error) {
	h, err := design.Apply(e.Heater, units.System{}, changes...)
	if err != nil {
		return h, collector.Result{}, err
	}
	r, err := collector.Rate(&h, e.conditions(&h))
	return h, r, err
}

// tooHot: a material beyond its service temperature on a windless noon with
// the fan off. Its figure is the one-sided upper 95 %.
func tooHot(e *box) (fs []Finding) {
	seen := map[string]bool{}
	for _, p := range e.Peaks {
		if p.Upper <= p.Service || seen[p.Material] {
			continue
		}
		seen[p.Material] = true
		f := Finding{ID: "too-hot-" + p.Material, Severity: Danger, Topic: Construction,
			Evidence: e.worstNoon().with(say("The likely temperature is %v, the upper limit of the 95 %% range %v.",
				q(units.Temperature, p.Max), q(units.Temperature, p.Upper)))}
		switch p.Kind {
		case collector.BackLayer:
			foam, _ := catalog.FindInsulation(p.Material)
			f.Title = "Insulation will overheat"
			f.Finding = say("At the worst noon with the fan off the back reaches %v; %v withstands %v.", q(units.Temperature, p.Upper),
				word(foam.Name), q(units.Temperature, foam.Service))
			f.mend(e, "box.foam", catalog.Insulations(), func(id string) (string, float64) {
				x, _ := catalog.FindInsulation(id)
				return x.Name, x.Service
			}, p.Upper)
		case collector.CoverLayer:
			c, _ := catalog.FindCover(p.Material)
			f.Title = "Glazing will sag"
			f.Finding = say("At the worst noon with the fan off the glazing reaches %v; %v withstands %v.", q(units.Temperature, p.Upper),
				word(c.Name), q(units.Temperature, c.Service))
			f.mend(e, "cover.material", catalog.Covers(), func(id string) (string, float64) {
				x, _ := catalog.FindCover(id)
				return x.Name, x.Service
			}, p.Upper)
		default:
			path, options, get := "absorber.paint", catalog.Paints(), func(id string) (string, float64) {
				x, _ := catalog.FindPaint(id)
				return x.Name, x.Service
			}
			f.Title = "Absorber paint will fume"
			if m, err := catalog.FindMesh(p.Material); err == nil && m.Service <= p.Service {
				f.Title = "Absorber screen will melt"
				path, options = "absorber.screens.mesh", catalog.Meshes()
				get = func(id string) (string, float64) {
					x, _ := catalog.FindMesh(id)
					return x.Name, x.Service
				}
			}
			f.Finding = say("At the worst noon with the fan off the absorber reaches %v; it withstands %v.",
				q(units.Temperature, p.Upper), q(units.Temperature, p.Service))
			f.mend(e, path, options, get, p.Upper)
		}
		f.orGuard(e, len(fs) == 0)
		fs = append(fs, f)
	}
	return fs
}

// mend looks for the choice that bears the temperature, brings no new danger or fault and
// warms the room most, by rerun.
func (f *Finding) mend(e *box, path string, options []catalog.Choice, get func(id string) (string, float64), upper float64) {
	f.Remedy = say("Cover the box when the fan cannot run, and in summer.")
	if !e.looking || !e.open(path) {
		return
	}
	best := math.Inf(-1)
	for _, o := range options {
		name, service := get(o.ID)
		if service < upper {
			continue
		}
		c := design.Change{Path: path, Value: o.ID}
		_, r, err := rerun(e, c)
		if err != nil || worth(&r) <= best || !e.allows(f.ID, c) {
			continue
		}
		best = worth(&r)
		f.Patch = []design.Change{c}
		f.Gain, f.HasGain = worth(&r)-worth(&e.Running), true
		f.Remedy = say("Replace it with %v, which withstands %v.", word(name), q(units.Temperature, service))
	}
}

// neverSwitched: the fan's set point beyond what the box reaches, or an opening
// point above what it gives once air moves.
func neverSwitched(e *box) []Finding {
	s, run, still := e.Heater.Switch, e.Running, e.Still
	sw := thermostat.Of(&e.Heater)
	if sw.Kind != thermostat.SnapDisc && sw.Kind != thermostat.SetPoint && sw.Kind != thermostat.Differential {
		return nil
	}
	room := e.Heater.Room.Air
	over := sw.Kind == thermostat.Differential
	closes, opens := s.Close, s.Open
	closePath, openPath := "switch.close_c", "switch.open_c"
	if over {
		closes, opens = room+s.OnAbove, room+s.OffAbove
		closePath, openPath = "switch.on_above_k", "switch.off_above_k"
	}
	set := func(open, closing float64) []design.Change {
		if over {
			open, closing = open-room, closing-room
		}
		return []design.Change{{Path: openPath, Value: open}, {Path: closePath, Value: closing}}
	}
	switch sw.Judge(still.AbsorberMax, run.Outlet, room, 1) {
	case thermostat.Never:
		closing := math.Floor(still.AbsorberMax - 5)
		open := math.Min(closing-3, math.Floor(run.Outlet-1))
		f := Finding{ID: "switch-never", Severity: Fault, Topic: Control, Title: "The fan never starts",
			Finding: say("Even with the fan off the box reaches only %v; the thermostat starts the fan at %v.",
				q(units.Temperature, still.AbsorberMax), q(units.Temperature, closes)),
			Evidence: say("This is the clear winter noon with %v outdoors and %v on the glazing.",
				q(units.Temperature, run.Conditions.Ambient), q(units.Irradiance, run.Energy.Sun/run.Aperture)),
			Remedy: say("Change the bearing or the tilt: the box gets too little sun for any set point.")}
		if open > run.Conditions.Inlet && closing <= 90 && open >= 0 {
			f.Remedy = say("Set the fan on at %v and off at %v.", q(units.Temperature, closing), q(units.Temperature, open))
			f.Patch = set(open, closing)
			// As set the box gives nothing: the whole of its heat is the gain.
			f.Gain, f.HasGain = worth(&run), true
		}
		return []Finding{f}
	case thermostat.Cycles:
		open := math.Floor(run.Outlet - 2)
		f := Finding{ID: "switch-stutters", Severity: Fault, Topic: Control, Title: "The fan will short-cycle",
			Finding: say("With the fan on, the outlet air is at %v at the clear winter noon, and the thermostat stops the fan at %v.",
				q(units.Temperature, run.Outlet), q(units.Temperature, opens)),
			Evidence: say("With %v through the box it heats up while the fan is off, starts the fan, and cools at once.",
				q(units.Flow, run.Volume)),
			Remedy: say("Reduce the airflow, or draw the air from a cooler place.")}
		if open > run.Conditions.Inlet && open >= 0 {
			f.Remedy, f.Patch = say("Set the fan off at %v.", q(units.Temperature, open)), set(open, closes)[:1]
		}
		if spring, ok := e.springNoon(); ok && sw.Judge(spring[1].AbsorberMax, spring[0].Outlet, room, 1) != thermostat.Cycles {
			f.Severity, f.Title = Loss, "The fan will short-cycle in the darkest weeks"
		}
		return []Finding{f}
	}
	return nil
}

// springNoon is the box running and standing still under the sun of the clear noon two months
// after the one judged by, in the same weather: far from the equator that one is dim.
func (e *box) springNoon() (rs [2]collector.Result, ok bool) {
	c := e.Running.Conditions
	x := collector.ConditionsAt(&e.Heater, collector.WinterNoon(&e.Heater, 2026).AddDate(0, 2, 0))
	c.Sun, c.Tilt = x.Sun, x.Tilt
	d, err := collector.Describe(&e.Heater)
	if err != nil {
		return rs, false
	}
	if rs[0], err = d.Rate(c, collector.Tuning{}, nil); err == nil {
		rs[1], err = d.Still(c, collector.Tuning{}, nil)
	}
	return rs, err == nil
}

// duct bores people can buy, m.
var bores = []float64{0.080, 0.100, 0.125, 0.150, 0.200, 0.250, 0.315, 0.400, 0.500}

// moreAir: hot air at a trickle. The candidates are the next ducts and the
// fans of the catalog; the best by rerun is offered if it gives 3 % more.
func moreAir(e *box) []Finding {
	run := e.Running
	if run.Conditions.Flow > 0 || run.Warms() <= 0 || !e.Heater.Fanned() || !e.looking {
		return nil
	}
	type option struct {
		change design.Change
		text   func(r collector.Result) Text
	}
	var options []option
	count := 0
	for _, b := range bores {
		if b > e.Heater.Air.Diameter+0.004 && count < 2 {
			count++
			options = append(options, option{design.Change{Path: "air.diameter_m", Value: b}, func(r collector.Result) Text {
				return say("Use a %v duct: %v at %v.", q(units.Bore, b), q(units.Flow, r.Volume), q(units.Temperature, r.Outlet))
			}})
		}
	}
	for _, c := range catalog.Fans() {
		fan, _ := catalog.FindFan(c.ID)
		if fan.FreeAir <= e.Heater.Air.FanFree && fan.ShutOff <= e.Heater.Air.FanShut {
			continue
		}
		options = append(options, option{design.Change{Path: "air.fan", Value: fan.ID}, func(r collector.Result) Text {
			return say("Use a fan such as the %v (%v): %v at %v.", word(fan.Name), q(units.Electric, fan.Power), q(units.Flow, r.Volume),
				q(units.Temperature, r.Outlet))
		}})
	}
	best, bestWorth := -1, 0.0
	var bestRun collector.Result
	for i, o := range options {
		_, r, err := rerun(e, o.change)
		if err != nil || r.Outlet < run.Conditions.Inlet+8 {
			continue // warmer by less than that feels like a draft
		}
		if more := worth(&r) - worth(&run); more > bestWorth && e.allows("", o.change) {
			best, bestWorth, bestRun = i, more, r
		}
	}
	rise := run.Outlet - run.Conditions.Inlet
	if best < 0 || bestRun.Warms() < 1.03*run.Warms() || rise < 15 {
		return nil
	}
	f := Finding{ID: "more-air", Severity: Loss, Topic: Construction, Title: "Airflow is too low",
		Finding: say("Outlet air of %v at %v gives %v. Air this hot means a hot box, which loses more through the glazing.",
			q(units.Temperature, run.Outlet), q(units.Flow, run.Volume), q(units.Power, run.Warms())),
		Evidence: say("The glazing loses %v of the sun; the air warms by %v.", q(units.Share, run.Energy.Front/run.Energy.Sun),
			q(units.Rise, rise)),
		Remedy: options[best].text(bestRun), Patch: []design.Change{options[best].change},
		Gain: worth(&bestRun) - worth(&run), HasGain: true}
	if rise > 35 {
		f.Title = "Outlet air is too hot for so little airflow"
	}
	return []Finding{f}
}

// fanRating: the label's free air against what this system lets it move.
func fanRating(e *box) []Finding {
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

// leastGap is how near to the glass a hot part may lie, m. Common practice, no
// source.
const leastGap = 0.020

// touchesGlass: an absorber so near the glazing rubs on it or heats it through, and leaves no room for the air.
func touchesGlass(e *box) []Finding {
	h := e.Heater
	if h.Box.Gap >= leastGap || h.Indoors() {
		return nil
	}
	c := design.Change{Path: "box.gap_m", Value: 0.030}
	f := Finding{ID: "near-glass", Severity: Fault, Topic: Construction, Title: "The absorber is too close to the glazing",
		Finding: say("The absorber is %v from the glazing at its nearest point.", q(units.Length, h.Box.Gap)),
		Evidence: say("It may bow or sag when it is hot, and glass touched by a part at %v can crack.",
			q(units.Temperature, e.Still.AbsorberMax)),
		Remedy: say("Leave %v between absorber and glazing.", q(units.Length, 0.030)), Patch: []design.Change{c}}
	if _, r, err := rerun(e, c); err == nil {
		f.Gain, f.HasGain = worth(&r)-worth(&e.Running), true
	}
	return []Finding{f}
}

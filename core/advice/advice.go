// Package advice judges a heater: what will go wrong, what it wastes, and what
// a change would gain.
//
// Each judgement takes an evaluated box and returns findings with evidence, a
// remedy and, where the remedy changes the heat, its gain by running the
// balance again with the remedy applied. A finding is never a gain written as
// text.
package advice

import (
	"fmt"
	"math"
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

// Finding is one judgement.
type Finding struct {
	ID       string
	Severity Severity
	Station  string // where it is mended
	Title    string
	Finding  Text
	Evidence Text
	Remedy   Text
	Patch    []design.Change // the remedy, one touch
	Gain     float64         // W more heat with the remedy, by rerun
	HasGain  bool
	YearGain float64 // kWh a year more with the remedy, by running the year again
	HasYear  bool
	When     string // when the gain is had; empty at the noon judged by
}

// Of returns the findings of an evaluated heater, worst first.
func Of(e *collector.Evaluation) []Finding {
	judges := []func(*collector.Evaluation) []Finding{
		tooHot, neverSwitched, moreAir, fanRating, touchesGlass,
		bondsTooHot, clash, hotDuct, hotFan,
		unevenScreens, unevenTubes, tightColumns, tightPorts, seriesPipes, smallHoles, weakPanel, battery,
		backFlow, bareDuct, leaky, dewOnCover, coolJet,
		duller, doubtfulPane, shaded, coldBridge, betterBare, otherSide, plugged,
	}
	found := make([][]Finding, len(judges))
	var wg sync.WaitGroup
	for part := range 2 { // each judges by itself; two cores are everywhere
		wg.Go(func() {
			for i := part; i < len(judges); i += 2 {
				found[i] = judges[i](e)
			}
		})
	}
	wg.Wait()
	var fs []Finding
	for _, f := range found {
		fs = append(fs, f...)
	}
	worstFirst(fs)
	return fs
}

// worstFirst orders findings by severity, then by what their remedies gain.
func worstFirst(fs []Finding) {
	sort.SliceStable(fs, func(i, j int) bool {
		a, b := &fs[i], &fs[j]
		if a.Severity != b.Severity {
			return a.Severity < b.Severity
		}
		return a.Gain+a.YearGain > b.Gain+b.YearGain
	})
}

// rerun returns a heater with changes made and its balance, at the same conditions.
func rerun(e *collector.Evaluation, changes ...design.Change) (design.Heater, collector.Result, error) {
	h, err := design.Apply(e.Heater, units.System{}, changes...)
	if err != nil {
		return h, collector.Result{}, err
	}
	r, err := collector.Rate(&h, e.Running.Conditions)
	return h, r, err
}

// tooHot: a material beyond its service temperature on a windless noon with
// the fan off. Its figure is the one-sided upper 95 %.
func tooHot(e *collector.Evaluation) (fs []Finding) {
	seen := map[string]bool{}
	for _, p := range e.Peaks {
		if p.Upper <= p.Service || seen[p.Material] {
			continue
		}
		seen[p.Material] = true
		f := Finding{ID: "too-hot-" + p.Material, Severity: Danger, Station: "box",
			Evidence: say("Sun %v on the glass, wind %v, air standing: %v most likely, at most %v.", q(units.Irradiance, e.Noon.Energy.Sun/e.Noon.Aperture), q(units.Speed, e.Noon.Conditions.Wind), q(units.Temperature, p.Max), q(units.Temperature, p.Upper))}
		switch p.Kind {
		case collector.BackLayer:
			foam, _ := catalog.FindInsulation(p.Material)
			f.Title = "The foam will soften"
			f.Finding = say("On a windless noon with the air standing the back reaches %v; %v holds %v.", q(units.Temperature, p.Upper), word(foam.Name), q(units.Temperature, foam.Service))
			f.mend(e, "box.foam", catalog.Insulations(), func(id string) (string, float64) {
				x, _ := catalog.FindInsulation(id)
				return x.Name, x.Service
			}, p.Upper)
		case collector.CoverLayer:
			c, _ := catalog.FindCover(p.Material)
			f.Title = "The cover will sag"
			f.Finding = say("On a windless noon with the air standing the cover reaches %v; %v holds %v.", q(units.Temperature, p.Upper), word(c.Name), q(units.Temperature, c.Service))
			f.mend(e, "cover.material", catalog.Covers(), func(id string) (string, float64) {
				x, _ := catalog.FindCover(id)
				return x.Name, x.Service
			}, p.Upper)
		default:
			path, options, get := "absorber.paint", catalog.Paints(), func(id string) (string, float64) {
				x, _ := catalog.FindPaint(id)
				return x.Name, x.Service
			}
			f.Title = "The paint will fume"
			if m, err := catalog.FindMesh(p.Material); err == nil && m.Service <= p.Service {
				f.Title = "The screen will melt"
				path, options = "absorber.screens.mesh", catalog.Meshes()
				get = func(id string) (string, float64) {
					x, _ := catalog.FindMesh(id)
					return x.Name, x.Service
				}
			}
			f.Finding = say("On a windless noon with the air standing the absorber reaches %v; it holds %v.", q(units.Temperature, p.Upper), q(units.Temperature, p.Service))
			f.mend(e, path, options, get, p.Upper)
		}
		fs = append(fs, f)
	}
	return fs
}

// mend looks for the choice that bears the temperature and gives the most
// heat, by rerun.
func (f *Finding) mend(e *collector.Evaluation, path string, options []catalog.Choice, get func(id string) (string, float64), upper float64) {
	best := math.Inf(-1)
	for _, o := range options {
		name, service := get(o.ID)
		if service < upper {
			continue
		}
		c := design.Change{Path: path, Value: o.ID}
		_, r, err := rerun(e, c)
		if err != nil || worth(&r) <= best {
			continue
		}
		best = worth(&r)
		f.Patch = []design.Change{c}
		f.Gain, f.HasGain = worth(&r)-worth(&e.Running), true
		f.Remedy = say("Use %v, good to %v.", word(name), q(units.Temperature, service))
	}
	if f.Patch == nil {
		f.Remedy = say("Cover the box when the fan cannot run, and in summer.")
	}
}

// neverSwitched: the fan's set point beyond what the box reaches, or an opening
// point above what it gives once air moves.
func neverSwitched(e *collector.Evaluation) []Finding {
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
		f := Finding{ID: "switch-never", Severity: Fault, Station: "switch", Title: "The fan never starts",
			Finding:  say("Even with the fan off the box reaches only %v; the fan waits for %v.", q(units.Temperature, still.AbsorberMax), q(units.Temperature, closes)),
			Evidence: say("A clear noon, %v outdoors, %v on the glass.", q(units.Temperature, run.Conditions.Ambient), q(units.Irradiance, run.Energy.Sun/run.Aperture)),
			Remedy:   say("This box gets too little sun to be worth a switch; look at its bearing and lean.")}
		if open > run.Conditions.Inlet && closing <= 90 && open >= 0 {
			f.Remedy = say("Start it at %v and stop it at %v.", q(units.Temperature, closing), q(units.Temperature, open))
			f.Patch = set(open, closing)
			// As set the box gives nothing: the whole of its heat is the gain.
			f.Gain, f.HasGain = worth(&run), true
		}
		return []Finding{f}
	case thermostat.Cycles:
		open := math.Floor(run.Outlet - 2)
		f := Finding{ID: "switch-stutters", Severity: Fault, Station: "switch", Title: "The fan will stutter",
			Finding:  say("With the fan on, the air comes out at %v on the best noon, and the switch stops the fan at %v.", q(units.Temperature, run.Outlet), q(units.Temperature, opens)),
			Evidence: say("%v through the box; it warms again with the fan off, starts, and cools at once.", q(units.Flow, run.Volume)),
			Remedy:   say("Move less air, or draw it from a cooler spot: it leaves hardly warmer than it came.")}
		if open > run.Conditions.Inlet && open >= 0 {
			f.Remedy, f.Patch = say("Let it run down to %v.", q(units.Temperature, open)), set(open, closes)[:1]
		}
		return []Finding{f}
	}
	return nil
}

// duct bores people can buy, m.
var bores = []float64{0.080, 0.100, 0.125, 0.150, 0.200, 0.250}

// moreAir: hot air at a trickle. The candidates are the next ducts and the
// fans of the catalogue; the best by rerun is offered if it gives 3 % more.
func moreAir(e *collector.Evaluation) []Finding {
	run := e.Running
	if run.Conditions.Flow > 0 || run.Heat <= 0 || !e.Heater.Fanned() {
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
				return say("Draw a %v duct: %v come out at %v.", q(units.Bore, b), q(units.Flow, r.Volume), q(units.Temperature, r.Outlet))
			}})
		}
	}
	for _, c := range catalog.Fans() {
		fan, _ := catalog.FindFan(c.ID)
		if fan.FreeAir <= e.Heater.Air.FanFree && fan.ShutOff <= e.Heater.Air.FanShut {
			continue
		}
		options = append(options, option{design.Change{Path: "air.fan", Value: fan.ID}, func(r collector.Result) Text {
			return say("Use a fan such as the %v, %v: %v come out at %v.", word(fan.Name), q(units.Power, fan.Power), q(units.Flow, r.Volume), q(units.Temperature, r.Outlet))
		}})
	}
	best, bestWorth := -1, 0.0
	var bestRun collector.Result
	for i, o := range options {
		_, r, err := rerun(e, o.change)
		if err != nil || r.Outlet < run.Conditions.Inlet+8 {
			continue // warmer by less than that feels like a draught
		}
		if more := worth(&r) - worth(&run); more > bestWorth {
			best, bestWorth, bestRun = i, more, r
		}
	}
	rise := run.Outlet - run.Conditions.Inlet
	if best < 0 || bestRun.Heat < 1.03*run.Heat || rise < 15 {
		return nil
	}
	f := Finding{ID: "more-air", Severity: Loss, Station: "box", Title: "Move more air",
		Finding:  say("%v at %v gives %v. Air this hot means a hot box, and a hot box loses more through the glass.", q(units.Temperature, run.Outlet), q(units.Flow, run.Volume), q(units.Power, run.Heat)),
		Evidence: say("%v of the sun leaves by the glass; the air rises by %v.", q(units.Share, run.Energy.Front/run.Energy.Sun), q(units.Rise, rise)),
		Remedy:   options[best].text(bestRun), Patch: []design.Change{options[best].change},
		Gain: worth(&bestRun) - worth(&run), HasGain: true}
	if rise > 35 {
		f.Title, f.Severity = "Too hot for so little air", Fault
	}
	return []Finding{f}
}

// fanRating: the label's free air against what this system lets it move.
func fanRating(e *collector.Evaluation) []Finding {
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
	return []Finding{{ID: "fan-rating", Severity: Note, Station: "box", Title: "The label is not the flow",
		Finding:  say("The fan's label says %v; in this system it moves %v.", q(units.Flow, label), q(units.Flow, run.FanFlow)),
		Evidence: say("Ducts and box take %v, %v of what one fan can press.", q(units.Pressure, sys), q(units.Share, sys/e.Heater.Air.FanShut)),
		Remedy:   say("Reckon heat with the smaller figure, or measure it; the label would claim %v.", q(units.Power, run.Heat*label/run.FanFlow))}}
}

// leastGap is how near to the glass a hot part may lie, m. Common practice, no
// source.
const leastGap = 0.020

func touchesGlass(e *collector.Evaluation) []Finding {
	h := e.Heater
	if h.Box.Gap >= leastGap || h.Indoors() {
		return nil
	}
	c := design.Change{Path: "box.gap_m", Value: 0.030}
	f := Finding{ID: "near-glass", Severity: Fault, Station: "box", Title: "Too near the glass",
		Finding:  say("The absorber lies %v from the cover at its nearest.", q(units.Length, h.Box.Gap)),
		Evidence: say("It may bow or sag when it is hot; glass touched by a part at %v can crack.", q(units.Temperature, e.Still.AbsorberMax)),
		Remedy:   say("Leave %v.", q(units.Length, 0.030)), Patch: []design.Change{c}}
	if _, r, err := rerun(e, c); err == nil {
		f.Gain, f.HasGain = worth(&r)-worth(&e.Running), true
	}
	return []Finding{f}
}

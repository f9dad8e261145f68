package buildplan

import (
	"gladember/core/collector"
	"gladember/core/design"
	"gladember/core/units"
)

// Observed is a fault as it is seen on a finished box.
//
// On a walk around a box that runs, nobody waits for a year to be computed: what is wrong is
// priced by the heat that the box gives at its clear winter noon with it and without it.
type Observed struct {
	Fault
	// Costs is the heat that it takes at the clear winter noon, W. A fault that works by night,
	// such as a damper that stays open, costs nothing then.
	Costs float64
	// AtNight says that it costs by night only, so that a year has to tell.
	AtNight bool
}

// Observations are the faults of [Faults], at their usual size, each rated once more at the
// conditions of an evaluation. What the document refuses, or the balance, is left out.
func Observations(e *collector.Evaluation) (out []Observed) {
	for _, f := range Faults(e, 1) {
		with, err := rated(e, &f)
		if err != nil {
			continue
		}
		out = append(out, Observed{Fault: f, Costs: e.Running.Warms() - with.Warms(), AtNight: f.ID == "flap"})
	}
	return out
}

// rated is the box with a fault at the conditions of its evaluation. The flow is found anew.
func rated(e *collector.Evaluation, f *Fault) (collector.Result, error) {
	h, err := design.Apply(e.Heater, units.System{}, f.Effect.Changes...)
	if err != nil {
		return collector.Result{}, err
	}
	d, err := collector.Describe(&h)
	if err != nil {
		return collector.Result{}, err
	}
	return d.Rate(e.Running.Conditions, f.Effect.By, &e.Running)
}

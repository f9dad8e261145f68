package advice

import (
	"cmp"
	"math"
	"slices"

	"gladember/core/collector"
	"gladember/core/design"
	"gladember/core/units"
)

// change is one field's decision.
func change(path string, v any) design.Change { return design.Change{Path: path, Value: v} }

// An option is a remedy to be tried and how it is said once it has been.
type option struct {
	// changes are applied together; the first one's field decides whether the
	// remedy may be made at all.
	changes []design.Change
	// say words the remedy once its result is known.
	say func(r collector.Result) Text
}

// best reruns the options and returns the one that warms the room most, the
// fan's electricity counted off, among those that bring no new danger or fault,
// and whether it gives at least a share more than now.
func best(e *assessment, least float64, options []option) (option, collector.Result, bool) {
	if !e.looking {
		return option{}, collector.Result{}, false
	}
	// A share of what the box gives now is asked for, so that a remedy for a
	// large heater must gain more watts than one for a small heater.
	now := worth(&e.Running)
	type tried struct {
		option
		r collector.Result
	}
	var better []tried
	for _, x := range options {
		if !e.open(x.changes[0].Path) {
			continue
		}
		_, y, err := rerun(e, x.changes...)
		if err == nil && worth(&y) > now+max(0, least*math.Abs(now)) {
			better = append(better, tried{x, y})
		}
	}
	// The cheap runs sort the options; the whole judgment, which costs several
	// runs, is asked of the best first and mostly of that one alone.
	slices.SortStableFunc(better, func(a, b tried) int { return cmp.Compare(worth(&b.r), worth(&a.r)) })
	for _, x := range better {
		if e.allows("", x.changes...) {
			return x.option, x.r, true
		}
	}
	return option{}, collector.Result{}, false
}

// with puts a tried remedy into a finding.
func (f Finding) with(e *assessment, o option, r collector.Result) []Finding {
	f.Remedy, f.Patch, f.Gain, f.HasGain = o.say(r), o.changes, worth(&r)-worth(&e.Running), true
	return []Finding{f}
}

// rerun returns a heater with changes made and its balance, at the same
// conditions.
func rerun(e *assessment, changes ...design.Change) (design.Heater, collector.Result, error) {
	h, err := design.Apply(e.Heater, units.System{}, changes...)
	if err != nil {
		return h, collector.Result{}, err
	}
	r, err := collector.Rate(&h, e.conditions(&h))
	return h, r, err
}

// Package advice judges a heater: what will go wrong, what it wastes, and what
// a change would gain.
//
// Each judgment takes an evaluated box and returns findings with evidence, a
// remedy and, where the remedy changes the heat, its gain by running the
// balance again with the remedy applied. A finding is never a gain written as
// text.
package advice

import (
	"slices"
	"sync"

	"gladember/core/collector"
	"gladember/core/design"
	"gladember/core/units"
)

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

// changed is the box with changes made; it runs, stands with its fan off and on
// the worst noon like this one.
func (e *box) changed(changes ...design.Change) (*box, error) {
	h, err := design.Apply(e.Heater, units.System{}, changes...)
	if err != nil {
		return nil, err
	}
	x, err := collector.Like(&h, e.conditions(&h), e.Evaluation)
	return &box{Evaluation: &x}, err
}

// worsened are the dangers and faults of a changed box that this one does not
// have, and the one that was to be mended, where one is named and still there.
func (e *box) worsened(mended string, changed *box) (ids []string) {
	for id := range changed.graves() {
		if !e.wrong[id] || id == mended {
			ids = append(ids, id)
		}
	}
	return ids
}

// allows says whether a change brings no danger or fault that the box does not
// have, and, where one is named, takes that one away.
func (e *box) allows(mended string, changes ...design.Change) bool {
	x, err := e.changed(changes...)
	return err == nil && len(e.worsened(mended, x)) == 0
}

// completed returns a change together with the changes of other parts that it
// calls for, so that it brings no danger or fault, and what is said of those;
// it reports false where there are none.
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

// Mended returns a heater with the remedies of its dangers and faults on the
// clear winter noon, as far as they touch only fields that they may, the
// changes made, and the dangers and faults that stay. Quick takes what the
// materials of a box with a guard may be hotter than likely from the box
// without it, for a search whose answer is judged whole.
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

// conditions are those of the box for a changed one: it is the same hour, with
// the sun that falls where the changed one looks, and the inlet of where it
// draws its air from.
func (e *box) conditions(h *design.Heater) collector.Conditions {
	c := e.Running.Conditions
	if p, was := h.Place, e.Heater.Place; p.Tilt != was.Tilt || p.Bearing != was.Bearing {
		x := collector.ConditionsAt(h, collector.WinterNoon(h, 2026))
		c.Sun, c.Tilt = x.Sun, x.Tilt
	}
	return sameSource(h, c)
}

// sameSource returns conditions with the inlet of the place that a heater draws
// its air from.
func sameSource(h *design.Heater, c collector.Conditions) collector.Conditions {
	switch outdoors := h.Air.Source == "outdoors"; {
	case outdoors:
		c.Inlet = c.Ambient
	case c.Inlet == c.Ambient && c.Room != c.Ambient: // it drew from outdoors before
		c.Inlet = c.Room
	}
	return c
}

// Evaluate returns the findings of an evaluated heater, worst first. A remedy
// is a rerun of the box that brings no new danger or fault and, unless it takes
// one away, warms the room no less.
func Evaluate(e *collector.Evaluation) []Finding {
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

// checked takes the one touch off a remedy that would bring a new danger or
// fault, or leave its own.
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

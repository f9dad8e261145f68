package advice

import (
	"context"
	"slices"
	"sync"

	"gladember/core/collector"
	"gladember/core/design"
	"gladember/core/internal/parallel"
	"gladember/core/units"
)

// A judge returns what it finds of a box.
type judge func(*assessment) []Finding

// dangerJudges are the judges that may find a danger or a fault, improvementJudges all others.
var (
	dangerJudges      []judge
	improvementJudges []judge
)

// The lists are filled here and not where they are declared, since remedies are
// judged by the same lists, which Go would call an initialization loop.
func init() {
	dangerJudges = []judge{tooHot, neverSwitched, belowRoom, touchesGlass, bondsTooHot, clash, hotDuct, hotFan, tightColumns, weakPanel,
		bareDuct, outdoorIntake, betterBare, plugged, movesEarly}
	improvementJudges = []judge{moreAir, fanRating, unevenScreens, rowUneven, unevenTubes, unevenWidth, tightPorts, seriesPipes,
		smallHoles, battery, backFlow, leaky, dewOnCover, coolJet, duller, doubtfulPane, shaded, turnedAway, coldBridge, otherSide}
}

// assessment is an evaluated heater under judgment.
type assessment struct {
	// The evaluation holds the box running at its winter noon, with the fan
	// off, and on the worst noon of its year.
	*collector.Evaluation
	// looking says whether remedies are looked for. While a remedy is judged,
	// only what is wrong matters, and looking for remedies of remedies would
	// not end.
	looking bool
	// companion says that remedies are looked for as companions of another one:
	// each is then a change of a single part, so that the search ends.
	companion bool
	// may says what a remedy may change, by field path; nil allows everything.
	may func(path string) bool
	// guards are what would keep too much heat out, once they were looked for:
	// the search costs many balances and serves every finding of heat.
	guards  []Alternative
	guarded sync.Once
	// wrong are the ids of the box's dangers and faults.
	wrong map[string]bool
}

// open says whether a remedy may change a field.
func (e *assessment) open(path string) bool { return e.may == nil || e.may(path) }

// mayAll says whether a remedy may make all of the changes.
func (e *assessment) mayAll(changes []design.Change) bool {
	return !slices.ContainsFunc(changes, func(c design.Change) bool { return !e.open(c.Path) })
}

// newBox is a box with its dangers and faults known.
func newBox(e *collector.Evaluation) *assessment {
	b := &assessment{Evaluation: e}
	b.wrong = b.dangersAndFaults()
	b.looking = true
	return b
}

// dangersAndFaults are the ids of a box's dangers and faults.
func (e *assessment) dangersAndFaults() map[string]bool {
	out := map[string]bool{}
	for _, f := range e.found(Fault) {
		out[f.ID] = true
	}
	return out
}

// found are what the dangerJudges judges find of a box, of a severity or worse, without
// remedies.
func (e *assessment) found(least Severity) (fs []Finding) {
	// A box that does not look for remedies, so that this ends.
	plain := &assessment{Evaluation: e.Evaluation}
	for _, j := range dangerJudges {
		for _, f := range j(plain) {
			if f.Severity <= least {
				fs = append(fs, f)
			}
		}
	}
	return fs
}

// changed is the box with changes made; it runs, stands with its fan off and on
// the worst noon like this one.
func (e *assessment) changed(changes ...design.Change) (*assessment, error) {
	h, err := design.Apply(e.Heater, units.System{}, changes...)
	if err != nil {
		return nil, err
	}
	// The changed box takes over the margins of this one's temperatures, which
	// move little with a change and cost most of an evaluation.
	x, err := collector.Like(&h, e.conditions(&h), e.Evaluation)
	return &assessment{Evaluation: &x}, err
}

// worsened are the dangers and faults of a changed box that this one does not
// have, and the one that was to be mended, where one is named and still there.
func (e *assessment) worsened(mended string, changed *assessment) (ids []string) {
	for id := range changed.dangersAndFaults() {
		if !e.wrong[id] || id == mended {
			ids = append(ids, id)
		}
	}
	return ids
}

// allows says whether a change brings no danger or fault that the box does not
// have, and, where one is named, takes that one away.
func (e *assessment) allows(mended string, changes ...design.Change) bool {
	x, err := e.changed(changes...)
	return err == nil && len(e.worsened(mended, x)) == 0
}

// completed returns a change together with the changes of other parts that it
// calls for, so that it brings no danger or fault, and what is said of those;
// it reports false where there are none.
func (e *assessment) completed(mended string, changes ...design.Change) (all []design.Change, others []Text, ok bool) {
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
		// Ask the changed box for remedies of what it made worse, and add
		// those.
		x.looking, x.companion, x.wrong = true, true, x.dangersAndFaults()
		if ofHeat(mended) { // a guard is offered beside this remedy, not with it
			x.guarded.Do(func() {})
		}
		// Nothing added means that no part is left to change: give up.
		more := len(all)
		for _, j := range dangerJudges {
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
	// Mend, judge again, and go on until nothing is left to mend or four rounds
	// are over; each round can only take dangers and faults away, or it changes
	// nothing.
	n := h.Clone()
	var made []design.Change
	for {
		e, err := judgedAt(&n, collector.ConditionsAt(&n, collector.WinterNoon(&n)), quick)
		if err != nil {
			return n, made, nil, err
		}
		b := &assessment{Evaluation: &e, may: may}
		b.wrong = b.dangersAndFaults()
		b.looking = len(b.wrong) > 0 && len(made) < 4
		var left []Finding
		var patch []design.Change
		for _, j := range dangerJudges {
			for _, f := range j(b) {
				if f.Severity > Fault {
					continue
				}
				left = append(left, f)
				// The finding's own remedy first, then its alternatives: the
				// first whose fields may all be changed.
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
	// Materials' margins of the unguarded box are wider than those of the
	// guarded one, so that a search that takes them errs on the safe side.
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
func (e *assessment) conditions(h *design.Heater) collector.Conditions {
	c := e.Running.Conditions
	if p, was := h.Place, e.Heater.Place; p.Tilt != was.Tilt || p.Bearing != was.Bearing {
		x := collector.ConditionsAt(h, collector.WinterNoon(h))
		// Only the sun and the tilt follow the new position: the weather of the
		// hour, and with it every other condition, is that of the box as it is.
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
	judges := slices.Concat(dangerJudges, improvementJudges)
	found := make([][]Finding, len(judges))
	// Each judge works by itself, and none fails.
	_ = parallel.Each(context.Background(), len(judges), func(i int) error {
		found[i] = judges[i](b)
		return nil
	}, nil)
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
// What is only a caution is not worth heat: a remedy that costs some stays a sentence.
func (f *Finding) checked(e *assessment) {
	if f.Severity == Warning {
		f.Or = slices.DeleteFunc(f.Or, func(a Alternative) bool { return a.Gain < 0 })
		if f.HasGain && f.Gain < 0 {
			f.Patch, f.HasGain = nil, false
		}
	}
	if f.Patch == nil {
		return
	}
	// A loss or a note need not vanish with its remedy; a danger or fault must.
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
			f.Patch, f.Gain, f.Remedy = all, gain, f.Remedy.Then(others...)
			return
		}
	}
	f.Patch, f.Gain, f.HasGain = nil, 0, false
	f.Remedy.Format += " This alone would cause another problem: change the other parts with it."
}

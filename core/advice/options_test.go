package advice

import (
	"math"
	"math/rand/v2"
	"testing"

	"gladember/core/collector"
	"gladember/core/design"
	"gladember/core/units"
)

// What a change of the air path is said to gain is the heat to the room with it less that without it, of a box
// rated anew by the changes themselves; the fan's bought power is taken off both.
func TestAirOptionsGainIsTheHeatToTheRoom(t *testing.T) {
	for _, name := range []string{"screen-box", "back-pass-plate"} {
		h, err := design.Named(name)
		if err != nil {
			t.Fatal(err)
		}
		e, err := collector.Evaluate(&h, collector.ConditionsAt(&h, collector.WinterNoon(&h)), true)
		if err != nil {
			t.Fatal(err)
		}
		options := AirOptions(&e)
		if len(options) == 0 {
			t.Fatalf("%s: nothing is offered", name)
		}
		for _, o := range options {
			n, err := design.Apply(h, units.System{}, o.Changes...)
			if err != nil {
				t.Fatal(err)
			}
			c := e.Running.Conditions
			c.Flow = 0
			r, err := collector.Rate(&n, c)
			if err != nil {
				t.Fatal(err)
			}
			if math.Abs(r.Warms()-o.Heat) > 0.01 || math.Abs(r.Warms()-r.Bought-(e.Running.Warms()-e.Running.Bought)-o.Gain) > 0.01 {
				t.Errorf("%s, %s: heat %v and gain %v, rated anew %v", name, o.Name.In(units.System{}), o.Heat, o.Gain, r.Warms())
			}
		}
	}
}

// A pane that sags, bedded in a putty that glass would cook: its remedy is a pane and a sealant together, it holds when the
// box is judged whole with it, and it costs no more heat than either guard or another pane would.
func TestRemedyComesWithItsCompanions(t *testing.T) {
	h, err := design.Named("screen-box")
	if err != nil {
		t.Fatal(err)
	}
	if h, err = design.Apply(h, units.System{}, design.Set(design.CoverMaterial, "clear-vinyl"),
		design.Set(design.BoxSealant, "putty")); err != nil {
		t.Fatal(err)
	}
	e := noonOf(t, &h)
	for _, f := range Evaluate(e) {
		if f.ID != "too-hot-clear-vinyl" {
			continue
		}
		paths := map[string]bool{}
		for _, c := range f.Patch {
			paths[c.Path] = true
		}
		if !paths[design.CoverMaterial.Path] || !paths[design.BoxSealant.Path] {
			t.Errorf("the remedy is %v: it lacks the sealant that the new pane calls for", f.Patch)
		}
		if x, err := newBox(e).changed(f.Patch...); err != nil || x.dangersAndFaults()["too-hot-sealant"] || x.dangersAndFaults()[f.ID] {
			t.Errorf("with %v the box has %v", f.Patch, x.dangersAndFaults())
		}
		return
	}
	t.Fatal("the vinyl is not found too hot")
}

// A remedy that costs a tenth of the heat is not offered while another costs less: beside a tinted pane at a third of the heat
// a vent is the remedy; where all cost as much, the pane stays and the others stand beside it.
func TestDearRemedyGivesWay(t *testing.T) {
	h, err := design.Named("screen-box")
	if err != nil {
		t.Fatal(err)
	}
	b := newBox(noonOf(t, &h))
	heat := worth(&b.Running)
	vent := Alternative{ID: "guard-vent", Patch: []design.Change{design.Set(design.GuardKind, "vent")}, Gain: -0.01 * heat}
	shutter := Alternative{ID: "guard-shutter", Patch: []design.Change{design.Set(design.GuardKind, "shutter")}, Gain: -0.5 * heat}
	pane := []design.Change{design.Set(design.CoverMaterial, "tinted-glass")}
	b.guarded.Do(func() {})
	for _, c := range []struct {
		guards []Alternative
		gain   float64
		first  string
		or     int
	}{
		{[]Alternative{vent, shutter}, -0.33 * heat, design.GuardKind.Path, 0},
		{[]Alternative{shutter, vent}, -0.02 * heat, design.CoverMaterial.Path, 1},
		{[]Alternative{shutter}, -0.33 * heat, design.CoverMaterial.Path, 1},
		{[]Alternative{shutter}, -0.02 * heat, design.CoverMaterial.Path, 0},
	} {
		b.guards = c.guards
		f := Finding{Patch: pane, Gain: c.gain, HasGain: true}
		f.orGuard(b, true)
		if f.Patch[0].Path != c.first || len(f.Or) != c.or {
			t.Errorf("at %.2f with %d guards: %v and %d others", c.gain/heat, len(c.guards), f.Patch, len(f.Or))
		}
	}
	// The same by the year's heat.
	year := func(id string, gain float64) Alternative {
		return Alternative{ID: id, Patch: pane, YearGain: gain, HasYear: true}
	}
	f := Finding{Patch: pane, YearGain: -120, HasYear: true, Or: []Alternative{year("a", -60), year("b", -5), year("c", -1)}}
	f.spares(-50)
	if f.YearGain != -1 || len(f.Or) != 1 || f.Or[0].ID != "b" {
		t.Errorf("in the year: %+v", f)
	}
	f = Finding{Patch: pane, YearGain: -120, HasYear: true, Or: []Alternative{year("a", -60)}}
	if f.spares(-50); f.YearGain != -120 || len(f.Or) != 1 {
		t.Errorf("where each is dear, none may go: %+v", f)
	}
}

// What the air page offers for one touch is judged as a remedy is: made, it brings no danger and no fault; what would bring one
// says which, such as a fan moved into air that it does not stand.
func TestAirOptionsAreJudged(t *testing.T) {
	r := rand.New(rand.NewPCG(25, 3))
	stand, bring := 0, 0
	n := 16
	if long() {
		n = 40
	}
	for i := range n {
		h := drawn(t, r, i)
		e := noonOf(t, &h)
		b := newBox(e)
		for _, o := range AirOptions(e) {
			x, err := b.changed(o.Changes...)
			if err != nil {
				t.Fatal(err)
			}
			worse := b.worsened("", x)
			switch {
			case o.Stands && (len(worse) > 0 || o.Gain <= 0):
				t.Errorf("heater %d, %v: %+.1f W, brings %v", i, o.Changes, o.Gain, worse)
			case o.Stands:
				stand++
			case len(worse) > 0 && len(o.Brings) == 0:
				t.Errorf("heater %d, %v brings %v without a word", i, o.Changes, worse)
			case len(o.Brings) > 0:
				bring++
			}
		}
	}
	if stand < n || bring < n/8 {
		t.Errorf("%d stand, %d bring something: the test shows nothing", stand, bring)
	}
}

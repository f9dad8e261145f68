package drawing

import (
	"fmt"
	"strings"
	"testing"

	"gladember/core/advice"
	"gladember/core/buildplan"
	"gladember/core/cost"
	"gladember/core/cutting"
	"gladember/core/design"
	"gladember/core/layout"
	"gladember/core/units"
)

// told is all that is said and drawn of the parts of a heater.
func told(t *testing.T, name string) string {
	t.Helper()
	var b strings.Builder
	sc := scene(t, name, units.System{})
	h := sc.Heater
	for _, p := range sc.Layout.Cut() {
		fmt.Fprintln(&b, p.Letter, p.ID, p.Name, p.Count, p.Length, p.Width, p.Form, p.Joint, p.Bores)
	}
	steps, err := buildplan.Build(h, sc.Layout)
	if err != nil {
		t.Fatal(err)
	}
	for _, s := range steps {
		fmt.Fprintln(&b, s.ID, s.Parts, s.On, s.After, s.Minutes, s.Do)
	}
	list, err := cost.Build(t.Context(), cost.Input{Heater: h, Layout: sc.Layout, Parts: sc.Layout.Cut(),
		Shop: cutting.NewShop(&h.Workshop.Cut, false), Saw: cutting.Rules{Kerf: h.Workshop.Cut.Kerf}})
	if err != nil {
		t.Fatal(err)
	}
	for _, l := range list.Lines {
		fmt.Fprintln(&b, l.ID, l.What.In(units.System{}), l.Need, l.Buy, l.For)
	}
	for _, g := range advice.Safety(sc.Eval) {
		for _, c := range g.Cautions {
			fmt.Fprint(&b, c.Part)
			for _, k := range c.Kinds {
				fmt.Fprint(&b, " ", k.ID)
			}
			fmt.Fprintln(&b)
		}
	}
	fmt.Fprintln(&b, sc.Front(FrontWidth), sc.Section(), Exploded(sc.Layout, func(letter string) string { return letter }, nil, 300))
	return b.String()
}

// What parts are called changes no list, screw, step or drawing but for the name: nothing reads a part's name.
func TestRenamedPartsAreTheSame(t *testing.T) {
	for _, name := range design.ExampleNames() {
		before := told(t, name)
		for _, k := range layout.Kinds {
			k.Label = "§" + k.ID
		}
		after := told(t, name)
		for _, k := range layout.Kinds {
			k.Label = ""
		}
		if !strings.Contains(after, "§") {
			t.Errorf("%s: no part is renamed", name)
		}
		if after = strings.ReplaceAll(after, "§", ""); after != before {
			for i := range min(len(before), len(after)) {
				if before[i] != after[i] {
					t.Errorf("%s: %q is now %q", name, before[max(0, i-60):min(len(before), i+40)],
						after[max(0, i-60):min(len(after), i+40)])
					break
				}
			}
		}
	}
}

// A kind of part has an ID of its own, a step that takes it and a joint; what stands there already is not built.
func TestKindsAreWhole(t *testing.T) {
	ids := map[string]bool{}
	for _, k := range layout.Kinds {
		if k.ID == "" || ids[k.ID] {
			t.Errorf("%q is the ID of two kinds", k.ID)
		}
		ids[k.ID] = true
		if k != layout.WindowPane && (k.Step == "" || k.Joint == "") {
			t.Errorf("%s: step %q, joint %q", k.ID, k.Step, k.Joint)
		}
	}
	steps, seen := map[string]bool{}, map[string]bool{}
	for _, name := range design.ExampleNames() {
		h, err := design.Named(name)
		if err != nil {
			t.Fatal(err)
		}
		l, err := layout.Build(&h)
		if err != nil {
			t.Fatal(err)
		}
		built, err := buildplan.Build(&h, &l)
		if err != nil {
			t.Fatal(err)
		}
		for _, s := range built {
			steps[s.ID] = true
		}
		for _, p := range l.Parts {
			seen[p.Kind.Step] = seen[p.Kind.Step] || !p.There
		}
	}
	for step, has := range seen {
		if has && !steps[step] {
			t.Errorf("no plan has the step %s", step)
		}
	}
}

package space

import (
	"math"
	"testing"

	"gladember/core/design"
	"gladember/core/internal/formula"
)

// Every figure of a space comes out of its formula.
func TestWorkingsOfASpace(t *testing.T) {
	for _, name := range design.ExampleNames() {
		h, err := design.Named(name)
		if err != nil {
			t.Fatal(err)
		}
		s, err := New(&h)
		if err != nil {
			t.Fatal(err)
		}
		ws := Workings(&h, s, 20, -7, 0.04)
		if len(ws) != 3 {
			t.Fatalf("%s: %d workings", name, len(ws))
		}
		for key, w := range ws {
			got, err := formula.Value(w.Formula, w.Values())
			if err != nil || math.Abs(got-w.Value) > 1e-9*max(1, w.Value) {
				t.Errorf("%s %s: %s gives %v, shown is %v; %v", name, key, w.Formula, got, w.Value, err)
			}
		}
	}
}

package season

import (
	"math"
	"testing"

	"gladember/core/design"
	"gladember/core/internal/formula"
)

// Every figure of a year that is shown as a formula comes out of it.
func TestWorkingsOfAYear(t *testing.T) {
	for _, name := range []string{"back-pass-plate", "passive-tower"} {
		h := named(t, name, to(design.MoneySpent.Path, 120.0), to(design.RoomHeater.Path, "gas"))
		r, err := Run(&h, yearOf(t, &h))
		if err != nil {
			t.Fatal(err)
		}
		m, err := Worth(&h, r)
		if err != nil {
			t.Fatal(err)
		}
		b := Bands{}
		b.Heat.Value = r.Year.Heat
		ws, err := Workings(&h, r, &m, &b)
		if err != nil {
			t.Fatal(err)
		}
		for _, key := range []string{"useful", "fraction", "heat", "fan", "run", "stagnation", "pv", "fuel", "saved", "carbon", "simple",
			"perkwh"} {
			w, ok := ws[key]
			if !ok {
				if key == "simple" && m.Saved <= 0 {
					continue
				}
				t.Errorf("%s: no working of %s", name, key)
				continue
			}
			if key == "stagnation" { // told in words: a balance is no formula
				continue
			}
			for _, x := range w.Terms {
				if x.Source == "" {
					t.Errorf("%s %s: %s has no source", name, key, x.Symbol)
				}
			}
			got, err := formula.Value(w.Formula, w.Values())
			if err != nil || math.Abs(got-w.Value) > 1e-9*max(1, math.Abs(w.Value)) {
				t.Errorf("%s %s: %s gives %v, shown is %v; %v", name, key, w.Formula, got, w.Value, err)
			}
		}
		if ws["heat"].Band == nil || ws["heat"].Band.Value != r.Year.Heat {
			t.Error("the band of the heat is lost")
		}
	}
	h := named(t, "back-pass-plate", to(design.RoomHeater.Path, "none"))
	if _, err := Workings(&h, &Result{}, &Money{}, nil); err != nil {
		t.Error(err)
	}
	if _, err := Workings(&design.Heater{Room: design.Room{Heater: "dung"}}, &Result{}, &Money{}, nil); err == nil {
		t.Error("an unknown fuel has workings")
	}
}

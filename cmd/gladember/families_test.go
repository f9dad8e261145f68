package main

import (
	"testing"

	"gladember/core/design"
)

// Whatever is declared by family is declared for each: the program links every package that declares something.
func TestMapsByFamilyAreWhole(t *testing.T) {
	lacking := design.Lacking()
	for what, families := range lacking {
		if families != nil {
			t.Errorf("%s: nothing for %v", what, families)
		}
	}
	if len(lacking) < 5 {
		t.Errorf("only %v are declared by family", lacking)
	}
	made := map[design.Family]bool{}
	for _, name := range design.ExampleNames() {
		h, err := design.Named(name)
		if err != nil {
			t.Fatal(err)
		}
		made[h.Absorber.Family] = true
	}
	for _, r := range design.Families {
		if !made[r.ID] {
			t.Errorf("no example is made as %s", r.ID)
		}
	}
}

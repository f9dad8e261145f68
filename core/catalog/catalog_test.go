package catalog

import (
	"errors"
	"math"
	"strings"
	"testing"
)

// Every row has a name, a source, a service temperature and figures that can
// be; every choice can be looked up again.
func TestRowsAreWhole(t *testing.T) {
	row := func(id, name, source string, service float64, shares ...float64) {
		t.Helper()
		if id == "" || name == "" || source == "" || strings.ToLower(id) != id || service < 40 {
			t.Errorf("%q %q from %q, service %v", id, name, source, service)
		}
		for _, s := range shares {
			if !(s > 0) || math.IsInf(s, 0) {
				t.Errorf("%s holds %v", id, s)
			}
		}
	}
	for _, c := range covers {
		row(c.ID, c.Name, c.Source, c.Service, c.Index-1, c.Extinction, c.Emittance, c.Conductivity, c.Thickness)
		if c.Emittance+c.Transmit > 1 {
			t.Errorf("%s gives off and passes more than all", c.ID)
		}
	}
	for _, x := range insulations {
		row(x.ID, x.Name, x.Source, x.Service, x.Conductivity, x.Density)
	}
	for _, x := range sheets {
		row(x.ID, x.Name, x.Source, x.Service, x.Conductivity, x.Density)
	}
	for _, x := range meshes {
		row(x.ID, x.Name, x.Source, x.Service, x.Wire, x.Pitch-x.Wire, x.WireShare(), 1-x.WireShare())
		// Two sets of wires of length 1/pitch a metre, each metre of area pi d.
		if want := 2 / x.Pitch * math.Pi * x.Wire; math.Abs(x.WireArea()-want) > 1e-9 {
			t.Errorf("%s has %v m2 of wire a m2, by hand %v", x.ID, x.WireArea(), want)
		}
	}
	for _, x := range woods {
		row(x.ID, x.Name, x.Source, x.Service, x.Conductivity, x.Density)
	}
	for _, x := range paints {
		row(x.ID, x.Name, x.Source, x.Service, x.Absorptance, x.Emittance, 1.0001-x.Absorptance)
	}
	for _, x := range ducts {
		row(x.ID, x.Name, x.Source, 100, x.Roughness)
	}
	for _, x := range fans {
		row(x.ID, x.Name, x.Source, x.Service, x.FreeAir, x.ShutOff, x.Power)
		if air := x.FreeAir * x.ShutOff; air > 4*x.Power*0.75 {
			t.Errorf("%s: even a quarter of free air times shut-off, %v W, outdoes its %v W", x.ID, air/4, x.Power)
		}
	}
	for _, list := range [][]Choice{Covers(), Insulations(), Sheets(), Meshes(), Woods(), Paints(), Ducts(), Fans()} {
		seen := map[string]bool{}
		for _, c := range list {
			if seen[c.ID] || c.Name == "" {
				t.Errorf("choice %+v", c)
			}
			seen[c.ID] = true
		}
	}
	var nf *NotFound
	if _, err := FindCover("ice"); !errors.As(err, &nf) || !strings.Contains(err.Error(), "glass") {
		t.Errorf("a missing cover: %v", err)
	}
}

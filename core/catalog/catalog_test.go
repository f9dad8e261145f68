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
		// What bears less than bare metal says where its limit comes from.
		if service < 300 && service != 100 && !strings.Contains(source, "service: ") {
			t.Errorf("%s withstands %v C: by which label or data sheet?", id, service)
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
		// Two sets of wires of length 1/pitch a meter, each meter of area pi d.
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
	for _, table := range [][]Bond{sealants, adhesives, tapes} {
		for _, x := range table {
			row(x.ID, x.Name, x.Source, x.Service, x.U)
		}
	}
	for _, u := range [][]float64{
		column(covers, func(r Cover) float64 { return r.U }), column(insulations, func(r Insulation) float64 { return r.U }),
		column(sheets, func(r Sheet) float64 { return r.U }), column(meshes, func(r Mesh) float64 { return r.U }),
		column(woods, func(r Wood) float64 { return r.U }), column(paints, func(r Paint) float64 { return r.U }),
		column(ducts, func(r DuctKind) float64 { return r.U }), column(fans, func(r Fan) float64 { return r.U }),
	} {
		for _, x := range u {
			if !(x > 0) || x > 0.5 {
				t.Errorf("a row is uncertain by %v", x)
			}
		}
	}
	for _, list := range [][]Choice{Covers(), Insulations(), Sheets(), Meshes(), Woods(), Paints(), Ducts(), Fans(), Sealants(),
		Adhesives(), Tapes()} {
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

func column[T any](table []T, get func(T) float64) (out []float64) {
	for _, r := range table {
		out = append(out, get(r))
	}
	return out
}

// What does not go together is found from either side, and every tag that the
// table of clashes names is worn by a row or is a circumstance.
func TestClashes(t *testing.T) {
	worn := map[string]bool{Hot: true, Rain: true, InAirway: true, MetalFoam: true}
	wear := func(tags []string) {
		for _, x := range tags {
			worn[x] = true
		}
	}
	for _, r := range covers {
		wear(r.Tags)
	}
	for _, r := range insulations {
		wear(r.Tags)
	}
	for _, r := range paints {
		wear(r.Tags)
	}
	for _, r := range ducts {
		wear(r.Tags)
	}
	for _, table := range [][]Bond{sealants, adhesives, tapes} {
		for _, r := range table {
			wear(r.Tags)
		}
	}
	for _, c := range clashes {
		if !worn[c.A] || !worn[c.B] || c.Why == "" || c.Remedy == "" || c.Source == "" {
			t.Errorf("%+v names what nothing wears, or says too little", c)
		}
		if len(FindClashes([]string{c.A}, []string{c.B})) == 0 || len(FindClashes([]string{c.B}, []string{c.A})) == 0 {
			t.Errorf("%s and %s are not found from both sides", c.A, c.B)
		}
	}
	for _, x := range []struct {
		a, b []string
		want bool
	}{{[]string{"solvent"}, []string{"polystyrene"}, true}, {[]string{"solvent"}, []string{"wool"}, false},
		{[]string{"not-rain"}, []string{Rain}, true}, {[]string{"cracks"}, []string{Hot}, true},
		{[]string{"plastic-duct"}, []string{Hot}, true}, {nil, []string{Hot}, false}} {
		if got := len(FindClashes(x.a, x.b)) > 0; got != x.want {
			t.Errorf("%v with %v: clash %v", x.a, x.b, got)
		}
	}
}

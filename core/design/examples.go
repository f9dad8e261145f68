package design

import (
	"fmt"
	"sort"
	"strings"

	"gladember/core/units"
)

// examples are starting points for scripts; places and sizes are invented.
var examples = map[string][]Change{
	"screen-box": {
		{Path: "name", Value: "Lean-to screen box"},
		{Path: "pane.width_m", Value: 0.9}, {Path: "pane.height_m", Value: 1.5},
	},
	"back-pass-plate": {
		{Path: "name", Value: "Gable plate"},
		{Path: "absorber.family", Value: "back-pass-plate"},
		{Path: "pane.width_m", Value: 1.0}, {Path: "pane.height_m", Value: 2.0},
		{Path: "place.tilt_deg", Value: 90.0},
	},
	"double-glazed-screen-box": {
		{Path: "name", Value: "Two-pane screen box"},
		{Path: "cover.layers", Value: 2},
		{Path: "absorber.screens.layers", Value: 3},
		{Path: "pane.width_m", Value: 0.7}, {Path: "pane.height_m", Value: 1.1},
		{Path: "room.kind", Value: "shop"},
	},
	"greenhouse-plate": {
		{Path: "name", Value: "Greenhouse plate under twin sheets"},
		{Path: "absorber.family", Value: "back-pass-plate"},
		{Path: "cover.material", Value: "polycarbonate"}, {Path: "cover.layers", Value: 2},
		{Path: "room.kind", Value: "greenhouse"},
		{Path: "pane.width_m", Value: 1.2}, {Path: "pane.height_m", Value: 1.6},
	},
}

// ExampleNames lists the example boxes in order.
func ExampleNames() []string {
	var names []string
	for n := range examples {
		names = append(names, n)
	}
	sort.Strings(names)
	return names
}

// Named returns an example box, complete and valid.
func Named(name string) (Heater, error) {
	cs, ok := examples[name]
	if !ok {
		return Heater{}, fmt.Errorf("there is no example %q; there are %s", name, strings.Join(ExampleNames(), ", "))
	}
	return Apply(New(), units.System{}, cs...)
}

package design

import (
	"fmt"
	"slices"
	"sort"
	"strings"

	"gladember/core/units"
)

// setting is where every example stands: an invented place with facts
// of its weather.
var setting = []Change{
	{Path: "place.town", Value: "Aldermoor (made up)"}, {Path: "climate.coldest_c", Value: -1.0},
	{Path: "climate.warmest_c", Value: 19.0}, {Path: "climate.sunny_days", Value: 4.5},
}

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
	"can-columns": {
		{Path: "name", Value: "Can columns"}, {Path: "absorber.family", Value: "can-columns"},
		{Path: "pane.width_m", Value: 1.1}, {Path: "pane.height_m", Value: 1.9}, {Path: "place.tilt_deg", Value: 75.0},
	},
	"downpipes": {
		{Path: "name", Value: "Downpipes side by side"}, {Path: "absorber.family", Value: "downpipes"},
		{Path: "pane.width_m", Value: 1.0}, {Path: "pane.height_m", Value: 2.1}, {Path: "place.tilt_deg", Value: 90.0},
	},
	"downpipes-in-series": {
		{Path: "name", Value: "Downpipes one after the other"}, {Path: "absorber.family", Value: "downpipes"},
		{Path: "absorber.pipes.join", Value: "series"},
		{Path: "pane.width_m", Value: 0.9}, {Path: "pane.height_m", Value: 1.7}, {Path: "air.fan", Value: "server-120"},
	},
	"ribbed-coil": {
		{Path: "name", Value: "Folded ribbed duct"}, {Path: "absorber.family", Value: "ribbed-coil"},
		{Path: "pane.width_m", Value: 0.85}, {Path: "pane.height_m", Value: 1.25},
	},
	"front-pass-plate": {
		{Path: "name", Value: "Cheap front-pass plate"}, {Path: "absorber.family", Value: "front-pass-plate"},
		{Path: "pane.width_m", Value: 0.9}, {Path: "pane.height_m", Value: 1.6},
	},
	"double-pass-plate": {
		{Path: "name", Value: "Plate passed twice"}, {Path: "absorber.family", Value: "double-pass-plate"},
		{Path: "pane.width_m", Value: 0.95}, {Path: "pane.height_m", Value: 1.7},
	},
	"double-pass-tubes": {
		{Path: "name", Value: "Pipes passed twice"}, {Path: "absorber.family", Value: "double-pass-tubes"},
		{Path: "pane.width_m", Value: 1.0}, {Path: "pane.height_m", Value: 1.8}, {Path: "cover.material", Value: "twin-wall"},
	},
	"window-panel": {
		{Path: "name", Value: "Foil behind the kitchen window"}, {Path: "absorber.family", Value: "window-panel"},
		{Path: "pane.width_m", Value: 0.8}, {Path: "pane.height_m", Value: 1.1}, {Path: "place.tilt_deg", Value: 90.0},
	},
	"passive-box": {
		{Path: "name", Value: "Leaned box without a fan"}, {Path: "absorber.family", Value: "passive-box"},
		{Path: "pane.width_m", Value: 0.7}, {Path: "pane.height_m", Value: 1.2}, {Path: "place.tilt_deg", Value: 50.0},
		{Path: "air.ports", Value: 3}, {Path: "air.diameter_m", Value: 0.100}, {Path: "air.to_box_m", Value: 0.3},
		{Path: "air.from_box_m", Value: 0.3}, {Path: "air.bends", Value: 0},
		{Path: "mirror.length_m", Value: 0.6},
	},
	"passive-tower": {
		{Path: "name", Value: "Upright tower without a fan"}, {Path: "absorber.family", Value: "passive-box"},
		{Path: "pane.width_m", Value: 0.5}, {Path: "pane.height_m", Value: 2.6}, {Path: "place.tilt_deg", Value: 90.0},
		{Path: "air.ports", Value: 2}, {Path: "air.diameter_m", Value: 0.125}, {Path: "air.to_box_m", Value: 0.25},
		{Path: "air.from_box_m", Value: 0.25}, {Path: "air.bends", Value: 0},
	},
	"own-absorber": {
		{Path: "name", Value: "Roofing sheet, passed twice"}, {Path: "absorber.family", Value: "own"},
		{Path: "pane.width_m", Value: 0.95}, {Path: "pane.height_m", Value: 1.6},
	},
	"panel-driven-lath-box": {
		{Path: "name", Value: "Lath box on its own solar panel"}, {Path: "absorber.screens.mesh", Value: "metal-lath"},
		{Path: "absorber.screens.layers", Value: 2}, {Path: "absorber.screens.lift_m", Value: 0.0},
		{Path: "absorber.screens.rear_m", Value: 0.03},
		{Path: "pane.width_m", Value: 0.7}, {Path: "pane.height_m", Value: 1.2}, {Path: "air.drive", Value: "panel"},
		{Path: "cover.material", Value: "low-iron-glass"},
	},
	"two-boxes": {
		{Path: "name", Value: "Two screen boxes on one blower"}, {Path: "array.boxes", Value: 2},
		{Path: "pane.width_m", Value: 0.8}, {Path: "pane.height_m", Value: 1.3}, {Path: "air.fan", Value: "inline-5"},
	},
	"roof-row": {
		{Path: "name", Value: "Ten plates on the roof into the furnace"}, {Path: "absorber.family", Value: "back-pass-plate"},
		{Path: "array.boxes", Value: 10},
		{Path: "pane.width_m", Value: 0.95}, {Path: "pane.height_m", Value: 1.7}, {Path: "place.tilt_deg", Value: 50.0},
		{Path: "air.route", Value: "furnace"}, {Path: "air.filter", Value: "coarse"}, {Path: "room.floor_m2", Value: 110.0},
	},
	"unlike-boxes": {
		{Path: "name", Value: "Two plates of different depth on one wall"}, {Path: "absorber.family", Value: "back-pass-plate"},
		{Path: "array.boxes", Value: 2}, {Path: "place.tilt_deg", Value: 90.0},
		{Path: "pane.width_m", Value: 0.9}, {Path: "pane.height_m", Value: 1.6}, {Path: "absorber.plate.channel_m", Value: 0.035},
		{Path: "array.others", Value: []OtherBox{{Count: 1, Width: 0.6, Height: 1.6, Depth: 0.015}}},
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
	return Apply(New(), units.System{}, append(slices.Clone(setting), cs...)...)
}

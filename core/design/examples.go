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
	Set(PlaceTown, "Aldermoor (made up)"), Set(ClimateColdest, -1.0),
	Set(ClimateWarmest, 19.0), Set(ClimateSunny, 4.5),
}

// examples are starting points for scripts beside those of the families; places and sizes are invented.
var examples = map[string][]Change{
	"double-glazed-screen-box": {
		Set(HeaterName, "Two-pane screen box"),
		Set(CoverLayers, 2),
		Set(ScreensLayers, 3),
		Set(PaneWidth, 0.7), Set(PaneHeight, 1.1),
		Set(SpaceKind, "shop"),
	},
	"downpipes-in-series": {
		Set(HeaterName, "Downpipes one after the other"), Set(AbsorberFamily, "downpipes"),
		Set(PipesJoin, "series"),
		Set(PaneWidth, 0.9), Set(PaneHeight, 1.7), Set(AirFan, "server-120"),
	},
	"passive-tower": {
		Set(HeaterName, "Upright tower without a fan"), Set(AbsorberFamily, "passive-box"),
		Set(PaneWidth, 0.5), Set(PaneHeight, 2.6), Set(PlaceTilt, 90.0),
		Set(AirPorts, 2), Set(AirDiameter, 0.125), Set(AirToBox, 0.25),
		Set(AirFromBox, 0.25), Set(AirBends, 0),
	},
	"own-absorber": {
		Set(HeaterName, "Roofing sheet, passed twice"), Set(AbsorberFamily, "own"),
		Set(PaneWidth, 0.95), Set(PaneHeight, 1.6),
	},
	"panel-driven-lath-box": {
		Set(HeaterName, "Lath box on its own solar panel"), Set(ScreensMesh, "metal-lath"),
		Set(ScreensLayers, 2), Set(ScreensLift, 0.0),
		Set(ScreensRear, 0.03),
		Set(PaneWidth, 0.7), Set(PaneHeight, 1.2), Set(AirDrive, "panel"),
		Set(CoverMaterial, "low-iron-glass"),
	},
	"two-boxes": {
		Set(HeaterName, "Two screen boxes on one blower"), Set(ArrayBoxes, 2),
		Set(PaneWidth, 0.8), Set(PaneHeight, 1.3), Set(AirFan, "inline-5"),
	},
	"roof-row": {
		Set(HeaterName, "Ten plates on the roof into the furnace"), Set(AbsorberFamily, "back-pass-plate"),
		Set(ArrayBoxes, 10),
		Set(PaneWidth, 0.95), Set(PaneHeight, 1.7), Set(PlaceTilt, 50.0),
		Set(AirRoute, "furnace"), Set(AirFilter, "coarse"), Set(RoomFloor, 110.0),
	},
	"unlike-boxes": {
		Set(HeaterName, "Two plates of different depth on one wall"), Set(AbsorberFamily, "back-pass-plate"),
		Set(ArrayBoxes, 2), Set(PlaceTilt, 90.0),
		Set(PaneWidth, 0.9), Set(PaneHeight, 1.6), Set(PlateChannel, 0.035),
		Set(ArrayOthers, []OtherBox{{Count: 1, Width: 0.6, Height: 1.6, Depth: 0.015}}),
	},
	"greenhouse-plate": {
		Set(HeaterName, "Greenhouse plate under twin sheets"),
		Set(AbsorberFamily, "back-pass-plate"),
		Set(CoverMaterial, "polycarbonate"), Set(CoverLayers, 2),
		Set(SpaceKind, "greenhouse"),
		Set(PaneWidth, 1.2), Set(PaneHeight, 1.6),
	},
}

// ExampleNames lists the example boxes in order.
func ExampleNames() []string {
	var names []string
	for n := range examples {
		names = append(names, n)
	}
	for _, r := range Families {
		if r.Example != nil {
			names = append(names, string(r.ID))
		}
	}
	sort.Strings(names)
	return names
}

// Named returns an example box, complete and valid.
func Named(name string) (Heater, error) {
	cs, ok := examples[name]
	if r := Family(name).Record(); !ok && r != nil {
		cs, ok = r.Example, r.Example != nil
	}
	if !ok {
		return Heater{}, fmt.Errorf("there is no example %q; there are %s", name, strings.Join(ExampleNames(), ", "))
	}
	return Apply(New(), units.System{}, append(slices.Clone(setting), cs...)...)
}

package layout_test

import (
	"fmt"

	"gladember/core/design"
	"gladember/core/layout"
	"gladember/core/units"
)

// The boards of a frame, by letter, in inches.
func ExampleBuild() {
	h, err := design.Apply(design.New(), units.System{},
		design.Enter(design.PaneWidth, "34 in"), design.Enter(design.PaneHeight, "58 in"))
	if err != nil {
		fmt.Println(err)
		return
	}
	l, err := layout.Build(&h)
	if err != nil {
		fmt.Println(err)
		return
	}
	inches := units.System{Inches: true}
	for _, p := range l.Cut() {
		if p.Group == layout.Frame {
			fmt.Printf("%s %s: %d of %s\n", p.Letter, p.Name, p.Count, units.Format(units.Length, p.Length, inches))
		}
	}
	// Output:
	// E glazing stop, side: 2 of 59 7/16 in
	// F glazing stop, top and bottom: 2 of 33 1/16 in
	// G side board: 2 of 59 7/16 in
	// H bottom board: 1 of 33 1/16 in
	// I top board: 1 of 33 1/16 in
}

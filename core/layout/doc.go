// Package layout gives every part of a heater its true size and its place.
//
// # Coordinates
//
// Meters in the box's own frame: x from the left outer edge, y up the slope from
// the bottom outer edge, z from the front of the outer cover back into the box.
// A [Place] is a part's corner nearest to all three and its sizes along them.
//
// # Parts
//
// [Build] lists the parts in the order in which they are built in: glazing,
// frame, back, linings, absorber, ports, and what is laid in loose. Each has the
// size that is cut, the number alike, its material as it is asked for in a shop,
// and its mass. What comes from the builder's stock whole, such as a pane, is
// listed and not cut. A box that cannot be made returns a [Misfit], which says
// what does not fit and what would.
//
// # Rules of the job
//
// A pane of glass gets room to move in its rebate; sheet metal loses length in
// each bend (bendLoss) and keeps a flange that a brake can hold; columns of cans
// and rows of pipes are spread evenly between their headers, and the centers of
// their holes are given from two edges. Sizes are exact here and rounded only
// where they are printed.
//
// # Glazing
//
// The pane stands on two setting blocks in a groove of packing strips as thick as
// itself. The room around it is 2 mm and half of what it grows over 60 K, so that a
// sheet of plastic is free to move; its screws need slots, which its note gives.
//
// # Ports
//
// Inlet and outlet lie where the air's way begins and ends, through the back, the
// sides, or the bottom and top. A [Hole] has an axis in the box; a [Bore] is the same
// hole in one part, from that part's own datum edges. Two like parts of which one is
// drilled become two parts.
//
// # Around the box
//
// By its tilt a box hangs from cleats under a flashing, leans on brackets, or stands
// on a curb whose flashings are listed as they are laid, the lowest first. What all
// boxes of a row have together, such as header ducts, is listed once.
//
// # Who reads it
//
// Drawings ink what this package says and decide nothing. Notes that hold a
// length carry it between marks that [Words] prints in a reader's own units.
//
// # Checks
//
// For every family and body the parts fill the box: areas, depths and the sum of
// widths agree with package design's geometry, and no two solid parts overlap.
package layout

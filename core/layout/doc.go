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

// Package cost says what must be bought to build a heater, and what it comes to.
//
// # What is on the list
//
// [Build] takes a laid-out heater (package layout), what is on hand (package
// sizing), what is sold (package cutting) and the builder's own prices, and
// returns lines grouped by the counter at which one asks for them. Boards and
// sheets come from the cutting plan, so that a line is a whole length or sheet as
// it is sold; mesh and film come off a roll; cans are counted with spares; panes
// are ordered in their size.
//
// # Consumables
//
// Paint, sealant, glue, tape and screws follow from the geometry: the surface that
// is sprayed, the length of the seams, the joints. A spray can covers the area that
// the spray passes over, not the area of the wires: what goes through the openings
// of a screen is lost, so that a doubled lath takes as much as two plates painted on
// both sides. Coverage, bead sizes and spacing are common practice and have no
// source; each is a named constant beside the rule that uses it.
//
// # Prices
//
// The package knows no price. A price is the builder's own, with the day on which it
// was seen; a line without one is listed and counted as unpriced, and the total says
// how many such lines it leaves out.
//
// # The next box
//
// [Next] is what a second, equal box takes after the first: its parts are planned
// together with those of the first, so that it uses the offcuts, the rest of each
// roll and the opened packs.
//
// # Alternatives
//
// [Alternatives] applies other choices to a copy of the heater and runs the whole of
// it again: a year, the hottest noon, and this list. [Paybacks] does so with a part
// left out, and names what never earns its price.
// # Amounts
//
// An amount is kept in the unit in which it is used up, and bought in whole packs:
//
//	packs = ceil((need - on hand) / pack)
//	paint = 2 coats x area sprayed over / 2 m2 x 0.4 L
//	bead  = pi/4 x diameter^2 x length, and a tenth that is lost
//	cans  = those of the columns, and a tenth in reserve, at least five
//	mesh  = the running length of its pieces with 25 mm folded at each edge, and 5 %
//
// What is on hand is taken off the need before it is rounded, since half a roll on hand
// saves half a roll. It never counts for more than is needed.
//
// # What is left out
//
// Tools, delivery, taxes and fuel for the trips are not on the list. Strips that are
// ripped from the offcuts of boards cost nothing. A pane of a row's other boxes is a line
// of its own, because it is ordered in its own size. Mains wiring is a licensed
// electrician's work and materials.
//
// # Checks
//
// For every example each part is what some line is for, and packs cover the need with
// less than one pack over. Paint, sealant, mesh and cans are worked by hand in the tests;
// a dearer price never makes the total smaller; a second box never costs more than the
// first; an alternative equals the heater that is built anew with its change.
package cost

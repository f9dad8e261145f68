// Package sizing looks for the best heater that can be made of what is at hand.
//
// # The search
//
// It begins with the pane and the family, tries every pair of them through a
// whole year in the heater's own place and space, and improves the best pairs
// one choice at a time: tilt, layers, absorber, insulation, duct, fan and
// thermostat, round and round until no single change helps. Choices that depend
// on each other, such as duct and fan, are then tried two at a time. The aim is
// useful heat less the electricity, kWh a year (season.Month.Net).
//
// # Safety
//
// Only boxes without a danger or a fault count (package advice): a better
// sealant, adhesive, tape or paint is taken with a box that calls for it, and a
// guard against the heat where none of the stock holds without. If every box is
// left out, [Best] returns [Unsafe], which names the gravest finding.
//
// # Reasons
//
// Each choice of the answer comes with what the next best one would have given,
// by the same year, and with what it costs or saves.
//
// # Materials on hand
//
// shed.go turns things as builders note them, a pane, half a roll of screen, 140
// of 300 cans, into a [Stock] and judges a doubtful pane by two readings of the
// sun.
//
// # Checks
//
// The answer is at least as good as 200 heaters of the same stock made by
// chance, for ten stocks; thirty stocks give thirty safe proposals, judged again
// from scratch (METHODS, section 12).
package sizing

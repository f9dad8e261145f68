// Package units reads and prints quantities the way people on a building site
// write them, and is the only place where a unit other than SI exists.
//
// Everything behind this package is SI: m, m2, m3/s, m/s, W, J as kWh only in
// sums, Pa, degrees Celsius, W/m2, and plane angles in degrees where a person
// sees them. A builder types `58 1/4`, `4' 10 1/4"`, `1480 mm`, `110F` or
// `50 cfm`; [Parse] turns that into SI and [Format] turns SI back into the
// builder's own system.
//
// # Reading
//
// A number may have a decimal point or comma, thousands marks, a fraction and a
// unit. Without a unit it takes that of the person's [System]. What cannot be
// told apart, such as 1,480, is read by the person's own decimal mark. A text
// that may still become right as typing goes on is told apart from a wrong one
// ([Error.Half]), so that a page does not complain about `58 1/`.
//
// # Printing
//
// Digits are honest: each [Kind] has as many as it can be known to, the same on
// every screen, and never an exponent. Lengths in inches are printed to the
// nearest sixteenth. [Figure] prints a number without its unit.
//
// # Source of the factors
//
// They are exact by definition: international inch, foot and pound of 1959; BTU
// of the International Table, ISO 31-4; a standard cubic foot as plain volume, so
// that 1 cfm is one cubic foot a minute at the state named beside it.
//
// # Checks
//
// Every printed value reads back as itself to its last digit, in each system;
// the reader is fuzzed and never panics.
package units

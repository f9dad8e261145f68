// Package design is the heater as one document: what a person decided, what
// was derived for them, and which of the two each value is.
//
// # The document
//
// [Heater] (document.go) holds plain SI numbers with the unit in the JSON key
// (`width_m`, `close_c`, `fan_free_air_m3_s`), so that scripts and the
// computation read it as it stands. The absorber is a tagged union: its family
// names the one member that is there. Materials, ducts and fans are ids of
// package catalog. One box is one document; a row of boxes is one too.
//
// # Whose a value is
//
// Beside the values, Entries maps a field's path to what was typed and whose it
// is. A value without an entry is ours: [Refresh] derives it again whenever
// what it follows from changes. A person's value, typed or measured, is never
// touched, except where another decision leaves it without a meaning.
//
// # Fields
//
// A field is declared once, as a Go value: [AirDiameter] with its path, label,
// help, kind, range, choices, default, condition, the group under which it is
// edited and the results that depend on it (fields_*.go; field.go says how).
// Lookup, copying, emptying, validation, upgrades, pages, the command line and
// sweeps follow from the declaration: Set(AirDiameter, 0.125) is a change, and a
// misspelled field does not compile. [Fields] lists them in an order in which a
// default follows only from fields above it, section by section (fields.go).
// Tables, such as a horizon or a fan curve, are written a line a row (rows.go).
//
// # What depends on what
//
// [Heater.Key] is a heater reduced to what some results depend on: a heater under
// another name, or built in a colder workshop, has the same year.
//
// # Editing and checking
//
// [Apply] is the only way to change a heater. It reads what was typed in the
// person's units, checks the value, derives what follows, and validates the
// whole; on any error the heater stays as it was. [Validate] returns each
// [Problem] with its path, what is wrong and what would be right (validate.go).
//
// # Reading and writing
//
// [Encode] writes the one canonical form, so that equal heaters are equal bytes
// and a hash of them names a heater. [Decode] reads any schema from the first
// on (upgrade.go), refuses fields that it does not know, and validates. Kept
// files of every schema are read in a test.
//
// # Geometry
//
// What follows from the sizes, such as the aperture, the depth of the cavity or
// the outer size, is in geometry.go, and no other package derives it again.
// Lengths are in m, areas in m2, angles in degrees.
package design

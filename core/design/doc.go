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
// [Fields] is the one table of what can be decided: path, label, kind, range,
// choices, default, condition and help of every field (fields.go). Editing,
// validation, forms, the command line and sweeps all read it. Order matters: a
// default may follow only from fields above it. Tables, such as a horizon or a
// fan curve, are written a line a row (rows.go).
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

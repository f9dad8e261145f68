// Package climate is the weather of a year: read from open formats, or made from
// a table of months or from a few facts about the place.
//
// # Files
//
// [Read] takes EPW and TMY3. An hour's radiation is the mean over the hour that
// ends at its stamp; its temperatures, wind and pressure are those of the stamp.
// The clock is the file's standard time, without summer time. What a file marks
// as missing is NaN here, and is filled only where it is used: sun by Erbs's
// split, sky by dew point and cloud.
//
// # Years that are made
//
// [Generate] makes hours from monthly means of temperature, sunshine and wind:
// daily clearness by Bendt, Collares-Pereira and Rabl's distribution, hours by
// autocorrelated deviates, temperature by a daily course that follows the sun.
// The seed is fixed, so that a heater has one year and a change of it is seen
// in the same weather. [Build] takes the document's table, or its facts, or
// what the stations around the place say (package normals).
//
// # At a glass
//
// [Year.Series] lays a year out for one heater: by quarters of an hour the sun on
// its glass past eave and horizon, air, sky, wind and snow.
//
// # Uncertainty
//
// [EstimateDoubt] says by how much the facts may be off, and [Moved] builds the
// year with them moved, so that a year's range counts what is not known of its
// weather.
//
// # Units
//
// C, W/m2, Pa, m/s, shares; hours of standard time at the site.
package climate

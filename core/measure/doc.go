// Package measure turns a logger's readings into heat, and says how sure that is
// and which reading to doubt.
//
// # Heat
//
// While the fan runs, by trapezoid over the readings,
//
//	Q = sum of m cp (To - Ti) dt
//
// with the mass flow m given, computed, or from a logged speed on the duct's
// axis (0.82 of it is the mean). Whether the fan runs is told by the speed, by
// the thermostat's two points, or by a rise over 2 K. Gaps longer than three
// intervals are left out and stated; nothing is filled in.
//
// # Uncertainty
//
// By the Guide to the Expression of Uncertainty in Measurement (JCGM 100:2008,
// equation 16): flow, and two probes whose errors are correlated as those of one
// logger. Nothing of it averages out over days, since an offset
// stays what it is. [Combine] is the general sum with correlations.
//
// # Doubts
//
// A day with more heat than the sun can have given is refused, not shown with a
// remark. Other doubts name the one reading to look at first: Fahrenheit taken
// for Celsius, probes swapped, a probe stuck or past its end, a clock that is
// off (doubts.go). Each has a spoiled afternoon in the tests.
//
// # Prediction
//
// [Compare] runs the heater through the same readings and sets what it should
// have given beside what was measured, each with its range.
//
// # Units
//
// Temperatures C, speeds m/s, flows kg/s, energies kWh, standard uncertainties
// in the unit of what they belong to, ranges at 95 %.
package measure

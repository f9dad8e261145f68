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
// # Tests
//
// A [Trial] is a guided test with cheap instruments: what to have ready, where each probe
// hangs, when the sun allows it ([Windows]), what spoils it, and what its instruments are
// known to get wrong. [Trial.Judge] works it out from the readings so far. Each result is a
// function of named inputs whose standard uncertainties go through [Propagate], so that every
// range comes with its budget: the list of what each input alone does to it, which says what
// instrument is worth improving.
//
//	bag       V / t
//	heater    P / (cp (T_on - T_off))
//	orifice   0.61 A sqrt(2 dp / rho)
//	traverse  A times the mean of the points of [LogLinear]
//	leak      C = Q / dp^0.65, shared out over all seams
//	quick     m cp (To - Ti), beside the same box under the same sun
//	steady    the same over the sun on the glass; from it how much sun the box takes in
//	coheat    P / (Ti - Te)
//
// The standard uncertainties of these methods are the product's own judgment: a bag 5 to 7 %,
// an electric heater 3 %, one speed in the middle 9 %, an orifice 5 %, a small panel as sun
// meter 5 %, a leak 12 %, a night of heating 10 %.
//
// What a test measures is written into the heater with its uncertainty as measured
// ([design.Entry]); the prediction then takes it, and its own range shrinks to that of the
// measurement. A measured airflow is written as the strength of the fan and not as a flow, so
// that it still falls with a longer duct and rises with a wider one.
//
// Measured and predicted are said to differ only beyond both ranges together. What may explain
// it is ranked by the prediction's own budget, and each explanation names the test that would
// show it.
//
// # Prediction
//
// [Compare] runs the heater through the same readings and sets what it should
// have given beside what was measured, each with its range.
//
// # Correlation and repeats
//
// Probes on one logger err alike by half (r = 0.5), so that the uncertainty of their
// difference is that of one of them. Probes that were held together in the dark have their
// offsets taken off ([Mending]) and keep what their last digit hides.
//
// Repeated readings have the scatter of their mean, with Student's factor for few of them:
// three readings are worth far less than their scatter seems to say. Readings that still drift
// in one direction are not repeats of anything, and are told ([Settled]).
//
// # Steady state
//
// ISO 9806:2017 and ASHRAE 93 let the sun wander by 50 and 32 W/m2 and temperatures by 1 K or
// less while an efficiency is read. At home twice as much is allowed, and labeled so
// ([Steady]).
//
// # Calibration
//
// [Calibrate] fits airflow, leakage, bypass and the absorbed sun to a log. The readings are cut
// into windows of 15 min of steady running; for each the heater's own network predicts the
// outlet. With x the unknowns in units of their own, J the slopes of the outlet, W the weights
// of the windows and P the precision of what was known before,
//
//	(J'WJ + P) dx = J'W (measured - predicted) - P x
//
// is solved three times. What else is uncertain about the box (wind, sky, emittance, foam, the
// probes, the sun) moves along with its own standard uncertainty and is not shown, so that the
// intervals do not pretend that it is known. They are those of the posterior, (J'WJ + P)^-1,
// widened where the residuals are larger than they should be. Source: Gelman et al., Bayesian
// Data Analysis, for the normal linear model; the numbers are the product's own judgment.
//
// Airflow and absorbed sun stay correlated by 0.7 to 0.9 in the logs of our own simulations:
// that is why a bag is what a log is asked for next.
//
// # Units
//
// Temperatures C, speeds m/s, flows kg/s, energies kWh, standard uncertainties
// in the unit of what they belong to, ranges at 95 %.
package measure

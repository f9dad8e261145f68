// Package season runs a heater through a year in the space that it warms.
//
// # Method
//
// A year goes by quarters of an hour, and within them by minutes where the
// thermostat may turn. Sun and optics are computed in each lit quarter. The
// box's balance is read off surfaces fitted to its full network (package
// collector) in some fifty conditions of that very year, spread as far as can
// be and checked on others; what box and sensor store goes by lumps fitted to
// the network's own start and stop. The space (package space) stands twice in
// the same weather, with the box and without.
//
// # Useful heat
//
// In each quarter, with q the heat that a heater must give to hold what is
// wanted, W,
//
//	useful = q without the box - q with it
//
// or, in a space without a heater, what the box makes up of what is short.
// Heat that is let out of windows because of the box is not useful, and what
// falls through the standing box by night is taken off. [Month.Net] is useful
// heat less the electricity of fan and mover.
//
// # Two ways through a year
//
// [RunIn] goes by the fitted surfaces; [Full] steps the whole network by minutes
// and exists to check the other. Both share one loop over the same two spaces,
// so that a difference between them is that of the box alone.
//
// # What else a year tells
//
// [EstimateBands] moves each uncertain input through the whole year; [Sweep]
// compares values of one field; [SetPoints] finds the best set point of each
// month; [Worth] turns energy into money, payback and carbon; [SimulateOutage]
// runs a clear winter day in a space whose heater is off.
//
// # Units and limits
//
// Energies are kWh in results and J inside; temperatures C; times of day are
// standard time. The fast year holds to 1 % of the full one, except for fans
// that start several thousand times a year (up to 2.6 %) and for boxes under
// snow, see METHODS, section 12.
package season

// Package collector is the solar air heater as a heat balance.
//
// [Describe] turns a heater's document into a [Description]: the glazing and
// what it lets through, the layers behind it, the passages that the air takes,
// the resistance of box and ducts, the fan, the leaks and what lies around the
// box. [Description.Rate] puts that into a [network.Network] at given sun,
// weather and air, and finds flow, temperatures and heat together.
//
// # Families
//
// Every way of making the absorber is a list of layers and passages handed to
// one solver; none has a solver of its own. A file each: plates (plate.go),
// cans and downpipes (tubes.go), slanted screens (screens.go), a ribbed hose
// (coil.go), a panel behind a window (panel.go), a body of the builder's own
// (own.go). What they share is in families.go, a passage's heat transfer in
// channels.go, boxes in series or side by side in passages.go and row.go.
//
// # Energy
//
// The sun on the aperture, W, is split into what is reflected, lost by the
// front, back and edges, lost by leaks, given to the room through the pane (a
// panel behind a window), and given to the air; the parts sum to the sun. Of
// the heat to the air the room gets [Result.Warms]: without what ducts outdoors
// lose, without what it takes to warm the outdoor air that replaces leaked air,
// and, for a box that draws from outdoors, without what brings that air to the
// room's temperature.
//
// # Flow
//
// With a fan the flow is where its curve meets the losses of box, ducts and
// fittings at the temperatures of the balance, with the lift of the warm air
// and the pressure that speeds it up counted in. Without one it is the highest
// flow at which lift and losses agree. No flow is the stagnation state, from
// which the limit temperatures of materials follow.
//
// # Uncertainty
//
// Bands are one run for each uncertain input, moved by one standard
// uncertainty, summed in quadrature (GUM, JCGM 100:2008, section 5.1.2), and
// doubled for a 95 % range; Monte Carlo runs check them.
//
// # Units
//
// SI throughout; temperatures in C, angles in degrees, flow as the mass flow
// that leaves the box in kg/s. Coefficients are per m2 of aperture: the opening
// between the insulation that lines the frame.
package collector

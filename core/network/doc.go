// Package network solves the heat balance of layers and air.
//
// A network is a stack of solid layers (sheets, screens, boards) and of air
// nodes between them, repeated in segments along the way of the air. It knows
// no heater: whoever describes one says which layers exchange heat with which,
// which are swept by what air, where each air node takes its air from, and how
// much sun each layer absorbs. The packages around it do that; everything here
// holds for any such stack.
//
// # Equations
//
// For layer a of a segment of area dA, m2,
//
//	S_a dA + sum_b G_ab (T_b - T_a) dA + sum_j h_aj (Tm_j - T_a) dA = C_a dA dT_a/dt
//
// with S the absorbed sun in W/m2, G the conductance to another layer or to an
// outside temperature in W/m2K, h the film coefficient times surface per m2 of
// aperture, and Tm the mean temperature of air node j. A steady solution has no
// right-hand side.
//
// Air of mass flow m, kg/s, that enters a node at T_in and sweeps layers with
// hs = sum h dA in all, W/K, warms exponentially towards their mean Tw:
//
//	T_out = x T_in + (1 - x) Tw,   x = exp(-hs / (m cp))
//	Tm    = y T_in + (1 - y) Tw,   y = (1 - x) m cp / hs
//
// which is exact for layers of one temperature in the segment, so that few
// segments do. T_in is the mix of what feeds the node: the inlet, outdoor air,
// or other nodes in the same segment or in one beside it. Streams may run
// either way, so counterflow and double passes are no special case.
//
// # Solution
//
// All temperatures are found together. Coefficients are taken from the last
// iterate and held while their temperatures stay within 0.2 mK of those they
// were found at; what remains is linear, and block-tridiagonal over the
// segments, since a feed reaches no further than the segment beside it. It is
// eliminated block by block with row pivoting. Rounds repeat until no unknown
// moves by more than what is asked for, a ten-millionth of a kelvin for a final
// answer; a move that swings back after twelve rounds is halved. [ErrNoBalance]
// is returned where 200 rounds do not settle it.
//
// Steps in time ([Network.Advance]) are implicit Euler with the coefficients of
// the state before: stable at any step, first order in its length.
//
// # Checks
//
// The theory of the flat-plate collector (Duffie and Beckman, Solar Engineering
// of Thermal Processes, section 6.14) and a counterflow pass solved by a matrix
// exponential, both within 0.5 %; the energy of 500 random networks within
// 1e-5; dense LU elimination; steps in time against the steady state. Two whole
// heaters are set against SciPy in package collector.
package network

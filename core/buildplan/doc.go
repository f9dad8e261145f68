// Package buildplan turns a laid-out heater into the steps by which it is built, and says
// where care pays.
//
// # Steps
//
// [Build] returns the steps for one heater in an order in which none needs what a later
// one makes: each takes parts of the layout by their letters, and each part is taken by
// one step alone. A step says what to have ready, how long it takes, how many hands it
// wants, what must dry afterwards, what weather it needs, and what can hurt. What a step
// takes is decided by the names of the parts, in one table, so that a new part must be
// given its step or a test fails.
//
// # Gates
//
// A [Gate] stands at the end of a step before the one that hides what it checks: the holes
// before the boards are covered, the diagonals before the back is screwed on, the columns
// before the second header, the seams before the glazing. Some are a look that one signs
// for; others are measurements that are entered and judged against the layout ([Gate.Judge]).
//
// # Drying
//
// Solvent paints, glues and sealants harden by different laws ([Cure.Hours]). Solvent leaves
// and resins react faster the warmer it is, by a factor of two for each 10 K (the rule of
// thumb of chemistry after van 't Hoff), and damp air holds them up. Water evaporates by
// what the air still takes up. Silicone takes the water that it needs from the air and
// hardens from the skin inwards, so that the time grows with the square of the depth and
// falls with the vapor pressure: in dry winter air it takes longest. Reference times are
// those of typical data sheets at 20 to 23 C and half humidity, recalled from memory.
//
// # Workmanship
//
// [Faults] lists what is commonly done badly, each as a change of the heater; package
// season runs it through the year against the same year without it ([season.Effects]), so
// that the list is ranked by kWh and not by habit. A value that was measured on the built
// box replaces the estimate and moves the prediction.
//
// # Evenings
//
// [Plan] lays steps into the evenings that a builder has, the earliest first: a step waits
// for what it needs and for what must dry, for a helper and for the weather; [Evening] is
// the part that fits one of them.
package buildplan

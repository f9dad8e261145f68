// Package advice judges a heater: what will go wrong, what it wastes, and what
// a change would gain.
//
// # Findings
//
// [Evaluate] takes an evaluated box (package collector) and returns its
// findings at the clear winter noon, worst first. [EvaluateYear] does so for a
// heater whose year is known (package season) and drops what does not hold
// there. Each [Finding] has a consequence with figures, evidence, a remedy and,
// where the remedy changes the heat, its gain in W or in kWh a year. A gain is
// never a text: it is the difference of two runs, one with the remedy applied.
//
// # What a remedy must hold
//
// A remedy offered for one touch is applied to a copy of the heater, and the
// whole box is judged again: running, with the fan off, and on the hottest noon
// of its own year. It is offered only if it brings no danger and no fault that
// the box did not have before, if it takes away the one that it is meant for,
// and if it gives the room no less heat than now. Where it needs a change of
// another part as well, both are offered together. Through the year a remedy
// must gain more than the uncertainty of the difference, and cost no money.
//
// # Topics
//
// A file each: temperature.go (materials that get too hot), materials.go (what
// does not go together), absorber.go (how evenly and how freely the air meets
// the absorber), air.go (fan, ducts, ports), switching.go (thermostat), power.go
// (panel, battery, wire), losses.go (back, edges, seams, ducts, dew), night.go
// (back-flow), site.go (shade and bearing), row.go (several boxes), guard.go
// (vents, shutters and covers against too much heat), year.go (what only a year
// shows). [Cautions] lists what can hurt someone at the work of a topic.
//
// # Debates and claims
//
// [Choices] puts the questions on which builders disagree to this very heater
// and gives each side its figures; [Beliefs] does so for common claims, and says
// plainly where the computation does not model what is claimed.
//
// # Limits of judgment
//
// Service temperatures come with an uncertainty (package catalog), and so do the
// temperatures of the balance; a danger is told where the upper one-sided 95 %
// bound of the one passes the lower bound of the other. Thresholds from which a
// loss is worth a sentence are common practice and have no source; each is a
// named constant or stands in the judge that uses it.
//
// The package knows no page: findings and cautions carry a [Topic], and whoever
// shows them picks the topics. Sentences hold quantities, not printed numbers
// ([Text]), so that each reader gets the units of their own choice.
//
// # Checks
//
// Every remedy of 300 heaters made by chance is applied and judged again, at the
// noon and through the year; each finding has a box on which it fires and one on
// which it stays silent; the figures in a verdict's sentence are those that the
// verdict rests on.
package advice

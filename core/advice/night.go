package advice

import (
	"gladember/core/collector"
	"gladember/core/design"
	"gladember/core/solar"
	"gladember/core/units"
)

// Night is the winter night that back-flow is judged by: as cold as 8 K under
// the noon, no wind to speak of. Common practice, no source.
// The sky is clear, by Swinbank's formula for the ambient air; the inlet is the
// room's own air. A colder night draws more, a windy one less at the glass but
// more through seams, so this stands for a winter's usual clear night.
func Night(e *collector.Evaluation) collector.Conditions {
	c := e.Running.Conditions
	c.Sun, c.Ambient, c.Wind, c.Flow = solar.OnPlane{}, c.Ambient-8, 1, 0
	c.Sky = solar.Swinbank(c.Ambient)
	c.Inlet = e.Heater.Room.Air
	return c
}

// nightLoss is what falls through a box by night, W, with its flap as a heater
// has it.
// It returns the result too, for the flow and the outlet temperature that are
// its evidence.
func nightLoss(h *design.Heater, c collector.Conditions) (float64, collector.Result, error) {
	d, err := collector.Describe(h)
	if err != nil {
		return 0, collector.Result{}, err
	}
	r, err := d.BackFlow(c, h.Air.Flap != "none")
	return d.NightLoss(&r), r, err
}

// backFlow: without a flap the cold box draws the room's warmth by night.
// The heat of the night is compared with the damper open and shut; below 3 W
// nothing is said. Its gain is had at night, so it is never added to those of
// the noon.
func backFlow(e *assessment) []Finding {
	h := &e.Heater
	if h.Indoors() || h.Air.Flap != "none" {
		return nil
	}
	c := Night(e.Evaluation)
	open, r, err := nightLoss(h, c)
	if err != nil || open < 3 {
		return nil
	}
	flap := design.Set(design.AirFlap, "membrane")
	shut, err := design.Apply(*h, units.System{}, flap)
	if err != nil {
		return nil
	}
	left, _, err := nightLoss(&shut, c)
	if err != nil {
		return nil
	}
	title := "The box cools the room at night"
	evidence := say("At %v outdoors, %v of room air sinks through the box and comes back at %v.", q(units.Temperature, c.Ambient),
		q(units.Flow, r.Volume), q(units.Temperature, r.Outlet))
	if h.Fanned() {
		evidence = say("At %v outdoors with the fan off, %v of room air sinks through fan and box and comes back at %v.",
			q(units.Temperature, c.Ambient), q(units.Flow, r.Volume), q(units.Temperature, r.Outlet))
	}
	if h.Air.Source == "outdoors" {
		evidence = say("At %v outdoors, %v of room air leaves through the box, and as much outdoor air comes in for it.",
			q(units.Temperature, c.Ambient), q(units.Flow, r.Volume))
	}
	return []Finding{{ID: "back-flow", Severity: Loss, Topic: Construction, Title: title,
		Finding:  say("Without a backdraft damper the box takes %v out of the room on a clear winter night.", q(units.Power, open)),
		Evidence: evidence, Remedy: say("Fit a light backdraft damper: the loss is then %v.", q(units.Power, left)),
		Patch: []design.Change{flap}, Gain: open - left, HasGain: true, When: "by night"}}
}

// BackFlows is what a clear night draws out of the room through the standing
// box, W, as it is and with its flap the other way.
// The station of the air shows both beside the damper's choice.
func BackFlows(e *collector.Evaluation) (open, shut float64, err error) {
	d, err := collector.Describe(&e.Heater)
	if err != nil || d.Indoors {
		return 0, 0, err
	}
	c := Night(e)
	a, err := d.BackFlow(c, false)
	if err != nil {
		return 0, 0, err
	}
	b, err := d.BackFlow(c, true)
	return d.NightLoss(&a), d.NightLoss(&b), err
}

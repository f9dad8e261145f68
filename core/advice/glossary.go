package advice

import (
	"strings"

	"gladember/core/design"
)

// Word is a term of the trade in plain words.
type Word struct {
	// Name is the word that the program uses everywhere.
	Name string
	// Engineer lists other names that engineers use for it.
	Engineer string
	// Plain explains the word in a sentence or two.
	Plain string
	// Explains are the paths of the fields and the keys of the figures that the
	// word explains, so that each links to its entry.
	Explains []string
}

// ID is the word as an element's id: backdraft-damper.
func (w Word) ID() string {
	return strings.Map(func(r rune) rune {
		switch {
		case r >= 'a' && r <= 'z' || r >= '0' && r <= '9':
			return r
		case r == ' ' || r == '-':
			return '-'
		}
		return -1
	}, strings.ToLower(w.Name))
}

// Explained returns the word that explains a field's path or a figure's key; ok
// is false where none does.
func Explained(key string) (w Word, ok bool) {
	for _, w := range Glossary {
		for _, x := range w.Explains {
			if x == key {
				return w, true
			}
		}
	}
	return w, false
}

// Glossary explains the terms that the workshop uses, in the order of the
// alphabet.
// A test asks that the alphabet is kept, that no word stands twice, and that
// every path and key exists.
var Glossary = []Word{
	{"95 % range", "expanded uncertainty, k = 2", "The true value lies in this range in 19 of 20 cases, given everything that is not " +
		"known for certain.", nil},
	{"absorber", "absorber plate", "The dark part in the box that the sun heats and the air cools: screens, cans, pipes or a plate.",
		[]string{design.AbsorberFamily.Path}},
	{"airflow", "volume flow", "The volume of air that the box moves in an hour, as room air.", []string{"flow", design.LogFlowIs.Path}},
	{"aperture", "aperture area", "The clear opening through which the sun enters: the glazing less what rests on the frame.",
		[]string{design.PaneRest.Path}},
	{"back pass", "", "Air runs behind the plate, which stands between it and the cold glazing.", nil},
	{"backdraft damper", "", "A light flap that lets warm air out and closes when the box is cold, so that the box does not cool the " +
		"room by night.", []string{design.AirFlap.Path}},
	{"bypass air", "", "Air that goes around the screens or cans instead of through them, and comes out cooler.",
		[]string{design.ScreensBypass.Path}},
	{"clear winter noon", "design condition", "The bright winter noon of your place for which boxes are compared.",
		[]string{"heat", design.PlaceOutdoor.Path}},
	{"comfort hours", "", "Hours of use in which the space is as warm as you want it without any heater.", nil},
	{"differential controller", "", "A thermostat that starts the fan when the box is warmer than the room by a set difference.",
		[]string{design.SwitchOnAbove.Path}},
	{"double pass", "", "Air runs down behind the absorber first and then up along it, and picks up heat that the back would lose.", nil},
	{"eave", "overhang", "The part of a roof that projects over the glazing and shades it in summer.",
		[]string{design.ShadeEaveDepth.Path}},
	{"efficiency", "thermal efficiency", "The share of the sun on the glazing that reaches the room as heat.",
		[]string{"efficiency", "eff"}},
	{"evenness", "flow distribution", "How evenly tubes, screens or boxes share the air. A tube with little air is a hot tube.",
		[]string{design.ArrayBalance.Path}},
	{"fin efficiency", "", "How well thin metal conducts the sun's heat sideways to where the air touches it: 1 is all of it.", nil},
	{"haze", "Linke turbidity", "How much a cloudless sky dims the sun: 2 in mountain air, 5 in haze.", []string{design.PlaceHaze.Path}},
	{"header", "manifold, plenum", "The chamber at either end from which air goes into all tubes or boxes, and in which it is collected.",
		[]string{design.ArrayHeader.Path, design.CansHeader.Path, design.PipesHeader.Path}},
	{"heating need", "heat demand", "The heat that a space takes to be as warm as you want it.", []string{"loss"}},
	{"hysteresis", "", "The distance between the temperatures at which a thermostat starts and stops the fan.",
		[]string{design.SwitchOpen.Path}},
	{"low-e coating", "low-emissivity coating", "A coating that reflects heat. On a salvaged pane it may keep the sun out too, so test " +
		"it.", nil},
	{"natural draft", "natural circulation, stack effect", "Warm air rises by itself. It moves far less air than a fan.",
		[]string{design.AirDrive.Path}},
	{"operating point", "", "The airflow at which the fan's pressure equals the pressure drop of ducts and box.", nil},
	{"payback", "simple payback", "Years until the savings equal the money spent.", []string{"simple"}},
	{"pressure drop", "", "The pressure that air loses in ducts, fittings and box, and that the fan must supply.", nil},
	{"rated flow", "free delivery, free air", "What a fan moves with nothing connected. In a duct it moves less.",
		[]string{design.AirFanFreeAir.Path}},
	{"run-on", "", "Minutes that the fan continues after its thermostat has switched off, to bring in the heat that the box still holds.",
		[]string{design.SwitchRunOn.Path}},
	{"set point", "", "The temperature at which a thermostat starts the fan.", []string{design.SwitchClose.Path}},
	{"setback", "setback temperature", "The lower temperature outside the hours of use.", []string{design.RoomSetback.Path}},
	{"short cycling", "", "The fan starts, cools its own sensor and stops, again and again.", nil},
	{"shut-off pressure", "static pressure at no flow", "The pressure of a fan with its outlet closed.",
		[]string{design.AirFanShutOff.Path}},
	{"sky temperature", "", "How cold a clear sky is for the glazing that faces it: far colder than the air.", nil},
	{"snap disc", "bimetal thermostat", "A small switch of two metals that snaps over at its temperature and back at a lower one.",
		[]string{design.SwitchKind.Path}},
	{"solar fraction", "", "The share of the heating need that the box covers.", []string{"fraction"}},
	{"stagnation", "stagnation temperature", "How hot the box gets in full sun with the fan off: what insulation, tape and paint must " +
		"withstand.", []string{"stagnation"}},
	{"sun on the glass", "plane-of-array irradiance", "The watts that fall on each square meter of your glazing, past eave and horizon.",
		nil},
	{"thermal mass", "heat capacity", "How much heat walls and furniture store. A heavy room keeps a noon's heat into the evening.",
		[]string{design.RoomMass.Path}},
	{"tilt", "slope", "The angle of the glazing: 0 is flat, 90 is upright.", []string{design.PlaceTilt.Path}},
	{"useful heat", "", "Heat from the box that replaces other heating or makes a cold space warm. Heat that the windows let out is " +
		"not counted.", []string{"useful"}},
	{"working", "", "How a figure was computed: its formula, its inputs, where they come from, and how certain it is.", nil},
}

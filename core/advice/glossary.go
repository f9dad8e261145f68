package advice

import "strings"

// Word is a term of the trade in plain words.
type Word struct {
	Name     string // as builders say it
	Engineer string // as engineers do, where that differs
	Plain    string
}

// Glossary explains the words that the workshop uses, in the order of the alphabet.
var Glossary = []Word{
	{"absorber", "absorber plate", "The dark part in the box that the sun heats and the air cools: screens, cans, pipes, a plate."},
	{"aperture", "aperture area", "The clear opening that the sun comes in by: the pane less what lies on the frame."},
	{"back pass", "", "Air runs behind the plate, which stands between it and the cold glass."},
	{"backdraft flap", "backdraft damper", "A light flap that lets warm air out and shuts when the box is cold, so that it does not cool the room by night."},
	{"band", "expanded uncertainty, k = 2", "Where the true figure lies 19 times in 20, with what is not known for sure."},
	{"bypass", "", "Air that slips around the screens or cans instead of through them, and comes out cooler."},
	{"clear noon", "design condition", "The bright winter noon of your place by which boxes are compared."},
	{"closing and opening point", "set point and hysteresis", "The temperatures at which a switch starts the fan and stops it. It must cool by the distance between before it stops."},
	{"comfort hours", "", "Hours of use in which the space is as warm as you want it with no heater burning."},
	{"cycling", "short cycling", "The fan starts, cools its own sensor and stops, again and again."},
	{"double pass", "", "Air runs down behind the absorber first and then up along it, and picks up what the back would lose."},
	{"eave", "overhang", "The part of a roof that stands out over the glass and shades it in summer."},
	{"evenness", "flow maldistribution", "How alike the air shares itself between tubes or over screens. One starved tube is a hot tube."},
	{"fin efficiency", "", "How well thin metal carries the sun's heat sideways to where the air touches it: 1 is all of it."},
	{"fraction", "solar fraction", "How much of the heat that the space needs comes from the box."},
	{"free air", "free delivery", "What a fan moves with nothing in its way. In a duct it never does."},
	{"gap", "", "Still air between glass and absorber. Too thin and it conducts, too wide and it turns over."},
	{"header", "manifold, plenum", "The chamber at either end from which air goes into all tubes and gathers again."},
	{"lean", "tilt, slope", "How far the glass leans back: 0 lies flat, 90 stands upright."},
	{"low-e", "low-emissivity coating", "A coating that throws heat back. On a salvaged pane it may keep the sun out too: test it."},
	{"need", "heat demand", "The heat that a space takes to be as warm as you want it."},
	{"operating point", "", "Where the pressure that the fan gives and the pressure that the way takes are the same. There is the flow."},
	{"payback", "simple payback", "Years until what was saved is what was spent."},
	{"run-on", "", "Minutes that the fan goes on after the switch has opened, to bring in what the box still holds."},
	{"shut-off pressure", "static pressure at no flow", "What a fan presses with its outlet corked."},
	{"sky", "sky temperature", "How cold a clear sky is to a pane that looks at it: far colder than the air."},
	{"snap disc", "bimetal thermostat", "A small switch of two metals that snaps over at its temperature and back at a lower one."},
	{"stagnation", "stagnation temperature", "How hot the box gets in full sun with no air moving: what foam, tape and paint must bear."},
	{"sun on the glass", "plane-of-array irradiance", "The watts that fall on each square metre of your pane, past eave and horizon."},
	{"taken up", "transmittance-absorptance product", "The share of the sun that comes through the glass and stays in the absorber."},
	{"useful heat", "", "Heat from the box that saved a heater's, or made a cold space warm. What windows let out again is not counted."},
	{"working", "", "How a figure came to be: its formula, what was put in, where that is from, and how sure it is."},
}

// ID is the word as an element's id: backdraft-damper.
func (w Word) ID() string { return strings.ReplaceAll(w.Name, " ", "-") }

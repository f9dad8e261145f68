package units

import (
	"fmt"
	"math"
	"regexp"
	"strconv"
	"strings"
	"unicode"

	"golang.org/x/text/language"
	"golang.org/x/text/message"
	"golang.org/x/text/number"
)

// Exact factors, SI per unit.
const (
	MeterPerInch      = 0.0254
	MeterPerFoot      = 12 * MeterPerInch
	WattPerBTUPerHour = 1055.05585262 / 3600
	// CubicMeterPerCFM is m3/s for one cubic foot a minute.
	CubicMeterPerCFM = MeterPerFoot * MeterPerFoot * MeterPerFoot / 60
	// PascalPerInchWG is for water at 4 C and conventional gravity.
	PascalPerInchWG          = 249.08891
	PascalPerMillimeterWater = 9.80665 // a kilogram-force on a square meter
	MeterPerSecondFPM        = MeterPerFoot / 60
	MeterPerSecondMPH        = 1609.344 / 3600
	// PascalPSF is a pound of force on a square foot.
	PascalPSF   = 0.45359237 * 9.80665 / MeterPerFoot / MeterPerFoot
	JoulePerKWh = 3.6e6
)

// Kind is a sort of quantity; each has one SI unit inside the program.
type Kind int

// The kinds and, in brackets, the SI unit in which their values are held.
const (
	// Number is a plain count or ratio.
	Number Kind = iota
	// Share is a fraction, shown as per cent.
	Share
	// Length is the dimension of a part, m.
	Length
	// Distance is a room-sized length, or a height above the sea, m.
	Distance
	// Area is in m2.
	Area
	// Temperature is in C.
	Temperature
	// Rise is a difference of temperatures, K.
	Rise
	// Flow is a volume flow, m3/s.
	Flow
	// Speed is in m/s.
	Speed
	// Power is heat, W.
	Power
	// Energy is heat, kWh.
	Energy
	// Pressure is in Pa.
	Pressure
	// Irradiance is in W/m2.
	Irradiance
	// Angle is in degrees.
	Angle
	// MassFlow is in kg/s.
	MassFlow
	// Bore is the width of a duct, sold by whole inches, m.
	Bore
	// Electric is the power of a fan or a solar panel, in watts in every system, W.
	Electric
	// Metered is electricity as its meter counts it, in every system, kWh.
	Metered
	// Opening is the free area of a vent or a port, m2.
	Opening
	// Mass is in kg.
	Mass
	// Load is what snow or wind puts on a surface, Pa.
	Load
	// Gust is the speed of the wind, m/s.
	Gust
	// Force is what an anchor must hold, N.
	Force
	// Volume is what a bag holds, m3.
	Volume
	// Duration is a time that is taken with a stopwatch, s.
	Duration
	// Loss is the heat that a space loses for each degree, W/K.
	Loss
	// Clock is a time of day, hours after midnight.
	Clock
	// Leakage is the air that seams let through, m3/s.
	Leakage
	// Insolation is the sun of a day, kWh/m2.
	Insolation
	// Sum is a sum of money.
	Sum
	// Wire is the cross section of copper, mm2, or its American gauge.
	Wire
	// Coefficient is the heat that a surface gives off for each degree, W/m2K.
	Coefficient
)

// System is a person's choice of units and of decimal mark. Lengths and
// heat are chosen apart: many builders cut in inches and think in Celsius.
// The zero value is metric with a decimal point.
type System struct {
	// Inches prints lengths in inches and sixteenths; else in mm.
	Inches bool
	// Fahrenheit prints F, cfm and BTU/h; else C, m3/h and W.
	Fahrenheit bool
	// DecimalComma reads 1,480 as nearly one and a half; else as 1480.
	DecimalComma bool
	// Sign is that of the money, such as $; without one sums are bare numbers.
	Sign string
}

// unit is one way of writing a kind of quantity.
type unit struct {
	// names are those that are read; the first is printed.
	names []string
	// factor is the SI value of one unit.
	factor float64
	// offset is the SI value of zero in this unit, after the factor.
	offset float64
}

// table lists the units of a kind; the first is the metric default, the
// second the default when the system asks for inches or Fahrenheit.
var table = map[Kind][]unit{
	Number: {{[]string{""}, 1, 0}},
	Share:  {{[]string{"%", "percent", "per cent"}, 0.01, 0}},
	Length: {{[]string{"mm"}, 0.001, 0}, {[]string{"in", "inch", "inches", `"`, "”", "″"}, MeterPerInch, 0},
		{[]string{"m", "meter", "metre"}, 1, 0}, {[]string{"cm"}, 0.01, 0}, {[]string{"ft", "foot", "feet", "'", "’", "′"}, MeterPerFoot,
			0}},
	Distance: {{[]string{"m", "meter", "metre"}, 1, 0}, {[]string{"ft", "foot", "feet", "'", "’", "′"}, MeterPerFoot, 0},
		{[]string{"km"}, 1000, 0}, {[]string{"cm"}, 0.01, 0}, {[]string{"mm"}, 0.001, 0}, {[]string{"in", `"`}, MeterPerInch, 0}},
	Area: {{[]string{"m²", "m2", "sqm", "sq m"}, 1, 0}, {[]string{"sq ft", "sqft", "ft2", "ft²"}, MeterPerFoot * MeterPerFoot, 0}},
	Temperature: {{[]string{"°C", "C", "degC", "deg C"}, 1, 0},
		{[]string{"°F", "F", "degF", "deg F"}, 5.0 / 9, -160.0 / 9}},
	Rise: {{[]string{"K", "°C", "C"}, 1, 0}, {[]string{"°F", "F"}, 5.0 / 9, 0}},
	Flow: {{[]string{"m³/h", "m3/h"}, 1.0 / 3600, 0}, {[]string{"cfm"}, CubicMeterPerCFM, 0}, {[]string{"L/s", "l/s"}, 0.001, 0},
		{[]string{"m³/s", "m3/s"}, 1, 0}},
	Speed: {{[]string{"m/s"}, 1, 0}, {[]string{"ft/min", "fpm"}, MeterPerSecondFPM, 0}, {[]string{"km/h"}, 1 / 3.6, 0},
		{[]string{"mph"}, MeterPerSecondMPH, 0}},
	Power: {{[]string{"W", "watt", "watts"}, 1, 0}, {[]string{"BTU/h", "btuh", "btu"}, WattPerBTUPerHour, 0},
		{[]string{"kW"}, 1000, 0}},
	Energy: {{[]string{"kWh"}, 1, 0}, {[]string{"kBTU"}, 1000 * 1055.05585262 / JoulePerKWh, 0},
		{[]string{"BTU"}, 1055.05585262 / JoulePerKWh, 0}, {[]string{"Wh"}, 0.001, 0}},
	Pressure: {{[]string{"Pa"}, 1, 0}, {[]string{"in w.g.", "in wg", "inwg", "in wc", "in H2O", "inH2O", "in of water"},
		PascalPerInchWG, 0},
		{[]string{"mm H2O", "mmH2O", "mm H₂O", "mm w.g.", "mm wg", "mm of water", "mm water"}, PascalPerMillimeterWater, 0},
		{[]string{"hPa", "mbar"}, 100, 0}, {[]string{"kPa"}, 1000, 0}},
	Irradiance: {{[]string{"W/m²", "W/m2"}, 1, 0}, {[]string{"BTU/h·sq ft", "BTU/h sq ft", "BTU/h ft2", "BTU/hft2"},
		WattPerBTUPerHour / MeterPerFoot / MeterPerFoot, 0}},
	Angle: {{[]string{"°", "deg", "degrees"}, 1, 0}},
	Wire:  {{[]string{"mm²", "mm2"}, 1, 0}},
	Sum:   {{[]string{""}, 1, 0}},
	Insolation: {{[]string{"kWh/m²", "kWh/m2"}, 1, 0}, {[]string{"BTU/sq ft"},
		WattPerBTUPerHour / MeterPerFoot / MeterPerFoot / 1000, 0}},
	MassFlow: {{[]string{"kg/s"}, 1, 0}, {[]string{"lb/h"}, 0.45359237 / 3600, 0}, {[]string{"kg/h"}, 1.0 / 3600, 0}},
}

// Kinds that differ from another one only in their digits or their words share
// its table of units.
func init() {
	table[Bore], plainNames[Bore], examples[Bore] = table[Length], "a diameter", "6 in or 150 mm"
	table[Electric], plainNames[Electric], examples[Electric] = table[Power], "an electric power", "15 W"
	table[Opening] = []unit{{[]string{"cm²", "cm2", "sq cm"}, 1e-4, 0}, {[]string{"sq in", "in²", "in2"}, MeterPerInch * MeterPerInch, 0},
		{[]string{"m²", "m2"}, 1, 0}}
	table[Mass], plainNames[Mass], examples[Mass] = []unit{{[]string{"kg"}, 1, 0}, {[]string{"lb", "lbs"}, 0.45359237, 0}}, "a mass",
		"12 kg or 26 lb"
	table[Load], plainNames[Load], examples[Load] = []unit{{[]string{"kN/m²", "kN/m2", "kPa"}, 1000, 0},
		{[]string{"psf", "lb/ft2", "lb/ft²"}, PascalPSF, 0}, {[]string{"Pa", "N/m2"}, 1, 0}},
		"a load", "1.5 kN/m2 or 30 psf"
	table[Force], plainNames[Force], examples[Force] = []unit{{[]string{"kN"}, 1000, 0}, {[]string{"lbf"}, 0.45359237 * 9.80665, 0},
		{[]string{"N"}, 1, 0}}, "a force", "1.2 kN or 270 lbf"
	table[Gust], plainNames[Gust], examples[Gust] = []unit{{[]string{"m/s"}, 1, 0}, {[]string{"mph"}, MeterPerSecondMPH, 0},
		{[]string{"km/h"}, 1 / 3.6, 0}}, "a wind speed", "40 m/s or 90 mph"
	table[Volume], plainNames[Volume], examples[Volume] = []unit{{[]string{"L", "l", "liter", "litre"}, 0.001, 0},
		{[]string{"gal", "gallon", "gallons"}, 231 * MeterPerInch * MeterPerInch * MeterPerInch, 0}, {[]string{"m³", "m3"}, 1, 0},
		{[]string{"cu ft", "ft3"}, MeterPerFoot * MeterPerFoot * MeterPerFoot, 0}}, "a volume", "240 L or 63 gal"
	table[Duration], plainNames[Duration], examples[Duration] = []unit{{[]string{"s", "sec", "seconds"}, 1, 0},
		{[]string{"min", "minutes"}, 60, 0}, {[]string{"h", "hours"}, 3600, 0}}, "a time", "12.4 s or 8 min"
	table[Loss], plainNames[Loss], examples[Loss] = []unit{{[]string{"W/K"}, 1, 0},
		{[]string{"BTU/h·°F", "BTU/h°F", "BTU/hF"}, WattPerBTUPerHour * 9 / 5, 0}}, "a heat loss", "60 W/K"
	table[Coefficient], plainNames[Coefficient], examples[Coefficient] = []unit{{[]string{"W/m²K", "W/m2K"}, 1, 0},
		{[]string{"BTU/h·sq ft·°F", "BTU/h sq ft F"}, WattPerBTUPerHour * 9 / 5 / MeterPerFoot / MeterPerFoot, 0}},
		"a heat transfer coefficient", "12 W/m2K or 2.1 BTU/h sq ft F"
	table[Clock], plainNames[Clock], examples[Clock] = []unit{{[]string{"", "h"}, 1, 0}}, "a time of day", "7:30 or 7:30 pm"
	table[Leakage], plainNames[Leakage], examples[Leakage] = []unit{{[]string{"L/h", "l/h"}, 0.001 / 3600, 0},
		{[]string{"cu ft/h", "ft3/h"}, CubicMeterPerCFM / 60, 0}, {[]string{"m³/h", "m3/h"}, 1.0 / 3600, 0},
		{[]string{"m³/s", "m3/s"}, 1, 0}}, "an air leakage", "43 L/h or 1.5 cu ft/h"
	plainNames[Opening], examples[Opening] = "a vent's area", "150 cm2 or 23 sq in"
	table[Metered], plainNames[Metered], examples[Metered] = table[Energy], "an amount of electricity", "6 kWh"
}

// plainNames says each kind in words for messages.
var plainNames = map[Kind]string{Number: "a number", Share: "a share in %", Length: "a length", Distance: "a distance",
	Area: "an area", Temperature: "a temperature", Rise: "a temperature rise", Flow: "an airflow", Speed: "a speed", Power: "a power",
	Energy: "an amount of heat", Pressure: "a pressure", Irradiance: "an irradiance", Angle: "an angle in degrees", MassFlow: "a mass flow"}

var examples = map[Kind]string{Number: "3", Share: "65 %", Length: `58 1/4 in, 4' 10" or 1480 mm`, Distance: "640 m or 2100 ft",
	Area: "19 m2 or 200 sq ft", Temperature: "43 C or 110 F", Rise: "20 C or 36 F", Flow: "85 m3/h or 50 cfm", Speed: "3 m/s or 590 fpm",
	Power: "5 W or 17 BTU/h", Energy: "4.6 kWh", Pressure: "40 Pa or 0.16 in w.g.", Irradiance: "900 W/m2 or 285 BTU/h sq ft", Angle: "60",
	MassFlow: "0.03 kg/s"}

// preferred is the unit that a person's system shows a kind in.
// It is the unit that a person of this system writes.
func (s System) preferred(k Kind) unit {
	if s.american(k) {
		return table[k][1]
	}
	return table[k][0]
}

// american says whether a kind is in American units: lengths and heat are chosen apart.
func (s System) american(k Kind) bool {
	switch k {
	case Length, Bore, Distance, Area, Opening, Mass, Load, Gust, Force, Volume:
		return s.Inches
	case Temperature, Rise, Flow, Speed, Power, Energy, Loss, Leakage, Irradiance, MassFlow, Insolation, Coefficient, Pressure:
		return s.Fahrenheit
	}
	return false
}

// decimals are those of kinds that have the same at every magnitude, metric and American.
var decimals = map[Kind][2]int{Load: {2, 0}, Force: {2, 0}, Insolation: {1, 0}, MassFlow: {4, 1}}

// Unit names the unit in which the system prints a kind, as in "mm".
// Empty for a plain number.
func (s System) Unit(k Kind) string { return s.preferred(k).names[0] }

// In returns the SI value v in the system's own unit of the kind.
// For scales of charts and for fields that show their unit beside the number.
func (s System) In(k Kind, v float64) float64 {
	u := s.preferred(k)
	return (v - u.offset) / u.factor
}

// An Error says what was typed, what was wanted and what would be right.
type Error struct {
	// Typed is the text, and Kind what it should have been.
	Typed string
	Kind  Kind
	// Half says that the text may still become right as typing goes on.
	Half bool
}

// leastWire is the cross section of 36 AWG, 0.127 mm thick, mm2; 39 gauges on it is 92 times as thick. Source: ASTM B258.
const leastWire = 0.0126677

// gauged is a wire as American stores sell it.
var gauged = regexp.MustCompile(`(?i)^(AWG|#)?\s*(\d{1,2})\s*(AWG|ga|gauge)?\.?$`)

// gauge reads a wire's gauge as its cross section, mm2; a bare number is one where lengths are in inches.
func gauge(typed string, s System) (mm2 float64, ok bool) {
	m := gauged.FindStringSubmatch(typed)
	if m == nil || m[1] == "" && m[3] == "" && !s.Inches {
		return 0, false
	}
	n, err := strconv.Atoi(m[2])
	return leastWire * math.Pow(92, (36-float64(n))/19.5), err == nil && n <= 36
}

// sides takes an area apart that is typed as two lengths: 12 x 20 ft.
func sides(typed string) (width, length string, ok bool) {
	norm := strings.NewReplacer("×", "x", "X", "x", "*", "x", " by ", " x ").Replace(typed)
	width, length, ok = strings.Cut(norm, "x")
	return strings.TrimSpace(width), strings.TrimSpace(length), ok && !strings.Contains(length, "x")
}

// product is the area of two lengths, m2; a unit behind the second holds for a first without one.
func product(width, length, typed string, s System) (float64, error) {
	if length == "" {
		return 0, &Error{typed, Area, true}
	}
	unit := strings.TrimLeft(length, "0123456789.,/ ")
	if width == strings.TrimRight(width, "abcdefghijklmnopqrstuvwxyz'\"′″") {
		width += " " + unit
	}
	w, err := Parse(Distance, width, s)
	if err != nil {
		return 0, &Error{typed, Area, false}
	}
	l, err := Parse(Distance, length, s)
	if err != nil {
		return 0, &Error{typed, Area, strings.HasSuffix(length, "/")}
	}
	return w * l, nil
}

// It says what was entered and gives an example in the person's units.
func (e *Error) Error() string {
	if strings.TrimSpace(e.Typed) == "" {
		return fmt.Sprintf("enter %s, such as %s", plainNames[e.Kind], examples[e.Kind])
	}
	return fmt.Sprintf("%q is not %s: enter it like %s", e.Typed, plainNames[e.Kind], examples[e.Kind])
}

// NamesInches says whether what a person typed is in inches or feet.
// It is how a first entry tells which units a person writes.
func NamesInches(typed string) bool {
	for _, word := range strings.FieldsFunc(strings.ToLower(typed),
		func(r rune) bool { return unicode.IsDigit(r) || strings.ContainsRune(" .,/-x×", r) }) {
		if u, ok := find(Length, word); ok && (u.factor == MeterPerInch || u.factor == MeterPerFoot) {
			return true
		}
	}
	return false
}

// Parse reads a quantity as a person writes it and returns its SI value. A
// number without a unit is in the system's own unit. It accepts mixed
// fractions (58 1/4, 58-1/4, 58¼), feet and inches, a decimal comma, and
// grouped thousands. The error is an [*Error].
// The error is an [*Error].
func Parse(k Kind, typed string, s System) (float64, error) {
	fail := func(half bool) (float64, error) { return 0, &Error{typed, k, half} }
	t := strings.TrimSpace(typed)
	if t == "" || len(t) > 60 {
		return fail(t == "")
	}
	if k == Clock {
		if hours, ok := clock(t); ok {
			return hours, nil
		}
	}
	if k == Wire {
		if mm2, ok := gauge(t, s); ok {
			return mm2, nil
		}
	}
	if w, l, ok := sides(t); ok && k == Area {
		return product(w, l, typed, s)
	}
	sum, terms := 0.0, 0
	sign := 1.0
	if strings.HasPrefix(t, "-") || strings.HasPrefix(t, "−") {
		sign = -1
		t = strings.TrimSpace(strings.TrimPrefix(strings.TrimPrefix(t, "-"), "−"))
	}
	var last unit
	for t != "" {
		v, rest, ok := leadingNumber(t, s)
		if !ok {
			return fail(strings.HasSuffix(strings.TrimSpace(typed), "/"))
		}
		rest = strings.TrimSpace(rest)
		end := strings.IndexFunc(rest, func(r rune) bool { return r >= '0' && r <= '9' })
		// "m2", "m3/h" and the like hold digits of their own.
		name, after := rest, ""
		u, found := find(k, name)
		if !found && end > 0 {
			for e := end; e < len(rest); e++ {
				if cu, ok := find(k, strings.TrimSpace(rest[:e])); ok {
					name, after, u, found = rest[:e], rest[e:], cu, true
					break
				}
			}
		}
		if strings.TrimSpace(name) == "" {
			u, found = s.preferred(k), true
			if terms > 0 { // 4' 10 means ten inches
				if k != Length && k != Bore && k != Distance || last.factor != MeterPerFoot {
					return fail(false)
				}
				u = unit{[]string{"in"}, MeterPerInch, 0}
			}
		}
		if !found {
			return fail(false)
		}
		if terms > 0 && (u.offset != 0 || (k != Length && k != Bore && k != Distance)) {
			return fail(false)
		}
		sum += v*u.factor + u.offset*sign
		last = u
		terms++
		t = strings.TrimSpace(after)
	}
	sum *= sign
	if math.IsNaN(sum) || math.IsInf(sum, 0) {
		return fail(false)
	}
	return sum, nil
}

// clock reads a time of day: 7, 7:30, 7h30, 7 pm, 7:30 pm, noon or midnight.
func clock(typed string) (hours float64, ok bool) {
	t := strings.ToLower(strings.NewReplacer(" ", "", ".m.", "m").Replace(typed))
	switch t {
	case "noon":
		return 12, true
	case "midnight":
		return 0, true
	}
	t, pm := strings.CutSuffix(t, "pm")
	t, am := strings.CutSuffix(t, "am")
	h, m, split := strings.Cut(strings.Replace(t, "h", ":", 1), ":")
	hour, err := strconv.Atoi(h)
	minute := 0
	if err == nil && split && m != "" {
		minute, err = strconv.Atoi(m)
	}
	if err != nil || hour < 0 || hour > 24 || minute < 0 || minute > 59 || hour == 24 && minute > 0 || am && pm ||
		(am || pm) && (hour < 1 || hour > 12) || split && m == "" && !strings.HasSuffix(typed, "h") {
		return 0, false
	}
	if am || pm {
		hour %= 12
	}
	if pm {
		hour += 12
	}
	return float64(hour) + float64(minute)/60, true
}

// find is the unit of a kind by any of its names; upper and lower case are alike.
// Case is of no account.
func find(k Kind, name string) (unit, bool) {
	name = strings.TrimSpace(name)
	for _, u := range table[k] {
		for _, n := range u.names {
			if n != "" && strings.EqualFold(n, name) {
				return u, true
			}
		}
	}
	return unit{}, false
}

var vulgar = map[rune]float64{'½': .5, '¼': .25, '¾': .75, '⅛': .125, '⅜': .375, '⅝': .625, '⅞': .875}

// leadingNumber takes "58 1/4", "58-1/4", "58¼", "1/2", "1,480" or "1.48"
// off the front of t.
// rest is what follows the number, such as a unit.
func leadingNumber(t string, s System) (v float64, rest string, ok bool) {
	i := 0
	for i < len(t) && (t[i] >= '0' && t[i] <= '9' || t[i] == '.' || t[i] == ',') {
		i++
	}
	whole := t[:i]
	rest = t[i:]
	if whole == "" {
		for r, f := range vulgar {
			if strings.HasPrefix(rest, string(r)) {
				return f, rest[len(string(r)):], true
			}
		}
		return 0, t, false
	}
	if strings.HasPrefix(rest, "/") { // a bare fraction
		return fraction(whole, rest[1:], 0)
	}
	v, ok = decimal(whole, s)
	if !ok {
		return 0, t, false
	}
	for r, f := range vulgar {
		if strings.HasPrefix(strings.TrimSpace(rest), string(r)) {
			return v + f, strings.TrimSpace(rest)[len(string(r)):], true
		}
	}
	// "58 1/4" or "58-1/4"
	j := 0
	for j < len(rest) && (rest[j] == ' ' || rest[j] == '-') {
		j++
	}
	if j > 0 {
		k := j
		for k < len(rest) && rest[k] >= '0' && rest[k] <= '9' {
			k++
		}
		if k > j && k < len(rest) && rest[k] == '/' {
			if f, r2, ok := fraction(rest[j:k], rest[k+1:], v); ok {
				return f, r2, true
			}
			return 0, t, false
		}
	}
	return v, rest, true
}

// fraction reads what follows num as a fraction, such as the 2 of 1/2, adds it
// to whole, and returns what is left of the text; ok is false where the lower
// part is zero or above 64.
// whole is the number before it: 58 of `58 1/4`.
func fraction(num, rest string, whole float64) (float64, string, bool) {
	i := 0
	for i < len(rest) && rest[i] >= '0' && rest[i] <= '9' {
		i++
	}
	n, err1 := strconv.Atoi(num)
	d, err2 := strconv.Atoi(rest[:i])
	if err1 != nil || err2 != nil || d == 0 || d > 64 {
		return 0, rest, false
	}
	return whole + float64(n)/float64(d), rest[i:], true
}

// decimal reads digits with either mark. One comma followed by exactly three
// digits is ambiguous: the system decides.
// A lone comma before three digits is a thousands mark, unless s has decimal
// commas or the number begins with a zero; of comma and point together the
// later one is the decimal mark.
func decimal(t string, s System) (float64, bool) {
	commas, dots := strings.Count(t, ","), strings.Count(t, ".")
	switch {
	case commas > 0 && dots > 0:
		if strings.LastIndex(t, ",") > strings.LastIndex(t, ".") {
			t = strings.ReplaceAll(t, ".", "")
			t = strings.Replace(t, ",", ".", 1)
		} else {
			t = strings.ReplaceAll(t, ",", "")
		}
	case commas == 1:
		tail := len(t) - strings.Index(t, ",") - 1
		if tail == 3 && !s.DecimalComma && !strings.HasPrefix(t, "0") {
			t = strings.Replace(t, ",", "", 1)
		} else {
			t = strings.Replace(t, ",", ".", 1)
		}
	case commas > 1:
		t = strings.ReplaceAll(t, ",", "")
	case dots > 1 || dots == 1 && s.DecimalComma && len(t)-strings.Index(t, ".")-1 == 3 && !strings.HasPrefix(t, "0"):
		t = strings.ReplaceAll(t, ".", "")
	}
	v, err := strconv.ParseFloat(t, 64)
	return v, err == nil
}

// Format prints the SI value v with its unit in the person's system, with
// as many digits as such a figure honestly carries.
// Negative zero is printed as zero.
func Format(k Kind, v float64, s System) string {
	if k == Sum {
		return Money(v, 2, s.Sign, s)
	}
	n := Figure(k, v, s)
	u := s.Unit(k)
	switch {
	case k == Number, k == Clock:
		return n
	case k == Angle:
		return n + "°"
	case k == Wire && s.Inches:
		return n + " AWG"
	}
	return n + " " + u
}

// Figure prints the SI value v without its unit, in the person's system.
// It has the same digits as [Format].
func Figure(k Kind, v float64, s System) string {
	if math.IsNaN(v) || math.IsInf(v, 0) {
		return "–"
	}
	if k == Clock {
		minutes := int(math.Round(60 * max(0, min(24, v))))
		return fmt.Sprintf("%d:%02d", minutes/60, minutes%60)
	}
	if k == Wire && s.Inches {
		return strconv.Itoa(int(math.Round(36 - 19.5*math.Log(v/leastWire)/math.Log(92))))
	}
	x := s.In(k, v)
	const most = 1e12 // nobody reads three hundred digits
	if math.Abs(x) >= most {
		return map[bool]string{true: "over ", false: "under -"}[x > 0] + message.NewPrinter(language.English).Sprint(number.Decimal(most))
	}
	if k == Bore && s.Inches {
		// A 150 mm duct is sold as 6 in: print whole inches where they are meant.
		if n := math.Round(x); n > 0 && math.Abs(x-n) < 0.13 {
			return strconv.FormatFloat(n, 'f', 0, 64)
		}
	}
	if k == Length || k == Bore {
		if s.Inches {
			if v != 0 && math.Abs(v) < MeterPerInch/16 { // sheet and film: thinner than a tape shows
				return strconv.FormatFloat(v/MeterPerInch, 'f', 3, 64)
			}
			return Sixteenths(v)
		}
		k = Length
	}
	if k == Power && s.Fahrenheit {
		x = roundBTU(x)
	}
	digits := digitsOf(k, x, s)
	a := math.Abs(x)
	tag := language.English
	if s.DecimalComma {
		tag = language.German
	}
	if x == 0 || a < 0.5*math.Pow(10, -float64(digits)) {
		x, digits = 0, 0 // no minus zero, and no 0.0
	}
	opts := []number.Option{number.MaxFractionDigits(digits)}
	if k != Length && k != Number {
		opts = append(opts, number.MinFractionDigits(digits))
	}
	return message.NewPrinter(tag).Sprint(number.Decimal(x, opts...))
}

// roundBTU rounds a power in BTU/h to what is known of it: tens are 3 W.
func roundBTU(x float64) float64 {
	switch a := math.Abs(x); {
	case a >= 9995:
		return 100 * math.Round(x/100)
	case a >= 99.5:
		return 10 * math.Round(x/10)
	}
	return x
}

// digitsOf is how many decimals a figure x of a kind, in the system's own unit,
// honestly carries.
// The magnitude of x decides within a kind.
func digitsOf(k Kind, x float64, s System) int {
	if d, ok := decimals[k]; ok {
		if s.american(k) {
			return d[1]
		}
		return d[0]
	}
	digits := 0
	a := math.Abs(x)
	switch k {
	case Number:
		digits = 3
		if x == math.Trunc(x) {
			digits = 0
		}
	case Length:
		if math.Abs(x-math.Round(x)) > 0.05 && a < 30 {
			digits = 1
		}
		if a < 1 {
			digits = 2
		}
	case Distance, Gust:
		if a < 20 && math.Abs(x-math.Round(x)) > 0.05 {
			digits = 1
		}
	case Opening:
		if s.Inches && a < 100 {
			digits = 1
		}
	case Area:
		digits = 2
		if s.Inches {
			digits = 1
		}
		if a >= 10 {
			digits = 0
		}
	case Energy, Metered, Speed:
		digits = 1
		if a < 1 {
			digits = 2
		}
		if a >= 100 {
			digits = 0
		}
	case Pressure:
		digits = 0
		if s.Fahrenheit {
			digits = 3
		} else if a < 10 {
			digits = 1
		}
	case Power, Electric:
		if a < 10 {
			digits = 1
		}
	case Leakage:
		switch {
		case a < 1:
			digits = 2
		case a < 10:
			digits = 1
		}
	case Rise:
		if a < 3 {
			digits = 1
		}
	case Duration, Loss, Volume, Coefficient:
		if a < 100 {
			digits = 1
		}
	}
	return digits
}

// Decimals prints a plain number to so many places with the person's decimal
// mark, and no mark between thousands, so that it can be typed back.
// places are digits behind the mark.
func Decimals(v float64, places int, s System) string {
	t := strconv.FormatFloat(v, 'f', places, 64)
	if s.DecimalComma {
		t = strings.Replace(t, ".", ",", 1)
	}
	return t
}

// Plain prints a plain number to so many significant digits, never as a power
// of ten: see [Decimals].
// digits are significant ones at most.
func Plain(v float64, digits int, s System) string {
	r, err := strconv.ParseFloat(strconv.FormatFloat(v, 'g', digits, 64), 64)
	if err != nil {
		r = v
	}
	return Decimals(r, -1, s)
}

// Sixteenths prints a length in meters as inches to the nearest 1/16, as a
// tape shows it: "58 1/4", "3/8", "12".
// The nearest sixteenth, in lowest terms.
func Sixteenths(meters float64) string {
	n := int64(math.Round(meters / MeterPerInch * 16))
	sign := ""
	if n < 0 {
		sign, n = "-", -n
	}
	whole, num, den := n/16, n%16, int64(16)
	for num > 0 && num%2 == 0 {
		num, den = num/2, den/2
	}
	switch {
	case num == 0:
		return fmt.Sprintf("%s%d", sign, whole)
	case whole == 0:
		return fmt.Sprintf("%s%d/%d", sign, num, den)
	}
	return fmt.Sprintf("%s%d %d/%d", sign, whole, num, den)
}

// Other returns the same person's system with the other lengths and the other
// heat units: what "the other in reach" shows.
// For the tooltip that shows a value in the other system.
func (s System) Other() System {
	s.Inches, s.Fahrenheit = !s.Inches, !s.Fahrenheit
	return s
}

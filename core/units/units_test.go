package units

import (
	"errors"
	"fmt"
	"math"
	"math/rand/v2"
	"strconv"
	"strings"
	"testing"
	"time"
)

var inch = System{Inches: true, Fahrenheit: true}

func TestParse(t *testing.T) {
	for _, c := range []struct {
		kind  Kind
		typed string
		sys   System
		want  float64
	}{
		{Length, "58 1/4", inch, 58.25 * 0.0254},
		{Length, "58-1/4", inch, 58.25 * 0.0254},
		{Length, "58¼", inch, 58.25 * 0.0254},
		{Length, `4' 10 1/4"`, System{}, 58.25 * 0.0254},
		{Length, "4 ft 10", System{}, 58 * 0.0254},
		{Length, "3/8 in", System{}, 0.375 * 0.0254},
		{Length, "1480 mm", inch, 1.48},
		{Length, "1.48m", inch, 1.48},
		{Length, "1,48 m", System{}, 1.48},
		{Length, "1,480", System{}, 1.48},
		{Length, "1,480", System{DecimalComma: true}, 0.00148},
		{Length, "1.480,5 mm", System{DecimalComma: true}, 1.4805},
		{Length, "8 1/4", System{}, 0.00825},
		{Temperature, "110F", System{}, 43.3333333333},
		{Temperature, "-11 F", System{}, -23.8888888889},
		{Temperature, "43 °C", inch, 43},
		{Temperature, "-5", System{}, -5},
		{Flow, "50 cfm", System{}, 0.0235973722},
		{Flow, "85 m3/h", inch, 85.0 / 3600},
		{Area, "200 sq ft", System{}, 18.580608},
		{Area, "19 m2", inch, 19},
		{Power, "5,000 BTU/h", System{}, 1465.3553},
		{Pressure, "0.16 in w.g.", System{}, 39.8542},
		{Pressure, "3.5 mm H2O", System{}, 34.3233},
		{Pressure, "3.5 mm of water", System{Inches: true}, 34.3233},
		{Share, "65 %", System{}, 0.65},
		{Angle, "60°", System{}, 60},
	} {
		got, err := Parse(c.kind, c.typed, c.sys)
		if err != nil || math.Abs(got-c.want) > 1e-6*max(1, math.Abs(c.want)) {
			t.Errorf("Parse(%v, %q) = %v, %v; want %v", c.kind, c.typed, got, err, c.want)
		}
	}
}

func TestParseRefusesWithAnExample(t *testing.T) {
	for _, typed := range []string{"", "58 1/", "1/0", "12 stone", "1 in 2 in 3 F", "--4", "4 mm 4", "NaN", "1e400 m"} {
		_, err := Parse(Length, typed, System{})
		var e *Error
		if !errors.As(err, &e) {
			t.Errorf("%q: error %v is no *Error", typed, err)
		}
	}
	if _, err := Parse(Length, "58 1/", inch); !err.(*Error).Half {
		t.Error("58 1/ may still become 58 1/4: it is half typed")
	}
}

// A value printed and read again moves by no more than the last printed digit.
func TestPrintedValuesReadBack(t *testing.T) {
	r := rand.New(rand.NewPCG(1, 2))
	step := map[Kind]float64{Length: MeterPerInch / 32, Temperature: 0.5, Flow: 0.5 * CubicMeterPerCFM, Power: 0.5, Area: 0.05,
		Pressure: 0.5, Angle: 0.5}
	for range 3000 {
		sys := System{Inches: r.IntN(2) == 0, Fahrenheit: r.IntN(2) == 0, DecimalComma: r.IntN(2) == 0}
		for k, tol := range step {
			v := r.Float64() * 3
			switch k {
			case Temperature, Angle, Power, Pressure:
				v *= 40
			}
			text := Format(k, v, sys)
			got, err := Parse(k, text, sys)
			if k == Power && sys.Fahrenheit && v >= 99.4*WattPerBTUPerHour { // tens of BTU/h
				tol = 5 * WattPerBTUPerHour
			}
			if err != nil || math.Abs(got-v) > tol*1.0001 {
				t.Fatalf("%v %v in %+v printed %q, read %v (%v)", k, v, sys, text, got, err)
			}
		}
	}
}

func FuzzParse(f *testing.F) {
	for _, s := range []string{"58 1/4", `4' 10 1/4"`, "1,480", "−5 F", "½", "9/", "m2", "1 m 2"} {
		f.Add(1, s)
	}
	f.Fuzz(func(t *testing.T, k int, s string) {
		v, err := Parse(Kind(((k%15)+15)%15), s, System{})
		if err == nil && (math.IsNaN(v) || math.IsInf(v, 0)) {
			t.Fatalf("%q gave %v without an error", s, v)
		}
	})
}

func ExampleParse() {
	m, _ := Parse(Length, `4' 10 1/4"`, System{})
	fmt.Printf("%.4f m = %s in\n", m, Sixteenths(m))
	// Output: 1.4796 m = 58 1/4 in
}

// Sheet and film are thinner than a tape shows: they print as decimals that
// read back.
// Plain numbers are never a power of ten, and read back with either mark.
func TestPlainNumbers(t *testing.T) {
	comma := System{DecimalComma: true}
	for _, x := range []struct {
		v      float64
		digits int
		s      System
		want   string
	}{{12500, 6, System{}, "12500"}, {1523, 3, System{}, "1520"}, {0.2, 6, comma, "0,2"}, {1.2e-5, 6, System{}, "0.000012"},
		{1e6, 4, comma, "1000000"}, {-3.14159, 3, comma, "-3,14"}} {
		got := Plain(x.v, x.digits, x.s)
		if got != x.want {
			t.Errorf("%v is printed %q, not %q", x.v, got, x.want)
		}
		if back, err := Parse(Number, got, x.s); err != nil || math.Abs(back-x.v) > math.Pow(10, 1-float64(x.digits))*math.Abs(x.v) {
			t.Errorf("%q is read as %v, %v", got, back, err)
		}
	}
	for _, v := range []float64{0, 0.004, -0.004} { // nothing has no decimals and no sign
		if got := Format(Power, v, System{}); got != "0 W" {
			t.Errorf("%v W is printed %q", v, got)
		}
	}
	if got := Decimals(1234.56, 1, comma); got != "1234,6" {
		t.Errorf("a tenth is printed %q", got)
	}
}

func TestThinThings(t *testing.T) {
	in := System{Inches: true}
	for v, want := range map[float64]string{0.0007: "0.028 in", 0.00002: "0.001 in", 0.003: "1/8 in", 0: "0 in"} {
		got := Format(Length, v, in)
		if got != want {
			t.Errorf("%v m prints as %q, want %q", v, got, want)
		}
	}
	if got := Format(Length, 0.00002, System{}); got != "0.02 mm" {
		t.Errorf("film prints as %q", got)
	}
	if v, err := Parse(Length, "0.028 in", System{}); err != nil || math.Abs(v-0.0007112) > 1e-9 {
		t.Errorf("0.028 in reads as %v, %v", v, err)
	}
}

// Loads, gusts and forces by hand: 1 psf is 0.45359237 x 9.80665 / 0.3048^2 = 47.88 Pa, 90 mph are 40.2 m/s, 1 kN is 224.8 lbf; each is
// shown in the system's own unit and reads back.
func TestLoadsGustsAndForces(t *testing.T) {
	for _, x := range []struct {
		kind  Kind
		typed string
		want  float64
	}{{Load, "30 psf", 1436.4}, {Load, "1.5 kN/m2", 1500}, {Gust, "90 mph", 40.23}, {Gust, "144 km/h", 40}, {Force, "1 kN", 1000},
		{Force, "224.8 lbf", 1000}} {
		v, err := Parse(x.kind, x.typed, System{})
		if err != nil || math.Abs(v/x.want-1) > 1e-3 {
			t.Errorf("%s is %v, by hand %v, %v", x.typed, v, x.want, err)
		}
		for _, s := range []System{{}, {Inches: true}} {
			text := Format(x.kind, v, s)
			if back, err := Parse(x.kind, text, s); err != nil || math.Abs(back/v-1) > 0.03 {
				t.Errorf("%s is shown as %q and reads back as %v, %v", x.typed, text, back, err)
			}
		}
	}
}

// A sentence prints its quantities in the reader's units, keeps its words, and goes on with another.
func TestSentencesWithQuantities(t *testing.T) {
	s := Say("It is %v wide and costs %v.", Q(Length, 0.0254), Word("nothing")).Then(Say("It holds %v.", Q(Temperature, 100)))
	for sys, want := range map[System]string{{}: "It is 25.4 mm wide and costs nothing. It holds 100 °C.",
		{Inches: true, Fahrenheit: true}: "It is 1 in wide and costs nothing. It holds 212 °F."} {
		if got := s.In(sys); got != want {
			t.Errorf("%q, not %q", got, want)
		}
	}
}

// A number that nobody can mean is told by its bound, without three hundred digits, in any kind and system.
func TestHugeFigures(t *testing.T) {
	for _, k := range []Kind{Length, Angle, Temperature, Power, Number, Energy, Bore} {
		for _, s := range []System{{}, {Inches: true, Fahrenheit: true}, {DecimalComma: true}} {
			for v, want := range map[float64]string{1e308: "over 1,000,000,000,000", -1e308: "under -1,000,000,000,000"} {
				if got := Format(k, v, s); !strings.HasPrefix(got, want) || len(got) > 40 {
					t.Errorf("kind %v: %.60s", k, got)
				}
			}
		}
	}
}

// Times of day as people write them, and back; leakage in the person's unit.
func TestClockAndLeakage(t *testing.T) {
	for typed, want := range map[string]float64{"7": 7, "7:30": 7.5, "07:05": 7 + 5.0/60, "7h30": 7.5, "7h": 7, "7.5": 7.5, "7 am": 7,
		"7pm": 19, "7:30 p.m.": 19.5, "12 am": 0, "12:15 pm": 12.25, "noon": 12, "Midnight": 0, "24": 24, "24:00": 24, "0": 0} {
		if got, err := Parse(Clock, typed, System{}); err != nil || math.Abs(got-want) > 1e-12 {
			t.Errorf("%q: %v, %v", typed, got, err)
		}
	}
	for _, typed := range []string{"7:60", "25:00", "13 pm", "0 am", "7:", "7:3x", "24:30", "am", "7 am pm", ":30", "x"} {
		if got, err := Parse(Clock, typed, System{}); err == nil {
			t.Errorf("%q is read as %v", typed, got)
		}
	}
	for v, want := range map[float64]string{0: "0:00", 7.5: "7:30", 18.9999: "19:00", 24: "24:00"} {
		if got := Format(Clock, v, System{Fahrenheit: true}); got != want {
			t.Errorf("%v: %s", v, got)
		}
	}
	for _, x := range []struct {
		v    float64
		s    System
		want string
	}{{1.2e-5, System{}, "43 L/h"}, {1.2e-5, System{Fahrenheit: true}, "1.5 cu ft/h"}, {1e-6, System{}, "3.6 L/h"},
		{1e-7, System{}, "0.36 L/h"}} {
		if got := Format(Leakage, x.v, x.s); got != x.want {
			t.Errorf("%v: %s, want %s", x.v, got, x.want)
		}
		if back, err := Parse(Leakage, x.want, x.s); err != nil || math.Abs(back/x.v-1) > 0.07 {
			t.Errorf("%s: %v, %v", x.want, back, err)
		}
	}
}

// An area may be typed as two lengths; half of it is half typed.
func TestAreaOfTwoSides(t *testing.T) {
	inches := System{Inches: true}
	for typed, want := range map[string]float64{"12 x 20 ft": 240, "12 by 20": 240, "12' x 20'": 240, "12 ft x 20 ft": 240, "12×20": 240} {
		if got, err := Parse(Area, typed, inches); err != nil || math.Abs(got/MeterPerFoot/MeterPerFoot-want) > 1e-9 {
			t.Errorf("%q is %v m2, %v", typed, got, err)
		}
	}
	if got, err := Parse(Area, "4 x 5 m", System{}); err != nil || got != 20 {
		t.Errorf("4 x 5 m is %v, %v", got, err)
	}
	var e *Error
	for typed, half := range map[string]bool{"12 x": true, "12 x 20 gallons": false, "x 20": false, "1 x 2 x 3": false} {
		if _, err := Parse(Area, typed, inches); !errors.As(err, &e) || e.Half != half {
			t.Errorf("%q: %v", typed, err)
		}
	}
}

// A text keeps of each pair the one that is the person's; lengths follow the choice of lengths, all else that of heat.
func TestLocalize(t *testing.T) {
	const text = "leave {25 mm|1 in} and no more than {80 W/m²|25 BTU/h·sq ft}, {not a pair}"
	for _, x := range []struct {
		s    System
		want string
	}{
		{System{}, "leave 25 mm and no more than 80 W/m², {not a pair}"},
		{System{Inches: true, Fahrenheit: true}, "leave 1 in and no more than 25 BTU/h·sq ft, {not a pair}"},
		{System{Inches: true}, "leave 1 in and no more than 80 W/m², {not a pair}"},
	} {
		if got := Localize(text, x.s); got != x.want {
			t.Errorf("%+v: %q", x.s, got)
		}
	}
	if got := Say("{8 mm|5/16 in} and %v", Q(Length, 0.0254)).In(System{Inches: true}); got != "5/16 in and 1 in" {
		t.Errorf("a sentence: %q", got)
	}
}

// Wires by the American gauge: cross sections of ASTM B258 (recalled from memory), to a half of a per cent.
func TestWireGauge(t *testing.T) {
	american := System{Inches: true}
	for gauge, mm2 := range map[string]float64{"10 AWG": 5.261, "12 AWG": 3.309, "14 AWG": 2.081, "18 AWG": 0.8230, "22 AWG": 0.3255} {
		v, err := Parse(Wire, gauge, System{})
		if err != nil || math.Abs(v/mm2-1) > 0.005 {
			t.Errorf("%s: %v, %v", gauge, v, err)
		}
		if got := Format(Wire, v, american); got != gauge {
			t.Errorf("%s is printed %s", gauge, got)
		}
	}
	if v, err := Parse(Wire, "18", american); err != nil || math.Abs(v-0.823) > 0.001 {
		t.Errorf("a bare 18: %v, %v", v, err)
	}
	if v, err := Parse(Wire, "1.5 mm²", american); err != nil || v != 1.5 {
		t.Errorf("1.5 mm²: %v, %v", v, err)
	}
	if v, err := Parse(Wire, "2", System{}); err != nil || v != 2 {
		t.Errorf("a bare 2 in a metric workshop: %v, %v", v, err)
	}
}

// A formula's terms in American units give its figure as they do in SI ones: m cp dT of 0.03 kg/s at 1006 J/kgK over 20 K is 603.6 W.
func TestTermsFitTogether(t *testing.T) {
	american := System{Inches: true, Fahrenheit: true}
	number := func(v float64, unit string) float64 {
		s, _, _ := strings.Cut(Term(v, unit, 7, american), " ")
		x, err := strconv.ParseFloat(strings.ReplaceAll(s, ",", ""), 64)
		if err != nil {
			t.Fatal(err)
		}
		return x
	}
	heat := number(0.03, "kg/s") * number(1006, "J/kgK") * number(20, "K")
	if w := heat * WattPerBTUPerHour; math.Abs(w-603.6) > 0.01 {
		t.Errorf("%v BTU/h are %v W, not 603.6", heat, w)
	}
	if w := number(8, "W/m²K") * number(2, "m2") * number(20, "K") * WattPerBTUPerHour; math.Abs(w-320) > 0.01 {
		t.Errorf("%v W, not 320", w)
	}
}

// Times and articles as Americans write and say them.
func TestAmericanTimesAndArticles(t *testing.T) {
	at := time.Date(2026, 12, 1, 19, 5, 0, 0, time.UTC)
	american := System{Inches: true}
	for layout, want := range map[string]string{
		"Mon 2 Jan, 15:04": "Tue, Dec 1, 7:05 pm", "Monday 2 January 2006": "Tuesday, December 1, 2026",
		"2 January, 15:04": "December 1, 7:05 pm",
		"2 Jan":            "Dec 1", "2 Jan 2006": "Dec 1, 2026", "15:04": "7:05 pm",
	} {
		if got := Time(at, layout, american); got != want {
			t.Errorf("%q is %q, not %q", layout, got, want)
		}
		if got := Time(at, layout, System{}); got != at.Format(layout) {
			t.Errorf("%q is %q in a metric workshop", layout, got)
		}
	}
	for inches, want := range map[float64]string{8: "Use an 8 in duct.", 6: "Use a 6 in duct.", 10: "Use a 10 in duct."} {
		if got := Say("Use a %v duct.", Q(Bore, inches*MeterPerInch)).In(american); got != want {
			t.Errorf("%q", got)
		}
	}
	if got := Say("a %v", Word("110 in wall")).In(american); got != "a 110 in wall" {
		t.Errorf("%q", got)
	}
}

// A sum in a sentence has the sign of the reader's money.
func TestSumInASentence(t *testing.T) {
	text := Say("It costs %v.", Q(Sum, 2.489))
	for sign, want := range map[string]string{"$": "It costs $2.49.", "€": "It costs 2.49 €.", "": "It costs 2.49."} {
		if got := text.In(System{Sign: sign}); got != want {
			t.Errorf("%q: %q", sign, got)
		}
	}
}

// Resistances as American stores say them. By hand: 1 m2K/W is 5.678 h sq ft F/BTU (NIST SP 811), so 90 mm of wool of 0.0391 W/mK,
// 2.30 m2K/W, are R-13; 2 in of polyiso of 0.024 W/mK R-12; a single pane of 5.8 W/m2K R-1.
func TestRValue(t *testing.T) {
	for r, want := range map[float64]string{2.30: "R-13", 0.0508 / 0.024: "R-12", 1 / 5.8: "R-1", 0.5: "R-2.8", 5.3: "R-30"} {
		if got := RValue(r); got != want {
			t.Errorf("%v m2K/W is %s, by hand %s", r, got, want)
		}
	}
}

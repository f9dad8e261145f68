package units

import (
	"fmt"
	"math"
	"regexp"
	"slices"
	"strconv"
	"strings"
	"time"
)

// Text is a sentence with quantities in it, printed in a person's own units:
// each %v in Format takes the next of Values.
type Text struct {
	// Format is a sentence for fmt.Sprintf with one %v for each quantity.
	Format string
	// Values are the quantities in the order in which the sentence names them.
	Values []Value
}

// Value is a quantity in a sentence.
type Value struct {
	// Kind says what is measured, and by that which unit and how many digits a
	// reader gets.
	Kind Kind
	SI   float64
	// Word stands in the sentence instead of a quantity: a name, a month, a
	// count.
	Word string
}

// Say makes a sentence; the number of values must be that of the format's verbs.
func Say(format string, values ...Value) Text { return Text{format, values} }

// Q is a quantity in SI units for a sentence.
func Q(k Kind, v float64) Value { return Value{Kind: k, SI: v} }

// Word is a name or a count for a sentence.
func Word(s string) Value { return Value{Word: s} }

// In prints the sentence in a system of units.
func (t Text) In(s System) string {
	args := make([]any, len(t.Values))
	for i, v := range t.Values {
		args[i] = v.Word
		if v.Word == "" {
			args[i] = Format(v.Kind, v.SI, s)
		}
	}
	return articled(Localize(fmt.Sprintf(t.Format, args...), s))
}

// article is one before a number that is spoken with a vowel: eight, eighty, eleven, eighteen.
var article = regexp.MustCompile(`\b(a) (8|(?:11|18)(?:$|[^\d,]))`)

// articled writes "an 8 in duct" where a figure takes the place of a word.
func articled(text string) string { return article.ReplaceAllString(text, "${1}n $2") }

// pair is a text in metric and in American units.
var pair = regexp.MustCompile(`\{([^{}|]+)\|([^{}|]+)\}`)

// length is the metric text of a pair that is about lengths, areas or volumes, which follow [System.Inches].
var length = regexp.MustCompile(`\d ?(?:mm|cm|m|km|mm²|m²|m³|mL|L|liters|bar|kg)\b`)

// Localize writes a plain text in a person's units: of each {200 mm|8 in} it keeps the one that is theirs. For round figures, which a
// conversion would make odd; a quantity that is computed goes by [Format].
func Localize(text string, s System) string {
	return pair.ReplaceAllStringFunc(text, func(p string) string {
		both := pair.FindStringSubmatch(p)
		american := s.Fahrenheit
		if length.MatchString(both[1]) {
			american = s.Inches
		}
		if american {
			return both[2]
		}
		return both[1]
	})
}

const (
	pound      = 0.45359237    // kg
	jouleBTU   = 1055.05585262 // J
	squareFoot = MeterPerFoot * MeterPerFoot
)

// customary are what the units of terms are in American ones, and how many of them there are. Sources: NIST SP 811, by the exact inch,
// pound and International Table BTU; in w.g. at 4 C.
var customary = map[string]struct {
	unit string
	of   float64
}{
	"kg/s":  {"lb/h", 3600 / pound},
	"J/kgK": {"BTU/lb·°F", pound / jouleBTU / 1.8},
	"W/K":   {"BTU/h·°F", 1 / WattPerBTUPerHour / 1.8},
	"W/m²K": {"BTU/h·sq ft·°F", squareFoot / WattPerBTUPerHour / 1.8},
	"W/m²":  {"BTU/h·sq ft", squareFoot / WattPerBTUPerHour},
	"W":     {"BTU/h", 1 / WattPerBTUPerHour},
	"m":     {"ft", 1 / MeterPerFoot},
	"m2":    {"sq ft", 1 / squareFoot},
	"m3":    {"cu ft", 1 / squareFoot / MeterPerFoot},
	"kg":    {"lb", 1 / pound},
	"kg/m3": {"lb/cu ft", squareFoot * MeterPerFoot / pound},
	"Pa":    {"in w.g.", 1 / PascalPerInchWG},
	"K":     {"°F", 1.8},
}

// RValue writes a thermal resistance, m2K/W, as American stores and codes do: R-13, in h·sq ft·°F/BTU.
func RValue(r float64) string {
	v := r / squareFoot * WattPerBTUPerHour * 1.8
	if v < 9.95 {
		return "R-" + strconv.FormatFloat(math.Round(10*v)/10, 'f', -1, 64)
	}
	return "R-" + strconv.FormatFloat(math.Round(v), 'f', 0, 64)
}

// Term writes a value with its unit, to so many digits, in a person's system: where heat is in BTU, all that goes into a formula is in
// American units, so that its terms fit together.
func Term(v float64, unit string, digits int, s System) string {
	if c, known := customary[unit]; known && s.Fahrenheit {
		v, unit = v*c.of, c.unit
	}
	return Plain(v, digits, s) + " " + unit
}

// Then appends sentences to a text.
func (t Text) Then(others ...Text) Text {
	for _, o := range others {
		t = Text{t.Format + " " + o.Format, slices.Concat(t.Values, o.Values)}
	}
	return t
}

// american turns layouts of [time.Time.Format] as most countries write dates and times into those of the United States.
var american = strings.NewReplacer("Monday 2 January 2006", "Monday, January 2, 2006", "Monday 2 January", "Monday, January 2",
	"Mon 2 Jan", "Mon, Jan 2", "2 January 2006", "January 2, 2006", "2 January", "January 2", "2 Jan 2006", "Jan 2, 2006", "2 Jan", "Jan 2",
	"15:04", "3:04 pm")

// Time writes a time by a layout of [time.Time.Format], in American order where lengths are in inches: Tue, Dec 1, 7:30 pm.
func Time(t time.Time, layout string, s System) string {
	if s.Inches {
		layout = american.Replace(layout)
	}
	return t.Format(layout)
}

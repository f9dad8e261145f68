package ui

import (
	"math"
	"strconv"
	"strings"
	"unicode"
	"unicode/utf8"

	"gladember/core/units"
)

// Figure is a number with its label and unit; touched, it opens its working.
type Figure struct {
	Key    string
	Label  string
	Value  string
	Unit   string
	Band   string // its 95 % range
	Change string // what the last change did to it
	Heat   bool
	URL    string // its working
}

// Figure is a value as the person reads it.
func (f *Frame) Figure(key, label string, k units.Kind, v float64) Figure {
	return Figure{Key: key, Label: label, Value: units.Figure(k, v, f.Units), Unit: f.Units.Unit(k)}
}

// Opens gives a figure of a station the address of its working.
func (f *Frame) Opens(x Figure) Figure {
	x.URL = f.WorkingURL(x.Key)
	return x
}

// WorkingURL is where the working of a figure of this station opens.
func (f *Frame) WorkingURL(key string) string { return HeaterURL(f.ID, "working", f.Station+"-"+key) }

// Range is a 95 % range without its unit: 643–910.
func Range(k units.Kind, low, high float64, u units.System) string {
	return span(units.Figure(k, low, u), units.Figure(k, high, u))
}

// span joins two numbers; a dash between a minus and a number would be misread.
func span(low, high string) string {
	if strings.HasPrefix(high, "−") || strings.HasPrefix(high, "-") {
		return low + " to " + high
	}
	return low + "–" + high
}

// NoChange is what [Signed] says of nothing.
const NoChange = "no change"

// Signed is a difference with its sign.
func Signed(k units.Kind, v float64, s units.System) string {
	t := units.Format(k, math.Abs(v), s)
	switch {
	case strings.HasPrefix(t, "0 ") || strings.HasPrefix(t, "0.0 "):
		return NoChange
	case v < 0:
		return "−" + t
	}
	return "+" + t
}

// Count is a number of things as a sentence has it: 1 day, 1,200 days.
func Count(n int, one, many string, u units.System) string {
	if n == 1 {
		return "1 " + one
	}
	return Whole(float64(n), u) + " " + many
}

// Times says how often something happens.
func Times(n int, u units.System) string {
	switch n {
	case 1:
		return "once"
	case 2:
		return "twice"
	}
	return Count(n, "time", "times", u)
}

// Whole is a number to the nearest one, with a mark between thousands.
func Whole(v float64, u units.System) string { return units.Figure(units.Number, math.Round(v), u) }

// List joins parts of a sentence: a, b and c.
func List(parts []string) string {
	if len(parts) < 2 {
		return strings.Join(parts, "")
	}
	return strings.Join(parts[:len(parts)-1], ", ") + " and " + parts[len(parts)-1]
}

// ID is a number as an address has it.
func ID(n int64) string { return strconv.FormatInt(n, 10) }

// Lower returns a label with a small first letter, for within a sentence.
func Lower(s string) string {
	r, n := utf8.DecodeRuneInString(s)
	if next, _ := utf8.DecodeRuneInString(s[n:]); unicode.IsUpper(next) {
		return s // an abbreviation
	}
	return string(unicode.ToLower(r)) + s[n:]
}

// Capital writes a sentence's first letter large.
func Capital(s string) string {
	if s == "" {
		return s
	}
	return strings.ToUpper(s[:1]) + s[1:]
}

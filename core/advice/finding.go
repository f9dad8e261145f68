package advice

import (
	"fmt"
	"gladember/core/design"
	"gladember/core/units"
	"math"
	"slices"
	"sort"
)

// Severity orders findings, worst first.
type Severity int

// The severities.
const (
	Danger Severity = iota // something breaks or may burn
	Fault                  // it will not work as meant
	Loss                   // heat left lying
	Note
)

func (s Severity) String() string { return [...]string{"danger", "fault", "loss", "note"}[s] }

// Text is a sentence with quantities in it, printed in a person's own units:
// each %v in Format takes the next of Values.
type Text struct {
	Format string
	Values []Value
}

// Value is a quantity in a sentence.
type Value struct {
	Kind units.Kind
	SI   float64
	Word string // instead of a quantity
}

// In prints the sentence in a system of units.
func (t Text) In(s units.System) string {
	args := make([]any, len(t.Values))
	for i, v := range t.Values {
		args[i] = v.Word
		if v.Word == "" {
			args[i] = units.Format(v.Kind, v.SI, s)
		}
	}
	return fmt.Sprintf(t.Format, args...)
}

// with appends sentences to a text.
func (t Text) with(others ...Text) Text {
	for _, o := range others {
		t = Text{t.Format + " " + o.Format, slices.Concat(t.Values, o.Values)}
	}
	return t
}

func say(format string, values ...Value) Text { return Text{format, values} }

func q(k units.Kind, v float64) Value { return Value{Kind: k, SI: v} }

func word(s string) Value { return Value{Word: s} }

// Topic is the part of the work that a finding or a caution is about.
type Topic string

// Finding is one judgment.
type Finding struct {
	ID        string
	Severity  Severity
	Topic     Topic
	Title     string
	Finding   Text
	Evidence  Text
	Remedy    Text
	Patch     []design.Change // the remedy, one touch
	Gain      float64         // W more heat with the remedy, by rerun
	HasGain   bool
	YearGain  float64 // kWh a year more with the remedy, by running the year again
	YearMoney float64 // money a year more with it
	HasYear   bool
	Costs     float64 // kWh a year that the problem costs, where no remedy says so
	When      string  // when the gain is had; empty at the noon judged by
	Or        []Alternative
}

// An Alternative is another remedy of a finding, with its own ID.
type Alternative struct {
	ID        string
	Remedy    Text
	Patch     []design.Change
	Gain      float64 // W, as of the finding's own remedy
	YearGain  float64 // kWh a year
	YearMoney float64
	HasYear   bool
}

// Offered returns the finding's remedy of an ID, its own or an alternative:
// what is said of it and its changes; ok is false where it has none of that
// name.
func (f *Finding) Offered(id string) (remedy Text, patch []design.Change, ok bool) {
	if f.ID == id && f.Patch != nil {
		return f.Remedy, f.Patch, true
	}
	for _, a := range f.Or {
		if a.ID == id {
			return a.Remedy, a.Patch, true
		}
	}
	return Text{}, nil, false
}

// weight is by what findings of one severity are ordered: kWh of the year where
// they are known, else watts of the noon, which are about as many.
func (f *Finding) weight() float64 {
	if f.HasYear {
		return math.Max(f.YearGain, f.Costs)
	}
	return math.Max(f.Gain, f.Costs)
}

// worstFirst orders findings by severity, then by what their remedies gain.
func worstFirst(fs []Finding) {
	sort.SliceStable(fs, func(i, j int) bool {
		a, b := &fs[i], &fs[j]
		if a.Severity != b.Severity {
			return a.Severity < b.Severity
		}
		return a.weight() > b.weight()
	})
}

// patches are the changes of alternatives.
func patches(as []Alternative) (out [][]design.Change) {
	for _, a := range as {
		out = append(out, a.Patch)
	}
	return out
}

// The topics, in the order of the work.
const (
	Siting       Topic = "siting"       // place, tilt, bearing, shade
	Demand       Topic = "demand"       // the space and what it needs
	Materials    Topic = "materials"    // what is on hand
	Construction Topic = "construction" // the box and its parts
	Airflow      Topic = "airflow"      // ducts and fans
	Control      Topic = "control"      // thermostat and comfort
	Cutting      Topic = "cutting"      // saws and drills
	Measuring    Topic = "measuring"    // probes and loggers
	Yield        Topic = "yield"        // the year's heat and money
)

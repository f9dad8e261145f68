package advice

import (
	"sort"

	"gladember/core/design"
	"gladember/core/units"
)

// Severity orders findings, worst first.
type Severity int

// The severities.
const (
	// Danger: something that people, the house or the heater itself depend on passes a limit, by the likely value. Nobody should
	// build the box as it is.
	Danger Severity = iota
	// Fault: the heater will not work as meant, such as a fan that never
	// starts.
	Fault
	// Warning: a limit may be passed, by the upper end of the range alone; or one is that matters less, such as a paint's.
	Warning
	// Loss: heat is lost that a change would save.
	Loss
	// Note: worth knowing; nothing has to be changed.
	Note
)

// String returns the word that commands print and that pages look up: "danger",
// "fault", "caution", "loss" or "note".
func (s Severity) String() string {
	return [...]string{"danger", "fault", "caution", "loss", "note"}[s]
}

// Text is a sentence with quantities in it, printed in a person's own units.
type Text = units.Text

// Value is a quantity in a sentence.
type Value = units.Value

// say makes a text; the number of values must be that of the format's verbs,
// which a test asks of every finding.
func say(format string, values ...Value) Text { return units.Say(format, values...) }

// q is a quantity in SI units for a sentence.
func q(k units.Kind, v float64) Value { return units.Q(k, v) }

// word is a name or a count for a sentence.
func word(s string) Value { return units.Word(s) }

// Topic is the part of the work that a finding or a caution is about.
type Topic string

// Finding is one judgment.
type Finding struct {
	ID       string
	Severity Severity
	// Topic is the part of the work that the finding is about.
	Topic Topic
	// Title names the problem and the part, as a heading does.
	Title string
	// Finding is the consequence, in figures.
	Finding Text
	// Evidence is what the consequence is read from.
	Evidence Text
	Remedy   Text
	// Patch is the remedy as changes of the document, for one touch. It is nil
	// where no change of a field mends the problem, or where the change did not
	// stand the judgment of the whole box.
	Patch []design.Change
	// Gain is how much more heat the room gets with the remedy, W, by rerun at
	// the same conditions; what the fan buys is taken off.
	Gain float64
	// HasGain says whether Gain was computed; a gain of zero is a result too.
	HasGain bool
	// YearGain is the useful heat that the remedy adds in a year, kWh, by
	// running the year again.
	YearGain float64
	// YearMoney is what the remedy saves in a year beyond now, in the
	// document's currency.
	YearMoney float64
	// HasYear says whether the two figures of the year were computed.
	HasYear bool
	// Costs is what the problem takes, kWh a year, where no remedy says so.
	Costs float64
	// When says when the gain is had, such as "by night"; empty means at the
	// noon by which the box is judged.
	When string
	// Or are other remedies of the same problem, each rerun like the first.
	Or []Alternative
}

// An Alternative is another remedy of a finding, with its own ID.
type Alternative struct {
	ID     string
	Remedy Text
	Patch  []design.Change
	// Gain is in W, as that of the finding's own remedy.
	Gain float64
	// YearGain and YearMoney are those of a [Finding], and HasYear says whether
	// they are known.
	YearGain  float64
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
		return max(f.YearGain, f.Costs)
	}
	return max(f.Gain, f.Costs)
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
	// Siting: place, tilt, bearing, shade.
	Siting Topic = "siting"
	// Demand: the space and what it needs.
	Demand Topic = "demand"
	// Materials: what is on hand.
	Materials Topic = "materials"
	// Construction: the box and its parts.
	Construction Topic = "construction"
	// Airflow: ducts, fittings and fans.
	Airflow Topic = "airflow"
	// Control: thermostat and comfort.
	Control Topic = "control"
	// Cutting: saws and drills.
	Cutting Topic = "cutting"
	// Measuring: probes and loggers.
	Measuring Topic = "measuring"
	// Yield: the year's heat and money.
	Yield Topic = "yield"
)

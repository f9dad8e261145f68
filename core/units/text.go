package units

import (
	"fmt"
	"slices"
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
	return fmt.Sprintf(t.Format, args...)
}

// Then appends sentences to a text.
func (t Text) Then(others ...Text) Text {
	for _, o := range others {
		t = Text{t.Format + " " + o.Format, slices.Concat(t.Values, o.Values)}
	}
	return t
}

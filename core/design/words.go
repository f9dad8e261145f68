package design

import (
	"fmt"
	"reflect"
	"strings"
	"time"

	"gladember/core/units"
)

// Word is what a value of a field is called that means more than its number, such as a month, or none.
//
// Some numbers mean more than they say. Nobody thinks of the eleventh month, of an eave that is 0 mm deep, or of a room that is
// let fall to -40 degrees: they say November, none and off. Such a word is typed for the number and shown for it, and the document
// holds the number, so that the computation knows nothing of words.
type Word struct {
	Value float64 // SI
	Text  string
}

// months are the words for 1 to 12, in English as all words of the product.
var months = func() (out []Word) {
	for m := time.January; m <= time.December; m++ {
		out = append(out, Word{float64(m), m.String()})
	}
	return out
}()

// called is one value with a word; the other values of the field have none.
func called(v float64, text string) []Word { return []Word{{v, text}} }

// Word is what a value, SI, is called; empty for a number like any other. Values are compared exactly, since those with a word are
// typed or chosen and never computed.
func (f *Field) Word(v float64) string {
	for _, w := range f.Words {
		if w.Value == v {
			return w.Text
		}
	}
	return ""
}

// meant is the value that a word stands for. Its first three letters are enough, or all that it has; half is set for fewer.
func (f *Field) meant(typed string) (v float64, ok, half bool) {
	const enough = 3
	t := strings.ToLower(typed)
	for _, w := range f.Words {
		text := strings.ToLower(w.Text)
		if t == text || len(t) >= enough && strings.HasPrefix(text, t) {
			return w.Value, true, false
		}
		half = half || t != "" && strings.HasPrefix(text, t)
	}
	// What begins like a word may become it as typing goes on, and is no mistake yet.
	return 0, false, half
}

// InWords is the value of a field in words and in a person's units: a choice by its name, a table by its number of lines, a quantity
// with its unit. It is empty where the field means nothing for the heater. Two heaters with the same text may differ in digits that
// are not shown.
func (f *Field) InWords(h *Heater, sys units.System) string {
	if !f.Applies(h) {
		return ""
	}
	v := f.Get(h)
	switch {
	case f.Choices != nil:
		for _, c := range f.ListChoices(h) {
			if c.ID == v {
				return c.Name
			}
		}
		return fmt.Sprint(v) // a choice of a later program
	case f.Bool:
		return map[any]string{true: "yes", false: "no"}[v]
	case f.Rows != nil:
		if n := reflect.ValueOf(v).Len(); n != 1 {
			return units.Decimals(float64(n), 0, sys) + " lines"
		}
		return "1 line"
	case f.Text:
		return fmt.Sprint(v)
	}
	n := f.Number(h)
	if w := f.Word(n); w != "" {
		return w
	}
	if f.Kind == units.Number {
		return units.Plain(n, 6, sys)
	}
	return units.Format(f.Kind, n, sys)
}

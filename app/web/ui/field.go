package ui

import (
	"fmt"
	"math"
	"reflect"
	"strings"
	"unicode/utf8"

	"gladember/core/advice"
	"gladember/core/design"
	"gladember/core/units"
)

// FieldView is a field as it is edited.
type FieldView struct {
	ID       string
	Path     string
	Label    string
	Help     string
	Value    string
	Other    string // in the other units
	Ours     bool   // our estimate
	Choices  []ChoiceView
	Bool     bool
	Wide     bool // a text or a long choice, which has a line of its own
	Rows     int  // lines of a table's entry; 0: no table
	On       bool
	Error    string
	Glossary string // where its term is explained
	word     bool   // its value is one that has a word
	Half     bool   // the error is of an entry that is not finished
	Vals     string // JSON for hx-vals
	Back     string // JSON for hx-vals to give it back to our estimate
}

// ChoiceView is one of a field's choices.
type ChoiceView struct {
	ID, Name string
	Chosen   bool
}

// Panel is a group of fields under a heading that opens.
type Panel struct {
	ID     string
	Title  string
	Line   string // its values, where it is closed
	Open   bool
	Fields []FieldView
}

// LinkedField is a field with where its entries go.
type LinkedField struct {
	FieldView
	URL string
}

// Linked gives a field the heater's address.
func (f *Frame) Linked(x FieldView) LinkedField { return LinkedField{x, f.EditURL()} }

// FieldID is a path as an element's id.
func FieldID(path string) string { return "f-" + strings.ReplaceAll(path, ".", "-") }

// inLine is how many values a closed panel shows, and lineLetters what they have room for on two lines; longLabel are the letters of a
// label that still goes with its value, and shortChoice those of a choice that says nothing without it.
const (
	inLine      = 3
	lineLetters = 64
	longLabel   = 34
	shortChoice = 10
)

// Panel shows the fields of groups under the heading of the first one.
func (f *Frame) Panel(groups ...*design.Group) {
	var all []design.Ref
	for _, g := range groups {
		for _, x := range g.Fields() {
			all = append(all, x)
		}
	}
	f.Fields(groups[0].Title, all...)
}

// Fields shows fields under a heading; those that do not apply are left out. The first panel of a station is open.
func (f *Frame) Fields(title string, fields ...design.Ref) {
	p := Panel{ID: "panel-" + strings.ReplaceAll(strings.ToLower(title), " ", "-"), Title: title, Open: len(f.Panels) == 0}
	var line []string
	long := 0
	for _, r := range fields {
		x := r.Declaration()
		if !x.Applies(&f.State.Document) {
			continue
		}
		fv := f.field(x)
		p.Fields = append(p.Fields, fv)
		v := x.Get(&f.State.Document)
		none := fv.Ours && (v == 0.0 || fv.word) // such as an offset that nobody measured, or no setback
		if s := fv.brief(); s != "" && !none && len(line) < inLine && long+utf8.RuneCountInString(s) < lineLetters {
			line, long = append(line, s), long+utf8.RuneCountInString(s)
		}
	}
	p.Line = strings.Join(line, "; ")
	if len(p.Fields) > 0 {
		f.Panels = append(f.Panels, p)
	}
}

// brief is a field's value in a line of several; empty where it says nothing.
func (v *FieldView) brief() string {
	switch {
	case v.Bool && v.On:
		return strings.ToLower(v.Label)
	case v.Bool, v.Rows > 0, v.Choices == nil && strings.Trim(v.Value, "0123456789.,") == "":
		return "" // a number without a unit has it in its label, which is too long then
	case v.word:
		return Lower(v.Label) + ": " + v.Value
	case v.Choices == nil && strings.ContainsAny(v.Value[:1], "0123456789-") && len(v.Label) > longLabel:
		return ""
	case v.Choices == nil && strings.ContainsAny(v.Value[:1], "0123456789-"):
		return Lower(v.Label) + " " + v.Value // a number says nothing without its label
	}
	for _, c := range v.Choices {
		if c.Chosen && len(c.Name) <= shortChoice {
			return Lower(v.Label) + ": " + c.Name
		}
		if c.Chosen {
			return c.Name
		}
	}
	return v.Value
}

// field is a field as the document has it.
func (f *Frame) field(x *design.Field) FieldView {
	h := &f.State.Document
	v := x.Get(h)
	entry, theirs := h.Entries[x.Path]
	fv := FieldView{
		ID: FieldID(x.Path), Path: x.Path, Label: x.Label, Help: helpOf(x, f.Units), Ours: !theirs,
		Vals: f.Vals(x.Path, nil), Back: f.Vals(x.Path, map[string]string{"ours": "1"}),
	}
	if x.Per != nil {
		fv.Label += " per " + x.Per(h)
	}
	if x.Money && f.Currency != "" {
		fv.Label += ", " + f.Currency
	}
	if w, ok := advice.Explained(x.Path); ok {
		fv.Glossary = "/glossary#" + w.ID()
	}
	switch {
	case x.Choices != nil:
		for _, ch := range x.ListChoices(h) {
			const long = 28 // letters
			fv.Choices = append(fv.Choices, ChoiceView{ch.ID, ch.Name, ch.ID == v})
			fv.Wide = fv.Wide || len(ch.Name) > long
		}
	case x.Whole && len(x.Words) > 1: // a word for each, such as a month
		n := x.Number(h)
		for _, w := range x.Words {
			fv.Choices = append(fv.Choices, ChoiceView{fmt.Sprint(w.Value), w.Text, w.Value == n})
		}
	case x.Bool:
		fv.Bool = true
		fv.On, _ = v.(bool)
	case x.Rows != nil:
		fv.Value = x.Rows.Write(h, f.Units)
		if back, err := x.Rows.Read(h, entry.Typed, f.Units); entry.Typed != "" && err == nil && reflect.DeepEqual(back, v) {
			fv.Value = entry.Typed
		}
		const fewest, most = 3, 14 // lines
		fv.Rows, fv.Other = max(fewest, min(most, strings.Count(fv.Value, "\n")+2)), units.Localize(x.Rows.Example, f.Units)
	case x.Text:
		fv.Wide, fv.Value = true, fmt.Sprint(v)
	default:
		f.number(x, &fv, entry, theirs)
	}
	return fv
}

// number fills a field with a quantity: as typed, while that still says the same in the person's units.
func (f *Frame) number(x *design.Field, fv *FieldView, entry design.Entry, theirs bool) {
	n := x.Number(&f.State.Document)
	if fv.Value = x.Word(n); fv.Value != "" {
		fv.word = true
		return
	}
	fv.Value = units.Format(x.Kind, n, f.Units)
	if x.Kind == units.Number && !x.Whole {
		fv.Value = units.Plain(n, 6, f.Units)
	}
	if entry.Typed != "" && (x.Kind != units.Clock || strings.ContainsAny(entry.Typed, ":hm")) { // 7 is better read as 7:00
		back, err := units.Parse(x.Kind, entry.Typed, f.Units)
		if err == nil && math.Abs(back-n) <= 1e-9*max(1, math.Abs(n)) {
			fv.Value = withUnit(entry.Typed, x.Kind, f.Units)
		}
	}
	if x.Default == nil && !theirs && n == 0 && x.Part() == design.ClimatePart {
		fv.Value = "" // nobody knows it yet; a zero would be a guess
		return
	}
	if x.Kind != units.Number && x.Kind != units.Angle && x.Kind != units.Share && x.Kind != units.Clock {
		if fv.Other = units.Format(x.Kind, n, f.Units.Other()); fv.Other == fv.Value {
			fv.Other = ""
		}
	}
}

// withUnit adds the unit to a number that was typed without one.
func withUnit(typed string, k units.Kind, u units.System) string {
	typed = strings.TrimSpace(typed)
	unit := u.Unit(k)
	if unit == "" || typed == "" || typed[len(typed)-1] < '0' || typed[len(typed)-1] > '9' {
		return typed
	}
	if unit == "°" || unit == "%" && k == units.Angle {
		return typed + unit
	}
	return typed + " " + unit
}

// helpOf is a field's sentence, with the engineers' term for it.
func helpOf(x *design.Field, u units.System) string {
	help := x.Help
	if x.Term != "" {
		help += " (" + Capital(x.Term) + ".)"
	}
	return units.Localize(help, u)
}

// refuse puts a message at the field it is about.
func (f *Frame) refuse(path, typed, text string, half bool) {
	for i := range f.Panels {
		for j := range f.Panels[i].Fields {
			if x := &f.Panels[i].Fields[j]; x.Path == path {
				x.Error, x.Half, x.Value = text, half, typed
				f.Panels[i].Open = true
				return
			}
		}
	}
	f.Notice = text
}

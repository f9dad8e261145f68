package design

import (
	"cmp"
	"encoding/binary"
	"encoding/json"
	"fmt"
	"math"
	"runtime"
	"slices"

	"gladember/core/catalog"
	"gladember/core/units"
)

// Field is one thing that can be decided. It is declared once, as an [Of]; everything that reads, shows, checks or explains it follows
// from the declaration.
type Field struct {
	// Path is where the value stands in the document: the JSON names from its root, joined by points.
	Path string
	// Label is what a form calls it: a noun phrase that stands by itself.
	Label string
	// Term is the engineer's name, where it differs.
	Term string
	// Kind says what is measured, and by that the units.
	Kind units.Kind
	// Min and Max bound a number, in SI.
	Min, Max float64
	// Whole is set for a count, Text for free text, and Bool for yes or no.
	Whole, Text, Bool bool
	// Money is set for a sum, in the currency of the workshop.
	Money bool
	// Rows is set for a table, a line a row.
	Rows *Rows
	// Choices are the ids of a list, with their names.
	Choices func() []catalog.Choice
	// Among are those of them that a heater may have; nil for all.
	Among func(h *Heater) []catalog.Choice
	// Per names what a sum is for one of.
	Per func(h *Heater) string
	// Words name values of a number that mean more than it; they may be typed for it. A single one stands for
	// the absence of the thing or for a value that is not known. Several make a count a list to choose from, as
	// months are: all values then have one.
	Words []Word
	// Default is the value that we put; without one the value is not known.
	Default func(h *Heater) any
	// When says for which heaters the field means something; nil for all.
	When func(h *Heater) bool
	// Help is one plain sentence.
	Help string
	// Stays is set where our value is put once, with what it belongs to, and not derived again.
	Stays bool
	// Since is the schema that brought the field; zero means the first.
	Since int
	// Group is the heading under which it is edited.
	Group *Group
	// Affects says which results depend on it; zero for those that its section names.
	Affects Effect
	// Document is the one that holds it, by its section.
	Document Document

	value value
	line  int // of its declaration
}

// value reaches the place of a field's value in a heater.
type value interface {
	// get returns the value as a float64, an int, a string, a bool or a slice; nil where the heater has no such member.
	get(h *Heater) any
	// set puts a value of one of those kinds there, and makes the member that holds it.
	set(h *Heater, v any)
	// empty puts the zero value there, unless the member is missing.
	empty(h *Heater)
	// part gives a slice its own copy in h, so that it is shared with no other heater.
	part(h *Heater)
	// write appends the value to a key, in a form that is the same for equal values alone.
	write(h *Heater, key []byte) []byte
}

// Of is a field whose value is a T.
type Of[T any] struct {
	*Field
	// at is the value's place; nil where the heater has no such member, which create makes.
	at func(h *Heater, create bool) *T
}

// In returns the value in a heater; the zero value where it has no such member.
func (of *Of[T]) In(h *Heater) (v T) {
	if p := of.at(h, false); p != nil {
		v = *p
	}
	return v
}

// Ref is a field, by its declaration or as one of [Fields].
type Ref interface{ Declaration() *Field }

// Declaration returns the field itself.
func (f *Field) Declaration() *Field { return f }

// Applies reports whether the field means something for the heater.
func (f *Field) Applies(h *Heater) bool { return f.When == nil || f.When(h) }

// Get returns the field's value in a heater: float64, int, string, bool, or rows as their slice; nil where the heater has no such
// member.
func (f *Field) Get(h *Heater) any { return f.value.get(h) }

// Number returns the value as a float64, 0 where it is none. Whole numbers are returned as they are.
func (f *Field) Number(h *Heater) float64 {
	switch v := f.Get(h).(type) {
	case float64:
		return v
	case int:
		return float64(v)
	}
	return 0
}

// ListChoices returns the choices that a heater has.
func (f *Field) ListChoices(h *Heater) []catalog.Choice {
	if f.Among != nil {
		return f.Among(h)
	}
	return f.Choices()
}

// clear empties a field that means nothing for the heater, so that no part of the program meets a value that nobody checked.
// A choice goes back to a name that is known, anything else to its zero value.
func (f *Field) clear(h *Heater) {
	if f.Choices != nil && f.Default != nil && f.value.get(h) != nil {
		f.value.set(h, f.Default(h))
		return
	}
	f.value.empty(h)
}

// Entry returns how the value of a field came to be; the zero value where it is ours.
func (h *Heater) Entry(r Ref) Entry { return h.Entries[r.Declaration().Path] }

// Given says whether the value of a field is not ours: it was typed, chosen or measured.
func (h *Heater) Given(r Ref) bool {
	_, given := h.Entries[r.Declaration().Path]
	return given
}

// release gives the values of fields back to us; [Refresh] then derives them.
func (h *Heater) release(rs ...Ref) {
	for _, r := range rs {
		delete(h.Entries, r.Declaration().Path)
	}
}

// Set is the change of a field to a value, SI.
func Set[T any](f *Of[T], v T) Change { return Change{Path: f.Path, Value: plain(v)} }

// Enter is the change of a field to what was typed for it.
func Enter(r Ref, typed string) Change { return Change{Path: r.Declaration().Path, Typed: typed} }

// Reset gives a field back to our estimate.
func Reset(r Ref) Change { return Change{Path: r.Declaration().Path, Origin: Ours} }

// Measure is the change of a field to a value that was measured with standard uncertainty u, both SI.
func Measure(f *Of[float64], v, u float64) Change {
	return Change{Path: f.Path, Value: v, Origin: Measured, U: u}
}

// Changes says whether the change is one of a field.
func (c *Change) Changes(r Ref) bool { return c.Path == r.Declaration().Path }

// plain is a value as [Field.Get] returns it.
func plain(v any) any {
	switch x := v.(type) {
	case Family:
		return string(x)
	case RoomKind:
		return string(x)
	case FlowIs:
		return string(x)
	}
	return v
}

// Effect says which results depend on a field's value; a set of the flags below.
type Effect uint

const (
	// Physics is the heat balance of the box in given weather.
	Physics Effect = 1 << iota
	// Sun is the sun on the glass.
	Sun
	// Weather is the air and the sky of the place, through the year and at the noon that the box is judged by.
	Weather
	// Space is the heat that the room needs.
	Space
	// Control is when the fan runs.
	Control
	// Costs is what the heat is worth.
	Costs
	// Site is what the place asks of an installation, and Making how the box is cut, bought and built.
	Making
	// Workplace is the saw, what is sold, and when and where things are built.
	Workplace
	// Reading is how a log is turned into heat.
	Reading
	// Naming changes no result.
	Naming

	// Judged are the effects on which the judgment of a heater depends, at its noon and through its year.
	Judged = Physics | Sun | Weather | Space | Control | Costs | Making
)

// Key is the part of a heater on which results of some effects depend, as text that is equal for equal parts alone. What was typed for
// a value does not count; whose it is, and how sure it is, does.
func (h *Heater) Key(effects Effect) string {
	key := binary.LittleEndian.AppendUint32(make([]byte, 0, 2048), uint32(effects))
	for i, f := range Fields {
		if f.Affects&effects == 0 {
			continue
		}
		key = f.value.write(h, binary.LittleEndian.AppendUint16(key, uint16(i)))
		if e, given := h.Entries[f.Path]; given {
			key = binary.LittleEndian.AppendUint64(append(append(key, e.Origin...), 0), math.Float64bits(e.U))
		}
	}
	return string(key)
}

// section declares the fields of one part of the document.
type section[S any] struct {
	path    string
	at      func(h *Heater, create bool) *S
	affects Effect
	// document holds the part; zero is the heater's own.
	document Document
	fields   []*Field
}

// of puts a section into another document than the heater's own.
func (s *section[S]) of(d Document) *section[S] {
	s.document = d
	return s
}

// in is the section of a part that each heater has.
func in[S any](path string, at func(*Heater) *S, affects Effect) *section[S] {
	return &section[S]{path: path, at: func(h *Heater, _ bool) *S { return at(h) }, affects: affects}
}

// inMember is the section of a member of the absorber, which a heater has whose family names it.
func inMember[S any](path string, at func(*Absorber) **S) *section[S] {
	return &section[S]{path: path, affects: Physics | Making, at: func(h *Heater, create bool) *S {
		p := at(&h.Absorber)
		if *p == nil && create {
			*p = new(S)
		}
		return *p
	}}
}

// declared returns the section's fields in the order of their lines: Go initializes a variable only after those that it refers to.
func (s *section[S]) declared() []*Field {
	slices.SortStableFunc(s.fields, func(a, b *Field) int { return cmp.Compare(a.line, b.line) })
	return s.fields
}

// declare adds a field to its section. It is called by the functions that the declarations call.
func declare[S, T any](s *section[S], key string, at func(*S) *T, f Field, as func(func(*Heater, bool) *T) value) *Of[T] {
	f.Path = s.path + key
	_, _, f.line, _ = runtime.Caller(2)
	f.Document = s.document
	if f.Affects == 0 {
		f.Affects = s.affects
	}
	of := &Of[T]{&f, func(h *Heater, create bool) *T {
		if p := s.at(h, create); p != nil {
			return at(p)
		}
		return nil
	}}
	f.value = as(of.at)
	s.fields = append(s.fields, of.Field)
	return of
}

func number[S any](s *section[S], key string, at func(*S) *float64, f Field) *Of[float64] {
	return declare(s, key, at, f, func(at func(*Heater, bool) *float64) value { return floatAt(at) })
}

func count[S any](s *section[S], key string, at func(*S) *int, f Field) *Of[int] {
	f.Whole = true
	return declare(s, key, at, f, func(at func(*Heater, bool) *int) value { return intAt(at) })
}

func yesNo[S any](s *section[S], key string, at func(*S) *bool, f Field) *Of[bool] {
	f.Bool = true
	return declare(s, key, at, f, func(at func(*Heater, bool) *bool) value { return boolAt(at) })
}

func text[S any](s *section[S], key string, at func(*S) *string, f Field) *Of[string] {
	f.Text = true
	return declare(s, key, at, f, func(at func(*Heater, bool) *string) value { return textAt[string](at) })
}

func choice[S any, T ~string](s *section[S], key string, at func(*S) *T, f Field) *Of[T] {
	return declare(s, key, at, f, func(at func(*Heater, bool) *T) value { return textAt[T](at) })
}

func table[S, E any](s *section[S], key string, at func(*S) *[]E, f Field) *Of[[]E] {
	return declare(s, key, at, f, func(at func(*Heater, bool) *[]E) value { return rowsAt[E](at) })
}

// The places of values of the kinds that a document has.
type (
	floatAt           func(h *Heater, create bool) *float64
	intAt             func(h *Heater, create bool) *int
	boolAt            func(h *Heater, create bool) *bool
	textAt[T ~string] func(h *Heater, create bool) *T
	rowsAt[E any]     func(h *Heater, create bool) *[]E
)

func (at floatAt) get(h *Heater) any   { return got(at(h, false)) }
func (at intAt) get(h *Heater) any     { return got(at(h, false)) }
func (at boolAt) get(h *Heater) any    { return got(at(h, false)) }
func (at rowsAt[E]) get(h *Heater) any { return got(at(h, false)) }
func (at textAt[T]) get(h *Heater) any {
	if p := at(h, false); p != nil {
		return string(*p)
	}
	return nil
}

// got is the value at a place; nil without one.
func got[T any](p *T) any {
	if p == nil {
		return nil
	}
	return *p
}

func (at floatAt) set(h *Heater, v any) {
	switch n := v.(type) {
	case int:
		fill(at(h, true), float64(n))
	case float64:
		fill(at(h, true), n)
	}
}

func (at intAt) set(h *Heater, v any) {
	switch n := v.(type) {
	case int:
		fill(at(h, true), n)
	case float64:
		fill(at(h, true), int(math.Round(n)))
	}
}

func (at boolAt) set(h *Heater, v any) {
	b, _ := v.(bool)
	fill(at(h, true), b)
}

func (at textAt[T]) set(h *Heater, v any) { fill(at(h, true), T(fmt.Sprint(v))) }

func (at rowsAt[E]) set(h *Heater, v any) {
	if rows, ok := v.([]E); ok {
		fill(at(h, true), rows)
	}
}

// fill puts a value at a place, if there is one: a passage that was taken away has none.
func fill[T any](p *T, v T) {
	if p != nil {
		*p = v
	}
}

func (at floatAt) empty(h *Heater)   { zero(at(h, false)) }
func (at intAt) empty(h *Heater)     { zero(at(h, false)) }
func (at boolAt) empty(h *Heater)    { zero(at(h, false)) }
func (at textAt[T]) empty(h *Heater) { zero(at(h, false)) }
func (at rowsAt[E]) empty(h *Heater) { zero(at(h, false)) }

// zero empties a place, if there is one.
func zero[T any](p *T) {
	if p != nil {
		var none T
		*p = none
	}
}

func (floatAt) part(*Heater)   {}
func (intAt) part(*Heater)     {}
func (boolAt) part(*Heater)    {}
func (textAt[T]) part(*Heater) {}
func (at rowsAt[E]) part(h *Heater) {
	if p := at(h, false); p != nil {
		*p = slices.Clone(*p)
	}
}

func (at floatAt) write(h *Heater, key []byte) []byte {
	if p := at(h, false); p != nil {
		return binary.LittleEndian.AppendUint64(key, math.Float64bits(*p))
	}
	return key
}

func (at intAt) write(h *Heater, key []byte) []byte {
	if p := at(h, false); p != nil {
		return binary.LittleEndian.AppendUint64(key, uint64(*p))
	}
	return key
}

func (at boolAt) write(h *Heater, key []byte) []byte {
	if p := at(h, false); p != nil && *p {
		return append(key, 1)
	}
	return append(key, 0)
}

func (at textAt[T]) write(h *Heater, key []byte) []byte {
	if p := at(h, false); p != nil {
		key = binary.LittleEndian.AppendUint32(key, uint32(len(*p)))
		return append(key, *p...)
	}
	return key
}

func (at rowsAt[E]) write(h *Heater, key []byte) []byte {
	if p := at(h, false); p != nil {
		b, err := json.Marshal(*p)
		if err != nil { // a number that is none: no two of them are known to be the same
			b = fmt.Appendf(nil, "%p", h)
		}
		return append(binary.LittleEndian.AppendUint32(key, uint32(len(b))), b...)
	}
	return key
}

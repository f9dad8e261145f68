package design

import (
	"bytes"
	"encoding/json"
	"fmt"
	"io"
	"maps"
	"reflect"
	"strings"

	"gladember/core/units"
)

// Document is one of the three documents that together say all that is known of a heater: its own, that of the workshop, which all
// heaters of a builder share, and that of the log. Each has its own edits. In memory they are one [Heater]; a file of a heater may hold
// all three.
type Document uint8

// The documents.
const (
	// HeaterDocument says what a heater is, and where.
	HeaterDocument Document = iota
	// WorkshopDocument says what does not depend on what is built.
	WorkshopDocument
	// LogDocument says how readings of one version of a heater are turned into heat.
	LogDocument
)

// Part is one document of a heater, in its canonical form. The heater's own has all its values. The others have those that somebody gave:
// ours follow from each heater, and a workshop has several. The error is that of a value which JSON cannot hold.
func (h *Heater) Part(d Document) ([]byte, error) {
	if d == HeaterDocument {
		own := *h
		own.Workshop, own.Log, own.Entries = Workshop{}, Log{}, h.entriesOf(d)
		return Encode(own)
	}
	doc := map[string]any{"schema": Schema, "entries": h.entriesOf(d)}
	for _, f := range Fields {
		if f.Document != d || !h.Given(f) {
			continue
		}
		names := strings.Split(f.Path, ".")
		in := doc
		for _, name := range names[:len(names)-1] {
			if in[name] == nil {
				in[name] = map[string]any{}
			}
			in = in[name].(map[string]any)
		}
		in[names[len(names)-1]] = f.Get(h)
	}
	return written(doc)
}

// entriesOf are the entries of a document's fields.
func (h *Heater) entriesOf(d Document) map[string]Entry {
	es := map[string]Entry{}
	for path, e := range h.Entries {
		if f := FieldAt(path); f != nil && f.Document == d {
			es[path] = e
		}
	}
	return es
}

// Join is a heater with its other documents, as [Heater.Part] wrote them; nil stands for one in which nobody gave anything. What a heater's
// document of an older schema says of its workshop and its log is left out, see [Decode].
func Join(heater, workshop, log []byte) (Heater, error) {
	h, err := Decode(heater)
	if err != nil {
		return h, err
	}
	for d, text := range map[Document][]byte{WorkshopDocument: workshop, LogDocument: log} {
		if err := h.Replace(d, text); err != nil {
			return h, err
		}
	}
	return h, nil
}

// Replace puts another workshop or log in the place of the one that a heater has. The error is that of [Decode]; the heater is then to be
// thrown away.
func (h *Heater) Replace(d Document, text []byte) error {
	if h.Entries == nil {
		h.Entries = map[string]Entry{}
	}
	for _, f := range Fields {
		if f.Document == d {
			delete(h.Entries, f.Path)
		}
	}
	if len(text) > 0 {
		given := *h
		given.Entries = nil
		dec := json.NewDecoder(bytes.NewReader(text))
		dec.DisallowUnknownFields()
		if err := dec.Decode(&given); err != nil {
			return fmt.Errorf("not a document of a workshop or a log: %w", err)
		}
		if _, err := dec.Token(); err != io.EOF || given.Schema != Schema {
			return fmt.Errorf("the document has schema %d; this program reads schema %d", given.Schema, Schema)
		}
		h.Workshop, h.Log = given.Workshop, given.Log
		maps.Copy(h.Entries, given.entriesOf(d))
	}
	for _, f := range Fields {
		if f.Document == d && !h.Given(f) {
			h.ours(f)
		}
	}
	if ps := Validate(h); len(ps) > 0 {
		return &ps[0]
	}
	return nil
}

// lacking derives those values of workshop and log that a file of a heater does not have.
func (h *Heater) lacking(file []byte) {
	var parts map[string]any
	if json.Unmarshal(file, &parts) != nil {
		return
	}
	for _, f := range Fields {
		if f.Document == HeaterDocument {
			continue
		}
		var there any = parts
		for name := range strings.SplitSeq(f.Path, ".") {
			m, _ := there.(map[string]any)
			there = m[name]
		}
		if there == nil && reflect.ValueOf(f.Get(h)).IsZero() {
			h.ours(f)
		}
	}
}

// ours puts our value into a field.
func (h *Heater) ours(f *Field) {
	switch {
	case !f.Applies(h) || f.Default == nil:
		f.clear(h)
	default:
		f.value.set(h, f.Default(h))
	}
}

// Adopt takes the value of a field over from another heater, with how it came to be there.
func (h *Heater) Adopt(f *Field, from *Heater, e Entry) {
	n := from.Clone() // a table is shared with nobody
	f.value.set(h, f.Get(&n))
	h.Entries[f.Path] = e
}

// UnitsChanges are the changes by which a workshop shows its figures in some units.
func UnitsChanges(u units.System) []Change {
	length, temperature, decimal := "mm", "C", "point"
	if u.Inches {
		length = "in"
	}
	if u.Fahrenheit {
		temperature = "F"
	}
	if u.DecimalComma {
		decimal = "comma"
	}
	return []Change{Set(WorkshopLength, length), Set(WorkshopTemperature, temperature), Set(WorkshopDecimal, decimal)}
}

// Units are those in which a workshop shows its figures, where usual are those of the builder's country.
func (w *Workshop) Units(usual units.System) units.System {
	chosen := func(said, one, other string, usual bool) bool { return said == other || said != one && usual }
	return units.System{Inches: chosen(w.Length, "mm", "in", usual.Inches), Fahrenheit: chosen(w.Temperature, "C", "F", usual.Fahrenheit),
		DecimalComma: chosen(w.Decimal, "point", "comma", usual.DecimalComma)}
}

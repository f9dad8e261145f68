package design

import (
	"bytes"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"math"
	"reflect"
	"slices"
)

// Clone returns a copy that shares nothing with h.
// Every pointer, slice and map is copied; a test walks the type and asks for
// it.
func (h Heater) Clone() Heater {
	for _, m := range members {
		m.part(&h.Absorber)
	}
	if o := h.Absorber.Own; o != nil {
		o.Passages = slices.Clone(o.Passages)
	}
	for _, f := range tables {
		f.value.part(&h)
	}
	e := make(map[string]Entry, len(h.Entries))
	for k, v := range h.Entries {
		e[k] = v
	}
	h.Entries = e
	return h
}

// Encode writes the document in its one canonical form: the same heater is
// always the same bytes.
// Keys are in the order of the types, entries in the order of the alphabet, two
// spaces to a level, no escaping of letters. The error is that of a value which
// JSON cannot hold, such as a number that is none.
func Encode(h Heater) ([]byte, error) {
	if len(h.Entries) == 0 {
		h.Entries = nil
	}
	return written(h)
}

// written is a document as JSON.
func written(doc any) ([]byte, error) {
	var b bytes.Buffer
	enc := json.NewEncoder(&b)
	enc.SetEscapeHTML(false)
	enc.SetIndent("", "  ")
	if err := enc.Encode(doc); err != nil {
		return nil, fmt.Errorf("writing the heater: %w", err)
	}
	return b.Bytes(), nil
}

// MaxDocument bounds a document's size in bytes.
const MaxDocument = 1 << 20

// Decode reads one document and validates it. The error names the field, what
// is wrong and what would be right.
// Documents of older schemas are brought up first; those hold what is now in documents of its own. Of a workshop and a log that the
// file leaves out, ours are put. Fields that mean nothing for the heater are emptied, as [Refresh] would, without deriving anything else.
func Decode(data []byte) (Heater, error) {
	var h Heater
	if len(data) > MaxDocument {
		return h, fmt.Errorf("the file holds %d bytes; a heater is under %d", len(data), MaxDocument)
	}
	if key, err := repeated(data); err == nil && key != "" {
		return h, fmt.Errorf("%s is there twice; keep one of the two", key)
	}
	data, err := upgrade(data)
	if err != nil {
		return h, err
	}
	dec := json.NewDecoder(bytes.NewReader(data))
	// A misspelled field would otherwise be taken for one that was left out.
	dec.DisallowUnknownFields()
	if err := dec.Decode(&h); err != nil {
		var te *json.UnmarshalTypeError
		switch {
		case errors.As(err, &te):
			return h, fmt.Errorf("%s holds a %s; it takes %s", te.Field, te.Value, inWords(te.Type.Kind()))
		case errors.Is(err, io.EOF):
			return h, errors.New("the file is empty; `gladember example` prints a heater to start from")
		}
		return h, fmt.Errorf("not a heater in JSON: %v; `gladember example` prints one to start from", err)
	}
	// Two heaters in a file would leave the second one unread.
	if _, err := dec.Token(); err != io.EOF {
		return h, errors.New("the file goes on after the heater's closing brace; keep one heater a file")
	}
	if h.Schema != Schema {
		return h, fmt.Errorf("schema is %d; this program reads schema %d", h.Schema, Schema)
	}
	h.lacking(data)
	if ps := Validate(&h); len(ps) > 0 {
		return h, &ps[0]
	}
	for _, f := range Fields {
		if !f.Applies(&h) {
			f.clear(&h)
		}
	}
	return h, nil
}

// inWords names a kind of JSON value as an error says it.
func inWords(k reflect.Kind) string {
	switch k {
	case reflect.Float64:
		return "a number"
	case reflect.Int:
		return "a whole number"
	case reflect.String:
		return "a text"
	case reflect.Bool:
		return "true or false"
	}
	return "an object, as `gladember example` shows"
}

// finite is false for infinities and for what is not a number.
func finite(v float64) bool { return !math.IsNaN(v) && !math.IsInf(v, 0) }

// repeated is the path of a key that an object of a document has twice, of which encoding/json
// would silently take the last. Text that is no JSON is an error, which the decoder tells better.
func repeated(data []byte) (path string, err error) {
	type level struct {
		keys  map[string]bool // nil in an array
		value bool            // the next token is the value of a key
		name  string
	}
	var in []level
	d := json.NewDecoder(bytes.NewReader(data))
	for {
		t, err := d.Token()
		if err == io.EOF {
			return "", nil
		}
		if err != nil {
			return "", err
		}
		top := len(in) - 1
		if key, ok := t.(string); ok && top >= 0 && in[top].keys != nil && !in[top].value {
			if in[top].keys[key] {
				for _, l := range in[:top] {
					path += l.name + "."
				}
				return path + key, nil
			}
			in[top].keys[key], in[top].name, in[top].value = true, key, true
			continue
		}
		if top >= 0 {
			in[top].value = false
		}
		switch t {
		case json.Delim('{'):
			in = append(in, level{keys: map[string]bool{}})
		case json.Delim('['):
			in = append(in, level{name: "[]"})
		case json.Delim('}'), json.Delim(']'):
			in = in[:top]
		}
	}
}

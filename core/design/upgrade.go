package design

import (
	"bytes"
	"encoding/json"
	"fmt"
	"maps"
	"slices"
	"strings"
)

// upgrade brings a document of an older schema to the present one. It is pure:
// what the old one said stays, what it did not know takes our value.
// Data that is no document, or one of this schema or a later one, is returned
// as it is. The error is only that of writing it again.
func upgrade(data []byte) ([]byte, error) {
	// Schema first: it decides how the rest is read.
	var v struct {
		Schema int `json:"schema"`
	}
	if err := json.Unmarshal(data, &v); err != nil || v.Schema < 1 || v.Schema >= Schema {
		return data, nil // not ours to judge: the reader says what is wrong
	}
	var doc map[string]any
	if err := json.Unmarshal(data, &doc); err != nil {
		return data, nil
	}
	if v.Schema == 1 {
		fromFirst(doc)
	}
	for _, x := range renamed {
		rename(doc, x[0], x[1])
	}
	for _, x := range moved {
		move(doc, x[0], x[1])
	}
	doc["schema"] = Schema
	b, err := json.Marshal(doc)
	if err != nil {
		return nil, fmt.Errorf("bringing the heater to schema %d: %w", Schema, err)
	}
	var h Heater
	dec := json.NewDecoder(strings.NewReader(string(b)))
	// What this finds wrong is told by [Decode], with better words.
	dec.DisallowUnknownFields()
	if err := dec.Decode(&h); err != nil {
		return b, nil
	}
	// Some documents of schema 3 were written before these came in, and facts
	// of the weather that nobody gave were left out of it.
	late := v.Schema == 3
	// A field that came later takes our value, not zero.
	for _, f := range Fields {
		since := f.Since
		if _, given := h.Entries[f.Path]; late && !given && slices.Contains(lateFields, f.Path) &&
			(strings.HasPrefix(f.Path, "climate.") || !bytes.Contains(data, []byte(`"bends_before"`))) {
			since = Schema
		}
		if said := v.Schema == 1 && f.Path == "switch.kind"; since > v.Schema && !said && f.Default != nil && f.Applies(&h) {
			f.value.set(&h, f.Default(&h))
		}
	}
	return Encode(h)
}

// renamed are the fields that schema 6 calls by the trade's own words, from the
// old path to the new one.
var renamed = [][2]string{{"room.draughts", "room.leakage"}, {"room.otherwise_c", "room.setback_c"}}

// rename moves a value and its entry from one path of two names to another in
// the same part of the document. A document that has both keeps the new one.
func rename(doc map[string]any, from, to string) {
	part, old, _ := strings.Cut(from, ".")
	_, now, _ := strings.Cut(to, ".")
	move := func(m map[string]any, old, now string) {
		v, has := m[old]
		if _, both := m[now]; has && !both {
			m[now] = v
		}
		delete(m, old)
	}
	if m, ok := doc[part].(map[string]any); ok {
		move(m, old, now)
	}
	if m, ok := doc["entries"].(map[string]any); ok {
		move(m, from, to)
	}
}

// moved are the parts of the document that schema 11 put elsewhere, when workshop and log became documents of their own.
var moved = [][2]string{{"cut", "workshop.cut"}, {"bench", "workshop.bench"}, {"log.useful_c", "room.useful_c"}}

// move puts a part of the document, with its entries, elsewhere. A document that has both keeps the new one.
func move(doc map[string]any, from, to string) {
	part := func(path string) (in map[string]any, name string) {
		names := strings.Split(path, ".")
		in = doc
		for _, n := range names[:len(names)-1] {
			if in[n] == nil {
				in[n] = map[string]any{}
			}
			if in, _ = in[n].(map[string]any); in == nil {
				return nil, ""
			}
		}
		return in, names[len(names)-1]
	}
	was, old := part(from)
	if v, has := was[old]; has {
		if now, name := part(to); now != nil && now[name] == nil {
			now[name] = v
		}
		delete(was, old)
	}
	es, _ := doc["entries"].(map[string]any)
	for path, e := range maps.Clone(es) {
		if rest, ok := strings.CutPrefix(path, from); ok && (rest == "" || rest[0] == '.') {
			es[to+rest] = e
			delete(es, path)
		}
	}
}

// lateFields came into schema 3 after its first documents.
var lateFields = []string{"climate.coldest_c", "climate.warmest_c", "climate.sunny_days", "air.bends_before", "air.grilles_before",
	"wall.left_m", "wall.first_stud_m", "wall.stud_width_m", "wall.bottom_m"}

// fromFirst brings what schema 1 named otherwise to the names of schema 2.
// Entries move with the values that they belong to.
func fromFirst(doc map[string]any) {
	// Schema 1 had snap discs alone.
	if s, ok := doc["switch"].(map[string]any); ok && s["kind"] == nil {
		s["kind"] = "snap"
	}
	// Schema 1 called the plate by the one family that had it, and a flap was
	// there or not.
	if a, ok := doc["absorber"].(map[string]any); ok {
		if p, ok := a["back_pass"]; ok {
			a["plate"] = p
			delete(a, "back_pass")
		}
	}
	if a, ok := doc["air"].(map[string]any); ok {
		if on, ok := a["flap"].(bool); ok {
			a["flap"] = map[bool]string{true: "membrane", false: "none"}[on]
		}
	}
	if es, ok := doc["entries"].(map[string]any); ok {
		for path, e := range es {
			if rest, ok := strings.CutPrefix(path, "absorber.back_pass."); ok {
				es["absorber.plate."+rest] = e
				delete(es, path)
			}
			if m, ok := e.(map[string]any); ok && path == "air.flap" {
				delete(m, "typed")
			}
		}
	}
}

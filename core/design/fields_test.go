package design

import (
	"encoding/json"
	"fmt"
	"os"
	"reflect"
	"strings"
	"testing"

	"gladember/core/units"
)

// wholeHeaters are heaters that together have every field: the examples, each with what few have.
func wholeHeaters(t *testing.T) (hs []Heater) {
	t.Helper()
	for _, name := range ExampleNames() {
		h, err := Named(name)
		if err != nil {
			t.Fatal(err)
		}
		hs = append(hs, h)
	}
	for _, changes := range [][]Change{
		{Set(AirDrive, "panel"), Set(AirFans, 2), Set(AirFansJoin, "staged"), Set(SecondMover, "stairs"), Set(GuardKind, "shutter"),
			Set(CoverLayers, 2), Set(BoxBody, "sheet")},
		{Set(SwitchKind, "timer"), Set(MirrorLength, 0.5), Set(ShadeEaveDepth, 0.4), Set(ShadeFinLeft, 0.2), Set(GuardKind, "vent"),
			Set(LogFlowIs, ByMeasure), Set(PlaceSnowFrom, 11), Set(CoverCoveredFrom, 5), Set(WallBetween, 2.5), Set(WallStud, 0.6)},
		{Set(ArrayBoxes, 4), Set(ArrayJoin, "groups"), Set(AirSource, "outdoors"), Set(SecondMover, "blower"), Set(SwitchKind, "snap"),
			Set(RoomHeater, "oil")},
	} {
		h, err := Apply(New(), units.System{}, changes...)
		if err != nil {
			t.Fatal(err)
		}
		hs = append(hs, h)
	}
	return hs
}

// at is the value of a document in JSON at a path.
func at(doc any, path string) any {
	for _, name := range strings.Split(path, ".") {
		switch x := doc.(type) {
		case map[string]any:
			doc = x[name]
		case []any:
			var i int
			if _, err := fmt.Sscan(name, &i); err != nil || i >= len(x) {
				return nil
			}
			doc = x[i]
		default:
			return nil
		}
	}
	return doc
}

func inJSON(t *testing.T, h Heater) map[string]any {
	t.Helper()
	b, err := Encode(h)
	if err != nil {
		t.Fatal(err)
	}
	var doc map[string]any
	if err := json.Unmarshal(b, &doc); err != nil {
		t.Fatal(err)
	}
	return doc
}

// another is a value that a field does not have, unlike any that it may have.
func another(v any) any {
	switch x := v.(type) {
	case float64:
		return x + 1.5
	case int:
		return x + 1
	case bool:
		return !x
	case string:
		return x + "?"
	}
	return nil
}

// A field reads and writes the value of the document that its path names, and no other.
func TestFieldsReachTheirPlace(t *testing.T) {
	reached := map[string]bool{}
	for _, h := range wholeHeaters(t) {
		doc := inJSON(t, h)
		for _, f := range Fields {
			v := f.Get(&h)
			next := another(v)
			if v == nil || next == nil || reached[f.Path] {
				continue
			}
			if there := at(doc, f.Path); fmt.Sprint(there) != fmt.Sprint(v) {
				t.Errorf("%s is %v, the document says %v", f.Path, v, there)
			}
			reached[f.Path] = true
			n := h.Clone()
			f.value.set(&n, next)
			after := inJSON(t, n)
			if fmt.Sprint(at(after, f.Path)) != fmt.Sprint(next) {
				t.Errorf("%s was set to %v and is %v", f.Path, next, at(after, f.Path))
			}
			f.value.set(&n, v)
			if !reflect.DeepEqual(inJSON(t, n), doc) {
				t.Errorf("setting %s changes more than it", f.Path)
			}
		}
	}
	for _, f := range Fields {
		if !reached[f.Path] && f.Rows == nil && !strings.Contains(f.Path, "passages.2") && !strings.Contains(f.Path, "passages.3") {
			t.Errorf("no heater of this test has %s", f.Path)
		}
	}
}

// Every value of the document is a field's, and every field says where it is edited, what depends on it, and a value of its own kind.
func TestEveryValueIsDeclared(t *testing.T) {
	declared := map[string]bool{}
	for _, f := range Fields {
		declared[f.Path] = true
		if f.Group == nil || f.Affects == 0 {
			t.Errorf("%s has no group, or affects nothing", f.Path)
		}
		if f.line == 0 {
			t.Errorf("%s has no line", f.Path)
		}
	}
	for _, h := range wholeHeaters(t) {
		for _, f := range Fields {
			if v := f.Get(&h); v != nil && f.Default != nil && f.Applies(&h) && reflect.TypeOf(f.Default(&h)) != reflect.TypeOf(v) {
				t.Errorf("our value of %s is a %T, its value a %T", f.Path, f.Default(&h), v)
			}
		}
		var walk func(path string, v any)
		walk = func(path string, v any) {
			if m, ok := v.(map[string]any); ok && path != "entries" {
				for k, x := range m {
					walk(strings.TrimPrefix(path+"."+k, "."), x)
				}
				return
			}
			if rows, ok := v.([]any); ok && path == "absorber.own.passages" {
				for i, x := range rows {
					walk(fmt.Sprintf("%s.%d", path, i), x)
				}
				return
			}
			if !declared[path] && path != "entries" && path != "schema" {
				t.Errorf("%s is no field", path)
			}
		}
		walk("", inJSON(t, h))
	}
}

// The stored form of a schema is kept: whoever changes it raises [Schema], brings older documents up in upgrade.go, keeps files of the
// schema before in testdata, says of a new field since when it is there, and writes the list anew.
func TestStoredForm(t *testing.T) {
	var b strings.Builder
	fmt.Fprintf(&b, "schema %d\n", Schema)
	for _, f := range Fields {
		kind := "number"
		switch {
		case f.Rows != nil:
			kind = "rows"
		case f.Bool:
			kind = "yes or no"
		case f.Choices != nil:
			kind = "choice"
		case f.Text:
			kind = "text"
		case f.Whole:
			kind = "count"
		}
		fmt.Fprintf(&b, "%s, %s, since %d\n", f.Path, kind, max(1, f.Since))
	}
	const kept = "testdata/stored.txt"
	was, err := os.ReadFile(kept)
	if os.Getenv("GLADEMBER_WRITE") != "" {
		was, err = []byte(b.String()), os.WriteFile(kept, []byte(b.String()), 0o644)
	}
	if err != nil {
		t.Fatal(err)
	}
	before := map[string]bool{}
	for _, l := range strings.Split(string(was), "\n") {
		before[l] = true
	}
	for _, l := range strings.Split(b.String(), "\n") {
		if !before[l] {
			t.Errorf("the stored form now has %q", l)
		}
		delete(before, l)
	}
	for l := range before {
		t.Errorf("the stored form no longer has %q", l)
	}
}

// A key changes with the values of its effects, with whose they are and how sure they are, and with no other.
func TestKeyByEffects(t *testing.T) {
	changed := 0
	for _, h := range wholeHeaters(t) {
		for _, f := range Fields {
			v := f.Get(&h)
			next := another(v)
			if v == nil || next == nil {
				continue
			}
			n := h.Clone()
			f.value.set(&n, next)
			changed++
			if h.Key(f.Affects) == n.Key(f.Affects) {
				t.Errorf("%s: the key of what depends on it stays", f.Path)
			}
			if h.Key(^f.Affects) != n.Key(^f.Affects) {
				t.Errorf("%s: the key of what does not depend on it changes", f.Path)
			}
			f.value.set(&n, v)
			if h.Key(^Effect(0)) != n.Key(^Effect(0)) {
				t.Errorf("%s: equal heaters have two keys", f.Path)
			}
			n.Entries[f.Path] = Entry{Typed: "7", Origin: Measured, U: 0.25}
			key := n.Key(f.Affects)
			n.Entries[f.Path] = Entry{Typed: "8", Origin: Measured, U: 0.5}
			if h.Key(f.Affects) == key || n.Key(f.Affects) == key {
				t.Errorf("%s: whose it is and how sure it is does not count", f.Path)
			}
			n.Entries[f.Path] = Entry{Typed: "9", Origin: Measured, U: 0.25}
			if n.Key(f.Affects) != key {
				t.Errorf("%s: what was typed counts", f.Path)
			}
		}
	}
	if changed < 1000 {
		t.Errorf("only %d values were changed", changed)
	}
	h := New()
	if n, err := Apply(h, units.System{}, Set(HeaterName, "Another"), Set(BenchHumidity, 0.3), Set(CutKerf, 0.004),
		Set(LogClockOff, 4)); err != nil ||
		n.Key(Judged) != h.Key(Judged) {
		t.Errorf("the judgment hangs on name, workplace, saw or log: %v", err)
	}
}

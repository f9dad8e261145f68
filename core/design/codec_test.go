package design

import (
	"bytes"
	"math/rand/v2"
	"reflect"
	"strings"
	"testing"

	"gladember/core/airflow"
	"gladember/core/units"
)

// shared returns the paths at which two values hold the same pointer, map or
// slice.
func shared(path string, a, b reflect.Value) (out []string) {
	switch a.Kind() {
	case reflect.Struct:
		for i := range a.NumField() {
			out = append(out, shared(path+"."+a.Type().Field(i).Name, a.Field(i), b.Field(i))...)
		}
	case reflect.Slice:
		if a.Len() == 0 {
			return nil
		}
		if a.Pointer() == b.Pointer() {
			return []string{path}
		}
		for i := range a.Len() {
			if a.Index(i).Kind() == reflect.Struct && a.Type() != reflect.TypeFor[[]ClimateMonth]() { // months are never written to
				out = append(out, shared(path, a.Index(i), b.Index(i))...)
			}
		}
	case reflect.Pointer, reflect.Map:
		if a.IsNil() {
			return nil
		}
		if a.Pointer() == b.Pointer() {
			return []string{path}
		}
		if a.Kind() == reflect.Pointer {
			return shared(path, a.Elem(), b.Elem())
		}
	}
	return out
}

// A clone shares no pointer, slice or map with what it was made of, in any
// family, and equals it.
func TestCloneSharesNothing(t *testing.T) {
	for _, n := range ExampleNames() {
		h, err := Named(n)
		if err != nil {
			t.Fatal(err)
		}
		h.Shade.Horizon = []Obstacle{{From: 10, To: 20, Elevation: 5}}
		h.Climate.Months = make([]ClimateMonth, 12)
		h.Room.Bills = []Bill{{Month: 1, Units: 100}}
		h.Air.FanTable = []airflow.FanPoint{{Flow: 0, Pressure: 50}, {Flow: 0.05, Pressure: 0}}
		h.Array.Others = []OtherBox{{Count: 1, Width: 0.5, Height: 1}}
		c := h.Clone()
		if !reflect.DeepEqual(h, c) {
			t.Errorf("%s: the clone differs", n)
		}
		for _, path := range shared(n, reflect.ValueOf(h), reflect.ValueOf(c)) {
			t.Errorf("%s is shared", path)
		}
	}
	h, _ := Named("screen-box")
	if got := shared("same", reflect.ValueOf(h), reflect.ValueOf(h)); len(got) == 0 {
		t.Error("the test finds nothing shared between a heater and itself")
	}
}

// Deriving our values again changes nothing: each follows from fields above it.
func TestRefreshIsSettled(t *testing.T) {
	r := rand.New(rand.NewPCG(11, 6))
	names := ExampleNames()
	made := 0
	for range 400 {
		h, err := Named(names[r.IntN(len(names))])
		if err != nil {
			t.Fatal(err)
		}
		for range 4 {
			f := Fields[r.IntN(len(Fields))]
			if !f.Applies(&h) || f.Rows != nil || f.Text || f.Bool {
				continue
			}
			var v any = f.Min + r.Float64()*(f.Max-f.Min)
			switch {
			case f.Choices != nil:
				cs := f.Choices()
				v = cs[r.IntN(len(cs))].ID
			case f.Whole:
				v = int(f.Min) + r.IntN(int(f.Max-f.Min)+1)
			}
			if n, err := Apply(h, units.System{}, Change{Path: f.Path, Value: v}); err == nil {
				h = n
				made++
			}
		}
		before, err := Encode(h)
		if err != nil {
			t.Fatal(err)
		}
		Refresh(&h)
		after, _ := Encode(h)
		if !bytes.Equal(before, after) {
			t.Fatalf("deriving again changed\n%s\ninto\n%s", before, after)
		}
	}
	if made < 300 {
		t.Errorf("only %d changes were made", made)
	}
}

// A key that stands twice is refused with its path, at any depth; the same key in another object, or as a text, is none.
func TestRepeatedKeys(t *testing.T) {
	doc, err := Encode(New())
	if err != nil {
		t.Fatal(err)
	}
	twice := strings.Replace(string(doc), `"width_m"`, `"width_m": 1, "width_m"`, 1)
	if _, err := Decode([]byte(twice)); err == nil || !strings.Contains(err.Error(), "pane.width_m is there twice") {
		t.Errorf("%v", err)
	}
	for text, want := range map[string]string{`{"a":1,"a":2}`: "a", `{"a":{"b":1},"b":[{"c":1,"d":{"c":2}},{"c":3}]}`: "",
		`{"a":[{"b":1,"b":2}]}`: "a.[].b", `{"a":"b","b":"a"}`: "", `[1,2]`: "", `{"a":{},"x":{"a":1,"y":null,"a":2}}`: "x.a"} {
		if got, err := repeated([]byte(text)); err != nil || got != want {
			t.Errorf("%s: %q, %v; want %q", text, got, err, want)
		}
	}
	for _, text := range []string{`{"a":`, `{`, `"`, ``, `{"a" 1}`} {
		if got, _ := repeated([]byte(text)); got != "" {
			t.Errorf("%q: %q", text, got)
		}
	}
}

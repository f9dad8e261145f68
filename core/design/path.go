package design

import (
	"fmt"
	"math"
	"reflect"
	"strconv"
	"strings"
	"sync"
)

// steps is a path as indices: of struct fields, and of a slice's element as
// its own negative less one.
var steps sync.Map // path -> []int

// stepsOf resolves the JSON names of a path against the document's type; nil
// where there is no such thing.
// A path is the JSON names from the document's root, joined by points, with the
// index of a slice's element as a number: "absorber.own.passages.0.depth_m".
func stepsOf(path string) []int {
	if v, ok := steps.Load(path); ok {
		return v.([]int)
	}
	var out []int
	t := reflect.TypeFor[Heater]()
	for _, name := range strings.Split(path, ".") {
		if t.Kind() == reflect.Pointer {
			t = t.Elem()
		}
		switch t.Kind() {
		case reflect.Slice:
			i, err := strconv.Atoi(name)
			if err != nil || i < 0 || i > 1000 {
				return nil
			}
			out, t = append(out, -1-i), t.Elem()
			continue
		case reflect.Struct:
		default:
			return nil
		}
		found := false
		for i := range t.NumField() {
			if tag, _, _ := strings.Cut(t.Field(i).Tag.Get("json"), ","); tag == name {
				out, t, found = append(out, i), t.Field(i).Type, true
				break
			}
		}
		if !found {
			return nil
		}
	}
	if FieldAt(path) != nil { // whatever else is asked for is not worth keeping
		steps.Store(path, out)
	}
	return out
}

// locate walks a path. A member of the union that is not there yields an
// invalid value, unless create is set, which makes it.
// It is the one place that uses reflection to reach a value.
func locate(h *Heater, path string, create bool) reflect.Value {
	way := stepsOf(path)
	if way == nil {
		return reflect.Value{}
	}
	v := reflect.ValueOf(h).Elem()
	for _, i := range way {
		if v.Kind() == reflect.Pointer {
			if v.IsNil() {
				if !create {
					return reflect.Value{}
				}
				v.Set(reflect.New(v.Type().Elem()))
			}
			v = v.Elem()
		}
		if i >= 0 {
			v = v.Field(i)
			continue
		}
		if -1-i >= v.Len() {
			return reflect.Value{}
		}
		v = v.Index(-1 - i)
	}
	return v
}

// Get returns the value at a field's path: float64, int, string or bool; nil
// where the heater has no such member.
// Fields' kinds are those that [Apply] takes. Rows come as their slice.
func Get(h *Heater, path string) any {
	v := locate(h, path, false)
	if !v.IsValid() {
		return nil
	}
	switch v.Kind() {
	case reflect.String:
		return v.String()
	case reflect.Int:
		return int(v.Int())
	}
	return v.Interface()
}

// Number returns the value at path as a float64, 0 where it is none.
// Whole numbers are returned as they are.
func Number(h *Heater, path string) float64 {
	switch v := Get(h, path).(type) {
	case float64:
		return v
	case int:
		return float64(v)
	}
	return 0
}

// put sets the value at a path of the document; the kinds are those that [read]
// returns.
func put(h *Heater, path string, value any) {
	v := locate(h, path, true)
	switch v.Kind() {
	case reflect.String:
		v.SetString(fmt.Sprint(value))
	case reflect.Int:
		switch n := value.(type) {
		case int:
			v.SetInt(int64(n))
		case float64:
			v.SetInt(int64(math.Round(n)))
		}
	case reflect.Float64:
		switch n := value.(type) {
		case int:
			v.SetFloat(float64(n))
		case float64:
			v.SetFloat(n)
		}
	case reflect.Bool:
		b, _ := value.(bool)
		v.SetBool(b)
	case reflect.Slice:
		if x := reflect.ValueOf(value); x.IsValid() && x.Type() == v.Type() {
			v.Set(x)
		}
	}
}

// absorberOf is the absorber as a copy of the document holds it.
// [wholes] compares it with what [keep] would leave.
func absorberOf(h *Heater) *Absorber { c := h.Clone(); return &c.Absorber }

package season

import (
	"reflect"
	"testing"

	"gladember/core/collector"
)

// Every field of a tuning is added; one that is forgotten would cost nothing in the year.
func TestTuningsAdd(t *testing.T) {
	var a, b collector.Tuning
	va, vb := reflect.ValueOf(&a).Elem(), reflect.ValueOf(&b).Elem()
	for i := range va.NumField() {
		va.Field(i).SetFloat(float64(i + 1))
		vb.Field(i).SetFloat(0.25)
	}
	sum := reflect.ValueOf(added(a, b))
	for i := range sum.NumField() {
		if got := sum.Field(i).Float(); got != float64(i+1)+0.25 {
			t.Errorf("%s is %v", sum.Type().Field(i).Name, got)
		}
	}
}

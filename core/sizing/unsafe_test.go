package sizing

import (
	"strings"
	"testing"
)

// A stock that is refused is told what stands in the way, in one sentence that says what to add.
func TestUnsafeSaysWhatToAdd(t *testing.T) {
	err := error(&Unsafe{ID: "too-hot-eps", Title: "Insulation will overheat"})
	text := err.Error()
	for _, want := range []string{"no box of this stock is safe: insulation will overheat", "mineral wool", "fan"} {
		if !strings.Contains(text, want) {
			t.Errorf("%q does not say %q", text, want)
		}
	}
	if strings.ContainsAny(text, "\n%") {
		t.Errorf("%q is no sentence", text)
	}
}

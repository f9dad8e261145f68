package season

import "testing"

func TestSpansOfMonths(t *testing.T) {
	for want, months := range map[string][]int{"": nil, "May": {5}, "May, June": {5, 6}, "January to March, May, October to December": {1,
		2, 3, 5, 10, 11, 12}} {
		if got := spans(months); got != want {
			t.Errorf("%v: %q, wanted %q", months, got, want)
		}
	}
}

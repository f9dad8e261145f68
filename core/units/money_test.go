package units

import (
	"errors"
	"testing"
)

// Sums are written as their country writes them and read however people write them.
func TestMoney(t *testing.T) {
	for _, x := range []struct {
		v    float64
		sign string
		want string
	}{
		{37, "$", "$37.00"}, {-4.5, "$", "−$4.50"}, {37, "€", "37.00 €"}, {4.5, "£", "£4.50"}, {25, "CHF", "25.00 CHF"}, {3, "", "3.00"},
	} {
		if got := Money(x.v, 2, x.sign, System{}); got != x.want {
			t.Errorf("%v in %s is %q, want %q", x.v, x.sign, got, x.want)
		}
	}
	for typed, want := range map[string]float64{"$18.50": 18.5, "$100": 100, "100 $": 100, "CHF 25": 25, "18.50 €": 18.5, "7": 7,
		"£ 3": 3} {
		if got, err := ParseMoney(typed, System{}); err != nil || got != want {
			t.Errorf("%q is %v, %v", typed, got, err)
		}
	}
	if got, err := ParseMoney("18,50 €", System{DecimalComma: true}); err != nil || got != 18.5 {
		t.Errorf("18,50 € is %v, %v", got, err)
	}
	var e *Error
	for _, typed := range []string{"$", "a lot", "$1$2", ""} {
		if _, err := ParseMoney(typed, System{}); !errors.As(err, &e) {
			t.Errorf("%q: %v", typed, err)
		}
	}
}

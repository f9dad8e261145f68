package units

import (
	"strings"
	"unicode"
)

// Money prints a sum with the sign of its currency, as the country of the currency writes it: $37.00, £4.50, 37.00 €, 37.00 CHF.
// Without a sign it is the number alone.
func Money(v float64, digits int, sign string, s System) string {
	text := Decimals(v, digits, s)
	if !strings.HasSuffix(sign, "$") && sign != "£" {
		return strings.TrimSpace(text + " " + sign)
	}
	if rest, negative := strings.CutPrefix(text, "-"); negative {
		return "−" + sign + rest
	}
	return sign + text
}

// ParseMoney reads a sum as people write it, with the sign or the letters of a currency before or behind: "$18.50", "100 $", "CHF 25",
// "18,50 €". The sign itself says nothing: a workshop counts in one currency.
func ParseMoney(typed string, s System) (float64, error) {
	sign := func(r rune) bool { return unicode.Is(unicode.Sc, r) || unicode.IsLetter(r) || r == ' ' }
	bare := strings.TrimFunc(strings.TrimSpace(typed), sign)
	v, err := Parse(Number, bare, s)
	if err != nil {
		return 0, &Error{typed, Number, bare == ""}
	}
	return v, nil
}

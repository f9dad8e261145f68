package season

import (
	"testing"

	"gladember/core/climate"
)

func BenchmarkSeason(b *testing.B) {
	for _, name := range []string{"back-pass-plate", "screen-box", "passive-tower"} {
		h := named(b, name)
		y, err := climate.Of(&h)
		if err != nil {
			b.Fatal(err)
		}
		s := y.Series(&h)
		b.Run(name, func(b *testing.B) {
			for range b.N {
				if _, err := RunIn(&h, s, ""); err != nil {
					b.Fatal(err)
				}
			}
		})
	}
}

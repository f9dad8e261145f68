package layout

import (
	"testing"

	"gladember/core/design"
)

// By 25 kg each; a wide pane takes two however light it is.
func TestLifters(t *testing.T) {
	for kg, want := range map[float64]int{0: 1, 5: 1, 25: 1, 26: 2, 60: 3} {
		if got := Lifters(kg); got != want {
			t.Errorf("%v kg for %d, by 25 kg each %d", kg, got, want)
		}
	}
	h := design.New()
	for _, c := range []struct {
		width, kg float64
		want      int
	}{{0.5, 4, 1}, {0.7, 4, 2}, {0.7, 60, 3}} {
		h.Pane.Width, h.Pane.Height = c.width, 1
		if got := PaneCarriers(&h, c.kg); got != c.want {
			t.Errorf("%v m2 of %v kg for %d, want %d", c.width, c.kg, got, c.want)
		}
	}
}

package layout

import (
	"math"
	"testing"

	"gladember/core/design"
	"gladember/core/units"
)

// Every part of every example has a letter of its own, a form, a joint, and holes that keep their web to all its edges.
func TestPartsAreWhole(t *testing.T) {
	for name, h := range examples(t) {
		l, err := Build(&h)
		if err != nil {
			t.Fatal(name, err)
		}
		seen := map[string]string{}
		drained := false
		for _, p := range l.Cut() {
			if other, twice := seen[p.Letter]; p.Letter == "" || twice {
				t.Errorf("%s: %s has the letter %q of %q", name, p.Name, p.Letter, other)
			}
			seen[p.Letter] = p.Name
			if p.Form == "" || p.Joint == "" && len(l.Others) == 0 {
				t.Errorf("%s: %s has the form %q and the joint %q", name, p.Name, p.Form, p.Joint)
			}
			for _, b := range p.Bores {
				w, ht := p.Length, p.Width
				if len(p.Places) > 0 {
					at := p.Places[len(p.Places)-1]
					if w, ht = at.W, at.H; p.Name == "bottom board" || p.Name == "header board" {
						ht = at.D
					}
				}
				r := b.Diameter / 2
				if web := math.Min(math.Min(b.X, w-b.X), math.Min(b.Y, ht-b.Y)) - r; web < 0.0005 {
					t.Errorf("%s: %s of %s at %v, %v leaves a web of %.1f mm in %v x %v", name, b.Name, p.Name, b.X, b.Y, 1000*web, w, ht)
				}
			}
			if p.Name == "bottom board" {
				drained = len(p.Bores) >= 2
				for i := range p.Bores[1:] {
					if gap := p.Bores[i+1].X - p.Bores[i].X; gap > drainSpacing+1e-9 {
						t.Errorf("%s: drain holes %v apart", name, gap)
					}
				}
			}
		}
		if h.Box.Body == "timber" && !h.Indoors() && !drained {
			t.Errorf("%s has no drain holes", name)
		}
	}
}

// A sleeve through a wall of 12 in for a duct of 6 in, by hand: the sheet is pi x 6 + 1 = 19.85 in by 12 + 2 = 14 in. A top
// flashing is as wide as 3 in up the wall, the box's depth with its stop, and 1 in down, less two bends.
func TestSleeveAndFlashingByHand(t *testing.T) {
	const inch = 0.0254
	h, err := design.Apply(design.New(), units.System{}, design.Change{Path: "air.route", Value: "wall"},
		design.Change{Path: "place.tilt_deg", Value: 90.0}, design.Change{Path: "air.diameter_m", Value: 6 * inch},
		design.Change{Path: "air.to_box_m", Value: 12 * inch}, design.Change{Path: "air.from_box_m", Value: 12 * inch})
	if err != nil {
		t.Fatal(err)
	}
	l, err := Build(&h)
	if err != nil {
		t.Fatal(err)
	}
	found := 0
	for _, p := range l.Cut() {
		switch p.Name {
		case "wall sleeve, inlet", "wall sleeve, outlet":
			found++
			if math.Abs(p.Length-(math.Pi*6*inch+0.025)) > 1e-9 || math.Abs(p.Width-(12*inch+0.050)) > 1e-9 {
				t.Errorf("%s is %v x %v", p.Name, p.Length, p.Width)
			}
		case "top flashing":
			found++
			bends := 2 * (4*0.0005 - math.Pi/2*1.33*0.0005)
			if want := 0.075 + l.Depth + 0.008 + 0.025 - bends; math.Abs(p.Width-want) > 1e-4 {
				t.Errorf("the flashing is %v wide, by hand %v", p.Width, want)
			}
		case "hanging cleat":
			found++
			if p.Count != 2 || p.Length != h.OuterWidth()-0.1 {
				t.Errorf("%d cleats of %v", p.Count, p.Length)
			}
		}
	}
	if found != 4 {
		t.Errorf("%d of the four parts around the box are there", found)
	}
}

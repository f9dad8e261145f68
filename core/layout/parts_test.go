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
				if p.Round() { // a stub on a duct may be as wide as the duct
					continue
				}
				w, ht := p.Length, p.Width
				if len(p.Places) > 0 {
					at := p.Places[len(p.Places)-1]
					if w, ht = at.W, at.H; p.Name == "bottom board" || p.Name == "header board" {
						ht = at.D
					}
				}
				r := b.Diameter / 2
				if web := min(min(b.X, w-b.X), min(b.Y, ht-b.Y)) - r; web < 0.0005 {
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
// flashing is as wide as 3 in up the wall, the cleat's and the box's depth with its stop at a fall of 3 %, and 1 in down, less two
// bends.
func TestSleeveAndFlashingByHand(t *testing.T) {
	const inch = 0.0254
	h, err := design.Apply(design.New(), units.System{}, design.Set(design.AirRoute, "wall"),
		design.Set(design.PlaceTilt, 90.0), design.Set(design.AirDiameter, 6*inch),
		design.Set(design.AirToBox, 12*inch), design.Set(design.AirFromBox, 12*inch))
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
			reach := max(0.018, h.Box.FrameWidth) + l.Depth + 0.008 // the cleats hold the box off the wall
			if want := 0.075 + reach*math.Sqrt(1+0.03*0.03) + 0.025 - bends; math.Abs(p.Width-want) > 1e-4 {
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

// Letters go from A to Z, then AA; those of boxes that differ go on.
func TestLetters(t *testing.T) {
	for n, want := range map[int]string{0: "A", 25: "Z", 26: "AA", 27: "AB", 51: "AZ", 52: "BA", 701: "ZZ"} {
		if got := letter(n); got != want {
			t.Errorf("the letter of %d is %s, not %s", n, got, want)
		}
	}
	h, err := design.Named("unlike-boxes")
	if err != nil {
		t.Fatal(err)
	}
	l, err := Build(&h)
	if err != nil {
		t.Fatal(err)
	}
	seen := map[string]bool{}
	for _, p := range l.Cut() {
		if seen[p.Letter] {
			t.Errorf("%s stands twice", p.Letter)
		}
		seen[p.Letter] = true
	}
}

// A part marked out flat has its own length and width, whichever way it lies in the box.
func TestFlatIsTheSize(t *testing.T) {
	for name, h := range examples(t) {
		l, err := Build(&h)
		if err != nil {
			t.Fatal(name, err)
		}
		for _, p := range l.Cut() {
			if p.Form == Whole {
				continue
			}
			w, ht := p.Flat()
			long, wide := max(p.Length, p.Width), min(p.Length, p.Width)
			if math.Abs(max(w, ht)-long) > 1e-9 || math.Abs(min(w, ht)-wide) > 1e-9 {
				t.Errorf("%s: %s of %v x %v is marked out as %v x %v", name, p.Name, p.Length, p.Width, w, ht)
			}
		}
	}
}

// Header boards close the box from the glazing to behind the tubes; their holes are centered on the tubes, with a web of
// 5 mm at least to both edges of the board.
func TestHeaderBoardsCloseTheBox(t *testing.T) {
	for _, name := range []string{"can-columns", "downpipes", "double-pass-tubes"} {
		h, err := design.Named(name)
		if err != nil {
			t.Fatal(err)
		}
		l, err := Build(&h)
		if err != nil {
			t.Fatal(err)
		}
		var tubes []Place
		for _, p := range l.Parts {
			if p.Name == "can" || p.Name == "downpipe" {
				tubes = p.Places
			}
		}
		for _, p := range l.Parts {
			if p.Name != "header board" {
				continue
			}
			board := p.Places[0]
			if len(p.Bores) == 0 || len(tubes) == 0 {
				t.Fatalf("%s: %d holes, %d tubes", name, len(p.Bores), len(tubes))
			}
			for _, b := range p.Bores {
				x, z := board.X+b.X, board.Z+b.Y
				hit := false
				for _, tube := range tubes {
					hit = hit || math.Abs(tube.X+tube.W/2-x) < 5e-4 && math.Abs(tube.Z+tube.D/2-z) < 5e-4
				}
				if !hit {
					t.Errorf("%s: the hole at %v, %v meets no tube", name, x, z)
				}
				if web := min(b.Y, board.D-b.Y) - b.Diameter/2; web < headerWeb-1e-9 {
					t.Errorf("%s: a web of %.1f mm", name, 1000*web)
				}
			}
		}
	}
}

// A deflector stands inside the box and is of some size wherever the ports lie; before a port in the back it is in the middle of it.
func TestDeflectorHasASize(t *testing.T) {
	for _, face := range []string{"back", "side", "end"} {
		for _, width := range []float64{0.4, 0.8, 1.2} {
			h, err := design.Apply(design.New(), units.System{}, design.Set(design.PaneWidth, width),
				design.Set(design.AirDiameter, 0.08), design.Set(design.AirPortFace, face))
			if err != nil {
				t.Fatal(err)
			}
			l, err := Build(&h)
			if err != nil {
				t.Errorf("%s, %v m: %v", face, width, err)
				continue
			}
			found := false
			for _, p := range l.Parts {
				if p.Name != "deflector" {
					continue
				}
				found = true
				for _, x := range p.Places {
					if p.Length <= 0 || p.Width <= 0 || x.X < 0 || x.Y < 0 || x.X+x.W > l.Width || x.Y+x.H > l.Height {
						t.Errorf("%s, %v m: a deflector of %v x %v m at %+v in %v x %v m", face, width, p.Length, p.Width, x, l.Width,
							l.Height)
					}
				}
			}
			if !found {
				t.Errorf("%s: no deflector", face)
			}
		}
	}
}

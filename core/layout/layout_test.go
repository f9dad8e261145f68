package layout

import (
	"math"
	"math/rand/v2"
	"testing"

	"gladember/core/design"
	"gladember/core/units"
)

func examples(t *testing.T) map[string]design.Heater {
	t.Helper()
	m := map[string]design.Heater{}
	for _, n := range design.ExampleNames() {
		h, err := design.Named(n)
		if err != nil {
			t.Fatal(err)
		}
		m[n] = h
	}
	return m
}

// sized draws what applies to any box but a panel's.
func sized(r *rand.Rand, h design.Heater) []design.Change {
	if h.Indoors() {
		return nil
	}
	body := []string{"timber", "foam", "sheet"}[r.IntN(3)]
	return []design.Change{design.Set(design.BoxBody, body), design.Set(design.BoxEdgeFoam, 0.03*r.Float64()),
		design.Set(design.CoverLayers, 1+r.IntN(2))}
}

// Two boxes take twice the pieces of one, at the same sizes; one of them weighs the same.
func TestPiecesFollowTheBoxes(t *testing.T) {
	of := func(boxes int) Layout {
		h, err := design.Apply(design.New(), units.System{}, design.Set(design.ArrayBoxes, boxes))
		if err != nil {
			t.Fatal(err)
		}
		l, err := Build(&h)
		if err != nil {
			t.Fatal(err)
		}
		return l
	}
	a, b := of(1), of(2)
	each := func(l *Layout) (ps []Part) { // what both boxes have together comes once
		for _, p := range l.Cut() {
			if !p.once {
				ps = append(ps, p)
			}
		}
		return ps
	}
	one, two := each(&a), each(&b)
	if len(one) != len(two) || a.Mass() != b.Mass() {
		t.Fatalf("%d and %d kinds of piece, %v and %v kg", len(one), len(two), a.Mass(), b.Mass())
	}
	for i := range one {
		if two[i].Count != 2*one[i].Count || two[i].Mass != 2*one[i].Mass || two[i].Length != one[i].Length {
			t.Errorf("%s: %d and %d", one[i].Name, one[i].Count, two[i].Count)
		}
	}
}

// Boxes that differ have pieces of their own, at their own sizes.
func TestPiecesOfUnlikeBoxes(t *testing.T) {
	h, err := design.Named("unlike-boxes")
	if err != nil {
		t.Fatal(err)
	}
	l, err := Build(&h)
	if err != nil {
		t.Fatal(err)
	}
	if len(l.Others) != 1 || l.Boxes != 1 {
		t.Fatalf("%d others, %d of the first", len(l.Others), l.Boxes)
	}
	widths := map[string]float64{}
	for _, p := range l.Cut() {
		widths[p.Name] = p.Width
	}
	if widths["pane"] != 0.9 || widths["pane, box B"] != 0.6 {
		t.Errorf("panes %v and %v wide", widths["pane"], widths["pane, box B"])
	}
}

// Pieces that are solid may touch but never share space, and everything but
// the stops lies within the box. Battens and screens lean together.
func TestPartsDoNotOverlap(t *testing.T) {
	r := rand.New(rand.NewPCG(17, 18))
	for name, base := range examples(t) {
		laid := 0
		for range 50 {
			h, err := design.Apply(base, units.System{}, design.Set(design.PaneWidth, 0.5+r.Float64()),
				design.Set(design.PaneHeight, 0.8+1.5*r.Float64()))
			if err == nil {
				h, err = design.Apply(h, units.System{}, sized(r, base)...)
			}
			if err != nil {
				continue
			}
			l, err := Build(&h)
			if err != nil {
				continue
			}
			laid++
			type piece struct {
				name string
				Place
			}
			var ps []piece
			for _, p := range l.Parts {
				if p.Count != len(p.Places) && !p.Bent() && p.Group != Mount && p.Form != Whole {
					t.Fatalf("%s: %d pieces, %d places", p.Name, p.Count, len(p.Places))
				}
				for _, pl := range p.Places {
					if pl.X < -1e-9 || pl.Y < -1e-9 || pl.X+pl.W > l.Width+1e-9 || pl.Y+pl.H > l.Height+1e-9 || pl.Z+pl.D > l.Depth+1e-9 {
						t.Fatalf("%s: %s lies outside the box: %+v in %v x %v x %v", name, p.Name, pl, l.Width, l.Height, l.Depth)
					}
					if pl.Lean == 0 {
						ps = append(ps, piece{p.Name, pl})
					}
				}
			}
			over := func(a, b, la, lb float64) bool { return a < b+lb-1e-9 && b < a+la-1e-9 }
			for i, a := range ps {
				for _, b := range ps[i+1:] {
					if over(a.X, b.X, a.W, b.W) && over(a.Y, b.Y, a.H, b.H) && over(a.Z, b.Z, a.D, b.D) {
						t.Fatalf("%s: %s and %s share space: %+v %+v", name, a.name, b.name, a.Place, b.Place)
					}
				}
			}
		}
		if laid == 0 {
			t.Errorf("%s: none of 50 sizes could be laid out", name)
		}
	}
}

// Depths add up: what lies in front of the back board is the frame's depth.
func TestDepthsAddUp(t *testing.T) {
	for name, h := range examples(t) {
		l, err := Build(&h)
		if err != nil {
			t.Fatal(name, err)
		}
		deepest := 0.0
		for _, p := range l.Parts {
			for _, pl := range p.Places {
				deepest = max(deepest, pl.Z+pl.D)
			}
		}
		if h.Indoors() {
			continue
		}
		if math.Abs(deepest-l.Depth) > 1e-9 || math.Abs(l.Depth-h.Cover.Thickness-h.FrameDepth()) > 1e-9 {
			t.Errorf("%s: parts reach %v, the box %v", name, deepest, l.Depth)
		}
		for _, hole := range l.Holes {
			r := hole.Diameter / 2
			if hole.X-r < h.Box.FrameWidth || hole.X+r > l.Width-h.Box.FrameWidth || hole.Y-r < h.Box.FrameWidth || hole.Y+
				r > l.Height-h.Box.FrameWidth {
				t.Errorf("%s: the %s cuts the frame", name, hole.Name)
			}
		}
	}
}

// A pane of 34 x 58 in with 1/2 in of rest and a 3/4 in frame, by hand: the
// frame's opening is 33 x 57, the box 34 1/2 x 58 1/2 in.
func TestAPaneByHand(t *testing.T) {
	in := units.MeterPerInch
	h, err := design.Apply(design.New(), units.System{}, design.Set(design.PaneWidth, 34*in),
		design.Set(design.PaneHeight, 58*in),
		design.Set(design.PaneRest, 0.5*in), design.Set(design.BoxFrameWidth, 0.75*in))
	if err != nil {
		t.Fatal(err)
	}
	l, _ := Build(&h)
	for _, p := range l.Parts {
		got := units.Sixteenths(p.Length)
		want := map[string]string{"side board": "58 1/2", "bottom board": "33", "top board": "33", "back board": "57", "pane": "58"}[p.Name]
		if want != "" && got != want {
			t.Errorf("%s is %s in long, want %s", p.Name, got, want)
		}
	}
}

func TestMisfits(t *testing.T) {
	h := design.New()
	h.Pane.Width, h.Air.Diameter, h.Pane.Height = 0.22, 0.12, 0.25
	if _, err := Build(&h); err == nil {
		t.Error("two holes wider than the box were laid out")
	}
	h = design.New()
	h.Box.Body, h.Box.Brake = "sheet", 1.2
	if _, err := Build(&h); err == nil || h.OuterHeight() < 1.2 {
		t.Errorf("a tray of %v was bent on a brake of 1.2 m", h.OuterHeight())
	}
	h = design.New()
	h.Box.FrameWidth = 0.010
	if _, err := Build(&h); err == nil {
		t.Error("a pane hanging over its frame was laid out")
	}
}

// Can columns by hand: every can stands between the header boards, the holes
// in the boards are one pitch apart, and a can weighs what its walls weigh.
func TestCanColumnsByHand(t *testing.T) {
	h, _ := design.Named("can-columns")
	l, err := Build(&h)
	if err != nil {
		t.Fatal(err)
	}
	c := h.Absorber.Cans
	var boards, cans Part
	for _, p := range l.Parts {
		switch p.Name {
		case "can":
			cans = p
		case "header board":
			boards = p
		}
	}
	if cans.Count != c.Rows*c.Columns || len(l.HeaderHoles) != c.Columns {
		t.Fatalf("%d cans, %d holes for %d columns of %d", cans.Count, len(l.HeaderHoles), c.Columns, c.Rows)
	}
	for _, p := range cans.Places {
		if p.Y < boards.Places[0].Y+boards.Places[0].H-1e-9 || p.Y+p.H > boards.Places[1].Y+1e-9 {
			t.Fatalf("a can stands outside the headers: %+v", p)
		}
	}
	for i := 1; i < len(l.HeaderHoles); i++ {
		if math.Abs(l.HeaderHoles[i].X-l.HeaderHoles[i-1].X-h.ApertureWidth()/float64(c.Columns)) > 1e-9 {
			t.Errorf("holes %d and %d are not a pitch apart", i, i+1)
		}
	}
	// pi 66 mm x 115 mm x 0.1 mm of aluminum at 2,800 kg/m3, and 55 % of two ends.
	want := (math.Pi*0.066*0.115*0.0001 + 2*math.Pi/4*0.066*0.066*0.0001*0.55) * 2800
	if got := cans.Mass / float64(cans.Count); math.Abs(got-want) > 1e-9 {
		t.Errorf("a can weighs %v kg, by hand %v", got, want)
	}
}

// A tray by hand: 100 mm deep walls and 25 mm flanges in 1 mm sheet. Each side
// of the flat adds 125 mm less two bends of 4 - pi/2 x 1.33 = 1.911 mm.
func TestTrayByHand(t *testing.T) {
	if got := bendLoss(0.001) * 1000; math.Abs(got-(4-math.Pi/2*1.33)) > 1e-9 {
		t.Errorf("a bend takes off %v mm", got)
	}
	h, err := design.Apply(design.New(), units.System{}, design.Set(design.BoxBody, "sheet"))
	if err != nil {
		t.Fatal(err)
	}
	l, err := Build(&h)
	if err != nil {
		t.Fatal(err)
	}
	for _, p := range l.Parts {
		if p.Name != "tray, flat before bending" {
			continue
		}
		want := l.Height + 2*(l.Depth+0.001+0.025-2*0.001*(4-math.Pi/2*1.33)) // the flange lies on the glazing
		if math.Abs(p.Length-want) > 1e-9 || p.Count != 1 {
			t.Errorf("the flat is %v long, by hand %v; %d of them", p.Length, want, p.Count)
		}
		return
	}
	t.Error("a box of bent sheet has no tray")
}

// Ports lie where the air's way begins and ends.
func TestPortsFollowTheWay(t *testing.T) {
	for name, want := range map[string][2]bool{ // inlet, outlet in the upper half
		"screen-box": {false, true}, "double-pass-plate": {true, true}, "double-pass-tubes": {true, true}, "passive-tower": {false, true},
		"can-columns": {false, true}, "own-absorber": {true, true}, "downpipes": {false, true},
	} {
		h, _ := design.Named(name)
		l, err := Build(&h)
		if err != nil {
			t.Fatalf("%s: %v", name, err)
		}
		if len(l.Holes) != 2*max(1, h.Air.Ports) {
			t.Errorf("%s has %d holes", name, len(l.Holes))
		}
		for _, hole := range l.Holes {
			at := want[0]
			if hole.Name == "outlet" {
				at = want[1]
			}
			if (hole.Y > l.Height/2) != at {
				t.Errorf("%s: its %s lies at %v of %v", name, hole.Name, hole.Y, l.Height)
			}
		}
		if l.Mass() < 3 || l.Mass() > 120 {
			t.Errorf("%s weighs %v kg", name, l.Mass())
		}
	}
}

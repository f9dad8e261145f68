package layout

import (
	"fmt"
	"math"
	"strings"
	"testing"

	"gladember/core/catalog"
	"gladember/core/design"
	"gladember/core/units"
)

// laid is a heater laid out after changes, and its parts by name.
func laid(t *testing.T, from string, cs ...design.Change) (design.Heater, Layout, map[string]Part) {
	t.Helper()
	h, err := design.Named(from)
	if err != nil {
		t.Fatal(err)
	}
	if h, err = design.Apply(h, units.System{}, cs...); err != nil {
		t.Fatal(err)
	}
	l, err := Build(&h)
	if err != nil {
		t.Fatal(err)
	}
	parts := map[string]Part{}
	for _, p := range l.Cut() {
		parts[p.Name] = p
	}
	return h, l, parts
}

// 2.44 m of polycarbonate grow by 10 mm over 60 K (common practice); the room beside a sheet and its slots follow.
func TestPlasticMoves(t *testing.T) {
	c, err := catalog.FindCover("twin-wall")
	if err != nil {
		t.Fatal(err)
	}
	if g := Growth(c, 2.44); math.Abs(g-0.010) > 0.0001 {
		t.Errorf("2.44 m grow by %v", g)
	}
	h, l, parts := laid(t, "screen-box", design.Set(design.CoverMaterial, "twin-wall"),
		design.Set(design.PaneHeight, 2.0), design.Set(design.BoxFrameWidth, 0.038))
	pane, strip := parts["pane"], parts["packing strip, side"]
	room := pane.Places[0].X - strip.Places[0].W
	if want := 0.002 + 6.8e-5*60*2.0/2; math.Abs(room-want) > 1e-9 || math.Abs(l.Width-strip.Places[1].X-strip.Width) > 1e-9 {
		t.Errorf("%v of room beside the pane, by hand %v", room, want)
	}
	if !strings.Contains(Words(pane.Note, units.System{}), "grows by 8 mm") || !strings.Contains(pane.Note, "flutes upright") {
		t.Errorf("the pane says %q", Words(pane.Note, units.System{}))
	}
	if parts["edge tape, solid"].Length != h.Pane.Width || parts["edge tape, vented"].Count != 1 {
		t.Errorf("tapes %+v", parts["edge tape, solid"])
	}
	_, _, parts = laid(t, "screen-box", design.Set(design.CoverMaterial, "corrugated-polycarbonate"))
	if parts["corrugated closure"].Count != 2 {
		t.Error("corrugated sheet is open at its ends")
	}
}

// The pane stands on two blocks at its quarter points, which fill the room between it and the strip below.
func TestPaneStandsOnBlocks(t *testing.T) {
	_, _, parts := laid(t, "back-pass-plate")
	pane, block, strip := parts["pane"].Places[0], parts["setting block"], parts["packing strip, top and bottom"].Places[0]
	for i, share := range []float64{0.25, 0.75} {
		at := block.Places[i]
		if math.Abs(at.X+at.W/2-pane.X-share*pane.W) > 1e-9 || math.Abs(at.Y-strip.H) > 1e-9 || math.Abs(at.Y+at.H-pane.Y) > 1e-9 {
			t.Errorf("block %d stands at %+v under %+v", i+1, at, pane)
		}
	}
}

// At any height the last batten of a slanted pack and its wedge together reach from the last screen to the back.
func TestWedgesHoldSlantedScreens(t *testing.T) {
	h, l, parts := laid(t, "screen-box")
	a := h.Absorber.Screens
	if a.Lift < leastWedge {
		t.Skip("the example's screens do not slant")
	}
	last := parts["batten behind screen "+string(rune('0'+a.Layers))]
	wedge := parts["screen wedge"]
	back := l.Depth - h.Box.BackFoam - h.Box.Board
	for _, up := range []float64{0, 0.3, 1} {
		at := last.Places[0]
		behind := at.Z + at.Lean*up + at.D // the batten's rear edge
		if fills := back - behind - wedge.Width*up; math.Abs(fills) > 1e-9 {
			t.Errorf("at %v of the height %v are left behind the batten", up, fills)
		}
	}
	if wedge.Count != 2 {
		t.Errorf("%d wedges", wedge.Count)
	}
}

// What holds a box follows its tilt: cleats upright, brackets leaning, a curb on a roof, whose flashings are listed in the
// order in which they are laid.
func TestWhatHoldsTheBox(t *testing.T) {
	for tilt, want := range map[float64][]string{90: {"hanging cleat", "top flashing"}, 60: {"foot bracket", "bracket brace"},
		35: {"curb board, side", "curb flashing, bottom", "curb flashing, side", "curb flashing, top"}} {
		_, l, parts := laid(t, "back-pass-plate", design.Set(design.PlaceTilt, tilt),
			design.Set(design.AirRoute, "wall"))
		for _, name := range want {
			if parts[name].Count == 0 {
				t.Errorf("at %v degrees there is no %s", tilt, name)
			}
		}
		if tilt == 60 { // by hand: the foot stands away by the height's run
			if got, want := parts["foot bracket"].Length, l.Height*0.5+0.045; math.Abs(got-want) > 1e-9 {
				t.Errorf("the foot bracket is %v long, by hand %v", got, want)
			}
		}
		if tilt == 35 && !(parts["curb flashing, bottom"].Letter < parts["curb flashing, side"].Letter) {
			t.Error("flashings are not in shedding order")
		}
	}
}

// The wall is opened for a sleeve of 150 mm with 3 mm of room: a hole of 156 mm.
func TestOpeningsByHand(t *testing.T) {
	_, l, _ := laid(t, "back-pass-plate", design.Set(design.AirRoute, "wall"),
		design.Set(design.AirDiameter, 0.15), design.Set(design.AirToBox, 0.3),
		design.Set(design.AirFromBox, 0.3))
	got := l.Openings()
	if len(got) != 2 || math.Abs(got[0].Bores[0].Diameter-0.156) > 1e-9 || got[0].Letter == got[1].Letter {
		t.Errorf("%+v", got)
	}
}

// An insert has the centers of both ports; its size by hand for a duct of 100 mm: 350 by 200 mm.
func TestWindowInsertByHand(t *testing.T) {
	_, _, parts := laid(t, "screen-box", design.Set(design.AirRoute, "window"),
		design.Set(design.AirDiameter, 0.1))
	p := parts["window insert"]
	if math.Abs(p.Length-0.35) > 1e-9 || math.Abs(p.Width-0.2) > 1e-9 || len(p.Bores) != 2 || p.Bores[0].X != 0.1 || p.Bores[1].X != 0.25 {
		t.Errorf("%+v", p)
	}
}

// A row of boxes has two header ducts in all, with a hole for each branch a pitch apart.
func TestHeaderDucts(t *testing.T) {
	h, _, parts := laid(t, "roof-row")
	p := parts["header duct"]
	if p.Count != 2 || len(p.Bores) != h.Branches() {
		t.Fatalf("%d ducts with %d holes for %d branches", p.Count, len(p.Bores), h.Branches())
	}
	for i := 1; i < len(p.Bores); i++ {
		if math.Abs(p.Bores[i].X-p.Bores[i-1].X-h.Array.Pitch) > 1e-9 {
			t.Errorf("holes %d and %d are not a pitch apart", i, i+1)
		}
	}
	if last := p.Bores[len(p.Bores)-1]; math.Abs(p.Length-last.X-p.Bores[0].X) > 1e-9 {
		t.Errorf("the holes do not lie in the middle: %v and %v", p.Bores[0].X, p.Length-last.X)
	}
}

// Diagonals, caps of a tray, covers, meshes and ribs, by hand.
func TestSmallParts(t *testing.T) {
	_, l, parts := laid(t, "back-pass-plate", design.Set(design.BoxBody, "sheet"),
		design.Set(design.CoverCoveredFrom, 5), design.Set(design.AirSource, "outdoors"))
	if l.Diagonal != math.Hypot(l.Width, l.Height) {
		t.Error("the diagonal")
	}
	if top, bottom := parts["drip cap, top"].Length-l.Width, parts["drip cap, bottom"].Length-l.Width; math.Abs(top-0.002) > 1e-9 ||
		math.Abs(bottom+0.001) > 1e-9 {
		t.Errorf("caps are %v and %v wider than the tray", top, bottom)
	}
	if parts["summer cover"].Count != 1 || parts["mesh over the outdoor intake"].Count != 1 {
		t.Error("no cover or no mesh")
	}
	h, _, parts := laid(t, "can-columns")
	c := h.Absorber.Cans
	if want := int(float64(c.Rows) * c.Height / ribEvery); parts["support rib"].Count != want {
		t.Errorf("%d ribs for columns of %v", parts["support rib"].Count, float64(c.Rows)*c.Height)
	}
}

// Vanes, by hand: two baffles in a channel 25 mm deep turn the air twice; each vane is a half circle over the opening.
func TestTurningVanesByHand(t *testing.T) {
	h, _, parts := laid(t, "back-pass-plate", design.Set(design.PlateBaffles, 2),
		design.Set(design.PlateVanes, true))
	open := min(h.ApertureHeight()/3, 0.35*h.ApertureWidth())
	v := parts["turning vane"]
	if v.Count != 2 || math.Abs(v.Length-math.Pi*open/2) > 1e-9 || math.Abs(v.Width-h.Absorber.Plate.Channel) > 1e-9 {
		t.Errorf("%+v", v)
	}
	if _, _, parts = laid(t, "back-pass-plate"); parts["turning vane"].Count != 0 {
		t.Error("vanes where none are wanted")
	}
}

// Cross battens close what is behind each screen at both ends, from one side batten to the other, and touch neither the
// screen before them nor what lies behind.
func TestCrossBattensCloseTheScreens(t *testing.T) {
	h, l, parts := laid(t, "screen-box")
	for i := range h.Absorber.Screens.Layers {
		name := fmt.Sprintf("behind screen %d", i+1)
		cross, side, screen := parts["cross batten "+name], parts["batten "+name], parts[fmt.Sprintf("screen %d", i+1)]
		if len(cross.Places) != 2 || math.Abs(cross.Length+2*side.Places[0].W-h.ApertureWidth()) > 1e-9 {
			t.Fatalf("%s: %+v", name, cross)
		}
		rear := l.Depth - h.Box.BackFoam - h.Box.Board
		if i+1 < h.Absorber.Screens.Layers {
			rear = math.Inf(1)
		}
		for _, at := range cross.Places {
			for _, y := range []float64{at.Y, at.Y + at.H} {
				up := (y - screen.Places[0].Y) / h.ApertureHeight()
				mesh := screen.Places[0].Z + screen.Places[0].D + screen.Places[0].Lean*up
				if at.Z < mesh-1e-9 || at.Z+at.D > rear+1e-9 {
					t.Errorf("%s at %v lies from %v to %v, the screen ends at %v", name, y, at.Z, at.Z+at.D, mesh)
				}
			}
		}
	}
}

// Under a frame of 30 mm four strips as wide as the frame run around the box.
func TestFoamUnderTheFrame(t *testing.T) {
	h, l, parts := laid(t, "back-pass-plate", design.Set(design.BoxUnderFrame, 0.02))
	side, across := parts["foam under the frame, side"], parts["foam under the frame, top and bottom"]
	if side.Count != 2 || side.Length != l.Height || side.Width != h.Box.FrameWidth || across.Length != h.InsideWidth() ||
		side.Thickness != 0.02 {
		t.Errorf("%+v %+v", side, across)
	}
}

// Rails hold the pane as stops and packing strips do: they take the same space and weigh as much, and the groove is as
// deep as the rest of the pane and its room to grow. By hand, of glass on a 38 mm frame with a rest of 12 mm: 26 mm of
// frame beside the pane, less 2 mm of room and its growth.
func TestRailsAreStopsAndPackingStrips(t *testing.T) {
	glass := []design.Change{design.Set(design.CoverMaterial, "glass"), design.Set(design.BoxFrameWidth, 0.038),
		design.Set(design.PaneRest, 0.012)}
	_, stopped, parts := laid(t, "back-pass-plate", glass...)
	h, grooved, rails := laid(t, "back-pass-plate", append(glass, design.Set(design.CoverHeld, "rails"))...)
	mass := func(ps map[string]Part, names ...string) (kg float64) {
		for _, n := range names {
			p, ok := ps[n]
			if !ok {
				t.Fatalf("no %s", n)
			}
			kg += p.Mass
		}
		return kg
	}
	a := mass(parts, "glazing stop, side", "glazing stop, top and bottom", "packing strip, side", "packing strip, top and bottom")
	b := mass(rails, "grooved rail, side", "grooved rail, top and bottom")
	// The packing strips of the top and the bottom run on under the side stops.
	density := rails["grooved rail, side"].density / (1 - (0.038-0.0234)*h.Cover.Thickness/(0.038*(stopThickness+h.Cover.Thickness)))
	if extra := 2 * 2 * (0.038 - 0.0235) * 0.0235 * h.Cover.Thickness * density; math.Abs(a-b-extra) > 0.02*extra+0.002*a {
		t.Errorf("stops and strips weigh %v kg, rails %v, by hand %v less", a, b, extra)
	}
	if stopped.Height != grooved.Height || stopped.Depth != grooved.Depth {
		t.Error("rails change the size of the box")
	}
	side := rails["grooved rail, side"]
	if strip := side.Places[2].W; math.Abs(
		strip-(0.026-0.002-Growth(mustCover(t, "glass"), max(h.Pane.Width, h.Pane.Height))/2),
	) > 1e-9 {
		t.Errorf("%v m of rail beside the pane", strip)
	}
	if side.Count != 2 || side.Form != InBars || side.Thickness != stopThickness+h.Cover.Thickness {
		t.Errorf("%+v", side)
	}
}

func mustCover(t *testing.T, id string) catalog.Cover {
	t.Helper()
	c, err := catalog.FindCover(id)
	if err != nil {
		t.Fatal(err)
	}
	return c
}

// A column of cans by hand: six cans of 115 mm that stand 4 mm in each other, with seven beads of 1.5 mm, are 6 x 112.5 + 4 +
// 1.5 = 680.5 mm long; places lie 112.5 mm apart, in the middle between the headers, and no two share space.
func TestCanColumnByHand(t *testing.T) {
	h, _, parts := laid(t, "can-columns", design.Set(design.CansOverlap, 0.004),
		design.Set(design.CansJoint, 0.0015), design.Set(design.CansHeight, 0.115),
		design.Set(design.CansRows, 6))
	c := h.Absorber.Cans
	if math.Abs(c.Column()-0.6805) > 1e-9 || c.MostRows(0.6805) != 6 || c.MostRows(0.680) != 5 {
		t.Errorf("a column is %v m long; %d cans go into its own length", c.Column(), c.MostRows(0.6805))
	}
	can := parts["can"]
	for i := 1; i < 6; i++ {
		if step := can.Places[i].Y - can.Places[i-1].Y; math.Abs(step-0.1125) > 1e-9 || can.Places[i-1].H > step+1e-9 {
			t.Errorf("can %d lies %v m above the one below it", i, step)
		}
	}
	below := can.Places[0].Y - c.Joint
	above := can.Places[5].Y + c.Height + c.Joint
	if math.Abs((below+above)/2-h.OuterHeight()/2) > 1e-9 || math.Abs(above-below-c.Column()) > 1e-9 {
		t.Errorf("the column lies from %v to %v", below, above)
	}
	if !strings.Contains(can.Note, at(0.681)) { // to the millimeter
		t.Errorf("the note says %q", can.Note)
	}
}

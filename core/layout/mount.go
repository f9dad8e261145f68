package layout

import (
	"fmt"
	"math"
	"strings"

	"gladember/core/catalog"
	"gladember/core/design"
)

// Mount is the group of what holds the box, leads the air through the wall and
// sheds the rain. These parts have no place within the box.
const Mount Group = "mount"

// Sizes of what is around the box, m. Common practice, no source.
const (
	drainBore    = 0.006
	drainSpacing = 0.30
	drainEnd     = 0.03
	drainBehind  = 0.010
	cleatWide    = 0.070
	cleatShort   = 0.10 // less than the box is wide
	upTheWall    = 0.075
	dripEdge     = 0.025
	sleeveFold   = 0.025 // at each end of a sleeve, and its lap
	thinSheet    = 0.0005
	longestWall  = 0.60 // a longer way is a duct and no sleeve
	legWide      = 0.045
	legAt        = 0.9 // of the box's height, where the legs hold it
	footBehind   = 0.15
	belowTop     = 0.02 // from the top of a box to its cleats
	besidePort   = 0.01 // between a port and a cleat
	flashingFall = 0.03 // of a flashing outwards, as a share
)

// drains are the drain holes along the bottom board, from its left end and its
// front edge: at least two, no further apart than 300 mm, just behind the
// glazing, where water that runs down it arrives. ct is the outer cover's
// thickness. Water that runs down the glazing reaches the bottom board at its
// front edge, and must find a hole wherever it arrives; 6 mm does not clog with
// dust and lets no wasp build in it.
func drains(h *design.Heater, ct float64) (out []Bore) {
	length := h.InsideWidth()
	n := max(2, int(math.Ceil((length-2*drainEnd)/drainSpacing))+1)
	// The board's front edge lies behind the outer cover.
	y := drainBehind + float64(h.Cover.Layers-1)*(h.Cover.Between+ct)
	for i := range n {
		x := drainEnd + (length-2*drainEnd)*float64(i)/float64(n-1)
		out = append(out, Bore{"drain hole", x, y, drainBore})
	}
	return out
}

// mounting adds the parts around the box by its way to the room and its tilt. An
// upright box hangs from cleats under a flashing; one that leans on a wall stands
// off it on brackets; one that lies on a roof has a curb. A duct longer than a wall
// is thick is no sleeve.
func (l *Layout) mounting(h *design.Heater, wood catalog.Wood) {
	onWall := h.Air.Route != "stand"
	switch {
	case onWall && h.Place.Tilt >= uprightFrom:
		l.hung(h, wood)
	case onWall && h.Place.Tilt > roofUpTo:
		l.bracketed(h, wood)
	case onWall:
		l.curbed(h, wood)
	}
	if h.Air.Route == "stand" {
		l.stand(h, wood)
	}
	l.meshes(h)
	if h.Cover.CoveredFrom > 0 {
		l.add(Part{Kind: SummerCover, Group: Mount, Material: "exterior plywood", density: wood.Density, Count: 1, Form: InSheets,
			Length: l.Height + 2*dripEdge, Width: l.Width + 2*dripEdge, Thickness: 0.006,
			Note: "painted white; " + at(dripEdge) + " over the box on every side"})
	}
}

// common adds what all boxes of a heater have once: the ways through the wall or the
// window, the mesh before the outdoor air, and the headers of a row.
func (l *Layout) common(h *design.Heater) {
	if h.Indoors() {
		return
	}
	first := len(l.Parts)
	switch h.Air.Route {
	case "wall":
		l.sleeves(h)
	case "window":
		l.insert(h)
	}
	if h.Air.Source == "outdoors" {
		side := 1.5 * h.Air.Diameter
		l.add(Part{Kind: MeshOverOutdoorIntake, Group: Mount, Material: "insect screen", Count: 1, Form: FromRoll, Length: side,
			Width: side})
	}
	l.headerDucts(h)
	for i := first; i < len(l.Parts); i++ {
		l.Parts[i].once = true
	}
}

// A box from uprightFrom degrees on hangs flat on its wall, below that its cleats would not touch it; up to roofUpTo it lies
// on a roof. Common practice, no source.
const (
	uprightFrom = 88.0
	roofUpTo    = 50.0
)

// hung adds cleats and a top flashing.
func (l *Layout) hung(h *design.Heater, wood catalog.Wood) {
	l.add(Part{Kind: HangingCleat, Group: Mount, Material: wood.Name, density: wood.Density, Count: 2,
		Length: h.OuterWidth() - cleatShort, Width: cleatWide, Thickness: cleatDeep(h),
		Note: "one edge of each at 45 degrees: the upper one on the box points down, the lower one on the wall points up; top edge " +
			at(l.Height-l.cleatTop()) + " below the top of the box"})
	if h.Box.Body == "sheet" {
		return
	}
	long := 0.0
	bends := l.flashing(h)
	for i := range bends[1:] {
		long += math.Hypot(bends[i+1].X-bends[i].X, bends[i+1].Y-bends[i].Y)
	}
	l.add(Part{Kind: TopFlashing, Group: Mount, Material: thinMetal, density: 2700, Count: 1, bent: true, Form: InSheets,
		Length: h.OuterWidth() + 2*dripEdge, Width: long - 2*bendLoss(thinSheet),
		Thickness: thinSheet, Note: "bent " + at(upTheWall) + " up the wall under the siding, over the top of the box, and " +
			at(dripEdge) + " down in front"})
}

// cleatDeep is how far its cleats hold a box off the wall, m.
func cleatDeep(h *design.Heater) float64 { return max(0.018, h.Box.FrameWidth) }

// cleatTop is the height of the cleats' upper edge along the box, m: as high as the ports
// leave room.
func (l *Layout) cleatTop() float64 {
	top := l.Height - belowTop
	for again := true; again; {
		again = false
		for _, x := range l.Holes {
			r := x.Diameter/2 + besidePort
			if x.Face == ThroughBack && top > x.Y-r+1e-9 && top-2*cleatWide < x.Y+r-1e-9 {
				top, again = x.Y-r, true
			}
		}
	}
	return max(top, 2*cleatWide)
}

// flashing is the line of the top flashing from the wall to its drip edge, as in a side view
// whose x is from the wall and whose y is from the box's lower back edge, m. It falls
// outwards, also over a box that leans.
func (l *Layout) flashing(h *design.Heater) []Point {
	t := h.Place.Tilt * math.Pi / 180
	deep := l.Depth + stopThickness
	front := Point{cleatDeep(h) + deep*math.Sin(t), l.Height*math.Sin(t) + deep*math.Cos(t)}
	wall := front.Y + flashingFall*front.X
	return []Point{{0, wall + upTheWall}, {0, wall}, front, {front.X, front.Y - dripEdge}}
}

// bracketed adds what holds the lower end of a leaning box off the wall: its top
// rests on the wall, and its foot stands away by the height's run.
func (l *Layout) bracketed(h *design.Heater, wood catalog.Wood) {
	run := l.Height * math.Cos(h.Place.Tilt*math.Pi/180)
	for _, x := range []struct {
		kind   *PartKind
		length float64
	}{{FootBracket, run + legWide}, {BracketBrace, run * math.Sqrt2}} {
		l.add(Part{Kind: x.kind, Group: Mount, Material: wood.Name, density: wood.Density, Count: 2, Length: x.length, Width: legWide,
			Thickness: legWide, Form: InBars, Note: "its load by wind and snow is not computed here"})
	}
}

// curbed adds the boards that a box on a roof stands on and the flashing around
// them, in the order in which they are laid: water runs from each piece onto the one
// below it.
func (l *Layout) curbed(h *design.Heater, wood catalog.Wood) {
	t := max(0.018, h.Box.FrameWidth)
	l.add(Part{Kind: CurbBoardSide, Group: Mount, Material: wood.Name, density: wood.Density, Count: 2, Length: l.Height,
		Width: curbHigh, Thickness: t, Form: InBars})
	l.add(Part{Kind: CurbBoardTopAndBottom, Group: Mount, Material: wood.Name, density: wood.Density, Count: 2,
		Length: l.Width - 2*t, Width: curbHigh, Thickness: t, Form: InBars})
	wide := curbHigh + onRoof - bendLoss(thinSheet)
	for _, x := range []struct {
		kind   *PartKind
		count  int
		length float64
	}{{CurbFlashingBottom, 1, l.Width + 2*onRoof}, {CurbFlashingSide, 2, l.Height + 2*onRoof},
		{CurbFlashingTop, 1, l.Width + 2*onRoof}} {
		l.add(Part{Kind: x.kind, Group: Mount, Material: thinMetal, density: 2700, Count: x.count, bent: true, Form: InSheets,
			Length: x.length, Width: wide, Thickness: thinSheet, Note: at(curbHigh) + " up the curb and " + at(onRoof) + " on the roof"})
	}
}

// Sizes of curbs and inserts, m. Common practice, no source.
const (
	curbHigh   = 0.090
	onRoof     = 0.150
	thinMetal  = "aluminum sheet"
	insertEdge = 0.050 // from a port to the insert's edge, and between two
	insertDeep = 0.025
)

// sleeves line the holes through the wall, one for each port.
func (l *Layout) sleeves(h *design.Heater) {
	for _, x := range []struct {
		name string
		long float64
	}{{"inlet", h.Air.ToBox}, {"outlet", h.Air.FromBox}} {
		if x.long <= 0 || x.long > longestWall {
			continue
		}
		l.add(Part{Kind: WallSleeve, Mark: ", " + x.name, Group: Mount, Material: thinMetal, density: 2700, Count: max(1, h.Air.Ports),
			bent: true,
			Form: InSheets, Length: math.Pi*h.Air.Diameter + sleeveFold, Width: x.long + 2*sleeveFold, Thickness: thinSheet,
			Note: "rolled to a pipe of " + at(h.Air.Diameter) + " with a lap of " + at(sleeveFold) + "; " + at(sleeveFold) +
				" of each end folded out"})
	}
}

// insert is a board that a window sash closes on, with both ports side by side. Its
// long side is cut to the window.
func (l *Layout) insert(h *design.Heater) {
	d := h.Air.Diameter
	p := Part{Kind: WindowInsert, Group: Mount, Material: "foil-faced polyiso foam", density: 32, Count: 1, Form: InSheets,
		Length: 2*d + 3*insertEdge, Width: d + 2*insertEdge, Thickness: insertDeep,
		Note: "lengthen it at one end to the window's opening less the edge foam; face both sides where the sun or children reach it"}
	for i, name := range []string{"inlet", "outlet"} {
		p.Bores = append(p.Bores, Bore{name, insertEdge + d/2 + float64(i)*(d+insertEdge), insertEdge + d/2, d})
	}
	l.add(p)
	l.add(Part{Kind: EdgeFoamOfInsert, Group: Mount, Material: "soft foam strip", Count: 1, Form: Whole,
		Length: 2 * (p.Length + p.Width), Width: insertDeep})
}

// meshes keep vermin out of the drain holes.
func (l *Layout) meshes(h *design.Heater) {
	if h.Box.Body == "timber" {
		l.add(Part{Kind: MeshOverDrainHoles, Group: Mount, Material: "insect screen", Count: 1, Form: FromRoll,
			Length: h.InsideWidth(), Width: drainMesh})
	}
}

// Openings are the holes through the wall or the roof as parts to mark out with: a
// sheet of paper with the hole in its middle, as wide as a sleeve needs. They are not
// cut from anything.
func (l *Layout) Openings() (out []Part) {
	for _, p := range l.Parts {
		if p.Kind != WallSleeve {
			continue
		}
		bore := (p.Length-sleeveFold)/math.Pi + 2*sleeveRoom
		side := bore + 2*sleeveFold
		name := "opening for " + p.Name
		out = append(out, Part{Letter: p.Letter, Kind: p.Kind, Mark: p.Mark, ID: p.ID, Name: name, Form: Whole, Count: p.Count,
			Length: side, Width: side,
			Bores: []Bore{{"opening", side / 2, side / 2, bore}}})
	}
	return out
}

// sleeveRoom is between a sleeve and the wall around it, for sealant, m. Common
// practice, no source.
const sleeveRoom = 0.003

// drainMesh is how wide the strip under the drain holes is, m.
const drainMesh = 0.040

// headerDucts are the duct that feeds a row of boxes and the one that gathers from
// it, each with a hole for every branch.
func (l *Layout) headerDucts(h *design.Heater) {
	if !h.IsRow() || h.Array.Header <= 0 {
		return
	}
	n := h.Branches()
	p := Part{Kind: HeaderDuct, Group: Mount, Material: "sheet-metal duct", Count: 2, Form: Whole, round: true,
		Length: h.Array.Pitch*float64(n-1) + 2*headerEnd, Width: h.Array.Header, Thickness: h.Array.Header,
		Note: "holes for the stubs along one side, measured from the open end"}
	for i := range n {
		x := headerEnd + h.Array.Pitch*float64(i)
		p.Bores = append(p.Bores, Bore{fmt.Sprintf("branch %d", i+1), x, h.Array.Header / 2, h.PortBore()})
	}
	l.add(p)
}

// headerEnd is from an end of a header duct to the nearest stub, m. Common practice,
// no source.
const headerEnd = 0.20

// stand adds two legs behind the box and two rails on the ground that join
// their feet to its lower edge, and a brace across. Their sections are usual
// ones, and no computation of the wind's load.
func (l *Layout) stand(h *design.Heater, wood catalog.Wood) {
	held, foot := l.standFoot(h)
	leg := math.Hypot(held.Y, foot-held.X)
	rail := foot + footBehind
	for _, x := range []struct {
		kind   *PartKind
		count  int
		length float64
	}{{StandLeg, 2, leg}, {StandRail, 2, rail}, {StandBrace, 1, math.Hypot(h.OuterWidth(), leg/2)}} {
		if x.length < 2*legWide {
			continue
		}
		l.add(Part{Kind: x.kind, Group: Mount, Material: wood.Name, density: wood.Density, Count: x.count, Length: x.length, Width: legWide,
			Thickness: legWide, Note: "anchor the stand against wind: its load is not computed here"})
	}
}

// standFoot is where a leg holds the box, behind and above its lower back edge, and how far
// behind that the leg's foot is, m.
//
// An upright box on a foot as narrow as itself falls over by hand. Common practice, no
// source: it stands on at least half the height at which it is held.
func (l *Layout) standFoot(h *design.Heater) (held Point, foot float64) {
	t := h.Place.Tilt * math.Pi / 180
	held = Point{legAt * l.Height * math.Cos(t), legAt * l.Height * math.Sin(t)}
	return held, max(held.X, held.Y/2)
}

// letters names the parts A, B and so on from a number on, and returns the next
// number. What stands there already has no letter.
// The boxes of a row that differ go on where the first ends, so that no letter
// stands twice.
func (l *Layout) letters(n int) int {
	for i := range l.Parts {
		if l.Parts[i].There {
			continue
		}
		l.Parts[i].Letter = letter(n)
		n++
	}
	return n
}

// letter is the nth name: A to Z, then AA to ZZ.
func letter(n int) string {
	if n < 26 {
		return string(rune('A' + n))
	}
	return letter(n/26-1) + letter(n%26)
}

// formOf tells the form by the material, for parts that do not say it
// themselves: metal and foam come in sheets, mesh and foil on rolls, wood up to
// a hand wide as bars and wider as sheets.
func formOf(p *Part) Form {
	switch {
	case p.Group == Cover && p.Width > 0.10 || p.Group == Foam || p.bent && !p.round:
		return InSheets
	case strings.Contains(p.Material, "mesh") || strings.Contains(p.Material, "screen") || strings.Contains(p.Material, "lath") ||
		strings.Contains(p.Material, "gauze") || strings.Contains(p.Material, "foil"):
		return FromRoll
	case p.Material == "drink can" || p.Kind == AbsorberBody || p.round:
		return Whole
	case strings.Contains(p.Material, "downpipe"):
		return InBars
	case strings.Contains(p.Material, "plywood") || strings.Contains(p.Material, "strand") || strings.Contains(p.Material, "sheet"):
		return InSheets
	case p.Width > widestBar:
		return InSheets
	}
	return InBars
}

// Wider boards are sold as glued panels, which are cut like plywood.
// widestBar is the widest board that is sold by length, m. Common practice, no
// source.
const widestBar = 0.30

// Flat is a part's outline as it is marked out, m: its width from the left
// datum edge and its height from the bottom one, in which its bores are given.
// A board on edge has its length as width.
func (p *Part) Flat() (w, h float64) {
	switch {
	case p.Kind == Tray: // stands as the box does
		return p.Width, p.Length
	case len(p.Places) == 0 || p.bent:
		return p.Length, p.Width
	}
	at := p.Places[0]
	switch thin := p.Thickness; {
	case at.Lean != 0 && math.Abs(at.W-thin) < 1e-9: // a wedge, from its side
		return p.Width, p.Length
	case at.Lean != 0: // measured along the slant
		return at.W, p.Length
	case math.Abs(at.D-thin) < 1e-9:
		return at.W, at.H
	case math.Abs(at.H-thin) < 1e-9:
		return at.W, at.D
	case math.Abs(at.W-thin) < 1e-9:
		return at.H, at.D
	}
	return p.Length, p.Width
}

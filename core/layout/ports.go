// Ports: where the air enters the box and leaves it. They lie where its way begins
// and ends, through the back, through the sides, or through the bottom and the top,
// as the builder wants. A hole is known by its axis in the box; each part that it
// passes has it at its own place, from its own two datum edges, so that holes which
// are drilled apart meet when the box is put together.

package layout

import (
	"fmt"
	"math"

	"gladember/core/design"
)

// ports places the holes for the air: how high by where its way begins and
// ends, how far across by what lies there, and through which side.
// Holes keep design.PortMargin from the lining, in a header its middle, and minWeb
// between each other; through are the parts behind that they pass.
//
// Where ports are drilled is decided in three steps: the ends of the air's way (ends),
// the distances from the lining (portMargin), and the face (faced). What a hole passes
// on its way is named last, since it follows from the face and the family.
func (s *space) ports(through []string) error {
	h := s.h
	d, n := h.PortBore(), max(1, h.Air.Ports)
	bottomIn, topOut, sameSide := h.Ends()
	margin, err := s.portMargin(d)
	if err != nil {
		return err
	}
	inThrough, outThrough := s.passed(through)
	if n > 1 && s.w/float64(n) < d+minWeb {
		return &Misfit{fmt.Sprintf("%d holes of %s do not fit side by side", n, at(d)), "use fewer or smaller ports, or wider glazing"}
	}
	across := func(i int, right bool) float64 {
		if n > 1 { // spread evenly
			return s.x + s.w*(float64(i)+0.5)/float64(n)
		}
		off := min(design.PortMargin+d/2, s.w/2)
		if right {
			return s.x + s.w - off
		}
		return s.x + off
	}
	up := func(top bool) float64 {
		if top {
			return s.y + s.ht - margin
		}
		return s.y + margin
	}
	for i := range n {
		in := s.faced(Hole{Name: "inlet", X: across(i, true), Y: up(!bottomIn), Diameter: d, Through: inThrough}, true, !bottomIn)
		out := s.faced(Hole{Name: "outlet", X: across(i, sameSide), Y: up(topOut), Diameter: d, Through: outThrough}, sameSide, topOut)
		if n > 1 && bottomIn != topOut {
			return &Misfit{"several holes at one end leave no room for both ways", "use one hole each way"}
		}
		if in.Face == out.Face && math.Hypot(in.X-out.X, in.Y-out.Y)-d < minWeb {
			return &Misfit{"two holes of " + at(d) + " do not fit side by side in this box", "use a narrower duct or larger glazing"}
		}
		s.l.Holes = append(s.l.Holes, in, out)
	}
	return nil
}

// portMargin is from the lining to the center of a hole d wide, m; in a header
// the hole lies in its middle.
func (s *space) portMargin(d float64) (float64, error) {
	margin := min(design.PortMargin+d/2, min(s.w, s.ht)/2)
	header := s.h.Headers()
	if header <= 0 {
		return margin, nil
	}
	if d > header-headerBoard+0.011 {
		return 0, &Misfit{"a hole of " + at(d) + " does not fit a header " + at(header) + " high",
			"make the headers higher, or use a narrower duct"}
	}
	return max((header-headerBoard)/2, d/2), nil
}

// passed names what holes through the back pass on their way: the back, and what
// lies between it and the space that they open into.
func (s *space) passed(through []string) (in, out []string) {
	in, out = through, through
	add := func(to []string, names ...string) []string { return append(append([]string(nil), to...), names...) }
	switch a := s.h.Absorber; {
	case a.Screens != nil:
		folded, fromTop := s.h.Folded()
		for i := range a.Screens.Layers {
			screen := fmt.Sprintf("%s %d", Screen.ID, i+1)
			if !folded || !fromTop { // at the bottom the air enters in front of the screens
				in = add(in, screen)
			}
			if folded && !fromTop {
				out = add(out, screen)
			}
		}
	case a.Family == design.FrontPassPlate:
		in, out = add(in, Plate.ID), add(out, Plate.ID)
	case a.Family == design.DoublePassPlate:
		out = add(out, Plate.ID)
	}
	return in, out
}

// faced moves a hole through the back to the side or the end that the ports of the
// box go through: right and top say where it lies. In depth it takes the middle of
// the space that it opens into.
func (s *space) faced(x Hole, right, top bool) Hole {
	h, l := s.h, s.l
	side := map[bool]Face{true: ThroughRight, false: ThroughLeft}[right]
	end := map[bool]Face{true: ThroughTop, false: ThroughBottom}[top]
	switch {
	case h.Absorber.Own != nil:
		return x
	case h.Air.PortFace == "side":
		x.Face, x.X = side, map[bool]float64{true: l.Width, false: 0}[right]
		x.Through = []string{wallOf(h, side).ID}
		if h.Lining() > 0 {
			x.Through = append(x.Through, SideFoam.ID)
		}
	case h.Air.PortFace == "end":
		x.Face, x.Y = end, map[bool]float64{true: l.Height, false: 0}[top]
		x.Through = []string{wallOf(h, end).ID}
		if h.Lining() > 0 {
			x.Through = append(x.Through, TopAndBottomFoam.ID)
		}
	default:
		return x
	}
	// A space is bounded by the absorber or the cover, which the hole must not meet.
	// The middle leaves as much web in front of the hole as behind it.
	from, to := h.PortSpace(x.Name == "inlet")
	x.Z = s.z + (from+to)/2 - h.Cover.Thickness // the boards begin behind the outer cover
	return x
}

// divider parts the box down its middle where the air takes one half and then the
// other, from the space of the ports to a turn at the far end; at and deep are where
// the airway begins behind the cover and how deep it is, m. In a box with headers it
// parts only the header of the ports: the tubes lead the air there and back.
func (s *space) divider(at, deep, header float64) {
	folded, fromTop := s.h.Folded()
	if !folded {
		return
	}
	long := s.ht - s.turnRoom()
	if header > 0 {
		long = header - headerBoard
	}
	y := s.y
	if fromTop {
		y = s.y + s.ht - long
	}
	s.add(Part{Kind: Divider, Group: Absorber, Material: s.wood.Name, density: s.wood.Density, Length: long, Width: baffleWidth,
		Thickness: deep, Note: "upright in the middle, from the ports' end; sealed on both faces",
		Places: []Place{{s.x + s.w/2 - baffleWidth/2, y, at, baffleWidth, long, deep, 0}}})
}

// bore gives each part the holes that go through it: those of the ports, and of
// headers those of the tubes.
// A hole of the box goes through several parts, each of which has it at its own
// place. One of two like parts that a hole goes through becomes a part of its own.
func (l *Layout) bore() {
	for i := range l.Parts {
		p := &l.Parts[i]
		if p.Kind != HeaderBoard {
			continue
		}
		for _, x := range l.HeaderHoles {
			p.Bores = append(p.Bores, Bore{x.Name, x.X, x.Y, x.Diameter})
		}
	}
	for _, x := range l.Holes {
		for _, id := range x.Through {
			switch {
			case id == Tray.ID:
				l.boreTray(x)
			case x.Face == ThroughBack:
				l.boreBack(id, x)
			default:
				l.boreEdge(id, x)
			}
		}
	}
}

// boreBack drills a part that lies flat.
func (l *Layout) boreBack(id string, x Hole) {
	for i := range l.Parts {
		p := &l.Parts[i]
		if p.ID != id || len(p.Places) == 0 {
			continue
		}
		at := p.Places[0]
		p.Bores = append(p.Bores, Bore{x.Name, x.X - at.X, x.Y - at.Y, x.Diameter})
	}
}

// boreEdge drills a part that stands on edge: its bore is measured from its left or
// bottom end and from its front edge.
func (l *Layout) boreEdge(id string, x Hole) {
	front := l.trayed.cover // behind it the frame's boards or the tray's walls begin
	for _, p := range l.Parts {
		if p.Kind == SideBoard && p.faces(x.Face) {
			front = p.Places[0].Z
		}
	}
	along, upright := x.X, false
	if x.Face == ThroughLeft || x.Face == ThroughRight {
		along, upright = x.Y, true
	}
	for i := 0; i < len(l.Parts); i++ {
		p := &l.Parts[i]
		if p.Kind.ID != id || !p.faces(x.Face) {
			continue
		}
		which := 0
		if len(p.Places) > 1 && (x.Face == ThroughRight || x.Face == ThroughTop) {
			which = len(p.Places) - 1
		}
		if p.Count > 1 {
			i = l.apart(i, which, x.Face)
			p = &l.Parts[i]
		}
		at := p.Places[0]
		from := at.X
		if upright {
			from = at.Y
		}
		p.Bores = append(p.Bores, Bore{x.Name, along - from, front + x.Z - at.Z, x.Diameter})
		return
	}
}

// faces says whether a part, or one of its pieces, is at a face of the box.
func (p *Part) faces(f Face) bool { return p.Mark == "" || p.Mark == ", "+string(f) }

// apart makes two parts of one that has two pieces: they stay alike in size, but
// only one is drilled. It returns the index of that one.
func (l *Layout) apart(i, which int, face Face) int {
	p := l.Parts[i]
	names := map[Face][2]string{ThroughLeft: {"left", "right"}, ThroughRight: {"right", "left"}, ThroughTop: {"top", "bottom"},
		ThroughBottom: {"bottom", "top"}}[face]
	one, other := p, p
	one.Places, other.Places = []Place{p.Places[which]}, []Place{p.Places[1-which]}
	for j, x := range []*Part{&one, &other} {
		x.Count, x.Mass = 1, p.Mass/2
		x.mark(", " + names[j])
	}
	l.Parts = append(l.Parts[:i], append([]Part{one, other}, l.Parts[i+1:]...)...)
	return i
}

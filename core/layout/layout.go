// Package layout gives every part of a heater its true size and its place.
//
// Coordinates are metres in the box's own frame: x from the left outer edge, y
// up the slope from the bottom outer edge, z from the front of the outer cover
// back into the box. Drawings ink what this package says and decide nothing.
package layout

import (
	"fmt"
	"math"

	"gladember/core/catalog"
	"gladember/core/design"
)

// Clearances, m. Common practice, no source.
const (
	plateClearance = 0.002 // a hot plate grows
	innerClearance = 0.002 // a second pane slides into the frame
	portMargin     = 0.030 // from the foam to the edge of a hole
	stopThickness  = 0.008
	battenWidth    = 0.018
	baffleWidth    = 0.012
	minWeb         = 0.020
)

// Group is what a part belongs to, the thing one touches in a drawing.
type Group string

// The groups.
const (
	Cover    Group = "cover"
	Frame    Group = "frame"
	Foam     Group = "foam"
	Absorber Group = "absorber"
	Back     Group = "back"
)

// Place is one piece of a part, as a block with its corner nearest the origin;
// Lean moves its top edge in z (a slanted screen).
type Place struct {
	X, Y, Z float64
	W, H, D float64
	Lean    float64
}

// Part is a piece to cut: Length is its longer way as it is laid out, Width
// the other, Thickness the material's own.
type Part struct {
	Name      string
	Group     Group
	Material  string // as one asks for it
	Count     int
	Length    float64 // m
	Width     float64 // m
	Thickness float64 // m
	Places    []Place
	Note      string
}

// Hole is a round hole, its centre measured from the left and bottom outer
// edges of the box, seen from the front.
type Hole struct {
	Name     string // "inlet" or "outlet"
	X, Y     float64
	Diameter float64
	Through  []string // names of the parts it passes
}

// Layout is a whole box.
type Layout struct {
	Width, Height, Depth float64 // outer
	Parts                []Part
	Holes                []Hole
}

// A Misfit says which parts cannot be built as designed.
type Misfit struct{ Reason, Remedy string }

func (m *Misfit) Error() string { return m.Reason + "; " + m.Remedy }

// Of lays a valid heater out.
func Of(h *design.Heater) (Layout, error) {
	cover, err := catalog.FindCover(h.Cover.Material)
	if err != nil {
		return Layout{}, err
	}
	foam, err := catalog.FindInsulation(h.Box.Foam)
	if err != nil {
		return Layout{}, err
	}
	wood, err := catalog.FindWood(h.Box.Frame)
	if err != nil {
		return Layout{}, err
	}
	fw, e, ct := h.Box.FrameWidth, h.Box.EdgeFoam, h.Cover.Thickness
	iw, ih := h.InsideWidth(), h.InsideHeight()
	ow, oh := h.OuterWidth(), h.OuterHeight()
	depth := h.FrameDepth()
	l := Layout{Width: ow, Height: oh, Depth: ct + depth}
	add := func(p Part) {
		if p.Count == 0 {
			p.Count = len(p.Places)
		}
		if p.Width > p.Length {
			p.Width, p.Length = p.Length, p.Width
		}
		l.Parts = append(l.Parts, p)
	}
	if h.Pane.Rest > fw {
		return l, &Misfit{"the pane would hang over the frame", "make the frame boards thicker than the pane's rest"}
	}

	edge := fw - h.Pane.Rest // from the outer edge to the pane
	add(Part{Name: "pane", Group: Cover, Material: cover.Name, Length: h.Pane.Height, Width: h.Pane.Width, Thickness: ct,
		Places: []Place{{edge, edge, 0, h.Pane.Width, h.Pane.Height, ct, 0}}})
	z := ct
	for i := 1; i < h.Cover.Layers; i++ {
		c := innerClearance
		add(Part{Name: "spacer strip, side", Group: Cover, Material: wood.Name, Length: ih, Width: math.Max(e, 0.010), Thickness: h.Cover.Between,
			Places: []Place{{fw, fw, z, math.Max(e, 0.010), ih, h.Cover.Between, 0}, {ow - fw - math.Max(e, 0.010), fw, z, math.Max(e, 0.010), ih, h.Cover.Between, 0}}})
		s := math.Max(e, 0.010)
		add(Part{Name: "spacer strip, top and bottom", Group: Cover, Material: wood.Name, Length: iw - 2*s, Width: s, Thickness: h.Cover.Between,
			Places: []Place{{fw + s, fw, z, iw - 2*s, s, h.Cover.Between, 0}, {fw + s, oh - fw - s, z, iw - 2*s, s, h.Cover.Between, 0}}})
		z += h.Cover.Between
		add(Part{Name: "inner pane", Group: Cover, Material: cover.Name, Length: ih - 2*c, Width: iw - 2*c, Thickness: ct,
			Places: []Place{{fw + c, fw + c, z, iw - 2*c, ih - 2*c, ct, 0}}, Note: "slides into the frame"})
		z += ct
	}
	add(Part{Name: "glazing stop, side", Group: Frame, Material: wood.Name, Length: oh, Width: fw, Thickness: stopThickness,
		Places: []Place{{0, 0, -stopThickness, fw, oh, stopThickness, 0}, {ow - fw, 0, -stopThickness, fw, oh, stopThickness, 0}}})
	add(Part{Name: "glazing stop, top and bottom", Group: Frame, Material: wood.Name, Length: iw, Width: fw, Thickness: stopThickness,
		Places: []Place{{fw, 0, -stopThickness, iw, fw, stopThickness, 0}, {fw, oh - fw, -stopThickness, iw, fw, stopThickness, 0}}})
	add(Part{Name: "side board", Group: Frame, Material: wood.Name, Length: oh, Width: depth, Thickness: fw,
		Places: []Place{{0, 0, ct, fw, oh, depth, 0}, {ow - fw, 0, ct, fw, oh, depth, 0}}})
	add(Part{Name: "top and bottom board", Group: Frame, Material: wood.Name, Length: iw, Width: depth, Thickness: fw, Note: "between the side boards",
		Places: []Place{{fw, 0, ct, iw, fw, depth, 0}, {fw, oh - fw, ct, iw, fw, depth, 0}}})
	cavity := h.CavityDepth()
	if e > 0 {
		add(Part{Name: "side foam", Group: Foam, Material: foam.Name, Length: ih, Width: cavity, Thickness: e,
			Places: []Place{{fw, fw, z, e, ih, cavity, 0}, {ow - fw - e, fw, z, e, ih, cavity, 0}}})
		add(Part{Name: "top and bottom foam", Group: Foam, Material: foam.Name, Length: iw - 2*e, Width: cavity, Thickness: e,
			Places: []Place{{fw + e, fw, z, iw - 2*e, e, cavity, 0}, {fw + e, oh - fw - e, z, iw - 2*e, e, cavity, 0}}})
	}
	if h.Box.BackFoam > 0 {
		add(Part{Name: "back foam", Group: Foam, Material: foam.Name, Length: ih, Width: iw, Thickness: h.Box.BackFoam,
			Places: []Place{{fw, fw, z + cavity, iw, ih, h.Box.BackFoam, 0}}})
	}
	ply, _ := catalog.FindWood("plywood")
	add(Part{Name: "back board", Group: Back, Material: ply.Name, Length: ih, Width: iw, Thickness: h.Box.Board,
		Places: []Place{{fw, fw, z + cavity + h.Box.BackFoam, iw, ih, h.Box.Board, 0}}, Note: "lies inside the frame"})

	x0, y0, aw, ah := fw+e, fw+e, h.ApertureWidth(), h.ApertureHeight()
	through := []string{"back board"}
	if h.Box.BackFoam > 0 {
		through = append(through, "back foam")
	}
	inletThrough := through
	switch h.Absorber.Family {
	case design.ScreenBox:
		a := h.Absorber.Screens
		mesh, err := catalog.FindMesh(a.Mesh)
		if err != nil {
			return l, err
		}
		slant := math.Hypot(ah, a.Lift)
		for i := range a.Layers {
			zb := z + h.Box.Gap + a.Lift + float64(i)*a.Spacing // at the bottom
			name := fmt.Sprintf("screen %d", i+1)
			add(Part{Name: name, Group: Absorber, Material: mesh.Name, Length: slant, Width: aw, Thickness: 2 * mesh.Wire,
				Places: []Place{{x0, y0, zb, aw, ah, 2 * mesh.Wire, -a.Lift}}, Note: "measured along the slant; add what you fold over"})
			inletThrough = append(append([]string(nil), inletThrough...), name)
			t := a.Spacing
			if i == a.Layers-1 {
				t = math.Max(a.Rear, 0.006)
			}
			add(Part{Name: fmt.Sprintf("batten behind screen %d", i+1), Group: Absorber, Material: wood.Name, Length: slant, Width: math.Min(battenWidth, aw/6), Thickness: t,
				Places: []Place{{x0, y0, zb + 2*mesh.Wire, math.Min(battenWidth, aw/6), ah, t, -a.Lift}, {x0 + aw - math.Min(battenWidth, aw/6), y0, zb + 2*mesh.Wire, math.Min(battenWidth, aw/6), ah, t, -a.Lift}}})
		}
	case design.BackPassPlate:
		a := h.Absorber.Plate
		metal, err := catalog.FindSheet(a.Metal)
		if err != nil {
			return l, err
		}
		zp, c := z+h.Box.Gap, plateClearance
		add(Part{Name: "plate", Group: Absorber, Material: metal.Name, Length: ah - 2*c, Width: aw - 2*c, Thickness: a.Thickness,
			Places: []Place{{x0 + c, y0 + c, zp, aw - 2*c, ah - 2*c, a.Thickness, 0}}, Note: "2 mm of room on every side to grow"})
		zc := zp + a.Thickness
		b := math.Min(battenWidth, aw/6)
		add(Part{Name: "channel batten", Group: Absorber, Material: wood.Name, Length: ah, Width: b, Thickness: a.Channel,
			Places: []Place{{x0, y0, zc, b, ah, a.Channel, 0}, {x0 + aw - b, y0, zc, b, ah, a.Channel, 0}}})
		if a.Baffles > 0 {
			pass := ah / float64(a.Baffles+1)
			open := math.Min(pass, 0.35*aw)
			length := aw - 2*b - open
			p := Part{Name: "baffle", Group: Absorber, Material: wood.Name, Length: length, Width: baffleWidth, Thickness: a.Channel, Note: "open at left and right by turns"}
			for i := range a.Baffles {
				x := x0 + b
				if i%2 == 1 {
					x += open
				}
				p.Places = append(p.Places, Place{x, y0 + pass*float64(i+1) - baffleWidth/2, zc, length, baffleWidth, a.Channel, 0})
			}
			if length < 0.05 {
				return l, &Misfit{fmt.Sprintf("%d baffles leave no width to turn in", a.Baffles), "use fewer baffles"}
			}
			add(p)
		}
	}

	d := h.Air.Diameter
	off := portMargin + d/2
	off = math.Min(off, math.Min(aw, ah)/2)
	in := Hole{"inlet", x0 + aw - off, y0 + off, d, inletThrough}
	out := Hole{"outlet", x0 + off, y0 + ah - off, d, through}
	if h.Absorber.Family == design.BackPassPlate && h.Absorber.Plate.Baffles%2 == 1 {
		// With an odd number of baffles the air ends on the side it began.
		out.X = in.X
	}
	if math.Hypot(in.X-out.X, in.Y-out.Y)-d < minWeb {
		return l, &Misfit{fmt.Sprintf("two %.0f mm holes do not fit side by side in this box", d*1000), "use a narrower duct or a larger pane"}
	}
	l.Holes = []Hole{in, out}
	return l, nil
}

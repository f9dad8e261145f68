package design

import "math"

// IsRow says whether boxes stand side by side between headers.
// Equal boxes on plenums so wide that each gets its share are computed as one
// box times their number, and are no row in this sense.
func (h *Heater) IsRow() bool {
	return !h.Indoors() && h.Array.Boxes > 1 && h.Array.Join != "series" && (h.Array.Header > 0 || len(h.Array.Others) > 0 ||
		h.Array.Join == "groups")
}

// Branches is how many ways lie side by side between the headers of a row.
// In groups, each group is one way.
func (h *Heater) Branches() int {
	if h.Array.Join == "groups" {
		return h.Array.Boxes / max(1, h.Array.Group)
	}
	return max(1, h.Array.Boxes)
}

// Kinds are the boxes of a row as heaters of one box each, the first with how
// many there are of it, then those that differ. Each keeps what is common:
// place, room and ways.
func (h *Heater) Kinds() (boxes []Heater, counts []int) {
	// A box by itself, with the bore of its own ports in place of the duct's.
	one := func(count int, edit func(x *Heater)) {
		x := h.Clone()
		x.Array = Array{Boxes: 1, Join: "parallel"}
		x.Air.Diameter = h.PortBore()
		edit(&x)
		boxes, counts = append(boxes, x), append(counts, count)
	}
	rest, others := max(1, h.Array.Boxes), h.Array.Others
	if rest == 1 || h.Array.Join != "parallel" {
		others = nil
	}
	for _, o := range others {
		rest -= o.Count
	}
	one(rest, func(*Heater) {})
	for _, o := range others {
		one(o.Count, func(x *Heater) {
			// Tubes and cans are fitted anew into a box of another size, with
			// the clearances of a millimeter for cans, 4 mm for pipes and 15 mm
			// for ducts.
			x.Pane.Width, x.Pane.Height = o.Width, o.Height
			if d := x.airwayDepth(); d != nil && o.Depth > 0 {
				*d = o.Depth
			}
			if c := x.Absorber.Cans; c != nil { // as many as fit
				c.Columns = int(max(1, math.Floor((x.ApertureWidth()+0.001)/(c.Diameter+0.001))))
				c.Rows = c.MostRows(x.ApertureHeight() - 2*c.Header)
			}
			if p := x.Absorber.Pipes; p != nil {
				p.Count = int(max(1, math.Floor(x.ApertureWidth()/(p.Width+0.004))))
			}
			if c := x.Absorber.Coil; c != nil {
				c.Runs = int(max(1, math.Floor(x.ApertureWidth()/(c.Bore+0.015))))
			}
		})
	}
	return boxes, counts
}

package layout

import (
	"math"
	"slices"

	"gladember/core/design"
	"gladember/core/units"
)

// Term is one field's share in a size: the size holds Times times its Value, m.
//
// Why a part has its size, and what design it would fit if it came out otherwise, are
// asked of the layout itself: each field that is a length is moved a little, the box
// is laid out anew, and what the part's sides do is the field's share in them. No
// second list of rules can then disagree with the first.
type Term struct {
	// Path is the field.
	Path string
	// Value is the field's, m, and Times how often the size holds it; below zero it
	// is taken off.
	Value, Times float64
}

// Why is what makes up the sides of a part. What the terms do not sum to is a fixed
// allowance, m.
type Why struct {
	Length, Width                   []Term
	LengthAllowance, WidthAllowance float64
}

// nudge is how far a field is moved to see what follows, m.
const nudge = 1e-4

// lengthsOf are the fields of a heater that are lengths of the box.
func lengthsOf(h *design.Heater) (out []*design.Field) {
	for _, f := range design.Fields {
		of := slices.Contains([]string{design.PanePart, design.BoxPart, design.CoverPart, design.AbsorberPart}, f.Part())
		if of && (f.Kind == units.Length || f.Kind == units.Bore) && f.Choices == nil && f.Applies(h) {
			out = append(out, f)
		}
	}
	return out
}

// moved is the heater with one field moved, laid out; ok is false where that cannot
// be built.
func moved(h *design.Heater, path string, by float64) (l Layout, ok bool) {
	n, err := design.Apply(*h, units.System{}, design.Change{Path: path, Value: design.FieldAt(path).Number(h) + by})
	if err != nil {
		return l, false
	}
	l, err = Build(&n)
	return l, err == nil
}

// partOf finds a part of a list by its ID; nil where there is none.
func partOf(parts []Part, id string) *Part {
	for i := range parts {
		if parts[i].ID == id {
			return &parts[i]
		}
	}
	return nil
}

// Explain says of every part that is cut, by its ID, what makes up its length and width. A side
// that a field does not move evenly, or that a whole number of pieces decides, has an
// allowance only.
func Explain(h *design.Heater) (map[string]Why, error) {
	l, err := Build(h)
	if err != nil {
		return nil, err
	}
	parts := l.Cut()
	out := map[string]Why{}
	for _, f := range lengthsOf(h) {
		by := nudge
		after, ok := moved(h, f.Path, by)
		if !ok {
			by = -nudge
			if after, ok = moved(h, f.Path, by); !ok {
				continue
			}
		}
		others := after.Cut()
		for i := range parts {
			p := &parts[i]
			q := partOf(others, p.ID)
			if q == nil || q.Count != p.Count {
				continue
			}
			w := out[p.ID]
			value := f.Number(h)
			if k := share(q.Length-p.Length, by); k != 0 {
				w.Length = append(w.Length, Term{f.Path, value, k})
			}
			if k := share(q.Width-p.Width, by); k != 0 {
				w.Width = append(w.Width, Term{f.Path, value, k})
			}
			out[p.ID] = w
		}
	}
	for i := range parts {
		p := &parts[i]
		w := out[p.ID]
		w.LengthAllowance, w.WidthAllowance = p.Length-sum(w.Length), p.Width-sum(w.Width)
		out[p.ID] = w
	}
	return out, nil
}

// share is how often a side holds a field that was moved; 0 where that is no simple
// number.
func share(grew, by float64) float64 {
	k := grew / by
	if simple := math.Round(2*k) / 2; math.Abs(k-simple) < 1e-4 {
		return simple
	}
	return 0
}

// sum is what terms come to, m.
func sum(ts []Term) (m float64) {
	for _, t := range ts {
		m += t.Times * t.Value
	}
	return m
}

// Fit is a change of the design that gives a part the size it came out with.
type Fit struct {
	design.Change
	// Layout is the box with it.
	Layout Layout
}

// sawPlay is how near a part must come to a size to be it, m.
const sawPlay = 0.0005

// Follow returns the changes of one field each that give a part the length and width
// that it came out with, m, the smallest first. There is none where no single field
// leads there, or where what it leads to cannot be built.
func Follow(h *design.Heater, id string, length, width float64) (out []Fit, err error) {
	l, err := Build(h)
	if err != nil {
		return nil, err
	}
	p := partOf(l.Cut(), id)
	if p == nil {
		return nil, nil
	}
	off := func(l *Layout) float64 {
		q := partOf(l.Cut(), id)
		if q == nil {
			return math.Inf(1)
		}
		return max(math.Abs(q.Length-length), math.Abs(q.Width-width))
	}
	for _, f := range lengthsOf(h) {
		after, ok := moved(h, f.Path, nudge)
		by := nudge
		if !ok {
			by = -nudge
			if after, ok = moved(h, f.Path, by); !ok {
				continue
			}
		}
		q := partOf(after.Cut(), id)
		if q == nil {
			continue
		}
		dl, dw := (q.Length-p.Length)/by, (q.Width-p.Width)/by
		step := 0.0
		switch {
		case math.Abs(dl) > 0.1 && math.Abs(length-p.Length) > sawPlay:
			step = (length - p.Length) / dl
		case math.Abs(dw) > 0.1:
			step = (width - p.Width) / dw
		}
		if math.Abs(step) < 1e-6 {
			continue
		}
		if fit, ok := moved(h, f.Path, step); ok && off(&fit) < sawPlay {
			out = append(out, Fit{design.Change{Path: f.Path, Value: f.Number(h) + step}, fit})
		}
	}
	slices.SortStableFunc(out, func(a, b Fit) int {
		at := func(f Fit) float64 { return math.Abs(f.Value.(float64) - design.FieldAt(f.Path).Number(h)) }
		switch x, y := at(a), at(b); {
		case x < y:
			return -1
		case x > y:
			return 1
		}
		return 0
	})
	return out, nil
}

package buildplan

import (
	"math"
	"strings"

	"gladember/core/units"
)

// Gate is what must hold before a later step hides it.
type Gate struct {
	// ID names it; Title is what is checked.
	ID    string
	Title string
	// Looks are what is looked at and signed for, each by itself.
	Looks []units.Text
	// Measures are what is measured and entered.
	Measures []Measure
	// Hides is the step that must not begin before it.
	Hides string
}

// Measure is a length that is measured on the built part.
type Measure struct {
	// ID names it within its gate; Label says where the tape lies.
	ID    string
	Label units.Text
	// Want is what it should be, m; 0 where only the others of its set count.
	Want float64
	// Within is how far it may be off, m.
	Within float64
	// Alike is set for measures that must be equal to each other within that, by the name
	// of their set.
	Alike string
	// Radius is that of the hole whose center is measured, m: who is off by it measured to
	// the rim. 0 for none.
	Radius float64
}

// Tolerances of a hand-built box, m. Common practice, no source: a tape and a pencil lie
// within a millimeter; glazing has 2 mm of room at each side.
const (
	diagonalWithin = 0.002
	centerWithin   = 0.0015
	columnWithin   = 0.001
	rimWithin      = 0.003 // how near to its radius a hole must be off to be one read to the rim
)

// middle begins the name of a set of two measures from both edges to a center that halves
// its board.
const middle = "middle of "

// Misfit says what is wrong with a measurement, and what to do.
type Misfit struct {
	// Measure is the one that is off; Off is by how much, m, above zero for too long.
	Measure string
	Off     float64
	Text    units.Text
}

// Judge compares what was measured, m by measure, with what should be. It returns what is
// off; measures that are missing are not judged.
func (g *Gate) Judge(got map[string]float64) (out []Misfit) {
	sets := map[string][2]float64{} // least and most of each set
	for _, m := range g.Measures {
		v, ok := got[m.ID]
		if !ok {
			continue
		}
		if m.Alike != "" {
			s, seen := sets[m.Alike]
			if !seen {
				s = [2]float64{v, v}
			}
			sets[m.Alike] = [2]float64{min(s[0], v), max(s[1], v)}
		}
		if m.Want > 0 && math.Abs(v-m.Want) > m.Within+1e-9 {
			word := "too long"
			if v < m.Want {
				word = "too short"
			}
			text := units.Say("%v: it is %v, it should be %v: %v by %v.", units.Word(m.Label.Format),
				units.Q(units.Length, v), units.Q(units.Length, m.Want), units.Word(word), units.Q(units.Length, math.Abs(v-m.Want)))
			if m.Radius > 0 && math.Abs(math.Abs(v-m.Want)-m.Radius) <= rimWithin {
				text = units.Say(text.Format+" That is the hole's radius: the figure is to the center of the hole and not to its rim.",
					text.Values...)
			}
			out = append(out, Misfit{m.ID, v - m.Want, text})
		}
	}
	for _, m := range g.Measures {
		s, ok := sets[m.Alike]
		if m.Alike == "" || !ok || s[1]-s[0] <= m.Within+1e-9 {
			continue
		}
		delete(sets, m.Alike) // told once
		off := s[1] - s[0]
		text := units.Say("They differ by %v; no more than %v is right.", units.Q(units.Length, off), units.Q(units.Length, m.Within))
		if strings.HasPrefix(m.Alike, middle) {
			text = units.Say("The center is not in the middle: its distances from left and right differ by %v. Measure the whole board, "+
				"halve that, and mark the center anew from both edges.", units.Q(units.Length, off))
		}
		if g.ID == "diagonals" {
			text = units.Say("The diagonals differ by %v: the frame is out of square. Push the corners of the longer one "+
				"together by half of that, and measure again.", units.Q(units.Length, off))
		}
		out = append(out, Misfit{m.ID, off, text})
	}
	return out
}

// Complete says whether everything that the gate wants was measured.
func (g *Gate) Complete(got map[string]float64) bool {
	for _, m := range g.Measures {
		if _, ok := got[m.ID]; !ok {
			return false
		}
	}
	return true
}

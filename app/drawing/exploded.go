package drawing

import (
	"fmt"
	"html/template"
	"math"
	"slices"

	"gladember/core/layout"
)

// Sizes of the exploded view, pixels.
const (
	explodedBox   = 300.0 // the longer side of the box, at most,
	explodedShare = 0.52  // and of the width
	explodedLabel = 74.0  // for the letters at the right
	explodedTop   = 4.0
	explodedFoot  = 20.0
	explodedLeast = 15.0  // from one layer's letters to the next
	slabSame      = 0.002 // m: parts that begin within it lie in one layer
)

// Exploded draws a box taken apart along its depth: each layer to scale, the glazing
// in front at the lower left, the back behind at the upper right, with the letters
// of its parts beside it. href is what a part and its letter lead to; the chosen ones
// are inked.
func Exploded(l *layout.Layout, href func(letter string) string, chosen []string, width float64) template.HTML {
	type slab struct {
		z     float64
		parts []*layout.Part
	}
	var slabs []slab
	for i := range l.Parts {
		p := &l.Parts[i]
		if len(p.Places) == 0 || p.There {
			continue
		}
		z := math.Inf(1)
		for _, at := range p.Places {
			z = min(z, at.Z+min(0, at.Lean))
		}
		k := slices.IndexFunc(slabs, func(s slab) bool { return math.Abs(s.z-z) < slabSame })
		if k < 0 {
			k = len(slabs)
			slabs = append(slabs, slab{z: z})
		}
		slabs[k].parts = append(slabs[k].parts, p)
	}
	slices.SortFunc(slabs, func(a, b slab) int {
		switch {
		case a.z < b.z:
			return -1
		case a.z > b.z:
			return 1
		}
		return 0
	})
	k := min(explodedBox, explodedShare*width) / max(l.Width, l.Height)
	n := float64(max(1, len(slabs)-1))
	dx := min(46, (width-explodedLabel-l.Width*k-4)/n)
	dy := max(explodedLeast, min(22, dx*0.5))
	height := explodedTop + n*dy + l.Height*k + explodedFoot
	var s svg
	s.start("group", "exploded", fmt.Sprintf("The box taken apart, %d layers from the glazing to the back", len(slabs)), width, height)
	for i := len(slabs) - 1; i >= 0; i-- { // the back first, so that the front covers it
		x0, y0 := 2+dx*float64(i), height-explodedFoot-dy*float64(i)
		if i < len(slabs)-1 {
			s.line("axis", x0, y0-l.Height*k, x0+dx, y0-l.Height*k-dy)
		}
		for _, p := range slabs[i].parts {
			fmt.Fprintf(&s, `<a href="%s" tabindex="-1" aria-hidden="true">`, esc(href(p.Letter)))
			for _, at := range p.Places {
				class := ""
				if slices.Contains(chosen, p.Letter) {
					class = " chosen"
				}
				s.rect("slab "+string(p.Group)+class, x0+at.X*k, y0-(at.Y+at.H)*k, max(1, at.W*k), max(1, at.H*k))
			}
			s.WriteString("</a>")
		}
		var names []string
		for _, p := range slabs[i].parts {
			names = append(names, p.Letter)
		}
		// Below the layer, where neither the one in front nor the one behind reaches.
		x, y := x0+l.Width*k-dx+6, y0+13
		for j, name := range names {
			if rest := len(names) - j; rest > 1 && x+18*float64(rest) > width && x+36 > width {
				s.text("figure", "start", x, y, "…")
				break
			}
			fmt.Fprintf(&s, `<a href="%s" aria-label="part %s">`, esc(href(name)), esc(name))
			class := "figure"
			if slices.Contains(chosen, name) {
				class = "figure chosen"
			}
			s.text(class, "start", x, y, name)
			s.WriteString("</a>")
			x += 9*float64(len(name)) + 5
		}
	}
	return s.close()
}

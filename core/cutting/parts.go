package cutting

import (
	"context"
	"fmt"
	"math"
	"slices"
	"strings"
	"time"

	"gladember/core/layout"
)

// Shop says which sizes are sold where a builder lives.
type Shop struct {
	// Bars are lengths of boards, m.
	Bars []float64
	// Sheets are sizes of board, metal and insulation, m: width, then height.
	Sheets [][2]float64
}

// Sizes as they are sold. Common practice, no source.
var (
	// Imperial: boards by feet, sheets of 4 x 8 ft.
	Imperial = Shop{Bars: []float64{2.4384, 3.048, 3.6576}, Sheets: [][2]float64{{1.2192, 2.4384}}}
	// Metric: boards by half meters, sheets of 1220 x 2440 mm.
	Metric = Shop{Bars: []float64{2.4, 3.0, 4.0}, Sheets: [][2]float64{{1.22, 2.44}}}
)

// OnHand is a sheet or a board that lies in the shop already.
type OnHand struct {
	// Material is its name in the catalog; Thickness is in m, 0 for any.
	Material  string
	Thickness float64
	// Width and Height are in m; a board has its length as height.
	Width, Height float64
	// Count is how many there are.
	Count int
}

// MaterialPlan is how the parts of one material come out of its stock.
type MaterialPlan struct {
	// Material is as one asks for it; Width and Thickness are those of a board's
	// section, m, with Width 0 for a sheet.
	Material         string
	Width, Thickness float64
	// Parts are the letters of the job's pieces or panels, by index.
	Parts []string
	// Bars and BarJob, or Sheets and SheetJob, are the plan and what it was made of.
	Bars     *Plan
	BarJob   *Job
	Sheets   *SheetPlan
	SheetJob *SheetJob
}

// Rules are those of the saw, for all materials alike but for what a knife cuts.
type Rules struct {
	// Kerf is what a cut takes, m, and Trim what is cut off the edges of what is
	// bought.
	Kerf, Trim float64
	// Limit is how long each material may be thought about; zero takes the usual.
	Limit time.Duration
}

// Kerfs that are usual, m: of a table saw's blade, and of a knife. Common practice,
// no source.
const (
	SawKerf   = 0.003
	KnifeKerf = 0.0
)

// Parts plans the parts of a heater that are cut from bars and sheets, material by
// material: what is on hand is used before what is sold. What comes from a roll or
// whole is left out. A part too large for every sheet is told by the plan's
// Missing.
func Parts(ctx context.Context, parts []layout.Part, shop Shop, hand []OnHand, saw Rules) (out []MaterialPlan, err error) {
	type key struct {
		form             layout.Form
		material         string
		width, thickness int
	}
	at := map[key]int{}
	for _, p := range parts {
		// Panes are cut by a glazier or come in their size.
		if p.Form != layout.InBars && p.Form != layout.InSheets || p.Group == layout.Cover && p.Form == layout.InSheets {
			continue
		}
		k := key{p.Form, p.Material, 0, ticks(p.Thickness)}
		section := 0.0
		if p.Form == layout.InBars {
			// A board lies on its wider face, whatever way it is named.
			section = p.Width
			k.width = ticks(section)
		}
		i, ok := at[k]
		if !ok {
			i = len(out)
			at[k] = i
			out = append(out, MaterialPlan{Material: p.Material, Width: section, Thickness: p.Thickness})
			m := &out[i]
			if p.Form == layout.InBars {
				m.BarJob = &Job{Kerf: saw.Kerf, Limit: saw.Limit}
				m.BarJob.Stock = bars(p, shop, hand)
			} else {
				m.SheetJob = &SheetJob{Kerf: kerfOf(p.Material, saw), Trim: saw.Trim, Limit: saw.Limit}
				m.SheetJob.Stock = sheets(p, shop, hand)
			}
		}
		m := &out[i]
		m.Parts = append(m.Parts, p.Letter)
		if m.BarJob != nil {
			m.BarJob.Pieces = append(m.BarJob.Pieces, Piece{Name: p.Letter, Length: p.Length, Count: p.Count})
		} else {
			// The grain of board, metal and insulation does not matter here.
			m.SheetJob.Panels = append(m.SheetJob.Panels,
				Panel{Name: p.Letter, Width: p.Width, Height: p.Length, Count: p.Count, Rotate: true})
		}
	}
	for i := range out {
		m := &out[i]
		if m.BarJob != nil {
			m.Bars, err = Solve(ctx, m.BarJob)
		} else {
			m.Sheets, err = SolveSheets(ctx, m.SheetJob)
		}
		if err != nil {
			return nil, fmt.Errorf("%s: %w", m.Material, err)
		}
	}
	return out, nil
}

// kerfOf is that of a saw; insulation is cut with a knife.
func kerfOf(material string, saw Rules) float64 {
	for _, soft := range []string{"wool", "foam", "polystyrene", "polyiso", "insulation"} {
		if strings.Contains(material, soft) {
			return KnifeKerf
		}
	}
	return saw.Kerf
}

// bars are the boards of a part's section: those on hand, and what the shop sells.
// A shop's price is its length, so that what is on hand costs nothing beside it.
func bars(p layout.Part, shop Shop, hand []OnHand) (out []Bar) {
	for _, x := range hand {
		if x.Material == p.Material && near(x.Width, p.Width) && near(x.Thickness, p.Thickness) {
			out = append(out, Bar{Name: "on hand", Length: x.Height, Count: x.Count})
		}
	}
	for _, l := range shop.Bars {
		out = append(out, Bar{Name: "new", Length: l, Count: Any, Price: l})
	}
	return out
}

// sheets are those of a part's material and thickness: those on hand, and what the
// shop sells, at a price by their area.
func sheets(p layout.Part, shop Shop, hand []OnHand) (out []Sheet) {
	for _, x := range hand {
		if x.Material == p.Material && (x.Thickness == 0 || near(x.Thickness, p.Thickness)) {
			out = append(out, Sheet{Name: "on hand", Width: x.Width, Height: x.Height, Count: x.Count})
		}
	}
	for _, s := range shop.Sheets {
		out = append(out, Sheet{Name: "new", Width: s[0], Height: s[1], Count: Any, Price: s[0] * s[1]})
	}
	return out
}

// near says whether two thicknesses are one, to half a millimeter.
func near(a, b float64) bool { return math.Abs(a-b) < 0.0005 }

// New counts the bars or sheets that must be bought, by their length or size.
// Lengths stand in the names between marks, as in layout's notes, for
// layout.Words to print in a reader's units.
func (m *MaterialPlan) New() (names []string, counts []int) {
	add := func(name string) {
		if i := slices.Index(names, name); i >= 0 {
			counts[i]++
			return
		}
		names, counts = append(names, name), append(counts, 1)
	}
	if m.Bars != nil {
		for _, c := range m.Bars.Bars {
			if b := m.BarJob.Stock[c.Stock]; b.Count == Any {
				add(fmt.Sprintf("⟨%g⟩", b.Length))
			}
		}
		return names, counts
	}
	for _, c := range m.Sheets.Sheets {
		if s := m.SheetJob.Stock[c.Stock]; s.Count == Any {
			add(fmt.Sprintf("⟨%g⟩ × ⟨%g⟩", s.Width, s.Height))
		}
	}
	return names, counts
}

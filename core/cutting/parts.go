package cutting

import (
	"context"
	"fmt"
	"math"
	"slices"
	"strings"
	"time"

	"gladember/core/design"
	"gladember/core/layout"
)

// Shop says which sizes are sold where a builder lives, and at what price. Without
// prices a bar costs its length and a sheet its area, so that the plan buys least.
type Shop struct {
	// Bars are boards.
	Bars []SoldBar
	// Sheets are board, metal and insulation.
	Sheets []SoldSheet
	// PriceOf gives the price of a size by its [StockID], which counts before those
	// above; 0 where it is not known. It may be nil.
	PriceOf func(id string) float64
}

// known are the prices of a material's sizes where all of them are known; nil else,
// since a plan cannot weigh a price against none.
func (s *Shop) known(ids []string) (prices []float64) {
	if s.PriceOf == nil {
		return nil
	}
	for _, id := range ids {
		p := s.PriceOf(id)
		if p <= 0 {
			return nil
		}
		prices = append(prices, p)
	}
	return prices
}

// SoldBar is a length that is sold, m, with its price, 0 where it is not known.
type SoldBar struct{ Length, Price float64 }

// SoldSheet is a size that is sold, m, with its price, 0 where it is not known.
type SoldSheet struct{ Width, Height, Price float64 }

// Sizes as they are sold. Common practice, no source.
var (
	// Imperial: boards by feet, sheets of 4 x 8 ft.
	Imperial = Shop{Bars: []SoldBar{{Length: 2.4384}, {Length: 3.048}, {Length: 3.6576}}, Sheets: []SoldSheet{{1.2192, 2.4384, 0}}}
	// Metric: boards by half meters, sheets of 1220 x 2440 mm.
	Metric = Shop{Bars: []SoldBar{{Length: 2.4}, {Length: 3.0}, {Length: 4.0}}, Sheets: []SoldSheet{{1.22, 2.44, 0}}}
)

// NewShop are the sizes that a heater's document says are sold; what it does not list
// is as usual for a builder who works in inches or not. Prices count where every
// size of a kind has one.
func NewShop(c *design.Cut, inches bool) Shop {
	shop := Metric
	if inches {
		shop = Imperial
	}
	var bars []SoldBar
	var sheets []SoldSheet
	for _, s := range c.Sold {
		if s.Width > 0 {
			sheets = append(sheets, SoldSheet{s.Width, s.Length, s.Price})
		} else {
			bars = append(bars, SoldBar{s.Length, s.Price})
		}
	}
	if slices.ContainsFunc(bars, func(b SoldBar) bool { return b.Price == 0 }) {
		for i := range bars {
			bars[i].Price = 0
		}
	}
	if slices.ContainsFunc(sheets, func(s SoldSheet) bool { return s.Price == 0 }) {
		for i := range sheets {
			sheets[i].Price = 0
		}
	}
	if bars != nil {
		shop.Bars = bars
	}
	if sheets != nil {
		shop.Sheets = sheets
	}
	return shop
}

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
	// Parts are the letters of the job's pieces or panels, by index, and IDs what
	// records know them by.
	Parts, IDs []string
	// Bars and BarJob, or Sheets and SheetJob, are the plan and what it was made of.
	Bars     *Plan
	BarJob   *Job
	Sheets   *SheetPlan
	SheetJob *SheetJob
	// Rests are the bars from which pieces are cut already.
	Rests []Rest
	// Opened is how many of the sheets, the first ones, have panels cut already, and
	// DonePanels are theirs: those that are cut have index -1 in the plan.
	Opened     int
	DonePanels [][]PanelRecord
	// rests are the free pieces of opened sheets that the plan may use.
	rests []restOf
	// Splits are the parts that are made of several pieces.
	Splits []Split
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
// material: what is opened and what is on hand is used before what is sold. What
// comes from a roll or whole is left out. The counts of the parts are those that are
// still to be cut; before, if not nil, is the plan of another day. A part too large
// for all that is sold is made of equal pieces; where even these do not fit, the
// plan's Missing tells.
func Parts(ctx context.Context, parts []layout.Part, shop Shop, hand []OnHand, saw Rules, before *Record) (out []MaterialPlan, err error) {
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
				m.BarJob = &Job{Kerf: saw.Kerf, Trim: saw.Trim, Limit: saw.Limit}
				m.BarJob.Stock = bars(p, shop, hand)
			} else {
				m.SheetJob = &SheetJob{Kerf: kerfOf(p.Material, saw), Trim: saw.Trim, Limit: saw.Limit}
				m.SheetJob.Stock = sheets(p, shop, hand)
			}
		}
		out[i].take(&p)
	}
	for i := range out {
		if err := out[i].solve(ctx, before); err != nil {
			return nil, fmt.Errorf("%s: %w", out[i].Material, err)
		}
	}
	return out, nil
}

// mostPieces is of how many equal pieces a part is made at most.
const mostPieces = 8

// take puts a part on the material's list, in equal pieces where it is too large.
func (m *MaterialPlan) take(p *layout.Part) {
	// Equal pieces sum to the whole to the last digit that a saw knows; unequal ones
	// would need a second setting of the stop.
	n := 1
	for n < mostPieces && !m.roomFor(p.Length/float64(n), p.Width) {
		n++
	}
	if n == mostPieces { // it is too wide as well: the plan says that it is missing
		n = 1
	}
	each := p.Length / float64(n)
	if n > 1 {
		m.Splits = append(m.Splits, Split{Letter: p.Letter, Whole: p.Length, Each: each, Count: n, Joint: joined(p)})
	}
	m.Parts, m.IDs = append(m.Parts, p.Letter), append(m.IDs, p.ID)
	// The frame decides whether all else fits, so that a slip in it is best made first.
	first := p.Group == layout.Frame
	if m.BarJob != nil {
		m.BarJob.Pieces = append(m.BarJob.Pieces, Piece{Name: p.Letter, Length: each, Count: n * p.Count, First: first})
		return
	}
	// The grain of board, metal and insulation does not matter here.
	m.SheetJob.Panels = append(m.SheetJob.Panels, Panel{Name: p.Letter, Width: p.Width, Height: each, Count: n * p.Count, Rotate: true,
		First: first})
}

// roomFor says whether some bar or sheet takes a piece of a length and width, m.
func (m *MaterialPlan) roomFor(length, width float64) bool {
	if j := m.BarJob; j != nil {
		return slices.ContainsFunc(j.Stock, func(b Bar) bool {
			room := b.Length
			if j.Trim > 0 {
				room -= j.Trim + j.Kerf
			}
			return ticks(length) <= ticks(room)
		})
	}
	j := m.SheetJob
	return slices.ContainsFunc(j.Stock, func(s Sheet) bool {
		w, h := ticks(s.Width-2*j.Trim), ticks(s.Height-2*j.Trim)
		l, b := ticks(length), ticks(width)
		return l <= h && b <= w || l <= w && b <= h
	})
}

// solve plans one material. Of two plans for sheets that cost the same the one that
// keeps to the record is taken.
func (m *MaterialPlan) solve(ctx context.Context, before *Record) (err error) {
	rec := before.of(m)
	if m.BarJob != nil {
		if rec != nil {
			m.resumeBars(rec)
		}
		m.Bars, err = Solve(ctx, m.BarJob)
		return err
	}
	var stable []CutSheet
	if rec != nil {
		stable = m.resumeSheets(rec)
	}
	if m.Sheets, err = SolveSheets(ctx, m.SheetJob); err != nil {
		return err
	}
	defer m.merge()
	if len(stable) == 0 {
		return nil
	}
	// Sheets have no plan of before in their search: those that still serve are kept as
	// if they were opened, and that plan is compared with the free one.
	again := *m.SheetJob
	again.Keep = append(slices.Clone(again.Keep), stable...)
	kept, err := SolveSheets(ctx, &again)
	if err == nil && kept.Cost <= m.Sheets.Cost+1e-9 && len(kept.Sheets) <= len(m.Sheets.Sheets) &&
		len(kept.Missing) <= len(m.Sheets.Missing) {
		kept.Proven = m.Sheets.Proven
		m.Sheets = kept
	}
	return err
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
// What is on hand costs nothing.
func bars(p layout.Part, shop Shop, hand []OnHand) (out []Bar) {
	for _, x := range hand {
		if x.Material == p.Material && near(x.Width, p.Width) && near(x.Thickness, p.Thickness) {
			out = append(out, Bar{Name: "on hand", Length: x.Height, Count: x.Count})
		}
	}
	var ids []string
	for _, l := range shop.Bars {
		ids = append(ids, StockID(p.Material, p.Thickness, p.Width, 0, l.Length))
	}
	known := shop.known(ids)
	for i, l := range shop.Bars {
		price := l.Price
		if price == 0 {
			price = l.Length
		}
		if known != nil {
			price = known[i]
		}
		out = append(out, Bar{Name: "new", Length: l.Length, Count: Any, Price: price})
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
	var ids []string
	for _, s := range shop.Sheets {
		ids = append(ids, StockID(p.Material, p.Thickness, 0, s.Width, s.Height))
	}
	known := shop.known(ids)
	for i, s := range shop.Sheets {
		price := s.Price
		if price == 0 {
			price = s.Width * s.Height
		}
		if known != nil {
			price = known[i]
		}
		out = append(out, Sheet{Name: "new", Width: s.Width, Height: s.Height, Count: Any, Price: price})
	}
	return out
}

// near says whether two thicknesses are one, to half a millimeter.
func near(a, b float64) bool { return math.Abs(a-b) < 0.0005 }

// New counts the bars or sheets that must be bought, by their length or size.
// Lengths stand in the names between marks, as in layout's notes, for
// layout.Words to print in a reader's units.
func (m *MaterialPlan) New() (names []string, counts []int) {
	for _, o := range m.Opens() {
		name := fmt.Sprintf("⟨%g⟩", o.Length)
		if o.Width > 0 {
			name = fmt.Sprintf("⟨%g⟩ × ⟨%g⟩", o.Width, o.Length)
		}
		names, counts = append(names, name), append(counts, o.Count)
	}
	return names, counts
}

// Opened is a size that a plan opens new of what is sold.
type Opened struct {
	// Length and Width are in m; the Width of a board is 0.
	Length, Width float64
	// Count is how many.
	Count int
}

// Opens lists what a plan opens new of what is sold, besides what is on hand.
func (m *MaterialPlan) Opens() (out []Opened) {
	add := func(length, width float64) {
		if i := slices.IndexFunc(out, func(x Opened) bool { return x.Width == width && x.Length == length }); i >= 0 {
			out[i].Count++
			return
		}
		out = append(out, Opened{length, width, 1})
	}
	if m.Bars != nil {
		for _, c := range m.Bars.Bars {
			if b := m.BarJob.Stock[c.Stock]; b.Count == Any {
				add(b.Length, 0)
			}
		}
		return out
	}
	for _, c := range m.Sheets.Sheets[m.Opened:] { // those before are bought
		if s := m.SheetJob.Stock[c.Stock]; s.Count == Any {
			add(s.Height, s.Width)
		}
	}
	return out
}

// Short is how many pieces no size has room for.
func (m *MaterialPlan) Short() (n int) {
	missing := map[int]int{}
	if m.Bars != nil {
		missing = m.Bars.Missing
	} else if m.Sheets != nil {
		missing = m.Sheets.Missing
	}
	for _, k := range missing {
		n += k
	}
	return n
}

// StockID names a size of a material as it is sold, so that a price can be kept for it:
// of a board of a section, width by thickness, or of a sheet with the section's width 0.
func StockID(material string, thickness, section, width, length float64) string {
	mm := func(v float64) float64 { return math.Round(1000 * v) }
	if width > 0 {
		return fmt.Sprintf("%s, %.1f, %.0f x %.0f", material, 1000*thickness, mm(width), mm(length))
	}
	return fmt.Sprintf("%s, %.1f x %.0f, %.0f long", material, 1000*thickness, mm(section), mm(length))
}

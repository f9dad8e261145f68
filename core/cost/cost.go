package cost

import (
	"context"
	"fmt"
	"math"
	"slices"

	"gladember/core/catalog"
	"gladember/core/cutting"
	"gladember/core/design"
	"gladember/core/layout"
	"gladember/core/sizing"
	"gladember/core/units"
)

// Counter is where one asks for a thing.
type Counter string

// The counters, in the order of the list: what is heavy and cut to size first, so that it
// is asked for before the shop closes its saw.
const (
	Timber     Counter = "Wood and boards"
	Glazing    Counter = "Glazing"
	Metal      Counter = "Sheet metal and mesh"
	Insulation Counter = "Insulation"
	Paints     Counter = "Paint, sealant and glue"
	Fixings    Counter = "Screws and fixings"
	Ducts      Counter = "Fan and ducts"
	Electric   Counter = "Electrical"
	Collected  Counter = "Collected"
)

// Counters are all of them in order.
var Counters = []Counter{Timber, Glazing, Metal, Insulation, Paints, Fixings, Ducts, Electric, Collected}

// Unit is what an amount is counted in.
type Unit string

// The units. Money is in the currency of the document and has none.
const (
	Piece       Unit = "piece"
	Meter       Unit = "m"
	SquareMeter Unit = "m2"
	Liter       Unit = "L"
)

// Price is what the builder saw a pack sold for.
type Price struct {
	// What is the ID of the line.
	What string `json:"what"`
	// Pack is for one pack, in the document's currency.
	Pack float64 `json:"price"`
	// Seen is the day on which it was seen, as 2006-01-02; empty for unknown.
	Seen string `json:"seen,omitempty"`
}

// Line is one thing to get.
type Line struct {
	// ID names the thing as it is sold; the same thing has the same ID in every heater,
	// so that a price serves for all.
	ID string
	// What is as one asks for it.
	What    units.Text
	Counter Counter
	Unit    Unit
	// Need is what the heater takes, Spare the part of it that is spoiled or kept in
	// reserve, and Have what is on hand, all in Unit.
	Need, Spare, Have float64
	// Pack is what is in one pack, in Unit, and PackName what the pack is called.
	Pack     float64
	PackName string
	// Buy is how many packs.
	Buy int
	// Price is what one pack costs; zero Pack where it is not known.
	Price Price
	// For are the letters of the parts that it is for.
	For []string
	// How says how the amount comes about.
	How units.Text
	// Missing says that no size that is sold has room for it.
	Missing bool
}

// named is what is asked for by its name alone.
func named(name string) units.Text { return units.Say("%v", units.Word(name)) }

// Priced says whether the price is known; Sum is what the line comes to.
func (l *Line) Priced() bool { return l.Price.Pack > 0 }

// Sum is what the line comes to; 0 where the price is not known.
func (l *Line) Sum() float64 { return float64(l.Buy) * l.Price.Pack }

// List is all that must be got.
type List struct {
	Lines []Line
	// Total is what the lines with a price come to; Unpriced is how many lines to buy
	// have none.
	Total    float64
	Unpriced int
}

// Line finds a line by its ID; nil where there is none.
func (l *List) Line(id string) *Line {
	for i := range l.Lines {
		if l.Lines[i].ID == id {
			return &l.Lines[i]
		}
	}
	return nil
}

// Input is what a list is made of.
type Input struct {
	Heater *design.Heater
	// Parts are those that are still to be made, with their counts.
	Parts  []layout.Part
	Layout *layout.Layout
	Shop   cutting.Shop
	Saw    cutting.Rules
	Hand   []sizing.Thing
	Prices []Price
	// Times is how many such heaters are built; zero means one.
	Times int
}

// times is how many heaters are built.
func (in *Input) times() int { return max(1, in.Times) }

// builder gathers the lines.
type builder struct {
	*Input
	h     *design.Heater
	n     float64 // heaters
	lines []Line
}

// Build lists what must be got. The error is that of the cutting plan.
func Build(ctx context.Context, in Input) (List, error) {
	b := &builder{Input: &in, h: in.Heater, n: float64(in.times())}
	if err := b.cut(ctx); err != nil {
		return List{}, err
	}
	b.glazing()
	b.rolls()
	b.whole()
	b.consumables()
	b.air()
	b.electric()
	return b.list(), nil
}

// list puts prices on the lines and sums them up.
func (b *builder) list() (out List) {
	slices.SortStableFunc(b.lines, func(x, y Line) int {
		return slices.Index(Counters, x.Counter) - slices.Index(Counters, y.Counter)
	})
	for i := range b.lines {
		l := &b.lines[i]
		for _, p := range b.Prices {
			if p.What == l.ID {
				l.Price = p
			}
		}
		if l.Buy > 0 && !l.Missing {
			out.Total += l.Sum()
			if !l.Priced() {
				out.Unpriced++
			}
		}
	}
	out.Lines = b.lines
	return out
}

// add puts a line on the list: as many packs as cover what is not on hand. A need that a
// rounding error lifts over a whole pack does not buy another.
func (b *builder) add(l Line) {
	if l.Need <= 0 {
		return
	}
	if l.Pack <= 0 {
		l.Pack = 1
	}
	l.Have = min(l.Have, l.Need)
	l.Buy = int(math.Ceil((l.Need-l.Have)/l.Pack - 1e-6))
	b.lines = append(b.lines, l)
}

// cut lists the lengths and sheets that the cutting plan opens.
func (b *builder) cut(ctx context.Context) error {
	parts := slices.Clone(b.Parts)
	for i := range parts {
		parts[i].Count *= b.times()
	}
	plans, err := cutting.Parts(ctx, parts, Priced(b.Shop, b.Prices), OnHand(b.Hand), b.Saw, nil)
	if err != nil {
		return err
	}
	for i := range plans {
		b.plan(&plans[i])
	}
	return nil
}

// Priced is a shop in which own prices count before those by size alone.
func Priced(shop cutting.Shop, prices []Price) cutting.Shop {
	shop.PriceOf = func(id string) float64 {
		for _, p := range prices {
			if p.What == id {
				return p.Pack
			}
		}
		return 0
	}
	return shop
}

// plan lists what one material takes.
func (b *builder) plan(m *cutting.MaterialPlan) {
	counter := counterOf(m.Material)
	section := []units.Value{units.Word(m.Material), units.Q(units.Length, m.Thickness)}
	format := "%v, %v"
	if m.Width > 0 {
		format, section = "%v, %v × %v", append(section, units.Q(units.Length, m.Width))
	}
	for _, s := range m.Opens() {
		what := units.Say(format+", %v long", append(slices.Clone(section), units.Q(units.Length, s.Length))...)
		if s.Width > 0 {
			what = units.Say(
				format+", %v × %v",
				append(slices.Clone(section), units.Q(units.Length, s.Width), units.Q(units.Length, s.Length))...)
		}
		b.add(Line{ID: cutting.StockID(m.Material, m.Thickness, m.Width, s.Width, s.Length),
			What: what, Counter: counter, Unit: Piece, Need: float64(s.Count),
			Price: b.sold(s), For: m.Parts, How: ripping(m)})
	}
	if n := m.Short(); n > 0 {
		b.lines = append(b.lines, Line{ID: m.Material + ", larger", Counter: counter, Unit: Piece, Need: float64(n), Buy: n, Pack: 1,
			What: units.Say(format+", larger than any size listed", section...), For: m.Parts, Missing: true,
			How: units.Say("No size that is sold has room for %v of its pieces.", units.Word(fmt.Sprint(n)))})
	}
}

// thinStrip is the thickness and the width below which a strip is sold nowhere, m. Common
// practice, no source.
const thinStrip = 0.020

// ripping says what to do where a strip of this section is not sold.
func ripping(m *cutting.MaterialPlan) units.Text {
	if m.Bars != nil && min(m.Width, m.Thickness) < thinStrip && counterOf(m.Material) == Timber {
		return units.Say("Rip it from a wider board where no strip of this section is sold.")
	}
	return units.Text{}
}

// sold is the price of a size among those that the document says are sold.
func (b *builder) sold(s cutting.Opened) Price {
	for _, x := range b.h.Workshop.Cut.Sold {
		if x.Length == s.Length && x.Width == s.Width {
			return Price{Pack: x.Price}
		}
	}
	return Price{}
}

// counterOf is where a material is sold.
func counterOf(material string) Counter {
	for _, c := range catalog.Insulations() {
		if c.Name == material {
			return Insulation
		}
	}
	for _, c := range catalog.Woods() {
		if c.Name == material {
			return Timber
		}
	}
	return Metal
}

// OnHand are the sheets and boards among the things on hand, for a cutting plan.
func OnHand(things []sizing.Thing) (out []cutting.OnHand) {
	for i := range things {
		t := &things[i]
		if t.Count < 1 || t.Width <= 0 || t.Height <= 0 {
			continue
		}
		var names []string
		switch t.Kind {
		case sizing.FoamThing:
			if f, err := catalog.FindInsulation(t.What); err == nil {
				names = []string{f.Name}
			}
		case sizing.SheetThing:
			if f, err := catalog.FindSheet(t.What); err == nil {
				names = []string{f.Name}
			}
		case sizing.BarThing: // any timber of the section will do
			for _, w := range catalog.Woods() {
				names = append(names, w.Name)
			}
		}
		for _, n := range names {
			out = append(out, cutting.OnHand{Material: n, Thickness: t.Thickness, Width: t.Width, Height: t.Height, Count: t.Count})
		}
	}
	return out
}

// glazing lists the panes, each in its size; a sound pane on hand that is as large and
// of the same material serves for one.
func (b *builder) glazing() {
	used := make([]int, len(b.Hand))
	for _, p := range b.Parts {
		if p.Group != layout.Cover || p.Form != layout.InSheets {
			continue
		}
		l := Line{ID: fmt.Sprintf("%s %.0f x %.0f x %.1f", p.Material, 1000*p.Width, 1000*p.Length, 1000*p.Thickness), Counter: Glazing,
			What: units.Say(
				"%v, %v × %v, %v thick",
				units.Word(p.Material),
				units.Q(units.Length, p.Width),
				units.Q(units.Length, p.Length),
				units.Q(units.Length, p.Thickness),
			), Unit: Piece,
			Need: float64(p.Count) * b.n, For: []string{p.Letter}, How: units.Say("Ordered in its size; edges ground, if it is glass.")}
		for i := range b.Hand {
			t := &b.Hand[i]
			for l.Have < l.Need && used[i] < t.Count && paneServes(t, &p) {
				used[i]++
				l.Have++
			}
		}
		b.add(l)
	}
}

// paneServes says whether a thing on hand is a pane for a part: of its material, sound,
// and at least its size either way round. A larger plastic sheet is cut down; glass must
// be the size, to a saw's width.
func paneServes(t *sizing.Thing, p *layout.Part) bool {
	c, err := catalog.FindCover(t.What)
	if err != nil || t.Kind != sizing.PaneThing || c.Name != p.Material || t.Condition == sizing.Doubtful {
		return false
	}
	const play = 0.003
	w, h := min(t.Width, t.Height), max(t.Width, t.Height)
	pw, ph := min(p.Width, p.Length), max(p.Width, p.Length)
	if c.Expansion < 3e-5 && c.Form == catalog.Flat {
		return math.Abs(w-pw) < play && math.Abs(h-ph) < play
	}
	return w > pw-play && h > ph-play
}

// Rolls of mesh and foil: the widths that are sold, what is folded over at each edge,
// and how much is spoiled. Common practice, no source.
var rollWidths = []float64{0.60, 0.90, 1.20, 1.50}

const (
	foldOver  = 0.025
	rollSpoil = 0.05
	rollPack  = 0.5 // sold by the half meter
)

// rolls lists what comes off a roll: for each material the running length of the
// narrowest roll that takes its widest piece, pieces laid side by side where the roll is
// wide enough for two.
func (b *builder) rolls() {
	byName := map[string][]layout.Part{}
	var names []string
	for _, p := range b.Parts {
		if p.Form != layout.FromRoll {
			continue
		}
		if byName[p.Material] == nil {
			names = append(names, p.Material)
		}
		byName[p.Material] = append(byName[p.Material], p)
	}
	for _, name := range names {
		parts := byName[name]
		widest := 0.0
		for _, p := range parts {
			widest = max(widest, min(p.Length, p.Width)+2*foldOver)
		}
		roll := rollWidths[len(rollWidths)-1]
		for _, w := range rollWidths {
			if w >= widest {
				roll = w
				break
			}
		}
		l := Line{ID: fmt.Sprintf("%s, roll %.0f", name, 1000*roll), Counter: Metal, Unit: Meter, Pack: rollPack,
			What: units.Say("%v off a roll %v wide", units.Word(name), units.Q(units.Length, roll)), PackName: "half meter"}
		run := 0.0
		for _, p := range parts {
			run += runningLength(&p, roll) * b.n
			l.For = append(l.For, p.Letter)
		}
		l.Spare = run * rollSpoil
		l.Need = run + l.Spare
		l.How = units.Say(
			"%v of pieces laid along the roll, with %v to fold over at each edge, and %v spoiled.",
			units.Q(units.Distance, run),
			units.Q(units.Length, foldOver),
			units.Q(units.Share, rollSpoil),
		)
		l.Have = b.rollOnHand(name, widest)
		b.add(l)
	}
}

// runningLength is how much of a roll the pieces of a part take, m.
func runningLength(p *layout.Part, roll float64) float64 {
	long, short := max(p.Length, p.Width)+2*foldOver, min(p.Length, p.Width)+2*foldOver
	if beside := math.Floor(roll / short); beside >= 1 {
		return long * math.Ceil(float64(p.Count)/beside)
	}
	return long * float64(p.Count) * math.Ceil(short/roll) // strips with a seam
}

// rollOnHand is how much of a mesh wide enough is on hand, m.
func (b *builder) rollOnHand(name string, wide float64) (m float64) {
	for i := range b.Hand {
		t := &b.Hand[i]
		if mesh, err := catalog.FindMesh(t.What); t.Kind == sizing.MeshThing && err == nil && mesh.Name == name {
			if w, l := min(t.Width, t.Height), max(t.Width, t.Height); w >= wide-1e-6 {
				m += l * float64(t.Count)
			}
		}
	}
	return m
}

// Spares of cans: some are dented, drilled off center or glued askew. Common practice,
// no source: fifteen cans plus five, but of many no more than a tenth.
const (
	leastSpareCans = 5
	spareCans      = 0.10
)

// whole lists what is bought or collected as it is.
func (b *builder) whole() {
	for _, p := range b.Parts {
		if p.Form != layout.Whole {
			continue
		}
		n := float64(p.Count) * b.n
		l := Line{ID: p.Material + ", " + p.ID, What: named(p.Material + ", " + p.Name), Counter: Fixings, Unit: Piece, Need: n,
			For: []string{p.Letter}, How: units.Say("One for each place.")}
		switch {
		case p.Material == layout.Ripped:
			continue // from the offcuts of the boards
		case p.Material == "drink can":
			l.ID, l.What, l.Counter = "drink can", units.Say(
				"drink cans, %v wide and %v high",
				units.Q(units.Length, p.Width),
				units.Q(units.Length, p.Length),
			), Collected
			l.Spare = max(leastSpareCans, math.Ceil(spareCans*n))
			l.Need += l.Spare
			for i := range b.Hand {
				if t := &b.Hand[i]; t.Kind == sizing.CanThing {
					l.Have += float64(t.Count)
				}
			}
			l.How = units.Say("%v in the box and %v in reserve.", units.Word(fmt.Sprint(n)), units.Word(fmt.Sprint(l.Spare)))
		case p.Thickness == 0 && p.Width > 0: // tapes, by their length
			l.ID, l.Unit, l.Need, l.Counter = p.Material, Meter, n*p.Length, Glazing
			l.What, l.Pack, l.PackName = units.Say("%v, %v wide", units.Word(p.Material), units.Q(units.Length, p.Width)), edgeTape, "roll"
			l.How = units.Say("%v along the edges of the glazing.", units.Q(units.Distance, l.Need))
		case p.Material == "foam closure strip":
			l.Counter = Glazing
		case p.Round() || p.Kind == layout.AbsorberBody:
			l.Counter = Metal
			l.What = units.Say(
				"%v, %v wide, %v long",
				units.Word(p.Material),
				units.Q(units.Length, p.Width),
				units.Q(units.Length, p.Length),
			)
			l.ID = fmt.Sprintf("%s %.0f x %.0f", p.Material, 1000*p.Width, 1000*p.Length)
		}
		b.add(l)
	}
}

// edgeTape is the length of a roll of edge tape, m. Common practice, no source.
const edgeTape = 10.0

// Weeks is how long it takes to collect the cans that a list still lacks, at so many a
// week; 0 where none is lacking, +Inf where none is collected.
func (l *List) Weeks(perWeek float64) float64 {
	x := l.Line("drink can")
	if x == nil || x.Need <= x.Have {
		return 0
	}
	return (x.Need - x.Have) / perWeek
}

package cutting

import (
	"cmp"
	"context"
	"fmt"
	"math"
	"math/rand/v2"
	"slices"
	"time"
)

// Sheet is a stock of sheets.
type Sheet struct {
	// Name is what a plan calls it.
	Name string
	// Width and Height are in m; the grain, where there is one, runs along the
	// height.
	Width, Height float64
	// Count is how many there are, [Any] for a shop's.
	Count int
	// Price is for one; 0 for what is on hand.
	Price float64
}

// Panel is what is wanted of one size.
type Panel struct {
	// Name is what a plan calls it.
	Name string
	// Width and Height are the finished size, m.
	Width, Height float64
	// Count is how many are wanted.
	Count int
	// Rotate says that it may be cut across the grain too.
	Rotate bool
	// First says that its sheet is cut before those without such panels.
	First bool
}

// SheetJob is a list of panels to cut from sheets.
type SheetJob struct {
	// Stock is what there is, and Panels what is wanted.
	Stock  []Sheet
	Panels []Panel
	// Kerf is what a cut takes, m, and Trim what is cut off all four edges of each
	// sheet first, with its kerf.
	Kerf, Trim float64
	// Keep are sheets of a plan before, with panels cut already.
	Keep []CutSheet
	// Limit is how long the search may take; zero means one second.
	Limit time.Duration
}

// Rect is a rectangle on a sheet, m, from its left and bottom edges.
type Rect struct{ X, Y, W, H float64 }

// CutSheet is a sheet with its panels.
type CutSheet struct {
	// Stock is the index of the sheet's stock.
	Stock int
	// Panels are where the panels lie.
	Panels []Placed
	// Cuts are the cuts in an order in which each goes from edge to edge of the
	// piece that it cuts.
	Cuts []Saw
	// Offcuts are what is left, the largest first.
	Offcuts []Rect
}

// Placed is a panel on its sheet.
type Placed struct {
	// Panel is the index of the panel.
	Panel int
	Rect
	// Turned says that its width lies along the sheet's height.
	Turned bool
}

// Saw is one cut through a piece of a sheet.
type Saw struct {
	// Of is the piece that is cut, m.
	Of Rect
	// Along says that the cut runs along the height, at a distance from the left.
	Along bool
	// At is where the kerf begins, m, from the left or the bottom of the sheet.
	At float64
}

// SheetPlan is how a job is cut.
type SheetPlan struct {
	// Sheets are the sheets to cut, those kept first.
	Sheets []CutSheet
	// Cost is what must be bought, and Area that of all sheets opened, m2.
	Cost, Area float64
	// Waste is the share of that area that becomes no panel.
	Waste float64
	// LeastSheets is a number of sheets below which no plan can be, and CostBound a
	// cost below which none can be.
	LeastSheets int
	CostBound   float64
	// Proven says that no plan costs less and, at this cost, takes fewer sheets.
	Proven bool
	// Missing are the panels that no sheet is large enough for, or that there are
	// not sheets enough for, by their index.
	Missing map[int]int
}

// Check says what is wrong with a job: the list, the row, and what to enter.
func (j *SheetJob) Check() error {
	size := func(list string, i int, w, h float64) error {
		if !(w > 0 && w <= maxLength && h > 0 && h <= maxLength) {
			return fmt.Errorf("%s.%d: the size is not possible; enter over 0 to %g mm both ways", list, i, 1000*maxLength)
		}
		return nil
	}
	for i, s := range j.Stock {
		if err := size("sheets", i, s.Width, s.Height); err != nil {
			return err
		}
		if s.Count < Any {
			return fmt.Errorf("sheets.%d: the count is below 0; enter 0 or more, or leave it out for any number", i)
		}
		if !(s.Price >= 0 && s.Price <= maxPrice) {
			return fmt.Errorf("sheets.%d: the price is not possible; enter 0 to %g", i, maxPrice)
		}
	}
	n := 0
	for i, p := range j.Panels {
		if err := size("panels", i, p.Width, p.Height); err != nil {
			return err
		}
		if p.Count < 0 || p.Count > maxPieces {
			return fmt.Errorf("panels.%d: the count is not possible; enter 0 to %d", i, maxPieces)
		}
		if n += p.Count; n > maxPieces {
			return fmt.Errorf("panels.%d: the list has over %d panels; split it", i, maxPieces)
		}
	}
	if !(j.Kerf >= 0 && j.Kerf <= 0.05) {
		return fmt.Errorf("kerf: it is not possible; enter 0 to 50 mm")
	}
	if !(j.Trim >= 0 && j.Trim <= 0.5) {
		return fmt.Errorf("trim: it is not possible; enter 0 to 500 mm")
	}
	return nil
}

// rectangle is a rectangle in whole ticks.
type rectangle struct{ x, y, w, h int }

// m turns a box into m.
// Sheets are given in m outside this package.
func (b rectangle) m() Rect {
	return Rect{float64(b.x) * tick, float64(b.y) * tick, float64(b.w) * tick, float64(b.h) * tick}
}

// free is a piece of a sheet that nothing lies on yet.
type free struct {
	rectangle
	sheet int
}

// arrangement is one way to place everything.
type arrangement struct {
	// sheets is the stock of each sheet opened.
	sheets []int
	// placed and cuts are by sheet.
	placed [][]Placed
	cuts   [][]Saw
	// frees are the pieces that nothing lies on.
	frees []free
	// cost is what must be bought, and area that of all sheets, m2.
	cost float64
	area float64
	// missing are the panels that no sheet was left for.
	missing []int
}

// sheetSearch holds what stays the same from one layout to the next.
type sheetSearch struct {
	j *SheetJob
	// kerf and trim are in ticks.
	kerf int
	trim int
	// sizes are those of the stock, inside the trim.
	sizes []rectangle
	// size is that of each panel.
	size []rectangle
	// want is how many of each panel, and left how many sheets there are of
	// each stock.
	want []int
	left []int // sheets there are, by stock
}

// rules are how one greedy layout goes about it.
type rules struct {
	// fit says which free piece is the best: by area, by the shorter or by the
	// longer side left over.
	fit int
	// split says which of the two cuts comes first.
	split int
	// cheap opens the sheet that is the cheapest for its area, else the
	// cheapest.
	cheap bool
	// shaken moves the order of panels by so large a share.
	shaken float64
	// ordered is the measure by which the largest panel comes first.
	ordered int
}

// SolveSheets plans a job. ctx ends the search early; the plan is then the best so
// far. The error is that of [SheetJob.Check].
// Equal jobs give equal plans where time does not run out: the orders that are
// shaken come from a fixed seed.
func SolveSheets(ctx context.Context, j *SheetJob) (*SheetPlan, error) {
	if err := j.Check(); err != nil {
		return nil, err
	}
	limit := j.Limit
	if limit <= 0 {
		limit = time.Second
	}
	ctx, cancel := context.WithTimeout(ctx, limit)
	defer cancel()
	s := &sheetSearch{j: j, kerf: ticks(j.Kerf), trim: ticks(j.Trim)}
	s.begin()
	plan := &SheetPlan{Sheets: slices.Clone(j.Keep), Missing: map[int]int{}}
	s.bound(plan)
	best := s.best(ctx, plan)
	for i, stock := range best.sheets {
		c := CutSheet{Stock: stock, Panels: best.placed[i], Cuts: best.cuts[i]}
		for _, f := range best.frees {
			if f.sheet == i {
				c.Offcuts = append(c.Offcuts, f.m())
			}
		}
		slices.SortStableFunc(c.Offcuts, func(a, b Rect) int { return cmp.Compare(b.W*b.H, a.W*a.H) })
		plan.Sheets = append(plan.Sheets, c)
	}
	for _, i := range best.missing {
		plan.Missing[i]++
	}
	first := func(c CutSheet) int {
		if slices.ContainsFunc(c.Panels, func(p Placed) bool { return p.Panel >= 0 && j.Panels[p.Panel].First }) {
			return 0
		}
		return 1
	}
	slices.SortStableFunc(plan.Sheets[len(j.Keep):], func(a, b CutSheet) int { return first(a) - first(b) })
	s.sum(plan)
	return plan, nil
}

// begin puts sizes into ticks and takes off what is kept.
func (s *sheetSearch) begin() {
	for _, x := range s.j.Stock {
		s.sizes = append(s.sizes, rectangle{s.trim, s.trim, ticks(x.Width) - 2*s.trim, ticks(x.Height) - 2*s.trim})
		s.left = append(s.left, x.Count)
	}
	for _, p := range s.j.Panels {
		s.size = append(s.size, rectangle{w: ticks(p.Width), h: ticks(p.Height)})
		s.want = append(s.want, p.Count)
	}
	for _, c := range s.j.Keep {
		for _, p := range c.Panels {
			if p.Panel >= 0 && p.Panel < len(s.want) && s.want[p.Panel] > 0 {
				s.want[p.Panel]--
			}
		}
		if c.Stock >= 0 && c.Stock < len(s.left) && s.left[c.Stock] > 0 {
			s.left[c.Stock]--
		}
	}
}

// fits says how a panel fits a box: 0 not, 1 as it stands, 2 turned, 3 both.
func (s *sheetSearch) fits(panel int, b rectangle) (how int) {
	p := s.size[panel]
	if p.w <= b.w && p.h <= b.h {
		how = 1
	}
	if s.j.Panels[panel].Rotate && p.h <= b.w && p.w <= b.h {
		how += 2
	}
	return how
}

// best tries layouts by many rules until time is up or a bound is met.
// First the 120 sets of rules without chance, then shaken ones. Among equals
// the layout with the largest offcut is the better one.
func (s *sheetSearch) best(ctx context.Context, plan *SheetPlan) *arrangement {
	var best *arrangement
	r := rand.New(rand.NewPCG(3, uint64(len(s.want))))
	better := func(a, b *arrangement) bool {
		return cmp.Or(cmp.Compare(len(a.missing), len(b.missing)), compareNear(a.cost, b.cost), compareNear(a.area, b.area),
			-compareNear(a.largest(), b.largest())) < 0
	}
	const most = 20_000
	for n := range most {
		x := rules{fit: n % 3, split: n / 3 % 4, ordered: n / 12 % 5, cheap: n/60%2 == 0}
		if n >= 120 {
			x = rules{fit: r.IntN(3), split: r.IntN(4), ordered: r.IntN(5), cheap: r.IntN(2) == 0, shaken: 0.5 * r.Float64()}
		}
		l := s.lay(x, r)
		if best == nil || better(l, best) {
			best = l
		}
		if n >= 119 && (ctx.Err() != nil || len(best.missing) == 0 && best.cost <= plan.CostBound+1e-9 &&
			len(best.sheets) <= plan.LeastSheets && n > 400) {
			break
		}
		if n%16 == 0 && ctx.Err() != nil {
			break
		}
	}
	return best
}

// compareNear compares two sums that rounding may have moved.
func compareNear(a, b float64) int {
	if math.Abs(a-b) <= 1e-9*max(1, math.Abs(a)) {
		return 0
	}
	return cmp.Compare(a, b)
}

// largest is the area of the largest free piece, m2.
// An offcut is worth most in one piece.
func (l *arrangement) largest() (most float64) {
	for _, f := range l.frees {
		most = max(most, float64(f.w)*tick*float64(f.h)*tick)
	}
	return most
}

// lay places all panels by one set of rules.
// A panel that fits no free piece opens a new sheet.
func (s *sheetSearch) lay(x rules, r *rand.Rand) *arrangement {
	l := &arrangement{}
	left := slices.Clone(s.left)
	for _, panel := range s.order(x, r) {
		at, turned := s.choose(l, panel, x)
		if at < 0 {
			stock := s.open(panel, left, x)
			if stock < 0 {
				l.missing = append(l.missing, panel)
				continue
			}
			if left[stock] != Any {
				left[stock]--
			}
			l.sheets = append(l.sheets, stock)
			l.placed, l.cuts = append(l.placed, nil), append(l.cuts, nil)
			l.cost += s.j.Stock[stock].Price
			l.area += s.j.Stock[stock].Width * s.j.Stock[stock].Height
			i := len(l.sheets) - 1
			l.trimmed(s, i, stock)
			l.frees = append(l.frees, free{s.sizes[stock], i})
			at, turned = s.choose(l, panel, x)
		}
		s.place(l, at, panel, turned, x)
	}
	return l
}

// trimmed lists the four cuts that take the edges off a sheet.
// The cuts go left, right, bottom, top.
func (l *arrangement) trimmed(s *sheetSearch, i, stock int) {
	if s.trim == 0 {
		return
	}
	x := s.j.Stock[stock]
	w, h, t, k := x.Width, x.Height, s.j.Trim, s.j.Kerf
	// The kerf lies in the trim.
	l.cuts[i] = append(l.cuts[i], Saw{Rect{0, 0, w, h}, true, t - k}, Saw{Rect{t, 0, w - t, h}, true, w - t},
		Saw{Rect{t, 0, w - 2*t, h}, false, t - k}, Saw{Rect{t, t, w - 2*t, h - t}, false, h - t})
}

// order is in which panels are placed: the largest first by one of five measures,
// shaken a little.
// Equal keys keep the order of the list.
func (s *sheetSearch) order(x rules, r *rand.Rand) []int {
	type one struct {
		panel int
		key   float64
	}
	var all []one
	for i, n := range s.want {
		w, h := float64(s.size[i].w), float64(s.size[i].h)
		key := [...]float64{w * h, max(w, h), min(w, h), w + h, h}[x.ordered]
		for range n {
			all = append(all, one{i, key * (1 + x.shaken*(r.Float64()-0.5))})
		}
	}
	slices.SortStableFunc(all, func(a, b one) int { return cmp.Compare(b.key, a.key) })
	out := make([]int, len(all))
	for i, o := range all {
		out[i] = o.panel
	}
	return out
}

// choose picks the free piece that a panel fits best.
// It returns the index of the free piece, -1 for none, and whether the panel is
// turned.
func (s *sheetSearch) choose(l *arrangement, panel int, x rules) (at int, turned bool) {
	at = -1
	least := math.Inf(1)
	for i, f := range l.frees {
		how := s.fits(panel, f.rectangle)
		for turn := range 2 {
			if how&(1<<turn) == 0 {
				continue
			}
			w, h := s.size[panel].w, s.size[panel].h
			if turn == 1 {
				w, h = h, w
			}
			dw, dh := float64(f.w-w), float64(f.h-h)
			v := [...]float64{float64(f.w)*float64(f.h) - float64(w)*float64(h), min(dw, dh), max(dw, dh)}[x.fit]
			if v < least {
				least, at, turned = v, i, turn == 1
			}
		}
	}
	return at, turned
}

// open picks the stock to take a new sheet of: what is on hand before what is
// bought, else the cheapest for its area or the smallest that fits; -1 for none.
// A sheet on hand costs nothing and is always taken first.
func (s *sheetSearch) open(panel int, left []int, x rules) (stock int) {
	stock = -1
	least := math.Inf(1)
	for j, b := range s.sizes {
		if left[j] == 0 || s.fits(panel, b) == 0 {
			continue
		}
		area := float64(b.w) * tick * float64(b.h) * tick
		v := area
		if p := s.j.Stock[j].Price; p > 0 {
			if v = 1e6 + p; x.cheap {
				v = 1e6 + p/area
			}
		}
		if v < least {
			least, stock = v, j
		}
	}
	return stock
}

// place cuts a panel out of a free piece: two cuts at most, whose order the rules
// decide.
// What is left beside and above becomes two free pieces; a strip no wider than
// the kerf is sawdust.
func (s *sheetSearch) place(l *arrangement, at, panel int, turned bool, x rules) {
	f := l.frees[at]
	l.frees = slices.Delete(l.frees, at, at+1)
	w, h := s.size[panel].w, s.size[panel].h
	if turned {
		w, h = h, w
	}
	l.placed[f.sheet] = append(l.placed[f.sheet], Placed{panel, rectangle{f.x, f.y, w, h}.m(), turned})
	cut := func(of rectangle, along bool, at int) {
		l.cuts[f.sheet] = append(l.cuts[f.sheet], Saw{of.m(), along, float64(at) * tick})
	}
	add := func(b rectangle) {
		if b.w > 0 && b.h > 0 {
			l.frees = append(l.frees, free{b, f.sheet})
		}
	}
	dw, dh := f.w-w, f.h-h
	// Whichever cut comes first makes one free piece long and the other short.
	along := false // the first cut runs along the height, beside the panel
	switch x.split {
	case 0: // leave the larger piece whole
		along = dw*f.h > dh*f.w
	case 1:
		along = dw*f.h <= dh*f.w
	case 2:
		along = dw > dh
	default:
		along = dw <= dh
	}
	if dw <= 0 {
		along = false
	} else if dh <= 0 {
		along = true
	}
	if along {
		cut(f.rectangle, true, f.x+w)
		add(rectangle{f.x + w + s.kerf, f.y, dw - s.kerf, f.h})
		if dh > 0 {
			cut(rectangle{f.x, f.y, w, f.h}, false, f.y+h)
			add(rectangle{f.x, f.y + h + s.kerf, w, dh - s.kerf})
		}
		return
	}
	if dh > 0 {
		cut(f.rectangle, false, f.y+h)
		add(rectangle{f.x, f.y + h + s.kerf, f.w, dh - s.kerf})
	}
	if dw > 0 {
		cut(rectangle{f.x, f.y, f.w, h}, true, f.x+w)
		add(rectangle{f.x + w + s.kerf, f.y, dw - s.kerf, h})
	}
}

// bound writes a number of sheets and a cost below which no plan of the panels
// that fit can be. The area of a panel counts with the kerf at two of its sides,
// and so does that of a sheet; panels over half a sheet both ways need a sheet
// each, and dual feasible functions (Fekete and Schepers 2001) count what is
// nearly so. With panels that may be turned the lesser of both ways counts.
// It says nothing of a sheet that no panel fits.
func (s *sheetSearch) bound(plan *SheetPlan) {
	wide, high := 0, 0
	for j, b := range s.sizes {
		if s.left[j] != 0 {
			wide, high = max(wide, b.w), max(high, b.h)
		}
	}
	if wide <= 0 || high <= 0 {
		return
	}
	most := 0.0
	for _, ew := range []float64{0, 0.05, 0.1, 0.2, 0.25, 0.3, 1.0 / 3, 0.4, 0.5} {
		for _, eh := range []float64{0, 0.05, 0.1, 0.2, 0.25, 0.3, 1.0 / 3, 0.4, 0.5} {
			sum := 0.0
			for i, n := range s.want {
				if !s.anySheet(i) {
					continue
				}
				sum += float64(n) * s.worth(i, wide, high, ew, eh)
			}
			most = max(most, sum)
		}
	}
	plan.LeastSheets = int(math.Ceil(most - 1e-9))
	plan.CostBound = s.leastCost(plan.LeastSheets)
}

// worth is the share of a sheet that a panel takes at least by two dual feasible
// functions: the lesser of the ways in which it may lie on one.
func (s *sheetSearch) worth(panel, wide, high int, ew, eh float64) float64 {
	p, k := s.size[panel], s.kerf
	least := math.Inf(1)
	for turn := range 2 {
		w, h := p.w, p.h
		if turn == 1 {
			w, h = h, w
		}
		if w <= wide && h <= high && (turn == 0 || s.j.Panels[panel].Rotate) {
			least = min(least, feasible(float64(w+k)/float64(wide+k), ew)*feasible(float64(h+k)/float64(high+k), eh))
		}
	}
	return least
}

// feasible is a dual feasible function: 1 over 1 - e, nothing under e, else x.
// Applied to both sides, the shares of panels that fit on one sheet never sum
// to more than one.
func feasible(x, e float64) float64 {
	switch {
	case x > 1-e+1e-12:
		return 1
	case x < e-1e-12:
		return 0
	}
	return x
}

// anySheet says whether a panel fits some sheet.
func (s *sheetSearch) anySheet(panel int) bool {
	for j, b := range s.sizes {
		if s.left[j] != 0 && s.fits(panel, b) != 0 {
			return true
		}
	}
	return false
}

// leastCost is what at least so many sheets with at least the panels' area cost:
// areas by the cheapest for its area, and no less than the cheapest sheets by
// number.
// Parts of sheets are allowed, except where one stock is all there is.
func (s *sheetSearch) leastCost(sheets int) float64 {
	need := 0.0
	for i, n := range s.want {
		if s.anySheet(i) {
			need += float64(n) * float64(s.size[i].w+s.kerf) * tick * float64(s.size[i].h+s.kerf) * tick
		}
	}
	type one struct {
		area, price float64
		count       int
	}
	var all []one
	for j, b := range s.sizes {
		if s.left[j] != 0 && b.w > 0 && b.h > 0 {
			all = append(all, one{float64(b.w+s.kerf) * tick * float64(b.h+s.kerf) * tick, s.j.Stock[j].Price, s.left[j]})
		}
	}
	byArea := 0.0
	slices.SortFunc(all, func(a, b one) int { return cmp.Compare(a.price/a.area, b.price/b.area) })
	for _, x := range all {
		n := need / x.area
		if x.count != Any {
			n = min(n, float64(x.count))
		}
		need -= n * x.area
		byArea += n * x.price
	}
	byNumber := 0.0
	slices.SortFunc(all, func(a, b one) int { return cmp.Compare(a.price, b.price) })
	for _, x := range all {
		n := sheets
		if x.count != Any {
			n = min(n, x.count)
		}
		sheets -= n
		byNumber += float64(n) * x.price
	}
	bound := max(byArea, byNumber)
	if len(all) == 1 && all[0].price > 0 { // whole sheets of one price
		return all[0].price * math.Ceil(bound/all[0].price-1e-9)
	}
	return bound
}

// sum fills in what a plan comes to.
// A plan is proven if it meets both bounds.
func (s *sheetSearch) sum(plan *SheetPlan) {
	panels := 0.0
	kept := 0.0
	for i, c := range plan.Sheets {
		x := s.j.Stock[c.Stock]
		plan.Cost += x.Price
		plan.Area += x.Width * x.Height
		if i < len(s.j.Keep) {
			kept += x.Price
		}
		for _, p := range c.Panels {
			panels += p.W * p.H
		}
	}
	if plan.Area > 0 {
		plan.Waste = 1 - panels/plan.Area
	}
	plan.LeastSheets += len(s.j.Keep)
	plan.CostBound += kept
	plan.Proven = plan.Cost <= plan.CostBound+1e-9 && len(plan.Sheets) <= plan.LeastSheets
}

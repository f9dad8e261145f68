package cutting

import (
	"math"
	"slices"

	"gladember/core/layout"
)

// Record is a plan as it is kept between two looks at it.
//
// A plan outlives the design it was made for: while pieces are cut the builder goes
// on changing the heater. A Record keeps a plan by the names and sizes of its parts
// and says which pieces are cut. What is opened stays: the rest of a bar and the
// free pieces of a sheet are stock that costs nothing, and of the sheets and bars
// that are not opened those stay whose pieces are all still wanted, where that costs
// nothing.
type Record struct {
	Materials []MaterialRecord `json:"materials"`
}

// MaterialRecord is what is cut from one material. Lengths are in m.
type MaterialRecord struct {
	Material  string        `json:"material"`
	Width     float64       `json:"width_m,omitempty"`
	Thickness float64       `json:"thickness_m"`
	Bars      []BarRecord   `json:"bars,omitempty"`
	Sheets    []SheetRecord `json:"sheets,omitempty"`
}

// BarRecord is one bar with its pieces in their order.
type BarRecord struct {
	// Length is that of the whole bar as it came, m.
	Length float64 `json:"length_m"`
	// OnHand says that it lay among the materials and was not bought.
	OnHand bool `json:"on_hand,omitempty"`
	// Pieces are those cut and those to cut; the ones that are cut come first.
	Pieces []PieceRecord `json:"pieces"`
}

// PieceRecord is one piece of a part.
type PieceRecord struct {
	// Part is the part's name, which stays when letters move, and Letter what it was
	// called when it was planned.
	Part   string `json:"part"`
	Letter string `json:"letter"`
	// Length is the one it was planned with, m, and Done says that it is cut.
	Length float64 `json:"length_m"`
	Done   bool    `json:"done,omitempty"`
}

// SheetRecord is one sheet with its panels, their cuts and what is left.
type SheetRecord struct {
	// Width and Height are those of the whole sheet as it came, m.
	Width  float64 `json:"width_m"`
	Height float64 `json:"height_m"`
	// OnHand says that it lay among the materials and was not bought.
	OnHand bool `json:"on_hand,omitempty"`
	// Panels are those cut and those to cut, Cuts the order of the saw when the
	// sheet was planned, and Offcuts what is free.
	Panels  []PanelRecord `json:"panels"`
	Cuts    []Saw         `json:"cuts,omitempty"`
	Offcuts []Rect        `json:"offcuts,omitempty"`
}

// PanelRecord is one panel on its sheet.
type PanelRecord struct {
	// Part is the part's name and Letter what it was called.
	Part   string `json:"part"`
	Letter string `json:"letter"`
	// Rect is where it lies, m; Turned says that it lies across the sheet, and Done
	// that it is cut.
	Rect   Rect `json:"rect"`
	Turned bool `json:"turned,omitempty"`
	Done   bool `json:"done,omitempty"`
}

// Rest is what is left of a bar from which pieces are cut.
type Rest struct {
	// Length is that of the whole bar, m.
	Length float64
	// OnHand says that it was not bought.
	OnHand bool
	// Done are the pieces cut from it.
	Done []PieceRecord
	// Stock is the index of the rest in the job's stock.
	Stock int
}

// opened says whether a piece of the bar is cut.
func (b *BarRecord) opened() bool {
	return slices.ContainsFunc(b.Pieces, func(p PieceRecord) bool { return p.Done })
}

// opened says whether a panel of the sheet is cut.
func (s *SheetRecord) opened() bool {
	return slices.ContainsFunc(s.Panels, func(p PanelRecord) bool { return p.Done })
}

// SameSize is how near a recorded size must be to a part's to be it, m: a saw's own
// play.
const SameSize = 0.0005

// isPanel says whether a recorded panel has a size, whichever way it lies.
func (p *PanelRecord) isPanel(length, width float64) bool {
	long, wide := max(p.Rect.W, p.Rect.H), min(p.Rect.W, p.Rect.H)
	return math.Abs(long-length) < SameSize && math.Abs(wide-width) < SameSize
}

// Mark says that one more piece of a part of a size, m, is cut, or with done false
// that one is not. The first such piece of the record is marked, of bars and sheets
// that are opened before others, or the last one is taken back. It returns false
// where the record holds no such piece.
func (r *Record) Mark(part string, length, width float64, done bool) bool {
	type spot struct {
		at     *bool
		opened bool
	}
	var spots []spot
	for i := range r.Materials {
		m := &r.Materials[i]
		for b := range m.Bars {
			for k := range m.Bars[b].Pieces {
				if p := &m.Bars[b].Pieces[k]; p.Part == part && math.Abs(p.Length-length) < SameSize {
					spots = append(spots, spot{&p.Done, m.Bars[b].opened()})
				}
			}
		}
		for s := range m.Sheets {
			for k := range m.Sheets[s].Panels {
				if p := &m.Sheets[s].Panels[k]; p.Part == part && p.isPanel(length, width) {
					spots = append(spots, spot{&p.Done, m.Sheets[s].opened()})
				}
			}
		}
	}
	if !done {
		slices.Reverse(spots)
	}
	for _, opened := range []bool{true, false} {
		for _, x := range spots {
			if x.opened == opened && *x.at != done {
				*x.at = done
				return true
			}
		}
	}
	return false
}

// Done counts the pieces of a part of a size that are cut.
func (r *Record) Done(part string, length, width float64) (n int) {
	for i := range r.Materials {
		for _, b := range r.Materials[i].Bars {
			for _, p := range b.Pieces {
				if p.Done && p.Part == part && math.Abs(p.Length-length) < SameSize {
					n++
				}
			}
		}
		for _, s := range r.Materials[i].Sheets {
			for k := range s.Panels {
				if p := &s.Panels[k]; p.Done && p.Part == part && p.isPanel(length, width) {
					n++
				}
			}
		}
	}
	return n
}

// of finds what was recorded of a material; nil where there is nothing.
func (r *Record) of(m *MaterialPlan) *MaterialRecord {
	if r == nil {
		return nil
	}
	for i := range r.Materials {
		x := &r.Materials[i]
		// Sheets of 0.5 and 0.7 mm are two materials.
		same := ticks(x.Width) == ticks(m.Width) && ticks(x.Thickness) == ticks(m.Thickness)
		if x.Material == m.Material && same && (len(x.Bars) > 0) == (m.BarJob != nil) {
			return x
		}
	}
	return nil
}

// NewRecord keeps a plan, and what the record before it holds of materials of which
// all is cut.
func NewRecord(ms []MaterialPlan, before *Record) (r Record) {
	for i := range ms {
		r.Materials = append(r.Materials, ms[i].record())
	}
	if before == nil {
		return r
	}
	for _, x := range before.Materials {
		planned := slices.ContainsFunc(ms, func(m MaterialPlan) bool { return (&Record{[]MaterialRecord{x}}).of(&m) != nil })
		opened := slices.ContainsFunc(x.Bars, func(b BarRecord) bool { return b.opened() }) ||
			slices.ContainsFunc(x.Sheets, func(s SheetRecord) bool { return s.opened() })
		if !planned && opened {
			r.Materials = append(r.Materials, x.done())
		}
	}
	return r
}

// done is a material of which nothing more is wanted: what is opened stays with the
// pieces that are cut, and the places of the others are free.
func (m *MaterialRecord) done() MaterialRecord {
	out := MaterialRecord{Material: m.Material, Width: m.Width, Thickness: m.Thickness}
	for _, b := range m.Bars {
		if b.opened() {
			b.Pieces = slices.DeleteFunc(slices.Clone(b.Pieces), func(p PieceRecord) bool { return !p.Done })
			out.Bars = append(out.Bars, b)
		}
	}
	for _, s := range m.Sheets {
		if !s.opened() {
			continue
		}
		// The free places are listed by themselves, though some may lie side by side.
		free := slices.Clone(s.Offcuts)
		for _, p := range s.Panels {
			if !p.Done {
				free = append(free, p.Rect)
			}
		}
		s.Panels = slices.DeleteFunc(slices.Clone(s.Panels), func(p PanelRecord) bool { return !p.Done })
		s.Offcuts = free
		out.Sheets = append(out.Sheets, s)
	}
	return out
}

// Offcut is what is left of a bar or a sheet of which nothing more is wanted, m.
type Offcut struct {
	Material  string
	Thickness float64
	// Length and Width are those of the piece, of a board its length and section.
	Length, Width float64
	// FromBar says that it is the end of a board.
	FromBar bool
}

// leastOffcut is the smaller side of a piece of sheet that is worth keeping, and
// leastEnd the length of a board, m. Common practice, no source.
const (
	leastOffcut = 0.15
	leastEnd    = 0.30
)

// Offcuts are what the opened bars and sheets leave over once all their pieces are
// cut; kerf, m, is what each cut of a bar took.
func (r *Record) Offcuts(kerf float64) (out []Offcut) {
	for i := range r.Materials {
		m := &r.Materials[i]
		for _, b := range m.Bars {
			// With a piece still to be cut the rest is stock and no offcut yet.
			rest, todo := b.Length, false
			for _, p := range b.Pieces {
				rest -= p.Length + kerf
				todo = todo || !p.Done
			}
			if b.opened() && !todo && rest >= leastEnd {
				out = append(out, Offcut{Material: m.Material, Thickness: m.Thickness, Length: rest, Width: m.Width, FromBar: true})
			}
		}
		for k := range m.Sheets {
			s := &m.Sheets[k]
			if !s.opened() || slices.ContainsFunc(s.Panels, func(p PanelRecord) bool { return !p.Done }) {
				continue
			}
			for _, o := range s.Offcuts {
				if min(o.W, o.H) >= leastOffcut {
					out = append(
						out,
						Offcut{Material: m.Material, Thickness: m.Thickness, Length: max(o.W, o.H), Width: min(o.W, o.H)},
					)
				}
			}
		}
	}
	return out
}

// record is one material's plan by names and sizes.
func (m *MaterialPlan) record() MaterialRecord {
	x := MaterialRecord{Material: m.Material, Width: m.Width, Thickness: m.Thickness}
	if m.Bars == nil {
		for i, c := range m.Sheets.Sheets {
			st := m.SheetJob.Stock[c.Stock]
			s := SheetRecord{Width: st.Width, Height: st.Height, OnHand: st.Count != Any, Cuts: c.Cuts, Offcuts: c.Offcuts}
			for k, p := range c.Panels {
				if p.Panel < 0 {
					s.Panels = append(s.Panels, m.DonePanels[i][k])
					continue
				}
				s.Panels = append(s.Panels, PanelRecord{Part: m.IDs[p.Panel], Letter: m.Parts[p.Panel], Rect: p.Rect, Turned: p.Turned})
			}
			x.Sheets = append(x.Sheets, s)
		}
		return x
	}
	x.Bars = []BarRecord{}
	rests := map[int]Rest{}
	for _, r := range m.Rests {
		rests[r.Stock] = r
	}
	add := func(b BarRecord, c *Cut) {
		for _, at := range c.Pieces {
			b.Pieces = append(
				b.Pieces,
				PieceRecord{Part: m.IDs[at.Piece], Letter: m.Parts[at.Piece], Length: m.BarJob.Pieces[at.Piece].Length},
			)
		}
		x.Bars = append(x.Bars, b)
	}
	// A bar of which a rest was stock is one bar again, what is cut before what is to be.
	for i := range m.Bars.Bars {
		c := &m.Bars.Bars[i]
		if r, ok := rests[c.Stock]; ok {
			add(BarRecord{r.Length, r.OnHand, slices.Clone(r.Done)}, c)
			delete(rests, c.Stock)
			continue
		}
		st := m.BarJob.Stock[c.Stock]
		add(BarRecord{st.Length, st.Count != Any, nil}, c)
	}
	for _, r := range m.Rests { // nothing more comes out of these
		if _, left := rests[r.Stock]; left {
			x.Bars = append(x.Bars, BarRecord{r.Length, r.OnHand, slices.Clone(r.Done)})
		}
	}
	return x
}

// resumeBars lets a job go on where a record ends: the rests of opened bars are
// stock that costs nothing, bars on hand that are opened are there no more, and the
// other bars of the record are a plan to keep to.
func (m *MaterialPlan) resumeBars(rec *MaterialRecord) {
	j := m.BarJob
	piece := func(p PieceRecord) int {
		return slices.IndexFunc(j.Pieces, func(x Piece) bool {
			i := slices.Index(m.Parts, x.Name)
			return i >= 0 && m.IDs[i] == p.Part && math.Abs(x.Length-p.Length) < SameSize
		})
	}
	// The bars still to be cut are offered as a plan of before: it is kept as far as
	// its bars still serve and nothing cheaper is found.
	j.Before = &Plan{}
	for _, b := range rec.Bars {
		stock := slices.IndexFunc(j.Stock, func(s Bar) bool { return near(s.Length, b.Length) && (s.Count != Any) == b.OnHand })
		var todo, done []PieceRecord
		for _, p := range b.Pieces {
			if p.Done {
				done = append(done, p)
			} else {
				todo = append(todo, p)
			}
		}
		if len(done) > 0 {
			if stock >= 0 && b.OnHand && j.Stock[stock].Count > 0 {
				j.Stock[stock].Count--
			}
			// The pieces that are cut were taken from the bar's first end, each with its
			// kerf, whatever order they were marked in.
			rest := b.Length
			for _, p := range done {
				rest -= p.Length + j.Kerf
			}
			if rest <= 0 {
				rest = j.Kerf // there is nothing left, but it is opened
			}
			stock = len(j.Stock)
			j.Stock = append(j.Stock, Bar{Name: "opened", Length: rest, Count: 1})
			m.Rests = append(m.Rests, Rest{b.Length, b.OnHand, done, stock})
		}
		if stock < 0 || len(todo) == 0 {
			continue
		}
		// A bar of which one piece is not wanted any more is planned anew as a whole.
		c := Cut{Stock: stock}
		for _, p := range todo {
			if i := piece(p); i >= 0 {
				c.Pieces = append(c.Pieces, At{Piece: i})
			}
		}
		if len(c.Pieces) == len(todo) {
			j.Before.Bars = append(j.Before.Bars, c)
		}
	}
}

// leastRest is the smaller side of a free piece of an opened sheet that is worth
// planning with, m. Common practice, no source.
const leastRest = 0.05

// resumeSheets keeps the opened sheets of a record and returns those that were not
// opened and whose panels are all still wanted. A panel that is cut stays; one that
// is not wanted any more leaves its place free.
func (m *MaterialPlan) resumeSheets(rec *MaterialRecord) (stable []CutSheet) {
	j := m.SheetJob
	left := make([]int, len(j.Panels))
	for i, p := range j.Panels {
		left[i] = p.Count
	}
	// panel finds a panel that is still wanted and takes it from the count, so that no
	// panel is kept twice.
	panel := func(p *PanelRecord) int {
		for i := range j.Panels {
			long, wide := max(j.Panels[i].Height, j.Panels[i].Width), min(j.Panels[i].Height, j.Panels[i].Width)
			if m.IDs[i] == p.Part && p.isPanel(long, wide) && left[i] > 0 {
				return i
			}
		}
		return -1
	}
	for _, pass := range []bool{true, false} { // opened sheets first
		for k := range rec.Sheets {
			s := &rec.Sheets[k]
			stock := slices.IndexFunc(j.Stock, func(x Sheet) bool {
				return near(x.Width, s.Width) && near(x.Height, s.Height) && (x.Count != Any) == s.OnHand && x.Name != "rest"
			})
			if s.opened() != pass {
				continue
			}
			if stock < 0 {
				if !pass {
					continue
				}
				stock = len(j.Stock) // it is opened, though no such sheet is sold or on hand any more
				j.Stock = append(j.Stock, Sheet{Name: "opened", Width: s.Width, Height: s.Height, Count: 1})
			}
			c := CutSheet{Stock: stock, Cuts: s.Cuts, Offcuts: slices.Clone(s.Offcuts)}
			var names []PanelRecord
			uncut := true
			for i := range s.Panels {
				p := &s.Panels[i]
				at := Placed{Panel: -1, Rect: p.Rect, Turned: p.Turned}
				if !p.Done {
					if at.Panel = panel(p); at.Panel < 0 {
						c.Offcuts, uncut = append(c.Offcuts, p.Rect), false
						continue
					}
					left[at.Panel]--
				}
				c.Panels, names = append(c.Panels, at), append(names, *p)
			}
			switch {
			case pass:
				m.Opened++
				j.Keep, m.DonePanels = append(j.Keep, c), append(m.DonePanels, names)
				for _, o := range c.Offcuts {
					if min(o.W, o.H) >= leastRest {
						m.rests = append(m.rests, restOf{len(j.Stock), len(j.Keep) - 1, o})
						j.Stock = append(j.Stock, Sheet{Name: "rest", Width: o.W + 2*j.Trim, Height: o.H + 2*j.Trim, Count: 1})
					}
				}
			case uncut:
				stable = append(stable, c)
			default: // what was taken from the count goes back
				for _, p := range c.Panels {
					left[p.Panel]++
				}
			}
		}
	}
	return stable
}

// restOf is a free piece of an opened sheet that is planned with as a sheet.
type restOf struct {
	// stock is its index in the job's stock, and sheet that of its sheet in the plan.
	stock, sheet int
	// at is where it lies on the sheet, m.
	at Rect
}

// merge puts what is cut from the free pieces of opened sheets onto those sheets.
func (m *MaterialPlan) merge() {
	// From the last sheet on, since what is merged leaves the list. The rest was
	// planned as a sheet of its own, with trimmed edges that it does not need.
	p, trim := m.Sheets, m.SheetJob.Trim
	for i := len(p.Sheets) - 1; i >= 0; i-- {
		c := p.Sheets[i]
		k := slices.IndexFunc(m.rests, func(r restOf) bool { return r.stock == c.Stock })
		if k < 0 {
			continue
		}
		r := m.rests[k]
		dx, dy := r.at.X-trim, r.at.Y-trim
		onto := &p.Sheets[r.sheet]
		onto.Panels, onto.Cuts = slices.Clone(onto.Panels), slices.Clone(onto.Cuts)
		onto.Offcuts = slices.DeleteFunc(slices.Clone(onto.Offcuts), func(o Rect) bool { return o == r.at })
		move := func(o Rect) Rect { return Rect{o.X + dx, o.Y + dy, o.W, o.H} }
		for _, x := range c.Panels {
			x.Rect = move(x.Rect)
			onto.Panels = append(onto.Panels, x)
		}
		for _, x := range c.Cuts {
			if x.Of = move(x.Of); x.Along {
				x.At += dx
			} else {
				x.At += dy
			}
			onto.Cuts = append(onto.Cuts, x)
		}
		for _, o := range c.Offcuts {
			onto.Offcuts = append(onto.Offcuts, move(o))
		}
		p.Area -= m.SheetJob.Stock[c.Stock].Width * m.SheetJob.Stock[c.Stock].Height
		p.Sheets, p.Proven = slices.Delete(p.Sheets, i, i+1), false
	}
	// The area of a rest was counted twice, with its sheet and by itself.
	panels := 0.0
	for _, c := range p.Sheets {
		for _, x := range c.Panels {
			panels += x.W * x.H
		}
	}
	if p.Area > 0 {
		p.Waste = 1 - panels/p.Area
	}
}

// Unfinished is the record without the bars and sheets of which all is cut, for when
// their offcuts have gone back to the materials on hand.
func (r *Record) Unfinished() (out Record) {
	for _, m := range r.Materials {
		m.Bars = slices.DeleteFunc(slices.Clone(m.Bars), func(b BarRecord) bool {
			return b.opened() && !slices.ContainsFunc(b.Pieces, func(p PieceRecord) bool { return !p.Done })
		})
		m.Sheets = slices.DeleteFunc(slices.Clone(m.Sheets), func(s SheetRecord) bool {
			return s.opened() && !slices.ContainsFunc(s.Panels, func(p PanelRecord) bool { return !p.Done })
		})
		if len(m.Bars)+len(m.Sheets) > 0 {
			out.Materials = append(out.Materials, m)
		}
	}
	return out
}

// Split is a part that no bar or sheet is large enough for, made of equal pieces.
type Split struct {
	// Letter is the part's.
	Letter string
	// Whole is its length and Each that of one of its pieces, m; Count times Each is
	// Whole.
	Whole, Each float64
	Count       int
	// Joint says how the pieces are joined.
	Joint string
}

// joined says how pieces of one part are joined. Common practice, no source.
func joined(p *layout.Part) string {
	switch {
	case p.Group == layout.Foam:
		return "butted and taped on both faces"
	case p.Form == layout.InBars:
		return "butted, with a splice 300 mm long glued and screwed behind the joint"
	case p.Thickness < 0.003:
		return "lapped by 25 mm, riveted and sealed: cut one piece that much longer"
	}
	return "butted over a batten 60 mm wide, glued and screwed"
}

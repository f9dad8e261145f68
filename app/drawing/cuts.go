package drawing

import (
	"fmt"
	"html/template"
	"slices"
	"strings"

	"gladember/core/cutting"
	"gladember/core/units"
)

// Sizes of the cutting plans, pixels.
const (
	barHeight   = 26.0
	barStep     = 44.0
	barLeft     = 34.0
	letterWide  = 11.0 // of a character, about
	letterTall  = 13.0
	sheetMost   = 316.0 // the longer side of a sheet
	sheetApart  = 26.0
	sheetTop    = 22.0
	sheetFoot   = 24.0
	leastNamed  = 13.0 // a piece narrower than that has no letter
	sizeTall    = 30.0
	sizePerChar = 7.2
)

// Bars draws the bars of a plan to scale, one under the other, with the letters and
// lengths of their pieces; what is cut already is inked solid and offcuts are hatched.
// Equal bars stand once, with their number. href is what a piece leads to by its letter;
// nil where it leads nowhere.
func Bars(m *cutting.MaterialPlan, u units.System, href func(letter string) string, width float64) template.HTML {
	rows := barRows(m)
	longest := 0.0
	for _, r := range rows {
		longest = max(longest, r.length)
	}
	var s svg
	s.start(roleOf(href), "cutplan", fmt.Sprintf("How %d bars are cut", len(m.Bars.Bars)), width, barStep*float64(len(rows))+6)
	k := (width - barLeft - 2) / longest
	for i, r := range rows {
		y := 4 + barStep*float64(i)
		if r.count > 1 {
			s.text("figure", "start", 0, y+barHeight/2+5, fmt.Sprintf("%d ×", r.count))
		}
		s.rect("offcut", barLeft, y, r.length*k, barHeight)
		for _, p := range r.pieces {
			x, w := barLeft+p.from*k, p.length*k
			class, text := "cutpiece", "figure"
			if p.done {
				class, text = "cutpiece done", "figure on-ink"
			}
			size := units.Figure(units.Length, p.length, u)
			s.linked(href, p.name, func() {
				s.rect(class, x, y, w, barHeight)
				switch full := p.name + "  " + size; {
				case w > float64(len(full))*sizePerChar+6:
					s.text(text, "middle", x+w/2, y+barHeight/2+5, full)
				case w > leastNamed+letterWide*float64(len(p.name)-1):
					s.text(text, "middle", x+w/2, y+barHeight/2+5, p.name)
				}
			})
		}
		if left := r.offcut * k; left > 62 {
			s.text("figure soft", "end", barLeft+r.length*k-4, y+barHeight/2+5, units.Figure(units.Length, r.offcut, u))
		}
	}
	return s.close()
}

// roleOf is what a plan is to those who cannot see it: a picture, or a group where its pieces lead somewhere.
func roleOf(href func(letter string) string) string {
	if href == nil {
		return "img"
	}
	return "group"
}

// linked draws a piece that leads to its part. The list of parts has the links for the keyboard.
func (s *svg) linked(href func(letter string) string, letter string, draw func()) {
	if href == nil {
		draw()
		return
	}
	fmt.Fprintf(s, `<a href="%s" tabindex="-1" aria-hidden="true">`, esc(href(letter)))
	draw()
	s.WriteString("</a>")
}

// barPiece is a piece on a bar, m from its first end.
type barPiece struct {
	name         string
	from, length float64
	done         bool
}

// barRow is a bar as it is drawn, and how many are alike.
type barRow struct {
	length, offcut float64
	pieces         []barPiece
	count          int
}

// barRows are the bars of a plan: of an opened one what is cut already stands first.
func barRows(m *cutting.MaterialPlan) (rows []barRow) {
	used := map[int]bool{}
	rest := func(stock int) *cutting.Rest {
		for i := range m.Rests {
			if m.Rests[i].Stock == stock {
				return &m.Rests[i]
			}
		}
		return nil
	}
	begin := func(r *cutting.Rest) (row barRow, at float64) {
		row = barRow{length: r.Length, count: 1}
		for _, p := range r.Done {
			row.pieces = append(row.pieces, barPiece{p.Letter, at, p.Length, true})
			at += p.Length + m.BarJob.Kerf
		}
		return row, at
	}
	var last *cutting.Cut
	for i := range m.Bars.Bars {
		c := &m.Bars.Bars[i]
		row, at := barRow{length: m.BarJob.Stock[c.Stock].Length, count: 1}, 0.0
		r := rest(c.Stock)
		if r != nil {
			row, at = begin(r)
			used[c.Stock] = true
		} else if last != nil && same(*last, *c) {
			rows[len(rows)-1].count++
			continue
		}
		for _, x := range c.Pieces {
			p := m.BarJob.Pieces[x.Piece]
			row.pieces = append(row.pieces, barPiece{p.Name, at + x.From, p.Length, false})
		}
		row.offcut = c.Offcut
		rows = append(rows, row)
		if last = c; r != nil {
			last = nil
		}
	}
	for i := range m.Rests {
		if r := &m.Rests[i]; !used[r.Stock] {
			row, at := begin(r)
			row.offcut = max(0, r.Length-at)
			rows = append(rows, row)
		}
	}
	return rows
}

// same says whether two bars are cut alike, but for which of equal pieces lies
// where.
func same(a, b cutting.Cut) bool {
	if a.Stock != b.Stock || len(a.Pieces) != len(b.Pieces) {
		return false
	}
	for i := range a.Pieces {
		if a.Pieces[i].Piece != b.Pieces[i].Piece {
			return false
		}
	}
	return true
}

// Sheets draws the sheets of a plan to scale, each lying on its side, as many in a
// row as there is room for, with the letters and sizes of their panels; offcuts are
// hatched. Panels too narrow for a letter are named below their sheet, in order. href is
// as for [Bars].
func Sheets(m *cutting.MaterialPlan, u units.System, href func(letter string) string, width float64) template.HTML {
	wide, high := 0.0, 0.0
	for _, c := range m.Sheets.Sheets {
		x := m.SheetJob.Stock[c.Stock]
		wide, high = max(wide, x.Width), max(high, x.Height)
	}
	k := min(sheetMost/max(1e-9, high), (width-4)/max(1e-9, high))
	each := high*k + sheetApart
	row := max(1, int((width+sheetApart-4)/each))
	lines := (len(m.Sheets.Sheets) + row - 1) / row
	step := wide*k + sheetTop + sheetFoot
	var s svg
	s.start(roleOf(href), "cutplan", fmt.Sprintf("How %d sheets are cut", len(m.Sheets.Sheets)), width, step*float64(lines)+4)
	for i, c := range m.Sheets.Sheets {
		s.sheet(m, u, href, &c, i+1, 2+each*float64(i%row), sheetTop+step*float64(i/row), k)
	}
	return s.close()
}

// numbered writes the number of each cut on its line, where no name stands; where there is no room it is only in the list of
// cuts. The sheet lies at x0, y0, w by h pixels, k to the meter; taken are the boxes of names.
func (s *svg) numbered(c *cutting.CutSheet, kerf, x0, y0, w, h, k float64, taken [][4]float64) {
	free := func(b [4]float64) bool {
		if b[0] < x0 || b[2] > x0+w || b[1] < y0 || b[3] > y0+h {
			return false
		}
		return !slices.ContainsFunc(taken, func(t [4]float64) bool { return b[0] < t[2] && t[0] < b[2] && b[1] < t[3] && t[1] < b[3] })
	}
	for n, x := range c.Cuts {
		text := fmt.Sprint(n + 1)
		half := letterWide*float64(len(text))/2 + 1
		for _, share := range []float64{0.12, 0.3, 0.5, 0.7, 0.88} {
			// The sheet's height runs to the right and its width upwards.
			cx, cy := x0+(x.At+kerf/2)*k, y0+h-(x.Of.X+share*x.Of.W)*k
			if x.Along {
				cx, cy = x0+(x.Of.Y+share*x.Of.H)*k, y0+h-(x.At+kerf/2)*k
			}
			if b := [4]float64{cx - half, cy - 8, cx + half, cy + 8}; free(b) {
				s.text("figure cutnumber haloed", "middle", cx, cy+4, text)
				taken = append(taken, b)
				break
			}
		}
	}
}

// sheet draws one sheet with its lower left corner at the left and the foot: its
// height runs to the right, its width upwards.
func (s *svg) sheet(m *cutting.MaterialPlan, u units.System, href func(letter string) string, c *cutting.CutSheet, number int,
	x0, y0, k float64) {
	st := m.SheetJob.Stock[c.Stock]
	w, h := st.Height*k, st.Width*k
	fm := func(v float64) string { return units.Figure(units.Length, v, u) }
	s.text("figure soft", "start", x0, y0-6, fmt.Sprintf("%d: %s × %s", number, fm(st.Width), fm(st.Height)))
	s.rect("offcut", x0, y0, w, h)
	var narrow []string
	var taken [][4]float64 // where names stand
	for i, p := range c.Panels {
		px, py, pw, ph := x0+p.Y*k, y0+h-(p.X+p.W)*k, p.H*k, p.W*k
		class, text, soft := "cutpiece", "figure", "figure soft"
		name := ""
		if p.Panel >= 0 {
			name = m.SheetJob.Panels[p.Panel].Name
		} else { // cut already
			class, text, soft = "cutpiece done", "figure on-ink", "figure on-ink"
			name = m.DonePanels[number-1][i].Letter
		}
		size := fm(p.W) + " × " + fm(p.H)
		cx, cy := px+pw/2, py+ph/2
		s.linked(href, name, func() {
			s.rect(class, px, py, pw, ph)
			switch {
			case pw > float64(len([]rune(size)))*sizePerChar+6 && ph > sizeTall:
				s.text(text, "middle", cx, cy-2, name)
				s.text(soft, "middle", cx, cy+13, size)
				half := float64(len([]rune(size))) * sizePerChar / 2
				taken = append(taken, [4]float64{cx - half, cy - 16, cx + half, cy + 17})
			case pw > leastNamed+letterWide*float64(len(name)-1) && ph > letterTall+2:
				s.text(text, "middle", cx, cy+5, name)
				half := letterWide * float64(len(name)) / 2
				taken = append(taken, [4]float64{cx - half, cy - 9, cx + half, cy + 9})
			default:
				narrow = append(narrow, name)
			}
		})
	}
	if number > m.Opened { // of an opened sheet it is not known which cuts are made
		s.numbered(c, m.SheetJob.Kerf, x0, y0, w, h, k, taken)
	}
	if len(narrow) > 0 {
		s.text("figure soft", "start", x0, y0+h+14, "narrow: "+strings.Join(slices.Compact(narrow), ", "))
	}
}

package formats

import (
	"fmt"
	"math"
	"slices"
	"strconv"
	"strings"
	"time"
)

// start finds where the table begins: loggers like to write a few lines about themselves first, and rows first agree on a width
// of two or more where the readings begin. A single wide line among narrow ones is none.
func start(all [][]string) int {
	for i := range all {
		if len(all[i]) >= 2 && (i+1 == len(all) || len(all[i+1]) == len(all[i])) {
			return i
		}
	}
	return -1
}

// unitWords are how loggers write units in a line of their own under the names.
var unitWords = []string{"°c", "°f", "c", "f", "deg c", "deg f", "degc", "degf", "celsius", "fahrenheit", "w/m2", "w/m²", "m/s", "%",
	"%rh",
	"v", "mv", "ma", "a", "pa", "hpa", "w", "lux", "hh:mm:ss", "yyyy-mm-dd", "local", "utc", "(c)", "(f)", "[c]", "[f]"}

// isUnits says whether a row is one of units: no cell is a number or a time, and half of those that say something are units.
func isUnits(row []string) bool {
	known, said := 0, 0
	for _, cell := range row {
		cell = strings.ToLower(strings.TrimSpace(cell))
		if cell == "" {
			continue
		}
		if _, ok := number(cell, false); ok {
			return false
		}
		if _, ok := parse(cell); ok {
			return false
		}
		said++
		if slices.Contains(unitWords, strings.Trim(cell, "()[]")) || slices.Contains(unitWords, cell) {
			known++
		}
	}
	return said > 0 && 2*known >= said
}

// withUnits joins names and the units under them.
func withUnits(names, units []string) []string {
	out := slices.Clone(names)
	for i := range out {
		if i < len(units) && strings.TrimSpace(units[i]) != "" {
			out[i] = strings.TrimSpace(out[i]) + " (" + strings.Trim(strings.TrimSpace(units[i]), "()[]") + ")"
		}
	}
	return out
}

// Bounds of a table with a row for each channel: how many channels it may have, and how far apart their times may be to be one
// reading.
const (
	mostChannels = 24
	oneReading   = 45 * time.Second
)

// tall finds in a table with a row a channel the columns of time, name and value. ok is false for any other table.
func tall(rows [][]string, comma bool) (at, name, value int, ok bool) {
	if len(rows) < 6 {
		return 0, 0, 0, false
	}
	sample := rows[:min(len(rows), 600)]
	at, name, value = -1, -1, -1
	for c := range rows[0] {
		times, numbers, words := 0, 0, map[string]bool{}
		for _, r := range sample {
			if c >= len(r) {
				continue
			}
			if _, is := number(r[c], comma); is {
				numbers++
			} else if _, is := parse(r[c]); is {
				times++
			} else if cell := strings.TrimSpace(r[c]); cell != "" {
				words[cell] = true
			}
		}
		switch n := len(sample); {
		case at < 0 && times > n*9/10:
			at = c
		case numbers > n*9/10 && len(words) == 0:
			if value >= 0 && counts(sample, value) {
				value = -1 // the one before only counts the rows
			}
			if value < 0 {
				value = c
			} else if !counts(sample, c) {
				return 0, 0, 0, false // two columns of values: a row has several channels
			}
		case name < 0 && times == 0 && numbers == 0 && len(words) >= 2 && len(words) <= mostChannels && len(words) <= n/3:
			name = c
		}
	}
	return at, name, value, at >= 0 && name >= 0 && value >= 0
}

// counts says whether a column only counts its rows.
func counts(rows [][]string, c int) bool {
	n, last, steps := 0, 0, 0
	for _, r := range rows {
		if c >= len(r) {
			return false
		}
		v, err := strconv.Atoi(strings.TrimSpace(r[c]))
		if err != nil {
			return false
		}
		if n > 0 && v == last+1 {
			steps++
		}
		n, last = n+1, v
	}
	return n > 2 && steps >= n-1-n/50
}

// widener turns rows of a channel each into rows of a reading: those whose times are less than a minute apart and whose channels
// differ are one.
type widener struct {
	at, name, value int
	names           []string // of the columns, the time first
	index           map[string]int
	row             []string // the reading that is being put together; nil for none
	begun           time.Time
	line            int // of its first row
}

func newWidener(at, name, value int, known []string) *widener {
	w := &widener{at: at, name: name, value: value, names: []string{"time"}, index: map[string]int{}}
	for _, n := range known[min(1, len(known)):] {
		w.names, w.index[n] = append(w.names, n), len(w.names)
	}
	return w
}

// add takes a row in, and gives the reading before it away once it is whole.
func (w *widener) add(r []string, line int, do func(row []string, line int) error) error {
	if w.at >= len(r) || w.name >= len(r) || w.value >= len(r) {
		return nil
	}
	channel := strings.TrimSpace(r[w.name])
	c, known := w.index[channel]
	if !known {
		if len(w.index) == mostChannels {
			return nil
		}
		c = len(w.names)
		w.names, w.index[channel] = append(w.names, channel), c
	}
	t, ok := parseTime(r[w.at], time.UTC, false)
	if w.row != nil && (w.row[c] != "" || ok && (t.Sub(w.begun) > oneReading || w.begun.Sub(t) > oneReading)) {
		if err := w.flush(do); err != nil {
			return err
		}
	}
	if w.row == nil {
		w.row, w.begun, w.line = make([]string, mostChannels+1), t, line
		w.row[0] = r[w.at]
	}
	w.row[c] = r[w.value]
	return nil
}

// flush gives the last reading away.
func (w *widener) flush(do func(row []string, line int) error) error {
	if w.row == nil {
		return nil
	}
	row := w.row
	w.row = nil
	return do(row[:len(w.names)], w.line)
}

// all turns rows that are in memory.
func (w *widener) all(rows [][]string, lines []int) (out [][]string, first []int) {
	keep := func(row []string, line int) error {
		out, first = append(out, row), append(first, line)
		return nil
	}
	for i, r := range rows {
		_ = w.add(r, lines[i], keep) // keeping never fails
	}
	_ = w.flush(keep)
	for i := range out {
		out[i] = out[i][:len(w.names)] // channels that came later are empty in it
	}
	return out, first
}

// decide notes what was decided about a table, and why.
func (t *Table) decide(format string, args ...any) {
	t.Decided = append(t.Decided, fmt.Sprintf(format, args...))
}

// Room air is warmer than this in no home, so that a column of it is in Fahrenheit.
const fahrenheitFrom = 45.0

// byWarmth finds temperatures that are in Fahrenheit though no name says so: by the air that is drawn in, of which the other probes
// of that logger are one kind.
func (t *Table) byWarmth() {
	g := &t.Guess
	i := g.Index(Inlet)
	if i < 0 || slices.Contains(g.Fahrenheit, true) || t.saysCelsius() {
		return
	}
	var v []float64
	for k := 0; k < len(t.Rows); k += max(1, len(t.Rows)/2000) {
		if i < len(t.Rows[k]) {
			if x, ok := number(t.Rows[k][i], g.DecimalComma); ok && x > -60 && x < 300 {
				v = append(v, x)
			}
		}
	}
	if len(v) == 0 {
		return
	}
	slices.Sort(v)
	if mid := v[len(v)/2]; mid > fahrenheitFrom && mid < 120 {
		for c, ch := range g.Columns {
			g.Fahrenheit[c] = ch == Inlet || ch == Outlet || ch == Outdoor
		}
		t.decide("Temperatures are read in °F: the inlet air is at %.0f most of the time, which no room is in °C.", mid)
	}
}

// saysCelsius says whether a name gives degrees Celsius.
func (t *Table) saysCelsius() bool {
	return slices.ContainsFunc(t.Names, func(n string) bool {
		low := strings.ToLower(n)
		return slices.ContainsFunc([]string{"°c", "(c)", "[c]", "celsius"}, func(u string) bool { return strings.Contains(low, u) }) ||
			strings.HasSuffix(low, " c") || strings.HasSuffix(low, "_c")
	})
}

// Context is what is known of the place of a log.
type Context struct {
	// MonthFirst says that people there write the month before the day; nil where that is not known.
	MonthFirst *bool
	// Mean is the usual outdoor temperature of a month there, C; nil where that is not known.
	Mean func(m time.Month) float64
}

// Shape names what a table looks like: files of one logger have one shape.
func (t *Table) Shape() string {
	return strings.ToLower(strings.Join(t.Names, "\x1f")) + "\x1e" + string(t.Guess.Delimiter)
}

// Recall reads the table as one of its shape was read before. It changes nothing where that does not fit.
func (t *Table) Recall(m Mapping) {
	if len(m.Columns) != len(t.Names) || len(m.Fahrenheit) != len(t.Names) || m.Index(Time) < 0 {
		return
	}
	m.Delimiter, m.Header = t.Guess.Delimiter, t.Guess.Header
	if !t.DateOpen || !m.Dated { // the file itself says it, or the last one said nothing of it
		m.MonthFirst, m.Dated = t.Guess.MonthFirst, t.Guess.Dated
	} else {
		t.DateOpen = false
	}
	t.Guess = m
	t.decide("The columns are read as in the last file of this logger.")
}

// Settle decides the order of a date that the file itself leaves open: by the season that the outdoor air speaks of, then by how
// dates are written at the place. What stays open must be asked.
func (t *Table) Settle(ctx Context) {
	if !t.DateOpen {
		return
	}
	if order, why, ok := t.season(ctx.Mean); ok {
		t.Guess.MonthFirst, t.DateOpen = order == MonthFirst, false
		t.decide("%s", why)
		return
	}
	if ctx.MonthFirst == nil {
		return
	}
	t.Guess.MonthFirst, t.DateOpen = *ctx.MonthFirst, false
	if *ctx.MonthFirst {
		t.decide("Dates are read with the month first, as they are written at the place of the heater.")
	} else {
		t.decide("Dates are read with the day first, as they are written at the place of the heater.")
	}
}

// season holds the outdoor temperature of the file against that of both months that its dates may mean.
func (t *Table) season(mean func(time.Month) float64) (order Order, why string, ok bool) {
	g := t.Guess
	ti, oi := g.Index(Time), g.Index(Outdoor)
	if mean == nil || ti < 0 || oi < 0 {
		return 0, "", false
	}
	const usual, far = 8.0, 15.0 // K that a day differs from its month's mean, and that no day does
	var off [2]float64
	n := 0
	for k := 0; k < len(t.Rows); k += max(1, len(t.Rows)/500) {
		row := t.Rows[k]
		if ti >= len(row) || oi >= len(row) {
			continue
		}
		s, is := parse(row[ti])
		v, num := number(row[oi], g.DecimalComma)
		if !is || !num || s.first < 1 || s.first > 12 || s.second < 1 || s.second > 12 {
			continue
		}
		if g.Fahrenheit[oi] {
			v = (v - 32) * 5 / 9
		}
		off[DayFirst] += v - mean(time.Month(s.second))
		off[MonthFirst] += v - mean(time.Month(s.first))
		n++
	}
	if n == 0 {
		return 0, "", false
	}
	day, month := math.Abs(off[DayFirst])/float64(n), math.Abs(off[MonthFirst])/float64(n)
	switch {
	case day < usual && month > far:
		return DayFirst, "Dates are read with the day first: with the month first the outdoor temperature would not fit the season.", true
	case month < usual && day > far:
		return MonthFirst, "Dates are read with the month first: with the day first the outdoor temperature would not fit the season.",
			true
	}
	return 0, "", false
}

// dating tells 2/13 from 13/2 over a whole file: by a number over 12, else by which part counts day after day while the other
// stands.
type dating struct {
	last         [2]int
	seen         int  // dates that differ from the one before
	days, months int  // steps of one day, if the day comes first and if the month does
	day, month   bool // a number over 12 says that the day, or the month, comes first
}

// add takes a time in.
func (d *dating) add(cell string) {
	s, ok := parse(cell)
	if !ok || s.first == 0 {
		return
	}
	now := [2]int{s.first, s.second}
	if now == d.last {
		return
	}
	d.day, d.month = d.day || now[0] > 12, d.month || now[1] > 12
	if d.seen > 0 {
		if now[0] == d.last[0]+1 && now[1] == d.last[1] {
			d.days++
		}
		if now[1] == d.last[1]+1 && now[0] == d.last[0] {
			d.months++
		}
	}
	d.last = now
	d.seen++
}

// order is what the dates say. dated says that there are such dates, and open that both readings are possible.
func (d *dating) order() (order Order, dated, open bool) {
	switch {
	case d.seen == 0:
		return DayFirst, false, false
	case d.day:
		return DayFirst, true, false
	case d.month:
		return MonthFirst, true, false
	case d.days > d.months:
		return DayFirst, true, false
	case d.months > d.days:
		return MonthFirst, true, false
	}
	return DayFirst, true, true
}

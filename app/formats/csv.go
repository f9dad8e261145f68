// Package formats reads and writes the files that other tools and people use.
package formats

import (
	"bytes"
	"encoding/csv"
	"errors"
	"fmt"
	"io"
	"math"
	"slices"
	"strconv"
	"strings"
	"time"
	"unicode"
	"unicode/utf8"

	"golang.org/x/text/encoding/charmap"
	utf "golang.org/x/text/encoding/unicode"
	"golang.org/x/text/transform"

	"gladember/core/measure"
	"gladember/core/units"
)

// MaxLog bounds a logger's file, bytes.
const MaxLog = 64 << 20

// Channel is what a column can be read as.
type Channel string

// The channels of a log.
const (
	Time    Channel = "time"
	Clock   Channel = "clock" // time of day beside a date
	Inlet   Channel = "inlet"
	Outlet  Channel = "outlet"
	Outdoor Channel = "outdoor"
	Sun     Channel = "sun"
	Speed   Channel = "speed"
	Ignore  Channel = ""
)

// Mapping says how to read a table.
type Mapping struct {
	Delimiter    rune
	DecimalComma bool
	Header       bool
	MonthFirst   bool
	Dated        bool // its dates are ones whose order matters, such as 2/13/2026
	Columns      []Channel
	Fahrenheit   []bool // by column
}

// Index returns the column of a channel, or -1.
func (m Mapping) Index(c Channel) int {
	for i, x := range m.Columns {
		if x == c {
			return i
		}
	}
	return -1
}

// Table is a file taken apart but not yet understood.
type Table struct {
	Names   []string
	Rows    [][]string // without the header; of a long file the first ones and some of the others
	Lines   []int      // of the rows, in the file, from 1; nil for a long file
	Guess   Mapping
	Preview [][]string
	// Decided says in sentences what was found out about the file, and DateOpen that its dates can be read both ways, see
	// [Table.Settle].
	Decided  []string
	DateOpen bool

	source string // of a long file, from which rows are read again
	skip   int    // rows before the first reading
	tall   bool   // it has a row for each channel
}

// ErrNoTable is returned for a file in which no table can be seen.
var ErrNoTable = errors.New("this is no table of readings; save the log as CSV with a time and one column a probe")

// Open takes a CSV apart, in whatever dialect, and guesses what its columns
// are. Text may be UTF-8, UTF-16 with a mark, or Latin-1.
func Open(r io.Reader) (*Table, error) {
	raw, err := io.ReadAll(io.LimitReader(r, MaxLog+1))
	if err != nil {
		return nil, fmt.Errorf("reading the log: %w", err)
	}
	return Parse(raw)
}

// Parse is [Open] of a file that is in memory already.
func Parse(raw []byte) (*Table, error) {
	if len(raw) > MaxLog {
		return nil, fmt.Errorf("the log is over %d MB; split it by month", MaxLog>>20)
	}
	if isSheet(raw) {
		rows, at, err := sheetRows(raw)
		if err != nil {
			return nil, err
		}
		return lay(rows, at, ';')
	}
	text, err := decode(raw)
	if err != nil {
		return nil, err
	}
	if strings.TrimSpace(text) == "" {
		return nil, errors.New("the file is empty; export the log again from the logger")
	}
	d := delimiter(text)
	all, at, more, err := records(text, d, headRows)
	if err != nil {
		return nil, err
	}
	t, err := lay(all, at, d)
	if err != nil {
		return nil, err
	}
	if !more {
		return t, nil
	}
	if t.tall {
		if all, at, _, err = records(text, d, math.MaxInt); err != nil {
			return nil, err
		}
		return lay(all, at, d)
	}
	return t, t.stream(text)
}

// A long log is read line by line, once to look at it and once to take it in: of its rows only the first and some of the others
// are kept.
const (
	headRows = 4000
	oneIn    = 200
)

// reader reads the rows of a text.
func reader(text string, d rune) *csv.Reader {
	r := csv.NewReader(strings.NewReader(text))
	r.Comma, r.LazyQuotes, r.FieldsPerRecord, r.TrimLeadingSpace, r.ReuseRecord = d, true, -1, true, true
	return r
}

// row reads the next row with its line; io.EOF at the end. It is good until the next one is read.
func row(r *csv.Reader) ([]string, int, error) {
	rec, err := r.Read()
	if err == io.EOF {
		return nil, 0, err
	}
	if err != nil {
		return nil, 0, fmt.Errorf("%w (%v)", ErrNoTable, err)
	}
	if len(rec) > maxColumns {
		return nil, 0, fmt.Errorf("a line has more than %d columns; keep only those of the probes", maxColumns)
	}
	line, _ := r.FieldPos(0)
	return rec, line, nil
}

// records reads rows until there are so many; more says that the text goes on.
func records(text string, d rune, most int) (all [][]string, at []int, more bool, err error) {
	r := reader(text, d)
	for {
		rec, line, err := row(r)
		if err == io.EOF {
			return all, at, false, nil
		}
		if err != nil {
			return nil, nil, false, err
		}
		if len(all) == most {
			return all, at, true, nil
		}
		all, at = append(all, slices.Clone(rec)), append(at, line)
	}
}

// stream looks through the whole of a long table: at the order of its dates, and at some of its rows.
func (t *Table) stream(text string) error {
	t.source, t.Lines = text, nil
	ti := t.Guess.Index(Time)
	var order dating
	n := 0
	err := t.each(func(rec []string, _ int) error {
		if ti >= 0 && ti < len(rec) {
			order.add(rec[ti])
		}
		if n++; n > headRows && n%oneIn == 0 {
			t.Rows = append(t.Rows, slices.Clone(rec))
		}
		return nil
	})
	if err != nil {
		return err
	}
	t.order(&order)
	return nil
}

// each calls a function with every row of the table and its line. The row is good during the call.
func (t *Table) each(do func(rec []string, line int) error) error {
	if t.source == "" {
		for i, rec := range t.Rows {
			if err := do(rec, t.Lines[i]); err != nil {
				return err
			}
		}
		return nil
	}
	r := reader(t.source, t.Guess.Delimiter)
	for n := 0; ; n++ {
		rec, line, err := row(r)
		if err == io.EOF {
			return nil
		}
		if err != nil {
			return err
		}
		if n < t.skip {
			continue
		}
		if err := do(rec, line); err != nil {
			return err
		}
	}
}

// order takes over what the dates of the file say of their order.
func (t *Table) order(d *dating) {
	order, dated, open := d.order()
	t.Guess.MonthFirst, t.Guess.Dated, t.DateOpen = order == MonthFirst, dated, open
}

// lay makes a table of rows: it leaves out what stands before it, joins a line of units to the names, turns a row a channel into a
// row a reading, and guesses what the columns are.
func lay(all [][]string, at []int, d rune) (*Table, error) {
	t := &Table{}
	begin := start(all)
	if begin < 0 {
		return nil, ErrNoTable
	}
	all, at = all[begin:], at[begin:]
	t.skip = begin
	if begin > 0 {
		t.decide("The first %d lines are left out: they are no readings.", begin)
	}
	header := isHeading(all[0])
	if header && len(all) > 1 && isUnits(all[1]) {
		all[1] = withUnits(all[0], all[1])
		all, at = all[1:], at[1:]
		t.skip++
		t.decide("The line under the names gives their units.")
	}
	body := all
	if header {
		body = all[1:]
		t.skip++
	}
	if time, name, value, ok := tall(body, commas(body[:min(len(body), enough)], d)); ok {
		first := at[len(at)-len(body):]
		names, rows, lines := wide(body, first, time, name, value)
		all, at, header = append([][]string{names}, rows...), append([]int{0}, lines...), true
		t.tall = true
		t.decide("The file has a row for each channel; those of one time are put together.")
	}
	t.guess(all, d)
	if t.Guess.Header {
		t.Names, t.Rows, t.Lines = all[0], all[1:], at[1:]
	} else {
		for i := range all[0] {
			t.Names = append(t.Names, fmt.Sprintf("column %d", i+1))
		}
		t.Rows, t.Lines = all, at
	}
	if len(t.Rows) == 0 {
		return nil, errors.New("the table has a heading and no readings; export the log again from the logger")
	}
	if i := t.Guess.Index(Time); i >= 0 {
		var d dating
		for _, r := range t.Rows {
			if i < len(r) {
				d.add(r[i])
			}
		}
		t.order(&d)
	}
	t.byWarmth()
	t.Preview = t.Rows[:min(5, len(t.Rows))]
	return t, nil
}

// unmarked is the decoder of UTF-16 without a mark, by the zeros that plain letters have in it; nil for anything else.
func unmarked(raw []byte) transform.Transformer {
	if len(raw) < 8 || raw[0] >= 0xfe {
		return nil
	}
	even, odd := 0, 0
	for i, b := range raw[:min(len(raw)&^1, 400)] {
		if b == 0 && i%2 == 0 {
			even++
		} else if b == 0 {
			odd++
		}
	}
	half := min(len(raw)&^1, 400) / 2
	switch {
	case odd > half*8/10 && even == 0:
		return utf.UTF16(utf.LittleEndian, utf.IgnoreBOM).NewDecoder()
	case even > half*8/10 && odd == 0:
		return utf.UTF16(utf.BigEndian, utf.IgnoreBOM).NewDecoder()
	}
	return nil
}

// decode turns a file into text.
func decode(raw []byte) (string, error) {
	switch {
	case unmarked(raw) != nil:
		out, _, err := transform.Bytes(unmarked(raw), raw)
		if err != nil {
			return "", ErrNoTable
		}
		raw = out
	case bytes.HasPrefix(raw, []byte{0xff, 0xfe}), bytes.HasPrefix(raw, []byte{0xfe, 0xff}):
		out, _, err := transform.Bytes(utf.UTF16(utf.LittleEndian, utf.ExpectBOM).NewDecoder(), raw)
		if err != nil {
			return "", ErrNoTable
		}
		raw = out
	}
	raw = bytes.TrimPrefix(raw, []byte("\xef\xbb\xbf"))
	if bytes.IndexByte(raw, 0) >= 0 {
		return "", ErrNoTable
	}
	if !utf8.Valid(raw) {
		out, err := charmap.Windows1252.NewDecoder().Bytes(raw)
		if err != nil {
			return "", ErrNoTable
		}
		raw = out
	}
	return string(raw), nil
}

// delimiter picks the sign that splits the most of the first lines alike.
func delimiter(text string) rune {
	lines := strings.SplitN(text, "\n", 60)
	best, score := ',', 0
	for _, d := range []rune{';', '\t', '|', ','} {
		counts := map[int]int{}
		for _, l := range lines {
			if n := strings.Count(l, string(d)); n > 0 {
				counts[n]++
			}
		}
		for n, c := range counts {
			// A semicolon or a tab is never a decimal mark.
			if s := c * min(n, 8); s > score && (d != ',' || best == ',') {
				best, score = d, s
			}
		}
		if score > 0 && d != ',' {
			break
		}
	}
	return best
}

// hints are words in a heading, tried in order.
var hints = []struct {
	c     Channel
	words []string
}{
	{Outdoor, []string{"outdoor", "outside", "ambient", "exterior"}},
	{Sun, []string{"sun", "solar", "irradiance", "radiation", "w/m", "pyranometer"}},
	{Speed, []string{"speed", "velocity", "m/s", "anemometer"}},
	{Outlet, []string{"outlet", "supply", "hot", "collector", "out", "tout"}},
	{Inlet, []string{"inlet", "return", "room", "cold", "in", "tin"}},
	{Time, []string{"timestamp", "datetime", "date", "time"}},
}

// hinted says whether a heading, in lower case, has a word; a short one must stand by itself, since "in" is also
// in "index" and "line".
func hinted(heading, word string) bool {
	if len(word) > 4 || strings.ContainsFunc(word, func(r rune) bool { return !unicode.IsLetter(r) }) {
		return strings.Contains(heading, word)
	}
	return slices.Contains(strings.FieldsFunc(heading, func(r rune) bool { return !unicode.IsLetter(r) }), word)
}

func (t *Table) guess(all [][]string, d rune) {
	g := Mapping{Delimiter: d, Columns: make([]Channel, len(all[0])), Fahrenheit: make([]bool, len(all[0])), Header: isHeading(all[0])}
	head, body := all[0], all
	if g.Header {
		body = all[1:]
	}
	sample := body[:min(len(body), enough)]
	g.DecimalComma = commas(sample, d)
	used := map[Channel]bool{}
	if g.Header {
		g.byNames(head, used)
	}
	g.byValues(sample, used)
	t.Guess = g
}

// isHeading says whether a row holds names: a cell with letters that is neither a number nor a time.
func isHeading(row []string) bool {
	return slices.ContainsFunc(row, func(cell string) bool {
		if _, ok := number(cell, false); ok {
			return false
		}
		if _, ok := parseTime(cell, time.UTC, false); ok {
			return false
		}
		return strings.ContainsFunc(cell, func(r rune) bool { return r >= 'A' && r <= 'z' })
	})
}

// enough are the rows by which columns are known.
const enough = 400

// commas says whether numbers are written with a decimal comma.
func commas(rows [][]string, delimiter rune) bool {
	comma, point := 0, 0
	for _, row := range rows {
		for _, cell := range row {
			cell = strings.TrimSpace(cell)
			if delimiter != ',' && strings.Count(cell, ",") == 1 && strings.Count(cell, ".") == 0 {
				if _, ok := number(cell, true); ok {
					comma++
				}
			} else if strings.Count(cell, ".") == 1 {
				if _, ok := number(cell, false); ok {
					point++
				}
			}
		}
	}
	return comma > point
}

// byNames takes channels and units from the names of the columns.
func (m *Mapping) byNames(head []string, used map[Channel]bool) {
	for _, h := range hints {
		for i, name := range head {
			if m.Columns[i] != Ignore {
				continue
			}
			low := strings.ToLower(name)
			if !slices.ContainsFunc(h.words, func(w string) bool { return hinted(low, w) }) {
				continue
			}
			c := h.c
			if c == Time && used[Time] {
				c = Clock
			}
			if !used[c] {
				m.Columns[i], used[c] = c, true
			}
		}
	}
	for i, name := range head {
		low := strings.ToLower(strings.TrimSpace(name))
		m.Fahrenheit[i] = strings.Contains(low, "°f") || strings.Contains(low, "(f)") || strings.Contains(low, "[f]") ||
			strings.HasSuffix(low, " f") || strings.HasSuffix(low, "_f") || strings.Contains(low, "fahrenheit")
	}
}

// byValues takes what names do not tell from the values: the first column that reads as times, then inlet, outlet and
// outdoors in the order of the columns that read as numbers.
func (m *Mapping) byValues(rows [][]string, used map[Channel]bool) {
	first := func(c Channel, fits func(cell string) bool) {
		for i := range m.Columns {
			if m.Columns[i] != Ignore {
				continue
			}
			ok := 0
			if c != Time && counts(rows, i) {
				continue // it only counts the rows
			}
			for _, row := range rows {
				if i < len(row) && fits(row[i]) {
					ok++
				}
			}
			if ok*2 > len(rows) {
				m.Columns[i], used[c] = c, true
				return
			}
		}
	}
	if !used[Time] {
		first(Time, func(cell string) bool { _, ok := parseTime(cell, time.UTC, false); return ok })
	}
	for _, c := range []Channel{Inlet, Outlet, Outdoor} {
		if !used[c] && (!m.Header || c != Outdoor) {
			first(c, func(cell string) bool { _, ok := number(cell, m.DecimalComma); return ok })
		}
	}
}

// number reads a number, with a unit behind it or without.
func number(s string, comma bool) (float64, bool) {
	s = strings.TrimSpace(s)
	if comma {
		s = strings.Replace(s, ",", ".", 1)
	}
	v, err := strconv.ParseFloat(s, 64)
	if err != nil {
		s = strings.TrimSpace(strings.TrimRight(strings.Replace(s, "\u2212", "-", 1), "°CFKcf% \u00a0"))
		v, err = strconv.ParseFloat(s, 64)
	}
	return v, err == nil && !math.IsNaN(v) && !math.IsInf(v, 0)
}

// joined is the time of a row, of one column or of two.
func joined(row []string, date, clock int) (stamp string) {
	if date < len(row) {
		stamp = row[date]
	}
	if clock >= 0 && clock < len(row) {
		stamp += " " + row[clock]
	}
	return stamp
}

// doubled is the instant of a local time in an hour that its clock shows twice: the earliest that does not lie before the reading
// before. ok is false for any other hour.
func doubled(at, last time.Time) (t time.Time, ok bool) {
	_, before := at.Add(-time.Hour).Zone()
	if _, after := at.Add(time.Hour).Zone(); before == after { // any other day
		return at, false
	}
	wall := at.Format(time.DateTime)
	for _, by := range []time.Duration{-time.Hour, 0, time.Hour} {
		c := at.Add(by)
		if c.Format(time.DateTime) != wall {
			continue
		}
		if by != 0 {
			ok = true
		}
		if t.IsZero() && !c.Before(last) {
			t = c
		}
	}
	if t.IsZero() {
		t = at
	}
	return t, ok
}

// put is the instant of a reading after the last one, and keeps it.
func (t *Table) put(at time.Time, last *time.Time) time.Time {
	if c, ok := doubled(at, *last); ok {
		at = c
		t.once(fmt.Sprintf("On %s the clock is put back: the hour that comes twice is read in its order.", at.Format("2 January 2006")))
	}
	*last = at
	return at
}

// once notes a sentence if it is not there yet.
func (t *Table) once(text string) {
	if !slices.Contains(t.Decided, text) {
		t.Decided = append(t.Decided, text)
	}
}

// Reject is a line that could not be read, or a value of it that its quantity cannot have.
type Reject struct {
	Line   int
	Reason string
	Kept   bool // the line was read without that value
}

// Read turns the table into readings by a mapping, times without an offset in
// the zone. Lines and values that cannot be used are listed in units u, not guessed at.
func (t *Table) Read(m Mapping, zone *time.Location, u units.System) ([]measure.Sample, []Reject, error) {
	need := map[Channel]string{Time: "a time", Inlet: "the air drawn in", Outlet: "the air out of the box"}
	for _, c := range []Channel{Time, Inlet, Outlet} {
		if m.Index(c) < 0 {
			return nil, nil, fmt.Errorf("no column gives %s; choose it above the preview", need[c])
		}
	}
	if zone == nil {
		zone = time.UTC
	}
	fahrenheit := units.System{Fahrenheit: true}
	var out []measure.Sample
	var bad []Reject
	get := func(row []string, c Channel) (float64, bool) {
		i := m.Index(c)
		if i < 0 || i >= len(row) {
			return math.NaN(), false
		}
		v, ok := number(row[i], m.DecimalComma)
		if !ok {
			return math.NaN(), false
		}
		if i < len(m.Fahrenheit) && m.Fahrenheit[i] && c != Sun && c != Speed {
			v, _ = units.Parse(units.Temperature, strconv.FormatFloat(v, 'f', -1, 64), fahrenheit)
		}
		return v, true
	}
	ti, ci := m.Index(Time), m.Index(Clock)
	var last time.Time
	err := t.each(func(row []string, line int) error {
		if len(row) == 1 && strings.TrimSpace(row[0]) == "" {
			return nil
		}
		stamp := joined(row, ti, ci)
		at, ok := parseTime(stamp, zone, m.MonthFirst)
		if !ok {
			bad = append(bad, Reject{Line: line, Reason: fmt.Sprintf("%q is not a time: enter it like 2026-02-10 12:30", clip(stamp))})
			return nil
		}
		at = t.put(at, &last)
		s := measure.Sample{At: at}
		var okIn, okOut bool
		s.Inlet, okIn = get(row, Inlet)
		s.Outlet, okOut = get(row, Outlet)
		s.Outdoor, _ = get(row, Outdoor)
		s.Sun, _ = get(row, Sun)
		s.Speed, _ = get(row, Speed)
		if !okIn || !okOut {
			bad = append(bad, Reject{Line: line, Reason: "inlet or outlet is not a number"})
			return nil
		}
		var odd []measure.Implausible
		s, odd = s.Plausible()
		usable := !math.IsNaN(s.Inlet) && !math.IsNaN(s.Outlet)
		for _, o := range odd {
			bad = append(bad, Reject{Line: line, Reason: o.In(u), Kept: usable})
			if !usable {
				break
			}
		}
		if !usable {
			return nil
		}
		out = append(out, s)
		return nil
	})
	if err != nil {
		return nil, bad, err
	}
	if len(out) == 0 {
		why := ""
		if len(bad) > 0 {
			why = fmt.Sprintf("; line %d: %s", bad[0].Line, bad[0].Reason)
		}
		return nil, bad, fmt.Errorf("no line could be read%s", why)
	}
	return out, bad, nil
}

func clip(s string) string {
	if r := []rune(s); len(r) > 30 {
		return string(r[:30]) + "…"
	}
	return s
}

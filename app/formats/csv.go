// Package formats reads and writes the files that other tools and people use.
package formats

import (
	"bytes"
	"errors"
	"fmt"
	"io"
	"math"
	"slices"
	"strconv"
	"strings"
	"time"
	"unicode"

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

	source *source // of a long file, from which rows are read again
	skip   int     // rows before the first reading
	tall   *widener
	close  func()
}

// ErrNoTable is returned for a file in which no table can be seen.
var ErrNoTable = errors.New("this is no table of readings; save the log as CSV with a time and one column a probe")

// Open takes a log apart, in whatever dialect, and guesses what its columns are. Text may be UTF-8, UTF-16 or Latin-1, or the file a
// spreadsheet.
func Open(r io.Reader) (*Table, error) {
	raw, err := io.ReadAll(io.LimitReader(r, MaxLog+1))
	if err != nil {
		return nil, fmt.Errorf("reading the log: %w", err)
	}
	return Scan(bytes.NewReader(raw), int64(len(raw)), "")
}

// Scan is [Open] of a file that is read where it lies: once to look at it, and again by [Table.Each]. It must stay open until then.
// [Table.Close] removes what was laid out of a spreadsheet, in the folder temporary, or in that of the system.
func Scan(file io.ReaderAt, size int64, temporary string) (*Table, error) {
	if size > MaxLog {
		return nil, fmt.Errorf("the log is over %d MB; split it by month", MaxLog>>20)
	}
	sheet, err := isSheet(file)
	if err != nil {
		return nil, err
	}
	if !sheet {
		s, err := newSource(file, size)
		if err != nil {
			return nil, err
		}
		return scan(s)
	}
	s, done, err := sheetSource(file, size, temporary)
	if err != nil {
		return nil, err
	}
	t, err := scan(s)
	if err != nil {
		done()
		return nil, err
	}
	t.close = done
	return t, nil
}

// Close removes what the table needed besides its file.
func (t *Table) Close() {
	if t.close != nil {
		t.close()
	}
}

// scan looks at a source: at its first rows, and where it goes on at the whole of it.
func scan(s *source) (*Table, error) {
	all, at, more, err := records(s.rows(), headRows)
	if err != nil {
		return nil, err
	}
	blank := func(row []string) bool { return len(row) == 1 && strings.TrimSpace(row[0]) == "" }
	if !more && !slices.ContainsFunc(all, func(r []string) bool { return !blank(r) }) {
		return nil, errors.New("the file is empty; export the log again from the logger")
	}
	t, err := lay(all, at, s.delimiter, nil)
	if err != nil || !more {
		return t, err
	}
	t.source = s
	if t.tall != nil { // a channel may come late
		before := len(t.tall.names)
		if err := t.each(func([]string, int) error { return nil }); err != nil {
			return nil, err
		}
		if names := t.tall.names; len(names) > before {
			if t, err = lay(all, at, s.delimiter, names); err != nil {
				return nil, err
			}
			t.source = s
		}
	}
	return t, t.look()
}

// A long log is read line by line, once to look at it and once to take it in: of its rows only the first and some of the others
// are kept.
const (
	headRows = 4000
	oneIn    = 200
)

// records reads rows until there are so many; more says that there are others.
func records(r *rows, most int) (all [][]string, at []int, more bool, err error) {
	for {
		rec, err := r.row()
		if err == io.EOF {
			return all, at, false, nil
		}
		if err != nil {
			return nil, nil, false, err
		}
		if len(all) == most {
			return all, at, true, nil
		}
		all, at = append(all, slices.Clone(rec)), append(at, r.line)
	}
}

// look goes through the whole of a long table: the order of its dates, and some of its rows.
func (t *Table) look() error {
	t.Lines = nil
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
	if t.source == nil {
		for i, rec := range t.Rows {
			if err := do(rec, t.Lines[i]); err != nil {
				return err
			}
		}
		return nil
	}
	r := t.source.rows()
	for n := 0; ; n++ {
		rec, err := r.row()
		if err == io.EOF {
			break
		}
		if err != nil {
			return err
		}
		switch {
		case n < t.skip:
		case t.tall != nil:
			err = t.tall.add(rec, r.line, do)
		default:
			err = do(rec, r.line)
		}
		if err != nil {
			return err
		}
	}
	if t.tall != nil {
		return t.tall.flush(do)
	}
	return nil
}

// order takes over what the dates of the file say of their order.
func (t *Table) order(d *dating) {
	order, dated, open := d.order()
	t.Guess.MonthFirst, t.Guess.Dated, t.DateOpen = order == MonthFirst, dated, open
}

// lay makes a table of rows: it leaves out what stands before it, joins a line of units to the names, turns a row a channel into a
// row a reading, and guesses what the columns are. The channels of such rows may be known.
func lay(all [][]string, at []int, d rune, channels []string) (*Table, error) {
	t := &Table{}
	begin := start(all)
	if begin < 0 {
		return nil, ErrNoTable
	}
	all, at = all[begin:], at[begin:]
	t.skip = begin
	switch {
	case begin == 1:
		t.decide("The first line is left out: it is no reading.")
	case begin > 1:
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
		t.tall = newWidener(time, name, value, channels)
		rows, lines := t.tall.all(body, first)
		all, at = append([][]string{t.tall.names}, rows...), append([]int{0}, lines...)
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
func (t *Table) Read(m Mapping, zone *time.Location, u units.System) (out []measure.Sample, bad []Reject, err error) {
	err = t.Each(m, zone, u, func(s measure.Sample) error {
		out = append(out, s)
		return nil
	}, func(r Reject) { bad = append(bad, r) })
	if err != nil {
		return nil, bad, err
	}
	return out, bad, nil
}

// Each is [Table.Read] reading by reading, in the order of the file.
func (t *Table) Each(m Mapping, zone *time.Location, u units.System, do func(measure.Sample) error, refuse func(Reject)) error {
	need := map[Channel]string{Time: "a time", Inlet: "the air drawn in", Outlet: "the air out of the box"}
	for _, c := range []Channel{Time, Inlet, Outlet} {
		if m.Index(c) < 0 {
			return fmt.Errorf("no column gives %s; choose it above the preview", need[c])
		}
	}
	if zone == nil {
		zone = time.UTC
	}
	var first Reject
	read := 0
	bad := func(r Reject) {
		if first.Line == 0 {
			first = r
		}
		refuse(r)
	}
	in := reading{t: t, m: m, zone: zone, u: u}
	err := t.each(func(row []string, line int) error {
		s, ok := in.read(row, line, bad)
		if !ok {
			return nil
		}
		read++
		return do(s)
	})
	switch {
	case err != nil:
		return err
	case read > 0:
		return nil
	case first.Line > 0:
		return fmt.Errorf("no line could be read; line %d: %s", first.Line, first.Reason)
	}
	return errors.New("no line could be read")
}

// reading reads the rows of a table by a mapping.
type reading struct {
	t    *Table
	m    Mapping
	zone *time.Location
	u    units.System
	last time.Time
}

// value is that of a channel; NaN and false where the row has none.
func (r *reading) value(row []string, c Channel) (float64, bool) {
	i := r.m.Index(c)
	if i < 0 || i >= len(row) {
		return math.NaN(), false
	}
	v, ok := number(row[i], r.m.DecimalComma)
	if !ok {
		return math.NaN(), false
	}
	if i < len(r.m.Fahrenheit) && r.m.Fahrenheit[i] && c != Sun && c != Speed {
		v, _ = units.Parse(units.Temperature, strconv.FormatFloat(v, 'f', -1, 64), units.System{Fahrenheit: true})
	}
	return v, true
}

// read reads a row; ok is false where it holds no reading.
func (r *reading) read(row []string, line int, bad func(Reject)) (s measure.Sample, ok bool) {
	if len(row) == 1 && strings.TrimSpace(row[0]) == "" {
		return s, false
	}
	stamp := joined(row, r.m.Index(Time), r.m.Index(Clock))
	at, ok := parseTime(stamp, r.zone, r.m.MonthFirst)
	if !ok {
		bad(Reject{Line: line, Reason: fmt.Sprintf("%q is not a time: enter it like 2026-02-10 12:30", clip(stamp))})
		return s, false
	}
	s.At = r.t.put(at, &r.last)
	var okIn, okOut bool
	s.Inlet, okIn = r.value(row, Inlet)
	s.Outlet, okOut = r.value(row, Outlet)
	s.Outdoor, _ = r.value(row, Outdoor)
	s.Sun, _ = r.value(row, Sun)
	s.Speed, _ = r.value(row, Speed)
	if !okIn || !okOut {
		bad(Reject{Line: line, Reason: "inlet or outlet is not a number"})
		return s, false
	}
	var odd []measure.Implausible
	s, odd = s.Plausible()
	usable := !math.IsNaN(s.Inlet) && !math.IsNaN(s.Outlet)
	for _, o := range odd {
		bad(Reject{Line: line, Reason: o.In(r.u), Kept: usable})
		if !usable {
			break
		}
	}
	return s, usable
}

func clip(s string) string {
	if r := []rune(s); len(r) > 30 {
		return string(r[:30]) + "…"
	}
	return s
}

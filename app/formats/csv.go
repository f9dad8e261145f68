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
	Rows    [][]string // without the header
	Lines   []int      // of the rows, in the file, from 1
	Guess   Mapping
	Preview [][]string
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
	if len(raw) > MaxLog {
		return nil, fmt.Errorf("the log is over %d MB; split it by month", MaxLog>>20)
	}
	text, err := decode(raw)
	if err != nil {
		return nil, err
	}
	if strings.TrimSpace(text) == "" {
		return nil, errors.New("the file is empty; export the log again from the logger")
	}
	t := &Table{}
	d := delimiter(text)
	lines := csv.NewReader(strings.NewReader(text))
	lines.Comma, lines.LazyQuotes, lines.FieldsPerRecord, lines.TrimLeadingSpace, lines.ReuseRecord = d, true, -1, true, false
	var all [][]string
	var at []int
	for {
		rec, err := lines.Read()
		if err == io.EOF {
			break
		}
		if err != nil {
			return nil, fmt.Errorf("%w (%v)", ErrNoTable, err)
		}
		line, _ := lines.FieldPos(0)
		all, at = append(all, rec), append(at, line)
	}
	// Loggers like to write a few lines about themselves first: the table
	// starts where rows first agree on a width of two or more.
	start := -1
	for i := range all {
		if len(all[i]) >= 2 && (i+1 == len(all) || len(all[i+1]) == len(all[i])) {
			start = i
			break
		}
	}
	if start < 0 {
		return nil, ErrNoTable
	}
	all, at = all[start:], at[start:]
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
	t.Preview = t.Rows[:min(5, len(t.Rows))]
	return t, nil
}

func decode(raw []byte) (string, error) {
	switch {
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
	for _, d := range []rune{';', '\t', ','} {
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
	const enough = 400 // rows
	sample := body[:min(len(body), enough)]
	g.DecimalComma = commas(sample, d)
	used := map[Channel]bool{}
	if g.Header {
		g.byNames(head, used)
	}
	g.byValues(sample, used)
	if ti := g.Index(Time); ti >= 0 {
		g.MonthFirst = monthFirst(sample, ti)
	}
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

// monthFirst tells 2/13 from 13/2: by a number over 12, else by which part
// stands still while the other counts.
func monthFirst(rows [][]string, col int) bool {
	first, second := map[string]bool{}, map[string]bool{}
	for _, r := range rows {
		if col >= len(r) {
			continue
		}
		f := strings.FieldsFunc(r[col], func(r rune) bool { return r == '/' || r == ' ' })
		if len(f) < 3 || !strings.Contains(r[col], "/") || len(f[0]) == 4 {
			continue
		}
		a, e1 := strconv.Atoi(f[0])
		b, e2 := strconv.Atoi(f[1])
		if e1 != nil || e2 != nil {
			continue
		}
		if a > 12 {
			return false
		}
		if b > 12 {
			return true
		}
		first[f[0]], second[f[1]] = true, true
	}
	return len(second) > len(first)
}

var layouts = []string{
	time.RFC3339, "2006-01-02T15:04:05", "2006-01-02 15:04:05", "2006-01-02 15:04", "2006-01-02T15:04", "2006/01/02 15:04:05",
	"2006/01/02 15:04",
	"2006-01-02", "2006-01-02 15:04:05 -0700", "02.01.2006 15:04:05", "02.01.2006 15:04", "02.01.2006", "2 Jan 2006 15:04:05",
	"2 Jan 2006 15:04", "Jan 2 2006 15:04:05",
}

var (
	dayFirstLayouts = []string{"2/1/2006 15:04:05", "2/1/2006 15:04", "2/1/2006 3:04:05 PM", "2/1/2006 3:04 PM", "2/1/2006",
		"2/1/06 15:04:05", "2/1/06 15:04"}
	monthFirstLayouts = []string{"1/2/2006 15:04:05", "1/2/2006 15:04", "1/2/2006 3:04:05 PM", "1/2/2006 3:04 PM", "1/2/2006",
		"1/2/06 15:04:05", "1/2/06 15:04"}
)

// parseTime reads a local time in the zone, an absolute one, or seconds (or
// milliseconds) since 1970.
func parseTime(s string, zone *time.Location, monthFirst bool) (time.Time, bool) {
	s = strings.TrimSpace(s)
	if len(s) < 6 || len(s) > 40 {
		return time.Time{}, false
	}
	sane := func(t time.Time) (time.Time, bool) { return t, t.Year() >= 1990 && t.Year() <= 2100 }
	if n, err := strconv.ParseInt(s, 10, 64); err == nil {
		switch {
		case n > 1e12 && n < 5e12:
			return sane(time.UnixMilli(n))
		case n > 6e8 && n < 5e9:
			return sane(time.Unix(n, 0))
		}
		return time.Time{}, false
	}
	local := dayFirstLayouts
	if monthFirst {
		local = monthFirstLayouts
	}
	for _, set := range [][]string{layouts, local} {
		for _, l := range set {
			if t, err := time.ParseInLocation(l, s, zone); err == nil {
				return sane(t)
			}
		}
	}
	return time.Time{}, false
}

func number(s string, comma bool) (float64, bool) {
	s = strings.TrimSpace(s)
	if comma {
		s = strings.Replace(s, ",", ".", 1)
	}
	v, err := strconv.ParseFloat(s, 64)
	return v, err == nil && !math.IsNaN(v) && !math.IsInf(v, 0)
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
	for i, row := range t.Rows {
		line := t.Lines[i]
		if len(row) == 1 && strings.TrimSpace(row[0]) == "" {
			continue
		}
		stamp := ""
		if ti < len(row) {
			stamp = row[ti]
		}
		if ci >= 0 && ci < len(row) {
			stamp += " " + row[ci]
		}
		at, ok := parseTime(stamp, zone, m.MonthFirst)
		if !ok {
			bad = append(bad, Reject{Line: line, Reason: fmt.Sprintf("%q is not a time: enter it like 2026-02-10 12:30", clip(stamp))})
			continue
		}
		s := measure.Sample{At: at}
		var okIn, okOut bool
		s.Inlet, okIn = get(row, Inlet)
		s.Outlet, okOut = get(row, Outlet)
		s.Outdoor, _ = get(row, Outdoor)
		s.Sun, _ = get(row, Sun)
		s.Speed, _ = get(row, Speed)
		if !okIn || !okOut {
			bad = append(bad, Reject{Line: line, Reason: "inlet or outlet is not a number"})
			continue
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
			continue
		}
		out = append(out, s)
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

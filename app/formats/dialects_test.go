package formats

import (
	"bytes"
	"encoding/json"
	"fmt"
	"math"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/xuri/excelize/v2"
	"golang.org/x/text/encoding/unicode"

	"gladember/core/measure"
	"gladember/core/units"
)

// Truth is what a dialect file holds.
type Truth struct {
	Samples []TruthSample `json:"samples,omitempty"`
	Ask     bool          `json:"ask,omitempty"`     // its dates can be read both ways
	Refused string        `json:"refused,omitempty"` // a word of the reason
	Month   *bool         `json:"month_first_place,omitempty"`
	Winter  bool          `json:"cold_february_place,omitempty"`
}

// TruthSample is a reading of it; null for what was not measured.
type TruthSample struct {
	At      time.Time `json:"at"`
	Inlet   float64   `json:"inlet"`
	Outlet  float64   `json:"outlet"`
	Outdoor *float64  `json:"outdoor"`
	Sun     *float64  `json:"sun"`
}

// place is the clock that all files without an offset are written by.
var place = func() *time.Location {
	z, err := time.LoadLocation("Europe/Zurich")
	if err != nil {
		panic(err)
	}
	return z
}()

// dialect is one way to write a log.
type dialect struct {
	name      string
	delimiter string // "," unless given
	comma     bool
	at        string // layout of the time; "" for 2006-01-02 15:04:05
	stamp     func(t time.Time) string
	names     []string // of time, inlet, outlet, outdoor, sun; nil for the usual, empty for none
	units     []string // a line of them
	before    string   // lines before the table
	serial    string   // name of a column that counts the rows
	quoted    bool
	fahr      bool
	cell      string // format of a value
	end       string // of a line
	encode    func(text string) []byte
	tall      bool
	skew      bool // channels are some seconds apart
	sheet     bool // a spreadsheet
	days      int  // the log goes on at noon of so many days
	from      time.Time
	month     *bool
	winter    bool
	ask       bool
	raw       string // the whole file
	refused   string
}

// series are the readings that every dialect writes: at noon, a minute apart.
func (d *dialect) series() (out []TruthSample) {
	from := d.from
	if from.IsZero() {
		from = time.Date(2026, 2, 10, 11, 58, 0, 0, place)
	}
	for day := range max(1, d.days) {
		for i := range 12 {
			t := from.AddDate(0, 0, day).Add(time.Duration(i) * time.Minute)
			od, sun := -2.5+0.1*float64(i), 800+float64(i)
			out = append(out, TruthSample{t, 18.5 + 0.1*float64(i), 41 + 0.5*float64(i), &od, &sun})
		}
	}
	return out
}

// columns are a dialect's names.
func (d *dialect) columns() []string {
	if d.names != nil {
		return d.names
	}
	return []string{"time", "inlet", "outlet", "outdoor", "sun"}
}

// value writes a number.
func (d *dialect) value(v float64, temp bool) string {
	if d.fahr && temp {
		v = v*9/5 + 32
	}
	f := d.cell
	if f == "" || !temp {
		f = "%.2f"
	}
	s := fmt.Sprintf(f, v)
	if d.comma {
		s = strings.Replace(s, ".", ",", 1)
	}
	if d.quoted {
		s = `"` + s + `"`
	}
	return s
}

// rows writes the table.
func (d *dialect) rows() (out [][]string) {
	names := d.columns()
	if d.serial != "" && len(names) > 0 {
		names = append([]string{d.serial}, names...)
	}
	if d.tall {
		names = []string{"Channel", "When", "Reading"}
	}
	if len(names) > 0 {
		out = append(out, names)
	}
	if d.units != nil {
		out = append(out, d.units)
	}
	for i, s := range d.series() {
		stamp := func(t time.Time) string {
			if d.stamp != nil {
				return d.stamp(t)
			}
			at := d.at
			if at == "" {
				at = time.DateTime
			}
			return t.Format(at)
		}
		if d.tall {
			for k, v := range []float64{s.Inlet, s.Outlet, *s.Outdoor, *s.Sun} {
				t := s.At
				if d.skew {
					t = t.Add(time.Duration(k) * 5 * time.Second)
				}
				out = append(out, []string{d.columns()[k+1], stamp(t), d.value(v, k < 3)})
			}
			continue
		}
		row := []string{stamp(s.At), d.value(s.Inlet, true), d.value(s.Outlet, true), d.value(*s.Outdoor, true), d.value(*s.Sun, false)}
		if parts := strings.Split(row[0], "|"); len(parts) == 2 && d.delimiter != "|" { // date and time in two columns
			row = append(parts, row[1:]...)
		}
		if d.serial != "" {
			row = append([]string{fmt.Sprint(i + 1)}, row...)
		}
		out = append(out, row)
	}
	return out
}

// file writes the dialect.
func (d *dialect) file(t *testing.T) []byte {
	t.Helper()
	if d.raw != "" {
		return []byte(d.raw)
	}
	if d.sheet {
		return d.workbook(t)
	}
	del, end := d.delimiter, d.end
	if del == "" {
		del = ","
	}
	if end == "" {
		end = "\n"
	}
	var b strings.Builder
	b.WriteString(d.before)
	for _, r := range d.rows() {
		b.WriteString(strings.Join(r, del) + end)
	}
	if d.encode != nil {
		return d.encode(b.String())
	}
	return []byte(b.String())
}

// workbook writes a spreadsheet with real dates and numbers, after a sheet of notes.
func (d *dialect) workbook(t *testing.T) []byte {
	t.Helper()
	f := excelize.NewFile()
	defer f.Close()
	_ = f.SetCellValue("Sheet1", "A1", "Notes of the logger")
	if _, err := f.NewSheet("Data"); err != nil {
		t.Fatal(err)
	}
	for i, name := range d.columns() {
		cell, _ := excelize.CoordinatesToCellName(i+1, 1)
		_ = f.SetCellValue("Data", cell, name)
	}
	for i, s := range d.series() {
		local := time.Date(s.At.Year(), s.At.Month(), s.At.Day(), s.At.Hour(), s.At.Minute(), s.At.Second(), 0, time.UTC)
		for k, v := range []any{local, s.Inlet, s.Outlet, *s.Outdoor, *s.Sun} {
			cell, _ := excelize.CoordinatesToCellName(k+1, i+2)
			if d.fahr && k > 0 && k < 4 {
				v = v.(float64)*9/5 + 32
			}
			_ = f.SetCellValue("Data", cell, v)
		}
	}
	b, err := f.WriteToBuffer()
	if err != nil {
		t.Fatal(err)
	}
	return b.Bytes()
}

// sixteen writes UTF-16.
func sixteen(e unicode.Endianness, bom unicode.BOMPolicy) func(string) []byte {
	return func(s string) []byte {
		b, err := unicode.UTF16(e, bom).NewEncoder().Bytes([]byte(s))
		if err != nil {
			panic(err)
		}
		return b
	}
}

func latin(s string) []byte { return bytes.ReplaceAll([]byte(s), []byte("°"), []byte{0xb0}) }

// dialects are ours: what loggers and people write, fifty and more ways.
func dialects() []dialect {
	yes, no := true, false
	utc := func(f func(time.Time) string) func(time.Time) string {
		return func(t time.Time) string { return f(t.UTC()) }
	}
	july := time.Date(2026, 7, 2, 11, 58, 0, 0, place)
	return []dialect{
		{name: "plain"}, {name: "no-names", names: []string{}}, {name: "semicolons", delimiter: ";"}, {name: "tabs", delimiter: "\t"},
		{name: "bars", delimiter: "|"}, {name: "decimal-comma", delimiter: ";", comma: true},
		{name: "decimal-comma-tabs", delimiter: "\t", comma: true}, {name: "german", delimiter: ";", comma: true, at: "02.01.2006 15:04:05",
			names: []string{"Zeit", "Inlet °C", "Outlet °C", "Outdoor °C", "Sun W/m²"}},
		{name: "latin-1", delimiter: ";", comma: true, at: "02.01.2006 15:04", encode: latin,
			names: []string{"Zeit", "Inlet °C", "Outlet °C", "Outdoor °C", "Sun W/m2"}},
		{name: "bom", encode: func(s string) []byte { return append([]byte("\xef\xbb\xbf"), s...) }},
		{name: "utf16-le", encode: sixteen(unicode.LittleEndian, unicode.UseBOM)},
		{name: "utf16-be", encode: sixteen(unicode.BigEndian, unicode.UseBOM)},
		{name: "utf16-le-no-mark", encode: sixteen(unicode.LittleEndian, unicode.IgnoreBOM)},
		{name: "utf16-be-no-mark", encode: sixteen(unicode.BigEndian, unicode.IgnoreBOM)},
		{name: "crlf", end: "\r\n"}, {name: "quoted", quoted: true}, {name: "padded", delimiter: " , "},
		{name: "preamble", before: "Logger of the shed\nSerial,0012\n\n"},
		{name: "long-preamble", before: "Logger\nMade by hand\nInterval;60\nStart 2026-02-10\n\n", delimiter: ";"},
		{name: "units-line", units: []string{"", "°C", "°C", "°C", "W/m2"}},
		{name: "units-line-f", units: []string{"local", "deg F", "deg F", "deg F", "W/m2"}, fahr: true},
		{name: "serial", serial: "#"}, {name: "serial-index", serial: "Index"}, {name: "serial-line", serial: "Line"},
		{name: "serial-no-names", serial: "n", names: []string{}},
		{name: "f-by-name", fahr: true, names: []string{"Date", "Return (F)", "Supply (F)", "Ambient (F)", "Sun W/m2"}},
		{name: "f-by-value", fahr: true}, {name: "f-in-cells", fahr: true, cell: "%.2f °F",
			names: []string{"Date", "T_in °F", "T_out °F", "Outside °F", "solar"}},
		{name: "iso-t", at: "2006-01-02T15:04:05"}, {name: "iso-offset", at: time.RFC3339},
		{name: "iso-z", stamp: utc(func(t time.Time) string { return t.Format(time.RFC3339) })},
		{name: "iso-fraction", at: "2006-01-02T15:04:05.000"}, {name: "comma-fraction", delimiter: ";", at: "2006-01-02 15:04:05,000"},
		{name: "compact", at: "20060102 150405"}, {name: "compact-t", at: "20060102T150405"}, {name: "slashes", at: "2006/01/02 15:04"},
		{name: "month-name", at: "02 Jan 2006 15:04:05"}, {name: "month-name-dashes", at: "02-Jan-2006 15:04:05"},
		{name: "weekday", at: "Mon 2 Jan 2006 15:04:05"}, {name: "clock-first", at: "15:04:05 2006-01-02"},
		{name: "epoch", stamp: func(t time.Time) string { return fmt.Sprint(t.Unix()) }},
		{name: "epoch-ms", stamp: func(t time.Time) string { return fmt.Sprint(t.UnixMilli()) }},
		{name: "epoch-fraction", stamp: func(t time.Time) string { return fmt.Sprintf("%d.0", t.Unix()) }},
		{name: "two-columns", at: "2006-01-02|15:04:05", names: []string{"Date", "Time", "In C", "Out C", "Outside C", "Sun"}},
		{name: "two-columns-12h", at: "2006-01-02|3:04:05 PM", names: []string{"Date", "Time", "In C", "Out C", "Outside C", "Sun"}},
		{name: "us-12h", at: "1/2/2006 3:04:05 PM", from: time.Date(2026, 2, 13, 11, 58, 0, 0, place)},
		{name: "us-dots-pm", at: "1/2/2006 3:04 pm", from: time.Date(2026, 2, 13, 11, 58, 0, 0, place)},
		{name: "us-two-digit-year", at: "1/2/06 15:04", from: time.Date(2026, 2, 13, 11, 58, 0, 0, place)},
		{name: "uk", at: "2/1/2006 15:04", from: time.Date(2026, 2, 13, 11, 58, 0, 0, place)},
		{name: "us-counting-days", at: "1/2/2006 15:04", days: 3, from: time.Date(2026, 2, 5, 11, 58, 0, 0, place)},
		{name: "uk-counting-days", at: "2/1/2006 15:04", days: 3, from: time.Date(2026, 2, 5, 11, 58, 0, 0, place)},
		{name: "open-date", at: "1/2/2006 15:04", from: time.Date(2026, 2, 7, 11, 58, 0, 0, place), ask: true},
		{name: "open-date-us-place", at: "1/2/2006 15:04", from: time.Date(2026, 2, 7, 11, 58, 0, 0, place), month: &yes},
		{name: "open-date-by-season", at: "1/2/2006 15:04", from: time.Date(2026, 2, 7, 11, 58, 0, 0, place), month: &no, winter: true},
		{name: "open-date-uk-place", at: "2/1/2006 15:04", from: time.Date(2026, 2, 7, 11, 58, 0, 0, place), month: &no},
		{name: "channel-rows", tall: true}, {name: "channel-rows-skewed", tall: true, skew: true, delimiter: ";", comma: true},
		{name: "sheet", sheet: true}, {name: "sheet-f", sheet: true, fahr: true}, {name: "summer", from: july},
		{name: "hints-in-names", names: []string{"Timestamp", "Inlet probe", "Outlet probe", "Outside", "Sun on glass"}},
		{name: "prose", raw: "The sun shone all day.\nIt was warm in the shed.\n", refused: "table"},
		{name: "empty", raw: " \n", refused: "empty"}, {name: "names-only", raw: "time,inlet,outlet\n", refused: "heading"},
		{name: "no-inlet", raw: "time,humidity\n2026-02-10 12:00,40 g\n2026-02-10 12:01,41 g\n", refused: "column"},
	}
}

// truth is what a dialect's file must give.
func (d *dialect) truth() Truth {
	x := Truth{Refused: d.refused, Ask: d.ask, Month: d.month, Winter: d.winter}
	if d.refused == "" && !d.ask {
		x.Samples = d.series()
	}
	if d.names != nil && len(d.names) == 0 { // nothing says what the fifth column is
		for i := range x.Samples {
			x.Samples[i].Sun = nil
		}
	}
	return x
}

// contextOf is the place that a truth names: cold in February and warm in July where it says so.
func contextOf(x *Truth) Context {
	c := Context{MonthFirst: x.Month}
	if x.Winter {
		c.Mean = func(m time.Month) float64 { return 10 - 12*math.Cos(2*math.Pi*float64(m-1)/12) }
	}
	return c
}

// Every dialect file, kept in testdata with its truth beside it, gives that truth to the digit it was written with; what cannot be
// decided is left open, and what is no log is refused with its reason. GLADEMBER_WRITE makes the files anew.
func TestFiftyDialects(t *testing.T) {
	dir := filepath.Join("testdata", "dialects")
	all := dialects()
	if len(all) < 60 {
		t.Errorf("%d dialects", len(all))
	}
	for _, d := range all {
		file := filepath.Join(dir, d.name+".csv")
		if d.sheet {
			file = filepath.Join(dir, d.name+".xlsx")
		}
		beside := filepath.Join(dir, d.name+".json")
		if os.Getenv("GLADEMBER_WRITE") != "" {
			b, err := json.MarshalIndent(d.truth(), "", " ")
			if err != nil {
				t.Fatal(err)
			}
			if err := os.MkdirAll(dir, 0o755); err != nil {
				t.Fatal(err)
			}
			for name, content := range map[string][]byte{file: d.file(t), beside: append(b, '\n')} {
				if err := os.WriteFile(name, content, 0o644); err != nil {
					t.Fatal(err)
				}
			}
		}
		raw, err := os.ReadFile(file)
		if err != nil {
			t.Fatal(err)
		}
		var want Truth
		b, err := os.ReadFile(beside)
		if err != nil {
			t.Fatal(err)
		}
		if err := json.Unmarshal(b, &want); err != nil {
			t.Fatal(err)
		}
		held(t, d.name, raw, &want)
	}
}

// held checks a file against its truth.
func held(t *testing.T, name string, raw []byte, want *Truth) {
	t.Helper()
	tb, err := Open(bytes.NewReader(raw))
	var got []measure.Sample
	if err == nil {
		defer tb.Close()
		tb.Settle(contextOf(want))
		if tb.DateOpen != want.Ask {
			t.Errorf("%s: open %v, wanted %v; %v", name, tb.DateOpen, want.Ask, tb.Decided)
			return
		}
		if want.Ask {
			return
		}
		got, _, err = tb.Read(tb.Guess, place, units.System{})
	}
	if want.Refused != "" {
		if err == nil || !strings.Contains(err.Error(), want.Refused) {
			t.Errorf("%s: %v, wanted a reason with %q", name, err, want.Refused)
		}
		return
	}
	if err != nil || len(got) != len(want.Samples) {
		t.Errorf("%s: %d readings of %d, %v; %+v %v", name, len(got), len(want.Samples), err, tb.Guess, tb.Decided)
		return
	}
	near := func(a float64, b *float64) bool {
		return b == nil && math.IsNaN(a) || b != nil && math.Abs(a-*b) < 0.006
	}
	for i, w := range want.Samples {
		g := got[i]
		if !near(g.Inlet, &w.Inlet) || !near(g.Outlet, &w.Outlet) || !near(g.Outdoor, w.Outdoor) || !near(g.Sun, w.Sun) ||
			g.At.Sub(w.At).Abs() > time.Minute-time.Second || i > 0 && g.At.Sub(got[i-1].At) != w.At.Sub(want.Samples[i-1].At) {
			t.Errorf("%s: reading %d is %+v, true %+v; columns %v, %v", name, i, g, w, tb.Guess.Columns, tb.Decided)
			return
		}
	}
	if slices.Contains([]string{"f-by-value", "sheet-f", "open-date-by-season", "channel-rows", "preamble"}, name) && len(tb.Decided) == 0 {
		t.Errorf("%s: nothing is said of what was decided", name)
	}
}

// By hand: in Zurich the clock goes back from 3:00 to 2:00 on 25 October 2026. A log every 20 min from 1:40 on has 2:00 to 2:40 twice:
// its readings stay 20 min apart, and the page says so. A time that goes back by itself is no clock that was put back.
func TestClockThatIsPutBack(t *testing.T) {
	text := "time,inlet,outlet\n"
	for _, c := range []string{"01:40", "02:00", "02:20", "02:40", "02:00", "02:20", "02:40", "03:00"} {
		text += "2026-10-25 " + c + ",18,30\n"
	}
	tb, err := Open(strings.NewReader(text))
	if err != nil {
		t.Fatal(err)
	}
	got, _, err := tb.Read(tb.Guess, place, units.System{})
	if err != nil || len(got) != 8 || !strings.Contains(strings.Join(tb.Decided, " "), "25 October 2026") {
		t.Fatalf("%d readings, %v, %v", len(got), err, tb.Decided)
	}
	for i := range got[1:] {
		if d := got[i+1].At.Sub(got[i].At); d != 20*time.Minute {
			t.Errorf("reading %d comes %v after the one before", i+1, d)
		}
	}
	tb, _ = Open(strings.NewReader("time,inlet,outlet\n2026-06-25 02:20,18,30\n2026-06-25 02:00,18,30\n"))
	if got, _, _ := tb.Read(tb.Guess, place, units.System{}); !got[1].At.Before(got[0].At) {
		t.Errorf("%v", got)
	}
}

// A long file is read line by line: all of its readings come, with the lines that an editor counts; of its rows few are kept; a date
// whose order is told only near its end is read by that; what is no time late in the file is told with its line.
func TestLongFilesAreStreamed(t *testing.T) {
	n := 60000
	if testing.Short() {
		n = 3 * headRows
	}
	var b strings.Builder
	b.WriteString("Logger of the shed\n\ntime;inlet;outlet\n")
	from := time.Date(2026, 3, 1, 0, 0, 0, 0, time.UTC)
	for i := range n {
		if i == n-5 {
			b.WriteString("later;18;40\n")
		}
		fmt.Fprintf(&b, "%s;%d;%.1f\n", from.Add(time.Duration(i)*30*time.Second).Format("1/2/2006 15:04:05"), 18, 30+float64(i%100)/10)
	}
	tb, err := Open(strings.NewReader(b.String()))
	if err != nil {
		t.Fatal(err)
	}
	if tb.DateOpen || !tb.Guess.MonthFirst || len(tb.Rows) > 2*headRows || len(tb.Preview) != 5 {
		t.Errorf("open %v, %+v, %d rows kept", tb.DateOpen, tb.Guess, len(tb.Rows))
	}
	for range 2 { // it can be read again
		got, bad, err := tb.Read(tb.Guess, time.UTC, units.System{})
		if err != nil || len(got) != n || len(bad) != 1 || bad[0].Line != n-5+4 {
			t.Fatalf("%d readings, %+v, %v", len(got), bad, err)
		}
		if last := got[n-1]; !last.At.Equal(from.Add(time.Duration(n-1)*30*time.Second)) || math.Abs(last.Outlet-39.9) > 1e-9 {
			t.Errorf("the last is %+v", last)
		}
	}
	long := "time,channel,value\n"
	for i := range 5000 {
		at := from.Add(time.Duration(i) * time.Minute).Format(time.DateTime)
		long += at + ",inlet,18\n" + at + ",outlet,40\n"
	}
	if tb, err = Open(strings.NewReader(long)); err != nil {
		t.Fatal(err)
	}
	if got, _, err := tb.Read(tb.Guess, time.UTC, units.System{}); err != nil || len(got) != 5000 {
		t.Errorf("%d readings, %v", len(got), err)
	}
	if _, err := Open(strings.NewReader("time,inlet,outlet\n2026-02-10 12:00,18,40\n" + strings.Repeat("1,", 400) + "\n")); err == nil ||
		!strings.Contains(err.Error(), "columns") {
		t.Errorf("a row of 400 columns: %v", err)
	}
}

package formats

import (
	"bytes"
	"encoding/csv"
	"encoding/json"
	"fmt"
	"io"
	"math/rand/v2"
	"os"
	"path/filepath"
	"reflect"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/xuri/excelize/v2"
	utf "golang.org/x/text/encoding/unicode"

	"gladember/core/measure"
	"gladember/core/units"
)

// rowsOf reads all rows of a text as a source does.
func rowsOf(t *testing.T, text string) (out [][]string, lines []int, err error) {
	t.Helper()
	s, err := newSource(strings.NewReader(text), int64(len(text)))
	if err != nil {
		return nil, nil, err
	}
	s.delimiter = ','
	out, lines, _, err = records(s.rows(), 1<<30)
	return out, lines, err
}

// Rows with quotes, commas and line ends in their cells are what encoding/csv, which knows no bounds, makes of them.
func TestRowsAgainstEncodingCSV(t *testing.T) {
	if testing.Short() {
		t.Skip("megabytes of rows: it runs without the race detector")
	}
	r := rand.New(rand.NewPCG(71, 72))
	cells := []string{"18.5", "", "a,b", "said \"so\"", "two\nlines", "°C", "x", "  spaced", "\"", "2026-02-10 12:00"}
	for range 300 {
		var b bytes.Buffer
		w := csv.NewWriter(&b)
		for range 1 + r.IntN(12) {
			var row []string
			for range 1 + r.IntN(6) {
				row = append(row, cells[r.IntN(len(cells))])
			}
			if err := w.Write(row); err != nil {
				t.Fatal(err)
			}
		}
		w.Flush()
		c := csv.NewReader(bytes.NewReader(b.Bytes()))
		c.LazyQuotes, c.FieldsPerRecord, c.TrimLeadingSpace = true, -1, true
		want, err := c.ReadAll()
		if err != nil {
			t.Fatal(err)
		}
		got, _, err := rowsOf(t, b.String())
		if err != nil || !reflect.DeepEqual(got, want) {
			t.Fatalf("%q: %q, %v; want %q", b.String(), got, err, want)
		}
	}
}

// A quote that nobody closes is a sign in its own line, and takes none of the lines after it. Lines are counted as an editor does.
func TestStrayQuotes(t *testing.T) {
	text := "probe,length\nhot air,5\" pipe\n" + strings.Repeat("a,1\n", 40) + "\n\"two\nlines\",2\r\nend,3\n"
	rows, lines, err := rowsOf(t, text)
	if err != nil || len(rows) != 44 {
		t.Fatalf("%d rows, %v", len(rows), err)
	}
	if !slices.Equal(rows[2], []string{"a", "1"}) || rows[42][0] != "two\nlines" || !slices.Equal(rows[43], []string{"end", "3"}) {
		t.Errorf("%q", rows[40:])
	}
	if lines[1] != 2 || lines[42] != 44 || lines[43] != 46 {
		t.Errorf("lines %v", lines[40:])
	}
}

// What no logger writes is refused with its line, however long it is: a line of a megabyte, or of a million cells.
func TestRowsAreBounded(t *testing.T) {
	if testing.Short() {
		t.Skip("megabytes of rows: it runs without the race detector")
	}
	head := "time,inlet,outlet\n2026-02-10 12:00,18,40\n"
	for want, more := range map[string]string{"line 3 has more than 64 kB": strings.Repeat("x", 1<<20),
		"line 3 has more than 256 columns": strings.Repeat("1,", 1000), "no table": "a\x00b,1,2"} {
		if _, err := Open(strings.NewReader(head + more + "\n")); err == nil || !strings.Contains(err.Error(), want) {
			t.Errorf("%q: %v", want, err)
		}
	}
}

// long writes readings every half minute, in lines as a function makes them.
func long(n int, line func(i int, at time.Time) string) string {
	var b strings.Builder
	for i := range n {
		b.WriteString(line(i, time.Date(2026, 2, 25, 0, 0, 0, 0, time.UTC).Add(time.Duration(i)*30*time.Second)))
	}
	return b.String()
}

// A file that is too long to be in memory says the same as its first half and its second half, which are not: whatever its code, with a
// row for each channel of which one begins late, and as a spreadsheet.
func TestLongFilesAreReadAsShortOnes(t *testing.T) {
	if testing.Short() {
		t.Skip("tens of thousands of rows: it runs without the race detector")
	}
	const n = 3 * headRows
	plain := "time;inlet °C;outlet °C\n" + long(n, func(i int, at time.Time) string {
		return at.Format("02.01.2006 15:04:05") + fmt.Sprintf(";%d,5;%d,25\n", 18+i%3, 30+i%20)
	})
	wide := tallOf(n)
	sixteen, err := utf.UTF16(utf.LittleEndian, utf.UseBOM).NewEncoder().String(plain)
	if err != nil {
		t.Fatal(err)
	}
	for name, text := range map[string]string{"UTF-8": plain, "UTF-16": sixteen, "Latin-1": strings.ReplaceAll(plain, "°", "\xb0"),
		"a row a channel": wide, "a spreadsheet": sheetOf(t, n)} {
		tb, err := Scan(strings.NewReader(text), int64(len(text)), "")
		if err != nil {
			t.Errorf("%s: %v", name, err)
			continue
		}
		got, bad, err := tb.Read(tb.Guess, time.UTC, units.System{})
		tb.Close()
		if err != nil || len(got) != n || len(bad) != 0 {
			t.Errorf("%s: %d readings, %d left out, %v", name, len(got), len(bad), err)
			continue
		}
		for i, s := range got {
			if at := time.Date(2026, 2, 25, 0, 0, 0, 0, time.UTC).Add(time.Duration(i) * 30 * time.Second); !s.At.Equal(at) ||
				s.Inlet != float64(18+i%3)+0.5 || s.Outlet != float64(30+i%20)+0.25 {
				t.Fatalf("%s: reading %d is %+v", name, i, s)
			}
		}
		if name == "a row a channel" && (got[n-1].Outdoor != -3 || got[0].Outdoor == got[0].Outdoor) {
			t.Errorf("the channel that begins late: %v, %v", got[0].Outdoor, got[n-1].Outdoor)
		}
	}
}

// tallOf has a row for each channel; the outdoor probe begins after what is looked at first.
func tallOf(n int) string {
	return "time,channel,value\n" + long(n, func(i int, at time.Time) string {
		stamp := at.Format(time.DateTime)
		text := fmt.Sprintf("%s,inlet,%d.5\n%s,outlet,%d.25\n", stamp, 18+i%3, stamp, 30+i%20)
		if i > 2*headRows {
			text += stamp + ",outdoor,-3\n"
		}
		return text
	})
}

// sheetOf has its times as counts of days, as spreadsheets do.
func sheetOf(t *testing.T, n int) string {
	t.Helper()
	f := excelize.NewFile()
	defer f.Close()
	w, err := f.NewStreamWriter("Sheet1")
	if err != nil {
		t.Fatal(err)
	}
	put := func(row int, cells ...any) {
		if err := w.SetRow(fmt.Sprintf("A%d", row), cells); err != nil {
			t.Fatal(err)
		}
	}
	put(1, "time", "inlet °C", "outlet °C")
	first := time.Date(2026, 2, 25, 0, 0, 0, 0, time.UTC).Sub(time.Date(1899, 12, 30, 0, 0, 0, 0, time.UTC)).Hours() / 24
	for i := range n {
		put(i+2, first+float64(i)/2880, float64(18+i%3)+0.5, float64(30+i%20)+0.25)
	}
	if err := w.Flush(); err != nil {
		t.Fatal(err)
	}
	var b bytes.Buffer
	if err := f.Write(&b); err != nil {
		t.Fatal(err)
	}
	return b.String()
}

// What a spreadsheet is laid out into is gone when it is closed.
func TestSheetsLeaveNothingBehind(t *testing.T) {
	if testing.Short() {
		t.Skip("megabytes of rows: it runs without the race detector")
	}
	dir := t.TempDir()
	t.Setenv("TMPDIR", dir)
	text := sheetOf(t, 10)
	for _, tail := range []string{"", "x"} {
		if tb, err := Scan(strings.NewReader(text+tail), int64(len(text)+len(tail)), ""); err == nil {
			tb.Close()
		}
	}
	if left, _ := filepath.Glob(filepath.Join(dir, "*")); len(left) > 0 {
		t.Errorf("left behind: %v", left)
	}
}

func FuzzSheet(f *testing.F) {
	files, _ := filepath.Glob("testdata/dialects/*.xlsx")
	for _, name := range files {
		b, err := os.ReadFile(name)
		if err != nil {
			f.Fatal(err)
		}
		f.Add(b)
	}
	f.Fuzz(func(t *testing.T, b []byte) {
		tb, err := Scan(bytes.NewReader(b), int64(len(b)), t.TempDir())
		if err != nil {
			return
		}
		defer tb.Close()
		_, _, _ = tb.Read(tb.Guess, time.UTC, units.System{})
	})
}

// A time that is read is one of the years that logs are from, and reads the same when it is written plainly.
func FuzzTime(f *testing.F) {
	for _, s := range []string{"2026-02-10 12:00", "10.02.2026 12:00:01", "2/13/2026 1:05 PM", "1770721200", "20260210T123000Z",
		"Feb 10, 2026 12:00", "2026-02-10T12:00:00+01:00", "24:00 2026-02-10"} {
		f.Add(s)
	}
	f.Fuzz(func(t *testing.T, s string) {
		for _, monthFirst := range []bool{false, true} {
			at, ok := parseTime(s, time.UTC, monthFirst)
			if !ok {
				continue
			}
			if y := at.Year(); y < 1989 || y > 2101 {
				t.Fatalf("%q is %v", s, at)
			}
			plain := at.UTC().Truncate(time.Second)
			if again, ok := parseTime(plain.Format(time.DateTime), time.UTC, monthFirst); plain.Year() >= 1990 && plain.Year() <= 2100 &&
				(!ok || !again.Equal(plain)) {
				t.Fatalf("%q is %v, and written plainly %v", s, plain, again)
			}
		}
	})
}

// What was kept of a logger's columns may come from another file or be damaged.
func FuzzRecall(f *testing.F) {
	f.Add(`{"Columns":["time","inlet","outlet"],"Fahrenheit":[false,true,true],"Dated":true}`, "time,a,b\n2/3/2026 12:00,60,99\n")
	f.Add(`{"Columns":["outlet","time"],"Fahrenheit":[true]}`, "a;b\n1,5;2026-02-10 12:00\n")
	f.Fuzz(func(t *testing.T, mapping, text string) {
		var m Mapping
		tb, err := Open(strings.NewReader(text))
		if err != nil || json.Unmarshal([]byte(mapping), &m) != nil {
			return
		}
		tb.Recall(m)
		first := true
		tb.Settle(Context{MonthFirst: &first, Mean: func(time.Month) float64 { return 5 }})
		_ = tb.Each(tb.Guess, time.UTC, units.System{}, func(measure.Sample) error { return nil }, func(Reject) {})
		_ = tb.Each(m, time.UTC, units.System{}, func(measure.Sample) error { return io.EOF }, func(Reject) {})
	})
}

// A spreadsheet with a row of a million cells, or more rows than the format has, is refused before it is read cell by cell.
func TestSheetsAreBounded(t *testing.T) {
	if testing.Short() {
		t.Skip("megabytes of rows: it runs without the race detector")
	}
	for want, x := range map[string]struct {
		cell, row string
		times     int
	}{
		"row 1 of the spreadsheet has more than 256 columns": {"<c><v>1</v></c>", "", 40_000},
		"more than 1048576 rows":                             {"", "<row><c><v>1</v></c></row>", 1_048_578},
	} {
		text := x.row
		if x.cell != "" {
			text = "<row r=\"1\">" + strings.Repeat(x.cell, x.times) + "</row>"
			x.times = 1
		}
		if err := boundedRows(strings.NewReader("<worksheet><sheetData>" + strings.Repeat(text,
			x.times) + "</sheetData></worksheet>")); err == nil ||
			!strings.Contains(err.Error(), want) {
			t.Errorf("%v, want %q", err, want)
		}
	}
}

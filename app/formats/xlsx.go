package formats

import (
	"archive/zip"
	"bufio"
	"bytes"
	"encoding/csv"
	"errors"
	"fmt"
	"io"
	"math"
	"os"
	"strconv"
	"strings"
	"time"

	"github.com/xuri/excelize/v2"
)

// Bounds of a spreadsheet: bytes that it may unpack to, from where a sheet is unpacked to the disk, and that a row may have; and rows.
const (
	maxUnzipped = 256 << 20
	maxInMemory = 8 << 20
	maxRowBytes = 256 << 10
	maxRows     = 1_048_576 // of the format
)

var errSheet = errors.New("the spreadsheet cannot be read; save it as CSV and import that")

// isSheet says whether a file is a spreadsheet, which is a zip archive.
func isSheet(file io.ReaderAt) (bool, error) {
	head := make([]byte, 4)
	n, err := file.ReadAt(head, 0)
	if err != nil && err != io.EOF {
		return false, fmt.Errorf("reading the log: %w", err)
	}
	return bytes.Equal(head[:n], []byte("PK\x03\x04")), nil
}

// bounded looks through the sheets of a spreadsheet for rows that are too long or too many, before the library reads them cell by cell,
// which takes it a minute for what unpacks to two hundred megabytes.
func bounded(file io.ReaderAt, size int64) error {
	z, err := zip.NewReader(file, size)
	if err != nil {
		return errSheet
	}
	for _, f := range z.File {
		if !strings.HasPrefix(f.Name, "xl/worksheets/") || !strings.HasSuffix(f.Name, ".xml") {
			continue
		}
		r, err := f.Open()
		if err != nil {
			return errSheet
		}
		err = boundedRows(io.LimitReader(r, maxUnzipped+1))
		r.Close()
		if err != nil {
			return err
		}
	}
	return nil
}

// boundedRows counts the rows of a sheet's XML and their bytes.
func boundedRows(r io.Reader) error {
	b := bufio.NewReaderSize(r, maxInMemory/8)
	rows, since := 0, 0
	for {
		tag, err := b.ReadSlice('<') // up to the next tag
		since += len(tag)
		if head, _ := b.Peek(4); len(head) == 4 && string(head[:3]) == "row" && (head[3] == ' ' || head[3] == '>') {
			rows, since = rows+1, 0
		}
		switch {
		case rows > 0 && since > maxRowBytes:
			return fmt.Errorf("row %d of the spreadsheet has more than %d columns; keep only those of the probes", rows, maxColumns)
		case rows > maxRows:
			return fmt.Errorf("the spreadsheet has more than %d rows; split it by month", maxRows)
		case err == io.EOF:
			return nil
		case err != nil && err != bufio.ErrBufferFull:
			return errSheet
		}
	}
}

// sheetSource lays the sheet of a spreadsheet that has the most rows out as text, in a file of its own that done removes. Days that
// are kept as a count become times of the local clock.
func sheetSource(file io.ReaderAt, size int64, temporary string) (s *source, done func(), err error) {
	if err := bounded(file, size); err != nil {
		return nil, nil, err
	}
	f, err := excelize.OpenReader(io.NewSectionReader(file, 0, size), excelize.Options{RawCellValue: true, UnzipSizeLimit: maxUnzipped,
		UnzipXMLSizeLimit: maxInMemory, TmpDir: temporary})
	if err != nil {
		return nil, nil, errSheet
	}
	defer f.Close()
	early := false
	if p, err := f.GetWorkbookProps(); err == nil && p.Date1904 != nil {
		early = *p.Date1904
	}
	most, best := 0, ""
	for _, name := range f.GetSheetList() {
		if n := countRows(f, name); n > most {
			most, best = n, name
		}
	}
	if most == 0 {
		return nil, nil, errors.New("the spreadsheet has no rows; export the log again from the logger")
	}
	out, err := os.CreateTemp(temporary, "gladember-sheet-*.csv")
	if err != nil {
		return nil, nil, err
	}
	done = func() { out.Close(); os.Remove(out.Name()) }
	days, err := layOut(f, best, out)
	if err != nil {
		done()
		return nil, nil, err
	}
	n, err := out.Seek(0, io.SeekEnd)
	if err != nil {
		done()
		return nil, nil, err
	}
	return &source{file: out, size: n, delimiter: ';', convert: days.convert(early)}, done, nil
}

// countRows counts the rows of a sheet; 0 for a chart.
func countRows(f *excelize.File, name string) (n int) {
	it, err := f.Rows(name)
	if err != nil {
		return 0
	}
	defer it.Close()
	for it.Next() {
		n++
	}
	return n
}

// layOut writes a sheet as text: every row a line of its own, so that lines are the numbers of rows.
func layOut(f *excelize.File, name string, to io.Writer) (dayCounts, error) {
	var days dayCounts
	it, err := f.Rows(name)
	if err != nil {
		return nil, errSheet
	}
	defer it.Close()
	w := csv.NewWriter(to)
	w.Comma = ';'
	flat := strings.NewReplacer("\r", " ", "\n", " ", "\x00", " ")
	for n := 1; it.Next(); n++ {
		cells, err := it.Columns()
		if err != nil {
			return nil, fmt.Errorf("row %d of %s cannot be read; save the sheet as CSV and import that", n, name)
		}
		if len(cells) > maxColumns {
			return nil, fmt.Errorf("row %d of %s has more than %d columns; keep only those of the probes", n, name, maxColumns)
		}
		days.add(cells)
		if len(cells) == 0 {
			w.Flush()
			if _, err := io.WriteString(to, "\n"); err != nil {
				return nil, err
			}
			continue
		}
		for i := range cells {
			cells[i] = flat.Replace(cells[i])
		}
		if err := w.Write(cells); err != nil {
			return nil, err
		}
	}
	w.Flush()
	return days, w.Error()
}

// dayCounts tells by column whether its numbers count days.
type dayCounts []struct {
	days, numbers, falls int
	last                 float64
}

// Days of 2000 and 2100, and by how much the count that begins in 1904 is behind.
const firstDay, lastDay, from1904 = 36526.0, 73051.0, 1462.0

// add takes a row in.
func (d *dayCounts) add(row []string) {
	for c, cell := range row {
		v, err := strconv.ParseFloat(cell, 64)
		if err != nil {
			continue
		}
		for len(*d) <= c {
			*d = append(*d, dayCounts{{}}...)
		}
		x := &(*d)[c]
		x.numbers++
		if v >= firstDay-from1904 && v < lastDay {
			x.days++
		}
		if v < x.last {
			x.falls++
		}
		x.last = v
	}
}

// convert turns the cells of columns that count days into times: those whose numbers all lie between the years 2000 and 2100 as days,
// and rise.
func (d dayCounts) convert(early bool) func(row []string) {
	return func(row []string) {
		for c := range row {
			if c >= len(d) || d[c].numbers < 2 || d[c].days < d[c].numbers || d[c].falls > d[c].numbers/10 {
				continue
			}
			v, err := strconv.ParseFloat(row[c], 64)
			if err != nil {
				continue
			}
			if early {
				v += from1904
			}
			base := time.Date(1899, 12, 30, 0, 0, 0, 0, time.UTC)
			row[c] = base.Add(time.Duration(math.Round(v*86400)) * time.Second).Format(time.DateTime)
		}
	}
}

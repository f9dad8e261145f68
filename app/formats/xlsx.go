package formats

import (
	"bytes"
	"errors"
	"fmt"
	"math"
	"strconv"
	"time"

	"github.com/xuri/excelize/v2"
)

// Bounds of a spreadsheet: what it may unpack to, bytes, and how many columns a row may have.
const (
	maxUnzipped = 256 << 20
	maxColumns  = 256
)

// isSheet says whether a file is a spreadsheet, which is a zip archive.
func isSheet(raw []byte) bool { return bytes.HasPrefix(raw, []byte("PK\x03\x04")) }

// sheetRows reads the sheet of a spreadsheet that has the most rows, with the number of each row. Days that are kept as a count
// become times of the local clock.
func sheetRows(raw []byte) (rows [][]string, at []int, err error) {
	f, err := excelize.OpenReader(bytes.NewReader(raw), excelize.Options{RawCellValue: true, UnzipSizeLimit: maxUnzipped,
		UnzipXMLSizeLimit: maxUnzipped})
	if err != nil {
		return nil, nil, errors.New("the spreadsheet cannot be read; save it as CSV and import that")
	}
	defer f.Close()
	early := false
	if p, err := f.GetWorkbookProps(); err == nil && p.Date1904 != nil {
		early = *p.Date1904
	}
	for _, name := range f.GetSheetList() {
		it, err := f.Rows(name)
		if err != nil {
			continue // a chart
		}
		var some [][]string
		var lines []int
		for n := 1; it.Next(); n++ {
			cells, err := it.Columns()
			if err != nil {
				return nil, nil, fmt.Errorf("row %d of %s cannot be read; save the sheet as CSV and import that", n, name)
			}
			if len(cells) > maxColumns {
				return nil, nil, fmt.Errorf("row %d of %s has more than %d columns; keep only those of the probes", n, name, maxColumns)
			}
			if len(cells) > 0 {
				some, lines = append(some, cells), append(lines, n)
			}
		}
		_ = it.Close()
		if len(some) > len(rows) {
			rows, at = some, lines
		}
	}
	dates(rows, early)
	return rows, at, nil
}

// dates turns columns that count days into times: where most cells lie between the years 2000 and 2100 as days, and rise.
func dates(rows [][]string, early bool) {
	const from, to, shift = 36526.0, 73051.0, 1462.0 // days of 2000 and 2100; of the count that begins in 1904
	wide := 0
	for _, r := range rows {
		wide = max(wide, len(r))
	}
	for c := range wide {
		days, numbers, last, falls := 0, 0, 0.0, 0
		for _, r := range rows {
			if c >= len(r) {
				continue
			}
			v, err := strconv.ParseFloat(r[c], 64)
			if err != nil {
				continue
			}
			numbers++
			if v >= from-shift && v < to {
				days++
			}
			if v < last {
				falls++
			}
			last = v
		}
		if numbers < 2 || days < numbers || falls > numbers/10 {
			continue
		}
		for _, r := range rows {
			if c >= len(r) {
				continue
			}
			if v, err := strconv.ParseFloat(r[c], 64); err == nil {
				if early {
					v += shift
				}
				base := time.Date(1899, 12, 30, 0, 0, 0, 0, time.UTC)
				t := base.Add(time.Duration(math.Round(v*86400)) * time.Second)
				r[c] = t.Format(time.DateTime)
			}
		}
	}
}

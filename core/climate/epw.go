package climate

import (
	"bufio"
	"encoding/csv"
	"errors"
	"fmt"
	"io"
	"math"
	"strconv"
	"strings"
	"time"

	"gladember/core/solar"
)

// MaxFile bounds a weather file, bytes: a year in either format is under 2 MB.
const MaxFile = 8 << 20

// The missing marks of EPW by its own field numbers (from 0). Source:
// EnergyPlus Auxiliary Programs, weather file format (recalled from memory).
const (
	epwHeads  = 8
	epwFields = 35
)

// epwField is a field of a row, how it is marked missing, and how it is brought
// to SI.
type epwField struct {
	// column is counted from 0.
	column int
	// missing is the value at or above which nothing was measured.
	missing float64
	// write is the mark for that.
	write string
	get   func(*Hour) *float64
	// scale is the file's unit in SI.
	scale float64
}

var epwTable = []epwField{
	{6, 99.9, "99.9", func(h *Hour) *float64 { return &h.Temperature }, 1},
	{7, 99.9, "99.9", func(h *Hour) *float64 { return &h.DewPoint }, 1},
	{8, 999, "999", func(h *Hour) *float64 { return &h.Humidity }, 0.01},
	{9, 999999, "999999", func(h *Hour) *float64 { return &h.Pressure }, 1},
	{12, 9999, "9999", func(h *Hour) *float64 { return &h.Infrared }, 1},
	{13, 9999, "9999", func(h *Hour) *float64 { return &h.Global }, 1},
	{14, 9999, "9999", func(h *Hour) *float64 { return &h.Normal }, 1},
	{15, 9999, "9999", func(h *Hour) *float64 { return &h.Diffuse }, 1},
	{20, 999, "999", func(h *Hour) *float64 { return &h.WindFrom }, 1},
	{21, 999, "999", func(h *Hour) *float64 { return &h.Wind }, 1},
	{22, 99, "99", func(h *Hour) *float64 { return &h.Cloud }, 0.1},
	{30, 999, "999", func(h *Hour) *float64 { return &h.Snow }, 0.01},
	{32, 999, "999", func(h *Hour) *float64 { return &h.Albedo }, 1},
}

// number reads a field of a weather file; infinities and NaN are refused.
func number(s string) (float64, error) {
	v, err := strconv.ParseFloat(strings.TrimSpace(s), 64)
	if err != nil || math.IsNaN(v) || math.IsInf(v, 0) {
		return 0, fmt.Errorf("%q is no number", s)
	}
	return v, nil
}

// scaled brings a file's figure to SI; a scale under one is a division by a
// whole number, so that the way back is exact.
func scaled(v, scale float64) float64 {
	if scale < 1 {
		return v / math.Round(1/scale)
	}
	return v * scale
}

// unscaled divides by the scale that a header gives; by an exact whole number
// where the scale is a tenth or a hundredth.
func unscaled(v, scale float64) float64 {
	if scale < 1 {
		return v * math.Round(1/scale)
	}
	return v / scale
}

// ReadEPW reads a year in the EnergyPlus weather format. Errors name the line
// and what would be right.
// The error names the line and the column, and what would be right.
func ReadEPW(in io.Reader) (*Year, error) {
	r := bufio.NewReader(io.LimitReader(in, MaxFile))
	y := &Year{}
	for i := range epwHeads {
		line, err := r.ReadString('\n')
		if err != nil {
			return nil, fmt.Errorf("line %d: the file ends in its heading; an EPW file has %d heading lines", i+1, epwHeads)
		}
		if i > 0 {
			continue
		}
		f := strings.Split(strings.TrimPrefix(strings.TrimRight(line, "\r\n"), "\ufeff"), ",")
		if !strings.EqualFold(strings.TrimSpace(f[0]), "LOCATION") || len(f) < 10 {
			return nil, errors.New("line 1: an EPW file begins with LOCATION and nine fields: town, state, country, source, station, " +
				"latitude, longitude, time zone, elevation")
		}
		y.Place, y.Country, y.Source, y.Station = strings.TrimSpace(f[1]), strings.TrimSpace(f[3]), strings.TrimSpace(f[4]),
			strings.TrimSpace(f[5])
		var v [4]float64
		for k := range v {
			var err error
			if v[k], err = number(f[6+k]); err != nil {
				return nil, fmt.Errorf("line 1: %v; latitude, longitude, time zone and elevation are numbers", err)
			}
		}
		y.Site = solar.Site{Latitude: v[0], Longitude: v[1], Elevation: v[3]}
		y.Offset = v[2]
	}
	c := csv.NewReader(r)
	c.FieldsPerRecord, c.LazyQuotes, c.ReuseRecord = -1, true, true
	for line := epwHeads + 1; ; line++ {
		rec, err := c.Read()
		if errors.Is(err, io.EOF) {
			break
		}
		if err != nil {
			return nil, fmt.Errorf("line %d: %v", line, err)
		}
		if len(rec) < 22 {
			return nil, fmt.Errorf("line %d: %d fields; a row of an EPW file has %d", line, len(rec), epwFields)
		}
		if len(y.Hours) >= hoursInLeap {
			return nil, fmt.Errorf("line %d: the file goes on after %d hours", line, hoursInLeap)
		}
		var h Hour
		for k, to := range []*int{&h.Year, &h.Month, &h.Day, &h.Hour} {
			v, err := strconv.Atoi(strings.TrimSpace(rec[k]))
			if err != nil {
				return nil, fmt.Errorf("line %d: %q is no %s", line, rec[k], [...]string{"year", "month", "day", "hour"}[k])
			}
			*to = v
		}
		if h.Month < 1 || h.Month > 12 || h.Day < 1 || h.Day > 31 || h.Hour < 1 || h.Hour > 24 {
			return nil, fmt.Errorf("line %d: %d-%d hour %d is no hour; hours run from 1 to 24", line, h.Month, h.Day, h.Hour)
		}
		for _, f := range epwTable {
			*f.get(&h) = math.NaN()
			if f.column >= len(rec) || strings.TrimSpace(rec[f.column]) == "" {
				continue
			}
			v, err := number(rec[f.column])
			if err != nil {
				return nil, fmt.Errorf("line %d, field %d: %v", line, f.column+1, err)
			}
			if v < f.missing {
				*f.get(&h) = scaled(v, f.scale)
			}
		}
		y.Hours = append(y.Hours, h)
	}
	y.Site.Zone = y.start(2025).Location()
	return y, y.check()
}

// WriteEPW writes a year in the EnergyPlus weather format, so that reading it
// again gives the same year; fields this package does not keep are marked
// missing.
// It reads back as the same year.
// Only tests reach it, as a reference.
func WriteEPW(out io.Writer, y *Year) error {
	w := bufio.NewWriter(out)
	clean := strings.NewReplacer(",", " ", "\n", " ", "\r", " ", "\"", "'").Replace
	num := func(v float64) string { return strconv.FormatFloat(v, 'f', -1, 64) }
	fmt.Fprintf(w, "LOCATION,%s,-,%s,%s,%s,%s,%s,%s,%s\n", clean(y.Place), clean(y.Country), clean(y.Source), clean(y.Station),
		num(y.Site.Latitude), num(y.Site.Longitude), num(y.Offset), num(y.Site.Elevation))
	first := time.Date(2017, 1, 1, 0, 0, 0, 0, time.UTC)
	leap := "No"
	if len(y.Hours) == hoursInLeap {
		leap = "Yes"
	}
	for _, line := range []string{"DESIGN CONDITIONS,0", "TYPICAL/EXTREME PERIODS,0", "GROUND TEMPERATURES,0",
		"HOLIDAYS/DAYLIGHT SAVINGS," + leap + ",0,0,0", "COMMENTS 1,", "COMMENTS 2,", "DATA PERIODS,1,1,Data," +
			first.Weekday().String() + ",1/1,12/31"} {
		fmt.Fprintln(w, line)
	}
	// What stands for nothing in the fields that are not kept.
	blank := []string{10: "9999", 11: "9999", 16: "999999", 17: "999999", 18: "999999", 19: "9999", 23: "99", 24: "9999", 25: "99999",
		26: "9", 27: "999999999", 28: "999", 29: ".999", 31: "99", 33: "999", 34: "99"}
	for i := range y.Hours {
		h := &y.Hours[i]
		row := append([]string(nil), blank...)
		row[0], row[1], row[2], row[3], row[4], row[5] = strconv.Itoa(h.Year), strconv.Itoa(h.Month), strconv.Itoa(h.Day),
			strconv.Itoa(h.Hour), "60", "?"
		for _, f := range epwTable {
			row[f.column] = f.write
			if v := *f.get(h); !math.IsNaN(v) {
				row[f.column] = num(unscaled(v, f.scale))
			}
		}
		fmt.Fprintln(w, strings.Join(row, ","))
	}
	return w.Flush()
}

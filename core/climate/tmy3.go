package climate

import (
	"bufio"
	"encoding/csv"
	"errors"
	"fmt"
	"io"
	"math"
	"strings"

	"gladember/core/solar"
)

// tmyColumn is a column of a TMY3 file by its heading, brought to SI.
type tmyColumn struct {
	head  string
	get   func(*Hour) *float64
	scale float64
}

// Source: Wilcox & Marion, NREL/TP-581-43156 (2008), users' manual for TMY3.
var tmyTable = []tmyColumn{
	{"GHI (W/m^2)", func(h *Hour) *float64 { return &h.Global }, 1},
	{"DNI (W/m^2)", func(h *Hour) *float64 { return &h.Normal }, 1},
	{"DHI (W/m^2)", func(h *Hour) *float64 { return &h.Diffuse }, 1},
	{"TotCld (tenths)", func(h *Hour) *float64 { return &h.Cloud }, 0.1},
	{"Dry-bulb (C)", func(h *Hour) *float64 { return &h.Temperature }, 1},
	{"Dew-point (C)", func(h *Hour) *float64 { return &h.DewPoint }, 1},
	{"RHum (%)", func(h *Hour) *float64 { return &h.Humidity }, 0.01},
	{"Pressure (mbar)", func(h *Hour) *float64 { return &h.Pressure }, 100},
	{"Wdir (degrees)", func(h *Hour) *float64 { return &h.WindFrom }, 1},
	{"Wspd (m/s)", func(h *Hour) *float64 { return &h.Wind }, 1},
	{"Alb (unitless)", func(h *Hour) *float64 { return &h.Albedo }, 1},
}

// tmyMissing is the format's mark: -9900, or 99 tenths of cloud.
const tmyMissing = -9000

// ReadTMY3 reads a year in the TMY3 CSV format, columns by their headings. The
// sign of missing is -9900; a month may be of any year.
func ReadTMY3(in io.Reader) (*Year, error) {
	c := csv.NewReader(bufio.NewReader(io.LimitReader(in, MaxFile)))
	c.FieldsPerRecord, c.LazyQuotes = -1, true
	head, err := c.Read()
	if err != nil || len(head) < 7 {
		return nil, errors.New("line 1: a TMY3 file begins with station, name, state, time zone, latitude, longitude, elevation")
	}
	y := &Year{Station: strings.TrimPrefix(strings.TrimSpace(head[0]), "\ufeff"), Place: strings.TrimSpace(head[1]),
		Country: strings.TrimSpace(head[2]), Source: "TMY3"}
	var v [4]float64
	for k := range v {
		if v[k], err = number(head[3+k]); err != nil {
			return nil, fmt.Errorf("line 1: %v; time zone, latitude, longitude and elevation are numbers", err)
		}
	}
	y.Offset, y.Site = v[0], solar.Site{Latitude: v[1], Longitude: v[2], Elevation: v[3]}
	names, err := c.Read()
	if err != nil {
		return nil, errors.New("line 2: the headings are missing")
	}
	at := make([]int, len(tmyTable))
	for i, x := range tmyTable {
		at[i] = -1
		for k, name := range names {
			if strings.EqualFold(strings.TrimSpace(name), x.head) {
				at[i] = k
			}
		}
		if at[i] < 0 && i < 5 && i != 3 {
			return nil, fmt.Errorf("line 2: no column is headed %q", x.head)
		}
	}
	for line := 3; ; line++ {
		rec, err := c.Read()
		if errors.Is(err, io.EOF) {
			break
		}
		if err != nil {
			return nil, fmt.Errorf("line %d: %v", line, err)
		}
		if len(y.Hours) >= hoursInLeap {
			return nil, fmt.Errorf("line %d: the file goes on after %d hours", line, hoursInLeap)
		}
		if len(rec) < 2 {
			return nil, fmt.Errorf("line %d: a row begins with its date and time", line)
		}
		var h Hour
		var minute int
		if n, err := fmt.Sscanf(rec[0], "%d/%d/%d", &h.Month, &h.Day, &h.Year); n != 3 || err != nil || h.Month < 1 || h.Month > 12 ||
			h.Day < 1 || h.Day > 31 {
			return nil, fmt.Errorf("line %d: %q is no date like 01/31/1996", line, rec[0])
		}
		if n, err := fmt.Sscanf(rec[1], "%d:%d", &h.Hour, &minute); n != 2 || err != nil || h.Hour < 1 || h.Hour > 24 || minute != 0 {
			return nil, fmt.Errorf("line %d: %q is no full hour from 01:00 to 24:00", line, rec[1])
		}
		h.Infrared, h.Snow = math.NaN(), math.NaN()
		for i, x := range tmyTable {
			*x.get(&h) = math.NaN()
			if at[i] < 0 || at[i] >= len(rec) || strings.TrimSpace(rec[at[i]]) == "" {
				continue
			}
			v, err := number(rec[at[i]])
			if err != nil {
				return nil, fmt.Errorf("line %d, column %q: %v", line, x.head, err)
			}
			if v > tmyMissing && !(x.scale == 0.1 && v > 10) {
				*x.get(&h) = scaled(v, x.scale)
			}
		}
		y.Hours = append(y.Hours, h)
	}
	y.Site.Zone = y.start(2025).Location()
	return y, y.check()
}

// Read takes a file in either format, told apart by its first word.
// By what the file begins with.
func Read(in io.Reader) (*Year, error) {
	r := bufio.NewReader(in)
	first, err := r.Peek(16)
	if len(first) == 0 {
		return nil, fmt.Errorf("the file is empty; give an EPW or a TMY3 file (%v)", err)
	}
	if strings.HasPrefix(strings.ToUpper(strings.TrimPrefix(string(first), "\ufeff")), "LOCATION") {
		return ReadEPW(r)
	}
	return ReadTMY3(r)
}

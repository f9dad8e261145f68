package climate

import (
	"math"
	"strings"
	"testing"
)

// What is wrong with a year as a whole is refused with what and how much; what is a little wrong is mended and told.
func TestWholeYears(t *testing.T) {
	nan := math.NaN()
	each := func(change func(i int, h *Hour)) func(y *Year) {
		return func(y *Year) {
			for i := range y.Hours {
				change(i, &y.Hours[i])
			}
		}
	}
	for name, x := range map[string]struct {
		change func(y *Year)
		want   string // of the error, or of the note after a plus sign
	}{
		"as it is":                  {func(*Year) {}, ""},
		"every temperature missing": {each(func(_ int, h *Hour) { h.Temperature = nan }), "8760 of 8760 hours have no temperature"},
		"a week of them": {each(func(i int, h *Hour) {
			if i > 2000 && i < 2168 {
				h.Temperature = nan
			}
		}), "up to 167 in a row"},
		"a night of them": {each(func(i int, h *Hour) {
			if i >= 2000 && i < 2010 {
				h.Temperature = nan
			}
		}), "+10 of 8760 hours have no temperature; they are filled"},
		"no sun at all": {each(func(_ int, h *Hour) { h.Global, h.Normal, h.Diffuse = 0, 0, 0 }), "sums to 0 kWh/m2"},
		"sun missing":   {each(func(_ int, h *Hour) { h.Global, h.Normal, h.Diffuse = nan, nan, nan }), "hours of daylight have no sun"},
		"sun in Wh over 100": {each(func(_ int, h *Hour) { h.Global, h.Normal, h.Diffuse = h.Global/100, h.Normal/100, h.Diffuse/100 }),
			"check the units of the sun"},
		"summer in winter": {func(y *Year) {
			n := len(y.Hours)
			was := append([]Hour(nil), y.Hours...)
			for i := range y.Hours {
				o := was[(i+n/2)%n]
				y.Hours[i].Global, y.Hours[i].Normal, y.Hours[i].Diffuse = o.Global, o.Normal, o.Diffuse
			}
		}, "more sun than there is above the atmosphere"},
		"another time zone": {func(y *Year) { y.Offset = -9 }, "more sun than there is above the atmosphere"},
		"identical dates":   {each(func(_ int, h *Hour) { h.Month, h.Day, h.Hour = 1, 1, 1 }), "hour 2 is 1-01, hour 1"},
		"two hours changed": {func(y *Year) { y.Hours[99], y.Hours[100] = y.Hours[100], y.Hours[99] }, "put the hours in their order"},
		"infrared 9998": {each(func(_ int, h *Hour) { h.Infrared = 9998 }),
			"+8760 of 8760 hours have infrared from the sky that cannot be"},
		"beam and diffuse only": {each(func(_ int, h *Hour) { h.Global = nan }), ""},
	} {
		y := invented(hoursInYear, 9)
		for i := range y.Hours {
			if math.IsNaN(y.Hours[i].Infrared) {
				y.Hours[i].Infrared = 250
			}
		}
		x.change(y)
		err := y.check()
		note, mended := strings.CutPrefix(x.want, "+")
		switch {
		case x.want == "":
			if err != nil || len(y.Notes) > 0 {
				t.Errorf("%s: %v, %v", name, err, y.Notes)
			}
		case mended:
			if err != nil || len(y.Notes) != 1 || !strings.Contains(y.Notes[0], note) {
				t.Errorf("%s: %v, %v; want %q", name, err, y.Notes, note)
			}
			for i := range y.Hours {
				if h := &y.Hours[i]; math.IsNaN(h.Temperature) || h.Infrared > 700 || math.Abs(h.Temperature) > 30 {
					t.Fatalf("%s: hour %d is left as %+v", name, i, h)
				}
			}
		default:
			if err == nil || !strings.Contains(err.Error(), x.want) {
				t.Errorf("%s: %v; want %q", name, err, x.want)
			}
		}
	}
}

package climate

import (
	"fmt"
	"math"

	"gladember/core/design"
	"gladember/core/solar"
)

// Month is a row of an almanac's table. What is not known is NaN.
type Month struct {
	Mean, Min, Max float64 // temperature, and the mean of the days' least and greatest, C
	Sunshine       float64 // hours a day
	Radiation      float64 // on the level, MJ/m2 a day
	Wind           float64 // at the weather station, m/s
}

// Table is a year of months, January first.
type Table [12]Month

// midMonth is the day of the year by which a month's sun is taken, and days
// how many it has. Source: Klein 1977 as D&B table 1.6.1.
var (
	midMonth = [12]int{17, 47, 75, 105, 135, 162, 198, 228, 258, 288, 318, 344}
	days     = [12]int{31, 28, 31, 30, 31, 30, 31, 31, 30, 31, 30, 31}
)

// Angstrom-Prescott without a calibration of its own, and Hargreaves-Samani
// inland. Source: FAO-56 eqs. 35 and 50.
const (
	angstromA  = 0.25
	angstromB  = 0.50
	hargreaves = 0.16
)

// AngstromPrescott returns radiation from sunshine hours n of a day of light
// hours, in the unit of the extraterrestrial radiation ra. Source: FAO-56 eq. 35.
func AngstromPrescott(ra, n, light float64) float64 {
	if light <= 0 {
		return 0
	}
	return ra * (angstromA + angstromB*math.Max(0, math.Min(1, n/light)))
}

// HargreavesSamani returns radiation from the day's greatest and least
// temperature, C, in the unit of ra. Source: FAO-56 eq. 50, inland.
func HargreavesSamani(ra, greatest, least float64) float64 {
	return hargreaves * math.Sqrt(math.Max(0, greatest-least)) * ra
}

// top is the extraterrestrial radiation of a month's middle day on the level,
// MJ/m2, and its hours of light.
func top(latitude float64, month int) (ra, light float64) {
	n := midMonth[month]
	decl := 23.45 * math.Sin(2*math.Pi*float64(284+n)/365) // D&B eq. 1.6.1a
	h0, hours := solar.DailyExtraterrestrial(solar.Extraterrestrial(solar.SolarConstant, n), latitude, decl)
	return h0 / 1e6, hours
}

// Clearness returns each month's mean clearness index, radiation over that
// above the air, by the radiation given, else by sunshine hours, else by the
// swing of temperature; and an error naming a month of which nothing is known.
func (t *Table) Clearness(latitude float64) (kt [12]float64, err error) {
	for i, m := range t {
		ra, light := top(latitude, i)
		var rs float64
		switch {
		case !math.IsNaN(m.Radiation):
			rs = m.Radiation
		case !math.IsNaN(m.Sunshine):
			rs = AngstromPrescott(ra, m.Sunshine, light)
		case !math.IsNaN(m.Max) && !math.IsNaN(m.Min):
			rs = HargreavesSamani(ra, m.Max, m.Min)
		default:
			return kt, fmt.Errorf("month %d has no sun: give its radiation, its hours of sunshine, or its least and greatest temperature", i+1)
		}
		if ra < 0.05 { // polar night
			continue
		}
		kt[i] = rs / ra
		if kt[i] > 0.85 || kt[i] < 0.05 {
			return kt, fmt.Errorf("month %d would bring %.0f %% of the sun above the air; look at its row again", i+1, 100*kt[i])
		}
	}
	return kt, nil
}

// mean is the temperature of a month, C.
func (m Month) mean() float64 {
	if math.IsNaN(m.Mean) {
		return (m.Min + m.Max) / 2
	}
	return m.Mean
}

// swing is the mean difference of the day's greatest and least temperature, K:
// as given, else what Hargreaves-Samani would make of the clearness.
func (m Month) swing(kt float64) float64 {
	if !math.IsNaN(m.Min) && !math.IsNaN(m.Max) {
		return math.Max(0, m.Max-m.Min)
	}
	return kt / hargreaves * kt / hargreaves
}

// Facts are the three things people know of a place's weather.
type Facts struct {
	Coldest, Warmest float64 // monthly means, C
	Sunny            float64 // days in ten, through the year
}

// Table makes a year of months of three facts: a cosine from the coldest to
// the warmest month, a month after the solstices, and the same share of sunshine all year.
// It is a guess: the year's true course of sunshine is not in the facts.
func (f Facts) Table(latitude float64) Table {
	var t Table
	nan := math.NaN()
	for i := range t {
		phase := 2 * math.Pi * float64(i) / 12 // January, index 0, is the coldest in the north
		if latitude < 0 {
			phase += math.Pi
		}
		_, light := top(latitude, i)
		t[i] = Month{Mean: (f.Warmest+f.Coldest)/2 - (f.Warmest-f.Coldest)/2*math.Cos(phase), Min: nan, Max: nan, Sunshine: f.Sunny / 10 * light, Radiation: nan, Wind: nan}
	}
	return t
}

// Missing is what a heater's document lacks for a season; Names are in a
// builder's words.
type Missing struct{ Names, Paths []string }

func (m *Missing) Error() string {
	s := "no season without weather: give "
	for i, n := range m.Names {
		if i > 0 {
			s += ", "
		}
		s += n
	}
	return s + "; or a weather file, or a table of months"
}

// Lacks returns what a heater's own document lacks for a year of weather as a
// [*Missing]; nil where nothing is missing.
func Lacks(h *design.Heater) error {
	w := &h.Climate
	if len(w.Months) == 12 {
		return nil
	}
	lack := &Missing{}
	need := func(path, name string) {
		lack.Names, lack.Paths = append(lack.Names, name), append(lack.Paths, path)
	}
	// A zero that nobody gave is not known.
	if _, given := h.Entries["climate.coldest_c"]; !given && w.Coldest == 0 {
		need("climate.coldest_c", "the mean temperature of the coldest month")
	}
	if _, given := h.Entries["climate.warmest_c"]; !given && w.Warmest == 0 {
		need("climate.warmest_c", "the mean temperature of the warmest month")
	}
	if w.Sunny <= 0 {
		need("climate.sunny_days", "how many days in ten are sunny")
	}
	if len(lack.Names) > 0 {
		return lack
	}
	return nil
}

// Of returns the year of hours that a heater's own document describes: by its
// table of months if it has one, else by three facts. [*Missing] names what is
// not there. The year is the same for the same document.
func Of(h *design.Heater) (*Year, error) {
	if err := Lacks(h); err != nil {
		return nil, err
	}
	w := &h.Climate
	if len(w.Months) == 12 {
		var t Table
		for i, m := range w.Months {
			t[i] = Month{known(m.Mean), known(m.Min), known(m.Max), known(m.Sunshine), known(m.Radiation), known(m.Wind)}
		}
		return Generate(h, t, "table of months")
	}
	return Generate(h, Facts{w.Coldest, w.Warmest, w.Sunny}.Table(h.Place.Latitude), "three facts, a guess")
}

func known(p *float64) float64 {
	if p == nil {
		return math.NaN()
	}
	return *p
}

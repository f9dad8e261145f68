package climate

import (
	"fmt"
	"math"
	"slices"

	"gladember/core/design"
	"gladember/core/normals"
	"gladember/core/solar"
)

// Month is a row of an almanac's table. What is not known is NaN.
type Month struct {
	// Mean is the temperature; Min and Max are the means of the days' least and
	// greatest, C.
	Mean, Min, Max float64
	// Sunshine is in hours a day.
	Sunshine float64
	// Radiation is on the level, MJ/m2 a day.
	Radiation float64
	// Wind is at the weather station, m/s.
	Wind float64
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
	return ra * (angstromA + angstromB*max(0, min(1, n/light)))
}

// HargreavesSamani returns radiation from the day's greatest and least
// temperature, C, in the unit of ra. Source: FAO-56 eq. 50, inland.
func HargreavesSamani(ra, greatest, least float64) float64 {
	return hargreaves * math.Sqrt(max(0, greatest-least)) * ra
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
// By radiation where it is given, else by sunshine, else by the daily swing.
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
			return kt, fmt.Errorf("month %d has no sun: give its radiation, its hours of sunshine, or its least and greatest temperature",
				i+1)
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
		return max(0, m.Max-m.Min)
	}
	return kt / hargreaves * kt / hargreaves
}

// Facts are the four things people know of a place's weather.
type Facts struct {
	// Coldest and Warmest are monthly means, C.
	Coldest, Warmest float64
	// Summer and Winter are sunny days in ten, of the three brightest and the
	// three darkest months.
	Summer, Winter float64
}

// Table makes a year of months of facts and the course that the stations around
// the place have: their temperatures stretched from the coldest to the warmest
// month, their shares of sunshine moved by what the facts say of winter and
// summer and by a cosine between. It is an estimate.
// usual gives the course between the coldest and the warmest month.
func (f Facts) Table(latitude float64, usual *normals.Estimate) Table {
	var t Table
	nan := math.NaN()
	means := usual.Stretched(f.Coldest, f.Warmest)
	dark, bright := normals.Dark(latitude), normals.Bright(latitude)
	var season [12]float64 // 0 in the darkest month, 1 in the brightest
	for i := range season {
		phase := 2 * math.Pi * (float64(i) - float64(dark[1])) / 12
		season[i] = (1 - math.Cos(phase)) / 2
	}
	// By how much the shares move at season 0 and 1, so that both means are
	// those of the facts.
	d, b := normals.Mean(&season, dark), normals.Mean(&season, bright)
	w := f.Winter/10 - normals.Mean(&usual.Sunshine, dark)
	s := f.Summer/10 - normals.Mean(&usual.Sunshine, bright)
	slope := (s - w) / (b - d)
	for i := range t {
		_, light := top(latitude, i)
		share := max(0.02, min(0.97, usual.Sunshine[i]+w+slope*(season[i]-d)))
		t[i] = Month{Mean: means[i], Min: nan, Max: nan, Sunshine: share * light, Radiation: nan, Wind: nan}
	}
	return t
}

// One sigma of a fact that somebody gave: a month's mean, K, and sunny days in
// ten. The product's own judgment.
const (
	givenMonth = 1.0
	givenSunny = 0.5
)

// Doubt is one sigma of what a heater's year rests on where it rests on facts:
// of its temperatures, K, and of its shares of sunshine in winter and in
// summer.
type Doubt struct {
	Temperature, Winter, Summer float64
	// Sequence is another order of the days of a generated year; 0 is the usual one.
	Sequence uint64
}

// EstimateDoubt returns it: the error of the stations around the place where a
// fact is ours, what people are wrong by where it was given. ok is false where
// the year rests on a table or a file.
func EstimateDoubt(h *design.Heater) (d Doubt, ok bool) {
	if len(h.Climate.Months) == 12 || h.Climate.File != "" {
		return d, false
	}
	e := h.Place.Usual()
	said := given(h)
	given := func(path string) bool { return slices.Contains(said, path) }
	d = Doubt{Temperature: e.UTemperature, Winter: e.UWinter, Summer: e.USummer}
	half := func(path string) float64 {
		if given(path) {
			return givenMonth
		}
		return e.UTemperature
	}
	d.Temperature = math.Sqrt((math.Pow(half(design.ClimateColdest.Path), 2) + math.Pow(half(design.ClimateWarmest.Path), 2)) / 2)
	if given(design.ClimateSunnyWinter.Path) {
		d.Winter = min(d.Winter, givenSunny/10) // where the stations agree, they know better
	}
	if given(design.ClimateSunny.Path) {
		d.Summer = min(d.Summer, givenSunny/10)
		if !given(design.ClimateSunnyWinter.Path) { // the winter follows the summer in part
			d.Winter *= 0.85
		}
	}
	return d, true
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
// [*Missing]; nil where nothing is missing. With a town there is a year.
// nil, or a [*Missing] that says which fact would be enough.
func Lacks(h *design.Heater) error {
	if h.KnowsPlace() {
		return nil
	}
	return &Missing{Names: []string{"a town"}, Paths: []string{design.PlaceTown.Path}}
}

// Basis returns what of a heater's document its weather depends on: heaters of
// the same basis have the same year, however their boxes differ.
func Basis(h *design.Heater) design.Heater {
	p := &h.Place
	b := design.Heater{Climate: h.Climate, Entries: map[string]design.Entry{}}
	b.Place = design.Place{Town: p.Town, Latitude: p.Latitude, Longitude: p.Longitude, Elevation: p.Elevation, Zone: p.Zone, Shore: p.Shore}
	for _, path := range append([]string{design.PlaceLatitude.Path}, facts...) { // whether somebody gave them counts, too
		if e, is := h.Entries[path]; is {
			b.Entries[path] = e
		}
	}
	return b
}

// Build returns the year of hours that a heater's own document describes: by its
// table of months if it has one, else by facts. [*Missing] names what is
// not there. The year is the same for the same document.
func Build(h *design.Heater) (*Year, error) { return Moved(h, Doubt{}) }

// Moved is [Build] with what facts leave open moved by so much; a table of
// months is not moved.
func Moved(h *design.Heater, by Doubt) (*Year, error) {
	if err := Lacks(h); err != nil {
		return nil, err
	}
	w := &h.Climate
	if len(w.Months) == 12 {
		var t Table
		for i, m := range w.Months {
			t[i] = Month{known(m.Mean), known(m.Min), known(m.Max), known(m.Sunshine), known(m.Radiation), known(m.Wind)}
		}
		return generate(h, t, "table of months", Seed+by.Sequence)
	}
	usual := h.Place.Usual()
	f := Facts{w.Coldest + by.Temperature, w.Warmest + by.Temperature, w.Sunny + 10*by.Summer, w.Winter + 10*by.Winter}
	source := "facts of the place"
	if len(given(h)) == 0 {
		source = "stations around the place, a rough estimate"
	}
	return generate(h, f.Table(h.Place.Latitude, &usual), source, Seed+by.Sequence)
}

// MonthMeans are the mean temperatures of a heater's place by month, January first, C: of its
// table of months, or of its facts and the stations around. ok is false where nothing is known
// of the place.
func MonthMeans(h *design.Heater) (means [12]float64, ok bool) {
	if Lacks(h) != nil {
		return means, false
	}
	w := &h.Climate
	if len(w.Months) == 12 {
		for i, m := range w.Months {
			means[i] = known(m.Mean)
			if math.IsNaN(means[i]) {
				means[i] = (known(m.Min) + known(m.Max)) / 2
			}
		}
		return means, !math.IsNaN(means[0])
	}
	usual := h.Place.Usual()
	t := Facts{w.Coldest, w.Warmest, w.Sunny, w.Winter}.Table(h.Place.Latitude, &usual)
	for i := range t {
		means[i] = t[i].Mean
	}
	return means, true
}

// facts are the fields of a place's weather.
var facts = []string{design.ClimateColdest.Path, design.ClimateWarmest.Path, design.ClimateSunny.Path, design.ClimateSunnyWinter.Path}

// Narrows is the fact that would narrow a heater's year most, as a field's
// path: empty where all are given or the year rests on a table or a file.
// Winter's sun counts most for what a heater gives, then how cold the winter
// is.
// The sunny winter days first, then the coldest month, then the sunny days of
// summer; empty where all are given or nothing is estimated.
func Narrows(h *design.Heater) string {
	if _, estimated := EstimateDoubt(h); !estimated {
		return ""
	}
	said := given(h)
	for _, path := range []string{design.ClimateSunnyWinter.Path, design.ClimateColdest.Path, design.ClimateSunny.Path} {
		if !slices.Contains(said, path) {
			return path
		}
	}
	return ""
}

// given are the facts of a heater's weather that somebody gave.
func given(h *design.Heater) (out []string) {
	for _, path := range facts {
		if _, is := h.Entries[path]; is {
			out = append(out, path)
		}
	}
	return out
}

// known is a value or, where the table has none, NaN.
func known(p *float64) float64 {
	if p == nil {
		return math.NaN()
	}
	return *p
}

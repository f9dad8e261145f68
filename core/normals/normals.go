// Package normals estimates the usual weather of a place by months from a table
// of stations: mean temperatures, and sunshine as a share of daylight.
//
// The table (stations.txt) holds 211 stations in the lands where people build
// solar air heaters. Each value is recalled from memory of published national
// normals; the table serves for a first rough year and is no climatology. A
// place takes a plane fitted to the stations around it, near ones counting
// most, with temperatures brought to sea level by 6.5 K a kilometer and
// stations by the sea counting less for a place inland and the other way round.
//
// How wrong that is follows from the table itself: each station is estimated
// from all others, and what the estimate misses around a place is the
// uncertainty there ([Estimate]).
//
// Temperatures are C, distances km, sunshine is a share of the hours between
// sunrise and sunset.
package normals

import (
	_ "embed"
	"fmt"
	"math"
	"slices"
	"strconv"
	"strings"
	"sync"

	"gonum.org/v1/gonum/mat"

	"gladember/core/solar"
)

// Station is a row of the table.
type Station struct {
	Name                           string
	Latitude, Longitude, Elevation float64
	// Sea is within some 20 km of the sea.
	Sea bool
	// Temperature is the monthly means, C, and Sunshine shares of daylight, 0
	// to 1.
	Temperature [12]float64
	Sunshine    [12]float64
}

// Estimate is what the stations say of a place.
type Estimate struct {
	// Temperature is the monthly means, C, and Sunshine shares of daylight, 0
	// to 1.
	Temperature [12]float64
	Sunshine    [12]float64
	// One sigma: of a monthly mean temperature, K, and of the mean share of
	// sunshine in the three darkest and the three brightest months.
	UTemperature, UWinter, USummer float64
	Nearest                        string
	// Distance is that to the nearest station, km.
	Distance float64
	// By how much the stations around disagree about winter and summer, see
	// [apart].
	winterApart, summerApart float64
}

// Stretched is the course of the monthly means that begins at the mean of the
// coldest month and reaches that of the warmest, C.
func (e *Estimate) Stretched(coldest, warmest float64) (t [12]float64) {
	lo, hi := slices.Min(e.Temperature[:]), slices.Max(e.Temperature[:])
	stretch := 1.0
	if hi-lo > 1 {
		stretch = (warmest - coldest) / (hi - lo)
	}
	for i := range t {
		t[i] = coldest + stretch*(e.Temperature[i]-lo)
	}
	return t
}

// Lapse is how much colder it is higher up, K/m. Source: ICAO standard
// atmosphere.
const Lapse = 0.0065

// far is the distance to the nearest station from which the table is called
// thin, km.
const far = 350.0

// Thin says whether the table has no station near the place.
func (e *Estimate) Thin() bool { return e.Distance > far }

//go:embed stations.txt
var text string

// days in a common year's months, and a middle day of each. Source: Klein 1977
// as D&B table 1.6.1.
var (
	days     = [12]int{31, 28, 31, 30, 31, 30, 31, 31, 30, 31, 30, 31}
	midMonth = [12]int{17, 47, 75, 105, 135, 162, 198, 228, 258, 288, 318, 344}
)

// Light returns the hours of daylight of a month's middle day, 0 for January.
func Light(latitude float64, month int) float64 {
	n := midMonth[month]
	decl := 23.45 * math.Sin(2*math.Pi*float64(284+n)/365) // D&B eq. 1.6.1a
	_, hours := solar.DailyExtraterrestrial(solar.Extraterrestrial(solar.SolarConstant, n), latitude, decl)
	return hours
}

// Stations returns the table's rows. It is read once.
var Stations = sync.OnceValue(func() []Station {
	var out []Station
	for line := range strings.Lines(text) {
		if line = strings.TrimSpace(line); line == "" || strings.HasPrefix(line, "#") {
			continue
		}
		s, err := read(line)
		if err != nil {
			panic(fmt.Sprintf("normals: %v in %q", err, line)) // the table ships with the program
		}
		out = append(out, s)
	}
	return out
})

// read takes a station from a line of the table: seven columns apart by bars.
func read(line string) (s Station, err error) {
	f := strings.Split(line, "|")
	if len(f) != 7 {
		return s, fmt.Errorf("%d columns", len(f))
	}
	number := func(t string) float64 {
		v, e := strconv.ParseFloat(t, 64)
		if e != nil {
			err = e
		}
		return v
	}
	s = Station{Name: f[0], Latitude: number(f[1]), Longitude: number(f[2]), Elevation: number(f[3]), Sea: f[4] == "sea"}
	warm, sun := strings.Fields(f[5]), strings.Fields(f[6])
	if len(warm) != 12 || len(sun) != 12 {
		return s, fmt.Errorf("%d and %d months", len(warm), len(sun))
	}
	for m := range 12 {
		s.Temperature[m] = number(warm[m])
		if light := Light(s.Latitude, m) * float64(days[m]); light > 0 {
			s.Sunshine[m] = min(1, number(sun[m])/light)
		}
	}
	return s, err
}

// distance is the great circle between two places, km.
func distance(lat1, lon1, lat2, lon2 float64) float64 {
	const r, rad = 6371.0, math.Pi / 180
	a, b := math.Sin((lat2-lat1)*rad/2), math.Sin((lon2-lon1)*rad/2)
	return 2 * r * math.Asin(min(1, math.Sqrt(a*a+math.Cos(lat1*rad)*math.Cos(lat2*rad)*b*b)))
}

// What the fit of a plane rests on: the distance over which stations count is
// that of the sixth nearest, at least closest km; one of the other kind, sea or
// inland, counts unlike of a like one; slopes beyond a prior, degrees of
// latitude alone, cost as much as stiff stations would; and a station at the
// place itself counts 1/beside. The product's own choice, by the least error of
// stations left out.
const (
	beside  = 0.05
	sixth   = 6
	closest = 150.0
	unlike  = 0.35
	stiff   = 0.3
)

// fit estimates a place from the stations but one (-1: from all), and returns
// the weights.
func fit(lat, lon, elevation float64, sea bool, but int) (e Estimate, weights []float64) {
	all := Stations()
	at := make([][3]float64, len(all)) // where each lies on the plane
	weights = make([]float64, len(all))
	near := make([]float64, 0, len(all))
	e.Distance = math.Inf(1)
	for i := range all {
		weights[i] = math.Inf(1)
		if i == but {
			continue
		}
		s := &all[i]
		d := distance(lat, lon, s.Latitude, s.Longitude)
		// A kilometer of height is as far as a hundred and fifty over ground.
		weights[i] = math.Hypot(d, 0.15*(elevation-s.Elevation))
		near = append(near, weights[i])
		if d < e.Distance {
			e.Distance, e.Nearest = d, s.Name
		}
	}
	slices.Sort(near)
	scale := max(closest, near[sixth-1])
	a := mat.NewSymDense(3, nil)
	var rhs [24][3]float64
	rad := math.Pi / 180
	for i := range all {
		s := &all[i]
		d := weights[i] / scale
		w := math.Exp(-d*d) / (beside + d*d)
		if s.Sea != sea {
			w *= unlike
		}
		if weights[i] = w; w < 1e-6 {
			weights[i] = 0
			continue
		}
		x := [3]float64{1, (s.Latitude - lat) / 5, math.Mod(s.Longitude-lon+540, 360) - 180}
		x[2] *= math.Cos(lat*rad) / 5
		at[i] = x
		for j := range 3 {
			for k := j; k < 3; k++ {
				a.SetSym(j, k, a.At(j, k)+w*x[j]*x[k])
			}
			for m := range 12 {
				rhs[m][j] += w * x[j] * (s.Temperature[m] + Lapse*s.Elevation - prior(lat)*x[1])
				rhs[12+m][j] += w * x[j] * s.Sunshine[m]
			}
		}
	}
	for j := 1; j < 3; j++ {
		a.SetSym(j, j, a.At(j, j)+stiff)
	}
	var c mat.Cholesky
	if !c.Factorize(a) {
		return e, weights
	}
	var planes [24][3]float64
	for m := range 24 {
		var x mat.VecDense
		if err := c.SolveVecTo(&x, mat.NewVecDense(3, rhs[m][:])); err != nil {
			continue
		}
		copy(planes[m][:], x.RawVector().Data)
		if m < 12 {
			e.Temperature[m] = x.AtVec(0) - Lapse*elevation
			continue
		}
		e.Sunshine[m-12] = max(0.03, min(0.95, x.AtVec(0)))
		if Light(lat, m-12) < 0.5 {
			e.Sunshine[m-12] = 0
		}
	}
	sunshine := planes[12:]
	e.winterApart, e.summerApart = apart(weights, at, sunshine, Dark(lat)), apart(weights, at, sunshine, Bright(lat))
	return e, weights
}

// apart is by how much the stations around a place lie off the planes fitted to
// them, as a root mean square of their mean sunshine in some months.
func apart(weights []float64, at [][3]float64, planes [][3]float64, months []int) float64 {
	square, sum := 0.0, 0.0
	for i, w := range weights {
		if w == 0 || math.IsInf(w, 1) {
			continue
		}
		off := Mean(&Stations()[i].Sunshine, months)
		for _, m := range months {
			for j, x := range at[i] {
				off -= planes[m][j] * x / float64(len(months))
			}
		}
		square, sum = square+w*off*off, sum+w
	}
	return math.Sqrt(square / max(sum, 1e-9))
}

// prior is how much colder it is usually five degrees nearer to the pole, K.
// Common practice, no source.
func prior(lat float64) float64 { return math.Copysign(-3, lat) }

// Dark and Bright are the three months of winter and of summer, 0 for January.
func Dark(latitude float64) []int {
	if latitude < 0 {
		return []int{5, 6, 7}
	}
	return []int{11, 0, 1}
}

// Bright is described at [Dark].
func Bright(latitude float64) []int { return Dark(-latitude) }

// Mean is the mean of some months.
func Mean(of *[12]float64, months []int) (sum float64) {
	for _, m := range months {
		sum += of[m] / float64(len(months))
	}
	return sum
}

// miss is what a station's estimate from all others misses, squared.
type miss struct{ temperature, winter, summer float64 }

var misses = sync.OnceValue(func() []miss {
	out := make([]miss, len(Stations()))
	for i := range Stations() {
		out[i] = missed(i)
	}
	return out
})

// missed estimates a station from all others.
func missed(i int) (m miss) {
	s := &Stations()[i]
	e, _ := fit(s.Latitude, s.Longitude, s.Elevation, s.Sea, i)
	for k := range 12 {
		d := e.Temperature[k] - s.Temperature[k]
		m.temperature += d * d / 12
	}
	w := Mean(&e.Sunshine, Dark(s.Latitude)) - Mean(&s.Sunshine, Dark(s.Latitude))
	b := Mean(&e.Sunshine, Bright(s.Latitude)) - Mean(&s.Sunshine, Bright(s.Latitude))
	m.winter, m.summer = w*w, b*b
	return m
}

// everywhere is how many stations' weight the misses of the whole table count
// beside those around a place.
const everywhere = 2.0

// uncertain fills in the uncertainties of an estimate from the misses around it.
func (e *Estimate) uncertain(weights []float64, but int) {
	var local, all miss
	n, sum := 0.0, 0.0
	for i, m := range misses() {
		if i == but {
			continue
		}
		w := weights[i]
		local.temperature, local.winter, local.summer = local.temperature+w*m.temperature, local.winter+w*m.winter, local.summer+w*m.summer
		all.temperature, all.winter, all.summer = all.temperature+m.temperature, all.winter+m.winter, all.summer+m.summer
		n++
		sum += w
	}
	u := func(here, all float64) float64 { return math.Sqrt((here + everywhere*all/n) / (sum + everywhere)) }
	e.UTemperature = u(local.temperature, all.temperature)
	// Where neighbors disagree, as on two shores of a lake, a place between them
	// may be like either.
	e.UWinter = max(u(local.winter, all.winter), e.winterApart)
	e.USummer = max(u(local.summer, all.summer), e.summerApart)
}

// place is what an estimate is remembered by: degrees, m above the sea, and
// whether it lies by the sea.
type place struct {
	lat, lon, elevation float64
	sea                 bool
}

var (
	lock  sync.Mutex
	known = map[place]Estimate{}
)

// At estimates a place: latitude and longitude in degrees, elevation in m, and
// whether it lies by the sea. Places that were asked for are remembered.
func At(latitude, longitude, elevation float64, sea bool) Estimate {
	p := place{latitude, longitude, elevation, sea}
	lock.Lock()
	defer lock.Unlock()
	if e, ok := known[p]; ok {
		return e
	}
	e, w := fit(latitude, longitude, elevation, sea, -1)
	e.uncertain(w, -1)
	if len(known) > 256 {
		clear(known)
	}
	known[p] = e
	return e
}

// Without estimates a station of the table from all others, with the
// uncertainty that a place there would be given: what the table's own error is
// checked by.
// Only tests reach it, as a reference.
func Without(i int) Estimate {
	s := &Stations()[i]
	e, w := fit(s.Latitude, s.Longitude, s.Elevation, s.Sea, i)
	e.uncertain(w, i)
	return e
}

// BySea says whether a place lies by the sea as far as the table knows: within
// 40 km of a station that does.
func BySea(latitude, longitude float64) bool {
	near, sea := math.Inf(1), false
	for _, s := range Stations() {
		if d := distance(latitude, longitude, s.Latitude, s.Longitude); d < near {
			near, sea = d, s.Sea
		}
	}
	return near < 40 && sea
}

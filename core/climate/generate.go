package climate

import (
	"cmp"
	"math"
	"math/rand/v2"
	"slices"
	"time"

	"gonum.org/v1/gonum/stat/distuv"

	"gladember/core/air"
	"gladember/core/design"
	"gladember/core/solar"
)

// Seed begins the sequence of every generated year, so that the same table
// gives the same hours.
const Seed = 8737

// Sequences in time: how much of a day's clearness and of its temperature's
// departure the next day keeps (Graham, Hollands & Huget 1988: 0.29; common
// practice: 0.7 with 3 K), and of an hour's wind the next (common practice).
const (
	daysClear  = 0.29
	daysWarm   = 0.7
	warmSpread = 3.0
	hoursWind  = 0.9
)

// usualWind is taken where a table has none: m/s at the weather station.
// Common practice, no source.
const usualWind = 4.0

// Bendt is the distribution of daily clearness about a month's mean. Source:
// Bendt, Collares-Pereira & Rabl 1981 with the greatest of Hollands & Huget
// 1983 and, to begin from, Herzog's 1985 exponent, as D&B eqs. 2.9.5 to 2.9.7.
type Bendt struct{ mean, least, greatest, gamma float64 }

// NewBendt returns the distribution for a monthly mean clearness of 0.1..0.8.
func NewBendt(mean float64) Bendt {
	b := Bendt{mean: mean, least: 0.05}
	b.greatest = 0.6313 + 0.267*mean - 11.9*math.Pow(mean-0.75, 8)
	b.greatest = max(b.greatest, mean+0.05)
	xi := (b.greatest - b.least) / (b.greatest - mean)
	b.gamma = -1.498 + (1.184*xi-27.182*math.Exp(-1.5*xi))/(b.greatest-b.least)
	// Herzog's exponent is a fit; the one that keeps the mean lies near it.
	for range 30 {
		const h = 1e-4
		miss := b.average(b.gamma) - mean
		if math.Abs(miss) < 1e-9 {
			break
		}
		b.gamma -= max(-2, min(2, miss*2*h/(b.average(b.gamma+h)-b.average(b.gamma-h))))
	}
	return b
}

// average is the mean of the distribution with an exponent: D&B eq. 2.9.6's
// integral in closed form.
func (b Bendt) average(gamma float64) float64 {
	if math.Abs(gamma) < 1e-4 {
		return (b.least + b.greatest) / 2
	}
	lo, hi := math.Exp(gamma*b.least), math.Exp(gamma*b.greatest)
	return ((b.least-1/gamma)*lo - (b.greatest-1/gamma)*hi) / (lo - hi)
}

// CDF is the share of days no clearer than kt.
// The share of days with a clearness below kt.
// Only tests reach it, as a reference.
func (b Bendt) CDF(kt float64) float64 {
	kt = max(b.least, min(b.greatest, kt))
	if math.Abs(b.gamma) < 1e-6 {
		return (kt - b.least) / (b.greatest - b.least)
	}
	lo := math.Exp(b.gamma * b.least)
	return (lo - math.Exp(b.gamma*kt)) / (lo - math.Exp(b.gamma*b.greatest))
}

// Quantile is the clearness that a share of days does not pass.
func (b Bendt) Quantile(p float64) float64 {
	if math.Abs(b.gamma) < 1e-6 {
		return b.least + p*(b.greatest-b.least)
	}
	lo := math.Exp(b.gamma * b.least)
	return math.Log(lo-p*(lo-math.Exp(b.gamma*b.greatest))) / b.gamma
}

// hourly is the mean clearness of an hour with the sun sin high on a day of
// clearness kt, its spread, and how much of its departure the next hour keeps.
// Source: Aguiar & Collares-Pereira 1992 (recalled from memory).
func hourly(kt, sin float64) (mean, spread, keep float64) {
	lambda := -0.19 + 1.12*kt + 0.24*math.Exp(-8*kt)
	epsilon := 0.32 - 1.6*(kt-0.5)*(kt-0.5)
	kappa := 0.19 + 2.27*kt*kt - 2.51*kt*kt*kt
	a := 0.14 * math.Exp(-20*(kt-0.35)*(kt-0.35))
	b := 3*(kt-0.45)*(kt-0.45) + 16*math.Pow(kt, 5)
	return lambda + epsilon*math.Exp(-kappa/max(0.02, sin)), a * math.Exp(b*(1-sin)), 0.38 + 0.06*math.Cos(7.4*kt-2.5)
}

// The brightest hour that is generated is that of a sky of Linke turbidity
// clearest, and brighter by what broken cloud beside the sun throws. Common
// practice, no source.
const (
	clearest = 2.0
	brighter = 1.1
)

// Generate makes a year of hours of a table of months at a heater's place. Days
// take the month's distribution of clearness whole, in the order of a sequence
// in which clear days follow clear ones; hours follow the day's; each month's
// radiation and temperature are kept. Snow falls on dull days of frost and
// thaws with the warmth.
// source is what the year then says of itself.
// Only tests reach it, as a reference.
func Generate(h *design.Heater, t Table, source string) (*Year, error) {
	return generate(h, t, source, Seed)
}

// generate is [Generate] with the seed of its sequence.
func generate(h *design.Heater, t Table, source string, seed uint64) (*Year, error) {
	kt, err := t.Clearness(h.Place.Latitude)
	if err != nil {
		return nil, err
	}
	zone, err := time.LoadLocation(h.Place.Zone)
	if err != nil {
		zone = time.UTC
	}
	// Standard time is the lesser of the offsets in January and July.
	_, jan := time.Date(2025, 1, 1, 0, 0, 0, 0, zone).Zone()
	_, jul := time.Date(2025, 7, 1, 0, 0, 0, 0, zone).Zone()
	y := &Year{Place: h.Place.Town, Source: source, Generated: true, Offset: float64(min(jan, jul)) / 3600}
	y.Site = solar.Site{Latitude: h.Place.Latitude, Longitude: h.Place.Longitude, Elevation: h.Place.Elevation, Zone: zone}
	g := generator{y: y, sun: solar.NewAlmanac(2025, y.Site), r: rand.New(rand.NewPCG(seed, 1)), t: t, seed: seed}
	for m := range 12 {
		g.month(m, kt[m])
	}
	g.snow()
	return y, nil
}

// Snow of a generated year: on days duller than dull and no warmer than wet in
// the mean it falls with a chance of often, fall kg/m2 a day; each kelvin over
// 0 C of a day's mean thaws thaws kg/m2. Common practice, no source: a cold
// inland month then has the two to six snowfalls that such months have; tables
// of months say nothing of it.
const (
	dull  = 0.35
	wet   = 0.5 // C
	often = 0.6
	falls = 2.5
	thaws = 3.0
)

// snow lays snow on the ground of a generated year, twice round so that January
// begins with what December left.
// A storm brings a few centimeters on days that are dull and cold.
func (g *generator) snow() {
	lies := 0.0 // kg/m2
	for range 2 {
		r := rand.New(rand.NewPCG(g.seed, 4))
		for d, kt := range g.kt {
			day := g.y.Hours[24*d : 24*d+24]
			mean := 0.0
			for i := range day {
				mean += day[i].Temperature / 24
			}
			if fell := r.Float64() < often; fell && kt < dull && mean <= wet {
				lies += falls
			}
			lies = max(0, lies-thaws*max(0, mean))
			for i := range day {
				day[i].Snow = lies / newSnow
			}
		}
	}
}

// generator makes the hours of a year from its months.
type generator struct {
	y   *Year
	sun *solar.Almanac
	r   *rand.Rand
	// seed is that of the sequence.
	seed uint64
	t    Table
	// clear, warm and wind are normal deviates that run on from day to day and
	// hour to hour.
	clear, warm, wind float64
	// kt is the clearness index by day.
	kt []float64
}

// along moves a normal deviate on by one step that keeps a share of it.
// keep is the correlation with the one before.
func (g *generator) along(z *float64, keep float64) float64 {
	*z = keep**z + math.Sqrt(1-keep*keep)*g.r.NormFloat64()
	return *z
}

// month makes a month whose days have a mean temperature, C; the days depart
// from it and from one another as weather does.
// Its days' clearness comes from the quantiles of the month's distribution, in
// an order of chance that keeps bright days together, so that the month's mean
// is met.
func (g *generator) month(m int, mean float64) {
	n := days[m]
	deviates, departs := make([]float64, n), make([]float64, n)
	sum := 0.0
	for d := range n {
		deviates[d] = g.along(&g.clear, daysClear)
		departs[d] = warmSpread * g.along(&g.warm, daysWarm)
		sum += departs[d] / float64(n)
	}
	order := make([]int, n)
	for d := range order {
		order[d] = d
	}
	slices.SortFunc(order, func(a, b int) int { return cmp.Compare(deviates[a], deviates[b]) })
	kt := make([]float64, n)
	b := NewBendt(max(0.1, mean))
	for rank, d := range order {
		kt[d] = b.Quantile((float64(rank) + 0.5) / float64(n))
	}
	g.kt = append(g.kt, kt...)
	at := len(g.y.Hours)
	swing := g.t[m].swing(mean)
	for d := range n {
		f := (float64(d) + 0.5) / float64(n)
		g.day(m, d, kt[d], g.course(m, f)+departs[d]-sum, swing*math.Sqrt(kt[d]/max(0.1, mean)))
	}
	g.keep(g.y.Hours[at:], m, mean)
}

// course is the temperature of a year without weather at a share f of month m.
// f is the place in the month, 0 to 1.
func (g *generator) course(m int, f float64) float64 {
	a, b, w := g.t[(m+11)%12].mean(), g.t[m].mean(), 0.5-f
	if f > 0.5 {
		a, w = g.t[(m+1)%12].mean(), f-0.5
	}
	return b + (a-b)*w
}

// day appends the 24 hours of a day.
// m and d are month and day, kt the day's clearness, and mean and swing its
// temperatures, C.
func (g *generator) day(m, d int, kt, mean, swing float64) {
	site := g.y.Site
	start := time.Date(2025, time.Month(m+1), d+1, 0, 0, 0, 0, g.y.start(2025).Location())
	wind := g.t[m].Wind
	if math.IsNaN(wind) {
		wind = usualWind
	}
	// The night's coldest air is saturated (FAO-56 eq. 48).
	dew := mean - swing/2
	departs := 0.0
	sun, above := 0.0, 0.0
	hours := make([]Hour, 24)
	for k := range hours {
		mid := start.Add(time.Duration(k)*time.Hour + 30*time.Minute)
		p := g.sun.At(mid)
		gon := solar.SolarConstant / (p.Distance * p.Distance)
		sin := 0.0 // mean over the hour
		for j := range 6 {
			q := g.sun.At(start.Add(time.Duration(k)*time.Hour + time.Duration(10*j+5)*time.Minute))
			sin += max(0, math.Cos(q.TrueZenith*math.Pi/180)) / 6
		}
		x := &hours[k]
		*x = Hour{Year: 2025, Month: m + 1, Day: d + 1, Hour: k + 1, DewPoint: dew, Pressure: solar.Pressure(site.Elevation),
			Infrared: math.NaN(), Albedo: math.NaN()}
		// Stamps stand at the ends of hours; the day is warmest two hours past
		// noon.
		solarHour := solar.SolarTime(start.Add(time.Duration(k+1)*time.Hour), site)
		x.Temperature = mean + swing/2*math.Cos((solarHour-14)*math.Pi/12)
		x.Humidity = min(1, air.SaturationPressure(dew)/air.SaturationPressure(max(dew, x.Temperature)))
		u := distuv.UnitNormal.CDF(g.along(&g.wind, hoursWind))
		x.Wind = wind * 2 / math.SqrtPi * math.Sqrt(-math.Log(max(1e-6, 1-u))) // Rayleigh
		if sin <= 0 {
			continue
		}
		usual, spread, keep := hourly(kt, sin)
		departs = keep*departs + math.Sqrt(1-keep*keep)*g.r.NormFloat64()
		x.Global = max(0.02, usual+spread*departs) * gon * sin
		sun += x.Global
		above += gon * sin
	}
	for k := range hours {
		if above > 0 {
			hours[k].Global *= kt * above / sun
		}
	}
	g.y.Hours = append(g.y.Hours, hours...)
}

// keep brings a month's radiation to its mean clearness, no hour clearer than
// the clearest sky, splits it, and brings its temperature to its mean.
// The hours' sun is brought to the month's mean in up to twenty rounds, since
// what the clear sky's limit takes from some must go to the others; the
// temperatures are shifted by what chance left of theirs.
func (g *generator) keep(hours []Hour, m int, mean float64) {
	site, n := g.y.Site, len(hours)
	limit, above, sin := make([]float64, n), make([]float64, n), make([]float64, n)
	sum, warm := 0.0, 0.0
	for i := range hours {
		x := &hours[i]
		mid := time.Date(2025, time.Month(m+1), x.Day, x.Hour-1, 30, 0, 0, g.y.start(2025).Location())
		p := g.sun.At(mid)
		gon := solar.SolarConstant / (p.Distance * p.Distance)
		for j := range 6 {
			q := g.sun.At(mid.Add(time.Duration(10*j-25) * time.Minute))
			s := max(0, math.Cos(q.TrueZenith*math.Pi/180))
			sin[i] += s / 6
			limit[i] += brighter * solar.Ineichen(q.TrueZenith, site.Elevation, clearest, gon).Global / 6
		}
		above[i] = gon * sin[i]
		sum += above[i]
		warm += x.Temperature / float64(n)
	}
	for range 20 { // what the limit takes from clear hours goes to the others
		got := 0.0
		for i := range hours {
			hours[i].Global = min(hours[i].Global, limit[i])
			got += hours[i].Global
		}
		if got <= 0 || math.Abs(got-mean*sum) < 1e-4*mean*sum {
			break
		}
		for i := range hours {
			hours[i].Global *= mean * sum / got
		}
	}
	for i := range hours {
		x := &hours[i]
		x.Global = min(x.Global, limit[i])
		x.Temperature += g.t[m].mean() - warm
		x.Cloud = 0.5
		if above[i] > 20 {
			k := x.Global / above[i]
			x.Diffuse = x.Global * solar.ErbsDiffuse(k)
			x.Normal = (x.Global - x.Diffuse) / max(0.05, sin[i])
			x.Cloud = max(0, min(1, 1-brighter*x.Global/max(1, limit[i])))
		} else {
			x.Diffuse = x.Global
		}
	}
	// A night's cloud is that of the day around it.
	last := 0.5
	for i := range hours {
		if above[i] > 20 {
			last = hours[i].Cloud
		} else {
			hours[i].Cloud = last
		}
	}
}
